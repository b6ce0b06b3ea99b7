//! Runs in smoker, oven and pot, over HTTP on a clock that is moved.

mod support;

use serde_json::{Value, json};
use support::Program;
use support::cures::codes;
use support::smoke::{Smoked, at, belly, verdict, waits};
use tempfile::TempDir;

fn household() -> Program {
    Program::practice(&at("07:00"))
}

#[test]
fn a_smoke_day_with_four_pieces_and_three_probes() {
    let program = household();
    let smoker = program.equip(json!([{
        "kind": "smoker", "name": "drum", "count": 1, "holds": 10.0, "shelves": 2, "zones": ["near", "far"], "fuel": "charcoal", "height_mm": 150.0,
    }]))[0];
    let slabs = [
        belly(&program, 2_200.0, 40.0),
        belly(&program, 2_000.0, 36.0),
    ];
    let loin = waits(
        &program,
        "pig",
        ("loin", "back-smoked"),
        (1_900.0, 70.0),
        2.3,
    );
    let thin = belly(&program, 900.0, 22.0);
    let pieces = [slabs[0], slabs[1], loin, thin];
    let plan = program
        .post(
            "/runs/plan",
            &json!({"place": smoker, "pieces": pieces, "school": "low"}),
        )
        .ok();
    let first = &plan["pieces"][0];
    assert_eq!(
        (first["id"].as_i64(), plan["hearth"].as_str()),
        (Some(thin), Some("smoker"))
    );
    assert_eq!(codes(&plan["findings"]), ["outdoors_only"]);
    let drum = Smoked::set_up(
        &program,
        json!({"place": smoker, "pieces": pieces, "school": "low"}),
    );
    for (piece, zone, shelf) in [(loin, "far", 1), (thin, "far", 2), (slabs[1], "near", 2)] {
        drum.act(json!({"act": "loaded", "piece": piece, "zone": zone, "shelf": shelf}));
    }
    drum.act(json!({"act": "probe_set", "probe": 1, "piece": slabs[0]}));
    drum.act(json!({"act": "probe_set", "probe": 2, "piece": loin}));
    drum.act(json!({"act": "probe_set", "probe": 3, "zone": "near"}));
    drum.act(json!({"act": "probe_checked", "probe": 1, "bath": "ice", "read": "0.5 C"}));
    drum.act(json!({"act": "stage_begun"}));
    drum.act(json!({"act": "lit", "kind": "tube", "wood": "beech", "grams": "250 g", "burns": 3}));
    program.to(&at("08:30"));
    drum.read(3, &[("07:20", 54.0), ("08:00", 56.0), ("08:28", 56.0)]);
    drum.read(1, &[("07:20", 7.5), ("08:00", 17.5)]);
    // two readings tell nothing yet
    let slab = drum.piece(slabs[0]);
    assert_eq!(codes(&slab["forecast"]["findings"]), ["too_few_readings"]);
    assert!(slab["forecast"]["at"].is_null());
    drum.read(1, &[("08:28", 24.5)]);
    // the stage went on for an hour and a half, and rings
    assert_eq!(drum.alarms(), ["stage:0:1.00h"]);
    drum.act(json!({"act": "stage_begun"}));
    assert_eq!(drum.alarms(), Vec::<String>::new());
    program.to(&at("10:31"));
    drum.read(
        3,
        &[
            ("08:50", 78.0),
            ("09:30", 81.0),
            ("10:10", 80.0),
            ("10:30", 80.0),
        ],
    );
    // 0.5 too high in ice: half a degree less counts
    drum.read(
        1,
        &[
            ("08:50", 30.5),
            ("09:30", 42.5),
            ("10:10", 51.4),
            ("10:30", 55.1),
        ],
    );
    drum.read(
        2,
        &[
            ("08:50", 14.0),
            ("09:30", 20.0),
            ("10:10", 26.0),
            ("10:30", 29.0),
        ],
    );
    let slab = drum.piece(slabs[0]);
    assert_eq!(slab["inside"]["celsius"], 54.6);
    let forecast = &slab["forecast"];
    let [low, mid, high] = ["low", "at", "high"].map(|k| forecast[k].as_str().unwrap().to_string());
    assert!(low < mid && mid < high, "{low} {mid} {high}");
    assert!((at("10:50")..at("11:20")).contains(&mid), "{mid}");
    // the one beside it has no probe and is of like thickness; the thin one has no neighbour
    let beside = drum.piece(slabs[1]);
    assert_eq!(beside["range_low_c"], 52.6);
    assert_eq!(beside["range_high_c"], 56.6);
    assert!(drum.piece(thin)["range_low_c"].is_null());
    // no more than five degrees to go: told before the mark, with its reason; the neighbour too
    let near = |piece: i64| format!("near:{piece}:60.0");
    assert!(
        !drum.alarms().contains(&near(slabs[0])),
        "5.4 to go, and half an hour"
    );
    assert!(drum.alarms().contains(&format!("fire:{}", fire_of(&drum))));
    drum.act(json!({"act": "burnt_out"}));
    program.to(&at("10:41"));
    drum.read(1, &[("10:40", 56.5)]);
    assert_eq!(drum.alarms(), [near(slabs[0]), near(slabs[1])]);
    let ringing = program.get("/runs/alarms").ok()["alarms"].clone();
    let said = ringing[0]["message"].as_str().unwrap();
    assert!(
        said.contains("60 °C") && said.contains("cooked before eating"),
        "{said}"
    );
    drum.act(json!({"act": "answered", "alarm": near(slabs[0])}));
    drum.act(json!({"act": "answered", "alarm": near(slabs[1])}));
    // moved on to the thick end of another piece
    drum.act(
        json!({"act": "spot_checked", "piece": slabs[0], "read": ["60.6 C", "60.1 C", "61 C"]}),
    );
    drum.act(json!({"act": "probe_set", "probe": 1, "piece": slabs[1]}));
    assert_eq!(drum.piece(slabs[0])["record"]["celsius"], 60.1);
    drum.act(json!({"act": "swapped", "piece": slabs[1], "with": loin}));
    assert_eq!(drum.piece(loin)["zone"], "near");
    // two on the scale at once, shared out by what each weighed; what was checked is what is written down
    let pulled = drum.pull(&[slabs[0]], 2_050.0).ok();
    assert!(
        pulled["said"].as_str().unwrap().contains("60.1 °C inside"),
        "{pulled}"
    );
    drum.act(json!({"act": "spot_checked", "piece": thin, "read": ["63 C", "62 C"]}));
    let both = drum.pull(&[slabs[1], thin], 2_700.0);
    // nobody checked the second: that is asked, and kept
    assert_eq!(both.status, 409);
    assert_eq!(codes(&both.body["findings"]), ["heat_not_recorded"]);
    program
        .kept(json!([{"act": "smoked", "pieces": [slabs[1], thin], "run": drum.id, "reading": "2700 g"}]))
        .ok();
    let card = |id| {
        program.get(&format!("/pieces/{id}")).ok()["card"]["mass_g"]
            .as_f64()
            .unwrap()
    };
    assert!((card(slabs[1]) + card(thin) - 2_700.0).abs() < 1e-9);
    assert_eq!(
        drum.view()["pieces"]
            .as_array()
            .unwrap()
            .iter()
            .filter(|p| p["left"].is_null())
            .count(),
        1
    );
    // under its target it is cooked before eating; a rest that comes to it makes it ready
    assert_eq!(verdict(&program, slabs[0]).0, "cook_before_eating");
    let far = program.did(json!([{"act": "rested", "piece": slabs[0], "peak": "74 C"}]));
    assert_eq!(codes(&far.body["findings"]), ["carry_over_unusual"]);
    program
        .did(json!([{"act": "rested", "piece": slabs[0], "peak": "62.9 C", "rest": "12 min"}]))
        .ok();
    assert_eq!(
        verdict(&program, slabs[0]),
        ("ready_to_eat".into(), "cooked".into())
    );
    // its clock of cooling runs from the pull on
    let cooling = drum.piece(slabs[0])["cooling"].clone();
    assert_eq!(
        (cooling["since"].as_str(), cooling["first_by"].as_str()),
        (Some(&*at("10:41")), Some(&*at("12:11")))
    );
    assert!(drum.piece(slabs[0])["firm_from"].as_str().unwrap() >= &*at("22:41"));
    program.to(&at("14:00"));
    program
        .did(json!([{"act": "cooled", "piece": slabs[0], "inside": "31 C", "hours": 3.3}]))
        .ok();
    assert_eq!(verdict(&program, slabs[0]).0, "cook_before_eating");
    // over with a piece in it is asked
    let over = drum.try_act(json!({"act": "ended"}));
    assert_eq!(codes(&over.body["findings"]), ["still_aboard"]);
    // undone, a piece lies where it lay
    let entry = pulled["entries"][0].as_i64().unwrap();
    assert_eq!(
        program
            .post(&format!("/entries/{entry}/undo"), &json!({}))
            .status,
        409,
        "what came later stands in the way"
    );
    drum.keep(json!({"act": "ended"}));
    assert_eq!(drum.try_act(json!({"act": "paused"})).status, 422);
}

