//! A run as a page shows it.

use jiff::Timestamp;
use manifest_core::caution::Finding;
use manifest_core::house::House;
use manifest_core::ids::{PieceId, RunId};
use manifest_core::place::climate::Read;
use manifest_core::run::series::{ProbeFault, ProbeFaultKind};
use manifest_core::run::{
    Appliance, ProbeLocation, Run, RunAct, RunStage, Runs, StageEnd, Watched,
};
use manifest_core::running::alarms::{Alarm, AlarmKind};
use manifest_core::running::now::{self, Forecast, Look, MOST_LOGS, PieceNow};
use manifest_core::running::words;
use manifest_core::units::Celsius;
use manifest_core::units::show::{temperature, trim};
use serde::Serialize;
use utoipa::ToSchema;

/// The clock of warming up.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
pub struct WarmUpView {
    /// Minutes between 10 and 54 °C inside.
    pub minutes: f64,
    /// It is flagged from here on (min).
    pub limit_minutes: f64,
    /// True when it took too long.
    pub over: bool,
    /// True where time at 46 °C and above was left out.
    pub dried_warm: bool,
}

/// What time at temperature has done, as information.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct KillView {
    /// Powers of ten, at most 12.
    pub logs: f64,
    /// The same in words: `more than 12`.
    pub said: String,
    /// When the usual kill was met.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub met: Option<Timestamp>,
}

/// Something wrong with a probe.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ProbeFaultView {
    /// The probe.
    pub probe: u8,
    /// What is wrong.
    pub kind: ProbeFaultKind,
    /// The same in words.
    pub said: String,
    /// Since when.
    #[schema(value_type = String, format = DateTime)]
    pub from: Timestamp,
    /// Until when; none while it goes on.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub until: Option<Timestamp>,
    /// What it said first (°C).
    pub saw_c: f64,
}

impl From<&ProbeFault> for ProbeFaultView {
    fn from(f: &ProbeFault) -> Self {
        Self {
            probe: f.probe,
            kind: f.kind,
            said: f.kind.label().into(),
            from: f.from,
            until: f.until,
            saw_c: f.saw.0,
        }
    }
}

/// A piece in a run.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct RunPieceView {
    /// For machines.
    pub id: PieceId,
    /// For people.
    pub tag: String,
    /// As its product is called.
    pub build_name: Option<String>,
    /// Where it lies.
    pub zone: String,
    /// On which shelf, from the top.
    pub shelf: Option<u32>,
    /// What it weighs in the books (g).
    pub mass_g: f64,
    /// How thick it lies (mm).
    pub thickness_mm: Option<f64>,
    /// The probe in it.
    pub probe: Option<u8>,
    /// When it left, if it did.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub left: Option<Timestamp>,
    /// True when it left by being weighed.
    pub weighed: bool,
    /// The newest inside that counts.
    pub inside: Option<Read>,
    /// True when that says something of now.
    pub fresh: bool,
    /// In what it may be by its neighbours: the low edge (°C).
    pub range_low_c: Option<f64>,
    /// And the high edge (°C).
    pub range_high_c: Option<f64>,
    /// Where it is brought to here (°C).
    pub mark_c: f64,
    /// Why.
    pub mark_why: String,
    /// Ready to eat from here (°C).
    pub target_c: f64,
    /// When it will be there.
    pub forecast: Forecast,
    /// Its clock of warming up.
    pub warm_up: Option<WarmUpView>,
    /// What heat has done, as information; never for birds.
    pub kill: Option<KillView>,
    /// The inside that will be written down when it is weighed and nobody types another.
    pub record: Option<Read>,
    /// What is wrong with its probes.
    pub faults: Vec<ProbeFaultView>,
    /// True when its inside is above what its zone ever was.
    pub over_chamber: bool,
    /// In which order it should come off, counted from one; none for what left.
    pub comes_off: Option<usize>,
    /// What was found when it was laid in, and kept.
    pub kept: Vec<Finding>,
    /// Its steps of heat, with what each is called, where it has several before it.
    pub heats: Vec<HeatStep>,
    /// When it came out of the heat and cools, with the clock it has; only of what was weighed here.
    pub cooling: Option<CoolingView>,
    /// When it is firm enough to slice, at the earliest; only of what was weighed here.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub firm_from: Option<Timestamp>,
}

