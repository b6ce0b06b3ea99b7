//! Spoons and cups in grams, with how far they may be off.

use crate::catalogue::Catalogue;
use crate::catalogue::spoons::Spoon;
use crate::caution::{Checks, FieldError, Finding};
use crate::units::bounds::Measure;
use crate::units::{Band, GRAMS_PER_OUNCE, GRAMS_PER_POUND, ML_PER_US_TEASPOON, Measures};
use serde::{Deserialize, Serialize};

/// What an amount is measured with.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum SpoonUnit {
    /// Teaspoons.
    Tsp,
    /// Tablespoons.
    Tbsp,
    /// Cups.
    Cup,
    /// Millilitres.
    Ml,
    /// Litres.
    L,
    /// Fluid ounces, of the US beside metric spoons.
    FlOz,
    /// Quarts, likewise.
    Qt,
    /// Gallons, likewise.
    Gal,
    /// Grams.
    G,
    /// Kilograms.
    Kg,
    /// Ounces.
    Oz,
    /// Pounds.
    Lb,
}

/// An amount by the spoon, as the HTTP contract spells it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SpoonsAsk {
    /// What is in the spoon, by its word.
    pub ingredient: String,
    /// How many.
    pub amount: f64,
    /// Of what.
    pub unit: SpoonUnit,
    /// Whose spoons.
    #[serde(default)]
    pub measures: Measures,
}

/// What that weighs.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SpoonsAnswer {
    /// As it usually is (g).
    pub mass_g: f64,
    /// At least (g).
    pub mass_g_low: f64,
    /// At most (g).
    pub mass_g_high: f64,
    /// What to think about.
    pub findings: Vec<Finding>,
}

enum Size {
    Grams(f64),
    Millilitres(f64),
}

fn size(unit: SpoonUnit, measures: Measures) -> Size {
    let holds = measures.holds();
    // By the calculator's own contract these are of the US beside metric spoons.
    let large = match measures {
        Measures::Us | Measures::Metric => Measures::Us.holds(),
        Measures::Imperial => holds,
    };
    match unit {
        SpoonUnit::Tsp => Size::Millilitres(holds.tsp),
        SpoonUnit::Tbsp => Size::Millilitres(holds.tbsp),
        SpoonUnit::Cup => Size::Millilitres(holds.cup),
        SpoonUnit::Ml => Size::Millilitres(1.0),
        SpoonUnit::L => Size::Millilitres(1_000.0),
        SpoonUnit::FlOz => Size::Millilitres(large.fl_oz),
        SpoonUnit::Qt => Size::Millilitres(large.gallon / 4.0),
        SpoonUnit::Gal => Size::Millilitres(large.gallon),
        SpoonUnit::G => Size::Grams(1.0),
        SpoonUnit::Kg => Size::Grams(1_000.0),
        SpoonUnit::Oz => Size::Grams(GRAMS_PER_OUNCE),
        SpoonUnit::Lb => Size::Grams(GRAMS_PER_POUND),
    }
}

/// What so many millilitres of an ingredient weigh (g).
#[must_use]
pub fn weigh(spoon: &Spoon, millilitres: f64) -> Band {
    let teaspoons = millilitres / ML_PER_US_TEASPOON;
    Band {
        nominal: spoon.tsp_g * teaspoons,
        low: spoon.range.low * teaspoons,
        high: spoon.range.high * teaspoons,
    }
}

