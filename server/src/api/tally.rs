//! Where every gram went.

use super::paging::After;
use crate::App;
use crate::acts::no_lot;
use crate::error::{ApiError, Problem};
use crate::views::tally::{self, HouseholdTally, LotTallyView};
use actix_web::get;
use actix_web::web::{Data, Json, Path, Query};
use manifest_core::ledger::LotId;
use utoipa_actix_web::service_config::ServiceConfig;

/// Where every gram of all lots went, by lot and by product.
#[utoipa::path(tag = "reading", params(After), responses((status = 200, body = HouseholdTally), (status = 422, body = Problem)))]
#[get("/tally")]
async fn household_tally(
    app: Data<App>,
    after: Query<After>,
) -> Result<Json<HouseholdTally>, ApiError> {
    crate::reading(&app, move |app| {
        app.read(|book, _| {
            let all: Vec<_> = book.lots().rev().collect();
            let page = after.page(all, |lot| lot.state.id.0.to_string())?;
            Ok(Json(tally::household(book, page)))
        })
    })
    .await?
}

/// Where every gram of one lot went.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = LotTallyView), (status = 404, body = Problem)))]
#[get("/tally/{id}")]
async fn lot_tally(app: Data<App>, id: Path<i64>) -> Result<Json<LotTallyView>, ApiError> {
    let id = LotId(id.into_inner());
    crate::reading(&app, move |app| {
        app.read(|book, seen| book.lot(id).and_then(|l| tally::view(book, l, seen.home)))
    })
    .await?
    .map(Json)
    .ok_or_else(|| no_lot(id))
}

/// Mounts the tally.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(household_tally).service(lot_tally);
}
