//! Equilibrium brine: meat and water share out salt, sugar and nitrite until they are alike.

use super::dry::{ToHit, to_hit};
use crate::catalogue::Catalogue;
use crate::catalogue::cures::{Composition, CureAsk};
use crate::caution::{Checks, FieldError, Finding};
use crate::cure::dry::ppm_in;
use crate::dose::contents::GetsIn;
use crate::dose::limits::{Case, Class, Law};
use crate::units::bounds::Measure;
use crate::units::{Band, PPM, to_division};
use serde::{Deserialize, Serialize};

/// Salt that water takes up before it is full, as a share of the brine at kitchen temperature.
pub(crate) const SATURATED_SALT_SHARE: f64 = 0.264;

/// A brine for one vessel, as the HTTP contract spells it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct EquilibriumBrineAsk {
    /// Green weight of the meat (g).
    pub meat_g: f64,
    /// Water, one gram a millilitre (g).
    pub water_g: f64,
    /// Salt wanted, as a share of meat and water.
    pub salt_fraction: f64,
    /// Sugar wanted, as a share of meat and water.
    pub sugar_fraction: f64,
    /// Sodium nitrite wanted over meat and brine together (ppm).
    pub nitrite_ppm: f64,
    /// The curing salt.
    pub cure: CureAsk,
    /// What becomes of the piece.
    pub class: Class,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// The rules to judge by.
    #[serde(default = "crate::catalogue::rules::default_rule_set")]
    pub rule_set: String,
}

/// What to weigh into the water.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct EquilibriumBrineAnswer {
    /// Curing salt (g).
    pub cure_g: f64,
    /// Salt beside the cure (g).
    pub salt_g: f64,
    /// Sugar beside what the cure brings (g).
    pub sugar_g: f64,
    /// The whole brine with its water (g).
    pub brine_g: f64,
    /// Nitrite over meat and brine (ppm).
    pub nitrite_ppm: f64,
    /// Strength of the fresh brine, 100 being as salt as water gets.
    pub salometer_degrees: f64,
    /// The numbers to hit on a scale that reads whole grams, by which a limit is kept.
    pub to_hit: ToHit,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// Composes a brine that cannot oversalt: what it holds is what meat and water are meant to end at.
