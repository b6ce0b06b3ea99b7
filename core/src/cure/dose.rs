//! A dose as it was weighed out: a fact that is whole without any catalogue.

use super::rules::{Class, Form};
use super::sheet::OwnSaid;
use super::{CureChoice, PPM, Role};
use crate::catalogue::builds::BuildRef;
use crate::catalogue::dosing::Way;
pub use crate::catalogue::schools::SchoolFact;
use crate::caution::Finding;
use crate::ids::PieceId;
use crate::units::{Band, Fraction, Milligrams, Reading, Typed};
use serde::{Deserialize, Serialize};

/// One ingredient of a dose, as the scale showed it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct DoseLine {
    /// What it does in the dose.
    pub role: Role,
    /// What it is called.
    pub name: String,
    /// How much, as it was said.
    pub mass: Reading,
    /// The salt in it, for sauces and pastes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub salt: Option<Typed<Fraction>>,
}

/// What a dose was judged by, with the numbers that held then.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Judged {
    /// The rule set.
    pub rule_set: String,
    /// What becomes of the piece.
    pub class: Class,
    /// A lump or a mix.
    pub form: Form,
    /// The ceiling (ppm).
    pub ceiling_ppm: f64,
    /// The least for slow smoke or hanging (ppm).
    pub floor_ppm: f64,
}

/// A dose as it was weighed out: a fact with the numbers it was made of.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Dose {
    /// By which way it was dosed.
    pub method: Way,
    /// The product it was made for; none where an old ledger does not say.
    #[serde(default)]
    pub build: Option<BuildRef>,
    /// The curing salt.
    pub cure: CureChoice,
    /// The meat it was weighed out for; none where an old ledger does not say.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub over: Option<Milligrams>,
    /// What was weighed.
    pub lines: Vec<DoseLine>,
    /// Nitrite as the scale showed it, and what it may be (ppm).
    pub nitrite: Band,
    /// Nitrate (ppm).
    pub nitrate: Band,
    /// Salt in all (g/kg of what it is shared by); none where an old ledger did not say.
    #[serde(default)]
    pub salt: Option<Band>,
    /// What it was judged by.
    pub judged: Judged,
    /// The cure-time school chosen, or none for the default.
    #[serde(default)]
    pub school: Option<SchoolFact>,
    /// The other pieces of the same mix or brine.
    #[serde(default)]
    pub mixed_with: Vec<PieceId>,
    /// What gave pause.
    #[serde(default)]
    pub findings: Vec<Finding>,
    /// Why the person went on past a stop.
    #[serde(default)]
    pub reason: Option<String>,
    /// What was changed of the product's dose, as it was typed.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub own: Vec<OwnSaid>,
}

impl Dose {
    /// Everything that was weighed (g).
    #[must_use]
    pub fn total_g(&self) -> f64 {
        self.lines.iter().map(|l| l.mass.value.grams()).sum()
    }

    /// True when the meat lies in brine and shares what is dissolved with it.
    #[must_use]
    pub fn in_brine(&self) -> bool {
        self.method.in_brine()
    }
}

/// The bands of a dose, worked out from what was weighed.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Bands {
    /// Nitrite (ppm).
    pub nitrite: Band,
    /// Nitrate (ppm).
    pub nitrate: Band,
    /// Salt in all (g/kg).
    pub salt: Band,
}

/// What lines of a dose bring to `meat_g`, and in a brine to what lies with it.
///
/// * `fine_g`, `meat_division_g` – the smallest steps of the two scales (g)
///
/// Half a step either way is what a scale cannot tell.
#[must_use]
pub fn bands(
    lines: &[DoseLine],
    cure: &CureChoice,
    meat_g: f64,
    in_brine: bool,
    (fine_g, meat_division_g): (f64, f64),
) -> Bands {
    let grams = |role: Role| -> f64 {
        let of = lines.iter().filter(|l| l.role == role);
        of.map(|l| l.mass.value.grams()).sum()
    };
    let all: f64 = lines.iter().map(|l| l.mass.value.grams()).sum();
    let base = if in_brine { meat_g + all } else { meat_g };
    let cure_g = grams(Role::CuringSalt);
    let salty: f64 = lines
        .iter()
        .map(|l| l.mass.value.grams() * l.salt.as_ref().map_or(0.0, |s| s.value.0))
        .sum();
    let salt_lines = lines.iter().filter(|l| l.role == Role::Salt).count() as f64;
    let band = |share: f64, weighed: f64, steps: f64, per: f64| {
        let at = |grams: f64, base: f64| {
            if base > 0.0 {
                grams.max(0.0) * share / base * per
            } else {
                0.0
            }
        };
        let off = steps * fine_g / 2.0;
        Band {
            nominal: at(weighed, base),
            low: at(weighed - off, base + meat_division_g / 2.0),
            high: at(
                weighed + off,
                (base - meat_division_g / 2.0).max(f64::MIN_POSITIVE),
            ),
        }
    };
    let salt_g = cure_g * cure.made_of.salt + grams(Role::Salt) + salty;
    Bands {
        nitrite: band(cure.made_of.nitrite, cure_g, 1.0, PPM),
        nitrate: band(cure.made_of.nitrate, cure_g, 1.0, PPM),
        salt: band(1.0, salt_g, salt_lines.max(1.0), 1_000.0),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::catalogue::Catalogue;

    #[test]
    fn bands_follow_from_what_was_weighed() {
        let catalogue = Catalogue::shipped();
        let cure = CureChoice::from(catalogue.cure("cure1").unwrap());
        let line = |role, grams: f64, salt_fraction: Option<f64>| DoseLine {
            role,
            name: "x".into(),
            mass: Typed::unsaid(Milligrams::from_grams(grams)),
            salt: salt_fraction.map(|s| Typed::unsaid(Fraction(s))),
        };
        let lines = [
            line(Role::CuringSalt, 5.0, None),
            line(Role::Salt, 40.0, None),
            line(Role::Liquid, 50.0, Some(0.16)),
        ];
        let got = bands(&lines, &cure, 2_000.0, false, (1.0, 5.0));
        // 5 g × 6.25 % over 2 kg; half a gram and half of 5 g either way
        assert!((got.nitrite.nominal - 156.25).abs() < 1e-9);
        assert!((got.nitrite.low - 4.5 * 62_500.0 / 2_002.5).abs() < 1e-9);
        assert!((got.nitrite.high - 5.5 * 62_500.0 / 1_997.5).abs() < 1e-9);
        assert_eq!(got.nitrate.high, 0.0);
        // 4.6875 + 40 + 8 g over 2 kg
        assert!((got.salt.nominal - 26.343_75).abs() < 1e-9);
        let brine = bands(&lines, &cure, 2_000.0, true, (1.0, 5.0));
        assert!((brine.nitrite.nominal - 5.0 * 62_500.0 / 2_095.0).abs() < 1e-9);
    }
}
