//! Where a piece is on its way: its build's steps, and those that are done.

use super::Piece;
use crate::catalogue::steps::{Step, StepKind, StepStation};
use crate::ids::EntryId;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// Where a piece is on its way.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Stage {
    /// Weighed, without a product.
    Assign,
    /// Waits for its dose.
    Dose,
    /// Lies in its cure.
    InCure,
    /// Waits for smoker or stove.
    Smoke,
    /// Waits for its hook.
    Hang,
    /// Hangs.
    Hanging,
    /// Waits for the packing table.
    Pack,
    /// Packed to the last gram.
    Packed,
    /// Cut into others.
    CutUp,
    /// Joined or ground with others into a new piece.
    Joined,
    /// Thrown away.
    Discarded,
}

impl Stage {
    /// True when nothing more happens to a piece.
    #[must_use]
    pub const fn is_over(self) -> bool {
        matches!(
            self,
            Self::Packed | Self::CutUp | Self::Joined | Self::Discarded
        )
    }

    /// Where a piece is, as a sentence about it goes on.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Assign => "has no product yet",
            Self::Dose => "waits for its dose",
            Self::InCure => "lies in its cure",
            Self::Smoke => "waits for the smoker",
            Self::Hang => "waits for its hook",
            Self::Hanging => "hangs",
            Self::Pack => "waits to be packed",
            Self::Packed => "is packed",
            Self::CutUp => "was cut into parts",
            Self::Joined => "went into another piece",
            Self::Discarded => "was thrown away",
        }
    }
}

/// A step that is done.
#[derive(Clone, Debug, PartialEq)]
pub struct StepDone {
    /// Its name within its build.
    pub step: String,
    /// When.
    pub at: Timestamp,
    /// The entry that says so; none for what was done before the piece was entered.
    pub entry: Option<EntryId>,
}

impl Piece {
    /// The steps of its way.
    fn steps(&self) -> &[Step] {
        self.build().map_or(&[], |b| b.steps.as_slice())
    }

    /// The first step behind which nothing is done: what is done last leaves behind it whatever
    /// was left out.
    fn position(&self) -> usize {
        let is_done = |s: &Step| self.done.iter().any(|d| d.step == s.id);
        self.steps()
            .iter()
            .rposition(is_done)
            .map_or(0, |last| last + 1)
    }

    /// What may be done next: its first step that is not done and, while steps may be left out,
    /// those behind it.
    pub fn open_steps(&self) -> impl Iterator<Item = &Step> {
        let mut held = false;
        let over = self.ended.is_some();
        self.steps()[self.position()..]
            .iter()
            .take_while(move |step| {
                let open = !held && !over;
                held |= !step.may_be_left_out();
                open
            })
    }

    /// The first step that is not done.
    #[must_use]
    pub fn next_step(&self) -> Option<&Step> {
        self.open_steps().next()
    }

    /// The heat that it may go on with though it is done: until it hangs or is packed, a piece may be brought further.
    #[must_use]
    pub fn heated_on(&self) -> Option<&Step> {
        let last = self.steps()[..self.position()]
            .iter()
            .rev()
            .find(|s| s.kind.is_heat() && self.step_done(&s.id).is_some())?;
        let on = matches!(self.stage(), Stage::Pack | Stage::Hang) && self.packs.is_empty();
        (on && self.hanging.is_none()).then_some(last)
    }

    /// The hook that is passed over when what was to be dried raw is cooked: leftover mix, or what came down too early. Its way
    /// has no heat of its own.
    #[must_use]
    pub fn cooked_instead(&self) -> Option<&Step> {
        let build = self.build().filter(|b| b.is_dried())?;
        let here = matches!(self.stage(), Stage::Hang | Stage::Pack) && self.packs.is_empty();
        let none_open = !self.open_steps().any(|s| s.kind.is_heat());
        build
            .step(StepKind::Hang)
            .filter(|_| here && none_open && self.out_of_cure.is_some())
    }

    /// True when it may go into a smoker, an oven or a pot now.
    #[must_use]
    pub fn may_be_heated(&self) -> bool {
        self.open_steps().any(|s| s.kind.is_heat())
            || self.heated_on().is_some()
            || self.cooked_instead().is_some()
    }

    /// The open step that `wanted` means: one that has to be before one that may be left out.
    pub fn open_step(&self, wanted: impl Fn(&Step) -> bool) -> Option<&Step> {
        let mut fits = self.open_steps().filter(|s| wanted(s));
        let first = fits.next()?;
        if first.may_be_left_out() {
            Some(fits.find(|s| !s.may_be_left_out()).unwrap_or(first))
        } else {
            Some(first)
        }
    }

    /// When a step was done, if it was.
    #[must_use]
    pub fn step_done(&self, id: &str) -> Option<&StepDone> {
        self.done.iter().rev().find(|d| d.step == id)
    }

    /// Writes down that a step is done.
    pub fn did(&mut self, step: &str, at: Timestamp, entry: Option<EntryId>) {
        self.done.push(StepDone {
            step: step.into(),
            at,
            entry,
        });
    }

