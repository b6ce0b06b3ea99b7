//! Grinder, board and knives were cleaned after a lot: what is ground afterwards takes nothing of it.

use crate::catalogue::SnapshotKey;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, gone};
use crate::ledger::state::State;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Grinder, board and knives were cleaned after a lot.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Cleaned {
    /// With what, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Fact for Cleaned {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        state.lot.as_ref().ok_or_else(gone)?;
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        state.facts.cleaned.push(entry.happened_at);
    }

    fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    fn label(&self) -> &'static str {
        "tools cleaned after it"
    }
}
