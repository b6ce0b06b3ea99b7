//! Thermometers of the household's places: each place that names one is listened to for as long as it does.

use crate::App;
use crate::clock::Clock;
use actix_web::web::Data;
use jiff::{Timestamp, ToSpan};
use manifest_core::catalogue::place_kinds::PlaceUse;
use manifest_core::equipment::PRACTICE_SENSOR;
use manifest_core::ids::RunId;
use manifest_core::place::climate::{PlaceLog, WarmthBand};
use manifest_core::place::{Place, PlaceId};
use manifest_core::run::{Run, Seat, Watched};
use manifest_devices::chamber;
use manifest_devices::fridge;
use manifest_devices::link::{Link, Listener, Standing, State};
use manifest_devices::made_up::{DeviceClock, serve};
use manifest_devices::probes::{self, Script};
use manifest_devices::protocol::Said;
use manifest_store::Store;
use manifest_store::readings::{NewReading, Source};
use manifest_store::runs::NewProbeReading;
use serde::Serialize;
use std::collections::BTreeMap;
use std::net::TcpListener;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};
use tokio::sync::broadcast;
use utoipa::ToSchema;

/// Closer than this nothing new is learnt from two readings of one band (s).
const THIN_S: i64 = 290;
/// What a thermometer of a household for practice already holds when it is first asked (h).
const BEFORE_H: i64 = 96;

/// The thermometers that are listened to.
#[derive(Default)]
pub struct Sensors {
    links: Mutex<BTreeMap<PlaceId, Link>>,
    made_up: Mutex<BTreeMap<Practice, Option<String>>>,
}

/// How it stands with the thermometer of a place.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SensorView {
    /// Where it answers.
    pub address: String,
    /// True while it answers.
    pub answers: bool,
    /// How it stands, in words.
    pub said: String,
    /// Lines that nobody understood, since the program began.
    pub garbled: u64,
    /// Readings that came twice.
    pub doubled: u64,
    /// Readings that never came whole.
    pub lost: u64,
    /// Readings that were said in degrees Fahrenheit.
    pub in_fahrenheit: u64,
    /// What is left of its battery, as far as it says so (%).
    pub battery: Option<u8>,
}

impl SensorView {
    fn of(address: &str, standing: &Standing) -> Self {
        let heard = standing.heard;
        let said = match &standing.state {
            State::Starting => "being asked for the first time".into(),
            State::Answers if heard.readings == 0 => "answers; nothing measured yet".into(),
            State::Answers => "answers".into(),
            State::Silent => "connected, and silent".into(),
            State::Unreachable(why) => format!("does not answer: {why}"),
        };
        Self {
            address: address.into(),
            answers: standing.state == State::Answers,
            said,
            garbled: heard.garbled,
            doubled: heard.doubled,
            lost: heard.lost,
            in_fahrenheit: heard.in_fahrenheit,
            battery: heard.battery,
        }
    }
}

impl Sensors {
    fn links(&self) -> MutexGuard<'_, BTreeMap<PlaceId, Link>> {
        self.links.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// How it stands with the thermometer of a place, where it is listened to.
    #[must_use]
    pub fn of(&self, place: PlaceId) -> Option<SensorView> {
        let links = self.links();
        let link = links.get(&place)?;
        Some(SensorView::of(&link.address, &link.standing()))
    }

    /// Where a made-up device answers; begun when first asked for.
    fn made_up(&self, what: Practice) -> Option<String> {
        let begin = || {
            let listener = TcpListener::bind("127.0.0.1:0").ok()?;
            let address = listener.local_addr().ok()?.to_string();
            std::thread::spawn(move || {
                let clock = DeviceClock::told();
                let served = match what {
                    Practice::Fridge => serve(&listener, &clock, &fridge::device()),
                    Practice::Chamber => serve(&listener, &clock, &chamber::device()),
                    Practice::Probes => {
                        serve(&listener, &clock, &probes::device(Script::default()))
                    }
                };
                if let Err(error) = served {
                    log::error!("a device for practice: {error}");
                }
            });
            Some(address)
        };
        let mut begun = self.made_up.lock().unwrap_or_else(PoisonError::into_inner);
        begun.entry(what).or_insert_with(begin).clone()
    }
}

/// What is made up for a household for practice, by the kind of its place.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Practice {
    Fridge,
    Chamber,
    Probes,
}

impl Practice {
    fn of(place: &Place) -> Self {
        if place.is_for(PlaceUse::Smoke) || place.is_for(PlaceUse::Cook) {
            Self::Probes
        } else if place.is_for(PlaceUse::Hang) {
            Self::Chamber
        } else {
            Self::Fridge
        }
    }
}