///
/// # Example
/// ```
/// use manifest_core::catalogue::Catalogue;
/// use manifest_core::cure::brine::{EquilibriumBrineAsk, equilibrium_brine};
///
/// let ask: EquilibriumBrineAsk = serde_json::from_value(serde_json::json!({"meat_g": 2000, "water_g": 1000, "salt_fraction": 0.025, "sugar_fraction": 0.0, "nitrite_ppm": 120, "cure": "cure1", "class": "cooked"}))?;
/// let got = equilibrium_brine(&ask, &Catalogue::shipped()).unwrap();
/// // Of everything together 120 parts in a million are nitrite, and cure #1 is a sixteenth of it.
/// let together = 2_000.0 + got.brine_g;
/// assert!((got.cure_g * 0.0625 / together * 1e6 - 120.0).abs() < 1e-6);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// Every field that cannot be right; `salt_below_cure` when the cure brings more than was asked.
///
/// # Source
/// Mass balance over meat and brine; limits for immersed meat, 9 CFR 424.21.
pub fn equilibrium_brine(
    ask: &EquilibriumBrineAsk,
    catalogue: &Catalogue,
) -> Result<EquilibriumBrineAnswer, Vec<FieldError>> {
    let cure = ask.cure.choice(catalogue).map_err(|e| vec![e])?;
    let mut checks = Checks::default();
    checks.above_zero(Measure::Mass, ask.meat_g, "meat_g", "2010");
    checks.above_zero(Measure::Mass, ask.water_g, "water_g", "1500");
    for (value, field) in [
        (ask.salt_fraction, "salt_fraction"),
        (ask.sugar_fraction, "sugar_fraction"),
    ] {
        checks.that(
            value.is_finite() && (0.0..1.0).contains(&value),
            field,
            "Give a share from 0 to 1, such as 0.022 for 2.2 %.",
        );
    }
    checks.zero_or_more(Measure::Content, ask.nitrite_ppm, "nitrite_ppm", "120");
    let made_of = &cure.made_of;
    checks.that(
        ask.nitrite_ppm <= 0.0 || made_of.nitrite > 0.0,
        "cure",
        &format!(
            "{} holds no nitrite. Choose a cure that does, such as cure1, or set nitrite_ppm to 0.",
            cure.label()
        ),
    );
    let rules = catalogue.rules_with_limit(&ask.rule_set, ask.class, Law::Immersed, ask.skin_on);
    checks.fine(&rules);
    checks.done()?;
    let rules = rules.map_err(|e| vec![e])?;

    let base = ask.meat_g + ask.water_g;
    let (s, g) = (ask.salt_fraction, ask.sugar_fraction);
    let cure_g = if ask.nitrite_ppm > 0.0 {
        let per = ask.nitrite_ppm / PPM / made_of.nitrite;
        let room = 1.0 - per * (1.0 - made_of.salt - made_of.sugar);
        if room <= 0.0 {
            return Err(vec![FieldError::new(
                "nitrite_ppm",
                "No amount of this cure reaches so much nitrite. Ask for less.",
            )]);
        }
        per * base * (1.0 + s + g) / room
    } else {
        0.0
    };
    let salt_g = left_to_weigh(s * base, cure_g * made_of.salt, "salt")?;
    let sugar_g = left_to_weigh(g * base, cure_g * made_of.sugar, "sugar")?;
    let edges = rules.edges(ask.class, Law::Immersed, ask.skin_on);
    let hit = brine_hit(
        (cure_g, salt_g, sugar_g),
        ask.meat_g + ask.water_g,
        1.0,
        edges,
        made_of,
    );
    let brine_g = ask.water_g + salt_g + sugar_g + cure_g;
    let gets_in = GetsIn::Shared {
        meat: Band::exactly(ask.meat_g),
        brine: Band::exactly(brine_g),
    };
    let ppm = |share: f64| (gets_in.share_of(Band::exactly(cure_g * share)) * PPM).nominal;
    let nitrite_ppm = ppm(made_of.nitrite);
    let mixed = Mixed {
        water: ask.water_g,
        salt: salt_g,
        sugar: sugar_g,
        cure: cure_g,
        made_of,
    };
    let findings = rules
        .judge(&Case {
            class: ask.class,
            law: Law::Immersed,
            skin_on: ask.skin_on,
            no_cure: cure.is_none(),
            nitrite: Band::exactly(nitrite_ppm),
            nitrate: Band::exactly(ppm(made_of.nitrate)),
        })
        .map_err(|e| vec![e])?;
    Ok(EquilibriumBrineAnswer {
        cure_g,
        salt_g,
        sugar_g,
        brine_g,
        nitrite_ppm,
        salometer_degrees: mixed.salometer_degrees(),
        to_hit: hit,
        findings,
    })
}

/// A brine as it was mixed (g).
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Mixed<'a> {
    /// Water.
    pub water: f64,
    /// Salt beside the cure.
    pub salt: f64,
    /// Sugar.
    pub sugar: f64,
    /// Curing salt.
    pub cure: f64,
    /// What that is made of.
    pub made_of: &'a Composition,
}

impl Mixed<'_> {
    /// Checks what was mixed, at the fields of that name.
    pub(crate) fn check(&self, checks: &mut Checks, said: &str) {
        checks.above_zero(Measure::Mass, self.water, "water_g", "4000");
        for (value, field, example) in [
            (self.salt, "salt_g", "300"),
            (self.sugar, "sugar_g", "150"),
            (self.cure, "cure_g", "40"),
        ] {
            checks.zero_or_more(Measure::Mass, value, field, example);
        }
        let Composition {
            nitrite,
            nitrate,
            salt,
            sugar,
        } = *self.made_of;
        checks.that(
            self.cure <= 0.0 || nitrite + nitrate + salt + sugar > 0.0,
            "cure_g",
            &format!("{said} holds nothing that cures. Set cure_g to 0, or name the cure that is in the brine."),
        );
    }

    /// The whole brine.
    #[must_use]
    pub fn mass(&self) -> f64 {
        self.water + self.salt + self.sugar + self.cure
    }

    /// Everything salty in it.
    #[must_use]
    pub fn all_salt(&self) -> f64 {
        self.salt + self.cure * self.made_of.salt
    }

    /// Sodium nitrite in the brine itself, as a share.
    #[must_use]
    pub fn nitrite_share(&self) -> f64 {
        self.cure * self.made_of.nitrite / self.mass()
    }

    /// Sodium nitrate in the brine itself, as a share.
    #[must_use]
    pub fn nitrate_share(&self) -> f64 {
        self.cure * self.made_of.nitrate / self.mass()
    }

    /// Its strength, 100 being as salt as water gets.
    #[must_use]
    pub fn salometer_degrees(&self) -> f64 {
        let salt = self.all_salt();
        100.0 * (salt / (salt + self.water)) / SATURATED_SALT_SHARE
    }
}

