//! Sausage that sours before it dries: how long it has by time and by warmth together, and whether it was sour in time.

use crate::catalogue::steps::CheckValue;
use crate::cure::souring::sours;
use crate::house::House;
use crate::house::around::spells;
use crate::ids::EntryId;
use crate::piece::Piece;
use crate::place::climate::Stretch;
use crate::place::spells::{Spell, within};
use crate::units::Celsius;
use jiff::{SignedDuration, Timestamp};

/// A dry sausage is sour enough at this.
pub const SOUR_PH: f64 = 5.3;

/// It has so long at the most from when it first stood over 15.5 °C (h).
pub const SOUR_BY_H: f64 = 72.0;

/// Colder than this staphylococcus does not make its toxin (60 °F).
pub const WARM_C: Celsius = Celsius(15.5);

/// So many degree-hours over 15.5 °C are all it has; fewer where it passed so many degrees (°C, °C h).
///
/// # Source
/// The degree-hours of the trade's guidance on fermented sausage: 1,200, 1,000 and 900 °F h over 60 °F.
const DEGREE_HOURS: [(Celsius, f64); 3] = [
    (Celsius(38.0), 500.0),
    (Celsius(32.0), 555.0),
    (Celsius(f64::NEG_INFINITY), 667.0),
];

/// A second look this much later confirms the first (h).
const CONFIRMED_AFTER_H: f64 = 6.0;

/// Readings this close together are one look: several links (h).
const ONE_LOOK_H: f64 = 0.5;

/// No ferment sours it further …
pub const LEAST_PH: f64 = 4.2;

/// … or sooner than this (h).
pub const SOONEST_H: f64 = 6.0;

/// One look at several links: the highest counts.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Look {
    /// When.
    pub at: Timestamp,
    /// The highest pH.
    pub ph: f64,
    /// By which entry.
    pub entry: EntryId,
    /// True where no ferment makes that: it proves nothing.
    pub odd: bool,
}

/// The souring of a piece.
#[derive(Clone, Debug, PartialEq)]
pub struct Souring {
    /// Since when it was warm; since it was filled, where nobody read how warm it was.
    pub from: Timestamp,
    /// When its time is over: by hours or by degree-hours.
    pub end: Timestamp,
    /// True where warmth, and not the hours, ends it.
    pub by_warmth: bool,
    /// True where something says that it was over 15.5 °C.
    pub was_warm: bool,
    /// True where something says how warm it was, and that it was never over it.
    pub was_cold: bool,
    /// Its looks, in order.
    pub looks: Vec<Look>,
    /// The first look in time that found it sour.
    pub sour: Option<Look>,
    /// True where a later look agreed.
    pub confirmed: bool,
    /// A look at its end, or after it, that found it not sour.
    pub too_high: Option<Look>,
}

/// Every pH of a look as it was typed: several links in one, e.g. `5.2 5.3 5.1`.
#[must_use]
pub fn ph_values(typed: &str) -> Vec<f64> {
    typed
        .split(|c: char| c.is_whitespace() || matches!(c, ';' | '/'))
        .filter(|w| !w.is_empty())
        .filter_map(|w| w.trim_end_matches(',').replace(',', ".").parse().ok())
        .collect()
}

/// Every pH that was read, the highest of one entry, with when and by which entry.
pub fn ph_of(piece: &Piece) -> impl Iterator<Item = (Timestamp, f64, EntryId)> {
    let word = crate::ids::word(&CheckValue::Ph);
    piece
        .checks
        .iter()
        .filter(move |c| c.check == word)
        .filter_map(|c| {
            let all = ph_values(c.value.as_deref()?);
            let highest = all.into_iter().reduce(f64::max)?;
            Some((c.at, highest, c.entry))
        })
}

fn later(at: Timestamp, hours: f64) -> Timestamp {
    let by = SignedDuration::from_secs_f64(hours * 3_600.0);
    at.saturating_add(by).unwrap_or(Timestamp::MAX)
}

fn hours_between(from: Timestamp, to: Timestamp) -> f64 {
    to.duration_since(from).as_secs_f64() / 3_600.0
}

