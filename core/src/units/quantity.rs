//! The quantities, each a bare number with its unit in its type, and what a person typed of one.

use crate::units::read::{self, ReadError};
use crate::units::{HeatUnit, LengthUnit, MassUnit, Milligrams, Units, show};
use serde::{Deserialize, Serialize};

macro_rules! quantities {
    ($($name:ident, $words:literal;)+) => {$(
        #[doc = $words]
        #[derive(Clone, Copy, Debug, Default, PartialEq, PartialOrd, Serialize, Deserialize)]
        #[serde(transparent)]
        #[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(value_type = f64))]
        pub struct $name(pub f64);

        impl $name {
            /// The bare number, in the unit the type is named for.
            #[must_use]
            pub const fn get(self) -> f64 {
                self.0
            }
        }

        impl std::ops::Add for $name {
            type Output = Self;
            fn add(self, other: Self) -> Self {
                Self(self.0 + other.0)
            }
        }

        impl std::ops::Sub for $name {
            type Output = Self;
            fn sub(self, other: Self) -> Self {
                Self(self.0 - other.0)
            }
        }

        impl std::ops::Mul<f64> for $name {
            type Output = Self;
            fn mul(self, factor: f64) -> Self {
                Self(self.0 * factor)
            }
        }

        impl std::ops::Div<f64> for $name {
            type Output = Self;
            fn div(self, by: f64) -> Self {
                Self(self.0 / by)
            }
        }

        impl std::ops::Div for $name {
            type Output = f64;
            fn div(self, other: Self) -> f64 {
                self.0 / other.0
            }
        }

        impl std::iter::Sum for $name {
            fn sum<I: Iterator<Item = Self>>(all: I) -> Self {
                all.fold(Self(0.0), |a, b| a + b)
            }
        }
    )+};
}

quantities! {
    Grams, "A mass in grams, as computed; the ledger counts in [`Milligrams`].";
    Millimetres, "A length in millimetres.";
    Celsius, "A temperature in degrees Celsius.";
    Fraction, "A share of a mass, 0 to 1.";
    Ppm, "A content in milligrams per kilogram.";
    GPerKg, "So many grams on a kilogram of meat.";
    Litres, "A volume in litres.";
}

impl Millimetres {
    /// The same length in inches of 25.4 mm.
    #[must_use]
    pub fn inches(self) -> f64 {
        self.0 / super::MM_PER_INCH
    }
}

/// What a person typed, as it was said, and what it means. Two are equal when they mean the same.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub struct Typed<Q> {
    /// The words or digits; empty where nobody typed it.
    pub said: String,
    /// What they mean.
    pub value: Q,
}

impl<Q: PartialEq> PartialEq for Typed<Q> {
    fn eq(&self, other: &Self) -> bool {
        self.value == other.value
    }
}

impl<Q: Quantity> Typed<Q> {
    /// Something that nobody typed.
    #[must_use]
    pub const fn unsaid(value: Q) -> Self {
        Self {
            said: String::new(),
            value,
        }
    }

    /// Reads it as a household does.
    ///
    /// # Errors
    /// See [`ReadError`].
    pub fn read(text: &str, units: Units) -> Result<Self, ReadError> {
        Ok(Self {
            value: Q::read(text, units)?,
            said: text.trim().into(),
        })
    }

    /// For reading: as it was said where that names its unit, else in the household's own.
    #[must_use]
    pub fn as_said(&self, units: Units) -> String {
        let names_its_unit = |c: char| c.is_alphabetic() || matches!(c, '"' | '″' | '°' | '%');
        if self.said.contains(names_its_unit) {
            self.said.clone()
        } else {
            self.value.shown(units)
        }
    }

    /// Words that read back as the very same value: those that were said where they still mean
    /// the same, else the household's own, else all of its digits.
    #[must_use]
    pub fn again(&self, units: Units) -> String {
        let same = |text: &String| Q::read(text, units).is_ok_and(|v| v.same(self.value));
        std::iter::once(self.said.clone())
            .chain([units, units.other()].map(|u| self.value.shown(u)))
            .find(same)
            .unwrap_or_else(|| self.value.exact())
    }
}

/// An amount as it was sent: a number in the unit of its field, or what somebody typed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(untagged)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Amount {
    /// In the unit of its field.
    Number(f64),
    /// As typed.
    Text(String),
}

impl Amount {
    /// True where nothing was typed.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        matches!(self, Self::Text(text) if text.trim().is_empty())
    }
}

/// A quantity that people type.
pub trait Quantity: Copy + PartialEq {
    /// Reads it; a bare number is in the household's unit.
    ///
    /// # Errors
    /// See [`ReadError`].
    fn read(text: &str, units: Units) -> Result<Self, ReadError>;
    /// As a household writes it.
    fn shown(self, units: Units) -> String;
    /// With every digit, in a unit that any household reads.
    fn exact(self) -> String;
    /// True for the very same value, to the last bit.
    fn same(self, other: Self) -> bool;
}

impl Quantity for Milligrams {
    fn read(text: &str, units: Units) -> Result<Self, ReadError> {
        read::mass(text, units.mass).map(|g| Self::from_grams(g.0))
    }
    fn shown(self, units: Units) -> String {
        // What was weighed is shown to the milligram or not at all.
        match units.mass {
            MassUnit::Metric => self.exact(),
            MassUnit::Imperial => show::mass(Grams(self.grams()), units.mass),
        }
    }
    fn exact(self) -> String {
        format!("{} g", show::trim(self.grams(), 3))
    }
    fn same(self, other: Self) -> bool {
        self == other
    }
}

macro_rules! typed {
    ($($name:ident: $read:expr, $shown:expr, $unit:literal;)+) => {$(
        impl Quantity for $name {
            fn read(text: &str, units: Units) -> Result<Self, ReadError> {
                let read: fn(&str, Units) -> Result<Self, ReadError> = $read;
                read(text, units)
            }
            fn shown(self, units: Units) -> String {
                let shown: fn(Self, Units) -> String = $shown;
                shown(self, units)
            }
            fn exact(self) -> String {
                format!("{}{}", self.0, $unit)
            }
            fn same(self, other: Self) -> bool {
                self.0.to_bits() == other.0.to_bits()
            }
        }
    )+};
}

typed! {
    Millimetres: |t, u| read::length(t, u.length), |v, u| show::length(v, u.length), " mm";
    Celsius: |t, u| read::temperature(t, u.heat), |v, u| show::temperature(v, u.heat), " C";
    Fraction: |t, _| read::share(t), |v, _| show::share(v), "";
    Litres: |t, u| read::volume(t, u), |v, u| show::volume(v, u), " l";
    Ppm: |t, _| read::content(t), |v, _| show::content(v), " ppm";
    GPerKg: |t, u| read::rate(t, u).and_then(|r| r.by_weight(t)), |v, _| show::rate(v), " g/kg";
}

/// The units of a household of either kind, for tables of cases.
impl Units {
    /// Grams, millimetres, Celsius.
    pub const METRIC: Self = Self {
        mass: MassUnit::Metric,
        length: LengthUnit::Mm,
        heat: HeatUnit::Celsius,
        measures: None,
    };
    /// Pounds, inches, Fahrenheit.
    pub const IMPERIAL: Self = Self {
        mass: MassUnit::Imperial,
        length: LengthUnit::Inch,
        heat: HeatUnit::Fahrenheit,
        measures: None,
    };
}

/// Milligrams per kilogram in one mass fraction.
pub const PPM: f64 = 1e6;
