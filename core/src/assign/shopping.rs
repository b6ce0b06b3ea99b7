//! The shopping list of a plan: meat, salt, sugar, cures, spices, casings, nets, bags, string and
//! wood, less what the pantry holds.

use super::plan::{KeptPlan, Table, yield_of};
use super::wraps::{Wrapping, wraps};
use crate::builds::{Build, Keep};
use crate::catalogue::Catalogue;
use crate::catalogue::cures::Role;
use crate::cure::sheet::{SheetPiece, WeighOut, sheet};
use crate::household::Household;
use crate::ledger::PieceId;
use crate::pantry::{Standing, StockKind, StockUnit, same};
use crate::piece::storage::Storage;
use crate::shape::Shape;
use crate::shape::size::Size;
use crate::units::show::{mass, trim};
use crate::units::{Grams, Millimetres, Typed};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// One thing on the list.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ShoppingLine {
    /// Its kind.
    pub kind: StockKind,
    /// What it is called.
    pub name: String,
    /// What its amounts are counted in.
    pub unit: StockUnit,
    /// What the plan takes.
    pub need: f64,
    /// What the pantry holds.
    pub have: f64,
    /// What is missing.
    pub buy: f64,
    /// The same as a shop sells it: rounded up to an amount that exists.
    pub take: f64,
    /// What that costs, in hundredths, if its price is known.
    pub cost_cents: Option<i64>,
    /// The products it is for.
    pub products: Vec<String>,
    /// What to know about it.
    pub note: Option<String>,
}

/// Everything a plan takes, in the order of the shelves.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ShoppingList {
    /// The lines.
    pub lines: Vec<ShoppingLine>,
    /// What all that is to buy costs, as far as prices are known, in hundredths.
    pub cost_cents: i64,
    /// Things to buy whose price is not known.
    pub unpriced: usize,
    /// Products whose dose could not be worked out, and why.
    pub problems: Vec<String>,
}

/// What an ingredient of a dose is kept as; none for what costs nothing.
const fn shelf(role: Role) -> Option<StockKind> {
    match role {
        Role::Water => None,
        Role::CuringSalt => Some(StockKind::Cure),
        Role::Salt => Some(StockKind::Salt),
        Role::Sugar => Some(StockKind::Sugar),
        Role::Spice | Role::Liquid | Role::Accelerator | Role::Binder => Some(StockKind::Spice),
    }
}

/// Pieces, or a block, of one product in a plan.
#[derive(Default)]
pub(crate) struct Batch {
    /// The pieces.
    pub pieces: Vec<SheetPiece>,
    /// Their sizes, where they are known.
    pub sizes: Vec<Option<Size>>,
}

