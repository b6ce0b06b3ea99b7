//! Facts: what was done or seen, one file each, with what it is about, what it moves and what it
//! leaves behind. What is sent, asked about and told of a fact stands above, beside its command.
//!
//! A new act is a file here with its fact, a file with its command, and a line in each of the two lists.

pub mod assigned;
pub mod breakdown_closed;
pub mod byproduct_given;
pub mod byproduct_used;
pub mod byproduct_weighed;
pub mod cased;
pub mod checked;
pub mod cleaned;
pub mod coated;
pub mod cooled;
pub mod cut;
pub mod cutting_chosen;
pub mod discarded;
pub mod dosed;
pub mod evened_out;
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
pub mod received;
pub mod rehung;
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
pub mod weighed_in;
pub mod worked;

use crate::catalogue::SnapshotKey;
use crate::ids::{PackId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, not_frozen};
use crate::ledger::state::State;
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

/// What every fact answers. Only what does harm to nobody when it is forgotten has a default.
pub trait Fact {
    /// Its pieces and packs.
    fn family(&self) -> Family<'_>;
    /// What it depends on in the catalogue, to be kept with the household.
    fn depends_on(&self) -> Vec<SnapshotKey>;
    /// What it moves; the masses always sum to zero.
    ///
    /// # Errors
    /// Names the field that makes it impossible and what to type instead, in `units`.
    fn post(&self, state: &State, units: Units) -> Posted;
    /// Makes room for what it brings into being, before masses move. Most acts bring nothing; the books of one that forgets do not
    /// balance.
    fn begin(&self, _: &mut State, _: &Entry) {}
    /// Writes down what it means, after masses moved.
    fn conclude(&self, state: &mut State, entry: &Entry);
    /// Why the person goes on past a block, where one was typed. An act without one passes no block.
    fn reason(&self) -> Option<&str> {
        None
    }
    /// A note in the person's own words.
    fn note(&self) -> Option<&str> {
        None
    }
    /// What was done, in the past tense.
    fn label(&self) -> &'static str;
}

/// Whether an act goes on with a piece towards food: then it is asked about where nobody may eat the piece.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Course {
    /// It goes on with the piece.
    GoesOn,
    /// It notes, answers, begins or ends something, or asks by itself.
    Beside,
}

