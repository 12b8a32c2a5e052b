//! Soundness: the fault that is really there is never ruled out, whatever is done and measured.
//! `CHANCE=1 cargo test -p cimento-diagnosis --test trade suspects -- --nocapture` draws new cases each time.

use cimento_diagnosis::attempt::actions::{
    CoolDown, Dry, Inspect, Join, PutBack, SetControl, TakeApart, TakeReading, TryComplaint, Wait,
    WarmUp, Wet,
};
use std::sync::Arc;

use crate::common;

use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::{Action, Session, Touch};
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_diagnosis::suspects::{Suspects, candidates};
use cimento_model::circuit::Circuit;
use cimento_model::faults::{Condition, Fault, Mode, read_short_form};
use proptest::prelude::*;
use proptest::sample::Index;
use proptest::test_runner::{Config, TestRng, TestRunner};

/// A move of a student: a kind, and two choices.
type Move = (u8, Index, Index);

/// A single fault of a circuit at any severity between the ends of its range, on the grid or not,
/// anywhere along a wire.
fn fault(
    circuit: &Arc<Circuit>,
    which: Index,
    severity: f64,
    at: f64,
    when: Option<Condition>,
) -> Fault {
    let all = candidates(circuit, when);
    let grid = &which.get(&all).grid;
    let (mild, bad) = (&grid[0][0], &grid[grid.len() - 1][0]);
    let by_rest = |m: &Mode| m.of_conductor().is_some_and(|how| how.by_rest);
    let mode = match (mild.mode.severity(), bad.mode.severity()) {
        (Some(x), Some(y)) if by_rest(&mild.mode) => {
            mild.mode.with_severity(x + (y - x) * severity)
        }
        (Some(x), Some(y)) => mild.mode.with_severity(x * (y / x).powf(severity)),
        _ => mild.mode,
    };
    Fault {
        mode,
        at,
        ..mild.clone()
    }
}

/// What a move is on a lesson's machine.
fn action(lesson: &Arc<Lesson>, (kind, a, b): Move) -> Action {
    let circuit = &lesson.circuit;
    let point = |i: Index| i.get(&circuit.test_points).id.clone();
    let reading = |function: Function, red: String, black: Option<String>| {
        Action::TakeReading(TakeReading {
            function,
            range: None,
            red: Some(red),
            black,
            expected: None,
            supposing: None,
            touch: Touch::default(),
            partner: None,
        })
    };
    let negative = circuit.point_at(0).map(|p| p.id.clone());
    match kind {
        0..=3 => {
            let controls = circuit.controls();
            let control = a.get(&controls);
            Action::SetControl(SetControl {
                control: control.name.clone(),
                position: b.get(&control.positions).clone(),
            })
        }
        4 => Action::TakeApart(TakeApart {
            what: a.get(&circuit.comes_apart()).clone(),
        }),
        5 => Action::PutBack(PutBack {
            what: a.get(&circuit.comes_apart()).clone(),
        }),
        6 => Action::Join(Join {
            from: point(a),
            to: point(b),
            fused: true,
        }),
        7 => Action::TryComplaint(TryComplaint {}),
        8 => Action::Wait(Wait { minutes: 5.0 }),
        9 => [
            Action::WarmUp(WarmUp {}),
            Action::CoolDown(CoolDown {}),
            Action::Wet(Wet {}),
            Action::Dry(Dry {}),
        ][a.index(4)]
        .clone(),
        10 => {
            let places: Vec<_> = circuit.places().collect();
            Action::Inspect(Inspect {
                place: circuit.place_id(*a.get(&places)).to_owned(),
            })
        }
        11 => reading(Function::DC_VOLTS, point(a), Some(point(b))),
        12 => reading(Function::OHMS, point(a), Some(point(b))),
        13 => {
            let all: Vec<Function> = [
                Function::CONTINUITY,
                Function::TEST_LAMP,
                Function::DIODE_TEST,
                Function::AC_VOLTS,
                Function::MIN_MAX,
                Function::LED_LAMP,
                Function::ANALOG_VOLTS,
                Function::DUTY,
            ]
            .into();
            reading(*a.get(&all), point(b), negative)
        }
        14 if circuit.sparks() => {
            let leads: Vec<&str> = circuit.plug_leads().collect();
            let one_lead = [
                Function::SPARK_TESTER,
                Function::TACHOMETER,
                Function::TIMING_LAMP,
                Function::CYLINDER_BALANCE,
            ];
            match b.index(one_lead.len() + 1) {
                n if n < one_lead.len() => reading(one_lead[n], (*a.get(&leads)).to_owned(), None),
                _ => reading(Function::PEAK_VOLTS, point(a), negative),
            }
        }
        14 => {
            let conductors: Vec<_> = circuit.conductors.iter().collect();
            reading(Function::CLAMP_AMPS, a.get(&conductors).id.clone(), None)
        }
        _ => reading(Function::DC_VOLTS, point(a), negative),
    }
}

