//! The API over HTTP: a request in, JSON out.

mod support;

use serde_json::{Value, json};
use support::{Program, weigh_out};

#[test]
fn the_calculators_answer_over_http() {
    let program = Program::start();
    for name in [
        "dry-cure",
        "batch-mix",
        "equilibrium-brine",
        "cure-time",
        "hang-target",
        "fat-blend",
    ] {
        let path = format!(
            "{}/../core/tests/cases/{name}.json",
            env!("CARGO_MANIFEST_DIR")
        );
        let cases: Value = serde_json::from_str(&std::fs::read_to_string(path).unwrap()).unwrap();
        for case in cases["cases"].as_array().unwrap() {
            let got = program
                .post(&format!("/calc/{name}"), &case["request"])
                .ok();
            assert!(got["findings"].is_array(), "{name}: {got}");
            if let Some(want) = case["expect"]["cure_g"].as_f64() {
                assert!((got["cure_g"].as_f64().unwrap() - want).abs() < 1e-6 * want);
            }
        }
    }
}

#[test]
fn every_wrong_calculation_names_its_field_in_words() {
    let program = Program::start();
    let dry = json!({"meat_g": 1000, "cure": "cure1", "nitrite_ppm": 156, "salt_g_per_kg": 22, "class": "fry"});
    let with = |edit: Value| {
        let mut ask = dry.clone();
        ask.as_object_mut()
            .unwrap()
            .extend(edit.as_object().unwrap().clone());
        ask
    };
    #[rustfmt::skip]
    let cases = [
        ("dry-cure", with(json!({"meat_g": 0})),               "meat_g",        "Weigh the meat first"),
        ("dry-cure", with(json!({"meat_g": null})),            "meat_g",        "This cannot be read."),
        ("dry-cure", with(json!({"cure_g_per_kg": 2.5})),      "nitrite_ppm",   "Give either nitrite_ppm or cure_g_per_kg"),
        ("dry-cure", with(json!({"salt_g_per_kg": 1})),        "salt_g_per_kg", "The cure alone brings 2.34 g of salt"),
        ("dry-cure", with(json!({"cure": "pink"})),            "cure",          "“pink” is not a cure known here"),
        ("dry-cure", with(json!({"cure": {"nitrite": 2}})),    "cure",          "a composition is shares of mass"),
        ("dry-cure", with(json!({"colour": "red"})),           "colour",        "“colour” is not a field here."),
        ("batch-mix", json!({"pieces": [], "cure": "none", "salt_g_per_kg": 22, "class": "fry"}), "pieces", "Name at least one piece"),
        ("equilibrium-brine", json!({"meat_g": 1000, "water_g": 0, "salt_fraction": 0.02, "sugar_fraction": 0, "nitrite_ppm": 100, "cure": "cure1", "class": "cooked"}), "water_g", "Give a number above zero"),
        ("cure-time", json!({"thickness_mm": -3}),             "thickness_mm",  "Give a number above zero, such as 45."),
        ("hang-target", json!({"gross_start_g": 100, "tare_g": 100, "loss_fraction": 0.3}), "tare_g", "Cloth, net and clips"),
        ("hang-target", json!({"gross_start_g": 100, "tare_g": 1}), "loss_fraction", "Please give loss_fraction."),
    ];
    for (name, ask, field, words) in cases {
        let answer = program.post(&format!("/calc/{name}"), &ask);
        assert_eq!(answer.status, 422, "{name} {ask}: {}", answer.body);
        assert_eq!(answer.kind, "application/problem+json");
        assert!(
            answer.field(field).starts_with(words),
            "{}",
            answer.field(field)
        );
    }
    let broken = program.ask("POST", "/api/v1/calc/dry-cure", &[], Some("{"));
    assert_eq!(
        (broken.status, broken.kind.as_str()),
        (400, "application/problem+json")
    );
    assert_eq!(broken.body["type"], "urn:build-manifest:not-json");
}

