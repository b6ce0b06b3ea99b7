//! The dates of the steps that are open on a piece's way.

use super::cure::next_turn;
use super::{Hours, Task, TaskStep, Urgency, When};
use crate::agenda::TaskKind;
use crate::catalogue::Catalogue;
use crate::catalogue::dosing::{DosingMethod, SaltBy};
use crate::catalogue::steps::{
    DISCARD, DoneBy, Step, StepKind, StepTimer, TripPlace, Wanted, Window,
};
use crate::cure::methods::Waits;
use crate::cure::span::{CureSpan, cure_span, slack};
use crate::hanging::ferment::{souring_hours, souring_step};
use crate::ledger::LotId;
use crate::ledger::state::{Piece, Stage};
use crate::piece::{Checked, StopBy, Timer, TimerFor};
use crate::timetable::House;
use crate::units::show;
use jiff::civil::Date;
use jiff::{SignedDuration, Timestamp, ToSpan};

/// Days raw meat waits in the fridge for its product, its dose or its smoke.
const RAW_WAITS_DAYS: i64 = 3;

/// What is to be pumped is pumped on its day, or the next (days).
const PUMP_WAITS_DAYS: i64 = 1;

/// In the first fortnight a hanging piece is weighed this often (days), later weekly.
const YOUNG_WEIGH_IN_DAYS: i64 = 3;

const OLD_WEIGH_IN_DAYS: i64 = 7;

const YOUNG_DAYS: i32 = 14;

/// What hangs long enough may hang on for so long (days).
const DRY_WAITS_DAYS: i64 = 2;

/// What comes out by the hour is named so long before (min).
const NAMED_BEFORE_MIN: i64 = 60;

/// What is turned twice a day is turned so long before its hour, or after (h).
const TURNED_AROUND_H: i64 = 4;

/// A window of whole days, or of hours.
pub(super) enum Span {
    Days(Date, Date, Date),
    Hours(Hours),
}

impl Span {
    /// From what it is counted, so many hours on; whole days are calendar days.
    pub(super) fn after(from: Timestamp, window: Window, home: &House) -> Self {
        let in_days = |h: f64| h % 24.0 == 0.0;
        if in_days(window.earliest_h) && in_days(window.due_h) && in_days(window.latest_h) {
            let day = |h: f64| later(home.settings.day(from), (h / 24.0) as i64);
            return Self::Days(
                day(window.earliest_h),
                day(window.due_h),
                day(window.latest_h),
            );
        }
        let at = |h: f64| {
            let minutes = (h * 60.0).round() as i64;
            from.saturating_add(minutes.minutes()).unwrap_or(from)
        };
        Self::Hours(Hours {
            earliest: at(window.earliest_h),
            due: at(window.due_h),
            latest: at(window.latest_h),
        })
    }
}

pub(super) fn later(day: Date, days: i64) -> Date {
    day.saturating_add(days.days())
}

/// What tasks of one piece are made of.
struct Desk<'a> {
    piece: &'a Piece,
    lot: LotId,
    home: &'a House,
    now: Timestamp,
    found: Vec<Task>,
}

impl Desk<'_> {
    fn add(&mut self, kind: TaskKind, step: Option<&Step>, span: Span, because: Option<String>) {
        self.found.push(task(
            (self.piece, self.lot, self.home, self.now),
            kind,
            step,
            span,
            because,
        ));
    }
}

