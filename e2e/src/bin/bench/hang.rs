//! The hook: forecasts of many pieces, the sheet with two hundred hooks, its band counted over more cases than a test takes.

use crate::get;
use anyhow::{Context, Result};
use manifest_core::hang::forecast::{HangForecastAsk, HookWeighing, hang_forecast, loss_after};
use manifest_e2e::Server;
use serde_json::{Value, json};
use std::hint::black_box;
use std::time::{Duration, Instant};

const HOOKS: usize = 200;
const WEIGHINGS: usize = 10;

pub fn bench() -> Result<()> {
    forecasts();
    sheet()
}

fn forecasts() {
    let asks: Vec<HangForecastAsk> = (0..HOOKS)
        .map(|n| {
            let k = 0.01 + 0.0002 * n as f64;
            let weighings = (1..=WEIGHINGS).map(|w| {
                let day = (w * 4) as f64;
                let noise = ((n * 31 + w * 17) % 11) as f64 - 5.0;
                HookWeighing {
                    day,
                    gross_g: 1_200.0 * (1.0 - loss_after(day, k, 0.55).0) + 45.0 + noise,
                }
            });
            HangForecastAsk {
                gross_start_g: 1_245.0,
                tare_g: 45.0,
                loss_fraction: 0.35,
                lmax_fraction: 0.55,
                weighings: weighings.collect(),
            }
        })
        .collect();
    let mut times: Vec<Duration> = (0..50)
        .map(|_| {
            let start = Instant::now();
            for ask in &asks {
                black_box(hang_forecast(black_box(ask)).is_ok());
            }
            start.elapsed()
        })
        .collect();
    times.sort();
    println!(
        "core: forecast of {HOOKS} pieces with {WEIGHINGS} weighings each: median {:.2?}, longest {:.2?} of 50",
        times[25], times[49]
    );
}

fn sheet() -> Result<()> {
    let server = Server::start(false)?;
    let mut home = server.says("/settings")?["household"].clone();
    home["equipment"] = json!({
        "scales": [], "bags": [], "oven": true, "grinder": true, "stuffer": true,
        "places": [{"kind": "chamber", "name": "chamber", "count": 1, "holds": 300.0}],
    });
    server.puts("/settings", &home)?;
    let acts: Vec<Value> = (0..HOOKS)
        .map(|n| {
            json!({
                "act": "under_way", "cut": "eye_round", "build": "muscle-cased", "at": "hanging", "since": "2026-10-01T08:00", "reading": format!("{} g", 1_530 + n),
                "gross_start": format!("{} g", 1_540 + n), "tare": "40 g", "green": format!("{} g", 1_520 + n), "thickness": "72 mm", "place": 1,
                "received": {"name": "eye of round", "species": "beef", "origin": "bought", "known": "bought_cut", "cut": "eye_round", "reading": "1.9 kg"},
            })
        })
        .collect();
    let mut pieces = Vec::new();
    for some in acts.chunks(20) {
        let made = server.did_at("2026-10-01T09:00:00Z", &json!(some))?;
        pieces.extend(made["pieces"].as_array().cloned().unwrap_or_default());
    }
    for w in 1..=WEIGHINGS {
        let day = w * 4;
        let (month, day) = if day <= 30 {
            (10, 1 + day)
        } else {
            (11, day - 30)
        };
        let lost = loss_after((w * 4) as f64, 0.018, 0.55).0;
        for (some, first) in pieces.chunks(40).zip((0..HOOKS).step_by(40)) {
            let acts: Vec<Value> = some
                .iter()
                .zip(first..)
                .map(|(id, n)| json!({"act": "weighed_in", "piece": id, "reading": format!("{:.0} g", (1_500 + n) as f64 * (1.0 - lost) + 40.0)}))
                .collect();
            server.did_at(&format!("2026-{month}-{day:02}T08:00:00Z"), &json!(acts))?;
        }
    }
    let last = pieces.last().context("a piece")?.clone();
    println!("\nthe sheet with {HOOKS} hooks, {WEIGHINGS} weighings each");
    for path in [
        "/api/v1/hang".to_string(),
        "/api/v1/stations/hang".into(),
        format!("/api/v1/pieces/{last}/hang"),
    ] {
        let mut size = 0;
        let mut times = Vec::new();
        for _ in 0..300 {
            let start = Instant::now();
            size = get(&server.address, &path, "identity")?.len();
            times.push(start.elapsed());
        }
        times.sort();
        println!(
            "  {path:<26} median {:>9.2?}  p99 {:>9.2?}  {:>6} kB",
            times[150],
            times[296],
            size / 1_000
        );
    }
    Ok(())
}
