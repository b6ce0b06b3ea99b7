//! What follows from the entries of one lot: where each piece is and what it weighs.

mod cutting;

use super::{
    Account, Act, AgeClass, Byproduct, Dose, Entry, EntryId, Loss, LotId, NewPack, Origin, PackId,
    PieceId, Posting, Reading, Received, Sex, Work,
};
use crate::animal::expect::{Expectation, OwnShares, expect};
use crate::animal::hold::{
    self, FreezerReading, HoldAnswer, HoldKind, HoldState, HoldWhen, SpeciesHold,
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
    /// Joined or ground with others into a new piece.
    Joined,
    /// Thrown away.
    Discarded,
}

impl Stage {
    /// True when nothing more happens to a piece.
    #[must_use]
    pub const fn is_over(self) -> bool {
        matches!(
            self,
            Self::Packed | Self::CutUp | Self::Joined | Self::Discarded
        )
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
    /// The piece it was cut from, or those it was made of; empty when it came out of the lot.
    pub parents: Vec<PieceId>,
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
    /// The fat cover kept on it, if it was measured (mm).
    pub fat_cover_mm: Option<f64>,
    /// What was done to it, in order.
    pub worked: Vec<Work>,
    /// Its share of fat, when it was blended.
    pub fat_fraction: Option<f64>,
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
    /// Its parts, or the one piece it went into.
    pub parts: Vec<PieceId>,
}

impl Piece {
    /// A piece of which nothing is known but its weight.
    fn green(id: PieceId, tag: &str, green: Milligrams, entry: &Entry) -> Self {
        Self {
            id,
            parents: Vec::new(),
            tag: tag.into(),
            cut: String::new(),
            thickness_mm: None,
            skin_on: false,
            bone_in: false,
            fat_cap: false,
            fat_cover_mm: None,
            worked: Vec::new(),
            fat_fraction: None,
            green,
            mass: Milligrams::ZERO,
            in_cure: Milligrams::ZERO,
            build: None,
            cure: None,
            out_of_cure: None,
            smoked: None,
            inside_c: None,
            hanging: None,
            turned: None,
            since: entry.happened_at,
            ended: None,
            weighings: vec![Weighing {
                entry: entry.id,
                at: entry.happened_at,
                point: Point::Green,
                net: green,
            }],
            packs: Vec::new(),
            parts: Vec::new(),
        }
    }

    /// What a work on it changes besides its mass.
    fn work(&mut self, work: Work, thickness_mm: Option<f64>, fat_cover_mm: Option<f64>) {
        match work {
            Work::Skin => self.skin_on = false,
            Work::BoneOut => self.bone_in = false,
            Work::Trim | Work::OpenFlat | Work::SquareOff => {}
        }
        if thickness_mm.is_some() {
            self.thickness_mm = thickness_mm;
        }
        if let Some(mm) = fat_cover_mm {
            self.fat_cover_mm = Some(mm);
            self.fat_cap = mm > 0.0;
        }
        self.worked.push(work);
        self.green = self.mass;
        if let Some(first) = self.weighings.first_mut() {
            first.net = self.mass;
        }
    }

    /// True when it lives on in other pieces: cut up, joined or ground.
    #[must_use]
    pub fn went_into_others(&self) -> bool {
        matches!(self.ended, Some(Stage::CutUp | Stage::Joined))
    }

    /// True when it was opened flat, whatever its cut is by nature.
    #[must_use]
    pub fn is_opened(&self) -> bool {
        self.worked.contains(&Work::OpenFlat)
    }

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

