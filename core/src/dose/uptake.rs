//! What a brine brings of which only some gets in: by what the meat takes up, and if both become alike.

use crate::dose::contents::GetsIn;
use crate::units::Band;
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

/// Nitrite from a brine between pickup and equilibrium (ppm, or a plain ratio where it was just worked out).
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Uptake {
    /// By what is taken up.
    pub pickup: f64,
    /// If meat and brine become alike.
    pub equilibrium: f64,
}

impl Uptake {
    /// Of a brine of `brine_g` with so much of something in it (g), over `meat_g`; `share` of the meat is taken up. Plain ratios.
    #[must_use]
    pub fn of(dissolved_g: f64, brine_g: f64, meat_g: f64, share: f64) -> Self {
        let (meat, brine) = (Band::exactly(meat_g), Band::exactly(brine_g));
        let of = |gets_in: GetsIn| gets_in.share_of(Band::exactly(dissolved_g)).nominal;
        Self {
            pickup: of(GetsIn::TakenUp {
                brine,
                share: Band::exactly(share),
            }),
            equilibrium: of(GetsIn::Shared { meat, brine }),
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

impl std::ops::Mul<f64> for Uptake {
    type Output = Self;

    fn mul(self, by: f64) -> Self {
        Self {
            pickup: self.pickup * by,
            equilibrium: self.equilibrium * by,
        }
    }
}
