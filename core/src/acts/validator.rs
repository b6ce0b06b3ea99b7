//! What every act is held against before it is stored: odd numbers are asked about, a hazard wants
//! a reason, and some things let nobody pass.

use crate::catalogue::Catalogue;
use crate::catalogue::holds::{HoldAnswer, HoldKind};
use crate::caution::{Code, Finding, Severity};
use crate::hanging::ferment::souring_gate;
use crate::house::House;
use crate::ids::PieceId;
use crate::label::printed;
use crate::ledger::book::{Book, Change, LotBook};
use crate::ledger::facts::{Act, Course};
use crate::ledger::state::{Piece, State};
use crate::piece::printed::Verdict;
use crate::reason;
use crate::verdict::{Judge, ReasonCode, waits};
use jiff::Timestamp;
use std::borrow::Cow;

/// Where an act is looked at before it is written down.
#[derive(Clone, Copy, Debug)]
pub struct Validator<'a> {
    /// Every lot as it stands.
    pub book: &'a Book,
    /// The act's own lot as it stood when the act happened.
    pub state: &'a State,
    /// The household.
    pub home: &'a House,
    /// When it happened.
    pub at: Timestamp,
    /// True when it is put in the place of an entry: what happened is asked about, never refused.
    pub correcting: bool,
}

/// What comes of holding an act against it.
#[derive(Clone, Debug, PartialEq)]
pub enum Pass {
    /// It passes; what was asked about and kept, or lifted by a reason, stays with its entry.
    Written(Vec<Finding>),
    /// It is asked about.
    Asked(Vec<Finding>),
    /// A reason is wanted, or a better one.
    WantsReason(Vec<Finding>),
    /// Nobody passes.
    Refused(Vec<Finding>),
}

