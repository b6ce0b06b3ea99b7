//! Knife, saw, grinder and hand, as typed.

use super::{ActAsk, Drafting, GroundFromAsk, filled};
use crate::error::ApiError;
use manifest_core::ledger::{
    Act, Byproduct, Ground, GroundFrom, Joined, LotId, Off, PieceId, word,
};

impl Drafting<'_> {
    pub(super) fn worked(&self, ask: &ActAsk) -> Result<Act, ApiError> {
        let ActAsk::Worked {
            piece,
            work,
            off,
            reading,
            thickness,
            fat_cover,
        } = ask
        else {
            unreachable!("asked for work on a piece");
        };
        let mut kept = Vec::new();
        for (i, off) in off.iter().enumerate() {
            kept.push(Off {
                kind: off.kind,
                reading: self.mass(&off.reading, &format!("off[{i}].reading"))?,
            });
        }
        Ok(Act::Worked {
            piece: *piece,
            work: *work,
            off: kept,
            reading: filled(reading.as_deref())
                .map(|text| self.mass(text, "reading"))
                .transpose()?,
            thickness_mm: self.thickness(thickness.as_deref(), "thickness")?,
            fat_cover_mm: self.thickness(fat_cover.as_deref(), "fat_cover")?,
        })
    }

    pub(super) fn joined(&mut self, ask: &ActAsk, old: Option<&Act>) -> Result<Act, ApiError> {
        let ActAsk::Joined {
            pieces,
            way,
            reading,
            thickness,
        } = ask
        else {
            unreachable!("asked for pieces to be joined");
        };
        let lot = self.lot_of(pieces[0])?;
        for piece in pieces {
            if self.lot_of(*piece)? != lot {
                return Err(ApiError::field(
                    "pieces",
                    "Pieces of different animals are kept apart. Choose pieces of one.",
                ));
            }
        }
        let (into, tag) = match old {
            Some(Act::Joined(old)) => (old.into, old.tag.clone()),
            _ => self.fresh_piece(lot)?,
        };
        Ok(Act::Joined(Joined {
            pieces: pieces.clone(),
            way: *way,
            into,
            tag,
            reading: filled(reading.as_deref())
                .map(|text| self.mass(text, "reading"))
                .transpose()?,
            thickness_mm: self.thickness(thickness.as_deref(), "thickness")?,
        }))
    }

    /// A block belongs to one lot; trim and fat of others is given to it first.
    pub(super) fn ground(
        &mut self,
        ask: &ActAsk,
        old: Option<&Act>,
    ) -> Result<Vec<(LotId, Act)>, ApiError> {
        let ActAsk::Ground {
            lot,
            sources,
            reading,
            thickness,
            fat_fraction,
        } = ask
        else {
            unreachable!("asked for meat to be ground");
        };
        let home_tag = self.lot_tag(*lot)?;
        let mut acts = Vec::new();
        let mut from = Vec::new();
        for (i, source) in sources.iter().enumerate() {
            let field = format!("sources[{i}].reading");
            from.push(match source {
                GroundFromAsk::Piece { piece } => {
                    self.of_this_lot(*piece, *lot, i)?;
                    GroundFrom::Piece { piece: *piece }
                }
                GroundFromAsk::Kept {
                    lot: other,
                    kind,
                    reading,
                } => {
                    let reading = self.mass(reading, &field)?;
                    match other.filter(|o| o != lot) {
                        None => GroundFrom::Kept {
                            kind: *kind,
                            reading,
                        },
                        Some(giver) => {
                            let name = self.given_name(giver, *kind)?;
                            acts.push((
                                giver,
                                Act::ByproductGiven {
                                    kind: *kind,
                                    reading: reading.clone(),
                                    to: *lot,
                                    to_tag: home_tag.clone(),
                                },
                            ));
                            GroundFrom::Added { name, reading }
                        }
                    }
                }
                GroundFromAsk::Added { name, reading } => GroundFrom::Added {
                    name: name.trim().into(),
                    reading: self.mass(reading, &field)?,
                },
            });
        }
        let (into, tag) = match old {
            Some(Act::Ground(old)) => (old.into, old.tag.clone()),
            _ => self.fresh_piece(*lot)?,
        };
        acts.push((
            *lot,
            Act::Ground(Ground {
                sources: from,
                into,
                tag,
                reading: self.mass(reading, "reading")?,
                thickness_mm: self.thickness(thickness.as_deref(), "thickness")?,
                fat_fraction: *fat_fraction,
            }),
        ));
        Ok(acts)
    }

    fn of_this_lot(&self, piece: PieceId, lot: LotId, i: usize) -> Result<(), ApiError> {
        if self.lot_of(piece)? == lot {
            return Ok(());
        }
        Err(ApiError::field(
            &format!("sources[{i}]"),
            "That piece is of another animal. Trim it there, and add the trim.",
        ))
    }

    fn lot_tag(&self, lot: LotId) -> Result<String, ApiError> {
        let found = self.lot(lot)?.state.lot.as_ref();
        found
            .map(|l| l.received.tag.clone())
            .ok_or_else(|| super::no_lot(lot))
    }

    /// What another lot's trim is called where it goes: `pork fat of HG1`.
    fn given_name(&self, lot: LotId, kind: Byproduct) -> Result<String, ApiError> {
        let found = self.lot(lot)?.state.lot.as_ref();
        let came = found.ok_or_else(|| super::no_lot(lot))?;
        Ok(format!(
            "{} {} of {}",
            came.species().meat,
            word(&kind),
            came.received.tag
        ))
    }
}
