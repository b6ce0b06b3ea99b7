//! The sheet for bellies and loins of which everything is known by hand.

use super::*;
use crate::builds::build;

fn piece(id: i64, meat_g: f64, mm: f64) -> SheetPiece {
    SheetPiece {
        id: PieceId(id),
        tag: format!("HG1-{id}"),
        meat_g,
        thickness_mm: Some(mm),
        skin_on: false,
        fat_cap: false,
    }
}

fn home(fine: f64) -> Household {
    let mut home = Household::default();
    home.scales.fine_division_g = fine;
    home
}

fn made(build_key: &str, pieces: &[SheetPiece], mixed: bool, own: &OwnDose) -> Sheet {
    sheet(build(build_key).unwrap(), pieces, mixed, own, &home(0.1)).unwrap()
}

#[test]
fn a_belly_is_weighed_out_by_its_own_weight() {
    let got = made(
        "belly-slab",
        &[piece(1, 2_000.0, 40.0)],
        false,
        &OwnDose::default(),
    );
    let lines: Vec<_> = got
        .lines
        .iter()
        .map(|l| (l.name.as_str(), l.shown_g))
        .collect();
    // 2 kg at 2.5, 23, 12 and 3 g/kg; the cure's 5 g bring 4.69 g of salt
    assert_eq!(lines.len(), 4);
    for ((name, shown), (want, grams)) in lines.iter().zip([
        ("cure #1", 5.0),
        ("salt", 41.3),
        ("sugar", 24.0),
        ("black pepper", 6.0),
    ]) {
        assert!(
            *name == want && (shown - grams).abs() < 1e-9,
            "{name} {shown}"
        );
    }
    assert_eq!(got.pieces[0].days, Some(8));
    assert!(!got.needs_reason && !got.refused);
    assert_eq!(got.lines[0].made_of, "2 kg × 2.5 g/kg");
}

#[test]
fn doses_of_one_brine_sum_to_what_was_poured() {
    let pieces = [
        piece(1, 2_011.0, 60.0),
        piece(2, 1_433.0, 55.0),
        piece(3, 998.0, 50.0),
    ];
    let got = made("back-smoked", &pieces, false, &OwnDose::default());
    assert!(got.mixed);
    let doses = doses(&got, build("back-smoked").unwrap(), &home(0.1), None);
    for (i, line) in got.lines.iter().enumerate() {
        let poured: Milligrams = doses.iter().map(|(_, d)| d.lines[i].mg).sum();
        assert_eq!(
            poured,
            Milligrams::from_grams(line.shown_g),
            "{}",
            line.name
        );
    }
    assert_eq!(doses[0].1.mixed_with, [PieceId(2), PieceId(3)]);
    assert!((got.pieces[0].nitrite_ppm - 130.0).abs() < 3.0);
}

#[test]
fn one_mix_for_several_pieces_gives_each_its_portion() {
    let pieces = [piece(1, 1_000.0, 40.0), piece(2, 3_000.0, 40.0)];
    let got = made("belly-slab", &pieces, true, &OwnDose::default());
    let (a, b) = (
        got.pieces[0].portion_g.unwrap(),
        got.pieces[1].portion_g.unwrap(),
    );
    assert!((b - 3.0 * a).abs() < 0.2, "{a} {b}");
    let got_cure: f64 = got.pieces.iter().map(|p| p.lines[0].shown_g).sum();
    assert!((got_cure - got.lines[0].shown_g).abs() < 0.02);
}

#[test]
fn too_much_needs_a_reason_and_some_doses_are_refused() {
    let own = |cure: Option<&str>, rate: f64| OwnDose {
        cure: cure.map(Into::into),
        cure_g_per_kg: Some(rate),
        ..OwnDose::default()
    };
    let pieces = [piece(1, 2_000.0, 40.0)];
    #[rustfmt::skip]
    let cases = [
        ("usual",           own(None, 2.5),           false, false),
        ("over the limit",  own(None, 3.5),           true,  false),
        ("poison",          own(None, 9.0),           true,  true),
        ("nitrate, fried",  own(Some("cure2"), 2.5),  true,  true),
        ("scale too coarse", own(None, 0.01),         true,  true),
        ("no cure",         own(Some("none"), 0.0),   false, false),
    ];
    for (why, own, reason, refused) in cases {
        let got = made("belly-slab", &pieces, false, &own);
        assert_eq!((got.needs_reason, got.refused), (reason, refused), "{why}");
    }
    let mut bare = piece(1, 2_000.0, 40.0);
    bare.thickness_mm = None;
    assert!(made("belly-slab", &[bare], false, &OwnDose::default()).refused);
}

#[test]
fn pieces_of_unlike_thickness_are_pointed_out() {
    let pieces = [piece(1, 2_000.0, 40.0), piece(2, 2_000.0, 60.0)];
    let got = made("back-smoked", &pieces, false, &OwnDose::default());
    assert_eq!(got.findings[0].code, Code::UnevenThickness);
}
