//! What is really in the meat: the dose as it was weighed over the meat that is really there.

use super::Judge;
use crate::catalogue::builds::Build;
use crate::catalogue::steps::StepKind;
use crate::caution::{Code, Finding, Severity};
use crate::cure::Role;
use crate::cure::dose::{Bands, Dose, bands};
use crate::cure::rules::{Case, Class, Law, RuleSet};
use crate::cure::sheet::watch::salt_finding;
use crate::ledger::state::State;
use crate::piece::{InCure, Piece};
use crate::units::show::content;
use crate::units::{Band, Ppm};

/// What is really in a piece, judged by the household's rules as they stand.
#[derive(Clone, Debug, PartialEq)]
pub struct Really {
    /// Nitrite (ppm).
    pub nitrite: Band,
    /// Nitrate (ppm).
    pub nitrate: Band,
    /// Salt in all (g/kg of what it is shared by), where it is known.
    pub salt: Option<Band>,
    /// The ceiling of its class (ppm).
    pub ceiling_ppm: f64,
    /// The least for slow smoke and hanging (ppm).
    pub floor_ppm: f64,
    /// True when it was cured without nitrite.
    pub no_nitrite: bool,
    /// True when nitrate is in what is fried.
    pub nitrate_in_fried: bool,
    /// True when a limit is broken, by more than the margin of its rules.
    pub over_limit: bool,
    /// True when it is under its floor, where that counts.
    pub under_floor: bool,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// Contents closer than this are one, where an old dose does not say which meat it was for (share).
const SAME: f64 = 0.02;

/// How slowly warm a build is made, as far as its steps say.
#[must_use]
pub fn needs_floor(build: &Build) -> bool {
    let first = build.steps.iter().find(|s| {
        matches!(
            s.kind,
            StepKind::Hang | StepKind::ColdSmoke | StepKind::Smoke
        )
    });
    first.is_some()
}

/// Whether nitrite under its floor is a hazard for what is made so: what hangs raw, is smoked
/// cold, or is smoked in a chamber under 80 °C.
///
/// # Source
/// A piece that goes through the warm hours slowly leans on nitrite against botulism.
#[must_use]
pub fn floor_finding(
    build: &Build,
    law: Law,
    rules: &RuleSet,
    skin_on: bool,
    nitrite: Band,
) -> Option<Finding> {
    let floor = rules.floor(build.class, law, skin_on).0;
    if !needs_floor(build) || nitrite.nominal <= 0.0 {
        return None;
    }
    let said = |ppm: f64| content(Ppm(ppm));
    let least = floor - rules.stop_margin_ppm;
    if nitrite.nominal < least {
        Some(
            Finding::new(
                Code::NitriteBelowFloor,
                Severity::Stop,
                "Too little nitrite for slow smoke or for hanging: nothing holds botulism back in the warm hours.",
            )
            .saw(said(nitrite.nominal))
            .wants(format!("at least {}", said(floor)))
            .way_out("Weigh more of the curing salt, up to its limit, or make something that is cooked at once."),
        )
    } else if nitrite.low < least {
        Some(
            Finding::new(
                Code::NitriteBelowFloor,
                Severity::Caution,
                "The nitrite may lie under what slow smoke or hanging needs: your scale cannot tell.",
            )
            .saw(format!("{} to {}", said(nitrite.low), said(nitrite.high)))
            .wants(format!("at least {}", said(floor)))
            .way_out("A finer scale tells."),
        )
    } else {
        None
    }
}

impl<'a> Judge<'a> {
    /// What is really in a piece; none where nobody knows its dose, or it has none.
    #[must_use]
    pub fn really(&self, state: &'a State, piece: &'a Piece) -> Option<Really> {
        let cure = piece.cure.as_ref()?;
        let dose = cure.dose.as_ref()?;
        let build = piece.build()?;
        let rules = self.rules()?;
        let law = dose.method.dosing().law(build.class.form(build.form));
        let skin_on = piece.shape.skin_on && law != Law::Ground;
        let limit = rules.limit(build.class, law, skin_on).ok()?;
        let ceiling = rules.ceiling(limit, skin_on).0;
        let floor = rules.floor(build.class, law, skin_on).0;
        let no_nitrite = dose.nitrite_g() <= 0.0;
        let got = self.bands(state, piece, cure, dose);
        let as_judged = dose.judged.rule_set == rules.key
            && dose.judged.class == build.class
            && (dose.judged.ceiling_ppm - ceiling).abs() < 1e-6
            && self.meat_is_the_same(state, piece, cure, dose, got.nitrite.nominal);
        let (nitrite, nitrate, salt) = if as_judged {
            (dose.nitrite, dose.nitrate, dose.salt.or(Some(got.salt)))
        } else {
            (got.nitrite, got.nitrate, Some(got.salt))
        };
        let mut findings = if as_judged {
            dose.findings.clone()
        } else {
            let case = Case {
                class: build.class,
                law,
                skin_on,
                no_cure: no_nitrite,
                nitrite,
                nitrate,
            };
            let judged = rules.judge(&case).unwrap_or_default();
            judged
                .into_iter()
                .filter(|f| f.severity > Severity::Info)
                .chain(salt_finding(build, dose.method, got.salt))
                .collect()
        };
        let low = (!no_nitrite)
            .then(|| floor_finding(build, law, rules, skin_on, nitrite))
            .flatten();
        let under_floor = low.as_ref().is_some_and(|f| f.severity == Severity::Stop);
        if let Some(low) = low
            && !findings
                .iter()
                .any(|f| f.code == Code::NitriteBelowFloor && f.severity == low.severity)
        {
            findings.retain(|f| f.code != Code::NitriteBelowFloor);
            findings.push(low);
        }
        let margin = rules.stop_margin_ppm;
        Some(Really {
            nitrite,
            nitrate,
            salt,
            ceiling_ppm: ceiling,
            floor_ppm: floor,
            no_nitrite,
            nitrate_in_fried: build.class == Class::Fry && nitrate.nominal > margin,
            over_limit: nitrite.nominal > ceiling + margin
                || nitrate.nominal > limit.nitrate_ppm + margin,
            under_floor,
            findings,
        })
    }

