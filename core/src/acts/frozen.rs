//! A piece is laid in the freezer until later, or taken out of it to thaw.

use crate::acts::dosed::kept_raw;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::{AskError, Count, Field, FieldKind};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::frozen::{Frozen, Thawed};
use crate::place::PlaceUse;
use crate::units::bounds;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// Laid in the freezer.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FrozenAsk {
    /// The piece. Give this or `pieces`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Several at once.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// The freezer, by its number on the household's list.
    #[serde(default)]
    pub place: Option<Count>,
    /// The day by which it is to be thawed.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = Date))]
    pub thaw_by: Option<Date>,
}

/// Taken out to thaw.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ThawedAsk {
    /// The piece. Give this or `pieces`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Several at once.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// Where it thaws, by its number on the household's list.
    #[serde(default)]
    pub place: Option<Count>,
}

const FREEZER: &[PlaceUse] = &[PlaceUse::Freeze];

const FRIDGE: &[PlaceUse] = &[PlaceUse::Cold];

impl Draft for FrozenAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        if let Some(Err(message)) = self.thaw_by.map(bounds::day) {
            return Err(AskError::field("thaw_by", message));
        }
        let thaw_by = self.thaw_by;
        let place = context.place(self.place.as_ref(), FREEZER, "place")?;
        let each = context.those(self.piece, &self.pieces, None)?;
        for piece in &each {
            if let Some(run) = context.home.runs.with_piece(*piece, context.book) {
                return Err(AskError::field(
                    "piece",
                    format!(
                        "{} lies in {} now. Take it out there first.",
                        context.find(*piece)?.1.tag,
                        run.run.name
                    ),
                ));
            }
        }
        each.into_iter()
            .map(|piece| {
                let act = Frozen {
                    piece,
                    place,
                    thaw_by,
                };
                Ok((context.lot_of(piece)?, Act::Frozen(act)))
            })
            .collect()
    }
}

impl Draft for ThawedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let place = context.place(self.place.as_ref(), FRIDGE, "place")?;
        let each = context.those(self.piece, &self.pieces, None)?;
        each.into_iter()
            .map(|piece| {
                let act = Thawed { piece, place };
                Ok((context.lot_of(piece)?, Act::Thawed(act)))
            })
            .collect()
    }
}

impl Review for Frozen {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let piece = validator.piece(self.piece).filter(|p| p.cure.is_none());
        piece
            .and_then(|p| kept_raw(validator, p))
            .into_iter()
            .collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let place = self.place.map(|id| render.place(id));
        let by = self.thaw_by.map(|day| format!("to be thawed by {day}"));
        place.into_iter().chain(by).collect::<Vec<_>>().join(", ")
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Frozen(FrozenAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            place: self.place.map(Count::from),
            thaw_by: self.thaw_by,
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let mut fields = vec![Field::new("thaw_by", "To be thawed by", FieldKind::Day).optional()];
        fields.extend(render.place_field("place", FREEZER));
        fields
    }
}

impl Review for Thawed {
    fn warnings(&self, _: &Validator<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        self.place
            .map(|id| render.place(id).to_string())
            .unwrap_or_default()
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Thawed(ThawedAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            place: self.place.map(Count::from),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        render.place_field("place", FRIDGE).into_iter().collect()
    }
}
