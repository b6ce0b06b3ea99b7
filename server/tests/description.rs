//! The API's description is true: every answer of every address fits the schema that it promises, and every status is
//! named there.

mod support;

use serde_json::{Value, json};
use std::collections::{BTreeMap, BTreeSet};
use support::{Program, described};

/// Where a value does not fit its schema; nothing where it does.
fn misfit(document: &Value, schema: &Value, value: &Value, at: &str) -> Option<String> {
    if let Some(name) = schema["$ref"].as_str() {
        let named = document.pointer(name.trim_start_matches('#'));
        let Some(named) = named else {
            return Some(format!("{at}: {name} is nowhere"));
        };
        return misfit(document, named, value, at);
    }
    if let Some(all) = schema["allOf"].as_array()
        && let Some(bad) = all.iter().find_map(|s| misfit(document, s, value, at))
    {
        return Some(bad);
    }
    for key in ["oneOf", "anyOf"] {
        if let Some(some) = schema[key].as_array() {
            let fits = some
                .iter()
                .filter(|s| misfit(document, s, value, at).is_none())
                .count();
            let fine = if key == "oneOf" { fits == 1 } else { fits > 0 };
            if !fine {
                let why = some.iter().find_map(|s| misfit(document, s, value, at));
                return Some(format!(
                    "{at}: {fits} of {key} fit {}; {}",
                    value["act"].as_str().unwrap_or_default(),
                    why.unwrap_or_default()
                ));
            }
        }
    }
    if let Some(allowed) = schema["enum"].as_array()
        && !allowed.contains(value)
    {
        return Some(format!("{at}: {value} is none of {allowed:?}"));
    }
    if let Some(only) = schema.get("const")
        && only != value
    {
        return Some(format!("{at}: {value} is not {only}"));
    }
    let types: Vec<&str> = match &schema["type"] {
        Value::String(one) => vec![one],
        Value::Array(some) => some.iter().filter_map(Value::as_str).collect(),
        _ => Vec::new(),
    };
    let is = |kind: &str| match kind {
        "null" => value.is_null(),
        "boolean" => value.is_boolean(),
        "integer" => {
            value.is_i64() || value.is_u64() || value.as_f64().is_some_and(|n| n.fract() == 0.0)
        }
        "number" => value.is_number(),
        "string" => value.is_string(),
        "array" => value.is_array(),
        "object" => value.is_object(),
        other => panic!("{at}: no type {other}"),
    };
    if !types.is_empty() && !types.iter().any(|t| is(t)) {
        return Some(format!("{at}: {value} is no {types:?}"));
    }
    if let Some(least) = schema["minimum"].as_f64()
        && value.as_f64().is_some_and(|n| n < least)
    {
        return Some(format!("{at}: {value} is under {least}"));
    }
    if let Some(fields) = value.as_object() {
        for name in schema["required"].as_array().into_iter().flatten() {
            if !fields.contains_key(name.as_str().unwrap()) {
                return Some(format!("{at}: {name} is missing"));
            }
        }
        for (name, one) in fields {
            let place = format!("{at}.{name}");
            match (&schema["properties"][name], &schema["additionalProperties"]) {
                (Value::Null, Value::Bool(false)) => return Some(format!("{place} is too much")),
                (Value::Null, more) if more.is_object() => {
                    if let Some(bad) = misfit(document, more, one, &place) {
                        return Some(bad);
                    }
                }
                (Value::Null, _) => {}
                (own, _) => {
                    if let Some(bad) = misfit(document, own, one, &place) {
                        return Some(bad);
                    }
                }
            }
        }
    }
    if let Some(items) = value.as_array() {
        let firsts = schema["prefixItems"]
            .as_array()
            .map(Vec::as_slice)
            .unwrap_or_default();
        for (i, one) in items.iter().enumerate() {
            let own = firsts.get(i).unwrap_or(&schema["items"]);
            if own.is_object()
                && let Some(bad) = misfit(document, own, one, &format!("{at}[{i}]"))
            {
                return Some(bad);
            }
        }
    }
    None
}

