//! A cover brine by recipe: of fixed strength, and taken out after its time. How much gets in lies
//! between what the meat takes up and what both would share if it lay long enough.

use super::brine::Mixed;
use crate::catalogue::Catalogue;
use crate::catalogue::cures::CureAsk;
use crate::caution::{Checks, Code, FieldError, Finding, Severity};
use crate::dose::limits::{Case, Class, Law};
use crate::dose::uptake::{Governs, Uptake};
use crate::units::bounds::Measure;
use crate::units::{Band, Fraction, PPM, show};
use serde::{Deserialize, Serialize};

/// What meat takes up of a brine, as a share of its weight, where nobody has weighed it.
pub const USUAL_PICKUP: f64 = 0.10;

/// A smaller gain is not all that went in: strong brine draws water out while its salt goes in.
const LEAST_PICKUP: f64 = 0.05;

/// More than this no meat takes up.
const MOST_PICKUP: f64 = 0.60;

/// Under this thickness (mm) ...
const SMALL_UNDER: f64 = 50.0;

/// ... and from so many days on, meat and brine are nearly alike.
const LONG_FROM: f64 = 7.0;

/// A cover brine as it was mixed, and what lies in it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CoverBrineAsk {
    /// Green weight of the meat (g).
    pub meat_g: f64,
    /// Water (g).
    pub water_g: f64,
    /// Salt beside the cure (g).
    pub salt_g: f64,
    /// Sugar (g).
    pub sugar_g: f64,
    /// Curing salt (g).
    pub cure_g: f64,
    /// Which.
    pub cure: CureAsk,
    /// Brine taken up, as a share of the meat.
    #[serde(default = "usual_pickup")]
    pub pickup_fraction: f64,
    /// Greatest thickness (mm).
    pub thickness_mm: f64,
    /// Days in the brine.
    pub days: f64,
    /// What becomes of the piece.
    pub class: Class,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// The rules to judge by.
    #[serde(default = "crate::catalogue::rules::default_rule_set")]
    pub rule_set: String,
}

const fn usual_pickup() -> f64 {
    USUAL_PICKUP
}

/// What a cover brine does.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CoverBrineAnswer {
    /// Nitrite by what is taken up (ppm).
    pub nitrite_ppm_pickup: f64,
    /// Nitrite if meat and brine become alike (ppm).
    pub nitrite_ppm_equilibrium: f64,
    /// Which is likelier.
    pub governs: Governs,
    /// Salt of meat and brine together, if they become alike.
    pub salt_fraction_equilibrium: f64,
    /// Strength of the fresh brine, 100 being as salt as water gets.
    pub salometer_degrees: f64,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// Which figure is likelier for a piece of this thickness after so many days.
#[must_use]
pub fn governs(thickness_mm: f64, days: f64) -> Governs {
    if thickness_mm < SMALL_UNDER && days >= LONG_FROM {
        Governs::Equilibrium
    } else {
        Governs::Pickup
    }
}

