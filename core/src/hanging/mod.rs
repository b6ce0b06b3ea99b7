//! What hangs now: each piece on its hook with what it lost and when it is done, what sours, and what gives pause.

pub mod ferment;
pub mod sheet;
