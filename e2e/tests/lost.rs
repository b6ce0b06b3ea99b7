//! Nothing typed is lost or lands on the wrong piece: other devices, bad lines, reloads and hurried fingers.

use anyhow::{Context, Result};
use manifest_e2e::server::project;
use manifest_e2e::{DESK, Line, PHONE, Proxy, Server, open};
use serde_json::{Value, json};
use std::time::{Duration, Instant};
use thirtyfour::Key;

/// The entries of one kind about a piece, the newest first, in words.
fn entries(server: &Server, tag: &str, kind: &str) -> Result<Vec<String>> {
    let view = server.says(&format!("/pieces/{}", server.number(tag)?))?;
    let all = view["timeline"].as_array().context("a time line")?.iter();
    let of_kind = all.filter(|e| e["kind"] == kind && e["live"] == true);
    Ok(of_kind
        .map(|e| e["detail"].as_str().unwrap_or_default().to_string())
        .collect())
}

/// Waits for something that comes by itself.
async fn until(what: &str, mut there: impl FnMut() -> Result<bool>) -> Result<()> {
    let start = Instant::now();
    while !there()? {
        anyhow::ensure!(
            start.elapsed() < Duration::from_secs(15),
            "waited in vain for {what}"
        );
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    Ok(())
}

#[tokio::test]
async fn a_second_device_never_makes_a_number_land_on_the_neighbour() -> Result<()> {
    let server = Server::start(true)?;
    let before = entries(&server, "EK1-3", "weighed_in")?.len();
    let (a, b) = (open(&server, DESK).await?, open(&server, PHONE).await?);
    a.goto("/hang?piece={EK1-2}").await?;
    a.fill("On the scale, net and all", "900").await?;
    b.goto("/hang?piece={EK1-2}").await?;
    // It changes there, and stays: the form says so and goes on.
    b.enter("On the scale, net and all", "1.79 kg").await?;
    b.sees("EK1-2 weighed in").await?;
    a.sees("EK1-2 changed on another device.").await?;
    a.sees("1.79 kg on the scale").await?;
    // It moves on there: the form stays with it, and writes nothing.
    b.goto("/hang?piece={EK1-2}").await?;
    b.fill("On the scale, net and all", "1.78 kg").await?;
    b.press("button", "Weighed and taken down").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("EK1-2 taken down").await?;
    a.sees("EK1-2 is no longer here.").await?;
    a.sees("What you typed for it, 900, is not written.")
        .await?;
    a.fill("On the scale, net and all", "950").await?;
    a.key(Key::Enter.value().to_string()).await?;
    a.press("button", "Let go of EK1-2").await?;
    a.sees("EK1-3").await?;
    a.sees("1 of 1").await?;
    assert_eq!(a.typed().await?, "", "nothing was carried over");
    let after = entries(&server, "EK1-3", "weighed_in")?.len();
    assert_eq!(after, before, "nothing landed on the neighbour");
    assert_eq!(
        entries(&server, "EK1-2", "weighed_in")?[0],
        "1.79 kg on the scale"
    );
    a.close().await?;

    // What was being typed on this device for a piece that moved on is said once, and dropped.
    b.goto("/hang?piece={EK1-3}").await?;
    b.fill("On the scale, net and all", "930").await?;
    let piece = server.number("EK1-3")?;
    b.press("link", "Today").await?;
    server.did(&json!([{"act": "taken_down", "piece": piece, "reading": "940 g"}]))?;
    b.goto("/hang").await?;
    b.sees("Moved on since, and what had been typed for it was dropped: EK1-3 930.")
        .await?;
    b.press("button", "Seen").await?;
    b.reload().await?;
    assert!(!b.text().await?.contains("Moved on since"));

    // An animal that another device is done with: what is on the scale here is not swept away.
    b.goto("/breakdown/{GT1}").await?;
    b.choose("Cut", "shoulder").await?;
    b.fill("Weight", "1.42 kg").await?;
    let lot = server.number("GT1")?;
    server.did(&json!([{"act": "breakdown_closed", "lot": lot}]))?;
    b.sees("The break-down was finished meanwhile. What you typed, 1.42 kg, is not written")
        .await?;
    b.press("button", "leave it out").await?;
    b.sees("Nothing is left to weigh out").await?;
    assert!(!b.text().await?.contains("finished meanwhile"));
    b.close().await
}

#[tokio::test]
async fn a_tick_belongs_to_the_number_it_was_set_at() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, DESK).await?;
    b.goto("/cure?piece={GT1-1}").await?;
    b.press("button", "cure #2").await?;
    b.press("button", "salt").await?;
    b.sees("salt weighed").await?;
    // A number of one's own: the tick falls off where the number changed, and nowhere else.
    b.press("button", "Change the dose this time").await?;
    b.fill("Salt", "30").await?;
    b.sees("g was weighed; it changed since").await?;
    b.sees("cure #2 weighed").await?;
    b.press("button", "salt").await?;
    b.sees("salt weighed").await?;
    // Neither a reload nor another station takes what was weighed out already.
    b.reload().await?;
    b.sees("salt weighed").await?;
    b.press("link", "Hang").await?;
    b.sees("Weigh in").await?;
    b.press("link", "Cure").await?;
    b.sees("salt weighed").await?;
    // A correction on another device: every number is another one now.
    let piece = server.number("GT1-1")?;
    let view = server.says(&format!("/pieces/{piece}"))?;
    let all = view["timeline"].as_array().context("entries")?;
    let weighed = all.iter().rfind(|e| e["kind"] == "piece_weighed");
    let entry = &weighed.context("it was weighed")?["entry"];
    let mut act = server.says(&format!("/entries/{entry}/ask"))?["act"].take();
    act["reading"] = json!("1.9 kg");
    let mut answer = ureq::post(format!(
        "{}/api/v1/entries/{entry}/correction",
        server.address
    ))
    .send_json(json!({"act": act, "keep_as_typed": true}))?;
    answer.body_mut().read_to_string()?;
    b.sees("4 still to weigh").await?;
    assert!(!b.text().await?.contains("salt weighed"));
    // Nothing but what was ticked is started.
    let sheet =
        json!([{"act": "dosed", "pieces": [piece], "ticked": [{"name": "salt", "mass_g": 1.0}]}]);
    let refused = server.did(&sheet).err().context("a refusal")?;
    assert!(format!("{refused:#}").contains("422"), "{refused:#}");
    for line in ["cure #2", "salt", "sugar", "black pepper"] {
        b.press("button", line).await?;
    }
    b.press("button", "Start the cure").await?;
    b.sees("GT1-1 put in cure").await?;
    assert_eq!(entries(&server, "GT1-1", "dosed")?.len(), 1);
    b.close().await
}

