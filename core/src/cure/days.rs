//! How long one piece lies in its cure: by the household's school, its faces and its build.

use super::methods::box_hours;
use super::time::{CureTimeAsk, SchoolDays, TimeRules, centre_share, cure_time, too_thick_after};
use crate::catalogue::builds::Build;
use crate::catalogue::time_rules::GoesBy;
use crate::caution::{Code, FieldError, Finding};
use crate::dose::{OwnTime, TimeRuleFact};
use crate::shape::Shape;
use crate::units::{Grams, Millimetres, Units};

/// A piece as it lies in its cure.
pub struct Lying<'a> {
    /// Its build.
    pub build: &'a Build,
    /// Greatest thickness, where it is known to have one.
    pub thickness: Millimetres,
    /// Green weight.
    pub mass: Grams,
    /// How it lies.
    pub shape: &'a Shape,
    /// True when brine was pumped into it.
    pub pumped: bool,
    /// What was settled on for its time.
    pub time: &'a OwnTime,
}

/// A mix that nobody cased counts as so thick (mm).
const MIX_MM: f64 = 60.0;

/// The thickness that days are counted by: as measured. A mix is cured everywhere at once, so one that nobody measured counts
/// as wide as its casing.
#[must_use]
pub fn counted_thickness(build: &Build, measured: Option<Millimetres>) -> Option<Millimetres> {
    let mix = || Millimetres(build.wrap.diameter_mm.unwrap_or(MIX_MM));
    measured.or_else(|| build.is_ground().then(mix))
}

/// The days are what the product itself asks for.
pub const BUILD: &str = "build";

/// The days are those of a recipe.
pub const RECIPE: &str = "recipe";

/// The hours are those of a salt box.
pub const SALT_BOX: &str = "salt_box";