/// Adds up what a plan takes and takes off what is kept.
#[must_use]
pub fn shopping_list(
    table: &Table,
    plan: &KeptPlan,
    home: &Household,
    stock: &[Standing],
) -> ShoppingList {
    let mut batches: BTreeMap<&str, Batch> = BTreeMap::new();
    let mut gives: BTreeMap<&str, f64> = BTreeMap::new();
    for (key, build_key) in &plan.choices {
        let Some(supply) = table.supply(key) else {
            continue;
        };
        let Some(option) = supply.options.iter().find(|o| o.build == *build_key) else {
            continue;
        };
        if table
            .catalogue
            .build(build_key)
            .is_none_or(|b| b.is_ground())
        {
            continue;
        }
        *gives.entry(build_key).or_default() += option.gives_g;
        let cut = table
            .catalogue
            .species(&supply.species)
            .and_then(|s| s.cut(&supply.cut));
        let usual = cut.map(|c| f64::midpoint(c.thickness_mm.low, c.thickness_mm.high));
        let thickness_mm = supply.thickness_mm.or(usual);
        let size = cut
            .zip(thickness_mm)
            .map(|(cut, mm)| Size::estimate(Grams(option.usable_g), Millimetres(mm), cut));
        let batch = batches.entry(build_key).or_default();
        batch.pieces.push(SheetPiece {
            id: PieceId(batch.pieces.len() as i64),
            tag: supply.tag.clone(),
            meat: Grams(option.usable_g),
            shape: Shape {
                thickness: thickness_mm.map(|mm| Typed::unsaid(Millimetres(mm))),
                skin_on: supply.skin_on,
                fat_cap: supply.fat_cap,
                ..Shape::default()
            },
            made: None,
            unground: false,
            fat: None,
        });
        batch.sizes.push(size);
    }
    for block in &plan.blocks {
        let made = table.catalogue.build(&block.build);
        let made = made.map_or(0.0, |b| block.block_g * yield_of(b, &table.yields).0);
        *gives.entry(&block.build).or_default() += made;
        let batch = batches.entry(&block.build).or_default();
        batch.pieces.push(SheetPiece {
            id: PieceId(batch.pieces.len() as i64),
            tag: block.build.clone(),
            meat: Grams(block.block_g),
            shape: Shape::default(),
            made: None,
            unground: false,
            fat: None,
        });
        batch.sizes.push(None);
    }
    let mut list = ShoppingList::default();
    for (key, batch) in &batches {
        if let Some(build) = table.catalogue.build(key) {
            list.add_batch(build, batch, home, stock, &table.catalogue);
        }
    }
    for (key, gives_g) in gives {
        if let Some(build) = table.catalogue.build(key) {
            list.add_packs(build, gives_g, home, stock);
        }
    }
    for block in &plan.blocks {
        let name = &table.catalogue.build_name(&block.build);
        if block.bought_fat_g >= 1.0 {
            list.need(
                StockKind::Meat,
                &table.catalogue.shelves.bought_fat,
                block.bought_fat_g,
                name,
                None,
            );
        }
    }
    list.take_off(stock);
    list
}

impl ShoppingList {
    fn add_batch(
        &mut self,
        build: &Build,
        batch: &Batch,
        home: &Household,
        stock: &[Standing],
        catalogue: &Catalogue,
    ) {
        self.add_dose(build, batch, home, catalogue);
        self.add_wraps(build, batch, home, stock);
        self.add_wood(build, batch, catalogue);
    }

    /// What their dose takes.
    pub(crate) fn add_dose(
        &mut self,
        build: &Build,
        batch: &Batch,
        home: &Household,
        catalogue: &Catalogue,
    ) {
        match sheet(&WeighOut::of(build, &batch.pieces), home, catalogue) {
            Ok(sheet) => {
                for line in &sheet.lines {
                    if let Some(kind) = shelf(line.role) {
                        self.need(kind, &line.name, line.exact_g, &build.name, None);
                    }
                }
            }
            Err(errors) => self.problems.extend(
                errors
                    .into_iter()
                    .map(|e| format!("{}: {}", build.name, e.message)),
            ),
        }
    }

    /// Casings, nets, bags and string.
    pub(crate) fn add_wraps(
        &mut self,
        build: &Build,
        batch: &Batch,
        home: &Household,
        stock: &[Standing],
    ) {
        for (piece, size) in batch.pieces.iter().zip(&batch.sizes) {
            for need in wraps(Wrapping {
                build,
                mass_g: piece.meat.0,
                size: *size,
                equipment: home.equipment.as_ref(),
                stock,
                units: home.units,
            }) {
                let note = (!need.in_stock).then(|| need.made_of.clone());
                self.need(need.kind, &need.name, need.amount, &build.name, note);
            }
        }
    }

    /// A bag for each pack that comes of it.
    fn add_packs(&mut self, build: &Build, gives_g: f64, home: &Household, stock: &[Standing]) {
        let sealed = |k: &Keep| Storage::of(&k.place).sealed;
        let usual = if build.keeps.iter().any(sealed) {
            "vacuum bag"
        } else {
            "bag"
        };
        let kept = stock
            .iter()
            .find(|s| s.item.kind == StockKind::Bag && s.item.name.to_lowercase().contains(usual));
        let packs = (gives_g / home.pack_g - 1e-9).ceil().max(0.0);
        if packs > 0.0 {
            let name = kept.map_or(usual, |s| &s.item.name);
            let each = mass(Grams(home.pack_g), home.units.mass);
            self.need(
                StockKind::Bag,
                name,
                packs,
                &build.name,
                Some(format!("packs of {each}")),
            );
        }
    }

