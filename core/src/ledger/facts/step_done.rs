//! A step that needs no weighing was done on a piece's way: rinsed, tied, rested.

use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, alive, err};
use crate::ledger::state::State;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// A step on its way was done.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct StepDone {
    /// The piece.
    pub piece: PieceId,
    /// The step, by its name in the piece's build.
    pub step: String,
    /// What to know about it.
    #[serde(default)]
    pub note: Option<String>,
}

impl Fact for StepDone {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = alive(state, self.piece)?;
        let Some(step) = found.open_steps().find(|s| s.id == self.step) else {
            let open: Vec<_> = found
                .open_steps()
                .filter(|s| s.kind.traits().station.is_none())
                .map(|s| s.id.as_str())
                .collect();
            return err(
                "step",
                if open.is_empty() {
                    format!(
                        "{} {}, and no such step is open.",
                        found.tag,
                        found.stage().label()
                    )
                } else {
                    format!(
                        "{} has no such step open. Choose one of {}.",
                        found.tag,
                        open.join(", ")
                    )
                },
            );
        };
        if step.kind.traits().station.is_some() {
            return err(
                "step",
                format!(
                    "“{}” is done by weighing {}, not by a tick.",
                    step.verb, found.tag
                ),
            );
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.did(&self.step, entry.happened_at, Some(entry.id));
        }
    }

    fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    fn label(&self) -> &'static str {
        "step done"
    }
}
