//! Whatever was done: tasks lie in their windows, the same facts give the same plan, and nothing that is done is to be done.

use super::*;
use crate::agenda::{Agenda, Move};
use crate::house::House;
use crate::ids::EntryId;
use crate::ledger::book::tests::random::lived;
use crate::piece::printed::Verdict;
use crate::timetable::Said;
use crate::timetable::cache::LotPlan;
use jiff::ToSpan;
use proptest::prelude::*;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

fn later(at: Timestamp, hours: i64) -> Timestamp {
    at.saturating_add(hours.hours()).unwrap()
}

fn fresh(book: &Book, home: &House, now: Timestamp) -> Vec<Arc<LotPlan>> {
    book.lots()
        .map(|lot| Arc::new(LotPlan::of(book, lot, home, now)))
        .filter(|p| !p.open.is_empty() || !p.ahead.is_empty())
        .collect()
}

fn in_window(task: &Task) -> bool {
    let days = task.earliest <= task.due && task.due <= task.latest;
    let hours = task
        .hours
        .is_none_or(|h| h.earliest <= h.due && h.due <= h.latest);
    days && hours
}

fn named(task: &Task) -> (PieceId, TaskKind, Option<String>) {
    let step = task.step.as_ref().map(|s| s.id.clone());
    (task.piece, task.kind, step)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn every_plan_keeps_its_laws(
        picks in prop::collection::vec((any::<u8>(), any::<u8>(), 0.05..1.0_f64), 1..40),
        apart in 1_i64..4_000,
        on in 0_i64..400,
    ) {
        let home = House::default();
        let kept = PlanCache::default();
        let mut broken = Vec::new();
        lived(picks, apart, |book, at| {
            let now = later(at, on);
            let plans = fresh(book, &home, now);
            // what is kept is what would be worked out anew
            if kept.all(book, &home, now) != plans {
                broken.push("kept differs".to_string());
            }
            let again = Book::fold(
                book.lots().flat_map(|l| l.entries.iter().map(|e| (**e).clone())),
                book.catalogue().clone(),
            );
            if fresh(&again, &home, now) != plans {
                broken.push("the same facts, another plan".into());
            }
            let open: Vec<&Task> = plans.iter().flat_map(|p| &p.open).collect();
            for task in open.iter().copied().chain(plans.iter().flat_map(|p| &p.ahead)) {
                if !in_window(task) {
                    broken.push(format!("outside: {task:?}"));
                }
                if book.piece(task.piece).is_none_or(|(_, p)| p.stage().is_over()) {
                    broken.push(format!("over: {task:?}"));
                }
            }
            let names: BTreeSet<_> = open.iter().map(|t| named(t)).collect();
            if names.len() != open.len() {
                broken.push(format!("twice: {open:?}"));
            }
            // every piece on its way has something to do, or nobody knows how thick it is
            let day = trips(&plans, book, &home, now, |p| Said { word: if p.0 % 2 == 0 { Verdict::ReadyToEat } else { Verdict::CookBeforeEating }, waits: false });
            let due: BTreeSet<_> = open.iter().filter(|t| t.urgency != Urgency::Coming).map(|t| t.piece).collect();
            let mut walked = BTreeSet::new();
            for (i, trip) in day.trips.iter().enumerate() {
                for chip in trip.rows.iter().flat_map(|r| &r.chips) {
                    for piece in std::iter::once(chip.piece).chain(chip.with.iter().copied()) {
                        walked.insert(piece);
                        if trip.ready && piece.0 % 2 != 0 {
                            broken.push(format!("raw beside ready: {chip:?}"));
                        }
                    }
                }
                if trip.ready && day.trips[..i].iter().any(|t| !t.ready) {
                    broken.push("ready after raw".into());
                }
            }
            // the steps of one piece come in their own order
            let mut before: BTreeMap<PieceId, usize> = BTreeMap::new();
            for trip in &day.trips {
                let steps: Vec<(PieceId, usize)> = trip.rows.iter().flat_map(|r| &r.chips).filter_map(|c| {
                    let build = book.piece(c.piece)?.1.build()?;
                    let at = build.steps.iter().position(|s| Some(&s.id) == c.step.as_ref())?;
                    Some((c.piece, at))
                }).collect();
                for (piece, at) in &steps {
                    if before.get(piece).is_some_and(|b| b > at) {
                        broken.push(format!("out of order: {piece:?} in {trip:?}"));
                    }
                }
                for (piece, at) in steps {
                    let most = before.entry(piece).or_default();
                    *most = at.max(*most);
                }
            }
            if walked != due {
                broken.push(format!("walked {walked:?}, due {due:?}"));
            }
            let events = feed(&plans, book, &home, now, 1);
            let planned: BTreeSet<_> = events.iter().filter(|e| !e.cancelled).map(|e| &e.uid).collect();
            let all: BTreeSet<_> = events.iter().map(|e| &e.uid).collect();
            if all.len() != events.len() || planned.len() > open.len() + plans.iter().map(|p| p.ahead.len()).sum::<usize>() {
                broken.push("a name twice in the calendar".into());
            }
        });
        prop_assert!(broken.is_empty(), "{:?}", broken.first());
    }

    #[test]
    fn what_is_done_is_not_to_be_done_and_what_is_moved_stays_in_its_window(
        days in 0_i64..40,
        to in -5_i64..60,
    ) {
        let mut book = dosed("belly-slab", "2026-11-01T10:00");
        let now = later(at("2026-11-01T10:00"), days * 24);
        let mut home = House::default();
        let plans = fresh(&book, &home, now);
        let out = plans[0].open.iter().find(|t| t.kind == TaskKind::OutOfCure).unwrap().clone();
        let day = home.settings.day(now).saturating_add(to.days());
        let wanted = Move { piece: PIECE, kind: out.kind, step: out.step.as_ref().map(|s| s.id.clone()), to: day };
        match Agenda::default().moved(&wanted, &plans[0].open) {
            Ok(agenda) => {
                home.agenda = Arc::new(agenda);
                let moved = fresh(&book, &home, now);
                let moved = moved[0].open.iter().find(|t| t.kind == TaskKind::OutOfCure).unwrap();
                prop_assert!(in_window(moved) && moved.moved && moved.due == day);
            }
            Err(refused) => {
                prop_assert!(day < out.earliest || day > out.latest, "{refused}");
            }
        }
        if plans[0].open.iter().any(|t| t.kind == TaskKind::Turn && t.urgency != Urgency::Coming) {
            let turned = Act::Turned(crate::ledger::facts::turned::Turned { piece: PIECE, nothing_floats: None });
            let change = Change::Add { lot: LOT, at: now, act: Box::new(turned), kept: Vec::new() };
            let plan = book.plan(&[change], now, crate::units::Units::METRIC).unwrap();
            prop_assert!(plan.entries.last().unwrap().id > EntryId(0));
            book.take(plan);
            let after = fresh(&book, &House::default(), now);
            let still = after[0].open.iter().find(|t| t.kind == TaskKind::Turn);
            prop_assert!(still.is_none_or(|t| t.urgency == Urgency::Coming), "{still:?}");
        }
    }
}
