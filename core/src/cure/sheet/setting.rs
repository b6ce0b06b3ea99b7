//! What a household uses for one sheet, and what every way of dosing makes of it alike.

use super::{PieceSheet, Sheet, SheetAddition, SheetField, SheetLine, SheetPiece, days_why, own};
use crate::catalogue::Catalogue;
use crate::catalogue::builds::Build;
use crate::catalogue::cures::{CureChoice, Role};
use crate::catalogue::dosing::DoseField;
use crate::catalogue::dosing::{BuildDose, DosingMethod};
use crate::catalogue::time_rules::TimeRuleFact;
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::cure::days::{Lying, counted_thickness, days};
use crate::cure::dry::{ToHit, ppm_in, to_hit};
use crate::cure::souring::cures_in;
use crate::cure::unusual::{fresh_in_raw, odd_fat};
use crate::dose::OwnTime;
use crate::dose::limits::RuleSet;
use crate::household::{Household, Scales};
use crate::units::show::{length, mass, trim};
use crate::units::{Band, GPerKg, Grams, Millimetres, show, to_division};

/// What is counted is known to this, whatever the scale (g).
const COUNTED_TO_G: f64 = 0.01;

/// What a household uses for one sheet.
pub struct Setting<'a> {
    /// The product.
    pub build: &'a Build,
    /// Its dose, as it is to be this time.
    pub dose: BuildDose,
    /// The curing salt.
    pub cure: CureChoice,
    /// The rules it is judged by, with the household's own cap.
    pub rules: &'a RuleSet,
    /// The school of this time.
    pub school: Option<TimeRuleFact>,
    /// What was settled on for its time.
    pub time: &'a OwnTime,
    /// What was weighed by the difference of its jar; an empty name is the blend itself.
    pub by_jar: Vec<String>,
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
        let build = self.build_of(piece);
        let law = build.law();
        let skin_on = piece.shape.skin_on;
        let limit = self
            .rules
            .limit(build.class, law, skin_on)
            .map_err(|e| vec![e])?;
        findings.extend(odd_fat(build, piece.fat));
        let fresh = lines.iter().find_map(|l| fresh_in_raw(&l.name, build));
        findings.extend(fresh);
        if piece.unground {
            findings.push(
                Finding::new(
                    Code::NotGround,
                    Severity::Stop,
                    format!("{} is a whole piece: its dose is for ground or diced meat.", piece.tag),
                )
                .remedy("Grind or dice it first (Assign, Grind and blend), or give it another product. A typed reason goes on."),
            );
        }
        let mut why = String::new();
        let mut box_hours = None;
        let (days, days_by, schools) =
            match counted_thickness(build, self.time.thickness(piece.shape.thickness())) {
                Some(thickness) => {
                    let lying = Lying {
                        build,
                        thickness,
                        mass: piece.meat,
                        shape: &piece.shape,
                        pumped: self.build.method == DosingMethod::Injection,
                        time: self.time,
                    };
                    let plan = days(
                        &lying,
                        self.school.as_ref(),
                        &self.catalogue.schools,
                        self.home.units,
                    )?;
                    let (said, lags) = days_why(&plan, &lying, self.catalogue);
                    why = said;
                    box_hours = plan.hours;
                    // Too thick for its school says the same, louder.
                    let is_thick = |f: &Finding| f.code == Code::TooThickForRule;
                    findings.extend(lags.filter(|_| !plan.findings.iter().any(is_thick)));
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
                        .remedy(format!(
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
            floor_ppm: self.rules.floor(build.class, law, skin_on).0,
            days,
            days_by,
            days_why: why,
            hours: box_hours,
            schools,
            salt: None,
            uptake: None,
            taken_up: None,
            pump: None,
            sureness: None,
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
            by_spoon: by_spoon(role, name, exact, self.catalogue),
            counted: None,
            apart: false,
        }
    }

    /// The product of a piece: its own, where one mix goes over several products.
    pub(crate) fn build_of<'b>(&'b self, piece: &'b SheetPiece) -> &'b Build {
        piece.made.as_deref().unwrap_or(self.build)
    }

    /// The scales of the curing salt: by the difference of a jar, two readings are uncertain.
    pub(crate) fn cure_scales(&self) -> Scales {
        let scales = self.home.scales;
        if self.by_jar.iter().any(String::is_empty) {
            Scales {
                fine_division_g: scales.fine_division_g * 2.0,
                ..scales
            }
        } else {
            scales
        }
    }

    /// What went by the difference of its jar is what it is, not what a scale would be made to show.
    pub(crate) fn as_by_jar(&self, lines: &mut [SheetLine]) {
        for line in lines {
            let by_jar = |name: &String| {
                name.eq_ignore_ascii_case(&line.name)
                    || (name.is_empty() && line.role == Role::CuringSalt)
            };
            if self.by_jar.iter().any(by_jar) {
                line.shown_g = line.exact_g;
            }
        }
    }

    /// A number of this dose that its method cannot do without; see [`BuildDose::need`].
    pub(crate) fn need(&self, field: &DoseField) -> Result<f64, Vec<FieldError>> {
        self.dose.need(field).map_err(|error| vec![error])
    }

    /// The same of its curing salt: none where there is none.
    pub(crate) fn need_of_cure(&self, field: &DoseField) -> Result<f64, Vec<FieldError>> {
        if self.cure.is_none() {
            Ok(0.0)
        } else {
            self.need(field)
        }
    }

    /// The numbers to hit where the household's own cap is stricter than its rules.
    pub(crate) fn kept_to_cap(
        &self,
        hit: &ToHit,
        (cure_g, salt_g): (f64, f64),
        meat: Grams,
    ) -> ToHit {
        if self.home.cap_ppm.is_none() {
            return hit.clone();
        }
        let step = self.home.scales.fine_division_g;
        let made_of = &self.cure.made_of;
        let ppm = |g: f64| ppm_in(meat.0, g, made_of.nitrite);
        let edges = self.rules.edges(self.build.class, self.build.law(), false);
        let cure = to_hit(cure_g, step, edges, ppm);
        ToHit {
            cure_g: cure,
            salt_g: to_division((salt_g + (cure_g - cure) * made_of.salt).max(0.0), step),
            nitrite_ppm: ppm(cure),
        }
    }

    /// Sugar, spices and liquids for so much meat.
    pub(crate) fn seasonings_for(&self, meat: Grams) -> Vec<SheetLine> {
        let all = self.dose.additions.iter();
        let weighed: Vec<_> = all.map(|a| meat * (a.g_per_kg / 1_000.0)).collect();
        let mut lines = self.seasonings(meat, weighed.into_iter());
        self.as_by_jar(&mut lines);
        lines
    }

    /// Sugar, spices and liquids, with what each comes to.
    pub(crate) fn seasonings(
        &self,
        meat: Grams,
        weighed: impl Iterator<Item = Grams>,
    ) -> Vec<SheetLine> {
        let in_brine = self.build.method.in_brine();
        let all = weighed.zip(&self.dose.additions);
        all.map(|(exact, seasoning)| {
            let role = seasoning
                .role
                .unwrap_or_else(|| self.catalogue.role_of(&seasoning.name));
            let made_of = self.per_kg(meat, seasoning.g_per_kg);
            let line = self.line(role, &seasoning.name, exact, made_of);
            SheetLine {
                salt_fraction: seasoning.salt_fraction,
                counted: seasoning.counted.as_ref().map(|c| c.said(meat)),
                apart: !in_brine && (role.goes_on_apart() || seasoning.last),
                // What is counted is not put on a scale: it is about what it is.
                shown_g: match seasoning.counted {
                    Some(_) => to_division(line.exact_g, COUNTED_TO_G),
                    None => self.within_cap(&line, meat),
                },
                ..line
            }
        })
        .collect()
    }

    /// What a scale is to show of an accelerator: a step less where rounding up alone breaks its cap.
    fn within_cap(&self, line: &SheetLine, meat: Grams) -> f64 {
        let step = self.home.scales.fine_division_g;
        let known = self.catalogue.accelerator(&line.name);
        let over = known
            .filter(|_| line.role == Role::Accelerator)
            .is_some_and(|a| {
                !a.is_allowed(Grams(line.shown_g), meat) && a.is_allowed(Grams(line.exact_g), meat)
            });
        if over && line.shown_g > step {
            line.shown_g - step
        } else {
            line.shown_g
        }
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
        let fields = way.dosing().fields.iter().filter(|f| f.own);
        let additions = asked.map(|d| d.additions.as_slice()).unwrap_or_default();
        Sheet {
            build: self.build.key.clone(),
            method: way,
            cure: self.cure.key.clone().unwrap_or_else(|| "own".into()),
            cure_name: self.cure.name.clone(),
            cure_made_of: self.cure.made_of.clone(),
            can_be_mixed: way.dosing().mixes,
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
            measured_in: None,
            mixed,
            lines: Vec::new(),
            total_g: 0.0,
            salometer_degrees: None,
            way: None,
            vessels: Vec::new(),
            liquids: None,
            heated: None,
            wrong_jars: Vec::new(),
            scale_checked: self.home.fine_check.map_or_else(
                || "The fine scale was never checked against a known mass.".into(),
                |c| {
                    format!(
                        "The fine scale showed {} g for {} g on {}.",
                        c.showed_g, c.mass_g, c.on
                    )
                },
            ),
            waits: way.dosing().waits,
            places: cures_in(Some(self.build)).to_vec(),
            soak_min: way.dosing().soak_min,
            in_brine: way.in_brine(),
            pieces: Vec::new(),
            findings: Vec::new(),
            needs_reason: false,
            refused: false,
        }
    }
}

/// So many grams by the level teaspoon, for who has no scale at hand and for comparing with a recipe.
fn by_spoon(role: Role, name: &str, exact: Grams, catalogue: &Catalogue) -> Option<String> {
    let called = match role {
        Role::Salt => "table salt",
        Role::Sugar if name == "sugar" => "granulated sugar",
        Role::Water => return None,
        Role::CuringSalt
        | Role::Sugar
        | Role::Spice
        | Role::Liquid
        | Role::Accelerator
        | Role::Binder => name,
    };
    let spoon = catalogue.spoons.iter().find(|s| s.is_called(called))?;
    let of = |gram: f64| trim(exact.0 / gram, 1);
    Some(format!(
        "about {} level tsp of {}, from {} to {}: a spoon is no scale",
        of(spoon.tsp_g),
        spoon.names.first()?,
        of(spoon.range.high),
        of(spoon.range.low)
    ))
}
