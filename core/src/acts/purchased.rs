//! Several came in under one name; each is a lot of its own.

use crate::acts::context::filled;
use crate::acts::received::{ReceivedAsk, money};
use crate::acts::{Draft, DraftContext, Drafted};
use crate::form::AskError;
use crate::ids::LotId;
use crate::ledger::facts::Act;
use crate::units::Milligrams;
use serde::{Deserialize, Serialize};

/// Several came in under one name; the shipping is shared out by weight.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PurchasedAsk {
    /// What people call the purchase.
    pub name: String,
    /// What the way here cost in all, as typed.
    #[serde(default)]
    pub shipping: Option<String>,
    /// What came.
    pub lots: Vec<ReceivedAsk>,
}

impl Draft for PurchasedAsk {
    /// The shipping is shared out to the last hundredth.
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        if instead.is_some() {
            return Err(AskError::field(
                "act",
                "What came in a purchase is put right one by one, each with its share of the shipping.",
            ));
        }
        if self.name.trim().is_empty() {
            return Err(AskError::field(
                "name",
                "Give the purchase a name you will know it by, such as autumn hog and two goats.",
            ));
        }
        if self.lots.is_empty() {
            return Err(AskError::field("lots", "Say what came: one thing or more."));
        }
        let mut received = Vec::new();
        for (i, ask) in self.lots.iter().enumerate() {
            let mut one = ask
                .received(context, None)
                .map_err(|error| error.under(&format!("lots[{i}]")))?;
            one.together = Some(self.name.trim().into());
            received.push(one);
        }
        if let Some(text) = filled(self.shipping.as_deref()) {
            let weights: Vec<_> = received.iter().map(|r| r.reading.value).collect();
            let shares = Milligrams(money(text, "shipping")?).share_out(&weights);
            for (one, share) in received.iter_mut().zip(shares) {
                one.shipping_cents = Some(one.shipping_cents.unwrap_or(0) + share.0);
            }
        }
        Ok(received
            .into_iter()
            .map(|one| (context.new_lot(), Act::Received(one)))
            .collect())
    }
}
