//! What the lines come to: the way of dosing, the meat, and what of salt, sugar, nitrite and nitrate ends in it.

mod method;
mod weights;

use super::section::{Page, Part, Pot, Quantity, Reader};
use super::{AssumptionCode, LineKind, RecipeCheckAsk};
use crate::catalogue::cures::{Composition, Role};
use crate::cure::cover::USUAL_PICKUP;
use crate::dose::contents::GetsIn;
use crate::units::bounds::Measure;
use crate::units::{Band, PPM, read};
pub use method::RecipeMethod;
use method::{covers, method};
use weights::{
    PageView, Scale, dose_from_stock, meat_mass, meat_said, read_all, settle, trailing_rates,
};

/// Water over this share of the meat makes a brine.
const BRINE_FROM: f64 = 0.25;

/// Two weights of one thing that are nearer than this are one weight.
const SAME_WEIGHT: f64 = 0.03;

/// Two readings of one amount that are farther apart than this contradict each other.
pub(super) const FAR_APART: f64 = 0.15;

/// Meat that a rate is reckoned for where nobody says how much there is (g).
pub(super) const ONE_KILOGRAM: f64 = 1_000.0;

/// What is pumped in where the text says no share.
const USUAL_PUMP: f64 = 0.10;

/// A brine without a weight of meat: so many times its salts is water.
const BRINE_TIMES: f64 = 3.0;

/// What a text comes to.
pub(super) struct Sums {
    pub method: RecipeMethod,
    pub meat: Option<Band>,
    /// Rates were reckoned for a kilogram, since nobody says how much meat there is.
    pub for_a_kilogram: bool,
    /// Of each part (g).
    pub masses: Vec<Option<Band>>,
    /// Of each reading of each part (g).
    pub readings: Vec<Vec<Option<Band>>>,
    /// Parts of which two readings are far apart.
    pub far_apart: Vec<usize>,
    /// A brine by the litre, of which nobody says how many.
    pub strength_only: bool,
    /// Everything dissolved in it, with the water (g).
    pub brine: Option<f64>,
    pub nitrite: Option<Band>,
    /// The least that may be in it, for floors.
    pub least: Option<f64>,
    pub pickup: Option<Band>,
    pub equilibrium: Option<Band>,
    pub nitrate: Option<Band>,
    pub salt: Option<f64>,
    pub sugar: Option<f64>,
    /// Of pure accelerators (ppm).
    pub accelerator: Vec<(usize, f64)>,
    pub pickup_share: f64,
    pub pump: Option<f64>,
    pub covers: bool,
    /// Curing salt in it as far as it is weighed (g), and the nitrite of that (g).
    pub cure_g: f64,
    pub nitrite_g: f64,
    /// Salt in all, as far as it is weighed (g).
    pub salt_g: f64,
    /// A curing salt without an amount, or of unknown strength.
    pub cure_unknown: bool,
}

/// What of `weighed` is in so much meat, all of it.
fn in_all(weighed: Band, meat: Band) -> Band {
    GetsIn::Whole { meat }.share_of(weighed)
}

