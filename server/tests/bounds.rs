//! What one visitor may take, what is refused for its shape, and that every answer is as described.

mod support;

use serde_json::{Value, json};
use std::collections::BTreeSet;
use std::io::{Read, Write};
use std::net::TcpStream;
use std::time::{Duration, Instant};
use support::{Program, described};

/// What is sent as it stands, and what comes back until the connection ends or falls silent.
fn raw(program: &Program, text: &[u8], patience: Duration) -> String {
    let mut stream = TcpStream::connect(program.address.trim_start_matches("http://")).unwrap();
    stream.set_read_timeout(Some(patience)).unwrap();
    stream.write_all(text).unwrap();
    let mut answer = Vec::new();
    let mut buffer = [0; 4096];
    while let Ok(n) = stream.read(&mut buffer) {
        if n == 0 {
            break;
        }
        answer.extend_from_slice(&buffer[..n]);
    }
    String::from_utf8_lossy(&answer).into_owned()
}

#[test]
fn a_day_of_notes_is_written_in_order_and_more_is_refused_at_once() {
    let program = Program::start();
    let lot = program.half_hog();
    let piece = program.piece(lot, "belly", "5.2 kg", "42 mm");
    let notes = |n: usize| -> Value {
        let note = |i| json!({"act": "noted", "piece": piece, "text": format!("note {i}")});
        (0..n).map(note).collect()
    };
    let written = program.did(notes(200)).ok();
    let entries: Vec<i64> = serde_json::from_value(written["entries"].clone()).unwrap();
    assert_eq!(entries.len(), 200);
    assert!(entries.windows(2).all(|w| w[0] + 1 == w[1]));
    let refused = program.did(notes(8_000));
    assert_eq!(refused.status, 422);
    assert!(
        refused.field("acts").contains("at most"),
        "{}",
        refused.body
    );
    let undone = program.post("/undo", &json!({ "entries": entries }));
    assert_eq!(undone.ok()["entries"].as_array().unwrap().len(), 200);
}

#[test]
fn the_list_of_lots_leads_to_its_next_page_by_a_link() {
    let program = Program::start();
    let received = json!({
        "act": "received", "name": "half hog", "species": "pig", "origin": "bought",
        "known": "carcass", "reading": "38.6 kg",
    });
    for n in [150, 90] {
        let acts: Vec<_> = (0..n).map(|_| received.clone()).collect();
        program.did(json!(acts)).ok();
    }
    let first = program.get("/lots");
    let link = first.headers["link"].to_str().unwrap().to_string();
    assert_eq!(link, "</api/v1/lots?after=41>; rel=\"next\"");
    assert_eq!(first.ok().as_array().unwrap().len(), 200);
    let rest = program.get("/lots?after=41");
    assert!(rest.headers.get("link").is_none());
    assert_eq!(rest.ok().as_array().unwrap().len(), 40);
}

#[test]
fn what_nobody_can_see_is_not_kept() {
    let program = Program::start();
    let lot = program.half_hog();
    let piece = program.piece(lot, "belly", "5.2 kg", "42 mm");
    #[rustfmt::skip]
    let cases = [
        ("two\nlines\tand a tab", "two lines and a tab"),
        ("bell\u{7}, nothing\u{0} and escape\u{1b}[31m", "bell, nothing and escape[31m"),
        ("turned \u{202e}round\u{2066}", "turned round"),
        ("Räucherspeck 燻 👩\u{200d}🍳", "Räucherspeck 燻 👩\u{200d}🍳"),
    ];
    for (text, kept) in cases {
        program
            .did(json!([{"act": "noted", "piece": piece, "text": text}]))
            .ok();
        let view = program.get(&format!("/pieces/{piece}")).ok();
        assert_eq!(view["timeline"][0]["detail"], kept);
    }
    // What is nothing but that is nothing.
    let nothing = program.did(json!([{"act": "noted", "piece": piece, "text": "\u{0}\u{7}"}]));
    assert_eq!(nothing.status, 422, "{}", nothing.body);
}

