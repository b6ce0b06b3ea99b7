//! The laws of the ledger, on a half hog of which everything is known.

mod corrected;
mod cutting;
pub(crate) mod random;

use super::*;
use crate::acts;
use crate::animal::byproduct::Byproduct;
use crate::animal::{KnownWeight, Portion};
use crate::catalogue::cures::Role;
use crate::catalogue::dosing::DosingMethod;
use crate::dose::limits::{Class, Form};
use crate::dose::{Dose, DoseLine, Judged};
use crate::house::House;
use crate::ledger::facts::cut::{CutWay, Part};
use crate::ledger::facts::packed::NewPack;
use crate::ledger::facts::piece_weighed::PieceWeighed;
use crate::ledger::facts::received::Received;
use crate::ledger::state::{Point, Stage, reading};
use crate::ledger::tally::{NodeKind, by_product, cost_cents_per_kg, flow};
use crate::ledger::{Loss, Origin, balances};
use crate::shape::Shape;
use crate::units::{Band, Celsius, Fraction, Milligrams, Millimetres, Typed, Units};

const LOT: LotId = LotId(1);

fn at(minutes: i64) -> Timestamp {
    Timestamp::from_second(1_790_000_000 + minutes * 60).unwrap()
}

/// A book with the acts done so far, a minute apart.
struct Table {
    book: Book,
    minute: i64,
}

impl Table {
    fn new() -> Self {
        let mut table = Self {
            book: crate::testing::book(),
            minute: 0,
        };
        table.did(received(40_000.0));
        table
    }

    fn write(&mut self, change: Change) -> Result<Vec<Arc<Entry>>, Refusal> {
        let plan = self.book.plan(&[change], at(self.minute), Units::METRIC)?;
        let entries = plan.entries.clone();
        self.book.take(plan);
        Ok(entries)
    }

    fn try_act(&mut self, act: Act) -> Result<EntryId, Refusal> {
        self.minute += 1;
        let change = Change::Add {
            lot: LOT,
            at: at(self.minute),
            act: Box::new(act),
            kept: Vec::new(),
        };
        Ok(self.write(change)?[0].id)
    }

    fn did(&mut self, act: Act) -> EntryId {
        self.try_act(act).unwrap()
    }

    fn correct(&mut self, entry: EntryId, act: Act) -> Result<Vec<Arc<Entry>>, Refusal> {
        self.write(Change::Replace {
            entry,
            at: None,
            act: Box::new(act),
            kept: Vec::new(),
        })
    }

    fn undo(&mut self, entry: EntryId) -> Result<Vec<Arc<Entry>>, Refusal> {
        self.write(Change::Undo { entry })
    }

    fn state(&self) -> &State {
        &self.book.lot(LOT).unwrap().state
    }

    fn piece(&self, id: i64) -> &Piece {
        &self.state().pieces[&PieceId(id)]
    }

    fn refused(&mut self, act: Act) -> String {
        self.try_act(act).unwrap_err().to_string()
    }
}

/// What is asked before an act is written down.
fn questions(act: &Act, state: &State, home: &House) -> Vec<crate::caution::Finding> {
    let book = crate::testing::book();
    act.warnings(&acts::Validator {
        book: &book,
        state,
        home,
        at: "2027-06-01T08:00:00Z".parse().unwrap(),
        correcting: false,
    })
}

fn received(grams: f64) -> Act {
    Act::Received(Received {
        bone_in: None,
        portion: Portion::Half,
        cost_cents: Some(20_000),
        skin_on: true,
        ..Received::animal(
            "HG1",
            "half hog",
            "pig",
            Origin::Bought,
            (KnownWeight::Carcass, reading(grams)),
        )
    })
}

fn weigh_out(id: i64, cut: &str, grams: f64) -> Act {
    Act::PieceWeighed(PieceWeighed {
        piece: PieceId(id),
        tag: format!("HG1-{id}"),
        cut: cut.into(),
        reading: reading(grams),
        shape: Shape::thick(Millimetres(45.0)),
    })
}

