//! What may be said, in the real browser: it follows from what was recorded, and every gate asks.

use anyhow::{Context, Result};
use manifest_e2e::{DESK, PHONE, Server, open};
use serde_json::{Value, json};

/// A lot of an animal; its number.
fn lot(server: &Server, name: &str, species: &str, origin: &str) -> Result<i64> {
    lot_at(server, "2026-10-01T08:00:00Z", (name, species, origin))
}

/// The same, come in at another time.
fn lot_at(server: &Server, at: &str, (name, species, origin): (&str, &str, &str)) -> Result<i64> {
    let act = json!([{"act": "received", "name": name, "species": species, "origin": origin, "known": "carcass", "reading": "40 kg"}]);
    let written = server.did_at(at, &act)?;
    written["lots"][0].as_i64().context("a lot")
}

/// Does acts at a time, and gives the last piece that they made.
fn did(server: &Server, at: &str, acts: &[Value]) -> Result<Option<i64>> {
    let mut made = None;
    for act in acts {
        let written = server.did_at(at, &json!([act]))?;
        made = written["pieces"]
            .as_array()
            .and_then(|p| p.last()?.as_i64())
            .or(made);
    }
    Ok(made)
}

#[tokio::test]
async fn a_block_of_deer_and_pork_follows_the_deers_answer_to_today_and_the_trace() -> Result<()> {
    let server = Server::start(false)?;
    let came = "2026-11-17T08:00:00Z";
    let deer = lot_at(&server, came, ("young deer", "deer", "harvested"))?;
    did(
        &server,
        "2026-11-17T09:00:00Z",
        &[json!({"act": "byproduct_weighed", "lot": deer, "kind": "trim", "reading": "4 kg"})],
    )?;
    let hog = lot_at(&server, came, ("half hog", "pig", "bought"))?;
    let block = did(
        &server,
        "2026-11-18T09:00:00Z",
        &[
            json!({"act": "piece_weighed", "lot": hog, "cut": "butt", "reading": "3 kg", "thickness": "80 mm"}),
            json!({"act": "ground", "lot": hog, "reading": "5.9 kg", "thickness": "60 mm", "sources": [
            {"from": "piece", "piece": 1}, {"from": "kept", "lot": deer, "kind": "trim", "reading": "3 kg"}]}),
            json!({"act": "assigned", "piece": 2, "build": "formed-loaf"}),
            json!({"act": "dosed", "pieces": [2]}),
        ],
    )?;
    assert_eq!(block, Some(2));
    did(
        &server,
        "2026-11-19T09:00:00Z",
        &[
            json!({"act": "out_of_cure", "piece": 2, "reading": "6 kg"}),
            json!({"act": "smoked", "piece": 2, "reading": "5.4 kg", "inside": "71.5 C"}),
        ],
    )?;
    let b = open(&server, DESK).await?;
    b.goto("/pack?piece=2").await?;
    b.sees("Ready to eat, cooked").await?;
    b.fill("Pack 1 weighs", "5.3 kg").await?;
    b.press("button", "Pack it").await?;
    b.sees("is packed").await?;
    b.goto("/pieces/2").await?;
    // never “pork” alone for a block with deer in it
    b.sees("formed ground bacon, of game and pork").await?;
    b.sees("young deer (DR1)").await?;

    b.goto(&format!("/breakdown/{deer}")).await?;
    b.press("button", "positive").await?;
    b.sees("Which packs hold meat of it").await?;
    b.press("link", "Today").await?;
    b.sees("Labels that no longer hold").await?;
    b.sees("Printed as “Ready to eat, cooked”").await?;
    b.sees("tested positive for chronic wasting disease")
        .await?;
    b.press("link", "What is in it").await?;
    b.sees("What is in pack HG1-2.1").await?;
    b.sees("tested positive").await?;
    b.goto(&format!("/trace/lots/{deer}")).await?;
    b.sees("Where the meat of young deer is").await?;
    b.sees("Packs with meat of it").await?;
    b.sees("DO NOT EAT").await?;

    b.goto("/pieces/2").await?;
    b.sees("A label no longer holds").await?;
    b.press("button", "Throw it away").await?;
    b.fill("Why", "the deer was positive").await?;
    b.press("button", "Throw the pack away").await?;
    b.sees("Thrown away").await?;
    b.press("link", "Today").await?;
    b.sees("Waited for").await?;
    assert!(!b.text().await?.contains("Labels that no longer hold"));
    b.close().await
}

