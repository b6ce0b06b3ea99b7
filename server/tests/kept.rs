//! Over HTTP: several pieces in one act, a half that waits in the freezer, fat that is rendered.

mod support;

use serde_json::{Value, json};
use support::Program;

const BEGIN: &str = "2026-11-02T08:00:00Z";

/// Three breasts of one bird's lot, out of smoke and ready for the table.
fn breasts(program: &Program) -> (i64, Vec<i64>) {
    let came = program
        .did(json!([{"act": "received", "name": "two geese", "species": "goose", "origin": "bought", "known": "carcass", "reading": "8 kg"}]))
        .ok();
    let lot = came["lots"][0].as_i64().unwrap();
    let pieces: Vec<i64> = ["300 g", "280 g", "320 g"]
        .iter()
        .map(|reading| program.piece(lot, "breast", reading, "28 mm"))
        .collect();
    for piece in &pieces {
        program
            .kept(json!([{"act": "assigned", "piece": piece, "build": "breast-peppered"}]))
            .ok();
    }
    program
        .kept(json!([{"act": "dosed", "pieces": pieces, "mixed": true,
            "vessels": [{"pieces": pieces, "name": "one bag", "closed": "sealed_with_air"}]}]))
        .ok();
    program.to("2026-11-10T08:00:00Z");
    for act in [
        json!({"act": "out_of_cure", "pieces": pieces, "reading": "890 g"}),
        json!({"act": "soaked", "pieces": pieces, "minutes": 20, "changes": 1}),
        json!({"act": "coated", "pieces": pieces, "name": "black pepper", "jar": {"before": "120 g", "after": "96 g"}}),
        json!({"act": "smoked", "pieces": pieces, "reading": "750 g", "inside": "75 C", "chamber": "105 C", "each_read": true}),
    ] {
        program.kept(json!([act])).ok();
    }
    (lot, pieces)
}

fn card(program: &Program, piece: i64) -> Value {
    program.get(&format!("/pieces/{piece}")).ok()["card"].clone()
}

#[test]
fn a_group_goes_from_its_bag_to_its_packs_as_one_and_each_piece_keeps_its_books() {
    let program = Program::practice(BEGIN);
    let (lot, pieces) = breasts(&program);
    let packed = program
        .kept(json!([{"act": "packed", "pieces": pieces, "rest": "tasted",
            "packs": [{"reading": "500 g"}, {"reading": "230 g"}]}]))
        .ok();
    // The pack that none holds alone bears a label for each of its pieces.
    assert_eq!(packed["packs"].as_array().unwrap().len(), 3, "{packed}");
    for piece in &pieces {
        assert_eq!(card(&program, *piece)["stage"], "packed");
    }
    let view = program.get(&format!("/lots/{lot}")).ok();
    let used = |kind: &str| {
        let all = view["losses"].as_array().unwrap();
        let found = all.iter().find(|l| l["kind"] == kind);
        found.map_or(0.0, |l| l["mass_g"].as_f64().unwrap())
    };
    assert!((used("used") - 20.0).abs() < 0.5, "{}", view["losses"]);
    let tally = program.get(&format!("/tally/{lot}")).ok();
    assert!((tally["lot"]["card"]["packed_g"].as_f64().unwrap() - 730.0).abs() < 1e-6);
    // One write, taken back as one.
    program
        .post("/undo", &json!({"entries": packed["entries"]}))
        .ok();
    for piece in &pieces {
        assert_eq!(card(&program, *piece)["stage"], "pack");
    }
}

#[test]
fn a_half_in_the_freezer_is_on_today_by_its_day_and_goes_nowhere_before() {
    let program = Program::practice(BEGIN);
    let lot = program.half_hog();
    let piece = program.piece(lot, "loin", "2 kg", "70 mm");
    program
        .kept(json!([{"act": "assigned", "piece": piece, "build": "back-smoked"}]))
        .ok();
    program
        .did(json!([{"act": "frozen", "piece": piece, "thaw_by": "2026-12-04"}]))
        .ok();
    assert_eq!(card(&program, piece)["frozen"]["thaw_by"], "2026-12-04");
    assert!(program.due().is_empty(), "{:?}", program.due());
    for act in [
        json!({"act": "dosed", "pieces": [piece]}),
        json!({"act": "worked", "piece": piece, "work": "trim", "off": [{"kind": "fat", "reading": "90 g"}]}),
    ] {
        let refused = program.kept(json!([act]));
        assert!(
            refused.body["detail"]
                .as_str()
                .unwrap()
                .contains("lies in the freezer"),
            "{}",
            refused.body
        );
    }
    let wrong = program.did(json!([{"act": "frozen", "piece": piece, "thaw_by": "2026-12-04"}]));
    assert_eq!(wrong.status, 422, "{}", wrong.body);
    program.to("2026-12-02T09:00:00Z");
    assert!(program.is_due("thaw", "HG1-1"), "{:?}", program.due());
    program.did(json!([{"act": "thawed", "piece": piece}])).ok();
    assert!(
        !program.is_due("thaw", "HG1-1") && program.is_due("dose", "HG1-1"),
        "{:?}",
        program.due()
    );
    assert_eq!(card(&program, piece)["frozen"], json!(null));
    program
        .kept(json!([{"act": "dosed", "pieces": [piece]}]))
        .ok();
}

