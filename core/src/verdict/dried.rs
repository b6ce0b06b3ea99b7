//! Whether a piece was dried to be eaten raw: salt, nitrite, days, weight, holds and species, all of
//! them proved.

use super::souring::souring;
use super::{ActualContents, Judge, Reason, ReasonCode, Within};
pub use crate::catalogue::builds::LEAST_LOSS;
use crate::catalogue::builds::{Build, Eat};
use crate::caution::{Code, Finding, Severity};
use crate::cure::days::{EVEN_ENOUGH, thick_days};
use crate::cure::no_nitrite;
use crate::cure::span::{box_hours, cold_seconds, cure_span};
use crate::cure::time::centre_share;
use crate::dose::limits::{HUNG_SALT, LEAST_SALT};
use crate::hang::pace::lost_now;
use crate::house::House;
use crate::ids::EntryId;
use crate::ledger::state::State;
use crate::piece::mould::bad_mould_of;
use crate::piece::{Checked, Hanging, Piece, Point};
use crate::reason;
use crate::units::Fraction;
use crate::units::show::{capital, share, trim};
use jiff::Timestamp;

/// A mix may come out so much before its days are over (h): “overnight” is one of them.
const OVERNIGHT_H: f64 = 12.0;

/// What is cured without nitrite may come out from this day on: it is cooked right through.
const PLAIN_FROM_DAY: i64 = 3;

/// What a piece lost in its salt says that the salt went in, from this share on.
pub const LOST_IN_BOX: f64 = 0.05;

/// So much earlier out of the salt is on time (h).
const EARLY_H: f64 = 0.5;

/// The share of its green weight that a piece lost in its cure, where it was weighed out of it.
#[must_use]
pub fn lost_in_cure(piece: &Piece) -> Option<Fraction> {
    let meat = piece.cure.as_ref()?.meat.grams();
    let out = piece
        .weighings
        .iter()
        .find(|w| w.point == Point::OutOfCure)?;
    Some(Fraction(
        1.0 - out.net.grams() / meat.max(f64::MIN_POSITIVE),
    ))
}

/// A piece that leaves its cure before its days are over.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Early {
    /// The day it is on.
    pub day: i64,
    /// The days it was to lie.
    pub of: u32,
    /// Hours it lay, and those it was to, in a salt box.
    pub hours: Option<(f64, f64)>,
    /// How even the cure is in its middle by the model; none for a mix, or without a thickness.
    pub even: Option<Fraction>,
}

impl Early {
    /// `day 3 of 9`, or `20 of 32 h`.
    #[must_use]
    pub fn label(&self) -> String {
        self.hours.map_or_else(
            || format!("day {} of {}", self.day, self.of),
            |(lain, of)| format!("{} of {} h", trim(lain, 1), trim(of, 1)),
        )
    }

    /// Said as a question.
    #[must_use]
    pub fn finding(&self, tag: &str) -> Finding {
        let middle = self.even.map_or_else(String::new, |e| {
            format!("; the middle would be at about {} of the mean", rounded(e))
        });
        Finding::new(
            Code::LeftCureEarly,
            Severity::Caution,
            format!("{tag} would leave its cure too early."),
        )
        .saw(format!("{}{middle}", self.label()))
        .wants(self.hours.map_or_else(
            || format!("day {}", self.of),
            |(_, of)| format!("{} h", trim(of, 1)),
        ))
        .remedy("Leave it in, or keep it as typed: it is marked, and what dries raw stays “cook before eating”.")
    }
}

/// Whole days that a piece lay in its cure, as the household counts them.
#[must_use]
pub fn days_in_cure(piece: &Piece, until: Timestamp, home: &House) -> Option<i64> {
    let cure = piece.cure.as_ref()?;
    let first = home.settings.first_counted_day(cure.since);
    let days = home.settings.day(until).since(first).ok()?.get_days();
    Some(i64::from(days).max(0))
}

impl<'a> Judge<'a> {
    /// How even the cure lies in the middle, by the model, after lying from its start until then;
    /// none where nobody measured how thick it is.
    #[must_use]
    pub fn evenness(&self, piece: &Piece, until: Timestamp) -> Option<Fraction> {
        // Pumped, it cures from its middle too, and the model of a slab says nothing of it.
        let cure = piece.cure.as_ref().filter(|c| !c.is_pumped())?;
        // Frozen, nothing walks.
        let cold = cold_seconds(piece, until, self.home);
        let days = (until.duration_since(cure.since).as_secs_f64() - cold as f64) / 86_400.0;
        let numbers = &self.book.catalogue().schools.numbers;
        let closed = piece.shape.has_closed_face();
        let thickness = Self::thickness(piece)?;
        Some(Fraction(centre_share(
            thickness,
            closed,
            days.max(0.0),
            numbers,
        )))
    }

