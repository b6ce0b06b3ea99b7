//! Meat was ground or diced into one block.

use crate::acts::context::{cure_out_of_place, filled};
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator, corrected};
use crate::animal::byproduct::Byproduct;
use crate::catalogue::meats::NO_MEAT;
use crate::caution::{Code, Finding, Severity};
use crate::form::{AskError, Field, FieldKind};
use crate::ids::{LotId, PieceId, word};
use crate::ledger::book::Book;
use crate::ledger::facts::Act;
use crate::ledger::facts::byproduct_given::ByproductGiven;
use crate::ledger::facts::ground::{Ground, GroundFrom};
use crate::ledger::state::State;
use crate::units::show;
use crate::units::{Amount, Fraction, Typed};
use serde::{Deserialize, Serialize};

/// What goes into the grinder, as typed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "from", rename_all = "snake_case", deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum GroundFromAsk {
    /// All of a piece of this lot.
    Piece {
        /// The piece.
        piece: PieceId,
    },
    /// Trim or fat kept of this lot, or of another one that gives it.
    Kept {
        /// The lot, when it is another one.
        #[serde(default)]
        lot: Option<LotId>,
        /// What it is.
        kind: Byproduct,
        /// Its weight, as typed.
        reading: String,
    },
    /// Meat or fat bought for it.
    Added {
        /// What it is called.
        name: String,
        /// Its weight, as typed.
        reading: String,
        /// The animal it is of, by its word; `none` for what is no meat, such as ice. By its name when left out.
        #[serde(default)]
        species: Option<String>,
        /// Its share of fat, where that is known: a number from 0 to 1, or as typed: `88 %`.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        fat: Option<Amount>,
    },
}

/// Meat is ground or diced into one block.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct GroundAsk {
    /// The lot the block belongs to: that of most of its lean.
    pub lot: LotId,
    /// What went in.
    pub sources: Vec<GroundFromAsk>,
    /// What came out, as typed.
    pub reading: String,
    /// How thick it will lie in pan or casing, as typed.
    #[serde(default)]
    pub thickness: Option<String>,
    /// Its share of fat, where it was measured: a number from 0 to 1, or as typed: `28 %`. By what went in when left out.
    #[serde(default)]
    pub fat_fraction: Option<Amount>,
}

impl Draft for GroundAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let home_tag = lot_tag(context, self.lot)?;
        let old = corrected::<Ground>(instead);
        let mut acts = Vec::new();
        let mut sources = Vec::new();
        for (i, source) in self.sources.iter().enumerate() {
            let field = format!("sources[{i}].reading");
            sources.push(match source {
                GroundFromAsk::Piece { piece } => {
                    if context.lot_of(*piece)? != self.lot {
                        return Err(AskError::field(
                            &format!("sources[{i}]"),
                            "That piece is of another animal. Trim it there, and add the trim.",
                        ));
                    }
                    GroundFrom::Piece { piece: *piece }
                }
                GroundFromAsk::Kept { lot, kind, reading } => {
                    let reading = context.mass(reading, &field)?;
                    match lot.filter(|other| *other != self.lot) {
                        None => GroundFrom::Kept {
                            kind: *kind,
                            reading,
                        },
                        Some(giver) => {
                            let name = given_name(context, giver, *kind)?;
                            let given = ByproductGiven {
                                kind: *kind,
                                reading: reading.clone(),
                                to: self.lot,
                                to_tag: home_tag.clone(),
                            };
                            acts.push((giver, Act::ByproductGiven(given)));
                            GroundFrom::Added {
                                name,
                                reading,
                                given_by: Some(giver),
                                kind: Some(*kind),
                                species: None,
                                fat: None,
                            }
                        }
                    }
                }
                GroundFromAsk::Added {
                    name,
                    reading,
                    species,
                    fat,
                } => GroundFrom::Added {
                    fat: context.share_if(fat.as_ref(), &format!("sources[{i}].fat"))?,
                    name: name.trim().into(),
                    reading: context.mass(reading, &field)?,
                    given_by: None,
                    kind: None,
                    species: meat_of(context, species.as_deref(), i)?,
                },
            });
        }
        if let Some(old) = old {
            keep_what_was_given(old, &mut sources)?;
        }
        let (into, tag) = match old {
            Some(old) => (old.into, old.tag.clone()),
            None => context.fresh_piece(self.lot)?,
        };
        let mut measured = context.share_if(self.fat_fraction.as_ref(), "fat_fraction")?;
        if let Some(share) = measured.as_mut().filter(|s| s.said.is_empty()) {
            share.said = show::share(share.value);
        }
        // What nobody touched stays as it was written.
        let same = old.filter(|old| old.sources == sources);
        let fat = measured.or_else(|| match same {
            Some(old) => old.fat.clone(),
            None => went_in(&sources, self.lot, context.book).map(Typed::unsaid),
        });
        let act = Ground {
            sources,
            into,
            tag,
            reading: context.mass(&self.reading, "reading")?,
            thickness: context.typed_if(self.thickness.as_deref(), "thickness")?,
            fat,
        };
        acts.push((self.lot, Act::Ground(act)));
        Ok(acts)
    }
}

