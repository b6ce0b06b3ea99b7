//! What an act moves: the postings of one entry, worked out from what the scale said.

mod cutting;

use super::state::{Piece, Stage, State};
use super::{Account, Act, Loss, PieceId, PieceWeighed, Posting, Reading, Received};
use crate::animal::hold::{HoldAnswer, HoldKind};
use crate::animal::{self, KnownWeight, Portion, choices};
use crate::builds::{self, Curing};
use crate::caution::FieldError;
use crate::units::show::{self, trim};
use crate::units::{MassUnit, Milligrams};

/// A remainder up to this share is what cutting and packing lose (handled meat dries and drips).
const EXPLAINED_SHARE: f64 = 0.02;
/// A remainder up to this mass is always explained (g).
const EXPLAINED_G: f64 = 20.0;
/// A gain up to this share is two scales disagreeing; more is an error in the entry.
const GAIN_SHARE: f64 = 0.02;
/// A gain up to this mass is two scales disagreeing (g).
const GAIN_G: f64 = 10.0;

type Posted = Result<Vec<Posting>, Vec<FieldError>>;

/// Works out the postings of `act` on a lot as it stands; they always sum to zero.
///
/// `unit` is what a refusal speaks in; it changes no number.
///
/// # Errors
/// Names the field that makes the act impossible and what to type instead.
pub fn post(act: &Act, state: &State, unit: MassUnit) -> Posted {
    let postings = match act {
        Act::Received(received) => receive(received, state),
        Act::PieceWeighed(piece) => weigh_out(piece, state, unit),
        Act::ByproductWeighed {
            piece,
            kind,
            reading,
        } => {
            positive(reading, "reading")?;
            let to = Account::Byproduct(*kind);
            match piece {
                None => {
                    enough_left(reading, state, unit)?;
                    Ok(transfer(Account::Lot, to, reading.mg))
                }
                Some(id) => {
                    let piece = at_stage(state, *id, &[Stage::Assign, Stage::Dose])?;
                    if reading.mg >= piece.mass {
                        return err(
                            "reading",
                            format!(
                                "{} weighs {} in all, so {} cannot come off it. Check the digits.",
                                piece.tag,
                                say(piece.mass, unit),
                                say(reading.mg, unit)
                            ),
                        );
                    }
                    Ok(transfer(Account::Piece(*id), to, reading.mg))
                }
            }
        }
        Act::ByproductGiven {
            kind, reading, to, ..
        } => {
            positive(reading, "reading")?;
            enough_kept(*kind, reading.mg, "reading", state, unit)?;
            Ok(transfer(
                Account::Byproduct(*kind),
                Account::Given(*to),
                reading.mg,
            ))
        }
        Act::BreakdownClosed => close(state),
        Act::CuttingChosen { choice, option } => choose(choice, option, state),
        Act::FreezerRead {
            piece,
            inside_c,
            thickness_mm,
        } => {
            state.lot.as_ref().ok_or_else(gone)?;
            if let Some(id) = piece {
                alive(state, *id)?;
            }
            if !(-80.0..=40.0).contains(inside_c) {
                return err(
                    "inside",
                    "No freezer is that warm or cold. Type degrees such as -18 C or 0 F.".into(),
                );
            }
            thickness(*thickness_mm, "thickness")?;
            Ok(Vec::new())
        }
        Act::HoldAnswered { kind, answer, .. } => answer_hold(*kind, *answer, state),
        Act::Worked {
            piece,
            work,
            off,
            reading,
            thickness_mm,
            fat_cover_mm,
        } => cutting::work(
            *piece,
            *work,
            &cutting::Done {
                off,
                reading: reading.as_ref(),
                thickness_mm: *thickness_mm,
                fat_cover_mm: *fat_cover_mm,
            },
            state,
            unit,
        ),
        Act::Joined(joined) => cutting::join(joined, state, unit),
        Act::Ground(ground) => cutting::grind(ground, state, unit),
        Act::Assigned { piece, build, .. } => assign(*piece, build, state),
        Act::Dosed { piece, dose } => {
            let found = at_stage(state, *piece, &[Stage::Dose])?;
            edible(state, found)?;
            if found.build().is_some_and(|b| b.method == Curing::None) {
                return err("piece", format!("{} is not to be cured.", found.tag));
            }
            let mut postings = Vec::new();
            for line in &dose.lines {
                postings.extend(transfer(
                    Account::Material(line.name.clone()),
                    Account::InCure(*piece),
                    line.mg,
                ));
            }
            Ok(postings)
        }
        Act::Turned { piece } => {
            at_stage(state, *piece, &[Stage::InCure])?;
            Ok(Vec::new())
        }
        Act::Noted { piece, text } => {
            find(state, *piece)?;
            if text.trim().is_empty() {
                return err("text", "Type what you saw or did.".into());
            }
            Ok(Vec::new())
        }
        Act::OutOfCure { piece, reading } => out_of_cure(*piece, reading, state, unit),
        Act::Smoked {
            piece,
            reading,
            inside_c,
        } => {
            let found = at_stage(state, *piece, &[Stage::Smoke])?;
            if inside_c.is_some_and(|c| !(0.0..=130.0).contains(&c)) {
                return err(
                    "inside",
                    "No meat is that warm inside. Type degrees such as 62.8 C or 145 F.".into(),
                );
            }
            reweigh(found, reading, reading.mg, Loss::Smoke, unit)
        }
        Act::Hung {
            piece,
            reading,
            tare,
            loss_fraction,
        } => {
            let found = at_stage(state, *piece, &[Stage::Hang])?;
            if tare.mg >= reading.mg || tare.mg < Milligrams::ZERO {
                return err(
                    "tare",
                    "Cloth, net and clips cannot weigh as much as the whole piece. Weigh them alone and type that.".into(),
                );
            }
            if !(*loss_fraction > 0.0 && *loss_fraction < 1.0) {
                return err(
                    "loss_fraction",
                    "Give the share to lose between 0 and 1, such as 0.35 for 35 %.".into(),
                );
            }
            reweigh(
                found,
                reading,
                reading.mg - tare.mg,
                Loss::Evaporation,
                unit,
            )
        }
        Act::WeighedIn { piece, reading } | Act::TakenDown { piece, reading } => {
            let found = at_stage(state, *piece, &[Stage::Hanging])?;
            let tare = found.hanging.as_ref().map_or(Milligrams::ZERO, |h| h.tare);
            if reading.mg <= tare {
                return err(
                    "reading",
                    format!(
                        "Cloth and net alone weigh {}. Type what the scale shows with the piece on it.",
                        say(tare, unit)
                    ),
                );
            }
            reweigh(found, reading, reading.mg - tare, Loss::Evaporation, unit)
        }
        Act::Cut { piece, parts, .. } => cutting::cut(*piece, parts, state, unit),
        Act::Packed {
            piece,
            packs,
            ends,
            finished,
        } => pack(*piece, packs, ends.as_ref(), *finished, state, unit),
        Act::Discarded { piece, reason } => {
            let found = alive(state, *piece)?;
            if reason.trim().is_empty() {
                return err(
                    "reason",
                    "Type why it is thrown away, such as off smell.".into(),
                );
            }
            let mut postings = transfer(
                Account::Piece(*piece),
                Account::Loss(Loss::Waste),
                found.mass,
            );
            postings.extend(transfer(
                Account::InCure(*piece),
                Account::Loss(Loss::Waste),
                found.in_cure,
            ));
            Ok(postings)
        }
        Act::Undone => Ok(Vec::new()),
    }?;
    debug_assert!(super::balances(&postings), "{act:?}");
    Ok(postings)
}

