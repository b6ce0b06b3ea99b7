//! Thinning the readings of a run that is long over: what is dropped, and what never is.

use crate::heat::lethality::COUNTS_FROM_C;
use crate::place::climate::Read;

/// A dropped reading was no further than this off the straight line between those that are kept (°C).
pub const OFF_C: f64 = 0.5;
/// A run that was over for so many days is thinned.
pub const AFTER_DAYS: i64 = 30;

/// Temperatures whose crossings are kept (°C): where cure stops and fridges fail, the edges of the clocks of warming and cooling,
/// the warm dryer, cold and slow smoke, every safe inside.
pub const MARKS_C: [f64; 18] = [
    1.0,
    40.0 / 9.0,
    7.0,
    65.0 / 9.0,
    10.0,
    COOLED_C,
    30.0,
    46.0,
    52.0,
    COUNTS_FROM_C,
    60.0,
    62.8,
    65.6,
    68.3,
    71.1,
    73.9,
    80.0,
    100.0,
];
/// 80 °F.
const COOLED_C: f64 = (80.0 - 32.0) / 1.8;

/// Which readings of one probe are kept: the first and the last, the highest and the lowest, both sides of every crossing of a
/// mark, and as many between that none of the others lies further than [`OFF_C`] off the line between its neighbours.
///
/// The readings are in order of time.
#[must_use]
pub fn kept(readings: &[Read]) -> Vec<bool> {
    let mut kept = vec![false; readings.len()];
    let (Some(first), Some(last)) = (kept.first().map(|_| 0), readings.len().checked_sub(1)) else {
        return kept;
    };
    kept[first] = true;
    kept[last] = true;
    let by = |a: &usize, b: &usize| {
        readings[*a]
            .temperature
            .0
            .total_cmp(&readings[*b].temperature.0)
    };
    if let (Some(low), Some(high)) = ((0..=last).min_by(by), (0..=last).max_by(by)) {
        kept[low] = true;
        kept[high] = true;
    }
    for i in 1..readings.len() {
        let (a, b) = (readings[i - 1].temperature.0, readings[i].temperature.0);
        if MARKS_C.iter().any(|m| (a < *m) != (b < *m)) {
            kept[i - 1] = true;
            kept[i] = true;
        }
    }
    let fixed: Vec<usize> = (0..=last).filter(|i| kept[*i]).collect();
    for pair in fixed.windows(2) {
        straight(readings, (pair[0], pair[1]), &mut kept);
    }
    kept
}

/// Walks from one kept reading to another. From each kept one it goes as far as a line exists that passes all on the way within
/// reach; the slopes that still do narrow with every reading.
fn straight(readings: &[Read], (from, to): (usize, usize), kept: &mut [bool]) {
    let x = |i: usize| readings[i].at.as_second() as f64;
    let y = |i: usize| readings[i].temperature.0;
    let mut anchor = from;
    while anchor + 1 < to {
        let (mut low, mut high) = (f64::NEG_INFINITY, f64::INFINITY);
        let mut end = anchor + 1;
        for next in anchor + 1..=to {
            let run = x(next) - x(anchor);
            let slope = if run > 0.0 {
                (y(next) - y(anchor)) / run
            } else {
                0.0
            };
            // The line to this reading itself, past all before it.
            if next == anchor + 1 || (low..=high).contains(&slope) {
                end = next;
            }
            if run > 0.0 {
                low = low.max((y(next) - OFF_C - y(anchor)) / run);
                high = high.min((y(next) + OFF_C - y(anchor)) / run);
            }
            if low > high {
                break;
            }
        }
        kept[end] = true;
        anchor = end;
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::Celsius;
    use jiff::Timestamp;
    use proptest::prelude::*;

    fn at(i: usize, c: f64) -> Read {
        Read {
            at: Timestamp::from_second(1_800_000_000 + 30 * i as i64).unwrap(),
            temperature: Celsius(c),
        }
    }

    fn line(all: &[Read], keep: &[bool], i: usize) -> f64 {
        let a = (0..=i).rev().find(|k| keep[*k]).unwrap();
        let b = (i..all.len()).find(|k| keep[*k]).unwrap();
        let (xa, xb) = (all[a].at.as_second() as f64, all[b].at.as_second() as f64);
        if a == b {
            return all[a].temperature.0;
        }
        let share = (all[i].at.as_second() as f64 - xa) / (xb - xa);
        all[a].temperature.0 + share * (all[b].temperature.0 - all[a].temperature.0)
    }

    #[test]
    fn a_steady_chamber_keeps_next_to_nothing() {
        let all: Vec<Read> = (0..5_000)
            .map(|i| at(i, 92.0 + 0.2 * ((i % 7) as f64 - 3.0) / 3.0))
            .collect();
        let n = kept(&all).iter().filter(|k| **k).count();
        assert!(n <= 8, "{n}");
        assert!(kept(&[]).is_empty());
        assert_eq!(kept(&[at(0, 3.0)]), [true]);
    }

    proptest! {
        #[test]
        fn thinning_keeps_what_it_promises(steps in proptest::collection::vec(-30_i32..40, 1..400), start in -20_i32..90) {
            let mut c = f64::from(start);
            let all: Vec<Read> = steps.iter().enumerate().map(|(i, s)| { c = (c + f64::from(*s) / 20.0).clamp(-50.0, 300.0); at(i, c) }).collect();
            let keep = kept(&all);
            let thin: Vec<Read> = all.iter().zip(&keep).filter(|(_, k)| **k).map(|(r, _)| *r).collect();
            let most = |of: &[Read]| of.iter().map(|r| r.temperature.0).fold(f64::NEG_INFINITY, f64::max);
            let least = |of: &[Read]| of.iter().map(|r| r.temperature.0).fold(f64::INFINITY, f64::min);
            prop_assert_eq!(most(&all), most(&thin));
            prop_assert_eq!(least(&all), least(&thin));
            prop_assert_eq!((all[0], all[all.len() - 1]), (thin[0], thin[thin.len() - 1]));
            for mark in MARKS_C {
                let crossed = |of: &[Read]| of.windows(2)
                    .filter(|p| (p[0].temperature.0 < mark) != (p[1].temperature.0 < mark))
                    .map(|p| (p[0], p[1])).collect::<Vec<_>>();
                prop_assert_eq!(crossed(&all), crossed(&thin), "{}", mark);
            }
            for i in 0..all.len() {
                let off = (line(&all, &keep, i) - all[i].temperature.0).abs();
                prop_assert!(off <= OFF_C + 1e-6, "{} off at {}", off, i);
            }
        }
    }
}
