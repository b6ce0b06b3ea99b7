//! How it stands with a run now: each piece with its inside, its mark, when it will be there, its clocks.

use crate::catalogue::steps::StepKind;
use crate::caution::{Code, Finding, Severity};
use crate::dose::limits::Class;
use crate::heat::done_when::{DoneWhenAnswer, DoneWhenAsk, ProbeReading, done_when};
use crate::heat::forecast::forecast;
use crate::heat::lethality::{InsideReading, LethalityAsk, lethality};
use crate::heat::possible::BOILS;
use crate::house::House;
use crate::ids::PieceId;
use crate::ledger::book::Book;
use crate::piece::Piece;
use crate::place::climate::Read;
use crate::run::series::{self, ProbeFault, ProbeFaultKind, Sounded, of_zone};
use crate::run::{
    ProbeLocation, ProbeNo, Run, RunStageKind, StageRun, Watched, minutes, seconds_on,
};
use crate::running::load;
use crate::running::mark::{HeatMark, mark};
use crate::units::show::temperature;
use crate::units::{Celsius, Grams, Millimetres};
use crate::verdict::Judge;
use crate::verdict::plausible::{OfPiece, of_piece};
use jiff::Timestamp;
use serde::Serialize;

/// A reading older than this says nothing of now (min).
pub const FRESH_MIN: f64 = 45.0;

/// A chamber comes to a new setting within so long (min).
const SETTLES_MIN: f64 = 10.0;

/// Fewer readings tell nothing.
const LEAST: usize = 3;

/// A forecast follows a piece through so long (min).
const FOLLOWED_MIN: f64 = 300.0;

/// Of the newest readings so many go into a forecast.
const FOR_FORECAST: usize = 600;

/// When a piece will be at its mark.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Forecast {
    /// The moment.
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = DateTime))]
    pub at: Option<Timestamp>,
    /// The early edge.
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = DateTime))]
    pub low: Option<Timestamp>,
    /// The late edge.
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = DateTime))]
    pub high: Option<Timestamp>,
    /// True when it stands still though its chamber is hot.
    pub stalled: bool,
    /// When it was there, if it was.
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = DateTime))]
    pub reached: Option<Timestamp>,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// The clock of warming up.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct WarmUp {
    /// Minutes with the inside between 10 and 54 °C, as far as it counts.
    pub minutes: f64,
    /// It is flagged from here on.
    pub limit: f64,
    /// True where time at 46 °C and above was left out: it is dried warm, and came there in time.
    pub dried_warm: bool,
}

impl WarmUp {
    /// True when it took too long.
    #[must_use]
    pub fn is_over(&self) -> bool {
        self.minutes > self.limit + 1e-6
    }
}

/// What the time at temperature has done, as information.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Kill {
    /// Powers of ten.
    pub logs: f64,
    /// When the usual kill was met.
    pub met: Option<Timestamp>,
}

/// Above this nobody counts on (powers of ten).
pub const MOST_LOGS: f64 = 12.0;

/// A piece in a run, as it stands.
#[derive(Clone, Debug, PartialEq)]
pub struct PieceNow {
    /// The piece.
    pub piece: PieceId,
    /// Where it lies.
    pub zone: String,
    /// On which shelf.
    pub shelf: Option<u32>,
    /// What it weighs in the books.
    pub grams: Grams,
    /// How thick it lies.
    pub thickness: Option<Millimetres>,
    /// The probe that sits in it.
    pub probe: Option<ProbeNo>,
    /// When it left, if it did.
    pub left: Option<Timestamp>,
    /// The newest inside that counts.
    pub inside: Option<Read>,
    /// The same, where it is not too old to say something of now.
    pub fresh: Option<Read>,
    /// In what it may be by its neighbours, where nothing was measured lately.
    pub range: Option<(Celsius, Celsius)>,
    /// Where it is brought to.
    pub mark: HeatMark,
    /// When.
    pub forecast: Forecast,
    /// Its clock of warming up.
    pub warm_up: Option<WarmUp>,
    /// What heat has done; none for birds, and before anything was measured.
    pub kill: Option<Kill>,
    /// The inside that may be written down when it is pulled.
    pub record: Option<Read>,
    /// What is wrong with its probes.
    pub faults: Vec<ProbeFault>,
    /// True when its newest inside is above what its zone ever was.
    pub over_chamber: bool,
    /// Checks by hand that cannot be, by their lines.
    pub doubted: Vec<(i64, ProbeFaultKind)>,
    /// Its readings that count.
    pub reads: Vec<Read>,
}

