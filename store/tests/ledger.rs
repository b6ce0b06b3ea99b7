//! The ledger on real SQLite files.

use jiff::Timestamp;
use manifest_core::animal::KnownWeight;
use manifest_core::assign::plan::Plans;
use manifest_core::assign::wishes::{Wish, WishAmount, WishList};
use manifest_core::house::House;
use manifest_core::household::Household;
use manifest_core::ledger::book::{Book, Change};
use manifest_core::ledger::facts::Act;
use manifest_core::ledger::facts::piece_weighed::PieceWeighed;
use manifest_core::ledger::facts::received::Received;
use manifest_core::ledger::state::reading;
use manifest_core::ledger::{LotId, Origin, PieceId};
use manifest_core::pantry::Pantry;
use manifest_store::{FILE, NewList, Request, Store, StoreError, WriteError};
use proptest::prelude::*;
use rusqlite::Connection;
use std::convert::Infallible;
use tempfile::TempDir;

const LOT: LotId = LotId(1);

fn now() -> Timestamp {
    "2026-11-20T09:00:00Z".parse().unwrap()
}

fn request<'a>(key: Option<&'a str>, fingerprint: &'a str) -> Request<'a> {
    Request {
        key,
        fingerprint,
        now: now(),
    }
}

fn received() -> Act {
    Act::Received(Received::animal(
        "EK1",
        "elk quarter",
        "elk",
        Origin::Harvested,
        (KnownWeight::Carcass, reading(30_000.0)),
    ))
}

fn piece(id: i64, grams: f64) -> Act {
    Act::PieceWeighed(PieceWeighed {
        piece: PieceId(id),
        tag: format!("EK1-{id}"),
        cut: "backstrap".into(),
        reading: reading(grams),
        shape: manifest_core::shape::Shape::thick(manifest_core::units::Millimetres(60.0)),
    })
}

fn add(act: Act) -> Change {
    Change::Add {
        lot: LOT,
        at: now(),
        act: Box::new(act),
        kept: Vec::new(),
    }
}

fn write(store: &Store, changes: Vec<Change>) -> Result<(), WriteError<Infallible>> {
    store.write(request(None, ""), |_, _| Ok(changes)).map(drop)
}

fn with_a_lot() -> (TempDir, Store) {
    let dir = TempDir::new().unwrap();
    let store = Store::open(dir.path(), jiff::Timestamp::now()).unwrap();
    write(&store, vec![add(received())]).unwrap();
    (dir, store)
}

fn beside(dir: &TempDir) -> Connection {
    let conn = Connection::open(dir.path().join(FILE)).unwrap();
    conn.pragma_update(None, "foreign_keys", true).unwrap();
    conn
}

#[test]
fn what_was_written_is_there_after_opening_again() {
    let (dir, store) = with_a_lot();
    write(&store, vec![add(piece(1, 2_010.0)), add(piece(2, 1_850.0))]).unwrap();
    let before = store.read(|book, _| book.clone());
    drop(store);
    let again = Store::open(dir.path(), jiff::Timestamp::now()).unwrap();
    assert_eq!(again.read(|book, _| book.clone()), before);
}

#[test]
fn a_retry_under_the_same_key_writes_nothing_new() {
    let (_dir, store) = with_a_lot();
    let weigh = |_: &Book, _: &House| Ok::<_, Infallible>(vec![add(piece(1, 2_010.0))]);
    let first = store
        .write(request(Some("k1"), "weigh 2010"), weigh)
        .unwrap();
    let second = store
        .write(request(Some("k1"), "weigh 2010"), weigh)
        .unwrap();
    assert!(!first.repeated && second.repeated);
    assert_eq!((first.entries, first.lots), (second.entries, second.lots));
    assert_eq!(store.read(|book, _| book.pieces().count()), 1);
    let other = store.write(request(Some("k1"), "weigh 2020"), weigh);
    assert!(matches!(other, Err(WriteError::KeyReused)));
}

