//! The weigh-out sheet: for pieces of one product the numbers to hit on the scale, and the days.

mod own;
pub(crate) mod rub;
mod setting;
pub(crate) mod watch;

pub use own::{OwnAddition, OwnDose, OwnSaid};
pub use setting::Setting;

use super::dose::{Bands, Dose, DoseLine, Judged, bands};
use super::rules::RuleSet;
use super::time::SchoolDays;
use super::{Composition, CureAsk, CureChoice, Role};
use crate::catalogue::Catalogue;
use crate::catalogue::builds::Build;
use crate::catalogue::dosing::{AmountKind, Way};
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::household::Household;
use crate::ids::PieceId;
use crate::piece::Shape;
use crate::units::show::length;
use crate::units::{Band, Fraction, Grams, Milligrams, Millimetres, Typed};
use serde::Serialize;

/// A piece that waits for its dose.
#[derive(Clone, Debug, PartialEq)]
pub struct SheetPiece {
    /// For machines.
    pub id: PieceId,
    /// For people.
    pub tag: String,
    /// Green weight.
    pub meat: Grams,
    /// How it lies.
    pub shape: Shape,
}

/// One ingredient: as computed, and as the scale can show it.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetLine {
    /// What it does in the dose.
    pub role: Role,
    /// The salt in it, for sauces and pastes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub salt_fraction: Option<f64>,
    /// What it is called.
    pub name: String,
    /// Unrounded (g).
    pub exact_g: f64,
    /// The number to hit (g).
    pub shown_g: f64,
    /// How it was worked out, in words.
    pub made_of: String,
}

/// One piece's part of the sheet.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PieceSheet {
    /// For machines.
    pub piece: PieceId,
    /// For people.
    pub tag: String,
    /// Green weight (g).
    pub meat_g: f64,
    /// Greatest thickness (mm).
    pub thickness_mm: Option<f64>,
    /// What to weigh for this piece alone; its share when there is one mix or one brine.
    pub lines: Vec<SheetLine>,
    /// Its share of the one mix, as the scale shows it (g).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub portion_g: Option<f64>,
    /// Nitrite as the scale shows it, and what it may be (ppm).
    pub nitrite: Band,
    /// Nitrate (ppm).
    pub nitrate_ppm: f64,
    /// The most nitrite for it (ppm).
    pub ceiling_ppm: f64,
    /// The least nitrite for slow smoke or hanging (ppm).
    pub floor_ppm: f64,
    /// Whole days in the cure; none without a thickness.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub days: Option<u32>,
    /// The school those days come from.
    pub days_by: String,
    /// Every school that applies.
    pub schools: Vec<SchoolDays>,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// A number of a dose that may be changed this time.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetField {
    /// Its word in `own`.
    pub name: String,
    /// As it is called.
    pub label: String,
    /// How it is typed.
    pub unit: AmountKind,
    /// What to know about it.
    pub hint: String,
    /// As the product says it, in the household's units.
    pub build: Option<String>,
}

/// A sugar, spice or liquid of the product.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetAddition {
    /// What it is called.
    pub name: String,
    /// As the product says it.
    pub build: String,
}

/// The sheet for pieces that are dosed together or one by one.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Sheet {
    /// The build.
    pub build: String,
    /// By which way it is dosed.
    pub method: Way,
    /// The curing salt's word, or `own` for a label's.
    pub cure: String,
    /// As it is called.
    pub cure_name: String,
    /// What it is made of.
    pub cure_made_of: Composition,
    /// True when one mix may be weighed for several pieces.
    pub can_be_mixed: bool,
    /// The numbers of its way that may be changed this time.
    pub fields: Vec<SheetField>,
    /// The sugar, spices and liquids of its product.
    pub additions: Vec<SheetAddition>,
    /// What was changed, as it was typed.
    #[serde(skip)]
    pub changed: Vec<OwnSaid>,
    /// True for one mix, or one brine, over all pieces.
    pub mixed: bool,
    /// What to weigh for all of them together.
    pub lines: Vec<SheetLine>,
    /// All of it together, as the scale shows it (g).
    pub total_g: f64,
    /// Strength of the fresh brine.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub salometer_degrees: Option<f64>,
    /// Each piece.
    pub pieces: Vec<PieceSheet>,
    /// What concerns all of them.
    pub findings: Vec<Finding>,
    /// True when a stop asks for a typed reason before the cure may start.
    pub needs_reason: bool,
    /// True when it may not start at all.
    pub refused: bool,
}

