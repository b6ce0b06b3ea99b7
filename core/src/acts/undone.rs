//! The entry that this one replaces did not happen.

use crate::acts::{Ask, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::Field;
use crate::ids::LotId;
use crate::ledger::facts::undone::Undone;

impl Review for Undone {
    fn warnings(&self, _: &Validator<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn detail(&self, _: &RenderContext<'_>) -> String {
        String::new()
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        None
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        Vec::new()
    }
}
