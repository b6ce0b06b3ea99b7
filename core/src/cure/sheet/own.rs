//! What is different from the build's dose this time, as it was typed.

use crate::catalogue::cures::{CureAsk, Role};
use crate::catalogue::dosing::{BuildDose, DoseField, DoseUnit, Seasoning, Spooned};
use crate::catalogue::{Catalogue, Counted};
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::cure::spoons::weigh;
use crate::dose::OwnSaid;
use crate::units::read::{self, Rate};
use crate::units::show::{self, trim};
use crate::units::{Amount, Fraction, GPerKg, Grams, Millimetres, PPM, Ppm, Units};
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
    /// The jar of a blend that was put on by look: what is gone from it stuck.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub jar: Option<Jar>,
    /// Which salt is in the spoon, where salt is given by the spoon: its word in the table of spoons.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub salt_kind: Option<String>,
    /// The numbers of the way, by their word.
    #[serde(flatten)]
    #[cfg_attr(feature = "openapi", schema(value_type = std::collections::HashMap<String, serde_json::Value>))]
    pub numbers: BTreeMap<String, Option<Amount>>,
}

/// A jar on the scale before something was taken out of it, and after, as typed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Jar {
    /// Before.
    pub before: String,
    /// After.
    pub after: String,
}

impl Jar {
    /// What is gone from it.
    ///
    /// # Errors
    /// The field that cannot be read, or a jar that lost nothing.
    pub fn gone(&self, units: Units) -> Result<Grams, FieldError> {
        let read = |text: &str, field: &str| {
            read::mass(text, units.mass).map_err(|e| FieldError::new(field, e.to_string()))
        };
        let (before, after) = (read(&self.before, "before")?, read(&self.after, "after")?);
        if after.0 >= before.0 {
            return Err(FieldError::new(
                "after",
                "The jar weighs no less than before, so nothing is gone from it. Type the weight before, and the smaller one after.",
            ));
        }
        Ok(before - after)
    }

    fn label(&self) -> String {
        format!("{} less {}", self.before.trim(), self.after.trim())
    }
}

/// A sugar, spice or liquid that is changed, added or left out this time.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OwnAddition {
    /// What it is called; one of the build's is changed by its own name.
    pub name: String,
    /// So much on a kilogram of meat, as typed or in g/kg, or a count: `40 peppercorns`, `a pinch`; none leaves it out.
    #[serde(default)]
    pub amount: Option<Amount>,
    /// The salt in it, for sauces and pastes: from 0 to 1, or as typed.
    #[serde(default)]
    pub salt_fraction: Option<Amount>,
    /// What of it is what it is called, for an accelerator that is sold diluted: from 0 to 1, or as typed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub purity: Option<Amount>,
    /// Its jar, where it went on by look: in the place of an amount.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub jar: Option<Jar>,
    /// True for what goes on last: it is weighed for each piece, and is not in the bowl that is shared out. As the product says
    /// when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub last: Option<bool>,
}

/// The dose of a build as it is to be this time.
pub(super) struct ThisTime {
    pub dose: BuildDose,
    pub said: Vec<OwnSaid>,
    pub findings: Vec<Finding>,
    /// What was weighed by the difference of its jar: its mass is as it is.
    pub by_jar: Vec<String>,
}

/// What is known of the moment in which amounts are read.
pub(super) struct Reads<'a> {
    /// All the meat of the dose.
    pub meat: Grams,
    pub units: Units,
    pub catalogue: &'a Catalogue,
}

/// Reads what was typed over the build's own dose.
pub(super) fn this_time(
    own: &OwnDose,
    dose: &BuildDose,
    fields: &[DoseField],
    reads: &Reads<'_>,
) -> Result<ThisTime, Vec<FieldError>> {
    let Reads {
        units, catalogue, ..
    } = *reads;
    let mut time = ThisTime {
        dose: dose.clone(),
        said: Vec::new(),
        findings: Vec::new(),
        by_jar: Vec::new(),
    };
    let mut wrong = Vec::new();
    if let Some(jar) = &own.jar
        && let Err(error) = time.stuck(jar, fields, reads)
    {
        wrong.push(error);
    }
    let salt = match own.salt_kind.as_deref().filter(|k| !k.trim().is_empty()) {
        None => "table salt",
        Some(key) => match salt_named(key, catalogue) {
            Ok(name) => name,
            Err(error) => {
                wrong.push(error);
                ""
            }
        },
    };
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
        let spooned = InSpoon {
            name: match field.spoon {
                Spooned::Cure => &cure_name(own, dose, catalogue),
                Spooned::Salt => salt,
                Spooned::Sugar => "granulated sugar",
                Spooned::Nothing => "",
            },
            catalogue,
        };
        let read = match as_nitrite(amount, field, own, dose, catalogue) {
            Some(read) => read.map(|rate| (rate, None)),
            None => read_number(amount, field.unit, units, &spooned),
        };
        match read {
            Ok((value, finding)) => {
                time.dose.numbers.insert(name.clone(), value);
                time.findings.extend(finding);
                time.said.push(OwnSaid {
                    label: field.label.into(),
                    said: label(amount, value, field.unit, units),
                });
            }
            Err(message) => wrong.push(FieldError::new(at, message)),
        }
    }
    for (i, addition) in own.additions.iter().enumerate() {
        if let Err(error) = add(&mut time, addition, i, reads) {
            wrong.push(error);
        }
    }
    if wrong.is_empty() {
        Ok(time)
    } else {
        Err(wrong)
    }
}

