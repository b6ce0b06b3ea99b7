//! Reading what a person typed at the bench: `4 lb 7 oz`, `2.01 kg`, `2010`, `1 3/4 in`.
//!
//! A number that can be read in two ways is refused with both readings, never guessed.

mod error;
mod heat;
mod number;
mod rate;
mod share;

pub use error::ReadError;
pub use heat::temperature;
pub use rate::{Rate, measured_in, rate, strength};
pub use share::{cents, content, percent, share};

use super::bounds::Measure;
use super::{
    GRAMS_PER_OUNCE, GRAMS_PER_POUND, Grams, LengthUnit, Litres, MM_PER_INCH, MassUnit, Measures,
    Millimetres, Units,
};
use error::short;
use number::{Number, TwoWays, begins_number, number, plain};

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
const fn volume_unit(measures: Measures) -> UnitWord {
    match measures {
        Measures::Us => |word| litres(word, Measures::Us),
        Measures::Metric => |word| litres(word, Measures::Metric),
        Measures::Imperial => |word| litres(word, Measures::Imperial),
    }
}

/// Whether it holds something else in another country.
fn differs(word: &str) -> bool {
    litres(word, Measures::Us) != litres(word, Measures::Imperial)
}

fn litres(word: &str, measures: Measures) -> Option<f64> {
    let holds = measures.holds();
    Some(match word {
        "ml" | "mls" | "millilitre" | "millilitres" | "milliliter" | "milliliters" | "cc" => 0.001,
        "cl" | "centilitre" | "centilitres" => 0.01,
        "dl" | "decilitre" | "decilitres" => 0.1,
        "l" | "ltr" | "litre" | "litres" | "liter" | "liters" => 1.0,
        "floz" => holds.fl_oz / 1_000.0,
        "cup" | "cups" => holds.cup / 1_000.0,
        "pt" | "pint" | "pints" => holds.gallon / 8_000.0,
        "qt" | "qts" | "quart" | "quarts" => holds.gallon / 4_000.0,
        "gal" | "gals" | "gallon" | "gallons" => holds.gallon / 1_000.0,
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
pub fn volume(text: &str, units: Units) -> Result<Litres, ReadError> {
    let measures = units.measures();
    let (example, bare, bare_word) = match units.mass {
        MassUnit::Metric => ("12, 12 l or 500 ml", 1.0, "l"),
        MassUnit::Imperial => (
            "12, 12 qt or 3 gal",
            measures.holds().gallon / 4_000.0,
            "qt",
        ),
    };
    let how = Reader {
        quantity: "volume",
        example,
        bare,
        bare_word,
        larger_word: None,
        unit: volume_unit(measures),
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
pub fn water(text: &str, units: Units) -> Result<Grams, ReadError> {
    let bare = units.mass;
    match volume(text, units) {
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

/// A time in hours: `26`, `26 h`, `90 min`, `2 days`.
///
/// # Errors
/// See [`ReadError`].
pub fn hours(text: &str) -> Result<f64, ReadError> {
    let how = Reader {
        quantity: "time",
        example: "26, 90 min or 2 days",
        bare: 1.0,
        bare_word: "h",
        larger_word: None,
        unit: hour_unit,
        after: None,
        dash: false,
        measure: Measure::Time,
    };
    how.sum(text)
}

fn hour_unit(word: &str) -> Option<f64> {
    Some(match word {
        "min" | "mins" | "minute" | "minutes" => 1.0 / 60.0,
        "h" | "hr" | "hrs" | "hour" | "hours" => 1.0,
        "d" | "day" | "days" => 24.0,
        _ => return None,
    })
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
