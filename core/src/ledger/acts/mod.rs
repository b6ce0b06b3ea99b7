//! Acts: what was done or seen. One file each, with what it asks, moves, changes, finds odd, says,
//! and how it is asked again when it is put right.
//!
//! A new act is a file with its fact and its ask, and a line in each of the two lists below.

pub mod assigned;
pub mod breakdown_closed;
pub mod byproduct_given;
pub mod byproduct_weighed;
pub mod cased;
pub mod checked;
pub mod cleaned;
pub mod coated;
pub mod cooled;
pub mod cut;
pub mod cutting_chosen;
mod desk;
pub mod discarded;
pub mod dosed;
pub mod evened_out;
pub mod form;
pub mod freezer_read;
mod gate;

pub mod ground;
pub mod hold_answered;
pub mod hung;
pub mod injected;
pub mod joined;
pub mod label_printed;
pub mod noted;
pub mod out_of_cure;
pub mod pack_moved;
pub mod packed;
pub mod piece_weighed;
pub mod place_read;
pub mod purchased;
pub mod received;
pub mod rehung;
pub mod rested;
mod scene;
pub mod smoked;
pub mod soaked;
pub mod step_done;
pub mod stripped;
pub mod taken_down;
pub mod timer_answered;
pub mod timer_set;
pub mod topped_up;
pub mod turned;
pub mod under_way;
pub mod undone;
pub mod weigh_out;
pub mod weighed;
pub mod weighed_in;
pub mod worked;

pub use desk::{AskError, Desk, Drafted};
pub use form::{Field, FieldKind, FieldOption};
pub use gate::{Gate, Pass};
pub use scene::Scene;

use super::post::Posted;
use super::state::State;
use super::{Entry, LotId, PackId, PieceId};
use crate::catalogue::KeptKey;
use crate::caution::Finding;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// The pieces and packs of an act.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Family<'a> {
    /// The pieces it is about, the one it changes first.
    pub about: Vec<PieceId>,
    /// Pieces it brings into being, with their tags.
    pub makes: Vec<(PieceId, &'a str)>,
    /// Pieces that are no more because they went into the one it makes.
    pub joins: Vec<PieceId>,
    /// Packs it brings into being, with their tags.
    pub packs: Vec<(PackId, &'a str)>,
}

impl Family<'_> {
    /// Of an act about one piece.
    #[must_use]
    pub fn of(piece: PieceId) -> Self {
        Self {
            about: vec![piece],
            ..Self::default()
        }
    }
}

