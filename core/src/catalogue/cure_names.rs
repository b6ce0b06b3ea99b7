//! Which names mean a source of nitrite or nitrate: a curing salt in any spelling, a pure salt, celery and its kin.
//!
//! The one place that tells, for doses and what is added to them, top-ups, coats, corrections, the pantry and recipes. Patterns,
//! not a list of what shops call it: a powder, salt or cure with a number is one; so is pink salt that is not from a mountain.

use super::Catalogue;
use super::cures::{Composition, Cure, Role};
use super::lexicon::{Lexicon, Means, Open, Pure};
use crate::catalogue::cures::CureChoice;

/// What a name says of the nitrite it brings.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum CureName {
    /// Cure #1, or what is called so.
    One,
    /// Cure #2.
    Two,
    /// A source of which the name does not say how strong it is.
    Source,
    /// It may be one: nobody can tell by its name.
    MayBe,
}

/// Words as they are compared: small letters without marks, figures apart from letters.
fn tokens(name: &str) -> Vec<String> {
    let mut all: Vec<String> = Vec::new();
    let mut kind = 0;
    for c in name.to_lowercase().chars() {
        let plain = match c {
            'à' | 'á' | 'â' | 'ã' | 'ä' | 'å' => 'a',
            'è' | 'é' | 'ê' | 'ë' | 'ę' => 'e',
            'ì' | 'í' | 'î' | 'ï' => 'i',
            'ò' | 'ó' | 'ô' | 'õ' | 'ö' | 'ø' => 'o',
            'ù' | 'ú' | 'û' | 'ü' => 'u',
            'ç' | 'ć' => 'c',
            'ñ' | 'ń' => 'n',
            'ł' => 'l',
            'ś' => 's',
            'ź' | 'ż' => 'z',
            '№' => '#',
            other => other,
        };
        let of = if plain.is_alphabetic() {
            1
        } else if plain.is_ascii_digit() {
            2
        } else if plain == '#' {
            3
        } else {
            0
        };
        if of != 0 {
            match all.last_mut().filter(|_| of == kind && of != 3) {
                Some(last) => last.push(plain),
                None => all.push(plain.to_string()),
            }
        }
        kind = of;
    }
    all
}

/// The number of a cure that a word says.
fn number(word: &str) -> Option<CureName> {
    match word {
        "1" | "i" | "one" => Some(CureName::One),
        "2" | "ii" | "two" => Some(CureName::Two),
        _ => None,
    }
}

impl Lexicon {
    /// What a name says of the nitrite it brings; none for whatever brings none.
    #[must_use]
    pub fn cure_name(&self, name: &str) -> Option<CureName> {
        let words = tokens(name);
        let list = |key: &str| {
            self.source_words
                .get(key)
                .map(Vec::as_slice)
                .unwrap_or_default()
        };
        let is = |key: &str, word: &str| list(key).iter().any(|w| w == word);
        let any = |key: &str| words.iter().any(|w| is(key, w));
        let form = any("source_forms");
        if any("plants") && (form || any("plant_forms")) {
            return Some(CureName::Source);
        }
        if let Some(known) = self.known_by_name(&words) {
            return known;
        }
        let joined: String = words.concat();
        if list("source_signs")
            .iter()
            .any(|s| joined.contains(s.as_str()))
        {
            return Some(CureName::Source);
        }
        let numbered = || {
            let marks = |w: &str| is("number_marks", w);
            let mut found = words.iter().filter_map(|w| number(w));
            let first = found.next();
            // Figures that are no number of a cure, such as 25 g, say nothing.
            first.filter(|_| {
                words
                    .iter()
                    .filter(|w| w.chars().all(|c| c.is_ascii_digit()) && !marks(w))
                    .all(|w| number(w).is_some())
            })
        };
        let held = list("nitrite_stems")
            .iter()
            .any(|stem| joined.contains(stem.as_str()))
            || words.iter().any(|w| self.is_nearly_nitrite(w));
        if held {
            return if any("without") {
                None
            } else {
                Some(numbered().unwrap_or(CureName::Source))
            };
        }
        let cure = any("cure_words")
            || words
                .iter()
                .any(|w| self.is_nearly_a_cure(w) && !is("cure_neighbours", w));
        if cure || form {
            let without_number: Vec<&str> = words
                .iter()
                .map(String::as_str)
                .filter(|w| number(w).is_none() && !is("number_marks", w))
                .collect();
            // Onion powder stays onion powder, whatever stands behind it.
            let food = !cure && self.is_food(&without_number);
            if let Some(which) = numbered().filter(|_| !food) {
                return Some(which);
            }
        }
        if cure {
            return Some(CureName::Source);
        }
        let tinted = any("tints") && (form || any("stuff")) && !any("mountains");
        tinted.then_some(CureName::MayBe)
    }

