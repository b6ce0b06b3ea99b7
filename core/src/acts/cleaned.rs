//! Grinder, board and knives were cleaned after a lot: what is ground afterwards takes nothing of it.

use crate::acts::desk::words;
use crate::acts::{Ask, Desk, Draft, Drafted, Gate, Review, Scene};
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
    fn draft(&self, _: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Cleaned {
            note: words(self.note.as_deref()),
        };
        Ok(vec![(self.lot, Act::Cleaned(act))])
    }
}

impl Review for Cleaned {
    fn doubts(&self, _: &Gate<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn detail(&self, _: &Scene<'_>) -> String {
        self.note.clone().unwrap_or_default()
    }

    fn ask_again(&self, lot: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Cleaned(CleanedAsk {
            lot,
            note: self.note.clone(),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![Field::text("note", "With what").optional()]
    }
}