/// A step of heat that a piece has before it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct HeatStep {
    /// Its name.
    pub id: String,
    /// The trade's verb.
    pub verb: String,
    /// True when it may be left out.
    pub may_be_left_out: bool,
}

/// The clock of cooling.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct CoolingView {
    /// Since when.
    #[schema(value_type = String, format = DateTime)]
    pub since: Timestamp,
    /// To 26.7 °C by then.
    #[schema(value_type = String, format = DateTime)]
    pub first_by: Timestamp,
    /// To the end by then.
    #[schema(value_type = String, format = DateTime)]
    pub cold_by: Timestamp,
    /// The end (°C).
    pub cold_c: f64,
    /// True for what was cured so that it has the longer clock.
    pub cured: bool,
    /// The newest reading that was written down, in words.
    pub last: Option<String>,
    /// What its probe said after it came out: warmest first, at the peak.
    pub peak: Option<Read>,
}

/// A zone.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ZoneView {
    /// Its name.
    pub name: String,
    /// How warm it is.
    pub chamber: Option<Read>,
}

/// A probe.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ProbeView {
    /// The number on it.
    pub no: u8,
    /// The piece it sits in.
    pub piece: Option<PieceId>,
    /// The zone whose air it is in.
    pub zone: Option<String>,
    /// What it said last, put right by its offset.
    pub last: Option<Read>,
    /// What is added to what it says (°C).
    pub offset_c: f64,
    /// True when it was checked in ice or boiling water.
    pub checked: bool,
    /// How many readings it gave.
    pub readings: usize,
}

/// A stage.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct StageView {
    /// As it is planned.
    #[serde(flatten)]
    pub stage: RunStage,
    /// Its end in words: `after 2 h`, `at 60 °C inside`.
    pub ends_said: String,
    /// When it began first.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub began: Option<Timestamp>,
    /// True while it is under way.
    pub now: bool,
    /// How long it went on, without pauses (min).
    pub minutes: f64,
    /// When it will be over, where it ends by time and is under way.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub over_at: Option<Timestamp>,
}

/// A fire.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FireView {
    /// The line that lit it.
    pub no: i64,
    /// What it is, in words.
    pub said: String,
    /// When it was lit.
    #[schema(value_type = String, format = DateTime)]
    pub lit: Timestamp,
    /// When it should be burnt out.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub should_end: Option<Timestamp>,
    /// When it was.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub out: Option<Timestamp>,
}

/// Something that rings.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct AlarmView {
    /// The run.
    pub run: RunId,
    /// As it is called.
    pub run_name: String,
    /// The word it is answered by.
    pub key: String,
    /// Its kind.
    pub kind: AlarmKind,
    /// What it says.
    pub message: String,
    /// The piece it is about.
    pub piece: Option<PieceId>,
}

/// A line of a run.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LineView {
    /// Its number.
    pub no: i64,
    /// When it happened.
    #[schema(value_type = String, format = DateTime)]
    pub at: Timestamp,
    /// What, in words.
    pub said: String,
    /// True when it was struck out.
    pub struck: bool,
    /// True when it may be.
    pub may_be_struck: bool,
    /// What gave pause, and was kept.
    pub kept: Vec<Finding>,
    /// Why it went past a stop.
    pub reason: Option<String>,
}

