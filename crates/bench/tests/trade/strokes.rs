//! The strokes of an engine: wasted sparks, sparks at the wrong time, and cylinders that do not squeeze their
//! gas. Common practice throughout.

use cimento_parts::build_circuit;
use std::sync::Arc;

use cimento_bench::instruments::{Acquire, Attenuation, Function, Probe, Scope, capture};
use cimento_bench::{Bench, Spark};
use cimento_model::circuit::Circuit;

use crate::common;

const TWIN_COILS: &str = "ground-power-unit-twin-coils";
const TUG: &str = "baggage-tug-ignition";

fn idling(circuit: &Arc<Circuit>, faults: &[&str]) -> Bench {
    common::with(circuit, faults, &[("key", "run"), ("engine", "idle")])
}

fn of<'s>(circuit: &Arc<Circuit>, sparks: &'s [Spark], plug: &str) -> Vec<&'s Spark> {
    let found = sparks.iter().filter(|s| circuit.parts[s.part].id == plug);
    found.collect()
}

/// Each coil fires its two plugs together every turn, one on compression and one on exhaust, in opposite
/// polarity; the wasted spark takes a small part of the other's kilovolts.
#[test]
fn a_twin_coil_wastes_one_spark_on_the_exhaust() {
    let circuit = common::demo(TWIN_COILS);
    let sparks = idling(&circuit, &[]).sparks().unwrap();
    assert_eq!(sparks.len(), 8, "{sparks:?}");
    for plug in ["P1", "P2", "P3", "P4"] {
        let own = of(&circuit, &sparks, plug);
        assert_eq!(own.len(), 2, "{plug}");
        let (easy, hard) = match own[0].volts.abs() < own[1].volts.abs() {
            true => (own[0], own[1]),
            false => (own[1], own[0]),
        };
        let share = easy.volts.abs() / hard.volts.abs();
        assert!((0.15..0.5).contains(&share), "{plug}: {own:?}");
        assert!(easy.volts * hard.volts > 0.0, "{plug}: {own:?}");
        assert!(own.iter().all(|s| s.lights()), "{plug}: {own:?}");
    }
    // The two of one coil are of opposite sign and within a hundred microseconds of each other.
    let (one, four) = (
        of(&circuit, &sparks, "P1")[0],
        of(&circuit, &sparks, "P4")[0],
    );
    assert!(one.volts * four.volts < 0.0);
    assert!((one.at_s - four.at_s).abs() < 1e-4);
    let said = common::symptom(&circuit, &[]);
    assert!(
        said.contains("The engine fires. Engine running: nothing new"),
        "{said}"
    );
}

/// A wasted spark lights nothing: a plug that sparks on exhaust and fails on compression is a dead cylinder,
/// and a lead that is off takes both cylinders of its coil with it. A coil's stud shorted to ground by its
/// driver, or a driver that is dead, takes the pair too.
#[test]
fn the_faults_of_twin_coils_have_their_symptoms() {
    let circuit = common::demo(TWIN_COILS);
    let lit = |faults: &[&str]| {
        let bench = idling(&circuit, faults);
        let parts = circuit.parts.iter().zip(bench.parts());
        let lit = parts.filter(|(p, s)| p.kind.sparks() && s.level == 1);
        lit.map(|(p, _)| p.id.clone()).collect::<Vec<_>>()
    };
    assert_eq!(lit(&["W16:open"]), ["P2", "P3"]);
    assert_eq!(lit(&["U1.T2:driver_open"]), ["P1", "P4"]);
    assert_eq!(lit(&["U1.T1:driver_shorted"]), ["P2", "P3"]);
    assert_eq!(lit(&["W12:open"]), ["P2", "P3"]);
    assert!(common::symptom(&circuit, &["SP1:open"]).contains("does not fire"));
    // Each of the two carries what the other does: a bridged plug leaves its partner all of it.
    assert_eq!(lit(&["P1:gap_bridged"]), ["P2", "P3", "P4"]);
    let bridged = idling(&circuit, &["P1:gap_bridged"]).sparks().unwrap();
    assert!(of(&circuit, &bridged, "P1").is_empty());
    let four = of(&circuit, &bridged, "P4");
    assert!(four.iter().filter(|s| s.lights()).count() >= 2, "{four:?}");
    // Triggers exchanged at their plug fire each pair half a turn off: the engine backfires.
    let crossed = serde_json::json!({"place": "X2.1", "mode": "crossed", "other": "X2.2"});
    let doc = serde_json::from_value(crossed).unwrap();
    let fault = cimento_model::faults::Fault::read(&circuit, &doc, "fault").unwrap();
    let mut bench = Bench::new(&circuit, &[fault]).unwrap();
    let said = cimento_bench::complaint(&mut bench).unwrap().text;
    assert!(said.contains("does not fire, but backfires"), "{said}");
}

