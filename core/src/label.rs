//! What the label of a pack says: what it is made from, what is in it, how it is eaten, until when.

use crate::catalogue::builds::Eat;
use crate::cure::Role;
use crate::household::Household;
use crate::ledger::state::{Pack, Piece, State};
use crate::units::Milligrams;
use jiff::civil::Date;
use std::collections::BTreeMap;

/// Where a pack keeps, and until when.
#[derive(Clone, Debug, PartialEq)]
pub struct KeepUntil {
    /// Where and how.
    pub place: String,
    /// Best before.
    pub until: Date,
}

/// A label.
#[derive(Clone, Debug, PartialEq)]
pub struct Label {
    /// The product.
    pub product: String,
    /// What it is made from: species, animal's tag, piece's tag.
    pub made_from: String,
    /// When it was packed.
    pub packed_on: Date,
    /// How it may be eaten.
    pub eat: Eat,
    /// Where it is kept and until when; every way of its product when none was chosen.
    pub keeps: Vec<KeepUntil>,
    /// By weight, the heaviest first.
    pub ingredients: Vec<String>,
    /// What to name for the allergic.
    pub allergens: Option<String>,
    /// What has to be said on it besides.
    pub notes: Vec<String>,
}

/// The label of a pack, from what was recorded.
#[must_use]
pub fn label(state: &State, piece: &Piece, pack: &Pack, home: &Household) -> Label {
    let lot = state.lot.as_ref();
    let build = piece.build();
    let packed_on = home.day(pack.at);
    let eat = lot.map_or(Eat::CookBeforeEating, |l| piece.eat(l.species()));
    let made_from = lot.map_or_else(
        || piece.tag.clone(),
        |l| {
            format!(
                "{}, {} ({}), piece {}",
                l.species().name,
                l.received.name,
                l.received.tag,
                piece.tag
            )
        },
    );
    let keeps = build.map(|b| b.keeps.as_slice()).unwrap_or_default();
    let chosen = keeps
        .iter()
        .filter(|k| pack.place.as_ref().is_none_or(|p| *p == k.place));
    let mut notes =
        vec!["For this household's own use. Follow your local food-safety rules.".to_string()];
    if eat == Eat::CookBeforeEating {
        notes.insert(0, "Raw inside: cook before eating.".into());
    }
    if build.is_some_and(|b| b.raw_dried) {
        notes.insert(
            0,
            "Dried raw: not for pregnant women, small children, the old or the ill.".into(),
        );
    }
    if let Some(reason) = piece.dose().and_then(|d| d.reason.as_ref()) {
        notes.insert(0, format!("Cured past a limit, knowingly: {reason}"));
    }
    Label {
        product: build.map_or_else(|| piece.cut.clone(), |b| b.name.clone()),
        made_from,
        packed_on,
        eat,
        keeps: chosen
            .map(|k| KeepUntil {
                place: k.place.clone(),
                until: packed_on.saturating_add(jiff::Span::new().days(i64::from(k.days))),
            })
            .collect(),
        ingredients: ingredients(lot.map_or("meat", |l| l.species().name.as_str()), piece),
        allergens: allergens(piece, pack),
        notes,
    }
}

/// The meat and the real cure, the heaviest first; a curing salt names what it holds.
fn ingredients(species: &str, piece: &Piece) -> Vec<String> {
    let mut by_weight: BTreeMap<String, Milligrams> = BTreeMap::new();
    by_weight.insert(format!("{species} meat"), piece.green);
    if let Some(dose) = piece.dose() {
        let holds = &dose.cure.made_of;
        for line in &dose.lines {
            let name = if line.role == Role::CuringSalt {
                let nitrate = if holds.nitrate > 0.0 {
                    ", sodium nitrate"
                } else {
                    ""
                };
                format!("curing salt (salt, sodium nitrite{nitrate})")
            } else {
                line.name.clone()
            };
            *by_weight.entry(name).or_default() += line.mass.value;
        }
    }
    for coat in &piece.coats {
        *by_weight.entry(coat.name.clone()).or_default() += coat.mass;
    }
    let mut list: Vec<_> = by_weight.into_iter().collect();
    list.sort_by_key(|(_, mass)| std::cmp::Reverse(*mass));
    list.into_iter().map(|(name, _)| name).collect()
}

/// What to name for the allergic: what was said of the pack, and of what was put on the piece.
fn allergens(piece: &Piece, pack: &Pack) -> Option<String> {
    let mut named: Vec<&str> = Vec::new();
    let said = pack.allergens.iter();
    for one in said.chain(piece.coats.iter().filter_map(|c| c.allergens.as_ref())) {
        if !named.iter().any(|n| n.eq_ignore_ascii_case(one)) {
            named.push(one);
        }
    }
    (!named.is_empty()).then(|| named.join(", "))
}