    /// What may hold its meat back.
    pub fn holds(&self) -> impl Iterator<Item = &'static SpeciesHold> + '_ {
        let r = &self.received;
        self.species().holds.iter().filter(|h| match h.when {
            HoldWhen::Always => true,
            HoldWhen::Harvested => r.origin == Origin::Harvested,
            HoldWhen::OldMale => {
                r.sex == Some(Sex::Male) && matches!(r.age, Some(AgeClass::Adult | AgeClass::Old))
            }
        })
    }
}

/// An answer to something that holds meat back.
#[derive(Clone, Debug, PartialEq)]
pub struct Answered {
    /// The answer.
    pub answer: HoldAnswer,
    /// When it was given.
    pub at: Timestamp,
    /// By whom, or with which number.
    pub note: Option<String>,
}

/// What is known of a lot that carries no mass.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Facts {
    /// The newest answer of each kind.
    pub answers: BTreeMap<HoldKind, Answered>,
    /// Temperatures read in the freezer, of one piece or of everything there.
    pub freezer: Vec<(Option<PieceId>, FreezerReading)>,
    /// Ways of cutting that were settled on, by choice.
    pub cutting: BTreeMap<String, String>,
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
    /// Trim and fat that other lots took.
    pub given: BTreeMap<LotId, Milligrams>,
    /// What is known besides.
    pub facts: Facts,
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
            given: BTreeMap::new(),
            facts: Facts::default(),
        }
    }

    /// What the lot should give, by the catalogue and the household's own animals.
    #[must_use]
    pub fn expectation(&self, own: &OwnShares) -> Option<Expectation> {
        let lot = self.lot.as_ref()?;
        let r = &lot.received;
        expect(
            lot.species(),
            r.known,
            r.portion,
            self.received.grams(),
            own,
        )
    }

    /// How everything stands that holds this lot's meat back, for one piece or for all of it.
    #[must_use]
    pub fn holds(&self, piece: Option<&Piece>, now: Timestamp) -> Vec<HoldState> {
        let Some(lot) = &self.lot else {
            return Vec::new();
        };
        let family = piece.map(|p| self.family(p)).unwrap_or_default();
        let freezer: Vec<_> = self
            .facts
            .freezer
            .iter()
            .filter(|(of, _)| of.is_none_or(|id| family.contains(&id)))
            .map(|(_, reading)| *reading)
            .collect();
        let thickest = piece.and_then(|p| p.thickness_mm);
        lot.holds()
            .map(|h| {
                let answer = self.facts.answers.get(&h.kind).map(|a| (a.answer, a.at));
                hold::stand(h, answer, &freezer, thickest, now)
            })
            .collect()
    }

    /// A piece and everything it came out of.
    fn family(&self, piece: &Piece) -> Vec<PieceId> {
        let mut family = vec![piece.id];
        let mut at = 0;
        while let Some(id) = family.get(at) {
            if let Some(found) = self.pieces.get(id) {
                family.extend(&found.parents);
            }
            at += 1;
        }
        family
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
                    cut: p.cut.clone(),
                    thickness_mm: p.thickness_mm,
                    skin_on: p.skin_on,
                    bone_in: p.bone_in,
                    fat_cap: p.fat_cap,
                    fat_cover_mm: p.fat_cover_mm,
                    ..Piece::green(p.piece, &p.tag, p.reading.mg, entry)
                };
                self.pieces.insert(p.piece, piece);
            }
            Act::Joined(joined) => self.begin_joined(joined, entry),
            Act::Ground(ground) => self.begin_ground(ground, entry),
            Act::Cut { piece, parts, way } => self.begin_parts(*piece, parts, *way, entry),
            Act::Packed { piece, packs, .. } => {
                for new in packs {
                    self.packs.insert(new.pack, pack(*piece, new, entry));
                }
            }
            _ => {}
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
            Account::Given(lot) => *self.given.entry(*lot).or_default() += mass,
            Account::Byproduct(kind) => *self.byproducts.entry(*kind).or_default() += mass,
            Account::Loss(kind) => *self.losses.entry(*kind).or_default() += mass,
            Account::Material(name) => *self.materials.entry(name.clone()).or_default() -= mass,
        }
    }

    /// Writes down what the entry means for the piece it is about.
    fn conclude(&mut self, entry: &Entry) {
        let at = entry.happened_at;
        self.note(entry);
        for id in entry.act.joins() {
            if let Some(piece) = self.pieces.get_mut(&id) {
                piece.ended = Some(Stage::Joined);
                piece.parts = entry.act.makes().iter().map(|(id, _)| *id).collect();
                piece.since = at;
            }
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
            Act::Worked {
                work,
                thickness_mm,
                fat_cover_mm,
                ..
            } => {
                piece.work(*work, *thickness_mm, *fat_cover_mm);
            }
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

    /// Takes in what is known of the lot and carries no mass.
    fn note(&mut self, entry: &Entry) {
        let at = entry.happened_at;
        match &entry.act {
            Act::BreakdownClosed => {
                if let Some(lot) = &mut self.lot {
                    lot.closed = Some(at);
                }
            }
            Act::CuttingChosen { choice, option } => {
                self.facts.cutting.insert(choice.clone(), option.clone());
            }
            Act::HoldAnswered { kind, answer, note } => {
                let answered = Answered {
                    answer: *answer,
                    at,
                    note: note.clone(),
                };
                self.facts.answers.insert(*kind, answered);
            }
            Act::FreezerRead {
                piece,
                inside_c,
                thickness_mm,
            } => self.facts.freezer.push((
                *piece,
                FreezerReading {
                    at,
                    inside_c: *inside_c,
                    thickness_mm: *thickness_mm,
                },
            )),
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
        let given: Milligrams = self.given.values().copied().sum();
        (taken_in, self.left + pieces + packs + kept + lost + given)
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
