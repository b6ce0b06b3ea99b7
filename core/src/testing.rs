//! What tests lean on: the shipped catalogue by its words.

use crate::acts::{Ask, DraftContext, Pass, Validator};
use crate::catalogue::Catalogue;
use crate::catalogue::builds::Build;
use crate::catalogue::cures::CureChoice;
use crate::catalogue::species::Species;
use crate::house::House;
use crate::ids::PieceId;
use crate::ledger::book::{Book, Change};
use crate::piece::Piece;
use crate::stock::{StockItem, StockKind};
use crate::timetable::{Task, of_piece};
use jiff::{SignedDuration, Timestamp};
use serde_json::{Value, json};
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

/// Something kept in a pantry, counted in November.
pub fn stock_item(name: &str, kind: StockKind, amount: f64) -> StockItem {
    StockItem {
        id: 0,
        name: name.into(),
        kind,
        amount,
        counted_at: "2025-11-01T08:00:00Z".parse().unwrap(),
        diameter_mm: None,
        plain: None,
        opened_on: None,
        good_until: None,
        price_cents: None,
    }
}

/// A household in which days go by.
pub struct Season {
    pub book: Book,
    pub home: House,
    pub now: Timestamp,
}

impl Season {
    pub fn empty() -> Self {
        let mut season = Self {
            book: Book::new(Catalogue::shipped()),
            home: House::default(),
            now: "2026-01-01T08:00:00Z".parse().unwrap(),
        };
        season.home.settings.scales.fine_division_g = 0.1;
        season
    }

    /// Does all of it in order; whatever cannot be done fails the test.
    #[track_caller]
    pub fn did(&mut self, asks: &[Value]) {
        for ask in asks {
            if let Err(why) = self.does(ask, true) {
                panic!("{ask}: {why}");
            }
        }
    }

    /// A collar for a cased whole muscle comes in, is cured for four weeks and weighed out.
    #[track_caller]
    pub fn cures_a_collar(&mut self, out: &str) {
        self.did(&[
            json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "42 kg"}),
            json!({"act": "hold_answered", "lot": 1, "kind": "freezing", "answer": "clear", "note": "test 8"}),
            json!({"act": "piece_weighed", "lot": 1, "cut": "neck_muscle", "reading": "1.6 kg", "thickness": "75 mm"}),
            json!({"act": "assigned", "piece": 1, "build": "muscle-cased"}),
            json!({"act": "dosed", "pieces": [1]}),
        ]);
        self.wait_h(24 * 28);
        self.did(&[json!({"act": "out_of_cure", "piece": 1, "reading": out})]);
    }

    /// So many hours go by.
    pub fn wait_h(&mut self, hours: i64) {
        self.now += SignedDuration::from_hours(hours);
    }

    /// What stands in the way of it, or is asked about.
    #[track_caller]
    pub fn asked(&mut self, ask: &Value) -> String {
        self.does(ask, false).expect_err("nothing was asked")
    }

    /// What is to do with a piece.
    #[track_caller]
    pub fn tasks(&self, id: i64) -> Vec<Task> {
        let (lot, piece) = self.book.piece(PieceId(id)).expect("no such piece");
        of_piece(
            piece,
            lot.state.id,
            &self.home,
            self.book.catalogue(),
            self.now,
        )
    }

    /// A piece by its number.
    #[track_caller]
    pub fn piece(&self, id: i64) -> &Piece {
        self.book.piece(PieceId(id)).expect("no such piece").1
    }

    /// Does it, answering every question with yes; nothing when it cannot be done.
    pub fn tries(&mut self, ask: &Value) -> bool {
        self.does(ask, true).is_ok()
    }

    /// Does it, and says what stood in its way; what is only asked about passes when it is kept.
    pub fn does(&mut self, ask: &Value, keep: bool) -> Result<(), String> {
        self.does_at(ask, self.now, keep)
    }

    /// The same, for what happened before now.
    pub fn does_at(&mut self, ask: &Value, at: Timestamp, keep: bool) -> Result<(), String> {
        let parsed: Ask =
            serde_json::from_value(ask.clone()).unwrap_or_else(|e| panic!("{ask}: {e}"));
        let acts = parsed
            .draft(
                &mut DraftContext::new(&self.book, &self.home, self.now),
                None,
            )
            .map_err(|e| format!("{e:?}"))?;
        let mut changes = Vec::new();
        for (lot, act) in acts {
            let mut change = Change::Add {
                lot,
                at,
                act: Box::new(act),
                kept: Vec::new(),
            };
            if let Some(book) = self.book.lot(lot) {
                match Validator::look(&mut change, book, keep, (&self.book, &self.home)) {
                    Pass::Written(_) => {}
                    Pass::Asked(f) | Pass::WantsReason(f) | Pass::Refused(f) => {
                        return Err(format!("{f:?}"));
                    }
                }
            }
            changes.push(change);
        }
        self.writes(&changes)
    }

    /// Writes changes down, or says why they cannot be.
    pub fn writes(&mut self, changes: &[Change]) -> Result<(), String> {
        let units = self.home.settings.units;
        let plan = self.book.plan(changes, self.now, units);
        self.book.take(plan.map_err(|refused| refused.to_string())?);
        Ok(())
    }

    pub fn write(&mut self, changes: &[Change]) -> bool {
        self.writes(changes).is_ok()
    }
}
