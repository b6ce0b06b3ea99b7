//! Away, moved days, the calendar and photos over HTTP.

mod support;

use ical::parser::ical::component::{IcalCalendar, IcalEvent};
use serde_json::{Value, json};
use std::collections::BTreeMap;
use std::io::BufReader;
use support::{Program, command};

fn belly(program: &Program) -> i64 {
    let hog = program.half_hog();
    let belly = program.piece(hog, "belly", "2.4 kg", "38 mm");
    program
        .kept(json!([{"act": "assigned", "piece": belly, "build": "belly-slab"}]))
        .ok();
    program
        .kept(json!([{"act": "dosed", "pieces": [belly]}]))
        .ok();
    belly
}

#[test]
fn five_days_away_are_sorted_and_moved_with_one_tap() {
    let program = Program::practice("2026-11-02T09:00:00Z");
    let belly = belly(&program);
    let away = |program: &Program, from: &str, to: &str| {
        program.get(&format!("/away?from={from}&to={to}"))
    };
    let found = away(&program, "2026-11-08", "2026-11-12").ok();
    let leaves: Vec<_> = found["groups"]
        .as_array()
        .unwrap()
        .iter()
        .map(|g| {
            (
                g["leave"].as_str().unwrap(),
                g["lines"].as_array().unwrap().len(),
            )
        })
        .collect();
    assert_eq!(leaves, [("waits", 1), ("missed", 1)]);
    let line = &found["groups"][0]["lines"][0];
    assert_eq!(line["move_to"], "2026-11-13");
    let wanted = json!({"piece": belly, "kind": "out_of_cure", "step": line["task"]["step"]["id"], "to": "2026-11-13"});
    let moved = program
        .post("/agenda/moves", &json!({ "moves": [wanted] }))
        .ok();
    assert_eq!(moved["moves"][0]["due"], "2026-11-13");
    let task = |program: &Program| {
        let card = program.get(&format!("/pieces/{belly}")).ok()["card"].clone();
        let tasks = card["tasks"].as_array().unwrap().clone();
        tasks
            .into_iter()
            .find(|t| t["kind"] == "out_of_cure")
            .unwrap()
    };
    assert_eq!(
        (
            task(&program)["due"].clone(),
            task(&program)["moved"].clone()
        ),
        (json!("2026-11-13"), json!(true))
    );
    // it outlives a kill, and its window still rules
    let program = program.killed_and_started(&[]);
    assert_eq!(task(&program)["due"], "2026-11-13");
    let refused = |to: &str| {
        let mut wrong = wanted.clone();
        wrong["to"] = json!(to);
        program.post("/agenda/moves", &json!({ "moves": [wrong] }))
    };
    assert_eq!(
        refused("2026-11-05").field("moves[0].to"),
        format!(
            "{} can be done from 2026-11-10 to 2026-11-24. Give a day between.",
            task(&program)["tag"].as_str().unwrap()
        )
    );
    assert_eq!(
        refused("2026-11-01").field("moves[0].to"),
        "That day is gone. Give today or a day after."
    );
    let unknown = json!({"piece": belly, "kind": "smoke", "to": "2026-11-13"});
    assert_eq!(
        program
            .post("/agenda/moves", &json!({"moves": [unknown]}))
            .status,
        409
    );
    let back = json!({"piece": belly, "kind": "out_of_cure", "step": wanted["step"]});
    program.post("/agenda/moves/back", &back).ok();
    assert_eq!(task(&program)["due"], "2026-11-10");
    for no_day in ["soon", "2026-13-30", "2026-02-30", ""] {
        let to = json!({"moves": [{"piece": belly, "kind": "turn", "to": no_day}]});
        for refused in [
            program.post("/agenda/moves", &to).field("moves[0].to"),
            away(&program, no_day, "2026-11-12").field("query"),
        ] {
            assert!(
                refused.starts_with("That is no day or time. Give a day such as 2026-11-20"),
                "{no_day}: {refused}"
            );
        }
    }
    for (from, to, field) in [
        ("2026-11-01", "2026-11-04", "from"),
        ("2026-11-08", "2026-11-07", "to"),
        ("2026-11-08", "2027-11-08", "to"),
    ] {
        let wrong = away(&program, from, to);
        assert_eq!(wrong.status, 422);
        assert!(!wrong.field(field).is_empty());
    }
}

