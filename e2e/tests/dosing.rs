//! Doses as people type them, in the real browser: a pre-blended cure by spoons on a pound to its
//! label, numbers that cannot be read, and wishes that keep their words.

use anyhow::{Context, Result};
use manifest_e2e::server::project;
use manifest_e2e::{Browser, DESK, PHONE, Server, open};
use serde_json::{Value, json};

/// A household of pounds and inches with a scale that reads a tenth of a gram.
fn pounds(server: &Server) -> Result<()> {
    let mut home = server.says("/settings")?["household"].take();
    home["units"] = json!({"mass": "imperial", "length": "inch", "heat": "fahrenheit"});
    home["scales"] = json!({"fine_division_g": 0.1, "meat_division_g": 5.0});
    server.puts("/settings", &home)?;
    Ok(())
}

/// A piece that waits for its dose.
fn waits(server: &Server, species: &str, cut: &str, build: &str, weight: &str) -> Result<i64> {
    let received = json!([{
        "act": "received", "name": "from the freezer", "species": species, "origin": "harvested",
        "known": "carcass", "reading": "60 lb",
    }]);
    let lot = server.did_at("2026-11-01T08:00:00Z", &received)?["lots"][0].take();
    let weighed = json!([{"act": "piece_weighed", "lot": lot, "cut": cut, "reading": weight, "thickness": "1 3/4 in"}]);
    let piece = server.did_at("2026-11-01T09:00:00Z", &weighed)?["pieces"][0].take();
    let assigned = json!([{"act": "assigned", "piece": piece, "build": build}]);
    server.did_at("2026-11-01T10:00:00Z", &assigned)?;
    piece.as_i64().context("a piece")
}

/// Ticks off everything on the sheet and starts.
async fn weigh_out(b: &Browser, names: &[&str]) -> Result<()> {
    for name in names {
        b.press("button", name).await?;
    }
    b.press("button", "Start the cure").await
}

#[tokio::test]
async fn a_blend_by_spoons_on_a_pound_is_weighed_in_grams_and_named_on_the_label() -> Result<()> {
    let server = Server::start(false)?;
    pounds(&server)?;
    let piece = waits(
        &server,
        "deer",
        "backstrap",
        "backstrap-label",
        "2 lb 13 oz",
    )?;
    let b = open(&server, PHONE).await?;
    b.goto(&format!("/cure?piece={piece}")).await?;
    b.sees("0.5 % sodium nitrite").await?;
    b.press("button", "Change the dose this time").await?;
    b.fill("The label's dose", "1 tbsp per lb").await?;
    // three level teaspoons of 5.2 g on 1275.7 g
    b.sees("43.9").await?;
    b.sees("A spoon of pre-blended cure is no scale").await?;
    weigh_out(&b, &["pre-blended cure"]).await?;
    // It came twenty days ago, and nobody froze it.
    b.press("button", "Keep it as typed").await?;
    b.sees("put in cure").await?;
    let view = server.says(&format!("/pieces/{piece}"))?;
    assert_eq!(view["dose"]["lines"][0]["mass_g"], 43.9);
    assert_eq!(view["dose"]["own"][0]["said"], "1 tbsp per lb");

    server.did(&json!([{"act": "out_of_cure", "piece": piece, "reading": "2 lb 12 oz"}]))?;
    server.did(
        &json!([{"act": "smoked", "piece": piece, "reading": "2 lb 5 oz", "inside": "161 F"}]),
    )?;
    server.did(&json!([{
        "act": "packed", "piece": piece, "finished": true,
        "packs": [{"reading": "2 lb 4 oz", "slices": 40}],
    }]))?;
    b.goto(&format!("/pieces/{piece}")).await?;
    b.sees("sodium nitrite, sodium nitrate").await?;
    b.sees("Ready to eat").await?;
    b.close().await
}

