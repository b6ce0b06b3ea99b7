//! What a name means: which curing salt, how salty a sauce, and what somebody settled of that.

use super::super::AssumptionCode;
use super::super::line::Item;
use super::{Brew, Part, Question, Reader};
use crate::catalogue::cure_names::CureName;
use crate::catalogue::cures::{Composition, Role};
use crate::catalogue::lexicon::{NameRow, Open};
use crate::catalogue::spoons::Spoon;
use crate::units::show::trim;
use crate::units::{MassUnit, read};

impl Reader<'_> {
    pub(super) fn spoon(&self, key: &str) -> Option<&Spoon> {
        self.catalogue.spoons.iter().find(|s| s.key == key)
    }

    /// What somebody settled for a line.
    pub(in crate::recipe) fn settled(&self, code: AssumptionCode, typed: &str) -> Option<&str> {
        self.settled
            .iter()
            .rev()
            .find(|s| s.code == code && s.is_for(typed))
            .map(|s| s.value.trim())
    }

    /// The weight that somebody typed for an ingredient of a line, in the place of its own words.
    pub(super) fn settled_mass(&self, typed: &str, ingredient: &str) -> Option<f64> {
        let said = self.settled.iter().rev().find(|s| {
            s.code.takes_a_weight()
                && s.line_text.as_deref().map(str::trim) == Some(typed.trim())
                && s.ingredient.as_deref().is_none_or(|i| i == ingredient)
        })?;
        read::mass(&said.value, MassUnit::Metric)
            .ok()
            .map(|g| g.0)
            .filter(|g| *g > 0.0)
    }

    /// What a name brings with it.
    pub(super) fn named(&self, part: &mut Part, row: &NameRow, item: &Item, typed: &str) {
        part.ingredient = Some(if row.own_words {
            item.words.join(" ")
        } else {
            row.key.clone()
        });
        part.role = Some(row.role);
        part.sugar = row.sugar;
        if let Some(brings) = row.brings.as_deref().and_then(|b| self.catalogue.brings(b)) {
            part.sugar = brings.sugar;
            if brings.salt > 0.0 {
                let (low, high) = brings
                    .salt_range
                    .as_ref()
                    .map_or((brings.salt, brings.salt), |r| (r.low, r.high));
                part.salty = Some([low, brings.salt, high]);
            }
        }
        if let Some(salty) = row.salty {
            part.salty = Some(salty);
        }
        if let Some(salty) = &mut part.salty {
            let settled = self
                .settled(AssumptionCode::SauceSaltAssumed, typed)
                .and_then(|v| read::percent(v).ok())
                .map(|f| f.0);
            match settled {
                Some(share) => *salty = [share, share, share],
                None => {
                    let [low, usual, high] = *salty;
                    part.open.push(Question {
                        code: AssumptionCode::SauceSaltAssumed,
                        message: format!(
                            "Salt in {}: {} % taken ({} to {} %). Its label says it better.",
                            row.key,
                            trim(usual * 100.0, 1),
                            trim(low * 100.0, 1),
                            trim(high * 100.0, 1)
                        ),
                        value: Some(format!("{} %", trim(usual * 100.0, 1))),
                        choices: Vec::new(),
                    });
                }
            }
        }
        if row.role == Role::CuringSalt || item.holds[0].is_some() {
            self.cured_by(part, row, item, typed);
        }
        if row.role == Role::Accelerator {
            part.purity = if row.accelerator.as_deref() == Some("cure accelerator") {
                None
            } else {
                Some(1.0)
            };
        }
    }

    pub(super) fn cured_by(&self, part: &mut Part, row: &NameRow, item: &Item, typed: &str) {
        part.role = Some(Role::CuringSalt);
        if item.holds != [None, None] {
            self.holding(part, item);
            return;
        }
        if let Some(pure) = row.pure {
            part.brew = Some(Brew {
                key: None,
                name: row.key.clone(),
                made_of: pure.made_of(),
                pure: Some(pure),
                unknown: false,
            });
            return;
        }
        let usual = row.cure.as_deref().unwrap_or("none");
        let brew = |key: &str, unknown: bool| {
            let cure = self.catalogue.cure(key);
            cure.map(|c| Brew {
                key: Some(c.key.clone()),
                name: c.name.clone(),
                made_of: c.made_of.clone(),
                pure: None,
                unknown,
            })
        };
        match row.assumed {
            None => part.brew = brew(usual, false),
            Some(Open::Composition) => {
                let key = self
                    .settled(AssumptionCode::CompositionAssumed, typed)
                    .unwrap_or(usual)
                    .to_string();
                part.brew = brew(&key, false).or_else(|| brew(usual, false));
                let name = part
                    .brew
                    .as_ref()
                    .map_or("", |b| b.name.as_str())
                    .to_string();
                self.which_composition(part, format!(
                    "“{}” does not say which: {name} is taken, {}. Compare with the bag in your hand.",
                    row.key,
                    self.made_of(part)
                ));
            }
            Some(Open::Blend) => {
                part.brew = brew(usual, false);
                if let Some(said) = self.settled(AssumptionCode::CompositionAssumed, typed)
                    && let Some(own) = brew(said, false)
                {
                    part.brew = Some(own);
                }
                self.which_composition(part, format!(
                    "What is in a pre-blended cure stands on its label; {} is taken, as usually sold.",
                    self.made_of(part)
                ));
            }
            Some(Open::Identity) => match self.settled(AssumptionCode::IdentityUnclear, typed) {
                Some("salt") => {
                    part.role = Some(Role::Salt);
                    part.ingredient = Some("salt".into());
                }
                Some(key) if self.catalogue.cure(key).is_some() => part.brew = brew(key, false),
                _ => {
                    part.brew = brew(usual, false);
                    self.which_cure(part, typed, "Pink salt is the name of two things: tinted curing salt, with nitrite, and plain rock salt from the mountains. Cure #1 is taken; look at the bag before any of it goes on meat.".into());
                }
            },
            Some(Open::Celery) => {
                let share = self
                    .settled(AssumptionCode::CeleryUnknown, typed)
                    .and_then(|v| read::percent(v).ok())
                    .map(|f| f.0);
                let nitrite = share.unwrap_or(0.0);
                part.brew = Some(Brew {
                    key: None,
                    name: row.key.clone(),
                    made_of: Composition {
                        nitrite,
                        nitrate: 0.0,
                        salt: 0.0,
                        sugar: 0.0,
                    },
                    pure: None,
                    unknown: share.is_none(),
                });
                if share.is_none() {
                    part.asks(
                        AssumptionCode::CeleryUnknown,
                        format!(
                            "How much nitrite or nitrate {} brings is unknown without a percentage on its label; nothing can be worked out from it.",
                            row.key
                        ),
                    );
                }
            }
        }
    }

    /// A name that is on no list and is, or may be, that of a curing salt.
    pub(super) fn called_a_cure(&self, part: &mut Part, named: CureName, words: &str, typed: &str) {
        part.role = Some(Role::CuringSalt);
        let key = match named {
            CureName::One => Some("cure1"),
            CureName::Two => Some("cure2"),
            CureName::Source | CureName::MayBe => None,
        };
        let known = key.and_then(|k| self.catalogue.cure(k));
        part.brew = Some(Brew {
            key: known.map(|c| c.key.clone()),
            name: known.map_or_else(|| words.to_string(), |c| c.name.clone()),
            made_of: known.map_or_else(Composition::default, |c| c.made_of.clone()),
            pure: None,
            unknown: known.is_none(),
        });
        let message = match known {
            Some(cure) => format!(
                "“{words}” is taken for {}: a powder or salt with that number. Compare with the bag in your hand.",
                cure.name
            ),
            None => format!(
                "“{words}” is or may be a curing salt. Say which it is: nothing can be worked out before."
            ),
        };
        self.which_cure(part, typed, message);
    }

    pub(super) fn made_of(&self, part: &Part) -> String {
        let Some(brew) = &part.brew else {
            return String::new();
        };
        let mut said = format!("{} % nitrite", trim(brew.made_of.nitrite * 100.0, 2));
        if brew.made_of.nitrate > 0.0 {
            said += &format!(" and {} % nitrate", trim(brew.made_of.nitrate * 100.0, 2));
        }
        said
    }

    pub(super) fn which_composition(&self, part: &mut Part, message: String) {
        let value = part.brew.as_ref().and_then(|b| b.key.clone());
        part.open.push(Question {
            code: AssumptionCode::CompositionAssumed,
            message,
            value,
            choices: self.cure_choices(),
        });
    }

    pub(super) fn which_cure(&self, part: &mut Part, typed: &str, message: String) {
        if let Some(key) = self.settled(AssumptionCode::IdentityUnclear, typed)
            && let Some(cure) = self.catalogue.cure(key)
        {
            part.brew = Some(Brew {
                key: Some(cure.key.clone()),
                name: cure.name.clone(),
                made_of: cure.made_of.clone(),
                pure: None,
                unknown: false,
            });
            return;
        }
        let value = part
            .brew
            .as_ref()
            .filter(|b| !b.unknown)
            .and_then(|b| b.key.clone());
        let mut choices = self.cure_choices();
        choices.push(("salt".into(), "plain rock salt".into()));
        part.open.push(Question {
            code: AssumptionCode::IdentityUnclear,
            message,
            value,
            choices,
        });
    }

    /// “Cure #1 or #2”: which of them is asked, and nothing is worked out before.
    pub(super) fn either_cure(&self, part: &mut Part, typed: &str) {
        part.open
            .retain(|q| q.code != AssumptionCode::IdentityUnclear);
        part.brew = Some(Brew {
            key: None,
            name: "curing salt".into(),
            made_of: Composition::default(),
            pure: None,
            unknown: true,
        });
        self.which_cure(
            part,
            typed,
            "Two curing salts are offered, and they are not the same: one of them holds nitrate for what hangs for weeks. Say which you take.".into(),
        );
    }

    pub(super) fn cure_choices(&self) -> Vec<(String, String)> {
        let cures = self.catalogue.cures.iter().filter(|c| c.key != "none");
        cures.map(|c| (c.key.clone(), c.name.clone())).collect()
    }

    /// A curing salt of which the line says what it holds.
    pub(super) fn holding(&self, part: &mut Part, item: &Item) {
        let [nitrite, nitrate] = item.holds.map(Option::unwrap_or_default);
        let row = item.name.map(|n| &self.lexicon.names[n]);
        let base = row
            .and_then(|r| r.cure.as_deref())
            .and_then(|k| self.catalogue.cure(k));
        let nitrate = if item.holds[1].is_none() {
            base.map_or(0.0, |c| c.made_of.nitrate)
        } else {
            nitrate
        };
        let nitrite = if item.holds[0].is_none() {
            base.map_or(0.0, |c| c.made_of.nitrite)
        } else {
            nitrite
        };
        let celery = row.is_some_and(|r| r.assumed == Some(Open::Celery));
        part.role = Some(Role::CuringSalt);
        let rest = (1.0 - nitrite - nitrate).max(0.0);
        // A bag that says what the catalogue says is that cure.
        let same = self.catalogue.cures.iter().find(|c| {
            c.key != "none"
                && (c.made_of.nitrite - nitrite).abs() < 2e-4
                && (c.made_of.nitrate - nitrate).abs() < 2e-4
        });
        part.brew = Some(Brew {
            key: same.map(|c| c.key.clone()),
            name: same.map_or_else(
                || format!("curing salt with {} % nitrite", trim(nitrite * 100.0, 2)),
                |c| c.name.clone(),
            ),
            made_of: same.map_or(
                Composition {
                    nitrite,
                    nitrate,
                    salt: if celery { 0.0 } else { rest },
                    sugar: 0.0,
                },
                |c| c.made_of.clone(),
            ),
            pure: None,
            unknown: false,
        });
        part.ingredient = part.brew.as_ref().map(|b| b.name.clone());
    }
}