/// A cylinder that leaks asks less of its plug, does not burn, and leaves one hump of the starter's current
/// low, as a plug taken out leaves it out.
#[test]
fn a_leaking_cylinder_lowers_its_hump() {
    let circuit = common::demo(TUG);
    // The peaks of the current over two turns, lowest first.
    let humps = |faults: &[&str], plug: &str| {
        let bench = common::with(&circuit, faults, &[("key", "start"), ("plug 1", plug)]);
        let scope = Scope {
            channels: vec![Probe::Clamp {
                wire: "W20".to_owned(),
            }],
            sweep_s: (120.0 / bench.rpm()).min(1.0),
            level: None,
            falling: false,
            attenuation: Attenuation::Ten,
            acquire: Acquire::Peak,
        };
        let trace = capture(&bench, &scope).unwrap().traces.remove(0);
        let most = trace.columns.iter().map(|[a, b]| f64::midpoint(*a, *b));
        let volts: Vec<f64> = most.collect();
        // The screen begins 20° after cylinder 1 fired; each hump stands where a cylinder fires.
        let at = |deg: usize| ((deg - 20) * volts.len() / 720).min(volts.len());
        let low = volts.iter().copied().fold(f64::MAX, f64::min);
        let mut peaks: Vec<f64> = (1..=4)
            .map(|n| volts[at(180 * n - 90)..at(180 * n + 90)].iter().copied())
            .map(|part| part.fold(f64::MIN, f64::max) - low)
            .collect();
        peaks.sort_by(f64::total_cmp);
        peaks
    };
    let sound = humps(&[], "fitted");
    assert!(sound[0] > 0.8 * sound[3], "{sound:?}");
    let loose = humps(&["P3:loose"], "fitted");
    assert!(loose[0] < 0.75 * loose[3], "{loose:?}");
    let leaks = humps(&["M1:cylinder_leaks"], "fitted");
    assert!(leaks[0] < 0.6 * leaks[3], "{leaks:?}");
    let out = humps(&[], "on the block");
    assert!(out[0] < 0.5 * out[3], "{out:?}");
    // It sparks and yet does no work.
    let bench = idling(&circuit, &["P3:loose"]);
    let sparks = bench.sparks().unwrap();
    let own = of(&circuit, &sparks, "P3")[0];
    let other = of(&circuit, &sparks, "P4")[0];
    assert!(own.lights() && own.volts.abs() < 0.8 * other.volts.abs());
    let drop = |lead: &str| common::number(&bench, Function::CYLINDER_BALANCE, lead, "");
    assert_eq!(drop("W15"), 0.0);
    assert!(drop("W16") > 50.0);
    assert!(common::symptom(&circuit, &["P3:loose"]).contains("runs rough"));
    // One hears a starter limp on an engine that leaks.
    let said = common::symptom(&circuit, &["M1:cylinder_leaks"]);
    assert!(said.contains("unevenly"), "{said}");
}

