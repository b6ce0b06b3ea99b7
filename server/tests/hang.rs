//! The hanging sheet over HTTP, on a clock that is moved: what it tells, what it refuses, what follows when something is put right.

mod support;

use serde_json::{Value, json};
use support::Program;
use support::cures::{card, codes, near};
use support::hang::{hook, household, pauses, sheet, weighed_on};
use support::smoke::verdict;

/// A collar that was cured as it should be and waits for its hook: beef, so that nothing holds it back.
fn waits(program: &Program, grams: f64, mm: f64, since: &str) -> i64 {
    let reading = format!("{grams} g");
    let lines = [("cure #2", 2.5), ("salt", 26.0)];
    let lines: Vec<Value> = lines
        .iter()
        .map(|(name, rate)| json!({"name": name, "reading": format!("{:.1} g", grams / 1_000.0 * rate)}))
        .collect();
    let entered = json!([{
        "act": "under_way", "cut": "eye_round", "build": "muscle-cased", "at": "in_cure", "since": since, "reading": reading, "thickness": format!("{mm} mm"),
        "weighed": {"cure": "cure2", "lines": lines},
        "received": {"name": "eye of round", "species": "beef", "origin": "bought", "known": "bought_cut", "cut": "eye_round", "reading": reading},
    }]);
    let id = program.kept(entered).ok()["pieces"][0].as_i64().unwrap();
    program
        .kept(json!([{"act": "out_of_cure", "piece": id, "reading": reading}]))
        .ok();
    id
}

fn hung(program: &Program, id: i64, gross: f64, tare: f64, place: Option<i64>) {
    let act = json!([{"act": "hung", "piece": id, "reading": format!("{gross} g"), "tare": format!("{tare} g"), "place": place}]);
    program.kept(act).ok();
}

#[test]
fn a_forecast_goes_from_thickness_to_own_weighings_and_the_next_piece_dries_as_the_last() {
    let (program, [chamber, fridge, ..]) = household("2026-09-01T08:00:00Z");
    let first = waits(&program, 1_500.0, 70.0, "2026-08-01");
    hung(&program, first, 1_540.0, 40.0, Some(chamber));
    assert_eq!(hook(&program, first)["pace"]["by"], "thickness");
    for (n, day) in ["09-04", "09-07", "09-10", "09-13"].iter().enumerate() {
        weighed_on(&program, &format!("2026-{day}T08:00:00Z"));
        let pace = hook(&program, first)["pace"].clone();
        assert_eq!(
            (pace["by"].as_str(), pace["count"].as_u64()),
            (Some("weighings"), Some(n as u64 + 1))
        );
        near(
            &pace["band"],
            [0.30, 0.20, 0.15, 0.10][n],
            1e-9,
            "by how many",
        );
    }
    let own = hook(&program, first)["pace"]["k_per_day"].as_f64().unwrap();
    // what is planned ahead says the same day as the sheet
    let at = |name: &str| {
        hook(&program, first)["will"][name]
            .as_str()
            .unwrap()
            .to_string()
    };
    let day = at("at").parse::<jiff::Timestamp>().unwrap() + jiff::SignedDuration::from_hours(24);
    let dates = [at("at"), day.to_string()].map(|t| t[..10].replace('-', ""));
    let answer = program.ask("GET", "/api/v1/calendar.ics", &[], None);
    let ics = answer.body.as_str().unwrap().to_string();
    let down: Vec<&str> = ics
        .split("BEGIN:VEVENT")
        .filter(|e| e.contains("ake down"))
        .collect();
    assert!(
        dates.iter().any(|d| down
            .iter()
            .any(|e| e.contains(&format!("DTSTART;VALUE=DATE:{d}")))),
        "{dates:?}: {ics}"
    );
    // the sheet and the calculator say the same
    let on = hook(&program, first);
    let weighed = program.get(&format!("/pieces/{first}/hang")).ok()["weighed"].clone();
    let weighings: Vec<Value> = weighed
        .as_array()
        .unwrap()
        .iter()
        .map(|w| json!({"day": w["day"], "gross_g": 1_500.0 * (1.0 - w["loss"].as_f64().unwrap()) + 40.0}))
        .collect();
    let ask = json!({"gross_start_g": 1_540.0, "tare_g": 40.0, "loss_fraction": 0.35, "lmax_fraction": on["pace"]["most"], "weighings": weighings});
    let told = program.post("/calc/hang-forecast", &ask).ok();
    near(&told["k_per_day"], own, 1e-9, "one law");
    program.to("2026-11-20T08:00:00Z");
    program
        .kept(json!([{"act": "taken_down", "piece": first, "reading": "980 g"}]))
        .ok();
    let second = waits(&program, 1_200.0, 60.0, "2026-10-01");
    hung(&program, second, 1_230.0, 30.0, Some(chamber));
    let pace = hook(&program, second)["pace"].clone();
    assert_eq!(
        (pace["by"].as_str(), pace["count"].as_u64()),
        (Some("own_pieces"), Some(1))
    );
    // what dried in a chamber says nothing of a fridge
    let third = waits(&program, 1_200.0, 60.0, "2026-10-01");
    hung(&program, third, 1_230.0, 30.0, Some(fridge));
    assert_eq!(hook(&program, third)["pace"]["by"], "thickness");
}

