//! Headless Chromium through its driver, with words for what a person does.

use crate::server::with_numbers;
use anyhow::{Context, Result, bail};
use serde_json::{Value, json};
use std::future::Future;
use std::io::{BufRead, BufReader};
use std::mem::ManuallyDrop;
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};
use tempfile::TempDir;
use thirtyfour::prelude::*;

/// How long anything may take to appear before a test fails.
const PATIENCE: Duration = Duration::from_secs(12);

/// A browser window; closed with everything it started when dropped.
pub struct Browser {
    /// The driver, for what has no word here.
    pub driver: ManuallyDrop<WebDriver>,
    base: String,
    chromedriver: Child,
    _profile: TempDir,
}

/// What a person tells controls apart by: their role and the name they carry.
const FIND: &str = r"
const [role, name, form] = arguments;
const roles = {
  button: 'button, [role=button], summary', link: 'a[href]', field: 'input, select, textarea',
  radio: '[role=radio]', tab: '[role=tab]', checkbox: '[role=checkbox]', heading: 'h1, h2, h3', any: '*',
};
const text = (el) => {
  const by = el.getAttribute('aria-labelledby');
  if (el.getAttribute('aria-label')) return el.getAttribute('aria-label');
  if (by) return by.split(' ').map((id) => document.getElementById(id)?.textContent ?? '').join(' ');
  if (el.labels?.length) return [...el.labels].map((l) => l.textContent).join(' ');
  return el.textContent;
};
const clean = (s) => (s ?? '').replace(/\s+/g, ' ').trim();
const seen = (el) => el.getClientRects().length > 0 && el.checkVisibility();
const within = form === null ? document
  : [...document.querySelectorAll('form')].find((el) => el.getAttribute('aria-label') === form);
if (!within) return null;
const found = [...within.querySelectorAll(roles[role])].filter(seen)
  .filter((el) => clean(text(el)).startsWith(name));
return found[0] ?? null;
";

/// How often the driver is started anew: it takes a free port of one address family and gives up
/// when a neighbour holds the same port of the other.
const STARTS: usize = 4;

/// Starts the driver on a free port and hears which.
fn start_driver() -> Result<(Child, u16)> {
    for _ in 0..STARTS {
        let mut driver = Command::new("chromedriver")
            .arg("--port=0")
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .context("starting chromedriver; install Debian's chromium-driver")?;
        let out = BufReader::new(driver.stdout.take().context("its output")?);
        let port = out
            .lines()
            .map_while(Result::ok)
            .filter(|l| l.contains("successfully"))
            .find_map(|l| {
                l.split("on port ")
                    .nth(1)?
                    .trim_end_matches('.')
                    .parse::<u16>()
                    .ok()
            });
        match port {
            Some(port) => return Ok((driver, port)),
            // Its output has ended without a port: it is gone or going.
            None => {
                driver.kill().ok();
                driver.wait()?;
            }
        }
    }
    bail!("chromedriver did not say its port in {STARTS} starts")
}

impl Browser {
    /// Opens a window of this size on a server.
    ///
    /// # Errors
    /// When Chromium or its driver cannot be started.
    pub async fn open(base: &str, width: u32, height: u32) -> Result<Self> {
        let (chromedriver, port) = start_driver()?;
        let profile = TempDir::new()?;
        let mut caps = DesiredCapabilities::chrome();
        for arg in [
            "--headless=new",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--force-color-profile=srgb",
            "--hide-scrollbars",
            "--lang=en",
        ] {
            caps.add_arg(arg)?;
        }
        caps.add_arg(&format!("--user-data-dir={}", profile.path().display()))?;
        caps.add_arg(&format!("--window-size={width},{height}"))?;
        let driver = WebDriver::new(format!("http://127.0.0.1:{port}"), caps).await?;
        let browser = Self {
            driver: ManuallyDrop::new(driver),
            base: base.into(),
            chromedriver,
            _profile: profile,
        };
        browser.resize(width, height).await?;
        Ok(browser)
    }

