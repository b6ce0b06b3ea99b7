//! A drying chamber that does not exist: it swings with its compressor, its door is opened twice a day, every ninth day its
//! water is empty, every eleventh it is too warm for an afternoon, and its thermometer fails in its own ways.

use crate::made_up::{PlaceDevice, stuttered};
use crate::protocol::{Said, line_of};
use jiff::Timestamp;
use manifest_core::units::{Celsius, Fraction};
use std::fmt::Write as _;

/// It measures this often (s).
pub const EVERY_S: i64 = 600;
const DAY_S: i64 = 86_400;
/// The compressor comes round once in so long (s).
const COMPRESSOR_S: f64 = 2_700.0;
/// The door is opened at these hours of the day (UTC).
const DOOR_H: [f64; 2] = [8.2, 19.4];
/// After a door it takes so long to come back by two thirds (s).
const DOOR_SETTLES_S: f64 = 900.0;
/// Of so many days one has no water in the tray; which of them.
const DRY_DAY: (i64, i64) = (9, 4);
/// Of so many days one has a warm afternoon; which of them, and its hours (s of the day).
const WARM_DAY: (i64, i64) = (11, 6);
const WARM_S: (i64, i64) = (12 * 3_600, 17 * 3_600);
/// Of so many days one has a night of silence; which of them, and its hours.
const SILENT_DAY: (i64, i64) = (5, 2);
const SILENT_S: (i64, i64) = (3_600, 3 * 3_600);
/// Every so many lines one is garbled, one comes twice, one jumps.
const GARBLED_EVERY: i64 = 41;
const TWICE_EVERY: i64 = 29;
const JUMPS_EVERY: i64 = 503;

fn is_day((of, which): (i64, i64), day: i64) -> bool {
    day.rem_euclid(of) == which
}

/// How warm and how damp the chamber is.
#[must_use]
pub fn air(at: Timestamp) -> (Celsius, Fraction) {
    let second = at.as_second();
    let (day, of_day) = (second.div_euclid(DAY_S), second.rem_euclid(DAY_S));
    let swing = (second as f64 / COMPRESSOR_S * std::f64::consts::TAU).sin();
    let door: f64 = DOOR_H
        .iter()
        .map(|hour| {
            let since = of_day as f64 - hour * 3_600.0;
            if since < 0.0 {
                0.0
            } else {
                (-since / DOOR_SETTLES_S).exp()
            }
        })
        .sum();
    let warm = if is_day(WARM_DAY, day) {
        let on = (of_day.min(WARM_S.1) - WARM_S.0).max(0) as f64;
        let off = (of_day - WARM_S.1).max(0) as f64;
        8.0 * (1.0 - (-on / 5_400.0).exp()) * (-off / 5_400.0).exp()
    } else {
        0.0
    };
    let dry = if is_day(DRY_DAY, day) { 0.20 } else { 0.0 };
    let temperature = 12.4 + 0.5 * swing + 3.2 * door + warm;
    let damp = 0.765 - 0.02 * swing - 0.14 * door - dry;
    (
        Celsius((temperature * 100.0).round() / 100.0),
        Fraction((damp.clamp(0.2, 0.98) * 100.0).round() / 100.0),
    )
}

fn is_silent(at: Timestamp) -> bool {
    let second = at.as_second();
    let (day, of_day) = (second.div_euclid(DAY_S), second.rem_euclid(DAY_S));
    is_day(SILENT_DAY, day) && (SILENT_S.0..SILENT_S.1).contains(&of_day)
}

/// The reading of a number, counted from 1970.
#[must_use]
pub fn reading(number: i64) -> Said {
    let at = Timestamp::from_second(number.saturating_mul(EVERY_S)).unwrap_or_default();
    let (temperature, damp) = air(at);
    let temperature = if number % JUMPS_EVERY == 0 {
        Celsius(temperature.0 + 9.0)
    } else {
        temperature
    };
    Said::of_place(number.unsigned_abs(), at, temperature, Some(damp))
}

