//! Whole jobs lived through over HTTP on a clock that is moved: what is due on each day, what waits, and what does not.

mod support;

use serde_json::{Value, json};
use support::Program;
use support::cures::{card, piece};

fn tag(program: &Program, id: i64) -> String {
    card(program, id)["tag"].as_str().unwrap().to_string()
}

fn is_due(program: &Program, what: &str, id: i64) -> bool {
    program.is_due(what, &tag(program, id))
}

fn check(program: &Program, id: i64, check: &str, grade: &str) {
    program
        .did(json!([{"act": "checked", "piece": id, "check": check, "grade": grade}]))
        .ok();
}

/// The day on which something is planned, from what is open and what comes after.
fn planned(program: &Program, kind: &str, id: i64) -> Option<String> {
    let open = card(program, id)["tasks"].clone();
    let found = open.as_array()?.iter().find(|t| t["kind"] == kind)?;
    Some(found["due"].as_str()?.to_string())
}

/// Days on which something stands among those to come.
fn comes(program: &Program, kind: &str) -> Vec<String> {
    let ahead = program.get("/today").ok()["ahead"].clone();
    let days = ahead.as_array().unwrap().iter();
    days.filter(|d| {
        d["lines"]
            .as_array()
            .unwrap()
            .iter()
            .any(|l| l["kind"] == kind)
    })
    .map(|d| d["day"].as_str().unwrap().to_string())
    .collect()
}

#[test]
fn two_bellies_with_salt_alone_are_turned_each_day_dried_open_cooked_and_frozen_within_their_week()
{
    let program = Program::practice("2026-12-14T18:00:00Z");
    let hog = program.half_hog();
    let one = piece(&program, hog, "belly", (1_310.0, 34.0), "belly-slab-plain");
    let two = piece(&program, hog, "belly", (1_620.0, 41.0), "belly-slab-plain");
    for id in [one, two] {
        program
            .kept(json!([{"act": "dosed", "pieces": [id], "reason": "no nitrite in the presents"}]))
            .ok();
    }
    // after noon it counts from the next day, and seven days are the most whatever the school says
    assert_eq!(
        planned(&program, "out_of_cure", two).as_deref(),
        Some("2026-12-22")
    );
    for day in 15..=20 {
        program.to(&format!("2026-12-{day}T08:00"));
        assert!(
            is_due(&program, "turn", one) && is_due(&program, "turn", two),
            "{day}"
        );
        program
            .did(json!([{"act": "turned", "piece": one}, {"act": "turned", "piece": two}]))
            .ok();
        assert!(!is_due(&program, "turn", one), "{day}");
    }
    // soft to firm, as it goes; still soft asks for two days more, but never past its week
    check(&program, one, "firmness", "firming");
    program.to("2026-12-22T08:00");
    assert!(is_due(&program, "out_of_cure", one) && is_due(&program, "out_of_cure", two));
    let task = card(&program, two)["tasks"].clone();
    let out = task
        .as_array()
        .unwrap()
        .iter()
        .find(|t| t["kind"] == "out_of_cure")
        .unwrap()
        .clone();
    assert_eq!(out["latest"], out["due"], "without nitrite nothing waits");
    // away over the holidays it cannot be left
    let away = program.get("/away?from=2026-12-23&to=2026-12-27").ok();
    let leaves: Vec<_> = away["groups"]
        .as_array()
        .unwrap()
        .iter()
        .map(|g| g["leave"].as_str().unwrap())
        .collect();
    assert_eq!(leaves, ["cannot", "before"], "{away}");
    for (id, after) in [(one, "1275 g"), (two, "1580 g")] {
        program
            .kept(json!([{"act": "out_of_cure", "piece": id, "reading": after}]))
            .ok();
    }
    program.to("2026-12-23T10:00");
    assert!(is_due(&program, "smoke", one));
    for (id, after) in [(one, "1102 g"), (two, "1377 g")] {
        program.kept(json!([{"act": "smoked", "piece": id, "reading": after, "inside": "66 C", "chamber": "110 C"}])).ok();
    }
    assert!(
        program.due().iter().all(|(what, _)| what == "firm_up"),
        "{:?}",
        program.due()
    );
    program.to("2026-12-24T09:00");
    assert!(is_due(&program, "pack", one) && is_due(&program, "pack", two));
    let packed = |id: i64, g: &str| json!([{"act": "packed", "piece": id, "packs": [{"reading": g, "place": "freezer"}], "finished": true}]);
    program.kept(packed(one, "1095 g")).ok();
    program.kept(packed(two, "1370 g")).ok();
    assert_eq!(program.due(), []);
    let week = program.get("/today").ok()["ahead"].clone();
    assert!(
        week.as_array()
            .unwrap()
            .iter()
            .all(|d| d["lines"] == json!([]))
    );
}

