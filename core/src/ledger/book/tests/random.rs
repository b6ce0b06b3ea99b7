//! Whatever is done on a random day, the laws hold.

use super::*;
use crate::units::{Fraction, Typed};
use proptest::prelude::*;

/// What is done between the weighings.
fn on_the_way(piece: &Piece, kind: u8, grams: f64) -> Act {
    match kind % 4 {
        0 => Act::Coated(crate::ledger::facts::coated::Coated {
            piece: piece.id,
            name: "pepper".into(),
            reading: Some(reading(grams)),
            after: None,
            allergens: None,
        }),
        1 => Act::Soaked(crate::ledger::facts::soaked::Soaked {
            piece: piece.id,
            minutes: u32::from(kind),
            changes: 1,
            iced: false,
        }),
        2 => Act::Checked(crate::ledger::facts::checked::Checked {
            mould: None,
            photo: None,
            piece: piece.id,
            check: "tacky".into(),
            grade: Some("tacky".into()),
            value: None,
            note: None,
            settles: true,
            pack: None,
        }),
        _ => Act::StepDone(crate::ledger::facts::step_done::StepDone {
            piece: piece.id,
            step: piece.next_step().map_or_else(String::new, |s| s.id.clone()),
            note: None,
            thickness: None,
        }),
    }
}

/// Something that was kept goes.
fn used_up(state: &State, share: f64) -> Act {
    use crate::animal::byproduct::UsedFor;
    let kept = state.byproducts.iter().find(|(_, mass)| mass.is_some());
    let (kind, mass) = kept.map_or((Byproduct::Fat, 1.0), |(k, m)| (*k, m.grams()));
    let used = if kind.is_rendered() {
        UsedFor::Rendered
    } else {
        UsedFor::GivenAway
    };
    Act::ByproductUsed(crate::ledger::facts::byproduct_used::ByproductUsed {
        kind,
        reading: reading(mass * share),
        used,
        gave: (used == UsedFor::Rendered).then(|| reading(mass * share * 0.7)),
        note: None,
    })
}

/// A random day at the table: each number picks an act and its weight.
fn random_act(table: &Table, pick: (u8, u8, f64)) -> Act {
    let (kind, which, share) = pick;
    let book = table.book.lot(LOT).unwrap();
    let pieces: Vec<_> = book.state.pieces.values().collect();
    let next = table.book.next_piece().0;
    if pieces.is_empty() || kind < 40 {
        let cut = ["belly", "loin", "butt"][usize::from(which) % 3];
        return weigh_out(next, cut, book.state.left.grams() * share * 0.3);
    }
    let piece = pieces[usize::from(which) % pieces.len()];
    let id = piece.id.0;
    let mass = piece.mass.grams();
    if let Some(act) = cutting::random(table, piece, kind, share) {
        return act;
    }
    if let (Stage::Smoke | Stage::Hang | Stage::Pack, 100..140) = (piece.stage(), kind) {
        return on_the_way(piece, kind, mass * share * 0.1);
    }
    if piece.frost().is_some() && kind % 3 != 0 {
        return Act::Thawed(crate::ledger::facts::frozen::Thawed {
            piece: piece.id,
            place: None,
        });
    }
    if (190..196).contains(&kind) {
        return Act::Frozen(crate::ledger::facts::frozen::Frozen {
            piece: piece.id,
            place: None,
            thaw_by: None,
        });
    }
    if (196..200).contains(&kind) {
        return used_up(&book.state, share);
    }
    match (piece.stage(), kind % 4) {
        (_, 0) if kind > 200 => Act::Cut(crate::ledger::facts::cut::Cut {
            piece: piece.id,
            parts: (0..2)
                .map(|i| Part {
                    fat_cap: None,
                    piece: PieceId(next + i),
                    tag: book.next_part_tags(piece, 2)[i as usize].clone(),
                    reading: reading(mass * 0.49),
                    thickness: None,
                    cut: None,
                })
                .collect(),
            way: CutWay::Split,
        }),
        (Stage::Assign, _) => assign(
            id,
            ["belly-slab", "back-smoked", "muscle-cased", "fresh"][usize::from(kind) % 4],
        ),
        (Stage::Dose, 1) => {
            Act::ByproductWeighed(crate::ledger::facts::byproduct_weighed::ByproductWeighed {
                piece: Some(piece.id),
                kind: Byproduct::Trim,
                reading: reading(mass * 0.1),
            })
        }
        (Stage::Dose, _) => dose(id, mass * 0.03),
        (Stage::InCure, _) => out(id, mass * (0.9 + share * 0.1)),
        (Stage::Smoke, _) => smoked(id, mass * (0.8 + share * 0.2)),
        (Stage::Hang, _) => Act::Hung(crate::ledger::facts::hung::Hung {
            hook: None,
            stop: crate::piece::StopBy::Weight,
            piece: piece.id,
            reading: reading(mass + 30.0),
            tare: reading(30.0),
            loss: Typed::unsaid(Fraction(0.35)),
            place: None,
            parts: Vec::new(),
            reason: None,
        }),
        (Stage::Hanging, 1) => Act::TakenDown(crate::ledger::facts::taken_down::TakenDown {
            piece: piece.id,
            reading: Some(reading(mass * 0.9 + 30.0)),
        }),
        (Stage::Hanging, _) => Act::WeighedIn(crate::ledger::facts::weighed_in::WeighedIn {
            piece: piece.id,
            reading: reading(mass * 0.95 + 30.0),
        }),
        (Stage::Pack, _) => {
            let pack = table.book.next_pack();
            Act::Packed(crate::ledger::facts::packed::Packed {
                piece: piece.id,
                packs: vec![NewPack {
                    pack,
                    tag: book.next_pack_tags(piece, 1)[0].clone(),
                    reading: reading(mass * share),
                    slices: None,
                    place: None,
                    allergens: None,
                    line: None,
                    lies_in: None,
                    bag: None,
                    printed: None,
                }],
                ends: None,
                finished: kind % 2 == 0,
                rest: (kind % 8 == 0).then(|| "tasted".into()),
                reason: None,
            })
        }
        _ => Act::Discarded(crate::ledger::facts::discarded::Discarded {
            piece: piece.id,
            reason: "dropped".into(),
            packs: Vec::new(),
        }),
    }
}

