//! Pieces that share a vessel, over HTTP with the clock moved: buckets that are topped up, bags that share a dose, a bowl
//! poured by eye, brines that somebody joins late.

mod support;

use serde_json::{Value, json};
use support::cures::{came, card, codes, later, near, on, piece};

#[test]
fn two_hams_in_a_bucket_are_injected_topped_up_and_come_out_by_their_own_thickness() {
    let program = on("2026-11-02T09:00:00Z");
    let lot = came(&program, "pig", "leg", 9_000.0, false);
    let thick = piece(&program, lot, "leg", (4_800.0, 98.0), "ham-bucket");
    let slim = piece(&program, lot, "leg", (3_900.0, 70.0), "ham-bucket");
    let own = json!({"water_g": "5 l"});
    let ask = json!({"pieces": [thick, slim], "own": own, "vessels": [{"pieces": [thick, slim], "name": "blue bucket"}]});
    let sheet = program.post("/sheet", &ask).ok();
    assert_eq!(sheet["vessels"].as_array().unwrap().len(), 1);
    near(
        &sheet["vessels"][0]["meat_g"],
        8_700.0,
        1e-9,
        "all the meat",
    );
    assert!(codes(&sheet["findings"]).contains(&"uneven_thickness".to_string()));
    let mut dosed = ask.clone();
    dosed["act"] = json!("dosed");
    // Warm brine is asked about, and kept it is marked.
    dosed["brine_temperature"] = json!("9 C");
    let warm = program.post("/sheet", &{
        let mut ask = ask.clone();
        ask["brine_temperature"] = json!("9 C");
        ask
    });
    assert!(codes(&warm.ok()["findings"]).contains(&"brine_not_cold".to_string()));
    dosed["brine_temperature"] = json!("3 C");
    dosed["brine_clear"] = json!(true);
    program.did(json!([dosed])).ok();
    let fresh = card(&program, thick)["cure"].clone();
    assert_eq!(fresh["vessel"]["name"], "blue bucket");
    assert_eq!(
        fresh["vessel"]["with"],
        json!([card(&program, slim)["tag"]])
    );
    near(&fresh["nitrite_ppm"], 150.0, 1.0, "as the product says");
    // A tenth of it pumped along the bone: the scale says what went in.
    program
        .kept(json!([{"act": "injected", "piece": thick, "after": "5280 g"}]))
        .ok();
    let view = program.get(&format!("/pieces/{thick}")).ok();
    near(&view["brine"]["pump_fraction"], 0.1, 1e-9, "the real pump");
    assert!(card(&program, thick)["cure"]["days"].as_u64() < fresh["days"].as_u64());
    // Next day it is not covered any more: a litre and a half, counted as poured, thins it for both.
    let program = later(program, "2026-11-03T08:00:00Z");
    let vessel = fresh["vessel"]["id"].as_i64().unwrap();
    let before = card(&program, slim)["cure"]["nitrite_ppm"]
        .as_f64()
        .unwrap();
    program
        .did(json!([{"act": "topped_up", "vessel": vessel, "reading": "1.5 l"}]))
        .ok();
    let brine = 8_700.0 + fresh["vessel"]["brine_g"].as_f64().unwrap();
    for ham in [thick, slim] {
        near(
            &card(&program, ham)["cure"]["nitrite_ppm"],
            before * brine / (brine + 1_500.0),
            0.05,
            "thinner",
        );
    }
    // One task turns the bucket.
    let program = later(program, "2026-11-04T08:00:00Z");
    let today = program.get("/today").ok();
    let turns: Vec<_> = today["trips"]
        .as_array()
        .unwrap()
        .iter()
        .flat_map(|t| t["rows"].as_array().unwrap())
        .filter(|r| r["kind"] == "turn")
        .flat_map(|r| r["chips"].as_array().unwrap())
        .collect();
    assert_eq!(turns.len(), 1, "{turns:?}");
    assert_eq!(turns[0]["with"].as_array().unwrap().len(), 1);
    let floats = program.did(json!([{"act": "turned", "vessel": vessel, "nothing_floats": false}]));
    assert_eq!(floats.status, 409);
    program
        .did(json!([{"act": "turned", "vessel": vessel, "nothing_floats": true}]))
        .ok();
    assert!(
        card(&program, slim)["cure"]["turned"].is_string()
            && card(&program, thick)["cure"]["turned"].is_string()
    );
    // The slim one is taken out; what the thick one has does not change, and the brine serves nobody else.
    let at_rest = card(&program, thick)["cure"]["nitrite_ppm"].clone();
    program
        .kept(json!([{"act": "out_of_cure", "piece": slim, "reading": "4020 g"}]))
        .ok();
    near(
        &card(&program, thick)["cure"]["nitrite_ppm"],
        at_rest.as_f64().unwrap(),
        0.01,
        "it stands",
    );
    program
        .kept(json!([{"act": "out_of_cure", "vessel": vessel, "reading": "5200 g"}]))
        .ok();
    let third = piece(
        &program,
        came(&program, "pig", "butt", 2_500.0, false),
        "butt",
        (2_400.0, 75.0),
        "ham-bucket",
    );
    let used = program.did(json!([{"act": "dosed", "pieces": [third], "into": vessel}]));
    assert!(used.field("into").contains("used brine never serves again"));
}

