//! What the probes of a run said: by hand, out of a file, struck out, drawn as curves.

use super::no_run;
use crate::App;
use crate::acts::{filled, happened_at};
use crate::api::places::text_of;
use crate::body::{Body, Raw};
use crate::error::{ApiError, Problem};
use actix_web::web::{Bytes, Data, Json, Path, Query};
use actix_web::{get, post};
use jiff::Timestamp;
use manifest_core::heat::typed::{ReadWhere, unit_doubt};
use manifest_core::house::House;
use manifest_core::ids::{PieceId, RunId};
use manifest_core::logfile::{self, Columns, DateOrder, Refused};
use manifest_core::place::climate::Read;
use manifest_core::reason;
use manifest_core::run::{MOST_PROBES, ProbeNo, minutes};
use manifest_core::running::now::{Look, PieceNow};
use manifest_core::units::{Celsius, HeatUnit, Typed};
use manifest_store::readings::Source;
use manifest_store::runs::NewProbeReading;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_actix_web::service_config::ServiceConfig;

/// Points of a curve: more is not seen.
const POINTS: usize = 360;

/// A reading of a probe, as typed.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ProbeReadingAsk {
    /// The number on the probe.
    probe: ProbeNo,
    /// What it says, as typed: `57.5`, `136 F`.
    temperature: String,
    /// When; now when left out.
    #[serde(default)]
    at: Option<String>,
}

/// Readings of probes, as typed.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ProbeReadingsAsk {
    /// The readings.
    readings: Vec<ProbeReadingAsk>,
    /// True after the person looked again: at a number without its unit, at an hour that came twice.
    #[serde(default)]
    keep_as_typed: bool,
}

/// What came of it.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct ProbesLogged {
    /// New readings.
    added: usize,
    /// Those of a probe and second that were there already.
    doubled: usize,
    /// Rows of a file that were refused.
    refused: Vec<Refused>,
    /// How many were refused in all.
    refused_in_all: usize,
}

/// A run that may be read into: one that is not over, or only lately.
fn known(app: &App, id: RunId) -> Result<Timestamp, ApiError> {
    app.store.read(|_, home| {
        let watched = home.runs.get(id).ok_or_else(no_run)?;
        Ok(watched.run.begun)
    })
}

/// Writes readings of a run's probes down, as typed.
#[utoipa::path(tag = "writing", params(("id" = i64, Path)), request_body = ProbeReadingsAsk, responses((status = 200, body = ProbesLogged), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/runs/{id}/readings")]
async fn read_probes(
    app: Data<App>,
    id: Path<i64>,
    ask: Body<ProbeReadingsAsk>,
) -> Result<Json<ProbesLogged>, ApiError> {
    let id = RunId(*id);
    let begun = known(&app, id)?;
    let now = app.clock.now();
    let ask = ask.value;
    if ask.readings.is_empty() {
        return Err(ApiError::field(
            "readings",
            "Type what a probe says, such as 57.5.",
        ));
    }
    let new = app.store.read(|_, home| {
        let one = |(i, r): (usize, &ProbeReadingAsk)| {
            let field = |name: &str| format!("readings[{i}].{name}");
            if r.probe == 0 || r.probe > MOST_PROBES {
                return Err(ApiError::field(
                    &field("probe"),
                    format!("Probes are numbered 1 to {MOST_PROBES}."),
                ));
            }
            let typed = Typed::<Celsius>::read(&r.temperature, home.settings.units)
                .map_err(|e| ApiError::field(&field("temperature"), e.to_string()))?;
            let temperature = typed.value;
            if !(-40.0..=400.0).contains(&temperature.0) {
                return Err(ApiError::field(
                    &field("temperature"),
                    "No probe in meat or smoke says that. Type degrees such as 57.5 C or 136 F.",
                ));
            }
            let at = happened_at(filled(r.at.as_deref()), home, now, ask.keep_as_typed)
                .map_err(|e| e.at("happened_at", &field("at")))?;
            let run = home.runs.get(id);
            if !run.is_some_and(|w| w.run.is_somewhere(r.probe, at)) {
                return Err(ApiError::field(
                    &field("probe"),
                    format!(
                        "Probe {} was nowhere then. Set it into a piece or into the air of a zone first, or choose another.",
                        r.probe
                    ),
                ));
            }
            let in_meat = run.is_some_and(|w| w.run.is_in_meat(r.probe, at));
            let doubt = unit_doubt(&typed, ReadWhere::InsideHot).filter(|_| in_meat);
            if let (Some(doubt), false) = (doubt, ask.keep_as_typed) {
                return Err(ApiError::Question(vec![doubt]));
            }
            if at < begun {
                return Err(ApiError::field(
                    &field("at"),
                    "That is before the run was set up. Give a later time.",
                ));
            }
            Ok(NewProbeReading {
                probe: r.probe,
                read: Read { at, temperature },
            })
        };
        let all = ask.readings.iter().enumerate().map(one);
        all.collect::<Result<Vec<_>, ApiError>>()
    })?;
    log(&app, id, new, Source::Hand, (Vec::new(), 0)).await
}

