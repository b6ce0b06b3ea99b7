//! What is done in a run, as a person types it.

use crate::catalogue::builds::Build;
use crate::caution::FieldError;
use crate::form::AskError;
use crate::house::House;
use crate::ids::PieceId;
use crate::ledger::book::{Book, LotBook};
use crate::ledger::state::Piece;
use crate::place::{PlaceId, PlaceUse};
use crate::run::act::{Bath, FireKind, ProbeLocation, RunAct, Sight};
use crate::run::stages::{hot_from_the_start, proposed};
use crate::run::{Appliance, ProbeNo, Run, RunStage, RunStageKind, StageEnd};
use crate::units::{Amount, Celsius, Milligrams, Quantity, Typed, Units};
use crate::verdict::Judge;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// A stage, as typed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RunStageAsk {
    /// Its kind.
    pub kind: RunStageKind,
    /// What it is called; its kind's name when left out.
    #[serde(default)]
    pub name: Option<String>,
    /// How warm the chamber is set, as typed: `95 C`.
    #[serde(default)]
    pub set: Option<String>,
    /// Whether there is smoke; as its kind usually has it when left out.
    #[serde(default)]
    pub smoke: Option<bool>,
    /// How the damper stands.
    #[serde(default)]
    pub damper: Option<String>,
    /// It ends after so many hours: a number, or as typed: `90 min`.
    #[serde(default)]
    pub hours: Option<Amount>,
    /// It ends at this inside, as typed: `60 C`. With neither, when each piece is at its own mark.
    #[serde(default)]
    pub inside: Option<String>,
}

/// Setting a run up.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SetUpAsk {
    /// A smoker, oven or pot on the household's list.
    #[serde(default)]
    pub place: Option<PlaceId>,
    /// What it is called, where it is none of the list.
    #[serde(default)]
    pub name: Option<String>,
    /// What it is made in; as its place says when left out.
    #[serde(default)]
    pub hearth: Option<Appliance>,
    /// By which school of heat.
    #[serde(default)]
    pub school: Option<String>,
    /// Its stages; from the builds of the pieces when left out.
    #[serde(default)]
    pub stages: Vec<RunStageAsk>,
}

/// Something that is done in a run, with amounts as typed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "act", rename_all = "snake_case", deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum RunActAsk {
    /// A piece is laid in, or to another place in it.
    Loaded {
        /// The piece.
        piece: PieceId,
        /// The zone; the only one, or the first, when left out.
        #[serde(default)]
        zone: Option<String>,
        /// The shelf, from the top.
        #[serde(default)]
        shelf: Option<u32>,
    },
    /// Two pieces change places.
    Swapped {
        /// One.
        piece: PieceId,
        /// The other.
        with: PieceId,
    },
    /// A piece leaves it without being weighed.
    TakenOut {
        /// The piece.
        piece: PieceId,
    },
    /// Its stages are put differently.
    Staged {
        /// All of them, those that are over too.
        stages: Vec<RunStageAsk>,
    },
    /// A stage begins.
    StageBegun {
        /// Which, counted from zero; the next when left out.
        #[serde(default)]
        stage: Option<usize>,
    },
    /// It pauses, over a night.
    Paused {},
    /// It goes on.
    Resumed {},
    /// A probe is put somewhere: into a piece, into the air of a zone, or out.
    ProbeSet {
        /// The number on it.
        probe: ProbeNo,
        /// The piece.
        #[serde(default)]
        piece: Option<PieceId>,
        /// The zone whose air it is in.
        #[serde(default)]
        zone: Option<String>,
    },
    /// A probe is checked in ice or boiling water.
    ProbeChecked {
        /// The number on it.
        probe: ProbeNo,
        /// In what.
        bath: Bath,
        /// What it says, as typed.
        read: String,
        /// How high the house lies (m), for boiling water.
        #[serde(default)]
        altitude_m: Option<f64>,
    },
    /// A piece is checked in two or three places, off the bone.
    SpotChecked {
        /// The piece.
        piece: PieceId,
        /// What is read, place by place, as typed.
        read: Vec<String>,
    },
    /// The chamber is read by hand.
    ChamberRead {
        /// The zone; the only one, or the first, when left out.
        #[serde(default)]
        zone: Option<String>,
        /// How warm, as typed.
        #[serde(rename = "warmth")]
        temperature: String,
    },
    /// A fire is lit.
    Lit {
        /// What kind.
        kind: FireKind,
        /// Which wood, or which liquid.
        wood: String,
        /// How much, as typed: `150 g`.
        #[serde(default)]
        grams: Option<String>,
        /// How long it should burn: a number of hours, or as typed; as its kind usually does when left out.
        #[serde(default)]
        burns: Option<Amount>,
    },
    /// It burnt out.
    BurntOut {
        /// The event that lit it; the last when left out.
        #[serde(default)]
        fire: Option<i64>,
    },
    /// Something is seen or done at the fire.
    Seen {
        /// What.
        what: Sight,
        /// In words.
        #[serde(default)]
        note: Option<String>,
    },
    /// An alarm is answered.
    Answered {
        /// Its word.
        alarm: String,
    },
    /// A line of the run did not happen.
    Struck {
        /// Its number.
        event: i64,
    },
    /// It is over.
    Ended {},
}

