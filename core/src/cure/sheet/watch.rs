//! What is watched on every sheet, whichever way it was weighed: limits and floors of what the scale
//! will really show, salt, and what to do where a scale is too coarse.

use super::vessels::weighed;
use super::{Laid, OwnDose, PieceSheet, Setting, Sheet, SheetLine, SheetPiece, Table};
use crate::catalogue::ACCELERATOR_MARGIN;
use crate::catalogue::builds::Build;
use crate::catalogue::cures::{CureChoice, Role};
use crate::catalogue::dosing::{BuildDose, DosingMethod, Seasoning};
use crate::catalogue::rules::RuleSet;
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::cure::no_nitrite::planned;
use crate::cure::unusual::{thin_flap, unusual};
use crate::dose::Contents;
use crate::dose::limits::{Class, DRAWN, HUNG_SALT, LEAST_SALT, Law, floor_finding};
use crate::units::show::{self, content, decimals, mass, rate, trim};
use crate::units::{Band, GPerKg, Grams, Millimetres, Ppm, Units};

/// More salt than this on dry-rubbed meat nobody eats (g/kg).
pub(crate) const MOST_SALT: f64 = 60.0;

/// A build's own nitrite is lowered to its class's ceiling where it lies above it; what a person
/// typed stays as it was typed.
pub(super) fn lower(
    dose: &mut BuildDose,
    own: &OwnDose,
    build: &Build,
    cure: &CureChoice,
    rules: &RuleSet,
    skin_on: bool,
) {
    let (ceiling, _) = rules.edges(build.class, build.law(), skin_on);
    let share = cure.made_of.nitrite;
    let most = [
        ("nitrite_ppm", ceiling),
        ("cure_g_per_kg", ceiling / 1e6 / share * 1_000.0),
    ];
    for (name, most) in most {
        if let Some(number) = dose.numbers.get_mut(name)
            && share > 0.0
            && !is_typed(own, name)
            && *number > most
        {
            *number = most;
        }
    }
}

/// Whether a number of the dose was typed for this time.
fn is_typed(own: &OwnDose, name: &str) -> bool {
    let number = own.numbers.get(name).and_then(Option::as_ref);
    number.is_some_and(|a| !a.is_empty())
}

/// A brine's own strength, lowered so far that even all that may get in stays within the ceiling; none where it
/// does already, or where a person typed how strong it is to be. What it lacks then is said as a floor.
pub(super) fn weaker(
    sheet: &Sheet,
    setting: &Setting<'_>,
    own: &OwnDose,
    skin_on: bool,
) -> Option<BuildDose> {
    /// Left for what the scale rounds up.
    const ROUNDING: f64 = 0.97;
    let build = setting.build;
    let (ceiling, _) = setting.rules.edges(build.class, build.law(), skin_on);
    let taken = sheet.pieces.iter().filter(|p| p.uptake.is_some());
    let most = taken.map(|p| p.nitrite.high).fold(0.0, f64::max);
    if most <= ceiling {
        return None;
    }
    let name = ["nitrite_ppm", "cure_per_l"]
        .into_iter()
        .find(|name| setting.dose.numbers.contains_key(*name))?;
    if is_typed(own, name) {
        return None;
    }
    let mut dose = setting.dose.clone();
    *dose.numbers.get_mut(name)? *= ceiling / most * ROUNDING;
    Some(dose)
}

/// A dose so high that it is refused for its salt is named as nitrite first, with grams.
pub(super) fn nitrite_first(
    errors: Vec<FieldError>,
    setting: &Setting<'_>,
    pieces: &[SheetPiece],
) -> Vec<FieldError> {
    let salty = |e: &FieldError| e.code.as_deref() == Some("salt_below_cure");
    let share = setting.cure.made_of.nitrite;
    let per_kg = setting.dose.numbers.get("cure_g_per_kg").copied();
    let skin_on = pieces.iter().any(|p| p.shape.skin_on);
    let (ceiling, _) = setting
        .rules
        .edges(setting.build.class, setting.build.law(), skin_on);
    let asked = setting.dose.numbers.get("nitrite_ppm").copied();
    if let Some(asked) = asked.filter(|ppm| *ppm > ceiling && errors.iter().any(salty)) {
        return vec![FieldError::new(
            "nitrite_ppm",
            format!(
                "{} of nitrite is far too much; {} are allowed.",
                content(Ppm(asked)),
                content(Ppm(ceiling))
            ),
        )];
    }
    let Some(per_kg) = per_kg.filter(|g| g / 1_000.0 * share * 1e6 > ceiling) else {
        return errors;
    };
    if !errors.iter().any(salty) {
        return errors;
    }
    let meat: f64 = pieces.iter().map(|p| p.meat.0).sum();
    let right = ceiling / 1e6 / share * meat;
    let said = |g: f64| mass(Grams(g), setting.home.units.mass);
    vec![FieldError::new(
        "cure_g_per_kg",
        format!(
            "{} of {} is {} of nitrite; {} are allowed: weigh {}, not {}.",
            rate(GPerKg(per_kg)),
            setting.cure.label(),
            content(Ppm(per_kg / 1_000.0 * share * 1e6)),
            content(Ppm(ceiling)),
            said(right),
            said(per_kg / 1_000.0 * meat)
        ),
    )]
}