/// A loin that lay frozen, assigned and dosed weeks ago.
fn loin(server: &Server, dosed: &str, dose: Value) -> Result<i64> {
    let hog = lot(server, "half hog", "pig", "bought")?;
    for day in ["2026-10-01T09:00:00Z", "2026-10-25T09:00:00Z"] {
        did(
            server,
            day,
            &[json!({"act": "freezer_read", "lot": hog, "inside": "-20 C", "thickness": "80 mm"})],
        )?;
    }
    let piece = did(
        server,
        "2026-10-25T10:00:00Z",
        &[
            json!({"act": "piece_weighed", "lot": hog, "cut": "loin", "reading": "2 kg", "thickness": "50 mm"}),
            json!({"act": "assigned", "piece": 1, "build": "muscle-cased"}),
        ],
    )?;
    did(server, dosed, &[dose])?;
    piece.context("the loin")
}

#[tokio::test]
async fn out_of_the_cure_too_early_is_asked_about_kept_and_stands_on_the_piece() -> Result<()> {
    let server = Server::start(false)?;
    let piece = loin(
        &server,
        "2026-11-20T08:00:00Z",
        json!({"act": "dosed", "pieces": [1]}),
    )?;
    let b = open(&server, PHONE).await?;
    b.goto(&format!("/cure?piece={piece}")).await?;
    b.enter("Rinsed and patted dry, it weighs", "1.97 kg")
        .await?;
    b.sees("would leave its cure too early").await?;
    b.sees("day 1 of 21").await?;
    // what was asked about is what is written, whatever was typed since
    b.fill("Rinsed and patted dry, it weighs", "0.5 kg").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("out of cure: 1.97 kg").await?;
    b.goto(&format!("/pieces/{piece}")).await?;
    b.sees("Out of its cure on day 1 of 21").await?;
    b.sees("One thing gave pause on its way").await?;
    b.close().await
}

#[tokio::test]
async fn a_dose_that_was_really_ten_times_as_much_is_written_down_and_nobody_eats_it() -> Result<()>
{
    let server = Server::start(false)?;
    let piece = loin(
        &server,
        "2026-11-01T08:00:00Z",
        json!({"act": "dosed", "pieces": [1]}),
    )?;
    let b = open(&server, DESK).await?;
    b.goto(&format!("/pieces/{piece}")).await?;
    b.press("button", "Correct HG1-1 put in cure").await?;
    let form = b.form("Correct HG1-1 put in cure");
    form.fill("cure #2", "50 g").await?;
    form.press("button", "Put it right").await?;
    b.sees("So much nitrite can poison").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("DO NOT EAT").await?;
    b.sees("took in 1562 ppm nitrite as really weighed").await?;
    // and put right again, nothing of it is left
    b.press("button", "Correct HG1-1 put in cure").await?;
    let form = b.form("Correct HG1-1 put in cure");
    form.fill("cure #2", "5 g").await?;
    form.press("button", "Put it right").await?;
    form.done().await?;
    b.sees("It still lies in its cure").await?;
    assert!(!b.text().await?.contains("DO NOT EAT"));
    b.close().await
}

#[tokio::test]
async fn a_muscle_without_nitrite_has_one_reason_for_all_its_way_and_it_is_listed() -> Result<()> {
    let server = Server::start(false)?;
    let dose = json!({"act": "dosed", "pieces": [1], "own": {"cure": "none"}, "reason": "grandfather cured it so"});
    let piece = loin(&server, "2026-10-26T08:00:00Z", dose)?;
    let out = json!([{"act": "out_of_cure", "piece": piece, "reading": "1.95 kg"}]);
    server.did_at("2026-11-18T08:00:00Z", &out)?;
    let b = open(&server, PHONE).await?;
    b.goto(&format!("/hang?piece={piece}")).await?;
    let up = b.form("Hang up");
    up.fill("With everything on it, it weighs", "1.99 kg")
        .await?;
    up.fill("Casing, net, clips and hook", "40 g").await?;
    // What was planned with the dose was lifted with it.
    up.press("button", "On the hook").await?;
    b.sees("wait for").await?;
    b.goto("/overrides").await?;
    b.sees("grandfather cured it so").await?;
    b.sees("HG1-1").await?;
    b.close().await
}
