//! What is kept in the pantry: its items as they were counted. What is left of them is worked out in `pantry`.

use crate::catalogue::Catalogue;
use crate::caution::{Checks, Code, FieldError, Finding, Severity};
use crate::units::Millimetres;
use crate::units::bounds::{self, Measure};
use crate::units::show::trim;
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

    /// As much as a household keeps of it, from the least that is worth a count to the most, in its unit.
    const fn usual(self) -> (f64, f64) {
        match self {
            Self::Meat => (50.0, 200_000.0),
            Self::Salt | Self::Sugar => (20.0, 100_000.0),
            Self::Cure => (0.5, 10_000.0),
            Self::Spice => (0.5, 10_000.0),
            Self::Casing | Self::Net => (0.1, 500.0),
            Self::String => (0.5, 5_000.0),
            Self::Bag => (1.0, 5_000.0),
            Self::Wood => (50.0, 500_000.0),
        }
    }

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
    /// Its number, by which it is told from another of the same name; 0 for one that has none yet.
    #[serde(default)]
    pub id: u32,
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
    /// Of salt: whether it is plain, without iodine or anything against caking. Nobody looked when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub plain: Option<bool>,
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

impl StockItem {
    /// What is asked about its amount: more than any household keeps of it, or next to nothing of what is weighed by the kilogram.
    #[must_use]
    pub fn odd(&self) -> Option<Finding> {
        let (least, most) = self.kind.usual();
        let said = |n: f64| match self.kind.unit() {
            StockUnit::Grams if n >= 1_000.0 => format!("{} kg", trim(n / 1_000.0, 2)),
            StockUnit::Grams => format!("{} g", trim(n, 1)),
            StockUnit::Metres => format!("{} m", trim(n, 1)),
            StockUnit::Pieces => format!("{} pieces", trim(n, 0)),
        };
        let is_odd = self.amount > most || (self.amount > 0.0 && self.amount < least);
        is_odd.then(|| {
            Finding::new(
                Code::OddAmount,
                Severity::Caution,
                format!("Is that how much {} there is?", self.name),
            )
            .saw(said(self.amount))
            .wants(format!("{} to {} as a rule", said(least), said(most)))
            .remedy("Check the number and its unit, such as 1.5 kg. Kept as typed, it stands.")
        })
    }
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

    /// The same with a number for each item that has none.
    #[must_use]
    pub fn numbered(mut self) -> Self {
        let mut last = self.items.iter().map(|i| i.id).max().unwrap_or(0);
        for item in self.items.iter_mut().filter(|i| i.id == 0) {
            last += 1;
            item.id = last;
        }
        self
    }

    /// Every item of a kind and a name.
    pub fn named<'a>(
        &'a self,
        kind: StockKind,
        name: &'a str,
    ) -> impl Iterator<Item = &'a StockItem> {
        self.items
            .iter()
            .filter(move |i| i.kind == kind && same(&i.name, name))
    }

    /// Whether a salt of that name is plain: by every jar of it that somebody looked at, else by every jar of salt.
    #[must_use]
    pub fn is_plain_salt(&self, name: &str) -> Option<bool> {
        let salts = || self.items.iter().filter(|i| i.kind == StockKind::Salt);
        let called = || salts().filter(|i| same(&i.name, name));
        let mut looked: Vec<Option<bool>> = called().map(|i| i.plain).collect();
        if looked.is_empty() {
            looked = salts().map(|i| i.plain).collect();
        }
        let known: Vec<bool> = looked.iter().flatten().copied().collect();
        match known.as_slice() {
            all if all.contains(&false) => Some(false),
            all if !all.is_empty() && all.len() == looked.len() => Some(true),
            _ => None,
        }
    }

    /// How wide a casing or net of that name is; none where the pantry does not say, or keeps several widths under one name.
    #[must_use]
    pub fn width(&self, name: &str) -> Option<Millimetres> {
        let kept = [StockKind::Casing, StockKind::Net];
        let mut widths = kept
            .iter()
            .flat_map(|kind| self.named(*kind, name))
            .filter_map(|i| i.diameter_mm);
        let first = widths.next()?;
        widths
            .all(|w| (w - first).abs() < 1e-9)
            .then_some(Millimetres(first))
    }
}

/// True when two names mean the same thing in a pantry.
#[must_use]
pub fn same(a: &str, b: &str) -> bool {
    a.trim().eq_ignore_ascii_case(b.trim())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::testing::stock_item as item;

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

    #[test]
    fn each_item_has_a_number_of_its_own_that_stays() {
        let pantry = Pantry {
            items: vec![
                item("salt", StockKind::Salt, 1.0),
                item("Salt", StockKind::Salt, 2.0),
            ],
        }
        .numbered();
        assert_eq!(
            pantry.items.iter().map(|i| i.id).collect::<Vec<_>>(),
            [1, 2]
        );
        let mut less = pantry;
        less.items.remove(0);
        less.items.push(item("pepper", StockKind::Spice, 3.0));
        assert_eq!(
            less.numbered()
                .items
                .iter()
                .map(|i| i.id)
                .collect::<Vec<_>>(),
            [2, 3]
        );
    }
}
