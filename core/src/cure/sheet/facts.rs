//! The facts that start a cure: each piece with its dose as the scale showed it.

use super::vessels::weighed;
use super::{Sheet, VesselSheet, WeighOut};
use crate::catalogue::Catalogue;
use crate::catalogue::cures::CureChoice;
use crate::caution::{FieldError, Severity};
use crate::dose::{Contents, Dose, DoseLine, InVessel, Judged};
use crate::household::Household;
use crate::ids::{PieceId, VesselId};
use crate::units::{Milligrams, Typed};

/// What is settled when a cure is started.
#[derive(Clone, Copy, Default)]
pub struct Started<'a> {
    /// Why the person goes on past a stop.
    pub reason: Option<&'a str>,
    /// The number of the first of its vessels; the others follow.
    pub vessel: Option<VesselId>,
}

/// Each piece of a sheet with its dose.
///
/// # Errors
/// When the rules or the school it was made with are not in the catalogue.
pub fn doses(
    sheet: &Sheet,
    ask: &WeighOut<'_>,
    started: Started<'_>,
    home: &Household,
    catalogue: &Catalogue,
) -> Result<Vec<(PieceId, Dose)>, Vec<FieldError>> {
    let build = ask.build;
    let cure = CureChoice {
        key: Some(sheet.cure.clone()).filter(|key| key != "own"),
        name: sheet.cure_name.clone(),
        made_of: sheet.cure_made_of.clone(),
    };
    let rules = home.rules(catalogue).map_err(|e| vec![e])?;
    let school = match ask.school {
        Some(key) if !key.trim().is_empty() => {
            Some(catalogue.school_named(key).map_err(|e| vec![e])?)
        }
        Some(_) | None => catalogue.school_fact(home.school_for(&build.key)),
    };
    let scales = (home.scales.fine_division_g, home.scales.meat_division_g);
    let parts = shared_out(sheet);
    let dose = |(i, lines): (usize, Vec<DoseLine>)| {
        let part = &sheet.pieces[i];
        let meat = Milligrams::from_grams(part.meat_g);
        let mates = |one_mix: bool| -> Vec<PieceId> {
            let all = sheet.pieces.iter().map(|p| p.piece);
            all.filter(|p| one_mix && *p != part.piece).collect()
        };
        let at = sheet
            .vessels
            .iter()
            .position(|v| v.pieces.contains(&part.piece));
        let vessel = at.zip(started.vessel).map(|(n, first)| {
            let held = &sheet.vessels[n];
            InVessel {
                id: VesselId(first.0 + n as i64),
                name: held.name.clone(),
                with: held
                    .pieces
                    .iter()
                    .copied()
                    .filter(|p| *p != part.piece)
                    .collect(),
                layers: ask.laid.get(n).map_or(1, |l| l.layers),
                by_eye: held.by_eye,
                closed: ask.laid.get(n).and_then(|l| l.closed),
            }
        });
        let got = Contents::of(
            &lines,
            &cure,
            part.meat_g,
            (sheet.method, part.taken_up.as_ref()),
            None,
            scales,
        );
        let own_build = ask.pieces[i].made.as_deref().unwrap_or(build);
        let findings = sheet.findings.iter().chain(&part.findings);
        let dose = Dose {
            method: sheet.method,
            build: Some(own_build.reference()),
            cure: cure.clone(),
            over: Some(meat),
            lines,
            nitrite: part.nitrite,
            nitrate: crate::units::Band {
                nominal: part.nitrate_ppm,
                ..got.nitrate
            },
            salt: part.salt.or(got.salt),
            judged: Judged {
                rule_set: rules.key.clone(),
                class: own_build.class,
                form: own_build.class.form(own_build.form),
                ceiling_ppm: part.ceiling_ppm,
                floor_ppm: part.floor_ppm,
            },
            school: school.clone(),
            mixed_with: mates(sheet.mixed),
            findings: findings
                .filter(|f| f.severity > Severity::Info)
                .cloned()
                .collect(),
            reason: started.reason.map(str::to_string),
            own: sheet.changed.clone(),
            way: sheet.way.clone(),
            taken_up: part.taken_up,
            vessel,
            time: ask.time.clone(),
            brine: if sheet.in_brine {
                ask.brine.clone()
            } else {
                Default::default()
            },
        };
        (part.piece, dose)
    };
    Ok(parts.into_iter().enumerate().map(dose).collect())
}

/// What each piece gets, to the milligram: what was weighed together is shared out so that nothing is lost.
fn shared_out(sheet: &Sheet) -> Vec<Vec<DoseLine>> {
    let mut parts: Vec<Vec<DoseLine>> = sheet.pieces.iter().map(|p| weighed(&p.lines)).collect();
    let all: Vec<usize> = (0..sheet.pieces.len()).collect();
    let together: Vec<Vec<usize>> = if sheet.mixed || sheet.in_brine {
        vec![all]
    } else {
        let lies = |v: &VesselSheet| -> Vec<usize> {
            let here = |i: &usize| v.pieces.contains(&sheet.pieces[*i].piece);
            all.iter().copied().filter(here).collect()
        };
        sheet.vessels.iter().map(lies).collect()
    };
    for here in together {
        let lines = here.first().map_or(0, |i| parts[*i].len());
        let shares = (0..lines).map(|n| {
            let got: Vec<f64> = here
                .iter()
                .map(|i| sheet.pieces[*i].lines[n].shown_g)
                .collect();
            // Weights finer than what is shared out, so that the shares are those of the sheet.
            let weights: Vec<_> = got
                .iter()
                .map(|g| Milligrams::from_grams(g * 1_000.0))
                .collect();
            Milligrams::from_grams(got.iter().sum()).share_out(&weights)
        });
        for (n, shares) in shares.enumerate() {
            for (i, share) in here.iter().zip(shares) {
                parts[*i][n].mass = Typed::unsaid(share);
            }
        }
    }
    parts
}
