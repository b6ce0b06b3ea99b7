//! The program is killed amid a stream of weigh-ins, and heard by a second device.

mod support;

use serde_json::{Value, json};
use std::io::{BufRead, BufReader, Write};
use std::net::TcpStream;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::time::Duration;
use support::Program;

#[test]
fn every_acknowledged_weigh_in_survives_a_kill() {
    let program = Program::start();
    let lot = program.half_hog();
    let piece = program.piece(lot, "loin", "4 kg", "60 mm");
    program
        .did(json!([{"act": "assigned", "piece": piece, "build": "muscle-cased", "reason": "frozen by the seller for a month"}]))
        .ok();
    program
        .did(json!([{"act": "dosed", "pieces": [piece]}]))
        .ok();
    program
        .kept(json!([{"act": "out_of_cure", "piece": piece, "reading": "3.9 kg"}]))
        .ok();
    program
        .did(json!([{"act": "hung", "piece": piece, "reading": "3.95 kg", "tare": "50 g"}]))
        .ok();

    let stop = Arc::new(AtomicBool::new(false));
    let heard = Arc::new(AtomicUsize::new(0));
    let (address, stopped) = (program.address.clone(), stop.clone());
    let counted = heard.clone();
    // Grams fall one by one, so each acknowledged weighing can be told apart afterwards.
    let writer = std::thread::spawn(move || {
        let agent: ureq::Agent = ureq::Agent::config_builder()
            .timeout_global(Some(Duration::from_secs(5)))
            .build()
            .into();
        let mut acknowledged = Vec::new();
        for grams in (2_600..3_900).rev() {
            if stopped.load(Ordering::SeqCst) {
                break;
            }
            let body = json!({"acts": [{"act": "weighed_in", "piece": piece, "reading": format!("{grams} g")}]});
            match agent
                .post(format!("{address}/api/v1/entries"))
                .send_json(&body)
            {
                Ok(answer) if answer.status() == 200 => {
                    acknowledged.push(f64::from(grams) - 50.0);
                    counted.fetch_add(1, Ordering::SeqCst);
                }
                _ => break,
            }
        }
        acknowledged
    });
    // Amid the stream, however slow the disk is today.
    for _ in 0..400 {
        if heard.load(Ordering::SeqCst) >= 25 {
            break;
        }
        std::thread::sleep(Duration::from_millis(50));
    }
    let program = program.killed();
    stop.store(true, Ordering::SeqCst);
    let acknowledged = writer.join().unwrap();
    assert!(
        acknowledged.len() > 5,
        "only {} weigh-ins before the kill",
        acknowledged.len()
    );

    let view = program.get(&format!("/pieces/{piece}")).ok();
    let there: Vec<f64> = view["weighings"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|w| w["point"] == "weighed_in")
        .map(|w| w["net_g"].as_f64().unwrap())
        .collect();
    assert_eq!(there[..acknowledged.len()], acknowledged[..]);
    assert!(
        there.len() <= acknowledged.len() + 1,
        "at most the one in flight besides"
    );
}

#[test]
fn a_change_on_one_device_is_heard_on_the_other() {
    let program = Program::start();
    let host = program.address.trim_start_matches("http://").to_string();
    let mut other = TcpStream::connect(&host).unwrap();
    other
        .set_read_timeout(Some(Duration::from_secs(10)))
        .unwrap();
    write!(other, "GET /api/v1/events HTTP/1.1\r\nHost: {host}\r\n\r\n").unwrap();
    let mut lines = BufReader::new(other).lines();
    // The first sign of life says that the listener is in place.
    assert!(
        lines
            .by_ref()
            .any(|l| l.unwrap().starts_with("event: beat"))
    );
    let lot = program.half_hog();
    let heard = lines
        .map(Result::unwrap)
        .find(|l| l.starts_with("data: {"))
        .unwrap();
    let heard: Value = serde_json::from_str(heard.trim_start_matches("data: ")).unwrap();
    assert_eq!(heard, json!({ "what": "ledger", "lots": [lot] }));
}
