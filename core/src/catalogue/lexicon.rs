//! The words of recipes, as data, and how they are found in a line: the longest phrase first, one wrong letter forgiven
//! where nobody can be hurt by it.

use super::cures::{Composition, Role};
use super::meats::Meat;
use super::species::Species;
use crate::data::DataFile;
use serde::Deserialize;
use std::collections::{HashMap, HashSet};

/// Letters of a word that a slip is forgiven in, at the least.
const FORGIVEN_FROM: usize = 5;
/// Nobody writes longer words; more of one is not looked at.
const LONGEST_WORD: usize = 24;

/// What an amount is measured in.
#[derive(Clone, Debug, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub(crate) struct UnitRow {
    pub key: String,
    pub kind: UnitKind,
    /// Grams of one, for a weight.
    #[serde(default)]
    pub size: f64,
    /// Millilitres of one, by the set of measures.
    #[serde(default)]
    pub us: f64,
    #[serde(default)]
    pub metric: f64,
    #[serde(default)]
    pub imperial: f64,
    /// True for what is no household measure: millilitres of a solid are no weight.
    #[serde(default)]
    pub metric_only: bool,
    pub names: Vec<String>,
    /// Spellings that hold in their own case only.
    #[serde(default)]
    pub exact: Vec<String>,
}

/// What kind of a unit it is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub(crate) enum UnitKind {
    Mass,
    Volume,
    Count,
    Packet,
    Rough,
    /// Parts of a million of the meat.
    Content,
}

/// What a name leaves open.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub(crate) enum Open {
    /// Which curing salt it is.
    Composition,
    /// Whether it is a curing salt at all.
    Identity,
    /// What its label says is in it.
    Blend,
    /// How much nitrite it holds.
    Celery,
}

/// Which salts a spoon of it may be.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub(crate) enum SaltKinds {
    Any,
    Kosher,
    Sea,
}

/// A pure salt of nitrous or nitric acid.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub(crate) enum Pure {
    SodiumNitrite,
    SodiumNitrate,
    PotassiumNitrite,
    PotassiumNitrate,
}

/// KNO2 and KNO3 as the sodium salts that bring as much, by molar mass.
const POTASSIUM_NITRITE: f64 = 0.811;
const POTASSIUM_NITRATE: f64 = 0.841;

impl Pure {
    /// What it holds, as the sodium salts that bring as much.
    pub(crate) const fn made_of(self) -> Composition {
        let (nitrite, nitrate) = match self {
            Self::SodiumNitrite => (1.0, 0.0),
            Self::PotassiumNitrite => (POTASSIUM_NITRITE, 0.0),
            Self::SodiumNitrate => (0.0, 1.0),
            Self::PotassiumNitrate => (0.0, POTASSIUM_NITRATE),
        };
        Composition {
            nitrite,
            nitrate,
            salt: 0.0,
            sugar: 0.0,
        }
    }
}

/// Something that recipes name.
#[derive(Clone, Debug, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub(crate) struct NameRow {
    pub key: String,
    pub role: Role,
    #[serde(default)]
    pub cure: Option<String>,
    #[serde(default)]
    pub pure: Option<Pure>,
    #[serde(default)]
    pub assumed: Option<Open>,
    #[serde(default)]
    pub salt: Option<SaltKinds>,
    #[serde(default)]
    pub spoon: Option<String>,
    #[serde(default)]
    pub brings: Option<String>,
    /// Salt in it where the pantry has no row: at least, usually, at most.
    #[serde(default)]
    pub salty: Option<[f64; 3]>,
    #[serde(default)]
    pub sugar: f64,
    #[serde(default)]
    pub accelerator: Option<String>,
    /// What one of them weighs (g).
    #[serde(default)]
    pub each: Option<[f64; 2]>,
    /// Many things under one row: each is called by its own words.
    #[serde(default)]
    pub own_words: bool,
    /// A solid: its millilitres are no weight.
    #[serde(default)]
    pub loose: bool,
    pub names: Vec<String>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Units {
    unit: Vec<UnitRow>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Names {
    name: Vec<NameRow>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Valued<T> {
    #[serde(alias = "times")]
    value: T,
    names: Vec<String>,
}

/// Words beside “salt” that say its grain.
#[derive(Clone, Debug, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
struct Grain {
    /// The name that it then has.
    name: String,
    settles: Vec<SaltKinds>,
    words: Vec<String>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Words {
    number: Vec<Valued<f64>>,
    and_number: Vec<Valued<f64>>,
    rough: Vec<Valued<[f64; 3]>>,
    grain: Vec<Grain>,
    lists: HashMap<String, Vec<String>>,
}

/// What a phrase means in the grammar of a line.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Means {
    Number(f64),
    AndNumber(f64),
    Rough([f64; 3]),
    Unit(usize),
    Name(usize),
    Meat,
    Gear,
    Taste,
    Rest,
    Per,
    Whose,
    Of(Of),
    Mix,
    Or,
    Not,
    Time(TimeUnit),
    Length,
}

/// Of what a percentage is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Of {
    Meat,
    Water,
    All,
}

/// What a duration counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum TimeUnit {
    Minutes,
    Hours,
    Nights,
    Days,
    Weeks,
    Months,
}

