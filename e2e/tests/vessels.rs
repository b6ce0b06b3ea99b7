//! Vessels in the real browser: a bucket that is injected and topped up, a bag dosed by what stuck, a salt box to the
//! hour, a bowl poured by eye, a brine by the gallon, and a soak that is judged twice.

use anyhow::{Context, Result};
use manifest_e2e::{Browser, DESK, PHONE, Server, open};
use serde_json::{Value, json};
use tempfile::TempDir;

const PUT_IN: &str = "2026-11-02T09:00:00Z";

/// A household on the day on which everything is put in.
fn household() -> Result<Server> {
    Server::start_when(Some(PUT_IN), TempDir::new()?, false, None)
}

/// The same household at another hour.
fn at(server: Server, now: &str) -> Result<Server> {
    Server::start_when(Some(now), server.killed()?, false, None)
}

fn case_of(server: &Server, species: &str, cut: &str, grams: u32) -> Result<Value> {
    let came = json!([{
        "act": "received", "name": format!("{species} {cut}"), "species": species, "origin": "bought", "known": "bought_cut",
        "cut": cut, "portion": "case", "count": 1, "reading": format!("{grams} g"),
    }]);
    Ok(server.did_at(PUT_IN, &came)?["lots"][0].take())
}

fn piece(server: &Server, lot: &Value, cut: &str, (g, mm): (u32, u32), build: &str) -> Result<i64> {
    let weighed = json!([{"act": "piece_weighed", "lot": lot, "cut": cut, "reading": format!("{g} g"), "thickness": format!("{mm} mm")}]);
    let id = server.did_at(PUT_IN, &weighed)?["pieces"][0].take();
    let assigned =
        json!([{"act": "assigned", "piece": id, "build": build, "reason": "it is what we want"}]);
    server.did_at(PUT_IN, &assigned)?;
    id.as_i64().context("a piece")
}

fn cure(server: &Server, id: i64) -> Result<Value> {
    Ok(server.says(&format!("/pieces/{id}"))?["card"]["cure"].take())
}

fn near(got: &Value, want: f64, by: f64) {
    let got = got.as_f64().unwrap_or(f64::NAN);
    assert!((got - want).abs() <= by, "got {got}, want {want}");
}

/// Ticks off what is on the sheet, and starts.
async fn weigh_out(b: &Browser, names: &[&str]) -> Result<()> {
    for name in names {
        b.press("button", name).await?;
    }
    b.press("button", "Start the cure").await?;
    b.sees("put in cure").await
}

#[tokio::test]
async fn a_bucket_of_two_hams_is_injected_and_topped_up() -> Result<()> {
    let server = household()?;
    let lot = case_of(&server, "pig", "leg", 9_000)?;
    let thick = piece(&server, &lot, "leg", (4_800, 98), "ham-bucket")?;
    let slim = piece(&server, &lot, "leg", (3_900, 90), "ham-bucket")?;
    let b = open(&server, DESK).await?;
    b.goto(&format!("/cure?piece={thick}")).await?;
    b.press("button", "HG1-2").await?;
    b.press("button", "Change the dose this time").await?;
    b.fill("Water", "5 l").await?;
    b.press("button", "all in one").await?;
    b.fill("What it is called", "blue bucket").await?;
    b.fill("How cold the brine is", "12 C").await?;
    b.sees("Warm brine around raw meat").await?;
    b.fill("How cold the brine is", "3 C").await?;
    b.press("checkbox", "Stirred until clear").await?;
    b.sees("8.7 kg of meat").await?;
    weigh_out(&b, &["water", "cure #1", "salt", "sugar"]).await?;
    assert_eq!(cure(&server, slim)?["vessel"]["name"], "blue bucket");
    // The thick one is pumped; the scale says how much.
    b.goto(&format!("/pieces/{thick}")).await?;
    b.press("button", "Inject it").await?;
    b.fill("It weighs after injecting", "5.28 kg").await?;
    b.form("Inject it").press("button", "Write it down").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("10 % of its green weight").await?;
    // A litre that was poured in later thins the brine of both.
    let before = cure(&server, slim)?;
    b.goto("/cure").await?;
    b.sees("blue bucket").await?;
    b.press("button", "Top it up").await?;
    b.fill("Water poured in", "1 l").await?;
    b.form("Top up blue bucket")
        .press("button", "Write it down")
        .await?;
    b.sees("topped up").await?;
    let brine = 8_700.0 + before["vessel"]["brine_g"].as_f64().context("brine")? + 480.0;
    let want = before["nitrite_ppm"].as_f64().context("ppm")? * brine / (brine + 1_000.0);
    near(&cure(&server, slim)?["nitrite_ppm"], want, 0.1);
    // One tap stirs the bucket.
    b.press("button", "Stirred").await?;
    b.sees("turned").await?;
    tokio::time::sleep(std::time::Duration::from_millis(600)).await;
    for id in [thick, slim] {
        assert!(cure(&server, id)?["turned"].is_string());
    }
    b.close().await
}

