//! A salt box: buried in salt, to the hour. How much salt gets in is not known beforehand, so neither salt nor nitrite
//! is promised; the time is the dose, and the water it loses is the evidence.

use super::{DoseField, DoseUnit, Dosing, Vessel, Waits};
use crate::catalogue::cures::Role;
use crate::catalogue::dosing::{BuildDose, DosingMethod, Spooned};
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::cure::sheet::{Group, Setting, Sheet, SheetLine, Table, weighed};
use crate::cure::time::Method;
use crate::dose::Contents;
use crate::dose::limits::{Form, Law};
use crate::units::show::{share, trim};
use crate::units::{Fraction, Grams, Millimetres, to_division};

const SALT: DoseField = DoseField {
    name: "salt_per_meat",
    label: "Salt for the weight of the meat",
    unit: DoseUnit::Times,
    hint: "How many times the weight of the meat: 0.5 in a snug tray, 1.5 in a loose one; enough to bury it.",
    spoon: Spooned::Nothing,
    needed: true,
    own: true,
};

const fn time(
    name: &'static str,
    label: &'static str,
    hint: &'static str,
    needed: bool,
) -> DoseField {
    DoseField {
        name,
        label,
        unit: DoseUnit::Hours,
        hint,
        spoon: Spooned::Nothing,
        needed,
        own: false,
    }
}

const PER_25_MM: DoseField = time("hours_per_25_mm", "Hours for 25 mm", "By thickness.", false);

const PER_KG: DoseField = time(
    "hours_per_kg",
    "Hours for a kilogram",
    "By weight, for large legs.",
    false,
);

const LEAST: DoseField = time(
    "least_hours",
    "At least so many hours",
    "However slim.",
    true,
);

const MOST: DoseField = time(
    "most_hours",
    "At most so many hours",
    "However thick.",
    true,
);

/// Under this ratio nothing is buried.
const LEAST_RATIO: f64 = 0.5;

/// A curing salt stronger than this is no salt to bury meat in (nitrite, by mass).
const STRONGEST: f64 = 0.01;

/// Hours in the box by a product's numbers: for its thickness, or its weight, between the least and the most.
#[must_use]
pub fn hours(dose: &BuildDose, thickness: Millimetres, meat: Grams) -> f64 {
    let of = |field: &DoseField| dose.number(field);
    let by_weight = of(&PER_KG).map(|h| h * meat.0 / 1_000.0);
    let by_thickness = of(&PER_25_MM).unwrap_or(0.0) * thickness.0 / 25.0;
    let (least, most) = (of(&LEAST).unwrap_or(0.0), of(&MOST).unwrap_or(f64::MAX));
    // To the half hour: nobody digs a piece out by the minute.
    let exact = by_weight.unwrap_or(by_thickness).max(least).min(most);
    (exact * 2.0).round() / 2.0
}

pub(super) const DOSING: Dosing = Dosing {
    name: "salt box",
    fields: &[SALT, PER_25_MM, PER_KG, LEAST, MOST],
    form: Some(Form::Whole),
    law: Law::without_brine,
    days_by: Method::Dry,
    vessel: |_| Vessel::Dish,
    mixes: false,
    waits: Waits::Deadline,
    soak_min: Some([30, 120]),
    weigh,
};

