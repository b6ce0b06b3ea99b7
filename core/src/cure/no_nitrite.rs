//! Meat without nitrite: what is a hazard for it, at every door.
//!
//! Cold, open, short and then cooked right through it is fine. Hung, smoked or warmed slowly, sealed, or cured for longer than a
//! week, nothing holds botulism back. A typed reason lifts the block once, for everything its dose was planned for.

use crate::catalogue::builds::Build;
use crate::catalogue::steps::StepKind;
use crate::caution::{Code, Finding, Severity};
use crate::piece::Piece;
use crate::piece::storage::Storage;
use crate::reason;
use crate::run::{RunStage, RunStageKind};
use crate::units::Celsius;
use crate::units::show;

/// So many days in its cure are the most without nitrite.
pub const MOST_DAYS: u32 = 7;

/// A chamber under this warms slowly (°C).
pub const SLOW_UNDER: Celsius = Celsius(80.0);

/// Meat that rests colder than this does not warm at all (°C).
const COLD: Celsius = Celsius(10.0);

/// What is done with it that is a hazard without nitrite.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Door {
    /// It is to hang.
    Hang,
    /// It is smoked, or warmed in a chamber under 80 °C.
    Slow,
    /// It is without air, and not frozen.
    Sealed,
    /// It cures for longer than a week.
    Long,
}

impl Door {
    const fn label(self) -> &'static str {
        match self {
            Self::Hang => "hung",
            Self::Slow => "smoked or warmed slowly",
            Self::Sealed => "sealed",
            Self::Long => "cured past day 7",
        }
    }

    const fn wants(self) -> &'static str {
        match self {
            Self::Hang => "a measured dose of cure #2 for what hangs for weeks",
            Self::Slow => "a chamber of 80 °C or more from the start, and 60 °C inside in the end",
            Self::Sealed => "loosely wrapped in the fridge for 7 days, or frozen",
            Self::Long => "at most 7 days, cold and loosely covered",
        }
    }

    const fn remedy(self) -> &'static str {
        match self {
            Self::Hang => "Dose it with cure #2, or make something that is cooked right through.",
            Self::Slow => "Dose it with cure #1, or cook it in the oven at 80 °C or more.",
            Self::Sealed => "Use an open dish with a loose cover, or freeze it.",
            Self::Long => "Take it out by day 7 and cook it through, or dose it with cure.",
        }
    }
}

/// The block at a door.
#[must_use]
pub fn hazard(what: &str, door: Door, saw: impl Into<String>) -> Finding {
    Finding::new(
        Code::NoNitriteHazard,
        Severity::Stop,
        format!(
            "{what} without nitrite, {}: nothing holds botulism back.",
            door.label()
        ),
    )
    .saw(saw)
    .wants(door.wants())
    .remedy(door.remedy())
}

/// What a dose without nitrite leads to: by the steps of its product, its days and the container
/// that keeps the air out, if it lies in one. A product that is made without
/// nitrite is hot from the start, and is asked about only where it is put differently.
#[must_use]
pub fn planned(build: &Build, days: Option<u32>, airless: Option<&str>) -> Option<Finding> {
    let plain = build.dose.as_ref().is_some_and(|d| d.cure == "none");
    let has = |kind| build.step(kind).is_some();
    let door = if has(StepKind::Hang) || build.is_dried() {
        Some((Door::Hang, build.name.clone()))
    } else if has(StepKind::ColdSmoke) || (has(StepKind::Smoke) && !plain) {
        Some((Door::Slow, build.name.clone()))
    } else if let Some(days) = days.filter(|d| *d > MOST_DAYS) {
        Some((Door::Long, show::days(f64::from(days))))
    } else {
        airless.map(|name| (Door::Sealed, name.to_string()))
    };
    door.map(|(door, saw)| hazard("Cured", door, saw))
}

/// True for a container that keeps air out.
#[must_use]
pub fn is_sealed(container: &str) -> bool {
    let said = container.to_lowercase();
    let zipped = ["zip", "ziplock", "zipper"]
        .iter()
        .any(|w| said.contains(w));
    Storage::of(container).sealed || zipped
}

/// True for a stage that is a hazard without nitrite, whatever it is called: smoke, or a chamber under 80 °C that is not cold.
#[must_use]
pub fn is_slow(stage: &RunStage) -> bool {
    let set = stage.set();
    if stage.kind == RunStageKind::Rest {
        return set.is_some_and(|c| c >= COLD && c < SLOW_UNDER);
    }
    let under = set.is_none_or(|c| c < SLOW_UNDER);
    let cold = set.is_some_and(|c| c < COLD) && !stage.smoke;
    under && !cold
}

/// The reason that lifted the block of a piece, with its dose or at a later door.
#[must_use]
pub fn lifted(piece: &Piece) -> Option<&str> {
    let blocks = |found: &[Finding]| {
        let mut all = found.iter();
        all.any(|f| f.code == Code::NoNitriteHazard && f.severity == Severity::Stop)
    };
    // A reason is kept with a dose only where a block wanted one.
    let dose = piece.dose().filter(|d| d.nitrite_g() <= 0.0);
    let dosed = dose.and_then(|d| d.reason.as_deref());
    let paused = piece.pauses.iter().filter(|p| blocks(&p.findings));
    let reasons = dosed
        .into_iter()
        .chain(paused.filter_map(|p| p.reason.as_deref()));
    reasons.into_iter().find(|r| reason::is_enough(r))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::run::StageEnd;
    use crate::testing::build;

    #[test]
    fn a_plain_belly_by_its_own_steps_is_not_asked_and_everything_else_is() {
        #[rustfmt::skip]
        let rows = [
            // product, days, container, blocked
            ("belly-slab-plain", Some(7), None, false),
            ("belly-slab-plain", Some(7), Some("dish with a lid"), false),
            ("belly-slab-plain", Some(8), None, true),
            ("belly-slab-plain", Some(5), Some("Vacuum bag"), true),
            ("belly-slab-plain", Some(5), Some("zipper bag"), true),
            ("belly-slab",       Some(5), None, true),
            ("muscle-cased",     Some(7), None, true),
            ("back-smoked",      Some(7), None, true),
            ("tenderloin-buried", None,   None, true),
        ];
        for (key, days, container, blocked) in rows {
            let airless = container.filter(|name| is_sealed(name));
            let found = planned(build(key).unwrap(), days, airless);
            assert_eq!(found.is_some(), blocked, "{key} {days:?} {container:?}");
        }
    }

    #[test]
    fn every_stage_that_smokes_or_warms_slowly_counts_whatever_it_is_called() {
        for kind in RunStageKind::ALL {
            let stage = |set: Option<f64>| RunStage::new(kind, set.map(Celsius), StageEnd::Marks);
            assert!(is_slow(&stage(Some(75.0))), "{kind:?}");
            assert!(!is_slow(&stage(Some(80.0))), "{kind:?}");
            assert_eq!(is_slow(&stage(Some(4.0))), kind.is_smoke(), "{kind:?}");
        }
    }
}