/// Weighs up a text.
pub(super) fn sums(page: &Page<'_>, ask: &RecipeCheckAsk, reader: &Reader<'_>) -> Sums {
    let lines_for = page
        .lines
        .iter()
        .map(|(_, l)| l.items.iter().any(|i| i.is_for))
        .collect();
    let mut view = PageView {
        parts: &page.parts,
        lines_for,
    };
    let said = meat_said(&mut view);
    let known = said
        .or(ask.meat_g.map(Band::exactly))
        .filter(|m| m.low > 0.0 && Measure::Mass.holds(m.high));
    let parts: Vec<&Part> = page.parts.iter().collect();
    let is_rate = |p: &Part| {
        p.readings
            .iter()
            .any(|r| matches!(r.quantity, Quantity::PerMeat(_) | Quantity::PerAll(_)))
    };
    let for_a_kilogram =
        known.is_none() && (page.mix.is_some() || parts.iter().any(|p| is_rate(p)));
    let meat = known.or(for_a_kilogram.then_some(Band::exactly(ONE_KILOGRAM)));
    // “1 tsp cure for 5 lb”, where the batch is another weight, is a rate.
    let rates = trailing_rates(page, said);
    let mut scale = Scale { meat, water: None };
    let quantity = |i: usize, q: Quantity| match (q, rates[i]) {
        (Quantity::Batch(b), Some(on)) => Quantity::PerMeat(b * (1_000.0 / on)),
        (
            Quantity::Batch(_) | Quantity::PerMeat(_) | Quantity::PerWater(_) | Quantity::PerAll(_),
            _,
        ) => q,
    };
    let water_parts = |p: &Part| p.kind == LineKind::Water && p.pot != Pot::After && !p.said_twice;
    let waters: Vec<Option<Band>> = parts
        .iter()
        .enumerate()
        .filter(|(_, p)| water_parts(p))
        .map(|(i, p)| read_all(p, |q| scale.mass(quantity(i, q))).1)
        .collect();
    let water_unknown = parts
        .iter()
        .zip(0..)
        .filter(|(p, _)| water_parts(p))
        .zip(&waters)
        .any(|(_, w)| w.is_none());
    let per_water = parts.iter().any(|p| {
        p.readings
            .iter()
            .any(|r| matches!(r.quantity, Quantity::PerWater(_)))
    });
    let water = if water_unknown {
        None
    } else {
        let all: Band = waters.iter().flatten().copied().sum();
        (all.nominal > 0.0).then_some(all)
    };
    // A brine by the litre of which nobody says how many: its strength is known, and nothing else.
    let strength_only = water.is_none() && per_water && !water_unknown;
    scale.water = water.or(strength_only.then_some(Band::exactly(ONE_KILOGRAM)));

    let mut masses = Vec::with_capacity(parts.len());
    let mut readings = Vec::with_capacity(parts.len());
    let mut far_apart = Vec::new();
    for (i, part) in parts.iter().enumerate() {
        let (each, one, apart) = if part.kind == LineKind::Meat {
            let one = meat_mass(part);
            let each = part
                .readings
                .iter()
                .map(|r| scale.mass(r.quantity))
                .collect();
            let apart = one.is_some_and(|b: Band| b.high - b.low > FAR_APART * b.high)
                && part.readings.len() > 1;
            (each, one, apart)
        } else {
            read_all(part, |q| scale.mass(quantity(i, q)))
        };
        let chosen = reader.settled(AssumptionCode::AmountsDiffer, page.lines[part.source].0);
        let one = if apart {
            settle(part, &each, one, chosen)
        } else {
            one
        };
        if apart {
            far_apart.push(i);
        }
        readings.push(each);
        // What no household weighs is no amount.
        masses.push(one.filter(|b| Measure::Mass.holds(b.high)));
    }
    if let (Some(rate), Some(meat)) = (page.mix, meat) {
        dose_from_stock(&parts, rate, meat, &mut masses);
    }
    let mut sums = Sums {
        method: RecipeMethod::Unknown,
        meat: known,
        for_a_kilogram,
        masses,
        readings,
        far_apart,
        strength_only,
        brine: None,
        nitrite: None,
        least: None,
        pickup: None,
        equilibrium: None,
        nitrate: None,
        salt: None,
        sugar: None,
        accelerator: Vec::new(),
        pickup_share: reader
            .settled(AssumptionCode::PickupAssumed, "")
            .and_then(|v| read::percent(v).ok())
            .map_or(USUAL_PICKUP, |f| f.0.clamp(0.01, 0.60)),
        pump: None,
        covers: false,
        cure_g: 0.0,
        nitrite_g: 0.0,
        salt_g: 0.0,
        cure_unknown: false,
    };
    sums.method = method(page, &sums, ask, scale.water, water_unknown, meat, reader);
    sums.contents(page, meat, scale.water, strength_only, water_unknown);
    sums.accelerator = sums.accelerators(page, meat);
    sums
}

/// True for what goes into the cure: nothing that comes on later, or is said twice.
pub(super) fn is_in(part: &Part) -> bool {
    matches!(
        part.kind,
        LineKind::Ingredient | LineKind::Water | LineKind::NotUnderstood
    ) && part.pot != Pot::After
        && !part.said_twice
        && part.role.is_some()
}

