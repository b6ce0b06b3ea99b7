//! Postings of what knife, saw, grinder and hand do.

use super::{
    Posted, alive, at_stage, edible, enough_kept, err, fat_cover, is_explained, no_gain, positive,
    say, thickness, tidy,
};
use crate::caution::FieldError;
use crate::ledger::state::{Piece, Stage, State};
use crate::ledger::{
    Account, Ground, GroundFrom, JoinWay, Joined, Loss, Off, Part, PieceId, Reading, Work,
};
use crate::units::{MassUnit, Milligrams};

/// What a work on a piece left behind.
pub(super) struct Done<'a> {
    pub off: &'a [Off],
    pub reading: Option<&'a Reading>,
    pub thickness_mm: Option<f64>,
    pub fat_cover_mm: Option<f64>,
}

/// A piece before its cure, or on its way to the freezer as it is.
fn workable(state: &State, id: PieceId) -> Result<&Piece, Vec<FieldError>> {
    let piece = at_stage(state, id, &[Stage::Assign, Stage::Dose, Stage::Pack])?;
    if piece.cure.is_some() || !piece.packs.is_empty() {
        return Err(vec![FieldError::new(
            "piece",
            format!("{} is cured or packed already.", piece.tag),
        )]);
    }
    Ok(piece)
}

/// Work that leaves one piece: what came off is kept, what is missing besides was lost in cutting.
pub(super) fn work(
    id: PieceId,
    work: Work,
    done: &Done<'_>,
    state: &State,
    unit: MassUnit,
) -> Posted {
    let piece = workable(state, id)?;
    let nothing = match work {
        Work::Skin if !piece.skin_on => Some("has no skin on"),
        Work::BoneOut if !piece.bone_in => Some("has no bone in it"),
        _ => None,
    };
    if let Some(nothing) = nothing {
        return err("work", format!("{} {nothing}.", piece.tag));
    }
    thickness(done.thickness_mm, "thickness")?;
    fat_cover(done.fat_cover_mm)?;
    if done.off.is_empty() && done.reading.is_none() && work != Work::OpenFlat {
        return err(
            "off",
            "Weigh what came off, or the piece afterwards.".into(),
        );
    }
    if work == Work::OpenFlat && done.thickness_mm.is_none() {
        return err(
            "thickness",
            "Measure how thick it lies now, such as 45 mm: its days follow from that.".into(),
        );
    }
    let mut moves = Vec::new();
    let mut left = piece.mass;
    for (i, off) in done.off.iter().enumerate() {
        positive(&off.reading, &format!("off[{i}].reading"))?;
        left -= off.reading.mg;
        moves.push((Account::Byproduct(off.kind), off.reading.mg));
    }
    if !left.is_some() {
        return err(
            "off[0].reading",
            format!(
                "{} weighs {} in all, so that much cannot come off it. Check the digits.",
                piece.tag,
                say(piece.mass, unit)
            ),
        );
    }
    let now = match done.reading {
        Some(reading) => {
            positive(reading, "reading")?;
            no_gain(piece, reading.mg, left, "reading", unit)?;
            reading.mg
        }
        None => left,
    };
    let lost = left - now;
    moves.push((Account::Piece(id), now - piece.mass));
    moves.push((Account::Loss(lost_in_cutting(lost, piece.mass)), lost));
    Ok(tidy(moves))
}

/// A small remainder is drip and saw dust; a large one, or a gain, is unexplained.
fn lost_in_cutting(lost: Milligrams, of: Milligrams) -> Loss {
    if lost >= Milligrams::ZERO && is_explained(lost, of) {
        Loss::Cutting
    } else {
        Loss::Unaccounted
    }
}

pub(super) fn cut(whole: PieceId, parts: &[Part], state: &State, unit: MassUnit) -> Posted {
    let found = alive(state, whole)?;
    if found.stage() == Stage::Hanging {
        return err(
            "piece",
            format!("{} hangs. Take it down before you cut it.", found.tag),
        );
    }
    if !found.packs.is_empty() {
        return err(
            "piece",
            format!(
                "{} is partly packed. Pack the rest of it instead.",
                found.tag
            ),
        );
    }
    if parts.len() < 2 {
        return err("parts", "Weigh at least two parts.".into());
    }
    for (i, part) in parts.iter().enumerate() {
        positive(&part.reading, &format!("parts[{i}].reading"))?;
        thickness(part.thickness_mm, &format!("parts[{i}].thickness"))?;
        if let Some(cut) = &part.cut
            && state
                .lot
                .as_ref()
                .is_none_or(|l| l.species().cut(cut).is_none())
        {
            return err(
                &format!("parts[{i}].cut"),
                "Choose one of the cuts of this animal.".into(),
            );
        }
    }
    let weights: Vec<_> = parts.iter().map(|p| p.reading.mg).collect();
    let sum: Milligrams = weights.iter().copied().sum();
    // Parts come wet out of a cure: what they weigh more is the cure that clings to them.
    let clinging = (sum - found.mass).max(Milligrams::ZERO).min(found.in_cure);
    no_gain(found, sum, found.mass + found.in_cure, "parts", unit)?;
    if found.in_cure == Milligrams::ZERO {
        no_gain(found, sum, found.mass, "parts", unit)?;
    }
    let lost = found.mass + clinging - sum;
    let cure_left = found.in_cure - clinging;
    let mut moves = vec![
        (Account::Piece(whole), -found.mass),
        (Account::InCure(whole), -found.in_cure),
        (Account::Loss(lost_in_cutting(lost, found.mass)), lost),
    ];
    for (part, cure) in parts.iter().zip(cure_left.share_out(&weights)) {
        moves.push((Account::Piece(part.piece), part.reading.mg));
        moves.push((Account::InCure(part.piece), cure));
    }
    Ok(tidy(moves))
}

