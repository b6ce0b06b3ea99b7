//! The ways in which a product can be made, side by side for the pieces on the table: what changes with each.

use super::{Sheet, WeighOut, sheet};
use crate::catalogue::Catalogue;
use crate::catalogue::builds::Build;
use crate::catalogue::dosing::DosingMethod;
use crate::caution::Severity;
use crate::cure::methods::Waits;
use crate::household::Household;
use crate::units::Band;
use serde::Serialize;

/// What one way of a product comes to.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WaySheet {
    /// Its word; none for the product's own.
    pub way: Option<String>,
    /// What it is called.
    pub name: String,
    /// How, and what to mind.
    pub words: String,
    /// By which way it is dosed.
    pub method: DosingMethod,
    /// True for the one that is on the sheet.
    pub chosen: bool,
    /// Nitrite in the first of the pieces (ppm).
    pub nitrite: Option<Band>,
    /// Salt in it (g/kg); none where nobody can tell.
    pub salt: Option<Band>,
    /// Days of the piece that takes the longest.
    pub days: Option<u32>,
    /// Hours of that, in a salt box.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
    /// What becomes of it when its time is over.
    pub waits: Waits,
    /// Minutes in water that are usual after it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub soak_min: Option<[u32; 2]>,
    /// What stands in its way, or gives pause: the loudest first.
    pub cautions: Vec<String>,
}

/// Every way of a product; empty where there is only its own.
#[must_use]
pub fn ways(
    ask: &WeighOut<'_>,
    own: &Build,
    home: &Household,
    catalogue: &Catalogue,
) -> Vec<WaySheet> {
    let by_recipe = ask.way.filter(|k| DosingMethod::of_recipe(k).is_some());
    if own.choices().next().is_none() && by_recipe.is_none() {
        return Vec::new();
    }
    let usual = WeighOut::of(own, ask.pieces);
    let made = |build: &Build| {
        // What was typed for one way means nothing to another.
        let ask = WeighOut {
            build,
            laid: ask.laid,
            mixed: ask.mixed,
            school: ask.school,
            ..usual
        };
        sheet(&ask, home, catalogue).ok()
    };
    let mut all = vec![told(
        None,
        (own.method.dosing().name, &own.how_long),
        own.method,
        ask.way.is_none(),
        made(own).as_ref(),
    )];
    for (key, way) in own.choices() {
        if let Some(build) = own.in_way(key) {
            all.push(told(
                Some(key.into()),
                (&way.name, &way.words),
                build.method,
                ask.way == Some(key),
                made(&build).as_ref(),
            ));
        }
    }
    // A recipe that was brought stands beside the product's own ways as long as it is chosen.
    if let Some(key) = by_recipe {
        let name = format!("by a recipe: {}", ask.build.method.dosing().name);
        all.push(told(
            Some(key.into()),
            (&name, "By the numbers of a recipe that was checked; nothing of the product's own dose goes in."),
            ask.build.method,
            true,
            sheet(ask, home, catalogue).ok().as_ref(),
        ));
    }
    all
}

fn told(
    way: Option<String>,
    (name, words): (&str, &str),
    method: DosingMethod,
    chosen: bool,
    made: Option<&Sheet>,
) -> WaySheet {
    let pieces = made.map(|s| s.pieces.as_slice()).unwrap_or_default();
    let dosing = method.dosing();
    let mut loud: Vec<_> = made
        .into_iter()
        .flat_map(Sheet::all_findings)
        .filter(|f| f.severity > Severity::Info)
        .collect();
    loud.sort_by_key(|f| std::cmp::Reverse(f.severity));
    let mut cautions: Vec<String> = loud.into_iter().map(|f| f.message.clone()).collect();
    cautions.dedup();
    WaySheet {
        way,
        name: name.into(),
        words: words.into(),
        method,
        chosen,
        nitrite: pieces.first().map(|p| p.nitrite),
        salt: pieces.first().and_then(|p| p.salt),
        days: pieces.iter().filter_map(|p| p.days).max(),
        hours: pieces.iter().filter_map(|p| p.hours).reduce(f64::max),
        waits: dosing.waits,
        soak_min: dosing.soak_min,
        cautions,
    }
}
