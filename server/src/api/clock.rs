//! A clock that was wrong: what it dated is put right in one act.

use crate::App;
use crate::acts::happened_at;
use crate::api::entries::{Written, write};
use crate::body::Body;
use crate::error::{ApiError, Problem};
use actix_web::HttpRequest;
use actix_web::post;
use actix_web::web::{Data, Json};
use jiff::Timestamp;
use manifest_core::household::Household;
use manifest_core::ledger::book::Ahead;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// Entries that are hours newer than the present.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct AheadView {
    /// What that means and what to do.
    words: String,
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
    pub fn of(ahead: &Ahead, home: &Household, now: Timestamp) -> Self {
        Self {
            words: words(ahead, home, now),
            entries: ahead.entries.len(),
            first: ahead.first,
            last: ahead.last,
        }
    }
}

/// What entries newer than the present mean, and the two ways out.
pub fn words(ahead: &Ahead, home: &Household, now: Timestamp) -> String {
    let shown = |at: Timestamp| {
        at.to_zoned(home.zone())
            .strftime("%Y-%m-%d %H:%M")
            .to_string()
    };
    let (entries, them) = match ahead.entries.len() {
        1 => ("1 entry is".into(), "its time"),
        n => (format!("{n} entries are"), "their times"),
    };
    let until = if ahead.first == ahead.last {
        shown(ahead.last)
    } else {
        format!("{} to {}", shown(ahead.first), shown(ahead.last))
    };
    format!(
        "This machine's clock shows {}, but {entries} dated {until}. Is the clock wrong now? Put it right on the machine; this goes away by itself. Was it wrong then? Put {them} right in the settings. Until then nothing new is written, so that nothing stands before what it follows from.",
        shown(now)
    )
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

/// Mounts the clock.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(set_right);
}
