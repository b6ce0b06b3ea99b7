//! What the tests of cures have in common.

use super::Program;
use serde_json::{Value, json};
use tempfile::TempDir;

/// A household of its own on a day of its own.
pub fn on(day: &str) -> Program {
    Program::on(TempDir::new().unwrap(), &["--now", day])
}

/// The same household on another day.
pub fn later(program: Program, day: &str) -> Program {
    program.killed_and_started(&["--now", day])
}

/// A case of one cut; its lot.
pub fn came(program: &Program, species: &str, cut: &str, grams: f64, wild: bool) -> i64 {
    let received = json!([{
        "act": "received", "name": format!("{species} {cut}"), "species": species,
        "origin": if wild { "harvested" } else { "bought" },
        "known": "bought_cut", "cut": cut, "reading": format!("{grams} g"), "portion": "case", "count": 1,
    }]);
    program.kept(received).ok()["lots"][0].as_i64().unwrap()
}

/// A piece that has its product.
pub fn piece(program: &Program, lot: i64, cut: &str, (g, mm): (f64, f64), build: &str) -> i64 {
    let weighed = json!([{"act": "piece_weighed", "lot": lot, "cut": cut, "reading": format!("{g} g"), "thickness": format!("{mm} mm")}]);
    let id = program.kept(weighed).ok()["pieces"][0].as_i64().unwrap();
    let assigned = json!([{"act": "assigned", "piece": id, "build": build, "reason": "it is what we want of it"}]);
    program.kept(assigned).ok();
    id
}

/// What a card of a piece shows.
pub fn card(program: &Program, id: i64) -> Value {
    program.get(&format!("/pieces/{id}")).ok()["card"].clone()
}

/// Asserts that a number is another, but for so much.
pub fn near(got: &Value, want: f64, by: f64, why: &str) {
    let got = got.as_f64().unwrap_or_else(|| panic!("{why}: {got}"));
    assert!((got - want).abs() <= by, "{why}: got {got}, want {want}");
}

/// The codes of findings.
pub fn codes(list: &Value) -> Vec<String> {
    let list = list.as_array().into_iter().flatten();
    list.map(|f| f["code"].as_str().unwrap().to_string())
        .collect()
}

/// How many hours a piece lies in its salt.
pub fn hours(program: &Program, id: i64) -> f64 {
    card(program, id)["cure"]["hours"].as_f64().unwrap()
}
