//! What is put right, undone, or written down late.

use super::*;
use crate::units::{Fraction, Typed};

#[test]
fn a_correction_keeps_both_and_restates_what_follows() {
    let (mut table, ids) = belly();
    // The scale said 5,100 g, not 5,000: the drip grows, everything after stays as weighed.
    let written = table
        .correct(ids[0], weigh_out(1, "belly", 5_100.0))
        .unwrap();
    let kinds: Vec<_> = written.iter().map(|e| e.act.kind()).collect();
    assert_eq!(kinds, ["piece_weighed", "out_of_cure"]);
    assert_eq!(written[1].because, Some(written[0].id));
    assert_eq!(loss(&table, Loss::Drip), 375.0);
    assert_eq!(table.piece(1).green.grams(), 5_100.0);
    assert_eq!(table.piece(1).stage(), Stage::Packed);
    let book = table.book.lot(LOT).unwrap();
    assert_eq!(book.entries.len(), 9);
    assert_eq!(book.live().iter().filter(|l| **l).count(), 7);
    // undoing the correction brings the first number back, down to the drip
    table.undo(written[0].id).unwrap();
    assert_eq!(loss(&table, Loss::Drip), 275.0);
    assert_eq!(table.piece(1).green.grams(), 5_000.0);
}

#[test]
fn undo_and_undo_of_the_undo() {
    let (mut table, ids) = belly();
    let undone = table.undo(ids[5]).unwrap();
    assert_eq!(table.piece(1).stage(), Stage::Pack);
    assert!(table.state().packs.is_empty());
    assert_eq!(table.undo(ids[5]).unwrap_err(), Refusal::NotLive);
    table.undo(undone[0].id).unwrap();
    assert_eq!(table.piece(1).stage(), Stage::Packed);
}

#[test]
fn what_was_put_right_in_another_way_since_does_not_come_back_beside_it() {
    let mut table = Table::new();
    let first = table.did(weigh_out(1, "belly", 3_000.0));
    let second = table
        .correct(first, weigh_out(1, "belly", 3_100.0))
        .unwrap()[0]
        .id;
    let undone = table.undo(second).unwrap()[0].id;
    table
        .correct(first, weigh_out(1, "belly", 3_200.0))
        .unwrap();
    // bringing the second back beside the third would weigh the piece twice
    assert_eq!(table.undo(undone).unwrap_err(), Refusal::PlaceTaken);
    assert_eq!(table.piece(1).mass.grams(), 3_200.0);
    let (taken, held) = table.state().in_and_out();
    assert_eq!(taken, held);
}

#[test]
fn a_correction_of_a_correction_leaves_only_the_last_one_standing() {
    let (mut table, ids) = belly();
    let first = table
        .correct(ids[0], weigh_out(1, "belly", 5_100.0))
        .unwrap();
    let second = table
        .correct(first[0].id, weigh_out(1, "belly", 5_200.0))
        .unwrap();
    assert_eq!(table.state().left.grams(), 34_800.0);
    table.undo(second[0].id).unwrap();
    assert_eq!(table.piece(1).green.grams(), 5_100.0);
    assert_eq!(table.state().left.grams(), 34_900.0);
}

#[test]
fn what_later_entries_need_cannot_be_undone_under_them() {
    let (mut table, ids) = belly();
    let Refusal::InTheWay(obstacles) = table.undo(ids[2]).unwrap_err() else {
        panic!()
    };
    assert_eq!(obstacles[0].what, "HG1-1 out of cure");
    assert_eq!(
        obstacles[0].why,
        "HG1-1 waits for its dose, so this cannot be done with it now."
    );
    let Refusal::InTheWay(obstacles) = table.correct(ids[3], out(1, 4_000.0)).unwrap_err() else {
        panic!()
    };
    assert_eq!(obstacles[0].what, "HG1-1 smoked");
    let wrong_kind = table.correct(ids[3], smoked(1, 4_000.0)).unwrap_err();
    assert_eq!(
        wrong_kind.to_string(),
        "This entry says “out of cure”; correct it with the same kind of entry, or undo it."
    );
}

