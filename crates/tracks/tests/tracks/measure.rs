//! The measure finds what is wrong with a diagram: mistakes are put into a good one.

use crate::common::{SHEET, demo};
use cimento_tracks::{
    Legibility, PointSpot, Scene, Spot, Stroke, StrokeKind, WireRun, draw, place,
};

fn good() -> Scene {
    let all = demo();
    let (_, circuit) = all
        .iter()
        .find(|(name, _)| name == "baggage-tug-starting")
        .unwrap();
    let (drawing, flow) = (circuit.drawing(), cimento_bench::flow(circuit).unwrap());
    draw(&drawing, &flow, &place(&drawing, &flow), SHEET)
}

/// What the measure says after a change, and that it said nothing of the kind before.
fn found<T>(change: impl Fn(&mut Scene), of: impl Fn(&Legibility) -> &Vec<T>) -> usize {
    let mut scene = good();
    assert!(of(&Legibility::of(&scene)).is_empty());
    change(&mut scene);
    of(&Legibility::of(&scene)).len()
}

/// The middle of the longest stretch of any wire.
fn on_a_wire(scene: &Scene) -> (String, Spot) {
    let stretches = scene.wires.iter().flat_map(|w| {
        let pairs = w.path.windows(2);
        pairs.map(|p| (w.id.clone(), p[0], p[1]))
    });
    let far = |a: &Spot, b: &Spot| (a.x - b.x).abs() + (a.y - b.y).abs();
    let (id, a, b) = stretches
        .max_by(|(_, a, b), (_, c, d)| far(a, b).total_cmp(&far(c, d)))
        .unwrap();
    let middle = Spot {
        x: f64::midpoint(a.x, b.x),
        y: f64::midpoint(a.y, b.y),
    };
    (id, middle)
}

/// A text that does not belong to a wire.
fn foreign<'s>(scene: &'s mut Scene, wire: &str) -> &'s mut cimento_tracks::Text {
    scene.texts.iter_mut().find(|t| t.own != wire).unwrap()
}

#[test]
fn letters_on_letters_are_found() {
    let planted = |scene: &mut Scene| {
        let (x, y) = (scene.texts[0].x + 2.0, scene.texts[0].y + 3.0);
        (scene.texts[1].x, scene.texts[1].y) = (x, y);
    };
    assert!(found(planted, |l| &l.texts_on_texts) > 0);
}

#[test]
fn letters_on_a_foreign_line_are_found() {
    let planted = |scene: &mut Scene| {
        let (wire, at) = on_a_wire(scene);
        let text = foreign(scene, &wire);
        (text.x, text.y) = (at.x - 3.0, at.y + 3.0);
    };
    assert!(found(planted, |l| &l.texts_on_lines) > 0);
}

#[test]
fn letters_on_a_foreign_box_are_found() {
    let planted = |scene: &mut Scene| {
        let b = scene.boxes[0].clone();
        let text = foreign(scene, &b.id);
        (text.x, text.y) = (b.x + 1.0, b.y + 0.5 * b.height);
    };
    assert!(found(planted, |l| &l.texts_on_boxes) > 0);
}

#[test]
fn letters_beyond_the_sheet_are_found() {
    let planted = |scene: &mut Scene| scene.texts[0].x = scene.width - 2.0;
    assert!(found(planted, |l| &l.outside) > 0);
}

#[test]
fn a_point_on_a_foreign_wire_looks_like_a_joint() {
    let planted = |scene: &mut Scene| {
        let (_, at) = on_a_wire(scene);
        let (x, y) = (at.x, at.y);
        let id = "X9.1f".to_owned();
        scene.points.push(PointSpot { id, x, y });
    };
    assert_eq!(found(planted, |l| &l.false_joints), 1);
}

#[test]
fn a_bar_through_a_foreign_box_looks_like_a_joint() {
    let planted = |scene: &mut Scene| {
        let b = &scene.boxes[0];
        let y = b.y + 0.5 * b.height;
        let [from, to] = [b.x - 9.0, b.x + b.width + 9.0].map(|x| Spot { x, y });
        scene.strokes.push(Stroke {
            kind: StrokeKind::Bar,
            own: "SP99".to_owned(),
            path: vec![from, to],
        });
    };
    assert!(found(planted, |l| &l.false_joints) > 0);
}

#[test]
fn a_crossing_and_the_corners_of_a_wire_are_counted() {
    let scene = good();
    let before = Legibility::of(&scene);
    let mut crossed = scene.clone();
    let (_, at) = on_a_wire(&scene);
    // Both ways through the middle of a wire: whichever way it goes, one of them crosses it.
    let spot = |dx: f64, dy: f64| Spot {
        x: at.x + dx,
        y: at.y + dy,
    };
    crossed.wires.push(WireRun {
        id: "W99".to_owned(),
        path: vec![
            spot(-4.0, 0.0),
            spot(4.0, 0.0),
            spot(4.0, 4.0),
            spot(0.0, 4.0),
            spot(0.0, -4.0),
        ],
        ends: ["X9.1f".to_owned(), "X9.2f".to_owned()],
    });
    let after = Legibility::of(&crossed);
    assert!(after.crossings > before.crossings);
    assert_eq!(after.wires, before.wires + 1);
    assert_eq!(after.bends, before.bends + 3);
}
