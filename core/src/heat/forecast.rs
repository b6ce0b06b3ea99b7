//! When the inside will be at its target in a chamber that swings: the inside follows its rind, the rind follows the air, each with a
//! time of its own.
//!
//! The plain law of [`done_when`](super::done_when) knows one time only, so it lags while a thick piece gathers speed, and takes the mean
//! of a chamber that was still warming up. Here every pair of times that agrees with what the probe said is followed on to the target,
//! and the spread of all of them is the band.

use super::done_when::ProbeReading;

/// When it will be there, on the readings' own axis (min).
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Ahead {
    /// Likely.
    pub minute: f64,
    /// The early edge.
    pub low: f64,
    /// The late edge.
    pub high: f64,
}

/// Fewer readings tell nothing of two times.
const LEAST: usize = 3;

/// So many readings say as much as all of them.
const READINGS: usize = 60;

/// The longest step of a piece followed on (min).
const STEP_MIN: f64 = 5.0;

/// The time of the rind (min): from a thin slab in moving air to a ham, each so many times the one before.
const RIND: (f64, f64, usize) = (30.0, 1.12, 30);

/// The time of the inside, as a share of the rind's; the middle one is usual.
const INSIDE: [f64; 5] = [0.0, 0.08, 0.16, 0.24, 0.32];

/// How far what evaporates keeps the rind under its chamber (°C).
const COOLED: [f64; 3] = [0.0, 4.0, 8.0];

/// The chamber to come is that of the last so many minutes: of just now, of a while, of a swing.
const CHAMBERS: [f64; 3] = [10.0, 30.0, 70.0];

/// So much warmer now than it was (°C), a chamber is still warming up.
const RISING_C: f64 = 6.0;

/// A reading of so long ago counts less by e (min).
const FADES_MIN: f64 = 90.0;

/// What a probe is off by, at the least (°C).
const PROBE_C: f64 = 0.6;

/// What an unusual share of the inside's time costs, in °C² of misfit.
const UNUSUAL: f64 = 0.1;

/// How fast a pair of times loses weight with its misfit.
const SHARPNESS: f64 = 3.0;

/// A pair of less weight than this is left out.
const LEAST_WEIGHT: f64 = 0.02;

/// Between these shares of all weight lies the band …
const INNER: (f64, f64) = (0.12, 0.86);

/// … and beyond them this much of what is left, for lids and fires to come: early, late.
const BEYOND: (f64, f64) = (0.10, 0.08);

/// The same before three tenths of the way, when little is known of its times.
const BEYOND_EARLY: (f64, f64) = (0.30, 0.30);

/// Of the way to the target.
const EARLY: f64 = 0.22;

/// And never nearer than this (min).
const NEVER_NEARER: f64 = 1.5;

/// Nothing is foretold further ahead (min).
const MOST_AHEAD: f64 = 1_500.0;

/// A piece as its model has it: rind and inside (°C).
#[derive(Clone, Copy)]
struct Inside {
    rind: f64,
    middle: f64,
}

/// What is left of a difference after a step: of the rind to its air, and of the inside to its rind, where it lags.
#[derive(Clone, Copy)]
struct Left {
    rind: f64,
    middle: Option<f64>,
}

impl Left {
    fn after(minutes: f64, (rind_min, inside_min): (f64, f64)) -> Self {
        Self {
            rind: (-minutes / rind_min).exp(),
            middle: (inside_min > 0.0).then(|| (-minutes / inside_min).exp()),
        }
    }
}

impl Inside {
    /// A step on in air of that temperature.
    fn on(self, air: f64, left: Left) -> Self {
        let rind = air + (self.rind - air) * left.rind;
        let around = f64::midpoint(self.rind, rind);
        let middle = left
            .middle
            .map_or(rind, |left| around + (self.middle - around) * left);
        Self { rind, middle }
    }
}

