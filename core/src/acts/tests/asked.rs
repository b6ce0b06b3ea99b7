//! What is asked about by how long something lay: raw, in its cure, in its salt.

use crate::agenda::TaskKind;
use crate::assign::plan::still_to_come;
use crate::catalogue::steps::{StepKind, TripPlace};
use crate::caution::Code;
use crate::cure::span::cure_span;
use crate::ids::PieceId;
use crate::piece::printed::Verdict;
use crate::stock::{Pantry, StockItem, StockKind};
use crate::testing::{Season, stock_item};
use crate::timetable::{LotPlan, Said, away, trips};
use crate::verdict::Judge;
use serde_json::{Value, json};
use std::sync::Arc;

/// A bought half hog with one piece, given a product.
fn hog(cut: &str, grams: u32, mm: u32, build: &str) -> Season {
    let mut season = Season::empty();
    season.did(&[
        json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "42 kg"}),
        json!({"act": "hold_answered", "lot": 1, "kind": "freezing", "answer": "clear", "note": "test 118-4"}),
        json!({"act": "piece_weighed", "lot": 1, "cut": cut, "reading": format!("{grams} g"), "thickness": format!("{mm} mm")}),
        json!({"act": "assigned", "piece": 1, "build": build, "reason": "as an uncle made it"}),
    ]);
    season
}

fn dosed() -> Value {
    json!({"act": "dosed", "pieces": [1]})
}

fn out(grams: u32) -> Value {
    json!({"act": "out_of_cure", "piece": 1, "reading": format!("{grams} g")})
}

#[test]
fn raw_meat_of_many_days_is_asked_about_when_it_is_dosed_unless_it_was_frozen() {
    let mut season = hog("belly", 2_000, 36, "belly-slab");
    season.wait_h(24 * 4);
    assert!(season.does(&dosed(), false).is_ok(), "four days");
    let mut season = hog("belly", 2_000, 36, "belly-slab");
    season.wait_h(24 * 8);
    let said = season.asked(&dosed());
    assert!(
        said.contains("KeptRaw") && said.contains("8 days"),
        "{said}"
    );
    season.did(&[dosed()]);
    let mut season = hog("belly", 2_000, 36, "belly-slab");
    season.did(&[json!({"act": "freezer_read", "lot": 1, "inside": "-18 C"})]);
    season.wait_h(24 * 30);
    assert!(season.does(&dosed(), false).is_ok(), "it was frozen");
}

#[test]
fn a_salt_box_that_took_too_little_is_asked_about_when_the_piece_comes_out() {
    for (grams, asked) in [(588, true), (570, false), (560, false)] {
        let mut season = hog("tenderloin", 600, 40, "tenderloin-buried");
        season.did(&[json!({"act": "dosed", "pieces": [1], "way": "salt_box", "reason": "an old way of this house"})]);
        season.wait_h(34);
        let said = season.does(&out(grams), false);
        assert_eq!(
            said.as_ref().is_err_and(|e| e.contains("BoxLostLittle")),
            asked,
            "{grams} g: {said:?}"
        );
    }
}

#[test]
fn out_on_the_day_that_cold_moved_is_not_saltier() {
    // Five frosts of ten hours: two days that do not count.
    for (later, saltier) in [(0, false), (1, true)] {
        let mut season = hog("loin", 2_000, 60, "back-smoked");
        season.did(&[json!({"act": "dosed", "pieces": [1], "way": "cover_brine", "reason": "an old way of this house"})]);
        for _ in 0..5 {
            season.wait_h(24);
            season.did(&[json!({"act": "place_read", "place": "porch", "piece": 1, "temperature": "-1 C", "hours": 10})]);
        }
        let span = cure_span(season.piece(1), &season.home, season.book.catalogue()).unwrap();
        assert_eq!(span.counted, span.days + 2);
        season.wait_h(24 * (i64::from(span.counted) - 5 + later));
        season.did(&[out(2_050)]);
        let judge = Judge {
            book: &season.book,
            home: &season.home,
        };
        let (lot, piece) = season.book.piece(PieceId(1)).unwrap();
        let said = judge.piece(&lot.state, piece).findings;
        assert_eq!(
            said.iter().any(|f| f.code == Code::LeftCureLate),
            saltier,
            "{later}: {said:?}"
        );
    }
}

