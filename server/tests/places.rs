//! Cold places over HTTP: by hand, out of files, from a thermometer; what it means for what lies there.

mod support;

use serde_json::{Value, json};
use std::time::{Duration, Instant};
use support::Program;

fn fridge(name: &str) -> Value {
    json!({"kind": "fridge", "name": name, "count": 1, "holds": 60.0})
}

fn place(program: &Program, id: i64) -> Value {
    let places = program.get("/places").ok()["places"].take();
    let all = places.as_array().unwrap();
    all.iter().find(|p| p["id"] == id).unwrap().clone()
}

/// A belly in its cure in the fridge since the second of November, 9:00.
fn belly_in(program: &Program, fridge: i64) -> i64 {
    let hog = program.half_hog();
    let belly = program.piece(hog, "belly", "2.4 kg", "38 mm");
    program
        .kept(json!([{"act": "assigned", "piece": belly, "build": "belly-slab"}]))
        .ok();
    program
        .kept(json!([{"act": "dosed", "pieces": [belly], "place": fridge}]))
        .ok();
    belly
}

fn card(program: &Program, id: i64) -> Value {
    program.get(&format!("/pieces/{id}")).ok()["card"].clone()
}

#[test]
fn a_log_with_a_warm_day_is_looked_at_taken_struck_out_and_rules_the_verdict() {
    let program = Program::practice("2026-11-02T09:00:00Z");
    let id = program.equip(json!([fridge("kitchen fridge")]))[0];
    let belly = belly_in(&program, id);
    program.to("2026-11-06T09:00");
    assert_eq!(
        card(&program, belly)["verdict"]["word"],
        "cook_before_eating"
    );
    // every two hours from the third on; warm from the fourth, 8:00, to the fifth, 10:00
    let mut log = String::from("when;temp (C);rh\n");
    for hour in (0..72).step_by(2) {
        let warm = (32..=58).contains(&hour);
        let celsius = if warm { "9,5" } else { "3,1" };
        let (day, hour) = (3 + hour / 24, hour % 24);
        log.push_str(&format!("0{day}.11.2026 {hour:02}:00;{celsius};61\n"));
    }
    log.push_str("05.11.2026 09:00;;60\nyesterday;4,0;60\n07.11.2026 10:00;3,0;60\n");
    let look = program
        .send(
            &format!("/places/{id}/file/look"),
            "text/csv",
            log.as_bytes(),
        )
        .ok();
    assert_eq!(look["in_all"], 36);
    assert_eq!(look["columns"]["dates"], "day_month_year");
    assert_eq!(
        (look["warm_h"].as_f64(), look["spoiling_h"].as_f64()),
        (Some(26.0), Some(26.0))
    );
    let refused: Vec<_> = look["refused"]
        .as_array()
        .unwrap()
        .iter()
        .map(|r| (r["line"].as_i64().unwrap(), r["why"].as_str().unwrap()))
        .collect();
    assert_eq!(
        refused,
        [
            (38, "It has no temperature."),
            (
                39,
                "“yesterday” is no date and time, such as 2026-11-20 18:30."
            ),
            (40, "That is still to come."),
        ]
    );
    // looking writes nothing
    assert_eq!(place(&program, id)["readings"], 0);
    let taken = program
        .send(&format!("/places/{id}/file"), "text/csv", log.as_bytes())
        .ok();
    assert_eq!(
        (
            taken["added"].as_i64(),
            taken["doubled"].as_i64(),
            taken["refused_in_all"].as_i64()
        ),
        (Some(36), Some(0), Some(3))
    );
    let again = program
        .send(&format!("/places/{id}/file"), "text/csv", log.as_bytes())
        .ok();
    assert_eq!(
        (again["added"].as_i64(), again["doubled"].as_i64()),
        (Some(0), Some(36))
    );
    let verdict = card(&program, belly)["verdict"].clone();
    assert_eq!(verdict["word"], "do_not_eat");
    assert!(
        verdict["reasons"][0]["message"]
            .as_str()
            .unwrap()
            .contains("over 7 °C for 26 h in all, from 2026-11-04 08:00"),
        "{verdict}"
    );
    // killed and opened again the log is still there
    let program = program.killed_and_started(&[]);
    assert_eq!(card(&program, belly)["verdict"]["word"], "do_not_eat");
    // the thermometer lay in the sun: what came with it is struck out, and says so
    let strike = |reason: &str| {
        let ask = json!({"batch": taken["batch"], "readings": [], "reason": reason});
        program.post(&format!("/places/{id}/strike"), &ask)
    };
    assert!(strike("sun").field("reason").starts_with("Say why"));
    assert_eq!(strike("the probe lay in the sun").ok()["struck"], 36);
    assert_eq!(
        card(&program, belly)["verdict"]["word"],
        "cook_before_eating"
    );
    assert_eq!(strike("the probe lay in the sun").status, 409);
    let newest = program.get(&format!("/places/{id}/readings?days=14")).ok();
    assert_eq!(newest["newest"][0]["struck"], "the probe lay in the sun");
    assert_eq!(newest["points"], json!([]));
}