fn events(text: &str) -> BTreeMap<String, IcalEvent> {
    let mut calendars: Vec<IcalCalendar> = ical::IcalParser::new(BufReader::new(text.as_bytes()))
        .collect::<Result<_, _>>()
        .unwrap();
    assert_eq!(calendars.len(), 1);
    let events = calendars.remove(0).events;
    let all = events.len();
    let named: BTreeMap<_, _> = events.into_iter().map(|e| (value(&e, "UID"), e)).collect();
    assert_eq!(named.len(), all, "every name once");
    named
}

fn value(event: &IcalEvent, name: &str) -> String {
    let found = event.properties.iter().find(|p| p.name == name);
    found
        .and_then(|p| p.value.clone())
        .unwrap_or_else(|| panic!("no {name}"))
}

fn fetched(program: &Program, path: &str) -> (u16, String) {
    let answer = program.ask("GET", path, &[], None);
    let text = answer.body.as_str().unwrap_or_default().to_string();
    (answer.status, text)
}

#[test]
fn the_calendar_parses_keeps_its_names_updates_and_cancels_and_its_address_can_be_revoked() {
    let program = Program::practice("2026-11-02T09:00:00Z");
    let mut home = program.get("/settings").ok()["household"].clone();
    home["name"] = json!("Hill, hut; and \\ yard");
    program
        .ask("PUT", "/api/v1/settings", &[], Some(&home.to_string()))
        .ok();
    let belly = belly(&program);
    let tender = {
        let lot = program.get("/lots").ok()[0]["id"].as_i64().unwrap();
        let id = program.piece(lot, "tenderloin", "480 g", "45 mm");
        program
            .kept(json!([{"act": "assigned", "piece": id, "build": "tenderloin-buried", "reason": "the way of the house"}]))
            .ok();
        id
    };
    assert_eq!(program.get("/agenda").ok()["feed"], Value::Null);
    let path = |program: &Program| {
        program.get("/agenda").ok()["feed"]
            .as_str()
            .unwrap()
            .to_string()
    };
    program.post("/agenda/feed", &json!({})).ok();
    let first = path(&program);
    let (status, text) = fetched(&program, &first);
    assert_eq!(status, 200);
    assert!(text.lines().all(|l| l.len() <= 75), "folded");
    assert!(
        text.contains("X-WR-CALNAME:Hill\\, hut\\; and \\\\ yard"),
        "{text}"
    );
    let before = events(&text);
    let out = before
        .keys()
        .find(|k| k.starts_with(&format!("piece-{belly}-out_of_cure")))
        .unwrap();
    assert_eq!(value(&before[out], "DTSTART"), "20261110");
    assert_eq!(value(&before[out], "STATUS"), "CONFIRMED");
    assert_eq!(before[out].alarms.len(), 1);
    // found soft on its day: the same event, two days later, with a higher number
    program.to("2026-11-10T08:00");
    program
        .did(json!([{"act": "checked", "piece": belly, "check": "firmness", "grade": "soft"}]))
        .ok();
    let after = events(&fetched(&program, &first).1);
    assert_eq!(value(&after[out], "DTSTART"), "20261112");
    let number = |e: &IcalEvent| value(e, "SEQUENCE").parse::<i64>().unwrap();
    assert!(number(&after[out]) > number(&before[out]));
    // out of the cure: that event is cancelled, the smoke keeps its name
    let smoke = before
        .keys()
        .find(|k| k.starts_with(&format!("piece-{belly}-smoke")))
        .unwrap();
    program.to("2026-11-12T08:00");
    program
        .kept(json!([{"act": "out_of_cure", "piece": belly, "reading": "2.3 kg"}]))
        .ok();
    let done = events(&fetched(&program, &first).1);
    assert_eq!(value(&done[out], "STATUS"), "CANCELLED");
    assert_eq!(value(&done[smoke], "STATUS"), "CONFIRMED");
    assert!(number(&done[out]) > number(&after[out]));
    // another product, thrown away: nothing of it stays in the calendar
    program
        .did(json!([{"act": "discarded", "piece": tender, "reason": "fell into the ashes"}]))
        .ok();
    let gone = events(&fetched(&program, &first).1);
    let of_it = |k: &&String| k.starts_with(&format!("piece-{tender}-"));
    assert!(gone.keys().filter(of_it).count() > 3);
    assert!(
        gone.iter()
            .filter(|(k, _)| of_it(k))
            .all(|(_, e)| value(e, "STATUS") == "CANCELLED")
    );
    // every name that stood there once still stands there
    assert!(before.keys().all(|k| gone.contains_key(k)));
    // a new address: the old one answers no more
    program.post("/agenda/feed", &json!({})).ok();
    assert_eq!(fetched(&program, &first).0, 404);
    let second = path(&program);
    assert_eq!(fetched(&program, &second).0, 200);
    program.ask("DELETE", "/api/v1/agenda/feed", &[], None).ok();
    assert_eq!(fetched(&program, &second).0, 404);
    assert_eq!(fetched(&program, "/calendar/0123.ics").0, 404);
    assert_eq!(
        events(&fetched(&program, "/api/v1/calendar.ics").1).len(),
        gone.len()
    );
}

