//! What counts as the inside of a piece in a run: readings that are of the meat, and that meat of its thickness can have in the
//! history of its chamber.
//!
//! A reading that cannot be proves nothing, and neither does what the same probe says afterwards, since a stuck probe agrees with
//! itself: until it read right in ice water or boiling water, or a check by hand that can be agrees with it.

use crate::caution::{Code, Finding, Severity};
use crate::heat::possible::{
    BOILS, HOTTEST_CHAMBER, KITCHEN, Meat, OVER_CHAMBER_C, OVER_SETTING, SLACK_C, Spell, Warmest,
};
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::ids::PieceId;
use crate::ledger::book::Book;
use crate::piece::{Heat, Piece};
use crate::place::climate::Read;
use crate::run::act::RunAct;
use crate::run::series::{
    Beginning, ProbeFault, ProbeFaultKind, SETTLES_MIN, Sounded, of_seat, of_zone, sound,
};
use crate::run::{
    Appliance, ProbeLocation, ProbeNo, ProbeReadings, ProbeSpan, Run, RunStageKind, Spots,
    TRUSTED_C, minutes, seconds_on,
};
use crate::units::show::temperature;
use crate::units::{Celsius, HeatUnit, Millimetres};
use jiff::Timestamp;
use std::collections::BTreeMap;

/// What is known of a piece beside its run.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct OfPiece {
    /// How thick it lies, where somebody measured it.
    pub thickness: Option<Millimetres>,
    /// How warm its inside can have been when it was laid in.
    pub start: Celsius,
    /// When it left the run for good, if it did: then it is in a kitchen.
    pub left: Option<Timestamp>,
}

impl Default for OfPiece {
    fn default() -> Self {
        Self {
            thickness: None,
            start: KITCHEN,
            left: None,
        }
    }
}

/// A heat before this one warms it for so long (h).
const STILL_WARM_H: f64 = 24.0;

impl OfPiece {
    /// What is known of a piece, as its entries leave it.
    #[must_use]
    pub fn of(run: &Run, piece: &Piece, book: &Book) -> Self {
        let from = run.sittings.iter().find(|s| s.piece == piece.id);
        let from = from.map_or(run.begun, |s| s.from);
        Self {
            thickness: piece.thickness_now(),
            start: start_before(piece, from),
            left: run.left(piece.id, book),
        }
    }
}

/// How warm the inside of a piece can have been at a moment: as a warm kitchen, or as warm as a heat of that day left it.
#[must_use]
pub fn start_before(piece: &Piece, at: Timestamp) -> Celsius {
    let lately = |h: &&Heat| h.at < at && minutes(h.at, at) <= STILL_WARM_H * 60.0;
    let before = piece.heats.iter().filter(lately);
    let warmest = before.filter_map(Heat::highest).map(|c| c.0);
    Celsius(warmest.fold(KITCHEN.0, f64::max))
}

/// Why a reading proves nothing, with what to do about it.
#[must_use]
pub fn unproved(kind: ProbeFaultKind, read: Celsius, unit: HeatUnit) -> Finding {
    let (code, what, remedy) = match kind {
        ProbeFaultKind::OverChamber => (
            Code::WarmerThanChamber,
            "Meat does not get warmer inside than its chamber.",
            "Check both numbers and their units. Saved as typed it proves nothing until another thermometer agrees.",
        ),
        ProbeFaultKind::TooFast => (
            Code::HeatsTooFast,
            "Meat of this thickness cannot warm that fast.",
            "Check the number, its unit, the thickness and the times. Saved as typed it proves nothing until another thermometer agrees.",
        ),
        ProbeFaultKind::UnitUnclear => (
            Code::UnitUnclear,
            "Nobody said in which unit that is.",
            "Record the check again with its unit, e.g. 62.8 C or 145 F.",
        ),
        ProbeFaultKind::Stuck
        | ProbeFaultKind::Wrong
        | ProbeFaultKind::OutOfMeat
        | ProbeFaultKind::Jump
        | ProbeFaultKind::Fahrenheit
        | ProbeFaultKind::Silent => (
            Code::ProbeWrong,
            "The probe does not read like meat.",
            "Check the piece with another thermometer, or check the probe in ice water.",
        ),
    };
    Finding::new(code, Severity::Caution, what)
        .saw(format!(
            "{} inside, which {}",
            temperature(read, unit),
            kind.label()
        ))
        .remedy(remedy)
}

