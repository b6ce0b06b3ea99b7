//! A step that needs no weighing was done on a piece's way: rinsed, tied, rested.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::catalogue::steps::StepKind;
use crate::caution::{Code, Finding, Severity};
use crate::form::Field;
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::step_done::StepDone;
use crate::units::show::{self, trim};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// A step on its way is done.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct StepDoneAsk {
    /// The piece.
    pub piece: PieceId,
    /// The step, by its name in the piece's build.
    pub step: String,
    /// What to know about it.
    #[serde(default)]
    pub note: Option<String>,
    /// How thick it is now, as typed, where it was rolled.
    #[serde(default)]
    pub thickness: Option<String>,
}

impl Draft for StepDoneAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = StepDone {
            piece: self.piece,
            step: self.step.trim().into(),
            note: words(self.note.as_deref()),
            thickness: context.typed_if(self.thickness.as_deref(), "thickness")?,
        };
        context.about(self.piece, Act::StepDone(act))
    }
}

/// Before this share of its least time a step cannot be done.
const CAN_BE_TRUE: f64 = 0.5;

/// What is written down closer together than this was written down together (h).
const TOGETHER_H: f64 = 0.05;

/// What is asked about something that is said to be done before it can be.
pub(crate) fn too_soon(
    what: &str,
    since: Timestamp,
    at: Timestamp,
    earliest_h: f64,
) -> Option<Finding> {
    let gone = at.duration_since(since).as_secs_f64() / 3_600.0;
    (gone >= TOGETHER_H && gone < earliest_h - 1e-9).then(|| {
        let said = |h: f64| {
            if h < 1.0 {
                format!("{} min", trim(h * 60.0, 0))
            } else if h < 48.0 {
                format!("{} h", trim(h, 1))
            } else {
                show::days(h / 24.0)
            }
        };
        Finding::new(
            Code::TooSoon,
            Severity::Caution,
            format!("Can “{what}” be done so soon?"),
        )
        .saw(said(gone))
        .wants(format!("at least {}", said(earliest_h)))
        .remedy("Wait, or give the time when it really was.")
    })
}

impl Review for StepDone {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator.piece(self.piece) else {
            return Vec::new();
        };
        let step = piece.open_steps().find(|s| s.id == self.step);
        let Some(step) = step else { return Vec::new() };
        if step.kind == StepKind::Ferment {
            // A tick takes no reason: what needs one is asked for at the hook.
            let mut gate: Vec<Finding> = validator.soured(piece).into_iter().collect();
            for finding in gate.iter_mut().filter(|f| f.code == Code::NotSour) {
                finding.severity = Severity::Caution;
            }
            return gate;
        }
        let earliest = step.window().earliest_h * CAN_BE_TRUE;
        let since = piece.last_seen().unwrap_or(piece.since);
        let unmeasured = || {
            let rolled = step.kind == StepKind::Roll && !validator.correcting;
            let heated = piece.open_steps().any(|s| s.kind.is_heat());
            (rolled && heated && self.thickness.is_none()).then(|| {
                Finding::new(
                    Code::RollUnmeasured,
                    Severity::Caution,
                    "How thick is it, rolled? Its time in the smoker goes by that.",
                )
                .saw("no thickness")
                .wants("the thickness of the roll, such as 90 mm")
                .remedy("Measure across it and type it, or save it as it is.")
            })
        };
        too_soon(&step.verb, since, validator.at, earliest)
            .into_iter()
            .chain(unmeasured())
            .collect()
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let build = render
            .lot
            .state
            .pieces
            .get(&self.piece)
            .and_then(|p| p.build());
        let step = build.and_then(|b| b.steps.iter().find(|s| s.id == self.step));
        let verb = step.map_or(self.step.as_str(), |s| s.verb.as_str());
        let thick = self.thickness.as_ref().map(|t| render.label(t));
        let more: Vec<_> = thick.into_iter().chain(self.note.clone()).collect();
        if more.is_empty() {
            verb.into()
        } else {
            format!("{verb}: {}", more.join(", "))
        }
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::StepDone(StepDoneAsk {
            piece: self.piece,
            step: self.step.clone(),
            note: self.note.clone(),
            thickness: self.thickness.as_ref().map(|t| render.again(t)),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::text("note", "Note").optional(),
            Field::thickness("thickness", "Thickness, where it was rolled").optional(),
        ]
    }
}
