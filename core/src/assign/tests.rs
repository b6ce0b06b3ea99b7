//! What suits what, over the whole catalogue and on single pieces.

use super::*;
use crate::shape::Shape;
use crate::testing::{build, catalogue, species};
use crate::units::{Celsius, Fraction, Millimetres, Units};

fn candidate(animal: &str, cut: &str) -> Candidate<'static> {
    let species = species(animal).unwrap();
    let cut = species.cut(cut).unwrap();
    Candidate {
        species,
        cut,
        wild: false,
        shape: Shape {
            skin_on: cut.skin_on,
            ..Shape::thick(Millimetres(40.0))
        },
        opened: false,
        fat: None,
        is_cut: true,
        equipment: None,
        holds: &[],
        units: Units::METRIC,
    }
}

#[test]
fn the_best_build_comes_first_and_the_unsuitable_last() {
    #[rustfmt::skip]
    let cases = [
        ("pig",    "belly",      "belly-slab"),
        ("pig",    "butt",       "shoulder-slab"),
        ("pig",    "loin",       "back-smoked"),
        ("elk",    "backstrap",  "back-smoked"),
        ("turkey", "breast",     "breast-peppered"),
        ("pig",    "neck_muscle", "muscle-cased"),
        ("deer",   "shank",      "formed-loaf"),
        ("rabbit", "saddle",     "fresh"),
        ("pig",    "loin_and_belly", "round-roll"),
        ("wild_boar", "belly",   "belly-thin"),
        ("beef",   "brisket",    "brisket-slab"),
        ("lamb",   "belly",      "lamb-roll"),
    ];
    for (animal, cut, best) in cases {
        let ranked = rank(&candidate(animal, cut), catalogue());
        assert_eq!(ranked[0].build, best, "{animal} {cut}");
        let first_no = ranked.iter().position(|s| s.score == 0).unwrap();
        assert!(ranked[first_no..].iter().all(|s| s.score == 0));
    }
}

#[test]
fn every_cut_of_every_species_has_a_reason_for_every_build() {
    for species in catalogue().species.iter() {
        for cut in &species.cuts {
            for found in rank(&candidate(&species.key, &cut.key), catalogue()) {
                assert!(
                    found.reasons.iter().all(|r| r.ends_with('.')),
                    "{} {}",
                    cut.key,
                    found.build
                );
                assert!(!found.reasons.is_empty());
            }
        }
    }
}

#[test]
fn builds_without_a_classic_cut_and_cuts_without_a_product_are_known() {
    let best = |species: &'static Species, cut: &'static Cut| {
        catalogue()
            .builds
            .iter()
            .filter(|b| !b.ending)
            .map(|b| suitability(b, &candidate(&species.key, &cut.key)).score)
            .max()
            .unwrap_or(0)
    };
    let nothing: Vec<_> = catalogue()
        .species
        .iter()
        .flat_map(|s| s.cuts.iter().map(move |c| (s, c)))
        .filter(|(s, c)| best(s, c) == 0)
        .map(|(s, c)| format!("{} {}", s.key, c.key))
        .collect();
    #[rustfmt::skip]
    let want = [
        "pig ribs", "pig bones", "pig leaf_fat",
        "wild_boar tenderloin", "wild_boar ribs", "wild_boar bones",
        "lamb ribs",
        "beef rib", "beef short_loin", "beef sirloin", "beef round",
        "turkey tenders", "turkey legs", "turkey wings", "turkey frame", "turkey neck_fat", "turkey giblets",
        "goose tenders", "goose wings", "goose frame", "goose neck_fat", "goose giblets",
        "duck tenders", "duck legs", "duck wings", "duck frame", "duck neck_fat", "duck giblets",
        "rabbit hind_legs", "rabbit saddle", "rabbit forelegs", "rabbit flank", "rabbit frame", "rabbit giblets",
        "bear backstrap", "bear tenderloin",
    ];
    assert_eq!(nothing, want);
    let classic = |b: &Build| {
        catalogue()
            .species
            .iter()
            .flat_map(|s| s.cuts.iter().map(move |c| (s, c)))
            .any(|(s, c)| suitability(b, &candidate(&s.key, &c.key)).score == 2)
    };
    let without: Vec<_> = catalogue()
        .builds
        .iter()
        .filter(|b| !b.ending && !classic(b))
        .map(|b| b.key.as_str())
        .collect();
    // Made from a cut that has a safer classic use.
    assert_eq!(without, ["belly-slab-plain", "backstrap-label"]);
}

