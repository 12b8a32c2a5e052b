//! Modules, sensors and what they feed: facts of the trade read from the demo circuits.

use crate::common;
use cimento_parts::read_circuit;

use cimento_bench::Bench;
use cimento_bench::instruments::Function;
use common::{number, shown, symptom, volts, with};

const RUN: &[(&str, &str)] = &[("key", "run")];

fn codes(bench: &Bench) -> String {
    shown(bench, Function::SCAN_CODES, "U1", "").text
}

/// Common practice: a lamp from battery positive to the wire lights when the module pulls the relay
/// down; lit at the module and dark at the relay means that the wire between is open.
#[test]
fn a_lamp_finds_the_wire_between_module_and_relay() {
    let circuit = common::demo("belt-loader-module");
    let lamp = |bench: &Bench, at: &str| shown(bench, Function::TEST_LAMP, "BAT.+", at).text;
    let healthy = with(&circuit, &[], RUN);
    assert_eq!(
        (lamp(&healthy, "K1.85"), lamp(&healthy, "U1.4")),
        ("bright".into(), "bright".into())
    );
    let open = with(&circuit, &["W15:open"], RUN);
    assert_eq!(
        (lamp(&open, "K1.85"), lamp(&open, "U1.4")),
        ("off".into(), "bright".into())
    );
    assert!(codes(&open).contains("U10"), "{}", codes(&open));
    let driver = with(&circuit, &["U1.4:driver_open"], RUN);
    assert_eq!(lamp(&driver, "U1.4"), "off");
}

/// Common practice: check its feeds, its grounds, then the relay that feeds it. A module without supply
/// or ground does not answer the scan tool; with one of two grounds it does.
#[test]
fn a_module_answers_while_it_is_fed_and_grounded() {
    let circuit = common::demo("belt-loader-module");
    for (faults, answers) in [
        (vec![], true),
        (vec!["F1:blown"], false),
        (vec!["W29:open"], true),
        (vec!["W29:open", "W30:open"], false),
        (vec!["U1:dead"], false),
        (vec!["G2:open"], false),
        (vec!["F2:blown"], true),
    ] {
        let bench = with(&circuit, &faults, RUN);
        assert_eq!(
            codes(&bench) != "no answer",
            answers,
            "{faults:?}: {}",
            codes(&bench)
        );
    }
    assert_eq!(
        shown(
            &with(&circuit, &["F1:blown"], RUN),
            Function::SCAN_VOLTS,
            "U1.8",
            ""
        )
        .text,
        "no answer"
    );
}

/// Common practice: security by resistance hangs on a divider of two 2 kΩ. A bad tap of 2.5 Ω moves it
/// by millivolts (3 mV where 12 V feed it, in proportion here at 5 V), 180 Ω by tenths.
#[test]
fn a_coded_key_hangs_on_its_divider() {
    let circuit = common::demo("belt-loader-module");
    let at = |faults: &[&str]| {
        let bench = with(&circuit, faults, RUN);
        let point = bench.settled().points.last().unwrap();
        point
            .op
            .voltage(point.wiring.node(circuit.node("U1.8").unwrap()))
            - point
                .op
                .voltage(point.wiring.node(circuit.node("U1.2").unwrap()))
    };
    let moved = |fault: &str| (at(&[fault]) - at(&[])) * 12.0 / 5.0;
    assert!(
        (0.002..0.005).contains(&moved("R1:drifted=2.5")),
        "{}",
        moved("R1:drifted=2.5")
    );
    assert!(
        (0.18..0.30).contains(&moved("R1:drifted=180")),
        "{}",
        moved("R1:drifted=180")
    );
    assert!(symptom(&circuit, &["R1:drifted=300"]).contains("Module lamp bright"));
}

/// Common practice: two throttle sensors move opposite ways and their sum stays near 5 V, two lever
/// sensors move the same way. A disagreement sets a code and takes power away until the code is
/// cleared and the key cycled.
#[test]
fn paired_sensors_watch_each_other() {
    let circuit = common::demo("ground-power-unit-throttle");
    for lever in ["released", "half", "full"] {
        let bench = with(&circuit, &[], &[("key", "run"), ("speed lever", lever)]);
        let at = |pin: &str| number(&bench, Function::SCAN_VOLTS, pin, "");
        assert!((at("U1.7") + at("U1.8") - 5.0).abs() < 0.1);
        assert!((at("U1.5") - 2.0 * at("U1.6")).abs() < 0.1);
        assert_eq!(codes(&bench), "no codes");
    }
    let mut bench = with(&circuit, &["W26:open"], RUN);
    assert!(codes(&bench).contains("A35"));
    let lamp = |bench: &Bench| {
        let said: Vec<String> = bench.notices().iter().map(|n| n.text.clone()).collect();
        said.contains(&"reduced power lamp bright".to_owned())
    };
    assert!(lamp(&bench));
    // Repaired, it stays: first the code has to go, then the key has to be cycled.
    bench.repair(circuit.place("W26").unwrap()).unwrap();
    assert!(lamp(&bench) && codes(&bench).contains("A35"));
    bench.clear_codes(circuit.part("U1").unwrap()).unwrap();
    assert!(lamp(&bench) && codes(&bench) == "no codes");
    for key in ["off", "run"] {
        let mut state = bench.state().clone();
        state.set_control("key", key.to_owned());
        bench.set(state).unwrap();
    }
    assert!(!lamp(&bench) && codes(&bench) == "no codes");
}

