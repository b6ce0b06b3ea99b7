//! Steps: the kinds there are, what each asks for and when it falls due.
//!
//! A build lists its steps in order. A piece is at its first step that is not done; steps that
//! may be left out are passed over by doing a later one. Everything that is special about a kind
//! stands in one row of [`StepKind::traits`].

use super::rules::Form;
use serde::{Deserialize, Serialize};

/// A kind of step.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum StepKind {
    /// Made ready for the cure: split, diced, mixed.
    Prepare,
    /// The cure is weighed out and put on.
    Dose,
    /// It lies in its cure until it is taken out and weighed.
    Cure,
    /// Rinsed, brushed or wiped.
    Rinse,
    /// Soaked in water.
    Soak,
    /// A slice is fried and tasted.
    TestSlice,
    /// Its surface dries until it is tacky.
    DrySurface,
    /// Rolled in meal, rubbed with pepper, larded.
    Coat,
    /// Rolled, tied or bound.
    Roll,
    /// Cased, netted, pricked.
    Case,
    /// Smoked cold.
    ColdSmoke,
    /// Smoked hot.
    Smoke,
    /// Cooked, steamed or boiled.
    Cook,
    /// Rests.
    Rest,
    /// Ferments.
    Ferment,
    /// Hangs until it has lost enough.
    Hang,
    /// Evens out under vacuum.
    EvenOut,
    /// Cools and firms up.
    FirmUp,
    /// The bone is taken out of the finished piece.
    BoneOut,
    /// Sliced and packed.
    Pack,
}

/// The place on the way where a step is entered.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum StepStation {
    /// Where doses are weighed out and pieces lie in their cure.
    Cure,
    /// Smoker and stove.
    Smoke,
    /// Hooks and racks.
    Hang,
    /// The packing table.
    Pack,
}

/// What writes a step down as done.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum DoneBy {
    /// The dose that is weighed out.
    Dosed,
    /// The weighing out of the cure.
    OutOfCure,
    /// The weighing after the heat.
    Smoked,
    /// Hanging up, weighing in, taking down.
    Hung,
    /// The packs.
    Packed,
    /// The coat's weight.
    Coated,
    /// The minutes in the water.
    Soaked,
    /// A check that goes with it; it may also be ticked.
    Checked,
    /// The bone's weight.
    Worked,
    /// A tick.
    Tick,
}

/// Hours after which a step may be done, should be, and must be.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Window {
    /// Not before (h).
    #[serde(default)]
    pub earliest_h: f64,
    /// Planned (h).
    pub due_h: f64,
    /// Not after (h).
    pub latest_h: f64,
}

/// Where one stands to do something.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum TripPlace {
    /// At the fridge, and wherever else pieces lie cold.
    Fridge,
    /// At the hooks.
    Chamber,
    /// At the smoker or stove.
    Smoker,
    /// At the table.
    Table,
}

impl TripPlace {
    /// In the order in which one walks.
    pub const ALL: [Self; 4] = [Self::Fridge, Self::Chamber, Self::Smoker, Self::Table];
}

/// Of which pieces a step without a station becomes a task.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Wanted {
    /// Of none: it is done with what comes before or after it.
    Never,
    /// Of every piece on whose way it stands.
    Always,
    /// Of every piece, but nothing waits for it: what comes after it is a task as well.
    IfLiked,
    /// Of a piece with its bone in.
    BoneIn,
    /// Of a piece of which no slice was tasted since it came out of its cure.
    Untasted,
    /// Of a piece whose salt went by time, not by weight, and that lay in no water yet.
    SaltByTime,
}

/// The timer that goes with a step.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum StepTimer {
    /// None.
    None,
    /// The water's, usually so long (min).
    Soak(u32),
    /// That of a rest, usually as long as the step's window says.
    Rest,
    /// That of a rest, as long as somebody says.
    RestAsSaid,
}

/// What is special about a kind of step.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct StepTraits {
    /// As it is called on a button or in a list.
    pub said: &'static str,
    /// Where it is entered; none for what is done on the way to the next step that has a place.
    pub station: Option<StepStation>,
    /// Where one stands to do it.
    pub place: TripPlace,
    /// What writes it down.
    pub done_by: DoneBy,
    /// True when a later step may be done without it, unless its build says otherwise.
    pub may_be_left_out: bool,
    /// When it falls due after the step before it, unless its build says otherwise.
    pub window: Window,
    /// Of which pieces it is a task, where it has no station.
    pub wanted: Wanted,
    /// The timer that goes with it.
    pub timer: StepTimer,
    /// True where nothing is done with the hands: the next step says as well that it is over.
    pub only_waits: bool,
}

const fn window(earliest_h: f64, due_h: f64, latest_h: f64) -> Window {
    Window {
        earliest_h,
        due_h,
        latest_h,
    }
}

