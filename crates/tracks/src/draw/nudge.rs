//! What an instructor moved by hand: things go with their test points, and wires follow at right angles.

use std::collections::{HashMap, HashSet};

use cimento_model::circuit::Drawing;

use crate::scene::{Scene, Spot, TextRole};

/// Moves what was moved, by its id, in diagram units.
pub(super) fn nudge(scene: &mut Scene, drawing: &Drawing) {
    let mut points: HashMap<&str, [f64; 2]> = HashMap::new();
    for (id, by) in &drawing.layout {
        let own = points_of(drawing, id);
        let case = format!("{id}.mount");
        shift(scene, id, &own, *by);
        for stroke in scene.strokes.iter_mut().filter(|s| s.own == case) {
            follow(&mut stroke.path, Some(*by), None);
        }
        points.extend(own.into_iter().map(|point| (point, *by)));
    }
    for wire in &mut scene.wires {
        let [first, last] =
            [&wire.ends[0], &wire.ends[1]].map(|end| points.get(end.as_str()).copied());
        follow(&mut wire.path, first, last);
    }
}

/// The test points that go with a part or a cavity.
fn points_of<'d>(drawing: &'d Drawing, id: &str) -> HashSet<&'d str> {
    let part = drawing.parts.iter().find(|p| p.id == id);
    let terminals = part
        .into_iter()
        .flat_map(|p| p.terminals.iter().map(|t| t.point.as_str()));
    let cavity = drawing.cavities.iter().find(|c| c.id == id);
    let halves = cavity
        .into_iter()
        .flat_map(|c| [c.male.as_str(), c.female.as_str()]);
    terminals.chain(halves).collect()
}

fn shift(scene: &mut Scene, id: &str, points: &HashSet<&str>, [dx, dy]: [f64; 2]) {
    let move_by = |x: &mut f64, y: &mut f64| {
        *x += dx;
        *y += dy;
    };
    let boxes = scene.boxes.iter_mut().filter(|b| b.id == id);
    boxes.for_each(|b| move_by(&mut b.x, &mut b.y));
    let symbols = scene.symbols.iter_mut().filter(|s| s.id == id);
    symbols.for_each(|s| move_by(&mut s.x, &mut s.y));
    let texts = scene
        .texts
        .iter_mut()
        .filter(|t| t.own == id && !matches!(t.role, TextRole::Number | TextRole::About));
    texts.for_each(|t| move_by(&mut t.x, &mut t.y));
    let places = scene.places.iter_mut().filter(|p| p.id == id);
    places.for_each(|p| move_by(&mut p.x, &mut p.y));
    let spots = scene
        .points
        .iter_mut()
        .filter(|p| points.contains(p.id.as_str()));
    spots.for_each(|p| move_by(&mut p.x, &mut p.y));
    let strokes = scene
        .strokes
        .iter_mut()
        .filter(|s| s.own == id || points.contains(s.own.as_str()));
    strokes
        .flat_map(|s| &mut s.path)
        .for_each(|p| move_by(&mut p.x, &mut p.y));
}

/// A path whose ends have moved: right angles stay right.
fn follow(path: &mut Vec<Spot>, first: Option<[f64; 2]>, last: Option<[f64; 2]>) {
    if (first.is_none() && last.is_none()) || path.len() < 2 {
        return;
    }
    if let [a, b] = path[..] {
        let middle = (a.y + b.y) / 2.0;
        *path = vec![a, Spot { y: middle, ..a }, Spot { y: middle, ..b }, b];
    }
    let count = path.len();
    bend(path, 0, 1, first);
    bend(path, count - 1, count - 2, last);
}

/// Moves an end of a path, and the corner next to it so that the stretch between them stays upright or level.
fn bend(path: &mut [Spot], end: usize, next: usize, by: Option<[f64; 2]>) {
    let Some([dx, dy]) = by else { return };
    let upright = (path[end].x - path[next].x).abs() < 0.5;
    path[end].x += dx;
    path[end].y += dy;
    if upright {
        path[next].x += dx;
    } else {
        path[next].y += dy;
    }
}
