//! What the ledger leans on, by kind, key and version.

use crate::{StoreError, shapes};
use manifest_core::catalogue::{Kept, Snapshot};
use rusqlite::{Connection, Transaction, params};
use std::collections::HashSet;

/// Everything that is kept.
pub fn all(conn: &Connection) -> Result<Snapshot, StoreError> {
    let mut stmt = conn.prepare("SELECT kind, shape, content FROM shelf")?;
    let mut rows = stmt.query([])?;
    let mut shelf = Snapshot::new();
    while let Some(row) = rows.next()? {
        let (kind, content): (String, String) = (row.get("kind")?, row.get("content")?);
        if let Some(kept) = shapes::kept(&kind, row.get("shape")?, &content)? {
            shelf.insert(kept.key(), kept);
        }
    }
    Ok(shelf)
}

/// Keeps something, unless it is kept already.
pub fn keep(conn: &Connection, kept: &Kept, now: &str) -> Result<(), StoreError> {
    let key = kept.key();
    put(
        conn,
        (key.kind, &key.key, i64::from(key.version)),
        (shapes::TODAY, &shapes::content(kept)?),
        now,
    )?;
    Ok(())
}

fn put(
    conn: &Connection,
    (kind, key, version): (&str, &str, i64),
    (shape, content): (i64, &str),
    now: &str,
) -> Result<(), rusqlite::Error> {
    conn.prepare_cached(
        "INSERT INTO shelf (kind, key, version, shape, content, kept_at)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6)
             ON CONFLICT DO NOTHING",
    )?
    .execute(params![kind, key, version, shape, content, now])?;
    Ok(())
}

/// Fills the shelf of a ledger from before there was one with what its entries lean on.
pub fn fill_from_the_first_shape(transaction: &Transaction<'_>) -> Result<(), rusqlite::Error> {
    let mut used: HashSet<(String, String)> = HashSet::new();
    let mut stmt = transaction.prepare(
        "SELECT 'build' AS kind, json_extract(act, '$.build') AS key FROM entry WHERE kind = 'assigned'
          UNION
         SELECT 'species', json_extract(act, '$.species') FROM entry WHERE kind = 'received'",
    )?;
    let mut rows = stmt.query([])?;
    while let Some(row) = rows.next()? {
        used.insert((row.get("kind")?, row.get("key")?));
    }
    // Kept as of the last write: the ledger does not say when each was used first.
    let newest: Option<String> =
        transaction.query_row("SELECT max(recorded_at) FROM entry", [], |row| row.get(0))?;
    let at = newest.unwrap_or_default();
    for (kind, key, version, content) in shapes::first_shelf() {
        if used.contains(&(kind.to_string(), key.clone())) {
            put(
                transaction,
                (kind, &key, version),
                (shapes::SECOND, &content.to_string()),
                &at,
            )?;
        }
    }
    Ok(())
}
