//! One vocabulary for everything that should give pause.
//!
//! A rule answers with findings beside its numbers. A finding names the hazard, the number it
//! saw, the number it wants and the way out. What cannot be worked out at all is not a finding
//! but a [`FieldError`].

use crate::units::bounds::Measure;
use serde::{Deserialize, Serialize};

mod questions;
pub use questions::Questions;

/// How loudly a finding speaks.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Severity {
    /// Worth knowing.
    Info,
    /// Think before going on.
    Caution,
    /// Not without a typed reason, and some not at all.
    Stop,
}

/// The stable word for a kind of finding; programs match on these.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Code {
    /// Nitrite passes the class limit.
    NitriteOverLimit,
    /// Nitrate passes the class limit.
    NitrateOverLimit,
    /// Nitrate in something that will be fried.
    NitrateInFried,
    /// Nitrate where nothing hangs for weeks.
    NitrateNotNeeded,
    /// Nitrite over the household's own cap.
    OverHomeCap,
    /// More nitrite than this program will ever accept.
    NitriteRefused,
    /// Nitrite under what protects slow-smoked or dried meat.
    NitriteBelowFloor,
    /// So little nitrite that it only colours.
    ColourOnly,
    /// A product cured without nitrite.
    NoNitrite,
    /// The scale shows zero for the cure.
    ScaleCannotWeigh,
    /// The scale is so coarse that the dose is uncertain by more than 15 %.
    BandTooWide,
    /// Thicker than the inch rules hold for.
    TooThickForRule,
    /// The cure nearly stands still.
    TooCold,
    /// Warm enough for spoilage to outrun the cure.
    TooWarm,
    /// A thermometer beside meat of which nothing was taken for an hour.
    ThermometerSilent,
    /// Heavier than when it was hung.
    Gained,
    /// Under the wanted weight already.
    PastTarget,
    /// Pieces of one vessel differ in thickness by more than a third.
    UnevenThickness,
    /// A piece without a thickness has no curing time.
    ThicknessMissing,
    /// More left over than cutting explains.
    Unaccounted,
    /// A number that looks ten times off, or in another unit.
    LooksMistyped,
    /// What the species asks of everybody who handles it.
    SpeciesCaution,
    /// The product needs a drying place.
    NeedsDryingPlace,
    /// The inside has not reached what this meat needs.
    UnderSafeHeat,
    /// Eaten only after cooking.
    CookBeforeEating,
    /// Something that holds the meat back has not come to its end.
    OpenHold,
    /// The result of a test is waited for.
    TestPending,
    /// A tool the product cannot be made without is not in the house.
    ToolMissing,
    /// Heavier than any scale of the house can weigh.
    OverScale,
    /// More than a tub, bag or pan of the house holds.
    VesselTooSmall,
    /// More pieces than came in.
    TooManyPieces,
    /// Less in stock than is needed.
    StockShort,
    /// Measured by the spoon, which weighs differently in every hand.
    BySpoon,
    /// A suitability of zero: this cut does not make this product.
    Unsuitable,
    /// Something was ground in of which nobody said which animal it is.
    MeatUnknown,
    /// So little salt that it neither cures nor keeps.
    SaltLow,
    /// So much salt that nobody will eat it.
    SaltHigh,
    /// A curing salt stands among the spices.
    CureAsSpice,
    /// A name that may be that of a curing salt.
    MayBeCure,
    /// A place that is not cold, for what was not measured to keep there.
    NotColdStorage,
    /// A maker's line that says another thing than the verdict.
    LineContradicts,
    /// Ticked before it can be true.
    TooSoon,
    /// A log with a hole in it, or one that may be in another unit.
    OddLog,
    /// Packs of a piece that is thrown away.
    PacksToo,
    /// An amount that its method does not take.
    OddAmount,
    /// Fewer days or hours, or many more, than any rule asks for.
    OddTime,
    /// Out of its cure before its days are over.
    LeftCureEarly,
    /// Hung, sealed or smoked cold without nitrite.
    NoNitriteHazard,
    /// A loss that leaves raw meat, or leather.
    LossTarget,
    /// Nothing was typed for what hangs there beside the meat.
    TareMissing,
    /// Taken down before it has lost enough.
    LostTooLittle,
    /// It lost more, or sooner, than it can.
    LosesTooFast,
    /// The inside is warmer than its chamber.
    WarmerThanChamber,
    /// The inside warmed faster than meat of its thickness can.
    HeatsTooFast,
    /// The inside cooled faster than meat of its thickness can.
    CoolsTooFast,
    /// A probe that does not move, or is far off.
    ProbeWrong,
    /// One number for several pieces, of which nobody said that each was read.
    NotEachRead,
    /// A temperature whose unit may be another one.
    UnitUnclear,
    /// No inside temperature was read.
    HeatNotRecorded,
    /// It cooled too slowly.
    CooledTooSlowly,
    /// An act on meat that nobody may eat.
    NotEaten,
    /// No day can be told for what hangs, no minute for what heats.
    NoForecast,
    /// Too little was read to tell anything.
    TooFewReadings,
    /// The chamber is not warmer than what the inside is to reach.
    ChamberBelowTarget,
    /// This stage does not bring it there; one that comes does.
    HotterLater,
    /// It loses more a day than the middle can give: the rind hardens.
    HardRind,
    /// A sausage that is not sour when it should be.
    NotSour,
    /// A drying place is too warm.
    AirTooWarm,
    /// A drying place is so cold that hardly anything dries.
    AirTooCold,
    /// A drying place is too dry: rinds harden.
    AirTooDry,
    /// A drying place is too damp: slime.
    AirTooDamp,
    /// Within what the household calls close enough to the target.
    CloseEnough,
    /// It is dry enough and may hang on.
    MayHangOn,
    /// Nobody knows how much it lost.
    LossUnknown,
    /// It drips in its first days.
    DripTray,
    /// What hangs beside it has mould that has to be out.
    MouldBeside,
    /// What was cooked hangs beside raw meat.
    RawBeside,
    /// Hanging in a room or outdoors, which nothing keeps cool.
    RoomDrying,
    /// An open piece in a fridge: its rind dries first.
    OpenInFridge,
    /// Mould that has to be out of the chamber.
    BadMould,
    /// A casing or net that does not sit on its piece.
    CasingFit,
    /// A casing that leaked.
    CasingLeaks,
    /// The inside stands still though its chamber is hot.
    Stall,
    /// The chamber is far from its setting.
    ChamberOff,
    /// Nobody said that its surface is dry.
    WetSurface,
    /// More than the smoker takes.
    OverLoad,
    /// The lid does not shut.
    LidOpen,
    /// It gives off carbon monoxide.
    OutdoorsOnly,
    /// Pieces lie in a run that is to be over.
    StillAboard,
    /// A rest after which the inside is colder, or far warmer.
    CarryOverUnusual,
    /// More was typed than its probe ever read.
    UnlikeItsProbe,
    /// It lay in the warm hours for too long.
    WarmUpTooLong,
    /// Cure bought to be used by its label, and another beside it.
    TwoCures,
    /// How much brine goes in was not known, or said so low that it cannot be all.
    PickupAssumed,
    /// More or less pumped in than anybody means.
    PumpUnusual,
    /// A time that the clock showed twice that night.
    HourCameTwice,
    /// More of what speeds the cure up than is allowed.
    AcceleratorOverCap,
    /// A blend that speeds the cure up, of which nobody said how much is in it.
    AcceleratorPurity,
    /// Pumped bacon without what speeds its cure up.
    AcceleratorMissing,
    /// What speeds the cure up lies dry beside nitrite.
    AcceleratorWithNitrite,
    /// It grows saltier with every day, or hour, that it waits.
    Deadline,
    /// Longer in its brine or its salt than was planned.
    LeftCureLate,
    /// On the day out the middle has much less than the mean.
    MiddleLags,
    /// Brine was to be pumped in, and nobody weighed how much did.
    PumpNotWeighed,
    /// Sites of an injection farther apart than brine walks.
    SitesTooFar,
    /// A vessel that salt and cure eat.
    ReactiveVessel,
    /// A vessel without a lid.
    NoLid,
    /// Pieces lie on each other.
    LieOnEachOther,
    /// Brine that was not cold when the meat went in.
    BrineNotCold,
    /// Salt lies at the bottom of a brine.
    BrineNotClear,
    /// Something floats.
    Floats,
    /// Shared out by eye, not by weight.
    PouredByEye,
    /// How much salt a box gives cannot be promised.
    SaltNotPromised,
    /// Less salt than buries the meat.
    NotBuried,
    /// A scale that was off when it was checked.
    ScaleOff,
    /// A piece that lost so little in its salt box that its salt is not proved.
    BoxLostLittle,
    /// Raw meat that was kept for many days before it was dosed.
    KeptRaw,
    /// A casing that soaked in one water.
    CasingWater,
    /// More taken than the pantry holds.
    MoreThanKept,
    /// Nobody said which part of a piece that was split keeps its fat side.
    FatSide,
    /// Fresh garlic or herbs, or either in oil, on what is dried to be eaten raw.
    FreshInRaw,
    /// What was bound has not rested long enough for its bond.
    BinderRest,
    /// It waits far longer than it may.
    LongPast,
    /// A piece much thinner than those it is cured with.
    ThinFlap,
    /// Salt with iodine, or something against caking, in it; or salt that nobody looked at.
    SaltNotPlain,
    /// A roll of which nobody measured how thick it is now.
    RollUnmeasured,
    /// A roll that is sliced before it was cold.
    SlicedWarm,
    /// Skin of an old male, which takes a strong smell and is thick.
    OldSkin,
    /// A ground block far fatter or leaner than its product is.
    FatFar,
    /// A piece that is to be dosed as ground meat and was not ground.
    NotGround,
    /// Saltpetre: pure nitrate, which cures nobody knows how far.
    PotassiumNitrate,
    /// Nitrite that nothing dilutes.
    PureNitrite,
    /// A curing salt by the pinch, or by no amount at all.
    CureNotWeighed,
}