/// True for what the limits said of a dose, which is judged anew by what the scale will show.
const fn is_of_limits(code: Code) -> bool {
    matches!(
        code,
        Code::NitriteOverLimit
            | Code::NitrateOverLimit
            | Code::NitrateInFried
            | Code::NitrateNotNeeded
            | Code::OverHomeCap
            | Code::NitriteRefused
            | Code::NitriteBelowFloor
            | Code::ColourOnly
            | Code::NoNitrite
            | Code::NoNitriteHazard
    )
}

/// Judges a sheet by the numbers to hit.
pub(super) fn judge(sheet: &mut Sheet, setting: &Setting<'_>, table: &Table<'_>) {
    let pieces = table.pieces;
    sheet.findings.retain(|f| !is_of_limits(f.code));
    // What is shared by weight is alike in all of them; by eye, or over several products, it is not.
    let together = (sheet.mixed || sheet.in_brine)
        && !table.by_eye()
        && pieces.iter().all(|p| p.made.is_none());
    for (i, piece) in pieces.iter().enumerate() {
        let build = &setting.build_of(piece).key;
        let others = pieces
            .iter()
            .filter(|p| p.id != piece.id && setting.build_of(p).key == *build);
        let own = (piece.tag.as_str(), piece.shape.thickness());
        let thick = others.filter_map(|p| p.shape.thickness());
        let flap = thin_flap(own, thick, setting.home.units);
        if let Some(part) = sheet.pieces.get_mut(i) {
            part.findings.extend(flap);
        }
    }
    // What is said of several is said of the one that has most.
    let mut all: Vec<(Finding, f64)> = Vec::new();
    for (i, piece) in pieces.iter().enumerate() {
        let Some(part) = sheet.pieces.get(i) else {
            continue;
        };
        let mut found = limits(part, setting, piece);
        found.extend(unusual(
            &weighed(&part.lines),
            &setting.cure,
            part.meat_g,
            sheet.method,
            setting.catalogue,
        ));
        found.extend(odd_time(part, setting));
        // How much a salt box gives is not known, so nothing is proved by it either.
        let boxed = sheet.method.is_buried();
        let holds_no_nitrite = setting.cure.made_of.nitrite <= 0.0 || boxed;
        let laid = table.groups.iter().find(|g| g.pieces.contains(&i));
        let laid = laid.and_then(|g| g.laid.as_ref());
        let container = laid.and_then(Laid::without_air);
        if holds_no_nitrite {
            found.extend(planned(setting.build_of(piece), part.days, container));
        }
        found.extend(
            part.salt
                .and_then(|salt| salt_finding(setting.build_of(piece), sheet.method, salt)),
        );
        let batch = Batch::of(sheet, i, table, together);
        for finding in &mut found {
            explain(
                finding,
                part,
                &batch,
                setting,
                table.groups.len() == 1 || together,
            );
        }
        no_amount_does_both(&mut found);
        if together {
            let most = part.most_ppm();
            for finding in found {
                match all.iter_mut().find(|(f, _)| f.code == finding.code) {
                    Some((known, of)) if (known.severity, *of) >= (finding.severity, most) => {}
                    Some(known) => *known = (finding, most),
                    None => all.push((finding, most)),
                }
            }
            continue;
        }
        // Pieces of one vessel are alike: it is said of the first of them.
        let is_first = table.groups.iter().any(|g| g.pieces.first() == Some(&i));
        let part = &mut sheet.pieces[i];
        part.findings.retain(|f| !is_of_limits(f.code));
        if is_first || table.by_eye() || piece.made.is_some() {
            part.findings.extend(found);
        }
    }
    if together {
        for part in &mut sheet.pieces {
            part.findings.retain(|f| !is_of_limits(f.code));
        }
        let mut all: Vec<Finding> = all.into_iter().map(|(f, _)| f).collect();
        no_amount_does_both(&mut all);
        sheet.findings.splice(0..0, all);
    }
    sheet.findings.extend(accelerators(sheet, setting));
    if setting.cure.made_of.nitrite <= 0.0 {
        let unknown = |s: &&Seasoning| setting.catalogue.is_unknown(&s.name);
        let added = setting.dose.additions.iter().filter(unknown);
        let asked = added.filter_map(|s| may_be_a_cure(&s.name, s.g_per_kg));
        sheet.findings.extend(asked);
    }
    let alone = table.groups.len() == 1 || together;
    let remedy = finer(setting.home.scales.fine_division_g, alone);
    let parts = sheet.pieces.iter_mut().flat_map(|p| &mut p.findings);
    for finding in sheet.findings.iter_mut().chain(parts) {
        if matches!(finding.code, Code::ScaleCannotWeigh | Code::BandTooWide) {
            finding.remedy = Some(remedy.clone());
        }
    }
}

