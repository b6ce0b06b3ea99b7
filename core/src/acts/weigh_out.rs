//! What a weigh-out is asked of: pieces of the ledger, the way, the vessels, the time and the brine, as typed.

use crate::acts::context::words;
use crate::catalogue::builds::Build;
use crate::catalogue::cures::Role;
use crate::catalogue::species::MIX;
use crate::caution::{Code, Finding, Severity};
use crate::cure::sheet::{Laid, OwnDose, Sheet, SheetPiece, VesselAsk, WeighOut, sheet};
use crate::dose::{BrineState, OwnTime, Turning};
use crate::form::{AskError, Count, hours};
use crate::house::House;
use crate::ids::PieceId;
use crate::ledger::book::Book;
use crate::pantry::Pantry;
use crate::reason;
use crate::units::show::length;
use crate::units::{Amount, Grams, Millimetres, Typed, Units};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;
use std::sync::Arc;

/// The pieces to be dosed and how: what `dosed` takes too. The fields are not one flattened part of both, which would let
/// unknown ones through.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetAsk {
    /// The pieces.
    pub pieces: Vec<PieceId>,
    /// True for one mix over all of them.
    #[serde(default)]
    pub mixed: bool,
    /// What is different from the build's dose.
    #[serde(default)]
    pub own: OwnDose,
    /// Another way of the product, by its word, or that of a recipe; its own way when left out.
    #[serde(default)]
    pub way: Option<String>,
    /// The product of one of the pieces by whose dose one mix goes over several products.
    #[serde(default)]
    pub recipe: Option<String>,
    /// The vessels they lie in. A piece that none names lies alone; in brine all such lie together.
    #[serde(default)]
    pub vessels: Vec<VesselAsk>,
    /// The cure-time school of this time, by its word.
    #[serde(default)]
    pub school: Option<String>,
    /// The days of a recipe, in the place of a school's.
    #[serde(default)]
    pub days: Option<Count>,
    /// Hours in a salt box, in the place of those by thickness.
    #[serde(default)]
    pub hours: Option<Amount>,
    /// Thicknesses that count in the place of the piece's own: of its zones, or rolled and tied. The greatest rules.
    #[serde(default)]
    pub zones: Vec<String>,
    /// Why those count, such as “the rub went between the layers”.
    #[serde(default)]
    pub zones_why: Option<String>,
    /// How often it is turned, in the place of what the product says.
    #[serde(default)]
    pub turning: Option<Turning>,
    /// How cold the brine was when the meat went in.
    #[serde(default)]
    pub brine_temperature: Option<String>,
    /// Whether the brine was stirred until it was clear.
    #[serde(default)]
    pub brine_clear: Option<bool>,
}

/// Read, with the pieces as they stand.
pub struct Prepared<'a> {
    own: &'a Build,
    build: Cow<'a, Build>,
    way: Option<String>,
    pieces: Vec<SheetPiece>,
    laid: Vec<Laid>,
    time: OwnTime,
    brine: BrineState,
    ask: &'a SheetAsk,
}

/// Two rulers differ by so much (mm).
const ROUGHLY_MM: f64 = 2.0;

/// A fixed time in the cure is not longer (days).
const MOST_DAYS: u32 = 365;

/// No salt box takes longer (h).
const MOST_HOURS: f64 = 60.0 * 24.0;

