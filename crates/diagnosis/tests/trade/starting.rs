//! The baggage tug on the bench: facts of the trade, read from the computed circuit.

use std::sync::Arc;

use crate::common;

use cimento_bench::instruments::{Function, Range, Reading, read};
use cimento_bench::{Bench, complaint};
use cimento_diagnosis::key::{USUAL, answer_key, staircases};
use cimento_diagnosis::lesson::Limits;
use cimento_diagnosis::suspects::Suspects;
use cimento_model::circuit::Circuit;
use cimento_model::faults::Fault;
use cimento_model::state::OperatingState;
use cimento_model::units::Quantity;
use proptest::prelude::*;

/// The states of the trial.
fn states(circuit: &Arc<Circuit>) -> Vec<OperatingState> {
    OperatingState::trial(circuit)
        .into_iter()
        .map(|t| t.state)
        .collect()
}

fn at(circuit: &Arc<Circuit>, faults: &[&str], key: &str) -> Bench {
    let faults: Vec<Fault> = faults.iter().map(|f| common::fault(circuit, f)).collect();
    let mut bench = Bench::new(circuit, &faults).unwrap();
    for state in states(circuit) {
        let last = state.key == key;
        bench.set(state).unwrap();
        if last {
            break;
        }
    }
    bench
}

fn take(bench: &Bench, function: Function, red: &str, black: &str) -> Reading {
    let point = |id| {
        bench
            .circuit
            .test_point(id)
            .unwrap_or_else(|| panic!("no point {id}"))
    };
    read(bench, function, None, Some(point(red)), Some(point(black))).unwrap()
}

fn volts(bench: &Bench, red: &str, black: &str) -> f64 {
    take(bench, Function::DC_VOLTS, red, black)
        .shown
        .value
        .number()
}

fn symptom(circuit: &Arc<Circuit>, faults: &[&str]) -> String {
    let faults: Vec<Fault> = faults.iter().map(|f| common::fault(circuit, f)).collect();
    complaint(&mut Bench::new(circuit, &faults).unwrap())
        .unwrap()
        .text
}

#[test]
fn a_healthy_tug_cranks_within_common_practice() {
    let circuit = common::tug();
    let b = at(&circuit, &[], "start");
    let battery = volts(&b, "BAT.+", "BAT.-");
    // Common practice: 9.6 V or more at the battery while cranking, 100 A to 200 A.
    assert!(battery > 9.6 && battery < 12.0, "{battery}");
    // Common practice: 0.2 V along a cable, 0.5 V for the whole feed side, 0.3 V for the return.
    assert!(volts(&b, "BAT.+", "M1.30") < 0.2);
    assert!(volts(&b, "BAT.+", "M1.45") < 0.5);
    assert!(volts(&b, "M1.31", "BAT.-") < 0.3);
    // Common practice: a relay contact loses at most 0.3 V, a ground 0.1 V.
    assert!(volts(&b, "K3.30", "K3.87") < 0.3);
    assert!(volts(&b, "G4", "metal:body") < 0.1);
    assert!(symptom(&circuit, &[]).starts_with("Cranks at"));
}

#[test]
fn each_fault_has_the_symptom_the_trade_knows() {
    let circuit = common::tug();
    for (fault, words) in [
        ("W8:open", "No crank, no click. Dash lamp bright"),
        ("W12:open", "No crank, no click"),
        ("F2:blown", "No crank, no click. Dash lamp dark"),
        ("W15:open", "No crank, only the start relay clicks"),
        (
            "W15:short_to_ground",
            "No crank, only the start relay clicks",
        ),
        // A hold-in winding that is open makes the solenoid chatter, and so does a weak supply.
        ("M1:hold_in_open", "clicks rapidly"),
        ("BAT:corroded_post=0.05", "clicks rapidly"),
        // The solenoid's case is its ground: paint under the bolts is an open circuit.
        ("M1.mount:open", "No crank, only the start relay clicks"),
        ("M1:contacts_open", "one click from the starter"),
        ("W20:high_resistance=0.04", "Cranks slowly"),
        ("M1:brushes_worn=0.03", "Cranks slowly"),
    ] {
        let text = symptom(&circuit, &[fault]);
        assert!(text.contains(words), "{fault}: “{text}” lacks “{words}”");
    }
}

