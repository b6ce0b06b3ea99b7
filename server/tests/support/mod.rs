//! The real program on a folder and a port of its own, asked over HTTP.
#![allow(dead_code, reason = "each test file uses its own part of this")]

pub mod cures;
pub mod hang;
pub mod smoke;

use serde_json::{Value, json};
use std::io::{BufRead, BufReader};
use std::path::Path;
use std::process::{Child, Command, Stdio};
use tempfile::TempDir;

pub const NOW: &str = "2026-11-21T09:30:00Z";

pub struct Program {
    child: Child,
    pub address: String,
    pub data: TempDir,
}

pub struct Answer {
    pub status: u16,
    pub kind: String,
    pub body: Value,
    pub headers: ureq::http::HeaderMap,
}

impl Answer {
    /// The words for a field of a refused request.
    pub fn field(&self, name: &str) -> &str {
        let errors = self.body["errors"]
            .as_array()
            .map(Vec::as_slice)
            .unwrap_or_default();
        errors
            .iter()
            .find(|e| e["field"] == name)
            .and_then(|e| e["message"].as_str())
            .unwrap_or_else(|| panic!("no error at {name}: {}", self.body))
    }

    pub fn ok(self) -> Value {
        assert_eq!(self.status, 200, "{}", self.body);
        self.body
    }
}

impl Program {
    pub fn start() -> Self {
        Self::on(TempDir::new().unwrap(), &["--now", NOW])
    }

    pub fn demo() -> Self {
        Self::on(TempDir::new().unwrap(), &["--demo"])
    }

    pub fn on(data: TempDir, more: &[&str]) -> Self {
        let mut child = command(&["serve", "--listen", "127.0.0.1:0"], data.path())
            .args(more)
            .stdout(Stdio::piped())
            .spawn()
            .unwrap();
        let mut line = String::new();
        BufReader::new(child.stdout.take().unwrap())
            .read_line(&mut line)
            .unwrap();
        let address = line
            .split_whitespace()
            .find(|w| w.starts_with("http://"))
            .expect(&line)
            .into();
        Self {
            child,
            address,
            data,
        }
    }

    /// Killed without warning and started again on the same folder.
    pub fn killed(self) -> Self {
        self.killed_and_started(&["--now", NOW])
    }

    /// Ended by a signal that asks for it; how it ended, and the folder as it was left.
    pub fn ended_by(mut self, signal: &str) -> (std::process::ExitStatus, TempDir) {
        let kill = Command::new("kill")
            .args([format!("-{signal}"), self.child.id().to_string()])
            .status();
        assert!(kill.unwrap().success());
        let status = self.child.wait().unwrap();
        (
            status,
            std::mem::replace(&mut self.data, TempDir::new().unwrap()),
        )
    }

    /// The same, started again in another way.
    pub fn killed_and_started(self, more: &[&str]) -> Self {
        Self::on(self.dead(), more)
    }

    /// Killed without warning; the folder as it was left.
    pub fn dead(mut self) -> TempDir {
        self.child.kill().unwrap();
        self.child.wait().unwrap();
        std::mem::replace(&mut self.data, TempDir::new().unwrap())
    }

    /// One request, told apart only by what matters to a test.
    pub fn ask(
        &self,
        method: &str,
        path: &str,
        headers: &[(&str, &str)],
        body: Option<&str>,
    ) -> Answer {
        let agent: ureq::Agent = ureq::Agent::config_builder()
            .http_status_as_error(false)
            .build()
            .into();
        let mut request = ureq::http::Request::builder()
            .method(method)
            .uri(format!("{}{path}", self.address));
        for (name, value) in headers {
            request = request.header(*name, *value);
        }
        let mut response = match body {
            Some(text) => agent.run(
                request
                    .header("content-type", "application/json")
                    .body(text.to_string())
                    .unwrap(),
            ),
            None => agent.run(request.body(()).unwrap()),
        }
        .unwrap();
        let kind = response
            .headers()
            .get("content-type")
            .map_or("", |v| v.to_str().unwrap())
            .to_string();
        let bytes = response.body_mut().read_to_vec().unwrap();
        let text = String::from_utf8_lossy(&bytes).into_owned();
        Answer {
            status: response.status().as_u16(),
            kind,
            body: serde_json::from_str(&text).unwrap_or(Value::String(text)),
            headers: response.headers().clone(),
        }
    }

    pub fn get(&self, path: &str) -> Answer {
        self.ask("GET", &format!("/api/v1{path}"), &[], None)
    }

    pub fn post(&self, path: &str, body: &Value) -> Answer {
        self.ask(
            "POST",
            &format!("/api/v1{path}"),
            &[],
            Some(&body.to_string()),
        )
    }

