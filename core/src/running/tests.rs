//! What a run refuses, asks about or stops, act by act: each row is one act in a run that stands as it says.

use super::validator::RunValidator;
use crate::caution::{Code, Severity};
use crate::ids::RunId;
use crate::run::{Event, Run, RunAct, Runs};
use crate::testing::Season;
use jiff::SignedDuration;
use serde_json::json;

/// What is said to an act.
#[derive(Debug, PartialEq)]
enum Says {
    Fine,
    /// Refused, at this field.
    Wrong(&'static str),
    /// Asked about.
    Asks(Code),
    /// Stopped until somebody gives a reason.
    Stops(Code),
}
use Says::{Asks, Fine, Stops, Wrong};

const OWN_WAY: &str = "this is how we have always done it here";

/// Five loins: cured and out of it; raw; cured without nitrite for a reason; cured with a third of it; and one that came under way
/// salted, without nitrite, for which nobody gave a reason.
fn kitchen() -> Season {
    let mut season = Season::empty();
    let mut did = |ask| {
        let said = season.does(&ask, true);
        assert!(said.is_ok(), "{ask}: {said:?}");
    };
    did(
        json!({"act": "received", "name": "made up", "species": "pig", "origin": "bought", "known": "carcass", "reading": "90 kg"}),
    );
    for piece in 1..=4 {
        did(
            json!({"act": "piece_weighed", "lot": 1, "cut": "loin", "reading": "1500 g", "thickness": "60 mm"}),
        );
        if piece != 2 {
            did(json!({"act": "assigned", "piece": piece, "build": "back-smoked"}));
        }
    }
    did(json!({"act": "dosed", "pieces": [1]}));
    did(json!({"act": "dosed", "pieces": [3], "own": {"cure": "none"}, "reason": OWN_WAY}));
    did(
        json!({"act": "dosed", "pieces": [4], "way": "rubbed", "own": {"cure_g_per_kg": "0.7 g/kg"}, "reason": OWN_WAY}),
    );
    season.now += SignedDuration::from_hours(24 * 14);
    for piece in [1, 3, 4] {
        let out =
            json!({"act": "out_of_cure", "piece": piece, "reading": "1500 g", "reason": OWN_WAY});
        let said = season.does(&out, true);
        assert!(said.is_ok(), "{piece}: {said:?}");
    }
    for ask in [
        json!({"act": "under_way", "lot": 1, "cut": "loin", "build": "back-smoked", "at": "in_cure", "since": "2026-01-12", "reading": "1500 g",
            "thickness": "60 mm", "weighed": {"cure": "none", "lines": [{"name": "salt", "reading": "40 g"}]}}),
        json!({"act": "out_of_cure", "piece": 5, "reading": "1490 g"}),
    ] {
        let said = season.does(&ask, true);
        assert!(said.is_ok(), "{ask}: {said:?}");
    }
    season
}

const SET_UP: &str = r#"{"act": "set_up", "name": "drum", "hearth": "smoker", "stages": [
    {"kind": "smoke", "name": "smoke", "set_c": 90.0, "smoke": true, "ends": {"hours": 2.0}},
    {"kind": "finish", "name": "finish", "set_c": 95.0, "smoke": false, "ends": "marks"}]}"#;
const LAID: &str = r#"{"act": "loaded", "piece": 1, "zone": "left"}"#;
const BEGUN: &str = r#"{"act": "stage_begun", "stage": 0}"#;
const PROBED: &str = r#"{"act": "probe_set", "probe": 1, "seat": {"piece": 1}}"#;
const OVER: &str = r#"{"act": "ended"}"#;
const LIT: &str =
    r#"{"act": "lit", "kind": "chips", "wood": "oak", "grams": 150.0, "burns_h": 4.0}"#;

