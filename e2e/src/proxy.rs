//! A bad line between a page and the program: slow, or one that loses answers, or cut.

use anyhow::Result;
use std::io::{BufRead, BufReader, Read, Write};
use std::net::{SocketAddr, TcpListener, TcpStream};
use std::sync::atomic::{AtomicU8, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;

/// What the line does to what is written over it; reading goes through.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[repr(u8)]
pub enum Line {
    /// Nothing.
    Good,
    /// Each answer takes two seconds.
    Slow,
    /// The program gets everything, and its answers are lost.
    LosesAnswers,
    /// Nothing gets through at all, in either direction.
    Cut,
    /// All hands are full: pages are told to ask again in a second.
    Busy,
}

/// What is said when all hands are full.
const BUSY: &str = r#"{"type":"urn:build-manifest:busy","title":"Busy","status":503,"detail":"Many pages are asked for at once. Try again in a moment."}"#;

/// The line, listening on a port of its own until the test is over.
pub struct Proxy {
    /// Where the page finds it, without a slash at the end.
    pub address: String,
    line: Arc<AtomicU8>,
    lost: Arc<AtomicUsize>,
    to: Arc<Mutex<SocketAddr>>,
}

impl Proxy {
    /// Lays a good line to a program.
    ///
    /// # Errors
    /// When no port is free.
    pub fn before(address: &str) -> Result<Self> {
        let listener = TcpListener::bind("127.0.0.1:0")?;
        let proxy = Self {
            address: format!("http://{}", listener.local_addr()?),
            line: Arc::new(AtomicU8::new(Line::Good as u8)),
            lost: Arc::default(),
            to: Arc::new(Mutex::new(socket(address)?)),
        };
        let (line, lost, to) = (proxy.line.clone(), proxy.lost.clone(), proxy.to.clone());
        std::thread::spawn(move || {
            for client in listener.incoming().flatten() {
                let (line, lost, to) = (line.clone(), lost.clone(), to.clone());
                std::thread::spawn(move || {
                    // A page that goes away amid an answer is no mistake.
                    let _ = carry(client, &line, &lost, &to);
                });
            }
        });
        Ok(proxy)
    }

    /// From now on the line is like this.
    pub fn be(&self, line: Line) {
        self.line.store(line as u8, Ordering::SeqCst);
    }

    /// The program was started again somewhere else.
    ///
    /// # Errors
    /// When that is no address.
    pub fn lead_to(&self, address: &str) -> Result<()> {
        *self.to.lock().expect("nobody panicked with it") = socket(address)?;
        Ok(())
    }

    /// How many answers it has lost.
    #[must_use]
    pub fn lost(&self) -> usize {
        self.lost.load(Ordering::SeqCst)
    }
}

fn socket(address: &str) -> Result<SocketAddr> {
    Ok(address.trim_start_matches("http://").parse()?)
}

/// One request and its answer; the connection is closed after it.
fn carry(
    mut client: TcpStream,
    line: &AtomicU8,
    lost: &AtomicUsize,
    to: &Mutex<SocketAddr>,
) -> Result<()> {
    let mut reader = BufReader::new(client.try_clone()?);
    let (mut head, mut length) = (String::new(), 0);
    loop {
        let mut text = String::new();
        if reader.read_line(&mut text)? == 0 {
            return Ok(());
        }
        if let Some((name, value)) = text.split_once(':') {
            if name.eq_ignore_ascii_case("content-length") {
                length = value.trim().parse()?;
            }
            if name.eq_ignore_ascii_case("connection") {
                continue;
            }
        }
        if text == "\r\n" {
            break;
        }
        head.push_str(&text);
    }
    let mut body = vec![0; length];
    reader.read_exact(&mut body)?;
    let is = |l: Line| line.load(Ordering::SeqCst) == l as u8;
    let writes = head.starts_with("POST /api/v1/entries") || head.starts_with("POST /api/v1/undo");
    if is(Line::Cut) {
        return Ok(());
    }
    if is(Line::Busy) && head.starts_with("GET /api/v1/") && !head.contains("/events") {
        lost.fetch_add(1, Ordering::SeqCst);
        let answer = format!(
            "HTTP/1.1 503 Service Unavailable\r\ncontent-type: application/problem+json\r\nretry-after: 1\r\ncontent-length: {}\r\nconnection: close\r\n\r\n{BUSY}",
            BUSY.len()
        );
        client.write_all(answer.as_bytes())?;
        return Ok(());
    }
    let mut program = TcpStream::connect(*to.lock().expect("nobody panicked with it"))?;
    program.write_all(format!("{head}connection: close\r\n\r\n").as_bytes())?;
    program.write_all(&body)?;
    if !writes {
        return stream(&mut program, &mut client, line);
    }
    let mut answer = Vec::new();
    program.read_to_end(&mut answer)?;
    if is(Line::LosesAnswers) {
        lost.fetch_add(1, Ordering::SeqCst);
        return Ok(());
    }
    if is(Line::Slow) {
        std::thread::sleep(Duration::from_secs(2));
    }
    client.write_all(&answer)?;
    Ok(())
}

/// Passes on what comes, as it comes; live events end when the line is cut.
fn stream(program: &mut TcpStream, client: &mut TcpStream, line: &AtomicU8) -> Result<()> {
    program.set_read_timeout(Some(Duration::from_millis(200)))?;
    let mut part = [0; 16 * 1024];
    loop {
        if line.load(Ordering::SeqCst) == Line::Cut as u8 {
            return Ok(());
        }
        match program.read(&mut part) {
            Ok(0) => return Ok(()),
            Ok(n) => client.write_all(&part[..n])?,
            Err(e)
                if matches!(
                    e.kind(),
                    std::io::ErrorKind::WouldBlock | std::io::ErrorKind::TimedOut
                ) => {}
            Err(e) => return Err(e.into()),
        }
    }
}