#[test]
fn the_air_of_a_place_is_read_from_a_file_averaged_and_changes_the_forecast() {
    let (program, [chamber, _, _, cold]) = household("2026-09-10T12:00:00Z");
    let piece = waits(&program, 1_500.0, 75.0, "2026-08-01");
    hung(&program, piece, 1_540.0, 40.0, Some(chamber));
    let usual = hook(&program, piece)["pace"]["k_per_day"].as_f64().unwrap();
    near(&json!(usual), 0.019, 1e-9, "75 mm at 75 %");
    // two days in a file, at 12.5 degrees and 85 %; the door at noon
    let mut csv = String::from("time,temperature C,humidity %\n");
    for n in 0..288 {
        let minute = n * 10;
        let (day, of_day) = (8 + minute / 1_440, minute % 1_440);
        let door = (720..740).contains(&of_day);
        csv += &format!(
            "2026-09-{day:02}T{:02}:{:02}:00Z,{:.1},{}\n",
            of_day / 60,
            of_day % 60,
            if door { 15.5 } else { 12.5 },
            if door { 70 } else { 85 }
        );
    }
    let answer = program.ask(
        "POST",
        &format!("/api/v1/places/{chamber}/file"),
        &[("content-type", "text/csv")],
        Some(&csv),
    );
    assert_eq!(answer.ok()["added"], 288);
    let hours = program.get(&format!("/places/{chamber}/hours?days=7")).ok();
    let all = hours["hours"].as_array().unwrap();
    assert_eq!(all.len(), 48);
    assert_eq!(
        all.iter()
            .map(|h| h["opened"].as_u64().unwrap())
            .sum::<u64>(),
        2
    );
    near(
        &all[12]["celsius"],
        13.5,
        1e-9,
        "an hour is the mean of its six readings",
    );
    // slower by what is missing to saturation: about 15 of 25 parts
    let slower = hook(&program, piece)["pace"]["k_per_day"].as_f64().unwrap() / usual;
    assert!((slower - 0.6).abs() < 0.02, "{slower}");
    let place = || sheet(&program)["places"][0].clone();
    assert!(codes(&place()["findings"]).is_empty(), "{}", place());
    let read = |at: &str, c: f64, damp: Option<&str>| {
        let body =
            json!({"readings": [{"temperature": format!("{c} C"), "humidity": damp, "at": at}]});
        program
            .post(&format!("/places/{chamber}/readings"), &body)
            .ok();
    };
    program.to("2026-09-14T12:00:00Z");
    for (at, damp) in [
        ("2026-09-13T14:00", "52 %"),
        ("2026-09-13T22:00", "55 %"),
        ("2026-09-14T09:00", "54 %"),
    ] {
        read(at, 12.0, Some(damp));
    }
    assert_eq!(codes(&place()["findings"]), ["air_too_dry"]);
    // outside 60 to 90 % the usual rate is not stretched any further
    near(
        &hook(&program, piece)["pace"]["k_per_day"],
        usual,
        1e-9,
        "as usual",
    );
    read("2026-09-14T11:30", 19.4, None);
    let warm = place()["findings"].clone();
    assert_eq!(
        (codes(&warm)[0].as_str(), warm[0]["severity"].as_str()),
        ("air_too_warm", Some("stop"))
    );
    // where pieces dry, nothing is a fridge's fault; in a fridge nothing is asked of its damp
    let places = program.get("/places").ok();
    let cold_view = |id: i64| {
        places["places"]
            .as_array()
            .unwrap()
            .iter()
            .find(|p| p["id"] == id)
            .unwrap()
            .clone()
    };
    assert!(
        cold_view(chamber)["stretches"]
            .as_array()
            .unwrap()
            .is_empty()
    );
    assert_eq!(program.get(&format!("/places/{cold}/hours")).status, 404);
}

