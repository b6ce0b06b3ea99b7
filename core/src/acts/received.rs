//! Something came in: an animal, a share of one, a purchase.

use crate::acts::context::filled;
use crate::acts::form::cuts;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator, corrected};
use crate::animal::{KnownWeight, Portion};
use crate::catalogue::species::Range;
use crate::caution::Finding;
use crate::form::{AskError, Count, Field, FieldKind, FieldOption, options};
use crate::ids::LotId;
use crate::ledger::facts::Act;
use crate::ledger::facts::received::Received;
use crate::ledger::odd::{mistyped, other_reading};
use crate::ledger::{AgeClass, Background, FrozenStock, Origin, PricePer, Sex};
use crate::units::show::mass;
use crate::units::{GRAMS_PER_POUND, Grams, Reading, bounds, read};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// Something that came in, with amounts as typed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ReceivedAsk {
    /// What people call it.
    pub name: String,
    /// Its species.
    pub species: String,
    /// How it came.
    pub origin: Origin,
    /// Which weight is known.
    pub known: KnownWeight,
    /// That weight, as typed.
    pub reading: String,
    /// How much of an animal it is; a whole one, or one bought cut, when left out.
    #[serde(default)]
    pub portion: Option<Portion>,
    /// How many equal cuts, in a case.
    #[serde(default)]
    pub count: Option<Count>,
    /// The cut, when one was bought.
    #[serde(default)]
    pub cut: Option<String>,
    /// What it cost, as typed: `184.50`.
    #[serde(default)]
    pub cost: Option<String>,
    /// What that cost is for: all of it, a kilogram, a pound, a piece.
    #[serde(default)]
    pub price_per: PricePer,
    /// What its way here cost, as typed.
    #[serde(default)]
    pub shipping: Option<String>,
    /// The purchase it is part of.
    #[serde(default)]
    pub together: Option<String>,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// Whether a bought cut came with its bone, where that is known.
    #[serde(default)]
    pub bone_in: Option<bool>,
    /// Male or female.
    #[serde(default)]
    pub sex: Option<Sex>,
    /// Young or old.
    #[serde(default)]
    pub age: Option<AgeClass>,
    /// Fat cover over the loin, as typed: `12 mm`.
    #[serde(default)]
    pub fat_cover: Option<String>,
    /// Days it rested.
    #[serde(default)]
    pub rested_days: Option<Count>,
    /// Days it hung cold.
    #[serde(default)]
    pub hung_days: Option<Count>,
    /// How warm it was inside when it came, as typed: `3 C`.
    #[serde(default)]
    pub inside: Option<String>,
    /// True with an inspector's stamp, false for own kill.
    #[serde(default)]
    pub inspected: Option<bool>,
    /// Medicines and when their withdrawal ended.
    #[serde(default)]
    pub withdrawal: Option<String>,
    /// When it was frozen, if it came frozen.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = Date))]
    pub frozen_on: Option<Date>,
    /// The day by which it should be thawed and used.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>, format = Date))]
    pub thaw_by: Option<Date>,
}

impl Draft for ReceivedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let received = self.received(context, instead)?;
        let lot = match instead {
            Some((lot, _)) => lot,
            None => context.new_lot(),
        };
        Ok(vec![(lot, Act::Received(received))])
    }
}

/// A price by the unit as a price in all, in hundredths.
fn in_all(cents: i64, price_per: PricePer, reading: &Reading, count: Option<u32>) -> i64 {
    let units = match price_per {
        PricePer::InAll => return cents,
        PricePer::Kilogram => reading.value.grams() / 1_000.0,
        PricePer::Pound => reading.value.grams() / GRAMS_PER_POUND,
        PricePer::Piece => f64::from(count.unwrap_or(1)),
    };
    (cents as f64 * units).round() as i64
}

/// An amount of money at a field.
pub(crate) fn money(text: &str, field: &str) -> Result<i64, AskError> {
    read::cents(text).map_err(|e| AskError::field(field, e.to_string()))
}