type Drafted<T> = Result<T, Vec<FieldError>>;

fn wrong<T>(field: &str, message: impl Into<String>) -> Drafted<T> {
    Err(vec![FieldError::new(field, message)])
}

fn hours_if(typed: Option<&Amount>, field: &str) -> Drafted<Option<f64>> {
    crate::form::hours_if(typed, field).map_err(|e| match e {
        AskError::Fields(errors) => errors,
        AskError::Missing(message) => vec![FieldError::new(field, message)],
        AskError::Stopped(_, message) => vec![FieldError::new(field, message)],
    })
}

fn filled(text: Option<&str>) -> Option<&str> {
    text.map(str::trim).filter(|t| !t.is_empty())
}

fn typed<Q: Quantity>(text: &str, field: &str, units: Units) -> Drafted<Typed<Q>> {
    Typed::read(text, units).or_else(|e| wrong(field, e.to_string()))
}

impl RunStageAsk {
    /// The stage it means; `i` is where it stands.
    ///
    /// # Errors
    /// What cannot be read.
    pub fn draft(&self, i: usize, units: Units) -> Drafted<RunStage> {
        let at = |field: &str| format!("stages[{i}].{field}");
        let set = filled(self.set.as_deref())
            .map(|t| typed::<Celsius>(t, &at("set"), units))
            .transpose()?;
        let inside = filled(self.inside.as_deref())
            .map(|t| typed::<Celsius>(t, &at("inside"), units))
            .transpose()?;
        let lasts = hours_if(self.hours.as_ref(), &at("hours"))?;
        let ends = match (lasts, inside) {
            (Some(_), Some(_)) => {
                return wrong(
                    &at("inside"),
                    "A stage ends by time or by inside: give one of them.",
                );
            }
            (Some(h), None) => StageEnd::Hours(h),
            (None, Some(c)) => StageEnd::Inside(c.value.0),
            (None, None) => StageEnd::Marks,
        };
        Ok(RunStage {
            kind: self.kind,
            name: filled(self.name.as_deref())
                .unwrap_or(self.kind.label())
                .into(),
            set_c: set.map(|c| c.value.0),
            smoke: self.smoke.unwrap_or(self.kind.is_smoke()),
            damper: filled(self.damper.as_deref()).unwrap_or_default().into(),
            ends,
        })
    }
}

/// Several stages.
///
/// # Errors
/// What cannot be read.
pub fn stages(asks: &[RunStageAsk], units: Units) -> Drafted<Vec<RunStage>> {
    asks.iter()
        .enumerate()
        .map(|(i, s)| s.draft(i, units))
        .collect()
}