async fn log(
    app: &Data<App>,
    id: RunId,
    new: Vec<NewProbeReading>,
    source: Source,
    (refused, refused_in_all): (Vec<Refused>, usize),
) -> Result<Json<ProbesLogged>, ApiError> {
    let store = app.store.clone();
    let logged = crate::blocking(move || Ok(store.log_probes(id, &new, source)?)).await?;
    app.tell("runs", &[]);
    Ok(Json(ProbesLogged {
        added: logged.added,
        doubled: logged.doubled,
        refused,
        refused_in_all,
    }))
}

/// How a file of a thermometer with several probes is to be read; what is left out is guessed.
#[derive(Clone, Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
struct ProbeFileAsk {
    /// The column of the date, or of date and time; counted from zero.
    date: Option<usize>,
    /// The column of the time, where it has one of its own.
    time: Option<usize>,
    /// The probes and their columns: `1:2,2:3`.
    probes: Option<String>,
    /// The unit of the temperatures, where a row does not say it.
    #[param(inline)]
    unit: Option<HeatUnit>,
    /// In which order dates are written.
    #[param(inline)]
    dates: Option<DateOrder>,
    /// True when the first row names the columns.
    header: Option<bool>,
}

/// A probe of a file.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct ProbeColumn {
    /// The number of the probe.
    probe: ProbeNo,
    /// Its column.
    column: usize,
    /// What the column is called.
    name: String,
    /// How many readings.
    readings: usize,
    /// The lowest (°C).
    low_c: Option<f64>,
    /// The highest (°C).
    high_c: Option<f64>,
}

/// What a file says, before anything is written down.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct ProbeFileLook {
    /// Its columns: the name, or the first cell, of each.
    names: Vec<String>,
    /// Which is taken for what.
    columns: Columns,
    /// Its probes.
    probes: Vec<ProbeColumn>,
    /// How many readings in all.
    in_all: usize,
    /// Rows that are refused, with why.
    refused: Vec<Refused>,
    /// How many are refused in all.
    refused_in_all: usize,
    /// Since when.
    #[schema(value_type = Option<String>, format = DateTime)]
    from: Option<Timestamp>,
    /// Until when.
    #[schema(value_type = Option<String>, format = DateTime)]
    to: Option<Timestamp>,
    /// Readings from before the run was set up; they are left out.
    before: usize,
}

struct Looked {
    look: ProbeFileLook,
    new: Vec<NewProbeReading>,
}

