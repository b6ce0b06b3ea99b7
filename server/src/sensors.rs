//! Thermometers of the household's places: each place that names one is listened to for as long as it does.

use crate::App;
use crate::clock::Clock;
use actix_web::web::Data;
use jiff::{SignedDuration, Timestamp, ToSpan};
use manifest_core::catalogue::place_kinds::PlaceUse;
use manifest_core::caution::{Code, Finding, Severity};
use manifest_core::house::House;
use manifest_core::ids::RunId;
use manifest_core::place::air::Aired;
use manifest_core::place::equipment::PRACTICE_SENSOR;
use manifest_core::place::live::Thinner;
use manifest_core::place::{Place, PlaceId};
use manifest_core::run::{ProbeLocation, Run, Watched};
use manifest_core::units::show;
use manifest_devices::link::{Link, Listener, Standing, State, Taken};
use manifest_devices::made_up::{DeviceClock, serve};
use manifest_devices::probes::{self, Script};
use manifest_devices::protocol::Said;
use manifest_devices::{chamber, fridge};
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

/// So much later than now a reading may be: two clocks differ a little (min).
const AHEAD_MIN: i64 = 2;

/// What a thermometer says of longer before it was last heard is not taken (h).
const OLD_H: i64 = 7 * 24;

/// So long beside meat without a reading that is taken is an alarm.
pub const SILENT_ALARM: Duration = Duration::from_secs(3_600);

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
    /// How often it began its numbers anew, or leapt.
    pub renumbered: u64,
    /// Readings of the future, which were not taken: its clock runs ahead.
    pub ahead: u64,
    /// Readings from long before it was last heard, which were not taken.
    pub old: u64,
    /// Readings that were said in degrees Fahrenheit.
    pub in_fahrenheit: u64,
    /// What is left of its battery, as far as it says so (%).
    pub battery: Option<u8>,
}

