//! Every spelling of `tests/cases/spellings.txt`, in two households.

use super::*;
use crate::units::{MassUnit, Units};

/// What a sum of plain numbers with units comes to; knows nothing of the reader.
fn meant(sum: &str) -> f64 {
    let worth = |unit: &str| match unit {
        "" | "g" | "mm" | "l" | "g/kg" | "ppm" | "cents" | "C" => 1.0,
        "lb" => 453.592_37,
        "oz" => 28.349_523_125,
        "in" => 25.4,
        "qt" => 0.946_352_946,
        other => panic!("no unit {other}"),
    };
    sum.split('+')
        .map(|part| {
            let (number, unit) = part.trim().split_once(' ').unwrap_or((part.trim(), ""));
            let number: f64 = number.parse().unwrap_or_else(|_| panic!("{sum}"));
            if unit == "F" {
                (number - 32.0) / 1.8
            } else {
                number * worth(unit)
            }
        })
        .sum()
}

fn understood(quantity: &str, text: &str, units: Units) -> Result<f64, ReadError> {
    match quantity {
        "mass" => mass(text, units.mass).map(|v| v.0),
        "length" => length(text, units.length).map(|v| v.0),
        "temperature" => temperature(text, units.heat).map(|v| v.0),
        "volume" => volume(text, units.mass).map(|v| v.0),
        "water" => water(text, units.mass).map(|v| v.0),
        "rate" => rate(text, units.mass)
            .and_then(|r| r.by_weight("by the spoon"))
            .map(|v| v.0),
        "share" => share(text).map(|v| v.0),
        "percent" => percent(text).map(|v| v.0),
        "content" => content(text).map(|v| v.0),
        "money" => cents(text).map(|v| v as f64),
        other => panic!("no quantity {other}"),
    }
}

#[test]
fn every_spelling_is_understood_in_two_households() {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/cases/spellings.txt");
    let table = std::fs::read_to_string(path).unwrap();
    let rows: Vec<Vec<&str>> = table
        .lines()
        .filter(|l| l.contains('|') && !l.starts_with('#'))
        .map(|l| l.split('|').collect())
        .collect();
    assert!(rows.len() >= 190, "{}", rows.len());
    let mut wrong = Vec::new();
    for row in &rows {
        let [quantity, text, metric, imperial] = row.as_slice() else {
            panic!("{row:?}");
        };
        // one blank stands on each side of a bar; more of them are part of the text
        let text = text.strip_prefix(' ').unwrap_or(text);
        let text = text.strip_suffix(' ').unwrap_or(text);
        let imperial = if imperial.trim() == "=" {
            metric
        } else {
            imperial
        };
        for (units, want) in [(Units::METRIC, metric), (Units::IMPERIAL, imperial)] {
            let got = understood(quantity.trim(), text, units);
            let fits = match (&got, want.trim().strip_prefix('!')) {
                (Err(error), Some(words)) => error.to_string().contains(words.trim()),
                (Ok(got), None) => {
                    let want = meant(want.trim());
                    (got - want).abs() <= 1e-9 * want.abs().max(1.0)
                }
                _ => false,
            };
            if !fits {
                let got = got.map_err(|e| e.to_string());
                wrong.push(format!(
                    "{quantity} “{text}” {:?}: want {want}, got {got:?}",
                    units.mass
                ));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn spoons_in_a_rate_are_told_from_weights() {
    let ml = |text: &str, measures| match rate(text, measures).unwrap() {
        Rate::Volume(ml) => ml,
        Rate::Weight(rate) => panic!("{text}: {rate:?}"),
    };
    let us = |teaspoons: f64| teaspoons * 4.928_921_593_75 / 0.453_592_37;
    #[rustfmt::skip]
    let cases = [
        ("1 tsp/lb",                     MassUnit::Imperial, us(1.0)),
        ("1 tablespoon per pound",       MassUnit::Imperial, us(3.0)),
        ("1/2 tbsp to the lb",           MassUnit::Imperial, us(1.5)),
        ("1 1/2 tsp a pound",            MassUnit::Imperial, us(1.5)),
        ("1 cup/100 lb",                 MassUnit::Imperial, us(0.48)),
        ("1 tsp/kg",                     MassUnit::Metric,   5.0),
        ("2 tbsp per 5 kg",              MassUnit::Metric,   6.0),
    ];
    for (text, measures, want) in cases {
        let got = ml(text, measures);
        assert!((got - want).abs() < 1e-9, "{text}: {got}, want {want}");
    }
}