#[test]
fn what_cannot_be_is_refused_in_words() {
    let (program, [chamber, fridge, _, cold]) = household("2026-09-10T12:00:00Z");
    let up = waits(&program, 1_500.0, 75.0, "2026-08-01");
    let on = waits(&program, 1_400.0, 70.0, "2026-08-01");
    hung(&program, on, 1_440.0, 40.0, Some(chamber));
    #[rustfmt::skip]
    let cases = [
        (json!({"act": "stripped", "piece": on, "tare": "30 g"}), "piece"),
        (json!({"act": "stripped", "piece": on}), "tare"),
        (json!({"act": "stripped", "piece": on, "tare": "30 g", "bare": "900 g"}), "tare"),
        (json!({"act": "rehung", "piece": up, "place": chamber}), "piece"),
        (json!({"act": "rehung", "piece": on}), "place"),
        (json!({"act": "rehung", "piece": on, "hook": 0}), "hook"),
        (json!({"act": "rehung", "piece": on, "place": cold}), "place"),
        (json!({"act": "evened_out", "piece": up, "weeks": 2}), "piece"),
        (json!({"act": "evened_out", "piece": on}), "weeks"),
        (json!({"act": "evened_out", "piece": on, "weeks": 2, "days": 3}), "weeks"),
        (json!({"act": "evened_out", "piece": on, "weeks": 0}), "weeks"),
        (json!({"act": "evened_out", "piece": on, "weeks": "some"}), "weeks"),
        (json!({"act": "cased", "piece": on, "casing": "bung"}), "piece"),
        (json!({"act": "cased", "piece": up, "casing": " "}), "casing"),
        (json!({"act": "cased", "piece": up, "casing": "bung", "taken": "1 m", "back": "2 m"}), "back"),
        (json!({"act": "cased", "piece": up, "casing": "bung", "reading": "3 kg"}), "reading"),
        (json!({"act": "hung", "piece": up, "reading": "1.53 kg", "tare": "30 g", "stop": "days"}), "days"),
        (json!({"act": "hung", "piece": up, "reading": "1.53 kg", "tare": "30 g", "days": 20}), "days"),
        (json!({"act": "hung", "piece": up, "reading": "1.53 kg", "tare": "30 g", "hook": 0}), "hook"),
        (json!({"act": "hung", "piece": up, "reading": "1.53 kg", "parts": [{"name": "net"}]}), "parts[0].reading"),
        (json!({"act": "hung", "piece": up, "reading": "1.53 kg", "parts": [{"name": "paste", "jar": {"before": "100 g", "after": "130 g"}}]}), "parts[0].jar.after"),
        (json!({"act": "weighed_in", "reading": "1.4 kg"}), "piece"),
        (json!({"act": "weighed_in", "pieces": [on, on], "reading": "1.4 kg"}), "pieces"),
        (json!({"act": "taken_down", "piece": on}), "reading"),
        (json!({"act": "checked", "piece": on, "check": "feel", "mould": {"colour": "white", "texture": "chalky"}}), "mould"),
        (json!({"act": "checked", "piece": on, "check": "mould", "grade": "good", "mould": {"colour": "black", "texture": "dry"}}), "grade"),
        (json!({"act": "checked", "piece": on, "check": "mould", "photo": "my picture", "grade": "good"}), "acts[0].photo"),
    ];
    for (act, field) in cases {
        let answer = program.kept(json!([act]));
        assert_eq!(answer.status, 422, "{act}: {}", answer.body);
        assert!(!answer.field(field).is_empty());
    }
    let unknown = json!([{"act": "checked", "piece": on, "check": "mould", "mould": {"colour": "pink", "texture": "chalky"}}]);
    assert!(matches!(program.did(unknown).status, 400 | 422));
    assert_eq!(program.get(&format!("/pieces/{up}/hang")).status, 404);
    assert_eq!(program.get("/pieces/999/hang").status, 404);
    // an open piece in a fridge, and a room, are asked about; elsewhere on the way as well
    let open =
        json!([{"act": "hung", "piece": up, "reading": "1.5 kg", "tare": "0", "place": fridge}]);
    assert!(codes(&program.did(open).body["findings"]).contains(&"open_in_fridge".into()));
}

