//! What stands in the kitchen, the shed and the cellar, and what each of it can take.

use crate::builds::Tool;
use crate::caution::{Checks, Code, Finding, Severity};
use crate::units::bounds::Measure;
use crate::units::show::{length, mass, volume};
use crate::units::{Grams, Litres, MassUnit, Millimetres, Units};
use serde::{Deserialize, Serialize};

/// A scale.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Scale {
    /// What it is called.
    pub name: String,
    /// Its smallest step (g).
    pub division_g: f64,
    /// The most it can weigh (g).
    pub max_g: f64,
}

/// A slicer's opening.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Slicer {
    /// How long a slice may be (mm).
    pub width_mm: f64,
    /// How thick a piece may be (mm).
    pub height_mm: f64,
}

/// A kind of bag.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Bag {
    /// What it is called.
    pub name: String,
    /// Its width, flat (mm).
    pub width_mm: f64,
    /// Its length, flat (mm).
    pub length_mm: f64,
    /// True for a bag to be sealed by vacuum.
    pub vacuum: bool,
}

/// A tub or bucket.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Tub {
    /// What it is called.
    pub name: String,
    /// What it holds to the brim (l).
    pub litres: f64,
    /// How many there are.
    pub count: u32,
}

/// A loaf pan.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Pan {
    /// What it is called.
    pub name: String,
    /// Inside length (mm).
    pub length_mm: f64,
    /// Inside width (mm).
    pub width_mm: f64,
    /// Inside height (mm).
    pub height_mm: f64,
    /// How many there are.
    pub count: u32,
}

/// A fridge shelf.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FridgeShelf {
    /// What it is called.
    pub name: String,
    /// Room for bags and tubs (l).
    pub litres: f64,
}

/// A smoker.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Smoker {
    /// How many shelves.
    pub shelves: u32,
    /// A shelf's length (mm).
    pub shelf_length_mm: f64,
    /// A shelf's width (mm).
    pub shelf_width_mm: f64,
    /// The most it takes in one run (kg).
    pub max_kg: f64,
}

/// A drying place.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Chamber {
    /// How many hooks.
    pub hooks: u32,
    /// How long a piece may hang (mm).
    pub drop_mm: f64,
}

/// Everything a household has listed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Equipment {
    /// Scales.
    pub scales: Vec<Scale>,
    /// The slicer, if there is one.
    pub slicer: Option<Slicer>,
    /// Bags.
    pub bags: Vec<Bag>,
    /// Tubs and buckets.
    pub tubs: Vec<Tub>,
    /// Loaf pans.
    pub pans: Vec<Pan>,
    /// Fridge shelves that may be used for curing.
    pub fridge: Vec<FridgeShelf>,
    /// The smoker, if there is one.
    pub smoker: Option<Smoker>,
    /// The drying place, if there is one.
    pub chamber: Option<Chamber>,
    /// Whether there is an oven.
    pub oven: bool,
    /// Whether there is a grinder.
    pub grinder: bool,
    /// Whether there is a stuffer.
    pub stuffer: bool,
    /// Pieces thicker than this are cut before they are cured, where their build allows more or less (mm).
    pub thickness_limit_mm: f64,
}

impl Default for Equipment {
    fn default() -> Self {
        Self {
            scales: Vec::new(),
            slicer: None,
            bags: Vec::new(),
            tubs: Vec::new(),
            pans: Vec::new(),
            fridge: Vec::new(),
            smoker: None,
            chamber: None,
            oven: true,
            grinder: false,
            stuffer: false,
            thickness_limit_mm: 75.0,
        }
    }
}

impl Equipment {
    /// Whether the household has a tool.
    #[must_use]
    pub fn has(&self, tool: Tool) -> bool {
        match tool {
            Tool::Smoker => self.smoker.is_some(),
            Tool::Oven => self.oven,
            Tool::DryingPlace => self.chamber.is_some(),
            Tool::Vacuum => self.bags.iter().any(|b| b.vacuum),
            Tool::Grinder => self.grinder,
            Tool::Stuffer => self.stuffer,
            Tool::Tub => !self.tubs.is_empty(),
            Tool::Pan => !self.pans.is_empty(),
        }
    }

    /// All tubs together (l).
    #[must_use]
    pub fn tub_litres(&self) -> f64 {
        self.tubs
            .iter()
            .map(|t| t.litres * f64::from(t.count))
            .sum()
    }

    /// The largest tub, if there is one.
    #[must_use]
    pub fn largest_tub(&self) -> Option<&Tub> {
        self.tubs
            .iter()
            .max_by(|a, b| a.litres.total_cmp(&b.litres))
    }

