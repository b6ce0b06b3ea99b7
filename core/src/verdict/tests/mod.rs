//! What is said follows from what was recorded, over random lives of pieces.

mod shipped;
mod table;

use super::*;
use crate::catalogue::holds::{HoldAnswer, HoldKind};
use crate::ids::PieceId;
use crate::ledger::book::Change;
use crate::ledger::facts::Act;
use crate::ledger::facts::ground::GroundFrom;
use crate::reason;
use crate::testing::Season;
use jiff::SignedDuration;
use proptest::prelude::*;
use serde_json::{Value, json};
use std::collections::BTreeSet;

impl Season {
    fn new() -> Self {
        let mut season = Self::empty();
        for (species, origin) in [
            ("pig", "bought"),
            ("deer", "harvested"),
            ("turkey", "bought"),
        ] {
            season.tries(
                &json!({"act": "received", "name": species, "species": species, "origin": origin, "known": "carcass", "reading": "60 kg"}),
            );
        }
        for lot in 1..=2 {
            season.tries(&json!({"act": "freezer_read", "lot": lot, "inside": "-20 C"}));
        }
        season
    }

    fn judge(&self) -> Judge<'_> {
        Judge {
            book: &self.book,
            home: &self.home,
        }
    }

    /// One random thing, done with a random piece.
    fn happens(&mut self, (kind, which, share, hours): (u8, u8, f64, u32)) {
        self.now += SignedDuration::from_hours(i64::from(hours));
        let pieces: Vec<_> = self
            .book
            .pieces()
            .filter(|(_, p)| !p.stage().is_over())
            .map(|(l, p)| {
                (
                    l.state.id,
                    p.id,
                    p.stage(),
                    p.mass.grams(),
                    p.tare().grams(),
                    p.packs.len(),
                )
            })
            .collect();
        let lot = i64::from(which % 3) + 1;
        let why = (kind % 3 != 0).then_some("this is how we have always done it");
        let g = |grams: f64| format!("{grams:.0} g");
        let Some((of, piece, stage, mass, tare, _)) = pieces
            .get(usize::from(which) % pieces.len().max(1))
            .copied()
            .filter(|_| kind > 30)
        else {
            let cut = [
                ["loin", "belly", "butt"],
                ["backstrap", "leg_muscle", "neck"],
                ["breast", "breast", "legs"],
            ][usize::from(which % 3)][usize::from(kind % 3)];
            self.tries(&json!({"act": "piece_weighed", "lot": lot, "cut": cut, "reading": g(800.0 + share * 2_000.0), "thickness": format!("{:.0} mm", 25.0 + share * 60.0)}));
            self.tries(&json!({"act": "byproduct_weighed", "lot": lot, "kind": "trim", "reading": "800 g"}));
            return;
        };
        let inside = format!("{:.1} C", 40.0 + share * 45.0);
        let side = match kind % 23 {
            0 => Some(json!({"act": "freezer_read", "lot": of, "inside": "-20 C"})),
            1 => Some(
                json!({"act": "hold_answered", "lot": 2, "kind": "wasting_test", "answer": if which > 245 { "positive" } else { "clear" }}),
            ),
            2 => Some(
                json!({"act": "checked", "piece": piece, "check": "smell", "grade": if which > 230 { "discard" } else { "good" }}),
            ),
            3 => Some(
                json!({"act": "place_read", "place": "porch", "piece": piece, "temperature": "9 C", "hours": share * 26.0}),
            ),
            4 => Some(
                json!({"act": "cooled", "piece": piece, "inside": format!("{:.0} C", share * 30.0), "hours": share * 9.0}),
            ),
            _ => None,
        };
        if let Some(side) = side {
            self.tries(&side);
            return;
        }
        // Cures and hooks take their weeks, more often than not.
        if kind % 4 != 0 && matches!(stage, Stage::InCure | Stage::Hanging) {
            self.now += SignedDuration::from_hours(24 * 28);
        }
        let next = match stage {
            Stage::Assign if kind % 5 == 0 => {
                let given = (of.0 % 3) + 1;
                json!({"act": "ground", "lot": of, "reading": g(mass + 690.0), "thickness": "60 mm", "sources": [
                    {"from": "piece", "piece": piece}, {"from": "kept", "lot": given, "kind": "trim", "reading": "700 g"}]})
            }
            Stage::Assign => {
                let build = [
                    "belly-slab",
                    "back-smoked",
                    "muscle-cased",
                    "breast-peppered",
                    "formed-loaf",
                    "salami-knife",
                    "backstrap",
                    "jowl-dried",
                ][usize::from(kind % 8)];
                json!({"act": "assigned", "piece": piece, "build": build, "reason": why})
            }
            Stage::Dose => json!({"act": "dosed", "pieces": [piece], "reason": why,
                "own": if kind % 7 == 0 { json!({"cure": "none"}) } else { json!({}) }}),
            Stage::InCure => {
                json!({"act": "out_of_cure", "piece": piece, "reading": g(mass * 0.97)})
            }
            Stage::Smoke => {
                json!({"act": "smoked", "piece": piece, "reading": g(mass * 0.9), "inside": inside, "reason": why})
            }
            Stage::Hang => {
                json!({"act": "hung", "piece": piece, "reading": g(mass + 40.0), "tare": "40 g",
                "loss_fraction": 0.15 + share * 0.25, "reason": why})
            }
            Stage::Hanging if kind % 2 == 0 => {
                json!({"act": "weighed_in", "piece": piece, "reading": g(mass * (1.0 - share * 0.2) + tare)})
            }
            Stage::Hanging => {
                json!({"act": "taken_down", "piece": piece, "reading": g(mass * (1.0 - share * 0.5) + tare)})
            }
            Stage::Pack => {
                json!({"act": "packed", "piece": piece, "packs": [{"reading": g(mass * 0.98)}], "finished": true, "reason": why})
            }
            Stage::Packed | Stage::CutUp | Stage::Joined | Stage::Discarded => return,
        };
        self.tries(&next);
    }

    /// A random entry is put right or undone.
    fn is_put_right(&mut self, which: usize, undo: bool, share: f64) {
        let all: Vec<_> = self
            .book
            .lots()
            .flat_map(|l| l.live_entries().cloned().collect::<Vec<_>>())
            .collect();
        let entry = &all[which % all.len()];
        if undo {
            self.write(&[Change::Undo { entry: entry.id }]);
            return;
        }
        let mut act = entry.act.clone();
        match &mut act {
            Act::PieceWeighed(a) => a.reading = crate::units::reading(300.0 + share * 2_500.0),
            Act::Smoked(a) => {
                a.inside = Some(crate::units::Typed::unsaid(Celsius(30.0 + share * 50.0)))
            }
            Act::HoldAnswered(a) => a.answer = HoldAnswer::Clear,
            _ => {}
        }
        self.write(&[Change::Replace {
            entry: entry.id,
            at: None,
            act: Box::new(act),
            kept: Vec::new(),
        }]);
    }

    /// What is said of every piece, and why.
    fn label(&self) -> Vec<(PieceId, Verdict, Option<How>, Vec<ReasonCode>)> {
        let all = self.book.pieces().map(|(lot, p)| {
            let v = self.judge().piece(&lot.state, p);
            let mut codes: Vec<_> = v.reasons.iter().map(|r| r.code).collect();
            codes.sort();
            (p.id, v.word, v.how, codes)
        });
        all.collect()
    }

    /// Every live act, in whichever lot.
    fn live(&self) -> Vec<Act> {
        self.book
            .lots()
            .flat_map(|l| l.live_entries().map(|e| e.act.clone()).collect::<Vec<_>>())
            .collect()
    }

    /// The animals of a piece, from the acts alone.
    fn animals(&self, piece: PieceId, found: &mut BTreeSet<LotId>, ground: &mut bool) {
        for lot in self.book.lots() {
            for entry in lot.live_entries() {
                match &entry.act {
                    Act::PieceWeighed(a) if a.piece == piece => {
                        found.insert(entry.lot);
                    }
                    Act::Ground(a) if a.into == piece => {
                        *ground = true;
                        for source in &a.sources {
                            match source {
                                GroundFrom::Piece { piece } => self.animals(*piece, found, ground),
                                GroundFrom::Kept { .. } => {
                                    found.insert(entry.lot);
                                }
                                GroundFrom::Added { given_by, .. } => found.extend(given_by),
                            }
                        }
                    }
                    _ => {}
                }
            }
        }
    }
}