/// The list of all acts: variant, fact, stored word, course, meaning. Everything that has to know each of them is made from it.
macro_rules! for_each_act {
    ($then:ident) => {
        $then! {
            Received(received::Received) = "received", Beside, "Something came in.";
            PieceWeighed(piece_weighed::PieceWeighed) = "piece_weighed", Beside, "A piece was weighed out of its lot.";
            ByproductWeighed(byproduct_weighed::ByproductWeighed) = "byproduct_weighed", Beside, "Trim, fat, bone or skin was weighed.";
            ByproductGiven(byproduct_given::ByproductGiven) = "byproduct_given", Beside, "Trim or fat was given to another lot.";
            ByproductUsed(byproduct_used::ByproductUsed) = "byproduct_used", Beside, "What was kept was used, given or thrown away.";
            BreakdownClosed(breakdown_closed::BreakdownClosed) = "breakdown_closed", Beside, "Nothing more will be weighed out of the lot.";
            CuttingChosen(cutting_chosen::CuttingChosen) = "cutting_chosen", Beside, "A way of cutting was settled on.";
            FreezerRead(freezer_read::FreezerRead) = "freezer_read", Beside, "An inside temperature was read in the freezer.";
            HoldAnswered(hold_answered::HoldAnswered) = "hold_answered", Beside, "Something that holds the meat back was answered.";
            UnderWay(under_way::UnderWay) = "under_way", Beside, "A piece was entered that was on its way already.";
            Worked(worked::Worked) = "worked", GoesOn, "A piece was worked on and is still one.";
            Joined(joined::Joined) = "joined", Beside, "Pieces became one.";
            Ground(ground::Ground) = "ground", Beside, "Meat was ground or diced into one block.";
            Frozen(frozen::Frozen) = "frozen", Beside, "A piece was laid in the freezer.";
            Thawed(frozen::Thawed) = "thawed", Beside, "A piece was taken out of the freezer.";
            Assigned(assigned::Assigned) = "assigned", Beside, "A piece was given a product.";
            Dosed(dosed::Dosed) = "dosed", Beside, "A piece was put into its cure.";
            Injected(injected::Injected) = "injected", GoesOn, "Brine was pumped into it, and it was weighed.";
            ToppedUp(topped_up::ToppedUp) = "topped_up", GoesOn, "Something was poured into the vessel it lies in.";
            Turned(turned::Turned) = "turned", GoesOn, "Turned, massaged or stirred.";
            Noted(noted::Noted) = "noted", Beside, "Something seen, felt or measured, in words.";
            Checked(checked::Checked) = "checked", Beside, "Something was looked at and graded.";
            OutOfCure(out_of_cure::OutOfCure) = "out_of_cure", GoesOn, "Out of the cure, rinsed and weighed.";
            Soaked(soaked::Soaked) = "soaked", GoesOn, "Soaked in water.";
            TimerSet(timer_set::TimerSet) = "timer_set", Beside, "A timer was set.";
            TimerAnswered(timer_answered::TimerAnswered) = "timer_answered", Beside, "A timer was answered.";
            Coated(coated::Coated) = "coated", GoesOn, "Something was put on it by weight.";
            StepDone(step_done::StepDone) = "step_done", GoesOn, "A step on its way was done.";
            Smoked(smoked::Smoked) = "smoked", GoesOn, "Smoked or cooked, and weighed.";
            Rested(rested::Rested) = "rested", GoesOn, "What the inside still came to while it rested.";
            Cooled(cooled::Cooled) = "cooled", Beside, "An inside temperature was read while it cooled.";
            PlaceRead(place_read::PlaceRead) = "place_read", Beside, "The temperature around it was read.";
            Hung(hung::Hung) = "hung", GoesOn, "Hung up.";
            Cased(cased::Cased) = "cased", GoesOn, "It was cased and netted.";
            Rehung(rehung::Rehung) = "rehung", GoesOn, "Hung in another place, or on another hook.";
            WeighedIn(weighed_in::WeighedIn) = "weighed_in", GoesOn, "Weighed on its hook.";
            TakenDown(taken_down::TakenDown) = "taken_down", GoesOn, "Taken down.";
            Stripped(stripped::Stripped) = "stripped", GoesOn, "What was around it was weighed when it was off.";
            EvenedOut(evened_out::EvenedOut) = "evened_out", GoesOn, "Laid in vacuum to even out.";
            Cut(cut::Cut) = "cut", GoesOn, "Cut into parts.";
            Packed(packed::Packed) = "packed", Beside, "Sliced and packed.";
            LabelPrinted(label_printed::LabelPrinted) = "label_printed", Beside, "Labels were printed.";
            PackMoved(pack_moved::PackMoved) = "pack_moved", Beside, "Packs were moved, or thawed.";
            PackLeft(pack_left::PackLeft) = "pack_left", Beside, "Packs were eaten or given away.";
            PackTold(pack_left::PackTold) = "pack_told", Beside, "Whoever has packs was told.";
            Cleaned(cleaned::Cleaned) = "cleaned", Beside, "Grinder, board and knives were cleaned after it.";
            Discarded(discarded::Discarded) = "discarded", Beside, "Thrown away.";
            Undone(undone::Undone) = "undone", Beside, "The entry it replaces did not happen.";
        }
    };
}
pub(crate) use for_each_act;

