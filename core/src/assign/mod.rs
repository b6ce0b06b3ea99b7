//! What suits what, and why: builds ranked for one piece.

pub mod blend;
pub mod cutsheet;
pub mod plan;
pub mod shopping;
pub mod slabs;
pub mod suggest;
pub mod wishes;
pub mod wraps;

use crate::animal::hold::HoldState;
use crate::animal::{Cut, MIX, Muscles, Range, RawDryingVerdict, Species};
use crate::builds::{Build, Tool, Wanted};
use crate::catalogue::Catalogue;
use crate::caution::{Code, Finding, Severity};
use crate::place::equipment::Equipment;
use crate::shape::Shape;
use crate::units::show::{capital, length, temperature, trim};
use crate::units::{Celsius, Fraction, Millimetres, Units};
use serde::{Deserialize, Serialize};

/// Under this a piece cures in days and dries out in a hot smoker.
const THIN: Millimetres = Millimetres(25.0);

/// What is known of the piece, or of the cut not yet cut, that is to be assigned.
#[derive(Clone, Debug)]
pub struct Candidate<'a> {
    /// Its species.
    pub species: &'a Species,
    /// Its cut.
    pub cut: &'a Cut,
    /// Whether it was hunted.
    pub wild: bool,
    /// How it lies.
    pub shape: Shape,
    /// Whether it was opened flat.
    pub opened: bool,
    /// Its share of fat, when it was blended.
    pub fat: Option<Fraction>,
    /// Cut already; what is still to be cut can be boned and skinned on the way.
    pub is_cut: bool,
    /// What stands in the house; none until it was listed.
    pub equipment: Option<&'a Equipment>,
    /// What holds its animal's meat back.
    pub holds: &'a [HoldState],
    /// The household's units, for telling it.
    pub units: Units,
}

/// How well a build suits a piece: 2 classic, 1 works, 0 no.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Suitability {
    /// The build's word.
    pub build: String,
    /// As it is called.
    pub name: String,
    /// 2 classic, 1 works, 0 no.
    pub score: u8,
    /// True for fresh, render, stock, trim and waste.
    pub ending: bool,
    /// Why, in words; the first is the strongest.
    pub reasons: Vec<String>,
    /// What has to be done to it first.
    pub first: Vec<String>,
    /// Tools it takes that are not in the house.
    pub lacks: Vec<Tool>,
    /// True while something holds the meat back from this product.
    pub held: bool,
    /// What to think about.
    pub findings: Vec<Finding>,
}

impl Suitability {
    /// True when it suits, nothing is missing in the house and nothing holds it back.
    #[must_use]
    pub fn is_possible_now(&self) -> bool {
        self.score > 0 && self.lacks.is_empty() && !self.held
    }
}

/// All builds for one piece: what is possible now best first, then what lacks a tool or is held
/// back, endings after products, unsuitable ones last.
#[must_use]
pub fn rank(piece: &Candidate<'_>, catalogue: &Catalogue) -> Vec<Suitability> {
    let mut ranked: Vec<_> = catalogue
        .builds
        .iter()
        .map(|b| suitability(b, piece))
        .collect();
    ranked.sort_by_key(|s| {
        (
            s.score == 0,
            s.ending,
            !s.is_possible_now(),
            best_first(s.score, &s.build, catalogue),
        )
    });
    ranked
}

/// Sorts builds that suit: the better score first and, between equals, what keeps the piece whole
/// before what grinds it, since a muscle once ground cannot be put back. The sorts are stable, so
/// the catalogue's own order decides what is left.
#[must_use]
pub fn best_first(score: u8, build_key: &str, catalogue: &Catalogue) -> impl Ord + use<> {
    let ground = catalogue.build(build_key).is_some_and(|b| b.is_ground());
    (std::cmp::Reverse(score), ground)
}

/// How well one build suits a piece, and why.
#[must_use]
pub fn suitability(build: &Build, piece: &Candidate<'_>) -> Suitability {
    let mut found = Suitability {
        build: build.key.clone(),
        name: build.name.clone(),
        score: 0,
        ending: build.ending,
        reasons: Vec::new(),
        first: Vec::new(),
        lacks: Vec::new(),
        held: false,
        findings: Vec::new(),
    };
    if piece.holds.iter().any(HoldState::forbids_everything) {
        condemned(build, piece, &mut found);
        return found;
    }
    if piece.cut.key == MIX {
        of_a_block(build, piece, &mut found);
    } else {
        match build.suit(piece.species, &piece.cut.key) {
            Some(suit) => {
                found.score = suit.score;
                found.reasons.push(suit.reason.clone());
            }
            None => found.reasons = why_not(build, piece),
        }
    }
    if build.ending {
        return found;
    }
    if found.score > 0 {
        prepare(build, piece, &mut found);
    }
    thickness(build, piece, &mut found);
    if build.is_dried() {
        drying(build, piece, &mut found);
    }
    heat(build, piece, &mut found);
    if let Some(equipment) = piece.equipment {
        tools(build, equipment, &mut found);
    }
    for hold in piece.holds.iter().filter(|h| !h.keeps_from_raw_drying()) {
        found.findings.extend(hold.finding(piece.units));
    }
    found
}

