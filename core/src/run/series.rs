//! What the readings of a run say: which of them are of the meat, how warm a zone was, what a piece without a probe may be at.

use super::{ProbeLocation, ProbeNo, ProbeReadings, ProbeSpan, Run, minutes};
use crate::ids::PieceId;
use crate::place::climate::Read;
use crate::units::Celsius;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// What is wrong with what a probe says.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum ProbeFaultKind {
    /// It does not sit in the meat any more.
    OutOfMeat,
    /// One or two readings that jumped.
    Jump,
    /// It says degrees Fahrenheit all of a sudden.
    Fahrenheit,
    /// It says nothing any more.
    Silent,
    /// It reads warmer than its chamber ever was.
    OverChamber,
    /// It warms faster than meat of this thickness can.
    TooFast,
    /// It does not move.
    Stuck,
    /// It was far off in ice or boiling water.
    Wrong,
    /// It was typed without its unit, and may be in the other one.
    UnitUnclear,
}

impl ProbeFaultKind {
    /// True for readings that no meat of this thickness can have in its chamber: they prove nothing.
    #[must_use]
    pub const fn cannot_be(self) -> bool {
        match self {
            Self::OverChamber | Self::TooFast | Self::Stuck | Self::Wrong | Self::UnitUnclear => {
                true
            }
            Self::OutOfMeat | Self::Jump | Self::Fahrenheit | Self::Silent => false,
        }
    }

    /// As it is said.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::OutOfMeat => "does not read like meat any more (out of it, or a broken cable)",
            Self::Jump => "jumped, and came back",
            Self::Fahrenheit => "reads like degrees Fahrenheit all of a sudden",
            Self::Silent => "says nothing any more: out of reach, or its battery is flat",
            Self::OverChamber => "reads warmer than its chamber",
            Self::TooFast => "reads faster than meat of this thickness can warm",
            Self::Stuck => "did not move",
            Self::UnitUnclear => "may be in another unit",
            Self::Wrong => "was far off in ice water or boiling water",
        }
    }
}

/// A stretch in which what a probe said does not count.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct ProbeFault {
    /// The probe.
    pub probe: ProbeNo,
    /// What is wrong.
    pub kind: ProbeFaultKind,
    /// Since when.
    pub from: Timestamp,
    /// Until when; none while it goes on.
    pub until: Option<Timestamp>,
    /// What it said first.
    pub saw: Celsius,
}

/// The readings of one seat that are of the meat, and what was wrong with the others.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Sounded {
    /// What counts, in order of time.
    pub reads: Vec<Read>,
    /// What does not.
    pub faults: Vec<ProbeFault>,
    /// Checks by hand that cannot be, by their lines.
    pub doubted: Vec<(i64, ProbeFaultKind)>,
}

/// From one reading to the next meat changes by no more than this (°C) …
const STEP_C: f64 = 4.0;
/// … and this much more a minute between them (°C).
const STEP_C_PER_MIN: f64 = 2.0;
/// Back in the meat it is no further from where it was than this (°C).
const BACK_C: f64 = 4.0;
/// And so much more for each minute that went by (°C) …
const BACK_C_PER_MIN: f64 = 0.5;
/// … but never more than this (°C).
const BACK_MOST_C: f64 = 12.0;
/// What holds water does not get hotter than it boils, and a little for the probe (°C).
pub(crate) const HOTTEST_MEAT_C: f64 = 103.0;
/// A probe that was just put in settles so long (min).
pub(crate) const SETTLES_MIN: f64 = 4.0;
/// So near its value in Fahrenheit it is that (°C).
const FAHRENHEIT_C: f64 = 4.0;
/// So many readings on end are a jump, and more are not.
const JUMP: usize = 2;
/// A probe that says nothing for so long is silent (min) …
const SILENT_MIN: f64 = 5.0;
/// … or for so many of its usual gaps.
const SILENT_GAPS: f64 = 4.0;

/// Under which circumstances a probe was put into a piece.
#[derive(Clone, Copy, Debug)]
pub struct Beginning<'a> {
    /// When.
    pub seated: Timestamp,
    /// What was last known of the inside of the piece.
    pub known: Option<Read>,
    /// What was measured in the air around it.
    pub air: &'a [Read],
}

/// Colder than this no reading is taken for hot air (°C).
const NO_HOT_AIR_C: f64 = 45.0;
/// Nearer to the air around it than this a first reading is of the air (°C).
const LIKE_AIR_C: f64 = 6.0;
/// Air that was measured longer ago says nothing (min).
const AIR_FRESH_MIN: f64 = 30.0;

