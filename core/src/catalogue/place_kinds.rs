//! Kinds of places, as data: what one is for and by which measure it is filled.

use super::builds::Tool;
use serde::{Deserialize, Serialize};

/// What a place is used for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum PlaceUse {
    /// Pieces hang in it.
    Hang,
    /// Pieces lie in it with their brine around them.
    Brine,
    /// Pieces lie cold in it while they cure.
    Cold,
    /// A mix is pressed into it.
    Press,
    /// Pieces are smoked in it.
    Smoke,
    /// Pieces are cooked in it, without smoke.
    Cook,
    /// Packs are frozen in it.
    Freeze,
}

impl PlaceUse {
    /// The uses that plans reckon with, in the order in which they are shown.
    pub const PLANNED: [Self; 3] = [Self::Hang, Self::Brine, Self::Cold];

    /// What there is too little of, when it is full.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Hang => "hooks",
            Self::Brine => "tubs",
            Self::Cold => "fridge",
            Self::Press => "pans",
            Self::Smoke => "smoker",
            Self::Cook => "oven or pot",
            Self::Freeze => "freezer",
        }
    }

    /// What a place for it is filled by.
    #[must_use]
    pub const fn measure(self) -> PlaceMeasure {
        match self {
            Self::Hang => PlaceMeasure::Hooks,
            Self::Smoke | Self::Cook => PlaceMeasure::Kilograms,
            Self::Brine | Self::Cold | Self::Press | Self::Freeze => PlaceMeasure::Litres,
        }
    }
}

/// What a place is filled by.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum PlaceMeasure {
    /// Hooks.
    Hooks,
    /// Room.
    Litres,
    /// Load.
    Kilograms,
}

/// What else is worth knowing of a place.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum PlaceAsk {
    /// Length inside, or of a shelf.
    Length,
    /// Width inside, or of a shelf.
    Width,
    /// Height inside, or how long a piece may hang.
    Height,
    /// How many shelves.
    Shelves,
    /// What it is made of.
    Material,
    /// Whether it has a lid.
    Lid,
    /// Its zones, by name.
    Zones,
    /// The lowest temperature it holds.
    Lowest,
    /// What heats it.
    Fuel,
}

/// What the air of a drying place is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum DryingAir {
    /// Held as it is wanted: a chamber, a dry ager.
    Chamber,
    /// A household fridge: cold, dry, slow.
    Fridge,
    /// A cellar or a cool room, as the season has it.
    CoolRoom,
    /// A room of the house.
    Room,
    /// The weather.
    Outdoors,
}

/// A kind of place.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PlaceKind {
    /// The stable word.
    pub key: String,
    /// As one of them is called.
    pub name: String,
    /// As a list of them is headed.
    pub title: String,
    /// What it is for.
    pub uses: Vec<PlaceUse>,
    /// What fills it.
    pub measure: PlaceMeasure,
    /// What else is asked of one.
    pub asks: Vec<PlaceAsk>,
    /// True where nothing keeps it cold: its temperature is asked for in the morning, at midday and at night.
    #[serde(default)]
    pub asked: bool,
    /// What to look out for there.
    #[serde(default)]
    pub care: Option<String>,
    /// The tool that a household has with one.
    #[serde(default)]
    pub tool: Option<Tool>,
    /// What its air is, where pieces hang in it.
    #[serde(default)]
    pub dries: Option<DryingAir>,
}
