//! What is really in the meat: the dose as it was weighed over the meat that is really there.

use super::Judge;
use crate::caution::{Code, Finding, Severity};
use crate::cure::front::{CureFrontAsk, FrontKind, FrontStage, cure_front};
use crate::cure::methods::Waits;
use crate::cure::sheet::watch::salt_finding;
use crate::cure::span::cure_span;
use crate::cure::vessel::{Member, Shared, shared};
use crate::dose::limits::{Class, Law, floor_finding};
use crate::dose::uptake::Uptake;
use crate::dose::{Contents, Dose, DoseLine, Judged};
use crate::ids::PieceId;
use crate::ledger::book::LotBook;
use crate::ledger::state::State;
use crate::piece::{InCure, Piece};
use crate::units::show::trim;
use crate::units::{Band, Milligrams, Typed};
use jiff::Timestamp;
use std::sync::Arc;

/// What is really in a piece, judged by the household's rules as they stand.
#[derive(Clone, Debug, PartialEq)]
pub struct ActualContents {
    /// Nitrite (ppm).
    pub nitrite: Band,
    /// Nitrate (ppm).
    pub nitrate: Band,
    /// Salt in all (g/kg of what it is shared by), where it is known.
    pub salt: Option<Band>,
    /// The least salt that is left after its time in water, by the model (g/kg); none for what was not soaked.
    pub salt_soaked: Option<f64>,
    /// The most nitrite that may be in it: the higher figure, where only some of a brine gets in (ppm).
    pub most_ppm: f64,
    /// Both figures, where there are two (ppm).
    pub uptake: Option<Uptake>,
    /// The ceiling of its class (ppm).
    pub ceiling_ppm: f64,
    /// The least for slow smoke and hanging (ppm).
    pub floor_ppm: f64,
    /// True when it was cured without nitrite.
    pub no_nitrite: bool,
    /// True when nitrate is in what is fried.
    pub nitrate_in_fried: bool,
    /// True when a limit is broken, by more than the margin of its rules.
    pub over_limit: bool,
    /// The least nitrite that is in it: the lower figure, where only some of a brine gets in (ppm).
    pub least_ppm: f64,
    /// True when that is under the floor by more than the margin of its rules, whatever is made of it.
    pub short_of_floor: bool,
    /// True when it is under its floor, where that counts.
    pub under_floor: bool,
    /// What to think about.
    pub findings: Vec<Finding>,
}

/// Contents closer than this are one, where an old dose does not say which meat it was for (share).
const SAME: f64 = 0.02;

