//! Which readings are of the meat, what a piece without a probe may be at, what may be written down, clocks, loads and folding.

use super::series::{Beginning, ProbeFaultKind, inside_to_record, of_zone, range, sound};
use super::stages::{hot_from_the_start, proposed};
use super::*;
use crate::running::load::{Planned, loads, order};
use crate::running::now::warm_up;
use crate::running::validator::check_stages;
use crate::testing::{build, catalogue};
use crate::units::Millimetres;
use crate::verdict::plausible::{OfPiece, of_piece};
use proptest::prelude::*;

mod plausible;

fn at(minute: f64) -> Timestamp {
    let begin: Timestamp = "2026-11-20T08:00:00Z".parse().unwrap();
    seconds_on(begin, minute * 60.0).unwrap()
}

fn read(minute: f64, c: f64) -> Read {
    Read {
        at: at(minute),
        temperature: Celsius(c),
    }
}

fn typed(c: f64) -> Typed<Celsius> {
    Typed::unsaid(Celsius(c))
}

fn run(acts: Vec<(f64, RunAct)>) -> Run {
    let set_up = RunAct::SetUp {
        place: None,
        name: "drum".into(),
        hearth: Appliance::Smoker,
        school: None,
        stages: vec![
            RunStage::new(
                RunStageKind::Smoke,
                Some(Celsius(90.0)),
                StageEnd::Hours(1.0),
            );
            3
        ],
    };
    let all = std::iter::once((0.0, set_up)).chain(acts);
    let events = all.enumerate().map(|(i, (minute, act))| Event {
        no: i as i64 + 1,
        at: at(minute),
        act,
        kept: Vec::new(),
        reason: None,
    });
    Run::of(RunId(1), events.collect()).unwrap()
}

fn loaded(piece: i64) -> RunAct {
    RunAct::Loaded {
        piece: PieceId(piece),
        zone: "left".into(),
        shelf: None,
    }
}

fn set(probe: ProbeNo, piece: i64) -> RunAct {
    RunAct::ProbeSet {
        probe,
        seat: ProbeLocation::Piece(PieceId(piece)),
    }
}

fn put_in(minute: f64) -> Beginning<'static> {
    Beginning {
        seated: at(minute),
        known: None,
        air: &[],
    }
}

/// Readings each minute, from a line with what is put in its place.
fn heating(n: usize, instead: &[(usize, f64)]) -> Vec<Read> {
    let of = |i: usize| {
        let other = instead.iter().find(|(at, _)| *at == i);
        other.map_or(20.0 + 0.4 * i as f64, |(_, c)| *c)
    };
    (0..n).map(|i| read(i as f64, of(i))).collect()
}

#[test]
fn what_is_not_of_the_meat_does_not_count_and_is_said() {
    use ProbeFaultKind as Kind;
    let out_from = |from: usize, n: usize, c: f64| (from..n).map(|i| (i, c)).collect::<Vec<_>>();
    // (readings put in the place of a steady rise, how many count of 60, what is said, whether it goes on)
    #[rustfmt::skip]
    let cases: [(&str, Vec<(usize, f64)>, usize, Option<(Kind, bool)>); 7] = [
        ("steady", vec![], 60, None),
        ("one jump", vec![(30, 58.0)], 59, Some((Kind::Jump, false))),
        ("two jumps on end", vec![(30, 58.0), (31, 59.0)], 58, Some((Kind::Jump, false))),
        ("out into a hot chamber", out_from(30, 60, 108.0), 30, Some((Kind::OutOfMeat, true))),
        ("out and back", (30..40).map(|i| (i, 108.0)).collect(), 50, Some((Kind::OutOfMeat, false))),
        ("into the cold", out_from(30, 60, 5.0), 30, Some((Kind::OutOfMeat, true))),
        ("in Fahrenheit", (30..60).map(|i| (i, (20.0 + 0.4 * i as f64) * 1.8 + 32.0)).collect(), 30, Some((Kind::Fahrenheit, true))),
    ];
    for (name, instead, counts, want) in cases {
        let found = sound(1, &heating(60, &instead), put_in(-60.0));
        assert_eq!(found.reads.len(), counts, "{name}");
        let said = found.faults.first().map(|f| (f.kind, f.until.is_none()));
        assert_eq!(said, want, "{name}");
        let most = found
            .reads
            .iter()
            .map(|r| r.temperature.0)
            .fold(0.0, f64::max);
        assert!(most <= 44.0, "{name}: {most} was never in the meat");
    }
}

