//! Something seen, felt or measured, in words.

use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, err, find};
use crate::ledger::state::State;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Something seen, felt or measured.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Noted {
    /// The piece.
    pub piece: PieceId,
    /// In words.
    pub text: String,
}

/// Something seen, felt or measured.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct NotedAsk {
    /// The piece.
    pub piece: PieceId,
    /// In words.
    pub text: String,
}

impl Asked for NotedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Noted {
            piece: self.piece,
            text: self.text.trim().into(),
        };
        desk.about(self.piece, Act::Noted(act))
    }
}

impl Deed for Noted {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        find(state, self.piece)?;
        if self.text.trim().is_empty() {
            return err("text", "Type what you saw or did.".into());
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, _: &mut State, _: &Entry) {}

    fn doubts(&self, _: &Gate<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn note(&self) -> Option<&str> {
        Some(&self.text)
    }

    fn said(&self) -> &'static str {
        "noted"
    }

    fn detail(&self, _: &Scene<'_>) -> String {
        self.text.clone()
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Noted(NotedAsk {
            piece: self.piece,
            text: self.text.clone(),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![Field::text("text", "Note")]
    }
}
