//! The server: thin handlers over the core and the store, live events, the embedded front end.

pub mod acts;
pub mod api;
pub mod assets;
pub mod body;
pub mod clock;
pub mod connections;
pub mod demo;
pub mod document;
pub mod error;
pub mod guard;
pub mod keeper;
pub mod limits;
pub mod sensors;
pub mod views;

use crate::clock::Clock;
use crate::error::ApiError;
use crate::guard::Names;
use actix_web::dev::{ServiceFactory, ServiceRequest, ServiceResponse};
use actix_web::middleware::{Compress, from_fn};
use actix_web::web::{Data, Json, get as get_route};
use actix_web::{App as WebApp, HttpRequest, HttpServer, web};
use manifest_core::catalogue::Catalogue;
use manifest_store::Store;
use std::net::{SocketAddr, TcpListener};
use std::sync::Arc;
use tokio::sync::broadcast;
use utoipa::OpenApi;
use utoipa_actix_web::{AppExt, scope};

/// What every handler works with.
pub struct App {
    /// The ledger.
    pub store: Arc<Store>,
    /// The present.
    pub clock: Arc<Clock>,
    /// What changed, for open pages.
    pub events: broadcast::Sender<String>,
    /// Verdicts that were worked out, for as long as their facts stand.
    pub verdicts: manifest_core::verdict::VerdictCache,
    /// Plans that were worked out, for as long as their facts stand.
    pub plans: manifest_core::timetable::PlanCache,
    /// Thermometers that are listened to.
    pub sensors: sensors::Sensors,
    /// What stands in the way of writing.
    pub standing: keeper::Standing,
    /// Pages that hear of changes.
    pub listeners: api::events::Listeners,
    /// Hands that look things up.
    pub seats: tokio::sync::Semaphore,
    /// Hands that take a file in.
    pub uploads: tokio::sync::Semaphore,
}

impl App {
    /// A household that nobody looked at yet.
    #[must_use]
    pub fn new(store: Arc<Store>, clock: Clock) -> Self {
        Self {
            store,
            clock: Arc::new(clock),
            events: broadcast::channel(64).0,
            verdicts: manifest_core::verdict::VerdictCache::default(),
            plans: manifest_core::timetable::PlanCache::default(),
            sensors: sensors::Sensors::default(),
            standing: keeper::Standing::default(),
            listeners: api::events::Listeners::default(),
            seats: tokio::sync::Semaphore::new(hands()),
            uploads: tokio::sync::Semaphore::new(limits::UPLOADS),
        }
    }

    /// What builds and species are, now and on the household's shelf.
    #[must_use]
    pub fn catalogue(&self) -> Arc<Catalogue> {
        self.store.read(|book, _| book.catalogue().clone())
    }
}

/// As many as the machine can work with at once, and two at least.
fn hands() -> usize {
    std::thread::available_parallelism().map_or(2, |n| n.get().max(2))
}

/// Runs blocking work off the async workers.
///
/// # Errors
/// What the work says, or that it broke.
pub async fn blocking<T: Send + 'static>(
    work: impl FnOnce() -> Result<T, ApiError> + Send + 'static,
) -> Result<T, ApiError> {
    web::block(work).await.map_err(|error| {
        log::error!("{error}");
        ApiError::Internal
    })?
}

/// Looks something up off the workers, so that a page that takes long holds up nobody else's: so many at a time as there
/// are hands, the others wait a moment, and then they are told to come again.
///
/// # Errors
/// That all hands are full, or that it broke.
pub async fn reading<T: Send + 'static>(
    app: &Data<App>,
    look: impl FnOnce(&App) -> T + Send + 'static,
) -> Result<T, ApiError> {
    let busy = || ApiError::Busy("Many pages are asked for at once. Try again in a moment.");
    let seat = tokio::time::timeout(limits::SEAT_PATIENCE, app.seats.acquire()).await;
    let _seat = seat.map_err(|_| busy())?.map_err(|_| busy())?;
    let app = app.clone();
    web::block(move || look(&app)).await.map_err(|error| {
        log::error!("{error}");
        ApiError::Internal
    })
}

#[derive(OpenApi)]
#[openapi(
    info(
        title = "Build Manifest",
        description = "Everything the screens do goes through these addresses. Masses are grams (`_g`; exact ledger amounts milligrams, `_mg`), lengths millimetres, temperatures degrees Celsius, shares 0 to 1. Refusals are `application/problem+json`.",
        license(name = "MIT")
    ),
    tags(
        (name = "calculators", description = "Nothing stored; SI in and out"),
        (name = "reading", description = "What the screens show"),
        (name = "planning", description = "Wishes, pantry, plans, shopping list, cut sheet"),
        (name = "writing", description = "Entries of the ledger; send an Idempotency-Key"),
        (name = "settings", description = "What the household has settled on")
    )
)]
struct Doc;

