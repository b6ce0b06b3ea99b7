//! How cold it was where meat lay: what the readings of a place say, as far as a rule leans on it.
//!
//! The readings themselves are kept beside the ledger. Here are the stretches in which a place was too cold for a cure
//! to go on, too warm for a fridge, or so warm that meat spoils.

use super::PlaceId;
use super::spells::{self, Spell, WarmHour};
use crate::place::air::{self, Aired};
use crate::units::{Celsius, Fraction};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, VecDeque};
use std::sync::Arc;

/// Colder than this the cure nearly stands still (°C).
pub const STANDS_STILL: Celsius = Celsius(1.0);

/// Warmer than this a fridge is at fault (40 °F).
pub const TOO_WARM: Celsius = Celsius((40.0 - 32.0) / 1.8);

/// Warmer than this meat spoils faster than it cures (°C).
pub const SPOILS: Celsius = Celsius(7.0);

/// A fridge too warm for so long is warned of (s).
pub const WARNED_AFTER_S: i64 = 2 * 3_600;

/// Readings closer than this are one log: what was warm at both was warm between (s).
pub const GAP_S: i64 = 12 * 3_600;

/// Of its newest readings so long are kept at hand (s).
const RECENT_S: i64 = 36 * 3_600;

/// And no more than so many.
const RECENT: usize = 400;

/// In what a reading may put a place.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum WarmthBand {
    /// Under 1 °C: the cure stands still.
    TooCold,
    /// Over 4.4 °C: a fault of a fridge.
    TooWarm,
    /// Over 7 °C: it spoils.
    Spoiling,
}

impl WarmthBand {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::TooCold, Self::TooWarm, Self::Spoiling];

    /// True for a reading in it.
    #[must_use]
    pub fn holds(self, read: Celsius) -> bool {
        // Half a hundredth of a degree is what turning °F into °C leaves.
        match self {
            Self::TooCold => read.0 < STANDS_STILL.0 - 5e-3,
            Self::TooWarm => read.0 > TOO_WARM.0 + 5e-3,
            Self::Spoiling => read.0 > SPOILS.0 + 5e-3,
        }
    }
}

/// The edges of those bands.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WarmthBands {
    /// Under it a cure stands still (°C).
    #[cfg_attr(feature = "openapi", schema(value_type = f64))]
    pub cold_c: Celsius,
    /// Over it a fridge is at fault (°C).
    #[cfg_attr(feature = "openapi", schema(value_type = f64))]
    pub warm_c: Celsius,
    /// Over it meat spoils (°C).
    #[cfg_attr(feature = "openapi", schema(value_type = f64))]
    pub spoils_c: Celsius,
}

impl WarmthBands {
    /// For meat that lies and cures.
    pub const LYING: Self = Self {
        cold_c: STANDS_STILL,
        warm_c: TOO_WARM,
        spoils_c: SPOILS,
    };
}

/// A stretch of time.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Stretch {
    /// Its beginning.
    pub from: Timestamp,
    /// Its end.
    pub to: Timestamp,
}

impl Stretch {
    /// How long it is (s).
    #[must_use]
    pub fn seconds(self) -> i64 {
        (self.to.as_second() - self.from.as_second()).max(0)
    }

    /// What it shares with another; none where they do not touch.
    #[must_use]
    pub fn within(self, other: Self) -> Option<Self> {
        let both = Self {
            from: self.from.max(other.from),
            to: self.to.min(other.to),
        };
        (both.from < both.to).then_some(both)
    }
}

/// One reading of a place.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Read {
    /// When.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = DateTime))]
    pub at: Timestamp,
    /// How warm.
    #[serde(rename = "celsius")]
    #[cfg_attr(feature = "openapi", schema(value_type = f64))]
    pub temperature: Celsius,
}

/// What the readings of one place say.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct PlaceLog {
    bands: [Vec<Stretch>; 3],
    /// The hours in which it was over 7 °C.
    warm: Vec<WarmHour>,
    recent: VecDeque<Read>,
    /// How damp it was at some of them.
    damp: VecDeque<(Timestamp, Fraction)>,
    count: u64,
}