#[test]
fn a_small_leg_by_a_recipes_days_is_dried_smoked_rested_and_aged_to_its_weight() {
    let program = Program::practice("2026-11-02T10:00:00Z");
    let hog = program.half_hog();
    let leg = piece(&program, hog, "leg_muscle", (1_840.0, 74.0), "ham-aged");
    program
        .kept(json!([{"act": "dosed", "pieces": [leg], "days": 16}]))
        .ok();
    assert_eq!(
        planned(&program, "out_of_cure", leg).as_deref(),
        Some("2026-11-18")
    );
    // every second day; one is missed, and said when it comes out
    for day in ["04", "06", "10", "12", "14", "16"] {
        program.to(&format!("2026-11-{day}T09:00"));
        assert!(is_due(&program, "turn", leg), "{day}");
        program.did(json!([{"act": "turned", "piece": leg}])).ok();
    }
    program.to("2026-11-18T09:00");
    assert_eq!(
        card(&program, leg)["cure"]["turnings"],
        json!({"done": 6, "wanted": 7})
    );
    check(&program, leg, "firmness", "firm");
    program
        .kept(json!([{"act": "out_of_cure", "piece": leg, "reading": "1795 g"}]))
        .ok();
    program
        .did(json!([{"act": "step_done", "piece": leg, "step": "case"}]))
        .ok();
    // open in the fridge for a day, to the hour; its timer rings
    program
        .did(json!([{"act": "timer_set", "piece": leg, "what": "rest", "minutes": 1440}]))
        .ok();
    assert!(!is_due(&program, "dry_surface", leg));
    program.to("2026-11-19T09:00");
    assert!(is_due(&program, "dry_surface", leg));
    check(&program, leg, "tacky", "not_yet");
    assert!(is_due(&program, "dry_surface", leg), "still wet");
    program.to("2026-11-19T15:00");
    check(&program, leg, "tacky", "tacky");
    assert!(!is_due(&program, "dry_surface", leg));
    program.to("2026-11-20T15:00");
    assert!(is_due(&program, "smoke", leg));
    program.kept(json!([{"act": "smoked", "piece": leg, "reading": "1560 g", "inside": "63 C", "chamber": "88 C"}])).ok();
    program.to("2026-11-21T15:00");
    assert!(is_due(&program, "hang", leg));
    program.kept(json!([{"act": "hung", "piece": leg, "reading": "1592 g", "tare": "32 g", "loss_fraction": "18 %"}])).ok();
    // weighed every third day for a fortnight; the hook of a household for practice shows what it would weigh
    let mut weighed = 0;
    for _ in 0..60 {
        let moved = program
            .post("/clock/move", &json!({"until": "next_due"}))
            .ok();
        assert!(moved["now"].is_string());
        if is_due(&program, "weigh_in", leg) {
            let shows = card(&program, leg)["hang"]["hook_shows_g"]
                .as_f64()
                .unwrap();
            program
                .kept(json!([{"act": "weighed_in", "piece": leg, "reading": format!("{shows} g")}]))
                .ok();
            weighed += 1;
        }
        if is_due(&program, "take_down", leg) {
            break;
        }
    }
    assert!(weighed >= 3, "{weighed}");
    assert!(is_due(&program, "take_down", leg));
    let gross = card(&program, leg)["hang"]["gross_now_g"].as_f64().unwrap();
    let lost = 1.0 - (gross - 32.0) / 1_560.0;
    assert!((0.18..0.30).contains(&lost), "{lost}");
    program
        .kept(json!([{"act": "taken_down", "piece": leg, "reading": format!("{gross} g")}]))
        .ok();
    program
        .post("/clock/move", &json!({"until": "next_morning"}))
        .ok();
    assert!(is_due(&program, "pack", leg));
    assert_eq!(card(&program, leg)["verdict"]["word"], "ready_to_eat");
}

