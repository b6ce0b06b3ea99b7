//! A fridge that does not exist: its thermometer measures by a clock, with a warm afternoon every fourth day, an hour and a half
//! of silence, lines that are garbled and lines that come twice.

use crate::made_up::{PlaceDevice, stuttered};
use crate::protocol::{Said, line_of};
use jiff::Timestamp;
use manifest_core::units::{Celsius, Fraction};

/// It measures this often (s).
pub const EVERY_S: i64 = 600;
const DAY_S: i64 = 86_400;
/// Of so many days one has a warm afternoon.
const WARM_EVERY_DAYS: i64 = 4;
/// Which of them; reckoned from the first of January 1970.
const WARM_DAY: i64 = 3;
/// The door stands ajar from here to there (s of the day, UTC).
const AJAR_S: (i64, i64) = (13 * 3_600, 18 * 3_600);
/// The night after a warm afternoon nothing is heard from here to there (s of the day).
const SILENT_S: (i64, i64) = (2 * 3_600, 3 * 3_600 + 1_800);
/// Every so many lines one is garbled.
const GARBLED_EVERY: i64 = 37;
/// Every so many lines one comes twice.
const TWICE_EVERY: i64 = 23;

/// How warm the fridge is.
#[must_use]
pub fn temperature(at: Timestamp) -> Celsius {
    let second = at.as_second();
    let (day, of_day) = (second.div_euclid(DAY_S), second.rem_euclid(DAY_S));
    let compressor = 0.5 * (second as f64 / 2_700.0 * std::f64::consts::TAU).sin();
    // The door, three times a day.
    let doors = [7.5, 12.25, 18.5].map(|hour| {
        let since = of_day as f64 - hour * 3_600.0;
        if since < 0.0 {
            0.0
        } else {
            1.3 * (-since / 1_200.0).exp()
        }
    });
    let doors: f64 = doors.iter().sum();
    let ajar = if day.rem_euclid(WARM_EVERY_DAYS) == WARM_DAY {
        let open = (of_day.min(AJAR_S.1) - AJAR_S.0).max(0) as f64;
        let shut = (of_day - AJAR_S.1).max(0) as f64;
        7.5 * (1.0 - (-open / 4_500.0).exp()) * (-shut / 3_600.0).exp()
    } else {
        0.0
    };
    Celsius(((3.1 + compressor + doors + ajar) * 100.0).round() / 100.0)
}

/// True while its thermometer is not heard.
fn is_silent(at: Timestamp) -> bool {
    let second = at.as_second();
    let (day, of_day) = (second.div_euclid(DAY_S), second.rem_euclid(DAY_S));
    (day - 1).rem_euclid(WARM_EVERY_DAYS) == WARM_DAY && (SILENT_S.0..SILENT_S.1).contains(&of_day)
}

/// The reading of a number, counted from 1970.
#[must_use]
pub fn reading(number: i64) -> Said {
    let at = Timestamp::from_second(number.saturating_mul(EVERY_S)).unwrap_or_default();
    let temperature = temperature(at);
    let humidity = Fraction((0.62 - (temperature.0 - 3.0) * 0.02).clamp(0.2, 0.9));
    Said::of_place(number.unsigned_abs(), at, temperature, Some(humidity))
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::protocol::read;

    #[test]
    fn every_fourth_day_has_a_warm_afternoon_and_the_others_are_cold() {
        let day = |d: i64| (0..144).map(move |n| reading((d * DAY_S / EVERY_S) + n));
        for d in 20_000..20_008 {
            let warm = day(d).filter(|r| r.temperature.0 > 7.0).count();
            if d % WARM_EVERY_DAYS == WARM_DAY {
                // some four hours, and no day
                assert!((18..40).contains(&warm), "{d}: {warm}");
            } else {
                assert_eq!(warm, 0, "{d}");
            }
            assert!(day(d).all(|r| r.temperature.0 > 1.0));
        }
    }

    #[test]
    fn some_lines_are_garbled_some_come_twice_and_some_never() {
        let all: Vec<_> = (3_000_000..3_000_600).map(lines).collect();
        let none = all.iter().filter(|l| l.is_empty()).count();
        let twice = all.iter().filter(|l| l.len() == 2).count();
        let garbled = all.iter().flatten().filter(|l| read(l).is_err()).count();
        assert!(
            none >= 9 && twice > 10 && garbled > 10,
            "{none} {twice} {garbled}"
        );
    }
}
