//! Backups are never overwritten, never mixed up, and say what they are; a ledger that is cut short still shows what reads.

mod support;

use serde_json::{Value, json};
use std::path::Path;
use std::process::Output;
use std::time::Duration;
use support::{NOW, Program, command};
use tempfile::TempDir;

fn done(words: &[&str], data: &Path) -> Output {
    command(words, data).output().unwrap()
}

fn said(output: &Output) -> String {
    let both = [&output.stdout[..], &output.stderr[..]].concat();
    String::from_utf8(both).unwrap()
}

/// A ledger with so many notes beside its animal and its piece.
fn household(notes: usize) -> Program {
    let program = Program::start();
    let lot = program.half_hog();
    let piece = program.piece(lot, "belly", "5.2 kg", "42 mm");
    for n in 0..notes {
        program
            .did(json!([{"act": "noted", "piece": piece, "text": format!("remark {n}")}]))
            .ok();
    }
    program
}

fn names(program: &Program, why: &str) -> Vec<String> {
    let listed = program.get("/backups").ok();
    let all = listed["backups"].as_array().unwrap().iter();
    all.filter(|b| b["why"] == why)
        .map(|b| b["name"].as_str().unwrap().to_string())
        .collect()
}

fn entries(program: &Program, name: &str) -> Value {
    program.get(&format!("/backups/{name}/preview")).ok()["entries"].clone()
}

fn brought(program: &Program, file: &Path) -> String {
    let bytes = std::fs::read(file).unwrap();
    loop {
        let answer = program.send("/backups/brought", "application/octet-stream", &bytes);
        // Two at a time: who is told so sends it again, as the page does.
        if answer.status != 503 {
            return answer.ok()["name"].as_str().unwrap().to_string();
        }
        assert_eq!(answer.headers["retry-after"], "1");
    }
}

#[test]
fn two_of_one_second_are_two() {
    let program = household(2);
    let one = program.post("/backups", &json!({})).ok();
    program
        .did(json!([{"act": "noted", "piece": 1, "text": "in between"}]))
        .ok();
    let two = program.post("/backups", &json!({})).ok();
    assert_ne!(one["name"], two["name"]);
    assert_eq!(names(&program, "by_hand").len(), 2);
    // The second is the newer, and holds what came in between.
    assert_eq!(names(&program, "by_hand")[0], two["name"]);
    for (backup, holds) in [(&one, 4), (&two, 5)] {
        assert_eq!(entries(&program, backup["name"].as_str().unwrap()), holds);
    }
    // Restores whose clock stands keep each ledger that they took the place of.
    let (one, two) = (one["name"].as_str().unwrap(), two["name"].as_str().unwrap());
    for name in [one, two, one] {
        program
            .post(&format!("/backups/{name}/restore"), &json!({}))
            .ok();
    }
    let before = names(&program, "before_restore");
    let holds: Vec<Value> = before.iter().map(|name| entries(&program, name)).collect();
    assert_eq!(holds, [json!(5), json!(4), json!(5)]);
}

#[test]
fn files_that_are_brought_and_looked_at_at_once_are_not_mixed_up() {
    let dir = TempDir::new().unwrap();
    let mut files = Vec::new();
    for notes in [1, 2, 3] {
        let other = household(notes);
        let file = dir.path().join(format!("{notes}.db"));
        let to = ["backup", "--to", file.to_str().unwrap()];
        assert!(done(&to, other.data.path()).status.success());
        files.push((file, notes + 2));
    }
    let program = Program::start();
    std::thread::scope(|scope| {
        for (file, holds) in &files {
            let program = &program;
            scope.spawn(move || {
                for _ in 0..3 {
                    let name = brought(program, file);
                    assert_eq!(entries(program, &name), *holds, "{name}");
                    let folder = program.data.path();
                    let look = ["restore", "--look", file.to_str().unwrap()];
                    let words = said(&done(&look, folder));
                    assert!(words.contains(&format!("holds {holds} entries")), "{words}");
                }
            });
        }
    });
    assert_eq!(names(&program, "brought").len(), 9);
}

