//! Species and their cuts, as their data files word them.

use super::holds::SpeciesHold;
use crate::caution::{Code, Finding, Severity};
use serde::{Deserialize, Serialize};
use std::sync::LazyLock;

/// A low and a high end of an expectation.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(from = "Ends")]
pub struct Range {
    /// The low end.
    pub low: f64,
    /// The high end.
    pub high: f64,
}

/// Data files write `[low, high]`, programs `{low, high}`; both read.
#[derive(Deserialize)]
#[serde(untagged, deny_unknown_fields)]
enum Ends {
    Pair(f64, f64),
    Named { low: f64, high: f64 },
}

impl From<Ends> for Range {
    fn from(ends: Ends) -> Self {
        match ends {
            Ends::Pair(low, high) | Ends::Named { low, high } => Self { low, high },
        }
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
    /// How many a whole animal has; none for what comes loose or out of another cut.
    #[serde(default)]
    pub count: Option<u32>,
    /// The cuts of the share table it is taken out of; empty for one of them.
    #[serde(default)]
    pub of: Vec<String>,
    /// How many lumps come out of each of those, and with how much of its boneless weight.
    #[serde(default)]
    pub out_of: Option<OutOf>,
    /// Usual share of fat once bone and skin are off.
    pub fat_fraction: f64,
    /// Share of bone, skin and gland that comes out of it when it is boned and skinned.
    #[serde(default)]
    pub bone_fraction: f64,
    /// How many times as long as wide it lies; sets its size from its weight.
    pub length_to_width: f64,
}

/// What a cut taken out of a larger one usually makes of it.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OutOf {
    /// Lumps out of one.
    pub lumps: u32,
    /// All lumps together, as a share of its boneless weight; the rest is trim.
    pub fraction: f64,
}

/// The word for a block of ground or diced meat; it is no cut of any animal.
pub const MIX: &str = "mix";

/// A block of ground or diced meat, wherever it came from.
static MIX_CUT: LazyLock<Cut> = LazyLock::new(|| Cut {
    key: MIX.into(),
    name: "ground block".into(),
    share: None,
    fat: Fat::Streaked,
    thickness_mm: Range {
        low: 40.0,
        high: 100.0,
    },
    muscles: Muscles::Many,
    bone_in: false,
    skin_on: false,
    flat: true,
    count: None,
    of: Vec::new(),
    out_of: None,
    fat_fraction: 0.25,
    bone_fraction: 0.0,
    length_to_width: 2.0,
});

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

/// What any meat is safe at (°C): the highest of the safe minimum temperatures.
const GONE_SAFE_C: f64 = 73.9;

/// A species of the catalogue.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Species {
    /// The stable word.
    pub key: String,
    /// Grows with every change; what came in keeps the one it came in with.
    #[serde(default = "first")]
    pub version: u32,
    /// The species whose data it takes where its own says nothing.
    #[serde(default)]
    pub like: Option<String>,
    /// As it is called.
    pub name: String,
    /// As its meat is called.
    pub meat: String,
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
    /// Bone from carcass, for stock.
    pub bone_of_carcass: Range,
    /// Fat to render, from carcass.
    pub fat_of_carcass: Range,
    /// Share of fat in its trim.
    pub trim_fat_fraction: f64,
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
    /// What holds its meat back until it has come to an end.
    #[serde(default, rename = "hold")]
    pub holds: Vec<SpeciesHold>,
}

fn first() -> u32 {
    1
}

impl Species {
    /// A species that is in no catalogue any more: no cuts, cooked through, never dried raw.
    #[must_use]
    pub fn gone(key: &str, version: u32) -> Self {
        let none = Range {
            low: 0.0,
            high: 0.0,
        };
        Self {
            key: key.into(),
            version,
            like: None,
            name: format!("{} (no longer in the catalogue)", key.replace('_', " ")),
            meat: key.replace('_', " "),
            pair: "ZZ".into(),
            order: u32::MAX,
            kind: String::new(),
            safe_inside_c: GONE_SAFE_C,
            safe_inside_why: "the strictest for any meat, since nothing is known of it".into(),
            carcass_of_live: none,
            carcass_of_field_dressed: None,
            lean_of_carcass: none,
            bone_of_carcass: none,
            fat_of_carcass: none,
            trim_fat_fraction: 0.0,
            asks: Vec::new(),
            raw_drying: RawDrying {
                verdict: RawDryingVerdict::Refused,
                words: "Nothing is known of this species any more, so it is not dried raw.".into(),
            },
            cuts: Vec::new(),
            cautions: Vec::new(),
            holds: Vec::new(),
        }
    }

    /// True when a list of species words means it: by its own word, or by the species it leans on.
    #[must_use]
    pub fn is_among(&self, words: &[String]) -> bool {
        words
            .iter()
            .any(|w| *w == self.key || w == "*" || Some(w) == self.like.as_ref())
    }

    /// The cut called `key`; a ground block is one of every species.
    #[must_use]
    pub fn cut(&self, key: &str) -> Option<&Cut> {
        if key == MIX {
            return Some(&MIX_CUT);
        }
        self.cuts.iter().find(|c| c.key == key)
    }

    /// Its cautions as findings, to be shown once.
    #[must_use]
    pub fn findings(&self) -> Vec<Finding> {
        let say = |c: &SpeciesCaution| {
            Finding::new(Code::SpeciesCaution, c.severity, &c.message).remedy(&c.asks)
        };
        self.cautions.iter().map(say).collect()
    }
}
