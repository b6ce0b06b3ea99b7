//! What makes it “do not eat”: only what can hurt at once.

use super::{Judge, Really, Reason, ReasonCode, Within, ppm};
use crate::catalogue::builds::Build;
use crate::catalogue::holds::{HoldAnswer, HoldKind};
use crate::catalogue::steps::{CheckValue, DISCARD};
use crate::ledger::state::{Answered, State};
use crate::piece::{Around, Cooled, Pack, Piece, Stage};
use crate::place::climate::{GAP_S, SPOILS, Stretch, WarmthBand, around};
use crate::units::Celsius;
use jiff::Timestamp;

/// After so many hours of that nobody eats it.
const SPOILED_H: f64 = 24.0;
/// Readings closer than this (h) are one log.
const LOG_GAP_H: f64 = GAP_S as f64 / 3_600.0;
/// A dry sausage is sour enough at this.
pub const SOUR_PH: f64 = 5.3;
/// A dry sausage that is not sour by then (h) is thrown away.
pub const SOUR_BY_H: f64 = 72.0;
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
                judge.said(read.inside.value),
                crate::units::show::trim(read.hours, 1),
                judge.said(Celsius(end)),
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
        really: Option<&Really>,
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
        for (_, one) in &within.pieces {
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
            found.extend(self.warm(&one.around).or_else(|| self.warm_by_log(one)));
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
        let packed = pack.and_then(|id| self.book.pack(id));
        found.extend(packed.and_then(|(_, piece, pack)| self.pack_lay_warm(piece, pack)));
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
        really: Option<&Really>,
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

    /// Warm for a day on end, as far as it was read.
    fn warm(&self, around: &[Around]) -> Option<Reason> {
        let hours =
            |from: Timestamp, to: Timestamp| to.duration_since(from).as_secs_f64() / 3_600.0;
        // How long it has been warm on end, up to the reading before, and when that was.
        let mut stretch: Option<(f64, Timestamp)> = None;
        for read in around.iter().filter(|a| !a.drying) {
            if read.warmth.value.0 <= SPOILS.0 + 1e-9 {
                stretch = None;
                continue;
            }
            let on_end = match stretch {
                Some((so_far, last)) if hours(last, read.at) - read.hours <= LOG_GAP_H => {
                    f64::max(so_far + hours(last, read.at), read.hours)
                }
                Some(_) | None => read.hours,
            };
            stretch = Some((on_end, read.at));
            if on_end >= SPOILED_H - 1e-9 {
                return Some(
                    Reason::new(
                        ReasonCode::TooWarm,
                        format!(
                            "It lay at {} for {} h; over {} for {} h nobody eats it.",
                            self.said(read.warmth.value),
                            crate::units::show::trim(on_end, 0),
                            self.said(Celsius(SPOILS.0)),
                            crate::units::show::trim(SPOILED_H, 0)
                        ),
                    )
                    .at(read.entry),
                );
            }
        }
        None
    }

    /// The same by the log of the places it lay in, never what hangs or evens out dried.
    fn warm_by_log(&self, piece: &Piece) -> Option<Reason> {
        let dries = piece.hanging.as_ref().map(|h| Stretch {
            from: h.since,
            to: match h.until {
                Some(until) if !piece.build().is_some_and(Build::is_dried) => until,
                Some(_) | None => Timestamp::MAX,
            },
        });
        let counts = |s: Stretch| {
            // What came before the hook, and what came after it.
            let cut = dries.and_then(|d| s.within(d));
            match cut {
                None => s.seconds(),
                Some(cut) => (cut.from.as_second() - s.from.as_second())
                    .max(s.to.as_second() - cut.to.as_second()),
            }
        };
        let warm = around(piece, self.home, WarmthBand::Spoiling);
        let longest = warm.into_iter().max_by_key(|s| counts(*s))?;
        self.too_warm(longest, counts(longest))
    }

    /// The same of a pack, by the log of the place it lies in; dried it is not meant.
    fn pack_lay_warm(&self, piece: &Piece, pack: &Pack) -> Option<Reason> {
        if piece.build().is_some_and(Build::is_dried) {
            return None;
        }
        let lay = Stretch {
            from: pack.at,
            to: pack.discarded.unwrap_or(Timestamp::MAX),
        };
        let log = self.home.beside.climate.place(pack.lies_in?)?;
        let warm = log.stretches(WarmthBand::Spoiling).iter();
        let longest = warm
            .filter_map(|s| s.within(lay))
            .max_by_key(|s| s.seconds())?;
        self.too_warm(longest, longest.seconds())
    }

    fn too_warm(&self, stretch: Stretch, seconds: i64) -> Option<Reason> {
        let hours = seconds as f64 / 3_600.0;
        (hours >= SPOILED_H - 1e-9).then(|| {
            let from = stretch.from.to_zoned(self.home.zone());
            Reason::new(
                ReasonCode::TooWarm,
                format!(
                    "Its place was over {} for {} h from {} on, by its log; after {} h nobody eats it.",
                    self.said(SPOILS),
                    crate::units::show::trim(hours, 0),
                    from.strftime("%Y-%m-%d %H:%M"),
                    crate::units::show::trim(SPOILED_H, 0)
                ),
            )
            .change("Only the readings themselves struck out, if the thermometer was wrong.")
        })
    }

    /// A dry sausage whose pH was still too high when it had to be sour.
    fn not_sour(&self, piece: &Piece) -> Option<Reason> {
        let build = piece.build()?;
        if !build.is_ground() || !build.is_dried() {
            return None;
        }
        let since = piece.cure.as_ref()?.since;
        let hours = |at: Timestamp| at.duration_since(since).as_secs_f64() / 3_600.0;
        let read: Vec<_> = ph_of(piece).collect();
        if read
            .iter()
            .any(|(at, ph, _)| *ph <= SOUR_PH + 1e-9 && hours(*at) <= SOUR_BY_H + 1e-9)
        {
            return None;
        }
        let (at, ph, entry) = read
            .into_iter()
            .find(|(at, ph, _)| *ph > SOUR_PH + 1e-9 && hours(*at) >= SOUR_BY_H - 1e-9)?;
        Some(
            Reason::new(
                ReasonCode::PhTooHigh,
                format!(
                    "Its pH was still {} after {} h; not {} by {} h it is thrown away, since cooking does not undo the toxin of staphylococcus.",
                    crate::units::show::trim(ph, 2),
                    crate::units::show::trim(hours(at), 0),
                    crate::units::show::trim(SOUR_PH, 1),
                    crate::units::show::trim(SOUR_BY_H, 0)
                ),
            )
            .at(entry),
        )
    }
}

/// Every pH that was read, with when and by which entry.
pub fn ph_of(piece: &Piece) -> impl Iterator<Item = (Timestamp, f64, crate::ids::EntryId)> {
    let word = crate::ids::word(&CheckValue::Ph);
    piece
        .checks
        .iter()
        .filter(move |c| c.check == word)
        .filter_map(|c| {
            let value = c.value.as_ref()?.replace(',', ".").parse().ok()?;
            Some((c.at, value, c.entry))
        })
}
