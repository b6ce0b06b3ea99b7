//! How the pieces of a sheet lie together: each vessel holds one dose, checked on what lies in it.

use super::dish::{Dish, DishAsk};
use super::{PieceSheet, Sheet, SheetLine, SheetPiece};
use crate::caution::FieldError;
use crate::cure::no_nitrite::is_sealed;
use crate::dose::Closed;
use crate::ids::PieceId;
use crate::place::PlaceId;
use crate::units::{Amount, Band, Grams, Milligrams, Units, read, to_division};
use serde::{Deserialize, Serialize};

/// Pieces that are put into one vessel, as a request spells it.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct VesselAsk {
    /// The pieces.
    pub pieces: Vec<PieceId>,
    /// What it is called, such as “white bucket”.
    #[serde(default)]
    pub name: Option<String>,
    /// The place of the house it is, by its number.
    #[serde(default)]
    pub place: Option<Amount>,
    /// What was poured into it by eye, by weight or by volume, as typed.
    #[serde(default)]
    pub poured: Option<String>,
    /// Its part of what was shared out by eye, such as 1 for each of equal pours. Give this, or `poured`, for every
    /// vessel; leave both out where each got its share by weight.
    #[serde(default)]
    pub parts: Option<Amount>,
    /// How many layers lie in it.
    #[serde(default)]
    pub layers: Option<Amount>,
    /// How it is closed.
    #[serde(default)]
    pub closed: Option<Closed>,
    /// Its inside, where meat is buried in salt: so much salt as fills it.
    #[serde(default)]
    pub inside: Option<DishAsk>,
}

/// Pieces that lie in one vessel.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Laid {
    /// The pieces.
    pub pieces: Vec<PieceId>,
    /// What it is called.
    pub name: Option<String>,
    /// The place of the house it is.
    pub place: Option<PlaceId>,
    /// How many layers.
    pub layers: u32,
    /// What it got by eye.
    pub poured: Option<Poured>,
    /// How it is closed.
    pub closed: Option<Closed>,
    /// The dish that salt fills, where it was measured.
    pub dish: Option<Dish>,
}

impl Laid {
    /// What it is called, where no air comes in: as it was said to be closed, else by its name.
    #[must_use]
    pub fn without_air(&self) -> Option<&str> {
        let name = self.name.as_deref();
        match self.closed {
            Some(closed) => closed.is_sealed().then(|| name.unwrap_or("sealed")),
            None => name.filter(|name| is_sealed(name)),
        }
    }
}

/// What a vessel got by eye.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Poured {
    /// So much.
    Mass(Grams),
    /// So many parts.
    Parts(f64),
}

/// More layers nobody turns.
const MOST_LAYERS: f64 = 20.0;

impl VesselAsk {
    /// Reads what was typed; fields begin with `at`.
    ///
    /// # Errors
    /// The field that cannot be read.
    pub fn read(&self, at: &str, units: Units) -> Result<Laid, FieldError> {
        let field = |name: &str| format!("{at}.{name}");
        let filled = |text: &Option<String>| {
            let text = text.as_deref().map(str::trim);
            text.filter(|t| !t.is_empty()).map(str::to_string)
        };
        let poured = match (
            filled(&self.poured),
            number(self.parts.as_ref(), &field("parts"))?,
        ) {
            (None, None) => None,
            (Some(text), None) => {
                Some(Poured::Mass(read::water(&text, units).map_err(|e| {
                    FieldError::new(field("poured"), e.to_string())
                })?))
            }
            (None, Some(parts)) => Some(Poured::Parts(parts)),
            (Some(_), Some(_)) => {
                return Err(FieldError::new(
                    field("parts"),
                    "Say what was poured, or how many parts it was: one of the two.",
                ));
            }
        };
        let positive = match poured {
            Some(Poured::Mass(g)) => g.0 > 0.0,
            Some(Poured::Parts(n)) => n > 0.0,
            None => true,
        };
        if !positive {
            return Err(FieldError::new(
                field("poured"),
                "Every vessel got something. Type what was poured into it, such as 300 g.",
            ));
        }
        let layers = number(self.layers.as_ref(), &field("layers"))?.unwrap_or(1.0);
        if !(1.0..=MOST_LAYERS).contains(&layers) || layers.fract() != 0.0 {
            return Err(FieldError::new(
                field("layers"),
                format!("Type how many layers lie in it, from 1 to {MOST_LAYERS}."),
            ));
        }
        let place = number(self.place.as_ref(), &field("place"))?;
        if place.is_some_and(|p| p.fract() != 0.0 || !(0.0..=1e9).contains(&p)) {
            return Err(FieldError::new(
                field("place"),
                "Name the place by its number on your list.",
            ));
        }
        let inside = self.inside.as_ref();
        let dish = inside
            .map(|d| d.read(&field("inside"), units))
            .transpose()?;
        let dish = dish.flatten();
        Ok(Laid {
            pieces: self.pieces.clone(),
            name: filled(&self.name),
            place: place.map(|p| p as PlaceId),
            layers: layers as u32,
            poured,
            closed: self.closed,
            dish,
        })
    }
}