/// Readings of the air closer than this to a moment say how warm the chamber was then (min).
const AIR_NEAR_MIN: f64 = 60.0;

/// The air is looked up by stretches of so long (min).
const BUCKET_MIN: f64 = 10.0;

/// A probe of meat this warm that says the same to the tenth for so long did not move (°C, readings, min).
const STUCK: (f64, usize, f64) = (40.0, 6, 60.0);

/// Readings this close together are the same (°C).
const SAME_C: f64 = 0.5;

/// Meat this near to its chamber may stand still (°C).
const STILL_UNDER_C: f64 = 10.0;

/// A probe agrees with a check by hand within this (°C) …
const AGREES_C: f64 = 2.0;

/// … if it said so not longer before than this (min).
const AGREES_MIN: f64 = 20.0;

/// How warm a chamber can have been, at the most.
struct Chamber<'a> {
    run: &'a Run,
    /// The warmest air read in each stretch.
    buckets: Vec<Option<f64>>,
    /// The warmest air that was ever read.
    warmest: Option<f64>,
    left: Option<Timestamp>,
}

impl<'a> Chamber<'a> {
    fn of(run: &'a Run, air: &[Read], left: Option<Timestamp>) -> Self {
        let mut buckets: Vec<Option<f64>> = Vec::new();
        for read in air {
            let at = Self::bucket(run, read.at);
            if at >= MOST_BUCKETS {
                continue;
            }
            if buckets.len() <= at {
                buckets.resize(at + 1, None);
            }
            let known = buckets[at].unwrap_or(f64::NEG_INFINITY);
            buckets[at] = Some(known.max(read.temperature.0));
        }
        Self {
            run,
            buckets,
            warmest: air.iter().map(|r| r.temperature.0).reduce(f64::max),
            left,
        }
    }

    fn bucket(run: &Run, at: Timestamp) -> usize {
        (minutes(run.begun, at).max(0.0) / BUCKET_MIN) as usize
    }

    /// The warmest it can have been between two moments.
    fn between(&self, from: Timestamp, to: Timestamp) -> Celsius {
        if self.left.is_some_and(|left| from >= left) {
            return KITCHEN;
        }
        let near = (AIR_NEAR_MIN / BUCKET_MIN) as usize;
        let first = Self::bucket(self.run, from).saturating_sub(near);
        let last = (Self::bucket(self.run, to) + near).min(self.buckets.len().saturating_sub(1));
        let read = self.buckets.get(first..=last).unwrap_or_default();
        match read.iter().flatten().copied().reduce(f64::max) {
            Some(read) => Celsius(read),
            None => {
                let set = self.as_set(from, to);
                Celsius(self.warmest.map_or(set.0, |w| w.max(set.0)))
            }
        }
    }

    /// By its settings, where nobody measured it.
    fn as_set(&self, from: Timestamp, to: Timestamp) -> Celsius {
        let run = self.run;
        let went = run.went.iter();
        let then = went.filter(|w| w.from <= to && w.until.is_none_or(|u| u >= from));
        let mut stages: Vec<_> = then.filter_map(|w| run.stages.get(w.stage)).collect();
        if stages.is_empty() {
            stages = run.stages.iter().collect();
        }
        let unset = stages.iter().any(|s| s.set_c.is_none());
        let set = stages.iter().filter_map(|s| s.set_c).reduce(f64::max);
        match set {
            Some(set) if !unset => Celsius(set + OVER_SETTING),
            Some(_) | None => match run.hearth {
                Appliance::Smoker | Appliance::Oven => HOTTEST_CHAMBER,
                Appliance::Pot => Celsius(crate::run::series::HOTTEST_MEAT_C),
            },
        }
    }

    fn is_wet(&self) -> bool {
        let wet = |k: RunStageKind| matches!(k, RunStageKind::Steam | RunStageKind::Boil);
        self.run.hearth == Appliance::Pot || self.run.stages.iter().any(|s| wet(s.kind))
    }
}

/// A run does not go on for longer than is looked at (stretches of ten minutes: ten weeks).
const MOST_BUCKETS: usize = 10_080;

/// How warm the inside can be as time goes on, by one instrument.
#[derive(Clone, Copy)]
struct Bound {
    at: Timestamp,
    warmest: Warmest,
    /// The warmest its chamber can have been so far.
    hottest: f64,
    /// The highest reading that counted: meat may be there again.
    highest: f64,
}

/// A long time without a reading is looked at in stretches of so long (s).
const STRETCH_S: f64 = 30.0 * 60.0;

