//! Trade rules for how warm a chamber is set, as data.

use crate::units::Celsius;
use serde::{Deserialize, Serialize};

/// A stretch at one temperature, by the clock.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HeatStretch {
    /// How warm the chamber is set (°C).
    #[cfg_attr(feature = "openapi", schema(value_type = f64))]
    pub c: Celsius,
    /// How long (h).
    pub hours: f64,
}

/// A trade rule for how warm a chamber is set.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HeatRule {
    /// The stable word.
    pub key: String,
    /// As it is called.
    pub name: String,
    /// What its people say of it.
    pub why: String,
    /// The surface dries.
    pub dry: HeatStretch,
    /// It is smoked.
    pub smoke: HeatStretch,
    /// How warm a smoker is set until each piece is at its mark (°C).
    #[cfg_attr(feature = "openapi", schema(value_type = f64))]
    pub finish_c: Celsius,
    /// How warm an oven is set (°C).
    #[cfg_attr(feature = "openapi", schema(value_type = f64))]
    pub oven_c: Celsius,
}
