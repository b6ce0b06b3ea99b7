//! What a household can weigh, measure, count and write: one table, used by every reader.
//!
//! A number past these is a slip of the hand or of a program, never a fact. What is possible but
//! looks odd is asked about elsewhere.

use super::show::grouped;
use jiff::civil::{Date, date};

/// What can be measured, counted or written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Measure {
    /// A weight (g).
    Mass,
    /// A length or a thickness (mm).
    Length,
    /// A temperature (°C).
    Temperature,
    /// A volume (l).
    Volume,
    /// A share of something, 0 to 1.
    Share,
    /// So much on a kilogram of meat (g/kg).
    Rate,
    /// A content (mg/kg).
    Content,
    /// A smallest step of a scale (g).
    Division,
    /// How many there are.
    Count,
    /// Hours, days, minutes.
    Time,
    /// Money (hundredths).
    Money,
}

/// The least and the most of a measure.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Bounds {
    /// The least.
    pub least: f64,
    /// The most.
    pub most: f64,
    /// The unit both are in, as it is written after a number.
    pub unit: &'static str,
}

impl Measure {
    /// Its bounds.
    #[must_use]
    pub const fn bounds(self) -> Bounds {
        let (least, most, unit) = match self {
            // No household weighs ten tonnes.
            Self::Mass => (0.0, 10_000_000.0, "g"),
            Self::Length => (0.0, 10_000.0, "mm"),
            // From dry ice to a charcoal bed.
            Self::Temperature => (-90.0, 600.0, "°C"),
            Self::Volume => (0.0, 10_000.0, "l"),
            Self::Share => (0.0, 1.0, ""),
            Self::Rate => (0.0, 1_000.0, "g/kg"),
            Self::Content => (0.0, 1_000_000.0, "ppm"),
            Self::Division => (0.0, 1_000.0, "g"),
            Self::Count => (0.0, 100_000.0, ""),
            Self::Time => (0.0, 1_000_000.0, ""),
            Self::Money => (0.0, 1_000_000_000.0, ""),
        };
        Bounds { least, most, unit }
    }

    /// True for a finite number within the bounds.
    #[must_use]
    pub fn holds(self, value: f64) -> bool {
        let bounds = self.bounds();
        value.is_finite() && bounds.least <= value && value <= bounds.most
    }

    /// The most, in words: `10,000,000 g`.
    #[must_use]
    pub fn most(self) -> String {
        let bounds = self.bounds();
        format!("{} {}", grouped(bounds.most), bounds.unit)
            .trim_end()
            .into()
    }

    /// The least, in words: `-90 °C`.
    #[must_use]
    pub fn least(self) -> String {
        let bounds = self.bounds();
        format!("{} {}", grouped(bounds.least), bounds.unit)
            .trim_end()
            .into()
    }
}

/// The first day that can be meant.
pub const FIRST_DAY: Date = date(2000, 1, 1);
/// The last day that can be meant.
pub const LAST_DAY: Date = date(2099, 12, 31);

/// What to say of a day that nobody means.
///
/// # Errors
/// With what to type, when it lies outside this century.
pub fn day(day: Date) -> Result<Date, String> {
    if (FIRST_DAY..=LAST_DAY).contains(&day) {
        Ok(day)
    } else {
        Err(format!(
            "{day} is no day of this household. Give one from {FIRST_DAY} to {LAST_DAY}."
        ))
    }
}

/// Letters of the longest text that is kept: a long note.
pub const LONGEST_TEXT: usize = 2_000;
/// Letters of the longest name: it has to fit on tape, a label, a line of a list.
pub const LONGEST_NAME: usize = 80;
/// Letters of anything else: an amount as typed, a list of allergens, a place in words.
pub const LONGEST_WORDS: usize = 400;

/// Letters of the longest text in a field of this name.
#[must_use]
pub fn longest_text(field: &str) -> usize {
    match field {
        "name" => LONGEST_NAME,
        "text" | "note" | "reason" => LONGEST_TEXT,
        _ => LONGEST_WORDS,
    }
}
/// The largest number of any field, whatever it means; its own measure is narrower.
pub const LARGEST_NUMBER: f64 = 1e12;
/// The most rows of one list in one request.
pub const LONGEST_LIST: usize = 2_000;
/// The most acts in one request: a long day at the bench, and no longer than others can wait.
pub const MOST_ACTS: usize = 200;

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_no_household_has_is_out_of_bounds() {
        #[rustfmt::skip]
        let cases = [
            (Measure::Mass, 0.0, true), (Measure::Mass, 1e7, true), (Measure::Mass, 1e308, false),
            (Measure::Mass, -1.0, false), (Measure::Mass, f64::NAN, false), (Measure::Length, 1e9, false),
            (Measure::Temperature, -300.0, false), (Measure::Temperature, -80.0, true), (Measure::Temperature, 700.0, false),
            (Measure::Share, 1.0, true), (Measure::Share, 1.1, false), (Measure::Count, 100_001.0, false),
            (Measure::Money, 1e9 + 1.0, false), (Measure::Content, f64::INFINITY, false),
        ];
        for (measure, value, want) in cases {
            assert_eq!(measure.holds(value), want, "{measure:?} {value}");
        }
        assert_eq!(Measure::Mass.most(), "10,000,000 g");
        assert_eq!(Measure::Share.most(), "1");
        assert_eq!(
            day(date(9999, 12, 31)).unwrap_err(),
            "9999-12-31 is no day of this household. Give one from 2000-01-01 to 2099-12-31."
        );
        assert!(day(date(2026, 2, 28)).is_ok());
    }
}
