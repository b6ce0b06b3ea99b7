//! Supply from real entries, and what plans make of it.

use super::*;
use crate::animal::byproduct::Byproduct;
use crate::animal::hold::{HoldAnswer, HoldKind};
use crate::animal::{KnownWeight, Portion};
use crate::assign::wishes::{Wish, WishAmount};
use crate::ledger::book::{Book, Change};
use crate::ledger::facts::Act;
use crate::ledger::facts::piece_weighed::PieceWeighed;
use crate::ledger::facts::received::Received;
use crate::ledger::state::reading;
use crate::ledger::{LotId, Origin, PieceId};
use crate::place::Place;
use crate::place::equipment::{Bag, Equipment};
use crate::shape::Shape;
use crate::units::{Celsius, Millimetres, Typed, Units};

fn now() -> Timestamp {
    "2026-11-21T09:30:00Z".parse().unwrap()
}

/// A household with everything in it.
fn home() -> Household {
    Household {
        equipment: Some(Equipment {
            bags: vec![Bag {
                name: "vacuum bag".into(),
                width_mm: 300.0,
                length_mm: 500.0,
                vacuum: true,
            }],
            places: vec![
                Place::new("tub", "bucket", 2, 20.0),
                Place::new("pan", "loaf pan", 4, 0.0),
                Place::new("fridge", "lower shelf", 1, 80.0),
                Place::new("smoker", "smoker", 1, 10.0).sized(
                    Some(Millimetres(450.0)),
                    Some(Millimetres(350.0)),
                    None,
                ),
                Place::new("chamber", "cellar", 1, 4.0).sized(None, None, Some(Millimetres(700.0))),
            ],
            grinder: true,
            stuffer: true,
            ..Equipment::default()
        }),
        ..Household::default()
    }
}

struct Farm {
    book: Book,
    pieces: i64,
}

impl Farm {
    fn new() -> Self {
        Self {
            book: crate::testing::book(),
            pieces: 0,
        }
    }

    fn did(&mut self, lot: i64, act: Act) {
        let change = Change::Add {
            lot: LotId(lot),
            at: now(),
            act: Box::new(act),
            kept: Vec::new(),
        };
        let plan = self.book.plan(&[change], now(), Units::METRIC).unwrap();
        self.book.take(plan);
    }

    fn came(&mut self, lot: i64, species: &str, grams: f64) {
        let tag = format!("{}{lot}", crate::testing::species(species).unwrap().pair);
        let received = Received::animal(
            &tag,
            "an animal",
            species,
            Origin::Raised,
            (KnownWeight::Carcass, reading(grams)),
        );
        self.did(lot, Act::Received(received));
    }

    fn piece(&mut self, lot: i64, cut: &str, grams: f64, mm: f64) -> PieceId {
        self.pieces += 1;
        let piece = PieceId(self.pieces);
        self.did(
            lot,
            Act::PieceWeighed(PieceWeighed {
                piece,
                tag: format!("P{}", self.pieces),
                cut: cut.into(),
                reading: reading(grams),
                shape: Shape::thick(Millimetres(mm)),
            }),
        );
        piece
    }

    fn table(&self, locks: &Locks) -> Table {
        table(&self.book, &home(), locks, now())
    }
}

fn wish(id: u32, build: &str, amount: WishAmount) -> Wish {
    Wish {
        id,
        build: build.into(),
        amount,
        species: None,
    }
}

fn suggest_for(farm: &Farm, locks: &Locks, wishes: Vec<Wish>) -> Suggestion {
    let table = farm.table(locks);
    suggestion(
        &table,
        &WishList { wishes },
        &home(),
        now(),
        Budget::default(),
    )
}

fn lumps(farm: &Farm, cut: &str) -> Vec<f64> {
    let table = farm.table(&Locks::new());
    let of = table.supply.iter().filter(|s| s.cut == cut);
    of.map(|s| s.mass_g.round()).collect()
}

#[test]
fn an_open_animal_still_holds_what_was_not_weighed_out() {
    let mut farm = Farm::new();
    farm.came(1, "pig", 80_000.0);
    // 17.5 % of 80 kg in two bellies
    assert_eq!(lumps(&farm, "belly"), [7_000.0, 7_000.0]);
    farm.piece(1, "belly", 6_800.0, 45.0);
    assert_eq!(lumps(&farm, "belly"), [6_800.0, 7_200.0]);
    assert_eq!(lumps(&farm, "loin_and_belly"), [] as [f64; 0]);
    farm.did(
        1,
        Act::CuttingChosen(crate::ledger::facts::cutting_chosen::CuttingChosen {
            choice: "loin_and_belly".into(),
            option: "joined".into(),
        }),
    );
    // What is left of both: 15.2 kg of loin and 7.2 kg of belly; one belly is gone, so one lump.
    assert_eq!(lumps(&farm, "loin_and_belly"), [22_400.0]);
    farm.did(
        1,
        Act::BreakdownClosed(crate::ledger::facts::breakdown_closed::BreakdownClosed {}),
    );
    assert_eq!(lumps(&farm, "leg"), [] as [f64; 0]);
}

