//! Every way of dosing by numbers worked out by hand, and the laws that hold for all of them.

use super::*;
use crate::builds::Build;
use crate::dose::OwnTime;
use crate::ids::VesselId;
use crate::recipe::{RecipeCheckAsk, recipe_check};
use proptest::prelude::*;

fn in_way(key: &str, way: &str) -> Build {
    build(key).unwrap().in_way(way).unwrap()
}

fn laid(pieces: &[i64], parts: Option<f64>) -> Laid {
    Laid {
        pieces: pieces.iter().map(|p| PieceId(*p)).collect(),
        layers: 1,
        poured: parts.map(Poured::Parts),
        ..Laid::default()
    }
}

fn ask<'a>(
    build: &'a Build,
    pieces: &'a [SheetPiece],
    laid: &'a [Laid],
    own: &'a OwnDose,
) -> WeighOut<'a> {
    WeighOut {
        laid,
        own,
        ..WeighOut::of(build, pieces)
    }
}

fn line(sheet: &Sheet, name: &str) -> f64 {
    sheet.lines.iter().find(|l| l.name == name).unwrap().exact_g
}

#[test]
fn a_cover_brine_is_judged_between_its_two_figures() {
    let build = in_way("ham-bucket", "cover_brine");
    let own = own_numbers(
        json!({"water_g": "1 gal", "salt_per_l": "1 cup/gal", "cure_per_l": "2 oz per gal", "sugar_per_l": "100 g/l"}),
    );
    let pieces = [piece(1, 4_000.0, 120.0)];
    let imperial = Household {
        units: crate::units::Units::IMPERIAL,
        ..home(0.1)
    };
    let got = sheet(&ask(&build, &pieces, &[], &own), &imperial, catalogue()).unwrap();
    // a cup of fine salt is 48 level teaspoons of 6.0 g
    assert!((line(&got, "salt") - 288.0).abs() < 1e-6);
    assert!((line(&got, "cure #1") - 2.0 * 28.349_523_125).abs() < 1e-6);
    let cure = got
        .lines
        .iter()
        .find(|l| l.name == "cure #1")
        .unwrap()
        .shown_g;
    let brine: f64 = got.lines.iter().map(|l| l.shown_g).sum();
    let both = got.pieces[0].uptake.unwrap();
    // masses are kept to the milligram
    assert!((both.pickup - cure * 0.0625 / brine * 0.10 * 1e6).abs() < 1e-3);
    assert!((both.equilibrium - cure * 0.0625 / (4_000.0 + brine) * 1e6).abs() < 1e-3);
    // 12 cm thick: what is taken up is likelier; both are shown
    assert!((got.pieces[0].nitrite.nominal - both.pickup).abs() < 1e-9);
    assert_eq!(
        (got.pieces[0].nitrite.low, got.pieces[0].nitrite.high),
        (both.lower(), both.higher())
    );
    // 409 ppm if they became alike: over the 200 of an immersed product
    let over = got
        .all_findings()
        .find(|f| f.code == Code::NitriteOverLimit)
        .unwrap();
    assert_eq!(over.severity, Severity::Stop);
    assert!(got.needs_reason && !got.refused);
    assert_eq!(got.waits, Waits::Deadline);
    assert_eq!(got.soak_min, Some([30, 120]));
}

#[test]
fn a_wish_to_pump_gives_the_brine_that_makes_it_true() {
    let build = in_way("back-smoked", "pumped");
    let pieces = [piece(1, 3_000.0, 80.0)];
    let own = own_numbers(json!({}));
    let got = sheet(&ask(&build, &pieces, &[], &own), &home(0.1), catalogue()).unwrap();
    let brine: f64 = got.lines.iter().map(|l| l.exact_g).sum();
    let strength = line(&got, "cure #1") * 0.0625 / brine * 1e6;
    // a tenth pumped in and a tenth taken up of the rest: 126 ppm of the meat
    assert!((strength * 0.2 - 126.0).abs() < 1e-6);
    let salty = (line(&got, "salt") + line(&got, "cure #1") * 0.9375) / brine;
    assert!((salty * 0.2 - 0.022).abs() < 1e-9);
    let pump = got.pieces[0].pump.unwrap();
    assert_eq!((pump.inject_g, pump.to_weigh_g), (300.0, 3_300.0));
    // half of three days an inch and two, at least three
    assert_eq!(got.pieces[0].days_by, "injected");
    let dose = doses(&ask(&build, &pieces, &[], &own), &got, &home(0.1))
        .remove(0)
        .1;
    let at = |pumped: Option<f64>| {
        crate::dose::Contents::of(
            &dose.lines,
            &dose.cure,
            3_000.0,
            (dose.method, dose.taken_up.as_ref()),
            pumped,
            (0.1, 1.0),
        )
        .nitrite
        .nominal
    };
    // The real pump back to the wished one gives the wished dose; half of it does not.
    assert!((at(Some(0.10)) - at(None)).abs() < 1e-12);
    assert!((at(None) - 126.0).abs() < 0.5);
    assert!((at(Some(0.05)) - 94.5).abs() < 0.5);
    // What cannot be pumped is said.
    for (own, field) in [
        (json!({"pump_fraction": "0"}), "own.pump_fraction"),
        (
            json!({"pump_fraction": "1", "rest_covers": "no"}),
            "own.pump_fraction",
        ),
        (json!({"water_g": "100 g"}), "own.water_g"),
        (json!({"salt_fraction": "0.1"}), "own.salt_fraction"),
    ] {
        let own_dose = own_numbers(own.clone());
        let wrong = sheet(
            &ask(&build, &pieces, &[], &own_dose),
            &home(0.1),
            catalogue(),
        )
        .unwrap_err();
        assert_eq!(wrong[0].field, field, "{own}");
    }
    let far = own_numbers(json!({"spacing_mm": "60 mm"}));
    let far = sheet(&ask(&build, &pieces, &[], &far), &home(0.1), catalogue()).unwrap();
    assert!(far.findings.iter().any(|f| f.code == Code::SitesTooFar));
}

