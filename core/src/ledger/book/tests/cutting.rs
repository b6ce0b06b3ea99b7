//! What knife, saw, grinder and hand do, and what holds meat back.

use super::*;
use crate::animal::hold::{HoldAnswer, HoldKind, HoldStatus};
use crate::animal::{MIX, Portion};
use crate::caution::{Code, Severity};
use crate::house::House;
use crate::household::Household;
use crate::ledger::facts::ground::{Ground, GroundFrom};
use crate::ledger::facts::joined::{JoinWay, Joined};
use crate::ledger::facts::worked::Off;
use crate::ledger::own::{shares, weighed_by_cut};
use crate::ledger::{Account, PricePer, Work};
use crate::place::equipment::{Equipment, Scale};
use crate::shape::Shape;
use crate::units::{Celsius, Fraction, Grams, MassUnit, Millimetres, Typed, Units};

fn off(kind: Byproduct, grams: f64) -> Off {
    Off {
        kind,
        reading: reading(grams),
    }
}

fn worked(id: i64, work: Work, off: Vec<Off>, after: Option<f64>, mm: Option<f64>) -> Act {
    Act::Worked(crate::ledger::facts::worked::Worked {
        piece: PieceId(id),
        work,
        off,
        reading: after.map(reading),
        thickness: mm.map(|mm| Typed::unsaid(Millimetres(mm))),
        fat_cover: None,
    })
}

fn joined(ids: &[i64], into: i64, way: JoinWay) -> Act {
    Act::Joined(Joined {
        pieces: ids.iter().map(|id| PieceId(*id)).collect(),
        way,
        into: PieceId(into),
        tag: format!("HG1-{into}"),
        reading: None,
        thickness: None,
    })
}

fn ground(sources: Vec<GroundFrom>, into: i64, grams: f64) -> Act {
    Act::Ground(Ground {
        sources,
        into: PieceId(into),
        tag: format!("HG1-{into}"),
        reading: reading(grams),
        thickness: Some(Typed::unsaid(Millimetres(60.0))),
        fat: Some(Typed::unsaid(Fraction(0.28))),
    })
}

fn kept(kind: Byproduct, grams: f64) -> Act {
    Act::ByproductWeighed(crate::ledger::facts::byproduct_weighed::ByproductWeighed {
        piece: None,
        kind,
        reading: reading(grams),
    })
}

/// Knife work for the random day at the table.
pub(super) fn random(table: &Table, piece: &Piece, kind: u8, share: f64) -> Option<Act> {
    let next = table.book.next_piece();
    let tag = table.book.lot(LOT)?.next_piece_tag()?;
    let raw = matches!(piece.stage(), Stage::Assign | Stage::Dose);
    if !raw {
        return None;
    }
    let mass = piece.mass.grams();
    Some(match kind {
        60..70 => worked(
            piece.id.0,
            Work::Trim,
            vec![off(Byproduct::Fat, mass * share * 0.3)],
            Some(mass * (1.0 - share * 0.3) * 0.99),
            None,
        ),
        70..75 => worked(piece.id.0, Work::OpenFlat, vec![], None, Some(30.0)),
        75..85 => Act::Joined(Joined {
            pieces: table
                .state()
                .pieces
                .values()
                .filter(|p| matches!(p.stage(), Stage::Assign | Stage::Dose) && p.cut == piece.cut)
                .take(2)
                .map(|p| p.id)
                .collect(),
            way: JoinWay::Bind,
            into: next,
            tag,
            reading: None,
            thickness: None,
        }),
        85..95 => Act::Ground(Ground {
            sources: vec![
                GroundFrom::Piece { piece: piece.id },
                GroundFrom::Added {
                    fat: None,
                    name: "pork back fat".into(),
                    reading: reading(mass * 0.2),
                    given_by: None,
                    kind: None,
                    species: None,
                },
            ],
            into: next,
            tag,
            reading: reading(mass * (1.1 + share * 0.1)),
            thickness: None,
            fat: None,
        }),
        95..100 => Act::ByproductGiven(crate::ledger::facts::byproduct_given::ByproductGiven {
            kind: Byproduct::Fat,
            reading: reading(50.0),
            to: LotId(9),
            to_tag: "EK1".into(),
        }),
        _ => return None,
    })
}

