//! The catalogue: species, builds, cures, rules, schools, ways of cutting and checks, as data.
//!
//! It is an argument of whatever judges or plans. What a household began with is kept on its
//! [`Snapshot`] by key and version, so that a running piece and an old dose keep theirs when the
//! catalogue changes; what stands on neither is shown as gone and never breaks a ledger.

pub mod builds;
pub mod check;
mod counted;
pub mod cure_names;
pub mod cures;
pub mod cutting;
pub mod dosing;
pub mod heat_rules;
pub mod holds;
pub mod lexicon;
mod load;
pub mod meats;
pub mod place_kinds;
pub mod rules;
pub mod shapes;
pub mod species;
pub mod spoons;
pub mod steps;
pub mod tare;
pub mod time_rules;
pub mod words;

use crate::caution::FieldError;
use crate::units::{Grams, PPM};
use builds::{Build, BuildRef};
pub use check::Mistake;
pub use counted::Counted;
use cures::{Cure, Role};
use cutting::Choice;
use heat_rules::HeatRule;
use lexicon::Lexicon;
use meats::{Allergen, Meat};
use place_kinds::PlaceKind;
use rules::{Class, Law, RuleSet};
use serde::{Deserialize, Serialize};
use shapes::Shapes;
use species::{Range, Species};
use spoons::Spoon;
use std::collections::BTreeMap;
use std::sync::{Arc, LazyLock};
use steps::Check;
use tare::TareKind;
use time_rules::{TimeRule, TimeRuleFact, TimeRules};
use words::Words;

/// Which shelf of the pantry an ingredient stands on; what is not named here is a spice.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Shelves {
    /// Sugars.
    pub sugar: Vec<String>,
    /// Plain salts.
    pub salt: Vec<String>,
    /// What comes out of the tap.
    pub free: Vec<String>,
    /// Bought by the kilogram to be ground in.
    pub bought_fat: String,
    /// Smoking wood.
    pub wood: String,
    /// What holds pieces together.
    pub binder: Vec<String>,
    /// Liquids, syrups and pastes, with what they bring.
    #[serde(rename = "liquid")]
    pub liquids: Vec<Brings>,
    /// What speeds a cure up.
    #[serde(rename = "accelerator")]
    pub accelerators: Vec<Accelerator>,
}

/// What a liquid, syrup or paste brings into a dose, by mass; a label in hand says it better.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Brings {
    /// What people call it.
    pub names: Vec<String>,
    /// Water.
    #[serde(default)]
    pub water: f64,
    /// Sugars.
    #[serde(default)]
    pub sugar: f64,
    /// Salt.
    #[serde(default)]
    pub salt: f64,
    /// What the salt may be, where labels differ.
    #[serde(default)]
    pub salt_range: Option<Range>,
}

/// What speeds a cure up, and how much of it is allowed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Accelerator {
    /// What people call it.
    pub names: Vec<String>,
    /// The most of the pure substance (ppm of the meat).
    pub most_ppm: f64,
    /// True for shop blends, which hold only some of it: their purity is asked for.
    #[serde(default)]
    pub diluted: bool,
}

/// 7/8 oz on 100 lb is 547 ppm, and half a gram more or less is the scale (ppm).
pub(crate) const ACCELERATOR_MARGIN: f64 = 1.0;

impl Accelerator {
    /// Whether so much of it is allowed in so much meat. A blend with little in it is asked for its purity elsewhere.
    #[must_use]
    pub fn is_allowed(&self, grams: Grams, meat: Grams) -> bool {
        self.diluted || grams.0 / meat.0 * PPM <= self.most_ppm + ACCELERATOR_MARGIN
    }
}

/// Something that a ledger leans on, as it was when it was first used.
#[derive(Clone, Debug, PartialEq)]
pub enum Kept {
    /// A product.
    Build(Arc<Build>),
    /// A species.
    Species(Arc<Species>),
}

/// Names something kept: its kind, its word and its version.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct SnapshotKey {
    /// `build` or `species`.
    pub kind: &'static str,
    /// Its stable word.
    pub key: String,
    /// Its version.
    pub version: u32,
}

