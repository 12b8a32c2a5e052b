//! Ignition: windings, gaps and sparks against common practice and closed forms.

#![allow(clippy::unwrap_used, clippy::expect_used)]

mod common;

use cimento_core::bench::{Bench, OperatingState, complaint};
use cimento_core::faults::{Fault, read_short_form};

fn bench<'c>(circuit: &'c cimento_core::circuit::Circuit, faults: &[&str], key: &str, engine: &str) -> Bench<'c> {
    let faults: Vec<Fault> = faults
        .iter()
        .map(|f| Fault::read(circuit, &read_short_form(f).unwrap(), "").unwrap())
        .collect();
    let mut bench = Bench::new(circuit, &faults).unwrap();
    let mut state = OperatingState::at_rest(circuit);
    state.set_control("key", key.to_owned());
    state.set_control("engine", engine.to_owned());
    bench.set(state).unwrap();
    bench
}

#[test]
fn look() {
    let circuit = common::demo("baggage-tug-ignition");
    for (key, engine) in [("start", "stopped"), ("run", "idle"), ("run", "fast"), ("run", "loaded")] {
        let b = bench(&circuit, &[], key, engine);
        let t = std::time::Instant::now();
        let sparks = b.sparks().unwrap();
        println!("{key} {engine} {} rpm {:?}", b.rpm(), t.elapsed());
        for s in sparks {
            println!("  {} at {:.4} s: {:.0} V, {:.2} ms, {:.1} mJ", circuit.parts[s.part].id, s.at_s, s.volts, s.burns_s * 1e3, s.joules * 1e3);
        }
    }
    for f in ["", "R1:open", "P2:fouled=30000", "W14:high_resistance=1000000", "C1:open", "B1:never_open", "W10:open"] {
        let faults: Vec<Fault> = (!f.is_empty()).then(|| Fault::read(&circuit, &read_short_form(f).unwrap(), "").unwrap()).into_iter().collect();
        let t = std::time::Instant::now();
        let mut b = Bench::new(&circuit, &faults).unwrap();
        println!("{f}: {} {:?}", complaint(&mut b).unwrap().text, t.elapsed());
    }
}