/// Follows a fault through some moves; the number of steps, or none when it does not show.
fn follow(
    circuit: &Arc<Circuit>,
    fault: &Fault,
    moves: &[Move],
) -> Result<Option<usize>, TestCaseError> {
    let about = fault.about(circuit);
    let Some(lesson) = common::lesson(circuit, std::slice::from_ref(fault)) else {
        return Ok(None);
    };
    let mut session = Session::start(&lesson);
    let mut suspects = Suspects::after_complaint(&lesson).unwrap();
    prop_assert!(
        suspects.places().contains(&fault.place),
        "{about} is gone after the complaint"
    );
    let mut done = 0;
    for which in moves {
        // What the bench refuses changes nothing.
        let Ok(step) = session.act(action(&lesson, *which)) else {
            continue;
        };
        let step = step.clone();
        suspects.follow(&step).unwrap();
        done += 1;
        let steps = session.steps();
        prop_assert!(
            suspects.places().contains(&fault.place),
            "{about} was ruled out by {steps:#?}"
        );
    }
    Ok(Some(done))
}

/// Random faults and moves on one circuit, as many as asked for that show.
fn sound(name: &str, circuit: &Arc<Circuit>, cases: u32, when: Option<Condition>) {
    let config = Config {
        cases,
        max_global_rejects: 40 * cases,
        max_shrink_iters: 200,
        failure_persistence: None,
        ..Config::default()
    };
    let moves = proptest::collection::vec((0u8..24, any::<Index>(), any::<Index>()), 1..16);
    let strategy = (any::<Index>(), 0.0f64..1.0, 0.0f64..1.0, moves);
    let (shown, steps) = (std::cell::Cell::new(0), std::cell::Cell::new(0));
    // The same cases each time, so that a change is judged by its own; `CHANCE=1` draws others.
    let mut runner = match std::env::var_os("CHANCE") {
        Some(_) => TestRunner::new(config),
        None => {
            let same = TestRng::deterministic_rng(config.rng_algorithm);
            TestRunner::new_with_rng(config, same)
        }
    };
    runner
        .run(&strategy, |(which, severity, at, moves)| {
            let fault = fault(circuit, which, severity, at, when);
            match follow(circuit, &fault, &moves)? {
                None => Err(TestCaseError::reject("does not show")),
                Some(n) => {
                    shown.set(shown.get() + 1);
                    steps.set(steps.get() + n);
                    Ok(())
                }
            }
        })
        .unwrap_or_else(|e| panic!("{name}: {e}"));
    println!(
        "{name}: {} faults followed through {} steps",
        shown.get(),
        steps.get()
    );
}

#[test]
fn the_fault_that_is_there_is_never_ruled_out_on_the_tug() {
    let cases = if common::all() { 24 } else { 6 };
    sound("baggage-tug-starting", &common::tug(), cases, None);
}

