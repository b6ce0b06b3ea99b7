//! The program under test, on a data folder and a port of its own.

use anyhow::{Context, Result, bail};
use std::io::{BufRead, BufReader};
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use tempfile::TempDir;

/// The moment at which tests and screenshots stand.
pub const NOW: &str = "2026-11-21T09:30:00Z";

/// A running program; stopped when dropped.
pub struct Server {
    child: Child,
    /// Where it answers, without a slash at the end.
    pub address: String,
    /// Its data, kept as long as the server.
    pub data: TempDir,
}

/// The folder of the whole project.
#[must_use]
pub fn project() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR"))
        .parent()
        .expect("the tests live one folder below the project")
        .to_path_buf()
}

/// The program as built for this profile, or for the one named.
///
/// # Errors
/// When it was not built.
pub fn program(profile: Option<&str>) -> Result<PathBuf> {
    // Tests and commands live in target/PROFILE or a folder below it.
    let own = std::env::current_exe()?;
    let built = own
        .ancestors()
        .find(|p| {
            p.file_name()
                .is_some_and(|n| n == "debug" || n == "release")
        })
        .context("this runs from a target folder")?;
    let folder = match profile {
        Some(name) => built.parent().context("a target folder")?.join(name),
        None => built.to_path_buf(),
    };
    let program = folder.join("build-manifest");
    if !program.exists() {
        bail!(
            "{} is not built; run `cargo build -p manifest-server` first",
            program.display()
        );
    }
    Ok(program)
}

impl Server {
    /// Starts the program on an empty folder, or on the demo household.
    ///
    /// # Errors
    /// When it does not come up.
    pub fn start(demo: bool) -> Result<Self> {
        Self::start_at(TempDir::new()?, demo, None)
    }

    /// Starts the program on a folder, as built for a profile.
    ///
    /// # Errors
    /// When it does not come up.
    pub fn start_at(data: TempDir, demo: bool, profile: Option<&str>) -> Result<Self> {
        let mut command = Command::new(program(profile)?);
        command
            .arg("serve")
            .arg("--data")
            .arg(data.path())
            .args(["--listen", "127.0.0.1:0", "--now", NOW])
            .stdout(Stdio::piped());
        if demo {
            command.arg("--demo");
        }
        let mut child = command.spawn().context("starting the program")?;
        let mut line = String::new();
        BufReader::new(child.stdout.take().context("its output")?).read_line(&mut line)?;
        let Some(address) = line.split_whitespace().find(|w| w.starts_with("http://")) else {
            let _ = child.kill();
            bail!("the program did not say where it answers: {line:?}");
        };
        Ok(Self {
            child,
            address: address.into(),
            data,
        })
    }

    /// Kills the program without any warning and starts it again on the same folder.
    ///
    /// # Errors
    /// When it does not come up again.
    pub fn killed_and_started_again(mut self, profile: Option<&str>) -> Result<Self> {
        self.child.kill()?;
        self.child.wait()?;
        let empty = TempDir::new()?;
        let data = std::mem::replace(&mut self.data, empty);
        Self::start_at(data, false, profile)
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}