/// What helps where a scale is too coarse, of what is possible here.
fn finer(division_g: f64, alone: bool) -> String {
    let step = if division_g > 0.1 { "0.1" } else { "0.01" };
    let scale = format!("use a scale that reads {step} g");
    if alone {
        format!("Cure more meat at once, or {scale}.")
    } else {
        format!("Weigh one mix for all of them, or {scale}.")
    }
}

fn limits(part: &PieceSheet, setting: &Setting<'_>, piece: &SheetPiece) -> Vec<Finding> {
    let (build, rules) = (setting.build_of(piece), setting.rules);
    let law = build.law();
    let skin_on = piece.shape.skin_on && rules.limit(build.class, law, true).is_ok();
    let nitrite = part.nitrite;
    let times = |edge: f64| {
        if nitrite.nominal > 0.0 {
            edge / nitrite.nominal
        } else {
            1.0
        }
    };
    let contents = Contents {
        nitrite,
        nitrate: Band {
            nominal: part.nitrate_ppm,
            low: part.nitrate_ppm * times(nitrite.low),
            high: part.nitrate_ppm * times(nitrite.high),
        },
        salt: part.salt,
        uptake: part.uptake,
    };
    let no_cure = setting.cure.made_of.nitrite + setting.cure.made_of.nitrate <= 0.0;
    let mut found = contents
        .judge(rules, build.class, law, skin_on, no_cure)
        .unwrap_or_default();
    found.retain(|f| {
        !(f.code == Code::NitriteOverLimit
            && f.severity == Severity::Caution
            && nitrite.nominal <= part.ceiling_ppm + rules.stop_margin_ppm
            && nitrite.high <= part.ceiling_ppm * (1.0 + DRAWN))
    });
    if let Some(low) = floor_finding(build, law, rules, skin_on, contents.least()) {
        found.retain(|f| f.code != Code::NitriteBelowFloor);
        found.push(low);
    }
    found
}

/// Salt that neither cures nor keeps, and salt that nobody eats; as weighed, and only where it is
/// short by more than the scale can show.
pub(crate) fn salt_finding(build: &Build, method: DosingMethod, salt: Band) -> Option<Finding> {
    let step = (salt.high - salt.nominal).max(0.0) * 2.0;
    let said = |g: f64| rate(GPerKg(g));
    let hung = build.is_dried();
    let least = if hung { HUNG_SALT } else { LEAST_SALT };
    if salt.nominal < least - step - 1e-9 {
        return Some(
            Finding::new(
                Code::SaltLow,
                Severity::Caution,
                if hung {
                    "So little salt does not keep what hangs raw: the cure is salt first."
                } else {
                    "So little salt neither cures nor keeps."
                },
            )
            .saw(said(salt.nominal))
            .wants(format!("at least {}", said(least)))
            .remedy("Look whether a digit is missing, or keep it as typed: it is marked."),
        );
    }
    (!method.in_brine() && salt.nominal > MOST_SALT).then(|| {
        Finding::new(
            Code::SaltHigh,
            Severity::Caution,
            "So much salt nobody eats.",
        )
        .saw(said(salt.nominal))
        .wants(format!("at most {}", said(MOST_SALT)))
        .remedy("Look whether a digit is too many, or keep it as typed.")
    })
}

