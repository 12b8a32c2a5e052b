//! Node voltages against ngspice on the exported netlist of every demo circuit: healthy and with each
//! single fault, in every position of the key and with every lever tried. Agreement within 1 mV or 0.1 %.

use std::sync::Arc;

use crate::common;

use std::collections::HashMap;

use cimento_bench::Bench;
use cimento_bench::Point;
use cimento_bench::spice::{spice_name, spice_netlist};
use cimento_diagnosis::suspects::candidates;
use cimento_model::circuit::Circuit;
use cimento_model::faults::Fault;
use cimento_model::state::OperatingState;
use cimento_solver::{Element, Solver};

/// Runs a netlist and gives the printed node voltages by name. Where ngspice loses its way behind junctions that
/// block, ten teraohms beside each of them show it: a five-hundredth of what a node leaks.
fn ngspice(netlist: &str, what: &str) -> HashMap<String, f64> {
    let found = printed(&common::ngspice(netlist));
    if !found.is_empty() {
        return found;
    }
    let text = common::ngspice(&netlist.replace("gmin=1e-15", "gmin=1e-13"));
    let found = printed(&text);
    assert!(
        !found.is_empty(),
        "{what}: ngspice printed no voltages:\n{text}\n{netlist}"
    );
    found
}

fn printed(text: &str) -> HashMap<String, f64> {
    let mut out = HashMap::new();
    for line in text.lines() {
        if let Some((name, value)) = line.split_once(" = ")
            && let Some(node) = name
                .trim()
                .strip_prefix("v(")
                .and_then(|n| n.strip_suffix(')'))
            && let Ok(volts) = value.trim().parse()
        {
            out.insert(node.to_owned(), volts);
        }
    }
    out
}

/// Compares a bench in its state; a machine that chatters has no operating point to compare.
fn compare(circuit: &Arc<Circuit>, bench: &Bench, what: &str) -> bool {
    let Ok(netlist) = spice_netlist(bench) else {
        assert!(bench.settled().cycles(), "{what} could not be exported");
        return false;
    };
    let theirs = ngspice(&netlist, what);
    let point = &bench.settled().points[0];
    // Of what goes to and fro the first half is exported.
    let op = point.waves.first().map_or(&*point.op, |w| &w.op);
    for (n, name) in circuit.nodes.iter().enumerate().skip(1) {
        let ours = op.voltage(point.wiring.node(n));
        let other = theirs[&spice_name(name)];
        let agree = |a: f64, b: f64| (a - b).abs() <= 1e-3_f64.max(1e-3 * a.abs());
        if agree(ours, other) {
            continue;
        }
        // What hangs by leaks alone is compared as a meter reads it: behind junctions that block, ngspice's
        // approximation of their reverse current is not Shockley's, and picoamperes make volts there.
        let metered = with_a_meter(point, n);
        let with_meter = metered_netlist(&netlist, &spice_name(name));
        let theirs = ngspice(&with_meter, what)[&spice_name(name)];
        assert!(
            agree(metered, theirs),
            "{what}: {name} is {ours} V here, {other} V in ngspice; with a meter on it {metered} V and {theirs} V"
        );
    }
    true
}

/// Input of a voltmeter, in ohms; common practice.
const METER_OHMS: f64 = 10e6;

/// The voltage of a node with a meter between it and battery negative.
fn with_a_meter(point: &Point, node: usize) -> f64 {
    let mut net = point.wiring.net.clone();
    let (a, b) = (point.wiring.node(node), net.zero());
    net.attach(Element::resistor(a, b, METER_OHMS));
    Solver::new().operating_point(&net).unwrap().voltage(a)
}

fn metered_netlist(netlist: &str, node: &str) -> String {
    let meter = format!("Rmeter {node} 0 {METER_OHMS:e}\n.options ");
    netlist.replacen(".options ", &meter, 1)
}

/// The states of the trial.
fn states(circuit: &Arc<Circuit>) -> Vec<OperatingState> {
    OperatingState::trial(circuit)
        .into_iter()
        .map(|t| t.state)
        .collect()
}