#[test]
fn what_is_laid_into_a_running_brine_shares_it_and_its_animals() {
    let program = on("2026-11-02T09:00:00Z");
    let pork = came(&program, "pig", "loin", 3_000.0, false);
    let deer = came(&program, "deer", "backstrap", 1_500.0, true);
    let loin = piece(&program, pork, "loin", (2_500.0, 60.0), "back-smoked");
    let strap = piece(&program, deer, "backstrap", (1_200.0, 55.0), "backstrap");
    program
        .kept(json!([{"act": "dosed", "pieces": [loin], "own": {"water_g": "3 l"}}]))
        .ok();
    let alone = card(&program, loin)["cure"].clone();
    let vessel = alone["vessel"]["id"].clone();
    let brine = alone["vessel"]["brine_g"].as_f64().unwrap();
    let program = later(program, "2026-11-03T09:00:00Z");
    program.kept(json!([{"act": "dosed", "pieces": [strap], "into": vessel, "reason": "one bucket for both"}])).ok();
    let want = alone["nitrite_ppm"].as_f64().unwrap() * (2_500.0 + brine) / (3_700.0 + brine);
    for id in [loin, strap] {
        near(
            &card(&program, id)["cure"]["nitrite_ppm"],
            want,
            0.05,
            "shared",
        );
    }
    // Brine and juice of one are in the other: the stricter target is the target of both.
    let verdict = program.get(&format!("/pieces/{loin}")).ok()["verdict"].clone();
    near(&verdict["target_c"], 71.1, 1e-6, "of the game in its brine");
    // Positive, it takes the pork with it.
    program.kept(json!([{"act": "hold_answered", "lot": deer, "kind": "wasting_test", "answer": "positive"}])).ok();
    assert_eq!(
        program.get(&format!("/pieces/{loin}")).ok()["verdict"]["word"],
        "do_not_eat"
    );
    // Undone, the loin stands as it stood.
    let history = program.get(&format!("/pieces/{strap}")).ok();
    let entry = history["timeline"]
        .as_array()
        .unwrap()
        .iter()
        .find(|e| e["kind"] == "dosed")
        .unwrap()["entry"]
        .clone();
    program
        .post(&format!("/entries/{entry}/undo"), &json!({}))
        .ok();
    assert_eq!(
        program.get(&format!("/pieces/{loin}")).ok()["verdict"]["word"],
        "cook_before_eating"
    );
    near(
        &card(&program, loin)["cure"]["nitrite_ppm"],
        alone["nitrite_ppm"].as_f64().unwrap(),
        1e-9,
        "alone again",
    );
}

#[test]
fn six_breasts_in_one_bag_are_dosed_by_what_stuck() {
    let program = on("2026-11-02T09:00:00Z");
    let lot = came(&program, "goose", "breast", 2_400.0, true);
    let six: Vec<i64> = (0..6)
        .map(|i| {
            piece(
                &program,
                lot,
                "breast",
                (330.0 + 10.0 * f64::from(i), 28.0),
                "breast-peppered",
            )
        })
        .collect();
    let ask = json!({"pieces": six, "way": "preblend", "own": {"jar": {"before": "512 g", "after": "440 g"}}, "vessels": [{"pieces": six}]});
    let sheet = program.post("/sheet", &ask).ok();
    let meat: f64 = (0..6).map(|i| 330.0 + 10.0 * f64::from(i)).sum();
    for part in sheet["pieces"].as_array().unwrap() {
        near(
            &part["nitrite"]["nominal"],
            72.0 * 0.005 / meat * 1e6,
            1e-3,
            "all alike",
        );
    }
    assert_eq!(sheet["soak_min"], json!([30, 120]));
    let mut dosed = ask.clone();
    dosed["act"] = json!("dosed");
    dosed["reason"] = json!("cooked at once after the smoke");
    program.kept(json!([dosed])).ok();
    // Out of the bag they are weighed together, and each gets its share.
    let program = later(program, "2026-11-08T09:00:00Z");
    program
        .kept(json!([{"act": "out_of_cure", "pieces": six, "reading": "2100 g"}]))
        .ok();
    let sum: f64 = six
        .iter()
        .map(|id| card(&program, *id)["mass_g"].as_f64().unwrap())
        .sum();
    near(&json!(sum), 2_100.0, 0.01, "nothing is lost");
    // A jar that grew heavier is a slip, at its field.
    let lot = came(&program, "goose", "breast", 400.0, true);
    let one = piece(&program, lot, "breast", (390.0, 28.0), "breast-peppered");
    let wrong = program.post("/sheet", &json!({"pieces": [one], "way": "preblend", "own": {"jar": {"before": "400 g", "after": "410 g"}}}));
    assert!(wrong.field("own.jar.after").contains("no less than before"));
}

