//! The peak that an inside still came to while it rested after the heat.

use super::form::hours_if;
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::{Code, Finding, Severity};
use crate::heat::possible::{BOILS, too_hot_inside};
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, err, find, not_now};
use crate::ledger::state::State;
use crate::piece::Peak;
use crate::units::show::{temperature, trim};
use crate::units::{Amount, Celsius, Typed, Units};
use serde::{Deserialize, Serialize};

/// The peak that an inside still came to while it rested.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Rested {
    /// The piece.
    pub piece: PieceId,
    /// The highest inside, in the thickest place.
    pub peak: Typed<Celsius>,
    /// How long it rested (h), if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
}

/// The peak that an inside still came to while it rested.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RestedAsk {
    /// The piece.
    pub piece: PieceId,
    /// The highest inside, in the thickest place, as typed: `64.5 C`.
    pub peak: String,
    /// How long it rested: a number of hours, or as typed: `15 min`.
    #[serde(default)]
    pub rest: Option<Amount>,
}

impl Asked for RestedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Rested {
            piece: self.piece,
            peak: desk.typed(&self.peak, "peak")?,
            hours: hours_if(self.rest.as_ref(), "rest")?,
        };
        desk.about(self.piece, Act::Rested(act))
    }
}

impl Deed for Rested {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = find(state, self.piece)?;
        if found.went_into_others() {
            return Err(not_now(found));
        }
        if found.heats.is_empty() {
            return err(
                "piece",
                format!(
                    "{} was not heated, so it has nothing to rest from. Write down its heat first.",
                    found.tag
                ),
            );
        }
        if !(0.0..=BOILS.0 + 0.05).contains(&self.peak.value.0) {
            return err("peak", too_hot_inside("64.5 C or 148 F"));
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let heats = state.piece_mut(self.piece).map(|p| &mut p.heats);
        if let Some(heat) = heats.and_then(|h| h.last_mut()) {
            heat.peak = Some(Peak {
                entry: entry.id,
                inside: self.peak.clone(),
            });
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let Some(piece) = gate.piece(self.piece) else {
            return Vec::new();
        };
        let Some(last) = piece.heats.last() else {
            return Vec::new();
        };
        let unit = gate.home.units.heat;
        let mut found: Vec<Finding> = unit_doubt(&self.peak, ReadWhere::InsideHot)
            .into_iter()
            .collect();
        let said = |c| temperature(c, unit);
        let peak = self.peak.value;
        match gate.judge().out_of_heat(piece, last) {
            Some(out) if peak.0 < out.0 - 0.5 => found.push(
                Finding::new(
                    Code::CarryOverUnusual,
                    Severity::Caution,
                    "A rest does not begin colder than it came out.",
                )
                .saw(format!("a peak of {}", said(peak)))
                .wants(format!("at least {}", said(out)))
                .way_out("Look at the number and its unit; it decides what the pack may claim."),
            ),
            Some(_) => found.extend(gate.judge().peak_doubt(piece, last, peak)),
            None => found.push(
                Finding::new(
                    Code::CarryOverUnusual,
                    Severity::Caution,
                    "The internal temperature out of the heat is not recorded.",
                )
                .saw(format!("a peak of {}", said(peak)))
                .wants("an internal temperature when it came out")
                .way_out("Correct the entry of its heat, or check the number and its unit."),
            ),
        }
        found
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "rested"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let rest = self
            .hours
            .map(|h| format!(" within {} min", trim(h * 60.0, 0)));
        format!(
            "peak {} inside{}",
            scene.said(&self.peak),
            rest.unwrap_or_default()
        )
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Rested(RestedAsk {
            piece: self.piece,
            peak: scene.again(&self.peak),
            rest: self.hours.map(Amount::Number),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![
            Field::new("peak", "Peak inside", FieldKind::Temperature),
            Field::new("rest", "How long it rested", FieldKind::Text).optional(),
        ]
    }
}
