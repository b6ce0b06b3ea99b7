//! The sheet for bellies and loins of which everything is known by hand.

use super::*;
use crate::caution::Code;
use crate::shape::Shape;
use crate::testing::{build, catalogue};
use crate::units::{Grams, Milligrams, Millimetres};
use serde_json::json;

fn piece(id: i64, meat_g: f64, mm: f64) -> SheetPiece {
    SheetPiece {
        id: PieceId(id),
        tag: format!("HG1-{id}"),
        meat: Grams(meat_g),
        shape: Shape::thick(Millimetres(mm)),
        made: None,
        unground: false,
        fat: None,
    }
}

/// What was typed to change a dose, as a request spells it.
fn own_numbers(own: serde_json::Value) -> OwnDose {
    serde_json::from_value(own).unwrap()
}

fn home(fine: f64) -> Household {
    let mut home = Household::default();
    home.scales.fine_division_g = fine;
    home
}

fn made(build_key: &str, pieces: &[SheetPiece], mixed: bool, own: &OwnDose) -> Sheet {
    sheet(
        &WeighOut {
            mixed,
            own,
            ..WeighOut::of(build(build_key).unwrap(), pieces)
        },
        &home(0.1),
        catalogue(),
    )
    .unwrap()
}

#[test]
fn a_belly_is_weighed_out_by_its_own_weight() {
    let got = made(
        "belly-slab",
        &[piece(1, 2_000.0, 40.0)],
        false,
        &OwnDose::default(),
    );
    let lines: Vec<_> = got
        .lines
        .iter()
        .map(|l| (l.name.as_str(), l.shown_g))
        .collect();
    // 2 kg at 2.5, 23, 12 and 3 g/kg; the cure's 5 g bring 4.69 g of salt
    assert_eq!(lines.len(), 4);
    for ((name, shown), (want, grams)) in lines.iter().zip([
        ("cure #1", 5.0),
        ("salt", 41.3),
        ("sugar", 24.0),
        ("black pepper", 6.0),
    ]) {
        assert!(
            *name == want && (shown - grams).abs() < 1e-9,
            "{name} {shown}"
        );
    }
    assert_eq!(got.pieces[0].days, Some(8));
    assert!(!got.needs_reason && !got.refused);
    assert_eq!(got.lines[0].made_of, "2 kg × 2.5 g/kg");
}

#[test]
fn doses_of_one_brine_sum_to_what_was_poured() {
    let pieces = [
        piece(1, 2_011.0, 60.0),
        piece(2, 1_433.0, 55.0),
        piece(3, 998.0, 50.0),
    ];
    let got = made("back-smoked", &pieces, false, &OwnDose::default());
    assert!(got.mixed);
    let ask = WeighOut::of(build("back-smoked").unwrap(), &pieces);
    let doses = doses(&got, &ask, Started::default(), &home(0.1), catalogue()).unwrap();
    for (i, line) in got.lines.iter().enumerate() {
        let poured: Milligrams = doses.iter().map(|(_, d)| d.lines[i].mass.value).sum();
        assert_eq!(
            poured,
            Milligrams::from_grams(line.shown_g),
            "{}",
            line.name
        );
    }
    assert_eq!(doses[0].1.mixed_with, [PieceId(2), PieceId(3)]);
    assert!((got.pieces[0].nitrite.nominal - 130.0).abs() < 3.0);
}

#[test]
fn one_mix_for_several_pieces_gives_each_its_portion() {
    let pieces = [piece(1, 1_000.0, 40.0), piece(2, 3_000.0, 40.0)];
    let got = made("belly-slab", &pieces, true, &OwnDose::default());
    let (a, b) = (
        got.pieces[0].portion_g.unwrap(),
        got.pieces[1].portion_g.unwrap(),
    );
    assert!(
        (a + b - got.total_g).abs() < 1e-9,
        "the bowl: {a} {b} of {}",
        got.total_g
    );
    assert!((a - got.total_g / 4.0).abs() <= 0.1, "{a} {b}");
    let got_cure: f64 = got.pieces.iter().map(|p| p.lines[0].shown_g).sum();
    assert!((got_cure - got.lines[0].shown_g).abs() < 0.02);
}

