//! What a thermometer says: lines of plain text, each with a check over itself.
//!
//! ```text
//! THERMOMETER 1                                     first line of every connection
//! R 2954370 2026-11-20T09:00:00Z 3.42 61 a1         a reading: number, time, °C, % humidity or -, check
//! P 2954371 2026-11-20T09:00:00Z 2 57.31 C 88 c4    of a probe: number, time, probe, degrees or -, C or F, % battery or -, check
//! .                                                 nothing new; said every few seconds
//! ```
//!
//! The check is the sum of all bytes before the space in front of it, modulo 256, in two hexadecimal digits. Who listens may
//! say `SINCE <time>` once: readings from then on are said again, as far as the thermometer still has them. A made-up one
//! understands `CLOCK <time>` too, and measures up to that time and no further.
//! Numbers are shared by all probes of a thermometer. A probe that is not plugged in says `-` for its degrees.

use jiff::Timestamp;
use manifest_core::units::{Celsius, Fraction};

/// The first line of a connection.
pub const GREETING: &str = "THERMOMETER 1";
/// Nothing new.
pub const SIGN_OF_LIFE: &str = ".";
/// No line is longer (bytes).
pub const LONGEST_LINE: usize = 200;

/// A reading as it was said.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Said {
    /// Its number; the same reading said twice carries the same.
    pub number: u64,
    /// When it was taken.
    pub at: Timestamp,
    /// How warm.
    pub temperature: Celsius,
    /// How damp.
    pub humidity: Option<Fraction>,
    /// The probe, of a thermometer with several.
    pub probe: Option<u8>,
    /// What is left of its battery (%).
    pub battery: Option<u8>,
    /// True when it was said in degrees Fahrenheit.
    pub in_fahrenheit: bool,
}

impl Said {
    /// What the thermometer of a place says.
    #[must_use]
    pub const fn of_place(
        number: u64,
        at: Timestamp,
        temperature: Celsius,
        humidity: Option<Fraction>,
    ) -> Self {
        Self {
            number,
            at,
            temperature,
            humidity,
            probe: None,
            battery: None,
            in_fahrenheit: false,
        }
    }
}

/// A line of a thermometer.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Line {
    /// It greets.
    Greeting,
    /// It has nothing new.
    SignOfLife,
    /// It says a reading.
    Reading(Said),
    /// A probe is not plugged in; the number of the line.
    Unplugged(u64),
}

/// Why a line means nothing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum Garbled {
    /// Its check does not fit.
    #[error("its check does not fit")]
    Check,
    /// It is none of the lines there are.
    #[error("it is none of the lines there are")]
    Unknown,
}

fn check(text: &str) -> u8 {
    text.bytes().fold(0, u8::wrapping_add)
}

/// Writes a reading as a line, without its end.
#[must_use]
pub fn line_of(said: &Said) -> String {
    let damp = said
        .humidity
        .map_or_else(|| "-".into(), |h| format!("{:.0}", h.0 * 100.0));
    let text = match said.probe {
        None => format!(
            "R {} {} {:.2} {damp}",
            said.number, said.at, said.temperature.0
        ),
        Some(probe) => {
            let (degrees, unit) = if said.in_fahrenheit {
                (said.temperature.0 * 1.8 + 32.0, 'F')
            } else {
                (said.temperature.0, 'C')
            };
            let left = said.battery.map_or_else(|| "-".into(), |b| b.to_string());
            let (number, at) = (said.number, said.at);
            format!("P {number} {at} {probe} {degrees:.2} {unit} {left}")
        }
    };
    with_check(&text)
}

/// The line of a probe that is not plugged in.
#[must_use]
pub fn unplugged(number: u64, at: Timestamp, probe: u8) -> String {
    with_check(&format!("P {number} {at} {probe} - C -"))
}

fn with_check(text: &str) -> String {
    format!("{text} {:02x}", check(text))
}

/// Reads a line.
///
/// # Errors
/// When it is garbled.
pub fn read(line: &str) -> Result<Line, Garbled> {
    match line.trim_end() {
        GREETING => Ok(Line::Greeting),
        SIGN_OF_LIFE => Ok(Line::SignOfLife),
        line => {
            let (text, sum) = line.rsplit_once(' ').ok_or(Garbled::Unknown)?;
            let is_check = sum.len() == 2 && u8::from_str_radix(sum, 16) == Ok(check(text));
            if !is_check {
                return Err(Garbled::Check);
            }
            let mut words = text.split(' ');
            let line = match words.next() {
                Some("R") => of_place(words),
                Some("P") => of_probe(words),
                Some(_) | None => None,
            };
            line.ok_or(Garbled::Unknown)
        }
    }
}

fn of_place<'a>(mut words: impl Iterator<Item = &'a str>) -> Option<Line> {
    let number = words.next()?.parse().ok()?;
    let at = words.next()?.parse().ok()?;
    let temperature: f64 = words.next()?.parse().ok()?;
    let humidity = match words.next()? {
        "-" => None,
        percent => Some(percent.parse::<f64>().ok()? / 100.0),
    };
    let sensible = (-60.0..=60.0).contains(&temperature)
        && humidity.is_none_or(|h| (0.0..=1.0).contains(&h))
        && words.next().is_none();
    let (temperature, humidity) = (Celsius(temperature), humidity.map(Fraction));
    sensible.then_some(Line::Reading(Said::of_place(
        number,
        at,
        temperature,
        humidity,
    )))
}

