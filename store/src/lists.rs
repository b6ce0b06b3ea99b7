//! Wishes, pantry, plans and agenda: lists that carry no mass; the newest row of a kind holds.

use crate::{StoreError, shapes};
use manifest_core::agenda::Agenda;
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

macro_rules! lists {
    ($($field:ident, $variant:ident($list:ty) = $kind:literal, $words:literal;)+) => {
        /// Every list of the household.
        #[derive(Clone, Debug, Default, PartialEq)]
        pub struct Lists {
            $(#[doc = $words] pub $field: Versioned<$list>,)+
        }

        /// One list's new contents.
        #[derive(Clone, Debug, PartialEq)]
        pub enum NewList {
            $(#[doc = $words] $variant($list),)+
        }

        impl NewList {
            pub(crate) const fn kind(&self) -> &'static str {
                match self {
                    $(Self::$variant(_) => $kind,)+
                }
            }

            fn json(&self) -> Result<String, StoreError> {
                match self {
                    $(Self::$variant(list) => serde_json::to_string(list),)+
                }
                .map_err(StoreError::Json)
            }
        }

        impl Lists {
            /// The version of the list that a new one takes the place of.
            pub(crate) const fn version_of(&self, new: &NewList) -> i64 {
                match new {
                    $(NewList::$variant(_) => self.$field.version,)+
                }
            }

            /// Takes in what was written.
            pub(crate) fn take(&mut self, new: NewList, version: i64) {
                match new {
                    $(NewList::$variant(list) => self.$field = Versioned { version, list },)+
                }
            }
        }

        /// The lists in force.
        pub fn current(conn: &Connection) -> Result<Lists, StoreError> {
            Ok(Lists {
                $($field: newest(conn, $kind)?,)+
            })
        }
    };
}

// A new kind of list is its type and a line here.
lists! {
    wishes, Wishes(WishList) = "wishes", "What is wished for.";
    pantry, Pantry(Pantry) = "pantry", "What is kept.";
    plans, Plans(Plans) = "plans", "Locks and kept plans.";
    agenda, Agenda(Agenda) = "agenda", "What was moved to another day, and the address of the calendar.";
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