    /// Wood for their smoke.
    pub(crate) fn add_wood(&mut self, build: &Build, batch: &Batch, catalogue: &Catalogue) {
        let meat_g: f64 = batch.pieces.iter().map(|p| p.meat.0).sum();
        if let Some(smoke) = build
            .smoke
            .as_ref()
            .filter(|s| build.is_smoked() && s.wood_g_per_kg > 0.0)
        {
            self.need(
                StockKind::Wood,
                &catalogue.shelves.wood,
                meat_g / 1_000.0 * smoke.wood_g_per_kg,
                &build.name,
                Some(
                    "hardwood or fruitwood sold for food, never resinous, painted or treated"
                        .into(),
                ),
            );
        }
    }

    fn need(
        &mut self,
        kind: StockKind,
        name: &str,
        amount: f64,
        product: &str,
        note: Option<String>,
    ) {
        let found = self
            .lines
            .iter_mut()
            .find(|l| l.kind == kind && same(&l.name, name));
        let line = match found {
            Some(line) => line,
            None => {
                self.lines.push(ShoppingLine {
                    kind,
                    name: name.into(),
                    unit: kind.unit(),
                    need: 0.0,
                    have: 0.0,
                    buy: 0.0,
                    take: 0.0,
                    cost_cents: None,
                    products: Vec::new(),
                    note: None,
                });
                let last = self.lines.len() - 1;
                &mut self.lines[last]
            }
        };
        line.need += amount;
        if !line.products.iter().any(|p| p == product) {
            line.products.push(product.into());
        }
        if line.note.is_none() {
            line.note = note;
        }
    }

    /// Takes off what the pantry holds, and prices what is missing.
    pub(crate) fn take_off(&mut self, stock: &[Standing]) {
        for line in &mut self.lines {
            let kept: Vec<_> = stock
                .iter()
                .filter(|s| s.item.kind == line.kind && same(&s.item.name, &line.name))
                .collect();
            line.have = kept.iter().map(|s| s.left).sum();
            line.buy = (line.need - line.have).max(0.0);
            line.take = in_the_shop(line.kind, line.buy);
            if kept.iter().any(|s| s.past) {
                line.note =
                    Some("what the pantry holds of it is past its date, or some of it is".into());
            }
            let price = kept.iter().find_map(|s| s.item.price_cents);
            line.cost_cents = price.map(|cents| {
                let per = match line.unit {
                    StockUnit::Grams => line.buy / 1_000.0,
                    StockUnit::Metres | StockUnit::Pieces => line.buy,
                };
                (per * cents as f64).round() as i64
            });
        }
        let shelf = |k: StockKind| StockKind::ALL.iter().position(|x| *x == k);
        self.lines
            .sort_by(|a, b| (shelf(a.kind), &a.name).cmp(&(shelf(b.kind), &b.name)));
        self.cost_cents = self.lines.iter().filter_map(|l| l.cost_cents).sum();
        self.unpriced = self
            .lines
            .iter()
            .filter(|l| l.buy > 1e-9 && l.cost_cents.is_none())
            .count();
    }

    /// The list as text, to be sent to somebody in the shop: what is to buy, and nothing else.
    #[must_use]
    pub fn text(&self, home: &Household) -> String {
        let mut text = format!("Shopping for {}\n", home.name);
        for line in self.lines.iter().filter(|l| l.buy > 1e-9) {
            let sold = if line.take > line.buy + 1e-9 {
                format!("take {}, ", amount(line.take, line.unit, home))
            } else {
                String::new()
            };
            text.push_str(&format!(
                "- {}: {}\n  {sold}for {}\n",
                line.name,
                amount(line.buy, line.unit, home),
                line.products.join(", ")
            ));
        }
        if self.lines.iter().all(|l| l.buy <= 1e-9) {
            text.push_str("Everything is in the house.\n");
        }
        text
    }