    /// Whether a piece that comes out of its cure then leaves it too early; none where nobody can
    /// tell.
    #[must_use]
    pub fn early(&self, piece: &Piece, until: Timestamp) -> Option<Early> {
        let early = self.early_of(piece, piece.build()?, until)?;
        let plain = piece.dose().is_some_and(|d| d.nitrite_g() <= 0.0);
        (!plain || early.hours.is_some() || early.day < PLAIN_FROM_DAY).then_some(early)
    }

    fn early_of(&self, piece: &Piece, build: &Build, until: Timestamp) -> Option<Early> {
        if let Some(hours) = box_hours(piece) {
            let since = piece.cure.as_ref()?.since;
            let lain = until.duration_since(since).as_secs_f64() / 3_600.0;
            return (lain < hours - EARLY_H).then_some(Early {
                day: days_in_cure(piece, until, self.home)?,
                of: (hours / 24.0).ceil() as u32,
                hours: Some((lain, hours)),
                even: None,
            });
        }
        let of = if build.raw_dried || build.is_ground() {
            least_days(piece, build, self)?
        } else {
            cure_span(piece, self.home, self.book.catalogue())?.counted
        };
        let day = days_in_cure(piece, until, self.home)?;
        if day >= i64::from(of) {
            return None;
        }
        if build.is_ground() {
            let since = piece.cure.as_ref()?.since;
            let hours = until.duration_since(since).as_secs_f64() / 3_600.0;
            let early = hours < f64::from(of) * 24.0 - OVERNIGHT_H - 1e-9;
            return early.then_some(Early {
                day,
                of,
                hours: None,
                even: None,
            });
        }
        let even = self.evenness(piece, until);
        let planned = cure_span(piece, self.home, self.book.catalogue())?.counted;
        if build.raw_dried && day >= i64::from(planned) && even.is_some_and(|e| e.0 >= EVEN_ENOUGH)
        {
            // Its own days are over, and its middle has caught up.
            return None;
        }
        Some(Early {
            day,
            of,
            hours: None,
            even,
        })
    }

    /// What keeps a piece from being dried raw, and was not lifted by a reason before.
    #[must_use]
    pub fn not_for_drying(&self, state: &'a State, piece: &'a Piece) -> Vec<Finding> {
        let Some(build) = piece.build().filter(|b| b.is_dried()) else {
            return Vec::new();
        };
        let mut found = Vec::new();
        let within = self.within(state, piece);
        if !lifted_before(piece, Code::SpeciesCaution)
            && let Some(meat) = within.never_raw_dried().next()
        {
            found.push(
                Finding::new(
                    Code::SpeciesCaution,
                    Severity::Stop,
                    format!("{} is not dried raw.", capital(&meat.traits.name)),
                )
                .wants("a product that is heated to its mark")
                .remedy("Make something that is cooked. A typed reason starts it; it stays “cook before eating”."),
            );
        }
        if build.raw_dried && !lifted_before(piece, Code::OpenHold) {
            let mut open = Vec::new();
            self.holds(&within, &mut open);
            found.extend(open.into_iter().take(1).map(|reason| {
                let change = reason.change.unwrap_or_default();
                Finding::new(Code::OpenHold, Severity::Stop, reason.message)
                    .wants("its end, before the meat is dried to be eaten raw")
                    .remedy(change)
            }));
        }
        found
    }

    /// Every proof of a piece that was dried to be eaten raw, or what is missing.
    pub(super) fn dried(
        &self,
        within: &Within<'a>,
        piece: &Piece,
        really: Option<&ActualContents>,
    ) -> Result<Vec<Reason>, Vec<Reason>> {
        let mut missing = Vec::new();
        let mut named = Vec::new();
        let Some(build) = piece.build() else {
            return Err(missing);
        };
        if build.eat != Eat::ReadyToEat || !build.raw_dried {
            missing.push(Reason::new(
                ReasonCode::EndsInCooking,
                format!(
                    "{} is made to be cooked; drying alone does not make it ready.",
                    capital(&build.name)
                ),
            ));
            return Err(missing);
        }
        for meat in within.never_raw_dried() {
            missing.push(Reason::new(
                if meat.traits.key.is_some() {
                    ReasonCode::NeverRawDried
                } else {
                    ReasonCode::MeatUnknown
                },
                format!(
                    "It holds {}, which is never eaten raw and dried.",
                    meat.traits.name
                ),
            ));
        }
        self.holds(within, &mut missing);
        match really {
            Some(really) => self.dose_holds(piece, really, &mut missing, &mut named),
            None => missing.push(Reason::new(
                ReasonCode::DoseUnknown,
                "It was not cured, as far as anybody wrote down.",
            )),
        }
        self.long_enough(piece, build, &mut missing);
        let lost = self.lost_enough(piece, build, &mut missing, &mut named);
        if build.is_ground() {
            self.soured(piece, &mut missing);
        }
        missing.extend(self.hung_too_warm(piece));
        missing.extend(bad_mould(piece));
        if missing.is_empty() {
            let mut proved = vec![lost];
            proved.extend(named);
            Ok(proved)
        } else {
            missing.extend(named);
            Err(missing)
        }
    }

