//! The shipped data is whole, reads back as written, and a mistake in it is said so that it can
//! be mended.

use super::*;
use crate::catalogue::species::RawDryingVerdict;
use crate::data::{DataFile, shipped};
use serde::de::DeserializeOwned;
use std::fmt::Debug;

fn mistakes(files: &[DataFile]) -> Vec<String> {
    match Catalogue::read(files) {
        Ok(_) => Vec::new(),
        Err(found) => found.iter().map(ToString::to_string).collect(),
    }
}

/// The shipped files with one text in the place of another in one of them.
fn with(path: &str, from: &str, to: &str) -> Vec<DataFile> {
    let mut files = shipped();
    let file = files.iter_mut().find(|f| f.path == path).expect(path);
    assert!(file.text.contains(from), "{path} does not say {from}");
    file.text = file.text.replacen(from, to, 1);
    files
}

#[test]
fn the_shipped_files_have_no_mistake() {
    assert_eq!(mistakes(&shipped()), Vec::<String>::new());
}

#[test]
fn a_mistake_names_its_file_and_field_and_what_to_write() {
    #[rustfmt::skip]
    let cases = [
        ("builds/10-belly-slab.toml", "cure = \"cure1\"", "cure = \"cure9\"",
         "builds/10-belly-slab.toml: other_way “with accelerator”.dose.cure: there stands “cure9”; write one of cure1,"),
        ("builds/12-belly-slab-plain.toml", "cure = \"none\"", "cure = \"cure9\"",
         "builds/12-belly-slab-plain.toml: dose.cure: there stands “cure9”; write one of cure1, cure2, nitrite_salt_06, none"),
        ("builds/10-belly-slab.toml", "kind = \"smoke\"", "kind = \"smoek\"",
         "builds/10-belly-slab.toml: step[4].kind: there stands unknown variant `smoek`; write one of `prepare`, `dose`"),
        ("builds/10-belly-slab.toml", "kind = \"pack\"", "kind = \"rest\"",
         "builds/10-belly-slab.toml: step: there stands a way that does not end at the packing table; write a last step of kind pack"),
        ("builds/10-belly-slab.toml", "kind = \"dose\"", "kind = \"prepare\"",
         "builds/10-belly-slab.toml: step: there stands a way that does not begin with its cure; write a step of kind dose"),
        ("builds/10-belly-slab.toml", "asks = [\"tacky\"]", "asks = [\"sticky\"]",
         "builds/10-belly-slab.toml: step “dry_surface”.asks: there stands “sticky”; write one of smell, slime"),
        ("builds/10-belly-slab.toml", "cuts = [\"belly\"]", "cuts = [\"bely\"]",
         "builds/10-belly-slab.toml: suit[0].cuts: there stands “bely”; write a cut of pig"),
        ("builds/46-ham-aged.toml", "[hang]\nloss_fraction = 0.18", "[nothing]\nloss_fraction = 0.18",
         "builds/46-ham-aged.toml: nothing: there stands unknown field `nothing`; write one of"),
        ("builds/10-belly-slab.toml", "tools = [\"smoker\"]", "tools = [\"smokre\"]",
         "builds/10-belly-slab.toml: tools[0]: there stands unknown variant `smokre`; write one of"),
        ("builds/64-tenderloin-buried.toml", "least_loss_fraction = 0.25", "least_loss_fraction = 0.2",
         "builds/64-tenderloin-buried.toml: hang.least_loss_fraction: there stands 0.2; write 0.25 or more"),
        ("builds/10-belly-slab.toml", "version = 3", "version = two",
         "builds/10-belly-slab.toml: line 2: there stands"),
        ("species/goat.toml", "pair = \"GT\"", "pair = \"HG\"", "species/goat.toml: pair: there stands “HG”; write two letters that no other species has"),
        ("species/goat.toml", "safe_inside_c = 62.8", "safe_inside_c = 52.8",
         "species/goat.toml: safe_inside_c: there stands 52.8; write 62.8 °C or more"),
        ("cures.toml", "nitrite = 0.0625", "nitrite = 1.0625", "cures.toml: cure “cure1”: there stands shares of"),
        ("schools.toml", "plus = 2.0\n", "", "schools.toml: school “days_per_inch_2_2”: there stands only one of per_inch and plus; write both, or neither"),
        ("heat.toml", "key = \"medium\"", "key = \"low\"", "heat.toml: rule.key: there stands “low” a second time; write each word once"),
        ("heat.toml", "c = 80.0, hours = 3.0", "c = 95.0, hours = 3.0", "heat.toml: rule “low”.finish_c: there stands 90; write more than where it dries and smokes"),
        ("rules/eu.toml", "key = \"eu\"", "key = \"us_home\"", "rules/: key: there stands “us_home” a second time; write each word once"),
        ("cutting.toml", "kinds = [\"pork\", \"wild_pork\"]", "kinds = [\"prok\"]", "cutting.toml: choice “shoulder_from_loin”.kinds: there stands “prok”; write one of"),
        ("checks.toml", "done_at = \"tacky\"", "done_at = \"dry\"", "checks.toml: check “tacky”.done_at: there stands “dry”; write one of tacky, not_yet"),
        ("pantry.toml", "salt = [", "slat = [", "pantry.toml: slat: there stands unknown field `slat`"),
    ];
    for (path, from, to, want) in cases {
        let found = mistakes(&with(path, from, to));
        assert!(
            found.iter().any(|m| m.starts_with(want)),
            "{path} with {to}: {found:#?}"
        );
    }
}

