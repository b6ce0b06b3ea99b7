//! What there is to plan with: pieces not dosed yet, cuts that open animals still hold, kept trim
//! and fat.

use super::places::{PlaceTaken, places_now};
use crate::animal::byproduct::Byproduct;
use crate::animal::expect::{OwnShare, OwnShares};
use crate::animal::hold::HoldState;
use crate::animal::{Cut, Portion, Species};
use crate::assign::suggest::Capacity;
use crate::assign::{Candidate, best_first, suitability};
use crate::builds::{Build, Wanted};
use crate::catalogue::Catalogue;
use crate::household::Household;
use crate::ledger::book::{Book, LotBook};
use crate::ledger::own::{self, counts_towards, weighed_by_cut};
use crate::ledger::state::{Piece, Stage};
use crate::ledger::{LotId, Origin, PieceId};
use crate::shape::Shape;
use crate::units::{Fraction, Grams, Millimetres};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;

/// A cut is expected only while more than this share of it is still to be weighed out.
const STILL_TO_COME: f64 = 0.15;

/// Less than this is no cut any more, but what stuck to the bone (g).
const LEAST_TO_COME_G: f64 = 50.0;

/// One thing a supply could become.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SupplyOption {
    /// The build.
    pub build: String,
    /// As it is called.
    pub name: String,
    /// 2 classic, 1 works.
    pub score: u8,
    /// Meat that goes into the cure, once boned where that is asked for (g).
    pub usable_g: f64,
    /// Finished product; for a ground build what it brings into the block (g).
    pub gives_g: f64,
    /// What has to be done first.
    pub first: Vec<String>,
    /// Why it suits.
    pub reason: String,
}

/// A piece, or a cut still to be cut.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Supply {
    /// Names it in plans: `piece:12`, or `cut:3:belly:1` for one still to be cut.
    pub key: String,
    /// The piece, once it is cut.
    pub piece: Option<PieceId>,
    /// The lot.
    pub lot: LotId,
    /// Its tag, or the lot's with the cut.
    pub tag: String,
    /// Its species.
    pub species: String,
    /// As the species is called.
    pub species_name: String,
    /// Its cut.
    pub cut: String,
    /// As the cut is called.
    pub cut_name: String,
    /// What it weighs, or should (g).
    pub mass_g: f64,
    /// Greatest thickness, if it was measured (mm).
    pub thickness_mm: Option<f64>,
    /// Whether the skin is on.
    pub skin_on: bool,
    /// Whether fat covers one side.
    pub fat_cap: bool,
    /// What it could become now, best first.
    pub options: Vec<SupplyOption>,
    /// The product it has been given.
    pub assigned: Option<String>,
    /// The product it is locked to: one it was given, or one chosen by hand.
    pub locked: Option<String>,
}

/// Trim or fat that is kept loose.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LooseSupply {
    /// Names it in plans: `loose:3:trim`.
    pub key: String,
    /// The lot it is of.
    pub lot: LotId,
    /// The lot's tag.
    pub lot_tag: String,
    /// What it is.
    pub kind: Byproduct,
    /// As it is called: `elk trim`.
    pub name: String,
    /// What there is (g).
    pub mass_g: f64,
    /// Its share of fat.
    pub fat_fraction: f64,
    /// The ground builds it is good for.
    pub builds: Vec<String>,
}

/// Everything there is to plan with.
#[derive(Clone, Debug, PartialEq)]
pub struct Table {
    /// What builds and species are.
    pub catalogue: Arc<Catalogue>,
    /// Pieces and cuts.
    pub supply: Vec<Supply>,
    /// Trim and fat.
    pub loose: Vec<LooseSupply>,
    /// Places.
    pub places: Vec<PlaceTaken>,
    /// Own yields, where there are enough.
    pub yields: BTreeMap<String, OwnShare>,
}

/// Choices made by hand: supply to build.
pub type Locks = BTreeMap<String, String>;

