//! The addresses of the API, one module for each resource.

pub mod agenda;
pub mod backups;
pub mod calc;
pub mod calendar;
pub mod catalogue;
pub mod clock;
pub mod entries;
pub mod events;
pub mod find;
pub mod hang;
pub mod lots;
pub mod packs;
pub mod paging;
pub mod photos;
pub mod pieces;
pub mod places;
pub mod planning;
pub mod runs;
pub mod settings;
pub mod sheets;
pub mod stations;
pub mod tally;
pub mod timers;
pub mod today;
pub mod units;

use crate::App;
use crate::views::Seen;
use manifest_core::ledger::book::Book;
use utoipa_actix_web::service_config::ServiceConfig;

/// Rows on a page of a list.
const MOST: usize = 200;

impl App {
    /// Looks something up as it is seen from the present.
    pub(crate) fn read<T>(&self, look: impl FnOnce(&Book, Seen<'_>) -> T) -> T {
        let now = self.clock.now();
        let practice = self.store.is_practice();
        self.store.read(|book, home| {
            let seen = Seen {
                book,
                home,
                now,
                verdicts: &self.verdicts,
                practice,
            };
            look(book, seen)
        })
    }
}

/// Mounts every resource.
pub fn routes(config: &mut ServiceConfig<'_>) {
    config
        .configure(calc::routes)
        .configure(catalogue::routes)
        .configure(settings::routes)
        .configure(backups::routes)
        .configure(clock::routes)
        .configure(today::routes)
        .configure(agenda::routes)
        .configure(places::routes)
        .configure(runs::routes)
        .configure(photos::routes)
        .configure(timers::routes)
        .configure(stations::routes)
        .configure(hang::routes)
        .configure(lots::routes)
        .configure(pieces::routes)
        .configure(packs::routes)
        .configure(sheets::routes)
        .configure(tally::routes)
        .configure(units::routes)
        .configure(planning::routes)
        .configure(entries::routes)
        .configure(find::routes)
        .configure(events::routes);
}