/// A computer that does not hear its crank sensor fires nothing, cranked or not; the sensor's three wires each
/// do that, and so does a sensor whose output never moves (common practice).
#[test]
fn no_crank_sensor_no_spark() {
    let circuit = common::demo(TWIN_COILS);
    for fault in [
        "L1:dead",
        "L1:stuck_low",
        "W22:open",
        "X3.2:open",
        "W26:open",
        "W24:short_to_ground=0.1",
    ] {
        let said = common::symptom(&circuit, &[fault]);
        assert!(
            said.contains("Cranks") && said.contains("does not fire"),
            "{fault}: {said}"
        );
    }
    // 5 V at the sensor, and pulses from nearly nothing to nearly that while it turns.
    let bench = idling(&circuit, &[]);
    let feed = common::volts(&bench, "L1.1", "L1.3");
    assert!((4.8..5.05).contains(&feed), "{feed} V");
    let hertz = common::number(&bench, Function::HERTZ, "L1.2", "L1.3");
    assert!((hertz - 30.0).abs() < 0.5, "{hertz} Hz");
}

/// Without its cam sensor a computer cannot tell a cylinder from the one that stands a turn apart: it fires each
/// coil every turn, so the engine runs and one sees twice the sparks (common practice).
#[test]
fn without_a_cam_sensor_every_coil_fires_every_turn() {
    let mut doc = common::demo("ground-power-unit-ignition").doc.clone();
    for (id, per_turn) in [("L1", 2.0), ("L2", 0.5)] {
        let part = cimento_model::circuit::PartDoc {
            kind: "hall_sensor".to_owned(),
            params: serde_json::json!({ "per_turn": per_turn })
                .as_object()
                .unwrap()
                .clone(),
            ..Default::default()
        };
        doc.parts.insert(id.to_owned(), part);
    }
    let pins = [
        ("U1.K1", "L1.1"),
        ("U1.K2", "L1.2"),
        ("U1.K3", "L1.3"),
        ("L1.1", "L2.1"),
        ("U1.N2", "L2.2"),
        ("L1.3", "L2.3"),
    ];
    for (n, (from, to)) in pins.into_iter().enumerate() {
        let mut wire = doc.wires[0].clone();
        wire.id = format!("W{}", 90 + n);
        from.clone_into(&mut wire.from);
        to.clone_into(&mut wire.to);
        doc.wires.push(wire);
    }
    let circuit = build_circuit(doc).unwrap();
    let fired = |faults: &[&str]| {
        let bench = common::with(&circuit, faults, &[("key", "start")]);
        bench.sparks().unwrap().len()
    };
    assert_eq!(fired(&[]), 4);
    for fault in ["L2:dead", "W94:open"] {
        assert_eq!(fired(&[fault]), 8, "{fault}");
        let said = common::symptom(&circuit, &[fault]);
        assert!(said.contains("The engine fires"), "{fault}: {said}");
    }
    assert!(common::symptom(&circuit, &["L1:dead"]).contains("does not fire"));
}

/// On three cylinders, 240° apart, exchanged leads spark in the middle of an intake stroke: the engine backfires
/// there too.
#[test]
fn three_cylinders_backfire_too() {
    let mut doc = common::demo("ground-power-unit-ignition").doc.clone();
    for part in ["T4", "P4"] {
        doc.parts.shift_remove(part);
    }
    doc.wires.retain(|w| {
        let ends = [&w.from, &w.to];
        !ends
            .iter()
            .any(|e| e.contains("T4") || e.contains("P4") || e.starts_with("X2.4"))
    });
    let computer = &mut doc.parts["U1"].params;
    computer.insert("cylinders".to_owned(), 3.into());
    let circuit = build_circuit(doc).unwrap();
    assert!(common::symptom(&circuit, &[]).contains("The engine fires."));
    let crossed = serde_json::json!({"place": "W28", "mode": "crossed", "other": "W29"});
    let doc = serde_json::from_value(crossed).unwrap();
    let fault = cimento_model::faults::Fault::read(&circuit, &doc, "fault").unwrap();
    let mut bench = Bench::new(&circuit, &[fault]).unwrap();
    let said = cimento_bench::complaint(&mut bench).unwrap().text;
    assert!(said.contains("backfires"), "{said}");
}
