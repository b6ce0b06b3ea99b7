//! Nobody is at home for some days: what is done before, what waits, what is missed without harm, and what cannot wait.

use super::Task;
use super::cache::LotPlan;
use crate::agenda::TaskKind;
use crate::cure::methods::Waits;
use crate::ids::{PieceId, VesselId};
use crate::ledger::book::Book;
use crate::ledger::state::Stage;
use crate::place::PlaceUse;
use crate::timetable::House;
use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use std::sync::Arc;

/// What an absence means for a task.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Leave {
    /// It can neither be done before nor wait.
    Cannot,
    /// It is done before.
    Before,
    /// It waits until somebody is back.
    Waits,
    /// It falls out, and does little harm.
    Missed,
}

impl Leave {
    /// In the order in which one wants to know.
    pub const ALL: [Self; 4] = [Self::Cannot, Self::Before, Self::Waits, Self::Missed];
}

/// A task that falls into the absence.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AwayLine {
    /// The task.
    pub task: Task,
    /// What to do about it.
    pub words: String,
    /// The day to which it can be moved.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = Date))]
    pub move_to: Option<Date>,
}

/// Tasks for which an absence means the same.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AwayGroup {
    /// What it means.
    pub leave: Leave,
    /// For which.
    pub lines: Vec<AwayLine>,
}

/// What an absence means.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Away {
    /// The first day on which nobody is at home.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub from: Date,
    /// The last.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub to: Date,
    /// What cannot be left, first.
    pub groups: Vec<AwayGroup>,
    /// Places that somebody has to look after.
    pub places: Vec<String>,
}

/// What an absence from one day to another, both of them out of the house, means.
#[must_use]
pub fn away(
    plans: &[Arc<LotPlan>],
    book: &Book,
    home: &House,
    now: Timestamp,
    (from, to): (Date, Date),
) -> Away {
    let today = home.settings.day(now);
    let gone = from..=to;
    let before = from.saturating_sub(1.day());
    let back = to.saturating_add(1.day());
    let mut lines: Vec<(Leave, AwayLine)> = Vec::new();
    let mut settled: BTreeSet<PieceId> = BTreeSet::new();
    let first_here = |t: &&Task| t.kind != TaskKind::Turn;
    for plan in plans {
        for task in plan.open.iter().chain(&plan.ahead).filter(first_here) {
            let due = task.due.max(today);
            if due < from && task.latest < back && plan.open.iter().any(|t| std::ptr::eq(t, task)) {
                let said = AwayLine {
                    task: task.clone(),
                    words: "It is due before, and does not wait until you are back.".into(),
                    move_to: None,
                };
                lines.push((Leave::Before, said));
                continue;
            }
            if !gone.contains(&due) || !settled.insert(task.piece) {
                continue;
            }
            let is_ahead = plan.ahead.iter().any(|t| std::ptr::eq(t, task));
            let found = line(task, is_ahead, book, (today, before, back));
            // What could not wait out of its cure can wait in it.
            let in_cure = |t: &&Task| {
                t.piece == task.piece
                    && t.kind == TaskKind::OutOfCure
                    && t.hours.is_none()
                    && t.latest >= back
            };
            lines.push(match plan.open.iter().find(in_cure) {
                Some(out) if is_ahead && found.0 == Leave::Cannot => {
                    line(out, false, book, (today, before, back))
                }
                Some(_) | None => found,
            });
        }
    }
    let mut vessels: BTreeSet<VesselId> = BTreeSet::new();
    for turn in plans.iter().flat_map(|p| &p.turns) {
        let missed = turn.days.iter().filter(|d| gone.contains(d)).count();
        let task = plans
            .iter()
            .flat_map(|p| &p.open)
            .find(|t| t.piece == turn.piece && t.kind == TaskKind::Turn);
        if missed == 0 || !turn.vessel.is_none_or(|v| vessels.insert(v)) {
            continue;
        }
        if let Some(task) = task {
            lines.push((Leave::Missed, turnings(task, missed, book)));
        }
    }
    let groups = Leave::ALL.into_iter().filter_map(|leave| {
        let of = lines.iter().filter(|(l, _)| *l == leave);
        let lines: Vec<_> = of.map(|(_, line)| line.clone()).collect();
        (!lines.is_empty()).then_some(AwayGroup { leave, lines })
    });
    Away {
        from,
        to,
        groups: groups.collect(),
        places: places(book, home),
    }
}

