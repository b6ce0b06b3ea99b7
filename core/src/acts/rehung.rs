//! Hung in another place, or on another hook.

use crate::acts::hung::unlike_its_place;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::{AskError, Count, Field, FieldKind};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::rehung::Rehung;
use crate::place::PlaceUse;
use serde::{Deserialize, Serialize};

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

impl Draft for RehungAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let place = context.place(self.place.as_ref(), &[PlaceUse::Hang], "place")?;
        let hook = context.count_if(self.hook.as_ref(), "hook")?;
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
        context.about(self.piece, Act::Rehung(act))
    }
}

impl Review for Rehung {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator.piece(self.piece) else {
            return Vec::new();
        };
        let tare = piece.tare();
        let new = self.place.filter(|place| piece.place() != Some(*place));
        unlike_its_place(validator, piece, new, tare)
            .into_iter()
            .collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let place = self.place.map(|id| render.place(id));
        let hook = self.hook.map(|h| format!("hook {h}"));
        let said: Vec<_> = place.into_iter().chain(hook).collect();
        said.join(", ")
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Rehung(RehungAsk {
            piece: self.piece,
            place: self.place.map(Count::from),
            hook: self.hook.map(Count::from),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let mut fields: Vec<Field> = render
            .place_field("place", &[PlaceUse::Hang])
            .into_iter()
            .collect();
        fields.push(Field::new("hook", "Hook", FieldKind::Count).optional());
        fields
    }
}
