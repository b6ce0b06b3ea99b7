//! In the real browser: several pieces in one go at the scale and on the packing table, what is left closed with a word, and a half
//! that waits in the freezer.

use anyhow::{Context, Result};
use manifest_e2e::{DESK, PHONE, Server, open};
use serde_json::{Value, json};
use tempfile::TempDir;

const PUT_IN: &str = "2026-11-02T09:00:00Z";
const OUT: &str = "2026-11-10T09:00:00Z";

fn at(server: Server, now: &str) -> Result<Server> {
    Server::start_when(Some(now), server.killed()?, false, None)
}

fn piece(server: &Server, lot: &Value, cut: &str, (g, mm): (u32, u32), build: &str) -> Result<i64> {
    let weighed = json!([{"act": "piece_weighed", "lot": lot, "cut": cut, "reading": format!("{g} g"), "thickness": format!("{mm} mm")}]);
    let id = server.did_at(PUT_IN, &weighed)?["pieces"][0].take();
    server.did_at(
        PUT_IN,
        &json!([{"act": "assigned", "piece": id, "build": build}]),
    )?;
    id.as_i64().context("a piece")
}

fn stage(server: &Server, id: i64) -> Result<Value> {
    Ok(server.says(&format!("/pieces/{id}"))?["card"]["stage"].take())
}

#[tokio::test]
async fn three_breasts_are_weighed_and_packed_as_one() -> Result<()> {
    let server = Server::start_when(Some(PUT_IN), TempDir::new()?, false, None)?;
    let came = json!([{"act": "received", "name": "geese", "species": "goose", "origin": "bought", "known": "carcass", "reading": "8 kg"}]);
    let lot = server.did_at(PUT_IN, &came)?["lots"][0].take();
    let mut three = Vec::new();
    for grams in [300, 280, 320] {
        three.push(piece(
            &server,
            &lot,
            "breast",
            (grams, 28),
            "breast-peppered",
        )?);
    }
    server.did_at(
        PUT_IN,
        &json!([{"act": "dosed", "pieces": three, "mixed": true}]),
    )?;
    let server = at(server, OUT)?;
    let b = open(&server, PHONE).await?;
    b.goto(&format!("/cure?piece={}", three[0])).await?;
    b.press("button", "More on the scale with it").await?;
    b.press("button", "All 3").await?;
    b.enter("Rinsed and patted dry", "890 g").await?;
    b.sees("out of cure").await?;
    for id in &three {
        assert_ne!(stage(&server, *id)?, "in_cure", "{id}");
    }
    server.did_at(OUT, &json!([{"act": "smoked", "pieces": three, "reading": "750 g", "inside": "75 C", "chamber": "105 C", "each_read": true}]))?;
    b.goto(&format!("/pack?piece={}", three[0])).await?;
    b.press("button", "Pack others with it").await?;
    b.press("button", "All 3").await?;
    b.enter("Pack 1 weighs", "380 g").await?;
    b.enter("Pack 2 weighs", "340 g").await?;
    // What is left is closed in one tap.
    b.press("button", "tasted").await?;
    b.sees("is packed").await?;
    for id in &three {
        assert_eq!(stage(&server, *id)?, "packed", "{id}");
    }
    let tally = server.says(&format!("/tally/{lot}"))?;
    assert_eq!(tally["lot"]["card"]["packed_g"], 720.0);
    b.close().await
}

#[tokio::test]
async fn a_half_is_frozen_on_its_page_and_taken_out_from_today() -> Result<()> {
    let server = Server::start_when(Some(PUT_IN), TempDir::new()?, false, None)?;
    let came = json!([{"act": "received", "name": "hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "38 kg"}]);
    let lot = server.did_at(PUT_IN, &came)?["lots"][0].take();
    let half = piece(&server, &lot, "loin", (1_900, 72), "back-smoked")?;
    let b = open(&server, DESK).await?;
    b.goto(&format!("/pieces/{half}")).await?;
    b.press("button", "Freeze it until later").await?;
    b.fill("To be thawed by", "11122026").await?;
    b.press("button", "Into the freezer").await?;
    b.sees("In the freezer since").await?;
    b.goto("/cure").await?;
    b.sees("to be thawed by").await?;
    b.close().await?;
    let server = at(server, OUT)?;
    let b = open(&server, PHONE).await?;
    b.goto("/").await?;
    b.sees("Take out to thaw").await?;
    b.press("button", "taken out").await?;
    b.sees("done").await?;
    assert_eq!(
        server.says(&format!("/pieces/{half}"))?["card"]["frozen"],
        Value::Null
    );
    b.goto(&format!("/cure?piece={half}")).await?;
    b.sees("HG1-1").await?;
    b.close().await
}

#[tokio::test]
async fn packs_are_eaten_and_given_away_from_their_list() -> Result<()> {
    let server = Server::start_when(Some(PUT_IN), TempDir::new()?, false, None)?;
    let came = json!([{"act": "received", "name": "hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "38 kg"}]);
    let lot = server.did_at(PUT_IN, &came)?["lots"][0].take();
    let roast = piece(&server, &lot, "butt", (1_200, 70), "fresh")?;
    server.did_at(
        PUT_IN,
        &json!([{"act": "packed", "piece": roast, "finished": true, "packs": [
        {"reading": "600 g", "place": "freezer"}, {"reading": "590 g", "place": "freezer"}]}]),
    )?;
    let b = open(&server, PHONE).await?;
    b.goto("/packs").await?;
    b.sees("2 in all").await?;
    b.press("button", "Eaten HG1-1").await?;
    b.sees("1 in all").await?;
    b.press("button", "Given away HG1-1").await?;
    b.fill("Who has it", "the neighbor").await?;
    b.press("button", "Write it down").await?;
    b.sees("No packs in the house").await?;
    b.close().await
}
