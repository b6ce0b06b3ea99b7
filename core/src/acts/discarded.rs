//! Thrown away.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::{Code, Finding, Severity};
use crate::form::Field;
use crate::ids::{LotId, PackId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::discarded::Discarded;
use crate::ledger::state::{Pack, Piece, State};
use serde::{Deserialize, Serialize};

/// A piece, or packs of it, are thrown away.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DiscardedAsk {
    /// The piece.
    pub piece: PieceId,
    /// Why.
    pub reason: String,
    /// The packs of it that are thrown away, by their numbers; the piece itself when left out.
    #[serde(default)]
    pub packs: Vec<PackId>,
    /// True when the packs that were made of the piece go with it.
    #[serde(default)]
    pub packs_too: bool,
}

impl Draft for DiscardedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let away = |packs: Vec<PackId>| {
            Act::Discarded(Discarded {
                piece: self.piece,
                reason: self.reason.trim().into(),
                packs,
            })
        };
        let (lot, piece) = context.find(self.piece)?;
        let mut acts = Vec::new();
        if self.packs_too && self.packs.is_empty() {
            let there = there(&lot.state, piece);
            if !there.is_empty() {
                acts.push((lot.state.id, away(there)));
            }
        }
        acts.push((lot.state.id, away(self.packs.clone())));
        Ok(acts)
    }
}

/// The packs of a piece that nobody threw away.
fn there(state: &State, piece: &Piece) -> Vec<PackId> {
    let ids = piece.packs.iter().copied();
    ids.filter(|id| state.packs.get(id).is_some_and(Pack::is_in_house))
        .collect()
}

impl Review for Discarded {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator
            .piece(self.piece)
            .filter(|_| self.packs.is_empty())
        else {
            return Vec::new();
        };
        let tags: Vec<_> = there(validator.state, piece)
            .iter()
            .filter_map(|id| Some(validator.state.packs.get(id)?.tag.clone()))
            .collect();
        if tags.is_empty() {
            return Vec::new();
        }
        vec![
            Finding::new(
                Code::PacksToo,
                Severity::Caution,
                format!(
                    "Packs of {} are still there. Are they thrown away too?",
                    piece.tag
                ),
            )
            .saw(tags.join(", "))
            .remedy("Throw the packs away with it, or save as it is to keep them."),
        ]
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let tags: Vec<_> = self
            .packs
            .iter()
            .filter_map(|id| Some(render.lot.state.packs.get(id)?.tag.clone()))
            .collect();
        if tags.is_empty() {
            self.reason.clone()
        } else {
            format!("{}: {}", tags.join(", "), self.reason)
        }
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Discarded(DiscardedAsk {
            piece: self.piece,
            reason: self.reason.clone(),
            packs: self.packs.clone(),
            packs_too: false,
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![Field::text("reason", "Why")]
    }
}
