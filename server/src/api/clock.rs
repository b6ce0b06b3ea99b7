//! A clock that was wrong: what it dated is put right in one act.

use crate::App;
use crate::acts::happened_at;
use crate::api::entries::{Written, write};
use crate::body::Body;
use crate::error::{ApiError, Problem};
use actix_web::web::{Data, Json};
use actix_web::{HttpRequest, post};
use jiff::{Timestamp, ToSpan};
use manifest_core::house::House;
use manifest_core::ledger::book::{Ahead, Book};
use manifest_core::timetable::{Urgency, tasks};
use manifest_core::units::{Amount, read};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// Entries that are hours newer than the present.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct AheadView {
    /// What was found.
    words: String,
    /// The two ways out.
    #[serde(rename = "way_out")]
    remedy: String,
    /// How many there are.
    entries: usize,
    /// When the first is said to have happened.
    #[schema(value_type = String, format = DateTime)]
    first: Timestamp,
    /// When the last is.
    #[schema(value_type = String, format = DateTime)]
    last: Timestamp,
}

impl AheadView {
    /// The same for a page.
    pub fn of(ahead: &Ahead, home: &House, now: Timestamp) -> Self {
        let shown = |at: Timestamp| {
            let local = at.to_zoned(home.settings.zone());
            local.strftime("%Y-%m-%d %H:%M").to_string()
        };
        let (entries, them) = match ahead.entries.len() {
            1 => ("1 entry is".into(), "its time"),
            n => (format!("{n} entries are"), "their times"),
        };
        let span = if ahead.first == ahead.last {
            shown(ahead.last)
        } else {
            format!("{} to {}", shown(ahead.first), shown(ahead.last))
        };
        Self {
            words: format!(
                "The clock of the machine that runs this shows {}, but {entries} dated {span}. Nothing new is written until that is settled.",
                shown(now)
            ),
            remedy: format!(
                "Is the clock wrong now? Put it right on that machine, and this goes away by itself. Was it wrong then? Put {them} right in the settings."
            ),
            entries: ahead.entries.len(),
            first: ahead.first,
            last: ahead.last,
        }
    }

    /// Both in one.
    pub fn label(self) -> String {
        format!("{} {}", self.words, self.remedy)
    }
}

/// When it really was.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SetRightAsk {
    /// How many entries the person was told of.
    entries: usize,
    /// When the last of them was really done; now when left out. The others keep their distance to it.
    #[serde(default)]
    last_at: Option<String>,
    /// True to take the first of two hours of that name.
    #[serde(default)]
    keep_as_typed: bool,
}

/// Puts the times of all entries right that a clock running ahead had dated.
#[utoipa::path(
    tag = "writing",
    request_body = SetRightAsk,
    params(("Idempotency-Key" = Option<String>, Header, description = "A key of the client's own for this request")),
    responses((status = 200, body = Written), (status = 409, body = Problem), (status = 422, body = Problem))
)]
#[post("/clock/set-right")]
async fn set_right(
    app: Data<App>,
    http: HttpRequest,
    ask: Body<SetRightAsk>,
) -> Result<Json<Written>, ApiError> {
    let (value, raw) = (ask.value, format!("clock {}", ask.raw));
    let written = write(&app, &http, raw, move |book, home, now| {
        let last_at = happened_at(value.last_at.as_deref(), home, now, value.keep_as_typed)
            .map_err(|error| error.at("happened_at", "last_at"))?;
        let ahead = book.ahead(now).ok_or_else(|| {
            ApiError::Conflict(
                "No entry is newer than the present: nothing is to be put right.".into(),
            )
        })?;
        if ahead.entries.len() != value.entries {
            return Err(ApiError::Conflict(format!(
                "There are {} of them now. Look again, then put them right.",
                ahead.entries.len()
            )));
        }
        Ok(book.set_right(&ahead, last_at))
    })
    .await;
    app.tell("settings", &[]);
    written
}

/// How the clock of a household for practice is moved on.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct MoveAsk {
    /// To a moment, as typed: `2026-11-20T18:30`, or RFC 3339.
    #[serde(default)]
    to: Option<String>,
    /// By so long, as typed: `1 h`, `90 min`, `2 days`.
    #[serde(default)]
    by: Option<Amount>,
    /// To something: the next morning, or the next thing that is due.
    #[serde(default)]
    until: Option<Until>,
}

/// What the clock is moved on to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum Until {
    /// Eight in the morning.
    NextMorning,
    /// The next task, timer or hour that falls due.
    NextDue,
}

/// Where the clock stands, and what came due meanwhile.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Moved {
    /// The present.
    #[schema(value_type = String, format = DateTime)]
    now: Timestamp,
    /// The day at the household's table.
    #[schema(value_type = String, format = Date)]
    today: jiff::civil::Date,
    /// Tasks that came due, or are overdue, since.
    came_due: usize,
}

