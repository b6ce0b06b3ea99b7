use super::*;
use crate::catalogue::Catalogue;
use crate::caution::{Code, Severity};
use crate::dose::limits::default_rule_set;
use proptest::prelude::*;

fn ask(text: &str) -> RecipeCheckAsk {
    RecipeCheckAsk {
        text: text.into(),
        rule_set: default_rule_set(),
        measures: Some(Measures::Us),
        ..RecipeCheckAsk::default()
    }
}

fn check(ask: &RecipeCheckAsk) -> RecipeCheckAnswer {
    recipe_check(ask, &Catalogue::shipped()).unwrap()
}

fn read(text: &str) -> RecipeCheckAnswer {
    check(&ask(text))
}

fn near(got: Option<f64>, want: f64) -> bool {
    got.is_some_and(|g| (g - want).abs() <= 1e-6 * want.abs().max(1e-6))
}

fn flags(answer: &RecipeCheckAnswer) -> Vec<(Code, Severity)> {
    answer
        .findings
        .iter()
        .map(|f| (f.finding.code, f.finding.severity))
        .collect()
}

fn assumed(answer: &RecipeCheckAnswer, code: AssumptionCode) -> bool {
    answer.assumptions.iter().any(|a| a.code == code)
}

#[test]
fn worked_recipes_hold() {
    let catalogue = Catalogue::shipped();
    crate::cure::testing::hold("recipe-check", |request| {
        let ask: RecipeCheckAsk = serde_json::from_value(request).unwrap();
        serde_json::to_value(recipe_check(&ask, &catalogue).unwrap()).unwrap()
    });
}

/// Two kilograms of meat above every line, so that rates have something to be on.
#[test]
fn amounts_are_read_as_people_write_them() {
    #[rustfmt::skip]
    let cases: &[(&str, &str, f64)] = &[
        ("2 tsp cure #1", "cure #1", 12.0),
        ("1 T salt", "salt", 18.0),
        ("2 tbs. dense kosher salt", "dense kosher salt", 30.0),
        ("1 c. brown sugar", "brown sugar", 220.8),
        ("½ cup dark brown sugar, packed", "brown sugar", 110.4),
        ("1½ tsp. pink curing salt #1", "cure #1", 9.0),
        ("one and a half teaspoons cure no. 1", "cure #1", 9.0),
        ("a cup and a half of brown sugar", "brown sugar", 331.2),
        ("about 20 g sugar", "sugar", 20.0),
        ("22 g or so of sugar", "sugar", 22.0),
        ("1 tsp ground cloves", "cloves", 2.1),
        ("Salt: 22 g/kg", "salt", 44.0),
        ("22 g salt per kg", "salt", 44.0),
        ("salt 2.25 %", "salt", 45.0),
        ("2.25% salt", "salt", 45.0),
        ("cure #1, 0.25 %", "cure #1", 5.0),
        ("0.25% of meat weight cure #1", "cure #1", 5.0),
        ("Cure #1: 156 ppm", "cure #1", 4.992),
        ("7/8 oz sodium erythorbate to 100 lb", "sodium erythorbate", 1.09375),
        ("4 oz cure #1 per 100 lb meat", "cure #1", 5.0),
        ("1 level tsp cure #1 per 5 lb", "cure #1", 5.291094),
        ("2 oz salt per 10 lbs of meat", "salt", 25.0),
        ("1 tbsp/lb pre-blended cure", "pre-blended cure", 68.784223),
        ("salt ..... 40 g", "salt", 40.0),
        ("- 40 g fine sea salt", "fine salt", 40.0),
        ("* 2 Tbsp soy sauce", "soy sauce", 34.8),
        ("salt, kosher, flaked: 1/2 cup", "flaked kosher salt", 69.6),
        ("1/2 cup (70 g) flaked kosher salt", "flaked kosher salt", 70.0),
        ("20 g (2 tbsp) coriander seed", "coriander", 20.0),
        ("30 ml maple syrup", "maple syrup", 40.1710577),
        ("2 fl oz rum", "spirit", 56.4),
        ("2 qts cold water", "water", 1892.705892),
        ("half a gallon of water", "water", 1892.705892),
        ("3/4 cup plus 2 tbsp sugar", "sugar", 176.4),
        ("1 lb 4 oz salt", "salt", 566.990463),
        ("2,5 g cure #1", "cure #1", 2.5),
        ("40 g nitrite salt 0.6 %", "0.6 % nitrite salt", 40.0),
        ("50 g 0.5% nitrite salt", "curing salt with 0.5 % nitrite", 50.0),
        ("suger 20 g", "sugar", 20.0),
        ("20 g corriander", "coriander", 20.0),
        ("2 g saltpetre", "saltpetre", 2.0),
        ("15 g celery powder", "celery powder", 15.0),
        ("1 tsp pink salt", "pink salt", 6.0),
        ("1 Tbsp. Himalayan pink salt", "salt", 18.0),
        ("2 tablespoons mustard seeds", "mustard seed", 19.8),
        ("40 g salt and 20 g sugar", "salt", 40.0),
        ("40 g salt and 20 g sugar", "sugar", 20.0),
        ("2 to 3 tsp paprika", "paprika", 5.75),
        ("1/2 - 1 cup water", "water", 177.441177),
        ("two tbsp honey", "honey", 42.0),
        ("1 gal. water", "water", 3785.411784),
        ("1 imperial pint water", "water", 568.26125),
        ("1 Australian tablespoon salt", "salt", 24.346096),
        ("1 dessertspoon sugar", "sugar", 8.4),
        ("cure #1: 1 tsp", "cure #1", 6.0),
        ("Cure 1 tsp", "curing salt", 6.0),
        ("curing salt 1 2 tsp", "cure #1", 12.0),
        ("#1 cure 5 g", "cure #1", 5.0),
        ("5 g Cure#1", "cure #1", 5.0),
        ("5 g cure no.1", "cure #1", 5.0),
        ("3 L water", "water", 3000.0),
        ("750ml red wine", "wine", 745.599201),
        ("black pepper, coarsely ground, 8 g", "black pepper", 8.0),
        ("8 g crushed red pepper flakes", "chilli flakes", 8.0),
        ("1 sachet cure #1 (25 g)", "cure #1", 25.0),
        ("2 packets of 28 g each of cure #2", "cure #2", 56.0),
        ("sugar 2 tbsp / 25 g", "sugar", 25.0),
        ("salt | 44 g", "salt", 44.0),
        ("40 g salt + 5 g cure #1", "cure #1", 5.0),
        ("1/2tsp cure#1", "cure #1", 3.0),
        ("20 g each salt and sugar", "sugar", 20.0),
        ("salt and sugar, 20 g each", "salt", 20.0),
        ("1 tsp each dried thyme and rosemary", "rosemary", 1.2),
        ("1 & 1/2 tsp cumin", "cumin", 3.15),
    ];
    for (line, ingredient, grams) in cases {
        let answer = read(&format!("2 kg loin\n{line}"));
        let found = answer
            .lines
            .iter()
            .any(|l| l.ingredient.as_deref() == Some(ingredient) && near(l.mass_g, *grams));
        assert!(found, "{line}: {:#?}", &answer.lines[1..]);
    }
}

