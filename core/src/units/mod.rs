//! Quantities as types, and the reading and printing of what people type.
//!
//! Inside, everything is SI: grams, millimetres, degrees Celsius. Pounds, inches and
//! Fahrenheit exist only at the edges, in [`read`] and [`show`].

mod mass;
pub mod read;
pub mod show;

pub use mass::Milligrams;

use serde::{Deserialize, Serialize};

/// Grams in one avoirdupois pound, exact by definition.
pub const GRAMS_PER_POUND: f64 = 453.592_37;
/// Grams in one avoirdupois ounce, exact by definition.
pub const GRAMS_PER_OUNCE: f64 = 28.349_523_125;
/// Millimetres in one inch, exact by definition.
pub const MM_PER_INCH: f64 = 25.4;

/// A number that cannot be the quantity it was given as.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
pub enum QuantityError {
    /// A mass below zero, infinite or not a number (g).
    #[error("{0} g is not a mass; give a number of grams, zero or more")]
    Mass(f64),
    /// A length of zero or less, infinite or not a number (mm).
    #[error("{0} mm is not a thickness; give a number of millimetres above zero")]
    Length(f64),
    /// A share outside 0 to 1.
    #[error("{0} is not a share; give a number from 0 to 1")]
    Share(f64),
    /// A content below zero, infinite or not a number (mg/kg).
    #[error("{0} ppm is not a content; give a number of mg per kg, zero or more")]
    Ppm(f64),
}

/// A mass in grams: finite, zero or more. Kept as weighed; rounded only where a person reads it.
#[derive(Clone, Copy, Debug, PartialEq, PartialOrd, Serialize, Deserialize)]
#[serde(try_from = "f64", into = "f64")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(value_type = f64))]
pub struct Grams(f64);

/// A length in millimetres: finite and above zero.
#[derive(Clone, Copy, Debug, PartialEq, PartialOrd, Serialize, Deserialize)]
#[serde(try_from = "f64", into = "f64")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(value_type = f64))]
pub struct Millimetres(f64);

/// A share of mass, 0 to 1.
#[derive(Clone, Copy, Debug, PartialEq, PartialOrd, Serialize, Deserialize)]
#[serde(try_from = "f64", into = "f64")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(value_type = f64))]
pub struct Fraction(f64);

/// A content in milligrams per kilogram: finite, zero or more.
#[derive(Clone, Copy, Debug, PartialEq, PartialOrd, Serialize, Deserialize)]
#[serde(try_from = "f64", into = "f64")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(value_type = f64))]
pub struct Ppm(f64);

macro_rules! quantity {
    ($name:ident, $what:literal, $error:path, $valid:expr) => {
        impl $name {
            #[doc = concat!("A ", $what, ".")]
            ///
            /// # Errors
            /// When the number cannot be one; see the type.
            pub fn new(value: f64) -> Result<Self, QuantityError> {
                let valid: fn(f64) -> bool = $valid;
                if value.is_finite() && valid(value) {
                    Ok(Self(value))
                } else {
                    Err($error(value))
                }
            }

            /// The bare number, in the unit the type is named for.
            #[must_use]
            pub const fn get(self) -> f64 {
                self.0
            }
        }

        impl TryFrom<f64> for $name {
            type Error = QuantityError;
            fn try_from(value: f64) -> Result<Self, QuantityError> {
                Self::new(value)
            }
        }

        impl From<$name> for f64 {
            fn from(value: $name) -> f64 {
                value.0
            }
        }
    };
}

quantity!(Grams, "mass", QuantityError::Mass, |v| v >= 0.0);
quantity!(Millimetres, "length", QuantityError::Length, |v| v > 0.0);
quantity!(Fraction, "share", QuantityError::Share, |v| (0.0..=1.0)
    .contains(&v));
quantity!(Ppm, "content", QuantityError::Ppm, |v| v >= 0.0);

impl Grams {
    /// Nothing on the scale.
    pub const ZERO: Self = Self(0.0);

    /// This mass taken `factor` times; a factor below zero counts as zero.
    #[must_use]
    pub fn times(self, factor: f64) -> Self {
        Self((self.0 * factor).max(0.0))
    }
}

