//! What is kept of a thermometer that says something every second: every high, every low, and both sides of every limit
//! that a rule leans on, so that the hours over each of them stay what they were.

use super::climate::{SPOILS, STANDS_STILL, TOO_WARM};
use crate::place::air::Aired;
use crate::units::Celsius;

/// Between two readings that are kept, where nothing happened (s).
pub const EVERY_S: i64 = 290;

/// What rules ask for the hours over (°C): a cure that stands still, a fridge at fault, meat that spoils slowly, fast and at
/// once, a ferment, a hook.
///
/// # Source
/// The bands of `place::climate` and `place::spells`, and those of souring and hanging.
const LIMITS: [f64; 7] = [STANDS_STILL.0, TOO_WARM.0, SPOILS.0, 15.0, 15.5, 18.0, 21.0];

/// Half a hundredth of a degree is what turning °F into °C leaves.
const ROUNDED_C: f64 = 5e-3;

/// On which side of each limit it is.
fn sides(temperature: Celsius) -> [(bool, bool); LIMITS.len()] {
    LIMITS.map(|limit| {
        (
            temperature.0 > limit + ROUNDED_C,
            temperature.0 < limit - ROUNDED_C,
        )
    })
}

/// Thins the readings of a place as they come.
#[derive(Clone, Debug, Default)]
pub struct Thinner {
    kept: Option<Aired>,
    /// What came since: the lowest, the highest and the newest of it.
    since: Vec<Aired>,
}

impl Thinner {
    /// Goes on from the newest reading that is kept.
    #[must_use]
    pub const fn after(kept: Option<Aired>) -> Self {
        Self {
            kept,
            since: Vec::new(),
        }
    }

    /// The newest that came.
    #[must_use]
    pub fn newest(&self) -> Option<Aired> {
        self.since.last().copied().or(self.kept)
    }

    /// Takes a reading in; gives what is to be written down now, in order. What is not newer than what came says nothing.
    pub fn take(&mut self, read: Aired) -> Vec<Aired> {
        let (Some(kept), Some(before)) = (self.kept, self.newest()) else {
            self.kept = Some(read);
            return vec![read];
        };
        if read.at <= before.at {
            return Vec::new();
        }
        let crosses = sides(before.temperature) != sides(read.temperature);
        let is_time = read.at.as_second() - kept.at.as_second() >= EVERY_S;
        if !crosses && !is_time {
            self.since.push(read);
            self.keep_of_note();
            return Vec::new();
        }
        let mut written = std::mem::take(&mut self.since);
        if !crosses {
            // Up to the new one nothing but highs and lows is of note.
            let ends = [kept.temperature.0, read.temperature.0];
            let (low, high) = (ends[0].min(ends[1]), ends[0].max(ends[1]));
            written.retain(|r| r.temperature.0 < low || r.temperature.0 > high);
        }
        written.push(read);
        self.kept = Some(read);
        written
    }

    /// Of what came since only the lowest, the highest and the newest can ever be written.
    fn keep_of_note(&mut self) {
        let by = |a: &&Aired, b: &&Aired| a.temperature.0.total_cmp(&b.temperature.0);
        let low = self.since.iter().min_by(by).map(|r| r.at);
        let high = self.since.iter().max_by(by).map(|r| r.at);
        let last = self.since.last().map(|r| r.at);
        self.since
            .retain(|r| [low, high, last].contains(&Some(r.at)));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::Timestamp;
    use proptest::prelude::*;

    fn read(at: i64, temperature: f64) -> Aired {
        Aired {
            at: Timestamp::from_second(1_800_000_000 + at).unwrap(),
            temperature: Celsius(temperature),
            humidity: None,
        }
    }

    fn thinned(all: &[Aired]) -> Vec<Aired> {
        let mut thinner = Thinner::default();
        let mut kept: Vec<Aired> = all.iter().flat_map(|r| thinner.take(*r)).collect();
        // What waits is written with the next one; here the last one stands for it.
        kept.extend(thinner.since);
        kept
    }

    /// Seconds between two readings both of which were over a limit.
    fn over(reads: &[Aired], limit: f64) -> i64 {
        let is_over = |r: &Aired| r.temperature.0 > limit + ROUNDED_C;
        let both = reads
            .windows(2)
            .filter(|w| is_over(&w[0]) && is_over(&w[1]));
        both.map(|w| w[1].at.as_second() - w[0].at.as_second())
            .sum()
    }

    proptest! {
        #[test]
        fn highs_lows_and_the_time_over_each_limit_stay(
            steps in prop::collection::vec((1_i64..40, -0.9..0.9_f64), 1..400),
            begin in 0.0..20.0_f64,
        ) {
            let (mut at, mut temperature) = (0, begin);
            let all: Vec<Aired> = steps
                .into_iter()
                .map(|(seconds, degrees)| {
                    at += seconds;
                    temperature = (temperature + degrees).clamp(-5.0, 26.0);
                    read(at, temperature)
                })
                .collect();
            let kept = thinned(&all);
            let warmths = |reads: &[Aired]| reads.iter().map(|r| r.temperature.0).collect::<Vec<_>>();
            let low = |reads: &[Aired]| warmths(reads).into_iter().fold(f64::MAX, f64::min);
            let high = |reads: &[Aired]| warmths(reads).into_iter().fold(f64::MIN, f64::max);
            prop_assert_eq!(low(&kept), low(&all));
            prop_assert_eq!(high(&kept), high(&all));
            for limit in LIMITS {
                prop_assert_eq!(over(&kept, limit), over(&all, limit), "over {}", limit);
            }
            prop_assert!(kept.windows(2).all(|w| w[0].at < w[1].at));
        }
    }

    #[test]
    fn a_steady_flood_becomes_a_reading_each_five_minutes() {
        let all: Vec<Aired> = (0..86_400).map(|s| read(s, 3.0)).collect();
        let kept = thinned(&all);
        assert!((290..=310).contains(&kept.len()), "{}", kept.len());
        // one door that was opened for half a minute is seen
        let mut all = all;
        for r in &mut all[40_000..40_030] {
            r.temperature = Celsius(8.2);
        }
        let seen = thinned(&all)
            .iter()
            .filter(|r| r.temperature.0 > 8.0)
            .count();
        assert!((2..=3).contains(&seen), "{seen}");
    }
}
