//! The made-up fridge over a real connection: moved on, silent, garbled, doubled, and gone and back.

use jiff::Timestamp;
use manifest_devices::fridge;
use manifest_devices::link::{Link, Listener, State, Taken};
use manifest_devices::made_up::{DeviceClock, serve};
use manifest_devices::protocol::Said;
use std::io::Write;
use std::net::TcpListener;
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

#[derive(Clone)]
struct Notebook {
    now: Arc<Mutex<Timestamp>>,
    read: Arc<Mutex<Vec<Said>>>,
}

impl Listener for Notebook {
    fn clock(&self) -> Option<Timestamp> {
        Some(*self.now.lock().unwrap())
    }

    fn look(&mut self) {}

    fn script(&self) -> Vec<String> {
        Vec::new()
    }

    fn since(&self) -> Timestamp {
        let read = self.read.lock().unwrap();
        read.last()
            .map_or_else(|| at("2026-11-20T00:00:00Z"), |r| r.at)
    }

    fn take(&mut self, readings: &[Said]) -> Taken {
        self.read.lock().unwrap().extend(readings);
        Taken {
            taken: readings.len() as u64,
            ..Taken::default()
        }
    }
}

fn at(text: &str) -> Timestamp {
    text.parse().unwrap()
}

fn notebook() -> Notebook {
    Notebook {
        now: Arc::new(Mutex::new(at("2026-11-20T06:00:00Z"))),
        read: Arc::default(),
    }
}

fn fridge_at(listener: TcpListener) {
    std::thread::spawn(move || serve(&listener, &DeviceClock::told(), &fridge::device()));
}

/// Waits until it is so.
fn until(what: &str, is: impl Fn() -> bool) {
    let end = Instant::now() + Duration::from_secs(20);
    while !is() {
        assert!(Instant::now() < end, "never: {what}");
        std::thread::sleep(Duration::from_millis(20));
    }
}

#[test]
fn its_readings_follow_the_listeners_clock_and_come_once_each() {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let address = listener.local_addr().unwrap().to_string();
    fridge_at(listener);
    let notes = notebook();
    let link = Link::to(&address, notes.clone());
    let newest = |notes: &Notebook| notes.read.lock().unwrap().last().map(|r| r.at);
    until("six hours of readings", || {
        newest(&notes) == Some(at("2026-11-20T06:00:00Z"))
    });
    *notes.now.lock().unwrap() = at("2026-11-24T06:00:00Z");
    until("four days more", || {
        newest(&notes) == Some(at("2026-11-24T06:00:00Z"))
    });
    let read = notes.read.lock().unwrap();
    assert!(read.is_sorted_by(|a, b| a.at < b.at));
    assert!(
        read.iter().any(|r| r.temperature.0 > 7.0),
        "a warm afternoon"
    );
    until("what came is counted", || {
        link.standing().heard.readings == read.len() as u64
    });
    let heard = link.standing().heard;
    assert!(
        heard.garbled > 5 && heard.doubled > 5 && heard.lost > 5,
        "{heard:?}"
    );
    assert_eq!(link.standing().state, State::Answers);
}

#[test]
fn one_that_talks_rubbish_or_goes_away_is_survived_and_asked_again_where_it_broke_off() {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let address = listener.local_addr().unwrap();
    let notes = notebook();
    let rubbish = std::thread::spawn(move || {
        let (mut stream, _) = listener.accept().unwrap();
        stream.write_all(b"THERMOMETER 1\n\xff\xfe\x00\n").unwrap();
        stream.write_all(&[b'x'; 5_000]).unwrap();
        let first = at("2026-11-20T01:00:00Z").as_second() / fridge::EVERY_S;
        let is_whole =
            |l: &Vec<String>| l.len() == 1 && manifest_devices::protocol::read(&l[0]).is_ok();
        let good = (first..).map(fridge::lines).find(is_whole).unwrap();
        stream
            .write_all(format!("\n{}\n", good[0]).as_bytes())
            .unwrap();
        std::thread::sleep(Duration::from_millis(300));
    });
    let link = Link::to(&address.to_string(), notes.clone());
    until("the one good line", || {
        notes.read.lock().unwrap().len() == 1
    });
    rubbish.join().unwrap();
    until("it hung up", || {
        matches!(link.standing().state, State::Unreachable(_))
    });
    assert!(link.standing().heard.garbled >= 2);
    fridge_at(TcpListener::bind(address).unwrap());
    until("it is back", || {
        let read = notes.read.lock().unwrap();
        read.last()
            .is_some_and(|r| r.at == at("2026-11-20T06:00:00Z"))
    });
    let read = notes.read.lock().unwrap();
    assert!(
        read.is_sorted_by(|a, b| a.at < b.at),
        "asked from where it broke off"
    );
}
