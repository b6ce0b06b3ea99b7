//! The project's commands. `cargo xtask help` lists them.

use anyhow::{Context, Result, bail};
use std::path::{Path, PathBuf};
use std::process::Command;

const HELP: &str = "cargo xtask COMMAND

  demo    build everything and serve a fresh demo household
  check   format, clippy, the core's and the store's tests, the front end's types and style
  test    install what the tests need, check, build, and run every test
  shots   take the screenshots in docs/screenshots from the demo household
  bench   measure the core, the ledger and the server; `bench core`, `doses`, `ledger`, `today`, `runs`, `hang`, `recipe` or `crowd` that part alone
  types   write the API description and the front end's types anew
";

fn main() -> Result<()> {
    let command = std::env::args().nth(1).unwrap_or_default();
    match command.as_str() {
        "demo" => demo(),
        "check" => check(),
        "test" => test(),
        "shots" => shots(),
        "bench" => bench(),
        "types" => types(),
        "" | "help" | "--help" => {
            print!("{HELP}");
            Ok(())
        }
        other => bail!("no command “{other}”\n\n{HELP}"),
    }
}

/// Builds the front end and the program and serves a demo household made anew.
fn demo() -> Result<()> {
    build_front_end()?;
    cargo(&["build", "--profile", "demo", "-p", "manifest-server"])?;
    let data = project().join("target").join("demo-household");
    if data.exists() {
        std::fs::remove_dir_all(&data).context("clearing the last demo")?;
    }
    run(Command::new(project().join("target/demo/build-manifest"))
        .arg("serve")
        .arg("--data")
        .arg(&data)
        .args(["--listen", "127.0.0.1:8470", "--demo"]))
}

/// What is worth knowing between two edits, in under a minute once it is warm.
fn check() -> Result<()> {
    install_front_end()?;
    lint()?;
    cargo(&["test", "-q", "-p", "manifest-core", "-p", "manifest-store"])
}

fn lint() -> Result<()> {
    npm(&["run", "check"])?;
    cargo(&["fmt", "--all", "--check"])?;
    cargo(&[
        "clippy",
        "--workspace",
        "--all-targets",
        "--",
        "-D",
        "warnings",
    ])
}

/// Everything that must hold before something lands.
fn test() -> Result<()> {
    install_browser()?;
    build_front_end()?;
    lint()?;
    // The browser tests start the program as it is built here.
    cargo(&["build", "-p", "manifest-server"])?;
    cargo(&["test", "--workspace"])
}

fn shots() -> Result<()> {
    install_browser()?;
    build_front_end()?;
    cargo(&["build", "-p", "manifest-server"])?;
    let dir = project().join("docs/screenshots");
    let dir = dir.to_str().context("a folder whose name can be read")?;
    cargo(&["run", "-p", "manifest-e2e", "--bin", "shots", "--", dir])
}

fn bench() -> Result<()> {
    build_front_end()?;
    cargo(&["build", "--release", "-p", "manifest-server"])?;
    // Which part of it, when not all.
    let only = std::env::args().nth(2);
    let mut words = vec!["run", "--release", "-p", "manifest-e2e", "--bin", "bench"];
    if let Some(part) = &only {
        words.extend(["--", part]);
    }
    cargo(&words)
}

fn types() -> Result<()> {
    for (what, file) in [("openapi", "openapi.json"), ("words", "words.json")] {
        let out = Command::new("cargo")
            .current_dir(project())
            .args(["run", "--quiet", "-p", "manifest-server", "--", what])
            .output()
            .context("cargo")?;
        if !out.status.success() {
            bail!("{}", String::from_utf8_lossy(&out.stderr));
        }
        std::fs::write(project().join("web/src/api").join(file), out.stdout)?;
    }
    npm(&["run", "types"])
}

fn build_front_end() -> Result<()> {
    install_front_end()?;
    npm(&["run", "build"])
}

/// The front end's libraries, where its lockfile is newer than what was installed from it.
fn install_front_end() -> Result<()> {
    let modules = project().join("web/node_modules");
    if modified(&modules.join(".package-lock.json"))
        < modified(&project().join("web/package-lock.json"))
    {
        npm(&["ci", "--no-audit", "--no-fund"])?;
    }
    Ok(())
}

fn modified(path: &Path) -> Option<std::time::SystemTime> {
    path.metadata().and_then(|m| m.modified()).ok()
}

/// Chromium and its driver, from Debian's packages, where they are missing and may be installed.
fn install_browser() -> Result<()> {
    let there = |program: &str| {
        let found = Command::new(program).arg("--version").output();
        found.is_ok_and(|o| o.status.success())
    };
    if there("chromium") && there("chromedriver") {
        return Ok(());
    }
    println!("Installing Debian's chromium and chromium-driver for the browser tests.");
    let root = Command::new("id")
        .arg("-u")
        .output()
        .is_ok_and(|o| o.stdout.starts_with(b"0\n"));
    if !root {
        bail!("install Debian's packages chromium and chromium-driver, then run this again");
    }
    run(Command::new("apt-get").args(["update", "-q"]))?;
    run(Command::new("apt-get")
        .env("DEBIAN_FRONTEND", "noninteractive")
        .args([
            "install",
            "-y",
            "-q",
            "--no-install-recommends",
            "chromium",
            "chromium-driver",
        ]))
}

fn cargo(args: &[&str]) -> Result<()> {
    run(Command::new("cargo").current_dir(project()).args(args))
}

fn npm(args: &[&str]) -> Result<()> {
    run(Command::new("npm")
        .current_dir(project().join("web"))
        .args(args))
}

fn run(command: &mut Command) -> Result<()> {
    let status = command
        .status()
        .with_context(|| format!("starting {command:?}"))?;
    if !status.success() {
        bail!("{command:?} ended with {status}");
    }
    Ok(())
}

fn project() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR"))
        .parent()
        .expect("this command lives one folder below the project")
        .to_path_buf()
}
