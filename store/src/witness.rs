//! A small file beside the ledger that knows how far it had come.
//!
//! It is written after each commit without waiting for the disk: one that is behind is harmless, one
//! that is ahead of its ledger means that entries are missing.

use crate::seal::{Chain, Hash, Seal, hex};
use std::fs::OpenOptions;
use std::io::Write;
use std::path::Path;

/// Its name in the folder.
pub const FILE: &str = "household.witness";

/// What it remembers.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Witness {
    /// The newest entry.
    pub chain: Chain,
    /// Rows of settings, lists and shelf, and writes beside the entries.
    pub rows: [i64; 4],
}

impl Witness {
    fn text(&self) -> String {
        let [a, b, c, d] = self.rows;
        let said = format!(
            "{:020} {} {a:010} {b:010} {c:010} {d:010}",
            self.chain.count,
            hex(&self.chain.hash)
        );
        let sum = hex(&Seal::of("witness").text(&said).end());
        format!("{said} {}\n", &sum[..16])
    }

    /// Writes it down; always of the same length, in place.
    pub fn write(&self, folder: &Path) -> std::io::Result<()> {
        let mut options = OpenOptions::new();
        options.create(true).truncate(false).write(true);
        #[cfg(unix)]
        std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
        let mut file = options.open(folder.join(FILE))?;
        file.write_all(self.text().as_bytes())
    }

    /// What stands there; nothing where it is not there, or was not written to its end.
    pub fn read(folder: &Path) -> Option<Self> {
        let text = std::fs::read_to_string(folder.join(FILE)).ok()?;
        let mut words = text.split_whitespace();
        let count = words.next()?.parse().ok()?;
        let hash = hash(words.next()?)?;
        let mut number = || words.next()?.parse().ok();
        let rows = [number()?, number()?, number()?, number()?];
        let found = Self {
            chain: Chain { count, hash },
            rows,
        };
        (found.text() == text).then_some(found)
    }
}

fn hash(hex: &str) -> Option<Hash> {
    let bytes: Option<Vec<u8>> = (0..hex.len())
        .step_by(2)
        .map(|i| u8::from_str_radix(hex.get(i..i + 2)?, 16).ok())
        .collect();
    bytes?.try_into().ok()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn it_reads_back_as_written_and_says_nothing_when_it_is_torn() {
        let dir = tempfile::TempDir::new().unwrap();
        assert_eq!(Witness::read(dir.path()), None);
        let one = Witness {
            chain: Chain {
                count: 81,
                hash: [7; 32],
            },
            rows: [1, 20, 3, 4_000],
        };
        one.write(dir.path()).unwrap();
        assert_eq!(Witness::read(dir.path()), Some(one));
        let path = dir.path().join(FILE);
        let whole = std::fs::read(&path).unwrap();
        for (at, bit) in [(3, 1), (30, 4), (95, 1), (whole.len() - 3, 2)] {
            let mut flipped = whole.clone();
            flipped[at] ^= bit;
            std::fs::write(&path, &flipped).unwrap();
            assert_eq!(Witness::read(dir.path()), None, "bit {bit} of byte {at}");
        }
        std::fs::write(&path, &whole[..40]).unwrap();
        assert_eq!(Witness::read(dir.path()), None);
    }
}
