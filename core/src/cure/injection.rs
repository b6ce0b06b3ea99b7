//! Injection: brine pumped into the meat. The scale before and after says how much; the wish does not.

use super::brine::Mixed;
use crate::catalogue::Catalogue;
use crate::catalogue::cures::CureAsk;
use crate::caution::{Checks, Code, FieldError, Finding, Severity};
use crate::dose::limits::{Case, Class, Law, ppm};
use crate::units::bounds::Measure;
use crate::units::{Band, Fraction, MassUnit, PPM, show};
use serde::{Deserialize, Serialize};
use std::cmp::Ordering;

/// What is pumped into a piece, as a share of its weight, when nothing went wrong.
const USUAL: (f64, f64) = (0.05, 0.20);

/// The brine as mixed, and how much of it went in: as a wish, or by the scale.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct InjectionAsk {
    /// Green weight of the meat (g).
    pub meat_g: f64,
    /// Water (g).
    pub water_g: f64,
    /// Salt beside the cure (g).
    pub salt_g: f64,
    /// Sugar (g).
    pub sugar_g: f64,
    /// Curing salt (g).
    pub cure_g: f64,
    /// Which.
    pub cure: CureAsk,
    /// Brine to be pumped in, as a share of the meat.
    #[serde(default)]
    pub pump_fraction: Option<f64>,
    /// What the meat weighs after injecting (g).
    #[serde(default)]
    pub after_g: Option<f64>,
    /// What becomes of the piece.
    pub class: Class,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// The rules to judge by.
    #[serde(default = "crate::catalogue::rules::default_rule_set")]
    pub rule_set: String,
}

/// What was pumped in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct InjectionAnswer {
    /// Brine in the meat, as a share of its green weight.
    pub pump_fraction: f64,
    /// The same (g).
    pub injected_g: f64,
    /// Sodium nitrite pumped in (ppm of the green weight).
    pub nitrite_ppm: f64,
    /// Sodium nitrate pumped in (ppm of the green weight).
    pub nitrate_ppm: f64,
    /// Salt pumped in, as a share of the green weight.
    pub salt_fraction: f64,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// Says what a pump brings into the meat; what is left of the brine and covers it is not counted.
///
/// # Example
/// ```
/// use manifest_core::catalogue::Catalogue;
/// use manifest_core::cure::injection::{InjectionAsk, injection};
///
/// let ask: InjectionAsk = serde_json::from_value(serde_json::json!({"meat_g": 2000, "water_g": 900, "salt_g": 80, "sugar_g": 0, "cure_g": 20, "cure": "cure1", "class": "cooked", "after_g": 2200}))?;
/// let got = injection(&ask, &Catalogue::shipped()).unwrap();
/// // 200 g of a kilo of brine are in two kilos: a tenth.
/// assert!((got.pump_fraction - 0.1).abs() < 1e-9);
/// assert!((got.nitrite_ppm - 125.0).abs() < 1e-9);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// Every field that cannot be right, and more brine in the meat than was mixed.
///
/// # Source
/// 9 CFR 424.21 counts ingoing nitrite on the green weight; FSIS calculations handbook, pumped products.
pub fn injection(
    ask: &InjectionAsk,
    catalogue: &Catalogue,
) -> Result<InjectionAnswer, Vec<FieldError>> {
    let cure = ask.cure.choice(catalogue).map_err(|e| vec![e])?;
    let brine = Mixed {
        water: ask.water_g,
        salt: ask.salt_g,
        sugar: ask.sugar_g,
        cure: ask.cure_g,
        made_of: &cure.made_of,
    };
    let mut checks = Checks::default();
    checks.above_zero(Measure::Mass, ask.meat_g, "meat_g", "2010");
    brine.check(&mut checks, &cure.label());
    if let Some(pump) = ask.pump_fraction {
        checks.that(
            pump > 0.0 && pump <= 1.0,
            "pump_fraction",
            "Give the brine pumped in as a share of the meat, above 0, such as 0.1 for a tenth of its weight.",
        );
    }
    if let Some(after) = ask.after_g {
        checks.that(
            after.is_finite() && after > ask.meat_g && Measure::Mass.holds(after),
            "after_g",
            "After injecting it weighs more than before. Weigh it again, or look at both weights.",
        );
    }
    let rules = catalogue.rules_with_limit(&ask.rule_set, ask.class, Law::Injected, ask.skin_on);
    checks.fine(&rules);
    let (field, pump) = match (ask.pump_fraction, ask.after_g) {
        (Some(pump), None) => ("pump_fraction", pump),
        (None, Some(after)) => ("after_g", (after - ask.meat_g) / ask.meat_g),
        (Some(_), Some(_)) | (None, None) => {
            checks.that(
                false,
                "pump_fraction",
                "Give either pump_fraction, such as 0.1, or after_g, the weight after injecting; not both.",
            );
            ("pump_fraction", 0.0)
        }
    };
    let injected_g = pump * ask.meat_g;
    checks.that(
        injected_g.partial_cmp(&brine.mass()) != Some(Ordering::Greater),
        field,
        &format!(
            "There are only {} of this brine: more than that cannot be in the meat.",
            show::mass(crate::units::Grams(brine.mass()), MassUnit::Metric)
        ),
    );
    checks.done()?;
    let rules = rules.map_err(|e| vec![e])?;

    let nitrite_ppm = brine.nitrite_share() * pump * PPM;
    let nitrate_ppm = brine.nitrate_share() * pump * PPM;
    let mut findings = rules
        .judge(&Case {
            class: ask.class,
            law: Law::Injected,
            skin_on: ask.skin_on,
            no_cure: cure.is_none(),
            nitrite: Band::exactly(nitrite_ppm),
            nitrate: Band::exactly(nitrate_ppm),
        })
        .map_err(|e| vec![e])?;
    findings.extend(unusual(pump, nitrite_ppm));
    Ok(InjectionAnswer {
        pump_fraction: pump,
        injected_g,
        nitrite_ppm,
        nitrate_ppm,
        salt_fraction: brine.all_salt() / brine.mass() * pump,
        findings,
    })
}

