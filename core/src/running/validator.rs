//! What a run notices before something is written down: it refuses, wants a reason, or asks.

use crate::caution::{Code, FieldError, Finding, Severity};
use crate::cure::no_nitrite;
use crate::cure::no_nitrite::Door;
use crate::heat::possible::{self, too_hot_inside};
use crate::heat::typed::{ReadWhere, unit_doubt};
use crate::house::House;
use crate::ids::PieceId;
use crate::ledger::book::Book;
use crate::piece::printed::Verdict;
use crate::run::act::RunAct;
use crate::run::stages::{COLD_SMOKE_C, SLOW_UNDER_C};
use crate::run::{
    Event, Fire, MOST_PROBES, ProbeLocation, Run, RunStage, RunStageKind, Runs, TRUSTED_C, fire,
};
use crate::running::load;
use crate::units::show::{mass, temperature};
use crate::units::{Celsius, Grams, Typed};
use crate::verdict::Judge;
use crate::verdict::plausible::{self, unproved};
use jiff::Timestamp;

/// Before what an act of a run is looked at.
#[derive(Clone, Copy, Debug)]
pub struct RunValidator<'a> {
    /// Every lot as it stands.
    pub book: &'a Book,
    /// The household.
    pub home: &'a House,
    /// Every run.
    pub runs: &'a Runs,
    /// When it happens.
    pub at: Timestamp,
}

fn wrong<T>(field: &str, message: impl Into<String>) -> Result<T, Vec<FieldError>> {
    Err(vec![FieldError::new(field, message)])
}

/// True for stages in which meat goes slowly through the warm hours.
#[must_use]
pub fn is_slow(stages: &[RunStage]) -> bool {
    stages.iter().any(|s| match s.kind {
        RunStageKind::ColdSmoke => true,
        RunStageKind::Smoke => s.set_c.is_none_or(|c| c < SLOW_UNDER_C),
        RunStageKind::Dry
        | RunStageKind::Rest
        | RunStageKind::Finish
        | RunStageKind::Steam
        | RunStageKind::Boil => false,
    })
}

/// Stages that nobody can mean.
///
/// # Errors
/// Names the stage and what to type instead.
pub fn check_stages(stages: &[RunStage]) -> Result<(), Vec<FieldError>> {
    if stages.is_empty() {
        return wrong("stages", "Give at least one stage.");
    }
    if stages.len() > 20 {
        return wrong("stages", "Give at most 20 stages.");
    }
    for (i, s) in stages.iter().enumerate() {
        if let Some(c) = s.set_c {
            let (least, most) = match s.kind {
                RunStageKind::Rest => (-5.0, 25.0),
                RunStageKind::ColdSmoke => (-10.0, COLD_SMOKE_C),
                RunStageKind::Boil | RunStageKind::Steam => (40.0, 105.0),
                RunStageKind::Dry | RunStageKind::Smoke | RunStageKind::Finish => (0.0, 300.0),
            };
            if !(least..=most).contains(&c) {
                return wrong(
                    &format!("stages[{i}].set"),
                    format!(
                        "Set “{}” between {least:.0} and {most:.0} °C, or choose another kind of stage.",
                        s.kind.label()
                    ),
                );
            }
        }
        match s.ends {
            crate::run::StageEnd::Hours(h) if !(h > 0.0 && h <= 240.0) => {
                return wrong(
                    &format!("stages[{i}].hours"),
                    "Give hours above zero, such as 2 or 90 min.",
                );
            }
            crate::run::StageEnd::Inside(c) if !(20.0..=110.0).contains(&c) => {
                return wrong(
                    &format!("stages[{i}].inside"),
                    "No inside ends a stage there. Type degrees such as 62.8 C or 145 F.",
                );
            }
            crate::run::StageEnd::Hours(_)
            | crate::run::StageEnd::Inside(_)
            | crate::run::StageEnd::Marks => {}
        }
    }
    Ok(())
}

