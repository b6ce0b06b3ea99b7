//! What came in: animals, shares, purchases of several under one name.

use super::{Drafting, ReceivedAsk, filled};
use crate::error::ApiError;
use manifest_core::animal::{self, KnownWeight, Portion};
use manifest_core::ledger::{Act, Background, FrozenStock, LotId, PricePer, Reading, Received};
use manifest_core::units::{GRAMS_PER_POUND, Milligrams};

impl Drafting<'_> {
    pub(super) fn received(
        &mut self,
        ask: &ReceivedAsk,
        old: Option<&Act>,
    ) -> Result<Received, ApiError> {
        let found = animal::species(&ask.species)
            .ok_or_else(|| ApiError::field("species", "Choose a species from the list."))?;
        let tag = match old {
            Some(Act::Received(old)) if old.species == ask.species => old.tag.clone(),
            _ => {
                let first = self.book.next_lot_tag(&found.pair);
                let given = self.lots_of.iter().filter(|p| **p == found.pair).count() as u32;
                self.lots_of.push(found.pair.clone());
                let number: u32 = first[found.pair.len()..].parse().unwrap_or(1);
                format!("{}{}", found.pair, number + given)
            }
        };
        let reading = self.mass(&ask.reading, "reading")?;
        let usual = if ask.known == KnownWeight::BoughtCut {
            Portion::Primal
        } else {
            Portion::Whole
        };
        let price = filled(ask.cost.as_deref());
        if ask.price_per == PricePer::Piece && ask.count.is_none() {
            return Err(ApiError::field(
                "count",
                "Say how many pieces that price is for.",
            ));
        }
        if ask.thaw_by.is_some() && ask.frozen_on.is_none() {
            return Err(ApiError::field(
                "frozen_on",
                "Say when it was frozen, such as 2026-10-04.",
            ));
        }
        Ok(Received {
            portion: ask.portion.unwrap_or(usual),
            count: ask.count,
            cut: ask.cut.clone(),
            cost_cents: price
                .map(|text| cents(text, "cost").map(|c| in_all(c, ask, &reading)))
                .transpose()?,
            price: price.map(|p| p.trim().to_string()),
            price_per: ask.price_per,
            shipping_cents: filled(ask.shipping.as_deref())
                .map(|text| cents(text, "shipping"))
                .transpose()?,
            together: filled(ask.together.as_deref()).map(|t| t.trim().to_string()),
            skin_on: ask.skin_on,
            sex: ask.sex,
            age: ask.age,
            background: Background {
                fat_cover_mm: self.thickness(ask.fat_cover.as_deref(), "fat_cover")?,
                rested_days: ask.rested_days,
                hung_days: ask.hung_days,
                inside_c: filled(ask.inside.as_deref())
                    .map(|text| self.temperature(text, "inside"))
                    .transpose()?,
                inspected: ask.inspected,
                withdrawal: filled(ask.withdrawal.as_deref()).map(|t| t.trim().to_string()),
            },
            frozen: ask.frozen_on.map(|frozen_on| FrozenStock {
                frozen_on,
                thaw_by: ask.thaw_by,
            }),
            ..Received::animal(
                &tag,
                ask.name.trim(),
                &ask.species,
                ask.origin,
                (ask.known, reading),
            )
        })
    }

    /// Several under one name, with the shipping shared out by weight to the last hundredth.
    pub(super) fn purchased(
        &mut self,
        name: &str,
        shipping: Option<&str>,
        lots: &[ReceivedAsk],
    ) -> Result<Vec<(LotId, Act)>, ApiError> {
        if name.trim().is_empty() {
            return Err(ApiError::field(
                "name",
                "Give the purchase a name you will know it by, such as autumn hog and two goats.",
            ));
        }
        if lots.is_empty() {
            return Err(ApiError::field("lots", "Say what came: one thing or more."));
        }
        let mut received = Vec::new();
        for (i, ask) in lots.iter().enumerate() {
            let mut one = self
                .received(ask, None)
                .map_err(|error| error.under(&format!("lots[{i}]")))?;
            one.together = Some(name.trim().into());
            received.push(one);
        }
        if let Some(text) = filled(shipping) {
            let weights: Vec<_> = received.iter().map(|r| r.reading.mg).collect();
            let shares = Milligrams(cents(text, "shipping")?).share_out(&weights);
            for (one, share) in received.iter_mut().zip(shares) {
                one.shipping_cents = Some(one.shipping_cents.unwrap_or(0) + share.0);
            }
        }
        Ok(received
            .into_iter()
            .map(|one| {
                self.next_lot += 1;
                (LotId(self.next_lot - 1), Act::Received(one))
            })
            .collect())
    }
}

/// A price by the unit as a price in all, in hundredths.
fn in_all(cents: i64, ask: &ReceivedAsk, reading: &Reading) -> i64 {
    let units = match ask.price_per {
        PricePer::InAll => return cents,
        PricePer::Kilogram => reading.mg.grams() / 1_000.0,
        PricePer::Pound => reading.mg.grams() / GRAMS_PER_POUND,
        PricePer::Piece => f64::from(ask.count.unwrap_or(1)),
    };
    (cents as f64 * units).round() as i64
}

/// An amount of money in hundredths: `184.50`, `184,50`, `184`.
pub(crate) fn cents(text: &str, field: &str) -> Result<i64, ApiError> {
    let wrong = || ApiError::field(field, "Type an amount of money, such as 184.50.");
    let plain = text
        .trim()
        .trim_start_matches(|c: char| !c.is_ascii_digit() && c != '-');
    let plain = plain.replace(',', ".");
    let (whole, part) = plain.split_once('.').unwrap_or((&plain, ""));
    let digits = |t: &str| t.chars().all(|c| c.is_ascii_digit());
    if whole.is_empty() || !digits(whole) || !digits(part) || part.len() > 2 {
        return Err(wrong());
    }
    let whole: i64 = whole.parse().map_err(|_| wrong())?;
    let part: i64 = format!("{part:0<2}").parse().map_err(|_| wrong())?;
    whole.checked_mul(100).map(|w| w + part).ok_or_else(wrong)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn money_is_read_as_people_type_it() {
        for (text, want) in [
            ("184.50", 18_450),
            ("184,5", 18_450),
            ("$ 184", 18_400),
            ("0", 0),
        ] {
            assert_eq!(cents(text, "cost").unwrap(), want, "{text}");
        }
        for wrong in ["", "lots", "1.234", "-5"] {
            assert_eq!(
                cents(wrong, "cost").unwrap_err().to_string(),
                "Type an amount of money, such as 184.50."
            );
        }
    }
}