#[test]
fn work_on_a_piece_keeps_what_came_off_and_names_the_rest() {
    let mut table = Table::new();
    let Act::PieceWeighed(mut leg) = weigh_out(1, "leg", 9_000.0) else {
        unreachable!()
    };
    leg.shape = Shape {
        skin_on: true,
        bone_in: true,
        ..Shape::thick(Millimetres(150.0))
    };
    table.did(Act::PieceWeighed(leg));
    let skin = off(Byproduct::Skin, 700.0);
    table.did(worked(1, Work::Skin, vec![skin], None, None));
    // 8.3 kg, 1.5 kg of bone, 6.75 on the scale: 50 g of drip and dust
    let bone = off(Byproduct::Bone, 1_500.0);
    table.did(worked(1, Work::BoneOut, vec![bone], Some(6_750.0), None));
    table.did(worked(1, Work::OpenFlat, vec![], None, Some(70.0)));
    let piece = table.piece(1);
    assert_eq!(
        (
            piece.mass.grams(),
            piece.green.grams(),
            piece.shape.thickness()
        ),
        (6_750.0, 6_750.0, Some(Millimetres(70.0)))
    );
    assert_eq!(
        (piece.shape.skin_on, piece.shape.bone_in, piece.is_opened()),
        (false, false, true)
    );
    assert_eq!(loss(&table, Loss::Cutting), 50.0);
    assert_eq!(table.state().byproducts[&Byproduct::Bone].grams(), 1_500.0);
    let (taken, held) = table.state().in_and_out();
    assert_eq!(taken, held);
}

#[test]
fn work_that_cannot_be_says_why() {
    let mut table = Table::new();
    table.did(weigh_out(1, "belly", 3_000.0));
    #[rustfmt::skip]
    let cases = [
        (worked(1, Work::Skin, vec![], Some(2_900.0), None),                              "HG1-1 has no skin on."),
        (worked(1, Work::BoneOut, vec![off(Byproduct::Bone, 10.0)], None, None),          "HG1-1 has no bone in it."),
        (worked(1, Work::Trim, vec![], None, None),                                       "Weigh what came off, or the piece afterwards."),
        (worked(1, Work::OpenFlat, vec![], None, None),                                   "Measure how thick it lies now, such as 45 mm: its days follow from that."),
        (worked(1, Work::Trim, vec![off(Byproduct::Fat, 3_000.0)], None, None),           "HG1-1 weighs 3 kg in all, so that much cannot come off it. Check the digits."),
        (worked(1, Work::Trim, vec![off(Byproduct::Fat, 500.0)], Some(2_900.0), None),    "HG1-1 weighed 2.5 kg before and nothing was added since, so it cannot weigh 2.9 kg now. Check the digits, the unit and the tare."),
        (joined(&[1], 2, JoinWay::Pair),                                                  "Choose two pieces to pair, or two or more to bind."),
        (joined(&[1, 1], 2, JoinWay::Pair),                                               "A piece cannot be joined to itself."),
        (ground(vec![], 2, 100.0),                                                        "Say what goes into the grinder."),
        (ground(vec![GroundFrom::Piece { piece: PieceId(1) }], 2, 3_500.0),               "3 kg went in, so 3.5 kg cannot come out. Check the digits and the tare of the bowl."),
        (ground(vec![GroundFrom::Kept { kind: Byproduct::Trim, reading: reading(9.0) }], 2, 9.0), "9 g is more than the 0 g of trim that was kept. Check the digits, or weigh more of it out first."),
    ];
    for (act, words) in cases {
        assert_eq!(table.refused(act), words);
    }
}

#[test]
fn a_piece_keeps_its_lineage_through_cuts_and_joins() {
    let mut table = Table::new();
    table.did(weigh_out(1, "leg", 6_000.0));
    let muscle = |id, grams| Part {
        fat_cap: None,
        piece: PieceId(id),
        tag: format!("HG1-1{id}"),
        reading: reading(grams),
        thickness: Some(Typed::unsaid(Millimetres(60.0))),
        cut: Some("leg_muscle".into()),
    };
    table.did(Act::Cut(crate::ledger::facts::cut::Cut {
        piece: PieceId(1),
        parts: vec![muscle(2, 3_000.0), muscle(3, 2_950.0)],
        way: CutWay::Seam,
    }));
    table.did(joined(&[2, 3], 4, JoinWay::Pair));
    let pair = table.piece(4);
    assert_eq!(pair.parents, [PieceId(2), PieceId(3)]);
    assert_eq!(
        (pair.cut.as_str(), pair.shape.thickness()),
        ("leg_muscle", Some(Millimetres(120.0)))
    );
    assert_eq!(pair.mass.grams(), 5_950.0);
    assert_eq!(table.piece(2).parents, [PieceId(1)]);
    assert_eq!(table.piece(2).stage(), Stage::Joined);
    assert!(
        table
            .refused(assign(2, "muscle-cased"))
            .contains("went into another piece")
    );
    // A join undone sets both free again.
    let entry = table.book.lot(LOT).unwrap().entries.last().unwrap().id;
    table.undo(entry).unwrap();
    assert_eq!(table.piece(2).stage(), Stage::Assign);
    assert!(!table.state().pieces.contains_key(&PieceId(4)));
}