fn receive(received: &Received, state: &State) -> Posted {
    positive(&received.reading, "reading")?;
    if state.lot.is_some() {
        return err("tag", format!("{} is here already.", received.tag));
    }
    let Some(species) = animal::species(&received.species) else {
        return err("species", "Choose a species from the list.".into());
    };
    if received.name.trim().is_empty() {
        return err(
            "name",
            "Give it a name you will know it by, such as half hog.".into(),
        );
    }
    match (&received.cut, received.known) {
        (None, KnownWeight::BoughtCut) => {
            return err("cut", "Say which cut was bought.".into());
        }
        (Some(cut), _) if species.cut(cut).is_none() => {
            return err(
                "cut",
                format!("Choose one of the cuts of {}.", species.name),
            );
        }
        _ => {}
    }
    let is_bought_cut = received.known == KnownWeight::BoughtCut;
    if is_bought_cut != received.portion.of_animal().is_none() {
        return err(
            "portion",
            if is_bought_cut {
                "A bought cut is one large cut or a case of equal ones.".into()
            } else {
                "Say which share of the animal it is: whole, half or quarter.".into()
            },
        );
    }
    if (received.portion == Portion::Case) != received.count.is_some_and(|n| n >= 1) {
        return err(
            "count",
            "Say how many cuts the case holds, such as 6; leave it empty for anything else.".into(),
        );
    }
    if let Some(stock) = received.frozen
        && stock.thaw_by.is_some_and(|by| by < stock.frozen_on)
    {
        return err(
            "thaw_by",
            "The day to thaw it by lies before the day it was frozen.".into(),
        );
    }
    if received.shipping_cents.is_some_and(|c| c < 0) {
        return err("shipping", "A cost is zero or more, such as 24.00.".into());
    }
    if received.known == KnownWeight::FieldDressed && species.carcass_of_field_dressed.is_none() {
        return err(
            "known",
            format!(
                "{} is not dressed in the field. Give its live or carcass weight.",
                species.name
            ),
        );
    }
    if received.cost_cents.is_some_and(|c| c < 0) {
        return err("cost", "A cost is zero or more, such as 184.50.".into());
    }
    Ok(transfer(
        Account::Outside,
        Account::Lot,
        received.reading.mg,
    ))
}

