//! Timers in the real browser: they ring through a reload and on a second page, and are answered once for all.

use anyhow::Result;
use manifest_e2e::server::project;
use manifest_e2e::{DESK, PHONE, Server, open};
use serde_json::{Value, json};
use std::time::{Duration, SystemTime, UNIX_EPOCH};
use tempfile::TempDir;

fn asked(server: &Server, body: &Value) -> Result<Value> {
    let mut answer = ureq::post(format!("{}/api/v1/entries", server.address)).send_json(body)?;
    Ok(answer.body_mut().read_json()?)
}

/// A belly that came out of its cure two hours ago.
fn belly(server: &Server) -> Result<i64> {
    let earlier = ago(2 * 3_600)?;
    let first = asked(
        server,
        &json!({"happened_at": earlier, "acts": [{
            "act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "38.6 kg",
        }]}),
    )?;
    let lot = first["lots"][0].clone();
    let weighed = asked(
        server,
        &json!({"happened_at": earlier, "acts": [{
            "act": "piece_weighed", "lot": lot, "cut": "belly", "reading": "2.4 kg", "thickness": "38 mm",
        }]}),
    )?;
    let piece = weighed["pieces"][0].as_i64().unwrap_or_default();
    for act in [
        json!({"act": "assigned", "piece": piece, "build": "belly-slab"}),
        json!({"act": "dosed", "pieces": [piece]}),
        json!({"act": "out_of_cure", "piece": piece, "reading": "2.36 kg"}),
    ] {
        asked(
            server,
            &json!({"happened_at": earlier, "acts": [act], "keep_as_typed": true}),
        )?;
    }
    Ok(piece)
}

/// So many seconds before now, as a request says it.
fn ago(seconds: u64) -> Result<String> {
    let now = SystemTime::now().duration_since(UNIX_EPOCH)?.as_secs();
    Ok(jiff::Timestamp::from_second((now - seconds).try_into()?)?.to_string())
}

#[tokio::test]
async fn a_soak_rings_through_a_reload_and_on_a_second_page_until_somebody_answers() -> Result<()> {
    let server = Server::start_running(TempDir::new()?)?;
    let piece = belly(&server)?;
    let desk = open(&server, DESK).await?;
    let phone = open(&server, PHONE).await?;
    desk.goto(&format!("/pieces/{piece}")).await?;
    phone.goto("/cure").await?;
    desk.fill("Minutes in the water", "30").await?;
    desk.press("button", "Into the water: ring then").await?;
    desk.sees("HG1-1 in the water: 29:").await?;
    phone.sees("HG1-1 in the water: 29:").await?;
    desk.sees("In the water for 0:").await?;
    // The half hour is over in four seconds: it was begun that long ago.
    let timers = server.says("/timers")?;
    let entry = &timers["timers"][0]["entry"];
    let begun = json!({
        "act": {"act": "timer_set", "piece": piece, "what": "soak", "minutes": 30, "note": "pat it dry"},
        "happened_at": ago(30 * 60 - 4)?,
    });
    ureq::post(format!(
        "{}/api/v1/entries/{entry}/correction",
        server.address
    ))
    .send_json(&begun)?;
    phone.sees("HG1-1: 30 min in the water are over").await?;
    desk.sees("HG1-1: 30 min in the water are over. Then: pat it dry")
        .await?;
    let axe = std::fs::read_to_string(project().join("web/node_modules/axe-core/axe.min.js"))?;
    assert_eq!(phone.violations(&axe).await?, Vec::<String>::new());
    phone.reload().await?;
    phone.sees("HG1-1: 30 min in the water are over").await?;
    phone.goto("/tally").await?;
    phone.sees("HG1-1: 30 min in the water are over").await?;
    // Five minutes more on one device is five minutes more on both.
    phone.press("button", "5 minutes more").await?;
    phone.sees("HG1-1 in the water: 5:").await?;
    desk.sees("HG1-1 in the water: 5:").await?;
    desk.press("button", "Out of the water now").await?;
    desk.sees("HG1-1 soaked: 31 min").await?;
    tokio::time::sleep(Duration::from_secs(2)).await;
    for page in [&desk, &phone] {
        let text = page.text().await?;
        assert!(!text.contains("HG1-1 in the water:"), "{text}");
    }
    assert_eq!(server.says("/timers")?["timers"], json!([]));
    // The next piece of this product is offered what was right.
    let view = server.says(&format!("/pieces/{piece}"))?;
    // Nobody tasted it yet: its minutes are no example.
    assert_eq!(view["own_soak"], json!(null));
    desk.close().await?;
    phone.close().await
}
