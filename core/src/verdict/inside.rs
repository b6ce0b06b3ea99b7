//! What counts of the inside of a piece that was in a run.

use crate::ledger::book::Book;
use crate::piece::Piece;
use crate::place::climate::Read;
use crate::run::series::{ProbeFault, ProbeFaultKind};
use crate::run::{Watched, series};
use crate::verdict::plausible::{OfPiece, of_piece};

/// What counts of the inside of a piece.
#[derive(Clone, Debug, PartialEq)]
pub struct Inside {
    /// What may be written down.
    pub record: Option<Read>,
    /// What is wrong with its probes.
    pub faults: Vec<ProbeFault>,
    /// Checks by hand that cannot be, by their lines.
    pub doubted: Vec<(i64, ProbeFaultKind)>,
}

/// What counts of the inside of a piece as it is given; none of one that never lay in the run.
#[must_use]
pub fn inside_of(watched: &Watched, piece: &Piece, book: &Book) -> Option<Inside> {
    let run = &watched.run;
    run.sitting(piece.id)?;
    let known = OfPiece::of(run, piece, book);
    let sounded = of_piece(run, &watched.readings, piece.id, known);
    Some(Inside {
        record: series::inside_to_record(run, &sounded.reads, piece.id, &sounded.doubted),
        faults: sounded.faults,
        doubted: sounded.doubted,
    })
}
