//! A piece, as what was done to it leaves it: its traits, its weights, where it is on its way.

mod frost;
pub mod mould;
pub mod printed;
mod route;
pub mod storage;
mod timer;
mod work;

use crate::animal::byproduct::Byproduct;
use crate::catalogue::builds::Build;
use crate::catalogue::steps::StepKind;
use crate::caution::Finding;
use crate::dose::{AS_USUAL, Dose, DoseLine, OwnTime};
use crate::ids::{EntryId, LotId, PackId, PieceId, RunId, VesselId};
use crate::piece::printed::Printed;
use crate::place::{PlaceId, Stay};
use crate::shape::Shape;
use crate::units::{Celsius, Fraction, Milligrams, Millimetres, Typed};
pub use frost::Frost;
use jiff::Timestamp;
pub use route::{Stage, StepDone};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;
pub use timer::{Soak, Timer, TimerFor};
pub use work::Work;

/// The point of the way at which a piece was weighed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Point {
    /// Green, as cut.
    Green,
    /// With the brine that was pumped in.
    Injected,
    /// Out of the cure.
    OutOfCure,
    /// After the smoke, or cooked.
    Smoked,
    /// With its coat on.
    Coated,
    /// With its bone out, or trimmed when done.
    Worked,
    /// When it was hung.
    Hung,
    /// On its hook.
    WeighedIn,
    /// When it was taken down.
    TakenDown,
}

/// One weighing of a piece's meat.
#[derive(Clone, Debug, PartialEq)]
pub struct Weighing {
    /// The entry that holds it.
    pub entry: EntryId,
    /// When.
    pub at: Timestamp,
    /// At which point of the way.
    pub point: Point,
    /// The meat alone.
    pub net: Milligrams,
}

/// A piece in its cure.
#[derive(Clone, Debug, PartialEq)]
pub struct InCure {
    /// The entry that says so.
    pub entry: EntryId,
    /// When it was put in.
    pub since: Timestamp,
    /// The meat it was put on, as its weight stands now.
    pub meat: Milligrams,
    /// Its dose, or its share of one; none when nobody knows it any more.
    pub dose: Option<Dose>,
    /// Brine that was pumped into it.
    pub injected: Milligrams,
    /// What was poured in afterwards, its share of it.
    pub topped: Vec<Topped>,
}

/// Something poured into a running vessel.
#[derive(Clone, Debug, PartialEq)]
pub struct Topped {
    /// The entry that says so.
    pub entry: EntryId,
    /// When.
    pub at: Timestamp,
    /// This piece's share of it.
    pub line: DoseLine,
}

/// From this share of its weight on a pump reaches the middle, and halves the days.
pub const PUMPED_FROM: f64 = 0.05;

impl InCure {
    /// What was settled on for its time; as usual where its dose is not known.
    #[must_use]
    pub fn time(&self) -> &OwnTime {
        self.dose.as_ref().map_or(&AS_USUAL, |d| &d.time)
    }

    /// True when so much brine was pumped in that its days are counted as an injected piece's.
    #[must_use]
    pub fn is_pumped(&self) -> bool {
        self.injected.grams() >= PUMPED_FROM * self.meat.grams()
    }
}

/// Heat or smoke that a piece went through.
#[derive(Clone, Debug, PartialEq)]
pub struct Heat {
    /// The entry that says so.
    pub entry: EntryId,
    /// The piece that was heated: this one, or the whole that it was cut from since.
    pub of: PieceId,
    /// When it came out.
    pub at: Timestamp,
    /// The kind of step; none for what was done before the piece was entered.
    pub kind: Option<StepKind>,
    /// The highest inside temperature when it came out, if measured.
    pub inside: Option<Typed<Celsius>>,
    /// True where the run's probes and checks said so, and nobody typed it: it goes with them.
    pub by_run: bool,
    /// How warm the chamber was, if measured.
    pub chamber: Option<Typed<Celsius>>,
    /// One number that was typed for so many pieces, without each having been read.
    pub shared_by: Option<usize>,
    /// The peak that its inside still came to while it rested.
    pub peak: Option<Peak>,
    /// What was last written down of the piece before: it was not in the heat then.
    pub after: Option<Timestamp>,
    /// True in water or steam.
    pub wet: bool,
    /// The run it was part of.
    pub run: Option<RunId>,
}

