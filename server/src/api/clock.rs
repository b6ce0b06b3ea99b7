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
    /// What was found.
    words: String,
    /// The two ways out.
    way_out: String,
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
        let shown = |at: Timestamp| {
            let local = at.to_zoned(home.zone());
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
            way_out: format!(
                "Is the clock wrong now? Put it right on that machine, and this goes away by itself. Was it wrong then? Put {them} right in the settings."
            ),
            entries: ahead.entries.len(),
            first: ahead.first,
            last: ahead.last,
        }
    }

    /// Both in one.
    pub fn said(self) -> String {
        format!("{} {}", self.words, self.way_out)
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

/// Mounts the clock.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(set_right);
}
