//! `build-manifest`: the program a household runs.

use anyhow::{Result, anyhow, bail};
use clap::{Parser, Subcommand};
use jiff::{Timestamp, ToSpan};
use manifest_devices::made_up::{self, DeviceClock, MadeUp};
use manifest_devices::probes::{self, Fault, Script};
use manifest_devices::{chamber, fridge};
use manifest_server::clock::Clock;
use manifest_server::{App, demo, openapi, serve};
use manifest_store::backup::{self, Why};
use manifest_store::restore::{self, Present};
use manifest_store::{Store, StoreError};
use std::net::{SocketAddr, TcpListener};
use std::path::{Path, PathBuf};
use std::process::ExitCode;
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
        /// Make an empty folder a household for practice: its clock stands until it is moved on.
        #[arg(long)]
        practice: bool,
        /// A name beside localhost and plain addresses under which it may be opened.
        #[arg(long)]
        allow_host: Vec<String>,
    },
    /// Take a backup, also while the program runs.
    Backup {
        /// The household's folder.
        #[arg(long)]
        data: PathBuf,
        /// Where to put it; among the folder's own backups when left out.
        #[arg(long)]
        to: Option<PathBuf>,
    },
    /// Put a backup in the ledger's place; what is there is backed up first.
    Restore {
        /// The household's folder; made if it is not there.
        #[arg(long)]
        data: PathBuf,
        /// Only say what it would mean.
        #[arg(long)]
        look: bool,
        /// The backup's file.
        file: PathBuf,
    },
    /// Check the whole ledger, also while the program runs.
    Check {
        /// The household's folder.
        #[arg(long)]
        data: PathBuf,
    },
    /// Print the API's description.
    Openapi,
    /// Print what screens call the members of enumerations.
    Words,
    /// Play a device that is not there.
    Simulate {
        #[command(subcommand)]
        device: Device,
    },
}

/// A file of a device that is not there is no longer (h).
const MOST_CSV_HOURS: u32 = 24 * 124;

#[derive(Subcommand)]
enum Device {
    /// The thermometer of a drying chamber: a reading every ten minutes, a door, a compressor, a dry day and a warm one.
    Chamber {
        /// Where it answers; that address is what a place of the household names as its thermometer.
        #[arg(long, default_value = "127.0.0.1:8482")]
        listen: SocketAddr,
        /// Writes a file of so many hours up to now instead of listening.
        #[arg(long)]
        csv_hours: Option<u32>,
    },
    /// The thermometer of a fridge: a reading every ten minutes, a warm afternoon every fourth day.
    Fridge {
        /// Where it answers; that address is what a place of the household names as its thermometer.
        #[arg(long, default_value = "127.0.0.1:8480")]
        listen: SocketAddr,
    },
    /// A thermometer with four probes: three pieces heat by their thickness, the fourth probe hangs in the air.
    Probes {
        /// Where it answers; that address is what a smoker of the household names as its thermometer.
        #[arg(long, default_value = "127.0.0.1:8481")]
        listen: SocketAddr,
        /// How thick the pieces are (mm), at most three.
        #[arg(long, value_delimiter = ',', default_value = "30,45,60")]
        thickness: Vec<f64>,
        /// How warm the chamber is set (°C).
        #[arg(long, default_value_t = 95.0)]
        chamber: f64,
        /// A way in which it fails: out, battery, jumps, units, silence, duplicates, garbled. May be given several times.
        #[arg(long = "fault")]
        faults: Vec<String>,
        /// Writes a file of so many hours up to now instead of listening.
        #[arg(long)]
        csv_hours: Option<u32>,
    },
}

fn main() -> ExitCode {
    env_logger::Builder::from_env(env_logger::Env::default().default_filter_or("warn")).init();
    match run(Cli::parse().command) {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            // One sentence: what is wrong, and what to do.
            eprintln!("build-manifest: {error}");
            ExitCode::FAILURE
        }
    }
}

/// Plays a device until the program ends.
fn play<D: MadeUp>(listen: SocketAddr, what: &str, device: &D) -> Result<()> {
    let listener = TcpListener::bind(listen)
        .map_err(|e| anyhow!("it cannot listen on {listen}: {e}; give another --listen"))?;
    println!(
        "{what} that does not exist answers at {}",
        listener.local_addr()?
    );
    made_up::serve(&listener, &DeviceClock::Running, device)?;
    Ok(())
}

