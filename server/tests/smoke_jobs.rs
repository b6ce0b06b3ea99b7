//! Ten kinds of work at the smoker, each from its cure to the pack, with numbers of their own: what is asked, what is told before it
//! is too late, what the pack may claim.

mod support;

use serde_json::{Value, json};
use support::Program;
use support::cures::codes;
use support::smoke::{Smoked, at, verdict, waits};

/// One kind of work.
struct Job {
    name: &'static str,
    species: &'static str,
    cut: &'static str,
    build: &'static str,
    /// Weight (g) and thickness (mm) of each piece.
    pieces: &'static [(f64, f64)],
    hearth: &'static str,
    /// Stages: kind, set (°C).
    stages: &'static [(&'static str, f64)],
    /// The inside where somebody who remembers it wrongly stops, and where it is brought to (°C).
    stops: f64,
    done: f64,
    /// What the pack says then.
    word: &'static str,
}

#[rustfmt::skip]
const JOBS: [Job; 9] = [
    Job { name: "loin and belly in one, rolled", species: "pig", cut: "loin_and_belly", build: "round-roll", pieces: &[(3_150.0, 88.0)], hearth: "smoker", stages: &[("dry", 55.0), ("smoke", 82.0), ("finish", 90.0)], stops: 52.0, done: 60.5, word: "cook_before_eating" },
    Job { name: "game backstraps by a label's rate", species: "deer", cut: "backstrap", build: "backstrap-label", pieces: &[(610.0, 42.0), (545.0, 38.0), (480.0, 33.0)], hearth: "smoker", stages: &[("dry", 60.0), ("smoke", 85.0)], stops: 62.8, done: 71.6, word: "ready_to_eat" },
    Job { name: "breasts, peppered", species: "goose", cut: "breast", build: "breast-peppered", pieces: &[(390.0, 29.0), (410.0, 31.0), (365.0, 28.0), (402.0, 30.0), (377.0, 29.0), (420.0, 32.0)], hearth: "smoker", stages: &[("smoke", 95.0), ("finish", 115.0)], stops: 60.0, done: 74.4, word: "ready_to_eat" },
    Job { name: "rolled belly of lamb, light smoke and then the oven's heat", species: "lamb", cut: "belly", build: "lamb-roll", pieces: &[(1_420.0, 64.0)], hearth: "smoker", stages: &[("smoke", 81.0), ("finish", 120.0)], stops: 55.0, done: 63.3, word: "ready_to_eat" },
    Job { name: "brisket pieces smoked moist", species: "beef", cut: "brisket", build: "brisket-slab", pieces: &[(1_850.0, 47.0), (1_620.0, 43.0)], hearth: "smoker", stages: &[("smoke", 95.0), ("finish", 105.0)], stops: 50.0, done: 68.4, word: "ready_to_eat" },
    Job { name: "jowl beside others on one day", species: "pig", cut: "jowl", build: "jowl-smoked", pieces: &[(980.0, 31.0)], hearth: "smoker", stages: &[("dry", 55.0), ("smoke", 85.0)], stops: 55.0, done: 65.4, word: "ready_to_eat" },
    Job { name: "shoulder slabs", species: "pig", cut: "butt", build: "shoulder-slab", pieces: &[(1_730.0, 45.0), (1_690.0, 44.0)], hearth: "smoker", stages: &[("cold_smoke", 18.0), ("rest", 3.0), ("smoke", 88.0)], stops: 51.0, done: 60.2, word: "cook_before_eating" },
    Job { name: "formed loaf in pans", species: "deer", cut: "shoulder", build: "formed-loaf", pieces: &[(1_240.0, 70.0), (1_235.0, 70.0), (960.0, 55.0)], hearth: "smoker", stages: &[("smoke", 82.0), ("finish", 125.0)], stops: 66.0, done: 71.3, word: "ready_to_eat" },
    Job { name: "pumped loin over a hot fire", species: "pig", cut: "loin", build: "back-smoked", pieces: &[(1_540.0, 68.0)], hearth: "smoker", stages: &[("smoke", 85.0), ("finish", 160.0)], stops: 55.0, done: 63.4, word: "ready_to_eat" },
];

