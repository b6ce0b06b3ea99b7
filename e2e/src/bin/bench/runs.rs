//! Readings of probes: what a month of them weighs and how far it is thinned, a long curve on the screen, fifty a second, and lines
//! that nobody would say.

use crate::get;
use anyhow::{Context, Result};
use jiff::Timestamp;
use manifest_core::household::Household;
use manifest_core::logfile;
use manifest_core::place::climate::Read;
use manifest_core::run::{Appliance, RunAct, RunStage, RunStageKind, StageEnd};
use manifest_core::units::Celsius;
use manifest_devices::probes::{Fault, Script, lines};
use manifest_devices::protocol::{Said, line_of};
use manifest_devices::reader::Reader;
use manifest_e2e::{Browser, Server};
use manifest_store::readings::Source;
use manifest_store::runs::{NewEvent, NewProbeReading};
use manifest_store::{Request, Store};
use serde_json::{Value, json};
use std::io::Write;
use std::net::TcpListener;
use std::time::{Duration, Instant};
use tempfile::TempDir;

const MONTH_S: i64 = 30 * 86_400;

pub fn bench() -> Result<()> {
    month()?;
    curve()?;
    live()?;
    fuzz();
    Ok(())
}

fn median(mut times: Vec<Duration>) -> Duration {
    times.sort();
    times[times.len() / 2]
}

/// Ten probes, a reading each every half minute, for a month.
fn month() -> Result<()> {
    let folder = TempDir::new()?;
    let begin: Timestamp = "2026-09-01T06:00:00Z".parse()?;
    let at = |second: i64| Timestamp::from_second(begin.as_second() + second);
    let store = Store::open(folder.path(), begin)?;
    let set_up = RunAct::SetUp {
        place: None,
        name: "cabinet".into(),
        hearth: Appliance::Smoker,
        school: None,
        stages: vec![RunStage::new(
            RunStageKind::Smoke,
            Some(Celsius(20.0)),
            StageEnd::Hours(1.0),
        )],
    };
    let event = |at, act| NewEvent {
        at,
        act,
        kept: Vec::new(),
        reason: None,
    };
    let write = |act, when: Timestamp, run| {
        let request = Request {
            key: None,
            fingerprint: "bench",
            now: when,
        };
        let ask = |_: &_, _: &_| Ok::<_, std::convert::Infallible>(vec![event(when, act)]);
        store
            .write_run(request, run, ask)
            .map_err(|e| anyhow::anyhow!("{e}"))
    };
    let run = write(set_up, begin, None)?.run;
    let size = || -> Result<f64> {
        store.gather()?;
        Ok(std::fs::metadata(folder.path().join(manifest_store::FILE))?.len() as f64 / 1e6)
    };
    let before = size()?;
    let started = Instant::now();
    let mut n = 0;
    // Warm days, cool nights, noise of a tenth, and a fire now and then.
    for hour in 0..MONTH_S / 3_600 {
        let mut new = Vec::with_capacity(1_200);
        for step in 0..120 {
            let second = hour * 3_600 + step * 30;
            for probe in 1..=10_u8 {
                let day = (second as f64 / 86_400.0 * std::f64::consts::TAU).sin();
                let fire = if hour % 72 < 6 { 60.0 } else { 0.0 };
                let noise =
                    ((second * 7_919 + i64::from(probe) * 104_729) % 21) as f64 / 100.0 - 0.1;
                let temperature = Celsius(14.0 + 4.0 * day + fire + noise);
                new.push(NewProbeReading {
                    probe,
                    read: Read {
                        at: at(second)?,
                        temperature,
                    },
                });
            }
        }
        n += store.log_probes(run, &new, Source::Sensor)?.added;
    }
    let took = started.elapsed();
    let full = size()? - before;
    write(RunAct::Ended, at(MONTH_S)?, Some(run))?;
    let started = Instant::now();
    let dropped = store.thin_runs(at(2 * MONTH_S)?)?;
    let thinning = started.elapsed();
    println!(
        "runs: {n} readings of ten probes: {full:.1} MB ({:.1} bytes each), written in {took:.1?}; thinned in {thinning:.1?} to {} ({:.1} %)",
        full * 1e6 / n as f64,
        n - dropped,
        (n - dropped) as f64 / n as f64 * 100.0
    );
    Ok(())
}

