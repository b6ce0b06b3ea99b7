//! The weigh-out sheet: for pieces of one product the numbers to hit on the scale, and the days.

mod dish;
mod facts;
mod own;
mod precision;
pub(crate) mod rub;
mod setting;
mod table;
mod vessels;
pub(crate) mod watch;
mod way;
mod why;

use super::methods::Waits;
use super::printed::{called, line_name, printed};
use super::time::SchoolDays;
use crate::catalogue::Catalogue;
use crate::catalogue::builds::Build;
use crate::catalogue::cures::{Composition, CureAsk, CureChoice, Role};
use crate::catalogue::dosing::{AmountKind, DosingMethod};
use crate::catalogue::place_kinds::PlaceUse;
use crate::caution::{FieldError, Finding, Severity};
use crate::dose::uptake::Uptake;
use crate::dose::{BrineState, OwnSaid, OwnTime, TakenUp};
use crate::household::{Household, ScaleCheck};
use crate::ids::PieceId;
use crate::shape::Shape;
use crate::units::{Band, Fraction, Grams, read};
pub use dish::{Dish, DishAsk};
pub use facts::{Started, doses};
pub use own::{Jar, OwnAddition, OwnDose};
pub use precision::Sureness;
use serde::Serialize;
pub use setting::Setting;
use std::sync::{Arc, LazyLock};
pub use table::{Group, Laid, Poured, Table, VesselAsk, VesselSheet};
pub(crate) use vessels::weighed;
pub use way::{WaySheet, ways};
use why::days_why;

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
    /// Its share of fat, where that is known.
    pub fat: Option<Fraction>,
    /// True for a whole piece of which its product wants ground meat.
    pub unground: bool,
    /// Its own product, as it is made by this dose, where that is not the sheet's.
    pub made: Option<Arc<Build>>,
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
    /// About how many level spoons that is, where somebody weighed one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub by_spoon: Option<String>,
    /// How many that is, where it is counted and not weighed: “40 pieces, 1.2 to 2.4 g”.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub counted: Option<String>,
    /// True where it is not in the bowl that is shared out: it is weighed for each piece, and goes on last.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub apart: bool,
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
    /// By what it is planned and why, in a sentence.
    pub days_why: String,
    /// Hours in a salt box.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
    /// Salt in all, as the scale shows it (g/kg); none where nobody can tell.
    pub salt: Option<Band>,
    /// Nitrite by what is taken up and if meat and brine become alike, where only some of a brine gets in (ppm).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub uptake: Option<Uptake>,
    /// How that was reckoned.
    #[serde(skip)]
    pub taken_up: Option<TakenUp>,
    /// What to pump into it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pump: Option<PumpSheet>,
    /// How sure its dose is, weighed alone and from one mix.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sureness: Option<Sureness>,
    /// Every school that applies.
    pub schools: Vec<SchoolDays>,
    /// What to think about.
    pub findings: Vec<Finding>,
}

impl PieceSheet {
    /// The most nitrite it may get (ppm): what it is judged by against its limit.
    #[must_use]
    pub fn most_ppm(&self) -> f64 {
        self.uptake.map_or(self.nitrite.nominal, |u| u.higher())
    }
}

/// What to pump into a piece.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PumpSheet {
    /// Brine to pump in (g).
    pub inject_g: f64,
    /// What the piece is to weigh then (g).
    pub to_weigh_g: f64,
    /// Sites, where its thickness is known.
    pub sites: Option<u32>,
    /// Brine into each (ml).
    pub ml_per_site: Option<f64>,
    /// From site to site (mm).
    pub spacing_mm: f64,
}

/// What liquids, syrups and sauces of a dose bring with them.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct InLiquids {
    /// Water (g).
    pub water_g: f64,
    /// Sugar (g).
    pub sugar_g: f64,
    /// Salt (g).
    pub salt_g: f64,
}

/// A part of the water heated, the rest as ice and cold, so that the brine is cold when all of it is in.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Heated {
    /// Water to heat and dissolve everything in (g).
    pub hot_g: f64,
    /// How hot (°C).
    pub hot_c: f64,
    /// Ice (g).
    pub ice_g: f64,
    /// Cold water, at what the brine is to come to (g).
    pub cold_g: f64,
    /// What it comes to (°C).
    pub comes_to_c: f64,
}

