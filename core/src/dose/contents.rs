//! How much of what was weighed is in the meat: the one calculation behind ppm of nitrite and nitrate and g/kg of salt, for
//! recorded doses, methods, calculators and recipes alike.

use crate::units::Band;

/// How something gets into the meat. Masses are in grams.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum GetsIn {
    /// All of it: rubbed on, or mixed in.
    Whole {
        /// The green weight.
        meat: Band,
    },
    /// Shared by meat and brine, until both are alike.
    Shared {
        /// The green weight.
        meat: Band,
        /// The brine, with all that is dissolved in it.
        brine: Band,
    },
    /// With the brine that the meat takes up or that is pumped in.
    TakenUp {
        /// The brine, with all that is dissolved in it.
        brine: Band,
        /// Brine in the meat, as a share of the green weight.
        share: Band,
    },
}

impl GetsIn {
    /// Mass of something in the meat by mass of what shares it (a plain ratio), from so many grams that were weighed. Nothing where
    /// there is nothing that could hold it.
    ///
    /// # Source
    /// Ingoing nitrite on green weight, FSIS calculations handbook for inspectors: what was weighed over the meat; in a brine over
    /// meat and brine at equilibrium; pumped or taken up, the strength of the brine by the gain.
    #[must_use]
    pub fn share_of(self, weighed: Band) -> Band {
        match self {
            Self::Whole { meat } => ratio(weighed, meat),
            Self::Shared { meat, brine } => ratio(weighed, meat + brine),
            Self::TakenUp { brine, share } => {
                let strength = ratio(weighed, brine);
                Band {
                    nominal: strength.nominal * share.nominal,
                    low: strength.low * share.low,
                    high: strength.high * share.high,
                }
            }
        }
    }
}

/// The least of one by the most of the other, and the other way round.
fn ratio(of: Band, by: Band) -> Band {
    if by.nominal <= 0.0 {
        return Band::exactly(0.0);
    }
    Band {
        nominal: of.nominal / by.nominal,
        low: of.low / by.high,
        high: of.high / by.low.max(f64::MIN_POSITIVE),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::PPM;
    use proptest::prelude::*;

    #[test]
    fn contents_by_hand() {
        let g = Band::exactly;
        #[rustfmt::skip]
        let rows = [
            // why                                            how it gets in                                              nitrite g   ppm
            ("5 g of 6.25 % on two kilos",                    GetsIn::Whole { meat: g(2_000.0) },                         0.312_5,    156.25),
            ("shared with a kilo of brine",                   GetsIn::Shared { meat: g(2_000.0), brine: g(1_000.0) },     0.45,       150.0),
            ("a tenth taken up of a brine of 0.1 %",          GetsIn::TakenUp { brine: g(1_000.0), share: g(0.1) },          1.0,        100.0),
            ("nothing that could hold it",                    GetsIn::Whole { meat: g(0.0) },                             1.0,        0.0),
        ];
        for (why, gets_in, nitrite, want) in rows {
            let got = gets_in.share_of(g(nitrite)) * PPM;
            assert!(
                (got.nominal - want).abs() < 1e-9,
                "{why}: {got:?}, want {want}"
            );
        }
    }

    proptest! {
        #[test]
        fn what_the_scales_cannot_tell_lies_about_the_nominal(cure in 0.0..50.0_f64, meat in 20.0..20_000.0_f64, fine in 0.01..2.0_f64, coarse in 0.5..10.0_f64) {
            let (cure, meat) = (Band::weighed(cure, fine), Band::weighed(meat, coarse));
            for gets_in in [GetsIn::Whole { meat }, GetsIn::Shared { meat, brine: Band::exactly(500.0) }] {
                let got = gets_in.share_of(cure);
                prop_assert!(0.0 <= got.low && got.low <= got.nominal && got.nominal <= got.high, "{got:?}");
            }
        }

        /// The formulas that stood in a dry cure, a dose, a brine and a recipe before they became one.
        #[test]
        fn it_agrees_with_each_of_the_four_that_it_took_the_place_of(
            cure in 0.0..60.0_f64, share in 0.0..=1.0_f64, meat in 50.0..30_000.0_f64, brine in 100.0..30_000.0_f64,
            pickup in 0.01..0.6_f64, d in 0.005..1.0_f64, big in 0.05..5.0_f64,
        ) {
            let near = |a: f64, b: f64| (a - b).abs() <= 1e-9 * (1.0 + b.abs());
            let dry = GetsIn::Whole { meat: Band::weighed(meat, big * 2.0) }.share_of(Band::weighed(cure, d * 2.0) * share) * PPM;
            prop_assert!(near(dry.nominal, cure * share / meat * PPM));
            prop_assert!(near(dry.low, (cure - d).max(0.0) * share / (meat + big) * PPM));
            prop_assert!(near(dry.high, (cure + d) * share / (meat - big) * PPM));
            let shared = GetsIn::Shared { meat: Band::weighed(meat, big * 2.0), brine: Band::exactly(brine) };
            let shared = shared.share_of(Band::weighed(cure, d * 2.0) * share) * PPM;
            let base = meat + brine;
            prop_assert!(near(shared.nominal, cure * share / base * PPM));
            prop_assert!(near(shared.low, (cure - d).max(0.0) * share / (base + big) * PPM));
            prop_assert!(near(shared.high, (cure + d) * share / (base - big) * PPM));
            let taken = GetsIn::TakenUp { brine: Band::exactly(brine), share: Band::exactly(pickup) }.share_of(Band::exactly(cure * share)) * PPM;
            prop_assert!(near(taken.nominal, cure * share / brine * pickup * PPM));
            let (a, b) = (Band::weighed(cure, d), Band::weighed(meat, big));
            let recipe = GetsIn::Whole { meat: b }.share_of(a);
            prop_assert!(near(recipe.low, a.low / b.high) && near(recipe.high, a.high / b.low));
        }
    }
}
