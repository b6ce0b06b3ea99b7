//! Nothing more will be weighed out of a lot; what is left is shared between what explains it and what nothing does.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::{Code, Finding, Severity};
use crate::form::Field;
use crate::ids::LotId;
use crate::ledger::facts::Act;
use crate::ledger::facts::breakdown_closed::BreakdownClosed;
use crate::ledger::post::{explained, is_explained};
use crate::units::Grams;
use crate::units::show::mass;
use serde::{Deserialize, Serialize};

/// Nothing more will be weighed out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BreakdownClosedAsk {
    /// The lot.
    pub lot: LotId,
}

impl Draft for BreakdownClosedAsk {
    fn draft(&self, _: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        Ok(vec![(self.lot, Act::BreakdownClosed(BreakdownClosed {}))])
    }
}

impl Review for BreakdownClosed {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let (state, home) = (validator.state, validator.home);
        let (dressing, _) = explained(state);
        let unexplained = state.left - dressing;
        if is_explained(unexplained, state.received) {
            return Vec::new();
        }
        vec![
            Finding::new(
                Code::Unaccounted,
                Severity::Caution,
                "More is missing than cutting explains: it will stand in the books as unaccounted.",
            )
            .saw(mass(Grams(unexplained.grams()), home.settings.units.mass))
            .wants("at most 2 %")
            .remedy("Look for a bone bucket that was not weighed, a wet tub on the scale, or a mistyped digit."),
        ]
    }

    fn detail(&self, _: &RenderContext<'_>) -> String {
        String::new()
    }

    fn ask_again(&self, lot: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::BreakdownClosed(BreakdownClosedAsk { lot }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        Vec::new()
    }
}
