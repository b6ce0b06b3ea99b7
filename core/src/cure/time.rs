//! How many days in the cure, by every school that applies.

pub use crate::catalogue::time_rules::{GoesBy, Numbers, Suggested, TimeRule, TimeRules};
use crate::caution::{Checks, Code, FieldError, Finding, Severity};
use crate::units::bounds::Measure;
use crate::units::show::{self, length, temperature, trim};
use crate::units::{Celsius, MM_PER_INCH, Millimetres, Units};
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// Dry or in brine.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Method {
    /// Rubbed on.
    #[default]
    Dry,
    /// In brine.
    Brine,
}

/// A piece whose days are asked for, as the HTTP contract spells it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CureTimeAsk {
    /// Greatest thickness (mm).
    pub thickness_mm: f64,
    /// Dry or in brine.
    #[serde(default)]
    pub method: Method,
    /// Weight, for the schools that go by it (g).
    #[serde(default)]
    pub mass_g: Option<f64>,
    /// How far the cure walks in a week (mm); 18 when left out.
    #[serde(default)]
    pub depth_mm_per_week: Option<f64>,
    /// Whether skin closes one face.
    #[serde(default)]
    pub skin_on: bool,
    /// Whether fat covers one face.
    #[serde(default)]
    pub fat_cap: bool,
    /// Whether brine was pumped in.
    #[serde(default)]
    pub injected: bool,
    /// Where it cures (°C).
    #[serde(default = "fridge")]
    pub temperature_c: f64,
}

fn fridge() -> f64 {
    3.0
}

/// One school's answer.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SchoolDays {
    /// The school's stable word.
    pub school: String,
    /// Whole days, rounded up.
    pub days: u32,
    /// Days before rounding.
    pub exact_days: f64,
}

/// All schools side by side.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CureTimeAnswer {
    /// Every school that applies.
    pub schools: Vec<SchoolDays>,
    /// The days to plan with when nobody chose a school.
    pub suggested_days: u32,
    /// The school those days come from.
    pub suggested_by: String,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// How far the cure has to walk (mm): all of it past a skin, two thirds under fat, else half.
#[must_use]
pub fn path_mm(thickness: Millimetres, skin_on: bool, fat_cap: bool, numbers: &Numbers) -> f64 {
    let thickness = thickness.get();
    if skin_on {
        thickness
    } else if fat_cap {
        // The fat face at half speed meets the lean face there.
        thickness * numbers.fat_cap_path
    } else {
        thickness / 2.0
    }
}

/// The middle's share of the mean after `days`, for a measured dose: 1 when even.
///
/// One open face when `closed_face`, else two. An estimate from plain diffusion in lean muscle.
///
/// # Source
/// Series solution of the diffusion equation for a slab with the dose on its faces at the start.
#[must_use]
pub fn centre_share(
    thickness: Millimetres,
    closed_face: bool,
    days: f64,
    numbers: &Numbers,
) -> f64 {
    let metres = thickness.get() / 1_000.0;
    let step = if closed_face { PI } else { 2.0 * PI };
    let spread = numbers.diffusivity_m2_s * days * 86_400.0 / (metres * metres);
    if spread < EARLY {
        return early_centre(spread, closed_face);
    }
    let terms: f64 = (1..=200_u32)
        .map(|m| {
            let wave = f64::from(m) * step;
            let sign = if m % 2 == 0 { 1.0 } else { -1.0 };
            sign * (-wave * wave * spread).exp()
        })
        .sum();
    (1.0 + 2.0 * terms).max(0.0)
}

/// Before this time, in units of the thickness's own, waves say less than what walks in from each face.
const EARLY: f64 = 0.01;

/// The middle's share while hardly anything has walked there: what comes from each face alone.
fn early_centre(spread: f64, closed_face: bool) -> f64 {
    if spread <= 0.0 {
        return 0.0;
    }
    // One face gives all of the dose and the closed one throws it back; two give half of it each.
    let (times, distance): (f64, f64) = if closed_face { (4.0, 1.0) } else { (2.0, 0.5) };
    times * (-distance * distance / (4.0 * spread)).exp() / (4.0 * PI * spread).sqrt()
}

