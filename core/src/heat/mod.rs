//! Heat: how warm the inside has been for how long, and when it will be done.

pub mod done_when;
pub mod heating;
pub mod lethality;
pub mod possible;
pub mod typed;
