//! What acts share when they work out what they move: refusals in words, and remainders with names.

use super::state::{Pack, Piece, Stage, State};
use super::{Account, Loss, PackId, PieceId, Posting, word};
use crate::animal;
use crate::animal::byproduct::Byproduct;
use crate::catalogue::steps::Step;
use crate::caution::FieldError;
use crate::units::{
    Grams, LengthUnit, MassUnit, Milligrams, Millimetres, Reading, Typed, Units, show,
};

/// A remainder up to this share is what cutting and packing lose (handled meat dries and drips).
const EXPLAINED_SHARE: f64 = 0.02;

/// A remainder up to this mass is always explained (g).
const EXPLAINED_G: f64 = 20.0;

/// A gain up to this share is two scales disagreeing; more is an error in the entry.
const GAIN_SHARE: f64 = 0.02;

/// A gain up to this mass is two scales disagreeing (g).
const GAIN_G: f64 = 10.0;

/// The postings of an act, or the fields that make it impossible.
pub type Posted = Result<Vec<Posting>, Vec<FieldError>>;

/// No piece is thicker.
const THICKEST: Millimetres = Millimetres(400.0);

/// No fat cover is thicker.
const FATTEST: Millimetres = Millimetres(80.0);

pub(crate) fn thickness(
    thick: Option<Millimetres>,
    field: &str,
    units: Units,
) -> Result<(), Vec<FieldError>> {
    match thick {
        Some(thick) if !(thick.0 > 0.0 && thick <= THICKEST) => {
            let wrong = if thick > THICKEST {
                format!(
                    "{} is thicker than any piece.",
                    show::length(thick, units.length)
                )
            } else {
                "A thickness is above zero.".into()
            };
            let example = match units.length {
                LengthUnit::Mm => "45 mm or 1 3/4 in",
                LengthUnit::Inch => "1 3/4 in or 45 mm",
            };
            err(
                field,
                format!("{wrong} Measure the thickest place and type it with its unit, such as {example}."),
            )
            .map(drop)
        }
        _ => Ok(()),
    }
}

pub(crate) fn fat_cover(
    cover: Option<&Typed<Millimetres>>,
    units: Units,
) -> Result<(), Vec<FieldError>> {
    match cover {
        Some(cover) if cover.value > FATTEST => err(
            "fat_cover",
            format!(
                "No fat cover is that thick. Measure it at a cut face, such as {}.",
                show::length(Millimetres(8.0), units.length)
            ),
        )
        .map(drop),
        _ => Ok(()),
    }
}

pub(crate) fn enough_left(
    reading: &Reading,
    state: &State,
    units: Units,
) -> Result<(), Vec<FieldError>> {
    let lot = state.lot.as_ref().ok_or_else(gone)?;
    if lot.closed.is_some() {
        return Err(vec![FieldError::new(
            "reading",
            format!(
                "The break-down of {} is finished. Undo that first to weigh more out of it.",
                lot.received.tag
            ),
        )]);
    }
    if reading.value > state.left {
        return Err(vec![FieldError::new(
            "reading",
            format!(
                "{} is more than the {} still to weigh. Check the digits and the unit, or correct the received weight of {}.",
                say(reading.value, units),
                say(state.left, units),
                say(state.received, units)
            ),
        )]);
    }
    Ok(())
}

/// How much of a lot's remainder dressing, and then cutting, can explain.
#[must_use]
pub fn explained(state: &State) -> (Milligrams, Milligrams) {
    let Some(lot) = &state.lot else {
        return (Milligrams::ZERO, Milligrams::ZERO);
    };
    let dressing = animal::carcass_share(lot.species(), lot.received.known)
        .map_or(0.0, |share| 1.0 - share.low)
        * state.received.grams();
    let cutting = (state.received.grams() * EXPLAINED_SHARE).max(EXPLAINED_G);
    (
        Milligrams::from_grams(dressing),
        Milligrams::from_grams(cutting),
    )
}

pub(crate) fn enough_kept(
    kind: Byproduct,
    mass: Milligrams,
    field: &str,
    state: &State,
    units: Units,
) -> Result<(), Vec<FieldError>> {
    let kept = state.byproducts.get(&kind).copied().unwrap_or_default();
    if mass > kept {
        return Err(vec![FieldError::new(
            field,
            format!(
                "{} is more than the {} of {} that was kept. Check the digits, or weigh more of it out first.",
                say(mass, units),
                say(kept, units),
                word(&kind)
            ),
        )]);
    }
    Ok(())
}

/// A new weight of the same meat: what is missing went to `loss`.
pub(crate) fn reweigh(
    piece: &Piece,
    reading: &Reading,
    net: Milligrams,
    loss: Loss,
    units: Units,
) -> Posted {
    let field = "reading";
    positive(reading, field, units)?;
    let change = net - piece.mass;
    let loss = if change.is_some() {
        no_gain(piece, net, piece.mass, field, units)?;
        Loss::Unaccounted
    } else {
        loss
    };
    Ok(tidy(vec![
        (Account::Piece(piece.id), change),
        (Account::Loss(loss), -change),
    ]))
}

/// True when it weighs more than before by what no two scales disagree.
pub(crate) fn is_gain(now: Milligrams, before: Milligrams) -> bool {
    (now - before).grams() > (before.grams() * GAIN_SHARE).max(GAIN_G)
}

