//! The real program and a real browser, for tests and screenshots.

pub mod browser;
pub mod server;

pub use browser::Browser;
pub use server::Server;