impl Code {
    /// True for a stop that no reason lifts.
    #[must_use]
    pub const fn is_final(self) -> bool {
        matches!(
            self,
            Self::NitriteRefused
                | Self::ScaleCannotWeigh
                | Self::ThicknessMissing
                | Self::CureAsSpice
                | Self::NotEaten
                | Self::TwoCures
        )
    }
}

/// One thing to know, with its numbers and its way out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Finding {
    /// The stable word.
    pub code: Code,
    /// How loudly.
    pub severity: Severity,
    /// The hazard in a plain sentence.
    pub message: String,
    /// The number found, with its unit.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub saw: Option<String>,
    /// The number wanted, with its unit.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub wants: Option<String>,
    /// What to do about it.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[serde(rename = "way_out")]
    pub remedy: Option<String>,
}

impl Finding {
    /// Whether another asks the same, be it of another piece with another number.
    #[must_use]
    pub fn is_same_question(&self, other: &Self) -> bool {
        (self.code, self.severity, &self.message) == (other.code, other.severity, &other.message)
    }

    /// A finding with a message alone; add numbers with the methods below.
    #[must_use]
    pub fn new(code: Code, severity: Severity, message: impl Into<String>) -> Self {
        Self {
            code,
            severity,
            message: message.into(),
            saw: None,
            wants: None,
            remedy: None,
        }
    }