#[test]
fn the_weight_of_the_meat_is_found_wherever_it_stands() {
    #[rustfmt::skip]
    let cases: &[(&str, f64)] = &[
        ("5 # belly", 2267.96185),
        ("4 lb 8 oz pork loin", 2041.165665),
        ("2 bellies, 4 lb each", 3628.73896),
        ("2 x 1.5 kg bellies", 3000.0),
        ("a 12-lb ham", 5443.10844),
        ("1,250 g neck", 1250.0),
        ("1,25 kg neck", 1250.0),
        ("Meat: 2300 g", 2300.0),
        ("weight of meat 2.3 kg", 2300.0),
        ("Pork shoulder - 5 lbs (2.27kg)", 2267.96185),
        ("2lb3oz goat leg", 992.233309),
        ("Two turkey thighs, 700 g each", 1400.0),
        ("Piece: 1.4 kg", 1400.0),
        ("for a 4 kg ham:", 4000.0),
        ("Enough for a 4 pound brisket, 5 days", 1814.36948),
        ("3 bellies of 2.1 kg", 6300.0),
        ("a brace of ducks, 1.1 kg and 1.3 kg", 2400.0),
        ("lean 2 kg, back fat 600 g", 2600.0),
        ("two hams (9 kg together)", 9000.0),
        ("My belly weighs 4 lb 6 oz.", 1984.466619),
    ];
    for (line, grams) in cases {
        let answer = read(&format!("{line}\n20 g salt"));
        assert!(near(answer.meat_g, *grams), "{line}: {:?}", answer.meat_g);
    }
}

#[test]
fn what_has_no_number_has_no_weight_and_says_why() {
    let lines = [
        "3 cloves garlic",
        "4 bay leaves",
        "12 peppercorns",
        "6 whole cloves",
        "a pinch of nutmeg",
        "pepper to taste",
        "salt and pepper, as you like",
        "1 packet of cure mix for 11 kg, half of it here",
        "the rest of the jar of honey",
        "1 tbsp birch leaf powder",
        "a dash of vinegar",
        "1 can beer",
        "2 parts salt",
        "garlic, 4 cloves",
        "1 bunch thyme",
    ];
    for line in lines {
        let answer = read(&format!("2 kg loin\n{line}"));
        for l in &answer.lines[1..] {
            assert_eq!(l.text, line);
            assert_eq!((l.mass_g, l.kind), (None, LineKind::Ingredient), "{line}");
            assert!(l.note.is_some(), "{line}");
            assert_ne!(l.understood, Understood::Yes, "{line}");
        }
    }
}

#[test]
fn every_line_comes_back_as_it_was_typed_and_in_order() {
    let text = "  My own way \n\n5 lb belly\r\n\t1 tsp cure #1 \n40 g salt, 20 g sugar and 5 g pepper\nRub it in, leave it 7 days\n5 zorkmids blorp\n";
    let answer = read(text);
    let lines: Vec<_> = answer
        .lines
        .iter()
        .map(|l| (l.source, l.text.as_str()))
        .collect();
    let three = "40 g salt, 20 g sugar and 5 g pepper";
    assert_eq!(
        lines,
        [
            (0, "  My own way "),
            (1, "5 lb belly"),
            (2, "\t1 tsp cure #1 "),
            (3, three),
            (3, three),
            (3, three),
            (4, "Rub it in, leave it 7 days"),
            (5, "5 zorkmids blorp"),
        ]
    );
    let kinds: Vec<_> = answer.lines.iter().map(|l| l.kind).collect();
    use LineKind::{Heading, Ingredient, Instruction, Meat, NotUnderstood};
    assert_eq!(
        kinds,
        [
            Heading,
            Meat,
            Ingredient,
            Ingredient,
            Ingredient,
            Ingredient,
            Instruction,
            NotUnderstood
        ]
    );
}

#[test]
fn a_recipe_with_its_directions_is_read_once() {
    let text = "SMOKED LOIN\n\nINGREDIENTS\n• 4 lb loin\n• 2 quarts water\n• 1/2 cup fine salt\n• 1/4 cup sugar\n• 1 Tbsp curing salt #1\n\nDIRECTIONS\n\
        1. Dissolve the salt, sugar and cure in 1 quart of the water, warm.\n2. Add the rest of the water, cold.\n3. Submerge the loin, 5 days in the fridge.";
    let answer = read(text);
    assert_eq!(answer.method, RecipeMethod::CoverBrine);
    let brine = 1_892.705_892 + 144.0 + 50.4 + 18.0;
    assert!(near(
        answer.nitrite_ppm,
        1.125 / (1_814.369_48 + brine) * 1e6
    ));
    // The same without a list: what the sentences say is what goes in.
    let told = read(
        "Loin of 4 lb\nDissolve 144 g salt, 50.4 g sugar and 18 g cure #1 in 2 quarts of water. Submerge the loin.",
    );
    assert!(near(told.nitrite_ppm, 1.125 / (1_814.369_48 + brine) * 1e6));
    let slashed = read("Loin 1.2kg / salt 26g / cure#1 3g / sugar 12g");
    assert!(near(slashed.nitrite_ppm, 156.25) && near(slashed.sugar_fraction, 0.01));
    let sentence =
        read("3 tablespoons of fine salt per kilo, 1.25 g of cure #1 per pound, belly of 2 kg");
    assert!(
        near(sentence.meat_g, 2_000.0) && near(sentence.lines[1].mass_g, 1.25 / 0.453_592_37 * 2.0)
    );
    let all_in = read("4 kg ham\n340 ml water\n48 g salt\n12 g cure #1\ninject all of it");
    assert_eq!(all_in.method, RecipeMethod::Injection);
    assert!(near(all_in.nitrite_ppm, 187.5));
    assert_eq!(
        read("10 lb venison trim + 3 lb pork fat\n3 oz salt").method,
        RecipeMethod::Ground
    );
    assert!(near(
        read("2.0 kg\n44 g salt\n5 g cure #1").nitrite_ppm,
        156.25
    ));
    let bare = read("Meat 2kg\nSalt 40\nCure#1 5\nSugar 20\n(all in grams)");
    assert!(near(bare.nitrite_ppm, 156.25) && near(bare.sugar_fraction, 0.01));
}

