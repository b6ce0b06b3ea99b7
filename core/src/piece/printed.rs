//! What a label said when it was printed: a fact, held against what may be said now.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// The word.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Verdict {
    /// As it is.
    ReadyToEat,
    /// Not without cooking: everything that is not proved to be one of the others.
    CookBeforeEating,
    /// Not at all.
    DoNotEat,
}

impl Verdict {
    /// As a label says it.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::ReadyToEat => "ready to eat",
            Self::CookBeforeEating => "cook before eating",
            Self::DoNotEat => "DO NOT EAT",
        }
    }
}

/// What made it ready.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum How {
    /// Heat that reached its target.
    Cooked,
    /// Salt, time and the weight it lost.
    Dried,
}

/// What a label says beside its word.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LabelContents {
    /// As its meat is called.
    pub meat: String,
    /// What is in it, the most first.
    pub ingredients: Vec<String>,
    /// What to name for the allergic.
    pub allergens: Vec<String>,
    /// Where it keeps and until when.
    pub keeps: Vec<PrintedKeep>,
}

/// Until when a label says that something keeps in a place.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PrintedKeep {
    /// The place.
    pub place: String,
    /// Until when.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub until: Date,
}

/// In what a label no longer holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum LabelChange {
    /// How it is eaten.
    Word,
    /// Which meat is in it.
    Meat,
    /// What else is in it.
    Ingredients,
    /// What to name for the allergic.
    Allergens,
    /// Until when it keeps.
    Keep,
}

/// What a label said, when it was printed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Printed {
    /// The word.
    pub word: Verdict,
    /// What made it ready.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub how: Option<How>,
    /// The temperature it named (°C).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub target_c: Option<f64>,
    /// What it said besides; none where an earlier version of the program did not keep that.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub contents: Option<LabelContents>,
}
