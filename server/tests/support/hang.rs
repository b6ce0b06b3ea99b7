//! What the tests of hanging have in common.

use super::Program;
use serde_json::{Value, json};

/// A household with its places: a chamber, a fridge to dry in, a room, a cold fridge; their numbers in that order.
pub fn household(now: &str) -> (Program, [i64; 4]) {
    let program = Program::practice(now);
    let places = program.equip(json!([
        {"kind": "chamber", "name": "chamber", "count": 1, "holds": 12.0},
        {"kind": "drying_fridge", "name": "old fridge", "count": 1, "holds": 8.0},
        {"kind": "hanging_room", "name": "back room", "count": 1, "holds": 6.0},
        {"kind": "fridge", "name": "fridge", "count": 1, "holds": 80.0},
    ]));
    (program, places.try_into().unwrap())
}

/// The hanging sheet.
pub fn sheet(program: &Program) -> Value {
    program.get("/hang").ok()
}

/// A hook of it.
pub fn hook(program: &Program, piece: i64) -> Value {
    let sheet = sheet(program);
    let mut all = sheet["hooks"].as_array().unwrap().iter();
    all.find(|h| h["id"] == piece)
        .unwrap_or_else(|| panic!("{piece} does not hang"))
        .clone()
}

/// What gives pause at a hook.
pub fn pauses(program: &Program, piece: i64) -> Vec<String> {
    super::cures::codes(&hook(program, piece)["findings"])
}

/// The clock is moved, and everything on a hook is weighed by what the made-up hooks show.
pub fn weighed_on(program: &Program, moment: &str) {
    program.to(moment);
    let sheet = sheet(program);
    let acts: Vec<Value> = sheet["hooks"]
        .as_array()
        .unwrap()
        .iter()
        .map(|h| json!({"act": "weighed_in", "piece": h["id"], "reading": format!("{} g", h["hook_shows_g"])}))
        .collect();
    program.did(Value::Array(acts)).ok();
}
