//! Supply and kept plans: locks, Suggest, keeping and letting go.

use super::wishes::{WishView, wish_view};
use super::{Planned, Put};
use crate::App;
use crate::api::paging::After;
use crate::body::Body;
use crate::error::{ApiError, Problem};
use actix_web::web::{Data, Json, Query};
use actix_web::{get, post};
use manifest_core::assign::plan::{
    KeptPlan, LooseSupply, PlaceTaken, PlanSummary, Plans, Suggestion, Supply, suggestion, summary,
};
use manifest_core::assign::shopping::shopping_list;
use manifest_core::assign::suggest::Budget;
use manifest_store::NewList;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// A kept plan with what it comes to today.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct KeptView {
    /// The plan.
    plan: KeptPlan,
    /// What it comes to.
    summary: PlanSummary,
}

/// Supply on one side, wishes on the other.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct PlanView {
    /// How many pieces and cuts there are.
    in_all: usize,
    /// A page of them, what still needs a decision first; all of it is planned with.
    supply: Vec<Supply>,
    /// Where the next page of supply begins, at `/plan/supply`; none on the last.
    next: Option<String>,
    /// Trim and fat that is kept.
    loose: Vec<LooseSupply>,
    /// Places, and what is taken of them.
    places: Vec<PlaceTaken>,
    /// The wishes, the most important first.
    wishes: Vec<WishView>,
    /// The version of the wishes; send it back when changing them.
    wishes_version: i64,
    /// The version of locks and kept plans.
    plans_version: i64,
    /// Kept plans, the newest last.
    kept: Vec<KeptView>,
}

/// Supply, wishes, places and kept plans.
#[utoipa::path(tag = "planning", responses((status = 200, body = PlanView)))]
#[get("/plan")]
async fn plan_view(app: Data<App>) -> Result<Json<PlanView>, ApiError> {
    crate::reading(&app, move |app| {
        app.planned(|p| {
            let kept = p
                .lists
                .plans
                .list
                .kept
                .iter()
                .map(|plan| KeptView {
                    summary: summary(&p.table, plan, &p.home.settings).priced(&p.shopping(plan)),
                    plan: plan.clone(),
                })
                .collect();
            let supply = supply(p, &After::default())?;
            Ok(Json(PlanView {
                in_all: supply.in_all,
                supply: supply.supply,
                next: supply.next,
                loose: p.table.loose.clone(),
                places: p.table.places.clone(),
                wishes: p
                    .lists
                    .wishes
                    .list
                    .wishes
                    .iter()
                    .map(|w| wish_view(w, p.home, p.today(), p.book.catalogue()))
                    .collect(),
                wishes_version: p.lists.wishes.version,
                plans_version: p.lists.plans.version,
                kept,
            }))
        })
    })
    .await?
}

/// A page of the supply.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct SupplyPage {
    /// How many pieces and cuts there are.
    in_all: usize,
    /// Those on this page.
    supply: Vec<Supply>,
    /// Where the next page begins; none on the last.
    next: Option<String>,
}

fn supply(p: &Planned<'_>, after: &After) -> Result<SupplyPage, ApiError> {
    let mut all: Vec<_> = p.table.supply.iter().collect();
    all.sort_by_key(|s| (s.assigned.is_some(), s.piece.is_none()));
    let page = after.page(all, |s| s.key.clone())?;
    Ok(SupplyPage {
        in_all: page.in_all,
        supply: page.shown.into_iter().cloned().collect(),
        next: page.next,
    })
}

/// More of the supply.
#[utoipa::path(tag = "planning", params(After), responses((status = 200, body = SupplyPage), (status = 422, body = Problem)))]
#[get("/plan/supply")]
async fn more_supply(app: Data<App>, after: Query<After>) -> Result<Json<SupplyPage>, ApiError> {
    crate::reading(&app, move |app| {
        app.planned(|p| supply(p, &after).map(Json))
    })
    .await?
}

/// Choices made by hand.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct LockAsk {
    /// The version that was looked at.
    version: i64,
    /// The supply.
    key: String,
    /// The build it is locked to; none sets it free.
    #[serde(default)]
    build: Option<String>,
}