impl TimeUnit {
    /// Days of one.
    pub(crate) const fn days(self) -> f64 {
        match self {
            Self::Minutes => 1.0 / 1_440.0,
            Self::Hours => 1.0 / 24.0,
            Self::Nights => 0.5,
            Self::Days => 1.0,
            Self::Weeks => 7.0,
            Self::Months => 30.0,
        }
    }
}

macro_rules! topics {
    ($($name:ident = $list:literal),+ $(,)?) => {
        /// What a line is about, by the words in it.
        #[derive(Clone, Copy, Debug, PartialEq, Eq)]
        #[repr(u8)]
        pub(crate) enum Topic { $($name),+ }
        const TOPICS: &[(Topic, &str)] = &[$((Topic::$name, $list)),+];
    };
}

topics! {
    Verb = "verbs", Wash = "washes", Brine = "brine", Rub = "rub", Pumped = "pumped", Covers = "covers", Uncovers = "uncovers",
    Equal = "equal", Bury = "bury", After = "after", Heading = "heading", Ground = "ground_words", Fry = "fry_words",
    Dried = "dried_words", Cooked = "cooked_words", SkinOn = "skin_on", SkinOff = "skin_off", ColdSmoke = "cold_smoke",
    Hangs = "hangs", Seals = "seals", WarmPlace = "warm_place", ColdPlace = "cold_place", HotBrine = "hot_brine",
    Inside = "inside", Chamber = "chamber", Loss = "sealed_loss", TopUp = "top_up", WarmWork = "warm_work", Result = "results", Beyond = "beyond", Aside = "aside",
}

/// The topics of a line.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct Topics(u64);

impl Topics {
    pub(crate) const fn has(self, topic: Topic) -> bool {
        self.0 & (1 << topic as u8) != 0
    }

    pub(crate) const fn add(&mut self, topic: Topic) {
        self.0 |= 1 << topic as u8;
    }

    pub(crate) const fn with(self, other: Self) -> Self {
        Self(self.0 | other.0)
    }
}

#[derive(Clone, Debug, PartialEq)]
struct Phrase<T> {
    words: Vec<Box<str>>,
    means: T,
}

type Phrases<T> = HashMap<Box<str>, Vec<Phrase<T>>>;

/// Everything that recipes are read by.
#[derive(Clone, Debug, PartialEq)]
pub struct Lexicon {
    pub(crate) units: Vec<UnitRow>,
    pub(crate) names: Vec<NameRow>,
    grains: Vec<Grain>,
    phrases: Phrases<Means>,
    topics: Phrases<Topic>,
    exact: HashMap<String, usize>,
    known: HashSet<Box<str>>,
    /// Words that name nothing.
    filler: HashSet<Box<str>>,
    /// A word with one letter left out, and what it may have been.
    slips: HashMap<Box<str>, Box<str>>,
    cure_slips: HashSet<Box<str>>,
    /// Words by which sources of nitrite are known.
    pub(super) source_words: HashMap<String, Vec<String>>,
}

