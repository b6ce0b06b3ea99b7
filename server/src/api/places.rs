//! Cold places: how warm they were, by hand, out of a file or from a thermometer, and what that means for what lies there.

use crate::App;
use crate::acts::{filled, happened_at};
use crate::body::{Body, Raw};
use crate::error::{ApiError, Problem};
use crate::sensors::SensorView;
use actix_web::web::{Bytes, Data, Json, Path, Query};
use actix_web::{get, post};
use jiff::{Timestamp, ToSpan};
use manifest_core::catalogue::place_kinds::{DryingAir, PlaceUse};
use manifest_core::caution::{Code, Finding, Severity};
use manifest_core::heat::typed::unit_doubt;
use manifest_core::house::House;
use manifest_core::ledger::PieceId;
use manifest_core::ledger::book::Book;
use manifest_core::logfile::{self, Columns, DateOrder, LogFile, Refused};
use manifest_core::piece::Piece;
use manifest_core::place::climate::{Stretch, TOO_WARM, WARNED_AFTER_S, WarmthBand, WarmthBands};
use manifest_core::place::{Place, PlaceId, air};
use manifest_core::reason;
use manifest_core::units::{Amount, Celsius, HeatUnit, Typed, read, show};
use manifest_store::readings::{Logged, NewReading, Reading, Source};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_actix_web::service_config::ServiceConfig;

/// Points of a curve: more is not seen.
const POINTS: usize = 400;

/// Rows of a list of readings.
const ROWS: usize = 60;

/// Rows of a file that are shown before it is taken.
const SHOWN: usize = 8;

/// A curve shows so many days where nothing else is asked for.
const USUAL_DAYS: i64 = 3;

/// And at most so many.
const MOST_DAYS: i64 = 400;

/// A stretch in which a place was too cold or too warm.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct StretchView {
    /// In which band it was.
    band: WarmthBand,
    /// Since when.
    #[schema(value_type = String, format = DateTime)]
    from: Timestamp,
    /// Until when, as far as anybody looked.
    #[schema(value_type = String, format = DateTime)]
    to: Timestamp,
    /// For how long (h).
    hours: f64,
    /// True when its newest reading belongs to it.
    running: bool,
}

/// A piece that lies in a place.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Lies {
    /// The piece.
    id: PieceId,
    /// Its tag.
    tag: String,
}

/// A place in which meat lies cold.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PlaceView {
    /// Its number.
    id: PlaceId,
    /// What it is called.
    name: String,
    /// Its kind.
    kind: String,
    /// As its kind is called.
    kind_name: String,
    /// True where nothing keeps it cold: its temperature is asked for three times a day.
    asked: bool,
    /// What to look out for there.
    care: Option<String>,
    /// What its air is, where pieces dry in it.
    dries: Option<DryingAir>,
    /// The place that it stands in.
    stands_in: Option<String>,
    /// How warm it was last (°C).
    celsius: Option<f64>,
    /// When that was.
    #[schema(value_type = Option<String>, format = DateTime)]
    at: Option<Timestamp>,
    /// How many readings there are.
    readings: u64,
    /// Stretches of the last two weeks in which it was too cold or too warm, the newest first.
    stretches: Vec<StretchView>,
    /// What to think about.
    findings: Vec<Finding>,
    /// What lies there now.
    lies: Vec<Lies>,
    /// How it stands with its thermometer, where it names one.
    sensor: Option<SensorView>,
}

/// Every cold place of the household.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct PlacesView {
    /// The places.
    places: Vec<PlaceView>,
    /// Between which a cure goes on as it should, and over which meat spoils.
    bands: WarmthBands,
}

/// True for a place with a log: whatever keeps or leaves meat cold, and where it hangs.
fn has_log(place: &Place) -> bool {
    [
        PlaceUse::Cold,
        PlaceUse::Brine,
        PlaceUse::Hang,
        PlaceUse::Freeze,
    ]
    .into_iter()
    .any(|what| place.is_for(what))
}

