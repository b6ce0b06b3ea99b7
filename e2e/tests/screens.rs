//! The real interface in the real browser, asked for what a person sees.

use anyhow::Result;
use manifest_e2e::server::project;
use manifest_e2e::{DESK, PHONE, Server, open};
use serde_json::json;
use thirtyfour::Key;

/// Every view of the application, its pieces and lots by their tags.
const VIEWS: [&str; 29] = [
    "/",
    "/away",
    "/cold",
    "/receive",
    "/breakdown",
    "/breakdown/{EK1}",
    "/breakdown/{GT1}",
    "/assign",
    "/assign?piece={GT1-2}",
    "/assign/grind",
    "/assign/shopping",
    "/cutsheet/{GT1}",
    "/pantry",
    "/pieces/{GT1-2}",
    "/cure",
    "/cure?piece={HG1-5}",
    "/smoke",
    "/hang",
    "/pack",
    "/tally",
    "/tally/{HG1}",
    "/pieces/{EK1-2}",
    "/trace/lots/{EK1}",
    "/overrides",
    "/library",
    "/recipe",
    "/library/belly-slab",
    "/library/salami-knife",
    "/settings",
];

#[tokio::test]
async fn a_half_hog_from_receive_to_tally_by_hand_and_keyboard() -> Result<()> {
    let server = Server::start(false)?;
    let b = open(&server, DESK).await?;
    b.goto("/").await?;
    b.sees("Nothing has come in yet").await?;
    b.press("link", "Receive the first one").await?;
    b.press("radio", "pig").await?;
    b.fill("What you call it", "half hog").await?;
    b.fill("Cost", "120").await?;
    b.press("radio", "bought").await?;
    b.enter("The carcass weight", "20 kg").await?;
    b.sees("HG1").await?;
    b.sees("Pork that is dried raw can carry trichinella.")
        .await?;
    b.press("link", "Break it down").await?;

    b.sees("20 kg still to weigh").await?;
    b.choose("Cut", "belly").await?;
    b.fill("Weight", "5.2 kg").await?;
    b.sees("= 5.2 kg · 11 lb 7.4 oz").await?;
    b.enter("Thickest place", "42").await?;
    b.sees("14.8 kg still to weigh").await?;
    b.choose("Cut", "loin").await?;
    b.press("checkbox", "Bone in").await?;
    b.fill("Weight", "6 lb 13.3 oz").await?;
    b.enter("Thickest place", "1 3/4 in").await?;
    b.sees("HG1-2").await?;
    b.press("radio", "bone").await?;
    b.enter("Weight", "11.5 kg").await?;
    b.sees("bone 11.5 kg").await?;
    b.press("button", "Nothing more to weigh out").await?;
    b.sees("Nothing is left to weigh out").await?;

    b.press("link", "Give the pieces a product").await?;
    b.sees("Belly lies flat").await?;
    b.press("button", "Make this: streaky slab bacon").await?;
    b.sees("A sound single muscle").await?;
    b.press("button", "Make this: dried whole muscle in a casing")
        .await?;
    // Nobody wrote down that it lay deep frozen: a stop, which a reason lifts.
    b.sees("frozen or tested against trichinella").await?;
    b.fill("Why you go on all the same", "sold as frozen for a month")
        .await?;
    b.press("button", "Go on for this reason").await?;
    b.sees("Every piece has a product").await?;

    b.types("g4").await?;
    for build in [
        ["cure #1", "salt", "sugar", "black pepper"],
        ["cure #2", "salt", "sugar", "black pepper"],
    ] {
        b.sees(&format!("{} ", build[0])).await?;
        for line in build {
            b.press("button", line).await?;
        }
        b.press("button", "Start the cure").await?;
        b.sees("put in cure").await?;
    }
    b.press("link", "Take out HG1-1").await?;
    b.enter("Rinsed and patted dry, it weighs", "5.05 kg")
        .await?;
    // All of it in one day: each step that comes too early is asked about, and kept.
    b.sees("would leave its cure too early").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("HG1-1 out of cure: 5.05 kg").await?;
    b.press("link", "Smoke").await?;
    b.press("button", "Only weigh afterwards").await?;
    b.sees("60 °C inside").await?;
    b.fill("Warmest inside", "142 F").await?;
    b.enter("Smoked and cooled, it weighs", "4.6 kg").await?;
    b.sees("Nothing waits for the smoker").await?;

    b.press("link", "Cure").await?;
    b.press("link", "Take out HG1-2").await?;
    b.enter("Rinsed and patted dry, it weighs", "3 kg").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("HG1-2 out of cure: 3 kg").await?;
    b.press("link", "Hang").await?;
    b.fill("Casing, net, clips and hook", "40 g").await?;
    b.enter("With everything on it, it weighs", "3.04 kg")
        .await?;
    b.sees("1.99 kg").await?;
    b.enter("On the scale, net and all", "2.5 kg").await?;
    b.sees("would have lost 18 % after 0 days").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("weighed in: 2.5 kg on the scale").await?;
    b.fill("On the scale, net and all", "2.0 kg").await?;
    b.press("button", "Weighed and taken down").await?;
    b.sees("would have lost 35 % after 0 days").await?;
    b.fill("On the scale, net and all", "2.05 kg").await?;
    b.press("button", "Weighed and taken down").await?;
    b.sees("has lost 33 % of 35 %").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("The hooks are empty").await?;

    b.press("link", "Pack").await?;
    b.enter("Pack 1 weighs", "2.2 kg").await?;
    b.fill("Pack 2 weighs", "2.2 kg").await?;
    b.fill("Ends and crumbs kept", "120 g").await?;
    b.press("button", "Write down 2 packs").await?;
    b.sees("HG1-1 is packed.").await?;
    b.fill("Pack 1 weighs", "2.01 kg").await?;
    b.press("button", "Pack it").await?;
    b.sees("Nothing waits to be packed").await?;

    b.press("link", "Tally").await?;
    b.press("link", "HG1").await?;
    b.sees("Where half hog went").await?;
    b.sees("6.41 kg").await?;
    b.sees("packed streaky slab bacon 4.4 kg").await?;
    b.sees("$ 18.72").await?;
    b.close().await
}