/// The book after some random acts so many minutes apart, as it is after each of them; `look` sees it with its present.
pub(crate) fn lived(
    picks: impl IntoIterator<Item = (u8, u8, f64)>,
    apart: i64,
    mut look: impl FnMut(&Book, Timestamp),
) {
    let mut table = Table::new();
    for pick in picks {
        table.minute += apart;
        let act = random_act(&table, pick);
        let _ = table.try_act(act);
        look(&table.book, at(table.minute));
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    #[test]
    fn any_day_at_the_table_balances_and_folds_the_same(
        picks in prop::collection::vec((any::<u8>(), any::<u8>(), 0.05..1.0_f64), 1..60),
        meddling in prop::collection::vec((any::<prop::sample::Index>(), any::<bool>()), 0..8),
    ) {
        let mut table = Table::new();
        for pick in picks {
            let act = random_act(&table, pick);
            let _ = table.try_act(act);
        }
        for (which, undo) in meddling {
            let entries = table.book.lot(LOT).unwrap().entries.clone();
            let entry = which.get(&entries).clone();
            let _ = if undo {
                table.undo(entry.id)
            } else if let Act::PieceWeighed(mut piece) = entry.act.clone() {
                piece.reading = reading(piece.reading.value.grams() * 1.1);
                table.correct(entry.id, Act::PieceWeighed(piece))
            } else {
                table.correct(entry.id, entry.act.clone())
            };
        }
        let Some(book) = table.book.lot(LOT) else { return Ok(()) };
        for entry in &book.entries {
            prop_assert!(balances(&entry.postings), "{entry:?}");
        }
        let (taken, held) = book.state.in_and_out();
        prop_assert_eq!(taken, held);
        for piece in book.state.pieces.values() {
            prop_assert!(piece.mass.0 >= 0 && piece.in_cure.0 >= 0, "{:?}", piece);
        }
        let again = Book::fold(book.entries.iter().map(|e| (**e).clone()), Catalogue::shipped());
        prop_assert_eq!(&again, &table.book);
        let home = House::default();
        for entry in book.live_entries() {
            let scene = acts::RenderContext { lot: book, home: &home };
            let Some(ask) = scene.ask_again(entry) else { continue };
            let mut desk = acts::DraftContext::new(&table.book, &home, at(table.minute));
            let acts = ask.draft(&mut desk, Some((entry.lot, &entry.act)));
            prop_assert_eq!(acts, Ok(vec![(entry.lot, entry.act.clone())]), "{:?}", ask);
        }
        let links = flow(&book.state, &book.in_order());
        prop_assert!(links.iter().all(|l| l.mass_mg.0 > 0));
    }
}
