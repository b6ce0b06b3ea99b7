//! Turned, massaged or stirred.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::{Code, Finding, Severity};
use crate::form::Field;
use crate::ids::{LotId, PieceId, VesselId};
use crate::ledger::facts::Act;
use crate::ledger::facts::turned::Turned;
use serde::{Deserialize, Serialize};

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

impl Draft for TurnedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        context
            .those(self.piece, &[], self.vessel)?
            .into_iter()
            .map(|piece| {
                let act = Turned {
                    piece,
                    nothing_floats: self.nothing_floats,
                };
                Ok((context.lot_of(piece)?, Act::Turned(act)))
            })
            .collect()
    }
}

impl Review for Turned {
    fn warnings(&self, _: &Validator<'_>) -> Vec<Finding> {
        if self.nothing_floats != Some(false) {
            return Vec::new();
        }
        vec![
            Finding::new(
                Code::Floats,
                Severity::Caution,
                "What sticks out of the brine takes no cure and spoils first.",
            )
            .remedy("Hold it under with a plate or a board, never with metal that reacts, and top the brine up."),
        ]
    }

    fn detail(&self, _: &RenderContext<'_>) -> String {
        match self.nothing_floats {
            Some(true) => "nothing floats".into(),
            Some(false) => "something floated".into(),
            None => String::new(),
        }
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Turned(TurnedAsk {
            piece: Some(self.piece),
            vessel: None,
            nothing_floats: self.nothing_floats,
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![Field::tick("nothing_floats", "Nothing floats").optional()]
    }
}
