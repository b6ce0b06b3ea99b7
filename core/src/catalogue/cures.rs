//! Curing salts and what they are made of.

use serde::{Deserialize, Serialize};

/// What a curing salt is made of, by mass fraction; the rest is inert.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Composition {
    /// Sodium nitrite.
    #[serde(default)]
    pub nitrite: f64,
    /// Sodium nitrate.
    #[serde(default)]
    pub nitrate: f64,
    /// Sodium chloride.
    #[serde(default)]
    pub salt: f64,
    /// Sugars.
    #[serde(default)]
    pub sugar: f64,
}

/// A curing salt of the catalogue.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Cure {
    /// The stable word.
    pub key: String,
    /// As it is called at the table.
    pub name: String,
    /// What it is made of.
    #[serde(flatten)]
    pub made_of: Composition,
    /// What it is for.
    pub words: String,
}

/// What an ingredient does in a dose.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Role {
    /// Brings the nitrite or nitrate.
    CuringSalt,
    /// Plain salt.
    Salt,
    /// Sugar, syrup, honey.
    Sugar,
    /// Spices and herbs.
    Spice,
    /// Soy sauce, spirit, wine and other liquids that are not plain water.
    Liquid,
    /// Water.
    Water,
    /// Speeds the cure up: erythorbate and its kin.
    Accelerator,
    /// Holds pieces together.
    Binder,
}