#[test]
fn a_write_that_fails_half_way_leaves_nothing() {
    let (dir, store) = with_a_lot();
    // The second piece meets a full disk, played by a trigger.
    beside(&dir)
        .execute_batch(
            "CREATE TRIGGER full_disk BEFORE INSERT ON entry
             WHEN NEW.act LIKE '%EK1-2%' BEGIN SELECT raise(ABORT, 'disk full'); END;",
        )
        .unwrap();
    let error = write(&store, vec![add(piece(1, 2_010.0)), add(piece(2, 1_850.0))]).unwrap_err();
    assert!(matches!(error, WriteError::Store(StoreError::Sqlite(_))));
    assert_eq!(store.read(|book, _| book.pieces().count()), 0);
    let rows: i64 = beside(&dir)
        .query_row("SELECT (SELECT count(*) FROM entry) + (SELECT count(*) FROM write) + (SELECT count(*) FROM posting)", [], |r| r.get(0))
        .unwrap();
    assert_eq!(rows, 1 + 1 + 2, "only the receipt is there");
    write(&store, vec![add(piece(1, 2_010.0))]).unwrap();
    assert_eq!(store.rebuilt().unwrap(), store.read(|book, _| book.clone()));
}

#[test]
fn the_database_itself_refuses_what_would_unbalance_it() {
    let (dir, _store) = with_a_lot();
    let conn = beside(&dir);
    let refused = |sql: &str| conn.execute_batch(sql).unwrap_err().to_string();
    let entry = "INSERT INTO entry (id, write_id, lot_id, kind, happened_at, recorded_at, act) VALUES (9, 1, 1, 'noted', 't', 't', '{}')";
    #[rustfmt::skip]
    let cases = [
        (format!("BEGIN; INSERT INTO posting VALUES (9, 0, 'lot', 5); {entry}; COMMIT"), "must sum to zero"),
        ("BEGIN; INSERT INTO posting VALUES (9, 0, 'lot', 5); COMMIT".to_string(), "FOREIGN KEY"),
        ("INSERT INTO posting VALUES (1, 7, 'lot', 5)".to_string(), "sealed once it is written"),
        ("UPDATE entry SET kind = 'noted'".to_string(), "never changed"),
        ("DELETE FROM entry".to_string(), "never deleted"),
        ("UPDATE posting SET mass_mg = 1".to_string(), "never changed"),
        ("DELETE FROM posting".to_string(), "never deleted"),
        ("BEGIN; INSERT INTO posting VALUES (9, 0, 'lot', 0)".to_string(), "CHECK"),
    ];
    for (sql, why) in cases {
        let said = refused(&sql);
        assert!(said.contains(why), "{sql}: {said}");
        let _ = conn.execute_batch("ROLLBACK");
    }
}

#[test]
fn a_folder_belongs_to_one_process_at_a_time() {
    let (dir, store) = with_a_lot();
    assert!(matches!(
        Store::open(dir.path(), jiff::Timestamp::now()),
        Err(StoreError::InUse(_))
    ));
    drop(store);
    assert!(Store::open(dir.path(), jiff::Timestamp::now()).is_ok());
}

#[test]
fn a_damaged_file_is_opened_for_reading_alone() {
    let (dir, store) = with_a_lot();
    drop(store);
    let conn = beside(&dir);
    conn.execute_batch(
        "DROP TRIGGER posting_stays; UPDATE posting SET mass_mg = mass_mg + 1 WHERE line = 1",
    )
    .unwrap();
    drop(conn);
    let store = Store::open(dir.path(), jiff::Timestamp::now()).unwrap();
    let trouble = store.trouble().unwrap();
    assert_eq!(trouble.what, "entry 1 is not what was written");
    assert!(trouble.remedy.contains("no backup"), "{}", trouble.remedy);
}