fn assign(id: i64, build: &str) -> Act {
    Act::Assigned(crate::ledger::facts::assigned::Assigned {
        piece: PieceId(id),
        build: build.into(),
        version: crate::testing::build(build).map_or(1, |b| b.version),
        reason: None,
    })
}

fn dose(id: i64, grams: f64) -> Act {
    Act::Dosed(crate::ledger::facts::dosed::Dosed {
        piece: PieceId(id),
        place: None,
        dose: Box::new(Dose {
            method: DosingMethod::MeasuredDry,
            build: Some(crate::testing::build("belly-slab").unwrap().reference()),
            cure: crate::testing::cure("cure1"),
            judged: Judged {
                rule_set: "us_home".into(),
                class: Class::Fry,
                form: Form::Whole,
                ceiling_ppm: 200.0,
                floor_ppm: 120.0,
            },
            lines: vec![
                DoseLine {
                    role: Role::CuringSalt,
                    name: "cure #1".into(),
                    mass: Typed::unsaid(Milligrams::from_grams(grams * 0.1)),
                    salt: None,
                    made_of: None,
                },
                DoseLine {
                    role: Role::Salt,
                    name: "salt".into(),
                    mass: Typed::unsaid(Milligrams::from_grams(grams * 0.9)),
                    salt: None,
                    made_of: None,
                },
            ],
            nitrite: Band {
                nominal: 156.0,
                low: 150.0,
                high: 160.0,
            },
            nitrate: Band::exactly(0.0),
            salt: None,
            school: None,
            mixed_with: vec![],
            findings: vec![],
            reason: None,
            own: Vec::new(),
            over: None,
            way: None,
            taken_up: None,
            vessel: None,
            time: crate::dose::OwnTime::default(),
            brine: crate::dose::BrineState::default(),
        }),
    })
}

fn out(id: i64, grams: f64) -> Act {
    Act::OutOfCure(crate::ledger::facts::out_of_cure::OutOfCure {
        reason: None,
        piece: PieceId(id),
        reading: reading(grams),
        surface: None,
    })
}

fn smoked(id: i64, grams: f64) -> Act {
    Act::Smoked(crate::ledger::facts::smoked::Smoked {
        shared_by: None,
        piece: PieceId(id),
        reading: reading(grams),
        inside: Some(Typed::unsaid(Celsius(60.0))),
        step: None,
        chamber: None,
        run: None,
        also: Vec::new(),
        reason: None,
    })
}

fn packed(id: i64, grams: &[f64], ends: Option<f64>) -> Act {
    Act::Packed(crate::ledger::facts::packed::Packed {
        piece: PieceId(id),
        packs: grams
            .iter()
            .enumerate()
            .map(|(i, g)| NewPack {
                pack: PackId(id * 100 + i as i64),
                tag: format!("HG1-{id}.{}", i + 1),
                reading: reading(*g),
                slices: None,
                place: None,
                allergens: None,
                line: None,
                lies_in: None,
                bag: None,
                printed: None,
            })
            .collect(),
        ends: ends.map(reading),
        finished: true,
        rest: None,
        reason: None,
    })
}

/// A belly from the knife to the freezer: 5 kg, 125 g of cure, and every step's loss.
fn belly() -> (Table, Vec<EntryId>) {
    let mut table = Table::new();
    let acts = [
        weigh_out(1, "belly", 5_000.0),
        assign(1, "belly-slab"),
        dose(1, 125.0),
        out(1, 4_850.0),
        smoked(1, 4_400.0),
        packed(1, &[2_000.0, 2_200.0], Some(150.0)),
    ];
    let ids = acts.into_iter().map(|act| table.did(act)).collect();
    (table, ids)
}

fn loss(table: &Table, kind: Loss) -> f64 {
    table.state().losses.get(&kind).map_or(0.0, |m| m.grams())
}