    /// Freezing and whatever else has to end before its meat is eaten raw.
    fn holds(&self, within: &Within<'a>, missing: &mut Vec<Reason>) {
        let mut lots_of_pieces = Vec::new();
        // Whatever happened after it hung did not happen to raw meat.
        let first = within.pieces.first();
        let until = first.and_then(|(_, p)| p.raw_until().or(p.cure.as_ref().map(|c| c.since)));
        let mut add = |state: &crate::ledger::state::State, piece: Option<&Piece>| {
            let until = until.filter(|_| piece.is_none());
            // No present is known here: whether a freezing ended is in what was read.
            for hold in state.holds_until(piece, until, Timestamp::UNIX_EPOCH) {
                if !hold.keeps_from_raw_drying() {
                    continue;
                }
                let tag = state.lot.as_ref().map_or("?", |l| &l.received.tag);
                let reason = Reason::new(
                    ReasonCode::HoldOpen,
                    format!(
                        "Not done, as far as anybody wrote down: {} ({tag}).",
                        hold.name
                    ),
                )
                .change(hold.asks.clone());
                if !missing.contains(&reason) {
                    missing.push(reason);
                }
            }
        };
        for (state, piece) in &within.pieces {
            lots_of_pieces.push(state.id);
            add(state, Some(piece));
        }
        for state in within
            .lots
            .iter()
            .filter(|s| !lots_of_pieces.contains(&s.id))
        {
            add(state, None);
        }
    }

    /// Salt and nitrite of the dose within their limits, or a typed reason, which is named.
    fn dose_holds(
        &self,
        piece: &Piece,
        really: &ActualContents,
        missing: &mut Vec<Reason>,
        named: &mut Vec<Reason>,
    ) {
        let entry = piece.cure.as_ref().map_or(EntryId(0), |c| c.entry);
        // A salt box promises nothing: its hours and the water it lost prove its salt.
        let boxed = piece.dose().filter(|d| d.method.is_buried());
        let salt = match (boxed, really.salt) {
            (Some(_), _) => f64::INFINITY,
            (None, salt) => really
                .salt_soaked
                .unwrap_or_else(|| salt.map_or(0.0, |s| s.nominal)),
        };
        let said = |g: f64| match really.salt_soaked {
            Some(_) => format!("{} g/kg, at the least after its time in water,", trim(g, 1)),
            None => format!("{} g/kg", trim(g, 1)),
        };
        let wanted = |g: f64| format!("{} g/kg", trim(g, 1));
        let mut wants = |broken: bool, code, message: String, lifted: bool| {
            if !broken {
                return;
            }
            let reason = Reason::new(code, message).at(entry);
            if lifted {
                named.push(Reason {
                    code: ReasonCode::Overridden,
                    message: format!("Past a stop, for a typed reason: {}", reason.message),
                    ..reason
                });
            } else {
                missing.push(reason);
            }
        };
        let dose_reason = piece.dose().and_then(|d| d.reason.as_deref());
        let at_dose = dose_reason.is_some_and(reason::is_enough);
        let lost = lost_in_cure(piece);
        wants(
            boxed.is_some() && lost.is_none_or(|l| l.0 < LOST_IN_BOX - 1e-9),
            ReasonCode::SaltTooLow,
            lost.map_or_else(
                || {
                    "It was not weighed out of its salt, so nothing says that the salt went in."
                        .into()
                },
                |l| {
                    format!(
                        "It lost {} in the salt; {} say that the salt went in.",
                        percent(l.0),
                        percent(LOST_IN_BOX)
                    )
                },
            ),
            false,
        );
        wants(
            salt < LEAST_SALT - 1e-9,
            ReasonCode::SaltTooLow,
            format!(
                "{} of salt in all; what hangs raw needs {} at the very least.",
                said(salt),
                wanted(LEAST_SALT)
            ),
            false,
        );
        // What one step of the scale explains is no shortage.
        let step = really.salt.map_or(0.0, |s| s.high - s.nominal) * 2.0;
        wants(
            (LEAST_SALT..HUNG_SALT - step - 1e-9).contains(&salt),
            ReasonCode::SaltTooLow,
            format!(
                "{} of salt in all; what hangs raw wants {}.",
                said(salt),
                wanted(HUNG_SALT)
            ),
            at_dose,
        );
        wants(
            really.over_limit,
            ReasonCode::OverLimit,
            format!(
                "{} nitrite; its rules allow {}.",
                super::ppm(really.nitrite.nominal),
                super::ppm(really.ceiling_ppm)
            ),
            at_dose,
        );
        wants(
            really.under_floor,
            ReasonCode::UnderFloor,
            format!(
                "{} nitrite; hanging raw wants {} against botulism.",
                super::ppm(really.nitrite.nominal),
                super::ppm(really.floor_ppm)
            ),
            at_dose,
        );
        wants(
            really.no_nitrite,
            ReasonCode::NoNitrite,
            if piece.hanging.is_some() {
                "It hung without nitrite, with nothing to hold botulism back.".into()
            } else {
                "It holds no nitrite: hanging raw, nothing holds botulism back.".into()
            },
            no_nitrite::lifted(piece).is_some(),
        );
    }