/// A case each of what is quick; `make thorough` takes three of every circuit, drawn anew.
#[test]
fn nor_on_any_other_demo_circuit() {
    let left_out: &[&str] = if common::all() { &[] } else { &LONG };
    for name in common::demo_names()
        .iter()
        .filter(|n| !SLOW.contains(&n.as_str()) && !left_out.contains(&n.as_str()))
    {
        let cases = if common::all() { 3 } else { 1 };
        sound(name, &common::demo(name), cases, None);
    }
}

/// Circuits of which a case takes several seconds.
const LONG: [&str; 4] = [
    "baggage-tug-charging",
    "belt-loader-module",
    "ground-power-unit-injectors",
    "ground-power-unit-twin-coils",
];

/// Ignitions with four cylinders: each suspect's sparks are followed in time, which takes minutes.
const SLOW: [&str; 6] = [
    "baggage-tug-ignition",
    "belt-loader-ignition",
    "ground-power-unit-ignition",
    "large-fire-pump-ignition",
    "sweeper-ignition",
    "twin-fire-pump-ignition",
];

#[test]
#[ignore = "takes many minutes: run with --ignored"]
fn nor_on_ignitions_with_four_cylinders() {
    for name in SLOW {
        sound(name, &common::demo(name), 2, None);
    }
}

#[test]
fn nor_on_circuits_that_are_made_up() {
    let cases = if common::all() { 10 } else { 4 };
    for (connectors, lamps) in [(0, 1), (1, 3), (3, 1), (5, 2), (2, 4)] {
        let name = format!("{connectors} connectors, {lamps} lamps");
        sound(&name, &common::chain(connectors, lamps), cases, None);
    }
}

/// Eight lamps one after the other on a chain of splices: between the resistance that dims the last and that which
/// dims the first lie a few thousandths of an ohm, and the fault that is there stays in it.
#[test]
fn nor_where_a_little_more_dims_one_lamp_more() {
    let lamps = 8;
    let mut parts = serde_json::json!({ "BAT": {"kind": "battery"}, "F1": {"kind": "fuse", "params": {"rating_a": 30}} });
    let (mut splices, mut wires) = (
        serde_json::json!({}),
        vec![("BAT.-".to_owned(), "G1".to_owned())],
    );
    wires.push(("BAT.+".to_owned(), "F1.1".to_owned()));
    let mut from = "F1.2".to_owned();
    for n in 1..=lamps {
        parts[format!("H{n}")] = serde_json::json!({"kind": "lamp", "params": {"rated_w": 5}});
        splices[format!("SP{n}")] = serde_json::json!({});
        wires.push((from, format!("SP{n}")));
        wires.push((format!("SP{n}"), format!("H{n}.1")));
        wires.push((format!("H{n}.2"), "G2".to_owned()));
        from = format!("SP{n}");
    }
    let wire = |(n, (from, to)): (usize, &(String, String))| serde_json::json!({ "id": format!("W{n}"), "from": from, "to": to, "ohms": 0.002 });
    let wires: Vec<_> = wires.iter().enumerate().map(wire).collect();
    let doc = serde_json::json!({ "format": "cimento/circuit", "version": 1, "title": "t", "system_v": 12, "parts": parts,
        "splices": splices, "grounds": {"G1": {"metal": "body"}, "G2": {"metal": "body"}}, "wires": wires });
    let circuit = cimento_parts::read_circuit(&doc.to_string()).unwrap();
    let dim = |ohms: f64| {
        let faults = common::faults(&circuit, &[&format!("F1:high_resistance={ohms}")]);
        let notices = cimento_bench::Bench::new(&circuit, &faults)
            .unwrap()
            .notices();
        notices.iter().filter(|n| n.sign == "dim").count()
    };
    // Halved until some are dim and some are not.
    let (mut few, mut many) = (0.05, 2.0);
    let mut ohms: f64 = 1.0;
    while !(1..lamps).contains(&dim(ohms)) {
        assert!(many - few > 1e-6, "no lamp by itself: {few} {many}");
        match dim(ohms) {
            0 => few = ohms,
            _ => many = ohms,
        }
        ohms = f64::midpoint(few, many);
    }
    let fault = format!("F1:high_resistance={ohms}");
    let lesson = common::lesson(&circuit, &common::faults(&circuit, &[&fault])).unwrap();
    let suspects = Suspects::after_complaint(&lesson).unwrap();
    assert!(
        suspects.places().contains(&circuit.place("F1").unwrap()),
        "{fault} is gone"
    );
}