#[test]
fn a_probe_that_was_just_put_in_settles_and_one_that_is_set_again_counts_again() {
    let mut raw = vec![read(0.0, 21.0), read(1.0, 8.0), read(2.0, 5.0)];
    raw.extend((3..20).map(|i| read(f64::from(i), 5.0 + 0.2 * f64::from(i))));
    let found = sound(1, &raw, put_in(0.0));
    assert!(found.faults.is_empty(), "{:?}", found.faults);
    assert!(found.reads.iter().skip(1).all(|r| r.temperature.0 < 10.0));

    let readings = |probe: ProbeNo, all: &[Read]| {
        let mut readings = ProbeReadings::default();
        readings.take(probe, all);
        readings
    };
    let raw: Vec<Read> = heating(120, &(40..60).map(|i| (i, 104.0)).collect::<Vec<_>>());
    let twice = run(vec![(0.0, loaded(7)), (0.0, set(1, 7)), (60.0, set(1, 7))]);
    let found = of_piece(&twice, &readings(1, &raw), PieceId(7), OfPiece::default());
    assert_eq!(found.reads.len(), 100);
    assert_eq!(found.faults.len(), 1);
    // moved to another piece: neither has what the other had
    let moved = run(vec![
        (0.0, loaded(7)),
        (0.0, loaded(8)),
        (0.0, set(1, 7)),
        (30.0, set(1, 8)),
    ]);
    let mut steps = heating(30, &[]);
    steps.extend((30..60).map(|i| read(f64::from(i), 9.0)));
    let all = readings(1, &steps);
    assert_eq!(
        of_piece(&moved, &all, PieceId(7), OfPiece::default())
            .reads
            .len(),
        30
    );
    assert!(
        of_piece(&moved, &all, PieceId(8), OfPiece::default())
            .reads
            .iter()
            .all(|r| r.temperature.0 == 9.0)
    );
    // and in the air it belongs to the zone
    let air = RunAct::ProbeSet {
        probe: 1,
        seat: ProbeLocation::Chamber("left".into()),
    };
    let hung = run(vec![(0.0, loaded(7)), (0.0, set(1, 7)), (30.0, air)]);
    assert_eq!(of_zone(&hung, &all, "left").len(), 30);
    assert_eq!(of_zone(&hung, &all, "right").len(), 0);
}

#[test]
fn a_probe_that_is_said_to_be_set_and_still_in_the_hot_air_counts_only_once_it_is_in_the_meat() {
    let air: Vec<Read> = (0..60).map(|i| read(f64::from(i), 95.0)).collect();
    let set = |known: Option<Read>| Beginning {
        seated: at(20.0),
        known,
        air: &air,
    };
    // six minutes in the air, then in meat of 52 °C
    let mut raw: Vec<Read> = (20..26).map(|i| read(f64::from(i), 94.0)).collect();
    raw.extend((26..60).map(|i| read(f64::from(i), 52.0 + 0.1 * f64::from(i - 26))));
    for known in [None, Some(read(15.0, 50.0))] {
        let found = sound(3, &raw, set(known));
        assert_eq!(found.reads.len(), 34, "{known:?}");
        assert!(found.reads.iter().all(|r| r.temperature.0 < 60.0));
        let only_air = sound(3, &raw[..6], set(known));
        assert!(only_air.reads.is_empty());
        assert_eq!(only_air.faults[0].kind, ProbeFaultKind::OutOfMeat);
        assert!(sound(3, &raw[..1], set(known)).reads.is_empty());
    }
    // meat that is known to be nearly as warm as its air may say so
    let near: Vec<Read> = (20..30).map(|i| read(f64::from(i), 90.0)).collect();
    assert_eq!(sound(3, &near, set(Some(read(18.0, 89.5)))).reads.len(), 10);
}

