//! Plans as day books, played over HTTP from Receive to the label: what is done on which day, and what has to come of
//! the last line.

use super::support::Program;
use serde_json::{Value, json};

const START: &str = "2026-01-01T08:00:00Z";
const NOW: &str = "2027-06-01T08:00:00Z";

/// One household in which plans are played one after the other.
pub struct Table {
    pub program: Program,
}

/// A plan as it is played: the animals and pieces it has so far.
pub struct Play<'a> {
    table: &'a Table,
    pub lots: Vec<i64>,
    pub pieces: Vec<i64>,
    pub packs: Vec<i64>,
    entries: Vec<(String, i64)>,
}

/// What a line came to.
pub enum Came {
    Written,
    Asked(String),
    Stopped(String),
}

impl Table {
    pub fn new() -> Self {
        let program = Program::on(tempfile::TempDir::new().unwrap(), &["--now", NOW]);
        let mut home = program.get("/settings").ok()["household"].take();
        home["scales"] = json!({"fine_division_g": 0.1, "meat_division_g": 1.0});
        let put = program.ask(
            "PUT",
            "/api/v1/settings",
            &[("content-type", "application/json")],
            Some(&home.to_string()),
        );
        assert_eq!(put.status, 200, "{}", put.body);
        Self { program }
    }

    pub fn play(&self) -> Play<'_> {
        Play {
            table: self,
            lots: Vec::new(),
            pieces: Vec::new(),
            packs: Vec::new(),
            entries: Vec::new(),
        }
    }
}

pub fn moment(day: f64) -> String {
    let start: jiff::Timestamp = START.parse().unwrap();
    let minutes = (day * 1_440.0).round() as i64;
    (start + jiff::SignedDuration::from_mins(minutes)).to_string()
}

/// `5%` stays, `62.8C` becomes `62.8 C`: the table writes amounts in one word.
fn amount(word: &str) -> String {
    let end = word
        .find(|c: char| c.is_ascii_alphabetic())
        .unwrap_or(word.len());
    format!("{} {}", &word[..end], &word[end..])
        .trim()
        .to_string()
}