/// The hour at which a household gets up.
const MORNING: i8 = 8;

/// Moves the clock of a household for practice on; it never goes back.
#[utoipa::path(tag = "settings", request_body = MoveAsk, responses((status = 200, body = Moved), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/clock/move")]
async fn move_on(app: Data<App>, ask: Body<MoveAsk>) -> Result<Json<Moved>, ApiError> {
    let ask = ask.value;
    if !app.store.is_practice() {
        return Err(ApiError::Conflict(
            "This household is a real one: its clock is the world's. Practise in the demo, or in a folder begun with --practice.".into(),
        ));
    }
    let now = app.clock.now();
    let to = app.store.read(|book, home| aim(&ask, book, home, now))?;
    if to <= now {
        return Err(ApiError::field(
            "to",
            "The clock only goes on. Give a moment after the present.",
        ));
    }
    if to.duration_since(now).as_hours() > MOST_HOURS as i64 {
        return Err(ApiError::field(
            "to",
            "That is more than a year on, and the clock never goes back. Give a nearer moment.",
        ));
    }
    let before = app.store.read(|book, home| due(book, home, now));
    if !app.clock.move_on(to) {
        return Err(ApiError::Conflict(
            "Another page moved the clock further. Look at the present again.".into(),
        ));
    }
    let store = app.store.clone();
    crate::blocking(move || Ok(store.keep_practice_now(to)?)).await?;
    app.tell("settings", &[]);
    Ok(Json(app.store.read(|book, home| Moved {
        now: to,
        today: home.settings.day(to),
        came_due: due(book, home, to).saturating_sub(before),
    })))
}

fn due(book: &Book, home: &House, now: Timestamp) -> usize {
    let all = tasks(book, home, now);
    all.iter().filter(|t| t.urgency != Urgency::Coming).count()
}

/// The moment that is meant.
fn aim(ask: &MoveAsk, book: &Book, home: &House, now: Timestamp) -> Result<Timestamp, ApiError> {
    let said = [ask.to.is_some(), ask.by.is_some(), ask.until.is_some()];
    if said.iter().filter(|s| **s).count() != 1 {
        return Err(ApiError::field(
            "by",
            "Say by how long, to which moment, or until what: one of these, such as 1 h.",
        ));
    }
    if let Some(text) = &ask.to {
        // Its own future is what a clock for practice is moved into.
        return home
            .settings
            .moment(text, Timestamp::MAX)
            .map(|m| m.at)
            .map_err(|e| ApiError::field("to", e.message));
    }
    if let Some(by) = &ask.by {
        let hours = match by {
            Amount::Number(n) => Ok(*n),
            Amount::Text(text) => read::hours(text).map_err(|e| e.to_string()),
        };
        let hours = hours.map_err(|message| ApiError::field("by", message))?;
        if !(hours > 0.0 && hours <= MOST_HOURS) {
            return Err(ApiError::field(
                "by",
                "Give a time above zero and up to a year, such as 1 h or 2 days.",
            ));
        }
        let minutes = (hours * 60.0).round() as i64;
        return now
            .checked_add(minutes.minutes())
            .map_err(|_| ApiError::field("by", "That is too far."));
    }
    match ask.until {
        Some(Until::NextDue) => next_due(book, home, now).ok_or_else(|| {
            ApiError::Conflict("Nothing is planned: there is nothing to move on to.".into())
        }),
        Some(Until::NextMorning) | None => Ok(morning_after(home, now)),
    }
}

/// No clock is moved further at once (h).
const MOST_HOURS: f64 = 366.0 * 24.0;

fn morning(home: &House, day: jiff::civil::Date) -> Timestamp {
    let at = day.at(MORNING, 0, 0, 0).to_zoned(home.settings.zone());
    at.map_or(Timestamp::MIN, |z| z.timestamp())
}

fn morning_after(home: &House, now: Timestamp) -> Timestamp {
    let today = home.settings.day(now);
    let first = morning(home, today);
    if first > now {
        return first;
    }
    morning(home, today.saturating_add(1.day()))
}

/// The next timer that rings, hour that comes, or morning of a day on which something falls due; where all of it is late
/// already, the next morning.
fn next_due(book: &Book, home: &House, now: Timestamp) -> Option<Timestamp> {
    let timers = book
        .pieces()
        .filter(|(_, p)| !p.stage().is_over())
        .flat_map(|(_, p)| p.timers.values().map(manifest_core::piece::Timer::ends));
    let tasks = tasks(book, home, now);
    let planned = tasks.iter().map(|t| match &t.hours {
        Some(hours) => hours.due,
        None => morning(home, t.due),
    });
    let next = timers.chain(planned).filter(|at| *at > now).min();
    next.or_else(|| (!tasks.is_empty()).then(|| morning_after(home, now)))
}

/// Mounts the clock.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(set_right).service(move_on);
}