/// How a piece soured; none for what does not, or has no cure yet.
#[must_use]
pub fn souring(piece: &Piece, home: &House) -> Option<Souring> {
    piece.build().filter(|b| sours(b))?;
    let filled = piece.cure.as_ref()?.since;
    let spells = within(
        &spells(piece, home),
        Stretch {
            from: filled,
            to: Timestamp::MAX,
        },
    );
    let warm: Vec<Spell> = spells
        .into_iter()
        .filter(|s| s.warmest.0 > WARM_C.0 + 5e-3)
        .collect();
    let was_warm = !warm.is_empty();
    let logged = piece
        .stays
        .iter()
        .filter(|s| s.until.is_none_or(|u| u > filled))
        .any(|s| home.climate.place(s.place).is_some());
    let read = logged || piece.around.iter().any(|a| a.at >= filled);
    let from = warm.first().map_or(filled, |s| s.over.from);
    let by_hours = later(from, SOUR_BY_H);
    let used_up = used_up(&warm);
    let end = used_up.map_or(by_hours, |u| u.min(by_hours));
    let looks = looks(piece, from);
    // What comes after its time, or after it began to dry, is information.
    let dries = piece.hanging.as_ref().map_or(Timestamp::MAX, |h| h.since);
    let until = dries.max(later(end, CONFIRMED_AFTER_H * 2.0));
    let is_sour = |l: &&Look| !l.odd && l.ph <= SOUR_PH + 1e-9;
    let sour = looks.iter().filter(is_sour).find(|l| l.at <= end).copied();
    let confirmed = sour.is_some_and(|first| {
        let again = later(first.at, CONFIRMED_AFTER_H);
        let mut after = looks.iter().filter(|l| l.at >= again && l.at <= until);
        after
            .next()
            .is_some_and(|l| !l.odd && l.ph <= SOUR_PH + 1e-9)
    });
    let too_high = looks
        .iter()
        .filter(|l| !confirmed && l.at >= end && l.at <= until)
        .find(|l| l.ph > SOUR_PH + 1e-9)
        .copied();
    Some(Souring {
        from,
        end,
        by_warmth: end < by_hours,
        was_warm,
        was_cold: read && !was_warm,
        looks,
        sour,
        confirmed,
        too_high,
    })
}

/// When the degree-hours over 15.5 °C were used up.
fn used_up(warm: &[Spell]) -> Option<Timestamp> {
    let mut used = 0.0;
    let mut warmest = f64::NEG_INFINITY;
    for spell in warm {
        warmest = warmest.max(spell.warmest.0);
        let (_, most) = DEGREE_HOURS
            .into_iter()
            .find(|(over, _)| warmest > over.0)?;
        let rate = (spell.mean.0 - WARM_C.0).max(0.0);
        let more = rate * spell.hours();
        if rate > 0.0 && used + more >= most {
            let left = (most - used).max(0.0) / rate;
            return Some(later(spell.over.from, left));
        }
        used += more;
    }
    None
}

fn looks(piece: &Piece, from: Timestamp) -> Vec<Look> {
    let mut read: Vec<_> = ph_of(piece).collect();
    read.sort_by_key(|(at, ..)| *at);
    let mut found: Vec<Look> = Vec::new();
    for (at, ph, entry) in read {
        match found.last_mut() {
            Some(last) if hours_between(last.at, at) <= ONE_LOOK_H => {
                if ph > last.ph {
                    last.ph = ph;
                    last.entry = entry;
                }
                last.odd |= is_odd(ph, from, at);
            }
            Some(_) | None => found.push(Look {
                at,
                ph,
                entry,
                odd: is_odd(ph, from, at),
            }),
        }
    }
    found
}