    /// What a name of the reader's own list means, where all of it is one; the outer none where it is not on the list.
    fn known_by_name(&self, words: &[String]) -> Option<Option<CureName>> {
        let plain: Vec<&str> = words.iter().map(String::as_str).collect();
        let (length, means) = self.at(&plain)?;
        let Means::Name(row) = *means.iter().find(|m| matches!(m, Means::Name(_)))? else {
            return None;
        };
        if length != plain.len() {
            return None;
        }
        let row = &self.names[row];
        if row.role != Role::CuringSalt {
            return Some(None);
        }
        Some(Some(match (row.cure.as_deref(), row.assumed) {
            (Some("cure1"), None) => CureName::One,
            (Some("cure2"), None) => CureName::Two,
            (_, Some(Open::Identity)) => CureName::MayBe,
            (_, None | Some(Open::Composition | Open::Blend | Open::Celery)) => CureName::Source,
        }))
    }

    fn is_food(&self, words: &[&str]) -> bool {
        let Some((length, means)) = self.at(words) else {
            return false;
        };
        let food =
            |m: &Means| matches!(m, Means::Name(row) if self.names[*row].role != Role::CuringSalt);
        length == words.len() && means.iter().any(food) && !words.iter().all(|w| *w == "salt")
    }

    /// What a pure salt of that name holds; none for any other.
    fn pure(&self, words: &[String]) -> Option<Composition> {
        let plain: Vec<&str> = words.iter().map(String::as_str).collect();
        let (_, means) = self.at(&plain)?;
        means.iter().find_map(|m| {
            let Means::Name(row) = m else { return None };
            self.names[*row].pure.map(Pure::made_of)
        })
    }
}

impl Catalogue {
    /// A cure of the catalogue by its own name.
    fn cure_called(&self, name: &str) -> Option<&Cure> {
        let own = |c: &&Cure| c.name.eq_ignore_ascii_case(name.trim());
        self.cures.iter().find(own)
    }

    /// What a name says of the nitrite it brings; none for whatever brings none.
    #[must_use]
    pub fn cure_name(&self, name: &str) -> Option<CureName> {
        if let Some(cure) = self.cure_called(name) {
            let source = cure.made_of.nitrite + cure.made_of.nitrate > 0.0;
            return match cure.key.as_str() {
                "cure1" => Some(CureName::One),
                "cure2" => Some(CureName::Two),
                _ => source.then_some(CureName::Source),
            };
        }
        // What speeds a cure up is named after it.
        if self.accelerator(name).is_some() && self.lexicon.cure_name_is_kin(name) {
            return None;
        }
        self.lexicon.cure_name(name)
    }

    /// What something of that name holds, as strong as it is usually sold; none for what brings no nitrite.
    #[must_use]
    pub fn made_of_by_name(&self, name: &str) -> Option<Composition> {
        let named = self.cure_name(name)?;
        if let Some(cure) = self.cure_called(name) {
            return Some(cure.made_of.clone());
        }
        if let Some(pure) = self.lexicon.pure(&tokens(name)) {
            return Some(pure);
        }
        let key = match named {
            CureName::Two => "cure2",
            CureName::One | CureName::Source | CureName::MayBe => "cure1",
        };
        self.cure(key).map(|c| c.made_of.clone())
    }

    /// True for a name that means the cure of a dose, in whatever spelling.
    #[must_use]
    pub fn is_that_cure(&self, name: &str, cure: &CureChoice) -> bool {
        if cure.name.eq_ignore_ascii_case(name.trim()) {
            return true;
        }
        match (self.cure_name(name), cure.key.as_deref()) {
            (Some(CureName::One), Some("cure1")) | (Some(CureName::Two), Some("cure2")) => true,
            (Some(CureName::One | CureName::Two | CureName::Source | CureName::MayBe), _)
            | (None, _) => false,
        }
    }

    /// What something does in a dose: what is or may be a source of nitrite is that, whatever a request calls it.
    #[must_use]
    pub fn role_said(&self, name: &str, said: Option<Role>) -> Role {
        match said {
            Some(said) if self.cure_name(name).is_none() => said,
            Some(_) | None => self.role_of(name),
        }
    }

    /// True for a name that nothing here knows: neither a spice nor anything else of a kitchen.
    #[must_use]
    pub fn is_unknown(&self, name: &str) -> bool {
        let words = tokens(name);
        let known = words
            .iter()
            .any(|w| w.chars().count() > 2 && self.lexicon.knows(w));
        !known
            && self.role_of(name) == Role::Spice
            && !self
                .spoons
                .iter()
                .any(|s| s.names.iter().any(|n| n.eq_ignore_ascii_case(name.trim())))
    }
}