#[test]
fn an_offset_is_added_to_everything_a_probe_said() {
    let checked = RunAct::ProbeChecked {
        probe: 1,
        bath: Bath::Ice,
        read: typed(0.8),
        offset_c: -0.8,
    };
    let run = run(vec![(0.0, loaded(7)), (0.0, set(1, 7)), (50.0, checked)]);
    let mut readings = ProbeReadings::default();
    readings.take(1, &heating(40, &[]));
    let found = of_piece(&run, &readings, PieceId(7), OfPiece::default());
    assert!((found.reads[0].temperature.0 - 19.2).abs() < 1e-9);
}

#[test]
fn a_piece_without_a_probe_has_the_span_of_its_like_neighbours() {
    let near = |all: &[(f64, f64)]| -> Vec<(Option<f64>, Celsius)> {
        all.iter().map(|(t, c)| (Some(*t), Celsius(*c))).collect()
    };
    #[rustfmt::skip]
    let cases = [
        (Some(50.0), near(&[(50.0, 40.0)]), Some((38.0, 42.0))),
        (Some(50.0), near(&[(40.0, 45.0), (60.0, 38.0)]), Some((36.0, 47.0))),
        (Some(50.0), near(&[(39.9, 45.0), (60.1, 38.0)]), None),
        (Some(50.0), near(&[]), None),
        (None, near(&[(50.0, 40.0)]), None),
        (Some(50.0), vec![(None, Celsius(40.0))], None),
    ];
    for (own, neighbours, want) in cases {
        let got = range(own, &neighbours).map(|(a, b)| (a.0, b.0));
        assert_eq!(got, want, "{own:?} {neighbours:?}");
    }
}

#[test]
fn the_coldest_place_of_the_last_check_decides_and_what_its_probe_says_later_is_put_right_by_it() {
    let check = |minute: f64, read: &[f64]| {
        let read = read.iter().map(|c| typed(*c)).collect();
        (
            minute,
            RunAct::SpotChecked {
                piece: PieceId(7),
                read,
            },
        )
    };
    let recorded = |acts: Vec<(f64, RunAct)>, raw: &[Read]| {
        let mut all = vec![(0.0, loaded(7)), (0.0, set(1, 7))];
        all.extend(acts);
        let run = run(all);
        let mut readings = ProbeReadings::default();
        readings.take(1, raw);
        let found = of_piece(&run, &readings, PieceId(7), OfPiece::default());
        inside_to_record(&run, &found.reads, PieceId(7), &found.doubted)
            .map(|r| (r.temperature.0 * 10.0).round() / 10.0)
    };
    let raw = heating(61, &[]);
    assert_eq!(recorded(vec![], &raw), Some(44.0));
    assert_eq!(recorded(vec![], &[]), None);
    // the probe said 40 where the coldest place was at 36: it sits four degrees too near the outside
    assert_eq!(
        recorded(vec![check(50.0, &[38.0, 36.0, 39.0])], &raw),
        Some(40.0)
    );
    // checked at the end
    assert_eq!(recorded(vec![check(61.0, &[43.0, 41.5])], &raw), Some(41.5));
    // a check that is warmer than the probe makes nothing warmer afterwards
    assert_eq!(recorded(vec![check(30.0, &[36.0])], &raw), Some(44.0));
    assert_eq!(recorded(vec![check(30.0, &[36.0])], &[]), Some(36.0));
}

