//! Small working circuits that one begins from instead of from nothing.

use cimento_model::circuit::{CircuitDoc, read_json};

/// A circuit to begin from.
pub struct Start {
    pub id: &'static str,
    /// What there is to learn on it, in a line.
    pub about: &'static str,
    text: &'static str,
}

/// Every circuit to begin from, in the order they are offered.
pub static STARTS: &[Start] = &[
    Start {
        id: "cranking",
        about: "A starter by key and relay, with a strap between engine and body.",
        text: include_str!("cranking.json"),
    },
    Start {
        id: "charging",
        about: "An alternator with its charge lamp and its own sense wire.",
        text: include_str!("charging.json"),
    },
    Start {
        id: "lamps",
        about: "Two switched lamps whose ground goes through one splice and one cavity.",
        text: include_str!("lamps.json"),
    },
    Start {
        id: "ignition",
        about: "A breaker, coil and plug, with the ballast bridged while it cranks.",
        text: include_str!("ignition.json"),
    },
];

/// A path to begin with where there is nothing yet: from the battery through a fuse, a switch and a lamp, and back.
pub const FIRST_PATH: &str = "BAT(battery).+ > 2.5 RD 0.5 > F1(fuse 10).1-2 > 1.5 RD/BU 0.8 > S1(switch).1-2 > \
    1.5 WH 1.2 > H1(lamp).1-2 > 1.5 BN 0.4 > G1(frame)/G2(frame) > 10 BK 0.4 > BAT.-";

impl Start {
    /// The circuit's document; none when what ships with the program is damaged, which a test rules out.
    pub fn document(&self) -> Option<CircuitDoc> {
        read_json(self.text).ok()
    }
}

/// The circuit to begin from with an id.
pub fn start(id: &str) -> Option<&'static Start> {
    STARTS.iter().find(|s| s.id == id)
}
