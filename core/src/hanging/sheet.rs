//! The hanging sheet: every piece on its hook, how far it has come, when it will be there, what gives pause.

use crate::catalogue::place_kinds::DryingAir;
use crate::caution::{Code, Finding, Severity};
use crate::hang::activity::{Drying, drying};
use crate::hang::pace::{Pace, Paces, air_of, days_since, lean, losses, lost_now};
use crate::house::House;
use crate::ledger::book::Book;
use crate::ledger::state::State;
use crate::piece::mould::{MOULD, bad_mould_of, newest};
use crate::piece::{Checked, Hanging, Piece, StopBy};
use crate::place::PlaceId;
use crate::units::show::{share, trim};
use crate::units::{Fraction, Grams};
use crate::verdict::Judge;
use jiff::{SignedDuration, Timestamp};

/// A rind may be hard from so much lost in a day on (share of the start).
///
/// # Source
/// Over 1 % a day that is also 1.6 times what the piece's forecast says.
pub const HARD_RIND_A_DAY: f64 = 0.01;

/// And so many times what its forecast says.
pub const HARD_RIND_TIMES: f64 = 1.6;

/// In the first days it drips (days).
const DRIPS_DAYS: f64 = 4.0;

/// What is there may hang on for so long, and only gets firmer (days).
const MAY_WAIT_DAYS: f64 = 7.0;

/// The words of the looks that a round asks for.
pub const FEEL: &str = "feel";

/// Whether a piece has lost enough.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Reached {
    /// Not yet.
    No,
    /// Within what the household calls close enough.
    CloseEnough,
    /// Yes.
    Yes,
}

/// When a piece will have lost enough.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Will {
    /// Likely.
    pub at: Timestamp,
    /// At the earliest.
    pub low: Timestamp,
    /// At the latest.
    pub high: Timestamp,
}

/// A hook, as it stands.
#[derive(Clone, Debug)]
pub struct Row<'a> {
    /// The lot of its piece.
    pub state: &'a State,
    /// The piece.
    pub piece: &'a Piece,
    /// How it hangs.
    pub hanging: &'a Hanging,
    /// Where, and in what air, as far as anybody said.
    pub place: Option<(PlaceId, DryingAir)>,
    /// Days since it was hung.
    pub days: f64,
    /// The share lost at its last weighing.
    pub lost: Fraction,
    /// Whether that is enough.
    pub reached: Reached,
    /// Its last weighing on the hook; none before the first.
    pub weighed: Option<Timestamp>,
    /// How fast it dries; none where nothing is known.
    pub pace: Option<Pace>,
    /// When it will be there; none when it is, or where nothing can be told.
    pub will: Option<Will>,
    /// What it lost a day between its last two weighings, and what was to be expected then (share of the start).
    pub a_day: Option<(f64, f64)>,
    /// Where its drying stands.
    pub drying: Option<Drying>,
    /// How it felt last.
    pub feel: Option<&'a Checked>,
    /// How its mould was last.
    pub mould: Option<&'a Checked>,
    /// What gives pause.
    pub findings: Vec<Finding>,
}

/// Somebody looks at the hooks.
#[derive(Debug)]
pub struct Hooks<'a> {
    /// Every lot.
    pub book: &'a Book,
    /// The household.
    pub home: &'a House,
    /// The present.
    pub now: Timestamp,
    paces: Paces<'a>,
}

impl<'a> Hooks<'a> {
    /// The hooks of a household as they are now.
    #[must_use]
    pub fn new(book: &'a Book, home: &'a House, now: Timestamp) -> Self {
        Self {
            book,
            home,
            now,
            paces: Paces::new(book, home),
        }
    }