#[test]
fn one_bowl_poured_by_eye_over_three_bags_says_what_each_got() {
    let program = on("2026-11-02T09:00:00Z");
    let lot = came(&program, "pig", "butt", 3_200.0, false);
    let loins = came(&program, "pig", "loin", 2_200.0, false);
    let jowls = came(&program, "pig", "jowl", 1_200.0, false);
    let butt = piece(&program, lot, "butt", (3_000.0, 70.0), "shoulder-slab");
    let loin = piece(&program, loins, "loin", (2_000.0, 60.0), "back-smoked");
    let jowl = piece(&program, jowls, "jowl", (1_000.0, 35.0), "jowl-smoked");
    let bags = json!([{"pieces": [butt], "parts": 1}, {"pieces": [loin], "parts": 1}, {"pieces": [jowl], "parts": "1"}]);
    let two = json!({"pieces": [butt, loin, jowl], "mixed": true});
    assert_eq!(
        program.post("/sheet", &two).status,
        422,
        "by whose dose is to be said"
    );
    let ask = json!({"pieces": [butt, loin, jowl], "mixed": true, "recipe": "shoulder-slab", "vessels": bags});
    let sheet = program.post("/sheet", &ask).ok();
    let mix = sheet["total_g"].as_f64().unwrap();
    for (i, meat) in [3_000.0, 2_000.0, 1_000.0].into_iter().enumerate() {
        near(
            &sheet["vessels"][i]["portion_g"],
            mix / 3.0,
            1.0,
            "equal pours",
        );
        // 2.5 g/kg over 6 kg, a third of it on each
        near(
            &sheet["vessels"][i]["nitrite"]["nominal"],
            15.0 / 3.0 * 62_500.0 / meat,
            0.5,
            "what it really got",
        );
    }
    assert!(codes(&sheet["findings"]).contains(&"poured_by_eye".to_string()));
    // 312 ppm in the jowl is over what is fried may have: it wants a reason, poured by weight it does not.
    assert_eq!(
        (sheet["needs_reason"].as_bool(), sheet["refused"].as_bool()),
        (Some(true), Some(false))
    );
    let by_weight = json!({"pieces": [butt, loin, jowl], "mixed": true, "recipe": "shoulder-slab", "vessels": [{"pieces": [butt]}, {"pieces": [loin]}, {"pieces": [jowl]}]});
    assert_eq!(
        program.post("/sheet", &by_weight).ok()["needs_reason"],
        false
    );
    let mut dosed = ask.clone();
    dosed["act"] = json!("dosed");
    assert_eq!(program.did(json!([dosed.clone()])).status, 422);
    dosed["reason"] = json!("poured before anybody weighed it");
    program.kept(json!([dosed])).ok();
    for (id, meat) in [(butt, 3_000.0), (loin, 2_000.0), (jowl, 1_000.0)] {
        near(
            &card(&program, id)["cure"]["nitrite_ppm"],
            15.0 / 3.0 * 62_500.0 / meat,
            0.5,
            "kept as it was",
        );
    }
    // Each has the days of its own thickness.
    let days: Vec<_> = [butt, loin, jowl]
        .map(|id| card(&program, id)["cure"]["days"].as_u64().unwrap())
        .into();
    assert!(days[0] > days[1] && days[1] > days[2], "{days:?}");
    assert_eq!(card(&program, loin)["method"], "measured_dry");
}

