//! How fast a piece dries: by its own weighings, before them by the household's own pieces, before those by its thickness and the air
//! of its place.

use crate::catalogue::place_kinds::DryingAir;
use crate::hang::forecast::{band, fit, loss_after, most_loss, usual_rate};
use crate::house::House;
use crate::ledger::book::Book;
use crate::ledger::state::State;
use crate::piece::{Hanging, Piece, Point};
use crate::place::PlaceId;
use crate::units::{Fraction, Millimetres};
use jiff::Timestamp;
use std::cell::RefCell;
use std::collections::BTreeMap;

/// In a household fridge a piece dries so much slower, whatever its humidity (share of the usual rate).
const IN_FRIDGE: f64 = 0.5;

/// The usual rate is that at 75 % humidity: it goes with what is missing to saturation (%).
const USUAL_MISSING: f64 = 25.0;

/// Only so warm (°C) and so damp (%) does it go with what is missing.
const BY_DAMP: ((f64, f64), (f64, f64)) = ((10.0, 15.0), (60.0, 90.0));

/// Of the household's pieces those count that had come so far towards their target (share of it).
const FAR_ENOUGH: f64 = 0.5;

/// Of the household's pieces the newest so many count.
const NEWEST: usize = 30;

/// What a rate rests on.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum PaceFrom {
    /// So many weighings of its own.
    Weighings(usize),
    /// So many pieces of the household that became the same.
    OwnPieces(usize),
    /// Its thickness alone: nobody read the air of its place, or that is none that the rule holds for.
    Thickness,
    /// Its thickness, and the air of its place as it was read.
    ThicknessAndAir,
}

/// How fast a piece dries.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Pace {
    /// Its rate (a day).
    pub k: f64,
    /// The share it would lose if it hung for ever.
    pub most: f64,
    /// What it had lost when its days begin: nothing, but where nobody knows when it was hung.
    pub begun: f64,
    /// How far its days may be off (share).
    pub band: f64,
    /// What it rests on.
    pub from: PaceFrom,
}

impl Pace {
    /// Days from its hanging until it has lost a share, early, likely and late; none when it never loses that much.
    #[must_use]
    pub fn days_to(&self, loss: Fraction) -> Option<(f64, f64, f64)> {
        let left = (self.most - loss.0) / (self.most - self.begun);
        if left.is_nan() || left <= 0.0 || self.k.is_nan() || self.k <= 0.0 {
            return None;
        }
        let day = (-left.ln() / self.k).max(0.0);
        Some((day * (1.0 - self.band), day, day * (1.0 + self.band)))
    }

    fn lost_by(&self, days: f64) -> f64 {
        self.begun + loss_after(days, self.k, self.most - self.begun).0
    }

    /// The share lost after so many days: at its slow edge, likely, at its fast edge.
    #[must_use]
    pub fn loss_at(&self, days: f64) -> (f64, f64, f64) {
        (
            self.lost_by(days / (1.0 + self.band)),
            self.lost_by(days),
            self.lost_by(days / (1.0 - self.band)),
        )
    }

    /// The share it loses a day around a day, as the curve runs.
    #[must_use]
    pub fn a_day(&self, (from, to): (f64, f64)) -> f64 {
        (self.lost_by(to) - self.lost_by(from)) / (to - from).max(f64::MIN_POSITIVE)
    }
}

/// What it had lost when its days begin: nothing, but where nobody knows when it was hung.
fn begun(piece: &Piece) -> f64 {
    let unknown = piece.hanging.as_ref().is_some_and(|h| !h.since_known);
    let first = losses(piece).into_iter().find(|(day, _)| *day <= 0.0);
    first
        .filter(|_| unknown)
        .map_or(0.0, |(_, loss)| loss.max(0.0))
}

/// The rate that fits what it lost since its days begin.
fn fitted(weighed: &[(f64, f64)], most: f64, begun: f64) -> Option<f64> {
    let since: Vec<_> = weighed
        .iter()
        .map(|(day, loss)| (*day, loss - begun))
        .collect();
    fit(&since, most - begun)
}

