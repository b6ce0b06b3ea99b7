//! What numbers that look mistyped have in common: what they would mean otherwise.

use super::Loss;
use super::post::is_explained;
use super::state::State;
use crate::catalogue::species::Range;
use crate::caution::{Code, Finding, Severity};
use crate::household::Household;
use crate::units::show::{mass, trim};
use crate::units::{GRAMS_PER_OUNCE, GRAMS_PER_POUND, Grams, MassUnit, Milligrams, Reading, Units};

/// A cut this many times its usual weight or thickness is asked about.
pub(crate) const FAR: f64 = 2.5;

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
        .saw(mass(Grams(size.grams()), units.mass))
        .wants("at most 2 %")
        .remedy("Look through the history for a mistyped digit and correct that entry.")
    })
}

/// What a number would mean with a digit more or less, or in another unit, if that would be usual.
pub(crate) fn other_reading(grams: f64, usual: Range, units: Units) -> Option<String> {
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
                mass(Grams(grams * factor), units.mass)
            )
        })
}

pub(crate) fn mistyped(
    message: String,
    saw: String,
    wants: String,
    remedy: Option<String>,
) -> Finding {
    Finding::new(Code::LooksMistyped, Severity::Caution, message)
        .saw(saw)
        .wants(wants)
        .remedy(remedy.unwrap_or_else(|| "Look at the scale again, or keep it as typed.".into()))
}

/// More on the scale than any scale of the house can weigh.
pub(crate) fn over_scale(reading: &Reading, home: &Household) -> Option<Finding> {
    let equipment = home.equipment.as_ref()?;
    equipment.over_scale(Grams(reading.value.grams()), home.units.mass)
}

/// A step that would have taken more than `limit` of a piece since it was weighed last.
pub(crate) fn lost_too_much(
    piece: super::PieceId,
    net: Milligrams,
    limit: f64,
    state: &State,
    units: Units,
) -> Vec<Finding> {
    let Some(found) = state.pieces.get(&piece) else {
        return Vec::new();
    };
    let (net, before) = (net.grams(), found.mass.grams());
    let lost = 1.0 - net / before.max(f64::MIN_POSITIVE);
    if lost <= limit {
        return Vec::new();
    }
    let least = before * (1.0 - limit);
    vec![mistyped(
        format!(
            "{} would have lost {} % since it was weighed last.",
            found.tag,
            trim(lost * 100.0, 0)
        ),
        mass(Grams(net), units.mass),
        format!("not much under {}", mass(Grams(least), units.mass)),
        other_reading(
            net,
            Range {
                low: least,
                high: before,
            },
            units,
        ),
    )]
}
