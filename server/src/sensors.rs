//! Thermometers of the household's places: each place that names one is listened to for as long as it does.

use crate::App;
use crate::clock::Clock;
use actix_web::web::Data;
use jiff::{Timestamp, ToSpan};
use manifest_core::equipment::PRACTICE_SENSOR;
use manifest_core::place::PlaceId;
use manifest_core::place::climate::{PlaceLog, WarmthBand};
use manifest_devices::fridge::{self, DeviceClock};
use manifest_devices::link::{Link, Listener, Standing, State};
use manifest_devices::protocol::Said;
use manifest_store::Store;
use manifest_store::readings::{NewReading, Source};
use serde::Serialize;
use std::collections::BTreeMap;
use std::net::TcpListener;
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError};
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
    made_up: OnceLock<Option<String>>,
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

    /// Where the made-up fridge answers; begun when first asked for.
    fn made_up(&self) -> Option<String> {
        let begin = || {
            let listener = TcpListener::bind("127.0.0.1:0").ok()?;
            let address = listener.local_addr().ok()?.to_string();
            std::thread::spawn(move || {
                if let Err(error) = fridge::serve(&listener, &DeviceClock::told()) {
                    log::error!("the fridge for practice: {error}");
                }
            });
            Some(address)
        };
        self.made_up.get_or_init(begin).clone()
    }
}

/// Begins and ends listening as the settings say.
pub fn tend(app: &Data<App>) {
    let is_practice = app.store.is_practice();
    let wanted: BTreeMap<PlaceId, String> = app.store.read(|_, home| {
        let named = home
            .places()
            .filter_map(|p| Some((p.id, p.sensor.clone()?)));
        named.collect()
    });
    // A real household never takes what is made up.
    let found = |address: String| match address.as_str() {
        PRACTICE_SENSOR if is_practice => app.sensors.made_up(),
        PRACTICE_SENSOR => None,
        _ => Some(address),
    };
    let wanted: BTreeMap<PlaceId, String> = wanted
        .into_iter()
        .filter_map(|(place, address)| Some((place, found(address)?)))
        .collect();
    let mut links = app.sensors.links();
    links.retain(|id, link| wanted.get(id) == Some(&link.address));
    for (place, address) in wanted {
        if links.contains_key(&place) {
            continue;
        }
        let notebook = Notebook {
            place,
            store: app.store.clone(),
            clock: app.clock.clone(),
            events: app.events.clone(),
        };
        links.insert(place, Link::to(&address, notebook));
    }
}

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
