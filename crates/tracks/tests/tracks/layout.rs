//! What has to hold of a diagram, on the demo's circuits and on made-up ones.

use std::collections::{HashMap, HashSet};
use std::sync::Arc;

use crate::common::{SHEET, WALL, demo, generated};
use cimento_model::circuit::{Circuit, Drawing};
use cimento_tracks::{
    Flow, Legibility, Placement, Scene, Size, SymbolOf, cost, draw, follow, place,
};
use serde_json::{Value, json};

fn laid(circuit: &Arc<Circuit>) -> (Drawing, Flow, Placement) {
    let drawing = circuit.drawing();
    let flow = cimento_bench::flow(circuit).unwrap();
    let placement = place(&drawing, &flow);
    (drawing, flow, placement)
}

/// Everything of the drawing is on the diagram, each wire once or in two halves, and ends at its test points.
fn complete(drawing: &Drawing, scene: &Scene) {
    let title = &drawing.title;
    let mut spots: HashMap<&str, Vec<(f64, f64)>> = HashMap::new();
    for point in &scene.points {
        spots.entry(&point.id).or_default().push((point.x, point.y));
    }
    for point in &drawing.points {
        assert!(
            spots.contains_key(point.id.as_str()),
            "{title}: {} has no spot",
            point.id
        );
    }
    for part in &drawing.parts {
        let drawn = scene.boxes.iter().filter(|b| b.id == part.id).count()
            + scene
                .symbols
                .iter()
                .filter(|s| s.of == SymbolOf::Part && s.id == part.id)
                .count();
        assert_eq!(drawn, 1, "{title}: {}", part.id);
    }
    for cavity in &drawing.cavities {
        assert_eq!(
            scene.symbols.iter().filter(|s| s.id == cavity.id).count(),
            1,
            "{title}: {}",
            cavity.id
        );
    }
    for wire in &drawing.wires {
        let runs: Vec<_> = scene.wires.iter().filter(|w| w.id == wire.id).collect();
        let tags = scene.tags.iter().filter(|t| t.wire == wire.id).count();
        assert!(
            matches!((runs.len(), tags), (1, 0) | (2, 2)),
            "{title}: {} in {} runs",
            wire.id,
            runs.len()
        );
        // Each of its ends is at one of its runs: on the point, or along the bar or strip that is the point.
        for end in [&wire.from, &wire.to] {
            let near = |(x, y): &(f64, f64)| {
                runs.iter()
                    .flat_map(|run| [run.path.first(), run.path.last()])
                    .flatten()
                    .any(|p| {
                        (p.y - y).abs() < 3.0
                            && ((p.x - x).abs() < 8.0 || on_line(scene, p.x, p.y, *x))
                    })
            };
            assert!(
                spots[end.as_str()].iter().any(near),
                "{title}: {} does not reach {end}",
                wire.id
            );
        }
    }
}

/// A level line joins two spots of one height.
fn on_line(scene: &Scene, x: f64, y: f64, to: f64) -> bool {
    scene.strokes.iter().any(|s| {
        s.path.windows(2).any(|pair| {
            let (low, high) = (
                pair[0].x.min(pair[1].x) - 0.5,
                pair[0].x.max(pair[1].x) + 0.5,
            );
            (pair[0].y - y).abs() < 1.0 && (low..=high).contains(&x) && (low..=high).contains(&to)
        })
    })
}

/// Nothing lies on what it does not belong to.
fn legible(scene: &Scene, name: &str) -> Legibility {
    let found = Legibility::of(scene);
    assert!(
        found.texts_on_texts.is_empty(),
        "{name}: {:?}",
        found.texts_on_texts
    );
    assert!(
        found.texts_on_lines.is_empty(),
        "{name}: {:?}",
        found.texts_on_lines
    );
    assert!(
        found.texts_on_boxes.is_empty(),
        "{name}: {:?}",
        found.texts_on_boxes
    );
    assert!(
        found.false_joints.is_empty(),
        "{name}: {:?}",
        found.false_joints
    );
    assert!(found.outside.is_empty(), "{name}: {:?}", found.outside);
    found
}

