//! The rooms of core only look down: a module uses what stands before it in this list, never what stands after it.

use std::collections::BTreeSet;
use std::fs;
use std::path::{Path, PathBuf};

/// From what knows nothing to what knows most. A new room goes in where everything it uses stands before it.
const ROOMS: [&str; 32] = [
    "units",
    "ids",
    "caution",
    "reason",
    "data",
    "form",
    "catalogue",
    "heat",
    "animal",
    "shape",
    "place",
    "household",
    "logfile",
    "dose",
    "piece",
    "run",
    "agenda",
    "stock",
    "house",
    "cure",
    "ledger",
    "pantry",
    "hang",
    "verdict",
    "label",
    "hanging",
    "running",
    "assign",
    "timetable",
    "find",
    "acts",
    "recipe",
];

fn sources(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            sources(&path, found);
        } else if path.extension().is_some_and(|e| e == "rs") {
            found.push(path);
        }
    }
}

/// Which room a file is in, by the first part of its path.
fn room_of(path: &Path, root: &Path) -> String {
    let inside = path.strip_prefix(root).unwrap();
    let first = inside.components().next().unwrap().as_os_str();
    first.to_string_lossy().trim_end_matches(".rs").to_string()
}

/// True for what is compiled for tests alone: those may look anywhere.
fn is_test(path: &Path) -> bool {
    path.components().any(|part| {
        let name = part.as_os_str().to_string_lossy();
        matches!(&*name, "tests" | "tests.rs" | "testing.rs")
    })
}

/// The code of a file without its comments, and without the tests at its end.
fn code_of(text: &str) -> String {
    let code = text.split("\n#[cfg(test)]\nmod ").next().unwrap_or(text);
    let lines = code.lines().map(|l| l.split("//").next().unwrap_or(l));
    lines.collect::<Vec<_>>().join("\n")
}

/// The rooms that code names: after `crate::`, and inside `crate::{...}`.
fn rooms_named(code: &str) -> BTreeSet<&str> {
    let mut found = BTreeSet::new();
    for after in code.split("crate::").skip(1) {
        let named: Vec<&str> = match after.strip_prefix('{') {
            Some(group) => {
                let mut depth = 1;
                let end = group.find(|c| {
                    depth += i32::from(c == '{') - i32::from(c == '}');
                    depth == 0
                });
                let group = &group[..end.unwrap_or(group.len())];
                let mut depth = 0;
                group
                    .split(|c| {
                        depth += i32::from(c == '{') - i32::from(c == '}');
                        depth == 0 && c == ','
                    })
                    .collect()
            }
            None => vec![after],
        };
        for path in named {
            let path = path.trim_start();
            let end = path.find(|c: char| !c.is_alphanumeric() && c != '_');
            let room = &path[..end.unwrap_or(path.len())];
            found.extend(ROOMS.iter().find(|r| **r == room));
        }
    }
    found
}

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("src")
}

#[test]
fn every_room_looks_only_at_rooms_below_it() {
    let root = root();
    let mut files = Vec::new();
    sources(&root, &mut files);
    let height = |room: &str| ROOMS.iter().position(|r| *r == room);
    let mut upward = Vec::new();
    for path in files.iter().filter(|p| !is_test(p)) {
        let room = room_of(path, &root);
        if room == "lib" {
            continue;
        }
        let own = height(&room).unwrap_or_else(|| {
            panic!("{room} is not on the list of rooms: put it where it belongs")
        });
        let text = fs::read_to_string(path).unwrap();
        let code = code_of(&text);
        for named in rooms_named(&code)
            .into_iter()
            .filter(|r| height(r) > Some(own))
        {
            upward.push(format!(
                "{} uses {named}, which is above it",
                path.display()
            ));
        }
    }
    assert!(upward.is_empty(), "{}", upward.join("\n"));
}

#[test]
fn every_room_on_the_list_is_there() {
    for room in ROOMS {
        let there = root().join(room).is_dir() || root().join(format!("{room}.rs")).is_file();
        assert!(there, "{room} is on the list and nowhere else");
    }
}

#[test]
fn imports_are_found_however_they_are_written() {
    let rows = [
        ("use crate::cure::sheet::Sheet;", vec!["cure"]),
        (
            "use crate::{cure::{days, dry}, piece};",
            vec!["cure", "piece"],
        ),
        ("let x = crate::verdict::reaches(a, b);", vec!["verdict"]),
        ("let cure = dose.cure; // crate::acts", vec![]),
    ];
    for (code, rooms) in rows {
        let code = code_of(code);
        let found: Vec<_> = rooms_named(&code).into_iter().collect();
        assert_eq!(found, rooms, "{code}");
    }
}
