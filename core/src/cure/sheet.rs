//! The weigh-out sheet: for pieces of one product the numbers to hit on the scale, and the days.

use super::batch::{BatchMixAsk, BatchPiece, batch_mix};
use super::brine::{EquilibriumBrineAsk, equilibrium_brine};
use super::days::{Lying, days};
use super::dry::{DryCureAsk, band, dry_cure, scale_findings};
use super::rules::{Case, Ingoing, RuleSet, Way, rule_set};
use super::time::SchoolDays;
use super::{Addition, CureChoice, WeighedAddition};
use crate::assign::size::Size;
use crate::builds::{Build, BuildDose, Curing, Seasoning};
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::household::Household;
use crate::ledger::{Dose, DoseLine, PieceId};
use crate::units::show::{length, mass, trim};
use crate::units::{Milligrams, to_division};
use serde::{Deserialize, Serialize};

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

/// What a household uses for one sheet.
struct Setting<'a> {
    build: &'a Build,
    dose: BuildDose,
    cure: CureChoice,
    rules: &'static RuleSet,
    home: &'a Household,
}

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
    let cure = CureChoice::named(key).ok_or_else(|| {
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
        rules: rule_set(&home.rule_set).map_err(|e| vec![e])?,
        home,
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

impl Setting<'_> {
    fn dry_ask(&self, piece: &SheetPiece) -> DryCureAsk {
        DryCureAsk {
            meat_g: piece.meat_g,
            cure: self.cure.clone(),
            nitrite_ppm: None,
            cure_g_per_kg: (!self.cure.is_none()).then(|| self.dose.cure_g_per_kg.unwrap_or(0.0)),
            salt_g_per_kg: self.dose.salt_g_per_kg.unwrap_or(0.0)
                - self.dose.salt_in_sauces_g_per_kg(),
            additions: self.dose.additions.iter().map(Addition::from).collect(),
            class: self.build.class,
            form: self.build.form,
            skin_on: piece.skin_on,
            rule_set: self.home.rule_set.clone(),
            scale_division_g: self.home.scales.fine_division_g,
            meat_scale_division_g: self.home.scales.meat_division_g,
        }
    }

    /// A mix is judged as ground meat, a lump as rubbed.
    fn dry_way(&self) -> Way {
        if self.build.is_ground() {
            Way::Ground
        } else {
            Way::Dry
        }
    }

    fn one_by_one(&self, pieces: &[SheetPiece]) -> Result<Sheet, Vec<FieldError>> {
        let mut sheet = self.empty(false);
        for piece in pieces {
            let got = dry_cure(&self.dry_ask(piece))?;
            let lines = self.dry_lines(piece.meat_g, got.cure_g, got.salt_g, &got.additions);
            let nitrite = Ingoing {
                nominal: got.weighed.nitrite_ppm,
                low: got.nitrite_ppm_low,
                high: got.nitrite_ppm_high,
            };
            add_up(&mut sheet.lines, &lines);
            sheet.pieces.push(self.piece(
                piece,
                lines,
                nitrite,
                got.nitrate_ppm,
                self.dry_way(),
                got.findings,
            )?);
        }
        sheet.total_g = sheet.lines.iter().map(|l| l.shown_g).sum();
        Ok(sheet)
    }

    fn mix(&self, pieces: &[SheetPiece]) -> Result<Sheet, Vec<FieldError>> {
        let first = self.dry_ask(&pieces[0]);
        let got = batch_mix(&BatchMixAsk {
            pieces: pieces
                .iter()
                .map(|p| BatchPiece {
                    id: p.tag.clone(),
                    mass_g: p.meat_g,
                })
                .collect(),
            cure: first.cure,
            nitrite_ppm: None,
            cure_g_per_kg: first.cure_g_per_kg,
            salt_g_per_kg: first.salt_g_per_kg,
            additions: first.additions,
            class: first.class,
            form: first.form,
            // The strictest of them rules the mix.
            skin_on: pieces.iter().any(|p| p.skin_on),
            rule_set: first.rule_set,
            scale_division_g: first.scale_division_g,
            meat_scale_division_g: first.meat_scale_division_g,
        })?;
        let meat_g: f64 = pieces.iter().map(|p| p.meat_g).sum();
        let mut sheet = self.empty(true);
        sheet.lines = self.dry_lines(meat_g, got.cure_g, got.salt_g, &got.additions);
        sheet.total_g = sheet.lines.iter().map(|l| l.shown_g).sum();
        sheet.findings = got.findings;
        for (piece, portion) in pieces.iter().zip(&got.pieces) {
            let share = if got.total_g > 0.0 {
                portion.portion_g / got.total_g
            } else {
                0.0
            };
            let shown = if sheet.total_g > 0.0 {
                portion.shown_g / sheet.total_g
            } else {
                0.0
            };
            let lines = sheet
                .lines
                .iter()
                .map(|l| SheetLine {
                    name: l.name.clone(),
                    exact_g: l.exact_g * share,
                    shown_g: l.shown_g * shown,
                    made_of: format!("{} % of the mix", trim(share * 100.0, 1)),
                })
                .collect();
            let (low, high) = (
                portion.from_mix.nitrite_ppm_low,
                portion.from_mix.nitrite_ppm_high,
            );
            let nitrite = Ingoing {
                nominal: (low + high) / 2.0,
                low,
                high,
            };
            let mut part = self.piece(
                piece,
                lines,
                nitrite,
                got.nitrate_ppm,
                self.dry_way(),
                Vec::new(),
            )?;
            part.portion_g = Some(portion.shown_g);
            sheet.pieces.push(part);
        }
        Ok(sheet)
    }

    fn brine(&self, pieces: &[SheetPiece], water_g: Option<f64>) -> Result<Sheet, Vec<FieldError>> {
        let meat_g: f64 = pieces.iter().map(|p| p.meat_g).sum();
        let scales = self.home.scales;
        let water = water_g.unwrap_or_else(|| {
            to_division(meat_g * self.dose.water_per_meat.unwrap_or(1.0), 50.0).max(50.0)
        });
        let skin_on = pieces.iter().any(|p| p.skin_on);
        let ask = EquilibriumBrineAsk {
            meat_g,
            water_g: water,
            salt_fraction: self.dose.salt_fraction.unwrap_or(0.0),
            sugar_fraction: self.dose.sugar_fraction.unwrap_or(0.0),
            nitrite_ppm: if self.cure.is_none() {
                0.0
            } else {
                self.dose.nitrite_ppm.unwrap_or(0.0)
            },
            cure: self.cure.clone(),
            class: self.build.class,
            skin_on,
            rule_set: self.home.rule_set.clone(),
        };
        let got = equilibrium_brine(&ask)?;
        let shown = |g| to_division(g, scales.fine_division_g);
        let base = format!("{} meat and {} water", self.say(meat_g), self.say(water));
        let line = |name: &str, exact_g, shown_g, made_of| SheetLine {
            name: name.into(),
            exact_g,
            shown_g,
            made_of,
        };
        let mut sheet = self.empty(true);
        sheet.salometer_degrees = Some(got.salometer_degrees);
        sheet.lines = vec![
            line(
                "water",
                water,
                water,
                format!("{} of the meat", percent(water / meat_g)),
            ),
            line(
                &self.cure.said(),
                got.cure_g,
                shown(got.cure_g),
                format!(
                    "{} ppm nitrite over {base} and what is dissolved in it",
                    trim(ask.nitrite_ppm, 0)
                ),
            ),
            line(
                "salt",
                got.salt_g,
                shown(got.salt_g),
                format!(
                    "{} of {base}, less the cure's own salt",
                    percent(ask.salt_fraction)
                ),
            ),
            line(
                "sugar",
                got.sugar_g,
                shown(got.sugar_g),
                format!("{} of {base}", percent(ask.sugar_fraction)),
            ),
        ];
        sheet.lines.retain(|l| l.exact_g > 0.0);
        sheet.total_g = sheet.lines.iter().map(|l| l.shown_g).sum();

        // Meat and brine share the nitrite, so the band is over both.
        let weighed = shown(got.cure_g);
        let made_of = &self.cure.made_of;
        let whole = meat_g + got.brine_g;
        let nitrite = band(weighed, made_of.nitrite, whole, scales);
        let nitrate = band(weighed, made_of.nitrate, whole, scales);
        let mut findings = self
            .rules
            .judge(&Case {
                class: self.build.class,
                way: Way::Immersed,
                skin_on,
                no_cure: self.cure.is_none(),
                nitrite,
                nitrate,
            })
            .map_err(|e| vec![e])?;
        findings.extend(scale_findings(
            got.cure_g,
            weighed,
            got.nitrite_ppm,
            nitrite,
            scales,
        ));
        let litres = Size::litres(meat_g) + got.brine_g / 1_000.0;
        let equipment = self.home.equipment.as_ref();
        findings.extend(equipment.and_then(|e| e.over_tub(litres)));
        sheet.findings = findings;
        for piece in pieces {
            let share = piece.meat_g / meat_g;
            let lines = sheet
                .lines
                .iter()
                .map(|l| SheetLine {
                    exact_g: l.exact_g * share,
                    shown_g: l.shown_g * share,
                    made_of: format!("{} of the brine", percent(share)),
                    ..l.clone()
                })
                .collect();
            let part = self.piece(
                piece,
                lines,
                nitrite,
                nitrate.nominal,
                Way::Immersed,
                Vec::new(),
            )?;
            sheet.pieces.push(part);
        }
        Ok(sheet)
    }

    fn piece(
        &self,
        piece: &SheetPiece,
        lines: Vec<SheetLine>,
        nitrite: Ingoing,
        nitrate_ppm: f64,
        way: Way,
        mut findings: Vec<Finding>,
    ) -> Result<PieceSheet, Vec<FieldError>> {
        let limit = self
            .rules
            .limit(self.build.class, way, piece.skin_on)
            .map_err(|e| vec![e])?;
        let (days, days_by, schools) = match piece.thickness_mm {
            Some(mm) => {
                let plan = days(
                    &Lying {
                        build: self.build,
                        thickness_mm: mm,
                        mass_g: piece.meat_g,
                        skin_on: piece.skin_on,
                        fat_cap: piece.fat_cap,
                    },
                    self.home.school.as_deref(),
                )?;
                findings.extend(plan.findings);
                (Some(plan.days), plan.by, plan.schools)
            }
            None => {
                findings.push(
                    Finding::new(
                        Code::ThicknessMissing,
                        Severity::Stop,
                        format!(
                            "{} has no thickness, so nobody can say how long it takes.",
                            piece.tag
                        ),
                    )
                    .way_out(format!(
                        "Measure its thickest place and correct its entry, such as {}.",
                        length(45.0, self.home.units.length)
                    )),
                );
                (None, String::new(), Vec::new())
            }
        };
        Ok(PieceSheet {
            piece: piece.id,
            tag: piece.tag.clone(),
            meat_g: piece.meat_g,
            thickness_mm: piece.thickness_mm,
            lines,
            portion_g: None,
            nitrite_ppm: nitrite.nominal,
            nitrite_ppm_low: nitrite.low,
            nitrite_ppm_high: nitrite.high,
            nitrate_ppm,
            ceiling_ppm: self.rules.ceiling_ppm(limit, piece.skin_on),
            floor_ppm: self.rules.floor(self.build.class, way, piece.skin_on),
            days,
            days_by,
            schools,
            findings,
        })
    }

    fn dry_lines(
        &self,
        meat_g: f64,
        cure_g: f64,
        salt_g: f64,
        additions: &[WeighedAddition],
    ) -> Vec<SheetLine> {
        let shown = |g| to_division(g, self.home.scales.fine_division_g);
        let per_kg = |rate: f64| format!("{} × {} g/kg", self.say(meat_g), trim(rate, 2));
        let rate = self.dose.cure_g_per_kg.unwrap_or(0.0);
        let own_salt = cure_g * self.cure.made_of.salt;
        let in_sauces = self.dose.salt_in_sauces_g_per_kg() * meat_g / 1_000.0;
        let mut lines = vec![
            SheetLine {
                name: self.cure.said(),
                exact_g: cure_g,
                shown_g: shown(cure_g),
                made_of: per_kg(rate),
            },
            SheetLine {
                name: "salt".into(),
                exact_g: salt_g,
                shown_g: shown(salt_g),
                made_of: format!(
                    "{}, less {} g that the cure brings{}",
                    per_kg(self.dose.salt_g_per_kg.unwrap_or(0.0)),
                    trim(own_salt, 1),
                    if in_sauces > 0.0 {
                        format!(" and {} g in the sauces", trim(in_sauces, 1))
                    } else {
                        String::new()
                    }
                ),
            },
        ];
        lines.extend(additions.iter().zip(&self.dose.additions).map(
            |(weighed, Seasoning { g_per_kg, .. })| SheetLine {
                name: weighed.name.clone(),
                exact_g: weighed.mass_g,
                shown_g: shown(weighed.mass_g),
                made_of: per_kg(*g_per_kg),
            },
        ));
        lines.retain(|l| l.exact_g > 0.0);
        lines
    }

    fn empty(&self, mixed: bool) -> Sheet {
        Sheet {
            build: self.build.key.clone(),
            method: self.build.method,
            cure: self.dose.cure.clone(),
            mixed,
            lines: Vec::new(),
            total_g: 0.0,
            salometer_degrees: None,
            pieces: Vec::new(),
            findings: Vec::new(),
            needs_reason: false,
            refused: false,
        }
    }

    fn say(&self, grams: f64) -> String {
        mass(grams, self.home.units.mass)
    }
}

fn percent(share: f64) -> String {
    format!("{} %", trim(share * 100.0, 1))
}

fn add_up(total: &mut Vec<SheetLine>, lines: &[SheetLine]) {
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
#[must_use]
pub fn doses(
    sheet: &Sheet,
    build: &Build,
    home: &Household,
    reason: Option<&str>,
) -> Vec<(PieceId, Dose)> {
    let others = |id: PieceId| -> Vec<PieceId> {
        if !sheet.mixed {
            return Vec::new();
        }
        sheet
            .pieces
            .iter()
            .map(|p| p.piece)
            .filter(|p| *p != id)
            .collect()
    };
    let cure = CureChoice::named(&sheet.cure).expect("the sheet was made with a known cure");
    let meat: Vec<_> = sheet
        .pieces
        .iter()
        .map(|p| Milligrams::from_grams(p.meat_g))
        .collect();
    sheet
        .pieces
        .iter()
        .enumerate()
        .map(|(i, part)| {
            let in_brine = sheet.method == Curing::EquilibriumBrine;
            let lines = part
                .lines
                .iter()
                .zip(&sheet.lines)
                .map(|(own, all)| DoseLine {
                    name: own.name.clone(),
                    // A brine is poured once: its shares must sum to what was weighed.
                    mg: if in_brine {
                        Milligrams::from_grams(all.shown_g).share_out(&meat)[i]
                    } else {
                        Milligrams::from_grams(own.shown_g)
                    },
                });
            let findings = sheet.findings.iter().chain(&part.findings);
            let dose = Dose {
                method: sheet.method,
                cure: cure.clone(),
                class: build.class,
                rule_set: home.rule_set.clone(),
                lines: lines.collect(),
                nitrite_ppm: part.nitrite_ppm,
                nitrite_ppm_low: part.nitrite_ppm_low,
                nitrite_ppm_high: part.nitrite_ppm_high,
                nitrate_ppm: part.nitrate_ppm,
                ceiling_ppm: part.ceiling_ppm,
                school: home.school.clone(),
                mixed_with: others(part.piece),
                findings: findings
                    .filter(|f| f.severity > Severity::Info)
                    .cloned()
                    .collect(),
                reason: reason.map(str::to_string),
            };
            (part.piece, dose)
        })
        .collect()
}

#[cfg(test)]
mod tests;
