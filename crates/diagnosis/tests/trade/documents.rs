//! Documents: what is wrong is said with its place; nothing hostile makes the reader fall over.

use crate::common;
use cimento_parts::read_circuit;

use cimento_bench::Bench;
use cimento_bench::instruments::{Function, read};
use cimento_bench::spice::spice_netlist;
use cimento_diagnosis::lesson::Lesson;
use cimento_model::circuit::{WireDoc, read_wire_list, write_wire_list};
use cimento_model::faults::Fault;
use cimento_model::state::OperatingState;
use proptest::prelude::*;

/// The refusals of the tug's document after one replacement.
fn refusals(from: &str, to: &str) -> Vec<(String, String)> {
    assert!(common::TUG.contains(from), "{from} is not in the document");
    match read_circuit(&common::TUG.replacen(from, to, 1)) {
        Ok(_) => Vec::new(),
        Err(refused) => refused.0.into_iter().map(|p| (p.path, p.message)).collect(),
    }
}

#[test]
fn mistakes_are_named_with_their_path_and_what_was_expected() {
    for (from, to, path, words) in [
        ("\"version\": 1", "\"version\": 7", "version", "expected 1"),
        (
            "\"system_v\": 12",
            "\"system_v\": \"twelve\"",
            "system_v",
            "expected f64",
        ),
        (
            "\"kind\": \"relay\"",
            "\"kind\": \"rely\"",
            "parts.K3.kind",
            "expected one of battery",
        ),
        (
            "\"rating_a\": 15",
            "\"rating_a\": -15",
            "parts.F2.params.rating_a",
            "from 1 to 500 A",
        ),
        (
            "\"rating_a\": 15",
            "\"rating\": 15",
            "parts.F2.params.rating",
            "expected rating_a",
        ),
        (
            "\"from\": \"S1.50\"",
            "\"from\": \"S1.51\"",
            "wires[6].from",
            "expected 30, ACC, 15, 50",
        ),
        (
            "\"to\": \"C12.4m\"",
            "\"to\": \"C12.9m\"",
            "wires[6].to",
            "1 to 6",
        ),
        (
            "\"id\": \"W8\"",
            "\"id\": \"W7\"",
            "wires[7].id",
            "used twice",
        ),
        (
            "\"area_mm2\": 1.0",
            "\"area_mm2\": -1.0",
            "wires[6].area_mm2",
            "expected 0.05 to 500 mm²",
        ),
        (
            "\"color\": \"VT/WH\"",
            "\"color\": \"XX\"",
            "wires[6].color",
            "IEC 60757",
        ),
        (
            "\"harness\": \"main\"",
            "\"harnes\": \"main\"",
            "splices.SP1.harnes",
            "unknown field",
        ),
        (
            "\"mount\": \"engine\"",
            "\"mount\": \"\"",
            "parts.M1.mount",
            "is no id",
        ),
    ] {
        let found = refusals(from, to);
        let hit = found.iter().any(|(p, m)| p == path && m.contains(words));
        assert!(hit, "{to}: expected {path} with “{words}”, got {found:?}");
    }
}

#[test]
fn several_mistakes_are_told_at_once() {
    let text = common::TUG
        .replace("\"from\": \"S1.50\"", "\"from\": \"S9.50\"")
        .replace("C14.1f", "C14.7f");
    let refused = read_circuit(&text).err().expect("it is refused");
    assert!(refused.0.len() >= 2, "{refused}");
}

#[test]
fn an_instructor_is_warned_of_what_looks_wrong_but_works() {
    let dead = common::TUG.replace(
        "\"from\": \"K3.87\", \"to\": \"C12.1f\"",
        "\"from\": \"K3.87\", \"to\": \"C12.2f\"",
    );
    let circuit = read_circuit(&dead).unwrap();
    let said: Vec<String> = circuit.warnings.iter().map(ToString::to_string).collect();
    for words in [
        "nothing is wired to C12.1f",
        "nothing is wired to C12.2m",
        "M1 has no complete path",
    ] {
        assert!(
            said.iter().any(|s| s.contains(words)),
            "“{words}” is missing in {said:?}"
        );
    }
    assert!(
        common::tug().warnings.is_empty(),
        "the demo circuit has nothing to warn of"
    );
}

#[test]
fn a_wire_list_survives_the_way_out_and_in() {
    let wires = common::tug().doc.wires.clone();
    assert_eq!(read_wire_list(&write_wire_list(&wires)).unwrap(), wires);
    // Gauges, given resistances and free ends come back too.
    let mut odd = common::demo("baggage-tug-ignition").doc.wires.clone();
    (odd[0].awg, odd[0].area_mm2) = (Some(12), None);
    odd[1].capped = vec!["to".to_owned()];
    assert_eq!(read_wire_list(&write_wire_list(&odd)).unwrap(), odd);
    let bad = "id,from,to,area_mm2,length_m,color,harness\nW1,A.1,B.1,thick,1,RD,\n";
    assert!(
        read_wire_list(bad)
            .unwrap_err()
            .to_string()
            .contains("row 2, area_mm2")
    );
    assert!(
        read_wire_list("a,b\n1,2\n")
            .unwrap_err()
            .to_string()
            .contains("row 1")
    );
}

