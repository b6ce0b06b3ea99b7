//! A step that needs no weighing was done on a piece's way: rinsed, tied, rested.

use crate::catalogue::SnapshotKey;
use crate::catalogue::steps::StepKind;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, alive, err, thickness};
use crate::ledger::state::State;
use crate::units::{Millimetres, Typed, Units};
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
    /// How thick it is since it was rolled.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub thickness: Option<Typed<Millimetres>>,
}

impl Fact for StepDone {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
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
        if self.thickness.is_some() && step.kind != StepKind::Roll {
            return err(
                "thickness",
                "Only where it is rolled a piece gets another thickness. Leave it empty.".into(),
            );
        }
        thickness(self.thickness.as_ref().map(|t| t.value), "thickness", units)?;
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.did(&self.step, entry.happened_at, Some(entry.id));
            if self.thickness.is_some() {
                piece.rolled = self.thickness.clone();
            }
        }
    }

    fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    fn label(&self) -> &'static str {
        "step done"
    }
}
