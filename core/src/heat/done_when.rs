//! When the inside will be at its target: heating by Newton's law, fitted to what the probe said lately, and not trusted in a
//! stall.

use super::lethality::check_minutes;
use super::possible::{BOILS, too_hot_inside};
use crate::caution::{Checks, Code, FieldError, Finding, Severity};
use crate::units::bounds::Measure;
use serde::{Deserialize, Serialize};

/// A reading of a probe, with its chamber where that was read too.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ProbeReading {
    /// Minutes since any moment.
    pub minute: f64,
    /// Inside the piece (°C).
    pub inside_c: f64,
    /// Of the chamber, as measured (°C).
    #[serde(default)]
    pub chamber_c: Option<f64>,
}

/// What a probe said, and where it is to come.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DoneWhenAsk {
    /// The readings, in order.
    pub readings: Vec<ProbeReading>,
    /// The inside temperature to reach (°C).
    pub target_c: f64,
    /// Of the chamber, where readings have none (°C).
    #[serde(default)]
    pub chamber_c: Option<f64>,
}

/// When it will be there.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DoneWhenAnswer {
    /// The minute, on the readings' own axis; none where nothing can be told.
    pub minute: Option<f64>,
    /// The early edge.
    pub minute_low: Option<f64>,
    /// The late edge.
    pub minute_high: Option<f64>,
    /// How fast it heats (a minute).
    pub k_per_minute: Option<f64>,
    /// The chamber of the recent readings (°C).
    pub chamber_c: Option<f64>,
    /// True when it stands still though its chamber is hot.
    pub stalled: bool,
    /// The minute at which the target was passed; left out before.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reached_at_minute: Option<f64>,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// Readings of so long are recent (min).
const RECENT_MIN: f64 = 60.0;
/// And at least so many.
const RECENT: usize = 6;
/// Fewer tell nothing.
const LEAST: usize = 3;
/// In so long (min) a rise of less than [`STALL_RISE_C`] is a stall.
const STALL_MIN: f64 = 45.0;
const STALL_RISE_C: f64 = 1.5;
/// If the chamber is so much warmer (°C).
const STALL_UNDER_C: f64 = 20.0;
/// What a probe is off by, whatever it says (°C): half a degree either way, evenly.
const PROBE_C: f64 = 0.29;
/// So many standard deviations wide is the band to either side.
const WIDE: f64 = 2.1;
/// No estimate is surer than this share of what is left.
const LEAST_BAND: f64 = 0.02;

/// When the inside will be at its target.
///
/// # Example
/// ```
/// use manifest_core::heat::done_when::{DoneWhenAsk, done_when};
///
/// let ask: DoneWhenAsk = serde_json::from_value(serde_json::json!({"readings": [{"minute": 0, "inside_c": 20}, {"minute": 30, "inside_c": 32}, {"minute": 60, "inside_c": 42}], "target_c": 63, "chamber_c": 95}))?;
/// let got = done_when(&ask).unwrap();
/// // It slows as it comes near to its chamber: 21 degrees take longer than the last 22 did.
/// assert!(got.minute.unwrap() > 110.0);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// Minutes that do not rise, no chamber, temperatures that cannot be.
///
/// # Source
/// Newton's law of heating, `T(t) = Ts - (Ts - T0) exp(-k t)`; evaporation stalls it, which shows as a rise of under 1.5 °C in 45 min
/// with the chamber more than 20 °C above.
pub fn done_when(ask: &DoneWhenAsk) -> Result<DoneWhenAnswer, Vec<FieldError>> {
    checked(ask)?;
    let mut answer = DoneWhenAnswer {
        reached_at_minute: reached(ask),
        ..DoneWhenAnswer::default()
    };
    let readings = &ask.readings;
    if readings.len() < LEAST {
        answer.findings.push(
            Finding::new(
                Code::TooFewReadings,
                Severity::Info,
                "Nothing can be told from so few readings.",
            )
            .saw(readings.len().to_string())
            .wants(format!("at least {LEAST}"))
            .remedy("Read it again in some minutes."),
        );
        return Ok(answer);
    }
    let recent = recent(readings);
    let of = |r: &ProbeReading| r.chamber_c.or(ask.chamber_c).unwrap_or_default();
    let chamber = recent.iter().map(of).sum::<f64>() / recent.len() as f64;
    answer.chamber_c = Some(chamber);
    if answer.reached_at_minute.is_some() {
        return Ok(answer);
    }
    if chamber <= ask.target_c {
        answer.findings.push(
            Finding::new(
                Code::ChamberBelowTarget,
                Severity::Caution,
                "The chamber is not warmer than the target: it never gets there.",
            )
            .saw(format!("{chamber:.1} °C"))
            .wants(format!("over {:.1} °C", ask.target_c))
            .remedy("Make it hotter."),
        );
        return Ok(answer);
    }
    if is_stalled(readings, chamber) {
        answer.stalled = true;
        answer.findings.push(
            Finding::new(
                Code::Stall,
                Severity::Info,
                "It stands still: what evaporates cools it as fast as the chamber heats it.",
            )
            .remedy("Wait it out, wrap it, or make the chamber hotter and damper; then a time can be told again."),
        );
        return Ok(answer);
    }
    let last = readings[readings.len() - 1];
    match fit(recent, chamber, ask.target_c) {
        Some(fit) => {
            let least = LEAST_BAND * (fit.minute - last.minute).max(0.0);
            let band = (WIDE * fit.error).max(least);
            answer.k_per_minute = Some(fit.k);
            answer.minute = Some(fit.minute);
            answer.minute_low = Some((fit.minute - band).max(last.minute.min(fit.minute)));
            answer.minute_high = Some(fit.minute + band);
        }
        None => answer.findings.push(
            Finding::new(
                Code::NoForecast,
                Severity::Caution,
                "These readings do not rise as meat heats: no time can be told.",
            )
            .remedy("Look whether the probe sits in the thickest place and the chamber is read."),
        ),
    }
    Ok(answer)
}

