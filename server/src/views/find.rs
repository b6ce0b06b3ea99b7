//! What was found, in words.

use super::Seen;
use manifest_core::find::{Because, Found, Hit, find};
use manifest_core::ids::{LotId, PackId, PieceId};
use manifest_core::ledger::book::Book;
use manifest_core::ledger::state::{Piece, Stage};
use manifest_core::units::show;
use serde::Serialize;
use utoipa::ToSchema;

/// What is shown of a search at most; the rest is counted.
const MOST: usize = 30;

/// What answers a question.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FoundList {
    /// How many answer it.
    pub in_all: usize,
    /// The nearest of them.
    pub found: Vec<FoundOne>,
}

/// An animal, a piece or a pack that answers a question.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FoundOne {
    /// The lot it belongs to.
    pub lot: LotId,
    /// The piece that it is, or that it came out of; none for a whole lot.
    pub piece: Option<PieceId>,
    /// The pack that it is.
    pub pack: Option<PackId>,
    /// Its tag.
    pub tag: String,
    /// What it is.
    pub name: String,
    /// Of which animal.
    pub animal: String,
    /// Where it stands on its way.
    pub stage: Option<Stage>,
    /// What it weighs (g).
    pub mass_g: f64,
    /// How thick it is (mm).
    pub thickness_mm: Option<f64>,
    /// What of it answers the question, where that is not its name.
    pub because: Vec<String>,
}

/// Looks for something, as a person would ask for it.
pub fn found_list(book: &Book, seen: Seen<'_>, text: &str) -> FoundList {
    let (hits, in_all) = find(
        book,
        &seen.home.settings,
        text,
        seen.home.settings.day(seen.now),
        MOST,
    );
    FoundList {
        in_all,
        found: hits
            .iter()
            .filter_map(|hit| found_one(book, seen, hit))
            .collect(),
    }
}

fn found_one(book: &Book, seen: Seen<'_>, hit: &Hit) -> Option<FoundOne> {
    let because = hit
        .because
        .iter()
        .filter_map(|b| in_words(b, seen))
        .collect();
    let (lot, piece, pack) = match hit.found {
        Found::Lot(id) => (book.lot(id)?, None, None),
        Found::Piece(id) => {
            let (lot, piece) = book.piece(id)?;
            (lot, Some(piece), None)
        }
        Found::Pack(id) => {
            let (lot, piece, pack) = book.pack(id)?;
            (lot, Some(piece), Some(pack))
        }
    };
    let about = lot.state.lot.as_ref()?;
    let cut = |key: &str| {
        about
            .species()
            .cut(key)
            .map_or_else(|| key.to_string(), |c| c.name.clone())
    };
    let name = match piece {
        None => about.received.name.clone(),
        Some(p) => p.build().map_or_else(|| cut(&p.cut), |b| b.name.clone()),
    };
    let mass = match (pack, piece) {
        (Some(pack), _) => pack.mass,
        (None, Some(piece)) => piece.mass,
        (None, None) => lot.state.received,
    };
    let tag = match (pack, piece) {
        (Some(pack), _) => &pack.tag,
        (None, Some(piece)) => &piece.tag,
        (None, None) => &about.received.tag,
    };
    Some(FoundOne {
        lot: lot.state.id,
        piece: piece.map(|p| p.id),
        pack: pack.map(|p| p.id),
        tag: tag.clone(),
        name,
        animal: about.received.name.clone(),
        stage: piece.filter(|_| pack.is_none()).map(Piece::stage),
        mass_g: mass.grams(),
        thickness_mm: piece
            .filter(|_| pack.is_none())
            .and_then(|p| p.shape.thickness())
            .map(|t| t.0),
        because,
    })
}

fn in_words(because: &Because, seen: Seen<'_>) -> Option<String> {
    let units = seen.home.settings.units;
    match because {
        Because::Tag | Because::Name => None,
        Because::Mass(g) => Some(format!("weighed {}", show::mass(*g, units.mass))),
        Because::Thickness(t) => Some(format!("{} thick", show::length(*t, units.length))),
        Because::Day(day) => Some(format!("on {day}")),
        Because::Note(words) => Some(format!("“{words}”")),
    }
}
