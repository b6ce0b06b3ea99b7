//! Thrown away.

use crate::catalogue::SnapshotKey;
use crate::ids::{PackId, PieceId};
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, alive, err, find, transfer};
use crate::ledger::state::{Stage, State};
use crate::ledger::{Account, Entry, Loss};
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Thrown away.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Discarded {
    /// The piece.
    pub piece: PieceId,
    /// Why.
    pub reason: String,
    /// The packs of it that are thrown away; the piece itself when there are none.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub packs: Vec<PackId>,
}

impl Fact for Discarded {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        if self.reason.trim().is_empty() {
            return err(
                "reason",
                "Type why it is thrown away, such as off smell.".into(),
            );
        }
        let waste = Account::Loss(Loss::Waste);
        if !self.packs.is_empty() {
            return self.packs_away(state, waste);
        }
        let found = alive(state, self.piece)?;
        let mut postings = transfer(Account::Piece(self.piece), waste.clone(), found.mass);
        postings.extend(transfer(Account::InCure(self.piece), waste, found.in_cure));
        Ok(postings)
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if !self.packs.is_empty() {
            for id in &self.packs {
                if let Some(pack) = state.packs.get_mut(id) {
                    pack.discarded = Some(entry.happened_at);
                }
            }
            return;
        }
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.ended = Some(Stage::Discarded);
            piece.moved(entry.happened_at, None);
            piece.since = entry.happened_at;
        }
    }

    fn label(&self) -> &'static str {
        "thrown away"
    }
}

impl Discarded {
    fn packs_away(&self, state: &State, waste: Account) -> Posted {
        let found = find(state, self.piece)?;
        let mut postings = Vec::new();
        for (i, id) in self.packs.iter().enumerate() {
            let pack = state.packs.get(id).filter(|p| p.piece == self.piece);
            match pack {
                Some(pack) if pack.discarded.is_none() && !self.packs[..i].contains(id) => {
                    postings.extend(transfer(Account::Pack(*id), waste.clone(), pack.mass));
                }
                Some(pack) => {
                    return err("packs", format!("{} was thrown away already.", pack.tag));
                }
                None => return err("packs", format!("{} has no such pack.", found.tag)),
            }
        }
        Ok(postings)
    }
}
