//! What a person sends when something was done, and its turning into acts of the ledger.
//!
//! Amounts come as they were typed; they are read here, by the household's units, and kept as said.

mod ask;
mod cutting;
mod receive;

pub(crate) use receive::cents;

pub use ask::{ActAsk, GroundFromAsk, OffAsk, PackAsk, PartAsk, ReceivedAsk};

use crate::error::ApiError;
use jiff::Timestamp;
use jiff::civil::DateTime;
use manifest_core::builds;
use manifest_core::caution::FieldError;
use manifest_core::cure::sheet::{OwnDose, SheetPiece, doses, sheet};
use manifest_core::household::Household;
use manifest_core::ledger::book::{Book, LotBook};
use manifest_core::ledger::state::Piece;
use manifest_core::ledger::{Act, LotId, NewPack, PackId, Part, PieceId, PieceWeighed, Reading};
use manifest_core::units::{Milligrams, read};

/// Turns what was typed into acts, giving out numbers and tags as it goes.
pub struct Drafting<'a> {
    book: &'a Book,
    home: &'a Household,
    next_piece: i64,
    next_pack: i64,
    next_lot: i64,
    /// Tags given out in this request already, by lot.
    pieces_of: Vec<LotId>,
    lots_of: Vec<String>,
}

impl<'a> Drafting<'a> {
    /// Begins with the ledger as it stands.
    pub fn new(book: &'a Book, home: &'a Household) -> Self {
        Self {
            book,
            home,
            next_piece: book.next_piece().0,
            next_pack: book.next_pack().0,
            next_lot: book.next_lot().0,
            pieces_of: Vec::new(),
            lots_of: Vec::new(),
        }
    }