#[test]
fn every_refused_entry_names_its_field_in_words() {
    let program = Program::start();
    let lot = program.half_hog();
    let belly = program.piece(lot, "belly", "5.24 kg", "42 mm");
    #[rustfmt::skip]
    let cases = [
        (json!({"act": "received", "name": "", "species": "pig", "origin": "bought", "known": "carcass", "reading": "9 kg"}), 422, "name", "Give it a name"),
        (json!({"act": "received", "name": "x", "species": "yak", "origin": "bought", "known": "carcass", "reading": "9 kg"}), 422, "species", "Choose a species"),
        (json!({"act": "received", "name": "x", "species": "pig", "origin": "bought", "known": "carcass", "reading": "lots"}), 422, "reading", "“lots” is not a unit of weight."),
        (json!({"act": "received", "name": "x", "species": "pig", "origin": "bought", "known": "field_dressed", "reading": "9 kg"}), 422, "known", "pig is not dressed in the field."),
        (json!({"act": "received", "name": "x", "species": "pig", "origin": "bought", "known": "carcass", "reading": "9 kg", "cost": "much"}), 422, "cost", "“much” cannot be read as a number. Type an amount of money"),
        (weigh_out(lot, "wing", "1 kg", "4 cm"),       422, "cut",       "Choose one of the cuts of pig."),
        (weigh_out(lot, "leg", "60 kg", "15 cm"),      422, "reading",   "60 kg is more than the 33.36 kg still to weigh."),
        (weigh_out(lot, "leg", "6 kg", "45 in"),       422, "thickness", "1143 mm is thicker than any piece."),
        (json!({"act": "assigned", "piece": belly, "build": "jerky"}), 422, "build", "Choose a product from the list."),
        (json!({"act": "out_of_cure", "piece": belly, "reading": "5 kg"}), 422, "piece", "HG1-1 has no product yet"),
        (json!({"act": "dosed", "pieces": [belly]}),   422, "pieces",    "HG1-1 has no product yet."),
        (json!({"act": "dosed", "pieces": []}),        422, "pieces",    "Choose at least one piece."),
        (json!({"act": "cut", "piece": belly, "parts": [{"reading": "5 kg"}]}), 422, "parts", "Weigh at least two parts."),
    ];
    for (act, status, field, words) in cases {
        let answer = program.did(json!([act]));
        assert_eq!(
            (answer.status, answer.kind.as_str()),
            (status, "application/problem+json"),
            "{act}"
        );
        assert!(answer.field(field).starts_with(words), "{}", answer.body);
    }
    for (path, words) in [
        ("/pieces/99", "There is no piece number 99."),
        ("/lots/99", "Nothing was received under number 99."),
        ("/pieces/x", "There is nothing under this address."),
    ] {
        let answer = program.get(path);
        assert_eq!(answer.status, 404, "{path}");
        assert!(
            answer.body["detail"].as_str().unwrap().starts_with(words),
            "{}",
            answer.body
        );
    }
    let late = program.post(
        "/entries",
        &json!({"acts": [{"act": "turned", "piece": belly}], "happened_at": "2027-01-01T10:00"}),
    );
    assert_eq!(
        late.field("happened_at"),
        "That is still to come. Give a time up to now."
    );
}

#[test]
fn a_write_that_fails_half_way_leaves_nothing() {
    let program = Program::start();
    let lot = program.half_hog();
    let answer = program.did(json!([
        weigh_out(lot, "belly", "5 kg", "42 mm"),
        weigh_out(lot, "loin", "4 kg", "60 mm"),
        weigh_out(lot, "leg", "90 kg", "150 mm"),
    ]));
    assert_eq!(answer.status, 422);
    let view = program.get(&format!("/lots/{lot}")).ok();
    assert_eq!(view["pieces"], json!([]));
    assert_eq!(view["card"]["left_g"], 38_600.0);
    let written = program
        .did(json!([
            weigh_out(lot, "belly", "5 kg", "42 mm"),
            weigh_out(lot, "loin", "4 kg", "60 mm")
        ]))
        .ok();
    assert_eq!(
        written["pieces"],
        json!([1, 2]),
        "no number was used up by the refused write"
    );
}