/// What the same grams out of the wrong jar would do.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WrongJar {
    /// What is in it.
    pub name: String,
    /// Nitrite then (ppm).
    pub nitrite_ppm: f64,
    /// Nitrate then (ppm).
    pub nitrate_ppm: f64,
    /// How many times the nitrite that is meant.
    pub times: f64,
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
    pub method: DosingMethod,
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
    /// Whose spoons, cups and gallons those are in, in a sentence, where one of them speaks of any.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub measured_in: Option<String>,
    /// True for one mix, or one brine, over all pieces.
    pub mixed: bool,
    /// What to weigh for all of them together.
    pub lines: Vec<SheetLine>,
    /// All of it together, as the scale shows it (g).
    pub total_g: f64,
    /// Strength of the fresh brine.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub salometer_degrees: Option<f64>,
    /// The way of its product that was chosen, where it is not the product's own.
    pub way: Option<String>,
    /// The vessels; every piece lies in one.
    pub vessels: Vec<VesselSheet>,
    /// What liquids, syrups and sauces bring with them, where there are any.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub liquids: Option<InLiquids>,
    /// How a brine is dissolved in a hot part of its water and comes out cold.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub heated: Option<Heated>,
    /// When the fine scale was last checked against a known mass, in words.
    pub scale_checked: String,
    /// What the same grams out of another jar would do.
    pub wrong_jars: Vec<WrongJar>,
    /// What becomes of it when its time is over.
    pub waits: Waits,
    /// What a place may be for, that it cures in it.
    pub places: Vec<PlaceUse>,
    /// Minutes in water that are usual after it, where a soak is.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub soak_min: Option<[u32; 2]>,
    /// True when the meat lies in a brine.
    pub in_brine: bool,
    /// Each piece.
    pub pieces: Vec<PieceSheet>,
    /// What concerns all of them.
    pub findings: Vec<Finding>,
    /// True when a stop asks for a typed reason before the cure may start.
    pub needs_reason: bool,
    /// True when it may not start at all.
    pub refused: bool,
}

/// What is to be weighed out.
#[derive(Clone, Copy)]
pub struct WeighOut<'a> {
    /// The product whose dose it is, in the way that was chosen.
    pub build: &'a Build,
    /// The word of that way, where it is not the product's own.
    pub way: Option<&'a str>,
    /// The pieces.
    pub pieces: &'a [SheetPiece],
    /// True for one mix over all of them; a brine is always one brine for all.
    pub mixed: bool,
    /// The vessels they lie in; a piece that none names lies alone, in brine all of them lie together.
    pub laid: &'a [Laid],
    /// What is different from the product's dose.
    pub own: &'a OwnDose,
    /// The school of this time; the household's where nothing is said.
    pub school: Option<&'a str>,
    /// What was settled on for its time.
    pub time: &'a OwnTime,
    /// How the brine is when the meat goes in.
    pub brine: &'a BrineState,
}

impl<'a> WeighOut<'a> {
    /// Each piece alone, by its product's own dose.
    #[must_use]
    pub fn of(build: &'a Build, pieces: &'a [SheetPiece]) -> Self {
        static USUAL: LazyLock<(OwnDose, OwnTime, BrineState)> = LazyLock::new(Default::default);
        Self {
            build,
            way: None,
            pieces,
            mixed: false,
            laid: &[],
            own: &USUAL.0,
            school: None,
            time: &USUAL.1,
            brine: &USUAL.2,
        }
    }
}

/// Once for the ceiling, and again where the scale's step rounds the cure up past it.
const WEAKER_TIMES: usize = 4;