#[tokio::test]
async fn the_weigh_loop_on_a_phone_goes_from_piece_to_piece() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, PHONE).await?;
    b.goto("/hang").await?;
    b.sees("EK1-2").await?;
    b.enter("On the scale, net and all", "1.72 kg").await?;
    b.sees("EK1-2 weighed in: 1.72 kg on the scale").await?;
    // what needs hands most comes first: the other piece, which is done
    b.sees("EK1-3 dried whole muscle in a casing").await?;
    // the field is ready for the next piece
    let focused = b
        .run(
            "return document.activeElement.labels?.[0]?.textContent",
            vec![],
        )
        .await?;
    assert_eq!(focused, "On the scale, net and all");
    let b2 = b.run("return document.activeElement.value", vec![]).await?;
    assert_eq!(b2, "");
    b.press("button", "Undo").await?;
    b.sees("undone: EK1-2 weighed in").await?;
    b.key(Key::Tab.value().to_string()).await?;
    for view in VIEWS {
        b.goto(view).await?;
        let width = b
            .run("return document.documentElement.scrollWidth", vec![])
            .await?;
        assert!(
            width.as_u64().unwrap_or(999) <= 390,
            "{view} is {width} wide on a phone"
        );
    }
    b.close().await
}

#[tokio::test]
async fn a_refused_entry_says_what_to_type_and_loses_nothing() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, DESK).await?;
    b.goto("/breakdown/{GT1}").await?;
    b.choose("Cut", "hind leg").await?;
    b.fill("Weight", "52 kg").await?;
    b.enter("Thickest place", "90").await?;
    b.sees("52 kg is more than the 11.1 kg still to weigh.")
        .await?;
    let kept = b.run("return [...document.querySelectorAll('form input:not([type=checkbox])')].map((i) => i.value).filter(Boolean).join()", vec![]).await?;
    assert_eq!(kept, "52 kg,90");
    b.fill("Weight", "two kilos").await?;
    b.sees("“two” is not a unit of weight. Type 2010, 2.01 kg or 4 lb 7 oz.")
        .await?;
    b.fill("Weight", "5.2 kg").await?;
    b.enter("Thickest place", "9").await?;
    b.sees("Did you mean 90 mm?").await?;
    b.press("button", "Keep it as typed").await?;
    b.sees("5.9 kg still to weigh").await?;
    b.press("button", "Undo").await?;
    b.sees("11.1 kg still to weigh").await?;
    b.close().await
}

#[tokio::test]
async fn a_correction_keeps_both_in_the_history() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, DESK).await?;
    b.goto("/pieces/{EK1-1}").await?;
    b.press("button", "Correct EK1-1 weighed out").await?;
    b.fill("Weight", "2.36 kg").await?;
    b.press("button", "Put it right").await?;
    b.sees("green 2.36 kg").await?;
    b.sees("corrected").await?;
    b.sees("replaced").await?;
    b.sees("worked out anew after a correction").await?;
    b.press("button", "Undo EK1-1 put in cure").await?;
    b.sees("Later entries depend on this one. Undo or correct them first.")
        .await?;
    b.close().await
}