/// A task in its window; where the household moved it within that, on that day.
pub(super) fn task(
    (piece, lot, home, now): (&Piece, LotId, &House, Timestamp),
    kind: TaskKind,
    step: Option<&Step>,
    span: Span,
    because: Option<String>,
) -> Task {
    let (earliest, due, latest, hours) = match span {
        Span::Days(earliest, due, latest) => (earliest, due, latest, None),
        Span::Hours(h) => (
            home.settings.day(h.earliest),
            home.settings.day(h.due),
            home.settings.day(h.latest),
            Some(h),
        ),
    };
    let latest = latest.max(due);
    let agenda = &home.agenda;
    let moved = agenda
        .day_of(piece.id, kind, step.map(|s| s.id.as_str()))
        .filter(|day| hours.is_none() && (earliest..=latest).contains(day));
    let vessel = piece.dose().and_then(|d| d.vessel.as_ref());
    let sours = kind == TaskKind::OutOfCure && souring_step(piece).is_some();
    let mut task = Task {
        kind,
        place: if sours {
            TripPlace::Chamber
        } else {
            kind.place(step.map(|s| s.kind))
        },
        step: step.map(|s| TaskStep {
            id: s.id.clone(),
            kind: s.kind,
            verb: s.verb.clone(),
        }),
        piece: piece.id,
        lot,
        tag: piece.tag.clone(),
        earliest: earliest.min(due),
        due: moved.unwrap_or(due),
        latest,
        hours,
        moved: moved.is_some(),
        because,
        vessel: vessel.map(|v| v.id),
        vessel_name: vessel.and_then(|v| v.name.clone()),
        with: Vec::new(),
        with_tags: Vec::new(),
        urgency: Urgency::Coming,
    };
    task.urgency = task.urgency_at(now, home.settings.day(now));
    task
}

/// What is to do with one piece, the step that holds it up first, then what is done by hand on the way.
#[must_use]
pub fn of_piece(
    piece: &Piece,
    lot: LotId,
    home: &House,
    catalogue: &Catalogue,
    now: Timestamp,
) -> Vec<Task> {
    let mut desk = Desk {
        piece,
        lot,
        home,
        now,
        found: Vec::new(),
    };
    let since = home.settings.day(piece.since);
    if let Some(bad) = found_bad(piece).filter(|_| !piece.stage().is_over()) {
        let day = home.settings.day(bad.at);
        let what = catalogue.check(&bad.check);
        let what = what.map_or(bad.check.as_str(), |c| c.name.as_str());
        desk.add(
            TaskKind::Discard,
            None,
            Span::Days(day, day, day),
            Some(format!("{what} found bad")),
        );
        return desk.found;
    }
    if let Some(frost) = piece.frost() {
        // What lies frozen waits for nothing but its own day.
        if let Some(by) = frost.thaw_by {
            let takes = piece.thaws_in_days();
            let due = later(by, -takes).max(home.settings.day(frost.from));
            let because = format!(
                "to be thawed by {}: {} in the fridge",
                by.strftime("%-d %B"),
                show::days(takes as f64)
            );
            let span = Span::Days(due.min(by), due.min(by), by);
            desk.add(TaskKind::Thaw, None, span, Some(because));
        }
        return desk.found;
    }
    let raw = Span::Days(since, since, later(since, RAW_WAITS_DAYS));
    match piece.stage() {
        Stage::Assign => desk.add(TaskKind::Assign, None, raw, None),
        Stage::Dose => {
            let step = piece.build().and_then(|b| b.step(StepKind::Dose));
            desk.add(TaskKind::Dose, step, raw, None);
        }
        Stage::InCure => in_cure(&mut desk, catalogue),
        Stage::Hanging => hanging(&mut desk),
        Stage::Pack if piece.build().is_some_and(|b| b.ending) => {
            desk.add(TaskKind::Pack, None, raw, None);
        }
        Stage::Smoke | Stage::Hang | Stage::Pack => {
            let mut by_hand = by_hand(piece, home);
            if let Some((kind, step, from)) = gate(piece) {
                let mut span = Span::after(from, step.window(), home);
                // What is done before it comes before it.
                if let (Span::Days(_, due, latest), Some((_, before, _))) =
                    (&mut span, by_hand.last())
                {
                    let before = match before {
                        Span::Days(_, due, _) => *due,
                        Span::Hours(h) => home.settings.day(h.due),
                    };
                    *due = (*due).max(before);
                    *latest = (*latest).max(*due);
                }
                desk.add(kind, Some(step), span, None);
                // What only waits is over when the next thing has come.
                let has_come = |t: &Task| t.urgency != Urgency::Coming;
                if desk.found.last().is_some_and(has_come) {
                    by_hand.retain(|(step, _, _)| !step.kind.traits().only_waits);
                }
            }
            for (step, span, because) in by_hand {
                desk.add(TaskKind::ByHand, Some(step), span, because);
            }
        }
        Stage::Packed | Stage::CutUp | Stage::Joined | Stage::Discarded => {}
    }
    desk.found
}

