//! Thermometers that begin anew, run ahead, tell old tales or never stop: what they say counts where it can be, and what
//! does not count is said.

mod support;

use jiff::{SignedDuration, Timestamp};
use manifest_core::units::Celsius;
use manifest_devices::protocol::{GREETING, Said, line_of};
use serde_json::{Value, json};
use std::io::Write;
use std::net::TcpListener;
use std::time::{Duration, Instant};
use support::Program;
use tempfile::TempDir;

/// A thermometer that says these lines to whoever asks, and then nothing more.
fn thermometer(lines: Vec<String>) -> String {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let address = listener.local_addr().unwrap().to_string();
    std::thread::spawn(move || {
        let mut open = Vec::new();
        for stream in listener.incoming() {
            let mut stream = stream.unwrap();
            let text = format!("{GREETING}\n{}\n", lines.join("\n"));
            let _ = stream.write_all(text.as_bytes());
            open.push(stream);
        }
    });
    address
}

fn says(number: u64, at: Timestamp, degrees: f64) -> String {
    line_of(&Said::of_place(number, at, Celsius(degrees), None))
}

fn ago(seconds: i64) -> Timestamp {
    Timestamp::now() - SignedDuration::from_secs(seconds)
}

/// A program on the world's clock whose fridge has that thermometer; what is said of the fridge once it is so.
fn fridge(lines: Vec<String>, is_so: impl Fn(&Value) -> bool) -> (Program, Value) {
    let program = Program::on(TempDir::new().unwrap(), &[]);
    let id = program
        .equip(json!([{"name": "fridge", "kind": "fridge", "count": 1, "holds": 120, "sensor": thermometer(lines)}]))[0];
    let end = Instant::now() + Duration::from_secs(20);
    loop {
        let places = program.get("/places").ok();
        let all = places["places"].as_array().unwrap().iter();
        let place = all.clone().find(|p| p["id"] == id).unwrap().clone();
        if is_so(&place) {
            return (program, place);
        }
        assert!(Instant::now() < end, "never: {place}");
        std::thread::sleep(Duration::from_millis(50));
    }
}

#[test]
fn one_that_begins_its_numbers_anew_is_heard_and_that_is_said() {
    let mut lines = vec![says(900, ago(3_000), 3.0), says(u64::MAX, ago(2_900), 3.1)];
    lines.extend((0..12).map(|n| says(n, ago(2_700 - 200 * n as i64), 14.0)));
    let (_program, place) = fridge(lines, |p| p["celsius"] == 14.0);
    assert_eq!(place["sensor"]["renumbered"], 2, "{place}");
    assert_eq!(place["sensor"]["doubled"], 0);
    assert_eq!(place["sensor"]["lost"], 0);
    assert!(
        place["sensor"]["said"].as_str().unwrap().contains("anew"),
        "{place}"
    );
    let warm = place["stretches"].as_array().unwrap();
    assert!(
        warm.iter()
            .any(|s| s["band"] == "spoiling" && s["hours"].as_f64().unwrap() > 0.5)
    );
}

#[test]
fn one_whose_clock_runs_ahead_does_not_answer() {
    let lines = (1..=5)
        .map(|n| says(n, ago(-7_200 - n as i64), 3.0))
        .collect();
    let (_program, place) = fridge(lines, |p| p["sensor"]["ahead"] == 5);
    assert_eq!(place["sensor"]["answers"], false, "{place}");
    assert!(
        place["sensor"]["said"]
            .as_str()
            .unwrap()
            .contains("runs ahead"),
        "{place}"
    );
    assert_eq!(place["readings"], 0);
}

#[test]
fn what_was_long_before_is_refused_and_counted() {
    let first: Timestamp = "1900-01-01T00:00:00Z".parse().unwrap();
    let mut lines: Vec<String> = (1..=3_000)
        .map(|n| says(n, first + SignedDuration::from_mins(n as i64), 3.0))
        .collect();
    lines.push(says(3_001, ago(60), 3.4));
    let (_program, place) = fridge(lines, |p| p["celsius"] == 3.4);
    assert_eq!(place["sensor"]["old"], 3_000, "{place}");
    assert_eq!(place["readings"], 1);
    assert_eq!(place["sensor"]["answers"], true);
}

#[test]
fn a_flood_is_thinned_before_it_is_written_and_its_high_stays() {
    let seconds = 3_000;
    let lines = (0..seconds)
        .map(|n| {
            let degrees = if n == 1_500 {
                6.93
            } else {
                5.0 + (n % 7) as f64 / 100.0
            };
            says(n as u64 + 1, ago(seconds - n), degrees)
        })
        .collect();
    let (program, place) = fridge(lines, |p| p["readings"].as_u64().unwrap() >= 11);
    let id = &place["id"];
    assert!(place["readings"].as_u64().unwrap() < 60, "{place}");
    let readings = program.get(&format!("/places/{id}/readings")).ok();
    let points = readings["points"].as_array().unwrap().iter();
    let high = points
        .map(|p| p["high_c"].as_f64().unwrap())
        .fold(0.0, f64::max);
    assert!((high - 6.93).abs() < 1e-9, "{high}");
}

#[test]
fn a_reading_of_a_wrong_clock_moves_with_the_entries_and_hides_nothing() {
    // A machine that woke up in 2031: an animal comes in, and somebody types how warm it is.
    let program = Program::on(TempDir::new().unwrap(), &["--now", "2031-03-01T10:00:00Z"]);
    program.half_hog();
    let id =
        program.equip(json!([{"name": "fridge", "kind": "fridge", "count": 1, "holds": 120}]))[0];
    program
        .post(
            &format!("/places/{id}/readings"),
            &json!({"readings": [{"temperature": "3 C"}]}),
        )
        .ok();
    let program = program.killed_and_started(&["--now", "2026-11-21T09:30:00Z"]);
    let ahead = program.get("/settings").ok()["ahead"].clone();
    let entries = ahead["entries"]
        .as_u64()
        .unwrap_or_else(|| panic!("{ahead}"));
    program
        .post(
            "/clock/set-right",
            &json!({"last_at": "2026-11-21T08:00:00Z", "entries": entries}),
        )
        .ok();
    let at = |program: &Program| {
        let places = program.get("/places").ok();
        let all = places["places"].as_array().unwrap().iter();
        all.clone().find(|p| p["id"] == id).unwrap()["at"].clone()
    };
    assert_eq!(at(&program), "2026-11-21T08:00:00Z");
    // What was too warm before it is not hidden behind it.
    let warm: Vec<Value> = (0..6)
        .map(|n| json!({"temperature": "14 C", "at": format!("2026-11-21T08:{:02}:00Z", 20 + 10 * n % 40)}))
        .collect();
    program
        .post(
            &format!("/places/{id}/readings"),
            &json!({ "readings": warm }),
        )
        .ok();
    let program = program.killed_and_started(&["--now", "2026-11-21T09:30:00Z"]);
    assert_eq!(program.get("/settings").ok()["trouble"], Value::Null);
    assert_eq!(at(&program), "2026-11-21T08:50:00Z");
}