fn stretches(home: &House, place: &Place, now: Timestamp) -> Vec<StretchView> {
    // Where pieces dry, what is too warm for a fridge is meant so.
    let cold = place.kind().is_none_or(|k| k.dries.is_none());
    let Some(log) = home.climate.place(place.id).filter(|_| cold) else {
        return Vec::new();
    };
    let since = now.saturating_sub((14 * 24).hours()).unwrap_or(now);
    let of = |band: WarmthBand| {
        let running = log.running(band);
        let all = log.stretches(band).iter();
        all.filter(move |s| s.to >= since)
            .map(move |s| StretchView {
                band,
                from: s.from,
                to: s.to,
                hours: s.seconds() as f64 / 3_600.0,
                running: running == Some(*s),
            })
    };
    let mut found: Vec<_> = WarmthBand::ALL.into_iter().flat_map(of).collect();
    found.sort_by_key(|s| std::cmp::Reverse((s.from, s.band)));
    found.truncate(40);
    found
}

/// What its log gives pause for: only where cold is wanted.
pub fn findings(place: &Place, home: &House, now: Timestamp) -> Vec<Finding> {
    if place.kind().is_some_and(|k| k.dries.is_some()) {
        let log = home.climate.place(place.id);
        return log.map_or_else(Vec::new, |l| {
            air::findings(place, l, home.settings.units.heat)
        });
    }
    let wants_cold = place.is_for(PlaceUse::Cold) || place.is_for(PlaceUse::Brine);
    let Some(log) = home.climate.place(place.id).filter(|_| wants_cold) else {
        return Vec::new();
    };
    let day_ago = now.saturating_sub(24.hours()).unwrap_or(now);
    let recent = |band: WarmthBand| {
        let all = log.stretches(band).iter().copied();
        all.filter(|s| s.to >= day_ago).max_by_key(|s| s.seconds())
    };
    let said = |c: f64| show::temperature(Celsius(c), home.settings.units.heat);
    let long = |s: Stretch| format!("{} h", show::trim(s.seconds() as f64 / 3_600.0, 1));
    let mut found = Vec::new();
    if let Some(spoiling) = recent(WarmthBand::Spoiling).filter(|s| s.seconds() >= WARNED_AFTER_S) {
        found.push(
            Finding::new(
                Code::TooWarm,
                Severity::Stop,
                format!("{} was over {} within the last day.", place.name, said(7.0)),
            )
            .saw(format!("{} on end", long(spoiling)))
            .wants(format!("never for 24 h: then nobody eats what lay there; at most {}", said(4.4)))
            .remedy("Move what lies there somewhere cold now, check its thermometer, and note how long it was."),
        );
    } else if let Some(warm) = recent(WarmthBand::TooWarm).filter(|s| s.seconds() >= WARNED_AFTER_S)
    {
        found.push(
            Finding::new(
                Code::TooWarm,
                Severity::Caution,
                format!(
                    "{} was over {} within the last day.",
                    place.name,
                    said(TOO_WARM.0)
                ),
            )
            .saw(format!("{} on end", long(warm)))
            .wants(format!("{} to {}", said(1.0), said(4.4)))
            .remedy(if place.kind().is_some_and(|k| k.asked) {
                // Nobody sets a porch colder.
                "Shade it, put ice beside what is there or move it to a fridge, and look again in an hour."
            } else {
                "Set it colder, keep its door shut, and look again in an hour."
            }),
        );
    }
    if let Some(cold) = recent(WarmthBand::TooCold).filter(|s| s.seconds() >= WARNED_AFTER_S) {
        found.push(
            Finding::new(
                Code::TooCold,
                Severity::Caution,
                format!(
                    "{} was under {} within the last day: a cure nearly stands still there.",
                    place.name,
                    said(1.0)
                ),
            )
            .saw(format!("{} on end", long(cold)))
            .wants(format!("{} to {}", said(1.0), said(4.4)))
            .remedy(
                "Whole days of that do not count: what lies there in its cure comes out later.",
            ),
        );
    }
    found
}

