//! The entry that this one replaces did not happen.

use crate::acts::{Ask, Gate, Review, Scene};
use crate::caution::Finding;
use crate::form::Field;
use crate::ids::LotId;
use crate::ledger::facts::undone::Undone;

impl Review for Undone {
    fn doubts(&self, _: &Gate<'_>) -> Vec<Finding> {
        Vec::new()
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