/// A run in a list.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct RunCard {
    /// Its number.
    pub id: RunId,
    /// What it is called.
    pub name: String,
    /// What it is made in.
    pub hearth: Appliance,
    /// When it was set up.
    #[schema(value_type = String, format = DateTime)]
    pub begun: Timestamp,
    /// When it was over.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub ended: Option<Timestamp>,
    /// The stage that is under way.
    pub stage: Option<String>,
    /// Since when it pauses.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub paused: Option<Timestamp>,
    /// The tags of what lies in it, or lay.
    pub tags: Vec<String>,
    /// How many alarms ring.
    pub alarms: usize,
}

/// A run.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct RunView {
    /// Its number.
    pub id: RunId,
    /// The newest line; send it back as `seen` when writing.
    pub version: i64,
    /// The place on the household's list.
    pub place: Option<u32>,
    /// What it is called.
    pub name: String,
    /// What it is made in.
    pub hearth: Appliance,
    /// By which school of heat.
    pub school: Option<String>,
    /// When it was set up.
    #[schema(value_type = String, format = DateTime)]
    pub begun: Timestamp,
    /// When it was over.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub ended: Option<Timestamp>,
    /// Since when it pauses.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub paused: Option<Timestamp>,
    /// The present, for clocks on the page.
    #[schema(value_type = String, format = DateTime)]
    pub now: Timestamp,
    /// Its stages.
    pub stages: Vec<StageView>,
    /// Its zones.
    pub zones: Vec<ZoneView>,
    /// How many shelves its place has.
    pub shelves: Option<u32>,
    /// What lies and lay in it.
    pub pieces: Vec<RunPieceView>,
    /// Its probes.
    pub probes: Vec<ProbeView>,
    /// What smoked.
    pub fires: Vec<FireView>,
    /// Wood for its load, as a habit of its products (g).
    pub wood_g: f64,
    /// What rings.
    pub alarms: Vec<AlarmView>,
    /// What to think about.
    pub findings: Vec<Finding>,
    /// What was done, the newest first.
    pub lines: Vec<LineView>,
    /// How many readings there are.
    pub readings: usize,
    /// How it stands with its thermometer, where its place names one.
    pub sensor: Option<crate::sensors::SensorView>,
    /// Where its readings were thinned.
    pub thinned: Option<ThinnedView>,
}

/// How far readings were thinned.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
pub struct ThinnedView {
    /// Readings that are kept.
    pub kept: u64,
    /// Readings that were dropped.
    pub dropped: u64,
}

/// The alarms of a run.
#[must_use]
pub fn alarms(look: Look<'_>) -> Vec<AlarmView> {
    let run = &look.watched.run;
    if run.over_since(look.book).is_some() {
        return Vec::new();
    }
    let zones = look.zones();
    alarms_of(run, look.alarms(&look.pieces(&zones), &zones))
}

fn alarms_of(run: &Run, all: Vec<Alarm>) -> Vec<AlarmView> {
    all.into_iter()
        .map(|a| AlarmView {
            run: run.id,
            run_name: run.name.clone(),
            key: a.key,
            kind: a.kind,
            message: a.message,
            piece: a.piece,
        })
        .collect()
}

/// A run in a list.
#[must_use]
pub fn card(look: Look<'_>) -> RunCard {
    let run = &look.watched.run;
    let here = run.loaded(look.book);
    let ids: Vec<PieceId> = if run.ended.is_some() || here.is_empty() {
        run.pieces()
    } else {
        here.iter().map(|s| s.piece).collect()
    };
    RunCard {
        id: run.id,
        name: run.name.clone(),
        hearth: run.hearth,
        begun: run.begun,
        ended: run.over_since(look.book),
        stage: run.stage().map(|(s, _)| s.name.clone()),
        paused: run.paused,
        tags: ids.iter().map(|id| words::tag(look.book, *id)).collect(),
        alarms: alarms(look).len(),
    }
}