/// What to say where meat lies beside a thermometer that says nothing any more.
pub fn silence(
    app: &App,
    place: &Place,
    book: &Book,
    home: &House,
    now: Timestamp,
) -> Option<Finding> {
    // Where the clock is moved by hand a thermometer has nothing to say while it stands.
    if app.clock.is_pinned() {
        return None;
    }
    // Asked for first: it is none but for a place whose thermometer is silent.
    let silence = app.sensors.silence(place, home, now)?;
    let here = |p: &Piece| {
        !p.stage().is_over()
            && p.place()
                .is_some_and(|lies| home.settings.lies_in(lies, place.id))
    };
    let mut open = home.runs.open();
    let at_the_fire =
        open.any(|w| w.run.place == Some(place.id) && w.run.over_since(book).is_none());
    (at_the_fire || book.pieces().any(|(_, p)| here(p))).then_some(silence)
}

fn view(app: &App, book: &Book, home: &House, place: &Place, now: Timestamp) -> PlaceView {
    let log = home.climate.place(place.id);
    // What a wrong clock dated into the future says nothing about now.
    let edge = now.saturating_add(1.hours()).unwrap_or(now);
    let last = log.and_then(|l| {
        let newest = l.last().filter(|r| r.at <= edge);
        newest.or_else(|| l.recent().filter(|r| r.at <= edge).last())
    });
    let kind = place.kind();
    let here = book.pieces().filter(|(_, p)| {
        !p.stage().is_over()
            && p.place()
                .is_some_and(|lies| home.settings.lies_in(lies, place.id))
    });
    let outer = place.stands_in;
    PlaceView {
        id: place.id,
        name: place.name.clone(),
        kind: place.kind.clone(),
        kind_name: kind.map_or_else(String::new, |k| k.name.clone()),
        asked: kind.is_some_and(|k| k.asked),
        care: kind.and_then(|k| k.care.clone()),
        dries: kind.and_then(|k| k.dries),
        stands_in: outer.and_then(|id| Some(home.settings.place(id)?.name.clone())),
        celsius: last.map(|r| r.temperature.0),
        at: last.map(|r| r.at),
        readings: log.map_or(0, |l| l.count()),
        stretches: stretches(home, place, now),
        findings: findings(place, home, now)
            .into_iter()
            .chain(silence(app, place, book, home, now))
            .collect(),
        lies: here
            .map(|(_, p)| Lies {
                id: p.id,
                tag: p.tag.clone(),
            })
            .collect(),
        sensor: app.sensors.of(place.id),
    }
}

/// The cold places of the household, and how cold they are.
#[utoipa::path(tag = "reading", responses((status = 200, body = PlacesView)))]
#[get("/places")]
async fn places(app: Data<App>) -> Result<Json<PlacesView>, ApiError> {
    let now = app.clock.now();
    Ok(Json(
        crate::reading(&app, move |app| {
            app.store.read(|book, home| PlacesView {
                bands: WarmthBands::LYING,
                places: home
                    .settings
                    .places()
                    .filter(|p| has_log(p))
                    .map(|p| view(app, book, home, p, now))
                    .collect(),
            })
        })
        .await?,
    ))
}

/// From when until when.
#[derive(Clone, Copy, Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
struct Between {
    /// How many days back from the newest reading, or now; three when left out.
    days: Option<i64>,
}

/// A point of a curve; where readings lie close, the lowest and the highest of them.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct LogPoint {
    /// When.
    #[schema(value_type = String, format = DateTime)]
    at: Timestamp,
    /// The lowest (°C).
    low_c: f64,
    /// The highest (°C).
    high_c: f64,
}

/// A reading in a list.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct ReadingView {
    /// Its number.
    id: i64,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    at: Timestamp,
    /// How warm (°C).
    celsius: f64,
    /// How damp.
    humidity: Option<f64>,
    /// `hand`, `csv` or `sensor`.
    source: String,
    /// The number of those that came with it.
    batch: i64,
    /// Why it does not count.
    struck: Option<String>,
}

