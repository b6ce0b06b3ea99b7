//! What came in, and how its mass runs out.

use super::paging::After;
use crate::App;
use crate::acts::no_lot;
use crate::error::{ApiError, Problem};
use crate::views::lot::{self, LotCard, LotView};
use actix_web::web::{Data, Json, Path, Query};
use actix_web::{HttpResponse, get};
use manifest_core::ledger::{LotId, own};
use utoipa_actix_web::service_config::ServiceConfig;

/// Every lot, the newest first; a `Link` header leads to the next page.
#[utoipa::path(
    tag = "reading",
    params(After),
    responses(
        (status = 200, body = Vec<LotCard>, headers(("Link" = Option<String>, description = "The address of the next page, `rel=\"next\"`; none on the last."))),
        (status = 422, body = Problem)
    )
)]
#[get("/lots")]
async fn lots(app: Data<App>, after: Query<After>) -> Result<HttpResponse, ApiError> {
    let (cards, next) = crate::reading(&app, move |app| {
        app.read(|book, _| {
            let all: Vec<_> = book.lots().rev().collect();
            let page = after.page(all, |lot| lot.state.id.0.to_string())?;
            let cards = page.shown.into_iter().filter_map(|l| lot::card(l));
            Ok::<_, ApiError>((cards.collect::<Vec<_>>(), page.next))
        })
    })
    .await??;
    let mut answer = HttpResponse::Ok();
    if let Some(next) = next {
        answer.insert_header(("link", format!("</api/v1/lots?after={next}>; rel=\"next\"")));
    }
    Ok(answer.json(cards))
}

/// One lot: its pieces and how its mass runs out.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = LotView), (status = 404, body = Problem)))]
#[get("/lots/{id}")]
async fn lot_by_id(app: Data<App>, id: Path<i64>) -> Result<Json<LotView>, ApiError> {
    let id = LotId(id.into_inner());
    crate::reading(&app, move |app| {
        app.read(|book, seen| {
            let found = book.lot(id)?;
            let own = own::shares(book, found.state.lot.as_ref()?.species());
            lot::view(found, &own, seen)
        })
    })
    .await?
    .map(Json)
    .ok_or_else(|| no_lot(id))
}

/// Mounts lots.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(lots).service(lot_by_id);
}
