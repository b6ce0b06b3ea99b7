//! Packs were moved to another place, or taken out of the freezer to thaw.

use super::desk::words;
use super::form::Count;
use super::{Act, Ask, AskError, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::ids::{LotId, PackId, PieceId};
use crate::ledger::Entry;
use crate::ledger::acts::packed::{PLACES, ill_kept};
use crate::ledger::post::{Posted, err};
use crate::ledger::state::State;
use crate::piece::PackMove;
use crate::place::PlaceId;
use crate::units::Units;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Packs of one piece were moved.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PackMoved {
    /// The piece they are of.
    pub piece: PieceId,
    /// The packs.
    pub packs: Vec<PackId>,
    /// Where and how they are kept from then on, in words: `fridge, vacuum packed`.
    pub place: String,
    /// The place of the house, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lies_in: Option<PlaceId>,
    /// Why, where it goes past a block.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

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

impl Asked for PackMovedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let Some(place) = words(Some(&self.place)) else {
            return Err(AskError::field(
                "place",
                "Type where the packs are now, e.g. fridge or freezer.",
            ));
        };
        if self.packs.is_empty() {
            return Err(AskError::field("packs", "Choose at least one pack."));
        }
        let lies_in = desk.place(self.lies_in.as_ref(), PLACES, "lies_in")?;
        let mut by_piece: BTreeMap<(LotId, PieceId), Vec<PackId>> = BTreeMap::new();
        for id in &self.packs {
            let (lot, piece, _) = desk.book.pack(*id).ok_or_else(|| AskError::no_pack(*id))?;
            let all = by_piece.entry((lot.state.id, piece.id)).or_default();
            if !all.contains(id) {
                all.push(*id);
            }
        }
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
        Ok(by_piece.into_iter().map(act).collect())
    }
}

impl Deed for PackMoved {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        for id in &self.packs {
            match state.packs.get(id) {
                Some(pack) if pack.discarded.is_none() => {}
                Some(pack) => return err("packs", format!("{} was thrown away.", pack.tag)),
                None => return err("packs", "There is no such pack any more.".into()),
            }
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        for id in &self.packs {
            if let Some(pack) = state.packs.get_mut(id) {
                pack.moves.push(PackMove {
                    entry: entry.id,
                    at: entry.happened_at,
                    place: self.place.clone(),
                    lies_in: self.lies_in,
                });
            }
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let Some(piece) = gate.piece(self.piece) else {
            return Vec::new();
        };
        ill_kept(gate, piece, &[&self.place])
    }

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn said(&self) -> &'static str {
        "moved"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let tags = self.packs.iter().map(|id| {
            let pack = scene.lot.state.packs.get(id);
            pack.map_or_else(|| id.0.to_string(), |p| p.tag.clone())
        });
        let tags: Vec<_> = tags.collect();
        format!("{} to: {}", tags.join(", "), self.place)
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::PackMoved(PackMovedAsk {
            packs: self.packs.clone(),
            place: self.place.clone(),
            lies_in: self.lies_in.map(Count::from),
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, scene: &Scene<'_>) -> Vec<Field> {
        let mut fields = vec![Field::text("place", "Where they are kept")];
        fields.extend(scene.place_field("lies_in", PLACES));
        fields.push(Field::text("reason", "Why, if it goes past a block").optional());
        fields
    }
}