    /// All fridge shelves together (l).
    #[must_use]
    pub fn fridge_litres(&self) -> f64 {
        self.fridge.iter().map(|s| s.litres).sum()
    }

    /// A mass that no scale of the house can weigh at once.
    #[must_use]
    pub fn over_scale(&self, mass_on_it: Grams, unit: MassUnit) -> Option<Finding> {
        let grams = mass_on_it.0;
        let largest = self
            .scales
            .iter()
            .max_by(|a, b| a.max_g.total_cmp(&b.max_g))?;
        (grams > largest.max_g).then(|| {
            Finding::new(
                Code::OverScale,
                Severity::Caution,
                "No scale on your list can weigh that at once.",
            )
            .saw(mass(Grams(grams), unit))
            .wants(format!(
                "at most {} on the {}",
                mass(Grams(largest.max_g), unit),
                largest.name
            ))
            .way_out(
                "Check the digits and the unit; if it was weighed in parts or elsewhere, keep it as typed.",
            )
        })
    }

    /// Meat and brine that no tub of the house holds.
    #[must_use]
    pub fn over_tub(&self, room: Litres, units: Units) -> Option<Finding> {
        let litres = room.0;
        let largest = self.largest_tub()?;
        (litres > largest.litres).then(|| {
            Finding::new(
                Code::VesselTooSmall,
                Severity::Caution,
                "Meat and brine together are more than your largest tub holds.",
            )
            .saw(volume(room, units.mass))
            .wants(format!(
                "at most {} in the {}",
                volume(Litres(largest.litres), units.mass),
                largest.name
            ))
            .way_out("Share pieces and brine over two tubs by weight, or use less water.")
        })
    }

    /// The smallest bag a piece of this size goes into: its width and thickness once around, its
    /// length with a hand's width to close.
    #[must_use]
    pub fn bag_for(&self, size: crate::piece::size::Size, vacuum: bool) -> Option<&Bag> {
        self.bags
            .iter()
            .filter(|b| {
                (b.vacuum || !vacuum)
                    && size.fits_bag(Millimetres(b.width_mm), Millimetres(b.length_mm))
            })
            .min_by(|a, b| (a.width_mm * a.length_mm).total_cmp(&(b.width_mm * b.length_mm)))
    }

    /// Checks every number; field names begin with `equipment.`.
    pub(crate) fn check(&self, checks: &mut Checks) {
        for (i, s) in self.scales.iter().enumerate() {
            checks.above_zero(
                Measure::Division,
                s.division_g,
                &format!("equipment.scales[{i}].division_g"),
                "1",
            );
            checks.above_zero(
                Measure::Mass,
                s.max_g,
                &format!("equipment.scales[{i}].max_g"),
                "5000",
            );
            checks.that(
                s.max_g > s.division_g,
                &format!("equipment.scales[{i}].max_g"),
                "A scale weighs more than its smallest step. Give its maximum in grams, such as 5000.",
            );
        }
        if let Some(s) = self.slicer {
            checks.above_zero(
                Measure::Length,
                s.width_mm,
                "equipment.slicer.width_mm",
                "190",
            );
            checks.above_zero(
                Measure::Length,
                s.height_mm,
                "equipment.slicer.height_mm",
                "160",
            );
        }
        for (i, b) in self.bags.iter().enumerate() {
            checks.above_zero(
                Measure::Length,
                b.width_mm,
                &format!("equipment.bags[{i}].width_mm"),
                "300",
            );
            checks.above_zero(
                Measure::Length,
                b.length_mm,
                &format!("equipment.bags[{i}].length_mm"),
                "400",
            );
        }
        for (i, t) in self.tubs.iter().enumerate() {
            checks.above_zero(
                Measure::Volume,
                t.litres,
                &format!("equipment.tubs[{i}].litres"),
                "12",
            );
            checks.that(
                t.count >= 1,
                &format!("equipment.tubs[{i}].count"),
                "Say how many there are: 1 or more.",
            );
        }
        for (i, p) in self.pans.iter().enumerate() {
            for (value, side) in [
                (p.length_mm, "length_mm"),
                (p.width_mm, "width_mm"),
                (p.height_mm, "height_mm"),
            ] {
                checks.above_zero(
                    Measure::Length,
                    value,
                    &format!("equipment.pans[{i}].{side}"),
                    "250",
                );
            }
            checks.that(
                p.count >= 1,
                &format!("equipment.pans[{i}].count"),
                "Say how many there are: 1 or more.",
            );
        }
        for (i, s) in self.fridge.iter().enumerate() {
            checks.above_zero(
                Measure::Volume,
                s.litres,
                &format!("equipment.fridge[{i}].litres"),
                "25",
            );
        }
        if let Some(s) = self.smoker {
            checks.that(
                s.shelves >= 1,
                "equipment.smoker.shelves",
                "Say how many shelves it has: 1 or more.",
            );
            checks.above_zero(
                Measure::Length,
                s.shelf_length_mm,
                "equipment.smoker.shelf_length_mm",
                "450",
            );
            checks.above_zero(
                Measure::Length,
                s.shelf_width_mm,
                "equipment.smoker.shelf_width_mm",
                "350",
            );
            checks.above_zero(Measure::Mass, s.max_kg, "equipment.smoker.max_kg", "15");
        }
        if let Some(c) = self.chamber {
            checks.that(
                c.hooks >= 1,
                "equipment.chamber.hooks",
                "Say how many hooks it has: 1 or more.",
            );
            checks.above_zero(
                Measure::Length,
                c.drop_mm,
                "equipment.chamber.drop_mm",
                "700",
            );
        }
        checks.that(
            (20.0..=200.0).contains(&self.thickness_limit_mm),
            "equipment.thickness_limit_mm",
            "Give the thickest slab you cure, such as 75; usual are 50 to 80 mm.",
        );
        let names = self
            .scales
            .iter()
            .map(|s| &s.name)
            .chain(self.bags.iter().map(|b| &b.name))
            .chain(self.tubs.iter().map(|t| &t.name))
            .chain(self.pans.iter().map(|p| &p.name))
            .chain(self.fridge.iter().map(|s| &s.name));
        for name in names {
            checks.that(
                !name.trim().is_empty(),
                "equipment",
                "Give everything on the list a name.",
            );
        }
    }

