//! Knife work that leaves one piece one piece.

use serde::{Deserialize, Serialize};

/// Work on one piece that leaves it one piece.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Work {
    /// The skin comes off.
    Skin,
    /// The bone comes out.
    BoneOut,
    /// Silver skin, sinew, flaps or fat come off.
    Trim,
    /// Opened flat like a book; it lies thinner.
    OpenFlat,
    /// Edges straightened.
    SquareOff,
}

impl Work {
    /// Every work.
    pub const ALL: [Self; 5] = [
        Self::Skin,
        Self::BoneOut,
        Self::Trim,
        Self::OpenFlat,
        Self::SquareOff,
    ];

    /// What was done, in the past tense.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Skin => "skinned",
            Self::BoneOut => "boned out",
            Self::Trim => "trimmed",
            Self::OpenFlat => "opened flat",
            Self::SquareOff => "squared off",
        }
    }
}
