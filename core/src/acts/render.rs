//! Where an act is told: its lot, and the household whose units it is told in.

use crate::catalogue::Catalogue;
use crate::form::{Field, FieldOption};
use crate::house::House;
use crate::household::Moment;
use crate::ids::{PackId, PieceId};
use crate::ledger::Entry;
use crate::ledger::book::LotBook;
use crate::ledger::facts::Act;
use crate::place::{PlaceId, PlaceUse};
use crate::units::show::mass;
use crate::units::{Grams, Milligrams, Quantity, Reading, Typed};
use jiff::{SignedDuration, Timestamp};

/// Where an act is told.
#[derive(Clone, Copy)]
pub struct RenderContext<'a> {
    /// Its lot, as it stands.
    pub lot: &'a LotBook,
    /// The household's units.
    pub home: &'a House,
}

impl<'a> RenderContext<'a> {
    /// What builds and species are.
    #[must_use]
    pub fn catalogue(&self) -> &'a Catalogue {
        self.lot.state.catalogue()
    }

    /// A weight in the household's units.
    #[must_use]
    pub fn mass(&self, reading: &Reading) -> String {
        mass(Grams(reading.value.grams()), self.home.settings.units.mass)
    }

    /// A weight in the household's units.
    #[must_use]
    pub fn grams(&self, mg: Milligrams) -> String {
        mass(Grams(mg.grams()), self.home.settings.units.mass)
    }

    /// What was measured, in the words it was said in; see [`Typed::as_said`].
    #[must_use]
    pub fn label<Q: Quantity>(&self, typed: &Typed<Q>) -> String {
        typed.as_said(self.home.settings.units)
    }

    /// A piece's tag.
    #[must_use]
    pub fn tag(&self, piece: PieceId) -> String {
        let found = self.lot.state.pieces.get(&piece);
        found.map_or_else(|| format!("piece {}", piece.0), |p| p.tag.clone())
    }

    /// A pack's tag.
    #[must_use]
    pub fn pack(&self, pack: PackId) -> String {
        let found = self.lot.state.packs.get(&pack);
        found.map_or_else(|| pack.0.to_string(), |p| p.tag.clone())
    }

    /// The tags of packs.
    #[must_use]
    pub fn packs(&self, packs: &[PackId]) -> String {
        let tags: Vec<_> = packs.iter().map(|id| self.pack(*id)).collect();
        tags.join(", ")
    }

    /// A place by its name.
    #[must_use]
    pub fn place(&self, id: PlaceId) -> String {
        let place = self.home.settings.place(id);
        place.map_or_else(|| format!("place {id}"), |p| p.name.clone())
    }

    /// Words that read back as the very same value; see [`Typed::again`].
    #[must_use]
    pub fn again<Q: Quantity>(&self, typed: &Typed<Q>) -> String {
        typed.again(self.home.settings.units)
    }

    /// A moment that reads back as the same: the household's own clock where it can say it.
    #[must_use]
    pub fn moment_again(&self, at: Timestamp) -> String {
        let local = at.to_zoned(self.home.settings.zone()).datetime();
        let shown = local.strftime("%Y-%m-%dT%H:%M").to_string();
        let same = Moment { at, again: None };
        // In an hour that came twice the clock alone does not say which.
        let later = at.checked_add(SignedDuration::from_hours(2)).unwrap_or(at);
        if self.home.settings.moment(&shown, later) == Ok(same) {
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

    /// Where a piece may lie at a step, as a field to choose from; none where nothing is listed.
    #[must_use]
    pub fn place_field(&self, name: &str, uses: &[PlaceUse]) -> Option<Field> {
        let options: Vec<_> = self
            .home
            .settings
            .places()
            .filter(|p| uses.iter().any(|u| p.is_for(*u)))
            .map(|p| FieldOption {
                value: p.id.to_string(),
                label: p.name.clone(),
            })
            .collect();
        (!options.is_empty()).then(|| Field::one_of(name, "Where it lies", options).optional())
    }

    /// An entry in words: with which numbers.
    #[must_use]
    pub fn detail(&self, entry: &Entry) -> String {
        entry.act.review().detail(self)
    }

    /// The act of an entry as a person would send it.
    #[must_use]
    pub fn ask_again(&self, entry: &Entry) -> Option<crate::acts::Ask> {
        entry.act.review().ask_again(entry.lot, self)
    }

    /// The fields of an act that a person may put right.
    #[must_use]
    pub fn form(&self, act: &Act) -> Vec<crate::form::Field> {
        act.review().form(self)
    }
}