#[test]
fn every_text_has_its_length() {
    let program = Program::start();
    let lot = program.half_hog();
    let piece = program.piece(lot, "belly", "5.2 kg", "42 mm");
    let long = |n: usize| "ä".repeat(n);
    #[rustfmt::skip]
    let cases = [
        (json!({"act": "received", "name": long(81), "species": "pig", "origin": "bought", "known": "carcass", "reading": "9 kg"}), "acts[0].name", "80"),
        (json!({"act": "noted", "piece": piece, "text": long(2_001)}), "acts[0].text", "2,000"),
        (json!({"act": "discarded", "piece": piece, "reason": long(2_001)}), "acts[0].reason", "2,000"),
        (json!({"act": "timer_set", "piece": piece, "what": "rest", "minutes": long(401)}), "acts[0].minutes", "400"),
        (json!({"act": "piece_weighed", "lot": lot, "cut": "belly", "reading": format!("{}1 kg", " ".repeat(400))}), "acts[0].reading", "400"),
    ];
    for (act, field, most) in cases {
        let answer = program.did(json!([act]));
        assert!(
            answer
                .field(field)
                .contains(&format!("at most {most} letters")),
            "{field}: {}",
            answer.body
        );
    }
    program
        .did(json!([{"act": "noted", "piece": piece, "text": long(2_000)}]))
        .ok();
}

#[test]
fn an_address_says_which_methods_it_takes_and_how_much() {
    let program = Program::start();
    #[rustfmt::skip]
    let cases = [
        ("DELETE", "/entries", 405, "POST"), ("GET", "/entries/3/undo", 405, "POST"),
        ("POST", "/today", 405, "GET"), ("PATCH", "/settings", 405, "GET, PUT"),
        ("GET", "/nothing", 404, ""), ("GET", "/stations/moon", 404, ""), ("GET", "/pieces/x", 404, ""),
    ];
    for (method, path, status, allow) in cases {
        let answer = program.ask(method, &format!("/api/v1{path}"), &[], None);
        assert_eq!(answer.status, status, "{method} {path}");
        assert_eq!(answer.kind, "application/problem+json", "{method} {path}");
        let said = answer
            .headers
            .get("allow")
            .map_or("", |v| v.to_str().unwrap());
        assert_eq!(said, allow, "{method} {path}");
    }
    let large = format!(
        r#"{{"acts": [], "happened_at": "{}"}}"#,
        "x".repeat(5 << 20)
    );
    let answer = program.ask("POST", "/api/v1/entries", &[], Some(&large));
    assert_eq!(
        (answer.status, answer.kind.as_str()),
        (413, "application/problem+json")
    );
}

#[test]
fn headers_that_decide_who_may_write_are_single_and_readable() {
    let program = Program::start();
    let host = program.address.trim_start_matches("http://").to_string();
    let post = |headers: &str| {
        let text = format!(
            "POST /api/v1/entries HTTP/1.1\r\n{headers}content-type: application/json\r\ncontent-length: 2\r\nconnection: close\r\n\r\n{{}}"
        );
        let answer = raw(&program, text.as_bytes(), Duration::from_secs(5));
        answer.split(' ').nth(1).unwrap_or("none").to_string()
    };
    // A request of our own gets as far as its fields.
    assert_eq!(
        post(&format!("host: {host}\r\norigin: http://{host}\r\n")),
        "422"
    );
    #[rustfmt::skip]
    let foreign = [
        format!("host: {host}\r\nhost: evil.example\r\n"),
        format!("host: {host}\r\norigin: http://{host}\r\norigin: http://evil.example\r\n"),
        format!("host: {host}\r\norigin: http://evil.example\r\norigin: http://{host}\r\n"),
        format!("host: {host}\r\norigin: null\r\n"),
        format!("host: {host}\r\norigin: http://{host}\u{e9}\r\n"),
        format!("host: {host}\r\nsec-fetch-site: same-origin\r\nsec-fetch-site: cross-site\r\n"),
        "host: evil.example\r\n".to_string(), String::new(),
    ];
    for headers in foreign {
        let status = post(&headers);
        assert!(
            ["400", "403"].contains(&status.as_str()),
            "{headers}: {status}"
        );
    }
}

