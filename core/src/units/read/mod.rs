//! Reading what a person typed at the bench: `4 lb 7 oz`, `2.01 kg`, `2010`, `1 3/4 in`.
//!
//! A number that can be read in two ways is refused with both readings, never guessed.

mod number;

use super::bounds::Measure;
use super::{
    Celsius, Fraction, GPerKg, GRAMS_PER_OUNCE, GRAMS_PER_POUND, Grams, HeatUnit, LengthUnit,
    Litres, ML_PER_US_TEASPOON, MM_PER_INCH, MassUnit, Millimetres, Ppm,
};
use number::{Number, TwoWays, begins_number, number, plain};

/// Letters of a typed text that an error repeats; nobody reads three hundred digits.
const REPEATED: usize = 40;

/// Why a typed amount could not be read. Each message says what to type.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ReadError {
    /// Nothing was typed.
    #[error("Nothing typed yet. Type {example}.")]
    Empty {
        /// An amount in the household's unit.
        example: &'static str,
    },
    /// A word that is no unit of this quantity.
    #[error("“{word}” is not a unit of {quantity}. Type {example}.")]
    Unit {
        /// The word as typed.
        word: String,
        /// Weight, thickness or temperature.
        quantity: &'static str,
        /// What would be understood.
        example: &'static str,
    },
    /// Something where a number should stand.
    #[error("“{text}” cannot be read as a number. Type {example}.")]
    Number {
        /// The text as typed.
        text: String,
        /// What would be understood.
        example: &'static str,
    },
    /// `2,010`: thousands in one country, a decimal in another.
    #[error("“{text}” can be read two ways. Type {ways}.")]
    TwoWays {
        /// The text as typed.
        text: String,
        /// Each reading, with its unit.
        ways: String,
    },
    /// A second number without a unit, or units in rising order.
    #[error("“{text}” mixes units in a way that cannot be added up. Type {example}.")]
    Mixture {
        /// The text as typed.
        text: String,
        /// What would be understood.
        example: &'static str,
    },
    /// A weight where so much on so much meat is asked.
    #[error("“{text}” does not say on how much meat. Type {example}.")]
    NoMeat {
        /// The text as typed.
        text: String,
        /// What would be understood.
        example: &'static str,
    },
    /// Below zero where that has no meaning.
    #[error("“{text}” is below zero. Type {example}.")]
    Negative {
        /// The text as typed.
        text: String,
        /// What would be understood.
        example: &'static str,
    },
    /// Past anything a household could weigh or measure.
    #[error("“{text}” is too large to be right; the most is {most}. Type {example}.")]
    TooLarge {
        /// The text as typed.
        text: String,
        /// The bound.
        most: String,
        /// What would be understood.
        example: &'static str,
    },
    /// Colder than anything a household has.
    #[error("“{text}” is too cold to be right; the least is {least}. Type {example}.")]
    TooCold {
        /// The text as typed.
        text: String,
        /// The bound.
        least: String,
        /// What would be understood.
        example: &'static str,
    },
}

fn short(text: &str) -> String {
    let text = text.trim();
    match text.char_indices().nth(REPEATED) {
        Some((end, _)) => format!("{}…", &text[..end]),
        None => text.into(),
    }
}

impl ReadError {
    fn number(text: &str, example: &'static str) -> Self {
        Self::Number {
            text: short(text),
            example,
        }
    }

    fn mixture(text: &str, example: &'static str) -> Self {
        Self::Mixture {
            text: short(text),
            example,
        }
    }
}

/// A unit by the words people use for it: how many of the base unit it is.
type UnitWord = fn(&str) -> Option<f64>;

fn mass_unit(word: &str) -> Option<f64> {
    Some(match word {
        "g" | "gr" | "gm" | "gms" | "gs" | "gram" | "grams" | "gramme" | "grammes" => 1.0,
        "dag" | "dkg" | "deca" | "deka" => 10.0,
        "kg" | "kgs" | "k" | "kilo" | "kilos" | "kilogram" | "kilograms" | "kilogramme"
        | "kilogrammes" => 1_000.0,
        "mg" | "mgs" | "milligram" | "milligrams" => 0.001,
        "lb" | "lbs" | "pound" | "pounds" | "#" => GRAMS_PER_POUND,
        "oz" | "ozs" | "ounce" | "ounces" => GRAMS_PER_OUNCE,
        _ => return None,
    })
}