/// What of something a pot holds, as far as it is weighed.
struct Held {
    band: Band,
    /// Something of it has no weight.
    unknown: bool,
}

impl Sums {
    fn held(
        &self,
        page: &Page<'_>,
        pots: &dyn Fn(&Part) -> bool,
        share: &dyn Fn(&Part) -> Option<[f64; 3]>,
    ) -> Held {
        let mut held = Held {
            band: Band::exactly(0.0),
            unknown: false,
        };
        for (i, part) in page.parts.iter().enumerate() {
            if !is_in(part) || !pots(part) {
                continue;
            }
            let Some([low, usual, high]) = share(part) else {
                continue;
            };
            match self.masses[i] {
                Some(mass) => {
                    held.band.low += mass.low * low;
                    held.band.nominal += mass.nominal * usual;
                    held.band.high += mass.high * high;
                }
                None => held.unknown = true,
            }
        }
        held
    }

    fn contents(
        &mut self,
        page: &Page<'_>,
        meat: Option<Band>,
        water: Option<Band>,
        strength_only: bool,
        water_unknown: bool,
    ) {
        // Of a text in which nothing is understood nothing is known, and that is not none.
        if !page.parts.iter().any(is_in) {
            return;
        }
        let all = |x: f64| Some([x, x, x]);
        let brews = |p: &Part, share: &dyn Fn(&Composition) -> f64| {
            let held = share(&p.brew.as_ref()?.made_of);
            (held > 0.0).then(|| all(held)).flatten()
        };
        let nitrite = |p: &Part| brews(p, &|c| c.nitrite);
        let nitrate = |p: &Part| brews(p, &|c| c.nitrate);
        let salt = |p: &Part| match p.role {
            Some(Role::Salt) => all(1.0),
            Some(Role::CuringSalt) => brews(p, &|c| c.salt),
            // Of a count of garlic salt nobody knows anything; of a sauce without an amount neither.
            Some(_) => p.salty,
            None => None,
        };
        let sugar = |p: &Part| match p.role {
            Some(Role::CuringSalt) => brews(p, &|c| c.sugar),
            Some(_) if p.sugar > 0.0 => all(p.sugar),
            Some(_) | None => None,
        };
        let everywhere = |_: &Part| true;
        self.cure_unknown = page.parts.iter().enumerate().any(|(i, p)| {
            is_in(p)
                && p.role == Some(Role::CuringSalt)
                && p.brew.as_ref().is_none_or(|b| {
                    b.unknown || (self.masses[i].is_none() && b.made_of.nitrite > 0.0)
                })
        });
        // A batch of grams over a kilogram that nobody weighed says nothing.
        let batch_over_nothing = |share: &dyn Fn(&Part) -> Option<[f64; 3]>| {
            self.for_a_kilogram
                && page.mix.is_none()
                && page.parts.iter().any(|p| {
                    is_in(p)
                        && share(p).is_some()
                        && p.readings.iter().all(|r| {
                            matches!(r.quantity, Quantity::Batch(_) | Quantity::PerWater(_))
                        })
                        && !p.readings.is_empty()
                })
        };
        let nitrite_loose = batch_over_nothing(&nitrite);
        let nitrate_loose = batch_over_nothing(&nitrate);
        let salt_loose = batch_over_nothing(&salt);
        let sugar_loose = batch_over_nothing(&sugar);
        let cure_all = |p: &Part| (p.role == Some(Role::CuringSalt)).then_some([1.0, 1.0, 1.0]);
        self.cure_g = self.held(page, &everywhere, &cure_all).band.nominal;
        self.nitrite_g = self.held(page, &everywhere, &nitrite).band.nominal;
        self.salt_g = self.held(page, &everywhere, &salt).band.nominal;
        if self.method == RecipeMethod::SaltBox {
            let none = |h: &Held| (!h.unknown && h.band.high <= 0.0).then_some(Band::exactly(0.0));
            self.nitrite = none(&self.held(page, &everywhere, &nitrite));
            self.nitrate = none(&self.held(page, &everywhere, &nitrate));
            return;
        }
        if self.method.is_brine() {
            self.brined(
                page,
                meat,
                water,
                strength_only,
                water_unknown,
                &[&nitrite, &nitrate, &salt, &sugar],
            );
            return;
        }
        let ppm = |h: &Held, loose: bool, unknown: bool| {
            if h.band.high <= 0.0 && !h.unknown && !unknown {
                return Some(Band::exactly(0.0));
            }
            let meat = meat?;
            (!h.unknown && !loose && !unknown).then(|| in_all(h.band, meat) * PPM)
        };
        let held = self.held(page, &everywhere, &nitrite);
        self.nitrite = ppm(&held, nitrite_loose, self.cure_unknown);
        self.least = self.nitrite.map(|b| b.nominal);
        let held = self.held(page, &everywhere, &nitrate);
        let celery = page
            .parts
            .iter()
            .any(|p| is_in(p) && p.brew.as_ref().is_some_and(|b| b.unknown));
        self.nitrate = ppm(&held, nitrate_loose, celery);
        let share = |h: Held, loose: bool| {
            if h.band.high <= 0.0 && !h.unknown {
                return Some(0.0);
            }
            (!h.unknown && !loose).then_some(h.band.nominal / meat?.nominal)
        };
        self.salt = share(self.held(page, &everywhere, &salt), salt_loose);
        self.sugar = share(self.held(page, &everywhere, &sugar), sugar_loose);
    }

