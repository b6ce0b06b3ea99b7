//! Numbers that could be, but look mistyped: asked about once, before they are written down.

use super::post::{explained, is_explained};
use super::state::State;
use super::{Act, Loss, PieceWeighed, Received};
use crate::animal::expect::OwnShares;
use crate::animal::{Portion, Range};
use crate::caution::{Code, Finding, Severity};
use crate::household::Household;
use crate::units::show::{length, mass, trim};
use crate::units::{GRAMS_PER_OUNCE, GRAMS_PER_POUND, MassUnit, Milligrams, Units};

/// Lighter than this is no piece (g).
const SMALLEST_PIECE_G: f64 = 20.0;
/// A cut this many times its usual weight or thickness is asked about.
const FAR: f64 = 2.5;
/// A step that takes more than this share is asked about, by step.
const STEP_LOSS: [(&str, f64); 4] = [
    ("out_of_cure", 0.20),
    ("smoked", 0.35),
    ("hung", 0.15),
    ("weighed_in", 0.20),
];

/// A lump this many times lighter than one of its cut is asked about.
const TINY: f64 = 8.0;

/// What to ask before `act` is written down; empty when nothing looks odd.
#[must_use]
pub fn questions(act: &Act, state: &State, home: &Household) -> Vec<Finding> {
    let mut asked = looks_odd(act, state, home.units);
    // What came in was weighed where it came from, often on a scale that is not the household's.
    let weighed = match act {
        Act::PieceWeighed(p) => Some(p.reading.mg),
        Act::ByproductWeighed { reading, .. } => Some(reading.mg),
        _ => None,
    };
    if let (Some(mg), Some(equipment)) = (weighed, &home.equipment) {
        asked.extend(equipment.over_scale(mg.grams(), home.units.mass));
    }
    asked
}

fn looks_odd(act: &Act, state: &State, units: Units) -> Vec<Finding> {
    match act {
        Act::Received(came) => received(came, units),
        Act::PieceWeighed(new) => piece(new, state, units),
        Act::BreakdownClosed => remainder(state, units),
        Act::OutOfCure { piece, reading }
        | Act::Smoked { piece, reading, .. }
        | Act::WeighedIn { piece, reading }
        | Act::TakenDown { piece, reading }
        | Act::Hung { piece, reading, .. } => {
            let Some(found) = state.pieces.get(piece) else {
                return Vec::new();
            };
            let tare = match act {
                Act::Hung { tare, .. } => tare.mg,
                _ => found.hanging.as_ref().map_or(Milligrams::ZERO, |h| h.tare),
            };
            let kind = if act.kind() == "taken_down" {
                "weighed_in"
            } else {
                act.kind()
            };
            let limit = STEP_LOSS
                .iter()
                .find(|(k, _)| *k == kind)
                .map_or(1.0, |(_, l)| *l);
            let net = (reading.mg - tare).grams();
            let lost = 1.0 - net / found.mass.grams().max(f64::MIN_POSITIVE);
            if lost <= limit {
                return Vec::new();
            }
            vec![mistyped(
                format!(
                    "{} would have lost {} % since it was weighed last.",
                    found.tag,
                    trim(lost * 100.0, 0)
                ),
                mass(net, units.mass),
                format!(
                    "not much under {}",
                    mass(found.mass.grams() * (1.0 - limit), units.mass)
                ),
                other_reading(
                    net,
                    Range {
                        low: found.mass.grams() * (1.0 - limit),
                        high: found.mass.grams(),
                    },
                    units,
                ),
            )]
        }
        _ => Vec::new(),
    }
}

/// A whole animal of a weight that its kind does not have, or a case of cuts nobody sells.
fn received(came: &Received, units: Units) -> Vec<Finding> {
    let grams = came.reading.mg.grams();
    let each = grams / f64::from(came.count.unwrap_or(1).max(1));
    let least = match came.portion {
        Portion::Case | Portion::Primal => 100.0,
        Portion::Whole | Portion::Half | Portion::Quarter => 300.0,
    };
    if each >= least {
        return Vec::new();
    }
    let way_out = other_reading(
        each,
        Range {
            low: least,
            high: 400_000.0,
        },
        units,
    );
    vec![mistyped(
        if came.count.is_some() {
            "That leaves hardly anything for each piece of the case.".into()
        } else {
            "That is very little to come in.".into()
        },
        mass(each, units.mass),
        format!("at least {}", mass(least, units.mass)),
        way_out,
    )]
}