/// Locks what a supply becomes, or sets it free again.
#[utoipa::path(tag = "planning", request_body = LockAsk, responses((status = 200, body = Put), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/plan/lock")]
async fn lock(app: Data<App>, ask: Body<LockAsk>) -> Result<Json<Put>, ApiError> {
    let ask = ask.value;
    let plans = app.planned(|p| -> Result<Plans, ApiError> {
        let mut plans = p.lists.plans.list.clone();
        // Locks of what is gone are swept out on the way.
        plans.locks.retain(|key, _| p.table.supply(key).is_some());
        let supply = p.table.supply(&ask.key).ok_or_else(|| {
            ApiError::field(
                "key",
                "That piece is dosed, packed or gone. Look at the list again.",
            )
        })?;
        match &ask.build {
            None => {
                plans.locks.remove(&ask.key);
            }
            Some(build) if supply.options.iter().any(|o| o.build == *build) => {
                plans.locks.insert(ask.key.clone(), build.clone());
            }
            Some(_) => {
                return Err(ApiError::field(
                    "build",
                    format!(
                        "{} cannot become that now. Choose one of the products that are offered.",
                        supply.tag
                    ),
                ));
            }
        }
        Ok(plans)
    })?;
    app.put(NewList::Plans(plans), ask.version).await
}

/// A plan to be kept.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct KeepAsk {
    /// The version that was looked at.
    version: i64,
    /// The plan; one of the same name is replaced.
    plan: KeptPlan,
}

/// Keeps a plan under a name, so that it can be compared and carried out.
#[utoipa::path(tag = "planning", request_body = KeepAsk, responses((status = 200, body = Put), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/plan/keep")]
async fn keep(app: Data<App>, ask: Body<KeepAsk>) -> Result<Json<Put>, ApiError> {
    let KeepAsk { version, plan } = ask.value;
    let name = plan.name.trim().to_string();
    if name.is_empty() || name.chars().count() > 40 {
        return Err(ApiError::field(
            "plan.name",
            "Give the plan a name of up to 40 letters, such as A.",
        ));
    }
    if plan.choices.is_empty() && plan.blocks.is_empty() {
        return Err(ApiError::field(
            "plan.choices",
            "There is nothing in this plan to keep.",
        ));
    }
    let mut plans = app
        .store
        .read_with_lists(|_, _, lists| lists.plans.list.clone());
    plans.kept.retain(|p| p.name != name);
    plans.kept.push(KeptPlan { name, ..plan });
    app.put(NewList::Plans(plans), version).await
}

/// A kept plan that is no longer wanted.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct DropAsk {
    /// The version that was looked at.
    version: i64,
    /// Its name.
    name: String,
}

/// Lets a kept plan go.
#[utoipa::path(tag = "planning", request_body = DropAsk, responses((status = 200, body = Put), (status = 409, body = Problem)))]
#[post("/plan/drop")]
async fn drop_plan(app: Data<App>, ask: Body<DropAsk>) -> Result<Json<Put>, ApiError> {
    let DropAsk { version, name } = ask.value;
    let mut plans = app
        .store
        .read_with_lists(|_, _, lists| lists.plans.list.clone());
    plans.kept.retain(|p| p.name != name);
    app.put(NewList::Plans(plans), version).await
}

/// The best way to bring supply and wishes together; nothing is stored.
#[utoipa::path(tag = "planning", responses((status = 200, body = Suggestion)))]
#[post("/plan/suggest")]
async fn suggest(app: Data<App>) -> Result<Json<Suggestion>, ApiError> {
    let app = app.into_inner();
    let found = crate::blocking(move || {
        // The table is gathered under the lock, the search runs outside of it.
        let (table, wishes, home, stock) = app.planned(|p| {
            (
                p.table.clone(),
                p.lists.wishes.list.clone(),
                p.home.clone(),
                p.stock.clone(),
            )
        });
        let mut found = suggestion(
            &table,
            &wishes,
            &home.settings,
            app.clock.now(),
            Budget::default(),
        );
        let list = shopping_list(&table, &found.plan(), &home.settings, &stock);
        found.summary = found.summary.priced(&list);
        Ok(found)
    })
    .await?;
    Ok(Json(found))
}

/// Mounts supply and plans.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(plan_view)
        .service(more_supply)
        .service(lock)
        .service(keep)
        .service(drop_plan)
        .service(suggest);
}