/// What was read in a place.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Readings {
    /// The curve, the oldest first.
    points: Vec<LogPoint>,
    /// The newest readings, struck out ones too.
    newest: Vec<ReadingView>,
    /// How many there are in the time that was asked for.
    in_all: usize,
}

fn known(app: &App, id: PlaceId) -> Result<Place, ApiError> {
    app.store.read(|_, home| {
        let place = home.settings.place(id).filter(|p| has_log(p));
        place.cloned().ok_or_else(|| {
            ApiError::NotFound("There is no such place on the list in the settings.".into())
        })
    })
}

/// What was read in a place.
#[utoipa::path(tag = "reading", params(("id" = u32, Path), Between), responses((status = 200, body = Readings), (status = 404, body = Problem)))]
#[get("/places/{id}/readings")]
async fn read_in(
    app: Data<App>,
    id: Path<PlaceId>,
    ask: Query<Between>,
) -> Result<Json<Readings>, ApiError> {
    let place = known(&app, *id)?;
    let now = app.clock.now();
    let last = app.store.read(|_, home| {
        let log = home.climate.place(place.id);
        log.and_then(|l| l.last()).map(|r| r.at)
    });
    let days = ask.days.unwrap_or(USUAL_DAYS).clamp(1, MOST_DAYS);
    let to = last.unwrap_or(now).max(now);
    let from = last
        .unwrap_or(now)
        .saturating_sub((days * 24).hours())
        .unwrap_or(now);
    let store = app.store.clone();
    let all =
        crate::blocking(move || Ok(store.readings(place.id, (from, to), usize::MAX)?)).await?;
    Ok(Json(Readings {
        points: points(&all),
        in_all: all.len(),
        newest: all.into_iter().take(ROWS).map(reading_view).collect(),
    }))
}

fn reading_view(r: Reading) -> ReadingView {
    ReadingView {
        id: r.id,
        at: r.at,
        celsius: r.temperature.0,
        humidity: r.humidity.map(|h| h.0),
        source: r.source.word().into(),
        batch: r.batch,
        struck: r.struck,
    }
}

fn points(newest_first: &[Reading]) -> Vec<LogPoint> {
    let counted: Vec<&Reading> = newest_first
        .iter()
        .rev()
        .filter(|r| r.struck.is_none())
        .collect();
    let together = counted.len().div_ceil(POINTS).max(1);
    let of = |some: &[&Reading]| {
        let middle = some[some.len() / 2];
        let warmths = || some.iter().map(|r| r.temperature.0);
        LogPoint {
            at: middle.at,
            low_c: warmths().fold(f64::INFINITY, f64::min),
            high_c: warmths().fold(f64::NEG_INFINITY, f64::max),
        }
    };
    counted.chunks(together).map(of).collect()
}

/// A reading as typed.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ReadingAsk {
    /// How warm it was, as typed: `3.4`, `38 F`.
    temperature: String,
    /// How damp the air was: a number from 0 to 1, or as typed: `75 %`.
    #[serde(default)]
    humidity: Option<Amount>,
    /// When; now when left out.
    #[serde(default)]
    at: Option<String>,
}

/// Readings as typed.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ReadingsAsk {
    /// The readings.
    readings: Vec<ReadingAsk>,
    /// True after the person looked again: at a number without its unit, at an hour that came twice.
    #[serde(default)]
    keep_as_typed: bool,
}

/// What came of it.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct LoggedView {
    /// New readings.
    added: usize,
    /// Those that were there already.
    doubled: usize,
    /// The number under which the new ones are struck out together.
    batch: Option<i64>,
    /// Rows of a file that were refused.
    refused: Vec<Refused>,
    /// How many were refused in all.
    refused_in_all: usize,
    /// The place, as it stands now.
    place: PlaceView,
}

async fn log(
    app: &Data<App>,
    place: Place,
    new: Vec<NewReading>,
    source: Source,
    file: Option<LogFile>,
) -> Result<Json<LoggedView>, ApiError> {
    let (store, now, id) = (app.store.clone(), app.clock.now(), place.id);
    let Logged {
        added,
        doubled,
        batch,
    } = crate::blocking(move || Ok(store.log(id, &new, source, now)?)).await?;
    app.tell("places", &[]);
    let (refused, refused_in_all) = file.map_or((Vec::new(), 0), |f| (f.refused, f.refused_in_all));
    Ok(Json(app.store.read(|book, home| LoggedView {
        added,
        doubled,
        batch,
        refused,
        refused_in_all,
        place: view(app, book, home, &place, now),
    })))
}

