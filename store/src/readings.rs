//! How warm the household's places were: rows beside the ledger that are never changed, only struck out.

use crate::beside::{self, READINGS, STRUCK};
use crate::{Store, StoreError};
use jiff::{SignedDuration, Timestamp};
use manifest_core::place::PlaceId;
use manifest_core::place::air::Aired;
use manifest_core::place::climate::{Climate, PlaceLog};
use manifest_core::units::{Celsius, Fraction};
use rusqlite::{Connection, Row, Transaction, params};
use std::collections::BTreeSet;
use std::sync::{Arc, PoisonError};

/// Where a reading came from.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Source {
    /// Typed.
    Hand,
    /// Out of a file.
    Csv,
    /// From a thermometer that speaks for itself.
    Sensor,
}

impl Source {
    /// Its word in the file.
    #[must_use]
    pub const fn word(self) -> &'static str {
        match self {
            Self::Hand => "hand",
            Self::Csv => "csv",
            Self::Sensor => "sensor",
        }
    }

    fn of(word: &str) -> Self {
        match word {
            "csv" => Self::Csv,
            "sensor" => Self::Sensor,
            _ => Self::Hand,
        }
    }
}

/// A reading to be written down.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct NewReading {
    /// When.
    pub at: Timestamp,
    /// How warm.
    pub temperature: Celsius,
    /// How damp.
    pub humidity: Option<Fraction>,
}

/// A reading as it was written down.
#[derive(Clone, Debug, PartialEq)]
pub struct Reading {
    /// Its number.
    pub id: i64,
    /// When.
    pub at: Timestamp,
    /// How warm.
    pub temperature: Celsius,
    /// How damp.
    pub humidity: Option<Fraction>,
    /// Where it came from.
    pub source: Source,
    /// The number of those that it was written down with.
    pub batch: i64,
    /// Why it does not count, where it was struck out.
    pub struck: Option<String>,
}

/// What came of writing readings down.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Logged {
    /// New ones.
    pub added: usize,
    /// Those that were there already.
    pub doubled: usize,
    /// The number under which the new ones can be struck out together.
    pub batch: Option<i64>,
}

fn milli(temperature: Celsius) -> i64 {
    (temperature.0 * 1_000.0).round() as i64
}

fn read_of(row: &Row<'_>) -> rusqlite::Result<Aired> {
    let permille: Option<i64> = row.get("humidity_permille")?;
    Ok(Aired {
        at: Timestamp::from_second(row.get("at_s")?).unwrap_or_default(),
        temperature: Celsius(row.get::<_, i64>("milli_c")? as f64 / 1_000.0),
        humidity: permille.map(|n| Fraction(n as f64 / 1_000.0)),
    })
}

fn reading_of(row: &Row<'_>) -> rusqlite::Result<Reading> {
    let Aired {
        at,
        temperature,
        humidity,
    } = read_of(row)?;
    Ok(Reading {
        id: row.get("id")?,
        at,
        temperature,
        humidity,
        source: Source::of(&row.get::<_, String>("source")?),
        batch: row.get("batch")?,
        struck: row.get("reason")?,
    })
}

/// What the readings of every place say.
pub fn climate(conn: &Connection) -> Result<Climate, StoreError> {
    let mut climate = Climate::default();
    let mut statement = conn.prepare(
        "SELECT place_id, at_s, milli_c, humidity_permille
           FROM reading
          WHERE id NOT IN (SELECT reading_id FROM reading_struck)
          ORDER BY place_id, at_s, id",
    )?;
    let mut rows = statement.query([])?;
    while let Some(row) = rows.next()? {
        climate.take(row.get("place_id")?, read_of(row)?);
    }
    Ok(climate)
}

/// What the readings of one place say, worked out from all of them.
fn place_log(conn: &Connection, place: PlaceId) -> Result<PlaceLog, StoreError> {
    let mut statement = conn.prepare_cached(
        "SELECT at_s, milli_c, humidity_permille
           FROM reading
          WHERE place_id = ?1 AND id NOT IN (SELECT reading_id FROM reading_struck)
          ORDER BY at_s, id",
    )?;
    let reads = statement.query_map([place], read_of)?;
    let reads: Vec<Aired> = reads.collect::<Result<_, _>>()?;
    Ok(PlaceLog::of_aired(reads))
}

