//! What a listener makes of the lines: readings taken once, and how many were garbled, doubled or lost.

use crate::protocol::{Line, Said, read};

/// What came over a line so far.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Heard {
    /// Readings taken.
    pub readings: u64,
    /// Lines that meant nothing.
    pub garbled: u64,
    /// Readings that came again.
    pub doubled: u64,
    /// Readings that were said and never understood, by their numbers.
    pub lost: u64,
    /// Readings that were said in degrees Fahrenheit.
    pub in_fahrenheit: u64,
    /// What was left of the weakest battery, by the newest reading that said so (%).
    pub battery: Option<u8>,
}

/// Takes lines in, one after the other.
#[derive(Clone, Debug, Default)]
pub struct Reader {
    heard: Heard,
    last: Option<u64>,
}

impl Reader {
    /// What came so far.
    #[must_use]
    pub const fn heard(&self) -> Heard {
        self.heard
    }

    /// Takes a line in; gives its reading if it holds one that is new.
    pub fn take(&mut self, line: &str) -> Option<Said> {
        match read(line) {
            Err(_) => {
                self.heard.garbled += 1;
                None
            }
            Ok(Line::Greeting | Line::SignOfLife) => None,
            Ok(Line::Reading(said)) => {
                if self.last.is_some_and(|last| said.number <= last) {
                    self.heard.doubled += 1;
                    return None;
                }
                if let Some(last) = self.last {
                    self.heard.lost += said.number - last - 1;
                }
                self.last = Some(said.number);
                self.heard.readings += 1;
                self.heard.in_fahrenheit += u64::from(said.in_fahrenheit);
                self.heard.battery = said.battery.or(self.heard.battery);
                Some(said)
            }
            Ok(Line::Unplugged(number)) => {
                self.last = Some(self.last.unwrap_or(number).max(number));
                None
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fridge;

    #[test]
    fn a_stuttering_garbling_thermometer_is_read_once_each() {
        let mut reader = Reader::default();
        let mut taken = Vec::new();
        let (from, to) = (3_000_000, 3_000_200);
        for line in (from..to).flat_map(fridge::lines) {
            taken.extend(reader.take(&line).map(|s| s.number));
        }
        reader.take("\u{0}\u{1}");
        let heard = reader.heard();
        assert!(taken.is_sorted_by(|a, b| a < b));
        assert_eq!(heard.readings, taken.len() as u64);
        assert!(heard.doubled > 3 && heard.garbled > 3, "{heard:?}");
        // what was garbled or not said is missing, and known to be
        assert_eq!(heard.readings + heard.lost, (to - from) as u64);
    }
}