/// Writes readings of a place down, as typed.
#[utoipa::path(tag = "writing", params(("id" = u32, Path)), request_body = ReadingsAsk, responses((status = 200, body = LoggedView), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/places/{id}/readings")]
async fn read_place(
    app: Data<App>,
    id: Path<PlaceId>,
    ask: Body<ReadingsAsk>,
) -> Result<Json<LoggedView>, ApiError> {
    let place = known(&app, *id)?;
    let now = app.clock.now();
    let ask = ask.value;
    if ask.readings.is_empty() {
        return Err(ApiError::field(
            "readings",
            "Type how warm it is, such as 3.4.",
        ));
    }
    let new = app.store.read(|_, home| {
        let one = |(i, r): (usize, &ReadingAsk)| {
            let at = |name: &str| format!("readings[{i}].{name}");
            let typed = Typed::<Celsius>::read(&r.temperature, home.settings.units)
                .map_err(|e| ApiError::field(&at("temperature"), e.to_string()))?;
            let doubt = unit_doubt(&typed, place.read_where());
            if let (Some(doubt), false) = (doubt, ask.keep_as_typed) {
                return Err(ApiError::Question(vec![doubt]));
            }
            let temperature = typed.value;
            if !(-60.0..=60.0).contains(&temperature.0) {
                return Err(ApiError::field(
                    &at("temperature"),
                    "No place for meat is that warm or cold. Type degrees such as 3 C or 38 F.",
                ));
            }
            let humidity = r.humidity.as_ref().map(|h| match h {
                Amount::Number(n) if (0.0..=1.0).contains(n) => {
                    Ok(manifest_core::units::Fraction(*n))
                }
                Amount::Number(_) => {
                    Err("Type a share from 0 to 1, or with its sign: 75 %.".into())
                }
                Amount::Text(text) => read::share(text).map_err(|e| e.to_string()),
            });
            let humidity = humidity
                .transpose()
                .map_err(|why: String| ApiError::field(&at("humidity"), why))?;
            let when = happened_at(filled(r.at.as_deref()), home, now, ask.keep_as_typed)
                .map_err(|e| e.at("happened_at", &at("at")))?;
            Ok(NewReading {
                at: when,
                temperature,
                humidity,
            })
        };
        ask.readings
            .iter()
            .enumerate()
            .map(one)
            .collect::<Result<Vec<_>, ApiError>>()
    })?;
    log(&app, place, new, Source::Hand, None).await
}

/// Which column of a file is what; guessed where `date` or `temperature` is left out.
#[derive(Clone, Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
struct ColumnsAsk {
    /// The column of the date, or of date and time, counted from zero.
    date: Option<usize>,
    /// The column of the time, where it has one of its own.
    time: Option<usize>,
    /// The column of the temperature.
    temperature: Option<usize>,
    /// The column of the humidity.
    humidity: Option<usize>,
    /// The unit where a row does not say it: `celsius` or `fahrenheit`.
    #[param(inline)]
    unit: Option<HeatUnit>,
    /// In which order dates are written.
    #[param(inline)]
    dates: Option<DateOrder>,
    /// True when the first row names the columns.
    header: Option<bool>,
    /// True after the person looked again: at the unit, at hours without a reading.
    #[serde(default)]
    keep_as_typed: bool,
}

/// The text of a file, whatever its encoding: what is no UTF-8 is taken letter by letter.
pub(crate) fn text_of(bytes: &Bytes) -> String {
    match std::str::from_utf8(bytes) {
        Ok(text) => text.into(),
        Err(_) => bytes.iter().map(|b| char::from(*b)).collect(),
    }
}

