//! Cures from the weigh-out to the rinse, over HTTP with the clock moved: brines by the gallon, pumps, salt boxes to the
//! hour, and what every one of them may claim afterwards.

mod support;

use serde_json::{Value, json};
use support::cures::{came, card, codes, hours, later, near, on, piece};

#[test]
fn a_brine_in_gallons_and_cups_is_turned_into_grams_and_judged_between_two_figures() {
    let program = on("2026-11-02T09:00:00Z");
    let mut settings = program.get("/settings").ok()["household"].clone();
    settings["units"] = json!({"mass": "imperial", "length": "inch", "heat": "fahrenheit"});
    program
        .ask("PUT", "/api/v1/settings", &[], Some(&settings.to_string()))
        .ok();
    let lot = came(&program, "beef", "brisket", 5_000.0, false);
    let flat = piece(&program, lot, "brisket", (2_000.0, 40.0), "brisket-slab");
    let point = piece(&program, lot, "brisket", (1_400.0, 48.0), "brisket-slab");
    let own = json!({"water_g": "1 gal", "salt_per_l": "1 cup/gal", "sugar_per_l": "1/2 cup per gal", "cure_per_l": "1 tbsp/gal", "salt_kind": "kosher_salt_dense"});
    let ask = json!({"pieces": [flat, point], "way": "cover_brine", "own": own, "days": 10,
        "vessels": [{"pieces": [flat]}, {"pieces": [point]}]});
    let sheet = program.post("/sheet", &ask).ok();
    let grams = |name: &str| {
        let lines = sheet["lines"].as_array().unwrap();
        lines.iter().find(|l| l["name"] == name).unwrap()["exact_g"]
            .as_f64()
            .unwrap()
    };
    near(&json!(grams("water")), 3_785.411_784, 1e-6, "a gallon");
    near(
        &json!(grams("salt")),
        48.0 * 5.0,
        1e-6,
        "a cup of coarse dense salt",
    );
    near(
        &json!(grams("sugar")),
        24.0 * 4.2,
        1e-6,
        "half a cup of sugar",
    );
    near(
        &json!(grams("cure #1")),
        18.0,
        1e-6,
        "a level tablespoon of cure",
    );
    // A spoon is no scale, and that is said.
    assert!(codes(&sheet["findings"]).contains(&"by_spoon".to_string()));
    let both = &sheet["pieces"][0]["uptake"];
    let brine: f64 = sheet["lines"]
        .as_array()
        .unwrap()
        .iter()
        .map(|l| l["shown_g"].as_f64().unwrap())
        .sum();
    near(
        &both["pickup"],
        18.0 * 0.0625 / brine * 0.1 * 1e6,
        0.01,
        "taken up",
    );
    near(
        &both["equilibrium"],
        18.0 * 0.0625 / (3_400.0 + brine) * 1e6,
        0.01,
        "alike",
    );
    // Under 5 cm for ten days: they become alike.
    near(
        &sheet["pieces"][0]["nitrite"]["nominal"],
        both["equilibrium"].as_f64().unwrap(),
        1e-9,
        "governs",
    );
    assert_eq!(
        (
            sheet["pieces"][0]["days"].as_u64(),
            sheet["pieces"][0]["days_by"].as_str()
        ),
        (Some(10), Some("recipe"))
    );
    assert_eq!(sheet["waits"], "deadline");
    // Each bag's share of the one brine.
    near(
        &sheet["vessels"][0]["portion_g"],
        brine * 2_000.0 / 3_400.0,
        0.5,
        "by weight",
    );
    let mut dosed = ask.clone();
    dosed["act"] = json!("dosed");
    let asked = program.did(json!([dosed.clone()]));
    assert_eq!(
        asked.status, 422,
        "the least that may get in is under its floor"
    );
    dosed["reason"] = json!("our family's brine for years");
    program.kept(json!([dosed])).ok();
    // Longer than planned is said of what grew saltier with it.
    let program = later(program, "2026-11-16T09:00:00Z");
    let late = card(&program, flat);
    assert_eq!(late["tasks"][0]["urgency"], "overdue");
    program
        .kept(json!([{"act": "out_of_cure", "piece": flat, "reading": "2080 g"}]))
        .ok();
    let view = program.get(&format!("/pieces/{flat}")).ok();
    assert!(
        codes(&view["findings"]).contains(&"left_cure_late".to_string()),
        "{}",
        view["findings"]
    );
}