impl<'a> Judge<'a> {
    /// What is really in a piece; none where nobody knows its dose, or it has none.
    #[must_use]
    pub fn really(&self, state: &'a State, piece: &'a Piece) -> Option<ActualContents> {
        let cure = piece.cure.as_ref()?;
        let dose = cure.dose.as_ref()?;
        let build = piece.build()?;
        let rules = self.rules()?;
        let law = (dose.method.dosing().law)(build.class.form(build.form));
        let skin_on = piece.shape.skin_on && law != Law::Ground;
        let limit = rules.limit(build.class, law, skin_on).ok()?;
        let ceiling = rules.ceiling(limit, skin_on).0;
        let floor = rules.floor(build.class, law, skin_on).0;
        let mates = self.mates(state, piece);
        let lies = self.lies_in(piece, cure, dose, &mates);
        let nitrite_g: f64 = lies
            .lines
            .iter()
            .map(|l| l.brings(&dose.cure, |c| c.nitrite))
            .sum();
        let no_nitrite = nitrite_g <= 0.0;
        let pumped = cure.injected.grams() / cure.meat.grams().max(f64::MIN_POSITIVE);
        let home = self.home;
        let got = Contents::of(
            &lies.lines,
            &dose.cure,
            lies.meat_g,
            (dose.method, dose.taken_up.as_ref()),
            // The wish is not the fact.
            Some(pumped),
            (
                home.settings.scales.fine_division_g,
                home.settings.scales.meat_division_g,
            ),
        );
        let wish = dose
            .taken_up
            .is_some_and(|t| t.pump.is_some() || pumped > 0.0);
        let as_judged = !wish
            && dose.judged.rule_set == rules.key
            && dose.judged.class == build.class
            && (dose.judged.ceiling_ppm - ceiling).abs() < 1e-6
            && meat_is_the_same(cure, dose, &mates, got.nitrite.nominal);
        let (nitrite, nitrate, salt) = if as_judged {
            (dose.nitrite, dose.nitrate, dose.salt.or(got.salt))
        } else {
            (got.nitrite, got.nitrate, got.salt)
        };
        let mut findings = if as_judged {
            dose.findings.clone()
        } else {
            let judged = got
                .judge(&rules, build.class, law, skin_on, no_nitrite)
                .unwrap_or_default();
            judged
                .into_iter()
                .filter(|f| f.severity > Severity::Info)
                .chain(
                    got.salt
                        .and_then(|salt| salt_finding(build, dose.method, salt)),
                )
                .chain(
                    dose.findings
                        .iter()
                        .filter(|f| is_of_vessel(f.code))
                        .cloned(),
                )
                .collect()
        };
        let least = if as_judged && got.uptake.is_none() {
            nitrite
        } else {
            got.least()
        };
        let low = (!no_nitrite)
            .then(|| floor_finding(build, law, &rules, skin_on, least))
            .flatten();
        // What a salt box gives proves no floor.
        let boxed = dose.method.is_buried() && !no_nitrite;
        let under_floor = boxed || low.as_ref().is_some_and(|f| f.severity == Severity::Stop);
        if let Some(low) = low
            && !findings
                .iter()
                .any(|f| f.code == Code::NitriteBelowFloor && f.severity == low.severity)
        {
            findings.retain(|f| f.code != Code::NitriteBelowFloor);
            findings.push(low);
        }
        if dose.taken_up.is_some_and(|t| t.pump.is_some()) && pumped <= 0.0 {
            findings.push(not_weighed());
        }
        findings.extend(self.late(piece, dose));
        let most = got.uptake.map_or(nitrite.nominal, |_| got.most());
        let margin = rules.stop_margin_ppm;
        Some(ActualContents {
            nitrite,
            nitrate,
            salt,
            salt_soaked: salt.and_then(|s| salt_left(piece, s.nominal, None)),
            most_ppm: most,
            uptake: got.uptake,
            ceiling_ppm: ceiling,
            floor_ppm: floor,
            no_nitrite,
            nitrate_in_fried: build.class == Class::Fry && nitrate.nominal > margin,
            over_limit: most > ceiling + margin
                || nitrate.high > limit.nitrate_ppm + margin && got.uptake.is_some()
                || nitrate.nominal > limit.nitrate_ppm + margin,
            least_ppm: least.nominal,
            short_of_floor: !no_nitrite && least.nominal < floor - margin,
            under_floor,
            findings,
        })
    }

