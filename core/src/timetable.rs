//! What is due, overdue and coming, worked out anew from facts, builds and settings.

use crate::catalogue::Catalogue;
use crate::catalogue::builds::Tool;
use crate::catalogue::steps::{DoneBy, StepKind, Window};
use crate::cure::days::{Lying, days};
use crate::cure::dose::{Dose, Turning};
use crate::cure::ways::Waits;
use crate::household::Household;
use crate::ids::VesselId;
use crate::ledger::book::Book;
use crate::ledger::state::{Piece, Stage};
use crate::ledger::{LotId, PieceId};
use crate::piece::{Checked, InCure};
use crate::units::Grams;
use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Days raw meat waits in the fridge for its product, its dose or its smoke.
const RAW_WAITS_DAYS: i64 = 3;
/// In the first fortnight a hanging piece is weighed this often (days), later weekly.
const YOUNG_WEIGH_IN_DAYS: i64 = 3;
const OLD_WEIGH_IN_DAYS: i64 = 7;
const YOUNG_DAYS: i32 = 14;

/// What is to be done.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum TaskKind {
    /// Give it a product.
    Assign,
    /// Weigh out its cure and start it.
    Dose,
    /// Turn, massage or stir.
    Turn,
    /// Take it out of its cure and weigh it.
    OutOfCure,
    /// Smoke it and weigh it.
    Smoke,
    /// Cook it and weigh it.
    Cook,
    /// Hang it and weigh it with its tare.
    Hang,
    /// Weigh it on its hook.
    WeighIn,
    /// It has lost enough: take it down.
    TakeDown,
    /// Slice and pack it.
    Pack,
}

/// How urgent it is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Urgency {
    /// Past its latest day.
    Overdue,
    /// Its day has come.
    Due,
    /// Later.
    Coming,
}

/// One thing to do with one piece.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Task {
    /// What.
    pub kind: TaskKind,
    /// With which piece.
    pub piece: PieceId,
    /// Of which lot.
    pub lot: LotId,
    /// The piece's tag.
    pub tag: String,
    /// The planned day.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub due: Date,
    /// The last day it can wait for.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub latest: Date,
    /// How urgent it is today.
    pub urgency: Urgency,
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

