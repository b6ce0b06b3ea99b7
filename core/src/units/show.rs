//! Printing quantities in a household's units, so that [`super::read`] reads them back.

use super::{
    Celsius, Fraction, GPerKg, GRAMS_PER_OUNCE, GRAMS_PER_POUND, Grams, HeatUnit, LengthUnit,
    Litres, MassUnit, Millimetres, Ppm, Units,
};

/// Decimals that a division of the scale can show: 1 → 0, 0.1 → 1, 0.05 → 2.
#[must_use]
pub fn decimals(division: f64) -> usize {
    (0..6)
        .find(|&places| {
            let scaled = division * 10_f64.powi(places);
            (scaled - scaled.round()).abs() < 1e-9
        })
        .unwrap_or(6) as usize
}

/// A weight as a household writes it: `840 g`, `2.01 kg`, `4 lb 7.1 oz`.
#[must_use]
pub fn mass(grams: Grams, unit: MassUnit) -> String {
    let grams = grams.0;
    match unit {
        MassUnit::Metric if grams.abs() >= 1_000.0 => format!("{} kg", trim(grams / 1_000.0, 3)),
        MassUnit::Metric if grams.abs() < 10.0 => format!("{} g", trim(grams, 2)),
        MassUnit::Metric => format!("{} g", trim(grams, 1)),
        MassUnit::Imperial => {
            let tenths = (grams.abs() / GRAMS_PER_OUNCE * 10.0).round();
            let (pounds, tenths) = ((tenths / 160.0).floor(), tenths % 160.0);
            let sign = if grams < 0.0 && (pounds, tenths) != (0.0, 0.0) {
                "-"
            } else {
                ""
            };
            if pounds == 0.0 {
                format!("{sign}{} oz", trim(tenths / 10.0, 1))
            } else if tenths == 0.0 {
                format!("{sign}{pounds} lb")
            } else {
                format!("{sign}{pounds} lb {} oz", trim(tenths / 10.0, 1))
            }
        }
    }
}

/// A weight to the last digit a person could have typed, for reading back exactly.
#[must_use]
pub fn mass_exact(grams: Grams, unit: MassUnit) -> String {
    match unit {
        MassUnit::Metric => format!("{} g", trim(grams.0, 3)),
        MassUnit::Imperial => format!("{} lb", trim(grams.0 / GRAMS_PER_POUND, 9)),
    }
}

/// A thickness: `45 mm`, `1.77 in`.
#[must_use]
pub fn length(length: Millimetres, unit: LengthUnit) -> String {
    match unit {
        LengthUnit::Mm => format!("{} mm", trim(length.0, 1)),
        LengthUnit::Inch => format!("{} in", trim(length.inches(), 2)),
    }
}

/// A temperature: `62.8 °C`, `145 °F`.
#[must_use]
pub fn temperature(heat: Celsius, unit: HeatUnit) -> String {
    match unit {
        HeatUnit::Celsius => format!("{} °C", trim(heat.0, 1)),
        HeatUnit::Fahrenheit => format!("{} °F", trim(heat.0 * 1.8 + 32.0, 0)),
    }
}

/// A volume: `12 l`, `500 ml`, `3.2 qt`.
#[must_use]
pub fn volume(volume: Litres, units: Units) -> String {
    let quarts = volume.0 * 4_000.0 / units.measures().holds().gallon;
    match units.mass {
        MassUnit::Metric if volume.0 < 1.0 => format!("{} ml", trim(volume.0 * 1_000.0, 0)),
        MassUnit::Metric => format!("{} l", trim(volume.0, 1)),
        MassUnit::Imperial if quarts >= 8.0 => format!("{} gal", trim(quarts / 4.0, 1)),
        MassUnit::Imperial => format!("{} qt", trim(quarts, 1)),
    }
}

/// A share in percent: `35 %`.
#[must_use]
pub fn share(share: Fraction) -> String {
    format!("{} %", trim(share.0 * 100.0, 2))
}

/// A rate: `2.5 g/kg`.
#[must_use]
pub fn rate(rate: GPerKg) -> String {
    format!("{} g/kg", trim(rate.0, 3))
}

/// A content: `156 ppm`, `7.5 ppm`.
#[must_use]
pub fn content(content: Ppm) -> String {
    format!(
        "{} ppm",
        trim(content.0, if content.0 < 10.0 { 1 } else { 0 })
    )
}

/// A whole number with its thousands apart: `10,000`.
#[must_use]
pub fn grouped(value: f64) -> String {
    let digits = format!("{:.0}", value.abs());
    let mut out = String::new();
    for (i, digit) in digits.chars().enumerate() {
        if i > 0 && (digits.len() - i).is_multiple_of(3) {
            out.push(',');
        }
        out.push(digit);
    }
    if value < 0.0 { format!("-{out}") } else { out }
}

/// The words with their first letter large, as a sentence begins.
#[must_use]
pub fn capital(words: &str) -> String {
    let mut letters = words.chars();
    let first = letters.next().map(char::to_uppercase);
    first.into_iter().flatten().chain(letters).collect()
}