/// The peak that an inside came to out of the heat.
#[derive(Clone, Debug, PartialEq)]
pub struct Peak {
    /// The entry that says so.
    pub entry: EntryId,
    /// In the thickest place.
    pub inside: Typed<Celsius>,
}

impl Heat {
    /// The highest inside temperature that was written down, with its rest.
    #[must_use]
    pub fn highest(&self) -> Option<Celsius> {
        let rested = self.peak.as_ref().map(|p| p.inside.value);
        let out = self.inside.as_ref().map(|c| c.value);
        let all = rested.into_iter().chain(out);
        all.max_by(|a, b| a.0.total_cmp(&b.0))
    }
}

/// An inside temperature read so long after the heat.
#[derive(Clone, Debug, PartialEq)]
pub struct Cooled {
    /// The entry that says so.
    pub entry: EntryId,
    /// When it was read.
    pub at: Timestamp,
    /// Inside the thickest place.
    pub inside: Typed<Celsius>,
    /// Hours since it came out of the heat.
    pub hours: f64,
}

/// The temperature around a piece for some hours.
#[derive(Clone, Debug, PartialEq)]
pub struct Around {
    /// The entry that says so.
    pub entry: EntryId,
    /// When it was read, at the end of the hours.
    pub at: Timestamp,
    /// How warm it was.
    pub temperature: Typed<Celsius>,
    /// For how many hours, as far as that is known.
    pub hours: f64,
    /// True when the piece hung, evened out or was dried already: warmth is part of that.
    pub drying: bool,
}

/// Something that gave pause when it was written down, and was written down all the same.
#[derive(Clone, Debug, PartialEq)]
pub struct Pause {
    /// The entry that was asked about.
    pub entry: EntryId,
    /// When.
    pub at: Timestamp,
    /// What was done, in the past tense.
    pub did: &'static str,
    /// What gave pause.
    pub findings: Vec<Finding>,
    /// Why the person went on past a stop; none where a question was answered with yes.
    pub reason: Option<String>,
}

/// Something ground in with a block that was no piece of its lot.
#[derive(Clone, Debug, PartialEq)]
pub struct Taken {
    /// What it is called.
    pub name: String,
    /// How much.
    pub mass: Milligrams,
    /// The lot whose trim or fat it was; none when it was bought for the block.
    pub lot: Option<LotId>,
    /// What of that lot; none where an old ledger does not say.
    pub kind: Option<Byproduct>,
    /// The animal it is of, where somebody said it or its name does; `none` for what is no meat.
    pub species: Option<String>,
}

/// A piece on its hook.
#[derive(Clone, Debug, PartialEq)]
pub struct Hanging {
    /// The entry that says so.
    pub entry: EntryId,
    /// When it was hung; when it was entered, where nobody knows.
    pub since: Timestamp,
    /// False where nobody knows when it was hung.
    pub since_known: bool,
    /// The scale then.
    pub gross_start: Milligrams,
    /// What hangs there beside the meat, as it was hung: wet.
    pub tare: Milligrams,
    /// What of it usually weighs once it is dry, by its parts; the same where nobody said what it is made of.
    pub dry: Milligrams,
    /// The share to lose.
    pub loss: Fraction,
    /// When it was taken down.
    pub until: Option<Timestamp>,
    /// The share it had lost when it was taken down.
    pub lost: Option<Fraction>,
    /// Why a smaller loss than is safe was typed, if one was.
    pub reason: Option<String>,
    /// What its tare is made of, where that was said.
    pub parts: Vec<(String, Milligrams)>,
    /// Cloth, casing and net as they were weighed stripped.
    pub stripped: Option<Milligrams>,
    /// By what it is taken down.
    pub stop: StopBy,
    /// Its hook in its place, counted from one.
    pub hook: Option<u32>,
}

impl Hanging {
    /// The meat alone when it was hung.
    #[must_use]
    pub fn net_start(&self) -> Milligrams {
        self.gross_start - self.tare
    }