fn checked(ask: &DoneWhenAsk) -> Result<(), Vec<FieldError>> {
    let mut checks = Checks::default();
    check_minutes(&mut checks, ask.readings.iter().map(|r| r.minute));
    let mut heat = |value: f64, field: &str, example: &str| {
        checks.within(Measure::Temperature, value, field, example);
    };
    heat(ask.target_c, "target_c", "62.8");
    if let Some(chamber) = ask.chamber_c {
        heat(chamber, "chamber_c", "95");
    }
    let mut too_hot = Vec::new();
    for (i, r) in ask.readings.iter().enumerate() {
        heat(r.inside_c, &format!("readings[{i}].inside_c"), "40");
        if r.inside_c > BOILS.0 + 0.05 {
            too_hot.push(i);
        }
        if let Some(chamber) = r.chamber_c {
            heat(chamber, &format!("readings[{i}].chamber_c"), "95");
        }
    }
    for i in too_hot {
        checks.that(
            false,
            &format!("readings[{i}].inside_c"),
            &too_hot_inside("40"),
        );
    }
    let unread = ask.readings.iter().position(|r| r.chamber_c.is_none());
    if let Some(i) = unread.filter(|_| ask.chamber_c.is_none()) {
        checks.that(
            false,
            &format!("readings[{i}].chamber_c"),
            "Give how warm the chamber was, here or once for all readings.",
        );
    }
    checks.done()
}

/// The minute at which the target was first passed, linear between readings.
fn reached(ask: &DoneWhenAsk) -> Option<f64> {
    let first = ask.readings.first()?;
    if first.inside_c >= ask.target_c {
        return Some(first.minute);
    }
    let pair = ask
        .readings
        .windows(2)
        .find(|p| p[1].inside_c >= ask.target_c)?;
    let share = (ask.target_c - pair[0].inside_c) / (pair[1].inside_c - pair[0].inside_c);
    Some(pair[0].minute + share * (pair[1].minute - pair[0].minute))
}

/// The readings of the last hour, and never fewer than a handful.
fn recent(readings: &[ProbeReading]) -> &[ProbeReading] {
    let last = readings[readings.len() - 1].minute;
    let young = readings.partition_point(|r| last - r.minute > RECENT_MIN);
    &readings[young.min(readings.len().saturating_sub(RECENT))..]
}

