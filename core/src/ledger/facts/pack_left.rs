//! Packs left the house: eaten, or given to somebody; and whoever has them was told what is to be known of them.

use crate::catalogue::SnapshotKey;
use crate::ids::{PackId, PieceId};
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, packs_allow};
use crate::ledger::state::State;
use crate::piece::{LeftFor, PackLeave};
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Packs of one piece left the house.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PackLeft {
    /// The piece they are of.
    pub piece: PieceId,
    /// The packs.
    pub packs: Vec<PackId>,
    /// What for.
    pub left: LeftFor,
    /// Who has them, or who ate of them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub to: Option<String>,
}

impl Fact for PackLeft {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        packs_allow(state, &self.packs, |pack| {
            if pack.discarded.is_some() {
                return Some(format!("{} was thrown away.", pack.tag));
            }
            let gone = pack.left.as_ref()?;
            Some(format!("{} was {} already.", pack.tag, gone.what.label()))
        })
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        for id in &self.packs {
            if let Some(pack) = state.packs.get_mut(id) {
                pack.left = Some(PackLeave {
                    at: entry.happened_at,
                    what: self.left,
                    to: self.to.clone(),
                    told: None,
                });
            }
        }
    }

    fn note(&self) -> Option<&str> {
        self.to.as_deref()
    }

    fn label(&self) -> &'static str {
        self.left.label()
    }
}

/// Whoever has packs, or ate of them, was told.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PackTold {
    /// The piece they are of.
    pub piece: PieceId,
    /// The packs.
    pub packs: Vec<PackId>,
}

impl Fact for PackTold {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        packs_allow(state, &self.packs, |pack| {
            let there = pack.left.is_none();
            there.then(|| format!("{} is still in the house.", pack.tag))
        })
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        for id in &self.packs {
            if let Some(left) = state.packs.get_mut(id).and_then(|p| p.left.as_mut()) {
                left.told = Some(entry.happened_at);
            }
        }
    }

    fn label(&self) -> &'static str {
        "told"
    }
}
