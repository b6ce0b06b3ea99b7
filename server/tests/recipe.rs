//! Somebody's recipe over HTTP: its text as it came, what is settled of it, and on to a cure that was really started.

mod support;

use serde_json::{Value, json};
use support::Program;
use support::cures::{came, card, codes, near, on, piece};

fn checked(program: &Program, ask: &Value) -> Value {
    program.post("/calc/recipe-check", ask).ok()
}

/// What a start of a recipe is, as the weigh-out and the entry take it.
fn dose(start: &Value, piece: i64) -> Value {
    let mut own = start["numbers"].clone();
    own["cure"] = start["cure"].clone();
    own["additions"] = start["additions"].clone();
    json!({"pieces": [piece], "way": start["way"], "own": own})
}

#[test]
fn a_text_comes_back_letter_by_letter() {
    let program = Program::start();
    let text = "\u{feff}Own slab\r\n\r\n  2 kg belly\t\n5 g cure #1\u{200f}\n44 g salt";
    let answer = checked(&program, &json!({"text": text}));
    let lines: Vec<_> = answer["lines"]
        .as_array()
        .unwrap()
        .iter()
        .map(|l| l["text"].as_str().unwrap())
        .collect();
    assert_eq!(
        lines,
        [
            "\u{feff}Own slab",
            "  2 kg belly\t",
            "5 g cure #1\u{200f}",
            "44 g salt"
        ]
    );
    near(&answer["nitrite_ppm"], 156.25, 1e-9, "read all the same");
    // A page and a half is read, and more than 64 kB is refused in words.
    let long = "5 g pepper\n".repeat(5_900);
    assert_eq!(
        checked(&program, &json!({"text": long}))["lines"]
            .as_array()
            .unwrap()
            .len(),
        5_900
    );
    let longer = program.post(
        "/calc/recipe-check",
        &json!({"text": "5 g pepper\n".repeat(6_000)}),
    );
    assert_eq!(longer.status, 422);
    assert!(longer.field("text").starts_with("That is more than 64 kB"));
    assert_eq!(checked(&program, &json!({"text": ""}))["lines"], json!([]));
    for wrong in [
        json!({}),
        json!({"text": 7}),
        json!({"text": "salt", "moon": 1}),
        json!({"text": "salt", "class": "soup"}),
    ] {
        assert_eq!(
            program.post("/calc/recipe-check", &wrong).status,
            422,
            "{wrong}"
        );
    }
}

#[test]
fn a_recipe_becomes_a_cure_of_this_piece_by_whatever_way_it_has() {
    let program = on("2026-11-02T09:00:00Z");
    let lot = came(&program, "pig", "loin", 9_000.0, false);
    #[rustfmt::skip]
    let recipes = [
        ("measured_dry", "per kg:\n22 g salt\n2.5 g cure #1\n10 g sugar\n3 g pepper"),
        ("wet_rub", "for 3 kg\n60 g salt\n7.5 g cure #1\n75 g maple syrup\n30 g soy sauce"),
        ("equilibrium_brine", "water 0.8 kg per kg\nsalt 2.2 % of meat and water\nsugar 1 %\ncure #1 0.25 %"),
        ("label_rate", "17 g/kg pre-blended cure\n5 g/kg brown sugar"),
        ("measured_dry", "25 g per kg curing salt (0.55 % nitrite)\n10 g/kg sugar"),
        ("measured_dry", "salt 2.5 %\nsugar 1 %"),
    ];
    for (method, text) in recipes {
        let id = piece(&program, lot, "loin", (1_240.0, 55.0), "back-smoked");
        let meat = card(&program, id)["mass_g"].clone();
        let ask = json!({"text": text, "meat_g": meat, "class": "cooked"});
        let answer = checked(&program, &ask);
        let start = &answer["start"];
        assert_eq!(start["method"], method, "{text}");
        let dose = dose(start, id);
        let sheet = program.post("/sheet", &dose).ok();
        assert_eq!(sheet["method"], method);
        // The scale's number is the recipe's, to its step.
        let shown = |name: &str| {
            let lines = sheet["vessels"][0]["lines"].as_array().unwrap();
            lines
                .iter()
                .find(|l| l["role"] == name)
                .map_or(0.0, |l| l["shown_g"].as_f64().unwrap())
        };
        for r in answer["rewritten"].as_array().unwrap() {
            let (role, grams) = (r["role"].as_str().unwrap(), r["mass_g"].as_f64().unwrap());
            if matches!(role, "curing_salt" | "salt" | "water") {
                assert!(
                    (shown(role) - grams).abs() <= 0.6,
                    "{text}: {role} {grams} {}",
                    shown(role)
                );
            }
        }
        let mut act = dose;
        act["act"] = json!("dosed");
        act["reason"] = json!("as the recipe of the neighbours has it");
        program.kept(json!([act])).ok();
        let lies = card(&program, id);
        assert_eq!(lies["stage"], "in_cure", "{text}");
        let got = lies["cure"]["nitrite_ppm"].as_f64().unwrap();
        let want = answer["nitrite_ppm"].as_f64().unwrap();
        // Half a gram of the cure on this piece, by a scale that reads whole grams.
        assert!((got - want).abs() < 26.0, "{text}: {got} not {want}");
        let what = program.get(&format!("/pieces/{id}")).ok();
        assert!(what["timeline"].to_string().contains("put in cure"));
    }
}

