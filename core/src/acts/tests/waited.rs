//! What lies in water, salt or brine: timers and pumps.

use super::*;
use crate::piece::TimerFor;

#[test]
fn a_timer_runs_until_it_is_answered_or_what_it_waits_for_is_done() {
    let mut kitchen = Kitchen::cured("belly-slab", "belly", 2_000);
    let running = |kitchen: &Kitchen| -> Vec<(TimerFor, u32)> {
        let (_, piece) = kitchen.book.piece(crate::ids::PieceId(1)).unwrap();
        piece
            .timers
            .iter()
            .map(|(what, t)| (*what, t.minutes))
            .collect()
    };
    let soak =
        |minutes: u32| json!({"act": "timer_set", "piece": 1, "what": "soak", "minutes": minutes});
    kitchen.did(soak(30));
    kitchen.did(json!({"act": "timer_set", "piece": 1, "what": "rest", "minutes": 10}));
    assert_eq!(
        running(&kitchen),
        [(TimerFor::Soak, 30), (TimerFor::Rest, 10)]
    );
    // Five minutes more is the same timer set anew.
    kitchen.did(soak(35));
    assert_eq!(running(&kitchen)[0], (TimerFor::Soak, 35));
    kitchen.did(json!({"act": "timer_answered", "piece": 1, "what": "rest"}));
    kitchen.did(json!({"act": "soaked", "piece": 1, "minutes": 36}));
    assert_eq!(running(&kitchen), []);
    // Nobody tasted it: its minutes are nobody's example yet.
    assert_eq!(crate::ledger::own::soak(&kitchen.book, "belly-slab"), None);
    kitchen.did(json!({"act": "checked", "piece": 1, "check": "slice_end", "grade": "right"}));
    assert_eq!(
        crate::ledger::own::soak(&kitchen.book, "belly-slab"),
        Some(crate::ledger::own::OwnSoak {
            minutes: 36,
            times: 1
        })
    );
    // Once a slice says that it was not right, its minutes are nobody's example.
    kitchen.did(json!({"act": "checked", "piece": 1, "check": "slice_end", "grade": "too_salty"}));
    assert_eq!(crate::ledger::own::soak(&kitchen.book, "belly-slab"), None);
}

#[test]
fn what_is_pumped_in_is_weighed_counted_and_halves_the_days() {
    let mut kitchen = Kitchen::new();
    kitchen.did(hog());
    kitchen.did(json!({"act": "piece_weighed", "lot": 1, "cut": "loin", "reading": "4 kg", "thickness": "80 mm"}));
    kitchen.did(json!({"act": "assigned", "piece": 1, "build": "back-smoked"}));
    assert_eq!(
        kitchen.refused(json!({"act": "injected", "piece": 1, "after": "4.4 kg"})),
        "HG1-1 waits for its dose, so this cannot be done with it now."
    );
    kitchen.did(json!({"act": "dosed", "pieces": [1]}));
    let span = |kitchen: &Kitchen| {
        let piece = kitchen.piece("HG1-1");
        let span = crate::cure::span::cure_span(piece, &kitchen.home, kitchen.book.catalogue());
        (
            span.unwrap().days,
            piece.mass.grams(),
            piece.in_cure.grams(),
        )
    };
    let (days, mass, brine) = span(&kitchen);
    assert_eq!(mass, 4_000.0);
    for (after, words) in [
        (
            "4 kg",
            "After injecting it weighs more than the 4 kg of before.",
        ),
        ("9 kg", "there are only"),
    ] {
        let said = kitchen.refused(json!({"act": "injected", "piece": 1, "after": after}));
        assert!(said.contains(words), "{said}");
    }
    // A first pass that hardly holds: no day less for that.
    kitchen.did(json!({"act": "injected", "piece": 1, "after": "4.1 kg"}));
    assert_eq!(span(&kitchen), (days, 4_100.0, brine - 100.0));
    kitchen.did(json!({"act": "injected", "piece": 1, "after": "4.4 kg"}));
    let pumped = span(&kitchen);
    assert_eq!((pumped.1, pumped.2), (4_400.0, brine - 400.0));
    // (3.2 days an inch and two, halved) for 80 mm
    assert_eq!(pumped.0, 6);
    assert!(pumped.0 < days);
    kitchen.balanced();
    // By pickup: what was pumped and a tenth of the rest; by equilibrium: what the brine was made for.
    let piece = kitchen.piece("HG1-1");
    let said = injected::Pumped::of(piece, piece.mass).unwrap();
    let dose = piece.dose().unwrap();
    assert!((said.pump.0 - 0.1).abs() < 1e-9);
    assert!((said.nitrite.pickup - 2.0 * said.injected_ppm).abs() < 1e-9);
    assert!((said.nitrite.equilibrium - dose.nitrite.nominal).abs() < 0.5);
    kitchen.did(json!({"act": "out_of_cure", "piece": 1, "reading": "4.2 kg"}));
    kitchen.balanced();
}

#[test]
fn nothing_is_pumped_out_of_what_is_no_brine() {
    let mut kitchen = Kitchen::new();
    kitchen.did(hog());
    kitchen.did(json!({"act": "piece_weighed", "lot": 1, "cut": "belly", "reading": "2 kg", "thickness": "42 mm"}));
    kitchen.did(json!({"act": "assigned", "piece": 1, "build": "belly-slab"}));
    kitchen.did(json!({"act": "dosed", "pieces": [1]}));
    assert_eq!(
        kitchen.refused(json!({"act": "injected", "piece": 1, "after": "2.2 kg"})),
        "HG1-1 lies in no brine that is known here: nothing can be pumped out of it."
    );
}