    /// Everybody that lies, or lay, in one vessel with a piece, itself among them.
    fn mates(&self, state: &'a State, piece: &'a Piece) -> Vec<&'a Piece> {
        let mut found = vec![piece];
        found.extend(self.with(state, piece).into_iter().map(|(_, mate)| mate));
        found
    }

    /// The others that lie, or lay, in one vessel with a piece, each with its lot.
    pub(super) fn with(&self, state: &'a State, piece: &'a Piece) -> Vec<(&'a State, &'a Piece)> {
        let Some(dose) = piece.dose() else {
            return Vec::new();
        };
        let ids: Vec<PieceId> = match &dose.vessel {
            Some(vessel) => {
                let known = self.book.vessel(vessel.id).map(|(_, p)| p.id);
                let mut all: Vec<PieceId> = known.chain(vessel.with.iter().copied()).collect();
                all.sort_unstable();
                all.dedup();
                all
            }
            // An old ledger does not say more than that they were of one brine.
            None if dose.in_brine() => dose.mixed_with.clone(),
            None => Vec::new(),
        };
        let vessel = piece.vessel();
        let here = |id: PieceId| match state.pieces.get(&id) {
            Some(mate) => Some((state, mate)),
            None => self.book.piece(id).map(|(lot, mate)| (&lot.state, mate)),
        };
        ids.into_iter()
            .filter(|id| *id != piece.id)
            .filter_map(here)
            .filter(|(_, mate)| mate.cure.is_some() && mate.vessel() == vessel)
            .filter(|(_, mate)| !mate.went_into_others())
            .filter(|(_, mate)| mate.dose().is_some_and(|d| d.in_brine() == dose.in_brine()))
            .collect()
    }

    /// What a piece shares with the others of its vessel; none where nobody knows its dose.
    #[must_use]
    pub fn shares(&self, state: &'a State, piece: &'a Piece) -> Option<Shared> {
        let cure = piece.cure.as_ref()?;
        let dose = cure.dose.as_ref()?;
        Some(self.lies_in(piece, cure, dose, &self.mates(state, piece)))
    }

    /// What a piece shares with the others of its vessel.
    fn lies_in(&self, piece: &Piece, cure: &InCure, dose: &Dose, mates: &[&Piece]) -> Shared {
        if mates.len() == 1 && cure.topped.is_empty() {
            return Shared {
                meat_g: cure.meat.grams(),
                lines: dose.lines.clone(),
            };
        }
        let members: Vec<_> = mates.iter().filter_map(|m| member_of(m)).collect();
        shared(&members, piece.id, dose.in_brine())
    }

    /// What is thought of something poured into the vessel of a piece, of which `line` is its own share: limits that are
    /// broken by it, and were not before.
    #[must_use]
    pub fn topped_up(&self, state: &'a State, piece: &'a Piece, line: &DoseLine) -> Vec<Finding> {
        let (Some(cure), Some(mut there)) = (&piece.cure, self.shares(state, piece)) else {
            return Vec::new();
        };
        let (Some(dose), Some(build), Some(rules)) = (&cure.dose, piece.build(), self.rules())
        else {
            return Vec::new();
        };
        let law = (dose.method.dosing().law)(build.class.form(build.form));
        let home = self.home;
        let pumped = cure.injected.grams() / cure.meat.grams().max(f64::MIN_POSITIVE);
        let judged = |there: &Shared| {
            let got = Contents::of(
                &there.lines,
                &dose.cure,
                there.meat_g,
                (dose.method, dose.taken_up.as_ref()),
                Some(pumped),
                (
                    home.settings.scales.fine_division_g,
                    home.settings.scales.meat_division_g,
                ),
            );
            let no_cure = got.nitrite.high <= 0.0;
            let skin_on = piece.shape.skin_on;
            let mut found = got
                .judge(&rules, build.class, law, skin_on, no_cure)
                .unwrap_or_default();
            found.extend(floor_finding(build, law, &rules, skin_on, got.least()));
            found.retain(|f| f.severity > Severity::Info);
            found
        };
        let before = judged(&there);
        let times = there.meat_g / cure.meat.grams().max(f64::MIN_POSITIVE);
        there.lines.push(DoseLine {
            mass: Typed::unsaid(Milligrams::from_grams(line.mass.value.grams() * times)),
            ..line.clone()
        });
        let mut found = judged(&there);
        found.retain(|f| {
            let same = |b: &Finding| b.code == f.code && b.severity == f.severity;
            !before.iter().any(same)
        });
        found
    }

    /// What is thought of pieces that are laid into a running vessel, with what they then have written into `dose`.
    #[must_use]
    pub fn as_laid_into(
        &self,
        dose: &mut Dose,
        piece: &Piece,
        lies: &[(&'a Arc<LotBook>, &'a Piece)],
        (now, more): (Timestamp, Milligrams),
    ) -> Vec<Finding> {
        let mut members: Vec<_> = lies.iter().filter_map(|(_, p)| member_of(p)).collect();
        let none: &[DoseLine] = &[];
        members.push(Member {
            id: piece.id,
            meat_g: (piece.mass + more).grams(),
            lines: none,
            poured: Vec::new(),
            joined: now,
            left: None,
        });
        let there = shared(&members, piece.id, dose.in_brine());
        let home = self.home;
        let got = Contents::of(
            &there.lines,
            &dose.cure,
            there.meat_g,
            (dose.method, dose.taken_up.as_ref()),
            None,
            (
                home.settings.scales.fine_division_g,
                home.settings.scales.meat_division_g,
            ),
        );
        dose.nitrite = got.nitrite;
        dose.nitrate = got.nitrate;
        dose.salt = got.salt;
        let (Some(build), Some(rules)) = (piece.build(), self.rules()) else {
            return Vec::new();
        };
        let law = (dose.method.dosing().law)(build.class.form(build.form));
        let skin_on = piece.shape.skin_on;
        let (ceiling, floor) = rules.edges(build.class, law, skin_on);
        dose.judged = Judged {
            rule_set: rules.key.clone(),
            class: build.class,
            form: build.class.form(build.form),
            ceiling_ppm: ceiling,
            floor_ppm: floor,
        };
        let no_cure = got.nitrite.nominal <= 0.0;
        let mut found = got
            .judge(&rules, build.class, law, skin_on, no_cure)
            .unwrap_or_default();
        found.extend(floor_finding(build, law, &rules, skin_on, got.least()));
        found.extend(got.salt.and_then(|s| salt_finding(build, dose.method, s)));
        found.retain(|f| f.severity > Severity::Info);
        found
    }

    /// Longer in its brine or its salt than was planned, where that makes it saltier.
    fn late(&self, piece: &Piece, dose: &Dose) -> Option<Finding> {
        if dose.method.dosing().waits == Waits::Slack {
            return None;
        }
        let span = cure_span(piece, self.home, self.book.catalogue())?;
        let out = piece.out_of_cure?;
        let (saw, wants) = match span.out_at {
            Some(at) => {
                let over = out.duration_since(at).as_secs_f64() / 3_600.0;
                if over < LATE_H {
                    return None;
                }
                (
                    format!("{} h over its time", trim(over, 1)),
                    format!("{} h in the salt", trim(span.hours.unwrap_or(0.0), 1)),
                )
            }
            None => {
                // Days too cold to count, and those that a check added, are its days.
                let day = super::days_in_cure(piece, out, self.home)?;
                if day <= i64::from(span.counted) {
                    return None;
                }
                (format!("day {day}"), format!("day {}", span.counted))
            }
        };
        Some(
            Finding::new(
                Code::LeftCureLate,
                Severity::Caution,
                "It lay longer than planned, and grew saltier with it.",
            )
            .saw(saw)
            .wants(wants)
            .remedy("Fry a slice from the end and one from the middle, and soak it when they are too salty."),
        )
    }
}

