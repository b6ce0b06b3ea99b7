//! What a heat proves: inside temperatures that can be, whoever measured them, and why others prove nothing.
//!
//! The one place that guards every way in which an inside comes into the books: typed with the weight, read by the probes and
//! checks of a run, typed as the peak of a rest or as a reading while it cooled, entered with a piece that was on its way.

use super::Judge;
use crate::caution::{Code, Finding, Severity};
use crate::heat::possible::{
    BOILS, HOTTEST_CHAMBER, Meat, OVER_CHAMBER_C, SLACK_C, Spell, coldest_inside, most_carry_over,
    warmest_inside,
};
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::piece::{Heat, Piece};
use crate::place::climate::Read;
use crate::run::series::ProbeFaultKind;
use crate::run::{Event, RunAct, Watched, minutes};
use crate::units::show::{temperature, trim};
use crate::units::{Celsius, Typed};
use crate::verdict::inside::{Inside, inside_of};
use crate::verdict::plausible::{self, start_before, unproved};

/// What is written down closer together than this was written down together: it says nothing of how long a heat took (min).
const TOGETHER_MIN: f64 = 3.0;

/// More than this over what was read in its run is not what was read there (°C).
pub const UNLIKE_C: f64 = 2.0;

/// A run's reading says something of a typed one if it is not older than this (min).
const LATELY_MIN: f64 = 60.0;

/// A tenth is what thermometers round away (°C).
const ROUNDED_C: f64 = 0.05;

/// What a heat proves.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Proof {
    /// The highest inside that is proved; none where nothing is.
    pub inside: Option<Celsius>,
    /// The highest that was read or typed, whatever it proves.
    pub read: Option<Celsius>,
    /// Why what was read proves nothing.
    pub warnings: Vec<Finding>,
}

impl Proof {
    fn read(&mut self, read: Celsius, warnings: Vec<Finding>) {
        let higher = |known: Option<Celsius>| known.is_none_or(|k| k < read);
        if higher(self.read) {
            self.read = Some(read);
        }
        if warnings.is_empty() {
            if higher(self.inside) {
                self.inside = Some(read);
            }
        } else {
            self.warnings.extend(warnings);
        }
    }
}