    /// Gives the window another size, a phone's touch and density included when it is narrow.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn resize(&self, width: u32, height: u32) -> Result<()> {
        let metrics = json!({"width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 600});
        self.driver
            .cdp()
            .send_raw("Emulation.setDeviceMetricsOverride", metrics)
            .await?;
        Ok(())
    }

    /// Light or dark as the device would say it.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn prefer(&self, scheme: &str) -> Result<()> {
        let features = json!({"features": [{"name": "prefers-color-scheme", "value": scheme}]});
        self.driver
            .cdp()
            .send_raw("Emulation.setEmulatedMedia", features)
            .await?;
        Ok(())
    }

    /// Shows the page as it would be printed.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn as_printed(&self) -> Result<()> {
        self.driver
            .cdp()
            .send_raw("Emulation.setEmulatedMedia", json!({"media": "print"}))
            .await?;
        Ok(())
    }

    /// Everything the page shows, in one line.
    ///
    /// # Errors
    /// When the page is gone.
    pub async fn text(&self) -> Result<String> {
        let script = "return document.body.innerText.replace(/\\s+/g, ' ')";
        let text = self.run(script, vec![]).await?;
        Ok(text.as_str().unwrap_or_default().to_string())
    }

    /// Goes to a view and waits until it is there.
    ///
    /// # Errors
    /// When nothing comes.
    pub async fn goto(&self, path: &str) -> Result<()> {
        let path = with_numbers(&self.base, path)?;
        self.driver.goto(format!("{}{path}", self.base)).await?;
        self.settled().await
    }

    /// Waits until nothing is being fetched any more.
    ///
    /// # Errors
    /// When it never settles.
    pub async fn settled(&self) -> Result<()> {
        self.wait("the page to settle", || async {
            let script = "return document.readyState === 'complete' && !!document.querySelector('h1') \
                          && !document.body.innerText.includes('Fetching ')";
            Ok(self.run(script, vec![]).await?.as_bool() == Some(true))
        })
        .await
    }

    /// Runs a script in the page.
    ///
    /// # Errors
    /// When the script throws.
    pub async fn run(&self, script: &str, args: Vec<Value>) -> Result<Value> {
        Ok(self.driver.execute(script, args).await?.json().clone())
    }

    /// Runs a script in the page that says by its last argument when it is done.
    ///
    /// # Errors
    /// When the script throws.
    pub async fn run_async(&self, script: &str) -> Result<Value> {
        Ok(self
            .driver
            .execute_async(script, vec![])
            .await?
            .json()
            .clone())
    }

    async fn wait<F: Future<Output = Result<bool>>>(
        &self,
        what: &str,
        mut there: impl FnMut() -> F,
    ) -> Result<()> {
        let start = Instant::now();
        loop {
            match there().await {
                Ok(true) => return Ok(()),
                Err(error) if start.elapsed() > PATIENCE => {
                    return Err(error.context(format!("waiting for {what}")));
                }
                Ok(false) if start.elapsed() > PATIENCE => {
                    let text = self.run("return document.body.innerText", vec![]).await?;
                    bail!(
                        "waited in vain for {what}; the page says:\n{}",
                        text.as_str().unwrap_or_default()
                    );
                }
                _ => tokio::time::sleep(Duration::from_millis(40)).await,
            }
        }
    }

    /// The one form with this name, where several on a page ask for the same.
    #[must_use]
    pub fn form<'a>(&'a self, name: &'a str) -> Form<'a> {
        Form {
            browser: self,
            name: Some(name),
        }
    }

    fn page(&self) -> Form<'_> {
        Form {
            browser: self,
            name: None,
        }
    }

    /// Presses a button, link, radio or checkbox by the beginning of its name, once it can be.
    ///
    /// # Errors
    /// When there is none, or it never becomes possible.
    pub async fn press(&self, role: &str, name: &str) -> Result<()> {
        self.page().press(role, name).await
    }

    /// Types into a field, named by its label, in place of what was there.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn fill(&self, label: &str, text: &str) -> Result<()> {
        self.page().fill(label, text).await
    }

    /// Types into a field and presses Enter in one go, as at the bench.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn enter(&self, label: &str, text: &str) -> Result<()> {
        self.page().enter(label, text).await
    }

    /// Chooses an option of a select by its words.
    ///
    /// # Errors
    /// When there is no such field or option.
    pub async fn choose(&self, label: &str, option: &str) -> Result<()> {
        self.page().choose(label, option).await
    }

    /// Presses a key wherever the focus is.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn key(&self, key: impl Into<String>) -> Result<()> {
        self.driver
            .action_chain()
            .send_keys(key.into())
            .perform()
            .await?;
        Ok(())
    }

    /// Types where the focus is, one key after another, as from a scale or in a hurry.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn types(&self, text: &str) -> Result<()> {
        for key in text.chars() {
            self.key(key.to_string()).await?;
        }
        Ok(())
    }

    /// What stands in the field with the focus.
    ///
    /// # Errors
    /// When the page is gone.
    pub async fn typed(&self) -> Result<String> {
        let script = "return document.activeElement.value ?? ''";
        Ok(self
            .run(script, vec![])
            .await?
            .as_str()
            .unwrap_or_default()
            .into())
    }

    /// Loads the page anew.
    ///
    /// # Errors
    /// When it does not come.
    pub async fn reload(&self) -> Result<()> {
        self.driver.refresh().await?;
        self.settled().await
    }

    /// Cuts this window off the network, or connects it again.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn offline(&self, offline: bool) -> Result<()> {
        let conditions = json!({"offline": offline, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1});
        let cdp = self.driver.cdp();
        cdp.send_raw("Network.enable", json!({})).await?;
        cdp.send_raw("Network.emulateNetworkConditions", conditions)
            .await?;
        Ok(())
    }

    /// Taps twice at the middle of the first control with this name, without looking in between.
    ///
    /// # Errors
    /// When there is none.
    pub async fn taps_twice(&self, role: &str, name: &str) -> Result<()> {
        let args = vec![json!(role), json!(name), Value::Null];
        let element = self.driver.execute(FIND, args).await?.element()?;
        element.scroll_into_view().await?;
        let actions = self.driver.action_chain().move_to_element_center(&element);
        actions.click().click().perform().await?;
        Ok(())
    }

    /// Waits until the page shows these words no more.
    ///
    /// # Errors
    /// When it goes on showing them.
    pub async fn gone(&self, words: &str) -> Result<()> {
        self.wait(&format!("“{words}” to be gone"), || async {
            Ok(!self.text().await?.contains(words))
        })
        .await
    }

    /// Chooses a file for a field, named by its label.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn upload(&self, label: &str, file: &Path) -> Result<()> {
        let field = self.page().find("field", label).await?;
        field.send_keys(file.to_string_lossy()).await?;
        Ok(())
    }

    /// Waits until the page shows these words.
    ///
    /// # Errors
    /// When it never does.
    pub async fn sees(&self, words: &str) -> Result<()> {
        self.wait(&format!("“{words}”"), || async {
            let script =
                "return document.body.innerText.replace(/\\s+/g, ' ').includes(arguments[0])";
            Ok(self.run(script, vec![json!(words)]).await?.as_bool() == Some(true))
        })
        .await
    }

    /// What accessibility violations the page has, each in a line.
    ///
    /// # Errors
    /// When the check cannot run.
    pub async fn violations(&self, axe: &str) -> Result<Vec<String>> {
        self.run(axe, vec![]).await?;
        let script = "const done = arguments[arguments.length - 1]; \
                      axe.run(document, {resultTypes: ['violations']}).then((r) => done(r.violations.flatMap((v) => \
                      v.nodes.map((n) => v.id + ': ' + n.target.join(' ') + ' – ' + n.failureSummary))), (e) => done(['axe broke: ' + e]))";
        let found = self.driver.execute_async(script, vec![]).await?;
        Ok(serde_json::from_value(found.json().clone())?)
    }

    /// Saves what the window shows.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn shoot(&self, path: &Path) -> Result<()> {
        std::fs::write(path, self.driver.screenshot_as_png().await?)?;
        Ok(())
    }

    /// Closes the window.
    ///
    /// # Errors
    /// When the browser is gone already.
    pub async fn close(self) -> Result<()> {
        WebDriver::clone(&self.driver).quit().await?;
        Ok(())
    }
}