/// Gathers what there is to plan with.
#[must_use]
pub fn table(book: &Book, home: &Household, locks: &Locks, now: Timestamp) -> Table {
    let yields = own::yields(book);
    let mut table = Table {
        catalogue: book.catalogue().clone(),
        supply: Vec::new(),
        loose: Vec::new(),
        places: places_now(book, home),
        yields,
    };
    let mut own: BTreeMap<&str, OwnShares> = BTreeMap::new();
    for lot in book.lots() {
        let Some(came) = &lot.state.lot else { continue };
        let species = came.species();
        let waits = |p: &&Piece| matches!(p.stage(), Stage::Assign | Stage::Dose);
        for piece in lot.state.pieces.values().filter(waits) {
            if let Some(cut) = species.cut(&piece.cut) {
                let holds = lot.state.holds(Some(piece), now);
                table.add_piece(lot, piece, cut, &holds, home, locks);
            }
        }
        if came.closed.is_none() {
            let shares = own
                .entry(&species.key)
                .or_insert_with(|| own::shares(book, species));
            let holds = lot.state.holds(None, now);
            table.add_cuts(lot, shares, &holds, home, locks);
        }
        table.add_loose(lot);
    }
    table
}

/// What a build makes of a gram of its meat: the household's own mean, or the catalogue's middle.
#[must_use]
pub fn yield_of(build: &Build, own: &BTreeMap<String, OwnShare>) -> Fraction {
    own.get(&build.key)
        .map_or(build.usual_yield(), |o| Fraction(o.mean))
}

/// What of a cut goes into the cure, once boned where its build asks for that.
#[must_use]
pub fn usable(build: &Build, cut: &Cut, bone_in: bool, mass: Grams) -> Grams {
    let boned = bone_in && (build.wants.bone == Wanted::Off || build.is_ground());
    if boned {
        mass * (1.0 - cut.bone_fraction)
    } else {
        mass
    }
}

/// A supply before its options are known.
struct Draft<'a> {
    key: String,
    piece: Option<&'a Piece>,
    tag: String,
    cut: &'a Cut,
    mass_g: f64,
    bone_in: bool,
    skin_on: bool,
}

impl Table {
    fn add_piece(
        &mut self,
        lot: &LotBook,
        piece: &Piece,
        cut: &Cut,
        holds: &[HoldState],
        home: &Household,
        locks: &Locks,
    ) {
        let draft = Draft {
            key: format!("piece:{}", piece.id.0),
            piece: Some(piece),
            tag: piece.tag.clone(),
            cut,
            mass_g: piece.mass.grams(),
            bone_in: piece.shape.bone_in,
            skin_on: piece.shape.skin_on,
        };
        self.add(lot, draft, holds, home, locks);
    }

    /// Cuts that an open animal still holds, by the ways of cutting that were settled on.
    fn add_cuts(
        &mut self,
        lot: &LotBook,
        own: &OwnShares,
        holds: &[HoldState],
        home: &Household,
        locks: &Locks,
    ) {
        let Some(came) = &lot.state.lot else { return };
        let species = came.species();
        let tag = &came.received.tag;
        for (key, lumps, each) in still_to_come(lot, own) {
            let Some(cut) = species.cut(&key) else {
                continue;
            };
            for i in 1..=lumps {
                let draft = Draft {
                    key: format!("cut:{}:{key}:{i}", lot.state.id.0),
                    piece: None,
                    tag: if lumps > 1 {
                        format!("{tag} {} {i}", cut.name)
                    } else {
                        format!("{tag} {}", cut.name)
                    },
                    cut,
                    mass_g: each.0,
                    bone_in: came.received.comes_bone_in(cut),
                    skin_on: cut.skin_on && came.received.skin_on,
                };
                self.add(lot, draft, holds, home, locks);
            }
        }
    }