fn safe(season: &Season, animals: &BTreeSet<LotId>, ground: bool) -> f64 {
    let of = |id: &LotId| {
        let lot = season.book.lot(*id).unwrap();
        lot.state.lot.as_ref().unwrap().species().safe_inside_c
    };
    let least = if ground { 71.1 } else { 0.0 };
    animals.iter().map(of).fold(least, f64::max)
}

/// What is wrong with calling a piece ready, by the acts alone.
fn not_proved(
    season: &Season,
    state: &State,
    piece: &Piece,
    verdict: &Assessment,
) -> Option<String> {
    let (mut animals, mut ground) = (BTreeSet::new(), false);
    season.animals(piece.id, &mut animals, &mut ground);
    let live = season.live();
    let of = |wanted: PieceId| move |a: &&Act| a.pieces().contains(&wanted);
    let mine: Vec<_> = live.iter().filter(of(piece.id)).collect();
    let positive = season.book.lots().any(|l| {
        animals.contains(&l.state.id)
            && l.live_entries().any(|e| matches!(&e.act, Act::HoldAnswered(a) if a.kind == HoldKind::WastingTest && a.answer == HoldAnswer::Positive))
    });
    if positive {
        return Some("an animal in it is positive".into());
    }
    if mine
        .iter()
        .any(|a| matches!(a, Act::Checked(c) if c.grade.as_deref() == Some("discard")))
    {
        return Some("it was found to be bad".into());
    }
    let target = safe(season, &animals, ground || piece.build()?.is_ground());
    match verdict.how {
        None => Some("ready, and nobody knows how".into()),
        Some(How::Cooked) => {
            let hot = mine.iter().any(|a| matches!(a, Act::Smoked(s) if s.inside.as_ref().is_some_and(|c| c.value.0 >= target - 0.1)));
            (!hot).then(|| format!("never at {target}"))
        }
        Some(How::Dried) => {
            let build = piece.build()?;
            if !build.raw_dried || animals.iter().any(|a| a.0 == 3) {
                return Some("not to be dried".into());
            }
            let hung = mine.iter().find_map(|a| match a {
                Act::Hung(h) => Some(h),
                _ => None,
            });
            let down = mine.iter().find_map(|a| match a {
                Act::TakenDown(t) => Some(t),
                _ => None,
            });
            let (Some(hung), Some(down)) = (hung, down) else {
                return Some("never on a hook".into());
            };
            let start = (hung.reading.value - hung.tare.value).grams();
            let lost =
                1.0 - (down.reading.as_ref().unwrap().value - hung.tare.value).grams() / start;
            let reasoned = hung.reason.as_deref().is_some_and(reason::is_enough);
            if lost < hung.loss.value.0 - 0.0101 || (lost < 0.2499 && !reasoned) {
                return Some(format!("lost {lost}"));
            }
            let frozen = animals.iter().all(|a| {
                let lot = season.book.lot(*a).unwrap();
                let read: Vec<_> = lot
                    .live_entries()
                    .filter(|e| matches!(&e.act, Act::FreezerRead(_)))
                    .map(|e| e.happened_at)
                    .collect();
                read.iter()
                    .max()
                    .zip(read.iter().min())
                    .is_some_and(|(last, first)| last.duration_since(*first).as_hours() >= 24 * 7)
            });
            if !frozen {
                return Some("never frozen".into());
            }
            let dose = piece.dose()?;
            let salt: f64 = dose
                .lines
                .iter()
                .filter(|l| l.name == "salt")
                .map(|l| l.mass.value.grams())
                .sum();
            let meat = piece.cure.as_ref()?.meat.grams();
            let nitrite = dose.nitrite_g() / meat * 1e6;
            let reasoned = dose.reason.is_some() || hung.reason.is_some();
            let _ = state;
            if salt / meat < 0.012 || nitrite > 500.0 || (nitrite < 79.0 && !reasoned) {
                return Some(format!("salt {}, nitrite {nitrite}", salt / meat));
            }
            None
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(100))]

    #[test]
    fn ready_is_only_what_every_fact_proves(
        life in prop::collection::vec((any::<u8>(), any::<u8>(), 0.0..1.0_f64, 1_u32..200), 40..160),
        put_right in prop::collection::vec((any::<usize>(), any::<bool>(), 0.0..1.0_f64), 0..6),
    ) {
        let mut season = Season::new();
        let kept = VerdictCache::default();
        for (i, pick) in life.iter().enumerate() {
            season.happens(*pick);
            if i % 17 == 0 {
                // looked at in between, so that something is kept that may be out of date
                for lot in season.book.lots() {
                    let _ = kept.lot(&season.book, &season.home, lot.state.id);
                }
            }
        }
        for (which, undo, share) in put_right {
            season.is_put_right(which, undo, share);
        }
        for lot in season.book.lots() {
            let anew = cache::work_out(&season.book, &season.home, lot);
            prop_assert_eq!(&*kept.lot(&season.book, &season.home, lot.state.id), &anew);
            for piece in lot.state.pieces.values() {
                let verdict = &anew.pieces[&piece.id];
                if verdict.word == Verdict::ReadyToEat {
                    let wrong = not_proved(&season, &lot.state, piece, verdict);
                    prop_assert_eq!(wrong, None, "{} {:?}", piece.tag, verdict);
                }
                let within = season.judge().within(&lot.state, piece);
                let (mut animals, mut ground) = (BTreeSet::new(), false);
                season.animals(piece.id, &mut animals, &mut ground);
                let has: BTreeSet<_> = within.lots.iter().map(|l| l.id).collect();
                prop_assert!(animals.is_subset(&has), "{} {animals:?} {has:?}", piece.tag);
                prop_assert!(!ground || within.ground);
                for id in &piece.parents {
                    let Some(parent) = lot.state.pieces.get(id) else { continue };
                    let part = season.judge().within(&lot.state, parent);
                    prop_assert!(part.lots.iter().all(|l| within.holds(l.id)), "grinding took an animal away");
                    prop_assert!(within.target() >= part.target());
                }
            }
        }
    }

    #[test]
    fn correcting_there_and_back_gives_the_first_verdict(
        life in prop::collection::vec((any::<u8>(), any::<u8>(), 0.0..1.0_f64, 1_u32..400), 20..80),
        which in any::<usize>(),
        share in 0.0..1.0_f64,
    ) {
        let mut season = Season::new();
        for pick in life {
            season.happens(pick);
        }
        let before = season.label();
        let weighed: Vec<_> = season
            .book
            .lots()
            .flat_map(|l| l.live_entries().cloned().collect::<Vec<_>>())
            .filter(|e| matches!(e.act, Act::PieceWeighed(_)))
            .collect();
        if weighed.is_empty() {
            return Ok(());
        }
        let entry = &weighed[which % weighed.len()];
        let Act::PieceWeighed(first) = &entry.act else { unreachable!() };
        let mut other = first.clone();
        other.reading = crate::units::reading(first.reading.value.grams() * (0.9 + share * 0.3));
        let mut replace = |old: EntryId, act: Act| {
            let change = Change::Replace { entry: old, at: None, act: Box::new(act), kept: Vec::new() };
            let plan = season.book.plan(&[change], season.now, season.home.settings.units).ok()?;
            let id = plan.entries[0].id;
            season.book.take(plan);
            Some(id)
        };
        if let Some(there) = replace(entry.id, Act::PieceWeighed(other)) {
            prop_assert!(replace(there, entry.act.clone()).is_some());
            prop_assert_eq!(season.label(), before);
        }
    }

    #[test]
    fn what_cannot_be_and_what_is_bad_never_makes_a_word_better_and_undone_leaves_nothing(
        life in prop::collection::vec((any::<u8>(), any::<u8>(), 0.0..1.0_f64, 1_u32..400), 20..80),
        which in any::<usize>(),
        share in 0.0..1.0_f64,
    ) {
        let mut season = Season::new();
        for pick in life {
            season.happens(pick);
        }
        let rank = |word: Verdict| match word {
            Verdict::DoNotEat => 0,
            Verdict::CookBeforeEating => 1,
            Verdict::ReadyToEat => 2,
        };
        let newest = |season: &Season| {
            let all = season.book.lots().flat_map(|l| l.live_entries().map(|e| e.id).collect::<Vec<_>>());
            all.max()
        };
        let pieces: Vec<_> = season.book.pieces().map(|(_, p)| (p.id, p.mass.grams())).collect();
        if pieces.is_empty() {
            return Ok(());
        }
        let (piece, mass) = pieces[which % pieces.len()];
        let lighter = format!("{:.0} g", mass * 0.9);
        let facts = [
            // what cannot be
            json!({"act": "smoked", "piece": piece, "reading": lighter, "inside": "92 C", "chamber": "60 C"}),
            json!({"act": "cooled", "piece": piece, "inside": "3 C", "hours": 0.05}),
            json!({"act": "checked", "piece": piece, "check": "ph", "value": "2.0"}),
            // what is bad
            json!({"act": "place_read", "place": "porch", "piece": piece, "temperature": "24 C", "hours": 3.0 + share * 30.0}),
            json!({"act": "cooled", "piece": piece, "inside": "28 C", "hours": 6.0 + share * 6.0}),
            json!({"act": "checked", "piece": piece, "check": "slime", "grade": "discard"}),
        ];
        for fact in facts {
            let (before, last) = (season.label(), newest(&season));
            if !season.tries(&fact) {
                continue;
            }
            for ((id, was, ..), (_, is, ..)) in before.iter().zip(season.label()) {
                prop_assert!(rank(is) <= rank(*was), "{fact} made {id:?} {is:?}, it was {was:?}");
            }
            let entry = newest(&season).filter(|e| Some(*e) != last).unwrap();
            prop_assert!(season.write(&[Change::Undo { entry }]), "{fact}");
            prop_assert_eq!(season.label(), before, "{}", fact);
        }
    }

    #[test]
    fn in_whatever_order_facts_are_written_down_the_word_is_the_same(
        life in prop::collection::vec((any::<u8>(), any::<u8>(), 0.0..1.0_f64, 1_u32..400), 20..80),
        which in any::<usize>(),
        share in 0.0..1.0_f64,
        ranks in prop::collection::vec(any::<u32>(), 8),
    ) {
        let lived = || {
            let mut season = Season::new();
            for pick in &life {
                season.happens(*pick);
            }
            season
        };
        let mut first = lived();
        let pieces: Vec<_> = first.book.pieces().map(|(l, p)| (l.state.id, p.id, p.mass.grams())).collect();
        if pieces.is_empty() {
            return Ok(());
        }
        let (lot, piece, mass) = pieces[which % pieces.len()];
        let since = first.now;
        let inside = format!("{:.1} C", 50.0 + share * 30.0);
        let facts = [
            json!({"act": "place_read", "place": "porch", "piece": piece, "temperature": "9 C", "hours": share * 14.0}),
            json!({"act": "place_read", "place": "shed", "piece": piece, "temperature": "12 C", "hours": share * 9.0}),
            json!({"act": "checked", "piece": piece, "check": "firmness", "grade": if share < 0.5 { "soft" } else { "firm" }}),
            json!({"act": "checked", "piece": piece, "check": "smell", "grade": if share > 0.9 { "discard" } else { "good" }}),
            json!({"act": "hold_answered", "lot": 2, "kind": "wasting_test", "answer": "clear", "note": "T-7"}),
            json!({"act": "freezer_read", "lot": lot, "inside": "-20 C", "thickness": "60 mm"}),
            json!({"act": "smoked", "piece": piece, "reading": format!("{:.0} g", mass * 0.9), "inside": inside, "reason": "this is how we have always done it"}),
            json!({"act": "cooled", "piece": piece, "inside": format!("{:.0} C", 3.0 + share * 12.0), "hours": 2.0 + share * 6.0}),
        ];
        let at = |i: usize| since + SignedDuration::from_hours(2 + 30 * i64::try_from(i).unwrap());
        let mut order: Vec<usize> = (0..facts.len()).collect();
        order.sort_by_key(|i| ranks[*i]);
        let mut second = lived();
        for season in [&mut first, &mut second] {
            season.now = at(facts.len());
        }
        let mut taken: Vec<bool> = facts.iter().enumerate().map(|(i, f)| first.does_at(f, at(i), true).is_ok()).collect();
        for i in order {
            taken[i] = taken[i] == second.does_at(&facts[i], at(i), true).is_ok();
        }
        // An order that was refused says nothing.
        if taken.iter().all(|same| *same) {
            prop_assert_eq!(first.label(), second.label());
        }
    }
}

#[test]
fn a_temperature_reaches_its_mark_by_the_exact_degree() {
    let f = |degrees: f64| Celsius((degrees - 32.0) / 1.8);
    #[rustfmt::skip]
    let cases = [
        (f(145.0), 62.8, true), (Celsius(62.8), 62.8, true), (Celsius(62.7), 62.8, false), (Celsius(62.73), 62.8, true),
        (f(160.0), 71.1, true), (Celsius(71.0), 71.1, false), (Celsius(71.1), 71.1, true), (f(159.0), 71.1, false),
        (f(165.0), 73.9, true), (Celsius(73.9), 73.9, true), (Celsius(73.8), 73.9, false),
    ];
    for (inside, target, reached) in cases {
        assert_eq!(
            reaches(inside, Celsius(target)),
            reached,
            "{inside:?} {target}"
        );
    }
}
