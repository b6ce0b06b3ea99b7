//! The hooks in the real browser, on the practice clock: weeks on the hook, a hard rind, mould with its photo, a stripped tare, a log of the
//! chamber out of a file.

use anyhow::{Context, Result};
use manifest_e2e::{DESK, PHONE, Server, open};
use serde_json::{Value, json};

fn kept(server: &Server, acts: &Value) -> Result<Value> {
    let ask = json!({"acts": acts, "keep_as_typed": true});
    let mut answer = ureq::post(format!("{}/api/v1/entries", server.address))
        .send_json(&ask)
        .with_context(|| acts.to_string())?;
    Ok(answer.body_mut().read_json()?)
}

/// A piece of beef that is out of its cure and waits for its hook.
fn waits(server: &Server, grams: f64, mm: f64) -> Result<i64> {
    let reading = format!("{grams} g");
    let entered = kept(
        server,
        &json!([{
            "act": "under_way", "cut": "eye_round", "build": "muscle-cased", "at": "in_cure", "since": "2026-08-01T18:00", "reading": reading, "thickness": format!("{mm} mm"),
            "weighed": {"cure": "cure2", "lines": [
                {"name": "cure #2", "reading": format!("{:.1} g", grams * 0.0025)}, {"name": "salt", "reading": format!("{:.0} g", grams * 0.026)}]},
            "received": {"name": "eye of round", "species": "beef", "origin": "bought", "known": "bought_cut", "cut": "eye_round", "reading": reading},
        }]),
    )?;
    let piece = entered["pieces"][0].as_i64().context("a piece")?;
    kept(
        server,
        &json!([{"act": "out_of_cure", "piece": piece, "reading": reading}]),
    )?;
    Ok(piece)
}

fn household() -> Result<Server> {
    let server = Server::start_practice("2026-09-10T09:00:00Z")?;
    let mut home = server.says("/settings")?["household"].clone();
    home["equipment"] = json!({
        "scales": [], "bags": [], "oven": true, "grinder": true, "stuffer": true,
        "places": [{"kind": "chamber", "name": "drying box", "count": 1, "holds": 8.0}],
    });
    server.puts("/settings", &home)?;
    Ok(server)
}

fn hook(server: &Server, tag: &str) -> Result<Value> {
    let sheet = server.says("/hang")?;
    let all = sheet["hooks"].as_array().cloned().unwrap_or_default();
    all.into_iter()
        .find(|h| h["tag"] == tag)
        .with_context(|| format!("no {tag} on its hook"))
}

fn shows(server: &Server, tag: &str) -> Result<String> {
    let grams = hook(server, tag)?["hook_shows_g"].as_f64();
    Ok(format!("{} g", grams.context("a practice hook")?))
}

#[tokio::test]
async fn weeks_on_the_hook_a_hard_rind_mould_with_its_photo_and_a_stripped_tare() -> Result<()> {
    let server = household()?;
    waits(&server, 700.0, 27.0)?;
    waits(&server, 1_500.0, 75.0)?;
    let b = open(&server, DESK).await?;
    b.goto("/hang").await?;
    let up = b.form("Hang up");
    up.fill("With everything on it, it weighs", "740 g").await?;
    b.press("button", "That in parts").await?;
    up.fill("Casing, wet", "22 g").await?;
    up.fill("Net", "18 g").await?;
    up.choose("Where", "drying box").await?;
    up.press("button", "On the hook, next piece").await?;
    b.sees("BF2-1").await?;
    up.fill("With everything on it, it weighs", "1.54 kg")
        .await?;
    up.fill("Casing, net, clips and hook", "40 g").await?;
    up.press("button", "On the hook, next piece").await?;
    // Nobody read the air there, so nothing is said of it.
    b.sees("by its thickness, give or take").await?;
    assert_eq!(hook(&server, "BF1-1")?["tare_g"], 40.0);
    // a round by the practice clock: what is due comes first, and it ends
    b.press("button", "Next due").await?;
    b.sees("2 due at the scale").await?;
    let round = b.form("Weigh in");
    for _ in 0..2 {
        let at_hand = b
            .run(
                "return document.querySelector('form[aria-label=\"Weigh in\"] .tag').textContent.trim()",
                vec![],
            )
            .await?;
        let tag = at_hand.as_str().context("a tag")?.to_string();
        let grams = shows(&server, &tag)?;
        round.press("radio", "springy").await?;
        round.enter("On the scale, net and all", &grams).await?;
        b.gone(&format!("{tag} {grams}")).await.ok();
        b.settled().await?;
    }
    b.sees("The round is done; the next is due").await?;
    assert_eq!(hook(&server, "BF2-1")?["feel"]["grade"], "springy");
    b.sees("by its one weighing, give or take 30 % of its days")
        .await?;
    // the other loses three times what it should: kept as typed, its rind is told
    let start = hook(&server, "BF2-1")?["gross_now_g"]
        .as_f64()
        .context("grams")?;
    b.press("button", "Next due").await?;
    b.sees("2 due at the scale").await?;
    let id = hook(&server, "BF2-1")?["id"].clone();
    b.goto(&format!("/hang?piece={id}")).await?;
    let round = b.form("Weigh in");
    round
        .enter(
            "On the scale, net and all",
            &format!("{:.0} g", start - 190.0),
        )
        .await?;
    b.press("button", "Keep it as typed").await?;
    // the round goes on to the next; its hook is looked at again
    b.press("button", "BF2-1").await?;
    b.sees("Its rind may be hard").await?;
    // a call on mould, with its photo
    b.press("button", "Look at its mould").await?;
    let photo = std::env::temp_dir().join("mould-on-the-hook.png");
    std::fs::write(&photo, PIXEL)?;
    b.upload("Photo", &photo).await?;
    let swatch = "[...document.querySelectorAll('form[aria-label^=\"Mould on\"] label')].find((l) => l.textContent.trim() === arguments[0]).click()";
    b.run(swatch, vec![json!("grey-green, dry spots")]).await?;
    b.sees("Wipe with vinegar, dry, look again tomorrow.")
        .await?;
    b.run(swatch, vec![json!("yellow, orange, red, fuzzy")])
        .await?;
    b.sees("Out of the chamber at once.").await?;
    b.press("button", "Write the call down").await?;
    b.sees("Its mould has to be out of the chamber at once.")
        .await?;
    b.goto(&format!("/pieces/{id}")).await?;
    b.sees("yellow, orange or red, fuzzy").await?;
    let drawn = "const i = document.querySelector('img[alt^=Photo]'); await i.decode(); return i.naturalWidth > 0";
    assert_eq!(b.run(drawn, vec![]).await?, json!(true));
    // the season runs by itself until the thin one may come down
    b.goto("/hang").await?;
    b.press("button", "Let the season run").await?;
    // some three weeks, each day of which is waited for
    for _ in 0..3 {
        if b.sees("BF1-1 may come down.").await.is_ok() {
            break;
        }
    }
    b.sees("BF1-1 may come down.").await?;
    let thin = hook(&server, "BF1-1")?;
    assert_ne!(thin["reached"], "no");
    b.goto(&format!("/hang?piece={}", thin["id"])).await?;
    let grams = format!("{} g", thin["gross_now_g"]);
    let round = b.form("Weigh in");
    round.fill("On the scale, net and all", &grams).await?;
    round.press("button", "Weighed and taken down").await?;
    b.press("tab", "Off the hook").await?;
    b.form("Strip BF1-1")
        .fill("Casing, net, hook and tag, stripped", "46 g")
        .await?;
    b.form("Strip BF1-1").press("button", "Stripped").await?;
    b.sees("(counted as 40 g when it was hung)").await?;
    b.form("Even BF1-1 out")
        .press("button", "Into vacuum")
        .await?;
    b.sees("Evens out in vacuum until").await?;
    let down = server.says("/hang")?["down"][0].clone();
    assert_eq!(
        (down["tare_g"].as_f64(), down["tare_before_g"].as_f64()),
        (Some(46.0), Some(40.0))
    );
    b.close().await
}

