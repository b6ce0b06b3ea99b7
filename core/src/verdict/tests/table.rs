//! What is said of one piece, fact by fact: each row makes a product as it says but for what it names, and every reason that
//! there is has a row that it decides.

use super::shipped::Made;
use super::*;
use crate::agenda::TaskKind::{self, Dose, Hang, OutOfCure, Smoke, TakeDown};
use ReasonCode as Why;
use Verdict::{CookBeforeEating, DoNotEat, ReadyToEat};

/// What a row changes at a task.
enum At {
    /// These acts are done instead of the task's own.
    Instead(TaskKind, &'static [&'static str]),
    /// The task is done as usual, and then these.
    Then(TaskKind, &'static [&'static str]),
    /// It ends before the task.
    Until(TaskKind),
    /// These are done before anything else.
    First(&'static [&'static str]),
}
use At::{First, Instead, Then, Until};

/// Product, species, cut and grams.
type Of = (&'static str, &'static str, &'static str, f64);

/// What happens, to what, with which changes, and what is then said: the word and the reason that is weightiest.
type Row = (&'static str, Of, &'static [At], Verdict, Why);

const SMOKED_LOIN: Of = ("back-smoked", "pig", "loin", 1_500.0);
const SLAB: Of = ("belly-slab", "pig", "belly", 1_500.0);
const COPPA: Of = ("muscle-cased", "pig", "neck_muscle", 1_500.0);
const SAUSAGE: Of = ("salami-knife", "pig", "butt", 2_000.0);
const LOAF: Of = ("formed-loaf", "pig", "butt", 2_000.0);
const STRAP: Of = ("backstrap", "deer", "backstrap", 900.0);
const BREAST: Of = ("breast-peppered", "turkey", "breast", 900.0);

const COOLED: &str = r#"{"act": "cooled", "piece": PIECE, "inside": "3 C", "hours": 5}"#;
const HUNG: &str = r#"{"act": "hung", "piece": PIECE, "reading": "{{1.03}}", "tare": "40 g"}"#;
const OWN_WAY: &str = "this is how we have always done it here";

#[rustfmt::skip]
const ROWS: &[Row] = &[
    // heat
    ("smoked to its mark and cooled in time", SMOKED_LOIN, &[Then(Smoke, &[COOLED])], ReadyToEat, Why::CookedToTarget),
    ("nobody read how it cooled", SMOKED_LOIN, &[], ReadyToEat, Why::CookedToTarget),
    ("its middle stayed under its mark", SMOKED_LOIN, &[Instead(Smoke, &[r#"{"act": "smoked", "piece": PIECE, "reading": "{{0.9}}", "inside": "58 C", "chamber": "82 C"}"#])], CookBeforeEating, Why::UnderTarget),
    ("smoked, and nobody read its middle", SMOKED_LOIN, &[Instead(Smoke, &[r#"{"act": "smoked", "piece": PIECE, "reading": "{{0.9}}"}"#])], CookBeforeEating, Why::HeatNotRecorded),
    ("a middle hotter than what it lay in", SMOKED_LOIN, &[Instead(Smoke, &[r#"{"act": "smoked", "piece": PIECE, "reading": "{{0.9}}", "inside": "80 C", "chamber": "60 C", "reason": "WHY"}"#])], CookBeforeEating, Why::ReadingUnproved),
    ("it cooled too slowly to be eaten as it is", SMOKED_LOIN, &[Then(Smoke, &[r#"{"act": "cooled", "piece": PIECE, "inside": "8 C", "hours": 9}"#])], CookBeforeEating, Why::CoolingMissed),
    ("it stood warm all night", SMOKED_LOIN, &[Then(Smoke, &[r#"{"act": "cooled", "piece": PIECE, "inside": "32 C", "hours": 14}"#])], DoNotEat, Why::CoolingMissed),
    ("a bird at the mark of a pig", BREAST, &[Instead(Smoke, &[r#"{"act": "smoked", "piece": PIECE, "reading": "{{0.9}}", "inside": "66 C", "chamber": "82 C"}"#])], CookBeforeEating, Why::UnderTarget),
    ("a loaf at the mark of a whole piece", LOAF, &[Instead(Smoke, &[r#"{"act": "smoked", "piece": PIECE, "reading": "{{0.9}}", "inside": "66 C", "chamber": "82 C"}"#])], CookBeforeEating, Why::UnderTarget),
    ("only smoked, as its product wants", SLAB, &[Instead(Smoke, &[r#"{"act": "smoked", "piece": PIECE, "reading": "{{0.9}}", "inside": "52 C", "chamber": "75 C"}"#])], CookBeforeEating, Why::UnderTarget),
    ("nothing was done yet but its cure", SMOKED_LOIN, &[Until(OutOfCure)], CookBeforeEating, Why::Raw),
    // harm
    ("it was slimy", SMOKED_LOIN, &[Then(OutOfCure, &[r#"{"act": "checked", "piece": PIECE, "check": "slime", "grade": "discard"}"#])], DoNotEat, Why::CheckDiscard),
    ("it lay warm for a night and a day", SMOKED_LOIN, &[Then(OutOfCure, &[r#"{"act": "place_read", "place": "porch", "piece": PIECE, "temperature": "15 C", "hours": 30}"#])], DoNotEat, Why::TooWarm),
    ("it was thrown away", SMOKED_LOIN, &[Then(OutOfCure, &[r#"{"act": "discarded", "piece": PIECE, "reason": "the dog had it"}"#])], DoNotEat, Why::ThrownAway),
    ("its animal is positive", STRAP, &[First(&[r#"{"act": "hold_answered", "lot": 1, "kind": "wasting_test", "answer": "positive", "note": "T-12"}"#])], DoNotEat, Why::PositiveAnimal),
    ("its animal was sent in", STRAP, &[First(&[r#"{"act": "hold_answered", "lot": 1, "kind": "wasting_test", "answer": "waiting", "note": "T-12"}"#])], DoNotEat, Why::TestPending),
    ("a sausage that never soured", SAUSAGE, &[Instead(OutOfCure, &[r#"{"act": "checked", "piece": PIECE, "check": "ph", "value": "5.7"}"#, "wait 120", r#"{"act": "checked", "piece": PIECE, "check": "ph", "value": "5.7"}"#])], DoNotEat, Why::PhTooHigh),
    // dried raw
    ("dried as it should be", COPPA, &[], ReadyToEat, Why::DriedToTarget),
    ("it still hangs", COPPA, &[Until(TakeDown)], CookBeforeEating, Why::StillHangs),
    ("it lost too little", COPPA, &[Instead(Hang, &[HUNG]), Instead(TaskKind::WeighIn, &[r#"{"act": "taken_down", "piece": PIECE, "reading": "{{0.9}}"}"#])], CookBeforeEating, Why::LostTooLittle),
    ("it left its cure after two days", COPPA, &[Instead(TaskKind::Turn, &[r#"{"act": "out_of_cure", "piece": PIECE, "reading": "{{0.98}}"}"#])], CookBeforeEating, Why::LeftCureEarly),
    ("cured without nitrite, for a reason", COPPA, &[Instead(Dose, &[r#"{"act": "dosed", "pieces": [PIECE], "own": {"cure": "none"}, "reason": "WHY"}"#])], ReadyToEat, Why::NoNitrite),
    ("half its salt", COPPA, &[Instead(Dose, &[r#"{"act": "dosed", "pieces": [PIECE], "own": {"salt_g_per_kg": "9 g/kg"}, "reason": "WHY"}"#])], CookBeforeEating, Why::SaltTooLow),
    ("a third of its nitrite, for a reason", COPPA, &[Instead(Dose, &[r#"{"act": "dosed", "pieces": [PIECE], "own": {"cure_g_per_kg": "0.8 g/kg"}, "reason": "WHY"}"#])], ReadyToEat, Why::Overridden),
    ("it came hanging with a third of its nitrite", COPPA, &[First(&[r#"{"act": "under_way", "lot": 1, "cut": "neck_muscle", "build": "muscle-cased", "at": "hanging", "since": "2025-12-20", "reading": "1.3 kg", "tare": "40 g", "gross_start": "1.64 kg", "green": "1.6 kg", "thickness": "60 mm", "weighed": {"cure": "cure2", "lines": [{"name": "salt", "reading": "48 g"}, {"name": "cure #2", "reading": "1.2 g"}]}}"#])], CookBeforeEating, Why::UnderFloor),
    ("it came hanging, and nobody knows its days in the cure", COPPA, &[First(&[r#"{"act": "under_way", "lot": 1, "cut": "neck_muscle", "build": "muscle-cased", "at": "hanging", "since": "2025-12-20", "reading": "1.3 kg", "tare": "40 g", "gross_start": "1.64 kg", "green": "1.6 kg", "thickness": "60 mm", "weighed": {"cure": "cure2", "lines": [{"name": "salt", "reading": "48 g"}, {"name": "cure #2", "reading": "4 g"}]}}"#])], CookBeforeEating, Why::DaysUnknown),
    ("it came hanging with twice what the limit is", COPPA, &[First(&[r#"{"act": "under_way", "lot": 1, "cut": "neck_muscle", "build": "muscle-cased", "at": "hanging", "since": "2025-12-20", "reading": "1.3 kg", "tare": "40 g", "gross_start": "1.64 kg", "green": "1.6 kg", "thickness": "60 mm", "weighed": {"cure": "cure2", "lines": [{"name": "salt", "reading": "48 g"}, {"name": "cure #2", "reading": "18 g"}]}}"#])], DoNotEat, Why::NitriteOver500),
    ("much nitrite, but within what its class allows", COPPA, &[Instead(Dose, &[r#"{"act": "dosed", "pieces": [PIECE], "own": {"cure_g_per_kg": "7 g/kg"}, "reason": "WHY"}"#])], ReadyToEat, Why::DriedToTarget),
    ("nitrate in what is fried", SLAB, &[Instead(Dose, &[r#"{"act": "dosed", "pieces": [PIECE], "own": {"cure": "cure2"}, "reason": "WHY"}"#])], ReadyToEat, Why::NitrateInFried),
    ("it lies in its cure", COPPA, &[Until(OutOfCure)], CookBeforeEating, Why::InCure),
    ("pork that was never frozen", COPPA, &[First(&[r#"{"act": "received", "name": "another", "species": "pig", "origin": "bought", "known": "carcass", "reading": "60 kg"}"#,
        r#"{"act": "piece_weighed", "lot": 2, "cut": "neck_muscle", "reading": "1.5 kg", "thickness": "60 mm"}"#]),
        Instead(TaskKind::Assign, &[r#"{"act": "assigned", "piece": PIECE, "build": "muscle-cased", "reason": "WHY"}"#])], CookBeforeEating, Why::HoldOpen),
    ("nobody measured how thick it is", COPPA, &[First(&[r#"{"act": "under_way", "lot": 1, "cut": "neck_muscle", "build": "muscle-cased", "at": "in_cure", "since": "2026-02-02", "reading": "1.6 kg",
        "weighed": {"cure": "cure2", "lines": [{"name": "salt", "reading": "48 g"}, {"name": "cure #2", "reading": "4 g"}]}}"#]),
        Instead(OutOfCure, &["wait 600", r#"{"act": "out_of_cure", "piece": PIECE, "reading": "{{0.98}}"}"#])], CookBeforeEating, Why::ThicknessUnknown),
    ("fat of nobody knows what in a sausage that dries", SAUSAGE, &[First(&[r#"{"act": "piece_weighed", "lot": 1, "cut": "butt", "reading": "2 kg", "thickness": "80 mm"}"#,
        r#"{"act": "ground", "lot": 1, "reading": "2.4 kg", "thickness": "60 mm", "sources": [{"from": "piece", "piece": 3}, {"from": "added", "name": "fat from the neighbour", "reading": "400 g"}]}"#]),
        Instead(TaskKind::Assign, &[r#"{"act": "assigned", "piece": PIECE, "build": "salami-knife", "reason": "WHY"}"#])], CookBeforeEating, Why::MeatUnknown),
    ("a slab over the limit of what is fried", SLAB, &[Instead(Dose, &[r#"{"act": "dosed", "pieces": [PIECE], "own": {"cure_g_per_kg": "3.6 g/kg"}, "reason": "WHY"}"#])], ReadyToEat, Why::OverLimit),
    ("it hung warm for three days", COPPA, &[Then(Hang, &["wait 80", r#"{"act": "place_read", "place": "chamber", "piece": PIECE, "temperature": "19 C", "hours": 72}"#])], CookBeforeEating, Why::HungTooWarm),
    ("it came under way, and nobody knows its dose", COPPA, &[First(&[r#"{"act": "under_way", "lot": 1, "cut": "neck_muscle", "build": "muscle-cased", "at": "hanging", "since": "2025-12-20", "reading": "1.2 kg", "tare": "40 g", "gross_start": "1.6 kg", "thickness": "60 mm"}"#])], CookBeforeEating, Why::DoseUnknown),
    ("it came under way ready, with its dose and without its hook", COPPA, &[First(&[r#"{"act": "under_way", "lot": 1, "cut": "neck_muscle", "build": "muscle-cased", "at": "ready", "since": "2025-12-20", "reading": "1.2 kg", "green": "1.6 kg", "thickness": "60 mm", "weighed": {"lines": [{"name": "salt", "reading": "48 g"}, {"name": "cure #2", "reading": "4 g"}], "cure": "cure2"}}"#]), Until(TaskKind::Pack)], CookBeforeEating, Why::NotWeighed),
    ("gray in the middle when it was cut", COPPA, &[Then(TakeDown, &[r#"{"act": "checked", "piece": PIECE, "check": "core_colour", "grade": "pale_core"}"#])], CookBeforeEating, Why::GrayCore),
    ("black mould on it", COPPA, &[Then(Hang, &[r#"{"act": "checked", "piece": PIECE, "check": "mould", "grade": "take_out"}"#])], CookBeforeEating, Why::BadMould),
    ("a dry sausage of which nobody read the pH", SAUSAGE, &[Instead(OutOfCure, &[r#"{"act": "out_of_cure", "piece": PIECE, "reading": "{{0.98}}", "reason": "WHY"}"#])], CookBeforeEating, Why::PhMissing),
    ("dried jowl, which is meant for the pan", ("jowl-dried", "pig", "jowl", 900.0), &[], CookBeforeEating, Why::EndsInCooking),
    ("a dried breast of a turkey, for a reason", ("breast-dried", "turkey", "breast", 900.0), &[Instead(TaskKind::Assign, &[r#"{"act": "assigned", "piece": PIECE, "build": "breast-dried", "reason": "WHY"}"#])], CookBeforeEating, Why::NeverRawDried),
];

/// Every reason there is but age: no play gets past its stop without the reason that lifts it (`acts/tests/aged.rs` writes such a
/// book by hand).
#[rustfmt::skip]
const ALL_REASONS: [Why; 37] = [
    Why::PositiveAnimal, Why::TestPending, Why::NitriteOver500, Why::CheckDiscard, Why::TooWarm, Why::PhTooHigh, Why::CoolingMissed, Why::ThrownAway, Why::CookedToTarget, Why::DriedToTarget, Why::Raw, Why::DoseUnknown, Why::HeatNotRecorded, Why::ReadingUnproved, Why::UnderTarget, Why::CoolingNotRecorded, Why::NoNitrite, Why::SaltTooLow, Why::OverLimit, Why::UnderFloor, Why::NitrateInFried, Why::LeftCureEarly, Why::InCure, Why::DaysUnknown, Why::ThicknessUnknown, Why::StillHangs, Why::NotWeighed, Why::LostTooLittle, Why::HoldOpen, Why::NeverRawDried, Why::EndsInCooking, Why::PhMissing, Why::HungTooWarm, Why::GrayCore, Why::MeatUnknown, Why::BadMould, Why::Overridden,
];

/// The acts that a piece begins with.
const BEGINS: [&str; 3] = ["under_way", "piece_weighed", "\"ground\""];

/// An act of a row: the piece, a share of its weight, and the usual reason filled in.
fn filled(act: &str, piece: PieceId, grams: f64) -> Value {
    let mut text = act
        .replace("PIECE", &piece.0.to_string())
        .replace("WHY", OWN_WAY);
    while let Some((before, rest)) = text.split_once("{{") {
        let (share, after) = rest.split_once("}}").unwrap();
        let share: f64 = share.parse().unwrap();
        text = format!("{before}{:.1} g{after}", grams * share);
    }
    serde_json::from_str(&text).unwrap_or_else(|e| panic!("{e}: {text}"))
}

/// The piece as a row leaves it, and what was refused on the way.
fn lived(row: &Row) -> (Made<'static>, Vec<String>) {
    let (_, (product, species, cut, grams), changes, ..) = row;
    let build = crate::testing::build(product).unwrap();
    let mut made = Made::started(build, species, cut, *grams, 0.01)
        .unwrap_or_else(|| panic!("{}: no {cut} of {species} for it", row.0));
    let mut refused = Vec::new();
    let does = |made: &mut Made<'_>, acts: &[&str], refused: &mut Vec<String>| {
        for act in acts {
            if let Some(hours) = act.strip_prefix("wait ") {
                made.season.now += SignedDuration::from_hours(hours.parse().unwrap());
                continue;
            }
            let ask = filled(act, made.piece, made.mass());
            if let Err(why) = made.season.does(&ask, true) {
                refused.push(format!("{ask}: {why}"));
            }
        }
    };
    for change in *changes {
        if let First(acts) = change {
            does(&mut made, acts, &mut refused);
            // What is begun here is the piece that the row is about.
            if acts
                .iter()
                .any(|a| BEGINS.iter().any(|act| a.contains(act)))
            {
                let newest = made.season.book.pieces().map(|(_, p)| p.id).max();
                made.piece = newest.unwrap();
            }
        }
    }
    let mut seen = BTreeSet::new();
    for _ in 0..60 {
        let Some(task) = made.next() else { break };
        let first = seen.insert(task.kind);
        let mine = changes.iter().find(|c| match c {
            Instead(kind, _) | Then(kind, _) | Until(kind) => *kind == task.kind && first,
            First(_) => false,
        });
        match mine {
            Some(Until(_)) => break,
            Some(Instead(_, acts)) => does(&mut made, acts, &mut refused),
            Some(Then(_, acts)) => {
                made.does_the(&task);
                does(&mut made, acts, &mut refused);
            }
            Some(First(_)) | None => made.does_the(&task),
        }
        if !made.asked.is_empty() {
            break;
        }
    }
    (made, refused)
}

#[test]
fn what_is_said_of_a_piece_follows_from_each_fact() {
    let mut wrong = Vec::new();
    for row in ROWS {
        let (what, _, _, word, why) = row;
        let (made, refused) = lived(row);
        let (state, piece) = made.season.book.piece(made.piece).unwrap();
        let said = made.season.judge().piece(&state.state, piece);
        if said.word != *word || !said.has(*why) || !refused.is_empty() {
            let all: Vec<_> = said.reasons.iter().map(|r| r.code).collect();
            wrong.push(format!(
                "{what}: {:?} {all:?} at {:?}\n    {refused:?}\n    {:?}",
                said.word,
                piece.stage(),
                made.asked
            ));
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

#[test]
fn every_reason_decides_a_row_or_stands_beside_one_that_does() {
    let mut said = BTreeSet::new();
    for row in ROWS {
        let (made, _) = lived(row);
        let (lot, piece) = made.season.book.piece(made.piece).unwrap();
        let reasons = made.season.judge().piece(&lot.state, piece).reasons;
        said.extend(reasons.into_iter().map(|r| r.code));
    }
    let missing: Vec<_> = ALL_REASONS.iter().filter(|c| !said.contains(c)).collect();
    assert!(missing.is_empty(), "{missing:?}");
}