/// The lists of those words.
const SOURCE_LISTS: &[&str] = &[
    "nitrite_stems",
    "source_signs",
    "without",
    "cure_words",
    "cure_neighbours",
    "number_marks",
    "source_forms",
    "tints",
    "stuff",
    "mountains",
    "plants",
    "plant_forms",
];

/// Words of curing salts: a slip in one of these is never forgiven.
const CURE_WORDS: &[&str] = &[
    "cure",
    "cures",
    "curing",
    "nitrite",
    "nitrate",
    "nitrited",
    "preblend",
    "saltpetre",
    "saltpeter",
    "celery",
    "potassium",
];

/// True when one is the other with its letters in another order.
fn shuffled(a: &str, b: &str) -> bool {
    let sorted = |w: &str| {
        let mut letters: Vec<char> = w.chars().collect();
        letters.sort_unstable();
        letters
    };
    sorted(a) == sorted(b)
}

/// How a phrase is taken apart: as a line is.
fn pieces(phrase: &str) -> Vec<Box<str>> {
    let mut words: Vec<Box<str>> = Vec::new();
    for part in phrase.split(|c: char| c.is_whitespace() || c == '-') {
        if !part.is_empty() {
            words.push(part.to_lowercase().into());
        }
    }
    words
}

/// A name in the plural, by the rule.
fn plural(word: &str) -> Option<String> {
    let last = word.chars().last()?;
    if !last.is_alphabetic() || last == 's' || word.len() < 3 {
        return None;
    }
    Some(match word.strip_suffix('y') {
        Some(stem) if !stem.ends_with(['a', 'e', 'o', 'u']) => format!("{stem}ies"),
        _ if word.ends_with("ch") || word.ends_with("sh") || word.ends_with('x') => {
            format!("{word}es")
        }
        _ => format!("{word}s"),
    })
}

/// Every form of a word with one letter left out, and the word itself.
fn shortened(word: &str) -> impl Iterator<Item = String> + '_ {
    let letters: Vec<char> = word.chars().collect();
    let without = (0..letters.len()).map(move |gone| {
        let kept = letters.iter().enumerate().filter(|(i, _)| *i != gone);
        kept.map(|(_, c)| c).collect()
    });
    std::iter::once(word.to_string()).chain(without)
}

/// True when two words differ by one letter: left out, put in, changed, or two that changed places.
fn one_slip(a: &str, b: &str) -> bool {
    let (a, b): (Vec<char>, Vec<char>) = (a.chars().collect(), b.chars().collect());
    if a.len().abs_diff(b.len()) > 1 || a == b {
        return false;
    }
    let same = a.iter().zip(&b).take_while(|(x, y)| x == y).count();
    let (rest_a, rest_b) = (&a[same..], &b[same..]);
    match a.len().cmp(&b.len()) {
        std::cmp::Ordering::Equal => {
            rest_a[1..] == rest_b[1..]
                || (rest_a.len() > 1
                    && rest_a[0] == rest_b[1]
                    && rest_a[1] == rest_b[0]
                    && rest_a[2..] == rest_b[2..])
        }
        std::cmp::Ordering::Less => rest_a == &rest_b[1..],
        std::cmp::Ordering::Greater => &rest_a[1..] == rest_b,
    }
}

