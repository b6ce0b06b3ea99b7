//! Rule sets: how much nitrite and nitrate a country's practice allows, and how little is too little.

use crate::catalogue::builds::Build;
pub use crate::catalogue::rules::*;
use crate::catalogue::steps::StepKind;
use crate::caution::{Code, FieldError, Finding, Severity};
use crate::units::show::content;
use crate::units::{Band, Ppm};

/// What is being judged.
#[derive(Clone, Copy, Debug)]
pub struct Case {
    /// What becomes of the piece.
    pub class: Class,
    /// How the cure gets in.
    pub law: Law,
    /// Whether the skin is on.
    pub skin_on: bool,
    /// True when the person chose to use no cure.
    pub no_cure: bool,
    /// Nitrite going in.
    pub nitrite: Band,
    /// Nitrate going in.
    pub nitrate: Band,
}

/// Nitrate where none is allowed.
#[must_use]
pub(crate) fn nitrate_in_fried() -> Finding {
    Finding::new(
        Code::NitrateInFried,
        Severity::Stop,
        "Nitrate in meat that is fried turns into nitrosamines, which cause cancer.",
    )
    .remedy("Use cure #1, or make something that dries for weeks.")
}

impl RuleSet {
    /// The ceiling for a class and a way of curing.
    ///
    /// # Errors
    /// Names the field when the combination does not exist: a dried whole muscle is not ground.
    pub fn limit(&self, class: Class, law: Law, skin_on: bool) -> Result<&Limit, FieldError> {
        let limit = self
            .limits
            .iter()
            .find(|l| l.class == class && l.ways.contains(&law))
            .ok_or_else(|| match class {
                Class::SausageDried => FieldError::new(
                    "class",
                    "Dry sausage is mixed from ground or diced meat, not cured whole in brine. Choose dried for a whole muscle.",
                ),
                Class::Fry | Class::Cooked | Class::Dried => FieldError::new(
                    "form",
                    format!("There is no {} from ground meat. Choose sausage_dried, or form whole.", class.label()),
                ),
            })?;
        if skin_on && !limit.skin_on_possible {
            return Err(FieldError::new(
                "skin_on",
                "Ground meat has no skin on. Leave skin_on out or set it to false.",
            ));
        }
        Ok(limit)
    }

    /// The most nitrite for a case.
    #[must_use]
    pub fn ceiling(&self, limit: &Limit, skin_on: bool) -> Ppm {
        Ppm(match limit.skin_on_ppm {
            Some(ppm) if skin_on => ppm,
            _ => limit.nitrite_ppm,
        })
    }

    /// The least nitrite asked for a case.
    #[must_use]
    pub fn floor(&self, class: Class, law: Law, skin_on: bool) -> Ppm {
        let own = self
            .floors
            .iter()
            .find(|f| f.class == class && f.ways.contains(&law));
        Ppm(match own {
            Some(floor) if skin_on => floor.skin_on_ppm,
            Some(floor) => floor.nitrite_ppm,
            None => self.floor_ppm,
        })
    }

    /// The ceiling and the floor of a case (ppm); none of either where there is no such case.
    #[must_use]
    pub fn edges(&self, class: Class, law: Law, skin_on: bool) -> (f64, f64) {
        let ceiling = self
            .limit(class, law, skin_on)
            .map_or(f64::INFINITY, |l| self.ceiling(l, skin_on).0);
        (ceiling, self.floor(class, law, skin_on).0)
    }

    /// Judges a dose: ceilings, floors, and nitrate where it does not belong.
    ///
    /// # Errors
    /// As [`RuleSet::limit`].
    pub fn judge(&self, case: &Case) -> Result<Vec<Finding>, FieldError> {
        self.judge_down_to(case, case.nitrite.nominal)
    }

