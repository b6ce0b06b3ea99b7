//! A piece was weighed out of its lot.

use crate::acts::form::cuts;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator, corrected};
use crate::animal::expect::OwnShares;
use crate::catalogue::species::{Cut, Range};
use crate::caution::{Code, Finding, Severity};
use crate::form::{AskError, Field};
use crate::ids::LotId;
use crate::ledger::facts::Act;
use crate::ledger::facts::piece_weighed::PieceWeighed;
use crate::ledger::odd::{FAR, mistyped, other_reading, over_scale};
use crate::ledger::state::State;
use crate::shape::Shape;
use crate::units::show::{length, mass};
use crate::units::{Grams, Millimetres, Units};
use serde::{Deserialize, Serialize};

/// A piece is weighed out of its lot.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PieceWeighedAsk {
    /// The lot.
    pub lot: LotId,
    /// Its cut.
    pub cut: String,
    /// Its weight, as typed.
    pub reading: String,
    /// Its greatest thickness, as typed.
    #[serde(default)]
    pub thickness: Option<String>,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// Whether bone is in.
    #[serde(default)]
    pub bone_in: bool,
    /// Whether fat covers one side.
    #[serde(default)]
    pub fat_cap: bool,
    /// The fat cover that was kept, as typed: `8 mm`.
    #[serde(default)]
    pub fat_cover: Option<String>,
}

impl Draft for PieceWeighedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let (piece, tag) = match corrected::<PieceWeighed>(instead) {
            Some(old) => (old.piece, old.tag.clone()),
            None => context.fresh_piece(self.lot)?,
        };
        let lot = context.lot(self.lot)?;
        if let Some(came) = &lot.state.lot
            && came.species().cut(&self.cut).is_none()
        {
            return Err(AskError::field(
                "cut",
                format!("Choose one of the cuts of {}.", came.species().name),
            ));
        }
        let act = PieceWeighed {
            piece,
            tag,
            cut: self.cut.clone(),
            reading: context.mass(&self.reading, "reading")?,
            shape: Shape {
                thickness: context.typed_if(self.thickness.as_deref(), "thickness")?,
                skin_on: self.skin_on,
                bone_in: self.bone_in,
                fat_cap: self.fat_cap,
                fat_cover: context.typed_if(self.fat_cover.as_deref(), "fat_cover")?,
            },
        };
        Ok(vec![(self.lot, Act::PieceWeighed(act))])
    }
}

/// Lighter than this is no piece (g).
const SMALLEST_PIECE_G: f64 = 20.0;

/// A lump this many times lighter than one of its cut is asked about.
const TINY: f64 = 8.0;

/// A case holds so many pieces of about the same weight.
fn case_piece(grams: f64, count: u32, state: &State, units: Units) -> Vec<Finding> {
    let weighed = state
        .pieces
        .values()
        .filter(|p| p.parents.is_empty())
        .count();
    let mean = state.received.grams() / f64::from(count);
    let mut asked = Vec::new();
    if weighed >= count as usize {
        asked.push(
            Finding::new(
                Code::TooManyPieces,
                Severity::Caution,
                "That is one piece more than the case held.",
            )
            .saw(format!("{} pieces", weighed + 1))
            .wants(format!("{count} pieces"))
            .remedy("Look whether one was weighed twice, or correct the number received."),
        );
    }
    if grams > mean * FAR || grams < mean / FAR {
        asked.push(mistyped(
            "That is far from what the pieces of this case weigh.".into(),
            mass(Grams(grams), units.mass),
            format!("about {}", mass(Grams(mean), units.mass)),
            other_reading(
                grams,
                Range {
                    low: mean / 1.6,
                    high: mean * 1.6,
                },
                units,
            ),
        ));
    }
    asked
}