#[test]
fn the_warm_hours_count_by_what_cured_it_and_a_warm_dryer_counts_until_it_is_warm() {
    // two degrees a quarter of an hour
    let slow: Vec<Read> = (0..40)
        .map(|i| read(f64::from(i) * 15.0, 4.0 + 2.0 * f64::from(i)))
        .collect();
    let clock = |ppm: f64, dried: bool| warm_up(&slow, ppm, dried).unwrap();
    let minutes = (490.0 / 9.0 - 10.0) / 2.0 * 15.0;
    assert!((clock(120.0, false).minutes - minutes).abs() < 1e-6);
    assert!(!clock(120.0, false).is_over() && clock(99.0, false).is_over());
    // to 46 °C it took four and a half hours: too long to leave anything out
    assert!(!clock(120.0, true).dried_warm);
    let quick: Vec<Read> = (0..60)
        .map(|i| read(f64::from(i) * 10.0, (4.0 + 3.0 * f64::from(i)).min(50.0)))
        .collect();
    let dried = warm_up(&quick, 120.0, true).unwrap();
    assert!(dried.dried_warm && !dried.is_over(), "{dried:?}");
    assert!(warm_up(&quick, 120.0, false).unwrap().is_over());
    assert_eq!(warm_up(&[], 0.0, false), None);
}

#[test]
fn stages_come_from_what_is_smoked() {
    let kinds = |builds: &[&str], hearth, rule| {
        let builds: Vec<_> = builds.iter().map(|b| build(b).unwrap()).collect();
        let stages = proposed(&builds, hearth, catalogue().heat_rule(Some(rule)).unwrap());
        assert!(check_stages(&stages).is_ok(), "{stages:?}");
        stages
            .iter()
            .map(|s| (s.kind, s.set_c.unwrap()))
            .collect::<Vec<_>>()
    };
    use RunStageKind as Kind;
    let twice = kinds(&["shoulder-slab"], Appliance::Smoker, "low");
    assert_eq!(
        twice.iter().map(|s| s.0).collect::<Vec<_>>(),
        [
            Kind::ColdSmoke,
            Kind::Rest,
            Kind::Dry,
            Kind::Smoke,
            Kind::Finish
        ]
    );
    // what one has on its way is no reason to smoke the others cold
    let mixed = kinds(
        &["shoulder-slab", "belly-slab"],
        Appliance::Smoker,
        "hot_finish",
    );
    assert_eq!(mixed.last(), Some(&(Kind::Finish, 150.0)));
    assert!(!mixed.iter().any(|s| s.0 == Kind::ColdSmoke));
    assert_eq!(
        kinds(&["sausage-sweet"], Appliance::Pot, "low"),
        [(Kind::Boil, 80.0)]
    );
    assert_eq!(
        kinds(&["belly-slab-plain"], Appliance::Oven, "medium"),
        [(Kind::Finish, 110.0)]
    );
}

#[test]
fn what_holds_no_nitrite_is_hot_from_the_first_stage_on() {
    for rule in &catalogue().heat {
        for builds in [&["belly-slab-plain"][..], &["shoulder-slab"], &[]] {
            let builds: Vec<_> = builds.iter().map(|b| build(b).unwrap()).collect();
            let stages = hot_from_the_start(proposed(&builds, Appliance::Smoker, rule));
            assert!(
                !stages.is_empty() && check_stages(&stages).is_ok(),
                "{stages:?}"
            );
            assert!(
                !stages.iter().any(crate::cure::no_nitrite::is_slow),
                "{}: {stages:?}",
                rule.key
            );
        }
    }
}

#[test]
fn the_thin_come_off_first_and_the_thick_are_loaded_first() {
    let piece = |id: i64, grams: f64, mm: Option<f64>| Planned {
        piece: PieceId(id),
        grams,
        thickness: mm.map(Millimetres),
        mark: Celsius(60.0),
    };
    let all = [
        piece(1, 2_000.0, Some(60.0)),
        piece(2, 1_500.0, Some(35.0)),
        piece(3, 1_000.0, None),
        piece(4, 2_500.0, Some(80.0)),
    ];
    let stages = proposed(&[], Appliance::Smoker, catalogue().heat_rule(None).unwrap());
    let off: Vec<i64> = order(&all, &stages).iter().map(|(id, _)| id.0).collect();
    assert_eq!(off, [2, 1, 4, 3]);
    let ids = |room| -> Vec<Vec<i64>> {
        let loads = loads(&all, room);
        loads
            .iter()
            .map(|l| l.iter().map(|id| id.0).collect())
            .collect()
    };
    assert_eq!(ids(None), [[4, 1, 2, 3]]);
    assert_eq!(ids(Some(4_500.0)), [vec![4, 1], vec![2, 3]]);
    // what is heavier than the smoker takes has a load of its own
    assert_eq!(ids(Some(2_000.0)), [vec![4], vec![1], vec![2], vec![3]]);
    assert!(
        order(&[piece(1, 1.0, Some(50.0))], &stages[..1])[0]
            .1
            .is_none(),
        "never in 55 °C"
    );
}

