//! What was kept beside the pieces was used: rendered, cooked, given away or thrown away.

use crate::animal::byproduct::{Byproduct, UsedFor};
use crate::catalogue::SnapshotKey;
use crate::ledger::facts::{Fact, Family};
use crate::ledger::post::{Posted, enough_kept, err, positive, say, tidy};
use crate::ledger::state::State;
use crate::ledger::{Account, Entry, Loss};
use crate::units::{Milligrams, Reading, Units};
use serde::{Deserialize, Serialize};

/// What was kept was used.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct ByproductUsed {
    /// What it was.
    pub kind: Byproduct,
    /// Its weight.
    pub reading: Reading,
    /// What became of it.
    pub used: UsedFor,
    /// What it gave, where it was rendered.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gave: Option<Reading>,
    /// In words: who has it, what it went into.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Fact for ByproductUsed {
    fn family(&self) -> Family<'_> {
        Family::default()
    }

    fn depends_on(&self) -> Vec<SnapshotKey> {
        Vec::new()
    }

    fn post(&self, state: &State, units: Units) -> Posted {
        positive(&self.reading, "reading", units)?;
        enough_kept(self.kind, self.reading.value, "reading", state, units)?;
        let all = self.reading.value;
        let from = (Account::Byproduct(self.kind), -all);
        let to = match self.used {
            UsedFor::Rendered => {
                if !self.kind.is_rendered() {
                    return err(
                        "used",
                        "Only fat and skin are rendered. Choose what else became of it.".into(),
                    );
                }
                let Some(gave) = &self.gave else {
                    return err("gave", "Weigh the fat that it gave, such as 700 g.".into());
                };
                positive(gave, "gave", units)?;
                if gave.value > all {
                    return err(
                        "gave",
                        format!(
                            "{} cannot give {}. Check the digits.",
                            say(all, units),
                            say(gave.value, units)
                        ),
                    );
                }
                vec![
                    (Account::Byproduct(Byproduct::Rendered), gave.value),
                    (Account::Loss(Loss::Cooking), all - gave.value),
                ]
            }
            UsedFor::Cooked | UsedFor::GivenAway => vec![(Account::Loss(Loss::Used), all)],
            UsedFor::ThrownAway => vec![(Account::Loss(Loss::Waste), all)],
        };
        let moves: Vec<(Account, Milligrams)> = std::iter::once(from).chain(to).collect();
        Ok(tidy(moves))
    }

    fn conclude(&self, state: &mut State, _: &Entry) {
        *state.byproducts_used.entry(self.kind).or_default() += self.reading.value;
    }

    fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    fn label(&self) -> &'static str {
        self.used.label()
    }
}
