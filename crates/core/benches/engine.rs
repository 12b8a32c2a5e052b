//! How quick the engine is on the largest demo circuit: `cargo bench -p cimento-core`.

#![allow(clippy::unwrap_used, clippy::expect_used)]

use std::hint::black_box;

use cimento_core::attempt::{Action, Lesson, Session};
use cimento_core::bench::{Bench, OperatingState};
use cimento_core::circuit::Circuit;
use cimento_core::faults::Fault;
use cimento_core::instruments::Function;
use cimento_core::key::{Limits, USUAL, answer_key};
use cimento_core::suspects::{Suspects, candidates};
use cimento_solver::{Element, Solver};
use criterion::{Criterion, criterion_group, criterion_main};

fn circuit(name: &str) -> Circuit {
    let file = format!(
        "{}/../../demo/circuits/{name}.json",
        env!("CARGO_MANIFEST_DIR")
    );
    Circuit::read(&std::fs::read_to_string(file).unwrap()).unwrap()
}

fn states(circuit: &Circuit) -> Vec<OperatingState> {
    OperatingState::trial(circuit)
        .into_iter()
        .map(|t| t.state)
        .collect()
}

fn engine(c: &mut Criterion) {
    let circuit = circuit("belt-loader-starting");
    let states = states(&circuit);
    let mut bench = Bench::new(&circuit, &[]).unwrap();
    for state in &states[..4] {
        bench.set(state.clone()).unwrap();
    }
    let net = bench.settled().points[0].wiring.net.clone();
    println!(
        "{} nodes, {} elements, {} states",
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
    c.bench_function("operating point after changing one element", |b| {
        let (mut net, mut solver, mut n) = (net.clone(), Solver::new(), 0.0);
        let Element::Branch { a, b: to, .. } = *net.element(branch) else {
            return;
        };
        b.iter(|| {
            n += 1e-6;
            net.set(branch, Element::resistor(a, to, 0.001 + n));
            black_box(solver.operating_point(&net).unwrap());
        });
    });
    c.bench_function("answer key, all states", |b| {
        let fault = Fault::read(
            &circuit,
            &cimento_core::faults::read_short_form("W9:open").unwrap(),
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
    c.bench_function("500 single faults in six states", |b| {
        let all: Vec<Fault> = candidates(&circuit, None)
            .into_iter()
            .flat_map(|c| c.grid.concat())
            .step_by(4)
            .take(500)
            .collect();
        let solver = std::rc::Rc::new(std::cell::RefCell::new(Solver::new()));
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

fn suspects(c: &mut Criterion) {
    let tug = circuit("baggage-tug-starting");
    let doc = serde_json::json!({
        "format": "cimento/lesson", "version": 1, "title": "t", "complaint": "c",
        "circuit": tug.doc, "faults": [{"place": "W8", "mode": "open"}], "predictions": false
    });
    let lesson = Lesson::read(&doc.to_string()).unwrap();
    c.bench_function("suspects after the complaint", |b| {
        b.iter(|| black_box(Suspects::after_complaint(&lesson).unwrap().places().len()));
    });
    let after = Suspects::after_complaint(&lesson).unwrap();
    let mut session = Session::start(&lesson).unwrap();
    let reading = Action::TakeReading {
        function: Function::DcVolts,
        range: None,
        red: Some("K3.86".to_owned()),
        black: Some("BAT.-".to_owned()),
        expected: None,
    };
    let step = session.act(reading).unwrap().clone();
    c.bench_function("judging a reading against all suspects", |b| {
        b.iter(|| {
            let mut suspects = after.clone();
            suspects.follow(&step).unwrap();
            black_box(suspects.places().len())
        });
    });
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(10);
    targets = engine, suspects
}
criterion_main!(benches);
