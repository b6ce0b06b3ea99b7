//! Verdicts that are kept, and worked out anew for what an entry touches.

use super::{ActualContents, Assessment, Judge, Within};
use crate::house::House;
use crate::ids::{LotId, PackId, PieceId, RunId, VesselId};
use crate::ledger::book::{Book, LotBook};
use crate::ledger::state::State;
use crate::piece::printed::{LabelChange, Verdict};
use crate::piece::{Piece, Stage};
use crate::run::Watched;
use crate::verdict::contents::contents;
use std::collections::{BTreeMap, BTreeSet, HashMap};
use std::sync::{Arc, PoisonError, RwLock};

/// The verdicts of one lot.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct LotVerdicts {
    /// Of every piece.
    pub pieces: BTreeMap<PieceId, Assessment>,
    /// Of every pack.
    pub packs: BTreeMap<PackId, Assessment>,
    /// Packs whose label says something else than may be said now, with in what.
    pub outdated: Vec<(PackId, Vec<LabelChange>)>,
    /// Packs that left the house and that nobody may eat by now, of which nobody was told yet.
    pub recalled: Vec<PackId>,
}

impl LotVerdicts {
    /// What a list says of a piece: the worst of it and of its packs that are there. Once all of it is packed its packs alone
    /// decide: one that was cooked since may be better than the piece was.
    #[must_use]
    pub fn of_card(&self, state: &State, piece: &Piece) -> Option<&Assessment> {
        let there = piece.packs.iter().filter(|id| {
            let pack = state.packs.get(id);
            pack.is_some_and(|p| super::is_there(piece, p))
        });
        let packs: Vec<&Assessment> = there.filter_map(|id| self.packs.get(id)).collect();
        let own = self.pieces.get(&piece.id);
        let own = own.filter(|_| packs.is_empty() || piece.ended != Some(Stage::Packed));
        own.into_iter().chain(packs).max_by_key(|v| v.word)
    }
}

/// What the verdicts of a lot were worked out from.
struct Basis {
    /// The lot and every lot that it takes from, as they were. Holding them keeps their addresses
    /// from being used again, so that the same address means the same facts.
    lots: Vec<(LotId, Arc<LotBook>)>,
    /// How many were ever put into the vessels of its pieces: one that comes in later changes what all have.
    vessels: Vec<(VesselId, usize)>,
    /// The runs that its pieces were heated in.
    runs: Vec<(RunId, Option<Arc<Watched>>)>,
    home: Arc<House>,
}

/// Verdicts of all lots, each worked out once for the facts it rests on.
#[derive(Default)]
pub struct VerdictCache {
    lots: RwLock<HashMap<LotId, (Basis, Arc<LotVerdicts>)>>,
    home: RwLock<Option<Arc<House>>>,
}

impl VerdictCache {
    /// The verdicts of a lot.
    #[must_use]
    pub fn lot(&self, book: &Book, home: &House, id: LotId) -> Arc<LotVerdicts> {
        let Some(lot) = book.lot(id) else {
            return Arc::default();
        };
        let same = self.household(home);
        let runs = &home.runs;
        let is_same = |was: &Option<Arc<Watched>>, is: Option<&Arc<Watched>>| match (was, is) {
            (Some(was), Some(is)) => Arc::ptr_eq(was, is),
            (None, None) => true,
            (Some(_), None) | (None, Some(_)) => false,
        };
        let stands = |basis: &Basis| {
            Arc::ptr_eq(&basis.home, &same)
                && basis
                    .runs
                    .iter()
                    .all(|(id, was)| is_same(was, runs.get(*id)))
                && basis
                    .lots
                    .iter()
                    .all(|(id, was)| book.lot(*id).is_some_and(|is| Arc::ptr_eq(was, is)))
                && basis
                    .vessels
                    .iter()
                    .all(|(id, were)| book.ever_in(*id).len() == *were)
        };
        {
            let kept = self.lots.read().unwrap_or_else(PoisonError::into_inner);
            if let Some((basis, verdicts)) = kept.get(&id)
                && stands(basis)
            {
                return verdicts.clone();
            }
        }
        let verdicts = Arc::new(work_out(book, home, lot));
        let lots = depends_on(book, lot);
        let pieces = lots.iter().flat_map(|(_, l)| l.state.pieces.values());
        let heated: BTreeSet<RunId> = pieces
            .flat_map(|p| p.heats.iter().filter_map(|h| h.run))
            .collect();
        let basis = Basis {
            runs: heated
                .into_iter()
                .map(|id| (id, runs.get(id).cloned()))
                .collect(),
            lots,
            vessels: lot
                .state
                .pieces
                .values()
                .filter_map(Piece::vessel)
                .map(|id| (id, book.ever_in(id).len()))
                .collect(),
            home: same,
        };
        let mut kept = self.lots.write().unwrap_or_else(PoisonError::into_inner);
        kept.insert(id, (basis, verdicts.clone()));
        verdicts
    }

