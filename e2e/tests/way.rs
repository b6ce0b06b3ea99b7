//! The ways of pieces in the real browser: smoked and then hung, smoked twice, rolled in meal, entered
//! on their way, and a household that was begun with an older program.

use anyhow::{Context, Result};
use manifest_e2e::server::project;
use manifest_e2e::{Browser, DESK, PHONE, Server, open};
use serde_json::{Value, json};
use tempfile::TempDir;

/// A half hog with one piece of it, dosed for a product at one time and out of its cure at another.
fn out_of_cure(server: &Server, cut: &str, build: &str, thickness: &str) -> Result<i64> {
    let received = json!([{
        "act": "received", "name": "half hog", "species": "pig", "origin": "bought",
        "known": "carcass", "reading": "38.6 kg",
    }]);
    let lot = server.did_at("2026-11-01T08:00:00Z", &received)?["lots"][0].take();
    let weighed = json!([{"act": "piece_weighed", "lot": lot, "cut": cut, "reading": "2 kg", "thickness": thickness}]);
    let piece = server.did_at("2026-11-01T09:00:00Z", &weighed)?["pieces"][0].take();
    let assigned = json!([{"act": "assigned", "piece": piece, "build": build}]);
    server.did_at("2026-11-01T10:00:00Z", &assigned)?;
    let dosed = json!([{"act": "dosed", "pieces": [piece]}]);
    server.did_at("2026-11-01T10:00:00Z", &dosed)?;
    let rinsed = json!([{"act": "out_of_cure", "piece": piece, "reading": "1.96 kg"}]);
    server.did_at("2026-11-18T10:00:00Z", &rinsed)?;
    piece.as_i64().context("a piece")
}

/// Packs what waits, in one pack.
async fn pack(b: &Browser, piece: i64, reading: &str, slices: &str) -> Result<()> {
    b.goto(&format!("/pack?piece={piece}")).await?;
    let form = b.form("Pack");
    form.fill("Pack 1 weighs", reading).await?;
    form.fill("Slices in it", slices).await?;
    form.press("button", "Pack it").await?;
    b.press("link", "Its labels").await
}

#[tokio::test]
async fn a_ham_is_smoked_then_aged_with_weighings_and_packed() -> Result<()> {
    let server = Server::start(false)?;
    let ham = out_of_cure(&server, "leg_muscle", "ham-aged", "80 mm")?;
    let b = open(&server, DESK).await?;
    b.goto("/pieces/{HG1-1}").await?;
    b.sees("Its way").await?;
    // The net goes on before the smoke; a tick is enough.
    b.press("button", "Done: net").await?;
    let surface = b.form("Check the surface");
    surface.choose("Check: surface", "tacky").await?;
    surface.press("button", "Write it down").await?;
    b.sees("HG1-1 checked").await?;

    b.goto(&format!("/smoke?piece={ham}")).await?;
    let smoke = b.form("After the smoke");
    smoke
        .fill("Smoked and cooled, it weighs", "1.78 kg")
        .await?;
    smoke.fill("Warmest inside", "63 C").await?;
    smoke.press("button", "Smoked, next piece").await?;
    b.sees("Nothing waits for the smoker").await?;

    b.goto(&format!("/hang?piece={ham}")).await?;
    let up = b.form("Hang up");
    up.fill("With everything on it, it weighs", "1.80 kg")
        .await?;
    up.fill("Casing, net, clips and hook", "20 g").await?;
    up.press("button", "On the hook").await?;
    // Aged until 18 % is gone: 1.78 kg of meat to 1.4596 kg, and the net
    b.sees("wait for 1.48 kg").await?;
    b.form("Weigh in")
        .enter("On the scale, net and all", "1.62 kg")
        .await?;
    // All of it within a minute: asked about, and kept.
    b.sees("would have lost").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("10.1 % of 18 %").await?;
    b.form("Weigh in")
        .fill("On the scale, net and all", "1.47 kg")
        .await?;
    b.press("button", "Weighed and taken down").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("The hooks are empty").await?;

    pack(&b, ham, "1.44 kg", "").await?;
    b.sees("Ready to eat").await?;
    let view = server.says(&format!("/pieces/{ham}"))?;
    assert_eq!(view["card"]["stage"], "packed");
    let done: Vec<_> = view["steps"]
        .as_array()
        .context("steps")?
        .iter()
        .filter(|s| s["standing"] == "done")
        .filter_map(|s| s["id"].as_str())
        .collect();
    for step in ["case", "smoke", "age", "pack"] {
        assert!(done.contains(&step), "{step} is not done: {done:?}");
    }
    b.close().await
}