#[test]
fn a_photo_is_kept_once_shown_by_its_note_and_comes_back_with_the_backup() {
    let program = Program::practice("2026-11-02T09:00:00Z");
    let belly = belly(&program);
    let picture: Vec<u8> = [&[0xff, 0xd8, 0xff, 0xe0][..], &[7; 5_000]].concat();
    let send = |bytes: &[u8]| program.send("/photos", "image/jpeg", bytes);
    let name = send(&picture).ok()["photo"].as_str().unwrap().to_string();
    assert_eq!(send(&picture).ok()["photo"], name.as_str());
    assert_eq!(
        send(b"<svg onload=alert(1)>").field("photo"),
        "That is no photo. Send a JPEG, PNG or WebP picture."
    );
    assert_eq!(send(&[&picture[..4], &[0; 2_000_000]].concat()).status, 413);
    let note = |photo: &str| program.did(json!([{"act": "noted", "piece": belly, "photo": photo}]));
    assert!(
        note(&"0".repeat(64))
            .field("acts[0].photo")
            .starts_with("That photo is not kept here.")
    );
    assert!(
        note("../../etc")
            .field("acts[0].photo")
            .starts_with("That photo is not kept here.")
    );
    note(&name).ok();
    let line = program.get(&format!("/pieces/{belly}")).ok()["timeline"].clone();
    let shown = line
        .as_array()
        .unwrap()
        .iter()
        .find(|h| h["kind"] == "noted")
        .unwrap();
    assert_eq!(
        (shown["photo"].as_str(), shown["detail"].as_str()),
        (Some(name.as_str()), Some("a photo"))
    );
    assert_eq!(program.get(&format!("/photos/{name}")).status, 200);
    assert_eq!(
        program.get(&format!("/photos/{}", "0".repeat(64))).status,
        404
    );
    // put into an empty folder from a backup, the note still shows it
    let backup = program.data.path().join("copy.db");
    let taken = command(
        &["backup", "--to", backup.to_str().unwrap()],
        program.data.path(),
    )
    .output()
    .unwrap();
    assert!(
        taken.status.success(),
        "{}",
        String::from_utf8_lossy(&taken.stderr)
    );
    let elsewhere = tempfile::TempDir::new().unwrap();
    let restored = command(&["restore", backup.to_str().unwrap()], elsewhere.path())
        .output()
        .unwrap();
    assert!(
        restored.status.success(),
        "{}",
        String::from_utf8_lossy(&restored.stderr)
    );
    let program = Program::on(elsewhere, &[]);
    assert_eq!(program.get(&format!("/photos/{name}")).status, 200);
}
