//! Time at temperature: what a run of inside temperatures has done to salmonella. Information, never a permission to stop
//! under the household's target.

use super::possible::{BOILS, too_hot_inside};
use crate::caution::{Checks, FieldError};
use crate::units::bounds::Measure;
use serde::{Deserialize, Serialize};

/// An inside temperature at a minute.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct InsideReading {
    /// Minutes since any moment.
    pub minute: f64,
    /// Inside the thickest place (°C).
    pub inside_c: f64,
}

/// Inside temperatures of one piece, in order.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LethalityAsk {
    /// The readings, at least two.
    pub readings: Vec<InsideReading>,
}

/// What they have done.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LethalityAnswer {
    /// The share of the time at temperature that is wanted; 1 and more meets it.
    pub f: f64,
    /// By how many powers of ten salmonella was reduced.
    pub log_reduction: f64,
    /// The minute at which it was met; left out when unmet.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub met_at_minute: Option<f64>,
    /// Minutes between 50 and 130 °F on the way up.
    pub warm_up_minutes: f64,
}

/// Colder than this nothing counts (°F).
const COUNTS_FROM_F: f64 = 130.0;
/// The same in °C: here the warm hours end.
pub const COUNTS_FROM_C: f64 = (COUNTS_FROM_F - 32.0) / 1.8;
/// Where the warm-up begins (°F).
const WARM_FROM_F: f64 = 50.0;
/// At this temperature it takes [`MINUTES`] (°F).
const REFERENCE_F: f64 = 145.0;
/// So many minutes at the reference temperature are wanted.
const MINUTES: f64 = 4.0;
/// So many degrees are a tenth, or ten times, of the time (°F).
const TENFOLD_F: f64 = 10.0;
/// What is wanted kills so many powers of ten.
const WANTED_LOGS: f64 = 6.5;

fn fahrenheit(celsius: f64) -> f64 {
    1.8 * celsius + 32.0
}

/// How much of what is wanted a minute at a temperature does.
fn rate(f: f64) -> f64 {
    10.0_f64.powf((f - REFERENCE_F) / TENFOLD_F) / MINUTES
}

/// A stretch of time in which the temperature rises or falls evenly.
#[derive(Clone, Copy, Debug)]
struct Stretch {
    from: f64,
    to: f64,
    from_f: f64,
    to_f: f64,
}

impl Stretch {
    fn slope(self) -> f64 {
        (self.to_f - self.from_f) / (self.to - self.from)
    }

    /// The part of it between two temperatures; none where it never is between them.
    fn between(self, low: f64, high: f64) -> Option<Self> {
        let slope = self.slope();
        if slope == 0.0 {
            return (low..=high).contains(&self.from_f).then_some(self);
        }
        let at = |f: f64| self.from + (f - self.from_f) / slope;
        let (first, last) = if slope > 0.0 {
            (at(low), at(high))
        } else {
            (at(high), at(low))
        };
        let (from, to) = (first.max(self.from), last.min(self.to));
        let f = |minute: f64| self.from_f + slope * (minute - self.from);
        (from < to).then(|| Self {
            from,
            to,
            from_f: f(from),
            to_f: f(to),
        })
    }

    /// What it does, exactly: the integral of an exponential over an even slope.
    fn done(self) -> f64 {
        let slope = self.slope();
        let minutes = self.to - self.from;
        // So flat that the difference of two equal numbers would decide.
        if (slope * minutes).abs() < 1e-6 {
            return rate(f64::midpoint(self.from_f, self.to_f)) * minutes;
        }
        let scale = TENFOLD_F / std::f64::consts::LN_10 / slope;
        scale * (rate(self.to_f) - rate(self.from_f))
    }

    /// The minute at which it has done so much.
    fn when(self, wanted: f64) -> f64 {
        let slope = self.slope();
        let minutes = self.to - self.from;
        if (slope * minutes).abs() < 1e-6 {
            return self.from + wanted / rate(f64::midpoint(self.from_f, self.to_f));
        }
        let reached = rate(self.from_f) + wanted * slope * std::f64::consts::LN_10 / TENFOLD_F;
        let f = REFERENCE_F + TENFOLD_F * (MINUTES * reached).log10();
        self.from + (f - self.from_f) / slope
    }
}

