//! Runs in smoker, oven and pot: setting up, what is done in them, what their probes say.

mod readings;
mod views;

use self::views::{AlarmView, RunCard, RunView};
use crate::App;
use crate::acts::{happened_at, some};
use crate::api::clock::AheadView;
use crate::body::Body;
use crate::error::{ApiError, EntryInWords, Problem};
use actix_web::web::{Data, Json, Path};
use actix_web::{HttpRequest, get, post};
use jiff::Timestamp;
use manifest_core::caution::{Finding, Questions, Severity};
use manifest_core::house::House;
use manifest_core::ids::{PieceId, RunId};
use manifest_core::ledger::book::Book;
use manifest_core::piece::Piece;
use manifest_core::reason;
use manifest_core::run::{Appliance, Event, Run, RunAct, RunStage};
use manifest_core::running::ask::{RunActAsk, RunStageAsk, SetUpAsk};
use manifest_core::running::load::{self, Planned};
use manifest_core::running::now::Look;
use manifest_core::running::validator::{RunValidator, check_stages};
use manifest_core::units::{Celsius, show};
use manifest_store::Request;
use manifest_store::runs::{NewEvent, RunWritten};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// What a page of runs shows.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct RunsView {
    /// Those under way.
    open: Vec<RunCard>,
    /// Those that were over lately, the newest first.
    over: Vec<RunCard>,
    /// How many were over in all.
    over_in_all: usize,
}

/// The longest list of runs that were over.
const MOST_OVER: usize = 50;

/// The runs of the household.
#[utoipa::path(tag = "reading", operation_id = "runs", responses((status = 200, body = RunsView)))]
#[get("/runs")]
async fn all_runs(app: Data<App>) -> Result<Json<RunsView>, ApiError> {
    Ok(Json(
        crate::reading(&app, move |app| {
            app.read(|book, seen| {
                let all = seen.home.runs.0.values();
                let look = |watched| Look {
                    watched,
                    book,
                    home: seen.home,
                    now: seen.now,
                };
                let is_over = |w: &&std::sync::Arc<manifest_core::run::Watched>| {
                    w.run.over_since(book).is_some()
                };
                let over = || all.clone().filter(is_over);
                let mut cards: Vec<RunCard> = over()
                    .rev()
                    .take(MOST_OVER)
                    .map(|w| views::card(look(w)))
                    .collect();
                cards.sort_by_key(|c| std::cmp::Reverse(c.ended));
                RunsView {
                    open: all
                        .clone()
                        .filter(|w| !is_over(w))
                        .map(|w| views::card(look(w)))
                        .collect(),
                    over_in_all: over().count(),
                    over: cards,
                }
            })
        })
        .await?,
    ))
}

/// What rings in every run.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct AlarmsView {
    /// The most pressing of each run first.
    alarms: Vec<AlarmView>,
}

impl App {
    /// What rings in the runs that are under way.
    pub(crate) fn alarms(&self) -> Vec<AlarmView> {
        self.read(|book, seen| {
            let look = |watched| Look {
                watched,
                book,
                home: seen.home,
                now: seen.now,
            };
            let open = seen.home.runs.open();
            open.flat_map(|w| views::alarms(look(w))).collect()
        })
    }

    /// The words of all that rings: what changes in them is told to open pages.
    pub(crate) fn ringing(&self) -> Vec<String> {
        let alarms = self.alarms().into_iter();
        alarms.map(|a| format!("{} {}", a.run.0, a.key)).collect()
    }
}

/// What rings in every run, until it is answered.
#[utoipa::path(tag = "reading", responses((status = 200, body = AlarmsView)))]
#[get("/runs/alarms")]
async fn all_alarms(app: Data<App>) -> Result<Json<AlarmsView>, ApiError> {
    let alarms = crate::reading(&app, App::alarms).await?;
    Ok(Json(AlarmsView { alarms }))
}

/// A run that is thought about.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct RunPlanAsk {
    /// What it is made in, and its stages.
    #[serde(default)]
    place: Option<u32>,
    /// What it is made in.
    #[serde(default)]
    hearth: Option<Appliance>,
    /// By which school of heat.
    #[serde(default)]
    school: Option<String>,
    /// Its stages; from the builds of the pieces when left out.
    #[serde(default)]
    stages: Vec<RunStageAsk>,
    /// The pieces.
    pieces: Vec<PieceId>,
}

