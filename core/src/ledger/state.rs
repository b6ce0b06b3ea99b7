//! What follows from the entries of one lot: where each piece is and what it weighs.

use super::{
    Account, Act, Byproduct, Dose, Entry, EntryId, Loss, LotId, NewPack, PackId, Part, PieceId,
    Posting, Reading, Received,
};
use crate::animal::{self, Species};
use crate::assign;
use crate::builds::{self, AfterCure, Build, Eat};
use crate::units::Milligrams;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Where a piece is on its way.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Stage {
    /// Weighed, without a product.
    Assign,
    /// Waits for its dose.
    Dose,
    /// Lies in its cure.
    InCure,
    /// Waits for the smoker.
    Smoke,
    /// Waits for its hook.
    Hang,
    /// Hangs.
    Hanging,
    /// Waits for the packing table.
    Pack,
    /// Packed to the last gram.
    Packed,
    /// Cut into others.
    CutUp,
    /// Thrown away.
    Discarded,
}

impl Stage {
    /// True when nothing more happens to a piece.
    #[must_use]
    pub const fn is_over(self) -> bool {
        matches!(self, Self::Packed | Self::CutUp | Self::Discarded)
    }
}

/// The point of the way at which a piece was weighed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Point {
    /// Green, as cut.
    Green,
    /// Out of the cure.
    OutOfCure,
    /// After the smoke.
    Smoked,
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
    /// When it was put in.
    pub since: Timestamp,
    /// Its dose, or its share of one.
    pub dose: Dose,
}

/// A piece on its hook.
#[derive(Clone, Debug, PartialEq)]
pub struct Hanging {
    /// When it was hung.
    pub since: Timestamp,
    /// The scale then.
    pub gross_start: Milligrams,
    /// What hangs there beside the meat.
    pub tare: Milligrams,
    /// The share to lose.
    pub loss_fraction: f64,
    /// When it was taken down.
    pub until: Option<Timestamp>,
}

/// A piece, as its entries leave it.
#[derive(Clone, Debug, PartialEq)]
pub struct Piece {
    /// For machines.
    pub id: PieceId,
    /// The piece it was cut from.
    pub parent: Option<PieceId>,
    /// For people.
    pub tag: String,
    /// Its cut.
    pub cut: String,
    /// Greatest thickness (mm).
    pub thickness_mm: Option<f64>,
    /// Whether the skin is on.
    pub skin_on: bool,
    /// Whether bone is in.
    pub bone_in: bool,
    /// Whether fat covers one side.
    pub fat_cap: bool,
    /// As cut, before any cure.
    pub green: Milligrams,
    /// The meat now.
    pub mass: Milligrams,
    /// What lies with it in the cure.
    pub in_cure: Milligrams,
    /// Its product.
    pub build: Option<String>,
    /// Its cure, once dosed.
    pub cure: Option<InCure>,
    /// When it came out.
    pub out_of_cure: Option<Timestamp>,
    /// When it was smoked.
    pub smoked: Option<Timestamp>,
    /// The highest inside temperature recorded (°C).
    pub inside_c: Option<f64>,
    /// Its hanging.
    pub hanging: Option<Hanging>,
    /// When it was last turned.
    pub turned: Option<Timestamp>,
    /// When it came to where it is now.
    pub since: Timestamp,
    /// How it ended, if it did.
    pub ended: Option<Stage>,
    /// Every weighing of its meat, in order.
    pub weighings: Vec<Weighing>,
    /// Its packs.
    pub packs: Vec<PackId>,
    /// Its parts.
    pub parts: Vec<PieceId>,
}