/// Less or more in the meat than anybody means to pump.
pub(crate) fn unusual(pump: f64, nitrite_ppm: f64) -> Option<Finding> {
    let (low, high) = USUAL;
    let (words, remedy) = if pump < low {
        (
            "So little brine leaves uncured places between the needle's ways.",
            "Inject once more, every 25 to 40 mm and along the bone, and weigh again.",
        )
    } else if pump > high {
        (
            "So much brine does not stay in the meat, and cures more than was meant.",
            "Let it drain, weigh it again, and go by that weight.",
        )
    } else {
        return None;
    };
    Some(
        Finding::new(Code::PumpUnusual, Severity::Caution, words)
            .saw(format!(
                "{}, {}",
                show::share(Fraction(pump)),
                ppm(nitrite_ppm)
            ))
            .wants("8 to 12 % of the meat")
            .remedy(remedy),
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cure::testing;
    use proptest::prelude::*;
    use serde_json::{Value, json};

    fn pumped(edit: &Value) -> Result<InjectionAnswer, Vec<FieldError>> {
        let mut base = json!({
            "meat_g": 4_000.0, "water_g": 3_000.0, "salt_g": 300.0, "sugar_g": 100.0, "cure_g": 80.0, "cure": "cure1", "class": "cooked",
        });
        let fields = base.as_object_mut().unwrap();
        fields.extend(edit.as_object().unwrap().clone());
        injection(
            &serde_json::from_value(base).unwrap(),
            &Catalogue::shipped(),
        )
    }

    #[test]
    fn worked_cases_hold() {
        testing::hold("injection", |request| {
            let ask: InjectionAsk = serde_json::from_value(request).unwrap();
            serde_json::to_value(injection(&ask, &Catalogue::shipped()).unwrap()).unwrap()
        });
    }

    #[test]
    fn a_pump_is_a_wish_or_a_weight_and_not_more_than_was_mixed() {
        #[rustfmt::skip]
        let cases = [
            (json!({}), "pump_fraction"), (json!({"pump_fraction": 0.1, "after_g": 4_400}), "pump_fraction"),
            (json!({"pump_fraction": 0}), "pump_fraction"), (json!({"pump_fraction": -0.1}), "pump_fraction"),
            (json!({"pump_fraction": 1.1}), "pump_fraction"), (json!({"pump_fraction": 0.9}), "pump_fraction"),
            (json!({"after_g": 4_000}), "after_g"), (json!({"after_g": 3_900}), "after_g"), (json!({"after_g": 8_000}), "after_g"),
            (json!({"pump_fraction": 0.1, "water_g": 0}), "water_g"), (json!({"pump_fraction": 0.1, "cure": "none"}), "cure_g"),
            (json!({"pump_fraction": 0.1, "class": "sausage_dried"}), "class"),
        ];
        for (edit, field) in cases {
            let errors = pumped(&edit).unwrap_err();
            assert!(
                errors.iter().any(|e| e.field == field),
                "{edit}: {errors:?}"
            );
        }
    }

    #[test]
    fn too_little_and_too_much_are_said() {
        #[rustfmt::skip]
        let cases = [
            (json!({"pump_fraction": 0.1}),  vec![]),
            (json!({"pump_fraction": 0.04}), vec![Code::NitriteBelowFloor, Code::PumpUnusual]),
            (json!({"pump_fraction": 0.25}), vec![Code::NitriteOverLimit, Code::PumpUnusual]),
            (json!({"pump_fraction": 0.1, "class": "fry"}), vec![Code::NitriteOverLimit]),
            (json!({"pump_fraction": 0.1, "class": "fry", "cure": "cure2"}), vec![Code::NitriteOverLimit, Code::NitrateInFried]),
        ];
        for (edit, want) in cases {
            let found = pumped(&edit).unwrap().findings;
            let codes: Vec<_> = found.iter().map(|f| f.code).collect();
            assert_eq!(codes, want, "{edit}");
        }
    }

    proptest! {
        #[test]
        fn the_real_pump_back_to_the_wished_one_gives_the_wished_dose(
            meat in 500.0..15_000.0_f64, pump in 0.02..0.2_f64, cure in 0.0..150.0_f64,
        ) {
            let brine = json!({"meat_g": meat, "water_g": 4_000.0, "cure_g": cure});
            let with = |field: &str, value: f64| {
                let mut edit = brine.clone();
                edit[field] = json!(value);
                pumped(&edit).unwrap()
            };
            let wished = with("pump_fraction", pump);
            let weighed = with("after_g", meat + wished.injected_g);
            prop_assert!((weighed.nitrite_ppm - wished.nitrite_ppm).abs() < 1e-6 * (1.0 + wished.nitrite_ppm));
            prop_assert!((weighed.salt_fraction - wished.salt_fraction).abs() < 1e-9);
            // Everything that is dissolved goes in by the same share of the brine.
            let part = wished.injected_g / (4_000.0 + 300.0 + 100.0 + cure);
            prop_assert!((wished.nitrite_ppm / PPM * meat - cure * 0.0625 * part).abs() < 1e-9 * (1.0 + cure));
        }
    }
}
