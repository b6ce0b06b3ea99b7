//! Today in the real browser, lived day by day on the practice clock: turnings, checks that change the plan, a soak with its timer,
//! an absence, a fridge's log with a warm night, the calendar.

use anyhow::{Context, Result};
use manifest_e2e::browser::Browser;
use manifest_e2e::{DESK, PHONE, Server, open};
use serde_json::{Value, json};
use thirtyfour::Key;

/// Writes acts down as done now.
fn did(server: &Server, acts: &Value) -> Result<Value> {
    let ask = json!({"acts": acts, "keep_as_typed": true});
    let mut answer = ureq::post(format!("{}/api/v1/entries", server.address))
        .send_json(&ask)
        .with_context(|| acts.to_string())?;
    Ok(answer.body_mut().read_json()?)
}

/// A belly and a loin in their cures since the second of November, 9:00.
fn household() -> Result<(Server, i64, i64)> {
    let server = Server::start_practice("2026-11-02T09:00:00Z")?;
    let hog = did(
        &server,
        &json!([{
            "act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "38.6 kg",
        }]),
    )?;
    let lot = hog["lots"][0].clone();
    let mut pieces = Vec::new();
    for (cut, reading, thick, build) in [
        ("belly", "2.4 kg", "25.4 mm", "belly-slab"),
        ("loin", "2.1 kg", "50.8 mm", "back-smoked"),
    ] {
        let weighed = did(
            &server,
            &json!([{"act": "piece_weighed", "lot": lot, "cut": cut, "reading": reading, "thickness": thick}]),
        )?;
        let piece = weighed["pieces"][0].as_i64().context("a piece")?;
        did(
            &server,
            &json!([{"act": "assigned", "piece": piece, "build": build}]),
        )?;
        did(&server, &json!([{"act": "dosed", "pieces": [piece]}]))?;
        pieces.push(piece);
    }
    Ok((server, pieces[0], pieces[1]))
}

fn card(server: &Server, id: i64) -> Result<Value> {
    Ok(server.says(&format!("/pieces/{id}"))?["card"].clone())
}

async fn next_morning(b: &Browser, day: &str) -> Result<()> {
    b.press("button", "Next morning").await?;
    b.sees(&format!("It is {day}, 08:00")).await
}

#[tokio::test]
async fn a_week_is_lived_day_by_day() -> Result<()> {
    let (server, belly, loin) = household()?;
    let b = open(&server, DESK).await?;
    b.goto("/").await?;
    b.sees("Nothing needs hands today").await?;
    b.sees("Tomorrow").await?;
    // turned on two mornings with the line's number, forgotten on the third, late on the fourth
    next_morning(&b, "Nov 3").await?;
    b.sees("HG1-1").await?;
    b.types("1").await?;
    b.sees("Undo HG1-1").await?;
    next_morning(&b, "Nov 4").await?;
    b.press("button", "All 2 turned").await?;
    b.sees("Undo HG1-2").await?;
    next_morning(&b, "Nov 5").await?;
    next_morning(&b, "Nov 6").await?;
    b.sees("overdue since Thu").await?;
    b.press("button", "All 2 turned").await?;
    b.sees("Undo HG1-1").await?;
    assert_eq!(
        card(&server, belly)?["cure"]["turnings"],
        json!({"done": 3, "wanted": 4})
    );
    // its day comes; still soft in the middle: two days more, and the plan says why
    b.press("button", "Next due").await?;
    b.sees("It is Nov 7, 08:00").await?;
    b.press("button", "Next due").await?;
    b.sees("Out of the cure").await?;
    b.press("button", "Look: Out of the cure").await?;
    b.press("button", "still soft").await?;
    b.sees("Two more days in the cure").await?;
    b.press("button", "Write it down").await?;
    b.sees("Undo HG1-1").await?;
    b.goto(&format!("/pieces/{belly}")).await?;
    let out = card(&server, belly)?["cure"]["out_on"].clone();
    let today = server.says("/settings")?["today"].clone();
    assert!(out.as_str() > today.as_str(), "{out} {today}");
    b.goto("/").await?;
    b.gone("Out of the cure HG1-1").await?;
    for _ in 0..2 {
        b.press("button", "Next morning").await?;
        tokio::time::sleep(std::time::Duration::from_millis(300)).await;
    }
    b.sees("Take out HG1-1").await?;
    b.sees("firmness: still soft, two more days").await?;
    b.press("link", "Take out HG1-1").await?;
    b.enter("Rinsed and patted dry, it weighs", "2.36 kg")
        .await?;
    b.sees("HG1-1 out of cure: 2.36 kg").await?;
    // the loin: out, a slice too salty, into the water with its timer, out of it, another slice
    let out = card(&server, loin)?["cure"]["out_on"].clone();
    ureq::post(format!("{}/api/v1/clock/move", server.address))
        .send_json(json!({"to": format!("{}T08:00", out.as_str().context("a day")?)}))?;
    did(
        &server,
        &json!([{"act": "out_of_cure", "piece": loin, "reading": "2.15 kg"}]),
    )?;
    b.goto("/").await?;
    b.sees("Fry a slice and taste it").await?;
    b.press("button", "too salty").await?;
    b.sees("Soak it, or again so long").await?;
    b.press("button", "Write it down").await?;
    b.sees("a slice was too salty").await?;
    b.press("button", "Time it: Soak").await?;
    b.fill("Minutes for the water", "60").await?;
    b.press("button", "Into the water now").await?;
    b.sees("HG1-2 in the water").await?;
    b.press("button", "An hour on").await?;
    b.sees("HG1-2: 60 min in the water are over").await?;
    b.press("button", "Out of the water now").await?;
    b.sees("it was too salty before the water").await?;
    b.press("button", "right").await?;
    b.gone("Fry a slice and taste it · ").await?;
    let view = server.says(&format!("/pieces/{loin}"))?;
    let told = view["timeline"].to_string();
    assert!(
        told.contains("60 min") && told.contains("too salty"),
        "{told}"
    );
    b.close().await
}

