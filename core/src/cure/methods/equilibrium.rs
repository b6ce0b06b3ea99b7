//! An equilibrium brine: one brine for all pieces, with nothing in it that could oversalt them.

use super::{DoseField, DoseUnit, Dosing, Vessel, Waits};
use crate::catalogue::cures::Role;
use crate::catalogue::dosing::{BuildDose, Spooned};
use crate::caution::FieldError;
use crate::cure::brine::{EquilibriumBrineAsk, brine_hit, equilibrium_brine};
use crate::cure::dry::{band, scale_findings};
use crate::cure::sheet::{Setting, Sheet, SheetLine, Table};
use crate::cure::time::Method;
use crate::dose::limits::{Case, Form, Law};
use crate::units::show::{share, trim};
use crate::units::{Band, Fraction, Grams, to_division};

const NITRITE: DoseField = DoseField {
    name: "nitrite_ppm",
    label: "Nitrite",
    unit: DoseUnit::Content,
    hint: "Over meat and brine together, such as 130 ppm.",
    spoon: Spooned::Nothing,
    needed: true,
    own: true,
};

const SALT: DoseField = DoseField {
    name: "salt_fraction",
    label: "Salt",
    unit: DoseUnit::Percent,
    hint: "Percent of meat and water, such as 2.2.",
    spoon: Spooned::Nothing,
    needed: true,
    own: true,
};

const SUGAR: DoseField = DoseField {
    name: "sugar_fraction",
    label: "Sugar",
    unit: DoseUnit::Percent,
    hint: "Percent of meat and water, such as 1.5.",
    spoon: Spooned::Nothing,
    needed: false,
    own: true,
};

pub(super) const WATER: DoseField = DoseField {
    name: "water_g",
    label: "Water",
    unit: DoseUnit::Water,
    hint: "Enough to cover, by weight or volume, such as 1.5 l.",
    spoon: Spooned::Nothing,
    needed: false,
    own: true,
};

pub(super) const WATER_PER_MEAT: DoseField = DoseField {
    name: "water_per_meat",
    label: "Water for the weight of the meat",
    unit: DoseUnit::Times,
    hint: "How many times the weight of the meat.",
    spoon: Spooned::Nothing,
    needed: true,
    own: false,
};

/// Water is poured in steps of this (g).
const POURED: f64 = 50.0;

/// Water for the weight of the meat, as its product says.
pub(super) fn water_per_meat(dose: &BuildDose) -> f64 {
    dose.number(&WATER_PER_MEAT).unwrap_or(1.0)
}

/// Water to pour (g): what was said, else enough for the weight of the meat.
pub(super) fn water(dose: &BuildDose, meat: Grams) -> f64 {
    let usual = || to_division(meat.0 * water_per_meat(dose), POURED).max(POURED);
    dose.number(&WATER).unwrap_or_else(usual)
}

/// A brine without water is none.
pub(super) fn no_water(water: Grams) -> Result<(), Vec<FieldError>> {
    if water.0 > 0.0 {
        return Ok(());
    }
    Err(vec![FieldError::new(
        WATER.name,
        "Give the water of the brine, above zero, such as 1.5 l.",
    )])
}

/// What is poured, not weighed to the step of the fine scale.
pub(super) fn poured(setting: &Setting<'_>, water: Grams, meat: Grams) -> SheetLine {
    SheetLine {
        shown_g: water.0,
        ..setting.line(
            Role::Water,
            "water",
            water,
            format!("{} of the meat", share(Fraction(water / meat))),
        )
    }
}

/// Lays every piece into what was mixed for all of them, each with its share by weight.
pub(super) fn lay_in(
    sheet: &mut Sheet,
    setting: &Setting<'_>,
    table: &Table<'_>,
    nitrite: Band,
    nitrate_ppm: f64,
) -> Result<(), Vec<FieldError>> {
    let meat = table.meat();
    for piece in table.pieces {
        let part = piece.meat / meat;
        let own = sheet.lines.iter().map(|l| SheetLine {
            exact_g: l.exact_g * part,
            shown_g: l.shown_g * part,
            made_of: format!("{} of the brine", share(Fraction(part))),
            counted: None,
            ..l.clone()
        });
        let part = setting.piece(piece, own.collect(), nitrite, nitrate_ppm, Vec::new())?;
        sheet.pieces.push(part);
    }
    Ok(())
}