#[test]
fn a_salt_box_counts_hours_and_promises_nothing() {
    let build = in_way("tenderloin-buried", "salt_box");
    let pieces = [piece(1, 600.0, 35.0), piece(2, 450.0, 28.0)];
    let dish = [laid(&[1, 2], None)];
    let own = own_numbers(json!({"salt_per_meat": 0.5}));
    let got = sheet(&ask(&build, &pieces, &dish, &own), &home(1.0), catalogue()).unwrap();
    // 0.5 × 1,050 g, to 10 g
    assert!((line(&got, "salt") - 530.0).abs() < 1e-9);
    // 20 h for 25 mm: the slim one first
    assert_eq!(
        got.pieces.iter().map(|p| p.hours).collect::<Vec<_>>(),
        [Some(28.0), Some(22.5)]
    );
    assert!(
        got.pieces
            .iter()
            .all(|p| p.salt.is_none() && p.nitrite.high == 0.0)
    );
    assert!(got.findings.iter().any(|f| f.code == Code::SaltNotPromised));
    let strong = own_numbers(json!({"cure": "cure2"}));
    let wrong = sheet(
        &ask(&build, &pieces, &dish, &strong),
        &home(1.0),
        catalogue(),
    )
    .unwrap_err();
    assert_eq!(wrong[0].field, "own.cure");
    let bare = own_numbers(json!({"salt_per_meat": 0.3}));
    let bare = sheet(&ask(&build, &pieces, &dish, &bare), &home(1.0), catalogue()).unwrap();
    assert!(bare.findings.iter().any(|f| f.code == Code::NotBuried));
}

#[test]
fn what_carries_a_wet_rub_is_counted() {
    let build = build("belly-slab-syrup").unwrap();
    let pieces = [piece(1, 2_000.0, 40.0)];
    let own = own_numbers(
        json!({"additions": [{"name": "soy sauce", "amount": "20 g/kg"}, {"name": "wine", "amount": "10 g/kg"}]}),
    );
    let got = sheet(&ask(build, &pieces, &[], &own), &home(0.1), catalogue()).unwrap();
    let liquids = got.liquids.unwrap();
    // 60 g of syrup, 40 g of soy at 16 % salt, 20 g of wine
    assert!((liquids.sugar_g - (60.0 * 0.67 + 40.0 * 0.03)).abs() < 1e-9);
    assert!((liquids.salt_g - 6.4).abs() < 1e-9);
    assert!((line(&got, "salt") - (2.0 * 22.0 - 6.4 - 5.0 * 0.9375)).abs() < 1e-9);
    let dry = own_numbers(json!({"additions": [{"name": "syrup"}]}));
    let wrong = sheet(&ask(build, &pieces, &[], &dry), &home(0.1), catalogue()).unwrap_err();
    assert_eq!(wrong[0].field, "own.additions");
}

#[test]
fn what_stuck_is_the_jar_before_less_the_jar_after() {
    let build = in_way("breast-peppered", "preblend");
    let pieces: Vec<_> = (1..=6).map(|i| piece(i, 300.0 + i as f64, 30.0)).collect();
    let bag = [laid(&[1, 2, 3, 4, 5, 6], None)];
    let own = own_numbers(json!({"jar": {"before": "412 g", "after": "340 g"}}));
    let asked = ask(&build, &pieces, &bag, &own);
    let got = sheet(&asked, &home(1.0), catalogue()).unwrap();
    let meat: f64 = pieces.iter().map(|p| p.meat.0).sum();
    assert!((got.lines[0].shown_g - 72.0).abs() < 1e-9);
    for part in &got.pieces {
        assert!((part.nitrite.nominal - 72.0 * 0.005 / meat * 1e6).abs() < 1e-6);
        // either reading of the jar may be half a gram off
        assert!((part.nitrite.high - 73.0 * 0.005 / (meat - 0.5) * 1e6).abs() < 1e-6);
    }
    let all = doses(&asked, &got, &home(1.0));
    let stuck: Milligrams = all.iter().map(|(_, d)| d.lines[0].mass.value).sum();
    assert_eq!(stuck, Milligrams::from_grams(72.0));
    for (jar, field) in [
        (
            json!({"before": "340 g", "after": "412 g"}),
            "own.jar.after",
        ),
        (
            json!({"before": "a lot", "after": "412 g"}),
            "own.jar.before",
        ),
    ] {
        let own = own_numbers(json!({ "jar": jar }));
        let wrong = sheet(&ask(&build, &pieces, &bag, &own), &home(1.0), catalogue()).unwrap_err();
        assert_eq!(wrong[0].field, field);
    }
    // A measured dose is weighed, not looked at.
    let measured = crate::testing::build("belly-slab").unwrap();
    let wrong = sheet(&ask(measured, &pieces, &[], &own), &home(1.0), catalogue()).unwrap_err();
    assert_eq!(wrong[0].field, "own.jar");
}

