//! The one model under everything: acts that move mass, and what follows from them.
//!
//! An [`Entry`] is one [`Act`] with its [`Posting`]s, which sum to zero. Entries are never
//! changed; a correction is a new entry that names the one it replaces. Everything else, where a
//! piece is and what it weighs, is derived: [`state`] applies entries, [`post`] works out what an
//! act moves, [`book`] plans changes (and restates what follows from a correction), [`questions`]
//! asks about numbers that look mistyped, [`tally`] adds up.

pub mod account;
pub mod book;
pub mod cutting;
pub mod own;
pub mod post;
pub mod questions;
pub mod received;
pub mod state;
pub mod tally;

pub use account::{Account, Byproduct, Loss, word};
pub use cutting::{CutWay, Ground, GroundFrom, JoinWay, Joined, Off, Part, Work};
pub use received::{AgeClass, Background, FrozenStock, Origin, PricePer, Received, Sex};

use crate::animal::hold::{HoldAnswer, HoldKind};
use crate::builds::Curing;
use crate::caution::Finding;
use crate::cure::CureChoice;
use crate::cure::rules::Class;
use crate::units::Milligrams;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

macro_rules! id {
    ($name:ident, $what:literal) => {
        #[doc = concat!("Names ", $what, " for machines; people use its tag.")]
        #[derive(
            Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize,
        )]
        #[serde(transparent)]
        #[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(value_type = i64))]
        pub struct $name(pub i64);
    };
}

id!(LotId, "what came in");
id!(PieceId, "a piece");
id!(PackId, "a pack");
id!(EntryId, "an entry");

/// So many milligrams into an account; out of it when negative.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Posting {
    /// Where.
    pub account: Account,
    /// How much.
    pub mass: Milligrams,
}

/// True when postings lose and gain nothing.
#[must_use]
pub fn balances(postings: &[Posting]) -> bool {
    postings.iter().map(|p| p.mass).sum::<Milligrams>() == Milligrams::ZERO
}

/// What a scale said, kept as it was said.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Reading {
    /// The words or digits typed or read.
    pub said: String,
    /// The mass they mean.
    pub mg: Milligrams,
}

/// A piece weighed out of a lot.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PieceWeighed {
    /// The piece.
    pub piece: PieceId,
    /// Its tag under the animal's.
    pub tag: String,
    /// Its cut.
    pub cut: String,
    /// Its weight.
    pub reading: Reading,
    /// Greatest thickness (mm).
    #[serde(default)]
    pub thickness_mm: Option<f64>,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// Whether bone is in.
    #[serde(default)]
    pub bone_in: bool,
    /// Whether fat covers one side.
    #[serde(default)]
    pub fat_cap: bool,
    /// The fat cover that was kept, as measured (mm).
    #[serde(default)]
    pub fat_cover_mm: Option<f64>,
}

/// One ingredient of a dose, as the scale showed it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DoseLine {
    /// What it is called.
    pub name: String,
    /// How much.
    pub mg: Milligrams,
}

/// A dose as it was weighed out: a fact with the numbers it was made of.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Dose {
    /// Rubbed or in brine.
    pub method: Curing,
    /// The curing salt.
    pub cure: CureChoice,
    /// What becomes of the piece.
    pub class: Class,
    /// The rules it was judged by.
    pub rule_set: String,
    /// What was weighed.
    pub lines: Vec<DoseLine>,
    /// Nitrite as the scale showed it (ppm).
    pub nitrite_ppm: f64,
    /// Lower edge of what it may be (ppm).
    pub nitrite_ppm_low: f64,
    /// Upper edge of what it may be (ppm).
    pub nitrite_ppm_high: f64,
    /// Nitrate (ppm).
    pub nitrate_ppm: f64,
    /// The ceiling it was judged by (ppm).
    pub ceiling_ppm: f64,
    /// The cure-time school chosen, or none for the default.
    pub school: Option<String>,
    /// The other pieces of the same mix.
    #[serde(default)]
    pub mixed_with: Vec<PieceId>,
    /// What gave pause.
    #[serde(default)]
    pub findings: Vec<Finding>,
    /// Why the person went on past a stop.
    #[serde(default)]
    pub reason: Option<String>,
}

/// A finished, labelled pack.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct NewPack {
    /// The pack.
    pub pack: PackId,
    /// Its tag under its piece's.
    pub tag: String,
    /// Its weight.
    pub reading: Reading,
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

