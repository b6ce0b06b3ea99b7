//! The shapes of what a person sends when something was done; amounts as typed.

use manifest_core::animal::KnownWeight;
use manifest_core::cure::sheet::OwnDose;
use manifest_core::ledger::{AgeClass, Byproduct, LotId, Origin, PieceId, Sex};
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
    Received {
        /// What people call it.
        name: String,
        /// Its species.
        species: String,
        /// How it came.
        origin: Origin,
        /// Which weight is known.
        known: KnownWeight,
        /// That weight, as typed.
        reading: String,
        /// The cut, when one was bought.
        #[serde(default)]
        cut: Option<String>,
        /// What it cost, as typed: `184.50`.
        #[serde(default)]
        cost: Option<String>,
        /// Whether the skin is on.
        #[serde(default)]
        skin_on: bool,
        /// Male or female.
        #[serde(default)]
        sex: Option<Sex>,
        /// Young or old.
        #[serde(default)]
        age: Option<AgeClass>,
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
