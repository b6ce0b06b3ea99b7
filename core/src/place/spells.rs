//! How warm meat lay, from everything that says so: the logs of its places, readings of a place by hand, readings around it.
//!
//! Only what is over 7 °C; a colder stretch is of no concern here.

use super::climate::{SPOILS, Stretch, WarmthBand};
use crate::units::Celsius;
use jiff::{SignedDuration, Timestamp};

/// A time over which it was about as warm.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Spell {
    /// When.
    pub over: Stretch,
    /// How warm on the whole.
    pub mean: Celsius,
    /// How warm at the most.
    pub warmest: Celsius,
}

impl Spell {
    /// How long (h).
    #[must_use]
    pub fn hours(&self) -> f64 {
        self.over.seconds() as f64 / 3_600.0
    }

    fn cut(&self, over: Stretch) -> Self {
        Self { over, ..*self }
    }
}

/// An hour of a log in which it was over 7 °C.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct WarmHour {
    /// Hours since 1970.
    hour: i64,
    /// For how long (s).
    seconds: f32,
    /// Degrees times seconds.
    degree_seconds: f32,
    /// The warmest (°C).
    warmest: f32,
}

/// Adds what lay between two readings of one log to its hours, where it was warm at both.
pub(super) fn add_between(hours: &mut Vec<WarmHour>, (from, a): (i64, f64), (to, b): (i64, f64)) {
    let warm = |c: f64| WarmthBand::Spoiling.holds(Celsius(c));
    if to <= from || !warm(a) || !warm(b) {
        return;
    }
    let at = |s: i64| a + (b - a) * (s - from) as f64 / (to - from) as f64;
    let mut begin = from;
    while begin < to {
        let hour = begin.div_euclid(3_600);
        let end = ((hour + 1) * 3_600).min(to);
        let seconds = (end - begin) as f64;
        let mean = f64::midpoint(at(begin), at(end));
        let warmest = at(begin).max(at(end));
        match hours.last_mut().filter(|h| h.hour == hour) {
            Some(there) => {
                there.seconds += seconds as f32;
                there.degree_seconds += (mean * seconds) as f32;
                there.warmest = there.warmest.max(warmest as f32);
            }
            None => hours.push(WarmHour {
                hour,
                seconds: seconds as f32,
                degree_seconds: (mean * seconds) as f32,
                warmest: warmest as f32,
            }),
        }
        begin = end;
    }
}

/// The spells of a log within some time.
#[must_use]
pub fn of_log(hours: &[WarmHour], over: Stretch) -> Vec<Spell> {
    let first = hours.partition_point(|h| (h.hour + 1) * 3_600 <= over.from.as_second());
    let until = over.to.as_second();
    hours[first..]
        .iter()
        .take_while(|h| h.hour * 3_600 < until)
        .filter_map(|h| {
            let from = Timestamp::from_second(h.hour * 3_600).ok()?;
            let to = from
                .checked_add(SignedDuration::from_secs(h.seconds.round() as i64))
                .ok()?;
            Some(Spell {
                over: Stretch { from, to }.within(over)?,
                mean: Celsius(f64::from(h.degree_seconds / h.seconds)),
                warmest: Celsius(f64::from(h.warmest)),
            })
        })
        .collect()
}

/// In order of time and without overlaps: of two at one moment the warmer.
#[must_use]
pub fn merged(mut all: Vec<Spell>) -> Vec<Spell> {
    all.retain(|s| s.over.seconds() > 0);
    all.sort_by_key(|s| (s.over.from, s.over.to));
    if all.windows(2).all(|p| p[0].over.to <= p[1].over.from) {
        return all;
    }
    let mut edges: Vec<Timestamp> = all.iter().flat_map(|s| [s.over.from, s.over.to]).collect();
    edges.sort_unstable();
    edges.dedup();
    let mut next = 0;
    let mut open: Vec<Spell> = Vec::new();
    let mut found: Vec<Spell> = Vec::new();
    for pair in edges.windows(2) {
        let over = Stretch {
            from: pair[0],
            to: pair[1],
        };
        while let Some(spell) = all.get(next).filter(|s| s.over.from <= over.from) {
            open.push(*spell);
            next += 1;
        }
        open.retain(|s| s.over.to > over.from);
        let warmest = open.iter().max_by(|a, b| a.mean.0.total_cmp(&b.mean.0));
        found.extend(warmest.map(|s| s.cut(over)));
    }
    found
}

/// What is left of spells outside of a time.
#[must_use]
pub fn without(spells: Vec<Spell>, window: Stretch) -> Vec<Spell> {
    let mut left = Vec::with_capacity(spells.len());
    for spell in spells {
        if spell.over.within(window).is_none() {
            left.push(spell);
            continue;
        }
        if spell.over.from < window.from {
            left.push(spell.cut(Stretch {
                from: spell.over.from,
                to: window.from,
            }));
        }
        if spell.over.to > window.to {
            left.push(spell.cut(Stretch {
                from: window.to,
                to: spell.over.to,
            }));
        }
    }
    left
}

