//! An inside temperature was read in the freezer, of one piece or of all that lies there.

use crate::animal::hold::FreezerReading;
use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, alive, err, gone, thickness};
use crate::ledger::state::State;
use crate::units::{Celsius, Millimetres, Typed, Units};
use serde::{Deserialize, Serialize};

/// An inside temperature was read in the freezer.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct FreezerRead {
    /// The piece, or none for everything of the lot that lies there.
    pub piece: Option<PieceId>,
    /// Inside the thickest place.
    pub inside: Typed<Celsius>,
    /// How thick it is there.
    pub thickness: Option<Typed<Millimetres>>,
}

impl Fact for FreezerRead {
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
        state.lot.as_ref().ok_or_else(gone)?;
        if let Some(id) = self.piece {
            alive(state, id)?;
        }
        if !(-80.0..=40.0).contains(&self.inside.value.0) {
            return err(
                "inside",
                "No freezer is that warm or cold. Type degrees such as -18 C or 0 F.".into(),
            );
        }
        thickness(self.thickness.as_ref().map(|t| t.value), "thickness", units)?;
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let reading = FreezerReading {
            at: entry.happened_at,
            inside_c: self.inside.value.0,
            thickness_mm: self.thickness.as_ref().map(|t| t.value.0),
        };
        state.facts.freezer.push((self.piece, reading));
    }

    fn label(&self) -> &'static str {
        "read in the freezer"
    }
}
