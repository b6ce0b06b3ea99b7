//! Runs in smoker, oven and pot: their lines, which only grow, and the readings of their probes.

use crate::beside::{self, PROBES, PROBES_STRUCK, RUN_EVENTS, RUN_WRITES, RUNS, THINNED};
use crate::readings::{Logged, Source};
use crate::{Request, Store, StoreError, WriteError};
use jiff::{Timestamp, ToSpan};
use manifest_core::caution::Finding;
use manifest_core::house::House;
use manifest_core::ids::RunId;
use manifest_core::ledger::book::Book;
use manifest_core::place::climate::Read;
use manifest_core::run::{Event, ProbeNo, ProbeReadings, Run, RunAct, Runs, Watched, thin};
use manifest_core::units::Celsius;
use rusqlite::{Connection, OptionalExtension, params};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::{Arc, PoisonError};

/// A line to be written.
#[derive(Clone, Debug, PartialEq)]
pub struct NewEvent {
    /// When it happened.
    pub at: Timestamp,
    /// What.
    pub act: RunAct,
    /// What gave pause, and was kept.
    pub kept: Vec<Finding>,
    /// Why, where it went past a stop.
    pub reason: Option<String>,
}

/// A line as it is stored, beside its number and its time.
#[derive(Serialize, Deserialize)]
struct Content {
    #[serde(flatten)]
    act: RunAct,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    kept: Vec<Finding>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    reason: Option<String>,
}

/// A reading of a probe to be written.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct NewProbeReading {
    /// The probe.
    pub probe: ProbeNo,
    /// What it said, and when.
    pub read: Read,
}

/// What a write to a run left.
#[derive(Clone, Debug, PartialEq)]
pub struct RunWritten {
    /// The run.
    pub run: RunId,
    /// The lines it wrote.
    pub events: Vec<i64>,
    /// True when the same request had been written before.
    pub repeated: bool,
}

const fn source_no(source: Source) -> i64 {
    match source {
        Source::Hand => 0,
        Source::Csv => 1,
        Source::Sensor => 2,
    }
}

/// Every run with its readings that count.
pub fn all(conn: &Connection) -> Result<Runs, StoreError> {
    let mut events: BTreeMap<RunId, Vec<Event>> = BTreeMap::new();
    let mut statement =
        conn.prepare("SELECT id, run_id, at, content FROM run_event ORDER BY id")?;
    let mut rows = statement.query([])?;
    while let Some(row) = rows.next()? {
        let content: String = row.get("content")?;
        let Content { act, kept, reason } =
            serde_json::from_str(&content).map_err(StoreError::Json)?;
        let at: String = row.get("at")?;
        events
            .entry(RunId(row.get("run_id")?))
            .or_default()
            .push(Event {
                no: row.get("id")?,
                at: at.parse().unwrap_or_default(),
                act,
                kept,
                reason,
            });
    }
    let runs = events.into_iter().filter_map(|(id, e)| Run::of(id, e));
    let runs: Vec<Run> = runs.collect();
    let mut found = Runs::default();
    for run in runs {
        // What a verdict rests on is read again whenever it is asked; long over, a run is thinned.
        let readings = readings_of(conn, run.id)?;
        found.0.insert(run.id, Arc::new(Watched { run, readings }));
    }
    Ok(found)
}

/// The readings of a run that count.
fn readings_of(conn: &Connection, run: RunId) -> Result<ProbeReadings, StoreError> {
    let mut statement = conn.prepare_cached(
        "SELECT probe, at_s, milli_c FROM probe_reading AS r
          WHERE run_id = ?1 AND NOT EXISTS
                (SELECT 1 FROM probe_struck AS s
                  WHERE s.run_id = r.run_id AND s.probe = r.probe AND r.at_s BETWEEN s.from_s AND s.to_s)
          ORDER BY probe, at_s",
    )?;
    let mut rows = statement.query([run.0])?;
    let mut found: BTreeMap<ProbeNo, Vec<Read>> = BTreeMap::new();
    while let Some(row) = rows.next()? {
        found.entry(row.get("probe")?).or_default().push(Read {
            at: Timestamp::from_second(row.get("at_s")?).unwrap_or_default(),
            temperature: Celsius(row.get::<_, i64>("milli_c")? as f64 / 1_000.0),
        });
    }
    let found = found.into_iter().map(|(no, all)| (no, Arc::new(all)));
    Ok(ProbeReadings(found.collect()))
}

