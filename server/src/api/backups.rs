//! Backups of the ledger: made, listed, carried away, brought back, restored.

use crate::App;
use crate::error::{ApiError, Problem};
use crate::limits::{CHUNK_PATIENCE, LARGEST_BACKUP, SEAT_PATIENCE, UPLOAD_PATIENCE};
use crate::views::words::happened;
use actix_web::body::SizedStream;
use actix_web::http::header::{ContentDisposition, DispositionParam, DispositionType};
use actix_web::web::{Bytes, Data, Json, Path, Payload};
use actix_web::{HttpRequest, HttpResponse, get, post};
use futures_util::StreamExt;
use jiff::Timestamp;
use manifest_store::Part;
use manifest_store::backup::{self, Backup, Why};
use manifest_store::restore::Present;
use serde::Serialize;
use std::io::{Read, Write};
use std::sync::{Mutex, MutexGuard, PoisonError};
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// Entries that are named of those that a restore would lose.
const NAMED: usize = 12;

/// A backup in the household's folder.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct BackupView {
    /// Its file's name.
    name: String,
    /// When it was taken.
    #[schema(value_type = String, format = DateTime)]
    at: Timestamp,
    /// Why it was taken.
    #[schema(value_type = String)]
    why: Why,
    /// Its size (bytes).
    bytes: u64,
}

impl From<Backup> for BackupView {
    fn from(b: Backup) -> Self {
        Self {
            name: b.name,
            at: b.at,
            why: b.why,
            bytes: b.bytes,
        }
    }
}

/// The backups of the household, the newest first.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct Backups {
    /// The backups.
    backups: Vec<BackupView>,
    /// Where they lie.
    folder: String,
}

/// What restoring a backup would mean.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct RestorePreview {
    /// How many entries it holds.
    entries: usize,
    /// When the newest of them was written.
    #[schema(value_type = Option<String>, format = DateTime)]
    newest: Option<Timestamp>,
    /// How many entries of today it does not hold.
    lost: usize,
    /// The newest of those, in words.
    lost_words: Vec<String>,
    /// True when it is another household's.
    other_household: bool,
    /// True when what is there now does not read, or not whole: nobody can say all that would be lost.
    unreadable: bool,
}

/// What restoring did.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct RestoredView {
    /// How many entries there are now.
    entries: usize,
    /// Where the ledger that was there before is kept, by its file's or folder's name.
    before: Option<String>,
}

/// The backups of the household.
#[utoipa::path(tag = "settings", responses((status = 200, body = Backups)))]
#[get("/backups")]
async fn backups(app: Data<App>) -> Result<Json<Backups>, ApiError> {
    let store = app.store.clone();
    crate::blocking(move || {
        Ok(Json(Backups {
            backups: backup::list(store.folder())
                .into_iter()
                .map(Into::into)
                .collect(),
            folder: store.folder().join(backup::FOLDER).display().to_string(),
        }))
    })
    .await
}

/// Takes a backup now; it is opened and folded before it counts.
#[utoipa::path(tag = "settings", responses((status = 200, body = BackupView), (status = 507, body = Problem)))]
#[post("/backups")]
async fn take(app: Data<App>) -> Result<Json<BackupView>, ApiError> {
    let (store, now) = (app.store.clone(), app.clock.now());
    let made = crate::blocking(move || {
        let _one = one_at_a_time();
        Ok(store.back_up(Why::ByHand, now)?)
    })
    .await?;
    Ok(Json(made.into()))
}

/// Copies are made one after another: each reads and writes the whole ledger.
fn one_at_a_time() -> MutexGuard<'static, ()> {
    static COPYING: Mutex<()> = Mutex::new(());
    COPYING.lock().unwrap_or_else(PoisonError::into_inner)
}

fn named(app: &App, name: &str) -> Result<Backup, ApiError> {
    backup::list(app.store.folder())
        .into_iter()
        .find(|b| b.name == name)
        .ok_or_else(|| ApiError::NotFound("There is no backup of that name.".into()))
}

/// Read and sent so much at a time, so that a slow reader costs no more than that (bytes).
const PIECE: usize = 64 << 10;

/// A file, a piece at a time, each read when the one before is on its way.
fn in_pieces(file: std::fs::File) -> impl futures_util::Stream<Item = std::io::Result<Bytes>> {
    futures_util::stream::try_unfold(Some(file), |file| async {
        let Some(mut file) = file else {
            return Ok(None);
        };
        let read = actix_web::web::block(move || {
            let mut piece = vec![0; PIECE];
            let n = file.read(&mut piece)?;
            piece.truncate(n);
            Ok::<_, std::io::Error>((Bytes::from(piece), file))
        });
        let (piece, file) = read.await.map_err(std::io::Error::other)??;
        Ok((!piece.is_empty()).then_some((piece, Some(file))))
    })
}

/// A backup as one file, to be carried away.
#[utoipa::path(tag = "settings", params(("name" = String, Path)), responses((status = 200, content_type = "application/vnd.sqlite3", body = Vec<u8>), (status = 404, body = Problem)))]
#[get("/backups/{name:[^/]+\\.db}")]
async fn download(app: Data<App>, name: Path<String>) -> Result<HttpResponse, ApiError> {
    let found = named(&app, &name)?;
    let broken = |error: std::io::Error| {
        log::error!("{}: {error}", found.path.display());
        ApiError::Internal
    };
    let file = std::fs::File::open(&found.path).map_err(broken)?;
    let bytes = file.metadata().map_err(broken)?.len();
    Ok(HttpResponse::Ok()
        .insert_header(ContentDisposition {
            disposition: DispositionType::Attachment,
            parameters: vec![DispositionParam::Filename(format!(
                "build-manifest-{}",
                found.name
            ))],
        })
        .content_type("application/vnd.sqlite3")
        .body(SizedStream::new(bytes, in_pieces(file))))
}