#[test]
fn a_file_that_nothing_reads_and_one_that_is_missing_are_mistakes() {
    let mut files = shipped();
    files.push(DataFile {
        path: "biulds/99-lost.toml".into(),
        text: "key = \"lost\"".into(),
    });
    assert_eq!(
        mistakes(&files),
        [
            "biulds/99-lost.toml: : there stands a file that nothing reads; write it under species/, builds/ or rules/, or take it away"
        ]
    );
    let without: Vec<_> = shipped()
        .into_iter()
        .filter(|f| f.path != "schools.toml")
        .collect();
    assert_eq!(
        mistakes(&without),
        ["schools.toml: : there stands no such file; write the file"]
    );
}

fn reads_back<T: Serialize + DeserializeOwned + PartialEq + Debug>(value: &T) {
    let json = serde_json::to_string(value).unwrap();
    let back: T = serde_json::from_str(&json).unwrap_or_else(|e| panic!("{e}: {json}"));
    assert_eq!(&back, value);
}

#[test]
fn every_catalogue_value_reads_back_as_written() {
    let c = Catalogue::shipped();
    c.species.iter().for_each(|s| reads_back(&**s));
    c.builds.iter().for_each(|b| reads_back(&**b));
    c.cures.iter().for_each(reads_back);
    c.rules.iter().for_each(reads_back);
    reads_back(&c.schools);
    c.heat.iter().for_each(reads_back);
    c.cutting.iter().for_each(reads_back);
    c.checks.iter().for_each(reads_back);
    reads_back(&c.shelves);
    reads_back(&c.shapes);
}

#[test]
fn a_species_that_leans_on_another_is_one_file() {
    let mut files = shipped();
    files.push(DataFile {
        path: "species/chamois.toml".into(),
        text: r#"
            key = "chamois"
            like = "goat"
            name = "chamois"
            meat = "chamois"
            pair = "CH"
            order = 99
            [[cut]]
            key = "leg"
            fat_fraction = 0.02
            [[cut]]
            key = "cheek"
            name = "cheek"
            fat = "lean"
            thickness_mm = [20, 30]
            muscles = "one"
            bone_in = false
            skin_on = false
            flat = false
            of = ["leg"]
            fat_fraction = 0.02
            length_to_width = 1.5
        "#
        .into(),
    });
    let read = Catalogue::read(&files).unwrap_or_else(|m| panic!("{}", check::list(&m)));
    let (goat, own) = (
        read.species("goat").unwrap(),
        read.species("chamois").unwrap(),
    );
    assert_eq!(own.safe_inside_c, goat.safe_inside_c);
    assert_eq!(own.cut("leg").unwrap().fat_fraction, 0.02);
    assert_eq!(
        own.cut("leg").unwrap().thickness_mm,
        goat.cut("leg").unwrap().thickness_mm
    );
    assert!(own.cut("cheek").is_some() && goat.cut("cheek").is_none());
    // what suits a goat suits what is like one
    let suited = |s: &Species| -> Vec<_> {
        let suits = read.builds.iter().filter(|b| b.suit(s, "leg").is_some());
        suits.map(|b| b.key.clone()).collect()
    };
    assert_eq!(suited(own), suited(goat));
    assert!(!suited(own).is_empty());

    let chain = "key = \"x\"\nlike = \"chamois\"\n";
    files.push(DataFile {
        path: "species/x.toml".into(),
        text: chain.into(),
    });
    assert_eq!(
        mistakes(&files),
        [
            "species/x.toml: like: there stands “chamois”, which leans on another itself; write a species that stands on its own"
        ]
    );
}

