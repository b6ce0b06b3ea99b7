//! The program under test, on a data folder and a port of its own.

use anyhow::{Context, Result, bail};
use serde_json::{Value, json};
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
    /// The most memory that the program held so far (kB), where the system says so.
    #[must_use]
    pub fn peak_memory_kb(&self) -> Option<u64> {
        let status = std::fs::read_to_string(format!("/proc/{}/status", self.child.id())).ok()?;
        let line = status.lines().find(|l| l.starts_with("VmHWM:"))?;
        line.split_whitespace().nth(1)?.parse().ok()
    }

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
        Self::start_when(Some(NOW), data, demo, profile)
    }

    /// Starts the program on a folder, with its clock running.
    ///
    /// # Errors
    /// When it does not come up.
    pub fn start_running(data: TempDir) -> Result<Self> {
        Self::start_when(None, data, false, None)
    }

    /// The same, as built for a profile.
    ///
    /// # Errors
    /// When it does not come up.
    pub fn start_running_as(data: TempDir, profile: Option<&str>) -> Result<Self> {
        Self::start_when(None, data, false, profile)
    }

    /// Starts the program on a household for practice whose clock stands at a moment.
    ///
    /// # Errors
    /// When it does not come up.
    pub fn start_practice(now: &str) -> Result<Self> {
        Self::start_as(Some(now), TempDir::new()?, &["--practice"], None)
    }

    /// The same with the clock at another moment, or running.
    ///
    /// # Errors
    /// When it does not come up.
    pub fn start_when(
        now: Option<&str>,
        data: TempDir,
        demo: bool,
        profile: Option<&str>,
    ) -> Result<Self> {
        let more: &[&str] = if demo { &["--demo"] } else { &[] };
        Self::start_as(now, data, more, profile)
    }

    fn start_as(
        now: Option<&str>,
        data: TempDir,
        more: &[&str],
        profile: Option<&str>,
    ) -> Result<Self> {
        let mut command = Command::new(program(profile)?);
        command
            .arg("serve")
            .arg("--data")
            .arg(data.path())
            .args(["--listen", "127.0.0.1:0"])
            .stdout(Stdio::piped());
        if let Some(now) = now {
            command.args(["--now", now]);
        }
        command.args(more);
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

    /// The number of its process.
    #[must_use]
    pub fn pid(&self) -> u32 {
        self.child.id()
    }

    /// Kills the program without any warning; its folder stays.
    ///
    /// # Errors
    /// When it cannot be killed.
    pub fn killed(mut self) -> Result<TempDir> {
        self.child.kill()?;
        self.child.wait()?;
        Ok(std::mem::replace(&mut self.data, TempDir::new()?))
    }

    /// Kills the program without any warning and starts it again on the same folder.
    ///
    /// # Errors
    /// When it does not come up again.
    pub fn killed_and_started_again(self, profile: Option<&str>) -> Result<Self> {
        Self::start_at(self.killed()?, false, profile)
    }

    /// The same, at another moment.
    ///
    /// # Errors
    /// When it does not come up again.
    pub fn killed_and_started_on(self, now: &str, profile: Option<&str>) -> Result<Self> {
        Self::start_when(Some(now), self.killed()?, false, profile)
    }
}

impl Server {
    /// Writes acts down as any program could; gives what was written.
    ///
    /// # Errors
    /// When it is refused.
    pub fn did(&self, acts: &Value) -> Result<Value> {
        self.did_at(NOW, acts)
    }

    /// Writes acts down as done at this moment.
    ///
    /// # Errors
    /// When it is refused.
    pub fn did_at(&self, at: &str, acts: &Value) -> Result<Value> {
        let ask = json!({"acts": acts, "happened_at": at, "keep_as_typed": true});
        let mut answer = ureq::post(format!("{}/api/v1/entries", self.address))
            .send_json(&ask)
            .with_context(|| acts.to_string())?;
        Ok(answer.body_mut().read_json()?)
    }

    /// Puts something in place.
    ///
    /// # Errors
    /// When it is refused.
    pub fn puts(&self, path: &str, body: &Value) -> Result<Value> {
        let mut answer = ureq::put(format!("{}/api/v1{path}", self.address))
            .send_json(body)
            .with_context(|| body.to_string())?;
        Ok(answer.body_mut().read_json()?)
    }

    /// What an address of the API says.
    ///
    /// # Errors
    /// When it says nothing that can be read.
    pub fn says(&self, path: &str) -> Result<Value> {
        says(&self.address, path)
    }

    /// The number of a piece or lot with this tag.
    ///
    /// # Errors
    /// When nothing bears it.
    pub fn number(&self, tag: &str) -> Result<i64> {
        number(&self.address, tag)
    }
}

fn says(address: &str, path: &str) -> Result<Value> {
    let mut answer = ureq::get(format!("{address}/api/v1{path}")).call()?;
    Ok(answer.body_mut().read_json()?)
}

/// The number behind a tag, by the program at an address: `HG1` a lot, `HG1-4` a piece.
///
/// # Errors
/// When nothing bears it.
pub fn number(address: &str, tag: &str) -> Result<i64> {
    let lot_tag = tag.split('-').next().unwrap_or(tag);
    let lots = says(address, "/lots")?;
    let named = |list: &Value, tag: &str| {
        let found = list.as_array()?.iter().find(|one| one["tag"] == tag)?;
        found["id"].as_i64()
    };
    let lot = named(&lots, lot_tag).with_context(|| format!("no lot {lot_tag}"))?;
    if tag == lot_tag {
        return Ok(lot);
    }
    let pieces = says(address, &format!("/lots/{lot}"))?["pieces"].take();
    named(&pieces, tag).with_context(|| format!("no piece {tag}"))
}

/// An address with tags in braces, such as `/pieces/{HG1-4}`, with their numbers in their place.
///
/// # Errors
/// When nothing bears a tag.
pub fn with_numbers(address: &str, path: &str) -> Result<String> {
    let mut whole = String::new();
    let mut rest = path;
    while let Some((before, after)) = rest.split_once('{') {
        let (tag, behind) = after.split_once('}').context("a tag in braces")?;
        whole.push_str(before);
        whole.push_str(&number(address, tag)?.to_string());
        rest = behind;
    }
    whole.push_str(rest);
    Ok(whole)
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}