#[test]
fn what_stands_in_one_sentence_is_told_apart() {
    #[rustfmt::skip]
    let cases: &[(&str, f64, f64)] = &[
        // text, meat, nitrite
        ("Cure #1 at 2.5 grams a kilo; salt at 20 grams a kilo. Belly 2.6 kilos.", 2_600.0, 156.25),
        ("5lb belly cure: 2oz salt 1oz sugar 0.2oz cure #1", 2_267.961_85, 156.25),
        ("A wet cure for a belly of 2 kg\n5 g cure #1\n30 ml maple syrup", 2_000.0, 156.25),
        ("One and a half kilos of neck, forty grams of salt, 3.75 grams of cure number one", 1_500.0, 156.25),
        ("Meat 1.3 kg\ncure: 3.25 g (no. 1)\nsalt: 28.6 g", 1_300.0, 156.25),
        ("44 g salt and 5 g cure #1, pepper, 2 kg loin, hung till it lost 35 %", 2_000.0, 156.25),
        ("Loin of 2 kg. Rub it with 44 g. of salt and 5 g. of cure #1. Leave it 9 days.", 2_000.0, 156.25),
    ];
    for (text, meat, nitrite) in cases {
        let answer = read(text);
        assert!(near(answer.meat_g, *meat), "{text}: {:?}", answer.meat_g);
        assert!(
            near(answer.nitrite_ppm, *nitrite),
            "{text}: {:?}",
            answer.nitrite_ppm
        );
    }
    let buried =
        read("Duck breast 450 g. Bury in salt overnight, rinse, hang till it has lost 30 %.");
    assert_eq!(buried.method, RecipeMethod::SaltBox);
    // A pumped piece lies in its brine only where that is said.
    let pumped = read(
        "Ham, 5 kg, pumped 8 %\nbrine: water 900 g, salt 60 g, cure #1 20 g\nsodium erythorbate 2.5 g in the brine",
    );
    assert_eq!(pumped.nitrite_ppm_equilibrium, None);
}

#[test]
fn a_cure_that_is_only_named_is_not_none() {
    for text in [
        "2 kg loin\n44 g salt\nRub it with cure #1 and sugar",
        "cure #1 for the loin\n2 kg loin\n44 g salt",
        "2 kg loin\n44 g salt\ncuring salt as the bag says, rub well",
    ] {
        let answer = read(text);
        assert_eq!(answer.nitrite_ppm, None, "{text}");
        assert!(
            flags(&answer)
                .iter()
                .any(|(c, _)| *c == Code::CureNotWeighed),
            "{text}"
        );
    }
    // Where it is weighed, the rest is talk; and a dry cure of salt alone has none.
    for text in [
        "Cure #1 for the loin\n2 kg loin\n44 g salt\n5 g cure #1\nRub it with the cure #1",
        "Dry cure for bacon\n2 kg loin\n44 g salt\nRub the cure in well",
        "Do not use cure #2.\n2 kg loin\n44 g salt",
    ] {
        let answer = read(text);
        assert!(answer.nitrite_ppm.is_some(), "{text}");
        assert!(
            !flags(&answer)
                .iter()
                .any(|(c, _)| *c == Code::CureNotWeighed),
            "{text}"
        );
    }
    let heaped = read("cure #1, heaped teaspoon\nsalt, 3 tbsp\n2 kg loin");
    assert!(near(heaped.lines[0].mass_g, 9.6));
    assert!(near(
        read("2 kg neck\n3% salt incl. cure\n0.25% cure #1").nitrite_ppm,
        156.25
    ));
    assert!(near(
        read("2 kg neck\nspices: coriander 2 tbsp, pepper 2 tbsp").lines[1].mass_g,
        10.8
    ));
}

#[test]
fn every_thing_of_a_list_is_there() {
    let read = read("1.4 kg shoulder\n2 cloves of garlic, a bay leaf, 5 peppercorns and thyme");
    let names: Vec<_> = read.lines[1..]
        .iter()
        .filter_map(|l| l.ingredient.as_deref())
        .collect();
    assert_eq!(names, ["garlic", "bay leaf", "peppercorns", "dried herbs"]);
}

#[test]
fn headings_and_rates_rule_the_lines_they_are_meant_for() {
    #[rustfmt::skip]
    let cases: &[(&str, Option<f64>, f64, f64)] = &[
        // text, meat of the request, salt of the meat, nitrite
        ("Loin, per kg:\nsalt 22 g\ncure #1 2.5 g", Some(1_800.0), 0.024_343_75, 156.25),
        ("salt 22 g\ncure #1 2.5 g\n(on each kilo)", Some(2_000.0), 0.024_343_75, 156.25),
        ("30 g salt\n2.5 g cure #1\nAll amounts are per kilo of meat.", Some(1_400.0), 0.032_343_75, 156.25),
        ("Dose (g/kg): salt 22; cure #1 2.5", Some(900.0), 0.024_343_75, 156.25),
        ("Percent of meat weight:\nsalt 2.2\ncure #1 0.25", None, 0.024_343_75, 156.25),
        ("per 10 kg: 220 g salt, 25 g cure no 1", Some(2_400.0), 0.024_343_75, 156.25),
        ("For 100 lb of meat:\n2 lb 3.2 oz salt\n4 oz cure #1", Some(3_000.0), 0.024_343_75, 156.25),
        ("1 oz cure #1 per 25 lb\n8.8 oz salt per 25 lb", Some(3_000.0), 0.024_343_75, 156.25),
        ("44 g salt and 5 g cure #1 for 2 kg of loin", None, 0.024_343_75, 156.25),
        ("2 kg belly\nMix:\n880 g salt\n100 g cure #1\nUse 24.5 g of this mix per kg.", None, 0.024_343_75, 156.25),
        ("3 kg lean pork, 1 kg fat, ground\n88 g salt\n10 g cure #1", None, 0.024_343_75, 156.25),
    ];
    for (text, meat_g, salt, nitrite) in cases {
        let answer = check(&RecipeCheckAsk {
            meat_g: *meat_g,
            ..ask(text)
        });
        assert!(
            near(answer.salt_fraction, *salt),
            "{text}: {:?}",
            answer.salt_fraction
        );
        assert!(
            near(answer.nitrite_ppm, *nitrite),
            "{text}: {:?}",
            answer.nitrite_ppm
        );
    }
}

