//! Places: what a household has of them, what each takes, and who lies in one from when to when.

pub mod air;
pub mod climate;
pub mod equipment;
pub mod live;
pub mod spells;

use crate::catalogue::Catalogue;
pub use crate::catalogue::place_kinds::{PlaceAsk, PlaceKind, PlaceMeasure, PlaceUse};
use crate::caution::Checks;
use crate::heat::typed::ReadWhere;
use crate::units::Millimetres;
use crate::units::bounds::Measure;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::sync::LazyLock;

/// The kinds, read once: what a tub is for is nobody's opinion and no argument.
static KINDS: LazyLock<Vec<PlaceKind>> = LazyLock::new(|| Catalogue::shipped().place_kinds.clone());

/// What a vessel is made of; salt and acid eat some metals.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Material {
    /// Plastic for food.
    Plastic,
    /// Glass.
    Glass,
    /// Stoneware or enamel.
    Glazed,
    /// Stainless steel.
    Stainless,
    /// Aluminium, iron, copper or tin: reacts with salt and cure.
    Reactive,
    /// Wood.
    Wood,
}

/// What heats a smoker or an oven.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Fuel {
    /// Charcoal.
    Charcoal,
    /// A wood fire.
    Wood,
    /// Pellets for food.
    Pellets,
    /// Gas.
    Gas,
    /// Electricity.
    Electric,
}

/// A place of the household.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Place {
    /// Its number, kept for as long as it stands on the list; given when it is put there.
    pub id: u32,
    /// Its kind.
    pub kind: String,
    /// What it is called.
    pub name: String,
    /// How many there are of it.
    pub count: u32,
    /// What one of them takes, by the measure of its kind.
    pub holds: f64,
    /// Length inside, or of a shelf (mm).
    pub length_mm: Option<f64>,
    /// Width inside, or of a shelf (mm).
    pub width_mm: Option<f64>,
    /// Height inside, or how long a piece may hang (mm).
    pub height_mm: Option<f64>,
    /// How many shelves.
    pub shelves: Option<u32>,
    /// What it is made of.
    pub material: Option<Material>,
    /// Whether it has a lid, where that was said.
    pub lid: Option<bool>,
    /// Its zones by name: `left`, `right`; empty for one that is the same all over.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub zones: Vec<String>,
    /// The lowest temperature it holds steadily (°C).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub lowest_c: Option<f64>,
    /// What heats it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fuel: Option<Fuel>,
    /// The place that it stands in: a bucket on the porch is as cold as the porch.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub stands_in: Option<PlaceId>,
    /// Where its thermometer answers: `127.0.0.1:8480`, or `practice` for the one that comes with a household for practice.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sensor: Option<String>,
}

/// The number of a place.
pub type PlaceId = u32;

/// A stay of a piece in a place.
#[derive(Clone, Debug, PartialEq)]
pub struct Stay {
    /// The place.
    pub place: PlaceId,
    /// Since when.
    pub from: Timestamp,
    /// Until when; none while it is there.
    pub until: Option<Timestamp>,
}

impl Place {
    /// What a temperature read in it is one of.
    #[must_use]
    pub fn read_where(&self) -> ReadWhere {
        if self.kind().is_some_and(|k| k.dries.is_some()) {
            ReadWhere::Air
        } else if self.is_for(PlaceUse::Freeze) {
            ReadWhere::Freezer
        } else {
            ReadWhere::Cold
        }
    }

    /// So many of a kind, each taking so much by the measure of its kind.
    #[must_use]
    pub fn new(kind: &str, name: &str, count: u32, holds: f64) -> Self {
        Self {
            kind: kind.into(),
            name: name.into(),
            count,
            holds,
            ..Self::default()
        }
    }

    /// The same with its sides inside, or those of a shelf.
    #[must_use]
    pub fn sized(
        self,
        length: Option<Millimetres>,
        width: Option<Millimetres>,
        height: Option<Millimetres>,
    ) -> Self {
        Self {
            length_mm: length.map(Millimetres::get),
            width_mm: width.map(Millimetres::get),
            height_mm: height.map(Millimetres::get),
            ..self
        }
    }