#[test]
fn four_legs_in_two_buckets_on_a_porch_are_read_three_times_a_day_shaken_and_come_out_on_their_day()
{
    let program = Program::practice("2026-11-02T14:00:00Z");
    let ids = program.equip(json!([
        {"kind": "porch", "name": "porch", "count": 1, "holds": 200.0},
        {"kind": "tub", "name": "red bucket", "count": 2, "holds": 30.0},
    ]));
    let mut home = program.get("/settings").ok()["household"].clone();
    home["equipment"]["places"][1]["stands_in"] = json!(ids[0]);
    program
        .ask("PUT", "/api/v1/settings", &[], Some(&home.to_string()))
        .ok();
    let hog = program.half_hog();
    let legs: Vec<i64> = [3_900.0, 4_100.0, 3_700.0, 4_300.0]
        .into_iter()
        .map(|g| piece(&program, hog, "leg", (g, 92.0), "ham-bucket"))
        .collect();
    for (pair, name) in legs.chunks(2).zip(["first bucket", "second bucket"]) {
        let dosed = json!([{"act": "dosed", "pieces": pair, "way": "cover_brine", "place": ids[1], "brine_temperature": "3 C",
            "brine_clear": true, "days": 14, "vessels": [{"pieces": pair, "name": name}], "reason": "the strength of our own barrel"}]);
        program.kept(dosed).ok();
    }
    // put in after noon: days count from the next day
    assert_eq!(
        planned(&program, "out_of_cure", legs[0]).as_deref(),
        Some("2026-11-17")
    );
    let reads = |program: &Program| {
        program.get("/today").ok()["reads"]
            .as_array()
            .unwrap()
            .len()
    };
    let read = |text: &str| {
        program
            .post(
                &format!("/places/{}/readings", ids[0]),
                &json!({"readings": [{"temperature": text}]}),
            )
            .ok()
    };
    assert_eq!(reads(&program), 1, "asked at once");
    read("3.5 C");
    // a day and a half of frost, then a mild afternoon
    for (day, degrees) in [(3, "0 C"), (4, "-1 C"), (5, "3 C"), (6, "4 C")] {
        for hour in ["08:00", "13:00", "20:00"] {
            program.to(&format!("2026-11-0{day}T{hour}"));
            assert_eq!(reads(&program), 1, "{day} {hour}");
            read(degrees);
            assert_eq!(reads(&program), 0, "{day} {hour}");
        }
        let turns = program
            .due()
            .into_iter()
            .filter(|(what, _)| what == "turn")
            .count();
        // one line a bucket, every second day
        assert_eq!(turns, if day % 2 == 0 { 2 } else { 0 }, "{day}");
        for first in [legs[0], legs[2]].into_iter().filter(|_| turns > 0) {
            let vessel = card(&program, first)["cure"]["vessel"]["id"].clone();
            program
                .kept(json!([{"act": "turned", "vessel": vessel, "nothing_floats": true}]))
                .ok();
        }
    }
    // from the third at 8:00 to the fourth at 20:00 it froze: one whole day more
    assert_eq!(
        planned(&program, "out_of_cure", legs[0]).as_deref(),
        Some("2026-11-18")
    );
    // a brine by recipe has a deadline, and cannot be left alone over it
    let away = program.get("/away?from=2026-11-17&to=2026-11-20").ok();
    assert_eq!(away["groups"][0]["leave"], "cannot");
    assert_eq!(away["groups"][0]["lines"].as_array().unwrap().len(), 4);
    assert_eq!(away["places"].as_array().unwrap().len(), 1);
    program.to("2026-11-18T08:00");
    assert!(legs.iter().all(|l| is_due(&program, "out_of_cure", *l)));
    program.to("2026-11-19T08:00");
    let overdue = program.get("/tasks/overdue").ok();
    assert!(
        overdue["tasks"]
            .as_array()
            .unwrap()
            .iter()
            .filter(|t| t["task"]["kind"] == "out_of_cure")
            .count()
            == 4
    );
    for leg in &legs {
        let before = card(&program, *leg)["green_g"].as_f64().unwrap();
        program.kept(json!([{"act": "out_of_cure", "piece": leg, "reading": format!("{} g", before * 1.03)}])).ok();
    }
    // its salt went by time: a slice, and water
    assert!(legs.iter().all(|l| is_due(&program, "test_slice", *l)));
    for leg in &legs {
        check(&program, *leg, "slice_end", "too_salty");
    }
    assert!(legs.iter().all(|l| is_due(&program, "soak", *l)));
    program
        .did(json!([{"act": "timer_set", "piece": legs[0], "what": "soak", "minutes": 60}]))
        .ok();
    assert!(!is_due(&program, "soak", legs[0]));
    program.to("2026-11-19T09:00");
    assert!(is_due(&program, "soak", legs[0]), "the timer rings");
    let rings = program.get("/timers").ok()["timers"].clone();
    assert_eq!(rings[0]["rings"], true);
    for leg in &legs {
        program
            .did(
                json!([{"act": "soaked", "piece": leg, "minutes": 60, "changes": 2, "iced": true}]),
            )
            .ok();
        check(&program, *leg, "slice_end", "right");
        program
            .did(json!([{"act": "step_done", "piece": leg, "step": "case"}]))
            .ok();
    }
    program.to("2026-11-20T08:00");
    for leg in &legs {
        check(&program, *leg, "tacky", "tacky");
    }
    program.to("2026-11-21T08:00");
    assert!(legs.iter().all(|l| is_due(&program, "smoke", *l)));
    for leg in &legs {
        let before = card(&program, *leg)["mass_g"].as_f64().unwrap();
        program.kept(json!([{"act": "smoked", "piece": leg, "reading": format!("{} g", before * 0.88), "inside": "64 C", "chamber": "105 C"}])).ok();
    }
    program.to("2026-11-22T08:00");
    // the bone comes out cold, then it is packed
    assert!(
        legs.iter().all(|l| is_due(&program, "pack", *l)),
        "{:?}",
        program.due()
    );
    assert!(
        legs.iter()
            .all(|l| card(&program, *l)["verdict"]["word"] == "ready_to_eat")
    );
}

