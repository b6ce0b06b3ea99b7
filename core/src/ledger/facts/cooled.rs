//! An inside temperature was read so long after the heat: how it cooled.

use crate::catalogue::SnapshotKey;
use crate::heat::possible::{BOILS, too_hot_inside};
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, err, find, not_now};
use crate::ledger::state::State;
use crate::piece;
use crate::units::{Celsius, Typed, Units};
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

impl Fact for Cooled {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
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

    fn label(&self) -> &'static str {
        "read while it cooled"
    }
}