fn fire_of(drum: &Smoked<'_>) -> i64 {
    drum.view()["fires"][0]["no"].as_i64().unwrap()
}

#[test]
fn what_cannot_be_or_hurts_is_refused_asked_about_or_wants_a_reason() {
    let program = household();
    let smoker = program.equip(json!([
        {"kind": "smoker", "name": "small box", "count": 1, "holds": 3.0, "height_mm": 60.0},
        {"kind": "fridge", "name": "fridge", "count": 1, "holds": 30.0},
    ]));
    let slab = belly(&program, 2_000.0, 40.0);
    let other = belly(&program, 1_800.0, 65.0);
    let weak = waits(
        &program,
        "pig",
        ("belly", "belly-slab"),
        (1_500.0, 35.0),
        0.8,
    );
    let plain = waits(
        &program,
        "pig",
        ("belly", "belly-slab-plain"),
        (1_400.0, 35.0),
        0.0,
    );
    let hog = program.half_hog();
    let raw = program.piece(hog, "belly", "2 kg", "40 mm");
    let cold = json!([{"kind": "cold_smoke", "set": "18 C", "hours": 4}]);
    let set_up = |more: Value| {
        let mut ask = json!({"name": "box", "stages": [{"kind": "smoke", "set": "90 C"}]});
        for (k, v) in more.as_object().unwrap() {
            ask[k] = v.clone();
        }
        program.post("/runs", &ask)
    };
    // (what, status, field or code)
    #[rustfmt::skip]
    let refused = [
        (json!({"place": smoker[1]}), 422, "place"),
        (json!({"place": 99}), 422, "place"),
        (json!({"pieces": [raw]}), 422, "pieces[0]"),
        (json!({"pieces": [9_999]}), 404, ""),
        (json!({"pieces": [slab, slab]}), 422, "pieces"),
        (json!({"stages": [{"kind": "smoke", "set": "900 C"}]}), 422, "stages[0].set"),
        (json!({"stages": [{"kind": "cold_smoke", "set": "45 C"}]}), 422, "stages[0].set"),
        (json!({"stages": [{"kind": "smoke", "set": "warm"}]}), 422, "stages[0].set"),
        (json!({"stages": [{"kind": "smoke", "hours": 0}]}), 422, "stages[0].hours"),
        (json!({"stages": [{"kind": "finish", "hours": 1, "inside": "60 C"}]}), 422, "stages[0].inside"),
        (json!({"happened_at": "2027-01-01T00:00"}), 422, "happened_at"),
        // too little nitrite, or none, for cold smoke: a reason lifts it
        (json!({"pieces": [weak], "stages": cold}), 422, "nitrite_below_floor"),
        (json!({"pieces": [plain], "stages": cold}), 422, "no_nitrite_hazard"),
        // a chamber that never gets there, more than it takes, a lid that does not shut
        (json!({"pieces": [slab], "stages": [{"kind": "finish", "set": "58 C"}]}), 409, "chamber_below_target"),
        (json!({"pieces": [slab, other], "place": smoker[0]}), 409, "over_load"),
        (json!({"pieces": [other], "place": smoker[0]}), 409, "lid_open"),
    ];
    for (ask, status, what) in refused {
        let answer = set_up(ask.clone());
        assert_eq!(answer.status, status, "{ask}: {}", answer.body);
        let fields: Vec<_> = answer.body["errors"]
            .as_array()
            .into_iter()
            .flatten()
            .collect();
        let fields: Vec<_> = fields
            .iter()
            .map(|e| e["field"].as_str().unwrap().to_string())
            .collect();
        let found = codes(&answer.body["findings"]);
        assert!(
            what.is_empty() || fields.iter().any(|f| f == what) || found.iter().any(|c| c == what),
            "{ask}: {}",
            answer.body
        );
    }
    let reasoned = json!({"pieces": [weak], "stages": cold, "reason": "an old dry recipe of the house", "keep_as_typed": true});
    let run = set_up(reasoned).ok()["run"].as_i64().unwrap();
    let odd = Smoked {
        program: &program,
        id: run,
    };
    assert_eq!(codes(&odd.piece(weak)["kept"]), ["nitrite_below_floor"]);
    // hot enough from the start it is no hazard
    let hot = set_up(json!({"pieces": [slab]})).ok()["run"]
        .as_i64()
        .unwrap();
    let hot = Smoked {
        program: &program,
        id: hot,
    };
    // (act, status, field)
    #[rustfmt::skip]
    let acts = [
        (json!({"act": "loaded", "piece": weak}), "piece", 422),
        (json!({"act": "loaded", "piece": slab, "shelf": 0}), "shelf", 422),
        (json!({"act": "swapped", "piece": slab, "with": slab}), "with", 422),
        (json!({"act": "swapped", "piece": slab, "with": other}), "with", 422),
        (json!({"act": "taken_out", "piece": other}), "piece", 422),
        (json!({"act": "stage_begun", "stage": 7}), "stage", 422),
        (json!({"act": "resumed"}), "act", 422),
        (json!({"act": "paused"}), "act", 422),
        (json!({"act": "probe_set", "probe": 0, "piece": slab}), "probe", 422),
        (json!({"act": "probe_set", "probe": 2, "piece": other}), "piece", 422),
        (json!({"act": "probe_set", "probe": 2, "piece": slab, "zone": "left"}), "zone", 422),
        (json!({"act": "probe_checked", "probe": 1, "bath": "ice", "read": "150 C"}), "read", 422),
        (json!({"act": "probe_checked", "probe": 1, "bath": "boiling", "read": "99 C", "altitude_m": 90_000}), "altitude_m", 422),
        (json!({"act": "spot_checked", "piece": slab, "read": []}), "read", 422),
        (json!({"act": "spot_checked", "piece": slab, "read": ["200 C"]}), "read", 422),
        (json!({"act": "chamber_read", "warmth": "hot"}), "warmth", 422),
        (json!({"act": "lit", "kind": "pellets", "wood": "heating pellets"}), "wood", 422),
        (json!({"act": "lit", "kind": "chunks", "wood": "pine"}), "wood", 422),
        (json!({"act": "lit", "kind": "chunks", "wood": "treated fence"}), "wood", 422),
        (json!({"act": "burnt_out"}), "fire", 422),
        (json!({"act": "seen", "what": "other"}), "note", 422),
        (json!({"act": "struck", "event": 1}), "event", 422),
    ];
    for (act, field, status) in acts {
        let answer = hot.try_act(act.clone());
        assert_eq!(answer.status, status, "{act}: {}", answer.body);
        answer.field(&format!("acts[0].{field}"));
    }
    hot.act(json!({"act": "probe_set", "probe": 1, "piece": slab}));
    assert_eq!(
        hot.try_act(json!({"act": "probe_set", "probe": 2, "piece": slab}))
            .status,
        422
    );
    hot.act(json!({"act": "stage_begun"}));
    // far off its setting is asked, and so is meat that is warmer than all around it
    let off = hot.try_act(json!({"act": "chamber_read", "warmth": "118 C"}));
    assert_eq!(codes(&off.body["findings"]), ["chamber_off"]);
    hot.act(json!({"act": "chamber_read", "warmth": "88 C"}));
    let over = hot.try_act(json!({"act": "spot_checked", "piece": slab, "read": ["95 C"]}));
    assert_eq!(codes(&over.body["findings"]), ["warmer_than_chamber"]);
    assert_eq!(
        program
            .post(
                &format!("/runs/{}/readings", hot.id),
                &json!({"readings": [{"probe": 1, "temperature": "900"}]})
            )
            .status,
        422
    );
    assert_eq!(
        program
            .post(
                "/runs/77/readings",
                &json!({"readings": [{"probe": 1, "temperature": "50"}]})
            )
            .status,
        404
    );
    assert_eq!(program.get("/runs/77").status, 404);
    // a run that it never lay in gives no inside
    let wrong =
        program.did(json!([{"act": "smoked", "piece": other, "run": hot.id, "reading": "1.7 kg"}]));
    assert_eq!(wrong.status, 422);
    wrong.field("run");
    // at once it cannot be that warm; hours later, more than was ever read there is asked about
    let soon = hot.try_act(json!({"act": "spot_checked", "piece": slab, "read": ["61 C"]}));
    assert_eq!(codes(&soon.body["findings"]), ["heats_too_fast"]);
    program.to("2026-12-05T11:30:00Z");
    hot.act(json!({"act": "spot_checked", "piece": slab, "read": ["61 C"]}));
    let typed = program.did(json!([{"act": "smoked", "piece": slab, "run": hot.id, "reading": "1.8 kg", "inside": "71 C"}]));
    assert_eq!(codes(&typed.body["findings"]), ["unlike_its_probe"]);
}

