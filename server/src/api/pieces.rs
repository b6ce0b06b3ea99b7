//! One piece and everything that happened to it.

use crate::App;
use crate::acts::no_piece;
use crate::error::{ApiError, Problem};
use crate::views::piece::{self, PieceView};
use actix_web::get;
use actix_web::web::{Data, Json, Path};
use manifest_core::ledger::PieceId;
use utoipa_actix_web::service_config::ServiceConfig;

/// One piece: its tag, family, weights, dose and everything that happened.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = PieceView), (status = 404, body = Problem)))]
#[get("/pieces/{id}")]
async fn piece_by_id(app: Data<App>, id: Path<i64>) -> Result<Json<PieceView>, ApiError> {
    let id = PieceId(id.into_inner());
    crate::reading(&app, move |app| {
        app.read(|book, seen| book.piece(id).map(|(lot, p)| piece::view(lot, p, seen)))
    })
    .await?
    .map(Json)
    .ok_or_else(|| no_piece(id))
}

/// Mounts pieces.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(piece_by_id);
}