/// The healthy circuit and every so many-th single fault, in every state of the trial: ngspice takes a
/// second for thirty of them, and there are many thousands. `ALL=1` before the tests takes them all.
fn faults_in_every_state(name: &str, step: usize) {
    let step = if common::all() { 1 } else { step };
    let circuit = common::demo(name);
    let mut faults: Vec<Vec<Fault>> = vec![Vec::new()];
    for candidate in candidates(&circuit, None).iter().step_by(step) {
        // The middle of the severities stands for the others.
        faults.push(candidate.grid[candidate.grid.len() / 2].clone());
    }
    let (mut compared, mut cycling) = (0, 0);
    for set in &faults {
        let mut bench = Bench::new(&circuit, set).unwrap();
        let about: Vec<String> = set.iter().map(|f| f.about(&circuit)).collect();
        for state in states(&circuit) {
            let what = format!("{name}: {} in {}", about.join(", "), state.about());
            bench.set(state).unwrap();
            match compare(&circuit, &bench, &what) {
                true => compared += 1,
                false => cycling += 1,
            }
        }
    }
    println!(
        "{name}: {compared} operating points agree with ngspice; {cycling} cycle and have none"
    );
    assert!(compared > circuit.places().count() / step);
}

#[test]
fn baggage_tug_starting_agrees_with_ngspice() {
    faults_in_every_state("baggage-tug-starting", 4);
}

#[test]
fn baggage_tug_charging_agrees_with_ngspice() {
    faults_in_every_state("baggage-tug-charging", 9);
}

#[test]
fn belt_loader_starting_agrees_with_ngspice() {
    faults_in_every_state("belt-loader-starting", 6);
}

#[test]
fn belt_loader_module_agrees_with_ngspice() {
    faults_in_every_state("belt-loader-module", 11);
}

#[test]
fn sweeper_lamps_agrees_with_ngspice() {
    faults_in_every_state("sweeper-lamps", 4);
}

#[test]
fn sweeper_speed_sensor_agrees_with_ngspice() {
    faults_in_every_state("sweeper-speed-sensor", 6);
}

#[test]
fn ground_power_unit_cabin_agrees_with_ngspice() {
    faults_in_every_state("ground-power-unit-cabin", 11);
}

#[test]
fn ground_power_unit_throttle_agrees_with_ngspice() {
    faults_in_every_state("ground-power-unit-throttle", 11);
}

#[test]
fn ground_power_unit_injectors_agrees_with_ngspice() {
    faults_in_every_state("ground-power-unit-injectors", 11);
}

#[test]
fn fire_pump_starting_agrees_with_ngspice() {
    faults_in_every_state("fire-pump-starting", 6);
}

#[test]
fn fire_pump_charging_agrees_with_ngspice() {
    faults_in_every_state("fire-pump-charging", 11);
}

#[test]
fn baggage_tug_ignition_agrees_with_ngspice() {
    faults_in_every_state("baggage-tug-ignition", 11);
}

#[test]
fn ground_power_unit_ignition_agrees_with_ngspice() {
    faults_in_every_state("ground-power-unit-ignition", 11);
}

#[test]
fn fire_pump_ignition_agrees_with_ngspice() {
    faults_in_every_state("fire-pump-ignition", 6);
}

#[test]
fn sweeper_ignition_agrees_with_ngspice() {
    faults_in_every_state("sweeper-ignition", 11);
}

#[test]
fn belt_loader_ignition_agrees_with_ngspice() {
    faults_in_every_state("belt-loader-ignition", 11);
}

#[test]
fn twin_fire_pump_ignition_agrees_with_ngspice() {
    faults_in_every_state("twin-fire-pump-ignition", 11);
}

#[test]
fn large_fire_pump_ignition_agrees_with_ngspice() {
    faults_in_every_state("large-fire-pump-ignition", 23);
}

#[test]
fn sweeper_washing_pump_agrees_with_ngspice() {
    faults_in_every_state("sweeper-washing-pump", 6);
}

#[test]
fn sweeper_auxiliary_engine_agrees_with_ngspice() {
    faults_in_every_state("sweeper-auxiliary-engine", 11);
}

#[test]
fn ground_power_unit_twin_coils_agrees_with_ngspice() {
    faults_in_every_state("ground-power-unit-twin-coils", 11);
}
