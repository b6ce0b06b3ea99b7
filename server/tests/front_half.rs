//! Purchases, holds, knife work and planning over HTTP.

mod support;

use serde_json::{Value, json};
use support::{Program, weigh_out};

fn received(species: &str, more: Value) -> Value {
    let mut act = json!({
        "act": "received", "name": species, "species": species, "origin": "raised",
        "known": "carcass", "reading": "40 kg",
    });
    act.as_object_mut()
        .unwrap()
        .extend(more.as_object().unwrap().clone());
    act
}

impl Program {
    fn lot(&self, species: &str, more: Value) -> i64 {
        self.did(json!([received(species, more)])).ok()["lots"][0]
            .as_i64()
            .unwrap()
    }

    fn put(&self, path: &str, body: &Value) -> support::Answer {
        self.ask(
            "PUT",
            &format!("/api/v1{path}"),
            &[],
            Some(&body.to_string()),
        )
    }
}

#[test]
fn prices_by_the_unit_and_shipping_are_added_up() {
    let program = Program::start();
    let case = json!({"known": "bought_cut", "portion": "case", "count": 6, "cut": "butt", "reading": "15 kg"});
    let with = |more: Value| {
        let mut act = case.clone();
        act.as_object_mut()
            .unwrap()
            .extend(more.as_object().unwrap().clone());
        act
    };
    #[rustfmt::skip]
    let cases = [
        ("in all",    with(json!({"cost": "48"})),                                            4_800),
        ("per kilo",  with(json!({"cost": "3.20", "price_per": "kilogram"})),                 4_800),
        ("per pound", with(json!({"cost": "1.50", "price_per": "pound"})),                    4_960), // 33.069 lb
        ("per piece", with(json!({"cost": "8,00", "price_per": "piece"})),                    4_800),
        ("shipped",   with(json!({"cost": "48", "shipping": "12.50"})),                       6_050),
    ];
    for (why, more, want) in cases {
        let lot = program.lot("pig", more);
        let view = program.get(&format!("/lots/{lot}")).ok();
        assert_eq!(view["card"]["cost_cents"], want, "{why}");
        assert_eq!(view["count"], 6);
    }
}

#[test]
fn a_purchase_of_several_shares_its_shipping_to_the_last_cent() {
    let program = Program::start();
    let mut hog = received("pig", json!({"cost": "120"}));
    let mut goat = received("goat", json!({"reading": "20 kg"}));
    for lot in [&mut hog, &mut goat] {
        lot.as_object_mut().unwrap().remove("act");
    }
    let written = program
        .did(json!([{"act": "purchased", "name": "autumn hog and a goat", "shipping": "10.00", "lots": [hog, goat]}]))
        .ok();
    assert_eq!(written["lots"], json!([1, 2]));
    let cost = |lot: i64| {
        program.get(&format!("/lots/{lot}")).ok()["shipping_cents"]
            .as_i64()
            .unwrap()
    };
    // two thirds and one third of 1000 cents
    assert_eq!((cost(1), cost(2)), (667, 333));
    assert_eq!(
        program.get("/lots/1").ok()["card"]["together"],
        "autumn hog and a goat"
    );
    let wrong = program.did(json!([{"act": "purchased", "name": "x", "lots": [
        {"name": "a", "species": "pig", "origin": "bought", "known": "carcass", "reading": "lots"}]}]));
    assert_eq!(wrong.status, 422);
    assert!(
        wrong
            .field("lots[0].reading")
            .starts_with("“lots” is not a unit of weight.")
    );
}

