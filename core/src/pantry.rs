//! What the household keeps: salt, cures, spices, casings, nets, bags, string and wood, with what
//! was counted, what was used since, and what has gone past its date.

use crate::catalogue::Catalogue;
use crate::caution::{Checks, FieldError};
use crate::ledger::book::Book;
use crate::ledger::facts::Act;
use crate::ledger::{Account, Posting};
use crate::units::bounds::{self, Measure};
use jiff::Timestamp;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// What kind of thing is kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum StockKind {
    /// Meat or fat to grind in.
    Meat,
    /// Salt.
    Salt,
    /// Sugar and syrup.
    Sugar,
    /// Curing salt.
    Cure,
    /// Spices, herbs, sauces, starters.
    Spice,
    /// Natural casings and sheets.
    Casing,
    /// Nets.
    Net,
    /// Bags.
    Bag,
    /// String for ties.
    String,
    /// Wood for smoke.
    Wood,
}

impl StockKind {
    /// Every kind, in the order of a shopping list.
    pub const ALL: [Self; 10] = [
        Self::Meat,
        Self::Salt,
        Self::Sugar,
        Self::Cure,
        Self::Spice,
        Self::Casing,
        Self::Net,
        Self::Bag,
        Self::String,
        Self::Wood,
    ];

    /// The unit it is counted in.
    #[must_use]
    pub const fn unit(self) -> StockUnit {
        match self {
            Self::Casing | Self::Net | Self::String => StockUnit::Metres,
            Self::Bag => StockUnit::Pieces,
            Self::Meat | Self::Salt | Self::Sugar | Self::Cure | Self::Spice | Self::Wood => {
                StockUnit::Grams
            }
        }
    }
}

/// What an amount in stock is counted in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum StockUnit {
    /// Grams.
    Grams,
    /// Metres.
    Metres,
    /// Pieces.
    Pieces,
}

/// Something kept in the pantry.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct StockItem {
    /// What it is called; the same word as in a dose.
    pub name: String,
    /// Its kind, which sets its unit.
    pub kind: StockKind,
    /// What was counted, in its kind's unit.
    pub amount: f64,
    /// When it was counted; what doses used since is taken off.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = DateTime))]
    pub counted_at: Timestamp,
    /// The diameter of a casing, or the girth of a net divided by pi (mm).
    #[serde(default)]
    pub diameter_mm: Option<f64>,
    /// When it was opened.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = Date))]
    pub opened_on: Option<Date>,
    /// After this day it no longer counts.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = Date))]
    pub good_until: Option<Date>,
    /// Price of a kilogram, a metre or a piece, in hundredths.
    #[serde(default)]
    pub price_cents: Option<i64>,
}

/// Everything the household keeps.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Pantry {
    /// The items.
    pub items: Vec<StockItem>,
}

/// An item as it stands today.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Standing {
    /// The item.
    pub item: StockItem,
    /// Used by doses since it was counted, in its unit.
    pub used: f64,
    /// What is left, in its unit; nothing when it is past its date.
    pub left: f64,
    /// True when it is past its date.
    pub past: bool,
}

impl Pantry {
    /// Checks every item.
    ///
    /// # Errors
    /// Each field that cannot be, with what to type.
    pub fn check(&self, catalogue: &Catalogue) -> Result<(), Vec<FieldError>> {
        let mut checks = Checks::default();
        for (i, item) in self.items.iter().enumerate() {
            let source = catalogue.cure_name(&item.name).is_some();
            let edible = !matches!(item.kind, StockKind::Cure | StockKind::Casing);
            checks.that(
                !(source && edible),
                &format!("items[{i}].kind"),
                "That is or may be a curing salt. Keep it as one, apart from salt and spices.",
            );
            checks.that(
                !item.name.trim().is_empty() && item.name.chars().count() <= 60,
                &format!("items[{i}].name"),
                "Name it in up to 60 letters, such as black pepper.",
            );
            checks.zero_or_more(
                Measure::Mass,
                item.amount,
                &format!("items[{i}].amount"),
                "500",
            );
            if let Some(mm) = item.diameter_mm {
                checks.above_zero(
                    Measure::Length,
                    mm,
                    &format!("items[{i}].diameter_mm"),
                    "32",
                );
            }
            checks.that(
                item.price_cents.is_none_or(|c| c >= 0),
                &format!("items[{i}].price_cents"),
                "A price is zero or more.",
            );
            for (day, field) in [
                (item.opened_on, "opened_on"),
                (item.good_until, "good_until"),
            ] {
                if let Some(Err(message)) = day.map(bounds::day) {
                    checks.that(false, &format!("items[{i}].{field}"), &message);
                }
            }
        }
        checks.done()
    }