impl Play<'_> {
    /// Plays one line: `DAY verb words [!] [because REASON]`; `!` answers a question with “keep it
    /// as typed”.
    pub fn line(&mut self, line: &str) -> Came {
        let (line, reason) = match line.split_once(" because ") {
            Some((line, reason)) => (line, Some(reason.to_string())),
            None => (line, None),
        };
        let keep = line.ends_with(" !");
        let line = line.trim_end_matches(" !");
        let mut words = line.split_whitespace();
        let at = moment(words.next().unwrap().parse().unwrap());
        let verb = words.next().unwrap();
        let words: Vec<&str> = words.collect();
        let word = |i: usize| words.get(i).copied().unwrap_or("");
        if let Some(kind) = verb.strip_prefix("fix-") {
            return self.put_right(kind, &words, keep);
        }
        let piece = self.pieces.last().copied();
        let lot = self.lots.last().copied();
        let mut act = match verb {
            "lot" => {
                json!({"act": "received", "name": "made up", "species": word(0), "origin": word(1),
                "known": "carcass", "reading": "60 kg"})
            }
            "cut" => json!({"act": "piece_weighed", "lot": lot, "cut": word(0),
                "reading": amount(word(1)), "thickness": (!word(2).is_empty()).then(|| amount(word(2)))}),
            "trim" => {
                json!({"act": "byproduct_weighed", "lot": lot, "kind": word(0), "reading": amount(word(1))})
            }
            "grind" => self.grind(&words),
            "freeze" => json!({"act": "freezer_read", "lot": lot, "inside": amount(word(0))}),
            "hold" => {
                json!({"act": "hold_answered", "lot": self.lots[word(2).parse().unwrap_or(self.lots.len() - 1)],
                "kind": word(0), "answer": word(1), "note": word(2).strip_prefix("note:")})
            }
            "assign" => json!({"act": "assigned", "piece": piece, "build": word(0)}),
            "dose" => {
                let own: serde_json::Map<String, Value> = words
                    .iter()
                    .filter_map(|w| w.split_once('='))
                    .map(|(k, v)| {
                        (
                            k.to_string(),
                            v.parse::<f64>().map_or(json!(v), |n| json!(n)),
                        )
                    })
                    .collect();
                json!({"act": "dosed", "pieces": [piece], "own": own})
            }
            "way" => json!({"act": "dosed", "pieces": [piece], "way": word(0)}),
            "inject" => json!({"act": "injected", "piece": piece, "after": amount(word(0))}),
            "spice" => {
                json!({"act": "dosed", "pieces": [piece], "own": {"additions": [{"name": words[1..].join(" "), "amount": amount(word(0))}]}})
            }
            "out" => json!({"act": "out_of_cure", "piece": piece, "reading": amount(word(0))}),
            "smoke" => {
                let given =
                    |i: usize| (!word(i).is_empty() && word(i) != "-").then(|| amount(word(i)));
                json!({"act": "smoked", "piece": piece, "reading": amount(word(0)), "inside": given(1), "chamber": given(2)})
            }
            "cold" => {
                json!({"act": "smoked", "step": "cold_smoke", "piece": piece, "reading": amount(word(0))})
            }
            "cool" => {
                json!({"act": "cooled", "piece": piece, "inside": amount(word(0)), "hours": amount(word(1))})
            }
            "warm" => {
                json!({"act": "place_read", "place": "porch", "piece": piece, "temperature": amount(word(0)), "hours": amount(word(1))})
            }
            "coat" => {
                json!({"act": "coated", "piece": piece, "name": words[1..].join(" "), "reading": amount(word(0))})
            }
            "hang" => {
                json!({"act": "hung", "piece": piece, "reading": amount(word(0)), "tare": amount(word(1)),
                "loss_fraction": (!word(2).is_empty()).then(|| word(2))})
            }
            "in" => json!({"act": "weighed_in", "piece": piece, "reading": amount(word(0))}),
            "down" => json!({"act": "taken_down", "piece": piece, "reading": amount(word(0))}),
            "check" => {
                json!({"act": "checked", "piece": piece, "check": word(0), "grade": word(1)})
            }
            "ph" => json!({"act": "checked", "piece": piece, "check": "ph", "value": word(0)}),
            "pack" => json!({"act": "packed", "piece": piece, "finished": true,
                "packs": [{"reading": amount(word(0)), "place": (words.len() > 1).then(|| words[1..].join(" "))}]}),
            "move" => json!({"act": "pack_moved", "packs": self.packs, "place": words.join(" ")}),
            "top" => json!({"act": "topped_up", "piece": piece, "reading": amount(word(0))}),
            "throw" => json!({"act": "discarded", "piece": piece, "reason": words.join(" ")}),
            "even" => {
                json!({"act": "evened_out", "piece": piece, "weeks": word(0).parse::<f64>().unwrap()})
            }
            "soak" => json!({"act": "soaked", "piece": piece, "minutes": amount(word(0))}),
            "inplace" => {
                json!({"act": "place_read", "place": words[2..].join(" "), "piece": piece, "temperature": amount(word(0)), "hours": amount(word(1))})
            }
            "print" => json!({"act": "label_printed", "packs": self.packs}),
            "underway" => {
                json!({"act": "under_way", "lot": lot, "cut": word(0), "build": word(1), "at": word(2), "reading": amount(word(3)),
                "thickness": "50 mm", "inside": (!word(4).is_empty()).then(|| amount(word(4)))})
            }
            other => panic!("no verb {other}"),
        };
        if let Some(reason) = reason {
            act["reason"] = reason.into();
        }
        let body = json!({"acts": [act], "happened_at": at, "keep_as_typed": keep});
        let answer = self.table.program.post("/entries", &body);
        if answer.status == 200 {
            let all = |field: &str| -> Vec<i64> {
                let list = answer.body[field].as_array().unwrap().iter();
                list.map(|n| n.as_i64().unwrap()).collect()
            };
            if verb == "lot" {
                self.lots.extend(all("lots"));
            }
            self.pieces.extend(all("pieces"));
            self.packs.extend(all("packs"));
            self.entries
                .push((verb.into(), *all("entries").last().unwrap()));
            return Came::Written;
        }
        came(&answer.status, &answer.body)
    }

    /// `grind OUT piece kept:KIND:AMOUNT[:LOT] added:NAME:AMOUNT`
    fn grind(&self, words: &[&str]) -> Value {
        let lot = *self.lots.last().unwrap();
        let sources: Vec<Value> = words[1..]
            .iter()
            .map(|word| {
                let parts: Vec<&str> = word.split(':').collect();
                match parts[0] {
                    "piece" => json!({"from": "piece", "piece": self.pieces.last()}),
                    "kept" => json!({"from": "kept", "kind": parts[1], "reading": amount(parts[2]),
                        "lot": parts.get(3).map(|i| self.lots[i.parse::<usize>().unwrap()])}),
                    "added" => json!({"from": "added", "name": parts[1].replace('_', " "), "reading": amount(parts[2])}),
                    other => panic!("no source {other}"),
                }
            })
            .collect();
        json!({"act": "ground", "lot": lot, "reading": amount(words[0]), "thickness": "60 mm", "sources": sources})
    }

    /// Puts the newest entry of a kind right.
    fn put_right(&mut self, kind: &str, words: &[&str], keep: bool) -> Came {
        let (verb, field) = match kind {
            "weight" => ("cut", "reading"),
            "thickness" => ("cut", "thickness"),
            "build" => ("assign", "build"),
            "inside" => ("smoke", "inside"),
            "cure" => ("dose", "weighed.lines.0.reading"),
            "answer" => ("hold", "answer"),
            "down" => ("down", "reading"),
            other => panic!("nothing to put right: {other}"),
        };
        let at = self.entries.iter().rposition(|(v, _)| v == verb).unwrap();
        let entry = self.entries[at].1;
        let program = &self.table.program;
        let mut act = program.get(&format!("/entries/{entry}/ask")).ok()["act"].take();
        let place = act
            .pointer_mut(&format!("/{}", field.replace('.', "/")))
            .unwrap();
        *place = if kind == "build" || kind == "answer" {
            words[0].into()
        } else {
            amount(words[0]).into()
        };
        let body = json!({"act": act, "keep_as_typed": keep});
        let answer = program.post(&format!("/entries/{entry}/correction"), &body);
        if answer.status == 200 {
            self.entries[at].1 = answer.body["entries"][0].as_i64().unwrap();
            return Came::Written;
        }
        came(&answer.status, &answer.body)
    }

    /// What may be said of the last piece, or of its pack when it has one.
    pub fn verdict(&self) -> Value {
        let piece = self.pieces.last().unwrap();
        let view = self.table.program.get(&format!("/pieces/{piece}")).ok();
        match view["packs"].as_array().unwrap().last() {
            Some(pack) => pack["verdict"].clone(),
            None => view["verdict"].clone(),
        }
    }
}

