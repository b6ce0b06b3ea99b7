//! Packs: their labels, the animals in them, and every stop that was lifted on their way.

use super::paging::After;
use crate::App;
use crate::error::{ApiError, Problem};
use crate::views::piece::{self, PackView};
use crate::views::trace::{self, LotTrace, PackTrace};
use crate::views::{Seen, VerdictView};
use actix_web::get;
use actix_web::web::{Data, Json, Path, Query};
use jiff::Timestamp;
use jiff::civil::Date;
use manifest_core::caution::{Finding, Severity};
use manifest_core::form::AskError;
use manifest_core::ledger::book::{Book, LotBook};
use manifest_core::ledger::{EntryId, LotId, PackId, PieceId};
use manifest_core::reason;
use manifest_core::verdict::is_there;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// The label of a pack: name of the meat, ingredients in falling order, allergens, cautions, the
/// verdict as text.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = PackView), (status = 404, body = Problem)))]
#[get("/packs/{id}/label")]
async fn label(app: Data<App>, id: Path<i64>) -> Result<Json<PackView>, ApiError> {
    let id = PackId(id.into_inner());
    crate::reading(&app, move |app| {
        app.read(|book, seen| {
            let (lot, of, pack) = book.pack(id)?;
            Some(Json(piece::pack(&lot.state, of, pack, seen)))
        })
    })
    .await?
    .ok_or_else(|| AskError::no_pack(id).into())
}

/// Which animals are in a pack, and every piece it came out of.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = PackTrace), (status = 404, body = Problem)))]
#[get("/packs/{id}/trace")]
async fn pack_trace(app: Data<App>, id: Path<i64>) -> Result<Json<PackTrace>, ApiError> {
    let id = PackId(id.into_inner());
    crate::reading(&app, move |app| {
        app.read(|book, seen| trace::of_pack(book, id, seen))
    })
    .await?
    .map(Json)
    .ok_or_else(|| AskError::no_pack(id).into())
}

/// Which packs and pieces hold meat of an animal, and what was ground after it.
#[utoipa::path(tag = "reading", params(("id" = i64, Path)), responses((status = 200, body = LotTrace), (status = 404, body = Problem)))]
#[get("/lots/{id}/trace")]
async fn lot_trace(app: Data<App>, id: Path<i64>) -> Result<Json<LotTrace>, ApiError> {
    let id = LotId(id.into_inner());
    crate::reading(&app, move |app| {
        app.read(|book, seen| trace::of_lot(book, id, seen))
    })
    .await?
    .map(Json)
    .ok_or_else(|| AskError::no_lot(id).into())
}

/// A pack as the list of the house shows it.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct PackLine {
    /// The pack.
    id: PackId,
    /// Its tag.
    tag: String,
    /// Its piece.
    piece: PieceId,
    /// The product.
    product: String,
    /// Its weight (g).
    mass_g: f64,
    /// The place of the house it lies in, if that was said.
    lies_in: Option<String>,
    /// Where and how it is kept, in words, if that was said.
    kept_in: Option<String>,
    /// Best before; the earliest where nobody said how it is kept.
    #[schema(value_type = Option<String>, format = Date)]
    until: Option<Date>,
    /// True when that is over.
    past: bool,
    /// What may be said of it.
    verdict: VerdictView,
}

/// The packs that are in the house.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct PacksInHouse {
    /// How many there are.
    in_all: usize,
    /// Of these past their date.
    past: usize,
    /// A page of them, the one whose date comes first before the others.
    packs: Vec<PackLine>,
    /// Where the next page begins; none on the last.
    next: Option<String>,
}

/// The packs of a lot that are in the house.
fn packs_of(lot: &LotBook, book: &Book, seen: Seen<'_>) -> Vec<PackLine> {
    let judge = seen.judge();
    let today = seen.home.settings.day(seen.now);
    let kept = seen.verdicts.lot(book, seen.home, lot.state.id);
    let mut found = Vec::new();
    for piece in lot.state.pieces.values().filter(|p| !p.packs.is_empty()) {
        let really = judge.really(&lot.state, piece);
        let all = piece.packs.iter().filter_map(|id| lot.state.packs.get(id));
        for pack in all.filter(|pack| is_there(piece, pack)) {
            let Some(verdict) = kept.packs.get(&pack.id) else {
                continue;
            };
            let keeps = judge.keeps(piece, pack, verdict, really.as_ref());
            let until = keeps.iter().map(|k| k.until).min();
            found.push(PackLine {
                id: pack.id,
                tag: pack.tag.clone(),
                piece: piece.id,
                product: piece.build().map_or_else(String::new, |b| b.name.clone()),
                mass_g: pack.mass.grams(),
                lies_in: pack.is_in().and_then(|id| seen.place(id)),
                kept_in: pack.kept_in().map(str::to_string),
                until,
                past: until.is_some_and(|day| day < today),
                verdict: VerdictView::word(verdict),
            });
        }
    }
    found
}

