//! Planning: wishes, the pantry, Suggest, plans side by side, the shopping list, the cut sheet.

use crate::App;
use crate::acts::{no_lot, no_piece};
use crate::body::Body;
use crate::error::{ApiError, Problem};
use crate::views::piece::size as piece_size;
use actix_web::http::header;
use actix_web::web::{Data, Json, Path, Query};
use actix_web::{HttpResponse, get, post, put};
use jiff::civil::Date;
use manifest_core::animal;
use manifest_core::assign::blend::{BlendAnswer, BlendAsk, blend};
use manifest_core::assign::cutsheet::{CutSheet, cut_sheet};
use manifest_core::assign::plan::{
    self, KeptPlan, LooseSupply, PlacesNow, PlanSummary, Plans, Suggestion, Supply, Table,
    suggestion, summary,
};
use manifest_core::assign::shopping::{ShoppingList, amount, shopping_list};
use manifest_core::assign::size::Size;
use manifest_core::assign::slabs::{SlabAsk, SlabPlan, slab_plans};
use manifest_core::assign::suggest::Budget;
use manifest_core::assign::wishes::{Wish, WishAmount, WishList};
use manifest_core::assign::wraps::{WrapNeed, Wrapping, wraps};
use manifest_core::builds;
use manifest_core::household::Household;
use manifest_core::ledger::book::Book;
use manifest_core::ledger::{LotId, PieceId};
use manifest_core::pantry::{Pantry, Standing, StockItem, StockKind, StockUnit, same};
use manifest_core::units::{read, show};
use manifest_store::{Lists, NewList};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_actix_web::service_config::ServiceConfig;

/// Supply a page shows at most; all of it is planned with.
const MOST: usize = 400;

/// A wish in words.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct WishView {
    /// The wish.
    wish: Wish,
    /// As its product is called.
    name: String,
    /// How much, as people say it.
    words: String,
    /// What that is in finished product, if it is not counted in pieces (g).
    wanted_g: Option<f64>,
}

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
    /// The first of them.
    supply: Vec<Supply>,
    /// Trim and fat that is kept.
    loose: Vec<LooseSupply>,
    /// Places, and what is taken of them.
    places: PlacesNow,
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
async fn plan_view(app: Data<App>) -> Json<PlanView> {
    Json(app.planned(|p| {
        let kept = p
            .lists
            .plans
            .list
            .kept
            .iter()
            .map(|plan| KeptView {
                summary: summary(&p.table, plan, p.home).priced(&p.shopping(plan)),
                plan: plan.clone(),
            })
            .collect();
        let mut supply = p.table.supply.clone();
        // What still needs a decision comes first.
        supply.sort_by_key(|s| (s.assigned.is_some(), s.piece.is_none()));
        let in_all = supply.len();
        supply.truncate(MOST);
        PlanView {
            in_all,
            supply,
            loose: p.table.loose.clone(),
            places: p.table.places,
            wishes: p
                .lists
                .wishes
                .list
                .wishes
                .iter()
                .map(|w| wish_view(w, p.home, p.today()))
                .collect(),
            wishes_version: p.lists.wishes.version,
            plans_version: p.lists.plans.version,
            kept,
        }
    }))
}

fn wish_view(wish: &Wish, home: &Household, today: Date) -> WishView {
    let say = |g: f64| show::mass(g, home.units.mass);
    let words = match wish.amount {
        WishAmount::Rate { g_per_week, until } => format!(
            "{} a week until {}",
            say(g_per_week),
            until.strftime("%-d %b %Y")
        ),
        WishAmount::Mass { g } => say(g),
        WishAmount::Pieces { n: 1 } => "one piece".into(),
        WishAmount::Pieces { n } => format!("{n} pieces"),
        WishAmount::AllHooks => "as much as there are hooks".into(),
    };
    let from = wish.species.as_deref().and_then(animal::species);
    WishView {
        name: builds::build(&wish.build).map_or_else(|| wish.build.clone(), |b| b.name.clone()),
        words: match from {
            Some(species) => format!("{words}, of {}", species.name),
            None => words,
        },
        wanted_g: wish.amount.grams(today),
        wish: wish.clone(),
    }
}

/// How much is wished for, as typed.
#[derive(Clone, Debug, Deserialize, ToSchema)]
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
#[derive(Clone, Debug, Deserialize, ToSchema)]
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

