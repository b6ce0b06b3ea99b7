//! How sure a dose is: weighed alone, out of one mix for all, or on a finer scale.

use super::{Setting, Sheet, Table};
use crate::catalogue::cures::Role;
use crate::cure::batch::{Better, Share};
use crate::cure::dry::{band, ppm_in, to_hit};
use crate::household::Scales;
use crate::units::{Band, to_division};
use serde::Serialize;

/// How sure the nitrite of one piece is, and what would be surer.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Sureness {
    /// Weighed for its vessel alone (ppm).
    pub alone: Band,
    /// Weighed out of one mix for all vessels (ppm).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub from_mix: Option<Band>,
    /// The surer of the two.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub better: Option<Better>,
    /// The step of a scale ten times finer (g).
    pub finer_division_g: f64,
    /// Weighed alone on that (ppm).
    pub finer: Band,
    /// The same in a sentence.
    pub words: String,
}

/// Says it for every piece whose curing salt is weighed.
pub(super) fn tell(sheet: &mut Sheet, table: &Table<'_>, setting: &Setting<'_>) {
    let weighed = sheet.method.dosing().mixes;
    let nitrite = setting.cure.made_of.nitrite;
    if !weighed || nitrite <= 0.0 {
        return;
    }
    let exact = |role: Option<Role>| -> f64 {
        let lines = sheet
            .lines
            .iter()
            .filter(|l| role.is_none_or(|r| l.role == r));
        lines.map(|l| l.exact_g).sum()
    };
    let (cure, total, meat) = (exact(Some(Role::CuringSalt)), exact(None), table.meat().0);
    let scales = setting.home.scales;
    let division = scales.fine_division_g;
    let finer = Scales {
        fine_division_g: if division > 0.1 { 0.1 } else { 0.01 },
        ..scales
    };
    for group in &table.groups {
        let part = group.meat.0 / meat;
        let skin_on = group.pieces.iter().any(|i| table.pieces[*i].shape.skin_on);
        let edges = setting
            .rules
            .edges(setting.build.class, setting.build.law(), skin_on);
        let ppm = |g: f64| ppm_in(group.meat.0, g, nitrite);
        // The number to hit, as the sheet shows it.
        let on = |scales: Scales| {
            let hit = to_hit(cure * part, scales.fine_division_g, edges, ppm);
            band(hit, nitrite, group.meat.0, scales)
        };
        let alone = on(scales);
        let from_mix = (table.groups.len() > 1).then(|| {
            let bowl = to_hit(cure, division, edges, |g| ppm_in(meat, g, nitrite));
            Share {
                weighed_cure_g: bowl,
                meat_g: meat,
                total_g: total,
                piece_g: group.meat.0,
                portion_g: total * part,
                shown_g: to_division(total * part, division),
            }
            .content(nitrite, scales)
        });
        // Of what stands on this sheet the band is the sheet's own.
        let own = group.pieces.first().map(|i| sheet.pieces[*i].nitrite);
        let own = own.filter(|_| !table.by_eye());
        let is_mix = sheet.mixed && from_mix.is_some();
        let (alone, from_mix) = match own {
            Some(own) if is_mix => (alone, Some(own)),
            Some(own) => (own, from_mix),
            None => (alone, from_mix),
        };
        let width = |b: &Band| b.high - b.low;
        let better = from_mix.map(|mix| {
            if width(&mix) < width(&alone) {
                Better::FromMix
            } else {
                Better::Alone
            }
        });
        let finely = on(finer);
        let said = Sureness {
            words: words(&alone, from_mix.as_ref(), better, &finer, &finely),
            alone,
            from_mix,
            better,
            finer_division_g: finer.fine_division_g,
            finer: finely,
        };
        for i in &group.pieces {
            sheet.pieces[*i].sureness = Some(said.clone());
        }
    }
}

fn words(
    alone: &Band,
    mix: Option<&Band>,
    better: Option<Better>,
    finer: &Scales,
    finely: &Band,
) -> String {
    let said = |b: &Band| format!("{:.0} to {:.0} ppm", b.low, b.high);
    let both = match (mix, better) {
        (Some(mix), Some(Better::FromMix)) => format!(
            "Weighed alone it is {}, out of one mix {}: one mix is surer.",
            said(alone),
            said(mix)
        ),
        (Some(mix), _) => format!(
            "Weighed alone it is {}, out of one mix {}: alone is surer.",
            said(alone),
            said(mix)
        ),
        (None, _) => format!("It is {}.", said(alone)),
    };
    format!(
        "{both} With a {} g scale it would be {}.",
        finer.fine_division_g,
        said(finely)
    )
}
