//! Fat blends: how much of a fat part makes a lean part fat enough, what a ratio gives, what to
//! buy, and how high it stands in the pans.

use crate::caution::{Checks, FieldError, Finding};
use crate::shape::size::SHAPES;
use crate::units::bounds::Measure;
use crate::units::show::trim;
use serde::{Deserialize, Serialize};

/// A lean and a fat part to be blended, as the HTTP contract spells it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FatBlendAsk {
    /// Share of fat in the lean part.
    pub lean_fat_fraction: f64,
    /// Share of fat in the fat part.
    pub fat_fat_fraction: f64,
    /// Share of fat wanted in the blend.
    pub target_fat_fraction: f64,
    /// All of the blend (g). Give this or `lean_g`.
    #[serde(default)]
    pub total_g: Option<f64>,
    /// The lean part on hand (g). Give this or `total_g`.
    #[serde(default)]
    pub lean_g: Option<f64>,
}

/// How much of each part.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FatBlendAnswer {
    /// The lean part (g).
    pub lean_g: f64,
    /// The fat part (g).
    pub fat_part_g: f64,
    /// The fat part as a share of the blend.
    pub fat_part_fraction: f64,
    /// All of it (g).
    pub total_g: f64,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// Blends a lean and a fat part to a wanted share of fat.
///
/// # Example
/// ```
/// use manifest_core::assign::blend::{FatBlendAsk, fat_blend};
///
/// let ask: FatBlendAsk = serde_json::from_value(serde_json::json!({"lean_fat_fraction": 0.1, "fat_fat_fraction": 0.9, "target_fat_fraction": 0.3, "total_g": 1000}))?;
/// let got = fat_blend(&ask).unwrap();
/// // One part of fat to three of lean.
/// assert!((got.fat_part_g - 250.0).abs() < 1e-9);
/// # Ok::<(), serde_json::Error>(())
/// ```
///
/// # Errors
/// Shares outside 0 to 1, a target that does not lie between the parts (says which part to buy),
/// and neither or both of the two weights.
///
/// # Source
/// Mass balance of fat: `x = (target - lean) / (fat - lean)`.
pub fn fat_blend(ask: &FatBlendAsk) -> Result<FatBlendAnswer, Vec<FieldError>> {
    let mut checks = Checks::default();
    for (value, field, example) in [
        (ask.lean_fat_fraction, "lean_fat_fraction", "0.04"),
        (ask.fat_fat_fraction, "fat_fat_fraction", "0.85"),
        (ask.target_fat_fraction, "target_fat_fraction", "0.28"),
    ] {
        checks.that(
            value.is_finite() && (0.0..=1.0).contains(&value),
            field,
            &format!("Give a share of fat from 0 to 1, such as {example}."),
        );
    }
    match (ask.total_g, ask.lean_g) {
        (Some(total), None) => checks.above_zero(Measure::Mass, total, "total_g", "3000"),
        (None, Some(lean)) => checks.above_zero(Measure::Mass, lean, "lean_g", "2000"),
        _ => checks.that(
            false,
            "total_g",
            "Give either total_g, all of the blend, or lean_g, the lean part on hand.",
        ),
    }
    checks.done()?;
    let x = fat_part(
        ask.lean_fat_fraction,
        ask.fat_fat_fraction,
        ask.target_fat_fraction,
    )
    .map_err(|message| vec![FieldError::new("target_fat_fraction", message)])?;
    let (lean_g, total_g) = match (ask.total_g, ask.lean_g) {
        (Some(total), _) => (total * (1.0 - x), total),
        (None, lean) => {
            let lean = lean.unwrap_or(0.0);
            if x >= 1.0 {
                return Err(vec![FieldError::new(
                    "target_fat_fraction",
                    "That is the fat part alone: no lean can go in. Give total_g, or a lower target.",
                )]);
            }
            (lean, lean / (1.0 - x))
        }
    };
    Ok(FatBlendAnswer {
        lean_g,
        fat_part_g: total_g - lean_g,
        fat_part_fraction: x,
        total_g,
        findings: Vec::new(),
    })
}