/// A list was put in place.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Put {
    /// Its version.
    version: i64,
}

/// Puts the list of wishes in place.
#[utoipa::path(tag = "planning", request_body = WishesAsk, responses((status = 200, body = Put), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/wishes")]
async fn put_wishes(app: Data<App>, ask: Body<WishesAsk>) -> Result<Json<Put>, ApiError> {
    let ask = ask.value;
    let (units, today) = app
        .store
        .read(|_, home| (home.units, home.day(app.clock.now())));
    let mut next = ask.wishes.iter().filter_map(|w| w.id).max().unwrap_or(0);
    let mut wishes = Vec::new();
    for (i, wish) in ask.wishes.into_iter().enumerate() {
        let grams = |text: &str| {
            read::mass_g(text, units.mass)
                .map_err(|e| ApiError::field(&format!("wishes[{i}].amount"), e.to_string()))
        };
        let amount = match wish.amount {
            WishAmountAsk::Rate { a_week, until } => WishAmount::Rate {
                g_per_week: grams(&a_week)?,
                until,
            },
            WishAmountAsk::Mass { amount } => WishAmount::Mass { g: grams(&amount)? },
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
    list.check(&before, today)?;
    app.put(NewList::Wishes(list), ask.version).await
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
        let mut found = suggestion(&table, &wishes, &home, app.clock.now(), Budget::default());
        let plan = KeptPlan {
            name: String::new(),
            choices: found
                .choices
                .iter()
                .map(|c| (c.key.clone(), c.build.clone()))
                .collect(),
            blocks: found.blocks.clone(),
        };
        let list = shopping_list(&table, &plan, &home, &stock);
        found.summary = found.summary.priced(&list);
        Ok(found)
    })
    .await?;
    Ok(Json(found))
}

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
    app.planned(|p| Ok(Json(p.shopping(&p.plan(which.plan.as_deref())?))))
}

/// The shopping list as text, to be sent to somebody in the shop.
#[utoipa::path(tag = "planning", params(WhichPlan), responses((status = 200, body = String, content_type = "text/plain"), (status = 404, body = Problem)))]
#[get("/shopping.txt")]
async fn shopping_text(app: Data<App>, which: Query<WhichPlan>) -> Result<HttpResponse, ApiError> {
    let text = app.planned(|p| {
        let list = p.shopping(&p.plan(which.plan.as_deref())?);
        Ok::<_, ApiError>(list.text(p.home))
    })?;
    Ok(HttpResponse::Ok()
        .content_type("text/plain; charset=utf-8")
        .body(text))
}

/// The shopping list as a table (RFC 4180, UTF-8).
#[utoipa::path(tag = "planning", params(WhichPlan), responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
#[get("/shopping.csv")]
async fn shopping_csv(app: Data<App>, which: Query<WhichPlan>) -> Result<HttpResponse, ApiError> {
    let csv =
        app.planned(|p| Ok::<_, ApiError>(p.shopping(&p.plan(which.plan.as_deref())?).csv()))?;
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
    app.planned(|p| {
        let plan = p.plan(which.plan.as_deref())?;
        let sheet = p
            .book
            .lot(id)
            .and_then(|lot| cut_sheet(lot, &p.table, &plan, p.home));
        sheet.map(Json).ok_or_else(|| no_lot(id))
    })
}

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
    Json(app.store.read_with_lists(|book, home, lists| PantryView {
        version: lists.pantry.version,
        items: lists.pantry.list.standing(book, home.day(today)),
    }))
}

/// Something that is kept, as typed.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct StockAsk {
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
}

