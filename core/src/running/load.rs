//! What goes in together, in which order, and whether the lid shuts.

use crate::catalogue::steps::StepKind;
use crate::caution::{Code, Finding, Severity};
use crate::heat::heating::minutes_to;
use crate::house::House;
use crate::ids::PieceId;
use crate::piece::Piece;
use crate::place::{Fuel, Place};
use crate::run::{RunStage, RunStageKind};
use crate::units::show::length;
use crate::units::{Celsius, Millimetres};

/// A wet surface takes smoke badly: nobody said that it is dry, and no stage dries it.
#[must_use]
pub fn wet(piece: &Piece, stages: &[RunStage]) -> Option<Finding> {
    let dries = |s: &RunStage| s.kind == RunStageKind::Dry;
    let first_smoke = stages.iter().position(|s| s.smoke)?;
    if stages[..first_smoke].iter().any(dries) {
        return None;
    }
    let waits = piece
        .open_steps()
        .take_while(|s| !s.kind.is_heat())
        .any(|s| s.kind == StepKind::DrySurface);
    let tacky = piece.checks.iter().rev().find(|c| c.check == "tacky");
    let wet = tacky.is_some_and(|c| c.grade.as_deref() == Some("not_yet"));
    (waits || wet).then(|| {
        Finding::new(
            Code::WetSurface,
            Severity::Caution,
            format!("Nobody said that the surface of {} is dry: wet meat takes smoke badly, grey and bitter.", piece.tag),
        )
        .saw(if wet { "still wet" } else { "not looked at" })
        .wants("tacky to the touch")
        .remedy("Touch it and write that down, or begin with a stage that dries it: 50 to 60 °C for an hour, no smoke.")
    })
}

/// Whether pieces fit under the lid, and on the racks, as far as their sides are known.
#[must_use]
pub fn lid(place: &Place, pieces: &[&Piece], home: &House) -> Option<Finding> {
    let headroom = Millimetres(place.height_mm?);
    let thick = pieces
        .iter()
        .filter_map(|p| Some((p.thickness_now()?, &p.tag)));
    let (most, tag) = thick.max_by(|a, b| a.0.0.total_cmp(&b.0.0))?;
    let said = |l: Millimetres| length(l, home.settings.units.length);
    (most.0 > headroom.0).then(|| {
        Finding::new(
            Code::LidOpen,
            Severity::Caution,
            format!(
                "The lid of {} does not shut over {tag}: it never gets hot.",
                place.name
            ),
        )
        .saw(format!("{} thick", said(most)))
        .wants(format!("at most {} over the rack", said(headroom)))
        .remedy("Take a rack out, lay it flat, or cover the gap with foil and weigh the lid down.")
    })
}

/// What is said of a place that burns something.
#[must_use]
pub fn outdoors(place: &Place) -> Option<Finding> {
    let burns = match place.fuel? {
        Fuel::Charcoal => "Charcoal",
        Fuel::Wood => "A wood fire",
        Fuel::Gas => "Gas",
        Fuel::Pellets => "A pellet fire",
        Fuel::Electric => return None,
    };
    Some(
        Finding::new(
            Code::OutdoorsOnly,
            Severity::Info,
            format!("{burns} gives off carbon monoxide, which nobody smells."),
        )
        .wants("outdoors, away from windows and doors")
        .remedy("Never in a garage, a porch that shuts, or a tent; not while it goes out either."),
    )
}

/// A piece as it is planned for.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Planned {
    /// The piece.
    pub piece: PieceId,
    /// Its weight (g).
    pub grams: f64,
    /// How thick it lies, where that is known.
    pub thickness: Option<Millimetres>,
    /// The inside to come to.
    pub mark: Celsius,
}

/// How long each takes in the hottest stage, roughly, by its thickness alone, from the fridge; the shortest comes off first.
#[must_use]
pub fn order(pieces: &[Planned], stages: &[RunStage]) -> Vec<(PieceId, Option<f64>)> {
    let mut all: Vec<(PieceId, Option<f64>)> = pieces
        .iter()
        .map(|p| {
            (
                p.piece,
                p.thickness.and_then(|t| minutes_through(p.mark, t, stages)),
            )
        })
        .collect();
    // What cannot be told comes last.
    all.sort_by(|a, b| {
        let of = |m: Option<f64>| m.unwrap_or(f64::INFINITY);
        of(a.1).total_cmp(&of(b.1)).then(a.0.cmp(&b.0))
    });
    all
}

/// From the fridge (°C).
const FRIDGE: Celsius = Celsius(4.0);

/// Through the stages one after the other (min), from the fridge; the last goes on for as long as it takes.
pub(crate) fn minutes_through(
    mark: Celsius,
    thickness: Millimetres,
    stages: &[RunStage],
) -> Option<f64> {
    let in_water = stages
        .iter()
        .any(|s| matches!(s.kind, RunStageKind::Boil | RunStageKind::Steam));
    let warm = |s: &&RunStage| {
        s.set_c.is_some() && !matches!(s.kind, RunStageKind::Rest | RunStageKind::ColdSmoke)
    };
    let warm: Vec<&RunStage> = stages.iter().filter(warm).collect();
    let k = crate::heat::heating::k_per_minute(thickness, in_water);
    let (mut inside, mut spent) = (FRIDGE.0, 0.0);
    for (i, stage) in warm.iter().enumerate() {
        let set = Celsius(stage.set_c?);
        let hours = match stage.ends {
            crate::run::StageEnd::Hours(h) if i + 1 < warm.len() => Some(h),
            crate::run::StageEnd::Hours(_)
            | crate::run::StageEnd::Inside(_)
            | crate::run::StageEnd::Marks => None,
        };
        let to = minutes_to(mark, Celsius(inside), set, thickness, in_water);
        match (hours, to) {
            (Some(h), Some(m)) if m <= h * 60.0 => return Some(spent + m),
            (Some(h), _) => {
                inside = set.0 - (set.0 - inside) * (-k * h * 60.0).exp();
                spent += h * 60.0;
            }
            (None, Some(m)) => return Some(spent + m),
            (None, None) => {}
        }
    }
    None
}

/// Pieces shared out over loads that the smoker takes: the thick ones first, each load filled as far as it goes.
#[must_use]
pub fn loads(pieces: &[Planned], room_g: Option<f64>) -> Vec<Vec<PieceId>> {
    let mut left: Vec<&Planned> = pieces.iter().collect();
    left.sort_by(|a, b| {
        let thick = |p: &Planned| p.thickness.map_or(0.0, Millimetres::get);
        thick(b).total_cmp(&thick(a)).then(a.piece.cmp(&b.piece))
    });
    let Some(room) = room_g.filter(|r| *r > 0.0) else {
        return vec![left.iter().map(|p| p.piece).collect()];
    };
    let mut loads: Vec<(f64, Vec<PieceId>)> = Vec::new();
    for p in left {
        match loads
            .iter_mut()
            .find(|(used, _)| *used + p.grams <= room + 1e-6)
        {
            Some((used, load)) => {
                *used += p.grams;
                load.push(p.piece);
            }
            None => loads.push((p.grams, vec![p.piece])),
        }
    }
    loads.into_iter().map(|(_, load)| load).collect()
}
