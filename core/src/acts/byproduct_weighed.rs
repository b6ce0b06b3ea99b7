//! Trim, fat, bone or skin was weighed, out of the lot or off a piece.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::animal::byproduct::Byproduct;
use crate::caution::Finding;
use crate::form::{Field, options};
use crate::ids::{LotId, PieceId, word};
use crate::ledger::facts::Act;
use crate::ledger::facts::byproduct_weighed::ByproductWeighed;
use crate::ledger::odd::over_scale;
use serde::{Deserialize, Serialize};

/// Trim, fat, bone or skin was weighed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ByproductWeighedAsk {
    /// The lot it came out of.
    pub lot: LotId,
    /// The piece it came off, if it did.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// What it is.
    pub kind: Byproduct,
    /// Its weight, as typed.
    pub reading: String,
}

impl Draft for ByproductWeighedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = ByproductWeighed {
            piece: self.piece,
            kind: self.kind,
            reading: context.mass(&self.reading, "reading")?,
        };
        Ok(vec![(self.lot, Act::ByproductWeighed(act))])
    }
}

impl Review for ByproductWeighed {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let home = validator.home;
        over_scale(&self.reading, &home.settings)
            .into_iter()
            .collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        format!("{} {}", render.mass(&self.reading), word(&self.kind))
    }

    fn ask_again(&self, lot: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::ByproductWeighed(ByproductWeighedAsk {
            lot,
            piece: self.piece,
            kind: self.kind,
            reading: render.again(&self.reading),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::one_of("kind", "What it is", options(&Byproduct::COMES_OFF)),
            Field::mass("reading", "Weight"),
        ]
    }
}
