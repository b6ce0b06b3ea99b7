//! Hashes that rows carry: a chain over the entries, a seal on every other row.
//!
//! They are taken over what stands in the row, word for word, not over what a program makes of it: an
//! older shape that is read anew keeps its hash.

use rusqlite::{Connection, Row, Transaction, params};
use sha2::{Digest, Sha256};

/// A SHA-256 digest.
pub type Hash = [u8; 32];

/// A hash in the making, field by field; fields cannot run into each other.
pub struct Seal(Sha256);

impl Seal {
    /// Begins one, by what it is of.
    pub fn of(what: &str) -> Self {
        Self(Sha256::new()).text(what)
    }

    /// Takes in a text.
    #[must_use]
    pub fn text(self, text: &str) -> Self {
        self.bytes(text.as_bytes())
    }

    /// Takes in bytes.
    #[must_use]
    pub fn bytes(mut self, bytes: &[u8]) -> Self {
        self.0.update((bytes.len() as u64).to_le_bytes());
        self.0.update(bytes);
        self
    }

    /// Takes in a number.
    #[must_use]
    pub fn int(mut self, n: i64) -> Self {
        self.0.update(n.to_le_bytes());
        self
    }

    /// Takes in a number that may be missing.
    #[must_use]
    pub fn maybe(self, n: Option<i64>) -> Self {
        match n {
            Some(n) => self.int(1).int(n),
            None => self.int(0),
        }
    }

    /// Takes in a text that may be missing.
    #[must_use]
    pub fn maybe_text(self, text: Option<&str>) -> Self {
        match text {
            Some(text) => self.int(1).text(text),
            None => self.int(0),
        }
    }

    /// The hash.
    pub fn end(self) -> Hash {
        self.0.finalize().into()
    }
}

/// The end of the chain of entries.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Chain {
    /// How many there are.
    pub count: i64,
    /// The newest one's hash.
    pub hash: Hash,
}

/// A table whose rows carry a seal over themselves.
pub struct Sealed {
    /// The table.
    pub table: &'static str,
    /// The columns that tell a row apart.
    pub key: &'static [&'static str],
    /// The columns that are sealed, those of the key first.
    pub columns: &'static [&'static str],
    /// How a person calls a row.
    pub words: &'static str,
}

/// The settings.
pub const HOUSEHOLDS: Sealed = Sealed {
    table: "household",
    key: &["id"],
    columns: &["id", "recorded_at", "settings", "shape"],
    words: "the settings",
};
/// The lists.
pub const LISTS: Sealed = Sealed {
    table: "list",
    key: &["id"],
    columns: &["id", "kind", "recorded_at", "content", "shape"],
    words: "a list of wishes, pantry or plans",
};
/// The shelf.
pub const SHELF: Sealed = Sealed {
    table: "shelf",
    key: &["kind", "key", "version"],
    columns: &["kind", "key", "version", "shape", "content", "kept_at"],
    words: "a product or an animal as it was first used",
};
/// Every table beside the entries whose rows stay as they were written.
pub const SEALED: [Sealed; 3] = [HOUSEHOLDS, LISTS, SHELF];

impl Sealed {
    fn seal(&self, row: &Row<'_>) -> Result<Hash, rusqlite::Error> {
        let mut seal = Seal::of(self.table);
        for i in 0..self.columns.len() {
            seal = match row.get_ref(i)? {
                rusqlite::types::ValueRef::Integer(n) => seal.int(n),
                rusqlite::types::ValueRef::Text(t) | rusqlite::types::ValueRef::Blob(t) => {
                    seal.bytes(t)
                }
                rusqlite::types::ValueRef::Null => seal.int(0),
                rusqlite::types::ValueRef::Real(x) => seal.int(x.to_bits().cast_signed()),
            };
        }
        Ok(seal.end())
    }

    /// Seals the rows of the table that carry no seal yet.
    pub fn seal_new(&self, conn: &Connection) -> Result<(), rusqlite::Error> {
        let named = |(i, column): (usize, &&str)| format!("{column} = ?{}", i + 2);
        let key: Vec<_> = self.key.iter().enumerate().map(named).collect();
        let key = key.join(" AND ");
        let columns = self.columns.join(", ");
        let mut stmt = conn.prepare_cached(&format!(
            "SELECT {columns} FROM {} WHERE seal IS NULL",
            self.table
        ))?;
        let mut rows = stmt.query([])?;
        let mut found = Vec::new();
        while let Some(row) = rows.next()? {
            let name: Vec<rusqlite::types::Value> = (0..self.key.len())
                .map(|i| row.get(i))
                .collect::<Result<_, _>>()?;
            found.push((self.seal(row)?, name));
        }
        let mut set =
            conn.prepare_cached(&format!("UPDATE {} SET seal = ?1 WHERE {key}", self.table))?;
        for (seal, name) in found {
            let mut all = vec![rusqlite::types::Value::Blob(seal.to_vec())];
            all.extend(name);
            set.execute(rusqlite::params_from_iter(all))?;
        }
        Ok(())
    }

    /// How many rows there are, or the words for one that is not as it was written.
    pub fn check(&self, conn: &Connection) -> Result<i64, String> {
        let broken = |e: rusqlite::Error| {
            let why = crate::StoreError::from(e);
            format!("{} cannot be read: {why}", self.words)
        };
        let columns = self.columns.join(", ");
        let mut stmt = conn
            .prepare(&format!("SELECT {columns}, seal FROM {}", self.table))
            .map_err(broken)?;
        let mut rows = stmt.query([]).map_err(broken)?;
        let mut count = 0;
        while let Some(row) = rows.next().map_err(broken)? {
            let seal: Option<Vec<u8>> = row.get(self.columns.len()).map_err(broken)?;
            if seal.as_deref() != Some(&self.seal(row).map_err(broken)?[..]) {
                return Err(format!("{} changed outside of the program", self.words));
            }
            count += 1;
        }
        Ok(count)
    }
}

/// Gives an older ledger's rows their hashes.
pub fn of_an_older_ledger(transaction: &Transaction<'_>) -> Result<(), rusqlite::Error> {
    let hashes = super::entries::hashes_of_unchained(transaction)?;
    let mut set = transaction.prepare("UPDATE entry SET hash = ?2 WHERE id = ?1")?;
    for (id, hash) in hashes {
        set.execute(params![id, &hash[..]])?;
    }
    for table in &SEALED {
        table.seal_new(transaction)?;
    }
    transaction.execute_batch(include_str!("migrations/007_stays.sql"))
}

/// A hash as it is written down.
pub fn hex(hash: &Hash) -> String {
    hash.iter().map(|b| format!("{b:02x}")).collect()
}
