//! The addresses of the API, one module for each resource.

pub mod calc;
pub mod catalogue;
pub mod entries;
pub mod events;
pub mod lots;
pub mod pieces;
pub mod planning;
pub mod settings;
pub mod sheets;
pub mod stations;
pub mod tally;
pub mod today;
pub mod units;

use crate::App;
use crate::views::Seen;
use manifest_core::ledger::book::Book;
use utoipa_actix_web::service_config::ServiceConfig;

/// Rows a list shows at most; the rest is counted.
const MOST: usize = 200;

impl App {
    /// Looks something up as it is seen from the present.
    pub(crate) fn read<T>(&self, look: impl FnOnce(&Book, Seen<'_>) -> T) -> T {
        let now = self.clock.now();
        self.store.read(|book, home| look(book, Seen { home, now }))
    }
}

/// Mounts every resource.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .configure(calc::routes)
        .configure(catalogue::routes)
        .configure(settings::routes)
        .configure(today::routes)
        .configure(stations::routes)
        .configure(lots::routes)
        .configure(pieces::routes)
        .configure(sheets::routes)
        .configure(tally::routes)
        .configure(units::routes)
        .configure(planning::routes)
        .configure(entries::routes)
        .configure(events::routes);
}
