//! How fast a piece warms by its thickness, as a rough guess before anything is measured.

use crate::units::{Celsius, Millimetres};

/// How fast 50 mm warm in moving air (a minute).
///
/// # Source
/// A slab of two inches comes from the fridge to 65 °C in some three and a half hours at 95 °C: `ln(91 / 30) / 210`.
const K_AT_50: f64 = 0.0053;

/// In water heat goes over so much faster than in air.
const WET: f64 = 2.2;

/// How fast a piece warms, in Newton's law of heating (a minute). Half of the way is the air at its surface, half the meat
/// itself: between the first and the second power of the thickness.
#[must_use]
pub fn k_per_minute(thickness: Millimetres, in_water: bool) -> f64 {
    let thick = thickness.0.clamp(5.0, 400.0);
    let k = K_AT_50 * (50.0 / thick).powf(1.5);
    if in_water { k * WET } else { k }
}

/// How long it takes to a mark in a steady chamber (min); none where it never gets there.
#[must_use]
pub fn minutes_to(
    mark: Celsius,
    from: Celsius,
    chamber: Celsius,
    thickness: Millimetres,
    in_water: bool,
) -> Option<f64> {
    if mark.0 <= from.0 {
        return Some(0.0);
    }
    if chamber.0 <= mark.0 {
        return None;
    }
    let left = (chamber.0 - from.0) / (chamber.0 - mark.0);
    Some(left.ln() / k_per_minute(thickness, in_water))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn thicker_takes_longer_hotter_takes_less_and_a_cold_chamber_never_gets_there() {
        let to = |c: f64, mm: f64| {
            minutes_to(
                Celsius(65.0),
                Celsius(4.0),
                Celsius(c),
                Millimetres(mm),
                false,
            )
        };
        assert!((to(95.0, 50.0).unwrap() - 209.4).abs() < 1.0);
        assert!(to(95.0, 60.0) > to(95.0, 50.0) && to(110.0, 50.0) < to(95.0, 50.0));
        assert_eq!(to(65.0, 50.0), None);
        let wet = minutes_to(
            Celsius(65.0),
            Celsius(4.0),
            Celsius(95.0),
            Millimetres(50.0),
            true,
        );
        assert!(wet < to(95.0, 50.0));
        let there = minutes_to(
            Celsius(4.0),
            Celsius(4.0),
            Celsius(3.0),
            Millimetres(50.0),
            true,
        );
        assert_eq!(there, Some(0.0));
    }
}