/// Why a reading that was moved no longer counts where it stood.
const SET_RIGHT: &str = "the clock was wrong, and was set right";

/// Moves readings that are newer than the present back by the difference by which a wrong clock was ahead: struck out
/// where they stood, written down where they belong. Gives their places.
pub(crate) fn set_back(
    transaction: &Transaction<'_>,
    by: SignedDuration,
    now: Timestamp,
) -> Result<BTreeSet<PlaceId>, StoreError> {
    let last = "SELECT coalesce(max(id), 0) + 1 FROM reading";
    let batch: i64 = transaction.query_row(last, [], |row| row.get(0))?;
    let said = now.to_string();
    let mut newer = transaction.prepare(
        "SELECT id, place_id FROM reading
          WHERE at_s > ?1 AND id NOT IN (SELECT reading_id FROM reading_struck)",
    )?;
    let newer = newer.query_map([now.as_second()], |row| Ok((row.get(0)?, row.get(1)?)))?;
    let newer: Vec<(i64, PlaceId)> = newer.collect::<Result<_, _>>()?;
    let mut sums = STRUCK.adding();
    for (id, _) in &newer {
        transaction.execute(
            "INSERT INTO reading (place_id, at_s, milli_c, humidity_permille, source, batch, recorded_at)
             SELECT place_id, at_s - ?2, milli_c, humidity_permille, source, ?3, ?4 FROM reading WHERE id = ?1
             ON CONFLICT DO NOTHING",
            params![id, by.as_secs(), batch, said],
        )?;
        transaction.execute(
            "INSERT INTO reading_struck (reading_id, reason, recorded_at) VALUES (?1, ?2, ?3)",
            params![id, SET_RIGHT, said],
        )?;
        sums.row(transaction, "reading_id = ?1", [id])?;
    }
    sums.put(transaction)?;
    READINGS.added(transaction, "id >= ?1", [batch])?;
    Ok(newer.into_iter().map(|(_, place)| place).collect())
}

impl Store {
    /// What those places were like, from what stands in the file.
    pub(crate) fn lives_anew_in(
        &self,
        conn: &Connection,
        places: &BTreeSet<PlaceId>,
    ) -> Result<(), StoreError> {
        let mut climate = self.read(|_, home| (*home.climate).clone());
        for place in places {
            climate.put(*place, place_log(conn, *place)?);
        }
        self.lives_in(climate);
        Ok(())
    }

