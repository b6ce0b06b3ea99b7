//! One mix for several pieces: weighed once, then shared out by weight.

use super::dry::{self, ToHit, Weighed, band, check_scales, ppm_in, recipe, scale_findings};
use super::{Addition, WeighedAddition};
use crate::catalogue::Catalogue;
use crate::catalogue::cures::CureAsk;
use crate::caution::{Checks, FieldError, Finding};
use crate::dose::limits::{Case, Class, Form, Law};
use crate::household::Scales;
use crate::units::{self, PPM, to_division};
use serde::{Deserialize, Serialize};

/// A piece of the batch.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BatchPiece {
    /// The caller's own name for it.
    pub id: String,
    /// Green weight (g).
    pub mass_g: f64,
}

/// A dry cure over several pieces, as the HTTP contract spells it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BatchMixAsk {
    /// The pieces that share the mix.
    pub pieces: Vec<BatchPiece>,
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
    /// What becomes of the pieces.
    pub class: Class,
    /// Lumps or a mix.
    #[serde(default)]
    pub form: Form,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// The rules to judge by.
    #[serde(default = "crate::catalogue::rules::default_rule_set")]
    pub rule_set: String,
    /// Smallest step of the scale the mix is weighed on (g).
    #[serde(default = "dry::one_gram")]
    pub scale_division_g: f64,
    /// Smallest step of the scale the meat is weighed on (g).
    #[serde(default = "dry::one_gram")]
    pub meat_scale_division_g: f64,
}

/// The edges of what the nitrite may really be.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Band {
    /// Lower edge (ppm).
    pub nitrite_ppm_low: f64,
    /// Upper edge (ppm).
    pub nitrite_ppm_high: f64,
}

impl From<units::Band> for Band {
    fn from(nitrite: units::Band) -> Self {
        Self {
            nitrite_ppm_low: nitrite.low,
            nitrite_ppm_high: nitrite.high,
        }
    }
}

impl Band {
    fn width(self) -> f64 {
        self.nitrite_ppm_high - self.nitrite_ppm_low
    }
}

/// Which way of weighing leaves less doubt.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Better {
    /// Each piece's cure on its own.
    Alone,
    /// A share of one mix.
    FromMix,
}

/// One piece's share of the mix.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BatchPortion {
    /// The caller's own name for the piece.
    pub id: String,
    /// Its share of the mix, unrounded (g).
    pub portion_g: f64,
    /// The number to hit on the scale (g).
    pub shown_g: f64,
    /// The band if this piece's cure were weighed on its own.
    pub alone: Band,
    /// The band when its share of the mix is weighed.
    pub from_mix: Band,
    /// The way with the narrower band.
    pub better: Better,
}

/// One mix and its shares.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BatchMixAnswer {
    /// Curing salt for the batch, unrounded (g).
    pub cure_g: f64,
    /// Salt for the batch beside the cure, unrounded (g).
    pub salt_g: f64,
    /// Sugar and spices for the batch, unrounded.
    pub additions: Vec<WeighedAddition>,
    /// The whole mix (g).
    pub total_g: f64,
    /// Nitrite as meant (ppm).
    pub nitrite_ppm: f64,
    /// Nitrate as meant (ppm).
    pub nitrate_ppm: f64,
    /// The numbers to hit on the scale for the mix.
    pub weighed: Weighed,
    /// The numbers to hit for the mix, by which a limit is kept.
    pub to_hit: ToHit,
    /// Each piece's share.
    pub pieces: Vec<BatchPortion>,
    /// What to think about, the loudest of all pieces.
    pub findings: Vec<Finding>,
}

