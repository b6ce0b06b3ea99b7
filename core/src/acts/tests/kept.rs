//! What is kept for later, and what became of it: frozen pieces, fat that is rendered, a roll that is measured, a flap among slabs.

use crate::agenda::TaskKind;
use crate::animal::byproduct::Byproduct;
use crate::ledger::Loss;
use crate::piece::Stage;
use crate::testing::Season;
use crate::units::Millimetres;
use serde_json::json;

fn hog() -> Season {
    let mut season = Season::empty();
    season.did(&[
        json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "42 kg"}),
        json!({"act": "hold_answered", "lot": 1, "kind": "freezing", "answer": "clear", "note": "test 31"}),
        json!({"act": "piece_weighed", "lot": 1, "cut": "loin", "reading": "2.4 kg", "thickness": "80 mm"}),
        json!({"act": "assigned", "piece": 1, "build": "back-smoked"}),
    ]);
    season
}

#[test]
fn a_frozen_half_waits_for_its_own_day_and_takes_no_work_until_it_is_thawed() {
    let mut season = hog();
    season.wait_h(24 * 2);
    season.did(&[
        json!({"act": "piece_weighed", "lot": 1, "cut": "loin", "reading": "2 kg", "thickness": "80 mm"}),
        json!({"act": "frozen", "piece": 1, "thaw_by": "2026-02-10"}),
    ]);
    let tasks = season.tasks(1);
    let days: Vec<_> = tasks
        .iter()
        .map(|t| (t.kind, t.due.to_string(), t.latest.to_string()))
        .collect();
    assert_eq!(
        days,
        [(TaskKind::Thaw, "2026-02-08".into(), "2026-02-10".into())]
    );
    for ask in [
        json!({"act": "dosed", "pieces": [1]}),
        json!({"act": "worked", "piece": 1, "work": "trim", "off": [{"kind": "fat", "reading": "100 g"}]}),
        json!({"act": "cut", "piece": 1, "way": "split", "parts": [{"reading": "1.2 kg"}, {"reading": "1.2 kg"}]}),
        json!({"act": "byproduct_weighed", "lot": 1, "piece": 1, "kind": "trim", "reading": "50 g"}),
        json!({"act": "ground", "lot": 1, "reading": "2.3 kg", "sources": [{"from": "piece", "piece": 1}]}),
        json!({"act": "frozen", "piece": 1}),
        json!({"act": "joined", "pieces": [1, 2], "way": "pair"}),
        json!({"act": "timer_set", "piece": 1, "what": "rest", "minutes": 10}),
    ] {
        let why = season.does(&ask, true).unwrap_err();
        assert!(why.contains("lies in the freezer"), "{ask}: {why}");
    }
    // Another product may be chosen for it, and what is seen is noted.
    season.did(&[
        json!({"act": "assigned", "piece": 1, "build": "backstrap", "reason": "as a trial"}),
        json!({"act": "noted", "piece": 1, "text": "no ice on it"}),
    ]);
    season.wait_h(24 * 38);
    season.did(&[json!({"act": "thawed", "piece": 1})]);
    assert_eq!(season.piece(1).stage(), Stage::Dose);
    assert!(
        season
            .does(&json!({"act": "thawed", "piece": 1}), true)
            .is_err()
    );
    // Three days raw, whatever the calendar says.
    season.wait_h(24);
    assert!(
        season
            .does(
                &json!({"act": "dosed", "pieces": [1], "reason": "as a trial"}),
                false
            )
            .is_ok()
    );
}

#[test]
fn frozen_time_is_no_raw_time_and_the_rest_is() {
    for (raw_days, asked) in [(3, false), (7, true)] {
        let mut season = hog();
        season.wait_h(24);
        season.did(&[json!({"act": "frozen", "piece": 1})]);
        season.wait_h(24 * 60);
        season.did(&[json!({"act": "thawed", "piece": 1})]);
        season.wait_h(24 * (raw_days - 1));
        let said = season.does(&json!({"act": "dosed", "pieces": [1]}), false);
        assert_eq!(
            said.is_err_and(|e| e.contains("KeptRaw")),
            asked,
            "{raw_days}"
        );
    }
}

