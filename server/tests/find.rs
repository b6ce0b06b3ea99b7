//! Which one is this: found by what a person knows of it.

mod support;

use serde_json::{Value, json};
use support::Program;

/// A hog and a goat with a few pieces, notes and packs.
fn household() -> Program {
    let program = Program::start();
    let at = |when: &str, acts: Value| {
        let body = json!({"acts": acts, "happened_at": when, "keep_as_typed": true});
        program.post("/entries", &body).ok()
    };
    let received = |name: &str, species: &str| json!({"act": "received", "name": name, "species": species, "origin": "raised", "known": "carcass", "reading": "40 kg"});
    at(
        "2026-11-10T08:00:00Z",
        json!([received("Großer Eber, gezähmt", "pig")]),
    );
    at(
        "2026-11-11T08:00:00Z",
        json!([received("billy goat", "goat")]),
    );
    #[rustfmt::skip]
    let pieces = [
        (1, "belly", "5.2 kg", "42 mm"), (1, "loin", "3.1 kg", "70 mm"), (1, "loin", "2.05 kg", "68 mm"),
        (2, "shoulder", "2.1 kg", "60 mm"), (2, "backstrap", "900 g", "41 mm"),
    ];
    for (lot, cut, reading, thickness) in pieces {
        at(
            "2026-11-12T09:00:00Z",
            json!([{"act": "piece_weighed", "lot": lot, "cut": cut, "reading": reading, "thickness": thickness}]),
        );
    }
    at(
        "2026-11-13T10:00:00Z",
        json!([
            {"act": "noted", "piece": 2, "text": "smells of apples; the dog's favourite"},
            {"act": "assigned", "piece": 4, "build": "fresh"},
            {"act": "assigned", "piece": 1, "build": "belly-slab"},
        ]),
    );
    at(
        "2026-11-14T10:00:00Z",
        json!([{"act": "packed", "piece": 4, "packs": [{"reading": "1.1 kg"}, {"reading": "980 g"}], "finished": true}]),
    );
    program
}

fn asked(program: &Program, q: &str) -> Vec<String> {
    let q: String = q.bytes().map(|b| format!("%{b:02x}")).collect();
    let found = program.get(&format!("/find?q={q}")).ok();
    let list = found["found"].as_array().unwrap();
    assert_eq!(found["in_all"], list.len());
    list.iter()
        .map(|f| f["tag"].as_str().unwrap().to_string())
        .collect()
}

#[test]
fn tags_names_days_notes_weights_and_thicknesses_find() {
    let program = household();
    #[rustfmt::skip]
    let cases: &[(&str, &[&str])] = &[
        ("hg1-2", &["HG1-2"]),
        ("HG1", &["HG1", "HG1-1", "HG1-2", "HG1-3"]),
        ("gt1-1.2", &["GT1-1.2"]),
        ("belly", &["HG1-1"]),
        ("slab", &["HG1-1"]),
        ("loin", &["GT1-2", "HG1-2", "HG1-3"]),
        ("backstrap goat", &["GT1-2"]),
        ("großer eber", &["HG1", "HG1-1", "HG1-2", "HG1-3"]),
        ("apples", &["HG1", "HG1-2"]),
        ("dog's favourite loin", &["HG1-2"]),
        ("2 kg", &["HG1-3"]),
        ("2.1 kg", &["GT1-1", "HG1-3"]),
        ("2.1 kg 68 mm", &["HG1-3"]),
        ("2100 60", &["GT1-1"]),
        ("4 lb 10 oz 2 3/8 in", &["GT1-1"]),
        ("1.09 kg", &["GT1-1.1"]),
        ("13 nov", &["GT1", "GT1-1", "HG1", "HG1-1", "HG1-2"]),
        ("2026-11-14", &["GT1", "GT1-1", "GT1-1.1", "GT1-1.2"]),
        ("zebra", &[]),
        ("2 kg zebra", &[]),
        ("", &[]),
        ("  ?! ", &[]),
    ];
    for (q, want) in cases {
        let mut got = asked(&program, q);
        got.sort_unstable();
        // The packed piece itself weighs nothing any more, and still is what weighed so much.
        assert_eq!(&got, want, "{q}");
    }
    // The nearest comes first, and what weighs so much now before what once did.
    assert_eq!(asked(&program, "HG1")[0], "HG1");
    assert_eq!(asked(&program, "2.06 kg")[0], "HG1-3");
    let found = program.get("/find?q=apples").ok();
    let note = &found["found"][0]["because"][0];
    assert_eq!(note, "“smells of apples; the dog's favourite”");
}

#[test]
fn odd_questions_are_answered_or_refused_in_words() {
    let program = household();
    for q in [
        "%00",
        "%F0%9F%90%97",
        "9e99",
        "-4%20kg",
        "%2525",
        "31%20feb",
        "1/0%20in",
    ] {
        assert_eq!(program.get(&format!("/find?q={q}")).status, 200, "{q}");
    }
    let long = "x".repeat(300);
    assert_eq!(program.get(&format!("/find?q={long}")).status, 422);
    assert_eq!(program.get("/find").status, 422);
}
