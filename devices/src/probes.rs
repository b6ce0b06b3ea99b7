//! A thermometer with four probes that does not exist: pieces heat by their thickness in a chamber that swings, with a stall where
//! evaporation holds them, carry-over when they come out, noise, and whatever faults it is given.

use crate::made_up::MadeUp;
use crate::protocol::{Said, line_of, unplugged};
use jiff::Timestamp;
use manifest_core::heat::heating::k_per_minute;
use manifest_core::units::{Celsius, Millimetres};
use std::collections::BTreeMap;
use std::fmt::Write as _;

/// It measures this often (s).
pub const EVERY_S: i64 = 30;

/// So many probes it has.
pub const PROBES: u8 = 4;

/// Nobody lets one run for longer (s).
const LONGEST_S: i64 = 40 * 86_400;

/// A way in which it fails.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Fault {
    /// Probe 3 slips out of its meat after two hours and a half, until it is set again.
    Out,
    /// The battery of probe 4 runs flat within six hours.
    Battery,
    /// Now and then a reading jumps.
    Jumps,
    /// From the third hour on it says degrees Fahrenheit, and says so.
    Units,
    /// Half an hour of silence in the second hour.
    Silence,
    /// Some lines come twice.
    Duplicates,
    /// Some lines are garbled.
    Garbled,
}

impl Fault {
    /// All of them, with their words.
    pub const ALL: [(Self, &'static str); 7] = [
        (Self::Out, "out"),
        (Self::Battery, "battery"),
        (Self::Jumps, "jumps"),
        (Self::Units, "units"),
        (Self::Silence, "silence"),
        (Self::Duplicates, "duplicates"),
        (Self::Garbled, "garbled"),
    ];

    /// The fault of a word.
    #[must_use]
    pub fn of(word: &str) -> Option<Self> {
        let mut all = Self::ALL.iter();
        all.find(|(_, w)| *w == word).map(|(fault, _)| *fault)
    }
}

/// Where a probe is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum At {
    Piece(i64),
    Air,
    Out,
}

/// A piece that is not there.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Meat {
    thickness: Millimetres,
    start: f64,
    from: i64,
    pulled: Option<i64>,
}

/// What it is to measure: which pieces lie there from when to when, how the chamber is set, where the probes are.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Script {
    chamber: Vec<(i64, f64)>,
    meat: BTreeMap<i64, Meat>,
    seats: Vec<(i64, u8, At)>,
    faults: Vec<Fault>,
}

impl Script {
    /// Pieces of these thicknesses, one to a probe but for the last, which hangs in the air.
    #[must_use]
    pub fn of(from: Timestamp, thicknesses: &[f64], chamber_c: f64, faults: &[Fault]) -> Self {
        let from = from.as_second();
        let mut script = Self {
            chamber: vec![(from, chamber_c)],
            faults: faults.to_vec(),
            ..Self::default()
        };
        let pieces = thicknesses.iter().take(usize::from(PROBES) - 1);
        for (probe, thick) in (1_u8..).zip(pieces) {
            let piece = i64::from(probe);
            let meat = Meat {
                thickness: Millimetres(*thick),
                start: 4.0,
                from,
                pulled: None,
            };
            script.meat.insert(piece, meat);
            script.seats.push((from, probe, At::Piece(piece)));
        }
        script.seats.push((from, PROBES, At::Air));
        script
    }

    /// Takes in a line of whoever listens; false for one that it does not know.
    pub fn take(&mut self, line: &str) -> bool {
        let words: Vec<&str> = line.split(' ').collect();
        let at = |text: &str| text.parse::<Timestamp>().ok().map(Timestamp::as_second);
        let number = |text: &str| text.parse::<f64>().ok().filter(|n| n.is_finite());
        let known = match words.as_slice() {
            ["RESET"] => {
                *self = Self::default();
                Some(())
            }
            ["CHAMBER", when, c] => at(when).zip(number(c)).map(|set| self.chamber.push(set)),
            ["MEAT", when, piece, mm, start] => {
                let piece = piece.parse::<i64>().ok();
                let of = at(when).zip(piece).zip(number(mm).zip(number(start)));
                of.map(|((from, piece), (mm, start))| {
                    let meat = Meat {
                        thickness: Millimetres(mm),
                        start,
                        from,
                        pulled: None,
                    };
                    self.meat.entry(piece).or_insert(meat);
                })
            }
            ["PULLED", when, piece] => {
                let piece = piece.parse::<i64>().ok();
                at(when).zip(piece).map(|(when, piece)| {
                    if let Some(meat) = self.meat.get_mut(&piece) {
                        meat.pulled = Some(when);
                    }
                })
            }
            ["SEAT", when, probe, place] => {
                let probe = probe.parse::<u8>().ok();
                let seat = match *place {
                    "AIR" => Some(At::Air),
                    "OUT" => Some(At::Out),
                    piece => piece.parse().ok().map(At::Piece),
                };
                let of = at(when).zip(probe).zip(seat);
                of.map(|((when, probe), seat)| self.seats.push((when, probe, seat)))
            }
            ["FAULT", word] => Fault::of(word).map(|f| self.faults.push(f)),
            _ => None,
        };
        known.is_some()
    }

