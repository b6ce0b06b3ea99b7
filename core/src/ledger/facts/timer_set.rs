//! A timer was set: it rings on every open page until it is answered.

use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, alive, at_stage, err, not_now};
use crate::ledger::state::{Stage, State};
use crate::piece::{Timer, TimerFor};
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// A timer was set.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct TimerSet {
    /// The piece.
    pub piece: PieceId,
    /// What is waited for.
    pub what: TimerFor,
    /// For how long, from when it happened (min).
    pub minutes: u32,
    /// What to do then, in words of one's own.
    #[serde(default)]
    pub note: Option<String>,
}

/// Nothing that rings is set for longer than two weeks.
const MOST_MINUTES: u32 = 14 * 24 * 60;

impl Fact for TimerSet {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = alive(state, self.piece)?;
        match self.what {
            TimerFor::Soak if found.out_of_cure.is_none() || found.hanging.is_some() => {
                return Err(not_now(found));
            }
            TimerFor::SaltBox => {
                at_stage(state, self.piece, &[Stage::InCure])?;
            }
            TimerFor::Soak | TimerFor::Rest => {}
        }
        if !(1..=MOST_MINUTES).contains(&self.minutes) {
            return err(
                "minutes",
                format!("Type for how many minutes, from 1 to {MOST_MINUTES}, such as 30."),
            );
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            let timer = Timer {
                entry: entry.id,
                began: entry.happened_at,
                minutes: self.minutes,
                note: self.note.clone(),
            };
            piece.timers.insert(self.what, timer);
        }
    }

    fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    fn label(&self) -> &'static str {
        "timer set"
    }
}