#[test]
fn every_refused_act_of_the_front_half_names_its_field_in_words() {
    let program = Program::start();
    let hog = program.half_hog();
    let goat = program.lot("goat", json!({}));
    let belly = program.piece(hog, "belly", "5.24 kg", "42 mm");
    let other = program.piece(goat, "backstrap", "900 g", "41 mm");
    #[rustfmt::skip]
    let cases = [
        (received("pig", json!({"portion": "case", "known": "bought_cut", "cut": "butt"})), "count", "Say how many cuts the case holds"),
        (received("pig", json!({"portion": "case"})),                                       "portion", "Say which share of the animal it is"),
        (received("pig", json!({"cost": "3", "price_per": "piece"})),                       "count", "Say how many pieces that price is for."),
        (received("pig", json!({"thaw_by": "2026-12-01"})),                                 "frozen_on", "Say when it was frozen"),
        (received("pig", json!({"frozen_on": "2026-11-01", "thaw_by": "2026-10-01"})),      "thaw_by", "The day to thaw it by lies before"),
        (received("pig", json!({"fat_cover": "12 kg"})),                                    "fat_cover", "“kg” is not a unit of thickness."),
        (json!({"act": "freezer_read", "lot": hog, "inside": "ice"}),                      "inside", "“ice” cannot be read as a number."),
        (json!({"act": "hold_answered", "lot": hog, "kind": "wasting_test", "answer": "clear"}), "kind", "HG1 has no such hold."),
        (json!({"act": "cutting_chosen", "lot": hog, "choice": "brisket", "option": "whole"}), "choice", "Nothing of that name is to be settled for pig."),
        (json!({"act": "worked", "piece": belly, "work": "bone_out", "off": [{"kind": "bone", "reading": "1 kg"}]}), "work", "HG1-1 has no bone in it."),
        (json!({"act": "worked", "piece": belly, "work": "trim", "off": [{"kind": "fat", "reading": "six"}]}), "off[0].reading", "“six” is not a unit of weight."),
        (json!({"act": "joined", "pieces": [belly, other], "way": "pair"}),                 "pieces", "Pieces of different animals are kept apart."),
        (json!({"act": "joined", "pieces": [], "way": "pair"}),                             "pieces", "Choose the pieces to join."),
        (json!({"act": "ground", "lot": hog, "reading": "1 kg", "sources": [{"from": "piece", "piece": other}]}), "sources[0]", "That piece is of another animal."),
        (json!({"act": "ground", "lot": hog, "reading": "1 kg", "sources": [{"from": "kept", "kind": "fat", "reading": "1 kg"}]}), "sources[0].reading", "1 kg is more than the 0 g of fat that was kept."),
    ];
    for (act, field, words) in cases {
        let answer = program.did(json!([act]));
        assert_eq!(answer.status, 422, "{act}: {}", answer.body);
        assert!(
            answer.field(field).starts_with(words),
            "{act}: {}",
            answer.body
        );
    }
}

#[test]
fn a_freezing_is_counted_down_and_ends_with_a_last_reading() {
    let program = Program::start();
    let hog = program.half_hog();
    let read = |at: &str, inside: &str| {
        let body = json!({"acts": [{"act": "freezer_read", "lot": hog, "inside": inside, "thickness": "12 cm"}], "happened_at": at});
        program.post("/entries", &body)
    };
    let hold = || program.get(&format!("/lots/{hog}")).ok()["holds"][0].clone();
    assert_eq!(hold()["status"], "open");
    // The animal came at the pinned moment: nothing can have been read before it.
    assert_eq!(read("2026-11-01T08:00", "-24 C").status, 422);
    read("2026-11-21T09:30", "-24 C").ok();
    let running = hold();
    assert_eq!(
        (
            running["status"].as_str(),
            running["freezing"]["days"].as_i64()
        ),
        (Some("waiting"), Some(10))
    );
    assert_eq!(running["until"], "2026-12-01T09:30:00Z");
    let today = program.get("/today").ok();
    assert_eq!(
        today["waits"][0]["hold"]["name"],
        "frozen or tested against trichinella"
    );
    let belly = program.piece(hog, "loin", "3 kg", "60 mm");
    let suits = program.get(&format!("/pieces/{belly}")).ok()["suits"].clone();
    let dried = suits
        .as_array()
        .unwrap()
        .iter()
        .find(|s| s["build"] == "muscle-cased")
        .unwrap();
    assert_eq!(
        (dried["score"].as_i64(), dried["held"].as_bool()),
        (Some(2), Some(true))
    );
}