/// One form of a page, or the page as a whole.
#[derive(Clone, Copy)]
pub struct Form<'a> {
    browser: &'a Browser,
    name: Option<&'a str>,
}

impl Form<'_> {
    async fn find(&self, role: &str, name: &str) -> Result<WebElement> {
        let start = Instant::now();
        loop {
            let asked = vec![json!(role), json!(name), json!(self.name)];
            let found = self.browser.driver.execute(FIND, asked).await?;
            if let Ok(element) = found.element() {
                return Ok(element);
            }
            if start.elapsed() > PATIENCE {
                let text = self.browser.text().await?;
                bail!(
                    "no {role} “{name}” in {:?}; the page says:\n{text}",
                    self.name
                );
            }
            tokio::time::sleep(Duration::from_millis(40)).await;
        }
    }

    /// Presses a button, link, radio or checkbox by the beginning of its name, once it can be.
    ///
    /// # Errors
    /// When there is none, or it never becomes possible.
    pub async fn press(&self, role: &str, name: &str) -> Result<()> {
        self.browser
            .wait(&format!("{role} “{name}” to be pressed"), || async {
                let element = self.find(role, name).await?;
                if !element.is_enabled().await? {
                    return Ok(false);
                }
                element.scroll_into_view().await?;
                Ok(element.click().await.is_ok())
            })
            .await
    }

    /// Types into a field, named by its label, in place of what was there.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn fill(&self, label: &str, text: &str) -> Result<()> {
        let field = self.find("field", label).await?;
        field.scroll_into_view().await?;
        field.send_keys(Key::Control + "a").await?;
        field.send_keys(Key::Delete + "").await?;
        field.send_keys(text).await?;
        Ok(())
    }

    /// Types into a field and presses Enter in one go, as at the bench.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn enter(&self, label: &str, text: &str) -> Result<()> {
        self.fill(label, &format!("{text}{}", Key::Enter.value()))
            .await
    }

    /// Waits until the form has done its work and is gone, keeping what was typed where it asks.
    ///
    /// # Errors
    /// When it stays: it was refused.
    pub async fn done(&self) -> Result<()> {
        self.browser
            .wait("the form to be done", || async {
                let asked =
                    |role: &str, name: &str| vec![json!(role), json!(name), json!(self.name)];
                let there = self
                    .browser
                    .driver
                    .execute(FIND, asked("button", ""))
                    .await?;
                if there.element().is_err() {
                    return Ok(true);
                }
                let question = asked("button", "Keep it as typed");
                if let Ok(keep) = self.browser.driver.execute(FIND, question).await?.element() {
                    keep.scroll_into_view().await?;
                    keep.click().await.ok();
                }
                Ok(false)
            })
            .await
    }

    /// Chooses an option of a select by its words.
    ///
    /// # Errors
    /// When there is no such field or option.
    pub async fn choose(&self, label: &str, option: &str) -> Result<()> {
        self.browser
            .wait(&format!("“{option}” in {label}"), || async {
                let field = self.find("field", label).await?;
                let select = thirtyfour::components::SelectElement::new(&field).await?;
                Ok(select.select_by_visible_text(option).await.is_ok())
            })
            .await
    }
}

impl Drop for Browser {
    /// Ends the driver, which closes its browser. The session itself is never dropped: that would
    /// wait for an answer of a driver that is gone, and a failing test would hang.
    fn drop(&mut self) {
        let _ = Command::new("kill")
            .arg(self.chromedriver.id().to_string())
            .status();
        let _ = self.chromedriver.wait();
    }
}
