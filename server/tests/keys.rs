//! One intention, one entry: however often, however late and by however many it is sent.

mod support;

use serde_json::{Value, json};
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::time::Duration;
use support::{NOW, Program};

fn note(piece: i64, text: &str) -> Value {
    json!({"acts": [{"act": "noted", "piece": piece, "text": text}]})
}

fn keyed(program: &Program, key: &str, body: &Value) -> support::Answer {
    let headers = [("Idempotency-Key", key)];
    program.ask("POST", "/api/v1/entries", &headers, Some(&body.to_string()))
}

fn belly(program: &Program) -> i64 {
    let lot = program.half_hog();
    let written = program.kept(json!([{
        "act": "piece_weighed", "lot": lot, "cut": "belly", "reading": "5.2 kg", "thickness": "42 mm",
    }]));
    written.ok()["pieces"][0].as_i64().unwrap()
}

#[test]
fn forty_keys_sent_ten_times_at_once_are_forty_entries() {
    let program = Program::start();
    let piece = belly(&program);
    let seen = || program.get(&format!("/pieces/{piece}")).ok()["timeline"].clone();
    let before = seen().as_array().unwrap().len();
    std::thread::scope(|scope| {
        for turn in 0..10 {
            let program = &program;
            scope.spawn(move || {
                for n in 0..40 {
                    // Each thread begins elsewhere, so that the same keys meet.
                    let n = (n + turn * 4) % 40;
                    let answer = keyed(
                        program,
                        &format!("key-number-{n}"),
                        &note(piece, &format!("remark {n}")),
                    );
                    assert_eq!(answer.status, 200, "{}", answer.body);
                }
            });
        }
    });
    let texts = seen();
    let texts = texts.as_array().unwrap();
    assert_eq!(texts.len() - before, 40);
    for n in 0..40 {
        let said = format!("remark {n}");
        let found = texts.iter().filter(|e| e["detail"] == said.as_str());
        assert_eq!(found.count(), 1, "{said}");
    }
}

#[test]
fn the_same_key_after_the_piece_moved_on_answers_as_the_first_time() {
    let program = Program::start();
    let piece = belly(&program);
    let assigned = program.did(json!([{"act": "assigned", "piece": piece, "build": "belly-slab"}]));
    let version = assigned.ok()["versions"][0]["version"].clone();
    let cure = json!({
        "acts": [{"act": "dosed", "pieces": [piece]}],
        "seen": [{"piece": piece, "version": version}],
    });
    let first = keyed(&program, "the-dose-of-today", &cure).ok();
    assert_eq!(first["versions"][0]["piece"], piece);
    program
        .kept(json!([{"act": "out_of_cure", "piece": piece, "reading": "5.1 kg"}]))
        .ok();
    // Its page has learnt of the dose meanwhile, waited for a connection, and would keep what is odd.
    let mut late = cure.clone();
    late["seen"][0]["version"] = json!(9_999);
    late["waited_s"] = json!(12.5);
    late["keep_as_typed"] = json!(true);
    for body in [&cure, &late] {
        let again = keyed(&program, "the-dose-of-today", body).ok();
        assert_eq!(again["repeated"], true);
        assert_eq!(again["entries"], first["entries"]);
        assert_eq!(again["said"], first["said"]);
    }
    // Another thing under the same key is a mistake of the program that sent it.
    let other = keyed(
        &program,
        "the-dose-of-today",
        &note(piece, "something else"),
    );
    assert_eq!(other.status, 409, "{}", other.body);
}

