//! Two pieces folded into a pair, or several bound into one.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator, corrected};
use crate::caution::Finding;
use crate::form::{AskError, Field, option};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::joined::{JoinWay, Joined};
use serde::{Deserialize, Serialize};

/// Pieces of one lot become one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct JoinedAsk {
    /// The pieces.
    pub pieces: Vec<PieceId>,
    /// How.
    pub way: JoinWay,
    /// Its weight, if it was weighed again, as typed.
    #[serde(default)]
    pub reading: Option<String>,
    /// Its thickest place, as typed.
    #[serde(default)]
    pub thickness: Option<String>,
}

impl Draft for JoinedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let first = self
            .pieces
            .first()
            .ok_or_else(|| AskError::field("pieces", "Choose the pieces to join."))?;
        let lot = context.lot_of(*first)?;
        for piece in &self.pieces {
            if context.lot_of(*piece)? != lot {
                return Err(AskError::field(
                    "pieces",
                    "Pieces of different animals are kept apart. Choose pieces of one.",
                ));
            }
        }
        let (into, tag) = match corrected::<Joined>(instead) {
            Some(old) => (old.into, old.tag.clone()),
            None => context.fresh_piece(lot)?,
        };
        let act = Joined {
            pieces: self.pieces.clone(),
            way: self.way,
            into,
            tag,
            reading: context.mass_if(self.reading.as_deref(), "reading")?,
            thickness: context.typed_if(self.thickness.as_deref(), "thickness")?,
        };
        Ok(vec![(lot, Act::Joined(act))])
    }
}

impl Review for Joined {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let pieces = self.pieces.iter().filter_map(|id| validator.piece(*id));
        pieces.filter_map(|p| validator.edible(p)).collect()
    }

    fn detail(&self, _: &RenderContext<'_>) -> String {
        let way = match self.way {
            JoinWay::Pair => "folded into one pair",
            JoinWay::Bind => "bound into one",
        };
        format!("{} pieces {way}", self.pieces.len())
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Joined(JoinedAsk {
            pieces: self.pieces.clone(),
            way: self.way,
            reading: self.reading.as_ref().map(|r| render.again(r)),
            thickness: self.thickness.as_ref().map(|t| render.again(t)),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        let ways = vec![
            option(&JoinWay::Pair, "folded into one pair"),
            option(&JoinWay::Bind, "bound into one"),
        ];
        vec![
            Field::mass("reading", "Together they weigh").optional(),
            Field::thickness("thickness", "Thickest place"),
            Field::one_of("way", "How", ways),
        ]
    }
}