impl Judge<'_> {
    /// What a heat of a piece proves.
    #[must_use]
    pub fn proof(&self, piece: &Piece, heat: &Heat) -> Proof {
        let mut proof = Proof::default();
        // Of a part, the whole was in the heat.
        let whole = (heat.of != piece.id).then(|| self.book.piece(heat.of));
        let piece = whole.flatten().map_or(piece, |(_, whole)| whole);
        if heat.by_run {
            self.by_run(piece, heat, &mut proof);
        } else if let Some(typed) = &heat.inside {
            let warnings = self.typed_doubts(piece, heat, typed);
            match self.said_by_its_run(piece, heat) {
                // Its probe and its checks said less, and they stay.
                Some(run) if warnings.is_empty() && typed.value.0 > run.0 + UNLIKE_C => {
                    proof.read = Some(typed.value);
                    proof.inside = Some(run);
                    proof.warnings.push(self.unlike_its_run(typed.value, run));
                }
                Some(_) | None => proof.read(typed.value, warnings),
            }
        }
        if let Some(peak) = &heat.peak {
            let mut warnings: Vec<Finding> = unit_doubt(&peak.inside, ReadWhere::InsideHot)
                .into_iter()
                .collect();
            let out = self.out_of_heat(piece, heat);
            if out.is_some() && proof.inside.is_none() {
                // A rest goes on from what came out of the heat, and that is not proved.
                warnings.extend(proof.warnings.first().cloned());
            } else if out.is_some() {
                warnings.extend(self.peak_doubt(piece, heat, peak.inside.value));
            } else {
                warnings.extend(self.typed_doubts(piece, heat, &peak.inside));
            }
            proof.read(peak.inside.value, warnings);
        }
        proof
    }

    /// The inside with which a piece came out of a heat, as it stands in the books.
    #[must_use]
    pub fn out_of_heat(&self, piece: &Piece, heat: &Heat) -> Option<Celsius> {
        if heat.by_run {
            return self.said_by_its_run(piece, heat);
        }
        heat.inside.as_ref().map(|c| c.value)
    }

    /// What is asked about a heat when it is written down.
    #[must_use]
    pub fn heat_doubts(&self, piece: &Piece, heat: &Heat) -> Vec<Finding> {
        match &heat.inside {
            Some(typed) if !heat.by_run => self.typed_doubts(piece, heat, typed),
            Some(_) | None => self.proof(piece, heat).warnings,
        }
    }

    /// A peak that no rest brings.
    #[must_use]
    pub fn peak_doubt(&self, piece: &Piece, heat: &Heat, peak: Celsius) -> Option<Finding> {
        let out = self.out_of_heat(piece, heat)?;
        let most = most_carry_over(out, heat.chamber.as_ref().map(|c| c.value));
        (peak.0 > out.0 + most + ROUNDED_C).then(|| {
            Finding::new(
                Code::CarryOverUnusual,
                Severity::Caution,
                "Meat does not go on warming by so much out of the heat.",
            )
            .saw(format!("a peak of {}", self.label(peak)))
            .wants(format!(
                "{} to {}",
                self.label(out),
                self.label(Celsius(out.0 + most))
            ))
            .remedy("Check the number and its unit. Saved as typed it proves nothing.")
        })
    }

    /// A reading that meat of this thickness cannot have cooled to yet.
    #[must_use]
    pub fn cooled_doubt(
        &self,
        piece: &Piece,
        heat: &Heat,
        inside: Celsius,
        hours: f64,
    ) -> Option<Finding> {
        let from = heat.highest().or_else(|| self.out_of_heat(piece, heat))?;
        let meat = Meat {
            thickness: piece.thickness_now(),
            wet: false,
        };
        let least = coldest_inside(from, hours * 60.0, meat);
        (inside.0 < least.0 - SLACK_C).then(|| {
            Finding::new(
                Code::CoolsTooFast,
                Severity::Caution,
                "Meat of this thickness cannot cool that fast.",
            )
            .saw(format!("{} after {} h", self.label(inside), trim(hours, 2)))
            .wants(format!("not under {}", self.label(Celsius(least.0.ceil()))))
            .remedy("Check the number, its unit and the hours. Saved as typed it proves nothing.")
        })
    }

    /// Why an inside that was typed proves nothing.
    fn typed_doubts(&self, piece: &Piece, heat: &Heat, typed: &Typed<Celsius>) -> Vec<Finding> {
        let mut found: Vec<Finding> = Vec::new();
        found.extend(unit_doubt(typed, ReadWhere::InsideHot));
        if let Some(n) = heat.shared_by.filter(|n| *n > 1) {
            found.push(
                Finding::new(
                    Code::NotEachRead,
                    Severity::Caution,
                    format!("One temperature for {n} pieces. Was each piece measured?"),
                )
                .saw(format!("{} once", self.label(typed.value)))
                .wants("a reading in each piece")
                .remedy("Confirm that each piece was measured, or save each piece with its own temperature."),
            );
        }
        if typed.value.0 > BOILS.0 + ROUNDED_C {
            found.push(unproved(
                ProbeFaultKind::OverChamber,
                typed.value,
                self.home.settings.units.heat,
            ));
            return found;
        }
        let in_run = heat.run.and_then(|id| self.home.runs.get(id));
        found.extend(match in_run {
            Some(watched) => self.cannot_be_in_run(piece, heat, watched, typed.value),
            None => self.cannot_be(piece, heat, typed.value),
        });
        found
    }

    /// By its time in the heat, its chamber and its thickness, as far as they were written down.
    fn cannot_be(&self, piece: &Piece, heat: &Heat, inside: Celsius) -> Option<Finding> {
        let unit = self.home.settings.units.heat;
        let start = start_before(piece, heat.at);
        let chamber = heat.chamber.as_ref().map(|c| c.value);
        if let Some(chamber) = chamber
            && inside.0 > chamber.0.max(start.0) + OVER_CHAMBER_C
        {
            let found = unproved(ProbeFaultKind::OverChamber, inside, unit);
            return Some(
                found
                    .saw(format!("{} inside", temperature(inside, unit)))
                    .wants(format!(
                        "at most {}, its chamber",
                        temperature(chamber, unit)
                    )),
            );
        }
        let lasted = heat.after.map(|before| minutes(before, heat.at))?;
        if lasted < TOGETHER_MIN {
            return None;
        }
        let meat = Meat {
            thickness: piece.thickness_now(),
            wet: heat.wet,
        };
        let spell = Spell {
            minutes: lasted,
            chamber: chamber.unwrap_or(HOTTEST_CHAMBER),
        };
        let most = warmest_inside(start, &[spell], meat);
        (inside.0 > most.0 + SLACK_C).then(|| {
            unproved(ProbeFaultKind::TooFast, inside, unit)
                .saw(format!(
                    "{} inside {} min after it was last weighed or checked",
                    temperature(inside, unit),
                    trim(lasted, 0)
                ))
                .wants(format!("at most {}", temperature(most, unit)))
        })
    }

    /// By the history of its run.
    fn cannot_be_in_run(
        &self,
        piece: &Piece,
        heat: &Heat,
        watched: &Watched,
        inside: Celsius,
    ) -> Option<Finding> {
        let run = &watched.run;
        // As a check by hand at that moment.
        let event = Event {
            no: i64::MAX,
            at: heat.at,
            act: RunAct::SpotChecked {
                piece: piece.id,
                read: vec![Typed::unsaid(inside)],
            },
            kept: Vec::new(),
            reason: None,
        };
        let with = run.with(event)?;
        let known = plausible::OfPiece::of(&with, &self.before_heat(piece, heat), self.book);
        let sounded = plausible::of_piece(&with, &watched.readings, piece.id, known);
        let (_, kind) = sounded.doubted.iter().find(|(no, _)| *no == i64::MAX)?;
        Some(unproved(*kind, inside, self.home.settings.units.heat))
    }

    /// The piece without this heat and what came after it.
    fn before_heat(&self, piece: &Piece, heat: &Heat) -> Piece {
        let mut before = piece.clone();
        before.heats.retain(|h| h.at < heat.at);
        before
    }

    /// What its run says a piece came to; none where nothing of it counts.
    fn said_by_its_run(&self, piece: &Piece, heat: &Heat) -> Option<Celsius> {
        let now = self.in_its_run(piece, heat)?;
        let record = now.record?;
        let lately = heat.by_run || minutes(record.at, heat.at) <= LATELY_MIN;
        lately.then(|| as_recorded(record))
    }

    fn in_its_run(&self, piece: &Piece, heat: &Heat) -> Option<Inside> {
        let watched = self.home.runs.get(heat.run?)?;
        inside_of(watched, piece, self.book)
    }

    fn by_run(&self, piece: &Piece, heat: &Heat, proof: &mut Proof) {
        let stored = heat.inside.as_ref().map(|c| c.value);
        let Some(now) = self.in_its_run(piece, heat) else {
            proof.inside = stored;
            proof.read = stored;
            return;
        };
        let unit = self.home.settings.units.heat;
        if let Some(record) = now.record {
            proof.read(as_recorded(record), Vec::new());
        }
        let faults = now.faults.iter().filter(|f| f.kind.cannot_be());
        let mut warnings: Vec<Finding> = faults
            .map(|f| {
                let finding = unproved(f.kind, f.saw, unit);
                Finding {
                    message: format!("Probe {}: {}", f.probe, finding.message),
                    ..finding
                }
            })
            .collect();
        warnings.extend(now.doubted.iter().filter_map(|(no, kind)| {
            let run = &self.home.runs.get(heat.run?)?.run;
            let spots = run.spots.iter().find(|s| s.no == *no)?;
            Some(unproved(*kind, spots.coldest()?, unit))
        }));
        let gone = stored.filter(|s| proof.inside.is_none_or(|i| i.0 < s.0 - 0.2));
        if let (Some(was), true) = (gone, warnings.is_empty()) {
            warnings.push(
                Finding::new(
                    Code::UnlikeItsProbe,
                    Severity::Caution,
                    "The readings of its run that said so no longer count.",
                )
                .saw(format!("{} when it was weighed", temperature(was, unit)))
                .wants(proof.inside.map_or_else(
                    || "a reading that counts".into(),
                    |c| format!("{} by what counts now", temperature(c, unit)),
                )),
            );
        }
        proof.read = [proof.read, stored]
            .into_iter()
            .flatten()
            .max_by(|a, b| a.0.total_cmp(&b.0));
        proof.warnings = warnings;
    }

    fn unlike_its_run(&self, typed: Celsius, run: Celsius) -> Finding {
        Finding::new(
            Code::UnlikeItsProbe,
            Severity::Caution,
            "The probe and checks of its run never read that much.",
        )
        .saw(format!("{} typed", self.label(typed)))
        .wants(format!("{} by what was read in its run", self.label(run)))
        .remedy("Check the number and its unit, or record the check you go by in the run.")
    }
}

/// What was read is rounded down: a tenth that was not there must not make a target.
#[must_use]
pub fn as_recorded(read: Read) -> Celsius {
    Celsius((read.temperature.0 * 10.0 + 1e-6).floor() / 10.0)
}
