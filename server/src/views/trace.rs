//! The trace, both ways: which packs hold meat of an animal, which animals are in a pack.

use super::{Seen, VerdictView};
use jiff::Timestamp;
use manifest_core::ledger::book::Book;
use manifest_core::ledger::facts::Act;
use manifest_core::ledger::state::{Piece, Stage, State};
use manifest_core::ledger::{LotId, PackId, PieceId};
use manifest_core::verdict::is_there;
use serde::Serialize;
use utoipa::ToSchema;

/// An animal, or what came in of one.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct TracedLot {
    /// For machines.
    pub lot: LotId,
    /// For people.
    pub tag: String,
    /// What people call it.
    pub name: String,
    /// As its species is called.
    pub species: String,
    /// True when it tested positive.
    pub positive: bool,
}

/// A piece on the way.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct TracedPiece {
    /// For machines.
    pub piece: PieceId,
    /// For people.
    pub tag: String,
    /// Its product.
    pub product: Option<String>,
    /// Where it is.
    pub stage: Stage,
    /// What may be said of it.
    pub verdict: VerdictView,
}

/// A pack.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct TracedPack {
    /// For machines.
    pub pack: PackId,
    /// For people.
    pub tag: String,
    /// The piece it was packed from.
    pub piece: PieceId,
    /// The product.
    pub product: String,
    /// Its weight (g).
    pub mass_g: f64,
    /// True while nobody threw it away.
    pub there: bool,
    /// The place of the house it lies in, if that was said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub lies_in: Option<String>,
    /// What may be said of it.
    pub verdict: VerdictView,
}

/// Where the meat of an animal went.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LotTrace {
    /// The animal.
    pub lot: TracedLot,
    /// Pieces with meat of it that are no packs yet.
    pub pieces: Vec<TracedPiece>,
    /// Packs with meat of it.
    pub packs: Vec<TracedPack>,
    /// What was ground after it the same day, before anything was cleaned.
    pub ground_after: Vec<TracedPiece>,
    /// Packs of that.
    pub ground_after_packs: Vec<TracedPack>,
}

/// What a pack is made of.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PackTrace {
    /// The pack.
    pub pack: TracedPack,
    /// As its meat is called.
    pub meat: String,
    /// The animals in it.
    pub lots: Vec<TracedLot>,
    /// What was bought to be ground in.
    pub bought: Vec<String>,
    /// The pieces it came out of.
    pub pieces: Vec<TracedPiece>,
}

fn traced_lot(state: &State, seen: Seen<'_>) -> Option<TracedLot> {
    let lot = state.lot.as_ref()?;
    let holds = state.holds(None, seen.now);
    Some(TracedLot {
        lot: state.id,
        tag: lot.received.tag.clone(),
        name: lot.received.name.clone(),
        species: lot.species().name.clone(),
        positive: holds.iter().any(|h| h.forbids_everything()),
    })
}

fn traced_piece(state: &State, piece: &Piece, seen: Seen<'_>) -> TracedPiece {
    TracedPiece {
        piece: piece.id,
        tag: piece.tag.clone(),
        product: piece.build().map(|b| b.name.clone()),
        stage: piece.stage(),
        verdict: VerdictView::of(&seen.judge().piece(state, piece)),
    }
}

fn traced_packs(state: &State, piece: &Piece, seen: Seen<'_>) -> Vec<TracedPack> {
    let packs = piece.packs.iter().filter_map(|id| state.packs.get(id));
    packs
        .map(|pack| TracedPack {
            pack: pack.id,
            tag: pack.tag.clone(),
            piece: piece.id,
            product: piece.build().map_or_else(String::new, |b| b.name.clone()),
            mass_g: pack.mass.grams(),
            there: is_there(piece, pack),
            lies_in: pack.is_in().and_then(|id| seen.place(id)),
            verdict: VerdictView::of(&seen.judge().pack(state, piece, pack.id)),
        })
        .collect()
}

/// Where the meat of an animal went.
#[must_use]
pub fn of_lot(book: &Book, id: LotId, seen: Seen<'_>) -> Option<LotTrace> {
    let state = &book.lot(id)?.state;
    let mut found = LotTrace {
        lot: traced_lot(state, seen)?,
        pieces: Vec::new(),
        packs: Vec::new(),
        ground_after: Vec::new(),
        ground_after_packs: Vec::new(),
    };
    let after = ground_after(book, id, seen);
    for (lot, piece) in book.pieces() {
        let within = seen.judge().within(&lot.state, piece);
        let own = within.holds(id);
        let late = !own && within.pieces.iter().any(|(_, p)| after.contains(&p.id));
        if !own && !late {
            continue;
        }
        let packs = traced_packs(&lot.state, piece, seen);
        let open = !piece.stage().is_over();
        let one = open.then(|| traced_piece(&lot.state, piece, seen));
        if own {
            found.packs.extend(packs);
            found.pieces.extend(one);
        } else {
            found.ground_after_packs.extend(packs);
            found.ground_after.extend(one);
        }
    }
    Some(found)
}

/// Blocks that were ground on the day after meat of this animal was, before anything was cleaned.
fn ground_after(book: &Book, id: LotId, seen: Seen<'_>) -> Vec<PieceId> {
    let mut ground: Vec<(Timestamp, PieceId, bool)> = Vec::new();
    let mut cleaned: Vec<Timestamp> = Vec::new();
    for lot in book.lots() {
        cleaned.extend(&lot.state.facts.cleaned);
        for entry in lot.live_entries() {
            if let Act::Ground(act) = &entry.act
                && let Some(block) = lot.state.pieces.get(&act.into)
            {
                let holds = seen.judge().within(&lot.state, block).holds(id);
                ground.push((entry.happened_at, act.into, holds));
            }
        }
    }
    ground.sort();
    let mut found = Vec::new();
    for (at, _, _) in ground.iter().filter(|(_, _, holds)| *holds) {
        let clean = cleaned.iter().filter(|c| *c >= at).min();
        let day = seen.home.settings.day(*at);
        let next = ground.iter().filter(|(then, _, holds)| {
            !holds
                && then >= at
                && seen.home.settings.day(*then) == day
                && clean.is_none_or(|c| then < c)
        });
        found.extend(next.map(|(_, piece, _)| *piece));
    }
    found
}

/// What a pack is made of.
#[must_use]
pub fn of_pack(book: &Book, id: PackId, seen: Seen<'_>) -> Option<PackTrace> {
    let (lot, piece, _) = book.pack(id)?;
    let within = seen.judge().within(&lot.state, piece);
    Some(PackTrace {
        pack: traced_packs(&lot.state, piece, seen)
            .into_iter()
            .find(|p| p.pack == id)?,
        meat: within.name(),
        lots: within
            .lots
            .iter()
            .filter_map(|s| traced_lot(s, seen))
            .collect(),
        bought: within.bought.iter().map(|t| t.name.clone()).collect(),
        pieces: within
            .pieces
            .iter()
            .map(|(state, p)| traced_piece(state, p, seen))
            .collect(),
    })
}