fn stages(job: &Job) -> Value {
    job.stages
        .iter()
        .map(|(kind, c)| json!({"kind": kind, "set": format!("{c} C")}))
        .collect()
}

#[test]
fn every_kind_of_work_is_told_its_mark_asked_when_it_stops_short_and_packed_by_what_was_recorded() {
    for job in &JOBS {
        let program = Program::practice(&at("06:00"));
        let way = (job.cut, job.build);
        let pieces: Vec<i64> = job
            .pieces
            .iter()
            .map(|size| waits(&program, job.species, way, *size, 2.4))
            .collect();
        let ask = json!({"hearth": job.hearth, "name": "the fire", "pieces": pieces, "stages": stages(job), "keep_as_typed": true});
        let fire = Smoked::set_up(&program, ask);
        for stage in 0..job.stages.len() {
            fire.act(json!({"act": "stage_begun", "stage": stage}));
        }
        program.to(&at("12:00"));
        let heat = job.stages.last().unwrap().1;
        fire.keep(json!({"act": "chamber_read", "warmth": format!("{} C", heat - 2.0)}));
        // told, with its reason, before it is there
        let first = fire.piece(pieces[0]);
        let mark = first["mark_c"].as_f64().unwrap();
        assert!(job.stops < mark && mark <= job.done, "{}: {mark}", job.name);
        assert!(!first["mark_why"].as_str().unwrap().is_empty());
        let spot = |c: f64| {
            for id in &pieces {
                let read = [c + 0.8, c].map(|c| format!("{c} C"));
                fire.act(json!({"act": "spot_checked", "piece": id, "read": read}));
            }
        };
        spot(job.stops);
        let green: f64 = job.pieces.iter().map(|p| p.0).sum();
        let short = fire.pull(&pieces, green * 0.86);
        assert_eq!(short.status, 409, "{}: {}", job.name, short.body);
        assert_eq!(
            codes(&short.body["findings"])[0],
            "under_safe_heat",
            "{}",
            job.name
        );
        spot(mark - 3.0);
        let rings = fire.alarms();
        assert!(
            rings.contains(&format!("near:{}:{mark:.1}", pieces[0])),
            "{}: {rings:?}",
            job.name
        );
        spot(job.done);
        fire.pull(&pieces, green * 0.86).ok();
        fire.act(json!({"act": "ended"}));
        let held: f64 = pieces
            .iter()
            .map(|id| {
                program.get(&format!("/pieces/{id}")).ok()["card"]["mass_g"]
                    .as_f64()
                    .unwrap()
            })
            .sum();
        assert!(
            (held - green * 0.86).abs() < 0.01,
            "{}: shared out whole",
            job.name
        );
        program.to(&at("18:00"));
        for (id, (grams, _)) in pieces.iter().zip(job.pieces) {
            program
                .did(json!([{"act": "cooled", "piece": id, "inside": "4 C", "hours": 5.5}]))
                .ok();
            let packs = json!([{"reading": format!("{:.0} g", grams * 0.80), "slices": 24, "place": "fridge, vacuum packed"}]);
            let packed = json!([{"act": "packed", "piece": id, "packs": packs, "ends": format!("{:.0} g", grams * 0.05), "finished": true}]);
            program.kept(packed).ok();
            assert_eq!(verdict(&program, *id).0, job.word, "{}", job.name);
        }
    }
}

