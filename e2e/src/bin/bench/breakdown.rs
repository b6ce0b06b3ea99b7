//! The break-down of one animal with three hundred pieces, asked for and shown; and planning with them.

use super::{did, get};
use anyhow::Result;
use manifest_e2e::{Browser, Server};
use serde_json::{Value, json};
use std::time::{Duration, Instant};
use tempfile::TempDir;

const PIECES: usize = 300;

/// Opens the animal from the list of animals and waits until its last piece is drawn.
const SHOW: &str = r"
const done = arguments[arguments.length - 1];
const start = performance.now();
const there = () => document.querySelectorAll('section[aria-label=\'Weighed out\'] tbody tr').length >= arguments[0];
const look = () => (there() ? requestAnimationFrame(() => done(performance.now() - start)) : setTimeout(look, 1));
[...document.querySelectorAll('a')].find((a) => a.getAttribute('href') === '/breakdown/1').click();
look();
";

pub fn bench() -> Result<()> {
    let server = Server::start_at(TempDir::new()?, false, Some("release"))?;
    fill(&server)?;
    println!("\nbreak-down and planning with {PIECES} pieces of one animal");
    for (path, post) in [
        ("/lots/1", false),
        ("/plan", false),
        ("/plan/suggest", true),
    ] {
        let mut times: Vec<Duration> = Vec::new();
        for _ in 0..if post { 9 } else { 60 } {
            let start = Instant::now();
            if post {
                ureq::post(format!("{}/api/v1{path}", server.address)).send_json(json!({}))?;
            } else {
                get(&server.address, &format!("/api/v1{path}"), "identity")?;
            }
            times.push(start.elapsed());
        }
        times.sort();
        println!(
            "  {path:<16} median {:>9.2?}  longest {:>9.2?}",
            times[times.len() / 2],
            times[times.len() - 1]
        );
    }
    let runtime = tokio::runtime::Runtime::new()?;
    let shown = runtime.block_on(show(&server))?;
    println!(
        "  shown in Chromium, from the tap to the last row: median {:.0} ms of {}",
        shown[shown.len() / 2],
        shown.len()
    );
    Ok(())
}

async fn show(server: &Server) -> Result<Vec<f64>> {
    let browser = Browser::open(&server.address, 1280, 800).await?;
    let mut times = Vec::new();
    for _ in 0..7 {
        browser.goto("/breakdown").await?;
        let took = browser
            .driver
            .execute_async(SHOW, vec![json!(PIECES)])
            .await?;
        times.push(took.json().as_f64().unwrap_or(f64::NAN));
    }
    browser.close().await?;
    times.sort_by(f64::total_cmp);
    Ok(times)
}

/// One large animal in three hundred pieces, none of them with a product, and twenty wishes.
fn fill(server: &Server) -> Result<()> {
    let address = &server.address;
    did(
        address,
        json!([{"act": "received", "name": "steer", "species": "pig", "origin": "raised", "known": "carcass", "reading": "900 kg"}]),
    )?;
    let cuts = ["belly", "loin", "butt", "leg_muscle", "jowl", "tenderloin"];
    let pieces = (0..PIECES).map(|i| {
        json!({"act": "piece_weighed", "lot": 1, "cut": cuts[i % cuts.len()], "reading": format!("{} g", 900 + (i * 37) % 2_600), "thickness": "45 mm"})
    });
    did(address, Value::Array(pieces.collect()))?;
    let builds = [
        "belly-slab",
        "belly-slab-syrup",
        "back-smoked",
        "back-meal",
        "shoulder-slab",
        "jowl-smoked",
        "ham-aged",
        "backstrap",
        "round-roll",
        "breast-peppered",
    ];
    let wishes = (0..20).map(|i| {
        json!({"build": builds[i % builds.len()], "amount": {"as": "mass", "amount": format!("{} kg", 6 + i)}})
    });
    ureq::put(format!("{address}/api/v1/wishes"))
        .send_json(json!({"version": 0, "wishes": wishes.collect::<Vec<_>>()}))?;
    Ok(())
}
