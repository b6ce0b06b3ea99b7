//! Every lot of a household in one book.

use super::*;
use crate::ids::VesselId;
use crate::units::Units;
use std::collections::BTreeSet;

/// Every lot of the household.
#[derive(Clone, Debug)]
pub struct Book {
    catalogue: Arc<Catalogue>,
    pub(super) lots: BTreeMap<LotId, Arc<LotBook>>,
    lot_of_piece: HashMap<PieceId, LotId>,
    lot_of_entry: HashMap<EntryId, LotId>,
    lot_of_pack: HashMap<PackId, LotId>,
    last_entry: i64,
    last_piece: i64,
    last_pack: i64,
    last_vessel: i64,
    /// Every piece that was ever put into a vessel.
    in_vessel: BTreeMap<VesselId, BTreeSet<PieceId>>,
    last_lot: i64,
    /// The highest number ever used under each pair of tag letters.
    pairs: HashMap<String, u32>,
}

/// What a set of changes writes, ready to be stored and then taken into the book.
#[derive(Clone, Debug, PartialEq)]
pub struct Plan {
    /// The entries to store, in order of number.
    pub entries: Vec<Arc<Entry>>,
    /// What they lean on and the household's shelf does not hold yet.
    pub kept: Vec<Kept>,
    lots: BTreeMap<LotId, Arc<LotBook>>,
}

/// Two are equal when the same follows from their entries.
impl PartialEq for Book {
    fn eq(&self, other: &Self) -> bool {
        let numbers = |b: &Self| (b.last_entry, b.last_piece, b.last_pack, b.last_lot);
        self.lots == other.lots
            && self.lot_of_piece == other.lot_of_piece
            && self.lot_of_entry == other.lot_of_entry
            && self.lot_of_pack == other.lot_of_pack
            && self.pairs == other.pairs
            && numbers(self) == numbers(other)
    }
}

impl Book {
    /// A ledger into which nothing is written yet.
    #[must_use]
    pub fn new(catalogue: Arc<Catalogue>) -> Self {
        Self {
            catalogue,
            lots: BTreeMap::new(),
            lot_of_piece: HashMap::new(),
            lot_of_entry: HashMap::new(),
            lot_of_pack: HashMap::new(),
            last_entry: 0,
            last_piece: 0,
            last_pack: 0,
            last_vessel: 0,
            in_vessel: BTreeMap::new(),
            last_lot: 0,
            pairs: HashMap::new(),
        }
    }

    /// Derives the book from every entry ever written, with what they lean on.
    #[must_use]
    pub fn fold(entries: impl IntoIterator<Item = Entry>, catalogue: Arc<Catalogue>) -> Self {
        let mut book = Self::new(catalogue);
        let mut by_lot: BTreeMap<LotId, Vec<Arc<Entry>>> = BTreeMap::new();
        for entry in entries {
            let entry = Arc::new(entry);
            book.count(&entry);
            by_lot.entry(entry.lot).or_default().push(entry);
        }
        for (id, entries) in by_lot {
            let lot = LotBook::fold(id, entries, &book.catalogue);
            book.lots.insert(id, Arc::new(lot));
        }
        book
    }

    /// Keeps numbers and tags from being given twice.
    fn count(&mut self, entry: &Entry) {
        self.last_entry = self.last_entry.max(entry.id.0);
        self.last_lot = self.last_lot.max(entry.lot.0);
        self.lot_of_entry.insert(entry.id, entry.lot);
        for piece in entry.act.pieces() {
            self.last_piece = self.last_piece.max(piece.0);
            self.lot_of_piece.insert(piece, entry.lot);
        }
        for (pack, _) in entry.act.packs() {
            self.last_pack = self.last_pack.max(pack.0);
            self.lot_of_pack.insert(pack, entry.lot);
        }
        if let Act::Dosed(dosed) = &entry.act
            && let Some(vessel) = &dosed.dose.vessel
        {
            self.last_vessel = self.last_vessel.max(vessel.id.0);
            self.in_vessel
                .entry(vessel.id)
                .or_default()
                .insert(dosed.piece);
        }
        if let Act::Received(received) = &entry.act {
            let digits = received
                .tag
                .trim_start_matches(|c: char| !c.is_ascii_digit());
            let pair = &received.tag[..received.tag.len() - digits.len()];
            let used = self.pairs.entry(pair.to_string()).or_default();
            *used = (*used).max(digits.parse().unwrap_or(0));
        }
    }

    /// Plans several changes that are written together or not at all; refusals speak in `unit`.
    ///
    /// # Errors
    /// The first refusal; nothing is planned then.
    pub fn plan(&self, changes: &[Change], now: Timestamp, units: Units) -> Result<Plan, Refusal> {
        let mut changes = changes.to_vec();
        self.plan_past(&mut changes, now, units, &mut |_, _| {})
    }

    /// Plans several changes, each of which is looked at first beside its lot as the ones before it
    /// leave it; what is looked at may be marked.
    ///
    /// # Errors
    /// The first refusal; nothing is planned then.
    pub fn plan_past(
        &self,
        changes: &mut [Change],
        now: Timestamp,
        units: Units,
        look: &mut dyn FnMut(&mut Change, &LotBook),
    ) -> Result<Plan, Refusal> {
        let mut plan = Plan {
            entries: Vec::new(),
            kept: Vec::new(),
            lots: BTreeMap::new(),
        };
        for change in changes.iter_mut() {
            let lot = match change {
                Change::Add { lot, .. } | Change::Redate { lot, .. } => *lot,
                Change::Replace { entry, .. } | Change::Undo { entry } => {
                    *self.lot_of_entry.get(entry).ok_or(Refusal::NoEntry)?
                }
            };
            // The first change to a lot copies it, the others work on that copy.
            let book = match plan.lots.remove(&lot) {
                Some(worked) => Arc::unwrap_or_clone(worked),
                None => match (self.lots.get(&lot), &*change) {
                    (Some(book), _) => (**book).clone(),
                    (None, Change::Add { act, .. }) if matches!(**act, Act::Received(_)) => {
                        LotBook::fold(lot, Vec::new(), &self.catalogue)
                    }
                    (None, _) => return Err(Refusal::NoLot),
                },
            };
            look(change, &book);
            let next = EntryId(self.last_entry + plan.entries.len() as i64 + 1);
            let (entries, book) = book.plan(change, next, now, units)?;
            plan.entries.extend(entries);
            plan.lots.insert(lot, Arc::new(book));
        }
        plan.kept = self.to_keep(&plan.entries);
        Ok(plan)
    }