#[test]
fn a_belly_from_knife_to_freezer_adds_up() {
    let (table, _) = belly();
    assert_eq!(table.piece(1).stage(), Stage::Packed);
    assert_eq!(table.state().left.grams(), 35_000.0);
    assert_eq!(loss(&table, Loss::Drip), 275.0);
    assert_eq!(loss(&table, Loss::Smoke), 450.0);
    assert_eq!(loss(&table, Loss::Slicing), 50.0);
    assert_eq!(table.state().byproducts[&Byproduct::Ends].grams(), 150.0);
    let (taken, held) = table.state().in_and_out();
    assert_eq!(taken, held);
    assert_eq!(taken.grams(), 40_125.0);
}

#[test]
fn stages_follow_from_what_was_done() {
    let mut table = Table::new();
    table.did(weigh_out(1, "loin", 3_000.0));
    assert_eq!(table.piece(1).stage(), Stage::Assign);
    table.did(assign(1, "muscle-cased"));
    assert_eq!(table.piece(1).stage(), Stage::Dose);
    table.did(dose(1, 90.0));
    assert_eq!(table.piece(1).stage(), Stage::InCure);
    table.did(out(1, 2_900.0));
    assert_eq!(table.piece(1).stage(), Stage::Hang);
    table.did(Act::Hung(crate::ledger::facts::hung::Hung {
        hook: None,
        stop: crate::piece::StopBy::Weight,
        piece: PieceId(1),
        reading: reading(2_940.0),
        tare: reading(40.0),
        loss: Typed::unsaid(Fraction(0.35)),
        place: None,
        parts: Vec::new(),
        reason: None,
    }));
    assert_eq!(table.piece(1).stage(), Stage::Hanging);
    table.did(Act::WeighedIn(
        crate::ledger::facts::weighed_in::WeighedIn {
            piece: PieceId(1),
            reading: reading(2_500.0),
        },
    ));
    assert_eq!(table.piece(1).mass.grams(), 2_460.0);
    table.did(Act::TakenDown(
        crate::ledger::facts::taken_down::TakenDown {
            piece: PieceId(1),
            reading: Some(reading(1_900.0)),
        },
    ));
    assert_eq!(table.piece(1).stage(), Stage::Pack);
    let points: Vec<_> = table.piece(1).weighings.iter().map(|w| w.point).collect();
    assert_eq!(
        points,
        [
            Point::Green,
            Point::OutOfCure,
            Point::Hung,
            Point::WeighedIn,
            Point::TakenDown
        ]
    );
    assert_eq!(loss(&table, Loss::Evaporation), 1_040.0);
    table.did(weigh_out(2, "ribs", 900.0));
    table.did(assign(2, "fresh"));
    assert_eq!(table.piece(2).stage(), Stage::Pack);
}

#[test]
fn what_cannot_be_is_refused_in_words() {
    let (mut table, _) = belly();
    table.did(weigh_out(2, "loin", 3_000.0));
    #[rustfmt::skip]
    let cases = [
        (weigh_out(3, "leg", 36_000.0), "36 kg is more than the 32 kg still to weigh. Check the digits and the unit, or correct the received weight of 40 kg."),
        (weigh_out(3, "leg", 0.0), "Nothing is on the scale. Type a weight above zero, such as 2010."),
        (out(2, 2_900.0), "HG1-2 has no product yet, so this cannot be done with it now."),
        (packed(1, &[10.0], None), "HG1-1 is packed, so this cannot be done with it now."),
        (Act::ByproductWeighed(crate::ledger::facts::byproduct_weighed::ByproductWeighed { piece: Some(PieceId(2)), kind: Byproduct::Fat, reading: reading(3_000.0) }), "HG1-2 weighs 3 kg in all, so 3 kg cannot come off it. Check the digits."),
        (Act::Turned(crate::ledger::facts::turned::Turned { piece: PieceId(9), nothing_floats: None }), "This piece was not weighed out."),
        (Act::Discarded(crate::ledger::facts::discarded::Discarded { piece: PieceId(2), reason: " ".into(), packs: Vec::new() }), "Type why it is thrown away, such as off smell."),
    ];
    for (act, want) in cases {
        assert_eq!(table.refused(act), want);
    }
    let Act::PieceWeighed(mut thick) = weigh_out(3, "leg", 5_000.0) else {
        unreachable!()
    };
    thick.shape = Shape::thick(Millimetres(1_143.0));
    assert_eq!(
        table.refused(Act::PieceWeighed(thick)),
        "1143 mm is thicker than any piece. Measure the thickest place and type it with its unit, such as 45 mm or 1 3/4 in."
    );
}