fn looked_at(
    bytes: &Bytes,
    ask: &ProbeFileAsk,
    begun: Timestamp,
    home: &House,
    now: Timestamp,
) -> Result<Looked, ApiError> {
    let table = logfile::table(&text_of(bytes)).map_err(|why| ApiError::field("file", why))?;
    let guessed =
        logfile::guess(&table, &home.settings).map_err(|why| ApiError::field("columns", why))?;
    let columns = Columns {
        date: ask.date.unwrap_or(guessed.date),
        time: if ask.date.is_some() {
            ask.time
        } else {
            guessed.time
        },
        unit: ask.unit.unwrap_or(guessed.unit),
        dates: ask.dates.unwrap_or(guessed.dates),
        header: ask.header.unwrap_or(guessed.header),
        ..guessed
    };
    let pairs = match filled(ask.probes.as_deref()) {
        None => logfile::probe_columns(&table, &columns),
        Some(text) => text
            .split(',')
            .map(|pair| {
                let (probe, column) = pair.trim().split_once(':')?;
                let probe: ProbeNo = probe.trim().parse().ok()?;
                (1..=MOST_PROBES).contains(&probe).then_some(())?;
                Some((probe, column.trim().parse().ok()?))
            })
            .collect::<Option<Vec<_>>>()
            .ok_or_else(|| {
                ApiError::field(
                    "probes",
                    "Say which probe is in which column, such as 1:2,2:3.",
                )
            })?,
    };
    if pairs.is_empty() {
        return Err(ApiError::field(
            "probes",
            "No column of it holds temperatures. Say which probe is in which column, such as 1:2,2:3.",
        ));
    }
    let width = table.rows.iter().map(|(_, r)| r.len()).max().unwrap_or(0);
    let first = table
        .rows
        .first()
        .map(|(_, r)| r.as_slice())
        .unwrap_or_default();
    let name = |n: usize| match first.get(n) {
        Some(cell) if columns.header => cell.clone(),
        Some(_) | None => format!("column {}", n + 1),
    };
    let mut new = Vec::new();
    let mut probes = Vec::new();
    let (mut refused, mut refused_in_all, mut before) = (Vec::new(), 0, 0);
    for (probe, column) in pairs {
        let file = logfile::read_probe(&table, &columns, column, &home.settings, now);
        let of = || file.rows.iter().map(|r| r.read).filter(|r| r.at >= begun);
        before += file.rows.len() - of().count();
        probes.push(ProbeColumn {
            probe,
            column,
            name: name(column),
            readings: of().count(),
            low_c: of().map(|r| r.temperature.0).reduce(f64::min),
            high_c: of().map(|r| r.temperature.0).reduce(f64::max),
        });
        new.extend(of().map(|read| NewProbeReading { probe, read }));
        refused_in_all += file.refused_in_all;
        refused.extend(file.refused);
    }
    refused.truncate(20);
    new.sort_by_key(|n| (n.probe, n.read.at));
    Ok(Looked {
        look: ProbeFileLook {
            names: (0..width).map(name).collect(),
            probes,
            in_all: new.len(),
            refused,
            refused_in_all,
            from: new.iter().map(|n| n.read.at).min(),
            to: new.iter().map(|n| n.read.at).max(),
            before,
            columns,
        },
        new,
    })
}

/// Looks at a file of a thermometer with probes: which column is which probe, which rows are refused. Writes nothing.
#[utoipa::path(tag = "reading", params(("id" = i64, Path), ProbeFileAsk), request_body(content = String, content_type = "text/csv"), responses((status = 200, body = ProbeFileLook), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/runs/{id}/file/look")]
async fn look_at_probes(
    app: Data<App>,
    id: Path<i64>,
    ask: Query<ProbeFileAsk>,
    Raw(bytes): Raw,
) -> Result<Json<ProbeFileLook>, ApiError> {
    let begun = known(&app, RunId(*id))?;
    let now = app.clock.now();
    let home = app.store.read(|_, home| home.clone());
    crate::blocking(move || Ok(looked_at(&bytes, &ask, begun, &home, now)?.look))
        .await
        .map(Json)
}