#[test]
fn a_probe_out_of_the_meat_never_makes_a_piece_ready_and_a_file_of_it_says_what_is_wrong() {
    let program = household();
    let slab = waits(
        &program,
        "pig",
        ("loin", "back-smoked"),
        (1_900.0, 60.0),
        2.3,
    );
    let drum = Smoked::set_up(
        &program,
        json!({"name": "drum", "pieces": [slab], "stages": [{"kind": "finish", "set": "95 C"}]}),
    );
    drum.act(json!({"act": "probe_set", "probe": 1, "piece": slab}));
    drum.act(json!({"act": "probe_set", "probe": 2, "zone": "chamber"}));
    drum.act(json!({"act": "stage_begun"}));
    program.to(&at("10:00"));
    let mut file = String::from("time;meat probe 1;air probe 2;humidity\n");
    let row = |minute: i64, c: f64| {
        format!(
            "2026-12-05 {:02}:{:02}:00;{c:.1};94.0;\n",
            7 + minute / 60,
            minute % 60
        )
    };
    for minute in 1..160 {
        let meat = 4.0 + 0.28 * minute as f64;
        // in the second hour it slips out for a while; one row is nonsense
        file += &row(
            minute,
            if (100..130).contains(&minute) {
                94.5
            } else {
                meat
            },
        );
    }
    file +=
        "2026-12-05 09:50:00;warm;94;\n2026-12-05 23:00:00;60;94;\n2026-12-04 23:00:00;60;94;\n";
    let path = format!("/runs/{}/file", drum.id);
    let look = program
        .send(&format!("{path}/look"), "text/csv", file.as_bytes())
        .ok();
    assert_eq!(look["probes"][0]["probe"], 1);
    assert_eq!(
        look["probes"][1]["readings"], 160,
        "the row of a broken probe has its air"
    );
    assert_eq!(
        (look["refused_in_all"].as_i64(), look["before"].as_i64()),
        (Some(3), Some(2)),
        "{look}"
    );
    let taken = program.send(&path, "text/csv", file.as_bytes()).ok();
    assert_eq!(taken["added"], 319);
    let again = program.send(&path, "text/csv", file.as_bytes()).ok();
    assert_eq!(
        (again["added"].as_i64(), again["doubled"].as_i64()),
        (Some(0), Some(319))
    );
    let seen = drum.piece(slab);
    assert_eq!(seen["faults"][0]["kind"], "out_of_meat");
    assert_eq!(seen["faults"][0]["until"], at("09:10"));
    let highest = seen["record"]["celsius"].as_f64().unwrap();
    assert!(highest < 50.0, "{highest}");
    // a chamber in the other order, by hand
    let swapped = program
        .send(
            &format!("{path}/look?probes=1:2,2:1"),
            "text/csv",
            file.as_bytes(),
        )
        .ok();
    assert_eq!(swapped["probes"][0]["high_c"], 94.0);
    assert_eq!(
        program
            .send(
                &format!("{path}/look?probes=x"),
                "text/csv",
                file.as_bytes()
            )
            .status,
        422
    );
    // struck out, with a reason
    let strike = |reason: &str| {
        let ask = json!({"probe": 1, "from": at("09:00"), "to": at("09:20"), "reason": reason});
        program.post(&format!("/runs/{}/strike", drum.id), &ask)
    };
    assert_eq!(strike("no").status, 422);
    assert_eq!(strike("it lay on the grate").ok()["struck"], 21);
    assert_eq!(strike("it lay on the grate").status, 409);
    // pulled, it stays what was read
    let pulled = drum.pull(&[slab], 1_700.0);
    assert_eq!(codes(&pulled.body["findings"]), ["under_safe_heat"]);
    program
        .kept(json!([{"act": "smoked", "piece": slab, "run": drum.id, "reading": "1.7 kg"}]))
        .ok();
    assert_eq!(verdict(&program, slab).0, "cook_before_eating");
    // and is brought further in the oven: another run, and then it is ready
    let oven = Smoked::set_up(&program, json!({"hearth": "oven", "pieces": [slab]}));
    program.to(&at("11:00"));
    oven.act(json!({"act": "spot_checked", "piece": slab, "read": ["64 C", "63.2 C"]}));
    oven.pull(&[slab], 1_640.0).ok();
    assert_eq!(
        verdict(&program, slab),
        ("ready_to_eat".into(), "cooked".into())
    );
    let curve = program.get(&format!("/runs/{}/curve", drum.id)).ok();
    assert_eq!(curve["pieces"][0]["mark_c"], 62.8);
    assert_eq!(
        curve["pieces"][0]["minute"].as_array().unwrap().len(),
        159 - 30 - 11,
        "out of the meat, and struck out beside it"
    );
}