#[test]
fn the_share_lost_follows_from_the_tare_at_both_ends_split_corrected_and_stripped() {
    let (program, [chamber, ..]) = household("2026-09-10T12:00:00Z");
    let two = [0, 1].map(|_| waits(&program, 1_500.0, 75.0, "2026-08-01"));
    hung(&program, two[0], 1_560.0, 60.0, Some(chamber));
    let parts = json!([{"name": "casing", "reading": "31 g"}, {"name": "net", "reading": "17 g"}, {"name": "hook", "reading": "12 g"}]);
    let entry = program
        .kept(json!([{"act": "hung", "piece": two[1], "reading": "1560 g", "parts": parts, "place": chamber}]))
        .ok()["entries"][0]
        .as_i64()
        .unwrap();
    program.to("2026-10-01T12:00:00Z");
    for id in two {
        program
            .kept(json!([{"act": "weighed_in", "piece": id, "reading": "1300 g"}]))
            .ok();
    }
    let lost = |id: i64| hook(&program, id)["loss_now"].as_f64().unwrap();
    assert!((lost(two[0]) - 260.0 / 1_500.0).abs() < 1e-12);
    // casing and net dry on the hook, to a half and to six tenths: what they lost is no meat
    let dry = 31.0 * 0.5 + 17.0 * 0.6 + 12.0;
    assert!((lost(two[1]) - (1.0 - (1_300.0 - dry) / 1_500.0)).abs() < 1e-9);
    let span = hook(&program, two[1]);
    let wet = span["target_gross_wet_g"].as_f64().unwrap();
    near(
        &span["target_gross_g"],
        wet - (60.0 - dry),
        1e-6,
        "the dry end decides",
    );
    // the tare of its hanging is put right: everything that was weighed since follows
    let ask = program.get(&format!("/entries/{entry}/ask")).ok()["act"].clone();
    let mut right = ask;
    right["parts"][0]["reading"] = json!("51 g");
    program
        .post(
            &format!("/entries/{entry}/correction"),
            &json!({"act": right, "keep_as_typed": true}),
        )
        .ok();
    near(
        &hook(&program, two[1])["loss_now"],
        1.0 - (1_300.0 - dry - 10.0) / 1_480.0,
        1e-9,
        "with 80 g beside the meat",
    );
    near(&card(&program, two[1])["mass_g"], 1_220.0, 1e-9, "the meat");
    // stripped at the end: what the meat lost, and taking it back puts back what was
    program.to("2026-12-10T12:00:00Z");
    program
        .kept(json!([{"act": "taken_down", "piece": two[0], "reading": "1000 g"}]))
        .ok();
    let down = || sheet(&program)["down"][0].clone();
    near(&down()["lost"], 560.0 / 1_500.0, 1e-12, "as it was hung");
    let stripped = program
        .kept(json!([{"act": "stripped", "piece": two[0], "bare": "965 g"}]))
        .ok()["entries"][0]
        .as_i64()
        .unwrap();
    near(&down()["tare_g"], 35.0, 1e-9, "what hung there");
    near(
        &down()["lost"],
        1.0 - 965.0 / 1_500.0,
        1e-12,
        "by its own weight at both ends",
    );
    program
        .post(&format!("/entries/{stripped}/undo"), &json!({}))
        .ok();
    near(&down()["lost"], 560.0 / 1_500.0, 1e-12, "as before");
    near(&card(&program, two[0])["mass_g"], 940.0, 1e-9, "as before");
}

#[test]
fn mould_that_has_to_be_out_holds_the_word_back_until_somebody_looks_again() {
    let (program, [chamber, ..]) = household("2026-09-10T12:00:00Z");
    let piece = waits(&program, 1_500.0, 50.0, "2026-08-01");
    hung(&program, piece, 1_540.0, 40.0, Some(chamber));
    let beside = waits(&program, 1_500.0, 75.0, "2026-08-01");
    hung(&program, beside, 1_540.0, 40.0, Some(chamber));
    let seen = |colour: &str, texture: &str| json!([{"act": "checked", "piece": piece, "check": "mould", "mould": {"colour": colour, "texture": texture}}]);
    program.did(seen("bright", "fuzzy")).ok();
    assert!(pauses(&program, piece).contains(&"bad_mould".into()));
    assert!(pauses(&program, beside).contains(&"mould_beside".into()));
    program.did(json!([{"act": "rehung", "piece": beside, "hook": 5}, {"act": "rehung", "piece": piece, "hook": 1}])).ok();
    assert!(
        !pauses(&program, beside).contains(&"mould_beside".into()),
        "hooks apart"
    );
    program.to("2026-11-20T12:00:00Z");
    program
        .kept(json!([{"act": "taken_down", "piece": piece, "reading": "990 g"}]))
        .ok();
    let word = || {
        let view = program.get(&format!("/pieces/{piece}")).ok();
        (
            view["verdict"]["word"].as_str().unwrap().to_string(),
            codes(&view["verdict"]["reasons"]),
        )
    };
    assert_eq!(
        word(),
        ("cook_before_eating".into(), vec!["bad_mould".into()])
    );
    program.did(seen("white", "chalky")).ok();
    assert_eq!(word().0, "ready_to_eat");
    let bad = json!([{"act": "checked", "piece": piece, "check": "mould", "mould": {"colour": "white", "texture": "wet", "under": true}}]);
    program.kept(bad).ok();
    assert_eq!(word().0, "do_not_eat");
}

