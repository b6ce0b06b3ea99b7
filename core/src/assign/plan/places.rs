//! Hooks, tubs and fridge: what there is, what is taken, and what a piece takes up.

use crate::assign::suggest::Places;
use crate::builds::Build;
use crate::catalogue::dosing::Vessel;
use crate::household::Household;
use crate::ledger::book::Book;
use crate::ledger::state::Stage;
use crate::place::{PlaceMeasure, PlaceUse};
use crate::shape::size::Size;
use crate::units::Grams;
use serde::{Deserialize, Serialize};

/// A hook of sausages carries so much (g).
pub(super) const SAUSAGE_HOOK_G: f64 = 1_500.0;

/// One use of places: what there is, and what is taken.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PlaceTaken {
    /// What it is used for.
    pub what: PlaceUse,
    /// What it is counted in.
    pub measure: PlaceMeasure,
    /// In all; none when it was never listed.
    pub in_all: Option<f64>,
    /// Taken now by what is on its way.
    pub taken: f64,
}

impl PlaceTaken {
    /// What is free.
    #[must_use]
    pub fn free(self) -> Option<f64> {
        self.in_all.map(|all| (all - self.taken).max(0.0))
    }
}

/// So much of each use that plans reckon with; nothing of those that are not named.
fn of_uses(amounts: &[(PlaceUse, f64)]) -> Places {
    let of = |what| {
        amounts
            .iter()
            .filter(move |(w, _)| *w == what)
            .map(|(_, a)| a)
    };
    Places(PlaceUse::PLANNED.map(|what| of(what).sum()).into())
}

/// What a piece of so much meat takes up on its way through a build; a ground one is counted
/// with its block.
#[must_use]
pub fn places(build: &Build, usable: Grams) -> Places {
    if build.is_ground() {
        return Places::default();
    }
    let water = build
        .dose
        .as_ref()
        .map_or(0.0, |d| build.method.dosing().water_per_meat(d));
    let litres = Size::volume(usable).0 + usable.0 * water / 1_000.0;
    let only = |amount: f64, so: bool| if so { amount } else { 0.0 };
    of_uses(&[
        (PlaceUse::Hang, only(1.0, build.hangs())),
        (PlaceUse::Brine, only(litres, build.vessel() == Vessel::Tub)),
        (PlaceUse::Cold, only(litres, build.dose.is_some())),
    ])
}

/// What a gram of a ground block takes up.
pub(super) fn places_per_gram(build: &Build) -> Places {
    let hooks = if build.hangs() {
        1.0 / SAUSAGE_HOOK_G
    } else {
        0.0
    };
    of_uses(&[
        (PlaceUse::Hang, hooks),
        (PlaceUse::Cold, Size::volume(Grams(1.0)).0),
    ])
}

/// What is taken now by what is on its way.
#[must_use]
pub fn places_now(book: &Book, home: &Household) -> Vec<PlaceTaken> {
    let mut taken = Places::default();
    for (_, piece) in book.pieces() {
        let Some(build) = piece.build() else { continue };
        match piece.stage() {
            Stage::InCure => taken = taken.plus(&places(build, Grams(piece.mass.grams()))),
            Stage::Hang | Stage::Hanging => {
                taken = taken.plus(&of_uses(&[(PlaceUse::Hang, 1.0)]));
            }
            Stage::Assign
            | Stage::Dose
            | Stage::Smoke
            | Stage::Pack
            | Stage::Packed
            | Stage::CutUp
            | Stage::Joined
            | Stage::Discarded => {}
        }
    }
    let equipment = home.equipment.as_ref();
    let of = |(i, what): (usize, &PlaceUse)| PlaceTaken {
        what: *what,
        measure: what.measure(),
        in_all: equipment.and_then(|e| e.room_for(*what)),
        taken: taken.of(i),
    };
    PlaceUse::PLANNED.iter().enumerate().map(of).collect()
}