/// A short of one ohm from a generator's leg to metal runs the battery down at idle, which neither a dead one nor
/// one of many ohms does.
#[test]
fn nor_where_both_ends_of_its_severities_do_otherwise() {
    let circuit = common::demo("fire-pump-charging");
    let place = circuit.place("C1.1").unwrap();
    for (ohms, shows) in [(0.001, false), (1.0, true), (100.0, false)] {
        let fault = format!("C1.1:short_to_ground={ohms}");
        let lesson = common::lesson(&circuit, &common::faults(&circuit, &[&fault]));
        assert_eq!(lesson.is_some(), shows, "{fault}");
        if let Some(lesson) = lesson {
            let could_be = Suspects::after_complaint(&lesson).unwrap().examples(place);
            let short = could_be.iter().any(|f| f.contains("short to ground"));
            assert!(short, "{could_be:?}");
        }
    }
}

#[test]
fn nor_when_it_comes_and_goes() {
    let circuit = common::tug();
    for when in [Condition::Hot, Condition::Moved] {
        sound("baggage-tug-starting", &circuit, 4, Some(when));
    }
}

#[test]
fn opens_in_a_row_are_told_apart_and_shorts_behind_a_blown_fuse_are_not() {
    let circuit = common::tug();
    let group = |fault: &str| {
        let lesson = common::lesson(&circuit, &common::faults(&circuit, &[fault])).unwrap();
        let reference = common::reference(&lesson).unwrap();
        let ids = reference
            .group
            .iter()
            .map(|p| circuit.place_id(*p).to_owned());
        ids.collect::<Vec<_>>()
    };
    assert_eq!(group("W8:open"), ["W8"]);
    assert_eq!(group("W12:open"), ["W12"]);
    let short = group("W15:short_to_ground");
    assert!(
        short.contains(&"W15".to_owned()) && short.contains(&"W14".to_owned()),
        "{short:?}"
    );
}

/// A dead short that burns wires, with one at which the same wires burn in another order: the place is not ruled out by what
/// is smelt and seen.
#[test]
fn a_short_that_burns_wires_stays_a_suspect() {
    burns(&[
        ("sweeper-lamps", &["W1", "W5", "W9"]),
        ("fire-pump-ignition", &["W7"]),
        ("baggage-tug-starting", &["W13"]),
    ]);
}

#[test]
#[ignore = "slow"]
fn nor_is_one_of_other_wires_ruled_out() {
    burns(&[
        ("fire-pump-ignition", &["W1", "W9"]),
        ("baggage-tug-starting", &["W1", "W20"]),
    ]);
}

fn burns(all: &[(&str, &[&str])]) {
    for (name, wires) in all {
        let circuit = common::demo(name);
        for wire in *wires {
            for short in ["short_to_ground", "short_to_power"] {
                for ohms in [0.0012, 0.003_16, 0.02] {
                    let text = format!("{wire}:{short}={ohms}");
                    let fault = read_short_form(&text).unwrap();
                    let doc = LessonDoc::of("burns", circuit.doc.clone(), vec![fault]);
                    // What nobody notices is no lesson.
                    let Ok(lesson) = Lesson::new(doc) else {
                        continue;
                    };
                    let suspects = Suspects::after_complaint(&lesson).unwrap();
                    let place = circuit.place(wire).unwrap();
                    assert!(
                        suspects.places().contains(&place),
                        "{name}, {text}: {}",
                        lesson.symptom.text
                    );
                }
            }
        }
    }
}