impl Piece {
    /// Its product's data.
    #[must_use]
    pub fn build(&self) -> Option<&'static Build> {
        self.build.as_deref().and_then(builds::build)
    }

    /// Where it is on its way.
    #[must_use]
    pub fn stage(&self) -> Stage {
        if let Some(ended) = self.ended {
            return ended;
        }
        let Some(build) = self.build() else {
            return Stage::Assign;
        };
        if build.ending {
            return Stage::Pack;
        }
        match (&self.cure, self.out_of_cure, build.after_cure) {
            (None, _, _) => Stage::Dose,
            (Some(_), None, _) => Stage::InCure,
            (Some(_), Some(_), AfterCure::Smoke) if self.smoked.is_none() => Stage::Smoke,
            (Some(_), Some(_), AfterCure::Hang) => match &self.hanging {
                None => Stage::Hang,
                Some(h) if h.until.is_none() => Stage::Hanging,
                Some(_) => Stage::Pack,
            },
            _ => Stage::Pack,
        }
    }

    /// How it may be eaten: raw inside unless the heat that makes it safe was recorded.
    #[must_use]
    pub fn eat(&self, species: &Species) -> Eat {
        let Some(build) = self.build() else {
            return Eat::CookBeforeEating;
        };
        match assign::inside_target_c(build, species) {
            Some(_) if build.eat == Eat::ReadyToEat => {
                // Half a tenth of a degree is what thermometers round away.
                let safe = species.safe_inside_c - 0.05;
                if self.inside_c.is_some_and(|c| c >= safe) {
                    Eat::ReadyToEat
                } else {
                    Eat::CookBeforeEating
                }
            }
            _ => build.eat,
        }
    }

    /// The latest weighing of its meat.
    #[must_use]
    pub fn last_weighing(&self) -> Option<&Weighing> {
        self.weighings.last()
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
    /// When it was packed.
    pub at: Timestamp,
    /// The entry that made it.
    pub entry: EntryId,
}

/// What came in, as its entries leave it.
#[derive(Clone, Debug, PartialEq)]
pub struct Lot {
    /// What was said when it came.
    pub received: Received,
    /// When it came.
    pub at: Timestamp,
    /// When its break-down was finished.
    pub closed: Option<Timestamp>,
}

impl Lot {
    /// Its species' data.
    ///
    /// # Panics
    /// When the species is not in the catalogue, which `post` refuses to let in.
    #[must_use]
    pub fn species(&self) -> &'static Species {
        animal::species(&self.received.species).expect("only known species are received")
    }
}

/// Everything derived from the live entries of one lot.
#[derive(Clone, Debug, PartialEq)]
pub struct State {
    /// The lot's number.
    pub id: LotId,
    /// What came in; none when its receipt was undone.
    pub lot: Option<Lot>,
    /// What came in and is not weighed out yet.
    pub left: Milligrams,
    /// The pieces.
    pub pieces: BTreeMap<PieceId, Piece>,
    /// The packs.
    pub packs: BTreeMap<PackId, Pack>,
    /// What was kept beside them.
    pub byproducts: BTreeMap<Byproduct, Milligrams>,
    /// What nobody keeps.
    pub losses: BTreeMap<Loss, Milligrams>,
    /// What was added, by name.
    pub materials: BTreeMap<String, Milligrams>,
    /// What came from outside.
    pub received: Milligrams,
}

impl State {
    /// A lot to which nothing has happened yet.
    #[must_use]
    pub fn new(id: LotId) -> Self {
        Self {
            id,
            lot: None,
            left: Milligrams::ZERO,
            pieces: BTreeMap::new(),
            packs: BTreeMap::new(),
            byproducts: BTreeMap::new(),
            losses: BTreeMap::new(),
            materials: BTreeMap::new(),
            received: Milligrams::ZERO,
        }
    }

    /// Takes in one entry, in the order of the work.
    pub fn apply(&mut self, entry: &Entry) {
        self.begin(entry);
        for posting in &entry.postings {
            self.move_mass(posting);
        }
        self.conclude(entry);
    }