#[test]
fn a_tenderloin_waits_in_its_bag_is_dried_to_its_loss_and_evened_out_for_weeks() {
    let program = Program::practice("2026-11-02T10:00:00Z");
    let ox = program.kept(json!([{
        "act": "received", "name": "tenderloin", "species": "beef", "origin": "bought", "known": "bought_cut",
        "cut": "tenderloin", "reading": "1480 g", "portion": "case", "count": 1,
    }])).ok()["lots"][0].as_i64().unwrap();
    let cut = piece(&program, ox, "tenderloin", (1_420.0, 55.0), "muscle-cased");
    program
        .kept(json!([{"act": "dosed", "pieces": [cut]}]))
        .ok();
    let out = planned(&program, "out_of_cure", cut).unwrap();
    assert_eq!(out, "2026-11-23", "its least days");
    // two weeks late is fine, and said so
    let task = card(&program, cut)["tasks"].clone();
    let task = task
        .as_array()
        .unwrap()
        .iter()
        .find(|t| t["kind"] == "out_of_cure")
        .unwrap()
        .clone();
    assert_eq!(task["latest"], "2026-12-21");
    program.to("2026-12-05T09:00");
    let row = program.get("/today").ok();
    assert!(row.to_string().contains("2026-12-21"));
    assert!(is_due(&program, "out_of_cure", cut));
    check(&program, cut, "smell", "good");
    program
        .kept(json!([{"act": "out_of_cure", "piece": cut, "reading": "1385 g"}]))
        .ok();
    // a coat if wanted, and its casing
    assert!(is_due(&program, "coat", cut) && is_due(&program, "case", cut));
    program
        .did(json!([{"act": "coated", "piece": cut, "name": "cracked pepper", "reading": "14 g"}]))
        .ok();
    program
        .did(json!([{"act": "step_done", "piece": cut, "step": "case"}]))
        .ok();
    program.to("2026-12-06T09:00");
    assert!(is_due(&program, "hang", cut));
    program.kept(json!([{"act": "hung", "piece": cut, "reading": "1446 g", "tare": "47 g", "loss_fraction": "30 %"}])).ok();
    let mut rounds = 0;
    while !is_due(&program, "take_down", cut) {
        rounds += 1;
        assert!(rounds < 80, "never dry");
        program
            .post("/clock/move", &json!({"until": "next_due"}))
            .ok();
        if is_due(&program, "weigh_in", cut) {
            let shows = card(&program, cut)["hang"]["hook_shows_g"].clone();
            program
                .kept(json!([{"act": "weighed_in", "piece": cut, "reading": format!("{shows} g")}]))
                .ok();
            check(&program, cut, "mould", "good");
        }
    }
    let gross = card(&program, cut)["hang"]["gross_now_g"].clone();
    program
        .kept(json!([{"act": "taken_down", "piece": cut, "reading": format!("{gross} g")}]))
        .ok();
    // two weeks under vacuum even it out; nothing is due before
    assert_eq!(program.due(), []);
    let now = program.get("/settings").ok()["today"]
        .as_str()
        .unwrap()
        .to_string();
    program.post("/clock/move", &json!({"by": "13 days"})).ok();
    assert_eq!(program.due(), []);
    assert!(comes(&program, "pack").len() == 1, "{now}");
    program.post("/clock/move", &json!({"by": "1 day"})).ok();
    assert!(is_due(&program, "pack", cut));
    let mass = card(&program, cut)["mass_g"].as_f64().unwrap();
    program.kept(json!([{"act": "packed", "piece": cut, "packs": [{"reading": format!("{} g", mass - 8.0)}], "finished": true}])).ok();
    assert_eq!(program.due(), []);
    let view = program.get(&format!("/pieces/{cut}")).ok();
    let verdict = view["card"]["verdict"].clone();
    assert_eq!(verdict["word"], Value::from("ready_to_eat"), "{verdict}");
}

