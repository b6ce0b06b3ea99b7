//! What a brine brings of which only some gets in: by what the meat takes up, and if both become alike.

use crate::units::PPM;
use serde::{Deserialize, Serialize};

/// Which of the two figures is likelier.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Governs {
    /// What the meat takes up: thick, or not long in it.
    Pickup,
    /// What meat and brine share: thin, and a week or longer in it.
    Equilibrium,
}

/// Nitrite from a brine between pickup and equilibrium (ppm).
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Uptake {
    /// By what is taken up.
    pub pickup: f64,
    /// If meat and brine become alike.
    pub equilibrium: f64,
}

impl Uptake {
    /// Of a brine of `mass_g` with so much of something in it (g), over `meat_g`.
    #[must_use]
    pub fn of(dissolved_g: f64, mass_g: f64, meat_g: f64, pickup_fraction: f64) -> Self {
        Self {
            pickup: dissolved_g / mass_g * pickup_fraction * PPM,
            equilibrium: dissolved_g / (meat_g + mass_g) * PPM,
        }
    }

    /// The higher of the two, by which ceilings are judged.
    #[must_use]
    pub fn higher(self) -> f64 {
        self.pickup.max(self.equilibrium)
    }

    /// The lower of the two, by which floors are judged.
    #[must_use]
    pub fn lower(self) -> f64 {
        self.pickup.min(self.equilibrium)
    }
}
