//! What nobody has to think of: a backup a day, one file that holds everything, and a look whether it is still there.

use crate::App;
use crate::error::sentence;
use actix_web::web::Data;
use manifest_store::StoreError;
use manifest_store::backup::{self, Why};
use std::sync::PoisonError;
use std::time::Duration;

/// How often it is looked whether the file is still there.
const LOOK: Duration = Duration::from_secs(1);
/// Looks between two gatherings of the log into the file.
const GATHER_EVERY: u32 = 5;
/// Looks between two questions whether a backup is due.
const BACKUP_EVERY: u32 = 60;

/// What stands in the way of writing, for the banner.
#[derive(Debug, Default)]
pub struct Standing(std::sync::RwLock<Option<String>>);

impl Standing {
    /// Why nothing can be written, in words; none when all is well.
    #[must_use]
    pub fn now(&self) -> Option<String> {
        self.0
            .read()
            .unwrap_or_else(PoisonError::into_inner)
            .clone()
    }

    /// Takes in how things stand; true when that is news.
    pub(crate) fn is(&self, now: Option<String>) -> bool {
        let mut standing = self.0.write().unwrap_or_else(PoisonError::into_inner);
        let is_news = *standing != now;
        *standing = now;
        is_news
    }
}

/// Looks after the ledger for as long as the program runs.
pub async fn keep(app: Data<App>) {
    let mut turn: u32 = 0;
    let mut gathered = app.store.read(|book, _| book.last_entry());
    let mut was_ahead = false;
    let mut rang: Vec<String> = Vec::new();
    let mut were_silent = Vec::new();
    loop {
        if turn.is_multiple_of(BACKUP_EVERY) {
            back_up(&app).await;
        }
        crate::sensors::tend(&app);
        let rings = app.ringing();
        if rings != std::mem::replace(&mut rang, rings.clone()) {
            app.tell("runs", &[]);
        }
        let silent = app.sensors.silent();
        if silent != std::mem::replace(&mut were_silent, silent.clone()) {
            app.tell("places", &[]);
        }
        if turn.is_multiple_of(THIN_EVERY) {
            thin(&app).await;
        }
        let newest = app.store.read(|book, _| book.last_entry());
        let gathers = turn.is_multiple_of(GATHER_EVERY) && newest != gathered;
        let store = app.store.clone();
        let looked = actix_web::web::block(move || {
            store.look()?;
            if gathers { store.gather() } else { Ok(()) }
        });
        let found: Result<(), StoreError> = looked.await.unwrap_or(Ok(()));
        if gathers && found.is_ok() {
            gathered = newest;
        }
        let words = match found {
            // Somebody reads amid it: the next turn gathers.
            Ok(()) | Err(StoreError::Locked) => app.store.trouble().map(|t| sentence(&t.into())),
            Err(error) => Some(sentence(&error)),
        };
        let now = app.clock.now();
        let is_ahead = app.store.read(|book, _| book.ahead(now).is_some());
        let clock_turned = is_ahead != std::mem::replace(&mut was_ahead, is_ahead);
        if app.standing.is(words) || clock_turned {
            app.tell("settings", &[]);
        }
        turn = turn.wrapping_add(1);
        tokio::time::sleep(LOOK).await;
    }
}

/// Looks between two thinnings of what was over long ago.
const THIN_EVERY: u32 = 3_600;

/// Thins the readings of runs that were over long ago.
async fn thin(app: &Data<App>) {
    let (store, now) = (app.store.clone(), app.clock.now());
    if store.trouble().is_some() {
        return;
    }
    let thinned = actix_web::web::block(move || store.thin_runs(now)).await;
    match thinned {
        Ok(Ok(0)) => {}
        Ok(Ok(dropped)) => log::info!("{dropped} readings of old runs were thinned out"),
        Ok(Err(error)) => log::error!("thinning old runs: {error}"),
        Err(error) => log::error!("thinning old runs: {error}"),
    }
}

/// Takes today's backup, unless there is one, or nothing to back up.
async fn back_up(app: &Data<App>) {
    let now = app.clock.now();
    let (store, pinned) = (app.store.clone(), app.clock.is_pinned());
    let today = store.read(|_, home| home.settings.day(now));
    let made = actix_web::web::block(move || {
        let is_due = store.read(|book, home| {
            let all = backup::list(store.folder());
            backup::is_wanted(&all, |at| home.settings.day(at) == today)
                && book.lots().next().is_some()
        });
        // A demo or a test that stands still has no days.
        if !is_due || pinned || store.trouble().is_some() {
            return Ok(());
        }
        backup::take(store.folder(), Why::Daily, now)?;
        backup::prune(store.folder());
        Ok::<_, StoreError>(())
    });
    match made.await {
        Ok(Ok(())) => {}
        Ok(Err(error)) => log::error!("today's backup: {error}"),
        Err(error) => log::error!("today's backup: {error}"),
    }
}