#[test]
fn what_stays_in_the_grinder_is_a_named_loss() {
    let mut table = Table::new();
    table.did(weigh_out(1, "butt", 2_000.0));
    table.did(assign(1, "formed-loaf"));
    table.did(kept(Byproduct::Trim, 800.0));
    let sources = vec![
        GroundFrom::Piece { piece: PieceId(1) },
        GroundFrom::Kept {
            kind: Byproduct::Trim,
            reading: reading(500.0),
        },
        GroundFrom::Added {
            fat: None,
            name: "elk trim".into(),
            reading: reading(1_000.0),
            given_by: None,
            kind: None,
            species: None,
        },
    ];
    table.did(ground(sources, 2, 3_420.0));
    let block = table.piece(2);
    assert_eq!((block.cut.as_str(), block.mass.grams()), (MIX, 3_420.0));
    assert_eq!(block.build_key(), Some("formed-loaf"));
    assert_eq!(block.stage(), Stage::Dose);
    assert_eq!(loss(&table, Loss::Machine), 80.0);
    assert_eq!(table.state().byproducts[&Byproduct::Trim].grams(), 300.0);
    let (taken, held) = table.state().in_and_out();
    assert_eq!(taken, held);
    assert!(
        table
            .refused(assign(2, "belly-slab"))
            .starts_with("HG1-2 is ground")
    );
}

#[test]
fn fat_given_to_another_lot_is_not_counted_twice() {
    let mut table = Table::new();
    table.did(kept(Byproduct::Fat, 900.0));
    let give = |grams| {
        Act::ByproductGiven(crate::ledger::facts::byproduct_given::ByproductGiven {
            kind: Byproduct::Fat,
            reading: reading(grams),
            to: LotId(2),
            to_tag: "EK1".into(),
        })
    };
    let id = table.did(give(600.0));
    assert_eq!(table.state().byproducts[&Byproduct::Fat].grams(), 300.0);
    let entry = table.book.entry(id).unwrap().1;
    assert!(
        entry
            .postings
            .iter()
            .any(|p| p.account == Account::Given(LotId(2)))
    );
    assert!(
        table
            .refused(give(301.0))
            .starts_with("301 g is more than the 300 g of fat")
    );
    let (taken, held) = table.state().in_and_out();
    assert_eq!(taken, held);
}

/// A deer that was shot, with one piece weighed out.
fn deer() -> Table {
    let mut table = Table {
        book: crate::testing::book(),
        minute: 0,
    };
    table.did(Act::Received(Received::animal(
        "DR1",
        "first doe",
        "deer",
        Origin::Harvested,
        (KnownWeight::FieldDressed, reading(40_000.0)),
    )));
    table.did(weigh_out(1, "backstrap", 1_200.0));
    table
}

#[test]
fn a_positive_animal_is_only_thrown_away() {
    let mut table = deer();
    let answer = |answer| {
        Act::HoldAnswered(crate::ledger::facts::hold_answered::HoldAnswered {
            reason: None,
            kind: HoldKind::WastingTest,
            answer,
            note: None,
        })
    };
    let status = |table: &Table| table.state().holds(None, at(table.minute))[0].status;
    assert_eq!(status(&table), HoldStatus::Open);
    table.did(answer(HoldAnswer::Waiting));
    assert_eq!(status(&table), HoldStatus::Waiting);
    table.did(assign(1, "backstrap"));
    table.did(answer(HoldAnswer::Positive));
    assert_eq!(status(&table), HoldStatus::Bad);
    let stops = |table: &Table, act: Act| {
        let found = questions(&act, table.state(), &House::default());
        let first = found.first().map(|f| (f.code, f.severity));
        first == Some((Code::NotEaten, Severity::Stop))
    };
    for act in [assign(1, "fresh"), dose(1, 20.0)] {
        assert!(stops(&table, act));
    }
    assert!(!stops(&table, assign(1, "discard")));
    // a later answer does not lift it
    table.did(answer(HoldAnswer::Clear));
    assert_eq!(status(&table), HoldStatus::Bad);
    table.did(assign(1, "discard"));
    assert_eq!(
        table.refused(answer(HoldAnswer::Strong)),
        "Choose one of the answers it offers."
    );
    let smell = Act::HoldAnswered(crate::ledger::facts::hold_answered::HoldAnswered {
        reason: None,
        kind: HoldKind::Smell,
        answer: HoldAnswer::Clear,
        note: None,
    });
    assert_eq!(table.refused(smell), "DR1 has no such hold.");
}