    /// The number found.
    #[must_use]
    pub fn saw(mut self, saw: impl Into<String>) -> Self {
        self.saw = Some(saw.into());
        self
    }

    /// The number wanted.
    #[must_use]
    pub fn wants(mut self, wants: impl Into<String>) -> Self {
        self.wants = Some(wants.into());
        self
    }

    /// What to do about it.
    #[must_use]
    pub fn remedy(mut self, remedy: impl Into<String>) -> Self {
        self.remedy = Some(remedy.into());
        self
    }
}

/// One field that cannot be right, and what to type instead.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
#[error("{field}: {message}")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FieldError {
    /// The field's name, as in the request.
    pub field: String,
    /// What is wrong and what to type.
    pub message: String,
    /// A stable word where programs may want to match.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub code: Option<String>,
}

impl FieldError {
    /// An error at `field`.
    #[must_use]
    pub fn new(field: impl Into<String>, message: impl Into<String>) -> Self {
        Self {
            field: field.into(),
            message: message.into(),
            code: None,
        }
    }

    /// The same inside another field.
    #[must_use]
    pub fn under(self, place: &str) -> Self {
        Self {
            field: format!("{place}.{}", self.field),
            ..self
        }
    }

    /// The same with a stable word.
    #[must_use]
    pub fn code(mut self, code: &str) -> Self {
        self.code = Some(code.into());
        self
    }
}

/// Gathers every field error of a request, so that a person sees them all at once.
#[derive(Default)]
pub(crate) struct Checks(Vec<FieldError>);

impl Checks {
    pub(crate) fn that(&mut self, fine: bool, field: &str, message: &str) {
        if !fine {
            self.0.push(FieldError::new(field, message));
        }
    }

    pub(crate) fn push(&mut self, error: FieldError) {
        self.0.push(error);
    }

    /// Keeps what went wrong, so that it is said together with the rest.
    pub(crate) fn fine<T>(&mut self, got: &Result<T, FieldError>) {
        self.0.extend(got.as_ref().err().cloned());
    }

    /// A number above zero and within its bounds.
    pub(crate) fn above_zero(&mut self, measure: Measure, value: f64, field: &str, example: &str) {
        if value.is_finite() && value > 0.0 {
            self.within(measure, value, field, example);
        } else {
            self.that(
                false,
                field,
                &format!("Give a number above zero, such as {example}."),
            );
        }
    }

    /// A number not below zero and within its bounds.
    pub(crate) fn zero_or_more(
        &mut self,
        measure: Measure,
        value: f64,
        field: &str,
        example: &str,
    ) {
        if value.is_finite() && value >= 0.0 {
            self.within(measure, value, field, example);
        } else {
            self.that(
                false,
                field,
                &format!("Give a number of zero or more, such as {example}."),
            );
        }
    }

    /// A number within its bounds.
    pub(crate) fn within(&mut self, measure: Measure, value: f64, field: &str, example: &str) {
        if !measure.holds(value) {
            let bound = if value > measure.bounds().most {
                format!("at most {}", measure.most())
            } else {
                format!("at least {}", measure.least())
            };
            self.that(false, field, &format!("Give {bound}, such as {example}."));
        }
    }

    pub(crate) fn done(self) -> Result<(), Vec<FieldError>> {
        if self.0.is_empty() {
            Ok(())
        } else {
            Err(self.0)
        }
    }
}
