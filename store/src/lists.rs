//! Wishes, pantry and plans: lists that carry no mass; the newest row of a kind holds.

use crate::{StoreError, shapes};
use manifest_core::assign::plan::Plans;
use manifest_core::assign::wishes::WishList;
use manifest_core::pantry::Pantry;
use rusqlite::{Connection, OptionalExtension, params};
use serde::Serialize;
use serde::de::DeserializeOwned;

/// A list with its version, which grows with every change.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Versioned<T> {
    /// Its version; zero before anything was written.
    pub version: i64,
    /// What it holds.
    pub list: T,
}

/// Every list of the household.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Lists {
    /// What is wished for.
    pub wishes: Versioned<WishList>,
    /// What is kept.
    pub pantry: Versioned<Pantry>,
    /// Locks and kept plans.
    pub plans: Versioned<Plans>,
}

/// One list's new contents.
#[derive(Clone, Debug, PartialEq)]
pub enum NewList {
    /// What is wished for.
    Wishes(WishList),
    /// What is kept.
    Pantry(Pantry),
    /// Locks and kept plans.
    Plans(Plans),
}

impl NewList {
    pub(crate) const fn kind(&self) -> &'static str {
        match self {
            Self::Wishes(_) => "wishes",
            Self::Pantry(_) => "pantry",
            Self::Plans(_) => "plans",
        }
    }

    fn json(&self) -> Result<String, StoreError> {
        match self {
            Self::Wishes(list) => serde_json::to_string(list),
            Self::Pantry(list) => serde_json::to_string(list),
            Self::Plans(list) => serde_json::to_string(list),
        }
        .map_err(StoreError::Json)
    }
}

impl Lists {
    /// The version of the list that a new one takes the place of.
    pub(crate) const fn version_of(&self, new: &NewList) -> i64 {
        match new {
            NewList::Wishes(_) => self.wishes.version,
            NewList::Pantry(_) => self.pantry.version,
            NewList::Plans(_) => self.plans.version,
        }
    }

    /// Takes in what was written.
    pub(crate) fn take(&mut self, new: NewList, version: i64) {
        match new {
            NewList::Wishes(list) => self.wishes = Versioned { version, list },
            NewList::Pantry(list) => self.pantry = Versioned { version, list },
            NewList::Plans(list) => self.plans = Versioned { version, list },
        }
    }
}

/// The lists in force.
pub fn current(conn: &Connection) -> Result<Lists, StoreError> {
    Ok(Lists {
        wishes: newest(conn, "wishes")?,
        pantry: newest(conn, "pantry")?,
        plans: newest(conn, "plans")?,
    })
}

fn newest<T: DeserializeOwned + Default + Serialize>(
    conn: &Connection,
    kind: &str,
) -> Result<Versioned<T>, StoreError> {
    let found: Option<(i64, i64, String)> = conn
        .prepare_cached(
            "SELECT id, shape, content FROM list WHERE kind = ?1 ORDER BY id DESC LIMIT 1",
        )?
        .query_row([kind], |row| {
            Ok((row.get("id")?, row.get("shape")?, row.get("content")?))
        })
        .optional()?;
    match found {
        None => Ok(Versioned::default()),
        Some((version, shape, content)) => Ok(Versioned {
            version,
            list: shapes::list(kind, shape, &content)?,
        }),
    }
}

/// Writes a list; gives its version.
pub fn insert(conn: &Connection, new: &NewList, now: &str) -> Result<i64, StoreError> {
    conn.prepare_cached(
        "INSERT INTO list (kind, recorded_at, content, shape) VALUES (?1, ?2, ?3, ?4)",
    )?
    .execute(params![new.kind(), now, new.json()?, shapes::TODAY])?;
    Ok(conn.last_insert_rowid())
}
