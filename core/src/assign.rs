//! What suits what, and why: builds ranked for one piece.

use crate::animal::{Cut, Muscles, RawDryingVerdict, Species};
use crate::builds::{AfterCure, BUILDS, Build};
use crate::caution::{Code, Finding, Severity};
use crate::units::show::trim;
use serde::{Deserialize, Serialize};

/// Under this a piece cures in days and dries out in a hot smoker (mm).
const THIN_MM: f64 = 25.0;

/// What is known of the piece to be assigned.
#[derive(Clone, Copy, Debug)]
pub struct Candidate<'a> {
    /// Its species.
    pub species: &'a Species,
    /// Its cut.
    pub cut: &'a Cut,
    /// Whether it was hunted.
    pub wild: bool,
    /// Greatest thickness, if measured (mm).
    pub thickness_mm: Option<f64>,
    /// Whether bone is in.
    pub bone_in: bool,
    /// Whether the skin is on.
    pub skin_on: bool,
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
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// All builds for one piece, best first, endings after products, unsuitable ones last.
#[must_use]
pub fn rank(piece: &Candidate<'_>) -> Vec<Suitability> {
    let mut ranked: Vec<_> = BUILDS.iter().map(|b| suitability(b, piece)).collect();
    // Stable, so the catalogue's own order decides between equals.
    ranked.sort_by_key(|s| (s.score == 0, s.ending, std::cmp::Reverse(s.score)));
    ranked
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
        findings: Vec::new(),
    };
    match build.suit(&piece.species.key, &piece.cut.key) {
        Some(suit) => {
            found.score = suit.score;
            found.reasons.push(suit.reason.clone());
        }
        None => found.reasons.push(format!(
            "{} of {} is not made into this.",
            capital(&piece.cut.name),
            piece.species.name
        )),
    }
    if build.ending {
        return found;
    }
    thickness(build, piece, &mut found);
    if build.after_cure == AfterCure::Hang {
        drying(piece, &mut found);
    }
    heat(build, piece, &mut found);
    found
}

fn thickness(build: &Build, piece: &Candidate<'_>, found: &mut Suitability) {
    let (Some(mm), Some(cure)) = (piece.thickness_mm, &build.cure) else {
        return;
    };
    if mm > cure.limit_thickness_mm {
        found.score = found.score.min(1);
        found.findings.push(
            Finding::new(
                Code::TooThickForRule,
                Severity::Caution,
                "Too thick to cure evenly in one piece.",
            )
            .saw(format!("{} mm", trim(mm, 1)))
            .wants(format!("at most {} mm", trim(cure.limit_thickness_mm, 0)))
            .way_out("Split it or open it flat before it is dosed."),
        );
    } else if mm < THIN_MM && found.score > 0 {
        found.reasons.push(format!(
            "At {} mm it cures in days and dries out fast: keep the smoke short.",
            trim(mm, 0)
        ));
    }
}

fn drying(piece: &Candidate<'_>, found: &mut Suitability) {
    let mut refuse = |why: String| {
        found.score = 0;
        found.reasons.insert(0, why);
    };
    if piece.bone_in {
        refuse("Bone is in: meat rots along it before it dries. Bone it out first.".into());
    }
    if piece.cut.muscles == Muscles::Many {
        refuse(
            "Several muscles: the seams between them trap air and spoil. Seam one out first."
                .into(),
        );
    }
    let raw = &piece.species.raw_drying;
    match raw.verdict {
        RawDryingVerdict::Refused => refuse(raw.words.clone()),
        RawDryingVerdict::Caution if piece.wild => refuse(raw.words.clone()),
        RawDryingVerdict::Caution | RawDryingVerdict::FreezeFirst => found.findings.push(
            Finding::new(
                Code::SpeciesCaution,
                Severity::Caution,
                "Dried raw: nothing in this build kills parasites.",
            )
            .way_out(&raw.words),
        ),
        RawDryingVerdict::Fine => {}
    }
    found.findings.push(
        Finding::new(
            Code::NeedsDryingPlace,
            Severity::Info,
            "Needs a place at 10 to 15 °C and 70 to 80 % humidity for weeks.",
        )
        .way_out("A chamber, or a cool cellar where no animal reaches."),
    );
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
        .saw(format!("{} °C inside", trim(smoke.inside_c, 1)))
        .wants(format!(
            "{} °C inside, {}",
            trim(safe, 1),
            piece.species.safe_inside_why
        ))
        .way_out(if strict {
            "Take it on to the higher temperature."
        } else {
            "The pack is marked: cook before eating."
        }),
    );
}

