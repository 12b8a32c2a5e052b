//! How quick the engine is on the largest demo circuits, without and with control modules and an ignition:
//! `cargo bench -p cimento-benchmarks`.

#![allow(clippy::unwrap_used, clippy::expect_used)]

mod common;

use cimento_diagnosis::attempt::actions::TakeReading;
use cimento_parts::read_circuit;
use std::sync::Arc;

use std::hint::black_box;
use std::ops::ControlFlow;

use cimento_bench::instruments::{Acquire, Attenuation, Function, Probe, Scope};
use cimento_bench::spice::spice_in_time;
use cimento_bench::{Bench, Shared};
use cimento_diagnosis::attempt::{Action, Session, Touch};
use cimento_diagnosis::key::{USUAL, answer_key};
use cimento_diagnosis::lesson::Lesson;
use cimento_diagnosis::lesson::Limits;
use cimento_diagnosis::suspects::{Suspects, Table, candidates, reference_plan};
use cimento_diagnosis::suspects::{sweep, swept};
use cimento_model::circuit::Circuit;
use cimento_model::faults::Fault;
use cimento_model::state::OperatingState;
use cimento_solver::{Element, Solver};
use criterion::{Criterion, criterion_group, criterion_main};

fn circuit(name: &str) -> Arc<Circuit> {
    let file = format!(
        "{}/../../demo/circuits/{name}.json",
        env!("CARGO_MANIFEST_DIR")
    );
    read_circuit(&std::fs::read_to_string(file).unwrap()).unwrap()
}

fn states(circuit: &Arc<Circuit>) -> Vec<OperatingState> {
    OperatingState::trial(circuit)
        .into_iter()
        .map(|t| t.state)
        .collect()
}

/// The largest demo circuits by what they hold.
const LARGEST: [(&str, &str); 3] = [
    ("belt-loader-starting", "W9:open"),
    ("ground-power-unit-throttle", "W9:open"),
    ("ground-power-unit-ignition", "W9:open"),
];

fn engine(c: &mut Criterion) {
    for (name, fault) in LARGEST {
        of_one(c, name, fault);
    }
}

fn of_one(c: &mut Criterion, name: &str, fault: &str) {
    let circuit = circuit(name);
    let states: Vec<_> = states(&circuit).into_iter().take(6).collect();
    let mut bench = Bench::new(&circuit, &[]).unwrap();
    for state in states.iter().take(4) {
        bench.set(state.clone()).unwrap();
    }
    let net = bench.settled().points[0].wiring.net.clone();
    println!(
        "{name}: {} nodes, {} elements, {} states",
        net.node_count(),
        net.elements().len(),
        states.len()
    );
    let ids: Vec<_> = (0..net.elements().len())
        .filter_map(|n| net.id_at(n))
        .collect();
    let branch = *ids
        .iter()
        .find(|id| matches!(net.element(**id), Element::Branch { .. }))
        .unwrap();
    c.bench_function(
        &format!("{name}: operating point after changing one element"),
        |b| {
            let (mut net, mut solver, mut n) = (net.clone(), Solver::new(), 0.0);
            let Element::Branch { a, b: to, .. } = *net.element(branch) else {
                return;
            };
            b.iter(|| {
                n += 1e-6;
                net.set(branch, Element::resistor(a, to, 0.001 + n));
                black_box(solver.operating_point(&net).unwrap());
            });
        },
    );
    c.bench_function(&format!("{name}: answer key, all states"), |b| {
        let fault = Fault::read(
            &circuit,
            &cimento_model::faults::read_short_form(fault).unwrap(),
            "",
        )
        .unwrap();
        b.iter(|| {
            black_box(
                answer_key(
                    &circuit,
                    std::slice::from_ref(&fault),
                    &states,
                    &Limits::default(),
                    &USUAL,
                )
                .unwrap(),
            )
        });
    });
    if circuit.parts.iter().any(|p| p.kind.sparks()) {
        // Whether a cylinder fires is followed in time and has its own measure below.
        return;
    }
    c.bench_function(&format!("{name}: 500 single faults in six states"), |b| {
        let all: Vec<Fault> = candidates(&circuit, None)
            .into_iter()
            .flat_map(|c| c.grid.concat())
            .step_by(4)
            .take(500)
            .collect();
        let solver = Shared::default();
        b.iter(|| {
            for fault in &all {
                let mut bench =
                    Bench::sharing(&circuit, std::slice::from_ref(fault), &solver).unwrap();
                for state in &states {
                    bench.set(state.clone()).unwrap();
                }
            }
        });
    });
}

