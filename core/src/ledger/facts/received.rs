//! Something came in: an animal, a share of one, a purchase.

use crate::animal::{Cut, KnownWeight, Portion};
use crate::catalogue::SnapshotKey;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, err, positive, transfer};
use crate::ledger::state::{Lot, State};
use crate::ledger::{Account, AgeClass, Background, Entry, FrozenStock, Origin, PricePer, Sex};
use crate::units::{Reading, Units};
use serde::{Deserialize, Serialize};

/// Something came in: an animal, a share of one, a purchase.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Received {
    /// The tag that is spoken and written on tape.
    pub tag: String,
    /// What people call it.
    pub name: String,
    /// Its species.
    pub species: String,
    /// The version of its species' data when it came.
    #[serde(default = "first_version")]
    pub species_version: u32,
    /// How it came.
    pub origin: Origin,
    /// Which weight is known.
    pub known: KnownWeight,
    /// That weight.
    pub reading: Reading,
    /// How much of an animal it is.
    #[serde(default)]
    pub portion: Portion,
    /// How many equal cuts, in a case.
    #[serde(default)]
    pub count: Option<u32>,
    /// The cut, when one was bought.
    #[serde(default)]
    pub cut: Option<String>,
    /// What it cost, in hundredths of the household's currency, without its way here.
    #[serde(default)]
    pub cost_cents: Option<i64>,
    /// The price as it was said.
    #[serde(default)]
    pub price: Option<String>,
    /// What that price is for.
    #[serde(default)]
    pub price_per: PricePer,
    /// Its share of the shipping, in hundredths.
    #[serde(default)]
    pub shipping_cents: Option<i64>,
    /// The purchase it is part of, when several came under one name.
    #[serde(default)]
    pub together: Option<String>,
    /// Whether the skin is on.
    #[serde(default)]
    pub skin_on: bool,
    /// Whether a bought cut came with its bone; none where nobody said it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bone_in: Option<bool>,
    /// Male or female.
    #[serde(default)]
    pub sex: Option<Sex>,
    /// Young or old.
    #[serde(default)]
    pub age: Option<AgeClass>,
    /// What else is known of it.
    #[serde(default)]
    pub background: Background,
    /// When it came frozen.
    #[serde(default)]
    pub frozen: Option<FrozenStock>,
}

fn first_version() -> u32 {
    1
}

impl Received {
    /// Whether a cut of it comes with its bone: as it was said, or by its name; else as the cut usually does.
    #[must_use]
    pub fn comes_bone_in(&self, cut: &Cut) -> bool {
        if self.cut.is_none() {
            return cut.bone_in;
        }
        let name = self.name.to_lowercase();
        let says = |words: &[&str]| words.iter().any(|w| name.contains(w));
        self.bone_in.unwrap_or_else(|| {
            let boned = says(&["boneless", "boned", "bone out", "off the bone"]);
            !boned && (cut.bone_in || says(&["bone in", "bone-in", "on the bone"]))
        })
    }
}

impl Fact for Received {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        vec![SnapshotKey::species(&self.species, self.species_version)]
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        positive(&self.reading, "reading", units)?;
        if state.lot.is_some() {
            return err("tag", format!("{} is here already.", self.tag));
        }
        if self.name.trim().is_empty() {
            return err(
                "name",
                "Give it a name you will know it by, such as half hog.".into(),
            );
        }
        if self.cut.is_none() && self.known == KnownWeight::BoughtCut {
            return err("cut", "Say which cut was bought.".into());
        }
        let is_bought_cut = self.known == KnownWeight::BoughtCut;
        if is_bought_cut != self.portion.of_animal().is_none() {
            return err(
                "portion",
                if is_bought_cut {
                    "A bought cut is one large cut or a case of equal ones.".into()
                } else {
                    "Say which share of the animal it is: whole, half or quarter.".into()
                },
            );
        }
        if (self.portion == Portion::Case) != self.count.is_some_and(|n| n >= 1) {
            return err(
                "count",
                "Say how many cuts the case holds, such as 6; leave it empty for anything else."
                    .into(),
            );
        }
        if let Some(stock) = self.frozen
            && stock.thaw_by.is_some_and(|by| by < stock.frozen_on)
        {
            return err(
                "thaw_by",
                "The day to thaw it by lies before the day it was frozen.".into(),
            );
        }
        if self.shipping_cents.is_some_and(|c| c < 0) {
            return err("shipping", "A cost is zero or more, such as 24.00.".into());
        }
        if self.cost_cents.is_some_and(|c| c < 0) {
            return err("cost", "A cost is zero or more, such as 184.50.".into());
        }
        Ok(transfer(Account::Outside, Account::Lot, self.reading.value))
    }

    fn conclude(&self, state: &mut State, entry: &Entry) {
        state.lot = Some(Lot::new(self.clone(), entry.happened_at, state.catalogue()));
    }

    fn label(&self) -> &'static str {
        "received"
    }
}