    /// The same where it is not known how much gets in: ceilings by the case, floors by the least that may.
    ///
    /// # Errors
    /// As [`RuleSet::limit`].
    pub fn judge_down_to(
        &self,
        case: &Case,
        least_nitrite_ppm: f64,
    ) -> Result<Vec<Finding>, FieldError> {
        let limit = self.limit(case.class, case.law, case.skin_on)?;
        let mut findings = Vec::new();
        if case.no_cure {
            findings.push(
                Finding::new(
                    Code::NoNitrite,
                    Severity::Info,
                    "Cured without nitrite: nothing holds botulism back in a warm or airless place.",
                )
                .remedy("Keep it loosely covered at 3 °C (37 °F) or colder for at most 7 days, cook it right through, then eat within 7 days or freeze. No cold smoke, no hanging, no vacuum unless frozen."),
            );
            return Ok(findings);
        }
        self.judge_nitrite(case, self.ceiling(limit, case.skin_on).0, &mut findings);
        self.judge_floor(case, least_nitrite_ppm, &mut findings);
        self.judge_nitrate(case, limit.nitrate_ppm, &mut findings);
        Ok(findings)
    }

    fn judge_nitrite(&self, case: &Case, ceiling: f64, findings: &mut Vec<Finding>) {
        let Band { nominal, high, .. } = case.nitrite;
        let remedy = "Weigh out less cure, or weigh the meat again.";
        if nominal > self.refuse_over_ppm {
            findings.push(
                Finding::new(
                    Code::NitriteRefused,
                    Severity::Stop,
                    "So much nitrite can poison. This dose is refused, whatever the product.",
                )
                .saw(ppm(nominal))
                .wants(format!("at most {}", ppm(self.refuse_over_ppm)))
                .remedy("Check which cure is in your hand: cure #1 in place of a weak pre-blend is 12 times too much."),
            );
        }
        let over = |severity, message: String, saw: f64| {
            Finding::new(Code::NitriteOverLimit, severity, message)
                .saw(ppm(saw))
                .wants(format!("at most {}", ppm(ceiling)))
                .remedy(remedy)
        };
        if nominal > ceiling + self.stop_margin_ppm {
            findings.push(over(
                Severity::Stop,
                format!(
                    "More nitrite than {} allows for {}.",
                    self.name,
                    case.class.label()
                ),
                nominal,
            ));
        } else if high > ceiling {
            findings.push(over(
                Severity::Caution,
                format!(
                    "The dose may pass what {} allows for {}: your scale cannot tell.",
                    self.name,
                    case.class.label()
                ),
                high,
            ));
        }
        if ceiling > self.home_cap_ppm && nominal > self.home_cap_ppm + self.stop_margin_ppm {
            findings.push(
                Finding::new(
                    Code::OverHomeCap,
                    Severity::Caution,
                    "The rules allow this much, but no home product needs it.",
                )
                .saw(ppm(nominal))
                .wants(format!("at most {}", ppm(self.home_cap_ppm)))
                .remedy(remedy),
            );
        }
    }

    fn judge_floor(&self, case: &Case, nominal: f64, findings: &mut Vec<Finding>) {
        let floor = self.floor(case.class, case.law, case.skin_on).0;
        if nominal < self.colour_only_under_ppm {
            findings.push(
                Finding::new(
                    Code::ColourOnly,
                    Severity::Caution,
                    "This little nitrite colours the meat but does not protect it: treat it as uncured.",
                )
                .saw(ppm(nominal))
                .wants(format!("at least {}", ppm(floor)))
                .remedy("Raise the dose, or keep it cold and cook it like fresh meat."),
            );
        } else if nominal < floor - self.stop_margin_ppm {
            findings.push(
                Finding::new(
                    Code::NitriteBelowFloor,
                    Severity::Caution,
                    "Less nitrite than slow smoke, cold smoke or hanging needs against botulism.",
                )
                .saw(ppm(nominal))
                .wants(format!("at least {}", ppm(floor)))
                .remedy("Raise the dose, or smoke it hot and keep it cold before and after."),
            );
        }
    }

