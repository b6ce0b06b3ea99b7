//! Trade rules for how long a cure takes, as data.

use serde::{Deserialize, Serialize};

/// What a rule counts its days by.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum GoesBy {
    /// Days for each inch of thickness, and some on top.
    Inches,
    /// How far the cure walks in a week, from each open face.
    Depth,
    /// The weight, rubbed or in brine.
    Weight,
    /// Classes of thickness.
    Class,
    /// The brine that was pumped in.
    Injection,
}

/// For what a rule may be the one that is suggested; the longest of those that may is.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Suggested {
    /// For nothing: it is one of those to choose from.
    #[default]
    Never,
    /// Wherever it counts any days.
    Always,
    /// Where nothing was pumped in.
    Uninjected,
    /// The same, up to the thickness at which the inch rules end.
    UninjectedInReach,
}

/// A trade rule for curing days.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TimeRule {
    /// The stable word.
    pub key: String,
    /// As it is called.
    pub name: String,
    /// What it says.
    pub words: String,
    /// What it counts its days by.
    pub goes_by: GoesBy,
    /// For what it may be suggested.
    #[serde(default)]
    pub suggested: Suggested,
    /// Days for each inch, where the rule is one of these.
    #[serde(default)]
    pub per_inch: Option<f64>,
    /// Days on top.
    #[serde(default)]
    pub plus: Option<f64>,
}

/// The numbers that the schools count with.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Numbers {
    /// How far the cure walks in a week (mm).
    pub depth_mm_per_week: f64,
    /// The share of the thickness it has to walk under a fat cap.
    pub fat_cap_path: f64,
    /// Days a kilogram, rubbed.
    pub dry_days_per_kg: f64,
    /// Days a kilogram, in brine.
    pub brine_days_per_kg: f64,
    /// The least days of an injected piece.
    pub injected_least_days: f64,
    /// Over this the trade rules lag behind (mm).
    pub thick_mm: f64,
    /// The same with one face closed (mm).
    pub thick_closed_face_mm: f64,
    /// Over this the inch rules do not hold at all (mm).
    pub inch_rules_end_mm: f64,
    /// Under this the cure nearly stands still (°C).
    pub cold_c: f64,
    /// Over this spoilage gains on the salt (°C).
    pub warm_c: f64,
    /// Over this meat spoils faster than it cures (°C).
    pub spoiling_c: f64,
    /// How fast salt moves in lean muscle (m²/s).
    pub diffusivity_m2_s: f64,
    /// Days by class of thickness: up to so many millimetres, so many days.
    pub classes: Vec<(f64, f64)>,
}

/// Every school, and the numbers they count with.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct TimeRules {
    /// The schools.
    #[serde(rename = "school")]
    pub list: Vec<TimeRule>,
    /// Their numbers.
    pub numbers: Numbers,
}

impl TimeRules {
    /// The rule of a key.
    #[must_use]
    pub fn rule(&self, key: &str) -> Option<&TimeRule> {
        self.list.iter().find(|r| r.key == key)
    }
}

/// The school a cure was started by, whole for the rules that are a number of days an inch.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct TimeRuleFact {
    /// Its stable word.
    pub key: String,
    /// Days for each inch, where the rule is one of these.
    #[serde(default)]
    pub per_inch: Option<f64>,
    /// Days on top.
    #[serde(default)]
    pub plus: Option<f64>,
}

impl From<&TimeRule> for TimeRuleFact {
    fn from(school: &TimeRule) -> Self {
        Self {
            key: school.key.clone(),
            per_inch: school.per_inch,
            plus: school.plus,
        }
    }
}
