//! Turning ignitions against ngspice on their exported netlists: the peak that a coil reaches, its instant, and
//! what its sparks turn to heat.

use crate::common;

use std::collections::HashMap;
use std::fmt::Write;
use std::ops::ControlFlow;

use cimento_bench::Bench;
use cimento_bench::spice::{spice_in_time, spice_name};
use cimento_model::stamped::StampedNetlist;
use cimento_solver::Solution;

/// Least volts of a node with their instant: a coil's spark is negative.
fn ours(bench: &Bench, node: &str, turns: f64) -> (f64, f64) {
    let at = bench.circuit.node(node).unwrap();
    let mut least = (f64::MAX, 0.0);
    let mut look = |at_s: f64, wiring: &StampedNetlist, now: &Solution| {
        let v = now.voltage(wiring.node(at));
        if v < least.0 {
            least = (v, at_s);
        }
        ControlFlow::Continue(())
    };
    bench.in_time(turns, &|_| (), &mut look).unwrap();
    least
}

/// The same by ngspice, and the joules of the sparks at each plug.
fn theirs(bench: &Bench, node: &str, turns: f64) -> (f64, f64, HashMap<String, f64>) {
    let plain = spice_in_time(bench, turns, "").unwrap();
    let mut measures = format!("meas tran least MIN v({})\n", spice_name(node));
    for plug in bench.circuit.parts.iter().filter(|p| p.id.starts_with('P')) {
        let (id, top) = (&plug.id, spice_name(&format!("{}.4", plug.id)));
        let about = format!("* {id} gap");
        let mut lines = plain.lines().skip_while(|l| *l != about);
        let arc = lines.find(|l| l.starts_with('B')).unwrap();
        let arc = arc.split(' ').next().unwrap().to_lowercase();
        let _ = writeln!(
            measures,
            "let watts_{id} = v({top})*i({arc})\nmeas tran joules_{id} INTEG watts_{id}"
        );
    }
    let text = common::ngspice(&spice_in_time(bench, turns, &measures).unwrap());
    let found = |name: &str| -> Vec<f64> {
        let mut lines = text.lines();
        let line = lines.find(|l| l.to_lowercase().starts_with(&name.to_lowercase()));
        let line = line.unwrap_or_else(|| panic!("no {name} in {text}"));
        let words = line.split(['=', ' ']);
        words.filter_map(|w| w.parse().ok()).collect()
    };
    let least = found("least ");
    let plugs = bench.circuit.parts.iter().map(|p| p.id.clone());
    let plugs = plugs.filter(|id| id.starts_with('P'));
    let joules = plugs.map(|id| (found(&format!("joules_{id}"))[0], id));
    let joules = joules.map(|(j, id)| (id, j)).collect();
    (least[0], least[1], joules)
}

/// Peak within 1 % and 20 V, its instant within 1 µs, the heat of each spark within 3 %.
fn compare(bench: &Bench, node: &str, turns: f64, expected_sparks: usize) {
    let (volts, at_s) = ours(bench, node, turns);
    let (their_volts, their_s, joules) = theirs(bench, node, turns);
    println!(
        "{node}: {volts:.0} V at {at_s:.7} s here, {their_volts:.0} V at {their_s:.7} s in ngspice"
    );
    // The gate of a gap lags ten nanoseconds behind a voltage that rises by more than a volt in each.
    assert!((volts - their_volts).abs() < 0.01 * their_volts.abs() + 20.0);
    assert!((at_s - their_s).abs() < 1e-6);
    let until_s = turns * 60.0 / bench.rpm();
    let sparks = bench.sparks().unwrap();
    let whole = |s: &&cimento_bench::Spark| s.at_s + s.burns_s < until_s;
    let sparks: Vec<_> = sparks.iter().filter(whole).collect();
    assert_eq!(sparks.len(), expected_sparks);
    for spark in sparks {
        let id = &bench.circuit.parts[spark.part].id;
        let (here, there) = (spark.joules, joules[id]);
        println!(
            "{id}: {:.2} mJ here, {:.2} mJ in ngspice",
            here * 1e3,
            there * 1e3
        );
        assert!((here / there - 1.0).abs() < 0.03);
    }
}

#[test]
fn points_and_a_distributor_at_idle() {
    let circuit = common::demo("baggage-tug-ignition");
    let bench = common::with(&circuit, &[], &[("key", "run"), ("engine", "idle")]);
    compare(&bench, "T1.4", 0.6, 1);
}

/// With the coil's lead off the voltage rises until the rotor's side of the tower gives way, or not at all.
#[test]
fn points_with_the_coil_s_lead_off() {
    let circuit = common::demo("baggage-tug-ignition");
    let bench = common::with(&circuit, &["W12:open"], &[("key", "start")]);
    compare(&bench, "T1.4", 0.6, 0);
}

#[test]
fn four_coils_at_idle() {
    let circuit = common::demo("ground-power-unit-ignition");
    let bench = common::with(&circuit, &[], &[("key", "run"), ("engine", "idle")]);
    let coils = circuit
        .parts
        .iter()
        .filter(|p| p.kind.kind().contains("coil"));
    println!("{:?}", coils.map(|c| &c.id).collect::<Vec<_>>());
    compare(&bench, "P3.4", 0.6, 1);
}

/// A capacitor of 300 V emptied into the coil by a thyristor: its peak and its short spark.
#[test]
fn a_battery_fed_capacitor_box_at_idle() {
    let circuit = common::demo("belt-loader-ignition");
    let bench = common::with(&circuit, &[], &[("key", "run"), ("engine", "idle")]);
    compare(&bench, "T1.4", 0.6, 1);
}

/// A twin coil over a whole turn and more: the spark on exhaust breaks down as easily there as here, and both
/// plugs get the same.
#[test]
fn a_twin_coil_wastes_a_spark() {
    let circuit = common::demo("ground-power-unit-twin-coils");
    let bench = common::with(&circuit, &[], &[("key", "run"), ("engine", "idle")]);
    compare(&bench, "P2.4", 0.6, 2);
}

#[test]
fn a_machine_that_stands_still_is_not_written() {
    let loader = common::demo("belt-loader-ignition");
    let still = common::with(&loader, &[], &[]);
    let refused = spice_in_time(&still, 1.0, "").unwrap_err().to_string();
    assert!(refused.contains("nothing turns"), "{refused}");
}