/// A piece in a run that is thought about.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct PlannedView {
    /// The piece.
    id: PieceId,
    /// Its tag.
    tag: String,
    /// What it weighs (g).
    mass_g: f64,
    /// How thick it lies (mm).
    thickness_mm: Option<f64>,
    /// Where it is brought to (°C).
    mark_c: f64,
    /// Why.
    mark_why: String,
    /// About how long it takes, by its thickness alone (min); none where that is not known, or never.
    about_minutes: Option<f64>,
    /// What gives pause.
    findings: Vec<Finding>,
}

/// A run that is thought about, before anything is written.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct RunPlanView {
    /// What it is made in.
    hearth: Appliance,
    /// Its stages.
    stages: Vec<RunStage>,
    /// The pieces, the one that comes off first first.
    pieces: Vec<PlannedView>,
    /// Loads that the place takes, the thick ones first.
    loads: Vec<Vec<PieceId>>,
    /// All of them together (g).
    mass_g: f64,
    /// What the place takes (g), where that is known.
    room_g: Option<f64>,
    /// Wood for it, as a habit of the products (g).
    wood_g: f64,
    /// What gives pause for all of it.
    findings: Vec<Finding>,
}

fn each<'a>(book: &'a Book, pieces: &[PieceId]) -> Result<Vec<&'a Piece>, ApiError> {
    let mut found = Vec::new();
    for (i, id) in pieces.iter().enumerate() {
        if pieces[..i].contains(id) {
            return Err(ApiError::field(
                "pieces",
                "A piece is named twice. Name each once.",
            ));
        }
        let (_, piece) = book.piece(*id).ok_or_else(|| crate::acts::no_piece(*id))?;
        found.push(piece);
    }
    Ok(found)
}

/// Thinks a run through: stages from what is smoked, the order in which pieces come off, loads, what gives pause. Writes nothing.
#[utoipa::path(tag = "planning", request_body = RunPlanAsk, responses((status = 200, body = RunPlanView), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/runs/plan")]
async fn plan_run(app: Data<App>, ask: Body<RunPlanAsk>) -> Result<Json<RunPlanView>, ApiError> {
    let ask = ask.value;
    crate::reading(&app, move |app| {
        app.read(|book, seen| {
            let home = seen.home;
            let pieces = each(book, &ask.pieces)?;
            let set_up = SetUpAsk {
                place: ask.place,
                name: None,
                hearth: ask.hearth,
                school: ask.school.clone(),
                stages: ask.stages.clone(),
            };
            let act = set_up.draft(home, book, &ask.pieces)?;
            let run = Run::of(RunId(0), vec![event(seen.now, act)]).ok_or(ApiError::Internal)?;
            check_stages(&run.stages)?;
            let gate = RunValidator {
                book,
                home,
                runs: &home.runs,
                at: seen.now,
            };
            let judge = seen.judge();
            let mut planned: Vec<Planned> = Vec::new();
            let mut views: Vec<PlannedView> = Vec::new();
            for piece in &pieces {
                let Some((lot, _)) = book.piece(piece.id) else {
                    continue;
                };
                let mark = manifest_core::running::mark::mark(judge, &lot.state, piece);
                planned.push(Planned {
                    piece: piece.id,
                    grams: piece.mass.grams(),
                    thickness: piece.thickness_now(),
                    mark: mark.mark,
                });
                views.push(PlannedView {
                    id: piece.id,
                    tag: piece.tag.clone(),
                    mass_g: piece.mass.grams(),
                    thickness_mm: piece.thickness_now().map(|t| t.0),
                    mark_c: mark.mark.0,
                    mark_why: mark.why,
                    about_minutes: None,
                    findings: gate.about(run.hearth, &run.stages, piece.id),
                });
            }
            let order = load::order(&planned, &run.stages);
            for v in &mut views {
                v.about_minutes = order
                    .iter()
                    .find(|(id, _)| *id == v.id)
                    .and_then(|(_, m)| *m);
            }
            views.sort_by_key(|v| order.iter().position(|(id, _)| *id == v.id));
            let place = run.place.and_then(|id| home.settings.place(id));
            let room = place.map(|p| p.holds * 1_000.0).filter(|g| *g > 0.0);
            let mut findings: Vec<Finding> = place.and_then(load::outdoors).into_iter().collect();
            findings.extend(gate.over_load(&run, &ask.pieces));
            findings.extend(place.and_then(|p| too_low(p, &run.stages, home)));
            let wood = pieces.iter().filter_map(|p| {
                Some(p.build()?.smoke.as_ref()?.wood_g_per_kg * p.mass.grams() / 1_000.0)
            });
            Ok(Json(RunPlanView {
                hearth: run.hearth,
                stages: run.stages.clone(),
                mass_g: planned.iter().map(|p| p.grams).sum(),
                loads: load::loads(&planned, room),
                room_g: room,
                wood_g: wood.sum(),
                pieces: views,
                findings,
            }))
        })
    })
    .await?
}