/// True for a pH that no ferment makes by then.
#[must_use]
pub fn is_odd(ph: f64, from: Timestamp, at: Timestamp) -> bool {
    ph < LEAST_PH - 1e-9 || (ph <= SOUR_PH + 1e-9 && hours_between(from, at) < SOONEST_H - 1e-9)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::house::House;
    use crate::ids::PieceId;
    use crate::piece::{Around, Checked, Hanging, InCure, StopBy};
    use crate::testing::build;
    use crate::units::{Fraction, Milligrams, Typed};
    use std::sync::Arc;

    fn at(hour: f64) -> Timestamp {
        later("2026-11-01T08:00:00Z".parse().unwrap(), hour)
    }

    /// A dry sausage filled at hour 0: warm for (from, to, °C), looked at, hung at an hour.
    fn sausage(warm: &[(f64, f64, f64)], looks: &[(f64, &str)], hung: Option<f64>) -> Piece {
        let mut piece = Piece::green(
            PieceId(1),
            "HG1-1",
            Milligrams::from_grams(3_000.0),
            (EntryId(1), at(0.0)),
        );
        piece.product = Some(Arc::new(build("salami-knife").unwrap().clone()));
        piece.cure = Some(InCure {
            entry: EntryId(2),
            since: at(0.0),
            meat: Milligrams::from_grams(3_000.0),
            dose: None,
            injected: Milligrams::ZERO,
            topped: Vec::new(),
        });
        piece.around = warm
            .iter()
            .map(|(from, to, c)| Around {
                entry: EntryId(3),
                at: at(*to),
                temperature: Typed::unsaid(Celsius(*c)),
                hours: to - from,
                drying: false,
            })
            .collect();
        piece.checks = looks
            .iter()
            .map(|(hour, value)| Checked {
                entry: EntryId(4),
                pack: None,
                at: at(*hour),
                check: "ph".into(),
                grade: None,
                value: Some((*value).into()),
            })
            .collect();
        piece.hanging = hung.map(|hour| Hanging {
            entry: EntryId(5),
            since: at(hour),
            since_known: true,
            gross_start: Milligrams::from_grams(3_050.0),
            tare: Milligrams::from_grams(50.0),
            loss: Fraction(0.35),
            until: None,
            lost: None,
            reason: None,
            parts: Vec::new(),
            stripped: None,
            dry: Milligrams::from_grams(50.0),
            stop: StopBy::Weight,
            hook: None,
        });
        piece
    }

    #[test]
    #[rustfmt::skip]
    fn a_sausage_is_sour_by_hours_and_by_warmth_and_a_second_look_says_so() {
        #[derive(Debug, PartialEq)]
        enum Is { Sour, Once, Not, TooHigh }
        use Is::{Not, Once, Sour, TooHigh};
        type Row<'a> = (&'a str, &'a [(f64, f64, f64)], &'a [(f64, &'a str)], Option<f64>, Is, f64);
        let room = &[(0.0, 48.0, 22.0)][..];
        let rows: &[Row<'_>] = &[
            // why                                  warm                     looks                                   hung        is       ends at h
            ("22 °C, read twice",                   room,                    &[(40.0, "5.2"), (47.0, "5.1")],        Some(48.0), Sour,    72.0),
            ("the same in one look of several",     room,                    &[(40.0, "5.2 5.3 5.1"), (47.0, "5.1")], Some(48.0), Sour,   72.0),
            ("one link is not sour yet",            room,                    &[(40.0, "5.2 5.4"), (47.0, "5.2 5.5")], Some(48.0), Not,    72.0),
            ("read once",                           room,                    &[(40.0, "5.2")],                       Some(48.0), Once,    72.0),
            ("twice within an hour",                room,                    &[(40.0, "5.2"), (41.0, "5.2")],        Some(48.0), Once,    72.0),
            ("a second look that disagrees",        room,                    &[(40.0, "5.2"), (48.0, "5.6")],        Some(49.0), Once,    72.0),
            ("never read",                          room,                    &[],                                    Some(48.0), Not,     72.0),
            ("at 72 h still 5.6",                   room,                    &[(40.0, "5.8"), (72.0, "5.6")],        None,       TooHigh, 72.0),
            ("sour, but after its time",            room,                    &[(80.0, "5.2"), (88.0, "5.1")],        None,       Not,     72.0),
            ("30 °C uses it up at 46 h",            &[(0.0, 60.0, 30.0)],    &[(40.0, "5.2"), (46.5, "5.1")],        Some(48.0), Sour,    46.0),
            ("sour at 50 h of 30 °C is too late",   &[(0.0, 60.0, 30.0)],    &[(50.0, "5.2"), (57.0, "5.1")],        Some(58.0), Not,     46.0),
            ("and 5.5 then is the end",             &[(0.0, 60.0, 30.0)],    &[(50.0, "5.5")],                       None,       TooHigh, 46.0),
            ("35 °C has 555",                       &[(0.0, 40.0, 35.0)],    &[(20.0, "5.2"), (27.0, "5.1")],        None,       Sour,    28.46),
            ("40 °C has 500",                       &[(0.0, 40.0, 40.0)],    &[(19.0, "5.2"), (26.0, "5.1")],        None,       Sour,    20.41),
            ("the clock begins when it is warm",    &[(48.0, 96.0, 22.0)],   &[(90.0, "5.2"), (97.0, "5.2")],        None,       Sour,    120.0),
            ("4.0 is no ferment",                   room,                    &[(40.0, "4.0"), (47.0, "4.1")],        Some(48.0), Not,     72.0),
            ("sour after two hours is none either", room,                    &[(2.0, "5.1"), (4.0, "5.0")],          Some(48.0), Not,     72.0),
            ("nobody read how warm it was",         &[],                     &[(40.0, "5.2"), (47.0, "5.1")],        Some(48.0), Sour,    72.0),
            ("it soured on its hook",               &[(10.0, 58.0, 22.0)],   &[(50.0, "5.2"), (57.0, "5.1")],        Some(9.0),  Sour,    82.0),
            ("it rises weeks later",                room,                    &[(40.0, "5.2"), (47.0, "5.1"), (900.0, "5.9")], Some(48.0), Sour, 72.0),
        ];
        let home = House::default();
        for (why, warm, looks, hung, want, ends) in rows {
            let time = souring(&sausage(warm, looks, *hung), &home).unwrap();
            let got = match &time {
                t if t.too_high.is_some() => TooHigh,
                t if t.confirmed => Sour,
                t if t.sour.is_some() => Once,
                _ => Not,
            };
            assert_eq!(got, *want, "{why}: {time:?}");
            let end = hours_between(at(0.0), time.end);
            assert!((end - ends).abs() < 0.02, "{why}: ends at {end}");
        }
        assert_eq!(souring(&sausage(&[(0.0, 300.0, 9.0)], &[], None), &home).map(|t| t.was_cold), Some(true));
    }
}