fn doses(ask: &WeighOut<'_>, sheet: &Sheet, home: &Household) -> Vec<(PieceId, crate::dose::Dose)> {
    let started = Started {
        vessel: Some(VesselId(1)),
        ..Started::default()
    };
    super::super::doses(sheet, ask, started, home, catalogue()).unwrap()
}

#[test]
fn poured_by_eye_each_got_what_its_pour_gave_it() {
    let build = build("back-smoked").unwrap();
    let pieces = [
        piece(1, 3_000.0, 60.0),
        piece(2, 1_500.0, 60.0),
        piece(3, 750.0, 60.0),
    ];
    let own = own_numbers(json!({"water_g": 2_000.0}));
    let by_weight = [laid(&[1], None), laid(&[2], None), laid(&[3], None)];
    let right = sheet(
        &ask(build, &pieces, &by_weight, &own),
        &home(0.1),
        catalogue(),
    )
    .unwrap();
    let equal = [
        laid(&[1], Some(1.0)),
        laid(&[2], Some(1.0)),
        laid(&[3], Some(1.0)),
    ];
    let got = sheet(&ask(build, &pieces, &equal, &own), &home(0.1), catalogue()).unwrap();
    let brine: f64 = got.lines.iter().map(|l| l.shown_g).sum();
    let cure = got
        .lines
        .iter()
        .find(|l| l.name == "cure #1")
        .unwrap()
        .shown_g;
    for (part, meat) in got.pieces.iter().zip([3_000.0, 1_500.0, 750.0]) {
        let want = cure / 3.0 * 0.0625 / (meat + brine / 3.0) * 1e6;
        assert!(
            (part.nitrite.nominal - want).abs() < 1e-3,
            "{} not {want}",
            part.nitrite.nominal
        );
    }
    assert!(got.findings.iter().any(|f| f.code == Code::PouredByEye));
    // The least meat got the most: it is judged by itself.
    assert!(got.pieces[2].nitrite.nominal > right.pieces[2].nitrite.nominal * 1.2);
    assert!(got.pieces[0].nitrite.nominal < right.pieces[0].nitrite.nominal);
    // Nothing is lost or made by splitting.
    for asked in [&by_weight, &equal] {
        let ask = ask(build, &pieces, asked, &own);
        let made = sheet(&ask, &home(0.1), catalogue()).unwrap();
        for (n, line) in made.lines.iter().enumerate() {
            let sum: Milligrams = doses(&ask, &made, &home(0.1))
                .iter()
                .map(|(_, d)| d.lines[n].mass.value)
                .sum();
            assert_eq!(sum, Milligrams::from_grams(line.shown_g), "{}", line.name);
        }
    }
    let some = [
        laid(&[1], Some(1.0)),
        laid(&[2], None),
        laid(&[3], Some(1.0)),
    ];
    let wrong = sheet(&ask(build, &pieces, &some, &own), &home(0.1), catalogue()).unwrap_err();
    assert_eq!(wrong[0].field, "vessels");
    let twice = [laid(&[1, 2], None), laid(&[2, 3], None)];
    let wrong = sheet(&ask(build, &pieces, &twice, &own), &home(0.1), catalogue()).unwrap_err();
    assert_eq!(wrong[0].field, "vessels[1].pieces");
    let much = Laid {
        poured: Some(Poured::Mass(Grams(9_000.0))),
        ..laid(&[1, 2, 3], None)
    };
    let wrong = sheet(&ask(build, &pieces, &[much], &own), &home(0.1), catalogue()).unwrap_err();
    assert_eq!(wrong[0].field, "vessels");
}

#[test]
fn a_dose_of_one_bag_is_checked_on_all_that_lies_in_it() {
    let build = build("breast-peppered").unwrap();
    // Alone, 250 g of meat are too little for a gram scale; six of them together are not.
    let pieces: Vec<_> = (1..=6).map(|i| piece(i, 250.0, 30.0)).collect();
    let own = OwnDose::default();
    let alone = sheet(&ask(build, &pieces, &[], &own), &home(1.0), catalogue()).unwrap();
    assert!(alone.all_findings().any(|f| f.code == Code::BandTooWide));
    let bag = [laid(&[1, 2, 3, 4, 5, 6], None)];
    let got = sheet(&ask(build, &pieces, &bag, &own), &home(1.0), catalogue()).unwrap();
    assert!(
        !got.all_findings().any(|f| f.code == Code::BandTooWide),
        "{:?}",
        got.findings
    );
    // 1.5 kg at 2.5 g/kg is 3.75 g, 4 on this scale
    let cure = got.vessels[0]
        .lines
        .iter()
        .find(|l| l.name == "cure #1")
        .unwrap();
    assert!((cure.shown_g - 4.0).abs() < 1e-9);
    assert_eq!(got.vessels.len(), 1);
    let sure = alone.pieces[0].sureness.as_ref().unwrap();
    assert_eq!(sure.better, Some(crate::cure::batch::Better::FromMix));
    assert!(sure.finer.high - sure.finer.low < sure.alone.high - sure.alone.low);
    assert!(
        sure.words.contains("one mix is surer") && sure.words.contains("0.1 g scale"),
        "{}",
        sure.words
    );
}

