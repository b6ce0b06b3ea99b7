//! What is weighed for the piece it goes on, or as one mix shared out by weight: rubs and mixes.

use super::table::portions;
use super::{Group, PieceSheet, Setting, Sheet, SheetLine, Table, add_up};
use crate::catalogue::cures::Role;
use crate::catalogue::dosing::DoseField;
use crate::caution::FieldError;
use crate::cure::batch::{BatchMixAsk, BatchPiece, Share, batch_mix};
use crate::cure::dry::{DryCureAsk, ToHit, band, dry_cure};
use crate::cure::{Addition, WeighedAddition};
use crate::units::Grams;
use crate::units::show::trim;

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
    table: &Table<'_>,
    cure: &DoseField,
    salt: &DoseField,
) -> Result<Sheet, Vec<FieldError>> {
    let measure = Measure {
        cure: setting.need_of_cure(cure)?,
        salt: setting.need(salt)?,
    };
    measured(setting, table, &measure)
}

/// Weighs for each vessel, or one mix for all of them.
pub(crate) fn measured(
    setting: &Setting<'_>,
    table: &Table<'_>,
    measure: &Measure,
) -> Result<Sheet, Vec<FieldError>> {
    let in_sauces = setting.dose.salt_in_sauces().0;
    if in_sauces > measure.salt + 1e-9 {
        return Err(vec![
            FieldError::new(
                "salt_g_per_kg",
                format!(
                    "What carries salt besides brings {} g of it on a kilogram, more than the {} g you asked for. Take less of it, or ask for more salt in all.",
                    trim(in_sauces, 1),
                    trim(measure.salt, 1)
                ),
            )
            .code("salt_below_cure"),
        ]);
    }
    let rub = Rub {
        setting,
        measure,
        table,
    };
    if table.mixed && table.groups.len() > 1 {
        rub.mix()
    } else {
        rub.one_by_one()
    }
}

struct Rub<'a> {
    setting: &'a Setting<'a>,
    measure: &'a Measure,
    table: &'a Table<'a>,
}

