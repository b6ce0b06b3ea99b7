//! What is weighed for the piece it goes on, or as one mix shared out by weight: rubs and mixes.

use super::{PieceSheet, Setting, Sheet, SheetLine, SheetPiece, add_up};
use crate::catalogue::dosing::DoseField;
use crate::caution::FieldError;
use crate::cure::batch::{BatchMixAsk, BatchPiece, batch_mix};
use crate::cure::dry::{DryCureAsk, ToHit, band, dry_cure};
use crate::cure::{Addition, Role, WeighedAddition};
use crate::units::show::trim;
use crate::units::{Band, Grams};

/// What goes on a kilogram of meat.
pub(crate) struct Measure {
    /// Curing salt (g/kg).
    pub cure: f64,
    /// Salt in all, the cure's own and that of sauces counted in (g/kg).
    pub salt: f64,
}

/// Weighs by two numbers of a way.
pub(crate) fn weigh(
    setting: &Setting<'_>,
    pieces: &[SheetPiece],
    mixed: bool,
    cure: &DoseField,
    salt: &DoseField,
) -> Result<Sheet, Vec<FieldError>> {
    let measure = Measure {
        cure: setting.dose.number(cure).unwrap_or(0.0),
        salt: setting.dose.number(salt).unwrap_or(0.0),
    };
    measured(setting, pieces, mixed, &measure)
}

/// Weighs for each piece, or one mix for all of them.
pub(crate) fn measured(
    setting: &Setting<'_>,
    pieces: &[SheetPiece],
    mixed: bool,
    measure: &Measure,
) -> Result<Sheet, Vec<FieldError>> {
    let rub = Rub { setting, measure };
    if mixed && pieces.len() > 1 {
        rub.mix(pieces)
    } else {
        rub.one_by_one(pieces)
    }
}

struct Rub<'a> {
    setting: &'a Setting<'a>,
    measure: &'a Measure,
}

impl Rub<'_> {
    fn dry_ask(&self, piece: &SheetPiece) -> DryCureAsk {
        let Setting {
            build, dose, home, ..
        } = self.setting;
        DryCureAsk {
            meat_g: piece.meat.0,
            cure: self.setting.cure.ask(),
            nitrite_ppm: None,
            cure_g_per_kg: (!self.setting.cure.is_none()).then_some(self.measure.cure),
            salt_g_per_kg: self.measure.salt - dose.salt_in_sauces().0,
            additions: dose.additions.iter().map(Addition::from).collect(),
            class: build.class,
            form: build.form,
            skin_on: piece.shape.skin_on,
            rule_set: home.rule_set.clone(),
            scale_division_g: home.scales.fine_division_g,
            meat_scale_division_g: home.scales.meat_division_g,
        }
    }

    fn one_by_one(&self, pieces: &[SheetPiece]) -> Result<Sheet, Vec<FieldError>> {
        let mut sheet = self.setting.empty(false);
        for piece in pieces {
            let got = dry_cure(&self.dry_ask(piece), self.setting.catalogue)?;
            let lines = self.lines(
                piece.meat,
                (got.cure_g, got.salt_g),
                &got.to_hit,
                &got.additions,
            );
            let made_of = &self.setting.cure.made_of;
            let scales = self.setting.home.scales;
            let nitrite = band(got.to_hit.cure_g, made_of.nitrite, piece.meat.0, scales);
            add_up(&mut sheet.lines, &lines);
            let part = self
                .setting
                .piece(piece, lines, nitrite, got.nitrate_ppm, got.findings)?;
            sheet.pieces.push(part);
        }
        sheet.total_g = sheet.lines.iter().map(|l| l.shown_g).sum();
        Ok(sheet)
    }

    fn mix(&self, pieces: &[SheetPiece]) -> Result<Sheet, Vec<FieldError>> {
        let first = self.dry_ask(&pieces[0]);
        let got = batch_mix(
            &BatchMixAsk {
                pieces: pieces
                    .iter()
                    .map(|p| BatchPiece {
                        id: p.tag.clone(),
                        mass_g: p.meat.0,
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
                skin_on: pieces.iter().any(|p| p.shape.skin_on),
                rule_set: first.rule_set,
                scale_division_g: first.scale_division_g,
                meat_scale_division_g: first.meat_scale_division_g,
            },
            self.setting.catalogue,
        )?;
        let meat: Grams = pieces.iter().map(|p| p.meat).sum();
        let mut sheet = self.setting.empty(true);
        sheet.lines = self.lines(meat, (got.cure_g, got.salt_g), &got.to_hit, &got.additions);
        sheet.total_g = sheet.lines.iter().map(|l| l.shown_g).sum();
        sheet.findings = got.findings;
        for (piece, portion) in pieces.iter().zip(&got.pieces) {
            let of = |part: f64, whole: f64| if whole > 0.0 { part / whole } else { 0.0 };
            let share = of(portion.portion_g, got.total_g);
            let shown = of(portion.shown_g, sheet.total_g);
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
            // The mix holds the cure that was hit, not the one rounded half up.
            let part = of(got.to_hit.cure_g, got.weighed.cure_g);
            let nitrite = Band {
                nominal: f64::midpoint(low, high) * part,
                low: low * part,
                high: high * part,
            };
            let part = self
                .setting
                .piece(piece, lines, nitrite, got.nitrate_ppm, Vec::new())?;
            sheet.pieces.push(PieceSheet {
                portion_g: Some(portion.shown_g),
                ..part
            });
        }
        Ok(sheet)
    }

    fn lines(
        &self,
        meat: Grams,
        (cure_g, salt_g): (f64, f64),
        hit: &ToHit,
        additions: &[WeighedAddition],
    ) -> Vec<SheetLine> {
        let setting = self.setting;
        let own_salt = cure_g * setting.cure.made_of.salt;
        let in_sauces = setting.dose.salt_in_sauces().0 * meat.0 / 1_000.0;
        let salt_made_of = format!(
            "{}, less {} g that the cure brings{}",
            setting.per_kg(meat, self.measure.salt),
            trim(own_salt, 1),
            if in_sauces > 0.0 {
                format!(" and {} g in the sauces", trim(in_sauces, 1))
            } else {
                String::new()
            }
        );
        let mut lines = vec![
            SheetLine {
                shown_g: hit.cure_g,
                ..setting.line(
                    Role::CuringSalt,
                    &setting.cure.said(),
                    Grams(cure_g),
                    setting.per_kg(meat, self.measure.cure),
                )
            },
            SheetLine {
                shown_g: hit.salt_g,
                ..setting.line(Role::Salt, "salt", Grams(salt_g), salt_made_of)
            },
        ];
        let weighed = additions.iter().map(|a| Grams(a.mass_g));
        lines.extend(setting.seasonings(meat, weighed));
        lines.retain(|l| l.exact_g > 0.0);
        lines
    }
}
