//! How long a piece waits where nothing keeps it for ever: in its cure past its day, cured and put off, cooked and not packed.
//!
//! What hangs, ages or evens out by its product does not age, and frozen time is left out.

use super::{Assessment, Judge, Reason, ReasonCode};
use crate::catalogue::steps::StepKind;
use crate::caution::{Code, Finding, Severity};
use crate::cure::span::{cure_span, slack};
use crate::ledger::state::State;
use crate::piece::printed::Verdict;
use crate::piece::{Piece, Stage};
use crate::reason;
use crate::units::show;
use jiff::{SignedDuration, Timestamp};

/// Cured and out, it waits for its smoke, its hook or its pack for so many days.
///
/// # Source
/// A measured dose waits 14 days in an open container; out of it nothing keeps it longer.
const CURED_WAITS: i64 = 14;

/// Cooked or smoked, open in a fridge (days).
const COOKED_WAITS: i64 = 7;

/// So many days past that a piece is asked about, nobody knows any more what it went through.
const LOST_AFTER: i64 = 90;

/// Where a piece waits.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Waiting {
    /// In its cure.
    InCure,
    /// Out of its cure.
    Cured,
    /// Cooked or smoked.
    Cooked,
}

/// How long a piece waits, and how long it may.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Age {
    /// Where.
    pub waiting: Waiting,
    /// From when on it is counted: its planned day out, or the last step that made it keep.
    pub since: Timestamp,
    /// Days since then, frozen ones left out.
    pub days: i64,
    /// After so many it is asked about.
    pub asked_after: i64,
    /// After so many nobody eats it, unless a reason says where it was.
    pub lost_after: i64,
}

impl Age {
    /// True past the days after which it is asked about.
    #[must_use]
    pub const fn is_asked(&self) -> bool {
        self.days > self.asked_after
    }

    /// True past the days after which nobody eats it.
    #[must_use]
    pub const fn is_lost(&self) -> bool {
        self.days > self.lost_after
    }

    const fn words(self) -> &'static str {
        match self.waiting {
            Waiting::InCure => "It lies in its cure long past its day.",
            Waiting::Cured => "It is out of its cure and waits for a long time.",
            Waiting::Cooked => "It was cooked or smoked and lies unpacked for a long time.",
        }
    }

    const fn remedy(self) -> &'static str {
        match self.waiting {
            Waiting::InCure => {
                "Smell it, look at its bag, and cut into it: sour, slimy or gray, it is thrown away. Kept, it goes on."
            }
            Waiting::Cured | Waiting::Cooked => {
                "If it was frozen, save when. Otherwise smell it and feel its surface: sour or sticky, it is thrown away. Kept, it goes on."
            }
        }
    }
}

/// A reason was typed for how long it lay, since then.
fn is_lifted(piece: &Piece, age: Age) -> bool {
    piece.pauses.iter().any(|p| {
        let old = p.findings.iter().any(|f| f.code == Code::LongPast);
        old && p.at >= age.since && p.reason.as_deref().is_some_and(reason::is_enough)
    })
}

/// The age of what waited past all measure, where no reason was typed for it.
fn lost(piece: &Piece, age: Option<Age>) -> Option<Age> {
    age.filter(|age| age.is_lost() && !is_lifted(piece, *age))
}

/// How long it lay in the freezer between two moments.
fn frozen(piece: &Piece, from: Timestamp, until: Timestamp) -> SignedDuration {
    piece.frosts.iter().map(|f| f.lasted(from, until)).sum()
}

/// The last of what made a piece keep before then: out of its cure, out of the heat, off its hook, at the end of its ageing. None
/// for what was never cured nor heated.
#[must_use]
pub fn kept_since(piece: &Piece, until: Timestamp) -> Option<Timestamp> {
    let off = piece.hanging.as_ref().and_then(|h| h.until);
    let even = piece.evening_out.as_ref().map(|e| e.until.min(until));
    let heats = piece.heats.iter().map(|h| h.at);
    let rests = piece.done.iter().filter(|d| {
        let step = piece
            .build()
            .and_then(|b| b.steps.iter().find(|s| s.id == d.step));
        step.is_some_and(|s| s.kind == StepKind::EvenOut)
    });
    let all = [piece.out_of_cure, off, even].into_iter().flatten();
    all.chain(heats)
        .chain(rests.map(|d| d.at))
        .filter(|at| *at <= until)
        .max()
}

/// Whole days that a piece lay unfrozen from the last thing that made it keep until then.
#[must_use]
pub fn days_kept(piece: &Piece, since: Timestamp, until: Timestamp) -> i64 {
    let lay = until.duration_since(since) - frozen(piece, since, until);
    lay.as_hours().max(0) / 24
}