/// The share of the fat part in a blend, or the words for why there is none.
fn fat_part(lean: f64, fat: f64, target: f64) -> Result<f64, String> {
    let percent = |share: f64| format!("{} %", trim(share * 100.0, 1));
    if fat <= lean {
        return Err(format!(
            "The fat part has {} fat, no more than the lean part's {}. Buy a fatter one, such as back fat.",
            percent(fat),
            percent(lean)
        ));
    }
    if target < lean {
        return Err(format!(
            "The lean part alone has {}, more than the {} wanted. Buy leaner meat.",
            percent(lean),
            percent(target)
        ));
    }
    if target > fat {
        return Err(format!(
            "The fat part alone has {}, less than the {} wanted. Buy fatter meat, such as back fat.",
            percent(fat),
            percent(target)
        ));
    }
    Ok((target - lean) / (fat - lean))
}

/// A part on hand or to buy.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BlendPart {
    /// What it is called.
    pub name: String,
    /// Its share of fat.
    pub fat_fraction: f64,
    /// What is on hand of it (g).
    #[serde(default)]
    pub mass_g: f64,
}

/// A pan to press it into.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BlendPan {
    /// Inside length (mm).
    pub length_mm: f64,
    /// Inside width (mm).
    pub width_mm: f64,
    /// Inside height (mm).
    pub height_mm: f64,
}

/// What is on hand, and either the fat wanted or the ratio somebody swears by.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BlendAsk {
    /// Lean on hand; several are mixed.
    pub lean: Vec<BlendPart>,
    /// The fat part, with what is on hand of it.
    pub fat: BlendPart,
    /// Share of fat wanted. Give this or `lean_per_fat`.
    #[serde(default)]
    pub target_fat_fraction: Option<f64>,
    /// Parts of lean for one of fat, such as 2. Give this or `target_fat_fraction`.
    #[serde(default)]
    pub lean_per_fat: Option<f64>,
    /// All of the blend (g); the lean on hand decides when it is left out.
    #[serde(default)]
    pub total_g: Option<f64>,
    /// The pan, if it is pressed into one.
    #[serde(default)]
    pub pan: Option<BlendPan>,
    /// How many pans.
    #[serde(default)]
    pub pans: Option<u32>,
}

/// How much of everything, what to buy, how it lies in the pans.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BlendAnswer {
    /// Share of fat in the lean parts together.
    pub lean_fat_fraction: f64,
    /// Lean that goes in (g).
    pub lean_g: f64,
    /// Fat part that goes in (g).
    pub fat_part_g: f64,
    /// All of it (g).
    pub total_g: f64,
    /// Share of fat in the blend.
    pub fat_fraction: f64,
    /// Parts of lean for one of fat.
    pub lean_per_fat: Option<f64>,
    /// Fat part to buy (g).
    pub buy_fat_g: f64,
    /// Lean to buy (g).
    pub buy_lean_g: f64,
    /// Pans needed, when one was given.
    pub pans: Option<u32>,
    /// Into each pan (g).
    pub pan_g: Option<f64>,
    /// How high it stands in each (mm).
    pub slab_mm: Option<f64>,
}