fn length_unit(word: &str) -> Option<f64> {
    Some(match word {
        "mm" | "mms" | "millimetre" | "millimetres" | "millimeter" | "millimeters" => 1.0,
        "cm" | "cms" | "centimetre" | "centimetres" | "centimeter" | "centimeters" => 10.0,
        "m" | "metre" | "metres" | "meter" | "meters" => 1_000.0,
        "in" | "ins" | "inch" | "inches" | "\"" | "''" => MM_PER_INCH,
        _ => return None,
    })
}

/// Litres; the small ones are those of the kitchen drawer.
fn volume_unit(word: &str) -> Option<f64> {
    let us = |teaspoons: f64| teaspoons * ML_PER_US_TEASPOON / 1_000.0;
    Some(match word {
        "ml" | "mls" | "millilitre" | "millilitres" | "milliliter" | "milliliters" | "cc" => 0.001,
        "cl" | "centilitre" | "centilitres" => 0.01,
        "dl" | "decilitre" | "decilitres" => 0.1,
        "l" | "ltr" | "litre" | "litres" | "liter" | "liters" => 1.0,
        "floz" => us(6.0),
        "cup" | "cups" => us(48.0),
        "pt" | "pint" | "pints" => us(96.0),
        "qt" | "qts" | "quart" | "quarts" => us(192.0),
        "gal" | "gals" | "gallon" | "gallons" => us(768.0),
        _ => return None,
    })
}

/// A weight.
///
/// A bare number is grams in a metric household and pounds in an imperial one, where `4-7` and
/// `4 lb 7` are four pounds and seven ounces.
///
/// # Errors
/// See [`ReadError`].
pub fn mass(text: &str, bare: MassUnit) -> Result<Grams, ReadError> {
    let how = match bare {
        MassUnit::Metric => Reader {
            quantity: "weight",
            example: "2010, 2.01 kg or 4 lb 7 oz",
            bare: 1.0,
            bare_word: "g",
            larger_word: Some("kg"),
            unit: mass_unit,
            after: Some((GRAMS_PER_POUND, GRAMS_PER_OUNCE, 16.0)),
            dash: false,
            measure: Measure::Mass,
        },
        MassUnit::Imperial => Reader {
            quantity: "weight",
            example: "4 lb 7 oz, 4.44 lb or 2010 g",
            bare: GRAMS_PER_POUND,
            bare_word: "lb",
            larger_word: None,
            unit: mass_unit,
            after: Some((GRAMS_PER_POUND, GRAMS_PER_OUNCE, 16.0)),
            dash: true,
            measure: Measure::Mass,
        },
    };
    how.sum(text).map(Grams)
}

/// A length. A bare number is in the household's unit.
///
/// # Errors
/// See [`ReadError`].
pub fn length(text: &str, bare: LengthUnit) -> Result<Millimetres, ReadError> {
    let (example, bare, bare_word) = match bare {
        LengthUnit::Mm => ("45, 4.5 cm or 1 3/4 in", 1.0, "mm"),
        LengthUnit::Inch => ("1 3/4, 1.75 in or 45 mm", MM_PER_INCH, "in"),
    };
    let how = Reader {
        quantity: "thickness",
        example,
        bare,
        bare_word,
        larger_word: None,
        unit: length_unit,
        after: None,
        dash: false,
        measure: Measure::Length,
    };
    how.sum(text).map(Millimetres)
}

/// A volume. A bare number is litres in a metric household and quarts in an imperial one.
///
/// # Errors
/// See [`ReadError`].
pub fn volume(text: &str, bare: MassUnit) -> Result<Litres, ReadError> {
    let (example, bare, bare_word) = match bare {
        MassUnit::Metric => ("12, 12 l or 500 ml", 1.0, "l"),
        MassUnit::Imperial => (
            "12, 12 qt or 3 gal",
            192.0 * ML_PER_US_TEASPOON / 1_000.0,
            "qt",
        ),
    };
    let how = Reader {
        quantity: "volume",
        example,
        bare,
        bare_word,
        larger_word: None,
        unit: volume_unit,
        after: None,
        dash: false,
        measure: Measure::Volume,
    };
    how.sum(
        &text
            .to_lowercase()
            .replace("fl oz", "floz")
            .replace("fl. oz", "floz"),
    )
    .map(Litres)
}