/// The demo's diagrams can be read on a small screen and from the last row.
#[test]
fn the_demo_is_legible() {
    let (mut crossings, mut cuts, mut bends, mut wires, mut turned) = (0, 0, 0, 0, 0);
    for (name, circuit) in demo() {
        let (drawing, flow, placement) = laid(&circuit);
        let small = draw(&drawing, &flow, &placement, SHEET);
        let large = draw(&drawing, &flow, &placement, WALL);
        complete(&drawing, &small);
        complete(&drawing, &large);
        let (a, b) = (legible(&small, &name), legible(&large, &name));
        let least = match circuit.places().count() {
            // Four coils alike do not fit: the page opens them at a size that can be read.
            _ if name == "ground-power-unit-ignition" => (7.5, 12.0),
            0..=65 => (10.0, 16.0),
            _ => (9.0, 14.0),
        };
        assert!(
            a.text_px >= least.0 && b.text_px >= least.1,
            "{name}: {} and {} px",
            a.text_px,
            b.text_px
        );
        turned += cost(&drawing, &flow, &placement).turned;
        crossings += a.crossings;
        cuts += a.cuts;
        bends += a.bends;
        wires += a.wires;
    }
    assert!(crossings <= 20, "{crossings} crossings");
    assert!(cuts <= 5, "{cuts} cuts");
    assert!(turned <= 1, "{turned} stand on their heads");
    assert!(bends * 5 <= wires, "{bends} bends of {wires} wires");
}

/// Made-up circuits of all sizes: nothing is missing and nothing lies on another.
#[test]
fn made_up_circuits_are_legible() {
    for (seed, parts) in (1..).zip([3, 4, 6, 10, 18, 30, 50, 75]) {
        let circuit = generated(parts, seed);
        let (drawing, flow, placement) = laid(&circuit);
        let scene = draw(&drawing, &flow, &placement, SHEET);
        complete(&drawing, &scene);
        legible(&scene, &drawing.title);
    }
}

/// One circuit has one diagram, whenever and wherever it is asked for.
#[test]
fn a_placement_is_the_same_each_time() {
    let (_, circuit) = demo().swap_remove(2);
    let (drawing, flow, placement) = laid(&circuit);
    assert_eq!(place(&drawing, &flow), placement);
    assert!(placement.fits(&drawing, &flow));
    let other = generated(10, 3).drawing();
    assert!(!placement.fits(&other, &Flow::new()));
}

/// Current goes downward through lamps, coils, motors and switches.
#[test]
fn current_is_read_downward() {
    let (drawing, flow, placement) = laid(&generated(12, 5));
    let scene = draw(&drawing, &flow, &placement, SHEET);
    for wire in &drawing.wires {
        let Some(forward) = flow.get(&wire.id) else {
            continue;
        };
        let runs = scene.wires.iter().filter(|w| w.id == wire.id);
        for run in runs.filter(|r| {
            r.path.len() == 2 && r.ends.contains(&wire.from) && r.ends.contains(&wire.to)
        }) {
            let from_above = run.ends[0] == wire.from;
            let fuse = |point: &str| {
                drawing
                    .parts
                    .iter()
                    .any(|p| p.is_fuse && p.terminals.iter().any(|t| t.point == point))
            };
            if !fuse(&wire.from) && !fuse(&wire.to) && !wire.from.starts_with("ACCU") {
                assert_eq!(from_above, *forward, "{}", wire.id);
            }
        }
    }
}

/// An order of what stands on the sheet: for each wire its column, from the left.
fn columns(scene: &Scene) -> Vec<(String, f64)> {
    scene
        .wires
        .iter()
        .map(|w| (w.id.clone(), w.path[0].x))
        .collect()
}