impl SheetAsk {
    /// Reads everything that was typed.
    ///
    /// # Errors
    /// What cannot be read, is not there, or does not go together.
    pub fn prepare<'a>(&'a self, book: &'a Book, home: &House) -> Result<Prepared<'a>, AskError> {
        let (own, mut pieces) = self.pieces_of(book)?;
        let way = words(self.way.as_deref());
        let build = match &way {
            None => Cow::Borrowed(own),
            Some(key) => Cow::Owned(own.in_way(key).ok_or_else(|| {
                let ways: Vec<_> = own.choices().map(|(k, _)| k).collect();
                AskError::field(
                    "way",
                    if ways.is_empty() {
                        format!("{} is made in one way only. Leave the way out.", own.name)
                    } else {
                        format!(
                            "{} is not made in the way “{key}”. Use one of {}, or leave it out.",
                            own.name,
                            ways.join(", ")
                        )
                    },
                )
            })?),
        };
        for piece in &mut pieces {
            if let Some(made) = &mut piece.made
                && let Some(other) = made.dosed_by(None, build.method)
            {
                *made = Arc::new(other);
            }
        }
        let units = home.settings.units;
        let laid = self
            .vessels
            .iter()
            .enumerate()
            .map(|(i, v)| v.read(&format!("vessels[{i}]"), units))
            .collect::<Result<Vec<_>, _>>()
            .map_err(|e| AskError::Fields(vec![e]))?;
        let days = match self.days.as_ref().filter(|c| !c.is_empty()) {
            None => None,
            Some(days) => Some(days.read().map_err(|e| AskError::field("days", e))?),
        };
        if days.is_some_and(|d| !(1..=MOST_DAYS).contains(&d)) {
            return Err(AskError::field(
                "days",
                format!("Type the days of the recipe, from 1 to {MOST_DAYS}, such as 10."),
            ));
        }
        let boxed = match self.hours.as_ref().filter(|h| !h.is_empty()) {
            None => None,
            Some(typed) => Some(hours(typed, "hours")?),
        };
        if boxed.is_some_and(|h| h <= 0.0 || h > MOST_HOURS) {
            return Err(AskError::field(
                "hours",
                "Type how many hours it lies in the salt, such as 30.",
            ));
        }
        if boxed.is_some() && !build.method.is_buried() {
            return Err(AskError::field(
                "hours",
                "Only a salt box is counted in hours. Give days, or leave it out.",
            ));
        }
        let mut zones = Vec::new();
        for (i, zone) in self.zones.iter().enumerate() {
            if zone.trim().is_empty() {
                continue;
            }
            let field = format!("zones[{i}]");
            let read: Typed<Millimetres> =
                Typed::read(zone, units).map_err(|e| AskError::field(&field, e.to_string()))?;
            crate::ledger::post::thickness(Some(read.value), &field, units)
                .map_err(AskError::Fields)?;
            zones.push(read);
        }
        self.why_thinner(&zones, &pieces, units)?;
        let temperature = words(self.brine_temperature.as_deref())
            .map(|text| {
                Typed::read(&text, units)
                    .map_err(|e| AskError::field("brine_temperature", e.to_string()))
            })
            .transpose()?;
        Ok(Prepared {
            own,
            build,
            way,
            pieces,
            laid,
            time: OwnTime {
                days,
                hours: boxed,
                zones,
                why: words(self.zones_why.as_deref()),
                turning: self.turning,
            },
            brine: BrineState {
                temperature,
                clear: self.brine_clear,
            },
            ask: self,
        })
    }

    /// A thickness that counts for less than was measured wants its reason.
    fn why_thinner(
        &self,
        zones: &[Typed<Millimetres>],
        pieces: &[SheetPiece],
        units: Units,
    ) -> Result<(), AskError> {
        let most = zones.iter().map(|z| z.value.0).fold(0.0, f64::max);
        let thinner = pieces.iter().find(|p| {
            let own = p.shape.thickness().map_or(0.0, Millimetres::get);
            !zones.is_empty() && most < own - ROUGHLY_MM
        });
        let explained = words(self.zones_why.as_deref());
        match thinner {
            Some(piece) if !explained.as_deref().is_some_and(reason::is_enough) => {
                Err(AskError::field(
                    "zones_why",
                    format!(
                        "{} is {} thick. Say in two words or more why less of it counts, such as: the rub went between the layers.",
                        piece.tag,
                        length(piece.shape.thickness().unwrap_or_default(), units.length)
                    ),
                ))
            }
            Some(_) | None => Ok(()),
        }
    }