    /// What hangs beside the meat at the end: as it was stripped, else what such parts usually weigh dry.
    #[must_use]
    pub fn tare_at_end(&self) -> Milligrams {
        self.stripped.unwrap_or(self.dry)
    }

    /// The tare that the books take off the scale: as it was hung, until it is stripped.
    #[must_use]
    pub fn tare_in_books(&self) -> Milligrams {
        self.stripped.unwrap_or(self.tare)
    }

    /// The share of its meat that it has lost where the books say so much of it: what was wet around it and dried is no meat that
    /// is left, and none that was lost.
    #[must_use]
    pub fn lost_at(&self, in_books: Milligrams) -> Fraction {
        self.lost_of(in_books + self.tare_in_books() - self.tare_at_end())
    }

    /// The share of its meat that it has lost, with so much of it left.
    #[must_use]
    pub fn lost_of(&self, meat: Milligrams) -> Fraction {
        Fraction(1.0 - meat.grams() / self.net_start().grams().max(f64::MIN_POSITIVE))
    }

    /// What the scale shows when it has lost enough: with everything around it dry, which decides, up to all of it still wet.
    #[must_use]
    pub fn target_gross(&self) -> [Milligrams; 2] {
        let net = Milligrams::from_grams(self.net_start().grams() * (1.0 - self.loss.0));
        [net + self.tare_at_end(), net + self.tare_in_books()]
    }
}

/// By what a piece is taken down.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(tag = "by", rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum StopBy {
    /// By its weight.
    #[default]
    Weight,
    /// By so many days.
    Days {
        /// Days on its hook.
        days: u32,
    },
    /// By how it feels.
    Feel,
}

impl StopBy {
    /// The days, where they decide.
    #[must_use]
    pub const fn days(&self) -> Option<u32> {
        match self {
            Self::Days { days } => Some(*days),
            Self::Weight | Self::Feel => None,
        }
    }

    /// True for the usual way.
    #[must_use]
    pub const fn is_weight(&self) -> bool {
        matches!(self, Self::Weight)
    }
}

/// Laid in vacuum so that rind and middle even out.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct EveningOut {
    /// The entry that says so.
    pub entry: EntryId,
    /// Since when.
    pub since: Timestamp,
    /// Until when.
    pub until: Timestamp,
}

/// What a piece was cased or netted in.
#[derive(Clone, Debug, PartialEq)]
pub struct Cased {
    /// What it is called.
    pub name: String,
    /// Its weight as it went on, wet.
    pub wet: Option<Milligrams>,
    /// How wide it is when filled; none where nobody said it.
    pub width: Option<Millimetres>,
}

/// Something put on a piece by weight.
#[derive(Clone, Debug, PartialEq)]
pub struct Coat {
    /// What it is.
    pub name: String,
    /// How much.
    pub mass: Milligrams,
    /// What to name for the allergic.
    pub allergens: Option<String>,
    /// When it was put on.
    pub at: Timestamp,
}

/// Something that was looked at, smelled, felt, tasted or measured.
#[derive(Clone, Debug, PartialEq)]
pub struct Checked {
    /// The entry that says so.
    pub entry: EntryId,
    /// The pack it is about; none for the whole piece.
    pub pack: Option<PackId>,
    /// When.
    pub at: Timestamp,
    /// The check's word.
    pub check: String,
    /// The grade it got.
    pub grade: Option<String>,
    /// The number, as said.
    pub value: Option<String>,
}