/// Works out the sheet for `pieces`, all of one build, by the build's way of dosing.
///
/// `mixed` weighs one mix for all of them; a brine is always one brine for all.
///
/// # Errors
/// Fields that cannot be right; those of `own` begin with `own.`.
pub fn sheet(
    build: &Build,
    pieces: &[SheetPiece],
    mixed: bool,
    own: &OwnDose,
    home: &Household,
    catalogue: &Catalogue,
) -> Result<Sheet, Vec<FieldError>> {
    let Some(dose) = &build.dose else {
        return Err(vec![FieldError::new(
            "build",
            format!("{} is not cured.", build.name),
        )]);
    };
    if pieces.is_empty() {
        return Err(vec![FieldError::new(
            "pieces",
            "Choose at least one piece.",
        )]);
    }
    let way = build.method.dosing();
    let cure = own
        .cure
        .clone()
        .unwrap_or_else(|| CureAsk::Named(dose.cure.clone()))
        .choice(catalogue)
        .map_err(|e| {
            vec![FieldError {
                field: "own.cure".into(),
                ..e
            }]
        })?;
    let mut time = own::this_time(own, dose, way.fields(), home.units, catalogue)?;
    let rules = catalogue.rule_set(&home.rule_set).map_err(|e| vec![e])?;
    let skin_on = pieces.iter().any(|p| p.shape.skin_on);
    watch::lower(&mut time.dose, own, build, &cure, rules, skin_on);
    let setting = Setting {
        build,
        dose: time.dose,
        cure,
        rules,
        home,
        catalogue,
    };
    let mut found = way
        .weigh(&setting, pieces, mixed)
        .map_err(|errors| at_own(watch::nitrite_first(errors, &setting, pieces), build.method))?;
    found.changed = time.said;
    found.findings.extend(time.findings);
    found.findings.extend(uneven(pieces, home));
    watch::judge(&mut found, &setting, pieces);
    let all = || {
        found
            .findings
            .iter()
            .chain(found.pieces.iter().flat_map(|p| &p.findings))
    };
    found.refused = all().any(|f| f.severity == Severity::Stop && f.code.is_final());
    found.needs_reason = all().any(|f| f.severity == Severity::Stop);
    Ok(found)
}

/// A calculator's refusal of a number of the dose, at the field in which it was typed.
fn at_own(errors: Vec<FieldError>, way: Way) -> Vec<FieldError> {
    let fields = way.dosing().fields();
    errors
        .into_iter()
        .map(|error| {
            let is_own = fields.iter().any(|f| f.name == error.field);
            FieldError {
                field: if is_own {
                    format!("own.{}", error.field)
                } else {
                    error.field
                },
                ..error
            }
        })
        .collect()
}

/// Adds one piece's lines to those of all.
pub(crate) fn add_up(total: &mut Vec<SheetLine>, lines: &[SheetLine]) {
    for line in lines {
        match total.iter_mut().find(|t| t.name == line.name) {
            Some(t) => {
                t.exact_g += line.exact_g;
                t.shown_g += line.shown_g;
                t.made_of = "all pieces together".into();
            }
            None => total.push(line.clone()),
        }
    }
}