#[test]
fn a_porch_is_asked_three_times_a_day_and_its_frost_does_not_count() {
    let program = Program::practice("2026-11-02T09:00:00Z");
    let ids = program.equip(json!([
        {"kind": "porch", "name": "north porch", "count": 1, "holds": 80.0},
        {"kind": "tub", "name": "blue tub", "count": 1, "holds": 20.0},
    ]));
    let (porch, tub) = (ids[0], ids[1]);
    let mut home = program.get("/settings").ok()["household"].clone();
    home["equipment"]["places"][1]["stands_in"] = json!(porch);
    program
        .ask("PUT", "/api/v1/settings", &[], Some(&home.to_string()))
        .ok();
    let belly = belly_in(&program, tub);
    let asked = |program: &Program| program.get("/today").ok()["reads"].clone();
    assert_eq!(asked(&program)[0]["part"], "morning");
    assert_eq!(asked(&program)[0]["pieces"], 1);
    let read = |text: &str| {
        let ask = json!({"readings": [{"temperature": text}]});
        program.post(&format!("/places/{porch}/readings"), &ask)
    };
    assert_eq!(
        read("cold").field("readings[0].temperature"),
        "“cold” cannot be read as a number. Type 62.8 or 145 F."
    );
    assert_eq!(
        read("300 C").field("readings[0].temperature"),
        "No place for meat is that warm or cold. Type degrees such as 3 C or 38 F."
    );
    read("38 F").ok();
    assert_eq!(asked(&program), json!([]));
    let out = card(&program, belly)["cure"]["out_on"].clone();
    assert_eq!(out, "2026-11-10");
    // two days of frost, read morning, midday and night
    for day in 3..=5 {
        for (hour, part) in [
            ("08:00", "morning"),
            ("13:00", "midday"),
            ("21:00", "night"),
        ] {
            program.to(&format!("2026-11-0{day}T{hour}"));
            assert_eq!(asked(&program)[0]["part"], part);
            read("-0.5").ok();
        }
    }
    // from the third, 8:00, to the fifth, 21:00: two whole days
    let card = card(&program, belly);
    assert_eq!(card["cure"]["out_on"], "2026-11-12");
    assert_eq!(
        card["tasks"]
            .as_array()
            .unwrap()
            .iter()
            .find(|t| t["kind"] == "out_of_cure")
            .unwrap()["because"],
        "2 days under 1 °C did not count"
    );
    let alarms = program.get("/today").ok()["alarms"].clone();
    assert_eq!(alarms[0]["findings"][0]["code"], "too_cold");
}

