//! A piece was weighed out of its lot.

use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, enough_left, fat_cover, gone, positive, thickness, transfer};
use crate::ledger::state::{Piece, State};
use crate::ledger::{Account, Entry};
use crate::shape::Shape;
use crate::units::{Reading, Units};
use serde::{Deserialize, Serialize};

/// A piece weighed out of a lot.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PieceWeighed {
    /// The piece.
    pub piece: PieceId,
    /// Its tag under the animal's.
    pub tag: String,
    /// Its cut.
    pub cut: String,
    /// Its weight.
    pub reading: Reading,
    /// How it lies.
    pub shape: Shape,
}

impl Fact for PieceWeighed {
    fn family(&self) -> Family<'_> {
        Family {
            about: vec![self.piece],
            makes: vec![(self.piece, &self.tag)],
            ..Family::default()
        }
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        positive(&self.reading, "reading", units)?;
        state.lot.as_ref().ok_or_else(gone)?;
        thickness(self.shape.thickness(), "thickness", units)?;
        fat_cover(self.shape.fat_cover.as_ref(), units)?;
        enough_left(&self.reading, state, units)?;
        Ok(transfer(
            Account::Lot,
            Account::Piece(self.piece),
            self.reading.value,
        ))
    }

    fn begin(&self, state: &mut State, entry: &Entry) {
        let made = (entry.id, entry.happened_at);
        let piece = Piece {
            cut: self.cut.clone(),
            shape: self.shape.clone(),
            ..Piece::green(self.piece, &self.tag, self.reading.value, made)
        };
        state.pieces.insert(self.piece, piece);
    }

    fn conclude(&self, _: &mut State, _: &Entry) {}

    fn label(&self) -> &'static str {
        "weighed out"
    }
}
