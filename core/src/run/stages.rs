//! Stages of a run, and where they come from: the steps of what is smoked, and a rule of heat.

use super::Appliance;
use crate::catalogue::builds::Build;
use crate::catalogue::heat_rules::{HeatRule, HeatStretch};
use crate::catalogue::steps::StepKind;
use crate::units::Celsius;
use serde::{Deserialize, Serialize};

/// A kind of stage.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum RunStageKind {
    /// The surface dries.
    Dry,
    /// Cold smoke.
    ColdSmoke,
    /// It rests in the cold.
    Rest,
    /// Warm or hot smoke.
    Smoke,
    /// On to the target.
    Finish,
    /// Steam.
    Steam,
    /// In water.
    Boil,
}

impl RunStageKind {
    /// All of them.
    pub const ALL: [Self; 7] = [
        Self::Dry,
        Self::ColdSmoke,
        Self::Rest,
        Self::Smoke,
        Self::Finish,
        Self::Steam,
        Self::Boil,
    ];

    /// As it is called.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::Dry => "dry the surface",
            Self::ColdSmoke => "cold smoke",
            Self::Rest => "rest in the cold",
            Self::Smoke => "smoke",
            Self::Finish => "finish",
            Self::Steam => "steam",
            Self::Boil => "simmer",
        }
    }

    /// True where there is smoke, unless it is said otherwise.
    #[must_use]
    pub const fn is_smoke(self) -> bool {
        matches!(self, Self::ColdSmoke | Self::Smoke)
    }

    /// The steps of a way that are done by it.
    #[must_use]
    pub const fn does(self, step: StepKind) -> bool {
        match self {
            Self::ColdSmoke => matches!(step, StepKind::ColdSmoke),
            Self::Rest => matches!(step, StepKind::Rest),
            Self::Smoke | Self::Finish | Self::Steam | Self::Boil => {
                matches!(step, StepKind::Smoke | StepKind::Cook)
            }
            Self::Dry => matches!(step, StepKind::DrySurface),
        }
    }
}

/// By what a stage ends.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum StageEnd {
    /// After so many hours.
    Hours(f64),
    /// When the inside of what has a probe came so far (°C).
    Inside(f64),
    /// When each piece is at its own mark.
    Marks,
}

/// A stage of a run.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RunStage {
    /// Its kind.
    pub kind: RunStageKind,
    /// What it is called.
    pub name: String,
    /// How warm the chamber is set (°C); none where nobody sets it.
    pub set_c: Option<f64>,
    /// Whether there is smoke.
    pub smoke: bool,
    /// How the damper stands, in words.
    #[serde(default)]
    pub damper: String,
    /// By what it ends.
    pub ends: StageEnd,
}

impl RunStage {
    /// One with its usual name.
    #[must_use]
    pub fn new(kind: RunStageKind, set: Option<Celsius>, ends: StageEnd) -> Self {
        Self {
            kind,
            name: kind.label().into(),
            set_c: set.map(Celsius::get),
            smoke: kind.is_smoke(),
            damper: String::new(),
            ends,
        }
    }

    /// How warm it is set.
    #[must_use]
    pub fn set(&self) -> Option<Celsius> {
        self.set_c.map(Celsius)
    }
}

/// Cold smoke stays under this (°C).
pub const COLD_SMOKE_C: f64 = 30.0;
/// Cooler than this a smoke is slow: it leans on nitrite (°C).
pub const SLOW_UNDER_C: f64 = 80.0;

/// The stages of a hot smoke by a rule.
fn hot_smoke(rule: &HeatRule) -> [RunStage; 3] {
    use RunStageKind as Kind;
    let timed = |kind, s: HeatStretch| RunStage::new(kind, Some(s.c), StageEnd::Hours(s.hours));
    [
        timed(Kind::Dry, rule.dry),
        timed(Kind::Smoke, rule.smoke),
        RunStage::new(Kind::Finish, Some(rule.finish_c), StageEnd::Marks),
    ]
}

/// The same for what holds no nitrite: no cold smoke and no slow warm-up, every stage as hot as such meat is smoked.
#[must_use]
pub fn hot_from_the_start(stages: Vec<RunStage>) -> Vec<RunStage> {
    let warm = |s: &RunStage| match s.kind {
        RunStageKind::ColdSmoke | RunStageKind::Rest => false,
        RunStageKind::Dry
        | RunStageKind::Smoke
        | RunStageKind::Finish
        | RunStageKind::Steam
        | RunStageKind::Boil => true,
    };
    let hot = stages.into_iter().filter(warm).map(|s| RunStage {
        set_c: s.set_c.map(|c| c.max(SLOW_UNDER_C)),
        ..s
    });
    hot.collect()
}

/// The stages of a run over these builds, one after the other: cold smoke and its rest where one of them has it, then heat.
#[must_use]
pub fn proposed(builds: &[&Build], hearth: Appliance, rule: &HeatRule) -> Vec<RunStage> {
    use RunStageKind as Kind;
    let has = |kind: StepKind| {
        let with = |b: &&&Build| b.steps.iter().any(|s| s.kind == kind);
        builds.iter().any(|b| with(&b))
    };
    let mut stages = Vec::new();
    match hearth {
        Appliance::Smoker => {
            // What one piece has on its way is no reason to smoke the others cold.
            let colds = |b: &Build| b.steps.iter().any(|s| s.kind == StepKind::ColdSmoke);
            let cold = !builds.is_empty() && builds.iter().all(|b| colds(b));
            let hot = has(StepKind::Smoke) || has(StepKind::Cook) || !cold;
            if cold {
                stages.push(RunStage::new(
                    Kind::ColdSmoke,
                    Some(Celsius(20.0)),
                    StageEnd::Hours(4.0),
                ));
            }
            if cold && hot {
                stages.push(RunStage::new(
                    Kind::Rest,
                    Some(Celsius(3.0)),
                    StageEnd::Hours(12.0),
                ));
            }
            if hot {
                stages.extend(hot_smoke(rule));
            }
        }
        Appliance::Oven => {
            stages.push(RunStage::new(
                Kind::Finish,
                Some(rule.oven_c),
                StageEnd::Marks,
            ));
        }
        Appliance::Pot => stages.push(RunStage::new(
            Kind::Boil,
            Some(Celsius(80.0)),
            StageEnd::Marks,
        )),
    }
    stages
}
