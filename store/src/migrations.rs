//! The schema, as one list of steps that only grows.

use rusqlite_migration::{M, Migrations};

/// Every step from an empty file to today's schema. Never edit a step that has shipped.
const STEPS: &[M<'static>] = &[
    M::up(include_str!("migrations/001_ledger.sql")),
    M::up(include_str!("migrations/002_lists.sql")),
];

/// The steps, ready to be run.
pub static MIGRATIONS: Migrations<'static> = Migrations::from_slice(STEPS);

#[cfg(test)]
mod tests {
    #[test]
    fn the_steps_are_valid_sql() {
        assert!(super::MIGRATIONS.validate().is_ok());
    }
}
