//! A machine's clock that runs ahead, back, or through the hours that come twice and never.

mod support;

use serde_json::{Value, json};
use support::{NOW, Program};

const THREE_DAYS_ON: &str = "2026-11-24T10:00:00Z";

/// A half hog and a piece of it, dated by a clock that ran three days ahead; it is right again now.
fn ahead() -> (Program, i64, i64) {
    let program = Program::start().killed_and_started(&["--now", THREE_DAYS_ON]);
    let lot = program.half_hog();
    let later = program.killed_and_started(&["--now", "2026-11-24T11:30:00Z"]);
    let piece = later.piece(lot, "belly", "5.2 kg", "42 mm");
    (later.killed(), lot, piece)
}

fn history(program: &Program, piece: i64) -> Vec<Value> {
    let view = program.get(&format!("/pieces/{piece}")).ok();
    let lines = view["timeline"].as_array().unwrap().iter();
    lines.filter(|l| l["live"] == true).cloned().collect()
}

#[test]
fn what_a_clock_running_ahead_dated_is_named_and_put_right_in_one_act() {
    let (program, lot, piece) = ahead();
    let told = program.get("/settings").ok()["ahead"].clone();
    assert_eq!(told["entries"], 2);
    assert_eq!(told["first"], THREE_DAYS_ON);
    let refused = program.did(json!([{"act": "noted", "piece": piece, "text": "on the bench"}]));
    assert_eq!(refused.status, 409);
    assert_eq!(refused.body["type"], "urn:build-manifest:clock");
    let words = refused.body["detail"].as_str().unwrap();
    for part in [
        "shows 2026-11-21 09:30",
        "2 entries",
        "2026-11-24 10:00 to 2026-11-24 11:30",
    ] {
        assert!(words.contains(part), "{words}");
    }
    // Nothing new is begun below them either; what is there can be read.
    assert_eq!(
        program
            .did(json!([support::weigh_out(lot, "loin", "4 kg", "60 mm")]))
            .status,
        409
    );

    // The last was weighed at eight this morning.
    let ask = json!({"entries": 2, "last_at": "2026-11-21T08:00"});
    let right = program.post("/clock/set-right", &ask).ok();
    assert_eq!(right["entries"].as_array().unwrap().len(), 2);
    assert_eq!(program.get("/settings").ok()["ahead"], Value::Null);
    let lines = history(&program, piece);
    assert_eq!(lines.len(), 1);
    assert_eq!(lines[0]["at"], "2026-11-21T08:00:00Z");
    let animal = program.get(&format!("/lots/{lot}")).ok();
    assert!(
        animal.to_string().contains("2026-11-21T06:30:00Z"),
        "{animal}"
    );
    program
        .did(json!([{"act": "noted", "piece": piece, "text": "on the bench"}]))
        .ok();

    // Once more says that nothing is left; and it stays right after a restart.
    assert_eq!(
        program
            .post("/clock/set-right", &json!({"entries": 2}))
            .status,
        409
    );
    let program = program.killed();
    assert_eq!(program.get("/settings").ok()["ahead"], Value::Null);
    program
        .did(json!([support::weigh_out(lot, "loin", "4 kg", "60 mm")]))
        .ok();
}

#[test]
fn putting_the_times_right_wants_to_know_what_was_seen_and_a_time_that_has_come() {
    let (program, ..) = ahead();
    #[rustfmt::skip]
    let cases = [
        (json!({"entries": 7}), 409, "There are 2 of them now."),
        (json!({"entries": 2, "last_at": "2026-11-23T08:00"}), 422, "That is still to come."),
        (json!({"entries": 2, "last_at": "soon"}), 422, "Give a date and time"),
    ];
    for (ask, status, words) in cases {
        let answer = program.post("/clock/set-right", &ask);
        assert_eq!(answer.status, status, "{ask}");
        assert!(
            answer.body["detail"].as_str().unwrap().contains(words),
            "{}",
            answer.body
        );
    }
    assert_eq!(program.get("/settings").ok()["ahead"]["entries"], 2);
}

