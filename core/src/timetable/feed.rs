//! The plan as events of a calendar: the same thing to do keeps its name, whatever happens to its day.

use super::Task;
use super::cache::LotPlan;
use crate::agenda::TaskKind;
use crate::catalogue::builds::{Build, BuildRef};
use crate::catalogue::steps::{StepKind, Wanted};
use crate::ids::{PieceId, VesselId};
use crate::ledger::book::{Book, LotBook};
use crate::ledger::facts::Act;
use crate::piece::Piece;
use crate::timetable::House;
use crate::units::show::capital;
use jiff::Timestamp;
use jiff::civil::Date;
use std::collections::BTreeMap;
use std::sync::Arc;

/// So long after the last entry about it what is over is still named as cancelled (days).
const CANCELLED_DAYS: i64 = 14;

/// When an event is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum EventTime {
    /// A whole day.
    Day(Date),
    /// To the minute.
    Moment(Timestamp),
}

/// One event.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Event {
    /// Its name, the same for as long as it is the same thing to do: without the ledger's own.
    pub uid: String,
    /// Grows whenever something was written about it.
    pub sequence: i64,
    /// In a line.
    pub summary: String,
    /// With what to know.
    pub words: String,
    /// When.
    pub time: EventTime,
    /// True for what is done, or is not to be done any more.
    pub cancelled: bool,
}

/// Every event of the household: what is planned, and what was and is over. `base` grows with the settings.
#[must_use]
pub fn feed(
    plans: &[Arc<LotPlan>],
    book: &Book,
    home: &House,
    now: Timestamp,
    base: i64,
) -> Vec<Event> {
    let base = base + home.agenda.version;
    let mut found: BTreeMap<String, Event> = BTreeMap::new();
    let version = |piece: PieceId| {
        let lot = book.piece(piece).map(|(lot, _)| lot);
        lot.and_then(|l| l.versions.get(&piece)).map_or(0, |e| e.0)
    };
    for task in plans.iter().flat_map(|p| p.open.iter().chain(&p.ahead)) {
        let uid = uid_of(task);
        let sequence = base + version(task.piece);
        if let Some(known) = found.get_mut(&uid) {
            // A vessel is one event, whoever lies in it.
            known.summary = format!("{}, {}", known.summary, task.tag);
            known.sequence = known.sequence.max(sequence);
            continue;
        }
        let event = planned(task, book, home, now, sequence, uid.clone());
        found.insert(uid, event);
    }
    for lot in book.lots() {
        for piece in lot.state.pieces.values() {
            let newest = lot.versions.get(&piece.id).and_then(|id| lot.entry(*id));
            let is_recent = newest.is_some_and(|e| {
                let gone = home
                    .settings
                    .day(now)
                    .since(home.settings.day(e.recorded_at));
                gone.is_ok_and(|s| i64::from(s.get_days()) <= CANCELLED_DAYS)
            });
            if is_recent {
                cancelled(lot, piece, base, home, &mut found);
            }
        }
    }
    found.into_values().collect()
}

fn uid(piece: PieceId, kind: TaskKind, step: Option<&str>) -> String {
    let kind = crate::ids::word(&kind);
    let step = step.map_or_else(String::new, |s| format!("-{s}"));
    format!("piece-{}-{kind}{step}", piece.0)
}

fn uid_of_vessel(vessel: VesselId) -> String {
    format!("vessel-{}-turn", vessel.0)
}

fn uid_of(task: &Task) -> String {
    match task.vessel.filter(|_| task.kind == TaskKind::Turn) {
        Some(vessel) => uid_of_vessel(vessel),
        None => uid(
            task.piece,
            task.kind,
            task.step.as_ref().map(|s| s.id.as_str()),
        ),
    }
}

fn planned(
    task: &Task,
    book: &Book,
    home: &House,
    now: Timestamp,
    sequence: i64,
    uid: String,
) -> Event {
    let what = match (&task.kind, &task.step) {
        (TaskKind::ByHand, Some(step)) => step.verb.clone(),
        (kind, _) => kind.label().to_string(),
    };
    let piece = book.piece(task.piece).map(|(_, p)| p);
    let product = piece.and_then(Piece::build).map(|b| b.name.clone());
    let mut words: Vec<String> = product.into_iter().collect();
    words.extend(task.because.clone());
    if task.latest > task.due && task.hours.is_none() {
        words.push(format!("It can wait until {}", task.latest));
    }
    let name = task
        .vessel_name
        .as_deref()
        .filter(|_| task.kind == TaskKind::Turn);
    let whom = name.map_or_else(|| task.tag.clone(), |n| format!("{n}: {}", task.tag));
    Event {
        uid,
        sequence,
        summary: format!("{}: {whom}", capital(&what)),
        words: words.join(". "),
        time: match &task.hours {
            Some(hours) => EventTime::Moment(hours.due),
            // What is late is to be done today.
            None => EventTime::Day(task.due.max(home.settings.day(now))),
        },
        cancelled: false,
    }
}

/// Adds everything that could have stood in the calendar for a piece, and is not planned now.
fn cancelled(
    lot: &LotBook,
    piece: &Piece,
    base: i64,
    home: &House,
    found: &mut BTreeMap<String, Event>,
) {
    let version = lot.versions.get(&piece.id).map_or(0, |e| e.0);
    let mut add = |uid: String, what: &str| {
        found.entry(uid.clone()).or_insert_with(|| Event {
            uid,
            sequence: base + version,
            summary: format!("{}: {}", capital(what), piece.tag),
            words: String::new(),
            time: EventTime::Day(home.settings.day(piece.since)),
            cancelled: true,
        });
    };
    add(
        uid(piece.id, TaskKind::Assign, None),
        TaskKind::Assign.label(),
    );
    add(
        uid(piece.id, TaskKind::Discard, None),
        TaskKind::Discard.label(),
    );
    if let Some(vessel) = piece.vessel() {
        add(uid_of_vessel(vessel), TaskKind::Turn.label());
    } else {
        add(uid(piece.id, TaskKind::Turn, None), TaskKind::Turn.label());
    }
    // Of products that it was meant for once, too.
    let assigned = lot.entries.iter().filter_map(|e| {
        let Act::Assigned(a) = &e.act else {
            return None;
        };
        (a.piece == piece.id).then(|| {
            lot.state.catalogue().build_as(&BuildRef {
                key: a.build.clone(),
                version: a.version,
            })
        })
    });
    let builds: Vec<Arc<Build>> = assigned.chain(piece.product.clone()).collect();
    for step in builds.iter().flat_map(|b| &b.steps) {
        let id = Some(step.id.as_str());
        if step.kind == StepKind::Hang {
            for kind in [TaskKind::Hang, TaskKind::WeighIn, TaskKind::TakeDown] {
                add(uid(piece.id, kind, id), kind.label());
            }
        } else if let Some(kind) = super::way::gate_kind(step) {
            add(uid(piece.id, kind, id), kind.label());
        } else if step.kind.traits().wanted != Wanted::Never {
            add(uid(piece.id, TaskKind::ByHand, id), &step.verb);
        }
    }
}
