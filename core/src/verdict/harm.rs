//! What makes it “do not eat”: only what can hurt at once.

use super::souring::{SOUR_BY_H, SOUR_PH, souring};
use super::{ActualContents, Judge, Reason, ReasonCode, Within, ppm};
use crate::catalogue::holds::{HoldAnswer, HoldKind};
use crate::catalogue::steps::DISCARD;
use crate::ledger::state::{Answered, State};
use crate::piece::{Cooled, Piece, Stage};
use crate::units::Celsius;
use crate::units::show::trim;
use jiff::Timestamp;

/// Cooling missed by more than this (h) is thrown away.
const FAR_TOO_SLOW_H: f64 = 4.0;

/// The least an inside has to have cooled by, in two strides.
///
/// # Source
/// USDA FSIS Appendix B: uncured meat from 130 to 80 °F within 1.5 h and on to 40 °F within 5 h;
/// cured with at least 100 ppm nitrite and 250 ppm ascorbate to 80 °F within 5 h and on to 45 °F
/// within 10 h.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct CoolingClock {
    /// To 80 °F within so long (h).
    pub first_h: f64,
    /// To its end within so long, from the heat on (h).
    pub all_h: f64,
    /// Its end.
    pub end: Celsius,
    /// True for the longer one, of what was cured with an accelerator.
    pub cured: bool,
}

/// Where the first stride ends (80 °F).
const FIRST_END_C: f64 = (80.0 - 32.0) / 1.8;

const UNCURED: CoolingClock = CoolingClock {
    first_h: 1.5,
    all_h: 6.5,
    end: Celsius((40.0 - 32.0) / 1.8),
    cured: false,
};

const CURED: CoolingClock = CoolingClock {
    first_h: 5.0,
    all_h: 15.0,
    end: Celsius((45.0 - 32.0) / 1.8),
    cured: true,
};

/// A cooling that was too slow.
pub(super) struct Late {
    /// By how many hours.
    pub hours: f64,
    /// Said as a reason.
    pub reason: Reason,
}

/// Whether a reading shows that it cooled too slowly.
pub(super) fn cooling(read: &Cooled, cured: bool, judge: &Judge<'_>) -> Option<Late> {
    let clock = if cured { CURED } else { UNCURED };
    let inside = read.inside.value.0;
    // Half a tenth of a degree is what thermometers round away.
    let over = |end: f64| inside > end + 0.05;
    let late = if over(FIRST_END_C) {
        (read.hours - clock.first_h, FIRST_END_C, clock.first_h)
    } else if over(clock.end.0) {
        (read.hours - clock.all_h, clock.end.0, clock.all_h)
    } else {
        return None;
    };
    let (hours, end, within) = late;
    (hours > 1e-9).then(|| Late {
        hours,
        reason: Reason::new(
            ReasonCode::CoolingMissed,
            format!(
                "It was still {} inside {} h after the heat; {} within {} h keeps spores from growing out (Clostridium perfringens).",
                judge.label(read.inside.value),
                crate::units::show::trim(read.hours, 1),
                judge.label(Celsius(end)),
                crate::units::show::trim(within, 1)
            ),
        )
        .at(read.entry),
    })
}

/// The answer by which a wasting-disease test of a lot is waited for.
#[must_use]
pub fn waits(state: &State) -> Option<&Answered> {
    let answer = state.facts.answers.get(&HoldKind::WastingTest)?;
    (answer.answer == HoldAnswer::Waiting).then_some(answer)
}

impl<'a> Judge<'a> {
    /// The clock by which a piece has to cool.
    #[must_use]
    pub fn cooling_clock(&self, piece: &Piece) -> CoolingClock {
        if self.cured_for_cooling(piece) {
            CURED
        } else {
            UNCURED
        }
    }

