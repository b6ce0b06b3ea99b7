//! The shapes of what a person sends when something was done; amounts as typed.

use jiff::civil::Date;
use manifest_core::animal::hold::{HoldAnswer, HoldKind};
use manifest_core::animal::{KnownWeight, Portion};
use manifest_core::cure::sheet::OwnDose;
use manifest_core::ledger::{
    AgeClass, Byproduct, CutWay, JoinWay, LotId, Origin, PieceId, PricePer, Sex, Work,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A part of a cut piece, as typed.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PartAsk {
    /// Its weight, as typed: `1 lb 3 oz`.
    pub reading: String,
    /// Its greatest thickness, as typed: `45 mm`.
    #[serde(default)]
    pub thickness: Option<String>,
    /// What it is now, when a muscle came out of a larger cut.
    #[serde(default)]
    pub cut: Option<String>,
}

/// What came off a piece, as typed.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OffAsk {
    /// What it is.
    pub kind: Byproduct,
    /// Its weight, as typed.
    pub reading: String,
}

/// What goes into the grinder, as typed.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(tag = "from", rename_all = "snake_case", deny_unknown_fields)]
pub enum GroundFromAsk {
    /// All of a piece of this lot.
    Piece {
        /// The piece.
        piece: PieceId,
    },
    /// Trim or fat kept of this lot, or of another one that gives it.
    Kept {
        /// The lot, when it is another one.
        #[serde(default)]
        lot: Option<LotId>,
        /// What it is.
        kind: Byproduct,
        /// Its weight, as typed.
        reading: String,
    },
    /// Meat or fat bought for it.
    Added {
        /// What it is called.
        name: String,
        /// Its weight, as typed.
        reading: String,
    },
}

/// Something that came in, with amounts as typed.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ReceivedAsk {
    /// What people call it.
    pub name: String,
    /// Its species.
    pub species: String,
    /// How it came.
    pub origin: Origin,
    /// Which weight is known.
    pub known: KnownWeight,
    /// That weight, as typed.
    pub reading: String,
    /// How much of an animal it is; a whole one, or one bought cut, when left out.
    #[serde(default)]
    pub portion: Option<Portion>,
    /// How many equal cuts, in a case.
    #[serde(default)]
    pub count: Option<u32>,
    /// The cut, when one was bought.
    #[serde(default)]
    pub cut: Option<String>,
    /// What it cost, as typed: `184.50`.
    #[serde(default)]
    pub cost: Option<String>,
    /// What that cost is for: all of it, a kilogram, a pound, a piece.
    #[serde(default)]
    pub price_per: PricePer,
    /// What its way here cost, as typed.
    #[serde(default)]
    pub shipping: Option<String>,
    /// The purchase it is part of.
    #[serde(default)]
    pub together: Option<String>,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// Male or female.
    #[serde(default)]
    pub sex: Option<Sex>,
    /// Young or old.
    #[serde(default)]
    pub age: Option<AgeClass>,
    /// Fat cover over the loin, as typed: `12 mm`.
    #[serde(default)]
    pub fat_cover: Option<String>,
    /// Days it rested.
    #[serde(default)]
    pub rested_days: Option<u32>,
    /// Days it hung cold.
    #[serde(default)]
    pub hung_days: Option<u32>,
    /// How warm it was inside when it came, as typed: `3 C`.
    #[serde(default)]
    pub inside: Option<String>,
    /// True with an inspector's stamp, false for own kill.
    #[serde(default)]
    pub inspected: Option<bool>,
    /// Medicines and when their withdrawal ended.
    #[serde(default)]
    pub withdrawal: Option<String>,
    /// When it was frozen, if it came frozen.
    #[serde(default)]
    #[schema(value_type = Option<String>, format = Date)]
    pub frozen_on: Option<Date>,
    /// The day by which it should be thawed and used.
    #[serde(default)]
    #[schema(value_type = Option<String>, format = Date)]
    pub thaw_by: Option<Date>,
}

/// A pack, as typed.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PackAsk {
    /// Its weight, as typed.
    pub reading: String,
    /// How many slices.
    #[serde(default)]
    pub slices: Option<u32>,
    /// Where it is kept, as its build words it.
    #[serde(default)]
    pub place: Option<String>,
    /// What to name for the allergic.
    #[serde(default)]
    pub allergens: Option<String>,
}