#[test]
fn too_much_needs_a_reason_and_some_doses_are_refused() {
    let own = |cure: Option<&str>, rate: f64| OwnDose {
        cure: cure.map(|key| CureAsk::Named(key.into())),
        ..own_numbers(json!({"cure_g_per_kg": rate}))
    };
    let pieces = [piece(1, 2_000.0, 40.0)];
    #[rustfmt::skip]
    let cases = [
        ("usual",           own(None, 2.5),           false, false),
        ("over the limit",  own(None, 3.5),           true,  false),
        ("poison",          own(None, 9.0),           true,  true),
        ("nitrate, fried",  own(Some("cure2"), 2.5),  true,  false),
        ("scale too coarse", own(None, 0.01),         true,  true),
        ("no cure",         own(Some("none"), 0.0),   true,  false),
    ];
    for (why, own, reason, refused) in cases {
        let got = made("belly-slab", &pieces, false, &own);
        assert_eq!((got.needs_reason, got.refused), (reason, refused), "{why}");
    }
    let mut bare = piece(1, 2_000.0, 40.0);
    bare.shape.thickness = None;
    assert!(made("belly-slab", &[bare], false, &OwnDose::default()).refused);
}

#[test]
fn pieces_of_unlike_thickness_are_pointed_out() {
    let pieces = [piece(1, 2_000.0, 40.0), piece(2, 2_000.0, 60.0)];
    let got = made("back-smoked", &pieces, false, &OwnDose::default());
    assert_eq!(got.findings[0].code, Code::UnevenThickness);
}

#[test]
fn every_builds_own_dose_can_be_weighed_out() {
    let mut wants_a_reason = Vec::new();
    for build in catalogue().builds.iter().filter(|b| b.dose.is_some()) {
        let limit = build.cure.as_ref().unwrap().limit_thickness_mm;
        let mut one = piece(1, 2_000.0, limit.min(40.0));
        one.shape.skin_on = build.wants.skin == crate::builds::Wanted::On;
        let got = made(&build.key, &[one], false, &OwnDose::default());
        assert!(!got.refused, "{}: {:?}", build.key, got.findings);
        if got.needs_reason {
            wants_a_reason.push(build.key.as_str());
        }
        let total: f64 = got.lines.iter().map(|l| l.exact_g).sum();
        assert!(
            total > 30.0 && got.pieces[0].days.is_some(),
            "{}",
            build.key
        );
    }
    // Household practice that goes on only with a typed reason; none of the own doses is one.
    assert_eq!(wants_a_reason, [] as [&str; 0]);
}

#[test]
fn the_salt_of_a_sauce_counts_in_the_total() {
    // 25 g/kg in all, less 16 % of 30 g of soy and the cure's own 93.75 %: for 2 kg
    let got = made(
        "strips-dried",
        &[piece(1, 2_000.0, 35.0)],
        false,
        &OwnDose::default(),
    );
    let salt = got.lines.iter().find(|l| l.name == "salt").unwrap();
    let want = 2.0 * (25.0 - 30.0 * 0.16 - 2.5 * 0.9375);
    assert!(
        (salt.exact_g - want).abs() < 1e-9,
        "{} not {want}",
        salt.exact_g
    );
    assert!(
        salt.made_of.ends_with("and 9.6 g in the sauces"),
        "{}",
        salt.made_of
    );
}

#[test]
fn a_brine_that_no_tub_holds_is_noticed() {
    let mut small = home(0.1);
    small.equipment = Some(crate::place::equipment::Equipment {
        places: vec![crate::place::Place::new("tub", "bucket", 2, 6.0)],
        ..crate::place::equipment::Equipment::default()
    });
    let build = build("back-smoked").unwrap();
    let found = |grams| {
        let pieces = [piece(1, grams, 60.0)];
        let got = sheet(
            &WeighOut {
                mixed: false,
                own: &OwnDose::default(),
                ..WeighOut::of(build, &pieces)
            },
            &small,
            catalogue(),
        )
        .unwrap();
        got.findings.iter().any(|f| f.code == Code::VesselTooSmall)
    };
    // 4 kg of meat and 2.4 l of brine are 6.2 l; half of it goes in.
    assert!(found(4_000.0) && !found(2_000.0));
}

#[test]
fn no_nitrite_lies_a_week_at_most_and_a_mix_just_a_night() {
    let days = |key: &str, mm: f64| {
        let got = made(key, &[piece(1, 2_000.0, mm)], false, &OwnDose::default());
        (got.pieces[0].days, got.pieces[0].days_by.clone())
    };
    assert_eq!(days("belly-slab-plain", 45.0), (Some(7), "build".into()));
    assert_eq!(days("formed-loaf", 60.0), (Some(1), "build".into()));
}

