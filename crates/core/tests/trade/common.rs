//! Shared by the tests: the demo circuits. Each test uses a part of it.

use cimento_core::attempt::{Action, Lesson, LessonDoc, Touch};
use cimento_core::bench::{Bench, OperatingState, complaint};
use cimento_core::circuit::Circuit;
use cimento_core::faults::{Fault, read_short_form};
use cimento_core::instruments::{Function, Shown, take};

/// Text of the baggage tug's starting circuit.
pub const TUG: &str = include_str!("../../../../demo/circuits/baggage-tug-starting.json");

/// The baggage tug's starting circuit.
pub fn tug() -> Circuit {
    Circuit::read(TUG).unwrap()
}

/// A demo circuit by its file name.
pub fn demo(name: &str) -> Circuit {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/circuits");
    let text = std::fs::read_to_string(format!("{folder}/{name}.json")).unwrap();
    Circuit::read(&text).unwrap()
}

/// A fault in short form.
pub fn fault(circuit: &Circuit, text: &str) -> Fault {
    Fault::read(circuit, &read_short_form(text).unwrap(), "fault").unwrap()
}

/// Faults in short form.
pub fn faults(circuit: &Circuit, texts: &[&str]) -> Vec<Fault> {
    texts.iter().map(|f| fault(circuit, f)).collect()
}

/// What the machine does with some faults.
pub fn symptom(circuit: &Circuit, texts: &[&str]) -> String {
    let mut bench = Bench::new(circuit, &faults(circuit, texts)).unwrap();
    complaint(&mut bench).unwrap().text
}

/// A bench with some faults and some controls moved.
pub fn with<'c>(circuit: &'c Circuit, texts: &[&str], controls: &[(&str, &str)]) -> Bench<'c> {
    let mut bench = Bench::new(circuit, &faults(circuit, texts)).unwrap();
    let mut state = OperatingState::at_rest(circuit);
    for (name, at) in controls {
        state.set_control(name, (*at).to_owned());
    }
    state.check(circuit).unwrap();
    bench.set(state).unwrap();
    bench
}

/// What an instrument shows; a `black` of "" is none.
pub fn shown(bench: &Bench<'_>, function: Function, red: &str, black: &str) -> Shown {
    let black = (!black.is_empty()).then_some(black);
    take(bench, function, None, Some(red), black).unwrap().shown
}

/// The number that an instrument shows.
pub fn number(bench: &Bench<'_>, function: Function, red: &str, black: &str) -> f64 {
    shown(bench, function, red, black).value.number()
}

/// DC volts.
pub fn volts(bench: &Bench<'_>, red: &str, black: &str) -> f64 {
    number(bench, Function::DcVolts, red, black)
}

/// Every demo circuit by its file name.
pub fn demo_names() -> Vec<String> {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/circuits");
    let mut names: Vec<String> = std::fs::read_dir(folder)
        .unwrap()
        .map(|e| {
            e.unwrap()
                .path()
                .file_stem()
                .unwrap()
                .to_str()
                .unwrap()
                .to_owned()
        })
        .collect();
    names.sort();
    names
}

/// A lesson on a circuit with some faults, with every function of the meter and no predictions;
/// none when the faults do not show.
pub fn lesson(circuit: &Circuit, faults: &[Fault]) -> Option<Lesson> {
    let docs = faults.iter().map(|f| f.doc(circuit)).collect();
    let doc = LessonDoc::of("A lesson", circuit.doc.clone(), docs);
    Lesson::new(doc).ok()
}

/// A made-up circuit: a fused and switched feed through some connectors in a row to some lamps side
/// by side, each with its own ground.
pub fn chain(connectors: usize, lamps: usize) -> Circuit {
    let mut parts = serde_json::json!({
        "BAT": {"kind": "battery", "name": "Battery", "params": {"rest_v": 12.6, "cca_a": 400}},
        "F1": {"kind": "fuse", "name": "Fuse", "params": {"rating_a": 15}},
        "S1": {"kind": "switch", "name": "Switch", "control": "lamps"}
    });
    let mut grounds = serde_json::json!({"G1": {"metal": "frame"}});
    let mut wires: Vec<(String, String)> = vec![
        ("BAT.+".into(), "F1.1".into()),
        ("F1.2".into(), "S1.1".into()),
        ("BAT.-".into(), "G1".into()),
    ];
    let mut from = "S1.2".to_owned();
    let mut plugs = serde_json::json!({});
    for n in 1..=connectors {
        plugs[format!("C{n}")] = serde_json::json!({"cavities": 1});
        wires.push((from, format!("C{n}.1m")));
        from = format!("C{n}.1f");
    }
    let splices = if lamps > 1 {
        wires.push((from, "SP1".into()));
        from = "SP1".to_owned();
        serde_json::json!({"SP1": {}})
    } else {
        serde_json::json!({})
    };
    for n in 1..=lamps {
        parts[format!("H{n}")] =
            serde_json::json!({"kind": "lamp", "name": "Lamp", "params": {"rated_w": 10}});
        grounds[format!("G{}", n + 1)] = serde_json::json!({"metal": "frame"});
        wires.push((from.clone(), format!("H{n}.1")));
        wires.push((format!("H{n}.2"), format!("G{}", n + 1)));
    }
    let wire = |(n, (from, to)): (usize, &(String, String))| {
        serde_json::json!({
            "id": format!("W{}", n + 1), "from": from, "to": to,
            "area_mm2": 1.5, "length_m": 0.8, "color": "RD"
        })
    };
    let wires: Vec<_> = wires.iter().enumerate().map(wire).collect();
    let doc = serde_json::json!({
        "format": "cimento/circuit", "version": 1, "title": "A chain", "system_v": 12,
        "parts": parts, "connectors": plugs, "splices": splices, "grounds": grounds, "wires": wires
    });
    Circuit::read(&doc.to_string()).unwrap()
}

/// What ngspice prints about a netlist.
pub fn ngspice(netlist: &str) -> String {
    use std::io::Write;
    use std::process::{Command, Stdio};
    let mut child = Command::new("ngspice")
        .args(["-b", "/dev/stdin"])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .expect("ngspice is installed by `make test`");
    let mut input = child.stdin.take().unwrap();
    input.write_all(netlist.as_bytes()).unwrap();
    drop(input);
    let output = child.wait_with_output().unwrap();
    let (out, err) = (output.stdout, output.stderr);
    String::from_utf8_lossy(&[out, err].concat()).into_owned()
}

/// A reading by a thin pin, with what a healthy circuit is expected to read.
pub fn reading(
    function: Function,
    red: &str,
    black: Option<&str>,
    expected: Option<&str>,
) -> Action {
    Action::TakeReading {
        function,
        range: None,
        red: Some(red.to_owned()),
        black: black.map(str::to_owned),
        expected: expected.map(str::to_owned),
        supposing: None,
        touch: Touch::default(),
    }
}