#[test]
fn a_cut_off_wire_reads_a_ghost_of_nothing() {
    let circuit = common::tug();
    let b = at(&circuit, &["W8:open"], "start");
    let point = |id| circuit.test_point(id);
    let ghost = read(
        &b,
        Function::DC_VOLTS,
        Some(Range(60.0)),
        point("K3.86"),
        point("BAT.-"),
    )
    .unwrap();
    assert_eq!(
        (ghost.shown.text.as_str(), ghost.shown.unit.as_str()),
        ("0.00", "V")
    );
    // With the coil's ground open as well, the meter alone pulls the wire down.
    let b = at(&circuit, &["W8:open", "W12:open"], "start");
    assert_eq!(
        take(&b, Function::DC_VOLTS, "K3.86", "BAT.-").shown.text,
        "0.000"
    );
}

#[test]
fn a_good_looking_voltage_on_an_open_circuit_proves_little() {
    // Two ohms of rust in the relay's feed: no current, no drop; under load it shows.
    let circuit = common::tug();
    let b = at(&circuit, &["W13:high_resistance=2"], "run");
    assert!(volts(&b, "K3.30", "BAT.-") > 12.4);
    let b = at(&circuit, &["W13:high_resistance=2"], "start");
    assert!(volts(&b, "F5.2", "K3.30") > 5.0);
}

/// Common practice: a lamp loads the circuit, so it tells a feed that can carry from one that only
/// shows volts; a clamp on the cable reads 100 A to 200 A while cranking.
#[test]
fn a_lamp_sees_what_a_meter_does_not_and_a_clamp_reads_the_cable() {
    let circuit = common::tug();
    let lamp =
        |b: &Bench, red: &str, black: &str| take(b, Function::TEST_LAMP, red, black).shown.text;
    let rusty = at(&circuit, &["W13:high_resistance=300"], "run");
    assert!(volts(&rusty, "K3.30", "BAT.-") > 12.5);
    assert_eq!(lamp(&rusty, "K3.30", "BAT.-"), "off");
    let sound = at(&circuit, &[], "run");
    assert_eq!(lamp(&sound, "K3.30", "BAT.-"), "bright");
    assert_eq!(
        lamp(
            &at(&circuit, &["W13:high_resistance=30"], "run"),
            "K3.30",
            "BAT.-"
        ),
        "dim"
    );
    // From positive to a ground under test: bright on a good one, off on one that is open.
    assert_eq!(lamp(&sound, "BAT.+", "K3.85"), "bright");
    assert_eq!(
        lamp(&at(&circuit, &["G4:open"], "run"), "BAT.+", "K3.85"),
        "off"
    );
    // A lamp across a chattering supply flickers.
    assert_eq!(
        lamp(
            &at(&circuit, &["BAT:corroded_post=0.05"], "start"),
            "BAT.+",
            "BAT.-"
        ),
        "flickers"
    );

    let clamp = |b: &Bench, wire: &str| {
        cimento_bench::instruments::take(b, Function::CLAMP_AMPS, None, Some(wire), None)
            .unwrap()
            .shown
            .value
            .number()
    };
    let cranking = at(&circuit, &[], "start");
    let cable = clamp(&cranking, "W20");
    assert!((100.0..200.0).contains(&cable), "{cable} A");
    assert!((clamp(&cranking, "W21") - cable).abs() < 15.0);
    assert!(clamp(&at(&circuit, &["W8:open"], "start"), "W20").abs() < 0.1);
}

#[test]
fn ohms_by_the_meters_own_current() {
    let circuit = common::tug();
    let off = at(&circuit, &[], "off");
    // 85 Ω of coil with 680 Ω across it, and the leads.
    let coil = take(&off, Function::OHMS, "K3.86", "K3.85")
        .shown
        .value
        .number();
    assert!((coil - (85.0 * 680.0 / 765.0 + 0.2)).abs() < 0.11, "{coil}");
    assert!(
        take(&off, Function::CONTINUITY, "C12.4f", "C14.1m")
            .shown
            .beeps
    );
    // The clutch switch is closed in the trial's states; a cut wire is OL.
    let cut = at(&circuit, &["W8:open"], "off");
    assert_eq!(
        take(&cut, Function::OHMS, "C12.4f", "C14.1m").shown.value,
        Quantity::OverLimit
    );
    assert!(
        !take(&cut, Function::CONTINUITY, "C12.4f", "C14.1m")
            .shown
            .beeps
    );
    // On a live circuit the number is false: the same wire, sound, while the relay is fed.
    let live = at(&circuit, &[], "start");
    let wrong = take(&live, Function::OHMS, "S1.30", "K3.86")
        .shown
        .value
        .number();
    let right = take(&off, Function::OHMS, "C12.4f", "C14.1m")
        .shown
        .value
        .number();
    assert!(
        (wrong - right).abs() > 1.0,
        "live {wrong} Ω against {right} Ω"
    );
}

