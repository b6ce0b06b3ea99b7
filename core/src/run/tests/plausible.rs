//! Which readings of a run prove something: rows that must pass beside rows that must not.

use super::*;
use crate::heat::heating;
use crate::heat::possible::KITCHEN;
use crate::verdict::plausible::{OfPiece, of_piece};

fn chamber(minute: f64, c: f64) -> (f64, RunAct) {
    let temperature = typed(c);
    let zone = "left".into();
    (minute, RunAct::ChamberRead { zone, temperature })
}

fn check(minute: f64, read: &[f64]) -> (f64, RunAct) {
    let read = read.iter().map(|c| typed(*c)).collect();
    let piece = PieceId(7);
    (minute, RunAct::SpotChecked { piece, read })
}

fn iced(minute: f64, off: f64) -> (f64, RunAct) {
    let act = RunAct::ProbeChecked {
        probe: 1,
        bath: Bath::Ice,
        read: typed(-off),
        offset_c: off,
    };
    (minute, act)
}

/// A piece in the left of a drum from the start, at a stage of 90 °C, with a probe in it.
fn smoked(
    acts: Vec<(f64, RunAct)>,
    said: &[(f64, f64)],
    mm: Option<f64>,
) -> (Option<f64>, Vec<ProbeFaultKind>) {
    let mut all = vec![
        (0.0, loaded(7)),
        (0.0, RunAct::StageBegun { stage: 0 }),
        (0.0, set(1, 7)),
    ];
    all.extend(acts);
    let run = run(all);
    let mut readings = ProbeReadings::default();
    for (minute, c) in said {
        readings.take(1, &[read(*minute, *c)]);
    }
    let known = OfPiece {
        thickness: mm.map(Millimetres),
        ..OfPiece::default()
    };
    let found = of_piece(&run, &readings, PieceId(7), known);
    let record = inside_to_record(&run, &found.reads, PieceId(7), &found.doubted);
    let mut kinds: Vec<_> = found
        .faults
        .iter()
        .filter(|f| f.kind.cannot_be())
        .map(|f| f.kind)
        .collect();
    kinds.extend(found.doubted.iter().map(|(_, kind)| *kind));
    (record.map(|r| r.temperature.0), kinds)
}

/// A belly of 40 mm that warms as bellies do, read every ten minutes.
fn usual(n: usize) -> Vec<(f64, f64)> {
    let k = heating::k_per_minute(Millimetres(40.0), false);
    (0..n)
        .map(|i| {
            let minute = 10.0 * i as f64;
            (minute, 90.0 - 86.0 * (-k * minute).exp())
        })
        .collect()
}