#[test]
fn a_salt_box_is_timed_to_the_hour_and_its_weights_are_the_evidence() {
    let program = on("2026-11-02T18:00:00Z");
    let lot = came(&program, "beef", "tenderloin", 3_000.0, false);
    let thick = piece(
        &program,
        lot,
        "tenderloin",
        (900.0, 40.0),
        "tenderloin-buried",
    );
    let slim = piece(
        &program,
        lot,
        "tenderloin",
        (500.0, 27.0),
        "tenderloin-buried",
    );
    let soon = piece(
        &program,
        lot,
        "tenderloin",
        (800.0, 40.0),
        "tenderloin-buried",
    );
    let ask = json!({"pieces": [thick, slim, soon], "way": "salt_box", "own": {"salt_per_meat": 0.8}, "vessels": [{"pieces": [thick, slim, soon], "name": "snug dish"}]});
    let sheet = program.post("/sheet", &ask).ok();
    near(
        &sheet["lines"][0]["exact_g"],
        1_760.0,
        1e-6,
        "enough to bury them",
    );
    assert!(sheet["pieces"][0]["salt"].is_null());
    let mut dosed = ask.clone();
    dosed["act"] = json!("dosed");
    // what is to hang without nitrite wants its reason when the salt goes on
    assert_eq!(program.kept(json!([dosed])).status, 422);
    dosed["reason"] = json!("an old practice of ours, eaten within a week");
    program.kept(json!([dosed])).ok();
    assert_eq!(
        (hours(&program, thick), hours(&program, slim)),
        (32.0, 21.5)
    );
    // The timers are set by themselves, the slim one's first.
    let timers = program.get("/timers").ok()["timers"].clone();
    assert_eq!(
        (timers[0]["piece"].as_i64(), timers[0]["minutes"].as_i64()),
        (Some(slim), Some(1_290))
    );
    assert_eq!(timers[0]["ends"], "2026-11-03T15:30:00Z");
    // Too early is asked about, in hours.
    let program = later(program, "2026-11-03T08:00:00Z");
    let early = program.did(json!([{"act": "out_of_cure", "piece": soon, "reading": "770 g"}]));
    assert_eq!(early.status, 409);
    assert_eq!(early.body["findings"][0]["saw"], "14 of 32 h");
    program
        .kept(json!([{"act": "out_of_cure", "piece": soon, "reading": "770 g"}]))
        .ok();
    // On time, and it rang until it was seen to.
    let program = later(program, "2026-11-03T15:40:00Z");
    assert_eq!(program.get("/timers").ok()["timers"][0]["rings"], true);
    program
        .did(json!([{"act": "out_of_cure", "piece": slim, "reading": "470 g"}]))
        .ok();
    assert!(
        program.get("/timers").ok()["timers"]
            .as_array()
            .unwrap()
            .iter()
            .all(|t| t["piece"] != slim)
    );
    // Two hours over its time is said.
    let program = later(program, "2026-11-04T04:00:00Z");
    program
        .did(json!([{"act": "out_of_cure", "piece": thick, "reading": "845 g"}]))
        .ok();
    let view = program.get(&format!("/pieces/{thick}")).ok();
    let late = view["findings"]
        .as_array()
        .unwrap()
        .iter()
        .find(|f| f["code"] == "left_cure_late")
        .unwrap();
    assert_eq!(late["saw"], "2 h over its time");
    // Dried by a quarter, the one that kept its hours and lost 6 % is ready.
    let mut words = Vec::new();
    let mut program = program;
    for (id, start, end) in [(slim, 470.0, 330.0), (soon, 770.0, 540.0)] {
        let hung = json!({"act": "hung", "piece": id, "reading": format!("{} g", start + 20.0), "tare": "20 g", "loss_fraction": "28 %"});
        program.kept(json!([hung])).ok();
        program = later(program, "2026-11-24T08:00:00Z");
        program
            .kept(
                json!([{"act": "taken_down", "piece": id, "reading": format!("{} g", end + 20.0)}]),
            )
            .ok();
        words.push(program.get(&format!("/pieces/{id}")).ok()["verdict"].clone());
    }
    assert_eq!(words[0]["word"], "ready_to_eat", "{}", words[0]);
    assert_eq!(words[1]["word"], "cook_before_eating");
    let why = codes(&words[1]["reasons"]);
    assert!(
        why.contains(&"left_cure_early".to_string()) && why.contains(&"salt_too_low".to_string()),
        "{why:?}"
    );
}

