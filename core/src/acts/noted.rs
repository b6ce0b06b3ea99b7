//! Something seen, felt or measured, in words.

use crate::acts::context::words;
use crate::acts::{Ask, Draft, DraftContext, Drafted, RenderContext, Review, Validator};
use crate::caution::Finding;
use crate::form::{AskError, Field};
use crate::ids::{LotId, PieceId};
use crate::ledger::facts::Act;
use crate::ledger::facts::noted::Noted;
use serde::{Deserialize, Serialize};

/// Something seen, felt or measured.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct NotedAsk {
    /// The piece.
    pub piece: PieceId,
    /// In words; may be left out beside a photo.
    #[serde(default)]
    pub text: String,
    /// The name of its photo, as `/photos` gave it.
    #[serde(default)]
    pub photo: Option<String>,
}

/// True for the name of a photo.
fn is_photo(name: &str) -> bool {
    name.len() == 64 && name.bytes().all(|b| b.is_ascii_hexdigit())
}

/// The name of a photo, as it was given.
pub(crate) fn photo_name(typed: Option<&str>) -> Result<Option<String>, AskError> {
    let photo = words(typed).map(|p| p.to_ascii_lowercase());
    if photo.as_deref().is_some_and(|p| !is_photo(p)) {
        return Err(AskError::field(
            "photo",
            "That is no name of a photo. Send the picture first, and give the name that came back.",
        ));
    }
    Ok(photo)
}

impl Draft for NotedAsk {
    fn draft(&self, context: &mut DraftContext<'_>, _: Option<(LotId, &Act)>) -> Drafted {
        let photo = photo_name(self.photo.as_deref())?;
        let act = Noted {
            piece: self.piece,
            text: self.text.trim().into(),
            photo,
        };
        context.about(self.piece, Act::Noted(act))
    }
}

impl Review for Noted {
    fn warnings(&self, _: &Validator<'_>) -> Vec<Finding> {
        Vec::new()
    }

    fn detail(&self, _: &RenderContext<'_>) -> String {
        match (&self.photo, self.text.is_empty()) {
            (Some(_), true) => "a photo".into(),
            (Some(_), false) => format!("{}, with a photo", self.text),
            (None, _) => self.text.clone(),
        }
    }

    fn ask_again(&self, _: LotId, _: &RenderContext<'_>) -> Option<Ask> {
        Some(Ask::Noted(NotedAsk {
            piece: self.piece,
            text: self.text.clone(),
            photo: self.photo.clone(),
        }))
    }

    fn form(&self, _: &RenderContext<'_>) -> Vec<Field> {
        let note = Field::text("text", "Note");
        vec![if self.photo.is_some() {
            note.optional()
        } else {
            note
        }]
    }
}
