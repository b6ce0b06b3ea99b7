//! Packs were moved to another place, or taken out of the freezer to thaw.

use crate::acts::context::words;
use crate::acts::packed::{PLACES, ill_kept};
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::{AskError, Count, Field};
use crate::ids::{LotId, PackId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::pack_moved::PackMoved;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Packs are moved to another place, or thawed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PackMovedAsk {
    /// The packs.
    pub packs: Vec<PackId>,
    /// Where and how they are kept from then on, in words: `fridge`, `freezer, vacuum packed`.
    pub place: String,
    /// The freezer or shelf they lie in, by its number on the household's list.
    #[serde(default)]
    pub lies_in: Option<Count>,
    /// Why, where it goes past a block.
    #[serde(default)]
    pub reason: Option<String>,
}

impl Draft for PackMovedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let Some(place) = words(Some(&self.place)) else {
            return Err(AskError::field(
                "place",
                "Type where the packs are now, e.g. fridge or freezer.",
            ));
        };
        let lies_in = context.place(self.lies_in.as_ref(), PLACES, "lies_in")?;
        let act = |((lot, piece), packs)| {
            let act = PackMoved {
                piece,
                packs,
                place: place.clone(),
                lies_in,
                reason: words(self.reason.as_deref()),
            };
            (lot, Act::PackMoved(act))
        };
        Ok(by_piece(&self.packs, context)?
            .into_iter()
            .map(act)
            .collect())
    }
}

/// Packs by the piece they are of, each once.
pub(crate) fn by_piece(
    packs: &[PackId],
    context: &DraftContext<'_>,
) -> Result<BTreeMap<(LotId, PieceId), Vec<PackId>>, AskError> {
    if packs.is_empty() {
        return Err(AskError::field("packs", "Choose at least one pack."));
    }
    let mut found: BTreeMap<(LotId, PieceId), Vec<PackId>> = BTreeMap::new();
    for id in packs {
        let (lot, piece, _) = context
            .book
            .pack(*id)
            .ok_or_else(|| AskError::no_pack(*id))?;
        let all = found.entry((lot.state.id, piece.id)).or_default();
        if !all.contains(id) {
            all.push(*id);
        }
    }
    Ok(found)
}

impl Review for PackMoved {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator.piece(self.piece) else {
            return Vec::new();
        };
        ill_kept(validator, piece, &[&self.place])
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        format!("{} to: {}", render.packs(&self.packs), self.place)
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::PackMoved(PackMovedAsk {
            packs: self.packs.clone(),
            place: self.place.clone(),
            lies_in: self.lies_in.map(Count::from),
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let mut fields = vec![Field::text("place", "Where they are kept")];
        fields.extend(render.place_field("lies_in", PLACES));
        fields.push(Field::text("reason", "Why, if it goes past a block").optional());
        fields
    }
}
