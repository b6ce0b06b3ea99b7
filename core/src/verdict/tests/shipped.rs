//! Every product that ships, made by its own numbers from the meat it names: done as it says and when it is due, on each
//! scale, from the scale to the label, without one question that its maker could have avoided.

use super::*;
use crate::agenda::TaskKind;
use crate::catalogue::builds::{Build, Suit, Wanted};
use crate::catalogue::dosing::DosingMethod;
use crate::catalogue::steps::StepKind;
use crate::timetable::{Task, tasks};
use jiff::civil::time;

/// One piece from the animal to its label, and what was asked on the way.
pub(super) struct Made<'a> {
    pub(super) season: Season,
    build: &'a Build,
    pub(super) piece: PieceId,
    pub(super) asked: Vec<String>,
}

impl<'a> Made<'a> {
    pub(super) fn started(
        build: &'a Build,
        species: &str,
        cut: &str,
        grams: f64,
        scale: f64,
    ) -> Option<Self> {
        let mut season = Season::empty();
        season.home.settings.scales.fine_division_g = scale;
        let mut made = Self {
            season,
            build,
            piece: PieceId(1),
            asked: Vec::new(),
        };
        let kind = crate::testing::species(species)?;
        let shape = kind.cut(cut)?;
        let is_thick = shape.thickness_mm.low > 75.0 && !build.is_ground();
        if is_thick && build.choices().all(|(key, _)| key != "pumped") {
            // It has to be split first.
            return None;
        }
        let hunted = ["deer", "elk", "moose", "wild_boar", "bear"].contains(&species);
        let origin = if hunted { "harvested" } else { "bought" };
        let (thin, thick) = (shape.thickness_mm.low, shape.thickness_mm.high);
        let least = build.wants.least_thickness_mm.unwrap_or(0.0);
        let most = build
            .cure
            .as_ref()
            .map_or(f64::MAX, |c| c.limit_thickness_mm);
        let thickness = f64::midpoint(thin, thick).max(least).min(most.max(thin));
        // An animal of which such a piece is a likely part.
        let share = shape.share.map_or(0.05, |s| f64::midpoint(s.low, s.high));
        let parts = f64::from(shape.count.unwrap_or(1));
        let carcass = format!("{:.0} g", grams * parts / share);
        made.does(json!({"act": "received", "name": "made up", "species": species, "origin": origin, "known": "carcass", "reading": carcass}));
        made.does(json!({"act": "piece_weighed", "lot": 1, "cut": cut, "reading": format!("{grams} g"), "thickness": format!("{thickness} mm"),
            "skin_on": build.wants.skin == Wanted::On}));
        if ["deer", "elk", "moose"].contains(&species) {
            made.does(json!({"act": "hold_answered", "lot": 1, "kind": "wasting_test", "answer": "clear", "note": "T-11"}));
        }
        if build.raw_dried {
            made.does(json!({"act": "freezer_read", "lot": 1, "inside": "-20 C"}));
            made.season.now += SignedDuration::from_hours(24 * 32);
            made.does(json!({"act": "freezer_read", "lot": 1, "inside": "-20 C"}));
        }
        if build.is_ground() {
            made.does(json!({"act": "ground", "lot": 1, "reading": format!("{:.0} g", grams * 0.99), "thickness": "60 mm",
                "sources": [{"from": "piece", "piece": made.piece}]}));
            made.piece = PieceId(2);
        }
        Some(made)
    }

    /// Does it, and notes down whatever is asked.
    fn does(&mut self, ask: Value) {
        if let Err(asked) = self.season.does(&ask, false) {
            self.asked.push(format!("{ask}: {asked}"));
        }
    }

    /// Over this thickness the inch rules do not hold: what is thicker is pumped.
    fn is_pumped(&self) -> bool {
        let shape = &self.season.book.piece(self.piece).unwrap().1.shape;
        shape.thickness().is_some_and(|t| t.0 > 75.0)
            && self.build.choices().any(|(key, _)| key == "pumped")
    }

