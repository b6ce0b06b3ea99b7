//! Turned, massaged or stirred.

use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_stage};
use crate::ledger::state::{Stage, State};
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Turned, massaged or stirred.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Turned {
    /// The piece.
    pub piece: PieceId,
    /// Whether everything lay under the brine, where that was looked at.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub nothing_floats: Option<bool>,
}

impl Fact for Turned {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        at_stage(state, self.piece, &[Stage::InCure])?;
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.turned = Some(entry.happened_at);
            piece.turnings += 1;
        }
    }

    fn label(&self) -> &'static str {
        "turned"
    }
}