/// How fast salt walks in lean muscle, at the least and at the most (m²/s).
///
/// # Source
/// Measured diffusivities of salt in cold lean pork.
const WALKS: [f64; 2] = [1.5e-10, 3.5e-10];

/// What nobody measured is taken for thin: water reaches all of it sooner (mm).
const THIN_MM: f64 = 25.0;

/// The least salt (g/kg) that is left of a dose after the soaks of a piece, and one more of so many minutes; none where nothing
/// was soaked.
#[must_use]
pub fn salt_left(piece: &Piece, salt: f64, more: Option<(Timestamp, u32)>) -> Option<f64> {
    let cure = piece.cure.as_ref()?;
    let soaks = piece.soaks.iter().map(|s| (s.at, s.minutes));
    let soaks: Vec<(Timestamp, u32)> = soaks.chain(more).collect();
    let first = soaks.first()?;
    let hours = |from: Timestamp, to: Timestamp| {
        (to.duration_since(from).as_secs_f64() / 3_600.0).clamp(0.0, 10_000.0)
    };
    let out = piece.out_of_cure.unwrap_or(first.0);
    let stage = |kind, hours, mean| FrontStage {
        kind,
        hours,
        mean_fraction: mean,
        surface_fraction: None,
    };
    let mut stages = vec![stage(
        FrontKind::Measured,
        hours(cure.since, out),
        Some((salt / 1_000.0).clamp(0.0, 1.0)),
    )];
    let mut before = out;
    for (at, minutes) in &soaks {
        // The entry is made when it comes out of the water.
        let long = f64::from(*minutes) / 60.0;
        let rest = (hours(before, *at) - long).max(0.0);
        stages.push(stage(FrontKind::Rest, rest, None));
        stages.push(stage(FrontKind::Soak, long, None));
        before = *at;
    }
    let thickness = piece.shape.thickness().map_or(THIN_MM, |t| t.0);
    let left = WALKS.iter().filter_map(|walks| {
        let ask = CureFrontAsk {
            thickness_mm: thickness,
            open_faces: if piece.shape.has_closed_face() { 1 } else { 2 },
            diffusivity_m2_s: *walks,
            stages: stages.clone(),
        };
        Some(cure_front(&ask).ok()?.samples.last()?.mean * 1_000.0)
    });
    left.reduce(f64::min)
}