/// Says what a recipe's cover brine brings into the meat, by both reckonings.
///
/// # Example
/// ```
/// use manifest_core::catalogue::Catalogue;
/// use manifest_core::cure::cover::{CoverBrineAsk, cover_brine};
///
/// let ask: CoverBrineAsk = serde_json::from_value(serde_json::json!({"meat_g": 2000, "water_g": 940, "salt_g": 40, "sugar_g": 0, "cure_g": 20, "cure": "cure1", "thickness_mm": 60, "days": 7, "class": "cooked"}))?;
/// let got = cover_brine(&ask, &Catalogue::shipped()).unwrap();
/// // A kilo of brine with 1.25 g of nitrite: a tenth of it taken up by each kilo, or shared by three kilos.
/// assert!((got.nitrite_ppm_pickup - 125.0).abs() < 1e-9);
/// assert!((got.nitrite_ppm_equilibrium - 1_250.0 / 3.0).abs() < 1e-9);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// Every field that cannot be right.
///
/// # Source
/// Pickup and equilibrium as in the FSIS calculations handbook; ceilings are judged on the higher
/// figure and floors on the lower, since a thick piece may end at either.
pub fn cover_brine(
    ask: &CoverBrineAsk,
    catalogue: &Catalogue,
) -> Result<CoverBrineAnswer, Vec<FieldError>> {
    let cure = ask.cure.choice(catalogue).map_err(|e| vec![e])?;
    let brine = Mixed {
        water: ask.water_g,
        salt: ask.salt_g,
        sugar: ask.sugar_g,
        cure: ask.cure_g,
        made_of: &cure.made_of,
    };
    let mut checks = Checks::default();
    checks.above_zero(Measure::Mass, ask.meat_g, "meat_g", "2010");
    brine.check(&mut checks, &cure.label());
    checks.that(
        ask.pickup_fraction > 0.0 && ask.pickup_fraction <= MOST_PICKUP,
        "pickup_fraction",
        "Give the brine taken up as a share of the meat, above 0 and at most 0.6, such as 0.1.",
    );
    checks.above_zero(Measure::Length, ask.thickness_mm, "thickness_mm", "60");
    checks.zero_or_more(Measure::Time, ask.days, "days", "7");
    let rules = catalogue.rules_with_limit(&ask.rule_set, ask.class, Law::Immersed, ask.skin_on);
    checks.fine(&rules);
    checks.done()?;
    let rules = rules.map_err(|e| vec![e])?;

    let mut findings = Vec::new();
    let pickup = if ask.pickup_fraction < LEAST_PICKUP {
        findings.push(too_little(ask.pickup_fraction));
        USUAL_PICKUP
    } else {
        ask.pickup_fraction
    };
    let uptake =
        |share: f64| Uptake::of(ask.cure_g * share, brine.mass(), ask.meat_g, pickup) * PPM;
    let (nitrite, nitrate) = (uptake(cure.made_of.nitrite), uptake(cure.made_of.nitrate));
    let case = Case {
        class: ask.class,
        law: Law::Immersed,
        skin_on: ask.skin_on,
        no_cure: cure.is_none(),
        nitrite: Band::exactly(nitrite.higher()),
        nitrate: Band::exactly(nitrate.higher()),
    };
    let judged = rules.judge_down_to(&case, nitrite.lower());
    findings.extend(judged.map_err(|e| vec![e])?);
    Ok(CoverBrineAnswer {
        nitrite_ppm_pickup: nitrite.pickup,
        nitrite_ppm_equilibrium: nitrite.equilibrium,
        governs: governs(ask.thickness_mm, ask.days),
        salt_fraction_equilibrium: brine.all_salt() / (ask.meat_g + brine.mass()),
        salometer_degrees: brine.salometer_degrees(),
        findings,
    })
}