impl SensorView {
    fn of(address: &str, standing: &Standing) -> Self {
        let (heard, newest) = (standing.heard, standing.newest);
        let is_taken = newest.taken > 0 || (newest.ahead == 0 && newest.old == 0);
        let said = match &standing.state {
            State::Answers if !is_taken && newest.ahead > 0 => {
                "answers, but its clock runs ahead: nothing that it says is taken".into()
            }
            State::Answers if !is_taken => {
                "says only what is long past: nothing of it is taken".into()
            }
            State::Answers if heard.renumbered > 0 => {
                "answers; it began its numbers anew, and is heard on".into()
            }
            State::Starting => "being asked for the first time".into(),
            State::Answers if heard.readings == 0 => "answers; nothing measured yet".into(),
            State::Answers => "answers".into(),
            State::Silent => "connected, and silent".into(),
            State::Unreachable(why) => format!("does not answer: {why}"),
        };
        Self {
            address: address.into(),
            answers: standing.state == State::Answers && is_taken,
            said,
            garbled: heard.garbled,
            doubled: heard.doubled,
            lost: heard.lost,
            renumbered: heard.renumbered,
            ahead: standing.taken.ahead,
            old: standing.taken.old,
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

    /// Places of whose thermometer nothing was taken for an hour.
    #[must_use]
    pub fn silent(&self) -> Vec<PlaceId> {
        let links = self.links();
        let all = links.iter();
        all.filter(|(_, link)| link.standing().silent_for() >= SILENT_ALARM)
            .map(|(place, _)| *place)
            .collect()
    }

    /// What to say of a thermometer beside meat of which nothing was taken for an hour; since when is by this program's
    /// own running.
    #[must_use]
    pub fn silence(&self, place: &Place, home: &House, now: Timestamp) -> Option<Finding> {
        let links = self.links();
        let standing = links.get(&place.id)?.standing();
        silence(place, &standing, standing.silent_for(), home, now)
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

fn silence(
    place: &Place,
    standing: &Standing,
    silent: Duration,
    home: &House,
    now: Timestamp,
) -> Option<Finding> {
    if silent < SILENT_ALARM {
        return None;
    }
    let view = SensorView::of("", standing);
    let since = SignedDuration::try_from(silent).unwrap_or(SignedDuration::ZERO);
    let since = now
        .checked_sub(since)
        .unwrap_or(now)
        .to_zoned(home.settings.zone());
    let hours = silent.as_secs_f64() / 3_600.0;
    Some(
        Finding::new(
            Code::ThermometerSilent,
            Severity::Stop,
            format!(
                "Nobody knows how warm {} is: nothing from its thermometer.",
                place.name
            ),
        )
        .saw(format!(
            "nothing since {}, {} h; {}",
            since.strftime("%Y-%m-%d %H:%M"),
            show::trim(hours, 1),
            view.said
        ))
        .remedy("Look at another thermometer and type what it says. Then see to this one: its power, its network, its clock."),
    )
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
            .settings
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
            Link::to(&address, Notebook::new(place, app))
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
            let mut open = home.runs.open();
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

    fn take(&mut self, readings: &[Said]) -> Taken {
        let Some(watched) = self.open() else {
            // Nothing lies in it: nobody asks how warm it is.
            self.waiting.clear();
            self.run = None;
            return Taken {
                taken: readings.len() as u64,
                ..Taken::default()
            };
        };
        if self.run != Some(watched.run.id) {
            self.write();
            self.run = Some(watched.run.id);
        }
        let now = self.clock.now();
        let mut taken = Taken::default();
        for said in readings {
            if said.at > latest(now) {
                taken.ahead += 1;
            } else if said.at < watched.run.begun {
                taken.old += 1;
            } else {
                taken.taken += 1;
                self.waiting.extend(said.probe.map(|probe| NewProbeReading {
                    probe,
                    read: manifest_core::place::climate::Read {
                        at: said.at,
                        temperature: said.temperature,
                    },
                }));
            }
        }
        taken
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
        let thick = piece.thickness_now().map_or(UNKNOWN_MM, |t| t.0);
        lines.push(format!("MEAT {} {} {thick} 4", first.from, id.0));
        if let Some(left) = run.left(id, book) {
            lines.push(format!("PULLED {left} {}", id.0));
        }
    }
    for (probe, seats) in &run.probes {
        for seat in seats {
            let place = match &seat.seat {
                ProbeLocation::Piece(id) => id.0.to_string(),
                ProbeLocation::Chamber(_) => "AIR".into(),
                ProbeLocation::Out => "OUT".into(),
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
    thinner: Option<Thinner>,
}

impl Notebook {
    fn new(place: PlaceId, app: &App) -> Self {
        Self {
            place,
            store: app.store.clone(),
            clock: app.clock.clone(),
            events: app.events.clone(),
            thinner: None,
        }
    }

    /// The newest reading that is kept; what a wrong clock dated into the future says nothing about now.
    fn last(&self) -> Option<Aired> {
        let now = self.clock.now();
        self.store.read(|_, home| {
            let log = home.climate.place(self.place)?;
            let all = log.aired();
            all.into_iter().rev().find(|r| r.at <= latest(now))
        })
    }
}

/// A little after now: two clocks differ.
fn latest(now: Timestamp) -> Timestamp {
    now.saturating_add(AHEAD_MIN.minutes()).unwrap_or(now)
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

    fn take(&mut self, readings: &[Said]) -> Taken {
        let now = self.clock.now();
        let last = self.last();
        // What was struck out, set right or typed meanwhile is gone on from.
        let mut thinner = match self.thinner.take() {
            Some(thinner) if thinner.newest().map(|r| r.at) >= last.map(|r| r.at) => thinner,
            Some(_) | None => Thinner::after(last),
        };
        let heard = thinner.newest().map_or(now, |r| r.at.min(now));
        let first = heard.saturating_sub(OLD_H.hours()).unwrap_or(heard);
        let (mut new, mut taken) = (Vec::new(), Taken::default());
        for said in readings {
            if said.at > latest(now) {
                taken.ahead += 1;
                continue;
            }
            if said.at < first {
                taken.old += 1;
                continue;
            }
            taken.taken += 1;
            let kept = thinner.take(Aired {
                at: said.at,
                temperature: said.temperature,
                humidity: said.humidity,
            });
            new.extend(kept.into_iter().map(|r| NewReading {
                at: r.at,
                temperature: r.temperature,
                humidity: r.humidity,
            }));
        }
        self.thinner = Some(thinner);
        if new.is_empty() {
            return taken;
        }
        match self.store.log(self.place, &new, Source::Sensor, now) {
            Ok(_) => {
                let _ = self
                    .events
                    .send("data: {\"what\":\"places\",\"lots\":[]}\n\n".into());
            }
            Err(error) => {
                // It is said again from the last that is kept.
                self.thinner = None;
                log::error!("a reading was not written: {error}");
            }
        }
        taken
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_hour_without_a_reading_that_is_taken_is_said_with_since_when_and_why() {
        let home = House::default();
        let place: Place = serde_json::from_value(serde_json::json!({
            "id": 3, "name": "cellar fridge", "kind": "fridge", "sensor": "10.0.0.7:8480",
        }))
        .unwrap();
        let now: Timestamp = "2026-11-21T09:30:00Z".parse().unwrap();
        let said = |state: State, newest: Taken, minutes: u64| {
            let standing = Standing {
                state,
                newest,
                ..Standing::default()
            };
            let silent = Duration::from_secs(60 * minutes);
            silence(&place, &standing, silent, &home, now).map(|f| f.saw.unwrap())
        };
        let (nothing, ahead) = (
            Taken::default(),
            Taken {
                ahead: 4,
                ..Taken::default()
            },
        );
        assert_eq!(said(State::Silent, nothing, 59), None);
        for (state, newest, minutes, words) in [
            (
                State::Silent,
                nothing,
                60,
                "nothing since 2026-11-21 08:30, 1 h; connected, and silent",
            ),
            (
                State::Answers,
                ahead,
                150,
                "nothing since 2026-11-21 07:00, 2.5 h; answers, but its clock runs ahead",
            ),
            (
                State::Unreachable("it hung up".into()),
                nothing,
                90,
                "does not answer: it hung up",
            ),
        ] {
            let got = said(state, newest, minutes).unwrap();
            assert!(got.contains(words), "{got}");
        }
    }
}