    /// Writes down the open step of a kind as done, if there is one.
    pub fn did_kind(&mut self, kind: StepKind, at: Timestamp, entry: EntryId) {
        if let Some(id) = self.open_step(|s| s.kind == kind).map(|s| s.id.clone()) {
            self.did(&id, at, Some(entry));
        }
    }

    /// Where it is: the station of its first step that is not done and has one.
    #[must_use]
    pub fn stage(&self) -> Stage {
        if let Some(ended) = self.ended {
            return ended;
        }
        let Some(build) = self.build() else {
            return Stage::Assign;
        };
        if self.hanging.as_ref().is_some_and(|h| h.until.is_none()) {
            return Stage::Hanging;
        }
        if build.gone {
            return self.stage_by_facts();
        }
        let gate = build.steps[self.position()..]
            .iter()
            .find_map(|s| Some((s.kind, s.kind.traits().station?)));
        match gate {
            None | Some((_, StepStation::Pack)) => Stage::Pack,
            Some((_, StepStation::Cure)) if self.cure.is_some() => Stage::InCure,
            Some((_, StepStation::Cure)) => Stage::Dose,
            Some((_, StepStation::Smoke)) => Stage::Smoke,
            Some((_, StepStation::Hang)) => Stage::Hang,
        }
    }

    /// Where a piece is whose product no catalogue holds any more.
    fn stage_by_facts(&self) -> Stage {
        match (&self.cure, self.out_of_cure) {
            (None, _) => Stage::Dose,
            (Some(_), None) => Stage::InCure,
            (Some(_), Some(_)) => Stage::Pack,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::catalogue::builds::Build;
    use crate::ids::PieceId;
    use crate::units::Milligrams;
    use std::sync::Arc;

    fn at() -> Timestamp {
        "2026-11-20T09:00:00Z".parse().unwrap()
    }

    /// A piece of a product of these steps; those in brackets may be left out.
    fn on_its_way(kinds: &[(StepKind, bool)]) -> Piece {
        let steps = kinds.iter().enumerate().map(|(i, (kind, optional))| Step {
            id: format!("{i}"),
            optional: Some(*optional),
            ..Step::bare(*kind)
        });
        let build = Build {
            gone: false,
            steps: steps.collect(),
            ..Build::gone("made-up", 1)
        };
        let mut piece = Piece::green(PieceId(1), "HG1-1", Milligrams(1_000), (EntryId(1), at()));
        piece.product = Some(Arc::new(build));
        piece
    }

    #[test]
    fn a_piece_is_at_its_first_step_that_is_not_done() {
        use StepKind as K;
        // dose, cure, (soak), (cold smoke), (rest), smoke, hang, (cook), pack
        let mut piece = on_its_way(&[
            (K::Dose, false),
            (K::Cure, false),
            (K::Soak, true),
            (K::ColdSmoke, true),
            (K::Rest, true),
            (K::Smoke, false),
            (K::Hang, false),
            (K::Cook, true),
            (K::Pack, false),
        ]);
        let open = |p: &Piece| -> Vec<StepKind> { p.open_steps().map(|s| s.kind).collect() };
        assert_eq!((piece.stage(), open(&piece)), (Stage::Dose, vec![K::Dose]));
        piece.did_kind(K::Dose, at(), EntryId(2));
        piece.did_kind(K::Cure, at(), EntryId(3));
        assert_eq!(piece.stage(), Stage::Smoke);
        assert_eq!(open(&piece), [K::Soak, K::ColdSmoke, K::Rest, K::Smoke]);
        // of two smokes the one that has to be is meant, unless the other is named
        assert_eq!(piece.open_step(|s| s.kind.is_heat()).unwrap().id, "5");
        piece.did("3", at(), Some(EntryId(4)));
        assert_eq!(open(&piece), [K::Rest, K::Smoke]);
        piece.did_kind(K::Smoke, at(), EntryId(5));
        assert_eq!((piece.stage(), open(&piece)), (Stage::Hang, vec![K::Hang]));
        piece.did_kind(K::Hang, at(), EntryId(6));
        // cooked here, or packed to be cooked
        assert_eq!(piece.stage(), Stage::Smoke);
        assert_eq!(open(&piece), [K::Cook, K::Pack]);
        piece.did_kind(K::Cook, at(), EntryId(7));
        assert_eq!((piece.stage(), open(&piece)), (Stage::Pack, vec![K::Pack]));
        piece.ended = Some(Stage::Packed);
        assert_eq!(open(&piece), []);
    }

    #[test]
    fn what_no_catalogue_holds_stays_where_its_facts_say() {
        let mut piece = on_its_way(&[]);
        piece.product = Some(Arc::new(Build::gone("moon-cheese", 3)));
        assert_eq!(piece.stage(), Stage::Dose);
        piece.cure = Some(super::super::InCure {
            topped: Vec::new(),
            injected: crate::units::Milligrams::ZERO,
            entry: EntryId(1),
            meat: Milligrams(1_000),
            since: at(),
            dose: None,
        });
        assert_eq!(piece.stage(), Stage::InCure);
        piece.out_of_cure = Some(at());
        assert_eq!(piece.stage(), Stage::Pack);
    }
}
