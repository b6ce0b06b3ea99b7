//! The one place where the present comes from.

use jiff::Timestamp;

/// The running clock, or a moment at which it stands still.
#[derive(Clone, Copy, Debug)]
pub enum Clock {
    /// The machine's own.
    Running,
    /// Pinned, so that a demo or a test can stand on any day.
    Pinned(Timestamp),
}

impl Clock {
    /// True when it stands still.
    #[must_use]
    pub const fn is_pinned(self) -> bool {
        matches!(self, Self::Pinned(_))
    }

    /// The present.
    #[must_use]
    pub fn now(self) -> Timestamp {
        match self {
            Self::Running => Timestamp::now(),
            Self::Pinned(moment) => moment,
        }
    }
}
