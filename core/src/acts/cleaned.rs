//! Grinder, board and knives were cleaned after a lot: what is ground afterwards takes nothing of it.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::Field;
use crate::ids::LotId;
use crate::ledger::facts::Act;
use crate::ledger::facts::cleaned::Cleaned;
use serde::{Deserialize, Serialize};

/// Grinder, board and knives were cleaned after a lot.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CleanedAsk {
    /// The lot.
    pub lot: LotId,
    /// With what.
    #[serde(default)]
    pub note: Option<String>,
}

impl Draft for CleanedAsk {
    fn draft(&self, _: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Cleaned {
            note: words(self.note.as_deref()),
        };
        Ok(vec![(self.lot, Act::Cleaned(act))])
    }
}

impl Review for Cleaned {
    fn warnings(&self, _: &Validator<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn detail(&self, _: &RenderContext<'_>) -> String {
        self.note.clone().unwrap_or_default()
    }

    fn ask_again(&self, lot: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Cleaned(CleanedAsk {
            lot,
            note: self.note.clone(),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![Field::text("note", "With what").optional()]
    }
}
