//! What a level teaspoon of something weighs.

use super::species::Range;
use serde::{Deserialize, Serialize};

/// One ingredient by the spoon.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Spoon {
    /// Its word in requests.
    pub key: String,
    /// What people call it.
    pub names: Vec<String>,
    /// A level US teaspoon of it (g).
    pub tsp_g: f64,
    /// What such a teaspoon may weigh (g).
    pub range: Range,
    /// A wide estimate of the kitchen: recipes are read by it, the calculator does not answer for it.
    #[serde(default)]
    pub estimate: bool,
}

impl Spoon {
    /// True when people call it so.
    #[must_use]
    pub fn is_called(&self, name: &str) -> bool {
        self.names
            .iter()
            .any(|n| n.eq_ignore_ascii_case(name.trim()))
    }
}
