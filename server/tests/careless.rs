//! Careless plans, played over HTTP from Receive to the label, and sane ones that pass without a
//! word. Each row is a day book: what is done on which day, and what has to come of the last line.

#[path = "support/plays.rs"]
mod plays;
mod support;

use plays::{Came, Table, hold, moment};
use serde_json::{Value, json};

/// A loin on its way to be dried: frozen long enough, cured, out in its time.
macro_rules! loin {
    ($rest:literal) => {
        concat!(
            "0 lot pig bought; 0 cut loin 2kg 50mm; 0 freeze -20C; 30 freeze -20C; 31 assign muscle-cased; 31 dose; ",
            $rest
        )
    };
}

/// A belly in its cure for streaky bacon.
macro_rules! belly {
    ($rest:literal) => {
        concat!(
            "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 dose; ",
            $rest
        )
    };
}

/// A back in its brine for smoked back bacon.
macro_rules! back {
    ($rest:literal) => {
        concat!(
            "0 lot pig bought; 0 cut loin 2kg 60mm; 0 assign back-smoked; 0 dose; ",
            $rest
        )
    };
}

#[test]
#[rustfmt::skip]
fn sane_plans_pass_without_a_word() {
    hold(&[
        ("streaky bacon to be fried", belly!("9 out 1960g; 10 smoke 1780g 60C 75C; 11 pack 1700g"), "cook_before_eating under_target"),
        ("the same brought to its target", belly!("9 out 1960g; 10 smoke 1750g 62.8C; 10 cool 4C 5h; 11 pack 1700g"), "ready_to_eat cooked cooked_to_target"),
        ("145 degrees Fahrenheit count", belly!("9 out 1960g; 10 smoke 1750g 145F; 11 pack 1700g"), "ready_to_eat cooked cooling_not_recorded"),
        ("smoked back", back!("12 out 2060g; 13 smoke 1800g 63C 80C; 14 pack 1700g"), "ready_to_eat cooked"),
        ("back in meal", "0 lot pig bought; 0 cut loin 2kg 60mm; 0 assign back-meal; 0 dose; 12 out 2060g; 12 coat 90g corn meal; 12 pack 2140g", "cook_before_eating raw"),
        ("back in meal that nobody weighed", "0 lot pig bought; 0 cut loin 2kg 60mm; 0 assign back-meal; 0 dose; 12 out 2060g; 12 pack 2130g", "cook_before_eating raw"),
        ("dried loin, weeks and weighings", loin!("52 out 1930g; 53 hang 1990g 60g; 60 in 1850g; 70 in 1640g; 110 down 1300g; 130 pack 1200g"), "ready_to_eat dried dried_to_target"),
        ("dried loin, a week late is fine", loin!("59 out 1930g; 60 hang 1990g 60g; 130 down 1280g; 150 pack 1200g"), "ready_to_eat dried"),
        ("close enough by the tolerance", loin!("52 out 1930g; 53 hang 1990g 60g; 130 down 1330g; 150 pack 1200g"), "ready_to_eat dried"),
        ("plain belly cooked from day three", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab-plain; 0 dose; 4 out 1950g; 5 smoke 1700g 66C 90C; 6 pack 1600g", "ready_to_eat cooked no_nitrite"),
        ("game backstrap", "0 lot deer harvested; 0 cut backstrap 1.2kg 50mm; 0 assign backstrap; 0 dose; 10 out 1170g; 11 smoke 980g 71.5C; 12 pack 900g", "ready_to_eat cooked"),
        ("a loaf left overnight", "0 lot pig bought; 0 cut butt 2kg 80mm; 0 grind 1950g piece; 0.4 assign formed-loaf; 0.4 dose; 1 out 1980g; 1.2 smoke 1750g 71.5C; 2 pack 1700g", "ready_to_eat cooked"),
        ("dry sausage, soured in time", "0 lot pig bought; 0 cut butt 3kg 80mm; 0 freeze -20C; 30 freeze -20C; 31 grind 2950g piece; 31 assign salami-knife; 31 dose; 32.8 ph 5.1; 33.1 ph 5.0; 33.2 out 3000g; 34 hang 3050g 50g; 90 down 1980g; 100 pack 1800g", "ready_to_eat dried"),
        ("smoked twice", "0 lot pig bought; 0 cut butt 2kg 50mm; 0 assign shoulder-slab; 0 dose; 11 out 1950g; 12 cold 1930g; 13 smoke 1750g 61C; 14 pack 1700g", "cook_before_eating under_target"),
        ("a plain cut for the freezer", "0 lot pig bought; 0 cut loin 2kg 60mm; 0 assign fresh; 0 pack 1990g", "cook_before_eating raw"),
        ("cured, then the clean answer comes", "0 lot deer harvested; 0 cut backstrap 1.2kg 50mm; 0 hold wasting_test waiting; 0 assign backstrap; 0 dose; 10 out 1170g; 10 hold wasting_test clear; 11 smoke 980g 71.5C; 12 pack 900g", "ready_to_eat cooked"),
    ]);
}

#[test]
#[rustfmt::skip]
fn what_was_done_too_early_too_little_or_too_cold_is_asked_about_and_never_ready() {
    hold(&[
        ("out after an hour", loin!("31.04 out 1990g"), "asks left_cure_early"),
        ("out after an hour, kept, hung, down at once", loin!("31.04 out 1990g !; 31.05 hang 2050g 60g; 31.06 down 2050g !; 31.1 pack 1900g"), "cook_before_eating left_cure_early lost_too_little"),
        ("out after three days of 21, then dried", loin!("34 out 1960g !; 42 hang 2020g 60g; 110 down 1310g; 120 pack 1200g"), "cook_before_eating left_cure_early"),
        ("taken down at 13 %", loin!("52 out 1930g; 53 hang 1990g 60g; 63 down 1740g"), "asks lost_too_little"),
        ("taken down at 13 %, kept", loin!("52 out 1930g; 53 hang 1990g 60g; 63 down 1740g !; 64 pack 1600g"), "cook_before_eating lost_too_little"),
        ("a minute on the hook, half of it gone", loin!("52 out 1930g; 53 hang 1990g 60g; 53.01 in 1000g"), "asks loses_too_fast"),
        ("to lose 5 %", loin!("52 out 1930g; 53 hang 1990g 60g 5%"), "asks loss_target"),
        ("to lose 75 %", loin!("52 out 1930g; 53 hang 1990g 60g 75%"), "asks loss_target"),
        ("to lose 20 %, kept, and lost", loin!("52 out 1930g; 53 hang 1990g 60g 20% !; 80 down 1600g; 81 pack 1500g"), "cook_before_eating lost_too_little"),
        ("to lose 28 % for a reason", loin!("52 out 1930g; 53 hang 1990g 60g 28% because we like it soft and slice it thin; 90 down 1440g; 91 pack 1300g"), "ready_to_eat dried overridden"),
        ("no tare for what is cased", loin!("52 out 1930g; 53 hang 1930g 0g"), "asks tare_missing"),
        ("bacon out on the first day", belly!("1 out 1990g"), "asks left_cure_early"),
        ("bacon out on the first day, cooked all the same", belly!("1 out 1990g !; 2 smoke 1750g 63C; 3 pack 1700g"), "ready_to_eat cooked"),
        ("smoked to 40 degrees", belly!("9 out 1960g; 10 smoke 1850g 40C"), "asks under_safe_heat"),
        ("71 degrees Fahrenheit for Celsius", back!("12 out 2060g; 13 smoke 1800g 71F"), "asks under_safe_heat"),
        ("nothing read", back!("12 out 2060g; 13 smoke 1800g"), "asks heat_not_recorded"),
        ("nothing read, kept", back!("12 out 2060g; 13 smoke 1800g !; 14 pack 1700g"), "cook_before_eating heat_not_recorded"),
        ("warmer than its chamber", back!("12 out 2060g; 13 smoke 1800g 75C 70C"), "asks warmer_than_chamber"),
        ("a loaf at 153 °F booked under the pig", "0 lot pig bought; 0 cut butt 2kg 80mm; 0 grind 1950g piece; 0 assign formed-loaf; 0 dose; 1 out 1980g; 1 smoke 1750g 153F !; 2 pack 1700g", "cook_before_eating under_target"),
        ("71 °C is not 160 °F", "0 lot deer harvested; 0 cut backstrap 1.2kg 50mm; 0 assign backstrap; 0 dose; 10 out 1170g; 11 smoke 980g 71C !; 12 pack 900g", "cook_before_eating under_target"),
        ("boar to 63", "0 lot wild_boar harvested; 0 cut belly 2kg 30mm; 0 assign belly-thin; 0 dose; 9 out 1960g; 10 smoke 1750g 63C", "asks under_safe_heat"),
        ("turkey to 71", "0 lot turkey bought; 0 cut breast 2kg 50mm; 0 assign breast-peppered; 0 dose; 12 out 1960g; 13 smoke 1600g 71.1C", "asks under_safe_heat"),
        ("a weight of five ounces of belly", "0 lot pig bought; 0 cut belly 5oz 40mm", "asks looks_mistyped"),
    ]);
}

#[test]
#[rustfmt::skip]
fn what_hurts_is_refused_or_wants_a_reason() {
    hold(&[
        ("boar to be dried", "0 lot wild_boar harvested; 0 cut loin 2kg 50mm; 0 assign muscle-cased", "stops unsuitable"),
        ("boar to be dried, for a reason, stays raw", "0 lot wild_boar harvested; 0 cut loin 2kg 50mm; 0 assign muscle-cased because my uncle always did it; 0 dose; 21 out 1930g; 22 hang 1990g 60g; 90 down 1280g; 91 pack 1200g", "cook_before_eating never_raw_dried"),
        ("turkey to be dried", "0 lot turkey bought; 0 cut breast 2kg 50mm; 0 assign breast-dried", "stops unsuitable"),
        ("bear to be dried", "0 lot bear harvested; 0 cut backstrap 2kg 50mm; 0 assign muscle-cased", "stops unsuitable"),
        ("pork dried without freezing", "0 lot pig bought; 0 cut loin 2kg 50mm; 0 assign muscle-cased", "stops open_hold"),
        ("a reason of one dot", "0 lot pig bought; 0 cut loin 2kg 50mm; 0 assign muscle-cased because .", "stops open_hold"),
        ("a reason of one word", "0 lot pig bought; 0 cut loin 2kg 50mm; 0 assign muscle-cased because whatever", "stops open_hold"),
        ("pork dried without freezing, for a reason", "0 lot pig bought; 0 cut loin 2kg 50mm; 0 assign muscle-cased because sold as frozen for a month; 0 dose; 21 out 1930g; 22 hang 1990g 60g; 90 down 1280g; 91 pack 1200g", "cook_before_eating hold_open"),
        ("ribs made into back bacon", "0 lot pig bought; 0 cut ribs 2kg 30mm; 0 assign back-smoked", "stops unsuitable"),
        ("a plain belly over 50 mm", "0 lot pig bought; 0 cut belly 3kg 60mm; 0 assign belly-slab-plain", "asks too_thick_for_rule"),
        ("a plain belly in warm smoke", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab-plain; 0 dose; 5 out 1950g; 6 smoke 1900g 30C", "stops no_nitrite_hazard"),
        ("a plain belly smoked and not read", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab-plain; 0 dose; 5 out 1950g; 6 smoke 1900g", "stops no_nitrite_hazard"),
        ("a plain belly sealed in the fridge", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab-plain; 0 dose; 5 out 1950g; 6 smoke 1700g 66C; 7 pack 1600g fridge, vacuum packed", "stops no_nitrite_hazard"),
        ("a muscle for the hook without nitrite", "0 lot pig bought; 0 cut loin 2kg 50mm; 0 freeze -20C; 30 freeze -20C; 31 assign muscle-cased; 31 dose cure=none", "stops no_nitrite_hazard"),
        ("a muscle hung without nitrite for a reason", "0 lot pig bought; 0 cut loin 2kg 50mm; 0 freeze -20C; 30 freeze -20C; 31 assign muscle-cased; 31 dose cure=none because grandfather cured it so; 52 out 1930g; 53 hang 1990g 60g; 110 down 1280g; 111 pack 1200g", "ready_to_eat dried no_nitrite overridden"),
        ("six times the nitrite", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 dose cure_g_per_kg=15", "stops nitrite_refused"),
        ("a little over the limit", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 dose cure_g_per_kg=3.6", "stops nitrite_over_limit"),
        ("nitrate in bacon", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 dose cure=cure2", "stops nitrate_in_fried"),
        ("nitrate in bacon, for a reason", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 dose cure=cure2 because it was all we had; 9 out 1960g; 10 smoke 1780g 60C; 11 pack 1700g", "cook_before_eating nitrate_in_fried"),
        ("too little nitrite for slow smoke", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 dose cure_g_per_kg=1.2", "stops nitrite_below_floor"),
        ("too little salt for anything", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 dose salt_g_per_kg=10", "asks salt_low"),
        ("too little salt for the hook", "0 lot pig bought; 0 cut loin 2kg 50mm; 0 freeze -20C; 30 freeze -20C; 31 assign muscle-cased; 31 dose salt_g_per_kg=20", "asks salt_low"),
        ("too little salt for the hook, kept and dried", "0 lot pig bought; 0 cut loin 2kg 50mm; 0 freeze -20C; 30 freeze -20C; 31 assign muscle-cased; 31 dose salt_g_per_kg=20 !; 52 out 1930g; 53 hang 1990g 60g; 130 down 1280g; 131 pack 1200g", "cook_before_eating salt_too_low"),
        ("too much salt", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 dose salt_g_per_kg=70", "asks salt_high"),
        ("a weak brine", "0 lot pig bought; 0 cut loin 2kg 60mm; 0 assign back-smoked; 0 dose salt_fraction=0.01", "asks salt_low"),
        ("a curing salt as a spice", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 spice 3g/kg pink curing salt", "stops cure_as_spice"),
        ("trim of an animal that nobody named", "0 lot pig bought; 0 cut butt 2kg 80mm; 0 grind 2400g piece added:red_meat:450g", "asks meat_unknown"),
        ("after the positive answer a clear one", "0 lot deer harvested; 0 hold wasting_test positive; 1 hold wasting_test clear", "asks open_hold"),
        ("a positive deer to be cured", "0 lot deer harvested; 0 cut backstrap 1.2kg 50mm; 0 hold wasting_test positive; 1 assign backstrap", "stops not_eaten"),
        ("a positive deer into the grinder", "0 lot deer harvested; 0 trim trim 3kg; 0 hold wasting_test positive; 1 lot pig bought; 1 cut butt 2kg 80mm; 1 grind 3900g piece kept:trim:2kg:0", "stops not_eaten"),
        ("a spoiled piece to be packed", belly!("9 out 1960g; 10 smoke 1780g 60C; 10 check smell discard; 10 pack 1700g"), "stops not_eaten"),
    ]);
}

#[test]
#[rustfmt::skip]
fn what_is_put_right_later_changes_what_may_be_said() {
    hold(&[
        ("a clear answer does not lift a positive one", "0 lot deer harvested; 0 cut backstrap 1.2kg 50mm; 0 assign backstrap; 0 dose; 10 out 1170g; 11 smoke 980g 71.5C; 12 pack 900g; 13 hold wasting_test positive; 14 hold wasting_test clear !", "do_not_eat positive_animal"),
        ("only the answer itself put right does", "0 lot deer harvested; 0 cut backstrap 1.2kg 50mm; 0 assign backstrap; 0 dose; 10 out 1170g; 11 smoke 980g 71.5C; 12 pack 900g; 13 hold wasting_test positive; 14 fix-answer clear", "ready_to_eat cooked"),
        ("a weight corrected from 4.4 to 1.0 kg", "0 lot pig bought; 0 cut loin 4.4kg 60mm; 0 freeze -20C; 30 freeze -20C; 31 assign muscle-cased; 31 dose; 32 fix-weight 1.0kg !", "do_not_eat nitrite_over_500"),
        ("and back again", "0 lot pig bought; 0 cut loin 4.4kg 60mm; 0 freeze -20C; 30 freeze -20C; 31 assign muscle-cased; 31 dose; 32 fix-weight 1.0kg !; 33 fix-weight 4.4kg; 34 fix-thickness 60mm; 62 out 4300g; 63 hang 4360g 60g", "cook_before_eating still_hangs not:nitrite_over_500"),
        ("a dose that was really ten times", belly!("9 out 1960g; 10 smoke 1750g 63C; 11 pack 1700g; 12 fix-cure 50g !"), "do_not_eat nitrite_over_500"),
        ("a dose a little over its limit is marked", belly!("9 out 1960g; 10 smoke 1750g 63C; 11 pack 1700g; 12 fix-cure 8g !"), "ready_to_eat cooked over_limit"),
        ("an inside temperature that was read wrong", belly!("9 out 1960g; 10 smoke 1750g 63C; 11 pack 1700g; 12 fix-inside 58C !"), "cook_before_eating under_target"),
        ("thicker than was said", loin!("52 out 1930g; 53 hang 1990g 60g; 130 down 1280g; 140 pack 1200g; 141 fix-thickness 95mm !"), "cook_before_eating left_cure_early"),
        ("another product than was said", loin!("52 out 1930g; 53 hang 1990g 60g; 130 down 1280g; 140 pack 1200g; 141 fix-build jowl-dried !"), "cook_before_eating ends_in_cooking"),
        ("a weight off the hook that was read wrong", loin!("52 out 1930g; 53 hang 1990g 60g; 130 down 1280g; 141 fix-down 1700g !"), "cook_before_eating lost_too_little"),
        ("deer in the pig's block, then its answer", "0 lot deer harvested; 0 trim trim 3kg; 0 lot pig bought; 0 cut butt 2kg 80mm; 0 grind 3900g piece kept:trim:2kg:0; 0 assign formed-loaf; 0 dose; 1 out 3950g; 1 smoke 3500g 71.5C; 2 pack 3400g; 9 hold wasting_test positive 0", "do_not_eat positive_animal"),
        ("turkey in the pig's block wants 165 °F", "0 lot turkey bought; 0 trim trim 2kg; 0 lot pig bought; 0 cut butt 2kg 80mm; 0 grind 3900g piece kept:trim:2kg:0; 0 assign formed-loaf; 0 dose; 1 out 3950g; 1 smoke 3500g 71.5C !; 2 pack 3400g", "cook_before_eating under_target"),
        ("boar fat bought for a dry sausage", "0 lot pig bought; 0 cut butt 3kg 80mm; 0 freeze -20C; 30 freeze -20C; 31 grind 3450g piece added:boar_fat:500g; 31 assign salami-knife because it is what the hunter gave; 31 dose; 32.8 ph 5.1; 33.1 ph 5.0; 33.2 out 3500g; 34 hang 3550g 50g; 90 down 2200g; 100 pack 2100g", "cook_before_eating never_raw_dried"),
    ]);
}

#[test]
#[rustfmt::skip]
fn warmth_cooling_and_sourness_are_judged_by_what_was_read() {
    hold(&[
        ("forgotten in its cure for more than a year", belly!("3 warm 3C 12h"), "do_not_eat too_old"),
        ("a day at nine degrees in the cure", belly!("3 warm 9C 26h"), "do_not_eat too_warm"),
        ("half a day at nine degrees", belly!("3 warm 9C 12h; 9 out 1960g; 10 smoke 1780g 60C; 11 pack 1700g"), "cook_before_eating not:too_warm"),
        ("thirteen degrees on the hook are as they should be", loin!("52 out 1930g; 53 hang 1990g 60g; 60 warm 13C 100h; 130 down 1280g; 140 pack 1200g"), "ready_to_eat dried"),
        ("warm after it was cooked", back!("12 out 2060g; 13 smoke 1800g 63C; 14 warm 12C 30h"), "do_not_eat too_warm"),
        ("cooled by the clock", back!("12 out 2060g; 13 smoke 1800g 63C; 13 cool 4C 6h; 14 pack 1700g"), "ready_to_eat cooked not:cooling_not_recorded"),
        ("cooled two hours too slowly", back!("12 out 2060g; 13 smoke 1800g 63C; 13 cool 10C 8h; 14 pack 1700g"), "cook_before_eating cooling_missed"),
        ("cooled far too slowly", back!("12 out 2060g; 13 smoke 1800g 63C; 13 cool 30C 9h"), "do_not_eat cooling_missed"),
        ("a sausage that did not sour", "0 lot pig bought; 0 cut butt 3kg 80mm; 0 freeze -20C; 30 freeze -20C; 31 grind 2950g piece; 31 assign salami-knife; 31 dose; 34 ph 5.8", "do_not_eat ph_too_high"),
        ("a sausage whose sourness nobody read", "0 lot pig bought; 0 cut butt 3kg 80mm; 0 freeze -20C; 30 freeze -20C; 31 grind 2950g piece; 31 assign salami-knife; 31 dose; 33.1 out 3000g; 34 hang 3050g 50g; 90 down 1980g; 100 pack 1800g", "cook_before_eating ph_missing"),
        ("a blown bag after it was packed", loin!("52 out 1930g; 53 hang 1990g 60g; 130 down 1280g; 140 pack 1200g; 160 check bag discard"), "do_not_eat check_discard"),
        ("a soft middle on the hook", loin!("52 out 1930g; 53 hang 1990g 60g; 60 check soft_centre discard"), "do_not_eat check_discard"),
        ("on its way already, dose unknown", "0 lot pig bought; 20 underway neck_muscle muscle-cased ready 1.4kg; 21 pack 1350g", "cook_before_eating dose_unknown"),
        ("sweet sausage is cooked, however dry", "0 lot pig bought; 0 cut butt 3kg 80mm; 0 grind 2950g piece; 0 assign sausage-sweet; 0 dose; 1 out 3050g; 2 hang 3080g 30g; 40 down 2000g; 41 pack 1900g", "cook_before_eating ends_in_cooking"),
        ("sweet sausage cooked here", "0 lot pig bought; 0 cut butt 3kg 80mm; 0 grind 2950g piece; 0 assign sausage-sweet; 0 dose; 1 out 3050g; 2 hang 3080g 30g; 40 down 2000g; 41 smoke 2000g 72C; 42 pack 1900g", "ready_to_eat cooked"),
    ]);
}

#[test]
fn a_list_of_acts_goes_through_the_same_gates_as_one_after_the_other() {
    let table = Table::new();
    let mut play = table.play();
    for line in [
        "0 lot pig bought",
        "0 cut loin 2kg 50mm",
        "0 freeze -20C",
        "30 freeze -20C",
        "31 assign muscle-cased",
    ] {
        assert!(matches!(play.line(line), Came::Written), "{line}");
    }
    let piece = play.pieces[0];
    let list = |reason: Value| {
        json!({"happened_at": moment(60.0), "keep_as_typed": true, "acts": [
            {"act": "dosed", "pieces": [piece], "own": {"cure": "none"}, "reason": reason},
            {"act": "out_of_cure", "piece": piece, "reading": "1.95 kg"},
            {"act": "hung", "piece": piece, "reading": "1.99 kg", "tare": "40 g"},
        ]})
    };
    let stopped = table.program.post("/entries", &list(Value::Null));
    assert_eq!(stopped.status, 422);
    let codes = stopped.body["findings"].as_array().unwrap().iter();
    assert!(
        codes
            .filter_map(|f| f["code"].as_str())
            .any(|c| c == "no_nitrite_hazard"),
        "{}",
        stopped.body
    );
    table
        .program
        .post("/entries", &list(json!("grandfather cured it so")))
        .ok();
    // what a label says is what was known when it was printed, within one list too
    let rest = json!({"happened_at": moment(130.0), "keep_as_typed": true, "acts": [
        {"act": "taken_down", "piece": piece, "reading": "1.28 kg"},
        {"act": "packed", "piece": piece, "packs": [{"reading": "1.2 kg"}], "finished": true},
    ]});
    table.program.post("/entries", &rest).ok();
    let view = table.program.get(&format!("/pieces/{piece}")).ok();
    let pack = &view["packs"][0];
    assert_eq!(pack["printed"]["word"], pack["verdict"]["word"]);
    assert_eq!(pack["label_outdated"], false);
    assert!(view["overridden"].as_bool().unwrap());
}

#[test]
fn a_label_names_all_that_went_in_and_is_told_when_it_no_longer_holds() {
    let table = Table::new();
    let mut play = table.play();
    for line in "0 lot deer harvested; 0 trim trim 3kg; 0 lot pig bought; 0 cut butt 2kg 80mm; 0 grind 3900g piece kept:trim:2kg:0; \
        0 assign formed-loaf; 0 dose; 1 out 3950g; 1 smoke 3500g 71.5C; 2 coat 40g mustard seed; 2 pack 3400g".split(';') {
        assert!(matches!(play.line(line.trim()), Came::Written), "{line}");
    }
    let pack = play.packs[0];
    let label = || table.program.get(&format!("/packs/{pack}/label")).ok();
    let said = label();
    assert_eq!(said["meat"], "game and pork (venison, pork)");
    assert_eq!(
        said["product"],
        "formed ground bacon, of game and pork (venison, pork)"
    );
    let ingredients: Vec<_> = said["ingredients"]
        .as_array()
        .unwrap()
        .iter()
        .map(|i| i.as_str().unwrap())
        .collect();
    // 2 kg of venison, 1.9 kg of pork, 60 g/kg of ice water, 18 of salt less the cure's, 10 of sugar
    assert_eq!(
        ingredients,
        [
            "venison",
            "pork",
            "ice water",
            "salt",
            "mustard seed",
            "sugar",
            "curing salt (salt, sodium nitrite)"
        ]
    );
    assert_eq!(said["allergens"], "mustard");
    assert_eq!(said["verdict"]["word"], "ready_to_eat");
    assert!(said["made_from"].as_str().unwrap().contains("DR"), "{said}");
    let today = || table.program.get("/today").ok()["labels"].take();
    assert_eq!(today()["in_all"], 0);
    assert!(matches!(
        play.line("5 hold wasting_test positive 0"),
        Came::Written
    ));
    let listed = today();
    assert_eq!(listed["in_all"], 1);
    assert_eq!(listed["packs"][0]["printed"]["word"], "ready_to_eat");
    assert_eq!(listed["packs"][0]["verdict"]["word"], "do_not_eat");
    assert!(label()["says"].as_str().unwrap().starts_with("DO NOT EAT."));
    assert_eq!(label()["keeps"], json!([]));
    // relabelled, it is nobody's task; put right, it is again
    assert!(matches!(play.line("6 print"), Came::Written));
    assert_eq!(today()["in_all"], 0);
    assert!(matches!(play.line("7 fix-answer clear"), Came::Written));
    assert_eq!(today()["in_all"], 1);
    let trace = table
        .program
        .get(&format!("/lots/{}/trace", play.lots[0]))
        .ok();
    assert_eq!(trace["packs"][0]["pack"], pack);
    let within = table.program.get(&format!("/packs/{pack}/trace")).ok();
    let lots: Vec<_> = within["lots"]
        .as_array()
        .unwrap()
        .iter()
        .map(|l| l["species"].as_str().unwrap())
        .collect();
    assert_eq!(lots.len(), 2, "{lots:?}");
}
