//! Taken down.

use crate::acts::context::filled;
use crate::acts::weighed_in::too_fast;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::{Code, Finding, Severity};
use crate::form::Field;
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::taken_down::TakenDown;
use crate::units::Reading;
use crate::units::show::trim;
use serde::{Deserialize, Serialize};

/// Taken down.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TakenDownAsk {
    /// The piece.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Or several on the scale at once, shared out by what each weighed.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// Its weight with everything that hangs there, as typed; left out, its loss is unknown: only where days or feel decide.
    #[serde(default)]
    pub reading: Option<String>,
}

impl Draft for TakenDownAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let weighed: Vec<(PieceId, Option<Reading>)> = match filled(self.reading.as_deref()) {
            Some(typed) => context
                .shared_on_hooks(("reading", typed), self.piece, &self.pieces)?
                .into_iter()
                .map(|(piece, reading)| (piece, Some(reading)))
                .collect(),
            None => {
                let pieces = context.those(self.piece, &self.pieces, None)?;
                pieces.into_iter().map(|piece| (piece, None)).collect()
            }
        };
        weighed
            .into_iter()
            .map(|(piece, reading)| {
                let act = TakenDown { piece, reading };
                Ok((context.lot_of(piece)?, Act::TakenDown(act)))
            })
            .collect()
    }
}

impl Review for TakenDown {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(reading) = &self.reading else {
            return self.unweighed(validator).into_iter().collect();
        };
        let mut found: Vec<_> = too_fast(validator, self.piece, reading)
            .into_iter()
            .collect();
        let Some(piece) = validator.piece(self.piece) else {
            return found;
        };
        let Some(hanging) = &piece.hanging else {
            return found;
        };
        let lost = hanging.lost_at(reading.value - hanging.tare).0;
        if lost < hanging.loss.0 - validator.home.settings.close_enough - 1e-9 {
            let percent = |part: f64| format!("{} %", trim(part * 100.0, 0));
            let dried = piece.build().is_some_and(|b| b.raw_dried);
            found.push(
                Finding::new(
                    Code::LostTooLittle,
                    Severity::Caution,
                    format!(
                        "{} has lost {} of {}.{}",
                        piece.tag,
                        percent(lost.max(0.0)),
                        percent(hanging.loss.0),
                        if dried {
                            " Taken down now it stays “cook before eating”."
                        } else {
                            ""
                        }
                    ),
                )
                .saw(percent(lost.max(0.0)))
                .wants(percent(hanging.loss.0))
                .remedy("Hang it on, or keep it as typed."),
            );
        }
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        self.reading.as_ref().map_or_else(
            || "not weighed".into(),
            |reading| format!("{} on the scale", render.mass(reading)),
        )
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::TakenDown(TakenDownAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            reading: self.reading.as_ref().map(|r| render.again(r)),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![Field::mass("reading", "On the scale").optional()]
    }
}

impl TakenDown {
    /// What nobody weighs has lost nobody knows how much.
    fn unweighed(&self, validator: &Validator<'_>) -> Option<Finding> {
        let piece = validator.piece(self.piece)?;
        Some(
            Finding::new(
                Code::LossUnknown,
                Severity::Caution,
                format!(
                    "Nobody weighs {}: its loss stays unknown, and it is cooked before eating.",
                    piece.tag
                ),
            )
            .saw("no weight")
            .wants("what the scale shows, cloth and net and all")
            .remedy("Weigh it now, or keep it as typed: days and feel are schools, no proof."),
        )
    }
}