impl Beginning<'_> {
    /// True for a first reading that may be of the meat: people say that a probe is set, and walk to the smoker with it.
    fn may_be_meat(&self, read: &Read) -> bool {
        let c = read.temperature.0;
        let too_warm = |rate: f64| {
            self.known.is_some_and(|k| {
                c - k.temperature.0 > STEP_C + rate * minutes(k.at, read.at).max(0.0)
            })
        };
        if c <= NO_HOT_AIR_C {
            return true;
        }
        let before = self.air.partition_point(|a| a.at <= read.at);
        let air = self.air.get(before.wrapping_sub(1));
        let air = air.filter(|a| minutes(a.at, read.at) <= AIR_FRESH_MIN);
        let like_air = air.is_some_and(|a| c >= a.temperature.0 - LIKE_AIR_C);
        let unlike_meat = self.known.is_none() || too_warm(BACK_C_PER_MIN);
        !(too_warm(STEP_C_PER_MIN) || (like_air && unlike_meat))
    }
}

/// Tells the readings of meat from the others. What is out stays out until it reads like the meat again: a probe that hangs in
/// the chamber must never say that a piece is done.
#[must_use]
pub fn sound(probe: ProbeNo, raw: &[Read], beginning: Beginning<'_>) -> Sounded {
    let mut sounded = Sounded::default();
    let mut out: Vec<Read> = Vec::new();
    let seated = beginning.seated;
    for read in raw {
        if !read.temperature.0.is_finite() {
            continue;
        }
        let moist = read.temperature.0 <= HOTTEST_MEAT_C;
        let Some(last) = sounded.reads.last().copied() else {
            if moist && beginning.may_be_meat(read) {
                out.clear();
                sounded.reads.push(*read);
            } else {
                out.push(*read);
            }
            continue;
        };
        let gap = minutes(last.at, read.at);
        if gap <= 0.0 {
            continue;
        }
        let change = (read.temperature.0 - last.temperature.0).abs();
        let fits = if out.is_empty() {
            change <= STEP_C + STEP_C_PER_MIN * gap
        } else {
            change <= (BACK_C + BACK_C_PER_MIN * gap).min(BACK_MOST_C)
        };
        if fits && moist {
            sounded.close(probe, &mut out, Some(read.at));
            sounded.reads.push(*read);
        } else if minutes(seated, read.at) <= SETTLES_MIN && beginning.may_be_meat(read) {
            // It was in the air of the kitchen until now.
            sounded.reads.clear();
            out.clear();
            sounded.reads.push(*read);
        } else {
            out.push(*read);
        }
    }
    sounded.close(probe, &mut out, None);
    sounded
}

impl Sounded {
    fn close(&mut self, probe: ProbeNo, out: &mut Vec<Read>, until: Option<Timestamp>) {
        let Some(first) = out.first() else {
            return;
        };
        let in_f = self
            .reads
            .last()
            .map(|last| last.temperature.0 * 1.8 + 32.0);
        let kind = if in_f.is_some_and(|f| (first.temperature.0 - f).abs() <= FAHRENHEIT_C) {
            ProbeFaultKind::Fahrenheit
        } else if out.len() <= JUMP && until.is_some() {
            ProbeFaultKind::Jump
        } else {
            ProbeFaultKind::OutOfMeat
        };
        // One odd reading that is the newest may still turn out to be a jump.
        if until.is_some() || out.len() > 1 {
            self.faults.push(ProbeFault {
                probe,
                kind,
                from: first.at,
                until,
                saw: first.temperature,
            });
        }
        out.clear();
    }
}

/// Readings of a probe while it sat somewhere, put right by its offset.
pub(crate) fn of_seat(
    run: &Run,
    readings: &ProbeReadings,
    probe: ProbeNo,
    seat: &ProbeSpan,
) -> Vec<Read> {
    let all = readings.of(probe);
    let from = all.partition_point(|r| r.at < seat.from);
    let to = seat
        .until
        .map_or(all.len(), |until| all.partition_point(|r| r.at < until));
    let offset = run.offsets.get(&probe).copied().unwrap_or(0.0);
    all.get(from..to.max(from))
        .unwrap_or_default()
        .iter()
        .map(|r| Read {
            at: r.at,
            temperature: Celsius(r.temperature.0 + offset),
        })
        .collect()
}

