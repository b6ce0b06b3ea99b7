//! How much water is left in a drying piece, and what its water activity may be: to know, never to lean on.

use crate::units::{Fraction, Grams};

/// Water in lean meat (share).
///
/// # Source
/// 72 to 75 % is usual; fat holds nearly none.
const WATER_OF_LEAN: f64 = 0.73;
/// Grams of a mole of common salt.
const MOLE_OF_SALT_G: f64 = 58.44;
/// What a molal of salt takes off the activity of water, and what its square takes.
///
/// # Source
/// A fit to tables of brines up to 5 molal, good to 0.003.
const BY_SALT: (f64, f64) = (0.033_5, 0.000_6);
/// The activity of water in fresh meat: what its own solutes take off, before it dries.
const OF_MEAT: f64 = 0.99;
/// How far the estimate may be off: salt that is not even, a rim drier than the middle, fat that was guessed.
const UNSURE: f64 = 0.02;

/// What is left of the water, and what that means, as information.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Drying {
    /// Water when it was hung.
    pub water_start: Grams,
    /// Water that is left.
    pub water_left: Grams,
    /// Salt in that water (share of both), where its dose is known.
    pub salt_in_water: Option<Fraction>,
    /// The activity of its water, about, with what it may be.
    pub activity: Option<Estimate>,
}

/// An estimate with its edges.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Estimate {
    /// About.
    pub about: f64,
    /// At least.
    pub low: f64,
    /// At most.
    pub high: f64,
}

/// Where the drying of a piece stands: its net weight when it was hung, what it lost since, its share of lean, and the salt that went
/// in (g). None when more was lost than there was water, which no drying does.
///
/// # Source
/// Water left is 0.73 of the lean less the weight lost; `aw = (1 - 0.0335 m - 0.0006 m²) · 0.99^(start / left)` with the molality
/// `m` of salt in the water that is left: a trade estimate.
#[must_use]
pub fn drying(
    net_start: Grams,
    lost: Grams,
    lean: Fraction,
    salt: Option<Grams>,
) -> Option<Drying> {
    let water_start = net_start * (WATER_OF_LEAN * lean.0);
    let water_left = water_start - Grams(lost.0.max(0.0));
    if water_start.0 <= 0.0 || water_left.0 <= 0.0 {
        return None;
    }
    let salt = salt.filter(|s| s.0 >= 0.0);
    let activity = salt.map(|salt| {
        let molal = salt.0 / MOLE_OF_SALT_G / (water_left.0 / 1_000.0);
        let by_salt = 1.0 - BY_SALT.0 * molal - BY_SALT.1 * molal * molal;
        let about = (by_salt * OF_MEAT.powf(water_start / water_left)).clamp(0.0, 1.0);
        Estimate {
            about,
            low: (about - UNSURE).max(0.0),
            high: (about + UNSURE).min(1.0),
        }
    });
    Some(Drying {
        water_start,
        water_left,
        salt_in_water: salt.map(|s| Fraction(s.0 / (s.0 + water_left.0))),
        activity,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_muscle_by_hand() {
        // 1 kg of lean with 28 g of salt that lost 350 g: 380 g of water hold 1.2609 mol/kg of salt.
        let got = drying(
            Grams(1_000.0),
            Grams(350.0),
            Fraction(1.0),
            Some(Grams(28.0)),
        )
        .unwrap();
        assert!((got.water_left.0 - 380.0).abs() < 1e-9);
        assert!((got.salt_in_water.unwrap().0 - 28.0 / 408.0).abs() < 1e-9);
        let molal: f64 = 28.0 / 58.44 / 0.38;
        let want = (1.0 - 0.0335 * molal - 0.0006 * molal * molal) * 0.99_f64.powf(730.0 / 380.0);
        let about = got.activity.unwrap();
        assert!((about.about - want).abs() < 1e-12 && about.about > 0.93 && about.about < 0.95);
    }

    #[test]
    fn what_cannot_be_known_is_not_guessed() {
        #[rustfmt::skip]
        let cases = [
            // start      lost   lean  salt,  drying at all, activity
            (1_000.0,  200.0, 1.0, None,       true,  false), // nobody knows its dose
            (1_000.0,  740.0, 1.0, Some(28.0), false, false), // more than its water
            (1_000.0,  100.0, 0.0, Some(28.0), false, false), // all fat
            (1_000.0, -10.0,  0.5, Some(0.0),  true,  true),  // gained: nothing is lost yet
        ];
        for (start, lost, lean, salt, some, activity) in cases {
            let got = drying(Grams(start), Grams(lost), Fraction(lean), salt.map(Grams));
            assert_eq!(got.is_some(), some, "{start} {lost} {lean}");
            assert_eq!(got.is_some_and(|d| d.activity.is_some()), activity);
        }
    }

    proptest! {
        #[test]
        fn the_more_it_dries_the_less_its_water_is_free(start in 100.0..5_000.0, lean in 0.3..1.0, a in 0.0..0.9_f64, b in 0.0..0.9_f64, salt in 0.01..0.05) {
            let water = start * 0.73 * lean;
            let at = |share: f64| drying(Grams(start), Grams(water * share), Fraction(lean), Some(Grams(start * salt))).unwrap();
            let (less, more) = (at(a.min(b)), at(a.max(b)));
            prop_assert!(more.activity.unwrap().about <= less.activity.unwrap().about + 1e-12);
            prop_assert!(more.salt_in_water.unwrap().0 + 1e-12 >= less.salt_in_water.unwrap().0);
        }
    }
}
