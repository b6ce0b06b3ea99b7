//! What the whole ledger costs: opened and checked, copied, and added to.

use anyhow::Result;
use jiff::{SignedDuration, Timestamp};
use manifest_core::acts::{Ask, DraftContext};
use manifest_core::house::House;
use manifest_core::ledger::EntryId;
use manifest_core::ledger::book::{Book, Change};
use manifest_store::backup::{self, Why};
use manifest_store::{FILE, Request, Store};
use serde_json::json;
use std::time::{Duration, Instant};
use tempfile::TempDir;

/// Entries of one animal: its receipt, its pieces, and what was noted of them since.
const PER_LOT: usize = 350;

const PIECES: usize = 30;

/// Acts in one write.
const AT_ONCE: usize = 200;

pub fn bench() -> Result<()> {
    for entries in [7_000, 70_000, 500_000] {
        whole(entries)?;
    }
    Ok(())
}

fn whole(entries: usize) -> Result<()> {
    let dir = TempDir::new()?;
    let store = Store::open(dir.path(), begin())?;
    fill(&store, entries)?;
    let at = begin() + SignedDuration::from_hours(24 * 300);
    let mut one: Vec<Duration> = (0..200)
        .map(|n| {
            let started = Instant::now();
            write(
                &store,
                at,
                &|_, _| json!([{"act": "noted", "piece": 1, "text": format!("firm {n}")}]),
            )?;
            Ok(started.elapsed())
        })
        .collect::<Result<_>>()?;
    one.sort();
    store.gather()?;
    let count = store.read(|book, _| book.last_entry());
    let copied = timed(|| Ok(backup::take(dir.path(), Why::ByHand, at)?))?;
    let bytes = std::fs::metadata(dir.path().join(FILE))?.len();
    let read_and_folded = timed(|| Ok(store.rebuilt()?))?;
    drop(store);
    let pages = timed(|| {
        let conn = rusqlite::Connection::open(dir.path().join(FILE))?;
        Ok(conn.query_row("PRAGMA quick_check", [], |row| row.get::<_, String>(0))?)
    })?;
    let checked = timed(|| Ok(Store::open(dir.path(), at)?))?;
    println!(
        "ledger of {} entries, {} MB: one entry median {:.2?} p99 {:.2?}; opened {:.0?}, of that read, chained and folded {:.0?}, SQLite's own check {:.0?}; a backup, opened and folded, {:.0?}",
        count.0,
        bytes / 1_000_000,
        one[100],
        one[198],
        checked,
        read_and_folded,
        pages,
        copied,
    );
    Ok(())
}

fn timed<T>(work: impl Fn() -> Result<T>) -> Result<Duration> {
    let mut runs = Vec::new();
    for _ in 0..3 {
        let started = Instant::now();
        let made = work()?;
        runs.push(started.elapsed());
        drop(made);
        // Two backups of one second would have one name.
        std::thread::sleep(Duration::from_millis(1_050));
    }
    runs.sort();
    Ok(runs[1])
}

fn begin() -> Timestamp {
    Timestamp::from_second(1_770_000_000).unwrap_or_default()
}

fn write(
    store: &Store,
    now: Timestamp,
    asks: &dyn Fn(&Book, &House) -> serde_json::Value,
) -> Result<Vec<EntryId>> {
    let request = Request {
        key: None,
        fingerprint: "bench",
        now,
    };
    let written = store.write(request, |book, home| {
        let asks: Vec<Ask> =
            serde_json::from_value(asks(book, home)).map_err(anyhow::Error::from)?;
        let mut desk = DraftContext::new(book, home, now);
        let mut changes = Vec::new();
        for ask in asks {
            let drafts = ask
                .draft(&mut desk, None)
                .map_err(|e| anyhow::anyhow!("{e:?}"))?;
            changes.extend(drafts.into_iter().map(|(lot, act)| Change::Add {
                lot,
                at: now,
                act: Box::new(act),
                kept: Vec::new(),
            }));
        }
        Ok::<_, anyhow::Error>(changes)
    });
    Ok(written.map_err(|e| anyhow::anyhow!("{e}"))?.entries)
}

fn fill(store: &Store, entries: usize) -> Result<()> {
    for lot in 1..=entries.div_ceil(PER_LOT) {
        let now = begin() + SignedDuration::from_hours(lot as i64);
        let received = json!([{
            "act": "received", "name": format!("hog {lot}"), "species": "pig", "origin": "bought",
            "known": "carcass", "reading": "90 kg",
        }]);
        write(store, now, &|_, _| received.clone())?;
        let weighed: serde_json::Value = (0..PIECES)
            .map(|_| json!({"act": "piece_weighed", "lot": lot, "cut": "belly", "reading": "2 kg", "thickness": "40 mm"}))
            .collect();
        write(store, now, &|_, _| weighed.clone())?;
        let first = (lot - 1) * PIECES + 1;
        let notes: Vec<_> = (0..PER_LOT - PIECES - 1)
            .map(|n| json!({"act": "noted", "piece": first + n % PIECES, "text": format!("turned it over and looked, {n}")}))
            .collect();
        for some in notes.chunks(AT_ONCE) {
            write(store, now, &|_, _| json!(some))?;
        }
    }
    Ok(())
}
