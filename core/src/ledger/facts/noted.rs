//! Something seen, felt or measured, in words.

use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, err, find};
use crate::ledger::state::State;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Something seen, felt or measured.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Noted {
    /// The piece.
    pub piece: PieceId,
    /// In words.
    pub text: String,
    /// The name of its photo: the SHA-256 of the picture.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub photo: Option<String>,
}

impl Fact for Noted {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        find(state, self.piece)?;
        if self.text.trim().is_empty() && self.photo.is_none() {
            return err("text", "Type what you saw or did.".into());
        }
        Ok(Vec::new())
    }

    fn conclude(&self, _: &mut State, _: &Entry) {}

    fn note(&self) -> Option<&str> {
        Some(&self.text)
    }

    fn label(&self) -> &'static str {
        "noted"
    }
}
