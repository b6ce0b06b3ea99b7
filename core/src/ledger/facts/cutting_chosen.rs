//! A way of cutting was settled on for the whole animal.

use crate::catalogue::SnapshotKey;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, gone};
use crate::ledger::state::State;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// A way of cutting was settled on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct CuttingChosen {
    /// What was to be settled.
    pub choice: String,
    /// How.
    pub option: String,
}

impl Fact for CuttingChosen {
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

    fn conclude(&self, state: &mut State, _: &Entry) {
        state
            .facts
            .cutting
            .insert(self.choice.clone(), self.option.clone());
    }

    fn label(&self) -> &'static str {
        "cutting settled"
    }
}
