//! What the household has settled on.

use crate::App;
use crate::api::clock::AheadView;
use crate::body::Body;
use crate::error::{ApiError, Problem, sentence};
use actix_web::web::{Data, Json, Query};
use actix_web::{get, put};
use manifest_core::household::Household;
use manifest_core::place::Place;
use manifest_core::place::equipment::PRACTICE_SENSOR;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_actix_web::service_config::ServiceConfig;

/// The settings and the present.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Settings {
    /// What the household has settled on.
    household: Household,
    /// The present, by the server's clock.
    #[schema(value_type = String, format = DateTime)]
    now: jiff::Timestamp,
    /// Today at the household's table.
    #[schema(value_type = String, format = Date)]
    today: jiff::civil::Date,
    /// True when the clock stands still, as in the demo.
    clock_is_pinned: bool,
    /// True for a household made for practice, such as the demo: its clock is moved by hand.
    practice: bool,
    /// The version of the settings; send it back when changing them.
    version: i64,
    /// True before anything came in.
    empty: bool,
    /// Why nothing can be written, and what to do; none when all is well.
    trouble: Option<String>,
    /// What is no longer as it was written though everything else is: photos. None when all is well.
    amiss: Option<String>,
    /// Entries that are newer than the present; none when the clocks agree.
    ahead: Option<AheadView>,
    /// The ledger's own name: what a device keeps for it belongs to no other household.
    ledger: String,
}

/// Why nothing can be written just now.
fn trouble(app: &App) -> Option<String> {
    let opened = || app.store.trouble().map(|t| sentence(&t.into()));
    app.standing.now().or_else(opened)
}

/// The household's settings.
#[utoipa::path(tag = "settings", responses((status = 200, body = Settings)))]
#[get("/settings")]
async fn settings(app: Data<App>) -> Json<Settings> {
    let (now, version) = (app.clock.now(), app.store.settings_version());
    Json(app.store.read(|book, home| Settings {
        household: home.settings.clone(),
        now,
        today: home.settings.day(now),
        clock_is_pinned: app.clock.is_pinned(),
        practice: app.store.is_practice(),
        version,
        empty: book.lots().next().is_none(),
        trouble: trouble(&app),
        amiss: app.store.broken_photos(),
        ahead: book.ahead(now).map(|a| AheadView::of(&a, home, now)),
        ledger: app.store.id(),
    }))
}

/// The settings that were looked at.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
struct SettingsSeen {
    /// Their version; settings that another device changed since are refused.
    version: Option<i64>,
}

/// Settles on new settings.
#[utoipa::path(tag = "settings", params(SettingsSeen), request_body = Household, responses((status = 200, body = Household), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/settings")]
async fn settle(
    app: Data<App>,
    seen: Query<SettingsSeen>,
    ask: Body<Household>,
) -> Result<Json<Household>, ApiError> {
    let mut home = ask.value;
    home.check(&app.catalogue())?;
    if let Some(equipment) = &mut home.equipment {
        let made_up = |p: &Place| p.sensor.as_deref() == Some(PRACTICE_SENSOR);
        if let Some(i) = equipment.places.iter().position(made_up)
            && !app.store.is_practice()
        {
            return Err(ApiError::field(
                &format!("equipment.places[{i}].sensor"),
                "The thermometer for practice does not exist: only a household for practice reads it. Give an address and a port.",
            ));
        }
        let used = app.store.read(|book, old| {
            let listed = old.settings.places().map(|p| p.id);
            let pieces = book.lots().flat_map(|lot| lot.state.pieces.values());
            let stays = pieces.flat_map(|p| &p.stays).map(|s| s.place);
            let read = old.climate.last_place();
            listed.chain(stays).max().unwrap_or_default().max(read)
        });
        equipment.number_places(used);
    }
    let (store, now, kept) = (app.store.clone(), app.clock.now(), home.clone());
    let seen = seen.version;
    crate::blocking(move || Ok(store.settle(kept, seen, now)?)).await?;
    app.tell("settings", &[]);
    Ok(Json(home))
}

/// Mounts the settings.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(settings).service(settle);
}
