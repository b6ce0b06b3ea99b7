//! What one visitor may take, so that there is room for the others: one table.

use std::time::Duration;

/// The largest body of a request (bytes), but for a backup that is brought back.
pub const LARGEST_BODY: usize = 4 << 20;
/// The largest backup that is brought back (bytes).
pub const LARGEST_BACKUP: u64 = 1 << 30;
/// A request's head that has not come by then does not come.
pub const HEAD_PATIENCE: Duration = Duration::from_secs(5);
/// A body that has not come by then does not come.
pub const BODY_PATIENCE: Duration = Duration::from_secs(15);
/// So long a file that is being brought may stand still.
pub const CHUNK_PATIENCE: Duration = Duration::from_secs(15);
/// So long one waits for a hand that looks something up.
pub const SEAT_PATIENCE: Duration = Duration::from_secs(3);
/// After so long who was told that all hands are full may ask again (s).
pub const AGAIN_AFTER_S: u32 = 1;
/// Files that are brought at a time.
pub const UPLOADS: usize = 2;
/// A file that has not come by then does not come.
pub const UPLOAD_PATIENCE: Duration = Duration::from_secs(600);
/// Connections at a time from one address.
pub const CONNECTIONS_OF_ONE: usize = 256;
/// Connections at a time, for each of the [`WORKERS`].
pub const CONNECTIONS: usize = 256;
/// Threads that answer.
pub const WORKERS: usize = 2;
/// Pages that hear of changes at a time: every one holds a connection, and others need some too.
pub const LISTENERS: usize = 128;