#[test]
fn a_tag_is_never_given_twice() {
    let mut table = Table::new();
    let first = table.did(weigh_out(1, "belly", 1_000.0));
    table.undo(first).unwrap();
    let book = table.book.lot(LOT).unwrap();
    assert_eq!(book.next_piece_tag().as_deref(), Some("HG1-2"));
    assert_eq!(table.book.next_piece(), PieceId(2));
    assert_eq!(table.book.next_lot_tag("HG"), "HG2");
    assert_eq!(table.book.next_lot_tag("EK"), "EK1");
}

#[test]
fn what_is_written_down_late_stands_where_it_happened() {
    let mut table = Table::new();
    table.did(weigh_out(1, "loin", 3_000.0));
    table.did(assign(1, "muscle-cased"));
    table.did(dose(1, 90.0));
    table.did(out(1, 2_900.0));
    table.did(Act::Hung(crate::ledger::facts::hung::Hung {
        hook: None,
        stop: crate::piece::StopBy::Weight,
        piece: PieceId(1),
        reading: reading(2_900.0),
        tare: reading(0.0),
        loss: Typed::unsaid(Fraction(0.35)),
        place: None,
        parts: Vec::new(),
        reason: None,
    }));
    let hung = table.minute;
    table.minute += 100;
    table.did(Act::WeighedIn(
        crate::ledger::facts::weighed_in::WeighedIn {
            piece: PieceId(1),
            reading: reading(2_500.0),
        },
    ));
    let late = Change::Add {
        lot: LOT,
        at: at(hung + 50),
        act: Box::new(Act::WeighedIn(
            crate::ledger::facts::weighed_in::WeighedIn {
                piece: PieceId(1),
                reading: reading(2_700.0),
            },
        )),
        kept: Vec::new(),
    };
    let written = table.write(late).unwrap();
    assert_eq!(written.len(), 2, "the later weigh-in now loses less");
    let nets: Vec<_> = table
        .piece(1)
        .weighings
        .iter()
        .map(|w| w.net.grams())
        .collect();
    assert_eq!(nets, [3_000.0, 2_900.0, 2_900.0, 2_700.0, 2_500.0]);
}

#[test]
fn what_a_wrong_clock_dated_is_put_right_together_and_moves_no_mass() {
    let (mut table, _) = belly();
    let before = table.minute;
    table.minute += 24 * 60;
    let wrong = [
        table.did(weigh_out(2, "loin", 4_000.0)),
        table.did(weigh_out(3, "jowl", 1_000.0)),
    ];
    let now = at(before + 30);
    let ahead = table.book.ahead(now).unwrap();
    let ids: Vec<_> = ahead.entries.iter().map(|(_, _, id)| *id).collect();
    assert_eq!(ids, wrong);
    // From a day off by the seller's clock to within the hour, and however early one says it was.
    for (last_at, times) in [
        (at(before + 20), [at(before + 19), at(before + 20)]),
        (at(2), [at(before + 1), at(before + 1)]),
    ] {
        let changes = table.book.set_right(&ahead, last_at);
        let plan = table.book.plan(&changes, now, Units::METRIC).unwrap();
        let written: Vec<_> = plan.entries.iter().map(|e| e.happened_at).collect();
        assert_eq!(written, times, "nothing but the two is stated again");
        let mut right = table.book.clone();
        right.take(plan);
        assert_eq!(right.ahead(now), None);
        assert_eq!(right.lot(LOT).unwrap().state.left, table.state().left);
        let held: Vec<_> = right.lot(LOT).unwrap().in_order();
        assert!(held[held.len() - 2..].iter().all(|e| e.replaces.is_some()));
        assert!(held.iter().all(|e| balances(&e.postings)));
    }
    assert_eq!(table.book.ahead(at(table.minute)), None, "the clocks agree");
}