/// Days in words, to a tenth: `1 day`, `2.5 days`.
#[must_use]
pub fn days(days: f64) -> String {
    let said = trim(days, 1);
    if said == "1" {
        "1 day".into()
    } else {
        format!("{said} days")
    }
}

/// At most `places` decimals, without trailing zeros and without a minus before zero.
#[must_use]
pub fn trim(value: f64, places: usize) -> String {
    let text = format!("{value:.places$}");
    let text = if text.contains('.') {
        text.trim_end_matches('0').trim_end_matches('.')
    } else {
        &text
    };
    if text == "-0" {
        "0".into()
    } else {
        text.into()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::{Milligrams, Quantity, Typed, Units};
    use proptest::prelude::*;

    #[test]
    fn amounts_print_as_people_write_them() {
        use MassUnit::{Imperial, Metric};
        #[rustfmt::skip]
        let cases = [
            (mass(Grams(840.0), Metric),               "840 g"),
            (mass(Grams(2_010.0), Metric),             "2.01 kg"),
            (mass(Grams(2.496), Metric),               "2.5 g"),
            (mass(Grams(-0.001), Metric),              "0 g"),
            (mass(Grams(2_012.82), Imperial),          "4 lb 7 oz"),
            (mass(Grams(453.592_37), Imperial),        "1 lb"),
            (mass(Grams(14.17), Imperial),             "0.5 oz"),
            (mass(Grams(453.5), Imperial),             "1 lb"),
            (length(Millimetres(44.45), LengthUnit::Inch), "1.75 in"),
            (temperature(Celsius(62.777_8), HeatUnit::Fahrenheit), "145 °F"),
            (volume(Litres(0.25), Units::METRIC),             "250 ml"),
            (volume(Litres(12.0), Units::METRIC),             "12 l"),
            (volume(Litres(0.946_352_946), Units::IMPERIAL),  "1 qt"),
            (volume(Litres(11.356_235_352), Units::IMPERIAL), "3 gal"),
            (share(Fraction(0.022)),                   "2.2 %"),
            (rate(GPerKg(2.496)),                      "2.496 g/kg"),
            (content(Ppm(156.25)),                     "156 ppm"),
            (content(Ppm(7.46)),                       "7.5 ppm"),
            (grouped(10_000_000.0),                    "10,000,000"),
            (grouped(-90.0),                           "-90"),
        ];
        for (got, want) in cases {
            assert_eq!(got, want);
        }
    }

    #[test]
    fn a_division_tells_its_decimals() {
        for (division, want) in [(1.0, 0), (0.1, 1), (0.01, 2), (0.05, 2), (2.0, 0), (0.5, 1)] {
            assert_eq!(decimals(division), want, "{division}");
        }
    }

    /// What is printed for a household reads back as the very same value, whatever was said.
    fn comes_back<Q: Quantity + std::fmt::Debug>(value: Q, said: &str) {
        for units in [Units::METRIC, Units::IMPERIAL] {
            let typed = Typed {
                said: said.into(),
                value,
            };
            let again = typed.again(units);
            let back = Q::read(&again, units).unwrap_or_else(|e| panic!("{again}: {e}"));
            assert!(back.same(value), "{value:?}: {again} came back as {back:?}");
        }
    }

    proptest! {
        #[test]
        fn every_quantity_printed_and_read_again_is_the_same(
            mg in 0_i64..9_000_000_000, any in 0.0..1.0_f64, thousandths in 0_u32..1_000_000
        ) {
            comes_back(Milligrams(mg), "");
            for part in [any, f64::from(thousandths) / 1_000.0] {
                comes_back(Millimetres(part * 10.0), "");
                comes_back(Celsius(part / 2.0 - 40.0), "");
                comes_back(Celsius(part * 0.6), "");
                comes_back(Litres(part * 9.0), "");
                comes_back(GPerKg(part), "");
                comes_back(Ppm(part), "");
            }
            comes_back(Fraction(any), "");
            comes_back(Fraction(f64::from(thousandths) / 1e6), "");
        }

        #[test]
        fn what_was_said_comes_back_as_it_was_said(whole in 1_u32..40, eighths in 1_u32..8) {
            let said = format!("{whole} {eighths}/8 in");
            for units in [Units::METRIC, Units::IMPERIAL] {
                let typed = Typed::<Millimetres>::read(&said, units).unwrap();
                prop_assert_eq!(typed.again(units), said.clone());
                // another household's spelling of the same inch
                prop_assert_eq!(typed.again(units.other()), said.clone());
            }
            // a bare number means something else once the household measures otherwise
            let bare = Typed::<Celsius>::read("145", Units::IMPERIAL).unwrap();
            prop_assert_eq!(bare.again(Units::IMPERIAL), "145");
            prop_assert_eq!(bare.again(Units::METRIC), "145 °F");
        }

        #[test]
        fn a_weight_on_a_tag_reads_back_as_printed(mg in 0_i64..90_000_000) {
            for units in [Units::METRIC, Units::IMPERIAL] {
                let shown = mass(Grams(mg as f64 / 1_000.0), units.mass);
                let back = Milligrams::read(&shown, units).unwrap();
                prop_assert_eq!(mass(Grams(back.grams()), units.mass), shown);
            }
        }
    }
}
