//! Saying a path: a whole circuit from lines, errors that point at the word, and lines from circuits.

use crate::common;
use cimento_parts::build_circuit;
use cimento_parts::path_line;

use cimento_model::circuit::CircuitDoc;
use cimento_parts::say_path;
use proptest::prelude::*;

fn nothing() -> CircuitDoc {
    CircuitDoc::new("New")
}

/// A horn circuit with relay and button, in four lines; it works.
#[test]
fn a_horn_circuit_in_four_lines() {
    let lines = [
        "BAT(battery).+ > 2.5 RD 0.5 > F1(fuse 15).1-2 > 2.5 RD 0.8 > K1(relay).30-87 > 2.5 BU 1.2 @front > H1(horn).1-2 > 2.5 BN 0.4 > G1(body)",
        "F1.2 > 0.75 RD/BU 0.3 > K1.86",
        "K1.85 > 0.75 BN 0.6 > C1.1 > 0.75 BN 0.4 > S1(horn_button).1-2 > 0.75 BN 0.2 > G2(body)",
        "BAT.- > 16 BK 0.4 > G3(body)",
    ];
    let doc = lines
        .iter()
        .fold(nothing(), |doc, line| say_path(&doc, line).unwrap());
    let ids: Vec<_> = doc.wires.iter().map(|w| w.id.as_str()).collect();
    assert_eq!(ids, ["W1", "W2", "W3", "W4", "W5", "W6", "W7", "W8", "W9"]);
    assert_eq!(doc.wires[2].harness.as_deref(), Some("front"));
    let circuit = build_circuit(doc).unwrap();
    let symptom = common::symptom(&circuit, &[]);
    assert!(symptom.to_lowercase().contains("horn"), "{symptom}");
}

#[test]
fn a_wrong_word_is_pointed_at() {
    let doc = say_path(
        &nothing(),
        "BAT(battery).+ > 2.5 RD > F1(fuse 15).1-2 > 1 RD 0.4 > H1(lamp).1",
    )
    .unwrap();
    for (line, word, message) in [
        (
            "F1.3 > 1 RD > G1(body)",
            "F1.3",
            "F1 has no terminal 3: expected 1, 2",
        ),
        ("H1.2 > 1 XX > G1(body)", "XX", "is no colour"),
        (
            "H1.2 > 1 BN 0.4 2 > G1(body)",
            "2",
            "its area and its length already",
        ),
        (
            "H1.2 > 1 BN > Q1.1",
            "Q1.1",
            "there is no Q1: say what it is",
        ),
        (
            "H1.2 > 1 BN > Q1(sofa).1",
            "Q1(sofa).1",
            "“sofa” is no kind of part",
        ),
        (
            "H1.2 > 1 BN > F1(fuse 15).1",
            "F1(fuse 15).1",
            "is there already",
        ),
        ("H1.2 > W1: BN > G1(body)", "W1:", "already"),
        ("H1.2 > 1 BN", "BN", "expected stop > wire > stop"),
        ("H1.2 G1 > 1 BN > G1(body)", "G1", "expected one stop"),
        ("", "", "expected stop > wire > stop"),
    ] {
        let e = say_path(&doc, line).unwrap_err();
        assert_eq!(e.text, word, "{line}: {e}");
        assert!(e.message.contains(message), "{line}: {e}");
        let at: String = line.chars().skip(e.at).take(word.chars().count()).collect();
        assert_eq!(at, word, "{line}");
    }
}

/// The line of every path of every demo circuit, said into a circuit without wires, brings exactly its
/// wires back.
#[test]
fn paths_can_be_said_again() {
    let mut said = 0;
    for name in common::demo_names() {
        let circuit = common::demo(&name);
        for path in circuit.paths() {
            let line = path_line(&circuit, path);
            let mut bare = circuit.doc.clone();
            bare.wires.clear();
            let again = say_path(&bare, &line).unwrap_or_else(|e| panic!("{name}: {line}: {e}"));
            for wire in &again.wires {
                let own = circuit.doc.wires.iter().find(|w| w.id == wire.id).unwrap();
                let ends = |w: &cimento_model::circuit::WireDoc| {
                    let mut ends = [circuit.node(&w.from), circuit.node(&w.to)];
                    ends.sort_unstable();
                    ends
                };
                assert_eq!(ends(wire), ends(own), "{name}: {line}");
                assert_eq!(
                    (wire.area_mm2, wire.length_m, &wire.color),
                    (own.area_mm2, own.length_m, &own.color)
                );
            }
            said += again.wires.len();
        }
    }
    println!("{said} wires said again");
    assert!(said > 100);
}

proptest! {
    /// Whatever is typed ends in a circuit or a word to look at, never in a panic.
    #[test]
    fn any_line_is_read_or_refused(line in "[A-Z0-9a-z.:>() @/-]{0,40}") {
        match say_path(&common::tug().doc, &line) {
            Ok(doc) => prop_assert!(doc.wires.len() > common::tug().doc.wires.len()),
            Err(e) => prop_assert!(!e.message.is_empty()),
        }
    }
}

/// A connector, a fuse and a splice go into a wire in one move: the machine works as before, the copper
/// stays as long, and what is new can fail.
#[test]
fn something_is_put_into_a_wire_in_one_move() {
    let tug = common::tug();
    let before = tug.doc.wires.iter().find(|w| w.id == "W8").unwrap().clone();
    let lines = [
        ("into W8 > C99.1", 2),
        ("into W8 0.2 > F77(fuse 10).1-2", 2),
        ("into W8 > SP77", 2),
        ("into W8 > S77(switch).1-2", 2),
    ];
    for (line, pieces) in lines {
        let doc = say_path(&tug.doc, line).unwrap();
        assert_eq!(doc.wires.len(), tug.doc.wires.len() + pieces - 1, "{line}");
        let at = doc.wires.iter().position(|w| w.id == "W8").unwrap();
        let (first, second) = (&doc.wires[at], &doc.wires[at + 1]);
        assert_eq!((&first.from, &second.to), (&before.from, &before.to));
        assert_eq!(first.color, second.color);
        let whole = first.length_m.unwrap() + second.length_m.unwrap();
        assert!((whole - before.length_m.unwrap()).abs() < 1e-9, "{line}");
        let circuit = build_circuit(doc).unwrap();
        if !line.contains("switch") {
            assert_eq!(common::symptom(&circuit, &[]), common::symptom(&tug, &[]));
        }
    }
    for (line, word, message) in [
        ("into W99 > C99.1", "W99", "there is no wire W99"),
        ("into W8 > G1", "G1", "passes through"),
        ("into W8 99 > C99.1", "99", "metres along the wire, under"),
        ("into W8 >", ">", "such as into W8 > C9.1"),
        ("into W8 > Q1.1", "Q1.1", "say what it is"),
    ] {
        let wrong = say_path(&tug.doc, line).unwrap_err();
        assert_eq!(wrong.text, word, "{line}: {wrong}");
        assert!(wrong.message.contains(message), "{line}: {wrong}");
    }
}
