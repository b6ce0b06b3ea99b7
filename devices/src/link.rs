//! A connection to a thermometer that is kept up: it is asked again from the last reading on, however often it breaks.

use crate::protocol::{LONGEST_LINE, Said};
use crate::reader::{Heard, Reader};
use jiff::Timestamp;
use std::io::{ErrorKind, Read, Write};
use std::net::{TcpStream, ToSocketAddrs};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

/// A thermometer that says nothing for so long is silent.
const SILENT_AFTER: Duration = Duration::from_secs(20);
/// One that does not answer is tried again after so long.
const AGAIN_AFTER: Duration = Duration::from_secs(3);
/// Readings are handed on together, this often.
const TOGETHER: Duration = Duration::from_millis(60);
const CONNECT: Duration = Duration::from_secs(2);

/// How it stands with a thermometer.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub enum State {
    /// Nobody tried yet.
    #[default]
    Starting,
    /// It answers.
    Answers,
    /// It is connected and says nothing.
    Silent,
    /// It does not answer, and why.
    Unreachable(String),
}

/// How it stands, and what came.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Standing {
    /// How it stands.
    pub state: State,
    /// What came since the program began.
    pub heard: Heard,
    /// What became of it.
    pub taken: Taken,
    /// What became of the newest that came.
    pub newest: Taken,
    /// When something of it was last taken, or listening began.
    pub spoke: Option<Instant>,
}

impl Standing {
    /// For how long nothing that it said was taken.
    #[must_use]
    pub fn silent_for(&self) -> Duration {
        self.spoke.map_or(Duration::ZERO, |at| at.elapsed())
    }
}

/// What the one who listens gives and gets.
pub trait Listener: Send {
    /// The present, for a made-up thermometer that goes by the listener's clock; none for a real one.
    fn clock(&self) -> Option<Timestamp>;
    /// What a made-up thermometer is to measure, as lines that it understands; empty for a real one.
    fn script(&self) -> Vec<String>;
    /// The newest reading that is kept: it is asked for what came after.
    fn since(&self) -> Timestamp;
    /// It is asked now and then, whether anything came or not.
    fn look(&mut self);
    /// Readings that came; says what became of them.
    fn take(&mut self, readings: &[Said]) -> Taken;
}

/// What became of readings that came.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Taken {
    /// Those that count.
    pub taken: u64,
    /// Those of the future: its clock runs ahead.
    pub ahead: u64,
    /// Those from long before it was last heard.
    pub old: u64,
}

/// A thermometer that is listened to until this is dropped.
pub struct Link {
    stop: Arc<AtomicBool>,
    standing: Arc<Mutex<Standing>>,
    /// Where it answers.
    pub address: String,
}

impl Drop for Link {
    fn drop(&mut self) {
        self.stop.store(true, Ordering::SeqCst);
    }
}

impl Link {
    /// Listens to the thermometer at an address, in a thread of its own.
    #[must_use]
    pub fn to(address: &str, listener: impl Listener + 'static) -> Self {
        let link = Self {
            stop: Arc::default(),
            standing: Arc::default(),
            address: address.into(),
        };
        let mut run = Run {
            address: address.into(),
            stop: link.stop.clone(),
            standing: link.standing.clone(),
            reader: Reader::default(),
            last: Standing {
                spoke: Some(Instant::now()),
                ..Standing::default()
            },
        };
        std::thread::spawn(move || run.keep(listener));
        link
    }

    /// How it stands.
    #[must_use]
    pub fn standing(&self) -> Standing {
        let standing = self.standing.lock();
        standing.unwrap_or_else(PoisonError::into_inner).clone()
    }
}

struct Run {
    address: String,
    stop: Arc<AtomicBool>,
    standing: Arc<Mutex<Standing>>,
    reader: Reader,
    last: Standing,
}

impl Run {
    fn is(&mut self, state: State) {
        self.last.state = state;
        self.last.heard = self.reader.heard();
        let mut standing = self.standing.lock().unwrap_or_else(PoisonError::into_inner);
        *standing = self.last.clone();
    }

    fn took(&mut self, newest: Taken) {
        let all = &mut self.last.taken;
        all.taken += newest.taken;
        all.ahead += newest.ahead;
        all.old += newest.old;
        self.last.newest = newest;
        if newest.taken > 0 {
            self.last.spoke = Some(Instant::now());
        }
    }

    fn stopped(&self) -> bool {
        self.stop.load(Ordering::SeqCst)
    }

    fn keep(&mut self, mut listener: impl Listener) {
        while !self.stopped() {
            let why = match self.listen(&mut listener) {
                Ok(()) => "it hung up".into(),
                Err(e) => e.to_string(),
            };
            self.is(State::Unreachable(why));
            let until = Instant::now() + AGAIN_AFTER;
            while Instant::now() < until && !self.stopped() {
                std::thread::sleep(TOGETHER);
            }
        }
    }

    fn listen(&mut self, listener: &mut impl Listener) -> std::io::Result<()> {
        let mut addresses = self.address.to_socket_addrs()?;
        let address = addresses
            .next()
            .ok_or_else(|| std::io::Error::other("there is no such address"))?;
        let mut stream = TcpStream::connect_timeout(&address, CONNECT)?;
        stream.set_read_timeout(Some(TOGETHER))?;
        stream.write_all(format!("SINCE {}\n", listener.since()).as_bytes())?;
        let mut told: Option<Timestamp> = None;
        let mut scripted: Vec<String> = Vec::new();
        let mut heard: Vec<u8> = Vec::new();
        let mut heard_at = Instant::now();
        let mut came: Vec<Said> = Vec::new();
        while !self.stopped() {
            let script = listener.script();
            if script != scripted {
                for line in &script {
                    stream.write_all(format!("{line}\n").as_bytes())?;
                }
                scripted = script;
            }
            let clock = listener.clock();
            if let Some(now) = clock.filter(|_| clock != told) {
                stream.write_all(format!("CLOCK {now}\n").as_bytes())?;
                told = clock;
            }
            let mut buffer = [0; 4_096];
            let waited = match stream.read(&mut buffer) {
                Ok(0) => return Ok(()),
                Ok(n) => {
                    heard.extend_from_slice(&buffer[..n]);
                    heard_at = Instant::now();
                    false
                }
                Err(e) if matches!(e.kind(), ErrorKind::WouldBlock | ErrorKind::TimedOut) => true,
                Err(e) => return Err(e),
            };
            while let Some(end) = heard.iter().position(|b| *b == b'\n') {
                let line: Vec<u8> = heard.drain(..=end).collect();
                came.extend(self.reader.take(&String::from_utf8_lossy(&line)));
            }
            if heard.len() > LONGEST_LINE {
                // Whatever this is, it is no line.
                self.reader.take("");
                heard.clear();
            }
            let is_silent = heard_at.elapsed() > SILENT_AFTER;
            if !came.is_empty() && (waited || came.len() >= 5_000) {
                self.took(listener.take(&came));
                came.clear();
            }
            listener.look();
            self.is(if is_silent {
                State::Silent
            } else {
                State::Answers
            });
        }
        Ok(())
    }
}
