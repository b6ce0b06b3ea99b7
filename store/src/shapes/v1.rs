//! The first shape: doses named their cure by a word and knew no roles, and products and species
//! were looked up in whatever catalogue was at hand.
//!
//! Everything that such a ledger leaned on is frozen in `v1.json`: the products and species of
//! that time in today's spelling, and the tables that a dose is made whole from.

use serde_json::{Value, json};
use std::collections::HashMap;
use std::sync::LazyLock;

static FROZEN: LazyLock<Value> = LazyLock::new(|| {
    serde_json::from_str(include_str!("v1.json")).expect("a frozen file that a test reads")
});

/// Products and species of that time: kind, key, version and content.
pub fn shelf() -> impl Iterator<Item = (&'static str, String, i64, &'static Value)> {
    let of = |kind: &'static str, list: &str| {
        let all = FROZEN[list].as_array().map(Vec::as_slice);
        all.unwrap_or_default().iter().map(move |item| {
            let key = item["key"].as_str().unwrap_or_default().to_string();
            (kind, key, item["version"].as_i64().unwrap_or(1), item)
        })
    };
    of("build", "builds").chain(of("species", "species"))
}

/// Turns acts of the first shape into the second.
#[derive(Default)]
pub struct Acts {
    /// The product that each piece was last given, in the order of writing.
    builds: HashMap<i64, Value>,
}

impl Acts {
    /// Notes what an act gives away about products.
    fn see(&mut self, act: &Value) {
        match act["act"].as_str() {
            Some("assigned") => {
                if let Some(piece) = act["piece"].as_i64() {
                    let build = json!({"key": act["build"], "version": act["version"]});
                    self.builds.insert(piece, build);
                }
            }
            Some("cut") => {
                let parts = act["parts"].as_array().cloned().unwrap_or_default();
                let from = act["piece"].as_i64();
                self.hand_on(from, parts.iter().filter_map(|p| p["piece"].as_i64()));
            }
            Some("joined") => self.hand_on(act["pieces"][0].as_i64(), act["into"].as_i64()),
            Some("ground") => {
                self.hand_on(act["sources"][0]["piece"].as_i64(), act["into"].as_i64())
            }
            _ => {}
        }
    }

    fn hand_on(&mut self, from: Option<i64>, to: impl IntoIterator<Item = i64>) {
        let Some(build) = from.and_then(|id| self.builds.get(&id)).cloned() else {
            return;
        };
        for id in to {
            self.builds.insert(id, build.clone());
        }
    }

    /// The act in the second shape.
    pub fn second_of(&mut self, mut act: Value) -> Value {
        self.see(&act);
        if act["act"] == "dosed" {
            let build = act["piece"].as_i64().and_then(|id| self.builds.get(&id));
            act["dose"] = dose(&act["dose"], build);
        }
        act
    }
}

/// A dose made whole: its cure's composition, what each line does, its bands and who judged it.
fn dose(old: &Value, build: Option<&Value>) -> Value {
    let cure = cure(&old["cure"]);
    let is_ground = build.is_some_and(|b| frozen("builds", &b["key"])["form"] == "ground")
        || old["class"] == "sausage_dried";
    let lines: Vec<_> = old["lines"]
        .as_array()
        .map(Vec::as_slice)
        .unwrap_or_default()
        .iter()
        .map(|line| {
            let mut line = line.clone();
            line["role"] = role(line["name"].as_str().unwrap_or_default(), &cure).into();
            if line["name"] == "soy sauce" {
                line["salt_fraction"] = json!(0.16);
            }
            line
        })
        .collect();
    let nitrite = json!({"nominal": old["nitrite_ppm"], "low": old["nitrite_ppm_low"], "high": old["nitrite_ppm_high"]});
    let nitrate = json!({"nominal": old["nitrate_ppm"], "low": old["nitrate_ppm"], "high": old["nitrate_ppm"]});
    json!({
        "method": old["method"],
        "build": build,
        "cure": cure,
        "lines": lines,
        "nitrite": nitrite,
        "nitrate": nitrate,
        "judged": {
            "rule_set": old["rule_set"],
            "class": old["class"],
            "form": if is_ground { "ground" } else { "whole" },
            "ceiling_ppm": old["ceiling_ppm"],
            "floor_ppm": floor(old, is_ground),
        },
        "school": school(&old["school"]),
        "mixed_with": old.get("mixed_with").cloned().unwrap_or_else(|| json!([])),
        "findings": old.get("findings").cloned().unwrap_or_else(|| json!([])),
        "reason": old["reason"],
    })
}

/// One of a frozen list by its word.
fn frozen(list: &str, key: &Value) -> &'static Value {
    let all = FROZEN[list].as_array().map(Vec::as_slice);
    all.unwrap_or_default()
        .iter()
        .find(|item| item["key"] == *key)
        .unwrap_or(&Value::Null)
}

/// A cure by its word, or as its composition was spelled out.
fn cure(old: &Value) -> Value {
    let shares = |from: &Value| {
        let share = |name: &str| from[name].as_f64().unwrap_or(0.0);
        json!({"nitrite": share("nitrite"), "nitrate": share("nitrate"), "salt": share("salt"), "sugar": share("sugar")})
    };
    if old.is_string() {
        let found = frozen("cures", old);
        json!({"key": old, "name": found["name"].as_str().unwrap_or("this cure"), "made_of": shares(found)})
    } else {
        json!({"key": null, "name": "this cure", "made_of": shares(old)})
    }
}

/// What an ingredient does, by its name.
fn role(name: &str, cure: &Value) -> &'static str {
    let among = |list: &str| {
        let all = FROZEN[list].as_array().map(Vec::as_slice);
        all.unwrap_or_default()
            .iter()
            .any(|n| n.as_str().is_some_and(|n| n.eq_ignore_ascii_case(name)))
    };
    if cure["name"] == name {
        "curing_salt"
    } else if among("water") {
        "water"
    } else if among("salt") {
        "salt"
    } else if among("sugar") {
        "sugar"
    } else if among("liquid") {
        "liquid"
    } else {
        "spice"
    }
}

/// The least nitrite that the rules of that time asked for (ppm).
fn floor(old: &Value, is_ground: bool) -> f64 {
    let rules = old["rule_set"]
        .as_str()
        .map_or(&Value::Null, |key| &FROZEN["rules"][key]);
    let way = match (old["method"].as_str(), is_ground) {
        (Some("equilibrium_brine"), _) => "immersed",
        (_, true) => "ground",
        (_, false) => "dry",
    };
    let own = rules["floors"].as_array().into_iter().flatten().find(|f| {
        let ways = f["ways"].as_array().map(Vec::as_slice).unwrap_or_default();
        f["class"] == old["class"] && ways.iter().any(|w| w == way)
    });
    let floor = own.map_or(&rules["floor_ppm"], |f| &f["nitrite_ppm"]);
    floor.as_f64().unwrap_or(0.0)
}

/// A school by its word, whole.
fn school(old: &Value) -> Value {
    let found = frozen("schools", old);
    if old.is_string() {
        json!({"key": old, "per_inch": found.get("per_inch"), "plus": found.get("plus")})
    } else {
        Value::Null
    }
}
