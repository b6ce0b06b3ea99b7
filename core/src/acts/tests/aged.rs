//! Time counts against what waits: in its cure, out of it, cooked and unpacked; what hangs does not age, and frozen time is left out.

use crate::agenda::TaskKind;
use crate::ledger::book::Change;
use crate::piece::printed::Verdict;
use crate::testing::Season;
use crate::verdict::{Judge, ReasonCode};
use jiff::ToSpan;
use jiff::civil::Date;
use serde_json::{Value, json};

fn hog() -> Season {
    let mut season = Season::empty();
    season.did(&[
        json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "42 kg"}),
        json!({"act": "hold_answered", "lot": 1, "kind": "freezing", "answer": "clear", "note": "test 44"}),
        json!({"act": "piece_weighed", "lot": 1, "cut": "belly", "reading": "2 kg", "thickness": "36 mm"}),
        json!({"act": "assigned", "piece": 1, "build": "belly-slab"}),
        json!({"act": "dosed", "pieces": [1], "vessels": [{"pieces": [1], "closed": "open"}]}),
    ]);
    season
}

/// So many days after its planned day out.
fn past(days: i64) -> Season {
    let mut season = hog();
    let out = season
        .tasks(1)
        .into_iter()
        .find(|t| t.kind == TaskKind::OutOfCure)
        .unwrap()
        .due;
    let noon = out.saturating_add(days.days()).at(12, 0, 0, 0);
    season.now = noon
        .to_zoned(season.home.settings.zone())
        .unwrap()
        .timestamp();
    season
}

fn smoked() -> Season {
    let mut season = past(1);
    season.did(&[
        json!({"act": "out_of_cure", "piece": 1, "reading": "1.95 kg"}),
        json!({"act": "smoked", "piece": 1, "reading": "1.7 kg", "inside": "68 C", "chamber": "95 C"}),
    ]);
    season
}

fn packed() -> Value {
    json!({"act": "packed", "piece": 1, "finished": true, "packs": [{"reading": "1.68 kg", "place": "fridge, vacuum packed"}]})
}

fn word(season: &Season) -> (Verdict, Vec<ReasonCode>) {
    let judge = Judge {
        book: &season.book,
        home: &season.home,
    };
    let (lot, piece) = season.book.piece(crate::ids::PieceId(1)).unwrap();
    let verdict = judge.at(judge.piece(&lot.state, piece), piece, season.now);
    (
        verdict.word,
        verdict.reasons.iter().map(|r| r.code).collect(),
    )
}

#[test]
fn past_its_day_and_slack_a_piece_in_cure_is_asked_about_and_past_all_measure_nobody_eats_it() {
    let out = json!({"act": "out_of_cure", "piece": 1, "reading": "1.95 kg"});
    // An open container waits 14 days; 90 more, and nobody knows any more.
    for (days, asked, lost) in [
        (0, false, false),
        (14, false, false),
        (15, true, false),
        (104, true, false),
        (105, true, true),
        (700, true, true),
    ] {
        let mut season = past(days);
        assert_eq!(word(&season).0 == Verdict::DoNotEat, lost, "{days}");
        let said = season.does(&out, false);
        assert_eq!(
            said.as_ref().is_err_and(|e| e.contains("LongPast")),
            asked,
            "{days}: {said:?}"
        );
        if !asked {
            continue;
        }
        let kept = season.does(&out, true);
        assert_eq!(kept.is_err(), lost, "{days}: {kept:?}");
        if lost {
            let mut with = out.clone();
            with["reason"] = json!("in the freezer since March");
            season.did(&[with]);
            assert_ne!(word(&season).0, Verdict::DoNotEat, "{days}");
        }
    }
}

#[test]
fn what_a_book_says_without_a_reason_is_not_eaten_however_it_came_there() {
    let mut season = past(300);
    let act: crate::acts::Ask =
        serde_json::from_value(json!({"act": "out_of_cure", "piece": 1, "reading": "1.95 kg"}))
            .unwrap();
    let drafted = act
        .draft(
            &mut crate::acts::DraftContext::new(&season.book, &season.home, season.now),
            None,
        )
        .unwrap();
    let changes: Vec<Change> = drafted
        .into_iter()
        .map(|(lot, act)| Change::Add {
            lot,
            at: season.now,
            act: Box::new(act),
            kept: Vec::new(),
        })
        .collect();
    season.writes(&changes).unwrap();
    assert_eq!(word(&season), (Verdict::DoNotEat, vec![ReasonCode::TooOld]));
}

#[test]
fn cooked_and_unpacked_it_is_asked_about_after_a_week_and_not_eaten_after_three_unless_it_was_frozen()
 {
    for (days, frozen, asked, lost) in [
        (7, 0, false, false),
        (8, 0, true, false),
        (21, 0, true, false),
        (22, 0, true, true),
        (400, 0, true, true),
        (400, 395, false, false),
    ] {
        let mut season = smoked();
        season.wait_h(24);
        if frozen > 0 {
            season.did(&[json!({"act": "frozen", "piece": 1})]);
            season.wait_h(24 * frozen);
            season.did(&[json!({"act": "thawed", "piece": 1})]);
        }
        season.wait_h(24 * (days - frozen - 1));
        assert_eq!(
            word(&season).0 == Verdict::DoNotEat,
            lost,
            "{days} {frozen}"
        );
        let said = season.does(&packed(), false);
        assert_eq!(
            said.as_ref().is_err_and(|e| e.contains("LongPast")),
            asked,
            "{days} {frozen}: {said:?}"
        );
        if asked {
            assert_eq!(
                season.does(&packed(), true).is_err(),
                lost,
                "{days} {frozen}"
            );
        }
    }
}

#[test]
fn a_pack_keeps_from_the_last_thing_that_made_it_keep() {
    let until = |wait_h: i64, frozen_h: i64| -> (Date, Date) {
        let mut season = smoked();
        let smoked_on = season.home.settings.day(season.now);
        season.wait_h(24);
        if frozen_h > 0 {
            season.did(&[json!({"act": "frozen", "piece": 1})]);
            season.wait_h(frozen_h);
            season.did(&[json!({"act": "thawed", "piece": 1})]);
        }
        season.wait_h(wait_h - 24);
        season.did(&[packed()]);
        let judge = Judge {
            book: &season.book,
            home: &season.home,
        };
        let (lot, piece) = season.book.piece(crate::ids::PieceId(1)).unwrap();
        let pack = &lot.state.packs[&piece.packs[0]];
        let verdict = judge.pack(&lot.state, piece, pack.id);
        let really = judge.really(&lot.state, piece);
        let keeps = judge.keeps(piece, pack, &verdict, really.as_ref());
        (smoked_on, keeps[0].until)
    };
    let (smoked_on, at_once) = until(24, 0);
    let (_, later) = until(24 * 6, 0);
    assert_eq!(at_once, later);
    assert!(later > smoked_on);
    // A month in the freezer is not counted.
    let (_, frozen) = until(24 * 6, 24 * 30);
    assert_eq!(frozen, later.saturating_add(30.days()));
}

#[test]
fn what_hangs_by_its_product_does_not_age() {
    let mut season = Season::empty();
    season.cures_a_collar("1.56 kg");
    season.did(&[json!({"act": "hung", "piece": 1, "reading": "1.6 kg", "tare": "40 g"})]);
    season.wait_h(24 * 400);
    assert_ne!(word(&season).0, Verdict::DoNotEat);
    let down = json!({"act": "taken_down", "piece": 1, "reading": "1.04 kg"});
    assert!(
        !season
            .does(&down, false)
            .is_err_and(|e| e.contains("LongPast"))
    );
}