/// What every act answers. There are no defaults: an act that forgot one of these would be wrong
/// in silence.
pub trait Deed {
    /// Its pieces and packs.
    fn family(&self) -> Family<'_>;
    /// What it leans on in the catalogue, to be kept on the household's shelf.
    fn leans_on(&self) -> Vec<KeptKey>;
    /// What it moves; they always sum to zero.
    ///
    /// # Errors
    /// Names the field that makes it impossible and what to type instead, in `unit`.
    fn post(&self, state: &State, units: Units) -> Posted;
    /// Makes room for what it brings into being, before masses move.
    fn begin(&self, state: &mut State, entry: &Entry);
    /// Writes down what it means, after masses moved.
    fn conclude(&self, state: &mut State, entry: &Entry);
    /// What gives pause before it is written down: a caution is asked about and may be kept, a stop
    /// wants a reason, and some stops let nobody pass.
    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding>;
    /// Why the person goes on past a stop, where they said so.
    fn reason(&self) -> Option<&str>;
    /// What the person wrote about it in words of their own.
    fn note(&self) -> Option<&str> {
        None
    }
    /// What was done, in the past tense.
    fn said(&self) -> &'static str;
    /// With which numbers, in the household's units.
    fn detail(&self, scene: &Scene<'_>) -> String;
    /// The same act as a person would send it; drafted again it gives this very act. None for
    /// what follows from another act and is put right there.
    fn ask_again(&self, lot: LotId, scene: &Scene<'_>) -> Option<Ask>;
    /// The fields of that ask which a person may put right.
    fn form(&self, scene: &Scene<'_>) -> Vec<Field>;
}

/// What every ask answers.
pub trait Asked {
    /// Turns what was typed into acts; `instead` is the act it corrects, whose numbers, tags and
    /// unmentioned facts it keeps.
    ///
    /// # Errors
    /// What cannot be read, is not there, or is stopped.
    fn draft(&self, desk: &mut Desk<'_>, instead: Option<(LotId, &Act)>) -> Drafted;
}

macro_rules! acts {
    ($($variant:ident($fact:path) = $kind:literal, $words:literal;)+) => {
        /// One thing that was done or seen, as it is stored.
        #[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
        #[serde(tag = "act", rename_all = "snake_case")]
        pub enum Act {
            $(#[doc = $words] $variant($fact),)+
        }

        impl Act {
            /// What it answers.
            #[must_use]
            pub fn deed(&self) -> &dyn Deed {
                match self {
                    $(Self::$variant(fact) => fact,)+
                }
            }

            /// The stable word of its kind, as stored.
            #[must_use]
            pub const fn kind(&self) -> &'static str {
                match self {
                    $(Self::$variant(_) => $kind,)+
                }
            }

            /// Every kind there is.
            pub const KINDS: &'static [&'static str] = &[$($kind),+];
        }
    };
}

acts! {
    Received(received::Received) = "received", "Something came in.";
    PieceWeighed(piece_weighed::PieceWeighed) = "piece_weighed", "A piece was weighed out of its lot.";
    ByproductWeighed(byproduct_weighed::ByproductWeighed) = "byproduct_weighed", "Trim, fat, bone or skin was weighed.";
    ByproductGiven(byproduct_given::ByproductGiven) = "byproduct_given", "Trim or fat was given to another lot.";
    BreakdownClosed(breakdown_closed::BreakdownClosed) = "breakdown_closed", "Nothing more will be weighed out of the lot.";
    CuttingChosen(cutting_chosen::CuttingChosen) = "cutting_chosen", "A way of cutting was settled on.";
    FreezerRead(freezer_read::FreezerRead) = "freezer_read", "An inside temperature was read in the freezer.";
    HoldAnswered(hold_answered::HoldAnswered) = "hold_answered", "Something that holds the meat back was answered.";
    UnderWay(under_way::UnderWay) = "under_way", "A piece was entered that was on its way already.";
    Worked(worked::Worked) = "worked", "A piece was worked on and is still one.";
    Joined(joined::Joined) = "joined", "Pieces became one.";
    Ground(ground::Ground) = "ground", "Meat was ground or diced into one block.";
    Assigned(assigned::Assigned) = "assigned", "A piece was given a product.";
    Dosed(dosed::Dosed) = "dosed", "A piece was put into its cure.";
    Injected(injected::Injected) = "injected", "Brine was pumped into it, and it was weighed.";
    ToppedUp(topped_up::ToppedUp) = "topped_up", "Something was poured into the vessel it lies in.";
    Turned(turned::Turned) = "turned", "Turned, massaged or stirred.";
    Noted(noted::Noted) = "noted", "Something seen, felt or measured, in words.";
    Checked(checked::Checked) = "checked", "Something was looked at and graded.";
    OutOfCure(out_of_cure::OutOfCure) = "out_of_cure", "Out of the cure, rinsed and weighed.";
    Soaked(soaked::Soaked) = "soaked", "Soaked in water.";
    TimerSet(timer_set::TimerSet) = "timer_set", "A timer was set.";
    TimerAnswered(timer_answered::TimerAnswered) = "timer_answered", "A timer was answered.";
    Coated(coated::Coated) = "coated", "Something was put on it by weight.";
    StepDone(step_done::StepDone) = "step_done", "A step on its way was done.";
    Smoked(smoked::Smoked) = "smoked", "Smoked or cooked, and weighed.";
    Rested(rested::Rested) = "rested", "What the inside still came to while it rested.";
    Cooled(cooled::Cooled) = "cooled", "An inside temperature was read while it cooled.";
    PlaceRead(place_read::PlaceRead) = "place_read", "The temperature around it was read.";
    Hung(hung::Hung) = "hung", "Hung up.";
    Cased(cased::Cased) = "cased", "It was cased and netted.";
    Rehung(rehung::Rehung) = "rehung", "Hung in another place, or on another hook.";
    WeighedIn(weighed_in::WeighedIn) = "weighed_in", "Weighed on its hook.";
    TakenDown(taken_down::TakenDown) = "taken_down", "Taken down.";
    Stripped(stripped::Stripped) = "stripped", "What was around it was weighed when it was off.";
    EvenedOut(evened_out::EvenedOut) = "evened_out", "Laid in vacuum to even out.";
    Cut(cut::Cut) = "cut", "Cut into parts.";
    Packed(packed::Packed) = "packed", "Sliced and packed.";
    LabelPrinted(label_printed::LabelPrinted) = "label_printed", "Labels were printed.";
    PackMoved(pack_moved::PackMoved) = "pack_moved", "Packs were moved, or thawed.";
    Cleaned(cleaned::Cleaned) = "cleaned", "Grinder, board and knives were cleaned after it.";
    Discarded(discarded::Discarded) = "discarded", "Thrown away.";
    Undone(undone::Undone) = "undone", "The entry it replaces did not happen.";
}

macro_rules! asks {
    ($($variant:ident($ask:path), $words:literal;)+) => {
        /// Something that was done, with amounts as typed.
        #[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
        #[serde(tag = "act", rename_all = "snake_case")]
        #[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
        #[cfg_attr(feature = "openapi", schema(as = ActAsk))]
        pub enum Ask {
            $(#[doc = $words] $variant($ask),)+
        }

        impl Ask {
            /// Turns what was typed into acts; see [`Asked::draft`].
            ///
            /// # Errors
            /// What cannot be read, is not there, or is stopped.
            pub fn draft(&self, desk: &mut Desk<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
                match self {
                    $(Self::$variant(ask) => ask.draft(desk, instead),)+
                }
            }
        }
    };
}

asks! {
    Received(received::ReceivedAsk), "Something came in.";
    Purchased(purchased::PurchasedAsk), "Several came in under one name; the shipping is shared out by weight.";
    PieceWeighed(piece_weighed::PieceWeighedAsk), "A piece was weighed out of its lot.";
    ByproductWeighed(byproduct_weighed::ByproductWeighedAsk), "Trim, fat, bone or skin was weighed.";
    CuttingChosen(cutting_chosen::CuttingChosenAsk), "A way of cutting was settled on for the whole animal.";
    FreezerRead(freezer_read::FreezerReadAsk), "An inside temperature was read in the freezer.";
    HoldAnswered(hold_answered::HoldAnsweredAsk), "Something that holds the meat back was answered.";
    UnderWay(under_way::UnderWayAsk), "A piece is entered that is on its way already.";
    Worked(worked::WorkedAsk), "A piece was worked on and is still one.";
    Joined(joined::JoinedAsk), "Pieces of one lot became one.";
    Ground(ground::GroundAsk), "Meat was ground or diced into one block.";
    BreakdownClosed(breakdown_closed::BreakdownClosedAsk), "Nothing more will be weighed out.";
    Assigned(assigned::AssignedAsk), "A piece was given a product.";
    Dosed(dosed::DosedAsk), "Pieces of one product were put into their cure.";
    Injected(injected::InjectedAsk), "Brine was pumped in.";
    ToppedUp(topped_up::ToppedUpAsk), "Something is poured into a running vessel.";
    Turned(turned::TurnedAsk), "Turned, massaged or stirred.";
    Noted(noted::NotedAsk), "Something seen, felt or measured, in words.";
    Checked(checked::CheckedAsk), "Something was looked at and graded.";
    OutOfCure(out_of_cure::OutOfCureAsk), "Out of the cure.";
    Soaked(soaked::SoakedAsk), "Soaked in water.";
    TimerSet(timer_set::TimerSetAsk), "A timer is set, which rings on every open page.";
    TimerAnswered(timer_answered::TimerAnsweredAsk), "A timer is answered.";
    Coated(coated::CoatedAsk), "Something was put on it by weight.";
    StepDone(step_done::StepDoneAsk), "A step on its way was done.";
    Smoked(smoked::SmokedAsk), "Smoked or cooked.";
    Rested(rested::RestedAsk), "What the inside still came to while it rested.";
    Cooled(cooled::CooledAsk), "An inside temperature was read while it cooled.";
    PlaceRead(place_read::PlaceReadAsk), "The temperature around meat was read.";
    Hung(hung::HungAsk), "Hung up.";
    Cased(cased::CasedAsk), "It is cased and netted.";
    Rehung(rehung::RehungAsk), "Hung in another place, or on another hook.";
    WeighedIn(weighed_in::WeighedInAsk), "Weighed on its hook.";
    TakenDown(taken_down::TakenDownAsk), "Taken down.";
    Stripped(stripped::StrippedAsk), "Cloth, casing and net, or the meat alone, are weighed when it is stripped.";
    EvenedOut(evened_out::EvenedOutAsk), "Laid in vacuum to even out, for some weeks.";
    Cut(cut::CutAsk), "Cut into parts.";
    Packed(packed::PackedAsk), "Sliced and packed.";
    LabelPrinted(label_printed::LabelPrintedAsk), "Labels were printed.";
    PackMoved(pack_moved::PackMovedAsk), "Packs were moved, or thawed.";
    Cleaned(cleaned::CleanedAsk), "Grinder, board and knives were cleaned after a lot.";
    Discarded(discarded::DiscardedAsk), "A piece, or packs of it, are thrown away.";
}

impl Act {
    /// The pieces an act is about.
    #[must_use]
    pub fn pieces(&self) -> Vec<PieceId> {
        self.deed().family().about
    }

    /// The pieces an act brings into being, with their tags.
    #[must_use]
    pub fn makes(&self) -> Vec<(PieceId, &str)> {
        self.deed().family().makes
    }

    /// The packs an act brings into being, with their tags.
    #[must_use]
    pub fn packs(&self) -> Vec<(PackId, &str)> {
        self.deed().family().packs
    }

    /// What was done, in the past tense, for time lines.
    #[must_use]
    pub fn said(&self) -> &'static str {
        self.deed().said()
    }

    /// True for the undoing of another entry.
    #[must_use]
    pub const fn is_undoing(&self) -> bool {
        matches!(self, Self::Undone(_))
    }

    /// What the person wrote about it in words of their own: a note, or a reason.
    #[must_use]
    pub fn note(&self) -> Option<&str> {
        self.deed().note().or_else(|| self.deed().reason())
    }

    /// What it moves on a lot as it stands; refusals speak in `unit`.
    ///
    /// # Errors
    /// Names the field that makes the act impossible and what to type instead.
    pub fn post(&self, state: &State, units: Units) -> Posted {
        let postings = self.deed().post(state, units)?;
        debug_assert!(super::balances(&postings), "{self:?}");
        Ok(postings)
    }

    /// Makes room for what it brings into being.
    pub(super) fn begin(&self, state: &mut State, entry: &Entry) {
        self.deed().begin(state, entry);
    }

    /// Writes down what it means.
    pub(super) fn conclude(&self, state: &mut State, entry: &Entry) {
        self.deed().conclude(state, entry);
    }

    /// What gives pause before it is written down; empty when nothing does.
    #[must_use]
    pub fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        self.deed().doubts(gate)
    }
}

#[cfg(test)]
mod tests;
