//! The air of a drying place: readings averaged over the hour, the door that was opened, and what the air does to what hangs there.

use crate::catalogue::place_kinds::DryingAir;
use crate::caution::{Code, Finding, Severity};
use crate::place::Place;
use crate::place::climate::PlaceLog;
use crate::units::show::{share, temperature};
use crate::units::{Celsius, Fraction, HeatUnit};
use jiff::Timestamp;

/// One reading of a place with its damp.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Aired {
    /// When.
    pub at: Timestamp,
    /// How warm.
    pub temperature: Celsius,
    /// How damp.
    pub humidity: Option<Fraction>,
}

/// An hour of a place.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Hour {
    /// Its beginning.
    pub from: Timestamp,
    /// The mean of its readings.
    pub temperature: Celsius,
    /// The mean of those that said it.
    pub humidity: Option<Fraction>,
    /// How often the door was opened, by what the readings show.
    pub opened: u32,
}

/// The length of an hour (s).
const HOUR_S: i64 = 3_600;

/// Readings further apart show no door (s).
const DOOR_WITHIN_S: i64 = 20 * 60;

/// A door let in so much warmth from one reading to the next (°C).
const DOOR_WARMTH: f64 = 1.5;

/// Or changed the damp by so much (share).
const DOOR_DAMP: f64 = 0.07;

/// What follows within so long belongs to the same opening (s).
const DOOR_SETTLES_S: i64 = 30 * 60;

/// When the door was opened, by what the readings show: a step that no compressor makes.
#[must_use]
pub fn opened(reads: &[Aired]) -> Vec<Timestamp> {
    let mut found: Vec<Timestamp> = Vec::new();
    for pair in reads.windows(2) {
        let [before, now] = pair else { continue };
        let apart = now.at.as_second() - before.at.as_second();
        let warmed = now.temperature.0 - before.temperature.0 >= DOOR_WARMTH;
        let damp = before.humidity.zip(now.humidity);
        let swung = damp.is_some_and(|(a, b)| (b.0 - a.0).abs() >= DOOR_DAMP);
        let new = found
            .last()
            .is_none_or(|last| now.at.as_second() - last.as_second() > DOOR_SETTLES_S);
        if apart <= DOOR_WITHIN_S && (warmed || swung) && new {
            found.push(now.at);
        }
    }
    found
}

/// Readings in order, averaged over each hour: a small chamber swings with its compressor and its door, and meat feels neither.
#[must_use]
pub fn hours(reads: &[Aired]) -> Vec<Hour> {
    let doors = opened(reads);
    let hour = |at: Timestamp| at.as_second().div_euclid(HOUR_S);
    reads
        .chunk_by(|a, b| hour(a.at) == hour(b.at))
        .filter_map(|all| {
            let no = hour(all.first()?.at);
            let damp: Vec<f64> = all.iter().filter_map(|r| Some(r.humidity?.0)).collect();
            let mean = |sum: f64, n: usize| sum / n as f64;
            Some(Hour {
                from: Timestamp::from_second(no * HOUR_S).ok()?,
                temperature: Celsius(mean(all.iter().map(|r| r.temperature.0).sum(), all.len())),
                humidity: (!damp.is_empty()).then(|| Fraction(mean(damp.iter().sum(), damp.len()))),
                opened: doors.iter().filter(|d| hour(**d) == no).count() as u32,
            })
        })
        .collect()
}

/// The mean of hours, so that an hour with many readings counts no more than one with few.
#[must_use]
pub fn mean(hours: &[Hour]) -> Option<(Celsius, Option<Fraction>)> {
    let n = hours.len();
    if n == 0 {
        return None;
    }
    let damp: Vec<f64> = hours.iter().filter_map(|h| Some(h.humidity?.0)).collect();
    Some((
        Celsius(hours.iter().map(|h| h.temperature.0).sum::<f64>() / n as f64),
        (!damp.is_empty()).then(|| Fraction(damp.iter().sum::<f64>() / damp.len() as f64)),
    ))
}

/// In what air something dries well (°C, share of humidity).
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Wanted {
    /// Not colder.
    pub cold: f64,
    /// Not warmer.
    pub warm: f64,
    /// Not drier: the rind hardens.
    pub dry: f64,
    /// Not damper: slime, and the wrong mould.
    pub damp: f64,
}

/// Above this nothing goes on hanging (°C).
pub const TOO_WARM: f64 = 18.0;

/// What is wanted of a place.
///
/// # Source
/// 10 to 15 °C and 70 to 80 % is usual, 80 to 85 in the first days; under 60 the rind hardens, over 85 slime comes. A household
/// fridge is colder and drier, and slower.
#[must_use]
pub const fn wanted(air: DryingAir) -> Wanted {
    match air {
        DryingAir::Chamber | DryingAir::CoolRoom | DryingAir::Room | DryingAir::Outdoors => {
            Wanted {
                cold: 5.0,
                warm: 15.0,
                dry: 0.60,
                damp: 0.85,
            }
        }
        DryingAir::Fridge => Wanted {
            cold: 1.0,
            warm: 7.0,
            dry: 0.25,
            damp: 0.85,
        },
    }
}

