//! Species and their cuts: what an animal of a known weight gives, and what it asks of people.

use crate::caution::{Code, Finding, Severity};
use crate::data;
use serde::{Deserialize, Serialize};
use std::sync::LazyLock;

/// A low and a high end of an expectation.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(from = "(f64, f64)")]
pub struct Range {
    /// The low end.
    pub low: f64,
    /// The high end.
    pub high: f64,
}

impl From<(f64, f64)> for Range {
    fn from((low, high): (f64, f64)) -> Self {
        Self { low, high }
    }
}

impl Range {
    /// Both ends times `factor`.
    #[must_use]
    pub fn times(self, factor: f64) -> Self {
        Self {
            low: self.low * factor,
            high: self.high * factor,
        }
    }

    /// Low with low and high with high.
    #[must_use]
    pub fn with(self, other: Self) -> Self {
        Self {
            low: self.low * other.low,
            high: self.high * other.high,
        }
    }
}

/// How fat sits in a cut.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Fat {
    /// Hardly any.
    Lean,
    /// Through and through.
    Streaked,
    /// A cover on one side.
    FatCapped,
    /// Nothing but.
    Fat,
}

/// One muscle or several.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Muscles {
    /// One whole muscle.
    One,
    /// Several, with seams between them.
    Many,
}

/// A cut of a species, with the traits that decide what it can become.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Cut {
    /// The stable word.
    pub key: String,
    /// As it is called at the table.
    pub name: String,
    /// Share of cold carcass weight; none for a cut that is part of another.
    #[serde(default)]
    pub share: Option<Range>,
    /// How fat sits in it.
    pub fat: Fat,
    /// Usual greatest thickness (mm).
    pub thickness_mm: Range,
    /// One muscle or several.
    pub muscles: Muscles,
    /// Whether it comes with bone.
    pub bone_in: bool,
    /// Whether it comes with skin.
    pub skin_on: bool,
    /// Whether it lies flat.
    pub flat: bool,
}

/// Whether meat of a species may be dried raw.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum RawDryingVerdict {
    /// Usual.
    Fine,
    /// With care.
    Caution,
    /// After freezing.
    FreezeFirst,
    /// Never.
    Refused,
}

/// Whether meat of a species may be dried raw, and why.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RawDrying {
    /// The verdict.
    pub verdict: RawDryingVerdict,
    /// The reason and what to do.
    pub words: String,
}

/// Something a species asks of everybody who handles it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SpeciesCaution {
    /// How loudly.
    pub severity: Severity,
    /// The hazard.
    pub message: String,
    /// What it asks for.
    pub asks: String,
}

/// What else has to be known about an animal because it decides something later.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Asks {
    /// Skin on or off.
    Skin,
    /// Male or female.
    Sex,
    /// Young or old.
    Age,
}

/// A species of the catalogue.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Species {
    /// The stable word.
    pub key: String,
    /// As it is called.
    pub name: String,
    /// The two letters its lots' tags begin with.
    pub pair: String,
    /// Its place in lists.
    pub order: u32,
    /// The group whose drawing and wording it shares.
    pub kind: String,
    /// The least inside temperature when it is eaten without further cooking (°C).
    pub safe_inside_c: f64,
    /// Whose number that is.
    pub safe_inside_why: String,
    /// Carcass from live weight.
    pub carcass_of_live: Range,
    /// Carcass from field-dressed weight, where animals are dressed in the field.
    #[serde(default)]
    pub carcass_of_field_dressed: Option<Range>,
    /// Boneless lean from carcass.
    pub lean_of_carcass: Range,
    /// What Receive asks besides.
    pub asks: Vec<Asks>,
    /// Whether it may be dried raw.
    pub raw_drying: RawDrying,
    /// Its cuts.
    #[serde(rename = "cut")]
    pub cuts: Vec<Cut>,
    /// What it asks of people.
    #[serde(default, rename = "caution")]
    pub cautions: Vec<SpeciesCaution>,
}

/// Every species that ships with the program.
pub static SPECIES: LazyLock<Vec<Species>> = LazyLock::new(|| {
    let mut species: Vec<Species> = data::folder("species");
    species.sort_by_key(|s| s.order);
    species
});

/// The species called `key`.
#[must_use]
pub fn species(key: &str) -> Option<&'static Species> {
    SPECIES.iter().find(|s| s.key == key)
}

impl Species {
    /// The cut called `key`.
    #[must_use]
    pub fn cut(&self, key: &str) -> Option<&Cut> {
        self.cuts.iter().find(|c| c.key == key)
    }

