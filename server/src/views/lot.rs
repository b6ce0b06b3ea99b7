//! What came in, and how its mass runs out as it is broken down.

use super::words::{Happened, timeline};
use super::{PieceCard, Seen};
use jiff::Timestamp;
use manifest_core::acts::hold_answered::stamp_is_a_test;
use manifest_core::animal::byproduct::Byproduct;
use manifest_core::animal::hold::HoldState;
use manifest_core::animal::{Expectation, ExpectedCut, KnownWeight, OwnShares, Portion};
use manifest_core::assign::cutsheet::{SettledChoice, settled};
use manifest_core::catalogue::holds::HoldAnswer;
use manifest_core::caution::Finding;
use manifest_core::ledger::book::LotBook;
use manifest_core::ledger::own::{counts_towards, weighed_by_cut};
use manifest_core::ledger::state::State;
use manifest_core::ledger::{
    AgeClass, Background, FrozenStock, Loss, LotId, Origin, PricePer, Sex, odd, post,
};
use serde::Serialize;
use utoipa::ToSchema;

/// What holds an animal back, with the answers that count by the household's rules.
pub fn offered(mut holds: Vec<HoldState>, seen: Seen<'_>) -> Vec<HoldState> {
    if !stamp_is_a_test(seen.home, seen.book.catalogue()) {
        for hold in &mut holds {
            hold.answers.retain(|a| *a != HoldAnswer::Stamped);
        }
    }
    holds
}

/// A lot as lists show it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LotCard {
    /// For machines.
    pub id: LotId,
    /// For people.
    pub tag: String,
    /// What people call it.
    pub name: String,
    /// Its species.
    pub species: String,
    /// As the species is called.
    pub species_name: String,
    /// How it came.
    pub origin: Origin,
    /// Which weight is known.
    pub known: KnownWeight,
    /// When it came.
    #[schema(value_type = String, format = DateTime)]
    pub at: Timestamp,
    /// That weight (g).
    pub received_g: f64,
    /// Still to be weighed out (g).
    pub left_g: f64,
    /// Whether its break-down is finished.
    pub closed: bool,
    /// Pieces that are not cut up.
    pub pieces: usize,
    /// Of these, still on their way.
    pub open_pieces: usize,
    /// In packs (g).
    pub packed_g: f64,
    /// What it cost with its way here, in hundredths.
    pub cost_cents: Option<i64>,
    /// How much of an animal it is.
    pub portion: Portion,
    /// The kind of animal, for its drawing.
    pub kind: String,
    /// The purchase it is part of.
    pub together: Option<String>,
    /// When it came frozen.
    pub frozen: Option<FrozenStock>,
}

/// How much of one cut was weighed out, beside what was expected.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct CutProgress {
    /// The cut of the share table.
    pub cut: String,
    /// As it is called.
    pub name: String,
    /// Weighed out of the animal (g).
    pub weighed_g: f64,
    /// How many pieces of it, or taken out of it.
    pub pieces: usize,
    /// What was expected; none for a bought cut.
    pub expected: Option<ExpectedCut>,
}

/// So much of a by-product or a loss.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ByproductMass {
    /// What.
    pub kind: Byproduct,
    /// How much of it is left (g).
    pub mass_g: f64,
    /// How much of it was used, given or thrown away (g).
    pub used_g: f64,
}

/// So much of a loss.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LossMass {
    /// What.
    pub kind: Loss,
    /// How much (g); below zero for an unexplained gain.
    pub mass_g: f64,
}

/// What else decides later what becomes of it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct BackgroundView {
    /// Fat cover over the loin (mm).
    pub fat_cover_mm: Option<f64>,
    /// Days it rested before slaughter or after the shot, cooling.
    pub rested_days: Option<u32>,
    /// Days it hung cold.
    pub hung_days: Option<u32>,
    /// How warm it was inside when it came (°C).
    pub inside_c: Option<f64>,
    /// True with an inspector's stamp, false for own kill, none when nothing was said.
    pub inspected: Option<bool>,
    /// Medicines and when their withdrawal ended.
    pub withdrawal: Option<String>,
}

impl BackgroundView {
    fn of(known: &Background) -> Self {
        Self {
            fat_cover_mm: known.fat_cover.as_ref().map(|c| c.value.0),
            rested_days: known.rested_days,
            hung_days: known.hung_days,
            inside_c: known.inside.as_ref().map(|c| c.value.0),
            inspected: known.inspected,
            withdrawal: known.withdrawal.clone(),
        }
    }
}

