//! Every calculator, asked in process: its worked cases, and numbers that nobody means.

use actix_web::http::StatusCode;
use actix_web::test;
use actix_web::web::Data;
use manifest_server::clock::Clock;
use manifest_server::guard::Names;
use manifest_server::{App, openapi, web_app};
use manifest_store::Store;
use serde_json::{Value, json};
use std::sync::Arc;
use tempfile::TempDir;

/// A request with every field that has to be there.
fn plain(name: &str) -> Value {
    match name {
        "dry-cure" => {
            json!({"meat_g": 2000, "cure": "cure1", "nitrite_ppm": 156, "salt_g_per_kg": 22, "class": "fry"})
        }
        "batch-mix" => {
            json!({"pieces": [{"id": "a", "mass_g": 900}, {"id": "b", "mass_g": 1200}], "cure": "cure1", "cure_g_per_kg": 2.5, "salt_g_per_kg": 22, "class": "fry"})
        }
        "equilibrium-brine" => {
            json!({"meat_g": 3000, "water_g": 2000, "salt_fraction": 0.022, "sugar_fraction": 0.015, "nitrite_ppm": 120, "cure": "cure1", "class": "cooked"})
        }
        "cover-brine" => {
            json!({"meat_g": 3000, "water_g": 3000, "salt_g": 250, "sugar_g": 120, "cure_g": 30, "cure": "cure1", "pickup_fraction": 0.1, "thickness_mm": 80, "days": 10, "class": "cooked"})
        }
        "injection" => {
            json!({"meat_g": 4000, "water_g": 3000, "salt_g": 300, "sugar_g": 100, "cure_g": 60, "cure": "cure1", "pump_fraction": 0.1, "class": "cooked"})
        }
        "label-cure" => {
            json!({"meat_g": 2000, "cure": "preblend", "dose_g_per_kg": 17, "class": "cooked"})
        }
        "spoons" => json!({"ingredient": "cure1", "amount": 2, "unit": "tsp", "measures": "us"}),
        "cure-time" => json!({"thickness_mm": 50.8, "mass_g": 2000, "temperature_c": 3}),
        "hang-target" => {
            json!({"gross_start_g": 1240, "tare_g": 32, "loss_fraction": 0.36, "gross_now_g": 900})
        }
        "fat-blend" => {
            json!({"lean_fat_fraction": 0.03, "fat_fat_fraction": 0.88, "target_fat_fraction": 0.28, "total_g": 3000})
        }
        "lethality" => {
            json!({"readings": [{"minute": 0, "inside_c": 55}, {"minute": 90, "inside_c": 64}]})
        }
        "done-when" => {
            json!({"readings": [{"minute": 0, "inside_c": 10}, {"minute": 20, "inside_c": 22}, {"minute": 40, "inside_c": 32}], "target_c": 62.8, "chamber_c": 95})
        }
        "recipe-check" => {
            json!({"text": "2 kg belly\n44 g salt\n1 tsp cure #1", "meat_g": 1500, "thickness_mm": 40, "class": "fry", "measures": "us"})
        }
        other => panic!("no calculator {other}"),
    }
}

const NAMES: [&str; 13] = [
    "dry-cure",
    "batch-mix",
    "equilibrium-brine",
    "cover-brine",
    "injection",
    "label-cure",
    "spoons",
    "lethality",
    "done-when",
    "cure-time",
    "hang-target",
    "fat-blend",
    "recipe-check",
];

macro_rules! service {
    ($dir:ident) => {{
        let store = Store::open($dir.path(), jiff::Timestamp::now()).unwrap();
        let clock = Clock::pinned("2026-11-21T09:30:00Z".parse().unwrap());
        let app = Data::new(App::new(Arc::new(store), clock));
        let names = Data::new(Names {
            allowed: Vec::new(),
            loopback_only: true,
        });
        test::init_service(web_app(&app, &names, &Data::new(openapi()))).await
    }};
}