/// When the inside will be at its target; none for so few readings that nothing can be told, for readings without a chamber, and where
/// it never gets there.
///
/// # Source
/// Two first-order lags in a row, the simplest body that gathers speed before it follows its surroundings; every pair of them that the
/// readings allow is weighed by its misfit. The edges are set so that nine of ten simulated runs hold, see the test below.
#[must_use]
pub fn forecast(readings: &[ProbeReading], target_c: f64) -> Option<Ahead> {
    let last = *readings.last()?;
    if readings.len() < LEAST || last.inside_c >= target_c {
        return None;
    }
    let chambers = chambers(readings)?;
    let thin = thinned(readings);
    let pairs = fitted(&thin)?;
    let mut found: Vec<(f64, f64)> = Vec::new();
    for (pair, weight) in &pairs {
        for chamber in chambers {
            if let Some(minutes) = pair.minutes_to(last.inside_c, chamber, target_c) {
                found.push((minutes, *weight));
            }
        }
    }
    found.sort_by(|a, b| a.0.total_cmp(&b.0));
    let all: f64 = found.iter().map(|(_, weight)| weight).sum();
    let at = |share: f64| {
        let mut sum = 0.0;
        let reached = found.iter().find(|(_, weight)| {
            sum += weight;
            sum >= share * all
        });
        reached.map(|(minutes, _)| *minutes)
    };
    let first = readings[0].inside_c;
    let way = (last.inside_c - first) / (target_c - first).max(f64::MIN_POSITIVE);
    let (early, late) = if way < EARLY { BEYOND_EARLY } else { BEYOND };
    let (low, likely, high) = (at(INNER.0)?, at(0.5)?, at(INNER.1)?);
    let from = |minutes: f64| last.minute + minutes.max(0.0);
    Some(Ahead {
        minute: from(likely),
        low: from(low * (1.0 - early) - NEVER_NEARER),
        high: from(high * (1.0 + late) + NEVER_NEARER),
    })
}

/// What the chamber may be from now on (°C): the middle of its last readings over a moment, a while and a swing.
fn chambers(readings: &[ProbeReading]) -> Option<[f64; 3]> {
    let last = readings.last()?.minute;
    let middle = |minutes: f64| {
        let young = readings.partition_point(|r| last - r.minute > minutes);
        let young = young.min(readings.len().saturating_sub(3));
        let mut read: Vec<f64> = readings[young..]
            .iter()
            .filter_map(|r| r.chamber_c)
            .collect();
        read.sort_by(f64::total_cmp);
        let n = read.len();
        let upper = *read.get(n / 2)?;
        Some(if n.is_multiple_of(2) {
            f64::midpoint(read[n / 2 - 1], upper)
        } else {
            upper
        })
    };
    let [now, a_while, swing] = CHAMBERS.map(middle);
    let (now, a_while, swing) = (now?, a_while?, swing?);
    Some(if now - swing > RISING_C {
        [now, now, a_while]
    } else {
        [now, a_while, swing]
    })
}

/// The readings, or so many of them as say as much.
fn thinned(readings: &[ProbeReading]) -> Vec<ProbeReading> {
    if readings.len() <= READINGS {
        return readings.to_vec();
    }
    let last = readings.len() - 1;
    (0..=READINGS)
        .map(|i| readings[i * last / READINGS])
        .collect()
}

/// A rind and an inside as they may be, where the readings have brought them.
struct Pair {
    times: (f64, f64),
    cooled: f64,
    rind: f64,
    middle: f64,
}

impl Pair {
    /// Minutes from the last reading until its inside is there.
    fn minutes_to(&self, inside: f64, chamber: f64, target: f64) -> Option<f64> {
        const STEP: f64 = 2.0;
        let air = chamber - self.cooled;
        if air <= target {
            return None;
        }
        // From what the probe said last, and not from what it should have said.
        let mut now = Inside {
            rind: self.rind + inside - self.middle,
            middle: inside,
        };
        let left = Left::after(STEP, self.times);
        let mut minutes = 0.0;
        while minutes < MOST_AHEAD {
            let next = now.on(air, left);
            if next.middle >= target {
                let rise = (next.middle - now.middle).max(f64::MIN_POSITIVE);
                return Some(minutes + STEP * (target - now.middle) / rise);
            }
            now = next;
            minutes += STEP;
        }
        None
    }
}