#[test]
fn a_label_says_how_to_heat_it_gently_what_the_slice_showed_and_what_its_maker_wrote() {
    let program = Program::practice(&at("06:00"));
    let roll = waits(
        &program,
        "lamb",
        ("belly", "lamb-roll"),
        (1_310.0, 61.0),
        2.4,
    );
    let smoked = json!([{"act": "smoked", "piece": roll, "reading": "1.1 kg", "inside": "64 C", "chamber": "120 C"}]);
    program.kept(smoked).ok();
    let pack = |line: &str| json!([{"act": "packed", "piece": roll, "packs": [{"reading": "500 g", "line": line}], "finished": false}]);
    let long = program.did(pack(&"gently ".repeat(30)));
    assert_eq!(
        (
            long.status,
            long.body["errors"][0]["field"].as_str().unwrap()
        ),
        (422, "packs[0].line")
    );
    program.did(pack("For the neighbours.")).ok();
    let notes = || {
        program.get(&format!("/pieces/{roll}")).ok()["packs"][0]["notes"]
            .as_array()
            .unwrap()
            .iter()
            .map(|n| n.as_str().unwrap().to_string())
            .collect::<Vec<_>>()
    };
    assert!(notes()[0].starts_with("PRACTICE."));
    assert!(notes()[1].starts_with("Rolled: gentle heat") && notes()[2] == "For the neighbours.");
    for (grade, said) in [
        (
            "open",
            Some("The roll came open: cook it gently, in pieces."),
        ),
        ("held", None),
    ] {
        let checked = json!([{"act": "checked", "piece": roll, "check": "roll", "grade": grade}]);
        program.did(checked).ok();
        let found = notes()
            .iter()
            .find(|n| n.starts_with("The roll"))
            .map(String::from);
        assert_eq!(found.as_deref(), said, "{grade}: the last look counts");
    }
    let bad = json!([{"act": "checked", "piece": roll, "check": "smell", "grade": "discard"}]);
    program.kept(bad).ok();
    let left = notes();
    assert!(
        !left.iter().any(|n| n.contains("gentle")),
        "nobody heats what nobody eats: {left:?}"
    );
}

#[test]
fn four_hams_three_probes_an_evening_that_lasts_longer_and_the_bone_taken_out_afterwards() {
    let program = Program::practice(&at("06:00"));
    let smoker = program.equip(json!([
        {"kind": "smoker", "name": "barrel", "count": 1, "holds": 25.0, "height_mm": 110.0, "shelves": 2, "zones": ["front", "back"], "fuel": "charcoal"},
    ]))[0];
    let ham = |size| waits(&program, "pig", ("leg", "ham-bucket"), size, 2.4);
    let hams: Vec<i64> = [
        (4_300.0, 120.0),
        (4_150.0, 118.0),
        (3_900.0, 112.0),
        (3_750.0, 105.0),
    ]
    .map(ham)
    .to_vec();
    // the lid does not shut over them: said before anything is lit
    let ask =
        json!({"place": smoker, "pieces": hams, "stages": [{"kind": "smoke", "set": "95 C"}]});
    let asked = program.post("/runs", &ask);
    assert!(
        codes(&asked.body["findings"]).contains(&"lid_open".into()),
        "{}",
        asked.body
    );
    let mut ask = ask;
    ask["keep_as_typed"] = json!(true);
    let barrel = Smoked::set_up(&program, ask);
    for (i, ham) in hams.iter().enumerate() {
        let zone = if i < 2 { "front" } else { "back" };
        barrel.act(json!({"act": "loaded", "piece": ham, "zone": zone, "shelf": 1 + i % 2}));
    }
    for (probe, ham) in [(1, hams[0]), (2, hams[2]), (3, hams[3])] {
        barrel.act(json!({"act": "probe_set", "probe": probe, "piece": ham}));
    }
    barrel.act(json!({"act": "seen", "what": "lid_open", "note": "foil over the gap"}));
    barrel.act(json!({"act": "stage_begun"}));
    barrel.act(
        json!({"act": "lit", "kind": "tube", "wood": "apple", "grams": "280 g", "burns": "3 h"}),
    );
    program.to(&at("09:30"));
    assert!(
        barrel.alarms().iter().any(|a| a.starts_with("fire:")),
        "the tube is out by now"
    );
    barrel.act(json!({"act": "burnt_out"}));
    barrel.act(json!({"act": "seen", "what": "misted"}));
    barrel.act(json!({"act": "swapped", "piece": hams[0], "with": hams[3]}));
    let hours = ["07:00", "08:00", "09:00"];
    for (probe, c) in [
        (1, [9.0, 16.0, 23.0]),
        (2, [10.0, 18.0, 26.0]),
        (3, [11.0, 20.0, 29.0]),
    ] {
        barrel.read(
            probe,
            &[(hours[0], c[0]), (hours[1], c[1]), (hours[2], c[2])],
        );
    }
    // the one without a probe lies in the span of its neighbours in its zone
    let second = barrel.piece(hams[1]);
    assert_eq!(
        (
            second["range_low_c"].as_f64(),
            second["range_high_c"].as_f64()
        ),
        (Some(27.0), Some(31.0))
    );
    assert_eq!(second["probe"], Value::Null);
    // it lasts: paused over the night in the fridge, it is no longer smoke, and the clock of the warm hours runs on what was read
    program.to(&at("21:00"));
    for (probe, c) in [(1, 51.0), (2, 53.0), (3, 56.0)] {
        barrel.read(
            probe,
            &[("12:00", c - 16.0), ("16:00", c - 7.0), ("20:50", c)],
        );
    }
    let warm = barrel.piece(hams[0])["warm_up"].clone();
    assert!(
        warm["over"] == true && warm["minutes"].as_f64().unwrap() > 600.0,
        "{warm}"
    );
    assert!(
        barrel
            .alarms()
            .contains(&format!("warm_up:{}:360", hams[0]))
    );
    for ham in &hams {
        barrel
            .act(json!({"act": "spot_checked", "piece": ham, "read": ["64 C", "63.1 C", "65 C"]}));
    }
    let asked = barrel.pull(&hams[..1], 3_900.0);
    assert_eq!(codes(&asked.body["findings"]), ["warm_up_too_long"]);
    program
        .kept(json!([{"act": "smoked", "pieces": hams, "run": barrel.id, "reading": "14.3 kg"}]))
        .ok();
    barrel.act(json!({"act": "ended"}));
    // the bone comes out of what is done, and its mass goes where it went
    let mass = |id: i64| {
        program.get(&format!("/pieces/{id}")).ok()["card"]["mass_g"]
            .as_f64()
            .unwrap()
    };
    let before = mass(hams[0]);
    let boned = json!([{"act": "worked", "piece": hams[0], "work": "bone_out", "off": [{"kind": "bone", "reading": "320 g"}], "reading": format!("{:.0} g", before - 320.0)}]);
    program.kept(boned).ok();
    assert!((mass(hams[0]) - (before - 320.0)).abs() < 1.0);
    let (word, how) = verdict(&program, hams[0]);
    assert_eq!((word.as_str(), how.as_str()), ("ready_to_eat", "cooked"));
    let found = program.get(&format!("/pieces/{}", hams[0])).ok()["findings"].clone();
    assert!(
        codes(&found).contains(&"warm_up_too_long".into()),
        "what was kept stays: {found}"
    );
}

