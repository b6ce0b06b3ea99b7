//! The weigh-out sheet, before anything is started.

use crate::App;
use crate::body::Body;
use crate::error::ApiError;
use crate::error::Problem;
use actix_web::post;
use actix_web::web::Data;
use actix_web::web::Json;
use manifest_core::cure::sheet::{OwnDose, Sheet, sheet};
use manifest_core::ledger::PieceId;
use manifest_core::ledger::acts::sheet_pieces;
use serde::Deserialize;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// The pieces to be dosed and how.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SheetAsk {
    /// The pieces, all of one product.
    pieces: Vec<PieceId>,
    /// True for one mix over all of them.
    #[serde(default)]
    mixed: bool,
    /// What is different from the build's dose.
    #[serde(default)]
    own: OwnDose,
}

/// The weigh-out sheet: the numbers to hit, before anything is started.
#[utoipa::path(tag = "reading", request_body = SheetAsk, responses((status = 200, body = Sheet), (status = 422, body = Problem)))]
#[post("/sheet")]
async fn weigh_out_sheet(app: Data<App>, ask: Body<SheetAsk>) -> Result<Json<Sheet>, ApiError> {
    let ask = ask.value;
    app.store.read(|book, home| {
        let (build, pieces) = sheet_pieces(book, &ask.pieces)?;
        Ok(Json(sheet(
            build,
            &pieces,
            ask.mixed,
            &ask.own,
            home,
            book.catalogue(),
        )?))
    })
}

/// Mounts the weigh-out sheet.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(weigh_out_sheet);
}
