//! What can happen to a file: flipped bits, removed and replaced files, other programs, copies under load.

mod common;

use common::{copied, household, note, now, opened};
use jiff::SignedDuration;
use manifest_core::house::House;
use manifest_core::ledger::book::Book;
use manifest_core::place::climate::Read;
use manifest_core::run::{Appliance, RunAct, RunStage, RunStageKind, StageEnd};
use manifest_core::units::Celsius;
use manifest_store::backup::{self, Why};
use manifest_store::photos::Photo;
use manifest_store::readings::{NewReading, Source};
use manifest_store::runs::{NewEvent, NewProbeReading};
use manifest_store::{FILE, Lists, Request, Store, StoreError, restore};
use proptest::prelude::any;
use proptest::strategy::{Strategy, ValueTree};
use proptest::test_runner::TestRunner;
use std::path::Path;
use std::sync::atomic::{AtomicBool, Ordering};
use tempfile::TempDir;

/// Everything that is shown of a ledger, for telling two apart.
fn shown(store: &Store) -> (Book, manifest_core::house::House, Lists) {
    store.read_with_lists(|book, home, lists| (book.clone(), home.clone(), lists.clone()))
}

/// Readings of a fridge, a run with its probes, and a picture.
fn with_what_lies_beside(store: &Store) -> String {
    let at = |minutes: i64| now() + SignedDuration::from_mins(minutes);
    let readings: Vec<_> = (0..150)
        .map(|n| NewReading {
            at: at(-10 * n),
            temperature: Celsius(if n < 12 { 12.4 } else { 3.0 }),
            humidity: None,
        })
        .collect();
    store.log(1, &readings, Source::Sensor, now()).unwrap();
    let request = Request {
        key: None,
        fingerprint: "a run",
        now: now(),
    };
    let set_up = NewEvent {
        at: now(),
        act: RunAct::SetUp {
            place: None,
            name: "drum".into(),
            hearth: Appliance::Smoker,
            school: None,
            stages: vec![RunStage::new(
                RunStageKind::Smoke,
                Some(Celsius(90.0)),
                StageEnd::Hours(2.0),
            )],
        },
        kept: Vec::new(),
        reason: None,
    };
    let asked = |_: &Book, _: &House| Ok::<_, String>(vec![set_up]);
    let run = store.write_run(request, None, asked).unwrap().run;
    let probes: Vec<_> = (0..100)
        .map(|n| NewProbeReading {
            probe: 1,
            read: Read {
                at: at(n),
                temperature: Celsius(4.0 + n as f64 / 2.0),
            },
        })
        .collect();
    store.log_probes(run, &probes, Source::Sensor).unwrap();
    let bytes = (0..20_000_u32).map(|n| (n * 7 % 251) as u8).collect();
    let photo = Photo {
        kind: "image/jpeg".into(),
        bytes,
    };
    store.keep_photo(&photo, now()).unwrap()
}

#[test]
fn a_flipped_bit_is_noticed_or_harmless() {
    let (dir, store) = household(40);
    let photo = with_what_lies_beside(&store);
    let whole = (shown(&store), store.photo(&photo).unwrap());
    // With its log, as a killed program leaves it; and gathered into the one file.
    let left = copied(dir.path());
    store.gather().unwrap();
    let gathered = copied(dir.path());
    drop(store);
    let mut random = TestRunner::deterministic();
    let mut next = || any::<u64>().new_tree(&mut random).unwrap().current();
    let (mut noticed, mut harmless) = (0, 0);
    let log = format!("{FILE}-wal");
    for (folder, file, flips) in [
        (&left, FILE, 20),
        (&left, log.as_str(), 120),
        (&left, "household.witness", 30),
        (&gathered, FILE, 150),
    ] {
        let bytes = std::fs::read(folder.path().join(file)).unwrap();
        assert!(!bytes.is_empty(), "{file} holds something");
        for _ in 0..flips {
            let at = (next() % bytes.len() as u64) as usize;
            let bit = next() % 8;
            let mut flipped = bytes.clone();
            flipped[at] ^= 1 << bit;
            let folder = copied(folder.path());
            std::fs::write(folder.path().join(file), flipped).unwrap();
            match Store::open(folder.path(), now()) {
                Err(_) => noticed += 1,
                Ok(store) if store.trouble().is_some() => {
                    noticed += 1;
                    let refused = note(&store, "after it").unwrap_err().to_string();
                    assert!(
                        refused.contains("nothing more is written here"),
                        "{refused}"
                    );
                }
                Ok(store) if store.broken_photos().is_some() => {
                    noticed += 1;
                    assert!(shown(&store) == whole.0);
                    assert_eq!(store.photo(&photo).unwrap(), None);
                }
                Ok(store) => {
                    harmless += 1;
                    let now = (shown(&store), store.photo(&photo).unwrap());
                    assert!(now == whole, "bit {bit} of byte {at} of {file}");
                }
            }
        }
    }
    println!("{noticed} noticed, {harmless} harmless");
    assert!(noticed > 150, "{noticed} noticed, {harmless} harmless");
}