#[tokio::test]
async fn a_log_of_the_chamber_out_of_a_file_and_its_air_on_a_phone() -> Result<()> {
    let server = household()?;
    let piece = waits(&server, 1_500.0, 75.0)?;
    kept(
        &server,
        &json!([{"act": "hung", "piece": piece, "reading": "1.54 kg", "tare": "40 g", "place": 1}]),
    )?;
    let mut file = String::from("time;Temp C;Feuchte %\n");
    for n in 0..288 {
        let (day, minute) = (8 + n / 144, n % 144 * 10);
        let door = minute == 720;
        file += &format!(
            "2026-09-{day:02} {:02}:{:02};{};{}\n",
            minute / 60,
            minute % 60,
            if door { "15,0" } else { "12,4" },
            if door { 60 } else { 54 }
        );
    }
    let log = std::env::temp_dir().join("drying-box.csv");
    std::fs::write(&log, file)?;
    let b = open(&server, PHONE).await?;
    b.goto("/hang").await?;
    b.sees("its air was never read").await?;
    b.press("link", "All readings, or a file of its thermometer")
        .await?;
    b.sees("How cold it is").await?;
    b.press("button", "Out of a file").await?;
    b.upload("A text file with a date", &log).await?;
    b.sees("288 readings").await?;
    b.gone("over 7 °C for").await?;
    b.press("button", "Take 288 readings into drying box")
        .await?;
    b.sees("288 readings taken").await?;
    b.sees("rinds harden and shut the water in").await?;
    b.goto("/hang").await?;
    b.sees("too dry").await?;
    let said = "return [...document.querySelectorAll('svg[role=img]')].map((s) => s.getAttribute('aria-label')).find((l) => l.startsWith('Temperature in drying box'))";
    let said = b.run(said, vec![]).await?;
    let said = said.as_str().context("a curve")?;
    assert!(said.ends_with("the door was opened 2 times"), "{said}");
    b.press("button", "Read it by hand").await?;
    b.fill("How warm", "19.5 C").await?;
    b.fill("How damp", "78 %").await?;
    b.press("button", "Write it down").await?;
    b.sees("drying box is too warm to hang meat in.").await?;
    let wide =
        "return document.documentElement.scrollWidth <= document.documentElement.clientWidth";
    assert_eq!(
        b.run(wide, vec![]).await?,
        json!(true),
        "nothing runs off the phone"
    );
    b.close().await
}

/// A picture of one point.
const PIXEL: &[u8] = &[
    0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 0x0d, 0x49, 0x48, 0x44, 0x52, 0, 0, 0,
    1, 0, 0, 0, 1, 8, 2, 0, 0, 0, 0x90, 0x77, 0x53, 0xde, 0, 0, 0, 0x0c, 0x49, 0x44, 0x41, 0x54,
    0x08, 0xd7, 0x63, 0xf8, 0xcf, 0xc0, 0, 0, 3, 1, 1, 0, 0x18, 0xdd, 0x8d, 0xb0, 0, 0, 0, 0, 0x49,
    0x45, 0x4e, 0x44, 0xae, 0x42, 0x60, 0x82,
];
