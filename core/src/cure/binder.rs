//! Binder enzyme for pieces that are rolled or joined.

use crate::units::Grams;
use serde::Serialize;

/// A slurry of binder, and how long what it holds rests cold.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Binder {
    /// Binder (g).
    pub binder_g: f64,
    /// Water to stir it into (g).
    pub water_g: f64,
    /// Hours it rests cold, at least and at most.
    pub rest_h: [f64; 2],
}

/// Of the meat that is joined.
const SHARE: f64 = 0.01;
/// Parts of water to one of binder.
const WATER: f64 = 4.0;
const REST_H: [f64; 2] = [12.0, 24.0];

/// The slurry for so much meat.
///
/// # Source
/// Usual advice for transglutaminase preparations: about 1 % of the joined meat, one part in four of water, set cold
/// over night. The packet in hand says it better.
#[must_use]
pub fn binder(meat: Grams) -> Binder {
    let binder_g = meat.0 * SHARE;
    Binder {
        binder_g,
        water_g: binder_g * WATER,
        rest_h: REST_H,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_hundredth_in_four_times_as_much_water() {
        let got = binder(Grams(2_400.0));
        assert!((got.binder_g - 24.0).abs() < 1e-12 && (got.water_g - 96.0).abs() < 1e-12);
    }
}
