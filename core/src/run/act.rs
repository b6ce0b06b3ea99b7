//! What is done in a run, as it is kept.

use super::{Appliance, ProbeNo, RunStage};
use crate::ids::PieceId;
use crate::place::PlaceId;
use crate::units::{Celsius, Typed};
use serde::{Deserialize, Serialize};

/// Where a probe is.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum ProbeLocation {
    /// In a piece.
    Piece(PieceId),
    /// In the air of a zone.
    Chamber(String),
    /// Nowhere that counts.
    Out,
}

/// In what a probe is checked.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Bath {
    /// Ice and water, stirred: 0 °C.
    Ice,
    /// Boiling water: 100 °C at the sea, a degree less for every 300 m.
    Boiling,
}

/// A source of smoke.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum FireKind {
    /// Wood chips.
    Chips,
    /// Chunks of wood.
    Chunks,
    /// Pellets for food.
    Pellets,
    /// Dust.
    Dust,
    /// A tube or maze that smoulders by itself.
    Tube,
    /// Split logs.
    Logs,
    /// Liquid smoke: an ingredient by its label.
    Liquid,
}

impl FireKind {
    /// All of them.
    pub const ALL: [Self; 7] = [
        Self::Chips,
        Self::Chunks,
        Self::Pellets,
        Self::Dust,
        Self::Tube,
        Self::Logs,
        Self::Liquid,
    ];

    /// As it is called.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Chips => "chips",
            Self::Chunks => "chunks",
            Self::Pellets => "pellets",
            Self::Dust => "dust",
            Self::Tube => "a smoke tube",
            Self::Logs => "logs",
            Self::Liquid => "liquid smoke",
        }
    }

    /// How long a filling usually lasts (h); none for what has no end of its own.
    ///
    /// # Source
    /// A tube smoulders 3 to 6 h; the rest are habits to look by.
    #[must_use]
    pub const fn usually_h(self) -> Option<f64> {
        match self {
            Self::Chips => Some(0.75),
            Self::Chunks => Some(1.5),
            Self::Pellets | Self::Logs => Some(1.0),
            Self::Dust => Some(5.0),
            Self::Tube => Some(4.0),
            Self::Liquid => None,
        }
    }
}

/// Something seen or done at the fire.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Sight {
    /// The water pan was filled.
    WaterPan,
    /// The meat was misted.
    Misted,
    /// Wind on it.
    Wind,
    /// Cold outside.
    Cold,
    /// The lid does not shut.
    LidOpen,
    /// The lid shuts.
    LidShut,
    /// The fire swung.
    Swing,
    /// Anything else.
    Other,
}

impl Sight {
    /// All of them.
    pub const ALL: [Self; 8] = [
        Self::WaterPan,
        Self::Misted,
        Self::Wind,
        Self::Cold,
        Self::LidOpen,
        Self::LidShut,
        Self::Swing,
        Self::Other,
    ];

    /// As it is said.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::WaterPan => "water pan filled",
            Self::Misted => "misted",
            Self::Wind => "wind on it",
            Self::Cold => "cold outside",
            Self::LidOpen => "the lid does not shut",
            Self::LidShut => "the lid shuts",
            Self::Swing => "the fire swung",
            Self::Other => "seen",
        }
    }
}

/// Something that was done in a run.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "act", rename_all = "snake_case")]
pub enum RunAct {
    /// It was set up.
    SetUp {
        /// The place on the household's list, where it is one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        place: Option<PlaceId>,
        /// What it is called.
        name: String,
        /// What it is made in.
        hearth: Appliance,
        /// By which school of heat, where one was chosen.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        school: Option<String>,
        /// Its stages.
        stages: Vec<RunStage>,
    },
    /// A piece was laid in, or to another place.
    Loaded {
        /// The piece.
        piece: PieceId,
        /// The zone.
        zone: String,
        /// The shelf, from the top.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        shelf: Option<u32>,
    },
    /// A piece left it without being weighed.
    TakenOut {
        /// The piece.
        piece: PieceId,
    },
    /// Its stages were put differently.
    Staged {
        /// All of them.
        stages: Vec<RunStage>,
    },
    /// A stage began.
    StageBegun {
        /// Which.
        stage: usize,
    },
    /// It pauses.
    Paused,
    /// It goes on.
    Resumed,
    /// A probe was put somewhere.
    ProbeSet {
        /// The probe.
        probe: ProbeNo,
        /// Where.
        seat: ProbeLocation,
    },
    /// A probe was checked.
    ProbeChecked {
        /// The probe.
        probe: ProbeNo,
        /// In what.
        bath: Bath,
        /// What it said.
        read: Typed<Celsius>,
        /// What is added to what it says from the start of the run on (°C).
        offset_c: f64,
    },
    /// A piece was checked in several places.
    SpotChecked {
        /// The piece.
        piece: PieceId,
        /// What was read, place by place.
        read: Vec<Typed<Celsius>>,
    },
    /// The chamber was read.
    ChamberRead {
        /// The zone.
        zone: String,
        /// How warm.
        #[serde(rename = "warmth")]
        temperature: Typed<Celsius>,
    },
    /// A fire was lit.
    Lit {
        /// What kind.
        kind: FireKind,
        /// Which wood.
        wood: String,
        /// How much (g).
        #[serde(default, skip_serializing_if = "Option::is_none")]
        grams: Option<f64>,
        /// How long it should burn (h).
        #[serde(default, skip_serializing_if = "Option::is_none")]
        burns_h: Option<f64>,
    },
    /// It burnt out.
    BurntOut {
        /// The event that lit it.
        fire: i64,
    },
    /// Something was seen or done at the fire.
    Seen {
        /// What.
        what: Sight,
        /// In words.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        note: String,
    },
    /// An alarm was answered.
    Answered {
        /// Its word.
        alarm: String,
    },
    /// An event did not happen.
    Struck {
        /// Its number.
        event: i64,
    },
    /// It is over.
    Ended,
}

impl RunAct {
    /// True for the one that sets a run up.
    #[must_use]
    pub const fn is_set_up(&self) -> bool {
        matches!(self, Self::SetUp { .. })
    }

    /// The piece it is about, if it is about one.
    #[must_use]
    pub const fn piece(&self) -> Option<PieceId> {
        match self {
            Self::Loaded { piece, .. }
            | Self::TakenOut { piece }
            | Self::SpotChecked { piece, .. }
            | Self::ProbeSet {
                seat: ProbeLocation::Piece(piece),
                ..
            } => Some(*piece),
            Self::ProbeSet {
                seat: ProbeLocation::Chamber(_) | ProbeLocation::Out,
                ..
            } => None,
            Self::SetUp { .. }
            | Self::Staged { .. }
            | Self::StageBegun { .. }
            | Self::Paused
            | Self::Resumed
            | Self::ProbeChecked { .. }
            | Self::ChamberRead { .. }
            | Self::Lit { .. }
            | Self::BurntOut { .. }
            | Self::Seen { .. }
            | Self::Answered { .. }
            | Self::Struck { .. }
            | Self::Ended => None,
        }
    }

    /// The event it strikes out, if it does.
    #[must_use]
    pub const fn strikes(&self) -> Option<i64> {
        if let Self::Struck { event } = self {
            Some(*event)
        } else {
            None
        }
    }
}
