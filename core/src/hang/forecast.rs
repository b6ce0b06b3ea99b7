//! When a hanging piece will have lost enough: its own weighings fitted to how meat dries.

use crate::caution::{Checks, Code, FieldError, Finding, Severity};
use crate::units::bounds::Measure;
use crate::units::{Fraction, Millimetres};
use serde::{Deserialize, Serialize};

/// One weighing on the hook.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HookWeighing {
    /// Days since it was hung.
    pub day: f64,
    /// What the scale showed, cloth and net and all (g).
    pub gross_g: f64,
}

/// A hanging piece with its weighings, as the HTTP contract spells it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HangForecastAsk {
    /// What the scale showed when it was hung (g).
    pub gross_start_g: f64,
    /// What hangs there beside the meat (g).
    pub tare_g: f64,
    /// The share of the meat's weight it is to lose.
    pub loss_fraction: f64,
    /// The share it would lose if it hung for ever; 0.55 when left out.
    #[serde(default = "usual_lmax")]
    pub lmax_fraction: f64,
    /// Its weighings.
    pub weighings: Vec<HookWeighing>,
}

fn usual_lmax() -> f64 {
    0.55
}

/// When it will be there.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HangForecastAnswer {
    /// How fast it dries (a day); none where its weighings fit nothing.
    pub k_per_day: Option<f64>,
    /// Days from hanging to its target.
    pub target_day: Option<f64>,
    /// The early edge.
    pub target_day_low: Option<f64>,
    /// The late edge.
    pub target_day_high: Option<f64>,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// The slowest drying that is one (a day).
const SLOWEST: f64 = 1e-5;
/// The fastest drying that is one (a day).
const FASTEST: f64 = 1.0;

/// How far a forecast may be off, by the number of weighings it rests on (share of the day).
#[must_use]
pub const fn band(weighings: usize) -> f64 {
    match weighings {
        0 => 0.50,
        1 => 0.30,
        2 => 0.20,
        3 => 0.15,
        _ => 0.10,
    }
}

/// The drying rate (a day) that fits losses at days best, by least squares through zero; none when
/// nothing fits.
///
/// # Source
/// Loss as `Lmax (1 - exp(-k t))`: first-order drying towards an end.
#[must_use]
pub fn fit(losses: &[(f64, f64)], lmax: f64) -> Option<f64> {
    let used: Vec<_> = losses.iter().filter(|(day, _)| *day > 0.0).collect();
    if used.is_empty() {
        return None;
    }
    // The slope of the squared error; a minimum is where it crosses zero upwards.
    let error = |k: f64| -> f64 {
        used.iter()
            .map(|(day, loss)| (loss - lmax * (1.0 - (-k * day).exp())).powi(2))
            .sum()
    };
    // Each weighing alone has a rate that fits it; under the least of these the error still falls, over the greatest it rises again, so
    // its valley lies between. Where one fits none (it gained, or lost more than there is), all rates are walked.
    let alone: Option<Vec<f64>> = used
        .iter()
        .map(|(day, loss)| (*loss > 0.0 && *loss < lmax).then(|| -(1.0 - loss / lmax).ln() / day))
        .collect();
    let walks_all = alone.is_none();
    let (first, last, steps) = match alone {
        Some(rates) => {
            let least = rates.iter().copied().fold(f64::INFINITY, f64::min);
            let greatest = rates.iter().copied().fold(0.0, f64::max);
            if greatest < SLOWEST || least > FASTEST {
                return None;
            }
            (least * (1.0 - 1e-9), greatest * (1.0 + 1e-9), 8)
        }
        None => (SLOWEST, FASTEST, 40),
    };
    // A coarse walk in equal steps of the logarithm, then closing in on where the slope crosses zero.
    let at = |i: f64| (first.ln() + (last.ln() - first.ln()) * i / f64::from(steps)).exp();
    let near = last / first < 1.3;
    let best = if near {
        steps / 2
    } else {
        (0..=steps)
            .map(|i| (i, error(at(f64::from(i)))))
            .min_by(|a, b| a.1.total_cmp(&b.1))?
            .0
    };
    if walks_all && (best == 0 || best == steps) {
        return None;
    }
    let slope = |k: f64| -> f64 {
        used.iter()
            .map(|(day, loss)| {
                let left = (-k * day).exp();
                -2.0 * (loss - lmax * (1.0 - left)) * lmax * day * left
            })
            .sum()
    };
    let edges = if near {
        (first, last)
    } else {
        (
            at((f64::from(best) - 1.0).max(0.0)),
            at((f64::from(best) + 1.0).min(f64::from(steps))),
        )
    };
    let k = crossing(edges, slope);
    (SLOWEST..=FASTEST).contains(&k).then_some(k)
}