    /// True when the meat of a dose, and of those in its brine, is what it was weighed out for.
    fn meat_is_the_same(
        &self,
        state: &'a State,
        piece: &Piece,
        cure: &InCure,
        dose: &Dose,
        now_ppm: f64,
    ) -> bool {
        let Some(over) = dose.over else {
            return close(now_ppm, dose.nitrite.nominal);
        };
        over == cure.meat
            && (!dose.in_brine()
                || dose
                    .mixed_with
                    .iter()
                    .filter(|id| **id != piece.id)
                    .all(|id| {
                        let here = state.pieces.get(id);
                        let mate = here.or_else(|| Some(self.book.piece(*id)?.1));
                        mate.and_then(|m| m.cure.as_ref()).is_some_and(|c| {
                            c.dose
                                .as_ref()
                                .is_none_or(|d| d.over.is_none_or(|o| o == c.meat))
                        })
                    }))
    }

    /// The dose over the meat that is really there. A brine is shared by all that lie in it.
    fn bands(&self, state: &'a State, piece: &Piece, cure: &InCure, dose: &Dose) -> Bands {
        let home = self.home;
        let scales = (home.scales.fine_division_g, home.scales.meat_division_g);
        let own = cure.meat.grams();
        if !dose.in_brine() || dose.mixed_with.is_empty() {
            return bands(&dose.lines, &dose.cure, own, dose.in_brine(), scales);
        }
        let mut lines = dose.lines.clone();
        let mut meat = own;
        for id in dose.mixed_with.iter().filter(|id| **id != piece.id) {
            let here = state.pieces.get(id);
            let Some(mate) = here.or_else(|| Some(self.book.piece(*id)?.1)) else {
                continue;
            };
            if let Some(mate) = &mate.cure
                && let Some(poured) = &mate.dose
                && poured.in_brine()
            {
                meat += mate.meat.grams();
                lines.extend(poured.lines.iter().cloned());
            }
        }
        bands(&lines, &dose.cure, meat, true, scales)
    }
}

impl Dose {
    /// Curing salt that was weighed (g), where it holds nitrite.
    #[must_use]
    pub fn nitrite_g(&self) -> f64 {
        let cures = self.lines.iter().filter(|l| l.role == Role::CuringSalt);
        cures.map(|l| l.mass.value.grams()).sum::<f64>() * self.cure.made_of.nitrite
    }
}

fn close(a: f64, b: f64) -> bool {
    (a - b).abs() <= SAME * a.abs().max(b.abs()).max(1e-9)
}
