//! Photos of pieces: shrunk on the device, kept once by what is in them.

use crate::App;
use crate::body::Raw;
use crate::error::{ApiError, Problem};
use actix_web::http::header;
use actix_web::web::{Data, Json, Path};
use actix_web::{HttpRequest, HttpResponse, get, post};
use manifest_store::photos::Photo;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_actix_web::service_config::ServiceConfig;

/// A photo is at most so large (bytes): the device shrinks it before.
const LARGEST: usize = 1_500_000;

/// Where a photo is found again.
#[derive(Clone, Debug, Serialize, ToSchema)]
struct PhotoKept {
    /// Its name: the SHA-256 of its bytes.
    photo: String,
}

/// What a picture is by its first bytes; what its sender says is not asked.
fn kind_of(bytes: &[u8]) -> Option<&'static str> {
    if bytes.starts_with(&[0xff, 0xd8, 0xff]) {
        Some("image/jpeg")
    } else if bytes.starts_with(b"\x89PNG\r\n\x1a\n") {
        Some("image/png")
    } else if bytes.starts_with(b"RIFF") && bytes.get(8..12) == Some(b"WEBP") {
        Some("image/webp")
    } else {
        None
    }
}

/// Keeps a photo; the same one sent twice is kept once.
#[utoipa::path(tag = "writing", request_body(content = Vec<u8>, content_type = "image/jpeg"), responses((status = 200, body = PhotoKept), (status = 413, body = Problem), (status = 422, body = Problem)))]
#[post("/photos")]
async fn keep_photo(app: Data<App>, Raw(bytes): Raw) -> Result<Json<PhotoKept>, ApiError> {
    if bytes.len() > LARGEST {
        return Err(ApiError::TooLarge(
            "The photo is larger than 1.5 MB. Shrink it, and send it again.",
        ));
    }
    let kind = kind_of(&bytes).ok_or_else(|| {
        ApiError::field(
            "photo",
            "That is no photo. Send a JPEG, PNG or WebP picture.",
        )
    })?;
    let (store, now) = (app.store.clone(), app.clock.now());
    let new = Photo {
        kind: kind.into(),
        bytes: bytes.to_vec(),
    };
    let name = crate::blocking(move || Ok(store.keep_photo(&new, now)?)).await?;
    Ok(Json(PhotoKept { photo: name }))
}

/// A photo by its name.
#[utoipa::path(tag = "reading", params(("name" = String, Path)), responses((status = 200, content_type = "image/jpeg", body = Vec<u8>), (status = 404, body = Problem)))]
#[get("/photos/{name}")]
async fn photo(
    app: Data<App>,
    name: Path<String>,
    http: HttpRequest,
) -> Result<HttpResponse, ApiError> {
    let tag = format!("\"{name}\"");
    let store = app.store.clone();
    let found = crate::blocking(move || Ok(store.photo(&name)?)).await?;
    let kept = found.ok_or_else(|| {
        ApiError::NotFound(
            "There is no such photo. It may lie in another household's backup.".into(),
        )
    })?;
    let known = http.headers().get(header::IF_NONE_MATCH);
    let mut answer = if known.is_some_and(|k| k.as_bytes() == tag.as_bytes()) {
        return Ok(HttpResponse::NotModified().finish());
    } else {
        HttpResponse::Ok()
    };
    // What carries its own hash as its name never changes.
    answer.insert_header((
        header::CACHE_CONTROL,
        "private, max-age=31536000, immutable",
    ));
    answer.insert_header((header::ETAG, tag));
    Ok(answer.content_type(kept.kind).body(kept.bytes))
}

/// Mounts the photos.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(keep_photo).service(photo);
}
