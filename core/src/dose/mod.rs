//! A dose as it was weighed out: a fact that is whole without any catalogue.

mod closed;
pub mod contents;
pub mod limits;
pub mod uptake;

use crate::catalogue::builds::BuildRef;
use crate::catalogue::cures::{Composition, CureChoice, Role};
use crate::catalogue::dosing::DosingMethod;
pub use crate::catalogue::time_rules::TimeRuleFact;
use crate::caution::{FieldError, Finding};
use crate::dose::contents::GetsIn;
use crate::dose::limits::{Case, Class, Form, Law, RuleSet};
use crate::dose::uptake::{Governs, Uptake};
use crate::ids::{PieceId, VesselId};
use crate::units::{Band, Celsius, Fraction, Milligrams, Millimetres, PPM, Reading, Typed};
pub use closed::Closed;
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
    /// What a source of nitrite is made of that is not the cure of its dose.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub made_of: Option<Composition>,
}

impl DoseLine {
    /// What a line brings of something a curing salt holds (g); nothing where it is none.
    #[must_use]
    pub fn brings(&self, cure: &CureChoice, of: impl Fn(&Composition) -> f64) -> f64 {
        if self.role != Role::CuringSalt {
            return 0.0;
        }
        self.mass.value.grams() * of(self.made_of.as_ref().unwrap_or(&cure.made_of))
    }
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

/// How a brine of which only some gets in is reckoned with.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct TakenUp {
    /// What is taken up of a brine that covers it, as a share of the meat.
    pub pickup: f64,
    /// The likelier of the two figures.
    pub governs: Governs,
    /// What was to be pumped in, as a share of the meat.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pump: Option<f64>,
    /// True when it lies in the brine, not only pumped with it.
    pub covers: bool,
}

impl TakenUp {
    /// What of something dissolved gets in (g on a gram of meat), by both reckonings; `pumped` is what the scale
    /// says, in the place of the wish.
    #[must_use]
    pub fn of(&self, dissolved_g: f64, brine_g: f64, meat_g: f64, pumped: Option<f64>) -> Uptake {
        let pump = pumped.or(self.pump).unwrap_or(0.0);
        let share = pump + if self.covers { self.pickup } else { 0.0 };
        let got = Uptake::of(dissolved_g, brine_g, meat_g, share);
        Uptake {
            equilibrium: if self.covers {
                got.equilibrium
            } else {
                got.pickup
            },
            ..got
        }
    }
}

/// The vessel that a dose was put into.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct InVessel {
    /// Its number.
    pub id: VesselId,
    /// As it is called, if it has a name.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// The others that were put into it then.
    #[serde(default)]
    pub with: Vec<PieceId>,
    /// Layers in it.
    #[serde(default = "one_layer")]
    pub layers: u32,
    /// True when it was shared out by eye.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub by_eye: bool,
    /// How it is closed, if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub closed: Option<Closed>,
}

const fn one_layer() -> u32 {
    1
}

/// What was settled on for the time of one dose, beside its school.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct OwnTime {
    /// Days of a recipe.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub days: Option<u32>,
    /// Hours in a salt box.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
    /// Thicknesses that count for it: of its zones, or rolled and tied, in the place of the piece's own.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub zones: Vec<Typed<Millimetres>>,
    /// Why those count.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub why: Option<String>,
    /// How often it is turned, in the place of what the product says.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub turning: Option<Turning>,
}

/// Where nothing was settled on: as the product and the household have it.
pub(crate) static AS_USUAL: OwnTime = OwnTime {
    days: None,
    hours: None,
    zones: Vec::new(),
    why: None,
    turning: None,
};

/// How often a piece is turned, massaged or stirred in its cure.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Turning {
    /// Morning and evening.
    TwiceADay,
    /// Every day.
    Daily,
    /// Every second day.
    EverySecondDay,
    /// Once, when half of its time is over.
    AtHalfTime,
    /// Never: it lies under its brine, or in its salt.
    LeftAlone,
}

impl OwnTime {
    /// True when nothing was settled on.
    #[must_use]
    pub fn is_usual(&self) -> bool {
        *self == Self::default()
    }