#[test]
fn a_refusal_speaks_in_the_households_unit() {
    let table = Table::new();
    let change = Change::Add {
        lot: LOT,
        at: at(9),
        act: Box::new(weigh_out(1, "leg", 45_359.237)),
        kept: Vec::new(),
    };
    let said = table
        .book
        .plan(&[change], at(9), Units::IMPERIAL)
        .unwrap_err()
        .to_string();
    assert!(
        said.starts_with("100 lb is more than the 88 lb 3 oz still to weigh."),
        "{said}"
    );
}

#[test]
fn a_piece_cannot_gain_what_nothing_added() {
    let mut table = Table::new();
    table.did(weigh_out(1, "belly", 1_000.0));
    table.did(assign(1, "belly-slab"));
    table.did(dose(1, 25.0));
    assert!(
        table
            .refused(out(1, 1_100.0))
            .starts_with("1.1 kg is more than HG1-1 and everything put with it weighed (1.025 kg)")
    );
    table.did(out(1, 980.0));
    assert!(
        table
            .refused(smoked(1, 1_200.0))
            .contains("cannot weigh 1.2 kg now")
    );
    // a few grams are two scales disagreeing, and stay visible
    table.did(smoked(1, 985.0));
    assert_eq!(loss(&table, Loss::Unaccounted), -5.0);
}

#[test]
fn a_cut_piece_shares_its_dose_its_start_and_nothing_else() {
    let mut table = Table::new();
    table.did(weigh_out(1, "belly", 3_000.0));
    table.did(assign(1, "belly-slab"));
    table.did(dose(1, 75.0));
    let since = table.piece(1).cure.as_ref().unwrap().since;
    let part = |id, tag: &str, grams, mm| Part {
        fat_cap: None,
        piece: PieceId(id),
        tag: tag.into(),
        reading: reading(grams),
        thickness: Some(Typed::unsaid(Millimetres(mm))),
        cut: None,
    };
    table.did(Act::Cut(crate::ledger::facts::cut::Cut {
        piece: PieceId(1),
        parts: vec![
            part(2, "HG1-1a", 2_000.0, 45.0),
            part(3, "HG1-1b", 1_000.0, 30.0),
        ],
        way: CutWay::Split,
    }));
    let (a, b) = (table.piece(2), table.piece(3));
    assert_eq!(table.piece(1).stage(), Stage::CutUp);
    assert_eq!((a.stage(), b.stage()), (Stage::InCure, Stage::InCure));
    let dose_of = |p: &Piece| {
        p.cure
            .as_ref()
            .unwrap()
            .dose
            .as_ref()
            .unwrap()
            .lines
            .iter()
            .map(|l| l.mass.value)
            .sum::<Milligrams>()
            .grams()
    };
    assert_eq!((dose_of(a), dose_of(b)), (50.0, 25.0));
    assert_eq!((a.in_cure.grams(), b.in_cure.grams()), (50.0, 25.0));
    assert_eq!(a.cure.as_ref().unwrap().since, since);
    assert_eq!(
        (a.shape.thickness(), b.shape.thickness()),
        (Some(Millimetres(45.0)), Some(Millimetres(30.0)))
    );
    assert_eq!((a.green.grams(), b.green.grams()), (2_000.0, 1_000.0));
    assert_eq!(
        table.book.lot(LOT).unwrap().next_part_tags(a, 1),
        ["HG1-1a1"]
    );
}

