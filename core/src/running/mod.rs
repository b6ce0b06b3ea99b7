//! A run as it is now: where each piece stands, what goes in together, what rings, and what is asked before something is done in it.

pub mod alarms;
pub mod ask;
pub mod load;
pub mod mark;
pub mod now;
pub mod validator;
pub mod words;

#[cfg(test)]
mod tests;
