//! Taken down.

use crate::catalogue::SnapshotKey;
use crate::catalogue::steps::StepKind;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::weighed_in::on_the_hook;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_stage, err};
use crate::ledger::state::{Point, Stage, State};
use crate::units::{Reading, Units};
use serde::{Deserialize, Serialize};

/// Taken down.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct TakenDown {
    /// The piece.
    pub piece: PieceId,
    /// Its weight with everything that hangs there; none where days or feel decided and nobody weighed it.
    pub reading: Option<Reading>,
}

impl Fact for TakenDown {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        if let Some(reading) = &self.reading {
            return on_the_hook(self.piece, reading, state, units);
        }
        let found = at_stage(state, self.piece, &[Stage::Hanging])?;
        if found.hanging.as_ref().is_some_and(|h| h.stop.is_weight()) {
            return err(
                "reading",
                format!(
                    "{} comes down by its weight. Weigh it with its cloth and net and type that.",
                    found.tag
                ),
            );
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            let tare = piece.tare();
            let net = self.reading.as_ref().map(|r| r.value - tare);
            if let Some(net) = net {
                piece.weighed((entry.id, entry.happened_at), Point::TakenDown, net);
            } else {
                piece.since = entry.happened_at;
            }
            if let Some(hanging) = &mut piece.hanging {
                hanging.until = Some(entry.happened_at);
                hanging.lost = net.map(|net| hanging.lost_at(net));
            }
            piece.moved(entry.happened_at, None);
            piece.did_kind(StepKind::Hang, entry.happened_at, entry.id);
        }
    }

    fn label(&self) -> &'static str {
        "taken down"
    }
}
