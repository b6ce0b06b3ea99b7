//! Several pieces in one act: what was weighed is shared out by weight, and nothing is lost on the way.

use crate::ids::PieceId;
use crate::ledger::Loss;
use crate::piece::Stage;
use crate::testing::Season;
use serde_json::json;

/// Four breasts of one product, out of their cure.
fn breasts() -> Season {
    let mut season = Season::empty();
    season.did(&[json!({"act": "received", "name": "two geese", "species": "goose", "origin": "bought", "known": "carcass", "reading": "7 kg"})]);
    for grams in [300, 280, 320, 260] {
        season.did(&[json!({"act": "piece_weighed", "lot": 1, "cut": "breast", "reading": format!("{grams} g"), "thickness": "28 mm"})]);
    }
    for piece in 1..=4 {
        season.did(&[json!({"act": "assigned", "piece": piece, "build": "breast-peppered"})]);
    }
    season.did(&[json!({"act": "dosed", "pieces": [1, 2, 3, 4], "mixed": true})]);
    season.wait_h(24 * 6);
    season.did(&[json!({"act": "out_of_cure", "pieces": [1, 2, 3, 4], "reading": "1160 g"})]);
    season
}

fn grams(season: &Season) -> Vec<f64> {
    (1..=4).map(|id| season.piece(id).mass.grams()).collect()
}

#[test]
fn one_water_and_one_jar_are_shared_out_by_what_each_weighs() {
    let mut season = breasts();
    season.did(&[json!({"act": "soaked", "pieces": [1, 2, 3, 4], "minutes": 20, "changes": 1})]);
    for id in 1..=4 {
        let minutes: Vec<u32> = season.piece(id).soaks.iter().map(|s| s.minutes).collect();
        assert_eq!(minutes, [20], "{id}");
    }
    season.did(&[json!({"act": "coated", "pieces": [1, 2, 3, 4], "name": "black pepper", "jar": {"before": "200 g", "after": "171 g"}})]);
    let coats: Vec<f64> = (1..=4)
        .map(|id| season.piece(id).coats[0].mass.grams())
        .collect();
    assert!((coats.iter().sum::<f64>() - 29.0).abs() < 1e-9, "{coats:?}");
    assert!(coats[2] > coats[0] && coats[0] > coats[3], "{coats:?}");
    season.did(&[json!({"act": "coated", "pieces": [1, 2], "name": "lard", "after": "620 g"})]);
    let both = grams(&season)[..2].iter().sum::<f64>();
    assert!((both - 620.0).abs() < 1e-9, "{both}");
}

#[test]
fn a_group_is_packed_whole_and_a_pack_that_none_holds_alone_is_of_several() {
    let mut season = breasts();
    season.did(&[json!({"act": "smoked", "pieces": [1, 2, 3, 4], "reading": "1000 g", "inside": "76 C", "each_read": true, "chamber": "110 C"})]);
    let before = grams(&season);
    season.did(&[json!({"act": "packed", "pieces": [1, 2, 3, 4], "ends": "30 g", "finished": true, "packs": [
        {"reading": "400 g", "bag": "small bag"}, {"reading": "230 g"}, {"reading": "225 g"}, {"reading": "105 g"}]})]);
    let lot = season.book.lots().next().unwrap();
    let packed: f64 = lot.state.packs.values().map(|p| p.mass.grams()).sum();
    assert!((packed - 960.0).abs() < 1e-9, "{packed}");
    for (id, was) in (1..=4).zip(&before) {
        let piece = season.piece(id);
        assert_eq!(piece.stage(), Stage::Packed, "{id}");
        let of: f64 = piece
            .packs
            .iter()
            .map(|p| lot.state.packs[p].mass.grams())
            .sum();
        assert!(of <= was + 10.0, "{id}: {of} of {was}");
    }
    // The bag is used once, however many labels it bears.
    let bags = lot
        .live_entries()
        .filter_map(|e| e.act.of::<crate::ledger::facts::packed::Packed>());
    assert_eq!(bags.flat_map(|p| p.bags()).count(), 1);
    let (taken, held) = lot.state.in_and_out();
    assert_eq!(taken, held);
}

#[test]
fn a_piece_of_which_no_pack_holds_anything_is_named() {
    let mut season = breasts();
    season.did(&[json!({"act": "smoked", "pieces": [1, 2, 3, 4], "reading": "1000 g", "inside": "76 C", "each_read": true, "chamber": "110 C"})]);
    let one = json!({"act": "packed", "pieces": [1, 2], "finished": true, "packs": [{"reading": "230 g"}]});
    let why = season.does(&one, true).unwrap_err();
    assert!(why.contains("hold nothing of"), "{why}");
    assert_eq!(season.piece(1).stage(), Stage::Pack);
}