    /// Its cautions as findings, to be shown once.
    #[must_use]
    pub fn findings(&self) -> Vec<Finding> {
        let say = |c: &SpeciesCaution| {
            Finding::new(Code::SpeciesCaution, c.severity, &c.message).way_out(&c.asks)
        };
        self.cautions.iter().map(say).collect()
    }
}

/// Which weight of an animal is known.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum KnownWeight {
    /// Alive.
    Live,
    /// Guts out, hide on.
    FieldDressed,
    /// Skinned or scalded, head off, cold.
    Carcass,
    /// One cut, as bought.
    BoughtCut,
}

/// What one cut of an animal should weigh (g).
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ExpectedCut {
    /// The cut.
    pub cut: String,
    /// Its weight (g).
    pub mass_g: Range,
}

/// What an animal of a known weight should give.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Expectation {
    /// Cold carcass (g).
    pub carcass_g: Range,
    /// Boneless lean (g).
    pub lean_g: Range,
    /// Each cut (g).
    pub cuts: Vec<ExpectedCut>,
}

/// What to expect of an animal, or nothing for a single bought cut.
///
/// # Source
/// The species' data file; ranges multiply low with low and high with high.
#[must_use]
pub fn expect(species: &Species, known: KnownWeight, mass_g: f64) -> Option<Expectation> {
    let carcass_share = carcass_share(species, known)?;
    let carcass_g = carcass_share.times(mass_g);
    Some(Expectation {
        carcass_g,
        lean_g: species.lean_of_carcass.with(carcass_g),
        cuts: species
            .cuts
            .iter()
            .filter_map(|c| {
                Some(ExpectedCut {
                    cut: c.key.clone(),
                    mass_g: c.share?.with(carcass_g),
                })
            })
            .collect(),
    })
}

/// The carcass as a share of the known weight; none for a single cut.
#[must_use]
pub fn carcass_share(species: &Species, known: KnownWeight) -> Option<Range> {
    match known {
        KnownWeight::Live => Some(species.carcass_of_live),
        KnownWeight::FieldDressed => Some(
            species
                .carcass_of_field_dressed
                .unwrap_or(species.carcass_of_live),
        ),
        KnownWeight::Carcass => Some(Range {
            low: 1.0,
            high: 1.0,
        }),
        KnownWeight::BoughtCut => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::HashSet;

    #[test]
    fn every_species_is_whole() {
        let mut pairs = HashSet::new();
        for s in SPECIES.iter() {
            assert!(
                s.pair.len() == 2 && pairs.insert(&s.pair),
                "{}: tag letters",
                s.key
            );
            let cuts: HashSet<_> = s.cuts.iter().map(|c| &c.key).collect();
            assert_eq!(cuts.len(), s.cuts.len(), "{}: a cut stands twice", s.key);
            let shares: Vec<_> = s.cuts.iter().filter_map(|c| c.share).collect();
            let (low, high) = shares
                .iter()
                .fold((0.0, 0.0), |(l, h), r| (l + r.low, h + r.high));
            assert!(
                low < 1.0 && high > 0.9,
                "{}: shares sum to {low}..{high}",
                s.key
            );
            assert!(s.safe_inside_c >= 62.8, "{}", s.key);
        }
        for key in [
            "pig",
            "wild_boar",
            "deer",
            "elk",
            "goat",
            "lamb",
            "beef",
            "turkey",
            "goose",
            "duck",
        ] {
            assert!(species(key).is_some(), "{key} is missing");
        }
    }

    #[test]
    fn a_deer_by_its_field_dressed_weight() {
        let deer = species("deer").unwrap();
        let got = expect(deer, KnownWeight::FieldDressed, 50_000.0).unwrap();
        assert!((got.carcass_g.low - 33_000.0).abs() < 1e-6);
        assert!((got.carcass_g.high - 37_500.0).abs() < 1e-6);
        assert!(got.lean_g.low < got.lean_g.high);
        assert!(expect(deer, KnownWeight::BoughtCut, 2_000.0).is_none());
    }

    #[test]
    fn wild_pigs_are_never_dried_raw_and_birds_are_cooked_through() {
        assert_eq!(
            species("wild_boar").unwrap().raw_drying.verdict,
            RawDryingVerdict::Refused
        );
        assert_eq!(
            species("turkey").unwrap().raw_drying.verdict,
            RawDryingVerdict::Refused
        );
        assert!(species("duck").unwrap().safe_inside_c >= 73.9);
    }
}
