//! A timer that rang, or ran, was answered: it is over for every page.

use super::timer_set::timers;
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, err, find};
use crate::ledger::state::State;
use crate::piece::TimerFor;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// A timer was answered.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct TimerAnswered {
    /// The piece.
    pub piece: PieceId,
    /// What was waited for.
    pub what: TimerFor,
}

/// A timer is answered; soaking and coming out of the cure answer theirs by themselves.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TimerAnsweredAsk {
    /// The piece.
    pub piece: PieceId,
    /// What was waited for.
    pub what: TimerFor,
}

impl Asked for TimerAnsweredAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = TimerAnswered {
            piece: self.piece,
            what: self.what,
        };
        desk.about(self.piece, Act::TimerAnswered(act))
    }
}

impl Deed for TimerAnswered {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let piece = find(state, self.piece)?;
        if !piece.timers.contains_key(&self.what) {
            return err(
                "what",
                format!(
                    "No timer runs for {} {}: it was answered already.",
                    piece.tag,
                    self.what.said()
                ),
            );
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, _: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.timers.remove(&self.what);
        }
    }

    fn doubts(&self, _: &Gate<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "timer answered"
    }

    fn detail(&self, _: &Scene<'_>) -> String {
        self.what.said().into()
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::TimerAnswered(TimerAnsweredAsk {
            piece: self.piece,
            what: self.what,
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![timers("what", "What was waited for")]
    }
}