impl SnapshotKey {
    /// Names a build.
    #[must_use]
    pub fn build(of: &BuildRef) -> Self {
        Self {
            kind: "build",
            key: of.key.clone(),
            version: of.version,
        }
    }

    /// Names a species.
    #[must_use]
    pub fn species(key: &str, version: u32) -> Self {
        Self {
            kind: "species",
            key: key.into(),
            version,
        }
    }
}

impl Kept {
    /// What it is called by machines.
    #[must_use]
    pub fn key(&self) -> SnapshotKey {
        match self {
            Self::Build(b) => SnapshotKey::build(&b.reference()),
            Self::Species(s) => SnapshotKey::species(&s.key, s.version),
        }
    }
}

/// What a household began with, by kind, word and version.
pub type Snapshot = BTreeMap<SnapshotKey, Kept>;

/// Everything that people may dispute, as data.
#[derive(Clone, Debug, PartialEq)]
pub struct Catalogue {
    /// Species, in the order of lists.
    pub species: Vec<Arc<Species>>,
    /// The newest version of every build, in order of file name.
    pub builds: Vec<Arc<Build>>,
    /// Curing salts.
    pub cures: Vec<Cure>,
    /// Rule sets.
    pub rules: Vec<RuleSet>,
    /// Schools for curing days.
    pub schools: TimeRules,
    /// Trade rules for how warm a chamber is set; the first where nobody picks.
    pub heat: Vec<HeatRule>,
    /// What hangs beside the meat, and what it weighs dry.
    pub tare: Vec<TareKind>,
    /// Ways of cutting.
    pub cutting: Vec<Choice>,
    /// Checks and their grades.
    pub checks: Vec<Check>,
    /// Kinds of places.
    pub place_kinds: Vec<PlaceKind>,
    /// Meats by the words they are called by.
    pub meats: Vec<Meat>,
    /// What is to be named for the allergic.
    pub allergens: Vec<Allergen>,
    /// What a spoon of something weighs.
    pub spoons: Vec<Spoon>,
    /// The words that recipes are read by.
    pub lexicon: Arc<Lexicon>,
    /// Shelves of the pantry.
    pub shelves: Shelves,
    /// How meat lies and is wrapped.
    pub shapes: Shapes,
    /// What screens call the members of enumerations.
    pub words: Words,
    /// What the household began with.
    shelf: Snapshot,
}

static SHIPPED: LazyLock<Arc<Catalogue>> = LazyLock::new(|| {
    let read = Catalogue::read(&crate::data::shipped());
    Arc::new(read.unwrap_or_else(|mistakes| panic!("{}", check::list(&mistakes))))
});

impl Catalogue {
    /// The catalogue that ships with the program.
    ///
    /// # Panics
    /// When a shipped file has a mistake; a test reads them all, so a release cannot hold one.
    #[must_use]
    pub fn shipped() -> Arc<Self> {
        SHIPPED.clone()
    }

    /// The same catalogue with what a household began with.
    #[must_use]
    pub fn with_shelf(&self, shelf: Snapshot) -> Self {
        Self {
            shelf,
            ..self.clone()
        }
    }

    /// What the household began with.
    #[must_use]
    pub fn shelf(&self) -> &Snapshot {
        &self.shelf
    }

    /// Puts something on the shelf, unless it stands there.
    pub fn keep(&mut self, kept: Kept) {
        self.shelf.entry(kept.key()).or_insert(kept);
    }

    /// What the catalogue itself knows under a name, to be put on a shelf.
    #[must_use]
    pub fn to_keep(&self, key: &SnapshotKey) -> Option<Kept> {
        if let Some(kept) = self.shelf.get(key) {
            return Some(kept.clone());
        }
        let build = self.build(&key.key).cloned().map(Kept::Build);
        let species = self.species(&key.key).cloned().map(Kept::Species);
        [build, species]
            .into_iter()
            .flatten()
            .find(|kept| kept.key() == *key)
    }

