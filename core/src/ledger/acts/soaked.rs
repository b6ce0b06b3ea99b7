//! Soaked in water after the cure.

use super::form::Count;
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::catalogue::steps::StepKind;
use crate::caution::{Code, Finding, Severity};
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, alive, err, not_now};
use crate::ledger::state::State;
use crate::piece::{Soak, TimerFor};
use crate::units::Units;
use crate::units::show::trim;
use crate::verdict::{HUNG_SALT, salt_left};
use serde::{Deserialize, Serialize};

/// Soaked in water.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Soaked {
    /// The piece.
    pub piece: PieceId,
    /// For how long (min).
    pub minutes: u32,
    /// How often the water was changed.
    #[serde(default)]
    pub changes: u32,
    /// True in iced water.
    #[serde(default)]
    pub iced: bool,
}

/// Soaked in water.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SoakedAsk {
    /// The piece.
    pub piece: PieceId,
    /// For how long (min).
    pub minutes: Count,
    /// How often the water was changed.
    #[serde(default)]
    pub changes: Count,
    /// True in iced water.
    #[serde(default)]
    pub iced: bool,
}

impl Asked for SoakedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Soaked {
            piece: self.piece,
            minutes: desk.count(&self.minutes, "minutes")?,
            changes: desk.count_if(Some(&self.changes), "changes")?.unwrap_or(0),
            iced: self.iced,
        };
        desk.about(self.piece, Act::Soaked(act))
    }
}

impl Deed for Soaked {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = alive(state, self.piece)?;
        if found.out_of_cure.is_none() || found.hanging.is_some() {
            return Err(not_now(found));
        }
        if !(1..=MOST_MINUTES).contains(&self.minutes) {
            return err(
                "minutes",
                format!(
                    "Type how many minutes it lay in water, from 1 to {MOST_MINUTES}, such as 30."
                ),
            );
        }
        if self.changes > 100 {
            return err(
                "changes",
                "Type how often the water was changed, such as 2.".into(),
            );
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.did_kind(StepKind::Soak, entry.happened_at, entry.id);
            piece.soaks.push(Soak {
                entry: entry.id,
                at: entry.happened_at,
                minutes: self.minutes,
            });
            piece.timers.remove(&TimerFor::Soak);
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let bland = || {
            let piece = gate.piece(self.piece)?;
            piece.build().filter(|b| b.raw_dried)?;
            let salt = gate.judge().really(gate.state, piece)?.salt?;
            let left = salt_left(piece, salt.nominal, Some((gate.at, self.minutes)))?;
            (left < HUNG_SALT - 1e-9).then(|| {
                let said = |g: f64| format!("{} g/kg", trim(g, 1));
                Finding::new(
                    Code::SaltLow,
                    Severity::Caution,
                    "Water takes out more salt than what hangs raw can spare.",
                )
                .saw(format!("as little as {} left by the model", said(left)))
                .wants(format!("at least {}", said(HUNG_SALT)))
                .way_out(
                    "Rinse it and leave it at that. Saved as typed it may not be ready by drying.",
                )
            })
        };
        bland().into_iter().collect()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "soaked"
    }

    fn detail(&self, _: &Scene<'_>) -> String {
        let changes = match self.changes {
            0 => String::new(),
            1 => ", water changed once".into(),
            n => format!(", water changed {n} times"),
        };
        let iced = if self.iced { " in iced water" } else { "" };
        format!("{} min{iced}{changes}", self.minutes)
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Soaked(SoakedAsk {
            piece: self.piece,
            minutes: self.minutes.into(),
            changes: self.changes.into(),
            iced: self.iced,
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![
            Field::new("minutes", "Minutes in the water", FieldKind::Count),
            Field::new("changes", "Changes of water", FieldKind::Count),
            Field::tick("iced", "In iced water"),
        ]
    }
}

/// Nothing lies in water for longer than a week.
const MOST_MINUTES: u32 = 7 * 24 * 60;