impl Rub<'_> {
    fn dry_ask(&self, meat: Grams, skin_on: bool) -> DryCureAsk {
        let Setting {
            build, dose, home, ..
        } = self.setting;
        DryCureAsk {
            meat_g: meat.0,
            cure: self.setting.cure.ask(),
            nitrite_ppm: None,
            cure_g_per_kg: (!self.setting.cure.is_none()).then_some(self.measure.cure),
            salt_g_per_kg: self.measure.salt - dose.salt_in_sauces().0,
            additions: dose.additions.iter().map(Addition::from).collect(),
            class: build.class,
            form: build.form,
            skin_on,
            rule_set: home.rule_set.clone(),
            scale_division_g: home.scales.fine_division_g,
            meat_scale_division_g: home.scales.meat_division_g,
        }
    }

    fn skin_on(&self, group: &Group) -> bool {
        let mut pieces = group.pieces.iter().map(|i| &self.table.pieces[*i]);
        pieces.any(|p| p.shape.skin_on)
    }

    fn one_by_one(&self) -> Result<Sheet, Vec<FieldError>> {
        let setting = self.setting;
        let mut sheet = setting.empty(self.table.mixed);
        let mut parts: Vec<Option<PieceSheet>> = vec![None; self.table.pieces.len()];
        for group in &self.table.groups {
            let ask = self.dry_ask(group.meat, self.skin_on(group));
            let got = dry_cure(&ask, setting.catalogue)?;
            let hit = setting.kept_to_cap(&got.to_hit, (got.cure_g, got.salt_g), group.meat);
            let lines = self.lines(group.meat, (got.cure_g, got.salt_g), &hit, &got.additions);
            let made_of = &setting.cure.made_of;
            let scales = setting.cure_scales();
            let cure = lines.iter().find(|l| l.role == Role::CuringSalt);
            let weighed = cure.map_or(0.0, |l| l.shown_g);
            let nitrite = band(weighed, made_of.nitrite, group.meat.0, scales);
            add_up(&mut sheet.lines, &lines);
            for (n, i) in group.pieces.iter().enumerate() {
                let piece = &self.table.pieces[*i];
                let part = piece.meat / group.meat;
                let own = lines.iter().map(|l| {
                    if group.pieces.len() == 1 {
                        l.clone()
                    } else {
                        SheetLine {
                            exact_g: l.exact_g * part,
                            shown_g: l.shown_g * part,
                            made_of: format!("{} % of its vessel", trim(part * 100.0, 1)),
                            counted: None,
                            ..l.clone()
                        }
                    }
                });
                // What is to be thought about a vessel is said once, of its first piece.
                let found = if n == 0 {
                    got.findings.clone()
                } else {
                    Vec::new()
                };
                let own = own.collect();
                parts[*i] = Some(setting.piece(piece, own, nitrite, got.nitrate_ppm, found)?);
            }
        }
        sheet.pieces = parts.into_iter().flatten().collect();
        sheet.total_g = sheet.lines.iter().map(|l| l.shown_g).sum();
        Ok(sheet)
    }

    fn mix(&self) -> Result<Sheet, Vec<FieldError>> {
        let setting = self.setting;
        let meat = self.table.meat();
        // The strictest of them rules the mix.
        let skin_on = self.table.pieces.iter().any(|p| p.shape.skin_on);
        let first = self.dry_ask(meat, skin_on);
        let got = batch_mix(
            &BatchMixAsk {
                pieces: self
                    .table
                    .groups
                    .iter()
                    .enumerate()
                    .map(|(i, g)| BatchPiece {
                        id: i.to_string(),
                        mass_g: g.meat.0,
                    })
                    .collect(),
                cure: first.cure,
                nitrite_ppm: None,
                cure_g_per_kg: first.cure_g_per_kg,
                salt_g_per_kg: first.salt_g_per_kg,
                additions: first.additions,
                class: first.class,
                form: first.form,
                skin_on,
                rule_set: first.rule_set,
                scale_division_g: first.scale_division_g,
                meat_scale_division_g: first.meat_scale_division_g,
            },
            setting.catalogue,
        )?;
        let hit = setting.kept_to_cap(&got.to_hit, (got.cure_g, got.salt_g), meat);
        let mut sheet = setting.empty(true);
        let (apart, bowl): (Vec<SheetLine>, Vec<SheetLine>) = self
            .lines(meat, (got.cure_g, got.salt_g), &hit, &got.additions)
            .into_iter()
            .partition(|l| l.apart);
        sheet.total_g = bowl.iter().map(|l| l.shown_g).sum();
        sheet.findings = got.findings;
        let scales = setting.cure_scales();
        let groups = &self.table.groups;
        let shares: Vec<f64> = groups.iter().map(|g| g.meat / meat).collect();
        let portions = portions(sheet.total_g, &shares, setting.home.scales.fine_division_g);
        let of = |part: f64, whole: f64| if whole > 0.0 { part / whole } else { 0.0 };
        let mut parts: Vec<Option<PieceSheet>> = vec![None; self.table.pieces.len()];
        let mut weighed_apart: Vec<SheetLine> = Vec::new();
        for ((group, share), portion) in groups.iter().zip(&shares).zip(portions) {
            // What it gets of the bowl as it was weighed, by the portion that the scale shows.
            let nitrite = Share {
                weighed_cure_g: hit.cure_g,
                meat_g: meat.0,
                total_g: sheet.total_g,
                piece_g: group.meat.0,
                portion_g: sheet.total_g * share,
                shown_g: portion,
            }
            .content(setting.cure.made_of.nitrite, scales);
            for i in &group.pieces {
                let piece = &self.table.pieces[*i];
                let within = piece.meat / group.meat;
                let exact = share * within;
                let shown = of(portion, sheet.total_g) * within;
                let of_bowl = bowl.iter().map(|l| SheetLine {
                    exact_g: l.exact_g * exact,
                    shown_g: l.shown_g * shown,
                    made_of: format!("{} % of the mix", trim(exact * 100.0, 1)),
                    counted: None,
                    ..l.clone()
                });
                let own = setting.seasonings_for(piece.meat).into_iter();
                let own: Vec<SheetLine> = own
                    .filter(|l| apart.iter().any(|a| a.name == l.name))
                    .collect();
                add_up(&mut weighed_apart, &own);
                let lines = of_bowl.chain(own).collect();
                let part = setting.piece(piece, lines, nitrite, got.nitrate_ppm, Vec::new())?;
                parts[*i] = Some(PieceSheet {
                    portion_g: (group.pieces.len() == 1).then_some(portion),
                    ..part
                });
            }
        }
        sheet.lines = bowl;
        sheet.lines.extend(weighed_apart);
        sheet.pieces = parts.into_iter().flatten().collect();
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
                    &setting.cure.label(),
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
        setting.as_by_jar(&mut lines);
        lines.retain(|l| l.exact_g > 0.0);
        lines
    }
}