#[test]
fn a_retry_weighs_once() {
    let program = Program::start();
    let lot = program.half_hog();
    let body = json!({"acts": [weigh_out(lot, "belly", "5 kg", "42 mm")]}).to_string();
    let send = |key: &str, body: &str| {
        program.ask(
            "POST",
            "/api/v1/entries",
            &[("Idempotency-Key", key)],
            Some(body),
        )
    };
    let first = send("retry-0001", &body).ok();
    let second = send("retry-0001", &body).ok();
    assert_eq!(
        (&first["entries"], &first["pieces"]),
        (&second["entries"], &second["pieces"])
    );
    assert_eq!(
        (&first["repeated"], &second["repeated"]),
        (&json!(false), &json!(true))
    );
    assert_eq!(
        program.get(&format!("/lots/{lot}")).ok()["pieces"]
            .as_array()
            .unwrap()
            .len(),
        1
    );
    let other = json!({"acts": [weigh_out(lot, "loin", "4 kg", "60 mm")]}).to_string();
    assert_eq!(send("retry-0001", &other).status, 409);
    assert_eq!(
        send("no", &other).field("Idempotency-Key"),
        "Give a key of 8 to 100 plain letters, such as a UUID."
    );
}

#[test]
fn odd_numbers_are_asked_about_and_kept_when_the_person_says_so() {
    let program = Program::start();
    let lot = program.half_hog();
    let act = weigh_out(lot, "belly", "5 kg", "4.2");
    let asked = program.did(json!([act]));
    assert_eq!(
        (asked.status, &asked.body["type"]),
        (409, &json!("urn:build-manifest:question"))
    );
    assert_eq!(
        asked.body["findings"][0]["way_out"],
        "Did you mean 42 mm? Type the unit with the number."
    );
    assert_eq!(
        program.get(&format!("/lots/{lot}")).ok()["pieces"],
        json!([])
    );
    let kept = program.post("/entries", &json!({"acts": [act], "keep_as_typed": true}));
    assert_eq!(kept.status, 200);
}

#[test]
fn a_write_on_an_old_view_is_refused_with_what_changed() {
    let program = Program::start();
    let lot = program.half_hog();
    let belly = program.piece(lot, "belly", "5.24 kg", "42 mm");
    let version = program.get(&format!("/pieces/{belly}")).ok()["card"]["version"].clone();
    program
        .did(json!([{"act": "assigned", "piece": belly, "build": "belly-slab"}]))
        .ok();
    let late = program.post(
        "/entries",
        &json!({
            "acts": [{"act": "assigned", "piece": belly, "build": "fresh"}],
            "seen": [{"piece": belly, "version": version}],
        }),
    );
    assert_eq!(late.status, 409);
    assert_eq!(late.body["entries"][0]["what"], "HG1-1 assigned");
    assert_eq!(late.body["entries"][0]["why"], "streaky slab bacon");
}

#[test]
fn a_dose_past_a_stop_wants_a_reason_and_some_are_refused() {
    let program = Program::start();
    let lot = program.half_hog();
    let belly = program.piece(lot, "belly", "5.24 kg", "42 mm");
    program
        .did(json!([{"act": "assigned", "piece": belly, "build": "belly-slab"}]))
        .ok();
    let dose = |own: Value, reason: Value| {
        program.did(json!([{"act": "dosed", "pieces": [belly], "own": own, "reason": reason}]))
    };
    let nitrate = dose(json!({"cure": "cure2"}), json!("because"));
    assert_eq!(nitrate.status, 422);
    assert!(
        nitrate
            .field("reason")
            .starts_with("Say why you go on, in two words or more")
    );
    assert_eq!(nitrate.body["findings"][0]["code"], "nitrate_in_fried");
    let over = dose(json!({"cure_g_per_kg": 3.6}), Value::Null);
    assert!(
        over.field("reason")
            .starts_with("Say why you go on, in two words or more")
    );
    dose(json!({"cure_g_per_kg": 3.6}), json!("old recipe card")).ok();
    let view = program.get(&format!("/pieces/{belly}")).ok();
    assert_eq!(view["dose"]["reason"], "old recipe card");
    assert_eq!(view["card"]["overridden"], true);
    assert_eq!(view["card"]["stage"], "in_cure");
}

