//! Rates: so much on so much meat, by weight or by the spoon.

use super::number::{begins_number, plain};
use super::{
    ReadError, Reader, Token, differs, mass_unit, short, sure, tokens, volume_unit, within,
};
use crate::units::bounds::Measure;
use crate::units::{GPerKg, GRAMS_PER_OUNCE, GRAMS_PER_POUND, Measures, Units};

/// So much on so much meat: by weight, or by the spoon.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Rate {
    /// By weight.
    Weight(GPerKg),
    /// By volume (ml on a kilogram); what that weighs depends on what is in the spoon.
    Volume(f64),
}

impl Rate {
    /// The rate, where it was given by weight.
    ///
    /// # Errors
    /// Where it was given by the spoon.
    pub fn by_weight(self, text: &str) -> Result<GPerKg, ReadError> {
        match self {
            Self::Weight(rate) => Ok(rate),
            Self::Volume(_) => Err(ReadError::Unit {
                word: short(text),
                quantity: "rate by weight",
                example: RATE,
            }),
        }
    }
}

const RATE: &str = "2.5 g/kg, 0.25 % or 4 oz per 100 lb";
const STRENGTH: &str = "80 g/l, 1 cup/gal or 3 oz per gal";

/// What stands behind the `per` of a rate.
struct Per {
    quantity: &'static str,
    example: &'static str,
    unit: fn(Measures) -> super::UnitWord,
    measure: Measure,
    /// What it is so much on.
    on: &'static str,
    /// What a bare number is in, as it is said.
    bare: &'static str,
    /// How many of the base unit one of the rate's is.
    base: f64,
}

const ON_MEAT: Per = Per {
    quantity: "weight",
    example: RATE,
    unit: |_| mass_unit,
    measure: Measure::Mass,
    on: "meat",
    bare: "g/kg",
    base: 1_000.0,
};

const IN_WATER: Per = Per {
    quantity: "volume",
    example: STRENGTH,
    unit: volume_unit,
    measure: Measure::Volume,
    on: "water",
    bare: "g/l",
    base: 1.0,
};

/// A rate: `2.5`, `2.5 g/kg`, `0.25 %`, `4 oz per 100 lb`, `1 tbsp/lb`. A bare number is g/kg.
///
/// # Errors
/// See [`ReadError`].
pub fn rate(text: &str, units: Units) -> Result<Rate, ReadError> {
    so_much(text, units, &ON_MEAT)
}

/// So much in water: `80`, `80 g/l`, `1 cup/gal`, `2 tsp per qt`, `8 %`. A bare number is grams in a litre, and
/// percent are of the water; a volume is millilitres in a litre.
///
/// # Errors
/// See [`ReadError`].
pub fn strength(text: &str, units: Units) -> Result<Rate, ReadError> {
    so_much(text, units, &IN_WATER)
}

/// Whether what it is on is measured as it is in the US: in pounds, quarts or gallons.
fn is_us(per: &str) -> bool {
    let pounds = [GRAMS_PER_POUND, GRAMS_PER_OUNCE];
    per.split(|c: char| !c.is_alphabetic() && c != '#')
        .any(|word| differs(word) || mass_unit(word).is_some_and(|grams| pounds.contains(&grams)))
}

/// Whose spoons, cups and gallons an amount is in: all of it in those of one country.
fn measures_of(text: &str, units: Units) -> Measures {
    let typed = plain(text).to_lowercase();
    units.measures_beside(split_rate(&typed).is_some_and(|(_, per)| is_us(per)))
}

/// Whose spoons, cups and gallons an amount was read in; none where it speaks of none.
#[must_use]
pub fn measured_in(text: &str, units: Units) -> Option<Measures> {
    let typed = plain(text).to_lowercase().replace("fl oz", "floz");
    let said = typed
        .split(|c: char| !c.is_alphabetic())
        .any(|w| spoon_ml(w, Measures::Us) != spoon_ml(w, Measures::Metric) || differs(w));
    said.then(|| match split_rate(&typed) {
        Some(_) => measures_of(text, units),
        None => units.measures(),
    })
}

