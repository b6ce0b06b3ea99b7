//! How long a dosed piece lies in its cure: the days of its rule, those too cold to count, and those that a check added.

use crate::catalogue::Catalogue;
use crate::catalogue::builds::Tool;
use crate::catalogue::steps::StepKind;
use crate::cure::days::{Lying, counted_thickness, days};
use crate::cure::{methods, no_nitrite};
use crate::dose::{Closed, Dose};
use crate::house::House;
use crate::house::around::around;
use crate::piece::{Around, Checked, Piece};
use crate::place::climate::{GAP_S, Stretch, WarmthBand, merged};
use crate::units::{Celsius, Grams};
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
pub fn cure_span(piece: &Piece, home: &House, catalogue: &Catalogue) -> Option<CureSpan> {
    let cure = piece.cure.as_ref()?;
    let time = cure.time();
    let lying = Lying {
        build: piece.build()?,
        thickness: counted_thickness(piece.build()?, time.thickness(piece.shape.thickness()))?,
        mass: Grams(piece.green.grams()),
        shape: &piece.shape,
        pumped: cure.is_pumped(),
        time,
    };
    let school = cure.dose.as_ref().and_then(|d| d.school.as_ref());
    let plan = days(&lying, school, &catalogue.schools, home.settings.units).ok()?;
    let minutes = plan.hours.map(|h| (h * 60.0).round() as i64);
    let out_at = minutes.map(|m| cure.since.saturating_add(m.minutes()).unwrap_or(cure.since));
    let more = more_days(piece, home);
    let out_on = |first: Date| {
        let usual = first.saturating_add((i64::from(plan.days) + cold_days(piece, home)).days());
        more.map_or(usual, |day| usual.max(day))
    };
    let first = home.settings.first_counted_day(cure.since);
    let out_on = out_at.map_or_else(|| out_on(first), |at| home.settings.day(at));
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
#[must_use]
pub fn slack(piece: &Piece) -> i64 {
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
    let usual = build.tools.contains(&Tool::Vacuum) && !piece.dose().is_some_and(Dose::in_brine);
    let sealed = closed_as(piece).map_or(usual, Closed::is_sealed);
    own.unwrap_or(if sealed { SEALED_DAYS } else { OPEN_DAYS })
}

/// How what it lies in is closed, where that was said.
pub(crate) fn closed_as(piece: &Piece) -> Option<Closed> {
    piece.dose()?.vessel.as_ref()?.closed
}

/// Two more days from the day on which it was found soft, or bland in its middle.
const MORE_DAYS: i64 = 2;

/// What says that the cure has not reached the middle: a check and its grade.
pub(crate) const UNREADY: [(&str, &str); 3] = [
    ("firmness", "soft"),
    ("slice_middle", "bland"),
    ("core_colour", "pale_core"),
];

/// The day before which a piece that was found unready does not come out. What the same check finds later rules.
pub(crate) fn more_days(piece: &Piece, home: &House) -> Option<Date> {
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
    Some(home.settings.day(last).saturating_add(MORE_DAYS.days()))
}

/// Whole days that a piece lay so cold that they do not count, by what was read of it and by the log of its place: the hours of
/// all frosts together.
fn cold_days(piece: &Piece, home: &House) -> i64 {
    cold_seconds(piece, piece.out_of_cure.unwrap_or(Timestamp::MAX), home) / 86_400
}

/// How long (s) a piece lay under 1 °C in its cure until then.
#[must_use]
pub fn cold_seconds(piece: &Piece, until: Timestamp, home: &House) -> i64 {
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
        if cold(&a.temperature.value) {
            let long = SignedDuration::from_secs((a.hours * 3_600.0) as i64);
            all.push(Stretch {
                from: a.at.checked_sub(long).unwrap_or(Timestamp::MIN),
                to: a.at,
            });
            // Two looks that lie close were as cold between.
            if let Some(b) = before.filter(|b| cold(&b.temperature.value))
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

/// Hours of a piece in its salt box; none for any other cure, or without a thickness.
#[must_use]
pub fn box_hours(piece: &Piece) -> Option<f64> {
    let dose = piece.dose().filter(|d| d.method.is_buried())?;
    if let Some(hours) = dose.time.hours {
        return Some(hours);
    }
    let recipe = piece.build()?.dose.as_ref()?;
    let thickness = dose.time.thickness(piece.shape.thickness())?;
    Some(methods::box_hours(
        recipe,
        thickness,
        Grams(piece.green.grams()),
    ))
}
