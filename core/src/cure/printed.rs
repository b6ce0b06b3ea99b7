//! A dose as plain text: what it is for, and one ingredient a line. The recipe check reads it back to the same grams.

use crate::catalogue::cures::{CureChoice, Role};
use crate::units::show::trim;
use std::fmt::Write;

/// Writes a dose down.
///
/// * `title` – what it is, for a heading; nothing is written for an empty one
/// * `meat_g` – the meat it is for (g); none where nobody knows
/// * `lines` – what goes in, by name, and how much (g)
#[must_use]
pub fn printed(title: &str, meat_g: Option<f64>, lines: &[(&str, f64)]) -> String {
    let mut text = String::new();
    let title = title.trim().trim_end_matches(':');
    if !title.is_empty() {
        let _ = writeln!(text, "{title}:");
    }
    if let Some(meat) = meat_g {
        let _ = writeln!(text, "{} g meat", trim(meat, 3));
    }
    for (name, grams) in lines {
        let _ = writeln!(text, "{} g {name}", trim(*grams, 3));
    }
    text
}

/// What a curing salt is called where only words are left: one of no name by what it holds.
#[must_use]
pub fn called(cure: &CureChoice) -> String {
    let made_of = &cure.made_of;
    if cure.key.is_some() || made_of.nitrite + made_of.nitrate <= 0.0 {
        return cure.name.clone();
    }
    let mut words = format!(
        "curing salt with {} % nitrite",
        trim(made_of.nitrite * 100.0, 4)
    );
    if made_of.nitrate > 0.0 {
        let _ = write!(words, " and {} % nitrate", trim(made_of.nitrate * 100.0, 4));
    }
    words
}

/// A line's name as it is printed.
#[must_use]
pub(crate) fn line_name<'a>(role: Role, name: &'a str, cure: &'a str) -> &'a str {
    if role == Role::CuringSalt { cure } else { name }
}