#[tokio::test]
async fn what_was_done_yesterday_is_written_down_for_yesterday() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, DESK).await?;
    b.goto("/hang?piece={EK1-2}").await?;
    b.sees("Weigh in").await?;
    b.press("button", "Not just now?").await?;
    b.fill("When it happened", "11202026\u{e004}0615PM").await?;
    b.enter("On the scale, net and all", "1.72 kg").await?;
    b.sees("EK1-2 weighed in: 1.72 kg").await?;
    b.goto("/pieces/{EK1-2}").await?;
    b.sees("Nov 20, 18:15").await?;
    b.close().await
}

#[tokio::test]
async fn a_dosed_piece_is_cut_and_each_part_keeps_its_share() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, DESK).await?;
    b.goto("/cure").await?;
    b.press("link", "Piece HG1-2").await?;
    b.sees("4.105 kg").await?;
    b.press("button", "Cut it into parts").await?;
    b.fill("Part 1 weighs", "2.2 kg").await?;
    b.fill("Part 2 weighs", "1.9 kg").await?;
    b.press("button", "Make the cuts").await?;
    b.sees("cut into").await?;
    b.press("link", "Piece HG1-2a").await?;
    b.sees("Piece HG1-2a").await?;
    // 2.2 of 4.1 kg: so much of the 14.1 g of cure that was weighed out
    b.sees("cure #1 7.57 g").await?;
    b.sees("130").await?;
    b.close().await
}

#[tokio::test]
async fn what_happens_on_one_device_shows_on_the_other() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, DESK).await?;
    let other = open(&server, PHONE).await?;
    other.goto("/").await?;
    other.sees("All 4 turned").await?;
    b.goto("/").await?;
    // All but one: a tap on its tag leaves it out.
    b.press("button", "HG1-2").await?;
    b.press("button", "3 of 4 turned").await?;
    b.sees("Undo EK1-4").await?;
    other.gone("All 4 turned").await?;
    b.press("button", "Undo EK1-4").await?;
    other.sees("All 2 turned").await?;
    other.close().await?;
    b.close().await
}

#[tokio::test]
async fn both_themes_and_other_units_hold_on_every_page() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, DESK).await?;
    b.goto("/settings").await?;
    for (choice, theme) in [("dark, for a dim garage", "dark"), ("light", "light")] {
        b.press("radio", choice).await?;
        b.press("button", "Settle on this").await?;
        b.sees("Settled.").await?;
        b.goto("/settings").await?;
        let now = b
            .run("return document.documentElement.dataset.theme", vec![])
            .await?;
        assert_eq!(now, json!(theme));
    }
    b.press("radio", "lb and oz").await?;
    b.press("radio", "inches").await?;
    b.press("radio", "°F").await?;
    b.fill("Day cut-off hour", "31").await?;
    b.press("button", "Settle on this").await?;
    b.sees("Give a full hour from 0 to 23, such as 12 for noon.")
        .await?;
    b.fill("Day cut-off hour", "13").await?;
    b.press("button", "Settle on this").await?;
    b.sees("Settled.").await?;
    b.goto("/smoke").await?;
    b.sees("160 °F").await?;
    b.goto("/breakdown/{GT1}").await?;
    b.sees("24 lb 7.5 oz still to weigh").await?;
    b.close().await
}

#[tokio::test]
async fn no_view_has_an_accessibility_violation() -> Result<()> {
    let axe = std::fs::read_to_string(project().join("web/node_modules/axe-core/axe.min.js"))?;
    let demo = Server::start(true)?;
    let empty = Server::start(false)?;
    for (server, views) in [
        (&demo, &VIEWS[..]),
        (
            &empty,
            &[
                "/",
                "/receive",
                "/breakdown",
                "/assign",
                "/assign/grind",
                "/assign/shopping",
                "/pantry",
                "/away",
                "/cold",
                "/settings",
                "/cure",
                "/smoke",
                "/hang",
                "/pack",
                "/tally",
            ][..],
        ),
    ] {
        let b = open(server, DESK).await?;
        for theme in ["light", "dark"] {
            b.prefer(theme).await?;
            for view in views {
                b.goto(view).await?;
                let found = b.violations(&axe).await?;
                assert!(found.is_empty(), "{theme} {view}:\n{}", found.join("\n"));
            }
        }
        b.resize(PHONE.0, PHONE.1).await?;
        for view in [
            "/", "/receive", "/assign", "/cure", "/hang", "/cold", "/away",
        ] {
            b.goto(view).await?;
            let found = b.violations(&axe).await?;
            assert!(found.is_empty(), "phone {view}:\n{}", found.join("\n"));
        }
        b.close().await?;
    }
    Ok(())
}