    /// Its kind, if it is known here.
    #[must_use]
    pub fn kind(&self) -> Option<&'static PlaceKind> {
        KINDS.iter().find(|k| k.key == self.kind)
    }

    /// True when it is for this.
    #[must_use]
    pub fn is_for(&self, what: PlaceUse) -> bool {
        self.kind().is_some_and(|k| k.uses.contains(&what))
    }

    /// What all of them take together.
    #[must_use]
    pub fn room(&self) -> f64 {
        self.holds * f64::from(self.count)
    }

    /// Checks every number; field names begin with `at`.
    pub(crate) fn check(&self, at: &str, checks: &mut Checks) {
        let Some(kind) = self.kind() else {
            let keys: Vec<_> = KINDS.iter().map(|k| k.key.as_str()).collect();
            checks.that(
                false,
                &format!("{at}.kind"),
                &format!(
                    "There is no kind of place “{}”. Use one of {}.",
                    self.kind,
                    keys.join(", ")
                ),
            );
            return;
        };
        checks.that(
            !self.name.trim().is_empty(),
            &format!("{at}.name"),
            "Give everything on the list a name.",
        );
        checks.that(
            (1..=1_000).contains(&self.count),
            &format!("{at}.count"),
            "Say how many there are: 1 or more.",
        );
        let (measure, example) = match kind.measure {
            PlaceMeasure::Hooks => (Measure::Count, "8 hooks"),
            PlaceMeasure::Litres => (Measure::Volume, "12 litres"),
            PlaceMeasure::Kilograms => (Measure::Count, "15 kg"),
        };
        // A pan is known by its sides; what it takes follows from them.
        let sides = [self.length_mm, self.width_mm, self.height_mm];
        let sized = kind.uses.contains(&PlaceUse::Press);
        if sized {
            checks.zero_or_more(measure, self.holds, &format!("{at}.holds"), example);
        } else {
            checks.above_zero(measure, self.holds, &format!("{at}.holds"), example);
        }
        for (ask, value, name) in [
            (PlaceAsk::Length, sides[0], "length_mm"),
            (PlaceAsk::Width, sides[1], "width_mm"),
            (PlaceAsk::Height, sides[2], "height_mm"),
        ] {
            let needed = sized && kind.asks.contains(&ask);
            if needed || value.is_some() {
                checks.above_zero(
                    Measure::Length,
                    value.unwrap_or(0.0),
                    &format!("{at}.{name}"),
                    "250",
                );
            }
        }
        let named = |z: &String| !z.trim().is_empty() && z.chars().count() <= 40;
        checks.that(
            self.zones.len() <= 8
                && self.zones.iter().all(named)
                && (1..self.zones.len()).all(|i| !self.zones[..i].contains(&self.zones[i])),
            &format!("{at}.zones"),
            "Name up to eight zones, each differently, such as left and right.",
        );
        if let Some(lowest) = self.lowest_c {
            checks.within(
                Measure::Temperature,
                lowest,
                &format!("{at}.lowest_c"),
                "55",
            );
        }
        checks.that(
            self.shelves.is_none_or(|n| (1..=100).contains(&n)),
            &format!("{at}.shelves"),
            "Say how many shelves it has: 1 or more.",
        );
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_place_takes_what_its_kind_is_for() {
        let bucket = Place {
            id: 1,
            kind: "tub".into(),
            name: "bucket".into(),
            count: 2,
            holds: 12.0,
            ..Place::default()
        };
        assert!(bucket.is_for(PlaceUse::Brine) && !bucket.is_for(PlaceUse::Hang));
        assert!((bucket.room() - 24.0).abs() < 1e-12);
        let wrong = |place: Place| {
            let mut checks = Checks::default();
            place.check("places[0]", &mut checks);
            let found = checks.done().map_err(|e| e[0].to_string());
            found.unwrap_err()
        };
        #[rustfmt::skip]
        let cases = [
            (Place { kind: "moon".into(), ..bucket.clone() }, "places[0].kind: There is no kind of place “moon”. Use one of fridge, tub,"),
            (Place { name: " ".into(), ..bucket.clone() }, "places[0].name: Give everything on the list a name."),
            (Place { count: 0, ..bucket.clone() }, "places[0].count: Say how many there are: 1 or more."),
            (Place { holds: 0.0, ..bucket.clone() }, "places[0].holds: Give a number above zero, such as 12 litres."),
            (Place { holds: 1e9, ..bucket.clone() }, "places[0].holds: Give at most 10,000 l, such as 12 litres."),
            (Place { height_mm: Some(-1.0), ..bucket.clone() }, "places[0].height_mm: Give a number above zero, such as 250."),
            (Place { kind: "pan".into(), ..bucket.clone() }, "places[0].length_mm: Give a number above zero, such as 250."),
        ];
        for (place, want) in cases {
            let said = wrong(place);
            assert!(said.starts_with(want), "{said}");
        }
    }

    #[test]
    fn every_planned_use_has_a_kind_that_serves_it() {
        for what in PlaceUse::PLANNED {
            assert!(KINDS.iter().any(|k| k.uses.contains(&what)), "{what:?}");
        }
    }
}
