//! Screens of the oscilloscope as evidence: what they rule out, that they never rule out what is
//! there, and how what was said of them is marked.

use cimento_diagnosis::attempt::actions::{HandIn, Judge, SetControl, TakeCapture, TakeReading};
use std::sync::Arc;

use crate::common;

use cimento_bench::Bench;
use cimento_bench::instruments::{
    Acquire, Attenuation, Capture, Cursors, Form, Function, Looks, Often, Peak, Probe, SWEEPS,
    Scope, capture,
};
use cimento_diagnosis::attempt::{Action, Session, Verdict};
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_diagnosis::marking::{Case, sheet};
use cimento_diagnosis::suspects::{Suspects, candidates};
use cimento_diagnosis::suspects::{sweep, swept};
use cimento_model::circuit::{Circuit, ConductorKind};
use cimento_model::faults::Fault;
use proptest::prelude::*;
use proptest::sample::Index;
use proptest::test_runner::{Config, TestRng, TestRunner};

const LOOKS: fn(Form, Peak) -> Looks = |form, peak| Looks {
    form,
    peak,
    often: None,
};

fn pump() -> Arc<Circuit> {
    common::demo("fire-pump-ignition")
}

fn lesson(circuit: &Arc<Circuit>, fault: &str, predictions: bool) -> Arc<Lesson> {
    let faults = vec![common::fault(circuit, fault).doc(circuit)];
    let doc = LessonDoc::of("A lesson", circuit.doc.clone(), faults);
    common::shared(LessonDoc { predictions, ..doc })
}

fn set(control: &str, position: &str) -> Action {
    Action::SetControl(SetControl {
        control: control.to_owned(),
        position: position.to_owned(),
    })
}

fn pickup(lead: &str) -> Scope {
    Scope {
        channels: vec![Probe::Pickup {
            lead: lead.to_owned(),
        }],
        sweep_s: 0.2,
        level: None,
        falling: true,
        attenuation: Attenuation::Ten,
        acquire: Acquire::Peak,
    }
}

fn screen(scope: Scope, expected: &[Looks]) -> Action {
    Action::Capture(TakeCapture {
        scope,
        expected: expected.to_vec(),
        partner_expected: Vec::new(),
    })
}

fn still_there(circuit: &Arc<Circuit>, suspects: &Suspects) -> Vec<String> {
    let ids = suspects.places().into_iter();
    ids.map(|p| circuit.place_id(p).to_owned()).collect()
}

/// The pump's magneto gives no spark. A break in the plug's lead would leave the coil its kilovolts with
/// nowhere to go; a stop wire that touches ground leaves none. One screen round the lead tells them apart.
#[test]
fn a_screen_rules_out_what_would_have_drawn_another() {
    let circuit = pump();
    let stopped = lesson(&circuit, "W7:short_to_ground=0.1", false);
    let mut suspects = Suspects::after_complaint(&stopped).unwrap();
    let mut session = Session::start(&stopped);
    let before = still_there(&circuit, &suspects);
    for place in ["W6", "W7", "A1", "P1"] {
        assert!(before.contains(&place.to_owned()), "{place} in {before:?}");
    }
    let worth = suspects.information_from_screen(&pickup("W6")).unwrap();
    assert!(worth < 0.05, "{worth} bit with nothing turning");
    for action in [set("rope", "pulled"), screen(pickup("W6"), &[])] {
        if matches!(action, Action::Capture(_)) {
            let worth = suspects.information_from_screen(&pickup("W6")).unwrap();
            assert!(worth > 0.2, "{worth} bit");
        }
        let step = session.act(action).unwrap().clone();
        suspects.follow(&step).unwrap();
    }
    let after = still_there(&circuit, &suspects);
    for place in ["W7", "W9"] {
        assert!(after.contains(&place.to_owned()), "{place} in {after:?}");
    }
    for place in ["A1", "P1"] {
        assert!(!after.contains(&place.to_owned()), "{place} in {after:?}");
    }
    // The lead may itself touch ground; broken it is not.
    let lead = suspects.examples(circuit.place("W6").unwrap());
    assert!(!lead.iter().any(|l| l.contains("open")), "{lead:?}");
}

