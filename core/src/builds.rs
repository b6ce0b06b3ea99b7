//! Builds: a product's dose, steps, targets and own words, read from a data file.

use crate::animal::{Muscles, Range};
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
    /// Sugar, spices, and whatever else goes on.
    #[serde(default)]
    pub additions: Vec<Seasoning>,
}

impl BuildDose {
    /// The salt that salty sauces bring with them (g/kg); it counts in the total.
    #[must_use]
    pub fn salt_in_sauces_g_per_kg(&self) -> f64 {
        let salty = |s: &Seasoning| s.g_per_kg * s.salt_fraction.unwrap_or(0.0);
        self.additions.iter().map(salty).sum()
    }
}

/// Sugar, a spice or a sauce, by the kilogram of meat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Seasoning {
    /// What it is called.
    pub name: String,
    /// Grams per kilogram of meat.
    pub g_per_kg: f64,
    /// The salt in it, for soy sauce and pastes.
    #[serde(default)]
    pub salt_fraction: Option<f64>,
}

impl From<&Seasoning> for Addition {
    fn from(s: &Seasoning) -> Self {
        Self {
            name: s.name.clone(),
            g_per_kg: s.g_per_kg,
        }
    }
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
    /// Never more days than these; for what has no nitrite to hold it.
    #[serde(default)]
    pub most_days: Option<u32>,
    /// Just so many days, whatever the thickness; for mixes, where the cure is everywhere at once.
    #[serde(default)]
    pub fixed_days: Option<u32>,
}

/// Something a build cannot be made without.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Tool {
    /// A smoker.
    Smoker,
    /// A kitchen oven.
    Oven,
    /// A chamber or another place with hooks, cool and damp.
    DryingPlace,
    /// A vacuum sealer and its bags.
    Vacuum,
    /// A grinder.
    Grinder,
    /// A stuffer or filling horn.
    Stuffer,
    /// A tub or bucket for brine.
    Tub,
    /// A loaf pan.
    Pan,
}

impl Tool {
    /// As people call it.
    #[must_use]
    pub const fn said(self) -> &'static str {
        match self {
            Self::Smoker => "a smoker",
            Self::Oven => "an oven",
            Self::DryingPlace => "a drying place with hooks",
            Self::Vacuum => "a vacuum sealer",
            Self::Grinder => "a grinder",
            Self::Stuffer => "a stuffer",
            Self::Tub => "a tub or bucket",
            Self::Pan => "a loaf pan",
        }
    }
}

/// Whether something is to be on or off, in or out.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Wanted {
    /// On, or in.
    #[serde(alias = "in")]
    On,
    /// Off, or out.
    #[serde(alias = "out")]
    Off,
    /// As it comes.
    #[default]
    Either,
}

/// What meat a build wants, in traits; explains why a cut does not make it.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Wants {
    /// The share of fat.
    pub fat_fraction: Option<Range>,
    /// Thinner than this it does not work (mm).
    pub least_thickness_mm: Option<f64>,
    /// Bone.
    pub bone: Wanted,
    /// Skin.
    pub skin: Wanted,
    /// One whole muscle, where that is asked for.
    pub muscles: Option<Muscles>,
    /// True when it has to lie flat.
    pub flat: bool,
    /// True when sound fat may be dried although several muscles run through it.
    pub sound_fat: bool,
}

/// What a ground build is mixed of.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Mix {
    /// The share of fat in the block, before water.
    pub fat_fraction: Range,
    /// True when it is pressed into pans.
    #[serde(default)]
    pub pans: bool,
    /// What gives the lean.
    pub lean_words: String,
    /// What gives the fat.
    pub fat_words: String,
}

/// The skin a build is filled or wrapped in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Casing {
    /// A sheet wrapped around one muscle.
    Sheet,
    /// A natural casing filled with a mix.
    Natural,
}

/// What a build is wrapped, filled, netted or tied in.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Wrap {
    /// The casing.
    pub casing: Option<Casing>,
    /// The casing's diameter, where the build asks for one (mm).
    pub diameter_mm: Option<f64>,
    /// True when it hangs or smokes in a net.
    pub net: bool,
    /// True when it is tied.
    pub ties: bool,
    /// True when it is rolled first.
    pub rolled: bool,
}

/// Another way to make the same product, with what it asks for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OtherWay {
    /// What it is called.
    pub name: String,
    /// How, and what to mind.
    pub words: String,
}

/// How a build is smoked.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SmokePlan {
    /// Where the inside is brought to (°C).
    pub inside_c: f64,
    /// Wood for a kilogram of meat, as a habit to shop by (g).
    pub wood_g_per_kg: f64,
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
    /// What to look at before going on.
    #[serde(default)]
    pub check: Option<String>,
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
    /// The products it stands among in lists.
    pub family: String,
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
    /// What it cannot be made without.
    #[serde(default)]
    pub tools: Vec<Tool>,
    /// What meat it wants.
    #[serde(default)]
    pub wants: Wants,
    /// What it is mixed of, when it is ground.
    #[serde(default)]
    pub mix: Option<Mix>,
    /// What it is wrapped in.
    #[serde(default)]
    pub wrap: Wrap,
    /// Other ways to make it.
    #[serde(default, rename = "other_way")]
    pub other_ways: Vec<OtherWay>,
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
    /// True when its pieces are ground or diced into one block.
    #[must_use]
    pub fn is_ground(&self) -> bool {
        self.form == Form::Ground
    }

    /// The middle of what should come out, of green weight; all of it where nothing is said.
    #[must_use]
    pub fn usual_yield(&self) -> f64 {
        self.yield_of_green
            .map_or(1.0, |r| f64::midpoint(r.low, r.high))
    }

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
                    let cured = dose.cure == "none" || dose.cure_g_per_kg.is_some();
                    assert!(cured && dose.salt_g_per_kg.is_some(), "{}", b.key);
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
            assert_eq!(b.is_ground(), b.mix.is_some(), "{}", b.key);
            assert!(
                b.ending || (b.steps.len() >= 3 && b.yield_of_green.is_some()),
                "{}: steps and yield",
                b.key
            );
            for words in [&b.what, &b.why, &b.how_long, &b.goes_wrong] {
                assert!(words.ends_with('.'), "{}: “{words}”", b.key);
            }
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
}
