//! Timers over HTTP, with the clock moved.

mod support;

use serde_json::{Value, json};
use support::{NOW, Program};

/// A belly out of its cure.
fn belly(program: &Program) -> i64 {
    let lot = program.half_hog();
    let piece = program.piece(lot, "belly", "5.2 kg", "42 mm");
    for act in [
        json!({"act": "assigned", "piece": piece, "build": "belly-slab"}),
        json!({"act": "dosed", "pieces": [piece]}),
        json!({"act": "out_of_cure", "piece": piece, "reading": "5.1 kg"}),
    ] {
        program.kept(json!([act])).ok();
    }
    piece
}

fn timers(program: &Program) -> Value {
    program.get("/timers").ok()["timers"].clone()
}

#[test]
fn a_timer_rings_at_its_minute_and_until_it_is_answered_through_a_kill() {
    let program = Program::start();
    let piece = belly(&program);
    program
        .did(json!([{"act": "timer_set", "piece": piece, "what": "soak", "minutes": "30", "note": "pat it dry"}]))
        .ok();
    let set = timers(&program)[0].clone();
    assert_eq!(set["ends"], "2026-11-21T10:00:00Z");
    assert_eq!(
        (&set["rings"], &set["minutes"], &set["note"]),
        (&json!(false), &json!(30), &json!("pat it dry"))
    );
    #[rustfmt::skip]
    let moments = [("2026-11-21T09:59:59Z", false), ("2026-11-21T10:00:00Z", true), ("2026-11-21T13:00:00Z", true)];
    let mut program = program;
    for (now, rings) in moments {
        program = program.killed_and_started(&["--now", now]);
        assert_eq!(timers(&program)[0]["rings"], rings, "{now}");
    }
    // Slept through: what is written down is how long it really lay there.
    program
        .did(json!([{"act": "soaked", "piece": piece, "minutes": 210}]))
        .ok();
    assert_eq!(timers(&program), json!([]));
    let view = program.get(&format!("/pieces/{piece}")).ok();
    // Nobody tasted it yet: its minutes are nobody's example.
    assert_eq!(view["own_soak"], json!(null));
    // Undone, the timer is back and rings; undone itself, it was never set.
    let entry = view["timeline"][0]["entry"].as_i64().unwrap();
    program
        .post(&format!("/entries/{entry}/undo"), &json!({}))
        .ok();
    assert_eq!(timers(&program)[0]["rings"], true);
    program
        .post(&format!("/entries/{}/undo", set["entry"]), &json!({}))
        .ok();
    assert_eq!(timers(&program), json!([]));
}

#[test]
fn timers_are_refused_where_nothing_is_waited_for() {
    let program = Program::start();
    let lot = program.half_hog();
    let piece = program.piece(lot, "loin", "4 kg", "60 mm");
    let set = |what: &str, minutes: Value| {
        program.did(json!([{"act": "timer_set", "piece": piece, "what": what, "minutes": minutes}]))
    };
    #[rustfmt::skip]
    let cases = [
        ("soak", json!(30), "piece"), ("salt_box", json!(30), "piece"), ("rest", json!(0), "minutes"), ("rest", json!(2.5), "minutes"),
        ("rest", json!("a while"), "minutes"), ("rest", json!(1e9), "minutes"), ("nap", json!(5), "acts[0]"),
    ];
    for (what, minutes, field) in cases {
        let answer = set(what, minutes.clone());
        assert_eq!(answer.status, 422, "{what} {minutes}");
        assert!(
            answer.body["errors"][0]["field"]
                .as_str()
                .unwrap()
                .ends_with(field),
            "{what} {minutes}: {}",
            answer.body
        );
    }
    set("rest", json!(45)).ok();
    let answered = json!([{"act": "timer_answered", "piece": piece, "what": "rest"}]);
    program.did(answered.clone()).ok();
    // Two devices answer at once: the second hears that it was done.
    assert!(
        program
            .did(answered)
            .field("what")
            .contains("answered already")
    );
    // A piece that is thrown away rings no more.
    set("rest", json!(45)).ok();
    program
        .kept(json!([{"act": "discarded", "piece": piece, "reason": "fell on the floor"}]))
        .ok();
    assert_eq!(timers(&program), json!([]));
    assert_eq!(program.get("/settings").ok()["now"], NOW);
}
