//! Every spelling of `tests/cases/spellings.txt`, in two households.

use super::*;
use crate::units::Units;

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
        "volume" => volume(text, units).map(|v| v.0),
        "water" => water(text, units).map(|v| v.0),
        "rate" => rate(text, units)
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
fn spoons_cups_and_gallons_of_one_amount_are_those_of_one_country() {
    let ml = |got: Result<Rate, ReadError>| match got.unwrap() {
        Rate::Volume(ml) => ml,
        Rate::Weight(rate) => panic!("{rate:?}"),
    };
    let of = |measures: Measures| Units {
        measures: Some(measures),
        ..Units::METRIC
    };
    let us = |teaspoons: f64| teaspoons * 4.928_921_593_75;
    let imperial_cup = 4_546.09 / 16.0;
    let pound = 0.453_592_37;
    #[rustfmt::skip]
    let on_meat = [
        ("1 tsp/lb",               Units::IMPERIAL,       us(1.0) / pound),
        ("1 tablespoon per pound", Units::IMPERIAL,       us(3.0) / pound),
        ("1/2 tbsp to the lb",     Units::IMPERIAL,       us(1.5) / pound),
        ("1 1/2 tsp a pound",      Units::IMPERIAL,       us(1.5) / pound),
        ("1 cup/100 lb",           Units::IMPERIAL,       us(0.48) / pound),
        ("1 tsp/kg",               Units::IMPERIAL,       us(1.0)),
        ("1 tsp/kg",               Units::METRIC,         5.0),
        ("2 tbsp per 5 kg",        Units::METRIC,         6.0),
        // on a pound it is a spoon of whoever weighs in pounds
        ("1 tsp/lb",               Units::METRIC,         us(1.0) / pound),
        ("1 tsp/lb",               of(Measures::Metric),  5.0 / pound),
        ("1 tsp/kg",               of(Measures::Us),      us(1.0)),
    ];
    for (text, units, want) in on_meat {
        let got = ml(rate(text, units));
        assert!((got - want).abs() < 1e-9, "{text}: {got}, want {want}");
    }
    #[rustfmt::skip]
    let in_water = [
        ("1 cup/gal",  Units::METRIC,          62.5),
        ("1 cup/gal",  Units::IMPERIAL,        62.5),
        ("2 tsp/qt",   Units::METRIC,          1_000.0 * 2.0 / 192.0),
        ("1 cup/l",    Units::METRIC,          250.0),
        ("1 cup/gal",  of(Measures::Us),       62.5),
        ("1 cup/gal",  of(Measures::Metric),   250.0 / 4.546_09),
        ("1 cup/gal",  of(Measures::Imperial), 62.5),
        ("1 cup/l",    of(Measures::Imperial), imperial_cup),
    ];
    for (text, units, want) in in_water {
        let got = ml(strength(text, units));
        assert!((got - want).abs() < 1e-9, "{text}: {got}, want {want}");
    }
    let litres = |text, units| volume(text, units).unwrap().0;
    assert!((litres("1 gal", Units::METRIC) - 3.785_411_784).abs() < 1e-12);
    assert!((litres("1 gal", of(Measures::Imperial)) - 4.546_09).abs() < 1e-12);
    assert!((litres("2 cups", of(Measures::Metric)) - 0.5).abs() < 1e-12);
}

#[test]
fn what_recipes_are_measured_in_holds_what_fields_are_measured_in() {
    let lexicon = crate::testing::catalogue();
    for set in Measures::ALL {
        let holds = set.holds();
        for (text, ml) in [
            ("1 tsp", holds.tsp),
            ("1 tbsp", holds.tbsp),
            ("1 fl oz", holds.fl_oz),
            ("1 cup", holds.cup),
            ("1 pint", holds.gallon / 8.0),
            ("1 quart", holds.gallon / 4.0),
            ("1 gallon", holds.gallon),
        ] {
            let ask = crate::recipe::RecipeCheckAsk {
                text: format!("{text} water\n"),
                measures: Some(set),
                rule_set: "us_home".into(),
                ..Default::default()
            };
            let answer = crate::recipe::recipe_check(&ask, lexicon).unwrap();
            let got = answer.lines[0].mass_g.unwrap();
            assert!((got - ml).abs() < 1e-3, "{set:?} {text}: {got}, want {ml}");
        }
    }
}