#[test]
fn a_running_brine_is_watched_when_something_is_poured_cut_laid_in_or_put_right() {
    let program = on("2026-11-02T09:00:00Z");
    let lot = came(&program, "pig", "loin", 9_000.0, false);
    let loin = |g: f64| piece(&program, lot, "loin", (g, 58.0), "back-smoked");
    let (first, second, late) = (loin(2_500.0), loin(1_500.0), loin(1_200.0));
    let dosed = json!({"act": "dosed", "pieces": [first, second], "own": {"water_g": "3 l"}, "brine_temperature": "11 C", "brine_clear": false});
    let warm = program.did(json!([dosed.clone()]));
    assert_eq!(warm.status, 409);
    assert_eq!(
        codes(&warm.body["findings"]),
        ["brine_not_cold", "brine_not_clear"]
    );
    program.kept(json!([dosed])).ok();
    let marked = program.get(&format!("/pieces/{first}")).ok()["findings"].clone();
    assert!(
        codes(&marked).contains(&"brine_not_cold".to_string()),
        "{marked}"
    );
    let ppm = |id: i64| card(&program, id)["cure"]["nitrite_ppm"].as_f64().unwrap();
    let start = ppm(first);
    let vessel = card(&program, first)["cure"]["vessel"]["id"].clone();
    let top = |more: Value| {
        let mut act = json!({"act": "topped_up", "vessel": vessel});
        act.as_object_mut()
            .unwrap()
            .extend(more.as_object().unwrap().clone());
        program.kept(json!([act]))
    };
    // So much cure poisons; a little too much wants a reason; another cure is another mistake.
    let poison = top(json!({"lines": [{"name": "cure #1", "reading": "60 g"}]}));
    assert_eq!(poison.status, 422);
    assert!(codes(&poison.body["findings"]).contains(&"nitrite_refused".to_string()));
    assert_eq!(
        top(json!({"lines": [{"name": "cure #1", "reading": "12 g"}]})).status,
        422
    );
    for other in ["cure #2", "curing salt II", "pink salt", "powder #2"] {
        let two = top(json!({"lines": [{"name": other, "reading": "2 g"}]}));
        assert_eq!(two.status, 422, "{other}: {}", two.body);
        assert_eq!(two.body["findings"][0]["code"], "two_cures", "{other}");
    }
    assert!(top(json!({})).field("reading").contains("500 ml"));
    assert_eq!(ppm(first), start, "nothing of it was written");
    // Cut in its cure, its parts lie there in its place.
    let cut = json!([{"act": "cut", "piece": second, "way": "split", "parts": [{"reading": "800 g", "thickness": "58 mm"}, {"reading": "700 g", "thickness": "58 mm"}]}]);
    program.kept(cut).ok();
    let parts = program.get(&format!("/pieces/{second}")).ok()["parts"].clone();
    let parts: Vec<i64> = parts
        .as_array()
        .unwrap()
        .iter()
        .map(|p| p["id"].as_i64().unwrap())
        .collect();
    assert_eq!(
        card(&program, first)["cure"]["vessel"]["pieces"],
        json!(parts)
    );
    for id in [first, parts[0], parts[1]] {
        near(&json!(ppm(id)), start, 0.01, "as it was");
    }
    // Laid in in the same minute, it thins the brine for all of them.
    program.kept(json!([{"act": "dosed", "pieces": [late], "into": vessel, "reason": "the same bucket"}])).ok();
    let shared = ppm(late);
    assert!(shared < start - 10.0);
    for id in [first, parts[0], parts[1]] {
        near(&json!(ppm(id)), shared, 0.01, "shared by all");
    }
    // Its entry sent back as it is changes nothing.
    let history = program.get(&format!("/pieces/{late}")).ok()["timeline"].clone();
    let entry = |kind: &str, of: &Value| {
        of.as_array()
            .unwrap()
            .iter()
            .rfind(|e| e["kind"] == kind)
            .unwrap()["entry"]
            .clone()
    };
    let laid = entry("dosed", &history);
    let again = program.get(&format!("/entries/{laid}/ask")).ok()["act"].clone();
    program
        .post(
            &format!("/entries/{laid}/correction"),
            &json!({ "act": again }),
        )
        .ok();
    near(&json!(ppm(late)), shared, 1e-9, "nothing changed");
    // The first was half a kilogram lighter: more for everybody.
    let history = program.get(&format!("/pieces/{first}")).ok()["timeline"].clone();
    let weighed = entry("piece_weighed", &history);
    let mut right = program.get(&format!("/entries/{weighed}/ask")).ok()["act"].clone();
    right["reading"] = json!("2000 g");
    program
        .post(
            &format!("/entries/{weighed}/correction"),
            &json!({"act": right, "keep_as_typed": true}),
        )
        .ok();
    assert!(ppm(late) > shared + 5.0);
    near(&json!(ppm(first)), ppm(late), 1e-6, "for all alike");
    // A mix is not laid into a brine.
    let block = program.kept(json!([{"act": "ground", "lot": lot, "reading": "1 kg", "thickness": "60 mm", "fat_fraction": 0.25, "sources": [{"from": "added", "name": "pork shoulder", "species": "pig", "reading": "1 kg"}]}])).ok();
    let block = block["pieces"][0].as_i64().unwrap();
    program.kept(json!([{"act": "assigned", "piece": block, "build": "salami-knife", "reason": "we want a salami"}])).ok();
    let mixed = program.kept(json!([{"act": "dosed", "pieces": [block], "into": vessel}]));
    assert!(mixed.field("into").contains("is a mix"));
}
