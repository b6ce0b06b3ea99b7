//! Soaked in water after the cure.

use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::{Code, Finding, Severity};
use crate::dose::limits::HUNG_SALT;
use crate::form::{Count, Field, FieldKind};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::soaked::Soaked;
use crate::units::show::trim;
use crate::verdict::salt_left;
use serde::{Deserialize, Serialize};

/// Soaked in water.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SoakedAsk {
    /// The piece. Give this or `pieces`.
    #[serde(default)]
    pub piece: Option<PieceId>,
    /// Several in one water.
    #[serde(default)]
    pub pieces: Vec<PieceId>,
    /// For how long (min).
    pub minutes: Count,
    /// How often the water was changed.
    #[serde(default)]
    pub changes: Count,
    /// True in iced water.
    #[serde(default)]
    pub iced: bool,
}

impl Draft for SoakedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let minutes = context.count(&self.minutes, "minutes")?;
        let changes = context.count_if(Some(&self.changes), "changes")?;
        let each = context.those(self.piece, &self.pieces, None)?;
        each.into_iter()
            .map(|piece| {
                let act = Soaked {
                    piece,
                    minutes,
                    changes: changes.unwrap_or(0),
                    iced: self.iced,
                };
                Ok((context.lot_of(piece)?, Act::Soaked(act)))
            })
            .collect()
    }
}

impl Review for Soaked {
    fn warnings(&self, validator: &Validator<'_>) -> Vec<Finding> {
        let bland = || {
            let piece = validator.piece(self.piece)?;
            piece.build().filter(|b| b.raw_dried)?;
            let salt = validator.judge().really(validator.state, piece)?.salt?;
            let left = salt_left(piece, salt.nominal, Some((validator.at, self.minutes)))?;
            (left < HUNG_SALT - 1e-9).then(|| {
                let said = |g: f64| format!("{} g/kg", trim(g, 1));
                Finding::new(
                    Code::SaltLow,
                    Severity::Caution,
                    "Water takes out more salt than what hangs raw can spare.",
                )
                .saw(format!("as little as {} left by the model", said(left)))
                .wants(format!("at least {}", said(HUNG_SALT)))
                .remedy(
                    "Rinse it and leave it at that. Saved as typed it may not be ready by drying.",
                )
            })
        };
        bland().into_iter().collect()
    }

    fn detail(&self, _: &RenderContext<'_>) -> String {
        let changes = match self.changes {
            0 => String::new(),
            1 => ", water changed once".into(),
            n => format!(", water changed {n} times"),
        };
        let iced = if self.iced { " in iced water" } else { "" };
        format!("{} min{iced}{changes}", self.minutes)
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Soaked(SoakedAsk {
            piece: Some(self.piece),
            pieces: Vec::new(),
            minutes: self.minutes.into(),
            changes: self.changes.into(),
            iced: self.iced,
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        vec![
            Field::new("minutes", "Minutes in the water", FieldKind::Count),
            Field::new("changes", "Changes of water", FieldKind::Count),
            Field::tick("iced", "In iced water"),
        ]
    }
}
