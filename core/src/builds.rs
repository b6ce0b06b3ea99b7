//! Builds: a product's dose, steps, targets and own words, read from a data file.

use crate::animal::Range;
use crate::cure::Addition;
use crate::cure::rules::{Class, Form};
use crate::data;
use serde::{Deserialize, Serialize};
use std::sync::LazyLock;

/// How a build is cured.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Curing {
    /// Rubbed with a dose measured on its weight.
    MeasuredDry,
    /// Laid in a brine that evens out.
    EquilibriumBrine,
    /// Not at all.
    None,
}

/// The station a piece goes to after its cure.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum AfterCure {
    /// Into the smoker.
    Smoke,
    /// Onto the hook.
    Hang,
    /// Straight to the packing table.
    Pack,
}

/// How the finished product is eaten; printed on the pack.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Eat {
    /// Raw inside.
    CookBeforeEating,
    /// As it is.
    ReadyToEat,
    /// Not at all.
    NotEaten,
}

/// What a build is dosed with; per kilogram of meat when dry, as shares when in brine.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BuildDose {
    /// The curing salt's word.
    pub cure: String,
    /// Curing salt (g/kg).
    #[serde(default)]
    pub cure_g_per_kg: Option<f64>,
    /// Nitrite over meat and brine (ppm).
    #[serde(default)]
    pub nitrite_ppm: Option<f64>,
    /// Salt in all (g/kg).
    #[serde(default)]
    pub salt_g_per_kg: Option<f64>,
    /// Salt as a share of meat and water.
    #[serde(default)]
    pub salt_fraction: Option<f64>,
    /// Sugar as a share of meat and water.
    #[serde(default)]
    pub sugar_fraction: Option<f64>,
    /// Water for the weight of the meat.
    #[serde(default)]
    pub water_per_meat: Option<f64>,
    /// Sugar and spices (g/kg).
    #[serde(default)]
    pub additions: Vec<Addition>,
}

/// How a build lies in its cure.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CurePlan {
    /// Days between turnings.
    pub turn_every_days: u32,
    /// Thicker pieces have to be cut first (mm).
    pub limit_thickness_mm: f64,
    /// Never fewer days than these.
    #[serde(default)]
    pub least_days: Option<u32>,
    /// Days for each 25 mm of thickness, where the build asks for them.
    #[serde(default)]
    pub days_per_25_mm: Option<u32>,
}

/// How a build is smoked.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SmokePlan {
    /// Where the inside is brought to (°C).
    pub inside_c: f64,
    /// The run in words.
    pub words: String,
}

/// How a build hangs.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HangPlan {
    /// The share of its weight it is to lose.
    pub loss_fraction: f64,
    /// The place in words.
    pub words: String,
}

/// Something to do, at one point of the way.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Step {
    /// `cure`, `out`, `smoke`, `hang` or `pack`.
    pub at: String,
    /// The trade's verb.
    pub verb: String,
    /// What to do.
    pub words: String,
}

/// How well some cuts of some species suit a build: 2 classic, 1 works, 0 no.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Suit {
    /// Species, or `*` for any.
    pub species: Vec<String>,
    /// Cuts, or `*` for any.
    pub cuts: Vec<String>,
    /// 2 classic, 1 works, 0 no.
    pub score: u8,
    /// Why.
    pub reason: String,
}

/// How long a pack stays good in a place.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Keep {
    /// Where and how.
    pub place: String,
    /// Days of good quality.
    pub days: u32,
}