#[test]
fn a_curing_salt_that_nobody_gave_an_amount_of_is_asked_for_and_not_left_out() {
    let pieces = [piece(1, 2_000.0, 40.0)];
    let with = |own: serde_json::Value| {
        let own = own_numbers(own);
        let ask = WeighOut {
            own: &own,
            ..WeighOut::of(build("belly-slab-plain").unwrap(), &pieces)
        };
        sheet(&ask, &home(0.1), catalogue())
    };
    let refused = with(serde_json::json!({"cure": "cure1"})).unwrap_err();
    assert_eq!(refused[0].field, "own.cure_g_per_kg");
    let got = with(serde_json::json!({"cure": "cure1", "cure_g_per_kg": "2 g/kg"})).unwrap();
    assert!(
        got.lines
            .iter()
            .any(|l| l.name == "cure #1" && (l.shown_g - 4.0).abs() < 1e-9)
    );
    let without = with(serde_json::json!({})).unwrap();
    assert!(without.lines.iter().all(|l| l.role != Role::CuringSalt));
}

#[test]
fn what_is_typed_for_a_dose_is_read_or_refused_at_its_field() {
    let imperial = Household {
        units: crate::units::Units::IMPERIAL,
        ..home(0.1)
    };
    let line = |key: &str, own: serde_json::Value, name: &str| {
        let pieces = [piece(1, 2_000.0, 40.0)];
        let own = own_numbers(own);
        sheet(
            &WeighOut {
                mixed: false,
                own: &own,
                ..WeighOut::of(build(key).unwrap(), &pieces)
            },
            &imperial,
            catalogue(),
        )
        .map(|got| {
            let found = got.lines.iter().find(|l| l.name == name);
            found.map_or(0.0, |l| l.shown_g)
        })
        .map_err(|e| format!("{}: {}", e[0].field, e[0].message))
    };
    #[rustfmt::skip]
    let fine = [
        ("belly-slab", json!({"cure_g_per_kg": "2,5"}), "cure #1", 5.0),
        ("belly-slab", json!({"cure_g_per_kg": "0.3 %"}), "cure #1", 6.0),
        // ppm of curing salt are ppm of the nitrite it brings
        ("belly-slab", json!({"cure_g_per_kg": "150 ppm"}), "cure #1", 4.8),
        ("belly-slab", json!({"cure_g_per_kg": "150 ppm", "cure": "nitrite_salt_06", "salt_g_per_kg": 30}), "0.6 % nitrite salt", 50.0),
        ("belly-slab", json!({"cure_g_per_kg": "4 oz per 100 lb"}), "cure #1", 5.0),
        ("belly-slab", json!({"cure_g_per_kg": 2.5, "salt_g_per_kg": null}), "cure #1", 5.0),
        ("belly-slab", json!({"cure_g_per_kg": ""}), "cure #1", 5.0),
        ("belly-slab", json!({"additions": [{"name": "sugar", "amount": "20 g/kg"}]}), "sugar", 40.0),
        ("belly-slab", json!({"additions": [{"name": "sugar", "amount": null}]}), "sugar", 0.0),
        ("belly-slab", json!({"additions": [{"name": "juniper", "amount": 1.5}]}), "juniper", 3.0),
        // a tablespoon of 12.6 g on a pound, for 2 kg
        ("belly-slab", json!({"additions": [{"name": "sugar", "amount": "1 tbsp/lb"}]}), "sugar", 55.6),
        ("back-smoked", json!({"salt_fraction": "0.5", "water_g": "1 qt"}), "water", 946.352_946),
        // a tablespoon of fine salt weighs 18 g, of the flaked one 8.7: on a pound, for 2 kg
        ("belly-slab", json!({"salt_g_per_kg": "1 tbsp/lb", "cure": "none"}), "salt", 79.4),
        ("belly-slab", json!({"salt_g_per_kg": "1 tbsp/lb", "cure": "none", "salt_kind": "kosher_salt_flaked"}), "salt", 38.4),
        ("back-smoked", json!({"additions": [{"name": "bay leaf", "amount": "1 g/kg"}]}), "bay leaf", 2.0),
    ];
    for (key, own, name, want) in fine {
        let got = line(key, own.clone(), name).unwrap();
        assert!((got - want).abs() < 1e-9, "{own}: {got}, want {want}");
    }
    #[rustfmt::skip]
    let wrong = [
        ("belly-slab", json!({"cure_g_per_kg": "2.5 g"}), "own.cure_g_per_kg: “2.5 g” does not say on how much meat."),
        ("belly-slab", json!({"cure_g_per_kg": "a pinch"}), "own.cure_g_per_kg: “a pinch” cannot be read as a number."),
        ("belly-slab", json!({"cure_g_per_kg": 1e308}), "own.cure_g_per_kg: Give a number from 0 g/kg to 1,000 g/kg."),
        ("belly-slab", json!({"salt_g_per_kg": "1"}), "own.salt_g_per_kg: The cure alone brings"),
        ("belly-slab", json!({"nitrite_ppm": 120}), "own.nitrite_ppm: This product is not dosed by “nitrite_ppm”. Use one of cure_g_per_kg, salt_g_per_kg."),
        ("belly-slab", json!({"additions": [{"name": "", "amount": 1}]}), "own.additions[0].name: Name what goes in"),
        ("belly-slab", json!({"additions": [{"name": "cure #2", "amount": 1}]}), "own.additions[0].name: cure #2 is a curing salt."),
        ("belly-slab", json!({"additions": [{"name": "salt", "amount": 1}]}), "own.additions[0].name: Salt has a field of its own"),
        ("belly-slab", json!({"additions": [{"name": "juniper", "amount": "1 tsp/lb"}]}), "own.additions[0].amount: Nobody here has weighed a spoon of juniper."),
        ("belly-slab", json!({"salt_g_per_kg": "1 tbsp/lb", "salt_kind": "road_salt"}), "own.salt_kind: “road_salt” is no salt known here. Use one of table_salt,"),
        ("back-smoked", json!({"salt_fraction": "a lot"}), "own.salt_fraction: “a lot” cannot be read as a number."),
        ("back-smoked", json!({"water_g": "a bucket"}), "own.water_g: “a” is not a unit of water."),
        ("back-smoked", json!({"cure": "pink"}), "own.cure: “pink” is not a cure known here"),
    ];
    for (key, own, want) in wrong {
        let said = line(key, own.clone(), "").unwrap_err();
        assert!(said.starts_with(want), "{own}: {said}");
    }
}

