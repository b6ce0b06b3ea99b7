//! Screenshots of the main views from the demo data: `shots DIR [FILTER]`, or of any address at
//! the desk and on the phone: `shots DIR /pieces/2`.

use anyhow::{Context, Result};
use manifest_e2e::{Browser, Server};
use serde_json::{Value, json};
use std::path::PathBuf;
use std::time::{Duration, Instant};

/// Name, address, width, height and theme.
const SHOTS: &[(&str, &str, u32, u32, &str)] = &[
    ("today", "/", 1280, 800, "light"),
    ("today-phone", "/", 390, 844, "light"),
    ("cold", "/cold", 1280, 800, "light"),
    (
        "away",
        "/away?from=2026-11-23&to=2026-11-27",
        1280,
        800,
        "light",
    ),
    ("receive", "/receive", 1280, 800, "light"),
    ("breakdown", "/breakdown/{GT1}", 1280, 800, "light"),
    ("assign", "/assign", 1280, 800, "light"),
    ("cutsheet", "/cutsheet/{GT1}", 1280, 800, "light"),
    ("cure", "/cure", 1280, 800, "light"),
    ("hang", "/hang", 1280, 800, "light"),
    ("pack", "/pack", 1280, 800, "light"),
    ("tally", "/tally", 1280, 800, "light"),
    ("piece", "/pieces/{EK1-2}", 1280, 800, "light"),
    ("library", "/library/muscle-cased", 1280, 800, "light"),
    ("settings", "/settings", 1280, 800, "light"),
    ("cure-phone", "/cure", 390, 844, "light"),
    ("recipe", "/recipe", 1280, 1000, "light"),
    ("hang-phone-dark", "/hang", 390, 844, "dark"),
    // Last: the clock is moved on for it.
    ("smoke", "/smoke/runs/1", 1280, 800, "light"),
];

/// What a person does before the picture is worth taking: a button to press, and words to wait for.
const FIRST: &[(&str, &str, &str)] = &[
    ("assign", "Suggest", "The suggestion"),
    ("recipe", "Show me one", "As it was read"),
];

/// What is shown of a page that begins further down.
const PLACE: &[(&str, &str)] = &[("smoke", "[aria-label=Stages]")];