/// Nobody eats an animal that tested positive.
fn condemned(build: &Build, piece: &Candidate<'_>, found: &mut Suitability) {
    if build.discard {
        found.score = 2;
        found
            .reasons
            .push("The animal tested positive: nobody eats it.".into());
        return;
    }
    found.held = true;
    found
        .reasons
        .push("The animal tested positive for chronic wasting disease: do not eat.".into());
    found
        .findings
        .extend(piece.holds.iter().filter_map(|h| h.finding(piece.units)));
}

/// A ground block becomes what is made of ground meat, if its fat is right.
fn of_a_block(build: &Build, piece: &Candidate<'_>, found: &mut Suitability) {
    if build.ending {
        found.score = 1;
        found
            .reasons
            .push("Ground meat can be eaten fresh or frozen.".into());
        return;
    }
    let Some(mix) = &build.mix else {
        found
            .reasons
            .push("It is ground: this is made of a whole piece.".into());
        return;
    };
    found.score = 2;
    found
        .reasons
        .push("It is ground already, as this product wants it.".into());
    if let Some(fat) = piece.fat.map(Fraction::get) {
        let wants = mix.fat_fraction;
        if !(wants.low - 0.02..=wants.high + 0.02).contains(&fat) {
            found.score = 1;
            found.reasons.push(format!(
                "It has {} % fat; {} wants {}.",
                trim(fat * 100.0, 0),
                build.name,
                percents(wants)
            ));
        }
    }
}

/// Why a cut is not made into a build, from what the build wants; two reasons at most.
fn why_not(build: &Build, piece: &Candidate<'_>) -> Vec<String> {
    let (cut, wants) = (piece.cut, &build.wants);
    let name = capital(&cut.name);
    let mut why = Vec::new();
    if cut.bone_fraction > 0.55 {
        why.push(format!("{name}: mostly bone, good for stock."));
    }
    if let Some(mix) = &build.mix {
        why.push(format!(
            "Made of {} with {}.",
            mix.lean_words, mix.fat_words
        ));
    }
    if let Some(fat) = wants.fat_fraction {
        let has = cut.fat_fraction;
        let say = || {
            format!(
                "{name} has about {} % fat; {} wants {}.",
                trim(has * 100.0, 0),
                build.name,
                percents(fat)
            )
        };
        if has < fat.low - 1e-9 || has > fat.high + 1e-9 {
            why.push(say());
        }
    }
    if wants.muscles == Some(Muscles::One) && cut.muscles == Muscles::Many {
        why.push(format!(
            "{name} is several muscles; {} wants one whole muscle.",
            build.name
        ));
    }
    if wants.flat && !cut.flat && !piece.opened {
        why.push(format!("{name} does not lie flat."));
    }
    let thickest = piece
        .shape
        .thickness()
        .map_or(cut.thickness_mm.high, Millimetres::get);
    if let Some(least) = wants.least_thickness_mm.filter(|mm| thickest < *mm) {
        why.push(format!(
            "{name} is at most {} thick; {} wants {} or more.",
            length(Millimetres(thickest.round()), piece.units.length),
            build.name,
            length(Millimetres(least), piece.units.length)
        ));
    }
    if wants.skin == Wanted::On && !cut.skin_on {
        why.push(format!(
            "{name} comes without the skin that keeps it supple."
        ));
    }
    why.truncate(2);
    if why.is_empty() {
        why.push(format!(
            "{} is a product of other meat: {} of {} has its own better uses.",
            capital(&build.name),
            cut.name,
            piece.species.name
        ));
    }
    why
}

/// What has to be done first: bone out, skin off, opened flat.
fn prepare(build: &Build, piece: &Candidate<'_>, found: &mut Suitability) {
    let wants = &build.wants;
    let mut first = |what: &str| found.first.push(what.into());
    if piece.shape.bone_in && (wants.bone == Wanted::Off || build.is_ground()) {
        first("bone out");
    }
    if piece.shape.skin_on && (wants.skin == Wanted::Off || build.is_ground()) {
        first("skin off");
    }
    if build.is_ground() && piece.cut.key != MIX {
        first("grind or dice it with its fat part");
    }
}

/// The thickest a build may be cured whole in this household.
#[must_use]
pub fn thickness_limit(build: &Build, equipment: Option<&Equipment>) -> Option<Millimetres> {
    let own = build.cure.as_ref()?.limit_thickness_mm;
    let house = equipment.map_or(own, |e| e.thickness_limit_mm);
    // A build for thick pieces has its own limit; the household's is for slabs.
    Some(Millimetres(if own > 75.0 { own } else { own.min(house) }))
}