#[test]
fn a_clock_that_is_put_right_needs_no_act() {
    // The animal is right and the clock of today has lost days, as one without a battery does.
    let program = Program::start();
    let lot = program.half_hog();
    let back = program.killed_and_started(&["--now", "2026-11-01T00:00:00Z"]);
    let refused = back.did(json!([support::weigh_out(lot, "loin", "4 kg", "60 mm")]));
    assert_eq!(refused.body["type"], "urn:build-manifest:clock");
    let right = back.killed();
    assert_eq!(right.get("/settings").ok()["ahead"], Value::Null);
    right
        .did(json!([support::weigh_out(lot, "loin", "4 kg", "60 mm")]))
        .ok();
}

#[test]
fn within_an_hour_of_two_clocks_nothing_is_put_before_what_it_follows_from() {
    let program = Program::start();
    let lot = program.half_hog();
    let back = program.killed_and_started(&["--now", "2026-11-21T08:45:00Z"]);
    assert_eq!(back.get("/settings").ok()["ahead"], Value::Null);
    let piece = back.piece(lot, "belly", "5.2 kg", "42 mm");
    assert_eq!(history(&back, piece)[0]["at"], NOW);
}

#[test]
fn what_was_dated_by_hand_keeps_its_date() {
    let program = Program::start().killed_and_started(&["--now", THREE_DAYS_ON]);
    let act = json!([{
        "act": "received", "name": "half hog", "species": "pig", "origin": "bought",
        "known": "carcass", "reading": "38.6 kg",
    }]);
    let body = json!({"acts": act, "happened_at": "2026-11-19T09:00"});
    let lot = program.post("/entries", &body).ok()["lots"][0]
        .as_i64()
        .unwrap();
    let piece = program.piece(lot, "belly", "5.2 kg", "42 mm");
    let program = program.killed();
    assert_eq!(program.get("/settings").ok()["ahead"]["entries"], 1);
    program
        .post("/clock/set-right", &json!({"entries": 1}))
        .ok();
    assert_eq!(history(&program, piece)[0]["at"], NOW);
    let animal = program.get(&format!("/lots/{lot}")).ok();
    assert!(
        animal.to_string().contains("2026-11-19T09:00:00Z"),
        "{animal}"
    );
}

#[test]
fn the_hour_that_comes_twice_is_asked_about_and_the_one_that_never_comes_refused() {
    let program = Program::start();
    let mut home = program.get("/settings").ok()["household"].clone();
    home["time_zone"] = json!("America/Denver");
    let settled = program.ask("PUT", "/api/v1/settings", &[], Some(&home.to_string()));
    settled.ok();
    let note = |at: &str, keep: bool| {
        let act = json!([{
            "act": "received", "name": "half hog", "species": "pig", "origin": "bought",
            "known": "carcass", "reading": "38.6 kg",
        }]);
        program.post(
            "/entries",
            &json!({"acts": act, "happened_at": at, "keep_as_typed": keep}),
        )
    };
    let asked = note("2026-11-01T01:30", false);
    assert_eq!(asked.status, 409);
    let finding = &asked.body["findings"][0];
    assert_eq!(finding["code"], "hour_came_twice");
    assert_eq!(finding["wants"], "2026-11-01T01:30-07:00");
    note("2026-11-01T01:30", true).ok();
    note("2026-11-01T01:30-07:00", false).ok();
    let lots = program.get("/lots").ok().to_string();
    for at in ["2026-11-01T07:30:00Z", "2026-11-01T08:30:00Z"] {
        assert!(lots.contains(at), "{at}: {lots}");
    }
    let never = note("2026-03-08T02:30", true);
    assert!(
        never
            .field("happened_at")
            .contains("there was no 02:30 on 2026-03-08")
    );
}