#[test]
fn a_brine_is_reckoned_both_ways() {
    // 45 g of cure #1 are 2.8125 g of nitrite in 2285 g of brine.
    let text = "Leg, 4.2 kg\nPickle:\n2 l water\n180 g salt\n60 g brown sugar\n45 g cure #1\n";
    let of_brine = 2.812_5 / 2_285.0 * 1e6;
    let cover = read(text);
    assert_eq!(cover.method, RecipeMethod::CoverBrine);
    assert!(near(cover.nitrite_ppm_pickup, of_brine * 0.1));
    assert!(near(cover.nitrite_ppm_equilibrium, 2.812_5 / 6_485.0 * 1e6));
    assert_eq!(cover.nitrite_ppm, cover.nitrite_ppm_equilibrium);
    assert!(near(
        cover.salt_fraction,
        (180.0 + 45.0 * 0.937_5) / 6_485.0
    ));

    let pumped = read(&format!("{text}Inject 12 %, throw away what is left."));
    assert_eq!(pumped.method, RecipeMethod::Injection);
    assert!(near(pumped.nitrite_ppm, of_brine * 0.12));
    assert_eq!(pumped.nitrite_ppm_equilibrium, None);

    let covered = read(&format!("{text}Inject 12 % and cover it with the rest."));
    assert!(near(covered.nitrite_ppm_pickup, of_brine * 0.22));
    assert!(near(covered.nitrite_ppm, 2.812_5 / 6_485.0 * 1e6));

    let even = read("loin 1.8 kg\nwater 1.2 kg\nsalt 2.5 % of meat and water\ncure #1 0.25 %");
    assert_eq!(even.method, RecipeMethod::EquilibriumBrine);
    assert!(near(even.nitrite_ppm, 0.468_75 / 3_082.5 * 1e6));
    assert!(assumed(&even, AssumptionCode::PercentOf));

    let topped = read(&format!("{text}Top up with 500 ml of water."));
    assert!(near(topped.nitrite_ppm, 2.812_5 / 6_985.0 * 1e6));
}

#[test]
fn without_a_weight_of_meat_it_says_which_one_would_be_right() {
    let dry = read("40 g salt\n5 g cure #1");
    assert_eq!(
        (dry.meat_g, dry.nitrite_ppm, dry.salt_fraction),
        (None, None, None)
    );
    let said = &dry
        .assumptions
        .iter()
        .find(|a| a.code == AssumptionCode::MeatWeightMissing)
        .unwrap()
        .message;
    // 0.3125 g of nitrite are 156 ppm of 2.003 kg
    assert!(said.contains("2 kg (4.4 lb)"), "{said}");
    let at_it = dry.over_weight.iter().min_by(|a, b| {
        (a.meat_g - 2_003.2)
            .abs()
            .total_cmp(&(b.meat_g - 2_003.2).abs())
    });
    assert!((at_it.unwrap().nitrite_ppm - 156.0).abs() < 1.0);

    let brine = read("Brine\n2 l water\n120 g salt\n20 g cure #1");
    assert_eq!(brine.nitrite_ppm, None);
    assert!(near(brine.nitrite_ppm_pickup, 1.25 / 2_140.0 * 1e5));
    // Rates are worked out for a kilogram, and the shares are known all the same.
    let rates = read("per lb:\n1 tsp cure #1");
    assert_eq!(rates.meat_g, None);
    assert!(near(rates.lines[1].mass_g, 6.0 / 0.453_592_37));
}

#[test]
fn a_weight_sent_beside_one_in_the_text_only_rewrites() {
    let text = "2 kg belly\n44 g salt\n5 g cure #1\n20 g sugar";
    let own = check(&RecipeCheckAsk {
        meat_g: Some(1_300.0),
        ..ask(text)
    });
    assert!(near(own.meat_g, 2_000.0) && near(own.nitrite_ppm, 156.25));
    let grams: Vec<_> = own
        .rewritten
        .iter()
        .map(|r| (r.name.as_str(), r.mass_g))
        .collect();
    assert_eq!(grams, [("cure", 3.25), ("salt", 28.6), ("sugar", 13.0)]);
    assert_eq!(
        own.printed,
        "In grams:\n1300 g meat\n3.25 g cure #1\n28.6 g salt\n13 g sugar\n"
    );
}

#[test]
fn what_contradicts_itself_is_shown_both_ways() {
    let differs = |text: &str| assumed(&read(text), AssumptionCode::AmountsDiffer);
    #[rustfmt::skip]
    let cases = [
        ("1.6 kg neck\n2 tsp (20 g) cure #1", true),
        ("1.6 kg neck\n2 tsp (12 g) cure #1", false),
        ("5 lb belly\n1 tsp (6.5 g) cure #1", false),
        // Any kosher salt may be meant, and one of them weighs that.
        ("5 lb belly\n1/4 cup (36 g) kosher salt", false),
        ("5 lb belly\n1/4 cup (60 g) kosher salt", false),
        ("5 lb belly\n1/4 cup (120 g) kosher salt", true),
        ("5 lb belly\n1/4 cup (60 g) flaked kosher salt", true),
        ("2 kg belly\n5 g (2.5 g/kg) cure #1", false),
        ("2 kg belly\n10 g (2.5 g/kg) cure #1", true),
        ("5 lb (2.3 kg) belly\n5 g cure #1", false),
        ("5 lb (3 kg) belly\n5 g cure #1", true),
    ];
    for (text, want) in cases {
        assert_eq!(differs(text), want, "{text}");
    }
    let both = read("1.6 kg neck\n2 tsp (20 g) cure #1\n40 g salt");
    let line = &both.lines[1];
    assert_eq!((line.mass_g, line.mass_g_low), (Some(20.0), Some(10.0)));
    let masses: Vec<_> = line.readings.iter().filter_map(|r| r.mass_g).collect();
    assert_eq!(masses, [12.0, 20.0]);
    // The larger one of a curing salt is judged.
    assert!(flags(&both).contains(&(Code::NitriteRefused, Severity::Stop)));
}