impl SetUpAsk {
    /// The act it means; its stages come from what is laid in and a rule of heat where none are named.
    ///
    /// # Errors
    /// A place that is none for heat, or a rule of heat that is not known.
    pub fn draft(&self, home: &House, book: &Book, pieces: &[PieceId]) -> Drafted<RunAct> {
        let catalogue = book.catalogue();
        let place = match self.place {
            None => None,
            Some(id) => match home.settings.place(id) {
                Some(p) if p.is_for(PlaceUse::Smoke) || p.is_for(PlaceUse::Cook) => Some(p),
                Some(p) => {
                    return wrong(
                        "place",
                        format!(
                            "{} is no smoker, oven or pot. Choose another place.",
                            p.name
                        ),
                    );
                }
                None => {
                    return wrong(
                        "place",
                        "That place is not on your list. Choose one of it, or add it in the settings.",
                    );
                }
            },
        };
        let listed = place.map(|p| match p.kind.as_str() {
            "oven" => Appliance::Oven,
            "pot" => Appliance::Pot,
            _ => Appliance::Smoker,
        });
        let hearth = self.hearth.or(listed).unwrap_or(Appliance::Smoker);
        let named = filled(self.name.as_deref()).map(str::to_string);
        let name = named.or(place.map(|p| p.name.clone()));
        let rule = catalogue
            .heat_rule(self.school.as_deref())
            .map_err(|e| vec![e])?;
        let stages = if self.stages.is_empty() {
            let laid: Vec<_> = pieces.iter().filter_map(|id| book.piece(*id)).collect();
            let builds: Vec<&Build> = laid.iter().filter_map(|(_, p)| p.build()).collect();
            let judge = Judge { book, home };
            let bare = |(lot, p): &(&Arc<LotBook>, &Piece)| judge.has_no_nitrite(&lot.state, p);
            let found = proposed(&builds, hearth, rule);
            if laid.iter().any(bare) {
                hot_from_the_start(found)
            } else {
                found
            }
        } else {
            stages(&self.stages, home.settings.units)?
        };
        Ok(RunAct::SetUp {
            place: self.place,
            name: name.unwrap_or_else(|| hearth.label().into()),
            hearth,
            school: self.school.as_ref().map(|_| rule.key.clone()),
            stages,
        })
    }
}

