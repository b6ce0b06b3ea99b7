//! Wishes, as typed and in words.

use super::Put;
use crate::App;
use crate::body::Body;
use crate::error::{ApiError, Problem};
use actix_web::put;
use actix_web::web::{Data, Json};
use jiff::civil::Date;
use manifest_core::assign::wishes::{Wish, WishAmount, WishList};
use manifest_core::catalogue::Catalogue;
use manifest_core::house::House;
use manifest_core::units::{Grams, Reading, show};
use manifest_store::NewList;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// A wish in words.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct WishView {
    /// The wish as it was asked; sent back with the others it changes nothing.
    wish: WishAsk,
    /// As its product is called.
    name: String,
    /// How much, as people say it.
    words: String,
    /// What that is in finished product, if it is not counted in pieces (g).
    wanted_g: Option<f64>,
}

/// A wish as people say it.
pub fn wish_view(wish: &Wish, home: &House, today: Date, catalogue: &Catalogue) -> WishView {
    let say = |r: &Reading| show::mass(Grams(r.value.grams()), home.settings.units.mass);
    let words = match &wish.amount {
        WishAmount::Rate { a_week, until } => format!(
            "{} a week until {}",
            say(a_week),
            until.strftime("%-d %b %Y")
        ),
        WishAmount::Mass { amount } => say(amount),
        WishAmount::Pieces { n: 1 } => "one piece".into(),
        WishAmount::Pieces { n } => format!("{n} pieces"),
        WishAmount::AllHooks => "as much as there are hooks".into(),
    };
    let from = wish
        .species
        .as_deref()
        .and_then(|key| catalogue.species(key));
    WishView {
        name: catalogue.build_name(&wish.build),
        words: match from {
            Some(species) => format!("{words}, of {}", species.name),
            None => words,
        },
        wanted_g: wish.amount.mass(today).map(|m| m.0),
        wish: asked_again(wish, home),
    }
}

/// A wish in the words in which it was asked.
fn asked_again(wish: &Wish, home: &House) -> WishAsk {
    WishAsk {
        id: Some(wish.id),
        build: wish.build.clone(),
        amount: match &wish.amount {
            WishAmount::Rate { a_week, until } => WishAmountAsk::Rate {
                a_week: a_week.again(home.settings.units),
                until: *until,
            },
            WishAmount::Mass { amount } => WishAmountAsk::Mass {
                amount: amount.again(home.settings.units),
            },
            WishAmount::Pieces { n } => WishAmountAsk::Pieces { n: *n },
            WishAmount::AllHooks => WishAmountAsk::AllHooks,
        },
        species: wish.species.clone(),
    }
}

/// How much is wished for, as typed.
#[derive(Clone, Debug, Deserialize, Serialize, ToSchema)]
#[serde(tag = "as", rename_all = "snake_case", deny_unknown_fields)]
enum WishAmountAsk {
    /// So much a week until a day.
    Rate {
        /// A week's worth, as typed: `300 g`.
        a_week: String,
        /// The last day it should reach to.
        #[schema(value_type = String, format = Date)]
        until: Date,
    },
    /// So much in all.
    Mass {
        /// As typed: `2 kg`.
        amount: String,
    },
    /// So many whole pieces.
    Pieces {
        /// How many.
        n: u32,
    },
    /// As many pieces as there are free hooks.
    AllHooks,
}

/// One wish, as typed.
#[derive(Clone, Debug, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct WishAsk {
    /// Its number; a new one gets the next free number when left out.
    #[serde(default)]
    id: Option<u32>,
    /// The product.
    build: String,
    /// How much.
    amount: WishAmountAsk,
    /// Only from this species.
    #[serde(default)]
    species: Option<String>,
}

/// All wishes, in their order.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct WishesAsk {
    /// The version that was looked at.
    version: i64,
    /// The wishes, the most important first.
    wishes: Vec<WishAsk>,
}

/// Puts the list of wishes in place.
#[utoipa::path(tag = "planning", request_body = WishesAsk, responses((status = 200, body = Put), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/wishes")]
async fn put_wishes(app: Data<App>, ask: Body<WishesAsk>) -> Result<Json<Put>, ApiError> {
    let ask = ask.value;
    let (units, today) = app
        .store
        .read(|_, home| (home.settings.units, home.settings.day(app.clock.now())));
    let mut next = ask.wishes.iter().filter_map(|w| w.id).max().unwrap_or(0);
    let mut wishes = Vec::new();
    for (i, wish) in ask.wishes.into_iter().enumerate() {
        let said = |text: &str| {
            Reading::read(text, units)
                .map_err(|e| ApiError::field(&format!("wishes[{i}].amount"), e.to_string()))
        };
        let amount = match wish.amount {
            WishAmountAsk::Rate { a_week, until } => WishAmount::Rate {
                a_week: said(&a_week)?,
                until,
            },
            WishAmountAsk::Mass { amount } => WishAmount::Mass {
                amount: said(&amount)?,
            },
            WishAmountAsk::Pieces { n } => WishAmount::Pieces { n },
            WishAmountAsk::AllHooks => WishAmount::AllHooks,
        };
        wishes.push(Wish {
            id: wish.id.unwrap_or_else(|| {
                next += 1;
                next
            }),
            build: wish.build,
            amount,
            species: wish.species,
        });
    }
    let list = WishList { wishes };
    let before = app
        .store
        .read_with_lists(|_, _, lists| lists.wishes.list.clone());
    list.check(&before, today, &app.catalogue())?;
    app.put(NewList::Wishes(list), ask.version).await
}

/// Mounts wishes.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(put_wishes);
}
