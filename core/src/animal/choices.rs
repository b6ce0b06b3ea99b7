//! What is to be settled by name before the knife goes in; see [`crate::catalogue::cutting`].

pub use crate::catalogue::cutting::{Choice, ChoiceOption};