/// A piece, as its entries leave it.
#[derive(Clone, Debug, PartialEq)]
pub struct Piece {
    /// For machines.
    pub id: PieceId,
    /// The piece it was cut from, or those it was made of; empty when it came out of the lot.
    pub parents: Vec<PieceId>,
    /// For people.
    pub tag: String,
    /// Its cut.
    pub cut: String,
    /// How it lies.
    pub shape: Shape,
    /// How thick it is since it was rolled; its cure went by its own thickness.
    pub rolled: Option<Typed<Millimetres>>,
    /// What was done to it with the knife, in order.
    pub worked: Vec<Work>,
    /// Its share of fat, when it was blended.
    pub fat: Option<Typed<Fraction>>,
    /// As cut, before any cure.
    pub green: Milligrams,
    /// The meat now.
    pub mass: Milligrams,
    /// What lies with it in the cure.
    pub in_cure: Milligrams,
    /// Its product, in the version that it started with.
    pub product: Option<Arc<Build>>,
    /// Its cure, once dosed.
    pub cure: Option<InCure>,
    /// When it came out.
    pub out_of_cure: Option<Timestamp>,
    /// When it was smoked or cooked last.
    pub smoked: Option<Timestamp>,
    /// Its heats, in order.
    pub heats: Vec<Heat>,
    /// How it cooled after them.
    pub cooled: Vec<Cooled>,
    /// How warm it lay.
    pub around: Vec<Around>,
    /// What gave pause on its way.
    pub pauses: Vec<Pause>,
    /// What else was ground in, beside the pieces it was made of.
    pub taken: Vec<Taken>,
    /// Its hanging.
    pub hanging: Option<Hanging>,
    /// What it was cased and netted in, in order.
    pub cased: Vec<Cased>,
    /// Until when it evens out in vacuum.
    pub evening_out: Option<EveningOut>,
    /// Where it lay and lies, as far as that was said.
    pub stays: Vec<Stay>,
    /// When it lay in the freezer, in order.
    pub frosts: Vec<Frost>,
    /// When it was last turned.
    pub turned: Option<Timestamp>,
    /// How often it was turned.
    pub turnings: u32,
    /// Timers that run or ring, one of a kind.
    pub timers: BTreeMap<TimerFor, Timer>,
    /// How long it lay in water, in order.
    pub soaks: Vec<Soak>,
    /// Steps of its way that are done, in the order in which they were.
    pub done: Vec<StepDone>,
    /// What was put on it, in order.
    pub coats: Vec<Coat>,
    /// What was looked at, in order.
    pub checks: Vec<Checked>,
    /// When it came to where it is now.
    pub since: Timestamp,
    /// How it ended, if it did.
    pub ended: Option<Stage>,
    /// Every weighing of its meat, in order.
    pub weighings: Vec<Weighing>,
    /// What of it was eaten or given away before it was packed.
    pub used: Milligrams,
    /// Its packs.
    pub packs: Vec<PackId>,
    /// Its parts, or the one piece it went into.
    pub parts: Vec<PieceId>,
}

impl Piece {
    /// A piece of which nothing is known but its weight, made by `entry` at `at`.
    #[must_use]
    pub fn green(
        id: PieceId,
        tag: &str,
        green: Milligrams,
        (entry, at): (EntryId, Timestamp),
    ) -> Self {
        Self {
            id,
            parents: Vec::new(),
            tag: tag.into(),
            cut: String::new(),
            shape: Shape::default(),
            rolled: None,
            worked: Vec::new(),
            fat: None,
            green,
            mass: Milligrams::ZERO,
            in_cure: Milligrams::ZERO,
            product: None,
            cure: None,
            out_of_cure: None,
            smoked: None,
            heats: Vec::new(),
            cooled: Vec::new(),
            around: Vec::new(),
            pauses: Vec::new(),
            taken: Vec::new(),
            hanging: None,
            cased: Vec::new(),
            evening_out: None,
            stays: Vec::new(),
            frosts: Vec::new(),
            turned: None,
            turnings: 0,
            timers: BTreeMap::new(),
            soaks: Vec::new(),
            done: Vec::new(),
            coats: Vec::new(),
            checks: Vec::new(),
            since: at,
            ended: None,
            weighings: vec![Weighing {
                entry,
                at,
                point: Point::Green,
                net: green,
            }],
            used: Milligrams::ZERO,
            packs: Vec::new(),
            parts: Vec::new(),
        }
    }

    /// How thick it is now: as it was rolled, or as it was cut.
    #[must_use]
    pub fn thickness_now(&self) -> Option<Millimetres> {
        let rolled = self.rolled.as_ref().map(|t| t.value);
        rolled.or_else(|| self.shape.thickness())
    }

    /// Its weight before the cure is what it weighs now: something was taken off it.
    pub fn is_green_again(&mut self) {
        self.green = self.mass;
        if let Some(first) = self.weighings.first_mut() {
            first.net = self.mass;
        }
    }