/// Over its time by so much it is said (h).
const LATE_H: f64 = 1.0;

fn member_of(of: &Piece) -> Option<Member<'_>> {
    let cure = of.cure.as_ref()?;
    Some(Member {
        id: of.id,
        meat_g: cure.meat.grams(),
        lines: &cure.dose.as_ref()?.lines,
        poured: cure.topped.iter().map(|t| (t.at, &t.line)).collect(),
        joined: cure.since,
        left: of.out_of_cure,
    })
}

/// What was thought of a vessel or its brine when the meat went in stands whatever its numbers became.
const fn is_of_vessel(code: Code) -> bool {
    matches!(
        code,
        Code::BrineNotCold | Code::BrineNotClear | Code::ReactiveVessel | Code::VesselTooSmall
    )
}

fn not_weighed() -> Finding {
    Finding::new(
        Code::PumpNotWeighed,
        Severity::Caution,
        "Nobody weighed it after injecting: what was pumped in is not known and counts as nothing.",
    )
    .wants("its weight with the brine in it")
    .remedy("Weigh it and write that down as injected.")
}

/// True when the meat of a dose, and of those in its vessel, is what it was weighed out for, and nothing came in since.
fn meat_is_the_same(cure: &InCure, dose: &Dose, mates: &[&Piece], now_ppm: f64) -> bool {
    let Some(over) = dose.over else {
        return close(now_ppm, dose.nitrite.nominal);
    };
    if over != cure.meat || !cure.topped.is_empty() {
        return false;
    }
    // Who came in later was not among those it was weighed out for.
    let newcomer = |m: &&&Piece| {
        let with = dose.vessel.as_ref().map(|v| &v.with);
        with.is_some_and(|with| !with.contains(&m.id))
    };
    if mates.iter().skip(1).any(|m| newcomer(&m)) {
        return false;
    }
    let shares = dose.in_brine() || mates.len() > 1;
    !shares
        || mates.iter().filter_map(|m| m.cure.as_ref()).all(|c| {
            c.topped.is_empty()
                && c.dose
                    .as_ref()
                    .is_none_or(|d| d.over.is_none_or(|o| o == c.meat))
        })
}

impl Dose {
    /// Curing salt that was weighed (g), where it holds nitrite.
    #[must_use]
    pub fn nitrite_g(&self) -> f64 {
        let lines = self.lines.iter();
        lines.map(|l| l.brings(&self.cure, |c| c.nitrite)).sum()
    }
}

fn close(a: f64, b: f64) -> bool {
    (a - b).abs() <= SAME * a.abs().max(b.abs()).max(1e-9)
}
