//! How far the cure has walked into the meat: a model, shown as an estimate beside the trade rules.

use crate::caution::{Checks, FieldError};
use crate::units::bounds::Measure;
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// What the surface is in touch with.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum FrontKind {
    /// A measured dose, all of it on the open faces at the start.
    Measured,
    /// More than it can take: a salt box, a strong brine.
    Excess,
    /// Water.
    Soak,
    /// Nothing.
    Rest,
}

/// One stage of a cure.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FrontStage {
    /// What the surface is in touch with.
    pub kind: FrontKind,
    /// For how long.
    pub hours: f64,
    /// The dose, as a share of the meat; for a measured one.
    #[serde(default)]
    pub mean_fraction: Option<f64>,
    /// What the surface holds; for an excess.
    #[serde(default)]
    pub surface_fraction: Option<f64>,
}

/// A slab and what was done to it, as the HTTP contract spells it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CureFrontAsk {
    /// Its thickness (mm).
    pub thickness_mm: f64,
    /// Faces that take cure: 1 under skin or fat, else 2.
    pub open_faces: u32,
    /// How fast it walks (m²/s); about 2.2e-10 in cold lean muscle.
    pub diffusivity_m2_s: f64,
    /// What was done, in order.
    pub stages: Vec<FrontStage>,
}

/// How it stands after some hours.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FrontSample {
    /// Hours since the first stage began.
    pub hour: f64,
    /// In the middle, or at the closed face.
    pub centre: f64,
    /// At an open face.
    pub surface: f64,
    /// Over all of it.
    pub mean: f64,
}

/// How much is at a depth.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FrontDepth {
    /// From an open face (mm).
    pub depth_mm: f64,
    /// There (share of mass).
    pub value: f64,
}

/// How the cure walked.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CureFrontAnswer {
    /// At the start, every 24 hours, and at the end of each stage.
    pub samples: Vec<FrontSample>,
    /// Through the whole thickness at the end.
    pub profile: Vec<FrontDepth>,
}

/// Waves that are reckoned with; what is shorter is gone within minutes.
const WAVES: usize = 400;
/// Depths in the profile.
const DEPTHS: u32 = 51;
/// Longer than this nothing cures (h).
const LONGEST_H: f64 = 20_000.0;

/// How the stuff lies from the open face (0) to the middle or closed face (1), as waves.
///
/// Under a surface that lets nothing through they are cosines; under one held at a value, sines
/// about that value. Either way each wave fades by itself, so a stage is exact whatever its
/// length, and mass is kept to the last digit.
enum Lies {
    Closed(Vec<f64>),
    Held { at: f64, waves: Vec<f64> },
}

fn half(n: usize) -> f64 {
    n as f64 + 0.5
}

impl Lies {
    /// The same, as it goes on under a surface that lets nothing through.
    fn closed(&self) -> Vec<f64> {
        match self {
            Self::Closed(waves) => waves.clone(),
            Self::Held { at, waves } => (0..WAVES)
                .map(|m| {
                    let shape: f64 = waves
                        .iter()
                        .enumerate()
                        .map(|(n, w)| w * half(n) / (half(n).powi(2) - (m as f64).powi(2)))
                        .sum();
                    let share = if m == 0 { 1.0 } else { 2.0 };
                    share * shape / PI + if m == 0 { *at } else { 0.0 }
                })
                .collect(),
        }
    }

    /// The same, as it goes on under a surface held at a value.
    fn held(&self, at: f64) -> Vec<f64> {
        let constant = |value: f64, n: usize| 2.0 * value / (half(n) * PI);
        (0..WAVES)
            .map(|n| match self {
                Self::Held { at: was, waves } => waves[n] + constant(was - at, n),
                Self::Closed(waves) => {
                    let shape: f64 = waves
                        .iter()
                        .enumerate()
                        .map(|(m, w)| w * half(n) / (half(n).powi(2) - (m as f64).powi(2)))
                        .sum();
                    2.0 * shape / PI - constant(at, n)
                }
            })
            .collect()
    }

    /// After `spread`, the time in units of the depth's own.
    fn after(&self, spread: f64) -> Self {
        let fade = |k: f64| (-(k * PI).powi(2) * spread).exp();
        match self {
            Self::Closed(waves) => Self::Closed(
                waves
                    .iter()
                    .enumerate()
                    .map(|(m, w)| w * fade(m as f64))
                    .collect(),
            ),
            Self::Held { at, waves } => Self::Held {
                at: *at,
                waves: waves
                    .iter()
                    .enumerate()
                    .map(|(n, w)| w * fade(half(n)))
                    .collect(),
            },
        }
    }

    /// At a depth from the open face (0) to the middle (1).
    fn value(&self, depth: f64) -> f64 {
        match self {
            Self::Closed(waves) => waves
                .iter()
                .enumerate()
                .map(|(m, w)| w * (m as f64 * PI * depth).cos())
                .sum(),
            Self::Held { at, waves } => {
                let shape: f64 = waves
                    .iter()
                    .enumerate()
                    .map(|(n, w)| w * (half(n) * PI * depth).sin())
                    .sum();
                at + shape
            }
        }
    }

