//! The peak that an inside still came to while it rested after the heat.

use crate::catalogue::SnapshotKey;
use crate::heat::possible::{BOILS, too_hot_inside};
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, err, find, not_now};
use crate::ledger::state::State;
use crate::piece::Peak;
use crate::units::{Celsius, Typed, Units};
use serde::{Deserialize, Serialize};

/// The peak that an inside still came to while it rested.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Rested {
    /// The piece.
    pub piece: PieceId,
    /// The highest inside, in the thickest place.
    pub peak: Typed<Celsius>,
    /// How long it rested (h), if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
}

impl Fact for Rested {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = find(state, self.piece)?;
        if found.went_into_others() {
            return Err(not_now(found));
        }
        if found.heats.is_empty() {
            return err(
                "piece",
                format!(
                    "{} was not heated, so it has nothing to rest from. Write down its heat first.",
                    found.tag
                ),
            );
        }
        if !(0.0..=BOILS.0 + 0.05).contains(&self.peak.value.0) {
            return err("peak", too_hot_inside("64.5 C or 148 F"));
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let heats = state.piece_mut(self.piece).map(|p| &mut p.heats);
        if let Some(heat) = heats.and_then(|h| h.last_mut()) {
            heat.peak = Some(Peak {
                entry: entry.id,
                inside: self.peak.clone(),
            });
        }
    }

    fn label(&self) -> &'static str {
        "rested"
    }
}