/// Common practice: fuse to module pin reads the injector plus a few tenths of an ohm; a driver stuck
/// closed floods.
#[test]
fn injectors_read_through_their_feed() {
    let circuit = common::demo("ground-power-unit-injectors");
    let mut bench = with(&circuit, &[], &[]);
    let mut state = bench.state().clone();
    state.take_apart(&circuit, "F2");
    bench.set(state).unwrap();
    for pin in ["U1.5", "U1.6", "U1.7", "U1.8"] {
        let ohms = number(&bench, Function::OHMS, "F2.2", pin);
        assert!((12.1..12.9).contains(&ohms), "{pin}: {ohms} Ω");
    }
    let text = symptom(&circuit, &[]);
    assert!(
        (1..=4).all(|n| text.contains(&format!("injector {n} ticks"))),
        "{text}"
    );
    let one = symptom(&circuit, &["U1.6:driver_open"]);
    assert!(
        one.contains("injector 2 is shut") && one.contains("injector 3 ticks"),
        "{one}"
    );
    assert!(symptom(&circuit, &["U1.6:driver_shorted"]).contains("Injector 2 is held open"));
    // No crank pulses, no injection.
    let dead = symptom(&circuit, &["B1:dead"]);
    assert!(!dead.contains("ticks"), "{dead}");
    // All dead means upstream of the splice, one pair means beyond the third connector.
    let pair = symptom(&circuit, &["C3.1:open"]);
    assert!(
        pair.contains("injector 2 ticks") && pair.contains("injector 3 is shut"),
        "{pair}"
    );
}

/// Common practice: turned by hand the output of a three-wire sensor swings from at most about 1 V to
/// within about 1 V of its supply; running, a meter shows the mean and the frequency.
#[test]
fn a_three_wire_sensor_swings() {
    let circuit = common::demo("sweeper-speed-sensor");
    let at = |wheel| {
        volts(
            &with(&circuit, &[], &[("key", "run"), ("wheel", wheel)]),
            "B1.2",
            "B1.3",
        )
    };
    assert!(at("tooth") < 1.0 && at("gap") > 4.0);
    let running = with(&circuit, &[], &[("key", "run"), ("engine", "idle")]);
    let read = |f| number(&running, f, "U1.4", "U1.3");
    assert!((read(Function::DC_VOLTS) - 2.5).abs() < 0.1);
    // 900 rpm and four pulses a turn.
    assert!((read(Function::HERTZ) - 60.0).abs() < 0.1);
    assert!((read(Function::DUTY) - 50.0).abs() < 0.5);
    assert!(symptom(&circuit, &["W13:open"]).contains("brush lamp bright"));
    // Without its ground the supply reads full against battery negative and nothing across the sensor.
    let open = with(&circuit, &["W16:open"], RUN);
    assert!(volts(&open, "B1.1", "BAT.-") > 12.0 && volts(&open, "B1.1", "B1.3") < 0.5);
    // A weak transistor narrows the swing: the low drifts up.
    let weak = with(
        &circuit,
        &["B1:output_weak=1000"],
        &[("key", "run"), ("wheel", "tooth")],
    );
    assert!((0.5..2.0).contains(&volts(&weak, "B1.2", "B1.3")));
}

/// A reference that is shorted gives what it can and takes every sensor with it; lifted by a short to
/// power it gives nothing and does not feed back.
#[test]
fn a_reference_protects_itself() {
    let circuit = common::demo("ground-power-unit-throttle");
    let shorted = with(&circuit, &["W11:short_to_ground=0.01"], RUN);
    assert!(volts(&shorted, "U1.3", "BAT.-") < 0.2);
    assert!(number(&shorted, Function::CLAMP_AMPS, "W9", "") < 0.2);
    let lifted = with(&circuit, &["W11:short_to_power=0.05"], RUN);
    assert!(volts(&lifted, "U1.3", "BAT.-") > 11.0);
    assert!(number(&lifted, Function::CLAMP_AMPS, "W9", "") < 0.05);
}

#[test]
fn a_module_table_is_checked() {
    let text = std::fs::read_to_string(concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../../demo/circuits/belt-loader-module.json"
    ))
    .unwrap();
    for (from, to, path, words) in [
        (
            "\"6 low\"",
            "\"6 lowish\"",
            "parts.U1.params.pins.7.when",
            "is no condition",
        ),
        (
            "\"3 high\"",
            "\"13 high\"",
            "parts.U1.params.pins.4.when",
            "is no pin of this module",
        ),
        (
            "\"is\": \"ground\"",
            "\"is\": \"gound\"",
            "parts.U1.params.pins.2",
            "unknown variant",
        ),
        (
            "\"any code\"",
            "\"code U99\"",
            "parts.U1.params.pins.9.when",
            "no code of this module",
        ),
    ] {
        let broken = text.replacen(from, to, 1);
        assert_ne!(broken, text, "{from} is not there");
        let refused = match read_circuit(&broken) {
            Err(refused) => refused,
            Ok(_) => panic!("{to} was taken"),
        };
        let found = refused
            .0
            .iter()
            .any(|p| p.path == path && p.message.contains(words));
        assert!(found, "{:?}", refused.0);
    }
}