    fn judge_nitrate(&self, case: &Case, ceiling: f64, findings: &mut Vec<Finding>) {
        let nitrate = case.nitrate;
        if nitrate.high <= 0.0 {
            return;
        }
        if case.class == Class::Fry {
            findings.push(nitrate_in_fried().saw(ppm(nitrate.nominal)).wants("none"));
        } else if nitrate.nominal > ceiling + self.stop_margin_ppm {
            findings.push(
                Finding::new(
                    Code::NitrateOverLimit,
                    Severity::Stop,
                    format!(
                        "More nitrate than {} allows for {}.",
                        self.name,
                        case.class.label()
                    ),
                )
                .saw(ppm(nitrate.nominal))
                .wants(format!("at most {}", ppm(ceiling)))
                .remedy("Use a cure without nitrate, or less of this one."),
            );
        } else if nitrate.high > ceiling {
            findings.push(
                Finding::new(
                    Code::NitrateOverLimit,
                    Severity::Caution,
                    format!(
                        "The nitrate may pass what {} allows: your scale cannot tell.",
                        self.name
                    ),
                )
                .saw(ppm(nitrate.high))
                .wants(format!("at most {}", ppm(ceiling)))
                .remedy("Use a finer scale, or less of this cure."),
            );
        } else if case.class == Class::Cooked {
            findings.push(
                Finding::new(
                    Code::NitrateNotNeeded,
                    Severity::Caution,
                    "Nitrate works over weeks; in what is cooked within days it only stays behind.",
                )
                .saw(ppm(nitrate.nominal))
                .wants("none")
                .remedy("Use cure #1 for everything that is cooked, smoked or fried within weeks."),
            );
        }
    }
}

pub(crate) fn ppm(value: f64) -> String {
    content(Ppm(value))
}

/// What hangs raw with less salt is never ready (g/kg).
pub const LEAST_SALT: f64 = 15.0;

/// What hangs raw is asked about under this (g/kg).
pub const HUNG_SALT: f64 = 25.0;

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
            .remedy("Weigh more of the curing salt, up to its limit, or make something that is cooked at once."),
        )
    } else if nitrite.low < floor * (1.0 - DRAWN) {
        Some(
            Finding::new(
                Code::NitriteBelowFloor,
                Severity::Caution,
                "The nitrite may lie under what slow smoke or hanging needs: your scale cannot tell.",
            )
            .saw(format!("{} to {}", said(nitrite.low), said(nitrite.high)))
            .wants(format!("at least {}", said(floor)))
            .remedy("A finer scale tells."),
        )
    } else {
        None
    }
}

/// A band that reaches over its ceiling, or under its floor, by less than this share is drawn, not said.
pub(crate) const DRAWN: f64 = 0.05;

#[cfg(test)]
mod tests {
    use super::*;
    use crate::catalogue::Catalogue;

    fn findings(
        rules: &str,
        class: Class,
        law: Law,
        skin_on: bool,
        cure: &str,
        nominal: f64,
        spread: f64,
    ) -> Vec<(Code, Severity)> {
        let made_of = crate::testing::cure(cure).made_of;
        let nitrate = if made_of.nitrite > 0.0 {
            nominal * made_of.nitrate / made_of.nitrite
        } else {
            0.0
        };
        let case = Case {
            class,
            law,
            skin_on,
            no_cure: cure == "none",
            nitrite: Band {
                nominal,
                low: nominal - spread,
                high: nominal + spread,
            },
            nitrate: Band::exactly(nitrate),
        };
        let found = Catalogue::shipped()
            .rule_set(rules)
            .unwrap()
            .judge(&case)
            .unwrap();
        found.iter().map(|f| (f.code, f.severity)).collect()
    }