impl Store {
    /// Writes lines of a run, or a new run with its first ones, as one transaction, or nothing.
    ///
    /// # Errors
    /// What `ask` says, or that the file cannot be written.
    pub fn write_run<E>(
        &self,
        request: Request<'_>,
        run: Option<RunId>,
        ask: impl FnOnce(&Book, &House) -> Result<Vec<NewEvent>, E>,
    ) -> Result<RunWritten, WriteError<E>> {
        let mut file = self.file();
        self.writable(&mut file)?;
        if let Some(key) = request.key {
            let earlier = file
                .conn
                .prepare_cached(
                    "SELECT id, run_id, fingerprint FROM run_write WHERE idempotency_key = ?1",
                )?
                .query_row([key], |row| {
                    let fingerprint: String = row.get("fingerprint")?;
                    Ok((
                        row.get::<_, i64>("id")?,
                        row.get::<_, i64>("run_id")?,
                        fingerprint,
                    ))
                })
                .optional()?;
            if let Some((write, run, fingerprint)) = earlier {
                if fingerprint != request.fingerprint {
                    return Err(WriteError::KeyReused);
                }
                let mut of = file
                    .conn
                    .prepare_cached("SELECT id FROM run_event WHERE write_id = ?1 ORDER BY id")?;
                let events = of.query_map([write], |row| row.get("id"))?;
                return Ok(RunWritten {
                    run: RunId(run),
                    events: events.collect::<Result<_, _>>()?,
                    repeated: true,
                });
            }
        }
        let new = self.read(|book, home| ask(book, home).map_err(WriteError::Asked))?;
        let now = request.now.to_string();
        let transaction = file.conn.transaction()?;
        let mut written = RunWritten {
            run: RunId(0),
            events: Vec::new(),
            repeated: false,
        };
        let mut events: Vec<Event> = Vec::new();
        {
            written.run = match run {
                Some(id) => id,
                None => {
                    transaction.execute("INSERT INTO run (recorded_at) VALUES (?1)", [&now])?;
                    let id = transaction.last_insert_rowid();
                    RUNS.added(&transaction, "id = ?1", [id])?;
                    RunId(id)
                }
            };
            transaction.execute(
                "INSERT INTO run_write (run_id, idempotency_key, fingerprint, recorded_at) VALUES (?1, ?2, ?3, ?4)",
                params![written.run.0, request.key, request.fingerprint, now],
            )?;
            let write = transaction.last_insert_rowid();
            RUN_WRITES.added(&transaction, "id = ?1", [write])?;
            let mut insert = transaction.prepare_cached(
                "INSERT INTO run_event (run_id, write_id, at, content) VALUES (?1, ?2, ?3, ?4)",
            )?;
            for event in new {
                let content = Content {
                    act: event.act,
                    kept: event.kept,
                    reason: event.reason,
                };
                let json = serde_json::to_string(&content).map_err(StoreError::Json)?;
                insert.execute(params![written.run.0, write, event.at.to_string(), json])?;
                let no = transaction.last_insert_rowid();
                written.events.push(no);
                events.push(Event {
                    no,
                    at: event.at,
                    act: content.act,
                    kept: content.kept,
                    reason: content.reason,
                });
            }
            let mut lines = RUN_EVENTS.adding();
            for no in &written.events {
                lines.row(&transaction, "id = ?1", [no])?;
            }
            lines.put(&transaction)?;
        }
        let writes = beside::counted(&transaction)?;
        transaction.commit()?;
        self.counted(&mut file, writes)?;
        self.change_run(written.run, |watched| {
            let mut all = watched.map(|w| w.run.events.clone()).unwrap_or_default();
            all.extend(events);
            let readings = watched.map(|w| w.readings.clone()).unwrap_or_default();
            Run::of(written.run, all).map(|run| Watched { run, readings })
        });
        drop(file);
        Ok(written)
    }