/// What is done, in a run in which so much was done, and what is said to it.
type Row = (&'static str, &'static [&'static str], &'static str, Says);

#[rustfmt::skip]
const ROWS: &[Row] = &[
    // setting up and stages
    ("set up twice", &[], SET_UP, Wrong("act")),
    ("no stage", &[], r#"{"act": "staged", "stages": []}"#, Wrong("stages")),
    ("cold smoke at 60 °C", &[], r#"{"act": "staged", "stages": [{"kind": "cold_smoke", "name": "cold", "set_c": 60.0, "smoke": true, "ends": "marks"}]}"#, Wrong("stages[0].set")),
    ("a stage of no hours", &[], r#"{"act": "staged", "stages": [{"kind": "dry", "name": "dry", "set_c": 50.0, "smoke": false, "ends": {"hours": 0.0}}]}"#, Wrong("stages[0].hours")),
    ("a stage that ends at 5 °C inside", &[], r#"{"act": "staged", "stages": [{"kind": "dry", "name": "dry", "set_c": 50.0, "smoke": false, "ends": {"inside": 5.0}}]}"#, Wrong("stages[0].inside")),
    ("a begun stage taken off the list", &[LAID, BEGUN, r#"{"act": "stage_begun", "stage": 1}"#], r#"{"act": "staged", "stages": [{"kind": "dry", "name": "dry", "set_c": 50.0, "smoke": false, "ends": "marks"}]}"#, Wrong("stages")),
    ("begun with nothing in it", &[], BEGUN, Wrong("stage")),
    ("a stage that is not there", &[LAID], r#"{"act": "stage_begun", "stage": 2}"#, Wrong("stage")),
    ("begun", &[LAID], BEGUN, Fine),
    ("a pause before the first stage", &[LAID], r#"{"act": "paused"}"#, Wrong("act")),
    ("a pause", &[LAID, BEGUN], r#"{"act": "paused"}"#, Fine),
    ("it goes on, and never stopped", &[LAID, BEGUN], r#"{"act": "resumed"}"#, Wrong("act")),
    // pieces
    ("laid in wet", &[], LAID, Asks(Code::WetSurface)),
    ("a piece that nobody knows", &[], r#"{"act": "loaded", "piece": 99, "zone": "left"}"#, Wrong("piece")),
    ("a raw piece", &[], r#"{"act": "loaded", "piece": 2, "zone": "left"}"#, Wrong("piece")),
    ("no zone", &[], r#"{"act": "loaded", "piece": 1, "zone": " "}"#, Wrong("zone")),
    ("shelf nought", &[], r#"{"act": "loaded", "piece": 1, "zone": "left", "shelf": 0}"#, Wrong("shelf")),
    ("moved to another zone", &[LAID], r#"{"act": "loaded", "piece": 1, "zone": "right"}"#, Fine),
    ("taken out, and was never in", &[], r#"{"act": "taken_out", "piece": 1}"#, Wrong("piece")),
    ("taken out", &[LAID], r#"{"act": "taken_out", "piece": 1}"#, Fine),
    ("taken out twice", &[LAID, r#"{"act": "taken_out", "piece": 1}"#], r#"{"act": "taken_out", "piece": 1}"#, Wrong("piece")),
    ("hot smoke over a piece without nitrite", &[], r#"{"act": "loaded", "piece": 5, "zone": "left"}"#, Asks(Code::WetSurface)),
    ("slow smoke over a piece without nitrite", &[r#"{"act": "loaded", "piece": 5, "zone": "left"}"#], r#"{"act": "staged", "stages": [{"kind": "smoke", "name": "slow", "set_c": 65.0, "smoke": true, "ends": "marks"}]}"#, Stops(Code::NoNitriteHazard)),
    ("the same, laid into slow smoke", &[r#"{"act": "staged", "stages": [{"kind": "smoke", "name": "slow", "set_c": 65.0, "smoke": true, "ends": "marks"}]}"#], r#"{"act": "loaded", "piece": 5, "zone": "left"}"#, Stops(Code::NoNitriteHazard)),
    ("the same, said at its dose already", &[r#"{"act": "loaded", "piece": 3, "zone": "left"}"#], r#"{"act": "staged", "stages": [{"kind": "smoke", "name": "slow", "set_c": 65.0, "smoke": true, "ends": "marks"}]}"#, Fine),
    ("slow smoke over a piece under its floor", &[r#"{"act": "loaded", "piece": 4, "zone": "left"}"#], r#"{"act": "staged", "stages": [{"kind": "smoke", "name": "slow", "set_c": 65.0, "smoke": true, "ends": "marks"}]}"#, Stops(Code::NitriteBelowFloor)),
    ("slow smoke over a cured piece", &[LAID], r#"{"act": "staged", "stages": [{"kind": "smoke", "name": "slow", "set_c": 65.0, "smoke": true, "ends": "marks"}]}"#, Fine),
    ("laid into a finish that never gets it there", &[r#"{"act": "staged", "stages": [{"kind": "finish", "name": "finish", "set_c": 60.0, "smoke": false, "ends": "marks"}]}"#], LAID, Asks(Code::ChamberBelowTarget)),
    // probes
    ("a probe", &[LAID], PROBED, Fine),
    ("probe nought", &[LAID], r#"{"act": "probe_set", "probe": 0, "seat": {"piece": 1}}"#, Wrong("probe")),
    ("a probe beyond the last", &[LAID], r#"{"act": "probe_set", "probe": 200, "seat": {"piece": 1}}"#, Wrong("probe")),
    ("a probe into what is not there", &[], PROBED, Wrong("piece")),
    ("a second probe into one piece", &[LAID, PROBED], r#"{"act": "probe_set", "probe": 2, "seat": {"piece": 1}}"#, Wrong("probe")),
    ("a probe in the air of nowhere", &[], r#"{"act": "probe_set", "probe": 2, "seat": {"chamber": ""}}"#, Wrong("zone")),
    ("checked in ice", &[], r#"{"act": "probe_checked", "probe": 1, "bath": "ice", "read": {"value": 0.5, "said": "0.5 C"}, "offset_c": -0.5}"#, Fine),
    ("far off in ice", &[], r#"{"act": "probe_checked", "probe": 1, "bath": "ice", "read": {"value": 6.0, "said": "6 C"}, "offset_c": -6.0}"#, Asks(Code::ProbeWrong)),
    ("no degrees at all", &[], r#"{"act": "probe_checked", "probe": 1, "bath": "ice", "read": {"value": 300.0, "said": "300 C"}, "offset_c": -300.0}"#, Wrong("read")),
    // readings by hand
    ("read in no place", &[LAID], r#"{"act": "spot_checked", "piece": 1, "read": []}"#, Wrong("read")),
    ("read in two places", &[LAID], r#"{"act": "spot_checked", "piece": 1, "read": [{"value": 20.0, "said": "20 C"}, {"value": 22.0, "said": "22 C"}]}"#, Fine),
    ("hotter inside than water boils", &[LAID], r#"{"act": "spot_checked", "piece": 1, "read": [{"value": 140.0, "said": "140 C"}]}"#, Wrong("read")),
    ("read, and was never in", &[], r#"{"act": "spot_checked", "piece": 1, "read": [{"value": 40.0, "said": "40 C"}]}"#, Wrong("piece")),
    ("a chamber of 500 °C", &[LAID, BEGUN], r#"{"act": "chamber_read", "zone": "left", "warmth": {"value": 500.0, "said": "500 C"}}"#, Wrong("warmth")),
    ("a chamber at its setting", &[LAID, BEGUN], r#"{"act": "chamber_read", "zone": "left", "warmth": {"value": 92.0, "said": "92 C"}}"#, Fine),
    ("a chamber far off its setting", &[LAID, BEGUN], r#"{"act": "chamber_read", "zone": "left", "warmth": {"value": 130.0, "said": "130 C"}}"#, Asks(Code::ChamberOff)),
    ("cold smoke that is none", &[r#"{"act": "staged", "stages": [{"kind": "cold_smoke", "name": "cold", "set_c": 20.0, "smoke": true, "ends": {"hours": 4.0}}]}"#, LAID, BEGUN], r#"{"act": "chamber_read", "zone": "left", "warmth": {"value": 33.0, "said": "33 C"}}"#, Asks(Code::ChamberOff)),
    // fire
    ("lit", &[], LIT, Fine),
    ("lit with a wood that nobody smokes with", &[], r#"{"act": "lit", "kind": "chips", "wood": "pine"}"#, Wrong("wood")),
    ("lit with no wood at all, by weight", &[], r#"{"act": "lit", "kind": "chips", "wood": "oak", "grams": 0.0}"#, Wrong("grams")),
    ("lit for two weeks", &[], r#"{"act": "lit", "kind": "chips", "wood": "oak", "burns_h": 336.0}"#, Wrong("burns")),
    ("burnt out", &[LIT], r#"{"act": "burnt_out", "fire": 2}"#, Fine),
    ("burnt out twice", &[LIT, r#"{"act": "burnt_out", "fire": 2}"#], r#"{"act": "burnt_out", "fire": 2}"#, Wrong("fire")),
    ("burnt out, and was never lit", &[], r#"{"act": "burnt_out", "fire": 7}"#, Wrong("fire")),
    // striking out and the end
    ("a line struck out", &[LAID], r#"{"act": "struck", "event": 2}"#, Fine),
    ("struck out twice", &[LAID, r#"{"act": "struck", "event": 2}"#], r#"{"act": "struck", "event": 2}"#, Wrong("event")),
    ("its setting up struck out", &[LAID], r#"{"act": "struck", "event": 1}"#, Wrong("event")),
    ("a line that is not there", &[], r#"{"act": "struck", "event": 9}"#, Wrong("event")),
    ("a striking out struck out", &[LAID, r#"{"act": "struck", "event": 2}"#], r#"{"act": "struck", "event": 3}"#, Wrong("event")),
    ("over, and nothing in it", &[], OVER, Fine),
    ("over, and a piece in it", &[LAID], OVER, Asks(Code::StillAboard)),
    ("laid in after the end", &[OVER], LAID, Wrong("run")),
    ("the end taken back", &[OVER], r#"{"act": "struck", "event": 2}"#, Fine),
    ("an alarm answered after the end", &[OVER], r#"{"act": "answered", "alarm": "a"}"#, Fine),
];

fn act(text: &str) -> RunAct {
    serde_json::from_str(text).unwrap_or_else(|e| panic!("{e}: {text}"))
}

#[test]
fn what_is_said_to_an_act_of_a_run() {
    let season = kitchen();
    let runs = Runs::default();
    let mut wrong = Vec::new();
    for (what, before, text, want) in ROWS {
        let done = std::iter::once(SET_UP).chain(before.iter().copied());
        let events = done.enumerate().map(|(i, text)| Event {
            no: i as i64 + 1,
            at: season.now + SignedDuration::from_mins(i as i64),
            act: act(text),
            kept: Vec::new(),
            reason: None,
        });
        let run = Run::of(RunId(1), events.collect()).unwrap();
        let validator = RunValidator {
            book: &season.book,
            home: &season.home,
            runs: &runs,
            at: season.now + SignedDuration::from_mins(30),
        };
        let act = act(text);
        let said = match validator.possible(Some(&run), &act) {
            Err(errors) => errors.first().map_or(Fine, |e| Wrong(leaked(&e.field))),
            Ok(()) => {
                let found = validator.warnings(&run, &act);
                let worst = found.iter().max_by_key(|f| f.severity);
                worst.map_or(Fine, |f| match f.severity {
                    Severity::Stop => Stops(f.code),
                    Severity::Caution => Asks(f.code),
                    Severity::Info => Fine,
                })
            }
        };
        if said != *want {
            wrong.push(format!("{what}: {said:?}, not {want:?}"));
        }
    }
    assert!(
        wrong.is_empty(),
        "{} of {}:\n{}",
        wrong.len(),
        ROWS.len(),
        wrong.join("\n")
    );
}

fn leaked(field: &str) -> &'static str {
    Box::leak(field.to_string().into_boxed_str())
}

#[test]
fn nothing_happens_before_a_run_is_set_up_or_without_its_name() {
    let season = kitchen();
    let runs = Runs::default();
    let validator = RunValidator {
        book: &season.book,
        home: &season.home,
        runs: &runs,
        at: season.now,
    };
    let nameless = SET_UP.replace("drum", " ");
    for (text, field) in [(LAID, "act"), (BEGUN, "act"), (&nameless, "name")] {
        let refused = validator.possible(None, &act(text)).unwrap_err();
        assert_eq!(refused[0].field, field, "{text}");
    }
    assert!(validator.possible(None, &act(SET_UP)).is_ok());
    let later = SignedDuration::from_hours(1);
    let set_up = Event {
        no: 1,
        at: season.now + later,
        act: act(SET_UP),
        kept: Vec::new(),
        reason: None,
    };
    let run = Run::of(RunId(1), vec![set_up]).unwrap();
    let refused = validator.possible(Some(&run), &act(LAID)).unwrap_err();
    assert_eq!(refused[0].field, "happened_at");
}

/// A run in which these were done, a minute apart from a moment on.
fn lived(from: jiff::Timestamp, acts: &[&str]) -> Run {
    let events = acts.iter().enumerate().map(|(i, text)| Event {
        no: i as i64 + 1,
        at: from + SignedDuration::from_mins(i as i64),
        act: act(text),
        kept: Vec::new(),
        reason: None,
    });
    Run::of(RunId(1), events.collect()).unwrap()
}

#[test]
fn a_run_is_over_when_nothing_lies_in_it_any_more_and_what_was_pulled_is_no_longer_meant_to_be_warm()
 {
    let mut season = kitchen();
    let began = season.now;
    let run = lived(began, &[SET_UP, LAID, BEGUN]);
    assert_eq!(run.over_since(&season.book), None);
    assert_eq!(
        lived(began, &[SET_UP]).over_since(&season.book),
        None,
        "nothing was laid in yet"
    );
    let watch = |run: Run| {
        let watched = crate::run::Watched {
            run,
            readings: crate::run::ProbeReadings::default(),
        };
        Runs(
            [(RunId(1), std::sync::Arc::new(watched))]
                .into_iter()
                .collect(),
        )
    };
    season.home.runs = std::sync::Arc::new(watch(run.clone()));
    season.now += SignedDuration::from_hours(5);
    let pulled = season.now;
    let did = |season: &mut Season, ask: serde_json::Value| {
        let said = season.does(&ask, true);
        assert!(said.is_ok(), "{ask}: {said:?}");
    };
    did(
        &mut season,
        json!({"act": "smoked", "piece": 1, "reading": "1350 g", "inside": "64 C", "chamber": "90 C", "run": 1}),
    );
    assert_eq!(run.over_since(&season.book), Some(pulled));
    // A day on the porch after it came off counts, though nobody ended the run.
    season.now += SignedDuration::from_hours(31);
    did(
        &mut season,
        json!({"act": "place_read", "place": "porch", "piece": 1, "temperature": "20 C", "hours": 30}),
    );
    let (lot, piece) = season.book.piece(crate::ids::PieceId(1)).unwrap();
    let judge = crate::verdict::Judge {
        book: &season.book,
        home: &season.home,
    };
    let said = judge.piece(&lot.state, piece);
    assert!(said.has(crate::verdict::ReasonCode::TooWarm), "{said:?}");
}
