//! How a piece should be cut, and how lean and fat are blended.

use crate::App;
use crate::acts::{filled, no_piece};
use crate::body::Body;
use crate::error::{ApiError, Problem};
use crate::views::piece::size as piece_size;
use actix_web::post;
use actix_web::web::{Data, Json};
use manifest_core::assign::blend::{BlendAnswer, BlendAsk, blend};
use manifest_core::assign::shopping::amount;
use manifest_core::assign::slabs::{SlabAsk, SlabPlan, slab_plans};
use manifest_core::assign::wraps::{WrapNeed, Wrapping, wraps};
use manifest_core::ledger::PieceId;
use manifest_core::shape::size::Size;
use manifest_core::units::{Grams, Millimetres, read};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// A piece, or a cut not yet cut, that is to be brought into shape.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SlabsAsk {
    /// The piece, if it is cut.
    #[serde(default)]
    piece: Option<PieceId>,
    /// The species, for a cut not yet cut.
    #[serde(default)]
    species: Option<String>,
    /// The cut, for one not yet cut.
    #[serde(default)]
    cut: Option<String>,
    /// Its weight, as typed; the piece's own when left out.
    #[serde(default)]
    mass: Option<String>,
    /// Its thickest place, as typed.
    #[serde(default)]
    thickness: Option<String>,
    /// Its length, as typed; estimated when left out.
    #[serde(default)]
    length: Option<String>,
    /// Its width, as typed; estimated when left out.
    #[serde(default)]
    width: Option<String>,
    /// What it is to become; the piece's own product when left out.
    #[serde(default)]
    build: Option<String>,
}

/// How it should be cut.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct SlabsAnswer {
    /// As it lies: measured, or estimated from weight and thickness.
    size: Size,
    /// True when length or width are estimated.
    estimated: bool,
    /// The ways, the best first.
    plans: Vec<SlabPlan>,
    /// Casing, net, string and bag for one slab of the best way.
    wraps: Vec<WrapNeed>,
    /// Those amounts, as people say them.
    wrap_words: Vec<String>,
}

/// How a piece should be cut, from the limits of its product and of the equipment.
#[utoipa::path(tag = "planning", request_body = SlabsAsk, responses((status = 200, body = SlabsAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/slabs")]
async fn slabs(app: Data<App>, ask: Body<SlabsAsk>) -> Result<Json<SlabsAnswer>, ApiError> {
    let ask = ask.value;
    app.planned(|p| {
        let units = p.home.settings.units;
        let length = |text: &Option<String>, field: &str| {
            filled(text.as_deref())
                .map(|t| read::length(t, units.length).map(|l| l.0))
                .transpose()
                .map_err(|e| ApiError::field(field, e.to_string()))
        };
        let mass = filled(ask.mass.as_deref())
            .map(|t| read::mass(t, units.mass).map(|m| m.0))
            .transpose()
            .map_err(|e| ApiError::field("mass", e.to_string()))?;
        let found = match ask.piece {
            Some(id) => Some(p.book.piece(id).ok_or_else(|| no_piece(id))?),
            None => None,
        };
        let species = found
            .and_then(|(lot, _)| lot.state.lot.as_ref())
            .map(|l| l.species())
            .or_else(|| Some(&**p.book.catalogue().species(ask.species.as_deref()?)?))
            .ok_or_else(|| ApiError::field("species", "Choose a species from the list."))?;
        let cut_key = ask
            .cut
            .clone()
            .or_else(|| found.map(|(_, piece)| piece.cut.clone()))
            .unwrap_or_default();
        let cut = species.cut(&cut_key).ok_or_else(|| {
            ApiError::field(
                "cut",
                format!("Choose one of the cuts of {}.", species.name),
            )
        })?;
        let mass_g = mass
            .or_else(|| found.map(|(_, piece)| piece.mass.grams()))
            .ok_or_else(|| ApiError::field("mass", "Type its weight, such as 4.6 kg."))?;
        let thickness_mm = length(&ask.thickness, "thickness")?
            .or_else(|| {
                found
                    .and_then(|(_, piece)| piece.shape.thickness())
                    .map(|t| t.0)
            })
            .ok_or_else(|| {
                ApiError::field("thickness", "Measure its thickest place, such as 115 mm.")
            })?;
        let measured = (length(&ask.length, "length")?, length(&ask.width, "width")?);
        let guess = found
            .filter(|(_, piece)| {
                mass.is_none() && piece.shape.thickness() == Some(Millimetres(thickness_mm))
            })
            .and_then(|(lot, piece)| piece_size(lot, piece))
            .unwrap_or_else(|| Size::estimate(Grams(mass_g), Millimetres(thickness_mm), cut));
        let size = Size {
            length_mm: measured.0.unwrap_or(guess.length_mm),
            width_mm: measured.1.unwrap_or(guess.width_mm),
            thickness_mm,
        };
        let key = ask
            .build
            .clone()
            .or_else(|| found.and_then(|(_, piece)| piece.build_key().map(str::to_string)));
        let build = key
            .as_deref()
            .and_then(|key| p.book.catalogue().build(key))
            .map(|b| &**b);
        let plans = slab_plans(&SlabAsk {
            size,
            mass_g,
            build,
            equipment: p.home.settings.equipment.as_ref(),
            may_open: !cut.flat && !found.is_some_and(|(_, piece)| piece.is_opened()),
            units,
        })?;
        let wraps = build
            .zip(plans.first())
            .map_or_else(Vec::new, |(build, best)| {
                wraps(Wrapping {
                    build,
                    mass_g: best.each_g,
                    // A roll is wrapped by what it is rolled from.
                    size: Some(if build.wrap.rolled { size } else { best.each }),
                    equipment: p.home.settings.equipment.as_ref(),
                    stock: &p.stock,
                    units,
                })
            });
        Ok(Json(SlabsAnswer {
            size,
            estimated: measured.0.is_none() || measured.1.is_none(),
            wrap_words: wraps
                .iter()
                .map(|w| amount(w.amount, w.kind.unit(), &p.home.settings))
                .collect(),
            plans,
            wraps,
        }))
    })
}

/// A fat blend from what is on hand: what goes in, what to buy, how it lies in the pans.
#[utoipa::path(tag = "planning", request_body = BlendAsk, responses((status = 200, body = BlendAnswer), (status = 422, body = Problem)))]
#[post("/blend")]
async fn fat_blend(ask: Body<BlendAsk>) -> Result<Json<BlendAnswer>, ApiError> {
    Ok(Json(blend(&ask.value)?))
}

/// Mounts cutting and blending.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(slabs).service(fat_blend);
}