    /// Writes down a weighing of its meat, and that it came to where it is now.
    pub fn weighed(&mut self, (entry, at): (EntryId, Timestamp), point: Point, net: Milligrams) {
        self.weighings.push(Weighing {
            entry,
            at,
            point,
            net,
        });
        self.since = at;
    }

    /// It came to a place, if one was said, and left where it was.
    pub fn moved(&mut self, at: Timestamp, place: Option<PlaceId>) {
        if let Some(last) = self.stays.last_mut().filter(|s| s.until.is_none()) {
            last.until = Some(at);
        }
        self.stays.extend(place.map(|place| Stay {
            place,
            from: at,
            until: None,
        }));
    }

    /// The highest inside temperature written down, whatever it proves.
    #[must_use]
    pub fn inside(&self) -> Option<Celsius> {
        let read = self.heats.iter().filter_map(Heat::highest);
        read.max_by(|a, b| a.0.total_cmp(&b.0))
    }

    /// The newest fact of it that says it was not in the heat then.
    #[must_use]
    pub fn last_seen(&self) -> Option<Timestamp> {
        let weighed = self.weighings.iter().map(|w| w.at);
        let done = self.done.iter().filter(|d| d.entry.is_some()).map(|d| d.at);
        weighed.chain(done).max()
    }

    /// When it stopped being raw: it was heated or hung; none while it is raw.
    #[must_use]
    pub fn raw_until(&self) -> Option<Timestamp> {
        let hung = self.hanging.as_ref().map(|h| h.since);
        let packed = (self.ended == Some(Stage::Packed)).then_some(self.since);
        hung.into_iter()
            .chain(self.heats.iter().map(|h| h.at))
            .chain(packed)
            .min()
    }

    /// True while it hangs, and afterwards when it was dried: warmth around it is part of that.
    #[must_use]
    pub fn is_drying(&self) -> bool {
        let hung = self.hanging.as_ref();
        hung.is_some_and(|h| h.until.is_none() || self.build().is_some_and(Build::is_dried))
    }

    /// Writes down how warm it lay.
    pub fn lay_in(
        &mut self,
        entry: EntryId,
        at: Timestamp,
        temperature: &Typed<Celsius>,
        hours: f64,
    ) {
        let drying = self.is_drying();
        self.around.push(Around {
            entry,
            at,
            temperature: temperature.clone(),
            hours,
            drying,
        });
    }

    /// The place it is in now, if anybody said it.
    #[must_use]
    pub fn place(&self) -> Option<PlaceId> {
        let last = self.stays.last()?;
        last.until.is_none().then_some(last.place)
    }

    /// The place it was in then, if anybody said it.
    #[must_use]
    pub fn place_at(&self, at: Timestamp) -> Option<PlaceId> {
        let there = |s: &&Stay| s.from <= at && s.until.is_none_or(|until| at < until);
        self.stays.iter().rev().find(there).map(|s| s.place)
    }

    /// What hangs with it beside the meat; nothing when it does not hang.
    #[must_use]
    pub fn tare(&self) -> Milligrams {
        let hanging = self.hanging.as_ref().filter(|h| h.until.is_none());
        hanging.map_or(Milligrams::ZERO, |h| h.tare)
    }

    /// True when it lives on in other pieces: cut up, joined or ground.
    #[must_use]
    pub fn went_into_others(&self) -> bool {
        matches!(self.ended, Some(Stage::CutUp | Stage::Joined))
    }

    /// True when it was opened flat, whatever its cut is by nature.
    #[must_use]
    pub fn is_opened(&self) -> bool {
        self.worked.contains(&Work::OpenFlat)
    }

    /// Its product's data.
    #[must_use]
    pub fn build(&self) -> Option<&Build> {
        self.product.as_deref()
    }

    /// Its product's word.
    #[must_use]
    pub fn build_key(&self) -> Option<&str> {
        self.build().map(|b| b.key.as_str())
    }

    /// The vessel it was put into, where that is known.
    #[must_use]
    pub fn vessel(&self) -> Option<VesselId> {
        Some(self.dose()?.vessel.as_ref()?.id)
    }

    /// Its dose, when it has one and that is known.
    #[must_use]
    pub fn dose(&self) -> Option<&Dose> {
        self.cure.as_ref()?.dose.as_ref()
    }

