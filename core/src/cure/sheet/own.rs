//! What is different from the build's dose this time, as it was typed.

use crate::catalogue::Catalogue;
use crate::catalogue::dosing::{BuildDose, DoseField, DoseUnit, Seasoning};
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::cure::spoons::weigh;
use crate::cure::{CureAsk, Role};
use crate::units::read::{self, Rate};
use crate::units::show::{self, trim};
use crate::units::{Amount, Fraction, GPerKg, Grams, Ppm, Units};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// What the person changes about the build's dose this time.
///
/// Beside `cure` and `additions` it takes the numbers of the build's way by their word, each as
/// typed or as a plain number: `cure_g_per_kg`, `salt_fraction` and so on.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OwnDose {
    /// Another curing salt: a word of the catalogue, or what its label says it is made of.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cure: Option<CureAsk>,
    /// Sugar, spices and liquids that are changed, added or left out.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub additions: Vec<OwnAddition>,
    /// The numbers of the way, by their word.
    #[serde(flatten)]
    #[cfg_attr(feature = "openapi", schema(value_type = std::collections::HashMap<String, serde_json::Value>))]
    pub numbers: BTreeMap<String, Option<Amount>>,
}

/// A sugar, spice or liquid that is changed, added or left out this time.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OwnAddition {
    /// What it is called; one of the build's is changed by its own name.
    pub name: String,
    /// So much on a kilogram of meat, as typed or in g/kg; none leaves it out.
    #[serde(default)]
    pub amount: Option<Amount>,
    /// The salt in it, for sauces and pastes: from 0 to 1, or as typed.
    #[serde(default)]
    pub salt_fraction: Option<Amount>,
}

/// A number that was changed, kept with the dose.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct OwnSaid {
    /// What it is called.
    pub label: String,
    /// As it was typed.
    pub said: String,
}

/// The dose of a build as it is to be this time.
pub(super) struct ThisTime {
    pub dose: BuildDose,
    pub said: Vec<OwnSaid>,
    pub findings: Vec<Finding>,
}

/// Reads what was typed over the build's own dose.
pub(super) fn this_time(
    own: &OwnDose,
    dose: &BuildDose,
    fields: &[DoseField],
    units: Units,
    catalogue: &Catalogue,
) -> Result<ThisTime, Vec<FieldError>> {
    let mut time = ThisTime {
        dose: dose.clone(),
        said: Vec::new(),
        findings: Vec::new(),
    };
    let mut wrong = Vec::new();
    for (name, amount) in &own.numbers {
        let at = format!("own.{name}");
        let Some(amount) = amount.as_ref().filter(|a| !a.is_empty()) else {
            continue;
        };
        let Some(field) = fields.iter().find(|f| f.own && f.name == name) else {
            let names: Vec<_> = fields.iter().filter(|f| f.own).map(|f| f.name).collect();
            wrong.push(FieldError::new(
                at,
                format!(
                    "This product is not dosed by “{name}”. Use one of {}.",
                    names.join(", ")
                ),
            ));
            continue;
        };
        let spooned = Spooned {
            name: match field.unit {
                DoseUnit::Rate => &cure_name(own, dose, catalogue),
                DoseUnit::Percent | DoseUnit::Content | DoseUnit::Water | DoseUnit::Times => "",
            },
            catalogue,
        };
        match read_number(amount, field.unit, units, &spooned) {
            Ok((value, finding)) => {
                time.dose.numbers.insert(name.clone(), value);
                time.findings.extend(finding);
                time.said.push(OwnSaid {
                    label: field.label.into(),
                    said: said(amount, value, field.unit, units),
                });
            }
            Err(message) => wrong.push(FieldError::new(at, message)),
        }
    }
    for (i, addition) in own.additions.iter().enumerate() {
        if let Err(error) = add(&mut time, addition, i, units, catalogue) {
            wrong.push(error);
        }
    }
    if wrong.is_empty() {
        Ok(time)
    } else {
        Err(wrong)
    }
}

/// What the curing salt of this time is called.
fn cure_name(own: &OwnDose, dose: &BuildDose, catalogue: &Catalogue) -> String {
    let key = match &own.cure {
        Some(CureAsk::Named(key)) => key,
        Some(CureAsk::Made(_)) | None => &dose.cure,
    };
    catalogue
        .cure(key)
        .map_or_else(String::new, |c| c.name.clone())
}