fn thickness(build: &Build, piece: &Candidate<'_>, found: &mut Suitability) {
    let (Some(thick), Some(limit)) = (
        piece.shape.thickness(),
        thickness_limit(build, piece.equipment),
    ) else {
        return;
    };
    if build.is_ground() && piece.cut.key != MIX {
        return;
    }
    if thick > limit {
        found.score = found.score.min(1);
        found.findings.push(
            Finding::new(
                Code::TooThickForRule,
                Severity::Caution,
                "Too thick to cure evenly in one piece.",
            )
            .saw(length(thick, piece.units.length))
            .wants(format!("at most {}", length(limit, piece.units.length)))
            .remedy("Split it or open it flat before it is dosed."),
        );
        if found.score > 0 {
            found.first.push("split, or open flat".into());
        }
    } else if thick < THIN && found.score > 0 {
        found.reasons.push(format!(
            "At {} it cures in days and dries out fast: keep the smoke short.",
            length(thick, piece.units.length)
        ));
    }
}

fn drying(build: &Build, piece: &Candidate<'_>, found: &mut Suitability) {
    let mut refuse = |why: String| {
        found.score = 0;
        found.reasons.insert(0, why);
    };
    let whole = !build.is_ground();
    if whole && piece.shape.bone_in && piece.is_cut {
        refuse("Bone is in: meat rots along it before it dries. Bone it out first.".into());
    }
    if whole && piece.cut.muscles == Muscles::Many && !build.wants.sound_fat {
        refuse(
            "Several muscles: the seams between them trap air and spoil. Seam one out first."
                .into(),
        );
    }
    if !build.raw_dried && piece.species.raw_drying.verdict != RawDryingVerdict::Refused {
        return;
    }
    let raw = &piece.species.raw_drying;
    match raw.verdict {
        RawDryingVerdict::Refused => refuse(raw.words.clone()),
        RawDryingVerdict::Caution if piece.wild => refuse(raw.words.clone()),
        RawDryingVerdict::Caution => found.findings.push(
            Finding::new(Code::SpeciesCaution, Severity::Caution, raw.words.clone())
                .remedy("Mark the pack: not for pregnant, very young, old or ill people."),
        ),
        RawDryingVerdict::FreezeFirst => {
            let mut held = false;
            for hold in piece.holds.iter().filter(|h| h.keeps_from_raw_drying()) {
                held = true;
                found.findings.extend(hold.finding(piece.units));
            }
            found.held |= held;
            if piece.holds.is_empty() {
                found.findings.push(
                    Finding::new(Code::SpeciesCaution, Severity::Caution, raw.words.clone())
                        .remedy("Freeze it first, or choose a product that is heated to its mark."),
                );
            }
        }
        RawDryingVerdict::Fine => {}
    }
}

/// Tools that the household's list does not hold.
fn tools(build: &Build, equipment: &Equipment, found: &mut Suitability) {
    found.lacks = build
        .tools
        .iter()
        .copied()
        .filter(|t| !equipment.has(*t))
        .collect();
    if found.lacks.is_empty() || found.score == 0 {
        return;
    }
    let names: Vec<_> = found.lacks.iter().map(|t| t.label()).collect();
    found.findings.push(
        Finding::new(
            Code::ToolMissing,
            Severity::Caution,
            "It takes something that is not on your equipment list.",
        )
        .wants(names.join(", "))
        .remedy("Add it to the list in the settings if you have it, or borrow it."),
    );
}

fn percents(range: Range) -> String {
    format!(
        "{} to {} %",
        trim(range.low * 100.0, 0),
        trim(range.high * 100.0, 0)
    )
}

fn heat(build: &Build, piece: &Candidate<'_>, found: &mut Suitability) {
    let Some(smoke) = &build.smoke else { return };
    let safe = piece.species.safe_inside_c;
    if smoke.inside_c + 0.05 >= safe {
        return;
    }
    // Where the species, not only the product, sets the target, cooking later does not excuse it.
    let strict = safe > 63.0;
    found.findings.push(
        Finding::new(
            if strict {
                Code::UnderSafeHeat
            } else {
                Code::CookBeforeEating
            },
            if strict {
                Severity::Caution
            } else {
                Severity::Info
            },
            if strict {
                "The build's usual heat is not enough for this species."
            } else {
                "Smoked, not cooked through: it is eaten only after frying."
            },
        )
        .saw(format!(
            "{} inside",
            temperature(Celsius(smoke.inside_c), piece.units.heat)
        ))
        .wants(format!(
            "{} inside, {}",
            temperature(Celsius(safe), piece.units.heat),
            piece.species.safe_inside_why
        ))
        .remedy(if strict {
            "Take it on to the higher temperature."
        } else {
            "The pack is marked: cook before eating."
        }),
    );
}

/// The inside temperature a smoked piece is brought to: the higher of the product's and, where
/// the species sets it, the animal's.
#[must_use]
pub fn inside_target(build: &Build, species: &Species) -> Option<Celsius> {
    let smoke = build.smoke.as_ref()?;
    let species_rules = species.safe_inside_c > 63.0;
    Some(Celsius(if species_rules {
        smoke.inside_c.max(species.safe_inside_c)
    } else {
        smoke.inside_c
    }))
}

#[cfg(test)]
mod tests;
