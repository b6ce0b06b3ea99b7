//! Which pieces lie in a run, by the run and by the ledger: what was weighed, hung or packed since is out of it.

use crate::ids::PieceId;
use crate::ledger::book::Book;
use crate::run::{Run, Runs, Sitting, Watched};
use jiff::Timestamp;
use std::sync::Arc;

impl Run {
    /// When a piece was weighed out of this run, by the ledger.
    #[must_use]
    pub fn weighed_out(&self, piece: PieceId, book: &Book) -> Option<Timestamp> {
        let (_, piece) = book.piece(piece)?;
        let mine = piece.heats.iter().filter(|h| h.run == Some(self.id));
        mine.map(|h| h.at).max()
    }

    /// The pieces that lie in it now, where they lie.
    #[must_use]
    pub fn loaded(&self, book: &Book) -> Vec<&Sitting> {
        if self.ended.is_some() {
            return Vec::new();
        }
        let open = self.sittings.iter().filter(|s| s.until.is_none());
        open.filter(|s| {
            let out = self.weighed_out(s.piece, book);
            let there = book.piece(s.piece).is_some_and(|(_, p)| p.may_be_heated());
            there && out.is_none_or(|at| at < s.from)
        })
        .collect()
    }

    /// Since when it is over: when somebody said so, or since nothing lies in it any more of what lay there.
    #[must_use]
    pub fn over_since(&self, book: &Book) -> Option<Timestamp> {
        if self.ended.is_some() || self.sittings.is_empty() || !self.loaded(book).is_empty() {
            return self.ended;
        }
        let left = self
            .sittings
            .iter()
            .filter_map(|s| self.left(s.piece, book));
        left.max()
    }

    /// What was taken out of it and what was weighed: the moment a piece left, if it did.
    #[must_use]
    pub fn left(&self, piece: PieceId, book: &Book) -> Option<Timestamp> {
        let sitting = self.sitting(piece)?;
        let weighed = self
            .weighed_out(piece, book)
            .filter(|at| *at >= sitting.from);
        // What hangs, is packed or thrown away lies in no fire, whoever forgot to say so.
        let elsewhere = book
            .piece(piece)
            .filter(|(_, p)| !p.may_be_heated())
            .map(|(_, p)| p.since.max(sitting.from));
        let out = [sitting.until, weighed, self.ended, elsewhere];
        let out = out.into_iter().flatten();
        out.min()
    }
}

impl Runs {
    /// The run under way in which a piece lies.
    #[must_use]
    pub fn with_piece(&self, piece: PieceId, book: &Book) -> Option<&Arc<Watched>> {
        self.open()
            .find(|w| w.run.loaded(book).iter().any(|s| s.piece == piece))
    }
}