impl Lexicon {
    /// Reads the reader's files, with the meats that the catalogue knows beside them.
    ///
    /// # Errors
    /// The file and what is wrong in it.
    pub(crate) fn read(files: &[DataFile], meats: &[String]) -> Result<Self, (String, String)> {
        fn of<T: serde::de::DeserializeOwned>(
            files: &[DataFile],
            path: &str,
        ) -> Result<T, (String, String)> {
            let file = files
                .iter()
                .find(|f| f.path == path)
                .ok_or((path.to_string(), "there is no such file".to_string()))?;
            toml::from_str(&file.text).map_err(|e| (path.to_string(), e.to_string()))
        }
        let units: Units = of(files, "reader/units.toml")?;
        let names: Names = of(files, "reader/names.toml")?;
        let words: Words = of(files, "reader/words.toml")?;
        let mut lexicon = Self {
            units: units.unit,
            names: names.name,
            grains: words.grain.clone(),
            phrases: Phrases::new(),
            topics: Phrases::new(),
            exact: HashMap::new(),
            known: HashSet::new(),
            filler: HashSet::new(),
            slips: HashMap::new(),
            cure_slips: HashSet::new(),
            source_words: HashMap::new(),
        };
        for key in SOURCE_LISTS {
            let list = words.lists.get(*key).ok_or_else(|| {
                (
                    "reader/words.toml".to_string(),
                    format!("lists.{key} is missing"),
                )
            })?;
            lexicon.source_words.insert((*key).into(), list.clone());
        }
        lexicon.take_grammar(&words, meats);
        for (topic, list) in TOPICS {
            let found = words.lists.get(*list).ok_or_else(|| {
                (
                    "reader/words.toml".to_string(),
                    format!("lists.{list} is missing"),
                )
            })?;
            for phrase in found {
                let words = pieces(phrase);
                lexicon.known.extend(words.iter().cloned());
                let Some(first) = words.first().cloned() else {
                    continue;
                };
                let means = *topic;
                lexicon
                    .topics
                    .entry(first)
                    .or_default()
                    .push(Phrase { words, means });
            }
        }
        for list in lexicon.phrases.values_mut() {
            list.sort_by_key(|p| std::cmp::Reverse(p.words.len()));
        }
        lexicon.forgive();
        Ok(lexicon)
    }

    fn take_grammar(&mut self, words: &Words, meats: &[String]) {
        let lists: [(&str, Means); 15] = [
            ("mix", Means::Mix),
            ("taste", Means::Taste),
            ("rest", Means::Rest),
            ("per", Means::Per),
            ("of_meat", Means::Of(Of::Meat)),
            ("of_water", Means::Of(Of::Water)),
            ("of_all", Means::Of(Of::All)),
            ("or", Means::Or),
            ("not", Means::Not),
            ("days", Means::Time(TimeUnit::Days)),
            ("weeks", Means::Time(TimeUnit::Weeks)),
            ("months", Means::Time(TimeUnit::Months)),
            ("hours", Means::Time(TimeUnit::Hours)),
            ("minutes", Means::Time(TimeUnit::Minutes)),
            ("nights", Means::Time(TimeUnit::Nights)),
        ];
        for (i, unit) in self.units.clone().iter().enumerate() {
            for name in &unit.names {
                self.phrase(name, Means::Unit(i));
            }
            for name in &unit.exact {
                self.exact.insert(name.clone(), i);
            }
        }
        for (i, name) in self.names.clone().iter().enumerate() {
            for said in &name.names {
                self.phrase(said, Means::Name(i));
                if let Some(more) = plural(said) {
                    self.phrase(&more, Means::Name(i));
                }
            }
        }
        for n in &words.number {
            for name in &n.names {
                self.phrase(name, Means::Number(n.value));
            }
        }
        for n in &words.and_number {
            for name in &n.names {
                self.phrase(name, Means::AndNumber(n.value));
            }
        }
        for r in &words.rough {
            for name in &r.names {
                self.phrase(name, Means::Rough(r.value));
            }
        }
        let none = Vec::new();
        let list = |key: &str| words.lists.get(key).unwrap_or(&none);
        for (key, means) in lists {
            for phrase in list(key) {
                self.phrase(phrase, means);
            }
        }
        for (key, means) in [
            ("meat", Means::Meat),
            ("gear", Means::Gear),
            ("whose", Means::Whose),
            ("lengths", Means::Length),
        ] {
            for phrase in list(key) {
                self.phrase(phrase, means);
            }
        }
        for word in list("filler") {
            self.known.extend(pieces(word));
            self.filler.extend(pieces(word));
        }
        for meat in meats {
            self.phrase(meat, Means::Meat);
            if let Some(more) = plural(meat) {
                self.phrase(&more, Means::Meat);
            }
        }
    }

    fn phrase(&mut self, said: &str, means: Means) {
        let words = pieces(said);
        self.known.extend(words.iter().cloned());
        let Some(first) = words.first().cloned() else {
            return;
        };
        self.phrases
            .entry(first)
            .or_default()
            .push(Phrase { words, means });
    }