/// On the way, at the table, whenever it suits.
const fn by_hand(said: &'static str, done_by: DoneBy, wanted: Wanted) -> StepTraits {
    StepTraits {
        said,
        station: None,
        place: TripPlace::Table,
        done_by,
        may_be_left_out: true,
        window: window(0.0, 0.0, 24.0),
        wanted,
        timer: StepTimer::None,
        only_waits: false,
    }
}

const fn at(
    (station, place): (StepStation, TripPlace),
    said: &'static str,
    done_by: DoneBy,
    window: Window,
) -> StepTraits {
    StepTraits {
        station: Some(station),
        place,
        may_be_left_out: false,
        window,
        ..by_hand(said, done_by, Wanted::Never)
    }
}

const fn smoked(said: &'static str, latest_h: f64) -> StepTraits {
    let place = (StepStation::Smoke, TripPlace::Smoker);
    at(place, said, DoneBy::Smoked, window(0.0, 24.0, latest_h))
}

impl StepTraits {
    const fn in_the(self, place: TripPlace) -> Self {
        Self { place, ..self }
    }

    const fn with(self, timer: StepTimer) -> Self {
        Self { timer, ..self }
    }

    const fn waiting(self) -> Self {
        Self {
            only_waits: true,
            ..self
        }
    }
}

impl StepKind {
    /// True for what two people do better than one: rolling and tying, casing and netting.
    #[must_use]
    pub const fn wants_two(self) -> bool {
        matches!(self, Self::Roll | Self::Case)
    }
}

impl StepKind {
    /// Every kind, in the usual order of the work.
    pub const ALL: [Self; 20] = [
        Self::Prepare,
        Self::Dose,
        Self::Cure,
        Self::Rinse,
        Self::Soak,
        Self::TestSlice,
        Self::DrySurface,
        Self::Coat,
        Self::Roll,
        Self::Case,
        Self::ColdSmoke,
        Self::Smoke,
        Self::Cook,
        Self::Rest,
        Self::Ferment,
        Self::Hang,
        Self::EvenOut,
        Self::FirmUp,
        Self::BoneOut,
        Self::Pack,
    ];

    /// What is special about it.
    #[must_use]
    pub const fn traits(self) -> StepTraits {
        use StepStation as At;
        use StepTimer::{Rest, RestAsSaid, Soak};
        use TripPlace::{Chamber, Fridge, Table};
        use Wanted::{Always, BoneIn, IfLiked, Never, SaltByTime, Untasted};
        match self {
            Self::Prepare => by_hand("made ready", DoneBy::Tick, Never),
            Self::Dose => at(
                (At::Cure, Table),
                "cure weighed out",
                DoneBy::Dosed,
                window(0.0, 0.0, 72.0),
            ),
            // Its days come from the schools; this is only its slack.
            Self::Cure => at(
                (At::Cure, Fridge),
                "out of the cure",
                DoneBy::OutOfCure,
                window(0.0, 0.0, 336.0),
            ),
            Self::Rinse => by_hand("rinsed", DoneBy::Tick, Never),
            Self::Soak => by_hand("soaked", DoneBy::Soaked, SaltByTime).with(Soak(40)),
            Self::TestSlice => by_hand("test slice", DoneBy::Checked, Untasted),
            Self::DrySurface => by_hand("surface dried", DoneBy::Checked, Always)
                .in_the(Fridge)
                .with(Rest),
            Self::Coat => by_hand("coated", DoneBy::Coated, IfLiked),
            Self::Roll => by_hand("rolled and tied", DoneBy::Tick, Always).with(RestAsSaid),
            Self::Case => by_hand("cased or netted", DoneBy::Tick, Always),
            Self::ColdSmoke => smoked("cold smoke", 72.0),
            Self::Smoke => smoked("hot smoke", 72.0),
            Self::Cook => smoked("cooked", 168.0),
            Self::Rest => by_hand("rested", DoneBy::Tick, Always)
                .in_the(Fridge)
                .with(Rest)
                .waiting(),
            Self::Ferment => by_hand("fermented", DoneBy::Tick, Always).in_the(Chamber),
            Self::Hang => at(
                (At::Hang, Chamber),
                "hung",
                DoneBy::Hung,
                window(0.0, 24.0, 72.0),
            ),
            Self::EvenOut => by_hand("evened out", DoneBy::Tick, Always)
                .in_the(Fridge)
                .waiting(),
            Self::FirmUp => by_hand("cooled and firm", DoneBy::Tick, Always)
                .in_the(Fridge)
                .with(Rest)
                .waiting(),
            Self::BoneOut => by_hand("bone taken out", DoneBy::Worked, BoneIn),
            Self::Pack => at(
                (At::Pack, Table),
                "packed",
                DoneBy::Packed,
                window(0.0, 24.0, 96.0),
            ),
        }
    }