#[test]
fn a_blend_is_weighed_by_its_label_and_nothing_else_cures() {
    let pieces = [piece(1, 1_000.0, 40.0), piece(2, 2_000.0, 50.0)];
    let own = own_numbers(
        json!({"dose_g_per_kg": "1 tbsp/lb", "blend_nitrite": "0.6", "blend_nitrate": "0.4"}),
    );
    let imperial = Household {
        units: crate::units::Units::IMPERIAL,
        ..home(0.1)
    };
    let build = build("backstrap-label").unwrap();
    let got = sheet(
        &WeighOut {
            mixed: true,
            own: &own,
            ..WeighOut::of(build, &pieces)
        },
        &imperial,
        catalogue(),
    )
    .unwrap();
    // three level teaspoons of 5.2 g on 453.59 g
    assert!(!got.mixed && (got.pieces[0].lines[0].shown_g - 34.4).abs() < 1e-9);
    assert!((got.pieces[1].lines[0].shown_g - 68.8).abs() < 1e-9);
    let curing: Vec<_> = got
        .lines
        .iter()
        .filter(|l| l.role == Role::CuringSalt)
        .collect();
    assert_eq!(curing.len(), 1);
    assert!(got.lines.iter().all(|l| l.role != Role::Salt));
    assert!((got.pieces[0].nitrite.nominal - 34.4 * 0.006 * 1_000.0).abs() < 1e-9);
    assert_eq!(
        (got.cure.as_str(), got.cure_name.as_str()),
        ("own", "pre-blended cure")
    );
    assert!(got.findings.iter().any(|f| f.code == Code::BySpoon));
    let ask = WeighOut::of(build, &pieces);
    let doses = doses(&got, &ask, Started::default(), &imperial, catalogue()).unwrap();
    let dose = &doses[0].1;
    assert_eq!(dose.method, DosingMethod::LabelRate);
    assert_eq!(dose.cure.made_of.nitrite, 0.006);
    let said: Vec<_> = dose
        .own
        .iter()
        .map(|o| (o.label.as_str(), o.said.as_str()))
        .collect();
    assert_eq!(
        said,
        [
            ("Nitrate in the blend", "0.4"),
            ("Nitrite in the blend", "0.6"),
            ("The label's dose", "1 tbsp/lb")
        ]
    );
}