/// Where a slope that is below zero at the first edge and above it at the second crosses zero: by the secant, which halves the weight of
/// an edge that stays (the Illinois rule).
fn crossing((mut low, mut high): (f64, f64), slope: impl Fn(f64) -> f64) -> f64 {
    let (mut at_low, mut at_high) = (slope(low), slope(high));
    let (mut stayed, mut nearest) = (0, f64::midpoint(low, high));
    for _ in 0..60 {
        let width = high - low;
        if width <= high * 1e-13 || at_high - at_low == 0.0 {
            break;
        }
        let middle = (low - at_low * width / (at_high - at_low)).clamp(low, high);
        let moved = (middle - nearest).abs();
        nearest = middle;
        let here = slope(middle);
        // The last step was too small to matter.
        if here == 0.0 || moved <= middle * 1e-13 {
            break;
        }
        if here < 0.0 {
            (low, at_low) = (middle, here);
            if stayed == 1 {
                at_high /= 2.0;
            }
            stayed = 1;
        } else {
            (high, at_high) = (middle, here);
            if stayed == -1 {
                at_low /= 2.0;
            }
            stayed = -1;
        }
    }
    nearest
}

/// The rate at which a whole muscle usually dries before its first weighing (a day).
///
/// # Source
/// `k = 0.019 (75 / T)^1.2` a day at 75 % humidity: a trade estimate.
#[must_use]
pub fn usual_rate(thickness: Millimetres) -> f64 {
    0.019 * (75.0 / thickness.0).powf(1.2)
}

/// The share a piece would lose if it hung for ever: all its water but what meat holds on to.
#[must_use]
pub fn most_loss(lean: Fraction) -> f64 {
    0.40 + 0.15 * lean.0
}

/// The loss to be expected after so many days.
#[must_use]
pub fn loss_after(days: f64, k: f64, lmax: f64) -> Fraction {
    Fraction(lmax * (1.0 - (-k * days.max(0.0)).exp()))
}

/// When a hanging piece will have lost enough, from its own weighings.
///
/// # Example
/// ```
/// use manifest_core::hang::forecast::{HangForecastAsk, hang_forecast};
///
/// let ask: HangForecastAsk = serde_json::from_value(serde_json::json!({"gross_start_g": 1000, "tare_g": 0, "loss_fraction": 0.35, "weighings": [{"day": 7, "gross_g": 900}, {"day": 14, "gross_g": 820}]}))?;
/// let got = hang_forecast(&ask).unwrap();
/// // 18 % are gone in two weeks; 35 % take longer than as much again.
/// assert!(got.target_day.unwrap() > 28.0);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// Weights, days and shares that cannot be.
pub fn hang_forecast(ask: &HangForecastAsk) -> Result<HangForecastAnswer, Vec<FieldError>> {
    let mut checks = Checks::default();
    checks.above_zero(Measure::Mass, ask.gross_start_g, "gross_start_g", "1240");
    checks.zero_or_more(Measure::Mass, ask.tare_g, "tare_g", "32");
    checks.that(
        ask.tare_g < ask.gross_start_g || ask.gross_start_g.is_nan(),
        "tare_g",
        "Cloth, net and clips cannot weigh as much as the whole piece. Weigh them alone and give that.",
    );
    for (name, share) in [
        ("loss_fraction", ask.loss_fraction),
        ("lmax_fraction", ask.lmax_fraction),
    ] {
        checks.that(
            share > 0.0 && share < 1.0,
            name,
            "Give a share between 0 and 1, such as 0.35 for 35 %.",
        );
    }
    for (i, w) in ask.weighings.iter().enumerate() {
        let at = |name: &str| format!("weighings[{i}].{name}");
        checks.zero_or_more(Measure::Time, w.day, &at("day"), "6");
        checks.above_zero(Measure::Mass, w.gross_g, &at("gross_g"), "1100");
        checks.that(
            w.gross_g.is_nan() || w.gross_g > ask.tare_g,
            &at("gross_g"),
            "Give what the scale shows with the piece on it, more than cloth and net alone.",
        );
    }
    checks.done()?;
    let net = ask.gross_start_g - ask.tare_g;
    let losses: Vec<_> = ask
        .weighings
        .iter()
        .map(|w| (w.day, 1.0 - (w.gross_g - ask.tare_g) / net))
        .collect();
    let counted = losses.iter().filter(|(day, _)| *day > 0.0).count();
    let k = fit(&losses, ask.lmax_fraction);
    let day = k
        .filter(|_| ask.loss_fraction < ask.lmax_fraction)
        .map(|k| -(1.0 - ask.loss_fraction / ask.lmax_fraction).ln() / k);
    let b = band(counted);
    let mut findings = Vec::new();
    if day.is_none() {
        findings.push(no_fit(ask, counted));
    }
    Ok(HangForecastAnswer {
        k_per_day: k.filter(|_| day.is_some()),
        target_day: day,
        target_day_low: day.map(|d| d * (1.0 - b)),
        target_day_high: day.map(|d| d * (1.0 + b)),
        findings,
    })
}

