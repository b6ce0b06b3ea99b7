//! The smoker in the real browser, on the practice clock with the thermometer that comes with it: a smoke day, a night's pause, a file.

use anyhow::{Context, Result};
use manifest_e2e::browser::Browser;
use manifest_e2e::{DESK, PHONE, Server, open};
use serde_json::{Value, json};
use std::time::{Duration, Instant};

fn kept(server: &Server, acts: &Value) -> Result<Value> {
    let ask = json!({"acts": acts, "keep_as_typed": true});
    let mut answer = ureq::post(format!("{}/api/v1/entries", server.address))
        .send_json(&ask)
        .with_context(|| acts.to_string())?;
    Ok(answer.body_mut().read_json()?)
}

/// A piece out of its cure, its surface dry.
fn waits(
    server: &Server,
    species: &str,
    (cut, build): (&str, &str),
    grams: f64,
    mm: f64,
) -> Result<i64> {
    let reading = format!("{grams} g");
    let entered = kept(
        server,
        &json!([{
            "act": "under_way", "cut": cut, "build": build, "at": "in_cure", "since": "2026-11-20T18:00", "reading": reading, "thickness": format!("{mm} mm"),
            "weighed": {"cure": "cure1", "lines": [
                {"name": "cure #1", "reading": format!("{:.1} g", grams * 0.0023)}, {"name": "salt", "reading": format!("{:.0} g", grams * 0.02)}]},
            "received": {"name": format!("{species} {cut}"), "species": species, "origin": "bought", "known": "bought_cut", "cut": cut, "reading": reading},
        }]),
    )?;
    let piece = entered["pieces"][0].as_i64().context("a piece")?;
    kept(
        server,
        &json!([{"act": "out_of_cure", "piece": piece, "reading": format!("{:.0} g", grams * 0.98)}]),
    )?;
    kept(
        server,
        &json!([{"act": "checked", "piece": piece, "check": "tacky", "grade": "tacky"}]),
    )?;
    Ok(piece)
}

/// A household for practice with a smoker of two zones, whose thermometer is the one that comes with it.
fn household(sensor: Option<&str>) -> Result<Server> {
    let server = Server::start_practice("2026-12-05T07:00:00Z")?;
    let mut home = server.says("/settings")?["household"].clone();
    home["equipment"] = json!({
        "scales": [], "bags": [], "oven": true, "grinder": true, "stuffer": true,
        "places": [{"kind": "smoker", "name": "barrel", "count": 1, "holds": 12.0, "shelves": 2, "zones": ["front", "back"], "sensor": sensor}],
    });
    server.puts("/settings", &home)?;
    Ok(server)
}

/// Moves the clock on by the bar on top, and waits until the probes have said what they saw meanwhile.
async fn hours_on(server: &Server, b: &Browser, n: usize) -> Result<()> {
    for _ in 0..n {
        b.press("button", "An hour on").await?;
        b.settled().await?;
        heard(server)?;
    }
    Ok(())
}

fn heard(server: &Server) -> Result<()> {
    let end = Instant::now() + Duration::from_secs(20);
    loop {
        let run = server.says("/runs/1")?;
        let now = run["now"].as_str().unwrap_or_default().to_string();
        let said = |p: &Value| p["last"]["at"].as_str().unwrap_or_default().to_string();
        let probes = run["probes"].as_array().cloned().unwrap_or_default();
        let minute = |t: &str| t.get(..16).map(str::to_string);
        if probes.iter().any(|p| minute(&said(p)) == minute(&now)) {
            return Ok(());
        }
        anyhow::ensure!(
            Instant::now() < end,
            "the probes never came to {now}: {probes:?}"
        );
        std::thread::sleep(Duration::from_millis(100));
    }
}

fn piece(server: &Server, tag: &str) -> Result<Value> {
    let run = server.says("/runs/1")?;
    let all = run["pieces"].as_array().cloned().unwrap_or_default();
    all.into_iter()
        .find(|p| p["tag"] == tag)
        .context("the piece")
}

