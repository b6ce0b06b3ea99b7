//! Only what is sound proves anything: plans of which one number, one day or one name cannot be, beside ordinary ones
//! that pass without a word.

#[path = "support/plays.rs"]
mod plays;
mod support;

use plays::{Came, Table, hold};
use serde_json::json;

/// A goat's leg muscle peppered and smoked.
macro_rules! goat {
    ($rest:literal) => {
        concat!(
            "0 lot goat bought; 0 cut leg_muscle 1.4kg 45mm; 0 assign breast-peppered; 0 dose; ",
            $rest
        )
    };
}

/// A pig's jowl to be smoked.
macro_rules! jowl {
    ($rest:literal) => {
        concat!(
            "0 lot pig bought; 0 cut jowl 1.2kg 45mm; 0 assign jowl-smoked; 0 dose; ",
            $rest
        )
    };
}

/// A bought leg of pork in its bucket.
macro_rules! ham {
    ($rest:literal) => {
        concat!(
            "0 lot pig bought; 0 cut butt 3kg 90mm; 0 assign ham-bucket; 0 dose; ",
            $rest
        )
    };
}

/// A tenderloin of beef to be dried.
macro_rules! tender {
    ($rest:literal) => {
        concat!(
            "0 lot beef bought; 0 cut tenderloin 1.8kg 45mm; 0 assign tenderloin-buried; 0 dose; ",
            $rest
        )
    };
}

/// A dry sausage of beef and pork that was frozen first.
macro_rules! salami {
    ($rest:literal) => {
        concat!(
            "0 lot pig bought; 0 cut butt 4kg 90mm; 0 freeze -21C; 31 freeze -22C; 32 grind 3900g piece; 32 assign salami-knife; 32 dose; ",
            $rest
        )
    };
}