#[test]
fn dangers_are_named_and_nothing_else_is() {
    use Code::*;
    use Severity::{Caution, Info, Stop};
    #[rustfmt::skip]
    let cases: &[(&str, Option<Class>, &[(Code, Severity)])] = &[
        ("2 kg belly\n44 g salt\n5 g cure #1", Some(Class::Fry), &[]),
        ("5 lb belly\n1 tsp cure #1\n1/4 cup dense kosher salt", Some(Class::Fry), &[]),
        ("3 lb loin\n3 tbsp cure #1\n20 g salt", Some(Class::Cooked), &[(NitriteRefused, Stop), (NitriteOverLimit, Stop), (OverHomeCap, Caution)]),
        ("1 kg belly\n20 g salt\n2.5 g cure no. 2", Some(Class::Fry), &[(NitrateInFried, Stop)]),
        ("2 kg belly\n25 g sugar cure mix\n20 g salt\n4 g cure #1", Some(Class::Cooked), &[(TwoCures, Stop), (NitrateNotNeeded, Caution)]),
        ("6 kg ham\n150 g salt\n28 g saltpetre", Some(Class::Cooked), &[(NitrateOverLimit, Stop), (PotassiumNitrate, Caution)]),
        ("2 kg loin\n44 g salt\n0.3 g sodium nitrite", Some(Class::Cooked), &[(PureNitrite, Stop)]),
        ("2 lb belly\n20 g salt\na pinch of cure #1", Some(Class::Fry), &[(CureNotWeighed, Stop)]),
        ("2 kg belly\n44 g salt\n5 g cure #1\n2 g sodium erythorbate", Some(Class::Fry), &[(AcceleratorOverCap, Caution), (AcceleratorWithNitrite, Info)]),
        ("2 kg belly\n44 g salt\n5 g cure #1\n1.1 g sodium erythorbate", Some(Class::Fry), &[(AcceleratorWithNitrite, Info)]),
        ("belly, skin on, 2 kg\n44 g salt\n6 g cure #1", Some(Class::Fry), &[(NitriteOverLimit, Stop)]),
        ("belly, skin off, 2 kg\n44 g salt\n6 g cure #1", Some(Class::Fry), &[]),
        ("2 kg loin\n44 g salt\n2 g cure #1", Some(Class::Cooked), &[(NitriteBelowFloor, Caution)]),
        ("2 kg loin\n44 g salt\n5 g cure #1\nLeave it on the counter for 2 days", Some(Class::Cooked), &[(TooWarm, Stop)]),
        ("2 kg loin\n44 g salt\n5 g cure #1\nLeave it 9 days at 12 °C", Some(Class::Cooked), &[(TooWarm, Stop)]),
        ("2 kg loin\n44 g salt\n5 g cure #1\nLeave it 9 days at 3 °C, then freeze at -18 °C", Some(Class::Cooked), &[]),
        ("2 kg loin\n54 g salt\n5 g cure #2\nDry at 12-14 °C and 75 % until 35 % weight loss", Some(Class::Dried), &[]),
        ("2 kg loin\n44 g salt\n5 g cure #1\nNever leave it at room temperature for 2 days", Some(Class::Cooked), &[]),
        ("1 kg duck breast\n30 g salt\nCold smoke for 8 hours", Some(Class::Cooked), &[(NoNitriteHazard, Stop), (NoNitrite, Info)]),
        ("1.2 kg turkey breast\n36 g salt\n3 g cure #2\nhang for weeks", None, &[(SpeciesCaution, Stop)]),
        ("1 kg pork\n22 g salt\n2.5 g cure #1\nSmoke to 55 °C inside", Some(Class::Cooked), &[(UnderSafeHeat, Caution)]),
        ("1 kg pork\n22 g salt\n2.5 g cure #1\nSmoke at 80 °C to 64 °C inside", Some(Class::Cooked), &[]),
        ("1 kg pork, minced\n22 g salt\n2.5 g cure #1\nSmoke to 64 °C inside", Some(Class::Cooked), &[(UnderSafeHeat, Caution)]),
        ("1 kg loin\n5 g salt\n2.5 g cure #1", Some(Class::Cooked), &[(SaltLow, Caution)]),
        ("Do not use cure #2.\n1 kg loin\n22 g salt\n2.5 g cure #1", Some(Class::Fry), &[]),
    ];
    for (text, class, want) in cases {
        let answer = check(&RecipeCheckAsk {
            class: *class,
            ..ask(text)
        });
        assert_eq!(flags(&answer), *want, "{text}");
    }
}

#[test]
fn another_choice_is_said_and_not_reckoned_with() {
    for text in [
        "2 kg loin\n5 g cure #1 or 40 g pre-blend\n44 g salt",
        "2 kg loin\n5 g cure #1 (5 g) or 4 tbsp pre-blended cure (62 g), 44 g salt",
        "2 kg loin\n5 g cure #1\n44 g salt\nSubstitute 40 g celery powder for the cure",
        "2 kg loin\n5 g cure #1 (never cure #2)\n44 g salt",
    ] {
        let answer = read(text);
        assert!(
            near(answer.nitrite_ppm, 156.25),
            "{text}: {:?}",
            answer.nitrite_ppm
        );
        assert!(
            near(answer.salt_fraction, 0.024_343_75),
            "{text}: {:?}",
            answer.salt_fraction
        );
        assert_eq!(flags(&answer), [], "{text}");
    }
}