#[tokio::test]
async fn what_is_typed_survives_reload_another_station_and_a_closed_tab() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, PHONE).await?;
    b.goto("/pack?piece={TK1-3}").await?;
    b.enter("Pack 1 weighs", "250 g").await?;
    b.fill("Pack 2 weighs", "240 g").await?;
    b.reload().await?;
    b.sees("250 g").await?;
    b.press("link", "Tally").await?;
    b.sees("Tally").await?;
    b.goto("/pack?piece={TK1-4}").await?;
    // Its neighbour has a table of its own.
    b.sees("Pack 1 weighs").await?;
    b.goto("/pack?piece={TK1-3}").await?;
    b.sees("Write down 2 packs").await?;
    b.goto("/receive").await?;
    b.press("radio", "goat").await?;
    b.press("radio", "raised").await?;
    b.fill("What you call it", "second goat").await?;
    b.fill("The carcass weight", "15.5 kg").await?;
    b.goto("/breakdown/{GT1}").await?;
    b.choose("Cut", "shoulder").await?;
    b.fill("Weight", "1.42 kg").await?;
    b.fill("Thickest place", "61").await?;
    // The tab is closed, another one opened.
    b.driver.new_tab().await?;
    b.driver.close_window().await?;
    let tabs = b.driver.windows().await?;
    b.driver.switch_to_window(tabs[0].clone()).await?;
    b.goto("/breakdown/{GT1}").await?;
    let there = "return [...document.querySelectorAll('form input, form select')].map((e) => e.value).join('|')";
    let mut fields = String::new();
    // The cuts to choose from come a moment after the page.
    for _ in 0..50 {
        let now = b.run(there, vec![]).await?;
        fields = now.as_str().context("fields")?.to_string();
        if fields.contains("shoulder") {
            break;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    assert!(
        fields.contains("1.42 kg") && fields.contains("61") && fields.contains("shoulder"),
        "{fields}"
    );
    b.goto("/receive").await?;
    b.sees("= 15.5 kg").await?;
    b.press("button", "Write it down").await?;
    b.sees("GT2").await?;
    b.goto("/receive").await?;
    let fields = b.run(there, vec![]).await?;
    assert!(
        !fields.as_str().context("fields")?.contains("second goat"),
        "it is used up"
    );
    b.close().await
}

#[tokio::test]
async fn a_killed_program_is_said_at_once_and_gets_what_was_typed_when_it_is_back() -> Result<()> {
    let server = Server::start(true)?;
    let line = Proxy::before(&server.address)?;
    let b = manifest_e2e::Browser::open(&line.address, DESK.0, DESK.1).await?;
    b.goto("/hang?piece={EK1-2}").await?;
    b.fill("On the scale, net and all", "1.79").await?;
    let data = server.killed()?;
    let killed = Instant::now();
    b.sees("The program does not answer.").await?;
    assert!(
        killed.elapsed() < Duration::from_secs(5),
        "said after {:?}",
        killed.elapsed()
    );
    b.types(" kg").await?;
    b.key(Key::Enter.value().to_string()).await?;
    b.sees("Kept here: EK1-2 1.79 kg").await?;
    b.types("960").await?;
    b.key(Key::Enter.value().to_string()).await?;
    b.sees("and 1 more").await?;
    let server = Server::start_at(data, false, None)?;
    line.lead_to(&server.address)?;
    until("both weights", || {
        Ok(
            entries(&server, "EK1-2", "weighed_in")?[0].starts_with("1.79 kg")
                && entries(&server, "EK1-3", "weighed_in")?[0].starts_with("960 g"),
        )
    })
    .await?;
    b.sees("EK1-3 weighed in").await?;
    b.close().await
}

#[tokio::test]
async fn an_answer_that_is_lost_writes_once() -> Result<()> {
    let server = Server::start(true)?;
    let line = Proxy::before(&server.address)?;
    let b = manifest_e2e::Browser::open(&line.address, DESK.0, DESK.1).await?;
    let before = entries(&server, "EK1-2", "weighed_in")?.len();
    b.goto("/hang?piece={EK1-2}").await?;
    line.be(Line::LosesAnswers);
    b.enter("On the scale, net and all", "1.79 kg").await?;
    // The page hears of its own write and asks for everything anew, while it is still sending.
    until("two lost answers", || Ok(line.lost() >= 2)).await?;
    b.sees("showed").await?;
    b.key(Key::Enter.value().to_string()).await?;
    line.be(Line::Good);
    b.sees("EK1-2 weighed in").await?;
    assert_eq!(entries(&server, "EK1-2", "weighed_in")?.len(), before + 1);
    assert!(!b.text().await?.contains("changed on another device"));

    b.goto("/pack?piece={TK1-3}").await?;
    let lost = line.lost();
    line.be(Line::LosesAnswers);
    b.fill("Pack 1 weighs", "750 g").await?;
    b.press("button", "Pack it").await?;
    until("lost answers again", || Ok(line.lost() >= lost + 2)).await?;
    b.key(Key::Enter.value().to_string()).await?;
    line.be(Line::Good);
    b.sees("TK1-3 is packed.").await?;
    assert_eq!(entries(&server, "TK1-3", "packed")?.len(), 1);
    let view = server.says(&format!("/pieces/{}", server.number("TK1-3")?))?;
    assert_eq!(view["packs"].as_array().map(Vec::len), Some(1));

    // Loaded anew amid it: what was under way is taken over, with its key.
    let before = entries(&server, "EK1-3", "weighed_in")?.len();
    b.goto("/hang?piece={EK1-3}").await?;
    let lost = line.lost();
    line.be(Line::LosesAnswers);
    b.enter("On the scale, net and all", "940 g").await?;
    until("a lost answer", || Ok(line.lost() > lost)).await?;
    b.reload().await?;
    until("another one", || Ok(line.lost() > lost + 1)).await?;
    line.be(Line::Good);
    b.sees("EK1-3 weighed in").await?;
    assert_eq!(entries(&server, "EK1-3", "weighed_in")?.len(), before + 1);
    b.close().await
}

#[tokio::test]
async fn on_a_slow_line_one_types_on_and_all_is_written_in_order() -> Result<()> {
    let server = Server::start(true)?;
    let line = Proxy::before(&server.address)?;
    let b = manifest_e2e::Browser::open(&line.address, DESK.0, DESK.1).await?;
    b.goto("/breakdown/{GT1}").await?;
    b.press("radio", "trim").await?;
    line.be(Line::Slow);
    let typing = Instant::now();
    for weight in ["310", "220", "130"] {
        b.enter("Weight", weight).await?;
    }
    assert!(
        typing.elapsed() < Duration::from_secs(4),
        "nobody waits for the line"
    );
    b.sees("On its way: trim").await?;
    let lot = server.number("GT1")?;
    let trims = || -> Result<Vec<Value>> {
        let view = server.says(&format!("/lots/{lot}"))?;
        let all = view["timeline"].as_array().context("a time line")?.clone();
        Ok(all
            .into_iter()
            .filter(|e| e["kind"] == "byproduct_weighed")
            .collect())
    };
    until("three trims", || {
        let said: Vec<_> = trims()?.iter().map(|e| e["detail"].to_string()).collect();
        Ok(said.len() >= 3
            && said[..3]
                .iter()
                .zip(["130", "220", "310"])
                .all(|(s, w)| s.contains(w)))
    })
    .await?;
    line.be(Line::Good);

    // The network of the device itself goes, and comes back.
    b.goto("/hang?piece={EK1-2}").await?;
    b.fill("On the scale, net and all", "1.785 kg").await?;
    b.offline(true).await?;
    b.key(Key::Enter.value().to_string()).await?;
    b.sees("The program does not answer.").await?;
    b.offline(false).await?;
    b.sees("EK1-2 weighed in").await?;
    assert!(entries(&server, "EK1-2", "weighed_in")?[0].starts_with("1.785 kg"));
    b.close().await
}

#[tokio::test]
async fn two_taps_at_one_spot_mark_one_piece() -> Result<()> {
    let server = Server::start(true)?;
    // What lies in one vessel is turned together: it counts once.
    let turned = || -> Result<usize> {
        let tags = ["HG1-2", "HG1-3a", "HG1-3b", "EK1-4", "HG1-1a", "HG1-1b"];
        let mut by_vessel = std::collections::BTreeMap::new();
        for tag in tags {
            let id = server.number(tag)?;
            let view = server.says(&format!("/pieces/{id}"))?;
            let vessel = view["card"]["cure"]["vessel"]["id"].to_string();
            let times = entries(&server, tag, "turned")?.len();
            let most: &mut usize = by_vessel.entry(vessel).or_default();
            *most = times.max(*most);
        }
        Ok(by_vessel.values().sum())
    };
    let before = turned()?;
    for (at, size, button, undo, each) in [
        ("/", PHONE, "All 4 turned", "Undo HG1-2", 4),
        ("/cure", DESK, "Turned", "Undo turning", 1),
    ] {
        let b = open(&server, size).await?;
        let before = turned()?;
        b.goto(at).await?;
        b.taps_twice("button", button).await?;
        b.sees("turned").await?;
        until("the turning", || Ok(turned()? >= before + each)).await?;
        tokio::time::sleep(Duration::from_millis(400)).await;
        assert_eq!(turned()?, before + each, "{at}");
        // The row is still there, with an undo that takes back just this.
        b.press("button", undo).await?;
        until("the undo", || Ok(turned()? == before + each - 1)).await?;
        b.close().await?;
    }
    assert_eq!(turned()?, before + 3);
    Ok(())
}

#[tokio::test]
async fn numbers_go_to_the_scale_letters_are_keys_and_anything_is_found() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, DESK).await?;
    let label =
        "return document.activeElement.labels?.[0]?.textContent ?? document.activeElement.tagName";
    b.goto("/hang?piece={EK1-2}").await?;
    assert_eq!(
        b.run(label, vec![]).await?,
        "On the scale, net and all",
        "on arrival"
    );
    // Away from every field, what is typed is still a weight.
    b.run("document.activeElement.blur()", vec![]).await?;
    b.types("1,79").await?;
    assert_eq!(b.typed().await?, "1,79");
    b.types(" kg").await?;
    b.key(Key::Enter.value().to_string()).await?;
    b.sees("EK1-2 weighed in: 1.79 kg").await?;
    b.run("document.activeElement.blur()", vec![]).await?;
    b.types("u").await?;
    b.sees("undone: EK1-2 weighed in").await?;
    b.types("g7").await?;
    b.sees("Pack 1 weighs").await?;
    b.run("document.activeElement.blur()", vec![]).await?;
    b.types("g0").await?;
    b.sees("Saturday, November 21").await?;
    // A page without a scale: its digits do what the line of that number says.
    b.sees("All 4 turned").await?;
    b.types("4").await?;
    b.sees("Undo HG1-2").await?;

    b.types("/").await?;
    let axe = std::fs::read_to_string(project().join("web/node_modules/axe-core/axe.min.js"))?;
    assert_eq!(b.violations(&axe).await?, Vec::<String>::new());
    b.fill("What is it?", "70 mm 1.79 kg").await?;
    b.sees("EK1-2").await?;
    b.sees("70 mm thick").await?;
    b.fill("What is it?", "cold store").await?;
    b.sees("“lay in the cold store at -20 for two weeks”")
        .await?;
    b.fill("What is it?", "nothing of the kind").await?;
    b.sees("Nothing here answers that.").await?;
    b.enter("What is it?", "gt1-3").await?;
    b.sees("Piece GT1-3").await?;

    b.types("?").await?;
    b.sees("takes back what was written last").await?;
    b.press("checkbox", "Letters are shortcuts on this device")
        .await?;
    b.key(Key::Escape.value().to_string()).await?;
    b.types("g6").await?;
    b.sees("Piece GT1-3").await?;
    b.reload().await?;
    b.types("/").await?;
    assert!(
        !b.text().await?.contains("What is it?"),
        "letters are off on this device"
    );
    b.close().await
}