impl PlaceLog {
    /// Takes in the next reading, which is newer than all before; true when that changed a stretch.
    pub fn take(&mut self, read: Read) -> bool {
        let before = self.recent.back().copied();
        let is_one_log = before.is_some_and(|b| read.at.as_second() - b.at.as_second() <= GAP_S);
        let mut changed = false;
        for (band, stretches) in WarmthBand::ALL.into_iter().zip(&mut self.bands) {
            if !band.holds(read.temperature) {
                continue;
            }
            changed = true;
            let goes_on = is_one_log && before.is_some_and(|b| band.holds(b.temperature));
            match stretches.last_mut().filter(|_| goes_on) {
                Some(last) => last.to = read.at,
                None => stretches.push(Stretch {
                    from: read.at,
                    to: read.at,
                }),
            }
        }
        if let Some(before) = before.filter(|_| is_one_log) {
            spells::add_between(
                &mut self.warm,
                (before.at.as_second(), before.temperature.0),
                (read.at.as_second(), read.temperature.0),
            );
        }
        self.count += 1;
        self.recent.push_back(read);
        let old = |first: &Read| read.at.as_second() - first.at.as_second() > RECENT_S;
        while self.recent.len() > RECENT || self.recent.front().is_some_and(old) {
            self.recent.pop_front();
        }
        changed
    }

    /// The same with how damp it was, where that was said.
    pub fn take_aired(&mut self, read: Aired) -> bool {
        let changed = self.take(Read {
            at: read.at,
            temperature: read.temperature,
        });
        self.damp.extend(read.humidity.map(|h| (read.at, h)));
        let first = self.recent.front().map(|r| r.at);
        while self
            .damp
            .front()
            .is_some_and(|(at, _)| first.is_none_or(|f| *at < f))
        {
            self.damp.pop_front();
        }
        changed
    }

    /// A log from all its readings with their damp, in order.
    #[must_use]
    pub fn of_aired(reads: impl IntoIterator<Item = Aired>) -> Self {
        let mut log = Self::default();
        for read in reads {
            log.take_aired(read);
        }
        log
    }

    /// Readings of about the last day and a half with their damp, the oldest first.
    #[must_use]
    pub fn aired(&self) -> Vec<Aired> {
        let mut damp = self.damp.iter().copied().peekable();
        let mut found = Vec::with_capacity(self.recent.len());
        for read in &self.recent {
            while damp.next_if(|(at, _)| *at < read.at).is_some() {}
            found.push(Aired {
                at: read.at,
                temperature: read.temperature,
                humidity: damp.next_if(|(at, _)| *at == read.at).map(|(_, h)| h),
            });
        }
        found
    }

    /// The mean of its newest day: how warm, and how damp where that was said.
    #[must_use]
    pub fn mean_of_recent(&self) -> Option<(Celsius, Option<Fraction>)> {
        self.mean_of_last(24 * 3_600)
    }

    /// The mean of its newest hour.
    #[must_use]
    pub fn mean_of_last_hour(&self) -> Option<(Celsius, Option<Fraction>)> {
        self.mean_of_last(3_600)
    }

    fn mean_of_last(&self, seconds: i64) -> Option<(Celsius, Option<Fraction>)> {
        let last = self.last()?.at.as_second();
        let mut reads = self.aired();
        reads.retain(|r| last - r.at.as_second() <= seconds);
        air::mean(&air::hours(&reads))
    }

    /// The newest damp that was said.
    #[must_use]
    pub fn last_damp(&self) -> Option<(Timestamp, Fraction)> {
        self.damp.back().copied()
    }

    /// A log from all its readings, in order.
    #[must_use]
    pub fn of(reads: impl IntoIterator<Item = Read>) -> Self {
        let mut log = Self::default();
        for read in reads {
            log.take(read);
        }
        log
    }

    /// The stretches in a band, the oldest first; one of a single reading has no length.
    #[must_use]
    pub fn stretches(&self, band: WarmthBand) -> &[Stretch] {
        &self.bands[band as usize]
    }

    /// How warm it was within some time, as far as it was over 7 °C.
    #[must_use]
    pub fn warm(&self, over: Stretch) -> Vec<Spell> {
        spells::of_log(&self.warm, over)
    }

    /// The newest reading.
    #[must_use]
    pub fn last(&self) -> Option<Read> {
        self.recent.back().copied()
    }

    /// Readings of about the last day and a half, the oldest first.
    pub fn recent(&self) -> impl Iterator<Item = Read> + '_ {
        self.recent.iter().copied()
    }

    /// How many readings there are.
    #[must_use]
    pub const fn count(&self) -> u64 {
        self.count
    }

    /// The stretch in a band that its newest reading belongs to.
    #[must_use]
    pub fn running(&self, band: WarmthBand) -> Option<Stretch> {
        let last = self.last().filter(|r| band.holds(r.temperature))?;
        self.stretches(band)
            .last()
            .copied()
            .filter(|s| s.to == last.at)
    }
}

/// The logs of all places of a household.
#[derive(Clone, Debug, Default)]
pub struct Climate {
    places: BTreeMap<PlaceId, Arc<PlaceLog>>,
    /// Grows whenever a stretch changes: two of one version say the same.
    version: u64,
}