#[test]
fn cold_today_and_hot_tomorrow_in_one_run_that_pauses_or_in_two() {
    let program = household();
    let slabs = [
        waits(
            &program,
            "pig",
            ("butt", "shoulder-slab"),
            (2_400.0, 50.0),
            2.3,
        ),
        waits(
            &program,
            "pig",
            ("butt", "shoulder-slab"),
            (2_100.0, 45.0),
            2.3,
        ),
    ];
    let one = Smoked::set_up(
        &program,
        json!({"name": "cabinet", "pieces": [slabs[0]], "school": "low"}),
    );
    let kinds: Vec<String> = one.view()["stages"]
        .as_array()
        .unwrap()
        .iter()
        .map(|s| s["kind"].as_str().unwrap().into())
        .collect();
    assert_eq!(kinds, ["cold_smoke", "rest", "dry", "smoke", "finish"]);
    let first = Smoked::set_up(
        &program,
        json!({"name": "shed", "pieces": [slabs[1]], "stages": [{"kind": "cold_smoke", "set": "16 C", "hours": 5}]}),
    );
    for run in [&one, &first] {
        run.act(json!({"act": "stage_begun"}));
    }
    program.to(&at("12:30"));
    one.act(json!({"act": "paused"}));
    first.act(json!({"act": "taken_out", "piece": slabs[1]}));
    first.act(json!({"act": "ended"}));
    assert_eq!(one.view()["stages"][0]["minutes"], 330.0);
    program.to("2026-12-06T08:00:00Z");
    // a night's pause is no smoke
    assert_eq!(one.view()["stages"][0]["minutes"], 330.0);
    one.act(json!({"act": "stage_begun", "stage": 3}));
    let hot = Smoked::set_up(
        &program,
        json!({"name": "shed", "pieces": [slabs[1]], "stages": [{"kind": "smoke", "set": "85 C"}]}),
    );
    hot.act(json!({"act": "stage_begun"}));
    program.to("2026-12-06T12:00:00Z");
    for (run, slab) in [(&one, slabs[0]), (&hot, slabs[1])] {
        run.act(json!({"act": "spot_checked", "piece": slab, "read": ["61 C", "60.4 C"]}));
        run.pull(&[slab], 2_000.0).ok();
        let way = program.get(&format!("/pieces/{slab}")).ok()["steps"].clone();
        let done: Vec<&str> = way
            .as_array()
            .unwrap()
            .iter()
            .filter(|s| !s["done_at"].is_null())
            .map(|s| s["id"].as_str().unwrap())
            .collect();
        assert!(
            done.contains(&"cold_smoke") && done.contains(&"smoke"),
            "{way}"
        );
    }
}

