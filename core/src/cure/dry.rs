//! Measured dry cure: every ingredient by the weight of the one piece it goes on.

use super::{Addition, WeighedAddition};
use crate::catalogue::Catalogue;
use crate::catalogue::cures::{Composition, CureAsk, CureChoice};
use crate::caution::{Checks, Code, FieldError, Finding, Severity};
use crate::dose::contents::GetsIn;
use crate::dose::limits::{Case, Class, Form, Law};
use crate::household::Scales;
use crate::units::bounds::Measure;
use crate::units::show::trim;
use crate::units::{Band, PPM, Ppm, to_division};
use serde::{Deserialize, Serialize};

/// How a dry cure is composed, whatever it goes on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Recipe {
    /// The curing salt.
    pub cure: CureChoice,
    /// Grams of curing salt per kilogram of meat.
    pub cure_g_per_kg: f64,
    /// Grams of salt per kilogram of meat, the cure's own salt counted in.
    pub salt_g_per_kg: f64,
    /// Sugar and spices.
    pub additions: Vec<Addition>,
}

/// What the person wants cured, as the HTTP contract spells it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DryCureAsk {
    /// Green weight of the meat (g).
    pub meat_g: f64,
    /// The curing salt.
    pub cure: CureAsk,
    /// Sodium nitrite wanted, on green weight (ppm). Give this or `cure_g_per_kg`.
    #[serde(default)]
    pub nitrite_ppm: Option<f64>,
    /// Curing salt per kilogram of meat (g/kg). Give this or `nitrite_ppm`.
    #[serde(default)]
    pub cure_g_per_kg: Option<f64>,
    /// Salt in all per kilogram of meat (g/kg); the cure's own salt counts.
    pub salt_g_per_kg: f64,
    /// Sugar and spices.
    #[serde(default)]
    pub additions: Vec<Addition>,
    /// What becomes of the piece.
    pub class: Class,
    /// One lump or a mix; dry sausage is always a mix.
    #[serde(default)]
    pub form: Form,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// The rules to judge by.
    #[serde(default = "crate::catalogue::rules::default_rule_set")]
    pub rule_set: String,
    /// Smallest step of the scale the cure is weighed on (g).
    #[serde(default = "one_gram")]
    pub scale_division_g: f64,
    /// Smallest step of the scale the meat is weighed on (g).
    #[serde(default = "one_gram")]
    pub meat_scale_division_g: f64,
}

pub(crate) fn one_gram() -> f64 {
    1.0
}

/// What the scale can show, and the nitrite that gives.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Weighed {
    /// The curing salt, rounded half up to the scale (g).
    pub cure_g: f64,
    /// The salt, rounded half up to the scale (g).
    pub salt_g: f64,
    /// Nitrite from the rounded cure (ppm).
    pub nitrite_ppm: f64,
}

/// The numbers to hit where rounding half up would pass a ceiling or miss a floor.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ToHit {
    /// The curing salt (g).
    pub cure_g: f64,
    /// The salt (g).
    pub salt_g: f64,
    /// Nitrite from that cure (ppm).
    pub nitrite_ppm: f64,
}

/// The curing salt to hit on a scale: half up, but the next lower step where that would pass the
/// ceiling and a lower one keeps the floor, and the next higher where it would miss the floor and a
/// higher one keeps the ceiling.
#[must_use]
pub fn to_hit(
    exact_g: f64,
    division_g: f64,
    (ceiling_ppm, floor_ppm): (f64, f64),
    ppm: impl Fn(f64) -> f64,
) -> f64 {
    let half_up = to_division(exact_g, division_g);
    let lower = to_division(half_up - division_g, division_g);
    let higher = to_division(half_up + division_g, division_g);
    let keeps = |g: f64| ppm(g) <= ceiling_ppm + 1e-9 && ppm(g) >= floor_ppm - 1e-9;
    if exact_g <= 0.0 {
        half_up
    } else if ppm(half_up) > ceiling_ppm + 1e-9 && lower > 0.0 && keeps(lower) {
        lower
    } else if ppm(half_up) < floor_ppm - 1e-9 && ppm(exact_g) >= floor_ppm - 1e-9 && keeps(higher) {
        higher
    } else {
        half_up
    }
}