/// In nine of ten edits no track that was not touched changes its order.
#[test]
fn an_edit_moves_only_what_it_must() {
    let mut kept = 0;
    let mut edits = 0;
    for (seed, (_, circuit)) in (0..).zip(demo()) {
        let (drawing, flow, placement) = laid(&circuit);
        let before = draw(&drawing, &flow, &placement, SHEET);
        for edit in 0..2 {
            let mut doc = circuit.doc.clone();
            let mut dice = crate::common::Dice(seed * 10 + edit);
            // A wire of another size, or one that is taken out.
            let at = dice.below(doc.wires.len());
            let touched = touched(&drawing, &before, &doc.wires[at].id);
            if edit == 0 {
                doc.wires[at].area_mm2 = Some(6.0);
            } else {
                doc.wires.remove(at);
            }
            let Ok(edited) = cimento_parts::build_circuit(doc) else {
                continue;
            };
            let (changed, flow_after) = (
                edited.drawing(),
                cimento_bench::flow(&edited).unwrap_or_default(),
            );
            let placed = follow(&changed, &flow_after, (&drawing, &flow, &placement));
            let after = draw(&changed, &flow_after, &placed, SHEET);
            complete(&changed, &after);
            legible(&after, &changed.title);
            edits += 1;
            let order = |scene: &Scene| {
                columns(scene)
                    .into_iter()
                    .filter(|(id, _)| !touched.contains(id))
                    .collect::<Vec<_>>()
            };
            kept += usize::from(same_order(&order(&before), &order(&after)));
        }
    }
    assert!(
        kept * 10 >= edits * 9,
        "{kept} of {edits} edits kept the order"
    );
}

/// The wires on the tracks that an edit of a wire touches: its own, and those that end where it ends.
fn touched(drawing: &Drawing, scene: &Scene, wire: &str) -> HashSet<String> {
    let ends = |id: &str| {
        drawing
            .wires
            .iter()
            .find(|w| w.id == id)
            .map(|w| [w.from.clone(), w.to.clone()])
            .unwrap()
    };
    let own = ends(wire);
    let near = drawing
        .wires
        .iter()
        .filter(|w| own.contains(&w.from) || own.contains(&w.to))
        .map(|w| w.id.clone());
    let near: HashSet<String> = near.collect();
    let columns = columns(scene);
    let at: Vec<f64> = columns
        .iter()
        .filter(|(id, _)| near.contains(id))
        .map(|(_, x)| *x)
        .collect();
    columns
        .into_iter()
        .filter(|(_, x)| at.iter().any(|a| (a - x).abs() < 0.5))
        .map(|(id, _)| id)
        .collect()
}

/// Wires that are in both stand in the same order.
fn same_order(a: &[(String, f64)], b: &[(String, f64)]) -> bool {
    let of = |list: &[(String, f64)], id: &str| {
        list.iter()
            .filter(|(i, _)| i == id)
            .map(|(_, x)| *x)
            .collect::<Vec<_>>()
    };
    let ids: HashSet<&String> = a
        .iter()
        .map(|(id, _)| id)
        .filter(|id| of(a, id).len() == 1 && of(b, id).len() == 1)
        .collect();
    let mut pairs: Vec<(f64, f64)> = ids.iter().map(|id| (of(a, id)[0], of(b, id)[0])).collect();
    pairs.sort_by(|p, q| p.0.total_cmp(&q.0));
    pairs
        .windows(2)
        .filter(|w| w[0].0 < w[1].0 - 0.5)
        .all(|w| w[0].1 <= w[1].1 + 0.5)
}

/// What an instructor moved stands where it was moved to, and its wires follow.
#[test]
fn what_was_moved_by_hand_takes_its_wires_along() {
    let (_, circuit) = demo().swap_remove(2);
    let (mut drawing, flow, placement) = laid(&circuit);
    let before = draw(&drawing, &flow, &placement, SHEET);
    drawing.layout.insert("H1".into(), [12.0, -8.0]);
    let after = draw(&drawing, &flow, &placement, SHEET);
    let spot = |scene: &Scene, id: &str| {
        scene
            .points
            .iter()
            .find(|p| p.id == id)
            .map(|p| (p.x, p.y))
            .unwrap()
    };
    for point in ["H1.1", "H1.2"] {
        let ((x, y), (u, v)) = (spot(&before, point), spot(&after, point));
        assert!(
            (u - x - 12.0).abs() < 0.11 && (v - y + 8.0).abs() < 0.11,
            "{point}"
        );
    }
    complete(&drawing, &after);
}