    pub(super) fn mass(&self) -> f64 {
        self.season.book.piece(self.piece).unwrap().1.mass.grams()
    }

    /// What is to be done next with it, at the moment when it is due.
    pub(super) fn next(&mut self) -> Option<Task> {
        let zone = self.season.home.settings.zone();
        let when = |t: &Task| {
            let noon = t.due.to_datetime(time(12, 0, 0, 0));
            let noon = noon.to_zoned(zone.clone()).unwrap().timestamp();
            t.hours.as_ref().map_or(noon, |h| h.due)
        };
        let piece = self.piece;
        let mine = |season: &Season| {
            let all = tasks(&season.book, &season.home, season.now);
            all.into_iter().filter(move |t| t.piece == piece)
        };
        let due = mine(&self.season).map(|t| when(&t)).min()?;
        self.season.now = (self.season.now + SignedDuration::from_mins(10)).max(due);
        // What only waited is over when the next thing has come.
        mine(&self.season).min_by_key(when)
    }

    pub(super) fn does_the(&mut self, task: &Task) {
        let (piece, mass) = (self.piece, self.mass());
        let g = |share: f64| format!("{:.0} g", mass * share);
        match task.kind {
            TaskKind::Assign => self.does(json!({"act": "assigned", "piece": piece, "build": self.build.key})),
            TaskKind::Dose if self.is_pumped() => {
                self.does(json!({"act": "dosed", "pieces": [piece], "way": "pumped"}));
                self.does(json!({"act": "injected", "piece": piece, "after": g(1.1)}));
            }
            TaskKind::Dose => self.does(json!({"act": "dosed", "pieces": [piece]})),
            TaskKind::Pump => self.does(json!({"act": "injected", "piece": piece, "after": g(1.1)})),
            TaskKind::Turn => self.does(json!({"act": "turned", "piece": piece})),
            TaskKind::OutOfCure => {
                if self.build.steps.iter().any(|s| s.asks.iter().any(|a| a == "ph")) {
                    for value in ["5.2", "5.1"] {
                        self.does(json!({"act": "checked", "piece": piece, "check": "ph", "value": value}));
                        self.season.now += SignedDuration::from_hours(7);
                    }
                }
                let wet = matches!(self.build.method, DosingMethod::EquilibriumBrine | DosingMethod::CoverBrine);
                self.does(json!({"act": "checked", "piece": piece, "check": "firmness", "grade": "firm"}));
                self.does(json!({"act": "out_of_cure", "piece": piece, "reading": g(if wet { 1.03 } else { 0.98 })}));
            }
            TaskKind::ByHand => self.by_hand(task),
            TaskKind::Smoke | TaskKind::Cook => {
                let step = task.step.as_ref().unwrap();
                if step.kind == StepKind::ColdSmoke {
                    self.does(json!({"act": "smoked", "step": step.id, "piece": piece, "reading": g(0.99)}));
                    return;
                }
                let lot = self.season.book.lot(LotId(1)).unwrap();
                let own = &lot.state.pieces[&piece];
                let target = self.season.judge().within(&lot.state, own).target();
                self.does(json!({"act": "smoked", "step": step.id, "piece": piece, "reading": g(0.9), "inside": format!("{:.1} C", target.0 + 1.0), "chamber": "82 C"}));
            }
            TaskKind::Hang => self.does(json!({"act": "hung", "piece": piece, "reading": format!("{:.0} g", mass + 40.0), "tare": "40 g"})),
            TaskKind::WeighIn => self.does(json!({"act": "weighed_in", "piece": piece, "reading": format!("{:.0} g", mass * 0.95 + 40.0)})),
            TaskKind::TakeDown => self.does(json!({"act": "taken_down", "piece": piece, "reading": format!("{:.0} g", mass + 40.0)})),
            TaskKind::Pack => {
                let place = self.build.keeps.first().map(|k| &k.place);
                self.does(json!({"act": "packed", "piece": piece, "packs": [{"reading": g(0.97), "place": place}], "finished": true}));
            }
            TaskKind::Thaw => self.does(json!({"act": "thawed", "piece": piece})),
            TaskKind::Discard => self.asked.push("thrown away".into()),
        }
    }

