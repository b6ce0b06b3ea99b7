//! Meat that lay warm: by logs, readings by hand and entries together, whenever it was not meant to.

use super::souring::souring;
use super::{Judge, Reason, ReasonCode};
use crate::catalogue::builds::Build;
use crate::caution::{Code, Finding, Severity};
use crate::house::around::{around, spells};
use crate::ledger::Origin;
use crate::ledger::state::State;
use crate::piece::{Pack, Piece};
use crate::place::climate::{SPOILS, Stretch, TOO_WARM, WarmthBand};
use crate::place::spells::{self, Spell, hours_over, that_count, within, without};
use crate::units::Celsius;
use crate::units::show::trim;
use jiff::{SignedDuration, Timestamp};

/// Over so many degrees for so many hours in all nobody eats raw, curing or cooked meat (°C, h).
///
/// # Source
/// A day over 7 °C, a working day in a warm room, four hours in a hot one: the usual advice for perishable meat.
const LOST: [(Celsius, f64); 3] = [(Celsius(21.0), 4.0), (Celsius(15.0), 8.0), (SPOILS, 24.0)];

/// A carcass has so long to lose its own warmth (h).
const FIRST_CHILL_H: i64 = 24;

/// A fridge that was too warm for so long is named (h).
const NAMED_H: f64 = 2.0;

/// A hook is too warm over this (°C) …
const HOOK_C: Celsius = Celsius(18.0);

/// … for so long in all (h) …
const HOOK_H: f64 = 24.0;

/// … before the piece has lost this share of its net start.
const DRY_ENOUGH: f64 = 0.20;

impl<'a> Judge<'a> {
    /// When a piece was meant to be warm: at the fire, while it soured, on its first day, hanging or dried.
    fn meant_warm(&self, state: &State, piece: &Piece) -> Vec<Stretch> {
        let mut found = Vec::new();
        if let Some(hanging) = &piece.hanging {
            // Dried, warmth is part of it; what is only hung and then cooked is not.
            let stays = piece.build().is_some_and(Build::is_dried);
            found.push(Stretch {
                from: hanging.since,
                to: match hanging.until {
                    Some(until) if !stays => until,
                    Some(_) | None => Timestamp::MAX,
                },
            });
        }
        let runs = &self.home.runs;
        let heated = piece.heats.iter().filter_map(|h| runs.get(h.run?));
        for watched in heated.chain(runs.open()) {
            let run = &watched.run;
            let sat = run.sittings.iter().filter(|s| s.piece == piece.id);
            found.extend(sat.map(|s| {
                Stretch {
                    from: s.from,
                    // What was weighed, hung or packed lies in no fire any more, whoever forgot to end the run.
                    to: s
                        .until
                        .or_else(|| run.left(piece.id, self.book).filter(|at| *at >= s.from))
                        .unwrap_or(Timestamp::MAX),
                }
            }));
        }
        if let Some(time) = souring(piece, self.home) {
            let until = piece.hanging.as_ref().map_or(Timestamp::MAX, |h| h.since);
            found.push(Stretch {
                from: time.from,
                to: until,
            });
        }
        let lot = state.lot.as_ref();
        if let Some(lot) = lot.filter(|l| l.received.origin == Origin::Harvested) {
            let chill = SignedDuration::from_hours(FIRST_CHILL_H);
            found.push(Stretch {
                from: Timestamp::MIN,
                to: lot.at.saturating_add(chill).unwrap_or(lot.at),
            });
        }
        found
    }

    /// How warm a piece lay when it was not meant to, and one of its packs.
    fn lay_warm(&self, state: &State, piece: &Piece, pack: Option<&Pack>) -> Vec<Spell> {
        let mut spells = spells(piece, self.home);
        for window in self.meant_warm(state, piece) {
            spells = without(spells, window);
        }
        // Dried, a pack is not meant to be cold.
        let dried = piece.build().is_some_and(Build::is_dried);
        for pack in pack.into_iter().filter(|_| !dried) {
            let gone = pack.discarded.unwrap_or(Timestamp::MAX);
            for stay in pack.stays() {
                let lay = Stretch {
                    from: stay.from,
                    to: stay.until.map_or(gone, |u| u.min(gone)),
                };
                let place = stay.lies_in.and_then(|id| self.home.climate.place(id));
                spells.extend(place.into_iter().flat_map(|log| log.warm(lay)));
            }
        }
        spells::merged(spells)
    }

    /// Warm for too long, whoever said so.
    pub(super) fn too_warm(
        &self,
        state: &State,
        piece: &Piece,
        pack: Option<&Pack>,
    ) -> Option<Reason> {
        let spells = that_count(&self.lay_warm(state, piece, pack));
        let (over, hours, most) = LOST.into_iter().find_map(|(over, most)| {
            let hours = hours_over(&spells, over);
            (hours >= most - 1e-6).then_some((over, hours, most))
        })?;
        let first = spells.iter().find(|s| s.mean > over)?;
        let from = first.over.from.to_zoned(self.home.settings.zone());
        let entry = piece
            .around
            .iter()
            .rev()
            .find(|a| a.temperature.value > over);
        let reason = Reason::new(
            ReasonCode::TooWarm,
            format!(
                "It was over {} for {} h in all, from {} on; after {} h nobody eats it.",
                self.label(over),
                trim(hours, 0),
                from.strftime("%Y-%m-%d %H:%M"),
                trim(most, 0)
            ),
        )
        .change(
            "Only the readings themselves corrected or struck out, if the thermometer was wrong.",
        );
        Some(match entry {
            Some(entry) => reason.at(entry.entry),
            None => reason,
        })
    }