    /// Every hook, by place and hook; what hangs nowhere in particular last.
    #[must_use]
    pub fn rows(&self) -> Vec<Row<'a>> {
        let mut rows: Vec<Row<'a>> = self
            .book
            .lots()
            .flat_map(|lot| lot.state.pieces.values().map(move |p| (&lot.state, p)))
            .filter_map(|(state, piece)| self.row(state, piece))
            .collect();
        let order = |r: &Row<'_>| {
            let place = r.place.map(|(id, _)| id);
            (
                place.is_none(),
                place,
                r.hanging.hook.is_none(),
                r.hanging.hook,
                r.hanging.since,
                r.piece.id,
            )
        };
        rows.sort_by_key(order);
        let beside: Vec<Vec<Finding>> =
            (0..rows.len()).map(|i| self.neighbours(&rows, i)).collect();
        for (row, found) in rows.iter_mut().zip(beside) {
            row.findings.extend(found);
        }
        rows
    }

    /// One piece on its hook, without what hangs beside it; none when it does not hang.
    #[must_use]
    pub fn row(&self, state: &'a State, piece: &'a Piece) -> Option<Row<'a>> {
        let hanging = piece.hanging.as_ref().filter(|h| h.until.is_none())?;
        if piece.stage().is_over() {
            return None;
        }
        let weighed = losses(piece);
        let lost = lost_now(piece, hanging);
        let pace = self.paces.of(state, piece);
        let reached = reached(hanging, lost, self.home);
        let will = match (reached, hanging.stop) {
            (Reached::Yes, _) => None,
            (Reached::No | Reached::CloseEnough, StopBy::Days { days }) => {
                let at = after_days(hanging, f64::from(days));
                at.map(|at| Will {
                    at,
                    low: at,
                    high: at,
                })
            }
            (Reached::No | Reached::CloseEnough, StopBy::Weight | StopBy::Feel) => pace
                .and_then(|p| p.days_to(hanging.loss))
                .and_then(|(low, at, high)| {
                    Some(Will {
                        at: after_days(hanging, at)?,
                        low: after_days(hanging, low)?,
                        high: after_days(hanging, high)?,
                    })
                }),
        };
        let lost_g = Grams(hanging.net_start().grams() * lost.0);
        let mut row = Row {
            state,
            piece,
            hanging,
            place: air_of(self.home, piece),
            days: days_since(hanging, self.now).max(0.0),
            lost,
            reached,
            weighed: (!weighed.is_empty())
                .then(|| piece.last_weighing().map(|w| w.at))
                .flatten(),
            pace,
            will,
            a_day: self.a_day(state, piece, &weighed, pace.map_or(0.0, |p| p.begun)),
            drying: drying(
                Grams(hanging.net_start().grams()),
                lost_g,
                lean(state, piece),
                self.salt(state, piece),
            ),
            feel: newest(piece, FEEL),
            mould: newest(piece, MOULD),
            findings: Vec::new(),
        };
        row.findings = self.findings(&row);
        Some(row)
    }

    /// What it lost a day since the weighing before, and what was to be expected of it before that was known.
    fn a_day(
        &self,
        state: &State,
        piece: &Piece,
        weighed: &[(f64, f64)],
        begun: f64,
    ) -> Option<(f64, f64)> {
        let (last, before) = weighed.split_last()?;
        let from = before.last().copied().unwrap_or((0.0, begun));
        if last.0 - from.0 < 0.5 {
            return None;
        }
        let said = (last.1 - from.1) / (last.0 - from.0);
        let expected = self.paces.after(state, piece, before.len())?;
        Some((said, expected.a_day((from.0, last.0))))
    }

    /// The salt that went in (g), where its dose says so.
    fn salt(&self, state: &'a State, piece: &'a Piece) -> Option<Grams> {
        let judge = Judge {
            book: self.book,
            home: self.home,
        };
        let salt = judge.really(state, piece)?.salt?;
        let meat = piece.cure.as_ref()?.meat.grams();
        Some(Grams(salt.nominal / 1_000.0 * meat))
    }

    fn findings(&self, row: &Row<'_>) -> Vec<Finding> {
        let mut found: Vec<Finding> = hard_rind(row).into_iter().collect();
        let percent = |part: f64| share(Fraction((part * 1_000.0).round() / 1_000.0));
        match (row.reached, row.hanging.stop) {
            (Reached::CloseEnough, StopBy::Weight) => found.push(
                Finding::new(Code::CloseEnough, Severity::Info, "Close enough: it may come down.")
                    .saw(percent(row.lost.0))
                    .wants(format!(
                        "{}, or {} less",
                        percent(row.hanging.loss.0),
                        percent(self.home.settings.close_enough)
                    )),
            ),
            (Reached::Yes, StopBy::Weight) => {
                let since = row.piece.last_weighing().map(|w| w.at);
                let waits = since.is_some_and(|at| {
                    self.now.duration_since(at).as_secs_f64() > 86_400.0
                });
                if waits {
                    found.push(Finding::new(
                        Code::MayHangOn,
                        Severity::Info,
                        format!(
                            "It is there. Some {} days more do it no harm: it gets firmer and loses more.",
                            trim(MAY_WAIT_DAYS, 0)
                        ),
                    ));
                }
            }
            (_, StopBy::Days { .. } | StopBy::Feel) => found.push(
                Finding::new(
                    Code::LossUnknown,
                    Severity::Caution,
                    "Taken down without a weight, its loss is unknown and it is cooked before eating.",
                )
                .remedy("Weigh it when it comes down: the days and the feel may decide, the weight proves it."),
            ),
            (Reached::No, StopBy::Weight) => {}
        }
        if bad_mould_of(row.piece).is_some() {
            found.push(
                Finding::new(
                    Code::BadMould,
                    Severity::Stop,
                    "Its mould has to be out of the chamber at once.",
                )
                .remedy("Wipe it with vinegar, look under the casing, smell it; slime or a bad smell: discard it untasted. Then write the next look down."),
            );
        }
        let drips = row.days < DRIPS_DAYS
            && matches!(row.place, Some((_, DryingAir::Fridge | DryingAir::Room)));
        if drips {
            found.push(Finding::new(
                Code::DripTray,
                Severity::Info,
                "In its first days it drips: a tray under it, nothing to eat below.",
            ));
        }
        found
    }

    /// What hangs beside a piece and should not.
    fn neighbours(&self, rows: &[Row<'_>], i: usize) -> Vec<Finding> {
        let row = &rows[i];
        let near = |other: &Row<'_>| {
            let (Some(place), Some(its)) = (row.place, other.place) else {
                return false;
            };
            let hooks = row.hanging.hook.zip(other.hanging.hook);
            // Where nobody said which hook, all that hang there are near.
            place.0 == its.0 && hooks.is_none_or(|(a, b)| a.abs_diff(b) <= 1)
        };
        let others = || {
            let all = rows.iter().enumerate();
            all.filter(|(j, other)| *j != i && near(other))
                .map(|(_, r)| r)
        };
        let mut found = Vec::new();
        let mouldy: Vec<&str> = others()
            .filter(|r| bad_mould_of(r.piece).is_some())
            .map(|r| r.piece.tag.as_str())
            .collect();
        if !mouldy.is_empty() {
            found.push(
                Finding::new(
                    Code::MouldBeside,
                    Severity::Caution,
                    format!(
                        "{} beside it has mould that has to be out of the chamber.",
                        mouldy.join(", ")
                    ),
                )
                .remedy("Take that one out, and look at this one from all sides."),
            );
        }
        let cooked = |p: &Piece| !p.heats.is_empty();
        let raw: Vec<&str> = others()
            .filter(|r| cooked(row.piece) && !cooked(r.piece))
            .map(|r| r.piece.tag.as_str())
            .collect();
        if !raw.is_empty() {
            found.push(
                Finding::new(
                    Code::RawBeside,
                    Severity::Caution,
                    format!(
                        "It was cooked, and raw pieces hang beside it: {}.",
                        raw.join(", ")
                    ),
                )
                .remedy("Hang it apart, above them, where nothing drips on it."),
            );
        }
        found
    }
}

