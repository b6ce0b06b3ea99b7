//! The shape of a form: fields to fill, numbers as they are typed, and why what was sent cannot be.

mod error;

use crate::ids::word;
use crate::units::{Amount, read};
pub use error::AskError;
use serde::{Deserialize, Serialize};

/// How a field is typed or chosen.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum FieldKind {
    /// A weight, as typed.
    Mass,
    /// A thickness, as typed.
    Length,
    /// A temperature, as typed.
    Temperature,
    /// Money, as typed.
    Money,
    /// A share, as typed: `35 %`.
    Share,
    /// Words.
    Text,
    /// A whole number.
    Count,
    /// Yes or no.
    Tick,
    /// A calendar day.
    Day,
    /// A moment.
    Moment,
    /// One of its options.
    OneOf,
    /// A list; each row has its own fields.
    Rows,
}

/// One thing that can be chosen.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FieldOption {
    /// As it is sent.
    pub value: String,
    /// As it is called.
    pub label: String,
}

/// One field of an ask.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Field {
    /// Where it stands in the ask, with points between: `weighed.lines.0.reading`.
    pub name: String,
    /// As it is called.
    pub label: String,
    /// How it is typed.
    pub kind: FieldKind,
    /// True when it may be left empty.
    pub optional: bool,
    /// What to know about it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub hint: Option<String>,
    /// What can be chosen.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub options: Vec<FieldOption>,
    /// The fields of a row.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "openapi", schema(no_recursion))]
    pub row: Vec<Field>,
    /// A row with nothing in it, for adding one.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<Object>))]
    pub empty_row: Option<serde_json::Value>,
}

impl Field {
    /// A field that has to be filled.
    #[must_use]
    pub fn new(name: impl Into<String>, label: impl Into<String>, kind: FieldKind) -> Self {
        Self {
            name: name.into(),
            label: label.into(),
            kind,
            optional: false,
            hint: None,
            options: Vec::new(),
            row: Vec::new(),
            empty_row: None,
        }
    }

    /// A weight.
    #[must_use]
    pub fn mass(name: &str, label: &str) -> Self {
        Self::new(name, label, FieldKind::Mass)
    }

    /// A thickness, which may be left empty.
    #[must_use]
    pub fn thickness(name: &str, label: &str) -> Self {
        Self::new(name, label, FieldKind::Length).optional()
    }

    /// Words.
    #[must_use]
    pub fn text(name: &str, label: &str) -> Self {
        Self::new(name, label, FieldKind::Text)
    }

    /// Yes or no.
    #[must_use]
    pub fn tick(name: &str, label: &str) -> Self {
        Self::new(name, label, FieldKind::Tick)
    }

    /// One of several.
    #[must_use]
    pub fn one_of(name: &str, label: &str, options: Vec<FieldOption>) -> Self {
        Self {
            options,
            ..Self::new(name, label, FieldKind::OneOf)
        }
    }

    /// A list.
    #[must_use]
    pub fn rows(name: &str, label: &str, row: Vec<Self>, empty: Option<serde_json::Value>) -> Self {
        Self {
            row,
            empty_row: empty,
            ..Self::new(name, label, FieldKind::Rows)
        }
    }

    /// The same, but it may be left empty.
    #[must_use]
    pub fn optional(mut self) -> Self {
        self.optional = true;
        self
    }

    /// The same with a word about it.
    #[must_use]
    pub fn hint(mut self, hint: impl Into<String>) -> Self {
        self.hint = Some(hint.into());
        self
    }
}

/// An option of a closed set, by its stable word and what it is called.
pub(super) fn option<T: Serialize>(value: &T, label: impl Into<String>) -> FieldOption {
    FieldOption {
        value: word(value),
        label: label.into(),
    }
}

/// Every one of a closed set, called by its stable word.
pub(super) fn options<T: Serialize>(all: &[T]) -> Vec<FieldOption> {
    all.iter()
        .map(|value| option(value, word(value).replace('_', " ")))
        .collect()
}

/// Hours that may be left empty.
///
/// # Errors
/// As [`hours`].
pub(crate) fn hours_if(typed: Option<&Amount>, field: &str) -> Result<Option<f64>, AskError> {
    let empty = |a: &&Amount| matches!(a, Amount::Text(t) if t.trim().is_empty());
    typed
        .filter(|a| !empty(a))
        .map(|a| hours(a, field))
        .transpose()
}

/// Hours, as a number or as typed: `26`, `26 h`, `90 min`, `2 days`.
///
/// # Errors
/// When they cannot be read, or nobody waits that long.
pub(crate) fn hours(typed: &Amount, field: &str) -> Result<f64, AskError> {
    let read = match typed {
        Amount::Number(n) => Some(*n),
        Amount::Text(text) => read::hours(text).ok(),
    };
    read.filter(|h| (0.0..=MOST_HOURS).contains(h))
        .ok_or_else(|| AskError::field(field, "Type hours, such as 26, 90 min or 2 days."))
}

/// Longer nobody waits (h).
const MOST_HOURS: f64 = 10_000.0;

/// A whole number as it was sent: a number, or what somebody typed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(untagged)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Count {
    /// A whole number.
    Whole(u32),
    /// A number that is none, kept to be answered in words.
    Other(f64),
    /// As typed.
    Text(String),
}

impl Count {
    /// The number it means.
    ///
    /// # Errors
    /// What to type instead.
    pub fn read(&self) -> Result<u32, String> {
        let typed = match self {
            Self::Whole(n) => return Ok(*n),
            Self::Other(n) => n.to_string(),
            Self::Text(text) => text.trim().to_string(),
        };
        typed
            .parse()
            .map_err(|_| format!("“{typed}” is not a whole number. Type one such as 12."))
    }
}

impl Count {
    /// True when nothing was typed.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        matches!(self, Self::Text(text) if text.trim().is_empty())
    }
}

impl Default for Count {
    fn default() -> Self {
        Self::Whole(0)
    }
}

impl From<u32> for Count {
    fn from(n: u32) -> Self {
        Self::Whole(n)
    }
}