/// Everything about one lot.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LotView {
    /// The lot.
    pub card: LotCard,
    /// The cut, when one was bought.
    pub cut: Option<String>,
    /// Whether the skin is on.
    pub skin_on: bool,
    /// Whether the bought cut came with its bone; none for an animal.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub bone_in: Option<bool>,
    /// Male or female.
    pub sex: Option<Sex>,
    /// Young or old.
    pub age: Option<AgeClass>,
    /// How many equal cuts, in a case.
    pub count: Option<u32>,
    /// The price as it was said, and what it is for.
    pub price: Option<String>,
    /// What that price is for.
    pub price_per: PricePer,
    /// Its share of the shipping, in hundredths.
    pub shipping_cents: Option<i64>,
    /// What else is known of it.
    pub background: BackgroundView,
    /// What holds its meat back.
    pub holds: Vec<HoldState>,
    /// How it is cut, by name.
    pub choices: Vec<SettledChoice>,
    /// What it should give.
    pub expectation: Option<Expectation>,
    /// Cut by cut: weighed and expected.
    pub progress: Vec<CutProgress>,
    /// Own animals of its kind that its expectation could be taken from.
    pub own_animals: usize,
    /// Weighed out as pieces, by green weight when they were cut (g).
    pub in_pieces_g: f64,
    /// What dressing should explain of the rest, at most (g).
    pub dressing_g: f64,
    /// Kept beside the pieces.
    pub byproducts: Vec<ByproductMass>,
    /// Kept by nobody.
    pub losses: Vec<LossMass>,
    /// Its pieces.
    pub pieces: Vec<PieceCard>,
    /// What the species asks of people.
    pub cautions: Vec<Finding>,
    /// What to think about.
    pub findings: Vec<Finding>,
    /// Everything that happened, the newest first.
    pub timeline: Vec<Happened>,
}

/// A lot as lists show it, if its receipt holds.
#[must_use]
pub fn card(book: &LotBook) -> Option<LotCard> {
    let lot = book.state.lot.as_ref()?;
    let r = &lot.received;
    let pieces = || book.state.pieces.values().filter(|p| !p.went_into_others());
    Some(LotCard {
        id: book.state.id,
        tag: r.tag.clone(),
        name: r.name.clone(),
        species: r.species.clone(),
        species_name: lot.species().name.clone(),
        origin: r.origin,
        known: r.known,
        at: lot.at,
        received_g: book.state.received.grams(),
        left_g: book.state.left.grams(),
        closed: lot.closed.is_some(),
        pieces: pieces().count(),
        open_pieces: pieces().filter(|p| !p.stage().is_over()).count(),
        packed_g: book
            .state
            .packs
            .values()
            .map(|p| p.mass.grams())
            .fold(0.0, |all, pack| all + pack),
        cost_cents: r.paid_cents(),
        portion: r.portion,
        kind: lot.species().kind.clone(),
        together: r.together.clone(),
        frozen: r.frozen,
    })
}

/// What nobody keeps of a lot.
#[must_use]
pub fn losses(state: &State) -> Vec<LossMass> {
    let some = state.losses.iter().filter(|(_, mass)| mass.0 != 0);
    some.map(|(kind, mass)| LossMass {
        kind: *kind,
        mass_g: mass.grams(),
    })
    .collect()
}

/// Everything about one lot, if its receipt holds.
#[must_use]
pub fn view(book: &LotBook, own: &OwnShares, seen: Seen<'_>) -> Option<LotView> {
    let lot = book.state.lot.as_ref()?;
    let r = &lot.received;
    let state = &book.state;
    let (dressing, _) = post::explained(state);
    let out_of_lot = weighed_by_cut(book, lot.species())
        .into_values()
        .map(|m| m.0)
        .sum();
    Some(LotView {
        card: card(book)?,
        cut: r.cut.clone(),
        skin_on: r.skin_on,
        bone_in: r
            .cut
            .as_ref()
            .and_then(|key| lot.species().cut(key))
            .map(|c| r.comes_bone_in(c)),
        sex: r.sex,
        age: r.age,
        count: r.count,
        price: r.price.clone(),
        price_per: r.price_per,
        shipping_cents: r.shipping_cents,
        background: BackgroundView::of(&r.background),
        holds: offered(state.holds(None, seen.now), seen),
        choices: settled(book),
        progress: progress(book, own),
        own_animals: own.values().map(|o| o.animals).max().unwrap_or(0),
        expectation: state.expectation(own),
        in_pieces_g: out_of_lot,
        dressing_g: dressing.grams(),
        byproducts: state
            .byproducts
            .iter()
            .filter(|(kind, m)| m.0 != 0 || state.used_of(**kind).is_some())
            .map(|(kind, m)| ByproductMass {
                kind: *kind,
                mass_g: m.grams(),
                used_g: state.used_of(*kind).grams(),
            })
            .collect(),
        losses: losses(state),
        pieces: state.pieces.values().map(|p| seen.card(book, p)).collect(),
        cautions: lot.species().findings(),
        findings: odd::unaccounted(state, seen.home.settings.units)
            .into_iter()
            .collect(),
        timeline: timeline(book, seen.home, |_| true),
    })
}

/// Cut by cut of the share table: what was weighed out, beside what was expected.
fn progress(book: &LotBook, own: &OwnShares) -> Vec<CutProgress> {
    let Some(lot) = &book.state.lot else {
        return Vec::new();
    };
    let species = lot.species();
    let weighed = weighed_by_cut(book, species);
    let expected = book.state.expectation(own);
    let pieces = |cut: &str| {
        let out = book.state.pieces.values().filter(|p| p.parents.is_empty());
        out.filter(|p| {
            counts_towards(species, &p.cut)
                .iter()
                .any(|(c, _)| c == cut)
        })
        .count()
    };
    species
        .cuts
        .iter()
        .map(|c| CutProgress {
            cut: c.key.clone(),
            name: c.name.clone(),
            weighed_g: weighed.get(&c.key).map_or(0.0, |m| m.0),
            pieces: pieces(&c.key),
            expected: expected
                .as_ref()
                .and_then(|e| e.cuts.iter().find(|x| x.cut == c.key).cloned()),
        })
        .filter(|p| p.expected.is_some() || p.weighed_g > 0.0)
        .collect()
}
