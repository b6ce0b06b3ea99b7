//! A household in a folder of its own, and acts written as a request would.
#![allow(dead_code, reason = "each test uses its own part of it")]

use jiff::Timestamp;
use manifest_core::acts::{Ask, DraftContext};
use manifest_core::household::Household;
use manifest_core::ledger::book::Change;
use manifest_core::ledger::facts::Act;
use manifest_store::{Request, Store, WriteError};
use serde_json::json;
use std::path::Path;
use tempfile::TempDir;

pub fn now() -> Timestamp {
    "2026-11-26T09:30:00Z".parse().unwrap()
}

pub fn opened(folder: &Path) -> Store {
    Store::open(folder, now()).unwrap()
}

/// Writes acts down as a request would.
pub fn did(store: &Store, acts: &[serde_json::Value]) -> Result<(), WriteError<String>> {
    let request = Request {
        key: None,
        fingerprint: "a test",
        now: now(),
    };
    let written = store.write(request, |book, home| {
        let mut desk = DraftContext::new(book, home, now());
        let mut changes = Vec::new();
        for act in acts {
            let ask: Ask = serde_json::from_value(act.clone()).map_err(|e| e.to_string())?;
            let drafted: Vec<(_, Act)> = ask.draft(&mut desk, None).map_err(|e| e.to_string())?;
            changes.extend(drafted.into_iter().map(|(lot, act)| Change::Add {
                lot,
                at: now(),
                act: Box::new(act),
                kept: Vec::new(),
            }));
        }
        Ok(changes)
    });
    written.map(|_| ())
}

pub fn note(store: &Store, text: &str) -> Result<(), WriteError<String>> {
    did(store, &[json!({"act": "noted", "piece": 1, "text": text})])
}

/// A lot with a piece, and as many notes.
pub fn household(notes: usize) -> (TempDir, Store) {
    let dir = TempDir::new().unwrap();
    let store = opened(dir.path());
    let home = Household {
        name: "trial table".into(),
        ..Household::default()
    };
    store.settle(home, None, now()).unwrap();
    for acts in [
        json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "38 kg"}),
        json!({"act": "piece_weighed", "lot": 1, "cut": "belly", "reading": "5.2 kg", "thickness": "42 mm"}),
        json!({"act": "assigned", "piece": 1, "build": "belly-slab"}),
    ] {
        did(&store, &[acts]).unwrap();
    }
    for n in 0..notes {
        note(&store, &format!("remark {n}")).unwrap();
    }
    (dir, store)
}

pub fn copied(folder: &Path) -> TempDir {
    let dir = TempDir::new().unwrap();
    for file in std::fs::read_dir(folder).unwrap() {
        let file = file.unwrap();
        let name = file.file_name();
        if file.file_type().unwrap().is_file() && name != "in-use.lock" {
            // What is gone while it is copied was never in the copy.
            let _ = std::fs::copy(file.path(), dir.path().join(name));
        }
    }
    dir
}

/// What was noted, in order.
pub fn notes(store: &Store) -> Vec<String> {
    store.read(|book, _| {
        let all = book.lots().flat_map(|lot| lot.live_entries());
        let texts = all.filter_map(|e| match &e.act {
            Act::Noted(noted) => Some(noted.text.clone()),
            _ => None,
        });
        texts.collect()
    })
}
