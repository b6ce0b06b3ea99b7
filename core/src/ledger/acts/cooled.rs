//! An inside temperature was read so long after the heat: how it cooled.

use super::form::hours;
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::heat::possible::{BOILS, too_hot_inside};
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, err, find, not_now};
use crate::ledger::state::State;
use crate::piece;
use crate::units::show::trim;
use crate::units::{Amount, Celsius, Typed, Units};
use serde::{Deserialize, Serialize};

/// An inside temperature was read so long after the heat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Cooled {
    /// The piece.
    pub piece: PieceId,
    /// Inside the thickest place.
    pub inside: Typed<Celsius>,
    /// Hours since it came out of the heat.
    pub hours: f64,
}

/// An inside temperature was read so long after the heat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CooledAsk {
    /// The piece.
    pub piece: PieceId,
    /// Inside the thickest place, as typed: `4 C`.
    pub inside: String,
    /// Hours since it came out of the heat: a number, or as typed: `90 min`.
    pub hours: Amount,
}

impl Asked for CooledAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Cooled {
            piece: self.piece,
            inside: desk.typed(&self.inside, "inside")?,
            hours: hours(&self.hours, "hours")?,
        };
        desk.about(self.piece, Act::Cooled(act))
    }
}

impl Deed for Cooled {
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
                    "{} was not heated, so it has nothing to cool from. Write down its heat first.",
                    found.tag
                ),
            );
        }
        if !(-30.0..=BOILS.0 + 0.05).contains(&self.inside.value.0) {
            return err("inside", too_hot_inside("4 C or 40 F"));
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.cooled.push(piece::Cooled {
                entry: entry.id,
                at: entry.happened_at,
                inside: self.inside.clone(),
                hours: self.hours,
            });
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let unit = unit_doubt(&self.inside, ReadWhere::InsideCooling);
        let last = gate
            .piece(self.piece)
            .and_then(|p| Some((p, p.heats.last()?)));
        let fast = last.and_then(|(piece, heat)| {
            gate.judge()
                .cooled_doubt(piece, heat, self.inside.value, self.hours)
        });
        unit.into_iter().chain(fast).collect()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "read while it cooled"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        format!(
            "{} inside, {} h after the heat",
            scene.said(&self.inside),
            trim(self.hours, 2)
        )
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Cooled(CooledAsk {
            piece: self.piece,
            inside: scene.again(&self.inside),
            hours: Amount::Number(self.hours),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![
            Field::new("inside", "Inside", FieldKind::Temperature),
            Field::new("hours", "Hours after the heat", FieldKind::Text),
        ]
    }
}