macro_rules! ask {
    ($service:ident, $name:expr, $body:expr) => {{
        let request = test::TestRequest::post()
            .uri(&format!("/api/v1/calc/{}", $name))
            .set_json($body)
            .to_request();
        let answer = test::call_service(&$service, request).await;
        let status = answer.status();
        let body: Value = test::read_body_json(answer).await;
        (status, body)
    }};
}

#[actix_web::test]
async fn every_calculator_answers_its_worked_cases() {
    let dir = TempDir::new().unwrap();
    let service = service!(dir);
    let mut held = 0;
    for name in NAMES {
        let path = format!(
            "{}/../core/tests/cases/{name}.json",
            env!("CARGO_MANIFEST_DIR")
        );
        let Ok(text) = std::fs::read_to_string(path) else {
            assert_eq!(name, "spoons");
            continue;
        };
        let cases: Value = serde_json::from_str(&text).unwrap();
        for case in cases["cases"].as_array().unwrap() {
            let (status, body) = ask!(service, name, &case["request"]);
            assert_eq!(status, StatusCode::OK, "{name}: {body}");
            // The core's own tests hold the numbers; here they only have to arrive.
            let wanted = case["expect"].as_object().unwrap();
            for (field, want) in wanted.iter().filter(|_| name != "cure-time") {
                let (Some(want), Some(got)) = (want.as_f64(), body[field].as_f64()) else {
                    continue;
                };
                assert!(
                    (want - got).abs() <= 1e-6 * want.abs().max(1e-6),
                    "{name} {field}: {got}"
                );
            }
            held += 1;
        }
    }
    assert_eq!(held, 56);
}

#[actix_web::test]
async fn what_the_scale_shows_has_no_more_digits_than_the_scale() {
    let dir = TempDir::new().unwrap();
    let service = service!(dir);
    let mut ask = plain("dry-cure");
    ask["scale_division_g"] = json!(0.1);
    for meat in 1..400 {
        ask["meat_g"] = json!(meat * 37);
        let (_, body) = ask!(service, "dry-cure", &ask);
        for field in ["cure_g", "salt_g"] {
            let shown = body["weighed"][field].to_string();
            let digits = shown.split_once('.').map_or(0, |(_, d)| d.len());
            assert!(digits <= 1, "{meat}: {field} {shown}");
        }
    }
}

#[actix_web::test]
async fn numbers_that_nobody_means_are_refused_in_words() {
    let dir = TempDir::new().unwrap();
    let service = service!(dir);
    for name in NAMES {
        let (status, body) = ask!(service, name, &plain(name));
        assert_eq!(status, StatusCode::OK, "{name}: {body}");
        let fields: Vec<_> = plain(name)
            .as_object()
            .unwrap()
            .clone()
            .into_iter()
            .collect();
        for (field, value) in fields.iter().filter(|(_, v)| v.is_number()) {
            for wrong in [
                json!(1e308),
                json!(-1e308),
                json!(-1.0),
                json!(1e9),
                json!("a lot"),
            ] {
                let mut hostile = plain(name);
                // Cold places exist, and so do large blocks of meat.
                if field.ends_with("_c") && wrong == json!(-1.0) {
                    continue;
                }
                hostile[field] = wrong.clone();
                let (status, body) = ask!(service, name, &hostile);
                assert_eq!(
                    status,
                    StatusCode::UNPROCESSABLE_ENTITY,
                    "{name} {field} {wrong}: {body}"
                );
                let message = body["errors"][0]["message"].as_str().unwrap();
                assert!(
                    message.len() < 300,
                    "{name} {field} {wrong} (was {value}): {message}"
                );
            }
        }
        let mut unknown = plain(name);
        unknown["moon"] = json!(1);
        let (status, _) = ask!(service, name, &unknown);
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{name}");
    }
    let mut twice = plain("batch-mix");
    twice["pieces"][1]["id"] = json!("a");
    let (status, body) = ask!(service, "batch-mix", &twice);
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(body["errors"][0]["field"], "pieces[1].id");
    assert_eq!(
        body["errors"][0]["message"],
        "Two pieces are called “a”. Give each a name of its own."
    );
}