#[test]
fn what_lies_beside_the_entries_is_sealed_too_and_named() {
    let (dir, store) = household(3);
    let photo = with_what_lies_beside(&store);
    store.gather().unwrap();
    let sound = backup::take(dir.path(), Why::ByHand, now()).unwrap();
    drop(store);
    for (change, words) in [
        (
            "DROP TRIGGER reading_stays; UPDATE reading SET milli_c = 2400 WHERE milli_c = 12400",
            "on 2026-11-26",
        ),
        (
            "DROP TRIGGER reading_is_kept; DELETE FROM reading WHERE id = 7",
            "on 2026-11-26",
        ),
        (
            "INSERT INTO reading_struck VALUES (3, 'it never was', '2026-11-26T09:30:00Z')",
            "struck out",
        ),
        (
            "DROP TRIGGER run_event_stays; UPDATE run_event SET at = '2026-11-26T08:00:00Z'",
            "run 1",
        ),
        (
            "DROP TRIGGER probe_reading_stays; UPDATE probe_reading SET milli_c = 65600 WHERE milli_c = 4500",
            "run 1",
        ),
        (
            "INSERT INTO probe_reading VALUES (1, 2, 0, 65600, 2)",
            "run 1",
        ),
        (
            "UPDATE beside SET count = count + 1 WHERE of = 'photo'",
            "photos",
        ),
    ] {
        let folder = copied(dir.path());
        std::fs::create_dir(folder.path().join("backups")).unwrap();
        let to = folder.path().join("backups").join(&sound.name);
        std::fs::copy(&sound.path, to).unwrap();
        let path = folder.path().join(FILE);
        let conn = rusqlite::Connection::open(&path).unwrap();
        conn.execute_batch(change).unwrap();
        drop(conn);
        let said = backup::check(&path).unwrap_err().to_string();
        assert!(said.contains(words), "{change}: {said}");
        let store = opened(folder.path());
        let trouble = store.trouble().unwrap();
        assert!(trouble.what.contains(words), "{}", trouble.what);
        assert!(trouble.remedy.contains(&sound.name), "{}", trouble.remedy);
        let refused = store.back_up(Why::ByHand, now()).unwrap_err().to_string();
        assert!(
            refused.contains(words) && refused.contains(&sound.name),
            "{change}: {refused}"
        );
    }
    // A picture alone stops nothing: the same one again mends it.
    let conn = rusqlite::Connection::open(dir.path().join(FILE)).unwrap();
    conn.execute_batch("UPDATE photo SET bytes = zeroblob(20000)")
        .unwrap();
    drop(conn);
    let store = opened(dir.path());
    assert_eq!(store.trouble(), None);
    let said = store.broken_photos().unwrap();
    assert!(
        said.contains(&photo[..8]) && said.contains("2026-11-26"),
        "{said}"
    );
    let copy = store.back_up(Why::ByHand, now()).unwrap();
    assert_eq!(backup::contents(&copy.path).unwrap().photos, Some(said));
    let bytes = (0..20_000_u32).map(|n| (n * 7 % 251) as u8).collect();
    let again = Photo {
        kind: "image/jpeg".into(),
        bytes,
    };
    assert_eq!(store.keep_photo(&again, now()).unwrap(), photo);
    assert_eq!(store.broken_photos(), None);
    assert_eq!(store.photo(&photo).unwrap(), Some(again));
    drop(store);
    assert_eq!(opened(dir.path()).broken_photos(), None);
}

