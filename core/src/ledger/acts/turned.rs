//! Turned, massaged or stirred.

use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::{Code, Finding, Severity};
use crate::ids::{LotId, PieceId, VesselId};
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
    /// Whether everything lay under the brine, where that was looked at.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub nothing_floats: Option<bool>,
}

/// Turned, massaged or stirred.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TurnedAsk {
    /// The piece. Give this, or `vessel`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// The vessel: all that lie in it.
    #[serde(default)]
    pub vessel: Option<VesselId>,
    /// Whether everything lies under the brine, where that was looked at.
    #[serde(default)]
    pub nothing_floats: Option<bool>,
}

impl Asked for TurnedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        desk.those(self.piece, &[], self.vessel)?
            .into_iter()
            .map(|piece| {
                let act = Turned {
                    piece,
                    nothing_floats: self.nothing_floats,
                };
                Ok((desk.lot_of(piece)?, Act::Turned(act)))
            })
            .collect()
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
            piece.turnings += 1;
        }
    }

    fn doubts(&self, _: &Gate<'_>) -> Vec<Finding> {
        if self.nothing_floats != Some(false) {
            return Vec::new();
        }
        vec![
            Finding::new(
                Code::Floats,
                Severity::Caution,
                "What sticks out of the brine takes no cure and spoils first.",
            )
            .way_out("Hold it under with a plate or a board, never with metal that reacts, and top the brine up."),
        ]
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "turned"
    }

    fn detail(&self, _: &Scene<'_>) -> String {
        match self.nothing_floats {
            Some(true) => "nothing floats".into(),
            Some(false) => "something floated".into(),
            None => String::new(),
        }
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Turned(TurnedAsk {
            piece: Some(self.piece),
            vessel: None,
            nothing_floats: self.nothing_floats,
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![Field::tick("nothing_floats", "Nothing floats").optional()]
    }
}
