//! What the program understands of a typed amount.

use crate::App;
use crate::body::Body;
use crate::error::{ApiError, Problem};
use actix_web::post;
use actix_web::web::{Data, Json};
use manifest_core::units::{Fraction, Grams, read, show};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// The kind of amount that was typed.
#[derive(Clone, Copy, Debug, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum QuantityKind {
    /// A weight.
    Mass,
    /// A thickness.
    Length,
    /// A temperature.
    Temperature,
    /// A volume.
    Volume,
    /// Water, by weight or by volume.
    Water,
    /// So much on a kilogram.
    Rate,
    /// A share.
    Share,
    /// A share in a field of percents.
    Percent,
    /// A content.
    Content,
}

/// An amount as typed.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ReadAsk {
    /// Its kind.
    quantity: QuantityKind,
    /// The words.
    text: String,
}

/// An amount as understood.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct ReadAnswer {
    /// In grams, millimetres, degrees Celsius, litres, g/kg, ppm, or as a share.
    value: f64,
    /// In the household's units.
    shown: String,
    /// In the other ones; empty where there are none.
    also: String,
}

/// Reads an amount as the household would, to show what was understood.
#[utoipa::path(tag = "reading", request_body = ReadAsk, responses((status = 200, body = ReadAnswer), (status = 422, body = Problem)))]
#[post("/units/read")]
async fn read_amount(app: Data<App>, ask: Body<ReadAsk>) -> Result<Json<ReadAnswer>, ApiError> {
    let units = app.store.read(|_, home| home.settings.units);
    let (text, other) = (&ask.value.text, units.other());
    let mass = |g: Grams| (g.0, show::mass(g, units.mass), show::mass(g, other.mass));
    let share = |f: Fraction| (f.0, show::share(f), String::new());
    let understood = match ask.value.quantity {
        QuantityKind::Mass => read::mass(text, units.mass).map(mass),
        QuantityKind::Water => read::water(text, units).map(mass),
        QuantityKind::Length => read::length(text, units.length).map(|l| {
            (
                l.0,
                show::length(l, units.length),
                show::length(l, other.length),
            )
        }),
        QuantityKind::Temperature => read::temperature(text, units.heat).map(|c| {
            (
                c.0,
                show::temperature(c, units.heat),
                show::temperature(c, other.heat),
            )
        }),
        QuantityKind::Volume => {
            read::volume(text, units).map(|v| (v.0, show::volume(v, units), show::volume(v, other)))
        }
        QuantityKind::Rate => read::rate(text, units)
            .and_then(|r| r.by_weight(text))
            .map(|r| (r.0, show::rate(r), show::share(Fraction(r.0 / 1_000.0)))),
        QuantityKind::Share => read::share(text).map(share),
        QuantityKind::Percent => read::percent(text).map(share),
        QuantityKind::Content => {
            read::content(text).map(|c| (c.0, show::content(c), String::new()))
        }
    };
    let (value, shown, also) = understood.map_err(|e| ApiError::field("text", e.to_string()))?;
    Ok(Json(ReadAnswer { value, shown, also }))
}

/// Mounts the reading of amounts.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(read_amount);
}
