//! The peak that an inside still came to while it rested after the heat.

use super::form::hours_if;
use super::{Act, Ask, Asked, Deed, Desk, Drafted, Family, Field, FieldKind, Gate, Scene};
use crate::catalogue::KeptKey;
use crate::caution::{Code, Finding, Severity};
use crate::ids::{LotId, PieceId};
use crate::ledger::Entry;
use crate::ledger::post::{Posted, err, find, not_now};
use crate::ledger::state::State;
use crate::units::show::{temperature, trim};
use crate::units::{Amount, Celsius, Typed, Units};
use serde::{Deserialize, Serialize};

/// The peak that an inside still came to while it rested.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Rested {
    /// The piece.
    pub piece: PieceId,
    /// The highest inside, in the thickest place.
    pub peak: Typed<Celsius>,
    /// How long it rested (h), if that was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
}

/// The peak that an inside still came to while it rested.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RestedAsk {
    /// The piece.
    pub piece: PieceId,
    /// The highest inside, in the thickest place, as typed: `64.5 C`.
    pub peak: String,
    /// How long it rested: a number of hours, or as typed: `15 min`.
    #[serde(default)]
    pub rest: Option<Amount>,
}

/// What is out of the heat goes on warming by so much at most (°C).
///
/// # Source
/// 2 to 5 °C is usual.
const MOST_CARRY_OVER: f64 = 5.0;

impl Asked for RestedAsk {
    fn draft(&self, desk: &mut Desk<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let act = Rested {
            piece: self.piece,
            peak: desk.typed(&self.peak, "peak")?,
            hours: hours_if(self.rest.as_ref(), "rest")?,
        };
        desk.about(self.piece, Act::Rested(act))
    }
}

impl Deed for Rested {
    fn family(&self) -> Family<'_> {
        Family::of(self.piece)
    }

    fn leans_on(&self) -> Vec<KeptKey> {
        Vec::new()
    }

    fn post(&self, state: &State, _: Units) -> Posted {
        let found = find(state, self.piece)?;
        if found.went_into_others() {
            return Err(not_now(found));
        }
        if found.heats.is_empty() {
            return err(
                "piece",
                format!(
                    "{} was not heated, so it has nothing to rest from. Write down its heat first.",
                    found.tag
                ),
            );
        }
        if !(0.0..=130.0).contains(&self.peak.value.0) {
            return err(
                "peak",
                "No meat is that warm inside. Type degrees such as 64.5 C or 148 F.".into(),
            );
        }
        Ok(Vec::new())
    }

    fn begin(&self, _: &mut State, _: &Entry) {}

    fn conclude(&self, state: &mut State, _: &Entry) {
        let heats = state.piece_mut(self.piece).map(|p| &mut p.heats);
        if let Some(heat) = heats.and_then(|h| h.last_mut()) {
            let was = heat.inside.as_ref().map(|c| c.value.0);
            if was.is_none_or(|c| c < self.peak.value.0) {
                heat.inside = Some(self.peak.clone());
            }
        }
    }

    fn doubts(&self, gate: &Gate<'_>) -> Vec<Finding> {
        let last = gate.piece(self.piece).and_then(|p| p.heats.last());
        let Some(last) = last else {
            return Vec::new();
        };
        let said = |c| temperature(c, gate.home.units.heat);
        let out = last.inside.as_ref().map(|c| c.value);
        let carried = out.map(|c| self.peak.value.0 - c.0);
        if carried.is_some_and(|c| (-0.5..=MOST_CARRY_OVER + 0.05).contains(&c)) {
            return Vec::new();
        }
        let what = match carried {
            None => "Nobody read how warm it came out of the heat.",
            Some(c) if c < 0.0 => "A rest does not begin colder than it came out.",
            Some(_) => "No piece goes on warming by so much out of the heat.",
        };
        vec![
            Finding::new(Code::CarryOverUnusual, Severity::Caution, what)
                .saw(format!("a peak of {}", said(self.peak.value)))
                .wants(out.map_or_else(
                    || "an inside when it came out".into(),
                    |c| format!("{} to {}", said(c), said(Celsius(c.0 + MOST_CARRY_OVER))),
                ))
                .way_out("Look at the number and its unit; it decides what the pack may claim."),
        ]
    }

    fn reason(&self) -> Option<&str> {
        None
    }

    fn said(&self) -> &'static str {
        "rested"
    }

    fn detail(&self, scene: &Scene<'_>) -> String {
        let rest = self
            .hours
            .map(|h| format!(" within {} min", trim(h * 60.0, 0)));
        format!(
            "peak {} inside{}",
            scene.said(&self.peak),
            rest.unwrap_or_default()
        )
    }

    fn ask_again(&self, _: LotId, scene: &Scene<'_>) -> Option<Ask> {
        Some(Ask::Rested(RestedAsk {
            piece: self.piece,
            peak: scene.again(&self.peak),
            rest: self.hours.map(Amount::Number),
        }))
    }

    fn form(&self, _: &Scene<'_>) -> Vec<Field> {
        vec![
            Field::new("peak", "Peak inside", FieldKind::Temperature),
            Field::new("rest", "How long it rested", FieldKind::Text).optional(),
        ]
    }
}