/// What was found bad of the piece as a whole, and not put right since.
fn found_bad(piece: &Piece) -> Option<&Checked> {
    let mut whole = piece.checks.iter().filter(|c| c.pack.is_none());
    whole.find(|c| c.grade.as_deref() == Some(DISCARD))
}

fn in_cure(desk: &mut Desk<'_>, catalogue: &Catalogue) {
    let (piece, home) = (desk.piece, desk.home);
    let Some(span) = cure_span(piece, home, catalogue) else {
        // It would lie there unseen until somebody thinks of it.
        let today = home.settings.day(desk.now);
        let step = piece.build().and_then(|b| b.step(StepKind::Cure));
        let because = "nobody measured how thick it is, so nobody can say when";
        let span = Span::Days(today, today, later(today, slack(piece)));
        return desk.add(TaskKind::OutOfCure, step, span, Some(because.into()));
    };
    let CureSpan {
        out_on: out,
        out_at,
        days,
        ..
    } = span;
    let step = piece.build().and_then(|b| b.step(StepKind::Cure));
    let to_pump = piece
        .dose()
        .is_some_and(|d| d.method == DosingMethod::Injection);
    if let Some(cure) = piece.cure.as_ref().filter(|c| to_pump && !c.is_pumped()) {
        let day = home.settings.day(cure.since);
        let span = Span::Days(day, day, later(day, PUMP_WAITS_DAYS));
        let grid = "a needle every 25 to 40 mm, and along the bone; weigh it before and after";
        desk.add(TaskKind::Pump, None, span, Some(grid.into()));
    }
    let turn = next_turn(piece, days, home).map(|when| match when {
        When::Day(day) => (day, Span::Days(day, day, day)),
        When::Moment(at) => {
            let around = |h: i64| at.saturating_add(h.hours()).unwrap_or(at);
            let hours = Hours {
                earliest: around(-TURNED_AROUND_H),
                due: at,
                latest: around(TURNED_AROUND_H),
            };
            (home.settings.day(at), Span::Hours(hours))
        }
    });
    // On the day on which it comes out nobody turns it any more.
    let is_over = home.settings.day(desk.now) >= out;
    if let Some((_, turn)) = turn.filter(|(day, _)| *day < out && !is_over) {
        desk.add(TaskKind::Turn, None, turn, None);
    }
    if let Some(at) = out_at {
        let named = SignedDuration::from_mins(NAMED_BEFORE_MIN);
        let hours = Hours {
            earliest: at.checked_sub(named).unwrap_or(at),
            due: at,
            latest: at,
        };
        return desk.add(TaskKind::OutOfCure, step, Span::Hours(hours), None);
    }
    // What has a deadline grows saltier with every day that it waits.
    let waits = piece.dose().map(|d| d.method.dosing().waits);
    let latest = match waits {
        Some(Waits::Deadline) => out,
        Some(Waits::Slack) | None => later(out, slack(piece)),
    };
    if let Some([earliest, due, latest]) = souring_hours(piece, home) {
        let hours = Hours {
            earliest,
            due,
            latest,
        };
        return desk.add(TaskKind::OutOfCure, step, Span::Hours(hours), None);
    }
    let because = super::cure::found_unready(piece, catalogue, out, home)
        .or_else(|| super::cure::lay_cold(&span));
    desk.add(
        TaskKind::OutOfCure,
        step,
        Span::Days(out, out, latest),
        because,
    );
}