    /// The household, as the same thing for as long as it says the same of everything but its runs: those are looked at one by
    /// one, since a smoker that is read each second concerns only what lies in it.
    fn household(&self, home: &House) -> Arc<House> {
        {
            let kept = self.home.read().unwrap_or_else(PoisonError::into_inner);
            if let Some(known) = kept.as_ref()
                && **known == *home
            {
                return known.clone();
            }
        }
        let new = Arc::new(home.clone());
        *self.home.write().unwrap_or_else(PoisonError::into_inner) = Some(new.clone());
        new
    }
}

/// The verdicts of a lot from its facts, and nothing kept.
#[must_use]
pub fn work_out(book: &Book, home: &House, lot: &LotBook) -> LotVerdicts {
    let judge = Judge { book, home };
    let state = &lot.state;
    let mut found = LotVerdicts::default();
    for piece in state.pieces.values() {
        let verdict = judge.piece(state, piece);
        let lies_by_a_log = |id: &PackId| {
            let pack = state.packs.get(id);
            pack.is_some_and(|p| {
                p.stays()
                    .filter_map(|s| s.lies_in)
                    .any(|id| home.climate.place(id).is_some())
            })
        };
        let by_pack =
            piece.checks.iter().any(|c| c.pack.is_some()) || piece.packs.iter().any(lies_by_a_log);
        // What is in it is the same for all of its packs.
        let mut of_piece: Option<(Within<'_>, Option<ActualContents>)> = None;
        for id in &piece.packs {
            let Some(pack) = state.packs.get(id) else {
                continue;
            };
            let own = if by_pack {
                judge.pack(state, piece, *id)
            } else {
                verdict.clone()
            };
            let said = pack
                .printed
                .clone()
                .or_else(|| super::printed_of_old(piece));
            let said_of = said.as_ref().map(|s| s.word);
            if super::is_there(piece, pack)
                && let Some(said) = said
            {
                let contents = || {
                    let (within, really) = of_piece.get_or_insert_with(|| {
                        (judge.within(state, piece), judge.really(state, piece))
                    });
                    contents(&judge, within, (piece, pack), &own, really.as_ref())
                };
                let changed = said.changes(&own, contents);
                if !changed.is_empty() {
                    found.outdated.push((*id, changed));
                }
            }
            // Who has it, or ate of it, has to know.
            let told = pack.left.as_ref().is_none_or(|left| left.told.is_some());
            let knew = said_of.is_some_and(|s| s == Verdict::DoNotEat);
            if own.word == Verdict::DoNotEat && !told && !knew {
                found.recalled.push(*id);
            }
            found.packs.insert(*id, own);
        }
        found.pieces.insert(piece.id, verdict);
    }
    found
}

/// A lot and every lot that its pieces take meat or brine from, at any depth.
fn depends_on(book: &Book, lot: &Arc<LotBook>) -> Vec<(LotId, Arc<LotBook>)> {
    let mut found: Vec<(LotId, Arc<LotBook>)> = vec![(lot.state.id, lot.clone())];
    let mut seen: BTreeSet<LotId> = BTreeSet::from([lot.state.id]);
    let mut at = 0;
    while let Some((_, one)) = found.get(at).cloned() {
        at += 1;
        let pieces = one.state.pieces.values();
        let given = pieces
            .clone()
            .flat_map(|p| p.taken.iter().filter_map(|t| t.lot));
        let brine = pieces
            .filter_map(|p| p.dose())
            .flat_map(|d| {
                let vessel = d.vessel.as_ref().map(|v| book.ever_in(v.id));
                d.mixed_with.iter().chain(vessel.into_iter().flatten())
            })
            .filter_map(|id| Some(book.piece(*id)?.0.state.id));
        for id in given.chain(brine) {
            if seen.insert(id)
                && let Some(next) = book.lot(id)
            {
                found.push((id, next.clone()));
            }
        }
    }
    found
}