    /// The pieces, and the product by whose dose they are dosed.
    fn pieces_of<'a>(&self, book: &'a Book) -> Result<(&'a Build, Vec<SheetPiece>), AskError> {
        let mut products: Vec<&'a Arc<Build>> = Vec::new();
        let mut pieces = Vec::new();
        for id in &self.pieces {
            let (_, piece) = book.piece(*id).ok_or_else(|| AskError::no_piece(*id))?;
            if pieces.iter().any(|p: &SheetPiece| p.id == *id) {
                return Err(AskError::field(
                    "pieces",
                    format!("{} is named twice. Name each piece once.", piece.tag),
                ));
            }
            products.push(piece.product.as_ref().ok_or_else(|| {
                AskError::field(
                    "pieces",
                    format!("{} has no product yet. Assign it first.", piece.tag),
                )
            })?);
            pieces.push(SheetPiece {
                id: *id,
                tag: piece.tag.clone(),
                // Of a piece that is dosed already, a corrected dose is still for its green weight.
                meat: Grams(
                    if piece.cure.is_some() {
                        piece.green
                    } else {
                        piece.mass
                    }
                    .grams(),
                ),
                shape: piece.shape.clone(),
                made: None,
                fat: piece.fat.as_ref().map(|f| f.value),
                // What is dosed already happened.
                unground: piece.cut != MIX
                    && piece.cure.is_none()
                    && piece.build().is_some_and(Build::is_ground),
            });
        }
        let first = *products
            .first()
            .ok_or_else(|| AskError::field("pieces", "Choose at least one piece."))?;
        let recipe = match words(self.recipe.as_deref()) {
            None if products.iter().all(|p| p.key == first.key) => first,
            None => {
                return Err(AskError::field(
                    "pieces",
                    "Pieces of different products have different doses. Start them one product at a time, or say by whose dose one mix goes over all of them.",
                ));
            }
            Some(key) => products.iter().find(|p| p.key == key).ok_or_else(|| {
                let keys: Vec<_> = products.iter().map(|p| p.key.as_str()).collect();
                AskError::field(
                    "recipe",
                    format!(
                        "None of these pieces becomes “{key}”. Use one of {}.",
                        keys.join(", ")
                    ),
                )
            })?,
        };
        for (piece, product) in pieces.iter_mut().zip(&products) {
            piece.made = (product.key != recipe.key).then(|| Arc::clone(product));
        }
        Ok((recipe, pieces))
    }
}

impl Prepared<'_> {
    /// What is to be weighed out.
    #[must_use]
    pub fn weigh_out(&self) -> WeighOut<'_> {
        WeighOut {
            build: &self.build,
            way: self.way.as_deref(),
            pieces: &self.pieces,
            mixed: self.ask.mixed,
            laid: &self.laid,
            own: &self.ask.own,
            school: self.ask.school.as_deref(),
            time: &self.time,
            brine: &self.brine,
        }
    }

    /// The product in its own way, whichever was chosen.
    #[must_use]
    pub fn own_way(&self) -> &Build {
        self.own
    }

    /// The sheet.
    ///
    /// # Errors
    /// Fields that cannot be right.
    pub fn sheet(&self, book: &Book, home: &House) -> Result<Sheet, AskError> {
        let mut made =
            sheet(&self.weigh_out(), &home.settings, book.catalogue()).map_err(AskError::Fields)?;
        let salt = made.lines.iter().find(|l| l.role == Role::Salt);
        let asked = salt.and_then(|line| not_plain(&line.name, &home.pantry));
        made.findings.extend(asked);
        Ok(made)
    }
}

/// What is said of the salt of a dose: it is plain, or somebody looks at the jar.
fn not_plain(name: &str, pantry: &Pantry) -> Option<Finding> {
    match pantry.is_plain_salt(name) {
        Some(true) => None,
        Some(false) => Some(
            Finding::new(
                Code::SaltNotPlain,
                Severity::Caution,
                "The salt in your pantry is not plain: iodine tastes of metal, and what keeps it from caking clouds a brine.",
            )
            .saw("salt with additives")
            .wants("plain salt")
            .remedy("Take salt that is nothing but salt, or go on: it cures all the same."),
        ),
        None => Some(
            Finding::new(
                Code::SaltNotPlain,
                Severity::Info,
                "Is the salt plain, without iodine and without anything against caking?",
            )
            .remedy("Look at the jar, and say so in the pantry: it is asked once."),
        ),
    }
}
