//! A piece was laid in the freezer until later, or taken out of it to thaw.

use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_stage, err};
use crate::ledger::state::{Stage, State};
use crate::piece::Frost;
use crate::place::PlaceId;
use crate::units::Units;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// Where a piece can be frozen: before its cure, and after it until it hangs or is packed.
const FREEZES: [Stage; 5] = [
    Stage::Assign,
    Stage::Dose,
    Stage::Smoke,
    Stage::Hang,
    Stage::Pack,
];

/// A piece was laid in the freezer.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Frozen {
    /// The piece.
    pub piece: PieceId,
    /// The freezer, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
    /// The day by which it is to be thawed, if there is one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub thaw_by: Option<Date>,
}

impl Fact for Frozen {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        at_stage(state, self.piece, &FREEZES)?;
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.frosts.push(Frost {
                from: entry.happened_at,
                until: None,
                thaw_by: self.thaw_by,
            });
            piece.moved(entry.happened_at, self.place);
        }
    }

    fn label(&self) -> &'static str {
        "frozen"
    }
}

/// A piece was taken out of the freezer.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Thawed {
    /// The piece.
    pub piece: PieceId,
    /// Where it thaws, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
}

impl Fact for Thawed {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = crate::ledger::post::alive(state, self.piece)?;
        if found.frost().is_none() {
            return err(
                "piece",
                format!("{} does not lie in the freezer.", found.tag),
            );
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            if let Some(frost) = piece.frosts.last_mut() {
                frost.until = Some(entry.happened_at);
            }
            piece.since = entry.happened_at;
            piece.moved(entry.happened_at, self.place);
        }
    }

    fn label(&self) -> &'static str {
        "taken out to thaw"
    }
}