/// The inside temperature a smoked piece is brought to: the higher of the product's and, where
/// the species sets it, the animal's (°C).
#[must_use]
pub fn inside_target_c(build: &Build, species: &Species) -> Option<f64> {
    let smoke = build.smoke.as_ref()?;
    let species_rules = species.safe_inside_c > 63.0;
    Some(if species_rules {
        smoke.inside_c.max(species.safe_inside_c)
    } else {
        smoke.inside_c
    })
}

fn capital(word: &str) -> String {
    let mut letters = word.chars();
    letters
        .next()
        .map(|first| first.to_uppercase().chain(letters).collect())
        .unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::animal::{SPECIES, species};
    use crate::builds::build;

    fn candidate(animal: &str, cut: &str) -> Candidate<'static> {
        let species = species(animal).unwrap();
        let cut = species.cut(cut).unwrap();
        Candidate {
            species,
            cut,
            wild: false,
            thickness_mm: Some(40.0),
            bone_in: false,
            skin_on: cut.skin_on,
        }
    }

    #[test]
    fn the_best_build_comes_first_and_the_unsuitable_last() {
        #[rustfmt::skip]
        let cases = [
            ("pig",    "belly",      "belly-slab"),
            ("pig",    "butt",       "shoulder-slab"),
            ("pig",    "loin",       "back-smoked"),
            ("elk",    "backstrap",  "back-smoked"),
            ("turkey", "breast",     "breast-peppered"),
            ("pig",    "neck_muscle", "muscle-cased"),
            ("deer",   "shank",      "fresh"),
        ];
        for (animal, cut, best) in cases {
            let ranked = rank(&candidate(animal, cut));
            assert_eq!(ranked[0].build, best, "{animal} {cut}");
            let first_no = ranked.iter().position(|s| s.score == 0).unwrap();
            assert!(ranked[first_no..].iter().all(|s| s.score == 0));
        }
    }

    #[test]
    fn every_cut_of_every_species_has_a_reason_for_every_build() {
        for species in SPECIES.iter() {
            for cut in &species.cuts {
                for found in rank(&candidate(&species.key, &cut.key)) {
                    assert!(
                        found.reasons.iter().all(|r| r.ends_with('.')),
                        "{} {}",
                        cut.key,
                        found.build
                    );
                    assert!(!found.reasons.is_empty());
                }
            }
        }
    }

    #[test]
    fn what_cannot_be_dried_says_why_not() {
        let cased = build("muscle-cased").unwrap();
        let mut bony = candidate("pig", "loin");
        bony.bone_in = true;
        let boar = candidate("wild_boar", "loin");
        let belly = candidate("pig", "belly");
        #[rustfmt::skip]
        let cases = [
            (bony,  "Bone is in"),
            (boar,  "Parasites of wild boar survive freezing"),
            (belly, "Several muscles"),
        ];
        for (piece, why) in cases {
            let found = suitability(cased, &piece);
            assert_eq!(found.score, 0);
            assert!(found.reasons[0].starts_with(why), "{:?}", found.reasons);
        }
        assert_eq!(suitability(cased, &candidate("pig", "loin")).score, 2);
    }

    #[test]
    fn a_thick_piece_is_to_be_cut_first() {
        let mut piece = candidate("pig", "butt");
        piece.thickness_mm = Some(110.0);
        let found = suitability(build("shoulder-slab").unwrap(), &piece);
        assert_eq!(
            (found.score, found.findings[0].code),
            (1, Code::TooThickForRule)
        );
    }

    #[test]
    fn the_higher_of_product_and_species_sets_the_heat() {
        let target = |b, s| inside_target_c(build(b).unwrap(), species(s).unwrap());
        assert_eq!(target("belly-slab", "pig"), Some(60.0));
        assert_eq!(target("belly-slab", "wild_boar"), Some(71.1));
        assert_eq!(target("back-smoked", "deer"), Some(71.1));
        assert_eq!(target("muscle-cased", "pig"), None);
    }
}
