//! What a dry wire shows that hangs by nothing, however many connectors it is drawn through.

use std::sync::Arc;

use crate::common::{number, shown, volts, with};

use cimento_bench::instruments::Function;
use cimento_model::circuit::Circuit;
use cimento_parts::read_circuit;
use serde_json::json;

/// A feed through `connectors` in a row to a switch that stands open, a lamp behind it, and beside it a megohm.
fn feed(connectors: usize) -> Arc<Circuit> {
    let mut wires = vec![("BAT.+".to_owned(), "S0.1".to_owned())];
    let mut from = "S0.2".to_owned();
    let mut plugs = json!({});
    for n in 1..=connectors {
        plugs[format!("C{n}")] = json!({"cavities": 1});
        wires.push((from, format!("C{n}.1m")));
        from = format!("C{n}.1f");
    }
    wires.push((from, "S1.1".to_owned()));
    for (a, b) in [
        ("S1.2", "H1.1"),
        ("H1.2", "G1"),
        ("BAT.-", "G1"),
        ("S1.1", "R1.1"),
    ] {
        wires.push((a.to_owned(), b.to_owned()));
    }
    let wire = |(n, (from, to)): (usize, &(String, String))| json!({"id": format!("W{n}"), "from": from, "to": to, "area_mm2": 1.5, "length_m": 0.5});
    let wires: Vec<_> = wires.iter().enumerate().map(wire).collect();
    let doc = json!({"format": "cimento/circuit", "version": 1, "title": "t", "system_v": 12,
        "parts": {"BAT": {"kind": "battery", "params": {"rest_v": 12.6}}, "H1": {"kind": "lamp", "params": {"rated_w": 10}},
            "S0": {"kind": "switch", "control": "main"}, "S1": {"kind": "switch", "control": "lamp"},
            "R1": {"kind": "resistor", "params": {"ohms": 1e6}}},
        "connectors": plugs, "grounds": {"G1": {"metal": "frame"}}, "wires": wires});
    read_circuit(&doc.to_string()).unwrap()
}

/// Common practice: an open wire floats; a meter of 10 MΩ pulls it to the point that the other lead is on, so that
/// it reads next to nothing both to ground and to battery positive.
#[test]
fn a_dry_open_wire_reads_next_to_nothing_however_it_is_drawn() {
    for connectors in [1, 10, 40] {
        let circuit = feed(connectors);
        let bench = with(&circuit, &[], &[]);
        for black in ["BAT.-", "BAT.+"] {
            let read = volts(&bench, "S1.1", black);
            assert!(
                read.abs() < 1.0,
                "{connectors} connectors, to {black}: {read} V"
            );
        }
        for black in ["BAT.-", "BAT.+", "S1.2"] {
            let read = shown(&bench, Function::OHMS, "S1.1", black).text;
            assert_eq!(read, "OL", "{connectors} connectors, to {black}");
        }
    }
}

/// Common practice: red on the wire and black on battery positive, a wire that has found ground reads the battery
/// below nothing, and one that is open reads nothing.
#[test]
fn black_on_battery_positive_tells_a_grounded_wire_from_an_open_one() {
    for connectors in [1, 40] {
        let circuit = feed(connectors);
        let open = volts(&with(&circuit, &[], &[]), "S1.1", "BAT.+");
        assert!(open.abs() < 1.0, "{open}");
        for ohms in ["", "=1000"] {
            let fault = format!("C1.1:short_to_ground{ohms}");
            let fault = if ohms.is_empty() {
                fault
            } else {
                fault.replace("short_to_ground", "leak")
            };
            let grounded = volts(&with(&circuit, &[&fault], &[]), "S1.1", "BAT.+");
            assert!((grounded + 12.6).abs() < 0.02, "{fault}: {grounded}");
        }
    }
}

/// A megohm is a megohm, among any number of connectors.
#[test]
fn a_large_resistance_is_read_as_it_is() {
    for connectors in [1, 40] {
        let bench = with(&feed(connectors), &[], &[]);
        for red in ["R1.1", "C1.1m"] {
            let read = number(&bench, Function::OHMS, red, "R1.2");
            assert!(
                (read / 1e6 - 1.0).abs() < 0.002,
                "{connectors} connectors: {read} Ω"
            );
        }
    }
}

/// Damp is a fault of its own, and shows.
#[test]
fn a_damp_path_is_seen_by_volts_and_ohms() {
    let bench = with(&feed(5), &["C3.1:leak=200000"], &[]);
    let ohms = number(&bench, Function::OHMS, "S1.1", "BAT.-");
    assert!((ohms / 2e5 - 1.0).abs() < 0.01, "{ohms}");
    // 12.6 V through 10 MΩ into 200 kΩ.
    let below = volts(&bench, "S1.1", "BAT.+");
    assert!((below + 12.6 * 10.0 / 10.2).abs() < 0.02, "{below}");
}
