//! The pantry, counted as typed.

use super::Put;
use crate::App;
use crate::acts::filled;
use crate::body::Body;
use crate::error::{ApiError, Problem};
use actix_web::web::{Data, Json};
use actix_web::{get, put};
use jiff::civil::Date;
use manifest_core::pantry::{Pantry, Standing, StockItem, StockKind, StockUnit};
use manifest_core::units::read;
use manifest_store::NewList;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// What the household keeps, as it stands today.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct PantryView {
    /// The version; send it back when changing it.
    version: i64,
    /// The items.
    items: Vec<Standing>,
}

/// What the household keeps.
#[utoipa::path(tag = "planning", responses((status = 200, body = PantryView)))]
#[get("/pantry")]
async fn pantry(app: Data<App>) -> Json<PantryView> {
    let today = app.clock.now();
    Json(app.store.read_with_lists(|book, home, lists| {
        PantryView {
            version: lists.pantry.version,
            items: lists
                .pantry
                .list
                .clone()
                .numbered()
                .standing(book, home.settings.day(today)),
        }
    }))
}

/// Something that is kept, as typed.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct StockAsk {
    /// Its number, where it stands there already; a new one has none.
    #[serde(default)]
    id: Option<u32>,
    /// What it is called.
    name: String,
    /// Its kind.
    kind: StockKind,
    /// What is there now, as typed: `1.5 kg`, `12` metres or pieces; as it was when left out.
    #[serde(default)]
    amount: Option<String>,
    /// The diameter of a casing or net, as typed: `32 mm`.
    #[serde(default)]
    diameter: Option<String>,
    /// Of salt: whether it is plain, without iodine or anything against caking; as it was said before when left out.
    #[serde(default)]
    plain: Option<bool>,
    /// When it was opened.
    #[serde(default)]
    #[schema(value_type = Option<String>, format = Date)]
    opened_on: Option<Date>,
    /// After this day it no longer counts.
    #[serde(default)]
    #[schema(value_type = Option<String>, format = Date)]
    good_until: Option<Date>,
    /// Price of a kilogram, a metre or a piece, as typed: `24.00`.
    #[serde(default)]
    price: Option<String>,
}

/// Everything that is kept.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct PantryAsk {
    /// The version that was looked at.
    version: i64,
    /// The items.
    items: Vec<StockAsk>,
    /// True to keep an amount that was asked about.
    #[serde(default)]
    keep_as_typed: bool,
}

/// Puts what is kept in place; an amount that is typed was counted now.
#[utoipa::path(tag = "planning", request_body = PantryAsk, responses((status = 200, body = Put), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/pantry")]
async fn put_pantry(app: Data<App>, ask: Body<PantryAsk>) -> Result<Json<Put>, ApiError> {
    let PantryAsk {
        version,
        items,
        keep_as_typed,
    } = ask.value;
    let now = app.clock.now();
    let (before, units) = app
        .store
        .read_with_lists(|_, home, lists| (lists.pantry.list.clone(), home.settings.units));
    let before = before.numbered();
    let mut odd = Vec::new();
    let mut kept: Vec<StockItem> = Vec::new();
    for (i, item) in items.into_iter().enumerate() {
        let at = |name: &str| format!("items[{i}].{name}");
        let earlier = match item.id {
            Some(id) => Some(before.items.iter().find(|b| b.id == id).ok_or_else(|| {
                ApiError::field(
                    &at("id"),
                    "That is not in the pantry any more. Look at it again.",
                )
            })?),
            // Sent without its number it is known by its name, where only one is called so.
            None => {
                let mut named = before.named(item.kind, &item.name);
                named.next().filter(|_| named.next().is_none())
            }
        };
        let earlier = earlier.filter(|e| !kept.iter().any(|k| k.id == e.id));
        let amount = match (&item.amount, earlier) {
            (Some(text), _) => Some(stock_amount(text, item.kind, units, &at("amount"))?),
            (None, Some(_)) => None,
            (None, None) => {
                return Err(ApiError::field(
                    &at("amount"),
                    "Say how much there is, such as 1.5 kg, or 12 for metres and pieces.",
                ));
            }
        };
        let length = |text: &str| {
            read::length(text, units.length)
                .map(|l| l.0)
                .map_err(|e| ApiError::field(&at("diameter"), e.to_string()))
        };
        let counted = StockItem {
            id: earlier.map_or(0, |e| e.id),
            name: item.name.trim().into(),
            kind: item.kind,
            amount: amount.unwrap_or_else(|| earlier.map_or(0.0, |e| e.amount)),
            counted_at: match (amount, earlier) {
                (None, Some(earlier)) => earlier.counted_at,
                _ => now,
            },
            diameter_mm: filled(item.diameter.as_deref()).map(length).transpose()?,
            plain: item
                .plain
                .or(earlier.and_then(|e| e.plain))
                .filter(|_| item.kind == StockKind::Salt),
            opened_on: item.opened_on,
            good_until: item.good_until,
            price_cents: filled(item.price.as_deref())
                .map(|text| {
                    read::cents(text).map_err(|e| ApiError::field(&at("price"), e.to_string()))
                })
                .transpose()?,
        };
        odd.extend(counted.odd().filter(|_| amount.is_some()));
        kept.push(counted);
    }
    let list = Pantry { items: kept }.numbered();
    let catalogue = app.store.read(|book, _| book.catalogue().clone());
    list.check(&catalogue)?;
    if !odd.is_empty() && !keep_as_typed {
        return Err(ApiError::Question(odd));
    }
    app.put(NewList::Pantry(list), version).await
}

fn stock_amount(
    text: &str,
    kind: StockKind,
    units: manifest_core::units::Units,
    field: &str,
) -> Result<f64, ApiError> {
    if kind.unit() == StockUnit::Grams {
        return read::mass(text, units.mass)
            .map(|m| m.0)
            .map_err(|e| ApiError::field(field, e.to_string()));
    }
    let plain = text.trim().trim_end_matches('m').trim().replace(',', ".");
    plain
        .parse::<f64>()
        .ok()
        .filter(|n| n.is_finite() && *n >= 0.0)
        .ok_or_else(|| {
            ApiError::field(
                field,
                if kind.unit() == StockUnit::Metres {
                    "Type metres, such as 12.5."
                } else {
                    "Type a number of pieces, such as 40."
                },
            )
        })
}

/// Mounts the pantry.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(pantry).service(put_pantry);
}