/// Takes the readings out of a file of a thermometer with probes; what is there already is not doubled.
#[utoipa::path(tag = "writing", params(("id" = i64, Path), ProbeFileAsk), request_body(content = String, content_type = "text/csv"), responses((status = 200, body = ProbesLogged), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/runs/{id}/file")]
async fn take_probes(
    app: Data<App>,
    id: Path<i64>,
    ask: Query<ProbeFileAsk>,
    Raw(bytes): Raw,
) -> Result<Json<ProbesLogged>, ApiError> {
    let id = RunId(*id);
    let begun = known(&app, id)?;
    let now = app.clock.now();
    let home = app.store.read(|_, home| home.clone());
    let Looked { look, new } =
        crate::blocking(move || looked_at(&bytes, &ask, begun, &home, now)).await?;
    if new.is_empty() {
        return Err(ApiError::field(
            "file",
            if look.before > 0 {
                "All of it is from before the run was set up. Set the run up with the time at which it began."
            } else {
                "No row of it is understood. Look at the columns, the unit and the order of its dates."
            },
        ));
    }
    let refused = (look.refused, look.refused_in_all);
    log(&app, id, new, Source::Csv, refused).await
}

/// A stretch of a probe's readings that is struck out.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ProbeStrikeAsk {
    /// The probe.
    probe: ProbeNo,
    /// Since when.
    from: String,
    /// Until when.
    to: String,
    /// Why they do not count.
    reason: String,
}

/// How many were struck out.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct ProbesStruck {
    /// How many counted until now.
    struck: usize,
}

/// Strikes a stretch of a probe's readings out, for a reason.
#[utoipa::path(tag = "writing", params(("id" = i64, Path)), request_body = ProbeStrikeAsk, responses((status = 200, body = ProbesStruck), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/runs/{id}/strike")]
async fn strike_probe(
    app: Data<App>,
    id: Path<i64>,
    ask: Body<ProbeStrikeAsk>,
) -> Result<Json<ProbesStruck>, ApiError> {
    let id = RunId(*id);
    known(&app, id)?;
    let ask = ask.value;
    if !reason::is_enough(&ask.reason) {
        return Err(ApiError::field("reason", reason::WANTED));
    }
    let now = app.clock.now();
    let (from, to) = app.store.read(|_, home| {
        let moment = |text: &str, field: &str| {
            happened_at(Some(text), home, now, true).map_err(|e| e.at("happened_at", field))
        };
        Ok::<_, ApiError>((moment(&ask.from, "from")?, moment(&ask.to, "to")?))
    })?;
    if to < from {
        return Err(ApiError::field(
            "to",
            "That is before its begin. Give a later time.",
        ));
    }
    let store = app.store.clone();
    let struck = crate::blocking(move || {
        Ok(store.strike_probe(id, ask.probe, (from, to), ask.reason.trim(), now)?)
    })
    .await?;
    if struck == 0 {
        return Err(ApiError::Conflict(
            "No reading of that probe counts there. Look at its curve again.".into(),
        ));
    }
    app.tell("runs", &[]);
    Ok(Json(ProbesStruck { struck }))
}

/// When a piece will be at its mark (min since the begin).
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
struct FanView {
    /// Early.
    low: f64,
    /// Most likely.
    at: f64,
    /// Late.
    high: f64,
}

/// A curve.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct CurveView {
    /// What it is called: a tag, or a zone.
    name: String,
    /// The piece, where it is of one.
    piece: Option<PieceId>,
    /// Where it is to come to (°C).
    mark_c: Option<f64>,
    /// Minutes since the begin, one for each point.
    minute: Vec<f64>,
    /// The lowest around each (°C).
    low_c: Vec<f64>,
    /// The highest around each (°C).
    high_c: Vec<f64>,
    /// When it will be at its mark.
    fan: Option<FanView>,
    /// Checks by hand.
    spots: Vec<Read>,
}

/// A stage on the time line of the curves.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct StageSpan {
    /// What it is called.
    name: String,
    /// From (min since the begin).
    from: f64,
    /// To.
    to: f64,
    /// How warm it was set (°C).
    set_c: Option<f64>,
}

/// The curves of a run.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct CurvesView {
    /// The minute zero.
    #[schema(value_type = String, format = DateTime)]
    begin: Timestamp,
    /// How long it went on until now, or its end (min).
    minutes: f64,
    /// The air of each zone.
    zones: Vec<CurveView>,
    /// The inside of each piece that was measured.
    pieces: Vec<CurveView>,
    /// Its stages.
    stages: Vec<StageSpan>,
    /// How many readings stand behind them.
    readings: usize,
}