    fn add(
        &mut self,
        lot: &LotBook,
        draft: Draft<'_>,
        holds: &[HoldState],
        home: &Household,
        locks: &Locks,
    ) {
        let Some(came) = &lot.state.lot else { return };
        let species = came.species();
        let piece = draft.piece;
        let candidate = Candidate {
            species,
            cut: draft.cut,
            wild: came.received.origin == Origin::Harvested,
            shape: Shape {
                bone_in: draft.bone_in,
                skin_on: draft.skin_on,
                ..piece.map(|p| p.shape.clone()).unwrap_or_default()
            },
            opened: piece.is_some_and(Piece::is_opened),
            fat: piece.and_then(|p| p.fat.as_ref()).map(|f| f.value),
            is_cut: piece.is_some(),
            equipment: home.equipment.as_ref(),
            holds,
            units: home.units,
        };
        let option = |build: &Build, score, first, reason| {
            let usable_g = usable(build, draft.cut, draft.bone_in, Grams(draft.mass_g)).0;
            SupplyOption {
                build: build.key.clone(),
                name: build.name.clone(),
                score,
                usable_g,
                gives_g: if build.is_ground() {
                    usable_g
                } else {
                    usable_g * yield_of(build, &self.yields).0
                },
                first,
                reason,
            }
        };
        let mut options: Vec<_> = self
            .catalogue
            .builds
            .iter()
            .filter(|b| !b.ending && may_suit(b, &candidate))
            .filter_map(|b| {
                let found = suitability(b, &candidate);
                if !found.is_possible_now() {
                    return None;
                }
                let reason = found.reasons.into_iter().next().unwrap_or_default();
                Some(option(b, found.score, found.first, reason))
            })
            .collect();
        options.sort_by_key(|o| best_first(o.score, &o.build, &self.catalogue));
        let given = piece.and_then(|p| p.product.clone());
        let assigned = given.as_ref().map(|b| b.key.clone());
        // What a piece was given is the person's word, even where it does not suit.
        if let Some(build) = &given
            && !build.ending
            && !options.iter().any(|o| o.build == build.key)
        {
            let reason = "You gave it this product.".into();
            options.push(option(build, 1, Vec::new(), reason));
        }
        let locked = assigned
            .clone()
            .or_else(|| locks.get(&draft.key).cloned())
            .filter(|b| options.iter().any(|o| o.build == *b));
        self.supply.push(Supply {
            key: draft.key,
            piece: piece.map(|p| p.id),
            lot: lot.state.id,
            tag: draft.tag,
            species: species.key.clone(),
            species_name: species.name.clone(),
            cut: draft.cut.key.clone(),
            cut_name: draft.cut.name.clone(),
            mass_g: draft.mass_g,
            thickness_mm: piece
                .and_then(|p| p.shape.thickness())
                .map(Millimetres::get),
            skin_on: draft.skin_on,
            fat_cap: piece.is_some_and(|p| p.shape.fat_cap),
            options,
            assigned,
            locked,
        });
    }

    fn add_loose(&mut self, lot: &LotBook) {
        let Some(came) = &lot.state.lot else { return };
        let species = came.species();
        if lot
            .state
            .holds(None, came.at)
            .iter()
            .any(HoldState::forbids_everything)
        {
            return;
        }
        for (kind, mass) in &lot.state.byproducts {
            let Some(fat_fraction) = species.fat_of_kept(*kind) else {
                continue;
            };
            let word = crate::ledger::word(kind);
            let builds: Vec<_> = self
                .catalogue
                .builds
                .iter()
                .filter(|b| b.is_ground() && grinds(b, species, *kind))
                .map(|b| b.key.clone())
                .collect();
            if mass.is_some() && !builds.is_empty() {
                self.loose.push(LooseSupply {
                    key: format!("loose:{}:{}", lot.state.id.0, crate::ledger::word(kind)),
                    lot: lot.state.id,
                    lot_tag: came.received.tag.clone(),
                    kind: *kind,
                    name: format!("{} {word}", species.meat),
                    mass_g: mass.grams(),
                    fat_fraction,
                    builds,
                });
            }
        }
    }

    /// The supply called `key`.
    #[must_use]
    pub fn supply(&self, key: &str) -> Option<&Supply> {
        self.supply.iter().find(|s| s.key == key)
    }

    /// Free places.
    #[must_use]
    pub fn capacity(&self) -> Capacity {
        Capacity(self.places.iter().map(|p| p.free()).collect())
    }
}

/// False for what its table rules out at a glance; saves working out reasons nobody asked for.
fn may_suit(build: &Build, piece: &Candidate<'_>) -> bool {
    piece.cut.key == crate::animal::MIX
        || build
            .suit(piece.species, &piece.cut.key)
            .is_some_and(|s| s.score > 0)
}