#[test]
fn freezing_is_counted_for_a_piece_and_for_what_was_cut_from_it() {
    let mut table = deer();
    let read = |piece, inside_c| {
        Act::FreezerRead(crate::ledger::facts::freezer_read::FreezerRead {
            piece,
            inside: Typed::unsaid(Celsius(inside_c)),
            thickness: None,
        })
    };
    table.did(weigh_out(2, "tenderloin", 300.0));
    table.did(read(Some(PieceId(1)), -19.0));
    table.minute += 7 * 24 * 60;
    table.did(read(Some(PieceId(1)), -18.5));
    let part = |id, tag: &str| Part {
        fat_cap: None,
        piece: PieceId(id),
        tag: tag.into(),
        reading: reading(600.0),
        thickness: None,
        cut: None,
    };
    table.did(Act::Cut(crate::ledger::facts::cut::Cut {
        piece: PieceId(1),
        parts: vec![part(3, "a"), part(4, "b")],
        way: CutWay::Ends,
    }));
    let status = |id: Option<i64>| {
        let piece = id.map(|id| table.piece(id));
        let holds = table.state().holds(piece, at(table.minute));
        holds
            .into_iter()
            .find(|h| h.kind == HoldKind::Freezing)
            .unwrap()
            .status
    };
    assert_eq!(status(Some(3)), HoldStatus::Ended);
    assert_eq!(status(Some(2)), HoldStatus::Open);
    assert_eq!(status(None), HoldStatus::Open);
}

#[test]
fn ways_of_cutting_are_chosen_by_name() {
    let mut table = Table::new();
    let choose = |choice: &str, option: &str| {
        Act::CuttingChosen(crate::ledger::facts::cutting_chosen::CuttingChosen {
            choice: choice.into(),
            option: option.into(),
        })
    };
    table.did(choose("loin_and_belly", "joined"));
    assert_eq!(table.state().facts.cutting["loin_and_belly"], "joined");
}

#[test]
fn three_own_animals_make_an_own_share() {
    let mut book = crate::testing::book();
    for (i, belly) in [6_000.0, 6_400.0, 6_800.0].into_iter().enumerate() {
        let lot = LotId(i as i64 + 1);
        let mut did = |minute: i64, act: Act| {
            let change = Change::Add {
                lot,
                at: at(minute),
                act: Box::new(act),
                kept: Vec::new(),
            };
            let plan = book.plan(&[change], at(minute), Units::METRIC).unwrap();
            book.take(plan);
        };
        did(1, received(40_000.0));
        did(2, weigh_out(i as i64 + 1, "belly", belly));
        did(
            3,
            Act::BreakdownClosed(crate::ledger::facts::breakdown_closed::BreakdownClosed {}),
        );
    }
    let pig = crate::testing::species("pig").unwrap();
    let own = shares(&book, pig)["belly"];
    assert_eq!(own.animals, 3);
    assert!(
        (own.mean - 0.16).abs() < 1e-9 && (own.spread - 0.01).abs() < 1e-9,
        "{own:?}"
    );
    let weighed = weighed_by_cut(book.lot(LotId(1)).unwrap(), pig);
    assert_eq!(weighed["belly"], Grams(6_000.0));
}

/// A case of six shoulders.
fn case(count: Option<u32>, portion: Portion) -> Received {
    Received {
        bone_in: None,
        portion,
        count,
        cut: Some("butt".into()),
        price: Some("3.20".into()),
        price_per: PricePer::Kilogram,
        cost_cents: Some(4_800),
        shipping_cents: Some(1_200),
        ..Received::animal(
            "HG1",
            "case of shoulders",
            "pig",
            Origin::Bought,
            (KnownWeight::BoughtCut, reading(15_000.0)),
        )
    }
}

