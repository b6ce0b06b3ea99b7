//! What is in a piece: the union over everything that went into it, at any depth of grinding,
//! joining and given trim.

use super::Judge;
use crate::animal::byproduct::Byproduct;
use crate::catalogue::meats::{MeatTraits, NO_MEAT};
use crate::catalogue::species::{MIX, RawDryingVerdict};
use crate::ids::{LotId, PieceId};
use crate::ledger::state::State;
use crate::ledger::{EntryId, Origin};
use crate::piece::{Piece, Taken};
use crate::units::{Celsius, Milligrams};
use std::collections::BTreeSet;

/// A meat that something is made of, with how much of it went in.
#[derive(Clone, Debug, PartialEq)]
pub struct MeatIn {
    /// What is known of it.
    pub traits: MeatTraits,
    /// True when its animal was hunted.
    pub wild: bool,
    /// How much of it, as far as that is known.
    pub mass: Milligrams,
}

/// Everything that went into a piece.
#[derive(Clone, Debug, Default)]
pub struct Within<'a> {
    /// The piece itself first, then every piece it came out of.
    pub pieces: Vec<(&'a State, &'a Piece)>,
    /// What lay in one vessel with any of them.
    pub mates: Vec<(&'a State, &'a Piece)>,
    /// The lots its meat, or that of a mate, came from.
    pub lots: Vec<&'a State>,
    /// What was bought to be ground in.
    pub bought: Vec<&'a Taken>,
    /// Its meats, the most of it first.
    pub meats: Vec<MeatIn>,
    /// True when something of it was ground or diced.
    pub ground: bool,
}

/// Over this only birds are brought (°C).
const BIRD_C: f64 = 73.0;

/// The safe inside temperature of ground meat (°C).
const GROUND_SAFE_C: f64 = 71.1;

impl Within<'_> {
    /// The inside temperature that makes it ready: the highest safe one of the meats in it, raised
    /// by grinding.
    #[must_use]
    pub fn target(&self) -> Celsius {
        let least = if self.ground { GROUND_SAFE_C } else { 0.0 };
        let safe = self.meats.iter().map(|m| m.traits.safe_inside_c);
        Celsius(safe.fold(least, f64::max))
    }

    /// As a label calls its meat: one by its name, several together, game as such.
    #[must_use]
    pub fn name(&self) -> String {
        let mut names: Vec<&str> = Vec::new();
        for meat in &self.meats {
            if !names.contains(&meat.traits.name.as_str()) {
                names.push(&meat.traits.name);
            }
        }
        if names.len() < 2 {
            return names.first().map_or("meat", |n| n).to_string();
        }
        let mut groups: Vec<&str> = Vec::new();
        let is_game = |m: &MeatIn| m.traits.game;
        // Game is named first: it is what nobody may overlook.
        if self.meats.iter().any(is_game) {
            groups.push("game");
        }
        for meat in self.meats.iter().filter(|m| !is_game(m)) {
            if !groups.contains(&meat.traits.name.as_str()) {
                groups.push(&meat.traits.name);
            }
        }
        format!("{} ({})", listed(&groups), names.join(", "))
    }

    /// The meats that are never eaten raw and dried.
    pub fn never_raw_dried(&self) -> impl Iterator<Item = &MeatIn> {
        self.meats.iter().filter(|m| match m.traits.raw_drying {
            RawDryingVerdict::Refused => true,
            RawDryingVerdict::Caution => m.wild,
            RawDryingVerdict::Fine | RawDryingVerdict::FreezeFirst => false,
        })
    }

    /// True when a bird is in it.
    #[must_use]
    pub fn is_bird(&self) -> bool {
        self.meats.iter().any(|m| m.traits.safe_inside_c > BIRD_C)
    }

    /// True when it holds meat of this lot's animal.
    #[must_use]
    pub fn holds(&self, lot: LotId) -> bool {
        self.lots.iter().any(|l| l.id == lot)
    }

    /// The heats that count for it: its own and, of what was cut, those of the whole.
    pub fn pauses(&self) -> impl Iterator<Item = (&Piece, &crate::piece::Pause)> {
        let mut seen: BTreeSet<(EntryId, Option<String>)> = BTreeSet::new();
        self.pieces
            .iter()
            .flat_map(|(_, p)| p.pauses.iter().map(move |pause| (*p, pause)))
            .filter(move |(_, pause)| seen.insert((pause.entry, pause.reason.clone())))
    }
}

/// `pork`, `game and pork`, `game, pork and beef`.
fn listed(names: &[&str]) -> String {
    match names {
        [] => String::new(),
        [one] => (*one).into(),
        [all @ .., last] => format!("{} and {last}", all.join(", ")),
    }
}

/// Walks from a piece to everything that went into it.
struct Walk<'a> {
    judge: Judge<'a>,
    found: Within<'a>,
    seen: BTreeSet<PieceId>,
    mates: BTreeSet<PieceId>,
    lots: BTreeSet<LotId>,
    given: BTreeSet<(LotId, Option<Byproduct>)>,
}

impl<'a> Walk<'a> {
    fn lot(&mut self, state: &'a State) {
        if self.lots.insert(state.id) {
            self.found.lots.push(state);
        }
    }

    fn piece(&mut self, state: &'a State, piece: &'a Piece) {
        if !self.seen.insert(piece.id) {
            return;
        }
        self.found.pieces.push((state, piece));
        self.shared_brine(state, piece);
        self.found.ground |= piece.cut == MIX || !piece.taken.is_empty();
        // What is made of pieces and kept trim alone is of its own lot all the same.
        if piece.parents.is_empty() && piece.taken.is_empty() {
            self.lot(state);
        }
        for parent in &piece.parents {
            match state.pieces.get(parent) {
                Some(parent) => self.piece(state, parent),
                None => self.lot(state),
            }
        }
        for taken in &piece.taken {
            match (taken.lot, taken.kind) {
                (None, Some(kind)) => self.kept(state, Some(kind)),
                (Some(giver), kind) => {
                    if let Some(giver) = self.judge.state(giver) {
                        self.kept(giver, kind);
                    }
                }
                (None, None) => self.found.bought.push(taken),
            }
        }
    }