#[test]
fn a_seamed_leg_counts_as_its_muscles() {
    let mut farm = Farm::new();
    farm.came(1, "deer", 30_000.0);
    // 37 % of 30 kg, a fifth of it bone, three quarters in four muscles a leg
    let got = lumps(&farm, "leg_muscle");
    assert_eq!(got.len(), 8);
    assert!((got.iter().sum::<f64>() - 6_660.0).abs() < 5.0, "{got:?}");
}

#[test]
fn a_case_holds_what_is_left_of_it() {
    let mut farm = Farm::new();
    let case = Received {
        bone_in: None,
        portion: Portion::Case,
        count: Some(6),
        cut: Some("butt".into()),
        ..Received::animal(
            "HG1",
            "case of shoulders",
            "pig",
            Origin::Bought,
            (KnownWeight::BoughtCut, reading(15_000.0)),
        )
    };
    farm.did(1, Act::Received(case));
    farm.piece(1, "butt", 2_600.0, 90.0);
    assert_eq!(
        lumps(&farm, "butt"),
        [2_600.0, 2_480.0, 2_480.0, 2_480.0, 2_480.0, 2_480.0]
    );
}

#[test]
fn what_is_held_back_or_positive_is_not_planned() {
    let mut farm = Farm::new();
    farm.came(1, "deer", 30_000.0);
    farm.piece(1, "backstrap", 1_200.0, 50.0);
    let products = |farm: &Farm| -> Vec<String> {
        let table = farm.table(&Locks::new());
        let piece = table.supply("piece:1").unwrap();
        piece.options.iter().map(|o| o.build.clone()).collect()
    };
    let before = products(&farm);
    assert!(before.contains(&"backstrap".to_string()), "{before:?}");
    assert!(
        !before.contains(&"muscle-cased".to_string()),
        "not frozen yet"
    );
    farm.did(
        1,
        Act::FreezerRead(crate::ledger::facts::freezer_read::FreezerRead {
            piece: None,
            inside: Typed::unsaid(Celsius(-19.0)),
            thickness: None,
        }),
    );
    assert!(
        !products(&farm).contains(&"muscle-cased".to_string()),
        "frozen for a moment"
    );
    farm.did(
        1,
        Act::HoldAnswered(crate::ledger::facts::hold_answered::HoldAnswered {
            reason: None,
            kind: HoldKind::WastingTest,
            answer: HoldAnswer::Positive,
            note: None,
        }),
    );
    assert_eq!(products(&farm), [] as [String; 0]);
    let found = suggest_for(
        &farm,
        &Locks::new(),
        vec![wish(
            1,
            "backstrap",
            WishAmount::Mass {
                amount: reading(500.0),
            },
        )],
    );
    assert_eq!(found.choices, []);
    let why = found.wishes[0].why.as_deref().unwrap();
    assert!(
        why.contains("would suit it, but cannot become it now"),
        "{why}"
    );
}

#[test]
fn wishes_are_met_locks_stay_and_what_is_unmet_says_why() {
    let mut farm = Farm::new();
    farm.came(1, "pig", 40_000.0);
    let belly = farm.piece(1, "belly", 6_000.0, 45.0);
    farm.piece(1, "belly", 2_500.0, 40.0);
    farm.piece(1, "loin", 4_000.0, 65.0);
    farm.did(
        1,
        Act::BreakdownClosed(crate::ledger::facts::breakdown_closed::BreakdownClosed {}),
    );
    let wishes = || {
        vec![
            wish(
                1,
                "belly-slab",
                WishAmount::Mass {
                    amount: reading(2_000.0),
                },
            ),
            wish(2, "back-smoked", WishAmount::Pieces { n: 2 }),
            wish(
                3,
                "backstrap",
                WishAmount::Mass {
                    amount: reading(1_000.0),
                },
            ),
        ]
    };
    let found = suggest_for(&farm, &Locks::new(), wishes());
    let of = |found: &Suggestion, key: &str| {
        found
            .choices
            .iter()
            .find(|c| c.key == key)
            .map(|c| c.build.clone())
    };
    // The small belly does for the first wish; the large one stays free.
    assert_eq!(of(&found, "piece:2").as_deref(), Some("belly-slab"));
    assert_eq!(found.free, ["piece:1"]);
    assert_eq!(of(&found, "piece:3").as_deref(), Some("back-smoked"));
    let fares: Vec<_> = found.wishes.iter().map(|w| (w.is_met, w.met)).collect();
    assert_eq!(fares, [(true, 2_000.0), (false, 1.0), (false, 0.0)]);
    assert_eq!(
        found.wishes[1].why.as_deref(),
        Some("All that suits it (1 piece) does not reach.")
    );
    assert_eq!(
        found.wishes[2].why.as_deref(),
        Some("Nothing in the house suits it.")
    );
    let buy = found.wishes[2].purchase.as_ref().unwrap();
    assert_eq!(buy.cut_name, "backstrap (loin eye)");
    // 1 kg at 81.5 %
    assert!((buy.mass_g - 1_226.99).abs() < 0.01, "{}", buy.mass_g);

    let locks = Locks::from([(format!("piece:{}", belly.0), "belly-slab".to_string())]);
    let again = suggest_for(&farm, &locks, wishes());
    assert_eq!(of(&again, "piece:1").as_deref(), Some("belly-slab"));
    assert_eq!(again.free, ["piece:2"]);
}

