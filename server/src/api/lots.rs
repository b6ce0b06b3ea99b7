//! What came in, and how its mass runs out.

use super::MOST;
use crate::App;
use crate::acts::no_lot;
use crate::error::ApiError;
use crate::error::Problem;
use crate::views::lot::{self, LotCard, LotView};
use actix_web::get;
use actix_web::web::Data;
use actix_web::web::Json;
use actix_web::web::Path;
use manifest_core::ledger::LotId;
use manifest_core::ledger::own;
use utoipa_actix_web::service_config::ServiceConfig;

/// Every lot, the newest first.
#[utoipa::path(tag = "reading", responses((status = 200, body = Vec<LotCard>)))]
#[get("/lots")]
async fn lots(app: Data<App>) -> Json<Vec<LotCard>> {
    Json(app.read(|book, _| {
        book.lots()
            .rev()
            .take(MOST)
            .filter_map(|l| lot::card(l))
            .collect()
    }))
}

/// One lot: its pieces and how its mass runs out.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = LotView), (status = 404, body = Problem)))]
#[get("/lots/{id}")]
async fn lot_by_id(app: Data<App>, id: Path<i64>) -> Result<Json<LotView>, ApiError> {
    let id = LotId(id.into_inner());
    app.read(|book, seen| {
        let found = book.lot(id)?;
        let own = own::shares(book, found.state.lot.as_ref()?.species());
        lot::view(found, &own, seen)
    })
    .map(Json)
    .ok_or_else(|| no_lot(id))
}

/// Mounts lots.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(lots).service(lot_by_id);
}