    /// Of each accelerator what ends in the meat (ppm): all of it rubbed or mixed in, its share of a brine.
    fn accelerators(&self, page: &Page<'_>, meat: Option<Band>) -> Vec<(usize, f64)> {
        let share = |part: &Part| -> Option<f64> {
            let meat = meat?.nominal;
            match (
                self.method.is_brine() && part.pot != Pot::Dry,
                self.brine,
                self.pump,
            ) {
                (false, _, _) => Some(1.0 / meat),
                (true, Some(brine), Some(pump)) if !self.covers => Some(pump / brine),
                (true, Some(brine), _) => Some(1.0 / (meat + brine)),
                (true, None, _) => None,
            }
        };
        page.parts
            .iter()
            .enumerate()
            .filter(|(_, p)| is_in(p) && p.role == Some(Role::Accelerator))
            .filter_map(|(i, p)| {
                let pure = self.masses[i]?.nominal * p.purity.unwrap_or(1.0);
                Some((i, pure * share(p)? * PPM))
            })
            .collect()
    }

    fn brined(
        &mut self,
        page: &Page<'_>,
        meat: Option<Band>,
        water: Option<Band>,
        strength_only: bool,
        water_unknown: bool,
        shares: &[&dyn Fn(&Part) -> Option<[f64; 3]>; 4],
    ) {
        let [nitrite, nitrate, salt, sugar] = *shares;
        let in_brine = |p: &Part| p.pot != Pot::Dry || p.role == Some(Role::Water);
        // A rub beside a brine goes on the meat; where nothing is in the water everything is.
        let any_wet = page.parts.iter().any(|p| {
            is_in(p) && in_brine(p) && matches!(p.role, Some(Role::Salt | Role::CuringSalt))
        });
        let wet = |p: &Part| !any_wet || in_brine(p);
        let dry = |p: &Part| any_wet && !in_brine(p);
        let dissolved = |p: &Part| match p.role {
            Some(Role::Salt | Role::CuringSalt | Role::Sugar | Role::Liquid) => {
                Some([1.0, 1.0, 1.0])
            }
            Some(Role::Water | Role::Spice | Role::Accelerator | Role::Binder) | None => None,
        };
        let solids = self.held(page, &wet, &dissolved);
        let brine = water
            .filter(|_| !water_unknown)
            .map(|w| w + solids.band)
            .filter(|b| b.low > 0.0);
        self.brine = brine.map(|b| b.nominal);
        let pumped = self.method == RecipeMethod::Injection;
        self.covers = pumped && covers(page);
        let pump = if pumped {
            page.pump
                .or_else(|| {
                    let grams = page.pump_g?;
                    Some(in_all(grams, meat?))
                })
                .or(Some(Band::exactly(USUAL_PUMP)))
        } else {
            None
        };
        self.pump = pump.map(|p| p.nominal);
        let known_meat = self.meat.or(if self.for_a_kilogram { meat } else { None });
        let figure = |h: &Held| -> (Option<Band>, Option<Band>) {
            if h.band.high <= 0.0 && !h.unknown {
                return (Some(Band::exactly(0.0)), Some(Band::exactly(0.0)));
            }
            if h.unknown {
                return (None, None);
            }
            let Some(brine) = brine else {
                return (None, None);
            };
            let share = match pump {
                Some(pump) if self.covers => pump + Band::exactly(self.pickup_share),
                Some(pump) => pump,
                None => Band::exactly(self.pickup_share),
            };
            let taken = GetsIn::TakenUp { brine, share }.share_of(h.band);
            let even = known_meat
                .filter(|_| !strength_only && (!pumped || self.covers))
                .map(|meat| GetsIn::Shared { meat, brine }.share_of(h.band));
            (Some(taken), even)
        };
        let dry_ppm = |h: &Held| -> Option<Band> {
            if h.band.high <= 0.0 && !h.unknown {
                return Some(Band::exactly(0.0));
            }
            (!h.unknown).then_some(in_all(h.band, known_meat?))
        };
        let both =
            |taken: Option<Band>, even: Option<Band>, more: Option<Band>, only_taken: bool| {
                let more = more?;
                let add = |b: Band| b + more;
                match (taken.map(add), even.map(add)) {
                    (Some(a), Some(b)) => Some(Band {
                        nominal: a.nominal.max(b.nominal),
                        low: a.low.max(b.low),
                        high: a.high.max(b.high),
                    }),
                    (Some(a), None) if only_taken => Some(a),
                    (Some(_), None) | (None, _) => None,
                }
            };
        let only_taken = pumped && !self.covers;
        let wet_nitrite = self.held(page, &wet, nitrite);
        let dry_nitrite = dry_ppm(&self.held(page, &dry, nitrite));
        if !self.cure_unknown {
            let (taken, even) = figure(&wet_nitrite);
            let more = dry_nitrite.unwrap_or(Band::exactly(0.0));
            let ppm = |b: Band| (b + more) * PPM;
            self.pickup = taken.map(ppm);
            self.equilibrium = even.map(ppm);
            self.nitrite = both(taken, even, dry_nitrite, only_taken).map(|b| b * PPM);
            let least = match (self.pickup, self.equilibrium) {
                (Some(a), Some(b)) => Some(a.nominal.min(b.nominal)),
                (a, b) => a.or(b).map(|x| x.nominal),
            };
            self.least = if self.method == RecipeMethod::EquilibriumBrine {
                self.equilibrium.map(|b| b.nominal)
            } else {
                least
            };
        }
        if !page
            .parts
            .iter()
            .any(|p| is_in(p) && p.brew.as_ref().is_some_and(|b| b.unknown))
        {
            let (taken, even) = figure(&self.held(page, &wet, nitrate));
            let more = dry_ppm(&self.held(page, &dry, nitrate));
            self.nitrate = both(taken, even, more, only_taken).map(|b| b * PPM);
        }
        let share = |of: &dyn Fn(&Part) -> Option<[f64; 3]>| -> Option<f64> {
            let (in_wet, on_meat) = (self.held(page, &wet, of), self.held(page, &dry, of));
            if in_wet.unknown || on_meat.unknown {
                return None;
            }
            let sum_g = in_wet.band.nominal + on_meat.band.nominal;
            if sum_g <= 0.0 {
                return Some(0.0);
            }
            let brine = brine?.nominal;
            if only_taken {
                let more = if on_meat.band.nominal > 0.0 {
                    on_meat.band.nominal / known_meat?.nominal
                } else {
                    0.0
                };
                return Some(in_wet.band.nominal / brine * pump?.nominal + more);
            }
            if strength_only {
                return None;
            }
            Some(sum_g / (known_meat?.nominal + brine))
        };
        let (salt, sugar) = (share(salt), share(sugar));
        self.salt = salt;
        self.sugar = sugar;
    }
}
