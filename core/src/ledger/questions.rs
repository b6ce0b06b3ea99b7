//! Numbers that could be, but look mistyped: asked about once, before they are written down.

use super::post::{explained, is_explained};
use super::state::State;
use super::{Act, Loss, PieceWeighed};
use crate::animal;
use crate::caution::{Code, Finding, Severity};
use crate::units::show::{length, mass, trim};
use crate::units::{Milligrams, Units};

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

/// What to ask before `act` is written down; empty when nothing looks odd.
#[must_use]
pub fn questions(act: &Act, state: &State, units: Units) -> Vec<Finding> {
    match act {
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
                tenfold(
                    net,
                    found.mass.grams() * (1.0 - limit),
                    found.mass.grams(),
                    units,
                ),
            )]
        }
        _ => Vec::new(),
    }
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
    let usual = animal::expect(species, lot.received.known, state.received.grams())
        .and_then(|e| e.cuts.into_iter().find(|c| c.cut == new.cut))
        .map(|c| c.mass_g);
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
    } else if let Some(usual) = usual
        && grams > usual.high * FAR
    {
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
            tenfold(grams, usual.low / 4.0, usual.high, units),
        ));
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

fn tenfold(value: f64, low: f64, high: f64, units: Units) -> Option<String> {
    [value * 10.0, value / 10.0, value * 1_000.0, value / 1_000.0]
        .into_iter()
        .find(|v| (low..=high).contains(v))
        .map(|v| format!("Did you mean {}?", mass(v, units.mass)))
}

fn mistyped(message: String, saw: String, wants: String, way_out: Option<String>) -> Finding {
    Finding::new(Code::LooksMistyped, Severity::Caution, message)
        .saw(saw)
        .wants(wants)
        .way_out(way_out.unwrap_or_else(|| "Look at the scale again, or keep it as typed.".into()))
}