#[test]
fn a_run_is_what_its_lines_leave() {
    let begun = |stage| RunAct::StageBegun { stage };
    let lines = vec![
        (0.0, loaded(7)),
        (0.0, loaded(8)),
        (10.0, begun(0)),
        (70.0, RunAct::Paused),
        (700.0, RunAct::Resumed),
        (720.0, begun(1)),
        (730.0, RunAct::TakenOut { piece: PieceId(8) }),
    ];
    let whole = run(lines.clone());
    assert_eq!(whole.stage().unwrap().1.stage, 1);
    assert!((whole.stage_minutes(at(750.0)) - 30.0).abs() < 1e-9);
    assert_eq!(whole.sitting(PieceId(8)).unwrap().until, Some(at(730.0)));
    // a pause does not count
    let night = whole.as_of(at(710.0)).unwrap();
    assert!((night.stage_minutes(at(710.0)) - 70.0).abs() < 1e-9);
    assert_eq!(whole.as_of(at(100.0)).unwrap().paused, Some(at(70.0)));
    assert!(whole.as_of(at(-1.0)).is_none());
    // what is struck out never was
    let mut struck = lines;
    struck.push((800.0, RunAct::Struck { event: 8 }));
    let back = run(struck);
    assert_eq!(back.sitting(PieceId(8)).unwrap().until, None);
    assert_eq!(back.stages_of(PieceId(8)), [RunStageKind::Smoke; 3]);
}

proptest! {
    #[test]
    fn whatever_a_probe_says_nothing_breaks_and_nothing_counts_that_meat_cannot_do(
        said in proptest::collection::vec((0_i64..4_000, -400_i32..4_000), 0..200),
        seated in -100_i64..4_000,
    ) {
        let mut readings = ProbeReadings::default();
        for (second, tenth) in said {
            let read = Read { at: seconds_on(at(0.0), second as f64).unwrap(), temperature: Celsius(f64::from(tenth) / 10.0) };
            readings.take(1, &[read]);
        }
        let raw = readings.of(1);
        prop_assert!(raw.windows(2).all(|p| p[0].at < p[1].at));
        let seated = seconds_on(at(0.0), seated as f64).unwrap();
        let found = sound(1, raw, Beginning { seated, known: None, air: &[] });
        for pair in found.reads.windows(2) {
            let gap = minutes(pair[0].at, pair[1].at);
            let step = (pair[1].temperature.0 - pair[0].temperature.0).abs();
            prop_assert!(step <= 4.0 + 2.0 * gap + 1e-9, "{step} in {gap} min");
        }
    }

    #[test]
    fn lines_in_any_order_fold_to_the_same_run(order in proptest::collection::vec(0_usize..1_000, 8)) {
        let lines = vec![
            (0.0, loaded(7)), (1.0, loaded(8)), (2.0, set(1, 7)), (3.0, RunAct::StageBegun { stage: 0 }),
            (4.0, set(1, 8)), (5.0, RunAct::Paused), (6.0, RunAct::Resumed), (7.0, RunAct::Ended),
        ];
        let whole = run(lines);
        let mut events = whole.events.clone();
        for (i, o) in order.iter().enumerate() { let n = events.len(); events.swap(i % n, o % n); }
        prop_assert_eq!(Run::of(RunId(1), events).unwrap(), whole);
    }
}
