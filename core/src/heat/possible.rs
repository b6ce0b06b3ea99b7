//! What an inside can be: how warm meat of a thickness becomes in its chamber at the very most, how cold it becomes at the very
//! least. A reading outside of that was of something else: another unit, another piece, air, a probe that is stuck.
//!
//! The bounds are generous on purpose. They never say that a reading is right, only that one cannot be.

use crate::units::{Celsius, Millimetres};

/// Nothing that holds water is warmer inside than it boils (°C).
pub const BOILS: Celsius = Celsius(100.0);
/// A piece whose thickness nobody measured is taken for a thin one: the thinner, the faster (mm).
pub const THIN: Millimetres = Millimetres(25.0);
/// Meat that nobody measured before is no warmer than a warm kitchen (°C).
pub const KITCHEN: Celsius = Celsius(30.0);
/// No smoker, oven or pot of a household is hotter than this (°C).
pub const HOTTEST_CHAMBER: Celsius = Celsius(260.0);
/// A chamber that nobody measured may be so much over its setting (°C).
pub const OVER_SETTING: f64 = 20.0;
/// A reading this much past a bound is still within it: probes and thicknesses are not exact (°C).
pub const SLACK_C: f64 = 2.0;
/// More than this over the warmest that its chamber was is not inside the meat (°C).
pub const OVER_CHAMBER_C: f64 = 0.5;
/// Out of the heat an inside goes on warming by so much (°C) …
///
/// # Source
/// 2 to 5 °C is usual.
pub const CARRY_OVER_C: f64 = 5.0;
/// … or, out of a hot oven, by this share of what its chamber was above it.
pub const CARRY_OVER_SHARE: f64 = 0.1;
/// No freezer or ice bath of a household is colder than this (°C).
const COLDEST: Celsius = Celsius(-25.0);

/// How fast 50 mm warm in moving air, at the most (a minute).
///
/// # Source
/// Three times what is usual in a smoker: a hot oven with moving air stays under it, and so does what a slab conducts.
const AIR_AT_50: f64 = 0.016;
/// In water heat goes over so much faster than in air.
const WET: f64 = 4.5;
/// What lies under the surface follows a falling chamber so much faster than the middle.
const RIM: f64 = 2.0;
/// Steps of a falling chamber (min).
const STEP_MIN: f64 = 2.0;

/// What is warmed or cooled.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Meat {
    /// How thick it lies, where somebody measured it.
    pub thickness: Option<Millimetres>,
    /// True in water or steam.
    pub wet: bool,
}

impl Meat {
    /// How fast it can warm, in Newton's law of heating (a minute).
    #[must_use]
    pub fn k_per_minute(self) -> f64 {
        let mm = self.thickness.unwrap_or(THIN).0.clamp(5.0, 400.0);
        let air = AIR_AT_50 * (50.0 / mm).powf(1.5);
        if self.wet { air * WET } else { air }
    }
}

/// A chamber for some minutes.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Spell {
    /// How long (min).
    pub minutes: f64,
    /// How warm it was at the most.
    pub chamber: Celsius,
}

/// Meat as warm as it can be: its middle, and the layer under its surface that goes on warming it when the fire dies.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Warmest {
    /// The middle.
    pub inside: Celsius,
    rim: Celsius,
}

impl Warmest {
    /// Meat that is this warm all through.
    #[must_use]
    pub const fn from(inside: Celsius) -> Self {
        Self {
            inside,
            rim: inside,
        }
    }

    /// The same after a spell in its chamber.
    #[must_use]
    pub fn after(mut self, spell: Spell, meat: Meat) -> Self {
        let k = meat.k_per_minute();
        let mut left = spell.minutes.max(0.0);
        let chamber = spell.chamber.0;
        if chamber >= self.rim.0 {
            self.rim = Celsius(chamber);
            self.warm(k, left);
            return self;
        }
        while left > 0.0 && self.rim.0 > self.inside.0 && self.rim.0 > chamber + 0.01 {
            let step = left.min(STEP_MIN);
            self.warm(k, step);
            self.rim = Celsius(chamber + (self.rim.0 - chamber) * (-k * RIM * step).exp());
            left -= step;
        }
        self.rim = Celsius(self.rim.0.max(chamber));
        if self.rim.0 > self.inside.0 {
            self.warm(k, left);
        }
        self
    }

    /// The same after its inside was measured: it is that warm, and the layer around it what it can be.
    #[must_use]
    pub fn measured(self, inside: Celsius) -> Self {
        Self {
            inside,
            rim: Celsius(self.rim.0.max(inside.0)),
        }
    }

    fn warm(&mut self, k: f64, minutes: f64) {
        if self.rim.0 > self.inside.0 {
            let gap = self.rim.0 - self.inside.0;
            self.inside = Celsius(self.rim.0 - gap * (-k * minutes).exp());
        }
    }
}

/// How warm an inside can be after some spells, at the most.
#[must_use]
pub fn warmest_inside(from: Celsius, spells: &[Spell], meat: Meat) -> Celsius {
    let all = spells.iter();
    all.fold(Warmest::from(from), |at, spell| at.after(*spell, meat))
        .inside
}

/// How cold an inside can be so long (min) after it was `from`, at the very least: in ice water or in a freezer.
#[must_use]
pub fn coldest_inside(from: Celsius, minutes: f64, meat: Meat) -> Celsius {
    let k = Meat { wet: true, ..meat }.k_per_minute() / 2.0;
    let gap = (from.0 - COLDEST.0).max(0.0);
    Celsius(COLDEST.0 + gap * (-k * minutes.max(0.0)).exp())
}

