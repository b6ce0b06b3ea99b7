//! Reading the data files into a catalogue.

use super::builds::Build;
use super::check::{self, Mistake};
use super::cures::Cure;
use super::cutting::Choice;
use super::heat_rules::HeatRule;
use super::lexicon::{Lexicon, meats_of};
use super::meats::{Allergen, Meat};
use super::place_kinds::PlaceKind;
use super::rules::RuleSet;
use super::shapes::Shapes;
use super::species::Species;
use super::spoons::Spoon;
use super::steps::{Check, Step, StepKind};
use super::tare::TareKind;
use super::time_rules::TimeRules;
use super::words::Words;
use super::{Catalogue, Shelves, Snapshot};
use crate::data::DataFile;
use crate::ids::word;
use serde::Deserialize;
use serde::de::DeserializeOwned;
use std::collections::BTreeMap;
use std::sync::Arc;
use toml::{Table, Value};

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Cures {
    cure: Vec<Cure>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct PlaceKinds {
    kind: Vec<PlaceKind>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Meats {
    meat: Vec<Meat>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Allergens {
    allergen: Vec<Allergen>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Spoons {
    spoon: Vec<Spoon>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Cutting {
    choice: Vec<Choice>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct TareKinds {
    part: Vec<TareKind>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct HeatRules {
    rule: Vec<HeatRule>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Checks {
    check: Vec<Check>,
}

/// What was read, with the file each thing came from.
#[derive(Default)]
pub(super) struct Read {
    pub species: Vec<(String, Species)>,
    pub builds: Vec<(String, Build)>,
    pub rules: Vec<(String, RuleSet)>,
    pub cures: Vec<Cure>,
    pub schools: Option<TimeRules>,
    pub heat: Vec<HeatRule>,
    pub tare: Vec<TareKind>,
    pub cutting: Vec<Choice>,
    pub checks: Vec<Check>,
    pub spoons: Vec<Spoon>,
    pub meats: Vec<Meat>,
    pub allergens: Vec<Allergen>,
    pub place_kinds: Vec<PlaceKind>,
    shelves: Option<Shelves>,
    shapes: Option<Shapes>,
    words: Words,
}

impl Catalogue {
    /// Reads and checks the data files as a whole.
    ///
    /// # Errors
    /// Everything that is wrong: the file, the field, what stands there and what to write.
    pub fn read(files: &[DataFile]) -> Result<Self, Vec<Mistake>> {
        let mut read = Read::default();
        let mut mistakes = Vec::new();
        let mut species = BTreeMap::new();
        for file in files {
            match table(file) {
                Err(mistake) => mistakes.push(mistake),
                // The words of recipes are read together, with the meats beside them.
                Ok(_) if file.path.starts_with("reader/") => {}
                Ok(found) if file.path.starts_with("species/") => {
                    species.insert(file.path.clone(), found);
                }
                Ok(found) => {
                    if let Err(mistake) = read.take(&file.path, found) {
                        mistakes.push(mistake);
                    }
                }
            }
        }
        for (path, own) in &species {
            let leant = lean(path, own, &species);
            match leant.and_then(|t| typed::<Species>(path, t)) {
                Ok(found) => read.species.push((path.clone(), found)),
                Err(mistake) => mistakes.push(mistake),
            }
        }
        read.species.sort_by_key(|(_, s)| s.order);
        for (file, there) in [
            ("schools.toml", read.schools.is_some()),
            ("tare.toml", !read.tare.is_empty()),
            ("heat.toml", !read.heat.is_empty()),
            ("pantry.toml", read.shelves.is_some()),
            ("shapes.toml", read.shapes.is_some()),
        ] {
            if !there && !mistakes.iter().any(|m| m.file == file) {
                mistakes.push(Mistake::new(file, "", "no such file", "the file"));
            }
        }
        let lexicon =
            Lexicon::read(files, &meats_of(&read.meats, &read.species)).map_err(|(file, said)| {
                mistakes.push(Mistake::new(&file, "", &said, "what its head says"))
            });
        // A file that does not read would be missed everywhere else; its own mistake says enough.
        if mistakes.is_empty() {
            mistakes = check::all(&read);
        }
        match (read.schools, read.shelves, read.shapes, lexicon) {
            (Some(schools), Some(shelves), Some(shapes), Ok(lexicon)) if mistakes.is_empty() => {
                Ok(Self {
                    species: alone(read.species),
                    builds: alone(read.builds),
                    cures: read.cures,
                    rules: read.rules.into_iter().map(|(_, r)| r).collect(),
                    schools,
                    heat: read.heat,
                    tare: read.tare,
                    cutting: read.cutting,
                    checks: read.checks,
                    spoons: read.spoons,
                    meats: read.meats,
                    allergens: read.allergens,
                    place_kinds: read.place_kinds,
                    lexicon: Arc::new(lexicon),
                    shelves,
                    shapes,
                    words: read.words,
                    shelf: Snapshot::new(),
                })
            }
            _ => Err(mistakes),
        }
    }
}

impl Read {
    fn take(&mut self, path: &str, found: Table) -> Result<(), Mistake> {
        if path.starts_with("builds/") {
            let mut build: Build = typed(path, found)?;
            whole(&mut build);
            self.builds.push((path.into(), build));
        } else if path.starts_with("rules/") {
            self.rules.push((path.into(), typed(path, found)?));
        } else {
            match path {
                "cures.toml" => self.cures = typed::<Cures>(path, found)?.cure,
                "cutting.toml" => self.cutting = typed::<Cutting>(path, found)?.choice,
                "checks.toml" => self.checks = typed::<Checks>(path, found)?.check,
                "places.toml" => self.place_kinds = typed::<PlaceKinds>(path, found)?.kind,
                "meats.toml" => self.meats = typed::<Meats>(path, found)?.meat,
                "allergens.toml" => self.allergens = typed::<Allergens>(path, found)?.allergen,
                "spoons.toml" => self.spoons = typed::<Spoons>(path, found)?.spoon,
                "schools.toml" => self.schools = Some(typed(path, found)?),
                "heat.toml" => self.heat = typed::<HeatRules>(path, found)?.rule,
                "tare.toml" => self.tare = typed::<TareKinds>(path, found)?.part,
                "pantry.toml" => self.shelves = Some(typed(path, found)?),
                "shapes.toml" => self.shapes = Some(typed(path, found)?),
                "words.toml" => self.words = typed(path, found)?,
                other => {
                    return Err(Mistake::new(
                        other,
                        "",
                        "a file that nothing reads",
                        "it under species/, builds/ or rules/, or take it away",
                    ));
                }
            }
        }
        Ok(())
    }
}

/// What a build leaves unsaid: steps are named by their kind, and an ending is packed.
pub fn whole(build: &mut Build) {
    if build.steps.is_empty() && build.ending {
        build.steps.push(Step::bare(StepKind::Pack));
    }
    for step in &mut build.steps {
        if step.id.is_empty() {
            step.id = word(&step.kind);
        }
    }
}

fn alone<T>(found: Vec<(String, T)>) -> Vec<Arc<T>> {
    found.into_iter().map(|(_, t)| Arc::new(t)).collect()
}

fn table(file: &DataFile) -> Result<Table, Mistake> {
    toml::from_str(&file.text).map_err(|e| {
        let line = e
            .span()
            .map_or(0, |span| file.text[..span.start].matches('\n').count() + 1);
        Mistake::new(
            &file.path,
            &format!("line {line}"),
            e.message(),
            "valid TOML",
        )
    })
}

fn typed<T: DeserializeOwned>(path: &str, found: Table) -> Result<T, Mistake> {
    serde_path_to_error::deserialize(Value::Table(found)).map_err(|e| {
        let field = e.path().to_string();
        let said = e.into_inner().message().trim().to_string();
        // serde names what it saw first, then what it wants.
        let (saw, write) = match said.split_once(", expected ") {
            Some((saw, wants)) => (saw.to_string(), wants.to_string()),
            None => (said, "what the others of its kind have".to_string()),
        };
        Mistake::new(path, field.trim_matches('.'), &saw, &write)
    })
}

/// A species that leans on another takes whatever it does not say itself; its cuts take what
/// they do not say from the cut of the same word.
fn lean(path: &str, own: &Table, all: &BTreeMap<String, Table>) -> Result<Table, Mistake> {
    let Some(like) = own.get("like").and_then(Value::as_str) else {
        return Ok(own.clone());
    };
    let base = all
        .values()
        .find(|t| t.get("key").and_then(Value::as_str) == Some(like))
        .ok_or_else(|| {
            Mistake::new(
                path,
                "like",
                &format!("“{like}”, which is no species"),
                "the key of a species that has a file",
            )
        })?;
    if base.contains_key("like") {
        return Err(Mistake::new(
            path,
            "like",
            &format!("“{like}”, which leans on another itself"),
            "a species that stands on its own",
        ));
    }
    let mut whole = base.clone();
    whole.remove("version");
    for (field, value) in own {
        let merged = match (field.as_str(), value, base.get(field)) {
            ("cut", Value::Array(own), Some(Value::Array(base))) => {
                Value::Array(merge_cuts(own, base))
            }
            _ => value.clone(),
        };
        whole.insert(field.clone(), merged);
    }
    Ok(whole)
}

fn merge_cuts(own: &[Value], base: &[Value]) -> Vec<Value> {
    let key = |v: &Value| v.get("key").and_then(Value::as_str).map(str::to_string);
    let mut cuts = base.to_vec();
    for cut in own {
        match cuts.iter_mut().find(|c| key(c) == key(cut)) {
            Some(Value::Table(there)) => {
                if let Value::Table(new) = cut {
                    there.extend(new.clone());
                }
            }
            Some(_) | None => cuts.push(cut.clone()),
        }
    }
    cuts
}
