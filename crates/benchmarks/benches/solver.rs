//! The solver beside ngspice, and how its cost grows: `cargo bench -p cimento-benchmarks --bench solver`.

#![allow(clippy::unwrap_used, clippy::expect_used)]

mod common;

use cimento_parts::read_circuit;
use std::sync::Arc;

use std::hint::black_box;
use std::time::{Duration, Instant};

use cimento_bench::Bench;
use cimento_bench::spice::spice_netlist;
use cimento_model::circuit::Circuit;
use cimento_model::state::OperatingState;
use cimento_solver::{Element, Netlist, Solver};
use criterion::{
    AxisScale, BenchmarkId, Criterion, PlotConfiguration, criterion_group, criterion_main,
};

/// Operating points that ngspice is asked for in one process.
const ASKED: u32 = 2_000;

/// The largest demo circuits by what they hold.
const LARGEST: [&str; 3] = [
    "belt-loader-starting",
    "ground-power-unit-throttle",
    "ground-power-unit-ignition",
];

fn circuit(name: &str) -> Arc<Circuit> {
    let file = format!(
        "{}/../../demo/circuits/{name}.json",
        env!("CARGO_MANIFEST_DIR")
    );
    read_circuit(&std::fs::read_to_string(file).unwrap()).unwrap()
}

/// Seconds that ngspice takes over a netlist with so many rounds of `alter` and `op`.
fn ngspice(netlist: &str, rounds: u32) -> Duration {
    let head = netlist.split(".control").next().unwrap();
    let resistor = head.lines().find(|l| l.starts_with('R')).unwrap();
    let resistor = resistor.split_whitespace().next().unwrap();
    // Its results are thrown away each time: kept, they make it slower with every round.
    let each: String = (0..rounds)
        .map(|n| {
            format!(
                "alter {resistor} = {:e}\nop\ndestroy all\n",
                0.001 + 1e-6 * f64::from(n)
            )
        })
        .collect();
    let text = format!("{head}.control\n{each}quit 0\n.endc\n.end\n");
    common::ngspice(&text)
}

/// An operating point after one element has changed, here and in ngspice's own loop in one process, on
/// the same netlist in the same run.
fn beside_ngspice(c: &mut Criterion) {
    for name in LARGEST {
        one_beside_ngspice(c, name);
    }
}

fn one_beside_ngspice(c: &mut Criterion, name: &str) {
    let circuit = circuit(name);
    let mut bench = Bench::new(&circuit, &[]).unwrap();
    for trial in OperatingState::trial(&circuit).into_iter().take(4) {
        bench.set(trial.state).unwrap();
    }
    let netlist = spice_netlist(&bench).unwrap();
    let loops = ngspice(&netlist, ASKED).saturating_sub(ngspice(&netlist, 1));
    let theirs = loops / (ASKED - 1);
    let mut net = bench.settled().points[0].wiring.net.clone();
    let ids = (0..net.elements().len()).filter_map(|n| net.id_at(n));
    let branch = ids
        .into_iter()
        .find(|id| matches!(net.element(*id), Element::Branch { .. }))
        .unwrap();
    let Element::Branch { a, b, .. } = *net.element(branch) else {
        return;
    };
    let mut solver = Solver::new();
    let start = Instant::now();
    for n in 0..ASKED {
        net.set(branch, Element::resistor(a, b, 0.001 + 1e-6 * f64::from(n)));
        black_box(solver.operating_point(&net).unwrap());
    }
    let ours = start.elapsed() / ASKED;
    println!(
        "{name}, {} nodes: {ours:?} here, {theirs:?} in ngspice, {:.0} times as fast",
        net.node_count(),
        theirs.as_secs_f64() / ours.as_secs_f64()
    );
    c.bench_function(&format!("{name}: spice netlist"), |b| {
        b.iter(|| black_box(spice_netlist(&bench).unwrap()))
    });
}

/// A feed with a load and its ground at every stop, of so many nodes.
fn ladder(nodes: usize) -> Netlist {
    let mut net = Netlist::new();
    let (zero, mut last) = (net.zero(), net.node());
    net.add(Element::source(last, zero, 12.6, 0.01));
    while net.node_count() < nodes {
        let (next, low) = (net.node(), net.node());
        net.add(Element::resistor(last, next, 0.005));
        net.add(Element::resistor(next, low, 50.0));
        net.add(Element::resistor(low, zero, 0.002));
        last = next;
    }
    net
}

/// What an operating point costs after every value has changed, from 50 to 1,000 nodes. The plot is in
/// `target/criterion/report`.
fn growth(c: &mut Criterion) {
    let mut group = c.benchmark_group("operating point by nodes");
    group.plot_config(PlotConfiguration::default().summary_scale(AxisScale::Logarithmic));
    let mut seen: Vec<(f64, f64)> = Vec::new();
    for nodes in [50, 100, 200, 500, 1000] {
        let mut net = ladder(nodes);
        let mut solver = Solver::new();
        let mut n = 0.0;
        let mut solve = |net: &mut Netlist| {
            n += 1.0;
            for at in 1..net.elements().len() {
                let id = net.id_at(at).unwrap();
                if let Element::Branch { a, b, ohms, volts } = *net.element(id) {
                    let ohms = ohms * (1.0 + 1e-9 * n);
                    net.set(id, Element::Branch { a, b, ohms, volts });
                }
            }
            black_box(solver.operating_point(net).unwrap());
        };
        solve(&mut net);
        let start = Instant::now();
        for _ in 0..50 {
            solve(&mut net);
        }
        seen.push((
            (nodes as f64).ln(),
            (start.elapsed().as_secs_f64() / 50.0).ln(),
        ));
        group.bench_with_input(BenchmarkId::from_parameter(nodes), &nodes, |b, _| {
            b.iter(|| solve(&mut net))
        });
    }
    group.finish();
    let mean =
        |pick: &dyn Fn(&(f64, f64)) -> f64| seen.iter().map(pick).sum::<f64>() / seen.len() as f64;
    let (x, y) = (mean(&|s| s.0), mean(&|s| s.1));
    let slope = mean(&|s| (s.0 - x) * (s.1 - y)) / mean(&|s| (s.0 - x).powi(2));
    println!("cost grows as n^{slope:.2}");
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(10);
    targets = beside_ngspice, growth
}
criterion_main!(benches);