impl std::ops::Add for Grams {
    type Output = Self;
    fn add(self, other: Self) -> Self {
        Self(self.0 + other.0)
    }
}

impl std::iter::Sum for Grams {
    fn sum<I: Iterator<Item = Self>>(masses: I) -> Self {
        masses.fold(Self::ZERO, |a, b| a + b)
    }
}

impl Millimetres {
    /// The same length in inches of 25.4 mm.
    #[must_use]
    pub fn inches(self) -> f64 {
        self.0 / MM_PER_INCH
    }
}

/// The unit a household weighs meat in.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum MassUnit {
    /// Kilograms and grams; a bare number is grams.
    #[default]
    Metric,
    /// Pounds and ounces; a bare number is pounds.
    Imperial,
}

/// The unit a household measures thickness in.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum LengthUnit {
    /// Millimetres.
    #[default]
    Mm,
    /// Inches and their fractions.
    Inch,
}

/// The unit a household reads heat in.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum HeatUnit {
    /// Degrees Celsius.
    #[default]
    Celsius,
    /// Degrees Fahrenheit.
    Fahrenheit,
}

/// The units a household thinks in; any mixture is allowed.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Units {
    /// Weights.
    pub mass: MassUnit,
    /// Thickness.
    pub length: LengthUnit,
    /// Temperature.
    pub heat: HeatUnit,
}

/// Half-up rounding of a reading to what a scale of division `division` shows.
///
/// The small allowance makes `0.35 / 0.1` the tie it is on paper and not 3.4999….
#[must_use]
pub fn to_division(value: f64, division: f64) -> f64 {
    (value / division + 0.5 + 1e-9).floor() * division
}

/// What was meant, or as the scale can show it, and what it may really be.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Band {
    /// As meant, or as the scale can show it.
    pub nominal: f64,
    /// Lower edge.
    pub low: f64,
    /// Upper edge.
    pub high: f64,
}

impl Band {
    /// A content without a band.
    #[must_use]
    pub const fn exactly(value: f64) -> Self {
        Self {
            nominal: value,
            low: value,
            high: value,
        }
    }
}

/// What a scale said, kept as it was said.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Reading {
    /// The words or digits typed or read.
    pub said: String,
    /// The mass they mean.
    pub mg: Milligrams,
}

/// A reading of so many grams, for callers that have no typed words.
#[must_use]
pub fn reading(grams: f64) -> Reading {
    let mg = Milligrams::from_grams(grams);
    Reading {
        said: format!("{} g", show::trim(mg.grams(), 3)),
        mg,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_scale_rounds_half_up() {
        #[rustfmt::skip]
        let cases = [
            // value, division, shown
            (2.496, 1.0, 2.0),
            (2.5,   1.0, 3.0),
            (0.35,  0.1, 0.4),
            (14.451_873, 0.01, 14.45),
            (39.357_4, 2.0, 40.0),
            (0.4,   1.0, 0.0),
        ];
        for (value, division, shown) in cases {
            let got = to_division(value, division);
            assert!(
                (got - shown).abs() < 1e-9,
                "{value} by {division}: {got}, want {shown}"
            );
        }
    }

    #[test]
    fn a_quantity_refuses_what_it_cannot_be() {
        assert_eq!(
            Grams::new(-1.0).unwrap_err().to_string(),
            "-1 g is not a mass; give a number of grams, zero or more"
        );
        assert!(Grams::new(f64::NAN).is_err());
        assert_eq!(
            Millimetres::new(0.0).unwrap_err().to_string(),
            "0 mm is not a thickness; give a number of millimetres above zero"
        );
        assert_eq!(
            Fraction::new(1.2).unwrap_err().to_string(),
            "1.2 is not a share; give a number from 0 to 1"
        );
        assert_eq!(
            Ppm::new(f64::INFINITY).unwrap_err().to_string(),
            "inf ppm is not a content; give a number of mg per kg, zero or more"
        );
        assert!(serde_json::from_str::<Grams>("-3").is_err());
    }
}
