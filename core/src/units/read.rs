//! Reading what a person typed at the bench: `4 lb 7 oz`, `2.01 kg`, `2010`, `1 3/4 in`.
//!
//! A number that can be read in two ways is refused with both readings, never guessed.

use super::{GRAMS_PER_OUNCE, GRAMS_PER_POUND, HeatUnit, LengthUnit, MM_PER_INCH, MassUnit};

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
    #[error("“{text}” can be read two ways. Type {plain} or {decimal}.")]
    TwoWays {
        /// The text as typed.
        text: String,
        /// Without the comma.
        plain: String,
        /// With a point for the comma.
        decimal: String,
    },
    /// A second number without a unit, or units in rising order.
    #[error("“{text}” mixes units in a way that cannot be added up. Type {example}.")]
    Mixture {
        /// The text as typed.
        text: String,
        /// What would be understood.
        example: &'static str,
    },
    /// No amount of money.
    #[error("Type an amount of money, such as 184.50.")]
    Money,
    /// No share.
    #[error("Type a share, such as 35 %.")]
    Share,
    /// Below zero where that has no meaning.
    #[error("“{text}” is below zero. Type {example}.")]
    Negative {
        /// The text as typed.
        text: String,
        /// What would be understood.
        example: &'static str,
    },
    /// Past anything a household could weigh or measure.
    #[error("“{text}” is too large to be right. Type {example}.")]
    TooLarge {
        /// The text as typed.
        text: String,
        /// What would be understood.
        example: &'static str,
    },
}

/// No household weighs ten tonnes; a larger number is a mistyped one (g).
const LARGEST_G: f64 = 10_000_000.0;
/// No piece is ten metres thick (mm).
const LARGEST_MM: f64 = 10_000.0;

/// A weight in grams.
///
/// A bare number is grams in a metric household and pounds in an imperial one.
///
/// # Errors
/// See [`ReadError`].
pub fn mass_g(text: &str, bare: MassUnit) -> Result<f64, ReadError> {
    let (example, bare) = match bare {
        MassUnit::Metric => ("2010, 2.01 kg or 4 lb 7 oz", 1.0),
        MassUnit::Imperial => ("4 lb 7 oz, 4.44 lb or 2010 g", GRAMS_PER_POUND),
    };
    let unit = |word: &str| {
        Some(match word {
            "g" | "gr" | "gram" | "grams" | "gramme" | "grammes" => 1.0,
            "kg" | "kgs" | "kilo" | "kilos" | "kilogram" | "kilograms" => 1_000.0,
            "mg" => 0.001,
            "lb" | "lbs" | "pound" | "pounds" | "#" => GRAMS_PER_POUND,
            "oz" | "ounce" | "ounces" => GRAMS_PER_OUNCE,
            _ => return None,
        })
    };
    let grams = sum(text, "weight", example, bare, unit)?;
    if grams > LARGEST_G {
        return Err(ReadError::TooLarge {
            text: text.trim().into(),
            example,
        });
    }
    Ok(grams)
}

/// A length in millimetres. A bare number is in the household's unit.
///
/// # Errors
/// See [`ReadError`].
pub fn length_mm(text: &str, bare: LengthUnit) -> Result<f64, ReadError> {
    let (example, bare) = match bare {
        LengthUnit::Mm => ("45, 4.5 cm or 1 3/4 in", 1.0),
        LengthUnit::Inch => ("1 3/4, 1.75 in or 45 mm", MM_PER_INCH),
    };
    let unit = |word: &str| {
        Some(match word {
            "mm" | "millimetre" | "millimetres" | "millimeter" | "millimeters" => 1.0,
            "cm" | "centimetre" | "centimetres" | "centimeter" | "centimeters" => 10.0,
            "in" | "inch" | "inches" | "\"" | "”" | "″" => MM_PER_INCH,
            _ => return None,
        })
    };
    let mm = sum(text, "thickness", example, bare, unit)?;
    if mm > LARGEST_MM {
        return Err(ReadError::TooLarge {
            text: text.trim().into(),
            example,
        });
    }
    Ok(mm)
}

