//! What may be said of a piece or a pack, from recorded facts alone.
//!
//! One rule, worked out anew whenever a fact is added, put right or undone: the word, the reasons
//! with the facts they rest on and what would change them, and how long it keeps. What was hoped
//! for when a product was chosen never decides.

pub mod age;
mod cache;
pub mod contents;
mod dose;
mod dried;
pub mod harm;
pub mod inside;
mod keep;
pub mod loaded;
pub mod no_nitrite;
pub mod plausible;
mod proof;
pub mod souring;
mod warm;
mod within;

use crate::animal::hold::{HoldAnswer, HoldState};
use crate::catalogue::builds::Eat;
use crate::catalogue::rules::RuleSet;
use crate::caution::{Finding, Severity};
use crate::house::House;
use crate::ids::{EntryId, LotId, PackId};
use crate::ledger::book::Book;
use crate::ledger::state::State;
use crate::piece::printed::{How, LabelChange, LabelContents, Printed, Verdict};
use crate::piece::{Cooled, Heat, Pack, Piece, Stage};
use crate::units::show::temperature;
use crate::units::{Celsius, Millimetres};
pub use cache::{LotVerdicts, VerdictCache, work_out};
pub use dose::{ActualContents, salt_left};
pub use dried::{Early, LEAST_LOSS, LOST_IN_BOX, days_in_cure, least_days};
pub use harm::waits;
use jiff::Timestamp;
use jiff::civil::Date;
pub use keep::KeepUntil;
pub use proof::{Proof, UNLIKE_C, as_recorded};
use serde::{Deserialize, Serialize};
pub use souring::{SOUR_BY_H, SOUR_PH, Souring, ph_of, souring};
use std::borrow::Cow;
use std::collections::BTreeSet;
pub use within::{MeatIn, Within};

impl From<Verdict> for Eat {
    fn from(word: Verdict) -> Self {
        match word {
            Verdict::ReadyToEat => Self::ReadyToEat,
            Verdict::CookBeforeEating => Self::CookBeforeEating,
            Verdict::DoNotEat => Self::NotEaten,
        }
    }
}

/// The stable word of a reason; programs match on these.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum ReasonCode {
    /// An animal in it tested positive for wasting disease.
    PositiveAnimal,
    /// A test of an animal in it is waited for.
    TestPending,
    /// More nitrite than anybody may eat.
    #[serde(rename = "nitrite_over_500")]
    NitriteOver500,
    /// A check ended in throwing it away.
    CheckDiscard,
    /// It lay too warm for too long.
    TooWarm,
    /// A dry sausage that did not sour in time.
    PhTooHigh,
    /// It waited past all measure, and nobody knows what it went through.
    TooOld,
    /// It cooled far too slowly, or too slowly.
    CoolingMissed,
    /// It was thrown away, or is to be.
    ThrownAway,
    /// Its inside reached its target.
    CookedToTarget,
    /// It was cured, dried and weighed as it should be.
    DriedToTarget,
    /// It is raw.
    Raw,
    /// Nobody knows its dose.
    DoseUnknown,
    /// Heated without a recorded inside temperature.
    HeatNotRecorded,
    /// What was read of its inside cannot be, or nobody can tell: it proves nothing.
    ReadingUnproved,
    /// Its inside stayed under its target.
    UnderTarget,
    /// How it cooled was not recorded.
    CoolingNotRecorded,
    /// Cured without nitrite.
    NoNitrite,
    /// Too little salt.
    SaltTooLow,
    /// A limit of its class is broken.
    OverLimit,
    /// Under its floor of nitrite.
    UnderFloor,
    /// Nitrate in what is fried.
    NitrateInFried,
    /// It left its cure too early.
    LeftCureEarly,
    /// It still lies in its cure.
    InCure,
    /// Nobody wrote down how long it lay in its cure.
    DaysUnknown,
    /// Nobody measured how thick it is.
    ThicknessUnknown,
    /// It still hangs.
    StillHangs,
    /// It was never weighed on a hook.
    NotWeighed,
    /// It lost too little.
    LostTooLittle,
    /// Something holds its meat back from being eaten raw.
    HoldOpen,
    /// Meat in it is never eaten raw and dried.
    NeverRawDried,
    /// Its product ends in cooking.
    EndsInCooking,
    /// Nobody recorded that it soured.
    PhMissing,
    /// It hung too warm before it was dry enough.
    HungTooWarm,
    /// Its core was gray when it was cut.
    GrayCore,
    /// Nobody said which animal went into it.
    MeatUnknown,
    /// Mould on it has to be out of the chamber.
    BadMould,
    /// A typed reason stands for a proof.
    Overridden,
}