/// One thing that was done or seen.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "act", rename_all = "snake_case")]
pub enum Act {
    /// Something came in.
    Received(Received),
    /// A piece was weighed out of its lot.
    PieceWeighed(PieceWeighed),
    /// Trim, fat, bone or skin was weighed, out of the lot or off a piece.
    ByproductWeighed {
        /// The piece it came off, or none for the lot.
        piece: Option<PieceId>,
        /// What it is.
        kind: Byproduct,
        /// Its weight.
        reading: Reading,
    },
    /// Trim or fat was given to another lot, for grinding.
    ByproductGiven {
        /// What it is.
        kind: Byproduct,
        /// Its weight.
        reading: Reading,
        /// The lot that takes it.
        to: LotId,
        /// That lot's tag.
        to_tag: String,
    },
    /// Nothing more will be weighed out of the lot.
    BreakdownClosed,
    /// A way of cutting was settled on for the whole animal.
    CuttingChosen {
        /// What was to be settled.
        choice: String,
        /// How.
        option: String,
    },
    /// An inside temperature was read in the freezer.
    FreezerRead {
        /// The piece, or none for everything of the lot that lies there.
        piece: Option<PieceId>,
        /// Inside the thickest place (°C).
        inside_c: f64,
        /// How thick it is there (mm).
        thickness_mm: Option<f64>,
    },
    /// Something that holds the meat back was answered.
    HoldAnswered {
        /// What.
        kind: HoldKind,
        /// How.
        answer: HoldAnswer,
        /// By whom, or with which number.
        note: Option<String>,
    },
    /// A piece was worked on and is still one.
    Worked {
        /// The piece.
        piece: PieceId,
        /// How.
        work: Work,
        /// What came off and is kept.
        off: Vec<Off>,
        /// The piece on the scale afterwards, if it was weighed.
        reading: Option<Reading>,
        /// Its thickest place afterwards, if it was measured (mm).
        thickness_mm: Option<f64>,
        /// The fat cover left on it (mm).
        fat_cover_mm: Option<f64>,
    },
    /// Pieces became one.
    Joined(Joined),
    /// Meat was ground or diced into one block.
    Ground(Ground),
    /// A piece was given a product.
    Assigned {
        /// The piece.
        piece: PieceId,
        /// The build.
        build: String,
        /// Its version then.
        version: u32,
    },
    /// A piece was put into its cure.
    Dosed {
        /// The piece.
        piece: PieceId,
        /// Its dose.
        dose: Box<Dose>,
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
    /// Out of the cure, rinsed and weighed.
    OutOfCure {
        /// The piece.
        piece: PieceId,
        /// Its weight.
        reading: Reading,
    },
    /// Smoked and weighed.
    Smoked {
        /// The piece.
        piece: PieceId,
        /// Its weight.
        reading: Reading,
        /// The highest inside temperature, if measured (°C).
        inside_c: Option<f64>,
    },
    /// Hung up.
    Hung {
        /// The piece.
        piece: PieceId,
        /// Its weight with everything that hangs there.
        reading: Reading,
        /// What hangs there beside the meat.
        tare: Reading,
        /// The share to lose.
        loss_fraction: f64,
    },
    /// Weighed on its hook.
    WeighedIn {
        /// The piece.
        piece: PieceId,
        /// Its weight with everything that hangs there.
        reading: Reading,
    },
    /// Taken down.
    TakenDown {
        /// The piece.
        piece: PieceId,
        /// Its weight with everything that hung there.
        reading: Reading,
    },
    /// Cut into parts.
    Cut {
        /// The piece that is no more.
        piece: PieceId,
        /// What it became.
        parts: Vec<Part>,
        /// How.
        #[serde(default)]
        way: CutWay,
    },
    /// Sliced and packed.
    Packed {
        /// The piece.
        piece: PieceId,
        /// The packs.
        packs: Vec<NewPack>,
        /// Ends and crumbs kept.
        ends: Option<Reading>,
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
    /// The entry named by `replaces` did not happen.
    Undone,
}

impl Act {
    /// The pieces an act is about.
    #[must_use]
    pub fn pieces(&self) -> Vec<PieceId> {
        match self {
            Self::PieceWeighed(p) => vec![p.piece],
            Self::ByproductWeighed { piece, .. } => piece.iter().copied().collect(),
            Self::Cut { piece, parts, .. } => std::iter::once(*piece)
                .chain(parts.iter().map(|p| p.piece))
                .collect(),
            Self::Joined(j) => std::iter::once(j.into)
                .chain(j.pieces.iter().copied())
                .collect(),
            Self::Ground(g) => std::iter::once(g.into).chain(g.pieces()).collect(),
            Self::FreezerRead { piece, .. } => piece.iter().copied().collect(),
            Self::Assigned { piece, .. }
            | Self::Dosed { piece, .. }
            | Self::Turned { piece }
            | Self::Noted { piece, .. }
            | Self::OutOfCure { piece, .. }
            | Self::Smoked { piece, .. }
            | Self::Hung { piece, .. }
            | Self::WeighedIn { piece, .. }
            | Self::TakenDown { piece, .. }
            | Self::Packed { piece, .. }
            | Self::Worked { piece, .. }
            | Self::Discarded { piece, .. } => vec![*piece],
            Self::Received(_)
            | Self::ByproductGiven { .. }
            | Self::BreakdownClosed
            | Self::CuttingChosen { .. }
            | Self::HoldAnswered { .. }
            | Self::Undone => Vec::new(),
        }
    }

    /// The stable word of its kind, as stored.
    #[must_use]
    pub fn kind(&self) -> &'static str {
        match self {
            Self::Received(_) => "received",
            Self::PieceWeighed(_) => "piece_weighed",
            Self::ByproductWeighed { .. } => "byproduct_weighed",
            Self::ByproductGiven { .. } => "byproduct_given",
            Self::BreakdownClosed => "breakdown_closed",
            Self::CuttingChosen { .. } => "cutting_chosen",
            Self::FreezerRead { .. } => "freezer_read",
            Self::HoldAnswered { .. } => "hold_answered",
            Self::Worked { .. } => "worked",
            Self::Joined(_) => "joined",
            Self::Ground(_) => "ground",
            Self::Assigned { .. } => "assigned",
            Self::Dosed { .. } => "dosed",
            Self::Turned { .. } => "turned",
            Self::Noted { .. } => "noted",
            Self::OutOfCure { .. } => "out_of_cure",
            Self::Smoked { .. } => "smoked",
            Self::Hung { .. } => "hung",
            Self::WeighedIn { .. } => "weighed_in",
            Self::TakenDown { .. } => "taken_down",
            Self::Cut { .. } => "cut",
            Self::Packed { .. } => "packed",
            Self::Discarded { .. } => "discarded",
            Self::Undone => "undone",
        }
    }

    /// What was done, in the past tense, for time lines.
    #[must_use]
    pub fn said(&self) -> &'static str {
        match self {
            Self::Received(_) => "received",
            Self::PieceWeighed(_) => "weighed out",
            Self::ByproductWeighed { .. } => "weighed aside",
            Self::ByproductGiven { .. } => "given to another lot",
            Self::BreakdownClosed => "break-down finished",
            Self::CuttingChosen { .. } => "cutting settled",
            Self::FreezerRead { .. } => "read in the freezer",
            Self::HoldAnswered { .. } => "answered",
            Self::Worked { work, .. } => work.said(),
            Self::Joined(_) => "joined",
            Self::Ground(_) => "ground",
            Self::Assigned { .. } => "assigned",
            Self::Dosed { .. } => "put in cure",
            Self::Turned { .. } => "turned",
            Self::Noted { .. } => "noted",
            Self::OutOfCure { .. } => "out of cure",
            Self::Smoked { .. } => "smoked",
            Self::Hung { .. } => "hung",
            Self::WeighedIn { .. } => "weighed in",
            Self::TakenDown { .. } => "taken down",
            Self::Cut { way, .. } => way.said(),
            Self::Packed { .. } => "packed",
            Self::Discarded { .. } => "thrown away",
            Self::Undone => "undone",
        }
    }