/// The share of a piece that is lean: what its block was blended to, else what its cut usually is.
#[must_use]
pub fn lean(state: &State, piece: &Piece) -> Fraction {
    let blended = piece.fat.as_ref().map(|f| f.value.0);
    let usual = || {
        let lot = state.lot.as_ref()?;
        Some(lot.species().cut(&piece.cut)?.fat_fraction)
    };
    let fat = blended.or_else(usual).unwrap_or(0.0);
    Fraction((1.0 - fat).clamp(0.0, 1.0))
}

/// Days since it was hung.
#[must_use]
pub fn days_since(hanging: &Hanging, at: Timestamp) -> f64 {
    at.duration_since(hanging.since).as_secs_f64() / 86_400.0
}

/// What it had lost at each weighing on its hook: days since it was hung, share of its net weight then.
#[must_use]
pub fn losses(piece: &Piece) -> Vec<(f64, f64)> {
    let Some(hanging) = &piece.hanging else {
        return Vec::new();
    };
    let weighed = piece.weighings.iter().filter(|w| {
        matches!(w.point, Point::WeighedIn | Point::TakenDown) && w.at >= hanging.since
    });
    weighed
        // While what is around it is wet, nothing of the meat is lost yet.
        .map(|w| (days_since(hanging, w.at), hanging.lost_at(w.net).0.max(0.0)))
        .collect()
}

/// The air of the place that a piece hung or hangs in; none where nobody said where.
#[must_use]
pub fn air_of(home: &House, piece: &Piece) -> Option<(PlaceId, DryingAir)> {
    let hanging = piece.hanging.as_ref()?;
    let stay =
        piece.stays.iter().rev().find(|s| {
            s.from >= hanging.since && hanging.until.is_none_or(|until| s.from < until)
        })?;
    let air = home.settings.place(stay.place)?.kind()?.dries?;
    Some((stay.place, air))
}

/// Rates of a household's own pieces, looked up once for as long as somebody looks at its hooks.
#[derive(Debug)]
pub struct Paces<'a> {
    book: &'a Book,
    home: &'a House,
    own: RefCell<BTreeMap<(String, bool), Option<(f64, usize)>>>,
    /// By how much the air of a place is faster or slower than usual.
    damp: RefCell<BTreeMap<PlaceId, Option<f64>>>,
    alone: bool,
}

impl<'a> Paces<'a> {
    /// Of a household as it stands.
    #[must_use]
    pub fn new(book: &'a Book, home: &'a House) -> Self {
        Self {
            book,
            home,
            own: RefCell::default(),
            damp: RefCell::default(),
            alone: false,
        }
    }

    /// The same by what a piece's own lot says: what is planned of a lot changes with that lot alone.
    #[must_use]
    pub fn of_lots(book: &'a Book, home: &'a House) -> Self {
        Self {
            alone: true,
            ..Self::new(book, home)
        }
    }

    /// How fast a hanging piece dries; none where nothing is known of it.
    #[must_use]
    pub fn of(&self, state: &State, piece: &Piece) -> Option<Pace> {
        let weighed = losses(piece);
        self.by(state, piece, &weighed)
            .or_else(|| self.before_weighing(state, piece))
    }

    /// The same by the first so many of its weighings: what was known before the next.
    #[must_use]
    pub fn after(&self, state: &State, piece: &Piece, weighings: usize) -> Option<Pace> {
        let mut weighed = losses(piece);
        weighed.truncate(weighings);
        self.by(state, piece, &weighed)
            .or_else(|| self.before_weighing(state, piece))
    }

    fn by(&self, state: &State, piece: &Piece, weighed: &[(f64, f64)]) -> Option<Pace> {
        let most = most_loss(lean(state, piece));
        let counted = weighed.iter().filter(|(day, _)| *day > 0.0).count();
        let begun = begun(piece);
        Some(Pace {
            k: fitted(weighed, most, begun)?,
            most,
            begun,
            band: band(counted),
            from: PaceFrom::Weighings(counted),
        })
    }

