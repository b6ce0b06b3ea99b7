//! The real program and a real browser, for tests and screenshots.

pub mod browser;
pub mod proxy;
pub mod server;

pub use browser::Browser;
pub use proxy::{Line, Proxy};
pub use server::Server;

use anyhow::Result;

/// A laptop beside the table.
pub const DESK: (u32, u32) = (1280, 800);
/// A phone at the bench.
pub const PHONE: (u32, u32) = (390, 844);

/// Opens a window of this size on a running program.
///
/// # Errors
/// When Chromium or its driver cannot be started.
pub async fn open(server: &Server, (width, height): (u32, u32)) -> Result<Browser> {
    Browser::open(&server.address, width, height).await
}
