//! What the household moved to another day: a choice within a task's window, never a fact.

use super::Task;
use crate::agenda::{Agenda, Move, TaskKind};
use crate::ids::PieceId;
use jiff::civil::Date;

/// Why a task is not moved.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum MoveRefused {
    /// It is not to be done at all.
    #[error("That is not planned any more. Look at Today again.")]
    NotPlanned,
    /// It goes by hours.
    #[error("{tag} goes by hours, and does not move to another day.")]
    ByHours {
        /// The piece's tag.
        tag: String,
    },
    /// Outside its window.
    #[error("{tag} can be done from {earliest} to {latest}. Give a day between.")]
    Outside {
        /// The piece's tag.
        tag: String,
        /// The first day.
        earliest: Date,
        /// The last day.
        latest: Date,
    },
}

impl Agenda {
    /// The day to which a task was moved.
    #[must_use]
    pub fn day_of(&self, piece: PieceId, kind: TaskKind, step: Option<&str>) -> Option<Date> {
        let same = |m: &&Move| m.piece == piece && m.kind == kind && m.step.as_deref() == step;
        self.moves.iter().rfind(same).map(|m| m.to)
    }

    /// Moves a task within its window; what is planned no more is forgotten.
    ///
    /// # Errors
    /// When it is not planned, goes by hours, or would leave its window.
    pub fn moved(&self, wanted: &Move, planned: &[Task]) -> Result<Self, MoveRefused> {
        let is = |t: &Task, m: &Move| {
            t.piece == m.piece
                && t.kind == m.kind
                && t.step.as_ref().map(|s| s.id.as_str()) == m.step.as_deref()
        };
        let task = planned
            .iter()
            .find(|t| is(t, wanted))
            .ok_or(MoveRefused::NotPlanned)?;
        if task.hours.is_some() {
            return Err(MoveRefused::ByHours {
                tag: task.tag.clone(),
            });
        }
        if !(task.earliest..=task.latest).contains(&wanted.to) {
            return Err(MoveRefused::Outside {
                tag: task.tag.clone(),
                earliest: task.earliest,
                latest: task.latest,
            });
        }
        let mut new = self.clone();
        new.moves.retain(|m| {
            let stays = m.piece != wanted.piece || m.kind != wanted.kind || m.step != wanted.step;
            stays && planned.iter().any(|t| is(t, m))
        });
        new.moves.push(wanted.clone());
        new.version += 1;
        Ok(new)
    }
}