    /// What entries lean on and the shelf does not hold yet.
    fn to_keep(&self, entries: &[Arc<Entry>]) -> Vec<Kept> {
        let mut found: BTreeMap<SnapshotKey, Kept> = BTreeMap::new();
        for key in entries.iter().flat_map(|e| e.act.fact().depends_on()) {
            if !self.catalogue.shelf().contains_key(&key)
                && let Some(kept) = self.catalogue.to_keep(&key)
            {
                found.insert(key, kept);
            }
        }
        found.into_values().collect()
    }

    /// What builds and species are, now and on the household's shelf.
    #[must_use]
    pub fn catalogue(&self) -> &Arc<Catalogue> {
        &self.catalogue
    }

    /// Takes in what was planned and stored.
    pub fn take(&mut self, plan: Plan) {
        for entry in &plan.entries {
            self.count(entry);
        }
        self.lots.extend(plan.lots);
        if !plan.kept.is_empty() {
            let mut catalogue = (*self.catalogue).clone();
            for kept in plan.kept {
                catalogue.keep(kept);
            }
            self.catalogue = Arc::new(catalogue);
        }
    }

    /// Every lot that is there, oldest first.
    pub fn lots(&self) -> impl DoubleEndedIterator<Item = &Arc<LotBook>> {
        self.lots.values().filter(|l| l.state.lot.is_some())
    }

    /// One lot with its entries.
    #[must_use]
    pub fn lot(&self, id: LotId) -> Option<&Arc<LotBook>> {
        self.lots.get(&id)
    }

    /// The lot of a piece and the piece, if it is there.
    #[must_use]
    pub fn piece(&self, id: PieceId) -> Option<(&Arc<LotBook>, &Piece)> {
        let lot = self.lots.get(self.lot_of_piece.get(&id)?)?;
        Some((lot, lot.state.pieces.get(&id)?))
    }

    /// A pack with its piece and their lot, if it is there.
    #[must_use]
    pub fn pack(&self, id: PackId) -> Option<(&Arc<LotBook>, &Piece, &Pack)> {
        let lot = self.lots.get(self.lot_of_pack.get(&id)?)?;
        let pack = lot.state.packs.get(&id)?;
        Some((lot, lot.state.pieces.get(&pack.piece)?, pack))
    }

    /// The lot of an entry and the entry, dead or live.
    #[must_use]
    pub fn entry(&self, id: EntryId) -> Option<(&Arc<LotBook>, &Arc<Entry>)> {
        let lot = self.lots.get(self.lot_of_entry.get(&id)?)?;
        Some((lot, lot.entry(id)?))
    }

    /// Every piece of every lot.
    pub fn pieces(&self) -> impl Iterator<Item = (&Arc<LotBook>, &Piece)> {
        self.lots()
            .flat_map(|l| l.state.pieces.values().map(move |p| (l, p)))
    }

    /// The next free number for a lot.
    #[must_use]
    pub fn next_lot(&self) -> LotId {
        LotId(self.last_lot + 1)
    }

    /// The next free number for a piece.
    #[must_use]
    pub fn next_piece(&self) -> PieceId {
        PieceId(self.last_piece + 1)
    }

    /// The next free number for a pack.
    #[must_use]
    pub fn next_pack(&self) -> PackId {
        PackId(self.last_pack + 1)
    }

    /// The next free number for a vessel.
    #[must_use]
    pub fn next_vessel(&self) -> VesselId {
        VesselId(self.last_vessel + 1)
    }

    /// Every piece that was ever put into a vessel, even if that was undone.
    #[must_use]
    pub fn ever_in(&self, id: VesselId) -> &BTreeSet<PieceId> {
        static NONE: BTreeSet<PieceId> = BTreeSet::new();
        self.in_vessel.get(&id).unwrap_or(&NONE)
    }

    /// The pieces that lie, or lay, in a vessel, with their lots.
    pub fn vessel(&self, id: VesselId) -> impl Iterator<Item = (&Arc<LotBook>, &Piece)> {
        let mut found = Vec::new();
        let mut left: Vec<PieceId> = self.ever_in(id).iter().copied().collect();
        while let Some(next) = left.pop() {
            let Some((lot, piece)) = self.piece(next) else {
                continue;
            };
            if piece.vessel() != Some(id) {
                continue;
            }
            // What was cut in its cure lies there in its parts.
            if piece.went_into_others() {
                left.extend(&piece.parts);
            } else {
                found.push((lot, piece));
            }
        }
        found.sort_by_key(|(_, piece)| piece.id);
        found.into_iter()
    }

    /// The number of the newest entry.
    #[must_use]
    pub fn last_entry(&self) -> EntryId {
        EntryId(self.last_entry)
    }

    /// The next free tag for a lot: the species' two letters and a number never used before.
    #[must_use]
    pub fn next_lot_tag(&self, pair: &str) -> String {
        format!("{pair}{}", self.pairs.get(pair).unwrap_or(&0) + 1)
    }
}
