//! A crowd at the door: fifty clients, each asking once a second for a minute, of a ledger of twenty thousand pieces.

use anyhow::Result;
use manifest_e2e::server::Server;
use std::sync::Mutex;
use std::time::{Duration, Instant};
use tempfile::TempDir;

/// Clients at once.
const CLIENTS: u32 = 50;
/// So long.
const LASTS: Duration = Duration::from_secs(60);
/// What they ask for, in turn.
const PAGES: [&str; 8] = [
    "/today",
    "/stations/cure",
    "/stations/hang",
    "/tally",
    "/plan",
    "/hang",
    "/lots/1",
    "/pieces/1",
];

#[derive(Default)]
struct Seen {
    times: Vec<Duration>,
    busy: usize,
    errors: Vec<String>,
}

/// Asks and prints what came of it.
pub fn bench(pieces: usize) -> Result<()> {
    let server = Server::start_at(TempDir::new()?, false, Some("release"))?;
    super::fill(&server, pieces / super::PER_LOT)?;
    let seen = Mutex::new(Seen::default());
    let begun = Instant::now();
    std::thread::scope(|scope| {
        for client in 0..CLIENTS {
            let (seen, address) = (&seen, &server.address);
            scope.spawn(move || ask(client, begun, address, seen));
        }
    });
    let mut seen = seen.into_inner().unwrap_or_default();
    seen.times.sort();
    let at = |share: usize| {
        let last = seen.times.len().saturating_sub(1);
        seen.times
            .get(last * share / 100)
            .copied()
            .unwrap_or_default()
    };
    println!(
        "{CLIENTS} clients of {pieces} pieces, each once a second for {} s: {} answers, {} busy, {} errors; median {:.1?} p99 {:.1?}; {} MB at most",
        LASTS.as_secs(),
        seen.times.len(),
        seen.busy,
        seen.errors.len(),
        at(50),
        at(99),
        server.peak_memory_kb().unwrap_or_default() / 1_000,
    );
    for error in seen.errors.iter().take(5) {
        println!("  {error}");
    }
    Ok(())
}

fn ask(client: u32, begun: Instant, address: &str, seen: &Mutex<Seen>) {
    let agent: ureq::Agent = ureq::Agent::config_builder()
        .http_status_as_error(false)
        .timeout_global(Some(Duration::from_secs(20)))
        .build()
        .into();
    // Not all at the same moment.
    std::thread::sleep(Duration::from_millis(u64::from(client) * 20));
    for turn in client as usize.. {
        if begun.elapsed() > LASTS {
            return;
        }
        let path = PAGES[turn % PAGES.len()];
        let asked = Instant::now();
        let answer = agent
            .get(format!("{address}/api/v1{path}"))
            .header("accept-encoding", "gzip")
            .call();
        let took = asked.elapsed();
        let read = answer.map(|mut a| (a.status().as_u16(), a.body_mut().read_to_vec()));
        let Ok(mut seen) = seen.lock() else { return };
        match read {
            Ok((200, Ok(bytes))) if !bytes.is_empty() => seen.times.push(took),
            Ok((503, Ok(_))) => seen.busy += 1,
            Ok((status, read)) => seen
                .errors
                .push(format!("{path}: {status} {:?}", read.err())),
            Err(error) => seen.errors.push(format!("{path}: {error}")),
        }
        drop(seen);
        std::thread::sleep(Duration::from_secs(1).saturating_sub(took));
    }
}