#[test]
fn what_is_no_amount_of_anything_changes_nothing() {
    for line in [
        "Yields about 4 lb bacon",
        "smoke 30 minutes per pound",
        "1 day per kg in the fridge",
        "when it reaches 1.3 kg, 35 % down",
        "Hang until it weighs 2 lb",
        "Rinse in 3 l of water",
        "Soak for 2 hours in 5 l cold water",
        "Smoke at 80 °C to 65 °C inside",
        "Brine strength 40 degrees",
        "serves 8",
        "Never more than 1 tsp cure #1 for 5 lb",
        "cure #1 must be weighed, never by spoon",
        "Tip: add 1 tsp more sugar per kg if you like it sweet",
        "Hickory chips, 2 cups",
        "* * *",
        "Enjoy!",
        "For each additional pound add 1/4 tsp cure #1",
    ] {
        let answer = read(&format!("2 kg loin\n44 g salt\n5 g cure #1\n{line}"));
        assert!(near(answer.meat_g, 2_000.0), "{line}: {:?}", answer.meat_g);
        assert!(
            near(answer.nitrite_ppm, 156.25),
            "{line}: {:?}",
            answer.nitrite_ppm
        );
        assert_eq!(answer.method, RecipeMethod::Dry, "{line}");
        assert!(answer.lines[3].mass_g.is_none(), "{line}");
    }
}

#[test]
fn the_weight_that_is_advised_is_not_too_much_again() {
    for (meat, cure) in [(1_361, "4.5"), (2_000, "20"), (330, "1.4"), (90, "0.42")] {
        let text = |cure: &str| format!("{meat} g loin\n{cure} g cure #1\nsalt 2.2 %");
        let too_much = |answer: &RecipeCheckAnswer| {
            flags(answer)
                .iter()
                .any(|(c, _)| matches!(c, Code::OverHomeCap | Code::NitriteOverLimit))
        };
        let over = read(&text(cure));
        assert!(too_much(&over), "{meat} {cure}");
        let advice = over.findings.iter().find_map(|f| {
            let (_, rest) = f.finding.remedy.as_deref()?.split_once("at most ")?;
            rest.split_once(" g").map(|(grams, _)| grams.to_owned())
        });
        let advice = advice.expect("a weight is advised");
        let mended = read(&text(&advice));
        assert!(!too_much(&mended), "{meat} {cure} {advice}");
        assert!(mended.nitrite_ppm > Some(180.0), "{meat} {cure} {advice}");
    }
}

#[test]
fn another_cure_without_an_amount_is_not_passed_over() {
    let answer = read("2 kg loin\n44 g salt\n5 g cure #1\ncure #2");
    assert_ne!(answer.lines[3].kind, LineKind::Instruction);
    assert_eq!(answer.nitrite_ppm, None, "{:?}", answer.assumptions);
}

#[test]
fn a_name_of_a_cure_is_never_guessed() {
    let slip = read("2 kg loin\n5 g curring salt\n44 g salt");
    assert!(assumed(&slip, AssumptionCode::IdentityUnclear));
    assert_eq!(slip.nitrite_ppm, None);
    // A letter wrong in food is read, and said.
    let food = read("2 kg loin\n44 g salt\n8 g blak peper");
    assert_eq!(food.lines[2].ingredient.as_deref(), Some("black pepper"));
    assert!(assumed(&food, AssumptionCode::Spelling));
    for (text, code) in [
        ("2 kg belly\n6 g pink salt", AssumptionCode::IdentityUnclear),
        (
            "2 kg belly\n6 g curing salt",
            AssumptionCode::CompositionAssumed,
        ),
        (
            "2 kg belly\n15 g celery powder",
            AssumptionCode::CeleryUnknown,
        ),
        (
            "2 kg belly\n2 tbsp kosher salt",
            AssumptionCode::KosherKindAssumed,
        ),
        ("2 kg belly\n2 tbsp salt", AssumptionCode::SaltKindAssumed),
        (
            "2 kg belly\n60 ml soy sauce",
            AssumptionCode::SauceSaltAssumed,
        ),
        (
            "2 kg belly\n15 ml sugar\n20 g salt",
            AssumptionCode::VolumeOfSolid,
        ),
        ("2 kg belly\na heaped tsp salt", AssumptionCode::About),
        ("2 kg belly\n1 packet cure #1", AssumptionCode::PartOfPacket),
        ("2 kg belly\n20 g salt", AssumptionCode::ClassAssumed),
        (
            "2 kg belly\n20 g salt\n20 g gnarf",
            AssumptionCode::UnknownIngredient,
        ),
    ] {
        assert!(assumed(&read(text), code), "{text}");
    }
}

#[test]
fn an_assumption_is_settled_where_it_stands() {
    let settled = |text: &str, code, line: Option<&str>, value: &str| {
        check(&RecipeCheckAsk {
            settled: vec![Settled {
                code,
                line_text: line.map(str::to_string),
                ingredient: None,
                value: value.into(),
            }],
            ..ask(text)
        })
    };
    let belly = "5 lb belly\n1 tsp pink salt\n1/4 cup kosher salt\na pinch of cloves";
    let flaked = settled(
        belly,
        AssumptionCode::KosherKindAssumed,
        Some("1/4 cup kosher salt"),
        "kosher_salt_flaked",
    );
    assert!(near(flaked.lines[2].mass_g, 34.8));
    let rock = settled(
        belly,
        AssumptionCode::IdentityUnclear,
        Some("1 tsp pink salt"),
        "salt",
    );
    assert_eq!(rock.nitrite_ppm, Some(0.0));
    let pinch = settled(
        belly,
        AssumptionCode::NoAmount,
        Some("a pinch of cloves"),
        "0.4 g",
    );
    assert!(near(pinch.lines[3].mass_g, 0.4));
    let class = settled(belly, AssumptionCode::ClassAssumed, None, "dried");
    assert_eq!(class.class, Class::Dried);
    let weak = settled(
        "2 kg loin\n40 g curing salt",
        AssumptionCode::CompositionAssumed,
        Some("40 g curing salt"),
        "nitrite_salt_06",
    );
    assert!(near(weak.nitrite_ppm, 120.0));
    let celery = settled(
        "2 kg loin\n44 g salt\n15 g celery powder",
        AssumptionCode::CeleryUnknown,
        Some("15 g celery powder"),
        "2 %",
    );
    assert!(near(celery.nitrite_ppm, 150.0));
    let spoon = settled(
        "1.6 kg neck\n2 tsp (20 g) cure #1",
        AssumptionCode::AmountsDiffer,
        Some("2 tsp (20 g) cure #1"),
        "spoon",
    );
    assert!(near(spoon.lines[1].mass_g, 12.0));
    let brine = "2 kg loin\n2 l water\n120 g salt\n10 g cure #1";
    let pickup = settled(brine, AssumptionCode::PickupAssumed, None, "20 %");
    assert!(near(pickup.nitrite_ppm_pickup, 0.625 / 2_130.0 * 2e5));
    let sauce = settled(
        "1 kg loin\n50 g soy sauce",
        AssumptionCode::SauceSaltAssumed,
        Some("50 g soy sauce"),
        "20 %",
    );
    assert!(near(sauce.salt_fraction, 0.01));
}

