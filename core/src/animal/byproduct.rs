//! What comes off an animal beside its cuts, and is kept by weight.

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
