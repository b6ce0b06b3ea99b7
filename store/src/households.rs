//! The household's settings; the newest row holds.

use crate::StoreError;
use manifest_core::household::Household;
use rusqlite::{Connection, OptionalExtension, params};

/// The settings in force, or none before anything was settled on.
pub fn current(conn: &Connection) -> Result<Option<Household>, StoreError> {
    let text: Option<String> = conn
        .prepare_cached("SELECT settings FROM household ORDER BY id DESC LIMIT 1")?
        .query_row([], |row| row.get("settings"))
        .optional()?;
    text.map(|t| serde_json::from_str(&t).map_err(StoreError::Json))
        .transpose()
}

/// Settles on new ones; the old stay in the history.
pub fn insert(conn: &Connection, home: &Household, now: &str) -> Result<(), StoreError> {
    conn.prepare_cached("INSERT INTO household (recorded_at, settings) VALUES (?1, ?2)")?
        .execute(params![
            now,
            serde_json::to_string(home).map_err(StoreError::Json)?
        ])?;
    Ok(())
}