#[test]
fn a_piece_with_no_day_to_thaw_is_nobodys_task_and_raw_meat_of_many_days_is_asked_about_before_it_is_frozen()
 {
    let mut season = hog();
    season.wait_h(24 * 8);
    assert!(
        season
            .asked(&json!({"act": "frozen", "piece": 1}))
            .contains("KeptRaw")
    );
    season.did(&[json!({"act": "frozen", "piece": 1})]);
    assert!(season.tasks(1).is_empty());
    assert!(
        season
            .does(
                &json!({"act": "frozen", "piece": 1, "thaw_by": "1850-01-01"}),
                true
            )
            .is_err()
    );
}

#[test]
fn kept_fat_is_rendered_given_or_thrown_away_and_the_books_balance() {
    let mut season = hog();
    season.did(&[
        json!({"act": "byproduct_weighed", "lot": 1, "kind": "fat", "reading": "2 kg"}),
        json!({"act": "byproduct_weighed", "lot": 1, "kind": "bone", "reading": "3 kg"}),
        json!({"act": "byproduct_used", "lot": 1, "kind": "fat", "reading": "1.5 kg", "used": "rendered", "gave": "1.1 kg"}),
        json!({"act": "byproduct_used", "lot": 1, "kind": "bone", "reading": "2 kg", "used": "cooked", "note": "stock"}),
        json!({"act": "byproduct_used", "lot": 1, "kind": "bone", "reading": "1 kg", "used": "thrown_away"}),
    ]);
    let lot = season.book.lots().next().unwrap();
    let kept = |kind| {
        lot.state
            .byproducts
            .get(&kind)
            .copied()
            .unwrap_or_default()
            .grams()
    };
    assert_eq!(
        (
            kept(Byproduct::Fat),
            kept(Byproduct::Rendered),
            kept(Byproduct::Bone)
        ),
        (500.0, 1_100.0, 0.0)
    );
    let lost = |loss| {
        lot.state
            .losses
            .get(&loss)
            .copied()
            .unwrap_or_default()
            .grams()
    };
    assert_eq!(
        (lost(Loss::Cooking), lost(Loss::Used), lost(Loss::Waste)),
        (400.0, 2_000.0, 1_000.0)
    );
    let (taken, held) = lot.state.in_and_out();
    assert_eq!(taken, held);
    for (ask, field) in [
        (
            json!({"act": "byproduct_used", "lot": 1, "kind": "fat", "reading": "600 g", "used": "cooked"}),
            "more than",
        ),
        (
            json!({"act": "byproduct_used", "lot": 1, "kind": "fat", "reading": "400 g", "used": "rendered"}),
            "Weigh the fat",
        ),
        (
            json!({"act": "byproduct_used", "lot": 1, "kind": "fat", "reading": "400 g", "used": "rendered", "gave": "500 g"}),
            "cannot give",
        ),
        (
            json!({"act": "byproduct_used", "lot": 1, "kind": "rendered", "reading": "400 g", "used": "rendered", "gave": "300 g"}),
            "Only fat and skin",
        ),
        (
            json!({"act": "byproduct_weighed", "lot": 1, "kind": "rendered", "reading": "400 g"}),
            "comes out of fat",
        ),
    ] {
        let why = season.does(&ask, true).unwrap_err();
        assert!(why.contains(field), "{ask}: {why}");
    }
}

#[test]
fn a_roll_is_asked_how_thick_it_is_and_its_cure_stays_by_its_own_thickness() {
    let mut season = Season::empty();
    season.did(&[
        json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "42 kg"}),
        json!({"act": "piece_weighed", "lot": 1, "cut": "loin_and_belly", "reading": "4 kg", "thickness": "45 mm"}),
        json!({"act": "assigned", "piece": 1, "build": "round-roll"}),
        json!({"act": "dosed", "pieces": [1]}),
    ]);
    season.wait_h(24 * 20);
    season.did(&[json!({"act": "out_of_cure", "piece": 1, "reading": "3.95 kg"})]);
    season.wait_h(2);
    let bare = json!({"act": "step_done", "piece": 1, "step": "roll"});
    assert!(season.asked(&bare).contains("RollUnmeasured"));
    assert!(
        season
            .does(
                &json!({"act": "step_done", "piece": 1, "step": "roll", "thickness": "105 mm"}),
                false
            )
            .is_ok()
    );
    let piece = season.piece(1);
    assert_eq!(piece.thickness_now(), Some(Millimetres(105.0)));
    assert_eq!(piece.shape.thickness(), Some(Millimetres(45.0)));
    let other = json!({"act": "step_done", "piece": 1, "step": "firm_up", "thickness": "105 mm"});
    assert!(season.does(&other, true).is_err());
}