#[tokio::test]
async fn a_smoke_day_with_four_pieces_and_three_probes() -> Result<()> {
    let server = household(Some("practice"))?;
    waits(&server, "pig", ("belly", "belly-slab"), 2_300.0, 40.0)?;
    waits(&server, "pig", ("belly", "belly-slab"), 2_100.0, 36.0)?;
    waits(
        &server,
        "deer",
        ("backstrap", "backstrap-label"),
        900.0,
        44.0,
    )?;
    waits(&server, "pig", ("loin", "back-smoked"), 1_800.0, 66.0)?;
    let b = open(&server, DESK).await?;
    b.goto("/smoke").await?;
    b.sees("6.958 kg together, of 12 kg that it takes").await?;
    b.press("button", "Medium").await?;
    b.sees("100 to 115 °C").await?;
    b.press("button", "Lay 4 pieces in").await?;
    b.sees("Set up Dec 5, 07:00.").await?;
    // three probes in meat, one in the air; one piece has none
    for (tag, probe) in [
        ("HG1-1", "probe 1"),
        ("DR1-1", "probe 2"),
        ("HG3-1", "probe 3"),
    ] {
        b.press("button", tag).await?;
        b.press("radio", "Probe").await?;
        b.choose("Which probe", &format!("{probe}, free")).await?;
        b.press("button", &format!("Set {probe} into {tag}"))
            .await?;
        b.sees(&format!("{probe} set into {tag}")).await?;
    }
    b.press("button", "Hang a probe into the air").await?;
    b.press("button", "Probe 4 into the air of front").await?;
    b.sees("probe 4 hangs in the air of front").await?;
    b.press("button", "Light it").await?;
    b.fill("Which wood", "heating pellets").await?;
    b.press("button", "Lit now").await?;
    b.sees("Heating pellets hold softwood").await?;
    b.fill("Which wood", "cherry").await?;
    b.press("button", "Lit now").await?;
    b.sees("chunks, cherry").await?;
    b.press("button", "Begin: dry the surface").await?;
    hours_on(&server, &b, 1).await?;
    b.sees("“dry the surface” is over in barrel").await?;
    b.press("button", "On to: smoke").await?;
    hours_on(&server, &b, 1).await?;
    // the day runs on before one's eyes, and stops when something rings: the third probe slipped out of its meat
    b.press("button", "Let the day run").await?;
    b.sees("Probe 3 in HG3-1 does not read like meat any more")
        .await?;
    b.sees("Let the day run").await?;
    heard(&server)?;
    b.press("button", "Let the day run").await?;
    // told before the mark, with its reason; the neighbour without a probe too
    b.sees("near its 60 °C").await?;
    b.sees("pork that is cooked before eating").await?;
    let slab = piece(&server, "HG1-1")?;
    assert!(
        slab["inside"]["celsius"].as_f64() < Some(60.0),
        "told in time: {slab}"
    );
    b.sees("HG2-1 has no probe; by its neighbours").await?;
    // an alarm rings on every page until it is answered
    b.goto("/").await?;
    b.sees("HG2-1 has no probe").await?;
    for _ in 0..8 {
        if server.says("/runs/alarms")?["alarms"]
            .as_array()
            .is_none_or(Vec::is_empty)
        {
            break;
        }
        b.press("button", "I see to it").await?;
        b.settled().await?;
    }
    b.gone("HG2-1 has no probe").await?;
    b.press("link", "Smoke").await?;
    b.press("link", "barrel").await?;
    // the probe is set again; the first one moves to the piece that had none
    b.press("button", "HG3-1").await?;
    b.press("radio", "Probe").await?;
    b.press("button", "Set probe 3 anew").await?;
    b.sees("probe 3 set into HG3-1").await?;
    b.press("button", "HG1-1").await?;
    b.press("radio", "Check").await?;
    b.fill("Place 1", "60.8 C").await?;
    b.fill("Place 2", "60.2 C").await?;
    b.press("button", "Write the check down").await?;
    b.sees("HG1-1 checked: 60.8 °C, 60.2 °C").await?;
    b.press("radio", "Pull").await?;
    b.sees("Left empty, it is 60.2 °C").await?;
    b.fill("Out of the heat, HG1-1 weighs", "2.06 kg").await?;
    b.press("button", "Pull HG1-1").await?;
    b.sees("Cool it to 26.7 °C by").await?;
    b.press("button", "HG2-1").await?;
    b.press("radio", "Probe").await?;
    b.choose("Which probe", "probe 1, in HG1-1").await?;
    b.press("button", "Set probe 1 into HG2-1").await?;
    b.sees("probe 1 set into HG2-1").await?;
    // the lean piece stands still between 62 and 68, and that is said
    let mut stalled = false;
    for _ in 0..14 {
        let on = json!({"by": "15 min"});
        ureq::post(format!("{}/api/v1/clock/move", server.address)).send_json(&on)?;
        heard(&server)?;
        stalled |= piece(&server, "DR1-1")?["forecast"]["stalled"] == true;
        if stalled {
            break;
        }
    }
    assert!(stalled, "{}", piece(&server, "DR1-1")?);
    b.press("button", "DR1-1").await?;
    b.sees("It stands still").await?;
    assert_eq!(piece(&server, "HG3-1")?["faults"][0]["kind"], "out_of_meat");
    b.close().await
}

