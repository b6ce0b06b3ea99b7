//! Thrown away.

use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::household::Household;
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, alive, err, transfer};
use crate::ledger::state::{Stage, State};
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
}

/// Thrown away.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DiscardedAsk {
    /// The piece.
    pub piece: PieceId,
    /// Why.
    pub reason: String,
}

impl Asked for DiscardedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Discarded {
            piece: self.piece,
            reason: self.reason.trim().into(),
        };
        desk.about(self.piece, Act::Discarded(act))
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
        let found = alive(state, self.piece)?;
        if self.reason.trim().is_empty() {
            return err(
                "reason",
                "Type why it is thrown away, such as off smell.".into(),
            );
        }
        let waste = Account::Loss(Loss::Waste);
        let mut postings = transfer(Account::Piece(self.piece), waste.clone(), found.mass);
        postings.extend(transfer(Account::InCure(self.piece), waste, found.in_cure));
        Ok(postings)
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.ended = Some(Stage::Discarded);
            piece.moved(entry.happened_at, None);
            piece.since = entry.happened_at;
        }
    }

    fn odd(&self, _: &State, _: &Household) -> Vec<Finding> {
        Vec::new()
    }

    fn said(&self) -> &'static str {
        "thrown away"
    }

    fn detail(&self, _: &Scene<'_>) -> String {
        self.reason.clone()
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Discarded(DiscardedAsk {
            piece: self.piece,
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![Field::text("reason", "Why")]
    }
}