#[test]
fn what_tomorrows_work_takes_and_is_not_there_is_said_today() {
    let program = Program::practice("2026-11-02T09:00:00Z");
    let tubs =
        program.equip(json!([{"kind": "tub", "name": "green tub", "count": 1, "holds": 20.0}]));
    let hog = program.half_hog();
    let belly = piece(&program, hog, "belly", (2_000.0, 38.0), "belly-slab");
    let missing = |program: &Program| -> Vec<String> {
        let list = program.get("/today").ok()["missing"].clone();
        let all = list.as_array().unwrap().iter();
        all.map(|m| m["words"].as_str().unwrap().to_string())
            .collect()
    };
    // a pantry in which nothing is listed is not asked
    assert_eq!(missing(&program), [] as [&str; 0]);
    let pantry = json!({"version": 0, "items": [
        {"name": "salt", "kind": "salt", "amount": "30 g"}, {"name": "sugar", "kind": "sugar", "amount": "1 kg"},
        {"name": "cure #1", "kind": "cure", "amount": "100 g"}, {"name": "black pepper", "kind": "spice", "amount": "50 g"},
    ]});
    program
        .ask("PUT", "/api/v1/pantry", &[], Some(&pantry.to_string()))
        .ok();
    // 23 g/kg of 2 kg, less the salt in 5 g of cure: 41.3 g
    assert_eq!(
        missing(&program),
        ["salt: 41.3 g wanted, 30 g in the pantry"]
    );
    // one brine for one tub is well; for two of them a tub is missing
    let loin = piece(&program, hog, "loin", (1_900.0, 60.0), "back-smoked");
    assert!(missing(&program).iter().all(|m| !m.contains("tub")));
    program
        .kept(json!([{"act": "dosed", "pieces": [loin], "place": tubs[0]}]))
        .ok();
    let next = piece(&program, hog, "loin", (1_700.0, 58.0), "back-smoked");
    assert!(missing(&program).contains(&"A tub is wanted, no tub stands empty".to_string()));
    program
        .kept(json!([{"act": "dosed", "pieces": [next]}, {"act": "dosed", "pieces": [belly]}]))
        .ok();
    assert_eq!(missing(&program), [] as [&str; 0]);
}