#[test]
fn own_animals_take_over_from_the_catalogue_with_the_third() {
    let program = Program::start();
    for (i, belly) in ["6 kg", "6.4 kg", "6.8 kg"].iter().enumerate() {
        let lot = program.lot("pig", json!({}));
        assert_eq!(lot, i as i64 + 1);
        program.piece(lot, "belly", belly, "45 mm");
        let closed =
            json!({"acts": [{"act": "breakdown_closed", "lot": lot}], "keep_as_typed": true});
        program.post("/entries", &closed).ok();
    }
    let lot = program.lot("pig", json!({}));
    let view = program.get(&format!("/lots/{lot}")).ok();
    assert_eq!(view["own_animals"], 3);
    let belly = view["progress"]
        .as_array()
        .unwrap()
        .iter()
        .find(|p| p["cut"] == "belly")
        .unwrap()
        .clone();
    assert_eq!(belly["expected"]["by"], "own");
    // 16 % plus and minus 1 % of 40 kg, beside the catalogue's 15.4 to 19.6 %
    let near = |value: &Value, want: f64| {
        assert!((value.as_f64().unwrap() - want).abs() < 1e-6, "{value}")
    };
    near(&belly["expected"]["mass_g"]["low"], 6_000.0);
    near(&belly["expected"]["mass_g"]["high"], 6_800.0);
    near(&belly["expected"]["catalogue_g"]["low"], 6_160.0);
}

#[test]
fn knife_work_and_grinding_across_animals_balance() {
    let program = Program::start();
    let hog = program.half_hog();
    let elk = program.lot("elk", json!({}));
    program
        .did(json!([{"act": "byproduct_weighed", "lot": hog, "kind": "fat", "reading": "2 kg"}]))
        .ok();
    program
        .did(json!([{"act": "byproduct_weighed", "lot": elk, "kind": "trim", "reading": "3 kg"}]))
        .ok();
    let written = program
        .did(json!([{"act": "ground", "lot": elk, "reading": "3.9 kg", "thickness": "60 mm", "fat_fraction": 0.27, "sources": [
            {"from": "kept", "kind": "trim", "reading": "2.9 kg"},
            {"from": "kept", "lot": hog, "kind": "fat", "reading": "1.05 kg"},
        ]}]))
        .ok();
    let block = written["pieces"][0].as_i64().unwrap();
    assert_eq!(written["lots"], json!([hog, elk]));
    let view = program.get(&format!("/pieces/{block}")).ok();
    assert_eq!(
        (
            view["card"]["cut_name"].as_str(),
            view["card"]["mass_g"].as_f64()
        ),
        (Some("ground block"), Some(3_900.0))
    );
    let made: Vec<_> = view["suits"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|s| s["score"] == 2)
        .map(|s| s["build"].clone())
        .collect();
    assert!(made.contains(&json!("formed-loaf")), "{made:?}");
    let elk_view = program.get(&format!("/lots/{elk}")).ok();
    assert_eq!(
        elk_view["losses"],
        json!([{"kind": "machine", "mass_g": 50.0}])
    );
    let hog_view = program.get(&format!("/lots/{hog}")).ok();
    assert_eq!(
        hog_view["byproducts"][0],
        json!({"kind": "fat", "mass_g": 950.0, "used_g": 0.0})
    );
    // Both halves of the write are taken back together.
    program
        .post("/undo", &json!({"entries": written["entries"]}))
        .ok();
    let back = program.get(&format!("/lots/{hog}")).ok();
    assert_eq!(back["byproducts"][0]["mass_g"], 2_000.0);
}

#[test]
fn an_undo_takes_what_depends_on_it_along_when_asked() {
    let program = Program::start();
    let lot = program.half_hog();
    let belly = program
        .did(json!([weigh_out(lot, "belly", "5 kg", "42 mm")]))
        .ok();
    let (entry, piece) = (belly["entries"][0].clone(), belly["pieces"][0].clone());
    program
        .did(json!([{"act": "assigned", "piece": piece, "build": "belly-slab"}]))
        .ok();
    program
        .did(json!([{"act": "turned", "piece": piece}]))
        .status
        .to_string();
    program
        .did(json!([{"act": "dosed", "pieces": [piece], "own": {"cure_g_per_kg": 2.5}}]))
        .ok();
    let alone = program.post("/undo", &json!({"entries": [entry]}));
    assert_eq!(
        (alone.status, alone.body["type"].as_str()),
        (409, Some("urn:build-manifest:in-the-way"))
    );
    let all = program
        .post("/undo", &json!({"entries": [entry], "with_later": true}))
        .ok();
    assert_eq!(all["entries"].as_array().unwrap().len(), 3);
    assert_eq!(
        program.get(&format!("/lots/{lot}")).ok()["card"]["left_g"],
        38_600.0
    );
}