/// Round the lead of a healthy magneto pulled by hand the trace pulses to one side, some 6 kV. Half of the prediction is how it goes, half how far; the next size is worth
/// a quarter. With no kilovolts at all "not normal" is the right verdict.
#[test]
fn what_was_said_of_a_screen_is_marked() {
    let circuit = pump();
    let lesson = lesson(&circuit, "W7:short_to_ground=0.1", true);
    let reference = common::reference(&lesson).unwrap();
    let cases = [
        (
            LOOKS(Form::Pulses, Peak::To15k),
            Verdict::Abnormal,
            1.0,
            1.0,
        ),
        (
            LOOKS(Form::Pulses, Peak::To5k),
            Verdict::Abnormal,
            0.75,
            1.0,
        ),
        (
            LOOKS(Form::BothWays, Peak::To100),
            Verdict::Normal,
            0.0,
            0.0,
        ),
        (
            LOOKS(Form::Flat, Peak::To15k),
            Verdict::TellsNothing,
            0.5,
            0.0,
        ),
    ];
    for (said, verdict, predicted, judged) in cases {
        let actions = [
            set("rope", "pulled"),
            screen(pickup("W6"), &[said]),
            Action::Judge(Judge { step: 2, verdict }),
            Action::HandIn(HandIn {}),
        ];
        let session = Session::replay(&lesson, &actions).unwrap();
        let case = Case::new(&reference, session.steps()).unwrap();
        let sheet = sheet(&case).unwrap();
        let text = format!("{said:?}, {verdict:?}: {:?}", sheet.lines);
        let earned = |criterion: &str| {
            let line = sheet
                .lines
                .iter()
                .find(|l| l.criterion == criterion)
                .unwrap();
            let own = line.details.iter().find(|d| d.step == Some(2)).unwrap();
            // What the screen itself earned is carried by how far it led.
            let share = own.earned * line.details[0].earned;
            assert!((line.marks - line.out_of * share).abs() < 0.051, "{text}");
            own.earned
        };
        assert!((earned("prediction") - predicted).abs() < 0.01, "{text}");
        assert!((earned("verdicts") - judged).abs() < 0.01, "{text}");
    }
}

#[test]
fn a_screen_wants_a_prediction_and_its_own_kind_of_verdict() {
    let circuit = pump();
    let lesson = lesson(&circuit, "W7:short_to_ground=0.1", true);
    let mut session = Session::start(&lesson);
    let without = session.act(screen(pickup("W6"), &[])).unwrap_err();
    let without = without.to_string();
    assert!(
        without.contains("what a healthy machine shows"),
        "{without}"
    );
    let said = [LOOKS(Form::Pulses, Peak::To5k)];
    session.act(screen(pickup("W6"), &said)).unwrap();
    let judge = |verdict| Action::Judge(Judge { step: 1, verdict });
    let wrong = session.act(judge(Verdict::TooLow)).unwrap_err().to_string();
    assert!(wrong.contains("normal, not normal"), "{wrong}");
    session.act(judge(Verdict::Abnormal)).unwrap();
    assert_eq!(session.steps().len(), 2);
}

/// Any fault at any severity, any screens in any state: what is there stays.
#[test]
fn no_screen_rules_out_the_fault_that_is_there() {
    let circuit = pump();
    let all = candidates(&circuit, None);
    let points: Vec<String> = circuit.test_points.iter().map(|p| p.id.clone()).collect();
    let wires = circuit.conductors.iter();
    let wires: Vec<String> = wires
        .filter(|c| c.kind == ConductorKind::Wire)
        .map(|c| c.id.clone())
        .collect();
    let step = (any::<Index>(), any::<Index>(), 0u8..3, any::<Index>());
    let strategy = (
        any::<Index>(),
        0.0f64..1.0,
        0.0f64..1.0,
        proptest::collection::vec(step, 1..5),
    );
    let config = Config {
        cases: if common::all() { 16 } else { 6 },
        max_global_rejects: 1000,
        failure_persistence: None,
        ..Config::default()
    };
    let same = TestRng::deterministic_rng(config.rng_algorithm);
    let mut runner = match std::env::var_os("CHANCE") {
        Some(_) => TestRunner::new(config),
        None => TestRunner::new_with_rng(config, same),
    };
    let screens = std::cell::Cell::new(0);
    let run = runner.run(&strategy, |(which, severity, at, moves)| {
        let grid = &which.get(&all).grid;
        let (mild, bad) = (&grid[0][0], &grid[grid.len() - 1][0]);
        let mode = match (mild.mode.severity(), bad.mode.severity()) {
            (Some(a), Some(b)) => mild.mode.with_severity(a * (b / a).powf(severity)),
            _ => mild.mode,
        };
        let fault = Fault {
            mode,
            at,
            ..mild.clone()
        };
        let Some(lesson) = common::lesson(&circuit, std::slice::from_ref(&fault)) else {
            return Err(TestCaseError::reject("does not show"));
        };
        let mut session = Session::start(&lesson);
        let mut suspects = Suspects::after_complaint(&lesson).unwrap();
        for (control, position, kind, what) in moves {
            let controls = circuit.controls();
            let control = control.get(&controls);
            let probe = match kind {
                0 => Probe::Pickup {
                    lead: "W6".to_owned(),
                },
                1 => Probe::Clamp {
                    wire: what.get(&wires).clone(),
                },
                _ => Probe::Leads {
                    red: what.get(&points).clone(),
                    black: "BAT.-".to_owned(),
                },
            };
            let scope = Scope {
                channels: vec![probe],
                sweep_s: SWEEPS[4 + what.index(4)],
                level: [None, Some(-300.0), Some(2.0)][what.index(3)],
                falling: what.index(2) == 0,
                attenuation: Attenuation::Ten,
                acquire: Acquire::Peak,
            };
            let moved = set(&control.name, position.get::<String>(&control.positions));
            for action in [moved, screen(scope, &[])] {
                // What the bench refuses changes nothing.
                let Ok(step) = session.act(action) else {
                    continue;
                };
                let step = step.clone();
                suspects.follow(&step).unwrap();
                screens.set(screens.get() + 1);
                prop_assert!(
                    suspects.places().contains(&fault.place),
                    "{} was ruled out by {:#?}",
                    fault.about(&circuit),
                    session
                        .steps()
                        .iter()
                        .map(|s| &s.action)
                        .collect::<Vec<_>>()
                );
            }
        }
        Ok(())
    });
    run.unwrap_or_else(|e| panic!("{e}"));
    println!("{} steps followed", screens.get());
}

