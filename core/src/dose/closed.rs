//! How the container is closed that meat cures in: how long it may wait there, and what turning it means, follow from that.

use serde::{Deserialize, Serialize};

/// How a container is closed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Closed {
    /// Sealed tight on the meat.
    Sealed,
    /// Sealed, with air left in.
    SealedWithAir,
    /// Open, or loosely covered.
    Open,
    /// Held down under its brine or its own liquid.
    HeldDown,
}

impl Closed {
    /// Every way.
    pub const ALL: [Self; 4] = [
        Self::Sealed,
        Self::SealedWithAir,
        Self::Open,
        Self::HeldDown,
    ];

    /// True where no air comes in.
    #[must_use]
    pub const fn is_sealed(self) -> bool {
        match self {
            Self::Sealed | Self::SealedWithAir => true,
            Self::Open | Self::HeldDown => false,
        }
    }

    /// What turning it means.
    #[must_use]
    pub const fn turning(self) -> &'static str {
        match self {
            Self::Sealed => {
                "Turn the bag over and massage it, so that its liquid comes all round. Look that it is still tight."
            }
            Self::SealedWithAir => {
                "Turn the bag over and squeeze it: the air moves the liquid all round."
            }
            Self::Open => {
                "Turn it over, swap what lies on top with what lies below, and spoon its liquid over it."
            }
            Self::HeldDown => {
                "Stir or shake it, since strong brine sinks, and push the meat back under its plate or board."
            }
        }
    }
}