/// A row of a file as it was understood.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct RowView {
    /// When.
    #[schema(value_type = String, format = DateTime)]
    at: Timestamp,
    /// How warm (°C).
    celsius: f64,
    /// How damp.
    humidity: Option<f64>,
}

/// What a file says, before anything is written down.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct LogLook {
    /// Its columns: the name, or the first cell, of each.
    names: Vec<String>,
    /// Which is taken for what.
    columns: Columns,
    /// The first rows, as they stand.
    cells: Vec<Vec<String>>,
    /// The first rows, as they are understood.
    rows: Vec<RowView>,
    /// How many rows are understood.
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
    /// The lowest (°C).
    low_c: Option<f64>,
    /// The highest (°C).
    high_c: Option<f64>,
    /// Hours over 4.4 °C in it.
    warm_h: f64,
    /// Hours over 7 °C in it.
    spoiling_h: f64,
    /// Hours under 1 °C in it.
    cold_h: f64,
}

fn looked_at(
    bytes: &Bytes,
    ask: &ColumnsAsk,
    home: &House,
    now: Timestamp,
) -> Result<(logfile::Table, Columns, LogFile), ApiError> {
    let table = logfile::table(&text_of(bytes)).map_err(|why| ApiError::field("file", why))?;
    let guessed = logfile::guess(&table, &home.settings);
    let columns = match (ask.date, ask.temperature) {
        (Some(date), Some(temperature)) => {
            let usual = guessed.ok();
            let unit = ask.unit.or(usual.as_ref().map(|u| u.unit));
            let dates = ask.dates.or(usual.as_ref().map(|u| u.dates));
            Columns {
                date,
                time: ask.time,
                temperature,
                humidity: ask.humidity,
                unit: unit.unwrap_or(home.settings.units.heat),
                dates: dates.unwrap_or(DateOrder::YearMonthDay),
                header: ask.header.or(usual.map(|u| u.header)).unwrap_or(true),
            }
        }
        (Some(_) | None, Some(_) | None) => {
            let found = guessed.map_err(|why| ApiError::field("columns", why))?;
            Columns {
                unit: ask.unit.unwrap_or(found.unit),
                dates: ask.dates.unwrap_or(found.dates),
                ..found
            }
        }
    };
    let file = logfile::read(&table, &columns, &home.settings, now);
    Ok((table, columns, file))
}

/// Looks at a file of a thermometer: which column is what, what its rows say, which are refused. Writes nothing.
#[utoipa::path(tag = "reading", params(("id" = u32, Path), ColumnsAsk), request_body(content = String, content_type = "text/csv"), responses((status = 200, body = LogLook), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/places/{id}/file/look")]
async fn look(
    app: Data<App>,
    id: Path<PlaceId>,
    ask: Query<ColumnsAsk>,
    Raw(bytes): Raw,
) -> Result<Json<LogLook>, ApiError> {
    let place = known(&app, *id)?;
    let cold = place.kind().is_none_or(|k| k.dries.is_none());
    let now = app.clock.now();
    let home = app.store.read(|_, home| home.clone());
    crate::blocking(move || {
        let (table, columns, mut file) = looked_at(&bytes, &ask, &home, now)?;
        file.rows.sort_by_key(|r| r.read.at);
        let log = manifest_core::place::climate::PlaceLog::of(file.rows.iter().map(|r| r.read));
        let hours = |band: WarmthBand| {
            // Where pieces dry, what is too warm for a fridge is meant so.
            let all = log.stretches(band).iter().filter(|_| cold);
            all.map(|s| s.seconds() as f64 / 3_600.0).sum()
        };
        let warmths = || file.rows.iter().map(|r| r.read.temperature.0);
        let width = table.rows.iter().map(|(_, r)| r.len()).max().unwrap_or(0);
        let first = &table.rows[0].1;
        let name = |n: usize| match first.get(n) {
            Some(cell) if columns.header => cell.clone(),
            Some(cell) => format!("column {} ({cell})", n + 1),
            None => format!("column {}", n + 1),
        };
        let shown = table.rows.iter().skip(usize::from(columns.header));
        Ok(LogLook {
            names: (0..width).map(name).collect(),
            cells: shown.take(SHOWN).map(|(_, cells)| cells.clone()).collect(),
            rows: file
                .rows
                .iter()
                .take(SHOWN)
                .map(|r| RowView {
                    at: r.read.at,
                    celsius: r.read.temperature.0,
                    humidity: r.humidity.map(|h| h.0),
                })
                .collect(),
            in_all: file.rows.len(),
            refused_in_all: file.refused_in_all,
            from: file.rows.first().map(|r| r.read.at),
            to: file.rows.last().map(|r| r.read.at),
            low_c: warmths().reduce(f64::min),
            high_c: warmths().reduce(f64::max),
            warm_h: hours(WarmthBand::TooWarm),
            spoiling_h: hours(WarmthBand::Spoiling),
            cold_h: hours(WarmthBand::TooCold),
            refused: file.refused,
            columns,
        })
    })
    .await
    .map(Json)
}

