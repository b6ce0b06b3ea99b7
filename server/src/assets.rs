//! The front end, baked into the program.

use actix_web::http::header;
use actix_web::{HttpRequest, HttpResponse};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "../web/dist"]
#[allow_missing = true]
struct Dist;

/// A file of the front end, or its page for every address that is a view.
pub async fn serve(request: HttpRequest) -> HttpResponse {
    let path = request.path().trim_start_matches('/');
    match Dist::get(path) {
        Some(file) if !path.is_empty() => {
            // Built files carry a hash in their name and never change under it.
            let keep = if path.starts_with("assets/") {
                "public, max-age=31536000, immutable"
            } else {
                "no-cache"
            };
            HttpResponse::Ok()
                .insert_header((
                    header::CONTENT_TYPE,
                    mime_guess::from_path(path).first_or_octet_stream().as_ref(),
                ))
                .insert_header((header::CACHE_CONTROL, keep))
                .body(file.data.into_owned())
        }
        _ if path.starts_with("assets/") || path.starts_with("api/") => {
            HttpResponse::NotFound().finish()
        }
        _ => match Dist::get("index.html") {
            Some(page) => HttpResponse::Ok()
                .insert_header((header::CONTENT_TYPE, "text/html; charset=utf-8"))
                .insert_header((header::CACHE_CONTROL, "no-cache"))
                .body(page.data.into_owned()),
            None => HttpResponse::NotFound()
                .content_type("text/plain; charset=utf-8")
                .body(
                    "The front end is not built in. Build it in web/ and build the program again.",
                ),
        },
    }
}
