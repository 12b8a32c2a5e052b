//! A voltmeter that is reckoned with shows what it shows when the machine is solved with it, whatever was solved
//! before: readings, and the reasoning over them, do not hang on the order in which machines were looked at.

use std::sync::Arc;

use crate::common;

use cimento_bench::Bench;
use cimento_diagnosis::suspects::candidates;
use cimento_model::circuit::Circuit;
use cimento_model::state::OperatingState;
use cimento_solver::Element;

/// Farthest that a reading may lie from a solved one, in volts: a hundredth of what tells two spans apart; as far as the
/// slope of a diode may stand for it.
const NEAR_V: f64 = 1e-6;

fn readings_are_solutions(name: &str, every: usize) {
    let circuit: Arc<Circuit> = common::demo(name);
    let every = if common::all() { 1 } else { every };
    let states = OperatingState::trial(&circuit);
    let (mut most, mut where_, mut count) = (0.0_f64, String::new(), 0);
    let healthy = Bench::new(&circuit, &[]).unwrap();
    for candidate in candidates(&circuit, None).iter().step_by(every) {
        for faults in [
            &candidate.grid[0],
            &candidate.grid[candidate.grid.len() - 1],
        ] {
            let mut bench = healthy.beside(faults).unwrap();
            for trial in &states {
                bench.set(trial.state.clone()).unwrap();
                for node in 1..circuit.nodes.len() {
                    let Some((least, _)) = bench.lightly_loaded(node, 0, 10e6) else {
                        continue;
                    };
                    if !bench.settled().points[0].waves.is_empty() {
                        continue;
                    }
                    let solved = bench.settled_with(&|w| {
                        let (a, b) = (w.node(node), w.node(0));
                        w.net.attach(Element::Conductance {
                            a,
                            b,
                            siemens: 1e-7,
                        });
                    });
                    let solved = solved.unwrap();
                    // A fuse that goes while the meter is held to it is another machine.
                    if !solved.events.is_empty() {
                        continue;
                    }
                    let volts =
                        solved.range(|p| p.op.between(p.wiring.node(node), p.wiring.node(0)));
                    let off = (least - volts.unwrap().0).abs();
                    count += 1;
                    if off > most {
                        most = off;
                        where_ = format!(
                            "{} with {} in {}: {least} V, solved {volts:?}",
                            circuit.nodes[node],
                            faults[0].about(&circuit),
                            trial.state.about()
                        );
                    }
                }
            }
        }
    }
    println!("{name}: {count} readings within {most:e} V; {where_}");
    assert!(most < NEAR_V, "{where_}");
}

#[test]
fn readings_on_the_tug_are_solutions() {
    readings_are_solutions("baggage-tug-starting", 3);
}

/// A stator that hangs behind junctions, and a machine on which several things light.
#[test]
fn readings_behind_junctions_are_solutions() {
    readings_are_solutions("fire-pump-charging", 6);
    readings_are_solutions("sweeper-lamps", 6);
}

#[test]
#[ignore = "every demo circuit takes long"]
fn readings_on_every_demo_circuit_are_solutions() {
    for name in common::demo_names() {
        readings_are_solutions(&name, 5);
    }
}