#[test]
fn a_correction_restates_what_follows_and_can_be_taken_back() {
    let program = Program::demo();
    let piece = 1;
    let before = program.get(&format!("/pieces/{piece}")).ok();
    let weighed = before["timeline"]
        .as_array()
        .unwrap()
        .iter()
        .find(|e| e["kind"] == "piece_weighed")
        .unwrap();
    let entry = weighed["entry"].as_i64().unwrap();
    let corrected = program
        .post(
            &format!("/entries/{entry}/correction"),
            &json!({"act": weigh_out(1, "backstrap", "2.36 kg", "62 mm")}),
        )
        .ok();
    // the correction, the way out of the cure that now loses more, and what was left of the elk
    assert_eq!(corrected["entries"].as_array().unwrap().len(), 3);
    let after = program.get(&format!("/pieces/{piece}")).ok();
    assert_eq!(after["card"]["green_g"], 2_360.0);
    assert_eq!(after["card"]["tag"], before["card"]["tag"]);
    let dead = after["timeline"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|e| e["live"] == false)
        .count();
    assert_eq!(dead, 2, "the history keeps both");
    program
        .post("/undo", &json!({"entries": corrected["entries"]}))
        .ok();
    assert_eq!(
        program.get(&format!("/pieces/{piece}")).ok()["card"]["green_g"],
        2_310.0
    );
    let blocked = program.post(&format!("/entries/{entry}/undo"), &Value::Null);
    assert_eq!(blocked.status, 409);
    assert_eq!(blocked.body["type"], "urn:build-manifest:in-the-way");
    assert!(!blocked.body["entries"].as_array().unwrap().is_empty());
}

#[test]
fn a_dose_is_corrected_on_green_weight_even_after_the_cure() {
    let program = Program::demo();
    // HG1-7, out of its cure: 480 g green, 470 g now
    let hog = program.get("/lots/3").ok();
    let piece = hog["pieces"]
        .as_array()
        .unwrap()
        .iter()
        .find(|p| p["tag"] == "HG1-7")
        .unwrap()["id"]
        .as_i64()
        .unwrap();
    let view = program.get(&format!("/pieces/{piece}")).ok();
    let dosed = view["timeline"]
        .as_array()
        .unwrap()
        .iter()
        .find(|e| e["kind"] == "dosed")
        .unwrap()["entry"]
        .as_i64()
        .unwrap();
    program
        .post(
            &format!("/entries/{dosed}/correction"),
            &json!({"act": {"act": "dosed", "pieces": [piece], "own": {"cure_g_per_kg": 2.0}}}),
        )
        .ok();
    let after = program.get(&format!("/pieces/{piece}")).ok();
    // 480 g at 2 g/kg is 0.96 g; the scale shows 1.0 g, which is 130.2 ppm
    assert_eq!(after["dose"]["lines"][0]["mass_g"], 1.0);
    assert!((after["card"]["cure"]["nitrite_ppm"].as_f64().unwrap() - 130.208).abs() < 0.01);
    assert_eq!(after["card"]["stage"], "smoke");
}

#[test]
fn a_label_says_what_is_true_of_its_pack() {
    let program = Program::demo();
    let view = program.get("/pieces/1").ok();
    let pack = &view["packs"][0];
    assert_eq!(pack["product"], "game backstrap bacon");
    assert_eq!(
        (&pack["mass_g"], &pack["slices"], &pack["tag"]),
        (&json!(610.0), &json!(40), &json!("EK1-1.1"))
    );
    assert_eq!(pack["eat"], "ready_to_eat", "it reached 71.5 °C");
    assert_eq!(
        pack["made_from"],
        "elk, elk quarter-share (EK1), piece EK1-1"
    );
    // packed on the 27th of October, 14 days in the fridge and 180 in the freezer
    assert_eq!(
        pack["keeps"],
        json!([
            {"place": "fridge, vacuum packed", "until": "2026-11-10"},
            {"place": "freezer, vacuum packed", "until": "2027-04-25"},
        ])
    );
    assert_eq!(
        pack["ingredients"],
        json!(["elk", "salt", "sugar", "curing salt (salt, sodium nitrite)"])
    );
}