/// Something that was done, with amounts as typed.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(tag = "act", rename_all = "snake_case", deny_unknown_fields)]
pub enum ActAsk {
    /// Something came in.
    Received(ReceivedAsk),
    /// Several came in under one name; the shipping is shared out by weight.
    Purchased {
        /// What people call the purchase.
        name: String,
        /// What the way here cost in all, as typed.
        #[serde(default)]
        shipping: Option<String>,
        /// What came.
        lots: Vec<ReceivedAsk>,
    },
    /// A piece was weighed out of its lot.
    PieceWeighed {
        /// The lot.
        lot: LotId,
        /// Its cut.
        cut: String,
        /// Its weight, as typed.
        reading: String,
        /// Its greatest thickness, as typed.
        #[serde(default)]
        thickness: Option<String>,
        /// Whether the skin is on.
        #[serde(default)]
        skin_on: bool,
        /// Whether bone is in.
        #[serde(default)]
        bone_in: bool,
        /// Whether fat covers one side.
        #[serde(default)]
        fat_cap: bool,
        /// The fat cover that was kept, as typed: `8 mm`.
        #[serde(default)]
        fat_cover: Option<String>,
    },
    /// Trim, fat, bone or skin was weighed.
    ByproductWeighed {
        /// The lot it came out of.
        lot: LotId,
        /// The piece it came off, if it did.
        #[serde(default)]
        piece: Option<PieceId>,
        /// What it is.
        kind: Byproduct,
        /// Its weight, as typed.
        reading: String,
    },
    /// A way of cutting was settled on for the whole animal.
    CuttingChosen {
        /// The lot.
        lot: LotId,
        /// What was to be settled.
        choice: String,
        /// How.
        option: String,
    },
    /// An inside temperature was read in the freezer.
    FreezerRead {
        /// The lot.
        lot: LotId,
        /// The piece, or none for everything of the lot that lies there.
        #[serde(default)]
        piece: Option<PieceId>,
        /// Inside the thickest place, as typed: `-18 C`.
        inside: String,
        /// How thick it is there, as typed.
        #[serde(default)]
        thickness: Option<String>,
    },
    /// Something that holds the meat back was answered.
    HoldAnswered {
        /// The lot.
        lot: LotId,
        /// What.
        kind: HoldKind,
        /// How.
        answer: HoldAnswer,
        /// By whom, or with which number.
        #[serde(default)]
        note: Option<String>,
    },
    /// A piece was worked on and is still one.
    Worked {
        /// The piece.
        piece: PieceId,
        /// How.
        work: Work,
        /// What came off and is kept.
        #[serde(default)]
        off: Vec<OffAsk>,
        /// The piece on the scale afterwards, as typed.
        #[serde(default)]
        reading: Option<String>,
        /// Its thickest place afterwards, as typed.
        #[serde(default)]
        thickness: Option<String>,
        /// The fat cover left on it, as typed.
        #[serde(default)]
        fat_cover: Option<String>,
    },
    /// Pieces of one lot became one.
    Joined {
        /// The pieces.
        pieces: Vec<PieceId>,
        /// How.
        way: JoinWay,
        /// Its weight, if it was weighed again, as typed.
        #[serde(default)]
        reading: Option<String>,
        /// Its thickest place, as typed.
        #[serde(default)]
        thickness: Option<String>,
    },
    /// Meat was ground or diced into one block.
    Ground {
        /// The lot the block belongs to: that of most of its lean.
        lot: LotId,
        /// What went in.
        sources: Vec<GroundFromAsk>,
        /// What came out, as typed.
        reading: String,
        /// How thick it will lie in pan or casing, as typed.
        #[serde(default)]
        thickness: Option<String>,
        /// Its share of fat, if that was worked out.
        #[serde(default)]
        fat_fraction: Option<f64>,
    },
    /// Nothing more will be weighed out.
    BreakdownClosed {
        /// The lot.
        lot: LotId,
    },
    /// A piece was given a product.
    Assigned {
        /// The piece.
        piece: PieceId,
        /// The build.
        build: String,
    },
    /// Pieces of one product were put into their cure.
    Dosed {
        /// The pieces.
        pieces: Vec<PieceId>,
        /// True for one mix over all of them.
        #[serde(default)]
        mixed: bool,
        /// What is different from the build's dose.
        #[serde(default)]
        own: OwnDose,
        /// Why, when it goes past a stop.
        #[serde(default)]
        reason: Option<String>,
    },
    /// Turned, massaged or stirred.
    Turned {
        /// The piece.
        piece: PieceId,
    },
    /// Something seen, felt or measured.
    Noted {
        /// The piece.
        piece: PieceId,
        /// In words.
        text: String,
    },
    /// Out of the cure.
    OutOfCure {
        /// The piece.
        piece: PieceId,
        /// Its weight, as typed.
        reading: String,
    },
    /// Smoked.
    Smoked {
        /// The piece.
        piece: PieceId,
        /// Its weight, as typed.
        reading: String,
        /// The highest inside temperature, as typed: `145 F`.
        #[serde(default)]
        inside: Option<String>,
    },
    /// Hung up.
    Hung {
        /// The piece.
        piece: PieceId,
        /// Its weight with everything that hangs there, as typed.
        reading: String,
        /// What hangs there beside the meat, as typed.
        tare: String,
        /// The share to lose; the build's when left out.
        #[serde(default)]
        loss_fraction: Option<f64>,
    },
    /// Weighed on its hook.
    WeighedIn {
        /// The piece.
        piece: PieceId,
        /// Its weight with everything that hangs there, as typed.
        reading: String,
    },
    /// Taken down.
    TakenDown {
        /// The piece.
        piece: PieceId,
        /// Its weight with everything that hung there, as typed.
        reading: String,
    },
    /// Cut into parts.
    Cut {
        /// The piece.
        piece: PieceId,
        /// What it became.
        parts: Vec<PartAsk>,
        /// How.
        #[serde(default)]
        way: CutWay,
    },
    /// Sliced and packed.
    Packed {
        /// The piece.
        piece: PieceId,
        /// The packs.
        packs: Vec<PackAsk>,
        /// Ends and crumbs kept, as typed.
        #[serde(default)]
        ends: Option<String>,
        /// True when nothing of the piece is left to pack.
        finished: bool,
    },
    /// Thrown away.
    Discarded {
        /// The piece.
        piece: PieceId,
        /// Why.
        reason: String,
    },
}
