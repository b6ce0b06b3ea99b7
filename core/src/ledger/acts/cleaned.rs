//! Grinder, board and knives were cleaned after a lot: what is ground afterwards takes nothing of it.

use super::desk::words;
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::ids::LotId;
use crate::ledger::Entry;
use crate::ledger::post::{Posted, gone};
use crate::ledger::state::State;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Grinder, board and knives were cleaned after a lot.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Cleaned {
    /// With what, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

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

impl Asked for CleanedAsk {
    fn draft(&self, _: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Cleaned {
            note: words(self.note.as_deref()),
        };
        Ok(vec![(self.lot, Act::Cleaned(act))])
    }
}

impl Deed for Cleaned {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        state.lot.as_ref().ok_or_else(gone)?;
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        state.facts.cleaned.push(entry.happened_at);
    }

    fn doubts(&self, _: &Gate<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    fn said(&self) -> &'static str {
        "tools cleaned after it"
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
