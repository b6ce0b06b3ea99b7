//! Weighed on its hook.

use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::household::Household;
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::Loss;
use crate::ledger::odd::lost_too_much;
use crate::ledger::post::{Posted, at_stage, err, reweigh, say};
use crate::ledger::state::{Piece, Point, Stage, State};
use crate::units::{Milligrams, Reading, Units};
use serde::{Deserialize, Serialize};

/// Weighed on its hook.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct WeighedIn {
    /// The piece.
    pub piece: PieceId,
    /// Its weight with everything that hangs there.
    pub reading: Reading,
}

/// Weighed on its hook.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WeighedInAsk {
    /// The piece.
    pub piece: PieceId,
    /// Its weight with everything that hangs there, as typed.
    pub reading: String,
}

impl Asked for WeighedInAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = WeighedIn {
            piece: self.piece,
            reading: desk.mass(&self.reading, "reading")?,
        };
        desk.about(self.piece, Act::WeighedIn(act))
    }
}

impl Deed for WeighedIn {
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
            let since = piece.since;
            let tare = piece.tare();
            piece.weighed(
                (entry.id, entry.happened_at),
                Point::WeighedIn,
                self.reading.value - tare,
            );
            piece.since = since;
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
        "weighed in"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        format!("{} on the scale", scene.mass(&self.reading))
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::WeighedIn(WeighedInAsk {
            piece: self.piece,
            reading: scene.again(&self.reading),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![Field::mass("reading", "On the scale")]
    }
}

/// More than this share lost since it was weighed last is asked about.
pub(super) const USUAL_LOSS: f64 = 0.20;

/// A weight of a hanging piece with everything that hangs there.
pub(super) fn on_the_hook(
    piece: PieceId,
    reading: &Reading,
    state: &State,
    units: Units,
) -> Posted {
    let found = at_stage(state, piece, &[Stage::Hanging])?;
    let tare = found.tare();
    if reading.value <= tare {
        return err(
            "reading",
            format!(
                "Cloth and net alone weigh {}. Type what the scale shows with the piece on it.",
                say(tare, units)
            ),
        );
    }
    reweigh(
        found,
        reading,
        reading.value - tare,
        Loss::Evaporation,
        units,
    )
}