pub(super) const DOSING: Dosing = Dosing {
    name: "in a brine that evens out",
    fields: &[NITRITE, SALT, SUGAR, WATER, WATER_PER_MEAT],
    form: Some(Form::Whole),
    law: |_| Law::Immersed,
    days_by: Method::Brine,
    vessel: |_| Vessel::Tub,
    mixes: false,
    waits: Waits::Slack,
    soak_min: None,
    weigh,
};

fn weigh(setting: &Setting<'_>, table: &Table<'_>) -> Result<Sheet, Vec<FieldError>> {
    let dose = &setting.dose;
    let pieces = table.pieces;
    let meat = table.meat();
    let scales = setting.home.scales;
    let water = water(dose, meat);
    let skin_on = pieces.iter().any(|p| p.shape.skin_on);
    let ask = EquilibriumBrineAsk {
        meat_g: meat.0,
        water_g: water,
        salt_fraction: setting.need(&SALT)?,
        sugar_fraction: setting.need(&SUGAR)?,
        nitrite_ppm: setting.need_of_cure(&NITRITE)?,
        cure: setting.cure.ask(),
        class: setting.build.class,
        skin_on,
        rule_set: setting.home.rule_set.clone(),
    };
    let got = equilibrium_brine(&ask, setting.catalogue)?;
    let mut sheet = setting.empty(true);
    sheet.salometer_degrees = Some(got.salometer_degrees);
    sheet.lines = lines(setting, meat, &ask, &got);
    sheet.total_g = sheet.lines.iter().map(|l| l.shown_g).sum();

    // Meat and brine share the nitrite, so the band is over both.
    let made_of = &setting.cure.made_of;
    let edges = setting
        .rules
        .edges(setting.build.class, Law::Immersed, skin_on);
    let hit = brine_hit(
        (got.cure_g, got.salt_g, got.sugar_g),
        meat.0 + water,
        scales.fine_division_g,
        edges,
        made_of,
    );
    for line in &mut sheet.lines {
        match line.role {
            Role::CuringSalt => line.shown_g = hit.cure_g,
            Role::Salt => line.shown_g = hit.salt_g,
            Role::Sugar
            | Role::Spice
            | Role::Liquid
            | Role::Water
            | Role::Accelerator
            | Role::Binder => {}
        }
    }
    sheet.total_g = sheet.lines.iter().map(|l| l.shown_g).sum();
    let weighed = hit.cure_g;
    let seasoned: f64 = sheet.lines.iter().map(|l| l.exact_g).sum();
    let whole = meat.0 + seasoned;
    let nitrite = band(weighed, made_of.nitrite, whole, scales);
    let nitrate = band(weighed, made_of.nitrate, whole, scales);
    let mut findings = setting
        .rules
        .judge(&Case {
            class: setting.build.class,
            law: Law::Immersed,
            skin_on,
            no_cure: setting.cure.is_none(),
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
    sheet.findings = findings;
    lay_in(&mut sheet, setting, table, nitrite, nitrate.nominal)?;
    Ok(sheet)
}

fn lines(
    setting: &Setting<'_>,
    meat: Grams,
    ask: &EquilibriumBrineAsk,
    got: &crate::cure::brine::EquilibriumBrineAnswer,
) -> Vec<SheetLine> {
    let water = Grams(ask.water_g);
    let base = format!(
        "{} meat and {} water",
        setting.say(meat),
        setting.say(water)
    );
    let of_base = |part: f64| format!("{} of {base}", share(Fraction(part)));
    let mut lines = vec![
        poured(setting, water, meat),
        setting.line(
            Role::CuringSalt,
            &setting.cure.label(),
            Grams(got.cure_g),
            format!(
                "{} ppm nitrite over {base} and what is dissolved in it",
                trim(ask.nitrite_ppm, 0)
            ),
        ),
        setting.line(
            Role::Salt,
            "salt",
            Grams(got.salt_g),
            format!("{}, less the cure's own salt", of_base(ask.salt_fraction)),
        ),
        setting.line(
            Role::Sugar,
            "sugar",
            Grams(got.sugar_g),
            of_base(ask.sugar_fraction),
        ),
    ];
    lines.extend(setting.seasonings_for(meat));
    lines.retain(|l| l.exact_g > 0.0);
    lines
}
