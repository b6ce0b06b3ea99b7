//! Quantities as types, and the reading and printing of what people type.
//!
//! Inside, everything is SI: grams, millimetres, degrees Celsius. Pounds, inches and
//! Fahrenheit exist only at the edges, in [`read`] and [`show`]. A quantity's type says its unit;
//! what it may be stands in one table, [`bounds`], and is checked where it is read. Requests,
//! answers and data files carry bare numbers whose names end in their unit.

pub mod bounds;
mod mass;
mod quantity;
pub mod read;
pub mod show;

pub use mass::Milligrams;
pub use quantity::{
    Amount, Celsius, Fraction, GPerKg, Grams, Litres, Millimetres, Ppm, Quantity, Typed,
};

use serde::{Deserialize, Serialize};

/// Grams in one avoirdupois pound, exact by definition.
pub const GRAMS_PER_POUND: f64 = 453.592_37;
/// Grams in one avoirdupois ounce, exact by definition.
pub const GRAMS_PER_OUNCE: f64 = 28.349_523_125;
/// Millimetres in one inch, exact by definition.
pub const MM_PER_INCH: f64 = 25.4;
/// Millilitres in one US teaspoon; a tablespoon is three, a cup forty-eight.
pub const ML_PER_US_TEASPOON: f64 = 4.928_921_593_75;

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

impl Units {
    /// The other side of each: what a metric household would have to translate.
    #[must_use]
    pub const fn other(self) -> Self {
        Self {
            mass: match self.mass {
                MassUnit::Metric => MassUnit::Imperial,
                MassUnit::Imperial => MassUnit::Metric,
            },
            length: match self.length {
                LengthUnit::Mm => LengthUnit::Inch,
                LengthUnit::Inch => LengthUnit::Mm,
            },
            heat: match self.heat {
                HeatUnit::Celsius => HeatUnit::Fahrenheit,
                HeatUnit::Fahrenheit => HeatUnit::Celsius,
            },
        }
    }
}

/// Half-up rounding of a reading to what a scale of division `division` shows.
///
/// The small allowance makes `0.35 / 0.1` the tie it is on paper and not 3.4999…. The answer is
/// the very number on the display: 13.7, never 13.700000000000001.
#[must_use]
pub fn to_division(value: f64, division: f64) -> f64 {
    let steps = (value / division + 0.5 + 1e-9).floor();
    let shown = steps * division;
    // A whole number over a power of ten is the double nearest to what the scale prints: 13.7, never 13.700000000000001.
    let tens = 10_f64.powi(i32::try_from(show::decimals(division)).unwrap_or(0));
    let whole = (shown * tens).round();
    if whole.abs() < 2_f64.powi(53) {
        whole / tens
    } else {
        shown
    }
}

/// What was meant, or as the scale can show it, and what it may really be.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
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
pub type Reading = Typed<Milligrams>;

/// A reading of so many grams, for callers that have no typed words.
#[must_use]
pub fn reading(grams: f64) -> Reading {
    let value = Milligrams::from_grams(grams);
    Typed {
        said: format!("{} g", show::trim(value.grams(), 3)),
        value,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

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
            (13.68, 0.1, 13.7),
            (1_000.04, 0.1, 1_000.0),
        ];
        for (value, division, shown) in cases {
            let got = to_division(value, division);
            assert_eq!(
                got.to_string(),
                f64::to_string(&shown),
                "{value} by {division}"
            );
        }
    }

    proptest! {
        #[test]
        fn what_a_scale_shows_has_no_more_digits_than_its_step(value in 0.0..20_000.0_f64, step in prop::sample::select(vec![0.01, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0])) {
            let shown = to_division(value, step);
            prop_assert!((shown - value).abs() <= step / 2.0 + 1e-6);
            let digits = shown.to_string().split_once('.').map_or(0, |(_, d)| d.len());
            prop_assert!(digits <= show::decimals(step), "{shown}");
        }
    }
}