#[test]
fn a_lost_answer_writes_once_an_old_page_is_told_and_a_killed_program_knows_all_of_it() {
    let program = household();
    let slab = belly(&program, 2_000.0, 40.0);
    let ask =
        json!({"name": "drum", "pieces": [slab], "stages": [{"kind": "smoke", "set": "90 C"}]})
            .to_string();
    let key = [("Idempotency-Key", "a-key-of-its-own-1")];
    let first = program.ask("POST", "/api/v1/runs", &key, Some(&ask)).ok();
    let second = program.ask("POST", "/api/v1/runs", &key, Some(&ask)).ok();
    assert_eq!(
        (&first["run"], &second["repeated"]),
        (&second["run"], &json!(true))
    );
    let other = json!({"name": "box"}).to_string();
    assert_eq!(
        program
            .ask("POST", "/api/v1/runs", &key, Some(&other))
            .status,
        409
    );
    assert_eq!(
        program.get("/runs").ok()["open"].as_array().unwrap().len(),
        1
    );
    let drum = Smoked {
        program: &program,
        id: first["run"].as_i64().unwrap(),
    };
    let seen = drum.view()["version"].as_i64().unwrap();
    drum.act(json!({"act": "seen", "what": "water_pan"}));
    let late = program.post(
        &format!("/runs/{}/acts", drum.id),
        &json!({"acts": [{"act": "paused"}], "seen": seen}),
    );
    assert_eq!(late.status, 409);
    assert_eq!(late.body["entries"][0]["what"], "water pan filled");
    // all or none
    let half = json!({"acts": [{"act": "seen", "what": "misted"}, {"act": "resumed"}]});
    assert_eq!(
        program
            .post(&format!("/runs/{}/acts", drum.id), &half)
            .status,
        422
    );
    drum.act(json!({"act": "probe_set", "probe": 1, "piece": slab}));
    drum.act(json!({"act": "stage_begun"}));
    program.to(&at("09:00"));
    drum.read(1, &[("07:30", 9.0), ("08:00", 16.0), ("08:30", 24.0)]);
    let line = drum.view()["lines"]
        .as_array()
        .unwrap()
        .iter()
        .find(|l| l["said"] == "water pan filled")
        .unwrap()["no"]
        .clone();
    drum.act(json!({"act": "struck", "event": line}));
    let before = drum.view();
    let id = drum.id;
    let program = program.killed_and_started(&["--now", &at("09:00")]);
    let drum = Smoked {
        program: &program,
        id,
    };
    assert_eq!(drum.view(), before);
    assert_eq!(
        drum.view()["lines"]
            .as_array()
            .unwrap()
            .iter()
            .filter(|l| l["struck"] == true)
            .count(),
        1
    );
    // pulled and taken back, it lies where it lay
    let pulled = program.kept(json!([{"act": "smoked", "piece": slab, "run": id, "reading": "1.9 kg", "inside": "61 C"}])).ok();
    assert!(!drum.piece(slab)["left"].is_null());
    let entry = pulled["entries"][0].as_i64().unwrap();
    program
        .post(&format!("/entries/{entry}/undo"), &json!({}))
        .ok();
    assert!(drum.piece(slab)["left"].is_null());
}

