//! Weighed on its hook.

use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_stage, err, reweigh, say};
use crate::ledger::state::{Point, Stage, State};
use crate::ledger::{Entry, Loss};
use crate::units::{Reading, Units};
use serde::{Deserialize, Serialize};

/// Weighed on its hook.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct WeighedIn {
    /// The piece.
    pub piece: PieceId,
    /// Its weight with everything that hangs there.
    pub reading: Reading,
}

/// A weight of a hanging piece with everything that hangs there.
pub(crate) fn on_the_hook(
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

impl Fact for WeighedIn {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        on_the_hook(self.piece, &self.reading, state, units)
    }

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
            // Whoever weighs it on its hook has taken it out of its vacuum.
            piece.evening_out = None;
        }
    }

    fn label(&self) -> &'static str {
        "weighed in"
    }
}