/// Takes the readings out of a file of a thermometer; what is there already is not doubled.
#[utoipa::path(tag = "writing", params(("id" = u32, Path), ColumnsAsk), request_body(content = String, content_type = "text/csv"), responses((status = 200, body = LoggedView), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/places/{id}/file")]
async fn take_file(
    app: Data<App>,
    id: Path<PlaceId>,
    ask: Query<ColumnsAsk>,
    Raw(bytes): Raw,
) -> Result<Json<LoggedView>, ApiError> {
    let place = known(&app, *id)?;
    let now = app.clock.now();
    let home = app.store.read(|_, home| home.clone());
    let keep = ask.keep_as_typed;
    let of = place.clone();
    let (file, warnings) = crate::blocking(move || {
        let (_, columns, file) = looked_at(&bytes, &ask, &home, now)?;
        let warnings = logfile::warnings(&file, &columns, &of, &home.settings);
        Ok((file, warnings))
    })
    .await?;
    if !warnings.is_empty() && !keep {
        return Err(ApiError::Question(warnings));
    }
    if file.rows.is_empty() {
        return Err(ApiError::field(
            "file",
            "No row of it is understood. Look at the columns, the unit and the order of its dates.",
        ));
    }
    let new = file.rows.iter().map(|r| NewReading {
        at: r.read.at,
        temperature: r.read.temperature,
        humidity: r.humidity,
    });
    let new: Vec<_> = new.collect();
    log(&app, place, new, Source::Csv, Some(file)).await
}

/// Readings that are struck out.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct StrikeAsk {
    /// By their numbers.
    #[serde(default)]
    readings: Vec<i64>,
    /// All that came together.
    #[serde(default)]
    batch: Option<i64>,
    /// Why they do not count.
    reason: String,
}

/// How many were struck out.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Struck {
    /// How many counted until now.
    struck: usize,
}

/// Strikes readings out, for a reason: they stand there, and count no more.
#[utoipa::path(tag = "writing", params(("id" = u32, Path)), request_body = StrikeAsk, responses((status = 200, body = Struck), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/places/{id}/strike")]
async fn strike(
    app: Data<App>,
    id: Path<PlaceId>,
    ask: Body<StrikeAsk>,
) -> Result<Json<Struck>, ApiError> {
    let place = known(&app, *id)?;
    let StrikeAsk {
        readings,
        batch,
        reason,
    } = ask.value;
    if !reason::is_enough(&reason) {
        return Err(ApiError::field("reason", reason::WANTED));
    }
    let (store, now) = (app.store.clone(), app.clock.now());
    let struck = crate::blocking(move || {
        Ok(store.strike(place.id, &readings, batch, reason.trim(), now)?)
    })
    .await?;
    if struck == 0 {
        return Err(ApiError::Conflict(
            "None of these readings counts here any more. Look at the list again.".into(),
        ));
    }
    app.tell("places", &[]);
    Ok(Json(Struck { struck }))
}

/// Mounts the places.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(places)
        .service(read_in)
        .service(read_place)
        .service(look)
        .service(take_file)
        .service(strike);
}