/// Blends what is on hand.
///
/// # Errors
/// What [`fat_blend`] refuses, no lean, neither or both of target and ratio, too few pans.
pub fn blend(ask: &BlendAsk) -> Result<BlendAnswer, Vec<FieldError>> {
    let mut checks = Checks::default();
    checks.that(!ask.lean.is_empty(), "lean", "Name the lean part.");
    for (i, part) in ask.lean.iter().enumerate() {
        checks.that(
            (0.0..=1.0).contains(&part.fat_fraction),
            &format!("lean[{i}].fat_fraction"),
            "Give a share of fat from 0 to 1, such as 0.04.",
        );
        checks.zero_or_more(
            Measure::Mass,
            part.mass_g,
            &format!("lean[{i}].mass_g"),
            "2000",
        );
    }
    checks.zero_or_more(Measure::Mass, ask.fat.mass_g, "fat.mass_g", "800");
    checks.that(
        ask.target_fat_fraction.is_some() != ask.lean_per_fat.is_some(),
        "target_fat_fraction",
        "Give either the share of fat wanted, or a ratio of lean to fat.",
    );
    if let Some(ratio) = ask.lean_per_fat {
        checks.above_zero(
            Measure::Count,
            ratio,
            "lean_per_fat",
            "2, for two parts of lean to one of fat",
        );
    }
    checks.that(
        ask.pans != Some(0),
        "pans",
        "Give one pan or more, or leave it empty.",
    );
    checks.done()?;
    let on_hand: f64 = ask.lean.iter().map(|p| p.mass_g).sum();
    let lean_fat_fraction = if on_hand > 0.0 {
        ask.lean
            .iter()
            .map(|p| p.mass_g * p.fat_fraction)
            .sum::<f64>()
            / on_hand
    } else {
        ask.lean.iter().map(|p| p.fat_fraction).sum::<f64>() / ask.lean.len() as f64
    };
    let target = ask.target_fat_fraction.unwrap_or_else(|| {
        let ratio = ask.lean_per_fat.unwrap_or(1.0);
        (lean_fat_fraction * ratio + ask.fat.fat_fraction) / (ratio + 1.0)
    });
    let made = fat_blend(&FatBlendAsk {
        lean_fat_fraction,
        fat_fat_fraction: ask.fat.fat_fraction,
        target_fat_fraction: target,
        total_g: ask.total_g,
        lean_g: ask.total_g.is_none().then_some(on_hand),
    })?;
    let (pans, pan_g, slab_mm) = match ask.pan {
        None => (
            ask.pans,
            ask.pans.map(|n| made.total_g / f64::from(n)),
            None,
        ),
        Some(pan) => in_pans(made.total_g, pan, ask.pans)?,
    };
    Ok(BlendAnswer {
        lean_fat_fraction,
        lean_g: made.lean_g,
        fat_part_g: made.fat_part_g,
        total_g: made.total_g,
        fat_fraction: target,
        lean_per_fat: (made.fat_part_g > 0.0).then(|| made.lean_g / made.fat_part_g),
        buy_fat_g: (made.fat_part_g - ask.fat.mass_g).max(0.0),
        buy_lean_g: (made.lean_g - on_hand).max(0.0),
        pans,
        pan_g,
        slab_mm,
    })
}

type Pans = (Option<u32>, Option<f64>, Option<f64>);