#[test]
fn closing_explains_what_it_can_and_shows_the_rest() {
    let mut table = Table::new();
    table.did(weigh_out(1, "belly", 37_000.0));
    let asked = questions(
        &Act::BreakdownClosed(crate::ledger::facts::breakdown_closed::BreakdownClosed {}),
        table.state(),
        &House::default(),
    );
    assert_eq!(asked[0].saw.as_deref(), Some("3 kg"));
    table.did(Act::BreakdownClosed(
        crate::ledger::facts::breakdown_closed::BreakdownClosed {},
    ));
    assert_eq!(loss(&table, Loss::Cutting), 800.0);
    assert_eq!(loss(&table, Loss::Unaccounted), 2_200.0);
    assert_eq!(table.state().left, Milligrams::ZERO);
    assert!(
        table
            .refused(weigh_out(2, "leg", 1.0))
            .starts_with("The break-down of HG1 is finished.")
    );
}

#[test]
fn odd_numbers_are_asked_about_with_what_was_meant() {
    let table = Table::new();
    let ask = |grams: f64, mm: f64| {
        let Act::PieceWeighed(mut new) = weigh_out(1, "belly", grams) else {
            unreachable!()
        };
        new.shape = Shape::thick(Millimetres(mm));
        let asked = questions(&Act::PieceWeighed(new), table.state(), &House::default());
        asked
            .into_iter()
            .filter_map(|f| f.remedy)
            .collect::<Vec<_>>()
            .join(" ")
    };
    #[rustfmt::skip]
    let cases = [
        ("all well",   3_000.0,  45.0, ""),
        ("kg typed",   3.1,      45.0, "Did you mean 3.1 kg?"),
        ("tenfold",    30_000.0, 45.0, "Did you mean 3 kg? It looks like a digit too many."),
        ("cm typed",   3_000.0,  4.5,  "Did you mean 45 mm? Type the unit with the number."),
        ("inch typed", 3_000.0,  1.7,  "Did you mean 43.2 mm? Type the unit with the number."),
    ];
    for (why, grams, mm, want) in cases {
        assert_eq!(ask(grams, mm), want, "{why}");
    }
}

#[test]
fn the_flow_adds_up_at_every_node() {
    let (mut table, _) = belly();
    table.did(weigh_out(2, "loin", 4_000.0));
    table.did(assign(2, "back-smoked"));
    table.did(Act::ByproductWeighed(
        crate::ledger::facts::byproduct_weighed::ByproductWeighed {
            piece: None,
            kind: Byproduct::Bone,
            reading: reading(3_000.0),
        },
    ));
    let book = table.book.lot(LOT).unwrap();
    let links = flow(&book.state, &book.in_order());
    let sum = |keep: &dyn Fn(&crate::ledger::tally::Link) -> bool| {
        links
            .iter()
            .filter(|l| keep(l))
            .map(|l| l.mass_mg)
            .sum::<Milligrams>()
            .grams()
    };
    assert_eq!(sum(&|l| l.from.kind == NodeKind::Received), 40_000.0);
    assert_eq!(sum(&|l| l.from.kind == NodeKind::Material), 125.0);
    let middle = |l: &crate::ledger::tally::Link| l.to.kind == NodeKind::Product;
    let ends = sum(&|l| !middle(l));
    assert_eq!(ends, 40_125.0);
    assert_eq!(sum(&|l| l.to.kind == NodeKind::Packed), 4_200.0);
    let bacon = &by_product([&book.state])[1];
    assert_eq!((bacon.build.as_str(), bacon.packs), ("belly-slab", 2));
    assert_eq!(
        bacon
            .steps
            .iter()
            .map(|s| s.here_mg.grams())
            .collect::<Vec<_>>(),
        [4_850.0, 4_400.0]
    );
    // bones carry no cost: 5 kg of the other 37 kg is packed as 4.2 kg, 200.00 * 5/37 / 4.2
    let cost = cost_cents_per_kg(&book.state, |_| None).unwrap();
    assert!((cost - 643.500_643_5).abs() < 1e-6, "{cost}");
}