#[tokio::test]
async fn six_breasts_in_one_bag_are_dosed_by_what_stuck() -> Result<()> {
    let server = household()?;
    let lot = case_of(&server, "goose", "breast", 2_400)?;
    let mut six = Vec::new();
    for i in 0..6 {
        six.push(piece(
            &server,
            &lot,
            "breast",
            (330 + 10 * i, 28),
            "breast-peppered",
        )?);
    }
    let b = open(&server, PHONE).await?;
    b.goto(&format!("/cure?piece={}", six[0])).await?;
    for i in 2..=6 {
        b.press("button", &format!("GS1-{i}")).await?;
    }
    b.press("button", "with a pre-blend").await?;
    b.press("button", "all in one").await?;
    b.press("button", "Change the dose this time").await?;
    b.fill("The jar before", "512 g").await?;
    b.fill("The jar after", "440 g").await?;
    b.sees("72").await?;
    b.press("button", "pre-blended cure").await?;
    b.press("button", "Start the cure").await?;
    b.sees("put in cure").await?;
    near(
        &cure(&server, six[3])?["nitrite_ppm"],
        72.0 * 0.005 / 2_130.0 * 1e6,
        0.05,
    );
    // One row turns the bag, and all of them come out on the scale together.
    b.goto("/cure").await?;
    b.sees("In one bag").await?;
    b.press("button", "Take all 6 out").await?;
    b.fill("Together they weigh", "2.1 kg").await?;
    b.form("Take all out of GS1-1, GS1-2, GS1-3, GS1-4, GS1-5, GS1-6")
        .press("button", "Write it down")
        .await?;
    b.sees("would leave its cure too early").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("out of cure").await?;
    let mut sum = 0.0;
    for id in &six {
        sum += server.says(&format!("/pieces/{id}"))?["card"]["mass_g"]
            .as_f64()
            .context("a mass")?;
    }
    near(&json!(sum), 2_100.0, 0.01);
    b.close().await
}

#[tokio::test]
async fn a_salt_box_counts_its_hours_on_every_page() -> Result<()> {
    let server = household()?;
    let lot = case_of(&server, "beef", "tenderloin", 1_500)?;
    let slim = piece(&server, &lot, "tenderloin", (500, 27), "tenderloin-buried")?;
    let thick = piece(&server, &lot, "tenderloin", (900, 40), "tenderloin-buried")?;
    let b = open(&server, PHONE).await?;
    b.goto(&format!("/cure?piece={slim}")).await?;
    b.press("button", "BF1-2").await?;
    b.press("button", "salt box").await?;
    b.press("button", "all in one").await?;
    b.sees("21.5 hours, by thickness").await?;
    b.press("button", "salt 1400").await?;
    // Without nitrite for the hook: a reason, and not just any.
    b.fill("Why you go on", "dunno").await?;
    b.press("button", "Start the cure").await?;
    b.sees("in two words or more").await?;
    b.fill("Why you go on all the same", "our box of many years")
        .await?;
    b.press("button", "Go on for this reason").await?;
    b.sees("put in cure").await?;
    b.close().await?;
    let server = at(server, "2026-11-03T05:30:00Z")?;
    let b = open(&server, PHONE).await?;
    b.goto("/tally").await?;
    b.sees("BF1-1 in the salt: 1 h 00").await?;
    b.goto("/cure").await?;
    b.sees("11.5 h left in the salt").await?;
    b.close().await?;
    // It rings, on whatever page, and over its time that is said.
    let server = at(server, "2026-11-03T08:00:00Z")?;
    let b = open(&server, PHONE).await?;
    b.goto("/hang").await?;
    b.sees("BF1-1: 21.5 h in the salt are over, 1 h 30").await?;
    b.press("link", "Weigh it out of the salt").await?;
    b.enter("Rinsed and patted dry", "468 g").await?;
    b.sees("out of cure").await?;
    let view = server.says(&format!("/pieces/{slim}"))?;
    let late = view["findings"]
        .as_array()
        .context("findings")?
        .iter()
        .any(|f| f["saw"] == "1.5 h over its time");
    assert!(late, "{}", view["findings"]);
    assert_eq!(
        server.says("/timers")?["timers"][0]["piece"].as_i64(),
        Some(thick)
    );
    b.close().await
}

