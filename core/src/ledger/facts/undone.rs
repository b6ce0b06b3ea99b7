//! The entry that this one replaces did not happen.

use crate::catalogue::SnapshotKey;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::Posted;
use crate::ledger::state::State;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// The entry named by `replaces` did not happen.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Undone {}

impl Fact for Undone {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, _: &State, _: Units) -> Posted {
        Ok(Vec::new())
    }

    fn conclude(&self, _: &mut State, _: &Entry) {}

    fn label(&self) -> &'static str {
        "undone"
    }
}
