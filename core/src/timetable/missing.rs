//! What the next day's work takes and the house does not hold: salt, casing, a free tub.

use super::Task;
use crate::agenda::TaskKind;
use crate::assign::shopping::{Batch, ShoppingList, amount};
use crate::catalogue::steps::StepKind;
use crate::cure::methods::Vessel;
use crate::cure::sheet::SheetPiece;
use crate::ledger::book::Book;
use crate::pantry::Standing;
use crate::piece::Piece;
use crate::place::{PlaceId, PlaceUse};
use crate::timetable::House;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// So many pieces of one day are reckoned up.
const MOST: usize = 60;

/// What is missing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum MissingWhat {
    /// Something of the pantry.
    Stock,
    /// A vessel that nothing lies in.
    Tub,
}

/// Something that is missing.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Missing {
    /// What.
    pub what: MissingWhat,
    /// In a sentence.
    pub words: String,
    /// The day for which it is wanted.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub by: Date,
    /// What for.
    #[serde(rename = "for")]
    pub wanted_for: Vec<String>,
}

/// What is missing for everything that falls due until `by`. A pantry in which nothing is listed is not asked.
#[must_use]
pub fn missing<'a>(
    due: impl IntoIterator<Item = &'a Task>,
    book: &Book,
    home: &House,
    stock: &[Standing],
    by: Date,
) -> Vec<Missing> {
    let mut doses: BTreeMap<(String, u32), Vec<&Piece>> = BTreeMap::new();
    let mut cased: Vec<&Piece> = Vec::new();
    let mut smoked: Vec<&Piece> = Vec::new();
    for task in due.into_iter().filter(|t| t.due <= by).take(MOST) {
        let Some((_, piece)) = book.piece(task.piece) else {
            continue;
        };
        let Some(build) = piece.build() else { continue };
        let step = task.step.as_ref().map(|s| s.kind);
        match task.kind {
            TaskKind::Dose => doses
                .entry((build.key.clone(), build.version))
                .or_default()
                .push(piece),
            TaskKind::ByHand if step == Some(StepKind::Case) => cased.push(piece),
            TaskKind::Smoke => smoked.push(piece),
            TaskKind::ByHand
            | TaskKind::Discard
            | TaskKind::Assign
            | TaskKind::Thaw
            | TaskKind::Pump
            | TaskKind::Turn
            | TaskKind::OutOfCure
            | TaskKind::Cook
            | TaskKind::Hang
            | TaskKind::WeighIn
            | TaskKind::TakeDown
            | TaskKind::Pack => {}
        }
    }
    let mut found = tubs(&doses, book, home, by);
    if stock.is_empty() {
        return found;
    }
    let mut list = ShoppingList::default();
    for pieces in doses.values() {
        if let Some(build) = pieces[0].build().filter(|b| !b.is_ground()) {
            list.add_dose(build, &batch(pieces), &home.settings, book.catalogue());
        }
    }
    for piece in cased {
        if let Some(build) = piece.build() {
            list.add_wraps(build, &batch(&[piece]), &home.settings, stock);
        }
    }
    for piece in smoked {
        if let Some(build) = piece.build() {
            list.add_wood(build, &batch(&[piece]), book.catalogue());
        }
    }
    list.take_off(stock);
    let short = list.lines.into_iter().filter(|l| l.buy > 0.5);
    found.extend(short.map(|line| {
        let said = |n: f64| amount(n, line.unit, &home.settings);
        let have = if line.have > 0.0 {
            format!("{} in the pantry", said(line.have))
        } else {
            "none in the pantry".into()
        };
        Missing {
            what: MissingWhat::Stock,
            words: format!("{}: {} wanted, {have}", line.name, said(line.need)),
            by,
            wanted_for: line.products,
        }
    }));
    found
}

fn batch(pieces: &[&Piece]) -> Batch {
    Batch {
        pieces: pieces
            .iter()
            .map(|p| SheetPiece {
                id: p.id,
                tag: p.tag.clone(),
                meat: crate::units::Grams(p.mass.grams()),
                shape: p.shape.clone(),
                made: None,
                unground: false,
                fat: None,
            })
            .collect(),
        sizes: pieces.iter().map(|_| None).collect(),
    }
}

/// Vessels that are wanted at once, beside those that stand empty.
fn tubs(
    doses: &BTreeMap<(String, u32), Vec<&Piece>>,
    book: &Book,
    home: &House,
    by: Date,
) -> Vec<Missing> {
    let Some(equipment) = &home.settings.equipment else {
        return Vec::new();
    };
    let wet = doses.values().filter_map(|pieces| {
        let build = pieces[0].build()?;
        (build.vessel() == Vessel::Tub).then(|| build.name.clone())
    });
    let wanted: Vec<String> = wet.collect();
    let all: u32 = equipment.places_for(PlaceUse::Brine).map(|p| p.count).sum();
    if wanted.is_empty() || all == 0 {
        return Vec::new();
    }
    let is_tub = |id: &PlaceId| equipment.places_for(PlaceUse::Brine).any(|p| p.id == *id);
    let taken: BTreeSet<_> = book
        .pieces()
        .filter(|(_, p)| p.out_of_cure.is_none() && !p.stage().is_over())
        .filter_map(|(_, p)| Some((p.place().filter(is_tub)?, p.vessel())))
        .collect();
    let free = (all as usize).saturating_sub(taken.len());
    if free >= wanted.len() {
        return Vec::new();
    }
    let said = match free {
        0 => "no tub stands empty".into(),
        1 => "one tub stands empty".into(),
        n => format!("{n} tubs stand empty"),
    };
    vec![Missing {
        what: MissingWhat::Tub,
        words: format!("{} wanted, {said}", counted(wanted.len())),
        by,
        wanted_for: wanted,
    }]
}

fn counted(tubs: usize) -> String {
    match tubs {
        1 => "A tub is".into(),
        n => format!("{n} tubs are"),
    }
}