#[tokio::test]
async fn one_bowl_poured_by_eye_over_three_bags_is_told_apart() -> Result<()> {
    let server = household()?;
    let mut home = server.says("/settings")?["household"].take();
    home["scales"] = json!({"fine_division_g": 0.1, "meat_division_g": 1.0});
    server.puts("/settings", &home)?;
    let mut three = Vec::new();
    for (cut, shape, build) in [
        ("butt", (3_000, 70), "shoulder-slab"),
        ("loin", (2_000, 60), "back-smoked"),
        ("jowl", (1_000, 35), "jowl-smoked"),
    ] {
        let lot = case_of(&server, "pig", cut, shape.0 + 100)?;
        three.push(piece(&server, &lot, cut, shape, build)?);
    }
    let b = open(&server, DESK).await?;
    b.goto(&format!("/cure?piece={}", three[0])).await?;
    b.press("checkbox", "One mix over several products").await?;
    b.press("button", "HG2-1").await?;
    b.press("button", "HG3-1").await?;
    b.press("button", "each by itself").await?;
    b.press("checkbox", "I poured it by eye").await?;
    b.sees("Poured by eye, each vessel got what its pour gave it")
        .await?;
    // 2.5 g/kg over 6 kg, a third of it into each
    b.sees("got 104 ppm").await?;
    b.sees("got 313 ppm").await?;
    for name in ["cure #1", "salt", "sugar"] {
        b.press("button", name).await?;
    }
    b.fill("Why you go on", "poured before anybody weighed it")
        .await?;
    b.press("button", "Start the cure").await?;
    b.sees("put in cure").await?;
    for (id, want) in three.iter().zip([104.2, 156.3, 312.5]) {
        near(&cure(&server, *id)?["nitrite_ppm"], want, 0.5);
    }
    b.close().await
}

#[tokio::test]
async fn a_brine_in_gallons_and_cups_becomes_grams() -> Result<()> {
    let server = household()?;
    let mut home = server.says("/settings")?["household"].take();
    home["units"] = json!({"mass": "imperial", "length": "inch", "heat": "fahrenheit"});
    server.puts("/settings", &home)?;
    let lot = case_of(&server, "beef", "brisket", 3_000)?;
    let brisket = piece(&server, &lot, "brisket", (2_000, 40), "brisket-slab")?;
    let b = open(&server, DESK).await?;
    b.goto(&format!("/cure?piece={brisket}")).await?;
    b.press("button", "cover brine by recipe").await?;
    b.press("button", "Change the dose this time").await?;
    b.fill("Water", "1/2 gal").await?;
    b.fill("Curing salt in the water", "1 tbsp/gal").await?;
    b.fill("Salt in the water", "a cup").await?;
    b.sees("cannot be read as a number").await?;
    b.fill("Salt in the water", "1 cup/gal").await?;
    b.choose("Which salt is in the cup", "coarse salt, flaked")
        .await?;
    // half of 48 teaspoons of 2.9 g
    b.sees("70").await?;
    b.sees("1.89").await.or(b.sees("2 qt").await)?;
    b.sees("if meat and brine become alike").await?;
    b.press("button", "Change its time").await?;
    b.fill("Days of a recipe", "10").await?;
    b.sees("10 days, by the recipe").await?;
    for name in ["water", "cure #1", "salt", "sugar"] {
        b.press("button", name).await?;
    }
    b.fill("Why you go on", "our brine of many years").await?;
    b.press("button", "Start the cure").await?;
    b.sees("put in cure").await?;
    let view = server.says(&format!("/pieces/{brisket}"))?;
    let line = |name: &str| {
        let lines = view["dose"]["lines"]
            .as_array()
            .cloned()
            .unwrap_or_default();
        lines
            .iter()
            .find(|l| l["name"] == name)
            .map_or(Value::Null, |l| l["mass_g"].clone())
    };
    near(&line("salt"), 70.0, 0.6);
    near(&line("water"), 1_892.706, 0.01);
    assert_eq!(view["card"]["cure"]["days"], 10);
    b.close().await
}