#[test]
fn readings_that_are_gone_with_an_older_copy_are_missed() {
    let (dir, store) = household(2);
    store.gather().unwrap();
    let old = copied(dir.path());
    with_what_lies_beside(&store);
    drop(store);
    std::fs::copy(old.path().join(FILE), dir.path().join(FILE)).unwrap();
    let trouble = opened(dir.path()).trouble().unwrap();
    assert!(trouble.what.contains("readings"), "{}", trouble.what);
}

#[test]
fn what_is_missing_is_named_and_the_sound_part_can_be_read() {
    let (dir, store) = household(20);
    backup::take(dir.path(), Why::ByHand, now()).unwrap();
    drop(store);
    // An older copy in the newer one's place.
    let old = copied(dir.path());
    let store = opened(dir.path());
    for n in 0..5 {
        note(&store, &format!("later {n}")).unwrap();
    }
    drop(store);
    std::fs::copy(old.path().join(FILE), dir.path().join(FILE)).unwrap();
    let store = opened(dir.path());
    let trouble = store.trouble().unwrap();
    assert_eq!(trouble.what, "entries 24 to 28 are missing");
    assert!(
        trouble.remedy.contains("holds 23 entries"),
        "{}",
        trouble.remedy
    );
    assert!(note(&store, "on top").is_err());
    assert_eq!(store.read(|book, _| book.last_entry().0), 23);
    drop(store);

    // One changed, amid the others.
    let conn = rusqlite::Connection::open(dir.path().join(FILE)).unwrap();
    conn.execute_batch(
        "DROP TRIGGER entry_stays; UPDATE entry SET act = replace(act, 'remark 3', 'remark 8') WHERE id = 7",
    )
    .unwrap();
    drop(conn);
    let store = opened(dir.path());
    assert_eq!(
        store.trouble().unwrap().what,
        "entry 7 is not what was written"
    );
    assert_eq!(
        store.read(|book, _| book.last_entry().0),
        6,
        "what stands before"
    );
}

#[test]
fn a_folder_that_was_in_use_never_starts_as_a_new_household() {
    let (dir, store) = household(3);
    drop(store);
    for empty in [false, true] {
        let folder = copied(dir.path());
        std::fs::remove_file(folder.path().join(FILE)).unwrap();
        if empty {
            std::fs::write(folder.path().join(FILE), b"").unwrap();
        }
        let said = Store::open(folder.path(), now()).err().unwrap();
        assert!(matches!(said, StoreError::Gone(_)), "{said}");
    }
    let folder = copied(dir.path());
    std::fs::write(folder.path().join(FILE), b"this is a letter to a friend").unwrap();
    let said = Store::open(folder.path(), now()).err().unwrap();
    assert!(matches!(said, StoreError::NotALedger(_)), "{said}");
    let conn = rusqlite::Connection::open(dir.path().join(FILE)).unwrap();
    conn.pragma_update(None, "user_version", 99).unwrap();
    drop(conn);
    let said = Store::open(dir.path(), now()).err().unwrap();
    assert!(matches!(said, StoreError::Newer), "{said}");
}

