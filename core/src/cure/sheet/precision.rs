//! How sure a dose is: weighed alone, out of one mix for all, or on a finer scale.

use super::{Setting, Sheet, Table};
use crate::catalogue::cures::Role;
use crate::cure::batch::{Better, Share};
use crate::cure::dry::band;
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
        let on = |scales: Scales| {
            let hit = to_division(cure * part, scales.fine_division_g);
            band(hit, nitrite, group.meat.0, scales)
        };
        let alone = on(scales);
        let from_mix = (table.groups.len() > 1).then(|| {
            Share {
                weighed_cure_g: to_division(cure, division),
                meat_g: meat,
                total_g: total,
                piece_g: group.meat.0,
                portion_g: total * part,
                shown_g: to_division(total * part, division),
            }
            .content(nitrite, scales)
        });
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