#[test]
fn slow_and_many_visitors_leave_room_for_people() {
    let program = Program::start();
    let host = program.address.trim_start_matches("http://").to_string();
    let connect = |text: String| {
        let mut stream = TcpStream::connect(&host).unwrap();
        stream.write_all(text.as_bytes()).unwrap();
        stream
    };
    // Heads that never end, bodies that never come, and more listeners than there is room for.
    let slow: Vec<_> = (0..60)
        .map(|n| match n % 2 {
            0 => connect("GET /api/v1/settings HTTP/1.1\r\nhost:".into()),
            _ => connect(format!(
                "POST /api/v1/entries HTTP/1.1\r\nhost: {host}\r\ncontent-type: application/json\r\ncontent-length: 900\r\n\r\n{{"
            )),
        })
        .collect();
    let listen = || {
        let mut stream = connect(format!(
            "GET /api/v1/events HTTP/1.1\r\nhost: {host}\r\n\r\n"
        ));
        stream
            .set_read_timeout(Some(Duration::from_secs(5)))
            .unwrap();
        let mut head = [0; 12];
        stream.read_exact(&mut head).unwrap();
        (String::from_utf8_lossy(&head[9..]).into_owned(), stream)
    };
    let listeners: Vec<_> = (0..140).map(|_| listen()).collect();
    let heard = listeners
        .iter()
        .filter(|(status, _)| status == "200")
        .count();
    assert_eq!(heard, 128);
    assert!(listeners.iter().any(|(status, _)| status == "503"));
    // People are answered all the while.
    let lot = program.half_hog();
    assert_eq!(program.get(&format!("/lots/{lot}")).status, 200);
    // A place that is left is free again.
    drop(listeners);
    let since = Instant::now();
    while listen().0 != "200" {
        assert!(
            since.elapsed() < Duration::from_secs(15),
            "no place became free"
        );
        std::thread::sleep(Duration::from_millis(200));
    }
    drop(slow);
}

#[test]
fn one_address_leaves_room_for_the_others() {
    let program = Program::start();
    let host = program.address.trim_start_matches("http://").to_string();
    let address: std::net::SocketAddr = host.parse().unwrap();
    // More than are taken from one address, each with a head that never ends.
    let held: Vec<TcpStream> = (0..300)
        .filter_map(|_| {
            let mut stream = TcpStream::connect(address).ok()?;
            stream
                .write_all(b"GET /api/v1/settings HTTP/1.1\r\n")
                .ok()?;
            Some(stream)
        })
        .collect();
    // Somebody at another address is answered at once.
    let from = |source: &str| {
        let socket =
            socket2::Socket::new(socket2::Domain::IPV4, socket2::Type::STREAM, None).unwrap();
        let source: std::net::SocketAddr = format!("{source}:0").parse().unwrap();
        socket.bind(&source.into()).unwrap();
        socket.connect(&address.into()).unwrap();
        let mut stream = TcpStream::from(socket);
        stream
            .set_read_timeout(Some(Duration::from_secs(4)))
            .unwrap();
        let text =
            format!("GET /api/v1/settings HTTP/1.1\r\nhost: {host}\r\nconnection: close\r\n\r\n");
        let _ = stream.write_all(text.as_bytes());
        let mut answer = String::new();
        let _ = stream.read_to_string(&mut answer);
        answer.starts_with("HTTP/1.1 200")
    };
    assert!(from("127.0.0.2"));
    assert!(!from("127.0.0.1"), "all that it may hold it holds");
    // Heads that do not come are not waited for, and then there is room again.
    let since = Instant::now();
    while !from("127.0.0.1") {
        assert!(since.elapsed() < Duration::from_secs(12), "never free");
        std::thread::sleep(Duration::from_millis(250));
    }
    drop(held);
}

#[test]
fn two_files_are_brought_at_once_and_a_third_is_told_to_come_again() {
    let program = Program::start();
    let host = program.address.trim_start_matches("http://").to_string();
    let slow: Vec<TcpStream> = (0..2)
        .map(|_| {
            let mut stream = TcpStream::connect(&host).unwrap();
            let text = format!(
                "POST /api/v1/backups/brought HTTP/1.1\r\nhost: {host}\r\ncontent-type: application/octet-stream\r\ncontent-length: 90000\r\n\r\nSQLite"
            );
            stream.write_all(text.as_bytes()).unwrap();
            stream
        })
        .collect();
    let since = Instant::now();
    let third = loop {
        let answer = program.send(
            "/backups/brought",
            "application/octet-stream",
            b"SQLite format 3",
        );
        if answer.status == 503 {
            break answer;
        }
        assert!(since.elapsed() < Duration::from_secs(5), "{}", answer.body);
    };
    assert_eq!(third.headers["retry-after"], "1");
    // Pages are answered all the while, and a file that stops coming makes room.
    assert_eq!(program.get("/today").status, 200);
    drop(slow);
    while program
        .send(
            "/backups/brought",
            "application/octet-stream",
            b"SQLite format 3",
        )
        .status
        == 503
    {
        assert!(since.elapsed() < Duration::from_secs(25), "never free");
        std::thread::sleep(Duration::from_millis(200));
    }
}

