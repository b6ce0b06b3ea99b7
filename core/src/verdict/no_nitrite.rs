//! Meat without nitrite: the one place that says what is a hazard for it, at every door.
//!
//! Cold, open, short and then cooked right through it is fine. Hung, smoked or warmed slowly, sealed, or cured for longer than a
//! week, nothing holds botulism back. A typed reason lifts the block once, for everything its dose was planned for.

use super::{Judge, days_in_cure};
use crate::caution::Finding;
use crate::cure::no_nitrite::{Door, MOST_DAYS, hazard, lifted};
use crate::ledger::state::State;
use crate::piece::Piece;
use jiff::Timestamp;

impl<'a> Judge<'a> {
    /// True for what was cured without nitrite, where no typed reason lifted that.
    #[must_use]
    pub fn has_no_nitrite(&self, state: &'a State, piece: &'a Piece) -> bool {
        lifted(piece).is_none() && self.really(state, piece).is_some_and(|r| r.no_nitrite)
    }

    /// What is asked where it leaves its cure past day 7.
    #[must_use]
    pub fn long_without_nitrite(
        &self,
        state: &'a State,
        piece: &'a Piece,
        at: Timestamp,
    ) -> Option<Finding> {
        let day = days_in_cure(piece, at, self.home)?;
        (day > i64::from(MOST_DAYS) && self.has_no_nitrite(state, piece))
            .then(|| hazard(&piece.tag, Door::Long, format!("day {day}")))
    }
}