/// A stage that is set lower than the place holds.
fn too_low(
    place: &manifest_core::place::Place,
    stages: &[RunStage],
    home: &House,
) -> Option<Finding> {
    let lowest = place.lowest_c?;
    let said = |c: f64| show::temperature(Celsius(c), home.settings.units.heat);
    let warm = |s: &&RunStage| {
        !matches!(
            s.kind,
            manifest_core::run::RunStageKind::Rest | manifest_core::run::RunStageKind::ColdSmoke
        )
    };
    let set = stages.iter().filter(warm).filter_map(|s| s.set_c);
    let coldest = set.reduce(f64::min).filter(|c| *c < lowest)?;
    Some(
        Finding::new(
            manifest_core::caution::Code::ChamberOff,
            Severity::Caution,
            format!("{} does not hold a stage that low.", place.name),
        )
        .saw(format!("{} set", said(coldest)))
        .wants(format!("{} or more, as you listed it", said(lowest)))
        .remedy("Set that stage hotter, or dry it in the fridge or in front of a fan instead."),
    )
}

fn event(at: Timestamp, act: RunAct) -> Event {
    Event {
        no: 0,
        at,
        act,
        kept: Vec::new(),
        reason: None,
    }
}

/// A run that is set up, with what is laid into it at once.
#[derive(Clone, Debug, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct RunAsk {
    /// A smoker, oven or pot on the household's list.
    #[serde(default)]
    place: Option<u32>,
    /// What it is called, where it is none of the list.
    #[serde(default)]
    name: Option<String>,
    /// What it is made in; as its place says when left out.
    #[serde(default)]
    hearth: Option<Appliance>,
    /// By which school of heat.
    #[serde(default)]
    school: Option<String>,
    /// Its stages; from the builds of the pieces when left out.
    #[serde(default)]
    stages: Vec<RunStageAsk>,
    /// What is laid in at once, into its first zone.
    #[serde(default)]
    pieces: Vec<PieceId>,
    /// When; now when left out.
    #[serde(default)]
    happened_at: Option<String>,
    /// Why, where it goes past a stop.
    #[serde(default)]
    reason: Option<String>,
    /// True after the person looked again at what was asked about.
    #[serde(default)]
    keep_as_typed: bool,
}

/// What was done in a run, all of it or nothing.
#[derive(Clone, Debug, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct RunActsAsk {
    /// What was done, in order.
    acts: Vec<RunActAsk>,
    /// When; now when left out.
    #[serde(default)]
    happened_at: Option<String>,
    /// The newest line that the person saw.
    #[serde(default)]
    seen: Option<i64>,
    /// Why, where it goes past a stop.
    #[serde(default)]
    reason: Option<String>,
    /// True after the person looked again at what was asked about.
    #[serde(default)]
    keep_as_typed: bool,
}

/// What a write to a run left.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct RunWrittenView {
    /// The run.
    run: RunId,
    /// The lines it wrote.
    lines: Vec<i64>,
    /// True when the same request had been written before.
    repeated: bool,
}

/// Takes acts one after the other into a run, each beside what the ones before it left.
struct Writing<'a> {
    gate: RunValidator<'a>,
    run: Option<Run>,
    id: RunId,
    keep: bool,
    reason: Option<String>,
    several: bool,
    new: Vec<NewEvent>,
    asked: Questions,
    stopped: Questions,
    final_: bool,
}

impl<'a> Writing<'a> {
    /// Into a run as it stood at a moment, or one that is still to be set up; with what the person answered, and whether what is
    /// written is about several.
    fn new(
        (book, home, at): (&'a Book, &'a House, Timestamp),
        run: Option<Run>,
        (keep, reason): (bool, Option<String>),
        several: bool,
    ) -> Self {
        Self {
            gate: RunValidator {
                book,
                home,
                runs: &home.runs,
                at,
            },
            id: run.as_ref().map_or(RunId(0), |r| r.id),
            run,
            keep,
            reason,
            several,
            new: Vec::new(),
            asked: Questions::default(),
            stopped: Questions::default(),
            final_: false,
        }
    }

