//! Turned, massaged or stirred.

use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, at_stage};
use crate::ledger::state::{Stage, State};
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Turned, massaged or stirred.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Turned {
    /// The piece.
    pub piece: PieceId,
}

/// Turned, massaged or stirred.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TurnedAsk {
    /// The piece.
    pub piece: PieceId,
}

impl Asked for TurnedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        desk.about(self.piece, Act::Turned(Turned { piece: self.piece }))
    }
}

impl Deed for Turned {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        at_stage(state, self.piece, &[Stage::InCure])?;
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.turned = Some(entry.happened_at);
        }
    }

    fn doubts(&self, _: &Gate<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "turned"
    }

    fn detail(&self, _: &Scene<'_>) -> String {
        String::new()
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Turned(TurnedAsk { piece: self.piece }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        Vec::new()
    }
}