    fn mean(&self) -> f64 {
        match self {
            Self::Closed(waves) => waves[0],
            Self::Held { at, waves } => {
                let shape: f64 = waves
                    .iter()
                    .enumerate()
                    .map(|(n, w)| w / (half(n) * PI))
                    .sum();
                at + shape
            }
        }
    }

    fn sample(&self, hour: f64) -> FrontSample {
        FrontSample {
            hour,
            centre: self.value(1.0).max(0.0),
            surface: self.value(0.0).max(0.0),
            mean: self.mean().max(0.0),
        }
    }
}

/// How far the cure has walked into a slab after each stage.
///
/// # Example
/// ```
/// use manifest_core::cure::front::{CureFrontAsk, cure_front};
///
/// let ask: CureFrontAsk = serde_json::from_value(serde_json::json!({"thickness_mm": 40, "open_faces": 2, "diffusivity_m2_s": 2e-10, "stages": [{"kind": "measured", "hours": 240, "mean_fraction": 0.025}]}))?;
/// let got = cure_front(&ask).unwrap();
/// // The middle comes after the mean, and never passes it.
/// let last = got.samples.last().unwrap();
/// assert!(last.centre <= last.mean + 1e-9);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// Lengths, rates, hours and shares that cannot be.
///
/// # Source
/// Fick's law in a slab, solved wave by wave; an estimate from lean muscle, no permission.
pub fn cure_front(ask: &CureFrontAsk) -> Result<CureFrontAnswer, Vec<FieldError>> {
    check(ask)?;
    let open_mm = ask.thickness_mm / f64::from(ask.open_faces);
    let metres = open_mm / 1_000.0;
    let spread = |hours: f64| ask.diffusivity_m2_s * hours * 3_600.0 / (metres * metres);
    let mut lies = Lies::Closed(vec![0.0; WAVES]);
    let mut start = 0.0;
    let mut samples: Vec<FrontSample> = Vec::new();
    for stage in &ask.stages {
        let held = match stage.kind {
            FrontKind::Measured | FrontKind::Rest => None,
            FrontKind::Excess => Some(stage.surface_fraction.unwrap_or(0.0)),
            FrontKind::Soak => Some(0.0),
        };
        lies = match held {
            Some(at) => Lies::Held {
                at,
                waves: lies.held(at),
            },
            None => {
                let mut waves = lies.closed();
                if let Some(dose) = stage.mean_fraction {
                    // All of it in the outermost layer: every wave of it, alike.
                    for (m, wave) in waves.iter_mut().enumerate() {
                        *wave += if m == 0 { dose } else { 2.0 * dose };
                    }
                }
                Lies::Closed(waves)
            }
        };
        if samples.is_empty() {
            samples.push(lies.sample(0.0));
        }
        let end = start + stage.hours;
        let mut day = (start / 24.0).floor() * 24.0 + 24.0;
        while day < end - 1e-9 {
            samples.push(lies.after(spread(day - start)).sample(day));
            day += 24.0;
        }
        lies = lies.after(spread(stage.hours));
        if stage.hours > 0.0 {
            samples.push(lies.sample(end));
        }
        start = end;
    }
    let profile = (0..DEPTHS)
        .map(|i| {
            let depth_mm = ask.thickness_mm * f64::from(i) / f64::from(DEPTHS - 1);
            // With two open faces the far half is the near one again.
            let from_open = depth_mm.min(if ask.open_faces == 2 {
                ask.thickness_mm - depth_mm
            } else {
                depth_mm
            });
            FrontDepth {
                depth_mm,
                value: lies.value(from_open / open_mm).max(0.0),
            }
        })
        .collect();
    Ok(CureFrontAnswer { samples, profile })
}

