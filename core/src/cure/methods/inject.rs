//! Injection: brine pumped into the meat; what is left of it covers the piece, or is thrown away. The wish sets how
//! strong the brine has to be; the scale before and after says what really went in.

use super::cover::strength;
use super::equilibrium::{WATER, WATER_PER_MEAT, lay_in, no_water, poured};
use super::{DoseField, DoseUnit, Dosing, Vessel, Waits};
use crate::catalogue::cures::Role;
use crate::catalogue::dosing::Spooned;
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::cure::cover::USUAL_PICKUP;
use crate::cure::dry::to_hit;
use crate::cure::sheet::{PumpSheet, Setting, Sheet, SheetLine, Table};
use crate::cure::time::Method;
use crate::dose::TakenUp;
use crate::dose::contents::GetsIn;
use crate::dose::limits::{Form, Law};
use crate::dose::uptake::Governs;
use crate::units::show::{length, share, trim};
use crate::units::{Band, Fraction, Grams, Millimetres, PPM, to_division};

const PUMP: DoseField = DoseField {
    name: "pump_fraction",
    label: "Pumped in",
    unit: DoseUnit::Percent,
    hint: "Percent of the meat, usually 8 to 12.",
    spoon: Spooned::Nothing,
    needed: true,
    own: true,
};

const fn of_meat(name: &'static str, label: &'static str, hint: &'static str) -> DoseField {
    DoseField {
        name,
        label,
        unit: DoseUnit::Percent,
        hint,
        spoon: Spooned::Nothing,
        needed: true,
        own: true,
    }
}

const NITRITE: DoseField = DoseField {
    name: "nitrite_ppm",
    label: "Nitrite",
    unit: DoseUnit::Content,
    hint: "In the meat, by what is pumped in and what it takes up of the rest, such as 130 ppm.",
    spoon: Spooned::Nothing,
    needed: true,
    own: true,
};

const SALT: DoseField = of_meat("salt_fraction", "Salt", "Percent of the meat, such as 2.");

const SUGAR: DoseField = of_meat("sugar_fraction", "Sugar", "Percent of the meat, such as 1.");

const COVER: DoseField = DoseField {
    name: "rest_covers",
    label: "The rest covers it",
    unit: DoseUnit::Tick,
    hint: "Yes when it lies in what is left of the brine, no when that is thrown away.",
    spoon: Spooned::Nothing,
    needed: true,
    own: true,
};

const SPACING: DoseField = DoseField {
    name: "spacing_mm",
    label: "From site to site",
    unit: DoseUnit::Length,
    hint: "25 to 40 mm; farther apart spots stay uncured.",
    spoon: Spooned::Nothing,
    needed: false,
    own: true,
};

/// A needle set farther apart leaves spots between (mm).
const FARTHEST: f64 = 40.0;

const CLOSEST: f64 = 5.0;

const USUAL_SPACING: f64 = 30.0;

/// What is mixed over what is pumped, where the rest is thrown away: needle and bowl keep some.
const SPARE: f64 = 1.2;

/// Under this share of water a brine is a slush.
const LEAST_WATER: f64 = 0.6;

/// How much of its box a piece fills, and what a cubic millimetre of it weighs (g).
const FILLS: f64 = 0.85;

const G_PER_MM3: f64 = 1.05e-3;

/// A millilitre of such a brine weighs about this (g).
const G_PER_ML: f64 = 1.1;

pub(super) const DOSING: Dosing = Dosing {
    name: "pumped",
    fields: &[
        PUMP,
        NITRITE,
        SALT,
        SUGAR,
        COVER,
        SPACING,
        WATER,
        WATER_PER_MEAT,
    ],
    form: Some(Form::Whole),
    law: |_| Law::Injected,
    days_by: Method::Brine,
    vessel: |_| Vessel::Tub,
    mixes: false,
    waits: Waits::Deadline,
    soak_min: None,
    weigh,
};