    /// Makes room for what the entry brings into being.
    fn begin(&mut self, entry: &Entry) {
        let at = entry.happened_at;
        match &entry.act {
            Act::Received(received) => {
                self.lot = Some(Lot {
                    received: received.clone(),
                    at,
                    closed: None,
                });
            }
            Act::PieceWeighed(p) => {
                let piece = Piece {
                    id: p.piece,
                    parent: None,
                    tag: p.tag.clone(),
                    cut: p.cut.clone(),
                    thickness_mm: p.thickness_mm,
                    skin_on: p.skin_on,
                    bone_in: p.bone_in,
                    fat_cap: p.fat_cap,
                    green: p.reading.mg,
                    mass: Milligrams::ZERO,
                    in_cure: Milligrams::ZERO,
                    build: None,
                    cure: None,
                    out_of_cure: None,
                    smoked: None,
                    inside_c: None,
                    hanging: None,
                    turned: None,
                    since: at,
                    ended: None,
                    weighings: vec![Weighing {
                        entry: entry.id,
                        at,
                        point: Point::Green,
                        net: p.reading.mg,
                    }],
                    packs: Vec::new(),
                    parts: Vec::new(),
                };
                self.pieces.insert(p.piece, piece);
            }
            Act::Cut { piece, parts } => self.begin_parts(*piece, parts, entry),
            Act::Packed { piece, packs, .. } => {
                for new in packs {
                    self.packs.insert(new.pack, pack(*piece, new, entry));
                }
            }
            _ => {}
        }
    }

    /// Parts inherit what was done to the whole, and their share of its dose.
    fn begin_parts(&mut self, whole: PieceId, parts: &[Part], entry: &Entry) {
        let Some(whole) = self.pieces.get(&whole).cloned() else {
            return;
        };
        let weights: Vec<_> = parts.iter().map(|p| p.reading.mg).collect();
        let greens = whole.green.share_out(&weights);
        for (i, part) in parts.iter().enumerate() {
            let mut piece = Piece {
                id: part.piece,
                parent: Some(whole.id),
                tag: part.tag.clone(),
                thickness_mm: part.thickness_mm.or(whole.thickness_mm),
                mass: Milligrams::ZERO,
                in_cure: Milligrams::ZERO,
                packs: Vec::new(),
                parts: Vec::new(),
                ..whole.clone()
            };
            if let Some(cure) = &mut piece.cure {
                piece.green = greens[i];
                for line in &mut cure.dose.lines {
                    line.mg = line.mg.share_out(&weights)[i];
                }
            } else {
                piece.green = part.reading.mg;
            }
            // Weighings of the whole say nothing about a part; its own line begins with its share.
            let at = whole.cure.as_ref().map_or(entry.happened_at, |c| c.since);
            piece.weighings = vec![Weighing {
                entry: entry.id,
                at,
                point: Point::Green,
                net: piece.green,
            }];
            if whole.out_of_cure.is_some() {
                let point = whole.last_weighing().map_or(Point::Green, |w| w.point);
                piece.weighings.push(Weighing {
                    entry: entry.id,
                    at: entry.happened_at,
                    point,
                    net: part.reading.mg,
                });
            }
            self.pieces.insert(part.piece, piece);
        }
    }

    fn move_mass(&mut self, posting: &Posting) {
        let mass = posting.mass;
        match &posting.account {
            Account::Outside => self.received -= mass,
            Account::Lot => self.left += mass,
            Account::Piece(id) => {
                if let Some(piece) = self.pieces.get_mut(id) {
                    piece.mass += mass;
                }
            }
            Account::InCure(id) => {
                if let Some(piece) = self.pieces.get_mut(id) {
                    piece.in_cure += mass;
                }
            }
            Account::Pack(id) => {
                if let Some(pack) = self.packs.get_mut(id) {
                    pack.mass += mass;
                }
            }
            Account::Byproduct(kind) => *self.byproducts.entry(*kind).or_default() += mass,
            Account::Loss(kind) => *self.losses.entry(*kind).or_default() += mass,
            Account::Material(name) => *self.materials.entry(name.clone()).or_default() -= mass,
        }
    }

