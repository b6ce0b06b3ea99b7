//! The one place where the present comes from.

use jiff::Timestamp;
use std::sync::{PoisonError, RwLock};

/// The running clock, a moment at which it stands still, or one that is moved by hand.
#[derive(Debug)]
pub struct Clock(RwLock<Kind>);

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Kind {
    /// The machine's own.
    Running,
    /// Pinned, so that a test can stand on any day.
    Pinned(Timestamp),
    /// That of a household for practice: it stands until somebody moves it on.
    Practice(Timestamp),
}

impl Clock {
    /// The machine's own.
    #[must_use]
    pub const fn running() -> Self {
        Self(RwLock::new(Kind::Running))
    }

    /// One that stands still.
    #[must_use]
    pub const fn pinned(at: Timestamp) -> Self {
        Self(RwLock::new(Kind::Pinned(at)))
    }

    /// A clock that is moved by hand, beginning here.
    #[must_use]
    pub const fn practice(from: Timestamp) -> Self {
        Self(RwLock::new(Kind::Practice(from)))
    }

    fn kind(&self) -> Kind {
        *self.0.read().unwrap_or_else(PoisonError::into_inner)
    }

    /// True when it stands still.
    #[must_use]
    pub fn is_pinned(&self) -> bool {
        match self.kind() {
            Kind::Pinned(_) | Kind::Practice(_) => true,
            Kind::Running => false,
        }
    }

    /// The present.
    #[must_use]
    pub fn now(&self) -> Timestamp {
        match self.kind() {
            Kind::Running => Timestamp::now(),
            Kind::Pinned(moment) | Kind::Practice(moment) => moment,
        }
    }

    /// Moves it on; false where it cannot be moved, or would not go forward.
    #[must_use]
    pub fn move_on(&self, to: Timestamp) -> bool {
        let mut kind = self.0.write().unwrap_or_else(PoisonError::into_inner);
        match &mut *kind {
            Kind::Running | Kind::Pinned(_) => false,
            Kind::Practice(at) => {
                let goes_on = to > *at;
                *at = (*at).max(to);
                goes_on
            }
        }
    }

    /// Goes as a household wants that was put in another's place: by hand from where its own stood, or by the machine.
    pub fn follow(&self, practised_to: Option<Timestamp>) {
        let mut kind = self.0.write().unwrap_or_else(PoisonError::into_inner);
        *kind = match (*kind, practised_to) {
            (Kind::Pinned(at), _) => Kind::Pinned(at),
            (Kind::Running | Kind::Practice(_), Some(at)) => Kind::Practice(at),
            (Kind::Running | Kind::Practice(_), None) => Kind::Running,
        };
    }
}
