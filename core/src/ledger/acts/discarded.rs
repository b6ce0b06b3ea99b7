//! Thrown away.

use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::{Code, Finding, Severity};
use crate::ids::{LotId, PackId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, alive, err, find, transfer};
use crate::ledger::state::{Piece, Stage, State};
use crate::ledger::{Account, Loss};
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

impl Asked for DiscardedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let away = |packs: Vec<PackId>| {
            Act::Discarded(Discarded {
                piece: self.piece,
                reason: self.reason.trim().into(),
                packs,
            })
        };
        let (lot, piece) = desk.find(self.piece)?;
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

impl Deed for Discarded {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
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

    fn begin(&self, _: &mut State, _: &Entry) {}

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

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let Some(piece) = gate.piece(self.piece).filter(|_| self.packs.is_empty()) else {
            return Vec::new();
        };
        let tags: Vec<_> = there(gate.state, piece)
            .iter()
            .filter_map(|id| Some(gate.state.packs.get(id)?.tag.clone()))
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
            .way_out("Throw the packs away with it, or save as it is to keep them."),
        ]
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "thrown away"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let tags: Vec<_> = self
            .packs
            .iter()
            .filter_map(|id| Some(scene.lot.state.packs.get(id)?.tag.clone()))
            .collect();
        if tags.is_empty() {
            self.reason.clone()
        } else {
            format!("{}: {}", tags.join(", "), self.reason)
        }
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Discarded(DiscardedAsk {
            piece: self.piece,
            reason: self.reason.clone(),
            packs: self.packs.clone(),
            packs_too: false,
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![Field::text("reason", "Why")]
    }
}

/// The packs of a piece that nobody threw away.
fn there(state: &State, piece: &Piece) -> Vec<PackId> {
    let ids = piece.packs.iter().copied();
    ids.filter(|id| state.packs.get(id).is_some_and(|p| p.discarded.is_none()))
        .collect()
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
