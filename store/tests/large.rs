//! A ledger of half a million entries: brought up to date, checked, folded, copied, and added to.

use jiff::Timestamp;
use manifest_core::ledger::EntryId;
use manifest_store::{FILE, Store, backup};
use rusqlite::Connection;
use std::path::Path;
use tempfile::TempDir;

const ENTRIES: i64 = 500_000;

/// What an earlier program left, with so many notes more as it would have written them.
fn large() -> TempDir {
    let dir = TempDir::new().unwrap();
    let fixture = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/ledgers/v2-demo");
    let path = dir.path().join(FILE);
    std::fs::copy(fixture.join(FILE), &path).unwrap();
    let conn = Connection::open(&path).unwrap();
    conn.execute(
        "WITH RECURSIVE n (id) AS (
             SELECT max(id) + 1 FROM entry UNION ALL SELECT id + 1 FROM n WHERE id < ?1
         )
         INSERT INTO entry (id, write_id, lot_id, kind, happened_at, recorded_at, act, shape)
         SELECT n.id, write_id, lot_id, kind, happened_at, recorded_at,
                json_set(act, '$.text', 'remark ' || n.id), shape
           FROM n, (SELECT * FROM entry WHERE kind = 'noted' LIMIT 1)",
        [ENTRIES],
    )
    .unwrap();
    dir
}

#[test]
fn half_a_million_entries_are_chained_checked_and_folded() {
    let dir = large();
    let now: Timestamp = "2026-11-26T08:00:00Z".parse().unwrap();
    let store = Store::open(dir.path(), now).unwrap();
    assert_eq!(store.trouble(), None);
    assert_eq!(store.read(|book, _| book.last_entry()), EntryId(ENTRIES));
    // It was copied as it stood before its schema changed.
    assert_eq!(backup::list(dir.path()).len(), 1);
    drop(store);
    // One flipped letter in the midst of it is found and named.
    let mut file = std::fs::read(dir.path().join(FILE)).unwrap();
    let text = b"remark 250000";
    let at = file.windows(text.len()).position(|w| w == text).unwrap();
    file[at + text.len() - 1] ^= 1;
    std::fs::write(dir.path().join(FILE), file).unwrap();
    let store = Store::open(dir.path(), now).unwrap();
    let trouble = store.trouble().unwrap();
    assert_eq!(trouble.what, "entry 250000 is not what was written");
    assert_eq!(store.read(|book, _| book.last_entry()), EntryId(249_999));
}
