//! Which one is this: finding anything by what a person knows of it.

use crate::App;
use crate::error::{ApiError, Problem};
use crate::views::find::{FoundList, found_list};
use actix_web::get;
use actix_web::web::{Data, Json, Query};
use serde::Deserialize;
use utoipa::IntoParams;
use utoipa_actix_web::service_config::ServiceConfig;

/// What is looked for.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
struct FindAsk {
    /// Tag, cut, product, animal, date or words of a note; or a weight and a thickness.
    q: String,
}

/// Letters of a question that are read.
const LONGEST: usize = 200;

/// Finds animals, pieces and packs; the nearest first.
#[utoipa::path(tag = "reading", params(FindAsk), responses((status = 200, body = FoundList), (status = 422, body = Problem)))]
#[get("/find")]
async fn find(app: Data<App>, ask: Query<FindAsk>) -> Result<Json<FoundList>, ApiError> {
    if ask.q.chars().count() > LONGEST {
        return Err(ApiError::field(
            "q",
            "That is a long question. Type a few words, or a weight.",
        ));
    }
    Ok(Json(
        crate::reading(&app, move |app| {
            app.read(|book, seen| found_list(book, seen, &ask.q))
        })
        .await?,
    ))
}

/// Mounts finding.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(find);
}
