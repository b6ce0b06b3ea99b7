//! A timer was set: it rings on every open page until it is answered.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::{Count, Field, FieldKind, option};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::timer_set::TimerSet;
use crate::piece::TimerFor;
use serde::{Deserialize, Serialize};

/// A timer is set; another of its kind on the same piece ends with it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TimerSetAsk {
    /// The piece.
    pub piece: PieceId,
    /// What is waited for.
    pub what: TimerFor,
    /// For how long, from when it happened (min).
    pub minutes: Count,
    /// What to do then.
    #[serde(default)]
    pub note: Option<String>,
}

impl Draft for TimerSetAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = TimerSet {
            piece: self.piece,
            what: self.what,
            minutes: context.count(&self.minutes, "minutes")?,
            note: words(self.note.as_deref()),
        };
        context.about(self.piece, Act::TimerSet(act))
    }
}

impl Review for TimerSet {
    fn warnings(&self, _: &Validator<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn detail(&self, _: &RenderContext<'_>) -> String {
        let note = self
            .note
            .as_ref()
            .map_or_else(String::new, |n| format!(": {n}"));
        format!("{} min {}{note}", self.minutes, self.what.label())
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::TimerSet(TimerSetAsk {
            piece: self.piece,
            what: self.what,
            minutes: self.minutes.into(),
            note: self.note.clone(),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            timers("what", "What is waited for"),
            Field::new("minutes", "Minutes", FieldKind::Count),
            Field::text("note", "What to do then").optional(),
        ]
    }
}

/// Which timer, as a field to choose from.
pub(crate) fn timers(name: &str, label: &str) -> Field {
    let options = TimerFor::ALL.map(|what| option(&what, what.label()));
    Field::one_of(name, label, options.to_vec())
}