#[test]
fn whoever_only_weighs_a_piece_takes_it_out_of_its_run_and_what_hangs_lies_in_none() {
    let program = household();
    let (slab, ham) = (
        belly(&program, 2_000.0, 40.0),
        waits(
            &program,
            "pig",
            ("leg_muscle", "ham-aged"),
            (1_600.0, 60.0),
            2.3,
        ),
    );
    let drum = Smoked::set_up(
        &program,
        json!({"name": "drum", "pieces": [slab, ham], "stages": [{"kind": "smoke", "set": "90 C"}]}),
    );
    drum.act(json!({"act": "stage_begun"}));
    program.to(&at("11:00"));
    drum.act(json!({"act": "spot_checked", "piece": slab, "read": ["61.2 C", "60.7 C"]}));
    // by the scale alone, as at the station: what was read in its run is its inside all the same
    let pulled = program
        .did(json!([{"act": "smoked", "piece": slab, "reading": "1.85 kg"}]))
        .ok();
    assert!(
        pulled["said"].as_str().unwrap().contains("60.7 °C inside"),
        "{pulled}"
    );
    assert_eq!(drum.piece(slab)["weighed"], true);
    drum.act(json!({"act": "spot_checked", "piece": ham, "read": ["66 C"]}));
    program
        .kept(json!([{"act": "smoked", "piece": ham, "reading": "1.4 kg"}]))
        .ok();
    program
        .kept(json!([{"act": "hung", "piece": ham, "reading": "1.41 kg", "tare": "10 g"}]))
        .ok();
    let again = drum.try_act(json!({"act": "loaded", "piece": ham}));
    again.field("acts[0].piece");
    // what lies in one fire is not laid into another
    let other = Smoked::set_up(
        &program,
        json!({"name": "box", "stages": [{"kind": "smoke", "set": "90 C"}]}),
    );
    let third = belly(&program, 1_500.0, 35.0);
    drum.act(json!({"act": "loaded", "piece": third}));
    let twice = other.try_act(json!({"act": "loaded", "piece": third}));
    assert!(twice.field("acts[0].piece").contains("lies in drum now"));
}

