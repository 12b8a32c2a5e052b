//! What every entry of a registry owes to the rest.

use std::collections::BTreeSet;

use cimento_bench::instruments::{
    ALL, Function, InstrumentInfo, Keyed, Meter, PutOn, Range, TakeError, take, take_with,
};
use cimento_model::circuit::{ConductorKind, Place};
use cimento_model::faults::{CONDUCTOR_MODES, Fault, FaultDoc, LeadsTo};
use cimento_model::part::ParamKind;
use cimento_model::part::Shelf;
use cimento_model::state::OperatingState;

use crate::common;

/// Names, labels and titles are an instrument's own.
#[test]
fn no_two_instruments_are_called_alike() {
    for told in [
        ALL.iter().map(|i| i.name()).collect::<Vec<_>>(),
        ALL.iter().map(|i| i.label()).collect(),
        ALL.iter().map(|i| i.title()).collect(),
    ] {
        let one: BTreeSet<_> = told.iter().collect();
        assert_eq!(one.len(), told.len(), "{told:?}");
    }
}

/// An instrument is found again by the name that documents spell, and by no other.
#[test]
fn a_function_is_spelt_by_its_name() {
    for function in Function::all() {
        assert_eq!(Function::parse(function.name()), Some(function));
        let text = serde_json::to_string(&function).unwrap();
        assert_eq!(text, format!("\"{}\"", function.name()));
        assert_eq!(serde_json::from_str::<Function>(&text).unwrap(), function);
    }
    assert_eq!(Function::parse("volts"), None);
    let refused = serde_json::from_str::<Function>("\"volts\"").unwrap_err();
    assert!(refused.to_string().contains("dc_volts, ohms"), "{refused}");
}

/// Ranges go up, an accuracy is never less than nothing, and settings have words for each range.
#[test]
fn ranges_and_settings_are_whole() {
    for function in Function::all() {
        let ranges = function.ranges();
        assert!(!ranges.is_empty(), "{function:?}");
        assert!(ranges.is_sorted_by(|a, b| a.0 < b.0), "{function:?}");
        for range in ranges {
            assert!(function.step(*range) > 0.0, "{function:?}");
            let errors = [0.0, range.0 / 2.0, -range.0].map(|v| function.accuracy(v, *range));
            assert!(
                errors.iter().all(|e| *e >= 0.0 && e.is_finite()),
                "{function:?}"
            );
        }
        let settings = function.settings();
        assert!(
            settings.is_empty() || settings.len() == ranges.len(),
            "{function:?}"
        );
        let info = InstrumentInfo::from(function);
        if let Some(usual) = info.usual_setting {
            assert!(
                info.settings.iter().any(|s| s.value == usual),
                "{function:?}"
            );
        }
    }
}

/// What has one lead says so when it is put on nothing of its kind, and what has two reads something
/// between any two points.
#[test]
fn each_is_put_on_what_it_says() {
    let circuit = common::tug();
    let bench = common::with(&circuit, &[], &[("key", "run")]);
    for function in Function::all() {
        let taken = take(&bench, function, None, Some("K3.86"), Some("BAT.-"));
        match function.put_on() {
            PutOn::Points => assert!(taken.is_ok(), "{function:?}"),
            PutOn::Wire | PutOn::IgnitionLead | PutOn::Module | PutOn::Pin => {
                assert!(
                    matches!(taken, Err(e) if !matches!(e, TakeError::Bench(_))),
                    "{function:?}"
                );
            }
        }
    }
}

/// What a plan may be proposed can be measured.
#[test]
fn what_is_proposed_can_be_taken() {
    for name in common::demo_names() {
        let circuit = common::demo(&name);
        let Some(trial) = OperatingState::trial(&circuit).into_iter().next_back() else {
            continue;
        };
        let mut bench = common::with(&circuit, &[], &[]);
        bench.set(trial.state).unwrap();
        for function in Function::all() {
            for (red, black) in function
                .proposes(&circuit, bench.state())
                .into_iter()
                .take(2)
            {
                let taken = take(&bench, function, None, Some(&red), black.as_deref());
                assert!(taken.is_ok(), "{name}: {function:?} at {red}: {taken:?}");
            }
        }
    }
}