#[tokio::test]
async fn a_soak_is_judged_before_and_after_and_leads_on() -> Result<()> {
    let server = household()?;
    let lot = case_of(&server, "deer", "backstrap", 1_400)?;
    let strap = piece(&server, &lot, "backstrap", (1_300, 45), "backstrap-label")?;
    let dosed = json!([{"act": "dosed", "pieces": [strap]}]);
    server.did_at(PUT_IN, &dosed)?;
    let server = at(server, "2026-11-11T09:00:00Z")?;
    server.did_at(
        "2026-11-11T08:00:00Z",
        &json!([{"act": "out_of_cure", "piece": strap, "reading": "1290 g"}]),
    )?;
    let b = open(&server, DESK).await?;
    b.goto(&format!("/pieces/{strap}")).await?;
    b.form("Check the fried slice from the end")
        .choose("Check: fried slice from the end", "too salty")
        .await?;
    b.sees("Soak it, or again so long").await?;
    b.form("Check the fried slice from the end")
        .press("button", "Write it down")
        .await?;
    b.sees("too salty").await?;
    b.fill("Minutes in the water", "30").await?;
    b.fill("Changes of water", "1").await?;
    b.press("button", "It was soaked so long").await?;
    b.sees("soaked: 30 min").await?;
    // The step is done, and its checks stand where another soak would.
    b.sees("Soak it again").await?;
    let judged = || -> Result<usize> {
        let view = server.says(&format!("/pieces/{strap}"))?;
        Ok(view["timeline"]
            .as_array()
            .context("a time line")?
            .iter()
            .filter(|e| e["kind"] == "checked")
            .count())
    };
    assert_eq!(judged()?, 1);
    // The slice after it was fried in the same minute; the order in which they were written down tells them apart.
    let form = "Check the fried slice from the middle";
    b.form(form)
        .choose("Check: fried slice from the middle", "right")
        .await?;
    b.form(form).press("button", "Write it down").await?;
    tokio::time::sleep(std::time::Duration::from_millis(600)).await;
    assert_eq!(judged()?, 2);
    // The next piece is offered what was right here.
    assert_eq!(
        server.says(&format!("/pieces/{strap}"))?["own_soak"],
        json!({"minutes": 30, "times": 1})
    );
    b.close().await
}

#[tokio::test]
async fn what_was_chosen_stays_chosen_when_another_piece_is_laid_beside() -> Result<()> {
    let server = household()?;
    let lot = case_of(&server, "pig", "belly", 9_000)?;
    let first = piece(&server, &lot, "belly", (2_300, 38), "belly-slab")?;
    piece(&server, &lot, "belly", (1_900, 36), "belly-slab")?;
    let b = open(&server, DESK).await?;
    b.goto(&format!("/cure?piece={first}")).await?;
    b.press("button", "with accelerator").await?;
    b.sees("sodium erythorbate").await?;
    b.press("button", "HG1-2").await?;
    // Still that method, for both of them; what goes on last is no part of the bowl.
    b.press("checkbox", "One mix for all of them, shared out by weight")
        .await?;
    b.sees("HG1-2, on top, last").await?;
    b.press("button", "HG1-2").await?;
    b.sees("sodium erythorbate").await?;
    b.close().await
}