    fn take(&mut self, act: RunAct) -> Result<(), ApiError> {
        self.gate.possible(self.run.as_ref(), &act)?;
        let warnings = self
            .run
            .as_ref()
            .map_or_else(Vec::new, |run| self.gate.warnings(run, &act));
        let stops = warnings.iter().filter(|f| f.severity == Severity::Stop);
        let stops: Vec<Finding> = stops.cloned().collect();
        let lifted = self.reason.as_deref().is_some_and(reason::is_enough);
        self.final_ |= stops
            .iter()
            .any(|f| f.code.is_final() || f.code == manifest_core::caution::Code::NotEaten);
        let piece = act.piece().filter(|_| self.several);
        let tag = piece.map(|id| self.gate.tag(id));
        if !lifted || self.final_ {
            for stop in &stops {
                self.stopped.ask(stop.clone(), tag.as_deref());
            }
        }
        let questions = warnings.iter().filter(|f| f.severity == Severity::Caution);
        for question in questions {
            self.asked.ask(question.clone(), tag.as_deref());
        }
        let kept: Vec<Finding> = warnings
            .into_iter()
            .filter(|f| f.severity > Severity::Info)
            .collect();
        let reason = self.reason.clone().filter(|_| !stops.is_empty());
        let n = self.new.len() as i64;
        let mut events = self
            .run
            .as_ref()
            .map(|r| r.events.clone())
            .unwrap_or_default();
        events.push(Event {
            no: i64::MAX - 1_000 + n,
            at: self.gate.at,
            act: act.clone(),
            kept: kept.clone(),
            reason: reason.clone(),
        });
        self.run = Run::of(self.id, events);
        self.new.push(NewEvent {
            at: self.gate.at,
            act,
            kept,
            reason,
        });
        Ok(())
    }

    fn done(self) -> Result<Vec<NewEvent>, ApiError> {
        if !self.stopped.is_empty() {
            let words = if self.final_ {
                crate::api::entries::NOBODY_PASSES
            } else {
                reason::WANTED
            };
            return Err(ApiError::Stopped(self.stopped.said(), words));
        }
        if !self.asked.is_empty() && !self.keep {
            return Err(ApiError::Question(self.asked.said()));
        }
        Ok(self.new)
    }
}

async fn write(
    app: &Data<App>,
    http: &HttpRequest,
    fingerprint: String,
    run: Option<RunId>,
    ask: impl FnOnce(&Book, &House, Timestamp) -> Result<Vec<NewEvent>, ApiError> + Send + 'static,
) -> Result<Json<RunWrittenView>, ApiError> {
    let key = crate::api::entries::key_of(app, http)?;
    let (store, now) = (app.store.clone(), app.clock.now());
    let written: RunWritten = crate::blocking(move || {
        let request = Request {
            key: key.as_deref(),
            fingerprint: &fingerprint,
            now,
        };
        Ok(store.write_run(request, run, |book, home| {
            if let Some(ahead) = book.ahead(now) {
                return Err(ApiError::Clock(AheadView::of(&ahead, home, now).label()));
            }
            ask(book, home, now)
        })?)
    })
    .await?;
    if !written.repeated {
        app.tell("runs", &[]);
    }
    Ok(Json(RunWrittenView {
        run: written.run,
        lines: written.events,
        repeated: written.repeated,
    }))
}

/// Sets a run up, and lays pieces into it.
///
/// Send an `Idempotency-Key` header: a retry with the same key and body never sets it up twice.
#[utoipa::path(
    tag = "writing",
    request_body = RunAsk,
    params(("Idempotency-Key" = Option<String>, Header, description = "A key of the client's own for this request")),
    responses((status = 200, body = RunWrittenView), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem))
)]
#[post("/runs")]
async fn set_run_up(
    app: Data<App>,
    http: HttpRequest,
    ask: Body<RunAsk>,
) -> Result<Json<RunWrittenView>, ApiError> {
    let value = ask.value;
    let meant = (
        &value.place,
        &value.name,
        &value.hearth,
        &value.school,
        &value.stages,
        &value.pieces,
        &value.happened_at,
    );
    let meant = serde_json::to_string(&meant).map_err(|_| ApiError::Internal)?;
    write(
        &app,
        &http,
        format!("run {meant}"),
        None,
        move |book, home, now| {
            let at = happened_at(value.happened_at.as_deref(), home, now, value.keep_as_typed)?;
            each(book, &value.pieces)?;
            let set_up = SetUpAsk {
                place: value.place,
                name: value.name.clone(),
                hearth: value.hearth,
                school: value.school.clone(),
                stages: value.stages.clone(),
            };
            let answer = (value.keep_as_typed, value.reason.clone());
            let several = value.pieces.len() > 1;
            let mut writing = Writing::new((book, home, at), None, answer, several);
            writing.take(set_up.draft(home, book, &value.pieces)?)?;
            for (i, piece) in value.pieces.iter().enumerate() {
                let laid = RunActAsk::Loaded {
                    piece: *piece,
                    zone: None,
                    shelf: None,
                };
                let Some(run) = &writing.run else { continue };
                for act in laid.draft(run, home)? {
                    writing
                        .take(act)
                        .map_err(|e| e.at("piece", &format!("pieces[{i}]")))?;
                }
            }
            writing.done()
        },
    )
    .await
}