/// Brings a backup's file back, from another machine or a drawer; it is checked before it is listed.
#[utoipa::path(tag = "settings", request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 200, body = BackupView), (status = 413, body = Problem), (status = 422, body = Problem)))]
#[post("/backups/brought")]
async fn bring(
    app: Data<App>,
    http: HttpRequest,
    mut body: Payload,
) -> Result<Json<BackupView>, ApiError> {
    let too_large = || {
        ApiError::TooLarge(
            "A backup is smaller than that. Choose the file that was downloaded here.",
        )
    };
    let said = http.headers().get("content-length");
    let said = said.and_then(|v| v.to_str().ok()?.parse::<u64>().ok());
    if said.is_some_and(|n| n > LARGEST_BACKUP) {
        return Err(too_large());
    }
    let busy =
        || ApiError::Busy("Two files are being brought already. Send this one when they are here.");
    let hand = tokio::time::timeout(SEAT_PATIENCE, app.uploads.acquire()).await;
    let _hand = hand.map_err(|_| busy())?.map_err(|_| busy())?;
    let begun = std::time::Instant::now();
    let folder = app.store.folder().to_path_buf();
    // Under a name of its own, since two may be brought at once; gone again however it ends.
    let part = Part::within(&folder)?;
    let broken = |error: std::io::Error| {
        log::error!("{error}");
        ApiError::Unwritable(format!("The file could not be kept here ({error})."))
    };
    let mut file = std::fs::File::create(part.path()).map_err(broken)?;
    let mut bytes = 0;
    loop {
        let next = tokio::time::timeout(CHUNK_PATIENCE, body.next()).await;
        let Some(chunk) =
            next.map_err(|_| ApiError::TooSlow("The file stopped coming. Send it again."))?
        else {
            break;
        };
        let chunk =
            chunk.map_err(|e| ApiError::NotJson(format!("The file did not arrive whole: {e}.")))?;
        if begun.elapsed() > UPLOAD_PATIENCE {
            return Err(ApiError::TooSlow(
                "The file came too slowly. Send it again over a better line, or restore it on the machine itself.",
            ));
        }
        bytes += chunk.len() as u64;
        if bytes > LARGEST_BACKUP {
            return Err(too_large());
        }
        file.write_all(&chunk).map_err(broken)?;
    }
    drop(file);
    let now = app.clock.now();
    let made = crate::blocking(move || {
        let _one = one_at_a_time();
        Ok(backup::bring(&folder, part.path(), now)?)
    })
    .await?;
    Ok(Json(made.into()))
}

/// What restoring a backup would mean: what it holds, and what of today it does not.
#[utoipa::path(tag = "settings", params(("name" = String, Path)), responses((status = 200, body = RestorePreview), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/backups/{name}/preview")]
async fn preview(app: Data<App>, name: Path<String>) -> Result<Json<RestorePreview>, ApiError> {
    let found = named(&app, &name)?;
    let store = app.store.clone();
    crate::blocking(move || {
        let _one = one_at_a_time();
        let preview = store.preview(&found.path)?;
        let lost_words = store.read(|book, home| {
            let words = |id: &_| {
                let (lot, entry) = book.entry(*id)?;
                let said = happened(lot, entry, true, home);
                Some(if said.detail.is_empty() {
                    said.what
                } else {
                    format!("{}: {}", said.what, said.detail)
                })
            };
            preview
                .lost
                .iter()
                .rev()
                .filter_map(words)
                .take(NAMED)
                .collect()
        });
        Ok(Json(RestorePreview {
            entries: preview.entries,
            newest: preview.newest,
            lost: preview.lost.len(),
            lost_words,
            other_household: preview.other_household,
            unreadable: preview.present == Present::Unreadable,
        }))
    })
    .await
}

/// Puts a backup in the ledger's place. What was there is kept as a backup first.
#[utoipa::path(tag = "settings", params(("name" = String, Path)), responses((status = 200, body = RestoredView), (status = 404, body = Problem), (status = 422, body = Problem), (status = 507, body = Problem)))]
#[post("/backups/{name}/restore")]
async fn restore(app: Data<App>, name: Path<String>) -> Result<Json<RestoredView>, ApiError> {
    let found = named(&app, &name)?;
    let (store, now) = (app.store.clone(), app.clock.now());
    let done = crate::blocking(move || {
        let _one = one_at_a_time();
        Ok(store.restore(&found.path, now)?)
    })
    .await?;
    // A household for practice brings its own clock, where nothing was written before it.
    let practised_to = app.store.is_practice().then(|| {
        let newest = app.store.read(|book, _| {
            let all = book.lots().flat_map(|lot| lot.live_entries());
            all.map(|e| e.recorded_at).max()
        });
        app.store.practice_now().max(newest).unwrap_or(now)
    });
    app.clock.follow(practised_to);
    app.standing.is(None);
    app.tell("all", &[]);
    Ok(Json(RestoredView {
        entries: done.entries,
        before: done
            .before
            .and_then(|p| Some(p.file_name()?.to_str()?.to_string())),
    }))
}

/// Mounts the backups.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .service(backups)
        .service(take)
        .service(bring)
        .service(download)
        .service(preview)
        .service(restore);
}