fn came(status: &u16, body: &Value) -> Came {
    let codes = body["findings"].as_array().map(|all| {
        let code = |f: &Value| f["code"].as_str().unwrap().to_string();
        all.iter().map(code).collect::<Vec<_>>().join(" ")
    });
    let errors = body["errors"].as_array().and_then(|all| {
        let code = |e: &Value| e["code"].as_str().map(str::to_string);
        all.iter().find_map(code)
    });
    let codes = codes.or(errors);
    match status {
        409 => Came::Asked(codes.unwrap_or_default()),
        _ => Came::Stopped(codes.unwrap_or_else(|| body["detail"].to_string())),
    }
}

/// Plays every line of a plan but the last without a word, and says what is wrong with the rest.
fn judge(table: &Table, name: &str, lines: &str, want: &str) -> Option<String> {
    let mut play = table.play();
    let lines: Vec<&str> = lines
        .split(';')
        .map(str::trim)
        .filter(|l| !l.is_empty())
        .collect();
    for (i, line) in lines.iter().enumerate() {
        let last = i + 1 == lines.len();
        let got = match play.line(line) {
            Came::Written => "written".to_string(),
            Came::Asked(codes) => format!("asks {codes}"),
            Came::Stopped(codes) => format!("stops {codes}"),
        };
        if last && (want.starts_with("asks") || want.starts_with("stops")) {
            let (how, code) = want.split_once(' ').unwrap_or((want, ""));
            let fits =
                got.starts_with(how) && (code.is_empty() || got.split(' ').any(|w| w == code));
            return (!fits).then(|| format!("{name}: `{line}` {got}, wanted: {want}"));
        }
        if got != "written" {
            return Some(format!("{name}: `{line}` {got}"));
        }
    }
    let verdict = play.verdict();
    let codes: Vec<_> = verdict["reasons"]
        .as_array()
        .unwrap()
        .iter()
        .map(|r| r["code"].as_str().unwrap())
        .collect();
    let mut said: Vec<&str> = vec![verdict["word"].as_str().unwrap()];
    said.extend(verdict["how"].as_str());
    said.extend(codes);
    let fits = want
        .split(' ')
        .all(|wanted| match wanted.strip_prefix("not:") {
            Some(unwanted) => !said.contains(&unwanted),
            None => said.contains(&wanted),
        });
    let said = said.join(" ");
    (!fits).then(|| format!("{name}: {said}, wanted: {want}"))
}

pub fn hold(plans: &[(&str, &str, &str)]) {
    let table = Table::new();
    let wrong: Vec<_> = plans
        .iter()
        .filter_map(|(name, lines, want)| judge(&table, name, lines, want))
        .collect();
    assert!(
        wrong.is_empty(),
        "{} of {}:\n{}",
        wrong.len(),
        plans.len(),
        wrong.join("\n")
    );
}
