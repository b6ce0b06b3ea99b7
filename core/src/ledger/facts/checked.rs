//! Something was looked at, smelled, felt, tasted or measured, and graded.

use crate::catalogue::SnapshotKey;
use crate::catalogue::steps::DoneBy;
use crate::ids::{PackId, PieceId};
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, err, find, not_now};
use crate::ledger::state::{Stage, State};
use crate::piece;
use crate::piece::mould::MouldSeen;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Something was looked at and graded.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Checked {
    /// The piece.
    pub piece: PieceId,
    /// What was looked at, by its word.
    pub check: String,
    /// The grade it got, by its word.
    #[serde(default)]
    pub grade: Option<String>,
    /// The number, as typed.
    #[serde(default)]
    pub value: Option<String>,
    /// What to know about it.
    #[serde(default)]
    pub note: Option<String>,
    /// True when this grade writes the step that asked for it down as done.
    #[serde(default)]
    pub settles: bool,
    /// The pack it is about; the whole piece when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pack: Option<PackId>,
    /// Mould as it was seen.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mould: Option<MouldSeen>,
    /// The name of its photo: the SHA-256 of the picture.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub photo: Option<String>,
}

impl Fact for Checked {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = find(state, self.piece)?;
        if found.went_into_others() || found.ended == Some(Stage::Discarded) {
            return Err(not_now(found));
        }
        if self.pack.is_some_and(|id| !found.packs.contains(&id)) {
            return err("pack", format!("{} has no such pack.", found.tag));
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.checks.push(piece::Checked {
                entry: entry.id,
                pack: self.pack,
                at: entry.happened_at,
                check: self.check.clone(),
                grade: self.grade.clone(),
                value: self.value.clone(),
            });
            if self.settles {
                let asked = piece.open_step(|s| {
                    s.kind.traits().done_by == DoneBy::Checked && s.asks.contains(&self.check)
                });
                if let Some(id) = asked.map(|s| s.id.clone()) {
                    piece.did(&id, entry.happened_at, Some(entry.id));
                }
            }
        }
    }

    fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    fn label(&self) -> &'static str {
        "checked"
    }
}
