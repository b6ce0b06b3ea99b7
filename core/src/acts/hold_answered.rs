//! Something that holds the meat back was answered.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::catalogue::Catalogue;
use crate::catalogue::holds::{HoldAnswer, HoldKind};
use crate::caution::{Code, Finding, Severity};
use crate::form::{AskError, Field, FieldOption};
use crate::house::House;
use crate::ids::{LotId, word};
use crate::ledger::facts::Act;
use crate::ledger::facts::hold_answered::HoldAnswered;
use serde::{Deserialize, Serialize};

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
    /// Why, where it goes past a block.
    #[serde(default)]
    pub reason: Option<String>,
}

impl Draft for HoldAnsweredAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let note = words(self.note.as_deref());
        let numbered = note
            .as_ref()
            .is_some_and(|n| n.chars().any(char::is_numeric));
        match (self.kind, self.answer) {
            (HoldKind::Freezing, HoldAnswer::Clear) if !numbered => {
                return Err(AskError::field(
                    "note",
                    "Type the number of the test, as the laboratory or the inspector wrote it.",
                ));
            }
            (HoldKind::Freezing, HoldAnswer::Stamped) => stamp_counts(context)?,
            (HoldKind::WastingTest, HoldAnswer::NotAffected) if note.is_none() => {
                return Err(AskError::field(
                    "note",
                    "Type who says that it comes from no affected area, e.g. the state wildlife agency.",
                ));
            }
            (HoldKind::Freezing | HoldKind::WastingTest | HoldKind::Shot | HoldKind::Smell, _) => {}
        }
        let act = HoldAnswered {
            kind: self.kind,
            answer: self.answer,
            note,
            reason: words(self.reason.as_deref()),
        };
        Ok(vec![(self.lot, Act::HoldAnswered(act))])
    }
}

/// Whether pork that an inspector stamped was tested for trichinella, by a household's rules.
#[must_use]
pub fn stamp_is_a_test(home: &House, catalogue: &Catalogue) -> bool {
    home.settings
        .rules(catalogue)
        .is_ok_and(|r| r.stamped_pork_is_tested)
}

/// Refuses a stamp as an answer where it says nothing.
fn stamp_counts(context: &DraftContext<'_>) -> Result<(), AskError> {
    if stamp_is_a_test(context.home, context.catalogue()) {
        return Ok(());
    }
    let rules = context.home.settings.rules(context.catalogue());
    let name = rules.map_or_else(
        |_| context.home.settings.rule_set.clone(),
        |r| r.name.clone(),
    );
    Err(AskError::field(
        "answer",
        format!(
            "By your rules ({name}) stamped pork is not tested for trichinella. Freeze it, enter a clear test with its number, or choose a product that is cooked."
        ),
    ))
}

impl Review for HoldAnswered {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let before = validator
            .state
            .facts
            .answers
            .get(&self.kind)
            .map(|a| a.answer);
        let given_up = matches!(self.answer, HoldAnswer::NotTested | HoldAnswer::NotAffected);
        match before {
            Some(HoldAnswer::Positive) if self.answer != HoldAnswer::Positive => vec![
                Finding::new(
                    Code::OpenHold,
                    Severity::Caution,
                    "This animal is recorded as positive. Another answer does not lift that.",
                )
                .saw(self.answer.label())
                .wants("the positive answer itself corrected, if it was a slip")
                .remedy("Correct or undo the positive answer. Saved as it is, both answers stay and nobody eats it."),
            ],
            Some(HoldAnswer::Waiting) if given_up => vec![
                Finding::new(
                    Code::OpenHold,
                    Severity::Stop,
                    "A sample was sent in. Without its result nobody knows whether the animal was ill.",
                )
                .saw(self.answer.label())
                .wants("the result of the sample")
                .remedy("Wait for the result. A typed reason goes on, and the label says so."),
            ],
            Some(_) | None => Vec::new(),
        }
    }

    fn detail(&self, _: &RenderContext<'_>) -> String {
        let note = self.note.as_ref().map(|n| format!(" ({n})"));
        format!(
            "{}: {}{}",
            word(&self.kind).replace('_', " "),
            self.answer.label(),
            note.unwrap_or_default()
        )
    }

    fn ask_again(&self, lot: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::HoldAnswered(HoldAnsweredAsk {
            lot,
            kind: self.kind,
            answer: self.answer,
            note: self.note.clone(),
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let lot = render.lot.state.lot.as_ref();
        let hold = lot.and_then(|l| l.holds().find(|h| h.kind == self.kind));
        let answers = hold.map_or(&[][..], |h| h.answers()).iter();
        let answers = answers.map(|a| FieldOption {
            value: word(a),
            label: a.label().into(),
        });
        vec![
            Field::one_of("answer", "Answer", answers.collect()),
            Field::text("note", "By whom, or with which number").optional(),
            Field::text("reason", "Why, if it goes past a block").optional(),
        ]
    }
}
