//! Live events: what changed, so that every open page asks for that again.

use crate::App;
use actix_web::web::{Bytes, Data};
use actix_web::{HttpResponse, get};
use futures_util::StreamExt;
use manifest_core::ledger::LotId;
use tokio_stream::wrappers::{BroadcastStream, IntervalStream};
use utoipa_actix_web::service_config::ServiceConfig;

/// A sign of life often enough that a page says within five seconds that nobody answers.
const HEARTBEAT: std::time::Duration = std::time::Duration::from_secs(2);

impl App {
    /// Tells every open page what changed.
    pub fn tell(&self, what: &str, lots: &[LotId]) {
        let lots: Vec<_> = lots.iter().map(|l| l.0).collect();
        let data = serde_json::json!({ "what": what, "lots": lots });
        // Nobody listening is no mistake.
        let _ = self.events.send(format!("data: {data}\n\n"));
    }
}

/// Server-sent events: `{"what": "ledger" | "settings", "lots": [..]}`, and a `beat` every other second.
#[utoipa::path(tag = "reading", responses((status = 200, content_type = "text/event-stream", body = String)))]
#[get("/events")]
async fn events(app: Data<App>) -> HttpResponse {
    let said = BroadcastStream::new(app.events.subscribe())
        // A page that fell behind asks for everything again.
        .map(|m| m.unwrap_or_else(|_| "data: {\"what\":\"all\",\"lots\":[]}\n\n".into()));
    let beat = IntervalStream::new(tokio::time::interval(HEARTBEAT))
        .map(|_| "event: beat\ndata: \n\n".to_string());
    let stream =
        futures_util::stream::select(said, beat).map(|m| Ok::<_, actix_web::Error>(Bytes::from(m)));
    HttpResponse::Ok()
        .insert_header(("content-type", "text/event-stream"))
        .insert_header(("cache-control", "no-store"))
        // Compression would hold events back until its block is full.
        .insert_header(("content-encoding", "identity"))
        .streaming(stream)
}

/// Mounts the events.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(events);
}