#[test]
fn one_mix_over_several_products_is_judged_by_each_ones_class() {
    let own = OwnDose::default();
    let loin = build("back-smoked").unwrap().in_way("rubbed").unwrap();
    let mut jowl = piece(2, 900.0, 30.0);
    let jowl_build = build("jowl-smoked").unwrap().clone();
    jowl.made = Some(std::sync::Arc::new(jowl_build));
    let pieces = [piece(1, 2_000.0, 60.0), jowl];
    let got = sheet(
        &WeighOut {
            mixed: true,
            ..ask(&loin, &pieces, &[], &own)
        },
        &home(0.1),
        catalogue(),
    )
    .unwrap();
    // cooked: 625 in the law, fried: 200
    assert!(got.pieces[0].ceiling_ppm > 600.0 && (got.pieces[1].ceiling_ppm - 200.0).abs() < 1e-9);
    assert!(
        got.pieces[0].days > got.pieces[1].days,
        "each by its own thickness"
    );
}

#[test]
fn the_households_own_cap_is_the_ceiling() {
    let mut capped = home(0.1);
    capped.cap_ppm = Some(130.0);
    let pieces = [piece(1, 2_000.0, 40.0)];
    let own = OwnDose::default();
    let got = sheet(
        &ask(build("belly-slab").unwrap(), &pieces, &[], &own),
        &capped,
        catalogue(),
    )
    .unwrap();
    assert!(
        got.pieces[0].nitrite.nominal <= 130.0 && !got.needs_reason,
        "{:?}",
        got.pieces[0]
    );
    let typed = own_numbers(json!({"cure_g_per_kg": 2.5}));
    let over = sheet(
        &ask(build("belly-slab").unwrap(), &pieces, &[], &typed),
        &capped,
        catalogue(),
    )
    .unwrap();
    assert!(over.needs_reason);
    let said = over
        .all_findings()
        .find(|f| f.code == Code::NitriteOverLimit)
        .unwrap();
    assert!(
        said.message.contains("your own cap of 130 ppm"),
        "{}",
        said.message
    );
}

#[test]
fn the_wrong_jar_says_what_it_would_have_done() {
    let pieces = [piece(1, 2_000.0, 40.0)];
    let got = made("belly-slab", &pieces, false, &OwnDose::default());
    let of = |name: &str| got.wrong_jars.iter().find(|j| j.name == name).unwrap();
    assert!((of("pre-blended cure").times - 0.08).abs() < 1e-12);
    assert!((of("0.6 % nitrite salt").nitrite_ppm - 15.0).abs() < 0.1);
    let blend = build("backstrap-label").unwrap();
    let got = sheet(&WeighOut::of(blend, &pieces), &home(0.1), catalogue()).unwrap();
    let cure1 = got.wrong_jars.iter().find(|j| j.name == "cure #1").unwrap();
    assert!((cure1.times - 12.5).abs() < 1e-12);
}

#[test]
fn what_speeds_the_cure_up_has_its_cap_and_its_purity() {
    let pieces = [piece(1, 2_000.0, 40.0)];
    let codes = |key: &str, way: Option<&str>, own: serde_json::Value| -> Vec<Code> {
        let own = own_numbers(own);
        let build = way.map_or_else(|| build(key).unwrap().clone(), |w| in_way(key, w));
        let got = sheet(&ask(&build, &pieces, &[], &own), &home(0.1), catalogue()).unwrap();
        got.findings.iter().map(|f| f.code).collect()
    };
    let add = |name: &str, g: f64| json!({"additions": [{"name": name, "amount": g}]});
    let has = |codes: &[Code], code: Code| codes.contains(&code);
    let usual = codes("belly-slab", None, add("sodium erythorbate", 0.55));
    assert!(!has(&usual, Code::AcceleratorOverCap) && has(&usual, Code::AcceleratorWithNitrite));
    // 7/8 oz to 100 lb is 547 ppm; 0.56 g/kg is 560
    assert!(has(
        &codes("belly-slab", None, add("sodium erythorbate", 0.56)),
        Code::AcceleratorOverCap
    ));
    assert!(has(
        &codes("belly-slab", None, add("ascorbic acid", 0.48)),
        Code::AcceleratorOverCap
    ));
    assert!(!has(
        &codes("belly-slab", None, add("ascorbic acid", 0.469)),
        Code::AcceleratorOverCap
    ));
    let blend = codes("belly-slab", None, add("cure accelerator", 3.0));
    assert!(has(&blend, Code::AcceleratorPurity) && has(&blend, Code::AcceleratorOverCap));
    let pure =
        json!({"additions": [{"name": "cure accelerator", "amount": 1.5, "purity": "30 %"}]});
    let told = codes("belly-slab", None, pure);
    assert!(!has(&told, Code::AcceleratorPurity) && !has(&told, Code::AcceleratorOverCap));
}

#[test]
fn a_curing_salt_among_the_spices_is_found_by_its_name() {
    let pieces = [piece(1, 2_000.0, 40.0)];
    for name in [
        "curing salt",
        "Pink curing salt",
        "celery powder",
        "CURE #1",
        "prague nitrite mix",
        "saltpeter",
        "celery salt",
    ] {
        let own = own_numbers(json!({"additions": [{"name": name, "amount": "25 g/kg"}]}));
        let wrong = sheet(
            &ask(build("belly-slab").unwrap(), &pieces, &[], &own),
            &home(0.1),
            catalogue(),
        )
        .unwrap_err();
        assert_eq!(wrong[0].code.as_deref(), Some("cure_as_spice"), "{name}");
        assert!(wrong[0].message.contains("label"), "{}", wrong[0].message);
    }
}

