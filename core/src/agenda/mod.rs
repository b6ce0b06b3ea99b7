//! What the household moved to another day: a choice within a task's window, never a fact.

pub(crate) mod kinds;

use crate::ids::PieceId;
use jiff::civil::Date;
pub use kinds::TaskKind;
use serde::{Deserialize, Serialize};

/// A task that is to be done on another day than planned.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Move {
    /// The piece.
    pub piece: PieceId,
    /// What.
    pub kind: TaskKind,
    /// The step of its product, where it is one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<String>,
    /// The day.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub to: Date,
}

/// What was moved, and the secret address of the calendar.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
pub struct Agenda {
    /// What is to be done on another day.
    pub moves: Vec<Move>,
    /// The last part of the calendar's address; none while nobody subscribes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub feed: Option<String>,
    /// How often it was changed.
    pub version: i64,
}
