//! `build-manifest`: the program a household runs.

use anyhow::{Context, Result};
use clap::{Parser, Subcommand};
use jiff::Timestamp;
use manifest_server::clock::Clock;
use manifest_server::{App, demo, openapi, serve};
use manifest_store::Store;
use std::net::SocketAddr;
use std::path::PathBuf;
use std::sync::Arc;

/// Planner, calculator and logbook for turning an animal into cured products.
#[derive(Parser)]
#[command(version, about)]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serve the application.
    Serve {
        /// The folder that holds the household's ledger; made if it is not there.
        #[arg(long)]
        data: PathBuf,
        /// Where to listen. Other devices reach it only under an address that is not loopback.
        #[arg(long, default_value = "127.0.0.1:8470")]
        listen: SocketAddr,
        /// Fill an empty folder with the demo household.
        #[arg(long)]
        demo: bool,
        /// Pin the clock to this moment (RFC 3339).
        #[arg(long)]
        now: Option<Timestamp>,
        /// A name beside localhost and plain addresses under which it may be opened.
        #[arg(long)]
        allow_host: Vec<String>,
    },
    /// Print the API's description.
    Openapi,
}

fn main() -> Result<()> {
    env_logger::Builder::from_env(env_logger::Env::default().default_filter_or("warn")).init();
    match Cli::parse().command {
        Command::Openapi => {
            println!("{}", openapi().to_pretty_json()?);
            Ok(())
        }
        Command::Serve {
            data,
            listen,
            demo,
            now,
            allow_host,
        } => {
            let store =
                Store::open(&data).with_context(|| format!("opening {}", data.display()))?;
            // The demo stands on its own day, so that nothing in it grows old.
            let pinned = now.or_else(|| demo.then(demo::present));
            if demo {
                demo::fill(&store, pinned.unwrap_or_else(demo::present))
                    .context("filling the demo household")?;
            }
            let app = App {
                store: Arc::new(store),
                clock: pinned.map_or(Clock::Running, Clock::Pinned),
                events: tokio::sync::broadcast::channel(64).0,
            };
            actix_web::rt::System::new()
                .block_on(serve(app, listen, allow_host, |address| {
                    println!("build-manifest is ready at http://{address}");
                }))
                .with_context(|| format!("listening on {listen}"))
        }
    }
}