/// The packs that are in the house, by their dates.
#[utoipa::path(tag = "reading", params(After), responses((status = 200, body = PacksInHouse), (status = 422, body = Problem)))]
#[get("/packs")]
async fn in_house(app: Data<App>, after: Query<After>) -> Result<Json<PacksInHouse>, ApiError> {
    crate::reading(&app, move |app| {
        app.read(|book, seen| {
            let lots = book.lots().filter(|lot| !lot.state.packs.is_empty());
            let mut found: Vec<PackLine> = lots.flat_map(|lot| packs_of(lot, book, seen)).collect();
            found.sort_by_key(|p| (p.until.is_none(), p.until, p.id));
            let past = found.iter().filter(|p| p.past).count();
            let page = after.page(found, |p| p.id.0.to_string())?;
            Ok(Json(PacksInHouse {
                in_all: page.in_all,
                past,
                packs: page.shown,
                next: page.next,
            }))
        })
    })
    .await?
}

/// A stop that a typed reason lifted.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Override {
    /// The piece.
    piece: PieceId,
    /// Its tag.
    tag: String,
    /// Its product.
    product: Option<String>,
    /// The entry.
    entry: EntryId,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    at: Timestamp,
    /// What was done.
    did: String,
    /// Why.
    reason: String,
    /// What stopped it.
    findings: Vec<Finding>,
    /// Its packs.
    packs: Vec<String>,
}

/// Every stop that a typed reason lifted.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Overrides {
    /// How many there are.
    in_all: usize,
    /// A page of them, the newest first.
    overrides: Vec<Override>,
    /// Where the next page begins; none on the last.
    next: Option<String>,
}

/// Every stop that a typed reason lifted, the newest first.
#[utoipa::path(tag = "reading", params(After), responses((status = 200, body = Overrides), (status = 422, body = Problem)))]
#[get("/overrides")]
async fn overrides(app: Data<App>, after: Query<After>) -> Result<Json<Overrides>, ApiError> {
    crate::reading(&app, move |app| {
        app.read(|book, _| {
            let mut found = Vec::new();
            for (lot, piece) in book.pieces() {
                let packs = || {
                    let tag = |id| lot.state.packs.get(id).map(|p| p.tag.clone());
                    piece.packs.iter().filter_map(tag).collect()
                };
                let one = |entry, at, did: &str, reason: &str, findings: Vec<Finding>| Override {
                    piece: piece.id,
                    tag: piece.tag.clone(),
                    product: piece.build().map(|b| b.name.clone()),
                    entry,
                    at,
                    did: did.into(),
                    reason: reason.into(),
                    findings,
                    packs: packs(),
                };
                if let Some(cure) = &piece.cure
                    && let Some(dose) = &cure.dose
                    && let Some(reason) = dose.reason.as_deref()
                {
                    let stops = stops(&dose.findings);
                    found.push(one(cure.entry, cure.since, "put in cure", reason, stops));
                }
                for pause in &piece.pauses {
                    let stops = stops(&pause.findings);
                    if let Some(reason) = pause.reason.as_deref().filter(|r| reason::is_enough(r))
                        && !stops.is_empty()
                        && pause.did != "put in cure"
                    {
                        found.push(one(pause.entry, pause.at, pause.did, reason, stops));
                    }
                }
            }
            found.sort_by_key(|o| std::cmp::Reverse((o.at, o.entry)));
            let page = after.page(found, |o| format!("{}-{}", o.entry.0, o.piece.0))?;
            Ok(Json(Overrides {
                in_all: page.in_all,
                overrides: page.shown,
                next: page.next,
            }))
        })
    })
    .await?
}

fn stops(findings: &[Finding]) -> Vec<Finding> {
    let stops = findings.iter().filter(|f| f.severity == Severity::Stop);
    stops.cloned().collect()
}

/// Mounts packs.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(in_house)
        .service(label)
        .service(pack_trace)
        .service(lot_trace)
        .service(overrides);
}