fn is_stalled(readings: &[ProbeReading], chamber: f64) -> bool {
    let last = readings[readings.len() - 1];
    let from = last.minute - STALL_MIN;
    if readings[0].minute > from + 1e-9 || chamber - last.inside_c <= STALL_UNDER_C {
        return false;
    }
    let after = readings.partition_point(|r| r.minute < from - 1e-9);
    let then = match (readings.get(after.wrapping_sub(1)), readings.get(after)) {
        (_, Some(at)) if (at.minute - from).abs() < 1e-9 => at.inside_c,
        (Some(a), Some(b)) => {
            a.inside_c + (b.inside_c - a.inside_c) * (from - a.minute) / (b.minute - a.minute)
        }
        (Some(r), None) | (None, Some(r)) => r.inside_c,
        (None, None) => return false,
    };
    last.inside_c - then < STALL_RISE_C - 1e-9
}

/// A fitted law.
struct Fit {
    k: f64,
    minute: f64,
    /// The standard deviation of the minute.
    error: f64,
}

/// The straight line through `ln(Ts - T)`, weighed by what a degree means at each point.
fn fit(recent: &[ProbeReading], chamber: f64, target: f64) -> Option<Fit> {
    // (minute, ln of what is left, weight)
    let points: Vec<(f64, f64, f64)> = recent
        .iter()
        .map(|r| (r.minute, chamber - r.inside_c))
        .filter(|(_, left)| *left > 0.5)
        .map(|(minute, left)| (minute, left.ln(), left * left))
        .collect();
    if points.len() < LEAST {
        return None;
    }
    let sum = |of: &dyn Fn(&(f64, f64, f64)) -> f64| points.iter().map(of).sum::<f64>();
    let weight = sum(&|p| p.2);
    let (mean_x, mean_y) = (sum(&|p| p.0 * p.2) / weight, sum(&|p| p.1 * p.2) / weight);
    let spread = sum(&|p| p.2 * (p.0 - mean_x).powi(2));
    let slope = sum(&|p| p.2 * (p.0 - mean_x) * (p.1 - mean_y)) / spread;
    let k = -slope;
    if !(k.is_finite() && k > 1e-6) {
        return None;
    }
    let wanted = (chamber - target).ln();
    let minute = mean_x + (wanted - mean_y) / slope;
    let misfit = sum(&|p| p.2 * (p.1 - mean_y - slope * (p.0 - mean_x)).powi(2));
    let free = (points.len() as f64 - 2.0).max(1.0);
    let probe = (misfit / free).sqrt().max(PROBE_C);
    // Of the line where it meets the target, as a time; the line itself, not one more reading.
    let variance = probe.powi(2) * (1.0 / weight + (minute - mean_x).powi(2) / spread);
    Some(Fit {
        k,
        minute,
        error: variance.sqrt() / k,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cure::testing;
    use proptest::prelude::*;
    use serde_json::Value;

    /// Says the code of a finding where a case asks for one.
    fn answered(request: Value) -> Value {
        let ask: DoneWhenAsk = serde_json::from_value(request).unwrap();
        let answer = done_when(&ask).unwrap();
        let mut said = serde_json::to_value(&answer).unwrap();
        said["finding"] = said["findings"][0]["code"].clone();
        said
    }

    #[test]
    fn worked_cases_hold() {
        testing::hold_within("done-when", 1e-5, answered);
    }

    /// Heating by the law, read every so many minutes.
    fn heated(
        k: f64,
        from: f64,
        chamber: f64,
        every: f64,
        n: usize,
        off: &[f64],
    ) -> Vec<ProbeReading> {
        let at = |i: usize| {
            let minute = i as f64 * every;
            let left = (chamber - from) * (-k * minute).exp();
            ProbeReading {
                minute,
                inside_c: chamber - left + off.get(i).copied().unwrap_or(0.0),
                chamber_c: Some(chamber),
            }
        };
        (0..n).map(at).collect()
    }

    fn truth(k: f64, from: f64, chamber: f64, target: f64) -> f64 {
        ((chamber - from) / (chamber - target)).ln() / k
    }

    #[test]
    fn what_cannot_be_told_says_why() {
        let ask = |readings, target_c, chamber_c| DoneWhenAsk {
            readings,
            target_c,
            chamber_c,
        };
        let code = |ask: &DoneWhenAsk| done_when(ask).unwrap().findings.first().map(|f| f.code);
        let rising = heated(0.01, 10.0, 95.0, 10.0, 4, &[]);
        let mut falling = rising.clone();
        falling.reverse();
        for (i, r) in falling.iter_mut().enumerate() {
            r.minute = i as f64 * 10.0;
        }
        let flat: Vec<_> = (0..10)
            .map(|i| ProbeReading {
                minute: 5.0 * f64::from(i),
                inside_c: 55.0 + 0.1 * f64::from(i),
                chamber_c: Some(100.0),
            })
            .collect();
        #[rustfmt::skip]
        let cases = [
            ("too few",    ask(rising[..2].to_vec(), 62.8, None), Some(Code::TooFewReadings)),
            ("none",       ask(Vec::new(), 62.8, None),           Some(Code::TooFewReadings)),
            ("cold oven",  ask(rising.clone(), 95.0, None),       Some(Code::ChamberBelowTarget)),
            ("falling",    ask(falling, 62.8, None),              Some(Code::NoForecast)),
            ("a stall",    ask(flat.clone(), 71.1, None),         Some(Code::Stall)),
            ("45 min of it are not over", ask(flat[..9].to_vec(), 71.1, None), None),
            ("told",       ask(rising.clone(), 62.8, None),       None),
        ];
        for (why, ask, want) in cases {
            assert_eq!(code(&ask), want, "{why}");
        }
        let mut unread = rising;
        unread[1].chamber_c = None;
        let wrong = done_when(&ask(unread.clone(), 62.8, None)).unwrap_err();
        assert_eq!(wrong[0].field, "readings[1].chamber_c");
        assert!(done_when(&ask(unread, 62.8, Some(95.0))).is_ok());
    }

    /// Numbers that look random and are the same each time.
    struct Noise(u64);

    impl Noise {
        /// Evenly between half a degree under and over.
        fn next(&mut self) -> f64 {
            self.0 = self
                .0
                .wrapping_mul(6_364_136_223_846_793_005)
                .wrapping_add(1_442_695_040_888_963_407);
            (self.0 >> 11) as f64 / (1_u64 << 53) as f64 - 0.5
        }
    }

    #[test]
    fn with_a_probe_half_a_degree_off_the_band_holds_nine_times_in_ten() {
        let mut noise = Noise(7);
        let (mut held, mut all) = (0, 0);
        for round in 0..2_000 {
            let k = 0.004 + 0.008 * (noise.next() + 0.5);
            let (from, chamber, target) = (
                4.0 + 8.0 * (noise.next() + 0.5),
                90.0 + 30.0 * (noise.next() + 0.5),
                62.8,
            );
            let done = truth(k, from, chamber, target);
            let every = [1.0, 5.0, 10.0][round % 3];
            let share = 0.35 + 0.5 * (noise.next() + 0.5);
            let n = ((done * share / every) as usize).max(3);
            let off: Vec<f64> = (0..n).map(|_| noise.next()).collect();
            let ask = DoneWhenAsk {
                readings: heated(k, from, chamber, every, n, &off),
                target_c: target,
                chamber_c: None,
            };
            let Some((low, high)) = done_when(&ask)
                .map(|a| a.minute_low.zip(a.minute_high))
                .unwrap()
            else {
                continue;
            };
            all += 1;
            held += usize::from((low..=high).contains(&done));
        }
        assert!(all > 1_900, "{all}");
        let share = f64::from(held as u32) / f64::from(all);
        assert!(share >= 0.9, "{held} of {all}");
    }

    proptest! {
        #[test]
        fn exact_data_give_the_exact_minute(
            k in 0.003..0.02_f64, from in -2.0..20.0_f64, chamber in 80.0..130.0_f64, target in 55.0..75.0_f64, n in 3_usize..12,
        ) {
            let done = truth(k, from, chamber, target);
            let every = done * 0.9 / n as f64;
            let ask = DoneWhenAsk { readings: heated(k, from, chamber, every, n, &[]), target_c: target, chamber_c: None };
            let got = done_when(&ask).unwrap();
            prop_assume!(!got.stalled);
            prop_assert!((got.minute.unwrap() - done).abs() < 1e-3, "{got:?} {done}");
            prop_assert!((got.k_per_minute.unwrap() - k).abs() < 1e-6);
            prop_assert!(got.minute_low.unwrap() <= done + 1e-9 && done <= got.minute_high.unwrap() + 1e-9);
        }
    }
}