/// The lines of a number: none in its silence, two where it stutters, and sometimes one that nobody understands.
#[must_use]
pub fn lines(number: i64) -> Vec<String> {
    let said = reading(number);
    if is_silent(said.at) {
        return Vec::new();
    }
    stuttered(line_of(&said), number, (GARBLED_EVERY, TWICE_EVERY))
}

/// It answers as a thermometer of a place.
#[must_use]
pub const fn device() -> PlaceDevice {
    PlaceDevice::new(EVERY_S, lines)
}

/// The same as a table of so many hours up to a moment; its silence is missing, its doubles are there twice.
#[must_use]
pub fn csv(until: Timestamp, hours: i64) -> String {
    let mut text = String::from("time,temperature C,humidity %\n");
    let last = until.as_second().div_euclid(EVERY_S);
    for number in last - hours * 3_600 / EVERY_S..=last {
        let said = reading(number);
        if is_silent(said.at) {
            continue;
        }
        let damp = said.humidity.map_or(0.0, |h| h.0 * 100.0);
        let times = if number % TWICE_EVERY == 0 { 2 } else { 1 };
        for _ in 0..times {
            let _ = writeln!(text, "{},{:.1},{damp:.0}", said.at, said.temperature.0);
        }
    }
    text
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::protocol::read;
    use crate::reader::Reader;
    use manifest_core::place::air::{Aired, hours, opened};

    fn day(day: i64) -> Vec<Aired> {
        let first = day * DAY_S / EVERY_S;
        (first..first + DAY_S / EVERY_S)
            .map(reading)
            .map(|s| Aired {
                at: s.at,
                temperature: s.temperature,
                humidity: s.humidity,
            })
            .collect()
    }

    #[test]
    fn its_door_is_seen_and_its_compressor_is_not() {
        for d in 20_000..20_022 {
            let plain = !is_day(WARM_DAY, d)
                && (d * DAY_S / EVERY_S..(d + 1) * DAY_S / EVERY_S).all(|n| n % JUMPS_EVERY != 0);
            if plain {
                assert_eq!(opened(&day(d)).len(), DOOR_H.len(), "day {d}");
            }
        }
    }

    #[test]
    fn an_hour_is_steadier_than_a_reading_and_says_what_is_wrong_with_a_day() {
        for d in 20_000..20_022 {
            let hours = hours(&day(d));
            let damp = hours
                .iter()
                .filter_map(|h| Some(h.humidity?.0))
                .sum::<f64>()
                / 24.0;
            let warmest = hours
                .iter()
                .map(|h| h.temperature.0)
                .fold(f64::MIN, f64::max);
            assert_eq!(damp < 0.60, is_day(DRY_DAY, d), "day {d}: {damp}");
            assert_eq!(warmest > 18.0, is_day(WARM_DAY, d), "day {d}: {warmest}");
        }
    }

    #[test]
    fn a_reader_survives_what_its_thermometer_does() {
        let mut reader = Reader::default();
        let first = 20_000 * DAY_S / EVERY_S;
        let numbers = first..first + 22 * DAY_S / EVERY_S;
        let count = numbers.clone().count();
        let said: Vec<_> = numbers
            .flat_map(lines)
            .filter_map(|l| reader.take(&l))
            .collect();
        let (heard, mut times) = (
            reader.heard(),
            said.iter().map(|s| s.at).collect::<Vec<_>>(),
        );
        times.dedup();
        assert_eq!(times.len(), said.len(), "nothing comes twice");
        assert!(heard.garbled > 50 && heard.doubled > 50, "{heard:?}");
        assert!(said.len() > count * 9 / 10 && said.len() < count);
        assert!(
            lines(first - first % GARBLED_EVERY + GARBLED_EVERY * 2)
                .iter()
                .all(|l| read(l).is_err())
        );
    }
}
