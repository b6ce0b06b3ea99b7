//! Placeholder while the workspace resolves.
