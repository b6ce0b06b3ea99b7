//! What each line weighs, once the meat and the water are known.

use super::{FAR_APART, SAME_WEIGHT, is_in};
use crate::catalogue::cures::Role;
use crate::recipe::LineKind;
use crate::recipe::section::{Page, Part, Quantity};
use crate::units::Band;
use std::collections::HashMap;

/// Meat, water and what they are reckoned by.
pub(in crate::recipe) struct Scale {
    pub(super) meat: Option<Band>,
    /// Water (g).
    pub(super) water: Option<Band>,
}

impl Scale {
    pub(super) fn mass(&self, quantity: Quantity) -> Option<Band> {
        let on = |rate: Band, base: Band| Band {
            nominal: rate.nominal / 1_000.0 * base.nominal,
            low: rate.low / 1_000.0 * base.low,
            high: rate.high / 1_000.0 * base.high,
        };
        match quantity {
            Quantity::Batch(grams) => Some(grams),
            Quantity::PerMeat(rate) => Some(on(rate, self.meat?)),
            Quantity::PerWater(rate) => Some(on(rate, self.water?)),
            Quantity::PerAll(rate) => {
                let all = self.meat? + self.water.unwrap_or_default();
                Some(on(rate, all))
            }
        }
    }
}

/// The weight of the meat that a text names; where it is said twice it counts once.
pub(in crate::recipe) fn meat_said(page: &mut PageView<'_>) -> Option<Band> {
    let weights: Vec<(usize, Band)> = page
        .parts
        .iter()
        .enumerate()
        .filter(|(_, p)| p.kind == LineKind::Meat)
        .filter_map(|(i, p)| Some((i, meat_mass(p)?)))
        .collect();
    let of = |wanted: &dyn Fn(&Part) -> bool| -> Vec<(usize, Band)> {
        weights
            .iter()
            .filter(|(i, _)| wanted(&page.parts[*i]))
            .copied()
            .collect()
    };
    let heads = of(&|p| !p.is_for && (p.by_verb || page.lines_for[p.source]));
    let plain = of(&|p| !p.is_for && !p.by_verb && !page.lines_for[p.source]);
    let behind = of(&|p| p.is_for);
    if !plain.is_empty() {
        let total: Band = plain.iter().map(|(_, b)| *b).sum();
        // A title that says what the lines below add up to.
        let (first, rest) = plain.split_first()?;
        let below: Band = rest.iter().map(|(_, b)| *b).sum();
        let repeats = !rest.is_empty()
            && page.parts[first.0].source == 0
            && (first.1.nominal - below.nominal).abs() <= SAME_WEIGHT * below.nominal;
        return Some(if repeats { below } else { total });
    }
    // “For 2.4 kg loin and 900 g belly” is all of it; what stands in another line is said again.
    let (first, _) = heads.first().or(behind.first())?;
    let source = page.parts[*first].source;
    let of_line = |all: &[(usize, Band)]| {
        let here = all.iter().filter(|(i, _)| page.parts[*i].source == source);
        here.map(|(_, b)| *b).sum()
    };
    Some(of_line(if heads.is_empty() { &behind } else { &heads }))
}

/// What is looked at of a page for its meat.
pub(in crate::recipe) struct PageView<'a> {
    pub(super) parts: &'a [Part],
    /// Lines that begin with “for”, or are nothing but a weight of meat behind it.
    pub(super) lines_for: Vec<bool>,
}

pub(in crate::recipe) fn meat_mass(part: &Part) -> Option<Band> {
    let all: Vec<Band> = part
        .readings
        .iter()
        .filter_map(|r| match r.quantity {
            Quantity::Batch(b) => Some(b),
            Quantity::PerMeat(_) | Quantity::PerWater(_) | Quantity::PerAll(_) => None,
        })
        .collect();
    let first = *all.first()?;
    Some(Band {
        nominal: first.nominal,
        low: all.iter().map(|b| b.low).fold(first.low, f64::min),
        high: all.iter().map(|b| b.high).fold(first.high, f64::max),
    })
}

