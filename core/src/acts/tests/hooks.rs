//! The hook: tares in parts.

use super::*;
use proptest::prelude::*;

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// However a tare is split into parts, and into jars before and after, the same is left of the meat and the same was lost.
    #[test]
    fn parts_of_a_tare_sum_and_the_loss_never_depends_on_the_split(
        parts in proptest::collection::vec(1_u32..40, 1..5),
        jar in 1_u32..30,
        dried in 0.02_f64..0.35,
    ) {
        let tare: u32 = parts.iter().sum::<u32>() + jar;
        let mut split = Kitchen::cured("muscle-cased", "neck_muscle", 2_000);
        let mut whole = Kitchen::cured("muscle-cased", "neck_muscle", 2_000);
        let gross = 1_950 + tare;
        let mut named: Vec<Value> = parts
            .iter()
            .enumerate()
            .map(|(i, g)| json!({"name": format!("part {i}"), "reading": format!("{g} g")}))
            .collect();
        named.push(json!({"name": "paste", "jar": {"before": "300 g", "after": format!("{} g", 300 - jar)}}));
        split.did(json!({"act": "hung", "piece": 1, "reading": format!("{gross} g"), "parts": named}));
        whole.did(json!({"act": "hung", "piece": 1, "reading": format!("{gross} g"), "tare": format!("{tare} g")}));
        let later = format!("{:.0} g", 1_950.0 * (1.0 - dried) + f64::from(tare));
        for kitchen in [&mut split, &mut whole] {
            kitchen.did(json!({"act": "weighed_in", "piece": 1, "reading": later}));
            kitchen.did(json!({"act": "taken_down", "piece": 1, "reading": later}));
            kitchen.balanced();
        }
        let [a, b] = [&split, &whole].map(|k| k.piece("HG1-1"));
        prop_assert_eq!(a.mass, b.mass);
        let lost = |p: &Piece| p.hanging.as_ref().and_then(|h| h.lost);
        prop_assert_eq!(lost(a), lost(b));
        prop_assert_eq!(a.hanging.as_ref().map(|h| h.tare), b.hanging.as_ref().map(|h| h.tare));
    }
}