#[test]
fn what_happens_to_the_file_while_it_is_open_is_noticed_before_the_next_acknowledgement() {
    type Deed = fn(&Path);
    let cases: [(&str, Deed, &str); 5] = [
        (
            "removed",
            |f| std::fs::remove_file(f).unwrap(),
            "was removed",
        ),
        (
            "replaced",
            |f| {
                let other = f.with_extension("other");
                std::fs::copy(f, &other).unwrap();
                std::fs::rename(other, f).unwrap();
            },
            "another file was put",
        ),
        (
            "cut short",
            |f| {
                let file = std::fs::OpenOptions::new().write(true).open(f).unwrap();
                file.set_len(1_000).unwrap();
            },
            "cut short",
        ),
        (
            "overwritten",
            |f| {
                let n = std::fs::metadata(f).unwrap().len() as usize;
                let file = std::fs::OpenOptions::new().write(true).open(f).unwrap();
                std::io::Write::write_all(&mut &file, &vec![b'x'; n]).unwrap();
            },
            "overwritten",
        ),
        (
            "its log removed",
            |f| std::fs::remove_file(format!("{}-wal", f.display())).unwrap(),
            "was removed",
        ),
    ];
    for (what, deed, words) in cases {
        let (dir, store) = household(3);
        store.gather().unwrap();
        note(&store, "before it").unwrap();
        deed(&dir.path().join(FILE));
        for _ in 0..2 {
            let said = note(&store, "after it").unwrap_err().to_string();
            assert!(said.contains(words), "{what}: {said}");
            assert!(said.contains("nothing more is written"), "{what}: {said}");
        }
        // Reading goes on.
        assert_eq!(store.read(|book, _| book.last_entry().0), 7, "{what}");
        // What is still open is saved whole, and goes on in its place.
        let saved = store.back_up(Why::ByHand, now());
        if matches!(what, "removed" | "replaced" | "its log removed") {
            let before = now() + SignedDuration::from_secs(1);
            store.restore(&saved.unwrap().path, before).unwrap();
            note(&store, "afterwards").unwrap();
            assert_eq!(store.read(|book, _| book.last_entry().0), 8, "{what}");
            drop(store);
            let again = Store::open(dir.path(), now()).unwrap();
            assert_eq!(again.trouble(), None, "{what}");
            assert_eq!(again.read(|book, _| book.last_entry().0), 8, "{what}");
        }
    }
}

#[test]
fn another_programs_lock_is_said_and_over_when_it_is_gone() {
    let (dir, store) = household(1);
    let other = rusqlite::Connection::open(dir.path().join(FILE)).unwrap();
    other.execute_batch("BEGIN IMMEDIATE").unwrap();
    let said = note(&store, "amid it").unwrap_err().to_string();
    assert!(said.contains("locked"), "{said}");
    other.execute_batch("ROLLBACK").unwrap();
    note(&store, "after it").unwrap();
    let said = Store::open(dir.path(), now()).err().unwrap();
    assert!(matches!(said, StoreError::InUse(_)), "{said}");
}

#[test]
fn each_failure_of_the_disk_has_words_of_its_own() {
    use rusqlite::ffi;
    let said = |code| {
        StoreError::from(rusqlite::Error::SqliteFailure(ffi::Error::new(code), None)).to_string()
    };
    for (code, words) in [
        (ffi::SQLITE_FULL, "the disk is full"),
        (ffi::SQLITE_READONLY, "may only be read"),
        (ffi::SQLITE_BUSY, "locked"),
        (ffi::SQLITE_IOERR_WRITE, "the disk failed"),
        (ffi::SQLITE_NOTADB, "no SQLite file"),
        (ffi::SQLITE_CANTOPEN, "cannot be opened or made there"),
    ] {
        assert!(said(code).contains(words), "{code}: {}", said(code));
    }
}

#[test]
fn a_copy_of_the_folder_under_load_is_sound_or_says_what_it_lacks() {
    let (dir, store) = household(5);
    let stop = AtomicBool::new(false);
    std::thread::scope(|scope| {
        scope.spawn(|| {
            let mut n = 0;
            while !stop.load(Ordering::Relaxed) {
                note(&store, &format!("under load {n}")).unwrap();
                n += 1;
                if n % 40 == 0 {
                    store.gather().unwrap();
                }
            }
        });
        for _ in 0..15 {
            let before = store.read(|book, _| book.last_entry().0);
            let copy = copied(dir.path());
            if let Ok(copy) = Store::open(copy.path(), now())
                && copy.trouble().is_none()
            {
                let has = copy.read(|book, _| book.last_entry().0);
                assert!(
                    has >= before,
                    "{has} of the {before} that were acknowledged"
                );
                assert!(copy.rebuilt().unwrap() == copy.read(|b, _| b.clone()));
            }
            // A backup is always whole.
            let file = dir.path().join("carried.db");
            let _ = std::fs::remove_file(&file);
            backup::copy(&dir.path().join(FILE), &file).unwrap();
            let has = backup::contents(&file).unwrap().hashes.len() as i64;
            assert!(has >= before);
        }
        stop.store(true, Ordering::Relaxed);
    });
}

