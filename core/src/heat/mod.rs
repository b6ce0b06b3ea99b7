//! Heat: how warm the inside has been for how long, and when it will be done.

pub mod done_when;
pub mod forecast;
pub mod heating;
pub mod lethality;
pub mod possible;
pub mod typed;