#[test]
fn a_thin_flap_among_slabs_is_asked_about_when_it_gets_their_product() {
    let mut season = hog();
    season.did(&[
        json!({"act": "piece_weighed", "lot": 1, "cut": "butt", "reading": "1.6 kg", "thickness": "60 mm"}),
        json!({"act": "piece_weighed", "lot": 1, "cut": "butt", "reading": "500 g", "thickness": "27 mm"}),
        json!({"act": "piece_weighed", "lot": 1, "cut": "butt", "reading": "900 g", "thickness": "40 mm"}),
        json!({"act": "assigned", "piece": 2, "build": "shoulder-slab"}),
    ]);
    assert!(
        season
            .does(
                &json!({"act": "assigned", "piece": 4, "build": "shoulder-slab"}),
                false
            )
            .is_ok()
    );
    let said = season.asked(&json!({"act": "assigned", "piece": 3, "build": "shoulder-slab"}));
    assert!(
        said.contains("ThinFlap") && said.contains("27 mm beside 60 mm"),
        "{said}"
    );
}

#[test]
fn a_measured_dose_waits_as_long_as_its_container_lets_it_and_is_turned_as_it_is_closed() {
    use crate::timetable::trips;
    for (closed, days, word) in [
        (json!("sealed"), 28, Some("massage")),
        (json!("sealed_with_air"), 28, Some("squeeze")),
        (json!("open"), 14, Some("spoon")),
        (json!("held_down"), 14, Some("shake")),
    ] {
        let mut season = Season::empty();
        season.did(&[
            json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "42 kg"}),
            json!({"act": "piece_weighed", "lot": 1, "cut": "belly", "reading": "2 kg", "thickness": "36 mm"}),
            json!({"act": "assigned", "piece": 1, "build": "belly-slab"}),
            json!({"act": "dosed", "pieces": [1], "vessels": [{"pieces": [1], "closed": closed}]}),
        ]);
        let out = season
            .tasks(1)
            .into_iter()
            .find(|t| t.kind == TaskKind::OutOfCure)
            .unwrap();
        let waits = out.latest.since(out.due).unwrap().get_days();
        assert_eq!(waits, days, "{closed}");
        season.wait_h(24);
        let plans: Vec<_> = season
            .book
            .lots()
            .map(|lot| {
                std::sync::Arc::new(crate::timetable::LotPlan::of(
                    &season.book,
                    lot,
                    &season.home,
                    season.now,
                ))
            })
            .collect();
        let said = |_| crate::timetable::Said {
            word: crate::piece::printed::Verdict::CookBeforeEating,
            waits: false,
        };
        let today = trips(&plans, &season.book, &season.home, season.now, said);
        let turn = today
            .trips
            .iter()
            .flat_map(|t| &t.rows)
            .find(|r| r.kind == TaskKind::Turn)
            .unwrap();
        let words = turn.words.clone().unwrap_or_default();
        assert!(word.is_none_or(|w| words.contains(w)), "{closed}: {words}");
    }
}

