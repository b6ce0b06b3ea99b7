//! What may be said of a piece, from recorded facts alone: how it may be eaten.

use crate::catalogue::builds::Eat;
use crate::catalogue::species::Species;
use crate::catalogue::steps::DISCARD;
use crate::piece::Piece;

impl Piece {
    /// How it may be eaten: raw inside unless the heat that makes it safe was recorded.
    #[must_use]
    pub fn eat(&self, species: &Species) -> Eat {
        let Some(build) = self.build() else {
            return Eat::CookBeforeEating;
        };
        if self.is_condemned_by_a_check() {
            return Eat::NotEaten;
        }
        // Half a tenth of a degree is what thermometers round away.
        let is_cooked = self
            .inside
            .as_ref()
            .is_some_and(|c| c.value.0 >= species.safe_inside_c - 0.05);
        // What nobody knows the dose of is cooked, whatever its product hopes for.
        let dose_unknown = self.cure.as_ref().is_some_and(|c| c.dose.is_none());
        match build.eat {
            Eat::NotEaten => Eat::NotEaten,
            Eat::ReadyToEat | Eat::CookBeforeEating if dose_unknown => Eat::CookBeforeEating,
            Eat::ReadyToEat if build.smoke.is_none() => Eat::ReadyToEat,
            Eat::ReadyToEat if is_cooked => Eat::ReadyToEat,
            // Cooked after it hung, though its product does not ask for that.
            Eat::CookBeforeEating if build.is_dried() && is_cooked => Eat::ReadyToEat,
            Eat::ReadyToEat | Eat::CookBeforeEating => Eat::CookBeforeEating,
        }
    }

    /// True when the newest grade of a check says that it is to be thrown away.
    #[must_use]
    pub fn is_condemned_by_a_check(&self) -> bool {
        let newest = |check: &str| self.checks.iter().rev().find(|c| c.check == check);
        self.checks
            .iter()
            .any(|c| newest(&c.check).and_then(|c| c.grade.as_deref()) == Some(DISCARD))
    }
}
