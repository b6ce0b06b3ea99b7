//! What follows from the entries of one lot: where each piece is and what it weighs.

use super::{
    Account, AgeClass, Entry, EntryId, Loss, LotId, Origin, PackId, PieceId, Posting, Sex,
};
use crate::animal::byproduct::Byproduct;
use crate::animal::expect::{Expectation, OwnShares, expect};
use crate::animal::hold::{self, AirSpell, FreezerReading, Frozen, HoldState};
use crate::catalogue::Catalogue;
use crate::catalogue::holds::{HoldAnswer, HoldKind, HoldWhen, SpeciesHold};
use crate::catalogue::species::Species;
use crate::ledger::facts::received::Received;
use crate::piece::Frost;
pub use crate::piece::{Hanging, InCure, Pack, Pause, Piece, Point, Stage, Weighing};
use crate::units::Milligrams;
pub use crate::units::reading;
use jiff::{SignedDuration, Timestamp};
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// What came in, as its entries leave it.
#[derive(Clone, Debug, PartialEq)]
pub struct Lot {
    /// What was said when it came.
    pub received: Received,
    /// When it came.
    pub at: Timestamp,
    /// When its break-down was finished.
    pub closed: Option<Timestamp>,
    /// Its species' data, as it was when it came.
    species: Arc<Species>,
}

impl Lot {
    /// What came at `at`, of a species as the catalogue and its shelf know it.
    #[must_use]
    pub fn new(received: Received, at: Timestamp, catalogue: &Catalogue) -> Self {
        let species = catalogue.species_as(&received.species, received.species_version);
        Self {
            received,
            at,
            closed: None,
            species,
        }
    }

    /// Its species' data.
    #[must_use]
    pub fn species(&self) -> &Species {
        &self.species
    }