#[test]
fn several_on_one_hook_share_what_hangs_there_besides() {
    let mut season = Season::empty();
    season.did(&[
        json!({"act": "received", "name": "boned hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "30 kg"}),
        json!({"act": "hold_answered", "lot": 1, "kind": "freezing", "answer": "clear", "note": "test 7"}),
        json!({"act": "piece_weighed", "lot": 1, "cut": "neck_muscle", "reading": "1500 g", "thickness": "70 mm"}),
        json!({"act": "piece_weighed", "lot": 1, "cut": "neck_muscle", "reading": "1000 g", "thickness": "60 mm"}),
        json!({"act": "assigned", "piece": 1, "build": "muscle-cased"}),
        json!({"act": "assigned", "piece": 2, "build": "muscle-cased"}),
        json!({"act": "dosed", "pieces": [1, 2]}),
    ]);
    season.wait_h(24 * 28);
    season.did(&[json!({"act": "out_of_cure", "pieces": [1, 2], "reading": "2450 g"})]);
    let nothing = json!({"act": "hung", "pieces": [1, 2], "reading": "90 g", "tare": "100 g"});
    assert!(season.does(&nothing, true).is_err());
    season.did(&[
        json!({"act": "hung", "pieces": [1, 2], "reading": "2550 g", "hook": 3,
        "parts": [{"name": "net", "reading": "60 g"}, {"name": "clips", "reading": "40 g"}]}),
    ]);
    let tare: f64 = (1..=2).map(|id| season.piece(id).tare().grams()).sum();
    let net: f64 = (1..=2).map(|id| season.piece(id).mass.grams()).sum();
    assert!(
        (tare - 100.0).abs() < 1e-6 && (net - 2_450.0).abs() < 1e-6,
        "{tare} {net}"
    );
    assert_eq!(
        (season.piece(1).id, season.piece(2).id),
        (PieceId(1), PieceId(2))
    );
}

#[test]
fn what_is_left_is_closed_with_a_word_and_is_neither_lost_nor_a_pack() {
    let mut season = breasts();
    season.did(&[
        json!({"act": "smoked", "pieces": [1, 2, 3, 4], "reading": "1000 g", "inside": "76 C", "each_read": true, "chamber": "110 C"}),
        json!({"act": "packed", "piece": 1, "packs": [{"reading": "220 g"}], "finished": false}),
    ]);
    let left = season.piece(1).mass.grams();
    assert!(
        season
            .does(
                &json!({"act": "packed", "piece": 1, "packs": [], "rest": "tasted"}),
                false
            )
            .is_ok()
    );
    assert_eq!(season.piece(1).stage(), Stage::Packed);
    let lot = season.book.lots().next().unwrap();
    let of = |loss: Loss| {
        lot.state
            .losses
            .get(&loss)
            .copied()
            .unwrap_or_default()
            .grams()
    };
    assert!(
        (of(Loss::Used) - left).abs() < 1e-9,
        "{} of {left}",
        of(Loss::Used)
    );
    assert!(of(Loss::Unaccounted).abs() < 1e-9);
    let nothing = json!({"act": "packed", "piece": 2, "packs": [], "finished": true});
    assert!(
        season
            .does(&nothing, true)
            .unwrap_err()
            .contains("say what became of it")
    );
}

#[test]
fn packs_that_weigh_more_than_an_unstripped_piece_say_that_it_is_stripped_first() {
    let mut season = Season::empty();
    season.cures_a_collar("1560 g");
    season.did(&[
        json!({"act": "hung", "piece": 1, "reading": "1640 g", "parts": [{"name": "casing", "reading": "60 g"}, {"name": "net", "reading": "20 g"}]}),
    ]);
    season.wait_h(24 * 60);
    season.did(&[json!({"act": "taken_down", "piece": 1, "reading": "1030 g"})]);
    let packs =
        json!({"act": "packed", "piece": 1, "finished": true, "packs": [{"reading": "985 g"}]});
    let why = season.does(&packs, true).unwrap_err();
    assert!(why.contains("strip it first"), "{why}");
    season.did(&[json!({"act": "stripped", "piece": 1, "bare": "990 g"})]);
    season.did(&[packs]);
    assert_eq!(season.piece(1).stage(), Stage::Packed);
}
