//! Taken down.

use super::weighed_in::{USUAL_LOSS, on_the_hook};
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Scene};
use crate::catalogue::KeptKey;
use crate::catalogue::steps::StepKind;
use crate::caution::Finding;
use crate::household::Household;
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::odd::lost_too_much;
use crate::ledger::post::Posted;
use crate::ledger::state::{Piece, Point, State};
use crate::units::{Milligrams, Reading, Units};
use serde::{Deserialize, Serialize};

/// Taken down.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct TakenDown {
    /// The piece.
    pub piece: PieceId,
    /// Its weight with everything that hangs there.
    pub reading: Reading,
}

/// Taken down.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TakenDownAsk {
    /// The piece.
    pub piece: PieceId,
    /// Its weight with everything that hangs there, as typed.
    pub reading: String,
}

impl Asked for TakenDownAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = TakenDown {
            piece: self.piece,
            reading: desk.mass(&self.reading, "reading")?,
        };
        desk.about(self.piece, Act::TakenDown(act))
    }
}

impl Deed for TakenDown {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        on_the_hook(self.piece, &self.reading, state, units)
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            let tare = piece.tare();
            piece.weighed(
                (entry.id, entry.happened_at),
                Point::TakenDown,
                self.reading.value - tare,
            );
            if let Some(hanging) = &mut piece.hanging {
                hanging.until = Some(entry.happened_at);
            }
            piece.moved(entry.happened_at, None);
            piece.did_kind(StepKind::Hang, entry.happened_at, entry.id);
        }
    }

    fn odd(&self, state: &State, home: &Household) -> Vec<Finding> {
        let tare = state
            .pieces
            .get(&self.piece)
            .map_or(Milligrams::ZERO, Piece::tare);
        lost_too_much(
            self.piece,
            self.reading.value - tare,
            USUAL_LOSS,
            state,
            home.units,
        )
    }

    fn said(&self) -> &'static str {
        "taken down"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        format!("{} on the scale", scene.mass(&self.reading))
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::TakenDown(TakenDownAsk {
            piece: self.piece,
            reading: scene.again(&self.reading),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![Field::mass("reading", "On the scale")]
    }
}
