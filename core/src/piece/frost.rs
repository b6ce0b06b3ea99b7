//! When a piece lay in the freezer.

use super::Piece;
use crate::units::Millimetres;
use jiff::civil::Date;
use jiff::{SignedDuration, Timestamp};

/// From when until when a piece lay in the freezer.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Frost {
    /// Since then.
    pub from: Timestamp,
    /// Until then; none while it lies there.
    pub until: Option<Timestamp>,
    /// The day by which it is to be thawed, if there is one.
    pub thaw_by: Option<Date>,
}

/// Thicker than this it takes two days in the fridge to thaw (mm).
const TWO_DAYS_FROM: Millimetres = Millimetres(60.0);

impl Frost {
    /// How long of the time between two moments it was.
    #[must_use]
    pub fn lasted(&self, from: Timestamp, until: Timestamp) -> SignedDuration {
        let begins = self.from.max(from);
        let ends = self.until.unwrap_or(until).min(until);
        ends.duration_since(begins).max(SignedDuration::ZERO)
    }
}

impl Piece {
    /// The frost that it lies in now; none while it is not frozen.
    #[must_use]
    pub fn frost(&self) -> Option<&Frost> {
        self.frosts.last().filter(|f| f.until.is_none())
    }

    /// What to do first with a piece that lies in the freezer; none where it does not.
    #[must_use]
    pub fn to_be_thawed(&self) -> Option<String> {
        self.frost().map(|_| {
            format!(
                "{} lies in the freezer. Save first that it was taken out to thaw.",
                self.tag
            )
        })
    }

    /// How many days it takes to thaw in the fridge.
    #[must_use]
    pub fn thaws_in_days(&self) -> i64 {
        match self.shape.thickness() {
            Some(mm) if mm < TWO_DAYS_FROM => 1,
            Some(_) | None => 2,
        }
    }
}