fn so_much(text: &str, units: Units, of: &Per) -> Result<Rate, ReadError> {
    let measures = measures_of(text, units);
    let example = of.example;
    let typed = plain(text).to_lowercase().replace("fl oz", "floz");
    let (amount, per) = match split_rate(&typed) {
        Some((amount, per)) => (amount.to_string(), Some(per.to_string())),
        None => (typed.clone(), None),
    };
    let found = tokens(&amount, example)?;
    let on = match &per {
        None => 1.0,
        Some(per) => {
            let per = if per.starts_with(begins_number) {
                per.clone()
            } else {
                format!("1 {per}")
            };
            let how = Reader {
                quantity: of.quantity,
                example,
                bare: f64::NAN,
                bare_word: "g",
                larger_word: None,
                unit: (of.unit)(measures),
                after: None,
                dash: false,
                measure: of.measure,
            };
            let sum = how.sum(&per)?;
            if sum <= 0.0 {
                return Err(ReadError::number(text, example));
            }
            sum / of.base
        }
    };
    let (value, word) = match found.as_slice() {
        [] => return Err(ReadError::Empty { example }),
        [Token::Number(n)] => (sure(text, n, of.bare)?, None),
        [Token::Number(n), Token::Word(w)] => (sure(text, n, w)?, Some(w.as_str())),
        [Token::Word(_), ..] => return Err(ReadError::number(text, example)),
        _ => return Err(ReadError::mixture(text, example)),
    };
    let unit = |word: &str| ReadError::Unit {
        word: short(word),
        quantity: "rate",
        example,
    };
    let grams = match (word, &per) {
        (None, None) => value,
        (Some("%" | "percent"), None) => value * 10.0,
        (Some("‰"), None) => value,
        (Some("ppm"), None) if of.base > 1.0 => value / 1_000.0,
        (None, Some(_)) => return Err(ReadError::number(text, example)),
        (Some(word), Some(_)) => match (mass_unit(word), spoon_ml(word, measures)) {
            (Some(grams), _) => value * grams / on,
            (None, Some(ml)) => return Ok(Rate::Volume(value * ml / on)),
            (None, None) => return Err(unit(word)),
        },
        (Some(word), None) if mass_unit(word).is_some() || spoon_ml(word, measures).is_some() => {
            return Err(ReadError::NoMeat {
                text: short(text),
                on: of.on,
                example,
            });
        }
        (Some(word), None) => return Err(unit(word)),
    };
    within(text, grams, Measure::Rate, example).map(|v| Rate::Weight(GPerKg(v)))
}

/// What a spoon or cup holds (ml).
fn spoon_ml(word: &str, measures: Measures) -> Option<f64> {
    let holds = measures.holds();
    Some(match word {
        "tsp" | "tsps" | "teaspoon" | "teaspoons" => holds.tsp,
        "tbsp" | "tbsps" | "tbs" | "tablespoon" | "tablespoons" => holds.tbsp,
        "cup" | "cups" => holds.cup,
        "ml" => 1.0,
        "floz" => holds.fl_oz,
        _ => return None,
    })
}

/// Splits `1/2 tsp/lb` and `4 oz per 100 lb` at what stands between amount and meat.
fn split_rate(text: &str) -> Option<(&str, &str)> {
    for between in [" per ", " to each ", " to the ", " to ", " a ", " on "] {
        if let Some((amount, per)) = text.split_once(between) {
            return Some((amount.trim(), per.trim()));
        }
    }
    let at = text.char_indices().find(|(i, c)| {
        *c == '/'
            && text[..*i]
                .trim_end()
                .ends_with(|c: char| c.is_alphabetic() || c == '#')
    })?;
    Some((text[..at.0].trim(), text[at.0 + 1..].trim()))
}
