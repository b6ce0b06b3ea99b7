//! Ledgers that earlier programs wrote: they open, and the same follows from them as followed then.
//!
//! Each folder under `store/tests/ledgers` holds a file as its program left it, and what that
//! program answered about it.

mod support;

use manifest_core::acts::{DraftContext, RenderContext};
use manifest_core::catalogue::Catalogue;
use manifest_core::ledger::state::Stage;
use manifest_store::Store;
use serde_json::Value;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use support::Program;
use tempfile::TempDir;

fn ledgers() -> Vec<PathBuf> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../store/tests/ledgers");
    let mut found: Vec<_> = std::fs::read_dir(folder)
        .unwrap()
        .map(|e| e.unwrap().path())
        .collect();
    found.sort();
    assert!(found.len() >= 2);
    found
}

/// A copy of a ledger's folder, so that the fixture stays as it was written.
fn copied(folder: &Path) -> TempDir {
    let dir = TempDir::new().unwrap();
    std::fs::copy(
        folder.join("household.db"),
        dir.path().join(manifest_store::FILE),
    )
    .unwrap();
    dir
}

fn expected(folder: &Path) -> Value {
    serde_json::from_str(&std::fs::read_to_string(folder.join("expected.json")).unwrap()).unwrap()
}

/// Everything in `want` that `got` does not say; what is new in `got` is no matter.
fn missing(want: &Value, got: &Value, at: &str, found: &mut Vec<String>) {
    match (want, got) {
        (Value::Object(w), Value::Object(g)) => {
            for (key, value) in w {
                missing(
                    value,
                    g.get(key).unwrap_or(&Value::Null),
                    &format!("{at}.{key}"),
                    found,
                );
            }
        }
        (Value::Array(w), Value::Array(g)) if w.len() == g.len() => {
            for (i, (value, other)) in w.iter().zip(g).enumerate() {
                missing(value, other, &format!("{at}[{i}]"), found);
            }
        }
        (Value::Number(w), Value::Number(g))
            if (w.as_f64().unwrap() - g.as_f64().unwrap()).abs() < 1e-9 => {}
        (w, g) if w == g => {}
        (w, g) => found.push(format!("{at}: was {w}, is {g}")),
    }
}

/// Labels without what is judged by today's rules: how it is eaten, until when, what to name.
fn as_packed(labels: &Value) -> Value {
    let mut labels = labels.clone();
    for label in labels.as_array_mut().into_iter().flatten() {
        let label = label.as_object_mut().unwrap();
        for judged in [
            "eat",
            "keeps",
            "ingredients",
            "allergens",
            "notes",
            "product",
        ] {
            label.remove(judged);
        }
    }
    labels
}

/// What is judged by today's rules and not by those of then: shares and prices follow meat that was given and bought, the picture runs
/// in no circle, and the number to wait for has a tare at both ends.
const JUDGED: [&str; 7] = [
    ".packed_share",
    ".cost_cents_per_kg",
    ".tally.flow",
    ".hang.target_gross_g",
    ".hang.loss_now",
    ".hang.to_go_g",
    ".hang.reached",
];

/// What went into packs, by the picture of where every gram went (mg).
fn into_packs(lot: &Value) -> i64 {
    let links = lot["tally"]["flow"].as_array().unwrap().iter();
    let packs = links.filter(|l| l["to"]["kind"] == "packed");
    packs.map(|l| l["mass_mg"].as_i64().unwrap()).sum()
}

#[test]
fn an_old_ledger_shows_the_same_masses_stages_doses_packs_and_tallies() {
    for folder in ledgers() {
        let want = expected(&folder);
        let program = Program::on(copied(&folder), &["--now", want["now"].as_str().unwrap()]);
        let mut wrong = Vec::new();
        missing(
            &want["tally"],
            &program.get("/tally").ok(),
            "tally",
            &mut wrong,
        );
        for card in program.get("/lots").ok().as_array().unwrap() {
            let (id, tag) = (&card["id"], card["tag"].as_str().unwrap());
            let mut lot = program.get(&format!("/lots/{id}")).ok();
            let was = &want["lots"][tag];
            let entries = lot["timeline"].as_array().unwrap().len();
            assert_eq!(was["entries"], entries, "{tag}");
            let pieces = lot["pieces"].take();
            lot.as_object_mut()
                .unwrap()
                .extend(card.as_object().unwrap().clone());
            lot["tally"] = program.get(&format!("/tally/{id}")).ok();
            lot["entries"] = entries.into();
            missing(was, &lot, tag, &mut wrong);
            assert_eq!(into_packs(was), into_packs(&lot), "{tag}");
            for piece in pieces.as_array().unwrap() {
                let view = program.get(&format!("/pieces/{}", piece["id"])).ok();
                let tag = piece["tag"].as_str().unwrap();
                let was = &want["pieces"][tag];
                missing(&was["dose"], &view["dose"], tag, &mut wrong);
                missing(&as_packed(&was["labels"]), &view["packs"], tag, &mut wrong);
                let weighed: Vec<Value> = view["weighings"]
                    .as_array()
                    .unwrap()
                    .iter()
                    .map(|w| serde_json::json!([w["point"], w["net_g"]]))
                    .collect();
                missing(&was["weighings"], &Value::Array(weighed), tag, &mut wrong);
                let mut was = was.clone();
                // How it may be eaten is judged by today's rules.
                for asked in ["dose", "labels", "weighings", "eat", "inside_target_c"] {
                    was.as_object_mut().unwrap().remove(asked);
                }
                missing(&was, &view["card"], tag, &mut wrong);
            }
        }
        wrong.retain(|w| !JUDGED.iter().any(|judged| w.contains(judged)));
        assert_eq!(
            wrong,
            Vec::<String>::new(),
            "{}: {} are different",
            folder.display(),
            wrong.len()
        );
    }
}