fn number(amount: Option<&Amount>, field: &str) -> Result<Option<f64>, FieldError> {
    let wrong = || FieldError::new(field, "Type a number, such as 1.");
    match amount {
        None => Ok(None),
        Some(Amount::Number(n)) if n.is_finite() => Ok(Some(*n)),
        Some(Amount::Number(_)) => Err(wrong()),
        Some(Amount::Text(text)) if text.trim().is_empty() => Ok(None),
        Some(Amount::Text(text)) => {
            let text = text.trim().replace(',', ".");
            text.parse().map(Some).map_err(|_| wrong())
        }
    }
}

/// Pieces of a sheet that lie in one vessel.
#[derive(Clone, Debug, PartialEq)]
pub struct Group {
    /// Where they stand on the sheet.
    pub pieces: Vec<usize>,
    /// All of their meat.
    pub meat: Grams,
    /// What the vessel is, where that was said.
    pub laid: Option<Laid>,
}

/// The pieces of a sheet by vessel.
pub struct Table<'a> {
    /// The pieces.
    pub pieces: &'a [SheetPiece],
    /// The vessels; every piece lies in one.
    pub groups: Vec<Group>,
    /// True for one mix over all of them.
    pub mixed: bool,
}

impl<'a> Table<'a> {
    /// Lays the pieces as they were said to lie; those of which nothing was said lie alone, or all together where
    /// `together`.
    ///
    /// # Errors
    /// A piece that is not on the sheet, or lies in two vessels; pours of which only some were said.
    pub fn lay(
        pieces: &'a [SheetPiece],
        laid: &[Laid],
        mixed: bool,
        together: bool,
    ) -> Result<Self, FieldError> {
        let mut groups: Vec<Group> = Vec::new();
        let mut lies = vec![false; pieces.len()];
        for (i, one) in laid.iter().enumerate() {
            let at = format!("vessels[{i}].pieces");
            let mut here = Vec::new();
            for id in &one.pieces {
                let Some(place) = pieces.iter().position(|p| p.id == *id) else {
                    return Err(FieldError::new(
                        at,
                        "A piece of this vessel is not among those that are dosed. Name the same pieces in both.",
                    ));
                };
                if std::mem::replace(&mut lies[place], true) {
                    return Err(FieldError::new(
                        at,
                        format!("{} lies in two vessels. Name it once.", pieces[place].tag),
                    ));
                }
                here.push(place);
            }
            if here.is_empty() {
                return Err(FieldError::new(at, "Name the pieces that lie in it."));
            }
            groups.push(Group::of(here, pieces, Some(one.clone())));
        }
        let rest: Vec<usize> = (0..pieces.len()).filter(|i| !lies[*i]).collect();
        if together && !rest.is_empty() {
            groups.push(Group::of(rest, pieces, None));
        } else {
            groups.extend(rest.into_iter().map(|i| Group::of(vec![i], pieces, None)));
        }
        let said: Vec<_> = groups.iter().map(|g| g.poured().is_some()).collect();
        if said.contains(&true) && said.contains(&false) {
            return Err(FieldError::new(
                "vessels",
                "Say of every vessel what was poured into it, or of none.",
            ));
        }
        let by_parts = |g: &Group| matches!(g.poured(), Some(Poured::Parts(_)));
        if groups.iter().any(by_parts) && !groups.iter().all(by_parts) {
            return Err(FieldError::new(
                "vessels",
                "Give all pours by weight, or all of them as parts.",
            ));
        }
        Ok(Self {
            pieces,
            mixed: mixed || said.contains(&true),
            groups,
        })
    }

