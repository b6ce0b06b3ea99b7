//! What a household uses for one sheet, and what every way of dosing makes of it alike.

use super::{PieceSheet, Sheet, SheetAddition, SheetField, SheetLine, SheetPiece, own};
use crate::catalogue::Catalogue;
use crate::catalogue::builds::Build;
use crate::catalogue::dosing::BuildDose;
use crate::catalogue::schools::SchoolFact;
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::cure::days::{Lying, days};
use crate::cure::rules::RuleSet;
use crate::cure::{CureChoice, Role};
use crate::household::Household;
use crate::units::show::{length, mass, trim};
use crate::units::{Band, GPerKg, Grams, Millimetres, show, to_division};

/// What a household uses for one sheet.
pub struct Setting<'a> {
    /// The product.
    pub build: &'a Build,
    /// Its dose, as it is to be this time.
    pub dose: BuildDose,
    /// The curing salt.
    pub cure: CureChoice,
    /// The rules it is judged by.
    pub rules: &'a RuleSet,
    /// The household.
    pub home: &'a Household,
    /// What builds and schools are.
    pub catalogue: &'a Catalogue,
}

impl Setting<'_> {
    /// One piece's part of the sheet: its lines, its limits, its days.
    pub(crate) fn piece(
        &self,
        piece: &SheetPiece,
        lines: Vec<SheetLine>,
        nitrite: Band,
        nitrate_ppm: f64,
        mut findings: Vec<Finding>,
    ) -> Result<PieceSheet, Vec<FieldError>> {
        let law = self.build.law();
        let skin_on = piece.shape.skin_on;
        let limit = self
            .rules
            .limit(self.build.class, law, skin_on)
            .map_err(|e| vec![e])?;
        let (days, days_by, schools) = match piece.shape.thickness() {
            Some(thickness) => {
                let plan = days(
                    &Lying {
                        build: self.build,
                        thickness,
                        mass: piece.meat,
                        shape: &piece.shape,
                        pumped: false,
                    },
                    self.school().as_ref(),
                    &self.catalogue.schools,
                    self.home.units,
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
                        length(Millimetres(45.0), self.home.units.length)
                    )),
                );
                (None, String::new(), Vec::new())
            }
        };
        Ok(PieceSheet {
            piece: piece.id,
            tag: piece.tag.clone(),
            meat_g: piece.meat.0,
            thickness_mm: piece.shape.thickness().map(Millimetres::get),
            lines,
            portion_g: None,
            nitrite,
            nitrate_ppm,
            ceiling_ppm: self.rules.ceiling(limit, skin_on).0,
            floor_ppm: self.rules.floor(self.build.class, law, skin_on).0,
            days,
            days_by,
            schools,
            findings,
        })
    }

    /// One ingredient, as computed and as the scale can show it.
    pub(crate) fn line(&self, role: Role, name: &str, exact: Grams, made_of: String) -> SheetLine {
        SheetLine {
            role,
            salt_fraction: None,
            name: name.into(),
            exact_g: exact.0,
            shown_g: to_division(exact.0, self.home.scales.fine_division_g),
            made_of,
        }
    }

    /// Sugar, spices and liquids, with what each comes to.
    pub(crate) fn seasonings(
        &self,
        meat: Grams,
        weighed: impl Iterator<Item = Grams>,
    ) -> Vec<SheetLine> {
        let all = weighed.zip(&self.dose.additions);
        all.map(|(exact, seasoning)| SheetLine {
            salt_fraction: seasoning.salt_fraction,
            ..self.line(
                seasoning
                    .role
                    .unwrap_or_else(|| self.catalogue.role_of(&seasoning.name)),
                &seasoning.name,
                exact,
                self.per_kg(meat, seasoning.g_per_kg),
            )
        })
        .collect()
    }

    /// `2 kg × 2.5 g/kg`.
    pub(crate) fn per_kg(&self, meat: Grams, rate: f64) -> String {
        format!("{} × {} g/kg", self.say(meat), trim(rate, 2))
    }

    pub(crate) fn say(&self, grams: Grams) -> String {
        mass(grams, self.home.units.mass)
    }

    /// A sheet with nothing on it yet.
    pub(crate) fn empty(&self, mixed: bool) -> Sheet {
        let way = self.build.method;
        let units = self.home.units;
        let asked = self.build.dose.as_ref();
        let fields = way.dosing().fields().iter().filter(|f| f.own);
        let additions = asked.map(|d| d.additions.as_slice()).unwrap_or_default();
        Sheet {
            build: self.build.key.clone(),
            method: way,
            cure: self.cure.key.clone().unwrap_or_else(|| "own".into()),
            cure_name: self.cure.name.clone(),
            cure_made_of: self.cure.made_of.clone(),
            can_be_mixed: way.dosing().mixes(),
            fields: fields
                .map(|f| SheetField {
                    name: f.name.into(),
                    label: f.label.into(),
                    unit: f.unit.into(),
                    hint: f.hint.into(),
                    build: asked
                        .and_then(|d| d.number(f))
                        .map(|n| own::shown(n, f.unit, units)),
                })
                .collect(),
            additions: additions
                .iter()
                .map(|s| SheetAddition {
                    name: s.name.clone(),
                    build: show::rate(GPerKg(s.g_per_kg)),
                })
                .collect(),
            changed: Vec::new(),
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
}