/// Water by weight or by volume; a millilitre of it is a gram.
///
/// # Errors
/// See [`ReadError`].
pub fn water(text: &str, bare: MassUnit) -> Result<Grams, ReadError> {
    match volume(text, bare) {
        Ok(litres) if mass(text, bare).is_err() => Ok(Grams(litres.0 * 1_000.0)),
        _ => mass(text, bare).map_err(|e| match e {
            ReadError::Unit { word, .. } => ReadError::Unit {
                word,
                quantity: "water",
                example: match bare {
                    MassUnit::Metric => "1500, 1.5 kg or 1.5 l",
                    MassUnit::Imperial => "3 lb 5 oz, 2 qt or 1500 g",
                },
            },
            other => other,
        }),
    }
}

/// A temperature; the only quantity that may be below zero.
///
/// # Errors
/// See [`ReadError`].
pub fn temperature(text: &str, bare: HeatUnit) -> Result<Celsius, ReadError> {
    let example = match bare {
        HeatUnit::Celsius => "62.8 or 145 F",
        HeatUnit::Fahrenheit => "145 or 62.8 C",
    };
    let typed = plain(text);
    let (negative, rest) = match typed.strip_prefix('-') {
        Some(rest) => (true, rest),
        None => match typed.strip_prefix("minus ") {
            Some(rest) => (true, rest),
            None => (false, typed.as_str()),
        },
    };
    let tokens = tokens(rest, example)?;
    let degrees = |w: &str| matches!(w, "°" | "º" | "deg" | "degs" | "degree" | "degrees");
    let mut words = tokens
        .iter()
        .filter(|t| !matches!(t, Token::Word(w) if degrees(w)));
    let (found, word) = match (words.next(), words.next(), words.next()) {
        (None, _, _) if tokens.is_empty() => return Err(ReadError::Empty { example }),
        (Some(Token::Number(n)), None, _) => (n, None),
        (Some(Token::Number(n)), Some(Token::Word(w)), None) => (n, Some(w.as_str())),
        (Some(Token::Number(_)), _, _) => return Err(ReadError::mixture(text, example)),
        _ => return Err(ReadError::number(text, example)),
    };
    let unit = match word {
        None => bare,
        Some("c" | "degc" | "celsius" | "centigrade") => HeatUnit::Celsius,
        Some("f" | "degf" | "fahrenheit") => HeatUnit::Fahrenheit,
        Some(other) => {
            return Err(ReadError::Unit {
                word: short(other),
                quantity: "temperature",
                example,
            });
        }
    };
    let letter = match unit {
        HeatUnit::Celsius => "C",
        HeatUnit::Fahrenheit => "F",
    };
    if let Some(ways) = found.two_ways.as_ref().filter(|w| w.always) {
        return Err(both(text, ways, letter));
    }
    let signed = if negative { -found.value } else { found.value };
    let celsius = match unit {
        HeatUnit::Celsius => signed,
        HeatUnit::Fahrenheit => (signed - 32.0) / 1.8,
    };
    let said = |c: f64| super::show::temperature(Celsius(c), bare);
    let bounds = Measure::Temperature.bounds();
    if celsius > bounds.most {
        return Err(ReadError::TooLarge {
            text: short(text),
            most: said(bounds.most),
            example,
        });
    }
    if celsius < bounds.least {
        return Err(ReadError::TooCold {
            text: short(text),
            least: said(bounds.least),
            example,
        });
    }
    Ok(Celsius(celsius))
}

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