#[test]
fn a_casing_is_held_against_the_piece_the_stock_and_the_water_it_lay_in() {
    #[rustfmt::skip]
    let cases = [
        ("it fits",                            json!({"girth": "24 cm", "taken": "0.4 m"}), None),
        ("30 cm into 23.6, by the pantry",     json!({"girth": "30 cm", "taken": "0.4 m"}), Some("CasingFit")),
        ("not measured, and far too narrow",   json!({"diameter": "40 mm"}),                Some("CasingFit")),
        ("not measured, and likely",           json!({}),                                   None),
        ("5.6 m of half a metre",              json!({"girth": "24 cm", "taken": "5.6 m"}), Some("MoreThanKept")),
        ("soaked in one water",                json!({"soaked": 60}),                       Some("CasingWater")),
        ("soaked in three",                    json!({"soaked": 60, "changes": 2}),         None),
        ("rinsed",                             json!({"soaked": 10}),                       None),
    ];
    for (what, typed, want) in cases {
        let mut season = hog("neck_muscle", 1_600, 75, "muscle-cased");
        season.home.pantry = Pantry {
            items: vec![StockItem {
                diameter_mm: Some(75.0),
                ..stock_item("beef middle", StockKind::Casing, 0.5)
            }],
        }
        .into();
        season.did(&[dosed()]);
        season.wait_h(24 * 28);
        season.did(&[out(1_560)]);
        let mut ask = json!({"act": "cased", "piece": 1, "casing": "Beef middle"});
        for (key, value) in typed.as_object().unwrap() {
            ask[key] = value.clone();
        }
        let said = season.does(&ask, false);
        match want {
            None => assert_eq!(said, Ok(()), "{what}"),
            Some(code) => assert!(
                said.as_ref().is_err_and(|e| e.contains(code)),
                "{what}: {said:?}"
            ),
        }
        season.did(&[ask]);
        let width = if typed["diameter"].is_null() {
            75.0
        } else {
            40.0
        };
        assert_eq!(
            season.piece(1).cased[0].width.map(|w| w.0).unwrap_or(width),
            width,
            "{what}"
        );
    }
}

#[test]
fn a_coat_comes_before_the_smoke_though_the_smoker_is_nearer_and_away_says_what_is_possible() {
    let mut season = hog("belly", 2_000, 36, "brisket-slab");
    season.did(&[dosed()]);
    season.wait_h(24 * 12);
    season.did(&[
        out(1_980),
        json!({"act": "checked", "piece": 1, "check": "tacky", "grade": "tacky"}),
    ]);
    season.wait_h(30);
    let plans: Vec<_> = season
        .book
        .lots()
        .map(|lot| Arc::new(LotPlan::of(&season.book, lot, &season.home, season.now)))
        .collect();
    let word = |_| Said {
        word: Verdict::CookBeforeEating,
        waits: false,
    };
    let day = trips(&plans, &season.book, &season.home, season.now, word);
    let walked: Vec<_> = day
        .trips
        .iter()
        .flat_map(|t| t.rows.iter().map(|r| (t.place, r.kind)))
        .collect();
    let smoke = walked
        .iter()
        .position(|w| *w == (TripPlace::Smoker, TaskKind::Smoke));
    let slice = walked
        .iter()
        .position(|w| *w == (TripPlace::Table, TaskKind::ByHand));
    assert!(slice.is_some() && slice < smoke, "{walked:?}");
    // Out of its cure it cannot be left in there.
    let today = season.home.settings.day(season.now);
    let gone = (
        today.tomorrow().unwrap(),
        today.saturating_add(jiff::ToSpan::days(9)),
    );
    let said = away(&plans, &season.book, &season.home, season.now, gone);
    let words: Vec<_> = said
        .groups
        .iter()
        .flat_map(|g| &g.lines)
        .map(|l| l.words.clone())
        .collect();
    assert!(
        !words.is_empty() && words.iter().all(|w| !w.contains("leave it in its cure")),
        "{words:?}"
    );
}

