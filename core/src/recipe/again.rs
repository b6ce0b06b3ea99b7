//! The same recipe in grams, for the piece on the table.

use super::section::Page;
use super::sums::{Sums, is_in};
use crate::catalogue::cures::Role;
use serde::Serialize;

/// One ingredient, in grams.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Rewritten {
    /// `cure`, `salt`, `sugar`, `water`, or as the text calls it.
    pub name: String,
    /// What it is, in the words of the reader.
    pub ingredient: String,
    /// What it does.
    pub role: Role,
    /// How much (g).
    pub mass_g: f64,
}

/// Every weighed ingredient, scaled from the meat of the text to that of the piece.
pub(super) fn rewritten(page: &Page<'_>, sums: &Sums, own_g: Option<f64>) -> Vec<Rewritten> {
    let from = sums
        .meat
        .map(|m| m.nominal)
        .or(sums.for_a_kilogram.then_some(super::sums::ONE_KILOGRAM));
    let by = match (own_g, from) {
        (Some(own), Some(from)) if from > 0.0 => own / from,
        (None, _) | (_, None) | (Some(_), Some(_)) => 1.0,
    };
    let cures: Vec<&str> = page
        .parts
        .iter()
        .filter(|p| is_in(p) && p.role == Some(Role::CuringSalt))
        .filter_map(|p| p.brew.as_ref().map(|b| b.name.as_str()))
        .collect();
    let one_cure = cures.windows(2).all(|w| w[0] == w[1]);
    let mut list: Vec<Rewritten> = Vec::new();
    for (i, part) in page.parts.iter().enumerate() {
        let (true, Some(role), Some(mass)) = (is_in(part), part.role, sums.masses[i]) else {
            continue;
        };
        let mut ingredient = part.ingredient.clone().unwrap_or_default();
        if let Some(brew) = &part.brew {
            ingredient.clone_from(&brew.name);
        }
        let name = match role {
            Role::CuringSalt if one_cure && part.brew.as_ref().is_some_and(|b| !b.unknown) => {
                "cure".to_string()
            }
            Role::Salt => "salt".into(),
            Role::Sugar => "sugar".into(),
            Role::Water => "water".into(),
            Role::CuringSalt | Role::Spice | Role::Liquid | Role::Accelerator | Role::Binder => {
                if part.words.is_empty() {
                    ingredient.clone()
                } else {
                    part.words.clone()
                }
            }
        };
        match list.iter_mut().find(|r| r.name == name && r.role == role) {
            Some(there) => {
                there.mass_g += mass.nominal * by;
                if !there.ingredient.contains(&ingredient) {
                    there.ingredient = format!("{} and {ingredient}", there.ingredient);
                }
            }
            None => list.push(Rewritten {
                name,
                ingredient,
                role,
                mass_g: mass.nominal * by,
            }),
        }
    }
    list.sort_by_key(|r| r.role);
    list
}
