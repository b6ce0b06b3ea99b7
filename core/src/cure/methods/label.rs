//! A pre-blended cure at the rate of its label: so many grams of the blend on a kilogram, and
//! nothing else that cures. The label's composition says how much nitrite, nitrate and salt that is.

use super::{DoseField, DoseUnit, Dosing, Vessel, Waits};
use crate::catalogue::Catalogue;
use crate::catalogue::cures::{Composition, CureAsk, CureChoice};
use crate::catalogue::dosing::{BuildDose, Spooned};
use crate::caution::{Checks, Code, FieldError, Finding};
use crate::cure::dry::ppm_in;
use crate::cure::sheet::rub::{Measure, measured};
use crate::cure::sheet::{Setting, Sheet, Table};
use crate::cure::time::Method;
use crate::dose::limits::{Case, Class, Form, Law};
use crate::units::{Band, bounds};
use serde::{Deserialize, Serialize};

const DOSE: DoseField = DoseField {
    name: "dose_g_per_kg",
    label: "The label's dose",
    unit: DoseUnit::Rate,
    hint: "As the label says it: 17 g/kg, 1 oz per 4 lb, 1 tbsp per lb.",
    spoon: Spooned::Cure,
    needed: true,
    own: true,
};

const fn blend(name: &'static str, label: &'static str) -> DoseField {
    DoseField {
        name,
        label,
        unit: DoseUnit::Percent,
        hint: "Percent by the bag in hand; empty: as it is usually sold.",
        spoon: Spooned::Nothing,
        needed: false,
        own: true,
    }
}

const NITRITE: DoseField = blend("blend_nitrite", "Nitrite in the blend");

const NITRATE: DoseField = blend("blend_nitrate", "Nitrate in the blend");

const SALT: DoseField = blend("blend_salt", "Salt in the blend");

const SUGAR: DoseField = blend("blend_sugar", "Sugar in the blend");

pub(super) const DOSING: Dosing = Dosing {
    name: "by the label",
    fields: &[DOSE, NITRITE, NITRATE, SALT, SUGAR],
    form: None,
    law: Law::without_brine,
    days_by: Method::Dry,
    vessel: |form| match form {
        Form::Whole => Vessel::Bag,
        Form::Ground => Vessel::Mixed,
    },
    // It is one mix already; what it is weighed on decides.
    mixes: false,
    waits: Waits::Slack,
    soak_min: Some([30, 120]),
    weigh,
};

fn weigh(setting: &Setting<'_>, table: &Table<'_>) -> Result<Sheet, Vec<FieldError>> {
    let dose = setting.need(&DOSE)?;
    let cure = as_on_the_bag(&setting.dose, &setting.cure)?;
    let measure = Measure {
        cure: dose,
        // The blend's salt is all there is, beside what sauces bring.
        salt: dose * cure.made_of.salt + setting.dose.salt_in_sauces().0,
    };
    let setting = Setting {
        dose: setting.dose.clone(),
        cure,
        by_jar: setting.by_jar.clone(),
        school: setting.school.clone(),
        ..*setting
    };
    let mut sheet = measured(&setting, table, &measure)?;
    for part in &mut sheet.pieces {
        part.findings.iter_mut().for_each(no_soak_mends_it);
    }
    Ok(sheet)
}

/// The blend with what its own label says of it.
fn as_on_the_bag(dose: &BuildDose, cure: &CureChoice) -> Result<CureChoice, Vec<FieldError>> {
    let said = [NITRITE, NITRATE, SALT, SUGAR].map(|f| dose.number(&f));
    let usual = &cure.made_of;
    let [nitrite, nitrate, salt, sugar] = [usual.nitrite, usual.nitrate, usual.salt, usual.sugar];
    let made_of = Composition {
        nitrite: said[0].unwrap_or(nitrite),
        nitrate: said[1].unwrap_or(nitrate),
        salt: said[2].unwrap_or(salt),
        sugar: said[3].unwrap_or(sugar),
    };
    if made_of.nitrite + made_of.nitrate + made_of.salt + made_of.sugar > 1.0 + 1e-9 {
        return Err(vec![FieldError::new(
            SALT.name,
            "The parts of the blend come to more than all of it. Look at its label again: they add up to 100 % at most.",
        )]);
    }
    Ok(CureChoice {
        key: cure.key.clone().filter(|_| made_of == *usual),
        name: cure.name.clone(),
        made_of,
    })
}

/// What a blend brings too much of stays in.
fn no_soak_mends_it(finding: &mut Finding) {
    if matches!(
        finding.code,
        Code::NitriteOverLimit | Code::NitrateOverLimit
    ) {
        finding.remedy = Some(
            "Weigh out less of the blend, or weigh the meat again: soaking does not take it out."
                .into(),
        );
    }
}

/// A blend at its label's rate, as the HTTP contract spells it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LabelCureAsk {
    /// Green weight of the meat (g).
    pub meat_g: f64,
    /// The blend.
    pub cure: CureAsk,
    /// The label's dose (g/kg).
    pub dose_g_per_kg: f64,
    /// What becomes of the piece.
    pub class: Class,
    /// One lump or a mix.
    #[serde(default)]
    pub form: Form,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// The rules to judge by.
    #[serde(default = "crate::catalogue::rules::default_rule_set")]
    pub rule_set: String,
}

/// What that comes to.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LabelCureAnswer {
    /// The blend to weigh (g).
    pub dose_g: f64,
    /// Nitrite (ppm).
    pub nitrite_ppm: f64,
    /// Nitrate (ppm).
    pub nitrate_ppm: f64,
    /// Salt, as a share of the meat.
    pub salt_fraction: f64,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// Nitrite, nitrate and salt of a blend at its label's rate.