#[test]
fn restoring_says_what_it_loses_keeps_what_was_there_and_is_all_or_nothing() {
    let (dir, store) = household(4);
    let early = backup::take(dir.path(), Why::ByHand, now()).unwrap();
    note(&store, "only in the newer one").unwrap();
    let whole = shown(&store);
    let preview = store.preview(&early.path).unwrap();
    assert_eq!(
        (preview.entries, preview.lost.len(), preview.other_household),
        (7, 1, false)
    );
    assert_eq!(preview.lost[0].0, 8);
    let done = store.restore(&early.path, now()).unwrap();
    assert_eq!(store.read(|book, _| book.last_entry().0), 7);
    note(&store, "goes on from there").unwrap();
    // And back: the one before was kept.
    store.restore(&done.before.unwrap(), now()).unwrap();
    assert!(shown(&store) == whole);
    assert!(store.rebuilt().unwrap() == store.read(|b, _| b.clone()));

    // What is no backup changes nothing.
    let bytes = std::fs::read(&early.path).unwrap();
    let bad = dir.path().join("bad.db");
    let foreign = dir.path().join("foreign.db");
    let conn = rusqlite::Connection::open(&foreign).unwrap();
    conn.execute_batch("CREATE TABLE letter (text TEXT)")
        .unwrap();
    drop(conn);
    let cases: [Vec<u8>; 5] = [
        std::fs::read(&foreign).unwrap(),
        Vec::new(),
        b"a letter".to_vec(),
        bytes[..bytes.len() / 2].to_vec(),
        {
            let mut changed = bytes.clone();
            let at = changed.windows(8).position(|w| w == b"remark 2").unwrap();
            changed[at + 7] = b'7';
            changed
        },
    ];
    for case in cases {
        std::fs::write(&bad, case).unwrap();
        let said = store.restore(&bad, now()).unwrap_err().to_string();
        assert!(said.contains("Nothing was changed"), "{said}");
        assert!(shown(&store) == whole);
    }
    drop(store);

    // A left-over log of another file is not read into the restored one.
    let log = dir.path().join(format!("{FILE}-wal"));
    std::fs::write(&log, vec![7; 4_096]).unwrap();
    std::fs::write(dir.path().join(FILE), b"damaged").unwrap();
    let done = restore::restore(dir.path(), &early.path, now()).unwrap();
    assert!(
        done.before
            .unwrap()
            .ends_with(format!("damaged-{}", now().strftime("%Y%m%dT%H%M%SZ")))
    );
    let store = opened(dir.path());
    assert_eq!(store.trouble(), None);
    assert_eq!(store.read(|book, _| book.last_entry().0), 7);
    drop(store);

    // Into an empty folder, as on another machine.
    let fresh = TempDir::new().unwrap();
    restore::restore(fresh.path(), &early.path, now()).unwrap();
    assert_eq!(opened(fresh.path()).read(|book, _| book.last_entry().0), 7);
}

#[test]
fn an_older_ledger_is_backed_up_before_it_is_brought_up_to_date() {
    let fixtures = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/ledgers");
    for fixture in std::fs::read_dir(fixtures).unwrap() {
        let dir = TempDir::new().unwrap();
        std::fs::copy(fixture.unwrap().path().join(FILE), dir.path().join(FILE)).unwrap();
        let store = opened(dir.path());
        assert_eq!(store.trouble(), None);
        let kept = backup::list(dir.path());
        assert_eq!(kept.len(), 1);
        assert_eq!(kept[0].why, Why::BeforeMigration);
        // It can be restored, and becomes the same.
        let before = store.read(|book, _| book.last_entry());
        store.restore(&kept[0].path, now()).unwrap();
        assert_eq!(store.read(|book, _| book.last_entry()), before);
        drop(store);
        let again = opened(dir.path());
        assert_eq!(again.trouble(), None);
        assert!(again.rebuilt().unwrap() == again.read(|b, _| b.clone()));
    }
}
