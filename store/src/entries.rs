//! Entries with their postings, and the writes they belong to.

use crate::{StoreError, shapes};
use manifest_core::ledger::{Entry, EntryId, LotId, Posting};
use manifest_core::units::Milligrams;
use rusqlite::{Connection, OptionalExtension, params};
use std::collections::HashMap;

/// A write that was made before.
pub struct EarlierWrite {
    /// What was asked then.
    pub fingerprint: String,
    /// What it wrote, in order of number.
    pub entries: Vec<EntryId>,
}

/// The write made under an idempotency key, if there was one.
pub fn earlier(conn: &Connection, key: &str) -> Result<Option<EarlierWrite>, StoreError> {
    let found = conn
        .prepare_cached("SELECT id, fingerprint FROM write WHERE idempotency_key = ?1")?
        .query_row([key], |row| {
            Ok((row.get::<_, i64>("id")?, row.get("fingerprint")?))
        })
        .optional()?;
    let Some((id, fingerprint)) = found else {
        return Ok(None);
    };
    let mut stmt = conn.prepare_cached("SELECT id FROM entry WHERE write_id = ?1 ORDER BY id")?;
    let entries = stmt
        .query_map([id], |row| Ok(EntryId(row.get("id")?)))?
        .collect::<Result<_, _>>()?;
    Ok(Some(EarlierWrite {
        fingerprint,
        entries,
    }))
}

/// Begins a write; its entries follow in the same transaction.
pub fn begin(
    conn: &Connection,
    key: Option<&str>,
    fingerprint: &str,
    now: &str,
) -> Result<i64, StoreError> {
    conn.prepare_cached(
        "INSERT INTO write (idempotency_key, fingerprint, recorded_at) VALUES (?1, ?2, ?3)",
    )?
    .execute(params![key, fingerprint, now])?;
    Ok(conn.last_insert_rowid())
}

/// Writes one entry: its postings first, so that the database can check that they balance.
pub fn insert(conn: &Connection, write: i64, entry: &Entry) -> Result<(), StoreError> {
    let mut posting = conn.prepare_cached(
        "INSERT INTO posting (entry_id, line, account, mass_mg) VALUES (?1, ?2, ?3, ?4)",
    )?;
    for (line, moved) in entry.postings.iter().enumerate() {
        posting.execute(params![
            entry.id.0,
            line as i64,
            moved.account.to_string(),
            moved.mass.0
        ])?;
    }
    conn.prepare_cached(
        "INSERT INTO entry
                (id, write_id, lot_id, kind, happened_at, recorded_at, replaces, because, act, shape)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10)",
    )?
    .execute(params![
        entry.id.0,
        write,
        entry.lot.0,
        entry.act.kind(),
        entry.happened_at.to_string(),
        entry.recorded_at.to_string(),
        entry.replaces.map(|id| id.0),
        entry.because.map(|id| id.0),
        serde_json::to_string(&entry.act).map_err(StoreError::Json)?,
        shapes::TODAY,
    ])?;
    Ok(())
}

/// Every entry ever written, in order of number.
pub fn all(conn: &Connection) -> Result<Vec<Entry>, StoreError> {
    let mut postings: HashMap<i64, Vec<Posting>> = HashMap::new();
    let mut stmt =
        conn.prepare("SELECT entry_id, account, mass_mg FROM posting ORDER BY entry_id, line")?;
    let mut rows = stmt.query([])?;
    while let Some(row) = rows.next()? {
        let account: String = row.get("account")?;
        postings
            .entry(row.get("entry_id")?)
            .or_default()
            .push(Posting {
                account: account.parse().map_err(StoreError::Account)?,
                mass: Milligrams(row.get("mass_mg")?),
            });
    }
    let mut stmt = conn.prepare(
        "SELECT id, lot_id, happened_at, recorded_at, replaces, because, act, shape
           FROM entry
          ORDER BY id",
    )?;
    let mut rows = stmt.query([])?;
    let mut entries = Vec::new();
    let mut acts = shapes::Acts::default();
    while let Some(row) = rows.next()? {
        let id: i64 = row.get("id")?;
        let time = |column: &str| -> Result<jiff::Timestamp, StoreError> {
            let text: String = row.get(column)?;
            text.parse().map_err(StoreError::Time)
        };
        let act: String = row.get("act")?;
        entries.push(Entry {
            id: EntryId(id),
            lot: LotId(row.get("lot_id")?),
            happened_at: time("happened_at")?,
            recorded_at: time("recorded_at")?,
            replaces: row.get::<_, Option<i64>>("replaces")?.map(EntryId),
            because: row.get::<_, Option<i64>>("because")?.map(EntryId),
            act: acts.read(row.get("shape")?, &act)?,
            postings: postings.remove(&id).unwrap_or_default(),
        });
    }
    Ok(entries)
}

/// Entries whose postings do not sum to zero; always empty in a sound file.
pub fn unbalanced(conn: &Connection) -> Result<Vec<EntryId>, StoreError> {
    let mut stmt = conn.prepare(
        "SELECT entry_id FROM posting GROUP BY entry_id HAVING sum(mass_mg) <> 0 ORDER BY entry_id",
    )?;
    let ids = stmt
        .query_map([], |row| Ok(EntryId(row.get("entry_id")?)))?
        .collect::<Result<_, _>>()?;
    Ok(ids)
}
