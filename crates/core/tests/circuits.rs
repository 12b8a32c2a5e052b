//! The other demo circuits: facts of the trade read from the computed circuit.

#![allow(clippy::unwrap_used, clippy::expect_used)]

mod common;

use cimento_core::bench::{Bench, OperatingState, complaint};
use cimento_core::circuit::Circuit;
use cimento_core::faults::Fault;
use cimento_core::instruments::{Function, read};

fn symptom(circuit: &Circuit, faults: &[&str]) -> String {
    let faults: Vec<Fault> = faults.iter().map(|f| common::fault(circuit, f)).collect();
    complaint(&mut Bench::new(circuit, &faults).unwrap())
        .unwrap()
        .text
}

/// A bench with some controls moved.
fn with<'c>(circuit: &'c Circuit, faults: &[&str], controls: &[(&str, &str)]) -> Bench<'c> {
    let faults: Vec<Fault> = faults.iter().map(|f| common::fault(circuit, f)).collect();
    let mut bench = Bench::new(circuit, &faults).unwrap();
    let mut state = OperatingState::at_rest(circuit);
    for (name, at) in controls {
        state.set_control(name, (*at).to_owned());
    }
    state.check(circuit).unwrap();
    bench.set(state).unwrap();
    bench
}

fn volts(bench: &Bench<'_>, red: &str, black: &str) -> f64 {
    let point = |id| bench.circuit.test_point(id).unwrap();
    let reading = read(
        bench,
        Function::DcVolts,
        None,
        Some(point(red)),
        Some(point(black)),
    )
    .unwrap();
    reading.shown.value.number()
}

#[test]
fn the_belt_loader_starts_and_hoots() {
    let circuit = common::demo("belt-loader-starting");
    assert!(circuit.warnings.is_empty(), "{:?}", circuit.warnings);
    let text = symptom(&circuit, &[]);
    assert!(
        text.starts_with("Cranks at") && text.contains("horn sounds"),
        "{text}"
    );
    for (fault, words) in [
        ("W9:open", "No crank, no click"),
        ("S4:contact_open", "No crank, no click"),
        ("F4:blown", "horn is silent"),
        ("W25:open", "horn is silent"),
        ("W28:high_resistance=4", "horn croaks"),
        // Control side shorted beyond the fuse: the feed fuse goes and everything on it is dead.
        ("W7:short_to_ground", "No crank, no click. Charge lamp dark"),
    ] {
        let text = symptom(&circuit, &[fault]);
        assert!(text.contains(words), "{fault}: “{text}” lacks “{words}”");
    }
}

/// Common practice: out of neutral or with the lanyard pulled the control chain is open.
#[test]
fn interlocks_hold_the_starter_back() {
    let circuit = common::demo("belt-loader-starting");
    for interlock in [("gear", "in gear"), ("lanyard", "pulled")] {
        let bench = with(&circuit, &[], &[("key", "start"), interlock]);
        assert!(volts(&bench, "K1.86", "BAT.-") < 0.1, "{interlock:?}");
        assert!(bench.notices().iter().any(|n| n.text == "no crank"));
    }
    let bench = with(&circuit, &[], &[("key", "start")]);
    assert!(volts(&bench, "K1.86", "BAT.-") > 10.5);
}

/// Common practice: lamps that share a ground feed each other backwards when it opens.
#[test]
fn lamps_back_feed_each_other_when_their_ground_opens() {
    let circuit = common::demo("sweeper-lamps");
    assert!(circuit.warnings.is_empty(), "{:?}", circuit.warnings);
    let healthy = with(&circuit, &[], &[("work lamps", "on")]);
    assert!(volts(&healthy, "H2.1", "H2.2").abs() < 0.05);
    let open = with(&circuit, &["C5.3:open"], &[("work lamps", "on")]);
    // The marker's filament is the only way out for the work lamp's current: through the marker's
    // wire to its open switch it finds none, so both returns stand at supply.
    assert!(volts(&open, "SP1", "BAT.-") > 12.0);
    let both = with(
        &circuit,
        &["C5.3:open"],
        &[("work lamps", "on"), ("markers", "on")],
    );
    assert!(volts(&both, "SP1", "BAT.-") > 12.0);
    // With the marker's feed shorted to ground the work lamp lights it backwards, dimly.
    let fed = with(
        &circuit,
        &["C5.3:open", "W9:short_to_ground"],
        &[("work lamps", "on")],
    );
    assert!(volts(&fed, "H2.2", "H2.1") > 5.0);
    assert!(symptom(&circuit, &["C5.3:open"]).contains("work lamp dark"));
}

#[test]
fn a_led_lights_through_resistance_that_a_filament_does_not() {
    let circuit = common::demo("sweeper-lamps");
    let bench = with(
        &circuit,
        &["W5:high_resistance=500"],
        &[("work lamps", "on")],
    );
    let said: Vec<String> = bench.notices().into_iter().map(|n| n.text).collect();
    assert!(said.contains(&"work lamp dark".to_owned()), "{said:?}");
    // The lamp in parallel takes the volts; with the lamp out the LED shines.
    let bench = with(
        &circuit,
        &["W5:high_resistance=500", "H1:burnt_out"],
        &[("work lamps", "on")],
    );
    let said: Vec<String> = bench.notices().into_iter().map(|n| n.text).collect();
    assert!(
        said.contains(&"work lamp telltale bright".to_owned()),
        "{said:?}"
    );
}

#[test]
fn a_change_over_relay_a_breaker_and_a_thermistor() {
    let circuit = common::demo("ground-power-unit-cabin");
    assert!(circuit.warnings.is_empty(), "{:?}", circuit.warnings);
    let off = with(&circuit, &[], &[]);
    assert!(volts(&off, "K1.87a", "BAT.-") > 12.4 && volts(&off, "K1.87", "BAT.-") < 0.05);
    let on = with(&circuit, &[], &[("cabin", "on")]);
    assert!(volts(&on, "K1.87a", "BAT.-") < 0.05 && volts(&on, "K1.87", "BAT.-") > 12.0);
    assert!(on.notices().iter().any(|n| n.text == "blower runs"));
    // A short behind the breaker makes it open and close for ever: the reading wanders.
    let shorted = with(&circuit, &["W8:short_to_ground"], &[("cabin", "on")]);
    assert!(shorted.settled().cycles());
    // Warm, the sensor's resistance and voltage fall.
    let at = |celsius: f64| {
        let mut bench = Bench::new(&circuit, &[]).unwrap();
        let state = OperatingState {
            temperature_c: celsius,
            ..bench.state().clone()
        };
        bench.set(state).unwrap();
        volts(&bench, "B1.1", "B1.2")
    };
    assert!(at(0.0) > at(25.0) + 1.0 && at(25.0) > at(80.0) + 2.0);
}