    /// The pieces that are no more because they went into another one.
    #[must_use]
    pub fn joins(&self) -> Vec<PieceId> {
        match self {
            Self::Joined(j) => j.pieces.clone(),
            Self::Ground(g) => g.pieces().collect(),
            _ => Vec::new(),
        }
    }

    /// The pieces an act brings into being, with their tags.
    #[must_use]
    pub fn makes(&self) -> Vec<(PieceId, &str)> {
        match self {
            Self::PieceWeighed(p) => vec![(p.piece, p.tag.as_str())],
            Self::Cut { parts, .. } => parts.iter().map(|p| (p.piece, p.tag.as_str())).collect(),
            Self::Joined(j) => vec![(j.into, j.tag.as_str())],
            Self::Ground(g) => vec![(g.into, g.tag.as_str())],
            _ => Vec::new(),
        }
    }
}

/// One act at one time, with what it moved.
#[derive(Clone, Debug, PartialEq)]
pub struct Entry {
    /// Its number; later entries have higher ones.
    pub id: EntryId,
    /// The lot whose mass it moves.
    pub lot: LotId,
    /// When it happened.
    pub happened_at: Timestamp,
    /// When it was written down.
    pub recorded_at: Timestamp,
    /// The entry it takes the place of.
    pub replaces: Option<EntryId>,
    /// The correction that made it necessary to state this again.
    pub because: Option<EntryId>,
    /// What was done.
    pub act: Act,
    /// What it moved; sums to zero.
    pub postings: Vec<Posting>,
}
