//! Figures of the core and of the running program; printed, never asserted.

mod breakdown;
mod crowd;
mod doses;
mod hang;
mod ledger;
mod plan;
mod recipe;
mod runs;
mod tables;
mod verdicts;

use anyhow::{Context, Result};
use manifest_core::catalogue::Catalogue;
use manifest_core::cure::dry::{DryCureAsk, dry_cure};
use manifest_e2e::Server;
use serde_json::{Value, json};
use std::hint::black_box;
use std::time::{Duration, Instant};
use tempfile::TempDir;

/// Pieces under one lot, in the stages they are left at.
const PER_LOT: usize = 40;
/// Requests a figure is taken from.
const REQUESTS: usize = 300;

fn main() -> Result<()> {
    let only = std::env::args().nth(1);
    if only.as_deref() == Some("doses") {
        doses::bench();
        return Ok(());
    }
    if only.as_deref() == Some("today") {
        plan::bench()?;
        return today();
    }
    if only.as_deref() == Some("ledger") {
        return ledger::bench();
    }
    if only.as_deref() == Some("runs") {
        return runs::bench();
    }
    if only.as_deref() == Some("hang") {
        return hang::bench();
    }
    if only.as_deref() == Some("crowd") {
        return crowd::bench(20_000);
    }
    if only.as_deref() == Some("recipe") {
        return recipe::bench();
    }
    core()?;
    doses::bench();
    tables::bench();
    verdicts::bench()?;
    plan::bench()?;
    recipe::bench()?;
    if only.as_deref() == Some("core") {
        return Ok(());
    }
    ledger::bench()?;
    breakdown::bench()?;
    today()?;
    runs::bench()?;
    hang::bench()?;
    for pieces in [2_000, 20_000] {
        server(pieces)?;
    }
    crowd::bench(20_000)
}

fn core() -> Result<()> {
    let catalogue = Catalogue::shipped();
    let asks: Vec<DryCureAsk> = (0..10_000)
        .map(|i| {
            serde_json::from_value(json!({
                "meat_g": 400.0 + f64::from(i), "cure": "cure1", "nitrite_ppm": 156.0, "salt_g_per_kg": 22.0,
                "additions": [{"name": "sugar", "g_per_kg": 12.0}], "class": "fry", "scale_division_g": 0.1,
            }))
        })
        .collect::<Result<_, _>>()?;
    let mut runs: Vec<Duration> = (0..20)
        .map(|_| {
            let start = Instant::now();
            for ask in &asks {
                let _ = black_box(dry_cure(black_box(ask), &catalogue));
            }
            start.elapsed()
        })
        .collect();
    runs.sort();
    println!(
        "core: dry-cure with bands, 10,000 pieces: median {:.2?} of 20 runs",
        runs[10]
    );
    Ok(())
}

/// Today with five hundred things due, of a thousand pieces.
fn today() -> Result<()> {
    let server = Server::start_at(TempDir::new()?, false, Some("release"))?;
    fill(&server, 1_000 / PER_LOT)?;
    let mut due = 0;
    let mut server = server;
    // As many days later as it takes until five hundred are due.
    for days in 1..30 {
        let day = jiff::civil::date(2026, 11, 21).saturating_add(jiff::Span::new().days(days));
        server = server.killed_and_started_on(&format!("{day}T08:00:00Z"), Some("release"))?;
        let day: Value =
            serde_json::from_slice(&get(&server.address, "/api/v1/today", "identity")?)?;
        due = day["due"].as_u64().unwrap_or_default();
        if due >= 500 {
            break;
        }
    }
    let mut times = Vec::with_capacity(REQUESTS);
    let mut bytes = 0;
    for _ in 0..REQUESTS {
        let start = Instant::now();
        bytes = get(&server.address, "/api/v1/today", "identity")?.len();
        times.push(start.elapsed());
    }
    times.sort();
    let mut after = Vec::with_capacity(100);
    for _ in 0..100 {
        did(
            &server.address,
            json!([{"act": "noted", "piece": 1, "text": "firm"}]),
        )?;
        let start = Instant::now();
        get(&server.address, "/api/v1/today", "identity")?;
        after.push(start.elapsed());
    }
    after.sort();
    println!(
        "Today with {due} things due: median {:.2?} p99 {:.2?}, {} kB; right after an entry median {:.2?} p99 {:.2?}",
        times[REQUESTS / 2],
        times[REQUESTS * 99 / 100],
        bytes / 1_000,
        after[50],
        after[98],
    );
    Ok(())
}

