//! How long a dosed piece lies in its cure, and how often it is turned there.

use super::When;
use super::cache::TURNS_AHEAD_DAYS;
use crate::catalogue::Catalogue;
use crate::cure::span::{CureSpan, UNREADY, closed_as, cure_span, more_days};
use crate::dose::{Closed, Turning};
use crate::house::House;
use crate::piece::{Checked, InCure, Piece};
use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};

/// What turning it means in what it lies in, where it was said how that is closed.
pub(super) fn how_turned(piece: &Piece) -> Option<&'static str> {
    closed_as(piece).map(Closed::turning)
}

/// What its later day out follows: the check that found it unready.
pub(super) fn found_unready(
    piece: &Piece,
    catalogue: &Catalogue,
    out: Date,
    home: &House,
) -> Option<String> {
    if more_days(piece, home) != Some(out) {
        return None;
    }
    let unready = |c: &&Checked| {
        UNREADY
            .iter()
            .any(|(check, grade)| c.check == *check && c.grade.as_deref() == Some(grade))
    };
    let last = piece.checks.iter().filter(unready).max_by_key(|c| c.at)?;
    let check = catalogue.check(&last.check)?;
    let grade = check
        .grades
        .iter()
        .find(|g| Some(&g.key) == last.grade.as_ref())?;
    Some(format!("{}: {}, two more days", check.name, grade.name))
}

/// What its later day out follows: days too cold to count.
pub(super) fn lay_cold(span: &CureSpan) -> Option<String> {
    let cold = span.counted.checked_sub(span.days).filter(|n| *n > 0)?;
    let days = if cold == 1 { "day" } else { "days" };
    Some(format!("{cold} {days} under 1 °C did not count"))
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
    home: &House,
    catalogue: &Catalogue,
) -> Option<Turnings> {
    let cure = piece.cure.as_ref()?;
    let every = piece.build()?.cure.as_ref()?.turn_every_days;
    let out = cure_span(piece, home, catalogue)?;
    let time = cure.time();
    let began = home.settings.day(cure.since);
    let last = home.settings.day(until).min(out.out_on.yesterday().ok()?);
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
fn half_time(cure: &InCure, days: u32, home: &House) -> Date {
    let half = i64::from(days.div_ceil(2));
    home.settings
        .first_counted_day(cure.since)
        .saturating_add(half.days())
}

pub(super) fn next_turn(piece: &Piece, days: u32, home: &House) -> Option<When> {
    let every = piece.build().and_then(|b| b.cure.as_ref())?.turn_every_days;
    let cure = piece.cure.as_ref()?;
    let time = cure.time();
    if time.turning == Some(Turning::AtHalfTime) {
        return piece
            .turned
            .is_none()
            .then(|| When::Day(half_time(cure, days, home)));
    }
    let hours = time.turned_every_h(every)?;
    let last = piece.turned.unwrap_or(cure.since);
    if hours % 24 == 0 {
        return Some(When::Day(
            home.settings.day(last).saturating_add((hours / 24).days()),
        ));
    }
    Some(When::Moment(
        last.saturating_add(hours.hours()).unwrap_or(last),
    ))
}

/// The days of the next fortnight on which it is to be turned, if it is turned whenever it is due.
pub(super) fn turn_days(
    piece: &Piece,
    home: &House,
    catalogue: &Catalogue,
    now: Timestamp,
) -> Vec<Date> {
    if piece.out_of_cure.is_some() || piece.ended.is_some() {
        return Vec::new();
    }
    let Some((span, cure)) = cure_span(piece, home, catalogue).zip(piece.cure.as_ref()) else {
        return Vec::new();
    };
    let Some(first) = next_turn(piece, span.days, home) else {
        return Vec::new();
    };
    let today = home.settings.day(now);
    let first = match first {
        When::Day(day) => day,
        When::Moment(at) => home.settings.day(at),
    };
    let every = piece
        .build()
        .and_then(|b| b.cure.as_ref())
        .and_then(|c| cure.time().turned_every_h(c.turn_every_days));
    let last = today.saturating_add(TURNS_AHEAD_DAYS.days());
    let mut day = first.max(today);
    let mut found = Vec::new();
    while day < span.out_on && day <= last {
        found.push(day);
        let Some(every) = every.filter(|_| cure.time().turning != Some(Turning::AtHalfTime)) else {
            break;
        };
        day = day.saturating_add((every / 24).max(1).days());
    }
    found
}