/// True when a build takes trim, or fat, of a species.
fn grinds(build: &Build, species: &Species, kind: Byproduct) -> bool {
    species.cuts.iter().any(|cut| {
        // Only fat that people grind: of animals whose back fat or belly the build takes.
        let right = match kind {
            Byproduct::Fat => cut.key == "back_fat",
            Byproduct::Trim
            | Byproduct::Bone
            | Byproduct::Skin
            | Byproduct::Ends
            | Byproduct::Rendered => true,
        };
        right && build.suit(species, &cut.key).is_some_and(|s| s.score > 0)
    })
}

/// Cuts an open lot still holds: the cut, how many lumps, and what each should weigh.
#[must_use]
pub fn still_to_come(lot: &LotBook, own: &OwnShares) -> Vec<(String, u32, Grams)> {
    let Some(came) = &lot.state.lot else {
        return Vec::new();
    };
    let species = came.species();
    if let Some(cut) = &came.received.cut
        && matches!(came.received.portion, Portion::Primal | Portion::Case)
    {
        let out = lot
            .state
            .pieces
            .values()
            .filter(|p| p.parents.is_empty())
            .count() as u32;
        let lumps = came.received.count.unwrap_or(1).saturating_sub(out);
        let left = lot.state.left.grams();
        return if lumps > 0 && left > lot.state.received.grams() * 0.02 {
            vec![(cut.clone(), lumps, Grams(left / f64::from(lumps)))]
        } else {
            Vec::new()
        };
    }
    let Some(expected) = lot.state.expectation(own) else {
        return Vec::new();
    };
    let weighed = weighed_by_cut(lot, species);
    let mut left: BTreeMap<String, (f64, u32)> = BTreeMap::new();
    for cut in &expected.cuts {
        let middle = f64::midpoint(cut.mass_g.low, cut.mass_g.high);
        let rest = middle - weighed.get(&cut.cut).map_or(0.0, |m| m.0);
        if middle > 0.0 && rest > middle * STILL_TO_COME {
            let lumps = f64::from(cut.count.unwrap_or(1)) * rest / middle;
            left.insert(cut.cut.clone(), (rest, (lumps.round() as u32).max(1)));
        }
    }
    // All of them together are no more than what is still on the carcass.
    let rest: f64 = left.values().map(|(rest, _)| rest).sum();
    let there = lot.state.left.grams().max(0.0);
    if rest > there {
        for (mass, _) in left.values_mut() {
            *mass *= there / rest;
        }
        left.retain(|_, (mass, _)| *mass > LEAST_TO_COME_G);
    }
    // What is settled by name takes the place of the usual cuts.
    let mut found = Vec::new();
    for choice in lot.state.catalogue().choices(species) {
        let option = lot
            .state
            .facts
            .cutting
            .get(&choice.key)
            .and_then(|key| choice.options.iter().find(|o| o.key == *key))
            .unwrap_or(&choice.options[0]);
        let Some(made) = option.makes.as_ref().and_then(|key| species.cut(key)) else {
            continue;
        };
        let Some(out_of) = made.out_of else { continue };
        if !made.of.iter().all(|of| left.contains_key(of)) {
            continue;
        }
        let mut mass = 0.0;
        let mut sources = u32::MAX;
        for of in counts_towards(species, &made.key) {
            if let Some((rest, lumps)) = left.remove(&of.0) {
                let bone = species.cut(&of.0).map_or(0.0, |c| c.bone_fraction);
                // A cut that stays joined comes with its bones; a muscle comes without.
                mass += if made.bone_in || out_of.fraction >= 1.0 {
                    rest
                } else {
                    rest * (1.0 - bone)
                };
                sources = sources.min(lumps);
            }
        }
        let lumps = sources.saturating_mul(out_of.lumps).max(1);
        found.push((
            made.key.clone(),
            lumps,
            Grams(mass * out_of.fraction / f64::from(lumps)),
        ));
    }
    found.extend(
        left.into_iter()
            .map(|(key, (rest, lumps))| (key, lumps, Grams(rest / f64::from(lumps)))),
    );
    let order = |key: &str| species.cuts.iter().position(|c| c.key == key);
    found.sort_by_key(|(key, _, _)| order(key));
    found
}
