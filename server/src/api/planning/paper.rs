//! What goes on paper or on its way: the shopping list, the cut sheet.

use crate::App;
use crate::acts::no_lot;
use crate::error::{ApiError, Problem};
use actix_web::http::header;
use actix_web::web::{Data, Json, Path, Query};
use actix_web::{HttpResponse, get};
use manifest_core::assign::cutsheet::{CutSheet, cut_sheet};
use manifest_core::assign::shopping::ShoppingList;
use manifest_core::ledger::LotId;
use serde::Deserialize;
use utoipa::IntoParams;
use utoipa_actix_web::service_config::ServiceConfig;

/// Which plan.
#[derive(Clone, Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct WhichPlan {
    /// A kept plan's name; what was assigned and locked by hand when left out.
    #[serde(default)]
    plan: Option<String>,
}

/// What a plan takes, less what the pantry holds.
#[utoipa::path(tag = "planning", params(WhichPlan), responses((status = 200, body = ShoppingList), (status = 404, body = Problem)))]
#[get("/shopping")]
async fn shopping(app: Data<App>, which: Query<WhichPlan>) -> Result<Json<ShoppingList>, ApiError> {
    crate::reading(&app, move |app| {
        app.planned(|p| Ok(Json(p.shopping(&p.plan(which.plan.as_deref())?))))
    })
    .await?
}

/// The shopping list as text, to be sent to somebody in the shop.
#[utoipa::path(tag = "planning", params(WhichPlan), responses((status = 200, body = String, content_type = "text/plain"), (status = 404, body = Problem)))]
#[get("/shopping.txt")]
async fn shopping_text(app: Data<App>, which: Query<WhichPlan>) -> Result<HttpResponse, ApiError> {
    let text = crate::reading(&app, move |app| {
        app.planned(|p| {
            let list = p.shopping(&p.plan(which.plan.as_deref())?);
            Ok::<_, ApiError>(list.text(&p.home.settings))
        })
    })
    .await??;
    Ok(HttpResponse::Ok()
        .content_type("text/plain; charset=utf-8")
        .body(text))
}

/// The shopping list as a table (RFC 4180, UTF-8).
#[utoipa::path(tag = "planning", params(WhichPlan), responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
#[get("/shopping.csv")]
async fn shopping_csv(app: Data<App>, which: Query<WhichPlan>) -> Result<HttpResponse, ApiError> {
    let csv = crate::reading(&app, move |app| {
        app.planned(|p| Ok::<_, ApiError>(p.shopping(&p.plan(which.plan.as_deref())?).csv()))
    })
    .await??;
    Ok(HttpResponse::Ok()
        .content_type("text/csv; charset=utf-8")
        .insert_header((
            header::CONTENT_DISPOSITION,
            "attachment; filename=\"shopping.csv\"",
        ))
        .body(csv))
}

/// How one animal is cut, for one's own table and for a butcher.
#[utoipa::path(tag = "planning", params(("id" = i64, Path), WhichPlan), responses((status = 200, body = CutSheet), (status = 404, body = Problem)))]
#[get("/cutsheet/{id}")]
async fn cutsheet(
    app: Data<App>,
    id: Path<i64>,
    which: Query<WhichPlan>,
) -> Result<Json<CutSheet>, ApiError> {
    let id = LotId(id.into_inner());
    crate::reading(&app, move |app| {
        app.planned(|p| {
            let plan = p.plan(which.plan.as_deref())?;
            let sheet = p
                .book
                .lot(id)
                .and_then(|lot| cut_sheet(lot, &p.table, &plan, &p.home.settings));
            sheet.map(Json).ok_or_else(|| no_lot(id))
        })
    })
    .await?
}

/// Mounts what goes on paper.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(shopping)
        .service(shopping_text)
        .service(shopping_csv)
        .service(cutsheet);
}
