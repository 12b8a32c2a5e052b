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

/// Runs a netlist and gives the printed node voltages by name; none where ngspice does not find its way.
fn ngspice(netlist: &str, what: &str) -> Option<HashMap<String, f64>> {
    let text = common::ngspice(netlist);
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
    if out.is_empty() {
        println!("{what}: ngspice found no operating point");
        return None;
    }
    Some(out)
}

/// Compares a bench in its state; a machine that chatters has no operating point to compare.
fn compare(circuit: &Arc<Circuit>, bench: &Bench, what: &str) -> Compared {
    let Ok(netlist) = spice_netlist(bench) else {
        assert!(bench.settled().cycles(), "{what} could not be exported");
        return Compared::Cycles;
    };
    let Some(theirs) = ngspice(&netlist, what) else {
        return Compared::NotFound;
    };
    let point = &bench.settled().points[0];
    // Of what goes to and fro the first half is exported.
    let op = point.waves.first().map_or(&*point.op, |w| &w.op);
    for (n, name) in circuit.nodes.iter().enumerate().skip(1) {
        let ours = op.voltage(point.wiring.node(n));
        let other = theirs[&spice_name(name)];
        let allowed = 1e-3_f64.max(1e-3 * ours.abs());
        assert!(
            (ours - other).abs() <= allowed || hangs_by_a_leak(point, n),
            "{what}: {name} is {ours} V here, {other} V in ngspice"
        );
    }
    Compared::Agrees
}

enum Compared {
    Agrees,
    /// It chatters, and has no operating point.
    Cycles,
    /// ngspice gave up, or went on for ever.
    NotFound,
}

/// Whether a node is held by more than a hundred megohms, so that ten of a meter would take its voltage away:
/// behind junctions that block, ngspice's approximation of their reverse current is not Shockley's.
fn hangs_by_a_leak(point: &Point, node: usize) -> bool {
    const AMPS: f64 = 1e-11;
    let mut net = point.wiring.net.clone();
    let (a, b) = (net.zero(), point.wiring.node(node));
    let before = Solver::new().operating_point(&net).unwrap();
    net.attach(Element::CurrentSource { a, b, amps: AMPS });
    let after = Solver::new().operating_point(&net).unwrap();
    (after.voltage(b) - before.voltage(b)).abs() / AMPS > 1e8
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
    let (mut compared, mut cycling, mut not_found) = (0, 0, 0);
    for set in &faults {
        let mut bench = Bench::new(&circuit, set).unwrap();
        let about: Vec<String> = set.iter().map(|f| f.about(&circuit)).collect();
        for state in states(&circuit) {
            let what = format!("{name}: {} in {}", about.join(", "), state.about());
            bench.set(state).unwrap();
            match compare(&circuit, &bench, &what) {
                Compared::Agrees => compared += 1,
                Compared::Cycles => cycling += 1,
                Compared::NotFound => not_found += 1,
            }
        }
    }
    println!(
        "{name}: {compared} operating points agree with ngspice; {cycling} cycle and have none; {not_found} it does not find"
    );
    // Behind junctions that block, and on what floats, its search may fail: now and then, and no more.
    assert!(not_found * 20 <= compared, "{not_found} beside {compared}");
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
fn ground_power_unit_twin_coils_agrees_with_ngspice() {
    faults_in_every_state("ground-power-unit-twin-coils", 11);
}
