//! What the household's own animals and pieces gave: the shares and yields that take over from
//! the catalogue once there are enough of them.

use super::book::{Book, LotBook};
use super::state::{Stage, State};
use super::{Account, Loss};
use crate::animal::expect::{OWN_FROM, OwnShare, OwnShares};
use crate::animal::{Portion, Species};
use crate::catalogue::steps::Check;
use crate::ledger::facts::Act;
use crate::piece::Piece;
use crate::place::PlaceId;
use crate::units::{Fraction, Grams, Milligrams};
use jiff::Timestamp;
use std::collections::BTreeMap;

/// The shares of carcass weight that each cut had in the household's own animals of a species.
///
/// Whole animals and sides that are broken down count, the newest included; quarters and bought
/// cuts do not, since a quarter has its own cuts. A cut that was taken out of another (a muscle
/// out of a leg, loin and belly left in one) counts towards those it came from.
#[must_use]
pub fn shares(book: &Book, species: &Species) -> OwnShares {
    let mut found: BTreeMap<String, Vec<f64>> = BTreeMap::new();
    for lot in book.lots() {
        if let Some(shares) = of_lot(lot, species) {
            for (cut, share) in shares {
                found.entry(cut).or_default().push(share);
            }
        }
    }
    found
        .into_iter()
        .filter_map(|(cut, shares)| Some((cut, OwnShare::of(&shares)?)))
        .collect()
}

/// How long the household's own pieces of a product lay in water until they tasted right.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct OwnSoak {
    /// The middle one of the newest of them (min).
    pub minutes: u32,
    /// How many pieces it is taken from.
    pub times: usize,
}

/// Soaks of a product that a number is taken from at most.
const NEWEST_SOAKS: usize = 5;

/// What the household noted of soaking a product, newest first; only soaks after which a slice was right count.
#[must_use]
pub fn soak(book: &Book, build: &str) -> Option<OwnSoak> {
    let mut found: Vec<_> = book
        .pieces()
        .filter(|(_, piece)| piece.build().is_some_and(|b| b.key == build))
        .filter_map(|(_, piece)| {
            let last = piece.soaks.last()?;
            let tasted = piece.checks.iter().rev().find(|c| {
                (c.at, c.entry) > (last.at, last.entry)
                    && ["slice_end", "slice_middle"].contains(&c.check.as_str())
            });
            let fits = tasted.is_some_and(|c| c.grade.as_deref() == Some("right"));
            let in_all: u32 = piece.soaks.iter().map(|s| s.minutes).sum();
            fits.then_some((last.at, in_all))
        })
        .collect();
    found.sort_unstable_by_key(|(at, _)| std::cmp::Reverse(*at));
    found.truncate(NEWEST_SOAKS);
    let times = found.len();
    let mut minutes: Vec<_> = found.into_iter().map(|(_, minutes)| minutes).collect();
    minutes.sort_unstable();
    Some(OwnSoak {
        minutes: *minutes.get(times / 2)?,
        times,
    })
}

/// What was graded last at each check of a product's pieces.
#[must_use]
pub fn last_grades<'a>(book: &'a Book, build: &str) -> BTreeMap<&'a str, &'a str> {
    let of_build = book
        .pieces()
        .filter(|(_, piece)| piece.build().is_some_and(|b| b.key == build));
    let mut looks: Vec<_> = of_build.flat_map(|(_, piece)| &piece.checks).collect();
    looks.sort_by_key(|c| (c.at, c.entry));
    let graded = looks
        .into_iter()
        .filter_map(|c| Some((c.check.as_str(), c.grade.as_deref()?)));
    graded.collect()
}

/// True where a check of a place got its best grade there last, by whatever lay or hung there: it is not asked again.
#[must_use]
pub fn is_well(book: &Book, check: &Check, place: PlaceId) -> bool {
    let here = |piece: &Piece, at: Timestamp| piece.place_at(at) == Some(place);
    let looks = book.pieces().flat_map(|(_, piece)| {
        let of = piece.checks.iter().filter(|c| c.check == check.key);
        of.filter(move |c| here(piece, c.at))
    });
    let last = looks.max_by_key(|c| (c.at, c.entry));
    let best = check.grades.first().map(|g| g.key.as_str());
    last.is_some_and(|c| c.grade.as_deref() == best)
}