/// How long a piece lies in its cure, and by whose word.
#[derive(Clone, Debug, PartialEq)]
pub struct DayPlan {
    /// Whole days.
    pub days: u32,
    /// Hours, in a salt box.
    pub hours: Option<f64>,
    /// The school, `build` when the build asks for more, `recipe` or `salt_box`.
    pub by: String,
    /// Every school that applies.
    pub schools: Vec<SchoolDays>,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// Days in the cure by the household's school, never fewer than the build asks for.
///
/// With one face closed the inch rules alone are not enough: depth a week is the floor. A school
/// that the catalogue no longer knows still counts by its own days an inch.
///
/// # Errors
/// A thickness that cannot be.
pub fn days(
    lying: &Lying<'_>,
    school: Option<&TimeRuleFact>,
    schools: &TimeRules,
    units: Units,
) -> Result<DayPlan, Vec<FieldError>> {
    if lying.build.is_ground() {
        // It is cured everywhere at once: no rule of thickness says anything of it.
        let fixed = lying.build.cure.as_ref().and_then(|c| c.fixed_days);
        let by = if lying.time.days.is_some() {
            RECIPE
        } else {
            BUILD
        };
        return Ok(DayPlan {
            days: lying.time.days.or(fixed).unwrap_or(1),
            hours: None,
            by: by.into(),
            schools: Vec::new(),
            findings: Vec::new(),
        });
    }
    let got = cure_time(
        &CureTimeAsk {
            thickness_mm: lying.thickness.0,
            method: lying.build.method.dosing().days_by,
            mass_g: Some(lying.mass.0),
            depth_mm_per_week: None,
            skin_on: lying.shape.skin_on,
            fat_cap: lying.shape.fat_cap,
            injected: lying.pumped,
            temperature_c: 3.0,
        },
        schools,
        units,
    )?;
    let of = |key: &str| got.schools.iter().find(|s| s.school == key);
    let is_inch_rule = school.is_some_and(|s| s.per_inch.is_some());
    let closed = lying.shape.has_closed_face();
    let gone = |own: &TimeRuleFact| {
        let exact = own.per_inch? * lying.thickness.inches() + own.plus?;
        Some(((exact - 1e-9).ceil().max(0.0) as u32, own.key.clone()))
    };
    let mut chosen = match school {
        Some(own) => of(&own.key)
            .map(|s| (s.days, s.school.clone()))
            .or_else(|| gone(own)),
        None => None,
    }
    .unwrap_or((got.suggested_days, got.suggested_by.clone()));
    if is_inch_rule
        && closed
        && let Some(rule) = schools.list.iter().find(|r| r.goes_by == GoesBy::Depth)
        && let Some(depth) = of(&rule.key).filter(|d| d.days > chosen.0)
    {
        chosen = (depth.days, depth.school.clone());
    }
    let plan = lying.build.cure.as_ref();
    if let Some(dose) = lying
        .build
        .dose
        .as_ref()
        .filter(|_| lying.build.method.is_buried())
    {
        let usual = || box_hours(dose, lying.thickness, lying.mass);
        let hours = lying.time.hours.unwrap_or_else(usual);
        return Ok(DayPlan {
            days: (hours / 24.0 - 1e-9).ceil().max(0.0) as u32,
            hours: Some(hours),
            by: SALT_BOX.into(),
            schools: got.schools,
            findings: Vec::new(),
        });
    }
    if lying.pumped {
        // It cures from its middle too: neither the school's inches nor the build's count.
        return Ok(DayPlan {
            days: lying.time.days.unwrap_or(got.suggested_days),
            hours: None,
            by: lying
                .time
                .days
                .map_or(got.suggested_by, |_| RECIPE.to_string()),
            schools: got.schools,
            findings: got.findings,
        });
    }
    let least = plan.and_then(|c| c.least_days).unwrap_or(0);
    let by_thickness = plan.and_then(|c| c.days_per_25_mm).map_or(0, |per| {
        (lying.thickness.0 / 25.0 * f64::from(per) - 1e-9).ceil() as u32
    });
    let own = least.max(by_thickness);
    let asked = own.max(raw_thick(lying, own.max(chosen.0), schools));
    if asked > chosen.0 {
        chosen = (asked, BUILD.into());
    }
    if let Some(fixed) = plan.and_then(|c| c.fixed_days) {
        chosen = (fixed, BUILD.into());
    }
    if let Some(days) = lying.time.days {
        chosen = (days, RECIPE.into());
    }
    if let Some(most) = plan.and_then(|c| c.most_days).filter(|m| *m < chosen.0) {
        chosen = (most, BUILD.into());
    }
    let own_days = plan.is_some_and(|c| c.fixed_days.is_some());
    let limit = plan.map_or(0.0, |c| c.limit_thickness_mm);
    let mut findings = got.findings;
    if (asked > 0 || own_days) && lying.thickness.0 <= limit {
        // The build's own weeks stand in for the inch rules up to its own limit.
        findings.retain(|f| f.code != Code::TooThickForRule);
    }
    // It speaks of the days that were chosen.
    for finding in findings
        .iter_mut()
        .filter(|f| f.code == Code::TooThickForRule)
    {
        let numbers = &schools.numbers;
        let saw = too_thick_after(lying.thickness, closed, chosen.0, numbers, units);
        finding.saw = Some(saw);
    }
    Ok(DayPlan {
        days: chosen.0,
        hours: None,
        by: chosen.1,
        schools: got.schools,
        findings,
    })
}

/// The middle has taken enough at this share of the mean.
pub const EVEN_ENOUGH: f64 = 0.70;

/// Over this thickness (mm) a piece dried raw cures 7 days for each 25 mm.
const THICK_MM: f64 = 50.0;

/// The least days of a piece that is dried raw and thicker than 50 mm: 7 for each 25 mm; 0 for a thinner one.
#[must_use]
pub fn thick_days(thickness: Millimetres) -> u32 {
    if thickness.0 > THICK_MM {
        (thickness.0 / 25.0 * 7.0 - 1e-9).ceil() as u32
    } else {
        0
    }
}

/// The days that a thick piece dried raw needs besides, where after those of its plan its middle has not caught up: no
/// plan ends on a day on which it could not be taken out.
fn raw_thick(lying: &Lying<'_>, planned: u32, schools: &TimeRules) -> u32 {
    if !lying.build.raw_dried || lying.build.is_ground() {
        return 0;
    }
    let closed = lying.shape.has_closed_face();
    let even = centre_share(
        lying.thickness,
        closed,
        f64::from(planned),
        &schools.numbers,
    );
    if even >= EVEN_ENOUGH {
        0
    } else {
        thick_days(lying.thickness)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::catalogue::Catalogue;

    #[test]
    fn the_school_the_skin_and_the_build_decide_the_days() {
        let catalogue = Catalogue::shipped();
        let lie = |key: &str, mm: f64, skin_on: bool, school: Option<&str>| {
            let lying = Lying {
                build: catalogue.build(key).unwrap(),
                thickness: Millimetres(mm),
                mass: Grams(2_000.0),
                shape: &Shape {
                    skin_on,
                    ..Shape::default()
                },
                pumped: false,
                time: &OwnTime::default(),
            };
            let school = school.map(|k| TimeRuleFact::from(catalogue.school(k).unwrap()));
            let plan = days(&lying, school.as_ref(), &catalogue.schools, Units::METRIC).unwrap();
            (plan.days, plan.by)
        };
        #[rustfmt::skip]
    let cases = [
        (lie("belly-slab", 25.4, false, None),                     (5, "days_per_inch_3_2")),
        (lie("belly-slab", 25.4, false, Some("days_per_inch_7_0")), (7, "days_per_inch_7_0")),
        (lie("belly-slab", 36.0, true, Some("days_per_inch_3_2")), (14, "depth_per_week")),
        (lie("muscle-cased", 50.0, false, None),                   (21, "build")),
        (lie("muscle-cased", 90.0, false, None),                   (26, "build")),
        // dried raw and thick: by its own days where the middle has caught up by then, else 7 for each 25 mm
        (lie("tenderloin-buried", 60.0, false, None),              (12, "depth_per_week")),
        (lie("tenderloin-buried", 60.0, false, Some("days_per_inch_3_2")), (10, "days_per_inch_3_2")),
        (lie("tenderloin-buried", 60.0, true, Some("days_per_inch_3_2")), (24, "depth_per_week")),
        (lie("tenderloin-buried", 75.0, false, Some("days_per_inch_3_2")), (21, "build")),
    ];
        for (got, want) in cases {
            assert_eq!((got.0, got.1.as_str()), want);
        }
    }
}
