//! The house as it is: what the household settled on, and beside it what is no setting and kept
//! elsewhere: the air of its places, what it moved to another day, its runs.

pub mod around;

use crate::agenda::Agenda;
use crate::household::Household;
use crate::place::climate::Climate;
use crate::run::Runs;
use crate::stock::Pantry;
use std::sync::Arc;

/// What a household settled on, with what it lives with.
#[derive(Clone, Debug, Default)]
pub struct House {
    /// What it settled on.
    pub settings: Household,
    /// How cold its places were.
    pub climate: Arc<Climate>,
    /// What was planned for another day.
    pub agenda: Arc<Agenda>,
    /// Its runs in smoker, oven and pot.
    pub runs: Arc<Runs>,
    /// What it keeps, as it was counted.
    pub pantry: Arc<Pantry>,
}

/// Runs take no part: a smoker that is read each second concerns only what lies in it, so whoever keeps something worked out
/// looks at the runs that it rests on one by one. What is kept takes none either: no plan and no verdict rests on it.
impl PartialEq for House {
    fn eq(&self, other: &Self) -> bool {
        self.settings == other.settings
            && (Arc::ptr_eq(&self.climate, &other.climate) || self.climate == other.climate)
            && (Arc::ptr_eq(&self.agenda, &other.agenda) || self.agenda == other.agenda)
    }
}

impl From<Household> for House {
    fn from(settings: Household) -> Self {
        Self {
            settings,
            ..Self::default()
        }
    }
}
