//! How long a pack keeps: by what it really is and what was really done, never longer than its
//! product says.

use super::age::{days_kept, kept_since};
use super::{ActualContents, Assessment, Judge};
use crate::catalogue::builds::Keep;
use crate::piece::printed::{How, Verdict};
use crate::piece::storage::Storage;
use crate::piece::{Pack, PackStay, Piece};
use crate::units::{Celsius, bounds};
use jiff::ToSpan;
use jiff::civil::Date;

/// Where a pack keeps, and until when.
#[derive(Clone, Debug, PartialEq)]
pub struct KeepUntil {
    /// Where and how.
    pub place: String,
    /// Best before.
    pub until: Date,
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
        verdict: &Assessment,
        really: Option<&ActualContents>,
    ) -> Vec<KeepUntil> {
        if verdict.word == Verdict::DoNotEat {
            return Vec::new();
        }
        // It keeps from the last thing that made it keep, whenever it was packed.
        let since = kept_since(piece, pack.at).unwrap_or(pack.at);
        let from = self
            .day(pack.at)
            .saturating_sub(days_kept(piece, since, pack.at).days());
        let listed = piece
            .build()
            .map(|b| b.keeps.as_slice())
            .unwrap_or_default();
        let no_nitrite = really.is_some_and(|r| r.no_nitrite);
        let cap = fridge_days(piece, verdict, no_nitrite);
        let chosen = pack.kept_in().map(str::to_lowercase);
        let is_chosen = |k: &&Keep| chosen.as_ref().is_none_or(|p| *p == k.place.to_lowercase());
        let mut found: Vec<(String, u32)> = Vec::new();
        for keep in listed.iter().filter(is_chosen) {
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
        if let Some(place) = pack.kept_in().filter(|_| found.is_empty()) {
            found.push((
                place.to_string(),
                unnamed_days(listed, Storage::of(place), cap),
            ));
        }
        if let Some((place, until)) = self.thawed(piece, pack, listed, cap) {
            return vec![KeepUntil { place, until }];
        }
        let until = |days: u32| {
            let day = from.saturating_add(i64::from(days).days());
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

/// In the freezer, where the product says nothing of it (days).
const FROZEN_DAYS: u32 = 90;

/// In the fridge, ready to eat, where the product says nothing of it (days).
const FRIDGE_DAYS: u32 = 7;

/// Thawed in the fridge, at the most (days).
const THAWED_DAYS: u32 = 7;

/// Days in a place or wrap that the product does not name: the shorter of what is known of its like.
fn unnamed_days(listed: &[Keep], storage: Storage, cap: Option<u32>) -> u32 {
    let like = listed
        .iter()
        .filter(|k| Storage::of(&k.place).frozen == storage.frozen);
    let known = like.map(|k| k.days).min();
    if storage.frozen {
        known.unwrap_or(FROZEN_DAYS)
    } else {
        let days = known.unwrap_or(FRIDGE_DAYS);
        cap.map_or(days, |c| c.min(days))
    }
}

impl Judge<'_> {
    /// Until when a pack keeps that was frozen and lies in the fridge now: from its thawing on, less the days it was in the
    /// fridge before. None for what was never frozen, or still is.
    fn thawed(
        &self,
        piece: &Piece,
        pack: &Pack,
        listed: &[Keep],
        cap: Option<u32>,
    ) -> Option<(String, Date)> {
        let frozen = |s: &PackStay<'_>| s.place.is_some_and(|p| Storage::of(p).frozen);
        let stays: Vec<_> = pack.stays().collect();
        let last = stays.last().filter(|s| !frozen(s))?;
        // A stay of which nobody said where it was counts as the fridge.
        let at = stays.iter().rposition(frozen)?;
        let since = stays.get(at)?.until?;
        let used: i64 = stays[..at]
            .iter()
            .filter(|s| !frozen(s))
            .filter_map(|s| Some((s.until?.as_second() - s.from.as_second()) / 86_400))
            .sum();
        let days = if piece.cure.is_none() {
            RAW_DAYS
        } else {
            let fridge = listed.iter().filter(|k| !Storage::of(&k.place).frozen);
            let fridge = fridge.map(|k| k.days).min().unwrap_or(THAWED_DAYS);
            cap.unwrap_or(THAWED_DAYS).min(fridge).min(THAWED_DAYS)
        };
        let left = (i64::from(days) - used).max(0);
        let until = self.day(since).saturating_add(jiff::Span::new().days(left));
        Some((
            last.place.unwrap_or("fridge").to_string(),
            bounds::LAST_DAY.min(until),
        ))
    }
}

/// The most days in a fridge for what it really is; none where its product's own word stands.
fn fridge_days(piece: &Piece, verdict: &Assessment, no_nitrite: bool) -> Option<u32> {
    if no_nitrite {
        return Some(NO_NITRITE_DAYS);
    }
    match (verdict.word, verdict.how) {
        (Verdict::ReadyToEat, Some(How::Cooked | How::Dried)) => None,
        (Verdict::ReadyToEat | Verdict::CookBeforeEating | Verdict::DoNotEat, _) => {
            if piece.cure.is_none() {
                return Some(RAW_DAYS);
            }
            let smoked = piece.inside().is_some_and(|c| c >= SMOKED_C);
            Some(if smoked { SMOKED_DAYS } else { UNSMOKED_DAYS })
        }
    }
}
