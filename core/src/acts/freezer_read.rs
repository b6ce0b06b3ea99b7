//! An inside temperature was read in the freezer, of one piece or of all that lies there.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::{Code, Finding, Severity};
use crate::form::{Field, FieldKind};
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::freezer_read::FreezerRead;
use crate::piece::Piece;
use crate::units::Millimetres;
use crate::units::show::length;
use serde::{Deserialize, Serialize};

/// An inside temperature was read in the freezer.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FreezerReadAsk {
    /// The lot.
    pub lot: LotId,
    /// The piece, or none for everything of the lot that lies there.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Inside the thickest place, as typed: `-18 C`.
    pub inside: String,
    /// How thick it is there, as typed.
    #[serde(default)]
    pub thickness: Option<String>,
}

impl Draft for FreezerReadAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = FreezerRead {
            piece: self.piece,
            inside: context.typed(&self.inside, "inside")?,
            thickness: context.typed_if(self.thickness.as_deref(), "thickness")?,
        };
        Ok(vec![(self.lot, Act::FreezerRead(act))])
    }
}

impl Review for FreezerRead {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let unit = unit_doubt(&self.inside, ReadWhere::Freezer);
        unit.into_iter().chain(self.how_thick(validator)).collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        format!("{} inside", render.label(&self.inside))
    }

    fn ask_again(&self, lot: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::FreezerRead(FreezerReadAsk {
            lot,
            piece: self.piece,
            inside: render.again(&self.inside),
            thickness: self.thickness.as_ref().map(|t| render.again(t)),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::new(
                "inside",
                "Inside the thickest piece",
                FieldKind::Temperature,
            ),
            Field::thickness("thickness", "How thick it is there"),
        ]
    }
}

impl FreezerRead {
    /// Where days go by thickness and nobody knows it, the longer time counts.
    fn how_thick(&self, validator: &Validator<'_>) -> Option<Finding> {
        if self.thickness.is_some() {
            return None;
        }
        let lot = validator.state.lot.as_ref()?;
        let rows = lot.holds().flat_map(|h| &h.rows);
        let classes: Vec<f64> = rows.map(|r| r.up_to_mm).collect();
        let thin = classes.iter().copied().reduce(f64::min)?;
        if classes.iter().all(|mm| (mm - thin).abs() < 1e-9) {
            return None;
        }
        let raw = |p: &&Piece| p.ended.is_none() && p.raw_until().is_none() && p.cure.is_none();
        let there: Vec<&Piece> = match self.piece {
            Some(id) => validator.piece(id).into_iter().collect(),
            None => validator.state.pieces.values().filter(raw).collect(),
        };
        let known = !there.is_empty() && there.iter().all(|p| p.shape.thickness().is_some());
        // It is asked once, at the first of them.
        let asked = validator
            .state
            .facts
            .freezer
            .iter()
            .any(|(of, _)| *of == self.piece);
        (!known && !asked).then(|| {
            let said = length(Millimetres(thin), validator.home.settings.units.length);
            Finding::new(
                Code::ThicknessMissing,
                Severity::Caution,
                format!("How thick is the thickest piece? Over {said} freezing takes longer."),
            )
            .saw("no thickness")
            .wants("the thickness where it was read")
            .remedy("Type the thickness. Saved without it, the longer time counts.")
        })
    }
}
