//! Long lists, a page at a time: each page says where the next one begins.

use super::MOST;
use crate::error::ApiError;
use serde::Deserialize;
use utoipa::IntoParams;

/// Where a page of a list begins.
#[derive(Debug, Default, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct After {
    /// The `next` of the page before; the first page when left out.
    pub after: Option<String>,
}

/// A page of a list.
pub struct Page<T> {
    /// What is on it.
    pub shown: Vec<T>,
    /// How many there are in the whole list.
    pub in_all: usize,
    /// What to ask for the next page with; none on the last one.
    pub next: Option<String>,
}

impl After {
    /// The page after this place in a list that is whole and in order; each of it has a name of its own.
    ///
    /// # Errors
    /// When what the page before ended with is no longer in the list.
    pub fn page<T>(
        &self,
        mut all: Vec<T>,
        name: impl Fn(&T) -> String,
    ) -> Result<Page<T>, ApiError> {
        let in_all = all.len();
        let begin = match &self.after {
            None => 0,
            Some(after) => {
                let at = all.iter().position(|one| name(one) == *after);
                1 + at.ok_or_else(|| {
                    ApiError::field(
                        "after",
                        "What the page before ended with is no longer in the list. Ask for the list from its beginning.",
                    )
                })?
            }
        };
        let mut shown = all.split_off(begin);
        let has_more = shown.len() > MOST;
        shown.truncate(MOST);
        Ok(Page {
            next: shown.last().filter(|_| has_more).map(name),
            shown,
            in_all,
        })
    }
}
