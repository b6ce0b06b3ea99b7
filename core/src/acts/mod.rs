//! Acts as a person makes them: what is sent, how it is drafted into a fact, what is asked about first,
//! in which words it is told, and the form in which it is put right. One file each, beside its fact in the ledger.

pub(crate) mod allot;
pub mod assigned;
pub mod breakdown_closed;
pub mod byproduct_given;
pub mod byproduct_used;
pub mod byproduct_weighed;
pub mod cased;
pub mod checked;
pub mod cleaned;
pub mod coated;
pub(crate) mod context;
pub mod cooled;
pub mod cut;
pub mod cutting_chosen;
pub mod discarded;
pub mod dosed;
pub mod evened_out;
pub mod form;
pub mod freezer_read;
pub mod frozen;
pub mod ground;
pub mod hold_answered;
pub mod hung;
pub mod injected;
pub mod joined;
pub mod label_printed;
pub mod noted;
pub mod out_of_cure;
pub mod pack_left;
pub mod pack_moved;
pub mod packed;
pub mod piece_weighed;
pub mod place_read;
pub mod purchased;
pub mod received;
pub mod rehung;
mod render;
pub mod rested;
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
mod validator;
pub mod weigh_out;
pub mod weighed;
pub mod weighed_in;
pub mod worked;

use crate::caution::Finding;
use crate::form::Field;
use crate::ledger::LotId;
use crate::ledger::facts::{Act, for_each_act};
pub use context::{DraftContext, Drafted};
pub use render::RenderContext;
use serde::{Deserialize, Serialize};
pub use validator::{Pass, Validator};

/// What every fact answers above the ledger: what to ask about before it is stored, how it is told,
/// and how it is sent again when it is put right.
pub trait Review {
    /// What to ask about before it is stored: a caution may be kept, a block wants a reason, and some blocks let nobody pass.
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding>;
    /// With which numbers, in the household's units.
    fn detail(&self, render: &RenderContext<'_>) -> String;
    /// The same act as a person would send it; drafted again it gives this very act. None for
    /// what follows from another act and is put right there.
    fn ask_again(&self, lot: LotId, render: &RenderContext<'_>) -> Option<Ask>;
    /// The fields of that command which a person may put right.
    fn form(&self, render: &RenderContext<'_>) -> Vec<Field>;
}

/// The fact that a command takes the place of, where it is one of its own kind.
pub(crate) fn corrected<'a, F>(instead: Option<(LotId, &'a Act)>) -> Option<&'a F>
where
    &'a F: TryFrom<&'a Act>,
{
    instead.and_then(|(_, act)| act.of())
}

macro_rules! reviews {
    ($($variant:ident($module:ident::$fact:ident) = $kind:literal, $course:ident, $words:literal;)+) => {
        impl Act {
            /// What it answers above the ledger.
            #[must_use]
            pub fn review(&self) -> &dyn Review {
                match self {
                    $(Self::$variant(fact) => fact,)+
                }
            }
        }
    };
}

for_each_act!(reviews);

/// What every command answers.
pub trait Draft {
    /// Turns what was typed into acts; `instead` is the act it corrects, whose numbers, tags and
    /// unmentioned facts it keeps.
    ///
    /// # Errors
    /// What cannot be read, is not there, or is stopped.
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted;
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
            /// Turns what was typed into acts; see [`Draft::draft`].
            ///
            /// # Errors
            /// What cannot be read, is not there, or is stopped.
            pub fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
                match self {
                    $(Self::$variant(ask) => ask.draft(context, instead),)+
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
    ByproductUsed(byproduct_used::ByproductUsedAsk), "What was kept beside the pieces is used.";
    CuttingChosen(cutting_chosen::CuttingChosenAsk), "A way of cutting was settled on for the whole animal.";
    FreezerRead(freezer_read::FreezerReadAsk), "An inside temperature was read in the freezer.";
    HoldAnswered(hold_answered::HoldAnsweredAsk), "Something that holds the meat back was answered.";
    UnderWay(under_way::UnderWayAsk), "A piece is entered that is on its way already.";
    Worked(worked::WorkedAsk), "A piece was worked on and is still one.";
    Joined(joined::JoinedAsk), "Pieces of one lot became one.";
    Ground(ground::GroundAsk), "Meat was ground or diced into one block.";
    BreakdownClosed(breakdown_closed::BreakdownClosedAsk), "Nothing more will be weighed out.";
    Frozen(frozen::FrozenAsk), "A piece is laid in the freezer until later.";
    Thawed(frozen::ThawedAsk), "A piece is taken out of the freezer.";
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
    PackLeft(pack_left::PackLeftAsk), "Packs are eaten or given away.";
    PackTold(pack_left::PackToldAsk), "Whoever has packs is told.";
    Cleaned(cleaned::CleanedAsk), "Grinder, board and knives were cleaned after a lot.";
    Discarded(discarded::DiscardedAsk), "A piece, or packs of it, are thrown away.";
}

impl Act {
    /// What gives pause before it is written down; empty when nothing does.
    #[must_use]
    pub fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        self.review().warnings(validator)
    }
}

#[cfg(test)]
mod tests;