#[test]
fn a_purchase_says_what_it_is() {
    let receive = |received: Received| {
        let mut table = Table {
            book: crate::testing::book(),
            minute: 0,
        };
        table
            .try_act(Act::Received(received))
            .map(drop)
            .map_err(|e| e.to_string())
    };
    assert_eq!(receive(case(Some(6), Portion::Case)), Ok(()));
    assert_eq!(case(Some(6), Portion::Case).paid_cents(), Some(6_000));
    #[rustfmt::skip]
    let cases = [
        (case(None, Portion::Case),       "Say how many cuts the case holds, such as 6; leave it empty for anything else."),
        (case(Some(6), Portion::Primal),  "Say how many cuts the case holds, such as 6; leave it empty for anything else."),
        (case(None, Portion::Half),       "A bought cut is one large cut or a case of equal ones."),
    ];
    for (received, words) in cases {
        assert_eq!(receive(received).unwrap_err(), words);
    }
}

#[test]
fn a_case_asks_about_one_piece_too_many_and_about_odd_weights() {
    let mut table = Table {
        book: crate::testing::book(),
        minute: 0,
    };
    table.did(Act::Received(case(Some(2), Portion::Case)));
    let ask = |table: &Table, grams: f64| -> Vec<String> {
        questions(
            &weigh_out(9, "butt", grams),
            table.state(),
            &House::default(),
        )
        .into_iter()
        .filter_map(|f| f.remedy)
        .collect()
    };
    assert!(ask(&table, 7_400.0).is_empty());
    assert_eq!(
        ask(&table, 750.0),
        ["Did you mean 7.5 kg? It looks like a digit too few."]
    );
    table.did(weigh_out(1, "butt", 7_400.0));
    table.did(weigh_out(2, "butt", 7_000.0));
    let asked = ask(&table, 500.0);
    assert_eq!(asked.len(), 2);
    assert!(asked[0].starts_with("Look whether one was weighed twice"));
}

#[test]
fn a_mass_over_every_scale_is_asked_about() {
    let table = Table::new();
    let home = House::from(Household {
        equipment: Some(Equipment {
            scales: vec![Scale {
                name: "kitchen scale".into(),
                division_g: 1.0,
                max_g: 5_000.0,
            }],
            ..Equipment::default()
        }),
        ..Household::default()
    });
    let codes = |grams| -> Vec<_> {
        let asked = questions(&weigh_out(1, "belly", grams), table.state(), &home);
        asked.into_iter().map(|f| f.code).collect()
    };
    assert_eq!(codes(4_900.0), []);
    assert_eq!(codes(5_100.0), [crate::caution::Code::OverScale]);
}

#[test]
fn an_imperial_household_is_asked_about_ounces_for_pounds() {
    let table = Table::new();
    let home = House::from(Household {
        units: Units {
            mass: MassUnit::Imperial,
            ..Units::default()
        },
        ..Household::default()
    });
    // 13 oz of belly out of a half hog of 40 kg: 13 lb were meant.
    let asked = questions(
        &weigh_out(1, "belly", 13.0 * 28.349_523_125),
        table.state(),
        &home,
    );
    assert_eq!(
        asked[0].remedy.as_deref(),
        Some("Did you mean 13 lb? It looks like ounces typed for pounds.")
    );
}

#[test]
fn what_is_thrown_away_is_waste_and_costs_the_rest() {
    let mut table = Table::new();
    table.did(weigh_out(1, "belly", 20_000.0));
    table.did(weigh_out(2, "loin", 20_000.0));
    table.did(Act::Discarded(crate::ledger::facts::discarded::Discarded {
        piece: PieceId(1),
        reason: "off smell".into(),
        packs: Vec::new(),
    }));
    assert_eq!(loss(&table, Loss::Waste), 20_000.0);
    assert_eq!(table.piece(1).stage(), Stage::Discarded);
    table.did(assign(2, "fresh"));
    table.did(packed(2, &[19_900.0], None));
    // all of the 200.00 now falls on the 19.9 kg that were packed
    let cost = cost_cents_per_kg(table.state(), |_| None).unwrap();
    assert!((cost - 20_000.0 / 19.9).abs() < 1e-6, "{cost}");
}

#[test]
fn what_is_trimmed_off_a_piece_is_kept_and_the_piece_is_lighter() {
    let mut table = Table::new();
    table.did(weigh_out(1, "belly", 3_000.0));
    let trimmed = table.did(Act::ByproductWeighed(
        crate::ledger::facts::byproduct_weighed::ByproductWeighed {
            piece: Some(PieceId(1)),
            kind: Byproduct::Fat,
            reading: reading(400.0),
        },
    ));
    assert_eq!(
        (table.piece(1).mass.grams(), table.piece(1).green.grams()),
        (2_600.0, 2_600.0)
    );
    assert_eq!(table.state().byproducts[&Byproduct::Fat].grams(), 400.0);
    table.undo(trimmed).unwrap();
    assert_eq!(table.piece(1).green.grams(), 3_000.0);
}