fn in_pans(total_g: f64, pan: BlendPan, asked: Option<u32>) -> Result<Pans, Vec<FieldError>> {
    let mut checks = Checks::default();
    checks.above_zero(Measure::Length, pan.length_mm, "pan.length_mm", "250");
    checks.above_zero(Measure::Length, pan.width_mm, "pan.width_mm", "110");
    checks.above_zero(Measure::Length, pan.height_mm, "pan.height_mm", "70");
    checks.done()?;
    let floor_cm2 = pan.length_mm * pan.width_mm / 100.0;
    let volume_cm3 = total_g / SHAPES.density_g_per_cm3;
    let least = (volume_cm3 / (floor_cm2 * pan.height_mm / 10.0) - 1e-9)
        .ceil()
        .max(1.0) as u32;
    let pans = asked.unwrap_or(least);
    if pans < least {
        return Err(vec![FieldError::new(
            "pans",
            format!("It does not go into {pans} of these. Take {least}, or larger ones."),
        )]);
    }
    let each_g = total_g / f64::from(pans);
    let slab_mm = volume_cm3 / f64::from(pans) / floor_cm2 * 10.0;
    Ok((Some(pans), Some(each_g), Some(slab_mm)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn ask(lean: f64, fat: f64, target: f64) -> FatBlendAsk {
        FatBlendAsk {
            lean_fat_fraction: lean,
            fat_fat_fraction: fat,
            target_fat_fraction: target,
            total_g: None,
            lean_g: Some(2_000.0),
        }
    }

    #[test]
    fn the_cases_agree() {
        let cases: serde_json::Value =
            serde_json::from_str(include_str!("../../tests/cases/fat-blend.json")).unwrap();
        for case in cases["cases"].as_array().unwrap() {
            let ask: FatBlendAsk = serde_json::from_value(case["request"].clone()).unwrap();
            let got = serde_json::to_value(fat_blend(&ask).unwrap()).unwrap();
            for (name, want) in case["expect"].as_object().unwrap() {
                let (got, want) = (got[name].as_f64().unwrap(), want.as_f64().unwrap());
                assert!(
                    (got - want).abs() <= 1e-6 * want.abs().max(1e-9),
                    "{name}: {got}, not {want}"
                );
            }
        }
    }

    #[test]
    fn what_cannot_be_blended_says_what_to_buy() {
        #[rustfmt::skip]
        let cases = [
            (ask(0.04, 0.50, 0.60), "The fat part alone has 50 %, less than the 60 % wanted. Buy fatter meat, such as back fat."),
            (ask(0.28, 0.85, 0.20), "The lean part alone has 28 %, more than the 20 % wanted. Buy leaner meat."),
            (ask(0.28, 0.20, 0.25), "The fat part has 20 % fat, no more than the lean part's 28 %. Buy a fatter one, such as back fat."),
            (ask(0.04, 0.85, 0.85), "That is the fat part alone: no lean can go in. Give total_g, or a lower target."),
        ];
        for (ask, words) in cases {
            let errors = fat_blend(&ask).unwrap_err();
            assert_eq!(
                (errors[0].field.as_str(), errors[0].message.as_str()),
                ("target_fat_fraction", words)
            );
        }
        let both = FatBlendAsk {
            total_g: Some(1.0),
            ..ask(0.04, 0.85, 0.28)
        };
        assert_eq!(fat_blend(&both).unwrap_err()[0].field, "total_g");
        let wild = ask(-0.1, 1.5, f64::NAN);
        assert_eq!(fat_blend(&wild).unwrap_err().len(), 3);
    }

    proptest! {
        #[test]
        fn a_blend_holds_the_fat_its_parts_brought(
            lean in 0.0..0.3, more in 0.05..0.6, at in 0.01..0.99, total in 100.0..50_000.0,
        ) {
            let fat = lean + more;
            let target = lean + more * at;
            let got = fat_blend(&FatBlendAsk { total_g: Some(total), lean_g: None, ..ask(lean, fat, target) }).unwrap();
            let brought = got.lean_g * lean + got.fat_part_g * fat;
            prop_assert!((brought - total * target).abs() < 1e-6 * total);
            prop_assert!((got.lean_g + got.fat_part_g - total).abs() < 1e-9 * total);
        }
    }

    #[test]
    fn a_ratio_says_its_fat_and_what_is_missing_is_bought() {
        let part = |name: &str, fat_fraction, mass_g| BlendPart {
            name: name.into(),
            fat_fraction,
            mass_g,
        };
        let ask = BlendAsk {
            lean: vec![
                part("elk trim", 0.04, 2_000.0),
                part("goat trim", 0.08, 2_000.0),
            ],
            fat: part("pork butt", 0.30, 500.0),
            target_fat_fraction: None,
            lean_per_fat: Some(2.0),
            total_g: None,
            pan: Some(BlendPan {
                length_mm: 300.0,
                width_mm: 110.0,
                height_mm: 70.0,
            }),
            pans: None,
        };
        let got = blend(&ask).unwrap();
        // 2 parts at 6 % and one at 30 %: 14 %; 4 kg of lean want 2 kg of fat part, 1.5 kg to buy.
        assert!((got.fat_fraction - 0.14).abs() < 1e-12);
        assert!((got.total_g - 6_000.0).abs() < 1e-6);
        assert!((got.buy_fat_g - 1_500.0).abs() < 1e-6);
        // 5714 cm³ into pans of 2310 cm³: three, each 2 kg and 57.7 mm high.
        assert_eq!(got.pans, Some(3));
        assert!((got.slab_mm.unwrap() - 57.72).abs() < 0.01);
        let two = blend(&BlendAsk {
            pans: Some(2),
            ..ask
        });
        assert_eq!(
            two.unwrap_err()[0].message,
            "It does not go into 2 of these. Take 3, or larger ones."
        );
    }
}