    /// Writes acts down.
    pub fn did(&self, acts: Value) -> Answer {
        self.post("/entries", &json!({ "acts": acts }))
    }

    /// Writes acts down, and answers what is asked about them with “keep it as typed”.
    pub fn kept(&self, acts: Value) -> Answer {
        self.post("/entries", &json!({"acts": acts, "keep_as_typed": true}))
    }

    /// Sends a body that is no JSON.
    pub fn send(&self, path: &str, kind: &str, bytes: &[u8]) -> Answer {
        let agent: ureq::Agent = ureq::Agent::config_builder()
            .http_status_as_error(false)
            .build()
            .into();
        let request = ureq::http::Request::post(format!("{}/api/v1{path}", self.address))
            .header("content-type", kind)
            .body(bytes.to_vec())
            .unwrap();
        let mut response = agent.run(request).unwrap();
        let text = response.body_mut().read_to_string().unwrap();
        Answer {
            status: response.status().as_u16(),
            kind: String::new(),
            body: serde_json::from_str(&text).unwrap_or(Value::String(text)),
            headers: response.headers().clone(),
        }
    }

    /// A household for practice whose clock stands at that moment.
    pub fn practice(now: &str) -> Self {
        Self::on(TempDir::new().unwrap(), &["--practice", "--now", now])
    }

    /// Moves the clock of a household for practice to a moment.
    pub fn to(&self, moment: &str) {
        self.post("/clock/move", &json!({ "to": moment })).ok();
    }

    /// Puts equipment into the settings; gives the numbers of its places.
    pub fn equip(&self, places: Value) -> Vec<i64> {
        let mut home = self.get("/settings").ok()["household"].clone();
        home["equipment"] = json!({
            "scales": [], "bags": [], "oven": true, "grinder": true, "stuffer": true, "places": places,
        });
        let kept = self
            .ask("PUT", "/api/v1/settings", &[], Some(&home.to_string()))
            .ok();
        let places = kept["equipment"]["places"].as_array().unwrap().iter();
        places.map(|p| p["id"].as_i64().unwrap()).collect()
    }

    /// What is due or overdue today: kind or kind of step, and tag.
    pub fn due(&self) -> Vec<(String, String)> {
        let today = self.get("/today").ok();
        let trips = today["trips"].as_array().unwrap().iter();
        let rows = trips.flat_map(|t| t["rows"].as_array().unwrap());
        rows.flat_map(|r| {
            let what = r["step"].as_str().filter(|_| r["kind"] == "by_hand");
            let what = what.or(r["kind"].as_str()).unwrap().to_string();
            let chips = r["chips"].as_array().unwrap().iter();
            chips.map(move |c| (what.clone(), c["tag"].as_str().unwrap().to_string()))
        })
        .collect()
    }

    /// True when such a thing is due with such a piece.
    pub fn is_due(&self, what: &str, tag: &str) -> bool {
        self.due().iter().any(|(w, t)| w == what && t == tag)
    }

    /// A half hog of 38.6 kg; its lot's number.
    pub fn half_hog(&self) -> i64 {
        let written = self.did(json!([{
            "act": "received", "name": "half hog", "species": "pig", "origin": "bought",
            "known": "carcass", "reading": "38.6 kg", "cost": "212.40",
        }]));
        written.ok()["lots"][0].as_i64().unwrap()
    }

    /// A piece weighed out of a lot; its number.
    pub fn piece(&self, lot: i64, cut: &str, reading: &str, thickness: &str) -> i64 {
        let written = self.did(json!([weigh_out(lot, cut, reading, thickness)]));
        written.ok()["pieces"][0].as_i64().unwrap()
    }
}

impl Drop for Program {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// The program with a command and its folder.
pub fn command(words: &[&str], data: &Path) -> Command {
    let mut command = Command::new(env!("CARGO_BIN_EXE_build-manifest"));
    command.args(words).arg("--data").arg(data);
    command
}

pub fn weigh_out(lot: i64, cut: &str, reading: &str, thickness: &str) -> Value {
    json!({"act": "piece_weighed", "lot": lot, "cut": cut, "reading": reading, "thickness": thickness})
}

/// The answer that an operation describes for a status; a named one is looked up. Null where none is.
pub fn described<'d>(document: &'d Value, operation: &'d Value, status: &str) -> &'d Value {
    let found = &operation["responses"][status];
    match found["$ref"].as_str() {
        Some(name) => document
            .pointer(name.trim_start_matches('#'))
            .unwrap_or(&Value::Null),
        None => found,
    }
}