/// Works out the sheet for pieces by a product's way of dosing.
///
/// # Errors
/// Fields that cannot be right; those of `own` begin with `own.`.
pub fn sheet(
    ask: &WeighOut<'_>,
    home: &Household,
    catalogue: &Catalogue,
) -> Result<Sheet, Vec<FieldError>> {
    let WeighOut {
        build, own, pieces, ..
    } = *ask;
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
    let table = Table::lay(
        pieces,
        ask.laid,
        ask.mixed && way.mixes,
        build.method.in_brine(),
    )
    .map_err(|e| vec![e])?;
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
    let reads = own::Reads {
        meat: table.meat(),
        units: home.units,
        catalogue,
    };
    let mut time = own::this_time(own, dose, way.fields, &reads)?;
    let rules = home.rules(catalogue).map_err(|e| vec![e])?;
    let skin_on = pieces.iter().any(|p| p.shape.skin_on);
    watch::lower(&mut time.dose, own, build, &cure, &rules, skin_on);
    let school = match ask.school {
        Some(key) if !key.trim().is_empty() => {
            Some(catalogue.school_named(key).map_err(|e| vec![e])?)
        }
        Some(_) | None => catalogue.school_fact(home.school_for(&build.key)),
    };
    let mut setting = Setting {
        build,
        dose: time.dose,
        cure,
        rules: &rules,
        school,
        time: ask.time,
        by_jar: time.by_jar,
        home,
        catalogue,
    };
    let weighed = |setting: &Setting<'_>| -> Result<Sheet, Vec<FieldError>> {
        let mut found = way.weigh(setting, &table).map_err(|errors| {
            at_own(watch::nitrite_first(errors, setting, pieces), build.method)
        })?;
        vessels::fill(&mut found, &table, setting)?;
        Ok(found)
    };
    let mut found = weighed(&setting)?;
    for _ in 0..WEAKER_TIMES {
        let Some(weaker) = watch::weaker(&found, &setting, own, skin_on) else {
            break;
        };
        setting.dose = weaker;
        found = weighed(&setting)?;
    }
    found.way = ask.way.map(str::to_string);
    found.measured_in = time
        .said
        .iter()
        .find_map(|own| read::measured_in(&own.said, home.units))
        .map(|set| format!("Spoons, cups and gallons are {}.", set.label()));
    found.changed = time.said;
    found.findings.extend(time.findings);
    found
        .findings
        .extend(vessels::watch(&found, &table, ask, home));
    let scales = [
        (
            &home.fine_check,
            "The fine scale",
            home.scales.fine_division_g,
        ),
        (
            &home.meat_check,
            "The meat’s scale",
            home.scales.meat_division_g,
        ),
    ];
    let off =
        |(check, name, step): (&Option<ScaleCheck>, &str, f64)| check.as_ref()?.finding(name, step);
    found.findings.extend(scales.into_iter().filter_map(off));
    watch::judge(&mut found, &setting, &table);
    precision::tell(&mut found, &table, &setting);
    let stops = || {
        found
            .all_findings()
            .filter(|f| f.severity == Severity::Stop)
    };
    let (refused, needs_reason) = (stops().any(|f| f.code.is_final()), stops().count() > 0);
    (found.refused, found.needs_reason) = (refused, needs_reason);
    write_down(&mut found, &setting.cure);
    Ok(found)
}

/// Each vessel's numbers as text.
fn write_down(sheet: &mut Sheet, cure: &CureChoice) {
    let cure = called(cure);
    for vessel in &mut sheet.vessels {
        let tags: Vec<&str> = sheet
            .pieces
            .iter()
            .filter(|p| vessel.pieces.contains(&p.piece))
            .map(|p| p.tag.as_str())
            .collect();
        let lines: Vec<(&str, f64)> = vessel
            .lines
            .iter()
            .filter(|l| l.shown_g > 0.0)
            .map(|l| (line_name(l.role, &l.name, &cure), l.shown_g))
            .collect();
        vessel.as_text = printed(&tags.join(" and "), Some(vessel.meat_g), &lines);
    }
}

impl Sheet {
    /// Everything there is to think about it.
    pub fn all_findings(&self) -> impl Iterator<Item = &Finding> {
        let parts = self.pieces.iter().flat_map(|p| &p.findings);
        self.findings.iter().chain(parts)
    }
}

/// A calculator's refusal of a number of the dose, at the field in which it was typed.
fn at_own(errors: Vec<FieldError>, way: DosingMethod) -> Vec<FieldError> {
    let fields = way.dosing().fields;
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
                t.counted = None;
                t.made_of = "all pieces together".into();
            }
            None => total.push(line.clone()),
        }
    }
}

#[cfg(test)]
mod tests;
