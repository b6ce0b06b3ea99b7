//! What an animal of a known weight gives, and what it asks of people.

pub mod byproduct;
pub mod choices;
pub mod expect;
pub mod hold;

pub use crate::catalogue::species::*;
pub use expect::{CutSource, Expectation, ExpectedCut, OwnShare, OwnShares, carcass_share, expect};

use serde::{Deserialize, Serialize};

/// How much of an animal, or of a purchase, came in.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Portion {
    /// All of it.
    #[default]
    Whole,
    /// One side.
    Half,
    /// A quarter, or a quarter-share.
    Quarter,
    /// One large cut.
    Primal,
    /// A case of equal cuts.
    Case,
}

impl Portion {
    /// Every one.
    pub const ALL: [Self; 5] = [
        Self::Whole,
        Self::Half,
        Self::Quarter,
        Self::Primal,
        Self::Case,
    ];

    /// Its share of a whole animal, for counting cuts; none for a bought cut.
    #[must_use]
    pub const fn of_animal(self) -> Option<f64> {
        match self {
            Self::Whole => Some(1.0),
            Self::Half => Some(0.5),
            Self::Quarter => Some(0.25),
            Self::Primal | Self::Case => None,
        }
    }
}

/// Which weight of an animal is known.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum KnownWeight {
    /// Alive.
    Live,
    /// Guts out, hide on.
    FieldDressed,
    /// Skinned or scalded, head off, cold.
    Carcass,
    /// One cut, as bought.
    BoughtCut,
}

impl KnownWeight {
    /// Every one.
    pub const ALL: [Self; 4] = [
        Self::Live,
        Self::FieldDressed,
        Self::Carcass,
        Self::BoughtCut,
    ];
}