    fn by_hand(&mut self, task: &Task) {
        let piece = self.piece;
        let step = task.step.as_ref().unwrap();
        match step.kind {
            StepKind::TestSlice => {
                for check in ["slice_end", "slice_middle"] {
                    self.does(json!({"act": "checked", "piece": piece, "check": check, "grade": "right"}));
                }
            }
            StepKind::DrySurface => self.does(json!({"act": "checked", "piece": piece, "check": "tacky", "grade": "tacky"})),
            StepKind::Soak => self.does(json!({"act": "soaked", "piece": piece, "minutes": 45})),
            StepKind::Coat => self.does(json!({"act": "coated", "piece": piece, "name": "black pepper", "reading": format!("{:.0} g", self.mass() * 0.01)})),
            StepKind::Roll => self.does(json!({"act": "step_done", "piece": piece, "step": step.id, "thickness": "75 mm"})),
            StepKind::EvenOut => self.does(json!({"act": "evened_out", "piece": piece, "weeks": 2})),
            _ => self.does(json!({"act": "step_done", "piece": piece, "step": step.id})),
        }
    }
}

fn made(build: &Build, species: &str, cut: &str, grams: f64, scale: f64) -> Option<Vec<String>> {
    let mut made = Made::started(build, species, cut, grams, scale)?;
    let mut done = 0;
    if !made.asked.is_empty() {
        return Some(made.asked);
    }
    while let Some(task) = made.next() {
        made.does_the(&task);
        done += 1;
        if done > 60 || !made.asked.is_empty() {
            made.asked.push(format!(
                "it goes on: {:?} {:?} {}",
                task.kind, task.step, made.season.now
            ));
            break;
        }
    }
    let lot = made.season.book.lot(LotId(1)).unwrap();
    let piece = &lot.state.pieces[&made.piece];
    let word = made.season.judge().piece(&lot.state, piece);
    if piece.stage() != Stage::Packed
        || (word.word != Verdict::ReadyToEat && build.eat == Eat::ReadyToEat)
    {
        made.asked.push(format!("{:?} {:?}", piece.stage(), word));
    }
    Some(made.asked)
}

#[test]
fn every_product_made_as_it_says_is_asked_nothing_that_could_be_avoided() {
    let mut wrong = Vec::new();
    let mut all = 0;
    for build in &crate::testing::catalogue().builds {
        if build.dose.is_none() || build.ending {
            continue;
        }
        for Suit {
            species,
            cuts,
            score,
            ..
        } in &build.suits
        {
            if *score == 0 {
                continue;
            }
            for species in species {
                // One cut of each kind: what decides is the product.
                for cut in cuts.iter().take(1) {
                    for (scale, grams) in [
                        (0.01, [600.0, 1_150.0, 2_300.0]),
                        (0.1, [600.0, 1_150.0, 2_300.0]),
                        (1.0, [3_300.0, 4_000.0, 5_200.0]),
                    ] {
                        for grams in grams {
                            let Some(asked) = made(build, species, cut, grams, scale) else {
                                continue;
                            };
                            all += 1;
                            if !asked.is_empty() {
                                wrong.push(format!(
                                    "{} {species} {cut} {grams} {scale}: {}",
                                    build.key,
                                    asked.join("\n    ")
                                ));
                            }
                        }
                    }
                }
            }
        }
    }
    assert!(
        wrong.is_empty(),
        "{} of {all}:\n{}",
        wrong.len(),
        wrong.join("\n")
    );
    assert!(all > 400, "{all}");
}