/// A winter's load of the demo household in its smoker, two hours and a half into the smoke.
fn smoke_day(server: &Server) -> Result<()> {
    let post = |path: &str, body: &Value| -> Result<Value> {
        let sent = ureq::post(format!("{}/api/v1{path}", server.address)).send_json(body);
        let mut answer = sent.with_context(|| body.to_string())?;
        Ok(answer.body_mut().read_json()?)
    };
    let kept = |acts: Value| post("/entries", &json!({"acts": acts, "keep_as_typed": true}));
    let home = server.says("/settings")?["household"].clone();
    let places = home["equipment"]["places"]
        .as_array()
        .cloned()
        .unwrap_or_default();
    let smoker = places
        .iter()
        .find(|p| p["kind"] == "smoker")
        .context("a smoker")?["id"]
        .clone();
    let mut pieces = Vec::new();
    for (cut, build, grams, mm) in [
        ("belly", "belly-slab", 2_400.0, 42.0),
        ("belly", "belly-slab", 2_100.0, 38.0),
        ("butt", "shoulder-slab", 2_600.0, 55.0),
        ("loin", "back-smoked", 1_800.0, 64.0),
    ] {
        let reading = format!("{grams} g");
        let lines = [("cure #1", 2.3), ("salt", 20.0)]
            .map(|(name, rate)| json!({"name": name, "reading": format!("{:.1} g", grams / 1_000.0 * rate)}));
        let entered = kept(json!([{
            "act": "under_way", "cut": cut, "build": build, "at": "in_cure", "since": "2026-11-10T18:00", "reading": reading, "thickness": format!("{mm} mm"),
            "weighed": {"cure": "cure1", "lines": lines},
            "received": {"name": "winter hog", "species": "pig", "origin": "bought", "known": "bought_cut", "cut": cut, "reading": reading},
        }]))?;
        let piece = entered["pieces"][0].clone();
        kept(
            json!([{"act": "out_of_cure", "piece": piece, "reading": format!("{:.0} g", grams * 0.98)}]),
        )?;
        kept(json!([{"act": "checked", "piece": piece, "check": "tacky", "grade": "tacky"}]))?;
        pieces.push(piece);
    }
    post(
        "/runs",
        &json!({"place": smoker, "school": "medium", "pieces": pieces}),
    )?;
    let acts = |acts: Value| post("/runs/1/acts", &json!({ "acts": acts }));
    acts(json!([
        {"act": "loaded", "piece": pieces[1], "zone": "left", "shelf": 2},
        {"act": "loaded", "piece": pieces[2], "zone": "right", "shelf": 1},
        {"act": "loaded", "piece": pieces[3], "zone": "right", "shelf": 2},
        {"act": "probe_set", "probe": 1, "piece": pieces[0]},
        {"act": "probe_set", "probe": 2, "piece": pieces[2]},
        {"act": "probe_set", "probe": 3, "piece": pieces[3]},
        {"act": "probe_set", "probe": 4, "zone": "left"},
        {"act": "lit", "kind": "chunks", "wood": "apple", "grams": "400 g", "burns": 5},
        {"act": "stage_begun"},
    ]))?;
    post("/clock/move", &json!({"by": "55 min"}))?;
    acts(json!([{"act": "stage_begun"}]))?;
    post("/clock/move", &json!({"by": "90 min"}))?;
    let end = Instant::now() + Duration::from_secs(20);
    while server.says("/runs/1")?["pieces"][0]["inside"]["celsius"].as_f64() < Some(40.0) {
        anyhow::ensure!(Instant::now() < end, "the probes said nothing");
        std::thread::sleep(Duration::from_millis(200));
    }
    Ok(())
}

#[tokio::main]
async fn main() -> Result<()> {
    let mut args = std::env::args().skip(1);
    let dir = PathBuf::from(args.next().context("usage: shots DIR [FILTER]")?);
    let filter = args.next().unwrap_or_default();
    std::fs::create_dir_all(&dir)?;
    let server = Server::start(true)?;
    let browser = Browser::open(&server.address, 1280, 800).await?;
    if filter.starts_with('/') {
        let name = filter.replace(['/', '?', '='], "-");
        for (suffix, width, height, theme) in
            [("", 1280, 1000, "light"), ("-phone", 390, 1400, "dark")]
        {
            browser.resize(width, height).await?;
            browser.prefer(theme).await?;
            browser.goto(&filter).await?;
            browser.settled().await?;
            browser
                .shoot(&dir.join(format!("shot{name}{suffix}.png")))
                .await?;
        }
        return browser.close().await;
    }
    for (name, path, width, height, theme) in SHOTS {
        if !name.contains(&filter) {
            continue;
        }
        if path.starts_with("/smoke/runs") && server.says("/runs")?["open"][0].is_null() {
            smoke_day(&server)?;
        }
        browser.resize(*width, *height).await?;
        browser.prefer(theme).await?;
        browser.goto(path).await?;
        browser.settled().await?;
        if let Some((_, button, words)) = FIRST.iter().find(|(of, _, _)| of == name) {
            browser.press("button", button).await?;
            browser.sees(words).await?;
            browser.run("window.scrollTo(0, 0)", vec![]).await?;
        }
        if let Some((_, place)) = PLACE.iter().find(|(of, _)| of == name) {
            let script = format!(
                "const top = document.querySelector('{place}').getBoundingClientRect().top; window.scrollBy(0, top - document.querySelector('header').offsetHeight - 8)"
            );
            browser.run(&script, vec![]).await?;
        }
        browser.shoot(&dir.join(format!("{name}.png"))).await?;
        println!("{name}.png");
    }
    browser.close().await
}