    /// Which slips are forgiven: those in words of ingredients and of meat alone.
    fn forgive(&mut self) {
        let mut forgiven: Vec<Box<str>> = Vec::new();
        for phrase in self.phrases.values().flatten() {
            let food = match phrase.means {
                Means::Name(name) => self.names[name].role != Role::CuringSalt,
                Means::Meat => true,
                Means::Number(_)
                | Means::AndNumber(_)
                | Means::Rough(_)
                | Means::Unit(_)
                | Means::Gear
                | Means::Taste
                | Means::Rest
                | Means::Per
                | Means::Whose
                | Means::Of(_)
                | Means::Mix
                | Means::Or
                | Means::Not
                | Means::Time(_)
                | Means::Length => false,
            };
            if food {
                forgiven.extend(phrase.words.iter().cloned());
            }
        }
        forgiven.sort_unstable();
        forgiven.dedup();
        for word in forgiven {
            if word.chars().count() >= FORGIVEN_FROM && !CURE_WORDS.contains(&&*word) {
                for short in shortened(&word) {
                    self.slips.entry(short.into()).or_insert(word.clone());
                }
            }
        }
        for word in CURE_WORDS {
            for short in shortened(word) {
                self.cure_slips.insert(short.into());
            }
        }
    }

    /// The longest phrase that begins at a word, with every meaning it has: how many words, and what.
    pub(crate) fn at(&self, words: &[&str]) -> Option<(usize, Vec<Means>)> {
        let list = self.phrases.get(*words.first()?)?;
        let fits = |p: &Phrase<Means>| {
            p.words.len() <= words.len() && p.words.iter().zip(words).all(|(a, b)| **a == **b)
        };
        let longest = list.iter().find(|p| fits(p))?.words.len();
        let all = list.iter().filter(|p| p.words.len() == longest && fits(p));
        Some((longest, all.map(|p| p.means).collect()))
    }

    /// The longest phrase of one meaning that begins at a word.
    pub(crate) fn at_as(
        &self,
        words: &[&str],
        wanted: impl Fn(&Means) -> bool,
    ) -> Option<(usize, Means)> {
        let list = self.phrases.get(*words.first()?)?;
        list.iter()
            .find(|p| {
                wanted(&p.means)
                    && p.words.len() <= words.len()
                    && p.words.iter().zip(words).all(|(a, b)| **a == **b)
            })
            .map(|p| (p.words.len(), p.means))
    }

    /// What one of something weighs, at least and at most (g); none where nobody says.
    pub(crate) fn each(&self, name: &str) -> Option<[f64; 2]> {
        let name = name.to_lowercase();
        let words: Vec<&str> = name.split_whitespace().collect();
        let (long, means) = self.at_as(&words, |m| matches!(m, Means::Name(_)))?;
        match means {
            Means::Name(row) if long == words.len() => self.names[row].each,
            _ => None,
        }
    }

    /// What a line is about.
    pub(crate) fn topics(&self, words: &[&str]) -> Topics {
        let mut found = Topics::default();
        for (i, word) in words.iter().enumerate() {
            for phrase in self.topics.get(*word).into_iter().flatten() {
                if self.topic_fits(phrase, &words[i..]) {
                    found.add(phrase.means);
                }
            }
        }
        found
    }

    /// True when a phrase of this topic begins at the first of the words.
    pub(crate) fn begins(&self, words: &[&str], topic: Topic) -> bool {
        let Some(list) = words.first().and_then(|w| self.topics.get(*w)) else {
            return false;
        };
        list.iter()
            .any(|p| p.means == topic && self.topic_fits(p, words))
    }

    #[allow(clippy::unused_self)]
    fn topic_fits(&self, phrase: &Phrase<Topic>, words: &[&str]) -> bool {
        phrase.words.len() <= words.len() && phrase.words.iter().zip(words).all(|(a, b)| **a == **b)
    }

