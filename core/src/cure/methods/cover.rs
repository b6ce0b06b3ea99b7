//! A cover brine by recipe: so much in a litre of water, over the meat for a counted time. How much gets in lies
//! between what is taken up and what meat and brine would share.

use super::equilibrium::{WATER, WATER_PER_MEAT, lay_in, no_water, poured, water};
use super::{DoseField, DoseUnit, Dosing, Vessel, Waits};
use crate::catalogue::cures::Role;
use crate::catalogue::dosing::Spooned;
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::cure::brine::Mixed;
use crate::cure::cover::{USUAL_PICKUP, governs};
use crate::cure::sheet::{Setting, Sheet, SheetLine, Table};
use crate::cure::time::Method;
use crate::dose::TakenUp;
use crate::dose::limits::{Form, Law};
use crate::units::show::trim;
use crate::units::{Band, Grams};

const fn in_water(
    name: &'static str,
    label: &'static str,
    hint: &'static str,
    spoon: Spooned,
    needed: bool,
) -> DoseField {
    DoseField {
        name,
        label,
        unit: DoseUnit::Strength,
        hint,
        spoon,
        needed,
        own: true,
    }
}

const CURE: DoseField = in_water(
    "cure_per_l",
    "Curing salt in the water",
    "As the recipe says it: 15 g/l, 2 oz per gal, 3 tbsp/gal.",
    Spooned::Cure,
    true,
);

const SALT: DoseField = in_water(
    "salt_per_l",
    "Salt in the water",
    "Beside the cure's own: 80 g/l, 1 cup/gal.",
    Spooned::Salt,
    true,
);

const SUGAR: DoseField = in_water(
    "sugar_per_l",
    "Sugar in the water",
    "40 g/l, 1/2 cup/gal.",
    Spooned::Sugar,
    false,
);

pub(super) const PICKUP: DoseField = DoseField {
    name: "pickup_fraction",
    label: "Brine taken up",
    unit: DoseUnit::Percent,
    hint: "Percent of the meat, where you have weighed it; 10 is usual.",
    spoon: Spooned::Nothing,
    needed: false,
    own: true,
};

/// More than this no meat takes up; less is not all that went in.
const PICKUPS: std::ops::RangeInclusive<f64> = 0.05..=0.60;

pub(super) const DOSING: Dosing = Dosing {
    name: "cover brine by recipe",
    fields: &[CURE, SALT, SUGAR, WATER, PICKUP, WATER_PER_MEAT],
    form: Some(Form::Whole),
    law: |_| Law::Immersed,
    days_by: Method::Brine,
    vessel: |_| Vessel::Tub,
    mixes: false,
    waits: Waits::Deadline,
    soak_min: Some([30, 120]),
    weigh,
};

fn weigh(setting: &Setting<'_>, table: &Table<'_>) -> Result<Sheet, Vec<FieldError>> {
    let dose = &setting.dose;
    let meat = table.meat();
    let water = Grams(water(dose, meat));
    no_water(water)?;
    let litres = water.0 / 1_000.0;
    let cure = setting.need_of_cure(&CURE)?;
    let (pickup, assumed) = pickup(dose.number(&PICKUP))?;
    let mut sheet = setting.empty(true);
    let line = |role, name: &str, per_l: f64| {
        let made_of = format!("{} l × {} g/l", trim(litres, 2), trim(per_l, 1));
        setting.line(role, name, Grams(litres * per_l), made_of)
    };
    sheet.lines = vec![
        poured(setting, water, meat),
        line(Role::CuringSalt, &setting.cure.label(), cure),
        line(Role::Salt, "salt", setting.need(&SALT)?),
        line(Role::Sugar, "sugar", setting.need(&SUGAR)?),
    ];
    sheet.lines.extend(setting.seasonings_for(meat));
    sheet.lines.retain(|l| l.exact_g > 0.0);
    sheet.total_g = sheet.lines.iter().map(|l| l.shown_g).sum();
    sheet.salometer_degrees = Some(strength(setting, &sheet.lines));
    sheet.findings.extend(assumed);
    lay_in(&mut sheet, setting, table, Band::default(), 0.0)?;
    for part in &mut sheet.pieces {
        let days = f64::from(part.days.unwrap_or(0));
        part.taken_up = Some(TakenUp {
            pickup,
            governs: governs(part.thickness_mm.unwrap_or(f64::INFINITY), days),
            pump: None,
            covers: true,
        });
    }
    Ok(sheet)
}

/// What is reckoned to be taken up, and what to say where a number was not believed.
fn pickup(said: Option<f64>) -> Result<(f64, Option<Finding>), Vec<FieldError>> {
    let Some(said) = said else {
        return Ok((USUAL_PICKUP, None));
    };
    if said <= 0.0 || said > *PICKUPS.end() {
        return Err(vec![FieldError::new(
            PICKUP.name,
            "Give the brine taken up in percent of the meat, above 0 and at most 60, such as 10.",
        )]);
    }
    if said < *PICKUPS.start() {
        let finding = Finding::new(
            Code::PickupAssumed,
            Severity::Info,
            "So small a gain is not all that went in: strong brine draws water out while its salt goes in. It is reckoned with 10 %.",
        );
        return Ok((USUAL_PICKUP, Some(finding)));
    }
    Ok((said, None))
}

/// The strength of a brine, 100 being as salt as water gets.
pub(super) fn strength(setting: &Setting<'_>, lines: &[SheetLine]) -> f64 {
    let of = |role: Role| -> f64 {
        let lines = lines.iter().filter(|l| l.role == role);
        lines.map(|l| l.exact_g).sum()
    };
    Mixed {
        water: of(Role::Water),
        salt: of(Role::Salt),
        sugar: of(Role::Sugar),
        cure: of(Role::CuringSalt),
        made_of: &setting.cure.made_of,
    }
    .salometer_degrees()
}
