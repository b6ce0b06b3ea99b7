//! What an animal of a known weight should give: the catalogue's ranges, and the household's own
//! once it has cut up enough animals of the kind.

use super::{KnownWeight, Portion, Range, Species};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// From so many own animals of a kind on the household's own shares are used.
pub const OWN_FROM: usize = 3;

/// Whose number an expectation is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum CutSource {
    /// The catalogue's.
    Catalogue,
    /// The household's own.
    Own,
}

/// A share as the household's own animals had it.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OwnShare {
    /// Of so many animals.
    pub animals: usize,
    /// The mean.
    pub mean: f64,
    /// The sample's standard deviation.
    pub spread: f64,
}

impl OwnShare {
    /// Mean and spread of some animals' shares; none without any.
    #[must_use]
    pub fn of(shares: &[f64]) -> Option<Self> {
        let n = shares.len();
        if n == 0 {
            return None;
        }
        let mean = shares.iter().sum::<f64>() / n as f64;
        let squares: f64 = shares.iter().map(|s| (s - mean).powi(2)).sum();
        Some(Self {
            animals: n,
            mean,
            spread: if n > 1 {
                (squares / (n - 1) as f64).sqrt()
            } else {
                0.0
            },
        })
    }

    /// Mean less and plus the spread, never below nothing.
    #[must_use]
    pub fn range(self) -> Range {
        Range {
            low: (self.mean - self.spread).max(0.0),
            high: self.mean + self.spread,
        }
    }
}

/// The household's own shares of carcass weight, by cut of one species.
pub type OwnShares = BTreeMap<String, OwnShare>;

/// What one cut of an animal should weigh.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ExpectedCut {
    /// The cut.
    pub cut: String,
    /// As it is called.
    pub name: String,
    /// What to reckon with (g).
    pub mass_g: Range,
    /// Whose number that is.
    pub by: CutSource,
    /// The catalogue's own range (g).
    pub catalogue_g: Range,
    /// The household's, from the first animal on; used from the third.
    pub own: Option<OwnShare>,
    /// How many lumps of it come; none for what comes loose.
    pub count: Option<u32>,
}

/// What an animal of a known weight should give.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Expectation {
    /// Cold carcass (g).
    pub carcass_g: Range,
    /// Boneless lean (g).
    pub lean_g: Range,
    /// Bones for stock (g).
    pub bones_g: Range,
    /// Fat to render (g).
    pub fat_g: Range,
    /// Each cut.
    pub cuts: Vec<ExpectedCut>,
}

/// What to expect of an animal, or nothing for a single bought cut.
///
/// # Source
/// The species' data file; ranges multiply low with low and high with high. Where the household
/// has [`OWN_FROM`] animals of the kind, its mean less and plus its spread takes the range's place.
#[must_use]
pub fn expect(
    species: &Species,
    known: KnownWeight,
    portion: Portion,
    mass_g: f64,
    own: &OwnShares,
) -> Option<Expectation> {
    let carcass_g = carcass_share(species, known)?.times(mass_g);
    let cuts = species.cuts.iter().filter_map(|c| {
        let catalogue_g = c.share?.with(carcass_g);
        let own = own.get(&c.key).copied();
        let used = own.filter(|o| o.animals >= OWN_FROM);
        Some(ExpectedCut {
            cut: c.key.clone(),
            name: c.name.clone(),
            mass_g: used.map_or(catalogue_g, |o| o.range().with(carcass_g)),
            by: if used.is_some() {
                CutSource::Own
            } else {
                CutSource::Catalogue
            },
            catalogue_g,
            own,
            count: c.count.zip(portion.of_animal()).map(|(whole, share)| {
                // A side of an animal still has its one neck.
                ((f64::from(whole) * share).round() as u32).max(1)
            }),
        })
    });
    Some(Expectation {
        carcass_g,
        lean_g: species.lean_of_carcass.with(carcass_g),
        bones_g: species.bone_of_carcass.with(carcass_g),
        fat_g: species.fat_of_carcass.with(carcass_g),
        cuts: cuts.collect(),
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
    use crate::testing::species;

    #[test]
    fn a_deer_by_its_field_dressed_weight() {
        let deer = species("deer").unwrap();
        let none = OwnShares::new();
        let got = expect(
            deer,
            KnownWeight::FieldDressed,
            Portion::Whole,
            50_000.0,
            &none,
        )
        .unwrap();
        #[rustfmt::skip]
        let cases = [
            // what        got            low g     high g: by hand from the shares
            ("carcass",    got.carcass_g, 33_000.0, 37_500.0),
            ("lean",       got.lean_g,    19_800.0, 26_250.0),
            ("bones",      got.bones_g,    6_600.0, 10_125.0),
            ("fat",        got.fat_g,        330.0,  1_875.0),
            ("backstraps", got.cuts.iter().find(|c| c.cut == "backstrap").unwrap().mass_g, 2_613.6, 3_780.0),
        ];
        for (what, got, low, high) in cases {
            assert!(
                (got.low - low).abs() < 1e-6 && (got.high - high).abs() < 1e-6,
                "{what}: {got:?}"
            );
        }
        assert!(
            expect(
                deer,
                KnownWeight::BoughtCut,
                Portion::Primal,
                2_000.0,
                &none
            )
            .is_none()
        );
    }

    #[test]
    fn a_side_has_half_the_legs_and_still_one_neck() {
        let count = |portion, cut: &str| {
            let deer = species("deer").unwrap();
            let none = OwnShares::new();
            let got = expect(deer, KnownWeight::Carcass, portion, 30_000.0, &none).unwrap();
            got.cuts.iter().find(|c| c.cut == cut).unwrap().count
        };
        #[rustfmt::skip]
        let cases = [
            (Portion::Whole,   "leg",   Some(2)),
            (Portion::Half,    "leg",   Some(1)),
            (Portion::Half,    "neck",  Some(1)),
            (Portion::Whole,   "shank", Some(4)),
            (Portion::Quarter, "shank", Some(1)),
        ];
        for (portion, cut, want) in cases {
            assert_eq!(count(portion, cut), want, "{portion:?} {cut}");
        }
    }

    #[test]
    fn the_households_own_share_is_shown_from_the_first_and_used_from_the_third() {
        let deer = species("deer").unwrap();
        let leg = |shares: &[f64]| {
            let own = OwnShares::from([("leg".to_string(), OwnShare::of(shares).unwrap())]);
            let got = expect(deer, KnownWeight::Carcass, Portion::Whole, 10_000.0, &own).unwrap();
            got.cuts.into_iter().find(|c| c.cut == "leg").unwrap()
        };
        let two = leg(&[0.30, 0.32]);
        assert_eq!(
            (two.by, two.mass_g),
            (CutSource::Catalogue, two.catalogue_g)
        );
        assert_eq!(two.own.unwrap().animals, 2);
        let three = leg(&[0.30, 0.32, 0.34]);
        assert_eq!(three.by, CutSource::Own);
        // Mean 0.32, spread 0.02 of 10 kg.
        assert!((three.mass_g.low - 3_000.0).abs() < 1e-6);
        assert!((three.mass_g.high - 3_400.0).abs() < 1e-6);
        assert!((three.catalogue_g.low - 3_256.0).abs() < 1e-6);
    }
}