fn hanging(desk: &mut Desk<'_>) {
    let (piece, home) = (desk.piece, desk.home);
    let step = piece.build().and_then(|b| b.step(StepKind::Hang));
    let hanging = piece.hanging.as_ref();
    if let Some((StopBy::Days { days }, since)) = hanging.map(|h| (h.stop, h.since)) {
        let day = later(home.settings.day(since), i64::from(days));
        let span = Span::Days(day, day, later(day, DRY_WAITS_DAYS));
        desk.add(
            TaskKind::TakeDown,
            step,
            span,
            Some(format!(
                "{} over",
                if days == 1 {
                    "1 day is".into()
                } else {
                    format!("{days} days are")
                }
            )),
        );
    } else if has_lost_enough(piece) {
        let day = last_weighed(piece, home);
        let span = Span::Days(day, day, later(day, DRY_WAITS_DAYS));
        desk.add(TaskKind::TakeDown, step, span, None);
    } else {
        let (day, every) = next_weigh_in(piece, home);
        desk.add(
            TaskKind::WeighIn,
            step,
            Span::Days(day, day, later(day, every)),
            None,
        );
    }
}

/// The next step that has a place, its task, and since when its window is counted.
fn gate(piece: &Piece) -> Option<(TaskKind, &Step, Timestamp)> {
    let step = piece
        .open_steps()
        .find(|s| s.kind.traits().station.is_some())?;
    Some((gate_kind(step)?, step, counted_from(piece, step)))
}

/// The task of a step that has a place.
pub(super) fn gate_kind(step: &Step) -> Option<TaskKind> {
    Some(match step.kind.traits().done_by {
        DoneBy::Smoked if step.kind == StepKind::Cook => TaskKind::Cook,
        DoneBy::Smoked => TaskKind::Smoke,
        DoneBy::Hung => TaskKind::Hang,
        DoneBy::Packed => TaskKind::Pack,
        DoneBy::Dosed => TaskKind::Dose,
        DoneBy::OutOfCure => TaskKind::OutOfCure,
        DoneBy::Coated | DoneBy::Soaked | DoneBy::Checked | DoneBy::Worked | DoneBy::Tick => {
            return None;
        }
    })
}

/// Since when the window of a step is counted.
fn counted_from(piece: &Piece, step: &Step) -> Timestamp {
    let named = step.from.as_deref().and_then(|id| piece.step_done(id));
    let last = piece.done.iter().map(|d| d.at).max();
    named.map(|d| d.at).or(last).unwrap_or(piece.since)
}

/// What is done by hand before the next step that has a place, when, and what it follows: the first that has to be, and
/// a coat before it, which nobody has to put on.
fn by_hand<'a>(piece: &'a Piece, home: &House) -> Vec<(&'a Step, Span, Option<String>)> {
    if let Some((step, because)) = tasted(piece) {
        return vec![(step, span_of(piece, step, home), Some(because))];
    }
    let mut found = Vec::new();
    let on_the_way = piece
        .open_steps()
        .take_while(|s| s.kind.traits().station.is_none());
    for step in on_the_way {
        let Some(because) = wanted(piece, step) else {
            continue;
        };
        found.push((step, span_of(piece, step, home), because));
        if step.kind.traits().wanted != Wanted::IfLiked {
            break;
        }
    }
    found
}

fn span_of(piece: &Piece, step: &Step, home: &House) -> Span {
    let from = counted_from(piece, step);
    match running(piece, step.kind) {
        Some(timer) => Span::Hours(Hours {
            earliest: timer.ends(),
            due: timer.ends(),
            latest: timer.ends().max(latest_of(from, step)),
        }),
        None if step.kind == StepKind::Ferment => match souring_hours(piece, home) {
            Some([earliest, due, latest]) => Span::Hours(Hours {
                earliest,
                due,
                latest,
            }),
            None => Span::after(from, step.window(), home),
        },
        None => match &piece.evening_out {
            // It was said until when.
            Some(said) if step.kind == StepKind::EvenOut && said.since >= from => {
                let day = home.settings.day(said.until);
                Span::Days(day, day, later(day, EVENED_OUT_WAITS_DAYS))
            }
            Some(_) | None => Span::after(from, step.window(), home),
        },
    }
}

/// What has evened out may wait for so long (days).
const EVENED_OUT_WAITS_DAYS: i64 = 28;