#[test]
fn a_station_shows_what_lies_there_most_urgent_first() {
    let program = Program::demo();
    let hang = program.get("/stations/hang").ok();
    let tags: Vec<_> = hang["pieces"]
        .as_array()
        .unwrap()
        .iter()
        .map(|p| p["tag"].as_str().unwrap().to_string())
        .collect();
    assert_eq!(
        tags,
        ["EK1-2", "EK1-3"],
        "the overdue one before the one that is done"
    );
    let done = &hang["pieces"][1]["hang"];
    // 1455 g with 40 g of net, to lose 35 %: (1455 - 40) * 0.65 + 40
    assert!((done["target_gross_g"].as_f64().unwrap() - 959.75).abs() < 1e-9);
    assert_eq!(done["reached"], true);
    assert_eq!(program.get("/stations/moon").status, 404);
}

#[test]
fn a_sheet_for_pieces_of_two_products_is_refused() {
    let program = Program::demo();
    let waiting = program.get("/stations/cure").ok();
    let dose: Vec<_> = waiting["pieces"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|p| p["stage"] == "dose")
        .map(|p| p["id"].clone())
        .collect();
    assert_eq!(dose.len(), 3);
    let both = program.post("/sheet", &json!({"pieces": dose}));
    assert_eq!(
        both.field("pieces"),
        "Pieces of different products have different doses. Start them one product at a time, or say by whose dose one mix goes over all of them."
    );
    let one = program
        .post("/sheet", &json!({"pieces": dose[1..], "mixed": true}))
        .ok();
    let shares: f64 = one["pieces"]
        .as_array()
        .unwrap()
        .iter()
        .map(|p| p["portion_g"].as_f64().unwrap())
        .sum();
    assert!((shares - one["total_g"].as_f64().unwrap()).abs() < 0.3);
}

#[test]
fn what_a_cut_would_suit_is_known_before_it_is_cut() {
    let program = Program::start();
    let best = program
        .get("/suits?species=pig&cut=belly&thickness_mm=40")
        .ok();
    assert_eq!(
        (&best[0]["build"], &best[0]["score"]),
        (&json!("belly-slab"), &json!(2))
    );
    assert_eq!(
        program.get("/suits?species=pig&cut=wing").field("cut"),
        "Choose one of the cuts of pig."
    );
    assert_eq!(
        program.get("/suits?species=yak&cut=wing").field("species"),
        "Choose a species from the list."
    );
}

#[test]
fn foreign_names_and_pages_are_turned_away() {
    let program = Program::start();
    let host = program.address.trim_start_matches("http://").to_string();
    let body = json!({"quantity": "mass", "text": "2 kg"}).to_string();
    let read = |headers: &[(&str, &str)]| {
        program
            .ask("POST", "/api/v1/units/read", headers, Some(&body))
            .status
    };
    let own = program.address.clone();
    #[rustfmt::skip]
    let cases: &[(&[(&str, &str)], u16)] = &[
        (&[], 200),
        (&[("Origin", &own)], 200),
        (&[("Origin", "http://evil.example")], 403),
        (&[("Origin", "null")], 403),
        (&[("Host", "evil.example")], 403),
        (&[("Sec-Fetch-Site", "cross-site")], 403),
    ];
    for (headers, status) in cases {
        assert_eq!(read(headers), *status, "{headers:?} on {host}");
    }
    let page = program.ask("GET", "/", &[], None);
    let policy = page.headers["content-security-policy"].to_str().unwrap();
    assert!(
        policy.starts_with("default-src 'none'; script-src 'self';"),
        "{policy}"
    );
    assert!(!policy.contains("http:") && !policy.contains("https:") && !policy.contains('*'));
}

#[test]
fn settings_are_checked_and_kept() {
    let program = Program::start();
    let mut home = program.get("/settings").ok()["household"].clone();
    home["cut_off_hour"] = json!(25);
    home["time_zone"] = json!("Moon/Base");
    let wrong = program.ask("PUT", "/api/v1/settings", &[], Some(&home.to_string()));
    assert_eq!(
        wrong.field("cut_off_hour"),
        "Give a full hour from 0 to 23, such as 12 for noon."
    );
    assert!(
        wrong
            .field("time_zone")
            .starts_with("Give a time zone by its name")
    );
    home["cut_off_hour"] = json!(18);
    home["time_zone"] = json!("UTC");
    home["units"]["mass"] = json!("imperial");
    assert_eq!(
        program
            .ask("PUT", "/api/v1/settings", &[], Some(&home.to_string()))
            .status,
        200
    );
    let program = program.killed();
    assert_eq!(program.get("/settings").ok()["household"], home);
    let read = program
        .post("/units/read", &json!({"quantity": "mass", "text": "4.5"}))
        .ok();
    assert_eq!(read["shown"], "4 lb 8 oz");
}