    /// True for heat that an inside is brought up by: no cold smoke.
    #[must_use]
    pub const fn does_heat(self) -> bool {
        matches!(self, Self::Smoke | Self::Cook)
    }

    /// True for a step that is written down by a weighing after heat or smoke.
    #[must_use]
    pub const fn is_heat(self) -> bool {
        matches!(self.traits().done_by, DoneBy::Smoked)
    }
}

/// One step of a build.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Step {
    /// Names it within its build; its kind's word when left out.
    #[serde(default)]
    pub id: String,
    /// Its kind.
    pub kind: StepKind,
    /// The trade's verb.
    pub verb: String,
    /// What to do.
    #[serde(default)]
    pub words: String,
    /// What to look at before going on.
    #[serde(default)]
    pub check: Option<String>,
    /// Checks that may be written down with it, by their words.
    #[serde(default)]
    pub asks: Vec<String>,
    /// True when a later step may be done without it; its kind's answer when left out.
    #[serde(default)]
    pub optional: Option<bool>,
    /// The step its window is counted from, by its name; the step before it when left out.
    #[serde(default)]
    pub from: Option<String>,
    /// When it falls due; its kind's window when left out.
    #[serde(default)]
    pub window: Option<Window>,
}

impl Step {
    /// True when a later step may be done without it.
    #[must_use]
    pub fn may_be_left_out(&self) -> bool {
        self.optional.unwrap_or(self.kind.traits().may_be_left_out)
    }

    /// When it falls due after what it is counted from.
    #[must_use]
    pub fn window(&self) -> Window {
        self.window.unwrap_or(self.kind.traits().window)
    }

    /// A step of which nothing is said but its kind.
    #[must_use]
    pub fn bare(kind: StepKind) -> Self {
        Self {
            id: crate::ids::word(&kind),
            kind,
            verb: kind.traits().said.into(),
            words: String::new(),
            check: None,
            asks: Vec::new(),
            optional: None,
            from: None,
            window: None,
        }
    }
}

/// A check that can be written down, with the grades it can get.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Check {
    /// The stable word.
    pub key: String,
    /// As it is called.
    pub name: String,
    /// What to do and look at.
    pub words: String,
    /// The grades it can get, the best first; empty when it is only a value.
    #[serde(default)]
    pub grades: Vec<Grade>,
    /// What kind of number it can hold, if any.
    #[serde(default)]
    pub value: Option<CheckValue>,
    /// The grade that writes a step down as done, where one does: a tacky surface.
    #[serde(default)]
    pub done_at: Option<String>,
    /// The kinds of steps at which it is offered, whether or not a product asks for it.
    #[serde(default)]
    pub at: Vec<StepKind>,
    /// The form of meat it is offered for; none for every one.
    #[serde(default)]
    pub form: Option<Form>,
    /// True where it is offered only for a piece with its bone.
    #[serde(default)]
    pub bone_in: bool,
    /// True for what is said of a place, once for all that lies or hangs there.
    #[serde(default)]
    pub of_place: bool,
}

impl Check {
    /// True where it is offered at a step of a product that does not ask for it itself.
    #[must_use]
    pub fn is_offered(&self, step: &Step, form: Form, bone_in: bool) -> bool {
        self.at.contains(&step.kind)
            && (bone_in || !self.bone_in)
            && self.form.is_none_or(|f| f == form)
            && !step.asks.contains(&self.key)
    }
}

/// One grade of a check.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Grade {
    /// The stable word; `discard` wherever the piece is to be thrown away.
    pub key: String,
    /// As it is said.
    pub name: String,
    /// What it leads to.
    #[serde(default)]
    pub leads_to: String,
    /// What the label of such a piece says.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub label: Option<String>,
}

/// The grade that says: throw it away.
pub const DISCARD: &str = "discard";

/// What kind of number a check can hold.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum CheckValue {
    /// Acidity.
    Ph,
    /// Water activity, by an instrument.
    WaterActivity,
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_has_a_place_is_not_left_out_and_every_kind_has_words() {
        for kind in StepKind::ALL {
            let traits = kind.traits();
            assert_eq!(
                traits.station.is_none(),
                traits.may_be_left_out,
                "{kind:?}: what nobody enters must not hold a piece up"
            );
            assert!(
                traits.station.is_none() || traits.wanted == Wanted::Never,
                "{kind:?}: what has a station is a task by it"
            );
            assert!(!traits.said.is_empty(), "{kind:?}");
            let w = traits.window;
            assert!(w.earliest_h <= w.due_h && w.due_h <= w.latest_h, "{kind:?}");
        }
    }
}