/// The share of fat by what went in, each part by its weight; none where nobody knows it of a part that is meat.
fn went_in(sources: &[GroundFrom], home: LotId, book: &Book) -> Option<Fraction> {
    let species = |lot: LotId| Some(book.lot(lot)?.state.lot.as_ref()?.species());
    let (mut fat, mut all) = (0.0, 0.0);
    for source in sources {
        let (mass, share) = match source {
            GroundFrom::Piece { piece } => {
                let (lot, found) = book.piece(*piece)?;
                // Ground already, it weighs nothing any more.
                let last = found.weighings.last().map(|w| w.net);
                let mass = if found.mass.is_some() {
                    found.mass
                } else {
                    last?
                };
                let of_cut = || {
                    let species = lot.state.lot.as_ref()?.species();
                    Some(species.cut(&found.cut)?.fat_fraction)
                };
                let own = found.fat.as_ref().map(|f| f.value.0);
                (mass, own.or_else(of_cut)?)
            }
            GroundFrom::Kept { kind, reading } => {
                (reading.value, species(home)?.fat_of_kept(*kind)?)
            }
            GroundFrom::Added {
                reading,
                fat: Some(fat),
                ..
            } => (reading.value, fat.value.0),
            GroundFrom::Added {
                reading,
                given_by: Some(giver),
                kind: Some(kind),
                ..
            } => (reading.value, species(*giver)?.fat_of_kept(*kind)?),
            GroundFrom::Added {
                name,
                reading,
                species,
                ..
            } => {
                let named = || book.catalogue().meat_by_name(name);
                let meat = species.clone().or_else(named)?;
                // Ice and water hold no fat; of bought meat nobody knows how much.
                (meat == NO_MEAT).then_some((reading.value, 0.0))?
            }
        };
        fat += mass.grams() * share;
        all += mass.grams();
    }
    (all > 0.0).then(|| Fraction(fat / all))
}

/// The animal that something bought is said to be of; what its name says is read when it is needed.
fn meat_of(
    context: &DraftContext<'_>,
    said: Option<&str>,
    i: usize,
) -> Result<Option<String>, AskError> {
    let catalogue = context.catalogue();
    match filled(said) {
        Some(NO_MEAT) => Ok(Some(NO_MEAT.into())),
        Some(key) if catalogue.meat(key).is_some() => Ok(Some(key.into())),
        Some(_) => Err(AskError::field(
            &format!("sources[{i}].species"),
            "Choose the animal it is of from the list, or none for what is no meat.",
        )),
        None => Ok(None),
    }
}

fn lot_tag(context: &DraftContext<'_>, lot: LotId) -> Result<String, AskError> {
    let found = context.lot(lot)?.state.lot.as_ref();
    found
        .map(|l| l.received.tag.clone())
        .ok_or_else(|| AskError::no_lot(lot))
}

/// What another lot's trim is called where it goes: `pork fat of HG1`.
fn given_name(context: &DraftContext<'_>, lot: LotId, kind: Byproduct) -> Result<String, AskError> {
    let found = context.lot(lot)?.state.lot.as_ref();
    let came = found.ok_or_else(|| AskError::no_lot(lot))?;
    Ok(format!(
        "{} {} of {}",
        came.species().meat,
        word(&kind),
        came.received.tag
    ))
}