#[tokio::test]
async fn five_days_away_are_sorted_and_what_waits_is_moved_with_one_tap() -> Result<()> {
    let (server, belly, _) = household()?;
    let b = open(&server, PHONE).await?;
    b.goto("/").await?;
    b.press("link", "Away for some days?").await?;
    b.sees("Say from when until when").await?;
    b.run(
        "const set = (i, v) => { const p = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value'); \
         const f = document.querySelectorAll('input[type=date]')[i]; p.set.call(f, v); \
         f.dispatchEvent(new Event('input', { bubbles: true })) }; set(0, '2026-11-06'); set(1, '2026-11-10')",
        vec![],
    )
    .await?;
    b.sees("Waits until you are back").await?;
    b.sees("Its dose was measured: it may wait, and gets no saltier.")
        .await?;
    b.sees("turnings fall out: turn it before you leave")
        .await?;
    b.press("button", "To Wed, Nov 11: HG1-1").await?;
    b.sees("Moved to another day").await?;
    let task = card(&server, belly)?["tasks"].clone();
    let out = task
        .as_array()
        .context("tasks")?
        .iter()
        .find(|t| t["kind"] == "out_of_cure")
        .context("out")?;
    assert_eq!(
        (out["due"].as_str(), out["moved"].as_bool()),
        (Some("2026-11-11"), Some(true))
    );
    b.press("button", "Back to its own day HG1-1").await?;
    b.gone("Moved to another day").await?;
    b.close().await
}

#[tokio::test]
async fn a_fridges_log_with_a_warm_night_is_matched_shown_taken_and_struck_out() -> Result<()> {
    let (server, ..) = household()?;
    let settings = server.says("/settings")?;
    let mut home = settings["household"].clone();
    home["equipment"] =
        json!({"places": [{"kind": "fridge", "name": "cellar fridge", "count": 1, "holds": 90.0}]});
    server.puts("/settings", &home)?;
    ureq::post(format!("{}/api/v1/clock/move", server.address))
        .send_json(json!({"to": "2026-11-06T06:00"}))?;
    let folder = tempfile::TempDir::new()?;
    let log = folder.path().join("log.csv");
    let mut text = String::from("Zeit;Ort;Temp;Feuchte\n");
    for hour in 0..72 {
        let warm = (50..56).contains(&hour);
        let (day, hour) = (3 + hour / 24, hour % 24);
        text.push_str(&format!(
            "0{day}.11.2026 {hour:02}:05;links;{};60\n",
            if warm { "8,2" } else { "3,2" }
        ));
    }
    text.push_str("05.11.2026 30:00;links;3,0;60\n");
    std::fs::write(&log, text)?;
    let b = open(&server, DESK).await?;
    b.goto("/cold").await?;
    b.sees("cellar fridge").await?;
    b.press("button", "Out of a file").await?;
    b.upload("A text file with a date", &log).await?;
    b.sees("72 readings").await?;
    b.sees("over 7 °C for 5.0 h").await?;
    b.sees("line 74: “05.11.2026 30:00” is no date and time")
        .await?;
    b.press("button", "Take 72 readings into cellar fridge")
        .await?;
    b.sees("72 readings taken, 1 rows refused.").await?;
    b.sees("highest 8.2 °C").await?;
    b.goto("/").await?;
    b.sees("cellar fridge was over 7 °C within the last day.")
        .await?;
    b.press("link", "The log of cellar fridge").await?;
    b.press("button", "The newest readings").await?;
    b.press("button", "Strike out").await?;
    b.fill("Why 3.2 °C", "the door log was of another fridge")
        .await?;
    b.press("button", "And all that came with it").await?;
    b.sees("nobody looked yet").await?;
    b.goto("/").await?;
    b.gone("was over 7 °C").await?;
    // by hand, on the phone
    b.resize(PHONE.0, PHONE.1).await?;
    b.goto("/cold").await?;
    b.fill("How warm is it in cellar fridge", "abc").await?;
    b.key(Key::Enter.value().to_string()).await?;
    b.sees("“abc” cannot be read as a number.").await?;
    b.fill("How warm is it in cellar fridge", "38 F").await?;
    b.key(Key::Enter.value().to_string()).await?;
    b.sees("3.3 °C").await?;
    b.close().await
}

