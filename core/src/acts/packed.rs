//! Sliced and packed.

use crate::acts::allot::{Share, allot};
use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator, corrected};
use crate::catalogue::species::Range;
use crate::caution::{Code, Finding, Severity};
use crate::cure::no_nitrite::{Door, hazard};
use crate::form::{AskError, Count, Field, FieldKind};
use crate::ids::{EntryId, LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::packed::{NewPack, Packed};
use crate::ledger::odd::{mistyped, other_reading};
use crate::ledger::state::{Pack, Piece};
use crate::piece::printed::{Printed, Verdict};
use crate::piece::storage::Storage;
use crate::place::PlaceUse;
use crate::units::show::{mass, temperature, trim};
use crate::units::{Celsius, Grams, Milligrams, Reading, Typed, Units};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::json;

/// Where packs lie.
pub(crate) const PLACES: &[PlaceUse] = &[PlaceUse::Freeze, PlaceUse::Cold];

/// A pack, as typed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PackAsk {
    /// Its weight, as typed.
    pub reading: String,
    /// How many slices.
    #[serde(default)]
    pub slices: Option<Count>,
    /// Where it is kept, as its build words it.
    #[serde(default)]
    pub place: Option<String>,
    /// What to name for the allergic.
    #[serde(default)]
    pub allergens: Option<String>,
    /// A line to whoever opens it: how it is cooked best, whom it is for.
    #[serde(default)]
    pub line: Option<String>,
    /// The freezer or shelf it lies in, by its number on the household's list.
    #[serde(default)]
    pub lies_in: Option<Count>,
    /// The bag it is in, by its name in the pantry.
    #[serde(default)]
    pub bag: Option<String>,
}

/// Sliced and packed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PackedAsk {
    /// The piece. Give this or `pieces`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Several that are packed together: a pack is of the piece that holds it; one that none holds alone gets a label for each.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// The packs.
    pub packs: Vec<PackAsk>,
    /// Ends and crumbs kept, as typed.
    #[serde(default)]
    pub ends: Option<String>,
    /// True when nothing of the piece is left to pack.
    #[serde(default)]
    pub finished: bool,
    /// What became of the rest, in a word, where it is not packed: tasted, given away. Nothing is left then.
    #[serde(default)]
    pub rest: Option<String>,
    /// Why, where it goes past a stop.
    #[serde(default)]
    pub reason: Option<String>,
}

impl Draft for PackedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, instead: Option<(LotId, &Act)>) -> Drafted {
        let mut readings = Vec::new();
        for (i, pack) in self.packs.iter().enumerate() {
            readings.push(context.mass(&pack.reading, &format!("packs[{i}].reading"))?);
        }
        let ends = context.mass_if(self.ends.as_deref(), "ends")?;
        let pieces = context.those(self.piece, &self.pieces, None)?;
        if let [piece] = pieces.as_slice() {
            let whole = readings.into_iter().enumerate().map(Part::whole).collect();
            return Ok(vec![self.of_piece(*piece, whole, ends, context, instead)?]);
        }
        let mut there = Vec::new();
        for piece in &pieces {
            there.push(context.find(*piece)?.1.mass);
        }
        let masses: Vec<_> = readings.iter().map(|r| r.value).collect();
        let shares = allot(&masses, &there);
        let sum = |of: &Vec<Share>| of.iter().map(|s| s.mass).sum::<Milligrams>();
        let left: Vec<_> = shares
            .iter()
            .zip(&there)
            .map(|(of, there)| (*there - sum(of)).max(Milligrams::ZERO))
            .collect();
        let ends = ends.map(|e| e.value.share_out(&left));
        let mut acts = Vec::new();
        for (i, (piece, of)) in pieces.iter().zip(&shares).enumerate() {
            let ends = ends
                .as_ref()
                .map(|e| e[i])
                .filter(|e| *e > Milligrams::ZERO);
            if of.is_empty() && ends.is_none() && words(self.rest.as_deref()).is_none() {
                return Err(AskError::field(
                    "packs",
                    format!(
                        "These packs hold nothing of {}. Leave it out, or weigh what it gave.",
                        context.find(*piece)?.1.tag
                    ),
                ));
            }
            let begun = |s: &Share| shares[..i].iter().flatten().any(|b| b.pack == s.pack);
            let part = |s: &Share| {
                let all = &readings[s.pack];
                if s.mass == all.value {
                    return Part::whole((s.pack, all.clone()));
                }
                Part {
                    pack: s.pack,
                    reading: Typed::unsaid(s.mass),
                    is_first: !begun(s),
                }
            };
            let packs = of.iter().map(part).collect();
            acts.push(self.of_piece(*piece, packs, ends.map(Typed::unsaid), context, None)?);
        }
        Ok(acts)
    }
}

