//! Where a pack lies, by what its place is called.

/// How a place keeps.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Storage {
    /// Frozen.
    pub frozen: bool,
    /// Without air.
    pub sealed: bool,
}

impl Storage {
    /// What the words of a place say.
    #[must_use]
    pub fn of(place: &str) -> Self {
        let said = place.to_lowercase();
        let has = |words: &[&str]| words.iter().any(|w| said.contains(w));
        Self {
            frozen: has(&["freez", "frozen"]),
            sealed: has(&["vacuum", "sealed", "airless"]),
        }
    }
}
