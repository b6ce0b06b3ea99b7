//! Writing: entries, corrections and undoing, each as one transaction.

use crate::App;
use crate::acts::{ActAsk, DraftContext, filled, happened_at, no_piece, some};
use crate::api::clock::AheadView;
use crate::body::Body;
use crate::error::{ApiError, EntryInWords, Problem};
use crate::views::words::happened;
use actix_web::web::{Data, Json, Path};
use actix_web::{HttpRequest, get, post};
use jiff::{SignedDuration, Timestamp};
use manifest_core::acts::{Pass, RenderContext, Validator};
use manifest_core::caution::Questions;
use manifest_core::form::Field;
use manifest_core::house::House;
use manifest_core::ledger::book::{Book, Change, LotBook, Refusal};
use manifest_core::ledger::facts::Act;
use manifest_core::ledger::{EntryId, LotId, PackId, PieceId};
use manifest_core::reason;
use manifest_core::units::bounds;
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
    /// So many seconds ago it was typed, where it had to wait for a connection; it happened then.
    #[serde(default)]
    waited_s: Option<f64>,
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

/// A piece as a write left it.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
struct PieceVersion {
    /// The piece.
    piece: PieceId,
    /// Its newest entry.
    version: EntryId,
}

/// What a write left behind.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub(crate) struct Written {
    /// Its entries; the first ones are what was asked, the others follow from it.
    entries: Vec<EntryId>,
    /// Lots it touched.
    lots: BTreeSet<LotId>,
    /// Pieces it brought into being.
    pieces: Vec<PieceId>,
    /// Packs it brought into being.
    packs: Vec<PackId>,
    /// The pieces it was about, as they stand now.
    versions: Vec<PieceVersion>,
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
    responses((status = 200, body = Written), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem))
)]
#[post("/entries")]
async fn record(
    app: Data<App>,
    http: HttpRequest,
    ask: Body<EntriesAsk>,
) -> Result<Json<Written>, ApiError> {
    some(&ask.value.acts, "acts")?;
    let value = ask.value;
    photos_are_kept(&app, &value.acts, |i| format!("acts[{i}].photo"))?;
    // The key is one intention's: waiting in line or keeping an odd number does not make it another.
    let meant = serde_json::to_string(&(&value.acts, &value.happened_at));
    let raw = format!("entries {}", meant.map_err(|_| ApiError::Internal)?);
    write(&app, &http, raw, move |book, home, now| {
        not_outdated(book, home, &value.seen)?;
        still_right(book, home, now)?;
        let dated = value.happened_at.as_deref();
        let at = happened_at(dated, home, now, value.keep_as_typed)?;
        let waited = waited(value.waited_s)?;
        let mut desk = DraftContext::new(book, home, now);
        let mut changes = Vec::new();
        for act in &value.acts {
            for (lot, act) in act.draft(&mut desk, None)? {
                let at = match (filled(dated), book.lot(lot)) {
                    // What waited in line is not put before what was written in the meantime.
                    (None, Some(lot)) => lot.at_or_after(now - waited, now),
                    (None, None) => now - waited,
                    (Some(_), _) => at,
                };
                changes.push(Change::Add {
                    lot,
                    at,
                    act: Box::new(act),
                    kept: Vec::new(),
                });
            }
        }
        gate(&mut changes, value.keep_as_typed, (book, home), now)?;
        Ok(changes)
    })
    .await
}

/// A note shows only photos that are there.
fn photos_are_kept(
    app: &App,
    acts: &[ActAsk],
    field: impl Fn(usize) -> String,
) -> Result<(), ApiError> {
    for (i, act) in acts.iter().enumerate() {
        let shown = if let ActAsk::Noted(noted) = act {
            noted.photo.as_deref()
        } else if let ActAsk::Checked(checked) = act {
            checked.photo.as_deref()
        } else {
            None
        };
        if let Some(name) = filled(shown)
            && !app.store.has_photo(name.trim())?
        {
            return Err(ApiError::field(
                &field(i),
                "That photo is not kept here. Send the picture first, and give the name that came back.",
            ));
        }
    }
    Ok(())
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
    let value = ask.value;
    photos_are_kept(&app, std::slice::from_ref(&value.act), |_| {
        "act.photo".into()
    })?;
    let meant = serde_json::to_string(&(&value.act, &value.happened_at));
    let raw = format!(
        "correct {} {}",
        id.0,
        meant.map_err(|_| ApiError::Internal)?
    );
    write(&app, &http, raw, move |book, home, now| {
        let (_, old) = book
            .entry(id)
            .ok_or_else(|| ApiError::NotFound("There is no such entry.".into()))?;
        let at = match &value.happened_at {
            Some(text) => Some(happened_at(Some(text), home, now, value.keep_as_typed)?),
            None => None,
        };
        let acts = value.act.draft(
            &mut DraftContext::new(book, home, now),
            Some((old.lot, &old.act)),
        )?;
        let [(_, act)] = <[_; 1]>::try_from(acts)
            .map_err(|_| ApiError::field("act", "Correct one piece at a time."))?;
        let mut changes = vec![Change::Replace {
            entry: id,
            at,
            act: Box::new(act),
            kept: Vec::new(),
        }];
        gate(&mut changes, value.keep_as_typed, (book, home), now)?;
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
        let scene = RenderContext { lot, home };
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

/// Refuses to write below entries that are newer than the present: the clock was wrong, or is.
fn still_right(book: &Book, home: &House, now: Timestamp) -> Result<(), ApiError> {
    match book.ahead(now) {
        Some(ahead) => Err(ApiError::Clock(AheadView::of(&ahead, home, now).label())),
        None => Ok(()),
    }
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
            match book.plan(&changes, now, home.settings.units) {
                Err(Refusal::InTheWay(later))
                    if value.with_later && entries.len() + later.len() <= bounds::MOST_ACTS =>
                {
                    entries.extend(later.into_iter().map(|o| o.entry));
                }
                _ => return Ok(changes),
            }
        }
    })
    .await
}