#[test]
fn days_are_said_with_their_reason_and_can_be_a_recipes() {
    let build = build("belly-slab").unwrap();
    let pieces = [piece(1, 2_000.0, 70.0)];
    let own = OwnDose::default();
    let with = |school: Option<&str>, time: &OwnTime| {
        let ask = WeighOut {
            school,
            time,
            ..ask(build, &pieces, &[], &own)
        };
        sheet(&ask, &home(0.1), catalogue())
            .unwrap()
            .pieces
            .remove(0)
    };
    let usual = OwnTime::default();
    let short = with(Some("days_per_inch_2_2"), &usual);
    // 2.76 in: 7.5 days
    assert_eq!(
        (short.days, short.days_by.as_str()),
        (Some(8), "days_per_inch_2_2")
    );
    assert!(
        short.days_why.contains("2 days an inch and 2 more")
            && short.days_why.contains("of the mean"),
        "{}",
        short.days_why
    );
    assert!(
        short
            .findings
            .iter()
            .any(|f| f.code == Code::MiddleLags && f.severity == Severity::Info)
    );
    let recipe = with(
        None,
        &OwnTime {
            days: Some(30),
            ..usual.clone()
        },
    );
    assert_eq!((recipe.days, recipe.days_by.as_str()), (Some(30), "recipe"));
    assert!(
        recipe.days_why.contains("the days of the recipe"),
        "{}",
        recipe.days_why
    );
    // Rolled and tied, the rub between the layers: counted flat, by its thicker zone.
    let zones = [30.0, 45.0].map(|mm| crate::units::Typed::unsaid(Millimetres(mm)));
    let flat = with(
        None,
        &OwnTime {
            zones: zones.into(),
            ..usual
        },
    );
    let thick = with(None, &OwnTime::default());
    assert!(flat.days < thick.days, "{:?} {:?}", flat.days, thick.days);
}

#[test]
fn switching_ways_there_and_back_changes_nothing() {
    let pieces = [piece(1, 2_000.0, 60.0)];
    let own = build("back-smoked").unwrap();
    let before = sheet(&WeighOut::of(own, &pieces), &home(0.1), catalogue()).unwrap();
    for (key, _) in own.choices() {
        let other = in_way("back-smoked", key);
        let got = sheet(
            &WeighOut {
                way: Some(key),
                ..WeighOut::of(&other, &pieces)
            },
            &home(0.1),
            catalogue(),
        )
        .unwrap();
        assert_ne!(got.lines, before.lines, "{key}");
        // Back by the dose's own word, or by its method alone.
        let back = other.dosed_by(None, own.method).unwrap();
        assert_eq!(back.method, own.method);
    }
    let again = sheet(&WeighOut::of(own, &pieces), &home(0.1), catalogue()).unwrap();
    assert_eq!(before, again);
    let all = ways(&WeighOut::of(own, &pieces), own, &home(0.1), catalogue());
    assert_eq!(all.len(), 1 + own.choices().count());
    assert!(all[0].chosen && all[0].way.is_none());
    let of = |key: &str| all.iter().find(|w| w.way.as_deref() == Some(key)).unwrap();
    assert!(of("pumped").days < all[0].days, "half the days");
    assert_eq!(
        (of("cover_brine").waits, of("rubbed").waits),
        (Waits::Deadline, Waits::Slack)
    );
}

#[test]
fn every_other_way_comes_out_without_a_stop_but_what_its_words_name() {
    let mut stopped = Vec::new();
    for own in &catalogue().builds {
        for (key, _) in own.choices() {
            let made = own.in_way(key).unwrap();
            let thick = made.cure.as_ref().unwrap().limit_thickness_mm.min(50.0);
            let mut one = piece(1, 2_500.0, thick);
            one.shape.skin_on = made.wants.skin == crate::builds::Wanted::On;
            let pieces = [one];
            let got = sheet(&WeighOut::of(&made, &pieces), &home(0.1), catalogue()).unwrap();
            if got.needs_reason {
                let codes: Vec<_> = got
                    .all_findings()
                    .filter(|f| f.severity == Severity::Stop)
                    .map(|f| f.code)
                    .collect();
                stopped.push(format!("{} {key}: {codes:?}", own.key));
            }
        }
    }
    // Of a brine by recipe nobody knows how much gets in: its floor is judged by the least that may.
    let floors = ["brisket-slab", "back-smoked", "ham-bucket"];
    let mut want: Vec<_> = floors
        .map(|key| format!("{key} cover_brine: [NitriteBelowFloor]"))
        .into();
    // And what hangs out of plain salt has no nitrite at all.
    let boxed = ["ham-aged", "breast-dried", "tenderloin-buried"];
    want.extend(boxed.map(|key| format!("{key} salt_box: [NoNitriteHazard]")));
    assert_eq!(stopped, want);
}