    /// Writes readings of a place down, all or none; one that is there already is counted, not doubled.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn log(
        &self,
        place: PlaceId,
        readings: &[NewReading],
        source: Source,
        now: Timestamp,
    ) -> Result<Logged, StoreError> {
        let mut file = self.file();
        self.writable(&mut file)?;
        let mut logged = Logged::default();
        let mut added: Vec<Aired> = Vec::new();
        let transaction = file.conn.transaction()?;
        {
            let last = "SELECT coalesce(max(id), 0) + 1 FROM reading";
            let batch: i64 = transaction.query_row(last, [], |row| row.get(0))?;
            let mut insert = transaction.prepare_cached(
                "INSERT INTO reading (place_id, at_s, milli_c, humidity_permille, source, batch, recorded_at)
                 VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7)
                 ON CONFLICT DO NOTHING",
            )?;
            let now = now.to_string();
            for new in readings {
                let humidity = new.humidity.map(|h| (h.0 * 1_000.0).round() as i64);
                let (at, temperature) = (new.at.as_second(), milli(new.temperature));
                let word = source.word();
                if insert.execute(params![place, at, temperature, humidity, word, batch, now])? == 1
                {
                    logged.added += 1;
                    logged.batch = Some(batch);
                    added.push(Aired {
                        at: Timestamp::from_second(at).unwrap_or_default(),
                        temperature: Celsius(temperature as f64 / 1_000.0),
                        humidity: humidity.map(|n| Fraction(n as f64 / 1_000.0)),
                    });
                } else {
                    logged.doubled += 1;
                }
            }
        }
        let writes = match logged.batch {
            Some(batch) => {
                READINGS.added(&transaction, "id >= ?1", [batch])?;
                beside::counted(&transaction)?
            }
            None => return Ok(logged),
        };
        transaction.commit()?;
        self.counted(&mut file, writes)?;
        added.sort_by_key(|r| r.at);
        let mut climate = self.read(|_, home| (*home.climate).clone());
        let newest = climate.place(place).and_then(PlaceLog::last);
        if newest.is_none_or(|n| n.at < added[0].at) {
            for read in added {
                climate.take(place, read);
            }
        } else {
            climate.put(place, place_log(&file.conn, place)?);
        }
        self.lives_in(climate);
        Ok(logged)
    }

    /// Strikes readings of a place out, for a reason: they count no more. Says how many counted until now.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn strike(
        &self,
        place: PlaceId,
        readings: &[i64],
        batch: Option<i64>,
        reason: &str,
        now: Timestamp,
    ) -> Result<usize, StoreError> {
        let mut file = self.file();
        self.writable(&mut file)?;
        let transaction = file.conn.transaction()?;
        let mut struck = 0;
        {
            let mut one = transaction.prepare_cached(
                "INSERT INTO reading_struck (reading_id, reason, recorded_at)
                 SELECT id, ?3, ?4 FROM reading WHERE place_id = ?1 AND id = ?2
                 ON CONFLICT DO NOTHING RETURNING reading_id",
            )?;
            let now = now.to_string();
            let mut new: Vec<i64> = Vec::new();
            for id in readings {
                let ids = one.query_map(params![place, id, reason, now], |row| row.get(0))?;
                new.extend(ids.collect::<Result<Vec<i64>, _>>()?);
            }
            if let Some(batch) = batch {
                let mut all = transaction.prepare_cached(
                    "INSERT INTO reading_struck (reading_id, reason, recorded_at)
                     SELECT id, ?3, ?4 FROM reading WHERE place_id = ?1 AND batch = ?2
                     ON CONFLICT DO NOTHING RETURNING reading_id",
                )?;
                let ids = all.query_map(params![place, batch, reason, now], |row| row.get(0))?;
                new.extend(ids.collect::<Result<Vec<i64>, _>>()?);
            }
            let mut sums = STRUCK.adding();
            for id in &new {
                sums.row(&transaction, "reading_id = ?1", [id])?;
            }
            sums.put(&transaction)?;
            struck += new.len();
        }
        let writes = beside::counted(&transaction)?;
        transaction.commit()?;
        self.counted(&mut file, writes)?;
        if struck > 0 {
            let mut climate = self.read(|_, home| (*home.climate).clone());
            climate.put(place, place_log(&file.conn, place)?);
            self.lives_in(climate);
        }
        Ok(struck)
    }

    /// The readings of a place between two moments, the newest first, at most so many.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn readings(
        &self,
        place: PlaceId,
        (from, to): (Timestamp, Timestamp),
        most: usize,
    ) -> Result<Vec<Reading>, StoreError> {
        let file = self.file();
        let mut statement = file.conn.prepare_cached(
            "SELECT id, at_s, milli_c, humidity_permille, source, batch, reason
               FROM reading LEFT JOIN reading_struck ON reading_id = id
              WHERE place_id = ?1 AND at_s BETWEEN ?2 AND ?3
              ORDER BY at_s DESC, id DESC
              LIMIT ?4",
        )?;
        let most = i64::try_from(most).unwrap_or(i64::MAX);
        let rows = statement.query_map(
            params![place, from.as_second(), to.as_second(), most],
            reading_of,
        )?;
        Ok(rows.collect::<Result<_, _>>()?)
    }

    /// What its places were like, from now on.
    fn lives_in(&self, climate: Climate) {
        let mut home = self.home.write().unwrap_or_else(PoisonError::into_inner);
        home.climate = Arc::new(climate);
    }
}