/// What its newest slice leads to, whether or not that step was done before: water, and after the water another slice.
fn tasted(piece: &Piece) -> Option<(&Step, String)> {
    let build = piece.build()?;
    let salty = newest_slice(piece)?.grade.as_deref() == Some("too_salty");
    if !salty || !matches!(piece.stage(), Stage::Smoke | Stage::Hang | Stage::Pack) {
        return None;
    }
    if soaked_since(piece) {
        let step = build.step(StepKind::TestSlice)?;
        return Some((step, "it was too salty before the water".into()));
    }
    Some((build.step(StepKind::Soak)?, "a slice was too salty".into()))
}

fn latest_of(from: Timestamp, step: &Step) -> Timestamp {
    let minutes = (step.window().latest_h * 60.0).round() as i64;
    from.saturating_add(minutes.minutes()).unwrap_or(from)
}

/// The timer that a step by hand waits for, while it runs or rings.
fn running(piece: &Piece, step: StepKind) -> Option<&Timer> {
    let what = match step.traits().timer {
        StepTimer::None => return None,
        StepTimer::Soak(_) => TimerFor::Soak,
        StepTimer::Rest | StepTimer::RestAsSaid => TimerFor::Rest,
    };
    piece.timers.get(&what)
}

/// Whether a step by hand is to be done with this piece, and because of what where that is not usual.
fn wanted(piece: &Piece, step: &Step) -> Option<Option<String>> {
    match step.kind.traits().wanted {
        Wanted::Untasted => newest_slice(piece).is_none().then_some(None),
        Wanted::SaltByTime => {
            let dose = piece.dose().filter(|_| piece.soaks.is_empty())?;
            if dose.method.salt_by() == SaltBy::Label {
                Some(Some("its salt went by its blend".into()))
            } else {
                let limited = dose.method.dosing().waits == Waits::Deadline;
                limited.then(|| Some("its salt went by time, not by weight".into()))
            }
        }
        Wanted::BoneIn => piece.shape.bone_in.then_some(None),
        Wanted::Always | Wanted::IfLiked => Some(None),
        Wanted::Never => None,
    }
}

/// The slices that are fried and tasted.
const SLICES: [&str; 2] = ["slice_end", "slice_middle"];

/// The newest slice that was tasted after it came out of its cure.
fn newest_slice(piece: &Piece) -> Option<&Checked> {
    let out = piece.out_of_cure?;
    let slices = piece
        .checks
        .iter()
        .filter(|c| SLICES.contains(&c.check.as_str()) && c.at >= out && c.grade.is_some());
    slices.max_by_key(|c| (c.at, c.entry))
}

/// True when it lay in water after its newest slice was tasted.
fn soaked_since(piece: &Piece) -> bool {
    let tasted = newest_slice(piece).map(|c| (c.at, c.entry));
    tasted.is_none_or(|t| piece.soaks.last().is_some_and(|s| (s.at, s.entry) > t))
}

pub(super) fn last_weighed(piece: &Piece, home: &House) -> Date {
    home.settings
        .day(piece.last_weighing().map_or(piece.since, |w| w.at))
}

/// The day of the next weighing on the hook, and how many days lie between two.
fn next_weigh_in(piece: &Piece, home: &House) -> (Date, i64) {
    let last = last_weighed(piece, home);
    let hung = piece
        .hanging
        .as_ref()
        .map_or(last, |h| home.settings.day(h.since));
    let days_hung = last.since(hung).map_or(0, |s| s.get_days());
    let every = if days_hung < YOUNG_DAYS {
        YOUNG_WEIGH_IN_DAYS
    } else {
        OLD_WEIGH_IN_DAYS
    };
    let due = later(last, every);
    // In vacuum for its rind it loses nothing, and is weighed when that is over.
    let back = piece
        .evening_out
        .as_ref()
        .map(|e| home.settings.day(e.until));
    (back.filter(|day| *day > due).unwrap_or(due), every)
}

/// True when the last weighing on the hook was at or under the target.
#[must_use]
pub fn has_lost_enough(piece: &Piece) -> bool {
    piece
        .hanging
        .as_ref()
        .is_some_and(|h| h.lost_at(piece.mass).0 >= h.loss.0 - 1e-9)
}