#[tokio::test]
async fn what_cannot_be_read_in_a_dose_is_refused_at_its_field_and_stays() -> Result<()> {
    let server = Server::start(false)?;
    let piece = waits(&server, "pig", "belly", "belly-slab", "4 lb")?;
    let b = open(&server, DESK).await?;
    b.goto(&format!("/cure?piece={piece}")).await?;
    b.press("button", "Change the dose this time").await?;
    b.fill("Salt in all", "a handful").await?;
    b.sees("“a handful” cannot be read as a number").await?;
    b.fill("Salt in all", "2.5 g").await?;
    b.sees("“2.5 g” does not say on how much meat").await?;
    // nothing was started with the product's own numbers in the place of what was typed
    assert_eq!(
        server.says(&format!("/pieces/{piece}"))?["dose"],
        Value::Null
    );
    b.fill("Salt in all", "2,5 %").await?;
    b.fill("sugar, how much", "15 g/kg").await?;
    b.press("button", "Leave black pepper out").await?;
    // 1814.4 g at 25 g/kg, less the 4.25 g of the cure's own; sugar 27 g
    b.sees("27").await?;
    weigh_out(&b, &["cure #1", "salt", "sugar"]).await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("put in cure").await?;
    let dose = server.says(&format!("/pieces/{piece}"))?["dose"].take();
    let names: Vec<_> = dose["lines"]
        .as_array()
        .context("lines")?
        .iter()
        .filter_map(|l| l["name"].as_str())
        .collect();
    assert_eq!(names, ["cure #1", "salt", "sugar"]);
    assert_eq!(dose["lines"][1]["mass_g"], 41.0);
    assert_eq!(dose["lines"][2]["mass_g"], 27.0);
    b.close().await
}

#[tokio::test]
async fn a_wish_keeps_its_words_when_the_list_is_put_in_another_order() -> Result<()> {
    let server = Server::start(false)?;
    pounds(&server)?;
    waits(&server, "pig", "belly", "belly-slab", "4 lb")?;
    server.puts(
        "/wishes",
        &json!({"version": 0, "wishes": [
            {"build": "belly-slab", "amount": {"as": "mass", "amount": "4-7"}},
            {"build": "belly-thin", "amount": {"as": "mass", "amount": "1 3/4 lb"}},
        ]}),
    )?;
    let b = open(&server, DESK).await?;
    b.goto("/assign").await?;
    b.sees("4 lb 7 oz").await?;
    b.press("button", "streaky slab bacon: less important")
        .await?;
    let wishes = || -> Result<Vec<String>> {
        let plan = server.says("/plan")?;
        let list = plan["wishes"].as_array().context("wishes")?.clone();
        let amount = |w: &Value| w["wish"]["amount"]["amount"].as_str().map(str::to_string);
        Ok(list.iter().filter_map(amount).collect())
    };
    for _ in 0..50 {
        if wishes()? == ["1 3/4 lb", "4-7"] {
            return b.close().await;
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    anyhow::bail!("the wishes are {:?}", wishes()?)
}

#[tokio::test]
async fn a_loin_is_injected_in_two_passes_by_the_scale() -> Result<()> {
    let server = Server::start(false)?;
    let received = server.did(&json!([{
        "act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "38.6 kg",
    }]))?;
    let weighed = server.did(&json!([{
        "act": "piece_weighed", "lot": received["lots"][0], "cut": "loin", "reading": "3.2 kg", "thickness": "78 mm",
    }]))?;
    let piece = weighed["pieces"][0].as_i64().context("the loin")?;
    server.did(&json!([{"act": "assigned", "piece": piece, "build": "back-smoked"}]))?;
    server.did(&json!([{"act": "dosed", "pieces": [piece]}]))?;
    let b = open(&server, PHONE).await?;
    b.goto(&format!("/pieces/{piece}")).await?;
    b.sees("Mon, Dec 7").await?;
    b.press("button", "Inject it").await?;
    // More than there is of the brine is refused at its field, and what was typed stays.
    b.enter("It weighs after injecting", "9 kg").await?;
    b.sees("of brine for HG1-1. Check the digits").await?;
    b.enter("It weighs after injecting", "3.3 kg").await?;
    b.sees("So little brine leaves uncured places").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("100 g of brine are in it").await?;
    b.sees("its days stay as they were").await?;
    b.enter("It weighs after injecting", "3.52 kg").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("320 g of brine are in it, 10 % of its green weight")
        .await?;
    b.sees("about half").await?;
    b.sees("in 6 days, Fri, Nov 27").await?;
    let axe = std::fs::read_to_string(project().join("web/node_modules/axe-core/axe.min.js"))?;
    assert_eq!(b.violations(&axe).await?, Vec::<String>::new());
    b.close().await
}