    /// What cannot be smoked on one shelf because of its size.
    #[must_use]
    pub fn over_shelf(&self, long: Millimetres, units: Units) -> Option<Finding> {
        let long_mm = long.0;
        let shelf = self.smoker?;
        let longest = shelf.shelf_length_mm.max(shelf.shelf_width_mm);
        (long_mm > longest).then(|| {
            Finding::new(
                Code::VesselTooSmall,
                Severity::Caution,
                "It is longer than a shelf of your smoker.",
            )
            .saw(length(Millimetres(long_mm), units.length))
            .wants(format!(
                "at most {}",
                length(Millimetres(longest), units.length)
            ))
            .way_out("Cut it shorter before it is dosed, or hang it.")
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn kitchen() -> Equipment {
        Equipment {
            scales: vec![Scale {
                name: "kitchen scale".into(),
                division_g: 1.0,
                max_g: 5_000.0,
            }],
            tubs: vec![
                Tub {
                    name: "bucket".into(),
                    litres: 12.0,
                    count: 2,
                },
                Tub {
                    name: "bowl".into(),
                    litres: 4.0,
                    count: 1,
                },
            ],
            ..Equipment::default()
        }
    }

    #[test]
    fn what_is_too_much_for_a_scale_or_tub_is_noticed() {
        let kitchen = kitchen();
        assert_eq!(kitchen.over_scale(Grams(5_000.0), MassUnit::Metric), None);
        let found = kitchen
            .over_scale(Grams(5_240.0), MassUnit::Metric)
            .unwrap();
        assert_eq!(found.code, Code::OverScale);
        assert_eq!(
            found.wants.as_deref(),
            Some("at most 5 kg on the kitchen scale")
        );
        assert_eq!(kitchen.over_tub(Litres(12.0), Units::METRIC), None);
        assert_eq!(
            kitchen
                .over_tub(Litres(12.5), Units::METRIC)
                .unwrap()
                .saw
                .as_deref(),
            Some("12.5 l")
        );
        assert!((kitchen.tub_litres() - 28.0).abs() < 1e-12);
        // Without a list nothing can be said.
        assert_eq!(
            Equipment::default().over_scale(Grams(9e9), MassUnit::Metric),
            None
        );
    }

    #[test]
    fn a_tool_is_there_when_it_stands_on_the_list() {
        let kitchen = kitchen();
        #[rustfmt::skip]
        let cases = [
            (Tool::Tub, true), (Tool::Oven, true), (Tool::Smoker, false), (Tool::DryingPlace, false),
            (Tool::Vacuum, false), (Tool::Grinder, false), (Tool::Stuffer, false), (Tool::Pan, false),
        ];
        for (tool, want) in cases {
            assert_eq!(kitchen.has(tool), want, "{}", tool.said());
        }
    }
}
