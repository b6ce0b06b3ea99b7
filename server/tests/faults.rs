//! The program is killed amid whatever it does, ended by every signal, and started on folders that
//! nobody should start on.

mod support;

use serde_json::{Value, json};
use std::path::Path;
use std::process::{Output, Stdio};
use std::time::{Duration, Instant};
use support::{NOW, Program, command};
use tempfile::TempDir;

/// A folder with a ledger of some hundred entries, left in peace.
fn household() -> TempDir {
    let program = Program::start();
    let lot = program.half_hog();
    let piece = program.piece(lot, "belly", "5.2 kg", "42 mm");
    noted(&program, piece, 0..300);
    program.ended_by("TERM").1
}

fn noted(program: &Program, piece: i64, numbers: std::ops::Range<i32>) {
    let notes: Vec<Value> = numbers
        .map(|n| json!({"act": "noted", "piece": piece, "text": format!("remark {n}")}))
        .collect();
    for some in notes.chunks(200) {
        program.did(json!(some)).ok();
    }
}

fn done(words: &[&str], data: &Path) -> Output {
    command(words, data).output().unwrap()
}

/// How many entries the program counts in a folder, each as it was written.
fn sound(data: &Path) -> usize {
    let output = done(&["check"], data);
    let said = String::from_utf8_lossy(&output.stdout).into_owned();
    let errors = String::from_utf8_lossy(&output.stderr).into_owned();
    assert!(output.status.success(), "{said}{errors}");
    let count = said.split_whitespace().nth(1).unwrap();
    count.parse().unwrap()
}

/// A folder as another one stands.
fn copied(from: &Path) -> TempDir {
    let dir = TempDir::new().unwrap();
    for file in std::fs::read_dir(from).unwrap() {
        let file = file.unwrap();
        if file.file_type().unwrap().is_file() {
            std::fs::copy(file.path(), dir.path().join(file.file_name())).unwrap();
        }
    }
    dir
}

/// Starts a command and kills it after some milliseconds; true when it was not done by then.
fn killed_after(words: &[&str], data: &Path, ms: u64) -> bool {
    let mut child = command(words, data)
        .stdout(Stdio::null())
        .stderr(Stdio::null())
        .spawn()
        .unwrap();
    std::thread::sleep(Duration::from_millis(ms));
    child.kill().unwrap();
    !child.wait().unwrap().success()
}

/// Moments (ms) from the start of a command to well past its end, closer together towards the end.
fn moments(words: &[&str], data: &Path) -> Vec<u64> {
    let begun = Instant::now();
    assert!(done(words, data).status.success());
    let whole = begun.elapsed().as_millis() as u64;
    let parts = [5, 15, 30, 45, 55, 65, 72, 79, 86, 92, 97, 103, 130, 300];
    parts.map(|part| whole * part / 100).to_vec()
}

#[test]
fn a_kill_amid_a_backup_leaves_the_ledger_and_only_whole_backups() {
    let data = household();
    let entries = sound(data.path());
    let mut killed = 0;
    for ms in moments(&["backup"], data.path()) {
        killed += usize::from(killed_after(&["backup"], data.path(), ms));
        assert_eq!(sound(data.path()), entries);
    }
    assert!(killed >= 3, "only {killed} of them were amid it");
    let program = Program::on(data, &["--now", NOW]);
    let listed = program.get("/backups").ok();
    for backup in listed["backups"].as_array().unwrap() {
        let name = backup["name"].as_str().unwrap();
        let holds = program.get(&format!("/backups/{name}/preview")).ok();
        assert_eq!(holds["entries"], entries, "{name}");
    }
    let left = std::fs::read_dir(program.data.path().join("backups")).unwrap();
    assert!(
        left.flatten()
            .all(|f| f.path().extension().unwrap() == "db"),
        "what was left unfinished is gone"
    );
}

#[test]
fn a_kill_amid_a_restore_leaves_the_one_or_the_other_ledger_whole() {
    let before = household();
    let entries = sound(before.path());
    let file = before.path().join("carried.db");
    let to = ["backup", "--to", file.to_str().unwrap()];
    assert!(done(&to, before.path()).status.success());
    // What came after it is what a restore would lose.
    let program = Program::on(before, &["--now", NOW]);
    noted(&program, 1, 300..420);
    let data = program.ended_by("TERM").1;
    let file = data.path().join("carried.db");
    let words = ["restore", file.to_str().unwrap()];
    let (mut old, mut new) = (0, 0);
    for ms in moments(&words, copied(data.path()).path()) {
        let folder = copied(data.path());
        killed_after(&words, folder.path(), ms);
        match sound(folder.path()) {
            n if n == entries => new += 1,
            n if n == entries + 120 => old += 1,
            other => panic!("{other} entries after a kill at {ms} ms"),
        }
        // It starts as if nothing had been, and takes entries.
        let program = Program::on(folder, &["--now", NOW]);
        assert_eq!(
            program.get("/settings").ok()["trouble"],
            Value::Null,
            "{ms} ms"
        );
        noted(&program, 1, 0..1);
    }
    assert!(old > 0 && new > 0, "{old} before, {new} after");
}