/// What the air of a drying place gives pause for, by its last day and its last hour.
#[must_use]
pub fn findings(place: &Place, log: &PlaceLog, heat: HeatUnit) -> Vec<Finding> {
    let Some(air) = place.kind().and_then(|k| k.dries) else {
        return Vec::new();
    };
    let wanted = wanted(air);
    let mut found = Vec::new();
    let said = |c: f64| temperature(Celsius(c), heat);
    let range = format!("{} to {}", said(wanted.cold), said(wanted.warm));
    if let Some((temperature, _)) = log.mean_of_last_hour() {
        let (severity, limit) = if temperature.0 > TOO_WARM + 5e-3 {
            (Severity::Stop, TOO_WARM)
        } else {
            (Severity::Caution, wanted.warm)
        };
        if temperature.0 > limit + 5e-3 {
            found.push(
                Finding::new(
                    Code::AirTooWarm,
                    severity,
                    format!("{} is too warm to hang meat in.", place.name),
                )
                .saw(format!("{} over the last hour", said(tenth(temperature.0))))
                .wants(range.clone())
                .remedy("Cool it now, or take what hangs there down into the fridge until it is cool again."),
            );
        }
    }
    let Some((temperature, damp)) = log.mean_of_recent() else {
        return found;
    };
    if temperature.0 < wanted.cold - 5e-3 {
        found.push(
            Finding::new(
                Code::AirTooCold,
                Severity::Info,
                format!("{} is so cold that hardly anything dries.", place.name),
            )
            .saw(format!("{} over the last day", said(tenth(temperature.0))))
            .wants(range),
        );
    }
    let Some(damp) = damp else { return found };
    let span = format!(
        "{} to {}",
        share(Fraction(wanted.dry)),
        share(Fraction(wanted.damp))
    );
    let saw = format!(
        "{} over the last day",
        share(Fraction((damp.0 * 100.0).round() / 100.0))
    );
    if damp.0 < wanted.dry - 5e-4 {
        found.push(
            Finding::new(
                Code::AirTooDry,
                Severity::Caution,
                format!(
                    "The air in {} is so dry that rinds harden and shut the water in.",
                    place.name
                ),
            )
            .saw(saw)
            .wants(span)
            .remedy("Set a tray of salted water in, still the air, and feel the rinds."),
        );
    } else if damp.0 > wanted.damp + 5e-4 {
        found.push(
            Finding::new(
                Code::AirTooDamp,
                Severity::Caution,
                format!(
                    "The air in {} is so damp that slime and the wrong mould come.",
                    place.name
                ),
            )
            .saw(saw)
            .wants(span)
            .remedy("Let air through, hang less in it, and look at every piece for slime."),
        );
    }
    found
}

fn tenth(c: f64) -> f64 {
    (c * 10.0).round() / 10.0
}

#[cfg(test)]
mod tests {
    use super::*;

    fn read(minute: i64, c: f64, damp: Option<f64>) -> Aired {
        Aired {
            at: Timestamp::from_second(1_800_000_000 + minute * 60).unwrap(),
            temperature: Celsius(c),
            humidity: damp.map(Fraction),
        }
    }

    #[test]
    fn an_hour_is_the_mean_of_its_readings_and_says_when_the_door_was_opened() {
        let reads: Vec<_> = (0..12)
            .map(|n| {
                let (warmer, drier) = if n == 7 {
                    (2.4, 0.12)
                } else if n == 8 {
                    (1.0, 0.04)
                } else {
                    (0.0, 0.0)
                };
                read(n * 10, 12.0 + warmer, Some(0.76 - drier))
            })
            .collect();
        let got = hours(&reads);
        assert_eq!(got.len(), 2);
        assert_eq!((got[0].temperature.0, got[0].opened), (12.0, 0));
        assert!((got[1].temperature.0 - (12.0 * 6.0 + 3.4) / 6.0).abs() < 1e-9);
        assert_eq!(got[1].opened, 1, "what settles after it is no second door");
    }

    #[test]
    fn a_compressor_is_no_door_and_a_gap_shows_none() {
        let swing: Vec<_> = (0..100)
            .map(|n| {
                read(
                    n * 10,
                    12.0 + 0.7 * (n as f64).sin(),
                    Some(0.75 + 0.03 * (n as f64).cos()),
                )
            })
            .collect();
        assert!(opened(&swing).is_empty());
        let gap = [read(0, 11.0, Some(0.7)), read(90, 14.0, Some(0.8))];
        assert!(opened(&gap).is_empty());
    }

    #[test]
    fn damp_that_nobody_measured_is_not_averaged() {
        let got = hours(&[read(0, 12.0, None), read(5, 14.0, Some(0.8))]);
        assert_eq!(
            (got[0].temperature.0, got[0].humidity),
            (13.0, Some(Fraction(0.8)))
        );
        assert_eq!(
            mean(&hours(&[read(0, 12.0, None)])),
            Some((Celsius(12.0), None))
        );
        assert_eq!(mean(&[]), None);
    }
}