/// A time that was typed and that no rule comes near: a recipe's days under half of the shortest, a salt box's hours over twice
/// those by thickness.
fn odd_time(part: &PieceSheet, setting: &Setting<'_>) -> Option<Finding> {
    let days = |n: u32| show::days(f64::from(n));
    let shortest = part.schools.iter().map(|s| s.days).min();
    if let (Some(typed), Some(shortest)) = (setting.time.days, shortest)
        && typed * 2 < shortest
    {
        return Some(
            Finding::new(
                Code::OddTime,
                Severity::Caution,
                "Every cure-time rule asks for more than twice as long.",
            )
            .saw(days(typed))
            .wants(format!("at least {}", days(shortest)))
            .remedy("Check the days of the recipe. Saved as typed it stays on the piece."),
        );
    }
    let boxed = setting.time.hours?;
    let usual = crate::cure::methods::box_hours(
        &setting.dose,
        Millimetres(part.thickness_mm?),
        Grams(part.meat_g),
    );
    (boxed > usual * 2.0 + 1e-9).then(|| {
        Finding::new(
            Code::OddTime,
            Severity::Caution,
            "So long in the salt it is too salty to eat.",
        )
        .saw(format!("{} h", trim(boxed, 1)))
        .wants(format!("about {} h by its thickness", trim(usual, 1)))
        .remedy("Check whether days were typed for hours.")
    })
}

/// So much on a kilogram is what curing salts are dosed at (g/kg).
const AS_A_CURE: std::ops::RangeInclusive<f64> = 1.0..=5.0;

/// What is asked about a name that nothing here knows, dosed as curing salts are where there is no other.
#[must_use]
pub(crate) fn may_be_a_cure(name: &str, g_per_kg: f64) -> Option<Finding> {
    AS_A_CURE.contains(&g_per_kg).then(|| {
        Finding::new(
            Code::MayBeCure,
            Severity::Caution,
            format!("Is “{name}” a curing salt?"),
        )
        .saw(rate(GPerKg(g_per_kg)))
        .wants("a name that says what it is")
        .remedy("If it holds nitrite or nitrate, choose it as the curing salt. If it is a spice, save it as typed.")
    })
}

/// What speeds a cure up: how much of it is allowed, how pure it is, and what it may not lie beside.
fn accelerators(sheet: &Sheet, setting: &Setting<'_>) -> Vec<Finding> {
    let mut found = Vec::new();
    let catalogue = setting.catalogue;
    let named = setting.dose.additions.iter().filter_map(|s| {
        let known = catalogue.accelerator(&s.name)?;
        Some((s, known))
    });
    let mut some = false;
    for (seasoning, known) in named.filter(|(s, _)| s.g_per_kg > 0.0) {
        some = true;
        if known.diluted && seasoning.purity.is_none() {
            found.push(
                Finding::new(
                    Code::AcceleratorPurity,
                    Severity::Caution,
                    format!("“{}” may be a blend with little in it.", seasoning.name),
                )
                .wants("what its label says it holds of erythorbate or ascorbate")
                .remedy("Type its purity, such as 30 %; it is reckoned as pure."),
            );
        }
        let ppm = seasoning.g_per_kg * seasoning.purity.unwrap_or(1.0) * 1_000.0;
        if ppm > known.most_ppm + ACCELERATOR_MARGIN {
            found.push(
                Finding::new(
                    Code::AcceleratorOverCap,
                    Severity::Caution,
                    format!("More {} than is allowed.", seasoning.name),
                )
                .saw(content(Ppm(ppm)))
                .wants(format!("at most {}", content(Ppm(known.most_ppm))))
                .remedy(format!(
                    "Take {}.",
                    rate(GPerKg(
                        known.most_ppm / 1_000.0 / seasoning.purity.unwrap_or(1.0)
                    ))
                )),
            );
        }
    }
    let has_nitrite = setting.cure.made_of.nitrite > 0.0;
    if some && has_nitrite && !sheet.in_brine {
        found.push(
            Finding::new(
                Code::AcceleratorWithNitrite,
                Severity::Info,
                "Mixed dry with nitrite ahead of time, or in warm water, what speeds the cure up uses the nitrite up and gives off toxic gas.",
            )
            .remedy("Weigh it by itself and put it on last."),
        );
    }
    let pumped_bacon = setting.build.class == Class::Fry && setting.build.law() == Law::Injected;
    if pumped_bacon && has_nitrite && !some {
        found.push(
            Finding::new(
                Code::AcceleratorMissing,
                Severity::Caution,
                "Pumped bacon is made with 550 ppm of erythorbate or ascorbate beside its nitrite: without it nitrosamines form in the pan.",
            )
            .wants("0.55 g/kg")
            .remedy("Add sodium erythorbate, 0.55 g/kg."),
        );
    }
    found
}