    /// All the meat.
    #[must_use]
    pub fn meat(&self) -> Grams {
        self.pieces.iter().map(|p| p.meat).sum()
    }

    /// True where the mix was shared out by eye.
    #[must_use]
    pub fn by_eye(&self) -> bool {
        self.groups.iter().any(|g| g.poured().is_some())
    }

    /// What each vessel got of `total_g`: by eye as it was said, else by the weight of its meat.
    ///
    /// # Errors
    /// More poured than there was.
    pub fn shares(&self, total_g: f64) -> Result<Vec<f64>, FieldError> {
        let meat = self.meat();
        let parts: f64 = self.groups.iter().map(Group::parts).sum();
        let shares: Vec<f64> = self
            .groups
            .iter()
            .map(|g| match g.poured() {
                None => g.meat / meat,
                Some(Poured::Parts(n)) => n / parts,
                Some(Poured::Mass(g)) => g.0 / total_g.max(f64::MIN_POSITIVE),
            })
            .collect();
        let poured: f64 = shares.iter().sum();
        // Two scales may disagree by so much.
        if (poured - 1.0) * total_g > (total_g * 0.02).max(5.0) {
            return Err(FieldError::new(
                "vessels",
                format!(
                    "{:.0} g were poured out of {total_g:.0} g. Look at the numbers again.",
                    poured * total_g
                ),
            ));
        }
        Ok(shares)
    }
}

/// So much of a bowl for each share, in steps of the scale: all of them together are the bowl.
pub(super) fn portions(bowl_g: f64, shares: &[f64], division_g: f64) -> Vec<f64> {
    let steps = Milligrams((bowl_g / division_g).round() as i64);
    // Finer than the steps that are shared out.
    let weights: Vec<Milligrams> = shares
        .iter()
        .map(|s| Milligrams::from_grams(s * 1e6))
        .collect();
    let shared = steps.share_out(&weights).into_iter();
    shared
        .map(|n| to_division(n.0 as f64 * division_g, division_g))
        .collect()
}

impl Group {
    fn of(pieces: Vec<usize>, all: &[SheetPiece], laid: Option<Laid>) -> Self {
        let meat = pieces.iter().map(|i| all[*i].meat).sum();
        Self { pieces, meat, laid }
    }

    /// What it got by eye.
    #[must_use]
    pub fn poured(&self) -> Option<Poured> {
        self.laid.as_ref()?.poured
    }

    fn parts(&self) -> f64 {
        match self.poured() {
            Some(Poured::Parts(n)) => n,
            Some(Poured::Mass(_)) | None => 0.0,
        }
    }
}

/// One vessel's part of the sheet.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct VesselSheet {
    /// The pieces in it.
    pub pieces: Vec<PieceId>,
    /// As it is called, if it has a name.
    pub name: Option<String>,
    /// All of their meat (g).
    pub meat_g: f64,
    /// What to weigh for it, or its share of what was mixed for all.
    pub lines: Vec<SheetLine>,
    /// Its share of the one mix or brine, as the scale shows it, or as it was poured (g).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub portion_g: Option<f64>,
    /// True when that was poured by eye.
    pub by_eye: bool,
    /// Nitrite in its pieces (ppm).
    pub nitrite: Band,
    /// Salt in its pieces (g/kg); none where nobody can tell.
    pub salt: Option<Band>,
    /// Litres of meat and what lies around it.
    pub litres: f64,
    /// Water that fills the place it is, with room left at the top (g); none where that is not known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cover_g: Option<f64>,
    /// What to weigh for it as plain text, which the recipe check reads back to the same grams.
    pub as_text: String,
}

/// What each piece and vessel has of what was mixed for all, by the shares of the vessels.
pub(super) fn share_out(sheet: &mut Sheet, table: &Table<'_>) -> Result<Vec<f64>, FieldError> {
    let shares = table.shares(sheet.total_g)?;
    let lines = sheet.lines.clone();
    for (group, share) in table.groups.iter().zip(&shares) {
        for i in &group.pieces {
            let part = share * (table.pieces[*i].meat / group.meat);
            let sheet: &mut PieceSheet = &mut sheet.pieces[*i];
            for (own, all) in sheet.lines.iter_mut().zip(&lines).filter(|(_, l)| !l.apart) {
                own.exact_g = all.exact_g * part;
                own.shown_g = all.shown_g * part;
            }
        }
    }
    Ok(shares)
}
