//! Meat was ground or diced into one block.

use crate::acts::context::{cure_out_of_place, filled};
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator, corrected};
use crate::animal::byproduct::Byproduct;
use crate::catalogue::meats::NO_MEAT;
use crate::caution::{Code, Finding, Severity};
use crate::form::{AskError, Field, FieldKind};
use crate::ids::{LotId, PieceId, word};
use crate::ledger::facts::Act;
use crate::ledger::facts::byproduct_given::ByproductGiven;
use crate::ledger::facts::ground::{Ground, GroundFrom};
use crate::ledger::state::State;
use crate::units::Amount;
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
    /// Its share of fat, if that was worked out: a number from 0 to 1, or as typed: `28 %`.
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
                            }
                        }
                    }
                }
                GroundFromAsk::Added {
                    name,
                    reading,
                    species,
                } => GroundFrom::Added {
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
        let act = Ground {
            sources,
            into,
            tag,
            reading: context.mass(&self.reading, "reading")?,
            thickness: context.typed_if(self.thickness.as_deref(), "thickness")?,
            fat: context.share_if(self.fat_fraction.as_ref(), "fat_fraction")?,
        };
        acts.push((self.lot, Act::Ground(act)));
        Ok(acts)
    }
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
                ..
            } => GroundFromAsk::Added {
                name: name.clone(),
                reading: render.again(reading),
                species: species.clone(),
            },
        };
        Some(Ask::Ground(GroundAsk {
            lot,
            sources: self.sources.iter().map(source).collect(),
            reading: render.again(&self.reading),
            thickness: self.thickness.as_ref().map(|t| render.again(t)),
            fat_fraction: self.fat.as_ref().map(|f| Amount::Text(render.again(f))),
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