    fn from(&self) -> Option<i64> {
        let seats = self.seats.iter().map(|s| s.0);
        let meat = self.meat.values().map(|m| m.from);
        let first = seats
            .chain(meat)
            .chain(self.chamber.first().map(|c| c.0))
            .min()?;
        Some(first.div_euclid(EVERY_S) * EVERY_S)
    }

    fn has(&self, fault: Fault) -> bool {
        self.faults.contains(&fault)
    }
}

/// How warm the kitchen is (°C).
const KITCHEN: f64 = 19.0;

/// Between these evaporation holds the inside (°C).
const STALL_C: std::ops::Range<f64> = 62.0..68.0;

/// So much of the heat gets through then.
const STALL_SHARE: f64 = 0.05;

/// So long a millimetre of thickness stalls (min).
const STALL_MIN_PER_MM: f64 = 1.4;

/// Hotter than this nothing stalls (°C).
const OUTRUNS_C: f64 = 125.0;

/// A piece as it heats: its outside and its middle.
#[derive(Clone, Copy, Debug)]
struct Warm {
    outside: f64,
    middle: f64,
    evaporates_min: f64,
}

/// The world that it measures, moved on step by step.
#[derive(Clone, Debug)]
struct World {
    script: Script,
    at: i64,
    chamber: f64,
    pieces: BTreeMap<i64, Warm>,
}

impl World {
    fn new(script: Script) -> Option<Self> {
        Some(Self {
            at: script.from()?,
            script,
            chamber: KITCHEN,
            pieces: BTreeMap::new(),
        })
    }

    fn step(&mut self) {
        self.at += EVERY_S;
        let minutes = EVERY_S as f64 / 60.0;
        let set = self.script.chamber.iter().filter(|(at, _)| *at <= self.at);
        let set = set.max_by_key(|(at, _)| *at).map_or(KITCHEN, |(_, c)| *c);
        let phase = self.at as f64 / 1_140.0 * std::f64::consts::TAU;
        let wanted = set + 2.2 * phase.sin();
        self.chamber += (wanted - self.chamber) * (1.0 - (-minutes / 6.0).exp());
        for (piece, meat) in &self.script.meat {
            if meat.from > self.at {
                continue;
            }
            let warm = self.pieces.entry(*piece).or_insert(Warm {
                outside: meat.start,
                middle: meat.start,
                evaporates_min: meat.thickness.0 * STALL_MIN_PER_MM,
            });
            let out = meat.pulled.is_some_and(|at| at <= self.at);
            let around = if out { KITCHEN } else { self.chamber };
            let k = k_per_minute(meat.thickness, false);
            let holds = !out
                && STALL_C.contains(&warm.middle)
                && warm.evaporates_min > 0.0
                && around < OUTRUNS_C;
            if holds {
                warm.evaporates_min -= minutes;
            }
            let share = if holds { STALL_SHARE } else { 1.0 };
            warm.outside += (around - warm.outside) * (1.0 - (-1.25 * k * minutes).exp()) * share;
            warm.middle +=
                (warm.outside - warm.middle) * (1.0 - (-4.0 * k * minutes).exp()) * share;
        }
    }

    /// What a probe says now; none where it is not plugged in.
    fn reads(&self, probe: u8) -> Option<f64> {
        let seats = self.script.seats.iter();
        let seat = seats
            .filter(|s| s.1 == probe && s.0 <= self.at)
            .max_by_key(|s| s.0)?;
        let slipped = self.script.has(Fault::Out) && probe == 3 && self.at - seat.0 >= 9_000;
        let air = self.chamber + 0.4;
        let true_c = match seat.2 {
            At::Piece(_) if slipped => air,
            At::Piece(piece) => self.pieces.get(&piece)?.middle,
            At::Air => air,
            At::Out => return None,
        };
        let dice = dice(self.at, probe);
        let noise = (dice % 1_000) as f64 / 1_000.0 - 0.5;
        let jump = self.script.has(Fault::Jumps) && (dice / 1_000).is_multiple_of(211);
        Some(true_c + 0.5 * noise + if jump { 26.0 } else { 0.0 })
    }

