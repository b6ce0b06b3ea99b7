//! Photos by what is in them: the same picture is kept once, in the ledger's file, so that every backup holds it.

use crate::beside::{self, PHOTOS};
use crate::seal::Hash;
use crate::{Store, StoreError};
use jiff::Timestamp;
use rusqlite::{OptionalExtension, params};
use sha2::{Digest, Sha256};
use std::sync::PoisonError;

/// A kept photo.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Photo {
    /// Its media type.
    pub kind: String,
    /// The picture.
    pub bytes: Vec<u8>,
}

/// The name of a picture: the SHA-256 of its bytes, in hex.
#[must_use]
pub fn name_of(bytes: &[u8]) -> String {
    let hash: Hash = Sha256::digest(bytes).into();
    hash.iter().map(|b| format!("{b:02x}")).collect()
}

fn hash_of(name: &str) -> Option<Vec<u8>> {
    let is_hex = name.len() == 64 && name.bytes().all(|b| b.is_ascii_hexdigit());
    let byte = |i: usize| u8::from_str_radix(name.get(2 * i..2 * i + 2)?, 16).ok();
    is_hex.then(|| (0..32).filter_map(byte).collect())
}

impl Store {
    /// Keeps a photo; gives its name.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn keep_photo(&self, photo: &Photo, now: Timestamp) -> Result<String, StoreError> {
        let mut file = self.file();
        self.writable(&mut file)?;
        let name = name_of(&photo.bytes);
        let hash = hash_of(&name);
        let transaction = file.conn.transaction()?;
        let is_new = transaction.execute(
            "INSERT INTO photo (hash, kind, bytes, recorded_at) VALUES (?1, ?2, ?3, ?4)
             ON CONFLICT DO NOTHING",
            params![hash, photo.kind, photo.bytes, now.to_string()],
        )? == 1;
        if is_new {
            PHOTOS.added(&transaction, "hash = ?1", [hash])?;
        } else {
            // The same picture again mends what is no longer what its name says.
            transaction.execute(
                "UPDATE photo SET bytes = ?2 WHERE hash = ?1 AND bytes <> ?2",
                params![hash, photo.bytes],
            )?;
        }
        let writes = beside::counted(&transaction)?;
        transaction.commit()?;
        self.counted(&mut file, writes)?;
        let mut about = self.about.write().unwrap_or_else(PoisonError::into_inner);
        about.photos.retain(|(_, broken)| *broken != name);
        drop(about);
        drop(file);
        Ok(name)
    }

    /// A kept photo by its name; none where there is none, or where it is not what its name says.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn photo(&self, name: &str) -> Result<Option<Photo>, StoreError> {
        let Some(hash) = hash_of(name) else {
            return Ok(None);
        };
        let file = self.file();
        let found = file
            .conn
            .prepare_cached("SELECT kind, bytes FROM photo WHERE hash = ?1")?
            .query_row([hash], |row| {
                Ok(Photo {
                    kind: row.get("kind")?,
                    bytes: row.get("bytes")?,
                })
            })
            .optional()?;
        Ok(found.filter(|p| name_of(&p.bytes) == name.to_ascii_lowercase()))
    }

    /// True when a photo of that name is kept.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn has_photo(&self, name: &str) -> Result<bool, StoreError> {
        let Some(hash) = hash_of(name) else {
            return Ok(false);
        };
        let file = self.file();
        let asked = "SELECT EXISTS (SELECT 1 FROM photo WHERE hash = ?1)";
        Ok(file.conn.query_row(asked, [hash], |row| row.get(0))?)
    }
}
