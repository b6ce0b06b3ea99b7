//! The temperature around meat was read, for some hours: of a place, a lot or a piece.

use crate::animal::hold::AirSpell;
use crate::catalogue::SnapshotKey;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, err, find, gone};
use crate::ledger::state::{Stage, State};
use crate::place::PlaceId;
use crate::units::{Celsius, Fraction, Typed, Units};
use serde::{Deserialize, Serialize};

/// The temperature around meat was read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PlaceRead {
    /// The place on the household's list, where it is one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
    /// What the place is called.
    pub name: String,
    /// The piece; none for all of the lot.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub piece: Option<PieceId>,
    /// How warm it was.
    #[serde(rename = "warmth")]
    pub temperature: Typed<Celsius>,
    /// How damp the air was, if measured.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub humidity: Option<Typed<Fraction>>,
    /// For how many hours; none where it is one look.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
}

impl Fact for PlaceRead {
    fn family(&self) -> Family<'_> {
        Family {
            about: self.piece.into_iter().collect(),
            ..Family::default()
        }
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        state.lot.as_ref().ok_or_else(gone)?;
        if let Some(id) = self.piece {
            find(state, id)?;
        }
        if !(-60.0..=60.0).contains(&self.temperature.value.0) {
            return err(
                "temperature",
                "No place for meat is that warm or cold. Type degrees such as 3 C or 38 F.".into(),
            );
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let spell = AirSpell {
            until: entry.happened_at,
            air_c: self.temperature.value.0,
            hours: self.hours.unwrap_or(0.0),
        };
        state.facts.air.push((self.piece, spell));
        let hours = self.hours.unwrap_or(0.0);
        for piece in state.pieces.values_mut() {
            let meant = match self.piece {
                Some(id) => piece.id == id,
                None => !piece.went_into_others() && piece.ended != Some(Stage::Discarded),
            };
            if meant {
                piece.lay_in(entry.id, entry.happened_at, &self.temperature, hours);
            }
        }
    }

    fn label(&self) -> &'static str {
        "read around it"
    }
}