/// What is said of an entry that was typed while another ledger answered here.
const ANOTHER_HOUSEHOLD: &str = "This was typed for another household, whose ledger answered here before. It is not written into this one.";

/// The longest that an entry may wait for its connection.
const LONGEST_WAIT: SignedDuration = SignedDuration::from_hours(24 * 14);

/// How long an entry waited to be written.
fn waited(seconds: Option<f64>) -> Result<SignedDuration, ApiError> {
    let seconds = seconds.unwrap_or(0.0);
    if !(0.0..=LONGEST_WAIT.as_secs_f64()).contains(&seconds) {
        return Err(ApiError::field(
            "waited_s",
            "Give the seconds since it was typed, at most two weeks of them; older things have a happened_at.",
        ));
    }
    Ok(SignedDuration::from_secs_f64(seconds))
}

/// The key that a request names itself by, if it does; refuses what was typed for another household.
///
/// # Errors
/// A key that is none, or another household's.
pub(crate) fn key_of(app: &App, http: &HttpRequest) -> Result<Option<String>, ApiError> {
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
    if let Some(ledger) = http.headers().get("ledger")
        && ledger.as_bytes() != app.store.id().as_bytes()
    {
        return Err(ApiError::Conflict(ANOTHER_HOUSEHOLD.into()));
    }
    Ok(key)
}

/// Runs a write off the async workers and tells every open page about it.
pub(crate) async fn write(
    app: &Data<App>,
    http: &HttpRequest,
    fingerprint: String,
    ask: impl FnOnce(&Book, &House, jiff::Timestamp) -> Result<Vec<Change>, ApiError> + Send + 'static,
) -> Result<Json<Written>, ApiError> {
    let key = key_of(app, http)?;
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

fn answer(book: &Book, home: &House, written: manifest_store::Written) -> Written {
    let mut answer = Written {
        entries: written.entries,
        lots: written.lots,
        pieces: Vec::new(),
        packs: Vec::new(),
        versions: Vec::new(),
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
    let about: BTreeSet<_> = answer
        .entries
        .iter()
        .filter_map(|id| book.entry(*id))
        .flat_map(|(lot, entry)| {
            let pieces = entry.act.pieces().into_iter();
            pieces.filter_map(|p| Some((p, *lot.versions.get(&p)?)))
        })
        .collect();
    answer.versions = about
        .into_iter()
        .map(|(piece, version)| PieceVersion { piece, version })
        .collect();
    if answer.entries.len() > 1 {
        answer.said = format!("{} and {} more", answer.said, answer.entries.len() - 1);
    }
    answer
}

/// Every change goes through its gate: it passes, is asked about once, wants a reason, or is refused.
/// What cannot be at all is refused with its own words first, not asked about.
pub(crate) fn gate(
    changes: &mut [Change],
    keep: bool,
    (book, home): (&Book, &House),
    now: jiff::Timestamp,
) -> Result<(), ApiError> {
    // What concerns all pieces of a vessel is asked once.
    let mut asked = Questions::default();
    let about = |change: &Change| match change {
        Change::Add { act, .. } | Change::Replace { act, .. } => act.pieces(),
        Change::Undo { .. } | Change::Redate { .. } => Vec::new(),
    };
    let all: BTreeSet<PieceId> = changes.iter().flat_map(about).collect();
    let mut stopped: Option<ApiError> = None;
    let mut look =
        |change: &mut Change, lot: &LotBook| match Validator::look(change, lot, keep, (book, home))
        {
            Pass::Written(_) => {}
            Pass::Asked(found) => {
                let piece = about(change).first().copied().filter(|_| all.len() > 1);
                let tag = piece.and_then(|id| Some(lot.state.pieces.get(&id)?.tag.as_str()));
                for finding in found {
                    asked.ask(finding, tag);
                }
            }
            Pass::WantsReason(found) => {
                stopped.get_or_insert(ApiError::Stopped(found, reason::WANTED));
            }
            Pass::Refused(found) => stopped = Some(ApiError::Stopped(found, NOBODY_PASSES)),
        };
    // Each is looked at beside what the ones before it leave behind.
    book.plan_past(changes, now, home.settings.units, &mut look)?;
    match stopped {
        Some(stopped) => Err(stopped),
        None if asked.is_empty() => Ok(()),
        None => Err(ApiError::Question(asked.said())),
    }
}

/// What is said of a stop that no reason lifts.
pub(crate) const NOBODY_PASSES: &str =
    "This cannot be done, whatever the reason. See what stops it, and put that right first.";

/// Refuses a write made on an old view of a piece, with what changed since.
fn not_outdated(book: &Book, home: &House, seen: &[SeenPiece]) -> Result<(), ApiError> {
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