#[test]
fn what_the_sheet_prints_is_a_recipe_again() {
    let program = on("2026-11-02T09:00:00Z");
    let lot = came(&program, "pig", "belly", 5_000.0, false);
    let id = piece(&program, lot, "belly", (2_310.0, 38.0), "belly-slab");
    let sheet = program.post("/sheet", &json!({"pieces": [id]})).ok();
    let text = sheet["vessels"][0]["as_text"].as_str().unwrap();
    let answer = checked(&program, &json!({"text": text, "class": "fry"}));
    near(&answer["meat_g"], 2_310.0, 1e-9, "its meat");
    near(
        &answer["nitrite_ppm"],
        sheet["pieces"][0]["nitrite"]["nominal"].as_f64().unwrap(),
        1e-6,
        "its dose",
    );
    assert_eq!(codes(&answer["findings"]), Vec::<String>::new());
}

#[test]
fn a_dangerous_recipe_cannot_be_started_and_says_so() {
    let program = on("2026-11-02T09:00:00Z");
    let lot = came(&program, "pig", "belly", 5_000.0, false);
    let id = piece(&program, lot, "belly", (2_000.0, 38.0), "belly-slab");
    let poison = checked(
        &program,
        &json!({"text": "2 kg belly\n3 tbsp cure #1\n20 g sugar", "class": "fry"}),
    );
    assert!(codes(&poison["findings"]).contains(&"nitrite_refused".to_string()));
    let mut act = dose(&poison["start"], id);
    act["act"] = json!("dosed");
    act["reason"] = json!("the recipe wants it so");
    assert_eq!(program.did(json!([act])).status, 422);
    for (text, code) in [
        (
            "2 kg belly\n20 g salt\n5 g cure #1\n40 g sugar cure",
            "two_cures",
        ),
        (
            "2 kg belly\n44 g salt\na pinch of cure #1",
            "cure_not_weighed",
        ),
        (
            "2 kg belly\n44 g salt\n0.3 g sodium nitrite",
            "pure_nitrite",
        ),
    ] {
        let answer = checked(&program, &json!({"text": text, "class": "fry"}));
        assert!(
            codes(&answer["findings"]).contains(&code.to_string()),
            "{text}"
        );
        assert_eq!(answer["start"], Value::Null, "{text}");
    }
    // A way of no recipe is refused as before.
    let unknown = program.post("/sheet", &json!({"pieces": [id], "way": "recipe_moon"}));
    assert_eq!(unknown.status, 422);
}
