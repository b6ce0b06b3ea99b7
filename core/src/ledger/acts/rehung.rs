//! Hung in another place, or on another hook.

use super::form::Count;
use super::hung::unlike_its_place;
use super::{
    Act, Ask, AskError, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, Gate, Scene,
};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, at_stage, err};
use crate::ledger::state::{Stage, State};
use crate::place::{PlaceId, PlaceUse};
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Hung in another place, or on another hook.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Rehung {
    /// The piece.
    pub piece: PieceId,
    /// The place it hangs in from now on; where it hung before when none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
    /// Its hook there, counted from one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hook: Option<u32>,
}

/// Hung in another place, or on another hook.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RehungAsk {
    /// The piece.
    pub piece: PieceId,
    /// The place it hangs in from now on, by its number; where it hung before when left out.
    #[serde(default)]
    pub place: Option<Count>,
    /// Its hook there, counted from one.
    #[serde(default)]
    pub hook: Option<Count>,
}

impl Asked for RehungAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let place = desk.place(self.place.as_ref(), &[PlaceUse::Hang], "place")?;
        let hook = desk.count_if(self.hook.as_ref(), "hook")?;
        if place.is_none() && hook.is_none() {
            return Err(AskError::field(
                "place",
                "Choose the place it hangs in now, or type its hook.",
            ));
        }
        let act = Rehung {
            piece: self.piece,
            place,
            hook,
        };
        desk.about(self.piece, Act::Rehung(act))
    }
}

impl Deed for Rehung {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        at_stage(state, self.piece, &[Stage::Hanging])?;
        if self.hook == Some(0) {
            return err("hook", "Hooks are counted from 1.".into());
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        if let Some(piece) = state.piece_mut(self.piece) {
            let moves = self.place.filter(|place| piece.place() != Some(*place));
            if moves.is_some() {
                piece.moved(entry.happened_at, moves);
            }
            if let Some(hanging) = &mut piece.hanging {
                // A hook is one of its place: elsewhere the old one means nothing.
                hanging.hook = self.hook.or(hanging.hook.filter(|_| moves.is_none()));
            }
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let Some(piece) = gate.piece(self.piece) else {
            return Vec::new();
        };
        let tare = piece.tare();
        let new = self.place.filter(|place| piece.place() != Some(*place));
        unlike_its_place(gate, piece, new, tare)
            .into_iter()
            .collect()
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "given another hook"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let place = self.place.map(|id| scene.place(id));
        let hook = self.hook.map(|h| format!("hook {h}"));
        let said: Vec<_> = place.into_iter().chain(hook).collect();
        said.join(", ")
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Rehung(RehungAsk {
            piece: self.piece,
            place: self.place.map(Count::from),
            hook: self.hook.map(Count::from),
        }))
    }

    fn form(&self, scene: &Scene<'_>) -> Vec<Field> {
        let mut fields: Vec<Field> = scene
            .place_field("place", &[PlaceUse::Hang])
            .into_iter()
            .collect();
        fields.push(Field::new("hook", "Hook", FieldKind::Count).optional());
        fields
    }
}