    /// Its days in the cure, or the middle by the model.
    fn long_enough(&self, piece: &Piece, build: &Build, missing: &mut Vec<Reason>) {
        let Some(cure) = &piece.cure else { return };
        let Some(out) = piece.out_of_cure else {
            missing
                .push(Reason::new(ReasonCode::InCure, "It still lies in its cure.").at(cure.entry));
            return;
        };
        if out == cure.since && piece.done.iter().any(|d| d.entry.is_none()) {
            // Entered when it was on its way already.
            missing.push(
                Reason::new(
                    ReasonCode::DaysUnknown,
                    "Nobody wrote down how long it lay in its cure.",
                )
                .at(cure.entry),
            );
            return;
        }
        if least_days(piece, build, self).is_none() {
            missing.push(
                Reason::new(
                    ReasonCode::ThicknessUnknown,
                    "Nobody measured how thick it is, so nobody knows whether the cure reached its middle.",
                )
                .change("Write down its thickness in the entry of its weight."),
            );
            return;
        }
        if let Some(look) = gray_core(piece) {
            missing.push(
                Reason::new(
                    ReasonCode::GrayCore,
                    "Its core was gray when it was cut: the cure did not reach the middle.",
                )
                .at(look.entry)
                .change("Only heat makes it ready now: cook it and record that."),
            );
        }
        let early = self.early_of(piece, build, out);
        missing.extend(
            early
                .filter(|e| !e.even.is_some_and(|e| e.0 >= EVEN_ENOUGH))
                .map(|early| {
                    let middle = early.even.map_or_else(String::new, |e| {
                        format!("; the middle was at about {} of the mean", rounded(e))
                    });
                    Reason::new(
                        ReasonCode::LeftCureEarly,
                        format!(
                            "Out of its cure {} {}{middle}.",
                            if early.hours.is_some() { "after" } else { "on" },
                            early.label()
                        ),
                    )
                    .at(cure.entry)
                }),
        );
    }