proptest! {
    #[test]
    fn splitting_over_vessels_never_changes_a_total(
        meats in proptest::collection::vec(150.0..4_000.0_f64, 2..7), cut in 1_usize..6, water in 500.0..6_000.0_f64,
    ) {
        let pieces: Vec<_> = meats.iter().enumerate().map(|(i, m)| piece(i as i64 + 1, *m, 50.0)).collect();
        let cut = cut.min(pieces.len() - 1);
        let ids: Vec<i64> = pieces.iter().map(|p| p.id.0).collect();
        let two = [laid(&ids[..cut], None), laid(&ids[cut..], None)];
        let own = own_numbers(json!({ "water_g": water }));
        let build = build("back-smoked").unwrap();
        let whole = sheet(&ask(build, &pieces, &[], &own), &home(0.1), catalogue()).unwrap();
        let asked = ask(build, &pieces, &two, &own);
        let split = sheet(&asked, &home(0.1), catalogue()).unwrap();
        prop_assert_eq!(&whole.lines, &split.lines);
        for (n, line) in split.lines.iter().enumerate() {
            let sum: Milligrams = doses(&asked, &split, &home(0.1)).iter().map(|(_, d)| d.lines[n].mass.value).sum();
            prop_assert_eq!(sum, Milligrams::from_grams(line.shown_g));
        }
    }
}

#[test]
fn every_sheet_as_text_reads_back_to_the_same_grams() {
    let catalogue = Catalogue::shipped();
    let home = home(0.1);
    let mut read = 0;
    for own in catalogue.builds.iter().filter(|b| b.dose.is_some()) {
        let ways = own.choices().map(|(k, _)| Some(k)).chain([None]);
        for way in ways {
            let build = way.map_or_else(|| (**own).clone(), |k| own.in_way(k).unwrap());
            let pieces = [piece(1, 1_843.0, 47.0)];
            let ask = WeighOut {
                way,
                ..WeighOut::of(&build, &pieces)
            };
            let Ok(made) = sheet(&ask, &home, &catalogue) else {
                continue;
            };
            let vessel = &made.vessels[0];
            let answer = recipe_check(
                &RecipeCheckAsk {
                    text: vessel.as_text.clone(),
                    rule_set: "us_home".into(),
                    ..RecipeCheckAsk::default()
                },
                &catalogue,
            )
            .unwrap();
            let at = format!("{} {way:?}:\n{}", own.key, vessel.as_text);
            assert!(
                (answer.meat_g.unwrap() - vessel.meat_g).abs() < 1e-3,
                "{at}"
            );
            for line in vessel.lines.iter().filter(|l| l.shown_g > 0.0) {
                let found = answer
                    .lines
                    .iter()
                    .filter(|l| l.mass_g.is_some_and(|g| (g - line.shown_g).abs() < 1e-3));
                let roles: Vec<_> = found.filter_map(|l| l.role).collect();
                assert!(roles.contains(&line.role), "{} in {at}", line.name);
            }
            read += 1;
        }
    }
    assert!(read > 30, "{read}");
}

/// What a way of a product cannot help: its packet, or what its maker left out, says so on purpose.
fn is_its_own_nature(way: DosingMethod, code: Code) -> bool {
    use Code::{
        ColourOnly, NitrateNotNeeded, NitrateOverLimit, NitriteBelowFloor, NitriteOverLimit,
        NoNitriteHazard,
    };
    match code {
        // A packet's rate is the packet's; a country that allows less is told so.
        NitrateNotNeeded | NitrateOverLimit | NitriteOverLimit => way == DosingMethod::LabelRate,
        // Salt alone.
        NoNitriteHazard => way == DosingMethod::SaltBox,
        // Nobody can say how much of a strong brine gets in.
        ColourOnly | NitriteBelowFloor => {
            matches!(way, DosingMethod::CoverBrine | DosingMethod::Injection)
        }
        _ => false,
    }
}

#[test]
fn what_ships_weighs_clean_by_its_own_numbers_under_every_rule_set_and_scale() {
    let mut weighed = 0;
    for (set, scale) in ["us_home", "eu", "ca"]
        .into_iter()
        .flat_map(|set| [0.01, 0.1, 1.0].map(|scale| (set, scale)))
    {
        let home = Household {
            rule_set: set.into(),
            ..home(scale)
        };
        for own in &catalogue().builds {
            if own.dose.is_none() || own.method == DosingMethod::None {
                continue;
            }
            let ways = own.choices().map(|(key, _)| Some(key));
            for way in std::iter::once(None).chain(ways) {
                let made = way.map_or_else(|| Some((**own).clone()), |way| own.in_way(way));
                let made = made.unwrap();
                for grams in [3_300.0, 5_000.0, 9_000.0] {
                    let mut one = piece(1, grams, 50.0);
                    one.shape.skin_on = made.wants.skin == crate::builds::Wanted::On;
                    one.shape.bone_in = made.wants.bone == crate::builds::Wanted::On;
                    let got = sheet(&WeighOut::of(&made, &[one]), &home, catalogue()).unwrap();
                    weighed += 1;
                    let asked: Vec<_> = got
                        .all_findings()
                        .filter(|f| f.severity > Severity::Info)
                        .filter(|f| !is_its_own_nature(made.method, f.code))
                        .collect();
                    assert!(
                        asked.is_empty(),
                        "{set} {scale} {} {way:?} {grams}: {asked:?}",
                        own.key
                    );
                }
            }
        }
    }
    assert!(weighed > 1_000, "{weighed}");
}