impl Bound {
    fn from(at: Timestamp, inside: Celsius) -> Self {
        Self {
            at,
            warmest: Warmest::from(inside),
            hottest: f64::NEG_INFINITY,
            highest: f64::NEG_INFINITY,
        }
    }

    fn to(mut self, at: Timestamp, chamber: &Chamber<'_>, meat: Meat) -> Self {
        while self.at < at {
            let stretch = seconds_on(self.at, STRETCH_S).unwrap_or(at).min(at);
            // Of what was pulled in between, the kitchen begins there.
            let pulled = chamber.left.filter(|l| *l > self.at && *l < stretch);
            let end = pulled.unwrap_or(stretch);
            let around = chamber.between(self.at, end);
            let spell = Spell {
                minutes: minutes(self.at, end),
                chamber: around,
            };
            self.hottest = self.hottest.max(around.0);
            self.warmest = self.warmest.after(spell, meat);
            self.at = end;
        }
        self.hottest = self.hottest.max(chamber.between(at, at).0);
        self
    }

    fn measured(mut self, read: Read) -> Self {
        self.warmest = self.warmest.measured(read.temperature);
        self.highest = self.highest.max(read.temperature.0);
        self
    }

    /// Why a reading of now cannot be, if it cannot.
    fn cannot_be(&self, inside: Celsius) -> Option<ProbeFaultKind> {
        if inside.0 > BOILS.0 + OVER_CHAMBER_C
            || (self.hottest.is_finite()
                && inside.0 > self.hottest.max(self.warmest.inside.0) + OVER_CHAMBER_C)
        {
            return Some(ProbeFaultKind::OverChamber);
        }
        let most = self.warmest.inside.0.max(self.highest);
        (inside.0 > most + SLACK_C).then_some(ProbeFaultKind::TooFast)
    }
}

/// What one reading is, in the order of time.
#[derive(Clone, Copy)]
enum Source<'a> {
    /// Of a probe that was put in then.
    Probe(ProbeNo, Timestamp),
    /// A check by hand.
    Hand(&'a Spots),
}

/// A probe that said what cannot be.
#[derive(Clone, Copy)]
struct Suspect {
    since: Timestamp,
    first: Celsius,
    newest: Read,
    kind: ProbeFaultKind,
}

/// What is thought of a probe in one place.
struct Thought {
    seated: Timestamp,
    bound: Bound,
    suspect: Option<Suspect>,
    /// Its first reading and how many there were, while all were the same.
    still: Option<(Read, usize)>,
    last: Option<Timestamp>,
}

