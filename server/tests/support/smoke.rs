//! What the tests of runs have in common.

use super::{Answer, Program};
use serde_json::{Value, json};

const DAY: &str = "2026-12-05";

/// A time of the day on which it is smoked.
pub fn at(clock: &str) -> String {
    format!("{DAY}T{clock}:00Z")
}

/// A piece that is out of its cure since yesterday and waits for the smoker: cut, product, weight (g), thickness (mm), grams of
/// curing salt on a kilogram.
pub fn waits(
    program: &Program,
    species: &str,
    (cut, build): (&str, &str),
    (grams, mm): (f64, f64),
    cure: f64,
) -> i64 {
    let reading = format!("{grams} g");
    let lines = [("cure #1", cure), ("salt", 20.0)];
    let lines: Vec<Value> = lines
        .iter()
        .filter(|(_, rate)| *rate > 0.0)
        .map(|(name, rate)| json!({"name": name, "reading": format!("{:.1} g", grams / 1_000.0 * rate)}))
        .collect();
    // Without nitrite it lies for a week at the most.
    let since = if cure > 0.0 {
        "2026-11-20T18:00"
    } else {
        "2026-11-29T18:00"
    };
    let cure = if cure > 0.0 { "cure1" } else { "none" };
    let entered = json!([{
        "act": "under_way", "cut": cut, "build": build, "at": "in_cure", "bone_in": cut == "leg", "since": since,
        "reading": reading, "thickness": format!("{mm} mm"), "weighed": {"cure": cure, "lines": lines},
        "received": {"name": format!("{species} {cut}"), "species": species, "origin": "bought", "known": "bought_cut", "cut": cut, "reading": reading},
    }]);
    let id = program.kept(entered).ok()["pieces"][0].as_i64().unwrap();
    let out =
        json!([{"act": "out_of_cure", "piece": id, "reading": format!("{} g", grams * 0.98)}]);
    program.kept(out).ok();
    program
        .did(json!([{"act": "checked", "piece": id, "check": "tacky", "grade": "tacky"}]))
        .ok();
    id
}

/// A slab of belly that waits.
pub fn belly(program: &Program, grams: f64, mm: f64) -> i64 {
    waits(program, "pig", ("belly", "belly-slab"), (grams, mm), 2.3)
}

/// A run, as it is written to.
pub struct Smoked<'a> {
    pub program: &'a Program,
    pub id: i64,
}

impl<'a> Smoked<'a> {
    pub fn set_up(program: &'a Program, ask: Value) -> Self {
        let id = program.post("/runs", &ask).ok()["run"].as_i64().unwrap();
        Self { program, id }
    }

    pub fn try_act(&self, act: Value) -> Answer {
        self.program.post(
            &format!("/runs/{}/acts", self.id),
            &json!({ "acts": [act] }),
        )
    }

    pub fn act(&self, act: Value) {
        self.try_act(act).ok();
    }

    pub fn keep(&self, act: Value) {
        let body = json!({"acts": [act], "keep_as_typed": true});
        self.program
            .post(&format!("/runs/{}/acts", self.id), &body)
            .ok();
    }

    pub fn view(&self) -> Value {
        self.program.get(&format!("/runs/{}", self.id)).ok()
    }

    pub fn piece(&self, id: i64) -> Value {
        let view = self.view();
        let mut all = view["pieces"].as_array().unwrap().iter();
        all.find(|p| p["id"] == id).cloned().unwrap()
    }

    pub fn alarms(&self) -> Vec<String> {
        let all = self.program.get("/runs/alarms").ok()["alarms"].clone();
        let all = all.as_array().unwrap().iter();
        all.map(|a| a["key"].as_str().unwrap().to_string())
            .collect()
    }

    /// Readings of a probe at clock times.
    pub fn read(&self, probe: i64, readings: &[(&str, f64)]) {
        let all: Vec<Value> = readings
            .iter()
            .map(|(clock, c)| json!({"probe": probe, "temperature": format!("{c} C"), "at": at(clock)}))
            .collect();
        let path = format!("/runs/{}/readings", self.id);
        self.program.post(&path, &json!({ "readings": all })).ok();
    }

    pub fn pull(&self, pieces: &[i64], grams: f64) -> Answer {
        self.program.did(json!([{"act": "smoked", "pieces": pieces, "run": self.id, "reading": format!("{grams} g")}]))
    }
}

/// The word of a piece, and how.
pub fn verdict(program: &Program, id: i64) -> (String, String) {
    let view = program.get(&format!("/pieces/{id}")).ok();
    let of = |what: &str| {
        view["verdict"][what]
            .as_str()
            .unwrap_or_default()
            .to_string()
    };
    (of("word"), of("how"))
}
