//! What hangs beside the meat: what it usually weighs once it is dry, as data.

use super::Catalogue;
use crate::units::Milligrams;
use serde::{Deserialize, Serialize};

/// A kind of thing that hangs beside the meat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct TareKind {
    /// As it is called.
    pub name: String,
    /// Words by which a name is known to be of it.
    pub words: Vec<String>,
    /// What it weighs dry, as a share of what it weighed wet.
    pub dry: f64,
}

impl Catalogue {
    /// What a part of a tare usually weighs once it is dry; the same as wet where nothing is known of it.
    ///
    /// # Source
    /// `data/tare.toml`.
    #[must_use]
    pub fn dry_tare(&self, name: &str, wet: Milligrams) -> Milligrams {
        let said = name.to_lowercase();
        let words: Vec<&str> = said.split(|c: char| !c.is_alphanumeric()).collect();
        let of = |kind: &&TareKind| kind.words.iter().any(|k| words.contains(&k.as_str()));
        let kind = self.tare.iter().find(of);
        kind.map_or(wet, |kind| Milligrams::from_grams(wet.grams() * kind.dry))
    }
}