#[test]
fn the_file_as_it_was_and_the_file_once_migrated_fold_the_same() {
    for folder in ledgers() {
        let dir = copied(&folder);
        let first = Store::open(dir.path(), jiff::Timestamp::now()).unwrap();
        let book = first.read(|book, _| book.clone());
        assert_eq!(first.rebuilt().unwrap(), book);
        drop(first);
        let second = Store::open(dir.path(), jiff::Timestamp::now()).unwrap();
        second.read(|again, _| assert_eq!(*again, book));
    }
}

/// The shipped catalogue after everything in it that a ledger leans on was renamed or went away.
fn stripped() -> Catalogue {
    let mut catalogue = (*Catalogue::shipped()).clone();
    catalogue.builds.clear();
    catalogue.species.clear();
    catalogue.cutting.clear();
    catalogue.checks.clear();
    for cure in &mut catalogue.cures {
        cure.key = format!("new-{}", cure.key);
        cure.made_of.nitrite /= 2.0;
    }
    for school in &mut catalogue.schools.list {
        school.key = format!("new-{}", school.key);
    }
    catalogue
}

#[test]
fn a_ledger_opens_and_folds_the_same_when_the_catalogue_is_gone() {
    for folder in ledgers() {
        let dir = copied(&folder);
        let book = Store::open(dir.path(), jiff::Timestamp::now())
            .unwrap()
            .read(|book, _| book.clone());
        let store = Store::open_with(dir.path(), &stripped(), jiff::Timestamp::now()).unwrap();
        store.read(|again, _| {
            for (lot, piece) in book.pieces() {
                let (other, same) = again.piece(piece.id).unwrap();
                assert_eq!(same, piece, "{}", piece.tag);
                assert_eq!(same.stage(), piece.stage(), "{}", piece.tag);
                assert_eq!(
                    other.state.lot.as_ref().unwrap().species(),
                    lot.state.lot.as_ref().unwrap().species()
                );
            }
            assert_eq!(*again, book);
            let named = again.pieces().find_map(|(_, p)| p.build_key());
            let name = again.catalogue().build_name(named.unwrap());
            assert!(name.ends_with("(no longer in the catalogue)"), "{name}");
        });
    }
}

#[test]
fn without_its_shelf_a_piece_is_still_where_its_facts_say() {
    for folder in ledgers() {
        let dir = copied(&folder);
        let book = Store::open(dir.path(), jiff::Timestamp::now())
            .unwrap()
            .read(|book, _| book.clone());
        let entries = book
            .lots()
            .flat_map(|l| l.entries.iter().map(|e| (**e).clone()));
        let bare = manifest_core::ledger::book::Book::fold(
            entries.collect::<Vec<_>>(),
            Arc::new(stripped()),
        );
        for (_, piece) in book.pieces() {
            let (_, lost) = bare.piece(piece.id).unwrap();
            assert_eq!(lost.mass, piece.mass, "{}", piece.tag);
            match piece.stage() {
                Stage::Smoke | Stage::Hang => {
                    assert_eq!(lost.stage(), Stage::Pack, "{}", piece.tag);
                }
                // an ending is packed; nobody can tell that any more
                Stage::Pack => assert!(matches!(lost.stage(), Stage::Pack | Stage::Dose)),
                stage => assert_eq!(lost.stage(), stage, "{}", piece.tag),
            }
        }
    }
}

#[test]
fn every_old_entry_asked_again_gives_the_same_act() {
    for folder in ledgers() {
        let dir = copied(&folder);
        let store = Store::open(dir.path(), jiff::Timestamp::now()).unwrap();
        let now = expected(&folder)["now"].as_str().unwrap().parse().unwrap();
        store.read(|book, home| {
            for lot in book.lots() {
                let scene = RenderContext { lot, home };
                for entry in lot.live_entries() {
                    let Some(ask) = scene.ask_again(entry) else {
                        continue;
                    };
                    let mut desk = DraftContext::new(book, home, now);
                    let acts = ask.draft(&mut desk, Some((entry.lot, &entry.act)));
                    assert_eq!(
                        acts.unwrap_or_else(|e| panic!("{e}: {ask:?}")),
                        [(entry.lot, entry.act.clone())],
                        "{ask:?}"
                    );
                }
            }
        });
    }
}
