//! The weigh-out sheet, before anything is started.

use crate::App;
use crate::body::Body;
use crate::error::{ApiError, Problem};
use actix_web::post;
use actix_web::web::{Data, Json};
use manifest_core::acts::weigh_out::SheetAsk;
use manifest_core::cure::sheet::{Sheet, WaySheet, ways};
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// The sheet, and what the other ways of its product would make of it.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct SheetView {
    /// The sheet.
    #[serde(flatten)]
    sheet: Sheet,
    /// Every way of the product, with what each comes to for these pieces; empty where there is only one.
    ways: Vec<WaySheet>,
}

/// The weigh-out sheet: the numbers to hit, before anything is started.
#[utoipa::path(tag = "reading", request_body = SheetAsk, responses((status = 200, body = SheetView), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/sheet")]
async fn weigh_out_sheet(app: Data<App>, ask: Body<SheetAsk>) -> Result<Json<SheetView>, ApiError> {
    let ask = ask.value;
    crate::reading(&app, move |app| {
        app.store.read(|book, home| {
            let prepared = ask.prepare(book, home)?;
            let sheet = prepared.sheet(book, home)?;
            let ways = ways(
                &prepared.weigh_out(),
                prepared.own_way(),
                &home.settings,
                book.catalogue(),
            );
            Ok(Json(SheetView { sheet, ways }))
        })
    })
    .await?
}

/// Mounts the weigh-out sheet.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(weigh_out_sheet);
}