#[test]
fn settings_are_kept_with_their_history() {
    let (dir, store) = with_a_lot();
    let home = Household {
        name: "Cold room".into(),
        ..Household::default()
    };
    store.settle(Household::default(), None, now()).unwrap();
    store.settle(home.clone(), None, now()).unwrap();
    drop(store);
    assert_eq!(
        Store::open(dir.path(), jiff::Timestamp::now())
            .unwrap()
            .read(|_, h| h.settings.clone()),
        home
    );
    let rows: i64 = beside(&dir)
        .query_row("SELECT count(*) FROM household", [], |r| r.get(0))
        .unwrap();
    assert_eq!(rows, 2);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(12))]

    #[test]
    fn the_book_in_memory_is_always_the_one_in_the_file(
        weights in prop::collection::vec(1.0..9_000.0_f64, 1..20),
        undone in prop::collection::vec(any::<prop::sample::Index>(), 0..6),
    ) {
        let (_dir, store) = with_a_lot();
        for (i, grams) in weights.iter().enumerate() {
            let _ = write(&store, vec![add(piece(i as i64 + 1, *grams))]);
        }
        for which in undone {
            let entries = store.read(|book, _| book.lot(LOT).unwrap().entries.clone());
            let _ = write(&store, vec![Change::Undo { entry: which.get(&entries).id }]);
        }
        prop_assert_eq!(store.rebuilt().unwrap(), store.read(|book, _| book.clone()));
    }
}

#[test]
fn lists_are_kept_versioned_and_never_overwritten_unseen() {
    let folder = TempDir::new().unwrap();
    let wish = |g| {
        NewList::Wishes(WishList {
            wishes: vec![Wish {
                id: 1,
                build: "belly-slab".into(),
                amount: WishAmount::Mass {
                    amount: manifest_core::units::reading(g),
                },
                species: None,
            }],
        })
    };
    let store = Store::open(folder.path(), jiff::Timestamp::now()).unwrap();
    let first = store.put(wish(1_000.0), 0, now()).unwrap();
    let second = store.put(wish(2_000.0), first, now()).unwrap();
    assert!(second > first);
    let late = store.put(wish(3_000.0), first, now()).unwrap_err();
    assert_eq!(
        late.to_string(),
        "this list was changed on another device since you opened it; look at it again"
    );
    // Another kind has its own version.
    store
        .put(NewList::Pantry(Pantry::default()), 0, now())
        .unwrap();
    let before = store.read_with_lists(|_, _, lists| lists.clone());
    drop(store);
    let again = Store::open(folder.path(), jiff::Timestamp::now()).unwrap();
    assert_eq!(again.read_with_lists(|_, _, lists| lists.clone()), before);
    let conn = Connection::open(folder.path().join(FILE)).unwrap();
    let refused = conn
        .execute("UPDATE list SET content = '{}'", [])
        .unwrap_err();
    assert!(refused.to_string().contains("lists are never changed"));
}

#[test]
fn a_file_of_the_first_version_is_brought_up_to_date() {
    let folder = TempDir::new().unwrap();
    {
        let conn = Connection::open(folder.path().join(FILE)).unwrap();
        conn.execute_batch(include_str!("../src/migrations/001_ledger.sql"))
            .unwrap();
        // An entry and settings as the first version wrote them, without anything newer.
        conn.execute_batch(
            r#"
            BEGIN;
            INSERT INTO write VALUES (1, NULL, 'x', '2026-11-20T09:00:00Z');
            INSERT INTO posting VALUES (1, 0, 'outside', -30000000), (1, 1, 'lot', 30000000);
            INSERT INTO entry VALUES (1, 1, 1, 'received', '2026-11-20T09:00:00Z', '2026-11-20T09:00:00Z', NULL, NULL,
              '{"act":"received","tag":"EK1","name":"elk","species":"elk","origin":"harvested","known":"carcass","reading":{"said":"30 kg","mg":30000000}}');
            INSERT INTO household VALUES (1, '2026-11-20T09:00:00Z',
              '{"name":"Our table","units":{"mass":"metric","length":"mm","heat":"celsius"},"scales":{"fine_division_g":1.0,"meat_division_g":1.0},"school":null,"rule_set":"us_home","cut_off_hour":12,"time_zone":"UTC","currency":"$","theme":"device"}');
            COMMIT;
            PRAGMA user_version = 1;
            "#,
        )
        .unwrap();
    }
    let store = Store::open(folder.path(), jiff::Timestamp::now()).unwrap();
    let left = store.read(|book, home| {
        assert_eq!(home.settings.equipment, None);
        book.lot(LOT).unwrap().state.left.grams()
    });
    assert_eq!(left, 30_000.0);
    store
        .put(NewList::Plans(Plans::default()), 0, now())
        .unwrap();
}