/// Days in the cure by every school that applies, and the ones to plan with.
///
/// The default is the longer of three days an inch and two, and 18 mm of depth a week. Findings
/// speak in `units`.
///
/// # Example
/// ```
/// use manifest_core::catalogue::Catalogue;
/// use manifest_core::cure::time::{CureTimeAsk, cure_time};
/// use manifest_core::units::Units;
///
/// let ask: CureTimeAsk = serde_json::from_value(serde_json::json!({"thickness_mm": 36}))?;
/// let got = cure_time(&ask, &Catalogue::shipped().schools, Units::METRIC).unwrap();
/// // 18 mm from each face at 18 mm a week; the inch rules say less.
/// assert_eq!((got.suggested_days, got.suggested_by.as_str()), (7, "depth_per_week"));
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// A thickness or temperature that cannot be.
///
/// # Source
/// Trade rules; see `data/schools.toml`. None of them is physics: diffusion time grows with
/// the square of the thickness, which is why thick pieces carry a finding.
pub fn cure_time(
    ask: &CureTimeAsk,
    schools: &TimeRules,
    units: Units,
) -> Result<CureTimeAnswer, Vec<FieldError>> {
    let mut checks = Checks::default();
    checks.above_zero(Measure::Length, ask.thickness_mm, "thickness_mm", "45");
    if let Some(mass) = ask.mass_g {
        checks.above_zero(Measure::Mass, mass, "mass_g", "2010");
    }
    if let Some(rate) = ask.depth_mm_per_week {
        checks.above_zero(Measure::Length, rate, "depth_mm_per_week", "18");
    }
    checks.that(
        ask.temperature_c.is_finite() && (-30.0..=60.0).contains(&ask.temperature_c),
        "temperature_c",
        "Give the temperature of the curing place in °C, such as 3.",
    );
    checks.done()?;
    let thickness = Millimetres(ask.thickness_mm);

    let found = every_school(ask, thickness, schools);
    let may_be_suggested = |(rule, _): &&(&TimeRule, SchoolDays)| match rule.suggested {
        Suggested::Never => false,
        Suggested::Always => true,
        Suggested::Uninjected => !ask.injected,
        Suggested::UninjectedInReach => {
            !ask.injected && thickness.get() <= schools.numbers.inch_rules_end_mm
        }
    };
    // Of equal ones the first in the list.
    let longest = found.iter().filter(may_be_suggested).map(|(_, days)| days);
    let longest = longest
        .rev()
        .max_by(|a, b| a.exact_days.total_cmp(&b.exact_days));
    let suggested = longest.cloned().ok_or_else(|| {
        vec![FieldError::new(
            "schools",
            "None of the cure-time rules may be suggested for this. Mark one in schools.toml.",
        )]
    })?;
    let findings = findings(ask, thickness, &suggested, &schools.numbers, units);
    Ok(CureTimeAnswer {
        suggested_days: suggested.days,
        suggested_by: suggested.school,
        schools: found.into_iter().map(|(_, days)| days).collect(),
        findings,
    })
}