/// The description of the whole API.
#[must_use]
pub fn openapi() -> utoipa::openapi::OpenApi {
    let (_, api) = WebApp::new()
        .into_utoipa_app()
        .openapi(Doc::openapi())
        .service(scoped())
        .split_for_parts();
    document::finished(api)
}

/// What screens call the members of enumerations, as the front end takes it in.
///
/// # Errors
/// When they are no JSON, which words always are.
pub fn words() -> serde_json::Result<String> {
    serde_json::to_string_pretty(&manifest_core::catalogue::Catalogue::shipped().words)
}

fn scoped() -> scope::Scope<
    impl ServiceFactory<
        ServiceRequest,
        Config = (),
        Response = ServiceResponse,
        Error = actix_web::Error,
        InitError = (),
    >,
> {
    scope::scope("/api/v1")
        .configure(api::routes)
        .route("/openapi.json", get_route().to(document_json))
        .default_service(web::route().to(nothing_here))
}

/// The whole application but for its port: every address, and what they work with.
pub fn web_app(
    app: &Data<App>,
    names: &Data<Names>,
    document: &Data<utoipa::openapi::OpenApi>,
) -> WebApp<
    impl ServiceFactory<
        ServiceRequest,
        Config = (),
        Response = ServiceResponse,
        Error = actix_web::Error,
        InitError = (),
    > + use<>,
> {
    let (web_app, _) = WebApp::new()
        .into_utoipa_app()
        .openapi(Doc::openapi())
        .service(scoped())
        .split_for_parts();
    web_app
        .app_data(app.clone())
        .app_data(names.clone())
        .app_data(document.clone())
        .app_data(web::PathConfig::default().error_handler(|_, _| {
            ApiError::NotFound("There is nothing under this address.".into()).into()
        }))
        .app_data(
            web::QueryConfig::default()
                .error_handler(|error, _| body::query_error(&error.to_string()).into()),
        )
        .app_data(web::PayloadConfig::new(limits::LARGEST_BODY))
        .service(api::calendar::subscribed)
        .route("/api/{tail:.*}", web::route().to(nothing_here))
        .default_service(get_route().to(assets::serve))
}

/// Serves until it is stopped; `ready` is called with the address once it listens.
///
/// # Errors
/// When the address cannot be used.
pub async fn serve(
    app: App,
    listen: SocketAddr,
    names: Vec<String>,
    ready: impl FnOnce(SocketAddr),
) -> std::io::Result<()> {
    let app = Data::new(app);
    let watched = app.clone();
    let names = Data::new(Names {
        allowed: names,
        loopback_only: listen.ip().is_loopback(),
    });
    let listener = TcpListener::bind(listen)?;
    let address = listener.local_addr()?;
    let document = Data::new(openapi());
    let server = HttpServer::new(move || {
        web_app(&app, &names, &document)
            .wrap(Compress::default())
            .wrap(from_fn(guard::guard))
    })
    .on_connect(connections::greet)
    .workers(limits::WORKERS)
    .max_connections(limits::CONNECTIONS)
    .client_request_timeout(limits::HEAD_PATIENCE)
    .shutdown_timeout(1)
    .listen(listener)?
    .run();
    tokio::spawn(keeper::keep(watched));
    #[cfg(unix)]
    stop_at_hangup(server.handle())?;
    ready(address);
    server.await
}

/// A terminal that is closed ends it as cleanly as anything else.
#[cfg(unix)]
fn stop_at_hangup(server: actix_web::dev::ServerHandle) -> std::io::Result<()> {
    let mut hangup = tokio::signal::unix::signal(tokio::signal::unix::SignalKind::hangup())?;
    tokio::spawn(async move {
        hangup.recv().await;
        server.stop(true).await;
    });
    Ok(())
}

async fn document_json(
    document: Data<utoipa::openapi::OpenApi>,
) -> Json<Data<utoipa::openapi::OpenApi>> {
    Json(document)
}

async fn nothing_here(
    http: HttpRequest,
    document: Data<utoipa::openapi::OpenApi>,
) -> Result<Json<()>, ApiError> {
    let allowed = document::allowed(&document, http.path());
    let asked = http.method().as_str();
    Err(
        match allowed.filter(|all| all.split(", ").all(|m| m != asked)) {
            Some(methods) => ApiError::Method(methods),
            // Also where the method fits, and the name or number is none that could be.
            None => ApiError::NotFound(
                "There is nothing under this address. See /api/v1/openapi.json for what there is."
                    .into(),
            ),
        },
    )
}
