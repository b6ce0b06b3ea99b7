//! A timer that rang, or ran, was answered: it is over for every page.

use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, err, find};
use crate::ledger::state::State;
use crate::piece::TimerFor;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// A timer was answered.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct TimerAnswered {
    /// The piece.
    pub piece: PieceId,
    /// What was waited for.
    pub what: TimerFor,
}

impl Fact for TimerAnswered {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let piece = find(state, self.piece)?;
        if !piece.timers.contains_key(&self.what) {
            return err(
                "what",
                format!(
                    "No timer runs for {} {}: it was answered already.",
                    piece.tag,
                    self.what.label()
                ),
            );
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, _: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.timers.remove(&self.what);
        }
    }

    fn label(&self) -> &'static str {
        "timer answered"
    }
}
