//! Typed temperatures whose unit may be another one.
//!
//! What a bare number was read as is told by the number itself, so that a household that changes its units later asks nothing anew.

use crate::caution::{Code, Finding, Severity};
use crate::units::show::trim;
use crate::units::{Celsius, HeatUnit, Typed};

/// Read as °C, so many degrees inside meat may be °F …
const MAY_BE_FAHRENHEIT: f64 = 80.0;
/// … and read as °F, less than so many may be °C.
const MAY_BE_CELSIUS: f64 = 100.0;
/// No cold place has so many °C: that is a fridge in °F …
const COLD_MAY_BE_FAHRENHEIT: f64 = 28.0;
/// … and no other place for meat so many.
const AIR_MAY_BE_FAHRENHEIT: f64 = 45.0;
/// A fridge in °C, read as °F: a freezer's 0 is said in both.
const COLD_MAY_BE_CELSIUS: std::ops::Range<f64> = 0.5..20.0;
/// Read as °C no freezer is so warm: that is one in °F …
const FREEZER_MAY_BE_FAHRENHEIT: f64 = -5.0;
/// … and read as °F none is so cold: that is one in °C.
const FREEZER_MAY_BE_CELSIUS: f64 = -12.0;

/// Where a temperature was read.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ReadWhere {
    /// Inside meat that is, or was, in the heat.
    InsideHot,
    /// Inside meat that cools.
    InsideCooling,
    /// In a fridge or another place that is to be cold.
    Cold,
    /// In a freezer, or inside frozen meat.
    Freezer,
    /// In the air of a place that is meant to be warmer: a hook, a souring chamber.
    Air,
}

/// What is asked about a temperature that was typed without its unit, where the other unit fits better.
#[must_use]
pub fn unit_doubt(typed: &Typed<Celsius>, place: ReadWhere) -> Option<Finding> {
    let (bare, read_as) = bare(typed)?;
    let odd = match (place, read_as) {
        (ReadWhere::InsideHot | ReadWhere::InsideCooling, HeatUnit::Celsius) => {
            bare >= MAY_BE_FAHRENHEIT
        }
        (ReadWhere::InsideHot, HeatUnit::Fahrenheit) => bare < MAY_BE_CELSIUS,
        (ReadWhere::InsideCooling | ReadWhere::Cold, HeatUnit::Fahrenheit) => {
            COLD_MAY_BE_CELSIUS.contains(&bare)
        }
        (ReadWhere::Cold, HeatUnit::Celsius) => bare >= COLD_MAY_BE_FAHRENHEIT,
        (ReadWhere::Freezer, HeatUnit::Celsius) => bare >= FREEZER_MAY_BE_FAHRENHEIT,
        (ReadWhere::Freezer, HeatUnit::Fahrenheit) => bare <= FREEZER_MAY_BE_CELSIUS,
        (ReadWhere::Air, HeatUnit::Celsius) => bare >= AIR_MAY_BE_FAHRENHEIT,
        (ReadWhere::Air, HeatUnit::Fahrenheit) => COLD_MAY_BE_CELSIUS.contains(&bare),
    };
    odd.then(|| {
        let number = trim(bare, 1);
        let (own, other) = match read_as {
            HeatUnit::Celsius => ("C", "F"),
            HeatUnit::Fahrenheit => ("F", "C"),
        };
        Finding::new(
            Code::UnitUnclear,
            Severity::Caution,
            format!("{number} °{other}?"),
        )
        .saw(format!("{number}, read as °{own}"))
        .wants("the number with its unit")
        .remedy(format!(
            "Type {number} {other} or {number} {own}. Without its unit it proves nothing."
        ))
    })
}

/// The number as typed and the unit in which it was read, where it names none.
fn bare(typed: &Typed<Celsius>) -> Option<(f64, HeatUnit)> {
    let said = typed.said.trim();
    if said.is_empty() || said.chars().any(|c| c.is_alphabetic() && c != 'º') {
        return None;
    }
    let fahrenheit = typed.value.0 * 1.8 + 32.0;
    let digits = |c: &char| c.is_ascii_digit() || matches!(c, '.' | ',' | '-' | '−');
    let number: String = said.chars().filter(digits).collect();
    let number = number.replace(',', ".").replace('−', "-");
    let is = |value: f64| number.parse().is_ok_and(|n: f64| (n - value).abs() < 1e-6);
    if is(fahrenheit) {
        Some((fahrenheit, HeatUnit::Fahrenheit))
    } else {
        // What is written in another way than with digits is taken for what it was read as.
        Some((typed.value.0, HeatUnit::Celsius))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::Units;

    #[test]
    fn a_bare_number_that_fits_the_other_unit_better_is_asked_about() {
        use ReadWhere::{Air, Cold, Freezer, InsideCooling, InsideHot};
        let (c, f) = (Units::METRIC, Units::IMPERIAL);
        #[rustfmt::skip]
        let cases = [
            (InsideHot, "88", c, true), (InsideHot, "99", c, true), (InsideHot, "80", c, true), (InsideHot, "88 °", c, true),
            (InsideHot, "79.9", c, false), (InsideHot, "63", c, false), (InsideHot, "88 C", c, false), (InsideHot, "145 F", c, false), (InsideHot, "92 °C", c, false),
            (InsideHot, "62.8", f, true), (InsideHot, "99", f, true), (InsideHot, "100", f, false), (InsideHot, "145", f, false), (InsideHot, "62.8 C", f, false),
            (InsideCooling, "40", c, false), (InsideCooling, "4", f, true), (InsideCooling, "40", f, false), (InsideCooling, "90", c, true),
            (Cold, "38", c, true), (Cold, "40", c, true), (Cold, "3", c, false), (Cold, "12", c, false), (Cold, "38 F", c, false),
            (Cold, "3", f, true), (Cold, "38", f, false), (Cold, "0", f, false),
            (Freezer, "0", c, true), (Freezer, "-18", c, false), (Freezer, "-18", f, true), (Freezer, "0", f, false), (Freezer, "5 F", c, false),
            (Air, "22", c, false), (Air, "55", c, true), (Air, "55", f, false),
        ];
        for (place, text, units, asked) in cases {
            let typed = Typed::<Celsius>::read(text, units).unwrap();
            let found = unit_doubt(&typed, place);
            assert_eq!(found.is_some(), asked, "{place:?} {text} {units:?}");
        }
        assert_eq!(unit_doubt(&Typed::unsaid(Celsius(90.0)), InsideHot), None);
        let asked = Typed::<Celsius>::read("88", c).unwrap();
        let asked = unit_doubt(&asked, InsideHot).unwrap();
        assert_eq!(asked.message, "88 °F?");
    }
}
