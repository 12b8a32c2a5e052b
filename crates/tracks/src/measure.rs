//! How well a diagram can be read: what lies on what, counted on the scene itself.

use crate::scene::{Scene, Spot, StrokeKind, SymbolOf, Text, TextRole};
use crate::text::{FONT, width};

/// A rectangle: left, top, right, bottom.
type Rect = [f64; 4];

/// From the base line of a text to the top of its capitals, and to the foot of its descenders, in diagram units.
const ASCENT: f64 = 6.2;
const DESCENT: f64 = 1.6;
/// Things that touch by less than this do not lie on one another.
const TOUCH: f64 = 0.6;

/// What can be counted of a diagram.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Legibility {
    /// Height of its text in pixels.
    pub text_px: f64,
    /// Pairs of texts whose letters overlap.
    pub texts_on_texts: Vec<(String, String)>,
    /// Texts on a line that is not their own, and on the box or symbol of another.
    pub texts_on_lines: Vec<(String, String)>,
    pub texts_on_boxes: Vec<(String, String)>,
    /// Texts that leave the sheet.
    pub outside: Vec<String>,
    /// Wires, corners of wires, crossings of wires and bars, and wires that are cut in two.
    pub wires: usize,
    pub bends: usize,
    pub crossings: usize,
    pub cuts: usize,
    /// Places where a line passes a point or a symbol that is not its own, as a joint would look.
    pub false_joints: Vec<(String, String)>,
    /// Symbols that stand on their head.
    pub turned: Vec<String>,
}

impl Legibility {
    /// Counts on a scene.
    pub fn of(scene: &Scene) -> Self {
        let texts: Vec<(&Text, Rect)> = scene.texts.iter().map(|t| (t, text_rect(t))).collect();
        let boxes = boxes(scene);
        let (all, joining) = (lines(scene, true), lines(scene, false));
        let mut found = Self {
            text_px: f64::from(FONT) / 100.0 * scene.scale,
            wires: scene
                .wires
                .iter()
                .map(|w| &w.id)
                .collect::<std::collections::HashSet<_>>()
                .len(),
            bends: scene
                .wires
                .iter()
                .map(|w| w.path.len().saturating_sub(2))
                .sum(),
            crossings: crossings(&joining),
            cuts: scene.tags.len() / 2,
            ..Self::default()
        };
        for (n, (a, r)) in texts.iter().enumerate() {
            for (b, s) in &texts[n + 1..] {
                if overlap(r, s, TOUCH) {
                    found.texts_on_texts.push((a.text.clone(), b.text.clone()));
                }
            }
            for (own, line) in &all {
                if *own != a.own && overlap(r, line, 0.0) {
                    found
                        .texts_on_lines
                        .push((a.text.clone(), (*own).to_owned()));
                }
            }
            for (own, area) in &boxes {
                if *own != a.own && overlap(r, area, TOUCH) {
                    found
                        .texts_on_boxes
                        .push((a.text.clone(), (*own).to_owned()));
                }
            }
            if r[0] < -0.5 || r[1] < -0.5 || r[2] > scene.width + 0.5 || r[3] > scene.height + 0.5 {
                found.outside.push(a.text.clone());
            }
        }
        found.false_joints = false_joints(scene, &joining, &boxes);
        found.turned = scene
            .symbols
            .iter()
            .filter(|s| s.turned)
            .map(|s| s.id.clone())
            .collect();
        found
    }
}

fn text_rect(text: &Text) -> Rect {
    let bold = matches!(text.role, TextRole::Name | TextRole::Number);
    let wide = f64::from(width(&text.text, bold)) / 100.0;
    [text.x, text.y - ASCENT, text.x + wide, text.y + DESCENT]
}