/// Begins and ends listening as the settings say.
pub fn tend(app: &Data<App>) {
    let is_practice = app.store.is_practice();
    let wanted: BTreeMap<PlaceId, (String, Practice)> = app.store.read(|_, home| {
        let named = home
            .places()
            .filter_map(|p| Some((p.id, (p.sensor.clone()?, Practice::of(p)))));
        named.collect()
    });
    // A real household never takes what is made up.
    let found = |address: String, what: Practice| match address.as_str() {
        PRACTICE_SENSOR if is_practice => app.sensors.made_up(what),
        PRACTICE_SENSOR => None,
        _ => Some(address),
    };
    let wanted: BTreeMap<PlaceId, (String, bool, bool)> = wanted
        .into_iter()
        .filter_map(|(place, (named, what))| {
            let scripted = named == PRACTICE_SENSOR;
            let probes = what == Practice::Probes;
            Some((place, (found(named, what)?, probes, scripted)))
        })
        .collect();
    let mut links = app.sensors.links();
    links.retain(|id, link| wanted.get(id).map(|w| &w.0) == Some(&link.address));
    for (place, (address, probes, scripted)) in wanted {
        if links.contains_key(&place) {
            continue;
        }
        let link = if probes {
            Link::to(&address, ProbeBook::new(place, scripted, app))
        } else {
            let notebook = Notebook {
                place,
                store: app.store.clone(),
                clock: app.clock.clone(),
                events: app.events.clone(),
            };
            Link::to(&address, notebook)
        };
        links.insert(place, link);
    }
}

/// Writes down what the probes of a smoker say: into the run that is under way there, in one write a second.
struct ProbeBook {
    place: PlaceId,
    scripted: bool,
    store: Arc<Store>,
    clock: Arc<Clock>,
    events: broadcast::Sender<String>,
    waiting: Vec<NewProbeReading>,
    written: Instant,
    run: Option<RunId>,
}

/// Readings wait so long to be written together.
const TOGETHER: Duration = Duration::from_secs(1);

impl ProbeBook {
    fn new(place: PlaceId, scripted: bool, app: &App) -> Self {
        Self {
            place,
            scripted,
            store: app.store.clone(),
            clock: app.clock.clone(),
            events: app.events.clone(),
            waiting: Vec::new(),
            written: Instant::now(),
            run: None,
        }
    }

    fn open(&self) -> Option<Arc<Watched>> {
        self.store.read(|_, home| {
            let mut open = home.beside.runs.open();
            open.find(|w| w.run.place == Some(self.place)).cloned()
        })
    }

    fn write(&mut self) {
        self.written = Instant::now();
        let new = std::mem::take(&mut self.waiting);
        let Some(run) = self.run.filter(|_| !new.is_empty()) else {
            return;
        };
        match self.store.log_probes(run, &new, Source::Sensor) {
            Ok(_) => {
                let _ = self
                    .events
                    .send("data: {\"what\":\"probes\",\"lots\":[]}\n\n".into());
            }
            Err(error) => log::error!("readings of probes were not written: {error}"),
        }
    }
}

impl Listener for ProbeBook {
    fn clock(&self) -> Option<Timestamp> {
        self.store.is_practice().then(|| self.clock.now())
    }

    fn script(&self) -> Vec<String> {
        match self.open() {
            Some(watched) if self.scripted => {
                self.store.read(|book, _| script_of(&watched.run, book))
            }
            Some(_) | None => Vec::new(),
        }
    }

    fn since(&self) -> Timestamp {
        let now = self.clock.now();
        let hour_ago = now.saturating_sub(1.hours()).unwrap_or(now);
        self.open()
            .map_or(hour_ago, |w| w.readings.newest().unwrap_or(w.run.begun))
    }

    fn take(&mut self, readings: &[Said]) {
        let Some(watched) = self.open() else {
            // Nothing lies in it: nobody asks how warm it is.
            self.waiting.clear();
            self.run = None;
            return;
        };
        if self.run != Some(watched.run.id) {
            self.write();
            self.run = Some(watched.run.id);
        }
        let now = self.clock.now();
        let latest = now.saturating_add(2.minutes()).unwrap_or(now);
        let fits = |s: &&Said| s.at <= latest && s.at >= watched.run.begun;
        let new = readings.iter().filter(fits).filter_map(|s| {
            Some(NewProbeReading {
                probe: s.probe?,
                read: manifest_core::place::climate::Read {
                    at: s.at,
                    warmth: s.warmth,
                },
            })
        });
        self.waiting.extend(new);
    }