#[test]
fn what_is_planned_of_an_animal_is_no_more_than_what_still_hangs_there() {
    let mut season = Season::empty();
    season.did(&[json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "42 kg"})]);
    let planned = |season: &Season| -> f64 {
        let lot = season.book.lots().next().unwrap();
        let own =
            crate::ledger::own::shares(&season.book, lot.state.lot.as_ref().unwrap().species());
        still_to_come(lot, &own)
            .iter()
            .map(|(_, n, each)| f64::from(*n) * each.0)
            .sum()
    };
    assert!(planned(&season) > 20_000.0);
    // Far heavier than expected, one piece leaves little for the others.
    season.did(&[json!({"act": "piece_weighed", "lot": 1, "cut": "leg", "reading": "36 kg", "thickness": "180 mm"})]);
    let left = season.book.lots().next().unwrap().state.left.grams();
    assert!(
        planned(&season) <= left + 1e-6 && planned(&season) > 0.0,
        "{} of {left}",
        planned(&season)
    );
}

#[test]
fn of_a_piece_split_flat_one_part_keeps_the_fat_side() {
    let fat = |season: &Season| {
        (2..=3)
            .map(|id| season.piece(id).shape.fat_cap)
            .collect::<Vec<_>>()
    };
    let part = |mm: u32, fat: Option<bool>| json!({"reading": "990 g", "thickness": format!("{mm} mm"), "fat_cap": fat});
    let capped = || {
        let mut season = Season::empty();
        season.did(&[
            json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "42 kg"}),
            json!({"act": "piece_weighed", "lot": 1, "cut": "loin", "reading": "2 kg", "thickness": "80 mm", "fat_cap": true}),
        ]);
        season
    };
    let mut season = capped();
    let said =
        season.asked(&json!({"act": "cut", "piece": 1, "parts": [part(40, None), part(40, None)]}));
    assert!(said.contains("FatSide"), "{said}");
    season.did(&[
        json!({"act": "cut", "piece": 1, "parts": [part(40, Some(false)), part(40, Some(true))]}),
    ]);
    assert_eq!(fat(&season), [false, true]);
    // Cut across, both of them have it.
    let mut season = capped();
    assert_eq!(
        season.does(
            &json!({"act": "cut", "piece": 1, "parts": [part(80, None), part(78, None)]}),
            false
        ),
        Ok(())
    );
    assert_eq!(fat(&season), [true, true]);
}

#[test]
fn a_bought_cut_is_what_was_said_of_it_and_asks_nothing_of_other_cuts() {
    let bone = |name: &str, said: Option<bool>| {
        let mut season = Season::empty();
        season.did(&[json!({"act": "received", "name": name, "species": "pig", "origin": "bought", "known": "bought_cut", "portion": "primal",
            "cut": "loin", "reading": "4 kg", "bone_in": said})]);
        let lot = season.book.lots().next().unwrap();
        assert!(crate::assign::cutsheet::settled(lot).is_empty());
        let came = lot.state.lot.as_ref().unwrap();
        came.received
            .comes_bone_in(came.species().cut("loin").unwrap())
    };
    assert!(bone("a loin", None), "as the cut usually comes");
    assert!(!bone("boneless loin", None));
    assert!(!bone("a loin", Some(false)));
    assert!(bone("loin, boneless?", Some(true)));
}

#[test]
fn a_piece_of_another_method_goes_by_the_words_of_that_method() {
    let mut season = hog("tenderloin", 600, 40, "tenderloin-buried");
    season.did(&[json!({"act": "dosed", "pieces": [1], "way": "salt_box", "reason": "an old way of this house"})]);
    let build = season.piece(1).build().unwrap();
    let words = |kind| build.step(kind).unwrap().words.clone();
    assert!(
        words(StepKind::Dose).starts_with("Buried in salt"),
        "{}",
        words(StepKind::Dose)
    );
    assert!(
        !words(StepKind::Cure).contains("Turn")
            && build
                .step(StepKind::Cure)
                .unwrap()
                .check
                .as_ref()
                .unwrap()
                .contains("brush")
    );
}