/// A half hog with two bellies and a loin, and two wishes.
fn table(program: &Program) {
    let lot = program.half_hog();
    program.piece(lot, "belly", "5 kg", "42 mm");
    program.piece(lot, "belly", "2.4 kg", "40 mm");
    program.piece(lot, "loin", "4 kg", "66 mm");
    let closed = json!({"acts": [{"act": "breakdown_closed", "lot": lot}], "keep_as_typed": true});
    program.post("/entries", &closed).ok();
    let wishes = json!({"version": 0, "wishes": [
        {"build": "belly-slab", "amount": {"as": "mass", "amount": "2 kg"}},
        {"build": "back-smoked", "amount": {"as": "pieces", "n": 1}},
    ]});
    program.put("/wishes", &wishes).ok();
}

#[test]
fn wishes_are_suggested_for_locked_kept_and_carried_out() {
    let program = Program::start();
    table(&program);
    let suggest = || program.post("/plan/suggest", &json!({})).ok();
    let becomes = |found: &Value, key: &str| {
        let all = found["choices"].as_array().unwrap();
        all.iter()
            .find(|c| c["key"] == key)
            .map(|c| c["build"].as_str().unwrap().to_string())
    };
    let found = suggest();
    assert_eq!(becomes(&found, "piece:2").as_deref(), Some("belly-slab"));
    assert_eq!(becomes(&found, "piece:3").as_deref(), Some("back-smoked"));
    assert_eq!(found["free"], json!(["piece:1"]));
    assert_eq!(found["proved"], true);

    let version = program.get("/plan").ok()["plans_version"].clone();
    let lock = json!({"version": version, "key": "piece:1", "build": "belly-slab"});
    program.post("/plan/lock", &lock).ok();
    let again = suggest();
    assert_eq!(becomes(&again, "piece:1").as_deref(), Some("belly-slab"));
    assert_eq!(becomes(&again, "piece:2"), None);

    // A second device with the old version is refused, an impossible lock says why.
    assert_eq!(program.post("/plan/lock", &lock).status, 409);
    let version = program.get("/plan").ok()["plans_version"].clone();
    let wrong = program.post(
        "/plan/lock",
        &json!({"version": version, "key": "piece:3", "build": "belly-slab"}),
    );
    assert!(
        wrong
            .field("build")
            .starts_with("HG1-3 cannot become that now.")
    );

    let keep =
        json!({"version": version, "plan": {"name": "A", "choices": {"piece:2": "belly-slab"}}});
    program.post("/plan/keep", &keep).ok();
    let plan = program.get("/plan").ok();
    assert_eq!(plan["kept"][0]["plan"]["name"], "A");
    // 2.4 kg at 89 % in packs of 250 g
    assert_eq!(plan["kept"][0]["summary"]["packs"], 9);
    let drop = json!({"version": plan["plans_version"], "name": "A"});
    program.post("/plan/drop", &drop).ok();
    assert_eq!(program.get("/plan").ok()["kept"], json!([]));
}