    /// Hours from one turning to the next, where it is turned again and again; none where it is left alone or turned
    /// once.
    #[must_use]
    pub fn turned_every_h(&self, product_days: u32) -> Option<i64> {
        match self.turning {
            Some(Turning::TwiceADay) => Some(12),
            Some(Turning::Daily) => Some(24),
            Some(Turning::EverySecondDay) => Some(48),
            Some(Turning::AtHalfTime | Turning::LeftAlone) => None,
            None => (product_days > 0).then_some(i64::from(product_days) * 24),
        }
    }

    /// The thickness that rules: the greatest of its zones, else the piece's own.
    #[must_use]
    pub fn thickness(&self, own: Option<Millimetres>) -> Option<Millimetres> {
        let zones = self.zones.iter().map(|z| z.value.0);
        zones
            .fold(None, |most: Option<f64>, z| {
                Some(most.map_or(z, |m| m.max(z)))
            })
            .map(Millimetres)
            .or(own)
    }
}

/// A brine as it was when the meat went in.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct BrineState {
    /// How cold it was.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub temperature: Option<Typed<Celsius>>,
    /// Whether it was stirred until nothing lay on the bottom.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub clear: Option<bool>,
}

impl BrineState {
    /// True when nobody said anything of it.
    #[must_use]
    pub fn is_unsaid(&self) -> bool {
        *self == Self::default()
    }
}

/// A dose as it was weighed out: a fact with the numbers it was made of.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Dose {
    /// By which way it was dosed.
    pub method: DosingMethod,
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
    pub school: Option<TimeRuleFact>,
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
    /// The way of its product, where it is not the product's own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub way: Option<String>,
    /// How much of its brine gets in, where that is not known beforehand.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub taken_up: Option<TakenUp>,
    /// The vessel it was put into; none where an old ledger does not say.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub vessel: Option<InVessel>,
    /// What was settled on for its time.
    #[serde(default, skip_serializing_if = "OwnTime::is_usual")]
    pub time: OwnTime,
    /// Its brine when the meat went in.
    #[serde(default, skip_serializing_if = "BrineState::is_unsaid")]
    pub brine: BrineState,
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

/// Salt that meat takes up in a box at the most, as a share of its weight.
///
/// # Source
/// Weighings of salted hams and loins: 6 % at the most, legs 8 %.
const TAKEN_IN_BOX: f64 = 0.06;

const TAKEN_BY_LEGS: f64 = 0.08;

/// What is this heavy is a leg (g).
const A_LEG_G: f64 = 4_000.0;

/// Salt that meat takes up in a box at the most, as a share of its weight.
#[must_use]
pub fn taken_in_box(meat_g: f64) -> f64 {
    if meat_g >= A_LEG_G {
        TAKEN_BY_LEGS
    } else {
        TAKEN_IN_BOX
    }
}

/// What a dose brings into the meat, as far as that is known.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Contents {
    /// Nitrite (ppm).
    pub nitrite: Band,
    /// Nitrate (ppm).
    pub nitrate: Band,
    /// Salt in all (g/kg); none where nobody can tell.
    pub salt: Option<Band>,
    /// Nitrite by both reckonings, where only some of a brine gets in (ppm).
    pub uptake: Option<Uptake>,
}

impl Contents {
    /// What `lines` bring to `meat_g` by a way of dosing.
    ///
    /// * `pumped` – what the scale says was pumped in, as a share of the meat; the wish counts where nothing does
    /// * `scales` – the smallest steps of the fine scale and the meat's (g)
    #[must_use]
    pub fn of(
        lines: &[DoseLine],
        cure: &CureChoice,
        meat_g: f64,
        (method, taken_up): (DosingMethod, Option<&TakenUp>),
        pumped: Option<f64>,
        scales: (f64, f64),
    ) -> Self {
        let Bands {
            nitrite,
            nitrate,
            salt,
        } = bands(lines, cure, meat_g, method.in_brine(), scales);
        if method.is_buried() {
            return Self::in_salt_box(lines, cure, meat_g);
        }
        let Some(taken) = taken_up else {
            return Self {
                nitrite,
                nitrate,
                salt: Some(salt),
                uptake: None,
            };
        };
        let brine_g: f64 = lines.iter().map(|l| l.mass.value.grams()).sum();
        // Everything was weighed over meat and brine; what is dissolved follows from that.
        let dissolved = |per: f64, unit: f64| per / unit * (meat_g + brine_g);
        let between = |nominal: f64, unit: f64| {
            let got = taken.of(dissolved(nominal, unit), brine_g, meat_g, pumped) * unit;
            let likelier = match taken.governs {
                Governs::Pickup => got.pickup,
                Governs::Equilibrium => got.equilibrium,
            };
            let band = Band {
                nominal: likelier,
                low: got.lower(),
                high: got.higher(),
            };
            (band, got)
        };
        let (nitrite, uptake) = between(nitrite.nominal, PPM);
        Self {
            nitrite,
            nitrate: between(nitrate.nominal, PPM).0,
            salt: Some(between(salt.nominal, 1_000.0).0),
            uptake: Some(uptake),
        }
    }