/// No thermometer has more probes.
const MOST_PROBES: u8 = 12;

fn of_probe<'a>(mut words: impl Iterator<Item = &'a str>) -> Option<Line> {
    let number = words.next()?.parse().ok()?;
    let at = words.next()?.parse().ok()?;
    let probe: u8 = words.next()?.parse().ok()?;
    let degrees = match words.next()? {
        "-" => None,
        text => Some(text.parse::<f64>().ok()?),
    };
    let in_fahrenheit = match words.next()? {
        "C" => false,
        "F" => true,
        _ => return None,
    };
    let battery = match words.next()? {
        "-" => None,
        percent => Some(percent.parse::<u8>().ok().filter(|p| *p <= 100)?),
    };
    if words.next().is_some() || !(1..=MOST_PROBES).contains(&probe) {
        return None;
    }
    let Some(degrees) = degrees else {
        return Some(Line::Unplugged(number));
    };
    let celsius = if in_fahrenheit {
        (degrees - 32.0) / 1.8
    } else {
        degrees
    };
    (-40.0..=400.0)
        .contains(&celsius)
        .then_some(Line::Reading(Said {
            number,
            at,
            temperature: Celsius(celsius),
            humidity: None,
            probe: Some(probe),
            battery,
            in_fahrenheit,
        }))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn reading(number: u64, temperature: f64) -> Said {
        let at = "2026-11-20T09:00:00Z".parse().unwrap();
        Said::of_place(number, at, Celsius(temperature), Some(Fraction(0.61)))
    }

    #[test]
    fn lines_are_what_they_say_or_garbled() {
        let good = line_of(&reading(7, 3.42));
        assert_eq!(good, "R 7 2026-11-20T09:00:00Z 3.42 61 6a");
        let probed = Said {
            probe: Some(2),
            battery: Some(88),
            humidity: None,
            ..reading(8, 57.5)
        };
        let probe = line_of(&probed);
        assert_eq!(probe, "P 8 2026-11-20T09:00:00Z 2 57.50 C 88 5f");
        let in_f = line_of(&Said {
            in_fahrenheit: true,
            ..probed
        });
        let out = unplugged(9, probed.at, 3);
        #[rustfmt::skip]
        let cases = [
            ("THERMOMETER 1\r\n", Ok(Line::Greeting)),
            (".\n", Ok(Line::SignOfLife)),
            (good.as_str(), Ok(Line::Reading(reading(7, 3.42)))),
            ("R 7 2026-11-20T09:00:00Z 9.42 61 49", Err(Garbled::Check)),
            ("R 7 2026-11-20T09:00:00Z 3.42 61", Err(Garbled::Check)),
            ("", Err(Garbled::Unknown)),
            ("GET / HTTP/1.1", Err(Garbled::Check)),
            (probe.as_str(), Ok(Line::Reading(probed))),
            (in_f.as_str(), Ok(Line::Reading(Said { in_fahrenheit: true, ..probed }))),
            (out.as_str(), Ok(Line::Unplugged(9))),
        ];
        for (line, want) in cases {
            assert_eq!(read(line), want, "{line:?}");
        }
        // well summed up, and no reading all the same
        for text in [
            "R 7 yesterday 3.42 61",
            "R 7 2026-11-20T09:00:00Z 3.42",
            "R 7 2026-11-20T09:00:00Z NaN 61",
            "X",
            "P 7 2026-11-20T09:00:00Z 0 57 C 80",
            "P 7 2026-11-20T09:00:00Z 13 57 C 80",
            "P 7 2026-11-20T09:00:00Z 2 57 K 80",
            "P 7 2026-11-20T09:00:00Z 2 57 C 180",
            "P 7 2026-11-20T09:00:00Z 2 inf C 80",
        ] {
            let line = format!("{text} {:02x}", check(text));
            assert_eq!(read(&line), Err(Garbled::Unknown), "{line}");
        }
    }

    proptest! {
        #[test]
        fn a_reading_that_was_written_reads_back(number in any::<u64>(), centi in -6_000_i32..6_000) {
            let said = reading(number, f64::from(centi) / 100.0);
            prop_assert_eq!(read(&line_of(&said)), Ok(Line::Reading(said)));
        }

        #[test]
        fn no_line_does_harm(line in "\\PC{0,80}") {
            let _ = read(&line);
        }

        #[test]
        fn one_letter_that_was_changed_is_noticed(at in 0_usize..36, with in "[0-9A-Za-z]") {
            let good = line_of(&reading(7, 3.42));
            let mut bytes = good.clone().into_bytes();
            let at = at % bytes.len();
            bytes[at] = with.as_bytes()[0];
            let bad = String::from_utf8(bytes).unwrap();
            // hexadecimal digits may be written either way
            prop_assert!(bad.eq_ignore_ascii_case(&good) || read(&bad).is_err(), "{bad}");
        }
    }
}
