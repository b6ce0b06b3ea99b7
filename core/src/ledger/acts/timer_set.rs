//! A timer was set: it rings on every open page until it is answered.

use super::desk::words;
use super::form::{Count, option};
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
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

/// A timer is set; another of its kind on the same piece ends with it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TimerSetAsk {
    /// The piece.
    pub piece: PieceId,
    /// What is waited for.
    pub what: TimerFor,
    /// For how long, from when it happened (min).
    pub minutes: Count,
    /// What to do then.
    #[serde(default)]
    pub note: Option<String>,
}

impl Asked for TimerSetAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = TimerSet {
            piece: self.piece,
            what: self.what,
            minutes: desk.count(&self.minutes, "minutes")?,
            note: words(self.note.as_deref()),
        };
        desk.about(self.piece, Act::TimerSet(act))
    }
}

impl Deed for TimerSet {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
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

    fn begin(&self, _: &mut State, _: &Entry) {}

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

    fn doubts(&self, _: &Gate<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    fn said(&self) -> &'static str {
        "timer set"
    }

    fn detail(&self, _: &Scene<'_>) -> String {
        let note = self
            .note
            .as_ref()
            .map_or_else(String::new, |n| format!(": {n}"));
        format!("{} min {}{note}", self.minutes, self.what.said())
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::TimerSet(TimerSetAsk {
            piece: self.piece,
            what: self.what,
            minutes: self.minutes.into(),
            note: self.note.clone(),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![
            timers("what", "What is waited for"),
            Field::new("minutes", "Minutes", FieldKind::Count),
            Field::text("note", "What to do then").optional(),
        ]
    }
}

/// Nothing that rings is set for longer than two weeks.
const MOST_MINUTES: u32 = 14 * 24 * 60;

/// Which timer, as a field to choose from.
pub(super) fn timers(name: &str, label: &str) -> Field {
    let options = TimerFor::ALL.map(|what| option(&what, what.said()));
    Field::one_of(name, label, options.to_vec())
}
