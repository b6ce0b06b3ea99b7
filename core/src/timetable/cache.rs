//! Plans that are kept, and worked out anew for what an entry touches.

use super::cure::turn_days;
use super::{Task, ahead, of_piece};
use crate::hang::pace::Paces;
use crate::ids::{LotId, PieceId, VesselId};
use crate::ledger::book::{Book, LotBook};
use crate::timetable::House;
use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};
use std::collections::HashMap;
use std::sync::{Arc, PoisonError, RwLock};

/// So many days ahead turnings are laid out.
pub(crate) const TURNS_AHEAD_DAYS: i64 = 14;

/// The days on which a piece, or the vessel that it lies in, is turned.
#[derive(Clone, Debug, PartialEq)]
pub struct TurnDays {
    /// The piece.
    pub piece: PieceId,
    /// Its tag.
    pub tag: String,
    /// The vessel with all that lie in it.
    pub vessel: Option<VesselId>,
    /// The days.
    pub days: Vec<Date>,
}

/// The plan of one lot.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct LotPlan {
    /// What may be done with its pieces, now or when its time has come.
    pub open: Vec<Task>,
    /// What comes after that.
    pub ahead: Vec<Task>,
    /// When they are turned.
    pub turns: Vec<TurnDays>,
}

impl LotPlan {
    /// The plan of a lot, worked out anew.
    #[must_use]
    pub fn of(book: &Book, lot: &LotBook, home: &House, now: Timestamp) -> Self {
        let mut plan = Self::default();
        let (id, catalogue) = (lot.state.id, book.catalogue());
        let paces = Paces::of_lots(book, home);
        for piece in lot.state.pieces.values() {
            if piece.stage().is_over() {
                continue;
            }
            let open = of_piece(piece, id, home, catalogue, now);
            plan.ahead.extend(ahead(
                piece,
                (&lot.state, &paces),
                id,
                &open,
                home,
                catalogue,
                now,
            ));
            plan.open.extend(open);
            let days = turn_days(piece, home, catalogue, now);
            if !days.is_empty() {
                plan.turns.push(TurnDays {
                    piece: piece.id,
                    tag: piece.tag.clone(),
                    vessel: piece.vessel(),
                    days,
                });
            }
        }
        plan
    }
}

/// What the plan of a lot was worked out from, and for how long it stands.
struct Basis {
    lot: Arc<LotBook>,
    from: Timestamp,
    until: Timestamp,
}

/// Plans of all lots, each worked out once for the facts it rests on and for as long as the day lasts.
#[derive(Default)]
pub struct PlanCache {
    lots: RwLock<HashMap<LotId, (Basis, Arc<LotPlan>)>>,
    home: RwLock<Option<House>>,
}

impl PlanCache {
    /// The plan of every lot that still has something to do.
    #[must_use]
    pub fn all(&self, book: &Book, home: &House, now: Timestamp) -> Vec<Arc<LotPlan>> {
        self.begin(home);
        let plans = book.lots().map(|lot| self.lot(book, lot, home, now));
        plans
            .filter(|p| !p.open.is_empty() || !p.ahead.is_empty())
            .collect()
    }

    /// Forgets everything when the household settled on something else.
    fn begin(&self, home: &House) {
        let runs = |kept: &House| Arc::ptr_eq(&kept.runs, &home.runs);
        let same = |kept: &Option<House>| kept.as_ref().is_some_and(|k| k == home && runs(k));
        if same(&self.home.read().unwrap_or_else(PoisonError::into_inner)) {
            return;
        }
        let mut kept = self.home.write().unwrap_or_else(PoisonError::into_inner);
        *kept = Some(home.clone());
        let mut lots = self.lots.write().unwrap_or_else(PoisonError::into_inner);
        lots.clear();
    }

    fn lot(&self, book: &Book, lot: &Arc<LotBook>, home: &House, now: Timestamp) -> Arc<LotPlan> {
        let id = lot.state.id;
        {
            let kept = self.lots.read().unwrap_or_else(PoisonError::into_inner);
            if let Some((basis, plan)) = kept.get(&id)
                && Arc::ptr_eq(&basis.lot, lot)
                && (basis.from..basis.until).contains(&now)
            {
                return plan.clone();
            }
        }
        let plan = Arc::new(LotPlan::of(book, lot, home, now));
        let turns = plan.open.iter().filter_map(|t| t.turns_at(now));
        let soonest = turns.min();
        let midnight = next_midnight(home, now);
        let basis = Basis {
            lot: lot.clone(),
            from: now,
            until: soonest.map_or(midnight, |s| s.min(midnight)),
        };
        let mut kept = self.lots.write().unwrap_or_else(PoisonError::into_inner);
        kept.insert(id, (basis, plan.clone()));
        plan
    }
}

fn next_midnight(home: &House, now: Timestamp) -> Timestamp {
    let tomorrow = home.settings.day(now).saturating_add(1.day());
    tomorrow
        .to_zoned(home.settings.zone())
        .map_or(Timestamp::MAX, |z| z.timestamp())
}