    /// Writes down what the entry means for the piece it is about.
    fn conclude(&mut self, entry: &Entry) {
        let at = entry.happened_at;
        if matches!(entry.act, Act::BreakdownClosed)
            && let Some(lot) = &mut self.lot
        {
            lot.closed = Some(at);
        }
        let Some(id) = entry.act.pieces().first().copied() else {
            return;
        };
        let Some(piece) = self.pieces.get_mut(&id) else {
            return;
        };
        let weighed = |piece: &mut Piece, point, net| {
            piece.weighings.push(Weighing {
                entry: entry.id,
                at,
                point,
                net,
            });
            piece.since = at;
        };
        match &entry.act {
            Act::ByproductWeighed { .. } => {
                piece.green = piece.mass;
                if let Some(first) = piece.weighings.first_mut() {
                    first.net = piece.mass;
                }
            }
            Act::Assigned { build, .. } => {
                piece.build = Some(build.clone());
                piece.since = at;
            }
            Act::Dosed { dose, .. } => {
                piece.cure = Some(InCure {
                    since: at,
                    dose: (**dose).clone(),
                });
                piece.since = at;
            }
            Act::Turned { .. } => piece.turned = Some(at),
            Act::OutOfCure { reading, .. } => {
                piece.out_of_cure = Some(at);
                weighed(piece, Point::OutOfCure, reading.mg);
            }
            Act::Smoked {
                reading, inside_c, ..
            } => {
                piece.smoked = Some(at);
                piece.inside_c = *inside_c;
                weighed(piece, Point::Smoked, reading.mg);
            }
            Act::Hung {
                reading,
                tare,
                loss_fraction,
                ..
            } => {
                piece.hanging = Some(Hanging {
                    since: at,
                    gross_start: reading.mg,
                    tare: tare.mg,
                    loss_fraction: *loss_fraction,
                    until: None,
                });
                weighed(piece, Point::Hung, reading.mg - tare.mg);
            }
            Act::WeighedIn { reading, .. } => {
                let since = piece.since;
                let tare = piece.hanging.as_ref().map_or(Milligrams::ZERO, |h| h.tare);
                weighed(piece, Point::WeighedIn, reading.mg - tare);
                piece.since = since;
            }
            Act::TakenDown { reading, .. } => {
                let tare = piece.hanging.as_ref().map_or(Milligrams::ZERO, |h| h.tare);
                if let Some(hanging) = &mut piece.hanging {
                    hanging.until = Some(at);
                }
                weighed(piece, Point::TakenDown, reading.mg - tare);
            }
            Act::Cut { parts, .. } => {
                piece.ended = Some(Stage::CutUp);
                piece.parts = parts.iter().map(|p| p.piece).collect();
                piece.since = at;
            }
            Act::Packed {
                packs, finished, ..
            } => {
                piece.packs.extend(packs.iter().map(|p| p.pack));
                if *finished {
                    piece.ended = Some(Stage::Packed);
                    piece.since = at;
                }
            }
            Act::Discarded { .. } => {
                piece.ended = Some(Stage::Discarded);
                piece.since = at;
            }
            _ => {}
        }
    }

    /// Every milligram the lot took in, and where it is now; equal when the books are right.
    #[must_use]
    pub fn in_and_out(&self) -> (Milligrams, Milligrams) {
        let taken_in = self.received + self.materials.values().copied().sum();
        let pieces: Milligrams = self.pieces.values().map(|p| p.mass + p.in_cure).sum();
        let packs: Milligrams = self.packs.values().map(|p| p.mass).sum();
        let kept: Milligrams = self.byproducts.values().copied().sum();
        let lost: Milligrams = self.losses.values().copied().sum();
        (taken_in, self.left + pieces + packs + kept + lost)
    }
}

fn pack(piece: PieceId, new: &NewPack, entry: &Entry) -> Pack {
    Pack {
        id: new.pack,
        piece,
        tag: new.tag.clone(),
        mass: Milligrams::ZERO,
        slices: new.slices,
        place: new.place.clone(),
        allergens: new.allergens.clone(),
        at: entry.happened_at,
        entry: entry.id,
    }
}

/// A reading of so many grams, for callers that have no typed words.
#[must_use]
pub fn reading(grams: f64) -> Reading {
    Reading {
        said: format!("{} g", crate::units::show::trim(grams, 3)),
        mg: Milligrams::from_grams(grams),
    }
}
