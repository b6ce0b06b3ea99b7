//! Soaked in water after the cure.

use crate::catalogue::SnapshotKey;
use crate::catalogue::steps::StepKind;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, alive, err, not_now};
use crate::ledger::state::State;
use crate::piece::{Soak, TimerFor};
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Soaked in water.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Soaked {
    /// The piece.
    pub piece: PieceId,
    /// For how long (min).
    pub minutes: u32,
    /// How often the water was changed.
    #[serde(default)]
    pub changes: u32,
    /// True in iced water.
    #[serde(default)]
    pub iced: bool,
}

/// Nothing lies in water for longer than a week.
const MOST_MINUTES: u32 = 7 * 24 * 60;

impl Fact for Soaked {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = alive(state, self.piece)?;
        if found.out_of_cure.is_none() || found.hanging.is_some() {
            return Err(not_now(found));
        }
        if !(1..=MOST_MINUTES).contains(&self.minutes) {
            return err(
                "minutes",
                format!(
                    "Type how many minutes it lay in water, from 1 to {MOST_MINUTES}, such as 30."
                ),
            );
        }
        if self.changes > 100 {
            return err(
                "changes",
                "Type how often the water was changed, such as 2.".into(),
            );
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.did_kind(StepKind::Soak, entry.happened_at, entry.id);
            piece.soaks.push(Soak {
                entry: entry.id,
                at: entry.happened_at,
                minutes: self.minutes,
            });
            piece.timers.remove(&TimerFor::Soak);
        }
    }

    fn label(&self) -> &'static str {
        "soaked"
    }
}