/// A measured dry cure for one piece.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct DryCureAnswer {
    /// Curing salt, unrounded (g).
    pub cure_g: f64,
    /// Salt still to weigh beside the cure, unrounded (g).
    pub salt_g: f64,
    /// Sugar and spices, unrounded.
    pub additions: Vec<WeighedAddition>,
    /// All of it together (g).
    pub total_g: f64,
    /// Nitrite as meant (ppm).
    pub nitrite_ppm: f64,
    /// Lower edge of what it may really be (ppm).
    pub nitrite_ppm_low: f64,
    /// Upper edge of what it may really be (ppm).
    pub nitrite_ppm_high: f64,
    /// Nitrate as meant (ppm).
    pub nitrate_ppm: f64,
    /// The numbers on the scale, rounded half up.
    pub weighed: Weighed,
    /// The numbers to hit, by which a limit is kept.
    pub to_hit: ToHit,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// Checks the dose fields and turns them into a recipe per kilogram.
pub(crate) fn recipe(
    cure: &CureChoice,
    nitrite_ppm: Option<f64>,
    cure_g_per_kg: Option<f64>,
    salt_g_per_kg: f64,
    additions: &[Addition],
    checks: &mut Checks,
) -> Recipe {
    checks.zero_or_more(Measure::Rate, salt_g_per_kg, "salt_g_per_kg", "22");
    for (i, addition) in additions.iter().enumerate() {
        checks.zero_or_more(
            Measure::Rate,
            addition.g_per_kg,
            &format!("additions[{i}].g_per_kg"),
            "3",
        );
        checks.that(
            !addition.name.trim().is_empty(),
            &format!("additions[{i}].name"),
            "Give the addition a name, such as sugar.",
        );
    }
    let per_kg = match (nitrite_ppm, cure_g_per_kg) {
        (Some(_), Some(_)) => {
            checks.push(FieldError::new(
                "nitrite_ppm",
                "Give either nitrite_ppm or cure_g_per_kg, not both.",
            ));
            0.0
        }
        (None, None) => {
            checks.that(
                cure.is_none(),
                "nitrite_ppm",
                "Give nitrite_ppm, such as 156, or cure_g_per_kg, such as 2.5.",
            );
            0.0
        }
        (Some(ppm), None) => {
            checks.zero_or_more(Measure::Content, ppm, "nitrite_ppm", "156");
            if ppm > 0.0 && cure.made_of.nitrite <= 0.0 {
                checks.push(FieldError::new(
                    "cure",
                    format!("{} holds no nitrite, so it cannot give {}. Choose a cure that does, such as cure1.", cure.label(), crate::units::show::content(Ppm(ppm))),
                ));
                0.0
            } else if ppm > 0.0 {
                ppm / PPM / cure.made_of.nitrite * 1_000.0
            } else {
                0.0
            }
        }
        (None, Some(per_kg)) => {
            checks.zero_or_more(Measure::Rate, per_kg, "cure_g_per_kg", "2.5");
            checks.that(
                !(cure.is_none() && per_kg > 0.0),
                "cure_g_per_kg",
                "“none” is no cure to weigh out. Name a cure, or leave cure_g_per_kg out.",
            );
            per_kg
        }
    };
    let own_salt = per_kg * cure.made_of.salt;
    if own_salt > salt_g_per_kg + 1e-9 {
        checks.push(
            FieldError::new(
                "salt_g_per_kg",
                format!(
                    "The cure alone brings {} g of salt per kg, more than the {} g you asked for. Ask for more salt in all, or less cure.",
                    trim(own_salt, 2),
                    trim(salt_g_per_kg, 2)
                ),
            )
            .code("salt_below_cure"),
        );
    }
    Recipe {
        cure: cure.clone(),
        cure_g_per_kg: per_kg,
        salt_g_per_kg,
        additions: additions.to_vec(),
    }
}

/// Checks the two scales against the lightest piece on them.
pub(crate) fn check_scales(scales: Scales, meat_g: &[(String, f64)], checks: &mut Checks) {
    checks.above_zero(
        Measure::Division,
        scales.fine_division_g,
        "scale_division_g",
        "1 or 0.1",
    );
    checks.above_zero(
        Measure::Division,
        scales.meat_division_g,
        "meat_scale_division_g",
        "5",
    );
    for (field, mass) in meat_g {
        if !(mass.is_finite() && *mass > 0.0) {
            checks.that(
                false,
                field,
                "Weigh the meat first: give grams above zero, such as 2010.",
            );
        } else if *mass <= scales.meat_division_g / 2.0 {
            checks.that(
                false,
                field,
                "The meat weighs less than its scale can show. Use a finer scale for it.",
            );
        } else {
            checks.within(Measure::Mass, *mass, field, "2010");
        }
    }
}

impl Recipe {
    /// Salt still to weigh per kilogram of meat, beside the cure (g/kg).
    #[must_use]
    pub fn salt_to_weigh_g_per_kg(&self) -> f64 {
        (self.salt_g_per_kg - self.cure_g_per_kg * self.cure.made_of.salt).max(0.0)
    }

