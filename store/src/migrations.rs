//! The schema, as one list of steps that only grows.

use crate::{beside, seal, shelf};
use rusqlite_migration::{M, Migrations};
use std::sync::LazyLock;

/// Every step from an empty file to today's schema. Never edit a step that has shipped.
fn steps() -> Vec<M<'static>> {
    vec![
        M::up(include_str!("migrations/001_ledger.sql")),
        M::up(include_str!("migrations/002_lists.sql")),
        M::up_with_hook(include_str!("migrations/003_shelf.sql"), |transaction| {
            Ok(shelf::fill_from_the_first_shape(transaction)?)
        }),
        M::up(include_str!("migrations/004_any_list.sql")),
        M::up(include_str!("migrations/005_kept.sql")),
        M::up(include_str!("migrations/006_name.sql")),
        M::up_with_hook(include_str!("migrations/007_chain.sql"), |transaction| {
            Ok(seal::of_an_older_ledger(transaction)?)
        }),
        M::up(include_str!("migrations/008_practice.sql")),
        M::up(include_str!("migrations/009_readings.sql")),
        M::up(include_str!("migrations/010_runs.sql")),
        M::up_with_hook(include_str!("migrations/011_beside.sql"), |transaction| {
            Ok(beside::of_an_older_ledger(transaction)?)
        }),
    ]
}

/// How many steps lead to today's schema.
pub const LATEST: i64 = 11;

/// The steps, ready to be run.
pub static MIGRATIONS: LazyLock<Migrations<'static>> = LazyLock::new(|| Migrations::new(steps()));

#[cfg(test)]
mod tests {
    #[test]
    fn the_steps_are_valid_sql() {
        assert!(super::MIGRATIONS.validate().is_ok());
        assert_eq!(super::steps().len() as i64, super::LATEST);
    }
}