/// A run as a page shows it.
#[must_use]
pub fn view(
    look: Look<'_>,
    runs: &Runs,
    sensor: Option<crate::sensors::SensorView>,
    thinned: Option<(u64, u64)>,
) -> RunView {
    let Watched { run, readings } = look.watched;
    let zones = look.zones();
    let pieces = look.pieces(&zones);
    let gate = manifest_core::running::validator::RunValidator {
        book: look.book,
        home: look.home,
        runs,
        at: look.now,
    };
    let place = run.place.and_then(|id| look.home.settings.place(id));
    let loaded = pieces.iter().filter(|p| p.left.is_none());
    let wood = loaded.filter_map(|p| {
        let (_, piece) = look.book.piece(p.piece)?;
        let smoke = piece.build()?.smoke.as_ref()?;
        Some(smoke.wood_g_per_kg * p.grams.0 / 1_000.0)
    });
    let order = now::comes_off(&pieces, run, look.now);
    RunView {
        id: run.id,
        version: run.events.iter().map(|e| e.no).max().unwrap_or(0),
        place: run.place,
        name: run.name.clone(),
        hearth: run.hearth,
        school: run.school.clone(),
        begun: run.begun,
        ended: run.ended,
        paused: run.paused,
        now: look.now,
        stages: stages(run, look.home, look.now),
        shelves: place.and_then(|p| p.shelves),
        wood_g: wood.sum(),
        alarms: alarms_of(run, look.alarms(&pieces, &zones)),
        findings: look.findings(),
        lines: run
            .events
            .iter()
            .rev()
            .map(|e| LineView {
                no: e.no,
                at: e.at,
                said: words::line(e, run, look.book, look.home),
                struck: run.struck.contains(&e.no),
                may_be_struck: gate
                    .possible(Some(run), &RunAct::Struck { event: e.no })
                    .is_ok(),
                kept: e.kept.clone(),
                reason: e.reason.clone(),
            })
            .collect(),
        probes: run
            .probes
            .iter()
            .map(|(no, seats)| {
                let last = seats.last().filter(|s| s.until.is_none());
                let (piece, zone) = match last.map(|s| &s.seat) {
                    Some(ProbeLocation::Piece(id)) => (Some(*id), None),
                    Some(ProbeLocation::Chamber(zone)) => (None, Some(zone.clone())),
                    Some(ProbeLocation::Out) | None => (None, None),
                };
                let offset = run.offsets.get(no).copied();
                ProbeView {
                    no: *no,
                    piece,
                    zone,
                    last: readings.of(*no).last().map(|r| Read {
                        at: r.at,
                        temperature: Celsius(r.temperature.0 + offset.unwrap_or(0.0)),
                    }),
                    offset_c: offset.unwrap_or(0.0),
                    checked: offset.is_some(),
                    readings: readings.of(*no).len(),
                }
            })
            .collect(),
        zones: zones
            .iter()
            .map(|z| ZoneView {
                name: z.zone.clone(),
                chamber: z.chamber,
            })
            .collect(),
        fires: run
            .fires
            .iter()
            .map(|f| FireView {
                no: f.no,
                said: words::fire(f, look.home),
                lit: f.lit,
                should_end: f.should_end,
                out: f.out,
            })
            .collect(),
        pieces: pieces
            .into_iter()
            .map(|p| {
                let place = order.iter().position(|id| *id == p.piece);
                piece_view(look, run, p, place.map(|n| n + 1))
            })
            .collect(),
        readings: readings.count(),
        sensor,
        thinned: thinned.map(|(kept, dropped)| ThinnedView { kept, dropped }),
    }
}