    /// Everything per kilogram of meat (g/kg).
    #[must_use]
    pub fn total_g_per_kg(&self) -> f64 {
        self.cure_g_per_kg
            + self.salt_to_weigh_g_per_kg()
            + self.additions.iter().map(|a| a.g_per_kg).sum::<f64>()
    }

    /// The numbers to hit for so much meat.
    pub(crate) fn hit(
        &self,
        cure_g: f64,
        salt_g: f64,
        meat_g: f64,
        scales: Scales,
        edges: (f64, f64),
    ) -> ToHit {
        let made_of = &self.cure.made_of;
        let ppm = |g: f64| ppm_in(meat_g, g, made_of.nitrite);
        let cure = if made_of.nitrite > 0.0 {
            to_hit(cure_g, scales.fine_division_g, edges, ppm)
        } else {
            to_division(cure_g, scales.fine_division_g)
        };
        // What the cure brings less or more of salt is weighed beside it.
        let salt = (salt_g + (cure_g - cure) * made_of.salt).max(0.0);
        ToHit {
            cure_g: cure,
            salt_g: to_division(salt, scales.fine_division_g),
            nitrite_ppm: ppm(cure),
        }
    }

    /// Sugar and spices for `meat_g`.
    #[must_use]
    pub fn additions_for(&self, meat_g: f64) -> Vec<WeighedAddition> {
        self.additions
            .iter()
            .map(|a| WeighedAddition {
                name: a.name.clone(),
                mass_g: meat_g / 1_000.0 * a.g_per_kg,
            })
            .collect()
    }
}

/// The content of one substance and its band, from a cure weighed as `weighed_g` (ppm).
#[must_use]
pub(crate) fn band(weighed_g: f64, share: f64, meat_g: f64, scales: Scales) -> Band {
    let meat = Band::weighed(meat_g, scales.meat_division_g);
    let cure = Band::weighed(weighed_g, scales.fine_division_g);
    GetsIn::Whole { meat }.share_of(cure * share) * PPM
}

/// Nitrite or nitrate that `grams` of a cure holding `share` of it bring to so much meat (ppm).
#[must_use]
pub(crate) fn ppm_in(meat_g: f64, grams: f64, share: f64) -> f64 {
    let meat = Band::exactly(meat_g);
    let got = GetsIn::Whole { meat }.share_of(Band::exactly(grams * share));
    got.nominal * PPM
}

/// What the scale makes uncertain, and what would be better.
pub(crate) fn scale_findings(
    cure_g: f64,
    weighed_g: f64,
    nominal_ppm: f64,
    nitrite: Band,
    scales: Scales,
) -> Option<Finding> {
    let better = "Mix one batch for several pieces, use a scale that reads 0.1 g or finer, or dissolve the cure in a little water.";
    let reads = format!("a scale that reads {} g", trim(scales.fine_division_g, 3));
    if cure_g <= 0.0 {
        return None;
    }
    if weighed_g <= 0.0 {
        return Some(
            Finding::new(
                Code::ScaleCannotWeigh,
                Severity::Stop,
                "This scale cannot weigh the cure: it would show 0.",
            )
            .saw(format!("{} g on {reads}", trim(cure_g, 3)))
            .wants(format!("at least {} g", trim(scales.fine_division_g, 3)))
            .remedy(better),
        );
    }
    if nominal_ppm <= 0.0 {
        return None;
    }
    let spread = (nitrite.high - nitrite.low) / (2.0 * nominal_ppm);
    (spread > 0.15).then(|| {
        Finding::new(
            Code::BandTooWide,
            Severity::Caution,
            "The scale is too coarse for a dose this small.",
        )
        .saw(format!("±{} % on {reads}", trim(spread * 100.0, 0)))
        .wants("at most ±15 %")
        .remedy(better)
    })
}

