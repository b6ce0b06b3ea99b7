//! Something that holds the meat back was answered.

use super::desk::words;
use super::form::options;
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::catalogue::holds::{HoldAnswer, HoldKind};
use crate::caution::{Code, Finding, Severity};
use crate::ids::{LotId, word};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, err, gone};
use crate::ledger::state::{Answered, State};
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// Something that holds the meat back was answered.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct HoldAnswered {
    /// What.
    pub kind: HoldKind,
    /// How.
    pub answer: HoldAnswer,
    /// By whom, or with which number.
    pub note: Option<String>,
}

/// Something that holds the meat back is answered.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct HoldAnsweredAsk {
    /// The lot.
    pub lot: LotId,
    /// What.
    pub kind: HoldKind,
    /// How.
    pub answer: HoldAnswer,
    /// By whom, or with which number.
    #[serde(default)]
    pub note: Option<String>,
}

impl Asked for HoldAnsweredAsk {
    fn draft(&self, _: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = HoldAnswered {
            kind: self.kind,
            answer: self.answer,
            note: words(self.note.as_deref()),
        };
        Ok(vec![(self.lot, Act::HoldAnswered(act))])
    }
}

impl Deed for HoldAnswered {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let lot = state.lot.as_ref().ok_or_else(gone)?;
        if !lot.holds().any(|h| h.kind == self.kind) {
            return err("kind", format!("{} has no such hold.", lot.received.tag));
        }
        if !self.kind.answers().contains(&self.answer) {
            return err("answer", "Choose one of the answers it offers.".into());
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let answered = Answered {
            answer: self.answer,
            at: entry.happened_at,
            note: self.note.clone(),
            entry: entry.id,
        };
        // A bad answer stands until that answer itself is put right: a later one does not lift it.
        let answers = &mut state.facts.answers;
        if answers.get(&self.kind).map(|a| a.answer) != Some(HoldAnswer::Positive) {
            answers.insert(self.kind, answered);
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let before = gate.state.facts.answers.get(&self.kind);
        let stands = before.is_some_and(|a| a.answer == HoldAnswer::Positive);
        if !stands || self.answer == HoldAnswer::Positive {
            return Vec::new();
        }
        vec![
            Finding::new(
                Code::OpenHold,
                Severity::Caution,
                "This animal is written down as positive; another answer does not lift that.",
            )
            .saw(word(&self.answer))
            .wants("the positive answer itself put right, if it was a slip")
            .way_out("Correct or undo the positive answer. Kept, both stand, and nobody eats it."),
        ]
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    fn said(&self) -> &'static str {
        "answered"
    }

    fn detail(&self, _: &Scene<'_>) -> String {
        let note = self.note.as_ref().map(|n| format!(" ({n})"));
        format!(
            "{}: {}{}",
            word(&self.kind).replace('_', " "),
            word(&self.answer),
            note.unwrap_or_default()
        )
    }

    fn ask_again(&self, lot: LotId, _: &Scene<'_>) -> Option<Ask> {
        Some(Ask::HoldAnswered(HoldAnsweredAsk {
            lot,
            kind: self.kind,
            answer: self.answer,
            note: self.note.clone(),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![
            Field::one_of("answer", "Answer", options(self.kind.answers())),
            Field::text("note", "By whom, or with which number").optional(),
        ]
    }
}
