//! The weigh-out sheet: for pieces of one product the numbers to hit on the scale, and the days.

mod setting;

use super::dose::{Bands, Dose, DoseLine, Judged, bands};
use super::rules::RuleSet;
use super::time::SchoolDays;
use super::{CureChoice, Role};
use crate::catalogue::Catalogue;
use crate::catalogue::builds::{Build, BuildDose, Curing};
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::household::Household;
use crate::ids::PieceId;
use crate::units::Milligrams;
use crate::units::show::length;
use serde::{Deserialize, Serialize};
use setting::Setting;

/// A piece that waits for its dose.
#[derive(Clone, Debug, PartialEq)]
pub struct SheetPiece {
    /// For machines.
    pub id: PieceId,
    /// For people.
    pub tag: String,
    /// Green weight (g).
    pub meat_g: f64,
    /// Greatest thickness (mm).
    pub thickness_mm: Option<f64>,
    /// Whether the skin is on.
    pub skin_on: bool,
    /// Whether fat covers one side.
    pub fat_cap: bool,
}

/// What the person changes about the build's dose this time.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OwnDose {
    /// Another curing salt.
    #[serde(default)]
    pub cure: Option<String>,
    /// Curing salt (g/kg), for a dry cure.
    #[serde(default)]
    pub cure_g_per_kg: Option<f64>,
    /// Salt in all (g/kg), for a dry cure.
    #[serde(default)]
    pub salt_g_per_kg: Option<f64>,
    /// Nitrite over meat and brine (ppm), for a brine.
    #[serde(default)]
    pub nitrite_ppm: Option<f64>,
    /// Salt as a share of meat and water, for a brine.
    #[serde(default)]
    pub salt_fraction: Option<f64>,
    /// Sugar as a share of meat and water, for a brine.
    #[serde(default)]
    pub sugar_fraction: Option<f64>,
    /// Water (g), for a brine.
    #[serde(default)]
    pub water_g: Option<f64>,
}

/// One ingredient: as computed, and as the scale can show it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
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
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
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
    /// Nitrite as the scale shows it (ppm).
    pub nitrite_ppm: f64,
    /// Lower edge of what it may be (ppm).
    pub nitrite_ppm_low: f64,
    /// Upper edge of what it may be (ppm).
    pub nitrite_ppm_high: f64,
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

/// The sheet for pieces that are dosed together or one by one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Sheet {
    /// The build.
    pub build: String,
    /// Rubbed or in brine.
    pub method: Curing,
    /// The curing salt's word.
    pub cure: String,
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

/// Stops that no reason lifts.
const FINAL: [Code; 4] = [
    Code::NitriteRefused,
    Code::NitrateInFried,
    Code::ScaleCannotWeigh,
    Code::ThicknessMissing,
];

/// Works out the sheet for `pieces`, all of one build.
///
/// `mixed` weighs one mix for all of them; a brine is always one brine for all.
///
/// # Errors
/// Fields that cannot be right, as the calculators name them.
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
    let key = own.cure.as_deref().unwrap_or(&dose.cure);
    let cure = catalogue.cure(key).map(CureChoice::from).ok_or_else(|| {
        vec![FieldError::new(
            "own.cure",
            format!("There is no cure “{key}”. Choose one from the list."),
        )]
    })?;
    let dose = BuildDose {
        cure: key.into(),
        cure_g_per_kg: own.cure_g_per_kg.or(dose.cure_g_per_kg),
        nitrite_ppm: own.nitrite_ppm.or(dose.nitrite_ppm),
        salt_g_per_kg: own.salt_g_per_kg.or(dose.salt_g_per_kg),
        salt_fraction: own.salt_fraction.or(dose.salt_fraction),
        sugar_fraction: own.sugar_fraction.or(dose.sugar_fraction),
        ..dose.clone()
    };
    let setting = Setting {
        build,
        dose,
        cure,
        rules: catalogue.rule_set(&home.rule_set).map_err(|e| vec![e])?,
        home,
        catalogue,
    };
    let mut found = match build.method {
        Curing::EquilibriumBrine => setting.brine(pieces, own.water_g)?,
        _ if mixed && pieces.len() > 1 => setting.mix(pieces)?,
        _ => setting.one_by_one(pieces)?,
    };
    found.findings.extend(uneven(pieces, home));
    let all = || {
        found
            .findings
            .iter()
            .chain(found.pieces.iter().flat_map(|p| &p.findings))
    };
    found.refused = all().any(|f| f.severity == Severity::Stop && FINAL.contains(&f.code));
    found.needs_reason = all().any(|f| f.severity == Severity::Stop);
    Ok(found)
}

/// Pieces in one vessel whose thickness differs by more than a third come out at different times.
fn uneven(pieces: &[SheetPiece], home: &Household) -> Option<Finding> {
    let mm: Vec<f64> = pieces.iter().filter_map(|p| p.thickness_mm).collect();
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
            length(thin, home.units.length),
            length(thick, home.units.length)
        ))
        .way_out("Lay them apart, or take each out on its own day.")
    })
}

/// The facts that start a cure: each piece with its dose as the scale showed it.
///
/// # Errors
/// When the cure or the rules the sheet was made with are not in the catalogue.
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
    let cure = catalogue
        .cure(&sheet.cure)
        .map(CureChoice::from)
        .ok_or_else(|| vec![FieldError::new("own.cure", "Choose a cure from the list.")])?;
    let rules: &RuleSet = catalogue.rule_set(&home.rule_set).map_err(|e| vec![e])?;
    let school = catalogue.school_fact(home.school.as_deref());
    let in_brine = sheet.method == Curing::EquilibriumBrine;
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
                mg: if in_brine {
                    Milligrams::from_grams(all.shown_g).share_out(&meat)[i]
                } else {
                    Milligrams::from_grams(own.shown_g)
                },
                salt_fraction: own.salt_fraction,
            })
            .collect();
        let scales = (home.scales.fine_division_g, home.scales.meat_division_g);
        let Bands { nitrate, salt, .. } = bands(&lines, &cure, part.meat_g, in_brine, scales);
        let findings = sheet.findings.iter().chain(&part.findings);
        let dose = Dose {
            method: sheet.method,
            build: Some(build.reference()),
            cure: cure.clone(),
            lines,
            nitrite: crate::units::Band {
                nominal: part.nitrite_ppm,
                low: part.nitrite_ppm_low,
                high: part.nitrite_ppm_high,
            },
            nitrate: crate::units::Band {
                nominal: part.nitrate_ppm,
                ..nitrate
            },
            salt: Some(salt),
            judged: Judged {
                rule_set: rules.key.clone(),
                class: build.class,
                form: build.form,
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
        };
        (part.piece, dose)
    };
    Ok(sheet.pieces.iter().enumerate().map(dose).collect())
}

#[cfg(test)]
mod tests;