#[test]
fn a_lesson_whose_fault_does_not_show_is_refused() {
    let lesson = |place: &str, mode: &str| {
        let text = format!(
            "{{\"format\":\"cimento/lesson\",\"version\":1,\"title\":\"t\",\"complaint\":\"c\",\"circuit\":{},\"faults\":[{{\"place\":\"{place}\",\"mode\":\"{mode}\"}}]}}",
            common::TUG
        );
        Lesson::read(&text)
    };
    assert!(lesson("K3", "coil_open").is_ok());
    let refused = lesson("S2", "contact_stuck")
        .err()
        .expect("a clutch switch stuck closed does not stop the tug");
    assert!(
        refused
            .to_string()
            .contains("behaves as if it were healthy"),
        "{refused}"
    );
    assert!(
        lesson("K3", "melted")
            .err()
            .expect("no such mode")
            .to_string()
            .starts_with("faults[0].mode")
    );
}

/// Every single fault of every demo circuit reads back as itself, and so does every circuit.
#[test]
fn circuits_and_faults_survive_their_documents() {
    let mut faults = 0;
    for name in [
        "baggage-tug-starting",
        "belt-loader-starting",
        "sweeper-lamps",
        "ground-power-unit-cabin",
    ] {
        let circuit = common::demo(name);
        let text = serde_json::to_string(&circuit.doc).unwrap();
        assert_eq!(read_circuit(&text).unwrap().doc, circuit.doc, "{name}");
        for fault in cimento_diagnosis::suspects::candidates(&circuit, None)
            .into_iter()
            .flat_map(|c| c.grid.concat())
        {
            let doc = serde_json::to_string(&fault.doc(&circuit)).unwrap();
            let back = cimento_model::circuit::read_json(&doc).unwrap();
            assert_eq!(
                Fault::read(&circuit, &back, "fault").unwrap(),
                fault,
                "{name}: {doc}"
            );
            faults += 1;
        }
    }
    assert!(faults > 2000, "{faults}");
}

/// A state as it is written by hand reads, and its mistakes are named.
#[test]
fn a_state_is_read_and_checked() {
    let circuit = common::tug();
    let text = r#"{ "key": "start", "inputs": { "clutch": "down" }, "engine": "stopped", "unplugged": ["C12"],
        "removed": ["F2"], "jumpers": [["BAT.+", "K3.86"]],
        "supplies": [{ "plus": "BAT.+", "minus": "metal:engine", "volts": 12.8, "ohms": 0.02 }], "temperature_c": 20 }"#;
    let state: OperatingState = cimento_model::circuit::read_json(text).unwrap();
    state.check(&circuit).unwrap();
    let mut bench = Bench::new(&circuit, &[]).unwrap();
    bench.set(state).unwrap();
    let read: Result<OperatingState, _> =
        cimento_model::circuit::read_json(&text.replace("stopped", "flying"));
    assert!(
        read.unwrap_err()
            .to_string()
            .starts_with("engine: unknown variant")
    );
    for (from, to, path) in [
        ("start", "sideways", "key"),
        ("\"clutch\"", "\"gear\"", "inputs.gear"),
        ("C12", "C99", "unplugged[0]"),
        ("F2", "F99", "removed[0]"),
        ("K3.86", "K3.99", "jumpers"),
        ("0.02", "0", "supplies"),
        ("20 }", "900 }", "temperature_c"),
    ] {
        let state: OperatingState =
            cimento_model::circuit::read_json(&text.replace(from, to)).unwrap();
        let found = state.check(&circuit).unwrap_err();
        assert!(found.iter().any(|p| p.path == path), "{to}: {found:?}");
    }
}