impl<'a> Validator<'a> {
    /// The piece as it stood.
    #[must_use]
    pub fn piece(&self, id: PieceId) -> Option<&'a Piece> {
        self.state.pieces.get(&id)
    }

    /// Refuses whatever makes food of what nobody may eat.
    #[must_use]
    pub fn edible(&self, piece: &'a Piece) -> Option<Finding> {
        let verdict = self.judge().piece(self.state, piece);
        let why = verdict.reasons.iter().find(|r| match verdict.word {
            Verdict::DoNotEat => {
                !matches!(r.code, ReasonCode::ThrownAway | ReasonCode::TestPending)
            }
            Verdict::ReadyToEat | Verdict::CookBeforeEating => false,
        })?;
        Some(refused(&piece.tag, &why.message))
    }

    /// Whether a piece that sours may go on: what dries it or makes food of it asks this.
    #[must_use]
    pub fn soured(&self, piece: &Piece) -> Option<Finding> {
        souring_gate(piece, self.home, self.at)
    }

    /// Refuses trim and fat of an animal that tested positive.
    #[must_use]
    pub fn edible_lot(&self) -> Option<Finding> {
        let answer = self.state.facts.answers.get(&HoldKind::WastingTest)?;
        let tag = self
            .state
            .lot
            .as_ref()
            .map_or("this animal", |l| &l.received.tag);
        (answer.answer == HoldAnswer::Positive)
            .then(|| refused(tag, "it tested positive for chronic wasting disease"))
    }

    /// What is asked before meat is packed, or goes among that of another animal, while a test is waited for.
    #[must_use]
    pub fn waits_for_test(&self, lots: &[&State]) -> Option<Finding> {
        let waiting = lots.iter().find(|s| waits(s).is_some())?;
        let tag = waiting
            .lot
            .as_ref()
            .map_or("The animal", |l| &l.received.tag);
        Some(
            Finding::new(
                Code::TestPending,
                Severity::Caution,
                format!("The wasting-disease test of {tag} is not in. Nobody eats this until it is."),
            )
            .saw("a sample that was sent in")
            .wants("its result")
            .remedy("Freeze it apart under its own tag and enter the result first. Saved now, its label says “Do not eat until tested”."),
        )
    }

    /// What builds and species are.
    #[must_use]
    pub fn catalogue(&self) -> &'a Catalogue {
        self.book.catalogue()
    }

    /// Who says what may be said of a piece.
    #[must_use]
    pub fn judge(&self) -> Judge<'a> {
        Judge {
            book: self.book,
            home: self.home,
        }
    }

    /// Looks at a change beside its lot, answers what comes of it and marks what passes: with what was
    /// kept, and with what the labels of its packs say.
    #[must_use]
    pub fn look(
        change: &mut Change,
        lot: &LotBook,
        keep: bool,
        (book, home): (&Book, &House),
    ) -> Pass {
        let state = Validator::before(lot, change);
        let correcting = matches!(change, Change::Replace { .. });
        let (act, kept, at) = match change {
            Change::Add { act, kept, at, .. } => (act, kept, *at),
            Change::Replace {
                act,
                kept,
                at,
                entry,
            } => {
                let old = lot
                    .entry(*entry)
                    .map_or(Timestamp::UNIX_EPOCH, |e| e.happened_at);
                (act, kept, at.unwrap_or(old))
            }
            // What was kept stays kept: only the clock was wrong.
            Change::Undo { .. } | Change::Redate { .. } => return Pass::Written(Vec::new()),
        };
        let validator = Validator {
            book,
            state: &state,
            home,
            at,
            correcting,
        };
        if let Act::Packed(packed) = &mut **act
            && let Some(piece) = state.pieces.get(&packed.piece)
        {
            packed.print(|pack| printed(&validator.judge(), &state, piece, pack), at);
        }
        let pass = validator.pass(act, keep);
        if let Pass::Written(found) = &pass {
            kept.clone_from(found);
        }
        pass
    }

    /// Whether an act passes; `keep` is the person's answer to what was asked about before.
    #[must_use]
    pub fn pass(&self, act: &Act, keep: bool) -> Pass {
        let mut warnings = act.warnings(self);
        warnings.extend(self.goes_on_with_lost(act, &warnings));
        warnings.extend(self.waited_too_long(act));
        let is_stop = |f: &&Finding| f.severity == Severity::Stop && !self.correcting;
        if warnings.iter().filter(is_stop).any(|f| f.code.is_final()) {
            return Pass::Refused(warnings);
        }
        let stopped = warnings.iter().any(|f| f.severity == Severity::Stop);
        let reasoned = act.fact().reason().is_some_and(reason::is_enough);
        if stopped && !reasoned && !self.correcting {
            return Pass::WantsReason(warnings);
        }
        // A reason answers the stop; a question is answered by looking again.
        let asks = |f: &Finding| match f.severity {
            Severity::Info => false,
            Severity::Caution => true,
            Severity::Stop => !reasoned,
        };
        if warnings.iter().any(asks) && !keep {
            return Pass::Asked(warnings);
        }
        Pass::Written(
            warnings
                .into_iter()
                .filter(|f| f.severity > Severity::Info)
                .collect(),
        )
    }

    /// What is asked where a piece goes on that waited past its time: out of its cure, into the heat, onto its hook, into its packs.
    fn waited_too_long(&self, act: &Act) -> Option<Finding> {
        let goes_on = matches!(
            act,
            Act::OutOfCure(_) | Act::Smoked(_) | Act::Hung(_) | Act::Packed(_)
        );
        if self.correcting || !goes_on {
            return None;
        }
        let pieces = act.pieces();
        let mut pieces = pieces.iter().filter_map(|id| self.piece(*id));
        pieces.find_map(|piece| self.judge().long_past(piece, self.at))
    }

    /// What is asked about at every act that goes on with meat that nobody may eat: it is written down, since it happened.
    fn goes_on_with_lost(&self, act: &Act, already: &[Finding]) -> Option<Finding> {
        if self.correcting
            || already.iter().any(|f| f.code == Code::NotEaten)
            || act.course() == Course::Beside
        {
            return None;
        }
        act.pieces()
            .into_iter()
            .filter_map(|id| self.piece(id))
            .find_map(|piece| {
                let stop = self.edible(piece)?;
                Some(Finding {
                    severity: Severity::Caution,
                    ..stop
                })
            })
    }

    /// The lot as it stood when a change would happen: without what came later, and without the
    /// entry that is put right.
    #[must_use]
    pub fn before<'b>(found: &'b LotBook, change: &Change) -> Cow<'b, State> {
        match change {
            Change::Add { at, .. } => found.state_before(*at, None),
            Change::Replace { entry, at, .. } => {
                let old = found.entry(*entry).map(|e| e.happened_at);
                match at.or(old) {
                    Some(at) => found.state_before(at, Some(*entry)),
                    None => Cow::Borrowed(&found.state),
                }
            }
            Change::Undo { .. } | Change::Redate { .. } => Cow::Borrowed(&found.state),
        }
    }
}

fn refused(what: &str, why: &str) -> Finding {
    Finding::new(
        Code::NotEaten,
        Severity::Stop,
        format!("Nobody may eat {what}."),
    )
    .saw(why.trim_end_matches('.').to_string())
    .remedy("Throw it away, or put right the entry that says so.")
}