#[test]
fn what_comes_down_too_early_is_cooked_and_that_is_written_down() {
    let (program, [chamber, ..]) = household("2026-09-10T12:00:00Z");
    let piece = waits(&program, 1_500.0, 75.0, "2026-08-01");
    hung(&program, piece, 1_540.0, 40.0, Some(chamber));
    program.to("2026-09-25T12:00:00Z");
    program
        .kept(json!([{"act": "taken_down", "piece": piece, "reading": "1350 g"}]))
        .ok();
    assert_eq!(verdict(&program, piece).0, "cook_before_eating");
    let cool = json!([{"act": "smoked", "piece": piece, "reading": "1.2 kg", "inside": "55 C", "chamber": "120 C"}]);
    assert!(codes(&program.did(cool).body["findings"]).contains(&"under_safe_heat".into()));
    program.did(json!([{"act": "smoked", "piece": piece, "reading": "1.15 kg", "inside": "63.4 C", "chamber": "120 C"}])).ok();
    assert_eq!(
        verdict(&program, piece),
        ("ready_to_eat".into(), "cooked".into())
    );
    assert_eq!(card(&program, piece)["stage"], "pack");
    // a piece that hangs is not put into an oven net and all
    let other = waits(&program, 1_500.0, 75.0, "2026-08-01");
    hung(&program, other, 1_540.0, 40.0, Some(chamber));
    let hanging = json!([{"act": "smoked", "piece": other, "reading": "1.2 kg", "inside": "65 C"}]);
    assert_eq!(program.kept(hanging).status, 422);
}

#[test]
fn a_hard_rind_is_found_by_the_scale_evens_out_and_goes_back_to_its_hook() {
    let (program, [chamber, _, _, cold]) = household("2026-09-10T12:00:00Z");
    let piece = waits(&program, 1_500.0, 75.0, "2026-08-01");
    hung(&program, piece, 1_540.0, 40.0, Some(chamber));
    let weigh = |at: &str, gross: f64| {
        program.to(&format!("2026-09-{at}T12:00:00Z"));
        program
            .kept(json!([{"act": "weighed_in", "piece": piece, "reading": format!("{gross} g")}]))
            .ok();
    };
    weigh("13", 1_500.0);
    weigh("16", 1_462.0);
    assert!(pauses(&program, piece).is_empty());
    weigh("19", 1_360.0);
    assert_eq!(pauses(&program, piece), ["hard_rind"]);
    program
        .did(json!([{"act": "evened_out", "piece": piece, "weeks": 1, "place": cold}]))
        .ok();
    let rests = hook(&program, piece);
    assert_eq!(
        (rests["evens_until"].as_str(), rests["due"].as_str()),
        (Some("2026-09-26T12:00:00Z"), Some("2026-09-26"))
    );
    assert_eq!(
        rests["place"].as_i64(),
        Some(chamber),
        "it goes back to where it hung"
    );
    weigh("27", 1_348.0);
    let back = hook(&program, piece);
    assert_eq!(
        (back["evens_until"].clone(), codes(&back["findings"]).len()),
        (Value::Null, 0)
    );
}