    /// The newest version of a build.
    #[must_use]
    pub fn build(&self, key: &str) -> Option<&Arc<Build>> {
        self.builds.iter().find(|b| b.key == key)
    }

    /// A build as it was at its version: from the shelf, else from the catalogue, else as gone.
    #[must_use]
    pub fn build_as(&self, of: &BuildRef) -> Arc<Build> {
        match self.shelf.get(&SnapshotKey::build(of)) {
            Some(Kept::Build(build)) => build.clone(),
            Some(Kept::Species(_)) | None => self
                .build(&of.key)
                .filter(|b| b.version == of.version)
                .cloned()
                .unwrap_or_else(|| Arc::new(Build::gone(&of.key, of.version))),
        }
    }

    /// What a build is called, whether the catalogue still holds it or not.
    #[must_use]
    pub fn build_name(&self, key: &str) -> String {
        if let Some(build) = self.build(key) {
            return build.name.clone();
        }
        let kept = self.shelf.values().rev().find_map(|k| match k {
            Kept::Build(b) if b.key == key => Some(b),
            Kept::Build(_) | Kept::Species(_) => None,
        });
        match kept {
            Some(build) => format!("{} (no longer in the catalogue)", build.name),
            None => Build::gone(key, 0).name,
        }
    }

    /// The newest version of a species.
    #[must_use]
    pub fn species(&self, key: &str) -> Option<&Arc<Species>> {
        self.species.iter().find(|s| s.key == key)
    }

    /// A species as it was at its version, judged by the newest word on what is safe.
    ///
    /// Cuts and traits are facts that a ledger was written by. Temperatures, holds and warnings
    /// are judgements: where the catalogue knows better today, an animal in the freezer is
    /// judged by that.
    #[must_use]
    pub fn species_as(&self, key: &str, version: u32) -> Arc<Species> {
        let newest = self.species(key);
        let kept = match self.shelf.get(&SnapshotKey::species(key, version)) {
            Some(Kept::Species(species)) => species.clone(),
            Some(Kept::Build(_)) | None => {
                return newest
                    .filter(|s| s.version == version)
                    .cloned()
                    .unwrap_or_else(|| Arc::new(Species::gone(key, version)));
            }
        };
        match newest {
            Some(newest) if newest.version != version => Arc::new(Species {
                safe_inside_c: newest.safe_inside_c,
                safe_inside_why: newest.safe_inside_why.clone(),
                raw_drying: newest.raw_drying.clone(),
                cautions: newest.cautions.clone(),
                holds: newest.holds.clone(),
                ..(*kept).clone()
            }),
            Some(_) | None => kept,
        }
    }

    /// The curing salt called `key`.
    #[must_use]
    pub fn cure(&self, key: &str) -> Option<&Cure> {
        self.cures.iter().find(|c| c.key == key)
    }

    /// The rule set called `key`.
    ///
    /// # Errors
    /// When there is none; the message lists those there are.
    pub fn rule_set(&self, key: &str) -> Result<&RuleSet, FieldError> {
        self.rules.iter().find(|r| r.key == key).ok_or_else(|| {
            let keys: Vec<_> = self.rules.iter().map(|r| r.key.as_str()).collect();
            FieldError::new(
                "rule_set",
                format!(
                    "There is no rule set “{key}”. Use one of {}.",
                    keys.join(", ")
                ),
            )
        })
    }

    /// A rule set that has a limit for this meat, cured so.
    ///
    /// # Errors
    /// Names the field that leaves it without one.
    pub(crate) fn rules_with_limit(
        &self,
        key: &str,
        class: Class,
        law: Law,
        skin_on: bool,
    ) -> Result<&RuleSet, FieldError> {
        let rules = self.rule_set(key)?;
        rules.limit(class, law, skin_on)?;
        Ok(rules)
    }

    /// The school called `key`.
    #[must_use]
    pub fn school(&self, key: &str) -> Option<&TimeRule> {
        self.schools.rule(key)
    }

