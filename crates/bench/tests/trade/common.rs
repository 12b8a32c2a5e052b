//! Shared by the tests: the demo circuits. Each test uses a part of it.

use cimento_parts::read_circuit;
use std::sync::Arc;

use cimento_bench::instruments::{Function, Shown, take};
use cimento_bench::{Bench, complaint};
use cimento_model::circuit::Circuit;
use cimento_model::faults::{Fault, read_short_form};
use cimento_model::state::OperatingState;

/// Text of the baggage tug's starting circuit.
pub const TUG: &str = include_str!("../../../../demo/circuits/baggage-tug-starting.json");

/// The baggage tug's starting circuit.
pub fn tug() -> Arc<Circuit> {
    read_circuit(TUG).unwrap()
}

/// A demo circuit by its file name.
pub fn demo(name: &str) -> Arc<Circuit> {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/circuits");
    let text = std::fs::read_to_string(format!("{folder}/{name}.json")).unwrap();
    read_circuit(&text).unwrap()
}

/// A fault in short form.
pub fn fault(circuit: &Arc<Circuit>, text: &str) -> Fault {
    Fault::read(circuit, &read_short_form(text).unwrap(), "fault").unwrap()
}

/// Faults in short form.
pub fn faults(circuit: &Arc<Circuit>, texts: &[&str]) -> Vec<Fault> {
    texts.iter().map(|f| fault(circuit, f)).collect()
}

/// What the machine does with some faults.
pub fn symptom(circuit: &Arc<Circuit>, texts: &[&str]) -> String {
    let mut bench = Bench::new(circuit, &faults(circuit, texts)).unwrap();
    complaint(&mut bench).unwrap().text
}

/// A bench with some faults and some controls moved.
pub fn with(circuit: &Arc<Circuit>, texts: &[&str], controls: &[(&str, &str)]) -> Bench {
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
pub fn shown(bench: &Bench, function: Function, red: &str, black: &str) -> Shown {
    let black = (!black.is_empty()).then_some(black);
    take(bench, function, None, Some(red), black).unwrap().shown
}

/// The number that an instrument shows.
pub fn number(bench: &Bench, function: Function, red: &str, black: &str) -> f64 {
    shown(bench, function, red, black).value.number()
}

/// DC volts.
pub fn volts(bench: &Bench, red: &str, black: &str) -> f64 {
    number(bench, Function::DC_VOLTS, red, black)
}

/// Whether everything is to be compared, and not a sample of it: `ALL=1` before the tests, as in `make thorough`.
#[allow(dead_code, reason = "each program uses a part of it")]
pub fn all() -> bool {
    std::env::var_os("ALL").is_some()
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

/// What ngspice prints about a netlist.
pub fn ngspice(netlist: &str) -> String {
    use std::io::Write;
    use std::process::{Command, Stdio};
    // Its search for an operating point may go on for ever. Seconds of the processor, for others may be at work.
    let mut child = Command::new("sh")
        .args(["-c", "ulimit -t 20; exec ngspice -b /dev/stdin"])
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