    #[test]
    fn limits_hold_by_class_way_and_skin() {
        use Class::{Cooked, Dried, Fry, SausageDried};
        use Code::{
            ColourOnly, NitrateInFried, NitrateNotNeeded, NitrateOverLimit, NitriteBelowFloor,
            NitriteOverLimit, NitriteRefused, NoNitrite, OverHomeCap,
        };
        use Law::{Dry, Ground, Immersed};
        use Severity::{Caution, Info, Stop};
        #[rustfmt::skip]
        let cases: &[(&str, &str, Class, Law, bool, &str, f64, f64, &[(Code, Severity)])] = &[
            ("usual belly",            "us_home", Fry,    Dry,      false, "cure1", 156.0, 5.0,  &[]),
            ("at the limit",           "us_home", Fry,    Dry,      false, "cure1", 200.0, 0.0,  &[]),
            ("half a ppm over",        "us_home", Fry,    Dry,      false, "cure1", 200.5, 0.0,  &[(NitriteOverLimit, Caution)]),
            ("more than half over",    "us_home", Fry,    Dry,      false, "cure1", 200.6, 0.0,  &[(NitriteOverLimit, Stop)]),
            ("only the band",          "us_home", Fry,    Dry,      false, "cure1", 190.0, 20.0, &[(NitriteOverLimit, Caution)]),
            ("skin takes none",        "us_home", Fry,    Dry,      true,  "cure1", 185.0, 0.0,  &[(NitriteOverLimit, Stop)]),
            ("brined belly",           "us_home", Fry,    Immersed, false, "cure1", 130.0, 0.0,  &[(NitriteOverLimit, Stop)]),
            ("brined belly floor",     "us_home", Fry,    Immersed, true,  "cure1", 90.0,  0.0,  &[]),
            ("brined loin",            "us_home", Cooked, Immersed, false, "cure1", 130.0, 0.0,  &[]),
            ("ground loaf",            "us_home", Fry,    Ground,   false, "cure1", 156.0, 0.2,  &[]),
            ("strong but lawful",      "us_home", Cooked, Dry,      false, "cure1", 300.0, 0.0,  &[(OverHomeCap, Caution)]),
            ("poison",                 "us_home", Cooked, Dry,      false, "cure1", 510.0, 0.0,  &[(NitriteRefused, Stop), (OverHomeCap, Caution)]),
            ("cure 2 in bacon",        "us_home", Fry,    Dry,      false, "cure2", 156.0, 0.0,  &[(NitrateInFried, Stop)]),
            ("cure 2 in a ham",        "us_home", Cooked, Dry,      false, "cure2", 156.0, 0.0,  &[(NitrateNotNeeded, Caution)]),
            ("cure 2 in dried muscle", "us_home", Dried,  Dry,      false, "cure2", 156.0, 0.0,  &[]),
            ("thin dose",              "us_home", Cooked, Dry,      false, "cure1", 100.0, 0.0,  &[(NitriteBelowFloor, Caution)]),
            ("colour only",            "us_home", Cooked, Dry,      false, "cure1", 30.0,  0.0,  &[(ColourOnly, Caution)]),
            ("no cure",                "us_home", Fry,    Dry,      false, "none",  0.0,   0.0,  &[(NoNitrite, Info)]),
            ("eu is stricter",         "eu",      Cooked, Dry,      false, "cure1", 156.0, 0.0,  &[(NitriteOverLimit, Stop)]),
            ("eu dried nitrate",       "eu",      Dried,  Dry,      false, "cure2", 120.0, 0.0,  &[]),
            ("eu heated nitrate",      "eu",      Cooked, Dry,      false, "cure2", 110.0, 0.0,  &[(NitrateOverLimit, Stop)]),
            ("ca side bacon",          "ca",      Fry,    Dry,      false, "cure1", 156.0, 0.0,  &[(NitriteOverLimit, Stop)]),
            ("ca dry sausage",         "ca",      SausageDried, Ground, false, "cure2", 156.0, 0.0, &[]),
        ];
        for (why, rules, class, way, skin, cure, nominal, spread, want) in cases {
            let got = findings(rules, *class, *way, *skin, cure, *nominal, *spread);
            assert_eq!(got, *want, "{why}");
        }
    }

    #[test]
    fn impossible_combinations_name_their_field() {
        let catalogue = Catalogue::shipped();
        let rules = catalogue.rule_set("us_home").unwrap();
        #[rustfmt::skip]
        let cases = [
            (Class::Dried, Law::Ground, false, "form"),
            (Class::SausageDried, Law::Immersed, false, "class"),
            (Class::Fry, Law::Ground, true, "skin_on"),
        ];
        for (class, way, skin_on, field) in cases {
            assert_eq!(rules.limit(class, way, skin_on).unwrap_err().field, field);
        }
        assert_eq!(
            Catalogue::shipped().rule_set("mars").unwrap_err().message,
            "There is no rule set “mars”. Use one of ca, eu, us_home."
        );
    }
}
