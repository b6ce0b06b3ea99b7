//! Screenshots of the main views from the demo data: `shots DIR [FILTER]`, or of any address at
//! the desk and on the phone: `shots DIR /pieces/2`.

use anyhow::{Context, Result};
use manifest_e2e::{Browser, Server};
use std::path::PathBuf;

/// Name, address, width, height and theme.
const SHOTS: &[(&str, &str, u32, u32, &str)] = &[
    ("today", "/", 1280, 800, "light"),
    ("today-phone", "/", 390, 844, "light"),
    ("cold", "/cold", 1280, 800, "light"),
    (
        "away",
        "/away?from=2026-11-23&to=2026-11-27",
        1280,
        800,
        "light",
    ),
    ("receive", "/receive", 1280, 800, "light"),
    ("breakdown", "/breakdown/{GT1}", 1280, 800, "light"),
    ("assign", "/assign", 1280, 800, "light"),
    ("cutsheet", "/cutsheet/{GT1}", 1280, 800, "light"),
    ("cure", "/cure", 1280, 800, "light"),
    ("smoke", "/smoke", 1280, 800, "light"),
    ("hang", "/hang", 1280, 800, "light"),
    ("pack", "/pack", 1280, 800, "light"),
    ("tally", "/tally", 1280, 800, "light"),
    ("piece", "/pieces/{EK1-2}", 1280, 800, "light"),
    ("library", "/library/muscle-cased", 1280, 800, "light"),
    ("settings", "/settings", 1280, 800, "light"),
    ("assign-phone", "/assign", 390, 844, "light"),
    ("cure-phone", "/cure", 390, 844, "light"),
    ("hang-phone-dark", "/hang", 390, 844, "dark"),
];

/// What a person does before the picture is worth taking: a button to press, and words to wait for.
const FIRST: &[(&str, &str, &str)] = &[
    ("assign", "Suggest", "The suggestion"),
    ("assign-phone", "Suggest", "The suggestion"),
];

#[tokio::main]
async fn main() -> Result<()> {
    let mut args = std::env::args().skip(1);
    let dir = PathBuf::from(args.next().context("usage: shots DIR [FILTER]")?);
    let filter = args.next().unwrap_or_default();
    std::fs::create_dir_all(&dir)?;
    let server = Server::start(true)?;
    let browser = Browser::open(&server.address, 1280, 800).await?;
    if filter.starts_with('/') {
        let name = filter.replace(['/', '?', '='], "-");
        for (suffix, width, height, theme) in
            [("", 1280, 1000, "light"), ("-phone", 390, 1400, "dark")]
        {
            browser.resize(width, height).await?;
            browser.prefer(theme).await?;
            browser.goto(&filter).await?;
            browser.settled().await?;
            browser
                .shoot(&dir.join(format!("shot{name}{suffix}.png")))
                .await?;
        }
        return browser.close().await;
    }
    for (name, path, width, height, theme) in SHOTS {
        if !name.contains(&filter) {
            continue;
        }
        browser.resize(*width, *height).await?;
        browser.prefer(theme).await?;
        browser.goto(path).await?;
        browser.settled().await?;
        if let Some((_, button, words)) = FIRST.iter().find(|(of, _, _)| of == name) {
            browser.press("button", button).await?;
            browser.sees(words).await?;
            browser.run("window.scrollTo(0, 0)", vec![]).await?;
        }
        browser.shoot(&dir.join(format!("{name}.png"))).await?;
        println!("{name}.png");
    }
    browser.close().await
}
