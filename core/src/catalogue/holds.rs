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
    /// A test of the animal that ends it as well: what for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tested_for: Option<String>,
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
    /// Stamped by an inspector, where stamped meat is tested.
    Stamped,
    /// It will not be tested.
    NotTested,
    /// It comes from where the disease is not known.
    NotAffected,
}

impl HoldAnswer {
    /// As it is said.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Waiting => "sent in, waiting for the result",
            Self::Clear => "clear",
            Self::Positive => "positive",
            Self::Done => "done",
            Self::Strong => "smells strong",
            Self::Stamped => "stamped by an inspector",
            Self::NotTested => "not tested",
            Self::NotAffected => "not an affected area",
        }
    }
}

impl SpeciesHold {
    /// The answers that can be given: freezing has some only where a test ends it as well.
    #[must_use]
    pub fn answers(&self) -> &'static [HoldAnswer] {
        match (self.kind, &self.tested_for) {
            (HoldKind::Freezing, None) => &[],
            (kind, _) => kind.answers(),
        }
    }
}

impl HoldKind {
    /// The answers that mean something for it.
    #[must_use]
    pub const fn answers(self) -> &'static [HoldAnswer] {
        match self {
            Self::Freezing => &[HoldAnswer::Clear, HoldAnswer::Stamped, HoldAnswer::Positive],
            Self::WastingTest => &[
                HoldAnswer::Waiting,
                HoldAnswer::Clear,
                HoldAnswer::Positive,
                HoldAnswer::NotTested,
                HoldAnswer::NotAffected,
            ],
            Self::Shot => &[HoldAnswer::Done],
            Self::Smell => &[HoldAnswer::Clear, HoldAnswer::Strong],
        }
    }
}
