//! Meats by the words they are called by, and what an ingredient brings for the allergic.

use super::Catalogue;
use super::species::RawDryingVerdict;
use serde::Deserialize;

/// The word for what is ground in and is no meat.
pub const NO_MEAT: &str = "none";

/// What any meat is safe at that nobody named (°C): the highest of the safe minimum temperatures.
const ANY_SAFE_C: f64 = 73.9;

/// A meat, by the words it is called by.
#[derive(Clone, Debug, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Meat {
    /// The stable word; a species' own where it has a file.
    pub key: String,
    /// As a label calls it.
    pub name: String,
    /// Words that mean it.
    pub words: Vec<String>,
    /// The least inside temperature, for what has no species of its own (°C).
    #[serde(default)]
    pub safe_inside_c: Option<f64>,
    /// True for what a label calls game.
    #[serde(default)]
    pub game: bool,
}

/// Something to be named for the allergic.
#[derive(Clone, Debug, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Allergen {
    /// The stable word.
    pub key: String,
    /// As a label names it.
    pub name: String,
    /// One of the nine of US law.
    pub us: bool,
    /// One of the fourteen of EU law.
    pub eu: bool,
    /// Words of ingredients that bring it.
    pub words: Vec<String>,
}

/// What is known of a meat that something is made of.
#[derive(Clone, Debug, PartialEq)]
pub struct MeatTraits {
    /// The stable word; none when nobody said which animal it is.
    pub key: Option<String>,
    /// As a label calls it.
    pub name: String,
    /// The least inside temperature when it is eaten without further cooking (°C).
    pub safe_inside_c: f64,
    /// Whether it may be dried raw.
    pub raw_drying: RawDryingVerdict,
    /// True for what a label calls game.
    pub game: bool,
}

impl Catalogue {
    /// The meat called `key`.
    #[must_use]
    pub fn meat(&self, key: &str) -> Option<&Meat> {
        self.meats.iter().find(|m| m.key == key)
    }

    /// The meat that a name speaks of; `none` when it is no meat. Of several, the first that is
    /// named: “venison with pork fat” has to be said as two.
    #[must_use]
    pub fn meat_by_name(&self, name: &str) -> Option<String> {
        let said = words(name);
        let named = |m: &&Meat| {
            let first = m.words.iter().filter_map(|w| position(&said, w)).min()?;
            Some((m.key == NO_MEAT, first, m.key.clone()))
        };
        let found = self.meats.iter().filter_map(|m| named(&m)).min();
        found.map(|(_, _, key)| key)
    }

    /// What is known of a meat by its word; the strictest of everything where it is not known.
    #[must_use]
    pub fn meat_traits(&self, key: Option<&str>) -> MeatTraits {
        let meat = key.and_then(|k| self.meat(k));
        let species = key.and_then(|k| self.species(k));
        MeatTraits {
            key: key.map(str::to_string),
            name: match (meat, species) {
                (Some(meat), _) => meat.name.clone(),
                (None, Some(species)) => species.meat.clone(),
                (None, None) => "meat of an animal that nobody named".into(),
            },
            safe_inside_c: species
                .map(|s| s.safe_inside_c)
                .or(meat.and_then(|m| m.safe_inside_c))
                .unwrap_or(ANY_SAFE_C),
            raw_drying: species.map_or(RawDryingVerdict::Refused, |s| s.raw_drying.verdict),
            game: meat.is_some_and(|m| m.game),
        }
    }

    /// What an ingredient brings for the allergic, by its name.
    pub fn allergens_of<'a>(&'a self, name: &str) -> impl Iterator<Item = &'a Allergen> {
        let said = words(name);
        self.allergens
            .iter()
            .filter(move |a| a.words.iter().any(|w| position(&said, w).is_some()))
    }
}

/// The words of a name, in small letters.
fn words(name: &str) -> Vec<String> {
    name.to_lowercase()
        .split(|c: char| !c.is_alphanumeric())
        .filter(|w| !w.is_empty())
        .map(str::to_string)
        .collect()
}

/// Where a word, or words one after the other, stand in what was said.
fn position(said: &[String], wanted: &str) -> Option<usize> {
    let wanted = words(wanted);
    said.windows(wanted.len().max(1)).position(|w| {
        w.iter()
            .zip(&wanted)
            .all(|(said, word)| said == word || *said == format!("{word}s"))
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_say_which_animal_it_is() {
        let catalogue = Catalogue::shipped();
        #[rustfmt::skip]
        let cases = [
            ("pork back fat", Some("pig")), ("Venison trim", Some("deer")), ("boar fat", Some("wild_boar")),
            ("chicken thighs", Some("chicken")), ("back fat", None), ("ice", Some("none")), ("crushed ice", Some("none")),
            ("duck fat", Some("duck")), ("the red stuff", None), ("pork stock", Some("pig")), ("hamster", None),
        ];
        for (name, key) in cases {
            assert_eq!(catalogue.meat_by_name(name).as_deref(), key, "{name}");
        }
        let unknown = catalogue.meat_traits(None);
        assert_eq!(
            (unknown.safe_inside_c, unknown.raw_drying),
            (73.9, RawDryingVerdict::Refused)
        );
        assert_eq!(catalogue.meat_traits(Some("chicken")).safe_inside_c, 73.9);
        assert_eq!(catalogue.meat_traits(Some("pig")).safe_inside_c, 62.8);
        for species in &catalogue.species {
            assert!(catalogue.meat(&species.key).is_some(), "{}", species.key);
        }
    }

    #[test]
    fn ingredients_bring_their_allergens() {
        let catalogue = Catalogue::shipped();
        #[rustfmt::skip]
        let cases = [
            ("soy sauce", "wheat, soy"), ("dark soy sauce", "wheat, soy"), ("tamari", "soy"), ("Worcestershire sauce", "wheat, fish"),
            ("yellow mustard seed", "mustard"), ("celery powder", "celery"), ("milk powder", "milk"), ("starter culture", "milk"),
            ("binder enzyme", "milk"), ("red wine", "sulphites"), ("nutmeg", ""), ("black pepper", ""), ("corn meal", ""),
            ("oyster sauce", "wheat, soy, molluscs"), ("walnuts", "nuts"), ("beer", "wheat"), ("sesame oil", "sesame"),
        ];
        for (name, want) in cases {
            let got: Vec<_> = catalogue
                .allergens_of(name)
                .map(|a| a.key.as_str())
                .collect();
            assert_eq!(got.join(", "), want, "{name}");
        }
        assert_eq!(catalogue.allergens.iter().filter(|a| a.us).count(), 9);
        assert_eq!(catalogue.allergens.iter().filter(|a| a.eu).count(), 14);
    }
}