fn piece_view(look: Look<'_>, run: &Run, p: PieceNow, comes_off: Option<usize>) -> RunPieceView {
    let found = look.book.piece(p.piece);
    let piece = found.map(|(_, piece)| piece);
    let weighed = run.weighed_out(p.piece, look.book);
    let loaded = run.events.iter().rev().find(
        |e| matches!(&e.act, RunAct::Loaded { piece, .. } if *piece == p.piece && !e.kept.is_empty()),
    );
    let heats = piece.into_iter().flat_map(|piece| {
        let open = piece.open_steps().filter(|s| s.kind.is_heat());
        let on = piece
            .heated_on()
            .filter(|_| !piece.open_steps().any(|s| s.kind.is_heat()));
        open.chain(on).map(|s| HeatStep {
            id: s.id.clone(),
            verb: s.verb.clone(),
            may_be_left_out: s.may_be_left_out(),
        })
    });
    let judge = manifest_core::verdict::Judge {
        book: look.book,
        home: look.home,
    };
    let units = look.home.settings.units;
    let cooling = weighed.zip(piece).map(|(since, piece)| {
        let clock = judge.cooling_clock(piece);
        let by = |h: f64| manifest_core::run::seconds_on(since, h * 3_600.0).unwrap_or(since);
        let after = p.reads.iter().filter(|r| r.at >= since);
        CoolingView {
            since,
            first_by: by(clock.first_h),
            cold_by: by(clock.all_h),
            cold_c: clock.end.0,
            cured: clock.cured,
            last: piece.cooled.iter().rfind(|c| c.at >= since).map(|c| {
                format!(
                    "{} after {} h",
                    temperature(c.inside.value, units.heat),
                    trim(c.hours, 2)
                )
            }),
            peak: after
                .copied()
                .max_by(|a, b| a.temperature.0.total_cmp(&b.temperature.0)),
        }
    });
    let firm_from = weighed
        .zip(piece)
        .and_then(|(since, piece)| now::firm_from(piece, since));
    RunPieceView {
        id: p.piece,
        tag: words::tag(look.book, p.piece),
        build_name: piece
            .and_then(|piece| piece.build())
            .map(|b| b.name.clone()),
        zone: p.zone.clone(),
        shelf: p.shelf,
        mass_g: p.grams.0,
        thickness_mm: p.thickness.map(|t| t.0),
        probe: p.probe,
        left: p.left,
        weighed: weighed.is_some() && p.left.is_some(),
        inside: p.inside,
        fresh: p.fresh.is_some(),
        range_low_c: p.range.map(|r| r.0.0),
        range_high_c: p.range.map(|r| r.1.0),
        mark_c: p.mark.mark.0,
        mark_why: p.mark.why.clone(),
        target_c: p.mark.target.0,
        warm_up: p.warm_up.map(|w| WarmUpView {
            minutes: w.minutes,
            limit_minutes: w.limit,
            over: w.is_over(),
            dried_warm: w.dried_warm,
        }),
        kill: p.kill.map(|k| KillView {
            logs: k.logs.min(MOST_LOGS),
            said: if k.logs > MOST_LOGS {
                "more than 12".into()
            } else {
                trim((k.logs * 10.0).floor() / 10.0, 1)
            },
            met: k.met,
        }),
        record: p.record,
        faults: p.faults.iter().map(ProbeFaultView::from).collect(),
        over_chamber: p.over_chamber,
        forecast: p.forecast,
        comes_off,
        kept: loaded.map(|e| e.kept.clone()).unwrap_or_default(),
        heats: heats.collect(),
        cooling,
        firm_from,
    }
}

fn stages(run: &Run, home: &House, now: Timestamp) -> Vec<StageView> {
    let under_way = run.stage().map(|(_, went)| went.stage);
    run.stages
        .iter()
        .enumerate()
        .map(|(i, stage)| {
            let went = || run.went.iter().filter(move |w| w.stage == i);
            let spent: f64 = went()
                .map(|w| manifest_core::run::minutes(w.from, w.until.unwrap_or(now)))
                .sum();
            let is_now = under_way == Some(i);
            let over_at = match stage.ends {
                StageEnd::Hours(h) if is_now => {
                    let left = h * 60.0 - run.stage_minutes(now);
                    manifest_core::run::seconds_on(now, left * 60.0)
                }
                StageEnd::Hours(_) | StageEnd::Inside(_) | StageEnd::Marks => None,
            };
            StageView {
                ends_said: words::ends(stage, home),
                began: went().map(|w| w.from).min(),
                now: is_now,
                minutes: spent,
                over_at,
                stage: stage.clone(),
            }
        })
        .collect()
}