#[test]
fn nothing_that_is_there_is_written_over() {
    let program = household(1);
    let dir = TempDir::new().unwrap();
    let data = program.data.path();
    let file = dir.path().join("curing.db");
    let neighbour = dir.path().join("curing.part");
    std::fs::write(&neighbour, "a letter").unwrap();
    let to = |path: &Path| done(&["backup", "--to", path.to_str().unwrap()], data);
    assert!(to(&file).status.success());
    let first = std::fs::read(&file).unwrap();
    for taken in [&file, &data.join("household.db"), dir.path(), &neighbour] {
        let output = to(taken);
        assert!(!output.status.success());
        let words = said(&output);
        assert!(words.contains("is there already"), "{words}");
    }
    assert_eq!(std::fs::read(&file).unwrap(), first);
    assert_eq!(std::fs::read_to_string(&neighbour).unwrap(), "a letter");
    let left = std::fs::read_dir(dir.path()).unwrap().count();
    assert_eq!(left, 2, "nothing unfinished is left");
    program
        .did(json!([{"act": "noted", "piece": 1, "text": "still here"}]))
        .ok();
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        let mode = |path: &Path| std::fs::metadata(path).unwrap().permissions().mode() & 0o777;
        program.post("/backups", &json!({})).ok();
        assert_eq!(mode(data), 0o700);
        assert_eq!(mode(&data.join("backups")), 0o700);
        assert_eq!(mode(&file), 0o600);
        for folder in [data.to_path_buf(), data.join("backups")] {
            for one in std::fs::read_dir(folder).unwrap().flatten() {
                if one.path().is_file() {
                    assert_eq!(mode(&one.path()), 0o600, "{}", one.path().display());
                }
            }
        }
    }
}

#[test]
fn what_was_practised_goes_into_an_empty_folder_and_brings_its_clock() {
    let practice = Program::practice("2026-11-02T09:00:00Z");
    practice.half_hog();
    practice.to("2026-12-24T10:00:00Z");
    let file = practice.data.path().join("carried.db");
    let to = ["backup", "--to", file.to_str().unwrap()];
    assert!(done(&to, practice.data.path()).status.success());
    // A program that runs on the world's clock, in a folder in which nothing is written.
    let program = Program::on(TempDir::new().unwrap(), &[]);
    assert_eq!(program.get("/settings").ok()["practice"], false);
    let name = brought(&program, &file);
    program
        .post(&format!("/backups/{name}/restore"), &json!({}))
        .ok();
    let settings = program.get("/settings").ok();
    assert_eq!(settings["practice"], true);
    assert_eq!(settings["now"], "2026-12-24T10:00:00Z", "{settings}");
    program.to("2026-12-25T10:00:00Z");
    // Once something is written there a real one does not take its place.
    let real = household(1);
    let mine = real.data.path().join("carried.db");
    let to = ["backup", "--to", mine.to_str().unwrap()];
    assert!(done(&to, real.data.path()).status.success());
    let bytes = std::fs::read(&mine).unwrap();
    let refused = program.send("/backups/brought", "application/octet-stream", &bytes);
    assert_eq!(refused.status, 422, "{}", refused.body);
}

#[test]
fn a_restore_says_on_the_command_line_what_would_be_lost() {
    let program = household(1);
    let file = program.data.path().join("carried.db");
    let to = ["backup", "--to", file.to_str().unwrap()];
    assert!(done(&to, program.data.path()).status.success());
    for n in 0..3 {
        program
            .did(json!([{"act": "noted", "piece": 1, "text": format!("later {n}")}]))
            .ok();
    }
    let data = program.ended_by("TERM").1;
    let look = ["restore", "--look", file.to_str().unwrap()];
    let file = data.path().join("carried.db");
    let look = [look[0], look[1], file.to_str().unwrap()];
    let words = said(&done(&look, data.path()));
    for part in [
        "holds 3 entries, the newest written 2026-11-21 09:30 UTC",
        "3 of the 6 entries that are in the ledger now are not in it:",
        "4 of 2026-11-21 09:30 UTC: noted",
        "6 of 2026-11-21 09:30 UTC: noted",
    ] {
        assert!(words.contains(part), "{part}: {words}");
    }
    // Into an empty folder.
    let empty = TempDir::new().unwrap();
    let words = said(&done(&look, empty.path()));
    assert!(words.contains("Nothing is written in"), "{words}");
    // Over one that does not read.
    std::fs::write(data.path().join("household.db"), "SQLite format 3 no more").unwrap();
    let words = said(&done(&look, data.path()));
    assert!(words.contains("cannot be read"), "{words}");
    assert!(!words.contains("All "), "{words}");
}