/// What counts as the inside of a piece, and what was wrong with its probes; checks by hand count while no probe that counts sat
/// in it.
#[must_use]
pub fn of_piece(run: &Run, readings: &ProbeReadings, piece: PieceId, known: OfPiece) -> Sounded {
    let mut all = Sounded::default();
    let mut timeline: Vec<(Read, Source<'_>)> = Vec::new();
    let mine = run.probes.iter().flat_map(|(no, seats)| {
        let here = seats
            .iter()
            .filter(|s| s.seat == ProbeLocation::Piece(piece));
        here.map(|s| (*no, s))
    });
    let mut seats: Vec<(ProbeNo, &ProbeSpan)> = mine.collect();
    seats.sort_by_key(|(no, s)| (s.from, *no));
    let lay = run.sitting(piece).map_or("", |s| s.zone.as_str());
    let mut air: (&str, Vec<Read>) = (lay, of_zone(run, readings, lay));
    for (no, seat) in &seats {
        if run.is_wrong(*no) {
            all.faults.push(ProbeFault {
                probe: *no,
                kind: ProbeFaultKind::Wrong,
                from: seat.from,
                until: seat.until,
                saw: Celsius(run.offsets.get(no).copied().unwrap_or(0.0)),
            });
            continue;
        }
        let zone = run.zone_at(piece, seat.from).unwrap_or_default();
        if air.0 != zone {
            air = (zone, of_zone(run, readings, zone));
        }
        let newest = timeline.iter().map(|(r, _)| *r);
        let beginning = Beginning {
            seated: seat.from,
            known: newest.filter(|r| r.at <= seat.from).max_by_key(|r| r.at),
            air: &air.1,
        };
        let found = sound(*no, &of_seat(run, readings, *no, seat), beginning);
        let of = |r: Read| (r, Source::Probe(*no, seat.from));
        timeline.extend(found.reads.into_iter().map(of));
        all.faults.extend(found.faults);
    }
    let mine = || run.spots.iter().filter(|s| s.piece == piece);
    for spots in mine() {
        // Of two checks of one moment the later line is what was meant.
        if mine().any(|s| s.at == spots.at && s.no > spots.no) {
            continue;
        }
        if let Some(temperature) = spots.coldest() {
            let read = Read {
                at: spots.at,
                temperature,
            };
            timeline.push((read, Source::Hand(spots)));
        }
    }
    timeline.sort_by_key(|(r, _)| r.at);
    let mut everywhere: Vec<Read> = if run
        .sittings
        .iter()
        .any(|s| s.piece == piece && s.zone != air.0)
    {
        let zones = run.sittings.iter().filter(|s| s.piece == piece);
        let mut names: Vec<&str> = zones.map(|s| s.zone.as_str()).collect();
        names.sort_unstable();
        names.dedup();
        let reads = names.into_iter().flat_map(|z| of_zone(run, readings, z));
        reads.collect()
    } else {
        std::mem::take(&mut air.1)
    };
    everywhere.sort_by_key(|r| r.at);
    let chamber = Chamber::of(run, &everywhere, known.left);
    let first = run.sittings.iter().find(|s| s.piece == piece);
    let meat = Meat {
        thickness: known.thickness,
        wet: chamber.is_wet(),
    };
    let look = Looking {
        run,
        piece,
        chamber: &chamber,
        meat,
        unmeasured: Bound::from(first.map_or(run.begun, |s| s.from), known.start),
        hand: None,
        probes: BTreeMap::new(),
        found: all,
    };
    let mut all = look.through(timeline);
    // Of two at once the colder: the thickest place is the coldest.
    all.reads.sort_by(|a, b| {
        a.at.cmp(&b.at)
            .then(a.temperature.0.total_cmp(&b.temperature.0))
    });
    all.reads.dedup_by_key(|r| r.at);
    all
}

/// Readings of one piece, gone through in the order of time.
struct Looking<'a> {
    run: &'a Run,
    piece: PieceId,
    chamber: &'a Chamber<'a>,
    meat: Meat,
    /// The most that its time in the chamber allows, whatever was measured.
    unmeasured: Bound,
    /// The same since a check by hand.
    hand: Option<Bound>,
    /// By probe: one instrument wherever it sits.
    probes: BTreeMap<ProbeNo, Thought>,
    found: Sounded,
}