/// One reason for the word.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Reason {
    /// The stable word.
    pub code: ReasonCode,
    /// In a sentence, with its numbers.
    pub message: String,
    /// The entry it rests on, where there is one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub entry: Option<EntryId>,
    /// What would change it, where something would.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub change: Option<String>,
}

impl Reason {
    pub(crate) fn new(code: ReasonCode, message: impl Into<String>) -> Self {
        Self {
            code,
            message: message.into(),
            entry: None,
            change: None,
        }
    }

    pub(crate) fn at(mut self, entry: EntryId) -> Self {
        self.entry = Some(entry);
        self
    }

    pub(crate) fn change(mut self, what: impl Into<String>) -> Self {
        self.change = Some(what.into());
        self
    }
}

/// What may be said of a piece or a pack.
#[derive(Clone, Debug, PartialEq)]
pub struct Assessment {
    /// The word.
    pub word: Verdict,
    /// What made it ready.
    pub how: Option<How>,
    /// The inside temperature that makes it ready.
    pub target: Celsius,
    /// Why, the weightiest first.
    pub reasons: Vec<Reason>,
    /// What gave pause on its way and stands.
    pub findings: Vec<Finding>,
    /// True when a typed reason lifted a stop on its way.
    pub overridden: bool,
}

impl Assessment {
    /// True where nobody eats it only until an answer comes: nothing is thrown away for that.
    #[must_use]
    pub fn waits_for_test(&self) -> bool {
        self.word == Verdict::DoNotEat
            && self
                .reasons
                .first()
                .is_some_and(|r| r.code == ReasonCode::TestPending)
    }

    /// True when a reason with this code stands.
    #[must_use]
    pub fn has(&self, code: ReasonCode) -> bool {
        self.reasons.iter().any(|r| r.code == code)
    }

    /// What a label says of how it is eaten.
    #[must_use]
    pub fn printed(&self) -> Printed {
        Printed {
            word: self.word,
            how: self.how,
            target_c: (self.word == Verdict::CookBeforeEating).then_some(self.target.0),
            contents: None,
        }
    }
}

impl Printed {
    /// In what it no longer says what may be said now.
    #[must_use]
    pub fn changes(
        &self,
        now: &Assessment,
        contents: impl FnOnce() -> LabelContents,
    ) -> Vec<LabelChange> {
        let verdict = now.printed();
        let word = self.word == verdict.word
            && (self.how.is_none() || self.how == verdict.how)
            && (self.target_c.is_none() || self.target_c == verdict.target_c);
        let mut found = Vec::new();
        if !word {
            found.push(LabelChange::Word);
        }
        let Some(said) = &self.contents else {
            return found;
        };
        let now = contents();
        let set =
            |all: &[String]| -> BTreeSet<String> { all.iter().map(|a| a.to_lowercase()).collect() };
        let keeps = said.keeps == now.keeps;
        for (same, change) in [
            (said.meat == now.meat, LabelChange::Meat),
            (
                said.ingredients == now.ingredients,
                LabelChange::Ingredients,
            ),
            (
                set(&said.allergens) == set(&now.allergens),
                LabelChange::Allergens,
            ),
            (keeps, LabelChange::Keep),
        ] {
            if !same {
                found.push(change);
            }
        }
        found
    }
}

