//! A run in words: its lines, its stages and its fires.

use crate::house::House;
use crate::ids::PieceId;
use crate::ledger::book::Book;
use crate::run::{Bath, Event, Fire, ProbeLocation, Run, RunAct, RunStage, StageEnd};
use crate::units::show::{mass, temperature, trim};
use crate::units::{Celsius, Grams};

/// The tag of a piece that lies in a run.
#[must_use]
pub fn tag(book: &Book, id: PieceId) -> String {
    book.piece(id)
        .map_or_else(|| format!("piece {}", id.0), |(_, p)| p.tag.clone())
}

/// By what a stage ends: `after 2 h`, `at 60 °C inside`.
#[must_use]
pub fn ends(stage: &RunStage, home: &House) -> String {
    match stage.ends {
        StageEnd::Hours(h) if h < 1.0 => format!("after {} min", trim(h * 60.0, 0)),
        StageEnd::Hours(h) => format!("after {} h", trim(h, 2)),
        StageEnd::Inside(c) => format!(
            "at {} inside",
            temperature(Celsius(c), home.settings.units.heat)
        ),
        StageEnd::Marks => "when each is at its mark".into(),
    }
}

/// A fire: its kind, wood and weight.
#[must_use]
pub fn fire(of: &Fire, home: &House) -> String {
    fire_said(of.kind.label(), &of.wood, of.grams, home)
}

fn fire_said(kind: &str, wood: &str, grams: Option<f64>, home: &House) -> String {
    let of = if wood.is_empty() {
        kind.to_string()
    } else {
        format!("{kind}, {wood}")
    };
    match grams {
        Some(g) => format!("{of}, {}", mass(Grams(g), home.settings.units.mass)),
        None => of,
    }
}

/// A line in words.
#[must_use]
pub fn line(event: &Event, run: &Run, book: &Book, home: &House) -> String {
    let heat = |c: f64| temperature(Celsius(c), home.settings.units.heat);
    let tag = |id: &PieceId| tag(book, *id);
    match &event.act {
        RunAct::SetUp { name, stages, .. } => {
            format!("{name} set up: {}", stages_said(stages, home))
        }
        RunAct::Loaded { piece, zone, shelf } => {
            let shelf = shelf.map(|n| format!(", shelf {n}")).unwrap_or_default();
            format!("{} lies in {zone}{shelf}", tag(piece))
        }
        RunAct::TakenOut { piece } => format!("{} taken out, not weighed", tag(piece)),
        RunAct::Staged { stages } => format!("stages now: {}", stages_said(stages, home)),
        RunAct::StageBegun { stage } => match run.stages.get(*stage) {
            Some(s) => format!("“{}” began", s.name),
            None => format!("stage {} began", stage + 1),
        },
        RunAct::Paused => "paused".into(),
        RunAct::Resumed => "goes on".into(),
        RunAct::ProbeSet { probe, seat } => match seat {
            ProbeLocation::Piece(id) => format!("probe {probe} set into {}", tag(id)),
            ProbeLocation::Chamber(zone) => format!("probe {probe} hangs in the air of {zone}"),
            ProbeLocation::Out => format!("probe {probe} taken out"),
        },
        RunAct::ProbeChecked {
            probe,
            bath,
            read,
            offset_c,
        } => {
            let bath = match bath {
                Bath::Ice => "ice",
                Bath::Boiling => "boiling water",
            };
            let way = if *offset_c < 0.0 { "−" } else { "+" };
            format!(
                "probe {probe} checked in {bath}: said {}, {way}{} °C from now on",
                heat(read.value.0),
                trim(offset_c.abs(), 2)
            )
        }
        RunAct::SpotChecked { piece, read } => {
            let all: Vec<String> = read.iter().map(|c| heat(c.value.0)).collect();
            format!("{} checked: {}", tag(piece), all.join(", "))
        }
        RunAct::ChamberRead { zone, temperature } => {
            format!("{zone} read: {}", heat(temperature.value.0))
        }
        RunAct::Lit {
            kind, wood, grams, ..
        } => format!("lit: {}", fire_said(kind.label(), wood, *grams, home)),
        RunAct::BurntOut { fire } => {
            let found = run.fires.iter().find(|f| f.no == *fire);
            let of = found.map(|f| fire_said(f.kind.label(), &f.wood, None, home));
            format!("burnt out: {}", of.unwrap_or_default())
        }
        RunAct::Seen { what, note } if note.is_empty() => what.label().into(),
        RunAct::Seen { what, note } => format!("{}: {note}", what.label()),
        RunAct::Answered { .. } => "an alarm was answered".into(),
        RunAct::Struck { event } => {
            let found = run.events.iter().find(|e| e.no == *event);
            let was = found.map(|e| line(e, run, book, home));
            format!("struck out: {}", was.unwrap_or_default())
        }
        RunAct::Ended => "over".into(),
    }
}

fn stages_said(stages: &[RunStage], home: &House) -> String {
    let one = |s: &RunStage| {
        let set = s
            .set_c
            .map(|c| format!(" at {}", temperature(Celsius(c), home.settings.units.heat)));
        format!("{}{}", s.name, set.unwrap_or_default())
    };
    let all: Vec<String> = stages.iter().map(one).collect();
    all.join(", ")
}
