//! Dates from facts: one piece walked through its stations.

mod checks;
mod laws;

use super::*;
use crate::animal::KnownWeight;
use crate::cure::sheet::{SheetPiece, Started, WeighOut, doses, sheet};
use crate::house::House;
use crate::household::Household;
use crate::ledger::Origin;
use crate::ledger::book::Change;
use crate::ledger::facts::Act;
use crate::ledger::facts::piece_weighed::PieceWeighed;
use crate::ledger::facts::received::Received;
use crate::ledger::state::reading;
use crate::shape::Shape;
use crate::testing::{build, catalogue};
use crate::units::{Fraction, Grams, Millimetres, Typed};

const LOT: LotId = LotId(1);

const PIECE: PieceId = PieceId(1);

fn at(text: &str) -> Timestamp {
    format!("{text}:00Z").parse().unwrap()
}

fn did(book: &mut Book, when: &str, act: Act) {
    let change = Change::Add {
        lot: LOT,
        at: at(when),
        act: Box::new(act),
        kept: Vec::new(),
    };
    let plan = book
        .plan(&[change], at(when), crate::units::Units::METRIC)
        .unwrap();
    book.take(plan);
}

fn to_do(book: &Book, when: &str) -> Vec<(TaskKind, String, Urgency)> {
    tasks(book, &House::default(), at(when))
        .into_iter()
        .map(|t| (t.kind, t.due.to_string(), t.urgency))
        .collect()
}

/// A pork loin, 50.8 mm thick, weighed out on the first of November.
fn loin(build_key: &str) -> Book {
    let mut book = crate::testing::book();
    did(
        &mut book,
        "2026-11-01T08:00",
        Act::Received(Received::animal(
            "HG1",
            "half hog",
            "pig",
            Origin::Bought,
            (KnownWeight::Carcass, reading(40_000.0)),
        )),
    );
    did(
        &mut book,
        "2026-11-01T09:00",
        Act::PieceWeighed(PieceWeighed {
            piece: PIECE,
            tag: "HG1-1".into(),
            cut: "loin".into(),
            reading: reading(2_000.0),
            shape: Shape::thick(Millimetres(50.8)),
        }),
    );
    did(
        &mut book,
        "2026-11-01T09:10",
        Act::Assigned(crate::ledger::facts::assigned::Assigned {
            piece: PIECE,
            build: build_key.into(),
            version: build(build_key).unwrap().version,
            reason: None,
        }),
    );
    book
}

fn dosed(build_key: &str, when: &str) -> Book {
    let mut book = loin(build_key);
    let home = House::default();
    let build = build(build_key).unwrap();
    let piece = SheetPiece {
        id: PIECE,
        tag: "HG1-1".into(),
        meat: Grams(2_000.0),
        shape: Shape::thick(Millimetres(50.8)),
        made: None,
        unground: false,
        fat: None,
    };
    let pieces = [piece];
    let ask = WeighOut::of(build, &pieces);
    let made = sheet(&ask, &home.settings, catalogue()).unwrap();
    let (_, dose) = doses(&made, &ask, Started::default(), &home.settings, catalogue())
        .unwrap()
        .remove(0);
    did(
        &mut book,
        when,
        Act::Dosed(crate::ledger::facts::dosed::Dosed {
            piece: PIECE,
            place: None,
            dose: Box::new(dose),
        }),
    );
    book
}

#[test]
fn raw_meat_does_not_wait_long() {
    use TaskKind::Dose;
    let book = loin("back-smoked");
    let day = "2026-11-01".to_string();
    assert_eq!(
        to_do(&book, "2026-11-01T10:00"),
        [(Dose, day.clone(), Urgency::Due)]
    );
    assert_eq!(
        to_do(&book, "2026-11-04T10:00"),
        [(Dose, day.clone(), Urgency::Due)]
    );
    assert_eq!(
        to_do(&book, "2026-11-05T10:00"),
        [(Dose, day, Urgency::Overdue)]
    );
}

#[test]
fn a_cure_is_turned_and_comes_out_on_its_day() {
    use TaskKind::{OutOfCure, Turn};
    // two inches: 8 days by the inch, 10 by depth; the brine is stirred every second day
    let mut book = dosed("back-smoked", "2026-11-01T10:00");
    let out = (OutOfCure, "2026-11-11".to_string(), Urgency::Coming);
    assert_eq!(
        to_do(&book, "2026-11-02T10:00"),
        [(Turn, "2026-11-03".into(), Urgency::Coming), out.clone()]
    );
    assert_eq!(
        to_do(&book, "2026-11-04T10:00"),
        [(Turn, "2026-11-03".into(), Urgency::Overdue), out.clone()]
    );
    did(
        &mut book,
        "2026-11-04T11:00",
        Act::Turned(crate::ledger::facts::turned::Turned {
            piece: PIECE,
            nothing_floats: None,
        }),
    );
    assert_eq!(
        to_do(&book, "2026-11-04T12:00")[0],
        (Turn, "2026-11-06".into(), Urgency::Coming)
    );
    did(
        &mut book,
        "2026-11-10T11:00",
        Act::Turned(crate::ledger::facts::turned::Turned {
            piece: PIECE,
            nothing_floats: None,
        }),
    );
    assert_eq!(
        to_do(&book, "2026-11-11T07:00"),
        [(OutOfCure, "2026-11-11".into(), Urgency::Due)]
    );
    assert_eq!(to_do(&book, "2026-11-26T07:00")[0].2, Urgency::Overdue);
    let late = dosed("back-smoked", "2026-11-01T13:00");
    assert_eq!(to_do(&late, "2026-11-02T10:00")[1].1, "2026-11-12");
}

