//! The generated TypeScript types are those of the committed API description.

use anyhow::{Context, Result};
use manifest_e2e::server::project;
use std::process::Command;

#[test]
fn the_types_of_the_front_end_are_not_stale() -> Result<()> {
    let web = project().join("web");
    let dir = tempfile::TempDir::new()?;
    let fresh = dir.path().join("schema.d.ts");
    let done = Command::new(web.join("node_modules/.bin/openapi-typescript"))
        .current_dir(&web)
        .arg("src/api/openapi.json")
        .arg("-o")
        .arg(&fresh)
        .output()
        .context("openapi-typescript; run `npm ci` in web/ first")?;
    assert!(
        done.status.success(),
        "{}",
        String::from_utf8_lossy(&done.stderr)
    );
    let committed = std::fs::read_to_string(web.join("src/api/schema.d.ts"))?;
    assert!(
        committed == std::fs::read_to_string(&fresh)?,
        "run `cargo xtask types` to write web/src/api/schema.d.ts anew"
    );
    Ok(())
}
