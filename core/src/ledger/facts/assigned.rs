//! A piece was given a product.

use crate::catalogue::SnapshotKey;
use crate::catalogue::builds::BuildRef;
use crate::catalogue::species::MIX;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, at_stage, err};
use crate::ledger::state::{Stage, State};
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// A piece was given a product.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Assigned {
    /// The piece.
    pub piece: PieceId,
    /// The build.
    pub build: String,
    /// Its version then; the piece keeps it.
    pub version: u32,
    /// Why, where it goes past a stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

impl Fact for Assigned {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        vec![SnapshotKey::build(&self.build_ref())]
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = at_stage(
            state,
            self.piece,
            &[Stage::Assign, Stage::Dose, Stage::Pack],
        )?;
        if found.cure.is_some() {
            return err(
                "piece",
                format!("{} is dosed already and keeps its product.", found.tag),
            );
        }
        if !found.packs.is_empty() {
            return err(
                "piece",
                format!("{} is partly packed and keeps its product.", found.tag),
            );
        }
        let build = state.catalogue().build_as(&self.build_ref());
        if found.cut == MIX && !build.is_ground() && !build.ending && !build.gone {
            return err(
                "build",
                format!(
                    "{} is ground: only a product made of ground meat can become of it.",
                    found.tag
                ),
            );
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let build = state.catalogue().build_as(&self.build_ref());
        if let Some(piece) = state.piece_mut(self.piece) {
            piece.product = Some(build);
            piece.done.clear();
            piece.since = entry.happened_at;
        }
    }

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn label(&self) -> &'static str {
        "assigned"
    }
}

impl Assigned {
    /// The build in its version.
    #[must_use]
    pub fn build_ref(&self) -> BuildRef {
        BuildRef {
            key: self.build.clone(),
            version: self.version,
        }
    }
}