    /// The salt that is meant, where words beside an open one say its grain.
    pub(crate) fn grained(&self, name: usize, words: &[String]) -> usize {
        let Some(open) = self.names[name].salt else {
            return name;
        };
        let said = self
            .grains
            .iter()
            .find(|g| g.settles.contains(&open) && g.words.iter().any(|w| words.contains(w)));
        said.and_then(|g| self.names.iter().position(|n| n.key == g.name))
            .unwrap_or(name)
    }

    /// A unit by a spelling that holds in its own case.
    pub(crate) fn exact_unit(&self, word: &str) -> Option<usize> {
        self.exact.get(word).copied()
    }

    /// True for a word that stands somewhere in the data.
    pub(crate) fn knows(&self, word: &str) -> bool {
        self.known.contains(word)
    }

    /// True for a word that names nothing.
    pub(crate) fn is_filler(&self, word: &str) -> bool {
        self.filler.contains(word)
    }

    /// The word that was meant, where one letter of it is wrong and nobody can be hurt by guessing.
    pub(crate) fn meant(&self, word: &str) -> Option<&str> {
        let letters = word.chars().count();
        if !(FORGIVEN_FROM - 1..=LONGEST_WORD).contains(&letters) || self.knows(word) {
            return None;
        }
        shortened(word)
            .filter_map(|short| self.slips.get(short.as_str()))
            .find(|meant| one_slip(word, meant))
            .map(|meant| &**meant)
    }

    /// True for “nitrite” or “nitrate”, in one slip.
    pub(super) fn is_nearly_nitrite(&self, word: &str) -> bool {
        ["nitrite", "nitrate", "saltpeter", "saltpetre"]
            .iter()
            .any(|known| one_slip(word, known))
    }

    /// True for a word that may be that of a curing salt with a letter wrong: it is neither that nor anything else.
    pub(crate) fn is_nearly_a_cure(&self, word: &str) -> bool {
        let letters = word.chars().count();
        (4..=LONGEST_WORD).contains(&letters)
            && !self.knows(word)
            && shortened(word).any(|short| self.cure_slips.contains(short.as_str()))
            // Short words have too many neighbours: “pure” is none.
            && CURE_WORDS
                .iter()
                .any(|c| one_slip(word, c) && (c.len() >= FORGIVEN_FROM || shuffled(word, c)))
    }
}

/// The words by which the catalogue calls meat, beside the cuts that any recipe names.
pub(super) fn meats_of(meats: &[Meat], species: &[(String, Species)]) -> Vec<String> {
    let mut words: Vec<String> = meats
        .iter()
        .filter(|m| !m.name.is_empty())
        .flat_map(|m| m.words.iter().cloned())
        .collect();
    for (_, species) in species {
        words.push(species.name.to_lowercase());
        words.extend(species.cuts.iter().map(|c| c.name.to_lowercase()));
    }
    words.sort_unstable();
    words.dedup();
    words
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::catalogue::Catalogue;

    #[test]
    fn one_wrong_letter_is_one() {
        let cases = [
            ("peper", "pepper", true),
            ("suger", "sugar", true),
            ("pepprika", "paprika", false),
            ("honye", "honey", true),
            ("honeyy", "honey", true),
            ("honey", "honey", false),
            ("hone", "honey", true),
        ];
        for (typed, meant, want) in cases {
            assert_eq!(one_slip(typed, meant), want, "{typed}");
        }
    }

    #[test]
    fn slips_are_forgiven_in_food_and_never_in_a_cure_or_a_unit() {
        let lexicon = &Catalogue::shipped().lexicon;
        let cases = [
            ("peper", Some("pepper")),
            ("granulatd", Some("granulated")),
            ("corriander", Some("coriander")),
            ("curring", None),
            ("nitrte", None),
            ("tabelspoon", None),
            ("gramm", None),
            ("sal", None),
        ];
        for (typed, want) in cases {
            assert_eq!(lexicon.meant(typed), want, "{typed}");
        }
        for nearly in ["curring", "nitrte", "saltpetr", "nitrat", "crue"] {
            assert!(lexicon.is_nearly_a_cure(nearly), "{nearly}");
        }
        for not in ["cure", "pure", "pepper", "sure", "care", "fresh", "during"] {
            assert!(!lexicon.is_nearly_a_cure(not), "{not}");
        }
    }
}
