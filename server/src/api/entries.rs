//! Writing: entries, corrections and undoing, each as one transaction.

use crate::App;
use crate::acts::{ActAsk, Desk, happened_at, no_piece, some};
use crate::body::Body;
use crate::error::{ApiError, EntryInWords, Problem};
use crate::views::words::happened;
use actix_web::HttpRequest;
use actix_web::web::{Data, Json, Path};
use actix_web::{get, post};
use manifest_core::caution::Finding;
use manifest_core::household::Household;
use manifest_core::ledger::acts::{Field, Scene};
use manifest_core::ledger::book::{Book, Change, Refusal};
use manifest_core::ledger::state::State;
use manifest_core::ledger::{Act, EntryId, LotId, PackId, PieceId};
use manifest_store::Request;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// The version of a piece that a page shows.
#[derive(Clone, Copy, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SeenPiece {
    /// The piece.
    piece: PieceId,
    /// Its newest entry when the page was made.
    version: EntryId,
}

/// What was done, all of it or nothing.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct EntriesAsk {
    /// What was done, in order.
    acts: Vec<ActAsk>,
    /// When, as RFC 3339 or as local date and time; now when left out.
    #[serde(default)]
    happened_at: Option<String>,
    /// The versions of pieces the person was looking at.
    #[serde(default)]
    seen: Vec<SeenPiece>,
    /// True after the person looked again at numbers that look mistyped.
    #[serde(default)]
    keep_as_typed: bool,
}

/// What really happened in the place of an entry.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct CorrectionAsk {
    /// What was done.
    act: ActAsk,
    /// When, if that was wrong too.
    #[serde(default)]
    happened_at: Option<String>,
    /// True after the person looked again at numbers that look mistyped.
    #[serde(default)]
    keep_as_typed: bool,
}

/// What a write left behind.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Written {
    /// Its entries; the first ones are what was asked, the others follow from it.
    entries: Vec<EntryId>,
    /// Lots it touched.
    lots: BTreeSet<LotId>,
    /// Pieces it brought into being.
    pieces: Vec<PieceId>,
    /// Packs it brought into being.
    packs: Vec<PackId>,
    /// In words, for showing beside an undo.
    said: String,
    /// True when the same request had been written before.
    repeated: bool,
}

/// Writes down what was done.
///
/// Send an `Idempotency-Key` header: a retry with the same key and body never writes twice.
#[utoipa::path(
    tag = "writing",
    request_body = EntriesAsk,
    params(("Idempotency-Key" = Option<String>, Header, description = "A key of the client's own for this request")),
    responses((status = 200, body = Written), (status = 409, body = Problem), (status = 422, body = Problem))
)]
#[post("/entries")]
async fn record(
    app: Data<App>,
    http: HttpRequest,
    ask: Body<EntriesAsk>,
) -> Result<Json<Written>, ApiError> {
    some(&ask.value.acts, "acts")?;
    let (value, raw) = (ask.value, format!("entries {}", ask.raw));
    write(&app, &http, raw, move |book, home, now| {
        not_outdated(book, home, &value.seen)?;
        let at = happened_at(value.happened_at.as_deref(), home, now)?;
        let mut desk = Desk::new(book, home, now);
        let mut changes = Vec::new();
        let mut asked = Vec::new();
        for act in &value.acts {
            for (lot, act) in act.draft(&mut desk, None)? {
                asked.extend(odd(book, lot, &act, home));
                changes.push(Change::Add {
                    lot,
                    at,
                    act: Box::new(act),
                });
            }
        }
        question(asked, value.keep_as_typed, (book, home), &changes, now)?;
        Ok(changes)
    })
    .await
}