impl Lexicon {
    /// True where a name has a word of curing in it only because it speeds one up.
    fn cure_name_is_kin(&self, name: &str) -> bool {
        let words = tokens(name);
        let joined: String = words.concat();
        let stems = self.source_words.get("nitrite_stems").map(Vec::as_slice);
        !stems
            .unwrap_or_default()
            .iter()
            .any(|stem| joined.contains(stem.as_str()))
            && !words.iter().any(|w| number(w).is_some())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::testing::catalogue;

    #[test]
    #[rustfmt::skip]
    fn a_name_is_a_curing_salt_or_it_is_not() {
        use CureName::{MayBe, One, Source, Two};
        let rows = [
            // number one and number two in every spelling
            ("cure #1", Some(One)), ("Cure 1", Some(One)), ("CURE1", Some(One)), ("curing salt no. 1", Some(One)), ("Curing Salt Number One", Some(One)),
            ("curing salt I", Some(One)), ("curing salt II", Some(Two)), ("cure ii", Some(Two)), ("Cure № 2", Some(Two)), ("cure two", Some(Two)), ("#2 curing powder", Some(Two)),
            ("powder #1", Some(One)), ("Country powder No 1", Some(One)), ("quickmix cure #1", Some(One)), ("butcher's salt #2", Some(Two)), ("pink salt 1", Some(One)),
            // powders, salts, languages, slips
            ("curing salt", Some(Source)), ("Cureing salt", Some(Source)), ("curring powder", Some(Source)), ("quick cure", Some(Source)), ("tinted curing mix", Some(Source)),
            ("pink salt", Some(MayBe)), ("the pink stuff", Some(MayBe)), ("rose salt", Some(MayBe)), ("tinted powder", Some(MayBe)),
            ("nitrite", Some(Source)), ("sodium nitrite", Some(Source)), ("nitrte", Some(Source)), ("nitrate", Some(Source)), ("saltpeter", Some(Source)), ("salpetre", Some(Source)), ("Salpeter", Some(Source)),
            ("Nitritpökelsalz", Some(Source)), ("Pökelsalz", Some(Source)), ("poekelsalz", Some(Source)), ("sel nitrité", Some(Source)), ("sel de salaison", Some(Source)), ("sal de cura", Some(Source)),
            ("sal nitro", Some(Source)), ("salitre", Some(Source)), ("salnitro", Some(Source)), ("nitrietzout", Some(Source)), ("peklosól", Some(Source)), ("nitrittsalt", Some(Source)),
            ("E250", Some(Source)), ("E 252", Some(Source)), ("e-251", Some(Source)), ("KNO3", Some(Source)), ("NaNO2", Some(Source)),
            ("celery powder", Some(Source)), ("celery juice", Some(Source)), ("cultured celery", Some(Source)), ("Swiss chard powder", Some(Source)), ("vegetable juice powder", Some(Source)), ("celery salt", Some(Source)),
            ("beetroot powder", Some(Source)),
            // and what is none
            ("salt", None), ("kosher salt", None), ("sea salt", None), ("himalayan pink salt", None), ("smoked salt", None), ("black pepper", None), ("pink peppercorns", None),
            ("garlic powder", None), ("onion powder", None), ("mustard powder", None), ("chili powder", None), ("milk powder", None), ("baking powder", None), ("cocoa powder", None),
            ("celery seed", None), ("sugar", None), ("brown sugar", None), ("cure accelerator", None), ("sodium erythorbate", None), ("paprika", None), ("juniper", None),
            ("curry powder", None), ("turmeric", None), ("Curaçao", None), ("water", None), ("red wine", None), ("liquid smoke", None), ("corn meal", None), ("rose petals", None),
            ("salt, coarse", None), ("starter culture", None), ("dextrose", None),
        ];
        let wrong: Vec<_> = rows.into_iter().filter(|(name, want)| catalogue().cure_name(name) != *want)
            .map(|(name, want)| format!("{name}: {:?}, wanted {want:?}", catalogue().cure_name(name))).collect();
        assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    }

    #[test]
    fn a_source_is_never_a_spice_whatever_a_request_calls_it() {
        let c = catalogue();
        assert_eq!(
            c.role_said("pink salt", Some(Role::Spice)),
            Role::CuringSalt
        );
        assert_eq!(c.role_said("powder #1", None), Role::CuringSalt);
        assert_eq!(c.role_said("pepper", Some(Role::Spice)), Role::Spice);
        let cure = |key: &str| CureChoice::from(c.cure(key).unwrap());
        assert!(c.is_that_cure("curing salt no. 1", &cure("cure1")));
        assert!(!c.is_that_cure("curing salt II", &cure("cure1")));
        assert!(!c.is_that_cure("pink salt", &cure("cure1")));
        assert_eq!(c.made_of_by_name("curing salt II").unwrap().nitrate, 0.04);
        assert_eq!(c.made_of_by_name("sodium nitrite").unwrap().nitrite, 1.0);
        assert!(c.is_unknown("Zanzibar gold") && !c.is_unknown("black pepper"));
    }
}
