//! Something that holds the meat back was answered.

use crate::catalogue::SnapshotKey;
use crate::catalogue::holds::{HoldAnswer, HoldKind};
use crate::ledger::Entry;
use crate::ledger::facts::{Fact, Family};
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
    /// Why, where it goes past a block.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
}

impl Fact for HoldAnswered {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let lot = state.lot.as_ref().ok_or_else(gone)?;
        let Some(hold) = lot.holds().find(|h| h.kind == self.kind) else {
            return err("kind", format!("{} has no such hold.", lot.received.tag));
        };
        if !hold.answers().contains(&self.answer) {
            return err("answer", "Choose one of the answers it offers.".into());
        }
        Ok(Vec::new())
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        let answered = Answered {
            answer: self.answer,
            at: entry.happened_at,
            note: self.note.clone(),
            reason: self.reason.clone(),
            entry: entry.id,
        };
        state.facts.answered.push((self.kind, answered.clone()));
        // A bad answer stands until that answer itself is put right: a later one does not lift it.
        let answers = &mut state.facts.answers;
        if answers.get(&self.kind).map(|a| a.answer) != Some(HoldAnswer::Positive) {
            answers.insert(self.kind, answered);
        }
    }

    fn reason(&self) -> Option<&str> {
        self.reason.as_deref()
    }

    fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    fn label(&self) -> &'static str {
        "answered"
    }
}