fn server(pieces: usize) -> Result<()> {
    let started = Instant::now();
    let server = Server::start_at(TempDir::new()?, false, Some("release"))?;
    fill(&server, pieces / PER_LOT)?;
    println!(
        "\nserver with {pieces} pieces, half of them still on their way (filled in {:.1?})",
        started.elapsed()
    );
    for path in [
        "/today",
        "/stations/cure",
        "/stations/hang",
        "/tally",
        "/tally/1",
        "/lots/1",
        "/pieces/1",
        "/plan",
        "/find?q=loin",
        "/find?q=2.1%20kg%2045%20mm",
        "/find?q=zebra",
    ] {
        let mut times = Vec::with_capacity(REQUESTS);
        let mut bytes = 0;
        for _ in 0..REQUESTS {
            let start = Instant::now();
            bytes = get(&server.address, &format!("/api/v1{path}"), "identity")?.len();
            times.push(start.elapsed());
        }
        times.sort();
        println!(
            "  {path:<28} median {:>9.2?}  p99 {:>9.2?}  {:>6} kB",
            times[REQUESTS / 2],
            times[REQUESTS * 99 / 100],
            bytes / 1_000
        );
    }
    let mut writes: Vec<Duration> = Vec::new();
    for _ in 0..100 {
        let start = Instant::now();
        did(
            &server.address,
            json!([{"act": "noted", "piece": 1, "text": "firm"}]),
        )?;
        writes.push(start.elapsed());
    }
    writes.sort();
    println!(
        "  one entry        median {:>9.2?}  p99 {:>9.2?}  on the disk before it is acknowledged",
        writes[50], writes[99]
    );

    let mut starts = Vec::new();
    let mut server = server;
    for _ in 0..5 {
        let begin = Instant::now();
        server = server.killed_and_started_again(Some("release"))?;
        get(&server.address, "/api/v1/today", "identity")?;
        starts.push(begin.elapsed());
    }
    starts.sort();
    println!("  start to first answer: median {:.1?} of 5", starts[2]);
    if pieces == 2_000 {
        first_page(&server)?;
    }
    Ok(())
}

/// Script and style that the first page asks for, as they travel.
fn first_page(server: &Server) -> Result<()> {
    let page = String::from_utf8(get(&server.address, "/", "identity")?)?;
    let mut sum = 0;
    for link in page.split('"').filter(|t| t.starts_with("/assets/")) {
        sum += get(&server.address, link, "gzip")?.len();
    }
    println!(
        "  script and style of the first page: {:.0} kB gzipped",
        sum as f64 / 1_000.0
    );
    Ok(())
}

/// Lots of forty pieces, four left at each station and the rest packed.
fn fill(server: &Server, lots: usize) -> Result<()> {
    let address = &server.address;
    for lot in 1..=lots {
        let first = (lot - 1) * PER_LOT + 1;
        did(
            address,
            json!([{
                "act": "received", "name": format!("hog {lot}"), "species": "pig", "origin": "bought",
                "known": "carcass", "reading": "90 kg", "cost": "400",
            }]),
        )?;
        let weighed = (0..PER_LOT).map(|i| {
            let cut = if (12..16).contains(&i) { "neck_muscle" } else { "belly" };
            json!({"act": "piece_weighed", "lot": lot, "cut": cut, "reading": "2 kg", "thickness": "40 mm"})
        });
        did(address, Value::Array(weighed.collect()))?;
        let id = |i: usize| first + i;
        let assigned = (4..PER_LOT).map(|i| {
            let build = match i {
                4..12 => "belly-slab",
                12..16 => "muscle-cased",
                _ => "fresh",
            };
            let reason = (build == "muscle-cased").then_some("sold as frozen for a month");
            json!({"act": "assigned", "piece": id(i), "build": build, "reason": reason})
        });
        did(address, Value::Array(assigned.collect()))?;
        let ids = |range: std::ops::Range<usize>| range.map(id).collect::<Vec<_>>();
        let mut rest = vec![
            json!({"act": "dosed", "pieces": ids(4..12)}),
            json!({"act": "dosed", "pieces": ids(12..16)}),
        ];
        rest.extend(
            (8..16).map(|i| json!({"act": "out_of_cure", "piece": id(i), "reading": "1.95 kg"})),
        );
        rest.extend(
            (12..16).map(
                |i| json!({"act": "hung", "piece": id(i), "reading": "1.99 kg", "tare": "40 g"}),
            ),
        );
        rest.extend((20..PER_LOT).map(|i| {
            json!({"act": "packed", "piece": id(i), "packs": [{"reading": "1 kg"}, {"reading": "990 g"}], "finished": true})
        }));
        for act in rest {
            // One at a time what depends on the one before; the drafting looks at what is written.
            did(address, json!([act]))?;
        }
    }
    Ok(())
}

fn did(address: &str, acts: Value) -> Result<()> {
    let body = json!({"acts": acts, "keep_as_typed": true});
    ureq::post(format!("{address}/api/v1/entries"))
        .send_json(&body)
        .with_context(|| body.to_string())?;
    Ok(())
}

fn get(address: &str, path: &str, encoding: &str) -> Result<Vec<u8>> {
    let mut answer = ureq::get(format!("{address}{path}"))
        .header("accept-encoding", encoding)
        .call()?;
    Ok(answer
        .body_mut()
        .with_config()
        .limit(100 << 20)
        .read_to_vec()?)
}