    fn change_run(&self, id: RunId, to: impl FnOnce(Option<&Watched>) -> Option<Watched>) {
        let mut home = self.home.write().unwrap_or_else(PoisonError::into_inner);
        let runs = Arc::make_mut(&mut home.runs);
        if let Some(new) = to(runs.0.get(&id).map(|w| &**w)) {
            runs.0.insert(id, Arc::new(new));
        }
    }

    /// Writes readings of a run's probes down, all or none; of two of one probe and second the first stays.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn log_probes(
        &self,
        run: RunId,
        new: &[NewProbeReading],
        source: Source,
    ) -> Result<Logged, StoreError> {
        let mut file = self.file();
        self.writable(&mut file)?;
        let mut logged = Logged::default();
        let mut added: BTreeMap<ProbeNo, Vec<Read>> = BTreeMap::new();
        let transaction = file.conn.transaction()?;
        {
            let mut insert = transaction.prepare_cached(
                "INSERT INTO probe_reading (run_id, probe, at_s, milli_c, source) VALUES (?1, ?2, ?3, ?4, ?5)
                 ON CONFLICT DO NOTHING",
            )?;
            let mut sums = PROBES.adding();
            for NewProbeReading { probe, read } in new {
                let (at, milli) = (
                    read.at.as_second(),
                    (read.temperature.0 * 1_000.0).round() as i64,
                );
                if insert.execute(params![run.0, probe, at, milli, source_no(source)])? == 1 {
                    let new = params![run.0, probe, at];
                    sums.row(
                        &transaction,
                        "run_id = ?1 AND probe = ?2 AND at_s = ?3",
                        new,
                    )?;
                    logged.added += 1;
                    added.entry(*probe).or_default().push(Read {
                        at: Timestamp::from_second(at).unwrap_or_default(),
                        temperature: Celsius(milli as f64 / 1_000.0),
                    });
                } else {
                    logged.doubled += 1;
                }
            }
            sums.put(&transaction)?;
        }
        let writes = match logged.added {
            0 => return Ok(logged),
            _ => beside::counted(&transaction)?,
        };
        transaction.commit()?;
        self.counted(&mut file, writes)?;
        if logged.added > 0 {
            let mut home = self.home.write().unwrap_or_else(PoisonError::into_inner);
            let runs = Arc::make_mut(&mut home.runs);
            if let Some(watched) = runs.0.get_mut(&run) {
                let watched = Arc::make_mut(watched);
                for (probe, reads) in &added {
                    watched.readings.take(*probe, reads);
                }
            }
        }
        drop(file);
        Ok(logged)
    }

    /// Strikes a stretch of a probe's readings out, for a reason. Says how many counted until now.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn strike_probe(
        &self,
        run: RunId,
        probe: ProbeNo,
        (from, to): (Timestamp, Timestamp),
        reason: &str,
        now: Timestamp,
    ) -> Result<usize, StoreError> {
        let mut file = self.file();
        self.writable(&mut file)?;
        let before = readings_of(&file.conn, run)?;
        let transaction = file.conn.transaction()?;
        transaction.execute(
            "INSERT INTO probe_struck (run_id, probe, from_s, to_s, reason, recorded_at) VALUES (?1, ?2, ?3, ?4, ?5, ?6)",
            params![run.0, probe, from.as_second(), to.as_second(), reason, now.to_string()],
        )?;
        let new = transaction.last_insert_rowid();
        PROBES_STRUCK.added(&transaction, "id = ?1", [new])?;
        let after = readings_of(&transaction, run)?;
        let struck = before.count() - after.count();
        if struck == 0 {
            return Ok(0);
        }
        let writes = beside::counted(&transaction)?;
        transaction.commit()?;
        self.counted(&mut file, writes)?;
        self.change_run(run, |watched| {
            watched.map(|w| Watched {
                run: w.run.clone(),
                readings: after,
            })
        });
        drop(file);
        Ok(struck)
    }

    /// A run with its readings.
    #[must_use]
    pub fn watched(&self, id: RunId) -> Option<Arc<Watched>> {
        self.read(|_, home| home.runs.get(id).cloned())
    }

    /// Thins the readings of runs that were over long ago, each as a whole, once. Says how many were dropped.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn thin_runs(&self, now: Timestamp) -> Result<usize, StoreError> {
        let due = now
            .saturating_sub((thin::AFTER_DAYS * 24).hours())
            .unwrap_or(now);
        let over: Vec<RunId> = self.read(|_, home| {
            let all = home.runs.0.values();
            let over = all.filter(|w| w.run.ended.is_some_and(|at| at <= due));
            over.map(|w| w.run.id).collect()
        });
        let mut dropped_in_all = 0;
        for id in over {
            let mut file = self.file();
            let known = "SELECT 1 FROM run_thinned WHERE run_id = ?1";
            if file.conn.prepare_cached(known)?.exists([id.0])? {
                continue;
            }
            self.writable(&mut file)?;
            let all = readings_of(&file.conn, id)?;
            let transaction = file.conn.transaction()?;
            let mut dropped = 0;
            // First the row that allows it.
            transaction.execute(
                "INSERT INTO run_thinned (run_id, kept, dropped, recorded_at) VALUES (?1, 0, 0, ?2)",
                params![id.0, now.to_string()],
            )?;
            PROBES.dropped(&transaction, "run_id = ?1", [id.0])?;
            {
                let mut drop = transaction.prepare_cached(
                    "DELETE FROM probe_reading WHERE run_id = ?1 AND probe = ?2 AND at_s = ?3",
                )?;
                for (probe, reads) in &all.0 {
                    let kept = thin::kept(reads);
                    for (read, _) in reads.iter().zip(&kept).filter(|(_, k)| !**k) {
                        drop.execute(params![id.0, probe, read.at.as_second()])?;
                        dropped += 1;
                    }
                }
            }
            transaction.execute(
                "UPDATE run_thinned SET kept = ?2, dropped = ?3 WHERE run_id = ?1",
                params![id.0, (all.count() - dropped) as i64, dropped as i64],
            )?;
            PROBES.added(&transaction, "run_id = ?1", [id.0])?;
            THINNED.added(&transaction, "run_id = ?1", [id.0])?;
            let writes = beside::counted(&transaction)?;
            transaction.commit()?;
            self.counted(&mut file, writes)?;
            drop(file);
            let mut thinned = BTreeMap::new();
            for (probe, reads) in all.0 {
                let kept = thin::kept(&reads);
                let left = reads.iter().zip(kept).filter(|(_, k)| *k);
                thinned.insert(probe, Arc::new(left.map(|(r, _)| *r).collect()));
            }
            self.change_run(id, |watched| {
                watched.map(|w| Watched {
                    run: w.run.clone(),
                    readings: ProbeReadings(thinned),
                })
            });
            dropped_in_all += dropped;
        }
        Ok(dropped_in_all)
    }

    /// By how much a run was thinned: readings kept and dropped, where it was.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn thinned(&self, run: RunId) -> Result<Option<(u64, u64)>, StoreError> {
        let file = self.file();
        let found = file
            .conn
            .prepare_cached("SELECT kept, dropped FROM run_thinned WHERE run_id = ?1")?
            .query_row([run.0], |row| {
                Ok((row.get::<_, i64>("kept")?, row.get::<_, i64>("dropped")?))
            })
            .optional()?;
        Ok(found.map(|(kept, dropped)| (kept.unsigned_abs(), dropped.unsigned_abs())))
    }
}
