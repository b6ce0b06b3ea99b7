//! What sours while it cures, and where something cures.

use crate::catalogue::builds::Build;
use crate::catalogue::place_kinds::PlaceUse;

/// True for a build that sours and is then dried to be eaten as it is.
#[must_use]
pub fn sours(build: &Build) -> bool {
    build.is_ground() && build.is_dried() && build.raw_dried
}

/// What a place has to be for, that something made so cures in it: what sours in its cure may hang as well.
#[must_use]
pub fn cures_in(build: Option<&Build>) -> &'static [PlaceUse] {
    const CURING: &[PlaceUse] = &[PlaceUse::Cold, PlaceUse::Brine, PlaceUse::Press];
    const SOURING: &[PlaceUse] = &[
        PlaceUse::Cold,
        PlaceUse::Brine,
        PlaceUse::Press,
        PlaceUse::Hang,
    ];
    if build.is_some_and(sours) {
        SOURING
    } else {
        CURING
    }
}