#[tokio::test]
async fn the_calendar_is_subscribed_to_and_ended_and_a_note_keeps_its_photo() -> Result<()> {
    let (server, belly, _) = household()?;
    let b = open(&server, DESK).await?;
    b.goto("/settings").await?;
    b.press("button", "Make a secret address to subscribe to")
        .await?;
    b.sees("Whoever knows it reads the plan").await?;
    let read = "return [...document.querySelectorAll('input[readonly]')].map((i) => i.value)[0]";
    let address = b
        .run(read, vec![])
        .await?
        .as_str()
        .context("an address")?
        .to_string();
    let text = ureq::get(&address).call()?.body_mut().read_to_string()?;
    assert!(
        text.starts_with("BEGIN:VCALENDAR")
            && text.contains(&format!("UID:piece-{belly}-out_of_cure")),
        "{text}"
    );
    b.press("button", "End it").await?;
    b.sees("Make a secret address to subscribe to").await?;
    assert!(ureq::get(&address).call().is_err());

    ureq::post(format!("{}/api/v1/clock/move", server.address))
        .send_json(json!({"until": "next_morning"}))?;
    let folder = tempfile::TempDir::new()?;
    let photo = folder.path().join("rind.png");
    // drawn by the browser itself: larger than what is kept
    let drawn = "const c = document.createElement('canvas'); c.width = 2400; c.height = 1200; c.getContext('2d').fillRect(0, 0, 2400, 600); return c.toDataURL().split(',')[1]";
    let data = b
        .run(drawn, vec![])
        .await?
        .as_str()
        .context("a picture")?
        .to_string();
    std::fs::write(&photo, base64(&data))?;
    b.goto("/").await?;
    b.press("button", "More: Turn").await?;
    b.press("button", "Note or photo").await?;
    b.fill("Note on HG1-1", "rind pale at one edge").await?;
    b.upload("Photo", &photo).await?;
    b.press("button", "Keep it").await?;
    b.gone("Keep it").await?;
    b.goto(&format!("/pieces/{belly}")).await?;
    b.sees("rind pale at one edge, with a photo").await?;
    let size = "const i = document.querySelector('img[alt^=Photo]'); await i.decode(); return [i.naturalWidth, i.naturalHeight]";
    let size = b.run(size, vec![]).await?;
    assert_eq!(size, json!([1600, 800]), "shrunk on the device");
    b.close().await
}

/// The bytes behind base64.
fn base64(text: &str) -> Vec<u8> {
    let of = |c: u8| match c {
        b'A'..=b'Z' => Some(c - b'A'),
        b'a'..=b'z' => Some(c - b'a' + 26),
        b'0'..=b'9' => Some(c - b'0' + 52),
        b'+' => Some(62),
        b'/' => Some(63),
        _ => None,
    };
    let sixes: Vec<u32> = text.bytes().filter_map(of).map(u32::from).collect();
    let mut bytes = Vec::new();
    for four in sixes.chunks(4) {
        let whole = four.iter().fold(0, |all, six| all << 6 | six) << (6 * (4 - four.len()));
        bytes.extend(whole.to_be_bytes()[1..four.len()].iter());
    }
    bytes
}