#[test]
#[rustfmt::skip]
fn what_is_ordinary_passes_without_a_word() {
    hold(&[
        ("peppered goat", goat!("10 out 1380g; 11 smoke 1180g 64C 105C; 11 cool 4C 5h; 12 pack 1150g"), "ready_to_eat cooked cooked_to_target"),
        ("goat in Fahrenheit", goat!("10 out 1380g; 11 smoke 1180g 147F 225F; 11 cool 40F 5h; 12 pack 1150g"), "ready_to_eat cooked"),
        ("goat that comes out a little warmer than it need be", goat!("10 out 1380g; 11 smoke 1150g 78C 110C; 12 pack 1120g"), "ready_to_eat cooked"),
        ("smoked jowl eaten as it is", jowl!("9 out 1180g; 10 smoke 1040g 66C 95C; 11 pack 1020g"), "ready_to_eat cooked"),
        ("a ham from its bucket", ham!("20 out 3080g; 21 smoke 2700g 64C 95C; 22 pack 2650g"), "ready_to_eat cooked"),
        ("a ham poached the same day", ham!("20 out 3080g; 20.5 smoke 2850g 69C 80C; 21 pack 2800g"), "ready_to_eat cooked"),
        ("a dried tenderloin of beef", tender!("13 out 1760g; 14 hang 1790g 20g; 34 down 1270g; 35 pack 1240g"), "ready_to_eat dried dried_to_target"),
        ("a dried tenderloin weighed on its way", tender!("13 out 1760g; 14 hang 1790g 20g; 19 in 1610g; 24 in 1450g; 36 down 1260g; 37 pack 1230g"), "ready_to_eat dried"),
        ("a tenderloin two days longer in its bag", tender!("15 out 1760g; 16 hang 1790g 20g; 37 down 1260g; 38 pack 1230g"), "ready_to_eat dried"),
        ("a brisket in brine", "0 lot beef bought; 0 cut brisket 2.6kg 55mm; 0 assign brisket-slab; 0 dose; 14 out 2680g; 15 smoke 2200g 68C 110C; 16 pack 2150g", "ready_to_eat cooked"),
        ("a lamb's belly rolled", "0 lot lamb bought; 0 cut belly 900g 30mm; 0 assign lamb-roll; 0 dose; 7 out 885g; 8 smoke 760g 65C 95C; 9 pack 740g", "ready_to_eat cooked"),
        ("thin boar belly taken to its target", "0 lot wild_boar harvested; 0 cut belly 1.5kg 30mm; 0 assign belly-thin; 0 dose; 6 out 1470g; 7 smoke 1250g 73C 100C; 8 pack 1200g", "ready_to_eat cooked"),
        ("salami that soured in two days", salami!("33.7 ph 5.2; 34.0 ph 5.1; 34.1 out 4000g; 35 hang 4050g 50g; 95 down 2600g; 100 pack 2500g"), "ready_to_eat dried"),
        ("pork with a number of its test is dried unfrozen", "0 lot pig bought; 0 hold freezing clear note:T-4711; 0 cut loin 1.6kg 50mm; 0 assign muscle-cased; 0 dose; 23 out 1550g; 24 hang 1600g 50g; 95 down 1040g; 100 pack 1000g", "ready_to_eat dried"),
        ("a deer's backstrap dried", "0 lot deer harvested; 0 hold wasting_test clear note:D-77; 0 cut backstrap 1.1kg 45mm; 0 freeze -20C; 31 freeze -20C; 32 assign tenderloin-buried; 32 dose; 45 out 1070g; 46 hang 1090g 20g; 66 down 790g; 67 pack 760g", "ready_to_eat dried"),
        ("a pack moved from freezer to fridge stays what it is", goat!("10 out 1380g; 11 smoke 1180g 64C 105C; 12 pack 1150g freezer, vacuum packed; 20 move fridge, vacuum packed"), "ready_to_eat cooked"),
        ("a goat's leg muscle topped up with nothing but smoke", goat!("10 out 1380g; 11 smoke 1180g 64C; 11 cool 5C 6h; 12 pack 1150g"), "ready_to_eat cooked"),
        ("three hours on the counter at eight degrees", goat!("4 warm 8C 3h; 10 out 1380g; 11 smoke 1180g 64C 105C; 12 pack 1150g"), "ready_to_eat cooked"),
        ("an inside temperature put right upwards", jowl!("9 out 1180g; 10 smoke 1040g 61C 95C !; 11 pack 1020g; 12 fix-inside 66C"), "ready_to_eat cooked"),
        ("a goat for the grinder and a loaf", "0 lot goat bought; 0 cut leg_muscle 2kg 70mm; 0 grind 1960g piece; 0.2 assign formed-loaf; 0.2 dose; 1.2 out 2000g; 1.5 smoke 1800g 73C 100C; 2 pack 1750g", "ready_to_eat cooked"),
        ("a brine topped up with water", "0 lot beef bought; 0 cut brisket 2.6kg 55mm; 0 assign brisket-slab; 0 dose; 1 top 200ml; 14 out 2680g; 15 smoke 2200g 68C 110C; 16 pack 2150g", "ready_to_eat cooked"),
        ("a piece thrown away before it was packed", goat!("10 out 1380g; 11 throw it was dropped in the yard"), "do_not_eat"),
        ("a turkey breast at 74", "0 lot turkey bought; 0 cut breast 1.8kg 55mm; 0 assign breast-peppered; 0 dose; 12 out 1770g; 13 smoke 1500g 74.5C 115C; 13 cool 4C 5.5h; 14 pack 1450g", "ready_to_eat cooked"),
        ("back bacon of 3 kg", "0 lot pig bought; 0 cut loin 3kg 70mm; 0 assign back-smoked; 0 dose; 16 out 3080g; 17 smoke 2700g 64C 90C; 18 pack 2600g", "ready_to_eat cooked"),
        ("an elk's backstrap", "0 lot elk harvested; 0 hold wasting_test clear note:E-9; 0 cut backstrap 1.6kg 55mm; 0 assign backstrap; 0 dose; 11 out 1560g; 12 smoke 1300g 72C 100C; 13 pack 1250g", "ready_to_eat cooked"),
        ("a plain belly by its own steps", "0 lot pig bought; 0 cut belly 1.6kg 40mm; 0 assign belly-slab-plain; 0 dose; 5 out 1560g; 6 smoke 1350g 66C 95C; 7 pack 1300g freezer, vacuum packed", "ready_to_eat cooked no_nitrite"),
        ("a soak in between", jowl!("9 out 1180g; 9 soak 30; 10 smoke 1060g 66C 95C; 11 pack 1020g"), "ready_to_eat cooked"),
        ("a ham pumped a tenth", "0 lot pig bought; 0 cut butt 3kg 90mm; 0 assign ham-bucket; 0 way pumped; 0.1 inject 3.29kg; 9 out 3.15kg; 10 smoke 2.8kg 64C 95C; 11 pack 2.7kg", "ready_to_eat cooked"),
        ("a point, three digits and their unit", "0 lot pig bought; 0 cut loin 1.350kg 50mm; 0 assign back-smoked; 0 dose; 12 out 1.390kg; 13 smoke 1.205kg 64C 90C; 14 pack 1.180kg", "ready_to_eat cooked"),
        ("a light piece at its product's own dose", "0 lot pig bought; 0 cut jowl 620g 35mm; 0 assign jowl-smoked; 0 dose; 8 out 608g; 9 smoke 540g 66C 95C; 10 pack 530g", "ready_to_eat cooked"),
        ("pumped with what the product says", "0 lot pig bought; 0 cut loin 3kg 70mm; 0 assign back-smoked; 0 way pumped; 0.1 inject 3.3kg; 7 out 3.15kg; 8 smoke 2.8kg 64C 90C; 9 pack 2.75kg", "ready_to_eat cooked"),
        ("its label printed again changes nothing", goat!("10 out 1380g; 11 smoke 1180g 64C 105C; 12 pack 1150g; 13 print"), "ready_to_eat cooked"),
    ]);
}