fn every_school<'a>(
    ask: &CureTimeAsk,
    thickness: Millimetres,
    schools: &'a TimeRules,
) -> Vec<(&'a TimeRule, SchoolDays)> {
    let n = &schools.numbers;
    let inches = thickness.get() / MM_PER_INCH;
    let days_by = |rule: &TimeRule| match rule.goes_by {
        GoesBy::Inches => Some(rule.per_inch? * inches + rule.plus?),
        GoesBy::Depth => {
            let rate = ask.depth_mm_per_week.unwrap_or(n.depth_mm_per_week);
            Some(path_mm(thickness, ask.skin_on, ask.fat_cap, n) / rate * 7.0)
        }
        GoesBy::Weight => {
            let per_kg = match ask.method {
                Method::Dry => n.dry_days_per_kg,
                Method::Brine => n.brine_days_per_kg,
            };
            Some(ask.mass_g? / 1_000.0 * per_kg)
        }
        GoesBy::Class => {
            let last = n.classes.len().saturating_sub(1);
            let mut classes = n.classes.iter().enumerate();
            let class = classes.find(|(i, (up_to, _))| {
                thickness.get() < *up_to || (*i == last && thickness.get() <= *up_to)
            });
            class.map(|(_, (_, days))| *days)
        }
        GoesBy::Injection => ask
            .injected
            .then(|| ((3.0 * inches + 2.0) / 2.0).max(n.injected_least_days)),
    };
    let each = schools.list.iter().filter_map(|rule| {
        let exact_days = days_by(rule)?;
        let days = SchoolDays {
            school: rule.key.clone(),
            days: (exact_days - 1e-9).ceil().max(0.0) as u32,
            exact_days,
        };
        Some((rule, days))
    });
    each.collect()
}

/// Where meat cures, in words.
fn cold_place(units: Units) -> String {
    let said = |c: f64| temperature(Celsius(c), units.heat);
    format!("{} to {}", said(1.0), said(4.0))
}

/// How far the cure has come into a piece too thick for its rule, after so many days.
pub(crate) fn too_thick_after(
    thickness: Millimetres,
    closed_face: bool,
    days: u32,
    numbers: &Numbers,
    units: Units,
) -> String {
    let centre = centre_share(thickness, closed_face, f64::from(days), numbers);
    format!(
        "{}; after {} the center is at about {} % of the mean",
        length(thickness, units.length),
        show::days(f64::from(days)),
        trim(centre * 100.0, 0)
    )
}