#[test]
fn days_are_those_of_the_calendar_at_the_table_whatever_its_clocks_do() {
    // Ten days by depth, stirred every second day; noon is the cut-off.
    #[rustfmt::skip]
    let cases = [
        ("Europe/Oslo",      "2027-03-27T11:59", "2027-03-29", "2027-04-06"),
        ("Europe/Oslo",      "2027-03-27T12:00", "2027-03-29", "2027-04-07"),
        ("Europe/Oslo",      "2027-03-28T03:30", "2027-03-30", "2027-04-07"),
        ("Europe/Oslo",      "2027-10-30T23:59", "2027-11-01", "2027-11-10"),
        ("Europe/Oslo",      "2027-10-31T02:30", "2027-11-02", "2027-11-10"),
        ("Europe/Oslo",      "2027-12-31T23:30", "2028-01-02", "2028-01-11"),
        ("Europe/Oslo",      "2028-02-19T08:00", "2028-02-21", "2028-02-29"),
        ("Europe/Oslo",      "2028-02-19T12:00", "2028-02-21", "2028-03-01"),
        ("America/Denver",   "2027-02-18T20:00", "2027-02-20", "2027-03-01"),
        ("America/Denver",   "2027-03-13T11:59", "2027-03-15", "2027-03-23"),
        ("America/Denver",   "2027-03-14T13:00", "2027-03-16", "2027-03-25"),
        ("America/Denver",   "2027-11-07T01:30", "2027-11-09", "2027-11-17"),
        ("Pacific/Auckland", "2027-04-04T02:30", "2027-04-06", "2027-04-14"),
        ("Pacific/Auckland", "2027-09-25T11:59", "2027-09-27", "2027-10-05"),
        ("Pacific/Auckland", "2027-09-26T12:00", "2027-09-28", "2027-10-07"),
        ("Pacific/Auckland", "2028-02-28T12:30", "2028-03-01", "2028-03-10"),
    ];
    for (zone, put_in, turn, out) in cases {
        let home = House::from(Household {
            time_zone: zone.into(),
            ..Household::default()
        });
        let local: jiff::civil::DateTime = put_in.parse().unwrap();
        let began = local.to_zoned(home.settings.zone()).unwrap().timestamp();
        let book = dosed("back-smoked", &began.strftime("%Y-%m-%dT%H:%M").to_string());
        let planned: Vec<_> = tasks(&book, &home, began)
            .into_iter()
            .map(|t| (t.kind, t.due.to_string()))
            .collect();
        let wanted = [
            (TaskKind::Turn, turn.to_string()),
            (TaskKind::OutOfCure, out.to_string()),
        ];
        assert_eq!(planned, wanted, "{zone} {put_in}");
    }
}

#[test]
fn a_hanging_piece_is_weighed_every_third_day_then_weekly_until_it_is_done() {
    use TaskKind::{ByHand, Hang, TakeDown, WeighIn};
    let mut book = dosed("muscle-cased", "2026-11-01T10:00");
    did(
        &mut book,
        "2026-11-22T10:00",
        Act::OutOfCure(crate::ledger::facts::out_of_cure::OutOfCure {
            reason: None,
            piece: PIECE,
            reading: reading(1_950.0),
            surface: None,
        }),
    );
    assert_eq!(
        to_do(&book, "2026-11-22T11:00"),
        [
            // a coat if wanted, and its casing, before the hook
            (ByHand, "2026-11-22".into(), Urgency::Due),
            (ByHand, "2026-11-22".into(), Urgency::Due),
            (Hang, "2026-11-23".into(), Urgency::Coming),
        ]
    );
    did(
        &mut book,
        "2026-11-23T10:00",
        Act::Hung(crate::ledger::facts::hung::Hung {
            hook: None,
            stop: crate::piece::StopBy::Weight,
            piece: PIECE,
            reading: reading(1_980.0),
            tare: reading(40.0),
            loss: Typed::unsaid(Fraction(0.35)),
            place: None,
            parts: Vec::new(),
            reason: None,
        }),
    );
    assert_eq!(
        to_do(&book, "2026-11-23T11:00"),
        [(WeighIn, "2026-11-26".into(), Urgency::Coming)]
    );
    assert_eq!(
        to_do(&book, "2026-11-27T11:00"),
        [(WeighIn, "2026-11-26".into(), Urgency::Due)]
    );
    assert_eq!(
        to_do(&book, "2026-11-30T11:00"),
        [(WeighIn, "2026-11-26".into(), Urgency::Overdue)]
    );
    did(
        &mut book,
        "2026-12-10T10:00",
        Act::WeighedIn(crate::ledger::facts::weighed_in::WeighedIn {
            piece: PIECE,
            reading: reading(1_600.0),
        }),
    );
    assert_eq!(
        to_do(&book, "2026-12-10T11:00"),
        [(WeighIn, "2026-12-17".into(), Urgency::Coming)]
    );
    // (1980 - 40) * 0.65 + 40 = 1301
    did(
        &mut book,
        "2026-12-17T10:00",
        Act::WeighedIn(crate::ledger::facts::weighed_in::WeighedIn {
            piece: PIECE,
            reading: reading(1_301.0),
        }),
    );
    assert_eq!(
        to_do(&book, "2026-12-17T11:00"),
        [(TakeDown, "2026-12-17".into(), Urgency::Due)]
    );
}