impl PartialEq for Climate {
    fn eq(&self, other: &Self) -> bool {
        self.version == other.version && self.places.len() == other.places.len()
    }
}

impl Climate {
    /// The log of a place.
    #[must_use]
    pub fn place(&self, id: PlaceId) -> Option<&PlaceLog> {
        self.places.get(&id).map(Arc::as_ref)
    }

    /// The highest number of a place that was ever read: it never comes to mean another one.
    #[must_use]
    pub fn last_place(&self) -> PlaceId {
        self.places.keys().next_back().copied().unwrap_or_default()
    }

    /// Takes in a reading newer than all of its place.
    pub fn take(&mut self, id: PlaceId, read: Aired) {
        let log = Arc::make_mut(self.places.entry(id).or_default());
        if log.take_aired(read) {
            self.version += 1;
        }
    }

    /// Puts a log that was worked out anew in the place of what was there.
    pub fn put(&mut self, id: PlaceId, log: PlaceLog) {
        self.places.insert(id, Arc::new(log));
        self.version += 1;
    }
}

/// Stretches in order, those that touch made one.
#[must_use]
pub fn merged(mut all: Vec<Stretch>) -> Vec<Stretch> {
    all.sort_unstable_by_key(|s| (s.from, s.to));
    let mut found: Vec<Stretch> = Vec::with_capacity(all.len());
    for next in all {
        match found.last_mut().filter(|last| next.from <= last.to) {
            Some(last) => last.to = last.to.max(next.to),
            None => found.push(next),
        }
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(hour: i64) -> Timestamp {
        Timestamp::from_second(1_795_000_000 + hour * 3_600).unwrap()
    }

    fn log(reads: &[(i64, f64)]) -> PlaceLog {
        PlaceLog::of(reads.iter().map(|(hour, c)| Read {
            at: at(*hour),
            temperature: Celsius(*c),
        }))
    }

    fn hours(log: &PlaceLog, band: WarmthBand) -> Vec<(i64, i64)> {
        let of = |t: Timestamp| (t.as_second() - at(0).as_second()) / 3_600;
        let all = log.stretches(band).iter();
        all.map(|s| (of(s.from), of(s.to))).collect()
    }

    #[test]
    fn what_was_warm_at_both_of_two_readings_was_warm_between_unless_they_lie_far_apart() {
        #[rustfmt::skip]
        let cases: [(&str, &[(i64, f64)], WarmthBand, &[(i64, i64)]); 8] = [
            ("cold enough all along",  &[(0, 3.0), (8, 4.4)],                     WarmthBand::TooWarm,  &[]),
            ("40 °F is cold enough",   &[(0, 4.444), (8, 4.444)],                 WarmthBand::TooWarm,  &[]),
            ("warm at both",           &[(0, 5.0), (8, 6.0)],                     WarmthBand::TooWarm,  &[(0, 8)]),
            ("cooled between",         &[(0, 5.0), (4, 3.0), (8, 5.0)],           WarmthBand::TooWarm,  &[(0, 0), (8, 8)]),
            ("nobody looked for long", &[(0, 5.0), (13, 5.0)],                    WarmthBand::TooWarm,  &[(0, 0), (13, 13)]),
            ("over seven within",      &[(0, 5.0), (4, 8.0), (8, 9.0), (9, 6.0)], WarmthBand::Spoiling, &[(4, 8)]),
            ("over seven is warm too", &[(0, 5.0), (4, 8.0), (8, 9.0), (9, 6.0)], WarmthBand::TooWarm,  &[(0, 9)]),
            ("frozen at night",        &[(0, 0.5), (9, -1.0), (12, 1.0)],         WarmthBand::TooCold,  &[(0, 9)]),
        ];
        for (why, reads, band, want) in cases {
            assert_eq!(hours(&log(reads), band), want, "{why}");
        }
    }

    #[test]
    fn the_newest_stretch_runs_until_a_reading_leaves_it() {
        let warm = log(&[(0, 5.0), (3, 6.0)]);
        assert_eq!(
            warm.running(WarmthBand::TooWarm).map(Stretch::seconds),
            Some(3 * 3_600)
        );
        assert_eq!(warm.running(WarmthBand::Spoiling), None);
        assert_eq!(
            log(&[(0, 5.0), (3, 4.0)]).running(WarmthBand::TooWarm),
            None
        );
    }

    #[test]
    fn stretches_that_touch_are_one() {
        let s = |from, to| Stretch {
            from: at(from),
            to: at(to),
        };
        assert_eq!(
            merged(vec![s(5, 9), s(0, 3), s(2, 4), s(9, 10)]),
            [s(0, 4), s(5, 10)]
        );
    }
}
