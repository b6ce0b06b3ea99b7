//! What is said when something comes in: an animal, a share of one, a purchase.

use super::Reading;
use crate::animal::{KnownWeight, Portion};
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

/// What else decides later what becomes of it.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Background {
    /// Fat cover over the loin (mm).
    pub fat_cover_mm: Option<f64>,
    /// Days it rested before slaughter or after the shot, cooling.
    pub rested_days: Option<u32>,
    /// Days it hung cold.
    pub hung_days: Option<u32>,
    /// How warm it was inside when it came (°C).
    pub inside_c: Option<f64>,
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

/// Something came in: an animal, a share of one, a purchase.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Received {
    /// The tag that is spoken and written on tape.
    pub tag: String,
    /// What people call it.
    pub name: String,
    /// Its species.
    pub species: String,
    /// How it came.
    pub origin: Origin,
    /// Which weight is known.
    pub known: KnownWeight,
    /// That weight.
    pub reading: Reading,
    /// How much of an animal it is.
    #[serde(default)]
    pub portion: Portion,
    /// How many equal cuts, in a case.
    #[serde(default)]
    pub count: Option<u32>,
    /// The cut, when one was bought.
    #[serde(default)]
    pub cut: Option<String>,
    /// What it cost, in hundredths of the household's currency, without its way here.
    #[serde(default)]
    pub cost_cents: Option<i64>,
    /// The price as it was said.
    #[serde(default)]
    pub price: Option<String>,
    /// What that price is for.
    #[serde(default)]
    pub price_per: PricePer,
    /// Its share of the shipping, in hundredths.
    #[serde(default)]
    pub shipping_cents: Option<i64>,
    /// The purchase it is part of, when several came under one name.
    #[serde(default)]
    pub together: Option<String>,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// Male or female.
    #[serde(default)]
    pub sex: Option<Sex>,
    /// Young or old.
    #[serde(default)]
    pub age: Option<AgeClass>,
    /// What else is known of it.
    #[serde(default)]
    pub background: Background,
    /// When it came frozen.
    #[serde(default)]
    pub frozen: Option<FrozenStock>,
}

impl Received {
    /// A whole animal of which nothing more is said.
    #[must_use]
    pub fn animal(
        tag: &str,
        name: &str,
        species: &str,
        origin: Origin,
        (known, reading): (KnownWeight, Reading),
    ) -> Self {
        Self {
            tag: tag.into(),
            name: name.into(),
            species: species.into(),
            origin,
            known,
            reading,
            portion: Portion::Whole,
            count: None,
            cut: None,
            cost_cents: None,
            price: None,
            price_per: PricePer::InAll,
            shipping_cents: None,
            together: None,
            skin_on: false,
            sex: None,
            age: None,
            background: Background::default(),
            frozen: None,
        }
    }

    /// What it cost with its way here, in hundredths; none when it cost nothing that was said.
    #[must_use]
    pub fn paid_cents(&self) -> Option<i64> {
        match (self.cost_cents, self.shipping_cents) {
            (None, None) => None,
            (cost, shipping) => Some(cost.unwrap_or(0) + shipping.unwrap_or(0)),
        }
    }
}
