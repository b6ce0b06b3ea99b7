//! An inside temperature was read so long after the heat: how it cooled.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::{Field, FieldKind, hours};
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::cooled::Cooled;
use crate::units::Amount;
use crate::units::show::trim;
use serde::{Deserialize, Serialize};

/// An inside temperature was read so long after the heat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CooledAsk {
    /// The piece.
    pub piece: PieceId,
    /// Inside the thickest place, as typed: `4 C`.
    pub inside: String,
    /// Hours since it came out of the heat: a number, or as typed: `90 min`.
    pub hours: Amount,
}

impl Draft for CooledAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Cooled {
            piece: self.piece,
            inside: context.typed(&self.inside, "inside")?,
            hours: hours(&self.hours, "hours")?,
        };
        context.about(self.piece, Act::Cooled(act))
    }
}

impl Review for Cooled {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let unit = unit_doubt(&self.inside, ReadWhere::InsideCooling);
        let last = validator
            .piece(self.piece)
            .and_then(|p| Some((p, p.heats.last()?)));
        let fast = last.and_then(|(piece, heat)| {
            validator
                .judge()
                .cooled_doubt(piece, heat, self.inside.value, self.hours)
        });
        unit.into_iter().chain(fast).collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        format!(
            "{} inside, {} h after the heat",
            render.label(&self.inside),
            trim(self.hours, 2)
        )
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Cooled(CooledAsk {
            piece: self.piece,
            inside: render.again(&self.inside),
            hours: Amount::Number(self.hours),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::new("inside", "Inside", FieldKind::Temperature),
            Field::new("hours", "Hours after the heat", FieldKind::Text),
        ]
    }
}
