//! The plan: worked out anew for everything, and renewed after one entry.

use anyhow::Result;
use jiff::{SignedDuration, Timestamp};
use manifest_core::acts::{Ask, DraftContext};
use manifest_core::catalogue::Catalogue;
use manifest_core::house::House;
use manifest_core::ledger::book::{Book, Change};
use manifest_core::piece::printed::Verdict;
use manifest_core::timetable::{PlanCache, Said, trips};
use serde_json::{Value, json};
use std::hint::black_box;
use std::time::{Duration, Instant};

/// Animals, and pieces in their cure of each.
const LOTS: usize = 50;

const PER_LOT: usize = 40;

/// Renews the plan of two thousand pieces after one entry, beside working it out anew.
pub fn bench() -> Result<()> {
    let home = House::default();
    let mut now: Timestamp = "2026-01-01T08:00:00Z".parse()?;
    let mut book = Book::new(Catalogue::shipped());
    for lot in 1..=LOTS {
        did(
            &mut book,
            &home,
            now,
            &json!({"act": "received", "name": "hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "200 kg"}),
        )?;
        for n in 1..=PER_LOT {
            let piece = (lot - 1) * PER_LOT + n;
            let build = if n % 2 == 0 {
                "belly-slab"
            } else {
                "back-smoked"
            };
            for act in [
                json!({"act": "piece_weighed", "lot": lot, "cut": "loin", "reading": "2 kg", "thickness": "50 mm"}),
                json!({"act": "assigned", "piece": piece, "build": build, "reason": "it is what we want"}),
                json!({"act": "dosed", "pieces": [piece]}),
            ] {
                did(&mut book, &home, now, &act)?;
            }
        }
    }
    now += SignedDuration::from_hours(24 * 4);
    let kept = PlanCache::default();
    let mut anew = Vec::new();
    let mut renewed = Vec::new();
    let mut walked = Vec::new();
    for round in 0..60 {
        let fresh = PlanCache::default();
        let start = Instant::now();
        black_box(fresh.all(&book, &home, now));
        anew.push(start.elapsed());
        black_box(kept.all(&book, &home, now));
        let piece = 1 + round * 31 % (LOTS * PER_LOT);
        did(
            &mut book,
            &home,
            now,
            &json!({"act": "turned", "piece": piece}),
        )?;
        let start = Instant::now();
        let plans = kept.all(&book, &home, now);
        renewed.push(start.elapsed());
        let start = Instant::now();
        black_box(trips(&plans, &book, &home, now, |_| Said {
            word: Verdict::CookBeforeEating,
            waits: false,
        }));
        walked.push(start.elapsed());
    }
    for times in [&mut anew, &mut renewed, &mut walked] {
        times.sort();
    }
    let middle = |times: &[Duration]| times[times.len() / 2];
    println!(
        "core: the plan of {} pieces in cure: anew {:.2?}, renewed after one entry {:.2?} ({:.0} times), laid out as trips {:.2?}",
        LOTS * PER_LOT,
        middle(&anew),
        middle(&renewed),
        middle(&anew).as_secs_f64() / middle(&renewed).as_secs_f64(),
        middle(&walked),
    );
    Ok(())
}

/// Writes an act down.
pub fn did(book: &mut Book, home: &House, now: Timestamp, act: &Value) -> Result<()> {
    let ask: Ask = serde_json::from_value(act.clone())?;
    let acts = ask.draft(&mut DraftContext::new(book, home, now), None)?;
    let changes: Vec<_> = acts
        .into_iter()
        .map(|(lot, act)| Change::Add {
            lot,
            at: now,
            act: Box::new(act),
            kept: Vec::new(),
        })
        .collect();
    let plan = book.plan(&changes, now, home.settings.units)?;
    book.take(plan);
    Ok(())
}