#[test]
fn an_outdated_look_writes_nothing_and_a_key_writes_once() {
    let (program, [chamber, ..]) = household("2026-09-10T12:00:00Z");
    let piece = waits(&program, 1_500.0, 75.0, "2026-08-01");
    hung(&program, piece, 1_540.0, 40.0, Some(chamber));
    let version = hook(&program, piece)["version"].clone();
    program.to("2026-09-13T12:00:00Z");
    program
        .did(json!([{"act": "rehung", "piece": piece, "hook": 2}]))
        .ok();
    let stale = json!({"acts": [{"act": "weighed_in", "piece": piece, "reading": "1.5 kg"}], "seen": [{"piece": piece, "version": version}]});
    assert_eq!(program.post("/entries", &stale).status, 409);
    let fresh = json!({"acts": [{"act": "weighed_in", "piece": piece, "reading": "1.5 kg"}], "seen": [{"piece": piece, "version": hook(&program, piece)["version"]}]});
    let key = [("Idempotency-Key", "one-weighing-on-its-hook")];
    for repeated in [false, true] {
        let answer = program.ask("POST", "/api/v1/entries", &key, Some(&fresh.to_string()));
        assert_eq!(answer.ok()["repeated"], repeated);
    }
    let weighed = program.get(&format!("/pieces/{piece}/hang")).ok()["weighed"].clone();
    assert_eq!(weighed.as_array().unwrap().len(), 1);
}

#[test]
fn the_household_says_what_is_close_enough_and_the_word_follows() {
    let (program, [chamber, ..]) = household("2026-09-10T12:00:00Z");
    let piece = waits(&program, 1_500.0, 50.0, "2026-08-01");
    hung(&program, piece, 1_540.0, 40.0, Some(chamber));
    program.to("2026-11-20T12:00:00Z");
    let gross = 1_500.0 * (1.0 - 0.342) + 40.0;
    program
        .kept(json!([{"act": "taken_down", "piece": piece, "reading": format!("{gross} g")}]))
        .ok();
    assert_eq!(
        verdict(&program, piece).0,
        "ready_to_eat",
        "within a hundredth"
    );
    let close = |share: f64| {
        let mut home = program.get("/settings").ok()["household"].clone();
        home["close_enough"] = json!(share);
        program.ask("PUT", "/api/v1/settings", &[], Some(&home.to_string()))
    };
    close(0.005).ok();
    assert_eq!(verdict(&program, piece).0, "cook_before_eating");
    close(0.02).ok();
    assert_eq!(verdict(&program, piece).0, "ready_to_eat");
    assert_eq!(close(0.1).status, 422);
}

#[test]
fn a_piece_that_nobody_knows_since_when_it_hangs_is_told_from_what_it_had_lost() {
    let (program, [chamber, ..]) = household("2026-09-10T12:00:00Z");
    let entered = json!([{
        "act": "under_way", "cut": "eye_round", "build": "muscle-cased", "at": "hanging", "reading": "1200 g", "tare": "40 g", "gross_start": "1540 g", "thickness": "75 mm", "place": chamber,
        "received": {"name": "eye of round", "species": "beef", "origin": "bought", "known": "bought_cut", "cut": "eye_round", "reading": "1.6 kg"},
    }]);
    let piece = program.kept(entered).ok()["pieces"][0].as_i64().unwrap();
    let most = hook(&program, piece)["pace"]["most"].as_f64().unwrap();
    let begun = 340.0 / 1_500.0;
    let days = |h: &Value| {
        let [at, since] = [&h["will"]["at"], &h["since"]]
            .map(|t| t.as_str().unwrap().parse::<jiff::Timestamp>().unwrap());
        at.duration_since(since).as_secs_f64() / 86_400.0
    };
    // by its thickness, from where it stands: not from the first day again
    let first = hook(&program, piece);
    assert_eq!(first["pace"]["by"], "thickness");
    let want = -((most - 0.35) / (most - begun)).ln() / 0.019;
    assert!(
        (days(&first) / want - 1.0).abs() < 1e-6,
        "{} {want}",
        days(&first)
    );
    // weighed on, the law holds for what is left
    let k = 0.025;
    for after in [4.0, 9.0, 15.0] {
        let lost = begun + (most - begun) * (1.0 - f64::exp(-k * after));
        program.to(&format!("2026-09-{:02}T12:00:00Z", 10 + after as u32));
        program
            .kept(json!([{"act": "weighed_in", "piece": piece, "reading": format!("{:.3} g", 1_500.0 * (1.0 - lost) + 40.0)}]))
            .ok();
    }
    let on = hook(&program, piece);
    let got = on["pace"]["k_per_day"].as_f64().unwrap();
    assert!((got / k - 1.0).abs() < 1e-4, "{got}");
    assert!(pauses(&program, piece).is_empty(), "no rind is hard");
}