#[test]
fn a_pack_is_ready_to_eat_only_when_the_heat_that_makes_it_so_was_recorded() {
    let eat = |species: &str, cut: &str, build: &str, inside_c: Option<f64>| {
        let mut table = Table {
            book: crate::testing::book(),
            minute: 0,
        };
        let Act::Received(mut came) = received(40_000.0) else {
            unreachable!()
        };
        came.species = species.into();
        table.did(Act::Received(came));
        table.did(weigh_out(1, cut, 2_000.0));
        table.did(assign(1, build));
        table.did(dose(1, 50.0));
        table.did(out(1, 1_950.0));
        table.did(Act::Smoked(crate::ledger::facts::smoked::Smoked {
            shared_by: None,
            piece: PieceId(1),
            reading: reading(1_700.0),
            inside: inside_c.map(|c| Typed::unsaid(Celsius(c))),
            step: None,
            chamber: None,
            run: None,
            also: Vec::new(),
            reason: None,
        }));
        let judge = crate::verdict::Judge {
            book: &table.book,
            home: &House::default(),
        };
        judge.piece(table.state(), table.piece(1)).word
    };
    use crate::piece::printed::Verdict::{CookBeforeEating, ReadyToEat};
    #[rustfmt::skip]
    let cases = [
        ("pig",       "loin",      "back-smoked",     Some(62.8), ReadyToEat),
        ("pig",       "loin",      "back-smoked",     Some(60.0), CookBeforeEating),
        ("pig",       "loin",      "back-smoked",     None,       CookBeforeEating),
        ("wild_boar", "loin",      "back-smoked",     Some(62.8), CookBeforeEating),
        ("wild_boar", "loin",      "back-smoked",     Some(71.1), ReadyToEat),
        ("deer",      "backstrap", "backstrap",       Some(71.1), ReadyToEat),
        ("turkey",    "breast",    "breast-peppered", Some(71.1), CookBeforeEating),
        ("turkey",    "breast",    "breast-peppered", Some(73.9), ReadyToEat),
        ("pig",       "belly",     "belly-slab",      Some(75.0), ReadyToEat),
        ("pig",       "belly",     "belly-slab",      Some(60.0), CookBeforeEating),
    ];
    for (species, cut, build, inside, want) in cases {
        assert_eq!(
            eat(species, cut, build, inside),
            want,
            "{species} {build} at {inside:?}"
        );
    }
}

#[test]
fn a_step_that_loses_too_much_is_asked_about_once() {
    let mut table = Table::new();
    table.did(weigh_out(1, "belly", 2_000.0));
    table.did(assign(1, "belly-slab"));
    table.did(dose(1, 50.0));
    let asked = |table: &Table, act: Act| {
        let found = questions(&act, table.state(), &House::default());
        found
            .into_iter()
            .next()
            .map(|f| (f.message, f.remedy.unwrap_or_default()))
    };
    assert_eq!(asked(&table, out(1, 1_900.0)), None);
    let (message, remedy) = asked(&table, out(1, 200.0)).unwrap();
    assert_eq!(
        message,
        "HG1-1 would have lost 90 % since it was weighed last."
    );
    assert!(remedy.starts_with("Did you mean 2 kg?"), "{remedy}");
    table.did(out(1, 1_900.0));
    assert_eq!(asked(&table, smoked(1, 1_600.0)), None);
    assert_eq!(
        asked(&table, smoked(1, 1_100.0)).unwrap().1,
        "Look at the scale again, or keep it as typed."
    );
}
