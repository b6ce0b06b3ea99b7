//! Laid in vacuum, so that a dry rim and a wet middle even out.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::{Code, Finding, Severity};
use crate::cure::no_nitrite::{Door, hazard};
use crate::form::{AskError, Count, Field, FieldKind};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::evened_out::EvenedOut;
use crate::place::PlaceUse;
use crate::units::show;
use serde::{Deserialize, Serialize};

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

/// Shorter does little, longer is asked about (days).
///
/// # Source
/// Two to eight weeks are usual for a dried piece; a hard rind wants one.
const USUAL_DAYS: std::ops::RangeInclusive<u32> = 5..=84;

impl Draft for EvenedOutAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let weeks = context.count_if(self.weeks.as_ref(), "weeks")?;
        let days = context.count_if(self.days.as_ref(), "days")?;
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
            place: context.place(self.place.as_ref(), &[PlaceUse::Cold], "place")?,
        };
        context.about(self.piece, Act::EvenedOut(act))
    }
}

impl Review for EvenedOut {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator.piece(self.piece) else {
            return Vec::new();
        };
        let mut found = Vec::new();
        if validator.judge().has_no_nitrite(validator.state, piece) {
            found.push(hazard(&piece.tag, Door::Sealed, "vacuum"));
        }
        if !USUAL_DAYS.contains(&self.days) {
            found.push(
                Finding::new(
                    Code::LooksMistyped,
                    Severity::Caution,
                    "That is an unusual time to even out.",
                )
                .saw(show::days(f64::from(self.days)))
                .wants("1 week for a hard rind, 2 to 8 for rim and middle")
                .remedy("Weeks and days are typed apart; or keep it as typed."),
            );
        }
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let place = self.place.map(|id| format!(", {}", render.place(id)));
        format!(
            "in vacuum for {}{}",
            show::days(f64::from(self.days)),
            place.unwrap_or_default()
        )
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::EvenedOut(EvenedOutAsk {
            piece: self.piece,
            weeks: None,
            days: Some(Count::from(self.days)),
            place: self.place.map(Count::from),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let mut fields = vec![Field::new("days", "Days", FieldKind::Count)];
        fields.extend(render.place_field("place", &[PlaceUse::Cold]));
        fields
    }
}
