//! Trim or fat was given to another lot, for grinding; it goes with the block that it was ground into.

use crate::acts::{Ask, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::Field;
use crate::ids::{LotId, word};
use crate::ledger::facts::byproduct_given::ByproductGiven;

impl Review for ByproductGiven {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        validator.edible_lot().into_iter().collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        format!(
            "{} {} to {}",
            render.mass(&self.reading),
            word(&self.kind),
            self.to_tag
        )
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        None
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        Vec::new()
    }
}