/// What is left of spells within a time.
#[must_use]
pub fn within(spells: &[Spell], window: Stretch) -> Vec<Spell> {
    let cut = |s: &Spell| Some(s.cut(s.over.within(window)?));
    spells.iter().filter_map(cut).collect()
}

/// Hours over a temperature in all.
#[must_use]
pub fn hours_over(spells: &[Spell], over: Celsius) -> f64 {
    let warm = spells.iter().filter(|s| s.mean.0 > over.0 + 5e-3);
    warm.map(Spell::hours).sum()
}

/// Colder air than this spoils meat only in stretches of some length (°C).
const SHORT_COUNTS_OVER: Celsius = Celsius(15.0);

/// So long a stretch counts whatever it is (h): a door that is opened does not warm meat.
const COUNTS_FROM_H: f64 = 2.0;

/// The spells that count against meat: everything over 15 °C, and what is colder in stretches of two hours and more.
#[must_use]
pub fn that_count(spells: &[Spell]) -> Vec<Spell> {
    let mut found = Vec::new();
    let mut stretch: Vec<Spell> = Vec::new();
    let close = |stretch: &mut Vec<Spell>, found: &mut Vec<Spell>| {
        let long: f64 = stretch.iter().map(Spell::hours).sum();
        let counts = |s: &Spell| long >= COUNTS_FROM_H - 1e-9 || s.mean > SHORT_COUNTS_OVER;
        found.extend(stretch.drain(..).filter(counts));
    };
    for spell in spells.iter().filter(|s| s.mean > SPOILS) {
        let goes_on = stretch.last().is_some_and(|l| l.over.to >= spell.over.from);
        if !goes_on {
            close(&mut stretch, &mut found);
        }
        stretch.push(*spell);
    }
    close(&mut stretch, &mut found);
    found
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(hour: f64) -> Timestamp {
        Timestamp::from_second(1_795_000_000 / 3_600 * 3_600 + (hour * 3_600.0) as i64).unwrap()
    }

    fn spell(from: f64, to: f64, c: f64) -> Spell {
        Spell {
            over: Stretch {
                from: at(from),
                to: at(to),
            },
            mean: Celsius(c),
            warmest: Celsius(c),
        }
    }

    #[test]
    fn of_two_that_overlap_the_warmer_counts_and_nothing_counts_twice() {
        let got = merged(vec![
            spell(0.0, 10.0, 9.0),
            spell(4.0, 6.0, 20.0),
            spell(12.0, 13.0, 8.0),
        ]);
        let hours = |c: f64| hours_over(&got, Celsius(c));
        assert!((hours(7.0) - 11.0).abs() < 1e-9 && (hours(15.0) - 2.0).abs() < 1e-9);
        let left = without(
            got,
            Stretch {
                from: at(5.0),
                to: at(12.5),
            },
        );
        assert!((hours_over(&left, Celsius(7.0)) - 5.5).abs() < 1e-9);
    }

    #[test]
    fn cool_air_counts_in_stretches_and_warm_air_always() {
        #[rustfmt::skip]
        let cases = [
            ("an open door",                  vec![spell(0.0, 0.5, 12.0)], 0.0),
            ("ten of them",                   (0..10).map(|i| spell(f64::from(i), f64::from(i) + 0.4, 12.0)).collect(), 0.0),
            ("two hours on end",              vec![spell(0.0, 1.0, 9.0), spell(1.0, 2.0, 10.0)], 2.0),
            ("half an hour in the sun",       vec![spell(0.0, 0.5, 25.0)], 0.5),
            ("cool around a warm half hour",  vec![spell(0.0, 0.5, 9.0), spell(0.5, 1.0, 25.0)], 0.5),
        ];
        for (why, spells, want) in cases {
            let got = hours_over(&that_count(&spells), Celsius(7.0));
            assert!((got - want).abs() < 1e-9, "{why}: {got}");
        }
    }

    #[test]
    fn a_log_is_kept_by_the_hour() {
        let mut hours = Vec::new();
        let s = |hour: f64| at(hour).as_second();
        add_between(&mut hours, (s(0.5), 10.0), (s(3.5), 16.0));
        add_between(&mut hours, (s(3.5), 16.0), (s(4.0), 6.0));
        let all = of_log(
            &hours,
            Stretch {
                from: at(0.0),
                to: at(9.0),
            },
        );
        assert_eq!(all.len(), 4);
        assert!((hours_over(&all, Celsius(7.0)) - 3.0).abs() < 1e-3);
        assert!((all[1].mean.0 - 12.0).abs() < 1e-3);
        let some = of_log(
            &hours,
            Stretch {
                from: at(1.0),
                to: at(2.0),
            },
        );
        assert_eq!(some.len(), 1);
    }
}