fn of_lot(lot: &LotBook, species: &Species) -> Option<BTreeMap<String, f64>> {
    let came = lot.state.lot.as_ref()?;
    let counts = came.received.species == species.key
        && came.closed.is_some()
        && matches!(came.received.portion, Portion::Whole | Portion::Half);
    if !counts {
        return None;
    }
    let carcass = carcass(&lot.state).grams();
    let weighed = weighed_by_cut(lot, species);
    if carcass <= 0.0 || weighed.is_empty() {
        return None;
    }
    Some(
        weighed
            .into_iter()
            .map(|(cut, mass)| (cut, mass.0 / carcass))
            .collect(),
    )
}

/// What hung cold: everything that came in, less head, hide and guts.
fn carcass(state: &State) -> Milligrams {
    let dressing = state.losses.get(&Loss::Dressing).copied();
    state.received - dressing.unwrap_or_default()
}

/// Weighed out of a lot, by the cut of the share table it counts towards.
#[must_use]
pub fn weighed_by_cut(lot: &LotBook, species: &Species) -> BTreeMap<String, Grams> {
    let mut weighed = BTreeMap::new();
    for entry in lot.live_entries() {
        let Act::PieceWeighed(piece) = &entry.act else {
            continue;
        };
        let grams: f64 = entry
            .postings
            .iter()
            .filter(|p| p.account == Account::Lot)
            .map(|p| -p.mass.grams())
            .sum();
        for (cut, part) in counts_towards(species, &piece.cut) {
            let sum = weighed.entry(cut).or_insert(Grams(0.0));
            *sum = *sum + Grams(grams) * part.0;
        }
    }
    weighed
}

/// The cuts of the share table a cut counts towards, and with which part of its weight.
#[must_use]
pub fn counts_towards(species: &Species, cut: &str) -> Vec<(String, Fraction)> {
    let Some(found) = species.cut(cut) else {
        return Vec::new();
    };
    if found.of.is_empty() {
        return vec![(cut.to_string(), Fraction(1.0))];
    }
    let middle = |key: &String| {
        let share = species.cut(key).and_then(|c| c.share);
        share.map_or(0.0, |s| f64::midpoint(s.low, s.high))
    };
    let sum: f64 = found.of.iter().map(middle).sum();
    found
        .of
        .iter()
        .map(|key| (key.clone(), Fraction(middle(key) / sum)))
        .collect()
}

/// The yield of a product over the household's own finished pieces, once there are enough: packed
/// weight of green weight.
#[must_use]
pub fn yields(book: &Book) -> BTreeMap<String, OwnShare> {
    let mut found: BTreeMap<String, Vec<f64>> = BTreeMap::new();
    for (lot, piece) in book.pieces() {
        let (Some(build), Some(Stage::Packed)) = (piece.build_key(), piece.ended) else {
            continue;
        };
        let packed: f64 = piece
            .packs
            .iter()
            .filter_map(|id| lot.state.packs.get(id))
            .map(|p| p.mass.grams())
            .sum::<f64>()
            + piece.used.grams();
        if piece.cure.is_some() && piece.green.is_some() {
            found
                .entry(build.to_string())
                .or_default()
                .push(packed / piece.green.grams());
        }
    }
    found
        .into_iter()
        .filter(|(_, yields)| yields.len() >= OWN_FROM)
        .filter_map(|(build, yields)| Some((build, OwnShare::of(&yields)?)))
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::testing::species;

    #[test]
    fn a_cut_out_of_another_counts_towards_it() {
        let pig = species("pig").unwrap();
        assert_eq!(
            counts_towards(pig, "belly"),
            [("belly".to_string(), Fraction(1.0))]
        );
        assert_eq!(
            counts_towards(pig, "leg_muscle"),
            [("leg".to_string(), Fraction(1.0))]
        );
        let joined = counts_towards(pig, "loin_and_belly");
        assert_eq!(joined[0].0, "loin");
        // 19 of 36.5 parts are loin.
        assert!((joined[0].1.0 - 19.0 / 36.5).abs() < 1e-9);
        assert!((joined[0].1.0 + joined[1].1.0 - 1.0).abs() < 1e-12);
    }
}
