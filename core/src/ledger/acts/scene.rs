//! Where an act is told: its lot, and the household whose units it is told in.

use super::Act;
use crate::catalogue::Catalogue;
use crate::household::Household;
use crate::ids::PieceId;
use crate::ledger::Entry;
use crate::ledger::book::LotBook;
use crate::units::show::{length, mass, temperature, trim};
use crate::units::{HeatUnit, LengthUnit, Milligrams, Reading, read};
use jiff::Timestamp;

/// Where an act is told.
#[derive(Clone, Copy)]
pub struct Scene<'a> {
    /// Its lot, as it stands.
    pub lot: &'a LotBook,
    /// The household's units.
    pub home: &'a Household,
}

impl<'a> Scene<'a> {
    /// What builds and species are.
    #[must_use]
    pub fn catalogue(&self) -> &'a Catalogue {
        self.lot.state.catalogue()
    }

    /// A weight in the household's units.
    #[must_use]
    pub fn mass(&self, reading: &Reading) -> String {
        mass(reading.mg.grams(), self.home.units.mass)
    }

    /// A weight in the household's units.
    #[must_use]
    pub fn grams(&self, mg: Milligrams) -> String {
        mass(mg.grams(), self.home.units.mass)
    }

    /// A thickness in the household's units.
    #[must_use]
    pub fn length(&self, mm: f64) -> String {
        length(mm, self.home.units.length)
    }

    /// A temperature in the household's units.
    #[must_use]
    pub fn temperature(&self, celsius: f64) -> String {
        temperature(celsius, self.home.units.heat)
    }

    /// A piece's tag.
    #[must_use]
    pub fn tag(&self, piece: PieceId) -> String {
        let found = self.lot.state.pieces.get(&piece);
        found.map_or_else(|| format!("piece {}", piece.0), |p| p.tag.clone())
    }

    /// What was said, where it still means the same; else the weight to the milligram.
    #[must_use]
    pub fn mass_again(&self, reading: &Reading) -> String {
        let means = read::mass_g(&reading.said, self.home.units.mass);
        if means.is_ok_and(|g| Milligrams::from_grams(g) == reading.mg) {
            reading.said.clone()
        } else {
            format!("{} g", trim(reading.mg.grams(), 3))
        }
    }

    /// A thickness that reads back as the same number.
    #[must_use]
    pub fn length_again(&self, mm: f64) -> String {
        [self.home.units.length, LengthUnit::Mm, LengthUnit::Inch]
            .into_iter()
            .map(|unit| length(mm, unit))
            .find(|shown| {
                let back = read::length_mm(shown, self.home.units.length);
                back.is_ok_and(|b| b.to_bits() == mm.to_bits())
            })
            .unwrap_or_else(|| format!("{mm} mm"))
    }

    /// A temperature that reads back as the same number.
    #[must_use]
    pub fn temperature_again(&self, celsius: f64) -> String {
        // A thermometer of either scale may have been read, whatever the household uses now.
        [
            self.home.units.heat,
            HeatUnit::Celsius,
            HeatUnit::Fahrenheit,
        ]
        .into_iter()
        .map(|unit| temperature(celsius, unit))
        .find(|shown| {
            let back = read::temperature_c(shown, self.home.units.heat);
            back.is_ok_and(|b| b.to_bits() == celsius.to_bits())
        })
        .unwrap_or_else(|| format!("{celsius} C"))
    }

    /// A moment that reads back as the same: the household's own clock where it can say it.
    #[must_use]
    pub fn moment_again(&self, at: Timestamp) -> String {
        let local = at.to_zoned(self.home.zone()).datetime();
        let shown = local.strftime("%Y-%m-%dT%H:%M").to_string();
        if self.home.moment(&shown, at).is_ok_and(|back| back == at) {
            shown
        } else {
            at.to_string()
        }
    }

    /// An amount of money that reads back as the same.
    #[must_use]
    pub fn cents_again(cents: i64) -> String {
        format!("{}.{:02}", cents / 100, cents % 100)
    }

    /// A share that reads back as the same number.
    #[must_use]
    pub fn share_again(share: f64) -> String {
        let shown = format!("{} %", trim(share * 100.0, 1));
        if read::share(&shown).is_ok_and(|s| s.to_bits() == share.to_bits()) {
            shown
        } else {
            format!("{share}")
        }
    }

    /// An entry in words: with which numbers.
    #[must_use]
    pub fn detail(&self, entry: &Entry) -> String {
        entry.act.deed().detail(self)
    }

    /// The act of an entry as a person would send it.
    #[must_use]
    pub fn ask_again(&self, entry: &Entry) -> Option<super::Ask> {
        entry.act.deed().ask_again(entry.lot, self)
    }

    /// The fields of an act that a person may put right.
    #[must_use]
    pub fn form(&self, act: &Act) -> Vec<super::Field> {
        act.deed().form(self)
    }
}