/// What one piece has of a pack.
struct Part {
    /// The pack, by its place in the list.
    pack: usize,
    /// How much of it.
    reading: Reading,
    /// True for the piece under which its bag and its slices are counted.
    is_first: bool,
}

impl Part {
    fn whole((pack, reading): (usize, Reading)) -> Self {
        Self {
            pack,
            reading,
            is_first: true,
        }
    }
}

impl PackedAsk {
    /// What one piece gave: these packs of the list, so much of each.
    fn of_piece(
        &self,
        piece: PieceId,
        of: Vec<Part>,
        ends: Option<Reading>,
        context: &mut DraftContext<'_>,
        instead: Option<(LotId, &Act)>,
    ) -> Result<(LotId, Act), AskError> {
        let (lot, found) = context.find(piece)?;
        let tags = lot.next_pack_tags(found, of.len());
        let kept = corrected::<Packed>(instead).map_or(&[][..], |old| &old.packs);
        let mut packs = Vec::new();
        for (n, part) in of.into_iter().enumerate() {
            let i = part.pack;
            let pack = &self.packs[i];
            let slices = pack.slices.as_ref().filter(|_| part.is_first);
            let bag = pack.bag.as_deref().filter(|_| part.is_first);
            let (id, tag) = match kept.get(n) {
                Some(old) => (old.pack, old.tag.clone()),
                None => (context.new_pack(), tags[n - kept.len().min(n)].clone()),
            };
            packs.push(NewPack {
                pack: id,
                tag,
                reading: part.reading,
                slices: context.count_if(slices, &format!("packs[{i}].slices"))?,
                place: pack.place.clone(),
                allergens: words(pack.allergens.as_deref()),
                line: one_line(pack.line.as_deref(), &format!("packs[{i}].line"))?,
                lies_in: context.place(
                    pack.lies_in.as_ref(),
                    PLACES,
                    &format!("packs[{i}].lies_in"),
                )?,
                bag: words(bag),
                // A label that was printed stays as it was printed, whatever is put right; a new one is
                // printed when the act was reviewed.
                printed: kept.get(n).and_then(|old| old.printed.clone()),
            });
        }
        let act = Packed {
            piece,
            packs,
            ends,
            finished: self.finished || words(self.rest.as_deref()).is_some(),
            rest: words(self.rest.as_deref()),
            reason: words(self.reason.as_deref()),
        };
        Ok((lot.state.id, Act::Packed(act)))
    }
}

/// What fits on a label beside everything that has to be there (characters).
const LONGEST_LINE: usize = 120;

/// A line for the label, as it was typed.
fn one_line(typed: Option<&str>, field: &str) -> Result<Option<String>, AskError> {
    let line = words(typed);
    if line
        .as_ref()
        .is_some_and(|l| l.chars().count() > LONGEST_LINE)
    {
        return Err(AskError::field(
            field,
            format!("That does not fit on the label. Type {LONGEST_LINE} characters at most."),
        ));
    }
    Ok(line)
}

/// A pack lighter than this is no pack (g).
const LEAST_PACK_G: f64 = 10.0;

/// Slicing leaves no more than this share of a piece that nobody weighs.
const MOST_LEFT: f64 = 0.25;

/// Words of a line that promise that nothing has to be cooked.
const PROMISES: [&str; 6] = [
    "ready to eat",
    "eat as it is",
    "no need to cook",
    "safe to eat",
    "eat raw",
    "fully cooked",
];

/// Words of places that are cold.
const COLD_WORDS: [&str; 9] = [
    "fridge", "refrig", "freez", "frozen", "cold", "cool", "chill", "ice", "snow",
];

/// At this water activity, as measured, what is dried keeps without being cold.
const KEEPS_WARM: f64 = 0.85;