#[test]
fn measures_are_those_that_were_said() {
    let water = |measures| {
        let answer = check(&RecipeCheckAsk {
            measures,
            ..ask("2 kg loin\n1 gallon water\n200 g salt")
        });
        (
            answer.lines[1].mass_g,
            assumed(&answer, AssumptionCode::MeasuresAssumed),
        )
    };
    assert_eq!(water(Some(Measures::Us)), (Some(3_785.411_784), false));
    assert_eq!(water(Some(Measures::Imperial)), (Some(4_546.09), false));
    assert_eq!(water(None), (Some(3_785.411_784), true));
}

#[test]
fn what_cannot_be_is_refused_in_words() {
    let catalogue = Catalogue::shipped();
    let refused = |ask: &RecipeCheckAsk| recipe_check(ask, &catalogue).unwrap_err()[0].to_string();
    let long = "1 g salt\n".repeat(9_000);
    assert!(refused(&ask(&long)).starts_with("text: That is more than 64 kB"));
    let mut bad = ask("1 g salt");
    bad.meat_g = Some(-1.0);
    assert!(refused(&bad).starts_with("meat_g: "));
    bad.meat_g = None;
    bad.rule_set = "moon".into();
    assert!(refused(&bad).starts_with("rule_set: "));
}

#[test]
fn every_name_leans_on_rows_that_are_there() {
    let catalogue = Catalogue::shipped();
    for name in &catalogue.lexicon.names {
        if let Some(spoon) = &name.spoon {
            assert!(
                catalogue.spoons.iter().any(|s| s.key == *spoon),
                "{}: {spoon}",
                name.key
            );
        }
        if let Some(cure) = &name.cure {
            assert!(catalogue.cure(cure).is_some(), "{}: {cure}", name.key);
        }
        if let Some(brings) = &name.brings {
            assert!(catalogue.brings(brings).is_some(), "{}: {brings}", name.key);
        }
        assert!(!name.names.is_empty(), "{}", name.key);
    }
}

/// What a recipe may name, with how a printed one calls it.
const PARTS: [&str; 10] = [
    "salt",
    "sugar",
    "brown sugar",
    "black pepper",
    "juniper",
    "garlic powder",
    "maple syrup",
    "soy sauce",
    "bay leaf",
    "sodium erythorbate",
];

proptest! {
    #[test]
    fn any_text_is_answered(text in "\\PC{0,400}") {
        let answer = read(&text);
        prop_assert_eq!(answer.lines.iter().map(|l| l.source).max().map_or(0, |m| m + 1), text.lines().filter(|l| !l.trim().is_empty()).count());
    }

    #[test]
    fn any_soup_of_its_own_words_is_answered(words in prop::collection::vec(prop::sample::select(vec![
        "1", "2.5", "1/2", "½", "-", "(", ")", ":", ",", "/", "%", "#", "kg", "g", "tsp", "cup", "per", "for", "salt", "cure", "cure #1", "water", "belly",
        "inject", "brine", "of meat", "and", "or", "a half", "to taste", "pinch", "°C", "days", "the rest of the", "packet", "each", "x", "\n", "\n", "ground",
    ]), 0..80)) {
        let answer = read(&words.join(" "));
        for line in &answer.lines {
            for mass in [line.mass_g, line.mass_g_low, line.mass_g_high].into_iter().flatten() {
                prop_assert!(mass.is_finite() && mass >= 0.0, "{:?}", line);
            }
            if let (Some(low), Some(mass), Some(high)) = (line.mass_g_low, line.mass_g, line.mass_g_high) {
                prop_assert!(low <= mass + 1e-9 && mass <= high + 1e-9, "{:?}", line);
            }
        }
        for share in [answer.nitrite_ppm, answer.salt_fraction, answer.sugar_fraction].into_iter().flatten() {
            prop_assert!(share.is_finite() && share >= 0.0);
        }
    }

    #[test]
    fn what_is_printed_reads_back_to_the_same_grams(
        meat in 200.0..9_000.0_f64, cure in 0.5..30.0_f64, parts in prop::collection::btree_map(0_usize..PARTS.len(), 0.01..900.0_f64, 1..8)
    ) {
        let grams = |g: f64| (g * 1_000.0).round() / 1_000.0;
        let mut lines: Vec<(&str, f64)> = vec![("cure #1", grams(cure))];
        lines.extend(parts.iter().map(|(i, g)| (PARTS[*i], grams(*g))));
        let text = printed("HG1-2", Some(grams(meat)), &lines);
        let answer = read(&text);
        prop_assert!(near(answer.meat_g, grams(meat)));
        for (name, g) in &lines {
            let found = answer.lines.iter().find(|l| l.text.ends_with(&format!(" g {name}"))).unwrap();
            prop_assert_eq!(found.ingredient.as_deref(), Some(*name));
            prop_assert!(near(found.mass_g, *g), "{}: {:?}", found.text, found.mass_g);
        }
        // And its own answer, printed, once more.
        let again = read(&answer.printed);
        for r in &answer.rewritten {
            let same = again.rewritten.iter().find(|a| a.name == r.name).unwrap();
            prop_assert!((same.mass_g - r.mass_g).abs() < 1e-3);
        }
    }

    #[test]
    fn twice_the_recipe_is_twice_the_grams_and_the_same_meat_in_it(times in 0.1..20.0_f64, wet in any::<bool>()) {
        let text = |by: f64| {
            let water = if wet { format!("{} ml water\n", 1_500.0 * by) } else { String::new() };
            format!("{} g belly\n{water}{} g salt\n{} tsp cure #1\n{} cup brown sugar\n", 2_000.0 * by, 44.0 * by, 0.8 * by, 0.25 * by)
        };
        let (one, more) = (read(&text(1.0)), read(&text(times)));
        prop_assert_eq!(one.method, more.method);
        for (a, b) in one.lines.iter().zip(&more.lines) {
            prop_assert!((b.mass_g.unwrap() - a.mass_g.unwrap() * times).abs() <= 1e-9 * b.mass_g.unwrap().max(1.0));
        }
        for (a, b) in [(one.nitrite_ppm, more.nitrite_ppm), (one.salt_fraction, more.salt_fraction), (one.sugar_fraction, more.sugar_fraction)] {
            prop_assert!((a.unwrap() - b.unwrap()).abs() <= 1e-9 * a.unwrap());
        }
        let own = check(&RecipeCheckAsk { meat_g: Some(2_000.0 * times), ..ask(&text(1.0)) });
        for (a, b) in own.rewritten.iter().zip(&more.rewritten) {
            prop_assert!((a.mass_g - b.mass_g).abs() <= 1e-9 * b.mass_g.max(1.0));
        }
    }
}

