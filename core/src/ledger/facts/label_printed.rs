//! Labels were printed: what they say is kept, so that it can be told when it no longer holds.

use crate::catalogue::SnapshotKey;
use crate::ids::{PackId, PieceId};
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, packs_allow};
use crate::ledger::state::State;
use crate::piece::printed::Printed;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// What the label of a pack says.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PrintedLabel {
    /// The pack.
    pub pack: PackId,
    /// The piece it is of.
    pub piece: PieceId,
    /// What it says of how it is eaten.
    pub says: Printed,
}

/// Labels were printed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct LabelPrinted {
    /// The labels.
    pub labels: Vec<PrintedLabel>,
}

impl Fact for LabelPrinted {
    fn family(&self) -> Family<'_> {
        let mut about: Vec<_> = self.labels.iter().map(|l| l.piece).collect();
        about.dedup();
        Family {
            about,
            ..Family::default()
        }
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        packs_allow(state, self.labels.iter().map(|l| &l.pack), |pack| {
            let gone = pack.discarded.is_some();
            gone.then(|| format!("{} was thrown away.", pack.tag))
        })
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        for label in &self.labels {
            if let Some(pack) = state.packs.get_mut(&label.pack) {
                pack.printed = Some(label.says.clone());
                pack.printed_at = entry.happened_at;
            }
        }
    }

    fn label(&self) -> &'static str {
        "label printed"
    }
}