    /// The acts of one request; `instead` is the act it corrects, whose numbers and tags it keeps.
    pub fn acts(
        &mut self,
        ask: &ActAsk,
        instead: Option<(LotId, &Act)>,
    ) -> Result<Vec<(LotId, Act)>, ApiError> {
        let old = instead.map(|(_, act)| act);
        let one = |lot, act| Ok(vec![(lot, act)]);
        match ask {
            ActAsk::Received(received) => {
                let received = self.received(received, old)?;
                let lot = match instead {
                    Some((lot, _)) => lot,
                    None => {
                        self.next_lot += 1;
                        LotId(self.next_lot - 1)
                    }
                };
                one(lot, Act::Received(received))
            }
            ActAsk::Purchased {
                name,
                shipping,
                lots,
            } => self.purchased(name, shipping.as_deref(), lots),
            ActAsk::CuttingChosen {
                lot,
                choice,
                option,
            } => one(
                *lot,
                Act::CuttingChosen {
                    choice: choice.clone(),
                    option: option.clone(),
                },
            ),
            ActAsk::FreezerRead {
                lot,
                piece,
                inside,
                thickness,
            } => one(
                *lot,
                Act::FreezerRead {
                    piece: *piece,
                    inside_c: self.temperature(inside, "inside")?,
                    thickness_mm: self.thickness(thickness.as_deref(), "thickness")?,
                },
            ),
            ActAsk::HoldAnswered {
                lot,
                kind,
                answer,
                note,
            } => one(
                *lot,
                Act::HoldAnswered {
                    kind: *kind,
                    answer: *answer,
                    note: filled(note.as_deref()).map(|n| n.trim().to_string()),
                },
            ),
            ActAsk::Worked { piece, .. } => one(self.lot_of(*piece)?, self.worked(ask)?),
            ActAsk::Joined { pieces, .. } => {
                let first = pieces
                    .first()
                    .ok_or_else(|| ApiError::field("pieces", "Choose the pieces to join."))?;
                one(self.lot_of(*first)?, self.joined(ask, old)?)
            }
            ActAsk::Ground { .. } => self.ground(ask, old),
            ActAsk::PieceWeighed { lot, .. } => {
                let piece = self.piece_weighed(ask, old)?;
                one(*lot, Act::PieceWeighed(piece))
            }
            ActAsk::ByproductWeighed {
                lot,
                piece,
                kind,
                reading,
            } => one(
                *lot,
                Act::ByproductWeighed {
                    piece: *piece,
                    kind: *kind,
                    reading: self.mass(reading, "reading")?,
                },
            ),
            ActAsk::BreakdownClosed { lot } => one(*lot, Act::BreakdownClosed),
            ActAsk::Assigned { piece, build } => {
                let version = builds::build(build)
                    .ok_or_else(|| ApiError::field("build", "Choose a product from the list."))?
                    .version;
                one(
                    self.lot_of(*piece)?,
                    Act::Assigned {
                        piece: *piece,
                        build: build.clone(),
                        version,
                    },
                )
            }
            ActAsk::Dosed {
                pieces,
                mixed,
                own,
                reason,
            } => self.dosed(pieces, *mixed, own, reason.as_deref()),
            ActAsk::Turned { piece } => one(self.lot_of(*piece)?, Act::Turned { piece: *piece }),
            ActAsk::Noted { piece, text } => one(
                self.lot_of(*piece)?,
                Act::Noted {
                    piece: *piece,
                    text: text.trim().into(),
                },
            ),
            ActAsk::OutOfCure { piece, reading } => one(
                self.lot_of(*piece)?,
                Act::OutOfCure {
                    piece: *piece,
                    reading: self.mass(reading, "reading")?,
                },
            ),
            ActAsk::Smoked {
                piece,
                reading,
                inside,
            } => {
                let inside_c = filled(inside.as_deref())
                    .map(|text| self.temperature(text, "inside"))
                    .transpose()?;
                one(
                    self.lot_of(*piece)?,
                    Act::Smoked {
                        piece: *piece,
                        reading: self.mass(reading, "reading")?,
                        inside_c,
                    },
                )
            }
            ActAsk::Hung {
                piece,
                reading,
                tare,
                loss_fraction,
            } => {
                let (_, found) = self.find(*piece)?;
                let planned = found
                    .build()
                    .and_then(|b| b.hang.as_ref())
                    .map_or(0.35, |h| h.loss_fraction);
                one(
                    self.lot_of(*piece)?,
                    Act::Hung {
                        piece: *piece,
                        reading: self.mass(reading, "reading")?,
                        tare: self.mass(tare, "tare")?,
                        loss_fraction: loss_fraction.unwrap_or(planned),
                    },
                )
            }
            ActAsk::WeighedIn { piece, reading } => one(
                self.lot_of(*piece)?,
                Act::WeighedIn {
                    piece: *piece,
                    reading: self.mass(reading, "reading")?,
                },
            ),
            ActAsk::TakenDown { piece, reading } => one(
                self.lot_of(*piece)?,
                Act::TakenDown {
                    piece: *piece,
                    reading: self.mass(reading, "reading")?,
                },
            ),
            ActAsk::Cut { piece, parts, way } => {
                let parts = self.parts(*piece, parts, old)?;
                one(
                    self.lot_of(*piece)?,
                    Act::Cut {
                        piece: *piece,
                        parts,
                        way: *way,
                    },
                )
            }
            ActAsk::Packed {
                piece,
                packs,
                ends,
                finished,
            } => {
                let packs = self.packs(*piece, packs, old)?;
                let ends = filled(ends.as_deref())
                    .map(|t| self.mass(t, "ends"))
                    .transpose()?;
                one(
                    self.lot_of(*piece)?,
                    Act::Packed {
                        piece: *piece,
                        packs,
                        ends,
                        finished: *finished,
                    },
                )
            }
            ActAsk::Discarded { piece, reason } => one(
                self.lot_of(*piece)?,
                Act::Discarded {
                    piece: *piece,
                    reason: reason.trim().into(),
                },
            ),
        }
    }

    fn piece_weighed(&mut self, ask: &ActAsk, old: Option<&Act>) -> Result<PieceWeighed, ApiError> {
        let ActAsk::PieceWeighed {
            lot,
            cut,
            reading,
            thickness,
            skin_on,
            bone_in,
            fat_cap,
            fat_cover,
        } = ask
        else {
            unreachable!("asked for a piece");
        };
        let (piece, tag) = match old {
            Some(Act::PieceWeighed(old)) => (old.piece, old.tag.clone()),
            _ => self.fresh_piece(*lot)?,
        };
        Ok(PieceWeighed {
            piece,
            tag,
            cut: cut.clone(),
            reading: self.mass(reading, "reading")?,
            thickness_mm: self.thickness(thickness.as_deref(), "thickness")?,
            skin_on: *skin_on,
            bone_in: *bone_in,
            fat_cap: *fat_cap,
            fat_cover_mm: self.thickness(fat_cover.as_deref(), "fat_cover")?,
        })
    }