/// Fields of an answer that its schema never speaks of.
fn unsaid(document: &Value, schema: &Value, value: &Value, at: &str, found: &mut BTreeSet<String>) {
    if let Some(name) = schema["$ref"].as_str() {
        let named = document.pointer(name.trim_start_matches('#')).unwrap();
        return unsaid(document, named, value, at, found);
    }
    let mut known: BTreeMap<String, Value> = BTreeMap::new();
    let mut is_open = false;
    gather(document, schema, &mut known, &mut is_open);
    if let Some(fields) = value.as_object() {
        for (name, one) in fields {
            match known.get(name) {
                Some(own) => unsaid(document, own, one, &format!("{at}.{name}"), found),
                None if is_open || known.is_empty() => {}
                None => {
                    found.insert(format!("{at}.{name}"));
                }
            }
        }
    }
    if let (Some(items), true) = (value.as_array(), schema["items"].is_object()) {
        for one in items {
            unsaid(document, &schema["items"], one, &format!("{at}[]"), found);
        }
    }
}

fn gather(
    document: &Value,
    schema: &Value,
    known: &mut BTreeMap<String, Value>,
    is_open: &mut bool,
) {
    if let Some(name) = schema["$ref"].as_str() {
        let named = document.pointer(name.trim_start_matches('#')).unwrap();
        return gather(document, named, known, is_open);
    }
    *is_open |= schema["additionalProperties"].is_object();
    for (name, own) in schema["properties"].as_object().into_iter().flatten() {
        known.insert(name.clone(), own.clone());
    }
    for key in ["allOf", "oneOf", "anyOf"] {
        for part in schema[key].as_array().into_iter().flatten() {
            gather(document, part, known, is_open);
        }
    }
}

/// Every way in which an address can be asked in the demo household.
fn asked(path: &str, program: &Program) -> Vec<String> {
    let ids = |list: &[&str]| list.iter().map(|id| (*id).to_string()).collect::<Vec<_>>();
    let fill = |name: &str, with: Vec<String>| -> Vec<String> {
        with.iter()
            .map(|w| path.replace(&format!("{{{name}}}"), w))
            .collect()
    };
    let mut all = match path {
        p if p.contains("{station}") => {
            fill("station", ids(&["assign", "cure", "smoke", "hang", "pack"]))
        }
        p if p.contains("{urgency}") => fill("urgency", ids(&["overdue", "due", "coming"])),
        p if p.contains("/entries/{id}") => fill("id", (1..120).map(|n| n.to_string()).collect()),
        p if p.contains("/places/") => fill("id", (1..8).map(|n| n.to_string()).collect()),
        p if p.contains("{id}") => fill("id", (1..40).map(|n| n.to_string()).collect()),
        p if p.contains("/backups/{name}") => {
            let listed = program.get("/backups").ok();
            let names = listed["backups"].as_array().unwrap().iter();
            fill(
                "name",
                names.map(|b| b["name"].as_str().unwrap().into()).collect(),
            )
        }
        p if p.contains('{') => Vec::new(),
        p => vec![p.to_string()],
    };
    for one in &mut all {
        let more = match one.as_str() {
            p if p.ends_with("/find") => "?q=loin",
            p if p.ends_with("/suits") => "?species=pig&cut=loin&thickness_mm=60",
            p if p.ends_with("/away") => "?from=2026-11-25&to=2026-11-28",
            _ => "",
        };
        one.push_str(more);
    }
    all
}

#[test]
fn every_answer_fits_the_schema_that_it_promises() {
    let program = Program::demo();
    program.post("/backups", &json!({})).ok();
    let document = program.get("/openapi.json").ok();
    let (mut answers, mut wrong) = (0, BTreeSet::new());
    let mut more = BTreeSet::new();
    for (path, item) in document["paths"].as_object().unwrap() {
        let operation = &item["get"];
        if operation.is_null() || path.ends_with("/events") {
            continue;
        }
        let here = asked(path, &program);
        let mut fine = 0;
        for address in &here {
            let answer = program.ask("GET", address, &[], None);
            let described = described(&document, operation, &answer.status.to_string());
            if !described.is_object() {
                wrong.insert(format!("{path}: {} is not described", answer.status));
                continue;
            }
            fine += usize::from(answer.status == 200);
            let kind = answer.kind.split(';').next().unwrap_or_default();
            let content = &described["content"][kind];
            if content.is_null() {
                wrong.insert(format!(
                    "{path}: {} as {kind} is not described",
                    answer.status
                ));
                continue;
            }
            if !kind.ends_with("json") {
                continue;
            }
            answers += 1;
            let schema = &content["schema"];
            if let Some(bad) = misfit(&document, schema, &answer.body, "") {
                wrong.insert(format!(
                    "{path}: {}",
                    bad.chars().take(300).collect::<String>()
                ));
            }
            if answer.status == 200 {
                let mut here = BTreeSet::new();
                unsaid(&document, schema, &answer.body, "", &mut here);
                more.extend(
                    here.into_iter()
                        .map(|field| format!("{path}: {field} is not described")),
                );
            }
        }
        // The demo has no run under way.
        if fine == 0 && !here.is_empty() && !path.contains("/runs/{id}") {
            wrong.insert(format!("{path}: none of {} was answered", here.len()));
        }
    }
    wrong.extend(more);
    let wrong: Vec<String> = wrong.into_iter().collect();
    assert!(
        wrong.is_empty(),
        "{} of {answers}:\n{}",
        wrong.len(),
        wrong.join("\n")
    );
    assert!(answers > 300, "{answers}");
}