#[test]
fn a_kill_amid_a_migration_loses_nothing() {
    let fixture = Path::new(env!("CARGO_MANIFEST_DIR")).join("../store/tests/ledgers/v1-demo");
    let whole = copied(&fixture);
    Program::on(copied(whole.path()), &["--now", NOW]);
    let migrated = Program::on(whole, &["--now", NOW]).ended_by("TERM").1;
    let entries = sound(migrated.path());
    // From before it opens the file to when it listens.
    for ms in [0, 10, 20, 30, 45, 60, 80, 100, 130, 170, 220, 300, 500] {
        let folder = copied(&fixture);
        killed_after(&["serve", "--listen", "127.0.0.1:0"], folder.path(), ms);
        let program = Program::on(folder, &["--now", NOW]);
        assert_eq!(
            program.get("/settings").ok()["trouble"],
            Value::Null,
            "{ms} ms"
        );
        let listed = program.get("/backups").ok();
        let whys: Vec<_> = listed["backups"]
            .as_array()
            .unwrap()
            .iter()
            .map(|b| &b["why"])
            .collect();
        assert!(
            whys.iter().any(|why| *why == "before_migration"),
            "{ms} ms: {whys:?}"
        );
        assert_eq!(sound(program.ended_by("TERM").1.path()), entries, "{ms} ms");
    }
}

#[test]
fn every_signal_that_asks_ends_it_cleanly() {
    for signal in ["TERM", "INT", "HUP"] {
        let program = Program::start();
        let lot = program.half_hog();
        let piece = program.piece(lot, "belly", "5.2 kg", "42 mm");
        noted(&program, piece, 0..20);
        let (status, data) = program.ended_by(signal);
        assert!(status.success(), "{signal}: {status}");
        let wal = data.path().join("household.db-wal");
        assert_eq!(std::fs::metadata(wal).map_or(0, |m| m.len()), 0, "{signal}");
        // The one file holds everything.
        let alone = TempDir::new().unwrap();
        std::fs::copy(
            data.path().join("household.db"),
            alone.path().join("household.db"),
        )
        .unwrap();
        assert_eq!(sound(alone.path()), 22, "{signal}");
    }
}

#[test]
fn what_stands_in_the_way_of_a_start_is_said_in_a_line() {
    let running = Program::start();
    let port = running.address.trim_start_matches("http://").to_string();
    let gone = household();
    std::fs::remove_file(gone.path().join("household.db")).unwrap();
    let empty = household();
    std::fs::write(empty.path().join("household.db"), "").unwrap();
    let text = TempDir::new().unwrap();
    std::fs::write(
        text.path().join("household.db"),
        "a shopping list, and more of it than a header",
    )
    .unwrap();
    let newer = household();
    rusqlite::Connection::open(newer.path().join("household.db"))
        .unwrap()
        .pragma_update(None, "user_version", 999)
        .unwrap();
    let file = TempDir::new().unwrap();
    let no_folder = file.path().join("file");
    std::fs::write(&no_folder, "").unwrap();
    let other = TempDir::new().unwrap();
    #[rustfmt::skip]
    let cases: [(&Path, &[&str], &str); 9] = [
        (running.data.path(), &[], "is in use by another build-manifest; stop that one first"),
        (gone.path(), &[], "its ledger is gone or empty; nothing new is begun over it"),
        (gone.path(), &["--demo"], "its ledger is gone or empty; nothing new is begun over it"),
        (empty.path(), &[], "its ledger is gone or empty; nothing new is begun over it"),
        (text.path(), &[], "is not a ledger of build-manifest"),
        (newer.path(), &[], "a newer build-manifest wrote to this ledger; start that one"),
        (&no_folder, &[], "file"),
        (other.path(), &["--listen", &port], "give another --listen"),
        (other.path(), &["--allow-host"], "a value is required"),
    ];
    for (data, more, words) in cases {
        let output = command(&["serve"], data)
            .args(
                ["--listen", "127.0.0.1:0"]
                    .iter()
                    .filter(|_| more.is_empty() || more[0] == "--demo"),
            )
            .args(more)
            .output()
            .unwrap();
        let said = String::from_utf8_lossy(&output.stderr).into_owned();
        assert!(!output.status.success(), "{words}");
        assert!(said.contains(words), "{words}: {said}");
        assert!(
            !said.contains("Caused by") && !said.contains("panicked"),
            "{said}"
        );
        if words != "a value is required" {
            assert_eq!(said.trim_end().lines().count(), 1, "{said}");
            assert!(said.starts_with("build-manifest: "), "{said}");
        }
    }
    assert!(
        !gone.path().join("household.db").exists(),
        "nothing was begun"
    );
}

#[test]
fn the_demo_leaves_a_household_as_it_is() {
    let data = household();
    let before = std::fs::read(data.path().join("household.db")).unwrap();
    let output = done(&["serve", "--demo", "--listen", "127.0.0.1:0"], data.path());
    assert!(!output.status.success());
    let said = String::from_utf8_lossy(&output.stderr);
    assert!(said.contains("--demo wants an empty folder"), "{said}");
    assert_eq!(
        std::fs::read(data.path().join("household.db")).unwrap(),
        before
    );
    // Killed while it is being filled, it is filled whole the next time.
    for ms in [100, 300, 900] {
        let demo = TempDir::new().unwrap();
        let words = ["serve", "--demo", "--listen", "127.0.0.1:0"];
        killed_after(&words, demo.path(), ms);
        let program = Program::on(demo, &["--demo"]);
        assert_eq!(
            program.get("/settings").ok()["trouble"],
            Value::Null,
            "{ms} ms"
        );
        assert_eq!(
            program.get("/lots").ok().as_array().unwrap().len(),
            4,
            "{ms} ms"
        );
    }
}