#[tokio::test]
async fn the_focus_is_never_lost_and_always_seen() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, DESK).await?;
    let focused =
        "return document.activeElement === document.body ? '' : document.activeElement.tagName";
    let kept = async |after: &str| -> Result<()> {
        tokio::time::sleep(Duration::from_millis(250)).await;
        let has = b.run(focused, vec![]).await?;
        anyhow::ensure!(has != "", "the focus is on nothing after {after}");
        Ok(())
    };
    // Acts that take away or switch off the very thing that was pressed.
    b.goto("/").await?;
    b.press("button", "All 4 turned").await?;
    kept("all turned").await?;
    b.press("button", "Undo HG1-2").await?;
    kept("its undo").await?;
    b.press("button", "turned: Turn").await?;
    kept("one turned").await?;
    b.press("button", "Close this line").await?;
    kept("closing the line").await?;
    b.goto("/cure?piece={GT1-1}").await?;
    for line in ["cure #2", "salt", "sugar", "black pepper"] {
        b.press("button", line).await?;
    }
    b.press("button", "Start the cure").await?;
    b.sees("GT1-1 put in cure").await?;
    kept("a started cure").await?;
    b.goto("/hang?piece={EK1-2}").await?;
    b.enter("On the scale, net and all", "1.79 kg").await?;
    b.sees("EK1-2 weighed in").await?;
    kept("a weigh-in").await?;
    b.fill("On the scale, net and all", "620 g").await?;
    b.key(Key::Enter.value().to_string()).await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("weighed in: 620 g").await?;
    kept("a kept question").await?;
    b.goto("/pack?piece={TK1-3}").await?;
    b.fill("Pack 1 weighs", "750 g").await?;
    b.press("button", "Pack it").await?;
    b.sees("is packed").await?;
    kept("a pack").await?;
    b.goto("/breakdown/{GT1}").await?;
    b.press("button", "Nothing more to weigh out").await?;
    kept("a question on finishing").await?;
    b.goto("/pieces/{HG1-2}").await?;
    b.press("button", "Undo").await?;
    kept("an undo in the history").await?;

    // What has the focus shows it: an outline in another colour than what is behind it, cut off by nothing.
    let hidden = r"
      const found = [];
      const clips = (e) => /(hidden|auto|scroll|clip)/.test(getComputedStyle(e).overflow);
      for (const el of document.querySelectorAll('a[href], button, input, select, summary, [tabindex=\'0\']')) {
        if (!el.checkVisibility() || el.disabled || el.closest('[inert]')) continue;
        el.focus({ focusVisible: true });
        if (document.activeElement !== el) continue;
        const style = getComputedStyle(el);
        const name = (el.textContent || el.getAttribute('aria-label') || el.tagName).trim().slice(0, 40);
        const edge = style.borderColor;
        const width = parseFloat(style.outlineWidth), offset = parseFloat(style.outlineOffset);
        if (style.outlineStyle === 'none' || width < 2) { found.push(`${name}: no outline`); continue; }
        if (style.clipPath !== 'none') found.push(`${name}: cut out`);
        const box = el.getBoundingClientRect(), more = Math.max(0, width + offset);
        for (let up = el.parentElement; up && up !== document.documentElement; up = up.parentElement) {
          if (getComputedStyle(up).clipPath !== 'none') found.push(`${name}: within what is cut out`);
          if (!clips(up)) continue;
          const frame = up.getBoundingClientRect();
          if (box.top - more < frame.top - 0.5 || box.bottom + more > frame.bottom + 0.5) found.push(`${name}: cut off by ${up.tagName}`);
        }
        const behind = offset < 0 ? getComputedStyle(el, '::after').backgroundColor : getComputedStyle(document.body).backgroundColor;
        if (style.outlineColor === behind) found.push(`${name}: outline in the colour behind it`);
      }
      return found;";
    for view in [
        "/",
        "/receive",
        "/breakdown/{EK1}",
        "/assign",
        "/cure",
        "/smoke",
        "/hang",
        "/pack",
        "/tally",
        "/library",
        "/settings",
        "/pieces/{EK1-1}",
    ] {
        b.goto(view).await?;
        // Outlines are for those who go by keys.
        b.key(Key::Tab.value().to_string()).await?;
        let found = b.run(hidden, vec![]).await?;
        assert_eq!(found, json!([]), "{view}");
    }
    b.close().await
}

#[tokio::test]
async fn a_busy_program_is_asked_again_and_the_page_says_so() -> Result<()> {
    let server = Server::start(true)?;
    let line = Proxy::before(&server.address)?;
    let b = manifest_e2e::Browser::open(&line.address, DESK.0, DESK.1).await?;
    b.goto("/").await?;
    line.be(Line::Busy);
    b.press("link", "Tally").await?;
    b.sees("Busy. Trying again in 1 s").await?;
    line.be(Line::Good);
    b.gone("Busy. Trying again").await?;
    b.sees("By animal and purchase").await?;
    assert!(line.lost() > 0, "something was told to come again");
    b.close().await
}