/// A rate: `2.5`, `2.5 g/kg`, `0.25 %`, `4 oz per 100 lb`, `1 tbsp/lb`. A bare number is g/kg.
///
/// # Errors
/// See [`ReadError`].
pub fn rate(text: &str, measures: MassUnit) -> Result<Rate, ReadError> {
    let typed = plain(text).to_lowercase();
    let (amount, per) = match split_rate(&typed) {
        Some((amount, per)) => (amount.to_string(), Some(per.to_string())),
        None => (typed.clone(), None),
    };
    let found = tokens(&amount, RATE)?;
    let kilograms = match &per {
        None => 1.0,
        Some(per) => {
            let per = if per.starts_with(begins_number) {
                per.clone()
            } else {
                format!("1 {per}")
            };
            let how = Reader {
                quantity: "weight",
                example: RATE,
                bare: f64::NAN,
                bare_word: "g",
                larger_word: None,
                unit: mass_unit,
                after: None,
                dash: false,
                measure: Measure::Mass,
            };
            let grams = how.sum(&per)?;
            if grams <= 0.0 {
                return Err(ReadError::number(text, RATE));
            }
            grams / 1_000.0
        }
    };
    let (value, word) = match found.as_slice() {
        [] => return Err(ReadError::Empty { example: RATE }),
        [Token::Number(n)] => (sure(text, n, "g/kg")?, None),
        [Token::Number(n), Token::Word(w)] => (sure(text, n, w)?, Some(w.as_str())),
        [Token::Word(_), ..] => return Err(ReadError::number(text, RATE)),
        _ => return Err(ReadError::mixture(text, RATE)),
    };
    let unit = |word: &str| ReadError::Unit {
        word: short(word),
        quantity: "rate",
        example: RATE,
    };
    let g_per_kg = match (word, &per) {
        (None, None) => value,
        (Some("%" | "percent"), None) => value * 10.0,
        (Some("‰"), None) => value,
        (Some("ppm"), None) => value / 1_000.0,
        (None, Some(_)) => return Err(ReadError::number(text, RATE)),
        (Some(word), Some(_)) => match (mass_unit(word), spoon_ml(word, measures)) {
            (Some(grams), _) => value * grams / kilograms,
            (None, Some(ml)) => return Ok(Rate::Volume(value * ml / kilograms)),
            (None, None) => return Err(unit(word)),
        },
        (Some(word), None) if mass_unit(word).is_some() || spoon_ml(word, measures).is_some() => {
            return Err(ReadError::NoMeat {
                text: short(text),
                example: RATE,
            });
        }
        (Some(word), None) => return Err(unit(word)),
    };
    within(text, g_per_kg, Measure::Rate, RATE).map(|v| Rate::Weight(GPerKg(v)))
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

const CONTENT: &str = "156 ppm or 156";

/// A content: `156`, `156 ppm`, `156 mg/kg`.
///
/// # Errors
/// See [`ReadError`].
pub fn content(text: &str) -> Result<Ppm, ReadError> {
    let typed = plain(text).to_lowercase().replace("mg/kg", "ppm");
    let value = match tokens(&typed, CONTENT)?.as_slice() {
        [] => return Err(ReadError::Empty { example: CONTENT }),
        [Token::Number(n)] => sure(text, n, "ppm")?,
        [Token::Number(n), Token::Word(w)] if w == "ppm" => sure(text, n, "ppm")?,
        [Token::Number(_), Token::Word(w)] => {
            return Err(ReadError::Unit {
                word: short(w),
                quantity: "content",
                example: CONTENT,
            });
        }
        _ => return Err(ReadError::number(text, CONTENT)),
    };
    within(text, value, Measure::Content, CONTENT).map(Ppm)
}

const SHARE: &str = "a share, such as 35 %";

/// A share: `35 %`, `35%`, `0.35`, `0,35`. A bare number above one is meant in percent.
///
/// # Errors
/// When it is no number, or no share.
pub fn share(text: &str) -> Result<Fraction, ReadError> {
    let (value, said_percent) = percent_or_number(text, SHARE)?;
    let value = if said_percent || value > 1.0 {
        value / 100.0
    } else {
        value
    };
    within(text, value, Measure::Share, SHARE).map(Fraction)
}

const PERCENT: &str = "percent, such as 2.2 or 2.2 %";

/// A share in a field of percents: `2.2` and `2.2 %` are the same, and so is `0.5`: half a percent.
///
/// # Errors
/// When it is no number, or no share.
pub fn percent(text: &str) -> Result<Fraction, ReadError> {
    let (value, _) = percent_or_number(text, PERCENT)?;
    within(text, value / 100.0, Measure::Share, PERCENT).map(Fraction)
}

fn percent_or_number(text: &str, example: &'static str) -> Result<(f64, bool), ReadError> {
    let typed = plain(text).to_lowercase().replace("per cent", "%");
    if typed.starts_with('-') {
        return Err(ReadError::Negative {
            text: short(text),
            example,
        });
    }
    match tokens(&typed, example)?.as_slice() {
        [] => Err(ReadError::Empty { example }),
        [Token::Number(n)] => Ok((sure(text, n, "%")?, false)),
        [Token::Number(n), Token::Word(w)] if w == "%" || w == "percent" => {
            Ok((sure(text, n, "%")?, true))
        }
        [Token::Number(_), Token::Word(w)] => Err(ReadError::Unit {
            word: short(w),
            quantity: "share",
            example,
        }),
        _ => Err(ReadError::number(text, example)),
    }
}

const MONEY: &str = "an amount of money, such as 184.50";

/// An amount of money in hundredths: `184.50`, `184,50`, `$ 184`, `1,184.50`.
///
/// # Errors
/// When it is no amount, is below zero, or has more than two decimals.
pub fn cents(text: &str) -> Result<i64, ReadError> {
    let typed = plain(text);
    let amount = typed
        .trim_start_matches(|c: char| !begins_number(c) && c != '-' && c != '.' && c != ',')
        .trim_end_matches(|c: char| !c.is_ascii_digit());
    if amount.starts_with('-') {
        return Err(ReadError::Negative {
            text: short(text),
            example: MONEY,
        });
    }
    if amount.is_empty() {
        return Err(ReadError::number(text, MONEY));
    }
    let (found, rest) = number(amount, MONEY)?;
    let value = sure(text, &found, "")?;
    let cents = value * 100.0;
    if !rest.trim().is_empty() || (cents - cents.round()).abs() > 1e-6 {
        return Err(ReadError::number(text, MONEY));
    }
    Ok(within(text, cents.round(), Measure::Money, MONEY)? as i64)
}

/// A number that is read in one way only.
fn sure(text: &str, number: &Number, unit: &str) -> Result<f64, ReadError> {
    match &number.two_ways {
        Some(ways) if ways.always => Err(both(text, ways, unit)),
        _ => Ok(number.value),
    }
}

fn both(text: &str, ways: &TwoWays, unit: &str) -> ReadError {
    let with = |number: &str| format!("{number} {unit}").trim_end().to_string();
    ReadError::TwoWays {
        text: short(text),
        ways: format!("{} or {}", with(&ways.plain), with(&ways.decimal)),
    }
}

fn within(
    text: &str,
    value: f64,
    measure: Measure,
    example: &'static str,
) -> Result<f64, ReadError> {
    if measure.holds(value) {
        Ok(value)
    } else if value < 0.0 {
        Err(ReadError::Negative {
            text: short(text),
            example,
        })
    } else {
        Err(ReadError::TooLarge {
            text: short(text),
            most: match measure {
                Measure::Share => "100 %".into(),
                other => other.most(),
            },
            example,
        })
    }
}

#[derive(Debug, PartialEq)]
enum Token {
    Number(Number),
    Word(String),
}

/// Splits into numbers (with their fractions folded in) and lower-case words.
fn tokens(text: &str, example: &'static str) -> Result<Vec<Token>, ReadError> {
    let mut found = Vec::new();
    let mut rest = text.trim_start();
    while let Some(first) = rest.chars().next() {
        let begins_decimal =
            matches!(first, '.' | ',') && rest[1..].starts_with(|c: char| c.is_ascii_digit());
        if begins_number(first) || begins_decimal {
            let (number, after) = number(rest, example)?;
            found.push(Token::Number(number));
            rest = after;
        } else if matches!(first, '°' | 'º' | '%' | '#' | '"' | '‰' | '-' | '&' | '+') {
            found.push(Token::Word(first.into()));
            rest = &rest[first.len_utf8()..];
        } else {
            let end = rest
                .find(|c: char| {
                    c.is_whitespace()
                        || begins_number(c)
                        || matches!(c, '.' | ',' | '°' | 'º' | '%' | '-')
                })
                .unwrap_or(rest.len())
                .max(first.len_utf8());
            found.push(Token::Word(rest[..end].to_lowercase()));
            rest = rest[end..].trim_start_matches([',', '.']);
        }
        rest = rest.trim_start();
    }
    Ok(found)
}

/// How amounts of one quantity are added up from `number unit` pairs in falling order of unit.
struct Reader {
    quantity: &'static str,
    example: &'static str,
    /// What a bare number is counted in.
    bare: f64,
    /// The word for that.
    bare_word: &'static str,
    /// A unit so much larger that `2.010` of it is as likely as 2010 of the bare one.
    larger_word: Option<&'static str>,
    unit: UnitWord,
    /// After the first unit, a bare number is in the second, below the third of them.
    after: Option<(f64, f64, f64)>,
    /// True where `4-7` is so many of the bare unit and so many of the next.
    dash: bool,
    measure: Measure,
}

impl Reader {
    fn sum(&self, text: &str) -> Result<f64, ReadError> {
        let example = self.example;
        let typed = plain(text);
        if typed.starts_with('-') || typed.starts_with("minus ") {
            return Err(ReadError::Negative {
                text: short(text),
                example,
            });
        }
        let tokens = tokens(&typed, example)?;
        if tokens.is_empty() {
            return Err(ReadError::Empty { example });
        }
        let total = match self.dashed(&tokens) {
            Some(total) => total,
            None => self.pairs(text, &tokens)?,
        };
        let bounds = self.measure.bounds();
        if total > bounds.most {
            return Err(ReadError::TooLarge {
                text: short(text),
                most: self.measure.most(),
                example,
            });
        }
        Ok(total)
    }

    /// `4-7` in a household of pounds.
    fn dashed(&self, tokens: &[Token]) -> Option<f64> {
        let (_, small, most) = self.after.filter(|_| self.dash)?;
        match tokens {
            [Token::Number(a), Token::Word(dash), Token::Number(b)]
                if dash == "-" && a.whole && b.two_ways.is_none() && b.value < most =>
            {
                Some(a.value * self.bare + b.value * small)
            }
            _ => None,
        }
    }

    fn pairs(&self, text: &str, tokens: &[Token]) -> Result<f64, ReadError> {
        let example = self.example;
        let mixture = || ReadError::mixture(text, example);
        let mut total = 0.0;
        let mut last_unit = f64::INFINITY;
        let mut at = tokens.iter().peekable();
        let mut pairs = 0;
        while let Some(token) = at.next() {
            let number = match token {
                Token::Number(number) => number,
                Token::Word(and) if pairs > 0 && matches!(and.as_str(), "and" | "&" | "+") => {
                    match at.next() {
                        Some(Token::Number(number)) => number,
                        _ => return Err(mixture()),
                    }
                }
                Token::Word(word) if (self.unit)(word).is_some() || word == "-" => {
                    return Err(ReadError::number(text, example));
                }
                Token::Word(word) => return Err(self.no_unit(word)),
            };
            let (factor, word) = match at.peek() {
                Some(Token::Word(word)) if !matches!(word.as_str(), "and" | "&" | "+" | "-") => {
                    at.next();
                    let factor = (self.unit)(word).ok_or_else(|| self.no_unit(word))?;
                    (factor, word.as_str())
                }
                // `4 lb 7`
                None if pairs > 0 => match self.after {
                    Some((large, small, most)) if last_unit == large && number.value < most => {
                        (small, "")
                    }
                    _ => return Err(mixture()),
                },
                None if self.bare.is_nan() => return Err(mixture()),
                None => (self.bare, self.bare_word),
                Some(_) => return Err(mixture()),
            };
            self.one_way(text, number, word, tokens.len() == 1)?;
            if factor >= last_unit {
                return Err(mixture());
            }
            last_unit = factor;
            total += number.value * factor;
            pairs += 1;
        }
        Ok(total)
    }

    /// Refuses what can be read two ways, with the unit kept in both.
    fn one_way(
        &self,
        text: &str,
        number: &Number,
        word: &str,
        alone: bool,
    ) -> Result<(), ReadError> {
        let Some(ways) = &number.two_ways else {
            return Ok(());
        };
        match self.larger_word.filter(|_| alone) {
            Some(larger) => Err(ReadError::TwoWays {
                text: short(text),
                ways: format!(
                    "{} {word}, {} {word} or {} {larger}",
                    ways.plain, ways.decimal, ways.decimal
                ),
            }),
            None if ways.always => Err(both(text, ways, word)),
            None => Ok(()),
        }
    }

    fn no_unit(&self, word: &str) -> ReadError {
        ReadError::Unit {
            word: short(word),
            quantity: self.quantity,
            example: self.example,
        }
    }
}

#[cfg(test)]
mod tests;