fn weigh_out(new: &PieceWeighed, state: &State, unit: MassUnit) -> Posted {
    positive(&new.reading, "reading")?;
    let lot = state.lot.as_ref().ok_or_else(gone)?;
    if lot.species().cut(&new.cut).is_none() {
        return err(
            "cut",
            format!("Choose one of the cuts of {}.", lot.species().name),
        );
    }
    thickness(new.thickness_mm, "thickness")?;
    fat_cover(new.fat_cover_mm)?;
    enough_left(&new.reading, state, unit)?;
    Ok(transfer(
        Account::Lot,
        Account::Piece(new.piece),
        new.reading.mg,
    ))
}

fn thickness(mm: Option<f64>, field: &str) -> Result<(), Vec<FieldError>> {
    match mm {
        Some(mm) if !(mm > 0.0 && mm <= 400.0) => {
            let tenth = if mm > 400.0 {
                format!("{} mm is thicker than any piece.", trim(mm, 0))
            } else {
                "A thickness is above zero.".into()
            };
            err(
                field,
                format!("{tenth} Measure the thickest place and type it with its unit, such as 45 mm or 1 3/4 in."),
            )
            .map(drop)
        }
        _ => Ok(()),
    }
}

fn fat_cover(mm: Option<f64>) -> Result<(), Vec<FieldError>> {
    match mm {
        Some(mm) if !(0.0..=80.0).contains(&mm) => err(
            "fat_cover",
            "No fat cover is that thick. Measure it at a cut face, such as 8 mm.".into(),
        )
        .map(drop),
        _ => Ok(()),
    }
}

fn enough_left(reading: &Reading, state: &State, unit: MassUnit) -> Result<(), Vec<FieldError>> {
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
    if reading.mg > state.left {
        return Err(vec![FieldError::new(
            "reading",
            format!(
                "{} is more than the {} still to weigh. Check the digits and the unit, or correct the received weight of {}.",
                say(reading.mg, unit),
                say(state.left, unit),
                say(state.received, unit)
            ),
        )]);
    }
    Ok(())
}

