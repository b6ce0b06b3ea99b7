//! A household for practice: its clock is moved on by hand, everything follows, and a real one's never is.

mod support;

use serde_json::{Value, json};
use support::Program;
use tempfile::TempDir;

fn now(program: &Program) -> String {
    let settings = program.get("/settings").ok();
    settings["now"].as_str().unwrap().to_string()
}

fn moved(program: &Program, ask: Value) -> Value {
    program.post("/clock/move", &ask).ok()
}

fn due(program: &Program, kind: &str) -> Vec<String> {
    let of = |urgency: &str| {
        let page = program.get(&format!("/tasks/{urgency}")).ok();
        page["tasks"].as_array().unwrap().clone()
    };
    let mut all = of("overdue");
    all.extend(of("due"));
    all.iter()
        .filter(|t| t["task"]["kind"] == kind)
        .map(|t| t["task"]["tag"].as_str().unwrap().to_string())
        .collect()
}

#[test]
fn a_clock_for_practice_is_moved_on_and_everything_follows() {
    let program = Program::on(
        TempDir::new().unwrap(),
        &["--practice", "--now", "2026-11-02T09:00:00Z"],
    );
    let settings = program.get("/settings").ok();
    assert_eq!(
        (
            settings["practice"].as_bool(),
            settings["clock_is_pinned"].as_bool()
        ),
        (Some(true), Some(true))
    );
    let hog = program.half_hog();
    let belly = program.piece(hog, "belly", "3 kg", "40 mm");
    program
        .kept(json!([{"act": "assigned", "piece": belly, "build": "belly-slab"}]))
        .ok();
    program
        .kept(json!([{"act": "dosed", "pieces": [belly]}]))
        .ok();
    let tag = program.get(&format!("/pieces/{belly}")).ok()["card"]["tag"]
        .as_str()
        .unwrap()
        .to_string();
    assert_eq!(due(&program, "turn"), [] as [&str; 0]);
    assert_eq!(
        moved(&program, json!({"by": "1 h"}))["now"],
        "2026-11-02T10:00:00Z"
    );
    assert_eq!(
        moved(&program, json!({"by": 0.5}))["now"],
        "2026-11-02T10:30:00Z"
    );
    let morning = moved(&program, json!({"until": "next_morning"}));
    assert_eq!(
        (morning["now"].as_str(), morning["came_due"].as_u64()),
        (Some("2026-11-03T08:00:00Z"), Some(1))
    );
    assert_eq!(due(&program, "turn"), [tag.as_str()]);
    program.did(json!([{"act": "turned", "piece": belly}])).ok();
    // What is written is dated by it; the next thing due is tomorrow's turning.
    let view = program.get(&format!("/pieces/{belly}")).ok();
    assert_eq!(view["card"]["cure"]["turned"], "2026-11-03T08:00:00Z");
    assert_eq!(
        moved(&program, json!({"until": "next_due"}))["now"],
        "2026-11-04T08:00:00Z"
    );
    assert_eq!(
        moved(&program, json!({"to": "2026-11-10T07:00"}))["now"],
        "2026-11-10T07:00:00Z"
    );
    assert_eq!(due(&program, "out_of_cure"), [tag.as_str()]);
    // Killed and started again it stands where it was left; the folder stays one for practice.
    let program = program.killed_and_started(&[]);
    assert_eq!(now(&program), "2026-11-10T07:00:00Z");
    let program = program.killed_and_started(&["--now", "2026-11-05T07:00:00Z"]);
    assert_eq!(now(&program), "2026-11-10T07:00:00Z");
    // Found soft, it lies two days more.
    program
        .did(json!([{"act": "checked", "piece": belly, "check": "firmness", "grade": "soft"}]))
        .ok();
    assert_eq!(due(&program, "out_of_cure"), [] as [&str; 0]);
    let card = program.get(&format!("/pieces/{belly}")).ok()["card"].clone();
    assert_eq!(card["cure"]["out_on"], "2026-11-12");
    assert_eq!(card["cure"]["days"], 10);
    // Seven turnings were missed, and out of the cure before those two days are over is asked about.
    assert_eq!(card["cure"]["turnings"], json!({"done": 1, "wanted": 8}));
    let out = json!([{"act": "out_of_cure", "piece": belly, "reading": "3 kg"}]);
    let asked = program.did(out);
    assert_eq!(asked.status, 409, "{}", asked.body);
    assert!(
        asked.body.to_string().contains("day 8 of 10"),
        "{}",
        asked.body
    );
    for (ask, field) in [
        (json!({"to": "2026-11-09T07:00"}), "to"),
        (json!({"to": "2226-11-11T07:00"}), "to"),
        (json!({"to": "soon"}), "to"),
        (json!({"by": "-1 h"}), "by"),
        (json!({"by": "9000 days"}), "by"),
        (json!({}), "by"),
        (json!({"by": "1 h", "until": "next_due"}), "by"),
    ] {
        let answer = program.post("/clock/move", &ask);
        assert_eq!(answer.status, 422, "{ask}");
        answer.field(field);
    }
    assert_eq!(now(&program), "2026-11-10T07:00:00Z");
    // Pressed again and firm, it is done.
    moved(&program, json!({"by": "1 day"}));
    program
        .did(json!([{"act": "checked", "piece": belly, "check": "firmness", "grade": "firm"}]))
        .ok();
    assert_eq!(due(&program, "out_of_cure"), [tag.as_str()]);
}

