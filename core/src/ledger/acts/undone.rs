//! The entry that this one replaces did not happen.

use super::{Ask, Deed, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::ids::LotId;
use crate::ledger::Entry;
use crate::ledger::post::Posted;
use crate::ledger::state::State;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// The entry named by `replaces` did not happen.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Undone {}

impl Deed for Undone {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, _: &State, _: Units) -> Posted {
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, _: &mut State, _: &Entry) {}

    fn doubts(&self, _: &Gate<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "undone"
    }

    fn detail(&self, _: &Scene<'_>) -> String {
        String::new()
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        None
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        Vec::new()
    }
}