/// Shares the remainder between what dressing and cutting explain and what nothing explains.
fn close(state: &State) -> Posted {
    let lot = state.lot.as_ref().ok_or_else(gone)?;
    if lot.closed.is_some() {
        return err(
            "lot",
            format!(
                "The break-down of {} is finished already.",
                lot.received.tag
            ),
        );
    }
    let (dressing, cutting) = explained(state);
    let mut rest = state.left;
    let mut postings = Vec::new();
    for (loss, at_most) in [(Loss::Dressing, dressing), (Loss::Cutting, cutting)] {
        let part = rest.min(at_most);
        postings.extend(transfer(Account::Lot, Account::Loss(loss), part));
        rest -= part;
    }
    // A remainder past what cutting explains is unexplained as a whole beyond the dressing.
    if rest.is_some() {
        postings.extend(transfer(
            Account::Lot,
            Account::Loss(Loss::Unaccounted),
            rest,
        ));
    }
    Ok(postings)
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

fn assign(piece: PieceId, build: &str, state: &State) -> Posted {
    let found = at_stage(state, piece, &[Stage::Assign, Stage::Dose, Stage::Pack])?;
    if found.cure.is_some() {
        return err(
            "piece",
            format!("{} is dosed already and keeps its product.", found.tag),
        );
    }
    if !found.packs.is_empty() {
        return err(
            "piece",
            format!("{} is partly packed and keeps its product.", found.tag),
        );
    }
    let Some(build) = builds::build(build) else {
        return err("build", "Choose a product from the list.".into());
    };
    if !build.discard {
        edible(state, found)?;
    }
    if found.cut == animal::MIX && !build.is_ground() && !build.ending {
        return err(
            "build",
            format!(
                "{} is ground: only a product made of ground meat can become of it.",
                found.tag
            ),
        );
    }
    Ok(Vec::new())
}

/// Refuses whatever makes food of an animal that tested positive.
fn edible(state: &State, piece: &Piece) -> Result<(), Vec<FieldError>> {
    let condemned = state
        .facts
        .answers
        .get(&HoldKind::WastingTest)
        .is_some_and(|a| a.answer == HoldAnswer::Positive);
    if condemned {
        return Err(vec![FieldError::new(
            "piece",
            format!(
                "{} comes from an animal that tested positive for chronic wasting disease: nobody eats it. Throw it away as your wildlife agency says.",
                piece.tag
            ),
        )]);
    }
    Ok(())
}

fn choose(choice: &str, option: &str, state: &State) -> Posted {
    let lot = state.lot.as_ref().ok_or_else(gone)?;
    let Some(found) = choices::of(lot.species()).find(|c| c.key == choice) else {
        return err(
            "choice",
            format!(
                "Nothing of that name is to be settled for {}.",
                lot.species().name
            ),
        );
    };
    if !found.options.iter().any(|o| o.key == option) {
        let names: Vec<_> = found.options.iter().map(|o| o.name.as_str()).collect();
        return err("option", format!("Choose one of: {}.", names.join("; ")));
    }
    Ok(Vec::new())
}

fn answer_hold(kind: HoldKind, answer: HoldAnswer, state: &State) -> Posted {
    let lot = state.lot.as_ref().ok_or_else(gone)?;
    if !lot.holds().any(|h| h.kind == kind) {
        return err("kind", format!("{} has no such hold.", lot.received.tag));
    }
    if !kind.answers().contains(&answer) {
        return err("answer", "Choose one of the answers it offers.".into());
    }
    Ok(Vec::new())
}

fn enough_kept(
    kind: super::Byproduct,
    mass: Milligrams,
    field: &str,
    state: &State,
    unit: MassUnit,
) -> Result<(), Vec<FieldError>> {
    let kept = state.byproducts.get(&kind).copied().unwrap_or_default();
    if mass > kept {
        return Err(vec![FieldError::new(
            field,
            format!(
                "{} is more than the {} of {} that was kept. Check the digits, or weigh more of it out first.",
                say(mass, unit),
                say(kept, unit),
                super::word(&kind)
            ),
        )]);
    }
    Ok(())
}

fn out_of_cure(piece: PieceId, reading: &Reading, state: &State, unit: MassUnit) -> Posted {
    let found = at_stage(state, piece, &[Stage::InCure])?;
    positive(reading, "reading")?;
    let all = found.mass + found.in_cure;
    if reading.mg > all {
        return err(
            "reading",
            format!(
                "{} is more than {} and everything put with it weighed ({}). Check the digits and the unit.",
                say(reading.mg, unit),
                found.tag,
                say(all, unit)
            ),
        );
    }
    let brined = found
        .cure
        .as_ref()
        .is_some_and(|c| c.dose.method == Curing::EquilibriumBrine);
    let loss = if brined { Loss::SpentBrine } else { Loss::Drip };
    let change = reading.mg - found.mass;
    Ok(tidy(vec![
        (Account::Piece(piece), change),
        (Account::InCure(piece), -found.in_cure),
        (Account::Loss(loss), found.in_cure - change),
    ]))
}

/// A new weight of the same meat: what is missing went to `loss`.
fn reweigh(
    piece: &Piece,
    reading: &Reading,
    net: Milligrams,
    loss: Loss,
    unit: MassUnit,
) -> Posted {
    let field = "reading";
    positive(reading, field)?;
    let change = net - piece.mass;
    let loss = if change.is_some() {
        no_gain(piece, net, piece.mass, field, unit)?;
        Loss::Unaccounted
    } else {
        loss
    };
    Ok(tidy(vec![
        (Account::Piece(piece.id), change),
        (Account::Loss(loss), -change),
    ]))
}

fn no_gain(
    piece: &Piece,
    now: Milligrams,
    before: Milligrams,
    field: &str,
    unit: MassUnit,
) -> Result<(), Vec<FieldError>> {
    let allowed = (before.grams() * GAIN_SHARE).max(GAIN_G);
    if (now - before).grams() > allowed {
        return err(
            field,
            format!(
                "{} weighed {} before and nothing was added since, so it cannot weigh {} now. Check the digits, the unit and the tare.",
                piece.tag,
                say(before, unit),
                say(now, unit)
            ),
        )
        .map(drop);
    }
    Ok(())
}

fn pack(
    piece: PieceId,
    packs: &[super::NewPack],
    ends: Option<&Reading>,
    finished: bool,
    state: &State,
    unit: MassUnit,
) -> Posted {
    let found = at_stage(state, piece, &[Stage::Pack])?;
    edible(state, found)?;
    if packs.is_empty() && ends.is_none() {
        return err("packs", "Weigh at least one pack.".into());
    }
    for (i, pack) in packs.iter().enumerate() {
        positive(&pack.reading, &format!("packs[{i}].reading"))?;
        if pack.slices == Some(0) {
            return err(
                &format!("packs[{i}].slices"),
                "Give one slice or more, or leave it empty.".into(),
            );
        }
    }
    if let Some(ends) = ends {
        positive(ends, "ends")?;
    }
    let ends = ends.map_or(Milligrams::ZERO, |r| r.mg);
    let sum: Milligrams = packs.iter().map(|p| p.reading.mg).sum::<Milligrams>() + ends;
    if sum > found.mass {
        no_gain(found, sum, found.mass, "packs", unit)?;
    }
    let left = found.mass - sum;
    // With more on the scale than in the books there is nothing left to pack.
    let over = left < Milligrams::ZERO;
    let lost = if finished || over {
        left
    } else {
        Milligrams::ZERO
    };
    let kind = if !over && is_explained(lost, found.mass) {
        Loss::Slicing
    } else {
        Loss::Unaccounted
    };
    let mut moves = vec![
        (Account::Piece(piece), -(sum + lost)),
        (Account::Byproduct(super::Byproduct::Ends), ends),
        (Account::Loss(kind), lost),
    ];
    moves.extend(packs.iter().map(|p| (Account::Pack(p.pack), p.reading.mg)));
    Ok(tidy(moves))
}

/// True when handling explains a remainder.
#[must_use]
pub fn is_explained(lost: Milligrams, of: Milligrams) -> bool {
    lost.grams() <= (of.grams() * EXPLAINED_SHARE).max(EXPLAINED_G)
}

fn transfer(from: Account, to: Account, mass: Milligrams) -> Vec<Posting> {
    tidy(vec![(from, -mass), (to, mass)])
}

/// Drops moves of nothing.
fn tidy(moves: Vec<(Account, Milligrams)>) -> Vec<Posting> {
    moves
        .into_iter()
        .filter(|(_, mass)| *mass != Milligrams::ZERO)
        .map(|(account, mass)| Posting { account, mass })
        .collect()
}

fn positive(reading: &Reading, field: &str) -> Result<(), Vec<FieldError>> {
    if reading.mg.is_some() {
        Ok(())
    } else {
        err(
            field,
            "Nothing is on the scale. Type a weight above zero, such as 2010.".into(),
        )
        .map(drop)
    }
}

fn find(state: &State, id: PieceId) -> Result<&Piece, Vec<FieldError>> {
    state
        .pieces
        .get(&id)
        .ok_or_else(|| vec![FieldError::new("piece", "This piece was not weighed out.")])
}

fn alive(state: &State, id: PieceId) -> Result<&Piece, Vec<FieldError>> {
    let piece = find(state, id)?;
    match piece.stage() {
        stage if stage.is_over() => Err(vec![FieldError::new(
            "piece",
            format!("{} {}.", piece.tag, said(stage)),
        )]),
        _ => Ok(piece),
    }
}

fn at_stage<'a>(
    state: &'a State,
    id: PieceId,
    stages: &[Stage],
) -> Result<&'a Piece, Vec<FieldError>> {
    let piece = find(state, id)?;
    if stages.contains(&piece.stage()) {
        return Ok(piece);
    }
    Err(vec![FieldError::new(
        "piece",
        format!(
            "{} {}, so this cannot be done with it now.",
            piece.tag,
            said(piece.stage())
        ),
    )])
}

fn said(stage: Stage) -> &'static str {
    match stage {
        Stage::Assign => "has no product yet",
        Stage::Dose => "waits for its dose",
        Stage::InCure => "lies in its cure",
        Stage::Smoke => "waits for the smoker",
        Stage::Hang => "waits for its hook",
        Stage::Hanging => "hangs",
        Stage::Pack => "waits to be packed",
        Stage::Packed => "is packed",
        Stage::CutUp => "was cut into parts",
        Stage::Joined => "went into another piece",
        Stage::Discarded => "was thrown away",
    }
}

fn gone() -> Vec<FieldError> {
    vec![FieldError::new(
        "lot",
        "What this came from was never received, or that was undone.",
    )]
}

fn err(field: &str, message: String) -> Posted {
    Err(vec![FieldError::new(field, message)])
}

fn say(mass: Milligrams, unit: MassUnit) -> String {
    show::mass(mass.grams(), unit)
}
