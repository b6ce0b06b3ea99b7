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
    Amount, Celsius, Fraction, GPerKg, Grams, Litres, Millimetres, PPM, Ppm, Quantity, Typed,
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

/// Whose spoons, cups, pints, quarts and gallons: those of one country at a time.
///
/// # Source
/// NIST Handbook 44, appendix C; the Weights and Measures Act 1985; metric spoons and cups by custom, where a gallon is
/// that of the Commonwealth.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Measures {
    /// A cup of 237 ml, a gallon of 3.79 l.
    #[default]
    Us,
    /// A cup of 250 ml, a gallon of 4.55 l.
    Metric,
    /// A cup of 284 ml, a gallon of 4.55 l.
    Imperial,
}

/// What the measures of a kitchen hold (ml).
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Holds {
    /// A teaspoon.
    pub tsp: f64,
    /// A tablespoon.
    pub tbsp: f64,
    /// A fluid ounce.
    pub fl_oz: f64,
    /// A cup.
    pub cup: f64,
    /// A gallon: four quarts, eight pints.
    pub gallon: f64,
}

/// Millilitres in one imperial gallon, exact by definition.
const ML_PER_IMPERIAL_GALLON: f64 = 4_546.09;

impl Measures {
    /// Every set.
    pub const ALL: [Self; 3] = [Self::Us, Self::Metric, Self::Imperial];

    /// What they hold.
    #[must_use]
    pub const fn holds(self) -> Holds {
        let tsp = ML_PER_US_TEASPOON;
        let fl_oz = ML_PER_IMPERIAL_GALLON / 160.0;
        match self {
            Self::Us => Holds {
                tsp,
                tbsp: 3.0 * tsp,
                fl_oz: 6.0 * tsp,
                cup: 48.0 * tsp,
                gallon: 768.0 * tsp,
            },
            Self::Metric => Holds {
                tsp: 5.0,
                tbsp: 15.0,
                fl_oz,
                cup: 250.0,
                gallon: ML_PER_IMPERIAL_GALLON,
            },
            Self::Imperial => Holds {
                tsp: fl_oz * 10.0 / 48.0,
                tbsp: fl_oz * 10.0 / 16.0,
                fl_oz,
                cup: fl_oz * 10.0,
                gallon: ML_PER_IMPERIAL_GALLON,
            },
        }
    }

    /// As requests and files name them.
    #[must_use]
    pub const fn key(self) -> &'static str {
        match self {
            Self::Us => "us",
            Self::Metric => "metric",
            Self::Imperial => "imperial",
        }
    }

    /// In few words, by their cup.
    #[must_use]
    pub const fn short(self) -> &'static str {
        match self {
            Self::Us => "of the US: a cup of 237 ml",
            Self::Metric => "metric: a cup of 250 ml",
            Self::Imperial => "imperial: a cup of 284 ml",
        }
    }

    /// As a person would name them.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Us => "of the US: a cup of 237 ml, a gallon of 3.79 l",
            Self::Metric => "metric: a cup of 250 ml, a gallon of 4.55 l",
            Self::Imperial => "imperial: a cup of 284 ml, a gallon of 4.55 l",
        }
    }
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
    /// Spoons, cups, quarts and gallons. Left out, an amount tells: with a pound, a quart or a gallon in it they are
    /// those of the US, in a metric kitchen otherwise metric.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub measures: Option<Measures>,
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
            measures: self.measures,
        }
    }

    /// Whose spoons and cups an amount means that speaks of nothing else.
    #[must_use]
    pub fn measures(self) -> Measures {
        self.measures.unwrap_or_default()
    }

    /// Whose spoons and cups an amount means that is so much on a kilogram or in a litre, or, where `us` is true, on a
    /// pound or in a gallon.
    #[must_use]
    pub fn measures_beside(self, us: bool) -> Measures {
        let told = match self.mass {
            MassUnit::Metric if !us => Measures::Metric,
            MassUnit::Metric | MassUnit::Imperial => Measures::Us,
        };
        self.measures.unwrap_or(told)
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

    /// What a scale with this smallest step showed: half a step either way is what it cannot tell.
    #[must_use]
    pub fn weighed(shown: f64, division: f64) -> Self {
        let off = division / 2.0;
        Self {
            nominal: shown.max(0.0),
            low: (shown - off).max(0.0),
            high: (shown + off).max(0.0),
        }
    }
}

impl std::ops::Add for Band {
    type Output = Self;

    fn add(self, other: Self) -> Self {
        Self {
            nominal: self.nominal + other.nominal,
            low: self.low + other.low,
            high: self.high + other.high,
        }
    }
}

impl std::iter::Sum for Band {
    fn sum<I: Iterator<Item = Self>>(all: I) -> Self {
        all.fold(Self::exactly(0.0), std::ops::Add::add)
    }
}

impl std::ops::Mul<f64> for Band {
    type Output = Self;

    fn mul(self, by: f64) -> Self {
        Self {
            nominal: self.nominal * by,
            low: self.low * by,
            high: self.high * by,
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
