//! What is wrong with the curing salts themselves, what speeds them up, and the meat.

use super::STRONG;
use crate::catalogue::ACCELERATOR_MARGIN;
use crate::catalogue::cures::Role;
use crate::catalogue::lexicon::Pure;
use crate::catalogue::species::RawDryingVerdict;
use crate::caution::{Code, Finding, Severity};
use crate::dose::limits::{Class, Law, nitrate_in_fried};
use crate::recipe::section::{Page, Part, Reader};
use crate::recipe::sums::{Sums, is_in};
use crate::recipe::{AssumptionCode, times};
use crate::units::show::{capital, trim};

/// Meat that nobody eats dried raw, however well it is cured.
pub(in crate::recipe) fn never_raw(page: &Page<'_>, reader: &Reader<'_>) -> Vec<Finding> {
    times::meats(page, reader)
        .into_iter()
        .filter_map(|meat| {
            let raw = &reader.catalogue.species(&meat.key)?.raw_drying;
            (raw.verdict == RawDryingVerdict::Refused).then(|| {
                Finding::new(
                    Code::SpeciesCaution,
                    Severity::Stop,
                    format!(
                        "{} is never eaten dried raw. {}",
                        capital(&meat.name),
                        raw.words
                    ),
                )
                .remedy("Cook it: smoke it to its safe temperature, or dry it only after.")
            })
        })
        .collect()
}

/// What is wrong with the curing salts themselves.
pub(in crate::recipe) fn cures(
    page: &Page<'_>,
    sums: &Sums,
    class: Class,
) -> Vec<(Finding, Option<usize>)> {
    let mut found = Vec::new();
    let here: Vec<(usize, &Part)> = page
        .parts
        .iter()
        .enumerate()
        .filter(|(_, p)| is_in(p) && p.role == Some(Role::CuringSalt))
        .collect();
    let mut kinds: Vec<(&str, usize)> = Vec::new();
    for (i, part) in &here {
        let Some(brew) = &part.brew else { continue };
        let kind = brew.key.as_deref().unwrap_or(&brew.name);
        if !kinds.iter().any(|(k, _)| *k == kind) {
            kinds.push((kind, *i));
        }
    }
    if let [(_, first), (_, second), ..] = kinds.as_slice() {
        let said = |i: usize| {
            page.parts[i]
                .brew
                .as_ref()
                .map_or_else(String::new, |b| b.name.clone())
        };
        found.push((
            Finding::new(
                Code::TwoCures,
                Severity::Stop,
                format!(
                    "Two curing salts in one recipe, {} and {}: each is a whole dose, and together they are more nitrite than anybody meant.",
                    said(*first),
                    said(*second)
                ),
            )
            .remedy("Take one of them: cure #1 for what is cooked or fried, cure #2 for what dries for weeks."),
            Some(*second),
        ));
    }
    for (i, part) in &here {
        let Some(brew) = &part.brew else { continue };
        match brew.pure {
            Some(Pure::PotassiumNitrate | Pure::SodiumNitrate) => {
                let mut finding = Finding::new(
                    Code::PotassiumNitrate,
                    Severity::Caution,
                    format!(
                        "{} is pure nitrate. It cures only as germs turn it into nitrite, slowly and nobody knows how far; a little too much is far too much.",
                        capital(&brew.name)
                    ),
                )
                .remedy("Take cure #1 by weight in its place, or cure #2 for what dries for weeks.");
                if let Some(n) = sums.nitrate {
                    finding = finding.saw(format!("{} ppm of nitrate", trim(n.nominal, 0)));
                }
                found.push((finding, Some(*i)));
                if class == Class::Fry && sums.nitrate.is_none() {
                    found.push((
                        nitrate_in_fried(),
                        Some(*i),
                    ));
                }
            }
            Some(Pure::SodiumNitrite | Pure::PotassiumNitrite) => found.push((
                Finding::new(
                    Code::PureNitrite,
                    Severity::Stop,
                    "Pure nitrite is a poison: a teaspoon can kill, and no kitchen scale weighs the tenth of a gram that a kilogram of meat takes.",
                )
                .remedy("Take cure #1, which is one part of it in sixteen."),
                Some(*i),
            )),
            None => {}
        }
        // A pinch of it, or as much as one likes, is no dose.
        let no_dose = sums.masses[*i].is_none() && !brew.unknown;
        if no_dose {
            let packet = part
                .open
                .iter()
                .any(|q| q.code == AssumptionCode::PartOfPacket);
            found.push((
                Finding::new(
                    Code::CureNotWeighed,
                    if packet || brew.made_of.nitrite < STRONG {
                        Severity::Caution
                    } else {
                        Severity::Stop
                    },
                    if packet {
                        "A packet of curing salt is no dose: how much nitrite goes in cannot be told."
                    } else {
                        "A curing salt without a weight is no dose: a pinch or a spoon by eye may be no nitrite at all or too much nitrite."
                    },
                )
                .wants("a weight, such as 2.5 g/kg of cure #1")
                .remedy("Weigh it for the weight of the meat."),
                Some(*i),
            ));
        }
        // A rate for one cure with another in the hand.
        if sums.nitrate.is_none()
            && class == Class::Fry
            && brew.made_of.nitrate > 0.0
            && brew.pure.is_none()
        {
            found.push((
                nitrate_in_fried().saw(format!("{} holds nitrate", brew.name)),
                Some(*i),
            ));
        }
    }
    found
}