    /// The list as a table, one row a thing (RFC 4180, UTF-8).
    #[must_use]
    pub fn csv(&self) -> String {
        let mut csv = String::from("kind,name,unit,need,have,buy,cost,products\r\n");
        for line in &self.lines {
            let cost = line
                .cost_cents
                .map_or(String::new(), |c| trim(c as f64 / 100.0, 2));
            let cells = [
                crate::ledger::word(&line.kind),
                line.name.clone(),
                crate::ledger::word(&line.unit),
                trim(line.need, 2),
                trim(line.have, 2),
                trim(line.buy, 2),
                cost,
                line.products.join("; "),
            ];
            let row: Vec<_> = cells.iter().map(|c| quoted(c)).collect();
            csv.push_str(&row.join(","));
            csv.push_str("\r\n");
        }
        csv
    }
}

/// So much of something as a shop sells it, at least: whole bags, half metres, and weights that are on packets.
#[must_use]
pub fn in_the_shop(kind: StockKind, missing: f64) -> f64 {
    if missing <= 1e-9 {
        return 0.0;
    }
    let up = |step: f64| (missing / step - 1e-9).ceil() * step;
    match (kind.unit(), missing) {
        (StockUnit::Pieces, _) => up(1.0),
        (StockUnit::Metres, _) => up(0.5),
        (StockUnit::Grams, ..10.0) => up(5.0),
        (StockUnit::Grams, ..100.0) => up(10.0),
        (StockUnit::Grams, ..500.0) => up(50.0),
        (StockUnit::Grams, ..2_000.0) => up(100.0),
        (StockUnit::Grams, _) => up(500.0),
    }
}

/// An amount of stock as people say it.
#[must_use]
pub fn amount(value: f64, unit: StockUnit, home: &Household) -> String {
    match unit {
        StockUnit::Grams => mass(Grams(value), home.units.mass),
        StockUnit::Metres => format!("{} m", trim(value, 1)),
        StockUnit::Pieces => trim(value, 0),
    }
}