macro_rules! acts {
    ($($variant:ident($module:ident::$fact:ident) = $kind:literal, $course:ident, $words:literal;)+) => {
        /// One thing that was done or seen, as it is stored.
        #[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
        #[serde(tag = "act", rename_all = "snake_case")]
        pub enum Act {
            $(#[doc = $words] $variant($module::$fact),)+
        }

        impl Act {
            /// What it answers.
            #[must_use]
            pub fn fact(&self) -> &dyn Fact {
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

            /// Whether it goes on with a piece towards food.
            #[must_use]
            pub const fn course(&self) -> Course {
                match self {
                    $(Self::$variant(_) => Course::$course,)+
                }
            }

            /// The fact that it holds, where it is one of that kind.
            #[must_use]
            pub fn of<'a, F>(&'a self) -> Option<&'a F>
            where
                &'a F: TryFrom<&'a Self>,
            {
                <&F>::try_from(self).ok()
            }

            /// Every kind there is.
            pub const KINDS: &'static [&'static str] = &[$($kind),+];
        }

        $(
            impl<'a> TryFrom<&'a Act> for &'a $module::$fact {
                type Error = &'static str;

                fn try_from(act: &'a Act) -> Result<Self, Self::Error> {
                    if let Act::$variant(fact) = act {
                        Ok(fact)
                    } else {
                        Err(act.kind())
                    }
                }
            }
        )+
    };
}

for_each_act!(acts);

impl Act {
    /// The pieces an act is about.
    #[must_use]
    pub fn pieces(&self) -> Vec<PieceId> {
        self.fact().family().about
    }

    /// The pieces an act brings into being, with their tags.
    #[must_use]
    pub fn makes(&self) -> Vec<(PieceId, &str)> {
        self.fact().family().makes
    }

    /// The packs an act brings into being, with their tags.
    #[must_use]
    pub fn packs(&self) -> Vec<(PackId, &str)> {
        self.fact().family().packs
    }

    /// What was done, in the past tense, for time lines.
    #[must_use]
    pub fn label(&self) -> &'static str {
        self.fact().label()
    }

    /// True for the undoing of another entry.
    #[must_use]
    pub const fn is_undoing(&self) -> bool {
        matches!(self, Self::Undone(_))
    }

    /// What the person wrote about it in words of their own: a note, or a reason.
    #[must_use]
    pub fn note(&self) -> Option<&str> {
        self.fact().note().or_else(|| self.fact().reason())
    }

    /// What it moves on a lot as it stands; refusals speak in `unit`.
    ///
    /// # Errors
    /// Names the field that makes the act impossible and what to type instead.
    pub fn post(&self, state: &State, units: Units) -> Posted {
        if !self.is_done_frozen() {
            let family = self.fact().family();
            let all = family.about.iter().chain(&family.joins);
            for piece in all.filter_map(|id| state.pieces.get(id)) {
                not_frozen(piece)?;
            }
        }
        let postings = self.fact().post(state, units)?;
        debug_assert!(crate::ledger::balances(&postings), "{self:?}");
        Ok(postings)
    }

    /// True for what can be done with a piece that lies in the freezer: it is looked at, planned for, taken out, thrown away.
    /// Everything else wants it thawed first.
    const fn is_done_frozen(&self) -> bool {
        matches!(
            self,
            Self::Thawed(_)
                | Self::Assigned(_)
                | Self::Noted(_)
                | Self::Checked(_)
                | Self::FreezerRead(_)
                | Self::PlaceRead(_)
                | Self::HoldAnswered(_)
                | Self::TimerAnswered(_)
                | Self::LabelPrinted(_)
                | Self::PackMoved(_)
                | Self::PackLeft(_)
                | Self::PackTold(_)
                | Self::Cleaned(_)
                | Self::Discarded(_)
                | Self::Undone(_)
        )
    }

    /// Makes room for what it brings into being.
    pub(crate) fn begin(&self, state: &mut State, entry: &Entry) {
        self.fact().begin(state, entry);
    }

    /// Writes down what it means.
    pub(crate) fn conclude(&self, state: &mut State, entry: &Entry) {
        self.fact().conclude(state, entry);
    }
}