#[test]
fn a_ledger_that_was_cut_short_starts_under_the_banner_and_shows_what_reads() {
    let program = household(400);
    program.post("/backups", &json!({})).ok();
    let data = program.ended_by("TERM").1;
    let path = data.path().join("household.db");
    let whole = std::fs::metadata(&path).unwrap().len();
    for share in [90, 60, 30, 12] {
        let folder = TempDir::new().unwrap();
        std::fs::create_dir(folder.path().join("backups")).unwrap();
        for sub in ["", "backups"] {
            for file in std::fs::read_dir(data.path().join(sub)).unwrap().flatten() {
                if file.path().is_file() {
                    let to = folder.path().join(sub).join(file.file_name());
                    std::fs::copy(file.path(), to).unwrap();
                }
            }
        }
        let cut = std::fs::OpenOptions::new()
            .write(true)
            .open(folder.path().join("household.db"))
            .unwrap();
        cut.set_len(whole * share / 100 / 4_096 * 4_096).unwrap();
        drop(cut);
        let program = Program::on(folder, &["--now", NOW]);
        let settings = program.get("/settings").ok();
        let trouble = settings["trouble"].to_string();
        assert!(
            trouble.contains("-by-hand.db holds 402 entries"),
            "{share}: {trouble}"
        );
        assert!(!trouble.contains("SELECT"), "{trouble}");
        let refused = program.did(json!([{"act": "noted", "piece": 1, "text": "on top"}]));
        assert_ne!(refused.status, 200);
        for path in ["/today", "/stations/cure", "/tally", "/plan", "/backups"] {
            assert_eq!(program.get(path).status, 200, "{share} {path}");
        }
        // And the way out works.
        let name = names(&program, "by_hand")[0].clone();
        program
            .post(&format!("/backups/{name}/restore"), &json!({}))
            .ok();
        assert_eq!(program.get("/settings").ok()["trouble"], Value::Null);
        assert_eq!(program.get("/pieces/1").status, 200);
        std::thread::sleep(Duration::from_millis(10));
    }
}

#[test]
fn a_check_reads_what_may_only_be_read_and_says_what_a_newer_program_wrote() {
    let program = household(1);
    let data = program.ended_by("TERM").1;
    let stick = TempDir::new().unwrap();
    // Just as it lay there, marked as one that was in use, where nothing can be laid beside it.
    let file = stick.path().join("household.db");
    std::fs::copy(data.path().join("household.db"), &file).unwrap();
    std::fs::create_dir(stick.path().join("household.db-shm")).unwrap();
    let words = said(&done(&["check"], stick.path()));
    assert!(words.contains("Sound: 3 entries"), "{words}");
    let fresh = TempDir::new().unwrap();
    let restored = done(&["restore", file.to_str().unwrap()], fresh.path());
    assert!(restored.status.success(), "{}", said(&restored));
    assert!(said(&done(&["check"], fresh.path())).contains("Sound: 3 entries"));

    // The version of the schema stands in the file's head.
    let mut bytes = std::fs::read(&file).unwrap();
    bytes[60..64].copy_from_slice(&999_u32.to_be_bytes());
    let newer = TempDir::new().unwrap();
    std::fs::write(newer.path().join("household.db"), &bytes).unwrap();
    let words = said(&done(&["check"], newer.path()));
    assert!(words.contains("newer build-manifest"), "{words}");

    // What is no ledger, and what lacks a table, is said without a word of SQL.
    std::fs::write(newer.path().join("household.db"), "hello").unwrap();
    let words = said(&done(&["check"], newer.path()));
    assert!(words.contains("is not a ledger"), "{words}");
}
