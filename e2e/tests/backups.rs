//! A backup taken, a ledger damaged, the banner, and the way out, in the real browser.

use anyhow::{Context, Result};
use manifest_e2e::server::{NOW, project};
use manifest_e2e::{DESK, PHONE, Server, open};
use serde_json::json;
use std::time::Duration;
use tempfile::TempDir;

#[tokio::test]
async fn a_damaged_ledger_says_so_and_a_backup_puts_it_right() -> Result<()> {
    let server = Server::start(true)?;
    let b = open(&server, DESK).await?;
    b.goto("/settings").await?;
    b.sees("There is none yet.").await?;
    b.press("button", "Take one now").await?;
    b.sees("by hand").await?;
    b.sees("The last one was taken").await?;
    let axe = std::fs::read_to_string(project().join("web/node_modules/axe-core/axe.min.js"))?;
    assert_eq!(b.violations(&axe).await?, Vec::<String>::new());
    // What was written since would be lost, and is named.
    let piece = server.number("GT1-1")?;
    server.did(&json!([{"act": "noted", "piece": piece, "text": "written after the backup"}]))?;
    b.press("button", "Restore").await?;
    b.sees("1 entry of today’s ledger would be gone").await?;
    b.sees("written after the backup").await?;
    b.press("button", "Leave it").await?;
    b.close().await?;

    // A letter of an old entry changes on the disk, once everything was gathered there.
    let log = server.data.path().join("household.db-wal");
    for _ in 0..200 {
        if std::fs::metadata(&log)?.len() == 0 {
            break;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    let data = server.killed()?;
    let path = data.path().join("household.db");
    let mut bytes = std::fs::read(&path)?;
    let text = b"lay in the cold store";
    let at = bytes
        .windows(text.len())
        .position(|w| w == text)
        .context("the reason")?;
    bytes[at] = b'b';
    std::fs::write(&path, bytes)?;
    let server = Server::start_at(data, false, None)?;
    let b = open(&server, PHONE).await?;
    b.goto("/hang").await?;
    b.sees("is not what was written").await?;
    b.sees("nothing more is written here").await?;
    // Reading goes on; what is typed is kept, and says why it is not written.
    b.enter("On the scale, net and all", "1.79 kg").await?;
    b.sees("Nothing was written").await?;
    assert_eq!(b.violations(&axe).await?, Vec::<String>::new());
    b.press("link", "Backups").await?;
    b.press("button", "Restore").await?;
    b.sees("It holds 217 entries").await?;
    b.press("button", "Put it in the ledger’s place").await?;
    b.sees("Restored: 217 entries.").await?;
    // The weight that waited is written now, by itself and once.
    b.sees("EK1-2 weighed in: 1.79 kg").await?;
    b.goto("/hang?piece={EK1-2}").await?;
    b.sees("showed 1.79 kg").await?;
    let text = b.text().await?;
    assert!(
        !text.contains("is not what was written") && !text.contains("= 1.79 kg"),
        "{text}"
    );
    b.close().await
}

#[tokio::test]
async fn a_clock_that_ran_ahead_is_put_right_in_the_settings_and_what_was_typed_is_written()
-> Result<()> {
    let ahead = Server::start_when(Some("2026-11-24T08:00:00Z"), TempDir::new()?, false, None)?;
    let received = json!({"acts": [{
        "act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "38.6 kg",
    }]});
    ureq::post(format!("{}/api/v1/entries", ahead.address)).send_json(&received)?;
    let server = Server::start_at(ahead.killed()?, false, None)?;
    let b = open(&server, PHONE).await?;
    b.goto("/breakdown/1").await?;
    b.sees("1 entry is dated 2026-11-24 08:00").await?;
    b.choose("Cut", "belly").await?;
    b.enter("Weight", "5.2 kg").await?;
    b.sees("The clock is wrong").await?;
    let axe = std::fs::read_to_string(project().join("web/node_modules/axe-core/axe.min.js"))?;
    b.press("link", "The clock").await?;
    b.sees("Was it wrong then?").await?;
    assert_eq!(b.violations(&axe).await?, Vec::<String>::new());
    b.press("button", "Put its time right").await?;
    b.sees("HG1-1 weighed out: 5.2 kg").await?;
    let text = b.text().await?;
    assert!(!text.contains("is dated"), "{text}");
    let animal = server.says("/lots/1")?.to_string();
    assert!(animal.contains(NOW), "{animal}");
    b.close().await
}
