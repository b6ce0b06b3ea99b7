//! Trim or fat was given to another lot, for grinding; it goes with the block that it was ground into.

use super::{Ask, Deed, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::ids::{LotId, word};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, enough_kept, positive, transfer};
use crate::ledger::state::State;
use crate::ledger::{Account, Byproduct};
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

impl Deed for ByproductGiven {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn leans_on(&self) -> Vec<KeptKey> {
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

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, _: &mut State, _: &Entry) {}

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        gate.edible_lot().into_iter().collect()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "given to another lot"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        format!(
            "{} {} to {}",
            scene.mass(&self.reading),
            word(&self.kind),
            self.to_tag
        )
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        None
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        Vec::new()
    }
}
