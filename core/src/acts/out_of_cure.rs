//! Out of the cure, rinsed and weighed.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::{Code, Finding, Severity};
use crate::form::{Field, option};
use crate::house::House;
use crate::ids::{LotId, PieceId, VesselId};
use crate::ledger::facts::Act;
use crate::ledger::facts::out_of_cure::{OutOfCure, Surface};
use crate::ledger::odd::{lost_too_much, mistyped};
use crate::ledger::post::say;
use crate::ledger::state::Piece;
use crate::units::Fraction;
use crate::units::show::{share, trim};
use crate::verdict::LOST_IN_BOX;
use serde::{Deserialize, Serialize};

/// Out of the cure.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OutOfCureAsk {
    /// The piece. Give this, `pieces` or `vessel`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Several that were weighed together: the weight is shared out by what each weighed.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// All that lie in a vessel, weighed together.
    #[serde(default)]
    pub vessel: Option<VesselId>,
    /// The weight, as typed.
    pub reading: String,
    /// What was done with its surface.
    #[serde(default)]
    pub surface: Option<Surface>,
    /// Why, where it goes past a block.
    #[serde(default)]
    pub reason: Option<String>,
}

impl Draft for OutOfCureAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let reading = ("reading", self.reading.as_str());
        context
            .weighed_together(reading, self.piece, &self.pieces, self.vessel)?
            .into_iter()
            .map(|(piece, reading)| {
                let act = OutOfCure {
                    piece,
                    reading,
                    surface: self.surface,
                    reason: words(self.reason.as_deref()),
                };
                Ok((context.lot_of(piece)?, Act::OutOfCure(act)))
            })
            .collect()
    }
}

/// No brine gives more than this share of the meat.
const MOST_GAINED: f64 = 0.20;

/// More than this share lost in the cure is asked about.
const USUAL_LOSS: f64 = 0.20;

impl Review for OutOfCure {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let (state, home) = (validator.state, validator.home);
        let mut found = lost_too_much(
            self.piece,
            self.reading.value,
            USUAL_LOSS,
            state,
            home.settings.units,
        );
        found.extend(
            validator
                .piece(self.piece)
                .and_then(|p| self.gained(p, home)),
        );
        let early = validator
            .piece(self.piece)
            .and_then(|piece| validator.judge().early(piece, validator.at));
        if early.is_none() {
            found.extend(
                validator
                    .piece(self.piece)
                    .and_then(|p| self.little_salt(p)),
            );
        }
        found
            .extend(early.map(|e| e.finding(validator.piece(self.piece).map_or("It", |p| &p.tag))));
        if let Some(piece) = validator.piece(self.piece) {
            // What is asked about only once more is asked at the hook.
            let soured = validator.soured(piece);
            found.extend(soured.filter(|f| f.severity == Severity::Stop));
            found.extend(
                validator
                    .judge()
                    .long_without_nitrite(state, piece, validator.at),
            );
        }
        found
    }

    fn detail(&self, render: &RenderContext<'_>) -> String {
        let surface = self
            .surface
            .map_or_else(String::new, |s| format!(", {}", s.label()));
        format!("{}{surface}", render.mass(&self.reading))
    }

    fn ask_again(&self, _: LotId, render: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::OutOfCure(OutOfCureAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            vessel: None,
            reading: render.again(&self.reading),
            surface: self.surface,
            reason: self.reason.clone(),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::mass("reading", "Weight"),
            Field::one_of(
                "surface",
                "Its surface",
                Surface::ALL.map(|s| option(&s, s.label())).into(),
            )
            .optional(),
            Field::text("reason", "Why, if it goes past a block").optional(),
        ]
    }
}

impl Surface {
    const ALL: [Self; 4] = [Self::Rinsed, Self::Wiped, Self::Brushed, Self::AsItWas];

    const fn label(self) -> &'static str {
        match self {
            Self::Rinsed => "rinsed",
            Self::Wiped => "wiped",
            Self::Brushed => "brushed off",
            Self::AsItWas => "not rinsed",
        }
    }
}

impl OutOfCure {
    /// A salt box that took so little water that its salt is not proved: asked while the salt is still at hand.
    fn little_salt(&self, piece: &Piece) -> Option<Finding> {
        let cure = piece.cure.as_ref()?;
        cure.dose.as_ref().filter(|d| d.method.is_buried())?;
        let lost = 1.0 - self.reading.value.grams() / cure.meat.grams().max(f64::MIN_POSITIVE);
        (lost < LOST_IN_BOX - 1e-9).then(|| {
            Finding::new(
                Code::BoxLostLittle,
                Severity::Caution,
                format!("{} lost too little in the salt to prove that the salt went in.", piece.tag),
            )
            .saw(format!("{} lost", share(Fraction(lost.max(0.0)))))
            .wants(format!("{} or more", share(Fraction(LOST_IN_BOX))))
            .remedy("Weigh it again, brushed off and dry. If the weight is right, bury it again for some hours. Saved now, it is not ready by drying.")
        })
    }

    /// More gained than any brine gives, beside what was pumped in.
    fn gained(&self, piece: &Piece, home: &House) -> Option<Finding> {
        let cure = piece.cure.as_ref().filter(|c| c.dose.is_some())?;
        let meat = cure.meat.grams().max(f64::MIN_POSITIVE);
        let now = self.reading.value.grams();
        let gained = (now - meat - cure.injected.grams()) / meat;
        (gained > MOST_GAINED).then(|| {
            mistyped(
                format!(
                    "{} would have gained {} % in its cure.",
                    piece.tag,
                    trim(gained * 100.0, 0)
                ),
                say(self.reading.value, home.settings.units),
                format!(
                    "at most about {} % more than it was",
                    trim(MOST_GAINED * 100.0, 0)
                ),
                None,
            )
        })
    }
}
