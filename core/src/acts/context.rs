//! Where asks become acts: typed amounts are read by the household's units, numbers and tags are
//! given out.

use crate::catalogue::Catalogue;
use crate::catalogue::builds::Build;
use crate::caution::{Code, Finding, Severity};
use crate::form::{AskError, Count};
use crate::house::House;
use crate::ids::{LotId, PackId, PieceId, VesselId};
use crate::ledger::book::{Book, LotBook};
use crate::ledger::facts::Act;
use crate::ledger::state::{Piece, Stage};
use crate::place::{PlaceId, PlaceUse};
use crate::units::bounds::Measure;
use crate::units::{Amount, Fraction, Grams, Milligrams, Quantity, Reading, Typed, show};
use crate::verdict::Judge;
use jiff::Timestamp;
use std::sync::Arc;

/// The block on a curing salt where none belongs: on a coat, in a grinder, among spices.
pub(crate) fn cure_out_of_place(name: &str, catalogue: &Catalogue) -> Option<Finding> {
    catalogue.cure_name(name).is_some().then(|| {
        Finding::new(
            Code::CureAsSpice,
            Severity::Stop,
            format!("{name} is or may be a curing salt. It is weighed out as a dose, over all of the meat, and never put on by hand."),
        )
        .saw(name.to_string())
        .wants("a dose by the scale")
        .remedy("Give the piece a dose instead. If it was plain salt, call it by that name.")
    })
}

/// The acts of one ask, with their lots.
pub type Drafted = Result<Vec<(LotId, Act)>, AskError>;

/// Where asks become acts.
pub struct DraftContext<'a> {
    /// The ledger as it stands.
    pub book: &'a Book,
    /// The household's settings.
    pub home: &'a House,
    /// The present.
    pub now: Timestamp,
    next_piece: i64,
    next_pack: i64,
    next_vessel: i64,
    next_lot: i64,
    /// Tags given out in this request already, by lot.
    pieces_of: Vec<LotId>,
    lots_of: Vec<String>,
}

impl<'a> DraftContext<'a> {
    /// Begins with the ledger as it stands.
    #[must_use]
    pub fn new(book: &'a Book, home: &'a House, now: Timestamp) -> Self {
        Self {
            book,
            home,
            now,
            next_piece: book.next_piece().0,
            next_pack: book.next_pack().0,
            next_vessel: book.next_vessel().0,
            next_lot: book.next_lot().0,
            pieces_of: Vec::new(),
            lots_of: Vec::new(),
        }
    }

