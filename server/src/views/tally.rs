//! What one got for what one put in.

use super::lot::{LossMass, LotCard, card, losses};
use crate::api::paging::Page;
use manifest_core::catalogue::Catalogue;
use manifest_core::caution::Finding;
use manifest_core::house::House;
use manifest_core::ledger::book::{Book, LotBook};
use manifest_core::ledger::state::{Stage, State};
use manifest_core::ledger::tally::{
    Link, ProductTally, UNASSIGNED, by_product, cost_cents_per_kg, flow, meat_of,
};
use manifest_core::ledger::{PieceId, odd};
use serde::Serialize;
use std::sync::Arc;
use utoipa::ToSchema;

/// A product's tally with its name and what was to be expected.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ProductView {
    /// As the product is called.
    pub name: String,
    /// The sums.
    pub tally: ProductTally,
    /// What usually comes out, as shares of green weight.
    pub usual_yield: Option<manifest_core::animal::Range>,
    /// Packed share of green weight, over the finished pieces.
    pub yield_of_green: Option<f64>,
}

/// A lot with what a kilogram in packs has cost.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LotTally {
    /// The lot.
    pub card: LotCard,
    /// In hundredths of the currency, once something is packed.
    pub cost_cents_per_kg: Option<f64>,
    /// Packed share of its meat: of what came in and was not given away, and what came to it from elsewhere; none where nothing
    /// of it is left here.
    pub packed_share: Option<f64>,
    /// Given to other animals (g).
    pub given_g: f64,
    /// Meat that came to it from elsewhere (g).
    pub taken_in_g: f64,
}

/// A finished piece and what it gave.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PieceYield {
    /// For machines.
    pub id: PieceId,
    /// For people.
    pub tag: String,
    /// Its product.
    pub name: String,
    /// Greatest thickness (mm).
    pub thickness_mm: Option<f64>,
    /// Green weight (g).
    pub green_g: f64,
    /// In packs (g).
    pub packed_g: f64,
}

/// The whole household's tally.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct HouseholdTally {
    /// A page of lots, the newest first.
    pub lots: Vec<LotTally>,
    /// How many lots there are in all.
    pub lots_in_all: usize,
    /// Where the next page of lots begins; none on the last.
    pub next: Option<String>,
    /// By product, over all lots.
    pub products: Vec<ProductView>,
}

/// One lot's tally.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LotTallyView {
    /// The lot and its cost.
    pub lot: LotTally,
    /// Where every gram went.
    pub flow: Vec<Link>,
    /// By product.
    pub products: Vec<ProductView>,
    /// Finished pieces, the best yield first.
    pub pieces: Vec<PieceYield>,
    /// Kept by nobody.
    pub losses: Vec<LossMass>,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// The whole household's tally, with a page of its lots.
#[must_use]
pub fn household(book: &Book, page: Page<&Arc<LotBook>>) -> HouseholdTally {
    HouseholdTally {
        lots: page
            .shown
            .into_iter()
            .filter_map(|l| lot_tally(book, l))
            .collect(),
        lots_in_all: page.in_all,
        next: page.next,
        products: products(book.lots().map(|l| &l.state), book.catalogue()),
    }
}

/// One lot's tally, if its receipt holds.
#[must_use]
pub fn view(book: &Book, lot: &LotBook, home: &House) -> Option<LotTallyView> {
    let state = &lot.state;
    let mut pieces: Vec<_> = state
        .pieces
        .values()
        .filter(|p| p.ended == Some(Stage::Packed))
        .map(|p| PieceYield {
            id: p.id,
            tag: p.tag.clone(),
            name: p.build().map_or_else(String::new, |b| b.name.clone()),
            thickness_mm: p.shape.thickness().map(|t| t.0),
            green_g: p.green.grams(),
            packed_g: p
                .packs
                .iter()
                .filter_map(|id| state.packs.get(id))
                .map(|k| k.mass.grams())
                .fold(0.0, |all, pack| all + pack),
        })
        .collect();
    pieces.sort_by(|a, b| (b.packed_g / b.green_g).total_cmp(&(a.packed_g / a.green_g)));
    Some(LotTallyView {
        lot: lot_tally(book, lot)?,
        flow: flow(state, &lot.in_order()),
        products: products([state], state.catalogue()),
        pieces,
        losses: losses(state),
        findings: odd::unaccounted(state, home.settings.units)
            .into_iter()
            .collect(),
    })
}

fn lot_tally(book: &Book, lot: &LotBook) -> Option<LotTally> {
    let card = card(lot)?;
    let meat = meat_of(&lot.state);
    let all = meat.all().grams();
    let price_of = |id| {
        let received = &book.lot(id)?.state.lot.as_ref()?.received;
        Some((received.paid_cents()?, book.lot(id)?.state.received))
    };
    Some(LotTally {
        cost_cents_per_kg: cost_cents_per_kg(&lot.state, price_of),
        packed_share: (all > 0.0).then(|| card.packed_g / all),
        given_g: meat.given.grams(),
        taken_in_g: meat.taken_in.grams(),
        card,
    })
}

fn products<'a>(
    states: impl IntoIterator<Item = &'a State>,
    catalogue: &Catalogue,
) -> Vec<ProductView> {
    by_product(states)
        .into_iter()
        .map(|tally| {
            let build = catalogue.build(&tally.build);
            ProductView {
                name: if tally.build == UNASSIGNED {
                    "no product yet".into()
                } else {
                    catalogue.build_name(&tally.build)
                },
                usual_yield: build.and_then(|b| b.yield_of_green),
                yield_of_green: (tally.finished > 0)
                    .then(|| tally.finished_packed_mg.grams() / tally.finished_green_mg.grams()),
                tally,
            }
        })
        .collect()
}