/// Everything to do, the most urgent first.
#[must_use]
pub fn tasks(book: &Book, home: &Household, now: Timestamp) -> Vec<Task> {
    let today = home.day(now);
    let mut found = Vec::new();
    for (lot, piece) in book.pieces() {
        if !piece.stage().is_over() {
            of_piece(
                piece,
                lot.state.id,
                home,
                book.catalogue(),
                today,
                &mut found,
            );
        }
    }
    found.sort_by(|a, b| {
        (a.urgency, a.due, a.kind, &a.tag).cmp(&(b.urgency, b.due, b.kind, &b.tag))
    });
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

/// What is to do with one piece, soonest first.
pub fn of_piece(
    piece: &Piece,
    lot: LotId,
    home: &Household,
    catalogue: &Catalogue,
    today: Date,
    found: &mut Vec<Task>,
) {
    let mut add = |kind, due: Date, latest: Date| {
        found.push(Task {
            kind,
            piece: piece.id,
            lot,
            tag: piece.tag.clone(),
            due,
            latest,
            vessel: piece.vessel(),
            vessel_name: piece
                .dose()
                .and_then(|d| d.vessel.as_ref())
                .and_then(|v| v.name.clone()),
            with: Vec::new(),
            with_tags: Vec::new(),
            urgency: if today > latest {
                Urgency::Overdue
            } else if today >= due {
                Urgency::Due
            } else {
                Urgency::Coming
            },
        });
    };
    let since = home.day(piece.since);
    let later = |day: Date, days: i64| day.saturating_add(days.days());
    match piece.stage() {
        Stage::Assign => add(TaskKind::Assign, since, later(since, RAW_WAITS_DAYS)),
        Stage::Dose => add(TaskKind::Dose, since, later(since, RAW_WAITS_DAYS)),
        Stage::InCure => {
            if let Some(CureSpan {
                out_on: out, days, ..
            }) = cure_span(piece, home, catalogue)
            {
                if let Some(turn) = next_turn(piece, days, home).filter(|turn| *turn < out) {
                    add(TaskKind::Turn, turn, turn);
                }
                let slack = slack(piece);
                // What has a deadline grows saltier with every day that it waits.
                let waits = piece.dose().map(|d| d.method.dosing().waits());
                let latest = match waits {
                    Some(Waits::Deadline) => out,
                    Some(Waits::Slack) | None => out.saturating_add(slack.days()),
                };
                add(TaskKind::OutOfCure, out, latest);
            }
        }
        Stage::Hanging => {
            if has_lost_enough(piece) {
                let day = last_weighed(piece, home);
                add(TaskKind::TakeDown, day, later(day, 2));
            } else {
                let day = next_weigh_in(piece, home);
                add(TaskKind::WeighIn, day, day);
            }
        }
        Stage::Pack if piece.build().is_some_and(|b| b.ending) => {
            add(TaskKind::Pack, since, later(since, RAW_WAITS_DAYS));
        }
        Stage::Smoke | Stage::Hang | Stage::Pack => {
            if let Some((kind, from, window)) = gate(piece) {
                let due = falls_on(from, window.due_h, home);
                add(kind, due, falls_on(from, window.latest_h, home).max(due));
            }
        }
        Stage::Packed | Stage::CutUp | Stage::Joined | Stage::Discarded => {}
    }
}

/// The next step that has a place, since when it is counted and its window.
fn gate(piece: &Piece) -> Option<(TaskKind, Timestamp, Window)> {
    let step = piece
        .open_steps()
        .find(|s| s.kind.traits().station.is_some())?;
    let kind = match step.kind.traits().done_by {
        DoneBy::Smoked if step.kind == StepKind::Cook => TaskKind::Cook,
        DoneBy::Smoked => TaskKind::Smoke,
        DoneBy::Hung => TaskKind::Hang,
        DoneBy::Packed => TaskKind::Pack,
        DoneBy::Dosed => TaskKind::Dose,
        DoneBy::OutOfCure => TaskKind::OutOfCure,
        DoneBy::Coated | DoneBy::Soaked | DoneBy::Checked | DoneBy::Worked | DoneBy::Tick => {
            return None;
        }
    };
    let named = step.from.as_deref().and_then(|id| piece.step_done(id));
    let last = piece.done.iter().map(|d| d.at).max();
    let from = named.map(|d| d.at).or(last).unwrap_or(piece.since);
    Some((kind, from, step.window()))
}

/// The day on which so many hours have passed; whole days are calendar days.
fn falls_on(from: Timestamp, hours: f64, home: &Household) -> Date {
    if hours % 24.0 == 0.0 {
        return after(home.day(from), hours);
    }
    let minutes = (hours * 60.0).round() as i64;
    home.day(from.saturating_add(minutes.minutes()).unwrap_or(from))
}

/// A calendar day so many hours, rounded up to days, later.
fn after(day: Date, hours: f64) -> Date {
    day.saturating_add(((hours / 24.0).ceil() as i64).days())
}

/// How long a dosed piece lies in its cure.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct CureSpan {
    /// The days of its school.
    pub days: u32,
    /// Hours, in a salt box.
    pub hours: Option<f64>,
    /// When exactly, in a salt box.
    pub out_at: Option<Timestamp>,
    /// The planned day out.
    pub out_on: Date,
    /// Days from the first that counts to the planned day out: those of its school, those too cold to count, and
    /// those that a check added.
    pub counted: u32,
}