    /// The weight it lost on its hook.
    fn lost_enough(
        &self,
        piece: &Piece,
        build: &Build,
        missing: &mut Vec<Reason>,
        named: &mut Vec<Reason>,
    ) -> Reason {
        let proved = |hanging: &Hanging, lost: f64, wants: f64| {
            Reason::new(
                ReasonCode::DriedToTarget,
                format!(
                    "Cured, and dried by {} of {}.",
                    percent(lost),
                    percent(wants)
                ),
            )
            .at(hanging.entry)
        };
        let Some(hanging) = &piece.hanging else {
            let reason = Reason::new(
                ReasonCode::NotWeighed,
                "It was never weighed on a hook: nobody knows what it lost.",
            );
            missing.push(reason.clone());
            return reason;
        };
        if hanging.lost.is_none() && hanging.until.is_some() {
            let reason = Reason::new(
                ReasonCode::NotWeighed,
                "It came down without a weight: nobody knows what it lost.",
            )
            .at(hanging.entry)
            .change("Weigh the meat alone now, and write that down as stripped.");
            missing.push(reason.clone());
            return reason;
        }
        let Some(lost) = hanging.lost else {
            let now = lost_now(piece, hanging).0;
            let reason = Reason::new(
                ReasonCode::StillHangs,
                format!(
                    "It hangs: {} of {} so far.",
                    percent(now),
                    percent(hanging.loss.0)
                ),
            )
            .at(hanging.entry);
            missing.push(reason.clone());
            return reason;
        };
        let close_enough = self.home.settings.close_enough;
        let typed = hanging.reason.as_deref().is_some_and(reason::is_enough);
        let edge = build.hang.as_ref().map_or(LEAST_LOSS, |h| h.least());
        let wants = if typed {
            hanging.loss.0
        } else {
            hanging.loss.0.max(edge)
        };
        let least = if typed {
            wants - close_enough
        } else {
            f64::max(wants - close_enough, LEAST_LOSS)
        };
        if lost.0 < least - 1e-9 {
            missing.push(
                Reason::new(
                    ReasonCode::LostTooLittle,
                    format!("Taken down at {} of {}.", percent(lost.0), percent(wants)),
                )
                .at(hanging.entry)
                .change("Only heat makes it ready now: cook it, and write that down."),
            );
        } else if typed && lost.0 < f64::max(edge - close_enough, LEAST_LOSS) {
            named.push(
                Reason::new(
                    ReasonCode::Overridden,
                    format!(
                        "Dried by {} only, for a typed reason: {}",
                        percent(lost.0),
                        hanging.reason.as_deref().unwrap_or_default()
                    ),
                )
                .at(hanging.entry),
            );
        }
        proved(hanging, lost.0, wants)
    }

    /// A dry sausage is sour in time, and a second look says so.
    fn soured(&self, piece: &Piece, missing: &mut Vec<Reason>) {
        let Some(time) = souring(piece, self.home) else {
            return;
        };
        if time.confirmed {
            return;
        }
        let message = if time.sour.is_some() {
            "One look found it sour in time; no second look at least 6 h later says so."
        } else if time.was_cold {
            "It was kept cold and never soured: a ground piece is not ready by drying alone."
        } else {
            "Nobody recorded that it was sour in time (pH 5.3 or less, read twice); cooking does not undo the toxin of staphylococcus."
        };
        missing.push(Reason::new(ReasonCode::PhMissing, message));
    }
}

/// The last look at the cut of what was cured with nitrite, where its core was gray; a gray rim says nothing, and neither does
/// gray meat without nitrite.
fn gray_core(piece: &Piece) -> Option<&Checked> {
    let cured = piece.dose().is_some_and(|d| d.nitrite_g() > 0.0);
    let cut = piece
        .checks
        .iter()
        .filter(|c| c.check == "core_colour" && c.grade.is_some());
    let last = cut.max_by_key(|c| c.at).filter(|_| cured)?;
    (last.grade.as_deref() == Some("pale_core")).then_some(last)
}

/// Mould that had to be out of the chamber, and nobody looked since.
fn bad_mould(piece: &Piece) -> Option<Reason> {
    let look = bad_mould_of(piece)?;
    Some(
        Reason::new(
            ReasonCode::BadMould,
            "The last look at its mould found it fuzzy, wet or coloured.",
        )
        .at(look.entry)
        .change(
            "Wipe it, look at it from all sides and under its casing, and write that look down.",
        ),
    )
}

/// The least days in its cure of what is dried raw: the longest of its school, its build's and,
/// over 50 mm, 7 days for each 25 mm; none where nobody measured how thick it is.
#[must_use]
pub fn least_days(piece: &Piece, build: &Build, judge: &Judge<'_>) -> Option<u32> {
    if build.is_ground() {
        // The cure is everywhere in a mix at once.
        return Some(build.cure.as_ref().and_then(|c| c.fixed_days).unwrap_or(1));
    }
    let span = cure_span(piece, judge.home, judge.book.catalogue())?;
    Some(span.counted.max(thick_days(piece.shape.thickness()?)))
}

/// True when a typed reason lifted a stop of this kind before, whatever was done then.
fn lifted_before(piece: &Piece, code: Code) -> bool {
    piece.pauses.iter().any(|p| {
        p.reason.as_deref().is_some_and(reason::is_enough)
            && p.findings
                .iter()
                .any(|f| f.code == code && f.severity == Severity::Stop)
    })
}

fn rounded(part: Fraction) -> String {
    share(Fraction((part.0 * 100.0).round() / 100.0))
}

fn percent(part: f64) -> String {
    format!("{} %", trim(part * 100.0, 0))
}
