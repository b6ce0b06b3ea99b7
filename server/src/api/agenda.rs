//! What the household moves to another day, and what it means when nobody is at home.

use crate::App;
use crate::body::Body;
use crate::error::{ApiError, Problem};
use actix_web::web::{Data, Json, Query};
use actix_web::{delete, get, post};
use jiff::ToSpan;
use jiff::civil::Date;
use manifest_core::agenda::{Agenda, Move};
use manifest_core::house::House;
use manifest_core::ledger::book::Book;
use manifest_core::timetable::{self, Away, MoveRefused, Task};
use manifest_store::NewList;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_actix_web::service_config::ServiceConfig;

/// A secret is so long (bytes).
const SECRET: usize = 18;

/// Nobody is away for longer (days).
const LONGEST_AWAY: i64 = 120;

/// What was moved, and the calendar.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct AgendaView {
    /// The version; send it back when changing it.
    version: i64,
    /// What was moved, and is still to come.
    moves: Vec<Task>,
    /// The path under which the calendar is subscribed to; none while nobody does.
    feed: Option<String>,
}

/// Everything that is planned, with what comes after.
pub fn planned(app: &App, book: &Book, home: &House) -> Vec<Task> {
    let plans = app.plans.all(book, home, app.clock.now());
    let all = plans.iter().flat_map(|p| p.open.iter().chain(&p.ahead));
    all.cloned().collect()
}

/// The path of a subscribed calendar.
fn path_of(secret: &str) -> String {
    format!("/calendar/{secret}.ics")
}

/// What was moved to another day.
#[utoipa::path(tag = "planning", responses((status = 200, body = AgendaView)))]
#[get("/agenda")]
async fn agenda(app: Data<App>) -> Json<AgendaView> {
    agenda_now(&app)
}

/// Tasks that are moved, all or none.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct MovesAsk {
    /// To which days.
    moves: Vec<Move>,
}

impl From<MoveRefused> for ApiError {
    fn from(refused: MoveRefused) -> Self {
        match refused {
            MoveRefused::NotPlanned => Self::Conflict(refused.to_string()),
            MoveRefused::ByHours { .. } | MoveRefused::Outside { .. } => {
                Self::field("to", refused.to_string())
            }
        }
    }
}

/// Moves tasks to other days of their windows.
#[utoipa::path(tag = "planning", request_body = MovesAsk, responses((status = 200, body = AgendaView), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/agenda/moves")]
async fn move_tasks(app: Data<App>, ask: Body<MovesAsk>) -> Result<Json<AgendaView>, ApiError> {
    let today = app.store.read(|_, home| home.settings.day(app.clock.now()));
    let (new, seen) = app.store.read_with_lists(|book, home, lists| {
        let planned = planned(&app, book, home);
        let mut new = lists.agenda.list.clone();
        for (i, wanted) in ask.value.moves.iter().enumerate() {
            if wanted.to < today {
                let at = format!("moves[{i}].to");
                return Err(ApiError::field(
                    &at,
                    "That day is gone. Give today or a day after.",
                ));
            }
            new = new
                .moved(wanted, &planned)
                .map_err(|e| ApiError::from(e).under(&format!("moves[{i}]")))?;
        }
        Ok((new, lists.agenda.version))
    })?;
    put(&app, new, seen).await?;
    Ok(agenda_now(&app))
}

/// A task goes back to the day that follows from its facts.
#[utoipa::path(tag = "planning", request_body = MoveBack, responses((status = 200, body = AgendaView), (status = 409, body = Problem)))]
#[post("/agenda/moves/back")]
async fn move_back(app: Data<App>, ask: Body<MoveBack>) -> Result<Json<AgendaView>, ApiError> {
    let (mut new, seen) = app
        .store
        .read_with_lists(|_, _, lists| (lists.agenda.list.clone(), lists.agenda.version));
    let back = &ask.value;
    new.moves
        .retain(|m| m.piece != back.piece || m.kind != back.kind || m.step != back.step);
    new.version += 1;
    put(&app, new, seen).await?;
    Ok(agenda_now(&app))
}

