//! The other demo circuits: facts of the trade read from the computed circuit.

use crate::common;
use cimento_parts::read_circuit;

use cimento_bench::Bench;
use cimento_model::state::OperatingState;
use common::{symptom, volts, with};

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

/// Every demo circuit is sound: nothing to complain about, and no wire of a healthy machine loses more
/// than its limit while it carries its load (common practice: 0.2 V along a wire, 0.1 V along a ground,
/// near zero at a connection; a starter's cables may lose 0.3 V).
#[test]
fn healthy_demo_circuits_lose_no_more_than_they_should() {
    use cimento_model::circuit::{ConductorKind, Place};
    let mut looked = 0;
    for name in common::demo_names() {
        let circuit = common::demo(&name);
        assert!(
            circuit.warnings.is_empty(),
            "{name}: {:?}",
            circuit.warnings
        );
        let mut bench = Bench::new(&circuit, &[]).unwrap();
        for trial in OperatingState::trial(&circuit) {
            bench.set(trial.state).unwrap();
            let point = bench.settled().points.last().unwrap();
            for (n, c) in circuit.conductors.iter().enumerate() {
                let line = point.wiring.tagged(Place::Conductor(n), "through").unwrap();
                let amps = point.op.current(line.element).abs();
                let limit = match c.kind {
                    ConductorKind::Wire if amps > 50.0 => 0.3,
                    ConductorKind::Wire => 0.2,
                    ConductorKind::Ground | ConductorKind::Mount => 0.1,
                    _ => 0.05,
                };
                let lost = amps * c.ohms;
                assert!(
                    lost <= limit,
                    "{name}, {}: {} loses {lost:.3} V",
                    trial.label,
                    c.id
                );
                looked += 1;
            }
        }
    }
    println!("{looked} drops of healthy conductors are inside their limits");
}

/// Common practice: a portable machine's start chain runs through lanyard and drive switch to the
/// solenoid, and the solenoid's I terminal feeds the coil past its ballast while it cranks.
#[test]
fn the_fire_pump_starts_and_its_solenoid_feeds_the_coil() {
    let circuit = common::demo("fire-pump-starting");
    assert!(symptom(&circuit, &[]).starts_with("Cranks at"));
    let coil =
        |faults: &[&str], key| volts(&with(&circuit, faults, &[("key", key)]), "R2.1", "BAT.-");
    assert!(coil(&[], "run") < 7.0 && coil(&[], "start") > 10.5);
    // Without the bypass the coil has only what the ballast leaves of a battery pulled down.
    assert!(coil(&["W17:open"], "start") < 6.0);
    // Zero volts at S with the key at start: a break upstream, or S pulled to ground.
    for fault in ["S2:contact_open", "W7:open", "S3:contact_open", "C1.2:open"] {
        assert!(
            symptom(&circuit, &[fault]).starts_with("No crank, no click"),
            "{fault}"
        );
        let bench = with(&circuit, &[fault], &[("key", "start")]);
        assert!(volts(&bench, "M1.50", "BAT.-") < 0.1);
    }
    let short = with(&circuit, &["W10:short_to_ground"], &[("key", "start")]);
    assert!(volts(&short, "F1.2", "BAT.-") < 0.1, "the fuse has gone");
    // Paint under the solenoid's mounting bolts is an open circuit.
    assert!(symptom(&circuit, &["M1.mount:open"]).starts_with("No crank"));
}

/// Common practice: a table set one position on loses a position and never turns off.
#[test]
fn a_key_switch_fails_by_its_table() {
    let circuit = common::demo("baggage-tug-charging");
    let at = |fault: &str, key: &str| {
        volts(&with(&circuit, &[fault], &[("key", key)]), "S1.15", "BAT.-") > 10.0
    };
    assert!(
        !at("S1:set_one_on", "off") && at("S1:set_one_on", "acc") && at("S1:set_one_on", "start")
    );
    assert!(at("S1:stuck_in_last", "off") && !at("S1:stuck_off", "run"));
}

/// Each cavity-to-cavity run with what to expect: ISO 6722-1 allows 18.5 mΩ a metre for 1 mm².
#[test]
fn the_check_sheet_of_a_harness_has_every_run() {
    let circuit = common::tug();
    let runs = circuit.harness_runs();
    let run = runs.iter().find(|r| r.through == ["W8"]).unwrap();
    assert_eq!((run.from.as_str(), run.to.as_str()), ("C12.4f", "C14.1m"));
    assert_eq!((run.harness.as_str(), run.area_mm2), ("engine", Some(1.0)));
    assert!(
        run.ohms < 0.0185 * 0.9 && run.ohms > 0.0165 * 0.9,
        "{} Ω",
        run.ohms
    );
    // Three wires meet in SP1: from the first end through the splice to each of the two others.
    let through = |id: &str| {
        runs.iter()
            .filter(|r| r.through.contains(&id.to_owned()))
            .count()
    };
    assert_eq!(through("SP1"), 2);
    // Every wire is on the sheet, and no run passes a connector or a part.
    for wire in &circuit.doc.wires {
        assert!(through(&wire.id) > 0, "{} is missing", wire.id);
    }
    assert!(runs.iter().all(|r| {
        r.through
            .iter()
            .all(|t| t.starts_with('W') || t.starts_with("SP"))
    }));
}