#[test]
fn the_demo_shows_every_stage_one_over_its_limit_one_overdue_one_corrected() {
    let program = Program::demo();
    let today = program.get("/today").ok();
    let overdue = program.get("/tasks/overdue").ok();
    assert!(overdue["in_all"].as_u64().unwrap() >= 1);
    for station in ["breakdown", "assign", "cure", "smoke", "hang", "pack"] {
        assert!(
            today["counts"][station].as_u64().unwrap() >= 1,
            "{station}: {}",
            today["counts"]
        );
    }
    let cure = program.get("/stations/cure").ok();
    let over = cure["pieces"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|p| p["overridden"] == true)
        .count();
    assert!(over >= 1);
    let hog = program.get("/lots/3").ok();
    let live = |e: &&Value| e["live"] == true && e["replaces"].is_i64();
    assert!(
        hog["timeline"]
            .as_array()
            .unwrap()
            .iter()
            .filter(live)
            .count()
            >= 1
    );
    for lot in 1..=4 {
        let tally = program.get(&format!("/tally/{lot}")).ok();
        let sum = |keep: &dyn Fn(&Value) -> bool| -> i64 {
            let links = tally["flow"].as_array().unwrap();
            links
                .iter()
                .filter(|l| keep(l))
                .map(|l| l["mass_mg"].as_i64().unwrap())
                .sum()
        };
        let kind = |end: &str, l: &Value| l[end]["kind"].as_str().unwrap().to_string();
        let sources = sum(&|l| ["received", "material"].contains(&kind("from", l).as_str()));
        let ends = sum(&|l| kind("to", l) != "product");
        assert_eq!(sources, ends, "lot {lot}: what comes in goes somewhere");
    }
}

#[test]
fn the_committed_description_is_the_programs_own() {
    let path = format!("{}/../web/src/api/openapi.json", env!("CARGO_MANIFEST_DIR"));
    let committed = std::fs::read_to_string(path).unwrap();
    let now = manifest_server::openapi().to_pretty_json().unwrap();
    assert!(
        committed.trim() == now.trim(),
        "run `cargo xtask types` to write web/src/api/openapi.json anew"
    );
    let served = Program::start().get("/openapi.json").ok();
    assert_eq!(served, serde_json::from_str::<Value>(&now).unwrap());
}

#[test]
fn every_member_of_an_enumeration_has_its_words() {
    let path = format!("{}/../web/src/api/words.json", env!("CARGO_MANIFEST_DIR"));
    let committed = std::fs::read_to_string(path).unwrap();
    let now = manifest_server::words().unwrap();
    assert!(
        committed.trim() == now.trim(),
        "run `cargo xtask types` to write web/src/api/words.json anew"
    );
    let program = Program::start();
    let served = program.get("/words").ok();
    assert_eq!(served, serde_json::from_str::<Value>(&now).unwrap());
    let document = serde_json::to_value(manifest_server::openapi()).unwrap();
    // What only some of them do: a tap that writes it down, a button that goes to it.
    let of_some = ["done", "button"];
    let tables = served.as_object().unwrap();
    assert!(tables.len() > 25, "{}", tables.len());
    for (name, forms) in tables {
        let members = document["components"]["schemas"][name]["enum"].as_array();
        let members = members.unwrap_or_else(|| panic!("{name} is no enumeration of the API"));
        let members: Vec<&str> = members.iter().map(|m| m.as_str().unwrap()).collect();
        for (form, words) in forms.as_object().unwrap() {
            let words = words.as_object().unwrap();
            for said in words.keys() {
                assert!(
                    members.contains(&said.as_str()),
                    "{name}.{form} has words for {said}, which it has not"
                );
            }
            let silent: Vec<_> = members
                .iter()
                .filter(|m| !words.contains_key(**m))
                .collect();
            let whole = silent.is_empty() || of_some.contains(&form.as_str());
            assert!(
                whole,
                "core/data/words.toml: [{name}.{form}] says nothing of {silent:?}"
            );
        }
    }
}