/// Doses one piece by its own weight.
///
/// # Example
/// ```
/// use manifest_core::catalogue::Catalogue;
/// use manifest_core::cure::dry::{DryCureAsk, dry_cure};
///
/// let ask: DryCureAsk = serde_json::from_value(serde_json::json!({"meat_g": 2000, "cure": "cure1", "cure_g_per_kg": 2.5, "salt_g_per_kg": 20, "class": "fry"}))?;
/// let got = dry_cure(&ask, &Catalogue::shipped()).unwrap();
/// // 2.5 g on each of two kilos, 6.25 % of it nitrite.
/// assert!((got.cure_g - 5.0).abs() < 1e-9);
/// assert!((got.nitrite_ppm - 156.25).abs() < 1e-9);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// Every field that cannot be right, with what to give instead.
///
/// # Source
/// Ingoing nitrite on green weight, FSIS calculations handbook for inspectors, solved for the
/// cure; half a division either way for what a scale cannot tell.
pub fn dry_cure(ask: &DryCureAsk, catalogue: &Catalogue) -> Result<DryCureAnswer, Vec<FieldError>> {
    let cure = ask.cure.choice(catalogue).map_err(|e| vec![e])?;
    let mut checks = Checks::default();
    let scales = Scales {
        fine_division_g: ask.scale_division_g,
        meat_division_g: ask.meat_scale_division_g,
    };
    check_scales(scales, &[("meat_g".into(), ask.meat_g)], &mut checks);
    let recipe = recipe(
        &cure,
        ask.nitrite_ppm,
        ask.cure_g_per_kg,
        ask.salt_g_per_kg,
        &ask.additions,
        &mut checks,
    );
    let law = Law::without_brine(ask.class.form(ask.form));
    let rules = catalogue.rules_with_limit(&ask.rule_set, ask.class, law, ask.skin_on);
    checks.fine(&rules);
    checks.done()?;

    let made_of: &Composition = &recipe.cure.made_of;
    let kg = ask.meat_g / 1_000.0;
    let cure_g = kg * recipe.cure_g_per_kg;
    let salt_g = kg * recipe.salt_to_weigh_g_per_kg();
    let nominal = ppm_in(1_000.0, recipe.cure_g_per_kg, made_of.nitrite);
    let weighed_cure = to_division(cure_g, scales.fine_division_g);
    let nitrite = band(weighed_cure, made_of.nitrite, ask.meat_g, scales);
    let rules = rules.map_err(|e| vec![e])?;
    let hit = recipe.hit(
        cure_g,
        salt_g,
        ask.meat_g,
        scales,
        rules.edges(ask.class, law, ask.skin_on),
    );
    let mut findings = rules
        .judge(&Case {
            class: ask.class,
            law,
            skin_on: ask.skin_on,
            no_cure: recipe.cure.is_none(),
            nitrite,
            nitrate: band(weighed_cure, made_of.nitrate, ask.meat_g, scales),
        })
        .map_err(|e| vec![e])?;
    findings.extend(scale_findings(
        cure_g,
        weighed_cure,
        nominal,
        nitrite,
        scales,
    ));
    let additions = recipe.additions_for(ask.meat_g);
    Ok(DryCureAnswer {
        cure_g,
        salt_g,
        total_g: cure_g + salt_g + additions.iter().map(|a| a.mass_g).sum::<f64>(),
        additions,
        nitrite_ppm: nominal,
        nitrite_ppm_low: nitrite.low,
        nitrite_ppm_high: nitrite.high,
        nitrate_ppm: ppm_in(1_000.0, recipe.cure_g_per_kg, made_of.nitrate),
        weighed: Weighed {
            cure_g: weighed_cure,
            salt_g: to_division(salt_g, scales.fine_division_g),
            nitrite_ppm: nitrite.nominal,
        },
        to_hit: hit,
        findings,
    })
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;
    use crate::cure::testing;
    use proptest::prelude::*;
    use serde_json::json;

    fn dry(ask: &DryCureAsk) -> Result<DryCureAnswer, Vec<FieldError>> {
        dry_cure(ask, &Catalogue::shipped())
    }

    pub(crate) fn ask(meat_g: f64, nitrite_ppm: f64, division: f64) -> DryCureAsk {
        serde_json::from_value(json!({
            "meat_g": meat_g, "cure": "cure1", "nitrite_ppm": nitrite_ppm, "salt_g_per_kg": 22.0,
            "additions": [{"name": "sugar", "g_per_kg": 12}], "class": "fry",
            "scale_division_g": division,
        }))
        .unwrap()
    }

    #[test]
    fn worked_cases_hold() {
        testing::hold("dry-cure", |request| {
            let ask: DryCureAsk = serde_json::from_value(request).unwrap();
            serde_json::to_value(dry(&ask).unwrap()).unwrap()
        });
    }

    #[test]
    fn a_belly_by_hand() {
        // 2,000 g at 156 ppm: 2000 * 156e-6 / 0.0625 = 4.992 g of cure, which brings 4.68 g of salt.
        let got = dry(&ask(2_000.0, 156.0, 0.1)).unwrap();
        assert!((got.cure_g - 4.992).abs() < 1e-9);
        assert!((got.salt_g - (44.0 - 4.68)).abs() < 1e-9);
        assert!((got.weighed.cure_g - 5.0).abs() < 1e-9);
        assert!((got.weighed.nitrite_ppm - 156.25).abs() < 1e-9);
        assert_eq!(got.findings, []);
    }

    #[test]
    fn bad_fields_are_named_all_at_once_with_what_to_give() {
        let wrong = |edit: fn(&mut DryCureAsk)| {
            let mut ask = ask(1_000.0, 156.0, 1.0);
            edit(&mut ask);
            let errors = dry(&ask).unwrap_err();
            errors
                .into_iter()
                .map(|e| format!("{}: {}", e.field, e.message))
                .collect::<Vec<_>>()
                .join(" | ")
        };
        #[rustfmt::skip]
        let cases: &[(fn(&mut DryCureAsk), &str)] = &[
            (|a| a.meat_g = 0.0, "meat_g: Weigh the meat first: give grams above zero, such as 2010."),
            (|a| { a.meat_g = 2.0; a.meat_scale_division_g = 5.0 }, "meat_g: The meat weighs less than its scale can show. Use a finer scale for it."),
            (|a| a.cure_g_per_kg = Some(2.5), "nitrite_ppm: Give either nitrite_ppm or cure_g_per_kg, not both."),
            (|a| a.nitrite_ppm = None, "nitrite_ppm: Give nitrite_ppm, such as 156, or cure_g_per_kg, such as 2.5."),
            (|a| a.cure = CureAsk::Named("none".into()), "cure: no cure holds no nitrite, so it cannot give 156 ppm. Choose a cure that does, such as cure1."),
            (|a| a.salt_g_per_kg = 2.0, "salt_g_per_kg: The cure alone brings 2.34 g of salt per kg, more than the 2 g you asked for. Ask for more salt in all, or less cure."),
            (|a| { a.scale_division_g = 0.0; a.rule_set = "no".into() }, "scale_division_g: Give a number above zero, such as 1 or 0.1. | rule_set: There is no rule set “no”. Use one of ca, eu, us_home."),
            (|a| { a.form = Form::Ground; a.class = Class::Dried }, "form: There is no whole muscle dried for weeks from ground meat. Choose sausage_dried, or form whole."),
        ];
        for (edit, want) in cases {
            assert_eq!(wrong(*edit), *want);
        }
    }

    #[test]
    fn a_scale_too_coarse_is_said_and_zero_is_a_stop() {
        let code = |meat: f64, division: f64| {
            dry(&ask(meat, 156.0, division))
                .unwrap()
                .findings
                .iter()
                .map(|f| (f.code, f.severity))
                .collect::<Vec<_>>()
        };
        assert!(code(190.0, 1.0).contains(&(Code::ScaleCannotWeigh, Severity::Stop)));
        assert!(code(700.0, 1.0).contains(&(Code::BandTooWide, Severity::Caution)));
        assert_eq!(code(700.0, 0.01), []);
    }

    #[test]
    fn without_nitrite_the_band_is_nothing() {
        let mut ask = ask(1_000.0, 0.0, 1.0);
        ask.cure = CureAsk::Named("none".into());
        ask.nitrite_ppm = None;
        let got = dry(&ask).unwrap();
        assert_eq!(
            (got.cure_g, got.nitrite_ppm_low, got.nitrite_ppm_high),
            (0.0, 0.0, 0.0)
        );
        assert_eq!(got.findings[0].code, Code::NoNitrite);
    }

    proptest! {
        #[test]
        fn the_band_always_holds_the_nominal(meat in 20.0..30_000.0, ppm in 1.0..250.0, d in prop::sample::select(vec![0.01, 0.1, 0.5, 1.0, 2.0, 5.0])) {
            let got = dry(&ask(meat, ppm, d)).unwrap();
            prop_assert!(got.nitrite_ppm_low <= got.nitrite_ppm + 1e-6);
            prop_assert!(got.nitrite_ppm_high >= got.nitrite_ppm - 1e-6);
            prop_assert!(got.nitrite_ppm_low <= got.weighed.nitrite_ppm && got.weighed.nitrite_ppm <= got.nitrite_ppm_high);
        }

        #[test]
        fn nitrite_grows_in_step_with_the_cure(meat in 100.0..30_000.0, per_kg in 0.1..4.0_f64, times in 1.0..3.0_f64) {
            let at = |cure_g_per_kg: f64| {
                let mut ask = ask(meat, 0.0, 1.0);
                ask.nitrite_ppm = None;
                ask.cure_g_per_kg = Some(cure_g_per_kg);
                dry(&ask).unwrap().nitrite_ppm
            };
            prop_assert!((at(per_kg * times) - at(per_kg) * times).abs() < 1e-6);
        }
    }
}