fn findings(
    ask: &CureTimeAsk,
    thickness: Millimetres,
    suggested: &SchoolDays,
    n: &Numbers,
    units: Units,
) -> Vec<Finding> {
    let mut found = Vec::new();
    let closed = ask.skin_on || ask.fat_cap;
    let limit = if closed {
        n.thick_closed_face_mm
    } else {
        n.thick_mm
    };
    if !ask.injected && thickness.get() > limit {
        let past_inches = thickness.get() > n.inch_rules_end_mm;
        let message = if past_inches {
            "Over this thickness the inch rules do not hold: the middle would still be uncured."
        } else {
            "Time grows with the square of the thickness; the trade rules do not. The middle lags behind."
        };
        found.push(
            Finding::new(
                Code::TooThickForRule,
                if past_inches {
                    Severity::Stop
                } else {
                    Severity::Caution
                },
                message,
            )
            .saw(too_thick_after(thickness, closed, suggested.days, n, units))
            .wants(format!(
                "at most {}{}",
                length(Millimetres(limit), units.length),
                if closed { " with one face closed" } else { "" }
            ))
            .remedy("Split it, open it flat, or inject it."),
        );
    }
    if ask.temperature_c < n.cold_c {
        found.push(
            Finding::new(
                Code::TooCold,
                Severity::Caution,
                "This cold the cure nearly stands still: such days count as none.",
            )
            .saw(temperature(Celsius(ask.temperature_c), units.heat))
            .wants(cold_place(units))
            .remedy("Move it to a warmer shelf and add the lost days."),
        );
    } else if ask.temperature_c > n.warm_c {
        let spoiling = ask.temperature_c > n.spoiling_c;
        found.push(
            Finding::new(
                Code::TooWarm,
                if spoiling {
                    Severity::Stop
                } else {
                    Severity::Caution
                },
                if spoiling {
                    "Meat spoils faster than it cures in this warmth; after a day of it, discard."
                } else {
                    "Too warm to cure in: spoilage gains on the salt."
                },
            )
            .saw(temperature(Celsius(ask.temperature_c), units.heat))
            .wants(cold_place(units))
            .remedy("Move it to a colder place now."),
        );
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::catalogue::Catalogue;
    use crate::cure::testing;
    use proptest::prelude::*;
    use serde_json::{Value, json};

    fn timed(ask: &CureTimeAsk) -> Result<CureTimeAnswer, Vec<FieldError>> {
        cure_time(ask, &Catalogue::shipped().schools, Units::METRIC)
    }

    fn centre(mm: f64, closed: bool, days: f64) -> f64 {
        let thickness = Millimetres(mm);
        centre_share(
            thickness,
            closed,
            days,
            &Catalogue::shipped().schools.numbers,
        )
    }

    fn ask(edit: Value) -> CureTimeAsk {
        let mut base = json!({"thickness_mm": 50.8});
        base.as_object_mut()
            .unwrap()
            .extend(edit.as_object().unwrap().clone());
        serde_json::from_value(base).unwrap()
    }

    #[test]
    fn worked_cases_hold() {
        testing::hold("cure-time", |request| {
            let ask: CureTimeAsk = serde_json::from_value(request).unwrap();
            let got = timed(&ask).unwrap();
            let by_school = got.schools.iter().map(|s| {
                (
                    s.school.clone(),
                    json!({"days": s.days, "exact_days": s.exact_days}),
                )
            });
            Value::Object(by_school.collect())
        });
    }

    #[test]
    fn the_middle_begins_with_nothing_and_is_told_alike_by_faces_and_by_waves() {
        for closed in [false, true] {
            assert_eq!(centre(60.0, closed, 0.0), 0.0);
            assert!(centre(60.0, closed, 0.05) < 1e-6);
            // 60 mm: the two tellings meet at about 1.9 days
            let (before, after) = (centre(60.0, closed, 1.89), centre(60.0, closed, 1.90));
            assert!(before <= after && after - before < 0.01, "{before} {after}");
        }
    }

    #[test]
    fn a_rule_is_a_row_of_data_and_the_longest_that_may_be_is_suggested() {
        let mut rules = Catalogue::shipped().schools.clone();
        let row = |key: &str, suggested: &str| -> TimeRule {
            let row = json!({"key": key, "name": key, "words": key, "goes_by": "inches", "suggested": suggested, "per_inch": 10.0, "plus": 1.0});
            serde_json::from_value(row).unwrap()
        };
        let suggested = |rules: &TimeRules, edit: Value| {
            let got = cure_time(&ask(edit), rules, Units::default()).unwrap();
            (got.suggested_by, got.suggested_days)
        };
        rules.list.push(row("slow", "never"));
        assert_eq!(suggested(&rules, json!({})), ("depth_per_week".into(), 10));
        rules.list.push(row("slower", "uninjected"));
        assert_eq!(suggested(&rules, json!({})), ("slower".into(), 21));
        // What was pumped goes by its own rule, and by those that are for everything.
        assert_eq!(
            suggested(&rules, json!({"injected": true})),
            ("injected".into(), 4)
        );
        rules.list.push(row("slowest", "always"));
        assert_eq!(
            suggested(&rules, json!({"injected": true})),
            ("slowest".into(), 21)
        );
        // Of two that say the same the first of the list.
        assert_eq!(suggested(&rules, json!({})), ("slower".into(), 21));
        rules.list.clear();
        let none = cure_time(&ask(json!({})), &rules, Units::default()).unwrap_err();
        assert_eq!(none[0].field, "schools");
    }

    #[test]
    fn each_school_by_hand() {
        #[rustfmt::skip]
        let cases = [
            // two inches, so the inch rules come out whole
            ("plain",       json!({}),                                   "days_per_inch_3_2", 8),
            ("whole inch",  json!({}),                                   "days_per_inch_3_0", 6),
            ("depth",       json!({"thickness_mm": 36}),                 "depth_per_week",    7),
            ("skin",        json!({"thickness_mm": 36, "skin_on": true}), "depth_per_week",  14),
            ("own rate",    json!({"thickness_mm": 36, "depth_mm_per_week": 9}), "depth_per_week", 14),
            ("ham rubbed",  json!({"mass_g": 5000}),                     "by_weight",        22),
            ("ham brined",  json!({"mass_g": 5000, "method": "brine"}),  "by_weight",        39),
            ("thin",        json!({"thickness_mm": 29.9}),               "class_days",        6),
            ("standard",    json!({"thickness_mm": 30}),                 "class_days",        9),
            ("thick",       json!({"thickness_mm": 75}),                 "class_days",       14),
            ("injected",    json!({"injected": true}),                   "injected",          4),
            ("thin pumped", json!({"thickness_mm": 10, "injected": true}), "injected",        3),
        ];
        for (why, edit, school, days) in cases {
            let got = timed(&ask(edit)).unwrap();
            let found = got.schools.iter().find(|s| s.school == school);
            assert_eq!(found.map(|s| s.days), Some(days), "{why}");
        }
        let none = timed(&ask(json!({"thickness_mm": 76}))).unwrap();
        assert!(none.schools.iter().all(|s| s.school != "class_days"));
    }

    #[test]
    fn the_default_is_the_longer_of_inches_and_depth() {
        #[rustfmt::skip]
        let cases = [
            (json!({"thickness_mm": 20}), "days_per_inch_3_2", 5),
            (json!({}), "depth_per_week", 10),
            (json!({"thickness_mm": 20, "skin_on": true}), "depth_per_week", 8),
            (json!({"injected": true}), "injected", 4),
        ];
        for (edit, by, days) in cases {
            let got = timed(&ask(edit)).unwrap();
            assert_eq!((got.suggested_by.as_str(), got.suggested_days), (by, days));
        }
    }

    #[test]
    fn thickness_and_warmth_give_pause() {
        use Code::{TooCold, TooThickForRule, TooWarm};
        use Severity::{Caution, Stop};
        #[rustfmt::skip]
        let cases = [
            (json!({"thickness_mm": 75}),                    vec![]),
            (json!({"thickness_mm": 76}),                    vec![(TooThickForRule, Caution)]),
            (json!({"thickness_mm": 41, "fat_cap": true}),   vec![(TooThickForRule, Caution)]),
            (json!({"thickness_mm": 101}),                   vec![(TooThickForRule, Stop)]),
            (json!({"thickness_mm": 101, "injected": true}), vec![]),
            (json!({"temperature_c": 0.5}),                  vec![(TooCold, Caution)]),
            (json!({"temperature_c": 5}),                    vec![(TooWarm, Caution)]),
            (json!({"temperature_c": 8}),                    vec![(TooWarm, Stop)]),
        ];
        for (edit, want) in cases {
            let got = timed(&ask(edit.clone())).unwrap();
            let codes: Vec<_> = got.findings.iter().map(|f| (f.code, f.severity)).collect();
            assert_eq!(codes, want, "{edit}");
        }
        assert_eq!(
            timed(&ask(json!({"thickness_mm": 0}))).unwrap_err()[0].to_string(),
            "thickness_mm: Give a number above zero, such as 45."
        );
    }

    #[test]
    fn the_middle_of_a_thin_slab_evens_out_and_of_a_thick_one_does_not() {
        assert!(centre(25.0, false, 10.0) > 0.98);
        assert!(centre(100.0, false, 14.0) < 0.5);
        assert!(centre(60.0, true, 14.0) < centre(60.0, false, 14.0));
    }

    proptest! {
        #[test]
        fn thicker_never_takes_fewer_days(thin in 5.0..140.0, more in 0.0..60.0, skin_on: bool) {
            let days = |mm: f64| timed(&ask(json!({"thickness_mm": mm, "skin_on": skin_on}))).unwrap().suggested_days;
            prop_assert!(days(thin + more) >= days(thin));
        }
    }
}
