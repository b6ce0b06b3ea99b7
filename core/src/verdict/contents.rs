//! What a label says beside its word: meat, ingredients, allergens, dates.

use crate::catalogue::cures::Role;
use crate::catalogue::meats::NO_MEAT;
use crate::cure::vessel::Shared;
use crate::dose::{Dose, DoseLine};
use crate::ledger::state::{Pack, Piece};
use crate::piece::printed::{LabelContents, PrintedKeep};
use crate::units::Milligrams;
use crate::verdict::{ActualContents, Assessment, Judge, Within};

/// What a label says beside its word, of meat and a dose that are known already.
#[must_use]
pub fn contents(
    judge: &Judge<'_>,
    within: &Within<'_>,
    (piece, pack): (&Piece, &Pack),
    verdict: &Assessment,
    really: Option<&ActualContents>,
) -> LabelContents {
    let keeps = judge.keeps(piece, pack, verdict, really).into_iter();
    LabelContents {
        meat: within.name(),
        ingredients: ingredients(judge, within, piece),
        allergens: allergens(judge, within, pack).0,
        keeps: keeps
            .map(|k| PrintedKeep {
                place: k.place,
                until: k.until,
            })
            .collect(),
    }
}

/// What is in it, the most first: each meat, what of the cure stays, coats and pastes. Brine that
/// was poured away is not in it.
pub(crate) fn ingredients(judge: &Judge<'_>, within: &Within<'_>, piece: &Piece) -> Vec<String> {
    let mut all: Vec<(String, Milligrams)> = Vec::new();
    let mut add = |name: String, mass: Milligrams| match all.iter_mut().find(|(n, _)| *n == name) {
        Some((_, there)) => *there += mass,
        None => all.push((name, mass)),
    };
    for meat in &within.meats {
        add(meat.traits.name.clone(), meat.mass);
    }
    for taken in within
        .bought
        .iter()
        .filter(|t| judge.meat_of(t).as_deref() == Some(NO_MEAT))
    {
        add(taken.name.clone(), taken.mass);
    }
    for (_, one) in &within.pieces {
        for coat in &one.coats {
            add(coat.name.clone(), coat.mass);
        }
    }
    if let Some(dose) = piece.dose() {
        let shared = within
            .pieces
            .first()
            .and_then(|(state, one)| judge.shares(state, one));
        for (name, mass) in stays(piece, dose, shared.as_ref()) {
            add(name, mass);
        }
    }
    for (_, one) in within.pieces.iter().filter(|(_, p)| p.id != piece.id) {
        // Cured trim that was ground in brings its cure with it, however little.
        if let Some(dose) = one.dose().filter(|_| piece.dose().is_none()) {
            for (name, mass) in stays(one, dose, None) {
                add(name, mass);
            }
        }
    }
    all.sort_by_key(|(_, mass)| std::cmp::Reverse(*mass));
    all.into_iter().map(|(name, _)| name).collect()
}

/// What meat takes up in a salt box, about, as a share of its weight; only the order on the label leans on it.
const TAKEN_IN_BOX: f64 = 0.04;

/// What of a dose is in the piece. Of a brine it is what evened out into the meat, and the water
/// that it gained.
fn stays(piece: &Piece, dose: &Dose, shared: Option<&Shared>) -> Vec<(String, Milligrams)> {
    let holds = &dose.cure.made_of;
    let name = |line: &DoseLine| {
        if line.role == Role::CuringSalt {
            let nitrate = if holds.nitrate > 0.0 {
                ", sodium nitrate"
            } else {
                ""
            };
            let sugar = if holds.sugar > 0.0 { ", sugar" } else { "" };
            format!("curing salt (salt, sodium nitrite{nitrate}{sugar})")
        } else {
            line.name.clone()
        }
    };
    let meat = piece.cure.as_ref().map_or(0.0, |c| c.meat.grams());
    if dose.method.is_buried() {
        // Most of what buried it is brushed off.
        let part = (meat * TAKEN_IN_BOX / dose.total_g().max(f64::MIN_POSITIVE)).min(1.0);
        let there = |l: &DoseLine| Milligrams::from_grams(l.mass.value.grams() * part);
        return dose.lines.iter().map(|l| (name(l), there(l))).collect();
    }
    if !dose.in_brine() {
        return dose.lines.iter().map(|l| (name(l), l.mass.value)).collect();
    }
    let lines = shared.map_or(&dose.lines, |s| &s.lines);
    let all: f64 = lines.iter().map(|l| l.mass.value.grams()).sum();
    let all_meat = shared.map_or(meat, |s| s.meat_g);
    let share = meat / (all_meat + all).max(f64::MIN_POSITIVE);
    let mut found = Vec::new();
    let mut dissolved = 0.0;
    for line in lines {
        let there = line.mass.value.grams() * share;
        match line.role {
            Role::CuringSalt | Role::Salt | Role::Sugar | Role::Accelerator => {
                dissolved += there;
                found.push((name(line), Milligrams::from_grams(there)));
            }
            // What stayed behind in the tub, and the water, which is counted by what it gained.
            Role::Spice | Role::Liquid | Role::Water | Role::Binder => {}
        }
    }
    let out = piece
        .weighings
        .iter()
        .find(|w| w.point == crate::piece::Point::OutOfCure);
    let gained = out.map_or(0.0, |w| w.net.grams() - meat);
    if gained > dissolved {
        found.push(("water".into(), Milligrams::from_grams(gained - dissolved)));
    }
    found
}

/// What went in brings for the allergic: by the names of what went in, and by what was typed with it.
#[must_use]
pub fn allergens_of(judge: &Judge<'_>, within: &Within<'_>) -> Vec<String> {
    let catalogue = judge.book.catalogue();
    let mut named = Vec::new();
    for (_, one) in &within.pieces {
        let lines = one
            .dose()
            .into_iter()
            .flat_map(|d| d.lines.iter().map(|l| l.name.as_str()));
        let coats = one.coats.iter().map(|c| c.name.as_str());
        let taken = one.taken.iter().map(|t| t.name.as_str());
        for ingredient in lines.chain(coats).chain(taken) {
            for allergen in catalogue.allergens_of(ingredient) {
                name(&mut named, &allergen.name);
            }
        }
        for typed in one.coats.iter().filter_map(|c| c.allergens.as_deref()) {
            typed
                .split([',', ';'])
                .for_each(|one| name(&mut named, one));
        }
    }
    named
}

/// The same with what was typed of the pack, and whether somebody did.
pub(crate) fn allergens(
    judge: &Judge<'_>,
    within: &Within<'_>,
    pack: &Pack,
) -> (Vec<String>, bool) {
    let mut named = allergens_of(judge, within);
    if let Some(typed) = &pack.allergens {
        typed
            .split([',', ';'])
            .for_each(|one| name(&mut named, one));
    }
    (named, pack.allergens.is_some())
}

/// Names something once; what is named with an explanation is not named without it again.
pub(crate) fn name(named: &mut Vec<String>, what: &str) {
    let what = what.trim();
    let plain = |n: &str| n.split(" (").next().unwrap_or(n).to_lowercase();
    if !what.is_empty() && !named.iter().any(|n| plain(n) == plain(what)) {
        named.push(what.to_string());
    }
}
