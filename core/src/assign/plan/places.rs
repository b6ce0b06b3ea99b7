//! Hooks, tubs and fridge: what there is, what is taken, and what a piece takes up.

use crate::assign::suggest::Places;
use crate::builds::Build;
use crate::catalogue::dosing::Vessel;
use crate::household::Household;
use crate::ledger::book::Book;
use crate::ledger::state::Stage;
use crate::piece::size::Size;
use crate::units::Grams;
use serde::{Deserialize, Serialize};

/// A hook of sausages carries so much (g).
pub(super) const SAUSAGE_HOOK_G: f64 = 1_500.0;

/// One kind of place: what there is, and what is taken.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PlaceUse {
    /// In all; none when it was never listed.
    pub in_all: Option<f64>,
    /// Taken now by what is on its way.
    pub taken: f64,
}

impl PlaceUse {
    /// What is free.
    #[must_use]
    pub fn free(self) -> Option<f64> {
        self.in_all.map(|all| (all - self.taken).max(0.0))
    }
}

/// The places that plans share.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PlacesNow {
    /// Hooks in the drying place.
    pub hooks: PlaceUse,
    /// Room in tubs and buckets (l).
    pub tub_l: PlaceUse,
    /// Room in the fridge (l).
    pub fridge_l: PlaceUse,
}

/// What a piece of so much meat takes up on its way through a build; a ground one is counted
/// with its block.
#[must_use]
pub fn places(build: &Build, usable_g: f64) -> Places {
    if build.is_ground() {
        return Places::default();
    }
    let with_brine = build.vessel() == Vessel::Tub;
    let water = build
        .dose
        .as_ref()
        .map_or(0.0, |d| build.method.dosing().water_per_meat(d));
    let litres = Size::volume(Grams(usable_g)).0 + usable_g * water / 1_000.0;
    Places {
        hooks: if build.hangs() { 1.0 } else { 0.0 },
        tub_l: if with_brine { litres } else { 0.0 },
        fridge_l: if build.dose.is_some() { litres } else { 0.0 },
    }
}

/// What is taken now by what is on its way.
#[must_use]
pub fn places_now(book: &Book, home: &Household) -> PlacesNow {
    let mut taken = Places::default();
    for (_, piece) in book.pieces() {
        let Some(build) = piece.build() else { continue };
        let all = places(build, piece.mass.grams());
        match piece.stage() {
            Stage::InCure => taken = taken.plus(all),
            Stage::Hang | Stage::Hanging => taken.hooks += 1.0,
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
    let place = |in_all: Option<f64>, taken| PlaceUse { in_all, taken };
    PlacesNow {
        hooks: place(
            equipment
                .and_then(|e| e.chamber)
                .map(|c| f64::from(c.hooks)),
            taken.hooks,
        ),
        tub_l: place(
            equipment
                .filter(|e| !e.tubs.is_empty())
                .map(|e| e.tub_litres()),
            taken.tub_l,
        ),
        fridge_l: place(
            equipment
                .filter(|e| !e.fridge.is_empty())
                .map(|e| e.fridge_litres()),
            taken.fridge_l,
        ),
    }
}