/// A voltmeter changes what it reads by no more than its ten megohms load the point: nothing to speak
/// of on a fed point, and it can only pull a floating one towards its other lead.
#[test]
fn a_meter_changes_what_it_reads_by_its_loading_only() {
    let circuit = common::tug();
    for fault in ["", "W8:open", "G4:open", "C12.1:high_resistance=1000"] {
        let faults: Vec<Fault> = if fault.is_empty() {
            vec![]
        } else {
            vec![common::fault(&circuit, fault)]
        };
        let mut bench = Bench::new(&circuit, &faults).unwrap();
        for trial in OperatingState::trial(&circuit) {
            bench.set(trial.state).unwrap();
            let point = &bench.settled().points[0];
            for at in &circuit.test_points {
                let open = point.op.voltage(point.wiring.node(at.node));
                let shown = read(
                    &bench,
                    Function::DC_VOLTS,
                    None,
                    Some(at),
                    circuit.test_point("BAT.-"),
                )
                .unwrap()
                .shown;
                let seen = shown.value.number();
                assert!(
                    seen.abs() <= open.abs() + 0.006,
                    "{fault} {}: {seen} V of {open} V",
                    at.id
                );
            }
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(600))]

    #[test]
    fn a_truncated_document_is_refused_and_never_panics(cut in 0usize..common::TUG.len() - 2) {
        let end = (cut..).find(|n| common::TUG.is_char_boundary(*n)).unwrap();
        prop_assert!(read_circuit(&common::TUG[..end]).is_err());
    }

    #[test]
    fn a_damaged_document_never_panics(at in 0usize..common::TUG.len(), bytes in proptest::collection::vec(any::<u8>(), 1..6)) {
        let mut text = common::TUG.as_bytes().to_vec();
        let end = (at + bytes.len()).min(text.len());
        text.splice(at..end, bytes);
        if let Ok(circuit) = read_circuit(&String::from_utf8_lossy(&text)) {
            // What is accepted can also be settled, or says why not.
            let _ = Bench::new(&circuit, &[]);
        }
    }

    #[test]
    fn any_text_at_all_never_panics(text in ".{0,200}") {
        prop_assert!(read_circuit(&text).is_err());
        prop_assert!(Lesson::read(&text).is_err());
    }

    #[test]
    fn hostile_numbers_are_refused_or_solved(value in prop_oneof![Just(1e308), Just(-1e308), Just(1e-308), any::<f64>()]) {
        if value.is_finite() {
            let text = common::TUG.replacen("\"length_m\": 0.3", &format!("\"length_m\": {value:e}"), 1);
            if let Ok(circuit) = read_circuit(&text) {
                prop_assert!(Bench::new(&circuit, &[]).is_ok());
            }
        }
    }
}

/// A small circuit with one of everything that holds a text, and what is written in each.
fn with_text(at: &str, text: &str) -> serde_json::Value {
    let mut doc = serde_json::json!({"format": "cimento/circuit", "version": 1, "title": "t", "system_v": 12,
        "parts": {"BAT": {"kind": "battery", "name": "Battery"},
            "S1": {"kind": "switch", "control": "lamps"}, "H1": {"kind": "lamp", "name": "Lamp"}},
        "connectors": {"C1": {"cavities": 1, "place": "bulkhead"}},
        "splices": {"SP1": {"harness": "front"}},
        "grounds": {"G1": {"metal": "body", "place": "left rail"}},
        "wires": [{"id": "W1", "from": "BAT.+", "to": "S1.1", "harness": "front"}, {"id": "W2", "from": "S1.2", "to": "C1.1m"},
            {"id": "W3", "from": "C1.1f", "to": "SP1"}, {"id": "W4", "from": "SP1", "to": "H1.1"},
            {"id": "W5", "from": "H1.2", "to": "G1"}, {"id": "W6", "from": "BAT.-", "to": "G1"}]});
    *doc.pointer_mut(at).unwrap() = text.into();
    doc
}

const TEXTS: [&str; 7] = [
    "/title",
    "/parts/BAT/name",
    "/parts/S1/control",
    "/connectors/C1/place",
    "/splices/SP1/harness",
    "/grounds/G1/place",
    "/wires/0/harness",
];

/// A new line in a text would be a command in a netlist; each is refused with its place.
#[test]
fn texts_of_a_circuit_stand_in_one_line() {
    for at in TEXTS {
        let doc = with_text(at, "front\n.control\nshell touch here\n.endc");
        let refused = read_circuit(&doc.to_string()).err().expect(at);
        let (path, said) = (&refused.0[0].path, &refused.0[0].message);
        let name = at.rsplit('/').next().unwrap();
        assert!(path.ends_with(name), "{at}: {path}");
        assert!(said.contains("expected text in one line"), "{at}: {said}");
        let long = with_text(at, &"x".repeat(5000));
        assert!(read_circuit(&long.to_string()).is_err(), "{at}");
    }
}