/// What a text comes to: meat (g), grams of what is named, nitrite (ppm), the days it starts with.
#[test]
fn what_people_write_between_the_lines_is_read() {
    type Row = (
        &'static str,
        Option<f64>,
        &'static [(&'static str, f64)],
        Option<f64>,
        Option<u32>,
    );
    let rows: &[Row] = &[
        (
            "2 kg loin\n5 g cure #1\n44 g salt\nTurn every two days for 7 days.",
            Some(2_000.0),
            &[("cure #1", 5.0)],
            Some(156.25),
            Some(7),
        ),
        (
            "Per liter: 70 g salt, 4 g cure #1\n4 liters used for 3 kg of pork",
            Some(3_000.0),
            &[("water", 4_000.0), ("salt", 280.0), ("cure #1", 16.0)],
            Some(16.0 * 0.0625 / (3_000.0 + 4_000.0 + 296.0) * 1e6),
            None,
        ),
        (
            "2 kg loin\n2 level tsp #1\n44 g salt",
            Some(2_000.0),
            &[("cure #1", 12.0)],
            Some(375.0),
            None,
        ),
        (
            "5 lb belly\n1 oz of the mix per lb\nMix: 1 lb salt, 1 oz cure #1",
            Some(2_267.961_85),
            &[("cure #1", 5.0 * 28.349_523_125 / 17.0)],
            Some(5.0 * 28.349_523_125 / 17.0 * 0.0625 / 2_267.961_85 * 1e6),
            None,
        ),
        (
            "2 kg pork\n2 l water\nsalt to 40 degrees salometer\n10 g cure #1",
            Some(2_000.0),
            &[("salt", 2_000.0 * 0.1056 / (1.0 - 0.1056))],
            None,
            None,
        ),
        (
            "For 2.4 kg loin and 900 g belly\n8 g cure #1\n70 g salt",
            Some(3_300.0),
            &[("loin", 2_400.0), ("belly", 900.0)],
            Some(8.0 * 0.0625 / 3_300.0 * 1e6),
            None,
        ),
        // Nobody chooses between two curing salts for anybody.
        (
            "2 kg loin\n5 g cure #1 or #2\n44 g salt",
            Some(2_000.0),
            &[("salt", 44.0)],
            None,
            None,
        ),
        // What cannot be known is no number, and not none.
        (
            "Salt it well and wait until it is done.",
            None,
            &[],
            None,
            None,
        ),
    ];
    for (text, meat, grams, nitrite, days) in rows {
        let got = read(text);
        assert_eq!(
            got.meat_g.map(|g| (g * 1e3).round()),
            meat.map(|g| (g * 1e3).round()),
            "{text}"
        );
        for (name, mass) in *grams {
            let found = got
                .lines
                .iter()
                .any(|l| l.ingredient.as_deref() == Some(name) && near(l.mass_g, *mass));
            assert!(found, "{name} in {text}: {:#?}", got.lines);
        }
        match nitrite {
            Some(ppm) => assert!(near(got.nitrite_ppm, *ppm), "{text}: {:?}", got.nitrite_ppm),
            None if got.lines.iter().any(|l| l.role == Some(Role::CuringSalt)) => {
                let brine = got.method == RecipeMethod::CoverBrine;
                assert!(
                    brine || got.nitrite_ppm.is_none(),
                    "{text}: {:?}",
                    got.nitrite_ppm
                );
            }
            None => assert_eq!((got.nitrite_ppm, got.salt_fraction), (None, None), "{text}"),
        }
        if let Some(days) = days {
            assert_eq!(got.start.unwrap().days, Some(*days), "{text}");
        }
    }
    assert!(assumed(
        &read("2 kg loin\n5 g cure #1 or #2"),
        AssumptionCode::IdentityUnclear
    ));
    // With an amount of its own it is another dose, and the first counts.
    assert!(!assumed(
        &read("2 kg loin\n5 g cure #1 or 40 g pre-blend"),
        AssumptionCode::IdentityUnclear
    ));
    let egg = read("2 kg pork\n2 l water\nsalt until the brine floats an egg");
    let salt = egg
        .lines
        .iter()
        .find(|l| l.role == Some(Role::Salt))
        .unwrap();
    assert!(salt.mass_g_low < salt.mass_g && salt.mass_g < salt.mass_g_high);
}

#[test]
fn the_smoke_of_a_text_is_looked_at() {
    let with = |lines: &str| flags(&read(&format!("2 kg pork loin\n44 g salt\n{lines}")));
    let cured = |lines: &str| with(&format!("5 g cure #1\n{lines}"));
    let slow = (Code::NoNitriteHazard, Severity::Caution);
    let raw = (Code::UnderSafeHeat, Severity::Caution);
    assert!(with("Smoke at 50 C for 6 hours").contains(&slow));
    assert!(!with("Smoke at 110 C until 68 C inside").contains(&slow));
    assert!(!cured("Smoke at 50 C until 68 C inside").contains(&slow));
    assert!(cured("Smoke at 110 C until 49 C").contains(&raw));
    assert!(!cured("Smoke at 110 C until 68 C").contains(&raw));
}
