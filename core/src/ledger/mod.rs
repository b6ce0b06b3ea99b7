//! The one model under everything: acts that move mass, and what follows from them.
//!
//! An [`Entry`] is one [`Act`] with its [`Posting`]s, which sum to zero. Entries are never
//! changed; a correction is a new entry that names the one it replaces. Everything else, where a
//! piece is and what it weighs, is derived: each act says in its own file under [`acts`] what it
//! asks, moves and changes, [`state`] holds what follows, [`book`] plans changes (and restates
//! what follows from a correction), [`tally`] adds up.

pub mod account;
pub mod book;
pub mod facts;
pub mod odd;
pub mod own;
pub mod post;
pub mod received;
pub mod state;
pub mod tally;

pub use crate::ids::{EntryId, LotId, PackId, PieceId, word};
pub use crate::piece::Work;
pub use crate::units::Reading;
pub use account::{Account, Loss};
pub use facts::Act;
pub use received::{AgeClass, Background, FrozenStock, Origin, PricePer, Sex};

use crate::caution::Finding;
use crate::units::Milligrams;
use jiff::Timestamp;

/// So many milligrams into an account; out of it when negative.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Posting {
    /// Where.
    pub account: Account,
    /// How much.
    pub mass: Milligrams,
}

/// True when postings lose and gain nothing.
#[must_use]
pub fn balances(postings: &[Posting]) -> bool {
    postings.iter().map(|p| p.mass).sum::<Milligrams>() == Milligrams::ZERO
}

/// One act at one time, with what it moved.
#[derive(Clone, Debug, PartialEq)]
pub struct Entry {
    /// Its number; later entries have higher ones.
    pub id: EntryId,
    /// The lot whose mass it moves.
    pub lot: LotId,
    /// When it happened.
    pub happened_at: Timestamp,
    /// When it was written down.
    pub recorded_at: Timestamp,
    /// The entry it takes the place of.
    pub replaces: Option<EntryId>,
    /// The correction that made it necessary to state this again.
    pub because: Option<EntryId>,
    /// What was done.
    pub act: Act,
    /// What it moved; sums to zero.
    pub postings: Vec<Posting>,
    /// What gave pause when it was written down, and was kept as typed or lifted by a reason.
    pub kept: Vec<Finding>,
}
