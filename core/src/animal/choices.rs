//! Ways of cutting that are settled by name: landmarks with their alternatives, squared off or
//! not, what stays joined. They go on the cut sheet, for one's own table or for a butcher.

use super::Species;
use crate::data;
use serde::{Deserialize, Serialize};
use std::sync::LazyLock;

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

#[derive(Deserialize)]
struct Choices {
    choice: Vec<Choice>,
}

/// Every choice that ships with the program.
pub static CHOICES: LazyLock<Vec<Choice>> =
    LazyLock::new(|| data::file::<Choices>("cutting.toml").choice);

/// What is to be settled for a species, in the order of the work: what its kind is asked, and
/// only about cuts it has.
pub fn of(species: &Species) -> impl Iterator<Item = &'static Choice> + '_ {
    CHOICES.iter().filter(|c| {
        c.kinds.contains(&species.kind) && c.cuts.iter().any(|cut| species.cut(cut).is_some())
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::animal::SPECIES;
    use std::collections::HashSet;

    #[test]
    fn every_choice_speaks_of_cuts_that_exist_and_has_alternatives() {
        let mut keys = HashSet::new();
        for choice in CHOICES.iter() {
            assert!(keys.insert(&choice.key), "{} stands twice", choice.key);
            assert!(choice.options.len() >= 2, "{}", choice.key);
            for kind in &choice.kinds {
                assert!(SPECIES.iter().any(|s| s.kind == *kind), "{kind}");
            }
            let asked = SPECIES
                .iter()
                .filter(|s| of(s).any(|c| c.key == choice.key));
            assert!(asked.count() > 0, "{}: nobody is asked", choice.key);
            for option in &choice.options {
                assert!(
                    option.words.ends_with('.') && option.order.ends_with('.'),
                    "{}",
                    option.key
                );
            }
        }
        for species in SPECIES.iter() {
            assert!(
                of(species).count() >= 2,
                "{}: nothing to settle",
                species.key
            );
        }
    }
}