    /// Every reason for which nobody eats it.
    pub(super) fn harm(
        &self,
        within: &Within<'a>,
        piece: &Piece,
        really: Option<&ActualContents>,
        pack: Option<crate::ids::PackId>,
    ) -> Vec<Reason> {
        let mut found = Vec::new();
        for state in &within.lots {
            let tag = state.lot.as_ref().map_or("An animal", |l| &l.received.tag);
            for (kind, answer) in &state.facts.answers {
                if answer.answer != HoldAnswer::Positive {
                    continue;
                }
                let disease = match kind {
                    HoldKind::WastingTest => "chronic wasting disease; cooking does not undo that",
                    HoldKind::Freezing => "trichinella",
                    HoldKind::Shot | HoldKind::Smell => continue,
                };
                found.push(
                    Reason::new(
                        ReasonCode::PositiveAnimal,
                        format!("{tag} tested positive for {disease}."),
                    )
                    .at(answer.entry)
                    .change("Only that answer itself put right, if it was a slip."),
                );
            }
        }
        self.poisoned(within, piece, really, &mut found);
        let packed_in = within.pieces.first().map(|(state, _)| *state);
        let packed = pack.and_then(|id| packed_in?.packs.get(&id));
        for (state, one) in &within.pieces {
            // Of the piece itself a pack's own check counts for that pack alone.
            let concerns = |of: Option<crate::ids::PackId>| of.is_none() || of == pack;
            let bad = one
                .checks
                .iter()
                .filter(|c| c.grade.as_deref() == Some(DISCARD) && concerns(c.pack));
            found.extend(bad.map(|c| {
                let name = self.book.catalogue().check(&c.check);
                let name = name.map_or(c.check.as_str(), |n| n.name.as_str());
                Reason::new(
                    ReasonCode::CheckDiscard,
                    format!("{} was found to be bad: {name}.", one.tag),
                )
                .at(c.entry)
                .change("Only that check itself put right, if it was a slip.")
            }));
            found.extend(self.too_warm(state, one, packed.filter(|_| one.id == piece.id)));
            found.extend(self.not_sour(one));
            let cured = self.cured_for_cooling(one);
            found.extend(
                one.cooled
                    .iter()
                    .filter_map(|c| cooling(c, cured, self))
                    .filter(|late| late.hours > FAR_TOO_SLOW_H)
                    .map(|late| late.reason),
            );
        }
        found.extend(packed_in.and_then(|state| self.lay_too_long(state, piece)));
        if piece.ended == Some(Stage::Discarded) {
            found.push(Reason::new(ReasonCode::ThrownAway, "It was thrown away."));
        } else if piece.build().is_some_and(|b| b.discard) {
            found.push(Reason::new(
                ReasonCode::ThrownAway,
                "It is to be thrown away.",
            ));
        }
        // What hurts at once is said before what is waited for.
        for state in &within.lots {
            let Some(answer) = waits(state) else { continue };
            let tag = state.lot.as_ref().map_or("An animal", |l| &l.received.tag);
            found.push(
                Reason::new(
                    ReasonCode::TestPending,
                    format!("Do not eat until tested: the result of {tag} for chronic wasting disease is not in."),
                )
                .at(answer.entry)
                .change("Enter the result when it comes. Keep it apart from other meat until then."),
            );
        }
        found
    }

    /// More nitrite in it, or in what went into it, than anybody may eat.
    fn poisoned(
        &self,
        within: &Within<'a>,
        piece: &Piece,
        really: Option<&ActualContents>,
        found: &mut Vec<Reason>,
    ) {
        let most = self.rules().map_or(500.0, |r| r.refuse_over_ppm);
        let mut say = |tag: &str, nitrite: f64, entry| {
            if nitrite > most {
                found.push(
                    Reason::new(
                        ReasonCode::NitriteOver500,
                        format!(
                            "{tag} took in {} nitrite as really weighed; over {} nobody eats it.",
                            ppm(nitrite),
                            ppm(most)
                        ),
                    )
                    .at(entry)
                    .change("Only the weight or the dose itself put right, if it was a slip."),
                );
            }
        };
        for (state, one) in &within.pieces {
            let Some(cure) = &one.cure else { continue };
            let nitrite = if one.id == piece.id {
                really.map(|r| r.most_ppm)
            } else if within.pieces.len() > 1 {
                self.really(state, one).map(|r| r.most_ppm)
            } else {
                None
            };
            say(&one.tag, nitrite.unwrap_or(0.0), cure.entry);
        }
    }

    /// A dry sausage whose pH was still too high when it had to be sour.
    fn not_sour(&self, piece: &Piece) -> Option<Reason> {
        let time = souring(piece, self.home)?;
        let look = time.too_high?;
        let hours = |at: Timestamp| at.duration_since(time.from).as_secs_f64() / 3_600.0;
        let by = if time.by_warmth {
            format!("{} h, as warm as it was", trim(hours(time.end), 0))
        } else {
            format!("{} h", trim(SOUR_BY_H, 0))
        };
        Some(
            Reason::new(
                ReasonCode::PhTooHigh,
                format!(
                    "Its pH was still {} after {} h; not {} by {by} it is thrown away, since cooking does not undo the toxin of staphylococcus.",
                    trim(look.ph, 2),
                    trim(hours(look.at), 0),
                    trim(SOUR_PH, 1),
                ),
            )
            .at(look.entry),
        )
    }
}
