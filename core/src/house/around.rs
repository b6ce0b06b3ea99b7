//! How cold and how warm a piece lay: by the logs of the places it lay in and of those that they stand in, and by what was typed.

use crate::house::House;
use crate::piece::Piece;
use crate::place::climate;
use crate::place::climate::{GAP_S, PlaceLog, Stretch, WarmthBand};
use crate::place::spells::{Spell, merged};
use crate::units::Celsius;
use jiff::{SignedDuration, Timestamp};

/// The logs of the places that a piece lay in, and of those that they stand in, each with the time that counts.
pub(crate) fn logs_around<'a>(
    piece: &'a Piece,
    home: &'a House,
) -> impl Iterator<Item = (Stretch, &'a PlaceLog)> {
    piece.stays.iter().flat_map(move |stay| {
        let lay = Stretch {
            from: stay.from,
            to: stay.until.unwrap_or(Timestamp::MAX),
        };
        let outer = home.settings.place(stay.place).and_then(|p| p.stands_in);
        let places = std::iter::once(stay.place).chain(outer);
        places.filter_map(move |place| Some((lay, home.climate.place(place)?)))
    })
}

/// When a piece lay in the band, by the logs of the places it lay in and of those that they stand in; stretches do not overlap.
#[must_use]
pub fn around(piece: &Piece, home: &House, band: WarmthBand) -> Vec<Stretch> {
    let found = logs_around(piece, home).flat_map(|(lay, log)| {
        let stretches = log.stretches(band).iter();
        stretches.filter_map(move |s| s.within(lay))
    });
    climate::merged(found.collect())
}

/// How warm a piece lay, in order of time and without overlaps; of two that say something of one moment the warmer counts.
#[must_use]
pub fn spells(piece: &Piece, home: &House) -> Vec<Spell> {
    let by_log = logs_around(piece, home).flat_map(|(lay, log)| log.warm(lay));
    let mut all: Vec<Spell> = by_log.collect();
    all.extend(by_entry(piece));
    merged(all)
}

/// What entries say: so warm for so many hours; two looks that lie close were as warm between.
fn by_entry(piece: &Piece) -> Vec<Spell> {
    let warm = |c: Celsius| WarmthBand::Spoiling.holds(c);
    let mut found: Vec<Spell> = Vec::new();
    let mut read: Vec<_> = piece.around.iter().collect();
    read.sort_by_key(|a| a.at);
    let mut before: Option<(Timestamp, Celsius)> = None;
    for a in read {
        let c = a.temperature.value;
        if a.hours > 0.0 && warm(c) {
            let long = SignedDuration::from_secs((a.hours * 3_600.0) as i64);
            found.push(Spell {
                over: Stretch {
                    from: a.at.checked_sub(long).unwrap_or(Timestamp::MIN),
                    to: a.at,
                },
                mean: c,
                warmest: c,
            });
        }
        if let Some((at, was)) = before
            && warm(c)
            && warm(was)
            && a.at.as_second() - at.as_second() <= GAP_S
        {
            found.push(Spell {
                over: Stretch { from: at, to: a.at },
                mean: Celsius(f64::midpoint(was.0, c.0)),
                warmest: Celsius(was.0.max(c.0)),
            });
        }
        before = Some((a.at, c));
    }
    found
}