    /// What lay in one vessel with it: brine and juice of one are in the other. Their animals count; what was done to
    /// them afterwards does not.
    fn shared_brine(&mut self, state: &'a State, piece: &'a Piece) {
        for (their, mate) in self.judge.with(state, piece) {
            if !self.mates.insert(mate.id) {
                continue;
            }
            let mut own = Walk {
                judge: self.judge,
                found: Within::default(),
                seen: self.seen.clone(),
                mates: self.mates.clone(),
                lots: BTreeSet::new(),
                given: BTreeSet::new(),
            };
            own.piece(their, mate);
            for lot in own.found.lots {
                self.lot(lot);
            }
            self.found.bought.extend(own.found.bought);
            self.found.mates.push((their, mate));
            self.mates.extend(own.mates);
        }
    }

    /// Trim, fat, bone or skin kept of a lot: of its animal, and of whatever was in the pieces that
    /// it came off.
    fn kept(&mut self, state: &'a State, kind: Option<Byproduct>) {
        if !self.given.insert((state.id, kind)) {
            return;
        }
        self.lot(state);
        let of = |k: &Byproduct| kind.is_none_or(|wanted| wanted == *k);
        let off: Vec<_> = state
            .facts
            .came_off
            .iter()
            .filter(|(k, _)| of(k))
            .flat_map(|(_, pieces)| pieces)
            .filter_map(|id| state.pieces.get(id))
            .filter(|p| !p.taken.is_empty() || !p.parents.is_empty() || p.cure.is_some())
            .collect();
        for piece in off {
            self.piece(state, piece);
        }
    }
}

impl<'a> Judge<'a> {
    /// Everything that went into a piece of a lot.
    #[must_use]
    pub fn within(&self, state: &'a State, piece: &'a Piece) -> Within<'a> {
        let mut walk = Walk {
            judge: *self,
            found: Within::default(),
            seen: BTreeSet::new(),
            mates: BTreeSet::new(),
            lots: BTreeSet::new(),
            given: BTreeSet::new(),
        };
        walk.piece(state, piece);
        let mut found = walk.found;
        if piece.build().is_some_and(|b| b.is_ground()) {
            found.ground = true;
        }
        found.meats = self.meats(piece, &found);
        found
    }

    /// The animal that something bought is of: what was said, else what its name says.
    #[must_use]
    pub fn meat_of(&self, taken: &Taken) -> Option<String> {
        let by_name = || self.book.catalogue().meat_by_name(&taken.name);
        taken.species.clone().or_else(by_name)
    }

    /// The meats of it, with what each brought as far as that was weighed.
    fn meats(&self, piece: &Piece, within: &Within<'_>) -> Vec<MeatIn> {
        let mut meats: Vec<MeatIn> = Vec::new();
        let mut add = |traits: MeatTraits, wild: bool, mass: Milligrams| match meats
            .iter_mut()
            .find(|m| m.traits.key == traits.key && m.traits.name == traits.name)
        {
            Some(there) => {
                there.mass += mass;
                there.wild |= wild;
            }
            None => meats.push(MeatIn { traits, wild, mass }),
        };
        let catalogue = self.book.catalogue();
        let of_lot = |state: &State| match &state.lot {
            Some(lot) => {
                let known = catalogue.meat_traits(Some(&lot.received.species));
                let species = lot.species();
                let traits = MeatTraits {
                    safe_inside_c: species.safe_inside_c,
                    raw_drying: species.raw_drying.verdict,
                    name: species.meat.clone(),
                    ..known
                };
                (traits, lot.received.origin == Origin::Harvested)
            }
            None => (catalogue.meat_traits(None), false),
        };
        let mut weighed = Milligrams::ZERO;
        // What was ground in by weight is known; the rest is the piece's own animal.
        for (state, made) in &within.pieces {
            // Of a part it is the part's share.
            let share = (piece.green.grams() / made.green.grams().max(f64::MIN_POSITIVE)).min(1.0);
            for taken in &made.taken {
                let mass = Milligrams::from_grams(taken.mass.grams() * share);
                let giver = match (taken.lot, taken.kind) {
                    (Some(lot), _) => self.state(lot),
                    (None, Some(_)) => Some(*state),
                    (None, None) => None,
                };
                match giver {
                    Some(giver) => {
                        let (traits, wild) = of_lot(giver);
                        weighed += mass;
                        add(traits, wild, mass);
                    }
                    None if taken.lot.is_some() => {
                        add(catalogue.meat_traits(None), false, mass);
                    }
                    None => {
                        let key = self.meat_of(taken);
                        if key.as_deref() != Some(NO_MEAT) {
                            weighed += mass;
                            add(catalogue.meat_traits(key.as_deref()), false, mass);
                        }
                    }
                }
            }
        }
        for state in &within.lots {
            let (traits, wild) = of_lot(state);
            add(traits, wild, Milligrams::ZERO);
        }
        let own = within.lots.first().map(|s| of_lot(s).0.name);
        let rest = piece.green - weighed;
        if let Some(own) = own
            && rest > Milligrams::ZERO
            && let Some(there) = meats.iter_mut().find(|m| m.traits.name == own)
        {
            there.mass += rest;
        }
        meats.sort_by_key(|m| std::cmp::Reverse(m.mass));
        meats
    }
}