/// What another lot gave stands in that lot's books too, so it is not put right from here alone.
fn keep_what_was_given(old: &Ground, sources: &mut [GroundFrom]) -> Result<(), AskError> {
    let given = old.sources.iter().filter(|s| {
        matches!(
            s,
            GroundFrom::Added {
                given_by: Some(_),
                ..
            }
        )
    });
    for source in given {
        let GroundFrom::Added { name, reading, .. } = source else {
            continue;
        };
        let kept = sources.iter_mut().find(|s| {
            matches!(s, GroundFrom::Added { name: n, reading: r, .. } if n == name && r.value == reading.value)
        });
        match kept {
            Some(kept) => *kept = source.clone(),
            None => {
                return Err(AskError::field(
                    "sources",
                    format!(
                        "{name} came out of another lot's books. Undo the grinding and do it again to change that."
                    ),
                ));
            }
        }
    }
    Ok(())
}

impl Review for Ground {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let unknown = |source: &GroundFrom| match source {
            GroundFrom::Added {
                name,
                given_by: None,
                species: None,
                ..
            } if validator.catalogue().meat_by_name(name).is_none() => Some(name.clone()),
            GroundFrom::Piece { .. } | GroundFrom::Kept { .. } | GroundFrom::Added { .. } => None,
        };
        let ask = |name| {
            Finding::new(
                Code::MeatUnknown,
                Severity::Caution,
                format!("Nobody said of which animal “{name}” is."),
            )
            .wants("the animal, or that it is no meat")
            .remedy("Say the animal. Kept as it is, the block is cooked as the strictest meat is, and never dried raw.")
        };
        let mut found: Vec<_> = self.sources.iter().filter_map(unknown).map(ask).collect();
        let pieces = self.pieces().filter_map(|id| validator.piece(id));
        found.extend(pieces.filter_map(|p| validator.edible(p)));
        let kept = |s: &GroundFrom| match s {
            GroundFrom::Kept { .. } => validator.edible_lot(),
            GroundFrom::Piece { .. } | GroundFrom::Added { .. } => None,
        };
        found.extend(self.sources.iter().find_map(kept));
        found.extend(self.among_others(validator));
        let bought = self.taken().into_iter().filter(|t| t.kind.is_none());
        found.extend(bought.filter_map(|t| cure_out_of_place(&t.name, validator.catalogue())));
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        format!(
            "{} from {} parts",
            render.mass(&self.reading),
            self.sources.len()
        )
    }

    fn ask_again(&self, lot: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        let source = |s: &GroundFrom| match s {
            GroundFrom::Piece { piece } => GroundFromAsk::Piece { piece: *piece },
            GroundFrom::Kept { kind, reading } => GroundFromAsk::Kept {
                lot: None,
                kind: *kind,
                reading: render.again(reading),
            },
            GroundFrom::Added {
                name,
                reading,
                species,
                fat,
                ..
            } => GroundFromAsk::Added {
                fat: fat.as_ref().map(|f| Amount::Text(render.again(f))),
                name: name.clone(),
                reading: render.again(reading),
                species: species.clone(),
            },
        };
        // What nobody said follows from the parts, and anew when one of them is put right.
        let measured = self.fat.as_ref().filter(|f| !f.said.is_empty());
        Some(Ask::Ground(GroundAsk {
            lot,
            sources: self.sources.iter().map(source).collect(),
            reading: render.again(&self.reading),
            thickness: self.thickness.as_ref().map(|t| render.again(t)),
            fat_fraction: measured.map(|f| Amount::Text(render.again(f))),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        let mut fields = vec![
            Field::mass("reading", "What came out"),
            Field::thickness("thickness", "How thick it lies"),
            Field::new("fat_fraction", "Its share of fat", FieldKind::Share).optional(),
        ];
        for (i, source) in self.sources.iter().enumerate() {
            let label = match source {
                // All of a piece went in; its weight is put right where it was weighed.
                GroundFrom::Piece { .. }
                | GroundFrom::Added {
                    given_by: Some(_), ..
                } => continue,
                GroundFrom::Kept { kind, .. } => format!("{} that went in", word(kind)),
                GroundFrom::Added { name, .. } => format!("{name} that went in"),
            };
            fields.push(Field::mass(&format!("sources.{i}.reading"), &label));
        }
        fields
    }
}

impl Ground {
    /// A test that is waited for, where meat of more than one animal goes in.
    fn among_others(&self, validator: &Validator<'_>) -> Option<Finding> {
        let judge = validator.judge();
        let mut lots: Vec<&State> = vec![validator.state];
        for piece in self.pieces().filter_map(|id| validator.piece(id)) {
            lots.extend(judge.within(validator.state, piece).lots);
        }
        let mut bought = false;
        for taken in self.taken() {
            bought |= taken.kind.is_none() && judge.meat_of(&taken).as_deref() != Some(NO_MEAT);
            lots.extend(taken.lot.and_then(|id| judge.state(id)));
        }
        let several = bought || lots.iter().any(|s| s.id != validator.state.id);
        validator.waits_for_test(&lots).filter(|_| several)
    }
}

#[cfg(test)]
mod tests {
    use crate::acts::Ask;
    use crate::ids::PieceId;
    use crate::testing::Season;
    use serde_json::{Value, json};

    #[test]
    fn the_fat_of_a_block_is_that_of_what_was_weighed_in() {
        let trim = |key: &str| crate::testing::species(key).unwrap().trim_fat_fraction;
        let cut = |key: &str, cut: &str| {
            crate::testing::species(key)
                .unwrap()
                .cut(cut)
                .unwrap()
                .fat_fraction
        };
        let leg = cut("deer", "leg_muscle");
        #[rustfmt::skip]
        let cases: [(&str, Value, Option<f64>); 6] = [
            ("lean and own trim", json!([{"from": "piece", "piece": 1}, {"from": "kept", "kind": "trim", "reading": "1 kg"}]),
                Some((2.0 * leg + trim("deer")) / 3.0)),
            ("trim that a hog gives", json!([{"from": "piece", "piece": 1}, {"from": "kept", "lot": 2, "kind": "trim", "reading": "1 kg"}]),
                Some((2.0 * leg + trim("pig")) / 3.0)),
            ("bought fat with what it holds", json!([{"from": "piece", "piece": 1}, {"from": "added", "name": "pork back fat", "reading": "1 kg", "fat": "88 %"}]),
                Some((2.0 * leg + 0.88) / 3.0)),
            ("ice holds none", json!([{"from": "piece", "piece": 1}, {"from": "added", "name": "ice", "species": "none", "reading": "1 kg"}]),
                Some(2.0 * leg / 3.0)),
            ("bought meat of which nobody says it", json!([{"from": "piece", "piece": 1}, {"from": "added", "name": "pork shoulder", "reading": "1 kg"}]), None),
            ("measured", json!([{"from": "piece", "piece": 1}, {"from": "kept", "kind": "trim", "reading": "1 kg"}]), Some(0.31)),
        ];
        for (what, sources, want) in cases {
            let mut season = Season::empty();
            let fat = (what == "measured").then_some("31 %");
            for ask in [
                json!({"act": "received", "name": "doe", "species": "deer", "origin": "harvested", "known": "carcass", "reading": "20 kg"}),
                json!({"act": "received", "name": "hog", "species": "pig", "origin": "bought", "known": "carcass", "reading": "40 kg"}),
                json!({"act": "byproduct_weighed", "lot": 1, "kind": "trim", "reading": "2 kg"}),
                json!({"act": "byproduct_weighed", "lot": 2, "kind": "trim", "reading": "2 kg"}),
                json!({"act": "piece_weighed", "lot": 1, "cut": "leg_muscle", "reading": "2 kg", "thickness": "60 mm"}),
                json!({"act": "ground", "lot": 1, "reading": "2980 g", "sources": sources, "fat_fraction": fat}),
            ] {
                let said = season.does(&ask, true);
                assert!(said.is_ok(), "{what}: {said:?}");
            }
            let (lot, piece) = season.book.piece(PieceId(2)).unwrap();
            let got = piece.fat.as_ref().map(|f| f.value.0);
            match (got, want) {
                (Some(got), Some(want)) => {
                    assert!((got - want).abs() < 1e-9, "{what}: {got}, not {want}")
                }
                (got, want) => assert_eq!(got, want, "{what}"),
            }
            // Sent again to be put right, it follows its parts unless it was measured.
            let entry = lot.live_entries().last().unwrap();
            let render = crate::acts::RenderContext {
                lot,
                home: &season.home,
            };
            let Some(Ask::Ground(again)) = entry.act.review().ask_again(entry.lot, &render) else {
                panic!("{what}");
            };
            assert_eq!(again.fat_fraction.is_some(), fat.is_some(), "{what}");
        }
    }
}