#[test]
fn sweet_sausage_is_cooked_in_the_pot_after_it_has_dried() {
    let program = Program::practice(&at("06:00"));
    let entered = json!([{
        "act": "under_way", "cut": "butt", "build": "sausage-sweet", "at": "hanging", "since": "2026-11-14T18:00", "reading": "1.5 kg",
        "gross_start": "1.95 kg", "tare": "20 g", "green": "1.95 kg", "thickness": "32 mm",
        "received": {"name": "sausage meat", "species": "pig", "origin": "bought", "known": "bought_cut", "cut": "butt", "reading": "1.95 kg"},
    }]);
    let id = program.kept(entered).ok()["pieces"][0].as_i64().unwrap();
    program
        .kept(json!([{"act": "taken_down", "piece": id, "reading": "1.5 kg"}]))
        .ok();
    let pot = Smoked::set_up(&program, json!({"hearth": "pot", "pieces": [id]}));
    assert_eq!(pot.view()["stages"][0]["kind"], "boil");
    pot.act(json!({"act": "stage_begun"}));
    program.to(&at("06:40"));
    pot.act(json!({"act": "spot_checked", "piece": id, "read": ["66 C"]}));
    let short =
        program.did(json!([{"act": "smoked", "piece": id, "run": pot.id, "reading": "1.5 kg"}]));
    assert_eq!(codes(&short.body["findings"]), ["under_safe_heat"]);
    pot.act(json!({"act": "spot_checked", "piece": id, "read": ["72.4 C", "71.9 C"]}));
    // in water it may take some up again: no false loss
    program
        .did(json!([{"act": "smoked", "piece": id, "run": pot.id, "reading": "1.53 kg"}]))
        .ok();
    let card = program.get(&format!("/pieces/{id}")).ok()["card"].clone();
    assert!(
        (card["mass_g"].as_f64().unwrap() - 1_530.0).abs() < 1.0,
        "{card}"
    );
    assert_eq!(
        pot.piece(id)["mark_c"],
        71.1,
        "cut small, it is ground meat's"
    );
}