/// Every pair of times that the readings allow, with its weight; none where a reading has no chamber.
fn fitted(readings: &[ProbeReading]) -> Option<Vec<(Pair, f64)>> {
    let last = readings.last()?.minute;
    let air: Vec<f64> = readings
        .iter()
        .map(|r| r.chamber_c)
        .collect::<Option<_>>()?;
    let weights: Vec<f64> = readings
        .iter()
        .map(|r| (-(last - r.minute) / FADES_MIN).exp())
        .collect();
    let all: f64 = weights.iter().sum();
    let (shortest, times, steps) = RIND;
    let usual = INSIDE[INSIDE.len() / 2];
    let mut found = Vec::with_capacity(steps * INSIDE.len() * COOLED.len());
    for cooled in COOLED {
        for share in INSIDE {
            for i in 0..steps {
                let rind_min = shortest * times.powi(i as i32);
                let of = (rind_min, share * rind_min);
                let mut now = Inside {
                    rind: readings[0].inside_c,
                    middle: readings[0].inside_c,
                };
                let mut misfit = 0.0;
                for (n, pair) in readings.windows(2).enumerate() {
                    let gone = pair[1].minute - pair[0].minute;
                    let around = f64::midpoint(air[n], air[n + 1]) - cooled;
                    let parts = (gone / STEP_MIN).ceil().max(1.0);
                    let left = Left::after(gone / parts, of);
                    for _ in 0..parts as usize {
                        now = now.on(around, left);
                    }
                    misfit += weights[n + 1] * (pair[1].inside_c - now.middle).powi(2);
                }
                let unusual = UNUSUAL * ((share - usual) / usual).powi(2);
                let pair = Pair {
                    times: of,
                    cooled,
                    rind: now.rind,
                    middle: now.middle,
                };
                found.push((pair, misfit / all + unusual));
            }
        }
    }
    let best = found
        .iter()
        .map(|(_, misfit)| *misfit)
        .fold(f64::INFINITY, f64::min);
    let scale = best.max(PROBE_C * PROBE_C);
    let weighed = found.into_iter().map(|(pair, misfit)| {
        let weight = (-(misfit - best) / scale * SHARPNESS).exp();
        (pair, weight)
    });
    Some(
        weighed
            .filter(|(_, weight)| *weight >= LEAST_WEIGHT)
            .collect(),
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Numbers that look random and are the same each time.
    struct Random(u64);

    impl Random {
        fn within(&mut self, low: f64, high: f64) -> f64 {
            self.0 = self
                .0
                .wrapping_mul(6_364_136_223_846_793_005)
                .wrapping_add(1_442_695_040_888_963_407);
            low + (high - low) * ((self.0 >> 11) as f64 / (1_u64 << 53) as f64)
        }

        fn times(&mut self, most: usize, low: f64, high: f64) -> Vec<f64> {
            let n = self.within(0.0, most as f64 + 1.0) as usize;
            (0..n).map(|_| self.within(low, high)).collect()
        }
    }

    /// A slab of meat in a smoker, by conduction in layers: nothing of the two lags that it is foretold with. The chamber warms up,
    /// swings, is set differently and opened; its thermometer is off, its lines come late or not at all. The readings, and when its
    /// middle was really at the target.
    fn smoked(random: &mut Random, target: f64) -> Option<(Vec<ProbeReading>, f64)> {
        const LAYERS: usize = 10;
        const STEP_S: f64 = 2.0;
        const CONDUCTIVITY: f64 = 0.47;
        let half_m = random.within(0.030, 0.095) / 2.0;
        let diffusivity = random.within(1.2e-7, 1.45e-7);
        let to_air = random.within(12.0, 28.0);
        let (set, off) = (random.within(85.0, 125.0), random.within(-6.0, 6.0));
        let (swing, period, phase) = (
            random.within(1.0, 9.0),
            random.within(12.0, 70.0),
            random.within(0.0, std::f64::consts::TAU),
        );
        let warm_up = random.within(5.0, 25.0);
        let wet = random.within(0.0, 10.0);
        let lids = random.times(6, 0.0, 600.0);
        let turned: Vec<(f64, f64)> = random
            .times(1, 20.0, 400.0)
            .into_iter()
            .map(|at| (at, random.within(-6.0, 6.0)))
            .collect();
        let (every, noise) = (
            [1.0, 1.0, 2.0, 5.0][random.within(0.0, 4.0) as usize],
            random.within(0.05, 0.5),
        );
        let layer = half_m / LAYERS as f64;
        let stores = CONDUCTIVITY / diffusivity;
        let mut meat = [random.within(2.0, 10.0); LAYERS];
        let mut readings = Vec::new();
        let (mut minute, mut next) = (0.0, 0.0);
        while minute < 14.0 * 60.0 {
            let mut air =
                set + off + swing * (2.0 * std::f64::consts::PI * minute / period + phase).sin();
            air += turned
                .iter()
                .filter(|(at, _)| minute > *at)
                .map(|(_, by)| by)
                .sum::<f64>();
            air -= lids
                .iter()
                .filter(|at| minute > **at)
                .map(|at| 35.0 * (-(minute - at) / 6.0).exp())
                .sum::<f64>();
            air = 20.0 + (air - 20.0) * (1.0 - (-minute / warm_up).exp());
            let before = meat;
            for i in 0..LAYERS {
                let inner = before[i.saturating_sub(1)];
                let from_inside = CONDUCTIVITY * (inner - before[i]) / layer;
                let from_outside = match before.get(i + 1) {
                    Some(outer) => CONDUCTIVITY * (outer - before[i]) / layer,
                    None => to_air * (air - wet * (-minute / 180.0_f64).exp() - before[i]),
                };
                meat[i] += STEP_S * (from_inside + from_outside) / (stores * layer);
            }
            if minute >= next {
                readings.push(ProbeReading {
                    minute,
                    inside_c: meat[0] + random.within(-noise, noise),
                    chamber_c: Some(air + random.within(-1.0, 1.0)),
                });
                let late = if random.within(0.0, 1.0) < 0.01 {
                    random.within(5.0, 30.0)
                } else {
                    0.0
                };
                next += every + late;
            }
            if meat[0] >= target {
                return Some((readings, minute));
            }
            minute += STEP_S / 60.0;
        }
        None
    }

    #[test]
    fn nine_of_ten_simulated_runs_are_done_within_the_band_that_half_way_foretold() {
        let mut random = Random(11);
        let (mut held, mut all, mut untold) = (0, 0, 0);
        let mut early = 0;
        let mut widths = Vec::new();
        while all < 500 {
            let target = [60.0, 62.8, 65.6, 71.1][all % 4];
            let Some((readings, done)) =
                smoked(&mut random, target).filter(|(_, done)| *done > 40.0)
            else {
                continue;
            };
            let half = readings.partition_point(|r| r.minute <= done / 2.0);
            // A chamber that is still under the target foretells nothing.
            let Some(got) = forecast(&readings[..half], target) else {
                untold += 1;
                continue;
            };
            all += 1;
            held += usize::from((got.low..=got.high).contains(&done));
            early += usize::from(done < got.low);
            widths.push((got.high - got.low) / (done - readings[half - 1].minute));
        }
        widths.sort_by(f64::total_cmp);
        assert!(untold * 50 <= all, "{untold} of {all} were not foretold");
        let median = widths[widths.len() / 2];
        assert!(
            held * 10 >= all * 9,
            "{held} of {all} hold, the median band is {median:.2} of what was left"
        );
        assert!(
            median < 0.40,
            "the median band is {median:.3} of what was left; {held} of {all} hold, early {early}"
        );
    }

    #[test]
    fn what_cannot_be_foretold_is_not() {
        let heated = |n: usize, chamber: Option<f64>| -> Vec<ProbeReading> {
            let at = |i: usize| ProbeReading {
                minute: i as f64 * 5.0,
                inside_c: 10.0 + i as f64,
                chamber_c: chamber,
            };
            (0..n).map(at).collect()
        };
        assert_eq!(forecast(&[], 60.0), None);
        assert_eq!(forecast(&heated(2, Some(95.0)), 60.0), None, "too few");
        assert_eq!(
            forecast(&heated(20, None), 60.0),
            None,
            "nobody read the chamber"
        );
        assert_eq!(
            forecast(&heated(20, Some(55.0)), 60.0),
            None,
            "it never gets there"
        );
        assert_eq!(forecast(&heated(60, Some(95.0)), 60.0), None, "it is there");
        let told = forecast(&heated(20, Some(95.0)), 60.0).unwrap();
        assert!(
            told.low < told.minute && told.minute < told.high && told.low > 0.0,
            "{told:?}"
        );
    }
}