impl Looking<'_> {
    fn through(mut self, timeline: Vec<(Read, Source<'_>)>) -> Sounded {
        for (read, source) in timeline {
            self.unmeasured = self.unmeasured.to(read.at, self.chamber, self.meat);
            match source {
                Source::Hand(spots) => self.by_hand(read, spots),
                Source::Probe(no, seated) => self.by_probe(read, no, seated),
            }
        }
        for (no, thought) in self.probes {
            let Some(suspect) = thought.suspect else {
                continue;
            };
            // One that never said anything else did not move.
            let moved = (suspect.newest.temperature.0 - suspect.first.0).abs() > SAME_C;
            let went_on = suspect.newest.at > suspect.since;
            let kind = if went_on && !moved {
                ProbeFaultKind::Stuck
            } else {
                suspect.kind
            };
            self.found.faults.push(ProbeFault {
                probe: no,
                kind,
                from: suspect.since,
                until: None,
                saw: suspect.first,
            });
        }
        self.found
    }

    fn by_hand(&mut self, read: Read, spots: &Spots) {
        let bound = self
            .hand
            .map_or(self.unmeasured, |b| b.to(read.at, self.chamber, self.meat));
        // Its other places may be nearer to the outside.
        let warmer = spots.read.iter().filter(|t| t.value.0 > read.temperature.0);
        let unclear = spots
            .read
            .iter()
            .any(|t| unit_doubt(t, ReadWhere::InsideHot).is_some());
        let unclear = unclear.then_some(ProbeFaultKind::UnitUnclear);
        let cannot = unclear
            .or_else(|| bound.cannot_be(read.temperature))
            .or_else(|| {
                let mut all = warmer.map(|t| t.value);
                all.find_map(|c| {
                    (c.0 > self.unmeasured.hottest + OVER_CHAMBER_C)
                        .then_some(ProbeFaultKind::OverChamber)
                })
            });
        if let Some(kind) = cannot {
            self.found.doubted.push((spots.no, kind));
            return;
        }
        self.hand = Some(bound.measured(read));
        let mut covered = false;
        for (no, thought) in &mut self.probes {
            // A probe that says the same as another instrument is believed again.
            if let Some(suspect) = thought.suspect
                && minutes(suspect.newest.at, read.at) <= AGREES_MIN
                && (suspect.newest.temperature.0 - read.temperature.0).abs() <= AGREES_C
            {
                thought.suspect = None;
                thought.bound = bound.measured(read);
                self.found.faults.push(fault(*no, suspect, Some(read.at)));
            }
            let there = seat_holds(self.run, *no, self.piece, read.at);
            covered |= there && thought.suspect.is_none() && thought.last.is_some();
        }
        if !covered {
            self.found.reads.push(read);
        }
    }

    fn by_probe(&mut self, read: Read, no: ProbeNo, seated: Timestamp) {
        let unmeasured = self.unmeasured;
        let thought = self.probes.entry(no).or_insert_with(|| Thought {
            seated,
            bound: unmeasured,
            suspect: None,
            still: None,
            last: None,
        });
        if thought.seated != seated {
            thought.seated = seated;
            thought.bound = unmeasured;
            thought.still = None;
            thought.last = None;
        }
        if let Some(mut suspect) = thought.suspect {
            if !proved_right(self.run, no, suspect.since, read.at) {
                suspect.newest = read;
                thought.suspect = Some(suspect);
                return;
            }
            thought.suspect = None;
            thought.bound = unmeasured;
            self.found.faults.push(fault(no, suspect, Some(read.at)));
        }
        // One that was just put in comes out of the air of the kitchen.
        let settles = minutes(seated, read.at) <= SETTLES_MIN;
        thought.bound = if settles {
            unmeasured
        } else {
            thought.bound.to(read.at, self.chamber, self.meat)
        };
        let cannot = thought.bound.cannot_be(read.temperature);
        let kind = cannot.or_else(|| still(thought, read));
        thought.last = Some(read.at);
        let Some(kind) = kind else {
            thought.bound = thought.bound.measured(read);
            self.found.reads.push(read);
            return;
        };
        thought.suspect = Some(Suspect {
            since: read.at,
            first: read.temperature,
            newest: read,
            kind,
        });
        if kind == ProbeFaultKind::Stuck {
            // Nothing that it said in this place was measured.
            let stuck = |r: &Read| r.at >= seated && same(r.temperature, read.temperature);
            self.found.reads.retain(|r| !stuck(r));
        }
    }
}

fn fault(probe: ProbeNo, suspect: Suspect, until: Option<Timestamp>) -> ProbeFault {
    ProbeFault {
        probe,
        kind: suspect.kind,
        from: suspect.since,
        until,
        saw: suspect.first,
    }
}

fn same(a: Celsius, b: Celsius) -> bool {
    (a.0 - b.0).abs() < 0.05
}

/// Whether a probe of warm meat has said the very same for too long.
fn still(thought: &mut Thought, read: Read) -> Option<ProbeFaultKind> {
    let (least, count, long) = STUCK;
    thought.still = match (thought.still, thought.last) {
        (None, None) => Some((read, 1)),
        (Some((first, n)), _) if same(first.temperature, read.temperature) => Some((first, n + 1)),
        (Some(_) | None, _) => None,
    };
    let (first, n) = thought.still?;
    let long = n >= count && minutes(first.at, read.at) >= long;
    let warm =
        read.temperature.0 >= least && thought.bound.hottest > read.temperature.0 + STILL_UNDER_C;
    (long && warm).then_some(ProbeFaultKind::Stuck)
}

/// Whether a probe read right in ice or boiling water between two moments.
fn proved_right(run: &Run, probe: ProbeNo, since: Timestamp, until: Timestamp) -> bool {
    run.events.iter().any(|e| {
        let here = e.at >= since && e.at <= until && !run.struck.contains(&e.no);
        let right = matches!(&e.act, RunAct::ProbeChecked { probe: p, offset_c, .. } if *p == probe && offset_c.abs() <= TRUSTED_C);
        here && right
    })
}

/// True while a probe sat in a piece.
fn seat_holds(run: &Run, probe: ProbeNo, piece: PieceId, at: Timestamp) -> bool {
    let seats = run
        .probes
        .get(&probe)
        .map(Vec::as_slice)
        .unwrap_or_default();
    seats.iter().any(|s| {
        s.seat == ProbeLocation::Piece(piece) && s.from <= at && s.until.is_none_or(|u| at < u)
    })
}