#[test]
fn the_salt_of_the_pantry_is_asked_about_once_and_said_at_the_dose() {
    use crate::acts::weigh_out::SheetAsk;
    use crate::caution::{Code, Severity};
    use crate::stock::{Pantry, StockItem, StockKind};
    use crate::testing::stock_item;
    let jar = |name: &str, plain| StockItem {
        plain,
        ..stock_item(name, StockKind::Salt, 900.0)
    };
    #[rustfmt::skip]
    let cases = [
        ("an empty pantry",                 vec![],                                                Some(Severity::Info)),
        ("nobody looked",                   vec![jar("salt", None)],                               Some(Severity::Info)),
        ("it is plain",                     vec![jar("Salt", Some(true))],                         None),
        ("it has additives",                vec![jar("salt", Some(false))],                        Some(Severity::Caution)),
        ("one jar of two was not looked at", vec![jar("salt", Some(true)), jar("salt", None)],     Some(Severity::Info)),
        ("called otherwise, and plain",     vec![jar("sea salt", Some(true))],                     None),
        ("its own name before another's",   vec![jar("sea salt", Some(false)), jar("salt", Some(true))], None),
    ];
    for (what, items, want) in cases {
        let mut season = hog();
        season.home.pantry = Pantry { items }.into();
        let ask: SheetAsk = serde_json::from_value(json!({"pieces": [1]})).unwrap();
        let prepared = ask.prepare(&season.book, &season.home).unwrap();
        let made = prepared.sheet(&season.book, &season.home).unwrap();
        let said = made.findings.iter().find(|f| f.code == Code::SaltNotPlain);
        assert_eq!(said.map(|f| f.severity), want, "{what}");
    }
}

#[test]
fn a_net_and_string_come_off_the_pantry_with_the_casing() {
    use crate::stock::{Pantry, StockKind};
    use crate::testing::stock_item;
    let mut season = Season::empty();
    season.home.pantry = Pantry {
        items: vec![
            stock_item("beef bung", StockKind::Casing, 4.0),
            stock_item("collar net", StockKind::Net, 6.0),
            stock_item("string", StockKind::String, 40.0),
        ],
    }
    .into();
    season.cures_a_collar("1.57 kg");
    season.did(&[
        json!({"act": "cased", "piece": 1, "casing": "beef bung", "taken": "0.9 m", "back": "0.2 m",
            "also": [{"name": "Collar net", "taken": "70 cm"}, {"name": "string", "taken": "3 m"}, {"name": "", "taken": ""}]}),
    ]);
    let standing = season
        .home
        .pantry
        .standing(&season.book, season.home.settings.day(season.now));
    let left: Vec<f64> = standing
        .iter()
        .map(|s| (s.left * 10.0).round() / 10.0)
        .collect();
    assert_eq!(left, [3.3, 5.3, 37.0]);
    for also in [
        json!([{"name": "string", "taken": ""}]),
        json!([{"name": "", "taken": "1 m"}]),
        json!([{"name": "string", "taken": "0 m"}]),
    ] {
        let ask = json!({"act": "cased", "piece": 1, "casing": "beef bung", "also": also});
        assert!(season.does(&ask, true).is_err(), "{also}");
    }
}

#[test]
fn a_tray_is_ticked_once_for_its_place_and_asked_about_again_where_it_is_gone() {
    use crate::ids::PieceId;
    use crate::ledger::own::is_well;
    let mut season = Season::empty();
    season.did(&[
        json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "42 kg"}),
    ]);
    for piece in 1..=2 {
        season.did(&[
            json!({"act": "piece_weighed", "lot": 1, "cut": "belly", "reading": "2 kg", "thickness": "36 mm"}),
            json!({"act": "assigned", "piece": piece, "build": "belly-slab"}),
        ]);
    }
    let place = 5;
    season.home.settings = crate::household::Household {
        equipment: Some(crate::place::equipment::Equipment {
            places: vec![crate::place::Place {
                id: place,
                ..crate::place::Place::new("fridge", "the fridge", 1, 60.0)
            }],
            ..crate::place::equipment::Equipment::default()
        }),
        ..season.home.settings.clone()
    };
    season.did(&[json!({"act": "dosed", "pieces": [1, 2], "place": place})]);
    let catalogue = season.book.catalogue().clone();
    let tray = catalogue.check("tray").unwrap();
    assert!(tray.of_place);
    assert!(!is_well(&season.book, tray, place));
    season.wait_h(1);
    season.did(&[json!({"act": "checked", "piece": 1, "check": "tray", "grade": "there"})]);
    assert!(is_well(&season.book, tray, place));
    assert!(!is_well(&season.book, tray, place + 1));
    season.wait_h(1);
    season.did(&[json!({"act": "checked", "piece": 2, "check": "tray", "grade": "none"})]);
    assert!(!is_well(&season.book, tray, place));
    assert_eq!(season.piece(2).id, PieceId(2));
}