#[test]
fn a_pumped_loin_has_what_the_scale_says_and_not_what_was_wished() {
    let program = on("2026-11-02T09:00:00Z");
    let lot = came(&program, "pig", "loin", 2_600.0, false);
    let loin = piece(&program, lot, "loin", (2_500.0, 85.0), "back-smoked");
    let ask = json!({"pieces": [loin], "way": "pumped"});
    let sheet = program.post("/sheet", &ask).ok();
    near(
        &sheet["pieces"][0]["pump"]["to_weigh_g"],
        2_750.0,
        1e-9,
        "a tenth more",
    );
    assert_eq!(sheet["pieces"][0]["days_by"], "injected");
    program
        .kept(json!([{"act": "dosed", "pieces": [loin], "way": "pumped"}]))
        .ok();
    // On a gram scale the brine holds a little less, or more, than was wished.
    let strength = sheet["pieces"][0]["uptake"]["pickup"].as_f64().unwrap() / 0.2;
    near(&json!(strength), 630.0, 32.0, "the wish");
    // Nobody weighed it yet: what was pumped in counts as nothing.
    let unknown = program.get(&format!("/pieces/{loin}")).ok();
    assert!(codes(&unknown["findings"]).contains(&"pump_not_weighed".to_string()));
    let pickup = |view: &Value| view["card"]["cure"]["uptake"]["pickup"].clone();
    near(
        &pickup(&unknown),
        strength * 0.1,
        0.01,
        "a tenth of the rest alone",
    );
    // Two passes; the second brings it to the wish.
    let pass = |after: &str| {
        let act = json!([{"act": "injected", "piece": loin, "after": after, "reason": "a second pass follows"}]);
        program.kept(act).ok();
        program.get(&format!("/pieces/{loin}")).ok()
    };
    near(
        &pickup(&pass("2620 g")),
        strength * (0.048 + 0.1),
        0.01,
        "half of it",
    );
    let wished = pass("2750 g");
    near(&pickup(&wished), strength * 0.2, 0.01, "as wished");
    assert!(!codes(&wished["findings"]).contains(&"pump_not_weighed".to_string()));
    near(
        &wished["card"]["cure"]["salt_g_per_kg"],
        22.0,
        0.2,
        "salt of both",
    );
}

#[test]
fn a_household_chooses_its_schools_its_cap_and_checks_its_scale() {
    let program = on("2026-11-02T09:00:00Z");
    let lot = came(&program, "pig", "belly", 4_500.0, false);
    let belly = piece(&program, lot, "belly", (4_000.0, 50.0), "belly-slab");
    let days = |ask: Value| {
        let part = program.post("/sheet", &ask).ok()["pieces"][0].clone();
        (
            part["days"].as_u64().unwrap(),
            part["days_by"].as_str().unwrap().to_string(),
            part["days_why"].as_str().unwrap().to_string(),
        )
    };
    let (usual, ..) = days(json!({"pieces": [belly]}));
    let mut household = program.get("/settings").ok()["household"].clone();
    household["schools"] = json!({"belly-slab": "days_per_inch_7_0"});
    household["cap_ppm"] = json!(140.0);
    let put = |household: &Value| {
        program.ask("PUT", "/api/v1/settings", &[], Some(&household.to_string()))
    };
    put(&household).ok();
    let (own, by, _) = days(json!({"pieces": [belly]}));
    assert!(own > usual && by == "days_per_inch_7_0");
    let (piece_own, by, why) = days(json!({"pieces": [belly], "school": "days_per_inch_2_2"}));
    assert!(
        piece_own < own && by == "days_per_inch_2_2" && why.contains("2 days an inch"),
        "{why}"
    );
    let capped = program.post("/sheet", &json!({"pieces": [belly]})).ok();
    assert!(capped["pieces"][0]["nitrite"]["nominal"].as_f64().unwrap() <= 140.0);
    assert_eq!(capped["needs_reason"], false);
    let unknown = program.post("/sheet", &json!({"pieces": [belly], "school": "moon"}));
    assert!(
        unknown
            .field("school")
            .starts_with("There is no school “moon”.")
    );
    for (field, value, at) in [
        ("cap_ppm", json!(20.0), "cap_ppm"),
        ("schools", json!({"moon": "by_weight"}), "schools.moon"),
        (
            "schools",
            json!({"belly-slab": "moon"}),
            "schools.belly-slab",
        ),
    ] {
        let mut wrong = household.clone();
        wrong[field] = value;
        let answer = put(&wrong);
        assert_eq!(answer.status, 422);
        answer.field(at);
    }
    // What is started keeps its school, whatever the household chooses afterwards.
    program
        .did(json!([{"act": "dosed", "pieces": [belly], "school": "days_per_inch_2_2"}]))
        .ok();
    household["schools"] = json!({});
    put(&household).ok();
    assert_eq!(
        card(&program, belly)["cure"]["days"].as_u64(),
        Some(piece_own)
    );
}