    /// Every item as it stands on a day, after what doses used of it.
    #[must_use]
    pub fn standing(&self, book: &Book, today: Date) -> Vec<Standing> {
        // Two items of one name share what was used, the one opened first before the other.
        let mut order: Vec<usize> = (0..self.items.len()).collect();
        order.sort_by_key(|&i| {
            let item = &self.items[i];
            (item.opened_on.is_none(), item.opened_on, item.good_until, i)
        });
        let mut found: Vec<Option<Standing>> = vec![None; self.items.len()];
        let mut taken: Vec<(&str, f64)> = Vec::new();
        for i in order {
            let item = &self.items[i];
            let before = taken
                .iter()
                .filter(|(name, _)| same(name, &item.name))
                .map(|(_, used)| used)
                .sum::<f64>();
            let used = match item.kind.unit() {
                StockUnit::Grams => used_since(book, &item.name, item.counted_at),
                StockUnit::Metres => metres_since(book, &item.name, item.counted_at),
                StockUnit::Pieces => 0.0,
            };
            let used = (used - before).clamp(0.0, item.amount);
            taken.push((&item.name, used));
            let past = item.good_until.is_some_and(|day| day < today);
            found[i] = Some(Standing {
                item: item.clone(),
                used,
                left: if past { 0.0 } else { item.amount - used },
                past,
            });
        }
        found.into_iter().flatten().collect()
    }
}

/// True when two names mean the same thing in a pantry.
#[must_use]
pub fn same(a: &str, b: &str) -> bool {
    a.trim().eq_ignore_ascii_case(b.trim())
}

/// What doses and coats took of something since a moment (g).
fn used_since(book: &Book, name: &str, since: Timestamp) -> f64 {
    let out_of = |posting: &Posting| {
        let is_it = matches!(&posting.account, Account::Material(m) if same(m, name));
        if is_it { -posting.mass.grams() } else { 0.0 }
    };
    book.lots()
        .flat_map(|lot| lot.live_entries())
        .filter(|e| e.happened_at >= since)
        .filter(|e| matches!(e.act, Act::Dosed(_) | Act::Coated(_)))
        .flat_map(|e| &e.postings)
        .map(out_of)
        .sum()
}

/// What casing took of something since a moment, less what went back in salt (m).
fn metres_since(book: &Book, name: &str, since: Timestamp) -> f64 {
    book.lots()
        .flat_map(|lot| lot.live_entries())
        .filter(|e| e.happened_at >= since)
        .filter_map(|e| {
            let Act::Cased(cased) = &e.act else {
                return None;
            };
            same(&cased.casing, name).then(|| cased.used_m())
        })
        .sum()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn item(name: &str, kind: StockKind, amount: f64) -> StockItem {
        StockItem {
            name: name.into(),
            kind,
            amount,
            counted_at: "2026-11-01T08:00:00Z".parse().unwrap(),
            diameter_mm: None,
            opened_on: None,
            good_until: None,
            price_cents: None,
        }
    }

    #[test]
    fn what_is_past_its_date_no_longer_counts() {
        let mut old = item("cure #1", StockKind::Cure, 200.0);
        old.good_until = Some("2026-10-31".parse().unwrap());
        let pantry = Pantry {
            items: vec![old, item("salt", StockKind::Salt, 900.0)],
        };
        let standing = pantry.standing(&crate::testing::book(), "2026-11-20".parse().unwrap());
        assert_eq!((standing[0].past, standing[0].left), (true, 0.0));
        assert_eq!((standing[1].past, standing[1].left), (false, 900.0));
    }

    #[test]
    fn wrong_items_are_all_named() {
        let mut wrong = item(" ", StockKind::Casing, -1.0);
        wrong.diameter_mm = Some(0.0);
        wrong.price_cents = Some(-5);
        let fields: Vec<_> = Pantry { items: vec![wrong] }
            .check(&Catalogue::shipped())
            .unwrap_err()
            .into_iter()
            .map(|e| e.field)
            .collect();
        assert_eq!(
            fields,
            [
                "items[0].name",
                "items[0].amount",
                "items[0].diameter_mm",
                "items[0].price_cents"
            ]
        );
    }
}
