//! Laid in vacuum, so that a dry rim and a wet middle even out.

use super::form::Count;
use super::{
    Act, Ask, AskError, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, Gate, Scene,
};
use crate::catalogue::KeptKey;
use crate::caution::{Code, Finding, Severity};
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, alive, err, not_now};
use crate::ledger::state::{Stage, State};
use crate::piece::EveningOut;
use crate::place::{PlaceId, PlaceUse};
use crate::units::Units;
use crate::verdict::no_nitrite::{Door, hazard};
use jiff::SignedDuration;
use serde::{Deserialize, Serialize};

/// Laid in vacuum to even out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct EvenedOut {
    /// The piece.
    pub piece: PieceId,
    /// For so many days.
    pub days: u32,
    /// The place it lies in, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PlaceId>,
}

/// Laid in vacuum to even out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct EvenedOutAsk {
    /// The piece.
    pub piece: PieceId,
    /// For so many weeks. Give this, or `days`.
    #[serde(default)]
    pub weeks: Option<Count>,
    /// For so many days.
    #[serde(default)]
    pub days: Option<Count>,
    /// The place it lies in, by its number.
    #[serde(default)]
    pub place: Option<Count>,
}

/// Nothing evens out for longer (days).
const MOST_DAYS: u32 = 200;
/// Shorter does little, longer is asked about (days).
///
/// # Source
/// Two to eight weeks are usual for a dried piece; a hard rind wants one.
const USUAL_DAYS: std::ops::RangeInclusive<u32> = 5..=84;

impl Asked for EvenedOutAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let weeks = desk.count_if(self.weeks.as_ref(), "weeks")?;
        let days = desk.count_if(self.days.as_ref(), "days")?;
        let days = match (weeks, days) {
            (Some(weeks), None) => weeks.saturating_mul(7),
            (None, Some(days)) => days,
            (Some(_), Some(_)) | (None, None) => {
                return Err(AskError::field(
                    "weeks",
                    "Type for how many weeks, such as 3, or for how many days: one of these.",
                ));
            }
        };
        let act = EvenedOut {
            piece: self.piece,
            days,
            place: desk.place(self.place.as_ref(), &[PlaceUse::Cold], "place")?,
        };
        desk.about(self.piece, Act::EvenedOut(act))
    }
}

impl Deed for EvenedOut {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = alive(state, self.piece)?;
        if found.hanging.is_none() || found.stage() == Stage::Packed {
            return Err(not_now(found));
        }
        if !(1..=MOST_DAYS).contains(&self.days) {
            return err(
                "weeks",
                format!(
                    "Give 1 to {} weeks; 2 to 8 are usual, one for a hard rind.",
                    MOST_DAYS / 7
                ),
            );
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let Some(piece) = state.piece_mut(self.piece) else {
            return;
        };
        let long = SignedDuration::from_hours(i64::from(self.days) * 24);
        piece.evening_out = Some(EveningOut {
            entry: entry.id,
            since: entry.happened_at,
            until: entry
                .happened_at
                .saturating_add(long)
                .unwrap_or(entry.happened_at),
        });
        // A hard rind evens out amid its hanging, and goes back to its hook.
        if self.place.is_some() && piece.stage() != Stage::Hanging {
            piece.moved(entry.happened_at, self.place);
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let Some(piece) = gate.piece(self.piece) else {
            return Vec::new();
        };
        let mut found = Vec::new();
        if gate.judge().has_no_nitrite(gate.state, piece) {
            found.push(hazard(&piece.tag, Door::Sealed, "vacuum"));
        }
        if !USUAL_DAYS.contains(&self.days) {
            found.push(
                Finding::new(
                    Code::LooksMistyped,
                    Severity::Caution,
                    "That is an unusual time to even out.",
                )
                .saw(format!("{} days", self.days))
                .wants("1 week for a hard rind, 2 to 8 for rim and middle")
                .way_out("Weeks and days are typed apart; or keep it as typed."),
            );
        }
        found
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "laid to even out"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let place = self.place.map(|id| format!(", {}", scene.place(id)));
        format!(
            "in vacuum for {} days{}",
            self.days,
            place.unwrap_or_default()
        )
    }

    fn ask_again(&self, _: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::EvenedOut(EvenedOutAsk {
            piece: self.piece,
            weeks: None,
            days: Some(Count::from(self.days)),
            place: self.place.map(Count::from),
        }))
    }

    fn form(&self, scene: &Scene<'_>) -> Vec<Field> {
        let mut fields = vec![Field::new("days", "Days", FieldKind::Count)];
        fields.extend(scene.place_field("place", &[PlaceUse::Cold]));
        fields
    }
}
