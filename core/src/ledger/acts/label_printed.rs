//! Labels were printed: what they say is kept, so that it can be told when it no longer holds.

use super::{Act, Ask, AskError, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::ids::{LotId, PackId, PieceId};
use crate::label::printed;
use crate::ledger::Entry;
use crate::ledger::post::{Posted, err};
use crate::ledger::state::State;
use crate::units::Units;
use crate::verdict::Printed;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// What the label of a pack says.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PrintedLabel {
    /// The pack.
    pub pack: PackId,
    /// The piece it is of.
    pub piece: PieceId,
    /// What it says of how it is eaten.
    pub says: Printed,
}

/// Labels were printed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct LabelPrinted {
    /// The labels.
    pub labels: Vec<PrintedLabel>,
}

/// Labels were printed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LabelPrintedAsk {
    /// The packs.
    pub packs: Vec<PackId>,
}

impl Asked for LabelPrintedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        if self.packs.is_empty() {
            return Err(AskError::field("packs", "Choose at least one pack."));
        }
        let mut by_lot: BTreeMap<LotId, Vec<PrintedLabel>> = BTreeMap::new();
        for id in &self.packs {
            let (lot, piece, pack) = desk.book.pack(*id).ok_or_else(|| AskError::no_pack(*id))?;
            let labels = by_lot.entry(lot.state.id).or_default();
            if labels.iter().all(|l| l.pack != *id) {
                labels.push(PrintedLabel {
                    pack: *id,
                    piece: piece.id,
                    says: printed(&desk.judge(), &lot.state, piece, pack),
                });
            }
        }
        let act = |(lot, labels)| (lot, Act::LabelPrinted(LabelPrinted { labels }));
        Ok(by_lot.into_iter().map(act).collect())
    }
}

impl Deed for LabelPrinted {
    fn family(&self) -> Family<'_> {
        let mut about: Vec<_> = self.labels.iter().map(|l| l.piece).collect();
        about.dedup();
        Family {
            about,
            ..Family::default()
        }
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        for label in &self.labels {
            match state.packs.get(&label.pack) {
                Some(pack) if pack.discarded.is_none() => {}
                Some(pack) => {
                    return err("packs", format!("{} was thrown away.", pack.tag));
                }
                None => return err("packs", "There is no such pack any more.".into()),
            }
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        for label in &self.labels {
            if let Some(pack) = state.packs.get_mut(&label.pack) {
                pack.printed = Some(label.says.clone());
                pack.printed_at = entry.happened_at;
            }
        }
    }

    fn doubts(&self, _: &Gate<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "label printed"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let tag = |l: &PrintedLabel| {
            let pack = scene.lot.state.packs.get(&l.pack);
            let tag = pack.map_or_else(|| l.pack.0.to_string(), |p| p.tag.clone());
            format!("{tag}: {}", l.says.word.said())
        };
        self.labels.iter().map(tag).collect::<Vec<_>>().join(", ")
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        // What paper says is not put right in a ledger: it is printed anew, or undone.
        None
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        Vec::new()
    }
}