/// Who says what may be said: the whole ledger and the household's rules. It knows no present; only
/// what was recorded counts.
#[derive(Clone, Copy, Debug)]
pub struct Judge<'a> {
    /// Every lot.
    pub book: &'a Book,
    /// The household.
    pub home: &'a House,
}

/// How far a thermometer may round away from the exact figure (°C).
const ROUNDED_C: f64 = 0.05;

/// True when an inside temperature reaches a safe one: safe temperatures are whole degrees
/// Fahrenheit, and within half a tenth of a degree of the exact figure counts.
#[must_use]
pub fn reaches(inside: Celsius, target: Celsius) -> bool {
    let exact = ((target.0 * 1.8 + 32.0).round() - 32.0) / 1.8;
    inside.0 >= exact - ROUNDED_C - 1e-9
}

impl<'a> Judge<'a> {
    /// A lot as it stands.
    pub(crate) fn state(&self, id: LotId) -> Option<&'a State> {
        self.book.lot(id).map(|l| &l.state)
    }

    /// The household's rules.
    #[must_use]
    pub fn rules(&self) -> Option<Cow<'a, RuleSet>> {
        self.home.settings.rules(self.book.catalogue()).ok()
    }

    pub(crate) fn label(&self, c: Celsius) -> String {
        temperature(c, self.home.settings.units.heat)
    }

    pub(crate) fn day(&self, at: Timestamp) -> Date {
        self.home.settings.day(at)
    }

    /// What may be said of a piece, from the lot as it is given.
    #[must_use]
    pub fn piece(&self, state: &'a State, piece: &'a Piece) -> Assessment {
        self.of(state, piece, None)
    }

    /// What may be said of a pack of a piece.
    #[must_use]
    pub fn pack(&self, state: &'a State, piece: &'a Piece, pack: PackId) -> Assessment {
        self.of(state, piece, Some(pack))
    }

    fn of(&self, state: &'a State, piece: &'a Piece, pack: Option<PackId>) -> Assessment {
        let within = self.within(state, piece);
        let target = within.target();
        let really = self.really(state, piece);
        let mut reasons = self.harm(&within, piece, really.as_ref(), pack);
        let (findings, overridden) = self.findings(state, &within, piece, really.as_ref());
        let mut verdict = Assessment {
            word: Verdict::CookBeforeEating,
            how: None,
            target,
            reasons: Vec::new(),
            findings,
            overridden,
        };
        if !reasons.is_empty() {
            verdict.word = Verdict::DoNotEat;
            verdict.reasons = reasons;
            return verdict;
        }
        let marks = self.marks(piece, really.as_ref());
        let unknown = piece.cure.as_ref().is_some_and(|c| c.dose.is_none());
        let (cooked, mut why_not) = self.cooked(piece, target);
        if unknown {
            reasons.push(
                Reason::new(
                    ReasonCode::DoseUnknown,
                    "Nobody knows its dose, so nothing is promised.",
                )
                .change("Write down what was weighed for it, if anybody knows."),
            );
        } else if let Some(cooked) = cooked {
            verdict.word = Verdict::ReadyToEat;
            verdict.how = Some(How::Cooked);
            reasons.push(cooked);
            why_not.retain(|r| r.code == ReasonCode::CoolingNotRecorded);
        } else if piece.build().is_some_and(|b| b.is_dried()) {
            match self.dried(&within, piece, really.as_ref()) {
                Ok(dried) if !why_not.iter().any(|r| r.code == ReasonCode::CoolingMissed) => {
                    verdict.word = Verdict::ReadyToEat;
                    verdict.how = Some(How::Dried);
                    reasons.extend(dried);
                    why_not.clear();
                }
                Ok(_) => {}
                Err(missing) => {
                    // Heat is not how it was to become ready: what is missing on its own way is
                    // said first.
                    reasons.extend(missing);
                    why_not.retain(|r| r.code != ReasonCode::Raw);
                }
            }
        }
        reasons.extend(why_not);
        reasons.extend(marks);
        verdict.reasons = reasons;
        verdict
    }

    /// Whether recorded heat made it ready, and what else is to be said of its heat.
    fn cooked(&self, piece: &Piece, target: Celsius) -> (Option<Reason>, Vec<Reason>) {
        let mut notes = Vec::new();
        let proofs: Vec<(&Heat, Proof)> = piece
            .heats
            .iter()
            .map(|heat| (heat, self.proof(piece, heat)))
            .collect();
        let cured = self.cured_for_cooling(piece);
        let late = |c: &Cooled| harm::cooling(c, cured, self).map(|late| late.reason);
        let best = proofs
            .iter()
            .rev()
            .find_map(|(heat, proof)| Some((*heat, proof.inside.filter(|c| reaches(*c, target))?)));
        if let Some((heat, inside)) = best {
            let after: Vec<_> = piece.cooled.iter().filter(|c| c.at >= heat.at).collect();
            if let Some(missed) = after.iter().find_map(|c| late(c)) {
                notes.push(missed);
                return (None, notes);
            }
            // A reading that cannot be says nothing of how it cooled.
            let can_be = |c: &&&Cooled| {
                self.cooled_doubt(piece, heat, c.inside.value, c.hours)
                    .is_none()
            };
            if !after.iter().any(|c| can_be(&c)) {
                notes.push(
                    Reason::new(
                        ReasonCode::CoolingNotRecorded,
                        "How it cooled was not recorded.",
                    )
                    .change("Read its inside after some hours and write that down."),
                );
            }
            let message = format!(
                "{} inside; this meat is ready at {}.",
                self.label(inside),
                self.label(target)
            );
            let cooked = Reason::new(ReasonCode::CookedToTarget, message).at(heat.entry);
            return (Some(cooked), notes);
        }
        let to_target = || {
            format!(
                "Cook it to {} inside, and write that down.",
                self.label(target)
            )
        };
        for (heat, proof) in &proofs {
            notes.extend(proof.warnings.iter().map(|doubt| {
                let saw = doubt.saw.as_deref().map(|s| format!(" ({s})"));
                Reason::new(
                    ReasonCode::ReadingUnproved,
                    format!("{}{}", doubt.message, saw.unwrap_or_default()),
                )
                .at(heat.entry)
                .change("Correct the entry if it was a slip, or cook it again and read it with another thermometer.")
            }));
        }
        let proved = proofs
            .iter()
            .filter_map(|(heat, proof)| Some((*heat, proof.inside?)))
            .max_by(|a, b| a.1.0.total_cmp(&b.1.0));
        match proved {
            Some((heat, inside)) => {
                let message = format!(
                    "{} inside at most; this meat is ready at {}.",
                    self.label(inside),
                    self.label(target)
                );
                let reason = Reason::new(ReasonCode::UnderTarget, message).change(to_target());
                notes.push(reason.at(heat.entry));
            }
            None if notes.is_empty() => {
                let (code, message) = match piece.heats.last() {
                    Some(_) => (
                        ReasonCode::HeatNotRecorded,
                        "Smoked or heated, but its inside temperature was not recorded.",
                    ),
                    None => (
                        ReasonCode::Raw,
                        "It was never heated through: it is raw inside.",
                    ),
                };
                let reason = Reason::new(code, message).change(to_target());
                notes.push(match piece.heats.last() {
                    Some(heat) => reason.at(heat.entry),
                    None => reason,
                });
            }
            None => {}
        }
        notes.extend(piece.cooled.iter().find_map(late));
        (None, notes)
    }

    /// What marks it, whichever word stands.
    fn marks(&self, piece: &Piece, really: Option<&ActualContents>) -> Vec<Reason> {
        let mut marks = Vec::new();
        let Some(really) = really else {
            return marks;
        };
        let entry = piece.cure.as_ref().map(|c| c.entry);
        let mut mark = |reason: Reason| {
            marks.push(match entry {
                Some(entry) => reason.at(entry),
                None => reason,
            });
        };
        if really.no_nitrite {
            mark(Reason::new(
                ReasonCode::NoNitrite,
                "Cured without nitrite: keep it cold and loosely wrapped, or frozen.",
            ));
        }
        if really.nitrate_in_fried {
            mark(Reason::new(
                ReasonCode::NitrateInFried,
                "It holds nitrate: not in a hot pan. Bake or simmer it.",
            ));
        }
        if really.over_limit && !really.nitrate_in_fried {
            mark(Reason::new(
                ReasonCode::OverLimit,
                format!(
                    "{} nitrite, {} nitrate: over what its rules allow ({} nitrite).",
                    ppm(really.nitrite.nominal),
                    ppm(really.nitrate.nominal),
                    ppm(really.ceiling_ppm)
                ),
            ));
        }
        marks
    }

    /// What gave pause on the way of everything in it and stands, and whether a reason lifted a stop.
    fn findings(
        &self,
        state: &State,
        within: &Within<'_>,
        piece: &Piece,
        really: Option<&ActualContents>,
    ) -> (Vec<Finding>, bool) {
        let mut findings: Vec<Finding> = really.map(|r| r.findings.clone()).unwrap_or_default();
        let mut overridden = false;
        for (_, one) in &within.pieces {
            let Some(dose) = one.dose() else { continue };
            overridden |= dose.reason.is_some();
            if one.id != piece.id && really.is_none() {
                findings.extend(dose.findings.iter().cloned());
            }
        }
        for dose in within.mates.iter().filter_map(|(_, mate)| mate.dose()) {
            overridden |= dose.reason.is_some();
            findings.extend(dose.findings.iter().cloned());
        }
        for (_, pause) in within.pauses() {
            let lifted = pause.findings.iter().any(|f| f.severity == Severity::Stop);
            overridden |= lifted && pause.reason.is_some();
            findings.extend(pause.findings.iter().cloned());
        }
        findings.extend(self.warm_findings(state, piece));
        for state in &within.lots {
            let not_tested = |h: &HoldState| h.answer == Some(HoldAnswer::NotTested);
            let holds = state.holds(None, Timestamp::UNIX_EPOCH).into_iter();
            let units = self.home.settings.units;
            findings.extend(holds.filter(not_tested).filter_map(|h| h.finding(units)));
        }
        let mut once: Vec<Finding> = Vec::new();
        for finding in findings {
            if !once.contains(&finding) {
                once.push(finding);
            }
        }
        (once, overridden)
    }

    /// True when the law's longer cooling clock holds for it: nitrite and an accelerator in every part.
    fn cured_for_cooling(&self, piece: &Piece) -> bool {
        piece.dose().is_some_and(|d| {
            let accelerator: f64 = d
                .lines
                .iter()
                .filter(|l| {
                    let name = l.name.to_lowercase();
                    ["erythorb", "ascorb", "accelerator", "vitamin c"]
                        .iter()
                        .any(|w| name.contains(w))
                })
                .map(|l| l.mass.value.grams())
                .sum();
            let meat = piece.cure.as_ref().map_or(0.0, |c| c.meat.grams());
            d.nitrite.low >= 100.0 && meat > 0.0 && accelerator / meat * 1e6 >= 250.0
        })
    }

    /// How thick a piece lies.
    pub(crate) fn thickness(piece: &Piece) -> Option<Millimetres> {
        piece.shape.thickness()
    }
}

pub(crate) fn ppm(value: f64) -> String {
    crate::units::show::content(crate::units::Ppm(value))
}

/// Where a pack stands: eaten, given away or thrown away it is nobody's task any more.
#[must_use]
pub fn is_there(piece: &Piece, pack: &Pack) -> bool {
    pack.is_in_house() && piece.ended != Some(Stage::Discarded)
}

/// What a label printed by an earlier version of the program said: what its product hoped for.
#[must_use]
pub fn printed_of_old(piece: &Piece) -> Option<Printed> {
    let eat = piece.build()?.eat;
    // Of the cautious words nothing is taken back.
    (eat == Eat::ReadyToEat).then_some(Printed {
        word: Verdict::ReadyToEat,
        how: None,
        target_c: None,
        contents: None,
    })
}

#[cfg(test)]
mod tests;