fn no_fit(ask: &HangForecastAsk, counted: usize) -> Finding {
    let message = if ask.loss_fraction >= ask.lmax_fraction {
        "It never loses that much: no day can be told."
    } else if counted == 0 {
        "It was not weighed since it was hung: no day can be told."
    } else {
        "These weighings do not fit how meat dries: no day can be told."
    };
    Finding::new(Code::NoForecast, Severity::Caution, message)
        .remedy("Look at the tare and the digits, and weigh it again in some days.")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cure::testing;
    use proptest::prelude::*;

    #[test]
    fn worked_cases_hold() {
        testing::hold_within("hang-forecast", 1e-4, |request| {
            let ask: HangForecastAsk = serde_json::from_value(request).unwrap();
            serde_json::to_value(hang_forecast(&ask).unwrap()).unwrap()
        });
    }

    #[test]
    fn what_fits_nothing_has_no_day_and_says_so() {
        let ask = |loss: f64, weighings: &[(f64, f64)]| HangForecastAsk {
            gross_start_g: 1_040.0,
            tare_g: 40.0,
            loss_fraction: loss,
            lmax_fraction: 0.55,
            weighings: weighings
                .iter()
                .map(|&(day, gross_g)| HookWeighing { day, gross_g })
                .collect(),
        };
        #[rustfmt::skip]
        let cases = [
            (ask(0.35, &[]), "It was not weighed"),
            (ask(0.35, &[(0.0, 1_000.0)]), "It was not weighed"),
            (ask(0.60, &[(5.0, 900.0)]), "It never loses that much"),
            (ask(0.35, &[(5.0, 1_060.0)]), "These weighings do not fit"),
        ];
        for (ask, said) in cases {
            let got = hang_forecast(&ask).unwrap();
            assert_eq!((got.target_day, got.k_per_day), (None, None));
            assert!(got.findings[0].message.starts_with(said), "{got:?}");
        }
        let wrong = hang_forecast(&ask(0.35, &[(-1.0, 30.0)])).unwrap_err();
        assert_eq!(wrong.len(), 2, "{wrong:?}");
    }

    proptest! {
        #[test]
        fn a_piece_that_dries_by_the_law_is_told_exactly(k in 0.005..0.2, loss in 0.1..0.5, days in proptest::collection::vec(0.5_f64..60.0, 1..6)) {
            let lmax = 0.55;
            let weighings = days.iter().map(|day| HookWeighing {
                day: *day,
                gross_g: 1_000.0 * (1.0 - loss_after(*day, k, lmax).0) + 50.0,
            }).collect();
            let got = hang_forecast(&HangForecastAsk { gross_start_g: 1_050.0, tare_g: 50.0, loss_fraction: loss, lmax_fraction: lmax, weighings }).unwrap();
            prop_assert!((got.k_per_day.unwrap() / k - 1.0).abs() < 1e-6);
            prop_assert!((loss_after(got.target_day.unwrap(), k, lmax).0 - loss).abs() < 1e-6);
        }
    }

    /// Numbers that look like chance and are the same every time.
    struct Dice(u64);

    impl Dice {
        /// Between -1 and 1, even.
        fn throw(&mut self) -> f64 {
            self.0 = self
                .0
                .wrapping_mul(6_364_136_223_846_793_005)
                .wrapping_add(1_442_695_040_888_963_407);
            (self.0 >> 11) as f64 / (1_u64 << 52) as f64 - 1.0
        }
    }

    /// A scale that is off by up to 5 g and a rate that is off by up to a tenth each day: counted, not hoped.
    #[test]
    fn with_a_rough_scale_and_uneven_days_the_band_holds_nine_times_in_ten() {
        let lmax = 0.55;
        for weighed in 1..=6_usize {
            let (mut held, mut all) = (0, 0);
            for case in 0..400_u64 {
                let mut dice = Dice(case * 977 + weighed as u64);
                let net = 900.0 + 700.0 * dice.throw();
                let k = 0.03 + 0.018 * dice.throw();
                let mut left = lmax;
                let (mut weighings, mut true_day) = (Vec::new(), None);
                for day in 1..400 {
                    left *= (-k * (1.0 + 0.1 * dice.throw())).exp();
                    let lost = lmax - left;
                    if day % 4 == 0 && weighings.len() < weighed {
                        let gross_g = net * (1.0 - lost) + 50.0 + 5.0 * dice.throw();
                        weighings.push(HookWeighing {
                            day: f64::from(day),
                            gross_g,
                        });
                    }
                    if lost >= 0.35 && true_day.is_none() {
                        true_day = Some(f64::from(day));
                    }
                }
                let ask = HangForecastAsk {
                    gross_start_g: net + 50.0,
                    tare_g: 50.0,
                    loss_fraction: 0.35,
                    lmax_fraction: lmax,
                    weighings,
                };
                let (got, day) = (hang_forecast(&ask).unwrap(), true_day.unwrap());
                all += 1;
                // a day is whole in the simulation
                let within = got.target_day_low.is_some_and(|d| d <= day)
                    && got.target_day_high.is_some_and(|d| d >= day - 1.0);
                held += usize::from(within);
            }
            assert!(held * 10 >= all * 9, "{weighed} weighings: {held} of {all}");
        }
    }
}