/// A product of the catalogue.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Build {
    /// The stable word.
    pub key: String,
    /// Grows with every change; a running piece keeps the one it started with.
    pub version: u32,
    /// As it is called at the table.
    pub name: String,
    /// What it is.
    pub what: String,
    /// Why one would make it.
    pub why: String,
    /// How long it takes.
    pub how_long: String,
    /// What goes wrong.
    pub goes_wrong: String,
    /// How it is cured.
    pub method: Curing,
    /// What becomes of it, as the rules divide the world.
    pub class: Class,
    /// A lump or a mix.
    pub form: Form,
    /// Where it goes after its cure.
    pub after_cure: AfterCure,
    /// How it is eaten.
    pub eat: Eat,
    /// True for fresh, render, stock, trim and waste: no cure, no plan.
    #[serde(default)]
    pub ending: bool,
    /// True for what is thrown away.
    #[serde(default)]
    pub discard: bool,
    /// True when it is eaten without ever being heated.
    #[serde(default)]
    pub raw_dried: bool,
    /// What should come out, of green weight.
    #[serde(default)]
    pub yield_of_green: Option<Range>,
    /// The dose.
    #[serde(default)]
    pub dose: Option<BuildDose>,
    /// The cure.
    #[serde(default)]
    pub cure: Option<CurePlan>,
    /// The smoke.
    #[serde(default)]
    pub smoke: Option<SmokePlan>,
    /// The hanging.
    #[serde(default)]
    pub hang: Option<HangPlan>,
    /// What to do on the way.
    #[serde(default, rename = "step")]
    pub steps: Vec<Step>,
    /// What suits it.
    #[serde(rename = "suit")]
    pub suits: Vec<Suit>,
    /// How long it keeps.
    #[serde(default, rename = "keep")]
    pub keeps: Vec<Keep>,
}

/// Every build that ships with the program, in order of file name.
pub static BUILDS: LazyLock<Vec<Build>> = LazyLock::new(|| data::folder("builds"));

/// The build called `key`.
#[must_use]
pub fn build(key: &str) -> Option<&'static Build> {
    BUILDS.iter().find(|b| b.key == key)
}

impl Build {
    /// The entry of its table that speaks of a cut, if one does.
    #[must_use]
    pub fn suit(&self, species: &str, cut: &str) -> Option<&Suit> {
        let named = |list: &[String], word: &str| list.iter().any(|w| w == word || w == "*");
        self.suits
            .iter()
            .find(|s| named(&s.species, species) && named(&s.cuts, cut))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::animal::SPECIES;
    use crate::cure::cure_by_key;

    #[test]
    fn every_build_is_whole() {
        for b in BUILDS.iter() {
            match b.method {
                Curing::None => assert!(b.ending && b.dose.is_none(), "{}", b.key),
                Curing::MeasuredDry => {
                    let dose = b.dose.as_ref().unwrap();
                    assert!(
                        dose.cure_g_per_kg.is_some() && dose.salt_g_per_kg.is_some(),
                        "{}",
                        b.key
                    );
                }
                Curing::EquilibriumBrine => {
                    let dose = b.dose.as_ref().unwrap();
                    assert!(
                        dose.nitrite_ppm.is_some() && dose.water_per_meat.is_some(),
                        "{}",
                        b.key
                    );
                }
            }
            if let Some(dose) = &b.dose {
                assert!(
                    cure_by_key(&dose.cure).is_some(),
                    "{}: {}",
                    b.key,
                    dose.cure
                );
            }
            assert_eq!(
                b.after_cure == AfterCure::Smoke,
                b.smoke.is_some(),
                "{}",
                b.key
            );
            assert_eq!(
                b.after_cure == AfterCure::Hang,
                b.hang.is_some(),
                "{}",
                b.key
            );
            assert!(
                b.discard || !b.keeps.is_empty(),
                "{}: how long does it keep?",
                b.key
            );
        }
    }

    #[test]
    fn builds_speak_of_species_and_cuts_that_exist() {
        for b in BUILDS.iter() {
            for s in &b.suits {
                for species in s.species.iter().filter(|k| *k != "*") {
                    assert!(
                        SPECIES.iter().any(|a| a.key == *species),
                        "{}: {species}",
                        b.key
                    );
                }
                for cut in s.cuts.iter().filter(|k| *k != "*") {
                    let found = SPECIES
                        .iter()
                        .any(|a| s.species.contains(&a.key) && a.cut(cut).is_some());
                    assert!(found, "{}: no {cut} among {:?}", b.key, s.species);
                }
            }
        }
    }

    #[test]
    fn every_build_has_a_classic_cut() {
        for b in BUILDS.iter().filter(|b| !b.ending) {
            assert!(b.suits.iter().any(|s| s.score == 2), "{}", b.key);
        }
    }
}