/// The numbers to hit for a brine; what the cure brings less of salt is weighed beside it.
pub(crate) fn brine_hit(
    (cure_g, salt_g, sugar_g): (f64, f64, f64),
    meat_and_water_g: f64,
    division_g: f64,
    edges: (f64, f64),
    made_of: &Composition,
) -> ToHit {
    let dissolved = salt_g + sugar_g;
    let ppm = |g: f64| ppm_in(meat_and_water_g + dissolved + g, g, made_of.nitrite);
    let cure = if made_of.nitrite > 0.0 {
        to_hit(cure_g, division_g, edges, ppm)
    } else {
        to_division(cure_g, division_g)
    };
    let salt = (salt_g + (cure_g - cure) * made_of.salt).max(0.0);
    ToHit {
        cure_g: cure,
        salt_g: to_division(salt, division_g),
        nitrite_ppm: ppm(cure),
    }
}

fn left_to_weigh(wanted: f64, from_cure: f64, what: &str) -> Result<f64, Vec<FieldError>> {
    let left = wanted - from_cure;
    if left < -1e-9 * wanted.max(1.0) {
        return Err(vec![
            FieldError::new(
                format!("{what}_fraction"),
                format!("The cure alone brings more {what} than you asked for. Ask for more {what}, or less nitrite."),
            )
            .code(&format!("{what}_below_cure")),
        ]);
    }
    Ok(left.max(0.0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cure::testing;
    use proptest::prelude::*;
    use serde_json::{Value, json};

    fn brine(ask: &EquilibriumBrineAsk) -> Result<EquilibriumBrineAnswer, Vec<FieldError>> {
        equilibrium_brine(ask, &Catalogue::shipped())
    }

    fn ask(edit: Value) -> EquilibriumBrineAsk {
        let mut base = json!({
            "meat_g": 3_000.0, "water_g": 2_000.0, "salt_fraction": 0.022, "sugar_fraction": 0.015,
            "nitrite_ppm": 120.0, "cure": "cure1", "class": "cooked",
        });
        base.as_object_mut()
            .unwrap()
            .extend(edit.as_object().unwrap().clone());
        serde_json::from_value(base).unwrap()
    }

    #[test]
    fn worked_cases_hold() {
        testing::hold("equilibrium-brine", |request| {
            let ask: EquilibriumBrineAsk = serde_json::from_value(request).unwrap();
            serde_json::to_value(brine(&ask).unwrap()).unwrap()
        });
    }

    #[test]
    fn what_cannot_be_mixed_names_its_field() {
        #[rustfmt::skip]
        let cases = [
            (json!({"water_g": 0}), "water_g"),
            (json!({"salt_fraction": 22}), "salt_fraction"),
            (json!({"cure": "none"}), "cure"),
            (json!({"salt_fraction": 0.0005}), "salt_fraction"),
            (json!({"class": "sausage_dried"}), "class"),
            (json!({"nitrite_ppm": 900, "cure": {"nitrite": 0.0009}}), "nitrite_ppm"),
        ];
        for (edit, field) in cases {
            assert_eq!(
                brine(&ask(edit.clone())).unwrap_err()[0].field,
                field,
                "{edit}"
            );
        }
        let error = &brine(&ask(json!({"salt_fraction": 0.0005}))).unwrap_err()[0];
        assert_eq!(error.code.as_deref(), Some("salt_below_cure"));
        assert_eq!(
            error.message,
            "The cure alone brings more salt than you asked for. Ask for more salt, or less nitrite."
        );
    }

    proptest! {
        #[test]
        fn the_brine_gives_back_what_was_asked(meat in 100.0..20_000.0_f64, water in 100.0..20_000.0_f64, salt in 0.01..0.05_f64, sugar in 0.0..0.03, ppm in 1.0..200.0_f64) {
            let got = brine(&ask(json!({
                "meat_g": meat, "water_g": water, "salt_fraction": salt, "sugar_fraction": sugar, "nitrite_ppm": ppm,
            }))).unwrap();
            prop_assert!((got.nitrite_ppm - ppm).abs() < 1e-6);
            let salt_in = got.salt_g + got.cure_g * 0.9375;
            prop_assert!((salt_in / (meat + water) - salt).abs() < 1e-9);
        }
    }
}
