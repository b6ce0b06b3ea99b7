//! Timers: what lies somewhere for minutes or hours, and has to be seen to when they are over.

use crate::ids::EntryId;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// What is waited for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum TimerFor {
    /// It lies in water after its cure.
    Soak,
    /// It lies in its cure, buried in salt, to the hour.
    SaltBox,
    /// It rests: a binder sets, a surface dries, heat evens out.
    Rest,
}

impl TimerFor {
    /// Everything that is waited for.
    pub const ALL: [Self; 3] = [Self::Soak, Self::SaltBox, Self::Rest];

    /// As people call it.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Soak => "in the water",
            Self::SaltBox => "in the salt",
            Self::Rest => "at rest",
        }
    }
}

/// A timer that runs, or rings.
#[derive(Clone, Debug, PartialEq)]
pub struct Timer {
    /// The entry that says so.
    pub entry: EntryId,
    /// When it began.
    pub began: Timestamp,
    /// For how long (min).
    pub minutes: u32,
    /// What to do then, in the person's own words.
    pub note: Option<String>,
}

impl Timer {
    /// When it rings.
    #[must_use]
    pub fn ends(&self) -> Timestamp {
        let long = SignedDuration::from_mins(i64::from(self.minutes));
        self.began.checked_add(long).unwrap_or(Timestamp::MAX)
    }
}

/// A soak that was had.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Soak {
    /// The entry that says so.
    pub entry: EntryId,
    /// When it came out of the water.
    pub at: Timestamp,
    /// For how long it lay there (min).
    pub minutes: u32,
}
