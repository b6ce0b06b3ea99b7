//! What came in, and how its mass runs out as it is broken down.

use super::words::{Happened, timeline};
use super::{PieceCard, Seen};
use jiff::Timestamp;
use manifest_core::animal::{self, Expectation, KnownWeight};
use manifest_core::caution::Finding;
use manifest_core::ledger::book::LotBook;
use manifest_core::ledger::state::{Stage, State};
use manifest_core::ledger::{AgeClass, Byproduct, Loss, LotId, Origin, Sex, post, questions};
use serde::Serialize;
use utoipa::ToSchema;

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
    /// What it cost, in hundredths.
    pub cost_cents: Option<i64>,
}

/// So much of a by-product or a loss.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ByproductMass {
    /// What.
    pub kind: Byproduct,
    /// How much (g).
    pub mass_g: f64,
}

/// So much of a loss.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LossMass {
    /// What.
    pub kind: Loss,
    /// How much (g); below zero for an unexplained gain.
    pub mass_g: f64,
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
    /// Male or female.
    pub sex: Option<Sex>,
    /// Young or old.
    pub age: Option<AgeClass>,
    /// What it should give.
    pub expectation: Option<Expectation>,
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
    let pieces = || {
        book.state
            .pieces
            .values()
            .filter(|p| p.ended != Some(Stage::CutUp))
    };
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
        packed_g: book.state.packs.values().map(|p| p.mass.grams()).sum(),
        cost_cents: r.cost_cents,
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
pub fn view(book: &LotBook, seen: Seen<'_>) -> Option<LotView> {
    let lot = book.state.lot.as_ref()?;
    let r = &lot.received;
    let state = &book.state;
    let (dressing, _) = post::explained(state);
    let out_of_lot: f64 = book
        .in_order()
        .iter()
        .filter(|e| matches!(e.act, manifest_core::ledger::Act::PieceWeighed(_)))
        .flat_map(|e| &e.postings)
        .filter(|p| p.mass.is_some())
        .map(|p| p.mass.grams())
        .sum();
    Some(LotView {
        card: card(book)?,
        cut: r.cut.clone(),
        skin_on: r.skin_on,
        sex: r.sex,
        age: r.age,
        expectation: animal::expect(lot.species(), r.known, state.received.grams()),
        in_pieces_g: out_of_lot,
        dressing_g: dressing.grams(),
        byproducts: state
            .byproducts
            .iter()
            .filter(|(_, m)| m.0 != 0)
            .map(|(kind, m)| ByproductMass {
                kind: *kind,
                mass_g: m.grams(),
            })
            .collect(),
        losses: losses(state),
        pieces: state.pieces.values().map(|p| seen.card(book, p)).collect(),
        cautions: lot.species().findings(),
        findings: questions::unaccounted(state, seen.home.units)
            .into_iter()
            .collect(),
        timeline: timeline(book, seen.home, |_| true),
    })
}
