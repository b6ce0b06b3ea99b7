//! Ways of cutting that are settled by name, as data.

use serde::{Deserialize, Serialize};

/// One alternative.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ChoiceOption {
    /// The stable word.
    pub key: String,
    /// As it is called.
    pub name: String,
    /// What it gives and what it costs.
    pub words: String,
    /// What to tell a butcher.
    pub order: String,
    /// The cut that takes the place of the usual ones, such as loin and belly in one.
    #[serde(default)]
    pub makes: Option<String>,
}

/// Something to be settled before the knife goes in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Choice {
    /// The stable word.
    pub key: String,
    /// The kinds of animal it is about.
    pub kinds: Vec<String>,
    /// The cuts it is about.
    pub cuts: Vec<String>,
    /// The question.
    pub name: String,
    /// The alternatives; the first is the usual one.
    #[serde(rename = "option")]
    pub options: Vec<ChoiceOption>,
}