fn check(ask: &CureFrontAsk) -> Result<(), Vec<FieldError>> {
    let mut checks = Checks::default();
    checks.above_zero(Measure::Length, ask.thickness_mm, "thickness_mm", "45");
    checks.that(
        (1..=2).contains(&ask.open_faces),
        "open_faces",
        "Give 2, or 1 where skin or fat closes a face.",
    );
    checks.that(
        ask.diffusivity_m2_s.is_finite() && (1e-13..=1e-7).contains(&ask.diffusivity_m2_s),
        "diffusivity_m2_s",
        "Give how fast it walks in m²/s, such as 2.2e-10.",
    );
    checks.that(
        !ask.stages.is_empty(),
        "stages",
        "Say what was done: at least one stage.",
    );
    for (i, stage) in ask.stages.iter().enumerate() {
        let at = |name: &str| format!("stages[{i}].{name}");
        checks.that(
            stage.hours.is_finite() && (0.0..=LONGEST_H).contains(&stage.hours),
            &at("hours"),
            "Give its hours, 0 or more, such as 48.",
        );
        let share = |value: Option<f64>| value.is_some_and(|v| (0.0..=1.0).contains(&v));
        let (mean, surface) = match stage.kind {
            FrontKind::Measured => (true, false),
            FrontKind::Excess => (false, true),
            FrontKind::Soak | FrontKind::Rest => (false, false),
        };
        for (name, wanted, value) in [
            ("mean_fraction", mean, stage.mean_fraction),
            ("surface_fraction", surface, stage.surface_fraction),
        ] {
            if wanted {
                checks.that(
                    share(value),
                    &at(name),
                    "Give a share of the meat from 0 to 1, such as 0.025.",
                );
            } else {
                checks.that(
                    value.is_none(),
                    &at(name),
                    "This kind of stage has none. Leave it out.",
                );
            }
        }
    }
    let all: f64 = ask.stages.iter().map(|s| s.hours).sum();
    checks.that(
        all.is_nan() || all <= LONGEST_H,
        "stages",
        "Give at most 20,000 hours in all.",
    );
    checks.done()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cure::testing;
    use crate::units::Millimetres;
    use proptest::prelude::*;
    use serde_json::json;

    #[test]
    fn worked_cases_hold() {
        testing::hold_within("cure-front", 1e-3, |request| {
            let ask: CureFrontAsk = serde_json::from_value(request.clone()).unwrap();
            let got = cure_front(&ask).unwrap();
            // The cases name the hours they know.
            serde_json::to_value(CureFrontAnswer {
                samples: got.samples.into_iter().filter(|s| s.hour > 0.0).collect(),
                ..got
            })
            .unwrap()
        });
    }

    fn ask(faces: u32, stages: serde_json::Value) -> CureFrontAsk {
        serde_json::from_value(json!({"thickness_mm": 50.0, "open_faces": faces, "diffusivity_m2_s": 2.2e-10, "stages": stages})).unwrap()
    }

    #[test]
    fn the_middle_of_a_measured_dose_is_what_the_schools_are_told() {
        let schools = &crate::catalogue::Catalogue::shipped().schools.numbers;
        for (faces, closed) in [(2, false), (1, true)] {
            for days in [3.0, 7.0, 14.0, 40.0] {
                let stages =
                    json!([{"kind": "measured", "hours": days * 24.0, "mean_fraction": 1.0}]);
                let mut ask = ask(faces, stages);
                ask.diffusivity_m2_s = schools.diffusivity_m2_s;
                let got = cure_front(&ask).unwrap().samples.last().unwrap().centre;
                let told =
                    crate::cure::time::centre_share(Millimetres(50.0), closed, days, schools);
                assert!((got - told).abs() < 1e-6, "{faces} {days}: {got} {told}");
            }
        }
    }

    #[test]
    fn what_cannot_be_is_refused_at_its_field() {
        #[rustfmt::skip]
        let cases = [
            (ask(3, json!([{"kind": "rest", "hours": 1}])), "open_faces"),
            (ask(2, json!([])), "stages"),
            (ask(2, json!([{"kind": "measured", "hours": 1}])), "stages[0].mean_fraction"),
            (ask(2, json!([{"kind": "rest", "hours": 1, "surface_fraction": 0.1}])), "stages[0].surface_fraction"),
            (ask(2, json!([{"kind": "soak", "hours": -1}])), "stages[0].hours"),
            (ask(2, json!([{"kind": "soak", "hours": 15_000}, {"kind": "rest", "hours": 15_000}])), "stages"),
        ];
        for (ask, field) in cases {
            assert_eq!(cure_front(&ask).unwrap_err()[0].field, field);
        }
    }

    proptest! {
        #[test]
        fn nothing_is_lost_while_nothing_flows_and_soaking_takes_away(mm in 10.0..120.0, faces in 1_u32..=2, dose in 0.001..0.2, cured in 1.0..400.0, soaked in 0.1..50.0, rested in 0.0..400.0) {
            let ask = CureFrontAsk {
                thickness_mm: mm,
                open_faces: faces,
                diffusivity_m2_s: 2.2e-10,
                stages: vec![
                    FrontStage { kind: FrontKind::Measured, hours: cured, mean_fraction: Some(dose), surface_fraction: None },
                    FrontStage { kind: FrontKind::Rest, hours: rested, mean_fraction: None, surface_fraction: None },
                    FrontStage { kind: FrontKind::Soak, hours: soaked, mean_fraction: None, surface_fraction: None },
                    FrontStage { kind: FrontKind::Rest, hours: rested, mean_fraction: None, surface_fraction: None },
                ],
            };
            let got = cure_front(&ask).unwrap();
            let at = |hour: f64| got.samples.iter().rev().find(|s| (s.hour - hour).abs() < 1e-6).unwrap().mean;
            prop_assert!((at(cured + rested) / dose - 1.0).abs() < 1e-6);
            let after = at(cured + rested + soaked);
            prop_assert!(after < dose);
            prop_assert!((got.samples.last().unwrap().mean / after - 1.0).abs() < 1e-3);
        }
    }
}