#[test]
fn the_probes_for_practice_follow_the_clock_and_every_fault_has_a_word() {
    let program = Program::on(
        TempDir::new().unwrap(),
        &["--practice", "--now", &at("07:00")],
    );
    let smoker = program.equip(json!([{"kind": "smoker", "name": "drum", "count": 1, "holds": 10.0, "sensor": "practice"}]))[0];
    let slabs = [
        belly(&program, 2_000.0, 38.0),
        belly(&program, 2_300.0, 46.0),
        belly(&program, 2_300.0, 52.0),
    ];
    let drum = Smoked::set_up(
        &program,
        json!({"place": smoker, "pieces": slabs, "stages": [{"kind": "smoke", "set": "92 C"}]}),
    );
    for (probe, slab) in (1..).zip(slabs) {
        drum.act(json!({"act": "probe_set", "probe": probe, "piece": slab}));
    }
    drum.act(json!({"act": "probe_set", "probe": 4, "zone": "chamber"}));
    drum.act(json!({"act": "stage_begun"}));
    let wait = |what: &str, is: &dyn Fn(&Value) -> bool| {
        let end = std::time::Instant::now() + std::time::Duration::from_secs(20);
        loop {
            let view = drum.view();
            if is(&view) {
                return view;
            }
            assert!(std::time::Instant::now() < end, "never: {what}: {view}");
            std::thread::sleep(std::time::Duration::from_millis(100));
        }
    };
    program.to(&at("10:00"));
    let inside = |v: &Value, i: usize| v["pieces"][i]["inside"]["celsius"].as_f64().unwrap_or(0.0);
    let view = wait("three hours of readings", &|v| {
        v["pieces"][0]["inside"]["at"]
            .as_str()
            .is_some_and(|t| t > &*at("09:55"))
    });
    // by their thickness; the third slipped out of its meat after two hours and a half
    assert!(inside(&view, 0) > inside(&view, 1), "{view}");
    assert_eq!(view["pieces"][2]["faults"][0]["kind"], "out_of_meat");
    assert!(inside(&view, 2) < inside(&view, 1));
    assert!(
        view["alarms"]
            .as_array()
            .unwrap()
            .iter()
            .any(|a| a["kind"] == "probe")
    );
    let sensor = &view["sensor"];
    assert!(
        sensor["doubled"].as_i64() > Some(5) && sensor["garbled"].as_i64() > Some(2),
        "{sensor}"
    );
    // set again it is read again
    drum.act(json!({"act": "probe_set", "probe": 3, "piece": slabs[2]}));
    program.to(&at("10:20"));
    let view = wait("read again", &|v| {
        v["pieces"][2]["inside"]["at"]
            .as_str()
            .is_some_and(|t| t > &*at("10:10"))
    });
    assert!(inside(&view, 2) > 30.0, "{}", inside(&view, 2));
    // a real household never takes what is made up
    let real = Program::on(TempDir::new().unwrap(), &["--now", &at("07:00")]);
    let mut home = real.get("/settings").ok()["household"].clone();
    home["equipment"] = json!({
        "scales": [], "bags": [], "oven": true, "grinder": true, "stuffer": true,
        "places": [{"kind": "smoker", "name": "drum", "count": 1, "holds": 10.0, "sensor": "practice"}],
    });
    let put = real.ask("PUT", "/api/v1/settings", &[], Some(&home.to_string()));
    put.field("equipment.places[0].sensor");
}

#[test]
fn a_mild_stage_before_a_hot_one_is_no_mistake() {
    let program = Program::practice(&at("06:00"));
    let slab = belly(&program, 2_000.0, 40.0);
    let stages = json!([{"kind": "dry", "set": "55 C"}, {"kind": "finish", "set": "95 C"}]);
    let fire = Smoked::set_up(
        &program,
        json!({"hearth": "smoker", "pieces": [slab], "stages": stages}),
    );
    fire.act(json!({"act": "probe_set", "probe": 1, "piece": slab}));
    fire.act(json!({"act": "stage_begun"}));
    program.to(&at("08:00"));
    fire.read(
        1,
        &[
            ("06:10", 5.0),
            ("06:50", 12.0),
            ("07:20", 19.0),
            ("07:50", 26.0),
        ],
    );
    let said = || codes(&fire.piece(slab)["forecast"]["findings"]);
    assert_eq!(said(), ["hotter_later"]);
    fire.act(json!({"act": "staged", "stages": [{"kind": "dry", "set": "55 C"}]}));
    assert_eq!(said(), ["chamber_below_target"]);
}