impl ThisTime {
    /// A blend that was put on by look: its rate is what is gone from the jar, over the meat.
    fn stuck(
        &mut self,
        jar: &Jar,
        fields: &[DoseField],
        reads: &Reads<'_>,
    ) -> Result<(), FieldError> {
        let Some(field) = fields.iter().find(|f| f.name == BY_LABEL) else {
            return Err(FieldError::new(
                "own.jar",
                "Only a blend by its label is put on by look. Weigh this dose by its numbers.",
            ));
        };
        let gone = jar.gone(reads.units).map_err(|e| e.under("own.jar"))?;
        self.dose
            .numbers
            .insert(field.name.into(), gone.0 / reads.meat.0 * 1_000.0);
        self.by_jar.push(String::new());
        self.said.push(OwnSaid {
            label: "What stuck, by its jar".into(),
            said: jar.label(),
        });
        Ok(())
    }
}

/// The number of a way whose blend may be put on by look.
const BY_LABEL: &str = "dose_g_per_kg";

/// The salt that a word of the table of spoons means.
fn salt_named<'a>(key: &str, catalogue: &'a Catalogue) -> Result<&'a str, FieldError> {
    let salts = || catalogue.spoons.iter().filter(|s| s.key.contains("salt"));
    let found = salts().find(|s| s.key == key.trim());
    found
        .and_then(|s| s.names.first())
        .map(String::as_str)
        .ok_or_else(|| {
            let keys: Vec<_> = salts().map(|s| s.key.as_str()).collect();
            FieldError::new(
                "own.salt_kind",
                format!(
                    "“{key}” is no salt known here. Use one of {}.",
                    keys.join(", ")
                ),
            )
        })
}