/// Puts what really happened in the place of an entry; the history keeps both.
#[utoipa::path(
    tag = "writing",
    request_body = CorrectionAsk,
    params(("id" = i64, Path), ("Idempotency-Key" = Option<String>, Header, description = "A key of the client's own for this request")),
    responses((status = 200, body = Written), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem))
)]
#[post("/entries/{id}/correction")]
async fn correct(
    app: Data<App>,
    http: HttpRequest,
    id: Path<i64>,
    ask: Body<CorrectionAsk>,
) -> Result<Json<Written>, ApiError> {
    let id = EntryId(id.into_inner());
    let (value, raw) = (ask.value, format!("correct {} {}", id.0, ask.raw));
    write(&app, &http, raw, move |book, home, now| {
        let (lot, old) = book
            .entry(id)
            .ok_or_else(|| ApiError::NotFound("There is no such entry.".into()))?;
        let at = match &value.happened_at {
            Some(text) => Some(happened_at(Some(text), home, now)?),
            None => None,
        };
        let acts = value
            .act
            .draft(&mut Desk::new(book, home, now), Some((old.lot, &old.act)))?;
        let [(_, act)] = <[_; 1]>::try_from(acts)
            .map_err(|_| ApiError::field("act", "Correct one piece at a time."))?;
        let asked = match &act {
            // Judged against the lot without the piece, or its own old weight would be in the way.
            // A dose is judged by what it holds, whatever stands beside it.
            Act::PieceWeighed(_) | Act::Dosed(_) => act.odd(&lot.state, home),
            _ => Vec::new(),
        };
        let changes = vec![Change::Replace {
            entry: id,
            at,
            act: Box::new(act),
        }];
        question(asked, value.keep_as_typed, (book, home), &changes, now)?;
        Ok(changes)
    })
    .await
}

/// An entry as it can be put right: the act as it was asked, and the fields of its form.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct AskedAgain {
    /// The act; sent back unchanged as a correction it changes nothing.
    act: ActAsk,
    /// What a person may put right.
    fields: Vec<Field>,
}

/// The act of an entry as a person would send it, for putting it right.
#[utoipa::path(
    tag = "reading",
    params(("id" = i64, Path)),
    responses((status = 200, body = AskedAgain), (status = 404, body = Problem), (status = 409, body = Problem))
)]
#[get("/entries/{id}/ask")]
async fn ask_again(app: Data<App>, id: Path<i64>) -> Result<Json<AskedAgain>, ApiError> {
    let id = EntryId(id.into_inner());
    app.store.read(|book, home| {
        let (lot, entry) = book
            .entry(id)
            .ok_or_else(|| ApiError::NotFound("There is no such entry.".into()))?;
        let scene = Scene { lot, home };
        let act = scene.ask_again(entry).ok_or_else(|| {
            ApiError::Conflict(
                "This entry follows from another one. Put that right, or undo it.".into(),
            )
        })?;
        Ok(Json(AskedAgain {
            act,
            fields: scene.form(&entry.act),
        }))
    })
}

/// Takes an entry back; undoing an undoing brings it back.
#[utoipa::path(
    tag = "writing",
    params(("id" = i64, Path), ("Idempotency-Key" = Option<String>, Header, description = "A key of the client's own for this request")),
    responses((status = 200, body = Written), (status = 404, body = Problem), (status = 409, body = Problem))
)]
#[post("/entries/{id}/undo")]
async fn undo(app: Data<App>, http: HttpRequest, id: Path<i64>) -> Result<Json<Written>, ApiError> {
    let id = EntryId(id.into_inner());
    write(&app, &http, format!("undo {}", id.0), move |_, _, _| {
        Ok(vec![Change::Undo { entry: id }])
    })
    .await
}

/// The entries of one write, to be taken back together.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct UndoAsk {
    /// The entries, as the write named them.
    entries: Vec<EntryId>,
    /// True to take back with them every later entry that could not have happened without them.
    #[serde(default)]
    with_later: bool,
}

/// Entries that one undoing takes back at most; more than this is a day nobody meant.
const MOST_UNDONE: usize = 200;

/// Takes several entries back together, the last one first.
#[utoipa::path(
    tag = "writing",
    request_body = UndoAsk,
    params(("Idempotency-Key" = Option<String>, Header, description = "A key of the client's own for this request")),
    responses((status = 200, body = Written), (status = 404, body = Problem), (status = 409, body = Problem))
)]
#[post("/undo")]
async fn undo_together(
    app: Data<App>,
    http: HttpRequest,
    ask: Body<UndoAsk>,
) -> Result<Json<Written>, ApiError> {
    some(&ask.value.entries, "entries")?;
    let (value, raw) = (ask.value, format!("undo {}", ask.raw));
    write(&app, &http, raw, move |book, home, now| {
        let mut entries = value.entries.clone();
        // What a correction stated again follows it back by itself.
        entries.retain(|id| book.entry(*id).is_none_or(|(_, e)| e.because.is_none()));
        loop {
            entries.sort_unstable_by_key(|id| std::cmp::Reverse(*id));
            entries.dedup();
            let changes: Vec<_> = entries
                .iter()
                .map(|entry| Change::Undo { entry: *entry })
                .collect();
            match book.plan(&changes, now, home.units) {
                Err(Refusal::InTheWay(later))
                    if value.with_later && entries.len() + later.len() <= MOST_UNDONE =>
                {
                    entries.extend(later.into_iter().map(|o| o.entry));
                }
                _ => return Ok(changes),
            }
        }
    })
    .await
}

