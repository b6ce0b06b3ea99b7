//! Trim or fat was given to another lot, for grinding; it goes with the block that it was ground into.

use crate::animal::byproduct::Byproduct;
use crate::catalogue::SnapshotKey;
use crate::ids::LotId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, enough_kept, positive, transfer};
use crate::ledger::state::State;
use crate::ledger::{Account, Entry};
use crate::units::{Reading, Units};
use serde::{Deserialize, Serialize};

/// Trim or fat was given to another lot.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct ByproductGiven {
    /// What it is.
    pub kind: Byproduct,
    /// Its weight.
    pub reading: Reading,
    /// The lot that takes it.
    pub to: LotId,
    /// That lot's tag.
    pub to_tag: String,
}

impl Fact for ByproductGiven {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        positive(&self.reading, "reading", units)?;
        enough_kept(self.kind, self.reading.value, "reading", state, units)?;
        Ok(transfer(
            Account::Byproduct(self.kind),
            Account::Given(self.to),
            self.reading.value,
        ))
    }

    fn conclude(&self, _: &mut State, _: &Entry) {}

    fn label(&self) -> &'static str {
        "given to another lot"
    }
}
