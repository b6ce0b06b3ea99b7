//! Timers: what runs and what rings, the same on every device.

use crate::App;
use crate::error::ApiError;
use crate::views::Seen;
use actix_web::get;
use actix_web::web::{Data, Json};
use jiff::Timestamp;
use manifest_core::ledger::book::{Book, LotBook};
use manifest_core::ledger::state::Piece;
use manifest_core::ledger::{EntryId, LotId, PieceId};
use manifest_core::piece::TimerFor;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// A timer that runs or rings.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct TimerView {
    /// The piece.
    piece: PieceId,
    /// Its tag.
    tag: String,
    /// Its lot.
    lot: LotId,
    /// What is waited for.
    what: TimerFor,
    /// The same in words: `in the water`.
    said: String,
    /// What to do then.
    note: Option<String>,
    /// The entry that set it.
    entry: EntryId,
    /// When it began.
    #[schema(value_type = String, format = DateTime)]
    began: Timestamp,
    /// When it rings.
    #[schema(value_type = String, format = DateTime)]
    ends: Timestamp,
    /// For how long it was set (min).
    minutes: u32,
    /// True when it rings now.
    rings: bool,
}

/// The timers of a piece that is still on its way.
pub fn of_piece(lot: &LotBook, piece: &Piece, now: Timestamp) -> Vec<TimerView> {
    if piece.stage().is_over() {
        return Vec::new();
    }
    let view = |(what, timer): (&TimerFor, &manifest_core::piece::Timer)| TimerView {
        piece: piece.id,
        tag: piece.tag.clone(),
        lot: lot.state.id,
        what: *what,
        said: what.label().into(),
        note: timer.note.clone(),
        entry: timer.entry,
        began: timer.began,
        ends: timer.ends(),
        minutes: timer.minutes,
        rings: timer.ends() <= now,
    };
    piece.timers.iter().map(view).collect()
}

/// Everything that runs or rings.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Timers {
    /// The present, by the server's clock: a page counts down by it.
    #[schema(value_type = String, format = DateTime)]
    now: Timestamp,
    /// The timers, the one that rings first before the others.
    timers: Vec<TimerView>,
}

fn all(book: &Book, seen: Seen<'_>) -> Timers {
    let mut timers: Vec<_> = book
        .pieces()
        .filter(|(_, piece)| !piece.timers.is_empty())
        .flat_map(|(lot, piece)| of_piece(lot, piece, seen.now))
        .collect();
    timers.sort_by_key(|t| (t.ends, t.entry));
    Timers {
        now: seen.now,
        timers,
    }
}

/// Timers that run or ring: soaks, salt boxes, rests.
///
/// One is set and answered by an act; it rings until it is answered, wherever the ledger is open.
#[utoipa::path(tag = "reading", responses((status = 200, body = Timers)))]
#[get("/timers")]
async fn running(app: Data<App>) -> Result<Json<Timers>, ApiError> {
    Ok(Json(crate::reading(&app, move |app| app.read(all)).await?))
}

/// Mounts the timers.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(running);
}