impl PieceNow {
    /// Degrees to go.
    #[must_use]
    pub fn to_go(&self) -> Option<f64> {
        let inside = self.fresh?;
        Some(self.mark.mark.0 - inside.temperature.0)
    }
}

/// A zone, as it stands.
#[derive(Clone, Debug, PartialEq)]
pub struct ZoneNow {
    /// Its name.
    pub zone: String,
    /// How warm it is, by the newest reading.
    pub chamber: Option<Read>,
    /// All readings of it.
    pub reads: Vec<Read>,
}

/// A run that is looked at.
#[derive(Clone, Copy, Debug)]
pub struct Look<'a> {
    /// The run and its readings.
    pub watched: &'a Watched,
    /// Every lot as it stands.
    pub book: &'a Book,
    /// The household.
    pub home: &'a House,
    /// The present.
    pub now: Timestamp,
}

impl<'a> Look<'a> {
    fn run(&self) -> &'a Run {
        &self.watched.run
    }

    /// Every zone that is known: of its place, of what lies or lay in it, of what was measured.
    #[must_use]
    pub fn zones(&self) -> Vec<ZoneNow> {
        let run = self.run();
        let listed = run.place.and_then(|id| self.home.settings.place(id));
        let mut names: Vec<String> = listed.map(|p| p.zones.clone()).unwrap_or_default();
        let sat = run.sittings.iter().map(|s| s.zone.clone());
        let hung = run.probes.values().flatten().filter_map(|s| match &s.seat {
            ProbeLocation::Chamber(zone) => Some(zone.clone()),
            ProbeLocation::Piece(_) | ProbeLocation::Out => None,
        });
        let read = run.chamber.iter().map(|(zone, _)| zone.clone());
        for name in sat.chain(hung).chain(read) {
            if !names.contains(&name) {
                names.push(name);
            }
        }
        if names.is_empty() {
            names.push(USUAL_ZONE.into());
        }
        names
            .into_iter()
            .map(|zone| {
                let reads = of_zone(run, &self.watched.readings, &zone);
                ZoneNow {
                    chamber: reads.last().copied(),
                    zone,
                    reads,
                }
            })
            .collect()
    }

    /// Every piece that lies or lay in it, beside its zones.
    #[must_use]
    pub fn pieces(&self, zones: &[ZoneNow]) -> Vec<PieceNow> {
        let run = self.run();
        let mut all: Vec<PieceNow> = run
            .pieces()
            .into_iter()
            .filter_map(|id| self.piece(id, zones))
            .collect();
        let here: Vec<_> = all
            .iter()
            .filter(|p| p.left.is_none() && p.probe.is_some())
            .filter_map(|p| Some((p.zone.clone(), p.thickness, p.fresh?.temperature, p.piece)))
            .collect();
        for p in all
            .iter_mut()
            .filter(|p| p.left.is_none() && p.fresh.is_none())
        {
            let near = here
                .iter()
                .filter(|(zone, _, _, id)| *zone == p.zone && *id != p.piece);
            let near: Vec<_> = near
                .map(|(_, t, c, _)| (t.map(Millimetres::get), *c))
                .collect();
            p.range = series::range(p.thickness.map(Millimetres::get), &near);
        }
        all
    }

    /// One piece.
    #[must_use]
    pub fn one(&self, id: PieceId) -> Option<PieceNow> {
        self.piece(id, &self.zones())
    }

    fn piece(&self, id: PieceId, zones: &[ZoneNow]) -> Option<PieceNow> {
        let run = self.run();
        let sitting = run.sitting(id)?;
        let (lot, piece) = self.book.piece(id)?;
        let known = OfPiece::of(run, piece, self.book);
        let left = known.left;
        let Sounded {
            reads,
            faults,
            doubted,
        } = of_piece(run, &self.watched.readings, piece.id, known);
        let until = left.unwrap_or(self.now);
        // What a probe says after the pull is the rest and the cooling, and no heating.
        let heating = reads.partition_point(|r| r.at <= until);
        let judge = Judge {
            book: self.book,
            home: self.home,
        };
        let mark = mark(judge, &lot.state, piece);
        let heated = &reads[..heating];
        let inside = heated.last().copied();
        // While its probe reads something else than meat, nobody knows how warm it is now.
        let probe = run.probe_in(piece.id);
        let lost = faults
            .iter()
            .any(|f| f.until.is_none() && Some(f.probe) == probe);
        let fresh = inside.filter(|r| !lost && minutes(r.at, self.now) <= FRESH_MIN);
        let air = zones.iter().find(|z| z.zone == sitting.zone);
        let air = air.map(|z| z.reads.as_slice()).unwrap_or_default();
        let hottest = air.iter().map(|r| r.temperature.0).reduce(f64::max);
        let over_chamber =
            matches!((inside, hottest), (Some(i), Some(h)) if i.temperature.0 > h + 1.0);
        let forecast = self.forecast(heated, air, mark.mark, lost);
        let nitrite = judge
            .really(&lot.state, piece)
            .map_or(0.0, |r| r.nitrite.low);
        let is_warm_dried = piece
            .build()
            .is_some_and(|b| b.class == Class::SausageDried);
        let warm_up = warm_up(heated, nitrite, is_warm_dried);
        let kill = if mark.is_bird { None } else { kill(&reads) };
        Some(PieceNow {
            piece: piece.id,
            zone: sitting.zone.clone(),
            shelf: sitting.shelf,
            grams: Grams(piece.mass.grams()),
            thickness: piece.thickness_now(),
            probe,
            left,
            inside,
            fresh,
            range: None,
            record: series::inside_to_record(run, &reads, piece.id, &doubted),
            doubted,
            mark,
            forecast,
            warm_up,
            kill,
            faults,
            over_chamber,
            reads,
        })
    }

    /// When an inside will be at its mark, by the chamber as it was measured; by its setting where nobody measured it.
    fn forecast(&self, reads: &[Read], air: &[Read], mark: Celsius, lost: bool) -> Forecast {
        // A stage before it had another chamber, and a new one takes its minutes to come to its setting.
        let since = |later: f64| {
            let from = self.run().stage().map(|(_, went)| went.from);
            let from = from.and_then(|f| seconds_on(f, later * 60.0));
            let first = from.map_or(0, |f| reads.partition_point(|r| r.at < f));
            &reads[first..]
        };
        let settled = since(SETTLES_MIN);
        let recent = if settled.len() < LEAST {
            since(0.0)
        } else {
            settled
        };
        let recent = &recent[recent.len().saturating_sub(FOR_FORECAST)..];
        let there = reads.iter().find(|r| r.temperature.0 >= mark.0 - 0.05);
        let there = there.map(|r| r.at);
        let Some(first) = recent.first() else {
            return Forecast {
                reached: there,
                ..Forecast::default()
            };
        };
        let set = self.run().stage().and_then(|(s, _)| s.set());
        // What rests in the cold is on its way to nowhere.
        let rests = self
            .run()
            .stage()
            .is_none_or(|(s, _)| matches!(s.kind, RunStageKind::Rest | RunStageKind::ColdSmoke));
        let of = |at: Timestamp| {
            let before = air.partition_point(|r| r.at <= at);
            let read = air.get(before.wrapping_sub(1)).or(air.first());
            read.map(|r| r.temperature).or(set).map(Celsius::get)
        };
        let as_read = |r: &Read| ProbeReading {
            minute: minutes(first.at, r.at),
            inside_c: r.temperature.0,
            chamber_c: of(r.at),
        };
        let readings: Vec<ProbeReading> = recent.iter().map(as_read).collect();
        if readings.iter().any(|r| r.chamber_c.is_none()) {
            return Forecast {
                reached: there,
                ..Forecast::default()
            };
        }
        let answer = done_when(&DoneWhenAsk {
            readings,
            target_c: mark.0,
            chamber_c: None,
        });
        let DoneWhenAnswer {
            minute,
            minute_low,
            minute_high,
            stalled,
            reached_at_minute,
            findings,
            ..
        } = answer.unwrap_or_default();
        let at = |m: Option<f64>| seconds_on(first.at, m? * 60.0);
        let reached = there.or(at(reached_at_minute));
        // What was read long ago tells nothing of what comes.
        let old = recent
            .last()
            .is_none_or(|r| minutes(r.at, self.now) > FRESH_MIN);
        if reached.is_some() || rests || old || lost {
            return Forecast {
                reached,
                ..Forecast::default()
            };
        }
        let findings = findings
            .into_iter()
            .map(|f| match self.hotter_stage(mark) {
                Some(later) if f.code == Code::ChamberBelowTarget => later,
                _ => f,
            })
            .collect();
        // Every chamber that it was in says how fast it follows; what one of them did to it hours ago says no more.
        let lately = reads.partition_point(|r| minutes(r.at, self.now) > FOLLOWED_MIN);
        let followed: Vec<ProbeReading> = reads[lately..].iter().map(as_read).collect();
        let told = minute.and_then(|_| forecast(&followed, mark.0));
        let (minute, minute_low, minute_high) = match told {
            Some(told) => (Some(told.minute), Some(told.low), Some(told.high)),
            None => (minute, minute_low, minute_high),
        };
        Forecast {
            at: at(minute),
            low: at(minute_low),
            high: at(minute_high),
            stalled,
            reached: None,
            findings,
        }
    }

    /// A stage still to come that is hotter than where a piece is brought to: then a mild one before it is meant so.
    fn hotter_stage(&self, mark: Celsius) -> Option<Finding> {
        let (_, went) = self.run().stage()?;
        let mut later = self.run().stages.iter().skip(went.stage + 1);
        let (stage, set) = later.find_map(|s| Some((s, s.set().filter(|c| c.0 > mark.0)?)))?;
        let set = temperature(set, self.home.settings.units.heat);
        Some(Finding::new(
            Code::HotterLater,
            Severity::Info,
            format!(
                "This stage does not bring it there: “{}” at {set} does.",
                stage.kind.label()
            ),
        ))
    }

    /// What is to be said of the run as a whole.
    #[must_use]
    pub fn findings(&self) -> Vec<Finding> {
        let place = self.run().place.and_then(|id| self.home.settings.place(id));
        let mut all: Vec<Finding> = place.and_then(load::outdoors).into_iter().collect();
        let gate = crate::running::validator::RunValidator {
            book: self.book,
            home: self.home,
            runs: &self.home.runs,
            at: self.now,
        };
        let here = self.run().loaded(self.book);
        let pieces: Vec<PieceId> = here.iter().map(|s| s.piece).collect();
        all.extend(gate.over_load(self.run(), &pieces));
        all
    }
}

