//! What holds an animal's meat back, as its species' data file words it.

use serde::{Deserialize, Serialize};

/// A kind of hold.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum HoldKind {
    /// Frozen by inside temperature and days.
    Freezing,
    /// Tested for chronic wasting disease.
    WastingTest,
    /// Wound and shot cut out.
    Shot,
    /// A scrap fried for its smell.
    Smell,
}

/// What a hold keeps from being done.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum HoldsBack {
    /// A bad answer forbids everything but throwing away.
    Everything,
    /// Drying it raw.
    RawDrying,
    /// Nothing; it is a reminder with an end.
    Nothing,
}

/// Which animals of a species it is asked of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum HoldWhen {
    /// All.
    Always,
    /// Hunted ones.
    Harvested,
    /// Grown or old males.
    OldMale,
}

/// So many days at or below a temperature, for pieces up to a thickness.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FreezingRow {
    /// Inside temperature (°C).
    pub at_or_below_c: f64,
    /// Pieces up to this thickness (mm).
    pub up_to_mm: f64,
    /// Days without a break.
    pub days: u32,
}

/// A hold of a species, as its data file words it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SpeciesHold {
    /// Its kind.
    pub kind: HoldKind,
    /// What it keeps from being done.
    pub holds_back: HoldsBack,
    /// Which animals it is asked of.
    pub when: HoldWhen,
    /// What is to have happened.
    pub name: String,
    /// The hazard.
    pub words: String,
    /// What it asks for.
    pub asks: String,
    /// Whose word that is.
    pub source: String,
    /// Temperatures and days, for freezing.
    #[serde(default, rename = "row")]
    pub rows: Vec<FreezingRow>,
}

/// What was found out.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum HoldAnswer {
    /// Sent in; the answer is waited for.
    Waiting,
    /// Nothing was found; the smell is fine.
    Clear,
    /// The disease was found.
    Positive,
    /// The wound is cut out.
    Done,
    /// It smells strong.
    Strong,
}

impl HoldKind {
    /// The answers that mean something for it.
    #[must_use]
    pub const fn answers(self) -> &'static [HoldAnswer] {
        match self {
            Self::Freezing => &[],
            Self::WastingTest => &[HoldAnswer::Waiting, HoldAnswer::Clear, HoldAnswer::Positive],
            Self::Shot => &[HoldAnswer::Done],
            Self::Smell => &[HoldAnswer::Clear, HoldAnswer::Strong],
        }
    }
}