/// The grams that a stop advises, and those that it saw.
fn advised(sheet: &Sheet) -> Option<(f64, f64)> {
    let parts = sheet.pieces.iter().flat_map(|p| &p.findings);
    let all = sheet.findings.iter().chain(parts);
    let remedies = all
        .filter(|f| f.code == Code::NitriteOverLimit)
        .filter_map(|f| f.remedy.as_deref());
    let grams = |text: &str| text.split(' ').next().and_then(|g| g.parse::<f64>().ok());
    remedies
        .filter_map(|r| r.strip_prefix("Weigh ")?.split_once("not "))
        .find_map(|(right, was)| Some((grams(right)?, grams(was)?)))
}

proptest! {
    #[test]
    fn the_portions_of_a_bowl_are_the_bowl_and_give_the_nitrite_that_is_shown(
        meats in proptest::collection::vec(300.0..4_000.0_f64, 2..7), step in proptest::sample::select(vec![0.1, 1.0]), fast in any::<bool>(),
    ) {
        let pieces: Vec<SheetPiece> = meats.iter().enumerate().map(|(i, g)| piece(i as i64 + 1, g.round(), 40.0)).collect();
        let slab = build("belly-slab").unwrap();
        let build = if fast { in_way("belly-slab", "accelerator") } else { slab.clone() };
        let ask = WeighOut { mixed: true, ..WeighOut::of(&build, &pieces) };
        let got = sheet(&ask, &home(step), catalogue()).unwrap();
        let bowl: f64 = got.lines.iter().filter(|l| !l.apart).map(|l| l.shown_g).sum();
        let portions: f64 = got.pieces.iter().filter_map(|p| p.portion_g).sum();
        prop_assert!((portions - bowl).abs() < 1e-6, "{portions} of {bowl}");
        let of = |role: Role| got.lines.iter().find(|l| l.role == role);
        prop_assert_eq!(of(Role::Accelerator).map(|l| l.apart), fast.then_some(true));
        let cure = of(Role::CuringSalt).unwrap();
        for part in &got.pieces {
            // The portion as weighed, of the bowl as weighed.
            let entered = part.portion_g.unwrap() / bowl * cure.shown_g * got.cure_made_of.nitrite / part.meat_g * 1e6;
            prop_assert!((entered - part.nitrite.nominal).abs() < 1e-6, "{entered} is not {:?}", part.nitrite);
            let helper = part.lines.iter().find(|l| l.role == Role::Accelerator);
            let on_scale = |g: f64| (g / step - (g / step).round()).abs() < 1e-6;
            prop_assert!(helper.is_none_or(|l| on_scale(l.shown_g)), "weighed for it alone: {helper:?}");
        }
        let all: f64 = got.pieces.iter().flat_map(|p| &p.lines).map(|l| l.shown_g).sum();
        let shown: f64 = got.lines.iter().map(|l| l.shown_g).sum();
        prop_assert!((all - shown).abs() < 1e-6, "written {all}, shown {shown}");
    }
}

proptest! {
    #[test]
    fn the_grams_advised_for_a_batch_entered_keep_every_piece_of_it_within_its_limit(
        batch in proptest::collection::vec((400.0..4_000.0_f64, 20.0..110.0_f64), 1..6),
        cure_per_l in 15.0..80.0_f64,
        water in 0.5..2.0_f64,
        mixed in any::<bool>(),
    ) {
        let pieces: Vec<SheetPiece> = batch.iter().enumerate().map(|(i, (g, mm))| piece(i as i64 + 1, *g, *mm)).collect();
        let brine = in_way("back-smoked", "cover_brine");
        let rubbed = in_way("back-smoked", "rubbed");
        let said = |cure: f64| {
            let (build, own) = if mixed {
                (&rubbed, json!({"cure_g_per_kg": cure / 5.0}))
            } else {
                (&brine, json!({"cure_per_l": cure, "water_per_meat": water}))
            };
            let own = own_numbers(own);
            let ask = WeighOut { mixed, own: &own, ..WeighOut::of(build, &pieces) };
            sheet(&ask, &home(0.1), catalogue())
        };
        let Ok(first) = said(cure_per_l) else { return Ok(()) };
        let Some((right, was)) = advised(&first) else { return Ok(()) };
        let weighed: f64 = first.pieces.iter().flat_map(|p| &p.lines).filter(|l| l.role == Role::CuringSalt).map(|l| l.exact_g).sum();
        prop_assert!((weighed - was).abs() < 0.06, "{was} was said of {weighed}");
        let Ok(second) = said(cure_per_l * right / weighed) else { return Ok(()) };
        let most = second.pieces.iter().map(PieceSheet::most_ppm).fold(0.0, f64::max);
        let ceiling = second.pieces[0].ceiling_ppm;
        // As near as a step of the scale over all of the meat; weighed for each piece, as near as a step over the smallest.
        let smallest = batch.iter().map(|(g, _)| *g).fold(f64::MAX, f64::min);
        let each = if mixed { 0.1 * 62_500.0 / smallest } else { 0.0 };
        let step = most / right * 0.1 + each;
        prop_assert!(most <= ceiling + step && most >= ceiling - 2.0 * step, "{right} g for {was} g: {most} of {ceiling}");
    }
}