/// Weighs one mix for all pieces and shares it out by weight.
///
/// # Example
/// ```
/// use manifest_core::catalogue::Catalogue;
/// use manifest_core::cure::batch::{BatchMixAsk, batch_mix};
///
/// let ask: BatchMixAsk = serde_json::from_value(serde_json::json!({"pieces": [{"id": "a", "mass_g": 1500}, {"id": "b", "mass_g": 500}], "cure": "cure1", "cure_g_per_kg": 2.0, "salt_g_per_kg": 20, "class": "fry"}))?;
/// let got = batch_mix(&ask, &Catalogue::shipped()).unwrap();
/// // Three quarters of the mix go on the piece of three quarters of the weight.
/// assert!((got.pieces[0].portion_g / got.total_g - 0.75).abs() < 1e-9);
/// assert!((got.nitrite_ppm - 125.0).abs() < 1e-9);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// Every field that cannot be right, with what to give instead.
///
/// # Source
/// Dose as [`dry::dry_cure`]; independent reading errors of mix, share and meat added up.
pub fn batch_mix(
    ask: &BatchMixAsk,
    catalogue: &Catalogue,
) -> Result<BatchMixAnswer, Vec<FieldError>> {
    let cure = ask.cure.choice(catalogue).map_err(|e| vec![e])?;
    let mut checks = Checks::default();
    let scales = Scales {
        fine_division_g: ask.scale_division_g,
        meat_division_g: ask.meat_scale_division_g,
    };
    checks.that(
        !ask.pieces.is_empty(),
        "pieces",
        "Name at least one piece with its weight.",
    );
    for (i, piece) in ask.pieces.iter().enumerate() {
        checks.that(
            ask.pieces[..i].iter().all(|p| p.id != piece.id),
            &format!("pieces[{i}].id"),
            &format!(
                "Two pieces are called “{}”. Give each a name of its own.",
                piece.id
            ),
        );
    }
    let masses: Vec<_> = ask
        .pieces
        .iter()
        .enumerate()
        .map(|(i, p)| (format!("pieces[{i}].mass_g"), p.mass_g))
        .collect();
    check_scales(scales, &masses, &mut checks);
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
    let rules = rules.map_err(|e| vec![e])?;

    let made_of = &recipe.cure.made_of;
    let meat_g: f64 = ask.pieces.iter().map(|p| p.mass_g).sum();
    let kg = meat_g / 1_000.0;
    let cure_g = kg * recipe.cure_g_per_kg;
    let salt_g = kg * recipe.salt_to_weigh_g_per_kg();
    let total_g = kg * recipe.total_g_per_kg();
    let weighed_cure = to_division(cure_g, scales.fine_division_g);
    let nominal = ppm_in(1_000.0, recipe.cure_g_per_kg, made_of.nitrite);

    let edges = rules.edges(ask.class, law, ask.skin_on);
    let hit = recipe.hit(cure_g, salt_g, meat_g, scales, edges);
    let mut findings: Vec<Finding> = Vec::new();
    let mut pieces = Vec::with_capacity(ask.pieces.len());
    for piece in &ask.pieces {
        let portion_g = total_g * piece.mass_g / meat_g;
        let shown_g = to_division(portion_g, scales.fine_division_g);
        let alone_cure = piece.mass_g / 1_000.0 * recipe.cure_g_per_kg;
        let alone_weighed = to_division(alone_cure, scales.fine_division_g);
        let alone = Band::from(band(alone_weighed, made_of.nitrite, piece.mass_g, scales));
        let share = Share {
            weighed_cure_g: weighed_cure,
            meat_g,
            total_g,
            piece_g: piece.mass_g,
            portion_g,
            shown_g,
        };
        let nitrite = share.content(made_of.nitrite, scales);
        let from_mix = Band::from(nitrite);
        let judged = rules
            .judge(&Case {
                class: ask.class,
                law,
                skin_on: ask.skin_on,
                no_cure: recipe.cure.is_none(),
                nitrite,
                nitrate: share.content(made_of.nitrate, scales),
            })
            .map_err(|e| vec![e])?;
        let weighed = if weighed_cure > 0.0 { shown_g } else { 0.0 };
        let scale = scale_findings(cure_g.min(portion_g), weighed, nominal, nitrite, scales);
        for finding in judged.into_iter().chain(scale) {
            match findings.iter_mut().find(|f| f.code == finding.code) {
                Some(known) if known.severity >= finding.severity => {}
                Some(known) => *known = finding,
                None => findings.push(finding),
            }
        }
        pieces.push(BatchPortion {
            id: piece.id.clone(),
            portion_g,
            shown_g,
            alone,
            from_mix,
            better: if from_mix.width() < alone.width() {
                Better::FromMix
            } else {
                Better::Alone
            },
        });
    }
    Ok(BatchMixAnswer {
        cure_g,
        salt_g,
        additions: recipe.additions_for(meat_g),
        total_g,
        nitrite_ppm: nominal,
        nitrate_ppm: ppm_in(1_000.0, recipe.cure_g_per_kg, made_of.nitrate),
        weighed: Weighed {
            cure_g: weighed_cure,
            salt_g: to_division(salt_g, scales.fine_division_g),
            nitrite_ppm: ppm_in(meat_g, weighed_cure, made_of.nitrite),
        },
        to_hit: hit,
        pieces,
        findings,
    })
}