/// A slab that waits for the smoker, in a run; their numbers.
fn a_run(server: &Server, place: Option<i64>, at: &str) -> Result<(i64, i64)> {
    let entered = server.did(
        &json!([{
            "act": "under_way", "cut": "belly", "build": "belly-slab", "at": "in_cure", "since": "2026-11-01T18:00", "reading": "2 kg", "thickness": "40 mm",
            "received": {"name": "bellies", "species": "pig", "origin": "bought", "known": "bought_cut", "cut": "belly", "reading": "2 kg"},
        }]),
    )?;
    let piece = entered["pieces"][0].as_i64().context("a piece")?;
    server.did(&json!([{"act": "out_of_cure", "piece": piece, "reading": "1.95 kg"}]))?;
    let post = |path: &str, body: &Value| -> Result<Value> {
        let mut answer = ureq::post(format!("{}/api/v1{path}", server.address)).send_json(body)?;
        Ok(answer.body_mut().read_json()?)
    };
    let ask = json!({"place": place, "name": "cabinet", "pieces": [piece], "keep_as_typed": true, "happened_at": at, "stages": [{"kind": "finish", "set": "95 C"}]});
    let run = post("/runs", &ask)?["run"].as_i64().context("a run")?;
    let acts = json!({"happened_at": at, "acts": [
        {"act": "probe_set", "probe": 1, "piece": piece}, {"act": "probe_set", "probe": 2, "zone": "chamber"}, {"act": "stage_begun"}]});
    post(&format!("/runs/{run}/acts"), &acts)?;
    Ok((run, piece))
}

/// A curve of twenty thousand readings, as it is answered and as it comes to the screen.
fn curve() -> Result<()> {
    let server = Server::start_at(TempDir::new()?, false, Some("release"))?;
    let (run, _) = a_run(&server, None, "2026-11-20T06:00:00Z")?;
    let begin: Timestamp = "2026-11-20T06:00:00Z".parse()?;
    let mut csv = String::from("time,probe 1 C,probe 2 C\n");
    for i in 1..=10_000_i64 {
        let inside = 95.0 - 91.0 * (-(i as f64) / 12_000.0).exp();
        let at = Timestamp::from_second(begin.as_second() + i * 9)?;
        csv += &format!("{at},{:.1},{:.1}\n", inside, 94.0 + (i as f64 / 40.0).sin());
    }
    let address = format!("{}/api/v1/runs/{run}/file", server.address);
    ureq::post(address)
        .header("content-type", "text/csv")
        .send(csv.as_bytes())?;
    for path in [
        format!("/api/v1/runs/{run}"),
        format!("/api/v1/runs/{run}/curve"),
    ] {
        let mut times = Vec::new();
        let mut bytes = 0;
        for _ in 0..200 {
            let started = Instant::now();
            bytes = get(&server.address, &path, "identity")?.len();
            times.push(started.elapsed());
        }
        println!(
            "  {path:<28} of 20,000 readings: median {:.2?}, {} kB",
            median(times),
            bytes / 1_000
        );
    }
    let shown: Vec<f64> = tokio::runtime::Runtime::new()?.block_on(async {
        let browser = Browser::open(&server.address, 1280, 800).await?;
        let mut shown = Vec::new();
        for _ in 0..7 {
            browser.goto("/smoke").await?;
            browser.settled().await?;
            let script = "
                const done = arguments[arguments.length - 1]
                const link = [...document.querySelectorAll('a')].find((a) => a.pathname.startsWith('/smoke/runs/'))
                const from = performance.now()
                const look = () => document.querySelector('figure svg polyline')
                    ? requestAnimationFrame(() => done(performance.now() - from))
                    : requestAnimationFrame(look)
                link.click()
                look()";
            let took = browser.run_async(script).await?;
            shown.push(took.as_f64().unwrap_or(f64::NAN));
        }
        browser.close().await?;
        anyhow::Ok(shown)
    })?;
    let mut shown = shown;
    shown.sort_by(f64::total_cmp);
    println!(
        "  from the tap on the run to its curves on the screen: median {:.0} ms of {}",
        shown[shown.len() / 2],
        shown.len()
    );
    Ok(())
}