    fn parts(
        &mut self,
        whole: PieceId,
        parts: &[PartAsk],
        old: Option<&Act>,
    ) -> Result<Vec<Part>, ApiError> {
        let (lot, piece) = self.find(whole)?;
        let tags = lot.next_part_tags(piece, parts.len());
        let kept = match old {
            Some(Act::Cut { parts, .. }) => parts.as_slice(),
            _ => &[],
        };
        let mut made = Vec::new();
        for (i, part) in parts.iter().enumerate() {
            let (piece, tag) = match kept.get(i) {
                Some(old) => (old.piece, old.tag.clone()),
                None => (self.new_piece(), tags[i - kept.len().min(i)].clone()),
            };
            made.push(Part {
                piece,
                tag,
                reading: self.mass(&part.reading, &format!("parts[{i}].reading"))?,
                thickness_mm: self
                    .thickness(part.thickness.as_deref(), &format!("parts[{i}].thickness"))?,
                cut: part.cut.clone(),
            });
        }
        Ok(made)
    }

    fn packs(
        &mut self,
        piece: PieceId,
        packs: &[PackAsk],
        old: Option<&Act>,
    ) -> Result<Vec<NewPack>, ApiError> {
        let (lot, found) = self.find(piece)?;
        let tags = lot.next_pack_tags(found, packs.len());
        let kept = match old {
            Some(Act::Packed { packs, .. }) => packs.as_slice(),
            _ => &[],
        };
        let mut made = Vec::new();
        for (i, pack) in packs.iter().enumerate() {
            let (id, tag) = match kept.get(i) {
                Some(old) => (old.pack, old.tag.clone()),
                None => {
                    self.next_pack += 1;
                    (
                        PackId(self.next_pack - 1),
                        tags[i - kept.len().min(i)].clone(),
                    )
                }
            };
            made.push(NewPack {
                pack: id,
                tag,
                reading: self.mass(&pack.reading, &format!("packs[{i}].reading"))?,
                slices: pack.slices,
                place: pack.place.clone(),
                allergens: filled(pack.allergens.as_deref()).map(|a| a.trim().to_string()),
            });
        }
        Ok(made)
    }

    fn dosed(
        &self,
        pieces: &[PieceId],
        mixed: bool,
        own: &OwnDose,
        reason: Option<&str>,
    ) -> Result<Vec<(LotId, Act)>, ApiError> {
        let (build, on_sheet) = sheet_pieces(self.book, pieces)?;
        let made = sheet(build, &on_sheet, mixed, own, self.home)?;
        let findings = || {
            made.findings
                .iter()
                .chain(made.pieces.iter().flat_map(|p| &p.findings))
                .cloned()
                .collect()
        };
        if made.refused {
            return Err(ApiError::Stopped(
                findings(),
                "This cure cannot be started. See what stops it, and change the dose or the entry.",
            ));
        }
        let reason = filled(reason);
        if made.needs_reason && reason.is_none() {
            return Err(ApiError::Stopped(
                findings(),
                "Type why you go on past a stop; it stays with the piece and its label.",
            ));
        }
        // A reason given where none is needed would mark the piece for nothing.
        let reason = reason.filter(|_| made.needs_reason);
        doses(&made, build, self.home, reason)
            .into_iter()
            .map(|(piece, dose)| {
                Ok((
                    self.lot_of(piece)?,
                    Act::Dosed {
                        piece,
                        dose: Box::new(dose),
                    },
                ))
            })
            .collect()
    }

