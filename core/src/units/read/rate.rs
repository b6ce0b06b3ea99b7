//! Rates: so much on so much meat, by weight or by the spoon.

use super::number::{begins_number, plain};
use super::{ReadError, Reader, Token, mass_unit, short, sure, tokens, volume_unit, within};
use crate::units::bounds::Measure;
use crate::units::{GPerKg, ML_PER_US_TEASPOON, MassUnit};

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
    unit: super::UnitWord,
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
    unit: mass_unit,
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
pub fn rate(text: &str, measures: MassUnit) -> Result<Rate, ReadError> {
    so_much(text, measures, &ON_MEAT)
}

/// So much in water: `80`, `80 g/l`, `1 cup/gal`, `2 tsp per qt`, `8 %`. A bare number is grams in a litre, and
/// percent are of the water; a volume is millilitres in a litre.
///
/// # Errors
/// See [`ReadError`].
pub fn strength(text: &str, measures: MassUnit) -> Result<Rate, ReadError> {
    so_much(text, measures, &IN_WATER)
}

fn so_much(text: &str, measures: MassUnit, of: &Per) -> Result<Rate, ReadError> {
    let example = of.example;
    let typed = plain(text).to_lowercase().replace("fl oz", "floz");
    let (amount, per) = match split_rate(&typed) {
        Some((amount, per)) => (amount.to_string(), Some(per.to_string())),
        None => (typed.clone(), None),
    };
    let found = tokens(&amount, example)?;
    let units = match &per {
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
                unit: of.unit,
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
            (Some(grams), _) => value * grams / units,
            (None, Some(ml)) => return Ok(Rate::Volume(value * ml / units)),
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

/// What a spoon of the kitchen's set holds (ml).
fn spoon_ml(word: &str, measures: MassUnit) -> Option<f64> {
    let (tsp, tbsp, cup) = match measures {
        MassUnit::Metric => (5.0, 15.0, 250.0),
        MassUnit::Imperial => (
            ML_PER_US_TEASPOON,
            3.0 * ML_PER_US_TEASPOON,
            48.0 * ML_PER_US_TEASPOON,
        ),
    };
    Some(match word {
        "tsp" | "tsps" | "teaspoon" | "teaspoons" => tsp,
        "tbsp" | "tbsps" | "tbs" | "tablespoon" | "tablespoons" => tbsp,
        "cup" | "cups" => cup,
        "ml" => 1.0,
        "floz" => 6.0 * ML_PER_US_TEASPOON,
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
