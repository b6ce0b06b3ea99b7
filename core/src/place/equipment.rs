//! What stands in the kitchen, the shed and the cellar, and what each of it can take.

use crate::builds::Tool;
use crate::caution::{Checks, Code, Finding, Severity};
use crate::place::{Place, PlaceId, PlaceUse};
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
    /// Fridge shelves, tubs, pans, smokers, drying places, freezers.
    pub places: Vec<Place>,
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
            places: Vec::new(),
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
            Tool::Oven => self.oven,
            Tool::Vacuum => self.bags.iter().any(|b| b.vacuum),
            Tool::Grinder => self.grinder,
            Tool::Stuffer => self.stuffer,
            Tool::Smoker | Tool::DryingPlace | Tool::Tub | Tool::Pan => self
                .places
                .iter()
                .any(|p| p.kind().is_some_and(|k| k.tool == Some(tool))),
        }
    }

    /// The places for one use.
    pub fn places_for(&self, what: PlaceUse) -> impl Iterator<Item = &Place> {
        self.places.iter().filter(move |p| p.is_for(what))
    }

    /// What all places for one use take together; none where none was listed.
    #[must_use]
    pub fn room_for(&self, what: PlaceUse) -> Option<f64> {
        let mut places = self.places_for(what).peekable();
        places.peek()?;
        Some(places.map(Place::room).sum())
    }

    /// The place for one use of which one takes the most.
    #[must_use]
    pub fn largest_for(&self, what: PlaceUse) -> Option<&Place> {
        self.places_for(what)
            .max_by(|a, b| a.holds.total_cmp(&b.holds))
    }

    /// Gives new places their numbers, past those on the list and past `used`: a number that a piece's
    /// stay leans on never comes to mean another place.
    pub fn number_places(&mut self, used: PlaceId) {
        let listed = self.places.iter().map(|p| p.id).max().unwrap_or(0);
        let mut next = listed.max(used);
        for place in self.places.iter_mut().filter(|p| p.id == 0) {
            next += 1;
            place.id = next;
        }
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
            .remedy(
                "Check the digits and the unit; if it was weighed in parts or elsewhere, keep it as typed.",
            )
        })
    }

    /// Meat and brine that no tub of the house holds.
    #[must_use]
    pub fn over_tub(&self, room: Litres, units: Units) -> Option<Finding> {
        let largest = self.largest_for(PlaceUse::Brine)?;
        (room.0 > largest.holds).then(|| {
            Finding::new(
                Code::VesselTooSmall,
                Severity::Caution,
                "Meat and brine together are more than your largest tub holds.",
            )
            .saw(volume(room, units))
            .wants(format!(
                "at most {} in the {}",
                volume(Litres(largest.holds), units),
                largest.name
            ))
            .remedy("Share pieces and brine over two tubs by weight, or use less water.")
        })
    }

    /// The smallest bag a piece of this size goes into: its width and thickness once around, its
    /// length with a hand's width to close.
    #[must_use]
    pub fn bag_for(&self, size: crate::shape::size::Size, vacuum: bool) -> Option<&Bag> {
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
        for (i, place) in self.places.iter().enumerate() {
            place.check(&format!("equipment.places[{i}]"), checks);
            checks.that(
                place.id == 0 || self.places[..i].iter().all(|p| p.id != place.id),
                &format!("equipment.places[{i}].id"),
                "Two places carry the same number. Leave it out for a new one.",
            );
            let outer = place
                .stands_in
                .map(|id| self.places.iter().find(|p| p.id == id));
            checks.that(
                outer.is_none_or(|found| {
                    found.is_some_and(|o| o.is_for(PlaceUse::Cold) && o.id != place.id && o.stands_in.is_none())
                }),
                &format!("equipment.places[{i}].stands_in"),
                "Name a fridge, a porch or another cold place of the list, which itself stands in none.",
            );
            checks.that(
                place.sensor.as_deref().is_none_or(is_address),
                &format!("equipment.places[{i}].sensor"),
                "Give its thermometer's address and port, such as 127.0.0.1:8480, or leave it out.",
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
            .chain(self.bags.iter().map(|b| &b.name));
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
        let shelf = |p: &Place| p.length_mm.into_iter().chain(p.width_mm).reduce(f64::max);
        let longest = self
            .places_for(PlaceUse::Smoke)
            .filter_map(shelf)
            .reduce(f64::max);
        let longest = Millimetres(longest?);
        (long > longest).then(|| {
            Finding::new(
                Code::VesselTooSmall,
                Severity::Caution,
                "It is longer than a shelf of your smoker.",
            )
            .saw(length(long, units.length))
            .wants(format!("at most {}", length(longest, units.length)))
            .remedy("Cut it shorter before it is dosed, or hang it.")
        })
    }
}

/// The word by which a place of a household for practice is read by the thermometer that comes with it.
pub const PRACTICE_SENSOR: &str = "practice";

/// True for a host and a port, or the thermometer of a household for practice.
fn is_address(text: &str) -> bool {
    text == PRACTICE_SENSOR
        || text.rsplit_once(':').is_some_and(|(host, port)| {
            let is_host =
                |c: char| c.is_ascii_alphanumeric() || matches!(c, '.' | '-' | ':' | '[' | ']');
            !host.is_empty()
                && host.len() <= 100
                && host.chars().all(is_host)
                && port.parse::<u16>().is_ok_and(|p| p > 0)
        })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn tub(name: &str, litres: f64, count: u32) -> Place {
        Place {
            kind: "tub".into(),
            name: name.into(),
            count,
            holds: litres,
            ..Place::default()
        }
    }

    fn kitchen() -> Equipment {
        Equipment {
            scales: vec![Scale {
                name: "kitchen scale".into(),
                division_g: 1.0,
                max_g: 5_000.0,
            }],
            places: vec![tub("bucket", 12.0, 2), tub("bowl", 4.0, 1)],
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
        assert_eq!(kitchen.room_for(PlaceUse::Brine), Some(28.0));
        assert_eq!(kitchen.room_for(PlaceUse::Hang), None);
        let mut numbered = kitchen.clone();
        numbered.places[1].id = 7;
        numbered.number_places(9);
        assert_eq!((numbered.places[0].id, numbered.places[1].id), (10, 7));
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
            assert_eq!(kitchen.has(tool), want, "{}", tool.label());
        }
    }
}