    /// The lines of this moment.
    fn lines(&self, began: i64) -> Vec<String> {
        let since = self.at - began;
        if self.script.has(Fault::Silence) && (4_000..5_800).contains(&since) {
            return Vec::new();
        }
        let at = Timestamp::from_second(self.at).unwrap_or_default();
        let mut all = Vec::new();
        for probe in 1..=PROBES {
            let number = (self.at / EVERY_S * i64::from(PROBES) + i64::from(probe)).unsigned_abs();
            let battery = if self.script.has(Fault::Battery) && probe == PROBES {
                (100 - since / 216).max(0)
            } else {
                (100 - since / 7_200).max(20)
            };
            let Some(temperature) = self.reads(probe).filter(|_| battery > 0) else {
                if battery > 0 {
                    all.push(unplugged(number, at, probe));
                }
                continue;
            };
            let line = line_of(&Said {
                number,
                at,
                temperature: Celsius((temperature * 10.0).round() / 10.0),
                humidity: None,
                probe: Some(probe),
                battery: u8::try_from(battery).ok(),
                in_fahrenheit: self.script.has(Fault::Units) && since > 10_800,
            });
            if self.script.has(Fault::Garbled) && number.is_multiple_of(61) {
                all.push(line.replacen(" C ", " # ", 1));
                continue;
            }
            if self.script.has(Fault::Duplicates) && number.is_multiple_of(23) {
                all.push(line.clone());
            }
            all.push(line);
        }
        all
    }
}