/// The zone of what has only one.
pub const USUAL_ZONE: &str = "chamber";

/// From here the warm hours count (50 °F).
const WARM_FROM_C: f64 = 10.0;

/// Flagged after so long, uncured (min).
const UNCURED_MIN: f64 = 4.0 * 60.0;

/// Flagged after so long, cured with nitrite (min).
const CURED_MIN: f64 = 6.0 * 60.0;

/// The low edge of its nitrite from which it counts as cured (ppm).
const CURED_PPM: f64 = 100.0;

/// Dried warm, it is past the danger here (°C).
const WARM_DRIED_C: f64 = 46.0;

/// If it came there within so long (min).
const WARM_DRIED_MIN: f64 = 3.0 * 60.0;

/// How long an inside lay between 10 and 54 °C on its way up.
///
/// # Source
/// 50 to 130 °F: flagged at 4 h uncured, 6 h with at least 100 ppm of nitrite. What is dried warm does not count time at 46 °C
/// and above once it came there within 3 h.
#[must_use]
pub fn warm_up(reads: &[Read], nitrite_low_ppm: f64, dried_warm: bool) -> Option<WarmUp> {
    let first = reads.first()?;
    let limit = if nitrite_low_ppm >= CURED_PPM {
        CURED_MIN
    } else {
        UNCURED_MIN
    };
    let readings = inside(reads);
    let minutes_to = |c: f64| {
        let began = reads.iter().find(|r| r.temperature.0 >= WARM_FROM_C)?;
        let there = reads.iter().find(|r| r.temperature.0 >= c)?;
        Some(minutes(began.at.max(first.at), there.at))
    };
    let in_time = dried_warm && minutes_to(WARM_DRIED_C).is_some_and(|m| m <= WARM_DRIED_MIN);
    let minutes = if in_time {
        minutes_to(WARM_DRIED_C).unwrap_or_default()
    } else if readings.len() < 2 {
        0.0
    } else {
        lethality(&LethalityAsk { readings }).map_or(0.0, |a| a.warm_up_minutes)
    };
    Some(WarmUp {
        minutes,
        limit,
        dried_warm: in_time,
    })
}