#[test]
fn a_wrong_wish_names_its_field_and_an_outdated_list_is_refused() {
    let program = Program::start();
    table(&program);
    let version = program.get("/plan").ok()["wishes_version"].clone();
    #[rustfmt::skip]
    let cases = [
        (json!({"build": "jerky", "amount": {"as": "pieces", "n": 1}}), "build", "Choose a product from the list."),
        (json!({"build": "belly-slab", "amount": {"as": "mass", "amount": "plenty"}}), "amount", "“plenty” is not a unit of weight."),
        (json!({"build": "belly-slab", "amount": {"as": "rate", "a_week": "300 g", "until": "2026-01-01"}}), "until", "That day is past."),
        (json!({"build": "belly-slab", "amount": {"as": "all_hooks"}}), "amount", "Only a whole piece that hangs"),
        (json!({"build": "formed-loaf", "amount": {"as": "pieces", "n": 2}}), "amount", "Ground meat has no pieces"),
    ];
    for (wish, field, words) in cases {
        let answer = program.put("/wishes", &json!({"version": version, "wishes": [wish]}));
        assert_eq!(answer.status, 422, "{wish}: {}", answer.body);
        assert!(
            answer
                .field(&format!("wishes[0].{field}"))
                .starts_with(words),
            "{}",
            answer.body
        );
    }
    let late = program.put("/wishes", &json!({"version": 0, "wishes": []}));
    assert_eq!(
        (late.status, late.body["type"].as_str()),
        (409, Some("urn:build-manifest:outdated"))
    );
}

#[test]
fn the_shopping_list_takes_the_pantry_off_and_travels_as_text_and_table() {
    let program = Program::start();
    table(&program);
    let pantry = json!({"version": 0, "items": [
        {"name": "salt", "kind": "salt", "amount": "2 kg"},
        {"name": "cure #1", "kind": "cure", "amount": "4 g", "price": "26.00"},
        {"name": "hog casing", "kind": "casing", "amount": "12.5", "diameter": "32 mm"},
    ]});
    program.put("/pantry", &pantry).ok();
    program
        .did(json!([{"act": "assigned", "piece": 2, "build": "belly-slab"}]))
        .ok();
    let list = program.get("/shopping").ok();
    let cure = list["lines"]
        .as_array()
        .unwrap()
        .iter()
        .find(|l| l["name"] == "cure #1")
        .unwrap()
        .clone();
    // 2.4 kg at 2.5 g/kg is 6 g, less the 4 g that are there
    assert!((cure["buy"].as_f64().unwrap() - 2.0).abs() < 1e-9, "{cure}");
    assert_eq!(cure["cost_cents"], 5);
    let text = program.ask("GET", "/api/v1/shopping.txt", &[], None);
    assert_eq!(text.kind, "text/plain; charset=utf-8");
    let text = text.body.as_str().unwrap().to_string();
    assert!(
        text.contains("- cure #1: 2 g\n") && !text.contains("- salt"),
        "{text}"
    );
    let csv = program.ask("GET", "/api/v1/shopping.csv", &[], None);
    assert_eq!(csv.kind, "text/csv; charset=utf-8");
    assert!(
        csv.body
            .as_str()
            .unwrap()
            .starts_with("kind,name,unit,need,have,buy,cost,products\r\n")
    );
    assert_eq!(program.get("/shopping?plan=nothing").status, 404);

    // A dose takes its salt off what was counted.
    for line in ["salt", "cure #1"] {
        assert!(
            program.get("/pantry").ok()["items"]
                .as_array()
                .unwrap()
                .iter()
                .any(|s| s["item"]["name"] == line && s["used"] == 0.0)
        );
    }
    program.did(json!([{"act": "dosed", "pieces": [2]}])).ok();
    let salt = program.get("/pantry").ok()["items"][0].clone();
    assert!(
        (salt["used"].as_f64().unwrap() - 50.0).abs() < 2.0,
        "{salt}"
    );
    let wrong = program.put("/pantry", &json!({"version": 0, "items": []}));
    assert_eq!(wrong.status, 409);
    let version = program.get("/pantry").ok()["version"].clone();
    let wrong = program.put("/pantry", &json!({"version": version, "items": [{"name": "string", "kind": "string", "amount": "much"}]}));
    assert_eq!(wrong.field("items[0].amount"), "Type metres, such as 12.5.");
}

