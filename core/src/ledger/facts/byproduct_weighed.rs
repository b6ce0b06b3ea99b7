//! Trim, fat, bone or skin was weighed, out of the lot or off a piece.

use crate::animal::byproduct::Byproduct;
use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_stage, enough_left, err, positive, say, transfer};
use crate::ledger::state::{Stage, State};
use crate::ledger::{Account, Entry};
use crate::units::{Reading, Units};
use serde::{Deserialize, Serialize};

/// Trim, fat, bone or skin was weighed, out of the lot or off a piece.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct ByproductWeighed {
    /// The piece it came off, or none for the lot.
    pub piece: Option<PieceId>,
    /// What it is.
    pub kind: Byproduct,
    /// Its weight.
    pub reading: Reading,
}

impl Fact for ByproductWeighed {
    fn family(&self) -> Family<'_> {
        Family {
            about: self.piece.into_iter().collect(),
            ..Family::default()
        }
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        positive(&self.reading, "reading", units)?;
        if !Byproduct::COMES_OFF.contains(&self.kind) {
            return err(
                "kind",
                "Rendered fat comes out of fat or skin: weigh that aside, then save that it was rendered.".into(),
            );
        }
        let to = Account::Byproduct(self.kind);
        let Some(id) = self.piece else {
            enough_left(&self.reading, state, units)?;
            return Ok(transfer(Account::Lot, to, self.reading.value));
        };
        let piece = at_stage(state, id, &[Stage::Assign, Stage::Dose])?;
        if self.reading.value >= piece.mass {
            return err(
                "reading",
                format!(
                    "{} weighs {} in all, so {} cannot come off it. Check the digits.",
                    piece.tag,
                    say(piece.mass, units),
                    say(self.reading.value, units)
                ),
            );
        }
        Ok(transfer(Account::Piece(id), to, self.reading.value))
    }

    fn conclude(&self, state: &mut State, _: &Entry) {
        if let Some(piece) = self.piece.and_then(|id| state.piece_mut(id)) {
            piece.is_green_again();
        }
    }

    fn label(&self) -> &'static str {
        "weighed aside"
    }
}
