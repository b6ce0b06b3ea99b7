//! What is due, overdue and coming, worked out anew from facts, builds and settings; nothing of it is stored.
//!
//! [`way`] dates the steps of a piece, [`cure`] its days in the cure, [`ahead`] what comes after those that are open.
//! [`trips`] lays what is due together as one walks through the house, [`away`] says what an absence means, [`feed`]
//! makes events for a calendar of it. [`PlanCache`] works out only what an entry touched.

mod agenda;
mod ahead;
mod away;
pub(crate) mod cache;
mod cure;
mod feed;
mod missing;
mod trips;
mod way;
pub mod whole;

pub use agenda::MoveRefused;
pub use ahead::ahead;
pub use away::{Away, AwayGroup, AwayLine, Leave, away};
pub use cache::{LotPlan, PlanCache, TurnDays};
pub use cure::{Turnings, turnings};
pub use feed::{Event, EventTime, feed};
pub use missing::{Missing, MissingWhat, missing};
pub use trips::{Chip, DayAhead, DayLine, PartOfDay, PlaceAsked, Row, Said, Trip, Trips, trips};
pub use way::{has_lost_enough, of_piece};

use crate::agenda::TaskKind;
use crate::catalogue::steps::{StepKind, TripPlace};
use crate::house::House;
use crate::ids::VesselId;
use crate::ledger::book::Book;
use crate::ledger::{LotId, PieceId};
use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// How urgent it is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Urgency {
    /// Past its latest day or hour.
    Overdue,
    /// Its day or hour has come.
    Due,
    /// Later.
    Coming,
}

/// A day, or a moment where hours count.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum When {
    /// Any hour of that day.
    Day(Date),
    /// To the minute.
    Moment(Timestamp),
}

/// The hours of a task that does not go by days.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Hours {
    /// Not before.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = DateTime))]
    pub earliest: Timestamp,
    /// Planned.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = DateTime))]
    pub due: Timestamp,
    /// Not after.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = DateTime))]
    pub latest: Timestamp,
}

/// The step of its product that a task does.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TaskStep {
    /// Its name within the product.
    pub id: String,
    /// Its kind.
    pub kind: StepKind,
    /// The trade's verb.
    pub verb: String,
}

/// One thing to do with one piece.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Task {
    /// What.
    pub kind: TaskKind,
    /// Where it is done.
    pub place: TripPlace,
    /// The step of its product that is done by it, where there is one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<TaskStep>,
    /// With which piece.
    pub piece: PieceId,
    /// Of which lot.
    pub lot: LotId,
    /// The piece's tag.
    pub tag: String,
    /// The first day on which it may be done.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub earliest: Date,
    /// The planned day.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub due: Date,
    /// The last day it can wait for.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub latest: Date,
    /// The same to the minute, where hours count.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<Hours>,
    /// How urgent it is now.
    pub urgency: Urgency,
    /// True where the household moved it to that day.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub moved: bool,
    /// What the plan follows that is not usual: `found soft: two more days`.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub because: Option<String>,
    /// The vessel, where it is done to all that lie in it at once.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub vessel: Option<VesselId>,
    /// What that is called.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub vessel_name: Option<String>,
    /// The others in it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub with: Vec<PieceId>,
    /// Their tags.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub with_tags: Vec<String>,
}

impl Task {
    /// How urgent it is.
    #[must_use]
    pub fn urgency_at(&self, now: Timestamp, today: Date) -> Urgency {
        let (is_late, has_come) = match &self.hours {
            Some(hours) => (now > hours.latest, now >= hours.earliest.min(hours.due)),
            None => (today > self.latest, today >= self.due),
        };
        match (is_late, has_come) {
            (true, _) => Urgency::Overdue,
            (false, true) => Urgency::Due,
            (false, false) => Urgency::Coming,
        }
    }

    /// The next moment after `now` at which its urgency changes, besides a midnight.
    fn turns_at(&self, now: Timestamp) -> Option<Timestamp> {
        let hours = self.hours.as_ref()?;
        // It is late just after its latest moment, not at it.
        let late = hours.latest.saturating_add(1.nanosecond()).unwrap_or(now);
        [hours.earliest, hours.due, late]
            .into_iter()
            .filter(|at| *at > now)
            .min()
    }

    /// The most urgent first.
    fn order(&self) -> (Urgency, Date, Option<Timestamp>, TaskKind, &str) {
        let hour = self.hours.as_ref().map(|h| h.due);
        (self.urgency, self.due, hour, self.kind, &self.tag)
    }
}

/// Everything to do, the most urgent first; a vessel is one line.
#[must_use]
pub fn tasks(book: &Book, home: &House, now: Timestamp) -> Vec<Task> {
    let mut found = Vec::new();
    for (lot, piece) in book.pieces() {
        if !piece.stage().is_over() {
            found.extend(of_piece(piece, lot.state.id, home, book.catalogue(), now));
        }
    }
    in_order(found)
}

/// Sorts tasks, the most urgent first, and makes one line of each vessel.
#[must_use]
pub fn in_order(mut found: Vec<Task>) -> Vec<Task> {
    found.sort_by(|a, b| a.order().cmp(&b.order()));
    by_vessel(found)
}

/// A vessel is turned once, not once for each piece in it.
fn by_vessel(all: Vec<Task>) -> Vec<Task> {
    let mut found: Vec<Task> = Vec::with_capacity(all.len());
    let mut first: BTreeMap<VesselId, usize> = BTreeMap::new();
    for task in all {
        let vessel = task.vessel.filter(|_| task.kind == TaskKind::Turn);
        match vessel.and_then(|v| first.get(&v)) {
            Some(at) => {
                found[*at].with.push(task.piece);
                found[*at].with_tags.push(task.tag);
            }
            None => {
                if let Some(vessel) = vessel {
                    first.insert(vessel, found.len());
                }
                found.push(task);
            }
        }
    }
    found
}

#[cfg(test)]
mod tests;