#[test]
fn a_tool_that_is_missing_or_a_hold_that_runs_says_so() {
    let bare = Equipment::default();
    let mut piece = candidate("pig", "belly");
    piece.equipment = Some(&bare);
    let found = suitability(build("belly-slab").unwrap(), &piece);
    assert_eq!(
        (found.score, found.lacks.as_slice()),
        (2, &[Tool::Smoker][..])
    );
    assert!(!found.is_possible_now());
    assert_eq!(
        found.findings.last().unwrap().wants.as_deref(),
        Some("a smoker")
    );

    let pig = species("pig").unwrap();
    let now = "2026-11-20T08:00:00Z".parse().unwrap();
    let holds: Vec<_> = pig
        .holds
        .iter()
        .map(|h| crate::animal::hold::stand(h, None, &Default::default(), now))
        .collect();
    let mut loin = candidate("pig", "loin");
    loin.holds = &holds;
    let dried = suitability(build("muscle-cased").unwrap(), &loin);
    assert_eq!((dried.score, dried.held), (2, true));
    assert_eq!(dried.findings[0].code, Code::OpenHold);
    // What is smoked to its mark is not held back by a freezing.
    assert!(suitability(build("back-smoked").unwrap(), &loin).is_possible_now());
}

#[test]
fn a_zero_says_what_is_wrong_with_the_cut() {
    #[rustfmt::skip]
    let cases = [
        ("pig",    "loin",   "belly-slab",   "Loin has about 18 % fat; streaky slab bacon wants 25 to 60 %."),
        ("turkey", "legs",   "back-smoked",  "Legs is several muscles; smoked back bacon wants one whole muscle."),
        ("turkey", "frame",  "ham-bucket",   "Frame and neck: mostly bone, good for stock."),
        ("deer",   "flank",  "belly-slab",   "Flank is too thin and has no fat: it turns to jerky in the smoke."),
    ];
    for (animal, cut, key, words) in cases {
        let found = suitability(build(key).unwrap(), &candidate(animal, cut));
        assert_eq!((found.score, found.reasons[0].as_str()), (0, words));
    }
}

#[test]
fn a_ground_block_becomes_what_is_ground() {
    let mut block = candidate("elk", MIX);
    block.fat = Some(Fraction(0.28));
    let score = |key: &str, block: &Candidate<'_>| suitability(build(key).unwrap(), block).score;
    assert_eq!(
        (score("formed-loaf", &block), score("back-smoked", &block)),
        (2, 0)
    );
    block.fat = Some(Fraction(0.10));
    let lean = suitability(build("formed-loaf").unwrap(), &block);
    assert_eq!(lean.score, 1);
    assert_eq!(
        lean.reasons[1],
        "It has 10 % fat; formed ground bacon wants 25 to 30 %."
    );
}

#[test]
fn what_cannot_be_dried_says_why_not() {
    let cased = build("muscle-cased").unwrap();
    let mut bony = candidate("pig", "loin");
    bony.shape.bone_in = true;
    let boar = candidate("wild_boar", "loin");
    let belly = candidate("pig", "belly");
    #[rustfmt::skip]
    let cases = [
        (bony,  "Bone is in"),
        (boar,  "Parasites of wild boar survive freezing"),
        (belly, "Several muscles"),
    ];
    for (piece, why) in cases {
        let found = suitability(cased, &piece);
        assert_eq!(found.score, 0);
        assert!(found.reasons[0].starts_with(why), "{:?}", found.reasons);
    }
    assert_eq!(suitability(cased, &candidate("pig", "loin")).score, 2);
}

#[test]
fn a_thick_piece_is_to_be_cut_first() {
    let mut piece = candidate("pig", "butt");
    piece.shape = Shape::thick(Millimetres(110.0));
    let found = suitability(build("shoulder-slab").unwrap(), &piece);
    assert_eq!(
        (found.score, found.findings[0].code),
        (1, Code::TooThickForRule)
    );
}

#[test]
fn the_higher_of_product_and_species_sets_the_heat() {
    let target = |b, s| inside_target(build(b).unwrap(), species(s).unwrap());
    assert_eq!(target("belly-slab", "pig"), Some(Celsius(60.0)));
    assert_eq!(target("belly-slab", "wild_boar"), Some(Celsius(71.1)));
    assert_eq!(target("back-smoked", "deer"), Some(Celsius(71.1)));
    assert_eq!(target("muscle-cased", "pig"), None);
}