#[tokio::test]
async fn a_night_between_cold_and_hot_and_a_log_out_of_a_file_on_a_phone() -> Result<()> {
    let server = household(None)?;
    let slab = waits(&server, "pig", ("butt", "shoulder-slab"), 2_400.0, 48.0)?;
    let b = open(&server, PHONE).await?;
    b.goto("/smoke").await?;
    b.sees("rest in the cold").await?;
    b.press("button", "Lay it in").await?;
    b.sees("cold smoke").await?;
    b.press("button", "Begin: cold smoke").await?;
    b.press("button", "An hour on").await?;
    b.press("button", "Pause").await?;
    b.sees("Pauses since Dec 5, 08:00.").await?;
    b.press("button", "Next morning").await?;
    b.press("button", "Go on").await?;
    b.sees("goes on").await?;
    // the stages are put differently: no more cold smoke, hot at once
    b.press("button", "Change the stages").await?;
    b.press("button", "stage 2: take out").await?;
    b.press("button", "These stages").await?;
    b.sees("stages now: cold smoke").await?;
    b.press("button", "On to: dry the surface").await?;
    b.press("button", "On to: smoke").await?;
    b.press("radio", "Probe").await?;
    b.press("button", "Set probe 1 into HG1-1").await?;
    b.sees("probe 1 set into HG1-1").await?;
    b.press("button", "An hour on").await?;
    b.press("button", "An hour on").await?;
    let mut file = String::from("time,probe 1 F,probe 2 F\n");
    for minute in 1..110 {
        let c = 8.0 + 0.45 * f64::from(minute);
        let at = format!("2026-12-06 {:02}:{:02}:00", 8 + minute / 60, minute % 60);
        file += &format!("{at},{:.1},{:.1}\n", c * 1.8 + 32.0, 190.0);
    }
    let log = std::env::temp_dir().join("barrel-log.csv");
    std::fs::write(&log, file)?;
    b.press("button", "Out of a file of the thermometer")
        .await?;
    b.upload(
        "A text file with a time and a column for each probe (CSV)",
        &log,
    )
    .await?;
    b.sees("218 readings").await?;
    b.press("button", "Take 218 readings").await?;
    b.sees("218 readings taken").await?;
    let inside = piece(&server, "HG1-1")?["inside"]["celsius"].as_f64();
    assert!(
        inside.is_some_and(|c| (56.5..57.5).contains(&c)),
        "{inside:?}"
    );
    b.press("radio", "Check").await?;
    b.fill("Place 1", "60.4 C").await?;
    b.press("button", "Write the check down").await?;
    b.press("radio", "Pull").await?;
    b.fill("Out of the heat, HG1-1 weighs", "2.1 kg").await?;
    b.press("button", "Pull HG1-1").await?;
    b.sees("Nothing lies in it now").await?;
    b.press("button", "It is over").await?;
    b.sees("Over since Dec 6, 10:00.").await?;
    // cold smoke and hot smoke are both behind it
    let steps = server.says(&format!("/pieces/{slab}"))?["steps"].clone();
    let done = |id: &str| {
        let all = steps.as_array().into_iter().flatten();
        all.into_iter()
            .any(|s| s["id"] == id && !s["done_at"].is_null())
    };
    assert!(done("cold_smoke") && done("smoke"), "{steps}");
    b.close().await
}
