//! Labels were printed: what they say is kept, so that it can be told when it no longer holds.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::{AskError, Field};
use crate::ids::{LotId, PackId};
use crate::label::printed;
use crate::ledger::facts::Act;
use crate::ledger::facts::label_printed::{LabelPrinted, PrintedLabel};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Labels were printed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LabelPrintedAsk {
    /// The packs.
    pub packs: Vec<PackId>,
}

impl Draft for LabelPrintedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        if self.packs.is_empty() {
            return Err(AskError::field("packs", "Choose at least one pack."));
        }
        let mut by_lot: BTreeMap<LotId, Vec<PrintedLabel>> = BTreeMap::new();
        for id in &self.packs {
            let (lot, piece, pack) = context
                .book
                .pack(*id)
                .ok_or_else(|| AskError::no_pack(*id))?;
            let labels = by_lot.entry(lot.state.id).or_default();
            if labels.iter().all(|l| l.pack != *id) {
                labels.push(PrintedLabel {
                    pack: *id,
                    piece: piece.id,
                    says: printed(&context.judge(), &lot.state, piece, pack),
                });
            }
        }
        let act = |(lot, labels)| (lot, Act::LabelPrinted(LabelPrinted { labels }));
        Ok(by_lot.into_iter().map(act).collect())
    }
}

impl Review for LabelPrinted {
    fn warnings(&self, _: &Validator<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let tag = |l: &PrintedLabel| format!("{}: {}", render.pack(l.pack), l.says.word.label());
        self.labels.iter().map(tag).collect::<Vec<_>>().join(", ")
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        // What paper says is not put right in a ledger: it is printed anew, or undone.
        None
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        Vec::new()
    }
}