fn line(
    task: &Task,
    is_ahead: bool,
    book: &Book,
    (today, before, back): (Date, Date, Date),
) -> (Leave, AwayLine) {
    let said = |words: &str, move_to| AwayLine {
        task: task.clone(),
        words: words.into(),
        move_to,
    };
    let may_move = task.hours.is_none() && !is_ahead;
    if task.latest >= back {
        let day = task.earliest.max(back);
        return (
            Leave::Waits,
            said(waits_words(task, book), may_move.then_some(day)),
        );
    }
    if task.earliest <= before && before >= today {
        return (
            Leave::Before,
            said(
                "Do it before you leave.",
                may_move.then_some(before.min(task.latest)),
            ),
        );
    }
    let words = match task.kind {
        TaskKind::OutOfCure if task.hours.is_some() => {
            "It comes out of the salt to the hour: somebody has to be there, or it is started later."
        }
        TaskKind::OutOfCure if waits_in_cure(task, book) => {
            "It may wait, but not so long: somebody takes it out and freezes it, or it is started later."
        }
        TaskKind::OutOfCure => {
            "It grows saltier, or spoils, with every day past this one: somebody takes it out, or it is started later."
        }
        TaskKind::Assign | TaskKind::Dose => {
            "Raw meat does not wait so long: cure it before you leave, or freeze it."
        }
        TaskKind::Smoke | TaskKind::Cook | TaskKind::ByHand | TaskKind::Pack | TaskKind::Hang
            if is_out_of_cure(task, book) =>
        {
            "Out of its cure it does not keep so long: keep it cold, freeze it before you leave, or ask somebody."
        }
        TaskKind::Smoke | TaskKind::Cook | TaskKind::ByHand | TaskKind::Pack | TaskKind::Hang => {
            "Out of its cure it does not keep so long: leave it in its cure if that may wait, or ask somebody."
        }
        TaskKind::Thaw => {
            "Nobody takes it out of the freezer meanwhile: give it a later day, or ask somebody."
        }
        TaskKind::Discard => "Throw it away before you leave.",
        TaskKind::Pump => "It is pumped on the day it goes into its brine: do it before you leave.",
        TaskKind::Turn | TaskKind::WeighIn | TaskKind::TakeDown => {
            "Somebody has to see to it meanwhile."
        }
    };
    (Leave::Cannot, said(words, None))
}

/// True for what left its cure, or never was in one: nothing can be put off in there.
fn is_out_of_cure(task: &Task, book: &Book) -> bool {
    book.piece(task.piece)
        .is_some_and(|(_, p)| p.stage() != Stage::InCure && p.stage() != Stage::Dose)
}

/// True for a measured dose that may wait past its day.
fn waits_in_cure(task: &Task, book: &Book) -> bool {
    let dose = book.piece(task.piece).and_then(|(_, p)| p.dose());
    dose.is_some_and(|d| d.method.dosing().waits == Waits::Slack) && task.latest > task.due
}

fn waits_words(task: &Task, book: &Book) -> &'static str {
    match task.kind {
        TaskKind::OutOfCure if waits_in_cure(task, book) => {
            "Its dose was measured: it may wait, and gets no saltier."
        }
        TaskKind::WeighIn | TaskKind::TakeDown => {
            "It hangs on; it may be drier than wanted when you are back."
        }
        TaskKind::Discard
        | TaskKind::Assign
        | TaskKind::Thaw
        | TaskKind::Dose
        | TaskKind::Pump
        | TaskKind::Turn
        | TaskKind::OutOfCure
        | TaskKind::ByHand
        | TaskKind::Smoke
        | TaskKind::Cook
        | TaskKind::Hang
        | TaskKind::Pack => "It waits until you are back.",
    }
}

fn turnings(task: &Task, missed: usize, book: &Book) -> AwayLine {
    let deadline = book
        .piece(task.piece)
        .and_then(|(_, p)| p.dose())
        .is_some_and(|d| d.method.dosing().waits == Waits::Deadline);
    let times = if missed == 1 {
        "One turning falls out".into()
    } else {
        format!("{missed} turnings fall out")
    };
    let remedy = if deadline {
        "ask somebody to stir it, or shake it well before you leave and when you are back."
    } else {
        "turn it before you leave and when you are back; the dose evens out all the same."
    };
    AwayLine {
        task: task.clone(),
        words: format!("{times}: {remedy}"),
        move_to: None,
    }
}

/// Places without cooling in which meat lies.
fn places(book: &Book, home: &House) -> Vec<String> {
    let Some(equipment) = &home.settings.equipment else {
        return Vec::new();
    };
    let lies_in = |id: u32| {
        let mut all = book.pieces().filter(|(_, p)| !p.stage().is_over());
        all.any(|(_, p)| {
            p.place()
                .is_some_and(|lies| home.settings.lies_in(lies, id))
        })
    };
    let asked = equipment
        .places_for(PlaceUse::Cold)
        .filter(|p| p.kind().is_some_and(|k| k.asked) && lies_in(p.id));
    asked
        .map(|p| {
            format!(
                "Nobody reads the {} meanwhile: move what lies there into the fridge, or ask somebody to look three times a day.",
                p.name
            )
        })
        .collect()
}