/// Two cursors a firing apart on a breaker of four cylinders at 900 rpm: 33.3 ms, 30 Hz, by arithmetic; and
/// a screen that was kept as CSV comes back as it was.
#[test]
fn cursors_and_files_read_what_the_screen_shows() {
    let circuit = common::demo("baggage-tug-ignition");
    let bench = common::with(&circuit, &[], &[("key", "run"), ("engine", "idle")]);
    let scope = Scope {
        channels: vec![
            Probe::Leads {
                red: "B1.1".to_owned(),
                black: "BAT.-".to_owned(),
            },
            Probe::Clamp {
                wire: "W6".to_owned(),
            },
        ],
        sweep_s: 0.1,
        level: Some(60.0),
        falling: false,
        attenuation: Attenuation::Ten,
        acquire: Acquire::Peak,
    };
    let shot = capture(&bench, &scope).unwrap();
    let columns = shot.traces[0].columns.len();
    // The highest column of the first firing and of the one after it.
    let highest = |from: usize, to: usize| {
        let most = |n: &usize| shot.traces[0].columns[*n][1];
        (from..to)
            .max_by(|a, b| most(a).total_cmp(&most(b)))
            .unwrap()
    };
    let firing = columns / 3;
    let first = highest(columns / 5 - 20, columns / 5 + 20);
    let next = highest(first + firing - 20, first + firing + 20);
    let read = shot.between(Cursors { a: next, b: first }).unwrap();
    let ms: f64 = read.time.split(' ').next().unwrap().parse().unwrap();
    assert!((ms - 1e3 / 30.0).abs() < 1.0, "{read:?}");
    assert!(read.time.ends_with("Hz"), "{read:?}");
    assert_eq!(read.channels.len(), 2);
    // The breaker is closed for 55 % of the time, and the coil then carries amperes.
    assert!(read.channels[1][0].contains(" A"), "{read:?}");
    let beyond = shot.between(Cursors { a: 0, b: columns });
    assert!(beyond.unwrap_err().contains("0 to 599"));

    let back = Capture::from_csv(&shot.csv()).unwrap();
    assert!((back.sweep_s - shot.sweep_s).abs() < 1e-5);
    assert!((back.before_s - shot.before_s).abs() < 1e-4);
    for (was, is) in shot.traces.iter().zip(&back.traces) {
        assert_eq!(
            (&was.name, &was.unit, &was.probe),
            (&is.name, &is.unit, &is.probe)
        );
        for (a, b) in was
            .columns
            .iter()
            .flatten()
            .zip(is.columns.iter().flatten())
        {
            assert!((a - b).abs() < 1e-5, "{a} {b}");
        }
    }
    // What is damaged is refused with the line and what was expected.
    let text = shot.csv();
    for (bad, words) in [
        (text.replace("seconds", "time"), "line 1: expected seconds"),
        (text.replacen("most V", "top V", 1), "line 1: "),
        (
            text.lines().take(2).collect::<Vec<_>>().join("\n"),
            "two rows",
        ),
        (text.replacen("\n-0.01", "\nx", 1), "is no number"),
        (String::new(), "line 1"),
    ] {
        let refused = Capture::from_csv(&bad).unwrap_err();
        assert!(refused.contains(words), "{words}: {refused}");
    }
}