/// Puts what is kept in place; an amount that is typed was counted now.
#[utoipa::path(tag = "planning", request_body = PantryAsk, responses((status = 200, body = Put), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/pantry")]
async fn put_pantry(app: Data<App>, ask: Body<PantryAsk>) -> Result<Json<Put>, ApiError> {
    let PantryAsk { version, items } = ask.value;
    let now = app.clock.now();
    let (before, units) = app
        .store
        .read_with_lists(|_, home, lists| (lists.pantry.list.clone(), home.units));
    let mut kept = Vec::new();
    for (i, item) in items.into_iter().enumerate() {
        let at = |name: &str| format!("items[{i}].{name}");
        let earlier = before
            .items
            .iter()
            .find(|b| b.kind == item.kind && same(&b.name, &item.name));
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
            read::length_mm(text, units.length)
                .map_err(|e| ApiError::field(&at("diameter"), e.to_string()))
        };
        kept.push(StockItem {
            name: item.name.trim().into(),
            kind: item.kind,
            amount: amount.unwrap_or_else(|| earlier.map_or(0.0, |e| e.amount)),
            counted_at: match (amount, earlier) {
                (None, Some(earlier)) => earlier.counted_at,
                _ => now,
            },
            diameter_mm: filled(item.diameter.as_deref()).map(length).transpose()?,
            opened_on: item.opened_on,
            good_until: item.good_until,
            price_cents: filled(item.price.as_deref())
                .map(|text| crate::acts::cents(text, &at("price")))
                .transpose()?,
        });
    }
    let list = Pantry { items: kept };
    list.check()?;
    app.put(NewList::Pantry(list), version).await
}

fn stock_amount(
    text: &str,
    kind: StockKind,
    units: manifest_core::units::Units,
    field: &str,
) -> Result<f64, ApiError> {
    if kind.unit() == StockUnit::Grams {
        return read::mass_g(text, units.mass).map_err(|e| ApiError::field(field, e.to_string()));
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

fn filled(text: Option<&str>) -> Option<&str> {
    text.filter(|t| !t.trim().is_empty())
}

/// A piece, or a cut not yet cut, that is to be brought into shape.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SlabsAsk {
    /// The piece, if it is cut.
    #[serde(default)]
    piece: Option<PieceId>,
    /// The species, for a cut not yet cut.
    #[serde(default)]
    species: Option<String>,
    /// The cut, for one not yet cut.
    #[serde(default)]
    cut: Option<String>,
    /// Its weight, as typed; the piece's own when left out.
    #[serde(default)]
    mass: Option<String>,
    /// Its thickest place, as typed.
    #[serde(default)]
    thickness: Option<String>,
    /// Its length, as typed; estimated when left out.
    #[serde(default)]
    length: Option<String>,
    /// Its width, as typed; estimated when left out.
    #[serde(default)]
    width: Option<String>,
    /// What it is to become; the piece's own product when left out.
    #[serde(default)]
    build: Option<String>,
}

/// How it should be cut.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct SlabsAnswer {
    /// As it lies: measured, or estimated from weight and thickness.
    size: Size,
    /// True when length or width are estimated.
    estimated: bool,
    /// The ways, the best first.
    plans: Vec<SlabPlan>,
    /// Casing, net, string and bag for one slab of the best way.
    wraps: Vec<WrapNeed>,
    /// Those amounts, as people say them.
    wrap_words: Vec<String>,
}