/// A cell that holds a comma, a quote or a break is quoted; one that a spreadsheet would take for
/// a formula is kept a word.
fn quoted(cell: &str) -> String {
    let cell = if cell.starts_with(['=', '+', '@']) {
        format!("'{cell}")
    } else {
        cell.to_string()
    };
    if cell.contains([',', '"', '\n', '\r']) {
        format!("\"{}\"", cell.replace('"', "\"\""))
    } else {
        cell
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::assign::plan::{Block, Supply, SupplyOption};
    use crate::ledger::LotId;
    use crate::pantry::StockItem;
    use crate::testing::stock_item;

    fn belly(key: &str, usable_g: f64) -> Supply {
        Supply {
            key: key.into(),
            piece: None,
            lot: LotId(1),
            tag: "HG1 belly".into(),
            species: "pig".into(),
            species_name: "pig".into(),
            cut: "belly".into(),
            cut_name: "belly".into(),
            mass_g: usable_g,
            thickness_mm: Some(45.0),
            skin_on: false,
            fat_cap: false,
            options: vec![SupplyOption {
                build: "belly-slab".into(),
                name: "streaky slab bacon".into(),
                score: 2,
                usable_g,
                gives_g: usable_g * 0.9,
                first: vec![],
                reason: String::new(),
            }],
            assigned: None,
            locked: None,
        }
    }

    fn stock(name: &str, kind: StockKind, amount: f64, price_cents: Option<i64>) -> Standing {
        Standing {
            item: StockItem {
                price_cents,
                ..stock_item(name, kind, amount)
            },
            used: 0.0,
            left: amount,
            past: false,
        }
    }

    fn made(stock: &[Standing]) -> ShoppingList {
        let table = Table {
            catalogue: Catalogue::shipped(),
            supply: vec![belly("a", 4_000.0), belly("b", 6_000.0)],
            loose: vec![],
            places: Vec::new(),
            yields: BTreeMap::new(),
        };
        let plan = KeptPlan {
            name: "A".into(),
            choices: [("a", "belly-slab"), ("b", "belly-slab")]
                .map(|(k, b)| (k.to_string(), b.to_string()))
                .into(),
            blocks: vec![Block {
                build: "formed-loaf".into(),
                block_g: 2_000.0,
                bought_fat_g: 600.0,
                ..Block::default()
            }],
        };
        shopping_list(&table, &plan, &Household::default(), stock)
    }

    #[test]
    fn a_plan_asks_for_what_its_doses_take_less_what_is_kept() {
        let kept = [
            stock("Cure #1", StockKind::Cure, 20.0, Some(2_400)),
            stock("sugar", StockKind::Sugar, 5_000.0, None),
        ];
        let list = made(&kept);
        let line = |name: &str| list.lines.iter().find(|l| l.name == name).unwrap();
        // 2.5 g/kg over 10 kg of belly and 2 kg of block, less 20 g that are kept
        let cure = line("cure #1");
        assert!(
            (cure.need - 30.0).abs() < 1e-6 && (cure.buy - 10.0).abs() < 1e-6,
            "{cure:?}"
        );
        // 10 g at 24.00 a kilogram
        assert_eq!(cure.cost_cents, Some(24));
        // 12 g/kg of 10 kg and 10 g/kg of 2 kg
        assert!((line("sugar").need - 140.0).abs() < 1e-6);
        assert_eq!(line("sugar").buy, 0.0);
        assert_eq!(line("pork back fat").buy, 600.0);
        // 60 g of wood for each kg of belly and loaf
        assert!((line("smoking wood").need - 720.0).abs() < 1e-6);
        assert!(list.lines.iter().all(|l| l.name != "ice water"));
        assert_eq!(list.lines[0].kind, StockKind::Meat);
        assert!(list.problems.is_empty());
    }

    #[test]
    fn the_list_can_be_sent_as_text_and_as_a_table() {
        let list = made(&[stock("salt", StockKind::Salt, 9_000.0, None)]);
        let text = list.text(&Household::default());
        assert!(
            text.starts_with("Shopping for Our table\n- pork back fat: 600 g\n"),
            "{text}"
        );
        assert!(text.contains("\n  for formed ground bacon\n"), "{text}");
        assert!(!text.contains("salt:"));
        // Bags for the packs, and amounts that a shop sells.
        let line = |name: &str| list.lines.iter().find(|l| l.name == name).unwrap();
        let bags = line("vacuum bag");
        assert!(bags.need >= 2.0 && bags.take == bags.buy.ceil(), "{bags:?}");
        assert_eq!((line("sugar").buy, line("sugar").take), (140.0, 150.0));
        for (kind, missing, take) in [
            (StockKind::Cure, 3.2, 5.0),
            (StockKind::Salt, 612.0, 700.0),
            (StockKind::Salt, 2_010.0, 2_500.0),
            (StockKind::Casing, 2.2, 2.5),
            (StockKind::Bag, 3.0, 3.0),
            (StockKind::Bag, 0.0, 0.0),
        ] {
            assert_eq!(in_the_shop(kind, missing), take, "{missing}");
        }
        let csv = list.csv();
        let first: Vec<_> = csv.lines().take(2).collect();
        assert_eq!(first[0], "kind,name,unit,need,have,buy,cost,products");
        assert_eq!(
            first[1],
            "meat,pork back fat,grams,600,0,600,,formed ground bacon"
        );
        assert!(csv.ends_with("\r\n"));
        assert_eq!(quoted("salt, fine"), "\"salt, fine\"");
        assert_eq!(quoted("=1+1"), "'=1+1");
    }
}
