//! What the household would like to eat: so much a week until a day, so many pieces, so many
//! kilograms, or as much as there are hooks. The order of the list is the order of priority.

use crate::catalogue::Catalogue;
use crate::caution::{Checks, FieldError};
use crate::units::bounds::{self, Measure};
use crate::units::{Grams, Reading};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// How much of a product is wished for; masses are of finished product.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "as", rename_all = "snake_case", deny_unknown_fields)]
pub enum WishAmount {
    /// So much a week until a day.
    Rate {
        /// As much a week, as it was said.
        a_week: Reading,
        /// The last day it should reach to.
        until: Date,
    },
    /// So much in all.
    Mass {
        /// How much, as it was said.
        amount: Reading,
    },
    /// So many whole pieces.
    Pieces {
        /// How many.
        n: u32,
    },
    /// As many pieces as there are free hooks.
    AllHooks,
}

/// One wish.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Wish {
    /// Its number; never used twice in a list.
    pub id: u32,
    /// The product.
    pub build: String,
    /// How much.
    pub amount: WishAmount,
    /// Only from this species, if that matters.
    #[serde(default)]
    pub species: Option<String>,
}

/// Everything wished for, the most important first.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct WishList {
    /// The wishes.
    pub wishes: Vec<Wish>,
}

impl WishAmount {
    /// Finished product wished for, seen from a day; none for pieces and hooks.
    ///
    /// Weeks are counted in sevenths, from tomorrow to the last day.
    #[must_use]
    pub fn mass(&self, today: Date) -> Option<Grams> {
        match self {
            Self::Rate { a_week, until } => {
                let days = today.until(*until).map_or(0, |s| s.get_days());
                Some(Grams(a_week.value.grams() * f64::from(days.max(0)) / 7.0))
            }
            Self::Mass { amount } => Some(Grams(amount.value.grams())),
            Self::Pieces { .. } | Self::AllHooks => None,
        }
    }
}

impl WishList {
    /// Checks every wish; one that stands in `before` as it is may have outlived its day.
    ///
    /// # Errors
    /// Each field that cannot be, with what to type.
    pub fn check(
        &self,
        before: &Self,
        today: Date,
        catalogue: &Catalogue,
    ) -> Result<(), Vec<FieldError>> {
        let mut checks = Checks::default();
        for (i, wish) in self.wishes.iter().enumerate() {
            let at = |name: &str| format!("wishes[{i}].{name}");
            let build = catalogue.build(&wish.build).filter(|b| !b.ending);
            checks.that(
                build.is_some(),
                &at("build"),
                "Choose a product from the list.",
            );
            checks.that(
                !self.wishes[..i].iter().any(|w| w.id == wish.id),
                &at("id"),
                "Two wishes carry the same number.",
            );
            if let Some(species) = &wish.species {
                checks.that(
                    catalogue.species(species).is_some(),
                    &at("species"),
                    "Choose a species from the list, or none.",
                );
            }
            match &wish.amount {
                WishAmount::Rate { a_week, until } => {
                    let each = a_week.value.grams();
                    checks.above_zero(Measure::Mass, each, &at("amount"), "300 g a week");
                    if let Err(message) = bounds::day(*until) {
                        checks.that(false, &at("until"), &message);
                    }
                    checks.that(
                        *until > today || before.wishes.contains(wish),
                        &at("until"),
                        "That day is past. Give the day until which it should last, such as 2027-03-01.",
                    );
                }
                WishAmount::Mass { amount } => {
                    let grams = amount.value.grams();
                    checks.above_zero(Measure::Mass, grams, &at("amount"), "2 kg");
                }
                WishAmount::Pieces { n } => {
                    checks.that(
                        (1..=500).contains(n),
                        &at("amount"),
                        "Say how many pieces: 1 or more.",
                    );
                    checks.that(
                        build.is_none_or(|b| !b.is_ground()),
                        &at("amount"),
                        "Ground meat has no pieces: say how much, such as 2 kg.",
                    );
                }
                WishAmount::AllHooks => checks.that(
                    build.is_none_or(|b| b.hangs() && !b.is_ground()),
                    &at("amount"),
                    "Only a whole piece that hangs can fill the hooks. Say how much instead.",
                ),
            }
        }
        checks.done()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::reading;

    #[test]
    fn so_much_a_week_is_so_much_in_all() {
        let day = |text: &str| text.parse::<Date>().unwrap();
        let rate = |until: &str| WishAmount::Rate {
            a_week: reading(300.0),
            until: day(until),
        };
        #[rustfmt::skip]
        let cases = [
            ("four weeks",    rate("2026-12-19"), Some(1_200.0)),
            ("half a week",   rate("2026-11-25"), Some(300.0 * 4.0 / 7.0)),
            ("a day gone by", rate("2026-11-01"), Some(0.0)),
            ("in all",        WishAmount::Mass {
                    amount: reading(900.0),
                }, Some(900.0)),
            ("pieces",        WishAmount::Pieces { n: 2 }, None),
        ];
        for (why, amount, want) in cases {
            assert_eq!(
                amount.mass(day("2026-11-21")).map(Grams::get),
                want,
                "{why}"
            );
        }
    }

    #[test]
    fn a_wish_that_cannot_be_says_what_to_type() {
        let wish = |id, build: &str, amount| Wish {
            id,
            build: build.into(),
            amount,
            species: None,
        };
        let list = WishList {
            wishes: vec![
                wish(
                    1,
                    "belly-slab",
                    WishAmount::Mass {
                        amount: reading(2_000.0),
                    },
                ),
                wish(
                    1,
                    "jerky",
                    WishAmount::Mass {
                        amount: reading(0.0),
                    },
                ),
                wish(2, "formed-loaf", WishAmount::Pieces { n: 2 }),
                wish(3, "belly-slab", WishAmount::AllHooks),
                wish(
                    4,
                    "belly-slab",
                    WishAmount::Rate {
                        a_week: reading(300.0),
                        until: "2026-01-01".parse().unwrap(),
                    },
                ),
            ],
        };
        let today = "2026-11-21".parse().unwrap();
        let fields: Vec<_> = list
            .check(&WishList::default(), today, &Catalogue::shipped())
            .unwrap_err()
            .into_iter()
            .map(|e| e.field)
            .collect();
        assert_eq!(
            fields,
            [
                "wishes[1].build",
                "wishes[1].id",
                "wishes[1].amount",
                "wishes[2].amount",
                "wishes[3].amount",
                "wishes[4].until"
            ]
        );
        // A day that went by since is no mistake of whoever changes another wish.
        let outlived = WishList {
            wishes: vec![list.wishes[4].clone()],
        };
        assert_eq!(outlived.check(&list, today, &Catalogue::shipped()), Ok(()));
    }
}