#[test]
fn what_an_address_allows_is_what_its_description_says() {
    let program = Program::start();
    let document = program.get("/openapi.json").ok();
    let mut wrong = Vec::new();
    let known = ["get", "put", "post", "delete", "patch"];
    for (path, item) in document["paths"].as_object().unwrap() {
        let address = path
            .replace("{id}", "1")
            .replace("{station}", "cure")
            .replace("{urgency}", "due")
            .replace("{name}", "x")
            .replace("{key}", "x")
            .replace("{hash}", "x");
        let has: Vec<&str> = known.into_iter().filter(|m| !item[m].is_null()).collect();
        for method in ["GET", "PUT", "POST", "DELETE", "PATCH", "OPTIONS"] {
            if has.contains(&method.to_lowercase().as_str()) {
                continue;
            }
            let answer = program.ask(method, &address, &[], None);
            let allow = answer
                .headers
                .get("allow")
                .map_or("", |v| v.to_str().unwrap());
            let mut said: Vec<String> = allow.split(", ").map(str::to_lowercase).collect();
            said.sort_unstable();
            let mut wanted = has.clone();
            wanted.sort_unstable();
            if answer.status != 405 || said != wanted {
                wrong.push(format!(
                    "{method} {path}: {} {allow}, wanted {wanted:?}",
                    answer.status
                ));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn refusals_at_the_door_carry_the_same_headers_and_case_does_not_matter() {
    let program = Program::start();
    let host = program.address.trim_start_matches("http://").to_string();
    let post =
        |headers: &[(&str, &str)]| program.ask("POST", "/api/v1/entries", headers, Some("{}"));
    let mine = format!("http://{host}");
    let fine = post(&[("origin", &mine)]);
    assert_eq!(fine.status, 422);
    for headers in [
        vec![("host", "evil.example")],
        vec![("origin", "http://evil.example")],
        vec![("sec-fetch-site", "cross-site")],
        vec![("sec-fetch-site", "Cross-Site")],
        vec![("sec-fetch-site", "SAME-SITE")],
        vec![("sec-fetch-site", "nonsense")],
    ] {
        let refused = post(&headers);
        assert_eq!(refused.status, 403, "{headers:?}: {}", refused.body);
        assert_eq!(refused.kind, "application/problem+json");
        for name in [
            "content-security-policy",
            "x-content-type-options",
            "referrer-policy",
            "cross-origin-opener-policy",
            "cross-origin-resource-policy",
        ] {
            assert_eq!(
                refused.headers.get(name),
                fine.headers.get(name),
                "{headers:?} {name}"
            );
        }
    }
    for site in ["same-origin", "Same-Origin", "none", "NONE"] {
        assert_eq!(post(&[("sec-fetch-site", site)]).status, 422, "{site}");
    }
}

/// A made-up value that a schema allows.
struct MadeUp<'a> {
    document: &'a Value,
    seed: u64,
}

impl MadeUp<'_> {
    fn next(&mut self, below: usize) -> usize {
        self.seed = self
            .seed
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (self.seed >> 33) as usize % below.max(1)
    }

    fn one(&mut self, schema: &Value, depth: usize) -> Value {
        if let Some(name) = schema["$ref"].as_str() {
            let named = self.document.pointer(name.trim_start_matches('#')).unwrap();
            return self.one(named, depth);
        }
        if let Some(only) = schema.get("const") {
            return only.clone();
        }
        for key in ["enum", "oneOf", "anyOf"] {
            if let Some(some) = schema[key].as_array() {
                let chosen = &some[self.next(some.len())];
                return if key == "enum" {
                    chosen.clone()
                } else {
                    self.one(chosen, depth + 1)
                };
            }
        }
        if let Some(all) = schema["allOf"].as_array() {
            let mut whole = serde_json::Map::new();
            for part in all {
                if let Value::Object(fields) = self.one(part, depth) {
                    whole.extend(fields);
                }
            }
            return whole.into();
        }
        let kind = match &schema["type"] {
            Value::Array(some) => some[self.next(some.len())].as_str(),
            one => one.as_str(),
        };
        match kind.unwrap_or("object") {
            "null" => Value::Null,
            "boolean" => (self.next(2) == 1).into(),
            "integer" if schema["minimum"] == 0 => [0, 1, 2, 40][self.next(4)].into(),
            "integer" => [0, 1, 7, -1][self.next(4)].into(),
            "number" => [0.0, 1.0, 0.5, 20.0, 1_500.0][self.next(5)].into(),
            "string" => match schema["format"].as_str() {
                Some("date") => "2026-11-26".into(),
                Some("date-time") => "2026-11-26T10:00:00Z".into(),
                _ => ["", "a", "1 kg", "12 mm", "3 C", "pig"][self.next(6)].into(),
            },
            "array" => {
                let many = if depth < 6 { self.next(3) } else { 0 };
                (0..many)
                    .map(|_| self.one(&schema["items"], depth + 1))
                    .collect()
            }
            _ => {
                let required = schema["required"].as_array().cloned().unwrap_or_default();
                let mut whole = serde_json::Map::new();
                for (name, own) in schema["properties"].as_object().into_iter().flatten() {
                    let must = required.iter().any(|r| r == name);
                    if must || (depth < 5 && self.next(5) < 2) {
                        whole.insert(name.clone(), self.one(own, depth + 1));
                    }
                }
                whole.into()
            }
        }
    }
}

/// What moves the whole household, or waits for a file.
const LEFT_OUT: [&str; 5] = [
    "/events",
    "/restore",
    "/brought",
    "/set-right",
    "/clock/move",
];

#[test]
fn whatever_is_asked_as_described_is_answered_as_described() {
    let program = Program::demo();
    let document = program.get("/openapi.json").ok();
    let mut made = MadeUp {
        document: &document,
        seed: 11,
    };
    let (mut asked, mut wrong) = (0, BTreeSet::new());
    for (path, item) in document["paths"].as_object().unwrap() {
        if LEFT_OUT.iter().any(|end| path.ends_with(end)) {
            continue;
        }
        for method in ["get", "post", "put", "delete"] {
            let operation = &item[method];
            if operation.is_null() {
                continue;
            }
            for _ in 0..12 {
                let (mut address, mut query) = (path.clone(), Vec::new());
                for parameter in operation["parameters"].as_array().into_iter().flatten() {
                    let name = parameter["name"].as_str().unwrap();
                    let value = match made.one(&parameter["schema"], 0) {
                        Value::String(text) if text.is_empty() => "x".into(),
                        Value::String(text) => text.replace(' ', "%20"),
                        Value::Null => continue,
                        other => other.to_string(),
                    };
                    if parameter["in"] == "path" {
                        address = address.replace(&format!("{{{name}}}"), &value);
                    } else if parameter["in"] == "query"
                        && (parameter["required"] == true || made.next(2) == 1)
                    {
                        query.push(format!("{name}={value}"));
                    }
                }
                if !query.is_empty() {
                    address = format!("{address}?{}", query.join("&"));
                }
                let body = operation["requestBody"]["content"]
                    .as_object()
                    .map(|content| match content.get("application/json") {
                        Some(json) => made.one(&json["schema"], 0).to_string(),
                        None => "date,temp\n2026-11-20 10:00,3\n".into(),
                    });
                let answer = program.ask(&method.to_uppercase(), &address, &[], body.as_deref());
                asked += 1;
                let described = described(&document, operation, &answer.status.to_string());
                let kind = answer.kind.split(';').next().unwrap_or_default();
                if !described.is_object() || [400, 405, 500].contains(&answer.status) {
                    wrong.insert(format!(
                        "{method} {path}: {} is not described",
                        answer.status
                    ));
                } else if kind.ends_with("json")
                    && let Some(bad) = misfit(
                        &document,
                        &described["content"][kind]["schema"],
                        &answer.body,
                        "",
                    )
                {
                    wrong.insert(format!("{method} {path} {}: {bad}", answer.status));
                }
            }
        }
    }
    let wrong: Vec<String> = wrong.into_iter().collect();
    assert!(
        wrong.is_empty(),
        "{} of {asked}:\n{}",
        wrong.len(),
        wrong.join("\n")
    );
    assert!(asked > 800, "{asked}");
}
