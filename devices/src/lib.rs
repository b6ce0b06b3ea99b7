//! Thermometers that answer over TCP: what they say ([`protocol`]), who listens ([`reader`], [`link`]) and some that are made up
//! ([`made_up`]: [`fridge`], [`chamber`], [`probes`]), so that nobody needs one to try the program.

pub mod chamber;
pub mod fridge;
pub mod link;
pub mod made_up;
pub mod probes;
pub mod protocol;
pub mod reader;