///
/// # Example
/// ```
/// use manifest_core::catalogue::Catalogue;
/// use manifest_core::cure::methods::label::{LabelCureAsk, label_cure};
///
/// let ask: LabelCureAsk = serde_json::from_value(serde_json::json!({"meat_g": 1000, "cure": {"nitrite": 0.005, "salt": 0.8}, "dose_g_per_kg": 20, "class": "cooked"}))?;
/// let got = label_cure(&ask, &Catalogue::shipped()).unwrap();
/// assert!((got.dose_g - 20.0).abs() < 1e-9);
/// assert!((got.nitrite_ppm - 100.0).abs() < 1e-9);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// Every field that cannot be right.
///
/// # Source
/// Each is the dose times its share of the blend; limits as for a measured dry cure.
pub fn label_cure(
    ask: &LabelCureAsk,
    catalogue: &Catalogue,
) -> Result<LabelCureAnswer, Vec<FieldError>> {
    let cure = ask.cure.choice(catalogue).map_err(|e| vec![e])?;
    let mut checks = Checks::default();
    checks.above_zero(bounds::Measure::Mass, ask.meat_g, "meat_g", "2010");
    checks.zero_or_more(
        bounds::Measure::Rate,
        ask.dose_g_per_kg,
        "dose_g_per_kg",
        "17",
    );
    let law = Law::without_brine(ask.class.form(ask.form));
    let rules = catalogue.rules_with_limit(&ask.rule_set, ask.class, law, ask.skin_on);
    checks.fine(&rules);
    checks.done()?;
    let share = ask.dose_g_per_kg / 1_000.0;
    let (nitrite_ppm, nitrate_ppm) = (
        ppm_in(1.0, share, cure.made_of.nitrite),
        ppm_in(1.0, share, cure.made_of.nitrate),
    );
    let mut findings = rules
        .and_then(|rules| {
            rules.judge(&Case {
                class: ask.class,
                law,
                skin_on: ask.skin_on,
                no_cure: cure.is_none(),
                nitrite: Band::exactly(nitrite_ppm),
                nitrate: Band::exactly(nitrate_ppm),
            })
        })
        .map_err(|e| vec![e])?;
    findings.iter_mut().for_each(no_soak_mends_it);
    Ok(LabelCureAnswer {
        dose_g: ask.meat_g * share,
        nitrite_ppm,
        nitrate_ppm,
        salt_fraction: share * cure.made_of.salt,
        findings,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::caution::Severity;
    use crate::cure::testing;
    use serde_json::{Value, json};

    fn asked(edit: Value) -> Result<LabelCureAnswer, Vec<FieldError>> {
        let mut base = json!({
            "meat_g": 2_000.0, "cure": "preblend", "dose_g_per_kg": 17.0, "class": "cooked",
        });
        base.as_object_mut()
            .unwrap()
            .extend(edit.as_object().unwrap().clone());
        label_cure(
            &serde_json::from_value(base).unwrap(),
            &Catalogue::shipped(),
        )
    }

    #[test]
    fn worked_cases_hold() {
        testing::hold("label-cure", |request| {
            let ask: LabelCureAsk = serde_json::from_value(request).unwrap();
            serde_json::to_value(label_cure(&ask, &Catalogue::shipped()).unwrap()).unwrap()
        });
    }

    #[test]
    fn a_blend_is_judged_by_what_it_holds() {
        use Severity::{Caution, Stop};
        #[rustfmt::skip]
        let cases: &[(&str, Value, &[(Code, Severity)])] = &[
            // 17 g/kg at 0.5 % is 85 ppm of each: too little for slow smoke, and nitrate it does not need
            ("by its label",  json!({}), &[(Code::NitriteBelowFloor, Caution), (Code::NitrateNotNeeded, Caution)]),
            ("for the pan",   json!({"class": "fry"}), &[(Code::NitriteBelowFloor, Caution), (Code::NitrateInFried, Stop)]),
            ("dried",         json!({"class": "dried", "dose_g_per_kg": 30.0}), &[]),
            ("cure #1 for it", json!({"cure": "cure1"}), &[(Code::NitriteRefused, Stop), (Code::NitriteOverLimit, Stop), (Code::OverHomeCap, Caution)]),
            ("in a mix",      json!({"form": "ground", "dose_g_per_kg": 40.0}), &[(Code::NitriteOverLimit, Stop), (Code::NitrateNotNeeded, Caution)]),
        ];
        for (why, edit, want) in cases {
            let got = asked(edit.clone()).unwrap();
            let codes: Vec<_> = got.findings.iter().map(|f| (f.code, f.severity)).collect();
            assert_eq!(codes, *want, "{why}");
            for over in got
                .findings
                .iter()
                .filter(|f| f.code == Code::NitriteOverLimit)
            {
                assert!(
                    over.remedy
                        .as_ref()
                        .unwrap()
                        .contains("soaking does not take it out")
                );
            }
        }
    }

    #[test]
    fn what_cannot_be_weighed_names_its_field() {
        #[rustfmt::skip]
        let cases = [
            (json!({"meat_g": 0}), "meat_g"),
            (json!({"meat_g": 1e308}), "meat_g"),
            (json!({"dose_g_per_kg": -1}), "dose_g_per_kg"),
            (json!({"dose_g_per_kg": 2_000}), "dose_g_per_kg"),
            (json!({"cure": "pink"}), "cure"),
            (json!({"class": "dried", "form": "ground"}), "form"),
            (json!({"rule_set": "moon"}), "rule_set"),
        ];
        for (edit, field) in cases {
            assert_eq!(asked(edit.clone()).unwrap_err()[0].field, field, "{edit}");
        }
    }
}
