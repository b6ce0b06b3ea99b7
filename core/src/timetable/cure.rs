//! How long a dosed piece lies in its cure, and how often it is turned there.

use super::When;
use super::kept::TURNS_AHEAD_DAYS;
use crate::catalogue::Catalogue;
use crate::catalogue::builds::Tool;
use crate::catalogue::steps::StepKind;
use crate::cure::days::{Lying, days};
use crate::cure::dose::{Dose, Turning};
use crate::household::Household;
use crate::ledger::state::Piece;
use crate::piece::{Around, Checked, InCure};
use crate::place::climate::{GAP_S, Stretch, WarmthBand, around, merged};
use crate::units::{Celsius, Grams};
use crate::verdict::no_nitrite;
use jiff::civil::Date;
use jiff::{SignedDuration, Timestamp, ToSpan};

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
        let usual = first.saturating_add((i64::from(plan.days) + cold_days(piece, home)).days());
        more.map_or(usual, |day| usual.max(day))
    };
    let first = home.first_counted_day(cure.since);
    let out_on = out_at.map_or_else(|| out_on(first), |at| home.day(at));
    // Without nitrite it comes out by day 7, unless a typed reason says otherwise.
    let plain = cure
        .dose
        .as_ref()
        .is_some_and(|d| d.nitrite_g() <= 0.0 && !d.lines.is_empty());
    let out_on = if plain && no_nitrite::lifted(piece).is_none() {
        out_on.min(first.saturating_add(i64::from(no_nitrite::MOST_DAYS).days()))
    } else {
        out_on
    };
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
pub(super) fn slack(piece: &Piece) -> i64 {
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

/// What its later day out follows: the check that found it unready.
pub(super) fn found_unready(
    piece: &Piece,
    catalogue: &Catalogue,
    out: Date,
    home: &Household,
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

/// Whole days that a piece lay so cold that they do not count: by what was read of it, and by the log of its place.
fn cold_days(piece: &Piece, home: &Household) -> i64 {
    cold_seconds(piece, piece.out_of_cure.unwrap_or(Timestamp::MAX), home) / 86_400
}

/// How long (s) a piece lay under 1 °C in its cure until then.
#[must_use]
pub fn cold_seconds(piece: &Piece, until: Timestamp, home: &Household) -> i64 {
    let Some(cure) = &piece.cure else { return 0 };
    let lay = Stretch {
        from: cure.since,
        to: until,
    };
    let cold = |c: &Celsius| WarmthBand::TooCold.holds(*c);
    let mut all = around(piece, home, WarmthBand::TooCold);
    let mut read: Vec<_> = piece.around.iter().collect();
    read.sort_by_key(|a| a.at);
    let mut before: Option<&Around> = None;
    for a in read {
        if cold(&a.warmth.value) {
            let long = SignedDuration::from_secs((a.hours * 3_600.0) as i64);
            all.push(Stretch {
                from: a.at.checked_sub(long).unwrap_or(Timestamp::MIN),
                to: a.at,
            });
            // Two looks that lie close were as cold between.
            if let Some(b) = before.filter(|b| cold(&b.warmth.value))
                && a.at.as_second() - b.at.as_second() <= GAP_S
            {
                all.push(Stretch {
                    from: b.at,
                    to: a.at,
                });
            }
        }
        before = Some(a);
    }
    // Two readings of the same night are one night.
    let all = merged(all).into_iter();
    all.filter_map(|s| s.within(lay))
        .map(Stretch::seconds)
        .sum()
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

pub(super) fn next_turn(piece: &Piece, days: u32, home: &Household) -> Option<When> {
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
            home.day(last).saturating_add((hours / 24).days()),
        ));
    }
    Some(When::Moment(
        last.saturating_add(hours.hours()).unwrap_or(last),
    ))
}

/// The days of the next fortnight on which it is to be turned, if it is turned whenever it is due.
pub(super) fn turn_days(
    piece: &Piece,
    home: &Household,
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
    let today = home.day(now);
    let first = match first {
        When::Day(day) => day,
        When::Moment(at) => home.day(at),
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