    /// The latest weighing of its meat.
    #[must_use]
    pub fn last_weighing(&self) -> Option<&Weighing> {
        self.weighings.last()
    }
}

/// A pack was moved, or thawed.
#[derive(Clone, Debug, PartialEq)]
pub struct PackMove {
    /// The entry that says so.
    pub entry: EntryId,
    /// When.
    pub at: Timestamp,
    /// Where and how it is kept from then on, in words.
    pub place: String,
    /// The place of the house, if that was said.
    pub lies_in: Option<PlaceId>,
}

/// Where a pack was for some time.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct PackStay<'a> {
    /// In words, where that was said.
    pub place: Option<&'a str>,
    /// The place of the house.
    pub lies_in: Option<PlaceId>,
    /// Since when.
    pub from: Timestamp,
    /// Until when; none while it is there.
    pub until: Option<Timestamp>,
}

/// What a pack left the house for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum LeftFor {
    /// It was eaten.
    Eaten,
    /// It was given to somebody.
    GivenAway,
}

impl LeftFor {
    /// Both.
    pub const ALL: [Self; 2] = [Self::Eaten, Self::GivenAway];

    /// What was done.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Eaten => "eaten",
            Self::GivenAway => "given away",
        }
    }
}

/// How a pack left the house.
#[derive(Clone, Debug, PartialEq)]
pub struct PackLeave {
    /// When.
    pub at: Timestamp,
    /// What for.
    pub what: LeftFor,
    /// Who has it, or ate of it.
    pub to: Option<String>,
    /// When whoever has it was told what is to be known of it.
    pub told: Option<Timestamp>,
}

impl Pack {
    /// True while it is in the house: neither eaten, nor given nor thrown away.
    #[must_use]
    pub const fn is_in_house(&self) -> bool {
        self.discarded.is_none() && self.left.is_none()
    }

    /// Where it was, one stay after the other.
    pub fn stays(&self) -> impl Iterator<Item = PackStay<'_>> {
        let first = PackStay {
            place: self.place.as_deref(),
            lies_in: self.lies_in,
            from: self.at,
            until: None,
        };
        let later = self.moves.iter().map(|m| PackStay {
            place: Some(m.place.as_str()),
            lies_in: m.lies_in,
            from: m.at,
            until: None,
        });
        let mut all: Vec<_> = std::iter::once(first).chain(later).collect();
        all.sort_by_key(|s| s.from);
        for i in 1..all.len() {
            all[i - 1].until = Some(all[i].from);
        }
        all.into_iter()
    }

    /// Where it is kept now, in words, where that was said.
    #[must_use]
    pub fn kept_in(&self) -> Option<&str> {
        self.moves
            .last()
            .map_or(self.place.as_deref(), |m| Some(m.place.as_str()))
    }

    /// The place of the house it is in now.
    #[must_use]
    pub fn is_in(&self) -> Option<PlaceId> {
        self.moves.last().map_or(self.lies_in, |m| m.lies_in)
    }
}

/// A pack, as its entries leave it.
#[derive(Clone, Debug, PartialEq)]
pub struct Pack {
    /// For machines.
    pub id: PackId,
    /// The piece it came from.
    pub piece: PieceId,
    /// For people.
    pub tag: String,
    /// Its weight.
    pub mass: Milligrams,
    /// How many slices.
    pub slices: Option<u32>,
    /// Where it is kept.
    pub place: Option<String>,
    /// What to name for the allergic.
    pub allergens: Option<String>,
    /// A line to whoever opens it.
    pub line: Option<String>,
    /// The place of the house it lies in since it was packed, if that was said.
    pub lies_in: Option<PlaceId>,
    /// Where it was moved since.
    pub moves: Vec<PackMove>,
    /// When it was packed.
    pub at: Timestamp,
    /// The entry that made it.
    pub entry: EntryId,
    /// What its newest label says of how it is eaten; none where an old ledger does not say.
    pub printed: Option<Printed>,
    /// When that was printed.
    pub printed_at: Timestamp,
    /// When it was thrown away.
    pub discarded: Option<Timestamp>,
    /// How it left the house, if it did.
    pub left: Option<PackLeave>,
}