/// Whether so much lost is enough.
#[must_use]
pub fn reached(hanging: &Hanging, lost: Fraction, home: &House) -> Reached {
    if lost.0 >= hanging.loss.0 - 1e-9 {
        Reached::Yes
    } else if lost.0 >= hanging.loss.0 - home.settings.close_enough - 1e-9 {
        Reached::CloseEnough
    } else {
        Reached::No
    }
}

/// A moment so many days after it was hung; none beyond what a calendar holds.
fn after_days(hanging: &Hanging, days: f64) -> Option<Timestamp> {
    if !(0.0..=36_500.0).contains(&days) {
        return None;
    }
    hanging
        .since
        .checked_add(SignedDuration::from_secs_f64(days * 86_400.0))
        .ok()
}

/// The rim dries faster than the middle gives water: found by the scale, or by the thumb.
fn hard_rind(row: &Row<'_>) -> Option<Finding> {
    let soft_inside =
        newest(row.piece, "soft_centre").and_then(|c| c.grade.as_deref()) == Some("soft");
    let hard = row.feel.and_then(|c| c.grade.as_deref()) == Some("hard");
    let by_thumb = hard && (soft_inside || row.reached == Reached::No);
    let by_scale = row.a_day.filter(|(said, expected)| {
        *said > HARD_RIND_A_DAY + 1e-9 && *said > HARD_RIND_TIMES * expected + 1e-9
    });
    if !by_thumb && by_scale.is_none() {
        return None;
    }
    let a_day = |part: f64| format!("{} % a day", trim(part * 100.0, 1));
    let finding = Finding::new(
        Code::HardRind,
        Severity::Caution,
        "Its rind may be hard: it shuts the water in, and the middle stays wet.",
    );
    let finding = match by_scale {
        Some((said, expected)) => finding
            .saw(a_day(said))
            .wants(format!("about {}, as its forecast had it", a_day(expected))),
        None => finding.saw("hard outside before it is dry"),
    };
    Some(finding.remedy(
        "Damper air (75 to 80 %) and less of it, or take it down and let it even out in vacuum for a week; then hang it on.",
    ))
}
