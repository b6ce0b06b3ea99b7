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
}

impl Byproduct {
    /// Every kind.
    pub const ALL: [Self; 5] = [Self::Trim, Self::Fat, Self::Bone, Self::Skin, Self::Ends];
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
            Byproduct::Bone | Byproduct::Skin | Byproduct::Ends => None,
        }
    }
}