/// The curing salt that one weighs at once: for a piece alone, or for all that shares one container or one mix.
struct Batch {
    /// As the scale shows it (g).
    shown_g: f64,
    /// As it was asked for (g).
    exact_g: f64,
    /// The meat that shares it (g).
    meat_g: f64,
    /// How many pieces share it.
    pieces: usize,
}

impl Batch {
    fn of(sheet: &Sheet, piece: usize, table: &Table<'_>, together: bool) -> Self {
        let group = table.groups.iter().find(|g| g.pieces.contains(&piece));
        let shares = |i: usize| together || group.is_some_and(|g| g.pieces.contains(&i));
        let parts = || sheet.pieces.iter().enumerate().filter(|(i, _)| shares(*i));
        let of = |grams: fn(&SheetLine) -> f64| -> f64 {
            let lines = parts().flat_map(|(_, p)| &p.lines);
            let cure = lines.filter(|l| l.role == Role::CuringSalt);
            cure.map(grams).sum()
        };
        Self {
            shown_g: of(|l| l.shown_g),
            exact_g: of(|l| l.exact_g),
            meat_g: parts().map(|(_, p)| p.meat_g).sum(),
            pieces: parts().count(),
        }
    }
}

/// Where one limit asks for less and another for more, no amount is right: the way out is another one, said once.
fn no_amount_does_both(found: &mut [Finding]) {
    let at = |code: Code| {
        found
            .iter()
            .position(|f| f.code == code && f.severity == Severity::Stop)
    };
    let (Some(over), Some(under)) = (at(Code::NitriteOverLimit), at(Code::NitriteBelowFloor))
    else {
        return;
    };
    found[over].remedy = Some(
        "No amount of curing salt is enough and not too much here. Pump it, lay it in a brine that evens out, or give it another time or another strength."
            .into(),
    );
    found[under].remedy = None;
}

/// A limit that only the scale breaks is said as that; one that was asked past is said in grams, of all that is weighed at once.
fn explain(
    finding: &mut Finding,
    part: &PieceSheet,
    batch: &Batch,
    setting: &Setting<'_>,
    alone: bool,
) {
    if finding.code != Code::NitriteOverLimit || finding.severity != Severity::Stop {
        return;
    }
    if batch.shown_g <= 0.0 {
        return;
    }
    let per_gram = part.most_ppm() / batch.shown_g;
    let exact = per_gram * batch.exact_g;
    finding.remedy = Some(if exact <= part.ceiling_ppm + 1e-9 {
        let division = setting.home.scales.fine_division_g;
        let room = part.ceiling_ppm - part.floor_ppm;
        let works = per_gram * division * batch.meat_g / room.max(1.0);
        format!(
            "It is the scale: its step is too coarse for so little meat, and works from about {}. {}",
            said_mass(works, setting.home.units),
            finer(division, alone)
        )
    } else {
        // As the scale can show it, and never rounded past the limit.
        let division = setting.home.scales.fine_division_g;
        let right = (part.ceiling_ppm / per_gram / division + 1e-9).floor() * division;
        let for_all = if batch.pieces > 1 {
            " for all of them"
        } else {
            ""
        };
        format!(
            "Weigh {} g{for_all}, not {}.",
            trim(right, decimals(division)),
            grams(batch.exact_g)
        )
    });
}

fn grams(g: f64) -> String {
    format!("{} g", trim(g, 1))
}

fn said_mass(g: f64, units: Units) -> String {
    mass(Grams((g / 100.0).ceil() * 100.0), units.mass)
}
