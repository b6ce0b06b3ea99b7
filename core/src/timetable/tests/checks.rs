//! What checks lead to, what timers wait for, and how cold it was: the plan follows, visibly.

use super::*;
use crate::house::House;
use crate::ledger::facts::checked::Checked;
use crate::piece::TimerFor;
use crate::piece::printed::Verdict;
use crate::place::Place;
use crate::place::air::Aired;
use crate::place::climate::Climate;
use crate::place::equipment::Equipment;
use crate::units::Celsius;
use crate::verdict::Judge;
use jiff::ToSpan;
use std::sync::Arc;

fn check(check: &str, grade: &str, settles: bool) -> Act {
    Act::Checked(Checked {
        mould: None,
        photo: None,
        piece: PIECE,
        check: check.into(),
        grade: Some(grade.into()),
        value: None,
        note: None,
        settles,
        pack: None,
    })
}

fn out(book: &mut Book, when: &str) {
    let out = crate::ledger::facts::out_of_cure::OutOfCure {
        reason: None,
        piece: PIECE,
        reading: reading(1_950.0),
        surface: None,
    };
    did(book, when, Act::OutOfCure(out));
}

/// What is open, by kind or kind of step, with its day and what it follows.
fn open(book: &Book, when: &str) -> Vec<(String, String, Option<String>)> {
    let all = tasks(book, &House::default(), at(when));
    all.into_iter()
        .map(|t| {
            let step = t.step.filter(|_| t.kind == TaskKind::ByHand);
            let what =
                step.map_or_else(|| crate::ids::word(&t.kind), |s| crate::ids::word(&s.kind));
            (what, t.due.to_string(), t.because)
        })
        .collect()
}

fn line(what: &str, due: &str, because: Option<&str>) -> (String, String, Option<String>) {
    (what.into(), due.into(), because.map(Into::into))
}

#[test]
fn a_soft_piece_lies_two_days_more_and_says_why() {
    let mut book = dosed("belly-slab", "2026-11-01T10:00");
    // 2.0 in by three days an inch and two: eight days; 25.4 mm at 18 mm a week: ten
    assert_eq!(
        open(&book, "2026-11-11T08:00")
            .iter()
            .find(|t| t.0 == "out_of_cure"),
        Some(&line("out_of_cure", "2026-11-11", None))
    );
    did(
        &mut book,
        "2026-11-11T08:10",
        check("firmness", "soft", false),
    );
    assert_eq!(
        open(&book, "2026-11-11T08:30")
            .iter()
            .find(|t| t.0 == "out_of_cure"),
        Some(&line(
            "out_of_cure",
            "2026-11-13",
            Some("firmness: still soft, two more days")
        ))
    );
}

#[test]
fn a_salty_slice_leads_to_water_and_the_water_to_another_slice() {
    let mut book = dosed("back-smoked", "2026-11-01T10:00");
    out(&mut book, "2026-11-14T09:00");
    let at_hand = |book: &Book, when: &str| open(book, when).into_iter().next().unwrap().0;
    assert_eq!(at_hand(&book, "2026-11-14T09:10"), "test_slice");
    did(
        &mut book,
        "2026-11-14T09:20",
        check("slice_end", "too_salty", false),
    );
    assert_eq!(
        open(&book, "2026-11-14T09:25")[0],
        line("soak", "2026-11-14", Some("a slice was too salty"))
    );
    let timer = crate::ledger::facts::timer_set::TimerSet {
        piece: PIECE,
        what: TimerFor::Soak,
        minutes: 40,
        note: None,
    };
    did(&mut book, "2026-11-14T09:30", Act::TimerSet(timer));
    let now = at("2026-11-14T09:40");
    let soaking = &tasks(&book, &House::default(), now)
        .into_iter()
        .find(|t| t.kind == TaskKind::ByHand)
        .unwrap();
    assert_eq!(soaking.hours.unwrap().due, at("2026-11-14T10:10"));
    assert_eq!(soaking.urgency, Urgency::Coming);
    let soaked = |minutes| {
        Act::Soaked(crate::ledger::facts::soaked::Soaked {
            piece: PIECE,
            minutes,
            changes: 1,
            iced: false,
        })
    };
    did(&mut book, "2026-11-14T10:10", soaked(40));
    let another = "it was too salty before the water";
    assert_eq!(
        open(&book, "2026-11-14T10:15")[0],
        line("test_slice", "2026-11-14", Some(another))
    );
    did(
        &mut book,
        "2026-11-14T10:20",
        check("slice_end", "too_salty", false),
    );
    assert_eq!(at_hand(&book, "2026-11-14T10:25"), "soak");
    did(&mut book, "2026-11-14T10:50", soaked(25));
    did(
        &mut book,
        "2026-11-14T11:00",
        check("slice_end", "right", true),
    );
    assert_eq!(at_hand(&book, "2026-11-14T11:05"), "dry_surface");
}

#[test]
fn what_was_found_bad_is_thrown_away_and_nothing_else_is_done_with_it() {
    let mut book = dosed("back-smoked", "2026-11-01T10:00");
    did(
        &mut book,
        "2026-11-05T10:00",
        check("smell", "discard", false),
    );
    assert_eq!(
        open(&book, "2026-11-06T10:00"),
        [line("discard", "2026-11-05", Some("smell found bad"))]
    );
}