impl RunActAsk {
    /// The acts it means, in a run as it stands.
    ///
    /// # Errors
    /// What cannot be read, or is not there.
    pub fn draft(&self, run: &Run, home: &House) -> Drafted<Vec<RunAct>> {
        let units = home.settings.units;
        let zone = |named: &Option<String>| -> String {
            let listed = run.place.and_then(|id| home.settings.place(id));
            let first = listed.and_then(|p| p.zones.first().cloned());
            let lies = run.sittings.first().map(|s| s.zone.clone());
            let named = filled(named.as_deref()).map(str::to_string);
            named
                .or(first)
                .or(lies)
                .unwrap_or_else(|| crate::running::now::USUAL_ZONE.into())
        };
        let one = |act| Ok(vec![act]);
        match self {
            Self::Loaded {
                piece,
                zone: z,
                shelf,
            } => one(RunAct::Loaded {
                piece: *piece,
                zone: zone(z),
                shelf: *shelf,
            }),
            Self::Swapped { piece, with } => {
                if piece == with {
                    return wrong("with", "Name two pieces.");
                }
                let place = |id: &PieceId, field: &str| match run
                    .sitting(*id)
                    .filter(|s| s.until.is_none())
                {
                    Some(s) => Ok((s.zone.clone(), s.shelf)),
                    None => wrong(field, "That piece does not lie in this run."),
                };
                let (a, b) = (place(piece, "piece")?, place(with, "with")?);
                Ok(vec![
                    RunAct::Loaded {
                        piece: *piece,
                        zone: b.0,
                        shelf: b.1,
                    },
                    RunAct::Loaded {
                        piece: *with,
                        zone: a.0,
                        shelf: a.1,
                    },
                ])
            }
            Self::TakenOut { piece } => one(RunAct::TakenOut { piece: *piece }),
            Self::Staged { stages: asks } => one(RunAct::Staged {
                stages: stages(asks, units)?,
            }),
            Self::StageBegun { stage } => {
                let next = run.went.last().map_or(0, |s| s.stage + 1);
                one(RunAct::StageBegun {
                    stage: stage.unwrap_or(next),
                })
            }
            Self::Paused {} => one(RunAct::Paused),
            Self::Resumed {} => one(RunAct::Resumed),
            Self::ProbeSet {
                probe,
                piece,
                zone: z,
            } => {
                let seat = match (piece, filled(z.as_deref())) {
                    (Some(_), Some(_)) => {
                        return wrong(
                            "zone",
                            "A probe is in a piece or in the air: name one of them.",
                        );
                    }
                    (Some(id), None) => ProbeLocation::Piece(*id),
                    (None, Some(zone)) => ProbeLocation::Chamber(zone.into()),
                    (None, None) => ProbeLocation::Out,
                };
                one(RunAct::ProbeSet {
                    probe: *probe,
                    seat,
                })
            }
            Self::ProbeChecked {
                probe,
                bath,
                read,
                altitude_m,
            } => {
                let read = typed::<Celsius>(read, "read", units)?;
                let high = altitude_m.unwrap_or(0.0);
                if !(-500.0..=5_000.0).contains(&high) {
                    return wrong("altitude_m", "Give metres above the sea, such as 450.");
                }
                let really = match bath {
                    Bath::Ice => 0.0,
                    // A degree less for every 300 m.
                    Bath::Boiling => 100.0 - high / 300.0,
                };
                one(RunAct::ProbeChecked {
                    probe: *probe,
                    bath: *bath,
                    offset_c: ((really - read.value.0) * 100.0).round() / 100.0,
                    read,
                })
            }
            Self::SpotChecked { piece, read } => {
                let read = read
                    .iter()
                    .enumerate()
                    .filter(|(_, t)| !t.trim().is_empty())
                    .map(|(i, t)| typed::<Celsius>(t, &format!("read[{i}]"), units))
                    .collect::<Drafted<Vec<_>>>()?;
                one(RunAct::SpotChecked {
                    piece: *piece,
                    read,
                })
            }
            Self::ChamberRead {
                zone: z,
                temperature,
            } => one(RunAct::ChamberRead {
                zone: zone(z),
                temperature: typed(temperature, "warmth", units)?,
            }),
            Self::Lit {
                kind,
                wood,
                grams,
                burns,
            } => {
                let grams = filled(grams.as_deref())
                    .map(|t| typed::<Milligrams>(t, "grams", units))
                    .transpose()?;
                let burns = hours_if(burns.as_ref(), "burns")?;
                one(RunAct::Lit {
                    kind: *kind,
                    wood: wood.trim().into(),
                    grams: grams.map(|g| g.value.grams()),
                    burns_h: burns.or(kind.usually_h()),
                })
            }
            Self::BurntOut { fire } => {
                let last = run
                    .fires
                    .iter()
                    .rev()
                    .find(|f| f.out.is_none())
                    .map(|f| f.no);
                match fire.or(last) {
                    Some(fire) => one(RunAct::BurntOut { fire }),
                    None => wrong("fire", "No fire of this run burns."),
                }
            }
            Self::Seen { what, note } => {
                let note = filled(note.as_deref()).unwrap_or_default();
                if *what == Sight::Other && note.is_empty() {
                    return wrong("note", "Say in words what you saw.");
                }
                one(RunAct::Seen {
                    what: *what,
                    note: note.into(),
                })
            }
            Self::Answered { alarm } => one(RunAct::Answered {
                alarm: alarm.clone(),
            }),
            Self::Struck { event } => one(RunAct::Struck { event: *event }),
            Self::Ended {} => one(RunAct::Ended),
        }
    }
}
