//! Temperatures.

use super::number::plain;
use super::{ReadError, Token, both, short, tokens};
use crate::units::bounds::Measure;
use crate::units::{Celsius, HeatUnit, show};

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
    let said = |c: f64| show::temperature(Celsius(c), bare);
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