/// A temperature in degrees Celsius; the only quantity that may be below zero.
///
/// # Errors
/// See [`ReadError`].
pub fn temperature_c(text: &str, bare: HeatUnit) -> Result<f64, ReadError> {
    let example = match bare {
        HeatUnit::Celsius => "62.8 or 145 F",
        HeatUnit::Fahrenheit => "145 or 62.8 C",
    };
    let trimmed = text.trim();
    let (negative, rest) = match trimmed.strip_prefix(['-', '−']) {
        Some(rest) => (true, rest),
        None => (false, trimmed),
    };
    let tokens = tokens(rest, example)?;
    let (number, unit) = match tokens.as_slice() {
        [] => return Err(ReadError::Empty { example }),
        [Token::Number(n)] => (*n, bare),
        [Token::Number(n), Token::Word(w)] => match w.as_str() {
            "c" | "degc" | "celsius" => (*n, HeatUnit::Celsius),
            "f" | "degf" | "fahrenheit" => (*n, HeatUnit::Fahrenheit),
            _ => {
                return Err(ReadError::Unit {
                    word: w.clone(),
                    quantity: "temperature",
                    example,
                });
            }
        },
        [Token::Word(_)] => {
            return Err(ReadError::Number {
                text: trimmed.into(),
                example,
            });
        }
        _ => {
            return Err(ReadError::Mixture {
                text: trimmed.into(),
                example,
            });
        }
    };
    let signed = if negative { -number } else { number };
    Ok(match unit {
        HeatUnit::Celsius => signed,
        HeatUnit::Fahrenheit => (signed - 32.0) / 1.8,
    })
}

#[derive(Debug, PartialEq)]
enum Token {
    Number(f64),
    Word(String),
}

/// Adds up `number unit` pairs in falling order of unit.
fn sum(
    text: &str,
    quantity: &'static str,
    example: &'static str,
    bare: f64,
    unit: impl Fn(&str) -> Option<f64>,
) -> Result<f64, ReadError> {
    let typed = text.trim();
    if typed.starts_with(['-', '−']) {
        return Err(ReadError::Negative {
            text: typed.into(),
            example,
        });
    }
    let mixture = || ReadError::Mixture {
        text: typed.into(),
        example,
    };
    let tokens = tokens(typed, example)?;
    let mut total = 0.0;
    let mut last_unit = f64::INFINITY;
    let mut at = tokens.iter().peekable();
    if at.peek().is_none() {
        return Err(ReadError::Empty { example });
    }
    let mut pairs = 0;
    while let Some(token) = at.next() {
        let Token::Number(number) = token else {
            let Token::Word(word) = token else {
                unreachable!()
            };
            return Err(if unit(word).is_some() {
                ReadError::Number {
                    text: typed.into(),
                    example,
                }
            } else {
                ReadError::Unit {
                    word: word.clone(),
                    quantity,
                    example,
                }
            });
        };
        let factor = match at.next() {
            Some(Token::Word(word)) => unit(word).ok_or_else(|| ReadError::Unit {
                word: word.clone(),
                quantity,
                example,
            })?,
            None if pairs == 0 => bare,
            _ => return Err(mixture()),
        };
        if factor >= last_unit {
            return Err(mixture());
        }
        last_unit = factor;
        total += number * factor;
        pairs += 1;
    }
    Ok(total)
}

/// Splits into numbers (with their fractions folded in) and lower-case words.
fn tokens(text: &str, example: &'static str) -> Result<Vec<Token>, ReadError> {
    let mut found = Vec::new();
    let mut rest = text.trim_start();
    while let Some(first) = rest.chars().next() {
        if first.is_ascii_digit() || first == '.' || vulgar(first).is_some() {
            let (number, after) = number(rest, example)?;
            found.push(Token::Number(number));
            rest = after;
        } else if first == '°' {
            rest = &rest[first.len_utf8()..];
        } else {
            let end = rest
                .find(|c: char| c.is_whitespace() || c.is_ascii_digit() || c == '.' || c == ',')
                .unwrap_or(rest.len())
                .max(first.len_utf8());
            let word = rest[..end].trim_end_matches('.').to_lowercase();
            found.push(Token::Word(word));
            rest = rest[end..].trim_start_matches([',', '.']);
        }
        rest = rest.trim_start();
    }
    Ok(found)
}

/// One number with what belongs to it: `1 3/4`, `1¾`, `3/4`, `2.5`, `2,5`.
fn number<'a>(text: &'a str, example: &'static str) -> Result<(f64, &'a str), ReadError> {
    let unread = |t: &str| ReadError::Number {
        text: t.trim().into(),
        example,
    };
    if let Some((value, len)) = text.chars().next().and_then(vulgar) {
        return Ok((value, &text[len..]));
    }
    let end = text
        .find(|c: char| !(c.is_ascii_digit() || c == '.' || c == ','))
        .unwrap_or(text.len());
    let whole = decimal(text[..end].trim_end_matches(','), example)?;
    let rest = &text[end..];

    // `3/4` itself
    if let Some(after) = rest.strip_prefix('/') {
        let (bottom, after) = digits(after).ok_or_else(|| unread(text))?;
        if bottom == 0.0 {
            return Err(unread(text));
        }
        return Ok((whole / bottom, after));
    }
    // `1 3/4` or `1-3/4` or `1¾`
    let gap = rest.trim_start_matches([' ', '-']);
    if let Some((value, len)) = gap.chars().next().and_then(vulgar) {
        return Ok((whole + value, &gap[len..]));
    }
    if let Some((top, after)) = digits(gap)
        && let Some(after) = after.strip_prefix('/')
    {
        let (bottom, after) = digits(after).ok_or_else(|| unread(text))?;
        if bottom == 0.0 {
            return Err(unread(text));
        }
        return Ok((whole + top / bottom, after));
    }
    Ok((whole, rest))
}