/// Pieces that become one; a little less than their sum is drip.
pub(super) fn join(joined: &Joined, state: &State, unit: MassUnit) -> Posted {
    if joined.pieces.len() < 2 || (joined.way == JoinWay::Pair && joined.pieces.len() != 2) {
        return err(
            "pieces",
            "Choose two pieces to pair, or two or more to bind.".into(),
        );
    }
    let mut found = Vec::new();
    for (i, id) in joined.pieces.iter().enumerate() {
        if joined.pieces[..i].contains(id) {
            return err("pieces", "A piece cannot be joined to itself.".into());
        }
        found.push(workable(state, *id)?);
    }
    if joined.way == JoinWay::Pair && found[0].cut != found[1].cut {
        return err(
            "pieces",
            format!(
                "{} and {} are different cuts; pair two of the same.",
                found[0].tag, found[1].tag
            ),
        );
    }
    thickness(joined.thickness_mm, "thickness")?;
    let sum: Milligrams = found.iter().map(|p| p.mass).sum();
    let now = match &joined.reading {
        Some(reading) => {
            positive(reading, "reading")?;
            no_gain(found[0], reading.mg, sum, "reading", unit)?;
            reading.mg
        }
        None => sum,
    };
    let lost = sum - now;
    let mut moves: Vec<_> = found
        .iter()
        .map(|p| (Account::Piece(p.id), -p.mass))
        .collect();
    moves.push((Account::Piece(joined.into), now));
    moves.push((Account::Loss(lost_in_cutting(lost, sum)), lost));
    Ok(tidy(moves))
}

/// Meat that becomes one ground block; what does not come out stayed in the machine.
pub(super) fn grind(ground: &Ground, state: &State, unit: MassUnit) -> Posted {
    if ground.sources.is_empty() {
        return err("sources", "Say what goes into the grinder.".into());
    }
    positive(&ground.reading, "reading")?;
    thickness(ground.thickness_mm, "thickness")?;
    if ground
        .fat_fraction
        .is_some_and(|f| !(0.0..1.0).contains(&f))
    {
        return err(
            "fat_fraction",
            "A share of fat lies between 0 and 1, such as 0.28.".into(),
        );
    }
    let mut moves = Vec::new();
    let mut sum = Milligrams::ZERO;
    for (i, source) in ground.sources.iter().enumerate() {
        let field = format!("sources[{i}].reading");
        let (account, mass) = match source {
            GroundFrom::Piece { piece } => {
                let found = workable(state, *piece)?;
                edible(state, found)?;
                if found.bone_in {
                    return err(
                        &format!("sources[{i}]"),
                        format!("{} has its bone in. Bone it out first.", found.tag),
                    );
                }
                if ground.pieces().filter(|p| p == piece).count() > 1 {
                    return err("sources", format!("{} stands twice.", found.tag));
                }
                (Account::Piece(*piece), found.mass)
            }
            GroundFrom::Kept { kind, reading } => {
                positive(reading, &field)?;
                let all: Milligrams = ground
                    .sources
                    .iter()
                    .filter_map(|s| match s {
                        GroundFrom::Kept { kind: k, reading } if k == kind => Some(reading.mg),
                        _ => None,
                    })
                    .sum();
                enough_kept(*kind, all, &field, state, unit)?;
                (Account::Byproduct(*kind), reading.mg)
            }
            GroundFrom::Added { name, reading } => {
                positive(reading, &field)?;
                if name.trim().is_empty() {
                    return err(
                        &format!("sources[{i}].name"),
                        "Name what was added, such as pork back fat.".into(),
                    );
                }
                (Account::Material(name.trim().into()), reading.mg)
            }
        };
        sum += mass;
        moves.push((account, -mass));
    }
    // Meat does not grow in a grinder; a gain is a wet bowl on the scale.
    let lost = sum - ground.reading.mg;
    if (-lost).grams() > (sum.grams() * 0.02).max(10.0) {
        return err(
            "reading",
            format!(
                "{} went in, so {} cannot come out. Check the digits and the tare of the bowl.",
                say(sum, unit),
                say(ground.reading.mg, unit)
            ),
        );
    }
    moves.push((Account::Piece(ground.into), ground.reading.mg));
    let kind = if lost >= Milligrams::ZERO {
        Loss::Machine
    } else {
        Loss::Unaccounted
    };
    moves.push((Account::Loss(kind), lost));
    Ok(tidy(moves))
}