#[test]
fn a_shorted_feed_takes_its_fuse_and_the_key_says_so() {
    let circuit = common::tug();
    let faults = [common::fault(&circuit, "W15:short_to_ground")];
    let rows = answer_key(
        &circuit,
        &faults,
        &states(&circuit),
        &Limits::default(),
        &USUAL,
    )
    .unwrap();
    let row = rows
        .iter()
        .find(|r| r.state.starts_with("start") && r.red == "K3.30" && r.black == "BAT.-")
        .unwrap();
    assert!(row.tells && row.healthy.value.number() > 11.0 && row.faulted.value.number() < 0.1);
    assert!(row.reason.contains("F5 (blown)"), "{}", row.reason);
    // Replacing the fuse with the short still there blows it again.
    let mut b = Bench::new(&circuit, &faults).unwrap();
    complaint(&mut b).unwrap();
    let fuse = circuit.place("F5").unwrap();
    b.repair(fuse).unwrap();
    complaint(&mut b).unwrap();
    assert!(b.parts()[circuit.part("F5").unwrap()].level == 1);
    // With the short gone and a new fuse the tug cranks.
    b.repair(circuit.place("W15").unwrap()).unwrap();
    b.repair(fuse).unwrap();
    assert!(complaint(&mut b).unwrap().text.starts_with("Cranks"));
}

#[test]
fn the_key_gives_the_place_that_holds_the_volts() {
    let circuit = common::tug();
    let states = states(&circuit);
    for (fault, place) in [
        ("W8:open", "W8"),
        ("C12.4:open", "C12.4"),
        ("S2:contact_open", "S2"),
        ("SP1:open", "SP1"),
    ] {
        let faults = [common::fault(&circuit, fault)];
        let stairs = staircases(&circuit, &faults, &states).unwrap();
        let coil = stairs.iter().find(|s| s.title == "Start relay").unwrap();
        let missing = coil
            .missing
            .as_ref()
            .unwrap_or_else(|| panic!("{fault} is not pointed at"));
        assert!(
            missing.text.starts_with(&format!("{place} holds 12.")),
            "{fault}: {}",
            missing.text
        );
    }
    let rows = answer_key(&circuit, &[], &states, &Limits::default(), &USUAL).unwrap();
    assert!(
        rows.iter().all(|r| !r.tells),
        "a healthy circuit differs from itself"
    );
}

/// Taken out and measured by itself, a relay that is not pulled in because its coil's wire is open is as
/// good as any: only the wire tells.
#[test]
fn only_the_faulted_place_is_bad_by_itself() {
    let circuit = common::tug();
    let faults = common::faults(&circuit, &["W8:open"]);
    let states = states(&circuit);
    let rows = answer_key(
        &circuit,
        &faults,
        &states,
        &Limits::default(),
        &[Function::OHMS],
    )
    .unwrap();
    let isolated = rows
        .iter()
        .filter(|r| r.state == cimento_diagnosis::key::ISOLATED && r.tells);
    let told: Vec<_> = isolated
        .map(|r| (r.red.as_str(), r.black.as_str()))
        .collect();
    assert_eq!(told, [("C12.4f", "C14.1m")]);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]

    /// Settling always ends, and says what it found, whatever up to three faults do on any demo circuit.
    #[test]
    fn settling_ends_with_any_faults(
        name in prop::sample::select(common::demo_names()),
        picks in proptest::collection::vec((any::<prop::sample::Index>(), any::<prop::sample::Index>()), 1..4),
    ) {
        let circuit = common::demo(&name);
        let all = cimento_diagnosis::suspects::candidates(&circuit, None);
        let faults: Vec<Fault> = picks.iter().flat_map(|(c, s)| {
            let candidate = c.get(&all);
            s.get(&candidate.grid).clone()
        }).collect();
        let mut bench = Bench::new(&circuit, &faults).unwrap();
        for state in states(&circuit) {
            bench.set(state).unwrap();
            prop_assert!(!bench.settled().points.is_empty());
        }
    }

    /// More resistance in series never raises the voltage of the load behind it.
    #[test]
    fn more_series_resistance_never_helps_the_load(a in -2.0f64..4.0, b in -2.0f64..4.0, place in prop::sample::select(vec!["W7", "C12.4", "W8", "W11", "W12", "G4"])) {
        let circuit = common::tug();
        let coil = |exponent: f64| {
            let fault = format!("{place}:high_resistance={}", 10f64.powf(exponent).max(0.01));
            let b = at(&circuit, &[&fault], "start");
            let point = |id: &str| circuit.test_point(id).unwrap().node;
            let p = &b.settled().points[0];
            p.op.between(p.wiring.node(point("K3.86")), p.wiring.node(point("K3.85")))
        };
        let (mild, bad) = (coil(a.min(b)), coil(a.max(b)));
        // When the relay no longer pulls in, the starter lets the battery rise again; the coil
        // still gets its share of the battery's own voltage only.
        prop_assert!(bad <= mild + 1e-9 || bad / 12.6 <= mild / 11.3, "{mild} V then {bad} V");
    }
}