/// Checks that minutes rise and temperatures can be.
pub(super) fn check_minutes(checks: &mut Checks, minutes: impl Iterator<Item = f64>) {
    let mut before = f64::NEG_INFINITY;
    for (i, minute) in minutes.enumerate() {
        let at = format!("readings[{i}].minute");
        checks.within(Measure::Time, minute.abs(), &at, "30");
        checks.that(
            minute.is_finite() && minute > before,
            &at,
            "Give readings in order, each at a later minute than the one before.",
        );
        before = minute;
    }
}

/// What a run of inside temperatures has done, linear between the readings.
///
/// # Example
/// ```
/// use manifest_core::heat::lethality::{LethalityAsk, lethality};
///
/// let ask: LethalityAsk = serde_json::from_value(serde_json::json!({"readings": [{"minute": 0, "inside_c": 4}, {"minute": 60, "inside_c": 60}, {"minute": 90, "inside_c": 60}]}))?;
/// let got = lethality(&ask).unwrap();
/// // Half an hour at 60 °C after an hour of warming up.
/// assert!(got.log_reduction > 5.0);
/// assert!(got.warm_up_minutes > 40.0 && got.warm_up_minutes < 60.0);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// Fewer than two readings, minutes that do not rise, temperatures that cannot be.
///
/// # Source
/// USDA FSIS Appendix A, the time and temperature table for a 6.5-log reduction of salmonella in meat, as
/// `4 min * 10^((145 - T) / 10)` with T in °F, counted from 130 °F on.
pub fn lethality(ask: &LethalityAsk) -> Result<LethalityAnswer, Vec<FieldError>> {
    let mut checks = Checks::default();
    checks.that(
        ask.readings.len() >= 2,
        "readings",
        "Give at least two readings: how warm it was in between follows from them.",
    );
    check_minutes(&mut checks, ask.readings.iter().map(|r| r.minute));
    for (i, r) in ask.readings.iter().enumerate() {
        let field = format!("readings[{i}].inside_c");
        checks.within(Measure::Temperature, r.inside_c, &field, "62.8");
        checks.that(
            r.inside_c.is_nan() || r.inside_c <= BOILS.0 + 0.05,
            &field,
            &too_hot_inside("62.8"),
        );
    }
    checks.done()?;
    let stretches = ask.readings.windows(2).map(|pair| Stretch {
        from: pair[0].minute,
        to: pair[1].minute,
        from_f: fahrenheit(pair[0].inside_c),
        to_f: fahrenheit(pair[1].inside_c),
    });
    let (mut f, mut met, mut warm_up) = (0.0, None, 0.0);
    let mut is_up = fahrenheit(ask.readings[0].inside_c) >= COUNTS_FROM_F;
    for stretch in stretches {
        if !is_up && let Some(warm) = stretch.between(WARM_FROM_F, COUNTS_FROM_F) {
            warm_up += warm.to - warm.from;
        }
        is_up |= stretch.to_f >= COUNTS_FROM_F;
        let Some(hot) = stretch.between(COUNTS_FROM_F, f64::INFINITY) else {
            continue;
        };
        let done = hot.done();
        if met.is_none() && f + done >= 1.0 {
            met = Some(hot.when(1.0 - f));
        }
        f += done;
    }
    Ok(LethalityAnswer {
        f,
        log_reduction: WANTED_LOGS * f,
        met_at_minute: met,
        warm_up_minutes: warm_up,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cure::testing;
    use proptest::prelude::*;

    fn of(readings: &[(f64, f64)]) -> LethalityAsk {
        LethalityAsk {
            readings: readings
                .iter()
                .map(|(minute, inside_c)| InsideReading {
                    minute: *minute,
                    inside_c: *inside_c,
                })
                .collect(),
        }
    }

    #[test]
    fn nothing_is_hotter_inside_than_it_boils() {
        let refused = lethality(&of(&[(0.0, 60.0), (10.0, 145.0)])).unwrap_err();
        assert_eq!(refused.len(), 1);
        assert_eq!(refused[0].field, "readings[1].inside_c");
        assert_eq!(
            refused[0].message,
            "Meat never gets warmer inside than 100 °C (212 °F). Type degrees with their unit, e.g. 62.8."
        );
    }

    #[test]
    fn worked_cases_hold() {
        testing::hold("lethality", |request| {
            let ask: LethalityAsk = serde_json::from_value(request).unwrap();
            serde_json::to_value(lethality(&ask).unwrap()).unwrap()
        });
    }

    #[test]
    fn the_minutes_of_the_table_meet_it() {
        let celsius = |f: f64| (f - 32.0) / 1.8;
        // °F, minutes: the rows of the published table, as the formula rounds them
        let rows = [
            (130.0, 126.49),
            (140.0, 12.649),
            (145.0, 4.0),
            (150.0, 1.2649),
            (155.0, 0.4),
        ];
        for (f, minutes) in rows {
            let c = celsius(f);
            let held = lethality(&of(&[(0.0, c), (minutes, c)])).unwrap();
            assert!((held.f - 1.0).abs() < 1e-4, "{f}: {held:?}");
            let double = lethality(&of(&[(0.0, c), (2.0 * minutes, c)])).unwrap();
            assert!(
                (double.met_at_minute.unwrap() - minutes).abs() < 1e-2 * minutes,
                "{f}"
            );
        }
        let cold = lethality(&of(&[(0.0, celsius(129.9)), (1_000.0, celsius(129.9))])).unwrap();
        assert_eq!((cold.f, cold.met_at_minute), (0.0, None));
    }

    #[test]
    fn what_cannot_be_read_is_refused() {
        #[rustfmt::skip]
        let cases: [(&[(f64, f64)], &str); 5] = [
            (&[(0.0, 20.0)],                    "readings"),
            (&[(0.0, 20.0), (0.0, 21.0)],       "readings[1].minute"),
            (&[(5.0, 20.0), (1.0, 21.0)],       "readings[1].minute"),
            (&[(0.0, 20.0), (f64::NAN, 21.0)],  "readings[1].minute"),
            (&[(0.0, 20.0), (1.0, 9_000.0)],    "readings[1].inside_c"),
        ];
        for (readings, field) in cases {
            let wrong = lethality(&of(readings)).unwrap_err();
            assert!(
                wrong.iter().any(|e| e.field == field),
                "{readings:?}: {wrong:?}"
            );
        }
    }

    proptest! {
        #[test]
        fn warmer_or_longer_never_kills_less(
            temps in prop::collection::vec(-5.0..85.0_f64, 2..12),
            more in 0.0..15.0_f64,
        ) {
            let at = |add: f64, long: f64| {
                let readings: Vec<_> = temps.iter().enumerate().map(|(i, c)| (i as f64 * long, c + add)).collect();
                lethality(&of(&readings)).unwrap()
            };
            let base = at(0.0, 10.0);
            prop_assert!(at(more, 10.0).f >= base.f - 1e-9);
            prop_assert!(at(0.0, 12.0).f >= base.f - 1e-9);
            prop_assert_eq!(base.met_at_minute.is_some(), base.f >= 1.0);
            prop_assert!(base.warm_up_minutes <= 10.0 * (temps.len() - 1) as f64 + 1e-9);
        }

        #[test]
        fn a_reading_between_on_the_line_changes_nothing(a in 40.0..90.0_f64, b in 40.0..90.0_f64, share in 0.05..0.95_f64) {
            let whole = lethality(&of(&[(0.0, a), (60.0, b)])).unwrap();
            let parted = lethality(&of(&[(0.0, a), (60.0 * share, a + (b - a) * share), (60.0, b)])).unwrap();
            prop_assert!((whole.f - parted.f).abs() <= 1e-6 * whole.f.max(1e-6), "{} {}", whole.f, parted.f);
        }
    }
}