    /// What stays on a piece that lay too warm, but not for so long that nobody eats it.
    pub(super) fn warm_findings(&self, state: &State, piece: &Piece) -> Vec<Finding> {
        let mut found = Vec::new();
        let said = |c: Celsius| self.label(c);
        let warm = self.fridge_was_warm_h(state, piece);
        if warm >= NAMED_H - 1e-6 {
            let spells = that_count(&self.lay_warm(state, piece, None));
            let spoiling = hours_over(&spells, SPOILS);
            let also = if spoiling > 0.0 {
                format!(", {} h of them over {}", trim(spoiling, 1), said(SPOILS))
            } else {
                String::new()
            };
            found.push(
                Finding::new(
                    Code::TooWarm,
                    Severity::Caution,
                    format!("{} was too warm for a while.", piece.tag),
                )
                .saw(format!("{} h over {}{also}", trim(warm, 1), said(TOO_WARM)))
                .wants(format!("{} to {}", said(Celsius(1.0)), said(TOO_WARM)))
                .remedy("Smell it at the next step and use it soon. Hours add up: a day over 7 °C in all is the end of it."),
            );
        }
        if let Some((hours, early)) = self.warm_hook_h(piece)
            && hours >= HOOK_H - 1e-6
            && !early
        {
            found.push(
                Finding::new(
                    Code::AirTooWarm,
                    Severity::Caution,
                    format!("{} hung warm.", piece.tag),
                )
                .saw(format!("{} h over {}", trim(hours, 0), said(HOOK_C)))
                .wants(format!("at most {}", said(HOOK_C)))
                .remedy("Look at its fat and smell it before it is cut."),
            );
        }
        found
    }

    /// Hours in which a piece that is to be cold was over 4.4 °C, in stretches of two hours and more.
    fn fridge_was_warm_h(&self, state: &State, piece: &Piece) -> f64 {
        let meant = self.meant_warm(state, piece);
        let mut all: Vec<Spell> = around(piece, self.home, WarmthBand::TooWarm)
            .into_iter()
            .map(|over| Spell {
                over,
                mean: TOO_WARM,
                warmest: TOO_WARM,
            })
            .collect();
        let entered = piece.around.iter().filter(|a| a.hours > 0.0);
        all.extend(
            entered
                .filter(|a| WarmthBand::TooWarm.holds(a.temperature.value))
                .map(|a| {
                    let long = SignedDuration::from_secs((a.hours * 3_600.0) as i64);
                    Spell {
                        over: Stretch {
                            from: a.at.checked_sub(long).unwrap_or(Timestamp::MIN),
                            to: a.at,
                        },
                        mean: TOO_WARM,
                        warmest: TOO_WARM,
                    }
                }),
        );
        let mut all = spells::merged(all);
        for window in meant {
            all = without(all, window);
        }
        let mut long = 0.0;
        let mut stretch = 0.0;
        let mut before: Option<Timestamp> = None;
        for spell in &all {
            if before.is_some_and(|b| b < spell.over.from) {
                long += if stretch >= NAMED_H - 1e-6 {
                    stretch
                } else {
                    0.0
                };
                stretch = 0.0;
            }
            stretch += spell.hours();
            before = Some(spell.over.to);
        }
        long + if stretch >= NAMED_H - 1e-6 {
            stretch
        } else {
            0.0
        }
    }

    /// Hours on a hook that was too warm, and whether that was before it had lost enough; none for what never hung, and for what
    /// is dried warm on purpose.
    fn warm_hook_h(&self, piece: &Piece) -> Option<(f64, bool)> {
        let hanging = piece.hanging.as_ref()?;
        let build = piece.build()?;
        // A product of a warm dryer ends cooked.
        if build.is_ground() && !build.raw_dried {
            return None;
        }
        let hung = Stretch {
            from: hanging.since,
            to: hanging.until.unwrap_or(Timestamp::MAX),
        };
        let mut spells = within(&spells(piece, self.home), hung);
        if let Some(time) = souring(piece, self.home) {
            spells = without(
                spells,
                Stretch {
                    from: time.from,
                    to: time.end,
                },
            );
        }
        let dry = piece
            .weighings
            .iter()
            .filter(|w| w.at > hanging.since && hanging.lost_at(w.net).0 >= DRY_ENOUGH - 1e-9)
            .map(|w| w.at)
            .min();
        let early = Stretch {
            from: hanging.since,
            to: dry.unwrap_or(Timestamp::MAX),
        };
        let before = hours_over(&within(&spells, early), HOOK_C);
        if before >= HOOK_H - 1e-6 {
            return Some((before, true));
        }
        Some((hours_over(&spells, HOOK_C), false))
    }

    /// Why a hook that was too warm keeps a piece from being ready by drying.
    pub(super) fn hung_too_warm(&self, piece: &Piece) -> Option<Reason> {
        let (hours, early) = self.warm_hook_h(piece)?;
        let entry = piece.hanging.as_ref()?.entry;
        (early && hours >= HOOK_H - 1e-6).then(|| {
            Reason::new(
                ReasonCode::HungTooWarm,
                format!(
                    "It hung over {} for {} h before it had lost a fifth: raw inside, and warm.",
                    self.label(HOOK_C),
                    trim(hours, 0)
                ),
            )
            .at(entry)
            .change("Only heat makes it ready now: cook it and record that.")
        })
    }
}