/// How a piece should be cut, from the limits of its product and of the equipment.
#[utoipa::path(tag = "planning", request_body = SlabsAsk, responses((status = 200, body = SlabsAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/slabs")]
async fn slabs(app: Data<App>, ask: Body<SlabsAsk>) -> Result<Json<SlabsAnswer>, ApiError> {
    let ask = ask.value;
    app.planned(|p| {
        let units = p.home.units;
        let length = |text: &Option<String>, field: &str| {
            filled(text.as_deref())
                .map(|t| read::length_mm(t, units.length))
                .transpose()
                .map_err(|e| ApiError::field(field, e.to_string()))
        };
        let mass = filled(ask.mass.as_deref())
            .map(|t| read::mass_g(t, units.mass))
            .transpose()
            .map_err(|e| ApiError::field("mass", e.to_string()))?;
        let found = match ask.piece {
            Some(id) => Some(p.book.piece(id).ok_or_else(|| no_piece(id))?),
            None => None,
        };
        let species = found
            .and_then(|(lot, _)| lot.state.lot.as_ref())
            .map(|l| l.species())
            .or_else(|| ask.species.as_deref().and_then(animal::species))
            .ok_or_else(|| ApiError::field("species", "Choose a species from the list."))?;
        let cut_key = ask
            .cut
            .clone()
            .or_else(|| found.map(|(_, piece)| piece.cut.clone()))
            .unwrap_or_default();
        let cut = species.cut(&cut_key).ok_or_else(|| {
            ApiError::field(
                "cut",
                format!("Choose one of the cuts of {}.", species.name),
            )
        })?;
        let mass_g = mass
            .or_else(|| found.map(|(_, piece)| piece.mass.grams()))
            .ok_or_else(|| ApiError::field("mass", "Type its weight, such as 4.6 kg."))?;
        let thickness_mm = length(&ask.thickness, "thickness")?
            .or_else(|| found.and_then(|(_, piece)| piece.thickness_mm))
            .ok_or_else(|| {
                ApiError::field("thickness", "Measure its thickest place, such as 115 mm.")
            })?;
        let measured = (length(&ask.length, "length")?, length(&ask.width, "width")?);
        let guess = found
            .filter(|(_, piece)| mass.is_none() && piece.thickness_mm == Some(thickness_mm))
            .and_then(|(lot, piece)| piece_size(lot, piece))
            .unwrap_or_else(|| Size::estimate(mass_g, thickness_mm, cut));
        let size = Size {
            length_mm: measured.0.unwrap_or(guess.length_mm),
            width_mm: measured.1.unwrap_or(guess.width_mm),
            thickness_mm,
        };
        let key = ask
            .build
            .clone()
            .or_else(|| found.and_then(|(_, piece)| piece.build.clone()));
        let build = key.as_deref().and_then(builds::build);
        let plans = slab_plans(&SlabAsk {
            size,
            mass_g,
            build,
            equipment: p.home.equipment.as_ref(),
            may_open: !cut.flat && !found.is_some_and(|(_, piece)| piece.is_opened()),
            units,
        })?;
        let wraps = build
            .zip(plans.first())
            .map_or_else(Vec::new, |(build, best)| {
                wraps(Wrapping {
                    build,
                    mass_g: best.each_g,
                    // A roll is wrapped by what it is rolled from.
                    size: Some(if build.wrap.rolled { size } else { best.each }),
                    equipment: p.home.equipment.as_ref(),
                    stock: &p.stock,
                    units,
                })
            });
        Ok(Json(SlabsAnswer {
            size,
            estimated: measured.0.is_none() || measured.1.is_none(),
            wrap_words: wraps
                .iter()
                .map(|w| amount(w.amount, w.kind.unit(), p.home))
                .collect(),
            plans,
            wraps,
        }))
    })
}

/// A fat blend from what is on hand: what goes in, what to buy, how it lies in the pans.
#[utoipa::path(tag = "planning", request_body = BlendAsk, responses((status = 200, body = BlendAnswer), (status = 422, body = Problem)))]
#[post("/blend")]
async fn fat_blend(ask: Body<BlendAsk>) -> Result<Json<BlendAnswer>, ApiError> {
    Ok(Json(blend(&ask.value)?))
}

/// Everything planning looks at, gathered once.
struct Planned<'a> {
    book: &'a Book,
    home: &'a Household,
    lists: &'a Lists,
    table: Table,
    stock: Vec<Standing>,
    now: jiff::Timestamp,
}

impl Planned<'_> {
    fn today(&self) -> Date {
        self.home.day(self.now)
    }

    fn shopping(&self, plan: &KeptPlan) -> ShoppingList {
        shopping_list(&self.table, plan, self.home, &self.stock)
    }

    /// A kept plan by its name, or what was assigned and locked by hand.
    fn plan(&self, name: Option<&str>) -> Result<KeptPlan, ApiError> {
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
    fn planned<T>(&self, look: impl FnOnce(&Planned<'_>) -> T) -> T {
        let now = self.clock.now();
        self.store.read_with_lists(|book, home, lists| {
            let planned = Planned {
                book,
                home,
                lists,
                table: plan::table(book, home, &lists.plans.list.locks, now),
                stock: lists.pantry.list.standing(book, home.day(now)),
                now,
            };
            look(&planned)
        })
    }

    /// Puts a list in place and tells every open page.
    async fn put(&self, new: NewList, seen: i64) -> Result<Json<Put>, ApiError> {
        let (store, now) = (self.store.clone(), self.clock.now());
        let version = crate::blocking(move || Ok(store.put(new, seen, now)?)).await?;
        self.tell("ledger", &[]);
        Ok(Json(Put { version }))
    }
}

/// Mounts what is planned with.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(plan_view)
        .service(put_wishes)
        .service(lock)
        .service(keep)
        .service(drop_plan)
        .service(suggest)
        .service(shopping)
        .service(shopping_text)
        .service(shopping_csv)
        .service(cutsheet)
        .service(pantry)
        .service(put_pantry)
        .service(slabs)
        .service(fat_blend);
}
