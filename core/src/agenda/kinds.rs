//! The kinds of tasks: where each is done, how long it takes and what one takes along.

use crate::catalogue::steps::{StepKind, TripPlace};
use serde::{Deserialize, Serialize};

/// What is to be done.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum TaskKind {
    /// It was found bad: throw it away.
    Discard,
    /// Give it a product.
    Assign,
    /// Take it out of the freezer to thaw.
    Thaw,
    /// Weigh out its cure and start it.
    Dose,
    /// Pump its brine in, and weigh it.
    Pump,
    /// Turn, massage or stir.
    Turn,
    /// Take it out of its cure and weigh it.
    OutOfCure,
    /// A step by hand on the way to the next station: soak, dry its surface, case it.
    ByHand,
    /// Smoke it and weigh it.
    Smoke,
    /// Cook it and weigh it.
    Cook,
    /// Hang it and weigh it with its tare.
    Hang,
    /// Weigh it on its hook.
    WeighIn,
    /// It has lost enough: take it down.
    TakeDown,
    /// Slice and pack it.
    Pack,
}

impl TaskKind {
    /// What to do, in the words of a calendar.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Discard => "throw away",
            Self::Assign => "give a product",
            Self::Thaw => "take out to thaw",
            Self::Dose => "weigh out the cure",
            Self::Pump => "pump its brine in, and weigh",
            Self::Turn => "turn",
            Self::OutOfCure => "out of the cure",
            Self::ByHand => "see to it",
            Self::Smoke => "smoke",
            Self::Cook => "cook through",
            Self::Hang => "hang",
            Self::WeighIn => "weigh on its hook",
            Self::TakeDown => "take down",
            Self::Pack => "slice and pack",
        }
    }

    /// Where it is done.
    #[must_use]
    pub fn place(self, step: Option<StepKind>) -> TripPlace {
        match self {
            Self::Turn | Self::OutOfCure | Self::Thaw => TripPlace::Fridge,
            Self::WeighIn | Self::TakeDown => TripPlace::Chamber,
            Self::Smoke | Self::Cook => TripPlace::Smoker,
            Self::Discard | Self::Assign | Self::Dose | Self::Pump | Self::Hang | Self::Pack => {
                TripPlace::Table
            }
            Self::ByHand => step.map_or(TripPlace::Table, |s| s.traits().place),
        }
    }

    /// About so long with one piece or vessel (min): hands only, not the waiting.
    #[must_use]
    pub const fn minutes(self) -> u32 {
        match self {
            Self::Turn | Self::Assign | Self::Thaw => 1,
            Self::Discard | Self::WeighIn | Self::ByHand => 2,
            Self::OutOfCure | Self::TakeDown | Self::Smoke | Self::Cook => 5,
            Self::Dose | Self::Pump | Self::Hang => 8,
            Self::Pack => 10,
        }
    }

    /// What one takes along.
    #[must_use]
    pub const fn takes(self) -> &'static [&'static str] {
        match self {
            Self::Turn | Self::Assign | Self::ByHand => &[],
            Self::Thaw => &["tray"],
            Self::Discard | Self::WeighIn | Self::TakeDown | Self::Smoke | Self::Cook => &["scale"],
            Self::OutOfCure => &["scale", "towel"],
            Self::Dose => &["scale", "fine scale", "salt and cure"],
            Self::Pump => &["scale", "needle", "the brine"],
            Self::Hang => &["scale", "string and hooks"],
            Self::Pack => &["scale", "bags", "labels"],
        }
    }
}
