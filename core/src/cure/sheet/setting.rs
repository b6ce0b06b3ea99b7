//! What a household uses for one sheet, and how each way of curing is worked out with it.

use super::{PieceSheet, Sheet, SheetLine, SheetPiece};
use crate::catalogue::Catalogue;
use crate::catalogue::builds::{Build, BuildDose};
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::cure::batch::{BatchMixAsk, BatchPiece, batch_mix};
use crate::cure::brine::{EquilibriumBrineAsk, equilibrium_brine};
use crate::cure::days::{Lying, days};
use crate::cure::dose::SchoolFact;
use crate::cure::dry::{DryCureAsk, band, dry_cure, scale_findings};
use crate::cure::rules::{Case, Ingoing, RuleSet, Way};
use crate::cure::{Addition, CureChoice, Role, WeighedAddition};
use crate::household::Household;
use crate::piece::size::Size;
use crate::units::show::{length, mass, trim};
use crate::units::to_division;

/// What a household uses for one sheet.
pub(super) struct Setting<'a> {
    pub build: &'a Build,
    pub dose: BuildDose,
    pub cure: CureChoice,
    pub rules: &'a RuleSet,
    pub home: &'a Household,
    pub catalogue: &'a Catalogue,
}

impl Setting<'_> {
    fn dry_ask(&self, piece: &SheetPiece) -> DryCureAsk {
        DryCureAsk {
            meat_g: piece.meat_g,
            cure: self.cure.ask(),
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

    pub fn one_by_one(&self, pieces: &[SheetPiece]) -> Result<Sheet, Vec<FieldError>> {
        let mut sheet = self.empty(false);
        for piece in pieces {
            let got = dry_cure(&self.dry_ask(piece), self.catalogue)?;
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

    pub fn mix(&self, pieces: &[SheetPiece]) -> Result<Sheet, Vec<FieldError>> {
        let first = self.dry_ask(&pieces[0]);
        let got = batch_mix(
            &BatchMixAsk {
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
            },
            self.catalogue,
        )?;
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
                    exact_g: l.exact_g * share,
                    shown_g: l.shown_g * shown,
                    made_of: format!("{} % of the mix", trim(share * 100.0, 1)),
                    ..l.clone()
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

    pub fn brine(
        &self,
        pieces: &[SheetPiece],
        water_g: Option<f64>,
    ) -> Result<Sheet, Vec<FieldError>> {
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
            cure: self.cure.ask(),
            class: self.build.class,
            skin_on,
            rule_set: self.home.rule_set.clone(),
        };
        let got = equilibrium_brine(&ask, self.catalogue)?;
        let shown = |g| to_division(g, scales.fine_division_g);
        let base = format!("{} meat and {} water", self.say(meat_g), self.say(water));
        let line = |role, name: &str, exact_g, shown_g, made_of| SheetLine {
            role,
            salt_fraction: None,
            name: name.into(),
            exact_g,
            shown_g,
            made_of,
        };
        let mut sheet = self.empty(true);
        sheet.salometer_degrees = Some(got.salometer_degrees);
        sheet.lines = vec![
            line(
                Role::Water,
                "water",
                water,
                water,
                format!("{} of the meat", percent(water / meat_g)),
            ),
            line(
                Role::CuringSalt,
                &self.cure.said(),
                got.cure_g,
                shown(got.cure_g),
                format!(
                    "{} ppm nitrite over {base} and what is dissolved in it",
                    trim(ask.nitrite_ppm, 0)
                ),
            ),
            line(
                Role::Salt,
                "salt",
                got.salt_g,
                shown(got.salt_g),
                format!(
                    "{} of {base}, less the cure's own salt",
                    percent(ask.salt_fraction)
                ),
            ),
            line(
                Role::Sugar,
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
                    self.school().as_ref(),
                    &self.catalogue.schools,
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
                role: Role::CuringSalt,
                salt_fraction: None,
                name: self.cure.said(),
                exact_g: cure_g,
                shown_g: shown(cure_g),
                made_of: per_kg(rate),
            },
            SheetLine {
                role: Role::Salt,
                salt_fraction: None,
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
        lines.extend(
            additions
                .iter()
                .zip(&self.dose.additions)
                .map(|(weighed, seasoning)| SheetLine {
                    role: seasoning
                        .role
                        .unwrap_or_else(|| self.catalogue.role_of(&seasoning.name)),
                    salt_fraction: seasoning.salt_fraction,
                    name: weighed.name.clone(),
                    exact_g: weighed.mass_g,
                    shown_g: shown(weighed.mass_g),
                    made_of: per_kg(seasoning.g_per_kg),
                }),
        );
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

    /// The household's school, whole.
    fn school(&self) -> Option<SchoolFact> {
        self.catalogue.school_fact(self.home.school.as_deref())
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
