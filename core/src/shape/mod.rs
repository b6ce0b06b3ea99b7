//! How a piece lies: its thickness, and what closes its faces.

pub mod size;

use crate::units::{Millimetres, Typed};
use serde::{Deserialize, Serialize};

/// What a ruler and an eye say of a piece. Cure, smoke and hook all go by it.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Shape {
    /// Greatest thickness, as it was said.
    pub thickness: Option<Typed<Millimetres>>,
    /// Whether the skin is on.
    pub skin_on: bool,
    /// Whether bone is in.
    pub bone_in: bool,
    /// Whether fat covers one side.
    pub fat_cap: bool,
    /// The fat cover kept on it, if it was measured.
    pub fat_cover: Option<Typed<Millimetres>>,
}

impl Shape {
    /// One of which only the thickness is known, and nobody said it.
    #[must_use]
    pub fn thick(thickness: Millimetres) -> Self {
        Self {
            thickness: Some(Typed::unsaid(thickness)),
            ..Self::default()
        }
    }

    /// Its greatest thickness.
    #[must_use]
    pub fn thickness(&self) -> Option<Millimetres> {
        self.thickness.as_ref().map(|t| t.value)
    }

    /// True when the cure cannot get in on both sides alike.
    #[must_use]
    pub const fn has_closed_face(&self) -> bool {
        self.skin_on || self.fat_cap
    }
}
