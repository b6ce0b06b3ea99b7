//! The hook: tares in parts.

use super::*;
use proptest::prelude::*;

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// However a tare is split into parts, and into jars before and after, the same is left of the meat; and the same was lost, but
    /// for what is known to dry, which is never counted as meat that was lost.
    #[test]
    fn parts_of_a_tare_sum_and_what_dries_of_them_is_no_meat_that_was_lost(
        parts in proptest::collection::vec(1_u32..40, 1..5),
        jar in 1_u32..30,
        dried in 0.02_f64..0.35,
        what in prop::sample::select(vec!["thing", "paste", "net", "beef bung", "clips"]),
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
        named.push(json!({"name": what, "jar": {"before": "300 g", "after": format!("{} g", 300 - jar)}}));
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
        let dry = Catalogue::shipped().dry_tare(what, Milligrams::from_grams(f64::from(jar))).grams();
        // What dried of it hangs there no more; so much less of what is gone was meat.
        let less = (f64::from(jar) - dry) / 1_950.0;
        let [in_parts, in_one] = [lost(a), lost(b)].map(|l| l.unwrap().0);
        prop_assert!((in_one - in_parts - less).abs() < 1e-9, "{what}: {in_parts}, and {in_one} in one");
        prop_assert_eq!(a.hanging.as_ref().map(|h| h.tare), b.hanging.as_ref().map(|h| h.tare));
    }
}

#[test]
fn what_was_wet_around_it_is_neither_meat_that_is_left_nor_meat_that_was_lost() {
    let hung = |tare: Value| {
        let mut kitchen = Kitchen::cured("muscle-cased", "neck_muscle", 1_850);
        let mut ask = json!({"act": "hung", "piece": 1, "reading": "1915 g"});
        ask.as_object_mut()
            .unwrap()
            .extend(tare.as_object().unwrap().clone());
        kitchen.did(ask);
        kitchen.did(json!({"act": "taken_down", "piece": 1, "reading": "1366 g"}));
        kitchen
    };
    let lost = |k: &Kitchen| k.piece("HG1-1").hanging.as_ref().unwrap().lost.unwrap().0;
    let near = |got: f64, want: f64| assert!((got - want).abs() < 1e-4, "{got}, not {want}");
    // 1,825 g of meat: by one tare of 90 g at both ends, and by a cloth of 90 g that weighs half of that dry
    let one = hung(json!({"tare": "90 g"}));
    near(lost(&one), 1.0 - 1_276.0 / 1_825.0);
    let mut cloth = hung(json!({"parts": [{"name": "cloth", "reading": "90 g"}]}));
    near(lost(&cloth), 1.0 - 1_321.0 / 1_825.0);
    // stripped it was 55 g: 1,825 g to 1,311 g is 28.2 %, whatever was thought before, and again when it is weighed anew
    for (by, weight) in [("tare", "55 g"), ("bare", "1311 g"), ("tare", "55 g")] {
        cloth.did(json!({"act": "stripped", "piece": 1, by: weight}));
        near(lost(&cloth), 0.281_64);
        assert_eq!(cloth.piece("HG1-1").mass, Milligrams::from_grams(1_311.0));
        cloth.balanced();
    }
    let hanging = cloth.piece("HG1-1").hanging.clone().unwrap();
    assert_eq!(hanging.net_start(), Milligrams::from_grams(1_825.0));
    assert_eq!(hanging.target_gross()[0], hanging.target_gross()[1]);
    let unstripped = hung(json!({"parts": [{"name": "cloth", "reading": "90 g"}]}));
    let hanging = unstripped.piece("HG1-1").hanging.clone().unwrap();
    let [dry, wet] = hanging.target_gross();
    assert_eq!(wet - dry, Milligrams::from_grams(45.0));
}
