//! Casings, nets, bags and string by the piece: what fits its girth, how many metres with spare,
//! and whether the pantry has them.

use super::slabs;
use crate::builds::{Build, Casing, Tool};
use crate::catalogue::dosing::Vessel;
use crate::pantry::{Standing, StockKind};
use crate::place::equipment::Equipment;
use crate::shape::size::{SHAPES, Size};
use crate::units::show::{length, trim};
use crate::units::{Grams, Millimetres, Units};
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// Something a piece is wrapped, filled or laid in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WrapNeed {
    /// What kind of stock it comes out of.
    pub kind: StockKind,
    /// What it is called: the stock that fits, or what to look for.
    pub name: String,
    /// How much, in the kind's unit, spare counted in.
    pub amount: f64,
    /// The diameter looked for (mm).
    pub diameter_mm: Option<f64>,
    /// How it was worked out.
    pub made_of: String,
    /// True when something in stock fits.
    pub in_stock: bool,
    /// What of that is left, in the kind's unit.
    pub left: f64,
}

/// How much casing of this diameter it takes for so much filling, spare counted in.
///
/// # Source
/// A cylinder at 1.05 g/cm³; 0.84 kg a metre at 32 mm.
#[must_use]
pub fn casing_length(filling: Grams, diameter: Millimetres) -> Millimetres {
    Millimetres(filling / a_metre_holds(diameter) * 1_000.0) * (1.0 + SHAPES.casing_spare)
}

/// What a metre of casing holds.
#[must_use]
pub fn a_metre_holds(diameter: Millimetres) -> Grams {
    Grams(PI / 4.0 * diameter.0.powi(2) * SHAPES.density_g_per_cm3)
}

/// True when a net or casing of this diameter sits on a girth without slipping or bursting.
#[must_use]
pub fn fits_girth(diameter: Millimetres, girth: Millimetres) -> bool {
    (diameter * PI / girth - 1.0).abs() <= SHAPES.girth_fit + 1e-9
}

/// A piece to be wrapped.
#[derive(Clone, Copy, Debug)]
pub struct Wrapping<'a> {
    /// What it becomes.
    pub build: &'a Build,
    /// What it weighs (g).
    pub mass_g: f64,
    /// As it lies; none when it was never measured.
    pub size: Option<Size>,
    /// What stands in the house.
    pub equipment: Option<&'a Equipment>,
    /// What is kept.
    pub stock: &'a [Standing],
    /// The units its words speak in.
    pub units: Units,
}