fn piece(new: &PieceWeighed, state: &State, units: Units) -> Vec<Finding> {
    let Some(lot) = &state.lot else {
        return Vec::new();
    };
    let species = lot.species();
    let Some(cut) = species.cut(&new.cut) else {
        return Vec::new();
    };
    let grams = new.reading.mg.grams();
    let mut asked = Vec::new();
    if let Some(count) = lot.received.count {
        asked.extend(case_piece(grams, count, state, units));
    }
    let expected = state
        .expectation(&OwnShares::new())
        .and_then(|e| e.cuts.into_iter().find(|c| c.cut == new.cut));
    let usual = expected.as_ref().map(|c| c.mass_g);
    let lumps = f64::from(expected.and_then(|c| c.count).unwrap_or(1));
    if grams < SMALLEST_PIECE_G {
        asked.push(mistyped(
            "That is lighter than a slice.".into(),
            mass(grams, units.mass),
            format!("at least {}", mass(SMALLEST_PIECE_G, units.mass)),
            Some(format!(
                "Did you mean {}?",
                mass(grams * 1_000.0, units.mass)
            )),
        ));
    } else if let Some(usual) = usual {
        let one = Range {
            low: usual.low / lumps * 0.6,
            high: usual.high,
        };
        if grams > usual.high * FAR {
            asked.push(mistyped(
                format!(
                    "That is far more {} than this animal should have.",
                    cut.name
                ),
                mass(grams, units.mass),
                format!(
                    "{} to {} in all",
                    mass(usual.low, units.mass),
                    mass(usual.high, units.mass)
                ),
                other_reading(
                    grams,
                    Range {
                        low: usual.low / 4.0,
                        high: usual.high,
                    },
                    units,
                ),
            ));
        } else if grams < usual.low / lumps / TINY
            && let Some(way_out) = other_reading(grams, one, units)
        {
            asked.push(mistyped(
                format!("That is very little {}.", cut.name),
                mass(grams, units.mass),
                format!(
                    "{} to {} in all",
                    mass(usual.low, units.mass),
                    mass(usual.high, units.mass)
                ),
                Some(way_out),
            ));
        }
    }
    if let Some(mm) = new.thickness_mm {
        let usual = cut.thickness_mm;
        if mm > usual.high * FAR || mm < usual.low / FAR {
            let other = [mm * 10.0, mm / 10.0, mm / 25.4, mm * 25.4]
                .into_iter()
                .find(|v| (usual.low * 0.8..=usual.high * 1.25).contains(v));
            asked.push(mistyped(
                format!("That is not how thick {} is.", cut.name),
                length(mm, units.length),
                format!(
                    "about {} to {}",
                    length(usual.low, units.length),
                    length(usual.high, units.length)
                ),
                other.map(|v| {
                    format!(
                        "Did you mean {}? Type the unit with the number.",
                        length(v, units.length)
                    )
                }),
            ));
        }
    }
    asked
}

/// A case holds so many pieces of about the same weight.
fn case_piece(grams: f64, count: u32, state: &State, units: Units) -> Vec<Finding> {
    let weighed = state
        .pieces
        .values()
        .filter(|p| p.parents.is_empty())
        .count();
    let mean = state.received.grams() / f64::from(count);
    let mut asked = Vec::new();
    if weighed >= count as usize {
        asked.push(
            Finding::new(
                Code::TooManyPieces,
                Severity::Caution,
                "That is one piece more than the case held.",
            )
            .saw(format!("{} pieces", weighed + 1))
            .wants(format!("{count} pieces"))
            .way_out("Look whether one was weighed twice, or correct the number received."),
        );
    }
    if grams > mean * FAR || grams < mean / FAR {
        asked.push(mistyped(
            "That is far from what the pieces of this case weigh.".into(),
            mass(grams, units.mass),
            format!("about {}", mass(mean, units.mass)),
            other_reading(
                grams,
                Range {
                    low: mean / 1.6,
                    high: mean * 1.6,
                },
                units,
            ),
        ));
    }
    asked
}