fn add(
    time: &mut ThisTime,
    addition: &OwnAddition,
    i: usize,
    units: Units,
    catalogue: &Catalogue,
) -> Result<(), FieldError> {
    let at = |field: &str| format!("own.additions[{i}].{field}");
    let name = addition.name.trim();
    if name.is_empty() {
        return Err(FieldError::new(
            at("name"),
            "Name what goes in, such as black pepper.",
        ));
    }
    let list = &mut time.dose.additions;
    let known = list.iter().position(|s| s.name.eq_ignore_ascii_case(name));
    let Some(amount) = addition.amount.as_ref().filter(|a| !a.is_empty()) else {
        return match known {
            Some(known) => {
                let gone = list.remove(known);
                time.said.push(OwnSaid {
                    label: gone.name,
                    said: "left out".into(),
                });
                Ok(())
            }
            None => Err(FieldError::new(
                at("amount"),
                format!("Say how much {name} on a kilogram, such as 3 g/kg."),
            )),
        };
    };
    let role = catalogue.role_of(name);
    if matches!(role, Role::CuringSalt) || catalogue.is_called_a_cure(name) {
        return Err(FieldError::new(
            at("name"),
            format!(
                "{name} is a curing salt. Change the dose's own one instead: two in one dose are never right."
            ),
        )
        .code("cure_as_spice"));
    }
    if matches!(role, Role::Salt) {
        return Err(FieldError::new(
            at("name"),
            "Salt has a field of its own: change the salt in all.",
        ));
    }
    let spooned = Spooned { name, catalogue };
    let (g_per_kg, finding) = read_number(amount, DoseUnit::Rate, units, &spooned)
        .map_err(|message| FieldError::new(at("amount"), message))?;
    let salt_fraction = match addition.salt_fraction.as_ref().filter(|a| !a.is_empty()) {
        None => None,
        Some(amount) => Some(
            read_number(amount, DoseUnit::Percent, units, &spooned)
                .map_err(|message| FieldError::new(at("salt_fraction"), message))?
                .0,
        ),
    };
    time.findings.extend(finding);
    time.said.push(OwnSaid {
        label: name.into(),
        said: said(amount, g_per_kg, DoseUnit::Rate, units),
    });
    match known {
        Some(known) => {
            list[known].g_per_kg = g_per_kg;
            list[known].salt_fraction = salt_fraction.or(list[known].salt_fraction);
        }
        None => list.push(Seasoning {
            name: name.into(),
            g_per_kg,
            salt_fraction,
            role: None,
        }),
    }
    Ok(())
}

/// What is in the spoon, where a rate was given by the spoon.
struct Spooned<'a> {
    name: &'a str,
    catalogue: &'a Catalogue,
}

/// A number in the unit of its field, and what to know about how it was said.
fn read_number(
    amount: &Amount,
    unit: DoseUnit,
    units: Units,
    spooned: &Spooned<'_>,
) -> Result<(f64, Option<Finding>), String> {
    let text = match amount {
        Amount::Number(n) => {
            let measure = unit.measure();
            if measure.holds(*n) {
                return Ok((*n, None));
            }
            return Err(format!(
                "Give a number from {} to {}.",
                measure.least(),
                measure.most()
            ));
        }
        Amount::Text(text) => text,
    };
    let plain = |value: Result<f64, read::ReadError>| match value {
        Ok(value) => Ok((value, None)),
        Err(error) => Err(error.to_string()),
    };
    match unit {
        DoseUnit::Percent => plain(read::percent(text).map(Fraction::get)),
        DoseUnit::Content => plain(read::content(text).map(Ppm::get)),
        DoseUnit::Water => plain(read::water(text, units.mass).map(Grams::get)),
        DoseUnit::Times => plain(read::share(text).map(Fraction::get)),
        DoseUnit::Rate => match read::rate(text, units.mass).map_err(|e| e.to_string())? {
            Rate::Weight(rate) => Ok((rate.get(), None)),
            Rate::Volume(ml_per_kg) => by_the_spoon(text, ml_per_kg, spooned),
        },
    }
}

fn by_the_spoon(
    text: &str,
    ml_per_kg: f64,
    spooned: &Spooned<'_>,
) -> Result<(f64, Option<Finding>), String> {
    let table = &spooned.catalogue.spoons;
    let Some(spoon) = table.iter().find(|s| s.is_called(spooned.name)) else {
        return Err(format!(
            "Nobody here has weighed a spoon of {}. Weigh one, and type the rate by weight, such as 3 g/kg.",
            if spooned.name.is_empty() {
                "that"
            } else {
                spooned.name
            }
        ));
    };
    let band = weigh(spoon, ml_per_kg);
    let finding = Finding::new(
        Code::BySpoon,
        Severity::Caution,
        format!(
            "A spoon of {} is no scale: makers and hands differ.",
            spooned.name
        ),
    )
    .saw(format!(
        "“{}”: {} g/kg, anything from {} to {}",
        text.trim(),
        trim(band.nominal, 1),
        trim(band.low, 1),
        trim(band.high, 1)
    ))
    .way_out("Weigh one level spoon of your own, and type the rate by weight.");
    Ok((band.nominal, Some(finding)))
}

/// As a household writes it.
pub(super) fn shown(value: f64, unit: DoseUnit, units: Units) -> String {
    match unit {
        DoseUnit::Rate => show::rate(GPerKg(value)),
        DoseUnit::Percent => show::share(Fraction(value)),
        DoseUnit::Content => show::content(Ppm(value)),
        DoseUnit::Water => show::mass(Grams(value), units.mass),
        DoseUnit::Times => trim(value, 2),
    }
}

fn said(amount: &Amount, value: f64, unit: DoseUnit, units: Units) -> String {
    match amount {
        Amount::Text(text) => text.trim().into(),
        Amount::Number(_) => shown(value, unit, units),
    }
}