#[test]
fn what_cannot_be_dosed_says_what_to_type_and_nothing_is_written() {
    let program = on("2026-11-02T09:00:00Z");
    let lot = came(&program, "pig", "belly", 4_500.0, false);
    let one = piece(&program, lot, "belly", (2_000.0, 40.0), "belly-slab");
    let two = piece(&program, lot, "belly", (2_100.0, 42.0), "belly-slab");
    let ask = |more: Value| {
        let mut ask = json!({"pieces": [one, two]});
        ask.as_object_mut()
            .unwrap()
            .extend(more.as_object().unwrap().clone());
        ask
    };
    #[rustfmt::skip]
    let cases = [
        (json!({"way": "salt_box"}), "way", "is not made in the way “salt_box”"),
        (json!({"recipe": "moon"}), "recipe", "None of these pieces becomes “moon”"),
        (json!({"days": 0}), "days", "from 1 to 365"),
        (json!({"days": "soon"}), "days", "is not a whole number"),
        (json!({"hours": 20}), "hours", "Only a salt box is counted in hours"),
        (json!({"zones": ["thick"]}), "zones[0]", "“thick”"),
        (json!({"zones": ["4 m"]}), "zones[0]", "thicker than any piece"),
        (json!({"zones": ["25 mm"]}), "zones_why", "Say in two words or more why less of it counts"),
        (json!({"brine_temperature": "cold"}), "brine_temperature", "“cold”"),
        (json!({"vessels": [{"pieces": []}]}), "vessels[0].pieces", "Name the pieces"),
        (json!({"vessels": [{"pieces": [9_999]}]}), "vessels[0].pieces", "not among those"),
        (json!({"vessels": [{"pieces": [one], "parts": 1}]}), "vessels", "Say of every vessel"),
        (json!({"vessels": [{"pieces": [one], "parts": 1, "poured": "200 g"}]}), "vessels[0].parts", "one of the two"),
        (json!({"vessels": [{"pieces": [one], "parts": -1}]}), "vessels[0].poured", "Every vessel got something"),
        (json!({"vessels": [{"pieces": [one], "parts": 1}, {"pieces": [two], "poured": "50 g"}]}), "vessels", "all of them as parts"),
        (json!({"vessels": [{"pieces": [one], "layers": 1.5}]}), "vessels[0].layers", "how many layers"),
        (json!({"own": {"salt_kind": "sand"}}), "own.salt_kind", "no salt known here"),
        (json!({"own": {"jar": {"before": "3 g", "after": "1 g"}}}), "own.jar", "Only a blend by its label"),
        (json!({"own": {"additions": [{"name": "celery powder", "amount": "4 g/kg"}]}}), "own.additions[0].name", "is a curing salt"),
    ];
    for (more, field, words) in cases {
        let answer = program.post("/sheet", &ask(more.clone()));
        assert_eq!(answer.status, 422, "{more}: {}", answer.body);
        assert!(
            answer.field(field).contains(words),
            "{more}: {}",
            answer.field(field)
        );
        let mut dosed = ask(more.clone());
        dosed["act"] = json!("dosed");
        assert_eq!(program.did(json!([dosed])).status, 422, "{more}");
    }
    let twice = program.post("/sheet", &json!({"pieces": [one, one]}));
    assert!(twice.field("pieces").contains("named twice"));
    for (act, field) in [
        (json!({"act": "dosed", "pieces": [one], "into": 77}), "into"),
        (
            json!({"act": "topped_up", "vessel": 77, "reading": "1 l"}),
            "vessel",
        ),
        (
            json!({"act": "topped_up", "piece": one, "reading": "1 l"}),
            "piece",
        ),
        (json!({"act": "turned"}), "piece"),
        (json!({"act": "turned", "piece": one, "vessel": 1}), "piece"),
        (
            json!({"act": "out_of_cure", "pieces": [one, one], "reading": "1 kg"}),
            "pieces",
        ),
        (
            json!({"act": "dosed", "pieces": [one], "vessels": [{"pieces": [one], "place": 99}]}),
            "vessels[0].place",
        ),
    ] {
        let answer = program.did(json!([act.clone()]));
        assert_eq!(answer.status, 422, "{act}: {}", answer.body);
        answer.field(field);
    }
    assert_eq!(card(&program, one)["stage"], "dose");
}