impl Judge<'_> {
    /// How long a piece waits at a moment, as it stands then; none for what does not age: raw meat, what hangs or is dried, what is
    /// over.
    #[must_use]
    pub fn age(&self, piece: &Piece, at: Timestamp) -> Option<Age> {
        match piece.stage() {
            Stage::InCure => self.late_in_cure(piece, at),
            Stage::Smoke | Stage::Hang | Stage::Pack => waiting(piece, at),
            Stage::Assign
            | Stage::Dose
            | Stage::Hanging
            | Stage::Packed
            | Stage::CutUp
            | Stage::Joined
            | Stage::Discarded => None,
        }
    }

    /// How long a piece lies in its cure past its planned day.
    fn late_in_cure(&self, piece: &Piece, at: Timestamp) -> Option<Age> {
        let span = cure_span(piece, self.home, self.book.catalogue())?;
        let out = span.out_on.to_zoned(self.home.settings.zone()).ok()?;
        let past = self.day(at).since(span.out_on).ok()?.get_days();
        // What grows saltier past its day says so by itself at once; here it is about spoiling.
        let may = slack(piece);
        Some(Age {
            waiting: Waiting::InCure,
            since: out.timestamp(),
            days: i64::from(past),
            asked_after: may,
            lost_after: may + LOST_AFTER,
        })
    }

    /// What is asked of a piece that waited so long: a question, and past all measure a stop that only a reason lifts.
    #[must_use]
    pub fn long_past(&self, piece: &Piece, at: Timestamp) -> Option<Finding> {
        let age = self.age(piece, at).filter(Age::is_asked)?;
        if is_lifted(piece, age) {
            return None;
        }
        let severity = if age.is_lost() {
            Severity::Stop
        } else {
            Severity::Caution
        };
        let said = |n: i64| show::days(n as f64);
        let finding = Finding::new(Code::LongPast, severity, age.words())
            .saw(said(age.days))
            .wants(format!("at most {}", said(age.asked_after)));
        Some(if age.is_lost() {
            finding.remedy(format!(
                "Past {} nobody eats it. Say where it was and since when, such as “in the freezer since March”, or throw it away.",
                said(age.lost_after)
            ))
        } else {
            finding.remedy(age.remedy())
        })
    }

    /// Why nobody eats a piece that waited past all measure: as it was when it left its cure, when it was heated and when it was
    /// packed.
    pub(super) fn lay_too_long(&self, state: &State, piece: &Piece) -> Option<Reason> {
        let in_cure = piece
            .out_of_cure
            .and_then(|out| lost(piece, self.late_in_cure(piece, out)));
        let packs = piece.packs.iter().filter_map(|id| state.packs.get(id));
        let packed = packs.map(|p| p.at).min();
        let ends = piece.heats.iter().map(|h| h.at).chain(packed);
        let waited = || {
            // As it stood just before it was heated, or packed.
            let before = |at: Timestamp| at.checked_sub(SignedDuration::from_secs(1)).ok();
            ends.filter_map(before)
                .find_map(|at| lost(piece, waiting(piece, at)))
        };
        in_cure.or_else(waited).map(too_old)
    }

    /// What may be said of a piece at a moment: as its facts say, unless it waits past all measure.
    #[must_use]
    pub fn at(&self, verdict: Assessment, piece: &Piece, now: Timestamp) -> Assessment {
        if verdict.word == Verdict::DoNotEat {
            return verdict;
        }
        match lost(piece, self.age(piece, now)) {
            Some(age) => Assessment {
                word: Verdict::DoNotEat,
                how: None,
                reasons: vec![too_old(age)],
                ..verdict
            },
            None => verdict,
        }
    }
}

fn too_old(age: Age) -> Reason {
    Reason::new(
        ReasonCode::TooOld,
        format!(
            "{} {} went by; nobody knows what it went through.",
            age.words(),
            show::days(age.days as f64)
        ),
    )
    .change("Say where it was and since when as you go on with it, or throw it away.")
}

/// How long a piece waited by then out of its cure, as it stood then; none for what hung or evened out before.
fn waiting(piece: &Piece, at: Timestamp) -> Option<Age> {
    piece.cure.as_ref()?;
    let hung = piece.hanging.as_ref().is_some_and(|h| h.since <= at);
    let evens = piece.evening_out.as_ref().is_some_and(|e| e.since <= at);
    if hung || evens {
        return None;
    }
    let since = kept_since(piece, at)?;
    let cooked = piece.heats.iter().any(|h| h.at <= at);
    // What is smoked on its way to the hook still becomes dry.
    let dries = piece.build().is_some_and(|b| b.is_dried());
    let (waiting, asked_after, lost_after) = if cooked && !dries {
        (Waiting::Cooked, COOKED_WAITS, 3 * COOKED_WAITS)
    } else {
        (Waiting::Cured, CURED_WAITS, CURED_WAITS + LOST_AFTER)
    };
    Some(Age {
        waiting,
        since,
        days: days_kept(piece, since, at),
        asked_after,
        lost_after,
    })
}