#[test]
fn a_real_household_is_never_moved_and_never_made_one_for_practice() {
    let program = Program::start();
    let answer = program.post("/clock/move", &json!({"by": "1 h"}));
    assert_eq!(answer.status, 409);
    assert!(
        answer.body["detail"]
            .as_str()
            .unwrap()
            .contains("a real one")
    );
    program.half_hog();
    let folder = program.dead();
    let tried = support::command(
        &["serve", "--listen", "127.0.0.1:0", "--practice"],
        folder.path(),
    )
    .output()
    .unwrap();
    assert!(!tried.status.success());
    let said = String::from_utf8_lossy(&tried.stderr).to_string();
    assert!(said.contains("--practice wants an empty folder"), "{said}");
    let demo = Program::demo();
    assert_eq!(demo.get("/settings").ok()["practice"], true);
    moved(&demo, json!({"until": "next_morning"}));
}

#[test]
fn a_measured_dose_may_wait_a_brine_by_recipe_may_not_and_cold_days_do_not_count() {
    let program = Program::on(
        TempDir::new().unwrap(),
        &["--practice", "--now", "2026-11-02T09:00:00Z"],
    );
    let hog = program.half_hog();
    let piece = |cut: &str, build: &str, more: Value| {
        let id = program.piece(hog, cut, "2.5 kg", "45 mm");
        program.kept(json!([{"act": "assigned", "piece": id, "build": build, "reason": "we want it so"}])).ok();
        let mut dosed = json!({"act": "dosed", "pieces": [id], "reason": "we know what we do"});
        dosed
            .as_object_mut()
            .unwrap()
            .extend(more.as_object().unwrap().clone());
        program.kept(json!([dosed])).ok();
        id
    };
    let out = |id: i64| {
        let card = program.get(&format!("/pieces/{id}")).ok()["card"].clone();
        let tasks = card["tasks"].as_array().unwrap().clone();
        let task = tasks
            .into_iter()
            .find(|t| t["kind"] == "out_of_cure")
            .unwrap();
        (
            task["due"].as_str().unwrap().to_string(),
            task["latest"].as_str().unwrap().to_string(),
        )
    };
    let belly = piece("belly", "belly-slab", json!({}));
    let rolled = piece("loin_and_belly", "round-roll", json!({}));
    let plain = piece("belly", "belly-slab-plain", json!({}));
    let cover = piece("loin", "back-smoked", json!({"way": "cover_brine"}));
    let days = |(due, latest): &(String, String)| {
        let day = |text: &str| text.parse::<jiff::civil::Date>().unwrap();
        day(latest).since(day(due)).unwrap().get_days()
    };
    assert_eq!(
        [belly, rolled, plain, cover].map(|id| days(&out(id))),
        [14, 28, 0, 0]
    );
    // A day and a half under a degree: one whole day does not count.
    let before = out(belly);
    moved(&program, json!({"to": "2026-11-04T09:00"}));
    program.did(json!([{"act": "place_read", "place": "porch", "temperature": "0 C", "hours": 36, "piece": belly}])).ok();
    let day = |text: &str| text.parse::<jiff::civil::Date>().unwrap();
    assert_eq!(day(&out(belly).0), day(&before.0).tomorrow().unwrap());
    // The same night read twice is one night.
    moved(&program, json!({"by": "1 h"}));
    program.did(json!([{"act": "place_read", "place": "porch", "temperature": "0 C", "hours": 24, "piece": belly}])).ok();
    assert_eq!(day(&out(belly).0), day(&before.0).tomorrow().unwrap());
}

#[test]
fn what_was_practised_never_takes_a_real_households_place() {
    let demo = Program::demo();
    let file = demo.post("/backups", &json!({})).ok()["name"]
        .as_str()
        .unwrap()
        .to_string();
    let practised = demo.data.path().join("backups").join(&file);
    // A day of its own: backups are named by when they were taken.
    let program = Program::on(TempDir::new().unwrap(), &["--now", "2026-11-23T09:30:00Z"]);
    program.half_hog();
    let mine = program.post("/backups", &json!({})).ok()["name"]
        .as_str()
        .unwrap()
        .to_string();
    let real = program.data.path().join("backups").join(&mine);
    // Beside the household's own, as a file that was brought would lie.
    std::fs::copy(&practised, program.data.path().join("backups").join(&file)).unwrap();
    std::fs::copy(&real, demo.data.path().join("backups").join(&mine)).unwrap();
    for (at, name, said) in [(&program, &file, "for practice"), (&demo, &mine, "a real")] {
        for ask in ["preview", "restore"] {
            let address = format!("/backups/{name}/{ask}");
            let answer = if ask == "preview" {
                at.get(&address)
            } else {
                at.post(&address, &json!({}))
            };
            assert_eq!(answer.status, 422, "{ask} {}", answer.body);
            assert!(answer.field("file").contains(said), "{}", answer.body);
        }
    }
    assert_eq!(program.get("/lots").ok().as_array().unwrap().len(), 1);
    // The same from the shell, on a folder at rest; an empty one takes either.
    let folder = program.dead();
    let restore = |to: &std::path::Path| {
        let file = practised.to_str().unwrap();
        support::command(&["restore", file], to).output().unwrap()
    };
    let tried = restore(folder.path());
    let said = String::from_utf8_lossy(&tried.stderr).to_string();
    assert!(!tried.status.success());
    assert!(said.contains("a household for practice"), "{said}");
    let empty = TempDir::new().unwrap();
    assert!(restore(empty.path()).status.success());
}