/// Everything a piece is wrapped, filled, netted, tied or bagged in.
#[must_use]
pub fn wraps(of: Wrapping<'_>) -> Vec<WrapNeed> {
    let mut needs = Vec::new();
    let wrap = &of.build.wrap;
    let say = |mm: f64| length(Millimetres(mm.round()), of.units.length);
    let girth = of.size.map(|size| {
        if wrap.rolled {
            slabs::roll_diameter(size).0 * PI
        } else {
            size.girth().0
        }
    });
    if wrap.casing == Some(Casing::Natural) {
        let wanted = wrap.diameter_mm.unwrap_or(32.0);
        let stock = find(of.stock, StockKind::Casing, |d| {
            d.is_some_and(|d| (d / wanted - 1.0).abs() <= SHAPES.girth_fit + 1e-9)
        });
        // What nobody measured may be it.
        let unknown = find(of.stock, StockKind::Casing, |d| d.is_none())
            .filter(|_| stock.is_none())
            .map(|s| format!("; {} is of unknown width: measure it", s.item.name));
        let diameter = stock.and_then(|s| s.item.diameter_mm).unwrap_or(wanted);
        needs.push(need(
            StockKind::Casing,
            stock,
            format!("casing, {} across", say(wanted)),
            casing_length(Grams(of.mass_g), Millimetres(diameter)).0 / 1_000.0,
            Some(diameter),
            format!(
                "{} kg at {} kg a metre, and a tenth for the ends{}",
                trim(of.mass_g / 1_000.0, 2),
                trim(a_metre_holds(Millimetres(diameter)).0 / 1_000.0, 2),
                unknown.unwrap_or_default()
            ),
        ));
    }
    let (Some(size), Some(girth)) = (of.size, girth) else {
        needs.extend(bag(of));
        return needs;
    };
    if wrap.casing == Some(Casing::Sheet) {
        let around = girth + SHAPES.sheet_overlap_mm;
        let stock = find(of.stock, StockKind::Casing, |d| d.is_none());
        needs.push(need(
            StockKind::Casing,
            stock,
            "casing sheet".into(),
            size.length_mm * (1.0 + SHAPES.casing_spare) / 1_000.0,
            None,
            format!(
                "{} wide: once around {} and {} of overlap; {} long and a tenth for the ends",
                say(around),
                say(girth),
                say(SHAPES.sheet_overlap_mm),
                say(size.length_mm)
            ),
        ));
    }
    // A filled casing is netted at its own girth.
    let girth = match (wrap.casing, wrap.diameter_mm) {
        (Some(Casing::Natural), Some(d)) => d * PI,
        _ => girth,
    };
    let long_mm = match (wrap.casing, wrap.diameter_mm) {
        (Some(Casing::Natural), Some(d)) => {
            Grams(of.mass_g) / a_metre_holds(Millimetres(d)) * 1_000.0
        }
        _ => size.length_mm,
    };
    if wrap.net {
        let stock = find(of.stock, StockKind::Net, |d| {
            d.is_some_and(|d| fits_girth(Millimetres(d), Millimetres(girth)))
        });
        needs.push(need(
            StockKind::Net,
            stock,
            format!("net for a girth of {}", say(girth)),
            (long_mm * (1.0 + SHAPES.casing_spare) + SHAPES.net_knots_mm) / 1_000.0,
            Some(girth / PI),
            format!(
                "{} long, a tenth to spare, and {} for the knots",
                say(long_mm),
                say(SHAPES.net_knots_mm)
            ),
        ));
    }
    if wrap.ties {
        let ties = if wrap.rolled {
            slabs::ties(Millimetres(size.length_mm))
        } else {
            2
        };
        needs.push(need(
            StockKind::String,
            find(of.stock, StockKind::String, |_| true),
            "string".into(),
            f64::from(ties) * (girth + SHAPES.tie_knot_mm) / 1_000.0,
            None,
            format!(
                "{ties} ties of once around {} and {} for the knot",
                say(girth),
                say(SHAPES.tie_knot_mm)
            ),
        ));
    }
    needs.extend(bag(of));
    needs
}

/// The bag it cures in.
fn bag(of: Wrapping<'_>) -> Option<WrapNeed> {
    let in_a_bag = of.build.vessel() == Vessel::Bag
        && of.build.dose.as_ref().is_some_and(|d| d.cure != "none");
    let equipment = of.equipment.filter(|_| in_a_bag)?;
    let vacuum = of.build.tools.contains(&Tool::Vacuum);
    let fits = of.size.and_then(|size| equipment.bag_for(size, vacuum));
    let (name, made_of) = match (fits, of.size) {
        (Some(bag), Some(size)) => (
            bag.name.clone(),
            format!(
                "the smallest that takes {} by {} by {}",
                length(Millimetres(size.length_mm.round()), of.units.length),
                length(Millimetres(size.width_mm.round()), of.units.length),
                length(Millimetres(size.thickness_mm), of.units.length)
            ),
        ),
        _ => (
            if vacuum { "vacuum bag" } else { "bag" }.to_string(),
            "none on the list takes it in one piece".to_string(),
        ),
    };
    let stock = of
        .stock
        .iter()
        .find(|s| s.item.kind == StockKind::Bag && crate::pantry::same(&s.item.name, &name));
    Some(need(StockKind::Bag, stock, name, 1.0, None, made_of))
}

