//! A machine's clock that ran ahead, or runs back now: which entries are newer than the present,
//! and how they are put right together.
//!
//! Nobody can date an entry into the future by hand, so one that lies hours ahead was dated by a
//! clock that was wrong then, or is wrong now. Which of the two only a person knows.

use super::{Book, Change, LotBook};
use crate::ledger::{EntryId, LotId};
use jiff::{SignedDuration, Timestamp};
use std::collections::BTreeMap;

/// So far two clocks may differ before it is asked about; within it nothing is put before what it
/// follows from.
pub const LEEWAY: SignedDuration = SignedDuration::from_hours(1);

/// Entries that hold and are newer than the present, in the order in which they happened.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Ahead {
    /// Each with its lot and when it is said to have happened.
    pub entries: Vec<(Timestamp, LotId, EntryId)>,
    /// When the first is said to have happened.
    pub first: Timestamp,
    /// When the last is.
    pub last: Timestamp,
}

impl LotBook {
    /// When the newest entry happened, as far as the present and two clocks' difference reach.
    #[must_use]
    pub fn newest(&self, now: Timestamp) -> Option<Timestamp> {
        let edge = edge(now);
        if self.latest <= edge {
            return (!self.entries.is_empty()).then_some(self.latest);
        }
        let held = self.live_entries().map(|e| e.happened_at);
        held.filter(|at| *at <= edge).max()
    }

    /// When what is done now happened: never before what it follows from, by a little difference
    /// of two clocks.
    #[must_use]
    pub fn at_or_after(&self, at: Timestamp, now: Timestamp) -> Timestamp {
        self.newest(now).map_or(at, |newest| newest.max(at))
    }
}

impl Book {
    /// What is hours newer than the present, with what else is newer; none when the clocks agree.
    #[must_use]
    pub fn ahead(&self, now: Timestamp) -> Option<Ahead> {
        let edge = edge(now);
        // Usually nothing is, and that is known without looking into any lot.
        if self.lots.values().all(|lot| lot.latest <= edge) {
            return None;
        }
        let newer = self.lots.values().filter(|lot| lot.latest > now);
        let mut entries: Vec<_> = newer
            .flat_map(|lot| lot.live_entries())
            .filter(|e| e.happened_at > now)
            .map(|e| (e.happened_at, e.lot, e.id))
            .collect();
        entries.sort_unstable();
        let (first, last) = (entries.first()?.0, entries.last()?.0);
        (last > edge).then_some(Ahead {
            entries,
            first,
            last,
        })
    }

    /// Puts the times of those entries right together: all by the same difference, so that the last
    /// of them was done at `last_at`, and none before what its lot knew of already.
    #[must_use]
    pub fn set_right(&self, ahead: &Ahead, last_at: Timestamp) -> Vec<Change> {
        let by = ahead.last.duration_since(last_at);
        let mut times: BTreeMap<LotId, Vec<(EntryId, Timestamp)>> = BTreeMap::new();
        for &(at, lot, id) in &ahead.entries {
            times
                .entry(lot)
                .or_default()
                .push((id, at.checked_sub(by).unwrap_or(last_at)));
        }
        let changes = times.into_iter().map(|(lot, mut times)| {
            let newer = |id: EntryId| times.iter().any(|(newer, _)| *newer == id);
            let before = self.lot(lot).and_then(|found| {
                let held = found.live_entries().filter(|e| !newer(e.id));
                held.map(|e| e.happened_at).max()
            });
            // Within a minute the number decides, which may be lower than that of what was before.
            let floor = before.map(|at| at + SignedDuration::from_mins(1));
            for (_, at) in &mut times {
                *at = floor.map_or(*at, |floor| floor.max(*at));
            }
            Change::Redate { lot, times }
        });
        changes.collect()
    }
}

impl Book {
    /// By how much changes set entries back together; none where they are no setting right of a clock.
    #[must_use]
    pub fn set_back_by(&self, changes: &[Change]) -> Option<SignedDuration> {
        let times = changes.iter().filter_map(|change| match change {
            Change::Redate { times, .. } => Some(times),
            Change::Add { .. } | Change::Replace { .. } | Change::Undo { .. } => None,
        });
        // Those that would come before what their lot knew already move by less.
        let by = times.flatten().filter_map(|(id, at)| {
            let (_, entry) = self.entry(*id)?;
            Some(entry.happened_at.duration_since(*at))
        });
        by.max()
    }
}

fn edge(now: Timestamp) -> Timestamp {
    now.checked_add(LEEWAY).unwrap_or(Timestamp::MAX)
}