/// One piece's share of a weighed mix.
pub(crate) struct Share {
    pub weighed_cure_g: f64,
    pub meat_g: f64,
    pub total_g: f64,
    pub piece_g: f64,
    pub portion_g: f64,
    pub shown_g: f64,
}

impl Share {
    /// What the piece gets of a substance that is `share` of the cure.
    pub(crate) fn content(&self, share: f64, scales: Scales) -> units::Band {
        let (d, big_d) = (scales.fine_division_g / 2.0, scales.meat_division_g / 2.0);
        if share <= 0.0 || self.portion_g <= 0.0 {
            return units::Band::exactly(0.0);
        }
        if self.weighed_cure_g <= 0.0 || self.shown_g <= 0.0 {
            // Relative errors have no meaning about a reading of zero: the piece may get
            // nothing, or at most half a division more than the scale showed.
            let most = (self.weighed_cure_g + d) / self.total_g * (self.shown_g + d);
            return units::Band {
                nominal: 0.0,
                low: 0.0,
                high: most * share / (self.piece_g - big_d) * PPM,
            };
        }
        let nominal =
            self.weighed_cure_g * share / self.meat_g * PPM * self.shown_g / self.portion_g;
        let error = d / self.weighed_cure_g + d / self.shown_g + big_d / self.piece_g;
        units::Band {
            nominal,
            low: (nominal * (1.0 - error)).max(0.0),
            high: nominal * (1.0 + error),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::caution::{Code, Severity};
    use crate::cure::testing;
    use proptest::prelude::*;
    use serde_json::json;

    fn mix(ask: &BatchMixAsk) -> Result<BatchMixAnswer, Vec<FieldError>> {
        batch_mix(ask, &Catalogue::shipped())
    }

    fn ask(masses: &[f64], division: f64) -> BatchMixAsk {
        let pieces: Vec<_> = masses
            .iter()
            .enumerate()
            .map(|(i, m)| json!({"id": format!("p{i}"), "mass_g": m}))
            .collect();
        serde_json::from_value(json!({
            "pieces": pieces, "cure": "cure1", "nitrite_ppm": 156.0, "salt_g_per_kg": 22.0,
            "class": "fry", "scale_division_g": division,
        }))
        .unwrap()
    }

    #[test]
    fn worked_cases_hold() {
        testing::hold("batch-mix", |request| {
            let ask: BatchMixAsk = serde_json::from_value(request).unwrap();
            serde_json::to_value(mix(&ask).unwrap()).unwrap()
        });
    }

    #[test]
    fn a_batch_without_pieces_or_with_an_unweighed_one_is_refused() {
        assert_eq!(
            mix(&ask(&[], 1.0)).unwrap_err()[0].to_string(),
            "pieces: Name at least one piece with its weight."
        );
        assert_eq!(
            mix(&ask(&[500.0, 0.0], 1.0)).unwrap_err()[0].field,
            "pieces[1].mass_g"
        );
    }

    #[test]
    fn a_share_the_scale_shows_as_zero_is_a_stop_with_a_finite_band() {
        let got = mix(&ask(&[20.0, 5_000.0], 2.0)).unwrap();
        assert_eq!(got.pieces[0].shown_g, 0.0);
        assert!(got.pieces[0].from_mix.nitrite_ppm_high.is_finite());
        assert!(
            got.findings
                .iter()
                .any(|f| (f.code, f.severity) == (Code::ScaleCannotWeigh, Severity::Stop))
        );
    }

    proptest! {
        #[test]
        fn splitting_a_batch_never_changes_the_dose(masses in prop::collection::vec(50.0..8_000.0, 1..12), at in 0_usize..12) {
            let whole = mix(&ask(&masses, 0.1)).unwrap();
            let portions: f64 = whole.pieces.iter().map(|p| p.portion_g).sum();
            prop_assert!((portions - whole.total_g).abs() < 1e-6);
            let cut = at.min(masses.len() - 1);
            if cut > 0 {
                let (a, b) = masses.split_at(cut);
                let parts = mix(&ask(a, 0.1)).unwrap().cure_g + mix(&ask(b, 0.1)).unwrap().cure_g;
                prop_assert!((parts - whole.cure_g).abs() < 1e-9);
            }
        }
    }
}