    /// Every lot as it stands.
    #[must_use]
    pub fn book(&self) -> &'a Book {
        self.book
    }

    /// The household.
    #[must_use]
    pub fn home(&self) -> &'a House {
        self.home
    }

    /// Who says what may be said of a piece.
    pub(crate) fn judge(&self) -> Judge<'a> {
        Judge {
            book: self.book,
            home: self.home,
        }
    }

    /// What builds and species are.
    #[must_use]
    pub fn catalogue(&self) -> &'a Arc<Catalogue> {
        self.book.catalogue()
    }

    /// The act of one piece, under its lot.
    pub(crate) fn about(&self, piece: PieceId, act: Act) -> Drafted {
        Ok(vec![(self.lot_of(piece)?, act)])
    }

    /// A weight, as typed.
    pub(crate) fn mass(&self, text: &str, field: &str) -> Result<Reading, AskError> {
        self.typed(text, field)
    }

    /// A weight that may be left empty.
    pub(crate) fn mass_if(
        &self,
        text: Option<&str>,
        field: &str,
    ) -> Result<Option<Reading>, AskError> {
        filled(text).map(|t| self.mass(t, field)).transpose()
    }

    /// An amount, as typed.
    pub(crate) fn typed<Q: Quantity>(&self, text: &str, field: &str) -> Result<Typed<Q>, AskError> {
        Typed::read(text, self.home.settings.units)
            .map_err(|e| AskError::field(field, e.to_string()))
    }

    /// An amount that may be left empty.
    pub(crate) fn typed_if<Q: Quantity>(
        &self,
        text: Option<&str>,
        field: &str,
    ) -> Result<Option<Typed<Q>>, AskError> {
        filled(text).map(|t| self.typed(t, field)).transpose()
    }

    /// A share that may be left empty, as a number from 0 to 1 or as typed.
    pub(crate) fn share_if(
        &self,
        share: Option<&Amount>,
        field: &str,
    ) -> Result<Option<Typed<Fraction>>, AskError> {
        match share {
            Some(Amount::Number(n)) if Measure::Share.holds(*n) => {
                Ok(Some(Typed::unsaid(Fraction(*n))))
            }
            Some(Amount::Number(_)) => Err(AskError::field(
                field,
                "Give a share from 0 to 1, or type it, such as 35 %.",
            )),
            Some(Amount::Text(text)) => self.typed_if(Some(text), field),
            None => Ok(None),
        }
    }

    /// A place on the household's list that is for one of these.
    pub(crate) fn place(
        &self,
        place: Option<&Count>,
        uses: &[PlaceUse],
        field: &str,
    ) -> Result<Option<PlaceId>, AskError> {
        let Some(id) = self.count_if(place, field)? else {
            return Ok(None);
        };
        match self.home.settings.place(id) {
            Some(place) if uses.iter().any(|u| place.is_for(*u)) => Ok(Some(id)),
            Some(place) => Err(AskError::field(
                field,
                format!(
                    "Nothing is done in {} at this step. Choose another place.",
                    place.name
                ),
            )),
            None => Err(AskError::field(
                field,
                "That place is not on your list. Choose one of it, or add it in the settings.",
            )),
        }
    }

    /// A whole number, as typed.
    pub(crate) fn count(&self, typed: &Count, field: &str) -> Result<u32, AskError> {
        typed.read().map_err(|e| AskError::field(field, e))
    }

    /// A whole number that may be left empty.
    pub(crate) fn count_if(
        &self,
        typed: Option<&Count>,
        field: &str,
    ) -> Result<Option<u32>, AskError> {
        typed
            .filter(|c| **c != Count::Text(String::new()))
            .map(|c| self.count(c, field))
            .transpose()
    }

    /// A moment up to now, as typed.
    pub(crate) fn moment(&self, text: &str, field: &str) -> Result<Timestamp, AskError> {
        self.home
            .settings
            .moment(text, self.now)
            .map(|moment| moment.at)
            .map_err(|e| AskError::field(field, e.message))
    }

    /// The number of a new lot.
    pub(crate) fn new_lot(&mut self) -> LotId {
        self.next_lot += 1;
        LotId(self.next_lot - 1)
    }

    /// The number of a new piece.
    pub(crate) fn new_piece(&mut self) -> PieceId {
        self.next_piece += 1;
        PieceId(self.next_piece - 1)
    }

    /// The number of a new vessel, with room for so many.
    pub(crate) fn new_vessels(&mut self, n: usize) -> VesselId {
        self.next_vessel += n as i64;
        VesselId(self.next_vessel - n as i64)
    }

    /// What was typed at a field for those pieces on the scale at once, as what each of them weighs; see `those`.
    pub(crate) fn weighed_together(
        &self,
        (field, typed): (&'static str, &str),
        piece: Option<PieceId>,
        pieces: &[PieceId],
        vessel: Option<VesselId>,
    ) -> Result<Vec<(PieceId, Reading)>, AskError> {
        let all = self.mass(typed, field)?;
        let pieces = self.those(piece, pieces, vessel)?;
        let shares = self.shared_reading(&all, &pieces)?;
        Ok(pieces.into_iter().zip(shares).collect())
    }

    /// What a scale said of several pieces together, shared out by what each weighs in the books.
    pub(crate) fn shared_reading(
        &self,
        all: &Reading,
        pieces: &[PieceId],
    ) -> Result<Vec<Reading>, AskError> {
        if let [_] = pieces {
            return Ok(vec![all.clone()]);
        }
        let mut meat = Vec::new();
        for id in pieces {
            meat.push(self.find(*id)?.1.mass);
        }
        let shares = all.value.share_out(&meat);
        Ok(shares.into_iter().map(Typed::unsaid).collect())
    }

    /// What a scale said of several hanging pieces together, cloth and net and all, as what each would show: its own tare and its
    /// share of the meat.
    pub(crate) fn shared_on_hooks(
        &self,
        (field, typed): (&'static str, &str),
        piece: Option<PieceId>,
        pieces: &[PieceId],
    ) -> Result<Vec<(PieceId, Reading)>, AskError> {
        let all = self.mass(typed, field)?;
        let pieces = self.those(piece, pieces, None)?;
        if let [one] = pieces.as_slice() {
            return Ok(vec![(*one, all)]);
        }
        let (mut meat, mut tares) = (Vec::new(), Vec::new());
        for id in &pieces {
            let found = self.find(*id)?.1;
            meat.push(found.mass);
            tares.push(found.tare());
        }
        let beside: Milligrams = tares.iter().copied().sum();
        if all.value <= beside {
            return Err(AskError::field(
                field,
                format!(
                    "Cloth and net of these alone weigh {}. Type what the scale shows with all of them on it.",
                    show::mass(Grams(beside.grams()), self.home.settings.units.mass)
                ),
            ));
        }
        let shares = (all.value - beside).share_out(&meat);
        let gross = shares
            .into_iter()
            .zip(tares)
            .map(|(net, tare)| Typed::unsaid(net + tare));
        Ok(pieces.into_iter().zip(gross).collect())
    }

    /// The pieces that an act is about: the one it names, those it names, or all that lie in a vessel.
    pub(crate) fn those(
        &self,
        piece: Option<PieceId>,
        pieces: &[PieceId],
        vessel: Option<VesselId>,
    ) -> Result<Vec<PieceId>, AskError> {
        let said = usize::from(piece.is_some())
            + usize::from(!pieces.is_empty())
            + usize::from(vessel.is_some());
        if said != 1 {
            return Err(AskError::field(
                "piece",
                "Name a piece, pieces, or the vessel they lie in: one of these.",
            ));
        }
        let mut found: Vec<PieceId> = piece.into_iter().chain(pieces.iter().copied()).collect();
        if let Some(vessel) = vessel {
            let lies = self.book.vessel(vessel);
            found.extend(
                lies.filter(|(_, p)| p.stage() == Stage::InCure)
                    .map(|(_, p)| p.id),
            );
            if found.is_empty() {
                return Err(AskError::field(
                    "vessel",
                    format!("Nothing lies in vessel number {} now.", vessel.0),
                ));
            }
        }
        let once: std::collections::BTreeSet<_> = found.iter().collect();
        if once.len() != found.len() {
            return Err(AskError::field(
                "pieces",
                "A piece is named twice. Name each once.",
            ));
        }
        Ok(found)
    }

    /// The number of a new pack.
    pub(crate) fn new_pack(&mut self) -> PackId {
        self.next_pack += 1;
        PackId(self.next_pack - 1)
    }

    /// A tag for a new lot of a species whose tags begin with `pair`.
    pub(crate) fn fresh_lot_tag(&mut self, pair: &str) -> String {
        let first = self.book.next_lot_tag(pair);
        let given = self.lots_of.iter().filter(|p| *p == pair).count() as u32;
        self.lots_of.push(pair.into());
        let number: u32 = first[pair.len()..].parse().unwrap_or(1);
        format!("{pair}{}", number + given)
    }

    /// A number and a tag of its own for a piece of a lot.
    pub(crate) fn fresh_piece(&mut self, lot: LotId) -> Result<(PieceId, String), AskError> {
        let first = self.lot(lot)?.next_piece_tag().ok_or_else(|| {
            AskError::field(
                "lot",
                "What this came from was never received, or that was undone.",
            )
        })?;
        let (stem, number) = first.rsplit_once('-').unwrap_or((&first, "1"));
        let given = self.pieces_of.iter().filter(|l| **l == lot).count() as u32;
        self.pieces_of.push(lot);
        let tag = format!("{stem}-{}", number.parse::<u32>().unwrap_or(1) + given);
        Ok((self.new_piece(), tag))
    }

    /// A number and a tag for the first piece of a lot that this request brings in.
    pub(crate) fn first_piece(&mut self, lot: LotId, lot_tag: &str) -> (PieceId, String) {
        let given = self.pieces_of.iter().filter(|l| **l == lot).count() + 1;
        self.pieces_of.push(lot);
        (self.new_piece(), format!("{lot_tag}-{given}"))
    }

    /// A lot with its entries.
    pub(crate) fn lot(&self, id: LotId) -> Result<&'a LotBook, AskError> {
        self.book
            .lot(id)
            .map(|l| &**l)
            .ok_or_else(|| AskError::no_lot(id))
    }

    /// A piece with its lot.
    pub(crate) fn find(&self, id: PieceId) -> Result<(&'a LotBook, &'a Piece), AskError> {
        let (lot, piece) = self.book.piece(id).ok_or_else(|| AskError::no_piece(id))?;
        Ok((lot, piece))
    }

    /// The lot of a piece.
    pub(crate) fn lot_of(&self, id: PieceId) -> Result<LotId, AskError> {
        Ok(self.find(id)?.0.state.id)
    }

    /// A product of the catalogue.
    pub(crate) fn build(&self, key: &str) -> Result<&'a Arc<Build>, AskError> {
        self.catalogue()
            .build(key)
            .ok_or_else(|| AskError::field("build", "Choose a product from the list."))
    }
}

/// What was typed, unless it is empty.
pub(crate) fn filled(text: Option<&str>) -> Option<&str> {
    text.filter(|t| !t.trim().is_empty())
}

/// What was typed without the blanks around it, unless it is empty.
pub(crate) fn words(text: Option<&str>) -> Option<String> {
    filled(text).map(|t| t.trim().to_string())
}