    /// Before its first weighing: as the household's pieces of that product dried, else by its thickness.
    #[must_use]
    pub fn before_weighing(&self, state: &State, piece: &Piece) -> Option<Pace> {
        let most = most_loss(lean(state, piece));
        let air = air_of(self.home, piece);
        let in_fridge = matches!(air, Some((_, DryingAir::Fridge)));
        let begun = begun(piece);
        let pace = |k: f64, from: PaceFrom| Pace {
            k,
            most,
            begun,
            band: band(0),
            from,
        };
        if let Some((k, pieces)) = self.own(piece, in_fridge) {
            return Some(pace(k, PaceFrom::OwnPieces(pieces)));
        }
        let build = piece.build();
        let round = build.and_then(|b| b.wrap.diameter_mm).map(Millimetres);
        // As wide as the casing that it went into; else as its product says, or as it was measured.
        let cased = piece.cased.iter().rev().find_map(|c| c.width);
        let usual = match build {
            Some(b) if b.is_ground() => round.or(piece.thickness_now()),
            Some(_) | None => piece.thickness_now().or(round),
        };
        let thickness = cased.or(usual)?;
        let (share, from) = match air {
            Some((_, DryingAir::Fridge)) => (IN_FRIDGE, PaceFrom::Thickness),
            Some((
                place,
                DryingAir::Chamber | DryingAir::CoolRoom | DryingAir::Room | DryingAir::Outdoors,
            )) => {
                let mut known = self.damp.borrow_mut();
                let read = *known.entry(place).or_insert_with(|| self.by_damp(place));
                match read {
                    Some(share) => (share, PaceFrom::ThicknessAndAir),
                    None => (1.0, PaceFrom::Thickness),
                }
            }
            None => (1.0, PaceFrom::Thickness),
        };
        Some(pace(usual_rate(thickness) * share, from))
    }

    /// How much faster or slower than usual the air of a place dries, where it was measured and lies within what that holds for.
    fn by_damp(&self, place: PlaceId) -> Option<f64> {
        let log = self.home.climate.place(place)?;
        let (temperature, damp) = log.mean_of_recent()?;
        let damp = damp?.0 * 100.0;
        let ((cool, warm), (dry, wet)) = BY_DAMP;
        let holds = (cool..=warm).contains(&temperature.0) && (dry..=wet).contains(&damp);
        holds.then_some((100.0 - damp) / USUAL_MISSING)
    }

    /// The middle rate of the household's pieces that became the same, in a fridge or elsewhere as this one, and how many there were.
    fn own(&self, piece: &Piece, in_fridge: bool) -> Option<(f64, usize)> {
        if self.alone {
            return None;
        }
        let key = (piece.build()?.key.clone(), in_fridge);
        if let Some(known) = self.own.borrow().get(&key) {
            return *known;
        }
        let mut like: Vec<(Timestamp, &State, &Piece)> = self
            .book
            .lots()
            .flat_map(|lot| lot.state.pieces.values().map(move |p| (&lot.state, p)))
            .filter_map(|(state, p)| {
                let hanging = p.hanging.as_ref()?;
                let until = hanging.until?;
                // What came down after some days says little of the weeks.
                let far = hanging
                    .lost
                    .is_some_and(|l| l.0 >= FAR_ENOUGH * hanging.loss.0);
                let same = far
                    && p.build()?.key == key.0
                    && matches!(air_of(self.home, p), Some((_, DryingAir::Fridge))) == in_fridge;
                same.then_some((until, state, p))
            })
            .collect();
        like.sort_by_key(|(until, _, p)| (*until, p.id));
        let newest = &like[like.len().saturating_sub(NEWEST)..];
        let mut rates: Vec<f64> = newest
            .iter()
            .filter_map(|(_, state, p)| fitted(&losses(p), most_loss(lean(state, p)), begun(p)))
            .collect();
        rates.sort_by(f64::total_cmp);
        let middle = rates.len() / 2;
        let found = match rates.len() {
            0 => None,
            n if n % 2 == 1 => Some((rates[middle], n)),
            n => Some((f64::midpoint(rates[middle - 1], rates[middle]), n)),
        };
        self.own.borrow_mut().insert(key, found);
        found
    }
}

/// The share lost at its last weighing.
#[must_use]
pub fn lost_now(piece: &Piece, hanging: &Hanging) -> Fraction {
    hanging.lost_at(piece.mass)
}
