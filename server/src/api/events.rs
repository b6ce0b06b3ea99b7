//! Live events: what changed, so that every open page asks for that again.

use crate::App;
use crate::error::{ApiError, Problem};
use crate::limits::LISTENERS;
use actix_web::web::{Bytes, Data};
use actix_web::{HttpResponse, get};
use futures_util::StreamExt;
use manifest_core::ledger::LotId;
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use tokio_stream::wrappers::{BroadcastStream, IntervalStream};
use utoipa_actix_web::service_config::ServiceConfig;

/// A sign of life often enough that a page says within five seconds that nobody answers.
const HEARTBEAT: std::time::Duration = std::time::Duration::from_secs(2);

/// How many pages hear of changes now.
#[derive(Clone, Debug, Default)]
pub struct Listeners(Arc<AtomicUsize>);

/// A page that hears of changes, for as long as it does.
struct Listening(Listeners);

impl Listeners {
    /// One more, unless that leaves no room for others.
    fn one_more(&self) -> Option<Listening> {
        let listening = Listening(self.clone());
        let before = self.0.fetch_add(1, Ordering::Relaxed);
        (before < LISTENERS).then_some(listening)
    }
}

impl Drop for Listening {
    fn drop(&mut self) {
        self.0.0.fetch_sub(1, Ordering::Relaxed);
    }
}

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
#[utoipa::path(tag = "reading", responses((status = 200, content_type = "text/event-stream", body = String), (status = 503, body = Problem)))]
#[get("/events")]
async fn events(app: Data<App>) -> Result<HttpResponse, ApiError> {
    let listening = app.listeners.one_more().ok_or(ApiError::Busy(
        "So many pages are open that this one does not hear what others write. It asks now and then; close some.",
    ))?;
    let said = BroadcastStream::new(app.events.subscribe())
        // A page that fell behind asks for everything again.
        .map(|m| m.unwrap_or_else(|_| "data: {\"what\":\"all\",\"lots\":[]}\n\n".into()));
    let beat = IntervalStream::new(tokio::time::interval(HEARTBEAT))
        .map(|_| "event: beat\ndata: \n\n".to_string());
    let stream = futures_util::stream::select(said, beat).map(move |m| {
        let _held = &listening;
        Ok::<_, actix_web::Error>(Bytes::from(m))
    });
    Ok(HttpResponse::Ok()
        .insert_header(("content-type", "text/event-stream"))
        .insert_header(("cache-control", "no-store"))
        // Compression would hold events back until its block is full.
        .insert_header(("content-encoding", "identity"))
        .streaming(stream))
}

/// Mounts the events.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config.service(events);
}