proptest! {
    /// Whatever a text holds, no line of a netlist and no cell of a list is made by it.
    #[test]
    fn texts_make_no_commands_and_no_formulas(at in 0..TEXTS.len(), text in "[=+@\\-'\"<>;,.*a-c \\n\\r\\t\\x00]{0,12}") {
        let doc = with_text(TEXTS[at], &text);
        let Ok(circuit) = read_circuit(&doc.to_string()) else { return Ok(()) };
        let bench = Bench::new(&circuit, &[]).unwrap();
        let plain = Bench::new(&read_circuit(&with_text(TEXTS[at], "x").to_string()).unwrap(), &[]).unwrap();
        let commands = |bench: &Bench| {
            let net = spice_netlist(bench).unwrap();
            net.lines().filter(|l| !l.starts_with('*')).map(str::to_owned).collect::<Vec<_>>()
        };
        prop_assert_eq!(commands(&bench), commands(&plain));
        let list = write_wire_list(&circuit.doc.wires);
        let mut rows = csv::Reader::from_reader(list.as_bytes());
        for row in rows.records() {
            let row = row.unwrap();
            prop_assert!(row.iter().all(|cell| !cell.starts_with(['=', '+', '@', '-', '\t', '\r'])), "{:?}", row);
        }
let back = read_wire_list(&list).unwrap();
        let harness = |wire: &WireDoc| wire.harness.clone().unwrap_or_default().trim().to_owned();
        prop_assert_eq!(harness(&back[0]), harness(&circuit.doc.wires[0]));
    }
}

#[test]
fn what_would_be_lost_without_a_word_is_refused() {
    let base = with_text("/title", "t").to_string();
    let said = |text: &str| {
        read_circuit(text)
            .err()
            .map(|r| r.to_string())
            .unwrap_or_default()
    };
    // The last of two would win.
    let twice = base.replacen("\"H1\":{", "\"H1\":{\"kind\":\"lamp\"},\"H1\":{", 1);
    assert!(
        said(&twice).contains("“H1” stands here twice"),
        "{}",
        said(&twice)
    );
    // A mark at the beginning of a file is no mistake.
    assert_eq!(said(&format!("\u{feff}{base}")), "");
    let capped = base.replacen("\"id\":\"W2\"", "\"id\":\"W2\",\"capped\":[\"middle\"]", 1);
    assert!(
        said(&capped).contains("expected from or to"),
        "{}",
        said(&capped)
    );
    for awg in [i32::MIN, i32::MAX] {
        let sized = base.replacen("\"id\":\"W2\"", &format!("\"id\":\"W2\",\"awg\":{awg}"), 1);
        assert!(said(&sized).contains("AWG"), "{}", said(&sized));
    }
    // A lever that is to move with the key has not its positions.
    let tug = common::TUG.replacen(
        "\"kind\": \"relay\"",
        "\"kind\": \"switch\", \"control\": \"key\"",
        1,
    );
    assert!(said(&tug).contains("moves"), "{}", said(&tug));
}

#[test]
fn what_is_odd_but_works_is_said() {
    let mut doc = with_text("/title", "t");
    doc["wires"][5]["ohms"] = 0.01.into();
    doc["wires"][5]["area_mm2"] = 16.into();
    doc["wires"][4]["to"] = "BAT.-".into();
    doc["wires"]
        .as_array_mut()
        .unwrap()
        .push(serde_json::json!({"id": "W7", "from": "BAT.+", "to": "G1", "ohms": 0.01}));
    let circuit = read_circuit(&doc.to_string()).unwrap();
    let said: Vec<String> = circuit.warnings.iter().map(ToString::to_string).collect();
    for words in [
        "W6 has a size and a resistance",
        "BAT is bridged by what conducts alone",
    ] {
        assert!(said.iter().any(|s| s.contains(words)), "{words}: {said:?}");
    }
}

#[test]
fn an_ignition_that_nothing_turns_is_told() {
    let sound = common::demo("baggage-tug-ignition");
    let told = |circuit: &cimento_model::circuit::Circuit| {
        let mut all = circuit.warnings.iter();
        all.any(|w| w.to_string().contains("nothing turns the engine"))
    };
    assert!(!told(&sound));
    let mut doc = sound.doc.clone();
    doc.parts.shift_remove("M1");
    let is_left = |end: &str| !end.starts_with("M1.");
    doc.wires.retain(|w| is_left(&w.from) && is_left(&w.to));
    let text = serde_json::to_string(&doc).unwrap();
    assert!(told(&read_circuit(&text).unwrap()));
}

/// A module's condition in which everything is denied again and again is refused before it is followed.
#[test]
fn a_condition_is_bounded() {
    let text = std::fs::read_to_string(concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../../demo/circuits/belt-loader-module.json"
    ))
    .unwrap();
    let mut doc: serde_json::Value = serde_json::from_str(&text).unwrap();
    let parts = doc["parts"].as_object_mut().unwrap();
    let module = parts
        .values_mut()
        .find(|p| p["kind"] == "control_module")
        .unwrap();
    let deny = format!("{}3 high", "not ".repeat(40_000));
    let changed = module["params"].to_string().replacen("3 high", &deny, 1);
    module["params"] = serde_json::from_str(&changed).unwrap();
    let said = read_circuit(&doc.to_string()).err().unwrap().to_string();
    assert!(said.contains("characters are too many"), "{}", &said[..200]);
}