    /// In a salt box nothing is promised: the most that its salt can bring is what limits are held against, and nothing of it is
    /// what floors are.
    fn in_salt_box(lines: &[DoseLine], cure: &CureChoice, meat_g: f64) -> Self {
        let salty = |l: &&DoseLine| matches!(l.role, Role::CuringSalt | Role::Salt);
        let all: f64 = lines
            .iter()
            .filter(salty)
            .map(|l| l.mass.value.grams())
            .sum();
        let taken = taken_in_box(meat_g);
        let most = |of: fn(&Composition) -> f64| {
            let brought: f64 = lines.iter().map(|l| l.brings(cure, of)).sum();
            let upper = brought / all.max(f64::MIN_POSITIVE) * taken * PPM;
            Band {
                nominal: upper,
                low: 0.0,
                high: upper,
            }
        };
        let nitrite = most(|c| c.nitrite);
        Self {
            nitrite,
            nitrate: most(|c| c.nitrate),
            salt: None,
            uptake: (nitrite.high > 0.0).then_some(Uptake {
                pickup: nitrite.high,
                equilibrium: 0.0,
            }),
        }
    }

    /// What a ceiling is held against: the higher figure, where there are two.
    #[must_use]
    pub fn most(&self) -> f64 {
        self.uptake.map_or(self.nitrite.nominal, Uptake::higher)
    }

    /// What a floor is held against: the lower figure, where there are two.
    #[must_use]
    pub fn least(&self) -> Band {
        self.uptake
            .map_or(self.nitrite, |u| Band::exactly(u.lower()))
    }

    /// Judges it: ceilings by the most that gets in, floors by the least.
    ///
    /// # Errors
    /// As [`RuleSet::limit`].
    pub fn judge(
        &self,
        rules: &RuleSet,
        class: Class,
        law: Law,
        skin_on: bool,
        no_cure: bool,
    ) -> Result<Vec<Finding>, FieldError> {
        let between = self.uptake.is_some();
        let case = Case {
            class,
            law,
            skin_on,
            no_cure,
            nitrite: if between {
                Band::exactly(self.most())
            } else {
                self.nitrite
            },
            nitrate: if between {
                Band::exactly(self.nitrate.high)
            } else {
                self.nitrate
            },
        };
        rules.judge_down_to(&case, self.least().nominal)
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
    let brings =
        |of: fn(&Composition) -> f64| -> f64 { lines.iter().map(|l| l.brings(cure, of)).sum() };
    // As one curing salt of their mean, so that a step of the scale means what it means for each.
    let share = |of: fn(&Composition) -> f64| {
        let strongest = lines.iter().filter_map(|l| l.made_of.as_ref()).map(of);
        let usual = strongest.fold(of(&cure.made_of), f64::max);
        if cure_g > 0.0 {
            brings(of) / cure_g
        } else {
            usual
        }
    };
    let salty: f64 = lines
        .iter()
        .map(|l| l.mass.value.grams() * l.salt.as_ref().map_or(0.0, |s| s.value.0))
        .sum();
    let salt_lines = lines.iter().filter(|l| l.role == Role::Salt).count() as f64;
    let gets_in = GetsIn::Whole {
        meat: Band::weighed(base, meat_division_g),
    };
    let band = |share: f64, weighed: f64, steps: f64, per: f64| {
        gets_in.share_of(Band::weighed(weighed, steps * fine_g) * share) * per
    };
    let salt_g = brings(|c| c.salt) + grams(Role::Salt) + salty;
    Bands {
        nitrite: band(share(|c| c.nitrite), cure_g, 1.0, PPM),
        nitrate: band(share(|c| c.nitrate), cure_g, 1.0, PPM),
        salt: band(1.0, salt_g, salt_lines.max(1.0), 1_000.0),
    }
}

/// A number that was changed, kept with the dose.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct OwnSaid {
    /// What it is called.
    pub label: String,
    /// As it was typed.
    pub said: String,
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
            made_of: None,
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
