//! Thermometers that answer over TCP: what they say ([`protocol`]), who listens ([`reader`], [`link`]) and one that is made up
//! ([`fridge`], [`probes`]), so that nobody needs one to try the program.

pub mod fridge;
pub mod link;
pub mod probes;
pub mod protocol;
pub mod reader;