/// Fifty readings a second from a thermometer, with a page that shows them: what that costs the program.
fn live() -> Result<()> {
    let listener = TcpListener::bind("127.0.0.1:0")?;
    let address = listener.local_addr()?.to_string();
    std::thread::spawn(move || {
        let Ok((mut stream, _)) = listener.accept() else {
            return;
        };
        let _ = stream.write_all(b"THERMOMETER 1\n");
        let began = Timestamp::now().as_second() - 280;
        let mut number = 0_u64;
        loop {
            // Five rounds of ten probes a second, each with a second of its own.
            for probe in 1..=10_u8 {
                number += 1;
                let at = Timestamp::from_second(began + number as i64 / 10).unwrap_or_default();
                let temperature = Celsius(40.0 + f64::from(probe));
                let said = Said {
                    probe: Some(probe),
                    ..Said::of_place(number, at, temperature, None)
                };
                if stream
                    .write_all(format!("{}\n", line_of(&said)).as_bytes())
                    .is_err()
                {
                    return;
                }
            }
            std::thread::sleep(Duration::from_millis(200));
        }
    });
    let server = Server::start_running_as(TempDir::new()?, Some("release"))?;
    let mut home: Value =
        serde_json::from_slice(&get(&server.address, "/api/v1/settings", "identity")?)?;
    home = home["household"].take();
    home["equipment"] = json!({"scales": [], "bags": [], "oven": true, "places": [{"kind": "smoker", "name": "drum", "count": 1, "holds": 10.0, "sensor": address}]});
    server.puts("/settings", &home)?;
    let at = Timestamp::from_second(Timestamp::now().as_second() - 300)?.to_string();
    let (run, _) = a_run(&server, Some(1), &at)?;
    std::thread::sleep(Duration::from_secs(4));
    let readings = || -> Result<u64> {
        let run: Value = serde_json::from_slice(&get(
            &server.address,
            &format!("/api/v1/runs/{run}"),
            "identity",
        )?)?;
        Ok(run["readings"].as_u64().unwrap_or_default())
    };
    // user and system, in hundredths of a second
    let spent = || -> Result<u64> {
        let stat = std::fs::read_to_string(format!("/proc/{}/stat", server.pid()))?;
        let fields: Vec<&str> = stat
            .rsplit(')')
            .next()
            .unwrap_or_default()
            .split_whitespace()
            .collect();
        Ok(fields[11].parse::<u64>()? + fields[12].parse::<u64>()?)
    };
    let (cpu, first, started) = (spent()?, readings()?, Instant::now());
    while started.elapsed() < Duration::from_secs(30) {
        for path in ["", "/curve"] {
            get(
                &server.address,
                &format!("/api/v1/runs/{run}{path}"),
                "identity",
            )?;
        }
        get(&server.address, "/api/v1/runs/alarms", "identity")?;
        std::thread::sleep(Duration::from_secs(2));
    }
    let seconds = started.elapsed().as_secs_f64();
    println!(
        "  a thermometer that says {:.0} new readings a second, shown every other second: {:.1} % of one core",
        (readings()? - first) as f64 / seconds,
        (spent()? - cpu) as f64 / seconds
    );
    Ok(())
}

/// Lines and files with letters changed, cut and doubled: nothing breaks, whatever comes.
fn fuzz() {
    let begin: Timestamp = "2026-11-20T06:00:00Z".parse().unwrap_or_default();
    let until = Timestamp::from_second(begin.as_second() + 8 * 3_600).unwrap_or_default();
    let faults: Vec<Fault> = Fault::ALL.iter().map(|(f, _)| *f).collect();
    let said = lines(
        &Script::of(begin, &[30.0, 45.0, 60.0], 95.0, &faults),
        until,
    );
    let mut dice = 88_172_645_463_325_252_u64;
    let mut next = |n: usize| {
        dice ^= dice << 13;
        dice ^= dice >> 7;
        dice ^= dice << 17;
        (dice % n.max(1) as u64) as usize
    };
    let (mut taken, mut n) = (0_u64, 0_u64);
    let started = Instant::now();
    while started.elapsed() < Duration::from_secs(15) {
        let mut line = said[next(said.len())].clone().into_bytes();
        for _ in 0..next(6) {
            let at = next(line.len());
            match next(4) {
                0 => line.truncate(at),
                1 => line.insert(at, next(256) as u8),
                2 if !line.is_empty() => line[at] = next(256) as u8,
                _ => line.extend_from_within(at..),
            }
        }
        let mut reader = Reader::default();
        taken += u64::from(reader.take(&String::from_utf8_lossy(&line)).is_some());
        n += 1;
    }
    println!("  {n} lines with letters changed: {taken} taken, none did harm");
    let home = Household::default();
    let script = Script::of(begin, &[30.0, 45.0, 60.0], 95.0, &faults);
    let file = manifest_devices::probes::csv(
        &script,
        Timestamp::from_second(begin.as_second() + 3_600).unwrap_or_default(),
    )
    .into_bytes();
    let (started, mut files) = (Instant::now(), 0_u64);
    while started.elapsed() < Duration::from_secs(15) {
        let mut bytes = file.clone();
        for _ in 0..next(40) {
            let at = next(bytes.len());
            bytes[at] = next(256) as u8;
        }
        bytes.truncate(1 + next(bytes.len()));
        let text = String::from_utf8_lossy(&bytes);
        if let Ok(table) = logfile::table(&text)
            && let Ok(columns) = logfile::guess(&table, &home)
        {
            for (_, column) in logfile::probe_columns(&table, &columns) {
                std::hint::black_box(logfile::read_probe(&table, &columns, column, &home, until));
            }
        }
        files += 1;
    }
    println!("  {files} files with letters changed: none did harm");
}
