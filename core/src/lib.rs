//! The rules and the arithmetic of curing one's own meat, without a screen, a file or a clock.
//!
//! Data comes first: the [`catalogue`] holds what people dispute, read from `data/` and checked as
//! a whole. Then the order of the work: what came in ([`animal`]), a [`piece`] on its way, its cure
//! ([`cure`]), its heat ([`heat`]), its hanging ([`hang`]), the [`ledger`] of what was done, what suits what
//! ([`assign`]), what is due ([`timetable`]). [`units`] holds the quantities and [`caution`] the
//! one vocabulary of warnings.

pub mod acts;
pub mod agenda;
pub mod animal;
pub mod assign;
pub mod catalogue;
pub mod caution;
pub mod cure;
pub mod data;
pub mod dose;
pub mod find;
pub mod form;
pub mod hang;
pub mod hanging;
pub mod heat;
pub mod house;
pub mod household;
pub mod ids;
pub mod label;
pub mod ledger;
pub mod logfile;
pub mod pantry;
pub mod piece;
pub mod place;
pub mod reason;
pub mod recipe;
pub mod run;
pub mod running;
pub mod shape;
pub mod stock;
pub mod timetable;
pub mod units;
pub mod verdict;

pub use catalogue::builds;

#[cfg(test)]
mod testing;