#[test]
#[rustfmt::skip]
fn a_reading_proves_only_when_it_can_be() {
    use ProbeFaultKind::{OverChamber, Stuck, TooFast, Wrong};
    let flat = |c: f64, n: usize| (0..n).map(|i| (10.0 * i as f64, c)).collect::<Vec<_>>();
    let jump: Vec<_> = (0..4).map(|i| (60.0 + 5.0 * f64::from(i), 38.0)).chain([(87.0, 64.0)]).collect();
    let late: Vec<_> = (24..40).map(|i| (10.0 * f64::from(i), 64.0)).collect();
    let top = usual(20)[19].1;
    // (why, what was done, what the probe said, thickness, at least so warm is proved, at most, what is said)
    type Row = (&'static str, Vec<(f64, RunAct)>, Vec<(f64, f64)>, Option<f64>, Option<(f64, f64)>, Vec<ProbeFaultKind>);
    let rows: Vec<Row> = vec![
        ("a belly as it warms",              vec![], usual(20), Some(40.0), Some((top, top)), vec![]),
        ("the same of unknown thickness",    vec![], usual(20), None, Some((top, top)), vec![]),
        ("its chamber read at 90",           vec![chamber(60.0, 90.0)], usual(20), Some(40.0), Some((top, top)), vec![]),
        ("stuck at 64 from the first",       vec![], flat(64.0, 30), Some(40.0), None, vec![Stuck]),
        ("stuck, of unknown thickness",      vec![], flat(64.0, 30), None, None, vec![Stuck]),
        ("put in late and never moving",     vec![], late, Some(40.0), None, vec![Stuck]),
        ("38 and then one 64",               vec![], jump, Some(60.0), Some((38.0, 38.0)), vec![TooFast]),
        ("checked at 65 in a chamber of 53", vec![chamber(5.0, 50.0), chamber(70.0, 53.3), check(120.0, &[65.6])], vec![], Some(40.0), None, vec![OverChamber]),
        ("3 kg of loin after 12 minutes",    vec![check(12.0, &[63.0, 64.0])], vec![], Some(90.0), None, vec![TooFast]),
        ("checked by hand in its time",      vec![check(180.0, &[63.0, 64.0])], vec![], Some(40.0), Some((63.0, 63.0)), vec![]),
        ("a dying fire",                     vec![chamber(150.0, 90.0), chamber(178.0, 55.0), check(180.0, &[64.0])], vec![], Some(40.0), Some((64.0, 64.0)), vec![]),
        ("stuck, then read right in ice",    vec![iced(300.0, 0.0)], flat(64.0, 34), Some(40.0), Some((64.0, 64.0)), vec![TooFast]),
        ("stuck, and a check agrees late",   vec![check(300.0, &[64.0])], flat(64.0, 31), Some(40.0), Some((64.0, 64.0)), vec![TooFast]),
        ("stuck, and a check says less",     vec![check(300.0, &[52.0])], flat(64.0, 31), Some(40.0), Some((52.0, 52.0)), vec![Stuck]),
        ("off by eight degrees in ice",      vec![iced(300.0, -8.0)], usual(20), Some(40.0), None, vec![Wrong]),
        ("off by one degree in ice",         vec![iced(300.0, -1.0)], usual(20), Some(40.0), Some((top - 1.0, top - 1.0)), vec![]),
        ("a second check of another slip",   vec![check(60.0, &[99.0]), check(180.0, &[63.0])], vec![], Some(40.0), Some((63.0, 63.0)), vec![TooFast]),
    ];
    for (why, acts, said, mm, want, kinds) in rows {
        let (got, said) = smoked(acts, &said, mm);
        let fits = match (got, want) {
            (Some(got), Some((low, high))) => (low - 0.01..=high + 0.01).contains(&got),
            (None, None) => true,
            (Some(_), None) | (None, Some(_)) => false,
        };
        assert!(fits, "{why}: {got:?}, wanted {want:?}, {said:?}");
        assert_eq!(said, kinds, "{why}");
    }
}

#[test]
fn what_leaves_the_smoker_is_in_a_kitchen_and_what_came_warm_began_warm() {
    let run = run(vec![(0.0, loaded(7)), check(20.0, &[58.0])]);
    let readings = ProbeReadings::default();
    let known = |start: f64| OfPiece {
        thickness: Some(Millimetres(60.0)),
        start: Celsius(start),
        left: None,
    };
    assert!(
        of_piece(&run, &readings, PieceId(7), known(KITCHEN.0))
            .reads
            .is_empty()
    );
    // it came out of another heat an hour ago
    assert_eq!(
        of_piece(&run, &readings, PieceId(7), known(56.0))
            .reads
            .len(),
        1
    );
}

proptest! {
    /// Whatever a probe says, what is proved is within what its chamber allows.
    #[test]
    fn an_unsound_reading_never_proves_more(
        said in proptest::collection::vec((0_u32..400, 0.0_f64..110.0), 1..40),
        mm in 20.0_f64..120.0,
    ) {
        let said: Vec<(f64, f64)> = said.iter().map(|(m, c)| (f64::from(*m), *c)).collect();
        let (proved, _) = smoked(vec![], &said, Some(mm));
        prop_assert!(proved.is_none_or(|c| c <= 90.0 + 20.0 + 2.0));
        // one more reading that is warmer than the chamber can be proves nothing
        let mut more = said;
        more.push((401.0, 112.5));
        let (again, _) = smoked(vec![], &more, Some(mm));
        prop_assert!(again.unwrap_or(0.0) <= proved.unwrap_or(0.0) + 1e-9);
    }
}