fn inside(reads: &[Read]) -> Vec<InsideReading> {
    let Some(first) = reads.first() else {
        return Vec::new();
    };
    reads
        .iter()
        .map(|r| InsideReading {
            minute: minutes(first.at, r.at),
            // Half a degree over it is a probe that reads a little high.
            inside_c: r.temperature.0.min(BOILS.0),
        })
        .collect()
}

fn kill(reads: &[Read]) -> Option<Kill> {
    let first = reads.first()?;
    let readings = inside(reads);
    if readings.len() < 2 {
        return None;
    }
    let answer = lethality(&LethalityAsk { readings }).ok()?;
    Some(Kill {
        logs: answer.log_reduction,
        met: answer
            .met_at_minute
            .and_then(|m| seconds_on(first.at, m * 60.0)),
    })
}

/// What lies in it, in the order in which it should come off: what is there, what is nearest in time, what has fewest degrees to go.
/// What has no forecast of its own stands where its thickness puts it, counted from when it came into the heat.
#[must_use]
pub fn comes_off(pieces: &[PieceNow], run: &Run, now: Timestamp) -> Vec<PieceId> {
    let mut here: Vec<&PieceNow> = pieces.iter().filter(|p| p.left.is_none()).collect();
    let when = |p: &PieceNow| {
        let at = p.forecast.reached.or(p.forecast.at);
        let at = at.or_else(|| about_when(p, run, now));
        at.map_or(i64::MAX, Timestamp::as_second)
    };
    let to_go = |p: &PieceNow| p.to_go().unwrap_or(f64::INFINITY);
    let thick = |p: &PieceNow| p.thickness.map_or(f64::INFINITY, |t| t.0);
    here.sort_by(|a, b| {
        when(a)
            .cmp(&when(b))
            .then(to_go(a).total_cmp(&to_go(b)))
            .then(thick(a).total_cmp(&thick(b)))
            .then(a.piece.cmp(&b.piece))
    });
    here.into_iter().map(|p| p.piece).collect()
}

/// About when a piece is at its mark, by its thickness alone.
fn about_when(p: &PieceNow, run: &Run, now: Timestamp) -> Option<Timestamp> {
    let minutes = load::minutes_through(p.mark.mark, p.thickness?, &run.stages)?;
    let is_warm = |s: &&StageRun| {
        let stage = run.stages.get(s.stage);
        stage.is_some_and(|s| !matches!(s.kind, RunStageKind::Rest | RunStageKind::ColdSmoke))
    };
    let warm_since = run.went.iter().find(is_warm).map_or(now, |s| s.from);
    let laid = run.sitting(p.piece).map_or(now, |s| s.from);
    seconds_on(laid.max(warm_since), minutes * 60.0)
}

/// Sliced sooner than this it tears (h).
const FIRM_H: f64 = 12.0;

/// When a piece that came out of the heat is firm enough to slice, at the earliest; none where it does not firm up.
#[must_use]
pub fn firm_from(piece: &Piece, since: Timestamp) -> Option<Timestamp> {
    let step = piece.build()?.step(StepKind::FirmUp)?;
    seconds_on(since, step.window().earliest_h.max(FIRM_H) * 3_600.0)
}