fn remainder(state: &State, units: Units) -> Vec<Finding> {
    let (dressing, _) = explained(state);
    let unexplained = state.left - dressing;
    if is_explained(unexplained, state.received) {
        return Vec::new();
    }
    vec![
        Finding::new(
            Code::Unaccounted,
            Severity::Caution,
            "More is missing than cutting explains: it will stand in the books as unaccounted.",
        )
        .saw(mass(unexplained.grams(), units.mass))
        .wants("at most 2 %")
        .way_out("Look for a bone bucket that was not weighed, a wet tub on the scale, or a mistyped digit."),
    ]
}

/// A lot whose books hold more unexplained mass than handling loses.
#[must_use]
pub fn unaccounted(state: &State, units: Units) -> Option<Finding> {
    let missing = *state.losses.get(&Loss::Unaccounted)?;
    let size = Milligrams(missing.0.abs());
    (!is_explained(size, state.received)).then(|| {
        Finding::new(
            Code::Unaccounted,
            Severity::Caution,
            if missing.is_some() {
                "Mass is missing that nothing explains."
            } else {
                "There is more than came in."
            },
        )
        .saw(mass(size.grams(), units.mass))
        .wants("at most 2 %")
        .way_out("Look through the history for a mistyped digit and correct that entry.")
    })
}

/// What a number would mean with a digit more or less, or in another unit, if that would be usual.
fn other_reading(grams: f64, usual: Range, units: Units) -> Option<String> {
    let ounces_for_pounds = GRAMS_PER_POUND / GRAMS_PER_OUNCE;
    let imperial = units.mass == MassUnit::Imperial;
    // The slip that a household of these units makes comes first.
    let slips: [(f64, &str); 10] = if imperial {
        [
            (ounces_for_pounds, "ounces typed for pounds"),
            (1.0 / ounces_for_pounds, "pounds typed for ounces"),
            (10.0, "a digit too few"),
            (0.1, "a digit too many"),
            (1_000.0 / GRAMS_PER_POUND, "pounds typed for kilograms"),
            (GRAMS_PER_POUND / 1_000.0, "kilograms typed for pounds"),
            (GRAMS_PER_OUNCE, "grams typed for ounces"),
            (1.0 / GRAMS_PER_OUNCE, "ounces typed for grams"),
            (1_000.0, "grams typed for kilograms"),
            (0.001, "kilograms typed for grams"),
        ]
    } else {
        [
            (10.0, "a digit too few"),
            (0.1, "a digit too many"),
            (1_000.0, "grams typed for kilograms"),
            (0.001, "kilograms typed for grams"),
            (ounces_for_pounds, "ounces typed for pounds"),
            (1.0 / ounces_for_pounds, "pounds typed for ounces"),
            (GRAMS_PER_POUND / 1_000.0, "kilograms typed for pounds"),
            (1_000.0 / GRAMS_PER_POUND, "pounds typed for kilograms"),
            (GRAMS_PER_OUNCE, "grams typed for ounces"),
            (1.0 / GRAMS_PER_OUNCE, "ounces typed for grams"),
        ]
    };
    slips
        .into_iter()
        .find(|(factor, _)| (usual.low..=usual.high).contains(&(grams * factor)))
        .map(|(factor, slip)| {
            format!(
                "Did you mean {}? It looks like {slip}.",
                mass(grams * factor, units.mass)
            )
        })
}

fn mistyped(message: String, saw: String, wants: String, way_out: Option<String>) -> Finding {
    Finding::new(Code::LooksMistyped, Severity::Caution, message)
        .saw(saw)
        .wants(wants)
        .way_out(way_out.unwrap_or_else(|| "Look at the scale again, or keep it as typed.".into()))
}