/// What practitioners draw now and then, and beginners in the workshop do: each is laid out whole, with nothing on
/// another.
#[test]
fn odd_circuits_are_laid_out_too() {
    let battery = json!({"kind": "battery", "name": "Battery"});
    let lamp = json!({"kind": "lamp", "name": "Marker lamp"});
    let cases = [
        (
            "a part without a wire",
            json!({"ACCU": battery, "H1": lamp, "K1": {"kind": "relay"}}),
            json!({}),
            vec![],
        ),
        (
            "a lamp on one wire only",
            json!({"ACCU": battery, "H1": lamp}),
            json!({}),
            vec![["ACCU.+", "H1.1"]],
        ),
        (
            "two wires at one lamp",
            json!({"ACCU": battery, "H1": lamp, "H2": lamp}),
            json!({}),
            vec![
                ["ACCU.+", "H1.1"],
                ["H1.1", "H2.1"],
                ["H1.2", "G1"],
                ["H2.2", "H1.2"],
                ["ACCU.-", "G1"],
            ],
        ),
        (
            "two wires in one cavity",
            json!({"ACCU": battery, "H1": lamp, "H2": lamp}),
            json!({"C1": {"cavities": 2}}),
            vec![
                ["ACCU.+", "C1.1m"],
                ["C1.1f", "H1.1"],
                ["C1.1f", "H2.1"],
                ["H1.2", "G1"],
                ["H2.2", "G1"],
                ["ACCU.-", "G1"],
            ],
        ),
        (
            "a wire from one terminal of a relay to another",
            json!({"ACCU": battery, "K1": {"kind": "relay"}, "H1": lamp}),
            json!({}),
            vec![
                ["ACCU.+", "K1.30"],
                ["K1.30", "K1.86"],
                ["K1.85", "G1"],
                ["K1.87", "H1.1"],
                ["H1.2", "G1"],
                ["ACCU.-", "G1"],
            ],
        ),
        (
            "a lamp between two terminals of a relay",
            json!({"ACCU": battery, "K1": {"kind": "relay"}, "H1": lamp}),
            json!({}),
            vec![
                ["ACCU.+", "K1.30"],
                ["K1.87", "H1.1"],
                ["H1.2", "K1.86"],
                ["K1.85", "G1"],
                ["ACCU.-", "G1"],
            ],
        ),
        (
            "lamps in a ring",
            json!({"ACCU": battery, "H1": lamp, "H2": lamp}),
            json!({}),
            vec![["H1.1", "H2.1"], ["H1.2", "H2.2"]],
        ),
        (
            "a lamp on two grounds",
            json!({"ACCU": battery, "H1": lamp}),
            json!({}),
            vec![["H1.1", "G1"], ["H1.2", "G2"], ["ACCU.-", "G1"]],
        ),
        (
            "a battery across itself",
            json!({"ACCU": battery}),
            json!({}),
            vec![["ACCU.+", "G1"], ["ACCU.-", "G2"], ["G1", "G2"]],
        ),
    ];
    for (name, parts, connectors, ends) in cases {
        let wires: Vec<Value> = (1..)
            .zip(&ends)
            .map(|(n, [from, to])| json!({"id": format!("W{n}"), "from": from, "to": to, "area_mm2": 1.5, "length_m": 1.0, "color": "RD/BK"}))
            .collect();
        let doc = json!({
            "format": "cimento/circuit", "version": 1, "title": name, "system_v": 12, "parts": parts, "connectors": connectors,
            "grounds": {"G1": {"metal": "frame"}, "G2": {"metal": "frame"}, "G3": {"metal": "engine"}}, "splices": {"SP1": {}},
            "wires": wires,
        });
        let doc = serde_json::from_value(doc).unwrap();
        let Ok(circuit) = cimento_parts::build_circuit(doc) else {
            panic!("{name} is refused");
        };
        let drawing = circuit.drawing();
        let flow = cimento_bench::flow(&circuit).unwrap_or_default();
        let placement = place(&drawing, &flow);
        for size in [SHEET, WALL] {
            let scene = draw(&drawing, &flow, &placement, size);
            complete(&drawing, &scene);
            legible(&scene, name);
        }
    }
}

/// A sheet on which text would be too small grows until it can be read.
#[test]
fn a_large_circuit_gets_a_large_sheet() {
    let (drawing, flow, placement) = laid(&generated(40, 2));
    let least = Size { least: 10, ..SHEET };
    let text = |size| Legibility::of(&draw(&drawing, &flow, &placement, size)).text_px;
    assert!(text(SHEET) < 8.0);
    assert!((text(least) - 10.0).abs() < 0.05);
    let scene = draw(&drawing, &flow, &placement, least);
    assert!(scene.width * scene.scale > f64::from(SHEET.width));
    legible(&scene, "a large sheet");
}
