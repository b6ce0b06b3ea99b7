//! Printing quantities in a household's units, so that [`super::read`] reads them back.

use super::{GRAMS_PER_OUNCE, GRAMS_PER_POUND, HeatUnit, LengthUnit, MM_PER_INCH, MassUnit};

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
pub fn mass(grams: f64, unit: MassUnit) -> String {
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
pub fn mass_exact(grams: f64, unit: MassUnit) -> String {
    match unit {
        MassUnit::Metric => format!("{} g", trim(grams, 3)),
        MassUnit::Imperial => format!("{} lb", trim(grams / GRAMS_PER_POUND, 9)),
    }
}

/// A thickness: `45 mm`, `1.77 in`.
#[must_use]
pub fn length(mm: f64, unit: LengthUnit) -> String {
    match unit {
        LengthUnit::Mm => format!("{} mm", trim(mm, 1)),
        LengthUnit::Inch => format!("{} in", trim(mm / MM_PER_INCH, 2)),
    }
}

/// A temperature: `62.8 °C`, `145 °F`.
#[must_use]
pub fn temperature(celsius: f64, unit: HeatUnit) -> String {
    match unit {
        HeatUnit::Celsius => format!("{} °C", trim(celsius, 1)),
        HeatUnit::Fahrenheit => format!("{} °F", trim(celsius * 1.8 + 32.0, 0)),
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
    use crate::units::read;
    use proptest::prelude::*;

    #[test]
    fn weights_print_as_people_write_them() {
        #[rustfmt::skip]
        let cases = [
            (840.0,     MassUnit::Metric,   "840 g"),
            (2_010.0,   MassUnit::Metric,   "2.01 kg"),
            (2.496,     MassUnit::Metric,   "2.5 g"),
            (-0.001,    MassUnit::Metric,   "0 g"),
            (2_012.82,  MassUnit::Imperial, "4 lb 7 oz"),
            (453.592_37, MassUnit::Imperial, "1 lb"),
            (14.17,     MassUnit::Imperial, "0.5 oz"),
            (453.5,     MassUnit::Imperial, "1 lb"),
        ];
        for (grams, unit, want) in cases {
            assert_eq!(mass(grams, unit), want, "{grams}");
        }
        assert_eq!(length(44.45, LengthUnit::Inch), "1.75 in");
        assert_eq!(temperature(62.777_8, HeatUnit::Fahrenheit), "145 °F");
    }

    #[test]
    fn a_division_tells_its_decimals() {
        for (division, want) in [(1.0, 0), (0.1, 1), (0.01, 2), (0.05, 2), (2.0, 0), (0.5, 1)] {
            assert_eq!(decimals(division), want, "{division}");
        }
    }

    proptest! {
        #[test]
        fn a_printed_weight_reads_back_the_same(mg in 0_i64..9_000_000_000) {
            let grams = mg as f64 / 1_000.0;
            for unit in [MassUnit::Metric, MassUnit::Imperial] {
                let back = read::mass_g(&mass_exact(grams, unit), unit).unwrap();
                prop_assert!((back - grams).abs() < 5e-4, "{grams} came back as {back}");
            }
        }

        #[test]
        fn a_weight_on_a_tag_reads_back_as_printed(mg in 0_i64..90_000_000) {
            for unit in [MassUnit::Metric, MassUnit::Imperial] {
                let shown = mass(mg as f64 / 1_000.0, unit);
                let back = read::mass_g(&shown, unit).unwrap();
                prop_assert_eq!(mass(back, unit), shown);
            }
        }

        #[test]
        fn lengths_and_temperatures_read_back_as_printed(tenths in 1_i32..5_000) {
            let value = f64::from(tenths) / 10.0;
            for unit in [LengthUnit::Mm, LengthUnit::Inch] {
                let shown = length(value, unit);
                prop_assume!(shown != "0 in");
                prop_assert_eq!(length(read::length_mm(&shown, unit).unwrap(), unit), shown);
            }
            for unit in [HeatUnit::Celsius, HeatUnit::Fahrenheit] {
                let shown = temperature(value, unit);
                prop_assert_eq!(temperature(read::temperature_c(&shown, unit).unwrap(), unit), shown);
            }
        }
    }
}