    /// A number and a tag of its own for a piece of a lot.
    fn fresh_piece(&mut self, lot: LotId) -> Result<(PieceId, String), ApiError> {
        let first = self.lot(lot)?.next_piece_tag().ok_or_else(|| {
            ApiError::field(
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

    fn new_piece(&mut self) -> PieceId {
        self.next_piece += 1;
        PieceId(self.next_piece - 1)
    }

    fn lot(&self, id: LotId) -> Result<&'a LotBook, ApiError> {
        self.book.lot(id).map(|l| &**l).ok_or_else(|| no_lot(id))
    }

    fn find(&self, id: PieceId) -> Result<(&'a LotBook, &'a Piece), ApiError> {
        let (lot, piece) = self.book.piece(id).ok_or_else(|| no_piece(id))?;
        Ok((lot, piece))
    }

    fn lot_of(&self, id: PieceId) -> Result<LotId, ApiError> {
        Ok(self.find(id)?.0.state.id)
    }

    fn mass(&self, text: &str, field: &str) -> Result<Reading, ApiError> {
        let grams = read::mass_g(text, self.home.units.mass)
            .map_err(|e| ApiError::field(field, e.to_string()))?;
        Ok(Reading {
            said: text.trim().into(),
            mg: Milligrams::from_grams(grams),
        })
    }

    fn temperature(&self, text: &str, field: &str) -> Result<f64, ApiError> {
        read::temperature_c(text, self.home.units.heat)
            .map_err(|e| ApiError::field(field, e.to_string()))
    }

    fn thickness(&self, text: Option<&str>, field: &str) -> Result<Option<f64>, ApiError> {
        filled(text)
            .map(|t| read::length_mm(t, self.home.units.length))
            .transpose()
            .map_err(|e| ApiError::field(field, e.to_string()))
    }
}

/// The pieces of a sheet and the one build they share.
pub fn sheet_pieces(
    book: &Book,
    ids: &[PieceId],
) -> Result<(&'static builds::Build, Vec<SheetPiece>), ApiError> {
    let mut build = None;
    let mut pieces = Vec::new();
    for id in ids {
        let (_, piece) = book.piece(*id).ok_or_else(|| no_piece(*id))?;
        let own = piece.build().ok_or_else(|| {
            ApiError::field(
                "pieces",
                format!("{} has no product yet. Assign it first.", piece.tag),
            )
        })?;
        if build.is_some_and(|b: &builds::Build| b.key != own.key) {
            return Err(ApiError::field(
                "pieces",
                "Pieces of different products have different doses. Start them one product at a time.",
            ));
        }
        build = Some(own);
        pieces.push(SheetPiece {
            id: *id,
            tag: piece.tag.clone(),
            // Of a piece that is dosed already, a corrected dose is still for its green weight.
            meat_g: if piece.cure.is_some() {
                piece.green
            } else {
                piece.mass
            }
            .grams(),
            thickness_mm: piece.thickness_mm,
            skin_on: piece.skin_on,
            fat_cap: piece.fat_cap,
        });
    }
    build
        .map(|b| (b, pieces))
        .ok_or_else(|| ApiError::field("pieces", "Choose at least one piece."))
}

/// When something happened: now, or a moment the person named in the household's own time.
pub fn happened_at(
    text: Option<&str>,
    home: &Household,
    now: Timestamp,
) -> Result<Timestamp, ApiError> {
    let Some(text) = filled(text) else {
        return Ok(now);
    };
    let at = text
        .parse::<Timestamp>()
        .ok()
        .or_else(|| {
            let local: DateTime = text.parse().ok()?;
            Some(local.to_zoned(home.zone()).ok()?.timestamp())
        })
        .ok_or_else(|| {
            ApiError::field(
                "happened_at",
                "Give a date and time, such as 2026-11-20T18:30.",
            )
        })?;
    if at.as_second() > now.as_second() + 60 {
        return Err(ApiError::field(
            "happened_at",
            "That is still to come. Give a time up to now.",
        ));
    }
    Ok(at)
}

/// What was typed, unless it is empty.
pub fn filled(text: Option<&str>) -> Option<&str> {
    text.filter(|t| !t.trim().is_empty())
}

/// No such piece.
pub fn no_piece(id: PieceId) -> ApiError {
    ApiError::NotFound(format!(
        "There is no piece number {}. Look it up by its tag.",
        id.0
    ))
}

/// No such lot.
pub fn no_lot(id: LotId) -> ApiError {
    ApiError::NotFound(format!("Nothing was received under number {}.", id.0))
}

/// Checks that a request names at least one act.
pub fn some<T>(list: &[T], field: &str) -> Result<(), ApiError> {
    if list.is_empty() {
        return Err(ApiError::Fields(vec![FieldError::new(
            field,
            "Say what was done: give at least one act.",
        )]));
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn times_are_the_households_own_and_not_in_the_future() {
        let home = Household {
            time_zone: "America/Denver".into(),
            ..Household::default()
        };
        let now: Timestamp = "2026-11-20T18:00:00Z".parse().unwrap();
        let at = |text| {
            happened_at(Some(text), &home, now)
                .map(|t| t.to_string())
                .map_err(|e| e.to_string())
        };
        assert_eq!(at("2026-11-19T18:30"), Ok("2026-11-20T01:30:00Z".into()));
        assert_eq!(
            at("2026-11-20T18:00:00Z"),
            Ok("2026-11-20T18:00:00Z".into())
        );
        assert_eq!(
            at("2026-11-20T18:30"),
            Err("That is still to come. Give a time up to now.".into())
        );
        assert_eq!(
            at("yesterday"),
            Err("Give a date and time, such as 2026-11-20T18:30.".into())
        );
    }
}
