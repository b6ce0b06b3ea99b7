//! Shares, contents and money: numbers with hardly a unit.

use super::number::{begins_number, number, plain};
use super::{ReadError, Token, short, sure, tokens, within};
use crate::units::bounds::Measure;
use crate::units::{Fraction, Ppm};

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
