//! Pieces that come of others: parts, pairs, blocks.

use super::{Piece, Point, State, Weighing};
use crate::animal;
use crate::ledger::{CutWay, Entry, Ground, JoinWay, Joined, Part, PieceId};
use crate::units::Milligrams;

impl State {
    /// Parts inherit what was done to the whole, and their share of its dose.
    pub(super) fn begin_parts(
        &mut self,
        whole: PieceId,
        parts: &[Part],
        way: CutWay,
        entry: &Entry,
    ) {
        let Some(whole) = self.pieces.get(&whole).cloned() else {
            return;
        };
        let weights: Vec<_> = parts.iter().map(|p| p.reading.mg).collect();
        let greens = whole.green.share_out(&weights);
        for (i, part) in parts.iter().enumerate() {
            let mut piece = Piece {
                id: part.piece,
                parents: vec![whole.id],
                tag: part.tag.clone(),
                thickness_mm: part.thickness_mm.or(whole.thickness_mm),
                mass: Milligrams::ZERO,
                in_cure: Milligrams::ZERO,
                packs: Vec::new(),
                parts: Vec::new(),
                ..whole.clone()
            };
            if let Some(cut) = &part.cut {
                self.becomes(&mut piece, cut);
            } else if way == CutWay::Seam {
                piece.bone_in = false;
            }
            if let Some(cure) = &mut piece.cure {
                piece.green = greens[i];
                for line in &mut cure.dose.lines {
                    line.mg = line.mg.share_out(&weights)[i];
                }
            } else {
                piece.green = part.reading.mg;
            }
            // Weighings of the whole say nothing about a part; its own line begins with its share.
            let at = whole.cure.as_ref().map_or(entry.happened_at, |c| c.since);
            piece.weighings = vec![Weighing {
                entry: entry.id,
                at,
                point: Point::Green,
                net: piece.green,
            }];
            if whole.out_of_cure.is_some() {
                let point = whole.last_weighing().map_or(Point::Green, |w| w.point);
                piece.weighings.push(Weighing {
                    entry: entry.id,
                    at: entry.happened_at,
                    point,
                    net: part.reading.mg,
                });
            }
            self.pieces.insert(part.piece, piece);
        }
    }

    /// A muscle out of a larger cut has its own traits; nothing grows bone, skin or fat on the way.
    fn becomes(&self, piece: &mut Piece, cut: &str) {
        let traits = self.lot.as_ref().and_then(|l| l.species().cut(cut));
        if let Some(traits) = traits {
            piece.bone_in &= traits.bone_in;
            piece.skin_on &= traits.skin_on;
            piece.fat_cap &= traits.fat == animal::Fat::FatCapped;
        }
        piece.cut = cut.into();
    }

    /// Two or more pieces of a lot in one: folded they are thicker, bound they keep the thickest.
    pub(super) fn begin_joined(&mut self, joined: &Joined, entry: &Entry) {
        let sources: Vec<_> = joined
            .pieces
            .iter()
            .filter_map(|id| self.pieces.get(id))
            .cloned()
            .collect();
        let Some(first) = sources.first() else {
            return;
        };
        let thick = sources.iter().filter_map(|p| p.thickness_mm);
        let usual = match joined.way {
            JoinWay::Pair => thick.sum(),
            JoinWay::Bind => thick.fold(0.0, f64::max),
        };
        let green = joined
            .reading
            .as_ref()
            .map_or_else(|| sources.iter().map(|p| p.mass).sum(), |r| r.mg);
        let same_build = sources.iter().all(|p| p.build == first.build);
        let piece = Piece {
            parents: joined.pieces.clone(),
            cut: first.cut.clone(),
            thickness_mm: joined.thickness_mm.or((usual > 0.0).then_some(usual)),
            skin_on: sources.iter().any(|p| p.skin_on),
            bone_in: sources.iter().any(|p| p.bone_in),
            fat_cap: sources.iter().any(|p| p.fat_cap),
            build: first.build.clone().filter(|_| same_build),
            ..Piece::green(joined.into, &joined.tag, green, entry)
        };
        self.pieces.insert(joined.into, piece);
    }

    /// A block of ground meat; it takes the product its pieces were meant for, if they agree.
    pub(super) fn begin_ground(&mut self, ground: &Ground, entry: &Entry) {
        let sources: Vec<_> = ground
            .pieces()
            .filter_map(|id| self.pieces.get(&id))
            .collect();
        let build = sources
            .first()
            .and_then(|p| p.build())
            .filter(|b| b.is_ground())
            .map(|b| b.key.clone())
            .filter(|key| sources.iter().all(|p| p.build.as_ref() == Some(key)));
        let piece = Piece {
            parents: ground.pieces().collect(),
            cut: animal::MIX.into(),
            thickness_mm: ground.thickness_mm,
            fat_fraction: ground.fat_fraction,
            build,
            ..Piece::green(ground.into, &ground.tag, ground.reading.mg, entry)
        };
        self.pieces.insert(ground.into, piece);
    }
}
