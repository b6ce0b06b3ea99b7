//! Amounts beside the nitrite that people do not mean: salt, sugar, water and helpers far from what their method takes.
//!
//! Strong cover brines, water that has to cover, and salt boxes are ordinary and not asked about.

use super::sheet::watch::MOST_SALT;
use crate::catalogue::Catalogue;
use crate::catalogue::builds::Build;
use crate::catalogue::cures::{CureChoice, Role};
use crate::catalogue::dosing::DosingMethod;
use crate::caution::{Code, Finding, Severity};
use crate::dose::DoseLine;
use crate::units::show::{content, length, rate, share, trim};
use crate::units::{Fraction, GPerKg, Grams, Millimetres, Ppm, Units};

/// Sugar over this nobody cures with (g on a kilogram of what it is shared by).
const MOST_SUGAR: f64 = 150.0;

/// More water than this for a brine that evens out is a slip (times the meat).
const MOST_WATER: f64 = 5.0;

/// Phosphate is allowed up to half a percent (g/kg).
///
/// # Source
/// 9 CFR 424.21(c): 0.5 % of the product.
const MOST_PHOSPHATE: f64 = 5.0;

/// Binder enzyme takes about a percent (g/kg).
const MOST_BINDER: f64 = 15.0;

/// A block so far outside of what its product takes is asked about (share of fat).
const FAT_FAR: f64 = 0.05;

/// What is asked about a block whose fat is far from what its product takes; nothing where nobody knows its fat.
#[must_use]
pub fn odd_fat(build: &Build, fat: Option<Fraction>) -> Option<Finding> {
    let range = build.mix.as_ref()?.fat_fraction;
    let fat = fat?;
    let (message, remedy) = if fat.0 < range.low - FAT_FAR - 1e-9 {
        (
            "So lean it dries hard and crumbles.",
            "Add a fatter part, choose another product, or keep it as it is.",
        )
    } else if fat.0 > range.high + FAT_FAR + 1e-9 {
        (
            "So fat it smears, and dries slower than planned.",
            "Add lean meat, choose another product, or keep it as it is.",
        )
    } else {
        return None;
    };
    Some(
        Finding::new(Code::FatFar, Severity::Caution, message)
            .saw(format!("{} fat", share(fat)))
            .wants(format!(
                "{} to {}",
                share(Fraction(range.low)),
                share(Fraction(range.high))
            ))
            .remedy(remedy),
    )
}

/// What is asked where fresh garlic or herbs, or either in oil, go onto what is dried to be eaten raw.
#[must_use]
pub fn fresh_in_raw(name: &str, build: &Build) -> Option<Finding> {
    /// Green things that carry spores from the soil.
    const GREEN: [&str; 12] = [
        "garlic", "herb", "basil", "rosemary", "thyme", "sage", "parsley", "oregano", "onion",
        "chili", "chilli", "juniper",
    ];
    if !(build.raw_dried && build.hangs()) {
        return None;
    }
    let name = name.to_lowercase();
    let green = GREEN.iter().any(|g| name.contains(g));
    let in_oil = name.contains("in oil") || name.contains("oil with") || name.contains("pesto");
    let fresh = green && name.contains("fresh");
    (fresh || (in_oil && (green || name.contains("pesto")))).then(|| {
        Finding::new(
            Code::FreshInRaw,
            Severity::Caution,
            "Fresh garlic and herbs, and either in oil, bring botulism spores into what dries raw.",
        )
        .saw(name.clone())
        .wants("dried ones")
        .remedy("Take dried garlic and herbs, or keep it as typed.")
    })
}

/// A piece thinner than this share of the thickest that becomes the same is a flap among slabs.
const FLAP: f64 = 0.5;

/// A piece much thinner than the thickest of those that become the same beside it.
#[must_use]
pub fn thin_flap(
    (tag, own): (&str, Option<Millimetres>),
    others: impl Iterator<Item = Millimetres>,
    units: Units,
) -> Option<Finding> {
    let own = own?;
    let thickest = Millimetres(others.map(Millimetres::get).fold(0.0, f64::max));
    let least = Millimetres(thickest.0 * FLAP);
    (own.0 < least.0 - 1e-9).then(|| {
        let said = |mm| length(mm, units.length);
        Finding::new(
            Code::ThinFlap,
            Severity::Caution,
            format!("{tag} is a thin flap among thicker pieces: it is cured and smoked long before them, and dries out."),
        )
        .saw(format!("{} beside {}", said(own), said(thickest)))
        .wants(format!("{} or more", said(least)))
        .remedy("Make something for thin pieces of it, or put it to the trim. Kept, it comes out of cure and smoke on its own day.")
    })
}

fn odd(message: String, saw: String, wants: String) -> Finding {
    Finding::new(Code::OddAmount, Severity::Caution, message)
        .saw(saw)
        .wants(wants)
        .remedy("Check the digits and the unit. Saved as typed it stays on the piece.")
}