/// What is wrong with keeping a piece's packs in these places, when it is packed and whenever they are moved: a place
/// that is not cold, and no air around what has no nitrite.
pub(crate) fn ill_kept(validator: &Validator<'_>, piece: &Piece, places: &[&str]) -> Vec<Finding> {
    let sealed = |place: &&&str| {
        let storage = Storage::of(place);
        storage.sealed && !storage.frozen
    };
    let has_none = || {
        let really = validator.judge().really(validator.state, piece);
        really.is_some_and(|r| r.no_nitrite)
    };
    let airless = places.iter().find(sealed).filter(|_| has_none());
    let airless = airless.map(|place| hazard(&piece.tag, Door::Sealed, *place));
    not_cold(piece, places.iter().copied())
        .into_iter()
        .chain(airless)
        .collect()
}

/// The block on a place that is not cold, for whatever was not measured to keep there.
fn not_cold<'a>(piece: &Piece, mut places: impl Iterator<Item = &'a str>) -> Option<Finding> {
    let warm = |place: &&str| {
        let said = place.to_lowercase();
        !said.trim().is_empty() && !COLD_WORDS.iter().any(|w| said.contains(w))
    };
    let place = places.find(warm)?;
    let measured = piece
        .checks
        .iter()
        .filter(|c| c.check == "water_activity")
        .max_by_key(|c| c.at)
        .and_then(|c| c.value.as_ref()?.replace(',', ".").parse::<f64>().ok());
    if measured.is_some_and(|aw| aw <= KEEPS_WARM + 1e-9) {
        return None;
    }
    Some(
        Finding::new(
            Code::NotColdStorage,
            Severity::Stop,
            format!("{} keeps in the fridge or the freezer, not in “{place}”.", piece.tag),
        )
        .saw(measured.map_or_else(
            || "no water activity measured".into(),
            |aw| format!("water activity {aw}"),
        ))
        .wants("a cold place, or a measured water activity of 0.85 or less")
        .remedy("Choose the fridge or the freezer. If you measured the water activity with an instrument, record that check first."),
    )
}

/// A roll is cold enough to be sliced at this (°C).
const COLD_ENOUGH: Celsius = Celsius(10.0);

/// Hours after the heat in which nobody need have read it to know that a roll is still warm.
const STILL_WARM_H: f64 = 4.0;

/// Two entries so close together were written in one go (h).
const IN_ONE_GO_H: f64 = 0.25;

/// A rolled or bound piece that is sliced before it was cold.
fn sliced_warm(validator: &Validator<'_>, piece: &Piece) -> Option<Finding> {
    piece.build().filter(|b| b.wrap.rolled)?;
    let heat = piece.heats.iter().map(|h| h.at).max()?;
    let read = piece
        .cooled
        .iter()
        .filter(|c| c.at >= heat)
        .max_by_key(|c| c.at);
    let hours = validator.at.duration_since(heat).as_secs_f64() / 3_600.0;
    let said = |c: Celsius| temperature(c, validator.home.settings.units.heat);
    let saw = match read {
        Some(read) if read.inside.value.0 > COLD_ENOUGH.0 && hours < STILL_WARM_H * 3.0 => {
            format!("internal {}", said(read.inside.value))
        }
        // Within minutes of each other both were written down afterwards, in one go: the hours between are not known.
        None if (IN_ONE_GO_H..STILL_WARM_H).contains(&hours) => {
            format!("{} h after the heat", trim(hours, 0))
        }
        Some(_) | None => return None,
    };
    Some(
        Finding::new(
            Code::SlicedWarm,
            Severity::Caution,
            "A roll opens when it is sliced warm.",
        )
        .saw(saw)
        .wants(format!("internal {} or colder", said(COLD_ENOUGH)))
        .remedy("Cool it through, best overnight, then slice it."),
    )
}

