//! What is left in the pantry: what was counted, less what the ledger says was used since.

use crate::ledger::Account;
use crate::ledger::book::Book;
use crate::ledger::facts::cased::Cased;
use crate::ledger::facts::packed::Packed;
pub use crate::stock::{Pantry, StockItem, StockKind, StockUnit, same};
use jiff::Timestamp;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

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
    /// Every item as it stands on a day, after what the acts of the ledger took of it.
    ///
    /// Each use comes off the item of its name that was opened first, and off the next when that is used up; what was used
    /// before an item was counted is in its count already.
    #[must_use]
    pub fn standing(&self, book: &Book, today: Date) -> Vec<Standing> {
        let mut left: Vec<f64> = self.items.iter().map(|i| i.amount).collect();
        // Of two of one name the one opened first before the other.
        let mut order: Vec<usize> = (0..self.items.len()).collect();
        order.sort_by_key(|&i| {
            let item = &self.items[i];
            (item.opened_on.is_none(), item.opened_on, item.good_until, i)
        });
        let mut uses = self.uses(book);
        uses.sort_by_key(|u| u.at);
        for Use {
            at,
            unit,
            name,
            amount,
        } in uses
        {
            let mut rest = amount;
            let mine = order.iter().filter(|&&i| {
                let item = &self.items[i];
                item.kind.unit() == unit && same(&item.name, name)
            });
            for &i in mine {
                if at < self.items[i].counted_at {
                    break;
                }
                let taken = rest.min(left[i]);
                left[i] -= taken;
                rest -= taken;
            }
        }
        let standing = self.items.iter().zip(left).map(|(item, left)| {
            let past = item.good_until.is_some_and(|day| day < today);
            Standing {
                used: item.amount - left,
                left: if past { 0.0 } else { left },
                item: item.clone(),
                past,
            }
        });
        standing.collect()
    }

    /// Everything that acts took of something that is kept.
    fn uses<'a>(&self, book: &'a Book) -> Vec<Use<'a>> {
        let Some(first) = self.items.iter().map(|i| i.counted_at).min() else {
            return Vec::new();
        };
        let live = book.lots().flat_map(|lot| lot.live_entries());
        let mut found = Vec::new();
        for entry in live.filter(|e| e.happened_at >= first) {
            let at = entry.happened_at;
            for posting in entry.postings.iter().filter(|p| p.mass.grams() < 0.0) {
                if let Account::Material(name) = &posting.account {
                    let amount = -posting.mass.grams();
                    found.push(Use {
                        at,
                        unit: StockUnit::Grams,
                        name,
                        amount,
                    });
                }
            }
            if let Some(cased) = entry.act.of::<Cased>() {
                found.push(Use {
                    at,
                    unit: StockUnit::Metres,
                    name: &cased.casing,
                    amount: cased.used_m(),
                });
                found.extend(cased.also.iter().map(|out| Use {
                    at,
                    unit: StockUnit::Metres,
                    name: &out.name,
                    amount: out.taken.value.0 / 1_000.0,
                }));
            }
            if let Some(packed) = entry.act.of::<Packed>() {
                found.extend(packed.bags().map(|name| Use {
                    at,
                    unit: StockUnit::Pieces,
                    name,
                    amount: 1.0,
                }));
            }
        }
        found
    }
}

/// Something that an act took of what is kept.
struct Use<'a> {
    at: Timestamp,
    unit: StockUnit,
    name: &'a str,
    amount: f64,
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::testing::stock_item as item;
    use serde_json::json;

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
    fn each_use_comes_off_one_item_whenever_the_others_are_counted() {
        let mut season = crate::testing::Season::empty();
        let at = |hours: i64| season.now + jiff::SignedDuration::from_hours(hours);
        let kept = |name: &str, kind, amount, counted| StockItem {
            counted_at: at(counted),
            ..item(name, kind, amount)
        };
        let mut first = kept("salt", StockKind::Salt, 1_000.0, 0);
        first.opened_on = Some("2025-12-01".parse().unwrap());
        let mut pantry = Pantry {
            items: vec![
                first,
                kept("Salt", StockKind::Salt, 500.0, 0),
                kept("bought back fat", StockKind::Meat, 900.0, 0),
                kept("vacuum bag", StockKind::Bag, 20.0, 0),
            ],
        };
        season.did(&[
            json!({"act": "received", "name": "half hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "30 kg"}),
            json!({"act": "piece_weighed", "lot": 1, "cut": "belly", "reading": "1 kg", "thickness": "30 mm"}),
            json!({"act": "byproduct_weighed", "lot": 1, "kind": "trim", "reading": "3 kg"}),
            json!({"act": "assigned", "piece": 1, "build": "belly-slab"}),
        ]);
        season.wait_h(1);
        season.did(&[
            json!({"act": "dosed", "pieces": [1]}),
            json!({"act": "ground", "lot": 1, "reading": "3580 g", "sources": [{"from": "kept", "kind": "trim", "reading": "3 kg"},
                {"from": "added", "name": "bought back fat", "species": "pig", "reading": "600 g"}]}),
            json!({"act": "assigned", "piece": 2, "build": "fresh"}),
            json!({"act": "packed", "piece": 2, "finished": false, "packs": [{"reading": "500 g", "bag": "Vacuum bag"}, {"reading": "500 g", "bag": "vacuum bag"}]}),
        ]);
        let left = |pantry: &Pantry, season: &crate::testing::Season| -> Vec<f64> {
            let standing = pantry.standing(&season.book, season.home.settings.day(season.now));
            standing.iter().map(|s| s.left).collect()
        };
        let lines = &season.piece(1).dose().unwrap().lines;
        let salt = lines
            .iter()
            .find(|l| l.name == "salt")
            .unwrap()
            .mass
            .value
            .grams();
        assert!(salt > 10.0);
        assert_eq!(left(&pantry, &season), [1_000.0 - salt, 500.0, 300.0, 18.0]);
        // The first is counted again: the second keeps what it had.
        season.wait_h(1);
        pantry.items[0].amount = 970.0;
        pantry.items[0].counted_at = season.now;
        assert_eq!(left(&pantry, &season), [970.0, 500.0, 300.0, 18.0]);
        // Used up, the next of its name gives the rest.
        pantry.items[0].amount = 10.0;
        pantry.items[0].counted_at = "2025-12-31T00:00:00Z".parse().unwrap();
        pantry.items[1].counted_at = pantry.items[0].counted_at;
        assert_eq!(left(&pantry, &season)[..2], [0.0, 510.0 - salt]);
    }
}