/// How much warmer than when it came out an inside may still become while it rests (°C).
#[must_use]
pub fn most_carry_over(out: Celsius, chamber: Option<Celsius>) -> f64 {
    let above = chamber.map_or(0.0, |c| c.0 - out.0);
    CARRY_OVER_C.max(CARRY_OVER_SHARE * above)
}

/// What is said of an inside over [`BOILS`], with an example of what to type.
#[must_use]
pub fn too_hot_inside(example: &str) -> String {
    format!(
        "Meat never gets warmer inside than 100 °C (212 °F). Type degrees with their unit, e.g. {example}."
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::heat::heating;
    use proptest::prelude::*;

    fn meat(mm: f64) -> Meat {
        Meat {
            thickness: Some(Millimetres(mm)),
            wet: false,
        }
    }

    /// From the fridge, so many minutes in a steady chamber.
    fn steady(minutes: f64, chamber: f64, meat: Meat) -> f64 {
        let spell = Spell {
            minutes,
            chamber: Celsius(chamber),
        };
        warmest_inside(Celsius(4.0), &[spell], meat).0
    }

    #[test]
    fn what_people_measure_fits_and_what_cannot_be_does_not() {
        let wet = |mm| Meat {
            wet: true,
            ..meat(mm)
        };
        #[rustfmt::skip]
        let cases = [
            // why                                        minutes chamber  meat        inside  can be
            ("a belly of 40 mm in two hours at 90",         120.0,  90.0,  meat(40.0),  65.0,  true),
            ("a loin of 80 mm in four hours at 100",        240.0, 100.0,  meat(80.0),  63.0,  true),
            ("a loin of 50 mm in an oven at 200",            35.0, 200.0,  meat(50.0),  63.0,  true),
            ("a tenderloin of 40 mm at 230",                 20.0, 230.0,  meat(40.0),  63.0,  true),
            ("sausages of 30 mm poached at 80",              20.0,  80.0,  wet(30.0),   72.0,  true),
            ("ham steaks of 20 mm in simmering water",       10.0,  90.0,  wet(20.0),   72.0,  true),
            ("3 kg of loin in 12 minutes at 110",            12.0, 110.0,  meat(90.0),  63.0,  false),
            ("a belly of 40 mm in a quarter of an hour",     15.0,  95.0,  meat(40.0),  62.8,  false),
            ("65.6 inside, chamber 53.3",                  6000.0,  53.3,  meat(40.0),  65.6,  false),
            ("a ham of 150 mm in an hour at 110",            60.0, 110.0,  meat(150.0), 63.0,  false),
        ];
        for (why, minutes, chamber, meat, inside, can_be) in cases {
            let most = steady(minutes, chamber, meat);
            assert_eq!(inside <= most + SLACK_C, can_be, "{why}: at most {most:.1}");
        }
    }

    #[test]
    fn a_dying_fire_warms_on_for_a_while_and_then_no_more() {
        let spells = |minutes| {
            [
                Spell {
                    minutes: 120.0,
                    chamber: Celsius(110.0),
                },
                Spell {
                    minutes,
                    chamber: Celsius(30.0),
                },
            ]
        };
        let loin = meat(70.0);
        let at_end = steady(120.0, 110.0, loin);
        let after = |minutes| warmest_inside(Celsius(4.0), &spells(minutes), loin).0;
        assert!(after(10.0) > at_end + 2.0, "carry-over is real");
        assert!(after(600.0) < at_end + 25.0, "and comes to an end");
        assert!((after(600.0) - after(300.0)).abs() < 0.5);
    }

    #[test]
    fn cooling_has_its_bound_too() {
        #[rustfmt::skip]
        let cases = [
            // why                            from   min    mm    read  can be
            ("4 °C after twelve minutes",      63.0,  12.0, 50.0,  4.0, false),
            ("4 °C after five hours",          63.0, 300.0, 60.0,  4.0, true),
            ("a ham in ice water overnight",   70.0, 600.0, 150.0, 4.0, true),
            ("26 °C after an hour and a half", 63.0,  90.0, 60.0, 26.0, true),
        ];
        for (why, from, minutes, mm, read, can_be) in cases {
            let least = coldest_inside(Celsius(from), minutes, meat(mm)).0;
            assert_eq!(
                read >= least - SLACK_C,
                can_be,
                "{why}: at least {least:.1}"
            );
        }
    }

    proptest! {
        #[test]
        fn the_bound_is_above_what_is_usual_and_below_its_chamber(
            mm in 10.0..200.0, chamber in 40.0..200.0, minutes in 1.0..900.0,
        ) {
            let most = steady(minutes, chamber, meat(mm));
            let k = heating::k_per_minute(Millimetres(mm), false);
            let usual = chamber - (chamber - 4.0) * (-k * minutes).exp();
            prop_assert!(most + 1e-9 >= usual && most <= chamber + 1e-9);
        }

        #[test]
        fn hotter_longer_or_thinner_never_lowers_the_bound(
            mm in 10.0..200.0, chamber in 40.0..200.0, minutes in 1.0..900.0, more in 0.0..50.0,
        ) {
            let most = steady(minutes, chamber, meat(mm));
            prop_assert!(steady(minutes + more, chamber, meat(mm)) + 1e-9 >= most);
            prop_assert!(steady(minutes, chamber + more, meat(mm)) + 1e-9 >= most);
            prop_assert!(steady(minutes, chamber, meat(f64::max(mm - more, 5.0))) + 1e-9 >= most);
        }
    }
}