    fn look(&mut self) {
        if !self.waiting.is_empty() && self.written.elapsed() >= TOGETHER {
            self.write();
        }
    }
}

/// A run as the made-up thermometer is told of it: what lies there, how it is set, where the probes are.
fn script_of(run: &Run, book: &manifest_core::ledger::book::Book) -> Vec<String> {
    let mut lines = vec!["RESET".to_string()];
    for fault in ["duplicates", "garbled", "jumps", "out"] {
        lines.push(format!("FAULT {fault}"));
    }
    for went in &run.went {
        let set = run.stages.get(went.stage).and_then(|s| s.set_c);
        let set = set.unwrap_or(UNSET_C);
        lines.push(format!("CHAMBER {} {set}", went.from));
        if let Some(until) = went.until {
            lines.push(format!("CHAMBER {until} {PAUSED_C}"));
        }
    }
    for id in run.pieces() {
        let first = run.sittings.iter().find(|s| s.piece == id);
        let (Some(first), Some((_, piece))) = (first, book.piece(id)) else {
            continue;
        };
        let thick = piece.shape.thickness().map_or(UNKNOWN_MM, |t| t.0);
        lines.push(format!("MEAT {} {} {thick} 4", first.from, id.0));
        if let Some(left) = run.left(id, book) {
            lines.push(format!("PULLED {left} {}", id.0));
        }
    }
    for (probe, seats) in &run.probes {
        for seat in seats {
            let place = match &seat.seat {
                Seat::Piece(id) => id.0.to_string(),
                Seat::Chamber(_) => "AIR".into(),
                Seat::Out => "OUT".into(),
            };
            lines.push(format!("SEAT {} {probe} {place}", seat.from));
            if let Some(until) = seat.until {
                lines.push(format!("SEAT {until} {probe} OUT"));
            }
        }
    }
    lines
}

/// A stage that nobody sets is as warm as a low fire (°C).
const UNSET_C: f64 = 85.0;
/// It pauses in the cold (°C).
const PAUSED_C: f64 = 4.0;
/// What nobody measured is as thick as a slab (mm).
const UNKNOWN_MM: f64 = 45.0;

/// Writes down what a thermometer says.
struct Notebook {
    place: PlaceId,
    store: Arc<Store>,
    clock: Arc<Clock>,
    events: broadcast::Sender<String>,
}

impl Notebook {
    fn last(&self) -> Option<manifest_core::place::climate::Read> {
        self.store.read(|_, home| {
            let log = home.beside.climate.place(self.place);
            log.and_then(PlaceLog::last)
        })
    }
}

impl Listener for Notebook {
    fn clock(&self) -> Option<Timestamp> {
        self.store.is_practice().then(|| self.clock.now())
    }

    fn script(&self) -> Vec<String> {
        Vec::new()
    }

    fn look(&mut self) {}

    fn since(&self) -> Timestamp {
        let now = self.clock.now();
        let hours = if self.store.is_practice() {
            BEFORE_H
        } else {
            1
        };
        let usual = now.saturating_sub(hours.hours()).unwrap_or(now);
        self.last().map_or(usual, |r| r.at)
    }

    fn take(&mut self, readings: &[Said]) {
        let now = self.clock.now();
        let mut last = self.last();
        let mut new = Vec::new();
        for said in readings {
            // A thermometer whose clock runs ahead says nothing about now.
            if said.at > now.saturating_add(2.minutes()).unwrap_or(now) {
                continue;
            }
            let band = |c| WarmthBand::ALL.map(|b| b.holds(c));
            let is_news = last.is_none_or(|l| {
                said.at.as_second() - l.at.as_second() >= THIN_S
                    || (said.at > l.at && band(said.warmth) != band(l.warmth))
            });
            if is_news {
                last = Some(manifest_core::place::climate::Read {
                    at: said.at,
                    warmth: said.warmth,
                });
                new.push(NewReading {
                    at: said.at,
                    warmth: said.warmth,
                    humidity: said.humidity,
                });
            }
        }
        if new.is_empty() {
            return;
        }
        match self.store.log(self.place, &new, Source::Sensor, now) {
            Ok(_) => {
                let _ = self
                    .events
                    .send("data: {\"what\":\"places\",\"lots\":[]}\n\n".into());
            }
            Err(error) => log::error!("a reading was not written: {error}"),
        }
    }
}