/// What was measured in the air of a zone, in order of time.
#[must_use]
pub fn of_zone(run: &Run, readings: &ProbeReadings, zone: &str) -> Vec<Read> {
    let mut all: Vec<Read> = Vec::new();
    for (no, seats) in &run.probes {
        let here = |s: &&ProbeSpan| matches!(&s.seat, ProbeLocation::Chamber(z) if z == zone);
        for seat in seats.iter().filter(here) {
            all.extend(of_seat(run, readings, *no, seat));
        }
    }
    let by_hand = run.chamber.iter().filter(|(z, _)| z == zone);
    all.extend(by_hand.map(|(_, r)| *r));
    all.retain(|r| r.temperature.0.is_finite());
    all.sort_by_key(|r| r.at);
    all.dedup_by_key(|r| r.at);
    all
}

/// A probe that has nothing new to say for longer than it usually takes.
#[must_use]
pub fn silent(
    run: &Run,
    readings: &ProbeReadings,
    probe: ProbeNo,
    now: Timestamp,
) -> Option<ProbeFault> {
    let seat = run
        .probes
        .get(&probe)?
        .last()
        .filter(|s| s.until.is_none())?;
    if seat.seat == ProbeLocation::Out {
        return None;
    }
    let all = readings.of(probe);
    let last = *all.last()?;
    let recent = &all[all.len().saturating_sub(6)..];
    let mut gaps: Vec<f64> = recent
        .windows(2)
        .map(|p| minutes(p[0].at, p[1].at))
        .collect();
    gaps.sort_by(f64::total_cmp);
    // One reading alone has no habit yet.
    let usual = *gaps.get(gaps.len() / 2)?;
    let since = minutes(last.at, now);
    (since > SILENT_MIN.max(SILENT_GAPS * usual)).then_some(ProbeFault {
        probe,
        kind: ProbeFaultKind::Silent,
        from: last.at,
        until: None,
        saw: last.temperature,
    })
}

/// A neighbour of like thickness is within this share of it.
pub const LIKE: f64 = 0.20;
/// The span of the neighbours is widened by this to either side (°C).
pub const RANGE_C: f64 = 2.0;

/// In what a piece without a probe may be, by its neighbours: their thickness, what they are at. None where nothing is known.
///
/// # Source
/// Pieces of the same zone within 20 % of its thickness; their span ±2 °C.
#[must_use]
pub fn range(
    thickness: Option<f64>,
    neighbours: &[(Option<f64>, Celsius)],
) -> Option<(Celsius, Celsius)> {
    let own = thickness?;
    let like = |t: &Option<f64>| t.is_some_and(|t| (t - own).abs() <= LIKE * own + 1e-9);
    let near = || neighbours.iter().filter(|(t, _)| like(t)).map(|(_, c)| c.0);
    let (low, high) = (near().reduce(f64::min)?, near().reduce(f64::max)?);
    Some((Celsius(low - RANGE_C), Celsius(high + RANGE_C)))
}

/// The inside that a piece may be said to have come to: what its probe said at most, put right by the latest check in several
/// places, whose coldest decides.
#[must_use]
pub fn inside_to_record(
    run: &Run,
    reads: &[Read],
    piece: PieceId,
    doubted: &[(i64, ProbeFaultKind)],
) -> Option<Read> {
    let highest = |from: Option<Timestamp>| {
        let after = reads.iter().filter(|r| from.is_none_or(|f| r.at > f));
        after
            .copied()
            .max_by(|a, b| a.temperature.0.total_cmp(&b.temperature.0))
    };
    let counts = |no: i64| !doubted.iter().any(|(n, _)| *n == no);
    let mine = || {
        run.spots
            .iter()
            .filter(|s| s.piece == piece && counts(s.no))
    };
    let Some(check) = mine().max_by_key(|s| (s.at, s.no)) else {
        return highest(None);
    };
    let coldest = check.coldest()?;
    let before = reads.iter().rev().find(|r| r.at <= check.at);
    let too_high = before.map_or(0.0, |r| (r.temperature.0 - coldest.0).max(0.0));
    let later = highest(Some(check.at)).map(|r| Read {
        at: r.at,
        temperature: Celsius(r.temperature.0 - too_high),
    });
    let checked = Read {
        at: check.at,
        temperature: coldest,
    };
    match later {
        Some(later) if later.temperature.0 > coldest.0 => Some(later),
        Some(_) | None => Some(checked),
    }
}