#[test]
fn a_cut_sheet_slabs_and_a_blend_are_answered() {
    let program = Program::demo();
    let sheet = program.get("/cutsheet/4").ok();
    assert_eq!(sheet["tag"], "GT1");
    let orders: Vec<_> = sheet["choices"]
        .as_array()
        .unwrap()
        .iter()
        .map(|c| c["order"].as_str().unwrap())
        .collect();
    assert!(
        orders.contains(&"Bone the backstraps out whole; do not saw through the spine."),
        "{orders:?}"
    );
    assert_eq!(program.get("/cutsheet/99").status, 404);

    let ask = json!({"species": "pig", "cut": "butt", "mass": "4.6 kg", "thickness": "115 mm", "build": "shoulder-slab"});
    let slabs = program.post("/slabs", &ask).ok();
    for plan in slabs["plans"].as_array().unwrap() {
        assert!(
            plan["each"]["thickness_mm"].as_f64().unwrap() <= 75.0,
            "{plan}"
        );
    }
    assert_eq!(slabs["estimated"], true);
    let missing = program.post(
        "/slabs",
        &json!({"species": "pig", "cut": "butt", "thickness": "115 mm"}),
    );
    assert_eq!(missing.field("mass"), "Type its weight, such as 4.6 kg.");

    let blend = program
        .post("/blend", &json!({"lean": [{"name": "elk", "fat_fraction": 0.04, "mass_g": 2000}], "fat": {"name": "back fat", "fat_fraction": 0.88}, "target_fat_fraction": 0.28}))
        .ok();
    // x = 0.24 / 0.84
    assert!(
        (blend["total_g"].as_f64().unwrap() - 2_800.0).abs() < 1e-6,
        "{blend}"
    );
    let calc = json!({"lean_fat_fraction": 0.04, "fat_fat_fraction": 0.5, "target_fat_fraction": 0.6, "lean_g": 1000});
    let answer = program.post("/calc/fat-blend", &calc);
    assert_eq!(answer.status, 422);
    assert!(
        answer
            .field("target_fat_fraction")
            .starts_with("The fat part alone has 50 %")
    );
}

#[test]
fn equipment_is_checked_field_by_field_and_old_settings_still_hold() {
    let program = Program::start();
    let mut home = program.get("/settings").ok()["household"].clone();
    home["equipment"] = json!({"scales": [{"name": "", "division_g": 1, "max_g": 0.5}], "slicer": {"width_mm": 0, "height_mm": 160}, "thickness_limit_mm": 5});
    let wrong = program.put("/settings", &home);
    assert_eq!(wrong.status, 422);
    for (field, words) in [
        (
            "equipment.scales[0].max_g",
            "A scale weighs more than its smallest step.",
        ),
        ("equipment.slicer.width_mm", "Give a number above zero"),
        (
            "equipment.thickness_limit_mm",
            "Give the thickest slab you cure",
        ),
        ("equipment", "Give everything on the list a name."),
    ] {
        assert!(
            wrong.field(field).starts_with(words),
            "{field}: {}",
            wrong.body
        );
    }
    // Settings as they were before there was any equipment.
    let old = home.as_object_mut().unwrap();
    old.remove("equipment");
    old.remove("pack_g");
    assert_eq!(program.put("/settings", &home).status, 200);
}

#[test]
fn a_stamp_is_offered_as_an_answer_only_where_it_says_that_pork_was_tested() {
    let program = Program::start();
    let hog = json!([{"act": "received", "name": "bought half", "species": "pig", "origin": "bought", "known": "carcass", "reading": "40 kg"}]);
    let lot = program.did(hog).ok()["lots"][0].as_i64().unwrap();
    let offers = || {
        let holds = program.get(&format!("/lots/{lot}")).ok()["holds"].take();
        let all = holds.as_array().unwrap().clone();
        let freezing = all.iter().find(|h| h["kind"] == "freezing").unwrap();
        freezing["answers"]
            .as_array()
            .unwrap()
            .contains(&json!("stamped"))
    };
    let answered = |note: &str| {
        let act = json!({"act": "hold_answered", "lot": lot, "kind": "freezing", "answer": "stamped", "note": note});
        program.post("/entries", &json!({"acts": [act]})).status
    };
    assert!(!offers());
    assert_eq!(answered("K 12"), 422);
    let mut home = program.get("/settings").ok()["household"].take();
    home["rule_set"] = json!("eu");
    let json_type = [("content-type", "application/json")];
    let put = program.ask(
        "PUT",
        "/api/v1/settings",
        &json_type,
        Some(&home.to_string()),
    );
    assert_eq!(put.status, 200, "{}", put.body);
    assert!(offers());
    assert_eq!(answered("K 12"), 200);
}
