//! The one place where the present comes from.

use jiff::Timestamp;
use std::sync::atomic::{AtomicI64, Ordering};

/// The running clock, a moment at which it stands still, or one that is moved by hand.
#[derive(Debug)]
pub enum Clock {
    /// The machine's own.
    Running,
    /// Pinned, so that a test can stand on any day.
    Pinned(Timestamp),
    /// That of a household for practice: it stands until somebody moves it on (s since the epoch).
    Practice(AtomicI64),
}

impl Clock {
    /// A clock that is moved by hand, beginning here.
    #[must_use]
    pub fn practice(from: Timestamp) -> Self {
        Self::Practice(AtomicI64::new(from.as_second()))
    }

    /// True when it stands still.
    #[must_use]
    pub const fn is_pinned(&self) -> bool {
        matches!(self, Self::Pinned(_) | Self::Practice(_))
    }

    /// The present.
    #[must_use]
    pub fn now(&self) -> Timestamp {
        match self {
            Self::Running => Timestamp::now(),
            Self::Pinned(moment) => *moment,
            Self::Practice(seconds) => {
                Timestamp::from_second(seconds.load(Ordering::SeqCst)).unwrap_or(Timestamp::MAX)
            }
        }
    }

    /// Moves it on; false where it cannot be moved, or would not go forward.
    #[must_use]
    pub fn move_on(&self, to: Timestamp) -> bool {
        match self {
            Self::Running | Self::Pinned(_) => false,
            Self::Practice(seconds) => {
                let to = to.as_second();
                seconds.fetch_max(to, Ordering::SeqCst) < to
            }
        }
    }
}
