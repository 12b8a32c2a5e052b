//! Each kind of part in a circuit of its own, against what is worked out by hand beside it.

mod actuator;
mod battery;
mod blower;
mod condenser;
mod diode;
mod fuse;
mod gauge;
mod hall_sensor;
mod key_switch;
mod lamp;
mod led;
mod lever_switch;
mod potentiometer;
mod relay;
mod resistor;
mod sensor_switch;
mod starter;
mod thermistor;

use std::sync::Arc;

use cimento_bench::Bench;
use cimento_model::circuit::Circuit;
use cimento_parts::read_circuit;
use serde_json::{Value, json};

/// What a wire of these circuits has, in ohms.
pub const WIRE_OHMS: f64 = 0.001;

/// A battery of 12.6 V that hardly gives way, grounded to a frame, with some parts, and wires W1, W2, … between terminals.
pub fn circuit(parts: Value, wires: &[(&str, &str)]) -> Arc<Circuit> {
    let mut all =
        json!({ "BAT": { "kind": "battery", "params": { "rest_v": 12.6, "cca_a": 3000 } } });
    if let (Some(all), Value::Object(parts)) = (all.as_object_mut(), parts) {
        all.extend(parts);
    }
    let wires: Vec<Value> = wires
        .iter()
        .enumerate()
        .map(|(n, (from, to))| json!({ "id": format!("W{}", n + 1), "from": from, "to": to, "ohms": WIRE_OHMS }))
        .collect();
    let ground = json!({ "id": "W0", "from": "BAT.-", "to": "G1", "ohms": WIRE_OHMS });
    let wires: Vec<Value> = wires.into_iter().chain([ground]).collect();
    let grounds = json!({ "G1": { "metal": "frame" } });
    let doc = json!({ "format": "cimento/circuit", "version": 1, "title": "t", "system_v": 12, "parts": all, "grounds": grounds, "wires": wires });
    read_circuit(&doc.to_string()).unwrap()
}

/// A part with two terminals 1 and 2 across the battery.
pub fn across(id: &str, part: Value) -> Arc<Circuit> {
    let (feed, back) = (format!("{id}.1"), format!("{id}.2"));
    let parts = json!({ id: part });
    circuit(parts, &[("BAT.+", &feed), (&back, "BAT.-")])
}

/// Whether two numbers agree within a share of the second.
pub fn near(a: f64, b: f64, share: f64) -> bool {
    (a - b).abs() <= share * b.abs().max(1e-9)
}

/// What is noticed of a part, as signs.
pub fn signs(bench: &Bench, part: &str) -> Vec<String> {
    let all = bench.notices().into_iter();
    all.filter(|n| n.part == part).map(|n| n.sign).collect()
}