fn digits(text: &str) -> Option<(f64, &str)> {
    let end = text
        .find(|c: char| !c.is_ascii_digit())
        .unwrap_or(text.len());
    Some((text[..end].parse().ok()?, &text[end..]))
}

/// `2010`, `2.01`, `2,5`; a comma before exactly three digits is two different numbers.
fn decimal(text: &str, example: &'static str) -> Result<f64, ReadError> {
    let unread = || ReadError::Number {
        text: text.into(),
        example,
    };
    match text.matches(',').count() {
        0 => text.parse().map_err(|_| unread()),
        1 if !text.contains('.') => {
            let (whole, part) = text.split_once(',').ok_or_else(unread)?;
            if part.len() == 3 && !whole.is_empty() && whole != "0" {
                return Err(ReadError::TwoWays {
                    text: text.into(),
                    plain: text.replace(',', ""),
                    decimal: text.replace(',', "."),
                });
            }
            text.replace(',', ".").parse().map_err(|_| unread())
        }
        // `1,234.5`: the point settles what the comma is.
        _ => {
            let (whole, part) = text.split_once('.').unwrap_or((text, ""));
            let mut groups = whole.split(',');
            let first_fits = groups.next().is_some_and(|g| (1..=3).contains(&g.len()));
            if !first_fits || groups.any(|g| g.len() != 3) || part.contains([',', '.']) {
                return Err(unread());
            }
            text.replace(',', "").parse().map_err(|_| unread())
        }
    }
}

fn vulgar(c: char) -> Option<(f64, usize)> {
    let value = match c {
        '½' => 0.5,
        '¼' => 0.25,
        '¾' => 0.75,
        '⅓' => 1.0 / 3.0,
        '⅔' => 2.0 / 3.0,
        '⅛' => 0.125,
        '⅜' => 0.375,
        '⅝' => 0.625,
        '⅞' => 0.875,
        _ => return None,
    };
    Some((value, c.len_utf8()))
}

/// An amount of money in hundredths: `184.50`, `184,50`, `184`.
///
/// # Errors
/// When it is no amount, is below zero, or has more than two decimals.
pub fn cents(text: &str) -> Result<i64, ReadError> {
    let plain = text
        .trim()
        .trim_start_matches(|c: char| !c.is_ascii_digit() && c != '-');
    let plain = plain.replace(',', ".");
    let (whole, part) = plain.split_once('.').unwrap_or((&plain, ""));
    let digits = |t: &str| t.chars().all(|c| c.is_ascii_digit());
    if whole.is_empty() || !digits(whole) || !digits(part) || part.len() > 2 {
        return Err(ReadError::Money);
    }
    let whole: i64 = whole.parse().map_err(|_| ReadError::Money)?;
    let part: i64 = format!("{part:0<2}")
        .parse()
        .map_err(|_| ReadError::Money)?;
    whole
        .checked_mul(100)
        .map(|w| w + part)
        .ok_or(ReadError::Money)
}

