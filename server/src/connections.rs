//! What is settled when a connection comes: nothing waits to be sent together, and nobody holds more of them than leaves
//! room for the others.

use crate::limits::CONNECTIONS_OF_ONE;
use actix_web::dev::Extensions;
use actix_web::rt::net::TcpStream;
use std::any::Any;
use std::collections::HashMap;
use std::net::{IpAddr, Shutdown};
use std::sync::{LazyLock, Mutex, MutexGuard, PoisonError};

/// How many connections each address holds.
static HELD: LazyLock<Mutex<HashMap<IpAddr, usize>>> = LazyLock::new(Mutex::default);

fn held() -> MutexGuard<'static, HashMap<IpAddr, usize>> {
    HELD.lock().unwrap_or_else(PoisonError::into_inner)
}

/// Counts for as long as its connection lives.
struct Counted(IpAddr);

impl Counted {
    fn of(address: IpAddr) -> (Self, usize) {
        let mut held = held();
        let count = held.entry(address).or_default();
        *count += 1;
        (Self(address), *count)
    }
}

impl Drop for Counted {
    fn drop(&mut self) {
        let mut held = held();
        if let Some(count) = held.get_mut(&self.0) {
            *count -= 1;
            if *count == 0 {
                held.remove(&self.0);
            }
        }
    }
}

/// Takes in a connection, or closes it where its address holds too many.
pub fn greet(connection: &dyn Any, data: &mut Extensions) {
    let Some(stream) = connection.downcast_ref::<TcpStream>() else {
        return;
    };
    // A last small packet that waits for an acknowledgement waits 40 ms.
    let _ = stream.set_nodelay(true);
    let Ok(peer) = stream.peer_addr() else {
        return;
    };
    let (counted, count) = Counted::of(peer.ip());
    data.insert(counted);
    if count > CONNECTIONS_OF_ONE {
        let _ = socket2::SockRef::from(stream).shutdown(Shutdown::Both);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_address_is_counted_for_as_long_as_it_holds_connections() {
        let here: IpAddr = "192.0.2.7".parse().unwrap();
        let (one, first) = Counted::of(here);
        let (two, second) = Counted::of(here);
        assert_eq!((first, second), (1, 2));
        drop(one);
        assert_eq!(Counted::of(here).1, 2);
        drop(two);
        assert!(!held().contains_key(&here));
    }
}