/// A lesson on a demo circuit with every function of the meter.
fn lesson(name: &str, place: &str) -> Arc<Lesson> {
    let doc = serde_json::json!({
        "format": "cimento/lesson", "version": 1, "title": "t", "complaint": "c",
        "circuit": circuit(name).doc, "faults": [{"place": place, "mode": "open"}], "predictions": false
    });
    Lesson::read(&doc.to_string()).unwrap()
}

fn suspects(c: &mut Criterion) {
    for (name, place, red) in [
        ("baggage-tug-starting", "W8", "K3.86"),
        ("belt-loader-starting", "W9", "K2.86"),
        ("ground-power-unit-throttle", "W2", "U1.1"),
    ] {
        let lesson = lesson(name, place);
        let red = lesson
            .circuit
            .test_point(red)
            .or(lesson.circuit.test_points.get(7));
        let red = red.unwrap().id.clone();
        let mut group = c.benchmark_group(name);
        group.sample_size(10);
        group.bench_function("suspects after the complaint", |b| {
            b.iter(|| black_box(Suspects::after_complaint(&lesson).unwrap().places().len()));
        });
        let after = Suspects::after_complaint(&lesson).unwrap();
        println!(
            "{} places, {} segments",
            after.places().len(),
            after.roots()
        );
        let mut session = Session::start(&lesson);
        let reading = Action::TakeReading(TakeReading {
            function: Function::DC_VOLTS,
            range: None,
            red: Some(red),
            black: Some("BAT.-".to_owned()),
            expected: None,
            supposing: None,
            touch: Touch::default(),
            partner: None,
        });
        let step = session.act(reading).unwrap().clone();
        group.bench_function("judging a reading against all suspects", |b| {
            b.iter(|| {
                let mut suspects = after.clone();
                suspects.follow(&step).unwrap();
                black_box(suspects.places().len())
            });
        });
        let table = Table::new(&after).unwrap();
        println!(
            "{} measurements in {} states",
            table.measurements.len(),
            table.states.len()
        );
        group.bench_function("worth of every measurement", |b| {
            let alive = after.living_roots();
            b.iter(|| black_box(table.best(&alive, Some(0)).unwrap()));
        });
        group.bench_function("reference plan", |b| {
            b.iter(|| black_box(reference_plan(&after, &table).unwrap().steps.len()));
        });
        group.finish();
    }
}

/// 100 ms of a four-cylinder ignition at idle, both sides of four coils.
fn in_time(c: &mut Criterion) {
    for name in ["baggage-tug-ignition", "ground-power-unit-ignition"] {
        let circuit = circuit(name);
        let plug = circuit.part("P1").unwrap();
        let top = circuit.parts[plug].nodes[0];
        let mut wires = circuit.conductors.iter();
        let lead = &wires.find(|w| w.a == top || w.b == top).unwrap().id;
        let mut bench = Bench::new(&circuit, &[]).unwrap();
        let mut state = OperatingState::at_rest(&circuit);
        state.set_control("key", "run".to_owned());
        state.set_control("engine", "idle".to_owned());
        bench.set(state).unwrap();
        let turns = 0.1 * bench.rpm() / 60.0;
        let mut instants = 0;
        let clip = Scope {
            channels: vec![Probe::Pickup {
                lead: lead.to_owned(),
            }],
            sweep_s: 0.1,
            level: None,
            falling: false,
            attenuation: Attenuation::Ten,
            acquire: Acquire::Peak,
        };
        let faults = swept(&circuit);
        // What fired is remembered, so only the first time counts.
        let start = std::time::Instant::now();
        let rows = sweep(&circuit, bench.state(), &clip, &faults).unwrap();
        println!(
            "{name}: sweep of all {} single faults through {lead}: {:.1} s",
            rows.len(),
            start.elapsed().as_secs_f64()
        );
        println!(
            "{name}: the same 100 ms in ngspice on the exported netlist: {:.2} s",
            common::ngspice(&spice_in_time(&bench, turns, "").unwrap()).as_secs_f64()
        );
        c.bench_function(&format!("{name}, 100 ms at idle"), |b| {
            b.iter(|| {
                instants = 0;
                let mut count = |_: f64, _: &_, _: &_| {
                    instants += 1;
                    ControlFlow::Continue(())
                };
                black_box(bench.in_time(turns, &|_| (), &mut count).unwrap());
            });
        });
        println!("{instants} instants");
    }
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(10);
    targets = engine, in_time, suspects
}
criterion_main!(benches);