/// A share: `35 %`, `35%`, `0.35`, `0,35`. A bare number above one is meant in percent.
///
/// # Errors
/// When it is no number, or no share.
pub fn share(text: &str) -> Result<f64, ReadError> {
    let trimmed = text.trim();
    let (number, percent) = match trimmed.strip_suffix('%') {
        Some(number) => (number.trim(), true),
        None => (trimmed, false),
    };
    let value: f64 = number
        .replace(',', ".")
        .parse()
        .map_err(|_| ReadError::Share)?;
    let value = if percent || value > 1.0 {
        value / 100.0
    } else {
        value
    };
    if (0.0..=1.0).contains(&value) {
        Ok(value)
    } else {
        Err(ReadError::Share)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn weights_are_read_as_people_type_them() {
        use MassUnit::{Imperial, Metric};
        #[rustfmt::skip]
        let cases = [
            ("4 lb 7 oz",   Metric,   4.0 * 453.592_37 + 7.0 * 28.349_523_125),
            ("4lb7oz",      Metric,   4.0 * 453.592_37 + 7.0 * 28.349_523_125),
            ("4 lbs., 7 oz", Metric,  4.0 * 453.592_37 + 7.0 * 28.349_523_125),
            ("2.01 kg",     Metric,   2010.0),
            ("2,01 kg",     Metric,   2010.0),
            ("2010",        Metric,   2010.0),
            ("2010 g",      Imperial, 2010.0),
            ("1 3/4 lb",    Metric,   1.75 * 453.592_37),
            ("1¾ lb",       Metric,   1.75 * 453.592_37),
            ("1/2 oz",      Metric,   14.174_761_562_5),
            ("4",           Imperial, 4.0 * 453.592_37),
            ("1 kg 250 g",  Metric,   1250.0),
            (" 12 OZ ",     Metric,   340.194_277_5),
            ("1,234.5 g",   Metric,   1234.5),
            (".5 kg",       Metric,   500.0),
            ("0,125 kg",    Metric,   125.0),
        ];
        for (text, unit, want) in cases {
            let got = mass_g(text, unit).unwrap_or_else(|e| panic!("{text}: {e}"));
            assert!((got - want).abs() < 1e-9, "{text}: got {got}, want {want}");
        }
    }

    #[test]
    fn lengths_are_read_as_people_type_them() {
        use LengthUnit::{Inch, Mm};
        #[rustfmt::skip]
        let cases = [
            ("1 3/4 in", Mm,   44.45),
            ("1-3/4\"",  Mm,   44.45),
            ("45mm",     Inch, 45.0),
            ("4.5 cm",   Mm,   45.0),
            ("45",       Mm,   45.0),
            ("2",        Inch, 50.8),
            ("1 3/4",    Inch, 44.45),
        ];
        for (text, unit, want) in cases {
            let got = length_mm(text, unit).unwrap_or_else(|e| panic!("{text}: {e}"));
            assert!((got - want).abs() < 1e-9, "{text}: got {got}, want {want}");
        }
    }

    #[test]
    fn temperatures_are_read_as_people_type_them() {
        use HeatUnit::{Celsius, Fahrenheit};
        #[rustfmt::skip]
        let cases = [
            ("145 F",     Celsius,    62.777_777_777_777_78),
            ("62.8",      Celsius,    62.8),
            ("145",       Fahrenheit, 62.777_777_777_777_78),
            ("-18 °C",    Fahrenheit, -18.0),
            ("62.8 degC", Fahrenheit, 62.8),
        ];
        for (text, unit, want) in cases {
            let got = temperature_c(text, unit).unwrap_or_else(|e| panic!("{text}: {e}"));
            assert!((got - want).abs() < 1e-9, "{text}: got {got}, want {want}");
        }
    }

    #[test]
    fn what_cannot_be_read_says_what_to_type() {
        #[rustfmt::skip]
        let cases = [
            ("",          "Nothing typed yet. Type 2010, 2.01 kg or 4 lb 7 oz."),
            ("2,010",     "“2,010” can be read two ways. Type 2010 or 2.010."),
            ("4 stone",   "“stone” is not a unit of weight. Type 2010, 2.01 kg or 4 lb 7 oz."),
            ("heavy",     "“heavy” is not a unit of weight. Type 2010, 2.01 kg or 4 lb 7 oz."),
            ("kg",        "“kg” cannot be read as a number. Type 2010, 2.01 kg or 4 lb 7 oz."),
            ("7 oz 4 lb", "“7 oz 4 lb” mixes units in a way that cannot be added up. Type 2010, 2.01 kg or 4 lb 7 oz."),
            ("4 lb 7",    "“4 lb 7” mixes units in a way that cannot be added up. Type 2010, 2.01 kg or 4 lb 7 oz."),
            ("-5 kg",     "“-5 kg” is below zero. Type 2010, 2.01 kg or 4 lb 7 oz."),
            ("1/0 kg",    "“1/0 kg” cannot be read as a number. Type 2010, 2.01 kg or 4 lb 7 oz."),
            ("1..2 kg",   "“1..2” cannot be read as a number. Type 2010, 2.01 kg or 4 lb 7 oz."),
            ("99999999",  "“99999999” is too large to be right. Type 2010, 2.01 kg or 4 lb 7 oz."),
        ];
        for (text, want) in cases {
            let got = mass_g(text, MassUnit::Metric).map_err(|e| e.to_string());
            assert_eq!(got, Err(want.to_string()), "{text}");
        }
    }
}