/// Runs a write off the async workers and tells every open page about it.
async fn write(
    app: &Data<App>,
    http: &HttpRequest,
    fingerprint: String,
    ask: impl FnOnce(&Book, &Household, jiff::Timestamp) -> Result<Vec<Change>, ApiError>
    + Send
    + 'static,
) -> Result<Json<Written>, ApiError> {
    let key = match http.headers().get("idempotency-key") {
        None => None,
        Some(value) => Some(
            value
                .to_str()
                .ok()
                .filter(|k| (8..=100).contains(&k.len()))
                .ok_or_else(|| {
                    ApiError::field(
                        "Idempotency-Key",
                        "Give a key of 8 to 100 plain letters, such as a UUID.",
                    )
                })?
                .to_string(),
        ),
    };
    let (store, now) = (app.store.clone(), app.clock.now());
    let written = crate::blocking(move || {
        let request = Request {
            key: key.as_deref(),
            fingerprint: &fingerprint,
            now,
        };
        let written = store.write(request, |book, home| ask(book, home, now))?;
        Ok(store.read(|book, home| answer(book, home, written)))
    })
    .await?;
    if !written.repeated {
        let lots: Vec<_> = written.lots.iter().copied().collect();
        app.tell("ledger", &lots);
    }
    Ok(Json(written))
}

fn answer(book: &Book, home: &Household, written: manifest_store::Written) -> Written {
    let mut answer = Written {
        entries: written.entries,
        lots: written.lots,
        pieces: Vec::new(),
        packs: Vec::new(),
        said: String::new(),
        repeated: written.repeated,
    };
    for id in &answer.entries {
        let Some((lot, entry)) = book.entry(*id) else {
            continue;
        };
        if answer.said.is_empty() {
            let words = happened(lot, entry, true, home);
            answer.said = if words.detail.is_empty() {
                words.what
            } else {
                format!("{}: {}", words.what, words.detail)
            };
        }
        answer
            .pieces
            .extend(entry.act.makes().into_iter().map(|(id, _)| id));
        answer
            .packs
            .extend(entry.act.packs().into_iter().map(|(id, _)| id));
    }
    if answer.entries.len() > 1 {
        answer.said = format!("{} and {} more", answer.said, answer.entries.len() - 1);
    }
    answer
}

fn odd(book: &Book, lot: LotId, act: &Act, home: &Household) -> Vec<Finding> {
    match book.lot(lot) {
        Some(found) => act.odd(&found.state, home),
        None => act.odd(&State::new(lot, book.catalogue().clone()), home),
    }
}

/// Asks about odd numbers once, but only when the change is possible at all: an impossible one is
/// refused with its own words, not asked about.
fn question(
    asked: Vec<Finding>,
    keep: bool,
    (book, home): (&Book, &Household),
    changes: &[Change],
    now: jiff::Timestamp,
) -> Result<(), ApiError> {
    if asked.is_empty() || keep {
        return Ok(());
    }
    book.plan(changes, now, home.units)?;
    Err(ApiError::Question(asked))
}

/// Refuses a write made on an old view of a piece, with what changed since.
fn not_outdated(book: &Book, home: &Household, seen: &[SeenPiece]) -> Result<(), ApiError> {
    for SeenPiece { piece, version } in seen {
        let (lot, _) = book.piece(*piece).ok_or_else(|| no_piece(*piece))?;
        let newest = lot.versions.get(piece).copied().unwrap_or(EntryId(0));
        if newest == *version {
            continue;
        }
        let about = |act: &Act, replaces: Option<EntryId>| {
            act.pieces().contains(piece)
                || replaces
                    .and_then(|id| lot.entry(id))
                    .is_some_and(|e| e.act.pieces().contains(piece))
        };
        let since = lot
            .entries
            .iter()
            .filter(|e| e.id > *version && about(&e.act, e.replaces))
            .map(|e| {
                let words = happened(lot, e, true, home);
                EntryInWords {
                    entry: e.id.0,
                    what: words.what,
                    why: words.detail,
                }
            })
            .collect();
        return Err(ApiError::Outdated(since));
    }
    Ok(())
}

/// Mounts what is written.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(record)
        .service(correct)
        .service(ask_again)
        .service(undo)
        .service(undo_together);
}