impl Review for Packed {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let Some(piece) = validator.piece(self.piece) else {
            return Vec::new();
        };
        let judge = validator.judge();
        if let Some(refused) = validator.edible(piece).filter(|_| !self.packs.is_empty()) {
            return vec![refused];
        }
        let within = judge.within(validator.state, piece);
        let mut found: Vec<Finding> = validator
            .waits_for_test(&within.lots)
            .filter(|_| !self.packs.is_empty())
            .into_iter()
            .collect();
        found.extend(validator.soured(piece));
        found.extend(sliced_warm(validator, piece).filter(|_| !self.packs.is_empty()));
        found.extend(self.odd_weights(piece, validator.home.settings.units));
        found.extend(self.odd_line(validator, piece));
        let places: Vec<_> = self
            .packs
            .iter()
            .filter_map(|p| p.place.as_deref())
            .collect();
        found.extend(ill_kept(validator, piece, &places));
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let ends = self
            .ends
            .as_ref()
            .map(|e| format!(", ends {}", render.mass(e)));
        let list: Vec<_> = self.packs.iter().map(|p| render.mass(&p.reading)).collect();
        let rest = self.rest.as_ref().map(|word| format!("the rest {word}"));
        let packs = format!("{}{}", list.join(", "), ends.unwrap_or_default());
        let said: Vec<_> = Some(packs)
            .filter(|p| !p.is_empty())
            .into_iter()
            .chain(rest)
            .collect();
        said.join(", ")
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Packed(PackedAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            packs: self
                .packs
                .iter()
                .map(|p| PackAsk {
                    reading: render.again(&p.reading),
                    slices: p.slices.map(Count::from),
                    place: p.place.clone(),
                    allergens: p.allergens.clone(),
                    bag: p.bag.clone(),
                    line: p.line.clone(),
                    lies_in: p.lies_in.map(Count::from),
                })
                .collect(),
            ends: self.ends.as_ref().map(|r| render.again(r)),
            finished: self.finished,
            rest: self.rest.clone(),
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, render: &RenderContext<'_>) -> Vec<Field> {
        let mut pack = vec![
            Field::mass("reading", "Weight"),
            Field::new("slices", "Slices", FieldKind::Count).optional(),
            Field::text("place", "Where it is kept").optional(),
            Field::text("allergens", "What to name for the allergic").optional(),
            Field::text("line", "A line to whoever opens it").optional(),
        ];
        pack.extend(render.place_field("lies_in", PLACES));
        let empty = json!({"reading": "", "slices": null, "place": null, "allergens": null, "line": null, "lies_in": null});
        vec![
            Field::rows("packs", "Packs", pack, Some(empty)),
            Field::mass("ends", "Ends and crumbs").optional(),
            Field::tick("finished", "Nothing of it is left to pack"),
            Field::text("rest", "What became of the rest").optional(),
            Field::text("reason", "Why, if it goes past a stop").optional(),
        ]
    }
}

impl Packed {
    /// Notes what the labels say, as they are printed when it is packed; one that was printed stays as it was.
    pub(crate) fn print(&mut self, says: impl Fn(&Pack) -> Printed, at: Timestamp) {
        let piece = self.piece;
        for new in self.packs.iter_mut().filter(|p| p.printed.is_none()) {
            new.printed = Some(says(&new.pack(piece, (EntryId(0), at))));
        }
    }

    /// A maker's line that says another thing than the verdict.
    fn odd_line(&self, validator: &Validator<'_>, piece: &Piece) -> Option<Finding> {
        let verdict = validator.judge().piece(validator.state, piece);
        if verdict.word == Verdict::ReadyToEat {
            return None;
        }
        let promise = |line: &&str| {
            let said = line.to_lowercase();
            PROMISES.iter().any(|p| said.contains(p))
        };
        let line = self
            .packs
            .iter()
            .filter_map(|p| p.line.as_deref())
            .find(promise)?;
        Some(
            Finding::new(
                Code::LineContradicts,
                Severity::Caution,
                "Your note says something else than the label.",
            )
            .saw(format!("“{line}”"))
            .wants(verdict.word.label())
            .remedy("Change the note, or record what would make it ready."),
        )
    }

    /// A point for a thousand, or most of the piece gone with the last pack.
    fn odd_weights(&self, piece: &Piece, units: Units) -> Option<Finding> {
        let packs = self.packs.iter().map(|p| p.reading.value.grams());
        let lightest = packs.clone().reduce(f64::min)?;
        let ends = self.ends.as_ref().map_or(0.0, |e| e.value.grams());
        let there = piece.mass.grams().max(f64::MIN_POSITIVE);
        let left = 1.0 - (packs.sum::<f64>() + ends) / there;
        let message = if lightest < LEAST_PACK_G && there > LEAST_PACK_G * 2.0 {
            format!("A pack of {} weighs almost nothing.", piece.tag)
        } else if self.finished && self.rest.is_none() && left > MOST_LEFT {
            format!(
                "{} % of {} would be gone without a weight.",
                trim(left * 100.0, 0),
                piece.tag
            )
        } else {
            return None;
        };
        let usual = Range {
            low: there * (1.0 - MOST_LEFT) / self.packs.len().max(1) as f64,
            high: there,
        };
        Some(mistyped(
            message,
            mass(Grams(lightest), units.mass),
            format!("{} in all", mass(Grams(there), units.mass)),
            other_reading(lightest, usual, units),
        ))
    }
}