#[tokio::test]
async fn a_slab_is_smoked_cold_rests_is_smoked_hot_and_packed() -> Result<()> {
    let server = Server::start(false)?;
    let slab = out_of_cure(&server, "butt", "shoulder-slab", "60 mm")?;
    let b = open(&server, PHONE).await?;
    b.goto(&format!("/smoke?piece={slab}")).await?;
    let smoke = b.form("After the smoke");
    smoke.press("radio", "cold smoke").await?;
    smoke
        .fill("Smoked and cooled, it weighs", "1.93 kg")
        .await?;
    smoke.press("button", "Smoked, next piece").await?;
    b.goto("/pieces/{HG1-1}").await?;
    b.press("button", "Done: rest overnight").await?;
    b.sees("HG1-1 step done").await?;
    b.goto(&format!("/smoke?piece={slab}")).await?;
    b.sees("hot smoke").await?;
    smoke
        .fill("Smoked and cooled, it weighs", "1.80 kg")
        .await?;
    smoke.fill("Warmest inside", "61 C").await?;
    smoke.press("button", "Smoked, next piece").await?;
    b.sees("Nothing waits for the smoker").await?;
    pack(&b, slab, "1.75 kg", "40").await?;
    b.sees("Cook before eating").await?;
    let view = server.says(&format!("/pieces/{slab}"))?;
    let points: Vec<_> = view["weighings"]
        .as_array()
        .context("weighings")?
        .iter()
        .filter_map(|w| w["point"].as_str())
        .collect();
    assert_eq!(points, ["green", "out_of_cure", "smoked", "smoked"]);
    b.close().await
}

#[tokio::test]
async fn a_loin_is_rolled_in_meal_by_weight_and_packed() -> Result<()> {
    let server = Server::start(false)?;
    let loin = out_of_cure(&server, "loin", "back-meal", "70 mm")?;
    let b = open(&server, PHONE).await?;
    b.goto("/pieces/{HG1-1}").await?;
    b.press("button", "Weigh what goes on: roll in meal")
        .await?;
    let coat = b.form("Coat it");
    coat.fill("What goes on", "corn meal").await?;
    coat.fill("Allergens in it", "maize").await?;
    coat.fill("How much went on", "a handful").await?;
    coat.press("button", "Write it down").await?;
    b.sees("Type 2010, 2.01 kg or 4 lb 7 oz.").await?;
    coat.fill("How much went on", "60 g").await?;
    coat.press("button", "Write it down").await?;
    b.sees("HG1-1 coated").await?;
    pack(&b, loin, "1.98 kg", "").await?;
    b.sees("maize").await?;
    let tally = server.says(&format!("/tally/{}", server.number("HG1")?))?;
    assert_eq!(tally["findings"], json!([]));
    b.close().await
}

#[tokio::test]
async fn a_muscle_that_hangs_already_is_entered_with_what_is_known() -> Result<()> {
    let server = Server::start(false)?;
    let b = open(&server, PHONE).await?;
    b.goto("/receive").await?;
    b.press("button", "A piece is on its way already").await?;
    let form = b.form("On its way already");
    form.press("radio", "goat").await?;
    form.press("radio", "raised").await?;
    form.fill("What you call it", "goat of last autumn").await?;
    form.choose("Cut", "leg muscle, seamed out").await?;
    form.choose("What it becomes", "dried whole muscle in a casing")
        .await?;
    form.press("radio", "hanging").await?;
    form.fill("Since when", "2026-10-20").await?;
    form.fill("On the scale now, net and all", "1.21 kg")
        .await?;
    form.press("button", "Take it in as it stands").await?;
    b.sees("GT1-1").await?;
    b.sees("entered on its way").await?;
    b.sees("Unknown. Nobody wrote down what its cure was made of")
        .await?;
    b.sees("green weight unknown, loss counted from this weight")
        .await?;
    let view = server.says(&format!("/pieces/{}", server.number("GT1-1")?))?;
    assert_eq!(view["card"]["stage"], "hanging");
    assert_eq!(view["card"]["eat"], "cook_before_eating");
    assert_eq!(view["dose"], Value::Null);
    b.close().await
}

#[tokio::test]
async fn a_household_of_the_first_program_is_opened_and_carried_on() -> Result<()> {
    let data = TempDir::new()?;
    let old = project().join("store/tests/ledgers/v1-demo/household.db");
    std::fs::copy(old, data.path().join("household.db"))?;
    let server = Server::start_at(data, false, None)?;
    let b = open(&server, DESK).await?;
    b.goto("/").await?;
    b.sees("Today").await?;
    b.goto("/pieces/{HG1-2}").await?;
    b.sees("it keeps version 1; there is a newer one").await?;
    let was = server.says(&format!("/pieces/{}", server.number("HG1-2")?))?;
    // What was written down then can be put right now.
    b.press("button", "Correct HG1-2 weighed out").await?;
    let form = b.form("Correct HG1-2 weighed out");
    form.fill("Thickest place", "64 mm").await?;
    form.press("button", "Put it right").await?;
    b.sees("corrected").await?;
    let is = server.says(&format!("/pieces/{}", server.number("HG1-2")?))?;
    assert_eq!(is["card"]["thickness_mm"], 64.0);
    assert_eq!(is["card"]["mass_g"], was["card"]["mass_g"]);
    assert_eq!(is["card"]["build_version"], was["card"]["build_version"]);
    b.close().await
}