#[test]
fn hooks_fill_up_and_a_full_place_is_named() {
    let mut farm = Farm::new();
    farm.came(1, "beef", 60_000.0);
    for _ in 0..6 {
        farm.piece(1, "eye_round", 2_000.0, 80.0);
    }
    farm.did(
        1,
        Act::BreakdownClosed(crate::ledger::facts::breakdown_closed::BreakdownClosed {}),
    );
    let all = suggest_for(
        &farm,
        &Locks::new(),
        vec![wish(1, "muscle-cased", WishAmount::AllHooks)],
    );
    assert_eq!((all.wishes[0].wanted, all.wishes[0].is_met), (4.0, true));
    let more = suggest_for(
        &farm,
        &Locks::new(),
        vec![wish(1, "muscle-cased", WishAmount::Pieces { n: 6 })],
    );
    assert_eq!(more.wishes[0].met, 4.0);
    assert_eq!(
        more.wishes[0].why.as_deref(),
        Some("No room: the hooks are taken by what comes before it and by what is on its way.")
    );
    assert_eq!(more.wishes[0].purchase, None);
    assert_eq!(more.summary.places[0], 4.0);
}

#[test]
fn a_ground_wish_says_what_goes_in_and_what_to_buy() {
    let mut farm = Farm::new();
    farm.came(1, "elk", 40_000.0);
    farm.piece(1, "backstrap", 2_000.0, 60.0);
    farm.did(
        1,
        Act::ByproductWeighed(crate::ledger::facts::byproduct_weighed::ByproductWeighed {
            piece: None,
            kind: Byproduct::Trim,
            reading: reading(5_000.0),
        }),
    );
    farm.did(
        1,
        Act::BreakdownClosed(crate::ledger::facts::breakdown_closed::BreakdownClosed {}),
    );
    let found = suggest_for(
        &farm,
        &Locks::new(),
        vec![wish(
            1,
            "formed-loaf",
            WishAmount::Mass {
                amount: reading(3_560.0),
            },
        )],
    );
    assert!(found.wishes[0].is_met);
    let block = &found.blocks[0];
    // 3560 g at 89 %
    assert!((block.block_g - 4_000.0).abs() < 1.0, "{block:?}");
    let trim = block.loose["loose:1:trim"];
    assert!((trim + block.bought_fat_g - 4_000.0).abs() < 1.0);
    assert!((0.25..=0.30).contains(&block.fat_fraction));
    // 89 % of 4 kg in packs of 250 g, two days of smoke after a night in the pan
    let loaf = &found.summary.products[0];
    assert_eq!((loaf.packs, loaf.days), (15, 3));
    assert_eq!(found.summary.smoke_runs, Some(1));
}

#[test]
fn a_kept_plan_is_worked_out_anew_and_counts_what_is_gone() {
    let mut farm = Farm::new();
    farm.came(1, "pig", 40_000.0);
    farm.piece(1, "belly", 3_000.0, 50.8);
    farm.did(
        1,
        Act::BreakdownClosed(crate::ledger::facts::breakdown_closed::BreakdownClosed {}),
    );
    let plan = KeptPlan {
        name: "A".into(),
        choices: [("piece:1", "belly-slab"), ("piece:99", "belly-slab")]
            .map(|(k, b)| (k.to_string(), b.to_string()))
            .into(),
        blocks: vec![],
    };
    let sum = summary(&farm.table(&Locks::new()), &plan, &home());
    assert_eq!(sum.gone, 1);
    assert!((sum.gives_g - 2_670.0).abs() < 1e-6);
    // 25.4 mm of path at 18 mm a week is 10 days, and 2 after the cure
    assert_eq!((sum.packs, sum.days), (11, 12));
    assert!((sum.places[2] - 3_000.0 / 1_050.0).abs() < 1e-9);
    assert_eq!(sum.places[1], 0.0);
}