fn weigh(setting: &Setting<'_>, table: &Table<'_>) -> Result<Sheet, Vec<FieldError>> {
    let ratio = setting.dose.number(&SALT).unwrap_or(1.0);
    let cure = &setting.cure;
    if cure.made_of.nitrite + cure.made_of.nitrate > STRONGEST {
        return Err(vec![FieldError::new(
            "own.cure",
            format!(
                "{} is far too strong to bury meat in. Take plain salt, or nitrite salt that is used as the salt.",
                cure.label()
            ),
        )]);
    }
    let salt = if cure.is_none() { "salt" } else { &cure.name };
    let role = if cure.is_none() {
        Role::Salt
    } else {
        Role::CuringSalt
    };
    let mut sheet = setting.empty(false);
    let mut found = Vec::new();
    for group in &table.groups {
        let dish = group.laid.as_ref().and_then(|l| l.dish.as_ref());
        let (all, made_of) = match dish {
            Some(dish) => {
                let pieces: Vec<_> = group.pieces.iter().map(|i| &table.pieces[*i]).collect();
                let units = setting.home.units;
                let filled = dish
                    .filled(group.meat, &pieces, units, setting.catalogue)
                    .map_err(|e| vec![e])?;
                found.extend(filled.finding);
                (filled.salt, filled.made_of)
            }
            None => (
                Grams(to_division(group.meat.0 * ratio, 10.0).max(10.0)),
                format!("{} × {}", setting.say(group.meat), trim(ratio, 2)),
            ),
        };
        for i in &group.pieces {
            let piece = &table.pieces[*i];
            let part = piece.meat / group.meat;
            let line = SheetLine {
                exact_g: all.0 * part,
                shown_g: all.0 * part,
                ..setting.line(role, salt, all, made_of.clone())
            };
            let mut lines = vec![line];
            lines.extend(setting.seasonings_for(piece.meat));
            let facts = weighed(&lines);
            let most = Contents::of(
                &facts,
                cure,
                piece.meat.0,
                (DosingMethod::SaltBox, None),
                None,
                (1.0, 1.0),
            );
            let nitrate = most.nitrate.high;
            let mut part = setting.piece(piece, lines, most.nitrite, nitrate, Vec::new())?;
            part.uptake = most.uptake;
            sheet.pieces.push(part);
        }
    }
    // Pieces stand on the sheet as they were named, whatever dish they lie in.
    let order = |id| table.pieces.iter().position(|p| p.id == id);
    sheet.pieces.sort_by_key(|p| order(p.piece));
    for part in sheet.pieces.clone() {
        crate::cure::sheet::add_up(&mut sheet.lines, &part.lines);
    }
    sheet.total_g = sheet.lines.iter().map(|l| l.shown_g).sum();
    let by_ratio = |g: &Group| g.laid.as_ref().is_none_or(|l| l.dish.is_none());
    let ratio = Some(ratio).filter(|_| table.groups.iter().any(by_ratio));
    sheet.findings = findings(ratio);
    sheet.findings.extend(found);
    Ok(sheet)
}

fn findings(ratio: Option<f64>) -> Vec<Finding> {
    let mut found = vec![
        Finding::new(
            Code::SaltNotPromised,
            Severity::Info,
            "How much salt gets in is not known beforehand: the hours are the dose, and longer is saltier.",
        )
        .remedy("Weigh it before and after: 5 % lost in the box says that the salt went in."),
    ];
    if let Some(ratio) = ratio.filter(|r| *r < LEAST_RATIO - 1e-9) {
        found.push(
            Finding::new(
                Code::NotBuried,
                Severity::Caution,
                "So little salt does not bury the meat: what lies bare takes none.",
            )
            .saw(share(Fraction(ratio)))
            .wants(format!("at least {}", share(Fraction(LEAST_RATIO))))
            .remedy("Take a snugger dish, or more salt."),
        );
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::testing::build;

    #[test]
    fn hours_go_by_thickness_between_the_least_and_the_most() {
        let tender = build("tenderloin-buried")
            .unwrap()
            .in_way("salt_box")
            .unwrap();
        let dose = tender.dose.unwrap();
        #[rustfmt::skip]
        let cases = [
            // mm    h
            (20.0,  20.0),
            (35.0,  28.0),
            (40.0,  32.0),
            (70.0,  36.0),
        ];
        for (mm, want) in cases {
            assert_eq!(hours(&dose, Millimetres(mm), Grams(600.0)), want, "{mm} mm");
        }
        let leg = build("ham-aged").unwrap().in_way("salt_box").unwrap();
        // 2.5 days a kilogram
        assert_eq!(
            hours(&leg.dose.unwrap(), Millimetres(90.0), Grams(3_000.0)),
            180.0
        );
    }
}
