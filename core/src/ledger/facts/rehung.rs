//! Hung in another place, or on another hook.

use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_stage, err};
use crate::ledger::state::{Stage, State};
use crate::place::PlaceId;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Hung in another place, or on another hook.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Rehung {
    /// The piece.
    pub piece: PieceId,
    /// The place it hangs in from now on; where it hung before when none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
    /// Its hook there, counted from one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hook: Option<u32>,
}

impl Fact for Rehung {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        at_stage(state, self.piece, &[Stage::Hanging])?;
        if self.hook == Some(0) {
            return err("hook", "Hooks are counted from 1.".into());
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            let moves = self.place.filter(|place| piece.place() != Some(*place));
            if moves.is_some() {
                piece.moved(entry.happened_at, moves);
            }
            if let Some(hanging) = &mut piece.hanging {
                // A hook is one of its place: elsewhere the old one means nothing.
                hanging.hook = self.hook.or(hanging.hook.filter(|_| moves.is_none()));
            }
        }
    }

    fn label(&self) -> &'static str {
        "given another hook"
    }
}
