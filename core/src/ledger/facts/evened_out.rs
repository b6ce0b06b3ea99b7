//! Laid in vacuum, so that a dry rim and a wet middle even out.

use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, alive, err, not_now};
use crate::ledger::state::{Stage, State};
use crate::piece::EveningOut;
use crate::place::PlaceId;
use crate::units::Units;
use jiff::SignedDuration;
use serde::{Deserialize, Serialize};

/// Laid in vacuum to even out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct EvenedOut {
    /// The piece.
    pub piece: PieceId,
    /// For so many days.
    pub days: u32,
    /// The place it lies in, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
}

/// Nothing evens out for longer (days).
const MOST_DAYS: u32 = 200;

impl Fact for EvenedOut {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = alive(state, self.piece)?;
        if found.hanging.is_none() || found.stage() == Stage::Packed {
            return Err(not_now(found));
        }
        if !(1..=MOST_DAYS).contains(&self.days) {
            return err(
                "weeks",
                format!(
                    "Give 1 to {} weeks; 2 to 8 are usual, one for a hard rind.",
                    MOST_DAYS / 7
                ),
            );
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let Some(piece) = state.piece_mut(self.piece) else {
            return;
        };
        let long = SignedDuration::from_hours(i64::from(self.days) * 24);
        piece.evening_out = Some(EveningOut {
            entry: entry.id,
            since: entry.happened_at,
            until: entry
                .happened_at
                .saturating_add(long)
                .unwrap_or(entry.happened_at),
        });
        // A hard rind evens out amid its hanging, and goes back to its hook.
        if self.place.is_some() && piece.stage() != Stage::Hanging {
            piece.moved(entry.happened_at, self.place);
        }
    }

    fn label(&self) -> &'static str {
        "laid to even out"
    }
}