#[test]
fn a_running_piece_keeps_its_version_and_what_is_gone_is_said_so() {
    let shipped = Catalogue::shipped();
    let newest = shipped.build("belly-slab").unwrap();
    let old = Build {
        version: 1,
        name: "slab of old".into(),
        ..(**newest).clone()
    };
    let mut shelf = Snapshot::new();
    let kept = Kept::Build(Arc::new(old.clone()));
    shelf.insert(kept.key(), kept);
    let catalogue = shipped.with_shelf(shelf);
    assert_eq!(*catalogue.build_as(&old.reference()), old);
    assert_eq!(&catalogue.build_as(&newest.reference()), newest);
    let lost = catalogue.build_as(&BuildRef {
        key: "moon-cheese".into(),
        version: 3,
    });
    assert!(lost.gone);
    assert_eq!(lost.name, "moon cheese (no longer in the catalogue)");
    assert!(
        catalogue
            .species_as("moose", 7)
            .name
            .ends_with("(no longer in the catalogue)")
    );
    assert_eq!(
        catalogue.species_as("moose", 7).raw_drying.verdict,
        RawDryingVerdict::Refused
    );
}

#[test]
fn cuts_are_kept_as_they_were_but_what_is_safe_follows_the_newest_word() {
    let shipped = Catalogue::shipped();
    let pig = shipped.species("pig").unwrap();
    let mut old = Species {
        version: 7,
        safe_inside_c: 58.0,
        ..(**pig).clone()
    };
    old.cuts.truncate(2);
    let mut shelf = Snapshot::new();
    let kept = Kept::Species(Arc::new(old.clone()));
    shelf.insert(kept.key(), kept);
    let found = shipped.with_shelf(shelf).species_as("pig", 7);
    assert_eq!(found.cuts, old.cuts);
    assert_eq!(found.safe_inside_c, pig.safe_inside_c);
    assert_eq!(found.holds, pig.holds);
}

#[test]
fn wild_pigs_are_never_dried_raw_and_birds_are_cooked_through() {
    let c = Catalogue::shipped();
    for key in ["wild_boar", "turkey"] {
        let verdict = c.species(key).unwrap().raw_drying.verdict;
        assert_eq!(verdict, RawDryingVerdict::Refused, "{key}");
    }
    assert!(c.species("duck").unwrap().safe_inside_c >= 73.9);
    for key in [
        "moose",
        "bear",
        "rabbit",
        "pig",
        "wild_boar",
        "deer",
        "elk",
        "goat",
        "lamb",
        "beef",
        "turkey",
        "goose",
        "duck",
    ] {
        assert!(c.species(key).is_some(), "{key} is missing");
    }
}

#[test]
fn a_household_without_a_shelf_finds_what_it_needs_in_the_catalogue() {
    let c = Catalogue::shipped();
    assert_eq!(c.role_of("Cure #1"), Role::CuringSalt);
    assert_eq!(c.role_of("sugar"), Role::Sugar);
    assert_eq!(c.role_of("ice water"), Role::Water);
    assert_eq!(c.role_of("juniper"), Role::Spice);
    assert_eq!(
        c.rule_set("mars").unwrap_err().message,
        "There is no rule set “mars”. Use one of ca, eu, us_home."
    );
}