/// What looks for volts at a point does so in an order, and the answer key knows how to write it down.
#[test]
fn what_looks_for_volts_is_ordered() {
    let fine: Vec<u8> = Function::all().filter_map(|f| f.fineness()).collect();
    let one: BTreeSet<u8> = fine.iter().copied().collect();
    assert_eq!(one.len(), fine.len());
    assert_eq!(Function::DC_VOLTS.keyed(), Keyed::PointsAndDrops);
    assert_eq!(Function::OHMS.keyed(), Keyed::ByItself);
}

/// A meter's own error hangs on the meter and the function, not on where that stands in a list, and lies
/// within its accuracy.
#[test]
fn a_meter_s_error_is_its_own_and_small() {
    let circuit = common::tug();
    let bench = common::with(&circuit, &[], &[("key", "run")]);
    let shown = |seed: u64, function: Function| {
        let meter = Meter {
            seed,
            ..Meter::default()
        };
        let reading = take_with(
            &meter,
            &bench,
            function,
            Some(Range(60.0)),
            Some("BAT.+"),
            Some("BAT.-"),
        );
        reading.unwrap().shown.value.number()
    };
    let ideal = shown(0, Function::DC_VOLTS);
    let all: Vec<f64> = (1..40)
        .map(|seed| shown(seed, Function::DC_VOLTS))
        .collect();
    let most = Function::DC_VOLTS.accuracy(ideal, Range(60.0)) + 0.01;
    assert!(
        all.iter().all(|v| (v - ideal).abs() <= most),
        "{ideal}: {all:?}"
    );
    assert!(all.iter().any(|v| *v != all[0]));
    assert!((1..40).any(|seed| shown(seed, Function::MIN_MAX) != shown(seed, Function::DC_VOLTS)));
}

/// Every mode that a part's file names in its code is declared in its table, and every parameter has a usual
/// value within its range.
#[test]
fn parts_declare_what_they_have() {
    for kind in cimento_parts::ALL {
        let names: Vec<_> = kind.modes().iter().map(|m| m.name).collect();
        let one: BTreeSet<_> = names.iter().collect();
        assert_eq!(one.len(), names.len(), "{}: {names:?}", kind.kind());
        for mode in kind.modes() {
            assert!(mode.prior > 0.0, "{} {}", kind.kind(), mode.name);
            if let Some(s) = mode.severity {
                assert!(
                    s.least < s.most && (s.least..=s.most).contains(&s.usual),
                    "{} {}",
                    kind.kind(),
                    mode.name
                );
            }
        }
        for spec in kind.params() {
            if let ParamKind::Number {
                default,
                least,
                most,
                ..
            } = spec.kind
            {
                assert!(
                    (least..=most).contains(&default),
                    "{} {}",
                    kind.kind(),
                    spec.name
                );
            }
        }
        for (a, b) in kind.loads() {
            let has = |name: &str| kind.terminals().iter().any(|t| t.name == name);
            assert!(has(a) && has(b), "{}: {a} {b}", kind.kind());
        }
    }
}