fn too_little(said: f64) -> Finding {
    Finding::new(
        Code::PickupAssumed,
        Severity::Info,
        format!(
            "A gain of {} is not all that went in: strong brine draws water out while its salt goes in. It is reckoned with {}.",
            show::share(Fraction(said)),
            show::share(Fraction(USUAL_PICKUP))
        ),
    )
    .saw(show::share(Fraction(said)))
    .wants(format!("at least {}", show::share(Fraction(LEAST_PICKUP))))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cure::testing;
    use crate::units::PPM;
    use proptest::prelude::*;
    use serde_json::{Value, json};

    fn cover(edit: &Value) -> Result<CoverBrineAnswer, Vec<FieldError>> {
        let mut base = json!({
            "meat_g": 3_000.0, "water_g": 3_000.0, "salt_g": 250.0, "sugar_g": 120.0, "cure_g": 40.0, "cure": "cure1",
            "thickness_mm": 80.0, "days": 10.0, "class": "cooked",
        });
        let base_fields = base.as_object_mut().unwrap();
        base_fields.extend(edit.as_object().unwrap().clone());
        cover_brine(
            &serde_json::from_value(base).unwrap(),
            &Catalogue::shipped(),
        )
    }

    #[test]
    fn worked_cases_hold() {
        testing::hold("cover-brine", |request| {
            let ask: CoverBrineAsk = serde_json::from_value(request).unwrap();
            serde_json::to_value(cover_brine(&ask, &Catalogue::shipped()).unwrap()).unwrap()
        });
    }

    #[test]
    fn ceilings_go_by_the_higher_figure_and_floors_by_the_lower() {
        let codes = |edit: Value| -> Vec<_> {
            let found = cover(&edit).unwrap().findings;
            found.iter().map(|f| (f.code, f.severity)).collect()
        };
        // 73 ppm by pickup, 390 ppm if they become alike: too much by one, too little by the other.
        let both = codes(json!({}));
        assert!(
            both.contains(&(Code::NitriteOverLimit, Severity::Stop)),
            "{both:?}"
        );
        assert!(
            both.contains(&(Code::NitriteBelowFloor, Severity::Caution)),
            "{both:?}"
        );
        let weak = codes(json!({"cure_g": 2.0}));
        assert_eq!(weak, [(Code::ColourOnly, Severity::Caution)]);
        let none = codes(json!({"cure": "none", "cure_g": 0.0}));
        assert_eq!(none, [(Code::NoNitrite, Severity::Info)]);
    }

    #[test]
    fn thin_and_long_is_equilibrium_and_a_small_gain_is_not_believed() {
        #[rustfmt::skip]
        let cases = [
            (49.9, 7.0, Governs::Equilibrium), (50.0, 30.0, Governs::Pickup), (20.0, 6.9, Governs::Pickup), (120.0, 14.0, Governs::Pickup),
        ];
        for (thickness, days, want) in cases {
            let got = cover(&json!({"thickness_mm": thickness, "days": days})).unwrap();
            assert_eq!(got.governs, want, "{thickness} mm, {days} days");
        }
        let usual = cover(&json!({})).unwrap();
        let small = cover(&json!({"pickup_fraction": 0.02})).unwrap();
        assert_eq!(small.nitrite_ppm_pickup, usual.nitrite_ppm_pickup);
        assert_eq!(small.findings[0].code, Code::PickupAssumed);
        let more = cover(&json!({"pickup_fraction": 0.05})).unwrap();
        assert!(more.nitrite_ppm_pickup < usual.nitrite_ppm_pickup);
    }

    #[test]
    fn what_cannot_be_mixed_names_its_field() {
        #[rustfmt::skip]
        let cases = [
            (json!({"meat_g": 0}), "meat_g"), (json!({"water_g": 0}), "water_g"), (json!({"salt_g": -1}), "salt_g"),
            (json!({"sugar_g": -1}), "sugar_g"), (json!({"cure_g": -1}), "cure_g"), (json!({"cure": "none"}), "cure_g"),
            (json!({"pickup_fraction": 0}), "pickup_fraction"), (json!({"pickup_fraction": 0.61}), "pickup_fraction"),
            (json!({"thickness_mm": 0}), "thickness_mm"), (json!({"days": -1}), "days"),
            (json!({"class": "sausage_dried"}), "class"), (json!({"rule_set": "mars"}), "rule_set"), (json!({"cure": "pink"}), "cure"),
        ];
        for (edit, field) in cases {
            assert_eq!(cover(&edit).unwrap_err()[0].field, field, "{edit}");
        }
    }

    proptest! {
        #[test]
        fn nothing_of_the_cure_is_lost_between_meat_and_brine(
            meat in 100.0..20_000.0_f64, water in 100.0..20_000.0_f64, salt in 0.0..900.0_f64, cure in 0.0..200.0_f64,
        ) {
            let got = cover(&json!({"meat_g": meat, "water_g": water, "salt_g": salt, "cure_g": cure})).unwrap();
            let brine = water + salt + 120.0 + cure;
            let everywhere = got.nitrite_ppm_equilibrium / PPM * (meat + brine);
            prop_assert!((everywhere - cure * 0.0625).abs() < 1e-9 * (1.0 + cure));
            let all_salt = got.salt_fraction_equilibrium * (meat + brine);
            prop_assert!((all_salt - salt - cure * 0.9375).abs() < 1e-6);
        }
    }
}
