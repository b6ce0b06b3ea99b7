//! Packs were moved to another place, or taken out of the freezer to thaw.

use crate::catalogue::SnapshotKey;
use crate::ids::{PackId, PieceId};
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, packs_allow};
use crate::ledger::state::State;
use crate::piece::PackMove;
use crate::place::PlaceId;
use crate::units::Units;
use serde::{Deserialize, Serialize};

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

impl Fact for PackMoved {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        packs_allow(state, &self.packs, |pack| {
            if pack.is_in_house() {
                return None;
            }
            Some(if pack.left.is_some() {
                format!("{} left the house.", pack.tag)
            } else {
                format!("{} was thrown away.", pack.tag)
            })
        })
    }

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

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn label(&self) -> &'static str {
        "moved"
    }
}