/// The same for the same moment and probe, whenever it is asked.
fn dice(at: i64, probe: u8) -> u64 {
    let mut x = at.unsigned_abs() ^ (u64::from(probe) << 40);
    x = (x ^ (x >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
    x = (x ^ (x >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
    x ^ (x >> 31)
}

/// The lines of a script up to a moment, all at once.
#[must_use]
pub fn lines(script: &Script, until: Timestamp) -> Vec<String> {
    let Some(mut world) = World::new(script.clone()) else {
        return Vec::new();
    };
    let began = world.at;
    let until = until.as_second().min(began + LONGEST_S);
    let mut all = Vec::new();
    while world.at + EVERY_S <= until {
        world.step();
        all.extend(world.lines(began));
    }
    all
}

/// The same as a table: time, then a column for each probe; what is not plugged in is empty.
#[must_use]
pub fn csv(script: &Script, until: Timestamp) -> String {
    let mut text = String::from("time,probe 1 C,probe 2 C,probe 3 C,probe 4 C\n");
    let Some(mut world) = World::new(script.clone()) else {
        return text;
    };
    let began = world.at;
    let until = until.as_second().min(began + LONGEST_S);
    while world.at + EVERY_S <= until {
        world.step();
        let in_f = script.has(Fault::Units) && world.at - began > 10_800;
        let cells = (1..=PROBES).map(|probe| {
            let flat = script.has(Fault::Battery) && probe == PROBES && world.at - began > 21_600;
            match world.reads(probe).filter(|_| !flat) {
                // A file does not say that its unit was switched.
                Some(c) if in_f => format!("{:.1}", c * 1.8 + 32.0),
                Some(c) => format!("{c:.1}"),
                None => String::new(),
            }
        });
        let at = Timestamp::from_second(world.at).unwrap_or_default();
        let cells: Vec<String> = cells.collect();
        let _ = writeln!(text, "{at},{}", cells.join(","));
    }
    text
}

/// The thermometer of a script, as one who listens hears it.
#[derive(Clone, Debug)]
pub struct ProbesDevice {
    script: Script,
    world: Option<World>,
    since: Option<i64>,
    changed: bool,
}

/// It answers by a script, which whoever listens may change.
#[must_use]
pub const fn device(script: Script) -> ProbesDevice {
    ProbesDevice {
        script,
        world: None,
        since: None,
        changed: true,
    }
}

impl MadeUp for ProbesDevice {
    fn since(&mut self, at: i64) {
        self.since = Some(at);
    }

    fn hear(&mut self, line: &str) {
        self.changed |= self.script.take(line);
    }

    fn say(&mut self, now: i64) -> Vec<String> {
        // What changed is measured anew from the start; what was said is not said again.
        if std::mem::take(&mut self.changed) {
            self.world = World::new(self.script.clone());
        }
        let mut said = Vec::new();
        let Some(world) = &mut self.world else {
            return said;
        };
        let began = self.script.from().unwrap_or(world.at);
        while world.at + EVERY_S <= now.min(began + LONGEST_S) {
            world.step();
            if self.since.is_none_or(|s| world.at > s) {
                said.extend(world.lines(began));
                self.since = Some(world.at);
            }
        }
        said
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::protocol::{Line, read};
    use crate::reader::Reader;

    fn began() -> Timestamp {
        "2026-11-20T08:00:00Z".parse().unwrap()
    }

    fn until(hours: i64) -> Timestamp {
        Timestamp::from_second(began().as_second() + hours * 3_600).unwrap()
    }

    fn of(probe: u8, faults: &[Fault], hours: i64) -> Vec<(f64, f64)> {
        let script = Script::of(began(), &[30.0, 45.0, 60.0], 95.0, faults);
        let mut reader = Reader::default();
        let said = lines(&script, until(hours));
        let said = said.iter().filter_map(|l| reader.take(l));
        said.filter(|s| s.probe == Some(probe))
            .map(|s| {
                (
                    (s.at.as_second() - began().as_second()) as f64 / 60.0,
                    s.temperature.0,
                )
            })
            .collect()
    }

    #[test]
    fn pieces_heat_by_their_thickness_and_stall() {
        let at = |probe, minute: f64| {
            let all = of(probe, &[], 8);
            all.iter().find(|(m, _)| *m >= minute).unwrap().1
        };
        assert!(at(1, 60.0) > at(2, 60.0) && at(2, 60.0) > at(3, 60.0));
        let all = of(2, &[], 10);
        let passed = |c: f64| all.iter().find(|(_, w)| *w >= c).unwrap().0;
        // sixty-odd minutes between 62 and 68, where a minute each would do
        assert!(passed(68.5) - passed(61.0) > 50.0);
        let air = of(4, &[], 2);
        assert!(air.iter().skip(60).all(|(_, w)| (88.0..102.0).contains(w)));
    }

    #[test]
    fn every_fault_is_there_and_none_does_harm() {
        for (fault, word) in Fault::ALL {
            assert_eq!(Fault::of(word), Some(fault));
            let script = Script::of(began(), &[30.0, 45.0, 60.0], 95.0, &[fault]);
            let said = lines(&script, until(7));
            let mut reader = Reader::default();
            let kept: Vec<_> = said.iter().filter_map(|l| reader.take(l)).collect();
            let heard = reader.heard();
            let third = of(3, &[fault], 4);
            let seen = match fault {
                Fault::Out => third.iter().any(|(m, w)| *m > 151.0 && *w > 85.0),
                Fault::Battery => !kept.iter().any(|s| s.probe == Some(4) && s.at > until(6)),
                Fault::Jumps => third.windows(2).any(|p| (p[1].1 - p[0].1).abs() > 20.0),
                Fault::Units => heard.in_fahrenheit > 100,
                Fault::Silence => {
                    let gap = |p: &[(f64, f64)]| p[1].0 - p[0].0 > 25.0;
                    third.windows(2).any(gap)
                }
                Fault::Duplicates => heard.doubled > 10,
                Fault::Garbled => heard.garbled > 10 && said.iter().any(|l| read(l).is_err()),
            };
            assert!(seen, "{word}: {heard:?}");
            assert!(
                kept.iter()
                    .all(|s| (-40.0..=130.0).contains(&s.temperature.0)),
                "{word}"
            );
        }
    }

    #[test]
    fn a_script_is_read_from_lines_and_a_file_has_a_column_for_each_probe() {
        let mut script = Script::default();
        for line in [
            "CHAMBER 2026-11-20T08:00:00Z 90",
            "MEAT 2026-11-20T08:00:00Z 7 40 4",
            "SEAT 2026-11-20T08:00:00Z 1 7",
            "SEAT 2026-11-20T08:00:00Z 2 AIR",
            "PULLED 2026-11-20T10:00:00Z 7",
        ] {
            assert!(script.take(line), "{line}");
        }
        for line in [
            "SEAT yesterday 1 7",
            "MEAT",
            "CHAMBER 2026-11-20T08:00:00Z inf",
            "FAULT rain",
        ] {
            assert!(!script.take(line), "{line}");
        }
        let text = csv(&script, until(4));
        let rows: Vec<&str> = text.lines().collect();
        assert_eq!(rows.len(), 1 + 4 * 120);
        assert!(rows[100].ends_with(",,"), "{}", rows[100]);
        // it goes on warming after the pull, and then cools
        let said = lines(&script, until(4));
        let first = said.iter().filter_map(|l| match read(l) {
            Ok(Line::Reading(s)) if s.probe == Some(1) => Some((s.at, s.temperature.0)),
            Ok(_) | Err(_) => None,
        });
        let first: Vec<_> = first.collect();
        let at_pull = first.iter().find(|(at, _)| *at >= until(2)).unwrap().1;
        let peak = first.iter().map(|(_, w)| *w).fold(0.0, f64::max);
        assert!((0.5..6.0).contains(&(peak - at_pull)), "{at_pull} {peak}");
    }
}