fn boxes(scene: &Scene) -> Vec<(&str, Rect)> {
    let boxes = scene
        .boxes
        .iter()
        .map(|b| (b.id.as_str(), [b.x, b.y, b.x + b.width, b.y + b.height]));
    let symbols = scene
        .symbols
        .iter()
        .filter(|s| s.of == SymbolOf::Part || s.of == SymbolOf::Cavity);
    let symbols = symbols.map(|s| {
        let half = if s.of == SymbolOf::Part {
            (6.0, 9.0)
        } else {
            (6.0, 4.0)
        };
        (
            s.id.as_str(),
            [s.x - half.0, s.y - half.1, s.x + half.0, s.y + half.1],
        )
    });
    boxes.chain(symbols).collect()
}

/// Every straight stretch of a wire or another line; of those only that join, or of fine ones too.
fn lines(scene: &Scene, fine: bool) -> Vec<(&str, Rect)> {
    let joins = |kind| !matches!(kind, StrokeKind::Row | StrokeKind::Moves | StrokeKind::Lead);
    let wires = scene.wires.iter().map(|w| (w.id.as_str(), &w.path));
    let others = scene.strokes.iter().filter(|s| fine || joins(s.kind));
    let all = wires.chain(others.map(|s| (s.own.as_str(), &s.path)));
    let stretch = |pair: &[Spot]| {
        let (a, b) = (pair[0], pair[1]);
        [a.x.min(b.x), a.y.min(b.y), a.x.max(b.x), a.y.max(b.y)]
    };
    all.flat_map(|(own, path)| path.windows(2).map(move |pair| (own, stretch(pair))))
        .collect()
}

fn overlap(a: &Rect, b: &Rect, by: f64) -> bool {
    a[2].min(b[2]) - a[0].max(b[0]) > by && a[3].min(b[3]) - a[1].max(b[1]) > by
        || (by == 0.0 && touches(a, b))
}

/// A line has no width: it lies on what it goes through.
fn touches(text: &Rect, line: &Rect) -> bool {
    let inside = |from: f64, to: f64, low: f64, high: f64| {
        from.max(low) < to.min(high) || (from == to && from > low && from < high)
    };
    inside(line[0], line[2], text[0], text[2]) && inside(line[1], line[3], text[1], text[3])
}

fn crossings(lines: &[(&str, Rect)]) -> usize {
    let upright = |r: &Rect| r[2] - r[0] < 0.01;
    let mut count = 0;
    for (a, v) in lines.iter().filter(|(_, r)| upright(r)) {
        for (b, h) in lines.iter().filter(|(_, r)| !upright(r)) {
            let through =
                h[0] + 1.0 < v[0] && v[0] < h[2] - 1.0 && v[1] + 1.0 < h[1] && h[1] < v[3] - 1.0;
            if a != b && through {
                count += 1;
            }
        }
    }
    count
}

/// A bar that goes through a point or a symbol of another thing.
fn false_joints(
    scene: &Scene,
    lines: &[(&str, Rect)],
    boxes: &[(&str, Rect)],
) -> Vec<(String, String)> {
    let mut found = Vec::new();
    for (own, line) in lines {
        for point in &scene.points {
            let near = point.x > line[0] - 1.5
                && point.x < line[2] + 1.5
                && point.y > line[1] - 1.5
                && point.y < line[3] + 1.5;
            if near && !own.is_empty() && !ends_at(scene, own, &point.id) {
                found.push((point.id.clone(), (*own).to_owned()));
            }
        }
        for (id, area) in boxes {
            let through = line[0] < area[2] - 1.5
                && line[2] > area[0] + 1.5
                && line[1] < area[3] - 1.5
                && line[3] > area[1] + 1.5;
            if through && id != own && !own.starts_with(*id) {
                found.push(((*id).to_owned(), (*own).to_owned()));
            }
        }
    }
    found
}

/// A line that belongs at a point: a wire at its ends, a bar or a strip that is the point, a case at its part.
fn ends_at(scene: &Scene, own: &str, point: &str) -> bool {
    let mut wires = scene.wires.iter().filter(|w| w.id == own);
    let case = own.strip_suffix(".mount").map(|part| format!("{part}."));
    own == point
        || wires.any(|w| w.ends.iter().any(|e| e == point))
        || case.is_some_and(|part| point.starts_with(&part))
}
