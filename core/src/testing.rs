//! What tests lean on: the shipped catalogue by its words.

use crate::catalogue::Catalogue;
use crate::catalogue::builds::Build;
use crate::catalogue::cures::CureChoice;
use crate::catalogue::species::Species;
use crate::ledger::book::Book;
use std::sync::{Arc, LazyLock};

static SHIPPED: LazyLock<Arc<Catalogue>> = LazyLock::new(Catalogue::shipped);

pub fn catalogue() -> &'static Catalogue {
    &SHIPPED
}

pub fn species(key: &str) -> Option<&'static Species> {
    catalogue().species(key).map(|s| &**s)
}

pub fn build(key: &str) -> Option<&'static Build> {
    catalogue().build(key).map(|b| &**b)
}

pub fn cure(key: &str) -> CureChoice {
    CureChoice::from(catalogue().cure(key).unwrap())
}

pub fn book() -> Book {
    Book::new(Catalogue::shipped())
}
