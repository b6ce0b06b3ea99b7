//! What devices that do not exist have in common: by which clock they measure, and how they talk to whoever listens.

use crate::protocol::{GREETING, LONGEST_LINE, SIGN_OF_LIFE};
use jiff::Timestamp;
use std::io::{ErrorKind, Read, Write};
use std::net::{TcpListener, TcpStream};
use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};
use std::time::{Duration, Instant};

/// By what a made-up thermometer measures.
#[derive(Clone, Debug)]
pub enum DeviceClock {
    /// By the machine's clock.
    Running,
    /// By what its listener says is now (s since 1970).
    Told(Arc<AtomicI64>),
}

impl DeviceClock {
    /// One that stands until it is told.
    #[must_use]
    pub fn told() -> Self {
        Self::Told(Arc::new(AtomicI64::new(i64::MIN)))
    }

    fn now(&self) -> i64 {
        match self {
            Self::Running => Timestamp::now().as_second(),
            Self::Told(at) => at.load(Ordering::SeqCst),
        }
    }

    fn tell(&self, at: Timestamp) {
        match self {
            Self::Running => {}
            Self::Told(kept) => {
                kept.fetch_max(at.as_second(), Ordering::SeqCst);
            }
        }
    }
}

/// The lines of a reading as a bad line carries them: every so many one that nobody understands, every so many one twice.
#[must_use]
pub fn stuttered(
    line: String,
    number: i64,
    (garbled_every, twice_every): (i64, i64),
) -> Vec<String> {
    if number % garbled_every == 0 {
        return vec![line.replacen("Z ", "Z; ", 1)];
    }
    if number % twice_every == 0 {
        return vec![line.clone(), line];
    }
    vec![line]
}

/// A thermometer that does not exist, as one who listens hears it.
pub trait MadeUp: Clone + Send + 'static {
    /// Readings from then on are said again.
    fn since(&mut self, at: i64);
    /// A line was said to it that not every thermometer understands.
    fn hear(&mut self, line: &str);
    /// What it has to say by now (s since 1970), and not said yet.
    fn say(&mut self, now: i64) -> Vec<String>;
}

/// The thermometer of a place: it measures by itself, every so many seconds.
#[derive(Clone, Copy, Debug)]
pub struct PlaceDevice {
    every_s: i64,
    lines: fn(i64) -> Vec<String>,
    next: Option<i64>,
}

impl PlaceDevice {
    /// One that says the lines of a reading, by its number since 1970.
    #[must_use]
    pub const fn new(every_s: i64, lines: fn(i64) -> Vec<String>) -> Self {
        Self {
            every_s,
            lines,
            next: None,
        }
    }
}

impl MadeUp for PlaceDevice {
    fn since(&mut self, at: i64) {
        self.next = Some(at.div_euclid(self.every_s) + 1);
    }

    fn hear(&mut self, _: &str) {}

    fn say(&mut self, now: i64) -> Vec<String> {
        let newest = now.div_euclid(self.every_s);
        let from = *self.next.get_or_insert(newest);
        self.next = Some(from.max(newest + 1));
        (from..=newest).flat_map(self.lines).collect()
    }
}

/// It says that it lives this often.
const LIVES: Duration = Duration::from_secs(2);
/// It looks for something new this often.
const LOOKS: Duration = Duration::from_millis(40);

/// Answers on a listener until the program ends; each who connects has a thread, and hears the device from its beginning.
///
/// # Errors
/// When the listener breaks.
pub fn serve<D: MadeUp>(
    listener: &TcpListener,
    clock: &DeviceClock,
    device: &D,
) -> std::io::Result<()> {
    for stream in listener.incoming() {
        let (stream, clock, device) = (stream?, clock.clone(), device.clone());
        std::thread::spawn(move || {
            // Who hangs up is no mistake.
            let _ = answer(stream, &clock, device);
        });
    }
    Ok(())
}

fn answer<D: MadeUp>(
    mut stream: TcpStream,
    clock: &DeviceClock,
    mut device: D,
) -> std::io::Result<()> {
    stream.set_read_timeout(Some(LOOKS))?;
    stream.write_all(format!("{GREETING}\n").as_bytes())?;
    let mut heard = Vec::new();
    let mut said_at = Instant::now();
    loop {
        let mut buffer = [0; 1_024];
        match stream.read(&mut buffer) {
            Ok(0) => return Ok(()),
            Ok(n) => heard.extend_from_slice(&buffer[..n]),
            Err(e) if matches!(e.kind(), ErrorKind::WouldBlock | ErrorKind::TimedOut) => {}
            Err(e) => return Err(e),
        }
        while let Some(end) = heard.iter().position(|b| *b == b'\n') {
            let line: Vec<u8> = heard.drain(..=end).collect();
            let line = String::from_utf8_lossy(&line).trim().to_string();
            match line
                .split_once(' ')
                .map(|(w, at)| (w, at.parse::<Timestamp>()))
            {
                Some(("SINCE", Ok(at))) => device.since(at.as_second()),
                Some(("CLOCK", Ok(at))) => clock.tell(at),
                Some(_) | None => device.hear(&line),
            }
        }
        if heard.len() > LONGEST_LINE {
            return Ok(());
        }
        let mut said = String::new();
        for line in device.say(clock.now()) {
            said.push_str(&line);
            said.push('\n');
        }
        if said.is_empty() && said_at.elapsed() >= LIVES {
            said = format!("{SIGN_OF_LIFE}\n");
        }
        if !said.is_empty() {
            stream.write_all(said.as_bytes())?;
            said_at = Instant::now();
        }
    }
}