/// A rate of curing salt that was typed as the nitrite it is to bring: `156 ppm` of nitrite are 2.5 g/kg of cure #1.
fn as_nitrite(
    amount: &Amount,
    field: &DoseField,
    own: &OwnDose,
    dose: &BuildDose,
    catalogue: &Catalogue,
) -> Option<Result<f64, String>> {
    let Amount::Text(text) = amount else {
        return None;
    };
    let is_ppm = text.trim().to_lowercase().ends_with("ppm");
    if !is_ppm || field.unit != DoseUnit::Rate || field.spoon != Spooned::Cure {
        return None;
    }
    let cure = own
        .cure
        .clone()
        .unwrap_or_else(|| CureAsk::Named(dose.cure.clone()));
    let share = cure.choice(catalogue).ok()?.made_of.nitrite;
    Some(match read::content(text) {
        Ok(_) if share <= 0.0 => {
            Err("This cure holds no nitrite; give its rate by weight, such as 2.5 g/kg.".into())
        }
        Ok(ppm) => Ok(ppm.0 / PPM / share * 1_000.0),
        Err(error) => Err(error.to_string()),
    })
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
    reads: &Reads<'_>,
) -> Result<(), FieldError> {
    let Reads {
        units, catalogue, ..
    } = *reads;
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
    let amount = addition.amount.as_ref().filter(|a| !a.is_empty());
    if amount.is_some() && addition.jar.is_some() {
        return Err(FieldError::new(
            at("amount"),
            format!(
                "Say how much {name} on a kilogram, or what its jar weighed before and after: one of the two."
            ),
        ));
    }
    if amount.is_none() && addition.jar.is_none() {
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
    }
    let role = catalogue.role_of(name);
    if matches!(role, Role::CuringSalt) || catalogue.is_called_a_cure(name) {
        return Err(FieldError::new(
            at("name"),
            format!(
                "{name} is a curing salt. Change the dose's own one instead: two in one dose are never right. For one with a label of its own, type what the label says of its nitrite and nitrate; without that nothing can be worked out."
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
    let spooned = InSpoon { name, catalogue };
    let mut counted = None;
    let said = match amount {
        Some(Amount::Text(text)) if role != Role::Accelerator => {
            Counted::read(text, name, reads.meat, catalogue)
        }
        Some(_) | None => None,
    };
    let (g_per_kg, finding, typed) = match (amount, &addition.jar) {
        (Some(amount), _) if said.is_some() => {
            let count = said
                .transpose()
                .map_err(|message| FieldError::new(at("amount"), message))?;
            let rate = count.as_ref().map_or(0.0, Counted::g_per_kg);
            counted = count;
            (rate, None, label(amount, rate, DoseUnit::Rate, units))
        }
        (Some(amount), _) => {
            let (rate, finding) = read_number(amount, DoseUnit::Rate, units, &spooned)
                .map_err(|message| FieldError::new(at("amount"), message))?;
            (rate, finding, label(amount, rate, DoseUnit::Rate, units))
        }
        (None, Some(jar)) => {
            let gone = jar.gone(units).map_err(|e| e.under(&at("jar")))?;
            time.by_jar.push(name.into());
            (gone.0 / reads.meat.0 * 1_000.0, None, jar.label())
        }
        (None, None) => return Ok(()),
    };
    let share =
        |amount: &Option<Amount>, field: &str| match amount.as_ref().filter(|a| !a.is_empty()) {
            None => Ok(None),
            Some(amount) => read_number(amount, DoseUnit::Percent, units, &spooned)
                .map(|(share, _)| Some(share))
                .map_err(|message| FieldError::new(at(field), message)),
        };
    let salt_fraction = share(&addition.salt_fraction, "salt_fraction")?;
    let purity = share(&addition.purity, "purity")?;
    time.findings.extend(finding);
    time.said.push(OwnSaid {
        label: name.into(),
        said: typed,
    });
    match known {
        Some(known) => {
            list[known].g_per_kg = g_per_kg;
            list[known].salt_fraction = salt_fraction.or(list[known].salt_fraction);
            list[known].purity = purity.or(list[known].purity);
            list[known].counted = counted;
            list[known].last = addition.last.unwrap_or(list[known].last);
        }
        None => list.push(Seasoning {
            name: name.into(),
            g_per_kg,
            // What its label would say, where nobody typed it.
            salt_fraction: salt_fraction
                .or_else(|| catalogue.brings(name).map(|b| b.salt).filter(|s| *s > 0.0)),
            role: None,
            purity,
            counted,
            last: addition.last.unwrap_or(false),
        }),
    }
    Ok(())
}

/// What is in the spoon, where a rate was given by the spoon.
struct InSpoon<'a> {
    name: &'a str,
    catalogue: &'a Catalogue,
}

/// A number in the unit of its field, and what to know about how it was said.
fn read_number(
    amount: &Amount,
    unit: DoseUnit,
    units: Units,
    spooned: &InSpoon<'_>,
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
        DoseUnit::Hours => plain(read::hours(text)),
        DoseUnit::Length => plain(read::length(text, units.length).map(Millimetres::get)),
        DoseUnit::Tick => match text.trim().to_lowercase().as_str() {
            "yes" | "true" | "1" => Ok((1.0, None)),
            "no" | "false" | "0" => Ok((0.0, None)),
            other => Err(format!("“{other}” is neither yes nor no.")),
        },
        DoseUnit::Strength => match read::strength(text, units).map_err(|e| e.to_string())? {
            Rate::Weight(rate) => Ok((rate.get(), None)),
            Rate::Volume(ml_per_l) => by_the_spoon(text, ml_per_l, "g/l", spooned),
        },
        DoseUnit::Percent => plain(read::percent(text).map(Fraction::get)),
        DoseUnit::Content => plain(read::content(text).map(Ppm::get)),
        DoseUnit::Water => plain(read::water(text, units).map(Grams::get)),
        DoseUnit::Times => plain(read::share(text).map(Fraction::get)),
        DoseUnit::Rate => match read::rate(text, units).map_err(|e| e.to_string())? {
            Rate::Weight(rate) => Ok((rate.get(), None)),
            Rate::Volume(ml_per_kg) => by_the_spoon(text, ml_per_kg, "g/kg", spooned),
        },
    }
}

fn by_the_spoon(
    text: &str,
    millilitres: f64,
    unit: &str,
    spooned: &InSpoon<'_>,
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
    let band = weigh(spoon, millilitres);
    let finding = Finding::new(
        Code::BySpoon,
        Severity::Caution,
        format!(
            "A spoon of {} is no scale: makers and hands differ.",
            spooned.name
        ),
    )
    .saw(format!(
        "“{}”: {} {unit}, anything from {} to {}",
        text.trim(),
        trim(band.nominal, 1),
        trim(band.low, 1),
        trim(band.high, 1)
    ))
    .remedy("Weigh one level spoon of your own, and type the rate by weight.");
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
        DoseUnit::Strength => format!("{} g/l", trim(value, 1)),
        DoseUnit::Hours => format!("{} h", trim(value, 1)),
        DoseUnit::Length => show::length(Millimetres(value), units.length),
        DoseUnit::Tick => if value > 0.0 { "yes" } else { "no" }.into(),
    }
}

fn label(amount: &Amount, value: f64, unit: DoseUnit, units: Units) -> String {
    match amount {
        Amount::Text(text) => text.trim().into(),
        Amount::Number(_) => shown(value, unit, units),
    }
}