#[test]
fn a_place_that_was_read_and_taken_off_the_list_leaves_its_log_to_no_other() {
    let program = Program::practice("2026-11-02T09:00:00Z");
    let first = program.equip(json!([fridge("old fridge")]))[0];
    let ask = json!({"readings": [{"temperature": "9 C"}]});
    program
        .post(&format!("/places/{first}/readings"), &ask)
        .ok();
    program.equip(json!([]));
    let second = program.equip(json!([fridge("new fridge")]))[0];
    assert_ne!(first, second);
    assert_eq!(place(&program, second)["readings"], 0);
}

#[test]
fn what_cannot_be_is_refused_where_it_was_typed() {
    let program = Program::practice("2026-11-02T09:00:00Z");
    let id = program.equip(json!([fridge("fridge")]))[0];
    let file =
        |text: &str| program.send(&format!("/places/{id}/file"), "text/csv", text.as_bytes());
    assert_eq!(
        file("").field("file"),
        "The file is empty. Choose one with a date and a temperature in each row."
    );
    assert!(
        file("a,b\nc,d\n")
            .field("columns")
            .starts_with("No column looks like a date.")
    );
    assert!(
        file("when,t\n2026-11-09 10:00,3\n")
            .field("file")
            .starts_with("No row of it is understood.")
    );
    let large = "2026-11-01 10:00,3\n".repeat(400_000);
    assert_eq!(file(&large).status, 413);
    assert_eq!(program.get("/places/99/readings").status, 404);
    let mut home = program.get("/settings").ok()["household"].clone();
    let put = |change: &dyn Fn(&mut Value)| {
        let mut wrong = home.clone();
        change(&mut wrong["equipment"]["places"][0]);
        program.ask("PUT", "/api/v1/settings", &[], Some(&wrong.to_string()))
    };
    let sensor = put(&|p| p["sensor"] = json!("somewhere"));
    assert!(
        sensor
            .field("equipment.places[0].sensor")
            .contains("127.0.0.1:8480")
    );
    let inside = put(&|p| p["stands_in"] = p["id"].clone());
    assert!(
        inside
            .field("equipment.places[0].stands_in")
            .starts_with("Name a fridge")
    );
    home["beside"] = json!({});
    let unknown = program.ask("PUT", "/api/v1/settings", &[], Some(&home.to_string()));
    assert_eq!(unknown.status, 422);
}

fn until(what: &str, is: impl Fn() -> bool) {
    let end = Instant::now() + Duration::from_secs(20);
    while !is() {
        assert!(Instant::now() < end, "never: {what}");
        std::thread::sleep(Duration::from_millis(50));
    }
}

#[test]
fn the_thermometer_of_a_household_for_practice_follows_its_clock_and_no_real_one_hears_it() {
    let program = Program::practice("2026-11-20T09:00:00Z");
    let mut with = fridge("fridge");
    with["sensor"] = json!("practice");
    let id = program.equip(json!([with.clone()]))[0];
    let newest = |program: &Program| place(program, id)["at"].clone();
    until("it read until now", || {
        newest(&program) == "2026-11-20T09:00:00Z"
    });
    program.to("2026-11-22T20:00");
    until("it follows", || newest(&program) == "2026-11-22T20:00:00Z");
    let seen = place(&program, id);
    assert_eq!(seen["sensor"]["answers"], true);
    assert!(seen["sensor"]["garbled"].as_i64().unwrap() > 3, "{seen}");
    // the door stood ajar that afternoon
    assert_eq!(seen["findings"][0]["severity"], "stop");
    let readings = seen["readings"].clone();
    let program = program.killed_and_started(&[]);
    until("it answers again", || {
        place(&program, id)["sensor"]["answers"] == true
    });
    assert_eq!(place(&program, id)["readings"], readings, "nothing twice");

    let real = Program::start();
    let mut home = real.get("/settings").ok()["household"].clone();
    home["equipment"] = json!({ "places": [with] });
    let refused = real.ask("PUT", "/api/v1/settings", &[], Some(&home.to_string()));
    assert!(
        refused
            .field("equipment.places[0].sensor")
            .starts_with("The thermometer for practice does not exist")
    );
}
