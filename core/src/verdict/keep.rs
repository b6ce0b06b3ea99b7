//! How long a pack keeps: by what it really is and what was really done, never longer than its
//! product says.

use super::{How, Judge, Really, Verdict, Word};
use crate::catalogue::builds::Keep;
use crate::piece::{Pack, Piece};
use crate::units::{Celsius, bounds};
use jiff::civil::Date;

/// Where a pack keeps, and until when.
#[derive(Clone, Debug, PartialEq)]
pub struct KeepUntil {
    /// Where and how.
    pub place: String,
    /// Best before.
    pub until: Date,
}

/// How a place keeps.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Storage {
    /// Frozen.
    pub frozen: bool,
    /// Without air.
    pub sealed: bool,
}

impl Storage {
    /// What the words of a place say.
    #[must_use]
    pub fn of(place: &str) -> Self {
        let said = place.to_lowercase();
        let has = |words: &[&str]| words.iter().any(|w| said.contains(w));
        Self {
            frozen: has(&["freez", "frozen"]),
            sealed: has(&["vacuum", "sealed", "airless"]),
        }
    }
}

/// Raw meat that was never cured, in a fridge (days).
const RAW_DAYS: u32 = 2;
/// Cured and never smoked, in a fridge (days).
const UNSMOKED_DAYS: u32 = 5;
/// Cured, smoked, and under its target, in a fridge (days).
const SMOKED_DAYS: u32 = 14;
/// Cured without nitrite, loosely wrapped in a fridge (days).
const NO_NITRITE_DAYS: u32 = 7;
/// Where what has no nitrite keeps unfrozen.
const LOOSELY: &str = "fridge, loosely wrapped";
/// Warm enough to be called smoked rather than dried in smoke (°C).
const SMOKED_C: Celsius = Celsius(50.0);

impl Judge<'_> {
    /// Where a pack keeps and until when: every way of its product, or the one that was chosen.
    #[must_use]
    pub fn keeps(
        &self,
        piece: &Piece,
        pack: &Pack,
        verdict: &Verdict,
        really: Option<&Really>,
    ) -> Vec<KeepUntil> {
        if verdict.word == Word::DoNotEat {
            return Vec::new();
        }
        let packed_on = self.day(pack.at);
        let listed = piece
            .build()
            .map(|b| b.keeps.as_slice())
            .unwrap_or_default();
        let no_nitrite = really.is_some_and(|r| r.no_nitrite);
        let cap = fridge_days(piece, verdict, no_nitrite);
        let chosen = |k: &&Keep| pack.place.as_ref().is_none_or(|p| *p == k.place);
        let mut found: Vec<(String, u32)> = Vec::new();
        for keep in listed.iter().filter(chosen) {
            let storage = Storage::of(&keep.place);
            let kept = if storage.frozen {
                (keep.place.clone(), keep.days)
            } else if no_nitrite && storage.sealed {
                (LOOSELY.into(), keep.days.min(NO_NITRITE_DAYS))
            } else {
                (
                    keep.place.clone(),
                    cap.map_or(keep.days, |c| c.min(keep.days)),
                )
            };
            if !found.iter().any(|(place, _)| *place == kept.0) {
                found.push(kept);
            }
        }
        let until = |days: u32| {
            let day = packed_on.saturating_add(jiff::Span::new().days(i64::from(days)));
            bounds::LAST_DAY.min(day)
        };
        found
            .into_iter()
            .map(|(place, days)| KeepUntil {
                place,
                until: until(days),
            })
            .collect()
    }
}

/// The most days in a fridge for what it really is; none where its product's own word stands.
fn fridge_days(piece: &Piece, verdict: &Verdict, no_nitrite: bool) -> Option<u32> {
    if no_nitrite {
        return Some(NO_NITRITE_DAYS);
    }
    match (verdict.word, verdict.how) {
        (Word::ReadyToEat, Some(How::Cooked | How::Dried)) => None,
        (Word::ReadyToEat | Word::CookBeforeEating | Word::DoNotEat, _) => {
            if piece.cure.is_none() {
                return Some(RAW_DAYS);
            }
            let smoked = piece.inside().is_some_and(|c| c >= SMOKED_C);
            Some(if smoked { SMOKED_DAYS } else { UNSMOKED_DAYS })
        }
    }
}