/// Of a stock only so much goes on the meat: each line has its share of that.
pub(in crate::recipe) fn dose_from_stock(
    parts: &[&Part],
    rate: Band,
    meat: Band,
    masses: &mut [Option<Band>],
) {
    let in_stock = |p: &Part| is_in(p) && !p.by_verb && p.kind == LineKind::Ingredient;
    let stock: f64 = parts
        .iter()
        .zip(masses.iter())
        .filter(|(p, _)| in_stock(p))
        .filter_map(|(_, m)| m.map(|b| b.nominal))
        .sum();
    if stock <= 0.0 {
        return;
    }
    for (part, mass) in parts.iter().zip(masses.iter_mut()) {
        if in_stock(part) {
            *mass = mass.map(|b| Band {
                nominal: b.nominal / stock * rate.nominal / 1_000.0 * meat.nominal,
                low: b.low / stock * rate.low / 1_000.0 * meat.low,
                high: b.high / stock * rate.high / 1_000.0 * meat.high,
            });
        }
    }
}

/// For each part, the weight of meat that a “for 5 lb” behind it makes it a rate on.
pub(in crate::recipe) fn trailing_rates(page: &Page<'_>, said: Option<Band>) -> Vec<Option<f64>> {
    let mut behind: HashMap<usize, Band> = HashMap::new();
    for part in page.parts.iter().filter(|p| p.is_for) {
        if let Some(mass) = meat_mass(part) {
            behind.entry(part.source).or_insert(mass);
        }
    }
    let rate = |part: &Part| {
        let meat = said?.nominal;
        let behind = behind.get(&part.source)?.nominal;
        let same = (behind - meat).abs() <= SAME_WEIGHT * meat;
        (!same && behind > 0.0).then_some(behind)
    };
    let parts = page.parts.iter();
    parts
        .map(|p| {
            if p.kind == LineKind::Meat {
                None
            } else {
                rate(p)
            }
        })
        .collect()
}

/// Every reading of a part, the one that counts, and whether they contradict each other.
pub(in crate::recipe) fn read_all(
    part: &Part,
    mass: impl Fn(Quantity) -> Option<Band>,
) -> (Vec<Option<Band>>, Option<Band>, bool) {
    let each: Vec<Option<Band>> = part.readings.iter().map(|r| mass(r.quantity)).collect();
    let known: Vec<(usize, Band)> = each
        .iter()
        .enumerate()
        .filter_map(|(i, b)| Some((i, (*b)?)))
        .collect();
    let Some((_, first)) = known.first().copied() else {
        return (each, None, false);
    };
    if known.len() == 1 {
        return (each, Some(first), false);
    }
    let weighed = known.iter().find(|(i, _)| !part.readings[*i].by_volume);
    let usual = weighed.map_or(first, |(_, b)| *b);
    let nominal = if part.role == Some(Role::CuringSalt) {
        known.iter().map(|(_, b)| b.nominal).fold(0.0, f64::max)
    } else {
        usual.nominal
    };
    let far = |a: &(usize, Band), b: &(usize, Band)| {
        let (i, a) = a;
        let (j, b) = b;
        // Where the grain of a salt is open, any of its kinds that fits is no contradiction.
        let open = part.readings[*i].kind_open || part.readings[*j].kind_open;
        if open && a.low <= b.high * (1.0 + FAR_APART) && b.low <= a.high * (1.0 + FAR_APART) {
            return false;
        }
        (a.nominal - b.nominal).abs() > FAR_APART * a.nominal.max(b.nominal)
    };
    let apart = known
        .iter()
        .enumerate()
        .any(|(n, a)| known[n + 1..].iter().any(|b| far(a, b)));
    // A weight beside a spoon whose grain is open says which it was.
    let open_only = !apart && weighed.is_some() && part.role != Some(Role::CuringSalt);
    let band = if open_only && part.readings.iter().any(|r| r.kind_open) {
        usual
    } else {
        Band {
            nominal,
            low: known
                .iter()
                .map(|(_, b)| b.low)
                .fold(f64::INFINITY, f64::min),
            high: known.iter().map(|(_, b)| b.high).fold(0.0, f64::max),
        }
    };
    (each, Some(band), apart)
}

/// Which of two readings somebody chose.
pub(in crate::recipe) fn settle(
    part: &Part,
    each: &[Option<Band>],
    usual: Option<Band>,
    chosen: Option<&str>,
) -> Option<Band> {
    let wanted = match chosen {
        Some("spoon") => part.readings.iter().position(|r| r.by_volume),
        Some("weight") => part.readings.iter().position(|r| !r.by_volume),
        Some("first") => Some(0),
        Some("second") => Some(1),
        Some(_) | None => None,
    };
    wanted
        .and_then(|i| each.get(i).copied().flatten())
        .or(usual)
}