/// Every way in which conductors fail is told of a kind of conductor, is read and written as a document, changes
/// the netlist or moves where a lead goes, and is shown or stays inside.
#[test]
fn conductor_modes_are_whole() {
    let names: BTreeSet<_> = CONDUCTOR_MODES.iter().map(|m| m.name).collect();
    assert_eq!(names.len(), CONDUCTOR_MODES.len());
    let mut used = BTreeSet::new();
    for name in common::demo_names() {
        let circuit = common::demo(&name);
        let kinds = circuit.conductors.iter().enumerate();
        for (n, conductor) in kinds {
            for spec in circuit.modes(Place::Conductor(n)) {
                let how = spec.conductor.expect("a conductor's mode is described");
                assert_eq!(how.name, spec.name);
                assert_eq!(
                    spec.severity.map_or(how.unit, |s| s.unit),
                    how.unit,
                    "{}",
                    spec.name
                );
                if !used.insert((
                    spec.name,
                    conductor.kind as usize,
                    conductor.ignition_lead.is_some(),
                )) {
                    continue;
                }
                let other = circuit.conductors.iter().enumerate().find(|(m, _)| {
                    *m != n && (how.leads_to != LeadsTo::Crossed || circuit.can_cross(n, *m))
                });
                let doc = FaultDoc {
                    place: conductor.id.clone(),
                    mode: spec.name.to_owned(),
                    other: other
                        .filter(|_| how.is_between())
                        .map(|(_, c)| c.id.clone()),
                    ..FaultDoc::default()
                };
                let Ok(fault) = Fault::read(&circuit, &doc, "fault") else {
                    assert!(
                        how.leads_to != LeadsTo::Nowhere,
                        "{} of {}",
                        spec.name,
                        conductor.id
                    );
                    continue;
                };
                let again = Fault::read(&circuit, &fault.doc(&circuit), "fault").unwrap();
                assert_eq!(again, fault, "{}", spec.name);
                assert_eq!(again.mode.severity(), spec.severity.map(|s| s.usual));
                let effect = fault.mode.effect(&circuit, conductor, 1.0);
                let changes = effect.series_ohms != 0.0 || effect.beside.is_some();
                let moves = how.leads_to == LeadsTo::Crossed || how.jump.is_some();
                assert!(
                    changes || moves || conductor.ohms == 0.0,
                    "{} does nothing",
                    spec.name
                );
                assert_eq!(
                    effect.beside.is_some(),
                    how.taps() && how.jump.is_none(),
                    "{}",
                    spec.name
                );
            }
        }
    }
    let told: BTreeSet<_> = used.iter().map(|(name, ..)| *name).collect();
    assert_eq!(told, names);
}

/// The strings of modes and parameters in the parts' sources are all declared somewhere.
#[test]
fn no_mode_or_parameter_is_asked_for_that_nobody_declares() {
    let mut modes = BTreeSet::new();
    let mut params = BTreeSet::new();
    for kind in cimento_parts::ALL {
        modes.extend(kind.modes().iter().map(|m| m.name.to_owned()));
        params.extend(kind.params().iter().map(|p| p.name.to_owned()));
    }
    // Pins declare theirs for parameters that only a circuit has.
    for name in common::demo_names() {
        let circuit = common::demo(&name);
        for place in circuit.places() {
            modes.extend(circuit.modes(place).iter().map(|m| m.name.to_owned()));
        }
        assert!(
            circuit
                .conductors
                .iter()
                .any(|c| c.kind == ConductorKind::Wire)
        );
    }
    let asked = |text: &str, call: &str| -> Vec<String> {
        let after = text.split(call).skip(1);
        let names = after.filter_map(|t| t.strip_prefix('"')?.split('"').next());
        names.map(str::to_owned).collect()
    };
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../parts/src");
    let mut files = vec![std::path::PathBuf::from(folder)];
    let mut found = 0;
    while let Some(path) = files.pop() {
        if path.is_dir() {
            files.extend(std::fs::read_dir(&path).unwrap().map(|e| e.unwrap().path()));
            continue;
        }
        let text = std::fs::read_to_string(&path).unwrap();
        for name in asked(&text, ".fault(") {
            found += 1;
            assert!(modes.contains(&name), "{}: no mode {name}", path.display());
        }
        for call in [".param(", ".number("] {
            for name in asked(&text, call) {
                found += 1;
                assert!(
                    params.contains(&name),
                    "{}: no parameter {name}",
                    path.display()
                );
            }
        }
    }
    assert!(found > 150, "only {found} names were found");
}

/// Everything lies on the shelf where a practitioner would look for it.
#[test]
fn everything_lies_on_its_shelf() {
    let on = |shelf: Shelf| -> Vec<&str> {
        let all = cimento_parts::ALL.iter().filter(|k| k.shelf() == shelf);
        all.map(|k| k.kind()).collect()
    };
    for shelf in Shelf::ALL {
        assert!(!on(shelf).is_empty(), "{} is empty", shelf.title());
    }
    let loads = [
        "lamp",
        "warning_lamp",
        "led",
        "horn",
        "injector",
        "solenoid_valve",
        "heater",
        "blower",
    ];
    assert_eq!(on(Shelf::Loads), loads);
    let supply = ["battery", "alternator", "stator", "regulator_rectifier"];
    assert_eq!(on(Shelf::Supply), supply);
    assert_eq!(on(Shelf::Starting), ["starter", "hand_starter", "engine"]);
    let protection = ["fuse", "fusible_link", "circuit_breaker"];
    assert_eq!(on(Shelf::Protection), protection);
}