impl Review for Received {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let home = validator.home;
        let grams = self.reading.value.grams();
        let each = grams / f64::from(self.count.unwrap_or(1).max(1));
        let least = match self.portion {
            Portion::Case | Portion::Primal => 100.0,
            Portion::Whole | Portion::Half | Portion::Quarter => 300.0,
        };
        let most = match self.portion {
            Portion::Case | Portion::Primal => 60_000.0,
            Portion::Quarter => 400_000.0,
            Portion::Half => 700_000.0,
            Portion::Whole => 1_300_000.0,
        };
        if each > most {
            let usual = Range {
                low: most / 60.0,
                high: most,
            };
            return vec![mistyped(
                "That is more than such a piece of any animal weighs.".into(),
                mass(Grams(each), home.settings.units.mass),
                format!("at most {}", mass(Grams(most), home.settings.units.mass)),
                other_reading(each, usual, home.settings.units),
            )];
        }
        if each >= least {
            return Vec::new();
        }
        let remedy = other_reading(
            each,
            Range {
                low: least,
                high: 400_000.0,
            },
            home.settings.units,
        );
        vec![mistyped(
            if self.count.is_some() {
                "That leaves hardly anything for each piece of the case.".into()
            } else {
                "That is very little to come in.".into()
            },
            mass(Grams(each), home.settings.units.mass),
            format!("at least {}", mass(Grams(least), home.settings.units.mass)),
            remedy,
        )]
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let what = match (&self.cut, self.count) {
            (Some(cut), Some(n)) => format!("{n} × {}", cut.replace('_', " ")),
            (Some(cut), None) => cut.replace('_', " "),
            (None, _) => self.species.replace('_', " "),
        };
        let together = self.together.as_ref().map(|t| format!(", in “{t}”"));
        format!(
            "{} {what}, {}{}",
            render.mass(&self.reading),
            self.origin.label(),
            together.unwrap_or_default()
        )
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        let b = &self.background;
        let price = self
            .price
            .clone()
            .or_else(|| self.cost_cents.map(RenderContext::cents_again));
        Some(Ask::Received(ReceivedAsk {
            name: self.name.clone(),
            species: self.species.clone(),
            origin: self.origin,
            known: self.known,
            reading: render.again(&self.reading),
            portion: Some(self.portion),
            count: self.count.map(Count::from),
            cut: self.cut.clone(),
            cost: price,
            price_per: self.price_per,
            shipping: self.shipping_cents.map(RenderContext::cents_again),
            together: self.together.clone(),
            skin_on: self.skin_on,
            bone_in: self.bone_in,
            sex: self.sex,
            age: self.age,
            fat_cover: b.fat_cover.as_ref().map(|t| render.again(t)),
            rested_days: b.rested_days.map(Count::from),
            hung_days: b.hung_days.map(Count::from),
            inside: b.inside.as_ref().map(|c| render.again(c)),
            inspected: b.inspected,
            withdrawal: b.withdrawal.clone(),
            frozen_on: self.frozen.map(|f| f.frozen_on),
            thaw_by: self.frozen.and_then(|f| f.thaw_by),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let species = render.catalogue().species.iter().map(|s| FieldOption {
            value: s.key.clone(),
            label: s.name.clone(),
        });
        let mut fields = vec![
            Field::text("name", "What you call it"),
            Field::mass("reading", "Weight"),
            Field::one_of("known", "Which weight that is", options(&KnownWeight::ALL)),
            Field::one_of("species", "Species", species.collect()),
            Field::one_of("origin", "How it came", options(&Origin::ALL)),
            Field::one_of("portion", "How much of it", options(&Portion::ALL)),
        ];
        if self.cut.is_some() {
            fields.push(Field::one_of("cut", "Which cut", cuts(render)));
            fields.push(Field::new("count", "How many", FieldKind::Count).optional());
        }
        fields.extend([
            Field::new("cost", "Cost", FieldKind::Money).optional(),
            Field::one_of("price_per", "What that is for", options(&PricePer::ALL)),
            Field::new("shipping", "Its share of the shipping", FieldKind::Money).optional(),
            Field::text("together", "The purchase it is part of").optional(),
            Field::tick("skin_on", "Skin on"),
            Field::one_of("sex", "Sex", options(&Sex::ALL)).optional(),
            Field::one_of("age", "Age", options(&AgeClass::ALL)).optional(),
            Field::thickness("fat_cover", "Fat cover over the loin"),
            Field::new("rested_days", "Days it rested", FieldKind::Count).optional(),
            Field::new("hung_days", "Days it hung cold", FieldKind::Count).optional(),
            Field::new(
                "inside",
                "How warm inside when it came",
                FieldKind::Temperature,
            )
            .optional(),
            Field::tick("inspected", "With an inspector's stamp"),
            Field::text("withdrawal", "Medicines and when their withdrawal ended").optional(),
            Field::new("frozen_on", "Frozen on", FieldKind::Day).optional(),
            Field::new("thaw_by", "To be thawed by", FieldKind::Day).optional(),
        ]);
        fields
    }
}

impl ReceivedAsk {
    /// What came in, before it has a number; `instead` is what it corrects.
    pub(crate) fn received(
        &self,
        context: &mut DraftContext<'_>,
        instead: Option<(LotId, &Act)>,
    ) -> Result<Received, AskError> {
        let found = context
            .catalogue()
            .species(&self.species)
            .ok_or_else(|| AskError::field("species", "Choose a species from the list."))?;
        let same = corrected::<Received>(instead).filter(|old| old.species == self.species);
        let tag = match same {
            Some(old) => old.tag.clone(),
            None => context.fresh_lot_tag(&found.pair),
        };
        let unknown = |cut: &String| found.cut(cut).is_none();
        if self.cut.as_ref().is_some_and(unknown) {
            return Err(AskError::field(
                "cut",
                format!("Choose one of the cuts of {}.", found.name),
            ));
        }
        if self.known == KnownWeight::FieldDressed && found.carcass_of_field_dressed.is_none() {
            return Err(AskError::field(
                "known",
                format!(
                    "{} is not dressed in the field. Give its live or carcass weight.",
                    found.name
                ),
            ));
        }
        let reading = context.mass(&self.reading, "reading")?;
        let usual = if self.known == KnownWeight::BoughtCut {
            Portion::Primal
        } else {
            Portion::Whole
        };
        let price = filled(self.cost.as_deref());
        let count = context.count_if(self.count.as_ref(), "count")?;
        if self.price_per == PricePer::Piece && count.is_none() {
            return Err(AskError::field(
                "count",
                "Say how many pieces that price is for.",
            ));
        }
        if self.thaw_by.is_some() && self.frozen_on.is_none() {
            return Err(AskError::field(
                "frozen_on",
                "Say when it was frozen, such as 2026-10-04.",
            ));
        }
        for (day, field) in [(self.frozen_on, "frozen_on"), (self.thaw_by, "thaw_by")] {
            if let Some(day) = day {
                bounds::day(day).map_err(|message| AskError::field(field, message))?;
            }
        }
        // A cost that nobody said as a price is shown as one, and stays unsaid.
        let worked_out = same
            .filter(|old| old.price.is_none())
            .and_then(|old| old.cost_cents)
            .map(RenderContext::cents_again);
        Ok(Received {
            species_version: same.map_or(found.version, |old| old.species_version),
            portion: self.portion.unwrap_or(usual),
            count,
            cut: self.cut.clone(),
            cost_cents: price
                .map(|text| money(text, "cost").map(|c| in_all(c, self.price_per, &reading, count)))
                .transpose()?,
            price: price
                .map(|p| p.trim().to_string())
                .filter(|p| Some(p) != worked_out.as_ref()),
            price_per: self.price_per,
            shipping_cents: filled(self.shipping.as_deref())
                .map(|text| money(text, "shipping"))
                .transpose()?,
            together: filled(self.together.as_deref()).map(|t| t.trim().to_string()),
            bone_in: self.bone_in.filter(|_| self.cut.is_some()),
            skin_on: self.skin_on,
            sex: self.sex,
            age: self.age,
            background: Background {
                fat_cover: context.typed_if(self.fat_cover.as_deref(), "fat_cover")?,
                rested_days: context.count_if(self.rested_days.as_ref(), "rested_days")?,
                hung_days: context.count_if(self.hung_days.as_ref(), "hung_days")?,
                inside: context.typed_if(self.inside.as_deref(), "inside")?,
                inspected: self.inspected,
                withdrawal: filled(self.withdrawal.as_deref()).map(|t| t.trim().to_string()),
            },
            frozen: self.frozen_on.map(|frozen_on| FrozenStock {
                frozen_on,
                thaw_by: self.thaw_by,
            }),
            ..Received::animal(
                &tag,
                self.name.trim(),
                &self.species,
                self.origin,
                (self.known, reading),
            )
        })
    }
}

impl Received {
    /// A whole animal of which nothing more is said.
    #[must_use]
    pub fn animal(
        tag: &str,
        name: &str,
        species: &str,
        origin: Origin,
        (known, reading): (KnownWeight, Reading),
    ) -> Self {
        Self {
            tag: tag.into(),
            name: name.into(),
            species: species.into(),
            species_version: 1,
            origin,
            known,
            reading,
            portion: Portion::Whole,
            count: None,
            cut: None,
            cost_cents: None,
            price: None,
            price_per: PricePer::InAll,
            shipping_cents: None,
            together: None,
            bone_in: None,
            skin_on: false,
            sex: None,
            age: None,
            background: Background::default(),
            frozen: None,
        }
    }

    /// What it cost with its way here, in hundredths; none when it cost nothing that was said.
    #[must_use]
    pub fn paid_cents(&self) -> Option<i64> {
        match (self.cost_cents, self.shipping_cents) {
            (None, None) => None,
            (cost, shipping) => Some(cost.unwrap_or(0) + shipping.unwrap_or(0)),
        }
    }
}
