//! Supply, wishes and places as the question that [`suggest`](crate::assign::suggest) answers.

use super::places::{places, places_per_gram};
use super::supply::{Supply, Table, yield_of};
use crate::animal::byproduct::KEPT_FAT_FRACTION;
use crate::assign::suggest::{Blend, Loose, Problem, Target, Unit, UnitOption, Want};
use crate::assign::wishes::{Wish, WishAmount, WishList};
use crate::catalogue::Catalogue;
use crate::household::Household;
use crate::place::PlaceUse;
use crate::units::Grams;
use jiff::Timestamp;

/// What is bought when a ground product lacks fat: its species and cut.
pub const BOUGHT_FAT: (&str, &str) = ("pig", "back_fat");

impl Table {
    /// The question for [`suggest`](crate::assign::suggest::suggest).
    #[must_use]
    pub fn problem(&self, wishes: &WishList, now: Timestamp, home: &Household) -> Problem {
        let units = self
            .supply
            .iter()
            .map(|s| unit(s, &self.catalogue))
            .collect();
        let loose = self
            .loose
            .iter()
            .map(|l| Loose {
                key: l.key.clone(),
                mass_g: l.mass_g,
                fat_fraction: l.fat_fraction,
                builds: l.builds.clone(),
            })
            .collect();
        Problem {
            units,
            loose,
            targets: wishes
                .wishes
                .iter()
                .filter_map(|w| self.target(w, home.day(now)))
                .collect(),
            capacity: self.capacity(),
        }
    }

    fn target(&self, wish: &Wish, today: jiff::civil::Date) -> Option<Target> {
        let build = self.catalogue.build(&wish.build)?;
        let want = match &wish.amount {
            WishAmount::Pieces { n } => Want::Pieces(f64::from(*n)),
            WishAmount::AllHooks => {
                let hooks = self.places.iter().find(|p| p.what == PlaceUse::Hang);
                let free = hooks.and_then(|p| p.free());
                let suited = self
                    .supply
                    .iter()
                    .filter(|s| s.options.iter().any(|o| o.build == wish.build))
                    .count() as f64;
                Want::Pieces(free.map_or(suited, |f| f.floor()))
            }
            WishAmount::Rate { .. } | WishAmount::Mass { .. } => {
                Want::Mass(wish.amount.mass(today)?.0)
            }
        };
        let blend = build.mix.as_ref().map(|mix| Blend {
            fat: mix.fat_fraction,
            yields: yield_of(build, &self.yields).0,
            bought_fat_fraction: bought_fat_fraction(&self.catalogue),
            places_per_g: places_per_gram(build),
        });
        (want.amount() > 0.0).then(|| Target {
            wish: wish.id,
            build: wish.build.clone(),
            species: wish.species.clone(),
            want,
            blend,
        })
    }
}

/// The share of fat in the fat that is bought for grinding.
fn bought_fat_fraction(catalogue: &Catalogue) -> f64 {
    catalogue
        .species(BOUGHT_FAT.0)
        .and_then(|s| s.cut(BOUGHT_FAT.1))
        .map_or(KEPT_FAT_FRACTION, |c| c.fat_fraction)
}

fn unit(supply: &Supply, catalogue: &Catalogue) -> Unit {
    let cut_fat = catalogue
        .species(&supply.species)
        .and_then(|s| s.cut(&supply.cut))
        .map_or(0.0, |c| c.fat_fraction);
    let options: Vec<_> = supply
        .options
        .iter()
        .filter_map(|o| {
            let build = catalogue.build(&o.build)?;
            Some(UnitOption {
                build: o.build.clone(),
                score: o.score,
                gives_g: o.gives_g,
                fat_fraction: cut_fat,
                places: places(build, Grams(o.usable_g)),
            })
        })
        .collect();
    Unit {
        key: supply.key.clone(),
        species: supply.species.clone(),
        mass_g: supply.mass_g,
        locked: supply
            .locked
            .as_ref()
            .and_then(|b| options.iter().position(|o| o.build == *b)),
        options,
    }
}
