//! The dish that meat is buried in: how much salt fills it around the meat.

use super::SheetPiece;
use crate::catalogue::Catalogue;
use crate::catalogue::spoons::Spoon;
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::cure::spoons::weigh;
use crate::shape::size::Size;
use crate::units::show::{length, trim};
use crate::units::{Grams, Litres, Millimetres, Units, read, to_division};
use serde::{Deserialize, Serialize};

/// The inside of a dish, as typed, and the salt that goes into it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DishAsk {
    /// Its length inside, such as `30 cm`.
    pub length: String,
    /// Its width inside.
    pub width: String,
    /// How high the salt is to stand in it.
    pub height: String,
    /// Which salt, by its word in the table of spoons: a litre of each weighs its own. Fine salt when left out.
    #[serde(default)]
    pub salt_kind: Option<String>,
}

/// A dish as it was measured.
#[derive(Clone, Debug, PartialEq)]
pub struct Dish {
    /// The room inside.
    pub holds: Litres,
    /// How high the salt stands.
    pub height: Millimetres,
    /// Which salt, by its word in the table of spoons.
    pub salt_kind: Option<String>,
}

/// Salt over the meat and under it (mm).
const OVER_AND_UNDER: f64 = 20.0;

/// A dish is no smaller and no larger than this (mm).
const SIDES: std::ops::RangeInclusive<f64> = 30.0..=2_000.0;

impl DishAsk {
    /// Reads what was typed; fields begin with `at`. Nothing where every side is empty.
    ///
    /// # Errors
    /// The side that cannot be read, or is missing.
    pub fn read(&self, at: &str, units: Units) -> Result<Option<Dish>, FieldError> {
        let sides = [
            ("length", &self.length),
            ("width", &self.width),
            ("height", &self.height),
        ];
        if sides.iter().all(|(_, text)| text.trim().is_empty()) {
            return Ok(None);
        }
        let mut mm = [0.0; 3];
        for ((name, text), to) in sides.iter().zip(&mut mm) {
            let field = format!("{at}.{name}");
            let read = read::length(text, units.length)
                .map_err(|e| FieldError::new(field.clone(), e.to_string()))?;
            if !SIDES.contains(&read.0) {
                return Err(FieldError::new(
                    field,
                    "No dish is that small or large. Measure it inside, such as 30 cm.",
                ));
            }
            *to = read.0;
        }
        let [long, wide, high] = mm;
        Ok(Some(Dish {
            holds: Litres(long * wide * high / 1e6),
            height: Millimetres(high),
            salt_kind: self
                .salt_kind
                .clone()
                .filter(|kind| !kind.trim().is_empty()),
        }))
    }
}

/// The salt that fills a dish around its meat.
pub(crate) struct Filled {
    /// How much.
    pub salt: Grams,
    /// How that was worked out.
    pub made_of: String,
    /// What to think about: salt that does not cover the thickest piece.
    pub finding: Option<Finding>,
}

impl Dish {
    /// The salt that fills it around so much meat.
    ///
    /// # Errors
    /// A dish that the meat alone fills; a salt that the table does not know.
    pub(crate) fn filled(
        &self,
        meat: Grams,
        pieces: &[&SheetPiece],
        units: Units,
        catalogue: &Catalogue,
    ) -> Result<Filled, FieldError> {
        let spoon = self.spoon(catalogue)?;
        let room = Size::volume(meat);
        let left = self.holds.0 - room.0;
        if left <= 0.0 {
            return Err(FieldError::new(
                "vessels",
                format!(
                    "The dish holds {} l, and the meat alone takes {}. Take a larger one, or let the salt stand higher.",
                    trim(self.holds.0, 1),
                    trim(room.0, 1)
                ),
            ));
        }
        let per_litre = weigh(spoon, 1_000.0);
        let salt = to_division(left * per_litre.nominal, 10.0);
        let thickest = pieces.iter().filter_map(|p| p.shape.thickness());
        let thickest = thickest.max_by(|a, b| a.0.total_cmp(&b.0));
        let wanted = thickest.map(|mm| Millimetres(mm.0 + OVER_AND_UNDER));
        let said = |mm| length(mm, units.length);
        let finding = wanted.filter(|mm| *mm > self.height).map(|mm| {
            Finding::new(
                Code::NotBuried,
                Severity::Caution,
                "The salt does not stand over the meat: what lies bare takes none.",
            )
            .saw(format!("{} of salt", said(self.height)))
            .wants(format!("{}, a finger under it and over it", said(mm)))
            .remedy("Let it stand higher, or lay the meat on its flat side.")
        });
        Ok(Filled {
            salt: Grams(salt),
            made_of: format!(
                "{} l of the dish less {} l of meat, {} g the litre ({} to {})",
                trim(self.holds.0, 2),
                trim(room.0, 2),
                trim(per_litre.nominal, 0),
                trim(per_litre.low, 0),
                trim(per_litre.high, 0)
            ),
            finding,
        })
    }

    fn spoon<'a>(&self, catalogue: &'a Catalogue) -> Result<&'a Spoon, FieldError> {
        let key = self.salt_kind.as_deref().unwrap_or("table_salt");
        let mut salts = catalogue.spoons.iter().filter(|s| s.key.contains("salt"));
        salts.find(|s| s.key == key).ok_or_else(|| {
            FieldError::new(
                "vessels",
                format!("“{key}” is no salt known here. Choose one of the list."),
            )
        })
    }
}