impl Review for PieceWeighed {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let (state, home) = (validator.state, validator.home);
        let Some(lot) = &state.lot else {
            return Vec::new();
        };
        let species = lot.species();
        let Some(cut) = species.cut(&self.cut) else {
            return over_scale(&self.reading, &home.settings)
                .into_iter()
                .collect();
        };
        let grams = self.reading.value.grams();
        let units = home.settings.units;
        let mut asked = Vec::new();
        if let Some(count) = lot.received.count {
            asked.extend(case_piece(grams, count, state, units));
        }
        let expected = state
            .expectation(&OwnShares::new())
            .and_then(|e| e.cuts.into_iter().find(|c| c.cut == self.cut));
        let usual = expected.as_ref().map(|c| c.mass_g);
        let lumps = f64::from(expected.and_then(|c| c.count).unwrap_or(1));
        if grams < SMALLEST_PIECE_G {
            asked.push(lighter_than_a_slice(grams, units));
        } else if let Some(usual) = usual {
            asked.extend(unlike_this_animal(grams, usual, lumps, (cut, units)));
        }
        if let Some(thickness) = self.shape.thickness() {
            asked.extend(unlike_this_cut(thickness, cut, units));
        }
        asked.extend(over_scale(&self.reading, &home.settings));
        asked
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let thick = self.shape.thickness.as_ref();
        let thick = thick.map(|t| format!(", {} thick", render.label(t)));
        format!(
            "{} {}{}",
            render.mass(&self.reading),
            self.cut.replace('_', " "),
            thick.unwrap_or_default()
        )
    }

    fn ask_again(&self, lot: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::PieceWeighed(PieceWeighedAsk {
            lot,
            cut: self.cut.clone(),
            reading: render.again(&self.reading),
            thickness: self.shape.thickness.as_ref().map(|t| render.again(t)),
            skin_on: self.shape.skin_on,
            bone_in: self.shape.bone_in,
            fat_cap: self.shape.fat_cap,
            fat_cover: self.shape.fat_cover.as_ref().map(|t| render.again(t)),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::mass("reading", "Weight"),
            Field::thickness("thickness", "Thickest place"),
            Field::one_of("cut", "Cut", cuts(render)),
            Field::tick("skin_on", "Skin on"),
            Field::tick("bone_in", "Bone in"),
            Field::tick("fat_cap", "Fat on one side"),
            Field::thickness("fat_cover", "Fat cover"),
        ]
    }
}

fn lighter_than_a_slice(grams: f64, units: Units) -> Finding {
    let said = |g: f64| mass(Grams(g), units.mass);
    mistyped(
        "That is lighter than a slice.".into(),
        said(grams),
        format!("at least {}", said(SMALLEST_PIECE_G)),
        Some(format!("Did you mean {}?", said(grams * 1_000.0))),
    )
}

/// Far more, or far less, of a cut than the animal should have; `lumps` share what is usual.
fn unlike_this_animal(
    grams: f64,
    usual: Range,
    lumps: f64,
    (cut, units): (&Cut, Units),
) -> Option<Finding> {
    let said = |g: f64| mass(Grams(g), units.mass);
    let in_all = format!("{} to {} in all", said(usual.low), said(usual.high));
    if grams > usual.high * FAR {
        let one = Range {
            low: usual.low / 4.0,
            high: usual.high,
        };
        return Some(mistyped(
            format!(
                "That is far more {} than this animal should have.",
                cut.name
            ),
            said(grams),
            in_all,
            other_reading(grams, one, units),
        ));
    }
    let one = Range {
        low: usual.low / lumps * 0.6,
        high: usual.high,
    };
    let remedy = other_reading(grams, one, units).filter(|_| grams < usual.low / lumps / TINY)?;
    Some(mistyped(
        format!("That is very little {}.", cut.name),
        said(grams),
        in_all,
        Some(remedy),
    ))
}

/// Far thicker, or far thinner, than the cut is.
fn unlike_this_cut(thickness: Millimetres, cut: &Cut, units: Units) -> Option<Finding> {
    let (mm, usual) = (thickness.0, cut.thickness_mm);
    if (usual.low / FAR..=usual.high * FAR).contains(&mm) {
        return None;
    }
    let said = |mm: f64| length(Millimetres(mm), units.length);
    let meant = [mm * 10.0, mm / 10.0, mm / 25.4, mm * 25.4];
    let meant = meant
        .into_iter()
        .find(|v| (usual.low * 0.8..=usual.high * 1.25).contains(v));
    let remedy = |v| format!("Did you mean {}? Type the unit with the number.", said(v));
    Some(mistyped(
        format!("That is not how thick {} is.", cut.name),
        said(mm),
        format!("about {} to {}", said(usual.low), said(usual.high)),
        meant.map(remedy),
    ))
}
