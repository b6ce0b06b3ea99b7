//! What comes after the steps that are open: each at its planned time after the one before it.

use super::Task;
use super::way::{Span, gate_kind, later, task};
use crate::agenda::TaskKind;
use crate::catalogue::Catalogue;
use crate::catalogue::steps::{DoneBy, Step, StepKind, Wanted, Window};
use crate::cure::days::{Lying, counted_thickness, days};
use crate::dose::AS_USUAL;
use crate::hang::pace::Paces;
use crate::hang::usual_days;
use crate::ledger::LotId;
use crate::ledger::state::{Piece, Stage, State};
use crate::piece::StopBy;
use crate::timetable::House;
use crate::units::{Fraction, Grams};
use jiff::Timestamp;
use jiff::civil::Date;

/// The share of lean of which nobody said anything.
const USUAL_LEAN: Fraction = Fraction(0.9);

/// Later steps of a piece, in order, given what is open; steps that may be left out are not reckoned with.
#[must_use]
pub fn ahead(
    piece: &Piece,
    dries: (&State, &Paces<'_>),
    lot: LotId,
    open: &[Task],
    home: &House,
    catalogue: &Catalogue,
    now: Timestamp,
) -> Vec<Task> {
    let today = home.settings.day(now);
    let Some(build) = piece.build().filter(|b| !b.ending) else {
        return Vec::new();
    };
    let is_gate = |t: &&Task| !matches!(t.kind, TaskKind::Pump | TaskKind::Turn | TaskKind::ByHand);
    let Some(gate) = open.iter().find(is_gate) else {
        return Vec::new();
    };
    if matches!(gate.kind, TaskKind::Discard | TaskKind::Thaw) {
        return Vec::new();
    }
    let mut cursor = gate.due.max(today);
    let mut found = Vec::new();
    let add = |found: &mut Vec<Task>, kind, step: &Step, due: Date, wait: i64| {
        let span = Span::Days(due, due, later(due, wait));
        found.push(task((piece, lot, home, now), kind, Some(step), span, None));
    };
    let steps = build.steps.as_slice();
    let at = |kind: StepKind| steps.iter().position(|s| s.kind == kind);
    let mut next = match piece.stage() {
        Stage::Dose => at(StepKind::Dose).map_or(0, |i| i + 1),
        Stage::Hanging => {
            let hang = at(StepKind::Hang);
            if gate.kind == TaskKind::WeighIn
                && let Some(step) = hang.and_then(|i| steps.get(i))
                && let Some(down) = dry_on(piece, dries, home)
            {
                cursor = cursor.max(down);
                add(&mut found, TaskKind::TakeDown, step, cursor, 2);
            }
            hang.map_or(steps.len(), |i| i + 1)
        }
        Stage::InCure
        | Stage::Smoke
        | Stage::Hang
        | Stage::Pack
        | Stage::Assign
        | Stage::Packed
        | Stage::CutUp
        | Stage::Joined
        | Stage::Discarded => {
            let id = gate.step.as_ref().map(|s| s.id.as_str());
            let here = steps.iter().position(|s| Some(s.id.as_str()) == id);
            here.map_or(steps.len(), |i| i + 1)
        }
    };
    if gate.kind == TaskKind::Hang {
        cursor = hung_until(piece, cursor, &mut found, &steps[next - 1], &add);
    }
    // Hours by hand since the last step that has a place.
    let mut by_hand_h = 0.0;
    while let Some(step) = steps.get(next) {
        next += 1;
        let Window {
            due_h, latest_h, ..
        } = step.window();
        let days_on = |h: f64| (h / 24.0 - 1e-9).ceil().max(0.0) as i64;
        let wait = days_on(latest_h - due_h);
        let traits = step.kind.traits();
        match traits.done_by {
            DoneBy::OutOfCure => {
                cursor = later(cursor, days_in_cure(piece, home, catalogue).unwrap_or(0));
                add(&mut found, TaskKind::OutOfCure, step, cursor, wait);
                by_hand_h = 0.0;
            }
            DoneBy::Smoked | DoneBy::Hung | DoneBy::Packed => {
                if step.may_be_left_out() {
                    continue;
                }
                let Some(kind) = gate_kind(step) else {
                    continue;
                };
                cursor = later(cursor, days_on(due_h.max(by_hand_h)));
                add(&mut found, kind, step, cursor, wait);
                by_hand_h = 0.0;
                if kind == TaskKind::Hang {
                    cursor = hung_until(piece, cursor, &mut found, step, &add);
                }
            }
            DoneBy::Dosed => {}
            DoneBy::Coated | DoneBy::Soaked | DoneBy::Checked | DoneBy::Worked | DoneBy::Tick => {
                if traits.wanted == Wanted::Always {
                    by_hand_h += due_h;
                    let due = later(cursor, days_on(by_hand_h));
                    add(&mut found, TaskKind::ByHand, step, due, wait);
                }
            }
        }
    }
    found
}

/// Adds the day on which it is likely to have lost enough, hung on a day.
fn hung_until(
    piece: &Piece,
    from: Date,
    found: &mut Vec<Task>,
    step: &Step,
    add: &impl Fn(&mut Vec<Task>, TaskKind, &Step, Date, i64),
) -> Date {
    let Some(days) = usual_drying(piece) else {
        return from;
    };
    let down = later(from, days);
    add(found, TaskKind::TakeDown, step, down, 2);
    down
}

/// How long it usually hangs (days), by its thickness.
fn usual_drying(piece: &Piece) -> Option<i64> {
    let loss = piece.build()?.hang.as_ref()?.loss_fraction;
    let thick = counted_thickness(piece.build()?, piece.shape.thickness())?;
    let lean = piece.fat.as_ref().map(|f| Fraction(1.0 - f.value.0));
    usual_days(thick, Fraction(loss), lean.unwrap_or(USUAL_LEAN)).map(i64::from)
}

/// The day on which what hangs is likely to have lost enough.
fn dry_on(piece: &Piece, (state, paces): (&State, &Paces<'_>), home: &House) -> Option<Date> {
    let hung = piece.hanging.as_ref()?;
    if let StopBy::Days { days } = hung.stop {
        return Some(later(home.settings.day(hung.since), i64::from(days)));
    }
    let (_, days, _) = paces.of(state, piece)?.days_to(hung.loss)?;
    (days < MOST_AHEAD).then(|| later(home.settings.day(hung.since), days.ceil() as i64))
}

/// Nothing is planned further ahead (days).
const MOST_AHEAD: f64 = 3_650.0;

/// Days in the cure of a piece that is not dosed yet.
fn days_in_cure(piece: &Piece, home: &House, catalogue: &Catalogue) -> Option<i64> {
    let build = piece.build()?;
    let lying = Lying {
        build,
        thickness: counted_thickness(build, piece.shape.thickness())?,
        mass: Grams(piece.green.grams()),
        shape: &piece.shape,
        pumped: false,
        time: &AS_USUAL,
    };
    let plan = days(&lying, None, &catalogue.schools, home.settings.units).ok()?;
    Some(i64::from(plan.days))
}
