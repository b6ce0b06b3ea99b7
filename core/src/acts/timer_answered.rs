//! A timer that rang, or ran, was answered: it is over for every page.

use crate::acts::timer_set::timers;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::Field;
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::timer_answered::TimerAnswered;
use crate::piece::TimerFor;
use serde::{Deserialize, Serialize};

/// A timer is answered; soaking and coming out of the cure answer theirs by themselves.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TimerAnsweredAsk {
    /// The piece.
    pub piece: PieceId,
    /// What was waited for.
    pub what: TimerFor,
}

impl Draft for TimerAnsweredAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = TimerAnswered {
            piece: self.piece,
            what: self.what,
        };
        context.about(self.piece, Act::TimerAnswered(act))
    }
}

impl Review for TimerAnswered {
    fn warnings(&self, _: &Validator<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn detail(&self, _: &RenderContext<'_>) -> String {
        self.what.label().into()
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::TimerAnswered(TimerAnsweredAsk {
            piece: self.piece,
            what: self.what,
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![timers("what", "What was waited for")]
    }
}
