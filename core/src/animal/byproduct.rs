//! What comes off an animal beside its cuts, and is kept by weight.

use crate::catalogue::species::Species;
use serde::{Deserialize, Serialize};

/// What is cut away and kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Byproduct {
    /// Odd shapes of lean.
    Trim,
    /// Fat for rendering or grinding.
    Fat,
    /// Bones.
    Bone,
    /// Skin or hide.
    Skin,
    /// Slicing ends and crumbs.
    Ends,
    /// Fat that was melted out and strained.
    Rendered,
}

impl Byproduct {
    /// Every kind.
    pub const ALL: [Self; 6] = [
        Self::Trim,
        Self::Fat,
        Self::Bone,
        Self::Skin,
        Self::Ends,
        Self::Rendered,
    ];

    /// What is weighed aside as it comes off the meat.
    pub const COMES_OFF: [Self; 5] = [Self::Trim, Self::Fat, Self::Bone, Self::Skin, Self::Ends];

    /// True for what is melted down for its fat.
    #[must_use]
    pub const fn is_rendered(self) -> bool {
        match self {
            Self::Fat | Self::Skin => true,
            Self::Trim | Self::Bone | Self::Ends | Self::Rendered => false,
        }
    }
}

/// What became of something that was kept beside the pieces.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum UsedFor {
    /// Melted down for its fat.
    Rendered,
    /// Cooked at home, for stock or a meal.
    Cooked,
    /// Given to somebody.
    GivenAway,
    /// Thrown away.
    ThrownAway,
}

impl UsedFor {
    /// Every one.
    pub const ALL: [Self; 4] = [
        Self::Rendered,
        Self::Cooked,
        Self::GivenAway,
        Self::ThrownAway,
    ];

    /// What was done.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Rendered => "rendered",
            Self::Cooked => "cooked",
            Self::GivenAway => "given away",
            Self::ThrownAway => "thrown away",
        }
    }
}

/// The share of fat in fat that was cut away and kept.
pub const KEPT_FAT_FRACTION: f64 = 0.85;

impl Species {
    /// The share of fat of what is kept beside the pieces; none of what is not ground.
    #[must_use]
    pub fn fat_of_kept(&self, kind: Byproduct) -> Option<f64> {
        match kind {
            Byproduct::Trim => Some(self.trim_fat_fraction),
            Byproduct::Fat => Some(KEPT_FAT_FRACTION),
            Byproduct::Bone | Byproduct::Skin | Byproduct::Ends | Byproduct::Rendered => None,
        }
    }
}
