//! An engine wants a spark, fuel, and gas that is squeezed, and without any of them it does not fire; common practice.

use std::sync::Arc;

use cimento_bench::Bench;
use cimento_bench::instruments::{Acquire, Attenuation, Probe, Scope, capture};
use cimento_model::circuit::Circuit;
use cimento_parts::build_circuit;

use crate::common;

/// A circuit of the demo with its engine.
fn with_engine(name: &str) -> Arc<Circuit> {
    let mut doc = common::demo(name).doc.clone();
    let engine = serde_json::json!({ "kind": "engine", "name": "Engine" });
    let engine = serde_json::from_value(engine).unwrap();
    doc.parts.entry("M9".to_owned()).or_insert(engine);
    build_circuit(doc).unwrap()
}

fn cranked(circuit: &Arc<Circuit>, faults: &[&str]) -> Bench {
    common::with(circuit, faults, &[("key", "start")])
}

/// The most that a clamp on a cable swings in a time, from least to most, in amperes.
fn swing(bench: &Bench, wire: &str) -> f64 {
    let scope = Scope {
        channels: vec![Probe::Clamp {
            wire: wire.to_owned(),
        }],
        sweep_s: 0.6,
        level: None,
        falling: false,
        attenuation: Attenuation::One,
        acquire: Acquire::Sample,
    };
    let trace = capture(bench, &scope).unwrap().traces.remove(0);
    let all = trace.columns.iter().flatten().copied();
    let most = all.clone().fold(f64::MIN, f64::max);
    most - all.fold(f64::MAX, f64::min)
}

#[test]
fn without_fuel_it_sparks_and_does_not_fire() {
    let circuit = with_engine("baggage-tug-ignition");
    assert!(common::symptom(&circuit, &[]).contains("The engine fires."));
    assert!(common::symptom(&circuit, &["M9:no_fuel"]).contains("The engine does not fire."));
    let [sound, dry] = [&[][..], &["M9:no_fuel"]].map(|faults| cranked(&circuit, faults));
    let kilovolts = |bench: &Bench| -> Vec<f64> {
        let sparks = bench.sparks().unwrap();
        sparks.iter().map(|s| s.volts).collect()
    };
    assert_eq!(kilovolts(&sound), kilovolts(&dry));
    assert!(dry.sparks().unwrap().iter().any(|s| s.lights()));
    let volts = |bench: &Bench| -> Vec<f64> {
        let points = bench.circuit.test_points.iter();
        let low = points.filter(|p| !p.about.contains("tower") && !p.id.starts_with('P'));
        low.map(|p| common::volts(bench, &p.id, "BAT.-")).collect()
    };
    assert_eq!(volts(&sound), volts(&dry));
}

/// Gas that nobody squeezes is jumped by fewer volts, as Paschen has it, and no cylinder holds the starter back.
#[test]
fn without_compression_a_plug_asks_for_little_and_the_starter_turns_evenly() {
    let circuit = with_engine("baggage-tug-ignition");
    let slack = ["M9:no_compression"];
    assert!(common::symptom(&circuit, &slack).contains("The engine does not fire."));
    let benches = [&[][..], &slack].map(|faults| cranked(&circuit, faults));
    let highest = benches.each_ref().map(|bench| {
        let sparks = bench.sparks().unwrap();
        sparks.iter().map(|s| s.volts.abs()).fold(0.0, f64::max)
    });
    assert!(highest[1] < 0.7 * highest[0], "{highest:?}");
    let [sound, slack] = benches.each_ref().map(|bench| swing(bench, "W20"));
    assert!(slack < 0.3 * sound, "{slack} A of {sound} A");
}
