//! What knife, saw, grinder and hand do to a piece before its cure.

use super::{Byproduct, PieceId, Reading};
use serde::{Deserialize, Serialize};

/// Work on one piece that leaves it one piece.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Work {
    /// The skin comes off.
    Skin,
    /// The bone comes out.
    BoneOut,
    /// Silver skin, sinew, flaps or fat come off.
    Trim,
    /// Opened flat like a book; it lies thinner.
    OpenFlat,
    /// Edges straightened.
    SquareOff,
}

impl Work {
    /// Every work.
    pub const ALL: [Self; 5] = [
        Self::Skin,
        Self::BoneOut,
        Self::Trim,
        Self::OpenFlat,
        Self::SquareOff,
    ];

    /// What was done, in the past tense.
    #[must_use]
    pub const fn said(self) -> &'static str {
        match self {
            Self::Skin => "skinned",
            Self::BoneOut => "boned out",
            Self::Trim => "trimmed",
            Self::OpenFlat => "opened flat",
            Self::SquareOff => "squared off",
        }
    }

    /// What usually comes off.
    #[must_use]
    pub const fn gives(self) -> Byproduct {
        match self {
            Self::Skin => Byproduct::Skin,
            Self::BoneOut => Byproduct::Bone,
            Self::Trim | Self::OpenFlat | Self::SquareOff => Byproduct::Trim,
        }
    }
}

/// So much that came off a piece and is kept.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Off {
    /// What it is.
    pub kind: Byproduct,
    /// Its weight.
    pub reading: Reading,
}

/// How a piece is parted.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum CutWay {
    /// Into slabs or lengths.
    #[default]
    Split,
    /// The big end from the small one, since they are done at different times.
    Ends,
    /// Muscle from muscle, along the seams.
    Seam,
}

impl CutWay {
    /// What was done, in the past tense.
    #[must_use]
    pub const fn said(self) -> &'static str {
        match self {
            Self::Split => "split",
            Self::Ends => "big end parted from small",
            Self::Seam => "seamed out",
        }
    }
}

/// A part of a cut piece.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Part {
    /// The new piece.
    pub piece: PieceId,
    /// Its tag under its parent's.
    pub tag: String,
    /// Its weight.
    pub reading: Reading,
    /// Its own greatest thickness (mm).
    #[serde(default)]
    pub thickness_mm: Option<f64>,
    /// What it is now, when a muscle came out of a larger cut.
    #[serde(default)]
    pub cut: Option<String>,
}

/// How pieces become one.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum JoinWay {
    /// Two breasts or slim muscles folded into one, head to tail.
    Pair,
    /// Bound with enzyme or tied together.
    Bind,
}

/// Pieces became one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Joined {
    /// The pieces that are no more.
    pub pieces: Vec<PieceId>,
    /// How.
    pub way: JoinWay,
    /// The new piece.
    pub into: PieceId,
    /// Its tag under the lot's.
    pub tag: String,
    /// Its weight, if it was weighed again.
    #[serde(default)]
    pub reading: Option<Reading>,
    /// Its greatest thickness (mm).
    #[serde(default)]
    pub thickness_mm: Option<f64>,
}

/// What goes into the grinder or mixer.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(tag = "from", rename_all = "snake_case")]
pub enum GroundFrom {
    /// All of a piece.
    Piece {
        /// The piece that is no more.
        piece: PieceId,
    },
    /// Trim or fat kept of this lot.
    Kept {
        /// What it is.
        kind: Byproduct,
        /// How much.
        reading: Reading,
    },
    /// Meat or fat from elsewhere: bought, or given by another lot.
    Added {
        /// What it is called.
        name: String,
        /// How much.
        reading: Reading,
    },
}

/// Meat was ground or diced into one block.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Ground {
    /// What went in.
    pub sources: Vec<GroundFrom>,
    /// The block.
    pub into: PieceId,
    /// Its tag under the lot's.
    pub tag: String,
    /// What came out; the rest stayed in grinder, mixer and bowl.
    pub reading: Reading,
    /// How thick it will lie in its pan or casing (mm).
    #[serde(default)]
    pub thickness_mm: Option<f64>,
    /// Its share of fat as blended, if that was worked out.
    #[serde(default)]
    pub fat_fraction: Option<f64>,
}

impl Ground {
    /// The pieces that went in.
    pub fn pieces(&self) -> impl Iterator<Item = PieceId> {
        self.sources.iter().filter_map(|s| match s {
            GroundFrom::Piece { piece } => Some(*piece),
            GroundFrom::Kept { .. } | GroundFrom::Added { .. } => None,
        })
    }
}
