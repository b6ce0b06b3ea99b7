//! The peak that an inside still came to while it rested after the heat.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::{Code, Finding, Severity};
use crate::form::{Field, FieldKind, hours_if};
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::rested::Rested;
use crate::units::Amount;
use crate::units::show::{temperature, trim};
use serde::{Deserialize, Serialize};

/// The peak that an inside still came to while it rested.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RestedAsk {
    /// The piece.
    pub piece: PieceId,
    /// The highest inside, in the thickest place, as typed: `64.5 C`.
    pub peak: String,
    /// How long it rested: a number of hours, or as typed: `15 min`.
    #[serde(default)]
    pub rest: Option<Amount>,
}

impl Draft for RestedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Rested {
            piece: self.piece,
            peak: context.typed(&self.peak, "peak")?,
            hours: hours_if(self.rest.as_ref(), "rest")?,
        };
        context.about(self.piece, Act::Rested(act))
    }
}

impl Review for Rested {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator.piece(self.piece) else {
            return Vec::new();
        };
        let Some(last) = piece.heats.last() else {
            return Vec::new();
        };
        let unit = validator.home.settings.units.heat;
        let mut found: Vec<Finding> = unit_doubt(&self.peak, ReadWhere::InsideHot)
            .into_iter()
            .collect();
        let said = |c| temperature(c, unit);
        let peak = self.peak.value;
        match validator.judge().out_of_heat(piece, last) {
            Some(out) if peak.0 < out.0 - 0.5 => found.push(
                Finding::new(
                    Code::CarryOverUnusual,
                    Severity::Caution,
                    "A rest does not begin colder than it came out.",
                )
                .saw(format!("a peak of {}", said(peak)))
                .wants(format!("at least {}", said(out)))
                .remedy("Look at the number and its unit; it decides what the pack may claim."),
            ),
            Some(_) => found.extend(validator.judge().peak_doubt(piece, last, peak)),
            None => found.push(
                Finding::new(
                    Code::CarryOverUnusual,
                    Severity::Caution,
                    "The internal temperature out of the heat is not recorded.",
                )
                .saw(format!("a peak of {}", said(peak)))
                .wants("an internal temperature when it came out")
                .remedy("Correct the entry of its heat, or check the number and its unit."),
            ),
        }
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let rest = self
            .hours
            .map(|h| format!(" within {} min", trim(h * 60.0, 0)));
        format!(
            "peak {} inside{}",
            render.label(&self.peak),
            rest.unwrap_or_default()
        )
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Rested(RestedAsk {
            piece: self.piece,
            peak: render.again(&self.peak),
            rest: self.hours.map(Amount::Number),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::new("peak", "Peak inside", FieldKind::Temperature),
            Field::new("rest", "How long it rested", FieldKind::Text).optional(),
        ]
    }
}