    /// A school by its word, whole.
    ///
    /// # Errors
    /// At field `school`, with the words that are known.
    pub fn school_named(&self, key: &str) -> Result<TimeRuleFact, FieldError> {
        self.school(key.trim())
            .map(TimeRuleFact::from)
            .ok_or_else(|| {
                let keys: Vec<_> = self.schools.list.iter().map(|s| s.key.as_str()).collect();
                FieldError::new(
                    "school",
                    format!(
                        "There is no school “{key}”. Use one of {}.",
                        keys.join(", ")
                    ),
                )
            })
    }

    /// A rule of heat by its word; the first where none is named.
    ///
    /// # Errors
    /// At field `school`, with the words that are known.
    pub fn heat_rule(&self, key: Option<&str>) -> Result<&HeatRule, FieldError> {
        let found = match key {
            Some(key) => self.heat.iter().find(|r| r.key == key.trim()),
            None => self.heat.first(),
        };
        found.ok_or_else(|| {
            let keys: Vec<_> = self.heat.iter().map(|r| r.key.as_str()).collect();
            FieldError::new(
                "school",
                format!(
                    "There is no rule of heat “{}”. Use one of {}.",
                    key.unwrap_or_default(),
                    keys.join(", ")
                ),
            )
        })
    }

    /// A household's school, whole; none when it chose none or it is not known here.
    #[must_use]
    pub fn school_fact(&self, key: Option<&str>) -> Option<TimeRuleFact> {
        self.school(key?).map(TimeRuleFact::from)
    }

    /// The check called `key`.
    #[must_use]
    pub fn check(&self, key: &str) -> Option<&Check> {
        self.checks.iter().find(|c| c.key == key)
    }

    /// What is to be settled for a species, in the order of the work: what its kind is asked,
    /// and only about cuts it has.
    pub fn choices<'a>(&'a self, species: &'a Species) -> impl Iterator<Item = &'a Choice> {
        self.cutting.iter().filter(|c| {
            c.kinds.contains(&species.kind) && c.cuts.iter().any(|cut| species.cut(cut).is_some())
        })
    }

    /// True when a name means a curing salt, whichever it is: no spice is called so.
    #[must_use]
    pub fn is_called_a_cure(&self, name: &str) -> bool {
        self.cure_name(name).is_some()
    }

    /// What a liquid, syrup or paste of that name brings.
    #[must_use]
    pub fn brings(&self, name: &str) -> Option<&Brings> {
        self.shelves.liquids.iter().find(|l| called(&l.names, name))
    }

    /// The accelerator that a name means: the one with the longest of its names in it.
    #[must_use]
    pub fn accelerator(&self, name: &str) -> Option<&Accelerator> {
        let said = name.to_lowercase();
        let longest = |a: &Accelerator| {
            let names = a.names.iter().filter(|n| said.contains(n.as_str()));
            names.map(String::len).max()
        };
        let found = self.shelves.accelerators.iter();
        found
            .filter_map(|a| Some((longest(a)?, a)))
            .max_by_key(|(length, _)| *length)
            .map(|(_, a)| a)
    }

    /// What an ingredient does in a dose, by its name.
    #[must_use]
    pub fn role_of(&self, name: &str) -> Role {
        let among = |list: &[String]| called(list, name);
        if among(&self.shelves.free) {
            Role::Water
        } else if self.cure_name(name).is_some() || called_cure(&self.cures, name) {
            Role::CuringSalt
        } else if among(&self.shelves.salt) {
            Role::Salt
        } else if among(&self.shelves.sugar) {
            Role::Sugar
        } else if self.accelerator(name).is_some() {
            Role::Accelerator
        } else if among(&self.shelves.binder) {
            Role::Binder
        } else if self.brings(name).is_some() {
            Role::Liquid
        } else {
            Role::Spice
        }
    }
}

fn called_cure(cures: &[Cure], name: &str) -> bool {
    cures
        .iter()
        .any(|c| c.name.eq_ignore_ascii_case(name.trim()))
}

fn called(list: &[String], name: &str) -> bool {
    list.iter().any(|n| n.eq_ignore_ascii_case(name.trim()))
}

#[cfg(test)]
mod tests;