/// Where readings lie closer than can be seen, the lowest and the highest of them.
fn drawn(reads: &[Read], begin: Timestamp) -> (Vec<f64>, Vec<f64>, Vec<f64>) {
    let together = reads.len().div_ceil(POINTS).max(1);
    let round = |v: f64, by: f64| (v * by).round() / by;
    let mut of = (Vec::new(), Vec::new(), Vec::new());
    for some in reads.chunks(together) {
        let warmths = || some.iter().map(|r| r.temperature.0);
        of.0.push(round(minutes(begin, some[some.len() / 2].at), 100.0));
        of.1.push(round(warmths().fold(f64::INFINITY, f64::min), 100.0));
        of.2.push(round(warmths().fold(f64::NEG_INFINITY, f64::max), 100.0));
    }
    of
}

/// The curves of a run: chamber and inside over time, where each is to come to, when.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = CurvesView), (status = 404, body = Problem)))]
#[get("/runs/{id}/curve")]
async fn run_curve(app: Data<App>, id: Path<i64>) -> Result<Json<CurvesView>, ApiError> {
    let id = RunId(*id);
    let now = app.clock.now();
    let watched = app.store.watched(id).ok_or_else(no_run)?;
    Ok(Json(app.read(|book, seen| {
        let look = Look {
            watched: &watched,
            book,
            home: seen.home,
            now,
        };
        let run = &watched.run;
        let zones = look.zones();
        let pieces = look.pieces(&zones);
        let firsts = pieces.iter().filter_map(|p| p.reads.first());
        let firsts = firsts.chain(zones.iter().filter_map(|z| z.reads.first()));
        let first = firsts.map(|r| r.at).min();
        let begin = run
            .began()
            .into_iter()
            .chain(first)
            .min()
            .unwrap_or(run.begun);
        let of_piece = |p: &PieceNow| {
            let (minute, low_c, high_c) = drawn(&p.reads, begin);
            let f = &p.forecast;
            let at = |t: Timestamp| minutes(begin, t);
            let fan = match (f.low, f.at, f.high) {
                (Some(low), Some(mid), Some(high)) if p.left.is_none() => Some(FanView {
                    low: at(low),
                    at: at(mid),
                    high: at(high),
                }),
                (Some(_) | None, Some(_) | None, Some(_) | None) => None,
            };
            let spots = run.spots.iter().filter(|s| s.piece == p.piece);
            let tag = book.piece(p.piece).map(|(_, piece)| piece.tag.clone());
            CurveView {
                name: tag.unwrap_or_default(),
                piece: Some(p.piece),
                mark_c: Some(p.mark.mark.0),
                minute,
                low_c,
                high_c,
                fan,
                spots: spots
                    .filter_map(|s| {
                        Some(Read {
                            at: s.at,
                            temperature: s.coldest()?,
                        })
                    })
                    .collect(),
            }
        };
        let measured = |p: &&PieceNow| !p.reads.is_empty();
        CurvesView {
            begin,
            minutes: minutes(begin, run.ended.unwrap_or(now)).max(0.0),
            pieces: pieces.iter().filter(measured).map(of_piece).collect(),
            zones: zones
                .iter()
                .filter(|z| !z.reads.is_empty())
                .map(|z| {
                    let (minute, low_c, high_c) = drawn(&z.reads, begin);
                    CurveView {
                        name: z.zone.clone(),
                        piece: None,
                        mark_c: None,
                        minute,
                        low_c,
                        high_c,
                        fan: None,
                        spots: Vec::new(),
                    }
                })
                .collect(),
            stages: run
                .went
                .iter()
                .filter_map(|w| {
                    let stage = run.stages.get(w.stage)?;
                    Some(StageSpan {
                        name: stage.name.clone(),
                        from: minutes(begin, w.from),
                        to: minutes(begin, w.until.unwrap_or(now)),
                        set_c: stage.set_c,
                    })
                })
                .collect(),
            readings: watched.readings.count(),
        }
    })))
}

/// Mounts what probes say.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(read_probes)
        .service(look_at_probes)
        .service(take_probes)
        .service(strike_probe)
        .service(run_curve);
}