/// How long a dosed piece lies in its cure, from its own thickness and the school it was started
/// by; none for a piece that was never measured.
#[must_use]
pub fn cure_span(piece: &Piece, home: &Household, catalogue: &Catalogue) -> Option<CureSpan> {
    let cure = piece.cure.as_ref()?;
    let time = cure.time();
    let lying = Lying {
        build: piece.build()?,
        thickness: time.thickness(piece.shape.thickness())?,
        mass: Grams(piece.green.grams()),
        shape: &piece.shape,
        pumped: cure.is_pumped(),
        time,
    };
    let school = cure.dose.as_ref().and_then(|d| d.school.as_ref());
    let plan = days(&lying, school, &catalogue.schools, home.units).ok()?;
    let minutes = plan.hours.map(|h| (h * 60.0).round() as i64);
    let out_at = minutes.map(|m| cure.since.saturating_add(m.minutes()).unwrap_or(cure.since));
    let more = more_days(piece, home);
    let out_on = |first: Date| {
        let usual = first.saturating_add((i64::from(plan.days) + cold_days(piece, cure)).days());
        more.map_or(usual, |day| usual.max(day))
    };
    let first = home.first_counted_day(cure.since);
    let out_on = out_at.map_or_else(|| out_on(first), |at| home.day(at));
    let counted = out_on.since(first).map_or(0, |s| s.get_days());
    Some(CureSpan {
        days: plan.days,
        hours: plan.hours,
        out_at,
        out_on,
        counted: u32::try_from(counted).unwrap_or(0),
    })
}

/// Days that a measured dose may wait in a sealed bag.
const SEALED_DAYS: i64 = 28;
/// The same in a tub or an open bag.
const OPEN_DAYS: i64 = 14;

/// Days that a piece may wait in its cure past its own: none without nitrite, and none of a mix past what its step
/// says.
fn slack(piece: &Piece) -> i64 {
    let Some(build) = piece.build() else {
        return OPEN_DAYS;
    };
    let step = build.step(StepKind::Cure);
    let own = step
        .and_then(|s| s.window.as_ref())
        .map(|w| (w.latest_h / 24.0).ceil() as i64);
    let plain = piece
        .dose()
        .is_some_and(|d| d.nitrite_g() <= 0.0 && !d.lines.is_empty());
    if plain {
        return 0;
    }
    let sealed = build.tools.contains(&Tool::Vacuum) && !piece.dose().is_some_and(Dose::in_brine);
    own.unwrap_or(if sealed { SEALED_DAYS } else { OPEN_DAYS })
}

/// Two more days from the day on which it was found soft, or bland in its middle.
const MORE_DAYS: i64 = 2;

/// What says that the cure has not reached the middle: a check and its grade.
const UNREADY: [(&str, &str); 3] = [
    ("firmness", "soft"),
    ("slice_middle", "bland"),
    ("core_colour", "pale_core"),
];

/// The day before which a piece that was found unready does not come out. What the same check finds later rules.
fn more_days(piece: &Piece, home: &Household) -> Option<Date> {
    let since = piece.cure.as_ref()?.since;
    let out = piece.out_of_cure;
    let in_cure = |c: &&Checked| c.at >= since && out.is_none_or(|o| c.at <= o);
    let found = |(check, grade): &(&str, &str)| {
        let graded = |c: &&Checked| c.check == *check && c.grade.is_some();
        let mine = piece.checks.iter().filter(in_cure).filter(graded);
        let last = mine.max_by_key(|c| c.at)?;
        (last.grade.as_deref() == Some(*grade)).then_some(last.at)
    };
    let last = UNREADY.iter().filter_map(found).max()?;
    Some(home.day(last).saturating_add(MORE_DAYS.days()))
}

/// Colder than this the cure nearly stands still (°C).
const STANDS_STILL_C: f64 = 1.0;