#[test]
#[rustfmt::skip]
fn a_number_that_cannot_be_proves_nothing() {
    hold(&[
        ("140 degrees in a Celsius house", goat!("10 out 1380g; 11 smoke 1180g 140 105C"), "stops"),
        ("warmer inside than around it", goat!("10 out 1380g; 11 smoke 1180g 64C 58C"), "asks warmer_than_chamber"),
        ("warmer inside than around it, kept", goat!("10 out 1380g; 11 smoke 1180g 64C 58C !; 12 pack 1150g"), "cook_before_eating reading_unproved"),
        ("ham of 2700 g off a grill by a number without a unit", ham!("20 out 3080g; 21 smoke 2700g 99 95C"), "asks warmer_than_chamber"),
        ("cooled from the heat in a quarter of an hour", ham!("20 out 3080g; 21 smoke 2700g 64C 95C; 21.01 cool 4C 0.25h"), "asks cools_too_fast"),
        ("a bag out after twelve hours", tender!("0.5 out 1780g"), "asks left_cure_early"),
        ("a tenderloin dried to 15 %", tender!("13 out 1760g; 14 hang 1790g 20g; 17 down 1530g"), "asks lost_too_little"),
        ("gained half its weight in a dry cure", jowl!("9 out 1800g"), "stops"),
        ("a weight out of the cure that leaves a third", jowl!("9 out 700g"), "asks looks_mistyped"),
        ("a pack of eight grams", jowl!("9 out 1180g; 10 smoke 1040g 66C 95C; 11 pack 8g"), "asks looks_mistyped"),
        ("a belly as heavy as a horse", "0 lot pig bought; 0 cut belly 310kg 40mm", "stops"),
        ("sixty litres of water for a brisket", "0 lot beef bought; 0 cut brisket 2.6kg 55mm; 0 assign brisket-slab; 0 dose water_g=60000", "asks odd_amount"),
        ("salt ten times", "0 lot beef bought; 0 cut brisket 2.6kg 55mm; 0 assign brisket-slab; 0 dose salt_fraction=0.24", "asks salt_high"),
        ("a syrup of sugar", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 spice 700g/kg brown sugar", "asks odd_amount"),
        ("accelerator by the handful", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 spice 6g/kg sodium erythorbate", "asks accelerator_over_cap"),
        ("saltpeter as a seasoning", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 spice 2g/kg salpeter", "stops cure_as_spice"),
        ("E 250 as a seasoning", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 spice 2g/kg E250", "stops cure_as_spice"),
        ("celery powder as a seasoning", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 spice 2g/kg celery powder", "stops cure_as_spice"),
        ("Pökelsalz as a coat", goat!("10 out 1380g; 10 coat 30g Pökelsalz"), "stops cure_as_spice"),
        ("a powder with a number", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab; 0 spice 3g/kg butchers powder no. 2", "stops cure_as_spice"),
        ("nothing but a name, where there is no cure", "0 lot pig bought; 0 cut belly 2kg 40mm; 0 assign belly-slab-plain; 0 spice 3g/kg grandads secret", "asks may_be_cure"),
        ("salami that soured in a day by one look", salami!("33.7 ph 5.2; 34.1 out 4000g; 35 hang 4050g 50g"), "asks not_sour"),
        ("a ham pumped by too little", "0 lot pig bought; 0 cut butt 3kg 90mm; 0 assign ham-bucket; 0 way pumped; 0.1 inject 3.25kg", "asks nitrite_below_floor"),
        ("a pH that no sausage has", salami!("33.7 ph 2.1"), "asks not_sour"),
    ]);
}

#[test]
#[rustfmt::skip]
fn what_happened_afterwards_reaches_what_leans_on_it() {
    hold(&[
        ("a day in the sun in its pack", goat!("10 out 1380g; 11 smoke 1180g 64C 105C; 12 pack 1150g; 13 warm 26C 12h"), "do_not_eat too_warm"),
        ("warm twice, each time a little short", goat!("2 warm 16C 5h; 3 warm 16C 5h"), "do_not_eat too_warm"),
        ("a half smoked pack on the shelf of the larder", jowl!("9 out 1180g; 10 smoke 1080g 61C 80C !; 11 pack 1060g freezer, vacuum packed; 12 move pantry shelf"), "stops not_cold_storage"),
        ("cooked and packed for the windowsill", goat!("10 out 1380g; 11 smoke 1180g 64C 105C; 12 pack 1150g windowsill"), "stops not_cold_storage"),
        ("a plain belly sealed when it was moved", "0 lot pig bought; 0 cut belly 1.6kg 40mm; 0 assign belly-slab-plain; 0 dose; 5 out 1560g; 6 smoke 1350g 66C 95C; 7 pack 1300g freezer; 8 move fridge, vacuum packed", "stops no_nitrite_hazard"),
        ("a plain belly past its week", "0 lot pig bought; 0 cut belly 1.6kg 40mm; 0 assign belly-slab-plain; 0 dose; 9 out 1560g", "stops no_nitrite_hazard"),
        ("a moose whose sample is away", "0 lot moose harvested; 0 hold wasting_test waiting; 0 cut backstrap 1.6kg 55mm; 0 assign backstrap; 0 dose; 11 out 1560g; 12 smoke 1300g 72C 100C; 13 pack 1250g", "asks test_pending"),
        ("a moose whose sample is away, packed", "0 lot moose harvested; 0 hold wasting_test waiting; 0 cut backstrap 1.6kg 55mm; 0 assign backstrap; 0 dose; 11 out 1560g; 12 smoke 1300g 72C 100C; 13 pack 1250g !", "do_not_eat test_pending"),
        ("and then its answer comes", "0 lot moose harvested; 0 hold wasting_test waiting; 0 cut backstrap 1.6kg 55mm; 0 assign backstrap; 0 dose; 11 out 1560g; 12 smoke 1300g 72C 100C; 13 pack 1250g !; 20 hold wasting_test clear note:M-3", "ready_to_eat cooked"),
        ("pork dried, and frozen only afterwards", "0 lot pig bought; 0 cut loin 1.6kg 50mm; 0 assign muscle-cased because we freeze it when it is dry; 0 dose; 23 out 1550g; 24 hang 1600g 50g; 95 down 1040g; 96 freeze -22C !; 140 freeze -22C !; 141 pack 1000g", "cook_before_eating hold_open"),
        ("frozen, thawed for two days at twelve, frozen on", "0 lot pig bought; 0 cut loin 1.6kg 50mm; 0 freeze -20C; 15 freeze 6C; 17 freeze -20C; 25 freeze -20C; 25 assign muscle-cased", "stops open_hold"),
        ("a test without its number", "0 lot pig bought; 0 hold freezing clear", "stops"),
        ("a stamp is no test at home", "0 lot pig bought; 0 hold freezing stamped", "stops"),
        ("the inside put right downwards", goat!("10 out 1380g; 11 smoke 1180g 64C 105C; 12 pack 1150g; 13 fix-inside 56C !"), "cook_before_eating under_target"),
        ("the hook's weight put right", tender!("13 out 1760g; 14 hang 1790g 20g; 34 down 1270g; 35 pack 1240g; 36 fix-down 1620g !"), "cook_before_eating lost_too_little"),
        ("the answer put right to positive", "0 lot elk harvested; 0 hold wasting_test clear note:E-9; 0 cut backstrap 1.6kg 55mm; 0 assign backstrap; 0 dose; 11 out 1560g; 12 smoke 1300g 72C 100C; 13 pack 1250g; 14 fix-answer positive", "do_not_eat positive_animal"),
        ("a slimy pack", goat!("10 out 1380g; 11 smoke 1180g 64C 105C; 12 pack 1150g; 20 check slime discard"), "do_not_eat check_discard"),
    ]);
}

#[test]
fn a_moved_pack_keeps_by_where_it_lies_and_its_label_is_listed() {
    let table = Table::new();
    let mut play = table.play();
    for line in goat!("10 out 1380g; 11 smoke 1180g 64C 105C; 12 pack 1150g freezer, vacuum packed")
        .split(';')
    {
        assert!(matches!(play.line(line.trim()), Came::Written), "{line}");
    }
    let pack = play.packs[0];
    let label = |at: &Table| at.program.get(&format!("/packs/{pack}/label")).ok();
    let before = label(&table)["keeps"].clone();
    assert!(matches!(play.line("20 move fridge, thawed"), Came::Written));
    let after = label(&table)["keeps"].clone();
    assert_ne!(before, after);
    let listed = table.program.get("/today").ok()["labels"].take();
    assert_eq!(listed["in_all"], 1, "{listed}");
    assert_eq!(listed["packs"][0]["changes"], json!(["keep"]));
}