/// Pieces in one vessel whose thickness differs by more than a third come out at different times.
fn uneven(pieces: &[SheetPiece], home: &Household) -> Option<Finding> {
    let mm: Vec<f64> = pieces
        .iter()
        .filter_map(|p| p.shape.thickness())
        .map(Millimetres::get)
        .collect();
    let (thin, thick) = mm
        .iter()
        .fold((f64::MAX, 0.0_f64), |(l, h), v| (l.min(*v), h.max(*v)));
    (mm.len() > 1 && thick - thin > thin / 3.0).then(|| {
        Finding::new(
            Code::UnevenThickness,
            Severity::Caution,
            "These pieces differ in thickness by more than a third: each has its own days.",
        )
        .saw(format!(
            "{} to {}",
            length(Millimetres(thin), home.units.length),
            length(Millimetres(thick), home.units.length)
        ))
        .way_out("Lay them apart, or take each out on its own day.")
    })
}

/// The facts that start a cure: each piece with its dose as the scale showed it.
///
/// # Errors
/// When the rules the sheet was made with are not in the catalogue.
pub fn doses(
    sheet: &Sheet,
    build: &Build,
    home: &Household,
    catalogue: &Catalogue,
    reason: Option<&str>,
) -> Result<Vec<(PieceId, Dose)>, Vec<FieldError>> {
    let others = |id: PieceId| -> Vec<PieceId> {
        if !sheet.mixed {
            return Vec::new();
        }
        let all = sheet.pieces.iter().map(|p| p.piece);
        all.filter(|p| *p != id).collect()
    };
    let cure = CureChoice {
        key: Some(sheet.cure.clone()).filter(|key| key != "own"),
        name: sheet.cure_name.clone(),
        made_of: sheet.cure_made_of.clone(),
    };
    let rules: &RuleSet = catalogue.rule_set(&home.rule_set).map_err(|e| vec![e])?;
    let school = catalogue.school_fact(home.school.as_deref());
    let in_brine = sheet.method.in_brine();
    let meat: Vec<_> = sheet
        .pieces
        .iter()
        .map(|p| Milligrams::from_grams(p.meat_g))
        .collect();
    let dose = |(i, part): (usize, &PieceSheet)| {
        let lines: Vec<_> = part
            .lines
            .iter()
            .zip(&sheet.lines)
            .map(|(own, all)| DoseLine {
                role: own.role,
                name: own.name.clone(),
                // A brine is poured once: its shares must sum to what was weighed.
                mass: Typed::unsaid(if in_brine {
                    Milligrams::from_grams(all.shown_g).share_out(&meat)[i]
                } else {
                    Milligrams::from_grams(own.shown_g)
                }),
                salt: own.salt_fraction.map(|s| Typed::unsaid(Fraction(s))),
            })
            .collect();
        let scales = (home.scales.fine_division_g, home.scales.meat_division_g);
        let Bands { nitrate, salt, .. } = bands(&lines, &cure, part.meat_g, in_brine, scales);
        let findings = sheet.findings.iter().chain(&part.findings);
        let dose = Dose {
            method: sheet.method,
            build: Some(build.reference()),
            cure: cure.clone(),
            over: Some(meat[i]),
            lines,
            nitrite: part.nitrite,
            nitrate: Band {
                nominal: part.nitrate_ppm,
                ..nitrate
            },
            salt: Some(salt),
            judged: Judged {
                rule_set: rules.key.clone(),
                class: build.class,
                form: build.class.form(build.form),
                ceiling_ppm: part.ceiling_ppm,
                floor_ppm: part.floor_ppm,
            },
            school: school.clone(),
            mixed_with: others(part.piece),
            findings: findings
                .filter(|f| f.severity > Severity::Info)
                .cloned()
                .collect(),
            reason: reason.map(str::to_string),
            own: sheet.changed.clone(),
        };
        (part.piece, dose)
    };
    Ok(sheet.pieces.iter().enumerate().map(dose).collect())
}

#[cfg(test)]
mod tests;