/// Whole days that a piece lay so cold that they do not count, by what was read around it.
fn cold_days(piece: &Piece, cure: &InCure) -> i64 {
    let until = piece.out_of_cure.unwrap_or(Timestamp::MAX);
    let cold = piece
        .around
        .iter()
        .filter(|a| a.warmth.value.0 < STANDS_STILL_C);
    let mut spans: Vec<(i64, i64)> = cold
        .map(|a| {
            (
                a.at.as_second() - (a.hours * 3_600.0) as i64,
                a.at.as_second(),
            )
        })
        .collect();
    spans.sort_unstable();
    // Two readings of the same night are one night.
    let mut counted = cure.since.as_second();
    let mut seconds = 0;
    for (from, to) in spans {
        let to = to.min(until.as_second());
        seconds += (to - from.max(counted)).max(0);
        counted = counted.max(to);
    }
    seconds / 86_400
}

/// How often a piece was turned in its cure, beside how often it wanted to be.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Turnings {
    /// Written down.
    pub done: u32,
    /// Due by then, the day out not counted.
    pub wanted: u32,
}

/// How often a piece was turned until then, beside how often it wanted to be; none for what is left alone.
#[must_use]
pub fn turnings(
    piece: &Piece,
    until: Timestamp,
    home: &Household,
    catalogue: &Catalogue,
) -> Option<Turnings> {
    let cure = piece.cure.as_ref()?;
    let every = piece.build()?.cure.as_ref()?.turn_every_days;
    let out = cure_span(piece, home, catalogue)?;
    let time = cure.time();
    let began = home.day(cure.since);
    let last = home.day(until).min(out.out_on.yesterday().ok()?);
    let gone = i64::from(last.since(began).ok()?.get_days()).max(0);
    let wanted = if time.turning == Some(Turning::AtHalfTime) {
        i64::from(last >= half_time(cure, out.days, home))
    } else {
        gone * 24 / time.turned_every_h(every)?
    };
    Some(Turnings {
        done: piece.turnings,
        wanted: u32::try_from(wanted).unwrap_or(0),
    })
}

/// The day on which half of so many days are over.
fn half_time(cure: &InCure, days: u32, home: &Household) -> Date {
    let half = i64::from(days.div_ceil(2));
    home.first_counted_day(cure.since)
        .saturating_add(half.days())
}

fn next_turn(piece: &Piece, days: u32, home: &Household) -> Option<Date> {
    let every = piece.build().and_then(|b| b.cure.as_ref())?.turn_every_days;
    let cure = piece.cure.as_ref()?;
    let time = cure.time();
    if time.turning == Some(Turning::AtHalfTime) {
        return piece.turned.is_none().then(|| half_time(cure, days, home));
    }
    let hours = time.turned_every_h(every)?;
    let last = piece.turned.unwrap_or(cure.since);
    if hours % 24 == 0 {
        return Some(home.day(last).saturating_add((hours / 24).days()));
    }
    Some(home.day(last.saturating_add(hours.hours()).unwrap_or(last)))
}

fn last_weighed(piece: &Piece, home: &Household) -> Date {
    home.day(piece.last_weighing().map_or(piece.since, |w| w.at))
}

fn next_weigh_in(piece: &Piece, home: &Household) -> Date {
    let last = last_weighed(piece, home);
    let hung = piece.hanging.as_ref().map_or(last, |h| home.day(h.since));
    let days_hung = last.since(hung).map_or(0, |s| s.get_days());
    let every = if days_hung < YOUNG_DAYS {
        YOUNG_WEIGH_IN_DAYS
    } else {
        OLD_WEIGH_IN_DAYS
    };
    last.saturating_add(every.days())
}

/// True when the last weighing on the hook was at or under the target.
#[must_use]
pub fn has_lost_enough(piece: &Piece) -> bool {
    piece.hanging.as_ref().is_some_and(|h| {
        let net_start = (h.gross_start - h.tare).grams();
        piece.mass.grams() <= net_start * (1.0 - h.loss.0) + 1e-9
    })
}

#[cfg(test)]
mod tests;