#[test]
fn kept_fat_is_rendered_and_the_lot_says_what_is_left() {
    let program = Program::practice(BEGIN);
    let lot = program.half_hog();
    program
        .did(json!([{"act": "byproduct_weighed", "lot": lot, "kind": "fat", "reading": "1.2 kg"}]))
        .ok();
    program
        .did(json!([{"act": "byproduct_used", "lot": lot, "kind": "fat", "reading": "1 kg", "used": "rendered", "gave": "720 g"}]))
        .ok();
    let kept = program.get(&format!("/lots/{lot}")).ok()["byproducts"].clone();
    assert_eq!(
        kept,
        json!([
            {"kind": "fat", "mass_g": 200.0, "used_g": 1000.0},
            {"kind": "rendered", "mass_g": 720.0, "used_g": 0.0},
        ])
    );
    let wrong = program.did(json!([{"act": "byproduct_used", "lot": lot, "kind": "fat", "reading": "1 kg", "used": "cooked"}]));
    assert!(
        wrong.field("reading").contains("more than"),
        "{}",
        wrong.body
    );
}

#[test]
fn packs_leave_the_house_and_whoever_has_one_that_turns_bad_is_told() {
    let program = Program::practice(BEGIN);
    let (_, pieces) = breasts(&program);
    let packed = program
        .kept(json!([{"act": "packed", "piece": pieces[0], "finished": true,
            "packs": [{"reading": "80 g"}, {"reading": "80 g"}, {"reading": "80 g", "place": "freezer, vacuum packed"}]}]))
        .ok();
    let packs = packed["packs"].as_array().unwrap().clone();
    let listed = || program.get("/packs").ok();
    let told = || program.get("/today").ok()["recalls"].clone();
    let all = listed();
    assert_eq!(
        (all["in_all"].as_u64(), all["past"].as_u64()),
        (Some(3), Some(0))
    );
    // The one that keeps longest comes last.
    assert_eq!(all["packs"][2]["kept_in"], "freezer, vacuum packed");
    program
        .did(json!([{"act": "pack_left", "packs": [packs[0]], "left": "eaten"}]))
        .ok();
    program
        .did(json!([{"act": "pack_left", "packs": [packs[1]], "left": "given_away", "to": "the neighbor"}]))
        .ok();
    assert_eq!(listed()["in_all"], 1);
    for act in [
        json!({"act": "pack_left", "packs": [packs[1]], "left": "eaten"}),
        json!({"act": "pack_moved", "packs": [packs[1]], "place": "fridge"}),
        json!({"act": "pack_told", "packs": [packs[2]]}),
        json!({"act": "pack_left", "packs": [], "left": "eaten"}),
        json!({"act": "pack_left", "packs": [99], "left": "eaten"}),
    ] {
        let refused = program.did(json!([act]));
        assert!(
            matches!(refused.status, 404 | 422),
            "{act}: {}",
            refused.body
        );
    }
    assert_eq!(told(), json!([]));
    program
        .kept(json!([{"act": "checked", "piece": pieces[0], "check": "smell", "grade": "discard"}]))
        .ok();
    let recalls = told();
    assert_eq!(recalls.as_array().unwrap().len(), 2, "{recalls}");
    let neighbor = recalls
        .as_array()
        .unwrap()
        .iter()
        .find(|r| r["pack"] == packs[1])
        .unwrap();
    assert_eq!(
        (&neighbor["to"], &neighbor["left"]),
        (&json!("the neighbor"), &json!("given_away"))
    );
    // One that nobody may eat is asked about before it leaves.
    let bad = program.did(json!([{"act": "pack_left", "packs": [packs[2]], "left": "eaten"}]));
    assert_eq!(bad.status, 409, "{}", bad.body);
    program
        .did(json!([{"act": "pack_told", "packs": [packs[0], packs[1]]}]))
        .ok();
    assert_eq!(told(), json!([]));
    // A year on, what is left is past its date.
    program.to("2027-11-10T08:00:00Z");
    assert_eq!(listed()["in_all"], 1);
}
