//! Runs and their readings on a real file: written once, read back, struck out, thinned by their rule and no other way.

use jiff::{Timestamp, ToSpan};
use manifest_core::ids::RunId;
use manifest_core::place::climate::Read;
use manifest_core::run::thin::{AFTER_DAYS, OFF_C};
use manifest_core::run::{Appliance, RunAct, RunStage, RunStageKind, StageEnd};
use manifest_core::units::Celsius;
use manifest_store::readings::Source;
use manifest_store::runs::{NewEvent, NewProbeReading};
use manifest_store::{Request, Store, WriteError};
use tempfile::TempDir;

fn begin() -> Timestamp {
    "2026-11-20T06:00:00Z".parse().unwrap()
}

fn at(second: i64) -> Timestamp {
    Timestamp::from_second(begin().as_second() + second).unwrap()
}

fn event(second: i64, act: RunAct) -> NewEvent {
    NewEvent {
        at: at(second),
        act,
        kept: Vec::new(),
        reason: None,
    }
}

fn set_up() -> RunAct {
    RunAct::SetUp {
        place: None,
        name: "drum".into(),
        hearth: Appliance::Smoker,
        school: None,
        stages: vec![RunStage::new(
            RunStageKind::Smoke,
            Some(Celsius(90.0)),
            StageEnd::Hours(2.0),
        )],
    }
}

type Written = Result<manifest_store::runs::RunWritten, WriteError<std::convert::Infallible>>;

fn write(
    store: &Store,
    key: Option<&str>,
    run: Option<RunId>,
    act: RunAct,
    second: i64,
) -> Written {
    let fingerprint = format!("{act:?}");
    let request = Request {
        key,
        fingerprint: &fingerprint,
        now: at(second),
    };
    store.write_run(request, run, |_, _| Ok(vec![event(second, act)]))
}

fn readings(n: i64) -> Vec<NewProbeReading> {
    let of = |i: i64| {
        let temperature = Celsius(90.0 - 86.0 * (-(i as f64) / 700.0).exp() + 0.1 * (i % 3) as f64);
        NewProbeReading {
            probe: 1,
            read: Read {
                at: at(30 * i),
                temperature,
            },
        }
    };
    (0..n).map(of).collect()
}

#[test]
fn a_run_is_written_once_and_is_there_again_after_the_program_was_closed() {
    let folder = TempDir::new().unwrap();
    let store = Store::open(folder.path(), begin()).unwrap();
    let first = write(&store, Some("a-key-of-its-own"), None, set_up(), 0).unwrap();
    let again = write(&store, Some("a-key-of-its-own"), None, set_up(), 5).unwrap();
    assert_eq!((again.run, again.repeated), (first.run, true));
    assert_eq!(again.events, first.events);
    let other = write(&store, Some("a-key-of-its-own"), None, RunAct::Ended, 5);
    assert!(matches!(other, Err(WriteError::KeyReused)));
    write(&store, None, Some(first.run), RunAct::Paused, 60).unwrap();
    let logged = store
        .log_probes(first.run, &readings(100), Source::Sensor)
        .unwrap();
    assert_eq!((logged.added, logged.doubled), (100, 0));
    let twice = store
        .log_probes(first.run, &readings(120), Source::Csv)
        .unwrap();
    assert_eq!((twice.added, twice.doubled), (20, 100));
    let struck = store.strike_probe(
        first.run,
        1,
        (at(0), at(299)),
        "it lay on the table",
        at(4_000),
    );
    assert_eq!(struck.unwrap(), 10);
    let before = store.watched(first.run).unwrap();
    assert_eq!(before.readings.count(), 110);
    drop(store);
    let store = Store::open(folder.path(), at(5_000)).unwrap();
    assert_eq!(store.watched(first.run).unwrap(), before);
    assert!(store.watched(RunId(77)).is_none());
}

#[test]
fn an_old_run_is_thinned_once_as_a_whole_and_nothing_else_deletes_a_reading() {
    let folder = TempDir::new().unwrap();
    let store = Store::open(folder.path(), begin()).unwrap();
    let run = write(&store, None, None, set_up(), 0).unwrap().run;
    store
        .log_probes(run, &readings(2_000), Source::Sensor)
        .unwrap();
    let whole = store.watched(run).unwrap().readings.of(1).to_vec();
    let later = |days: i64| at(60_000) + (24 * days).hours();
    // under way it stays whole, and so it does until a month after its end
    assert_eq!(store.thin_runs(later(90)).unwrap(), 0);
    write(&store, None, Some(run), RunAct::Ended, 60_000).unwrap();
    assert_eq!(store.thin_runs(later(AFTER_DAYS - 1)).unwrap(), 0);
    let file = rusqlite::Connection::open(folder.path().join(manifest_store::FILE)).unwrap();
    let deleted = file.execute("DELETE FROM probe_reading", []);
    assert!(deleted.unwrap_err().to_string().contains("never deleted"));
    let changed = file.execute("UPDATE run_event SET content = '{}'", []);
    assert!(changed.unwrap_err().to_string().contains("never changed"));
    drop(file);
    let dropped = store.thin_runs(later(AFTER_DAYS)).unwrap();
    assert!(dropped > 1_800, "{dropped}");
    assert_eq!(store.thin_runs(later(AFTER_DAYS + 1)).unwrap(), 0);
    assert_eq!(
        store.thinned(run).unwrap(),
        Some(((2_000 - dropped) as u64, dropped as u64))
    );
    let thin = store.watched(run).unwrap();
    let thin = thin.readings.of(1);
    assert_eq!((thin.first(), thin.last()), (whole.first(), whole.last()));
    // every dropped one lies within its reach of the line between its neighbours
    for read in &whole {
        let after = thin.partition_point(|r| r.at < read.at).max(1);
        let (a, b) = (thin[after - 1], thin[after.min(thin.len() - 1)]);
        let share = (read.at.as_second() - a.at.as_second()) as f64
            / (b.at.as_second() - a.at.as_second()).max(1) as f64;
        let line = a.temperature.0 + share * (b.temperature.0 - a.temperature.0);
        assert!(
            (line - read.temperature.0).abs() <= OFF_C + 1e-6,
            "{read:?}"
        );
    }
}