fn weigh(setting: &Setting<'_>, table: &Table<'_>) -> Result<Sheet, Vec<FieldError>> {
    let dose = &setting.dose;
    let meat = table.meat();
    let pump = setting.need(&PUMP)?;
    if !(pump > 0.0 && pump <= 1.0) {
        return Err(vec![FieldError::new(
            PUMP.name,
            "Give what is pumped in, in percent of the meat, above 0, such as 10.",
        )]);
    }
    let covers = setting.need(&COVER)? > 0.0;
    let wish = Wish::of(setting, covers, pump)?;
    let water = Grams(match dose.number(&WATER) {
        Some(water) => water,
        None if covers => {
            to_division(meat.0 * super::equilibrium::water_per_meat(dose), 50.0).max(50.0)
        }
        None => to_division(meat.0 * pump * SPARE * wish.water, 10.0).max(10.0),
    });
    no_water(water)?;
    let brine = Grams(water.0 / wish.water);
    if brine.0 < meat.0 * pump {
        return Err(vec![FieldError::new(
            WATER.name,
            format!(
                "{} of brine is less than the {} to pump in. Take more water.",
                setting.say(brine),
                setting.say(meat * pump)
            ),
        )]);
    }
    let mut sheet = setting.empty(true);
    let line = |role, name: &str, part: f64| {
        let made_of = format!(
            "{} of {} of brine",
            share(Fraction(part)),
            setting.say(brine)
        );
        setting.line(role, name, brine * part, made_of)
    };
    sheet.lines = vec![
        poured(setting, water, meat),
        line(Role::CuringSalt, &setting.cure.label(), wish.cure),
        line(Role::Salt, "salt", wish.salt),
        line(Role::Sugar, "sugar", wish.sugar),
    ];
    if let Some(cure) = sheet.lines.iter_mut().find(|l| l.role == Role::CuringSalt) {
        cure.shown_g = wish.hit(setting, covers, pump, brine, cure);
    }
    sheet.lines.extend(setting.seasonings_for(meat));
    sheet.lines.retain(|l| l.exact_g > 0.0);
    sheet.total_g = sheet.lines.iter().map(|l| l.shown_g).sum();
    sheet.salometer_degrees = Some(strength(setting, &sheet.lines));
    let spacing = dose.number(&SPACING).unwrap_or(USUAL_SPACING);
    if spacing < CLOSEST {
        return Err(vec![FieldError::new(
            SPACING.name,
            "No needle is set so close. Give how far it is from site to site, such as 30 mm.",
        )]);
    }
    sheet.findings.extend(too_far(spacing, setting));
    lay_in(&mut sheet, setting, table, Band::default(), 0.0)?;
    for part in &mut sheet.pieces {
        let into = part.meat_g * pump;
        let sites = part.thickness_mm.map(|thick| {
            let area = part.meat_g / G_PER_MM3 / (thick * FILLS);
            (area / (spacing * spacing)).ceil().max(1.0)
        });
        part.pump = Some(PumpSheet {
            inject_g: into,
            to_weigh_g: part.meat_g + into,
            sites: sites.map(|s| s as u32),
            ml_per_site: sites.map(|s| into / G_PER_ML / s),
            spacing_mm: spacing,
        });
        part.taken_up = Some(TakenUp {
            pickup: USUAL_PICKUP,
            governs: Governs::Pickup,
            pump: Some(pump),
            covers,
        });
    }
    Ok(sheet)
}

/// What the brine is made of, as shares of it, for the wish to come true.
struct Wish {
    water: f64,
    cure: f64,
    salt: f64,
    sugar: f64,
}

impl Wish {
    fn of(setting: &Setting<'_>, covers: bool, pump: f64) -> Result<Self, Vec<FieldError>> {
        let made_of = &setting.cure.made_of;
        // All that gets in, as a share of the meat.
        let gets_in = pump + if covers { USUAL_PICKUP } else { 0.0 };
        let nitrite = setting.need_of_cure(&NITRITE)?;
        if nitrite > 0.0 && made_of.nitrite <= 0.0 {
            return Err(vec![FieldError::new(
                NITRITE.name,
                format!(
                    "{} holds no nitrite; choose a cure that does.",
                    setting.cure.label()
                ),
            )]);
        }
        let cure = if nitrite > 0.0 {
            nitrite / PPM / made_of.nitrite / gets_in
        } else {
            0.0
        };
        let salt = setting.need(&SALT)? / gets_in - cure * made_of.salt;
        let sugar = setting.need(&SUGAR)? / gets_in - cure * made_of.sugar;
        if salt < -1e-12 {
            return Err(vec![FieldError::new(
                SALT.name,
                "The cure alone brings more salt than you asked for. Ask for more salt, or less nitrite.",
            )
            .code("salt_below_cure")]);
        }
        let found = Self {
            water: 1.0 - cure - salt.max(0.0) - sugar.max(0.0),
            cure,
            salt: salt.max(0.0),
            sugar: sugar.max(0.0),
        };
        if found.water < LEAST_WATER {
            return Err(vec![FieldError::new(
                PUMP.name,
                format!(
                    "So little brine cannot carry so much: it would be {} water. Pump more in, or ask for less salt and sugar.",
                    share(Fraction(found.water.max(0.0)))
                ),
            )]);
        }
        Ok(found)
    }
}

impl Wish {
    /// The curing salt to hit: half up, but the next higher step where that would miss the floor.
    fn hit(
        &self,
        setting: &Setting<'_>,
        covers: bool,
        pump: f64,
        brine: Grams,
        cure: &SheetLine,
    ) -> f64 {
        let gets_in = pump + if covers { USUAL_PICKUP } else { 0.0 };
        let made_of = &setting.cure.made_of;
        let taken_up = GetsIn::TakenUp {
            brine: Band::exactly(brine.0),
            share: Band::exactly(gets_in),
        };
        let ppm = |g: f64| (taken_up.share_of(Band::exactly(g * made_of.nitrite)) * PPM).nominal;
        let law = setting.build.law();
        let (ceiling, floor) = setting.rules.edges(setting.build.class, law, false);
        let step = setting.home.scales.fine_division_g;
        to_hit(cure.exact_g, step, (ceiling, floor), ppm)
    }
}

fn too_far(spacing: f64, setting: &Setting<'_>) -> Option<Finding> {
    let said = |mm: f64| length(Millimetres(mm), setting.home.units.length);
    (spacing > FARTHEST).then(|| {
        Finding::new(
            Code::SitesTooFar,
            Severity::Caution,
            "The sites lie so far apart that spots between them stay uncured.",
        )
        .saw(said(spacing))
        .wants(format!("at most {}", said(FARTHEST)))
        .remedy(format!(
            "Set the needle every {}.",
            trim(USUAL_SPACING, 0) + " mm"
        ))
    })
}