/// Common practice: a joint that is twisted or tapped drops more than one that is crimped or soldered.
#[test]
fn a_tap_drops_more_than_a_crimp() {
    let drop = |join: &str| {
        let mut doc = serde_json::to_value(common::tug().doc.clone()).unwrap();
        doc["splices"]["SP1"]["join"] = join.into();
        let circuit = read_circuit(&doc.to_string()).unwrap();
        let joint = circuit.conductors.iter().find(|c| c.id == "SP1").unwrap();
        joint.ohms
    };
    let all = ["soldered", "crimped", "twisted", "tap"].map(drop);
    assert!(all.is_sorted(), "{all:?}");
}

/// One chafe often damages several wires at once, some opened, some grounded (common practice): each is
/// there, and mending one leaves the other.
#[test]
fn one_event_opens_a_wire_and_grounds_its_neighbour() {
    let circuit = common::tug();
    let read = |text: &str| {
        let doc = serde_json::from_str(text).unwrap();
        cimento_model::faults::Fault::read(&circuit, &doc, "").unwrap()
    };
    let faults = [
        read(r#"{"place": "W8", "mode": "open", "cause": "chafed at the bracket"}"#),
        read(r#"{"place": "W15", "mode": "short_to_ground", "cause": "chafed at the bracket"}"#),
    ];
    assert_eq!(faults[0].cause, faults[1].cause);
    assert_eq!(faults[0].doc(&circuit).cause, faults[0].cause);
    let mut bench = Bench::new(&circuit, &faults).unwrap();
    let start = OperatingState::trial(&circuit).pop().unwrap().state;
    bench.set(start.clone()).unwrap();
    // The open keeps the relay from feeding the short: its fuse lives.
    let fuse = circuit.part("F5").unwrap();
    assert_eq!(bench.parts()[fuse].level, 0);
    bench.set(OperatingState::at_rest(&circuit)).unwrap();
    bench.repair(circuit.place("W8").unwrap()).unwrap();
    assert_eq!(bench.faults().len(), 1);
    bench.set(start).unwrap();
    assert_ne!(
        bench.parts()[fuse].level,
        0,
        "the short takes the fuse once the relay feeds it"
    );
}

/// Everything may be moved at once, a harness or a place; what there is not, may not.
#[test]
fn everything_can_be_moved() {
    let circuit = common::tug();
    let check = |what: &str| {
        let state = OperatingState {
            moved: vec![what.to_owned()],
            ..OperatingState::at_rest(&circuit)
        };
        state.check(&circuit)
    };
    for what in ["everything", "engine", "W8"] {
        assert_eq!(check(what), Ok(()), "{what}");
    }
    let problems = check("W99").unwrap_err();
    let said: Vec<String> = problems.iter().map(ToString::to_string).collect();
    assert_eq!(said.len(), 1, "said once: {said:?}");
    assert!(
        said[0].contains("moved[0]") && said[0].contains("W99"),
        "{said:?}"
    );
}

/// Wires without a size side by side, and a ring of them, are solved here and in ngspice.
#[test]
fn sizeless_wires_may_lie_side_by_side() {
    let doc = serde_json::json!({"format": "cimento/circuit", "version": 1, "title": "t", "system_v": 12,
        "parts": {"BAT": {"kind": "battery", "params": {"rest_v": 12.6}}, "R1": {"kind": "resistor", "params": {"ohms": 10}}},
        "splices": {"SP1": {}, "SP2": {}},
        "wires": [{"id": "W1", "from": "BAT.+", "to": "SP1"}, {"id": "W2", "from": "BAT.+", "to": "SP1"},
            {"id": "W3", "from": "SP1", "to": "SP2"}, {"id": "W4", "from": "SP2", "to": "SP1"},
            {"id": "W5", "from": "SP2", "to": "R1.1"}, {"id": "W6", "from": "R1.2", "to": "BAT.-"}]});
    let circuit = cimento_parts::read_circuit(&doc.to_string()).unwrap();
    let bench = crate::common::with(&circuit, &[], &[]);
    let ours = crate::common::volts(&bench, "R1.1", "BAT.-");
    assert!((ours - 12.6).abs() < 0.02, "{ours}");
    let netlist = cimento_bench::spice::spice_netlist(&bench).unwrap();
    let text = crate::common::ngspice(&netlist);
    let line = text.lines().find_map(|l| l.strip_prefix("v(r1_1) = "));
    let theirs: f64 = line
        .unwrap_or_else(|| panic!("{text}"))
        .trim()
        .parse()
        .unwrap();
    assert!((ours - theirs).abs() < 0.01, "{ours} here, {theirs} there");
}