/// A household with one fridge whose log holds these readings: hours after the first of November, °C.
fn home_with(reads: &[(i64, f64)]) -> House {
    let mut climate = Climate::default();
    for (hour, celsius) in reads {
        let read = Aired {
            at: at("2026-11-01T00:00").saturating_add(hour.hours()).unwrap(),
            temperature: Celsius(*celsius),
            humidity: None,
        };
        climate.take(1, read);
    }
    let mut fridge = Place::new("fridge", "fridge", 1, 30.0);
    fridge.id = 1;
    let settings = crate::household::Household {
        equipment: Some(Equipment {
            places: vec![fridge],
            ..Equipment::default()
        }),
        ..crate::household::Household::default()
    };
    House {
        climate: Arc::new(climate),
        ..House::from(settings)
    }
}

/// A dose that was put into the fridge.
fn in_the_fridge(build_key: &str) -> Book {
    let book = dosed(build_key, "2026-11-01T10:00");
    let entries = book.lots().flat_map(|l| l.entries.iter());
    let placed = entries.map(|e| {
        let mut entry = (**e).clone();
        if let Act::Dosed(dosed) = &mut entry.act {
            dosed.place = Some(1);
        }
        entry
    });
    Book::fold(placed.collect::<Vec<_>>(), book.catalogue().clone())
}

#[test]
fn days_too_cold_by_the_log_do_not_count_and_a_warm_day_is_the_end_of_it() {
    let out_on = |reads: &[(i64, f64)]| {
        let (book, home) = (in_the_fridge("belly-slab"), home_with(reads));
        let all = tasks(&book, &home, at("2026-11-04T10:00"));
        let out = all
            .into_iter()
            .find(|t| t.kind == TaskKind::OutOfCure)
            .unwrap();
        (out.due.to_string(), out.because)
    };
    let word = |reads: &[(i64, f64)]| {
        let (book, home) = (in_the_fridge("belly-slab"), home_with(reads));
        let lot = book.lot(LOT).unwrap();
        let verdict = Judge {
            book: &book,
            home: &home,
        }
        .piece(&lot.state, &lot.state.pieces[&PIECE]);
        verdict.word
    };
    let every = |from: i64, to: i64, celsius: f64| -> Vec<(i64, f64)> {
        (from..=to).step_by(6).map(|h| (h, celsius)).collect()
    };
    let cold = Some("2 days under 1 °C did not count".to_string());
    #[rustfmt::skip]
    let cases = [
        ("as cold as it should be",  every(12, 96, 3.0),  "2026-11-11", None,         Verdict::CookBeforeEating),
        ("two days of frost",        every(12, 60, 0.2),  "2026-11-13", cold.clone(), Verdict::CookBeforeEating),
        ("frost before it was put in", every(-72, 0, 0.2), "2026-11-11", None,        Verdict::CookBeforeEating),
        ("warm for an afternoon",    every(36, 48, 9.0),  "2026-11-11", None,         Verdict::CookBeforeEating),
        ("warm for a day",           every(36, 60, 9.0),  "2026-11-11", None,         Verdict::DoNotEat),
        ("warm for a day, unread for half of it", vec![(36, 9.0), (60, 9.0)], "2026-11-11", None, Verdict::CookBeforeEating),
        ("seven is not over seven",  every(36, 72, 7.0),  "2026-11-11", None,         Verdict::CookBeforeEating),
    ];
    for (why, reads, due, because, wanted) in cases {
        assert_eq!(out_on(&reads), (due.to_string(), because), "{why}");
        assert_eq!(word(&reads), wanted, "{why}");
    }
}

#[test]
fn an_absence_is_sorted_into_before_waits_missed_and_cannot() {
    let home = House::default();
    let sorted =
        |book: &Book, now: &str, from: &str, to: &str| -> Vec<(Leave, String, Option<String>)> {
            let plans = PlanCache::default().all(book, &home, at(now));
            let days = (from.parse().unwrap(), to.parse().unwrap());
            let found = away(&plans, book, &home, at(now), days);
            found
                .groups
                .into_iter()
                .flat_map(|g| g.lines.into_iter().map(move |l| (g.leave, l)))
                .map(|(leave, l)| {
                    (
                        leave,
                        crate::ids::word(&l.task.kind),
                        l.move_to.map(|d| d.to_string()),
                    )
                })
                .collect()
        };
    // a measured dose waits; its turnings fall out
    let belly = dosed("belly-slab", "2026-11-01T10:00");
    assert_eq!(
        sorted(&belly, "2026-11-08T09:00", "2026-11-09", "2026-11-13"),
        [
            (
                Leave::Waits,
                "out_of_cure".into(),
                Some("2026-11-14".into())
            ),
            (Leave::Missed, "turn".into(), None),
        ]
    );
    // raw meat without a dose does not wait
    let raw = loin("belly-slab");
    assert_eq!(
        sorted(&raw, "2026-11-01T12:00", "2026-11-02", "2026-11-08"),
        [(Leave::Before, "dose".into(), None)]
    );
    // gone today already, it can neither be done before nor wait
    assert_eq!(
        sorted(&raw, "2026-11-03T12:00", "2026-11-03", "2026-11-08"),
        [(Leave::Cannot, "dose".into(), None)]
    );
    // out of its cure it would not keep: it stays in it
    assert_eq!(
        sorted(&belly, "2026-11-11T09:00", "2026-11-12", "2026-11-16"),
        [(
            Leave::Waits,
            "out_of_cure".into(),
            Some("2026-11-17".into())
        )]
    );
}
