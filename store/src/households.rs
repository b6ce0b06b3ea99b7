//! The household's settings; the newest row holds.

use crate::{StoreError, shapes};
use manifest_core::household::Household;
use rusqlite::{Connection, OptionalExtension, params};

/// The settings in force, or none before anything was settled on.
pub fn current(conn: &Connection) -> Result<Option<Household>, StoreError> {
    let text: Option<String> = conn
        .prepare_cached("SELECT settings FROM household ORDER BY id DESC LIMIT 1")?
        .query_row([], |row| row.get("settings"))
        .optional()?;
    Ok(text.map(|t| shapes::household(&t)))
}

/// Settles on new ones; the old stay in the history.
pub fn insert(conn: &Connection, home: &Household, now: &str) -> Result<(), StoreError> {
    conn.prepare_cached(
        "INSERT INTO household (recorded_at, settings, shape) VALUES (?1, ?2, ?3)",
    )?
    .execute(params![
        now,
        serde_json::to_string(home).map_err(StoreError::Json)?,
        shapes::TODAY
    ])?;
    Ok(())
}
