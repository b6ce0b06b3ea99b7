//! From facts to verdict, for pieces of every stage.

use anyhow::{Context, Result};
use jiff::{SignedDuration, Timestamp};
use manifest_core::catalogue::Catalogue;
use manifest_core::house::House;
use manifest_core::ledger::book::Book;
use manifest_core::verdict::work_out;
use serde_json::{Value, json};
use std::hint::black_box;
use std::time::{Duration, Instant};

/// Pieces of the one lot, a quarter of them dried to their target.
const PIECES: usize = 80;

/// Works every verdict of a lot out from its facts.
pub fn bench() -> Result<()> {
    let home = House::default();
    let book = book(&home)?;
    let lot = book.lots().next().context("the lot")?;
    let mut runs: Vec<Duration> = (0..200)
        .map(|_| {
            let start = Instant::now();
            black_box(work_out(black_box(&book), &home, lot));
            start.elapsed() / PIECES as u32
        })
        .collect();
    runs.sort();
    println!(
        "core: from facts to verdict, a piece: median {:.2?} of 200 runs over {PIECES} pieces",
        runs[100]
    );
    Ok(())
}

fn book(home: &House) -> Result<Book> {
    let mut book = Book::new(Catalogue::shipped());
    let mut now: Timestamp = "2026-01-01T08:00:00Z".parse()?;
    let mut days = |book: &mut Book, days: i64, act: Value| -> Result<()> {
        now += SignedDuration::from_hours(24 * days);
        super::plan::did(book, home, now, &act)
    };
    days(
        &mut book,
        0,
        json!({"act": "received", "name": "hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "400 kg"}),
    )?;
    for day in [0, 30] {
        days(
            &mut book,
            day,
            json!({"act": "freezer_read", "lot": 1, "inside": "-20 C"}),
        )?;
    }
    for piece in 1..=PIECES {
        let dried = piece % 4 == 0;
        days(
            &mut book,
            0,
            json!({"act": "piece_weighed", "lot": 1, "cut": "loin", "reading": "2 kg", "thickness": "50 mm"}),
        )?;
        let build = if dried { "muscle-cased" } else { "back-smoked" };
        days(
            &mut book,
            0,
            json!({"act": "assigned", "piece": piece, "build": build}),
        )?;
        days(&mut book, 0, json!({"act": "dosed", "pieces": [piece]}))?;
        if piece % 4 == 1 {
            continue;
        }
        days(
            &mut book,
            22,
            json!({"act": "out_of_cure", "piece": piece, "reading": "1.95 kg"}),
        )?;
        let rest = if dried {
            [
                json!({"act": "hung", "piece": piece, "reading": "1.99 kg", "tare": "40 g"}),
                json!({"act": "taken_down", "piece": piece, "reading": "1.29 kg"}),
                json!({"act": "packed", "piece": piece, "packs": [{"reading": "1.2 kg"}], "finished": true}),
            ]
        } else {
            [
                json!({"act": "smoked", "piece": piece, "reading": "1.7 kg", "inside": "63 C"}),
                json!({"act": "cooled", "piece": piece, "inside": "4 C", "hours": 6}),
                json!({"act": "packed", "piece": piece, "packs": [{"reading": "1.65 kg"}], "finished": true}),
            ]
        };
        for act in rest {
            days(&mut book, 1, act)?;
        }
    }
    Ok(book)
}