impl RunValidator<'_> {
    fn judge(&self) -> Judge<'_> {
        Judge {
            book: self.book,
            home: self.home,
        }
    }

    /// How a piece is called.
    #[must_use]
    pub fn tag(&self, piece: PieceId) -> String {
        let found = self.book.piece(piece);
        found.map_or_else(|| format!("piece {}", piece.0), |(_, p)| p.tag.clone())
    }

    /// Why an act cannot be in a run as it stands; `run` is none for the one that sets it up.
    ///
    /// # Errors
    /// Names the field, and what to do instead.
    pub fn possible(&self, run: Option<&Run>, act: &RunAct) -> Result<(), Vec<FieldError>> {
        let Some(run) = run else {
            let RunAct::SetUp { name, stages, .. } = act else {
                return wrong("act", "A run begins with being set up.");
            };
            if name.trim().is_empty() {
                return wrong("name", "Say what it is made in, such as the drum.");
            }
            return check_stages(stages);
        };
        if run.ended.is_some() && !matches!(act, RunAct::Struck { .. } | RunAct::Answered { .. }) {
            return wrong(
                "run",
                "This run is over. Take its end back first, or begin another.",
            );
        }
        if self.at < run.begun {
            return wrong(
                "happened_at",
                "That is before the run was set up. Give a later time.",
            );
        }
        let loaded = run.loaded(self.book);
        let here = |piece: &PieceId| loaded.iter().any(|s| s.piece == *piece);
        let need = |piece: &PieceId| {
            if here(piece) {
                Ok(())
            } else {
                wrong(
                    "piece",
                    format!("{} does not lie in this run.", self.tag(*piece)),
                )
            }
        };
        match act {
            RunAct::SetUp { .. } => wrong("act", "This run is set up already."),
            RunAct::Loaded { piece, shelf, zone } => {
                if zone.trim().is_empty() {
                    return wrong("zone", "Say in which zone it lies.");
                }
                if shelf.is_some_and(|n| n == 0 || n > 100) {
                    return wrong("shelf", "Count shelves from the top: 1 or more.");
                }
                if here(piece) {
                    return Ok(());
                }
                self.may_be_loaded(run, *piece)
            }
            RunAct::TakenOut { piece } => need(piece),
            RunAct::SpotChecked { piece, read } => {
                if read.is_empty() || read.len() > 12 {
                    return wrong("read", "Read it in two or three places, off the bone.");
                }
                let known = run.sitting(*piece).is_some();
                if !known {
                    return need(piece);
                }
                for c in read {
                    if !(-10.0..=possible::BOILS.0 + 0.05).contains(&c.value.0) {
                        return wrong("read", too_hot_inside("62.8 C or 145 F"));
                    }
                }
                Ok(())
            }
            RunAct::Staged { stages } => {
                check_stages(stages)?;
                let gone = run.went.iter().map(|s| s.stage + 1).max().unwrap_or(0);
                if stages.len() < gone {
                    return wrong("stages", "A stage that began stays on the list.");
                }
                Ok(())
            }
            RunAct::StageBegun { stage } => {
                if *stage >= run.stages.len() {
                    return wrong(
                        "stage",
                        format!("This run has {} stages.", run.stages.len()),
                    );
                }
                if loaded.is_empty() {
                    return wrong("stage", "Nothing lies in it yet. Lay pieces in first.");
                }
                Ok(())
            }
            RunAct::Paused if run.stage().is_none() => {
                wrong("act", "No stage is under way that could pause.")
            }
            RunAct::Resumed if run.paused.is_none() => wrong("act", "It does not pause."),
            RunAct::Paused | RunAct::Resumed | RunAct::Ended => Ok(()),
            RunAct::ProbeSet { probe, seat } => {
                if *probe == 0 || *probe > MOST_PROBES {
                    return wrong("probe", format!("Probes are numbered 1 to {MOST_PROBES}."));
                }
                match seat {
                    ProbeLocation::Piece(piece) => {
                        need(piece)?;
                        match run.probe_in(*piece) {
                            Some(other) if other != *probe => wrong(
                                "probe",
                                format!(
                                    "Probe {other} sits in {} already. Take it out, or set that one.",
                                    self.tag(*piece)
                                ),
                            ),
                            Some(_) | None => Ok(()),
                        }
                    }
                    ProbeLocation::Chamber(zone) if zone.trim().is_empty() => {
                        wrong("zone", "Say in which zone it hangs.")
                    }
                    ProbeLocation::Chamber(_) | ProbeLocation::Out => Ok(()),
                }
            }
            RunAct::ProbeChecked {
                probe, offset_c, ..
            } => {
                if *probe == 0 || *probe > MOST_PROBES {
                    return wrong("probe", format!("Probes are numbered 1 to {MOST_PROBES}."));
                }
                // Off by so much it says something else than degrees.
                if offset_c.abs() > 120.0 {
                    return wrong(
                        "read",
                        "Type what the probe shows in the water, e.g. 0.5 C or 33 F.",
                    );
                }
                Ok(())
            }
            RunAct::ChamberRead { temperature, .. } => {
                if (-30.0..=400.0).contains(&temperature.value.0) {
                    Ok(())
                } else {
                    wrong(
                        "warmth",
                        "No smoker or pot is that warm. Type degrees such as 95 C or 203 F.",
                    )
                }
            }
            RunAct::Lit {
                kind,
                wood,
                grams,
                burns_h,
            } => {
                if let Some(why) = fire::refused(*kind, wood) {
                    return wrong("wood", why);
                }
                if grams.is_some_and(|g| !(g > 0.0 && g <= 100_000.0)) {
                    return wrong("grams", "Give a weight above zero, such as 150 g.");
                }
                if burns_h.is_some_and(|h| !(h > 0.0 && h <= 48.0)) {
                    return wrong("burns", "Give hours above zero, such as 4.");
                }
                Ok(())
            }
            RunAct::BurntOut { fire } => {
                let found: Option<&Fire> = run.fires.iter().find(|f| f.no == *fire);
                match found {
                    None => wrong("fire", "There is no such fire in this run."),
                    Some(f) if f.out.is_some() => wrong("fire", "It burnt out already."),
                    Some(_) => Ok(()),
                }
            }
            RunAct::Seen { .. } | RunAct::Answered { .. } => Ok(()),
            RunAct::Struck { event } => self.may_be_struck(run, *event),
        }
    }

    fn may_be_struck(&self, run: &Run, event: i64) -> Result<(), Vec<FieldError>> {
        let Some(found) = run.events.iter().find(|e| e.no == event) else {
            return wrong("event", "There is no such line in this run.");
        };
        if run.struck.contains(&event) {
            return wrong("event", "That line is struck out already.");
        }
        let weighed = |piece: &PieceId| run.weighed_out(*piece, self.book).is_some();
        match &found.act {
            RunAct::SetUp { .. } => {
                wrong("event", "A run stays set up. End it, and begin another.")
            }
            RunAct::Struck { .. } => wrong("event", "What is struck out stays so."),
            RunAct::Loaded { piece, .. } if weighed(piece) => wrong(
                "event",
                format!(
                    "{} was weighed out of this run. Undo that weighing first.",
                    self.tag(*piece)
                ),
            ),
            RunAct::Loaded { .. }
            | RunAct::TakenOut { .. }
            | RunAct::Staged { .. }
            | RunAct::StageBegun { .. }
            | RunAct::Paused
            | RunAct::Resumed
            | RunAct::ProbeSet { .. }
            | RunAct::ProbeChecked { .. }
            | RunAct::SpotChecked { .. }
            | RunAct::ChamberRead { .. }
            | RunAct::Lit { .. }
            | RunAct::BurntOut { .. }
            | RunAct::Seen { .. }
            | RunAct::Answered { .. }
            | RunAct::Ended => Ok(()),
        }
    }

    fn may_be_loaded(&self, run: &Run, piece: PieceId) -> Result<(), Vec<FieldError>> {
        let Some((_, found)) = self.book.piece(piece) else {
            return wrong(
                "piece",
                format!(
                    "There is no piece number {}. Look it up by its tag.",
                    piece.0
                ),
            );
        };
        if let Some(other) = self.runs.with_piece(piece, self.book)
            && other.run.id != run.id
        {
            return wrong(
                "piece",
                format!(
                    "{} lies in {} now. Take it out there first.",
                    found.tag, other.run.name
                ),
            );
        }
        if let Some(first) = found.to_be_thawed() {
            return wrong("piece", first);
        }
        if !found.may_be_heated() {
            return wrong(
                "piece",
                format!(
                    "{} {}. Only what waits for smoke or stove goes in.",
                    found.tag,
                    found.stage().label()
                ),
            );
        }
        Ok(())
    }

    /// What gives pause: about each piece that is laid in, the load, the stages.
    #[must_use]
    pub fn warnings(&self, run: &Run, act: &RunAct) -> Vec<Finding> {
        match act {
            RunAct::Loaded { piece, .. } => {
                let new = !run.loaded(self.book).iter().any(|s| s.piece == *piece);
                let mut found = Vec::new();
                if new {
                    found.extend(self.about(run.hearth, &run.stages, *piece));
                    let mut pieces: Vec<PieceId> =
                        run.loaded(self.book).iter().map(|s| s.piece).collect();
                    pieces.push(*piece);
                    found.extend(self.over_load(run, &pieces));
                }
                found
            }
            RunAct::Staged { stages } => {
                let here = run.loaded(self.book);
                // What was said of its stages before is not said again.
                let about = here.iter().filter(|s| self.nitrite(&run.stages, s.piece).is_empty());
                about.flat_map(|s| self.nitrite(stages, s.piece)).collect()
            }
            RunAct::ChamberRead { temperature, .. } => run
                .stage()
                .and_then(|(stage, _)| self.off_its_setting(stage, temperature.value))
                .into_iter()
                .collect(),
            RunAct::SpotChecked { piece, read } => {
                let inside = read.iter();
                let mut all: Vec<Finding> = inside
                    .filter_map(|t| unit_doubt(t, ReadWhere::InsideHot))
                    .collect();
                all.extend(self.cannot_be(run, *piece, read));
                all
            }
            RunAct::ProbeChecked { probe, offset_c, .. } if offset_c.abs() > TRUSTED_C => vec![
                Finding::new(
                    Code::ProbeWrong,
                    Severity::Caution,
                    format!("Probe {probe} is off by more than {TRUSTED_C:.0} °C: nothing it reads in this run proves anything."),
                )
                .saw(format!("off by {:.1} °C", offset_c.abs()))
                .wants(format!("at most {TRUSTED_C:.0} °C"))
                .remedy("Stir the ice or let the water boil and check it again. If it is wrong, save this, and check each piece with another thermometer."),
            ],
            RunAct::Ended => self.still_aboard(run),
            RunAct::SetUp { .. }
            | RunAct::TakenOut { .. }
            | RunAct::StageBegun { .. }
            | RunAct::Paused
            | RunAct::Resumed
            | RunAct::ProbeSet { .. }
            | RunAct::ProbeChecked { .. }
            | RunAct::Lit { .. }
            | RunAct::BurntOut { .. }
            | RunAct::Seen { .. }
            | RunAct::Answered { .. }
            | RunAct::Struck { .. } => Vec::new(),
        }
    }

    fn still_aboard(&self, run: &Run) -> Vec<Finding> {
        let here = run.loaded(self.book);
        if here.is_empty() {
            return Vec::new();
        }
        let tags: Vec<String> = here.iter().map(|s| self.tag(s.piece)).collect();
        vec![
            Finding::new(
                Code::StillAboard,
                Severity::Caution,
                "Pieces still lie in it that nobody weighed.",
            )
            .saw(tags.join(", "))
            .wants("each weighed as it came out, or taken out")
            .remedy("Weigh them first. Ended now, they wait for the smoker as before."),
        ]
    }

    /// Checks by hand that no meat of this thickness can have in the history of its chamber.
    fn cannot_be(&self, run: &Run, piece: PieceId, read: &[Typed<Celsius>]) -> Option<Finding> {
        let watched = self.runs.get(run.id)?;
        let (_, found) = self.book.piece(piece)?;
        let event = Event {
            no: i64::MAX,
            at: self.at,
            act: RunAct::SpotChecked {
                piece,
                read: read.to_vec(),
            },
            kept: Vec::new(),
            reason: None,
        };
        let with = run.with(event)?;
        let known = plausible::OfPiece::of(&with, found, self.book);
        let sounded = plausible::of_piece(&with, &watched.readings, piece, known);
        let (_, kind) = sounded.doubted.iter().find(|(no, _)| *no == i64::MAX)?;
        let coldest = read.iter().map(|t| t.value.0).reduce(f64::max)?;
        Some(unproved(
            *kind,
            Celsius(coldest),
            self.home.settings.units.heat,
        ))
    }

    /// A chamber far off what it is set to.
    #[must_use]
    pub fn off_its_setting(&self, stage: &RunStage, read: Celsius) -> Option<Finding> {
        let set = stage.set()?;
        let said = |c: Celsius| temperature(c, self.home.settings.units.heat);
        if stage.kind == RunStageKind::ColdSmoke && read.0 > COLD_SMOKE_C {
            return Some(
                Finding::new(
                    Code::ChamberOff,
                    Severity::Caution,
                    "That is no cold smoke any more: fat softens and the surface closes.",
                )
                .saw(said(read))
                .wants(format!("under {}", said(Celsius(COLD_SMOKE_C))))
                .remedy("Less fire, more air, or wait for a colder hour."),
            );
        }
        ((read.0 - set.0).abs() > OFF_C).then(|| {
            Finding::new(
                Code::ChamberOff,
                Severity::Caution,
                "The chamber is far from its setting.",
            )
            .saw(said(read))
            .wants(format!("{}, give or take {OFF_C:.0} °C", said(set)))
            .remedy("See to the fire and the damper, or say what it is set to now.")
        })
    }

    /// What is to be said of a piece before it goes into stages like these.
    #[must_use]
    pub fn about(
        &self,
        hearth: crate::run::Appliance,
        stages: &[RunStage],
        piece: PieceId,
    ) -> Vec<Finding> {
        let Some((lot, found)) = self.book.piece(piece) else {
            return Vec::new();
        };
        let judge = self.judge();
        let verdict = judge.piece(&lot.state, found);
        let mut all = Vec::new();
        if verdict.word == Verdict::DoNotEat && !verdict.waits_for_test() {
            let why = verdict.reasons.first().map(|r| r.message.clone());
            all.push(
                Finding::new(
                    Code::NotEaten,
                    Severity::Stop,
                    format!("Nobody may eat {}.", found.tag),
                )
                .saw(why.unwrap_or_default())
                .remedy("Throw it away, or put right the entry that says so."),
            );
            return all;
        }
        all.extend(self.nitrite(stages, piece));
        let smoke = stages.iter().any(|s| s.smoke);
        if smoke && hearth == crate::run::Appliance::Smoker {
            all.extend(load::wet(found, stages));
        }
        let mark = crate::running::mark::mark(judge, &lot.state, found);
        let hottest = stages.iter().filter_map(|s| s.set_c).reduce(f64::max);
        let hot_meant = stages.iter().any(|s| {
            s.kind == RunStageKind::Finish
                || s.kind == RunStageKind::Boil
                || s.kind == RunStageKind::Steam
        });
        if let Some(hottest) = hottest.filter(|c| hot_meant && *c <= mark.mark.0) {
            let said = |c: Celsius| temperature(c, self.home.settings.units.heat);
            all.push(
                Finding::new(
                    Code::ChamberBelowTarget,
                    Severity::Caution,
                    format!("{} never comes to its mark in that chamber.", found.tag),
                )
                .saw(format!("{} at most", said(Celsius(hottest))))
                .wants(format!("over {} ({})", said(mark.mark), mark.why))
                .remedy("Make the last stage hotter."),
            );
        }
        all
    }

    /// Too little nitrite, or none, or nobody knows how much, for stages that are slow.
    fn nitrite(&self, stages: &[RunStage], piece: PieceId) -> Vec<Finding> {
        let Some((lot, found)) = self.book.piece(piece) else {
            return Vec::new();
        };
        let judge = self.judge();
        if judge.has_no_nitrite(&lot.state, found) {
            let slow = stages.iter().find(|s| no_nitrite::is_slow(s));
            let saw = |s: &RunStage| {
                let set = s
                    .set()
                    .map(|c| temperature(c, self.home.settings.units.heat));
                let set = set.map_or_else(|| "not set".into(), |c| format!("at {c}"));
                format!("“{}”, {set}", s.name)
            };
            let hazard = slow.map(|s| no_nitrite::hazard(&found.tag, Door::Slow, saw(s)));
            return hazard.into_iter().collect();
        }
        if !is_slow(stages) {
            return Vec::new();
        }
        let Some(really) = judge.really(&lot.state, found) else {
            return vec![
                Finding::new(
                    Code::NitriteBelowFloor,
                    Severity::Caution,
                    format!("Nobody knows what {} was cured with.", found.tag),
                )
                .saw("no dose")
                .wants("nitrite over its floor for cold smoke, or smoke under 80 °C")
                .remedy("Smoke it hot, or make sure from the label of what cured it."),
            ];
        };
        if really.no_nitrite {
            return Vec::new();
        }
        let floor = really.floor_ppm;
        if really.short_of_floor {
            let ppm = |v: f64| crate::units::show::content(crate::units::Ppm(v));
            return vec![
                Finding::new(
                    Code::NitriteBelowFloor,
                    Severity::Stop,
                    format!("{} holds too little nitrite for slow or cold smoke: nothing holds botulism back in the warm hours.", found.tag),
                )
                .saw(ppm(really.least_ppm))
                .wants(format!("at least {}", ppm(floor)))
                .remedy("Smoke it at 80 °C or more from the start, or cook it at once."),
            ];
        }
        Vec::new()
    }

    /// More than the smoker takes.
    #[must_use]
    pub fn over_load(&self, run: &Run, pieces: &[PieceId]) -> Vec<Finding> {
        let Some(place) = run.place.and_then(|id| self.home.settings.place(id)) else {
            return Vec::new();
        };
        let found = pieces.iter().filter_map(|id| Some(self.book.piece(*id)?.1));
        let found: Vec<_> = found.collect();
        let grams: f64 = found.iter().map(|p| p.mass.grams()).sum();
        let room = place.holds * 1_000.0;
        let unit = self.home.settings.units.mass;
        let mut all = Vec::new();
        if room > 0.0 && grams > room {
            all.push(
                Finding::new(
                    Code::OverLoad,
                    Severity::Caution,
                    format!("That is more than {} takes at once.", place.name),
                )
                .saw(mass(Grams(grams), unit))
                .wants(format!("at most {}", mass(Grams(room), unit)))
                .remedy("Smoke it in two loads, the thick ones first, or see that air goes round every piece."),
            );
        }
        all.extend(load::lid(place, &found, self.home));
        all
    }
}

/// A chamber further than this off its setting is questioned (°C).
pub const OFF_C: f64 = 10.0;
