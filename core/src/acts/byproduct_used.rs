//! What was kept beside the pieces is used: rendered, cooked, given away or thrown away.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::animal::byproduct::{Byproduct, UsedFor};
use crate::caution::Finding;
use crate::form::{Field, option, options};
use crate::ids::{LotId, word};
use crate::ledger::facts::Act;
use crate::ledger::facts::byproduct_used::ByproductUsed;
use serde::{Deserialize, Serialize};

/// What was kept is used.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ByproductUsedAsk {
    /// The lot it was kept of.
    pub lot: LotId,
    /// What it is.
    pub kind: Byproduct,
    /// How much of it, as typed.
    pub reading: String,
    /// What became of it.
    pub used: UsedFor,
    /// What it gave, as typed, where it was rendered.
    #[serde(default)]
    pub gave: Option<String>,
    /// In words: who has it, what it went into.
    #[serde(default)]
    pub note: Option<String>,
}

impl Draft for ByproductUsedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = ByproductUsed {
            kind: self.kind,
            reading: context.mass(&self.reading, "reading")?,
            used: self.used,
            gave: context.mass_if(self.gave.as_deref(), "gave")?,
            note: words(self.note.as_deref()),
        };
        Ok(vec![(self.lot, Act::ByproductUsed(act))])
    }
}

impl Review for ByproductUsed {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let eaten = self.used != UsedFor::ThrownAway;
        validator
            .edible_lot()
            .filter(|_| eaten)
            .into_iter()
            .collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let gave = self
            .gave
            .as_ref()
            .map(|g| format!(", gave {}", render.mass(g)));
        let note = self.note.as_ref().map(|n| format!(": {n}"));
        format!(
            "{} {}{}{}",
            render.mass(&self.reading),
            word(&self.kind),
            gave.unwrap_or_default(),
            note.unwrap_or_default()
        )
    }

    fn ask_again(&self, lot: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::ByproductUsed(ByproductUsedAsk {
            lot,
            kind: self.kind,
            reading: render.again(&self.reading),
            used: self.used,
            gave: self.gave.as_ref().map(|g| render.again(g)),
            note: self.note.clone(),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        let used = UsedFor::ALL
            .iter()
            .map(|used| option(used, used.label()))
            .collect();
        vec![
            Field::one_of("kind", "What it is", options(&Byproduct::ALL)),
            Field::mass("reading", "Weight"),
            Field::one_of("used", "What became of it", used),
            Field::mass("gave", "What it gave").optional(),
            Field::text("note", "In words").optional(),
        ]
    }
}