pub(crate) fn no_gain(
    piece: &Piece,
    now: Milligrams,
    before: Milligrams,
    field: &str,
    units: Units,
) -> Result<(), Vec<FieldError>> {
    if is_gain(now, before) {
        return err(
            field,
            format!(
                "{} weighed {} before and nothing was added since, so it cannot weigh {} now. Check the digits, the unit and the tare.",
                piece.tag,
                say(before, units),
                say(now, units)
            ),
        )
        .map(drop);
    }
    Ok(())
}

/// True when handling explains a remainder.
#[must_use]
pub fn is_explained(lost: Milligrams, of: Milligrams) -> bool {
    lost.grams() <= (of.grams() * EXPLAINED_SHARE).max(EXPLAINED_G)
}

pub(crate) fn transfer(from: Account, to: Account, mass: Milligrams) -> Vec<Posting> {
    tidy(vec![(from, -mass), (to, mass)])
}

/// Drops moves of nothing.
pub(crate) fn tidy(moves: Vec<(Account, Milligrams)>) -> Vec<Posting> {
    moves
        .into_iter()
        .filter(|(_, mass)| *mass != Milligrams::ZERO)
        .map(|(account, mass)| Posting { account, mass })
        .collect()
}

pub(crate) fn positive(
    reading: &Reading,
    field: &str,
    units: Units,
) -> Result<(), Vec<FieldError>> {
    if reading.value.is_some() {
        return Ok(());
    }
    let example = match units.mass {
        MassUnit::Metric => "2010",
        MassUnit::Imperial => "4 lb 7 oz",
    };
    err(
        field,
        format!("Nothing is on the scale. Type a weight above zero, such as {example}."),
    )
    .map(drop)
}

pub(crate) fn find(state: &State, id: PieceId) -> Result<&Piece, Vec<FieldError>> {
    state
        .pieces
        .get(&id)
        .ok_or_else(|| vec![FieldError::new("piece", "This piece was not weighed out.")])
}

pub(crate) fn alive(state: &State, id: PieceId) -> Result<&Piece, Vec<FieldError>> {
    let piece = find(state, id)?;
    let stage = piece.stage();
    if stage.is_over() {
        return Err(vec![FieldError::new(
            "piece",
            format!("{} {}.", piece.tag, stage.label()),
        )]);
    }
    Ok(piece)
}

pub(crate) fn at_stage<'a>(
    state: &'a State,
    id: PieceId,
    stages: &[Stage],
) -> Result<&'a Piece, Vec<FieldError>> {
    let piece = find(state, id)?;
    if stages.contains(&piece.stage()) {
        return Ok(piece);
    }
    Err(not_now(piece))
}

/// Refuses what is done with hands and knife where the piece lies in the freezer.
pub(crate) fn not_frozen(piece: &Piece) -> Result<(), Vec<FieldError>> {
    match piece.to_be_thawed() {
        None => Ok(()),
        Some(first) => Err(vec![FieldError::new("piece", first)]),
    }
}

pub(crate) fn gone() -> Vec<FieldError> {
    vec![FieldError::new(
        "lot",
        "What this came from was not received by then, or that was undone. Look at the date and time.",
    )]
}

/// Every one of these packs is there, and nothing stands against what is done with it.
pub(crate) fn packs_allow<'a>(
    state: &State,
    packs: impl IntoIterator<Item = &'a PackId>,
    against: impl Fn(&Pack) -> Option<String>,
) -> Posted {
    for id in packs {
        let Some(pack) = state.packs.get(id) else {
            return err("packs", "There is no such pack any more.".into());
        };
        if let Some(why) = against(pack) {
            return err("packs", why);
        }
    }
    Ok(Vec::new())
}

pub(crate) fn err(field: &str, message: String) -> Posted {
    Err(vec![FieldError::new(field, message)])
}

pub(crate) fn say(mass: Milligrams, units: Units) -> String {
    show::mass(Grams(mass.grams()), units.mass)
}

/// A piece before its cure, or on its way to the freezer as it is.
pub(crate) fn workable(state: &State, id: PieceId) -> Result<&Piece, Vec<FieldError>> {
    let piece = at_stage(state, id, &[Stage::Assign, Stage::Dose, Stage::Pack])?;
    if piece.cure.is_some() || !piece.packs.is_empty() {
        return Err(vec![FieldError::new(
            "piece",
            format!("{} is cured or packed already.", piece.tag),
        )]);
    }
    Ok(piece)
}

/// A small remainder is drip and saw dust; a large one, or a gain, is unexplained.
pub(crate) fn lost_in_cutting(lost: Milligrams, of: Milligrams) -> Loss {
    if lost >= Milligrams::ZERO && is_explained(lost, of) {
        Loss::Cutting
    } else {
        Loss::Unaccounted
    }
}

/// The open step of a piece that `wanted` means, or why it cannot be done now.
pub(crate) fn at_step(
    state: &State,
    id: PieceId,
    wanted: impl Fn(&Step) -> bool,
) -> Result<(&Piece, &Step), Vec<FieldError>> {
    let piece = find(state, id)?;
    piece
        .open_step(wanted)
        .map(|step| (piece, step))
        .ok_or_else(|| not_now(piece))
}

/// Refuses what cannot be done with a piece where it is.
pub(crate) fn not_now(piece: &Piece) -> Vec<FieldError> {
    vec![FieldError::new(
        "piece",
        format!(
            "{} {}, so this cannot be done with it now.",
            piece.tag,
            piece.stage().label()
        ),
    )]
}