/// Writes down what was done in a run.
///
/// Send an `Idempotency-Key` header: a retry with the same key and body never writes twice.
#[utoipa::path(
    tag = "writing",
    request_body = RunActsAsk,
    params(("id" = i64, Path), ("Idempotency-Key" = Option<String>, Header, description = "A key of the client's own for this request")),
    responses((status = 200, body = RunWrittenView), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem))
)]
#[post("/runs/{id}/acts")]
async fn act_in(
    app: Data<App>,
    http: HttpRequest,
    id: Path<i64>,
    ask: Body<RunActsAsk>,
) -> Result<Json<RunWrittenView>, ApiError> {
    let id = RunId(*id);
    some(&ask.value.acts, "acts")?;
    let value = ask.value;
    let meant = serde_json::to_string(&(&value.acts, &value.happened_at));
    let raw = format!("run {} {}", id.0, meant.map_err(|_| ApiError::Internal)?);
    write(&app, &http, raw, Some(id), move |book, home, now| {
        let watched = home.runs.get(id).ok_or_else(no_run)?;
        if let Some(seen) = value.seen {
            let new = watched.run.events.iter().filter(|e| e.no > seen);
            let new: Vec<EntryInWords> = new
                .map(|e| EntryInWords {
                    entry: e.no,
                    what: manifest_core::running::words::line(e, &watched.run, book, home),
                    why: watched.run.name.clone(),
                })
                .collect();
            if !new.is_empty() {
                return Err(ApiError::Outdated(new));
            }
        }
        let at = happened_at(value.happened_at.as_deref(), home, now, value.keep_as_typed)?;
        // Beside the run as it stood then.
        let then = watched.run.as_of(at).ok_or_else(|| {
            ApiError::field(
                "happened_at",
                "That is before the run was set up. Give a later time.",
            )
        })?;
        let answer = (value.keep_as_typed, value.reason.clone());
        let several = value.acts.len() > 1;
        let mut writing = Writing::new((book, home, at), Some(then), answer, several);
        for (i, ask) in value.acts.iter().enumerate() {
            // What is struck out may be newer than the moment.
            let as_whole = matches!(ask, RunActAsk::Struck { .. } | RunActAsk::BurntOut { .. });
            if as_whole && writing.new.is_empty() {
                writing.run = Some(watched.run.clone());
            }
            let Some(run) = &writing.run else { continue };
            let under = |errors: Vec<manifest_core::caution::FieldError>| {
                let at = format!("acts[{i}]");
                ApiError::Fields(errors.into_iter().map(|e| e.under(&at)).collect())
            };
            for act in ask.draft(run, home).map_err(under)? {
                writing.take(act).map_err(|e| match e {
                    ApiError::Fields(errors) => under(errors),
                    other => other,
                })?;
            }
        }
        writing.done()
    })
    .await
}

fn no_run() -> ApiError {
    ApiError::NotFound("There is no such run.".into())
}

/// A run, as it stands now.
#[utoipa::path(tag = "reading", operation_id = "run", params(("id" = i64, Path)), responses((status = 200, body = RunView), (status = 404, body = Problem)))]
#[get("/runs/{id:[0-9]+}")]
async fn run_now(app: Data<App>, id: Path<i64>) -> Result<Json<RunView>, ApiError> {
    let id = RunId(*id);
    let now = app.clock.now();
    let (watched, thinned) = (
        app.store.watched(id).ok_or_else(no_run)?,
        app.store.thinned(id)?,
    );
    let sensor = watched.run.place.filter(|_| watched.run.ended.is_none());
    let sensor = sensor.and_then(|place| app.sensors.of(place));
    Ok(Json(app.read(|book, seen| {
        let look = Look {
            watched: &watched,
            book,
            home: seen.home,
            now,
        };
        views::view(look, &seen.home.runs, sensor, thinned)
    })))
}

/// Mounts the runs.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(all_runs)
        .service(all_alarms)
        .service(plan_run)
        .service(set_run_up)
        .service(run_now)
        .service(act_in)
        .configure(readings::routes);
}
