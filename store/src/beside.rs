//! What lies beside the entries and decides with them: readings of places, runs with their probes, photos. Of each day or
//! run the rows are counted and their hashes summed up, in the same write: a row that is changed, lost or slipped in
//! outside of the program does not fit.

use crate::StoreError;
use crate::photos::name_of;
use crate::seal::{Hash, Seal, hex};
use jiff::civil::Date;
use manifest_core::household::Household;
use rusqlite::types::ValueRef;
use rusqlite::{Connection, Params, Row, params};
use std::collections::BTreeMap;

/// A table whose rows are summed up.
pub struct Summed {
    table: &'static str,
    columns: &'static str,
    /// Which part of it a row belongs to, in SQL.
    part: &'static str,
    /// How a person calls a part.
    words: fn(&str, &Household) -> String,
}

fn day_of_a_place(part: &str, home: &Household) -> String {
    let (place, day) = part.split_once(':').unwrap_or((part, ""));
    let named = home.places().find(|p| p.id.to_string() == place);
    let name = named.map_or_else(|| format!("place {place}"), |p| format!("“{}”", p.name));
    let day: i64 = day.parse().unwrap_or_default();
    let first = Date::constant(1970, 1, 1);
    let day = first.saturating_add(jiff::Span::new().days(day));
    format!("the readings of {name} on {day}")
}

/// Readings of places, by place and day (UTC).
pub const READINGS: Summed = Summed {
    table: "reading",
    columns: "id, place_id, at_s, milli_c, humidity_permille, source, batch, recorded_at",
    part: "place_id || ':' || (at_s / 86400)",
    words: day_of_a_place,
};
/// Readings that were struck out.
pub const STRUCK: Summed = Summed {
    table: "reading_struck",
    columns: "reading_id, reason, recorded_at",
    part: "''",
    words: |_, _| "which readings of places were struck out".into(),
};
const fn of_runs(table: &'static str, columns: &'static str, part: &'static str) -> Summed {
    Summed {
        table,
        columns,
        part,
        words: |part, _| format!("run {part} and what its probes said"),
    }
}

/// Runs.
pub const RUNS: Summed = of_runs("run", "id, recorded_at", "id");
/// Writes of runs.
pub const RUN_WRITES: Summed = of_runs(
    "run_write",
    "id, run_id, idempotency_key, fingerprint, recorded_at",
    "run_id",
);
/// Lines of runs.
pub const RUN_EVENTS: Summed = of_runs("run_event", "id, run_id, write_id, at, content", "run_id");
/// What probes said.
pub const PROBES: Summed = of_runs(
    "probe_reading",
    "run_id, probe, at_s, milli_c, source",
    "run_id",
);
/// Stretches of them that were struck out.
pub const PROBES_STRUCK: Summed = of_runs(
    "probe_struck",
    "id, run_id, probe, from_s, to_s, reason, recorded_at",
    "run_id",
);
/// Runs that were thinned.
pub const THINNED: Summed = of_runs(
    "run_thinned",
    "run_id, kept, dropped, recorded_at",
    "run_id",
);
/// Photos; of their pictures their names are the hashes.
pub const PHOTOS: Summed = Summed {
    table: "photo",
    columns: "id, hash, kind, recorded_at",
    part: "''",
    words: |_, _| "which photos are kept".into(),
};
const ALL: [Summed; 9] = [
    READINGS,
    STRUCK,
    RUNS,
    RUN_WRITES,
    RUN_EVENTS,
    PROBES,
    PROBES_STRUCK,
    THINNED,
    PHOTOS,
];

/// How often something was written beside the entries, which only grows.
const WRITES: &str = "writes";

/// So many rows, and the sum of their hashes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
struct Sum {
    count: i64,
    sum: Hash,
}

impl Sum {
    /// Adds with carry, as numbers of 256 bits.
    fn plus(&mut self, count: i64, other: &Hash) {
        self.count += count;
        let mut carry = 0_u16;
        for (to, add) in self.sum.iter_mut().zip(other) {
            let all = u16::from(*to) + u16::from(*add) + carry;
            *to = (all & 0xff) as u8;
            carry = all >> 8;
        }
    }