pub(in crate::recipe) fn accelerators(
    page: &Page<'_>,
    sums: &Sums,
    reader: &Reader<'_>,
    class: Class,
    law: Law,
) -> Vec<(Finding, usize)> {
    let mut found = Vec::new();
    for &(i, ppm) in &sums.accelerator {
        let part = &page.parts[i];
        let name = part.ingredient.as_deref().unwrap_or("accelerator");
        let Some(most) = reader.catalogue.accelerator(name).map(|a| a.most_ppm) else {
            continue;
        };
        if part.purity.is_none() {
            found.push((
                Finding::new(
                    Code::AcceleratorPurity,
                    Severity::Caution,
                    format!("“{name}” may be a blend with little in it."),
                )
                .wants("what its label says it holds of erythorbate or ascorbate")
                .remedy("It is reckoned as pure; go by its label."),
                i,
            ));
        }
        if ppm > most + ACCELERATOR_MARGIN {
            found.push((
                Finding::new(
                    Code::AcceleratorOverCap,
                    Severity::Caution,
                    format!("More {name} than is allowed: the limit is {most} ppm of the meat."),
                )
                .saw(format!("{} ppm", trim(ppm, 0)))
                .wants(format!("at most {most} ppm"))
                .remedy(format!("Take {} g/kg.", trim(most / 1_000.0, 3))),
                i,
            ));
        }
    }
    let has = page
        .parts
        .iter()
        .any(|p| is_in(p) && p.role == Some(Role::Accelerator));
    let first_cure = page
        .parts
        .iter()
        .position(|p| is_in(p) && p.brew.as_ref().is_some_and(|b| b.made_of.nitrite > 0.0));
    if let Some(line) = first_cure {
        if law == Law::Injected && class == Class::Fry && !has {
            found.push((
                Finding::new(
                    Code::AcceleratorMissing,
                    Severity::Info,
                    "Pumped bacon is made with 550 ppm of erythorbate or ascorbate beside its nitrite: without it nitrosamines form in the pan.",
                )
                .wants("0.55 g/kg")
                .remedy("Add sodium erythorbate, 0.55 g/kg."),
                line,
            ));
        }
        if has && !sums.method.is_brine() {
            found.push((
                Finding::new(
                    Code::AcceleratorWithNitrite,
                    Severity::Info,
                    "Mixed dry with nitrite ahead of time, or in warm water, what speeds the cure up uses the nitrite up and gives off toxic gas.",
                )
                .remedy("Weigh it by itself and put it on last."),
                line,
            ));
        }
    }
    found
}
