//! The plan as a calendar, in the format that every calendar program reads (RFC 5545).

use crate::App;
use crate::error::ApiError;
use actix_web::web::{Data, Path};
use actix_web::{HttpResponse, get};
use icalendar::{Alarm, Calendar, Component, Event, EventLike, EventStatus, Property, Trigger};
use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};
use manifest_core::timetable::{self, EventTime};

/// A day's work is named at this hour (h).
const MORNING_H: i64 = 8;
/// What goes by the hour is named so long before (min).
const BEFORE_MIN: i64 = 15;
/// And lasts about so long (min).
const LASTS_MIN: i64 = 15;

fn day(date: Date) -> String {
    date.strftime("%Y%m%d").to_string()
}

fn moment(at: Timestamp) -> String {
    at.strftime("%Y%m%dT%H%M%SZ").to_string()
}

fn on_day(key: &str, date: Date) -> Property {
    let mut property = Property::new(key, day(date));
    property.add_parameter("VALUE", "DATE");
    property
}

/// The calendar of the household as it stands.
fn calendar(app: &App) -> String {
    let (now, base, ledger) = (
        app.clock.now(),
        app.store.settings_version(),
        app.store.id(),
    );
    app.store.read(|book, home| {
        let plans = app.plans.all(book, home, now);
        let mut calendar = Calendar::empty();
        calendar
            .append_property(Property::new("VERSION", "2.0"))
            .append_property(Property::new("PRODID", "-//Build Manifest//Calendar//EN"))
            .append_property(Property::new("CALSCALE", "GREGORIAN"))
            .append_property(Property::new("METHOD", "PUBLISH"))
            .append_property(Property::new("X-WR-CALNAME", &home.settings.name))
            .append_property(Property::new("REFRESH-INTERVAL", "PT1H"));
        for planned in timetable::feed(&plans, book, home, now, base) {
            let mut event = Event::with_uid(&format!("{}@{ledger}", planned.uid));
            event
                .append_property(Property::new("DTSTAMP", moment(now)))
                .append_property(Property::new("LAST-MODIFIED", moment(now)))
                .append_property(Property::new("SEQUENCE", planned.sequence.to_string()))
                .append_property(Property::new("SUMMARY", &planned.summary));
            if !planned.words.is_empty() {
                event.append_property(Property::new("DESCRIPTION", &planned.words));
            }
            let alarm_at = match planned.time {
                EventTime::Day(date) => {
                    let next = date.saturating_add(1.day());
                    event
                        .append_property(on_day("DTSTART", date))
                        .append_property(on_day("DTEND", next))
                        // A day's work keeps nobody from other appointments.
                        .append_property(Property::new("TRANSP", "TRANSPARENT"));
                    Trigger::after_start(chrono::Duration::hours(MORNING_H))
                }
                EventTime::Moment(at) => {
                    let ends = at.saturating_add(LASTS_MIN.minutes()).unwrap_or(at);
                    event
                        .append_property(Property::new("DTSTART", moment(at)))
                        .append_property(Property::new("DTEND", moment(ends)));
                    Trigger::before_start(chrono::Duration::minutes(BEFORE_MIN))
                }
            };
            if planned.cancelled {
                event.status(EventStatus::Cancelled);
            } else {
                event.status(EventStatus::Confirmed);
                event.alarm(Alarm::display(&planned.summary, alarm_at));
            }
            calendar.push(event.done());
        }
        calendar.to_string()
    })
}

async fn answer(app: &Data<App>, as_file: bool) -> Result<HttpResponse, ApiError> {
    let mut answer = HttpResponse::Ok();
    answer.insert_header(("content-type", "text/calendar; charset=utf-8"));
    answer.insert_header(("cache-control", "no-store"));
    if as_file {
        answer.insert_header(("content-disposition", "attachment; filename=\"plan.ics\""));
    }
    Ok(answer.body(crate::reading(app, calendar).await?))
}

/// The calendar as a file.
#[utoipa::path(tag = "planning", responses((status = 200, content_type = "text/calendar", body = String)))]
#[get("/calendar.ics")]
pub async fn file(app: Data<App>) -> Result<HttpResponse, ApiError> {
    answer(&app, true).await
}

/// The calendar under its secret address, for programs that subscribe to it.
#[utoipa::path(tag = "planning", params(("secret" = String, Path)), responses((status = 200, content_type = "text/calendar", body = String), (status = 404)))]
#[get("/calendar/{secret}.ics")]
pub async fn subscribed(app: Data<App>, secret: Path<String>) -> Result<HttpResponse, ApiError> {
    let known = app
        .store
        .read_with_lists(|_, _, lists| lists.agenda.list.feed.clone());
    // Compared whole, whatever the first letters are.
    let same = known.is_some_and(|known| {
        known.len() == secret.len()
            && known
                .bytes()
                .zip(secret.bytes())
                .fold(0, |differs, (a, b)| differs | (a ^ b))
                == 0
    });
    if same {
        answer(&app, false).await
    } else {
        Ok(HttpResponse::NotFound()
            .content_type("text/plain; charset=utf-8")
            .body("There is no calendar under this address. A new one is made in the settings."))
    }
}
