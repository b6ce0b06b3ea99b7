//! What the demo household keeps, wishes for, and has in its kitchen and shed.

use super::Table;
use anyhow::Result;
use jiff::{Timestamp, ToSpan};
use manifest_core::assign::wishes::{Wish, WishAmount, WishList};
use manifest_core::pantry::{Pantry, StockItem, StockKind};
use manifest_core::place::equipment::{Bag, Equipment, PRACTICE_SENSOR, Scale, Slicer};
use manifest_core::place::{Fuel, Material, Place};
use manifest_core::units::{Millimetres, reading};
use manifest_store::NewList;

/// The kitchen, the shed and the cellar.
pub(super) fn equipment() -> Equipment {
    Equipment {
        scales: vec![
            Scale {
                name: "spice scale".into(),
                division_g: 0.1,
                max_g: 500.0,
            },
            Scale {
                name: "kitchen scale".into(),
                division_g: 5.0,
                max_g: 10_000.0,
            },
            Scale {
                name: "hanging scale".into(),
                division_g: 20.0,
                max_g: 50_000.0,
            },
        ],
        slicer: Some(Slicer {
            width_mm: 210.0,
            height_mm: 160.0,
        }),
        bags: vec![
            Bag {
                name: "vacuum bag, small".into(),
                width_mm: 200.0,
                length_mm: 300.0,
                vacuum: true,
            },
            Bag {
                name: "vacuum bag, large".into(),
                width_mm: 300.0,
                length_mm: 500.0,
                vacuum: true,
            },
        ],
        places: places(),
        grinder: true,
        stuffer: false,
        ..Equipment::default()
    }
}

/// The upper shelf of the spare fridge, whose thermometer speaks for itself.
pub(super) const FRIDGE: u32 = 4;

/// The drying chamber.
pub(super) const CHAMBER: u32 = 7;

/// The porch, which somebody looks at three times a day.
pub(super) const PORCH: u32 = 8;

/// What was read on the porch: days ago, hour, minute, °C.
pub(super) const READ_ON_THE_PORCH: [(i64, i64, i64, f64); 13] = [
    (5, 13, 10, 4.1),
    (5, 21, 40, 2.6),
    (4, 7, 35, 1.4),
    (4, 12, 50, 3.8),
    (4, 21, 15, 2.2),
    (3, 7, 20, 0.6),
    (3, 13, 5, 3.9),
    (3, 22, 0, 2.7),
    (2, 7, 40, 1.9),
    (2, 12, 45, 5.2),
    (2, 21, 30, 3.3),
    (1, 7, 25, 2.1),
    (1, 21, 50, 2.8),
];

fn places() -> Vec<Place> {
    let mm = |n: f64| Some(Millimetres(n));
    let mut places = vec![
        Place {
            material: Some(Material::Plastic),
            lid: Some(true),
            ..Place::new("tub", "brine bucket", 2, 12.0)
        },
        Place {
            material: Some(Material::Stainless),
            lid: Some(false),
            ..Place::new("tub", "meat tub", 1, 25.0)
        },
        Place::new("pan", "loaf pan", 4, 0.0).sized(mm(250.0), mm(110.0), mm(70.0)),
        Place {
            sensor: Some(PRACTICE_SENSOR.into()),
            ..Place::new("fridge", "spare fridge, upper", 1, 30.0)
        },
        Place::new("fridge", "spare fridge, lower", 1, 35.0),
        Place {
            shelves: Some(3),
            zones: vec!["left".into(), "right".into()],
            lowest_c: Some(50.0),
            fuel: Some(Fuel::Charcoal),
            sensor: Some(PRACTICE_SENSOR.into()),
            ..Place::new("smoker", "smoker", 1, 12.0).sized(mm(450.0), mm(350.0), mm(160.0))
        },
        Place {
            sensor: Some(PRACTICE_SENSOR.into()),
            ..Place::new("chamber", "drying chamber", 1, 6.0).sized(None, None, mm(700.0))
        },
        Place::new("porch", "back porch", 1, 60.0),
    ];
    for (place, id) in places.iter_mut().zip(1..) {
        place.id = id;
    }
    places
}

struct Kept(&'static str, StockKind, f64, Option<i64>);

fn pantry(now: Timestamp) -> Pantry {
    use StockKind::{Bag, Casing, Cure, Meat, Net, Salt, Spice, String, Sugar, Wood};
    #[rustfmt::skip]
    let kept = [
        // what, kind, amount, price of a kilogram, metre or piece in hundredths
        Kept("salt",              Salt,   2_600.0, Some(140)),
        Kept("sugar",             Sugar,    180.0, Some(220)),
        Kept("cure #1",           Cure,      14.0, Some(2_600)),
        Kept("cure #2",           Cure,     120.0, Some(2_900)),
        Kept("black pepper",      Spice,    150.0, Some(3_200)),
        Kept("coriander",         Spice,     20.0, None),
        Kept("pork back fat",     Meat,       0.0, Some(480)),
        Kept("casing sheet",      Casing,     1.2, Some(350)),
        Kept("net, small",        Net,        4.0, Some(90)),
        Kept("net, large",        Net,        2.5, Some(120)),
        Kept("string",            String,    38.0, Some(6)),
        Kept("vacuum bag, small", Bag,       24.0, Some(35)),
        Kept("vacuum bag, large", Bag,        9.0, Some(55)),
        Kept("smoking wood",      Wood,     900.0, Some(300)),
    ];
    let items = kept
        .into_iter()
        .map(|Kept(name, kind, amount, price_cents)| {
            let diameter_mm = match name {
                "net, small" => Some(55.0),
                "net, large" => Some(110.0),
                _ => None,
            };
            StockItem {
                id: 0,
                name: name.into(),
                kind,
                amount,
                counted_at: now,
                diameter_mm,
                plain: (kind == Salt).then_some(true),
                opened_on: (kind == Cure).then(|| date("2026-02-10")),
                good_until: match name {
                    "cure #1" => Some(date("2027-06-30")),
                    // Forgotten at the back of the shelf.
                    "coriander" => Some(date("2026-09-30")),
                    _ => None,
                },
                price_cents,
            }
        });
    Pantry {
        items: items.collect(),
    }
}

fn date(text: &str) -> jiff::civil::Date {
    text.parse().unwrap_or_default()
}

fn wishes(now: Timestamp) -> WishList {
    let until = |weeks: i64| {
        let day = now.to_zoned(jiff::tz::TimeZone::UTC).date();
        day.saturating_add(weeks.weeks())
    };
    let wish = |id, build: &str, amount| Wish {
        id,
        build: build.into(),
        amount,
        species: None,
    };
    WishList {
        wishes: vec![
            wish(
                1,
                "formed-loaf",
                WishAmount::Rate {
                    a_week: reading(300.0),
                    until: until(14),
                },
            ),
            wish(
                2,
                "backstrap",
                WishAmount::Mass {
                    amount: reading(1_000.0),
                },
            ),
            wish(3, "breast-peppered", WishAmount::Pieces { n: 2 }),
            wish(
                4,
                "jowl-smoked",
                WishAmount::Mass {
                    amount: reading(700.0),
                },
            ),
            wish(5, "ham-bucket", WishAmount::Pieces { n: 2 }),
        ],
    }
}

impl Table<'_> {
    pub(super) fn lists(&self) -> Result<()> {
        self.store
            .put(NewList::Pantry(pantry(self.now)), 0, self.now)?;
        self.store
            .put(NewList::Wishes(wishes(self.now)), 0, self.now)?;
        Ok(())
    }
}