#[test]
fn what_is_pumped_is_a_task_until_it_was_weighed() {
    let mut season = hog("loin", 3_000, 80, "back-smoked");
    season.did(&[json!({"act": "dosed", "pieces": [1], "way": "pumped"})]);
    let kinds = |season: &Season| {
        season
            .tasks(1)
            .into_iter()
            .map(|t| t.kind)
            .collect::<Vec<_>>()
    };
    assert!(kinds(&season).contains(&TaskKind::Pump));
    season.did(&[json!({"act": "injected", "piece": 1, "after": "3300 g"})]);
    assert!(!kinds(&season).contains(&TaskKind::Pump));
}

#[test]
fn a_bond_that_did_not_set_and_a_warm_roll_are_asked_about() {
    let rolled = |rest_h: i64| {
        let mut season = Season::empty();
        season.did(&[
            json!({"act": "received", "name": "lamb", "species": "lamb", "origin": "bought", "known": "carcass", "reading": "22 kg"}),
            json!({"act": "piece_weighed", "lot": 1, "cut": "belly", "reading": "1200 g", "thickness": "25 mm"}),
            json!({"act": "assigned", "piece": 1, "build": "lamb-roll"}),
            dosed(),
        ]);
        season.wait_h(24 * 8);
        season.did(&[
            out(1_180),
            json!({"act": "coated", "piece": 1, "name": "transglutaminase", "reading": "12 g"}),
        ]);
        let roll = season
            .piece(1)
            .build()
            .unwrap()
            .step(StepKind::Roll)
            .unwrap()
            .id
            .clone();
        season.did(&[json!({"act": "step_done", "piece": 1, "step": roll})]);
        season.wait_h(rest_h);
        season
    };
    let smoked = json!({"act": "smoked", "piece": 1, "reading": "1050 g", "inside": "72 C", "chamber": "95 C"});
    let mut season = rolled(3);
    let said = season.asked(&smoked);
    assert!(
        said.contains("BinderRest") && said.contains("3 of 12 h"),
        "{said}"
    );
    let mut season = rolled(14);
    assert!(
        !season
            .does(&smoked, false)
            .is_err_and(|e| e.contains("BinderRest"))
    );
    if season.piece(1).heats.is_empty() {
        season.did(&[smoked]);
    }
    season.wait_h(1);
    let packed =
        json!({"act": "packed", "piece": 1, "finished": false, "packs": [{"reading": "300 g"}]});
    assert!(season.asked(&packed).contains("SlicedWarm"));
    season.wait_h(20);
    season.did(&[json!({"act": "cooled", "piece": 1, "inside": "4 C", "hours": 20})]);
    assert!(
        !season
            .does(&packed, false)
            .is_err_and(|e| e.contains("SlicedWarm"))
    );
}

#[test]
fn fresh_garlic_on_what_dries_raw_and_the_skin_of_an_old_boar_are_asked_about() {
    let own = |name: &str| json!({"act": "dosed", "pieces": [1], "own": {"additions": [{"name": name, "amount": "5 g/kg"}]}});
    for (name, asked) in [
        ("fresh garlic", true),
        ("garlic in oil", true),
        ("garlic powder", false),
        ("black pepper", false),
    ] {
        let mut season = hog("neck_muscle", 1_600, 70, "muscle-cased");
        let said = season.does(&own(name), false);
        assert_eq!(
            said.as_ref().is_err_and(|e| e.contains("FreshInRaw")),
            asked,
            "{name}: {said:?}"
        );
    }
    for (age, sex, asked) in [
        ("old", "male", true),
        ("young", "male", false),
        ("old", "female", false),
    ] {
        let mut season = Season::empty();
        season.did(&[
            json!({"act": "received", "name": "boar", "species": "wild_boar", "origin": "harvested", "known": "carcass", "reading": "60 kg",
                "skin_on": true, "sex": sex, "age": age}),
            json!({"act": "piece_weighed", "lot": 1, "cut": "belly", "reading": "2 kg", "thickness": "36 mm", "skin_on": true}),
        ]);
        let said = season.does(
            &json!({"act": "assigned", "piece": 1, "build": "belly-slab"}),
            false,
        );
        assert_eq!(
            said.as_ref().is_err_and(|e| e.contains("OldSkin")),
            asked,
            "{age} {sex}: {said:?}"
        );
    }
}