#[test]
fn salt_for_a_dish_fills_it_around_the_meat() {
    let build = in_way("tenderloin-buried", "salt_box");
    let pieces = [piece(1, 1_050.0, 40.0)];
    let own = own_numbers(json!({}));
    let dish = |sides: [&str; 3], kind: Option<&str>| {
        let asked = VesselAsk {
            pieces: vec![PieceId(1)],
            inside: Some(DishAsk {
                length: sides[0].into(),
                width: sides[1].into(),
                height: sides[2].into(),
                salt_kind: kind.map(str::to_string),
            }),
            ..VesselAsk::default()
        };
        asked.read("vessels[0]", crate::units::Units::METRIC)
    };
    let made = |sides: [&str; 3], kind: Option<&str>| {
        let laid = [dish(sides, kind).unwrap()];
        sheet(&ask(&build, &pieces, &laid, &own), &home(0.1), catalogue())
    };
    let buried = |got: &Sheet| got.all_findings().all(|f| f.code != Code::NotBuried);
    // 30 × 20 × 6 cm are 3.6 l, a kilogram of meat is one; fine salt is 6 g the teaspoon of 4.93 ml.
    let fine = made(["30 cm", "20 cm", "6 cm"], None).unwrap();
    assert!(
        (line(&fine, "salt") - 3_160.0).abs() < 1e-6,
        "{}",
        line(&fine, "salt")
    );
    assert!(buried(&fine));
    // Coarse salt, 5 g the teaspoon.
    let coarse = made(["30 cm", "20 cm", "6 cm"], Some("coarse_sea_salt")).unwrap();
    assert!(
        (line(&coarse, "salt") - 2_640.0).abs() < 1e-6,
        "{}",
        line(&coarse, "salt")
    );
    // Too low for 40 mm of meat, and too small for it.
    assert!(!buried(&made(["30 cm", "20 cm", "5 cm"], None).unwrap()));
    assert!(
        made(["10 cm", "10 cm", "9 cm"], None).unwrap_err()[0]
            .message
            .contains("the meat alone takes")
    );
    assert!(made(["30 cm", "20 cm", "6 cm"], Some("snow")).is_err());
    for (sides, field) in [
        (["30 cm", "", "6 cm"], "vessels[0].inside.width"),
        (["30 cm", "20 cm", "tall"], "vessels[0].inside.height"),
        (["3 mm", "20 cm", "6 cm"], "vessels[0].inside.length"),
    ] {
        assert_eq!(dish(sides, None).unwrap_err().field, field);
    }
    assert_eq!(dish(["", " ", ""], None).unwrap().dish, None);
}

#[test]
fn what_is_counted_stays_a_count_and_what_goes_on_last_is_not_in_the_bowl() {
    let build = build("belly-slab").unwrap();
    let pieces = [piece(1, 1_000.0, 40.0), piece(2, 3_000.0, 40.0)];
    let own: OwnDose = serde_json::from_value(json!({"additions": [
        {"name": "juniper", "amount": "24 berries"},
        {"name": "black pepper", "amount": "4 g/kg", "last": true},
    ]}))
    .unwrap();
    let asked = WeighOut {
        mixed: true,
        ..ask(build, &pieces, &[], &own)
    };
    let got = sheet(&asked, &home(0.1), catalogue()).unwrap();
    let of = |name: &str| got.lines.iter().find(|l| l.name == name).unwrap();
    assert_eq!(
        of("juniper").counted.as_deref(),
        Some("24 pieces, 1.9 to 3.6 g")
    );
    assert!((of("juniper").shown_g - 2.76).abs() < 1e-9);
    assert!(of("black pepper").apart && !of("juniper").apart);
    let bowl: f64 = got
        .lines
        .iter()
        .filter(|l| !l.apart)
        .map(|l| l.shown_g)
        .sum();
    assert!((got.total_g - bowl).abs() < 1e-9);
    let each: Vec<f64> = got
        .pieces
        .iter()
        .map(|p| p.lines.iter().find(|l| l.apart).unwrap().shown_g)
        .collect();
    assert_eq!(each, [4.0, 12.0]);
    // No cure and no salt is counted.
    for name in ["cure #1", "salt"] {
        let own: OwnDose =
            serde_json::from_value(json!({"additions": [{"name": name, "amount": "3 pinches"}]}))
                .unwrap();
        assert!(
            sheet(&ask(build, &pieces, &[], &own), &home(0.1), catalogue()).is_err(),
            "{name}"
        );
    }
}

#[test]
fn air_is_kept_out_as_it_was_said_else_by_the_name_of_what_it_lies_in() {
    use crate::dose::Closed;
    let rows = [
        (None, Some("vacuum bag"), Some("vacuum bag")),
        (None, Some("white bucket"), None),
        (None, None, None),
        (Some(Closed::Open), Some("vacuum bag"), None),
        (Some(Closed::HeldDown), None, None),
        (Some(Closed::Sealed), None, Some("sealed")),
        (
            Some(Closed::SealedWithAir),
            Some("blue bag"),
            Some("blue bag"),
        ),
    ];
    for (closed, name, airless) in rows {
        let laid = Laid {
            closed,
            name: name.map(str::to_string),
            ..laid(&[1], None)
        };
        assert_eq!(laid.without_air(), airless, "{closed:?} {name:?}");
        let build = crate::testing::build("belly-slab-plain").unwrap();
        let pieces = [piece(1, 1_000.0, 30.0)];
        let own = own_numbers(json!({}));
        let got = sheet(
            &ask(build, &pieces, std::slice::from_ref(&laid), &own),
            &home(0.1),
            catalogue(),
        )
        .unwrap();
        let hazard = got.all_findings().any(|f| f.code == Code::NoNitriteHazard);
        assert_eq!(hazard, airless.is_some(), "{closed:?} {name:?}");
    }
}