#[test]
fn what_waited_in_line_happened_when_it_was_typed() {
    let program = Program::start();
    let piece = belly(&program);
    let mut hour_old = note(piece, "typed an hour ago");
    hour_old["waited_s"] = json!(3600);
    program.post("/entries", &hour_old).ok();
    let view = program.get(&format!("/pieces/{piece}")).ok();
    let entry = |text: &str| {
        let all = view["timeline"].as_array().unwrap();
        all.iter().find(|e| e["detail"] == text).unwrap()["at"].clone()
    };
    // Not before the piece was weighed, which is written already.
    assert_eq!(entry("typed an hour ago"), NOW);
    for wrong in [json!(-1), json!(1e9)] {
        hour_old["waited_s"] = wrong;
        let answer = program.post("/entries", &hour_old);
        assert_eq!(answer.status, 422, "{}", answer.body);
        answer.field("waited_s");
    }
    let program = Program::on(tempfile::TempDir::new().unwrap(), &[]);
    let lot = program.half_hog();
    std::thread::sleep(Duration::from_millis(1_500));
    let weighed = json!({"waited_s": 1, "keep_as_typed": true, "acts": [{
        "act": "piece_weighed", "lot": lot, "cut": "loin", "reading": "3 kg", "thickness": "60 mm",
    }]});
    let loin = program.post("/entries", &weighed).ok()["pieces"][0].clone();
    let card = program.get(&format!("/pieces/{loin}")).ok();
    let at: jiff::Timestamp = card["timeline"][0]["at"].as_str().unwrap().parse().unwrap();
    let ago = jiff::Timestamp::now().duration_since(at).as_secs_f64();
    assert!((1.0..30.0).contains(&ago), "{ago} s ago");
}

#[test]
fn what_was_typed_for_another_household_is_refused() {
    let program = Program::start();
    let piece = belly(&program);
    let own = program.get("/settings").ok()["ledger"].clone();
    let other = Program::start().get("/settings").ok()["ledger"].clone();
    assert_ne!(own, other);
    let send = |ledger: &Value| {
        let headers = [("Ledger", ledger.as_str().unwrap())];
        let body = note(piece, "by name").to_string();
        program.ask("POST", "/api/v1/entries", &headers, Some(&body))
    };
    assert_eq!(send(&own).status, 200);
    let refused = send(&other);
    assert_eq!(refused.status, 409);
    assert!(
        refused.body["detail"]
            .as_str()
            .unwrap()
            .contains("another household"),
        "{}",
        refused.body
    );
    // The name stays with the ledger.
    assert_eq!(program.killed().get("/settings").ok()["ledger"], own);
}

#[test]
fn fifty_clients_for_a_minute_without_an_error() {
    let program = Program::start();
    let piece = belly(&program);
    let (stop, written, read) = (
        AtomicBool::new(false),
        AtomicUsize::new(0),
        AtomicUsize::new(0),
    );
    std::thread::scope(|scope| {
        for client in 0..50 {
            let (program, stop, written, read) = (&program, &stop, &written, &read);
            scope.spawn(move || {
                let paths = ["/today", "/stations/cure", "/lots", "/settings"];
                let mut turn = 0;
                while !stop.load(Ordering::Relaxed) {
                    if (client + turn) % 10 == 0 {
                        let said = format!("client {client}, turn {turn}");
                        let answer = keyed(
                            program,
                            &format!("client-{client}-{turn}"),
                            &note(piece, &said),
                        );
                        assert_eq!(answer.status, 200, "{}", answer.body);
                        written.fetch_add(1, Ordering::Relaxed);
                    } else {
                        let answer = program.get(paths[turn % paths.len()]);
                        assert_eq!(answer.status, 200, "{}", answer.body);
                        read.fetch_add(1, Ordering::Relaxed);
                    }
                    turn += 1;
                    // People and their pages pause between two taps.
                    std::thread::sleep(Duration::from_millis(100));
                }
            });
        }
        std::thread::sleep(Duration::from_secs(60));
        stop.store(true, Ordering::Relaxed);
    });
    let (written, read) = (written.into_inner(), read.into_inner());
    assert!(
        written > 500 && read > 5_000,
        "{written} written, {read} read"
    );
    let view = program.get(&format!("/pieces/{piece}")).ok();
    let kept = view["timeline"].as_array().unwrap().iter();
    let kept = kept.filter(|e| e["kind"] == "noted").count();
    assert_eq!(kept, written, "every acknowledged remark is there once");
}
