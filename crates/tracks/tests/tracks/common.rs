//! Circuits to lay out: the demo's, and made-up ones of any size.

use std::path::PathBuf;
use std::sync::Arc;

use cimento_model::circuit::{Circuit, CircuitDoc};
use cimento_tracks::Size;
use serde_json::{Map, Value, json};

/// What a screen of 1280 by 800 leaves for a diagram, and a projector.
pub const SHEET: Size = Size {
    width: 905,
    height: 465,
    font: 14,
    least: 0,
};
pub const WALL: Size = Size {
    width: 1450,
    height: 800,
    font: 20,
    least: 0,
};

/// The demo's circuits by name.
pub fn demo() -> Vec<(String, Arc<Circuit>)> {
    let folder = PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../../demo/circuits");
    let mut files: Vec<PathBuf> = std::fs::read_dir(folder)
        .unwrap()
        .map(|e| e.unwrap().path())
        .collect();
    files.sort();
    let read = |path: PathBuf| {
        let text = std::fs::read_to_string(&path).unwrap();
        (
            path.file_stem().unwrap().to_string_lossy().into_owned(),
            cimento_parts::read_circuit(&text).unwrap(),
        )
    };
    files.into_iter().map(read).collect()
}

/// Numbers that are the same at each run.
pub struct Dice(pub u64);

impl Dice {
    pub fn below(&mut self, n: usize) -> usize {
        self.0 = self
            .0
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        ((self.0 >> 33) as usize) % n
    }
}

/// A made-up circuit while it grows.
struct Growing {
    dice: Dice,
    parts: Map<String, Value>,
    connectors: Map<String, Value>,
    splices: Map<String, Value>,
    grounds: Map<String, Value>,
    wires: Vec<Value>,
    cavities: usize,
}

const COLOURS: [&str; 8] = [
    "RD", "BK/WH", "GN/YE", "BU", "VT/WH", "GY/BK", "OG", "YE/GN",
];
const AREAS: [f64; 4] = [0.5, 0.75, 1.5, 2.5];
/// Cavities of one made-up connector.
const CAVITIES: usize = 6;

impl Growing {
    fn wire(&mut self, from: &str, to: &str) {
        let (colour, area) = (
            COLOURS[self.dice.below(COLOURS.len())],
            AREAS[self.dice.below(AREAS.len())],
        );
        let id = format!("W{}", self.wires.len() + 1);
        self.wires.push(json!({"id": id, "from": from, "to": to, "area_mm2": area, "length_m": 1.0, "color": colour, "harness": "main"}));
    }

    /// A wire, through a connector one time in three.
    fn run(&mut self, from: &str, to: &str) {
        if self.dice.below(3) > 0 {
            return self.wire(from, to);
        }
        let (connector, cavity) = (self.cavities / CAVITIES + 1, self.cavities % CAVITIES + 1);
        self.cavities += 1;
        self.connectors
            .insert(format!("C{connector}"), json!({"cavities": CAVITIES}));
        self.wire(from, &format!("C{connector}.{cavity}m"));
        self.wire(&format!("C{connector}.{cavity}f"), to);
    }

    fn part(&mut self, letter: &str, kind: &str, name: &str, more: Value) -> String {
        let id = format!("{letter}{}", self.parts.len());
        let mut part = json!({"kind": kind, "name": name});
        for (key, value) in more.as_object().into_iter().flatten() {
            part[key] = value.clone();
        }
        self.parts.insert(id.clone(), part);
        id
    }

    fn ground(&mut self) -> String {
        let id = format!("G{}", 2 + self.dice.below(4));
        self.grounds.insert(id.clone(), json!({"metal": "frame"}));
        id
    }

    /// Feeds a few loads from a point: lamps behind switches, a relay with its load, a splice with several.
    fn load(&mut self, feed: &str) {
        match self.dice.below(4) {
            0 => {
                let lamp = self.part("H", "lamp", "Marker lamp", json!({}));
                self.run(feed, &format!("{lamp}.1"));
                let ground = self.ground();
                self.run(&format!("{lamp}.2"), &ground);
            }
            1 => {
                let switch = self.part(
                    "S",
                    "switch",
                    "Work lamp switch",
                    json!({"control": format!("lever {}", self.parts.len())}),
                );
                let heater = self.part("R", "heater", "Seat heater", json!({}));
                self.run(feed, &format!("{switch}.1"));
                self.run(&format!("{switch}.2"), &format!("{heater}.1"));
                let ground = self.ground();
                self.run(&format!("{heater}.2"), &ground);
            }
            2 => {
                let relay = self.part("K", "relay", "Blower relay", json!({}));
                let blower = self.part("M", "blower", "Blower", json!({}));
                self.run(feed, &format!("{relay}.30"));
                self.run("SP1", &format!("{relay}.86"));
                let ground = self.ground();
                self.run(&format!("{relay}.85"), &ground);
                self.run(&format!("{relay}.87"), &format!("{blower}.1"));
                let ground = self.ground();
                self.run(&format!("{blower}.2"), &ground);
            }
            _ => {
                let splice = format!("SP{}", self.splices.len() + 1);
                self.splices.insert(splice.clone(), json!({}));
                self.run(feed, &splice);
                for _ in 0..2 {
                    let lamp = self.part("H", "lamp", "Panel lamp", json!({}));
                    self.run(&splice, &format!("{lamp}.1"));
                    let ground = self.ground();
                    self.run(&format!("{lamp}.2"), &ground);
                }
            }
        }
    }
}

/// A made-up circuit of about so many parts.
pub fn generated(parts: usize, seed: u64) -> Arc<Circuit> {
    let mut growing = Growing {
        dice: Dice(seed.wrapping_mul(0x9e37_79b9_7f4a_7c15)),
        parts: Map::new(),
        connectors: Map::new(),
        splices: Map::new(),
        grounds: Map::new(),
        wires: Vec::new(),
        cavities: 0,
    };
    growing
        .parts
        .insert("ACCU".into(), json!({"kind": "battery", "name": "Battery"}));
    growing
        .grounds
        .insert("G1".into(), json!({"metal": "frame"}));
    growing.splices.insert("SP1".into(), json!({}));
    growing.wire("ACCU.-", "G1");
    let main = growing.part(
        "F",
        "fuse",
        "Main fuse",
        json!({"params": {"rating_a": 30}}),
    );
    growing.wire("ACCU.+", &format!("{main}.1"));
    let key = growing.part("S", "key_switch", "Key switch", json!({}));
    growing.run(&format!("{main}.2"), &format!("{key}.30"));
    growing.run(&format!("{key}.15"), "SP1");
    while growing.parts.len() < parts {
        let feed = if growing.dice.below(2) == 0 {
            "ACCU.+"
        } else {
            "SP1"
        };
        let fuse = growing.part(
            "F",
            "fuse",
            "Circuit fuse",
            json!({"params": {"rating_a": 15}}),
        );
        growing.run(feed, &format!("{fuse}.1"));
        growing.load(&format!("{fuse}.2"));
    }
    let doc = json!({
        "format": "cimento/circuit", "version": 1, "title": format!("Made up, {parts} parts"), "system_v": 12,
        "parts": growing.parts, "connectors": growing.connectors, "splices": growing.splices, "grounds": growing.grounds,
        "wires": growing.wires,
    });
    let doc: CircuitDoc = serde_json::from_value(doc).unwrap();
    cimento_parts::build_circuit(doc).unwrap_or_else(|e| panic!("{e:?}"))
}