/// An amount in grams; a weight is what it is, a spoon has its range.
///
/// # Example
/// ```
/// use manifest_core::catalogue::Catalogue;
/// use manifest_core::cure::spoons::{SpoonsAsk, spoons};
///
/// let ask: SpoonsAsk = serde_json::from_value(serde_json::json!({"ingredient": "cure1", "amount": 1, "unit": "tsp"}))?;
/// let got = spoons(&ask, &Catalogue::shipped()).unwrap();
/// // Five to seven grams, by how it was heaped: a spoon is no scale.
/// assert!(got.mass_g_low < got.mass_g && got.mass_g < got.mass_g_high);
/// assert!(got.mass_g > 5.0 && got.mass_g < 7.0);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// An ingredient or an amount that cannot be.
///
/// # Source
/// `data/spoons.toml`; other measures scaled by volume.
pub fn spoons(ask: &SpoonsAsk, catalogue: &Catalogue) -> Result<SpoonsAnswer, Vec<FieldError>> {
    let mut checks = Checks::default();
    let weighed = || catalogue.spoons.iter().filter(|s| !s.estimate);
    let spoon = weighed().find(|s| s.key == ask.ingredient);
    if spoon.is_none() {
        let keys: Vec<_> = weighed().map(|s| s.key.as_str()).collect();
        checks.push(FieldError::new(
            "ingredient",
            format!(
                "Nobody here has weighed a spoon of that. Use one of {}.",
                keys.join(", ")
            ),
        ));
    }
    checks.above_zero(Measure::Count, ask.amount, "amount", "2 or 0.5");
    checks.done()?;
    let band = match (size(ask.unit, ask.measures), spoon) {
        (Size::Grams(grams), _) => Band::exactly(grams * ask.amount),
        (Size::Millilitres(ml), Some(spoon)) => weigh(spoon, ml * ask.amount),
        (Size::Millilitres(_), None) => Band::exactly(0.0),
    };
    let mut checks = Checks::default();
    checks.above_zero(Measure::Mass, band.nominal, "amount", "2 or 0.5");
    checks.done()?;
    Ok(SpoonsAnswer {
        mass_g: band.nominal,
        mass_g_low: band.low,
        mass_g_high: band.high,
        findings: Vec::new(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    fn asked(
        ingredient: &str,
        amount: f64,
        unit: &str,
        measures: &str,
    ) -> Result<SpoonsAnswer, String> {
        let ask = serde_json::from_value(json!({
            "ingredient": ingredient, "amount": amount, "unit": unit, "measures": measures
        }))
        .unwrap();
        spoons(&ask, &Catalogue::shipped()).map_err(|e| e[0].to_string())
    }

    #[test]
    fn spoons_weigh_what_the_table_says() {
        #[rustfmt::skip]
        let cases = [
            ("cure1", 1.0, "tsp", "us", (6.0, 5.0, 7.0)),
            ("preblend", 1.0, "tbsp", "us", (15.6, 13.8, 18.0)),
            ("granulated_sugar", 1.0, "cup", "us", (201.6, 192.0, 211.2)),
            ("table_salt", 1.0, "tbsp", "metric", (18.259_572_3, 17.346_593_7, 19.172_550_9)),
            ("water", 1.0, "l", "us", (1_000.0, 1_000.0, 1_000.0)),
            ("water", 1.0, "gal", "metric", (3_785.411_784, 3_785.411_784, 3_785.411_784)),
            ("honey", 2.0, "lb", "us", (907.184_74, 907.184_74, 907.184_74)),
            ("black_pepper", 1.0, "fl_oz", "us", (13.8, 12.0, 15.6)),
            ("paprika", 0.5, "qt", "us", (220.8, 192.0, 240.0)),
        ];
        for (ingredient, amount, unit, measures, (mass, low, high)) in cases {
            let got = asked(ingredient, amount, unit, measures).unwrap();
            for (got, want) in [
                (got.mass_g, mass),
                (got.mass_g_low, low),
                (got.mass_g_high, high),
            ] {
                assert!(
                    (got - want).abs() < 1e-6 * want,
                    "{ingredient} {unit}: {got} not {want}"
                );
            }
        }
    }

    #[test]
    fn what_cannot_be_spooned_is_refused_in_words() {
        #[rustfmt::skip]
        let cases = [
            ("pink salt", 1.0, "tsp", "ingredient: Nobody here has weighed a spoon of that. Use one of cure1, cure2,"),
            ("honey", 0.0, "tsp", "amount: Give a number above zero, such as 2 or 0.5."),
            ("honey", -1.0, "g", "amount: Give a number above zero, such as 2 or 0.5."),
            ("honey", 1e9, "tsp", "amount: Give at most 100,000, such as 2 or 0.5."),
            ("honey", 99_999.0, "gal", "amount: Give at most 10,000,000 g, such as 2 or 0.5."),
        ];
        for (ingredient, amount, unit, want) in cases {
            let said = asked(ingredient, amount, unit, "us").unwrap_err();
            assert!(said.starts_with(want), "{said}");
        }
    }
}
