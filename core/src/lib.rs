//! The rules and the arithmetic of curing one's own meat, without a screen, a file or a clock.
//!
//! The modules stand in the order of the work: what came in ([`animal`]), what becomes of it
//! ([`builds`], [`assign`]), its cure ([`cure`]), its hanging ([`hang`]), what is due
//! ([`timetable`]), and the [`ledger`] under all of it. [`units`] holds the quantities and
//! [`caution`] the one vocabulary of warnings. Numbers that people dispute live in `data/`.

pub mod animal;
pub mod assign;
pub mod builds;
pub mod caution;
pub mod cure;
pub mod equipment;
pub mod hang;
pub mod household;
pub mod ledger;
pub mod pantry;
pub mod timetable;
pub mod units;

mod data;