/// A sweep takes every single fault through a screen: what kills the spark shows at the king lead, what only
/// concerns the panel looks the same, and a row says what differs.
#[test]
fn a_sweep_says_what_each_fault_changes_on_a_screen() {
    let circuit = pump();
    let mut bench = common::with(&circuit, &[], &[("rope", "pulled")]);
    let state = bench.state().clone();
    let faults = swept(&circuit);
    assert!(faults.len() > circuit.places().count() / 2);
    let rows = sweep(&circuit, &state, &pickup("W6"), &faults).unwrap();
    assert_eq!(rows.len(), faults.len());
    let row = |place: &str, mode: &str| {
        let found = rows
            .iter()
            .find(|r| r.fault.place == place && r.fault.mode == mode);
        found
            .unwrap_or_else(|| panic!("{place} {mode}"))
            .differs
            .clone()
    };
    assert!(!row("A1", "module_open").is_empty());
    assert!(!row("W7", "short_to_ground").is_empty());
    assert!(row("W3", "open").is_empty());
    assert!(row("F1", "blown").is_empty());
    // Each row is what the fault by itself shows.
    for (fault, row) in faults.iter().zip(&rows).step_by(9) {
        bench = Bench::new(&circuit, std::slice::from_ref(fault)).unwrap();
        bench.set(state.clone()).unwrap();
        let seen = capture(&bench, &pickup("W6")).unwrap();
        let healthy = common::with(&circuit, &[], &[("rope", "pulled")]);
        let usual = capture(&healthy, &pickup("W6")).unwrap();
        let unit = seen.traces[0].measures();
        let words = seen.traces[0]
            .features
            .differs(&usual.traces[0].features, unit);
        assert_eq!(words.is_empty(), row.differs.is_empty(), "{}", row.about);
    }
}

/// An attempt that is gone on with stands where it was left, and goes on as one that was never left: what its
/// instruments showed is kept, what blew is blown.
#[test]
fn an_attempt_goes_on_where_it_was_left() {
    let circuit = pump();
    let lesson = lesson(&circuit, "A1:module_open", false);
    let reading = |function: Function, red: &str, black: Option<&str>| {
        Action::TakeReading(TakeReading {
            function,
            range: None,
            red: Some(red.to_owned()),
            black: black.map(str::to_owned),
            expected: None,
            supposing: None,
            touch: cimento_diagnosis::attempt::Touch::BackProbe,
            partner: None,
        })
    };
    let actions = [
        set("rope", "pulled"),
        screen(pickup("W6"), &[]),
        reading(Function::SPARK_TESTER, "W6", None),
        // Amperes across the battery: the meter's fuse goes.
        reading(Function::DC_AMPS, "BAT.+", Some("BAT.-")),
        reading(Function::DC_VOLTS, "BAT.+", Some("BAT.-")),
    ];
    let whole = Session::replay(&lesson, &actions).unwrap();
    for left in 0..=actions.len() {
        // As they come back from where they are kept.
        let text = serde_json::to_string(&whole.steps()[..left]).unwrap();
        let kept: Vec<cimento_diagnosis::attempt::Step> = serde_json::from_str(&text).unwrap();
        let mut resumed = Session::resume(&lesson, &kept).unwrap();
        for action in &actions[left..] {
            resumed.act(action.clone()).unwrap();
        }
        assert_eq!(resumed.steps(), whole.steps(), "left after {left}");
        assert_eq!(resumed.meter(), whole.meter());
    }
    assert!(whole.meter().fuse_blown);
}

fn idling(circuit: &Arc<Circuit>, faults: &[&str], scope: &Scope) -> Capture {
    let bench = common::with(circuit, faults, &[("key", "run"), ("engine", "idle")]);
    capture(&bench, scope).unwrap()
}