fn run(command: Command) -> Result<()> {
    match command {
        Command::Openapi => {
            println!("{}", openapi().to_pretty_json()?);
            Ok(())
        }
        Command::Words => {
            println!("{}", manifest_server::words()?);
            Ok(())
        }
        Command::Simulate {
            device: Device::Fridge { listen },
        } => play(listen, "a fridge", &fridge::device()),
        Command::Simulate {
            device: Device::Chamber { listen, csv_hours },
        } => {
            if let Some(hours) = csv_hours {
                let hours = i64::from(hours.min(MOST_CSV_HOURS));
                print!("{}", chamber::csv(Timestamp::now(), hours));
                return Ok(());
            }
            play(listen, "a drying chamber", &chamber::device())
        }
        Command::Simulate {
            device:
                Device::Probes {
                    listen,
                    thickness,
                    chamber,
                    faults,
                    csv_hours,
                },
        } => {
            let named = faults.iter().map(|word| {
                Fault::of(word).ok_or_else(|| {
                    let all: Vec<&str> = Fault::ALL.iter().map(|(_, w)| *w).collect();
                    anyhow!("there is no fault “{word}”; give one of {}", all.join(", "))
                })
            });
            let named = named.collect::<Result<Vec<_>>>()?;
            let now = Timestamp::now();
            let hours = i64::from(csv_hours.unwrap_or(0).min(MOST_CSV_HOURS));
            let from = now.saturating_sub(hours.hours())?;
            let script = Script::of(from, &thickness, chamber, &named);
            if csv_hours.is_some() {
                print!("{}", probes::csv(&script, now));
                return Ok(());
            }
            let device = probes::device(script);
            play(listen, "a thermometer with four probes", &device)
        }
        Command::Backup { data, to } => back_up(&data, to.as_deref()),
        Command::Restore { data, look, file } => put_back(&data, &file, look),
        Command::Check { data } => {
            let checked = backup::check(&data.join(manifest_store::FILE));
            let contents = checked.map_err(|error| with_way_out(error, &data))?;
            println!(
                "Sound: {} entries, each as it was written.",
                contents.hashes.len()
            );
            if let Some(photos) = contents.photos {
                bail!("but for a picture. {photos}");
            }
            Ok(())
        }
        Command::Serve {
            data,
            listen,
            demo,
            now,
            practice,
            allow_host,
        } => {
            // The demo stands on its own day, so that nothing in it grows old.
            if demo {
                demo::fill_folder(&data, now.unwrap_or_else(demo::present))?;
            }
            let store = Store::open(&data, now.unwrap_or_else(Timestamp::now))?;
            if demo && !store.is_demo() {
                bail!(
                    "{} holds a household of its own; --demo wants an empty folder, or the demo's",
                    data.display()
                );
            }
            if practice && !store.is_practice() {
                if !store.read(|book, _| book.lots().next().is_none()) {
                    bail!(
                        "{} holds a household of its own; --practice wants an empty folder",
                        data.display()
                    );
                }
                store.become_practice()?;
            }
            // A clock for practice never goes back, whatever the command line says.
            let began = now.max(store.practice_now());
            let clock = if store.is_practice() {
                let first = if store.is_demo() {
                    demo::present()
                } else {
                    Timestamp::now()
                };
                let began = began.unwrap_or(first);
                if store.trouble().is_none() {
                    // It stands there until it is moved, also when the program is started again.
                    store.keep_practice_now(began)?;
                }
                Clock::practice(began)
            } else {
                now.map_or_else(Clock::running, Clock::pinned)
            };
            if let Some(trouble) = store.trouble() {
                eprintln!("build-manifest: {}", StoreError::from(trouble));
            }
            let store = Arc::new(store);
            let app = App::new(store.clone(), clock);
            actix_web::rt::System::new()
                .block_on(serve(app, listen, allow_host, |address| {
                    println!("build-manifest is ready at http://{address}");
                }))
                .map_err(|e| anyhow!("it cannot listen on {listen}: {e}; give another --listen"))?;
            // However it was ended, the one file holds everything.
            if store.trouble().is_none() {
                store.gather()?;
            }
            Ok(())
        }
    }
}

/// What is wrong with a ledger, with the last whole backup where there is one.
fn with_way_out(error: StoreError, data: &Path) -> anyhow::Error {
    match error {
        StoreError::Damaged(_) => anyhow!("{error}. {}", manifest_store::remedy(data)),
        other => other.into(),
    }
}

fn back_up(data: &Path, to: Option<&Path>) -> Result<()> {
    let ledger = data.join(manifest_store::FILE);
    if !ledger.exists() {
        bail!(
            "{} holds no ledger; give the household's folder as --data",
            data.display()
        );
    }
    let path = match to {
        Some(to) => {
            backup::copy(&ledger, to).map_err(|error| with_way_out(error, data))?;
            to.to_path_buf()
        }
        None => backup::take(data, Why::ByHand, Timestamp::now())?.path,
    };
    let contents = backup::contents(&path)?;
    println!(
        "{}: {} entries, opened and folded.",
        path.display(),
        contents.hashes.len()
    );
    if let Some(photos) = contents.photos {
        println!("{photos}");
    }
    Ok(())
}

fn put_back(data: &Path, file: &Path, look: bool) -> Result<()> {
    if !look {
        std::fs::create_dir_all(data)?;
    }
    let found = restore::preview(data, file)?;
    let said = |at: Timestamp| at.strftime("%Y-%m-%d %H:%M UTC").to_string();
    match found.newest {
        Some(at) => println!(
            "{} holds {} entries, the newest written {}.",
            file.display(),
            found.entries,
            said(at)
        ),
        None => println!("{} holds no entries.", file.display()),
    }
    if found.other_household {
        println!("It is the backup of another household.");
    }
    match (found.present, found.lost.as_slice()) {
        (Present::Nothing, _) => println!("Nothing is written in {} yet.", data.display()),
        (Present::Unreadable, lost) => {
            println!(
                "The ledger that is there now cannot be read, or not whole, so nobody can say all that would be lost."
            );
            if let Some(newest) = lost.last() {
                println!(
                    "Of what reads, {} entries up to number {} are not in the backup.",
                    lost.len(),
                    newest.0
                );
            }
        }
        (Present::Ledger(n), []) => {
            println!("All {n} entries that are in the ledger now are in it.");
        }
        (Present::Ledger(n), lost) => {
            println!(
                "{} of the {n} entries that are in the ledger now are not in it:",
                lost.len()
            );
            let newest = &lost[lost.len().saturating_sub(NAMED)..];
            for (id, at, what) in restore::entries_of(data, newest)? {
                println!("  {} of {}: {what}", id.0, said(at));
            }
        }
    }
    if look {
        return Ok(());
    }
    let done = restore::restore(data, file, Timestamp::now())?;
    if let Some(before) = done.before {
        println!("What was there before is in {}.", before.display());
    }
    println!("Restored: {} entries.", done.entries);
    Ok(())
}

/// So many of the newest entries that would be lost are named.
const NAMED: usize = 12;