    /// What adding takes it away again.
    fn negative(self) -> Self {
        let mut turned = Self {
            count: -self.count,
            sum: self.sum.map(|byte| !byte),
        };
        let mut one = [0; 32];
        one[0] = 1;
        turned.plus(0, &one);
        turned
    }
}

fn hash_of(table: &str, columns: usize, row: &Row<'_>) -> Result<Hash, rusqlite::Error> {
    let mut seal = Seal::of(table);
    for i in 0..columns {
        seal = match row.get_ref(i)? {
            ValueRef::Integer(n) => seal.int(1).int(n),
            ValueRef::Text(t) => seal.int(2).bytes(t),
            ValueRef::Blob(b) => seal.int(3).bytes(b),
            ValueRef::Null => seal.int(0),
            ValueRef::Real(x) => seal.int(4).int(x.to_bits().cast_signed()),
        };
    }
    Ok(seal.end())
}

impl Summed {
    fn sums(
        &self,
        conn: &Connection,
        of: &str,
        with: impl Params,
    ) -> Result<BTreeMap<String, Sum>, rusqlite::Error> {
        let Self {
            table,
            columns,
            part,
            ..
        } = self;
        let asked = format!("SELECT {columns}, CAST({part} AS TEXT) FROM {table} WHERE {of}");
        let mut statement = conn.prepare_cached(&asked)?;
        let width = statement.column_count() - 1;
        let mut rows = statement.query(with)?;
        let mut found: BTreeMap<String, Sum> = BTreeMap::new();
        while let Some(row) = rows.next()? {
            let part = row.get_ref(width)?.as_str()?;
            let hash = hash_of(table, width, row)?;
            match found.get_mut(part) {
                Some(sum) => sum.plus(1, &hash),
                None => {
                    let mut sum = Sum::default();
                    sum.plus(1, &hash);
                    found.insert(part.to_string(), sum);
                }
            }
        }
        Ok(found)
    }

    /// Begins to take rows in.
    pub const fn adding(&self) -> Adding<'_> {
        Adding {
            of: self,
            sums: BTreeMap::new(),
        }
    }

    /// Takes in rows that were just written, by a condition in SQL.
    pub fn added(
        &self,
        conn: &Connection,
        of: &str,
        with: impl Params,
    ) -> Result<(), rusqlite::Error> {
        for (part, sum) in self.sums(conn, of, with)? {
            put(conn, self.table, &part, sum)?;
        }
        Ok(())
    }

    /// Takes out rows that are about to be deleted.
    pub fn dropped(
        &self,
        conn: &Connection,
        of: &str,
        with: impl Params,
    ) -> Result<(), rusqlite::Error> {
        for (part, sum) in self.sums(conn, of, with)? {
            put(conn, self.table, &part, sum.negative())?;
        }
        Ok(())
    }
}

/// Rows that are summed up one by one and put down together.
pub struct Adding<'a> {
    of: &'a Summed,
    sums: BTreeMap<String, Sum>,
}

impl Adding<'_> {
    /// Takes in a row that was just written.
    pub fn row(
        &mut self,
        conn: &Connection,
        of: &str,
        with: impl Params,
    ) -> Result<(), rusqlite::Error> {
        for (part, more) in self.of.sums(conn, of, with)? {
            let sum = self.sums.entry(part).or_default();
            sum.plus(more.count, &more.sum);
        }
        Ok(())
    }

    /// Puts them down.
    pub fn put(self, conn: &Connection) -> Result<(), rusqlite::Error> {
        for (part, sum) in self.sums {
            put(conn, self.of.table, &part, sum)?;
        }
        Ok(())
    }
}

fn kept(conn: &Connection, of: &str) -> Result<BTreeMap<String, Sum>, rusqlite::Error> {
    let mut statement = conn.prepare_cached("SELECT part, count, sum FROM beside WHERE of = ?1")?;
    let rows = statement.query_map([of], |row| {
        let sum = Sum {
            count: row.get(1)?,
            sum: row.get(2)?,
        };
        Ok((row.get(0)?, sum))
    })?;
    rows.collect()
}

