//! What is said when something comes in: an animal, a share of one, a purchase.

use crate::units::{Celsius, Millimetres, Typed};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// How an animal came into the house.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Origin {
    /// Hunted.
    Harvested,
    /// Raised at home.
    Raised,
    /// Bought.
    Bought,
}

impl Origin {
    /// Every way.
    pub const ALL: [Self; 3] = [Self::Harvested, Self::Raised, Self::Bought];

    /// In a word.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Harvested => "harvested",
            Self::Raised => "raised",
            Self::Bought => "bought",
        }
    }
}

/// Male or female.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Sex {
    /// Female.
    Female,
    /// Male.
    Male,
    /// Castrated male.
    Castrated,
}

impl Sex {
    /// Every one.
    pub const ALL: [Self; 3] = [Self::Female, Self::Male, Self::Castrated];
}

/// Young or old.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum AgeClass {
    /// Of this year.
    Young,
    /// Grown.
    Adult,
    /// Past its prime.
    Old,
}

impl AgeClass {
    /// Every one.
    pub const ALL: [Self; 3] = [Self::Young, Self::Adult, Self::Old];
}

/// What a price is for.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum PricePer {
    /// All of it.
    #[default]
    InAll,
    /// A kilogram of the weight it came with.
    Kilogram,
    /// A pound of it.
    Pound,
    /// A piece of a case.
    Piece,
}

impl PricePer {
    /// Every one.
    pub const ALL: [Self; 4] = [Self::InAll, Self::Kilogram, Self::Pound, Self::Piece];
}

/// What else decides later what becomes of it.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
pub struct Background {
    /// Fat cover over the loin.
    pub fat_cover: Option<Typed<Millimetres>>,
    /// Days it rested before slaughter or after the shot, cooling.
    pub rested_days: Option<u32>,
    /// Days it hung cold.
    pub hung_days: Option<u32>,
    /// How warm it was inside when it came.
    pub inside: Option<Typed<Celsius>>,
    /// True with an inspector's stamp, false for own kill, none when nothing was said.
    pub inspected: Option<bool>,
    /// Medicines and when their withdrawal ended.
    pub withdrawal: Option<String>,
}

/// Stock bought ahead, or frozen for later.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FrozenStock {
    /// When it was frozen.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub frozen_on: Date,
    /// The day by which it should be thawed and used.
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = Date))]
    #[serde(default)]
    pub thaw_by: Option<Date>,
}