#[test]
fn a_body_that_does_not_come_is_not_waited_for() {
    let program = Program::start();
    let host = program.address.trim_start_matches("http://");
    let text = format!(
        "POST /api/v1/entries HTTP/1.1\r\nhost: {host}\r\ncontent-type: application/json\r\ncontent-length: 900\r\n\r\n{{"
    );
    let answer = raw(&program, text.as_bytes(), Duration::from_secs(25));
    assert!(answer.starts_with("HTTP/1.1 408 "), "{answer}");
    assert!(answer.contains("Send it again."), "{answer}");
}

#[test]
fn lists_are_read_a_page_at_a_time_to_their_end() {
    let program = Program::start();
    let lot = program.half_hog();
    let acts: Value = (0..200)
        .map(|_| support::weigh_out(lot, "belly", "60 g", "20 mm"))
        .collect();
    program.kept(acts.clone()).ok();
    program.kept(acts).ok();
    for (path, list) in [
        ("/stations/assign", "pieces"),
        ("/plan/supply", "supply"),
        ("/tasks/due", "tasks"),
    ] {
        let mut seen = BTreeSet::new();
        let mut after = String::new();
        let mut pages = 0;
        loop {
            let page = program.get(&format!("{path}{after}")).ok();
            let rows = page[list].as_array().unwrap();
            assert!(rows.len() <= 200);
            for row in rows {
                assert!(seen.insert(row.to_string()), "{path}: twice {row}");
            }
            pages += 1;
            match page["next"].as_str() {
                Some(next) => after = format!("?after={next}"),
                None => {
                    assert_eq!(
                        seen.len() as u64,
                        page["in_all"].as_u64().unwrap(),
                        "{path}"
                    );
                    break;
                }
            }
        }
        assert!(pages >= 2, "{path}");
        let gone = program.get(&format!("{path}?after=nothing"));
        assert!(gone.field("after").contains("from its beginning"), "{path}");
    }
}

/// Words of the parser and of the program's own parts, which say nothing to a cook.
const JARGON: [&str; 12] = [
    "struct",
    "enum",
    "tuple",
    "variant",
    "serde",
    "deserialize",
    "EOF",
    "invalid type",
    "expected",
    "untagged",
    "u32",
    "usize",
];

#[test]
fn every_refusal_is_a_problem_in_words_and_a_status_that_is_described() {
    let program = Program::start();
    let document = program.get("/openapi.json").ok();
    let mut asked = 0;
    for (path, item) in document["paths"].as_object().unwrap() {
        for (method, operation) in item.as_object().unwrap() {
            for status in operation["responses"].as_object().unwrap().keys() {
                let response = described(&document, operation, status);
                assert!(
                    !response["description"].as_str().unwrap().is_empty(),
                    "{path} {status}"
                );
                if status.starts_with(['4', '5']) {
                    let kinds: Vec<_> = response["content"].as_object().unwrap().keys().collect();
                    assert_eq!(
                        kinds,
                        ["application/problem+json"],
                        "{method} {path} {status}"
                    );
                }
            }
            if operation["requestBody"]["content"]["application/json"].is_null() {
                continue;
            }
            let address = path
                .replace("{id}", "1")
                .replace("{name}", "x")
                .replace("{key}", "x");
            for body in [
                "",
                "{",
                "[",
                "nothing",
                "null",
                "[]",
                "[1]",
                "7",
                "\"x\"",
                "{}",
                "{\"acts\":{}}",
                "{\"acts\":[7]}",
                "{\"acts\":[{\"act\":7}]}",
                "{\"acts\":[{\"act\":\"noted\",\"piece\":\"x\"}]}",
                "{\"a\":1,\"a\":2}",
                "{} {}",
            ] {
                let answer = program.ask(&method.to_uppercase(), &address, &[], Some(body));
                if answer.status == 200 {
                    continue;
                }
                asked += 1;
                assert_eq!(
                    answer.kind, "application/problem+json",
                    "{method} {path} {body}"
                );
                let described = described(&document, operation, &answer.status.to_string());
                assert!(
                    described.is_object(),
                    "{method} {path} {body}: {} is not described",
                    answer.status
                );
                let words = answer.body["detail"].as_str().unwrap();
                for jargon in JARGON {
                    let is_said = words
                        .split(|c: char| !c.is_alphanumeric())
                        .any(|w| w == jargon);
                    assert!(!is_said, "{method} {path} {body}: {words}");
                }
            }
        }
    }
    assert!(asked > 300, "{asked}");
}
