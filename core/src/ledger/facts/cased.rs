//! Cased and netted: what it went into, how that was made ready, what is left of it.

use crate::catalogue::SnapshotKey;
use crate::catalogue::builds::Build;
use crate::catalogue::steps::StepKind;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, alive, err, not_now};
use crate::ledger::state::{Stage, State};
use crate::piece;
use crate::units::{Milligrams, Millimetres, Reading, Typed, Units};
use serde::{Deserialize, Serialize};

/// Cased and netted.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Cased {
    /// The piece.
    pub piece: PieceId,
    /// The casing or net, by its name in the pantry.
    pub casing: String,
    /// How much was taken out of stock.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub taken: Option<Typed<Millimetres>>,
    /// How much of that went back, in salt.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub back: Option<Typed<Millimetres>>,
    /// How wide it is when filled.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub diameter: Option<Typed<Millimetres>>,
    /// How far it is round the piece.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub girth: Option<Typed<Millimetres>>,
    /// Minutes in water.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub soaked_min: Option<u32>,
    /// How often that was changed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub changes: Option<u32>,
    /// Whether it held the water that was let through it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tight: Option<bool>,
    /// What it weighs as it goes on, wet.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reading: Option<Reading>,
    /// What else was taken out of stock for it: a net, string.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub also: Vec<TakenOut>,
}

/// Something that is kept by the metre, taken out of stock.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct TakenOut {
    /// Its name in the pantry.
    pub name: String,
    /// How much of it.
    pub taken: Typed<Millimetres>,
}

impl Fact for Cased {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = alive(state, self.piece)?;
        // A sausage is filled before it sours, while its cure counts on.
        let filled = found.stage() == Stage::InCure && found.build().is_some_and(Build::is_ground);
        let ready = filled || matches!(found.stage(), Stage::Hang | Stage::Smoke | Stage::Pack);
        if !ready {
            return Err(not_now(found));
        }
        for (typed, field) in [
            (&self.taken, "taken"),
            (&self.back, "back"),
            (&self.diameter, "diameter"),
            (&self.girth, "girth"),
        ] {
            let least = if field == "back" {
                0.0
            } else {
                f64::MIN_POSITIVE
            };
            if typed
                .as_ref()
                .is_some_and(|t| !(least..=100_000.0).contains(&t.value.0))
            {
                return err(
                    field,
                    "Type a length above zero, such as 2.5 m or 46 mm.".into(),
                );
            }
        }
        for (i, also) in self.also.iter().enumerate() {
            if !(f64::MIN_POSITIVE..=100_000.0).contains(&also.taken.value.0) {
                return err(
                    &format!("also[{i}].taken"),
                    "Type a length above zero, such as 2.5 m.".into(),
                );
            }
        }
        if let Some(back) = &self.back {
            let taken = self.taken.as_ref().map_or(0.0, |t| t.value.0);
            if back.value.0 > taken {
                return err("back", "More went back than was taken. Type how much was taken, and how much of that is left.".into());
            }
        }
        if self
            .reading
            .as_ref()
            .is_some_and(|r| !(r.value > Milligrams::ZERO && r.value < found.mass))
        {
            return err("reading", "Weigh the casing alone, as wet as it goes on: more than nothing, less than the piece.".into());
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.cased.push(piece::Cased {
                name: self.casing.clone(),
                wet: self.reading.as_ref().map(|r| r.value),
                width: self.diameter.as_ref().map(|d| d.value),
            });
            piece.did_kind(StepKind::Case, entry.happened_at, entry.id);
        }
    }

    fn label(&self) -> &'static str {
        "cased"
    }
}