/// A task that goes back to its own day.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct MoveBack {
    /// The piece.
    piece: manifest_core::ids::PieceId,
    /// What.
    kind: manifest_core::agenda::TaskKind,
    /// The step of its product, where it is one.
    #[serde(default)]
    step: Option<String>,
}

fn agenda_now(app: &Data<App>) -> Json<AgendaView> {
    Json(app.store.read_with_lists(|book, home, lists| {
        AgendaView {
            version: lists.agenda.version,
            moves: planned(app, book, home)
                .into_iter()
                .filter(|t| t.moved)
                .collect(),
            feed: lists.agenda.list.feed.as_deref().map(path_of),
        }
    }))
}

async fn put(app: &Data<App>, new: Agenda, seen: i64) -> Result<(), ApiError> {
    app.put(NewList::Agenda(new), seen).await.map(|_| ())
}

/// Gives the calendar a new secret address; the one before answers no more.
#[utoipa::path(tag = "planning", responses((status = 200, body = AgendaView), (status = 409, body = Problem)))]
#[post("/agenda/feed")]
async fn new_feed(app: Data<App>) -> Result<Json<AgendaView>, ApiError> {
    let mut bytes = [0_u8; SECRET];
    getrandom::fill(&mut bytes).map_err(|error| {
        log::error!("no random numbers: {error}");
        ApiError::Internal
    })?;
    let secret: String = bytes.iter().map(|b| format!("{b:02x}")).collect();
    settle_feed(&app, Some(secret)).await
}

/// Ends the subscription: its address answers no more.
#[utoipa::path(tag = "planning", responses((status = 200, body = AgendaView), (status = 409, body = Problem)))]
#[delete("/agenda/feed")]
async fn end_feed(app: Data<App>) -> Result<Json<AgendaView>, ApiError> {
    settle_feed(&app, None).await
}

async fn settle_feed(
    app: &Data<App>,
    secret: Option<String>,
) -> Result<Json<AgendaView>, ApiError> {
    let (mut new, seen) = app
        .store
        .read_with_lists(|_, _, lists| (lists.agenda.list.clone(), lists.agenda.version));
    new.feed = secret;
    new.version += 1;
    put(app, new, seen).await?;
    Ok(agenda_now(app))
}

/// From when until when nobody is at home.
#[derive(Clone, Copy, Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
struct Absence {
    /// The first day on which nobody is at home.
    #[param(value_type = String, format = Date)]
    from: Date,
    /// The last such day.
    #[param(value_type = String, format = Date)]
    to: Date,
}

/// What an absence means: what is done before, what waits, what falls out, what cannot be left.
#[utoipa::path(tag = "planning", params(Absence), responses((status = 200, body = Away), (status = 422, body = Problem)))]
#[get("/away")]
async fn away(app: Data<App>, ask: Query<Absence>) -> Result<Json<Away>, ApiError> {
    let now = app.clock.now();
    crate::reading(&app, move |app| {
        app.store.read(|book, home| {
            let today = home.settings.day(now);
            if ask.from < today {
                return Err(ApiError::field(
                    "from",
                    "That day is gone. Give today or a day after.",
                ));
            }
            let longest = ask.from.saturating_add(LONGEST_AWAY.days());
            if ask.to < ask.from || ask.to > longest {
                return Err(ApiError::field(
                    "to",
                    "Give the last day away: that of leaving or one after, at most 120 days later.",
                ));
            }
            let plans = app.plans.all(book, home, now);
            Ok(Json(timetable::away(
                &plans,
                book,
                home,
                now,
                (ask.from, ask.to),
            )))
        })
    })
    .await?
}

/// Mounts the agenda.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(agenda)
        .service(move_tasks)
        .service(move_back)
        .service(new_feed)
        .service(end_feed)
        .service(away)
        .service(super::calendar::file);
}
