//! The pieces on each station's table.

use super::paging::After;
use crate::App;
use crate::error::{ApiError, Problem};
use crate::views::PieceCard;
use actix_web::get;
use actix_web::web::{Data, Json, Path, Query};
use manifest_core::catalogue::steps::StepKind;
use manifest_core::ledger::state::{Piece, Stage};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// A station whose table pieces lie on.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Station {
    /// Without a product.
    Assign,
    /// To be dosed, and in cure.
    Cure,
    /// To be smoked.
    Smoke,
    /// To be hung, and hanging.
    Hang,
    /// To be packed.
    Pack,
}

impl Station {
    /// The table of a stage, if it has one.
    pub fn of(stage: Stage) -> Option<Self> {
        Some(match stage {
            Stage::Assign => Self::Assign,
            Stage::Dose | Stage::InCure => Self::Cure,
            Stage::Smoke => Self::Smoke,
            Stage::Hang | Stage::Hanging => Self::Hang,
            Stage::Pack => Self::Pack,
            Stage::Packed | Stage::CutUp | Stage::Joined | Stage::Discarded => return None,
        })
    }
}

impl Station {
    /// True for a piece on its table. On the packing table lies too what may be packed as it is,
    /// though a step that may be left out is still before it.
    fn has(self, piece: &Piece) -> bool {
        let stage = piece.stage();
        Self::of(stage) == Some(self)
            || (self == Self::Pack
                && stage != Stage::Hanging
                && piece.open_step(|s| s.kind == StepKind::Pack).is_some())
    }
}

/// The pieces on a station's table.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct StationView {
    /// Whose table it is.
    station: Station,
    /// How many there are.
    in_all: usize,
    /// A page of them, the most urgent first.
    pieces: Vec<PieceCard>,
    /// Where the next page begins; none on the last.
    next: Option<String>,
}

/// The pieces that are at a station now.
#[utoipa::path(tag = "reading", params(("station" = Station, Path), After), responses((status = 200, body = StationView), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/stations/{station}")]
async fn station(
    app: Data<App>,
    station: Path<Station>,
    after: Query<After>,
) -> Result<Json<StationView>, ApiError> {
    let station = station.into_inner();
    crate::reading(&app, move |app| {
        app.read(|book, seen| {
            let here = book.pieces().filter(|(_, p)| station.has(p));
            let mut pieces: Vec<_> = here.map(|(lot, piece)| seen.card(lot, piece)).collect();
            pieces.sort_by(|a, b| {
                let first = |c: &PieceCard| c.tasks.first().map(|t| (t.urgency, t.due));
                (first(a), &a.tag).cmp(&(first(b), &b.tag))
            });
            let page = after.page(pieces, |c| c.id.0.to_string())?;
            Ok(Json(StationView {
                station,
                in_all: page.in_all,
                pieces: page.shown,
                next: page.next,
            }))
        })
    })
    .await?
}

/// Mounts the stations.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(station);
}