    /// What may hold its meat back.
    pub fn holds(&self) -> impl Iterator<Item = &SpeciesHold> {
        let r = &self.received;
        self.species.holds.iter().filter(|h| match h.when {
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
    /// Why, where it goes past what was waited for.
    pub reason: Option<String>,
    /// The entry that says so.
    pub entry: EntryId,
}

/// What is known of a lot that carries no mass.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Facts {
    /// The answer of each kind that counts: the newest, but a bad one stands.
    pub answers: BTreeMap<HoldKind, Answered>,
    /// Every answer, in order.
    pub answered: Vec<(HoldKind, Answered)>,
    /// Temperatures read in the freezer, of one piece or of everything there.
    pub freezer: Vec<(Option<PieceId>, FreezerReading)>,
    /// How warm the air around its meat was, around one piece or all of it.
    pub air: Vec<(Option<PieceId>, AirSpell)>,
    /// Ways of cutting that were settled on, by choice.
    pub cutting: BTreeMap<String, String>,
    /// The pieces off which trim, fat, bone or skin came.
    pub came_off: BTreeMap<Byproduct, BTreeSet<PieceId>>,
    /// When grinder, board and knives were cleaned after it.
    pub cleaned: Vec<Timestamp>,
}

/// What a state leans on. It takes no part in comparing: what follows from entries is the same
/// whichever catalogue it was looked up in.
#[derive(Clone, Debug)]
struct Leaning(Arc<Catalogue>);

impl PartialEq for Leaning {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}

/// Everything derived from the live entries of one lot.
#[derive(Clone, Debug, PartialEq)]
pub struct State {
    /// The lot's number.
    pub id: LotId,
    /// What builds and species are, now and on the household's shelf.
    catalogue: Leaning,
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
    /// What of that was used, given or thrown away since.
    pub byproducts_used: BTreeMap<Byproduct, Milligrams>,
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
    pub fn new(id: LotId, catalogue: Arc<Catalogue>) -> Self {
        Self {
            id,
            catalogue: Leaning(catalogue),
            lot: None,
            left: Milligrams::ZERO,
            pieces: BTreeMap::new(),
            packs: BTreeMap::new(),
            byproducts: BTreeMap::new(),
            byproducts_used: BTreeMap::new(),
            losses: BTreeMap::new(),
            materials: BTreeMap::new(),
            received: Milligrams::ZERO,
            given: BTreeMap::new(),
            facts: Facts::default(),
        }
    }

    /// What builds and species are, now and on the household's shelf.
    #[must_use]
    pub fn catalogue(&self) -> &Arc<Catalogue> {
        &self.catalogue.0
    }

    /// Pieces that are no more because they went into another one.
    pub(crate) fn went_into(&mut self, pieces: &[PieceId], into: PieceId, entry: &Entry) {
        for id in pieces {
            if let Some(piece) = self.pieces.get_mut(id) {
                piece.ended = Some(Stage::Joined);
                piece.moved(entry.happened_at, None);
                piece.parts = vec![into];
                piece.since = entry.happened_at;
            }
        }
    }

    /// The piece called so.
    pub(crate) fn piece_mut(&mut self, id: PieceId) -> Option<&mut Piece> {
        self.pieces.get_mut(&id)
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
        self.holds_until(piece, None, now)
    }

    /// The same of meat that stopped being raw then, whatever was read afterwards: what was given to a block, say.
    #[must_use]
    pub fn holds_until(
        &self,
        piece: Option<&Piece>,
        until: Option<Timestamp>,
        now: Timestamp,
    ) -> Vec<HoldState> {
        let Some(lot) = &self.lot else {
            return Vec::new();
        };
        let frozen = self.frozen(piece, until);
        lot.holds()
            .map(|h| {
                let answer = self.facts.answers.get(&h.kind).map(|a| (a.answer, a.at));
                hold::stand(h, answer, &frozen, now)
            })
            .collect()
    }

    /// What was used, given or thrown away of what was kept.
    #[must_use]
    pub fn used_of(&self, kind: Byproduct) -> Milligrams {
        self.byproducts_used.get(&kind).copied().unwrap_or_default()
    }

    /// For how long a piece is raw and unfrozen in the house: since its animal came in, less what it lay in the freezer. None
    /// where something was frozen and nobody says until when.
    #[must_use]
    pub fn raw_for(&self, piece: &Piece, at: Timestamp) -> Option<SignedDuration> {
        let lot = self.lot.as_ref()?;
        let family = self.family(piece);
        let frosts = family.iter().filter_map(|id| self.pieces.get(id));
        let frosts: Vec<&Frost> = frosts.flat_map(|p| &p.frosts).collect();
        let somehow =
            lot.received.frozen.is_some() || !self.frozen(Some(piece), None).readings.is_empty();
        if somehow && frosts.is_empty() {
            return None;
        }
        let frozen: SignedDuration = frosts.iter().map(|f| f.lasted(lot.at, at)).sum();
        Some(at.duration_since(lot.at) - frozen)
    }

    /// What is known of the freezing of a piece, or of what was kept of the lot: what lay there then, raw.
    fn frozen(&self, piece: Option<&Piece>, until: Option<Timestamp>) -> Frozen {
        let family = piece.map(|p| self.family(p)).unwrap_or_default();
        let known = || family.iter().filter_map(|id| self.pieces.get(id));
        let first = |one: Option<Timestamp>, other: Option<Timestamp>| match (one, other) {
            (Some(a), Some(b)) => Some(a.min(b)),
            (a, b) => a.or(b),
        };
        // What was read of everything there is not of what lay in its cure then; what was read in the piece itself is, until it
        // is heated or hangs.
        let cured = known()
            .filter_map(|p| p.cure.as_ref().map(|c| c.since))
            .min();
        let dried = known().filter_map(Piece::raw_until).min();
        let dried = first(dried, until);
        let counts = |of: Option<PieceId>, at: Timestamp| {
            of.is_none_or(|id| family.contains(&id))
                && dried.is_none_or(|end| at <= end)
                && (of.is_some() || cured.is_none_or(|since| at <= since))
        };
        let readings: Vec<FreezerReading> = self
            .facts
            .freezer
            .iter()
            .filter(|(of, r)| counts(*of, r.at))
            .map(|(_, reading)| *reading)
            .collect();
        let air = self.facts.air.iter().filter(|(of, a)| counts(*of, a.until));
        // As thick as what was frozen: the whole that it was cut from, if that was there already.
        let begun = readings.first().map(|r| r.at);
        let whole = known().min_by_key(|p| p.weighings.first().map(|w| w.at));
        let whole = whole.filter(|p| {
            let weighed = p.weighings.first().map(|w| w.at);
            weighed.is_none() || begun.is_none() || weighed <= begun
        });
        Frozen {
            readings,
            air: air.map(|(_, a)| *a).collect(),
            thickness_mm: whole.and_then(|p| p.shape.thickness()).map(|t| t.0),
            until: dried,
        }
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

    /// Takes in one entry, in the order of the work: room for what it brings into being, then
    /// its masses, then what it means.
    pub fn apply(&mut self, entry: &Entry) {
        entry.act.begin(self, entry);
        for posting in &entry.postings {
            self.move_mass(posting);
        }
        entry.act.conclude(self, entry);
        self.note_what_came_off(entry);
        self.note_what_gave_pause(entry);
    }

    /// What is kept beside the pieces carries whatever was in the piece that it came off.
    fn note_what_came_off(&mut self, entry: &Entry) {
        for posting in &entry.postings {
            let Account::Byproduct(kind) = &posting.account else {
                continue;
            };
            if posting.mass.is_some() {
                let pieces = entry.act.pieces();
                self.facts.came_off.entry(*kind).or_default().extend(pieces);
            }
        }
    }

    fn note_what_gave_pause(&mut self, entry: &Entry) {
        if entry.kept.is_empty() {
            return;
        }
        let fact = entry.act.fact();
        for id in entry.act.pieces() {
            if let Some(piece) = self.pieces.get_mut(&id) {
                piece.pauses.push(Pause {
                    entry: entry.id,
                    at: entry.happened_at,
                    did: fact.label(),
                    findings: entry.kept.clone(),
                    reason: fact.reason().map(str::to_string),
                });
            }
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