fn put(conn: &Connection, of: &str, part: &str, more: Sum) -> Result<(), rusqlite::Error> {
    let mut one =
        conn.prepare_cached("SELECT count, sum FROM beside WHERE of = ?1 AND part = ?2")?;
    let mut rows = one.query([of, part])?;
    let mut sum = match rows.next()? {
        Some(row) => Sum {
            count: row.get(0)?,
            sum: row.get(1)?,
        },
        None => Sum::default(),
    };
    sum.plus(more.count, &more.sum);
    conn.prepare_cached(
        "INSERT INTO beside (of, part, count, sum) VALUES (?1, ?2, ?3, ?4)
         ON CONFLICT DO UPDATE SET count = excluded.count, sum = excluded.sum",
    )?
    .execute(params![of, part, sum.count, sum.sum])?;
    Ok(())
}

/// Counts a write beside the entries; gives how many there were.
pub fn counted(conn: &Connection) -> Result<i64, rusqlite::Error> {
    let one = Sum {
        count: 1,
        sum: Hash::default(),
    };
    put(conn, WRITES, "", one)?;
    writes(conn)
}

/// How many writes beside the entries there were.
pub fn writes(conn: &Connection) -> Result<i64, rusqlite::Error> {
    Ok(kept(conn, WRITES)?.values().map(|s| s.count).sum())
}

/// Sums up what an older ledger holds.
pub fn of_an_older_ledger(conn: &Connection) -> Result<(), rusqlite::Error> {
    for summed in &ALL {
        summed.added(conn, "1", [])?;
    }
    Ok(())
}

/// The first thing beside the entries that is not as it was written, in words.
pub fn broken(conn: &Connection, home: &Household) -> Result<Option<String>, StoreError> {
    for summed in &ALL {
        let (has, had) = (summed.sums(conn, "1", [])?, kept(conn, summed.table)?);
        let nothing = Sum::default();
        let parts = has.keys().chain(had.keys());
        let odd = parts
            .filter(|part| has.get(*part).unwrap_or(&nothing) != had.get(*part).unwrap_or(&nothing))
            .min();
        if let Some(part) = odd {
            let words = (summed.words)(part, home);
            return Ok(Some(format!("{words} are not what was written")));
        }
    }
    Ok(None)
}

/// Photos that are no longer what their names say: when each was kept, and its name.
pub fn broken_photos(conn: &Connection) -> Result<Vec<(String, String)>, StoreError> {
    let mut statement = conn.prepare("SELECT hash, bytes, recorded_at FROM photo ORDER BY id")?;
    let mut rows = statement.query([])?;
    let mut found = Vec::new();
    while let Some(row) = rows.next()? {
        let name = hex(&row.get(0)?);
        let is_whole = match row.get_ref(1)? {
            ValueRef::Blob(bytes) => name_of(bytes) == name,
            ValueRef::Null | ValueRef::Integer(_) | ValueRef::Real(_) | ValueRef::Text(_) => false,
        };
        if !is_whole {
            found.push((row.get(2)?, name));
        }
    }
    Ok(found)
}

/// What to say of photos that are no longer whole.
#[must_use]
pub fn of_photos(broken: &[(String, String)]) -> Option<String> {
    let (at, name) = broken.first()?;
    let day = at.get(..10).unwrap_or(at);
    let short = name.get(..8).unwrap_or(name);
    let more = match broken.len() - 1 {
        0 => String::new(),
        n => format!(" and {n} more"),
    };
    Some(format!(
        "The photo kept on {day} ({short}…){more} is not what was written. The same photo sent again mends it; or bring a backup back that still has it."
    ))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn what_is_added_and_taken_away_again_leaves_nothing(
            rows in prop::collection::vec(any::<[u8; 32]>(), 1..20),
            turn in any::<usize>(),
        ) {
            let mut sum = Sum::default();
            for row in &rows {
                sum.plus(1, row);
            }
            let mut other = Sum::default();
            let at = turn % rows.len();
            for row in rows[at..].iter().chain(&rows[..at]) {
                other.plus(1, row);
            }
            prop_assert_eq!(sum, other, "in whatever order");
            for row in &rows {
                let one = Sum { count: 1, sum: *row };
                let less = one.negative();
                sum.plus(less.count, &less.sum);
            }
            prop_assert_eq!(sum, Sum::default());
        }
    }
}
