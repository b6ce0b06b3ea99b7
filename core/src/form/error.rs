//! Why an ask becomes nothing.

use crate::caution::{FieldError, Finding};
use crate::ids::{LotId, PackId, PieceId};

/// Why an ask becomes no act.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum AskError {
    /// Fields that cannot be right.
    #[error("{}", .0.iter().map(|e| e.message.as_str()).collect::<Vec<_>>().join(" "))]
    Fields(Vec<FieldError>),
    /// Something that is not there.
    #[error("{0}")]
    Missing(String),
    /// A stop that wants a reason, or lets nobody pass.
    #[error("{1}")]
    Stopped(Vec<Finding>, &'static str),
}

impl From<Vec<FieldError>> for AskError {
    fn from(errors: Vec<FieldError>) -> Self {
        Self::Fields(errors)
    }
}

impl AskError {
    /// One field that cannot be right.
    pub fn field(field: &str, message: impl Into<String>) -> Self {
        Self::Fields(vec![FieldError::new(field, message)])
    }

    /// No such piece.
    #[must_use]
    pub fn no_piece(id: PieceId) -> Self {
        Self::Missing(format!(
            "There is no piece number {}. Look it up by its tag.",
            id.0
        ))
    }

    /// No such pack.
    #[must_use]
    pub fn no_pack(id: PackId) -> Self {
        Self::Missing(format!(
            "There is no pack number {}. Look it up by its tag.",
            id.0
        ))
    }

    /// No such lot.
    #[must_use]
    pub fn no_lot(id: LotId) -> Self {
        Self::Missing(format!("Nothing was received under number {}.", id.0))
    }

    /// The same refusal of something inside a list: its fields begin with `place`.
    #[must_use]
    pub fn under(self, place: &str) -> Self {
        match self {
            Self::Fields(errors) => Self::Fields(
                errors
                    .into_iter()
                    .map(|e| FieldError {
                        field: format!("{place}.{}", e.field),
                        ..e
                    })
                    .collect(),
            ),
            Self::Missing(_) | Self::Stopped(..) => self,
        }
    }
}
