//! Planning: wishes, the pantry, Suggest, plans side by side, the shopping list, the cut sheet.

mod cutting;
mod pantry;
mod paper;
mod plans;
mod wishes;

use crate::App;
use crate::error::ApiError;
use actix_web::web::Json;
use jiff::civil::Date;
use manifest_core::assign::plan::{self, KeptPlan, Table};
use manifest_core::assign::shopping::{ShoppingList, shopping_list};
use manifest_core::house::House;
use manifest_core::ledger::book::Book;
use manifest_core::pantry::Standing;
use manifest_store::{Lists, NewList};
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// A list was put in place.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Put {
    /// Its version.
    pub version: i64,
}

/// Everything planning looks at, gathered once.
pub struct Planned<'a> {
    /// The ledger.
    pub book: &'a Book,
    /// The settings.
    pub home: &'a House,
    /// Wishes, pantry and plans.
    pub lists: &'a Lists,
    /// Supply and places.
    pub table: Table,
    /// What is kept, as it stands.
    pub stock: Vec<Standing>,
    /// The present.
    pub now: jiff::Timestamp,
}

impl Planned<'_> {
    /// Today at the household's table.
    pub fn today(&self) -> Date {
        self.home.settings.day(self.now)
    }

    /// What a plan takes, less what is kept.
    pub fn shopping(&self, plan: &KeptPlan) -> ShoppingList {
        shopping_list(&self.table, plan, &self.home.settings, &self.stock)
    }

    /// A kept plan by its name, or what was assigned and locked by hand.
    pub fn plan(&self, name: Option<&str>) -> Result<KeptPlan, ApiError> {
        let Some(name) = name else {
            return Ok(KeptPlan {
                name: "by hand".into(),
                choices: self
                    .table
                    .supply
                    .iter()
                    .filter_map(|s| Some((s.key.clone(), s.locked.clone()?)))
                    .collect(),
                blocks: Vec::new(),
            });
        };
        let kept = &self.lists.plans.list.kept;
        kept.iter()
            .find(|p| p.name == name)
            .cloned()
            .ok_or_else(|| ApiError::NotFound(format!("There is no kept plan called “{name}”.")))
    }
}

impl App {
    /// Looks at supply, lists and pantry together.
    pub(crate) fn planned<T>(&self, look: impl FnOnce(&Planned<'_>) -> T) -> T {
        let now = self.clock.now();
        self.store.read_with_lists(|book, home, lists| {
            let planned = Planned {
                book,
                home,
                lists,
                table: plan::table(book, &home.settings, &lists.plans.list.locks, now),
                stock: lists.pantry.list.standing(book, home.settings.day(now)),
                now,
            };
            look(&planned)
        })
    }

    /// Puts a list in place and tells every open page.
    pub(crate) async fn put(&self, new: NewList, seen: i64) -> Result<Json<Put>, ApiError> {
        let (store, now) = (self.store.clone(), self.clock.now());
        let version = crate::blocking(move || Ok(store.put(new, seen, now)?)).await?;
        self.tell("ledger", &[]);
        Ok(Json(Put { version }))
    }
}

/// Mounts what is planned with.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .configure(plans::routes)
        .configure(wishes::routes)
        .configure(paper::routes)
        .configure(pantry::routes)
        .configure(cutting::routes);
}
