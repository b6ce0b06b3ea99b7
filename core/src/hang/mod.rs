//! Hanging: how much a piece is to lose, when it will have lost it, where its drying stands, what the air of its place does to it.

pub mod activity;
pub mod forecast;
pub mod pace;
mod target;

pub use target::{HangTargetAnswer, HangTargetAsk, hang_target, made_up_hook, usual_days};
