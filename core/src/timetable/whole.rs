//! Animals and purchases that came in and of which no piece was weighed out yet, so that none of them stands on any list.

use crate::house::House;
use crate::ids::LotId;
use crate::ledger::book::Book;
use crate::units::Grams;
use jiff::Timestamp;
use jiff::civil::Date;
use serde::Serialize;

/// One that waits to be broken down.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Whole {
    /// The lot.
    pub lot: LotId,
    /// Its tag.
    pub tag: String,
    /// What it is called.
    pub name: String,
    /// The day on which it came.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub since: Date,
    /// Days since then.
    pub days: i64,
    /// What of it is still to be weighed out (g).
    #[cfg_attr(feature = "openapi", schema(value_type = f64))]
    pub left_g: Grams,
}

/// Every lot that is open, came unfrozen and of which no piece was weighed out, the oldest first. Frozen stock has its own day to be
/// thawed by.
#[must_use]
pub fn whole(book: &Book, home: &House, now: Timestamp) -> Vec<Whole> {
    let today = home.settings.day(now);
    let mut all: Vec<Whole> = book
        .lots()
        .filter_map(|lot| {
            let came = lot.state.lot.as_ref()?;
            let untouched = lot.state.pieces.is_empty() && lot.state.left.is_some();
            if came.closed.is_some() || came.received.frozen.is_some() || !untouched {
                return None;
            }
            let since = home.settings.day(came.at);
            Some(Whole {
                lot: lot.state.id,
                tag: came.received.tag.clone(),
                name: came.received.name.clone(),
                since,
                days: i64::from(today.since(since).map_or(0, |s| s.get_days())),
                left_g: Grams(lot.state.left.grams()),
            })
        })
        .collect();
    all.sort_by_key(|w| (w.since, w.lot));
    all
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::testing::Season;
    use jiff::SignedDuration;
    use serde_json::json;

    #[test]
    fn an_animal_of_which_nothing_was_weighed_out_stands_on_the_list_until_something_is() {
        let mut season = Season::empty();
        let did = |season: &mut Season, ask| assert!(season.does(&ask, true).is_ok(), "{ask}");
        let came = |name: &str| json!({"act": "received", "name": name, "species": "deer", "origin": "harvested", "known": "carcass", "reading": "36 kg"});
        did(&mut season, came("doe"));
        season.now += SignedDuration::from_hours(24 * 17);
        did(&mut season, came("buck"));
        did(
            &mut season,
            json!({"act": "received", "name": "loin", "species": "pig", "origin": "bought", "known": "bought_cut", "cut": "loin", "reading": "4 kg",
            "frozen_on": "2026-01-02", "thaw_by": "2026-03-01"}),
        );
        let list = |season: &Season| whole(&season.book, &season.home, season.now);
        let said: Vec<_> = list(&season)
            .into_iter()
            .map(|w| (w.name, w.days, w.left_g.0))
            .collect();
        assert_eq!(
            said,
            [("doe".into(), 17, 36_000.0), ("buck".into(), 0, 36_000.0)]
        );
        did(
            &mut season,
            json!({"act": "piece_weighed", "lot": 1, "cut": "backstrap", "reading": "900 g", "thickness": "50 mm"}),
        );
        did(&mut season, json!({"act": "breakdown_closed", "lot": 2}));
        assert_eq!(list(&season), []);
    }
}