/// A conductor that barely reaches its terminal makes contact until the harness is pulled.
#[test]
fn a_conductor_that_barely_reaches_parts_when_it_is_pulled() {
    let circuit = common::tug();
    let state = [("key", "start"), ("clutch", "down")];
    let mut bench = common::with(&circuit, &["C12.4:barely_reaches"], &state);
    assert!(common::volts(&bench, "C12.4f", "BAT.-") > 11.0);
    let mut moved = bench.state().clone();
    moved.moved = vec!["C12.4".to_owned()];
    bench.set(moved).unwrap();
    assert!(common::volts(&bench, "C12.4f", "BAT.-") < 0.1);
    assert!(common::volts(&bench, "C12.4m", "BAT.-") > 11.0);
}

/// Machines that share a solver, as suspects do, come to rest when the key goes back: what the numerics
/// leave of a speed is no turning, or points would open and close with the engine standing.
#[test]
fn a_motor_that_nothing_drives_stands_still() {
    for name in [
        "baggage-tug-starting",
        "fire-pump-starting",
        "belt-loader-starting",
    ] {
        let circuit = common::demo(name);
        let solver = cimento_bench::Shared::default();
        for candidate in cimento_diagnosis::suspects::candidates(&circuit, None) {
            let mut bench = Bench::sharing(&circuit, &candidate.grid[0], &solver).unwrap();
            complaint(&mut bench).unwrap();
            for key in ["off", "run"] {
                let mut state = OperatingState::at_rest(&circuit);
                state.set_control("key", key.to_owned());
                bench.set(state).unwrap();
                let turns = bench.parts().iter().map(|p| p.speed);
                let slow: Vec<f64> = turns.filter(|s| *s != 0.0 && s.abs() < 0.01).collect();
                assert!(
                    slow.is_empty(),
                    "{name}, {:?}, {key}: {slow:?}",
                    candidate.grid[0]
                );
            }
        }
    }
}

/// Each of these is a complaint of its own, and a lesson whose fault is among what could be wrong. Common practice.
#[test]
fn what_is_noticed_beyond_a_start_is_a_lesson() {
    for (circuit, fault, words) in [
        (
            "baggage-tug-starting",
            "M1:contacts_welded",
            "everything off: cranks",
        ),
        (
            "baggage-tug-starting",
            "K3:contacts_welded",
            "everything off: cranks",
        ),
        (
            "baggage-tug-starting",
            "S1:stuck_in_last",
            "with the key at off already",
        ),
        (
            "baggage-tug-starting",
            "W14:short_to_ground=1",
            "As the key is let go: cranks",
        ),
        (
            "baggage-tug-starting",
            "W20:high_resistance=0.012",
            "more slowly than usual",
        ),
        (
            "baggage-tug-ignition",
            "W4:short_to_power=0.1",
            "runs on as the key is switched off",
        ),
        (
            "belt-loader-starting",
            "K2:contacts_welded",
            "everything off: horn sounds",
        ),
        (
            "sweeper-lamps",
            "S2:contact_stuck",
            "flat after standing a week",
        ),
        (
            "baggage-tug-charging",
            "C1.4:high_resistance=55",
            "Fuel gauge reads half",
        ),
        (
            "belt-loader-module",
            "W1:short_to_ground=0.01",
            "main wiring smokes",
        ),
    ] {
        let circuit = common::demo(circuit);
        let faults = [common::fault(&circuit, fault)];
        let lesson = common::lesson(&circuit, &faults);
        let lesson = lesson.unwrap_or_else(|| panic!("{fault} is no lesson"));
        assert!(
            lesson.noticed && lesson.symptom.text.contains(words),
            "{fault}: {}",
            lesson.symptom.text
        );
        let possible = Suspects::after_complaint(&lesson).unwrap().places();
        let place = circuit.place(fault.split(':').next().unwrap()).unwrap();
        assert!(possible.contains(&place), "{fault}");
    }
}