/// The lightest meat from which a build's own dose comes out clean, by rule set and scale.
fn clean_from(build: &Build, rule_set: &str, fine: f64) -> f64 {
    let ground = build.is_ground();
    match (fine < 0.5, build.method.in_brine()) {
        (true, _) => 500.0,
        // of meat and water
        (false, true) => {
            3_200.0
                / (1.0
                    + build
                        .method
                        .dosing()
                        .water_per_meat(build.dose.as_ref().unwrap()))
        }
        (false, false) if rule_set == "us_home" => {
            if ground {
                1_600.0
            } else {
                1_000.0
            }
        }
        (false, false) => 2_600.0,
    }
}

#[test]
fn default_builds_come_out_clean_under_every_rule_set_from_a_scales_own_weight() {
    let mut wrong = Vec::new();
    for rules in &catalogue().rules {
        for fine in [0.1, 1.0] {
            for build in catalogue().builds.iter().filter(|b| b.dose.is_some()) {
                // Nitrate in what is cooked soon is against some rules, whatever the scale shows.
                let cure = crate::testing::cure(&build.dose.as_ref().unwrap().cure);
                let limit = rules.limit(build.class, build.law(), false).unwrap();
                if cure.made_of.nitrate > 0.0 && limit.nitrate_ppm <= 0.0 {
                    continue;
                }
                let mut home = home(fine);
                home.rule_set = rules.key.clone();
                let from = clean_from(build, &rules.key, fine);
                for step in 0..60 {
                    let meat = (from + f64::from(step) * 37.0).ceil();
                    let lies = piece(1, meat, 40.0);
                    let got = sheet(
                        &WeighOut {
                            mixed: false,
                            own: &OwnDose::default(),
                            ..WeighOut::of(build, &[lies])
                        },
                        &home,
                        catalogue(),
                    )
                    .unwrap();
                    let all = got.findings.iter().chain(&got.pieces[0].findings);
                    let loud: Vec<_> = all
                        .filter(|f| {
                            f.severity == Severity::Stop
                                || matches!(f.code, Code::SaltLow | Code::SaltHigh)
                        })
                        .map(|f| f.code)
                        .collect();
                    if !loud.is_empty() {
                        wrong.push(format!(
                            "{} {} {fine} g, {meat} g: {loud:?}",
                            rules.key, build.key
                        ));
                    }
                }
            }
        }
    }
    assert_eq!(wrong, Vec::<String>::new());
}

#[test]
fn what_is_too_coarse_or_too_much_says_what_is_possible_here() {
    let mut home = home(1.0);
    home.rule_set = "ca".into();
    let loaf = |grams: f64, own: serde_json::Value| {
        sheet(
            &WeighOut {
                own: &own_numbers(own),
                ..WeighOut::of(build("belly-slab").unwrap(), &[piece(1, grams, 40.0)])
            },
            &home,
            catalogue(),
        )
    };
    let coarse = loaf(1_300.0, json!({})).unwrap();
    let stop = |s: &Sheet| {
        let all = s
            .findings
            .iter()
            .chain(&s.pieces[0].findings)
            .cloned()
            .collect::<Vec<_>>();
        all.into_iter()
            .find(|f| f.severity == Severity::Stop)
            .unwrap()
    };
    let found = stop(&coarse);
    assert_eq!(found.code, Code::NitriteBelowFloor, "{found:?}");
    assert!(
        !format!("{found:?}").contains("one mix"),
        "there is one piece"
    );
    let over = stop(&loaf(3_000.0, json!({"cure_g_per_kg": 4.0})).unwrap());
    assert_eq!(over.remedy.as_deref(), Some("Weigh 5 g, not 12 g."));
    let salty = loaf(3_850.0, json!({"cure_g_per_kg": 25.0})).unwrap_err();
    assert_eq!(salty[0].field, "own.cure_g_per_kg");
    assert_eq!(
        salty[0].message,
        "25 g/kg of cure #1 is 1562 ppm of nitrite; 120 ppm are allowed: weigh 7.39 g, not 96.2 g."
    );
}

mod methods;