/// What is asked about the amounts of a dose over so much meat (g).
#[must_use]
pub fn unusual(
    lines: &[DoseLine],
    cure: &CureChoice,
    meat_g: f64,
    method: DosingMethod,
    catalogue: &Catalogue,
) -> Vec<Finding> {
    if meat_g <= 0.0 || method.is_buried() {
        return Vec::new();
    }
    let grams = |role: Role| -> f64 {
        let of = lines.iter().filter(|l| l.role == role);
        of.map(|l| l.mass.value.grams()).sum()
    };
    let per_kg = |g: f64, base: f64| g / base * 1_000.0;
    let said = |g: f64| rate(GPerKg(g));
    let all: f64 = lines.iter().map(|l| l.mass.value.grams()).sum();
    let base = if method.in_brine() {
        meat_g + all
    } else {
        meat_g
    };
    let mut found = Vec::new();
    let salt: f64 = grams(Role::Salt)
        + lines
            .iter()
            .map(|l| l.brings(cure, |c| c.salt))
            .sum::<f64>();
    // Dry, that is asked about by the band of the scale; here it is the brine that evens out.
    if method == DosingMethod::EquilibriumBrine && per_kg(salt, base) > MOST_SALT {
        found.push(
            Finding::new(
                Code::SaltHigh,
                Severity::Caution,
                "So much salt nobody eats: in this brine meat and water come to the same.",
            )
            .saw(said(per_kg(salt, base)))
            .wants(format!("at most {}", said(MOST_SALT)))
            .remedy("Look for a misplaced point, e.g. 2.2% for 22%."),
        );
    }
    let sugar = per_kg(grams(Role::Sugar), base);
    if sugar > MOST_SUGAR {
        found.push(odd(
            "That is a lot of sugar.".into(),
            said(sugar),
            format!("at most {}", said(MOST_SUGAR)),
        ));
    }
    let water = grams(Role::Water) / meat_g;
    if method == DosingMethod::EquilibriumBrine && water > MOST_WATER {
        found.push(odd(
            "That is a lot of water for the meat.".into(),
            format!("{} times the meat", trim(water, 1)),
            format!("at most {} times", trim(MOST_WATER, 0)),
        ));
    }
    for line in lines {
        let name = line.name.to_lowercase();
        let got = per_kg(line.mass.value.grams(), meat_g);
        let bound = if line.role == Role::Binder {
            Some((MOST_BINDER, "a binder"))
        } else if name.contains("phosphate") {
            Some((MOST_PHOSPHATE, "phosphate"))
        } else {
            None
        };
        if let Some((most, what)) = bound.filter(|(most, _)| got > most + 1e-9) {
            found.push(odd(
                format!(
                    "That is more {} than {what} takes by its packet.",
                    line.name
                ),
                said(got),
                format!("at most {}", said(most)),
            ));
        }
        if let Some(known) = catalogue
            .accelerator(&line.name)
            .filter(|_| line.role == Role::Accelerator)
        {
            let ppm = got * 1_000.0;
            if !known.is_allowed(Grams(line.mass.value.grams()), Grams(meat_g)) {
                found.push(
                    Finding::new(
                        Code::AcceleratorOverCap,
                        Severity::Caution,
                        format!("More {} than is allowed.", line.name),
                    )
                    .saw(content(Ppm(ppm)))
                    .wants(format!("at most {}", content(Ppm(known.most_ppm)))),
                );
            }
        }
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::testing::{catalogue, cure};
    use crate::units::{Milligrams, Typed};

    #[test]
    fn what_nobody_means_is_asked_and_what_is_ordinary_is_not() {
        let line = |role, name: &str, grams: f64| DoseLine {
            role,
            name: name.into(),
            mass: Typed::unsaid(Milligrams::from_grams(grams)),
            salt: None,
            made_of: None,
        };
        use Code::{AcceleratorOverCap, OddAmount, SaltHigh};
        use Role::{Accelerator, Binder, Salt, Spice, Sugar, Water};
        #[rustfmt::skip]
        let rows: &[(&str, DosingMethod, &[(Role, &str, f64)], &[Code])] = &[
            ("2.2 % in all",             DosingMethod::EquilibriumBrine, &[(Salt, "salt", 110.0), (Water, "water", 2_000.0)], &[]),
            ("22 % for 2.2 %",           DosingMethod::EquilibriumBrine, &[(Salt, "salt", 1_100.0), (Water, "water", 2_000.0)], &[SaltHigh]),
            ("60 l for 3 kg",            DosingMethod::EquilibriumBrine, &[(Salt, "salt", 1_400.0), (Water, "water", 60_000.0)], &[OddAmount]),
            ("a strong cover brine",     DosingMethod::CoverBrine,       &[(Salt, "salt", 900.0), (Water, "water", 6_000.0)], &[]),
            ("sugar at 600 g/kg",        DosingMethod::MeasuredDry,      &[(Salt, "salt", 66.0), (Sugar, "sugar", 1_800.0)], &[OddAmount]),
            ("a sweet sausage",          DosingMethod::GroundMix,        &[(Salt, "salt", 75.0), (Sugar, "sugar", 180.0)], &[]),
            ("phosphate by its packet",  DosingMethod::GroundMix,        &[(Spice, "sodium phosphate", 12.0)], &[]),
            ("five times that",          DosingMethod::GroundMix,        &[(Spice, "sodium phosphate", 60.0)], &[OddAmount]),
            ("binder by the cup",        DosingMethod::GroundMix,        &[(Binder, "binder enzyme", 150.0)], &[OddAmount]),
            ("erythorbate as it should", DosingMethod::MeasuredDry,      &[(Accelerator, "sodium erythorbate", 1.65)], &[]),
            ("ten times that",           DosingMethod::MeasuredDry,      &[(Accelerator, "sodium erythorbate", 16.5)], &[AcceleratorOverCap]),
            ("a salt box for a leg",     DosingMethod::SaltBox,          &[(Salt, "salt", 3_000.0)], &[]),
        ];
        for (why, way, lines, want) in rows {
            let lines: Vec<_> = lines.iter().map(|(r, n, g)| line(*r, n, *g)).collect();
            let got = unusual(&lines, &cure("cure1"), 3_000.0, *way, catalogue());
            assert_eq!(
                got.iter().map(|f| f.code).collect::<Vec<_>>(),
                *want,
                "{why}: {got:?}"
            );
        }
    }
}