fn find(
    stock: &[Standing],
    kind: StockKind,
    fits: impl Fn(Option<f64>) -> bool,
) -> Option<&Standing> {
    stock
        .iter()
        .filter(|s| s.item.kind == kind && !s.past && fits(s.item.diameter_mm))
        .max_by(|a, b| a.left.total_cmp(&b.left))
}

fn need(
    kind: StockKind,
    stock: Option<&Standing>,
    otherwise: String,
    amount: f64,
    diameter_mm: Option<f64>,
    made_of: String,
) -> WrapNeed {
    WrapNeed {
        kind,
        name: stock.map_or(otherwise, |s| s.item.name.clone()),
        amount,
        diameter_mm,
        made_of,
        in_stock: stock.is_some(),
        left: stock.map_or(0.0, |s| s.left),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pantry::StockItem;
    use crate::testing::build;
    use crate::testing::stock_item;

    fn stock(name: &str, kind: StockKind, amount: f64, diameter_mm: Option<f64>) -> Standing {
        Standing {
            item: StockItem {
                diameter_mm,
                ..stock_item(name, kind, amount)
            },
            used: 0.0,
            left: amount,
            past: false,
        }
    }

    #[test]
    fn a_metre_of_casing_holds_what_its_diameter_says() {
        assert!((a_metre_holds(Millimetres(32.0)).0 - 844.0).abs() < 1.0);
        // 2 kg at 0.844 kg a metre and a tenth: 2.61 m
        assert!((casing_length(Grams(2_000.0), Millimetres(32.0)).0 - 2_605.0).abs() < 1.0);
    }

    #[test]
    fn a_net_fits_within_a_tenth_of_the_girth() {
        let girth = PI * 80.0;
        for (d, want) in [
            (80.0, true),
            (72.0, true),
            (71.0, false),
            (88.0, true),
            (89.0, false),
        ] {
            assert_eq!(fits_girth(Millimetres(d), Millimetres(girth)), want, "{d}");
        }
    }

    #[test]
    fn a_cased_muscle_wants_sheet_net_string_and_bag() {
        let size = Size {
            length_mm: 300.0,
            width_mm: 80.0,
            thickness_mm: 80.0,
        };
        let kept = [
            stock("net 80", StockKind::Net, 5.0, Some(80.0)),
            stock("net 120", StockKind::Net, 9.0, Some(120.0)),
            stock("string", StockKind::String, 40.0, None),
        ];
        let got = wraps(Wrapping {
            build: build("muscle-cased").unwrap(),
            mass_g: 1_900.0,
            size: Some(size),
            equipment: Some(&Equipment::default()),
            stock: &kept,
            units: Units::default(),
        });
        let of = |kind| got.iter().find(|n| n.kind == kind).unwrap();
        let sheet = of(StockKind::Casing);
        assert_eq!(
            (sheet.in_stock, sheet.name.as_str()),
            (false, "casing sheet")
        );
        assert!((sheet.amount - 0.33).abs() < 1e-9);
        let net = of(StockKind::Net);
        assert_eq!((net.in_stock, net.name.as_str()), (true, "net 80"));
        // 300 mm, a tenth, 200 mm for the knots
        assert!((net.amount - 0.53).abs() < 1e-9);
        // Two ties of 251.3 mm around and 250 mm for the knot
        assert!((of(StockKind::String).amount - 1.0027).abs() < 0.001);
        assert_eq!(of(StockKind::Bag).name, "vacuum bag");
    }

    #[test]
    fn sausage_wants_casing_of_its_own_diameter() {
        let kept = [
            stock("hog casing", StockKind::Casing, 12.0, Some(33.0)),
            stock("sheep casing", StockKind::Casing, 12.0, Some(22.0)),
        ];
        let got = wraps(Wrapping {
            build: build("sausage-sweet").unwrap(),
            mass_g: 3_000.0,
            size: None,
            equipment: None,
            stock: &kept,
            units: Units::default(),
        });
        assert_eq!(got[0].name, "hog casing");
        assert!(
            (got[0].amount - casing_length(Grams(3_000.0), Millimetres(33.0)).0 / 1_000.0).abs()
                < 1e-9
        );
    }
}