/// A spark of a coil burns one to three milliseconds, one through an aged lead shorter, and one that never
/// jumps not at all; that of a capacitor is over in a hundredth of it (common practice).
#[test]
fn a_pickup_clip_shows_how_long_a_spark_burns() {
    let burns_ms = |name: &str, lead: &str, faults: &[&str]| {
        let circuit = common::demo(name);
        let screen = idling(&circuit, faults, &pickup(lead));
        screen.traces[0].features.burns_s.unwrap() * 1e3
    };
    let tug = "baggage-tug-ignition";
    let sound = burns_ms(tug, "W13", &[]);
    assert!((1.0..3.0).contains(&sound), "{sound} ms");
    let aged = burns_ms(tug, "W13", &["W13:high_resistance=100000"]);
    assert!(aged < 0.6 * sound, "{aged} ms of {sound} ms");
    assert!(burns_ms(tug, "W13", &["W13:open"]) < 0.01);
    let capacitor = burns_ms("belt-loader-ignition", "W21", &[]);
    assert!((0.01..0.2).contains(&capacitor), "{capacitor} ms");
    // Two screens that differ in nothing else differ in that.
    let circuit = common::demo(tug);
    let [a, b] = [&[][..], &["W13:high_resistance=100000"]].map(|f| {
        idling(&circuit, f, &pickup("W13"))
            .traces
            .remove(0)
            .features
    });
    let said = b.differs(&a, cimento_model::units::Unit::Volt);
    assert!(said.iter().any(|s| s.starts_with("burns ")), "{said:?}");
    let none = idling(&circuit, &["W13:open"], &pickup("W13"));
    let said = none.traces[0]
        .features
        .differs(&a, cimento_model::units::Unit::Volt);
    let words = "no spark against one of";
    assert!(said.iter().any(|s| s.starts_with(words)), "{said:?}");
}

/// A scope that samples misses what is shorter than a column of its screen: the breaker's kick of some
/// hundreds of volts is there on a fast sweep, and on a slow one only when it looks for peaks.
#[test]
fn sampling_misses_a_spike_that_peak_detection_keeps() {
    let circuit = common::demo("baggage-tug-ignition");
    let most = |sweep_s: f64, acquire: Acquire| {
        let scope = Scope {
            channels: vec![Probe::Leads {
                red: "T1.1".to_owned(),
                black: "BAT.-".to_owned(),
            }],
            sweep_s,
            level: None,
            falling: false,
            attenuation: Attenuation::Ten,
            acquire,
        };
        let features = idling(&circuit, &[], &scope).traces.remove(0).features;
        features.most.max(-features.least)
    };
    let kick = most(0.2, Acquire::Peak);
    assert!((100.0..500.0).contains(&kick), "{kick} V");
    assert!(most(0.2, Acquire::Sample) < 0.7 * kick);
    assert!((most(1.0, Acquire::Peak) / kick - 1.0).abs() < 0.1);
}

/// How often a trace pulses counts as much as how it goes and how far, where it was asked.
#[test]
fn how_often_it_pulses_is_part_of_what_one_says() {
    let so = Looks {
        form: Form::Pulses,
        peak: Peak::To5k,
        often: Some(Often::Few),
    };
    let said = |often| Looks { often, ..so }.right(so);
    assert_eq!(said(None), 1.0);
    assert_eq!(said(Some(Often::Few)), 1.0);
    assert!((said(Some(Often::Once)) - 2.0 / 3.0).abs() < 1e-12);
    // Four cylinders in two turns: at 900 rpm the coil's lead pulses 30 times a second.
    let circuit = common::demo("baggage-tug-ignition");
    let scope = Scope {
        sweep_s: 0.1,
        ..pickup("W12")
    };
    let looks = idling(&circuit, &[], &scope).traces[0].features.looks;
    assert_eq!(looks.often, Some(Often::Few), "{looks:?}");
    let scope = pickup("W12");
    let looks = idling(&circuit, &[], &scope).traces[0].features.looks;
    assert_eq!(looks.often, Some(Often::Many), "{looks:?}");
}

/// Leads without attenuation load the circuit with 1 MΩ and stand 60 V, those that divide by ten 10 MΩ and 600 V
/// (common practice).
#[test]
fn attenuation_lets_the_leads_stand_more() {
    let circuit = common::demo("baggage-tug-ignition");
    let bench = common::with(&circuit, &[], &[("key", "run"), ("engine", "idle")]);
    let at = |point: &str, attenuation: Attenuation| {
        let scope = Scope {
            channels: vec![Probe::Leads {
                red: point.to_owned(),
                black: "BAT.-".to_owned(),
            }],
            attenuation,
            sweep_s: 0.1,
            ..pickup("W12")
        };
        capture(&bench, &scope).map_err(|e| e.to_string())
    };
    assert!(at("T1.15", Attenuation::One).is_ok());
    let refused = at("T1.1", Attenuation::One).unwrap_err();
    assert!(
        refused.contains("more than 60 V at T1.1: set the attenuation to ×10"),
        "{refused}"
    );
    assert!(at("T1.1", Attenuation::Ten).is_ok());
    let refused = at("T1.4", Attenuation::Ten).unwrap_err();
    assert!(refused.contains("more than 600 V"), "{refused}");
    assert!(refused.contains("pickup clip"), "{refused}");
}
