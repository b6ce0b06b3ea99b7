//! What an amount weighs: by the unit, by the spoon, on a kilogram, on a litre.

use super::super::AssumptionCode;
use super::super::line::{Amount, Item, Measure, Per};
use super::{Part, Quantity, Question, Reader, Reading};
use crate::catalogue::cures::Role;
use crate::catalogue::lexicon::{NameRow, Of, SaltKinds, UnitKind, UnitRow};
use crate::catalogue::spoons::Spoon;
use crate::cure::spoons::weigh;
use crate::units::show::trim;
use crate::units::{Band, Measures};

/// The spoons that a salt of no said kind may be.
pub(in crate::recipe) const fn salt_keys(kinds: SaltKinds) -> &'static [&'static str] {
    match kinds {
        SaltKinds::Any => &[
            "table_salt",
            "kosher_salt_dense",
            "coarse_sea_salt",
            "kosher_salt_flaked",
        ],
        SaltKinds::Kosher => &["kosher_salt_dense", "kosher_salt_flaked"],
        SaltKinds::Sea => &["coarse_sea_salt", "table_salt"],
    }
}

impl Reader<'_> {
    /// One reading of an amount, in grams or grams on a kilogram.
    pub(super) fn amount(
        &self,
        part: &mut Part,
        amount: &Amount,
        per: Option<Per>,
        here: &Said<'_>,
        percent_of_all: bool,
    ) {
        let (item, said) = (here.item, &here.words);
        let reading = |quantity| Reading {
            said: said.clone(),
            quantity,
            by_volume: false,
            kind_open: false,
        };
        if amount.number.is_range && !matches!(amount.measure, Measure::Bare) {
            part.notes.push(format!(
                "“{said}” is a range: the middle is taken, and the whole of it counts for the band."
            ));
        }
        if amount.is_near {
            part.asks(
                AssumptionCode::About,
                format!(
                    "“{said}” is only near: a range is taken. Weigh it once and type the weight."
                ),
            );
        }
        match amount.measure {
            Measure::Bare => {
                if item.count.is_some() {
                    part.unweighed = true;
                    self.counted(part, item, amount.number.value);
                }
            }
            Measure::Percent(of) => {
                let share = band(amount, 10.0);
                let quantity = match of {
                    Some(Of::Meat) => Quantity::PerMeat(share),
                    Some(Of::Water) => Quantity::PerWater(share),
                    Some(Of::All) => Quantity::PerAll(share),
                    None if percent_of_all => Quantity::PerAll(share),
                    None => Quantity::PerMeat(share),
                };
                part.readings.push(reading(quantity));
            }
            Measure::Unit(unit) => {
                let row = &self.lexicon.units[unit];
                let count = item
                    .amounts
                    .iter()
                    .find(|a| matches!(a.measure, Measure::Unit(u) if matches!(self.lexicon.units[u].kind, UnitKind::Packet)))
                    // “2 packets of 28 g”: the weight is of one.
                    .filter(|_| item.each || here.typed.to_lowercase().contains("s of "))
                    .map_or(1.0, |a| a.number.value);
                match row.kind {
                    UnitKind::Mass => {
                        let grams = band(amount, row.size * count);
                        part.readings.push(reading(self.on(grams, per)));
                    }
                    UnitKind::Volume => self.spooned(part, amount, row, per, here),
                    UnitKind::Count => {
                        part.unweighed = true;
                        self.counted(part, item, amount.number.value);
                    }
                    UnitKind::Packet => {
                        let weighed = item.amounts.iter().any(|a| matches!(a.measure, Measure::Unit(u) if self.lexicon.units[u].kind == UnitKind::Mass) && a.per.is_none());
                        if !weighed {
                            part.unweighed = true;
                            part.asks(
                                AssumptionCode::PartOfPacket,
                                format!("What “{said}” weighs is not said: weigh it before and after, and type what went in."),
                            );
                        }
                    }
                    UnitKind::Content => {
                        let share = part.brew.as_ref().map_or(0.0, |b| b.made_of.nitrite);
                        if share > 0.0 {
                            // So much nitrite in the meat is so much of what brings it.
                            part.readings
                                .push(reading(Quantity::PerMeat(band(amount, 1e-3 / share))));
                        } else {
                            part.unweighed = true;
                            part.notes
                                .push("Parts per million of what is not said.".into());
                        }
                    }
                    UnitKind::Rough => {
                        part.unweighed = true;
                        part.pinch = true;
                        part.notes.push(format!("“{said}” is no amount."));
                    }
                }
            }
        }
    }

    pub(super) fn counted(&self, part: &mut Part, item: &Item, count: f64) {
        let each = item.name.and_then(|n| self.lexicon.names[n].each);
        part.counted = each.map(|_| count);
        part.notes.push(match each {
            Some([low, high]) => format!(
                "A count has no weight: one weighs {} to {} g, and {} are said.",
                trim(low, 2),
                trim(high, 2),
                trim(count, 2)
            ),
            None => "A count has no weight.".into(),
        });
    }

    /// By the batch, by the meat or by the water.
    pub(super) fn on(&self, grams: Band, per: Option<Per>) -> Quantity {
        let Some(per) = per else {
            return Quantity::Batch(grams);
        };
        let row = &self.lexicon.units[per.unit];
        let (size, of) = match row.kind {
            UnitKind::Volume => (self.ml(row), per.of.unwrap_or(Of::Water)),
            UnitKind::Mass
            | UnitKind::Count
            | UnitKind::Packet
            | UnitKind::Rough
            | UnitKind::Content => (row.size, per.of.unwrap_or(Of::Meat)),
        };
        let by = 1_000.0 / (per.number * size);
        let rate = Band {
            nominal: grams.nominal * by,
            low: grams.low * by,
            high: grams.high * by,
        };
        match of {
            Of::Meat => Quantity::PerMeat(rate),
            Of::Water => Quantity::PerWater(rate),
            Of::All => Quantity::PerAll(rate),
        }
    }

    pub(super) fn ml(&self, row: &UnitRow) -> f64 {
        match self.measures {
            Measures::Us => row.us,
            Measures::Metric => row.metric,
            Measures::Imperial => row.imperial,
        }
    }

    /// A spoon or cup of something.
    pub(super) fn spooned(
        &self,
        part: &mut Part,
        amount: &Amount,
        unit: &UnitRow,
        per: Option<Per>,
        here: &Said<'_>,
    ) {
        let said = &here.words;
        let row = part.name.map(|n| &self.lexicon.names[n]);
        let ml = self.ml(unit);
        let Some((spoon, range, kind_open)) = self.density(part, row, here) else {
            part.unweighed = true;
            part.notes
                .push("Nobody here has weighed a spoon of this: its density is not known.".into());
            return;
        };
        let one = weigh(&spoon, ml);
        let scale = |of: f64| of / spoon.tsp_g * one.nominal;
        let grams = Band {
            nominal: amount.number.value * one.nominal,
            low: amount.number.low * scale(range.0),
            high: amount.number.high * scale(range.1),
        };
        let loose = row.is_some_and(|r| r.loose || r.role == Role::CuringSalt);
        if unit.metric_only && loose {
            part.asks(
                AssumptionCode::VolumeOfSolid,
                format!(
                    "“{said}” is a volume of a solid, by which nobody weighs: {} g taken, by the density of a level spoon. Weigh it.",
                    trim(grams.nominal, 1)
                ),
            );
        }
        part.readings.push(Reading {
            said: said.clone(),
            quantity: self.on(grams, per),
            by_volume: true,
            kind_open,
        });
    }

    /// What a level teaspoon of it weighs, how far that may be off, and whether its kind is open.
    pub(super) fn density(
        &self,
        part: &mut Part,
        row: Option<&NameRow>,
        here: &Said<'_>,
    ) -> Option<(Spoon, (f64, f64), bool)> {
        let row = row?;
        if part.role == Some(Role::CuringSalt) {
            let key = match part.brew.as_ref()?.key.as_deref() {
                Some("cure1" | "cure2") => "cure1",
                Some("preblend") => "preblend",
                Some("nitrite_salt_06") => "table_salt",
                Some(_) => return None,
                None if part.brew.as_ref()?.pure.is_some() || part.brew.as_ref()?.unknown => {
                    return None;
                }
                None => "table_salt",
            };
            let spoon = self.spoon(key)?.clone();
            let range = (spoon.range.low, spoon.range.high);
            return Some((spoon, range, false));
        }
        let key = row.spoon.as_deref()?;
        let open = row.salt;
        let Some(kinds) = open else {
            let spoon = self.spoon(key)?.clone();
            let range = (spoon.range.low, spoon.range.high);
            return Some((spoon, range, false));
        };
        let code = match kinds {
            SaltKinds::Kosher => AssumptionCode::KosherKindAssumed,
            SaltKinds::Any | SaltKinds::Sea => AssumptionCode::SaltKindAssumed,
        };
        let settled = self
            .settled(code, here.typed)
            .and_then(|key| self.spoon(key));
        let all: Vec<&Spoon> = salt_keys(kinds)
            .iter()
            .filter_map(|k| self.spoon(k))
            .collect();
        let choices = all
            .iter()
            .filter_map(|s| Some((s.key.clone(), s.names.first()?.clone())))
            .collect();
        if let Some(own) = settled {
            let own = own.clone();
            let range = (own.range.low, own.range.high);
            part.open.push(Question {
                code,
                message: format!("Taken as {}, as you said.", own.names.first()?),
                value: Some(own.key.clone()),
                choices,
            });
            return Some((own, range, false));
        }
        let spoon = self.spoon(key)?.clone();
        let low = all
            .iter()
            .map(|s| s.range.low)
            .fold(f64::INFINITY, f64::min);
        let high = all.iter().map(|s| s.range.high).fold(0.0, f64::max);
        part.open.push(Question {
            code,
            message: format!(
                "A spoon of salt weighs by its grain, and which salt it is is not said: {} is taken, {} g the teaspoon; others weigh {} to {}.",
                spoon.names.first()?,
                trim(spoon.tsp_g, 1),
                trim(low, 1),
                trim(high, 1)
            ),
            value: Some(spoon.key.clone()),
            choices,
        });
        Some((spoon, (low, high), true))
    }
}

/// An amount where it stands.
pub(super) struct Said<'a> {
    pub item: &'a Item,
    /// The line.
    pub typed: &'a str,
    /// The amount's own words.
    pub words: String,
}

/// An amount in grams or whatever one of its unit is.
pub(super) fn band(amount: &Amount, by: f64) -> Band {
    Band {
        nominal: amount.number.value * by,
        low: amount.number.low * by,
        high: amount.number.high * by,
    }
}
